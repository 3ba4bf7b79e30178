package draft

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"lampfern/core/colour"
	"lampfern/core/craft"
	"lampfern/core/craft/weaving"
	"lampfern/core/piece"
	"lampfern/core/weave"
	"lampfern/core/words"
	"lampfern/plan"
)

// ClothView is a cloth with its threads and draft as they are edited.
type ClothView struct {
	Draft                       weave.Draft
	Warp, Weft                  string // orders, as weave.ParseOrder reads them
	Threading, TieUp, Treadling string
	Structure                   string
	Ends, Picks                 int          // of the whole cloth
	Wide, Long                  float64      // cm on the loom
	Asked                       float64      // cm of width that the settings ask for, where whole orders come to another; else 0
	WarpColours, WeftColours    []colour.Lab // of all its threads
	WarpShare                   float64      // of the face
	Yarns                       []plan.YarnView
	Floats                      weave.Floats
}

// Cloth is the plan's woven cloth.
func Cloth(p *plan.Plan) (*ClothView, error) {
	if p.Piece == nil || p.Pattern != "cloth" {
		return nil, words.Refuse("Choose a woven cloth on Proportion first. Its threads and draft appear here.")
	}
	set, in := p.Values(), plan.Input[weaving.Cloth](p)
	d, warp, weft, err := in.Threads(set)
	if err != nil {
		return nil, err
	}
	t, err := craft.Pattern(p.Pattern)
	if err != nil {
		return nil, err
	}
	warpOrder, weftOrder := in.Orders()
	v := &ClothView{Draft: d, Warp: weave.OrderText(warpOrder), Weft: weave.OrderText(weftOrder), Threading: numbers(d.Threading),
		Treadling: numbers(d.Treadling),
		Structure: t.Settings[slices.IndexFunc(t.Settings,
			func(s piece.Setting) bool { return s.Key == "structure" })].Choices[int(set["structure"])],
		Ends: len(warp), Picks: len(weft), WarpShare: d.WarpShare(), Yarns: p.Yarns(), Floats: d.Floats()}
	v.Wide, v.Long = float64(v.Ends)/set["ends"], float64(v.Picks)/set["picks"]
	if asked := set["width"] / 10; math.Abs(asked-v.Wide) > 1/set["ends"] {
		v.Asked = asked
	}
	var ties []string
	for _, t := range d.TieUp {
		ties = append(ties, strings.ReplaceAll(numbers(t), " ", "+"))
	}
	v.TieUp = strings.Join(ties, ", ")
	labs := [weave.MostYarns]colour.Lab{}
	for i := range labs {
		labs[i] = plan.LooseThread
	}
	counts := [weave.MostYarns]int{}
	for _, y := range v.Yarns {
		if y.Card != nil {
			labs[y.Yarn] = y.Card.Colour
		}
	}
	for _, y := range warp {
		v.WarpColours = append(v.WarpColours, labs[y])
		counts[y]++
	}
	for _, y := range weft {
		v.WeftColours = append(v.WeftColours, labs[y])
		counts[y]++
	}
	for i := range v.Yarns {
		v.Yarns[i].Count = counts[v.Yarns[i].Yarn]
	}
	return v, nil
}

func numbers(all []int) string {
	words := make([]string, len(all))
	for i, n := range all {
		words[i] = fmt.Sprint(n)
	}
	return strings.Join(words, " ")
}
