package mesh

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// box is a closed box at a corner, its triangles loose.
func box(at Vec, w, d, h float64) []Vec {
	p := func(i, j, k float64) Vec { return at.plus(Vec{i * w, j * d, k * h}) }
	quad := func(a, b, c, e Vec) []Vec { return []Vec{a, b, c, a, c, e} }
	var out []Vec
	for _, q := range [][]Vec{
		quad(p(0, 0, 0), p(0, 1, 0), p(1, 1, 0), p(1, 0, 0)), quad(p(0, 0, 1), p(1, 0, 1), p(1, 1, 1), p(0, 1, 1)),
		quad(p(0, 0, 0), p(1, 0, 0), p(1, 0, 1), p(0, 0, 1)), quad(p(0, 1, 0), p(0, 1, 1), p(1, 1, 1), p(1, 1, 0)),
		quad(p(0, 0, 0), p(0, 0, 1), p(0, 1, 1), p(0, 1, 0)), quad(p(1, 0, 0), p(1, 1, 0), p(1, 1, 1), p(1, 0, 1)),
	} {
		out = append(out, q...)
	}
	return out
}

// ball is a sphere of n × 2n facets.
func ball(n int, r float64) []Vec {
	at := func(i, j int) Vec {
		s, c := math.Sincos(math.Pi * float64(i) / float64(n))
		t, d := math.Sincos(math.Pi * float64(j%(2*n)) / float64(n))
		if i == 0 || i == n { // one place for each pole
			return Vec{0, 0, r * c}
		}
		return Vec{r * s * d, r * s * t, r * c}
	}
	var out []Vec
	for i := range n {
		for j := range 2 * n {
			out = append(out, at(i, j), at(i+1, j), at(i+1, j+1), at(i, j), at(i+1, j+1), at(i, j+1))
		}
	}
	return out
}

func TestSurfaceAndVolumeInClosedForm(t *testing.T) {
	b := Welded("box", box(Vec{5, -3, 100}, 2, 3, 7))
	assert.Len(t, b.Vertices, 8)
	assert.InEpsilon(t, 2*(2*3+3*7+7*2), b.Surface(), 1e-9)
	assert.InEpsilon(t, 42, b.Volume(), 1e-9)
	assert.True(t, b.Closed())
	// A pyramid over a square: a third of base times height.
	o, p, q, r, tip := Vec{}, Vec{4, 0, 0}, Vec{4, 4, 0}, Vec{0, 4, 0}, Vec{2, 2, 9}
	hair := box(Vec{5, -3, 100}, 2, 3, 7)
	for i := range hair {
		hair[i].X += float64(i%3-1) * 1e-12
		hair[i].Y += 0.5e-6 // on the face between two cells
	}
	assert.True(t, Welded("hair", hair).Closed(), "corners a hair apart are one")
	apart := Body{Vertices: hair}
	for i := range int32(12) {
		apart.Triangles = append(apart.Triangles, [3]int32{3 * i, 3*i + 1, 3*i + 2})
	}
	assert.False(t, apart.Closed())
	apart.Weld()
	assert.True(t, apart.Closed())
	assert.Len(t, apart.Vertices, 8)
	pyramid := Welded("pyramid", []Vec{o, q, p, o, r, q, o, p, tip, p, q, tip, q, r, tip, r, o, tip})
	assert.True(t, pyramid.Closed())
	assert.InEpsilon(t, 4*4*9./3, pyramid.Volume(), 1e-9)
	open := Welded("open", box(Vec{}, 1, 1, 1)[3:])
	assert.False(t, open.Closed(), "one triangle is missing")
	s := Welded("ball", ball(60, 10))
	assert.True(t, s.Closed())
	assert.InEpsilon(t, 4./3*math.Pi*1000, s.Volume(), .005)
}

func TestShellsOfAnAssembly(t *testing.T) {
	loose := append(box(Vec{20, 0, 0}, 1, 1, 1), append(ball(8, 1), box(Vec{9, 9, 9}, 1, 2, 3)...)...)
	parts := Welded("pot", loose).Shells(40)
	require.Len(t, parts, 3)
	assert.Equal(t, "pot 1", parts[0].Name)
	assert.Greater(t, len(parts[0].Triangles), len(parts[1].Triangles))
	sum := 0.0
	for _, p := range parts {
		assert.True(t, p.Closed())
		sum += p.Volume()
	}
	assert.InDelta(t, 7+Welded("", ball(8, 1)).Volume(), sum, 1e-9)
	few := Welded("pot", loose).Shells(2)
	require.Len(t, few, 2)
	assert.Equal(t, "small pieces", few[1].Name)
	assert.Len(t, Welded("one", box(Vec{}, 1, 1, 1)).Shells(40), 1)
}

func TestWhatIsSeenFromAllRound(t *testing.T) {
	// A box of 1 within one of 10 is never seen; a cube shows all its faces alike.
	inner, outer := Welded("in", box(Vec{4, 4, 4}, 1, 1, 1)), Welded("out", box(Vec{}, 10, 10, 10))
	m := Mesh{Bodies: []Body{inner, outer}}
	require.NoError(t, m.Check())
	count := map[int16]int{}
	for _, d := range Round(26) {
		for _, b := range m.Look(d, 90) {
			count[b]++
		}
	}
	assert.Zero(t, count[0])
	// By Cauchy's formula the mean shadow of a convex body is a quarter of its surface.
	perPlace := math.Pow(2*math.Sqrt(300)/2/90, 2)
	assert.InEpsilon(t, 600./4, float64(count[1])/26*perPlace, .03)
	// Seen along z, the box is 10 of 17.32 wide.
	top := m.Look(Vec{0, 0, 1}, 100)
	n := 0
	for _, b := range top[50*100 : 51*100] {
		if b == 1 {
			n++
		}
	}
	assert.InDelta(t, 57.7, n, 1.5)
	for _, d := range Round(26) {
		assert.InDelta(t, 1, d.length(), 1e-9)
	}
}

func TestCoarseKeepsTheForm(t *testing.T) {
	fine := Mesh{Bodies: []Body{Welded("ball", ball(160, 10))}}
	require.Greater(t, fine.Triangles(), 80_000)
	c := fine.Coarse(20_000)
	assert.LessOrEqual(t, c.Triangles(), 20_000)
	assert.Greater(t, c.Triangles(), 4_000)
	assert.InEpsilon(t, fine.Bodies[0].Volume(), c.Bodies[0].Volume(), .03)
	small := Mesh{Bodies: []Body{Welded("box", box(Vec{}, 1, 1, 1))}}
	assert.Equal(t, small, small.Coarse(100))
}

func TestMeshesThatCannotBeUsed(t *testing.T) {
	assert.ErrorContains(t, Mesh{}.Check(), "no triangles")
	bad := Mesh{Bodies: []Body{{Vertices: []Vec{{X: math.NaN()}, {}, {}}, Triangles: [][3]int32{{0, 1, 2}}}}}
	assert.ErrorContains(t, bad.Check(), "not a number")
	bad.Bodies[0].Vertices[0].X = 1e9
	assert.ErrorContains(t, bad.Check(), "check the unit")
	bad.Bodies[0].Vertices[0].X, bad.Bodies[0].Triangles[0][1] = 1, 7
	assert.ErrorContains(t, bad.Check(), "corner is missing")
	assert.ErrorContains(t, Mesh{Bodies: make([]Body, 41)}.Check(), "no triangles")
}

func BenchmarkLookRound200k(b *testing.B) {
	m := Mesh{Bodies: []Body{Welded("ball", ball(224, 10))}}
	for b.Loop() {
		for _, d := range Round(26) {
			m.Look(d, 110)
		}
	}
}

func BenchmarkCoarse200k(b *testing.B) {
	m := Mesh{Bodies: []Body{Welded("ball", ball(224, 10))}}
	for b.Loop() {
		m.Coarse(30_000)
	}
}
