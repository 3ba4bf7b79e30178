// Package brief is the stage that says what the thing is and what it asks of its
// colours. Its page lies in the room page.
package brief

import (
	"unicode/utf8"

	"lampfern/core/brief"
	"lampfern/core/material"
	"lampfern/core/words"
	"lampfern/plan"
)

const Key = "brief"

// Section is what the stage keeps of a plan.
type Section struct {
	Purpose string      `json:"purpose,omitempty"`
	Brief   brief.Brief `json:"brief,omitzero"`
}

// Of is the stage's section of a plan.
func Of(p *plan.Plan) *Section { return plan.Of[Section](p, Key) }

// MeantFor is the section of a new plan that says whom it is for.
func (s *Section) MeantFor(whom string) plan.Section {
	s.Brief.For = whom
	return s
}

func (s *Section) Check() error {
	if utf8.RuneCountInString(s.Purpose) > material.MaxRemark {
		return words.Refuse("The purpose is longer than %d characters: shorten it.", material.MaxRemark)
	}
	if err := s.Brief.Tidy(); err != nil {
		return words.Refuse("Not saved: %s.", err)
	}
	return nil
}

// Asked implements plan.Asker.
func (s *Section) Asked() brief.Brief { return s.Brief }

// For implements plan.Purposer.
func (s *Section) For() string { return s.Purpose }
