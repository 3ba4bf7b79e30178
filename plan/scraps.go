package plan

import (
	"slices"
	"strings"

	"lampfern/core/colour"
	"lampfern/core/material"
	"lampfern/core/surface"
	"lampfern/core/words"
	"lampfern/shelf"
)

// MaxScraps is the most scraps on a plan's page.
const MaxScraps = 60

// TearScrap puts a colour taken from a photo onto the plan's scrap page.
type TearScrap struct {
	Photo *shelf.Photo
	Taken shelf.Taken
	Name  string
}

func (e TearScrap) Do(d *Draft) (string, error) {
	m := material.Material{Name: e.Name, Colour: e.Taken.Colour}
	if p := m.Tidy(); p != nil {
		return "", words.Refusal(p.Error())
	}
	if len(d.Plan.Scraps) >= MaxScraps {
		return "", words.Refuse("The scrap page holds %d scraps, the most it can. Delete one first.", MaxScraps)
	}
	key := 1
	for _, sc := range d.Plan.Scraps {
		key = max(key, sc.Key+1)
	}
	d.Plan.Scraps = append(d.Plan.Scraps, Scrap{Key: key, Name: m.Name, L: e.Taken.Colour.L, A: e.Taken.Colour.A, B: e.Taken.Colour.B,
		Uncertainty: e.Taken.Uncertainty,
		Photo:       &e.Photo.Hash, X: e.Taken.Box.X, Y: e.Taken.Box.Y, W: e.Taken.Box.W, H: e.Taken.Box.H})
	return "pick " + m.Name, nil
}

// TearPalette puts the colours of a whole photo onto the scrap page, each with its share.
type TearPalette struct {
	Photo  *shelf.Photo
	Colour []surface.Swatch
}

func (e TearPalette) Do(d *Draft) (string, error) {
	if room := MaxScraps - len(d.Plan.Scraps); len(e.Colour) > room {
		return "", words.Refuse("The photo has %d colours and the scrap page has room for %d. Delete some first.", len(e.Colour), room)
	}
	key := 1
	for _, sc := range d.Plan.Scraps {
		key = max(key, sc.Key+1)
	}
	scraps := slices.Clone(d.Plan.Scraps)
	for i, c := range e.Colour {
		name := shelf.FreeName(colour.PlainName(c.Colour), "again", func(n string) bool {
			return slices.ContainsFunc(scraps, func(s Scrap) bool { return strings.EqualFold(s.Name, n) })
		})
		scraps = append(scraps, Scrap{Key: key + i, Name: name, L: c.Colour.L, A: c.Colour.A, B: c.Colour.B, Uncertainty: photoDoubt,
			Amount: c.Share})
	}
	d.Plan.Scraps = scraps
	return "add the colours of " + e.Photo.Name + " to the scrap page", nil
}

// photoDoubt is how far a colour of a whole photo may be off, in ΔE00.
const photoDoubt = 8.0

// Amounts are the shares that the scrap page asks for, each of the tray's card that is
// nearest to it, 0 to 1 and 1 together; nil where it asks for none of two cards.
func (p *Plan) Amounts() []float64 {
	const near = 12.0 // ΔE00 within which a card stands for a scrap
	out := make([]float64, len(p.Tray))
	total, cards := 0.0, 0
	taken := map[int]bool{}
	for _, s := range p.Scraps {
		if s.Amount == 0 {
			continue
		}
		at, least := -1, near
		for i, t := range p.Tray {
			if de := colour.DeltaE2000(t.Colour, colour.Lab{L: s.L, A: s.A, B: s.B}); de < least && !taken[i] {
				at, least = i, de
			}
		}
		if at >= 0 {
			out[at], taken[at] = s.Amount, true
			total += s.Amount
			cards++
		}
	}
	if cards < 2 {
		return nil
	}
	for i := range out {
		out[i] /= total
	}
	return out
}

// Scrap is a colour torn from a photo, with the maker's name on it. X, Y, W and
// H are the box on the upright photo, in shares of its width and height.
type Scrap struct {
	Key         int     `json:"key"`
	Name        string  `json:"name"`
	L           float64 `json:"l"`
	A           float64 `json:"a"`
	B           float64 `json:"b"`
	Uncertainty float64 `json:"uncertainty"`
	Photo       *string `json:"photo"` // nil when the plan came without it
	X           float64 `json:"x"`
	Y           float64 `json:"y"`
	W           float64 `json:"w"`
	H           float64 `json:"h"`
	Position    int     `json:"position"`
	Amount      float64 `json:"amount,omitempty"` // of the whole that is asked for, 0 to 1; 0 where that is not said
	Count       float64 `json:"count,omitempty"`  // of Unit that is there, such as 3 balls; 0 where that is not said
	Unit        string  `json:"unit,omitempty"`
}
