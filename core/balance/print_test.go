package balance

import (
	"encoding/json"
	"os"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/wheel"
)

// Twenty prints and the cards that a maker would say each ties.
func TestTwentyPrints(t *testing.T) {
	data, err := os.ReadFile("testdata/prints.json")
	require.NoError(t, err)
	var prints []struct {
		Name  string
		Faces []struct {
			Hex   string
			Share float64
		}
		Cards, Names, Ties []string
	}
	require.NoError(t, json.Unmarshal(data, &prints))
	require.Len(t, prints, 20)
	for _, p := range prints {
		cs := cards(t, p.Cards...)
		print := Colour{Key: "print", Name: p.Name}
		for _, f := range p.Faces {
			print.Faces = append(print.Faces, Face{hexLab(t, f.Hex), f.Share})
		}
		cs = append(cs, print)
		var got []string
		for _, tie := range Ties(cs, len(cs)-1) {
			got = append(got, p.Names[tie.Card])
			assert.Positive(t, tie.Share)
		}
		assert.ElementsMatch(t, p.Ties, got, p.Name)
		for i := range p.Cards {
			assert.Empty(t, Ties(cs, i), "a plain card ties nothing")
		}
	}
}

func TestAPrintIsSeveralColours(t *testing.T) {
	c := labs(t, "#f4ecd8", "#1a2545", "#f2e8d0", "#a0522d", "#c8202b")
	print := Colour{"p", "Sprig", "skirt", hexLab(t, "#a09a8c"), []Face{{c[2], .6}, {c[3], .3}, {c[4], .1}}}
	cs := []Colour{{"1", "Milk", "top", c[0], nil}, {"2", "Night", "belt", c[1], nil}, print}
	l := plain(.3, .1, .6)
	notes := append(Notes(l, cs), PairNotes(l, cs, usual())...)
	assert.Nil(t, find(notes, "lost:1:p"), "its rust is seen on the cream, though its ground is not")
	n := find(notes, "ties:p")
	require.NotNil(t, n)
	assert.Equal(t, "Sprig contains Milk (60% of it), so they belong together.", n.About+n.Words)
	plainPrint := print
	plainPrint.Faces = []Face{{c[2], .9}, {c[3], .1}}
	assert.NotNil(t, find(Notes(l, []Colour{cs[0], cs[1], plainPrint}), "lost:1:p"), "a colour that covers a tenth makes no edge")
	spread, all := Spread(l, cs)
	assert.InDeltaSlice(t, []float64{.3, .1, .36, .18, .06}, spread.Share, 1e-12)
	assert.Len(t, all, 5)
	warm := Temperatures(l, cs, wheel.Schools()[0])
	assert.InDelta(t, .1, warm[wheel.Cool], 1e-9, "its share goes by its colours and not by their blend")
}
