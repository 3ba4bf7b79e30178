package studio

import (
	"fmt"
	"slices"
	"strings"

	"lampfern/core/colour"
	"lampfern/core/piece"
	"lampfern/core/weave"
)

// LooseThread is the colour of a thread that has no card yet.
var LooseThread = colour.Lab{L: 74}

// ClothView is a cloth with its threads and draft as they are edited.
type ClothView struct {
	Draft                       weave.Draft
	Warp, Weft                  string // orders, as weave.ParseOrder reads them
	Threading, TieUp, Treadling string
	Structure                   string
	Ends, Picks                 int          // of the whole cloth
	WarpColours, WeftColours    []colour.Lab // of all its threads
	WarpShare                   float64      // of the face
	Yarns                       []YarnView
	Floats                      weave.Floats
}

// YarnView is one yarn of a cloth or chart: its letter and its card, if it has
// one.
type YarnView struct {
	Yarn   int
	Letter string
	Card   *TrayCard
	Count  int // of its threads, or stitches of one repeat
	Share  float64
}

// yarns are the piece's yarns with their cards; their order is that of letters.
func (p *Plan) yarns() []YarnView {
	var out []YarnView
	fill := p.fill()
	for i, part := range p.Piece.Parts {
		y := 0
		if _, err := fmt.Sscanf(part.Key, "yarn%d", &y); err != nil {
			continue
		}
		v := YarnView{Yarn: y - 1, Letter: weave.Letter(y - 1), Share: p.Piece.Shares[i]}
		if fill[i] >= 0 {
			v.Card = &p.Tray[fill[i]]
		}
		out = append(out, v)
	}
	return out
}

// threads are the settings of the plan's cloth, its draft, and the yarn of every
// end and pick.
func (p *Plan) threads() (set map[string]float64, d weave.Draft, warp, weft []int16, err error) {
	t, err := piece.Find("cloth")
	if err == nil {
		set, err = t.Values(p.Settings)
	}
	if err == nil {
		d, warp, weft, err = piece.ClothDraft(set, p.Own)
	}
	return set, d, warp, weft, err
}

// Cloth is the plan's woven cloth.
func (p *Plan) Cloth() (*ClothView, error) {
	if p.Piece == nil || p.Template != "cloth" {
		return nil, refuse("Choose a woven cloth on Proportion first: its threads and draft are then kept here.")
	}
	set, d, warp, weft, err := p.threads()
	if err != nil {
		return nil, err
	}
	t, err := piece.Find("cloth")
	if err != nil {
		return nil, err
	}
	warpOrder, weftOrder := clothOrders(p.Own)
	v := &ClothView{Draft: d, Warp: weave.OrderText(warpOrder), Weft: weave.OrderText(weftOrder), Threading: numbers(d.Threading), Treadling: numbers(d.Treadling),
		Structure: t.Settings[slices.IndexFunc(t.Settings, func(s piece.Setting) bool { return s.Key == "structure" })].Choices[int(set["structure"])],
		Ends:      len(warp), Picks: len(weft), WarpShare: d.WarpShare(), Yarns: p.yarns(), Floats: d.Floats()}
	var ties []string
	for _, t := range d.TieUp {
		ties = append(ties, strings.ReplaceAll(numbers(t), " ", "+"))
	}
	v.TieUp = strings.Join(ties, ", ")
	labs := [weave.MostYarns]colour.Lab{}
	for i := range labs {
		labs[i] = LooseThread
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

// ChartView is a stranded chart as it is edited.
type ChartView struct {
	Chart        piece.Chart
	Across, Down int
	Wide, High   float64 // of a stitch, mm
	Yarns        []YarnView
	Unused       string // letters that could be added
	Float, Row   int    // the longest float, and the row it lies in
	Piece        piece.Piece
	Fill         []int // for each part of Piece the index of its card in the tray, or −1
}

// Stranded is the plan's chart, one repeat of it.
func (p *Plan) Stranded() (*ChartView, error) {
	if p.Piece == nil || p.Template != "stranded" {
		return nil, refuse("Choose a stranded chart on Proportion first: its stitches are then kept here.")
	}
	c := chart(p.Own)
	settings := map[string]float64{}
	for k, v := range p.Settings {
		settings[k] = v
	}
	settings["across"], settings["up"] = 1, 1
	one, err := piece.Build("stranded", settings, p.Own)
	if err != nil {
		return nil, err
	}
	v := &ChartView{Chart: c, Across: len(c[0]), Down: len(c), Wide: one.Cells.Wide, High: one.Cells.High, Yarns: p.yarns(), Piece: one, Fill: p.fill()}
	for i, y := range v.Yarns {
		for _, row := range c {
			v.Yarns[i].Count += strings.Count(row, y.Letter)
		}
	}
	for _, letter := range strings.Split(weave.Letters(), "") {
		if !slices.ContainsFunc(v.Yarns, func(y YarnView) bool { return y.Letter == letter }) {
			v.Unused += letter
		}
	}
	v.Float, v.Row = c.LongestFloat()
	return v, nil
}

// DrawingView is a drawing as it is edited.
type DrawingView struct {
	piece.Drawing
	Seen []bool        // of each part, whether any of it can be seen
	Labs []*colour.Lab // of each part, nil without a card
}

// Drawn is the plan's own drawing.
func (p *Plan) Drawn() (*DrawingView, error) {
	if p.Piece == nil || p.Template != "drawn" {
		return nil, refuse("Choose your own drawing on Proportion first: its outlines are then kept here.")
	}
	v := &DrawingView{Drawing: *drawing(p.Own)}
	for i, at := range p.fill() {
		v.Seen = append(v.Seen, p.Piece.Shares[i] > 0)
		if at < 0 {
			v.Labs = append(v.Labs, nil)
			continue
		}
		v.Labs = append(v.Labs, &p.Tray[at].Colour)
	}
	return v, nil
}
