package brief

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"lampfern/core/colour"
	"lampfern/core/wheel"
)

func TestMoodsAreWhole(t *testing.T) {
	seen := map[string]bool{}
	for _, m := range Moods() {
		assert.NoError(t, m.Limits.Check(), m.Name)
		assert.NotEmpty(t, m.Words)
		assert.NotEmpty(t, m.Limits.Schemes, m.Name)
		assert.False(t, seen[m.Name])
		seen[m.Name] = true
	}
	assert.GreaterOrEqual(t, len(seen), 20)
	m, ok := FindMood("hearth", nil)
	assert.True(t, ok)
	assert.True(t, m.Limits.Warm)
	own, _ := FindMood("Hearth", []Mood{{Name: "hearth", Words: "mine"}})
	assert.Equal(t, "mine", own.Words, "the maker's own stands before the shipped one")
	_, ok = FindMood("No such mood", nil)
	assert.False(t, ok)
}

func TestLimits(t *testing.T) {
	assert.NoError(t, Free().Check())
	assert.False(t, Free().Ask())
	l := Free()
	l.ValueFrom, l.ValueTo, l.ClearTo, l.Out = 3, 8, 60, []colour.FamilyName{colour.Orange}
	assert.True(t, l.Ask())
	for hex, want := range map[string]string{"#101014": "too dark", "#ffffff": "too light", "#e4681c": "too clear and orange, a colour to avoid",
		"#8a5a86": "", "#808080": ""} {
		c, err := colour.ParseHex(hex)
		assert.NoError(t, err)
		assert.Equal(t, want, l.Outside(c.Lab()), hex)
	}
	for want, bad := range map[string]func(*Limits){
		"value goes from 8 to 3": func(l *Limits) { l.ValueFrom, l.ValueTo = 8, 3 }, "between 0 and 100": func(l *Limits) { l.ClearTo = 101 },
		"family called": func(l *Limits) { l.Out = []colour.FamilyName{"beige"} }, "every family": func(l *Limits) { l.Out = colour.Families() },
		"no scheme called": func(l *Limits) { l.Schemes = []string{"rainbow"} }, "contrast must be between": func(l *Limits) { l.ContrastFrom = -1 },
	} {
		l := Free()
		bad(&l)
		assert.ErrorContains(t, l.Check(), want)
	}
	all := Free()
	all.ValueTo = 9
	assert.Empty(t, all.OutsideAs(colour.Lab{L: 70, A: 60, B: 60}, 1.2, colour.Red), "no limit on clearness lets everything in")
}

// deck is every place in three values, and three neutrals.
func deck() (cards []Card) {
	for p := range wheel.Places {
		for _, l := range []float64{0.35, 0.6, 0.85} {
			lab := colour.OKLCh{L: l, C: 0.09, H: wheel.Pigment.Hue(float64(p))}.Lab()
			cards = append(cards, Card{lab, colour.Family(lab), lab.Clearness(), float64(p), false, false})
		}
	}
	for _, l := range []float64{10, 50, 95} {
		cards = append(cards, Card{Lab: colour.Lab{L: l}, Family: colour.Family(colour.Lab{L: l}), Neutral: true})
	}
	return cards
}

func TestDeal(t *testing.T) {
	cards := deck()
	schemes := map[string]bool{}
	for seed := range uint64(60) {
		h := Deal(seed, 5, cards, nil, Habits{}, wheel.Pigment, Free())
		assert.Equal(t, h, Deal(seed, 5, cards, nil, Habits{}, wheel.Pigment, Free()), "a seed is dealt again")
		assert.Len(t, h.Cards, 5)
		schemes[h.Scheme] = true
		seen, neutrals := map[int]bool{}, 0
		for _, c := range h.Cards {
			assert.False(t, seen[c])
			seen[c] = true
			if cards[c].Neutral {
				neutrals++
			}
		}
		if h.Scheme == "monochromatic" {
			continue // this deck has three cards at a place, and then takes others
		}
		assert.Equal(t, 1, neutrals)
		places, err := wheel.Scheme(h.Scheme, h.Lead, wheel.Pigment)
		assert.NoError(t, err)
		for _, c := range h.Cards[:4] {
			near := false
			for _, p := range places {
				near = near || wheel.Apart(p, cards[c].Place) <= reach
			}
			assert.True(t, near, "%s from %.0f took a card at %.0f", h.Scheme, h.Lead, cards[c].Place)
		}
		again := Deal(seed+1000, 5, cards, h.Cards[:2], Habits{}, wheel.Pigment, Free())
		assert.Equal(t, h.Cards[:2], again.Cards[:2], "held cards stay")
	}
	assert.Greater(t, len(schemes), 6)
	for seed := range uint64(200) { // two cards are no split complementary
		h := Deal(seed, 2, cards, nil, Habits{}, wheel.Pigment, Free())
		places, err := wheel.Scheme(h.Scheme, h.Lead, wheel.Pigment)
		if h.Scheme != "" {
			assert.NoError(t, err)
			assert.LessOrEqual(t, len(places), 2, h.Scheme)
		}
	}
	assert.Empty(t, Deal(3, 3, cards[:3], nil, Habits{Schemes: map[string]int{"monochromatic": 99}}, wheel.Pigment, Free()).Scheme,
		"where its places have no cards it is of no scheme")
	assert.Len(t, Deal(1, 5, cards[:2], nil, Habits{}, wheel.Pigment, Free()).Cards, 2, "no more than there are")
	assert.Empty(t, Deal(1, 3, nil, nil, Habits{}, wheel.Pigment, Free()).Cards)
}

// TestDealLeavesHabits counts how often what was used much comes up.
func TestDealLeavesHabits(t *testing.T) {
	cards := deck()
	h := Habits{Families: map[colour.FamilyName]int{colour.Blue: 60}, Schemes: map[string]int{"triadic": 60}}
	blue, before, triadic := 0, 0, 0
	for seed := range uint64(400) {
		for _, c := range Deal(seed, 4, cards, nil, h, wheel.Pigment, Free()).Cards {
			if cards[c].Family == colour.Blue {
				blue++
			}
		}
		for _, c := range Deal(seed, 4, cards, nil, Habits{}, wheel.Pigment, Free()).Cards {
			if cards[c].Family == colour.Blue {
				before++
			}
		}
		if Deal(seed, 4, cards, nil, h, wheel.Pigment, Free()).Scheme == "triadic" {
			triadic++
		}
	}
	assert.Less(t, 2*blue, before, "a family used much comes up half as often or less")
	assert.Less(t, triadic, 10)
	limits := Free()
	limits.ValueTo = 5
	light := 0
	for seed := range uint64(200) {
		for _, c := range Deal(seed, 3, cards, nil, Habits{}, wheel.Pigment, limits).Cards {
			if cards[c].Lab.Value() > 5 {
				light++
			}
		}
	}
	assert.Less(t, light, 300, "of 600 cards, two thirds lie outside")
}

func TestShuffleMovesEverything(t *testing.T) {
	for n := 2; n < 9; n++ {
		for seed := range uint64(20) {
			out := Shuffle(seed, n)
			seen := map[int]bool{}
			for i, o := range out {
				assert.NotEqual(t, i, o)
				seen[o] = true
			}
			assert.Len(t, seen, n)
		}
	}
	assert.Equal(t, []int{0}, Shuffle(3, 1))
	assert.Empty(t, Shuffle(3, 0))
}
