package quantity

import (
	"fmt"
	"math"
)

// BricksIn is a parts list: how often, in how many models, and the spares kept in %.
type BricksIn struct {
	Parts     []BrickPart `json:"parts" in:"list of parts"`
	Copies    *float64    `json:"copies" in:"number of models; 0 to 10000; whole; or 1"`
	SparesPct *float64    `json:"spares_pct" in:"spares; 0 to 100; unit %; usual 0 10; or 5"`
}

// BrickPart is one part in one colour.
type BrickPart struct {
	Part   string   `json:"part" in:"part"`
	Colour string   `json:"colour" in:"colour"`
	Qty    float64  `json:"qty" in:"quantity in one model; 0 to 1000000; whole"`
	OnHand float64  `json:"on_hand" in:"number on hand; 0 to 1000000; whole; or 0"`
	Pack   *float64 `json:"pack" in:"number of parts in a pack; 1 to 100000; whole; or 1"`
}

// BricksOut is what each line takes, and what is bought of it.
type BricksOut struct {
	Exact   struct{} `json:"unrounded"`
	Rounded struct {
		Lines        []BrickLine `json:"lines"`
		NeedByColour ByColour    `json:"need_by_colour"`
		BuyByColour  ByColour    `json:"buy_by_colour"`
	} `json:"rounded"`
	Notes
}

// BrickLine is one line of the list, counted.
type BrickLine struct {
	Part   string  `json:"part"`
	Colour string  `json:"colour"`
	Need   float64 `json:"need"`
	Spares float64 `json:"spares"`
	Buy    float64 `json:"buy"`
	Packs  float64 `json:"packs"`
}

// Bricks counts a parts list with its spares.
func Bricks(in BricksIn) (out BricksOut, err error) {
	if err = ready(&in, &out.Notes); err != nil {
		return out, err
	}
	type key struct{ part, colour string }
	seen := map[key]bool{}
	need, buys := ByColour{}, ByColour{}
	for i, p := range in.Parts {
		k := key{p.Part, p.Colour}
		if seen[k] {
			return out, fault("contradiction", fmt.Sprintf("parts[%d].part", i), "%s in %s is listed twice; add the numbers.", k.part, k.colour)
		}
		seen[k] = true
		n := p.Qty * *in.Copies
		spares := upInt(n * *in.SparesPct / 100)
		buy := math.Max(0, n+spares-p.OnHand)
		packs := upInt(buy / *p.Pack)
		need[k.colour] += n
		buys[k.colour] += buy
		out.Rounded.Lines = append(out.Rounded.Lines, BrickLine{k.part, k.colour, n, spares, buy, packs})
		out.sayOf(k.part, "%s × %s = %s, and %s spare = %s", p.Qty, in.Copies, n, spares, n+spares)
		out.sold("%s %s: less %s on hand %s, %s of %s", k.part, k.colour, p.OnHand, buy, many(packs, "pack"), p.Pack)
	}
	out.Rounded.NeedByColour, out.Rounded.BuyByColour = need, buys
	return out, nil
}
