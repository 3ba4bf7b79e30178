package wheel

import (
	"fmt"
	"slices"
	"strings"
	"unicode/utf8"

	"lampfern/core/colour"
	"lampfern/core/wheel"
	"lampfern/core/words"
	"lampfern/plan"
	"lampfern/shelf"
)

// Bounds of the page of combinations.
const (
	MaxCombinations = 120
	oneHue          = 3 // cards kept of a scheme of one hue
)

// CombinationView is one combination that was tried.
type CombinationView struct {
	Combination
	Cards []*shelf.Card // as they are now, or as they were when the material is gone
	Size  string        // "trio", "quartet"…
}

// sizes name how many cards a combination has.
var sizes = []string{"nothing", "solo", "duo", "trio", "quartet", "quintet", "sextet", "septet", "octet"}

// Tried lists the plan's combinations, the first kept first.
func Tried(p *plan.Plan) []CombinationView {
	var out []CombinationView
	for _, c := range Of(p).Combinations {
		v := CombinationView{Combination: c, Size: fmt.Sprintf("set of %d", len(c.Cards))}
		if n := len(c.Cards); n < len(sizes) {
			v.Size = sizes[n]
		}
		for _, k := range c.Cards {
			v.Cards = append(v.Cards, tried(p.Shelf, k))
		}
		out = append(out, v)
	}
	return out
}

// tried is a combination's card: the material, when the shelf still has it with
// that colour, else what was kept of it.
func tried(sh *shelf.Shelf, k CombinationCard) *shelf.Card {
	if k.MaterialID != nil {
		if c, err := sh.Card(*k.MaterialID); err == nil && !c.Removed && c.Colour == (colour.Lab{L: k.L, A: k.A, B: k.B}) {
			return c
		}
	}
	return shelf.FreeCard(k.Name, colour.Lab{L: k.L, A: k.A, B: k.B})
}

// KeepScheme keeps the lit scheme as a combination: of each place the tray's
// card that lies there, else the shelf's best match, else the clear middle of
// its hue.
type KeepScheme struct{}

func (KeepScheme) Do(d *plan.Draft) (string, error) {
	p, v, err := view(d)
	if err != nil {
		return "", err
	}
	var cards []*shelf.Card
	for _, pl := range v.Lit {
		if pl.Off {
			continue
		}
		cards = append(cards, bestOf(p, pl, v.Wheel, cards))
		for i := 1; len(v.Lit) == 1 && i < oneHue; i++ { // its tints, tones and shades
			cards = append(cards, bestOf(p, pl, v.Wheel, cards))
		}
	}
	if Of(p).Scheme != "" && len(v.Lit) == 0 { // achromatic
		for _, t := range p.InScheme() {
			if t.Neutral {
				cards = append(cards, t.Card)
			}
		}
	}
	if len(cards) == 0 {
		return "", words.Refuse("Choose a scheme first.")
	}
	return keepCombination(d, Of(p).Scheme, cards)
}

// bestOf is the card that stands for a place, other than those taken.
func bestOf(p *plan.Plan, pl PlaceView, w wheel.Wheel, taken []*shelf.Card) *shelf.Card {
	var best *shelf.Card
	least := shelf.MatchWithin
	for _, t := range p.InScheme() {
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
	const middle = shelf.ValueSteps / 2
	for _, band := range []int{middle, middle + 1, middle - 1} {
		c := shelf.FreeCard(shelf.IdealName(pl.Name, band, true), pl.Ideals[2*band+1].Ideal)
		if !slices.ContainsFunc(taken, func(o *shelf.Card) bool { return o.Colour == c.Colour }) {
			return c
		}
	}
	return shelf.FreeCard(shelf.IdealName(pl.Name, middle, false), pl.Ideals[2*middle].Ideal)
}

// KeepTray keeps the tray's cards as a combination, under the scheme they make.
type KeepTray struct{}

func (KeepTray) Do(d *plan.Draft) (string, error) {
	p, v, err := view(d)
	if err != nil {
		return "", err
	}
	if len(p.Tray) == 0 {
		return "", words.Refuse("The tray is empty. Add cards first.")
	}
	var cards []*shelf.Card
	for _, t := range p.InScheme() {
		cards = append(cards, t.Card)
	}
	return keepCombination(d, v.Made.Scheme, cards)
}

func keepCombination(d *plan.Draft, scheme string, cards []*shelf.Card) (string, error) {
	c := Combination{Key: 1, Scheme: scheme}
	for _, k := range cards {
		card := CombinationCard{Name: k.Name, L: k.Colour.L, A: k.Colour.A, B: k.Colour.B}
		if k.ID != 0 {
			id := k.ID
			card.MaterialID = &id
		}
		c.Cards = append(c.Cards, card)
	}
	for _, o := range Of(d.Plan).Combinations {
		if sameCards(o.Cards, c.Cards) {
			return "", words.Refuse("This palette is saved already.")
		}
		c.Key = max(c.Key, o.Key+1)
	}
	if len(Of(d.Plan).Combinations) >= MaxCombinations {
		return "", words.Refuse("You have saved %d palettes, the most a plan can hold. Delete one first.", MaxCombinations)
	}
	Of(d.Plan).Combinations = append(Of(d.Plan).Combinations, c)
	return fmt.Sprintf("save a palette of %d", len(cards)), nil
}

func sameCards(a, b []CombinationCard) bool {
	return slices.EqualFunc(a, b, func(x, y CombinationCard) bool {
		return x.Name == y.Name && x.L == y.L && x.A == y.A && x.B == y.B
	})
}

func combination(d *plan.Draft, key int) (int, error) {
	i := slices.IndexFunc(Of(d.Plan).Combinations, func(c Combination) bool { return c.Key == key })
	if i < 0 {
		return 0, words.Refuse("That palette was deleted.")
	}
	return i, nil
}

// RemarkCombination writes the maker's remark on a combination.
type RemarkCombination struct {
	Key    int    `form:"key"`
	Remark string `form:"remark"`
}

func (e RemarkCombination) Do(d *plan.Draft) (string, error) {
	i, err := combination(d, e.Key)
	if err != nil {
		return "", err
	}
	e.Remark = strings.Join(strings.Fields(e.Remark), " ")
	if utf8.RuneCountInString(e.Remark) > plan.MaxRemark {
		return "", words.Refuse("The note is longer than %d characters: shorten it.", plan.MaxRemark)
	}
	Of(d.Plan).Combinations[i].Remark = e.Remark
	return "note on a palette", nil
}

// DropCombination takes a combination off the page.
type DropCombination struct {
	Key int `form:"key"`
}

func (e DropCombination) Do(d *plan.Draft) (string, error) {
	i, err := combination(d, e.Key)
	if err != nil {
		return "", err
	}
	Of(d.Plan).Combinations = slices.Delete(Of(d.Plan).Combinations, i, i+1)
	return "delete a palette", nil
}

// TakeCombination puts a combination's cards into the tray, beside what lies
// there; materials that are gone come as free colours.
type TakeCombination struct {
	Key int `form:"key"`
}

func (e TakeCombination) Do(d *plan.Draft) (string, error) {
	i, err := combination(d, e.Key)
	if err != nil {
		return "", err
	}
	for _, k := range Of(d.Plan).Combinations[i].Cards {
		if err := d.Take(tried(d.Shelf, k)); err != nil {
			return "", err
		}
	}
	return "use a saved palette", nil
}
