package buy

import (
	"fmt"
	"slices"

	"lampfern/core/material"
	"lampfern/core/piece"
	"lampfern/core/words"
	"lampfern/plan"
)

// Section is what buying keeps of a plan. Rows are known by their keys: card and the
// key of a card of the tray, mix and a material, line and a name, own and a number.
type Section struct {
	Asked   map[string]piece.Values `json:"asked,omitempty"`   // by craft: what the piece cannot know
	Times   int                     `json:"times,omitempty"`   // how many are made; 0 for one
	Lists   map[string]string       `json:"lists,omitempty"`   // by the key of a list of the craft: the maker's own, as it was written
	Amounts map[string]float64      `json:"amounts,omitempty"` // by row: what the maker says is needed, in the kind's base unit
	Mixed   []string                `json:"mixed,omitempty"`   // rows that may take several lots
	Own     []OwnLine               `json:"own,omitempty"`
	Kept    []Kept                  `json:"kept,omitempty"` // stock that is kept back for this plan
}

// OwnLine is something to buy that the maker wrote down.
type OwnLine struct {
	Key   int     `json:"key"`
	Name  string  `json:"name"`
	Much  string  `json:"much,omitempty"` // how much, in the maker's words
	Price float64 `json:"price,omitempty"`
}

// Kept is stock of a material that a plan keeps back, in the kind's base unit.
type Kept struct {
	Material uint    `json:"material"`
	Amount   float64 `json:"amount"`
}

// Bounds of what is kept.
const (
	mostTimes  = 10000
	mostOwn    = 100
	mostAmount = 1e9
	mostRows   = 500
)

// Of is what buying keeps of a plan.
func Of(p *plan.Plan) *Section { return plan.Of[Section](p, Key) }

func (s *Section) Check() error {
	if s.Times < 0 || s.Times > mostTimes {
		return words.Refuse("You can make 1 to %d. Write how many in figures.", mostTimes)
	}
	if len(s.Own) > mostOwn {
		return words.Refuse("The list holds %d lines of your own, the most it can. Remove one first.", mostOwn)
	}
	if max(len(s.Mixed), len(s.Kept), len(s.Amounts)) > mostRows {
		return words.Refuse("The list holds at most %d rows.", mostRows)
	}
	for _, text := range s.Lists {
		if len(text) > piece.MaxListBytes {
			return words.Refuse("A list is at most %d kB long.", piece.MaxListBytes>>10)
		}
	}
	for _, v := range s.Amounts {
		if !(v >= 0 && v <= mostAmount) {
			return words.Refuse("The amount needed is 0 to %g. Write it in figures, or leave it empty to use what the piece takes.", mostAmount)
		}
	}
	for _, o := range s.Own {
		if o.Name == "" || len([]rune(o.Name)) > material.MaxName || len([]rune(o.Much)) > material.MaxField {
			return words.Refuse("A line has a name of at most %d characters and an amount of at most %d.", material.MaxName, material.MaxField)
		}
		if !(o.Price >= 0 && o.Price <= mostAmount) {
			return words.Refuse("A price is 0 to %g. Write it in figures.", mostAmount)
		}
	}
	return nil
}

func (s *Section) Refer(f func(id uint) (uint, bool)) {
	s.Kept = slices.DeleteFunc(slices.Clone(s.Kept), func(k Kept) bool { _, ok := f(k.Material); return !ok })
	for i := range s.Kept {
		s.Kept[i].Material, _ = f(s.Kept[i].Material)
	}
}

// times is how many are made.
func (s *Section) times() int { return max(1, s.Times) }

// Row is the key of a line on the list.
func (o OwnLine) Row() string { return fmt.Sprintf("own%d", o.Key) }
