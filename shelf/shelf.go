package shelf

import (
	"cmp"
	"fmt"
	"slices"
	"strings"
	"sync"
	"time"

	"lampfern/core/colour"
	"lampfern/core/material"
	"lampfern/core/wheel"
	"lampfern/store"
)

const shelfScope = "shelf"

// Card is a material as the studio works with it: its record and what the core
// says of its colour.
type Card struct {
	material.Material
	ID        uint
	Revision  int64
	Removed   bool
	Family    colour.FamilyName
	Neutral   bool
	Clearness float64

	places [Wheels]float64 // on each wheel; meaningless when Neutral
	lean   colour.FamilyName
	filed  int // place of its family in filing order
	search string
	Token  string                    // of a free colour in a hand, else empty
	Recipe string                    // of a free colour that is mixed, else empty
	films  func() []material.Portion // of a translucent material: one to three layers over paper
	row    store.Material
}

// Wheels is how many wheels there are.
const Wheels = 3

// Place is where the card lies on a wheel, 0 up to 12; meaningless when it is
// neutral.
func (c *Card) Place(w wheel.Wheel) float64 { return c.places[w.Number()] }

// Shelf is every material at one moment. It is shared and must not be changed.
type Shelf struct {
	Cards   []*Card // on the shelf, in filing order
	version int64
	read    int64   // when, in nanoseconds, so that shelves of two data folders differ
	part    string  // the kinds of which it is a part of a shelf; empty for a whole one
	byID    []*Card // by their number, removed ones too; nil for none
	fronds  [Wheels]func() [wheel.Places]Frond
	round   [Wheels]func() []*Card // cards with a hue, clockwise round each wheel
	index   func() *colour.Index   // of Cards
	prints  func() []*Card         // those of Cards that are prints
	Counts  func() map[filed]int
	Spectra func() colour.Spectra // of the cards that were measured with one
}

// filed is where cards are filed: by family, kind and value.
type filed struct {
	Family colour.FamilyName
	Kind   string
	Step   int
}

func newShelf(version int64, rows []store.Material) *Shelf {
	sh := emptyShelf(version)
	for _, r := range rows {
		c := newCard(r)
		sh.put(c)
		if !c.Removed {
			sh.Cards = append(sh.Cards, c)
		}
	}
	slices.SortStableFunc(sh.Cards, filing)
	return sh
}

// with is the shelf after rows of it were written, which makes it of another
// version. Cards of rows that were not written stay the same.
func (sh *Shelf) with(version int64, rows []store.Material) *Shelf {
	next := emptyShelf(version)
	next.byID = slices.Clone(sh.byID)
	fresh := make(map[uint]*Card, len(rows))
	var added []*Card
	for _, r := range rows {
		c := newCard(r)
		next.put(c)
		fresh[c.ID] = c
		if !c.Removed {
			added = append(added, c)
		}
	}
	slices.SortStableFunc(added, filing)
	next.Cards = make([]*Card, 0, len(sh.Cards)+len(added))
	for _, c := range sh.Cards {
		if fresh[c.ID] != nil {
			continue
		}
		for len(added) > 0 && filing(added[0], c) < 0 {
			next.Cards, added = append(next.Cards, added[0]), added[1:]
		}
		next.Cards = append(next.Cards, c)
	}
	next.Cards = append(next.Cards, added...)
	return next
}

// filing orders cards by family and value; cards alike in both by age.
func filing(a, b *Card) int {
	return cmp.Or(cmp.Compare(a.filed, b.filed), cmp.Compare(a.Colour.L, b.Colour.L), cmp.Compare(a.ID, b.ID))
}

// put notes a card by its number.
func (sh *Shelf) put(c *Card) {
	for uint(len(sh.byID)) <= c.ID {
		sh.byID = append(sh.byID, nil)
	}
	sh.byID[c.ID] = c
}

func (sh *Shelf) known(id uint) *Card {
	if id >= uint(len(sh.byID)) {
		return nil
	}
	return sh.byID[id]
}

func emptyShelf(version int64) *Shelf {
	sh := &Shelf{version: version, read: time.Now().UnixNano()}
	for i, w := range wheel.Wheels() {
		sh.fronds[i] = sync.OnceValue(func() [wheel.Places]Frond { return sh.hang(w) })
		sh.round[i] = sync.OnceValue(func() []*Card { return sh.goRound(w) })
	}
	sh.index = sync.OnceValue(func() *colour.Index {
		labs := make([]colour.Lab, len(sh.Cards))
		for i, c := range sh.Cards {
			labs[i] = c.Colour
		}
		return colour.NewIndex(labs)
	})
	sh.prints = sync.OnceValue(func() (out []*Card) {
		for _, c := range sh.Cards {
			if c.Printed() != nil {
				out = append(out, c)
			}
		}
		return out
	})
	sh.Counts = sync.OnceValue(func() map[filed]int {
		counts := map[filed]int{}
		for _, c := range sh.Cards {
			counts[filed{c.Family, c.Kind, StepOf(c.Colour.L)}]++
		}
		return counts
	})
	sh.Spectra = sync.OnceValue(func() colour.Spectra {
		var out colour.Spectra
		for _, c := range sh.Cards {
			if c.Spectrum == (colour.Spectrum{}) {
				continue
			}
			if out == nil {
				out = colour.Spectra{}
			}
			out[c.Colour] = c.Spectrum
		}
		return out
	})
	return sh
}

func newCard(r store.Material) *Card {
	lab := colour.Lab{L: r.L, A: r.A, B: r.B}
	c := &Card{
		Material: fromStore(r),
		ID:       r.ID, Revision: r.Revision, Removed: r.Removed, row: r,
		Family: colour.Family(lab), Neutral: lab.Neutral(), Clearness: lab.Clearness(), lean: lab.Lean(),
	}
	c.filed = slices.Index(colour.Families(), c.Family)
	if !c.Neutral {
		hue := lab.OKLCh()
		for i, w := range wheel.Wheels() {
			c.places[i] = w.Place(hue)
		}
	}
	if c.Finish == "translucent" || len(c.measured()) > 1 {
		c.films = sync.OnceValue(c.inFilms)
	}
	lots := make([]string, 0, 2*len(r.Lots))
	for _, l := range r.Lots {
		lots = append(lots, l.Name, l.Place)
	}
	c.search = strings.ToLower(strings.Join(lots, "\n") + "\n" + strings.Join([]string{r.Name, r.Kind, r.Reference, r.Supplier, r.Lot,
		r.Finish, string(c.Family), r.Remark}, "\n"))
	return c
}

// filmsShown is how many layers a translucent card shows side by side.
const filmsShown = 3

// inFilms are one, two and three layers of a material side by side, as measured or reckoned;
// as many as were measured where that is more.
func (c *Card) inFilms() []material.Portion {
	n := max(filmsShown, len(c.measured()))
	if c.Finish != "translucent" {
		n = len(c.measured())
	}
	var portions []material.Portion
	for k := 1; k <= n; k++ {
		lab, _ := c.Layer(k)
		portions = append(portions, material.Portion{Colour: lab, Share: 1 / float64(n)})
	}
	return portions
}

// Face is what a card shows side by side: a material in layers as they were measured or, of
// a translucent one, reckoned over paper, anything else its colour with its flash or its print colours.
func (c *Card) Face() []material.Portion {
	if c.films != nil {
		return c.films()
	}
	return c.Portions()
}

// Key names the shelf as it is: two shelves with one key are the same.
func (sh *Shelf) Key() string { return fmt.Sprintf("%d-%d%s", sh.version, sh.read, sh.part) }

// Materials returns the records of what is on the shelf, in filing order.
func (sh *Shelf) Materials() []material.Material {
	all := make([]material.Material, len(sh.Cards))
	for i, c := range sh.Cards {
		all[i] = c.Material
	}
	return all
}

// Card returns one material, removed ones too.
func (sh *Shelf) Card(id uint) (*Card, error) {
	if c := sh.known(id); c != nil {
		return c, nil
	}
	return nil, ErrNotFound
}

// Named is the card of that name, capitals aside; nil when there is none.
func (sh *Shelf) Named(name string) *Card {
	name = strings.Join(strings.Fields(name), " ")
	for _, c := range sh.Cards {
		if strings.EqualFold(c.Name, name) {
			return c
		}
	}
	return nil
}

// Query narrows and orders the shelf. Empty fields take everything.
type Query struct {
	Text      string // every word must be found in the record; or a colour, to which the cards are then sorted
	Family    string
	Kind      string
	Value     string // one of StepNames
	Clearness string // clear, soft or greyed
	Finish    string
	Lean      string          // a plain hue that the colour turns toward in its family
	Current   bool            // leave discontinued lines out
	InStock   bool            // only what is on hand
	Sort      string          // one of Sorts; filing order when empty
	Near      uint            // with Sort "near": the card to be near to
	Said      map[uint]string // what else is said of materials by their number, in small letters, and found by
}

// Sorts are the orders a shelf can be shown in, beside filing order.
func Sorts() []string { return []string{"hue", "value", "clearness", "near"} }

// Find returns the cards that answer the query, in its order, and how many of
// each family answer the rest of it.
func (sh *Shelf) Find(q Query) (found []*Card, families map[colour.FamilyName]int) {
	words := q.words()
	families = map[colour.FamilyName]int{}
	for _, c := range sh.Cards {
		if !q.takes(c, words) {
			continue
		}
		families[c.Family]++
		if q.Family == "" || string(c.Family) == q.Family {
			found = append(found, c)
		}
	}
	sh.order(found, q)
	return found, families
}

// Wanted is the colour that the query's text is, such as #4b2346; six digits alone are a
// supplier's number.
func (q Query) Wanted() (colour.Lab, bool) {
	if !strings.ContainsAny(q.Text, "#(") {
		return colour.Lab{}, false
	}
	all, _, err := colour.ParseList(q.Text)
	if err != nil || len(all) != 1 || all[0].Name != "" {
		return colour.Lab{}, false
	}
	return all[0].RGB.Lab(), true
}

// words are those of the text in small letters; none of a colour.
func (q Query) words() []string {
	if _, is := q.Wanted(); is {
		return nil
	}
	return strings.Fields(strings.ToLower(q.Text))
}

// Keep returns what tells whether a card answers the query.
func (q Query) Keep() func(*Card) bool {
	words := q.words()
	return func(c *Card) bool {
		return (q.Family == "" || string(c.Family) == q.Family) && q.takes(c, words)
	}
}

// takes reports whether a card answers the query, but for its family.
func (q Query) takes(c *Card, words []string) bool {
	switch {
	case q.Kind != "" && c.Kind != q.Kind,
		q.Finish != "" && c.Finish != q.Finish,
		q.Value != "" && StepNames[StepOf(c.Colour.L)] != q.Value,
		q.Clearness != "" && (c.Neutral || colour.ClearnessWord(c.Clearness) != q.Clearness),
		q.Lean != "" && string(c.lean) != q.Lean,
		q.Current && c.Discontinued,
		q.InStock && c.OnHand() <= 0:
		return false
	}
	for _, w := range words {
		if !strings.Contains(c.search, w) && !strings.Contains(q.Said[c.ID], w) {
			return false
		}
	}
	return true
}

// rank is how well a card's name answers words: the whole name, its start, the start of its
// words, somewhere in it, or only elsewhere in the record.
func rank(c *Card, words []string) int {
	name, text := strings.ToLower(c.Name), strings.Join(words, " ")
	starts := func(w string) bool { return strings.Contains(" "+name, " "+w) }
	switch {
	case name == text:
		return 0
	case strings.HasPrefix(name, text):
		return 1
	case !slices.ContainsFunc(words, func(w string) bool { return !starts(w) }):
		return 2
	case !slices.ContainsFunc(words, func(w string) bool { return !strings.Contains(name, w) }):
		return 3
	}
	return 4
}

func (sh *Shelf) order(cards []*Card, q Query) {
	by := func(key func(*Card) float64) {
		slices.SortStableFunc(cards, func(a, b *Card) int { return cmp.Compare(key(a), key(b)) })
	}
	nearTo := func(to colour.Lab) {
		apart := make(map[*Card]float64, len(cards))
		for _, c := range cards {
			apart[c] = colour.DeltaE2000(to, c.Colour)
		}
		by(func(c *Card) float64 { return apart[c] })
	}
	switch q.Sort {
	case "":
		if to, is := q.Wanted(); is {
			nearTo(to)
		} else if words := q.words(); len(words) > 0 {
			ranks := make(map[*Card]float64, len(cards))
			for _, c := range cards {
				ranks[c] = float64(rank(c, words))
			}
			by(func(c *Card) float64 { return ranks[c] })
		}
	case "hue":
		by(func(c *Card) float64 {
			if c.Neutral {
				return wheel.Places // neutrals after every hue
			}
			return c.Place(wheel.Pigment)
		})
	case "value":
		by(func(c *Card) float64 { return c.Colour.L })
	case "clearness":
		by(func(c *Card) float64 { return -c.Clearness })
	case "near":
		if to, err := sh.Card(q.Near); err == nil {
			nearTo(to.Colour)
		}
	}
}

// Near is a card and its ΔE00 to what it was measured against.
type Near struct {
	*Card
	Apart float64
}

// Nearest returns the n cards nearest to a colour by CIEDE2000, leaving out
// the card with ID except.
func (sh *Shelf) Nearest(to colour.Lab, n int, except uint) []Near {
	return sh.NearestBut(to, n, map[uint]bool{except: true})
}

// NearestBut is Nearest without the cards of some ids.
func (sh *Shelf) NearestBut(to colour.Lab, n int, without map[uint]bool) []Near {
	var out []Near
	for _, h := range sh.index().Nearest(to, n, func(at int) bool { return without[sh.Cards[at].ID] }) {
		out = append(out, Near{sh.Cards[h.At], h.Apart})
	}
	return out
}
