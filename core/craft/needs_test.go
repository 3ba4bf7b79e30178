package craft

import (
	"math"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/material"
	"lampfern/core/piece"
)

// making is a thing of a pattern with a card for each part of its own, of a kind.
func making(t *testing.T, craft, pattern string, settings piece.Values, kind string) (piece.Craft, piece.Making) {
	t.Helper()
	of, known := Named(craft)
	require.True(t, known)
	p, err := Pattern(pattern)
	require.NoError(t, err)
	values, err := p.Values(settings)
	require.NoError(t, err)
	var in piece.Input
	if p.Input != nil {
		in = p.Input()
	}
	built, err := p.Build(settings, in)
	require.NoError(t, err)
	m := piece.Making{Piece: built, Values: values, Input: in, Asked: piece.Usual(of.Asks, nil), Times: 1}
	for i, part := range built.Parts {
		m.Of = append(m.Of, i)
		m.Cards = append(m.Cards, piece.Taken{Name: part.Name, Kind: kind})
	}
	return of, m
}

func needOf(t *testing.T, all []piece.Need, m piece.Making, name string) piece.Need {
	t.Helper()
	for _, n := range all {
		if n.Card < 0 && n.Name == name || n.Card >= 0 && m.Cards[n.Card].Name == name {
			return n
		}
	}
	require.Fail(t, "no need of "+name)
	return piece.Need{}
}

// Every pattern of every craft tells how much it takes, of every card, with its working,
// and twice as much of the same for two.
func TestEveryPatternSaysWhatItTakes(t *testing.T) {
	for _, of := range All() {
		require.NotNil(t, of.Needs, of.Name)
		for _, p := range of.Patterns {
			kind := of.Kinds[0]
			if of.Name == "other" {
				kind = "fabric"
			}
			_, m := making(t, of.Name, p.Key, nil, kind)
			once := of.Needs(m)
			m.Times = 2
			twice := of.Needs(m)
			seen := map[int]bool{}
			require.Len(t, twice, len(once))
			for i, n := range once {
				seen[n.Card] = true
				assert.Empty(t, n.Problem, "%s %s", p.Key, n.Name)
				if n.Card >= 0 && m.AreasOf()[n.Card] > 0 {
					assert.Positive(t, n.Amount, "%s %s", p.Key, m.Cards[n.Card].Name)
					assert.NotEmpty(t, n.Working, p.Key)
				}
				assert.Contains(t, material.Kinds(), n.Kind)
				if slices.Contains([]string{"quilt", "weaving", "building parts", "garment", "cards", "other"}, of.Name) { // what is shared, or cut whole, is not twice as much
					assert.GreaterOrEqual(t, twice[i].Amount, n.Amount)
				} else {
					assert.InDelta(t, 2*n.Amount, twice[i].Amount, 1e-6*n.Amount+.1*first(n.Kind == "paint"), "%s %s", p.Key, n.Name)
				}
			}
			for i, a := range m.AreasOf() {
				assert.True(t, seen[i] || a == 0, "%s: %s", p.Key, m.Cards[i].Name)
			}
		}
	}
}

func first(is bool) float64 {
	if is {
		return 1
	}
	return 0
}

// One thing of each craft by hand.
func TestWhatIsTakenByHand(t *testing.T) {
	// Nine-patch of 2 × 2 blocks of 6 cm squares: two pieced blocks of five and four squares.
	// 10 squares cut 7.5 cm: 14 to a strip of 106 cm, one strip of 7.5 cm, with 10% 8.25 cm.
	of, m := making(t, "quilt", "ninepatch", piece.Values{"columns": 2, "rows": 2, "square": 60}, "fabric")
	n := needOf(t, of.Needs(m), m, "squares in fives")
	assert.InDelta(t, .0825, n.Amount, 1e-9)
	assert.Equal(t, piece.MetreStep, n.Step)
	assert.Len(t, n.Cuts, 10)
	assert.Contains(t, n.Working[0], "10 squares: cut 7.5 × 7.5 cm")
	// The binding: round 50 × 50 cm with 25 cm is 225 cm, of 6.5 cm strips three: 19.5 cm, with 5%.
	bound := needOf(t, of.Needs(m), m, "binding")
	assert.InDelta(t, 3*6.5*1.05/100, bound.Amount, 1e-9)

	// Half-square triangles: the first bold triangles meet quiet ones alone, two of a square.
	of, m = making(t, "quilt", "triangles", piece.Values{"columns": 4, "rows": 4, "square": 100}, "fabric")
	n = needOf(t, of.Needs(m), m, "first triangles")
	assert.Contains(t, n.Working[0], "8 half-square triangles: cut 12.6 × 12.6 cm, 4 cut pieces")

	// A cloth 22 cm wide and 150 cm long at 4 ends in 10 mm: 22 / .87 = 25.29 cm in the reed,
	// 102 ends; (150 / .87 + 90) cm wound as 270: the warp of yarn A alone is 16 of 30 ends.
	of, m = making(t, "weaving", "cloth", nil, "yarn")
	n = needOf(t, of.Needs(m), m, "yarn A")
	ends := 3*16 + 12.0 // of 102 ends three whole orders and 12 of the fourth
	warp := ends * 2.7 * 1.05 / 5000 * 1000
	picks := math.Ceil(150 / .95 * 4)
	pick := .255 * 1.05
	whole := math.Floor(picks / 44)
	a := whole*40 + math.Min(40, picks-44*whole)
	weft := (a*pick + (whole+1)*.1) * 1.05 / 5000 * 1000
	assert.InDelta(t, warp+weft, n.Amount, .01)

	// Rows: 4 repeats of 6 rows of 110 stitches, of a swatch of 30 × 40 stitches that weighs
	// 6 g, and four times two tails of 15 cm, with 10%.
	of, m = making(t, "knitting or crochet", "rows", nil, "yarn")
	n = needOf(t, of.Needs(m), m, "stripe 1")
	assert.InDelta(t, (4*6*110*6.0/1200+4*.3/2.2)*1.1, n.Amount, 1e-9)

	// Soap: 10 bars of 75 × 95 × 25 mm are 1781.25 ml; × 1.02 with 3% 1871.4 g, of which the
	// first pour is 2/7, 70% oils, 6 g to a kilogram.
	of, m = making(t, "soap", "soap", nil, "soap colourant")
	n = needOf(t, of.Needs(m), m, "pour 1")
	assert.InDelta(t, 1781.25*1.02*1.03*2/7*.7*6/1000, n.Amount, 1e-3)
	m.Cards[0].Limit, m.Cards[0].LimitOf = 5, "g per kg of oils"
	assert.Contains(t, of.Needs(m)[0].Problem, "above the highest permitted rate 5")

	// A boat: what is seen × 3.2 all round × 1.2 relief, film 15/.35 µm, two coats, of which
	// 0.8 lands, with 10%.
	of, m = making(t, "painted models", "boat", nil, "paint")
	seen := m.AreasOf()[0] / 100
	n = of.Needs(m)[0]
	assert.InDelta(t, seen*3.2*1.2*15/.35*.0001*2/.8*1.1, n.Amount, 1e-6)

	// A foot of 60 × 60 × 10 mm: 36 cm³ with walls of 1.2 mm on 96 cm², the rest 15% full.
	of, m = making(t, "printed parts", "solid", nil, "filament")
	n = needOf(t, of.Needs(m), m, "foot")
	shell := 96 * .12
	assert.InDelta(t, (shell+(36-shell)*.15)*1.05*1.24, n.Amount, 1e-6)

	// A card: the trees, four of them, from sheets of A4 in their boxes.
	of, m = making(t, "cards", "scene", nil, "paper")
	n = needOf(t, of.Needs(m), m, "trees")
	assert.Equal(t, 1.0, n.Amount, "four alike of one sheet")
	for i := range m.Cards {
		m.Cards[i].Kind = "marker or pencil"
	}
	n = needOf(t, of.Needs(m), m, "sky")
	assert.InDelta(t, m.AreasOf()[0]/100*1.1/5000, n.Amount, 1e-9)

	// A front of parts: the door of two by four courses in wholes and halves, with 5%.
	of, m = making(t, "building parts", "house", nil, "building part")
	n = needOf(t, of.Needs(m), m, "door")
	parts := 0
	for _, r := range m.Piece.Regions {
		if m.Piece.Parts[r.Part].Key == "door" {
			parts++
		}
	}
	assert.GreaterOrEqual(t, n.Amount, float64(parts+1))

	// A dress: its top, drawn once and taken 2.4 times, of cloth 140 cm wide without selvedges, of
	// which three quarters become parts, before it shrinks by 5%; but not less than the top is long.
	of, m = making(t, "garment", "dress", nil, "fabric")
	n = needOf(t, of.Needs(m), m, "top")
	area := 2.4 * m.AreasOf()[0] / 100
	assert.InDelta(t, math.Max(area/(137*.75), 1.05*36)/.95/100, n.Amount, 1e-3)
	m.Cards[2].Kind = "notion"
	assert.Equal(t, 1.0, needOf(t, of.Needs(m), m, "collar").Amount, "what is no cloth is counted")
}
