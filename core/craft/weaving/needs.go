package weaving

import (
	"fmt"
	"math"
	"slices"

	"lampfern/core/piece"
	"lampfern/core/weave"
)

// asks are what a cloth cannot know.
var asks = []piece.Setting{
	{Key: "reed", Name: "weaving width of the loom", Unit: "cm", Min: 5, Max: 500, Default: 120},
	{Key: "grist", Name: "metres in a kilogram of the yarn", Min: 20, Max: 200000, Default: 5000},
	{Key: "skein", Name: "one skein, where the shelf does not say", Unit: "g", Min: 1, Max: 10000, Default: 100},
	{Key: "take_up", Name: "warp take-up", Unit: "%", Min: 0, Max: 30, Default: 8},
	{Key: "draw_in", Name: "draw-in", Unit: "%", Min: 0, Max: 30, Default: 8},
	{Key: "shrink", Name: "shrinkage in washing, each way", Unit: "%", Min: 0, Max: 30, Default: 5},
	{Key: "loom", Name: "loom waste", Unit: "cm", Min: 0, Max: 300, Default: 70},
	{Key: "sample", Name: "warp for sampling", Unit: "cm", Min: 0, Max: 500, Default: 20},
	{Key: "waste", Name: "knots and broken ends", Unit: "%", Min: 0, Max: 50, Default: 5},
	{Key: "wpi", Name: "wraps of the yarn in an inch, once counted", Min: 0, Max: 200, Default: 0},
	{Key: "hem", Name: "hem at each end", Unit: "cm", Min: 0, Max: 50, Default: 0},
	{Key: "fringe", Name: "fringe at each end", Unit: "cm", Min: 0, Max: 100, Default: 0},
}

// needs are the yarn of warp and weft together, by card.
func needs(m piece.Making) []piece.Need {
	cloth, is := m.Input.(*Cloth)
	if !is {
		return nil
	}
	out := make([]piece.Need, len(m.Cards))
	for i := range out {
		out[i] = piece.Need{Card: i, Kind: "yarn"}
	}
	warp, weft := cloth.Orders()
	order := func(all []weave.Stripe, of string) (lines []any, any bool) {
		for _, s := range all {
			name := "no card"
			if at := m.CardOf(piece.YarnKey(s.Yarn)); at >= 0 {
				name = m.Cards[at].Name
			}
			any = any || s.Threads > 0
			lines = append(lines, piece.Given("colour", name, of, s.Threads))
		}
		return lines, any
	}
	ends, _ := order(warp, "ends")
	picks, _ := order(weft, "picks")
	var w, f piece.Need
	of, ok := w.Work("weave.warp", piece.Given("finished_width_cm", m.Values["width"]/10, "finished_length_cm", m.Values["length"]/10, "items", m.Times, "sett_epc", m.Values["ends"],
		"draw_in_pct", m.Asked["draw_in"], "width_shrink_pct", m.Asked["shrink"], "take_up_pct", m.Asked["take_up"], "length_shrink_pct", m.Asked["shrink"], "fringe_cm", m.Asked["fringe"], "hem_cm", m.Asked["hem"],
		"loom_waste_cm", m.Asked["loom"], "sampling_cm", m.Asked["sample"], "stripe_order", ends, "reed_width_cm", m.Asked["reed"], "waste_pct", m.Asked["waste"],
		"grist_m_per_kg", m.Asked["grist"], "package_g", m.Asked["skein"]))
	take := func(n piece.Need, grams any, what string) {
		by, _ := grams.(map[string]float64)
		for i := range out {
			out[i].Working = append(out[i].Working, what)
			out[i].Working = append(out[i].Working, piece.About(n.Working, m.Cards[i].Name)...)
			out[i].Warnings = append(out[i].Warnings, n.Warnings...)
			out[i].Amount += by[m.Cards[i].Name]
			if n.Problem != "" {
				out[i].Problem = n.Problem
			}
		}
	}
	take(w, of.Unrounded["grams"], "Warp")
	if !ok {
		return out
	}
	of, _ = f.Work("weave.weft", piece.Given("finished_length_cm", m.Values["length"]/10, "items", m.Times, "hem_cm", m.Asked["hem"], "length_shrink_pct", m.Asked["shrink"], "ppc", m.Values["picks"],
		"reed_used_cm", of.Rounded["reed_used_cm"], "weft_order", picks, "waste_pct", m.Asked["waste"], "grist_m_per_kg", m.Asked["grist"], "package_g", m.Asked["skein"]))
	take(f, of.Unrounded["grams"], "Weft")
	face := cover(m, cloth)
	for i := range out {
		out[i].Working = append(out[i].Working, face...)
		out[i].Allow(m.Asked["waste"])
	}
	return out
}

// repeat is how many ends a weave repeats over, and how often its first pick changes face
// among them, counted round; how many picks its first end passes over and under.
func repeat(d weave.Draft) (ends, turns, over, under int) {
	up := func(end, pick int) bool {
		return slices.Contains(d.TieUp[d.Treadling[pick]-1], d.Threading[end])
	}
	ends = len(d.Threading)
	for i := range ends {
		if up(i, 0) != up((i+1)%ends, 0) {
			turns++
		}
	}
	for pick := range d.Treadling {
		if up(0, pick) {
			over++
		} else {
			under++
		}
	}
	return ends, turns, over, under
}

// cover says what the eye blends, where the yarn was wrapped round a ruler.
func cover(m piece.Making, cloth *Cloth) []string {
	_, _, over, under := repeat(cloth.Drafted(m.Values["structure"]))
	wpi := m.Asked["wpi"]
	if wpi < 1 || over == 0 || under == 0 || max(over, under) > 32 {
		return nil
	}
	var n piece.Need
	n.Work("weave.face_share", piece.Given("over", over, "under", under, "sett_epc", m.Values["ends"], "ppc", m.Values["picks"], "warp_wpi", wpi, "weft_wpi", wpi))
	return append(append([]string{"What the eye blends"}, n.Working...), n.Warnings...)
}

// off is how far a sett may lie from the balanced one before it is said.
const off = 0.2

// fit is the sett that the wraps of the yarn ask for in this weave.
func fit(m piece.Making) *piece.Fit {
	cloth, is := m.Input.(*Cloth)
	if !is || m.Asked["wpi"] < 1 {
		return nil
	}
	ends, turns, _, _ := repeat(cloth.Drafted(m.Values["structure"]))
	var n piece.Need
	res, ok := n.Work("weave.sett", piece.Given("wpi", m.Asked["wpi"], "ends_in_repeat", min(64, max(2, ends)), "intersections", min(64, max(1, turns))))
	if !ok {
		return nil
	}
	sett := res.Rounded["epc"].(float64)
	if now := m.Values["ends"]; sett <= 0 || math.Abs(now/sett-1) <= off {
		return nil
	}
	return &piece.Fit{About: "The sett", Label: fmt.Sprintf("Set it at %g", sett), Settings: piece.Values{"ends": sett},
		Words: fmt.Sprintf(" is %g ends in 10 mm; %g wraps in an inch ask for about %g in this weave: %s. Weave a sample.", m.Values["ends"], m.Asked["wpi"], sett, n.Working[0])}
}
