package quantity

import (
	"fmt"
	"math"
)

func bricks() map[string]formula {
	return map[string]formula{
		"brick.parts": {[]field{lines("parts", "list of parts", word("part", "part"), word("colour", "colour"), count("qty", "quantity in one model", 0, 1000000),
			count("on_hand", "number on hand", 0, 1000000).or(0.0), count("pack", "number of parts in a pack", 1, 100000).or(1.0)),
			count("copies", "number of models", 0, 10000).or(1.0), num("spares_pct", "spares", "%", 0, 100).most(0, 10).or(5.0)}, brickParts},
	}
}

func brickParts(c *call) *Fault {
	type key struct{ part, colour string }
	seen := map[key]bool{}
	need, buys := newNamed(), newNamed()
	var lines []map[string]any
	for i, p := range c.lines("parts") {
		k := key{p.text("part"), p.text("colour")}
		if seen[k] {
			return fault("contradiction", fmt.Sprintf("parts[%d].part", i), "%s in %s is listed twice; add the numbers.", k.part, k.colour)
		}
		seen[k] = true
		n := p.num("qty") * c.num("copies")
		spares := upInt(n * c.num("spares_pct") / 100)
		buy := math.Max(0, n+spares-p.num("on_hand"))
		packs := upInt(buy / p.num("pack"))
		need.add(k.colour, n)
		buys.add(k.colour, buy)
		lines = append(lines, map[string]any{"part": k.part, "colour": k.colour, "need": n, "spares": spares, "buy": buy, "packs": packs})
		c.say("%s: %s × %s = %s, and %s spare = %s", k.part, p.num("qty"), c.num("copies"), n, spares, n+spares)
		c.sold("%s %s: less %s on hand %s, %s of %s", k.part, k.colour, p.num("on_hand"), buy, many(packs, "pack"), p.num("pack"))
	}
	c.round("lines", lines)
	c.round("need_by_colour", need.of)
	c.round("buy_by_colour", buys.of)
	return nil
}
