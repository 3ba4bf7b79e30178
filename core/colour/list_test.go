package colour

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestListsOfColours(t *testing.T) {
	for text, want := range map[string][]string{
		"#4b2346": {" #4b2346"},
		"Plum #4b2346\nMoth wing: #d9cbb0\n\nHeather — 8a5a86":          {"Plum #4b2346", "Moth wing #d9cbb0", "Heather #8a5a86"},
		"#4b2346 Plum\n#d9cbb0, Moth wing (12 %)":                       {"Plum #4b2346", "Moth wing #d9cbb0"},
		"#4b2346 #d9cbb0, #8a5a86;#abc":                                 {" #4b2346", " #d9cbb0", " #8a5a86", " #aabbcc"},
		"Plum #4b2346, Moth #d9cbb0":                                    {"Plum #4b2346", "Moth #d9cbb0"},
		"rgb(75, 35, 70) plum\nrgb(100% 0% 0%)\nrgba(0,128,255,.5) sky": {"plum #4b2346", " #ff0000", "sky #0080ff"},
		"hsb(0, 100%, 100%)\nhsv(120 100 50) moss\nhsb(240,0,100)":      {" #ff0000", "moss #008000", " #ffffff"},
		"My palette\nfacade decade\n":                                   {},
		"":                                                              {},
		"a lot of 40% Ochre = #c98a24":                                  {"Ochre #c98a24"},
		"#4b2346 Plum, #d9cbb0 Moth":                                    {"Plum #4b2346", "Moth #d9cbb0"},
	} {
		got, err := ParseList(text)
		require.NoError(t, err, text)
		said := []string{}
		for _, l := range got {
			said = append(said, l.Name+" "+l.RGB.Hex())
		}
		assert.Equal(t, want, said, text)
	}
	for _, text := range []string{"#4b23", "Plum #4b2346\nMoth #d9cb", "rgb(300, 0, 0)", "rgb(1,2)", "hsb(400, 10, 10)", "#zzz"} {
		_, err := ParseList(text)
		assert.ErrorContains(t, err, "is no colour", text)
	}
	with,
		err := ParseList("Plum #4b2346 40%, Moth #d9cbb0\na lot of Ochre #c98a24; #8a5a86 a touch\n12,5 % Moss #4f5a34\n#102030 25 % #405060 75%")
	require.NoError(t, err)
	var much []float64
	for _, l := range with {
		much = append(much, l.Amount)
	}
	assert.Equal(t, []float64{.4, 0, .4, .03, .125, .25, .75}, much)
	many, err := ParseList(strings.Repeat("#4b2346\n", 200))
	require.NoError(t, err)
	assert.Len(t, many, 200)
}

func FuzzParseList(f *testing.F) {
	f.Add("Plum #4b2346\nrgb(1,2,3) x; hsb(1 2 3)")
	f.Fuzz(func(t *testing.T, text string) {
		all, err := ParseList(text)
		if err == nil {
			for _, l := range all {
				_, err := ParseHex(l.RGB.Hex())
				assert.NoError(t, err, fmt.Sprint(l))
			}
		}
	})
}
