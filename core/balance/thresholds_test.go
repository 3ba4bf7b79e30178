package balance

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"lampfern/core/colour"
)

// Each threshold of the notes on either side, so that it cannot move unseen.
func TestThresholdsOfTheNotes(t *testing.T) {
	kinds := func(l Layout, labs ...colour.Lab) string {
		var cs []Colour
		for i, lab := range labs {
			cs = append(cs, Colour{Key: string(rune('a' + i)), Name: string(rune('A' + i)), Parts: "part", Lab: lab})
		}
		var out []string
		for _, n := range Notes(l, cs) {
			if kind, _, _ := strings.Cut(n.ID, ":"); kind == "lost" || kind == "soft" || kind == "alike" {
				out = append(out, kind)
			}
		}
		return strings.Join(out, " ")
	}
	grey := func(l float64) colour.Lab { return colour.Lab{L: l} }
	half := plain(.4, .6)
	for name, c := range map[string]struct {
		a, b colour.Lab
		want string
	}{
		"just under 8 L* is lost":           {grey(50), grey(57.9), "lost"},
		"just over 8 L* is soft":            {grey(50), grey(58.1), "soft"},
		"just under 15 L* is soft":          {grey(50), grey(64.9), "soft"},
		"just over 15 L* is plain":          {grey(50), grey(65.1), ""},
		"9.9 ΔE00 apart in hue is lost":     {colour.Lab{L: 50}, apart(50, 9.9), "lost"},
		"10.1 ΔE00 apart in hue is soft":    {colour.Lab{L: 50}, apart(50, 10.1), "soft"},
		"4.9 ΔE00 apart is alike, and lost": {colour.Lab{L: 50}, apart(50, 4.9), "lost alike"},
		"5.1 ΔE00 apart is only lost":       {colour.Lab{L: 50}, apart(50, 5.1), "lost"},
	} {
		assert.Equal(t, c.want, kinds(half, c.a, c.b), name)
	}
	// A third grey keeps long borders with both; the two that are lost hardly meet.
	meet := func(border float64) Layout {
		return Layout{Share: []float64{.3, .3, .4}, Border: [][]float64{{0, border, 100}, {border, 0, 100}, {100, 100, 0}}}
	}
	assert.Equal(t, "", kinds(meet(1.9), grey(20), colour.Lab{L: 27.5, A: 5}, grey(90)), "corners that only meet")
	assert.Equal(t, "lost", kinds(meet(2.2), grey(20), colour.Lab{L: 27.5, A: 5}, grey(90)))
}

// apart is a colour as light as a grey and so far from it, in ΔE00, along a*.
func apart(l, de float64) colour.Lab {
	low, high := 0.0, 60.0
	for range 60 {
		if a := (low + high) / 2; colour.DeltaE2000(colour.Lab{L: l}, colour.Lab{L: l, A: a}) < de {
			low = a
		} else {
			high = a
		}
	}
	return colour.Lab{L: l, A: low}
}
