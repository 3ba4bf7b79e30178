package studio

import (
	"cmp"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"sort"
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

	places [wheels]float64 // on each wheel; meaningless when Neutral
	lean   colour.FamilyName
	search string
	token  string                 // of a free colour in a hand, else empty
	films  func() []material.Band // of a translucent material: one to three layers over paper
	row    store.Material
}

// wheels is how many wheels there are.
const wheels = 3

// Place is where the card lies on a wheel, 0 up to 12; meaningless when it is
// neutral.
func (c *Card) Place(w wheel.Wheel) float64 { return c.places[w.Number()] }

// Shelf is every material at one moment. It is shared and must not be changed.
type Shelf struct {
	Cards   []*Card // on the shelf, in filing order
	version int64
	read    int64          // when, in nanoseconds, so that shelves of two data folders differ
	byID    map[uint]*Card // removed ones too
	fronds  [wheels]func() [wheel.Places]Frond
	round   [wheels]func() []*Card // cards with a hue, clockwise round each wheel
	index   func() *colour.Index   // of Cards
	counts  func() map[filed]int
}

// filed is where cards are filed: by family, kind and value.
type filed struct {
	family colour.FamilyName
	kind   string
	band   int
}

// Shelf returns the shelf as it is now.
func (s *Studio) Shelf(ctx context.Context) (*Shelf, error) {
	sh, err := s.shelfWithin(s.store.Read(ctx))
	if err != nil {
		return nil, fmt.Errorf("reading the shelf: %w", err)
	}
	s.mu.Lock()
	s.shelf = sh
	s.mu.Unlock()
	return sh, nil
}

func newShelf(version int64, rows []store.Material) *Shelf {
	sh := &Shelf{version: version, read: time.Now().UnixNano(), byID: make(map[uint]*Card, len(rows))}
	filing := map[colour.FamilyName]int{}
	for i, f := range colour.Families() {
		filing[f] = i
	}
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
	sh.counts = sync.OnceValue(func() map[filed]int {
		counts := map[filed]int{}
		for _, c := range sh.Cards {
			counts[filed{c.Family, c.Kind, band(c.Colour.L)}]++
		}
		return counts
	})
	for _, r := range rows {
		c := newCard(r)
		sh.byID[c.ID] = c
		if !c.Removed {
			sh.Cards = append(sh.Cards, c)
		}
	}
	sort.SliceStable(sh.Cards, func(i, j int) bool {
		a, b := sh.Cards[i], sh.Cards[j]
		if a.Family != b.Family {
			return filing[a.Family] < filing[b.Family]
		}
		return a.Colour.L < b.Colour.L
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
	if !c.Neutral {
		hue := lab.OKLCh()
		for i, w := range wheel.Wheels() {
			c.places[i] = w.Place(hue)
		}
	}
	if c.Finish == "translucent" {
		c.films = sync.OnceValue(func() []material.Band { return films(lab) })
	}
	lots := make([]string, 0, 2*len(r.Lots))
	for _, l := range r.Lots {
		lots = append(lots, l.Name, l.Place)
	}
	c.search = strings.ToLower(strings.Join(lots, "\n") + "\n" + strings.Join([]string{r.Name, r.Kind, r.Reference, r.Supplier, r.Lot, r.Finish, string(c.Family), r.Remark}, "\n"))
	return c
}

// filmsShown is how many layers a translucent card shows side by side.
const filmsShown = 3

// films are one, two and three layers of a see-through material over white paper.
func films(c colour.Lab) []material.Band {
	const paper = 0.9
	one, _ := c.RGB()
	bands := []material.Band{{Colour: c, Share: 1.0 / filmsShown}}
	for n := 2; n <= filmsShown; n++ {
		bands = append(bands, material.Band{Colour: colour.Film(one, n, paper).Lab(colour.D65), Share: 1.0 / filmsShown})
	}
	return bands
}

// Face is what a card shows side by side: a translucent material as layers over
// paper, anything else its colour with its flash or its print colours.
func (c *Card) Face() []material.Band {
	if c.films != nil {
		return c.films()
	}
	return c.Bands()
}

// Key names the shelf as it is: two shelves with one key are the same.
func (sh *Shelf) Key() string { return fmt.Sprintf("%d-%d", sh.version, sh.read) }

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
	if c, ok := sh.byID[id]; ok {
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
	Text      string // every word must be found in the record
	Family    string
	Kind      string
	Value     string // one of BandNames
	Clearness string // clear, soft or greyed
	Finish    string
	Lean      string // a plain hue that the colour turns toward in its family
	Current   bool   // leave discontinued lines out
	InStock   bool   // only what is on hand
	Sort      string // one of Sorts; filing order when empty
	Near      uint   // with Sort "near": the card to be near to
}

// Sorts are the orders a shelf can be shown in, beside filing order.
func Sorts() []string { return []string{"hue", "value", "clearness", "near"} }

// Find returns the cards that answer the query, in its order, and how many of
// each family answer the rest of it.
func (sh *Shelf) Find(q Query) (found []*Card, families map[colour.FamilyName]int) {
	words := strings.Fields(strings.ToLower(q.Text))
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

func (q Query) takes(c *Card, words []string) bool {
	switch {
	case q.Kind != "" && c.Kind != q.Kind,
		q.Finish != "" && c.Finish != q.Finish,
		q.Value != "" && BandNames[band(c.Colour.L)] != q.Value,
		q.Clearness != "" && (c.Neutral || colour.ClearnessWord(c.Clearness) != q.Clearness),
		q.Lean != "" && string(c.lean) != q.Lean,
		q.Current && c.Discontinued,
		q.InStock && c.OnHand() <= 0:
		return false
	}
	for _, w := range words {
		if !strings.Contains(c.search, w) {
			return false
		}
	}
	return true
}

func (sh *Shelf) order(cards []*Card, q Query) {
	by := func(key func(*Card) float64) {
		slices.SortStableFunc(cards, func(a, b *Card) int { return cmp.Compare(key(a), key(b)) })
	}
	switch q.Sort {
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
		to, err := sh.Card(q.Near)
		if err != nil {
			return
		}
		apart := make(map[*Card]float64, len(cards))
		for _, c := range cards {
			apart[c] = colour.DeltaE2000(to.Colour, c.Colour)
		}
		by(func(c *Card) float64 { return apart[c] })
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

// SaveMaterial adds a material (id 0) or writes over one that was read at the
// given revision. Troubles of the fields come as material.Problems.
func (s *Studio) SaveMaterial(ctx context.Context, id uint, revision int64, m material.Material) (uint, error) {
	if p := m.Tidy(); p != nil {
		return 0, p
	}
	rows := make([]store.Material, 1)
	err := s.changeShelf(ctx, nil, func(_ store.Tx, sh *Shelf) (string, []store.Material, error) {
		label := "add " + m.Name
		rows[0] = store.Material{}
		if id != 0 {
			c, err := sh.Card(id)
			if err != nil {
				return "", nil, err
			}
			if c.Revision != revision {
				return "", nil, ErrConflict
			}
			rows[0], label = c.row, "change "+c.Name
		}
		toStore(&rows[0], m)
		rows[0].Removed = false
		return label, rows, nil
	})
	if errors.Is(err, store.ErrTaken) {
		return 0, material.Problems{"name": fmt.Sprintf("%q is on the shelf already: choose another name.", m.Name)}
	}
	return rows[0].ID, err
}

// TakeOff takes a material off the shelf; plans that use it keep it.
func (s *Studio) TakeOff(ctx context.Context, id uint) error {
	return s.changeShelf(ctx, nil, func(_ store.Tx, sh *Shelf) (string, []store.Material, error) {
		c, err := sh.Card(id)
		if err != nil {
			return "", nil, err
		}
		row := c.row
		row.Removed = true
		return "take " + c.Name + " off the shelf", []store.Material{row}, nil
	})
}

// writtenAtOnce is how many materials are written between two looks at whether
// the maker still wants them.
const writtenAtOnce = 250

// changeShelf writes rows, whose IDs it fills in, as one undoable step. watch,
// when given, is told how many of them are written.
func (s *Studio) changeShelf(ctx context.Context, watch func(done, of int), change func(store.Tx, *Shelf) (label string, rows []store.Material, err error)) error {
	return s.store.Write(ctx, func(tx store.Tx) error {
		sh, err := s.shelfWithin(tx)
		if err != nil {
			return err
		}
		label, rows, err := change(tx, sh)
		if err != nil {
			return err
		}
		before := make([]store.Material, len(rows))
		for i, r := range rows {
			before[i] = r
			if c, known := sh.byID[r.ID]; known {
				before[i] = c.row
			} else {
				before[i].Removed = true // undoing an addition takes it off
			}
		}
		done := 0
		for part := range slices.Chunk(rows, writtenAtOnce) {
			if err := tx.PutMaterials(part); err != nil {
				return err
			}
			if done += len(part); watch != nil {
				watch(done, len(rows))
			}
		}
		for i := range rows {
			before[i].ID = rows[i].ID
		}
		return journal(tx, shelfScope, label, before, rows)
	})
}

// StepShelf undoes or redoes the last change of the shelf and says which.
func (s *Studio) StepShelf(ctx context.Context, undo bool) (label string, err error) {
	label, err = s.stepBack(ctx, shelfScope, undo, func(tx store.Tx, state []byte) error {
		var rows []store.Material
		if err := json.Unmarshal(state, &rows); err != nil {
			return fmt.Errorf("reading a kept state of the shelf: %w", err)
		}
		now, err := tx.Materials()
		if err != nil {
			return err
		}
		revisions := map[uint]int64{}
		for _, m := range now {
			revisions[m.ID] = m.Revision
		}
		for i := range rows {
			rows[i].Revision = revisions[rows[i].ID]
		}
		return tx.PutMaterials(rows)
	})
	if errors.Is(err, store.ErrTaken) {
		return "", refuse("%q cannot be brought back: another material has taken the name. Rename that one first.", label)
	}
	return label, err
}

// ShelfSteps says what undo and redo would do on the shelf, empty when nothing.
func (s *Studio) ShelfSteps(ctx context.Context) (undo, redo string, err error) {
	return s.store.Read(ctx).Labels(shelfScope)
}
