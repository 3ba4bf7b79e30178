package plan

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"lampfern/core/colour"
)

// The card of a colour that comes with a file never takes a key that a colourway, or a part, still
// speaks of.
func TestACardOfAFileGetsAKeyOfItsOwn(t *testing.T) {
	p := &Plan{}
	p.Entries = []Entry{{Key: 1, Name: "Plum", L: 20, A: 20, B: -15}}
	p.Colourways = []Colourway{{Key: 1, Fills: map[string]int{"ground": 4}}}
	p.Fills = []Fill{{Part: "star", EntryKey: 2}}
	d := &Draft{Plan: p}
	assert.Equal(t, 1, d.CardFor(colour.Lab{L: 20.5, A: 20, B: -15}, "near to Plum"), "a card that is there already")
	assert.Equal(t, 5, d.CardFor(colour.Lab{L: 80, A: 0, B: 40}, "Straw"))
	assert.Equal(t, 6, d.CardFor(colour.Lab{L: 50, A: 50, B: 40}, "Rust"))
}
