package quantity

import (
	"fmt"
	"math"
)

func cards() map[string]formula {
	return map[string]formula{
		"card.layers": {[]field{num("card_w_mm", "front width of the card", "mm", 10, 2000), num("card_h_mm", "front height of the card", "mm", 10, 2000), count("count", "number of cards", 0, 1000000),
			wordList("layers", "colours of the layers"), num("reveal_mm", "border left showing", "mm", 0, 100).most(1.5, 8).or(3.0), yes("folded", "fold of the base", true)}, cardLayers},
		"card.sheets": {[]field{num("sheet_w_mm", "sheet width", "mm", 10, 3000).or(210.0), num("sheet_h_mm", "sheet height", "mm", 10, 3000).or(297.0), num("margin_mm", "margin", "mm", 0, 100).or(0.0),
			num("gutter_mm", "gap between pieces", "mm", 0, 50).or(0.0), yes("grain_fixed", "grain of the pieces", false), num("spoil_pct", "spoilage", "%", 0, 100).most(2, 10).or(5.0),
			lines("pieces", "list of pieces", num("w_mm", "width", "mm", 0, 3000).over(), num("h_mm", "height", "mm", 0, 3000).over(), count("count", "number of pieces", 0, 1000000)),
			count("pack_sheets", "number of sheets in a pack", 1, 10000).or(1.0)}, cardSheets},
		"card.marker": {[]field{num("area_cm2", "area", "cm²", 0, 10000000), count("coats", "number of coats", 0, 20).or(1.0), num("coverage_cm2", "area one marker covers", "cm²", 1, 10000000).or(5000.0),
			num("waste_pct", "allowance", "%", 0, 100).most(5, 25).or(10.0)}, cardMarker},
	}
}

func cardLayers(c *call) *Fault {
	n, by := c.num("count"), newNamed()
	var pieces []map[string]any
	for k, name := range c.texts("layers") {
		less := 2 * float64(k) * c.num("reveal_mm")
		w, h := c.num("card_w_mm")-less, c.num("card_h_mm")-less
		if math.Min(w, h) <= fit {
			return fault("does_not_fit", fmt.Sprintf("layers[%d]", k), "Layer %s would have no size left. Use fewer layers or a smaller border.", float64(k+1))
		}
		if k == 0 && c.yes("folded") {
			w *= 2
		}
		pieces = append(pieces, map[string]any{"colour": name, "w_mm": w, "h_mm": h, "count": n})
		by.add(name, n)
		c.say("layer %s %s: %s × %s mm, %s pieces", float64(k), name, w, h, n)
	}
	c.round("pieces", pieces)
	c.round("pieces_by_colour", by.of)
	return nil
}

func cardSheets(c *call) *Fault {
	w, h, gap := c.num("sheet_w_mm")-2*c.num("margin_mm"), c.num("sheet_h_mm")-2*c.num("margin_mm"), c.num("gutter_mm")
	if math.Min(w, h) <= fit {
		return fault("contradiction", "margin_mm", "The margins use up the sheet.")
	}
	total := 0.0
	var lines []map[string]any
	for i, p := range c.lines("pieces") {
		x, y := p.num("w_mm"), p.num("h_mm")
		per := downInt((w+gap)/(x+gap)) * downInt((h+gap)/(y+gap))
		if !c.yes("grain_fixed") {
			per = math.Max(per, downInt((w+gap)/(y+gap))*downInt((h+gap)/(x+gap)))
		}
		if per == 0 {
			return fault("does_not_fit", fmt.Sprintf("pieces[%d].w_mm", i), "A piece %s × %s mm is larger than the printable sheet.", x, y)
		}
		cut := upInt(p.num("count") * (1 + c.num("spoil_pct")/100))
		sheets := upInt(cut / per)
		total += sheets
		lines = append(lines, map[string]any{"per_sheet": per, "cut": cut, "sheets": sheets})
		c.say("%s × %s: %s per sheet; %s, with spoilt ones %s; %s", x, y, per, p.num("count"), cut, many(sheets, "sheet"))
	}
	packs := upInt(total / c.num("pack_sheets"))
	c.round("lines", lines)
	c.round("sheets", total)
	c.round("packs", packs)
	c.sold("%s: %s of %s", many(total, "sheet"), many(packs, "pack"), c.num("pack_sheets"))
	return nil
}

func cardMarker(c *call) *Fault {
	markers := c.num("area_cm2") * c.num("coats") * (1 + c.num("waste_pct")/100) / c.num("coverage_cm2")
	c.exact("markers", markers)
	c.round("markers", upInt(markers))
	c.say("%s × %s with %s%% more / %s = %s of one", c.num("area_cm2"), c.num("coats"), c.num("waste_pct"), c.num("coverage_cm2"), markers)
	c.sold("%s", many(upInt(markers), "marker"))
	return nil
}
