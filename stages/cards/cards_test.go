package cards

import (
	"math"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/colour"
	"lampfern/core/material"
	"lampfern/plan"
	"lampfern/shelf"
	"lampfern/testroom"
)

func TestDrawersAndFlags(t *testing.T) {
	s := testroom.Studio(t, Stage())
	id, ids := testroom.Quilt(t, s)
	sh, err := s.Shelf(testroom.Ctx)
	require.NoError(t, err)
	sum := 0
	for _, d := range sh.Drawers() {
		assert.Len(t, sh.Drawer(string(d.Family), false), d.Count)
		sum += d.Count
	}
	assert.Equal(t, 5, sum)
	assert.Len(t, sh.Drawer("", true), 5)
	p := testroom.Do(t, s, id, Flag{Material: ids["Moth wing"], On: true})
	assert.True(t, Flags(p, ids["Moth wing"]))
	p = testroom.Do(t, s, id, FlagDrawer{Family: "", On: true})
	assert.Len(t, ToPrint(p), 5)
	p = testroom.Do(t, s, id, FlagDrawer{Family: "violet", On: false})
	assert.Less(t, len(ToPrint(p)), 5)
	testroom.Refused(t, s, id, Flag{Material: 999, On: true}, "no longer on the shelf")
}

func TestCardsAreLaidAndTried(t *testing.T) {
	s := testroom.Studio(t, Stage())
	id, ids := testroom.Quilt(t, s)
	v := Lay(testroom.MustOpen(t, s, id), "")
	require.Len(t, v.Cards, 5, "the tray lies there at first")
	plum, moth := v.Cards[0].Token, v.Cards[1].Token
	assert.Equal(t, plum, v.Compare(testroom.MustOpen(t, s, id), "", "").A.Token, "the first two where none are chosen")
	two := v.Compare(testroom.MustOpen(t, s, id), moth, plum)
	assert.Equal(t, []string{moth, plum}, []string{two.A.Token, two.B.Token})
	require.Len(t, two.Ways, 2, "by their darks and by their lights")
	assert.LessOrEqual(t, two.Ways[0].Apart, two.Ways[1].Apart)
	assert.Nil(t, LaidView{Cards: v.Cards[:1]}.Compare(testroom.MustOpen(t, s, id), plum, plum))
	assert.InDelta(t, 1, v.Warm+v.Cool+v.Grey, 1e-9)
	other := testroom.Add(t, s, "Fir=#1f3b2d", "Gorse=#f1de4a")
	token := func(id uint) string { return shelf.TokenOf(&shelf.Card{ID: id}) }
	p := testroom.Do(t, s, id, LayDown{Token: token(other["Fir"])})
	assert.Len(t, Lay(p, "").Cards, 6)
	testroom.Refused(t, s, id, LayDown{Token: token(other["Gorse"])}, "Remove one first")
	p = testroom.Do(t, s, id, PickUp{Token: token(ids["Moth wing"])})
	assert.Len(t, Lay(p, "").Cards, 5)
	testroom.Refused(t, s, id, PickUp{Token: token(ids["Moth wing"])}, "is not being compared")
	p = testroom.Do(t, s, id, LayInstead{Old: token(other["Fir"]), Token: token(other["Gorse"])})
	assert.Equal(t, "Gorse", Lay(p, "").Cards[4].Name)
	testroom.Refused(t, s, id, LayInstead{Old: token(other["Fir"]), Token: token(other["Gorse"])}, "cannot be tried")
	p = testroom.Do(t, s, id, LayByShare{On: true})
	v = Lay(p, "")
	assert.Greater(t, v.Cards[0].Wide, v.Cards[4].Wide, "a card that is not placed is narrow, and still seen")
	assert.Positive(t, v.Cards[4].Wide)
	testroom.Do(t, s, id, LayTray{})
	for _, k := range Lay(testroom.MustOpen(t, s, id), "").Cards[1:] {
		testroom.Do(t, s, id, PickUp{Token: k.Token})
	}
	testroom.Refused(t, s, id, PickUp{Token: Lay(testroom.MustOpen(t, s, id), "").Cards[0].Token}, "One card must stay")
}

func TestWhatTiesASetTogether(t *testing.T) {
	s := testroom.Studio(t, Stage())
	id, ids := testroom.Quilt(t, s)
	gold, err := colour.ParseHex("#dfa530")
	require.NoError(t, err)
	plum, err := colour.ParseHex("#4c2447")
	require.NoError(t, err)
	_, err = s.SaveMaterial(testroom.Ctx, 0, 0, material.Material{Name: "Sprigged binding", Colour: plum.Lab(),
		Further: []material.Further{{Role: material.Print, Colour: gold.Lab(), Coverage: 0.3}}})
	require.NoError(t, err)
	v := Lay(testroom.MustOpen(t, s, id), shelf.TokenOf(&shelf.Card{ID: ids["Lamp soot"]}))
	require.Equal(t, 4, v.Trying)
	require.NotEmpty(t, v.Tries)
	assert.Equal(t, "Sprigged binding", v.Tries[0].Name)
	assert.Equal(t, []string{"Plum curtain", "Marrow flesh"}, v.Tries[0].Holds)
}

func TestAPaintedCardComesBack(t *testing.T) {
	s := testroom.Studio(t, Stage())
	_, ids := testroom.Quilt(t, s)
	words, err := s.Repaint(testroom.Ctx, ids["Heather rail"], colour.Lab{L: 50, A: 26, B: -17}, "photo", 3, 1)
	require.NoError(t, err)
	assert.Contains(t, words, "Heather rail compared with before: 0.5 steps lighter")
	sh, err := s.Shelf(testroom.Ctx)
	require.NoError(t, err)
	c, err := sh.Card(ids["Heather rail"])
	require.NoError(t, err)
	assert.InDelta(t, 50, c.Colour.L, 1e-9)
	assert.Equal(t, "photo", c.Source)
	_, err = s.Repaint(testroom.Ctx, ids["Heather rail"], colour.Lab{L: 30}, "typed", 3, 3)
	assert.ErrorContains(t, err, "layer 2 is next")
	words, err = s.Repaint(testroom.Ctx, ids["Heather rail"], colour.Lab{L: 40, A: 20, B: -10}, "typed", 3, 2)
	require.NoError(t, err)
	assert.Contains(t, words, "in 2 layers")
	_, err = s.Repaint(testroom.Ctx, ids["Heather rail"], colour.Lab{L: 38, A: 20, B: -10}, "typed", 3, 2)
	require.NoError(t, err)
	sh, _ = s.Shelf(testroom.Ctx)
	c, _ = sh.Card(ids["Heather rail"])
	require.Len(t, c.Further, 1, "a layer is entered once and then changed")
	assert.InDelta(t, 38, c.Further[0].Colour.L, 1e-9)
	label, err := s.StepShelf(testroom.Ctx, testroom.ShelfVersion(t, s), true)
	require.NoError(t, err)
	assert.Contains(t, label, "Heather rail", "and can be undone")
	_, err = s.Repaint(testroom.Ctx, 999, colour.Lab{}, "typed", 3, 1)
	assert.ErrorContains(t, err, "no longer on the shelf")
	sh, _ = s.Shelf(testroom.Ctx)
	c, _ = sh.Card(ids["Heather rail"])
	assert.Len(t, c.Face(), 2, "its measured layers show")
	glass := c.Material
	glass.Finish = "translucent"
	_, err = s.SaveMaterial(testroom.Ctx, c.ID, c.Revision, glass)
	require.NoError(t, err)
	sh, _ = s.Shelf(testroom.Ctx)
	film, err := sh.Card(c.ID)
	require.NoError(t, err)
	require.Len(t, film.Face(), 3)
	assert.Less(t, film.Face()[2].Colour.L, film.Face()[0].Colour.L, "more layers are darker")
}

// Two cloths that match in daylight and were both measured with a spectrum are said to part
// under a bulb; of one that was not, nothing is said.
func TestWhatPartsUnderALamp(t *testing.T) {
	s := testroom.Studio(t, Stage())
	id, _ := testroom.Heap(t, s)
	var banded colour.Spectrum
	for i := range banded { // three narrow bands, as of a mixture of strong dyes
		w := 380 + 10*float64(i)
		banded[i] = .05
		for _, b := range [][3]float64{{455, 16, .3}, {540, 18, .28}, {610, 20, .29}} {
			banded[i] += b[2] * math.Exp(-(w-b[0])*(w-b[0])/(2*b[1]*b[1]))
		}
	}
	pull := func(name string, spectrum colour.Spectrum, lab colour.Lab) {
		n, err := s.SaveMaterial(testroom.Ctx, 0, 0, material.Material{Name: name, Colour: lab, Spectrum: spectrum})
		require.NoError(t, err)
		testroom.Do(t, s, id, plan.Pull{Material: n})
	}
	pull("Banded", banded, banded.Lab())
	pull("Only seen", colour.Spectrum{}, banded.Lab())
	said := func() string {
		for _, n := range Lay(testroom.MustOpen(t, s, id), "").Notes {
			if strings.HasPrefix(n.ID, "laid-lamps:") {
				return n.About + n.Words
			}
		}
		return ""
	}
	assert.Empty(t, said())
	smooth := colour.SpectrumOf(banded.Lab())
	pull("Smooth", smooth, smooth.Lab())
	assert.Regexp(t, `^Banded and Smooth separate: ΔE 0 in daylight, ΔE \d.* under the .*\.$`, said())
	sh, err := s.Shelf(testroom.Ctx)
	require.NoError(t, err)
	assert.Len(t, sh.Spectra(), 2, "and they are seen so")
}
