package proportion

import (
	"context"
	"fmt"
	"maps"
	"slices"
	"strings"
	"unicode/utf8"

	"lampfern/core/balance"
	"lampfern/core/colour"
	"lampfern/core/form"
	"lampfern/core/material"
	"lampfern/core/piece"
	"lampfern/core/words"
	"lampfern/plan"
)

// WaysView is what a search for ways brings.
type WaysView struct {
	Ways  []WayView
	Words string // how many ways there are, and how many were looked at
}

// WaysAsked names parts of the piece by key.
type WaysAsked struct {
	Focus string   // that should take the first look, empty for any
	Quiet []string // that should recede
	Much  bool     // rank by the amounts of the scrap page, where it asks for some
}

// WayView is one way of giving the piece's parts the tray's cards.
type WayView struct {
	Fills map[string]int // part to the key of its card
	Labs  []*colour.Lab  // of each part, nil for one without a card
	Words string         // what leads, and what is lost
	Now   bool           // it is the way the piece is coloured now
}

// Ways searches every way round for the piece. Pinned parts keep their card and
// grouped ones take one together. It may take a moment; ctx ends it early with
// the best found so far.
func Ways(ctx context.Context, k *plan.Desk, p *plan.Plan, asked WaysAsked) (WaysView, error) {
	if p.Piece == nil {
		return WaysView{}, words.Refuse("Choose a piece on Proportion first.")
	}
	var kept []int
	for i, t := range p.Tray {
		if !t.Movable() {
			kept = append(kept, i)
		}
	}
	if len(p.Tray)-len(kept) < 2 {
		return WaysView{}, words.Refuse("Add at least two cards on Gather first.")
	}
	slots, of := slots(p, p.Last)
	if len(slots) < 2 {
		return WaysView{},
			words.Refuse("This piece has only one part to colour. Choose another piece, or ungroup its parts.")
	}
	a := balance.WaysAsked{Focus: -1, Pinned: map[int]int{}, Kept: kept}
	if asked.Focus != "" {
		at := p.Piece.Part(asked.Focus)
		if at < 0 {
			return WaysView{}, words.Refuse("This piece has no part called %q. Choose another focal point.", asked.Focus)
		}
		if slices.Contains(p.Last, asked.Focus) {
			return WaysView{}, words.Refuse("The %s is to be chosen last. Choose another focal point.", p.Piece.Parts[at].Name)
		}
		if of[at] < 0 {
			return WaysView{}, words.Refuse("The %s is hidden by another part. Choose another focal point.", p.Piece.Parts[at].Name)
		}
		a.Focus = of[at]
	}
	for _, q := range asked.Quiet {
		if at := p.Piece.Part(q); at >= 0 && of[at] >= 0 && of[at] != a.Focus {
			a.Quiet = append(a.Quiet, of[at])
		}
	}
	if asked.Much {
		a.Shares = p.Amounts()
	}
	now := p.Fill()
	for _, q := range p.Pinned {
		if at := p.Piece.Part(q); at >= 0 && of[at] >= 0 && now[at] >= 0 {
			a.Pinned[of[at]] = now[at]
		}
	}
	for at, part := range p.Piece.Parts { // a shade goes with its part, and what is there already stays
		if of[at] >= 0 && now[at] >= 0 && (piece.IsTone(part.Key) || !p.Tray[now[at]].Movable()) {
			a.Pinned[of[at]] = now[at]
		}
	}
	layout := p.Piece.Layout().Merge(of, len(slots))
	found := k.Ways(ctx, layout, p.Labs(), a)
	out := WaysView{Words: waysWords(found)}
	for _, w := range found.Ways {
		v := WayView{Fills: map[string]int{}, Now: true}
		for i, slot := range of {
			at := now[i] // what is wholly covered keeps what it has
			if slot >= 0 {
				at = w.Fill[slot]
			}
			if at < 0 {
				v.Labs = append(v.Labs, nil)
				continue
			}
			v.Fills[p.Piece.Parts[i].Key] = p.Tray[at].Key
			v.Labs = append(v.Labs, &p.Tray[at].Colour)
			v.Now = v.Now && at == now[i]
		}
		var on []string // all that has the leading colour, the focus first
		for i, name := range slots {
			switch {
			case w.Fill[i] != w.Fill[w.Lead]:
			case i == a.Focus:
				on = append([]string{name}, on...)
			default:
				on = append(on, name)
			}
		}
		v.Words = fmt.Sprintf("%s on the %s stands out most.", p.Tray[w.Fill[w.Lead]].Name, words.List(on))
		if w.Times < balance.FocusClear {
			v.Words = fmt.Sprintf("%s on the %s barely stands out.", p.Tray[w.Fill[w.Lead]].Name, words.List(on))
		}
		switch {
		case w.Lost == 1:
			v.Words += " One edge disappears."
		case w.Lost > 1:
			v.Words += fmt.Sprintf(" %s edges disappear.", words.Capital(words.Count(w.Lost)))
		}
		if a.Shares != nil {
			v.Words += fmt.Sprintf(" %.0f%% differs from the amounts you asked for.", 100*w.Off)
		}
		out.Ways = append(out.Ways, v)
	}
	if f := a.Focus; f >= 0 && len(found.Ways) > 0 {
		pin, is := a.Pinned[f]
		if is && !slices.ContainsFunc(found.Ways, func(w balance.Way) bool { return w.Fill[w.Lead] == pin }) {
			best := found.Ways[0]
			return out,
				words.Refuse("%s, pinned to the %s, cannot be the focal point: %s on the %s is stronger in every arrangement. Unpin it, give it more room, or choose a bolder card.",
					p.Tray[pin].Name, slots[f], p.Tray[best.Fill[best.Lead]].Name, slots[best.Lead])
		}
	}
	return out, nil
}

// waysWords say how many ways there are.
func waysWords(f balance.Found) string {
	switch {
	case f.All == 1:
		return "There is only one arrangement."
	case float64(f.Looked) >= f.All:
		return fmt.Sprintf("Tried all %s arrangements.", words.Grouped(float64(f.Looked)))
	}
	return fmt.Sprintf("Tried %s of %s arrangements. Pin parts to narrow the search.", words.Grouped(float64(f.Looked)),
		words.Grouped(f.All))
}

// slots are what takes a card: parts, and groups of them as one, by name; of is
// the slot of each part.
func slots(p *plan.Plan, open []string) (names []string, of []int) {
	of = make([]int, len(p.Piece.Parts))
	for i, part := range p.Piece.Parts {
		if of[i] = -1; p.Piece.Covered(i) || slices.Contains(open, part.Key) {
			continue // what is not seen, or is chosen last, has no way round
		}
		for _, g := range p.Groups {
			if !slices.Contains(g, part.Key) {
				continue
			}
			for j, other := range p.Piece.Parts[:i] {
				if slices.Contains(g, other.Key) && of[j] >= 0 {
					of[i] = of[j]
					break
				}
			}
		}
		if of[i] >= 0 {
			names[of[i]] += " and " + part.Name
			continue
		}
		of[i] = len(names)
		names = append(names, part.Name)
	}
	return names, of
}

// TakeWay colours the piece as a way says.
type TakeWay struct {
	Fills map[string]int
}

func (e *TakeWay) Read(f *form.Form) error {
	e.Fills = f.Keys("fills")
	return nil
}

func (e TakeWay) Do(d *plan.Draft) (string, error) {
	return "use an arrangement", fillAs(d, e.Fills)
}

func fillAs(d *plan.Draft, fills map[string]int) error {
	p, err := d.ChosenPiece()
	if err != nil {
		return err
	}
	d.Plan.Fills = nil
	for _, part := range p.Parts {
		key, given := fills[part.Key]
		if base, kind := piece.SplitOff(part.Key); !given && kind != "" { // it was split off since
			key, given = fills[base]
		}
		if !given {
			continue
		}
		if _, _, err := d.Entry(key); err != nil {
			continue // set aside since
		}
		d.Plan.Fills = append(d.Plan.Fills, plan.Fill{Part: part.Key, EntryKey: key})
		d.Plan.Last = slices.DeleteFunc(d.Plan.Last, func(last string) bool { return last == part.Key })
	}
	d.SortFills()
	return nil
}

// KeepColourway keeps a way, or with nil the piece as it is coloured now, as a
// colourway.
type KeepColourway struct {
	Name  string `form:"name"`
	Fills map[string]int
}

func (e *KeepColourway) Read(f *form.Form) error {
	e.Fills = f.Keys("fills")
	return nil
}

func (e KeepColourway) Do(d *plan.Draft) (string, error) {
	if e.Fills == nil {
		e.Fills = map[string]int{}
		for _, f := range d.Plan.Fills {
			e.Fills[f.Part] = f.EntryKey
		}
	}
	if len(e.Fills) == 0 {
		return "", words.Refuse("Colour the piece first.")
	}
	for _, o := range d.Plan.Colourways {
		if o.Piece == d.Plan.At && o.Whole == nil && maps.Equal(o.Fills, e.Fills) {
			return "", words.Refuse("This is saved already, as %s.", o.Name)
		}
	}
	if _, err := d.KeepColourway(d.Plan.At, e.Name, e.Fills); err != nil {
		return "", err
	}
	return "save the colourway " + d.Plan.Colourways[len(d.Plan.Colourways)-1].Name, nil
}

func colourway(d *plan.Draft, key int) (*plan.Colourway, error) {
	for i := range d.Plan.Colourways {
		if d.Plan.Colourways[i].Key == key {
			return &d.Plan.Colourways[i], nil
		}
	}
	return nil, words.Refuse("That colourway was deleted.")
}

// NameColourway writes a colourway's name and remark.
type NameColourway struct {
	Key    int    `form:"key"`
	Name   string `form:"name"`
	Remark string `form:"remark,optional"`
	For    string `form:"for,optional"` // the customer
	Season string `form:"season,optional"`
	Mood   string `form:"mood,optional"`
}

func (e NameColourway) Do(d *plan.Draft) (string, error) {
	c, err := colourway(d, e.Key)
	if err != nil {
		return "", err
	}
	for _, f := range []*string{&e.Name, &e.Remark, &e.For, &e.Season} {
		*f = strings.Join(strings.Fields(*f), " ")
	}
	if max(utf8.RuneCountInString(e.For), utf8.RuneCountInString(e.Season)) > material.MaxName {
		return "", words.Refuse("A customer and a season have at most %d characters each.", material.MaxName)
	}
	if _, err := plan.Mood(d.Ctx, d.Desk, e.Mood); err != nil && e.Mood != c.Mood { // one that was forgotten since stays
		return "", err
	}
	if e.Name == "" || utf8.RuneCountInString(e.Name) > material.MaxName || utf8.RuneCountInString(e.Remark) > plan.MaxRemark {
		return "", words.Refuse("A colourway has a name of at most %d characters, and a note of at most %d.", material.MaxName, plan.MaxRemark)
	}
	c.Name, c.Remark, c.For, c.Season, c.Mood = e.Name, e.Remark, e.For, e.Season, e.Mood
	return "name the colourway " + e.Name, nil
}

// FavourColourway makes a colourway the favourite, or no longer.
type FavourColourway struct {
	Key int  `form:"key"`
	On  bool `form:"on"`
}

func (e FavourColourway) Do(d *plan.Draft) (string, error) {
	c, err := colourway(d, e.Key)
	if err != nil {
		return "", err
	}
	for i, o := range d.Plan.Colourways {
		if o.Piece == c.Piece && (o.Whole == nil) == (c.Whole == nil) {
			d.Plan.Colourways[i].Favourite = false
		}
	}
	c.Favourite = e.On
	return "favour " + c.Name, nil
}

// TakeColourway colours the piece as a colourway has it.
type TakeColourway struct {
	Key int `form:"key"`
}

func (e TakeColourway) Do(d *plan.Draft) (string, error) {
	c, err := colourway(d, e.Key)
	if err != nil {
		return "", err
	}
	name, fills, whole := c.Name, c.Fills, c.Whole
	if err := d.Thaw(*c); err != nil {
		return "", err
	}
	if whole != nil {
		d.Recolour(whole)
		return "use the colourway " + name, nil
	}
	return "use the colourway " + name, fillAs(d, fills)
}

// DropColourway takes a colourway away.
type DropColourway struct {
	Key int `form:"key"`
}

func (e DropColourway) Do(d *plan.Draft) (string, error) {
	c, err := colourway(d, e.Key)
	if err != nil {
		return "", err
	}
	name := c.Name
	d.Plan.Colourways = slices.DeleteFunc(d.Plan.Colourways, func(o plan.Colourway) bool { return o.Key == e.Key })
	return "remove the colourway " + name, nil
}
