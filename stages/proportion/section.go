// Package proportion is the stage with the piece itself: which card goes where,
// where the eye goes first, ways round, and how it reads from afar. What makers
// put into a piece of their own has stages of its own below it. Its pages lie in
// the room page.
package proportion

import (
	"encoding/json"

	"lampfern/core/words"
	"lampfern/plan"
)

const Key = "proportion"

// Section is what the stage keeps of a plan.
type Section struct {
	References []string `json:"references,omitempty"` // photos to colour by, by hash
}

// Of is the stage's section of a plan.
func Of(p *plan.Plan) *Section { return plan.Of[Section](p, Key) }

func (s *Section) Check() error {
	if len(s.References) > MaxReferences {
		return words.Refuse("A plan holds at most %d reference pictures. Remove one first.", MaxReferences)
	}
	return nil
}

// HoldPiece implements plan.Pieced: the references belong to the piece.
func (s *Section) HoldPiece() (json.RawMessage, error) {
	if len(s.References) == 0 {
		return nil, nil
	}
	return json.Marshal(s.References)
}

// TakePiece implements plan.Pieced.
func (s *Section) TakePiece(doc json.RawMessage) error {
	s.References = nil
	if len(doc) == 0 {
		return nil
	}
	return json.Unmarshal(doc, &s.References)
}

// Show implements plan.Shower.
func (s *Section) Show(f func(string) bool) {
	kept := s.References[:0:0]
	for _, h := range s.References {
		if f(h) {
			kept = append(kept, h)
		}
	}
	s.References = kept
}
