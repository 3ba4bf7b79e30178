package card

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/colour"
)

func TestSheets(t *testing.T) {
	for key, want := range map[string]int{"a4": 10, "letter": 9} {
		p, err := FindPaper(key)
		require.NoError(t, err)
		l, err := Lay(p, Sizes()[0])
		require.NoError(t, err)
		p = l.Paper
		assert.Equal(t, want, l.PerSheet(), key)
		assert.Equal(t, []int{0, 1, 1, 2}, []int{l.Sheets(0), l.Sheets(1), l.Sheets(want), l.Sheets(want + 1)})
		for i := range want {
			at := l.At(i)
			assert.GreaterOrEqual(t, at.X, markRoom)
			assert.LessOrEqual(t, at.X+l.Size.Width, p.Width-markRoom+1e-9)
			assert.LessOrEqual(t, at.Y+l.Size.Height, p.Height-markRoom+1e-9)
		}
		assert.Equal(t, l.At(0), l.At(want), "the next sheet starts again at the corner")
		assert.InDelta(t, l.Size.Width, l.At(1).X-l.At(0).X, 1e-12, "cards butt with nothing between")
	}
	_, err := FindPaper("napkin")
	assert.ErrorContains(t, err, "choose a4 or letter")
}

func TestMarksLieOnTheCutsAndOnThePaper(t *testing.T) {
	for _, p := range Papers() {
		l, err := Lay(p, Sizes()[0])
		require.NoError(t, err)
		p = l.Paper
		marks := l.Marks()
		assert.Len(t, marks, 2*(l.Columns+1)+2*(l.Rows+1))
		for _, m := range marks {
			for _, q := range []Point{m.From, m.To} {
				assert.True(t, q.X > 0 && q.X < p.Width && q.Y > 0 && q.Y < p.Height)
			}
			inX := m.From.X > l.Origin.X && m.From.X < l.Origin.X+float64(l.Columns)*l.Size.Width
			inY := m.From.Y > l.Origin.Y && m.From.Y < l.Origin.Y+float64(l.Rows)*l.Size.Height
			assert.False(t, inX && inY, "a mark never crosses a card")
		}
	}
}

func TestSizesAndBacks(t *testing.T) {
	a4 := Papers()[0]
	for _, z := range Sizes() {
		got, err := FindSize(z.Key)
		require.NoError(t, err)
		assert.Equal(t, z, got)
		for _, p := range Papers() {
			l, err := Lay(p, z)
			require.NoError(t, err)
			for i := range l.PerSheet() {
				face, back := l.At(i), l.Back(i)
				assert.InDelta(t, l.Paper.Width, face.X+z.Width+back.X, 1e-9, "turned over, a back meets its face")
				assert.Equal(t, face.Y, back.Y)
			}
		}
	}
	_, err := FindSize("giant")
	assert.ErrorContains(t, err, "choose one from the list")
	own, err := Custom(60, 100)
	require.NoError(t, err)
	assert.Less(t, own.Tab, 30.0)
	for _, bad := range [][2]float64{{5, 60}, {60, 4000}, {math.NaN(), 60}} {
		_, err := Custom(bad[0], bad[1])
		assert.ErrorContains(t, err, "each side is 30 to 400 mm")
	}
	wide, err := Custom(290, 300)
	require.NoError(t, err)
	_, err = Lay(a4, wide)
	assert.ErrorContains(t, err, "larger than A4 with its crop marks: choose a smaller card")
}

func hex(t *testing.T, all ...string) (out []colour.Lab) {
	for _, h := range all {
		c, err := colour.ParseHex(h)
		require.NoError(t, err)
		out = append(out, c.Lab())
	}
	return out
}

func TestReadSet(t *testing.T) {
	s := ReadSet(hex(t, "#d22f36", "#d9cbb0", "#8f8f8a"), nil)
	assert.Equal(t, 0, s.Overpowering, "a clear red among near-neutrals")
	assert.Greater(t, s.Times, 3.0)
	s = ReadSet(hex(t, "#d22f36", "#2f5cb0"), nil)
	assert.Equal(t, -1, s.Overpowering)
	s = ReadSet(hex(t, "#d22f36", "#2f5cb0"), []float64{0.9, 0.1})
	assert.Equal(t, 0, s.Overpowering, "by its share")
	s = ReadSet(hex(t, "#4b2346", "#553a6f", "#6d3b68", "#2faf5a"), nil)
	assert.Equal(t, 3, s.Odd)
	s = ReadSet(hex(t, "#4b2346", "#4c2447", "#e0a52e"), nil)
	assert.Equal(t, [][2]int{{0, 1}}, s.Alike)
	assert.InDelta(t, colour.DeltaE2000(hex(t, "#4b2346")[0], hex(t, "#4c2447")[0]), s.Closest, 1e-12)
	assert.Equal(t, -1, ReadSet(hex(t, "#4b2346"), nil).Odd)
}

func TestHeld(t *testing.T) {
	cards := hex(t, "#4b2346", "#e0a52e", "#2faf5a")
	held, apart := Held(hex(t, "#4c2447", "#dfa430"), cards)
	assert.Equal(t, []int{0, 1}, held)
	assert.Less(t, apart, 2.0)
	held, _ = Held(hex(t, "#ffffff"), cards)
	assert.Empty(t, held)
}
