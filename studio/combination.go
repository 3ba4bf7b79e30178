package studio

import (
	"fmt"
	"slices"
	"strings"
	"unicode/utf8"

	"lampfern/core/colour"
	"lampfern/core/wheel"
	"lampfern/store"
)

// Bounds of the page of combinations.
const (
	MaxCombinations = 120
	maxRemark       = 160 // characters
	oneHue          = 3   // cards kept of a scheme of one hue
)

// CombinationView is one combination that was tried.
type CombinationView struct {
	store.Combination
	Cards []*Card // as they are now, or as they were when the material is gone
	Size  string  // "trio", "quartet"…
}

// sizes name how many cards a combination has.
var sizes = []string{"nothing", "solo", "duo", "trio", "quartet", "quintet", "sextet", "septet", "octet"}

// Tried lists the plan's combinations, the first kept first.
func (p *Plan) Tried() []CombinationView {
	var out []CombinationView
	for _, c := range p.Combinations {
		v := CombinationView{Combination: c, Size: fmt.Sprintf("set of %d", len(c.Cards))}
		if n := len(c.Cards); n < len(sizes) {
			v.Size = sizes[n]
		}
		for _, k := range c.Cards {
			v.Cards = append(v.Cards, p.Shelf.tried(k))
		}
		out = append(out, v)
	}
	return out
}

// tried is a combination's card: the material, when the shelf still has it with
// that colour, else what was kept of it.
func (sh *Shelf) tried(k store.CombinationCard) *Card {
	if k.MaterialID != nil {
		if c, err := sh.Card(*k.MaterialID); err == nil && !c.Removed && c.Colour == (colour.Lab{L: k.L, A: k.A, B: k.B}) {
			return c
		}
	}
	return freeCard(k.Name, colour.Lab{L: k.L, A: k.A, B: k.B})
}

// KeepScheme keeps the lit scheme as a combination: of each place the tray's
// card that lies there, else the shelf's best match, else the clear middle of
// its hue.
func KeepScheme() Edit {
	return func(d *draft) (string, error) {
		p, v, err := d.view()
		if err != nil {
			return "", err
		}
		var cards []*Card
		for _, pl := range v.Lit {
			if pl.Off {
				continue
			}
			cards = append(cards, p.bestOf(pl, v.Wheel, cards))
			for i := 1; len(v.Lit) == 1 && i < oneHue; i++ { // its tints, tones and shades
				cards = append(cards, p.bestOf(pl, v.Wheel, cards))
			}
		}
		if p.Scheme != "" && len(v.Lit) == 0 { // achromatic
			for _, t := range p.Tray {
				if t.Neutral {
					cards = append(cards, t.Card)
				}
			}
		}
		if len(cards) == 0 {
			return "", refuse("No place is lit: light a scheme first.")
		}
		return d.keepCombination(p.Scheme, cards)
	}
}

// bestOf is the card that stands for a place, other than those taken.
func (p *Plan) bestOf(pl PlaceView, w wheel.Wheel, taken []*Card) *Card {
	var best *Card
	least := matchWithin
	for _, t := range p.Tray {
		if t.Neutral || slices.Contains(taken, t.Card) {
			continue
		}
		if d := wheel.Apart(t.Place(w), pl.Place); d <= least {
			best, least = t.Card, d
		}
	}
	if best != nil {
		return best
	}
	for _, c := range pl.Matches {
		if p.Outside(c) == "" && !slices.Contains(taken, c) {
			return c
		}
	}
	const middle = Bands / 2
	for _, band := range []int{middle, middle + 1, middle - 1} {
		c := freeCard(IdealName(pl.Name, band, true), pl.Ideals[2*band+1].Ideal)
		if !slices.ContainsFunc(taken, func(o *Card) bool { return o.Colour == c.Colour }) {
			return c
		}
	}
	return freeCard(IdealName(pl.Name, middle, false), pl.Ideals[2*middle].Ideal)
}

// KeepTray keeps the tray's cards as a combination, under the scheme they make.
func KeepTray() Edit {
	return func(d *draft) (string, error) {
		p, v, err := d.view()
		if err != nil {
			return "", err
		}
		if len(p.Tray) == 0 {
			return "", refuse("The tray is empty: pull cards first.")
		}
		var cards []*Card
		for _, t := range p.Tray {
			cards = append(cards, t.Card)
		}
		return d.keepCombination(v.Made.Scheme, cards)
	}
}

func (d *draft) keepCombination(scheme string, cards []*Card) (string, error) {
	c := store.Combination{Key: 1, Scheme: scheme}
	for _, k := range cards {
		card := store.CombinationCard{Name: k.Name, L: k.Colour.L, A: k.Colour.A, B: k.Colour.B}
		if k.ID != 0 {
			id := k.ID
			card.MaterialID = &id
		}
		c.Cards = append(c.Cards, card)
	}
	for _, o := range d.plan.Combinations {
		if sameCards(o.Cards, c.Cards) {
			return "", refuse("These cards are on the page of combinations already.")
		}
		c.Key = max(c.Key, o.Key+1)
	}
	if len(d.plan.Combinations) >= MaxCombinations {
		return "", refuse("The page holds %d combinations and is full: take one away first.", MaxCombinations)
	}
	d.plan.Combinations = append(d.plan.Combinations, c)
	return fmt.Sprintf("keep a combination of %d", len(cards)), nil
}

func sameCards(a, b []store.CombinationCard) bool {
	return slices.EqualFunc(a, b, func(x, y store.CombinationCard) bool {
		return x.Name == y.Name && x.L == y.L && x.A == y.A && x.B == y.B
	})
}

func (d *draft) combination(key int) (int, error) {
	i := slices.IndexFunc(d.plan.Combinations, func(c store.Combination) bool { return c.Key == key })
	if i < 0 {
		return 0, refuse("That combination is no longer on the page.")
	}
	return i, nil
}

// RemarkCombination writes the maker's remark on a combination.
func RemarkCombination(key int, remark string) Edit {
	return func(d *draft) (string, error) {
		i, err := d.combination(key)
		if err != nil {
			return "", err
		}
		remark = strings.Join(strings.Fields(remark), " ")
		if utf8.RuneCountInString(remark) > maxRemark {
			return "", refuse("The remark is longer than %d characters: shorten it.", maxRemark)
		}
		d.plan.Combinations[i].Remark = remark
		return "remark on a combination", nil
	}
}

// DropCombination takes a combination off the page.
func DropCombination(key int) Edit {
	return func(d *draft) (string, error) {
		i, err := d.combination(key)
		if err != nil {
			return "", err
		}
		d.plan.Combinations = slices.Delete(d.plan.Combinations, i, i+1)
		return "take a combination away", nil
	}
}

// TakeCombination puts a combination's cards into the tray, beside what lies
// there; materials that are gone come as free colours.
func TakeCombination(key int) Edit {
	return func(d *draft) (string, error) {
		i, err := d.combination(key)
		if err != nil {
			return "", err
		}
		for _, k := range d.plan.Combinations[i].Cards {
			if err := d.take(d.shelf.tried(k)); err != nil {
				return "", err
			}
		}
		return "take a combination into the tray", nil
	}
}

// take puts a card into the tray unless it lies there already.
func (d *draft) take(c *Card) error {
	if c.ID != 0 {
		if d.holds(c.ID) {
			return nil
		}
		id := c.ID
		return d.add(store.Entry{MaterialID: &id})
	}
	e := freeEntry(c.Name, c.Colour)
	if slices.ContainsFunc(d.plan.Entries, func(o store.Entry) bool {
		return o.MaterialID == nil && o.Name == e.Name && o.L == e.L && o.A == e.A && o.B == e.B
	}) {
		return nil
	}
	return d.add(e)
}
