package exchange

import (
	"bytes"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/colour"
	"lampfern/core/weave"
)

// twill is written by hand from the format's own text.
const twill = `; a small twill
[WIF]
Version=1.1
Date=April 20, 1997
Source Program=by hand

[CONTENTS]
COLOR PALETTE=yes

[TEXT]
Title=Hedge cloth

[WEAVING]
Shafts=4
Treadles=4
Rising Shed=true

[WARP]
Threads=6
Color=1
Units=Centimeters
Spacing=0.2

[WEFT]
Threads=4
Color=2
Units=Inches
Spacing=0.1

[THREADING]
1=1
2=2
3=3
4=4
5=1
6=2

[TIEUP]
1=1,2
2=2,3
3=3,4
4=1,4

[TREADLING]
1=1
2=2
3=3
4=4

[COLOR PALETTE]
Form=RGB
Entries=3
Range=0,999

[COLOR TABLE]
1=0,0,999
2=999,999,999
3=999,0,0

[WARP COLORS]
3=3
`

func TestAWIFByHand(t *testing.T) {
	w, err := ReadWIF(t.Context(), strings.NewReader(twill))
	require.NoError(t, err)
	assert.Equal(t, "Hedge cloth", w.Title)
	assert.Equal(t, weave.Draft{Threading: []int{1, 2, 3, 4, 1, 2}, TieUp: [][]int{{1, 2}, {2, 3}, {3, 4}, {1, 4}},
		Treadling: []int{1, 2, 3, 4}}, w.Draft)
	assert.Equal(t, []int{0, 0, 1, 0, 0, 0}, w.Warp, "one end of its own colour")
	assert.Equal(t, []int{2, 2, 2, 2}, w.Weft)
	assert.Equal(t, []colour.RGB{{B: 1}, {R: 1}, {R: 1, G: 1, B: 1}}, w.Yarns)
	assert.InDelta(t, 5, w.EndsPer10mm, 1e-9)
	assert.InDelta(t, 1/.254, w.PicksPer10mm, 1e-9)
	assert.Equal(t, []weave.Stripe{{Yarn: 0, Threads: 2}, {Yarn: 1, Threads: 1}, {Yarn: 0, Threads: 3}}, Stripes(w.Warp))

	var b bytes.Buffer
	require.NoError(t, WriteWIF(&b, w))
	again, err := ReadWIF(t.Context(), &b)
	require.NoError(t, err)
	assert.InDelta(t, w.PicksPer10mm, again.PicksPer10mm, 1e-6)
	again.PicksPer10mm = w.PicksPer10mm
	assert.Equal(t, w, again)
}

func TestOtherWaysToWriteAWIF(t *testing.T) {
	cut := func(from, to string) string {
		i, j := strings.Index(twill, from), strings.Index(twill, to)
		return twill[:i] + twill[j:]
	}
	lifts := cut("[TIEUP]", "[COLOR PALETTE]") + "\n[LIFTPLAN]\n1=1,2\n2=2,3\n3=1,2\n4=3,4\n"
	w, err := ReadWIF(t.Context(), strings.NewReader(lifts))
	require.NoError(t, err)
	assert.Equal(t, [][]int{{1, 2}, {2, 3}, {3, 4}}, w.Draft.TieUp, "like lifts share a treadle")
	assert.Equal(t, []int{1, 2, 1, 3}, w.Draft.Treadling)

	w, err = ReadWIF(t.Context(), strings.NewReader(strings.Replace(twill, "Rising Shed=true", "Rising Shed=false", 1)))
	require.NoError(t, err)
	assert.True(t, w.SinkingMended)
	assert.Equal(t, []int{3, 4}, w.Draft.TieUp[0])

	w, err = ReadWIF(t.Context(), strings.NewReader(strings.Replace(twill, "[TREADLING]\n1=1", "[TREADLING]\n1=1,3", 1)))
	require.NoError(t, err)
	assert.Equal(t, []int{1, 2, 3, 4}, w.Draft.TieUp[w.Draft.Treadling[0]-1], "two treadles pressed at once")

	var wide []byte
	for _, r := range twill {
		wide = append(wide, byte(r), byte(r>>8))
	}
	for _, data := range [][]byte{append([]byte{0xff, 0xfe}, wide...), append([]byte{0xef, 0xbb, 0xbf}, twill...),
		[]byte(strings.Replace(twill, "Hedge", "H\xe4gge", 1))} {
		w, err := ReadWIF(t.Context(), bytes.NewReader(data))
		require.NoError(t, err)
		assert.Contains(t, []string{"Hedge cloth", "Hägge cloth"}, w.Title)
	}
	plain, err := ReadWIF(t.Context(), strings.NewReader(cut("[COLOR PALETTE]", "[WARP COLORS]")[:strings.Index(cut("[COLOR PALETTE]", "[WARP COLORS]"),
		"[WARP COLORS]")]))
	require.NoError(t, err)
	assert.Len(t, plain.Yarns, 2, "without colours, a dark and a light yarn")
}

func TestEmptyEndsAndPicksAreLeftOut(t *testing.T) {
	whole, err := ReadWIF(t.Context(), strings.NewReader(twill))
	require.NoError(t, err)
	w, err := ReadWIF(t.Context(), strings.NewReader(strings.Replace(strings.Replace(twill, "Threads=6", "Threads=7", 1), "3=3\n4=4\n\n[COLOR",
		"3=3\n4=\n\n[COLOR", 1)))
	require.NoError(t, err)
	assert.Equal(t, 1, w.EmptyEnds)
	assert.Equal(t, 1, w.EmptyPicks)
	assert.Equal(t, whole.Draft.Threading, w.Draft.Threading)
	assert.Equal(t, whole.Draft.Treadling[:3], w.Draft.Treadling)
	assert.Len(t, w.Weft, 3)
	assert.Equal(t, whole.Warp, w.Warp)
}

func TestWIFsThatAreNotWhole(t *testing.T) {
	for _, c := range []struct{ from, to, words string }{
		{"[WIF]", "[WOF]", "no section [WIF]"},
		{"[WEAVING]", "[WOVEN]", "no section [WEAVING]"},
		{"[THREADING]", "[T]", "no section [THREADING]"},
		{"[TIEUP]", "[T]", "neither a [LIFTPLAN] nor both"},
		{"Threads=6", "Threads=0", `says "0" threads`},
		{"Threads=6", "Threads=5", `has end "6", and there are only 5`},
		{"6=2\n", "6=9\n", "end 6 is on shaft 9 and the file has 4"},
		{"6=2\n", "6=x\n", `end 6 has "x" for its shaft`},
		{"6=2\n", "6=1,2\n", "on 2 shafts at once"},
		{"4=1,4", "4=", "the draft in the file cannot be woven: pick 4 lifts no shaft"},
		{"4=1,4", "4=1,5", "treadle 4 lifts shaft 5 and the file has 4 shafts"},
		{"3=3\n4=4\n\n[COLOR", "3=3\n4=7\n\n[COLOR", "pick 4 is on treadle 7 and the file has 4"},
		{"3=999,0,0", "3=999,0", "it must be three numbers"},
		{"3=999,0,0", "3=1000,0,0", "go from 0 to 999"},
		{"[WARP COLORS]\n3=3", "[WARP COLORS]\n3=8", "end 3 takes colour 8, which the file does not have"},
		{"Version=1.1", "Version", "has no ="},
	} {
		require.Contains(t, twill, c.from)
		_, err := ReadWIF(t.Context(), strings.NewReader(strings.Replace(twill, c.from, c.to, 1)))
		assert.ErrorContains(t, err, c.words)
	}
	_, err := ReadWIF(t.Context(), strings.NewReader("a=1"))
	assert.ErrorContains(t, err, "does not begin with a section")
}

func FuzzReadWIF(f *testing.F) {
	f.Add([]byte(twill))
	f.Add([]byte("[WIF]\n[WEAVING]\n[WARP]\nThreads=1\n"))
	f.Fuzz(func(t *testing.T, data []byte) {
		w, err := ReadWIF(t.Context(), bytes.NewReader(data))
		if err != nil {
			return
		}
		require.NoError(t, w.Draft.Check())
		require.NotEmpty(t, w.Warp)
		require.NoError(t, weave.CheckOrder(Stripes(w.Warp)[:1]))
	})
}
