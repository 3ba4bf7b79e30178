package mix

import (
	"slices"

	"lampfern/core/colour"
	"lampfern/core/material"
	"lampfern/core/mix"
	"lampfern/core/piece"
	"lampfern/core/words"
	"lampfern/plan"
)

// Section is what mixing keeps of a plan. Its lists of paints are materials.
type Section struct {
	Paints     []uint `json:"paints,omitempty"`  // chosen; none for all that are at hand
	Without    []uint `json:"without,omitempty"` // recipes leave these out
	Must       []uint `json:"must,omitempty"`    // recipes hold these
	OnHand     bool   `json:"on_hand,omitempty"` // recipes take only what is on hand
	Colourants int    `json:"colourants,omitempty"`
	Parts      int    `json:"parts,omitempty"`
	Now        int    `json:"now,omitempty"` // key of the wanted colour that is worked on
	Basis      string `json:"basis,omitempty"`
	Together   string `json:"together,omitempty"` // key of a Together; empty for the usual one of the kind
	Slabs      []Slab `json:"slabs,omitempty"`

	Total float64 `json:"total,omitempty"` // of a batch, in Unit of the basis
	Least float64 `json:"least,omitempty"` // that can be weighed or measured

	Ground   *Ground `json:"ground,omitempty"`   // what is added to; nil for the usual one of the way
	Coats    int     `json:"coats,omitempty"`    // of a wash; 0 for one
	Oils     float64 `json:"oils,omitempty"`     // of the batter in per cent, where no craft is told of them; 0 for the usual
	Step     float64 `json:"step,omitempty"`     // the dose of one part in the basis; 0 for the usual
	Additive string  `json:"additive,omitempty"` // scent or other additive of the batch

	told *piece.Batch // by the craft's own recipe; nil where none is made in a batch
}

// WorkOn implements plan.Mixer.
func (s *Section) WorkOn(key int) { s.Now = key }

// Base implements plan.Baser.
func (s *Section) Base() (colour.Lab, bool) {
	if s.Ground == nil {
		return colour.Lab{}, false
	}
	return s.Ground.Colour(), true
}

// waterID stands in steps and records for water, which is no material.
const waterID = 0

// Slab is what lies on the slab for one wanted colour: the paint of each part, in
// the order they were put there.
type Slab struct {
	Wanted int    `json:"wanted"`
	Steps  []uint `json:"steps"`
}

// Bounds of what is kept.
const (
	mostPaints = 60 // of which recipes are searched
	mostSteps  = mix.MostParts
	mostTotal  = 1e6
	mostCoats  = 6
	mostStep   = 100
)

func (s *Section) Check() error {
	switch {
	case max(len(s.Paints), len(s.Without), len(s.Must)) > mostPaints:
		return words.Refuse("Choose at most %d paints.", mostPaints)
	case s.Colourants < 0 || s.Colourants > mix.MostColourants || len(s.Must) > mix.MostColourants:
		return words.Refuse("A recipe has 1 to %d paints.", mix.MostColourants)
	case s.Parts < 0 || s.Parts > mix.MostParts:
		return words.Refuse("A recipe has 1 to %d parts.", mix.MostParts)
	case s.Together != "" && !slices.ContainsFunc(Togethers(), func(t Together) bool { return t.Key == s.Together }):
		return words.Refuse("Choose a way of mixing from the list.")
	case s.Basis != "" && !slices.ContainsFunc(Togethers(), func(t Together) bool { return slices.Contains(t.Bases, s.Basis) }):
		return words.Refuse("Choose how parts are measured from the list.")
	case s.Coats < 0 || s.Coats > mostCoats:
		return words.Refuse("A wash has 1 to %d coats.", mostCoats)
	case s.Oils != 0 && !(s.Oils >= 1 && s.Oils <= 100):
		return words.Refuse("Oils are 1 to 100%% of the batter. Leave it empty for the usual %g%%.", usualOils)
	case !(s.Step >= 0 && s.Step <= mostStep):
		return words.Refuse("A step is more than 0 and at most %d.", mostStep)
	case len([]rune(s.Additive)) > material.MaxField:
		return words.Refuse("The scent or additive has at most %d characters: shorten it.", material.MaxField)
	case !(s.Total >= 0 && s.Total <= mostTotal) || !(s.Least >= 0 && s.Least <= mostTotal):
		return words.Refuse("A batch is 0 to %g. Write how much in figures.", mostTotal)
	case len(s.Slabs) > plan.MostWanted:
		return words.Refuse("The list holds %d target colours, the most it can. Remove one first.", plan.MostWanted)
	}
	if s.Ground != nil && s.Ground.Colour().Check() != nil {
		return words.Refuse("The colour of the ground is not possible. Write it as # and six digits.")
	}
	for _, b := range s.Slabs {
		if len(b.Steps) > mostSteps {
			return words.Refuse("The mix has %d parts, the most it can. Remove one first, or halve them all.", mostSteps)
		}
	}
	return nil
}

func (s *Section) Refer(f func(id uint) (uint, bool)) {
	for _, list := range []*[]uint{&s.Paints, &s.Without, &s.Must} {
		*list = referred(*list, f)
	}
	for i := range s.Slabs {
		s.Slabs[i].Steps = referred(s.Slabs[i].Steps, f)
	}
}

func referred(list []uint, f func(id uint) (uint, bool)) []uint {
	var out []uint
	for _, id := range list {
		if id == waterID {
			out = append(out, id)
			continue
		}
		if now, ok := f(id); ok {
			out = append(out, now)
		}
	}
	return out
}

// Of is what mixing keeps of a plan.
func Of(p *plan.Plan) *Section { return plan.Of[Section](p, Key) }

// slab is the slab of a wanted colour, made when there is none.
func (s *Section) slab(wanted int) *Slab {
	at := slices.IndexFunc(s.Slabs, func(b Slab) bool { return b.Wanted == wanted })
	if at < 0 {
		s.Slabs, at = append(s.Slabs, Slab{Wanted: wanted}), len(s.Slabs)
	}
	return &s.Slabs[at]
}

// tidy lets go of slabs that are empty or of colours no longer wanted.
func (s *Section) tidy(p *plan.Plan) {
	wanted := func(key int) bool {
		return slices.ContainsFunc(p.Targets, func(w plan.Wish) bool { return w.Key == key })
	}
	s.Slabs = slices.DeleteFunc(s.Slabs, func(b Slab) bool { return len(b.Steps) == 0 || !wanted(b.Wanted) })
	if !wanted(s.Now) {
		s.Now = 0
	}
}
