package gather_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/material"
	"lampfern/plan"
	"lampfern/stages"
	"lampfern/stages/gather"
	"lampfern/testroom"
)

// pasted is a quilt whose scrap page has a palette on it, and a paint that lies nearer
// than any cloth.
func pasted(t *testing.T) (*plan.Desk, uint) {
	t.Helper()
	k := testroom.Studio(t, stages.All()...)
	ids := testroom.Add(t, k, testroom.Five...)
	sh, err := k.Shelf(t.Context())
	require.NoError(t, err)
	for _, id := range ids {
		c, err := sh.Card(id)
		require.NoError(t, err)
		require.Equal(t, "fabric", c.Kind)
	}
	_, err = k.SaveMaterial(t.Context(), 0, 0, material.Material{Name: "Plum paint", Kind: "paint", Colour: testroom.Hex(t, "#4b2447").Lab()})
	require.NoError(t, err)
	id, err := k.NewPlan(t.Context(), "Quilt", "quilt")
	require.NoError(t, err)
	testroom.Do(t, k, id, &gather.Paste{Text: "Dusk #4b2447\nrgb(217, 203, 176) Milk\n#00c8ff\n"})
	return k, id
}

func TestAPaletteIsPastedInOneGo(t *testing.T) {
	k, id := pasted(t)
	p := testroom.MustOpen(t, k, id)
	page := gather.ScrapPage(p)
	require.Len(t, page, 3)
	assert.Equal(t, []string{"Dusk", "Milk", "Sky"}, []string{page[0].Name, page[1].Name, page[2].Name},
		"one without a name is called by its colour")
	assert.Equal(t, "Plum curtain", page[0].Near[0].Name, "the nearest cloth, though a paint lies nearer")
	assert.Len(t, page[0].Near, 3)

	p = testroom.Do(t, k, id, gather.PullBest{})
	assert.Equal(t, "Plum curtain, Moth wing", strings.Join([]string{p.Tray[0].Name, p.Tray[1].Name}, ", "))
	assert.Len(t, p.Tray, 2, "nothing on the shelf is near that blue, and that is said")
	p = testroom.Do(t, k, id, gather.PullBest{})
	assert.Len(t, p.Tray, 2, "pulled once")
	p = testroom.Do(t, k, id, gather.KeepFree{})
	assert.Len(t, p.Tray, 5)
	testroom.Refused(t, k, id, gather.KeepFree{}, "already")

	said, err := gather.Shelve{}.Act(t.Context(), k, p)
	require.NoError(t, err)
	assert.Contains(t, said, "3 materials are on the shelf, as fabric.")
	sh, err := k.Shelf(t.Context())
	require.NoError(t, err)
	require.NotNil(t, sh.Named("Milk"))
	assert.Equal(t, "typed", sh.Named("Milk").Source)
	_, err = gather.Shelve{}.Act(t.Context(), k, testroom.MustOpen(t, k, id))
	require.NoError(t, err)
	sh, err = k.Shelf(t.Context())
	require.NoError(t, err)
	assert.NotNil(t, sh.Named("Milk (again)"), "a second time under names of their own")
	_, err = k.StepPlan(t.Context(), id, testroom.MustOpen(t, k, id).Revision, true)
	require.NoError(t, err)
	assert.Len(t, testroom.MustOpen(t, k, id).Tray, 2, "undone")
}

func TestPastedTextThatCannotBe(t *testing.T) {
	k, id := pasted(t)
	for want, text := range map[string]string{
		"We found no colours":         " , ",
		"is not a colour":             "#4b23 half",
		"has 200 colours":             strings.Repeat("#4b2346\n", 200),
		"room for 57":                 strings.Repeat("#4b2346 ", 58),
		"longer than 64 kB":           strings.Repeat("x", 65<<10),
		"is longer than":              strings.Repeat("Long ", 30) + "#4b2346",
		"a number in it is too large": "rgb(999, 1, 1)",
		"Not added":                   "#112233 fine\n#11",
	} {
		testroom.Refused(t, k, id, &gather.Paste{Text: text}, want)
		assert.Len(t, testroom.MustOpen(t, k, id).Scraps, 3, want)
	}
	bare, err := k.NewPlan(t.Context(), "Bare", "soap")
	require.NoError(t, err)
	_, err = gather.Shelve{}.Act(t.Context(), k, testroom.MustOpen(t, k, bare))
	assert.ErrorContains(t, err, "There are no scraps yet")
	var many strings.Builder
	for i := range 57 {
		fmt.Fprintf(&many, "#%02x2346\n", i)
	}
	testroom.Do(t, k, id, &gather.Paste{Text: many.String()})
	assert.Len(t, testroom.MustOpen(t, k, id).Scraps, plan.MaxScraps)
}

// Of five lines none vanishes: what holds no colour waits with its own picker.
func TestPastedLinesWithoutAColourWait(t *testing.T) {
	k, id := pasted(t)
	p := testroom.Do(t, k, id, &gather.Paste{Text: "Dusk #4b2447\nnavy\nAuntie's mix\n2 balls Barn door\n120 g Fir #22503c"})
	assert.Len(t, p.Scraps, 6)
	assert.Equal(t, 12.0, p.Scraps[4].Uncertainty, "navy by its name alone")
	assert.Equal(t, []any{120.0, "g"}, []any{p.Scraps[5].Count, p.Scraps[5].Unit})
	assert.Equal(t, []string{"Auntie's mix", "2 balls Barn door"}, p.Unread)
	p = testroom.Do(t, k, id, gather.ReadLine{Line: "2 balls Barn door", Colour: "#7a2c24"})
	assert.Equal(t, []any{"Barn door", 2.0, "balls"}, []any{p.Scraps[6].Name, p.Scraps[6].Count, p.Scraps[6].Unit})
	testroom.Refused(t, k, id, gather.ReadLine{Line: "Auntie's mix", Colour: "grue"}, "is not a colour")
	p = testroom.Do(t, k, id, gather.ReadLine{Line: "Auntie's mix"})
	assert.Empty(t, p.Unread)
	testroom.Refused(t, k, id, gather.ReadLine{Line: "Auntie's mix"}, "has a colour now")
}

// Amounts come with the palette, are kept with a scrap, and wait on the cards that stand for it.
func TestAmountsComeWithAPalette(t *testing.T) {
	k, id := pasted(t)
	assert.Nil(t, testroom.MustOpen(t, k, id).Amounts(), "none was given")
	testroom.Do(t, k, id, gather.DropScrap{Key: 1})
	testroom.Do(t, k, id, &gather.Paste{Text: "Dusk #4b2447 60 %\nGold #e0a52e a touch"})
	p := testroom.Do(t, k, id, gather.RenameScrap{Key: 2, Name: "Milk", Much: "37 %"})
	assert.Equal(t, []float64{.37, 0, .6, .03}, []float64{p.Scraps[0].Amount, p.Scraps[1].Amount, p.Scraps[2].Amount, p.Scraps[3].Amount})
	testroom.Refused(t, k, id, gather.RenameScrap{Key: 2, Name: "Milk", Much: "lots"}, "is not a share")
	testroom.Refused(t, k, id, gather.RenameScrap{Key: 2, Name: "Milk", Much: "120"}, "from 0 to 100")
	p = testroom.Do(t, k, id, gather.PullBest{})
	want := map[string]float64{"Plum curtain": .6, "Moth wing": .37, "Marrow flesh": .03}
	for i, a := range p.Amounts() {
		assert.InDelta(t, want[p.Tray[i].Name], a, 1e-9, p.Tray[i].Name)
	}
}
