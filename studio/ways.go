package studio

import (
	"context"
	"fmt"
	"maps"
	"slices"
	"strings"
	"unicode/utf8"

	"lampfern/core/balance"
	"lampfern/core/colour"
	"lampfern/core/material"
	"lampfern/store"
)

// MaxColourways is the most colourways a plan keeps; a sheet shows twelve.
const MaxColourways = 12

// WaysView is what a search for ways brings.
type WaysView struct {
	Ways  []WayView
	Words string // how many ways there are, and how many were looked at
}

// WaysAsked names parts of the piece by key.
type WaysAsked struct {
	Focus string   // that should take the first look, empty for any
	Quiet []string // that should recede
}

// WayView is one way of giving the piece's parts the tray's cards.
type WayView struct {
	Fills map[string]int // part to the key of its card
	Cards []*TrayCard    // of each part, nil for none
	Words string         // what leads, and what is lost
	Now   bool           // it is the way the piece is coloured now
}

// Ways searches every way round for the piece. Pinned parts keep their card and
// grouped ones take one together. It may take a moment; ctx ends it early with
// the best found so far.
func (p *Plan) Ways(ctx context.Context, asked WaysAsked) (WaysView, error) {
	if p.Piece == nil {
		return WaysView{}, refuse("Choose a piece on Proportion first.")
	}
	if len(p.Tray) < 2 {
		return WaysView{}, refuse("Ways need two cards or more: pull some on Gather.")
	}
	slots, of := p.slots()
	if len(slots) < 2 {
		return WaysView{}, refuse("This piece has one part that takes a card, so there is only one way for each: choose another piece, or part its group.")
	}
	a := balance.WaysAsked{Focus: -1, Pinned: map[int]int{}}
	if asked.Focus != "" {
		at := p.Piece.part(asked.Focus)
		if at < 0 {
			return WaysView{}, refuse("This piece has no part called %q to be the focus.", asked.Focus)
		}
		a.Focus = of[at]
	}
	for _, q := range asked.Quiet {
		if at := p.Piece.part(q); at >= 0 && of[at] != a.Focus {
			a.Quiet = append(a.Quiet, of[at])
		}
	}
	now := p.fill()
	for _, q := range p.Pinned {
		if at := p.Piece.part(q); at >= 0 && now[at] >= 0 {
			a.Pinned[of[at]] = now[at]
		}
	}
	layout := balance.Layout{Share: p.Piece.Shares, Border: p.Piece.Borders}.Merge(of, len(slots))
	found := balance.Ways(layout, p.labs(), a, func() bool { return ctx.Err() != nil })
	out := WaysView{Words: waysWords(found)}
	for _, w := range found.Ways {
		v := WayView{Fills: map[string]int{}, Now: true}
		for i, slot := range of {
			at := w.Fill[slot]
			v.Fills[p.Piece.Parts[i].Key] = p.Tray[at].Key
			v.Cards = append(v.Cards, &p.Tray[at])
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
		v.Words = fmt.Sprintf("%s leads on the %s, %.1f times the next.", p.Tray[w.Fill[w.Lead]].Name, joinWords(on), w.Times)
		switch {
		case w.Lost == 1:
			v.Words += " One edge is lost."
		case w.Lost > 1:
			v.Words += fmt.Sprintf(" %s edges are lost.", capitalFirst(countWord(w.Lost)))
		}
		out.Ways = append(out.Ways, v)
	}
	if f := a.Focus; f >= 0 && len(found.Ways) > 0 {
		pin, is := a.Pinned[f]
		if is && !slices.ContainsFunc(found.Ways, func(w balance.Way) bool { return w.Fill[w.Lead] == pin }) {
			best := found.Ways[0]
			return out, refuse("%s is pinned to the %s and cannot lead there: even at best %s on the %s pulls more. Unpin it, give it more room, or pull a bolder card for it.",
				p.Tray[pin].Name, slots[f], p.Tray[best.Fill[best.Lead]].Name, slots[best.Lead])
		}
	}
	return out, nil
}

// waysWords say how many ways there are.
func waysWords(f balance.Found) string {
	switch {
	case f.All == 1:
		return "There is one way."
	case float64(f.Looked) >= f.All:
		return fmt.Sprintf("All %s ways were looked at.", grouped(float64(f.Looked)))
	}
	return fmt.Sprintf("Of %s ways %s were looked at, each bettered by trades. Pin some parts to see more of the rest.", grouped(f.All), grouped(float64(f.Looked)))
}

// grouped writes a number in groups of three figures, very large ones in words.
func grouped(x float64) string {
	if x >= 1e9 {
		return "more than a thousand million"
	}
	s := fmt.Sprintf("%.0f", x)
	for at := len(s) - 3; at > 0; at -= 3 {
		s = s[:at] + "," + s[at:]
	}
	return s
}

// slots are what takes a card: parts, and groups of them as one, by name; of is
// the slot of each part.
func (p *Plan) slots() (names []string, of []int) {
	of = make([]int, len(p.Piece.Parts))
	for i, part := range p.Piece.Parts {
		of[i] = -1
		for _, g := range p.Groups {
			if !slices.Contains(g, part.Key) {
				continue
			}
			for j, other := range p.Piece.Parts[:i] {
				if slices.Contains(g, other.Key) {
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

// ColourwayView is a colourway as its piece shows it.
type ColourwayView struct {
	store.Colourway
	Fill []int         // for each part the index of its card in the tray, −1 where none is left for it
	Labs []*colour.Lab // of each part, nil where no card is left for it
	Now  bool
}

// ColourwayViews lists the plan's colourways, the favourite first.
func (p *Plan) ColourwayViews() []ColourwayView {
	if p.Piece == nil {
		return nil
	}
	now := map[string]int{}
	for _, f := range p.Fills {
		now[f.Part] = f.EntryKey
	}
	var out []ColourwayView
	for _, c := range p.Colourways {
		v := ColourwayView{Colourway: c, Now: maps.Equal(now, c.Fills)}
		for _, part := range p.Piece.Parts {
			at := slices.IndexFunc(p.Tray, func(t TrayCard) bool { return t.Key == c.Fills[part.Key] })
			v.Fill = append(v.Fill, at)
			if at < 0 {
				v.Labs = append(v.Labs, nil)
				continue
			}
			v.Labs = append(v.Labs, &p.Tray[at].Colour)
		}
		out = append(out, v)
	}
	slices.SortStableFunc(out, func(a, b ColourwayView) int {
		switch {
		case a.Favourite && !b.Favourite:
			return -1
		case b.Favourite && !a.Favourite:
			return 1
		}
		return 0
	})
	return out
}

// TakeWay colours the piece as a way says.
func TakeWay(fills map[string]int) Edit {
	return func(d *draft) (string, error) {
		return "take a way", d.fillAs(fills)
	}
}

func (d *draft) fillAs(fills map[string]int) error {
	p, err := d.chosenPiece()
	if err != nil {
		return err
	}
	d.plan.Fills = nil
	for _, part := range p.Parts {
		key, given := fills[part.Key]
		if !given {
			continue
		}
		if _, _, err := d.entry(key); err != nil {
			continue // set aside since
		}
		d.plan.Fills = append(d.plan.Fills, store.Fill{Part: part.Key, EntryKey: key})
	}
	d.sortFills()
	return nil
}

// KeepColourway keeps a way, or with nil the piece as it is coloured now, as a
// colourway.
func KeepColourway(name string, fills map[string]int) Edit {
	return func(d *draft) (string, error) {
		if fills == nil {
			fills = map[string]int{}
			for _, f := range d.plan.Fills {
				fills[f.Part] = f.EntryKey
			}
		}
		if len(fills) == 0 {
			return "", refuse("The piece has no colours yet: give its parts cards first.")
		}
		if len(d.plan.Colourways) >= MaxColourways {
			return "", refuse("%d colourways are kept: take one away first.", MaxColourways)
		}
		c := store.Colourway{Key: 1, Fills: fills}
		for _, o := range d.plan.Colourways {
			if maps.Equal(o.Fills, fills) {
				return "", refuse("This is kept already, as %s.", o.Name)
			}
			c.Key = max(c.Key, o.Key+1)
		}
		c.Name = strings.Join(strings.Fields(name), " ")
		if c.Name == "" {
			c.Name = fmt.Sprintf("Colourway %d", c.Key)
		}
		if utf8.RuneCountInString(c.Name) > material.MaxName {
			return "", refuse("The colourway's name is longer than %d characters: shorten it.", material.MaxName)
		}
		d.plan.Colourways = append(d.plan.Colourways, c)
		return "keep the colourway " + c.Name, nil
	}
}

func (d *draft) colourway(key int) (*store.Colourway, error) {
	for i := range d.plan.Colourways {
		if d.plan.Colourways[i].Key == key {
			return &d.plan.Colourways[i], nil
		}
	}
	return nil, refuse("That colourway is no longer kept.")
}

// NameColourway writes a colourway's name and remark.
func NameColourway(key int, name, remark string) Edit {
	return func(d *draft) (string, error) {
		c, err := d.colourway(key)
		if err != nil {
			return "", err
		}
		name, remark = strings.Join(strings.Fields(name), " "), strings.Join(strings.Fields(remark), " ")
		if name == "" || utf8.RuneCountInString(name) > material.MaxName || utf8.RuneCountInString(remark) > maxRemark {
			return "", refuse("A colourway has a name of at most %d characters, and a remark of at most %d.", material.MaxName, maxRemark)
		}
		c.Name, c.Remark = name, remark
		return "name the colourway " + name, nil
	}
}

// FavourColourway makes a colourway the favourite, or no longer.
func FavourColourway(key int, on bool) Edit {
	return func(d *draft) (string, error) {
		c, err := d.colourway(key)
		if err != nil {
			return "", err
		}
		for i := range d.plan.Colourways {
			d.plan.Colourways[i].Favourite = false
		}
		c.Favourite = on
		return "favour " + c.Name, nil
	}
}

// TakeColourway colours the piece as a colourway has it.
func TakeColourway(key int) Edit {
	return func(d *draft) (string, error) {
		c, err := d.colourway(key)
		if err != nil {
			return "", err
		}
		return "take the colourway " + c.Name, d.fillAs(c.Fills)
	}
}

// DropColourway takes a colourway away.
func DropColourway(key int) Edit {
	return func(d *draft) (string, error) {
		c, err := d.colourway(key)
		if err != nil {
			return "", err
		}
		name := c.Name
		d.plan.Colourways = slices.DeleteFunc(d.plan.Colourways, func(o store.Colourway) bool { return o.Key == key })
		return "take the colourway " + name + " away", nil
	}
}
