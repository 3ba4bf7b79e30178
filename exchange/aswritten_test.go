package exchange

import (
	"bytes"
	"fmt"
	"strings"
	"testing"
	"unicode/utf16"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"github.com/xuri/excelize/v2"
)

// Lists as makers write them: titles above the headings, other headings, other encodings, other
// words for kinds, other ways of writing colours and numbers, and no headings at all.
func TestListsAsTheyAreWritten(t *testing.T) {
	wide := func(text string, big bool) string {
		var b bytes.Buffer
		for _, u := range utf16.Encode([]rune(text)) {
			if big {
				b.Write([]byte{byte(u >> 8), byte(u)})
			} else {
				b.Write([]byte{byte(u), byte(u >> 8)})
			}
		}
		return b.String()
	}
	const plain = "name,colour\nPlüm,#4b2346\n"
	for text, want := range map[string]string{
		plain:                              "Plüm #4b2346 fabric",
		"\ufeff" + plain:                   "Plüm #4b2346 fabric",
		"name,colour\nPl\xfcm,#4b2346\n":   "Plüm #4b2346 fabric",
		"\xff\xfe" + wide(plain, false):    "Plüm #4b2346 fabric",
		"\xfe\xff" + wide(plain, true):     "Plüm #4b2346 fabric",
		wide(plain, false):                 "Plüm #4b2346 fabric",
		wide(plain, true):                  "Plüm #4b2346 fabric",
		"name,colour\rPlum,#4b2346\r":      "Plum #4b2346 fabric",
		"sep=;\nname;colour\nPlum;#4b2346": "Plum #4b2346 fabric",
		"My yarns, spring\n,\nShade,Hex code,Type\nPlum,#4b2346,Yarns\n":               "Plum #4b2346 yarn",
		"Colour;Hex;Category\nPlum;#4b2346;wool\n":                                     "Plum #4b2346 yarn",
		"Item,RGB,Material type\nPlum,\"rgb(75, 35, 70)\",Coloured Pencils\n":          "Plum #4b2346 marker or pencil",
		"name,colour\nPlum,\"hsl(308, 36.4%, 21.6%)\"\n":                               "Plum #4b2346 fabric",
		"name,colour\nPlum,hsb(308 53.4 29.5)\n":                                       "Plum #4b2346 fabric",
		"Plum,#4b2346,yarn\nReed,#7c8a3a,wool\n":                                       "Plum #4b2346 yarn, Reed #7c8a3a yarn",
		"#4b2346\tPlum\n#7c8a3a\tReed\n":                                               "Plum #4b2346 fabric, Reed #7c8a3a fabric",
		"name;colour;price;qty;unit\nPlum;#4b2346;1.234,50 €;1.000,5;m\n":              "Plum #4b2346 fabric 1000.5 at 1234.5",
		"name,colour,cost,stock,unit\nPlum,#4b2346,\"£1,234.50\",\"1,000.5\",m\n":      "Plum #4b2346 fabric 1000.5 at 1234.5",
		"Shelf list 2026\nName,L*,a*,b*\nPlum,19.93,23.36,-15.20\n":                    "Plum #",
		"name,colour,hex\nPlum,#4b2346,#000000\n":                                      "Plum #4b2346 fabric",
		"name,colour,kind\nPlum,#4b2346,feathers\n":                                    "line 2: ",
		"name,colour\nPlum,\"hsl(400, 30%, 20%)\"\n":                                   "line 2: \"hsl(400, 30%, 20%)\" is not a colour",
		"name,colour\nPlum,\"rgb(300,1,1)\"\n":                                         "line 2: \"rgb(300,1,1)\" is not a colour",
		"sep=;\nname;colour\nPlum;purple\n":                                            "Plum #643080 fabric",
		"sep=;\nname;colour\nPlum;purplish\n":                                          "line 3: ",
		"name,kind,colour,on hand,pack\nPlum,thread,#4b2346,1 spool,500\n":             "Plum #4b2346 thread 1 at 0",
		"name,kind,colour,on hand,price\nPlum,yarn,#4b2346,250 grams,2\n":              "Plum #4b2346 yarn 250 at 2",
		"A title\n\nname,colour\nPlum,#4b2346\nReed,mud\n":                             "line 5: ",
		"name,colour\nPlum\u00a0& co,#4b2346\n":                                        "Plum & co #4b2346 fabric",
		strings.Repeat("a title,\n", headingsWithin-1) + "name,colour\nPlum,#4b2346\n": "Plum #4b2346 fabric",
	} {
		list, err := ReadList(t.Context(), []byte(text))
		require.NoError(t, err, "%q", text)
		var got []string
		for _, g := range list.Good {
			m := g.Material
			rgb, _ := m.Colour.RGB()
			one := fmt.Sprintf("%s %s %s", m.Name, rgb.Hex(), m.Kind)
			for _, l := range m.Lots {
				one += fmt.Sprintf(" %g at %g", l.OnHand, l.Price)
			}
			got = append(got, one)
		}
		for _, b := range list.Bad {
			got = append(got, fmt.Sprintf("line %d: %s", b.Line, b.Reason))
		}
		assert.Contains(t, strings.Join(got, ", "), want, "%q", text)
	}
}

// The list may stand on another sheet than the first, below a title.
func TestAListOnAnotherSheet(t *testing.T) {
	f := excelize.NewFile()
	defer f.Close()
	_, err := f.NewSheet("Yarns")
	require.NoError(t, err)
	require.NoError(t, f.SetCellValue("Sheet1", "A1", "What I own"))
	for at, v := range map[string]string{"A1": "My yarns", "A3": "Shade", "B3": "Hex", "A4": "Plum", "B4": "#4b2346"} {
		require.NoError(t, f.SetCellValue("Yarns", at, v))
	}
	b, err := f.WriteToBuffer()
	require.NoError(t, err)
	list, err := ReadList(t.Context(), b.Bytes())
	require.NoError(t, err)
	require.Len(t, list.Good, 1)
	assert.Equal(t, "Plum", list.Good[0].Material.Name)
	assert.Equal(t, 4, list.Good[0].Line)
}

// Words that lists shorten are understood, and what cannot be counted is kept in words.
func TestListsInTheWordsOfMakers(t *testing.T) {
	list, err := ReadList(t.Context(), []byte("name,kind,colour,finish,on hand,remark\nA,paint,navy,matt,3 tubes,old\nB,yarn,#4b2346,metal,1 spool,\nC,yarn,#4b2347,fuzz,12,\n"))
	require.NoError(t, err)
	require.Empty(t, list.Bad)
	var said []string
	for _, l := range list.Good {
		said = append(said, l.Material.Finish+": "+l.Material.Remark)
	}
	assert.Equal(t, []string{"matte: old; 3 tubes on hand", "metallic: 1 spool on hand", "fuzzy: "}, said)
	assert.Equal(t, 12.0, list.Good[0].Material.Uncertainty)
	list, err = ReadList(t.Context(), []byte("name,kind,colour,on hand,unit\nA,yarn,#4b2346,3,sheets\n"))
	require.NoError(t, err)
	require.Len(t, list.Bad, 1)
	assert.NotContains(t, list.Bad[0].Reason, `Lot ""`)
	assert.False(t, strings.HasSuffix(list.Bad[0].Reason, "."), "the page ends the sentence")
}
