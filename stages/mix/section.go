package mix

import (
	"slices"

	"lampfern/core/mix"
	"lampfern/core/words"
	"lampfern/plan"
)

// Section is what mixing keeps of a plan. Its lists of paints are materials.
type Section struct {
	Paints     []uint `json:"paints,omitempty"`  // chosen; none for all that are at hand
	Without    []uint `json:"without,omitempty"` // recipes leave these out
	Must       []uint `json:"must,omitempty"`    // recipes hold these
	Colourants int    `json:"colourants,omitempty"`
	Parts      int    `json:"parts,omitempty"`
	Now        int    `json:"now,omitempty"` // key of the wanted colour that is worked on
	Basis      string `json:"basis,omitempty"`
	Together   string `json:"together,omitempty"` // key of a Together; empty for the usual one of the kind
	Slabs      []Slab `json:"slabs,omitempty"`

	Total float64 `json:"total,omitempty"` // of a batch, in Unit of the basis
	Least float64 `json:"least,omitempty"` // that can be weighed or measured
}

// WorkOn implements plan.Mixer.
func (s *Section) WorkOn(key int) { s.Now = key }

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
)

// Bases are what parts can be measured by; the first is the usual one.
func Bases() []string { return []string{"weight", "volume", "drops"} }

// Together is a way that materials of some kinds come together.
type Together struct {
	Key, Name string
	Way       mix.Way
	Kinds     []string
	Words     string // how it is reckoned
}

// Togethers are the ways that mixes are made here.
func Togethers() []Together {
	return []Together{
		{"paint", "as paint", mix.Opaque, []string{"paint", "pigment or dye"}, "an opaque film of paint"},
		{"fibres", "carded or felted", mix.Fibres, []string{"yarn", "thread"}, "fibres carded or felted together, by weight"},
		{"strands", "plied strands", mix.Strands, []string{"yarn", "thread"}, "strands beside one another, which the eye blends from afar"},
	}
}

// together is how the plan's materials of a kind come together.
func (s *Section) together(kind string) Together {
	var usual *Together
	for _, t := range Togethers() {
		if !slices.Contains(t.Kinds, kind) {
			continue
		}
		if t.Key == s.Together {
			return t
		}
		if usual == nil {
			usual = &t
		}
	}
	if usual == nil {
		return Togethers()[0]
	}
	return *usual
}

// Unit is what a batch is measured in by a basis.
func Unit(basis string) string {
	return map[string]string{"weight": "g", "volume": "ml", "drops": "drops"}[basis]
}

// Check implements plan.Section.
func (s *Section) Check() error {
	switch {
	case max(len(s.Paints), len(s.Without), len(s.Must)) > mostPaints:
		return words.Refuse("Recipes are searched among at most %d paints: leave some out.", mostPaints)
	case s.Colourants < 0 || s.Colourants > mix.MostColourants || len(s.Must) > mix.MostColourants:
		return words.Refuse("A recipe takes 1 to %d paints: choose a number between.", mix.MostColourants)
	case s.Parts < 0 || s.Parts > mix.MostParts:
		return words.Refuse("A recipe has 1 to %d parts: choose a number between.", mix.MostParts)
	case s.Together != "" && !slices.ContainsFunc(Togethers(), func(t Together) bool { return t.Key == s.Together }):
		return words.Refuse("Choose how they come together from the list.")
	case s.Basis != "" && !slices.Contains(Bases(), s.Basis):
		return words.Refuse("Parts are by weight, by volume or in drops: choose one of these.")
	case !(s.Total >= 0 && s.Total <= mostTotal) || !(s.Least >= 0 && s.Least <= mostTotal):
		return words.Refuse("A batch is from nothing to %g: write how much in figures.", mostTotal)
	case len(s.Slabs) > plan.MostWanted:
		return words.Refuse("The slab holds %d colours: take one off the list first.", plan.MostWanted)
	}
	for _, b := range s.Slabs {
		if len(b.Steps) > mostSteps {
			return words.Refuse("The slab holds %d parts: take one away first, or halve them all.", mostSteps)
		}
	}
	return nil
}

// Refer implements plan.Referrer.
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
