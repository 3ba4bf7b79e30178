package weaving

import (
	"fmt"
	"math"
	"slices"

	"lampfern/core/piece"
	"lampfern/core/quantity"
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
	name := func(yarn int) string {
		if at := m.CardOf(piece.YarnKey(yarn)); at >= 0 {
			return m.Cards[at].Name
		}
		return "no card"
	}
	ends, picks := cloth.Orders()
	var order []quantity.Ends
	for _, s := range ends {
		order = append(order, quantity.Ends{Colour: name(s.Yarn), Ends: float64(s.Threads)})
	}
	long, items, shrink, waste := m.Values["length"]/10, float64(m.Times), m.Asked["shrink"], m.Asked["waste"]
	warp, err := quantity.Warp(quantity.WarpIn{FinishedWidth: m.Values["width"] / 10, FinishedLength: long, Items: &items,
		SettEPC:   m.Values["ends"],
		DrawInPct: new(m.Asked["draw_in"]), WidthShrinkPct: &shrink, TakeUpPct: new(m.Asked["take_up"]), LengthShrinkPct: &shrink,
		Fringe: m.Asked["fringe"], Hem: m.Asked["hem"], LoomWaste: new(m.Asked["loom"]), Sampling: new(m.Asked["sample"]),
		StripeOrder: order, ReedWidth: m.Asked["reed"], WastePct: &waste, Grist: m.Asked["grist"], PackageG: m.Asked["skein"]})
	share(out, m, "Warp", warp.Notes, warp.Exact.Grams, err)
	if err != nil {
		return out
	}
	var weftOrder []quantity.Picks
	for _, s := range picks {
		weftOrder = append(weftOrder, quantity.Picks{Colour: name(s.Yarn), Picks: float64(s.Threads)})
	}
	weft, err := quantity.Weft(quantity.WeftIn{FinishedLength: long, Items: &items, Hem: m.Asked["hem"], LengthShrinkPct: &shrink,
		PPC:      m.Values["picks"],
		ReedUsed: warp.Rounded.ReedUsed, WeftOrder: weftOrder, WastePct: &waste, Grist: m.Asked["grist"], PackageG: m.Asked["skein"]})
	share(out, m, "Weft", weft.Notes, weft.Exact.Grams, err)
	face := cover(m, cloth)
	for i := range out {
		out[i].Working = append(out[i].Working, face...)
		out[i].Allow(waste)
	}
	return out
}

// share gives each card its yarn of the warp or the weft.
func share(out []piece.Need, m piece.Making, what string, notes quantity.Notes, grams quantity.ByColour, err error) {
	for i := range out {
		n := &out[i]
		n.Working = append(n.Working, what)
		if err != nil {
			n.Fail(err)
			continue
		}
		n.Share(notes, m.Cards[i].Name)
		n.Amount += grams[m.Cards[i].Name]
	}
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
	piece.Work(&n, quantity.FaceShare, quantity.FaceShareIn{Over: float64(over), Under: float64(under), SettEPC: m.Values["ends"],
		PPC: m.Values["picks"], WarpWPI: wpi, WeftWPI: wpi})
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
	res, ok := piece.Work(&n, quantity.Sett, quantity.SettIn{WPI: m.Asked["wpi"], EndsInRepeat: new(float64(min(64, max(2, ends)))),
		Intersections: new(float64(min(64, max(1, turns))))})
	if !ok {
		return nil
	}
	sett := res.Rounded.EPC
	if now := m.Values["ends"]; sett <= 0 || math.Abs(now/sett-1) <= off {
		return nil
	}
	return &piece.Fit{About: "The sett", Label: fmt.Sprintf("Set it at %g", sett), Settings: piece.Values{"ends": sett},
		Words: fmt.Sprintf(" is %g ends in 10 mm; %g wraps in an inch ask for about %g in this weave: %s. Weave a sample.", m.Values["ends"],
			m.Asked["wpi"], sett, n.Working[0])}
}
