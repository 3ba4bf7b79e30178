package craft

import (
	"fmt"
	"math"
	"slices"
	"strings"
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
		if of.Needs == nil { // Buy goes by areas there
			continue
		}
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
				// what is shared, or cut whole, is not twice as much
				if slices.Contains([]string{"quilt", "weaving", "building parts", "garment", "cards", "other"}, of.Name) {
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
	// The binding: round 50 × 50 cm with 25 cm is 225 cm, of 6.5 cm strips three: 19.5 cm, with 10% as all.
	bound := needOf(t, of.Needs(m), m, "binding")
	assert.InDelta(t, 3*6.5*1.1/100, bound.Amount, 1e-9)

	// Half-square triangles: the first bold triangles meet quiet ones alone, two of a square.
	of, m = making(t, "quilt", "triangles", piece.Values{"columns": 4, "rows": 4, "square": 100}, "fabric")
	n = needOf(t, of.Needs(m), m, "first triangles")
	assert.Contains(t, n.Working[0], "8 half-square triangles: cut 12.6 × 12.6 cm, 4 cut pieces")

	// A cloth of about 22 × 150 cm at 4 threads in 10 mm: three orders of 30 ends, 14 of 44 picks,
	// which are 154 cm; (154 × .95 / .87 + 90) cm wound as 260: yarn A has 16 of 30 ends.
	of, m = making(t, "weaving", "cloth", nil, "yarn")
	n = needOf(t, of.Needs(m), m, "yarn A")
	warp := 3 * 16 * 2.6 * 1.05 / 5000 * 1000
	weft := (14*40*.225*1.05 + 14*.1) * 1.05 / 5000 * 1000
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

	// A figure of 100 mm: 3.2 × 10² = 320 cm², shared as it is seen, × 1.2 relief, film
	// 15/.35 µm, two coats, of which 0.8 lands, with 10%. Never less than 0.1 ml.
	of, m = making(t, "painted models", "figure", piece.Values{"height": 100}, "paint")
	seen := m.AreasOf()
	n = of.Needs(m)[2]
	assert.InDelta(t, 320*seen[2]/m.Piece.Area()*1.2*15/.35*.0001*2/.8*1.1, n.Amount, 1e-6)
	assert.InDelta(t, n.Amount/11, n.Spare, 1e-9)
	_, small := making(t, "painted models", "figure", piece.Values{"height": 28}, "paint")
	assert.InDelta(t, .1, of.Needs(small)[4].Amount, 1e-9, "a belt")
	m.Asked["surface"] = 160
	assert.InDelta(t, n.Amount*160/320, of.Needs(m)[2].Amount, 1e-9, "measured")
	m.Asked["surface"], m.Asked["shape"], m.Asked["high"] = 0, 5, 100
	assert.InDelta(t, n.Amount*500/320, of.Needs(m)[2].Amount, 1e-9, "like a building, 10 cm high")
	// Of a mesh the surface is its own, and its relief in it: 96 cm² of the foot.
	_, solid := making(t, "printed parts", "solid", nil, "paint")
	solid.Asked = piece.Usual(of.Asks, nil)
	n = of.Needs(solid)[0]
	assert.InDelta(t, 96*15/.35*.0001*2/.8*1.1, n.Amount, 1e-6)
	assert.Contains(t, n.Working[0], "surface of the mesh")

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
	high := piece.Piece{Parts: m.Piece.Parts, Regions: m.Piece.Regions, Sliced: true}.Cutouts()[0]
	top, foot := math.Inf(1), math.Inf(-1)
	for _, q := range high.Outline {
		top, foot = min(top, q.Y), max(foot, q.Y)
	}
	assert.InDelta(t, 378-top, foot-top, 1e-6, "it ends 1.05 × 36 cm below the shoulder")
	assert.InDelta(t, math.Max(area/(137*.75), (foot-top)/10)/.95/100, n.Amount, 1e-3)
	m.Cards[2].Kind = "notion"
	assert.Equal(t, 1.0, needOf(t, of.Needs(m), m, "neckline").Amount, "what is no cloth is counted")
}

// Every craft takes every pattern, its own or another's, and every choice of what it asks,
// and says an amount or why not.
func TestEveryCraftTakesEveryPattern(t *testing.T) {
	for _, of := range All() {
		for _, p := range Patterns() {
			if of.OwnOnly && !of.Owns(p.Key) {
				continue
			}
			_, m := making(t, "other", p.Key, nil, of.Kinds[0])
			for _, a := range of.Asks {
				for v := 0.0; v <= a.Max && a.Choices != nil; v++ {
					m.Asked = piece.Usual(of.Asks, piece.Values{a.Key: v})
					for _, n := range of.Needs(m) {
						assert.False(t, n.Amount > 0 && n.Problem != "", "%s %s", of.Name, p.Key)
						assert.LessOrEqual(t, n.Spare, n.Amount+1e-9, "%s %s %s %g", of.Name, p.Key, a.Key, v)
					}
				}
			}
		}
	}
}

func rowsOf(t *testing.T, of piece.Craft, key, text string) map[string][]piece.Row {
	t.Helper()
	for _, l := range of.Lists {
		if l.Key == key {
			rows, err := l.Read(text)
			require.NoError(t, err)
			return map[string][]piece.Row{key: rows}
		}
	}
	require.Fail(t, "no list "+key)
	return nil
}

// What the maker has written down goes before what is drawn.
func TestListsOfTheMakersOwn(t *testing.T) {
	of, m := making(t, "garment", "dress", nil, "fabric")
	// Front and back of 2600 cm², two each: 10400 / (137 × .75) = 101.2 cm; but two of 48 lie on 137
	// and a third does not, so that two rows of 72 are 144 cm, / .95 = 151.6 cm.
	m.Lists = rowsOf(t, of, "parts",
		"part;cloth;length;width;how many;area\nfront;top;72;48;2;2600\nback;Top;72;48,0;2;2600\nfront;lining;70;46;2\n")
	n := needOf(t, of.Needs(m), m, "top")
	assert.InDelta(t, 1.44/.95, n.Amount, 1e-9)
	assert.Len(t, n.Cuts, 4)
	assert.Equal(t, piece.Cut{X: 1.5 + 48, Y: 0, W: 48, H: 72}, n.Cuts[1], "two side by side within the selvedges")
	assert.Equal(t, 72.0, n.Cuts[2].Y)
	lining := needOf(t, of.Needs(m), m, "Lining")
	assert.InDelta(t, .7/.95, lining.Amount, 1e-9, "6440 cm² would be 63 cm, and it is 70 long")
	assert.Positive(t, needOf(t, of.Needs(m), m, "belt").Amount, "nothing is written of it")
	m.Asked["lining"], m.Asked["buttons"], m.Asked["bias"], m.Asked["facing"], m.Times = 80, 6, 420, 1350, 2
	assert.InDelta(t, 1.4/.95, needOf(t, of.Needs(m), m, "Lining").Amount, 1e-9, "what is written goes before")
	assert.Equal(t, 12.0, needOf(t, of.Needs(m), m, "Buttons").Amount)
	assert.InDelta(t, .4, needOf(t, of.Needs(m), m, "Interfacing").Amount, 1e-9)
	// 840 cm of 4 cm with 10% are 3696 cm², a square of 61 cm.
	assert.InDelta(t, .61, needOf(t, of.Needs(m), m, "Cloth for bias binding").Amount, 1e-9)
	// Of cloth 140 cm wide the row of 115 counts: 2.5 m, / .95.
	m.Times, m.Lists = 1, rowsOf(t, of, "envelope", "top, 115, 2.5\ntop, 150, 1.8")
	n = needOf(t, of.Needs(m), m, "top")
	assert.InDelta(t, 2.5/.95, n.Amount, 1e-9)
	assert.Contains(t, n.Warnings[0], "narrower cloth was taken")
	m.Asked["width"] = 100
	assert.Contains(t, needOf(t, of.Needs(m), m, "top").Problem, "no length for cloth as narrow as 100 cm")

	// 36 × 2 = 72 and 4 spare, 110 × 2 = 220 and 11; trim has no card.
	of, m = making(t, "building parts", "house", nil, "building part")
	m.Times, m.Lists = 2, rowsOf(t, of, "pieces", "flat 2 × 4, walls, 36\ntile, walls, 110\ntile, trim, 10\n")
	n = needOf(t, of.Needs(m), m, "walls")
	assert.Equal(t, 72.0+4+220+11, n.Amount)
	assert.Equal(t, 15.0, n.Spare)
	assert.Equal(t, []piece.Size{{Part: "tile", Count: 231}, {Part: "flat 2 × 4", Count: 76}}, n.Sizes)
	assert.Equal(t, 21.0, needOf(t, of.Needs(m), m, "trim").Amount)
	assert.Zero(t, needOf(t, of.Needs(m), m, "door").Amount, "what is drawn no longer counts")

	for text, want := range map[string]string{
		"front, top, 72, 48, 2.5":        `line 1: "how many" is "2.5": write a whole number from 0, up to 1000`,
		"part, cloth\nfront, , 72, 48":   `line 2: "cloth" is empty`,
		"front, top, 0, 48":              "above 0, up to 1000",
		"front, top, 72, 48, 1, 1, 1":    "there are 7 columns",
		"\"front":                        "quotation marks",
		"":                               "the list is empty",
		"part, cloth, length, width":     "the list is empty",
		strings.Repeat("a, b, 1\n", 9e3): "longer than 64 kB",
	} {
		parts, _ := Named("garment")
		_, err := parts.Lists[0].Read(text)
		assert.ErrorContains(t, err, want, text)
	}
}

// What is printed in one go flushes at every change; moulds, card bases, fat quarters and
// gauges by hand.
func TestMoreOfWhatIsAsked(t *testing.T) {
	// Foot, body and lid one above the other: two changes of 200 mm³ of 1.24 g, none into the foot.
	of, m := making(t, "printed parts", "solid", nil, "filament")
	apart := of.Needs(m)
	m.Asked["apart"], m.Times = 1, 3
	for i, n := range of.Needs(m) {
		assert.InDelta(t, 3*apart[i].Amount+3*.248*math.Min(1, float64(i)), n.Amount, 1e-9)
	}
	// A box of 25 × 8 × 6.5 cm: 1300 ml × 1.02 with 3%, 70% oils, 6 g to a kilogram, of which 2/7.
	of, m = making(t, "soap", "soap", nil, "soap colourant")
	m.Asked["mould"] = 1
	assert.InDelta(t, 1300*1.02*1.03*2/7*.7*6/1000, of.Needs(m)[0].Amount, 1e-9)
	m.Asked["mould"] = 2
	assert.InDelta(t, math.Pi*49*6.5/4*1.02*1.03*2/7*.7*6/1000, of.Needs(m)[0].Amount, 1e-9)
	m.Asked["mould"], m.Asked["m_many"] = 3, 13
	assert.InDelta(t, 1300*1.02*1.03*2/7*.7*6/1000, of.Needs(m)[0].Amount, 1e-9)
	// Folded 296 × 105 mm, twenty and one spoilt.
	of, m = making(t, "cards", "scene", nil, "paper")
	m.Asked["base"], m.Times = 1, 20
	assert.Equal(t, 21.0, needOf(t, of.Needs(m), m, "Card base").Amount, "two and a gap of 3 mm are wider than a sheet")
	m.Asked["gap"] = 0
	assert.Equal(t, 11.0, needOf(t, of.Needs(m), m, "Card base").Amount)
	// 10 squares cut 7.5 cm and one spare of a fat quarter of 53 × 50 cm.
	of, m = making(t, "quilt", "ninepatch", piece.Values{"columns": 2, "rows": 2, "square": 60}, "fabric")
	m.Asked["sold"] = 2
	n := needOf(t, of.Needs(m), m, "squares in fives")
	assert.Equal(t, piece.FatQuarter, n.Amount)
	assert.Equal(t, piece.FatQuarter, n.Step)
	// A swatch of 30 stitches and 40 rows, 15 × 14 cm: 5 mm and 3.5 mm.
	of, m = making(t, "knitting or crochet", "rows", nil, "yarn")
	assert.Nil(t, of.Fit(m))
	m.Asked["sw_w"], m.Asked["sw_h"] = 15, 14
	fit := of.Fit(m)
	require.NotNil(t, fit)
	assert.Equal(t, piece.Values{"stitch": 5, "row": 3.5}, fit.Settings)
	assert.Contains(t, fit.Words, "20 stitches and 28.6 rows in 10 cm")
	assert.Contains(t, fit.Words, "11% wider and 9% longer")
	m.Values["stitch"], m.Values["row"] = 5, 3.5
	assert.Nil(t, of.Fit(m))
	// 20 wraps in an inch: plain weave 10 in an inch, 4 in a cm; 2/2 twill 13.3, 5.
	of, m = making(t, "weaving", "cloth", piece.Values{"structure": 1}, "yarn")
	assert.Nil(t, of.Fit(m))
	m.Asked["wpi"] = 20
	assert.Nil(t, of.Fit(m), "4 is near 5")
	m.Values["ends"] = 3
	assert.Equal(t, piece.Values{"ends": 5}, of.Fit(m).Settings)
	assert.Contains(t, of.Needs(m)[0].Working, "What the eye blends")
}

// What is laid one over another is cut and counted whole, not slice by slice.
func TestSlicesAreCutWhole(t *testing.T) {
	of, m := making(t, "garment", "waistcoat", nil, "fabric")
	m.Cards[4].Kind = "notion"
	assert.Equal(t, 5.0, needOf(t, of.Needs(m), m, "buttons").Amount)
	_, m = making(t, "quilt", "waistcoat", nil, "fabric")
	quilts, _ := Named("quilt")
	m.Asked = piece.Usual(quilts.Asks, nil)
	n := needOf(t, quilts.Needs(m), m, "buttons")
	assert.Contains(t, n.Working[0], "5 shapes cut with a template")
	// Discs of 18 mm with a seam of 0.75 cm round: a row of 3.305 cm, with 10% 3.636 cm, and 5 cm are cut at least.
	assert.Contains(t, n.Working[2], "3.636 cm")
	assert.Equal(t, .05, n.Amount)
	back := 0.0
	for _, c := range m.Piece.Cutouts() {
		if c.Part == 1 {
			back += c.Area
		}
	}
	assert.InDelta(t, m.Piece.Areas()[1], back, 1e-3, "what is seen of the back")
	_, m = making(t, "quilt", "cloth", nil, "fabric")
	m.Asked = piece.Usual(quilts.Asks, nil)
	assert.Contains(t, needOf(t, quilts.Needs(m), m, "yarn A").Working[0], "1 shape cut with a template")
}

// Where no formula is given a plain rule is: thread along half of all outlines, tape round
// what is stuck on.
func TestPlainRules(t *testing.T) {
	of, m := making(t, "quilt", "strips", nil, "fabric")
	round := 0.0
	for _, r := range m.Piece.Regions {
		round += r.Round()
	}
	n := needOf(t, of.Needs(m), m, "Piecing thread")
	assert.InDelta(t, round/2/1000*2.5*1.15, n.Amount, 1e-6, "2.5 m a metre of seam, with 15%")
	assert.InDelta(t, n.Amount/1.15*.15, n.Spare, 1e-6)
	of, m = making(t, "cards", "scene", nil, "paper")
	round = 0
	for _, r := range m.Piece.Regions {
		round += r.Round()
	}
	assert.InDelta(t, round/1000/10, needOf(t, of.Needs(m), m, "Double-sided tape").Amount, 1e-9)
	for i := range m.Cards {
		m.Cards[i].Kind = marker
	}
	for _, n := range of.Needs(m) {
		assert.NotEqual(t, "Double-sided tape", n.Name, "nothing is cut")
	}
}

const marker = "marker or pencil"

// Prints that must match, hems and motifs by hand.
func TestPrintsAndHems(t *testing.T) {
	of, m := making(t, "garment", "dress", nil, "fabric")
	m.Lists = rowsOf(t, of, "parts", "front,top,72,48,2,2600\nback,top,72,48,2,2600")
	m.Asked["repeat"], m.Asked["match"] = 24, 4
	assert.InDelta(t, (144+96)/.95/100, needOf(t, of.Needs(m), m, "top").Amount, 1e-9)
	// A strip of 7.5 cm takes a whole motif of 20 cm, and the first cut is up to one away.
	of, m = making(t, "quilt", "ninepatch", piece.Values{"columns": 2, "rows": 2, "square": 60}, "fabric")
	m.Asked["motif"] = 20
	assert.InDelta(t, (20+20)*1.1/100, needOf(t, of.Needs(m), m, "squares in fives").Amount, 1e-9)
	of, m = making(t, "weaving", "cloth", nil, "yarn")
	bare := needOf(t, of.Needs(m), m, "yarn D").Amount
	m.Asked["hem"] = 5
	assert.InDelta(t, bare*160/150, needOf(t, of.Needs(m), m, "yarn D").Amount, bare*.15, "ten centimetres more of picks")
}

// A binding of 10 cm by two sides of 100 and 140 cm: what binds three sides and what binds one take
// what their sides are long.
func TestABindingOfTwoCards(t *testing.T) {
	of, whole := making(t, "quilt", "star", nil, "fabric")
	all := needOf(t, of.Needs(whole), whole, "binding")
	m := whole
	m.Piece = m.Piece.Divided([]piece.Split{{Part: "binding", Kind: piece.Left}})
	m.Of, m.Cards = append(slices.Clone(m.Of), len(m.Cards)), append(slices.Clone(m.Cards), piece.Taken{Name: "moss", Kind: "fabric"})
	wide, high := m.Piece.Width/10, m.Piece.Height/10
	rest, left := needOf(t, of.Needs(m), m, "binding"), needOf(t, of.Needs(m), m, "moss")
	assert.Empty(t, left.Problem)
	assert.Contains(t, strings.Join(left.Working, "; "), fmt.Sprintf("length = %g along the sides it binds", high))
	assert.Contains(t, strings.Join(rest.Working, "; "), fmt.Sprintf("length = %g along the sides it binds", 2*wide+high))
	assert.Less(t, left.Amount, rest.Amount)
	assert.GreaterOrEqual(t, left.Amount+rest.Amount, all.Amount, "two chains take a join more")
}

// Stitches of a card of their own are thread by their length, and the cloth below them stays whole.
func TestStitchesAreThread(t *testing.T) {
	of, whole := making(t, "garment", "jacket", nil, "fabric")
	cloth := needOf(t, of.Needs(whole), whole, "pockets")
	m := whole
	m.Piece = m.Piece.Divided([]piece.Split{{Part: "pockets", Kind: piece.Stitching}})
	m.Of, m.Cards = append(slices.Clone(m.Of), len(m.Cards)), append(slices.Clone(m.Cards), piece.Taken{Name: "moss thread", Kind: "thread"})
	all := of.Needs(m)
	thread := needOf(t, all, m, "moss thread")
	assert.Equal(t, "thread", thread.Kind)
	round := 0.0
	for _, c := range m.Piece.Cutouts() {
		if m.Piece.Parts[c.Part].Key == "pockets--stitching" {
			round += c.Round() / 1000
		}
	}
	assert.InEpsilon(t, round*2.5*1.15, thread.Amount, 1e-9, "2.5 times its length, and 15% for tails")
	assert.InEpsilon(t, cloth.Amount, needOf(t, all, m, "pockets").Amount, 1e-6)
}
