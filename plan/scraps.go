package plan

import (
	"lampfern/core/material"
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

// Do makes the change.
func (e TearScrap) Do(d *Draft) (string, error) {
	m := material.Material{Name: e.Name, Colour: e.Taken.Colour}
	if p := m.Tidy(); p != nil {
		return "", words.Refusal(p.Error())
	}
	if len(d.Plan.Scraps) >= MaxScraps {
		return "", words.Refuse("The scrap page holds %d scraps and is full: throw one out first.", MaxScraps)
	}
	key := 1
	for _, sc := range d.Plan.Scraps {
		key = max(key, sc.Key+1)
	}
	d.Plan.Scraps = append(d.Plan.Scraps, Scrap{Key: key, Name: m.Name, L: e.Taken.Colour.L, A: e.Taken.Colour.A, B: e.Taken.Colour.B, Uncertainty: e.Taken.Uncertainty,
		Photo: &e.Photo.Hash, X: e.Taken.Box.X, Y: e.Taken.Box.Y, W: e.Taken.Box.W, H: e.Taken.Box.H})
	return "tear off " + m.Name, nil
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
}
