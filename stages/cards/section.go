// Package cards is the stage with the deck: cards riffled by family, laid edge to
// edge, flagged and printed. Its page lies in the room page.
package cards

import (
	"fmt"

	"lampfern/core/words"
	"lampfern/plan"
)

const Key = "cards"

// Section is what the stage keeps of a plan.
type Section struct {
	Flagged     []uint   `json:"flagged,omitempty"` // materials whose cards are to be printed
	Laid        []string `json:"laid,omitempty"`    // cards laid edge to edge, by token
	LaidByShare bool     `json:"laid_by_share,omitempty"`
}

// Of is the stage's section of a plan.
func Of(p *plan.Plan) *Section { return plan.Of[Section](p, Key) }

func (s *Section) Check() error {
	if len(s.Flagged) > MostFlags {
		return words.Refuse("You chose %d cards. Print at most %d at a time.", len(s.Flagged), MostFlags)
	}
	if len(s.Laid) > MostLaid {
		return words.Refuse("%d cards are compared, the most there is room for. Remove one first.", MostLaid)
	}
	return nil
}

// Refer implements plan.Referrer: laid cards are named by token.
func (s *Section) Refer(f func(uint) (uint, bool)) {
	flagged := s.Flagged[:0:0]
	for _, id := range s.Flagged {
		if now, ok := f(id); ok {
			flagged = append(flagged, now)
		}
	}
	laid := s.Laid[:0:0]
	for _, token := range s.Laid {
		var id uint
		if n, err := fmt.Sscanf(token, "m%d", &id); n == 1 && err == nil {
			now, ok := f(id)
			if !ok {
				continue
			}
			token = fmt.Sprintf("m%d", now)
		}
		laid = append(laid, token)
	}
	s.Flagged, s.Laid = flagged, laid
}
