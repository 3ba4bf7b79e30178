package words

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
)

func TestWords(t *testing.T) {
	for want, got := range map[string]string{
		"under 1%": PerCent(0.004), "0%": PerCent(0), "16%": PerCent(0.155), "0.4%": PerCentFine(0.004), "10%": PerCentFine(0.1),
		"no": Count(0), "eight": Count(8), "9": Count(9), "1 card": Plural(1, "card", "cards"), "0 cards": Plural(0, "card", "cards"),
		"a": List([]string{"a"}), "a and b": List([]string{"a", "b"}), "a, b and c": List([]string{"a", "b", "c"}),
		"a, b and 2 more": List([]string{"a", "b", "c", "d"}),
		"a, b, c and d":   All([]string{"a", "b", "c", "d"}), "40,320": Grouped(40320), "999": Grouped(999),
		"more than a thousand million": Grouped(1e9),
		"an olive":                     AFamily("olive"), "a red": AFamily("red"), "reds": Colours("red", 2), "44123": Figure(44123.4).String(),
		"0.00001": Figure(1e-5).String(), "12.35": Figure(12.3456).String(), "0": Figure(0).String(), "Émail": Capital("émail"),
		"": Capital("") + List(nil),
	} {
		assert.Equal(t, want, got)
	}
	assert.EqualError(t, Refuse("Choose %d.", 3), "Choose 3.")
}

// A number in a sentence agrees with its noun, small numbers in words.
func TestCounted(t *testing.T) {
	for n, want := range map[int]string{0: "no parts", 1: "one part", 2: "two parts", 12: Count(12) + " parts", 40: "40 parts"} {
		assert.Equal(t, want, Counted(n, "part", "parts"))
	}
	assert.Equal(t, []string{"Both", "All three", "All " + Count(6)}, []string{Every(2), Every(3), Every(6)})
}

func TestManyOrOne(t *testing.T) {
	for _, name := range []string{"fronts", "Buttons", "squares in fives", "points of the star", "sides, left", "lapels (both)", "teeth"} {
		assert.True(t, Many(name), name)
		assert.Equal(t, "recede", Agree(name, "recedes", "recede"), name)
	}
	for _, name := range []string{"front", "dress", "canvas", "border of leaves", "ground", "mast", "iris", "Yarn A", ""} {
		assert.False(t, Many(name), name)
	}
}

// Dates are written one way each, wherever they stand.
func TestDates(t *testing.T) {
	at := time.Date(2026, 1, 2, 15, 4, 0, 0, time.UTC)
	assert.Equal(t, []string{"2 January 2026", "2 Jan 2026", "Fri 2 Jan", "Fri 2 Jan 2026", "2 January", "2 January, 15:04"},
		[]string{Date(at), ShortDate(at), Day(at), DayAndYear(at), DayOfYear(at), Moment(at)})
}
