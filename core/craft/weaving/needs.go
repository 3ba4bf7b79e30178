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
	{Key: "reed", Name: "loom weaving width", Unit: "cm", Min: 5, Max: 500, Default: 120},
	{Key: "grist", Name: "metres per kilogram of yarn", Min: 20, Max: 200000, Default: 5000},
	{Key: "skein", Name: "usual skein weight", Unit: "g", Min: 1, Max: 10000, Default: 100},
	{Key: "take_up", Name: "warp take-up", Unit: "%", Min: 0, Max: 30, Default: 8},
	{Key: "draw_in", Name: "draw-in", Unit: "%", Min: 0, Max: 30, Default: 8},
	{Key: "shrink", Name: "shrinkage in the wash", Unit: "%", Min: 0, Max: 30, Default: 5},
	{Key: "loom", Name: "loom waste", Unit: "cm", Min: 0, Max: 300, Default: 70},
	{Key: "sample", Name: "warp for sampling", Unit: "cm", Min: 0, Max: 500, Default: 20},
	{Key: "waste", Name: "knots and broken ends", Unit: "%", Min: 0, Max: 50, Default: 5},
	{Key: "wpi", Name: "wraps per inch, if counted", Min: 0, Max: 200, Default: 0},
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
	long, err := wind(m, cloth)
	if err != nil {
		for i := range out {
			out[i].Fail(err)
		}
		return out
	}
	waste := m.Asked["waste"]
	share(out, m, "Warp", long.warp.Notes, long.warp.Exact.Grams, long.bare, waste)
	share(out, m, "Weft", long.weft.Notes, long.weft.Exact.Grams, 1, waste)
	face := cover(m, cloth)
	for i := range out {
		out[i].Working = append([]string{long.said}, append(out[i].Working, face...)...)
	}
	return out
}

// wound is a warp as it is wound and its weft, thread for thread as the cloth is drawn.
type wound struct {
	warp quantity.WarpOut
	weft quantity.WeftOut
	bare float64 // the part of the warp's length that is woven or fringe; the rest stays on the loom
	said string  // what it comes to once it is finished
}

// wind works out the threads of a cloth. Its ends and picks are those that are drawn, and what the
// cloth measures once it is off the loom follows from them.
func wind(m piece.Making, cloth *Cloth) (out wound, err error) {
	_, ends, picks, err := cloth.Threads(m.Values)
	if err != nil {
		return out, err
	}
	name := func(yarn int) string {
		if at := m.CardOf(piece.YarnKey(yarn)); at >= 0 {
			return m.Cards[at].Name
		}
		return "no card"
	}
	var order []quantity.Ends
	for _, s := range weave.Stripes(ends) {
		order = append(order, quantity.Ends{Colour: name(s.Yarn), Ends: float64(s.Threads)})
	}
	var weftOrder []quantity.Picks
	for _, s := range weave.Stripes(picks) {
		weftOrder = append(weftOrder, quantity.Picks{Colour: name(s.Yarn), Picks: float64(s.Threads)})
	}
	ask := m.Asked
	reed, woven := float64(len(ends))/m.Values["ends"], float64(len(picks))/m.Values["picks"]
	wide, long := reed*(1-(ask["draw_in"]+ask["shrink"])/100), woven*(1-ask["shrink"]/100)
	out.said = fmt.Sprintf("%d ends at %g in a cm are %.4g cm in the reed, finished %.4g × (1 − %g%% − %g%%) = %.4g cm wide; "+
		"%d picks at %g in a cm are %.4g cm on the loom, finished %.4g × (1 − %g%%) = %.4g cm long",
		len(ends), m.Values["ends"], reed, reed, ask["draw_in"], ask["shrink"], wide,
		len(picks), m.Values["picks"], woven, woven, ask["shrink"], long)
	items, shrink, waste := float64(m.Times), ask["shrink"], ask["waste"]
	out.warp, err = quantity.Warp(quantity.WarpIn{FinishedWidth: wide, FinishedLength: long, Items: &items, SettEPC: m.Values["ends"],
		DrawInPct: new(ask["draw_in"]), WidthShrinkPct: &shrink, TakeUpPct: new(ask["take_up"]), LengthShrinkPct: &shrink,
		Fringe: ask["fringe"], Hem: ask["hem"], LoomWaste: new(ask["loom"]), Sampling: new(ask["sample"]),
		StripeOrder: order, ReedWidth: ask["reed"], WastePct: &waste, Grist: ask["grist"], PackageG: ask["skein"]})
	if err != nil {
		return out, err
	}
	out.bare = (out.warp.Exact.WarpLength - ask["loom"] - ask["sample"]) / out.warp.Rounded.WarpLength
	out.weft, err = quantity.Weft(quantity.WeftIn{FinishedLength: long, Items: &items, Hem: ask["hem"], LengthShrinkPct: &shrink,
		PPC: m.Values["picks"], ReedUsed: out.warp.Rounded.ReedUsed, WeftOrder: weftOrder, WastePct: &waste, Grist: ask["grist"],
		PackageG: ask["skein"]})
	return out, err
}

// share gives each card its yarn of the warp or the weft, of which a part is in the cloth and the
// rest, with what is spared for knots, is waste.
func share(out []piece.Need, m piece.Making, what string, notes quantity.Notes, grams quantity.ByColour, bare, waste float64) {
	for i := range out {
		n := &out[i]
		n.Working = append(n.Working, what)
		n.Share(notes, m.Cards[i].Name)
		g := grams[m.Cards[i].Name]
		n.Amount += g
		n.Spare += g * (1 - bare/(1+waste/100))
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
