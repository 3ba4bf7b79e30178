package craft

import (
	"encoding/json"
	"os"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/balance"
	"lampfern/core/colour"
)

// Pieces in colours dealt at random were drawn and looked at before the program was asked: look is the
// colour that an eye went to first, also are those that came so near that it might as well have been one of them.
// The constants were chosen on the first sixty; the rest were looked at afterwards.
func TestTheFirstLookOfPiecesThatWereLookedAt(t *testing.T) {
	data, err := os.ReadFile("testdata/looked.json")
	require.NoError(t, err)
	var scenes []struct {
		Pattern string
		Colours []string
		Fill    []int
		Look    int
		Also    []int
	}
	require.NoError(t, json.Unmarshal(data, &scenes))
	const chosen = 60
	require.Len(t, scenes, chosen+24)
	var near, clear, clearSame [2]int
	for i, s := range scenes {
		p, err := Pattern(s.Pattern)
		require.NoError(t, err)
		made, err := p.Build(nil, nil)
		require.NoError(t, err)
		var labs []colour.Lab
		for _, hex := range s.Colours {
			c, err := colour.ParseHex(hex)
			require.NoError(t, err)
			labs = append(labs, c.Lab())
		}
		between, outside := made.Borders()
		l := balance.Layout{Share: made.Shares(), Border: between, Outside: outside, Area: made.Width * made.Height}.Merge(s.Fill, len(labs))
		look := balance.FirstLook(l, labs)
		likely := look[0].Part == s.Look || slices.Contains(s.Also, look[0].Part)
		stands := look[0].Pull >= balance.FocusClear*look[1].Pull
		later := i / chosen
		if likely {
			near[later]++
		}
		if stands {
			clear[later]++
			if likely {
				clearSame[later]++
			}
		}
		if !likely {
			t.Logf("%02d %s: %c where an eye goes to %c (clear: %v)", i, s.Pattern, 'A'+look[0].Part, 'A'+s.Look, stands)
		}
	}
	t.Logf("the first look is the eye's in %d of 60 and %d of 24; of %d that are called clear in %d", near[0], near[1], clear[0]+clear[1],
		clearSame[0]+clearSame[1])
	assert.GreaterOrEqual(t, near[0], 58)
	assert.GreaterOrEqual(t, near[1], 20)
	assert.Equal(t, clear[0], clearSame[0])
	assert.GreaterOrEqual(t, float64(clearSame[0]+clearSame[1]), .95*float64(clear[0]+clear[1]))
}
