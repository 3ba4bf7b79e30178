package weave

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestStructuresAreSound(t *testing.T) {
	warp := map[string]float64{"plain": .5, "twill22": .5, "twill13": .25, "twill31": .75, "herringbone": .5, "diamond": 19.0 / 36,
		"basket": .5}
	floats := map[string]Floats{"plain": {1, 1}, "twill22": {2, 2}, "twill13": {3, 3}, "twill31": {3, 3}, "basket": {2, 2},
		"herringbone": {2, 3}}
	for _, s := range Structures() {
		require.NoError(t, s.Check(), s.Name)
		assert.InDelta(t, warp[s.Key], s.WarpShare(), 1e-12, s.Name)
		if want, given := floats[s.Key]; given {
			assert.Equal(t, want, s.Floats(), s.Name)
		}
	}
}

func TestDrawdownOfATwillByHand(t *testing.T) {
	d := Structures()[1].Draft
	assert.Equal(t, 4, d.Shafts())
	// Warp 0, weft 1: each pick lifts two neighbours, one further than the last.
	assert.Equal(t, []int16{
		0, 0, 1, 1, 0, 0,
		1, 0, 0, 1, 1, 0,
		1, 1, 0, 0, 1, 1,
		0, 1, 1, 0, 0, 1,
		0, 0, 1, 1, 0, 0,
	}, d.Drawdown(make([]int16, 6), []int16{1, 1, 1, 1, 1}))
	assert.True(t, d.Up(4, 8))
	assert.False(t, d.Up(2, 0))
}

func TestLongFloatsAreMarked(t *testing.T) {
	d := Structures()[2].Draft // 1/3 twill: the weft floats over three ends everywhere
	up := d.Ups(6, 5)
	for i, long := range d.LongFloats(6, 5, 2) {
		assert.Equal(t, !up[i], long, "%d", i)
	}
	for _, long := range d.LongFloats(6, 5, 3) {
		assert.False(t, long)
	}
}

func TestDraftsThatCannotBeWoven(t *testing.T) {
	for _, c := range []struct {
		d     Draft
		words string
	}{
		{Draft{}, "the threading is empty"},
		{Draft{Threading: []int{1}}, "the treadling is empty"},
		{Draft{Threading: []int{1}, Treadling: []int{1}}, "the tie-up is empty"},
		{Draft{[]int{1, 0}, [][]int{{1}}, []int{1}}, "end 2 is on shaft 0"},
		{Draft{[]int{1, 2}, [][]int{{1, 99}}, []int{1}}, "treadle 1 lifts shaft 99"},
		{Draft{[]int{1, 2}, [][]int{{1}}, []int{1, 2}}, "pick 2 is on treadle 2 and the tie-up has 1"},
		{Draft{[]int{1, 2}, [][]int{{1}, {}}, []int{1, 2}}, "pick 2 lifts no shaft"},
		{Draft{[]int{1, 2}, [][]int{{1}, {3}}, []int{1, 2}}, "pick 2 lifts no end"},
	} {
		assert.ErrorContains(t, c.d.Check(), c.words)
	}
	assert.Equal(t, Floats{-1, -1}, Draft{[]int{1, 2}, [][]int{{1, 2}}, []int{1}}.Floats(), "all up is never tied down")
}

func TestOrdersAreReadAndWritten(t *testing.T) {
	got, err := ParseOrder(" 24A, 8b 24 a 12mm B", 5)
	require.NoError(t, err)
	assert.Equal(t, []Stripe{{0, 24}, {1, 8}, {0, 24}, {1, 6}}, got)
	assert.Equal(t, "24A 8B 24A 6B", OrderText(got))
	require.NoError(t, CheckOrder(got))
	assert.Equal(t, []int16{0, 0, 1, 0, 0, 1, 0}, Expand([]Stripe{{0, 2}, {1, 1}}, 7))
	for text, words := range map[string]string{
		"": "the order is empty", "A": "is not a stripe", "12": "there is no yarn", "3Z": "there is no yarn", "0A": "a whole number from 1",
		"2.5A":  "a whole number from 1",
		"1mm A": "thinner than one thread: make it at least 2 mm", "99999A": "at most 20000 threads", "4mm": "there is no yarn", "2AB": "there is no yarn",
	} {
		_, err := ParseOrder(text, 5)
		assert.ErrorContains(t, err, words, text)
	}
	assert.Error(t, CheckOrder([]Stripe{{0, 0}}))
	assert.Error(t, CheckOrder(nil))
	n, err := Numbers("1-4 3,2 4-1")
	require.NoError(t, err)
	assert.Equal(t, []int{1, 2, 3, 4, 3, 2, 4, 3, 2, 1}, n)
	_, err = Numbers("one")
	assert.ErrorContains(t, err, "not a shaft or treadle")
}

func FuzzParseOrder(f *testing.F) {
	f.Add("24A 8B")
	f.Add("12mm C")
	f.Fuzz(func(t *testing.T, text string) {
		if order, err := ParseOrder(text, 6); err == nil {
			require.NoError(t, CheckOrder(order))
			again, err := ParseOrder(OrderText(order), 6)
			require.NoError(t, err)
			require.Equal(t, order, again)
		}
	})
}

func BenchmarkDrawdown1000x1000(b *testing.B) {
	d := Structures()[4].Draft
	warp, weft := Expand([]Stripe{{0, 8}, {1, 3}}, 1000), Expand([]Stripe{{2, 8}, {1, 3}}, 1000)
	for b.Loop() {
		d.Drawdown(warp, weft)
	}
}
