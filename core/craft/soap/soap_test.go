package soap

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/piece"
	"lampfern/core/pour"
)

func TestPouredSoapByItsParts(t *testing.T) {
	own := &Poured{Pours: []pour.Pour{{Colour: 0, Parts: 3, Place: .5}, {Colour: 2, Parts: 1, Place: .5}}}
	p, err := pouredPattern.Build(piece.Values{"bars": 10, "fold": 0}, own)
	require.NoError(t, err)
	assert.Equal(t, []string{"batter A", "batter C"}, []string{p.Parts[0].Name, p.Parts[1].Name})
	assert.InDelta(t, .25, p.Shares()[1], 1e-3)
	assert.InDelta(t, 10*75*95, p.Area(), 1e-6, "the gaps between bars are no soap")
	got, ok := piece.Resize(pouredPattern, nil, own, func(part string) bool { return part == "batter3" }, .4)
	require.True(t, ok)
	assert.Equal(t, "pours 3A 2C", got.Words)
	assert.InDelta(t, .4, got.Share, 1e-9)
	_, err = pouredPattern.Build(nil, &Poured{Pours: []pour.Pour{{Colour: 0}}})
	assert.ErrorContains(t, err, "more than 0")
}

// Every bar is whole, and the bars together are the loaf.
func TestBarsOfALoaf(t *testing.T) {
	v := piece.Values{"bars": 6}
	p, err := pouredPattern.Build(v, &Poured{})
	require.NoError(t, err)
	for _, set := range pouredPattern.Settings {
		if _, given := v[set.Key]; !given {
			v[set.Key] = set.Default
		}
	}
	all := bars(p, v)
	require.Len(t, all, 6)
	mean, unlike := make([]float64, len(p.Parts)), false
	for _, b := range all {
		sum := 0.0
		for i, share := range b {
			sum += share
			mean[i] += share / 6
			unlike = unlike || share < p.Shares()[i]-.005 || share > p.Shares()[i]+.005
		}
		assert.InDelta(t, 1, sum, 1e-9)
	}
	assert.InDeltaSlice(t, p.Shares(), mean, 1e-9)
	assert.True(t, unlike, "bars of one loaf differ")
	tried := trials(piece.Values{"seed": mostSeed})
	assert.Len(t, tried, len(pour.Methods())*seedsTried)
	assert.Equal(t, 1.0, tried[1].Set["seed"], "after the last seed comes the first")
}

func TestSeventhsStaySevenths(t *testing.T) {
	_, ok := piece.Resize(loafPattern, nil, nil, func(part string) bool { return part == "pour1" }, .9)
	assert.False(t, ok, "whatever the size")
}

func TestPoursAreWritten(t *testing.T) {
	in := &Poured{}
	assert.Equal(t, "4A 2B@35 1C@65", in.Line(nil))
	require.NoError(t, in.Write("3A 2B@10", nil))
	assert.Len(t, in.Pours, 2)
	assert.ErrorContains(t, in.Write("much", nil), "The pours cannot be read")
	_, advice, _ := in.Advice(piece.Values{"seed": 7})
	assert.Contains(t, advice, "seed 7")
}
