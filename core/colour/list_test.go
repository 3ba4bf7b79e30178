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
		got, _, err := ParseList(text)
		require.NoError(t, err, text)
		said := []string{}
		for _, l := range got {
			said = append(said, l.Name+" "+l.RGB.Hex())
		}
		assert.Equal(t, want, said, text)
	}
	for _, text := range []string{"#4b23", "Plum #4b2346\nMoth #d9cb", "rgb(300, 0, 0)", "rgb(1,2)", "hsb(400, 10, 10)", "#zzz"} {
		_, _, err := ParseList(text)
		assert.ErrorContains(t, err, "is not a colour", text)
	}
	with, _,
		err := ParseList("Plum #4b2346 40%, Moth #d9cbb0\na lot of Ochre #c98a24; #8a5a86 a touch\n12,5 % Moss #4f5a34\n#102030 25 % #405060 75%")
	require.NoError(t, err)
	var much []float64
	for _, l := range with {
		much = append(much, l.Amount)
	}
	assert.Equal(t, []float64{.4, 0, .4, .03, .125, .25, .75}, much)
	many, _, err := ParseList(strings.Repeat("#4b2346\n", 200))
	require.NoError(t, err)
	assert.Len(t, many, 200)
}

// Five lines pasted, of which one has a code, one a plain name, and two amounts: none is dropped.
func TestEveryLineOfAListIsReadOrTold(t *testing.T) {
	all, unread, err := ParseList("3 balls Heather #8a5a86\nnavy\nOld barn door\n2 × 50 g pale pink\nMoss #4f5a34 (200 g)\noff-white, Auntie's mix, rust 40%")
	require.NoError(t, err)
	assert.Equal(t, []string{"Old barn door", "2 × 50 g pale pink", "Auntie's mix"}, unread, "two times fifty grams is no amount of one thing")
	var said []string
	for _, l := range all {
		said = append(said, strings.TrimSpace(fmt.Sprintf("%s %g %s %t %g", l.Name, l.Count, l.Unit, l.Plain, l.Amount)))
	}
	assert.Equal(t, []string{"Heather 3 balls false 0", "Navy 0  true 0", "Moss 200 g false 0", "Off-white 0  true 0", "Rust 0  true 0.4"}, said)
}

// A plain name is where people who say it look, in the family that it is of, and its light and dark are.
func TestPlainNames(t *testing.T) {
	for name, want := range map[string]FamilyName{"Navy": Blue, "navy blue": Blue, "mustard": Yellow, "Off-White": White, "pale pink": Pink,
		"dark green": Green, "gray": Grey, "black": Black, "teal": BlueGreen, "lemon": Yellow, "plum": Violet, "chocolate": Brown, "red": Red} {
		c, ok := Plain(name)
		require.True(t, ok, name)
		assert.Equal(t, want, Family(c.Lab()), name)
	}
	light, _ := Plain("light blue")
	dark, _ := Plain("dark blue")
	assert.Greater(t, light.Lab().L, dark.Lab().L+15)
	for _, none := range []string{"", "barn door", "very red", "red barn", "light", "palette"} {
		_, ok := Plain(none)
		assert.False(t, ok, none)
	}
	for name := range plainNames {
		c, ok := Plain(name)
		assert.True(t, ok, name)
		assert.Contains(t, Families(), Family(c.Lab()))
	}
	assert.GreaterOrEqual(t, len(plainNames), 100)
}

func FuzzParseList(f *testing.F) {
	f.Add("Plum #4b2346\nrgb(1,2,3) x; hsb(1 2 3)")
	f.Fuzz(func(t *testing.T, text string) {
		all, _, err := ParseList(text)
		if err == nil {
			for _, l := range all {
				_, err := ParseHex(l.RGB.Hex())
				assert.NoError(t, err, fmt.Sprint(l))
			}
		}
	})
}

// How much there is belongs to what stands before it, with a colour, a plain name or neither.
func TestAmountsBehindAComma(t *testing.T) {
	all, unread, err := ParseList("Oatmeal, 3 balls\nPlum #4b2346, 1 ball\nnavy\nOld door, 2 m\ncream, rust, 3 balls")
	require.NoError(t, err)
	assert.Equal(t, []string{"Old door, 2 m"}, unread)
	var said []string
	for _, l := range all {
		said = append(said, fmt.Sprintf("%s %g%s", l.Name, l.Count, l.Unit))
	}
	assert.Equal(t, []string{"Oatmeal 3balls", "Plum 1ball", "Navy 0", "Cream 0", "Rust 3balls"}, said)
	n, unit, ok := Count(" 2 balls ")
	assert.Equal(t, []any{2.0, "balls", true}, []any{n, unit, ok})
	_, _, ok = Count("2 balls, ragged")
	assert.False(t, ok)
}

func TestPlainNameOfAColour(t *testing.T) {
	for name := range plainNames {
		c, _ := Plain(name)
		got, _ := Plain(PlainName(c.Lab()))
		assert.Less(t, DeltaE2000(c.Lab(), got.Lab()), 1e-9, "%s is called %s", name, PlainName(c.Lab()))
	}
	c, err := ParseHex("#a5522d")
	require.NoError(t, err)
	assert.Equal(t, "Sienna", PlainName(c.Lab()))
}
