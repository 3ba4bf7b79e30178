package plan

import (
	"fmt"
	"maps"
	"slices"
	"strings"
	"unicode/utf8"

	"lampfern/core/balance"
	"lampfern/core/colour"
	"lampfern/core/material"
	"lampfern/core/piece"
	"lampfern/core/words"
	"lampfern/shelf"
)

// MaxColourways is the most colourways a piece has; a sheet shows twelve.
const MaxColourways = 12

// ColourwayView is a colourway as its piece shows it.
type ColourwayView struct {
	Colourway
	Tray []TrayCard    // the plan's, and after it what was set aside since
	Fill []int         // for each part the index of its card in Tray, −1 for none
	Labs []*colour.Lab // of each part, nil for none
	Gone []string      // cards that are no longer in the plan's tray
	Now  bool
}

// cardAsKept is a card of a colourway: as the shelf has it, else as it was when it was kept.
func (p *Plan) cardAsKept(e Entry) TrayCard {
	c, err := CardOf(p.Shelf, e)
	if err != nil {
		e.MaterialID = nil
		if c, err = CardOf(p.Shelf, e); err != nil {
			return TrayCard{Key: e.Key, Card: &shelf.Card{}}
		}
	}
	return TrayCard{Card: c, Key: e.Key, Role: balance.Unused}
}

// ColourwayViews lists the colourways of the plan's piece, the favourite first.
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
		if c.Piece != p.At || c.Whole != nil {
			continue
		}
		v := ColourwayView{Colourway: c, Now: maps.Equal(now, c.Fills)}
		v.Tray, v.Gone = p.trayOf(c)
		v.Fill = fillFrom(p.Piece, v.Tray, c.Fills)
		for _, at := range v.Fill {
			if at < 0 {
				v.Labs = append(v.Labs, nil)
				continue
			}
			v.Labs = append(v.Labs, &v.Tray[at].Colour)
		}
		out = append(out, v)
	}
	slices.SortStableFunc(out, func(a, b ColourwayView) int { return byFavour(a.Colourway, b.Colourway) })
	return out
}

// byFavour puts the favourite first.
func byFavour(a, b Colourway) int {
	switch {
	case a.Favourite && !b.Favourite:
		return -1
	case b.Favourite && !a.Favourite:
		return 1
	}
	return 0
}

// trayOf is the plan's tray and after it those cards of a colourway that were set aside since, with
// their names.
func (p *Plan) trayOf(c Colourway) (tray []TrayCard, gone []string) {
	tray = slices.Clone(p.Tray)
	keys := c.keys()
	for _, e := range c.Cards {
		if keys[e.Key] && !slices.ContainsFunc(p.Tray, func(t TrayCard) bool { return t.Key == e.Key }) {
			t := p.cardAsKept(e)
			tray, gone = append(tray, t), append(gone, t.Name)
		}
	}
	return tray, gone
}

// fillFrom is for each part of a piece the index of its card in a tray, −1 for none.
func fillFrom(pc *Piece, tray []TrayCard, fills map[string]int) (out []int) {
	for _, part := range pc.Parts {
		key, given := fills[part.Key]
		if base, kind := piece.SplitOff(part.Key); !given && kind != "" { // it was split off since
			key = fills[base]
		}
		out = append(out, slices.IndexFunc(tray, func(t TrayCard) bool { return t.Key == key }))
	}
	return out
}

// SetColourway is a colourway of the whole set as its pieces show it.
type SetColourway struct {
	Colourway
	Tray   []TrayCard // the plan's, and after it what was set aside since
	Gone   []string
	Fill   [][]int // for each piece, for each of its parts, the index of its card in Tray, −1 for none
	Now    bool
	Layout balance.Layout // of Tray's cards over all pieces
}

// TrayOn is the colourway's tray as one of the pieces has it, each card in the kinds of that piece.
func (v SetColourway) TrayOn(w Whole) []TrayCard {
	out := slices.Clone(v.Tray)
	copy(out, w.Plan.Tray)
	return out
}

// SetColourways are the colourways of the whole set over some of its pieces, the favourite first.
func (p *Plan) SetColourways(pieces []Whole) (out []SetColourway) {
	for _, c := range p.Colourways {
		if c.Whole == nil {
			continue
		}
		v := SetColourway{Colourway: c, Now: true}
		v.Tray, v.Gone = p.trayOf(c)
		for _, w := range pieces {
			v.Fill = append(v.Fill, fillFrom(w.Plan.Piece, v.Tray, c.Whole[w.Key]))
			now := map[string]int{}
			for _, f := range w.Plan.Fills {
				now[f.Part] = f.EntryKey
			}
			v.Now = v.Now && maps.Equal(now, c.Whole[w.Key])
		}
		v.Layout = Over(pieces, v.Fill, len(v.Tray))
		out = append(out, v)
	}
	slices.SortStableFunc(out, func(a, b SetColourway) int { return byFavour(a.Colourway, b.Colourway) })
	return out
}

// Colourway is one way of colouring the plan's piece, kept beside others.
type Colourway struct {
	Key       int            `json:"key"`
	Name      string         `json:"name"` // customer, age or season
	Remark    string         `json:"remark"`
	Favourite bool           `json:"favourite"`
	Fills     map[string]int `json:"fills"`           // part to the key of its card
	Piece     int            `json:"piece,omitempty"` // of the set, by its key; 0 for the only one
	Cards     []Entry        `json:"cards,omitempty"` // its cards as they were when it was kept, by which none is lost

	For    string `json:"for,omitempty"` // the customer
	Season string `json:"season,omitempty"`
	Mood   string `json:"mood,omitempty"`

	// Whole are the fills of each piece, by its key, of a colourway of the whole set; nil for one of
	// a single piece.
	Whole map[int]map[string]int `json:"whole,omitempty"`
}

// keys are the cards that the colourway puts on parts.
func (c Colourway) keys() map[int]bool {
	out := map[int]bool{}
	for _, key := range c.Fills {
		out[key] = true
	}
	for _, fills := range c.Whole {
		for _, key := range fills {
			out[key] = true
		}
	}
	return out
}

// KeepColourway keeps a colouring of a piece, by its key, as a colourway with the cards as they are
// now; fresh is false for one that is kept already.
func (d *Draft) KeepColourway(piece int, name string, fills map[string]int) (fresh bool, err error) {
	c, kept := Colourway{Key: 1, Fills: fills, Piece: piece}, 0
	for _, o := range d.Plan.Colourways {
		if o.Piece == piece && o.Whole == nil {
			if kept++; maps.Equal(o.Fills, fills) {
				return false, nil
			}
		}
		c.Key = max(c.Key, o.Key+1)
	}
	if kept >= MaxColourways {
		return false, words.Refuse("You have %d colourways, the most a plan can hold. Remove one first.", MaxColourways)
	}
	if c.Name = strings.Join(strings.Fields(name), " "); c.Name == "" {
		c.Name = fmt.Sprintf("Colourway %d", c.Key)
	}
	if utf8.RuneCountInString(c.Name) > material.MaxName {
		return false, words.Refuse("The colourway's name is longer than %d characters: shorten it.", material.MaxName)
	}
	d.freeze(&c, 0)
	d.Plan.Colourways = append(d.Plan.Colourways, c)
	return true, nil
}

// KeepSet keeps a colouring of the whole set, the fills of each piece by its key, as a colourway.
func (d *Draft) KeepSet(name string, whole map[int]map[string]int) error {
	d.list()
	c, kept := Colourway{Key: 1, Whole: whole}, 0
	for _, o := range d.Plan.Colourways {
		if o.Whole != nil {
			if kept++; maps.EqualFunc(o.Whole, whole, maps.Equal) {
				return words.Refuse("This is saved already, as %s.", o.Name)
			}
		}
		c.Key = max(c.Key, o.Key+1)
	}
	if kept >= MaxColourways {
		return words.Refuse("You have %d colourways of the set, the most a plan can hold. Remove one first.", MaxColourways)
	}
	if c.Name = strings.Join(strings.Fields(name), " "); c.Name == "" {
		c.Name = fmt.Sprintf("Colourway %d of the set", c.Key)
	}
	d.freeze(&c, 0)
	d.Plan.Colourways = append(d.Plan.Colourways, c)
	return nil
}

// freeze keeps the cards of a colourway with it as they are now: all, or the one of a key where it
// is not kept yet.
func (d *Draft) freeze(c *Colourway, only int) {
	keys := c.keys()
	for _, e := range d.Plan.Entries {
		if only > 0 && e.Key != only || !keys[e.Key] || slices.ContainsFunc(c.Cards, func(o Entry) bool { return o.Key == e.Key }) {
			continue
		}
		if card, err := CardOf(d.Shelf, e); err == nil {
			e.Name, e.L, e.A, e.B = card.Name, card.Colour.L, card.Colour.A, card.Colour.B
		}
		c.Cards = append(c.Cards, e)
	}
}

// Thaw puts the cards of a colourway that are no longer in the tray back into it.
func (d *Draft) Thaw(c Colourway) error {
	keys := c.keys()
	for _, e := range c.Cards {
		if slices.ContainsFunc(d.Plan.Entries, func(o Entry) bool { return o.Key == e.Key }) || !keys[e.Key] {
			continue
		}
		if len(d.Plan.Entries) >= MaxTray {
			return words.Refuse("The tray holds %d cards, the most it can, and the colourway needs %s. Set one aside first.", MaxTray, e.Name)
		}
		if id := e.MaterialID; id != nil {
			if m, err := d.Shelf.Card(*id); err != nil || m.Removed {
				e.MaterialID = nil // it is a colour by itself now
			} else {
				e.Name, e.L, e.A, e.B = "", 0, 0, 0
				d.Plan.backFromAside(*id)
			}
		}
		d.Plan.Entries = append(d.Plan.Entries, e)
	}
	return nil
}

func (k *Kept) Refer(f func(uint) (uint, bool)) {
	for i := range k.Colourways {
		for j := range k.Colourways[i].Cards {
			e := &k.Colourways[i].Cards[j]
			if e.MaterialID == nil {
				continue
			}
			if id, ok := f(*e.MaterialID); ok {
				e.MaterialID = &id
			} else {
				e.MaterialID = nil
			}
		}
	}
}
