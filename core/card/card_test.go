package card

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestSheets(t *testing.T) {
	for key, want := range map[string]int{"a4": 10, "letter": 9} {
		p, err := FindPaper(key)
		require.NoError(t, err)
		l := Lay(p)
		assert.Equal(t, want, l.PerSheet(), key)
		assert.Equal(t, []int{0, 1, 1, 2}, []int{l.Sheets(0), l.Sheets(1), l.Sheets(want), l.Sheets(want + 1)})
		for i := range want {
			at := l.At(i)
			assert.GreaterOrEqual(t, at.X, markRoom)
			assert.LessOrEqual(t, at.X+Width, p.Width-markRoom+1e-9)
			assert.LessOrEqual(t, at.Y+Height, p.Height-markRoom+1e-9)
		}
		assert.Equal(t, l.At(0), l.At(want), "the next sheet starts again at the corner")
		assert.InDelta(t, Width, l.At(1).X-l.At(0).X, 1e-12, "cards butt with nothing between")
	}
	_, err := FindPaper("napkin")
	assert.ErrorContains(t, err, "choose a4 or letter")
}

func TestMarksLieOnTheCutsAndOnThePaper(t *testing.T) {
	for _, p := range Papers() {
		l := Lay(p)
		marks := l.Marks()
		assert.Len(t, marks, 2*(l.Columns+1)+2*(l.Rows+1))
		for _, m := range marks {
			for _, q := range []Point{m.From, m.To} {
				assert.True(t, q.X > 0 && q.X < p.Width && q.Y > 0 && q.Y < p.Height)
			}
			inX := m.From.X > l.Origin.X && m.From.X < l.Origin.X+float64(l.Columns)*Width
			inY := m.From.Y > l.Origin.Y && m.From.Y < l.Origin.Y+float64(l.Rows)*Height
			assert.False(t, inX && inY, "a mark never crosses a card")
		}
	}
}
