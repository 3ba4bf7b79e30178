package exchange

import (
	"fmt"
	"math"
	"time"
	"unicode/utf8"

	"lampfern/core/colour"
	"lampfern/core/material"
)

// MixRecord is the record of a mix that was really made, its materials by name.
type MixRecord struct {
	MadeAt   time.Time `json:"made_at"`
	Name     string    `json:"name"`
	Way      string    `json:"way,omitempty"`
	Basis    string    `json:"basis"`
	Parts    []MixPart `json:"parts"`
	Ground   []float64 `json:"ground,omitempty"` // CIELAB of what was added to
	ReadAs   string    `json:"read_as"`
	Light    string    `json:"light,omitempty"`
	L        float64   `json:"L"`
	A        float64   `json:"a"`
	B        float64   `json:"b"`
	KeptOff  bool      `json:"kept_off,omitempty"`
	Amount   float64   `json:"amount,omitempty"`
	Unit     string    `json:"unit,omitempty"`
	Additive string    `json:"additive,omitempty"`
	Remark   string    `json:"remark,omitempty"`
}

// MixPart is what went into a mix of one material; without a name it is water.
type MixPart struct {
	Material string  `json:"material"`
	Parts    float64 `json:"parts"`
}

// Bounds of records.
const (
	maxMixes    = 20000
	maxMixParts = 100
	maxAmount   = 1e6
)

// check says what is wrong with a record, or nothing.
func (m MixRecord) check() error {
	good := func(v float64) bool { return v >= 0 && v <= maxAmount }
	if m.Name == "" || utf8.RuneCountInString(m.Name) > material.MaxName {
		return fmt.Errorf("a record of a mix needs a name of at most %d characters", material.MaxName)
	}
	for _, s := range []string{m.Way, m.Basis, m.ReadAs, m.Light, m.Unit, m.Additive} {
		if utf8.RuneCountInString(s) > material.MaxField {
			return fmt.Errorf("it has words longer than %d characters", material.MaxField)
		}
	}
	if utf8.RuneCountInString(m.Remark) > material.MaxRemark {
		return fmt.Errorf("its remark is longer than %d characters", material.MaxRemark)
	}
	if len(m.Parts) == 0 || len(m.Parts) > maxMixParts {
		return fmt.Errorf("it has %d parts: a mix has 1 to %d", len(m.Parts), maxMixParts)
	}
	for _, p := range m.Parts {
		if !(p.Parts > 0) || !good(p.Parts) {
			return fmt.Errorf("it holds %g parts of %s", p.Parts, shorten(p.Material))
		}
	}
	if len(m.Ground) != 0 && (len(m.Ground) != 3 || (colour.Lab{L: m.Ground[0], A: m.Ground[1], B: m.Ground[2]}).Check() != nil) {
		return fmt.Errorf("the colour of its ground is not possible")
	}
	if !good(m.Amount) || math.IsNaN(m.Amount) {
		return fmt.Errorf("its amount is not possible")
	}
	return (colour.Lab{L: m.L, A: m.A, B: m.B}).Check()
}
