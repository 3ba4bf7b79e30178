package garment

import (
	"fmt"
	"math"

	"lampfern/core/piece"
)

// asks are what a drawing of a garment cannot know: it shows the outside once.
var asks = []piece.Setting{
	{Key: "sides", Name: "the drawing is taken so often: front, back, seams and hems", Min: 1, Max: 6, Default: 2.4},
	{Key: "width", Name: "full width of the cloth", Unit: "cm", Min: 20, Max: 400, Default: 140},
	{Key: "used", Name: "of the cloth that becomes pattern parts", Unit: "%", Min: 30, Max: 100, Default: 75},
	piece.Choice("nap", "nap or one-way print", "none", "has a right way up"),
	{Key: "shrink", Name: "shrinkage in washing", Unit: "%", Min: 0, Max: 30, Default: 5},
	{Key: "thread", Name: "seams sewn", Unit: "m", Min: 0, Max: 1000, Default: 14},
	piece.SoldBy(),
}

// notion is the kind of buttons, ribbons and the like.
const notion = "notion"

// needs are the cloth of each card by the area it takes, and the thread. The maker's own
// pattern parts, or the table on the envelope, are truer.
func needs(m piece.Making) []piece.Need {
	selvedge := 1.5
	usable := m.Asked["width"] - 2*selvedge
	parts := make([][]any, len(m.Cards))
	areas := m.Piece.Areas()
	for i, p := range m.Piece.Parts {
		card := m.Of[i]
		if card < 0 || areas[i] == 0 {
			continue
		}
		left, right, top, foot := math.Inf(1), math.Inf(-1), math.Inf(1), math.Inf(-1)
		for _, r := range m.Piece.Regions {
			if r.Part == i {
				for _, q := range r.Outline {
					left, right, top, foot = math.Min(left, q.X), math.Max(right, q.X), math.Min(top, q.Y), math.Max(foot, q.Y)
				}
			}
		}
		// Taken 2.4 times it is three parts of its size, not all of it whole.
		n := math.Ceil(m.Asked["sides"])
		wide, long := math.Min(usable, (right-left)/10), math.Min(1000, (foot-top)/10)
		area := math.Min(wide*long, areas[i]/100*m.Asked["sides"]/n)
		parts[card] = append(parts[card], piece.Given("name", p.Name, "area_cm2", area, "length_cm", long, "width_cm", wide, "count", n*float64(m.Times)))
	}
	var out []piece.Need
	for card, c := range m.Cards {
		if c.Kind == notion { // buttons and the like are counted
			n := piece.Need{Card: card, Kind: notion}
			for _, r := range m.Piece.Regions {
				if m.Of[r.Part] == card {
					n.Amount += float64(m.Times)
				}
			}
			n.Working = []string{fmt.Sprintf("%g as they are drawn", n.Amount)}
			out = append(out, n)
			continue
		}
		n := piece.Need{Card: card, Kind: "fabric", Step: m.ClothStep(), Working: []string{fmt.Sprintf("the drawing shows the outside once and is taken %g times", m.Asked["sides"])}}
		if len(parts[card]) > 0 {
			if res, ok := n.Work("garment.area", piece.Given("parts", parts[card], "fabric_width_cm", m.Asked["width"], "selvedge_cm", selvedge, "efficiency_pct", m.Asked["used"],
				"nap", m.Asked["nap"] == 1, "shrink_pct", m.Asked["shrink"])); ok {
				n.Amount = res.Unrounded["length_to_buy_cm"].(float64) / 100
			}
		}
		out = append(out, n)
	}
	thread := piece.Need{Card: -1, Name: "Sewing thread", Kind: "thread"}
	if res, ok := thread.Work("garment.thread", piece.Given("seams", []any{piece.Given("length_m", m.Asked["thread"]*float64(m.Times), "stitch", "lockstitch")})); ok {
		thread.Amount = res.Unrounded["thread_with_waste_m"].(float64)
	}
	return append(out, thread)
}
