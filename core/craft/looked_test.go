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

// Sixty pieces in colours dealt at random were drawn and looked at before the program was asked: look is the
// colour that an eye went to first, also are those that came so near that it might as well have been one of them.
func TestTheFirstLookOfSixtyPieces(t *testing.T) {
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
	require.Len(t, scenes, 60)
	same, near, clear, clearSame := 0, 0, 0, 0
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
		l := balance.Layout{Share: made.Shares(), Border: made.Borders(), Area: made.Width * made.Height}.Merge(s.Fill, len(labs))
		look := balance.FirstLook(l, labs)
		is, likely := look[0].Part == s.Look, look[0].Part == s.Look || slices.Contains(s.Also, look[0].Part)
		stands := look[0].Pull >= balance.FocusClear*look[1].Pull
		if is {
			same++
		}
		if likely {
			near++
		}
		if stands {
			clear++
			if likely {
				clearSame++
			}
		}
		if !likely {
			t.Logf("%02d %s: %c where an eye goes to %c (clear: %v)", i, s.Pattern, 'A'+look[0].Part, 'A'+s.Look, stands)
		}
	}
	t.Logf("of 60 the first look is the eye's in %d, or one as near in %d; of %d that are called clear in %d", same, near, clear, clearSame)
	assert.GreaterOrEqual(t, near, 40)
}
