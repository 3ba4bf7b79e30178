package draft

import (
	"fmt"
	"slices"

	"lampfern/core/balance"
	"lampfern/core/colour"
	"lampfern/core/craft/weaving"
	"lampfern/core/piece"
	"lampfern/core/weave"
	"lampfern/core/words"
	"lampfern/plan"
	"lampfern/shelf"
)

// WeftsView is one warp with a section of each weft that could cross it.
type WeftsView struct {
	Share    float64 // that the warp shows of the face
	Warp     []plan.YarnView
	Sections []WeftSection
}

// WeftSection is the whole width of the warp crossed by one weft.
type WeftSection struct {
	*shelf.Card
	Key   int  // in the tray, 0 for a card of the shelf
	Now   bool // the weft is of it alone
	Words string
	Cells *piece.Cells
	Labs  []*colour.Lab // of its parts
}

// Sections shown at most of the shelf beside those of the tray, how far apart in ΔE00, how many
// picks high, and the most ends that are drawn.
const (
	shelfWefts  = 6
	weftsApart  = 8.0
	sectionHigh = 18
	sectionWide = 900
)

// Wefts tries every card of the tray, and the shelf's threads that dull least, as the weft of the
// plan's cloth.
func Wefts(p *plan.Plan) (*WeftsView, error) {
	if p.Piece == nil || p.Pattern != "cloth" {
		return nil, words.Refuse("Choose a woven cloth on Proportion first. Here you can try one weft after another across its warp.")
	}
	in := plan.Input[weaving.Cloth](p)
	d, ends, picks, err := in.Threads(p.Values())
	if err != nil {
		return nil, err
	}
	v := &WeftsView{Share: d.WarpShare()}
	var warp []colour.Lab
	var names []string
	for _, y := range p.Yarns() {
		if !slices.Contains(ends, int16(y.Yarn)) {
			continue
		}
		if y.Card == nil {
			return nil, words.Refuse("Yarn %s of the warp has no card yet. Give it one on Proportion to try wefts.", y.Letter)
		}
		v.Warp, warp, names = append(v.Warp, y), append(warp, y.Card.Colour), append(names, y.Card.Name)
	}
	only := -1 // the yarn that all picks are of
	if len(picks) > 0 && !slices.ContainsFunc(picks, func(y int16) bool { return y != picks[0] }) {
		only = int(picks[0])
	}
	now := uint(0)
	for _, y := range p.Yarns() {
		if y.Yarn == only && y.Card != nil {
			now = y.Card.ID
		}
	}
	section := func(c *shelf.Card, key int) {
		w := balance.OverWarp(warp, c.Colour, v.Share, p.OnWheel())
		s := WeftSection{Card: c, Key: key, Now: c.ID != 0 && c.ID == now, Words: weftWords(w, warp, names)}
		s.Cells, s.Labs = sectionOf(d, ends[:min(len(ends), sectionWide)], v.Warp, c)
		v.Sections = append(v.Sections, s)
	}
	for _, t := range p.Tray {
		if t.Movable() {
			section(t.Card, t.Key)
		}
	}
	type tried struct {
		*shelf.Card
		dulled int
		keep   float64
	}
	var all []tried
	for _, c := range p.Offers().Cards() {
		if (c.Kind != "yarn" && c.Kind != "thread") || c.Discontinued || p.Holds(c.ID) {
			continue
		}
		w := balance.OverWarp(warp, c.Colour, v.Share, p.OnWheel())
		t := tried{Card: c, dulled: len(w.Dulled)}
		for _, f := range w.Faces {
			t.keep += f.Chroma()
		}
		all = append(all, t)
	}
	slices.SortStableFunc(all, func(a, b tried) int {
		if a.dulled != b.dulled {
			return a.dulled - b.dulled
		}
		return int(b.keep - a.keep)
	})
	shown := 0
	for _, t := range all {
		near := slices.ContainsFunc(v.Sections, func(s WeftSection) bool { return colour.DeltaE2000(s.Colour, t.Colour) < weftsApart })
		if shown < shelfWefts && !near {
			section(t.Card, 0)
			shown++
		}
	}
	return v, nil
}

// sectionOf is a strip of the cloth over the warp with one weft: the yarns of the warp are its first
// parts, the weft the last.
func sectionOf(d weave.Draft, ends []int16, warp []plan.YarnView, weft *shelf.Card) (*piece.Cells, []*colour.Lab) {
	labs, of := []*colour.Lab{}, map[int16]int16{}
	for i, y := range warp {
		of[int16(y.Yarn)] = int16(i)
		labs = append(labs, &y.Card.Colour)
	}
	labs = append(labs, &weft.Colour)
	rows := make([]int16, sectionHigh)
	for i := range rows {
		rows[i] = weave.MostYarns
	}
	of[weave.MostYarns] = int16(len(warp))
	c := &piece.Cells{Grain: piece.Woven, Across: len(ends), Down: sectionHigh, Wide: 1, High: 1, Up: d.Ups(len(ends), sectionHigh)}
	for _, y := range d.Drawdown(ends, rows) {
		c.Part = append(c.Part, of[y])
	}
	return c, labs
}

// weftWords say what a weft is to the stripes of the warp, and what it does to them.
func weftWords(w balance.Weft, warp []colour.Lab, names []string) string {
	said := ""
	for _, t := range w.Tied {
		said += fmt.Sprintf("Ties %s and %s, from %.0f to %.0f apart. ", names[t[0]], names[t[1]], colour.DeltaE2000(warp[t[0]], warp[t[1]]),
			colour.DeltaE2000(w.Faces[t[0]], w.Faces[t[1]]))
	}
	of := func(all []int) string {
		var out []string
		for _, i := range all {
			out = append(out, names[i])
		}
		return words.List(out)
	}
	for _, k := range []struct {
		kin  balance.Kin
		says string
	}{{balance.Repeats, "Repeats %s and is solid where it crosses. "}, {balance.Lighter, "Lighter than %s. "}, {balance.Darker, "Darker than %s. "},
		{balance.Adjacent, "A neighbour of %s. "}, {balance.Opposite, "Opposite to %s. "}} {
		var all []int
		for i, kin := range w.Kin {
			if kin == k.kin {
				all = append(all, i)
			}
		}
		if len(all) > 0 {
			said += fmt.Sprintf(k.says, of(all))
		}
	}
	for _, done := range []struct {
		to   []int
		says string
	}{{w.Dulled, "Dulls %s: opposite hues that mix towards grey. "}, {w.Tinted, "Makes a tint with %s, paler but not dull. "},
		{w.Shaded, "Makes a shade with %s, darker but not dull. "}} {
		if len(done.to) > 0 {
			said += fmt.Sprintf(done.says, of(done.to))
		}
	}
	if len(w.Tied) == 0 && len(w.Dulled) == 0 {
		said += "Every stripe still shows. "
	}
	return said + fmt.Sprintf("The cloth reads %s.", w.Mood)
}

// WeaveWith weaves the whole cloth with one weft: a card of the tray by its key, or a material that
// is pulled first. The yarn is one that the warp does not have.
type WeaveWith struct {
	Material uint `form:"material,optional"`
	Key      int  `form:"key,optional"`
}

func (e WeaveWith) Do(d *plan.Draft) (string, error) {
	if e.Key == 0 {
		c, err := d.Shelf.Card(e.Material)
		if err != nil || c.Removed {
			return "", words.Refuse("That material is no longer on the shelf.")
		}
		if err := d.Take(c); err != nil {
			return "", err
		}
		for _, o := range d.Plan.Entries {
			if o.MaterialID != nil && *o.MaterialID == e.Material {
				e.Key = o.Key
			}
		}
	}
	_, c, err := d.Entry(e.Key)
	if err != nil {
		return "", err
	}
	yarn := -1
	if _, err := plan.InputEdit("", func(_ *plan.Draft, in *weaving.Cloth) error {
		warp, _ := in.Orders()
		for y := range weave.MostYarns {
			if yarn < 0 && !slices.ContainsFunc(warp, func(s weave.Stripe) bool { return s.Yarn == y }) {
				yarn = y
			}
		}
		if yarn < 0 {
			return words.Refuse("The warp already uses as many yarns as a cloth can have. Remove one from its order first.")
		}
		in.Warp, in.Weft = warp, []weave.Stripe{{Yarn: yarn, Threads: 1}}
		return nil
	})(d); err != nil {
		return "", err
	}
	part := piece.YarnKey(yarn)
	if d.Pinned(part) {
		return "", words.Refuse("Yarn %s is pinned. Unpin it on Proportion first.", weave.Letter(yarn))
	}
	if _, err := (plan.FillPart{Part: part, Key: e.Key}).Do(d); err != nil {
		return "", err
	}
	return "weave with " + c.Name, nil
}
