// Package wheel is the stage on which a scheme is lit from the lead colour: what
// it keeps, what can be done to it and what it reads out of the shelf. Its pages
// lie in the room page.
package wheel

import (
	"math"
	"slices"

	"lampfern/core/wheel"
	"lampfern/core/words"
	"lampfern/plan"
)

const Key = "wheel"

// Section is what the stage keeps of a plan. Turn is how many whole places the
// scheme's light is turned away from the lead colour. The wheel and the school
// of warm and cool are named by key, empty for the usual.
type Section struct {
	Scheme       string        `json:"scheme,omitempty"`
	Neighbours   int           `json:"neighbours,omitempty"`
	OneSided     bool          `json:"one_sided,omitempty"`
	Centred      bool          `json:"centred,omitempty"`
	Wide         bool          `json:"wide,omitempty"`
	Turn         int           `json:"turn,omitempty"`
	WheelKey     string        `json:"wheel,omitempty"`
	School       string        `json:"school,omitempty"`
	ClearPairs   string        `json:"clear_pairs,omitempty"`  // what clear colours do together: lively or compete, empty as the scheme has it
	FromBoldest  bool          `json:"from_boldest,omitempty"` // the scheme goes by the boldest card, not the lead
	Nearest      bool          `json:"nearest,omitempty"`      // places are matched by ΔE00, not by hue first
	Adjusted     []Adjusted    `json:"adjusted,omitempty"`
	Combinations []Combination `json:"combinations,omitempty"`
}

// Of is the stage's section of a plan.
func Of(p *plan.Plan) *Section { return plan.Of[Section](p, Key) }

func (s *Section) variant() wheel.Variant {
	return wheel.Variant{Neighbours: s.Neighbours, OneSided: s.OneSided, Centred: s.Centred, Wide: s.Wide}
}

func (s *Section) Check() error {
	if s.Scheme != "" {
		places, err := wheel.Pigment.Scheme(s.Scheme, 0, s.variant())
		if err != nil {
			return words.Refuse("That scheme is not possible: %s.", err)
		}
		// Another form of a scheme may have fewer places.
		s.Adjusted = slices.DeleteFunc(s.Adjusted, func(a Adjusted) bool {
			return a.Index < 0 || a.Index >= len(places) || !(math.Abs(a.Nudge) <= mostNudge)
		})
	}
	if _, err := wheel.Find(s.WheelKey); err != nil {
		return words.Refuse("That wheel is not possible: %s.", err)
	}
	if _, err := wheel.FindSchool(s.School); err != nil {
		return words.Refuse("Warm and cool cannot be divided like that: %s.", err)
	}
	if !slices.Contains(clearPairs, s.ClearPairs) {
		return words.Refuse("Bright colours together are lively or compete, not %q.", s.ClearPairs)
	}
	if len(s.Combinations) > MaxCombinations {
		return words.Refuse("You have saved %d palettes, the most a plan can hold. Delete one first.", MaxCombinations)
	}
	return nil
}

// OnWheel implements plan.Turner. The key was checked before it was kept.
func (s *Section) OnWheel() wheel.Wheel {
	w, err := wheel.Find(s.WheelKey)
	if err != nil {
		return wheel.Pigment
	}
	return w
}

// Divided implements plan.Turner.
func (s *Section) Divided() wheel.School {
	d, err := wheel.FindSchool(s.School)
	if err != nil {
		return wheel.Schools()[0]
	}
	return d
}

// clearPairs are what a maker can say of clear colours that are neither neighbours nor opposites;
// empty leaves it to the scheme: a triad or a square wants them.
var clearPairs = []string{"", "lively", "compete"}

// Lively implements plan.Turner.
func (s *Section) Lively(mood bool) bool {
	switch s.ClearPairs {
	case "":
		return mood || s.Scheme == "triadic" || s.Scheme == "square"
	}
	return s.ClearPairs == "lively"
}

// Places implements plan.Turner.
func (s *Section) Places(p *plan.Plan) []float64 {
	_, places, _, err := lit(p)
	if err != nil {
		return nil
	}
	return places
}

// Lit implements plan.Turner.
func (s *Section) Lit() string { return s.Scheme }

// Led implements plan.Follower: the light turns to a new lead colour.
func (s *Section) Led() {
	s.Turn, s.FromBoldest = 0, false
	if s.Scheme == "" {
		s.Scheme = "complementary"
	}
}

func (s *Section) Refer(f func(uint) (uint, bool)) {
	for _, c := range s.Combinations {
		for i := range c.Cards {
			if m := c.Cards[i].MaterialID; m != nil {
				c.Cards[i].MaterialID = nil
				if id, ok := f(*m); ok {
					c.Cards[i].MaterialID = &id
				}
			}
		}
	}
}

// Adjusted is a place of the scheme that the maker turned off or moved, by its
// number in the scheme.
type Adjusted struct {
	Index int     `json:"index"`
	Off   bool    `json:"off,omitempty"`
	Nudge float64 `json:"nudge,omitempty"` // degrees of the wheel, clockwise
}

// Combination is a set of cards that was tried, as they were then.
type Combination struct {
	Key    int               `json:"key"`
	Scheme string            `json:"scheme"`
	Remark string            `json:"remark"`
	Cards  []CombinationCard `json:"cards"`
}

// CombinationCard is one card of a combination. MaterialID is nil for a free
// colour.
type CombinationCard struct {
	MaterialID *uint   `json:"material_id"`
	Name       string  `json:"name"`
	L          float64 `json:"l"`
	A          float64 `json:"a"`
	B          float64 `json:"b"`
}
