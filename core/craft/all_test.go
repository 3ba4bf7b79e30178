package craft

import (
	"math"
	"reflect"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/material"
	"lampfern/core/piece"
)

// silhouettes do not fill their rectangle.
var silhouettes = []string{"jumper", "dress", "jacket", "waistcoat", "boat", "figure", "van", "house", "pot"}

func TestEveryPatternCoversItsPieceOnce(t *testing.T) {
	for _, tpl := range Patterns() {
		if slices.Contains([]string{"cloth", "stranded", "poured", "solid"}, tpl.Key) {
			continue // of cells, which cannot overlap
		}
		sets := []piece.Values{nil, {}, {}, {"columns": 2, "rows": 3, "strips": 12}, {"sash": 60, "binding": 60, "block": 61.5}}
		for _, s := range tpl.Settings {
			sets[1][s.Key], sets[2][s.Key] = s.Min, s.Max
			for i := range s.Choices {
				sets = append(sets, piece.Values{s.Key: float64(i)})
			}
		}
		for _, set := range sets {
			for _, s := range tpl.Settings { // what a made-up set leaves out of range takes its default
				if v, given := set[s.Key]; given && (v < s.Min || v > s.Max) {
					delete(set, s.Key)
				}
			}
			p, err := tpl.Build(set, nil)
			require.NoError(t, err)
			sum, area := 0.0, 0.0
			for i, s := range p.Shares() {
				assert.Positive(t, s, "%s %v: %s", tpl.Name, set, p.Parts[i].Name)
				sum += s
			}
			assert.InDelta(t, 1, sum, 1e-9, tpl.Name)
			for _, r := range p.Regions {
				area += r.Area()
				for _, q := range r.Outline {
					assert.True(t, q.X > -1e-6 && q.Y > -1e-6 && q.X < p.Width+1e-6 && q.Y < p.Height+1e-6, "%s %v lies outside", tpl.Name, set)
				}
			}
			if !slices.Contains(silhouettes, tpl.Key) {
				assert.InEpsilon(t, p.Width*p.Height, area, 1e-9, "%s %v", tpl.Name, set)
			}
			// What the grid finds covered is what the polygons add up to, so
			// nothing overlaps and nothing within is left out.
			cell, covered := max(p.Width, p.Height)/900, 0
			labels, _, _ := p.Grid(900)
			for _, label := range labels {
				if label >= 0 {
					covered++
				}
			}
			assert.InEpsilon(t, area, float64(covered)*cell*cell, 0.012, "%s %v", tpl.Name, set)
		}
	}
}

func TestAreasInClosedForm(t *testing.T) {
	disc := func(r float64) float64 { return math.Pi * r * r }
	for _, c := range []struct {
		pattern string
		set     piece.Values
		areas   []float64 // mm², in order of parts
	}{
		{"ninepatch", piece.Values{"columns": 3, "rows": 3, "square": 10, "border": 20, "binding": 5},
			[]float64{5 * 5 * 100, 5 * 4 * 100, 4 * 900, 130*130 - 90*90, 140*140 - 130*130}},
		{"triangles", piece.Values{"columns": 4, "rows": 4, "square": 50, "border": 10, "binding": 5, "setting": 2},
			[]float64{8 * 1250, 8 * 1250, 16 * 1250, 220*220 - 200*200, 230*230 - 220*220}},
		{"geese", piece.Values{"columns": 2, "rows": 4, "goose": 100, "sash": 20, "binding": 10},
			[]float64{4 * 2500, 4 * 2500, 8 * 2500, 3 * 20 * 200, 280*220 - 260*200}},
		// A heart of 20 with two rounds of 10: light logs 20·10 + 30·10, then 40·10 + 50·10.
		{"logcabin", piece.Values{"columns": 2, "rows": 2, "rounds": 2, "log": 10, "heart": 20, "binding": 5, "setting": 2},
			[]float64{4 * 400, 4 * 500, 4 * 900, 4 * 700, 4 * 1100, 130*130 - 120*120}},
		{"star", piece.Values{"columns": 2, "rows": 1, "block": 80, "sash": 10, "binding": 5},
			[]float64{2 * 1600, 2 * 1600, 2 * 3200, 7 * 800, 6 * 100, 200*110 - 190*100}},
		{"rows", piece.Values{"colours": 3, "repeats": 2, "rows": 9, "order": 1, "stitches": 100, "stitch": 4, "row": 3},
			[]float64{2 * 27 * 400, 2 * 9 * 400, 2 * 27 * 400}},
		{"granny", piece.Values{"across": 2, "down": 1, "rounds": 3, "round": 10, "joining": 4, "order": 1},
			[]float64{400 + 2000, 2 * 1200, 2000 + 400, 132*68 - 2*3600}},
		{"soap", piece.Values{"width": 70, "height": 70, "pours": 0, "drops": 2}, []float64{20 * 70, 30 * 70, 20*70 - 2*disc(6), 2 * disc(6)}},
		{"pot", piece.Values{"width": 100, "height": 60, "rings": 2, "rim": 5}, []float64{13 * 16, 62 * 18, 500, 88 * 30, 76 * 30, 75 * 8}},
	} {
		p, err := built(c.pattern, c.set)
		require.NoError(t, err)
		require.Len(t, p.Areas(), len(c.areas), c.pattern)
		for i, a := range p.Areas() {
			assert.InEpsilon(t, c.areas[i], a, 1e-9, "%s: %s", c.pattern, p.Parts[i].Name)
		}
	}
}

// Parts that nothing covers have the area of their own outlines.
func TestPartsThatLieOnTopInClosedForm(t *testing.T) {
	disc := func(r float64) float64 { return math.Pi * r * r }
	for _, c := range []struct {
		pattern string
		set     piece.Values
		areas   piece.Values // mm², by part
	}{
		// A van of 1000 mm, 520 high: wheels of .19 × 520, hubs half as large.
		{"van", piece.Values{"length": 1000}, piece.Values{"tyres": 2 * (disc(98.8) - disc(49.4)), "hubs": 2 * disc(49.4)}},
		// Welts of .22 × 500 wide and .04 × 580 high, each a parallelogram.
		{"waistcoat", piece.Values{"chest": 500, "length": 580, "buttons": 4, "button": 20},
			piece.Values{"pockets": 2 * 110 * 23.2, "buttons": 4 * disc(10)}},
		// A belt from .244 to .246 of the height wide, .03 high.
		{"figure", piece.Values{"height": 200}, piece.Values{"belt": 200 * 200 * .03 * (.244 + .246) / 2}},
	} {
		p, err := built(c.pattern, c.set)
		require.NoError(t, err)
		for i, part := range p.Parts {
			if want, given := c.areas[part.Key]; given {
				assert.InEpsilon(t, want, p.Areas()[i], 1e-9, "%s %s", c.pattern, part.Name)
			}
		}
	}
}

func TestContoursJoinTheSlices(t *testing.T) {
	for _, pattern := range []string{"waistcoat", "figure", "van"} {
		p, err := built(pattern, nil)
		require.NoError(t, err)
		areas := p.Areas()
		for i, contours := range p.Contours() {
			signed := 0.0 // holes run the other way
			for _, c := range contours {
				for k, a := range c {
					b := c[(k+1)%len(c)]
					signed += (a.X*b.Y - b.X*a.Y) / 2
				}
			}
			assert.InEpsilon(t, areas[i], signed, 1e-6, "%s %s", pattern, p.Parts[i].Name)
			assert.LessOrEqual(t, len(contours), 14, "%s %s is not in slices", pattern, p.Parts[i].Name)
		}
	}
}

func TestCurtainAreasByHand(t *testing.T) {
	// Two by two blocks of 100 mm with 10 mm sashing: 230 × 230 mm, two of each
	// block. Peak 0.5·100·90 = 4500 less its spark 0.48² of it = 1036.8.
	p, err := built("curtain", piece.Values{"columns": 2, "rows": 2, "block": 100, "sash": 10})
	require.NoError(t, err)
	assert.InDelta(t, 230, p.Width, 1e-9)
	areas := p.Areas()
	assert.InDelta(t, 2*(10000-4500)+2*5000, areas[0], 1e-6, "ground")
	assert.InDelta(t, 2*(4500-1036.8), areas[1], 1e-6, "peaks")
	assert.InDelta(t, 2*5000, areas[2], 1e-6, "hourglasses")
	assert.InDelta(t, 2*1036.8, areas[3], 1e-6, "sparks")
	assert.InDelta(t, 230*230-4*10000, areas[4], 1e-6, "sashing")
}

func TestResizeFindsTheLength(t *testing.T) {
	// Five strips of 120 × 420 mm: a binding of b takes 1 − 252000/((600+2b)(420+2b)).
	// For a fifth of the whole, b is near 30.5 mm.
	binding := func(part string) bool { return part == "binding" }
	strips, err := Pattern("strips")
	require.NoError(t, err)
	got, ok := piece.Resize(strips, piece.Values{"binding": 10}, nil, binding, .2)
	require.True(t, ok)
	assert.Equal(t, "binding", got.Setting.Key)
	assert.InDelta(t, .2, got.Share, .002)
	assert.InDelta(t, 1-252000/((600+2*got.To)*(420+2*got.To)), got.Share, 1e-9)
	assert.Equal(t, 10.0, got.From)

	_, ok = piece.Resize(strips, piece.Values{"binding": 10}, nil, binding, got.Share/100)
	assert.True(t, ok, "as near as its smallest allows")
}

func TestResizeReachesWhatTheSashingCan(t *testing.T) {
	curtain, err := Pattern("curtain")
	require.NoError(t, err)
	got, ok := piece.Resize(curtain, piece.Values{"columns": 7, "rows": 5, "block": 200, "sash": 12}, nil,
		func(part string) bool { return part == "sashing" }, .3)
	require.True(t, ok)
	assert.InDelta(t, .3, got.Share, .005)
	p, err := curtain.Build(piece.Values{"columns": 7, "rows": 5, "block": 200, "sash": 12, got.Setting.Key: got.To}, nil)
	require.NoError(t, err)
	assert.InDelta(t, got.Share, p.Shares()[4], 1e-12)
}

func TestBuildRefusesInPlainWords(t *testing.T) {
	_, err := built("curtain", piece.Values{"columns": 2.5})
	assert.EqualError(t, err, "blocks across: choose a whole number from 2 to 12, not 2.5")
	_, err = built("strips", piece.Values{"width": 9000})
	assert.ErrorContains(t, err, "from 10 to 400")
	_, err = built("tent", nil)
	assert.ErrorContains(t, err, "no piece called")
}

// What makers put into patterns is kept in one object: no two patterns may use one
// name. Kinds of material are those that materials have.
func TestCraftsAgree(t *testing.T) {
	fields, keys, names := map[string]string{}, map[string]bool{}, map[string]bool{}
	for _, c := range All() {
		assert.False(t, names[c.Name], c.Name)
		names[c.Name] = true
		assert.NotEmpty(t, c.Kinds, c.Name)
		assert.Subset(t, material.Kinds(), c.Kinds, c.Name)
		assert.True(t, 1 < c.From && c.From <= c.To, c.Name)
		for _, p := range c.Patterns {
			assert.False(t, keys[p.Key], p.Key)
			keys[p.Key] = true
			if p.Input == nil {
				continue
			}
			require.NoError(t, p.Input().Check(), "%s: an empty input", p.Key)
			of := reflect.TypeOf(p.Input()).Elem()
			for i := range of.NumField() {
				name, rest, _ := strings.Cut(of.Field(i).Tag.Get("json"), ",")
				assert.Equal(t, "omitempty", rest, "%s: %s", p.Key, name)
				assert.Empty(t, fields[name], "%s and %s both keep %q", p.Key, fields[name], name)
				fields[name] = p.Key
			}
		}
	}
	assert.True(t, len(fields) >= 8 && len(keys) >= 24)
}

// built is a piece of a pattern, with nothing put in.
func built(key string, set piece.Values) (piece.Piece, error) {
	p, err := Pattern(key)
	if err != nil {
		return piece.Piece{}, err
	}
	return p.Build(set, nil)
}
