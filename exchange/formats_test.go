package exchange

import (
	"archive/zip"
	"bytes"
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"github.com/xuri/excelize/v2"

	"lampfern/core/colour"
	"lampfern/core/material"
)

// whole are materials with everything a record can hold.
func whole() []material.Material {
	all := sample()
	all[0].Remark = "one line"
	lab := colour.Lab{L: 21, A: 10, B: -8}
	all[0].Lots = []material.Lot{{Name: "7", OnHand: 2.5, Unit: "m", Price: 11, Place: "chest", State: material.InUse, Colour: &lab},
		{Name: "8", Unit: "yd", State: material.UsedUp}}
	all[0].Further = []material.Further{{Role: material.Print, Colour: colour.Lab{L: 80, A: 1, B: 2}, Coverage: 0.25}}
	all[0].Size, all[0].Repeat = "110 cm", 64
	all[0].Picture = &material.Picture{Photo: "ab12", X: 0.1, Y: 0.2, W: 0.3, H: 0.4, Wide: 120}
	all[1].Pack = 50
	return all
}

func materials(t *testing.T, l List) (out []material.Material) {
	t.Helper()
	require.Empty(t, l.Bad)
	for _, g := range l.Good {
		out = append(out, g.Material)
	}
	return out
}

func workbook(t testing.TB, rows ...[]any) []byte {
	t.Helper()
	f := excelize.NewFile()
	w, err := f.NewStreamWriter("Sheet1")
	require.NoError(t, err)
	for i, r := range rows {
		require.NoError(t, w.SetRow(fmt.Sprintf("A%d", i+1), r))
	}
	require.NoError(t, w.Flush())
	var b bytes.Buffer
	require.NoError(t, f.Write(&b))
	return b.Bytes()
}

func TestReadSpreadsheet(t *testing.T) {
	l, err := ReadList(t.Context(), workbook(t, []any{}, []any{"Name", "Hex", "kind", "L", "a", "b", "discontinued", "my column"},
		[]any{"Plum curtain", "#4b2346", "fabric", nil, nil, nil, true}, []any{"Reed", "", "yarn", 52.125, -10, 7.5}, []any{},
		[]any{"Bad", "#12"}))
	require.NoError(t, err)
	require.Len(t, l.Good, 2)
	assert.Equal(t, 3, l.Good[0].Line)
	assert.True(t, l.Good[0].Material.Discontinued)
	assert.Equal(t, colour.Lab{L: 52.125, A: -10, B: 7.5}, l.Good[1].Material.Colour)
	assert.Equal(t, []BadLine{{6, "Bad", `"#12" is not a colour: write # and six digits 0–9 or a–f, such as #4b2346`}}, l.Bad)
	assert.Equal(t, []string{"my column"}, l.Unused)
}

func TestSpreadsheetsRefusedWhole(t *testing.T) {
	many := [][]any{{"name", "colour"}}
	for i := range 200_000 {
		many = append(many, []any{i, "#fff"})
	}
	for _, c := range []struct {
		data []byte
		want string
	}{
		{workbook(t, many...), "more than 20000 rows"},
		{workbook(t, []any{"name", "colour"}), "no materials"},
		{workbook(t), "is empty"},
		{workbook(t, []any{"title", "shade"}, []any{"x", "#fff"}), "at least name and colour"},
		{[]byte("PK\x03\x04 and no more"), "the spreadsheet is incomplete"},
		{[]byte("\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1 and so on"), "in the old format"},
	} {
		_, err := ReadList(t.Context(), c.data)
		assert.ErrorContains(t, err, c.want)
	}
}

const measured = `CGATS.17
ORIGINATOR "a reader"
ILLUMINATION_NAME "D50"
OBSERVER_ANGLE "2"
NUMBER_OF_FIELDS 5
BEGIN_DATA_FORMAT
SAMPLE_ID SAMPLE_NAME LAB_L LAB_A LAB_B
END_DATA_FORMAT
NUMBER_OF_SETS 3
BEGIN_DATA
1 "Plum ""curtain""" 20.5 18.25 -11 # a remark
2 Reed 55 -8 22
3 Short 55
END_DATA
`

func TestReadCGATS(t *testing.T) {
	l, err := ReadList(t.Context(), []byte(measured))
	require.NoError(t, err)
	require.Len(t, l.Good, 2)
	m := l.Good[0].Material
	assert.Equal(t, `Plum "curtain"`, m.Name)
	assert.Equal(t, "measured", m.Source)
	back := m.Colour.D50()
	assert.InDelta(t, 18.25, back.A, 1e-9)
	assert.Equal(t, []BadLine{{13, "3 Short 55", "it has 3 values where the format names 5"}}, l.Bad)

	xyz := strings.NewReplacer("LAB_L LAB_A LAB_B", "XYZ_X XYZ_Y XYZ_Z", "20.5 18.25 -11", "96.4295676 100 82.5104603").Replace(measured)
	l, err = ReadCGATS(t.Context(), []byte(xyz))
	require.NoError(t, err)
	assert.InDelta(t, 100, l.Good[0].Material.Colour.L, 1e-9)
	assert.InDelta(t, 0, l.Good[0].Material.Colour.Chroma(), 1e-6)
}

// TestCGATSSpectra reads flat spectra, as shares and as per cent, whatever
// light the file's Lab is for.
func TestCGATSSpectra(t *testing.T) {
	for value, head := range map[string]string{"0.18": "", "18.0": "SPECTRAL_NORM \"100\"\n"} {
		fields, values := "SAMPLE_ID", "Grey"
		for nm := 380; nm <= 730; nm += 10 {
			fields += fmt.Sprintf(" SPECTRAL_%d", nm)
			values += " " + value
		}
		l, err := ReadCGATS(t.Context(), []byte("ISO28178\nILLUMINATION_NAME A\n"+head+"BEGIN_DATA_FORMAT\n"+fields+"\nEND_DATA_FORMAT\nBEGIN_DATA\n"+
			values+"\nEND_DATA\n"))
		require.NoError(t, err)
		require.Empty(t, l.Bad)
		assert.InDelta(t, 49.496, l.Good[0].Material.Colour.L, 0.001, "116·0.18^(1/3) − 16")
		assert.InDelta(t, 0, l.Good[0].Material.Colour.Chroma(), 1e-9)
	}
}

// Colours for D65 are taken as they are, those for D50 or for a light that is not said are taken over.
func TestCGATSSaysItsLight(t *testing.T) {
	const set = "BEGIN_DATA_FORMAT\nSAMPLE_NAME LAB_L LAB_A LAB_B\nEND_DATA_FORMAT\nBEGIN_DATA\nPlum 21 22 -13\nEND_DATA\n"
	plum := colour.Lab{L: 21, A: 22, B: -13}
	for light, c := range map[string]struct {
		want colour.Lab
		said string
	}{
		"ILLUMINATION_NAME \"D65\"\n": {plum, "for D65 and are used as they are"},
		"ILLUMINATION_NAME \"D50\"\n": {colour.FromD50(plum), "for D50 and are converted"},
		"":                            {colour.FromD50(plum), "does not say which light"},
	} {
		l, err := ReadCGATS(t.Context(), []byte("CGATS.17\n"+light+set))
		require.NoError(t, err)
		assert.InDelta(t, 0, colour.DeltaE2000(c.want, l.Good[0].Material.Colour), 1e-9, light)
		assert.Contains(t, l.Note, c.said)
	}
	x := plum.XYZ()
	l, err := ReadCGATS(t.Context(), []byte("CGATS.17\nILLUMINATION_NAME \"D65\"\n"+strings.NewReplacer("LAB_L LAB_A LAB_B", "XYZ_X XYZ_Y XYZ_Z",
		"21 22 -13", fmt.Sprintf("%.9f %.9f %.9f", 100*x.X, 100*x.Y, 100*x.Z)).Replace(set)))
	require.NoError(t, err)
	assert.InDelta(t, 0, colour.DeltaE2000(plum, l.Good[0].Material.Colour), 1e-5)
}

func TestCGATSRefusedWhole(t *testing.T) {
	for from, c := range map[string][2]string{
		"LAB_B\n":            {"OTHER\n", "has no field LAB_B"},
		`NAME "D50"`:         {`NAME "F11"`, "for the light F11"},
		`ANGLE "2"`:          {`ANGLE "10"`, "10° observer"},
		"SETS 3":             {"SETS 9", "should hold 9 samples and holds 3"},
		"END_DATA\n":         {"", "its END_DATA is missing"},
		"BEGIN_DATA\n":       {"", "no BEGIN_DATA"},
		"LAB_L LAB_A LAB_B":  {"X Y Z", "has no colours"},
		"Reed":               {"Re\x00ed", "not plain text"},
		"SAMPLE_ID SAMPLE_N": {"END_DATA_FORMAT N", "no BEGIN_DATA"},
	} {
		text := strings.Replace(measured, from, c[0], 1)
		if from == "END_DATA\n" || from == "BEGIN_DATA\n" {
			i := strings.LastIndex(measured, from)
			text = measured[:i] + measured[i+len(from):]
		}
		if strings.HasPrefix(c[0], "END_DATA_FORMAT") {
			text = "CGATS.17\nBEGIN_DATA_FORMAT\nEND_DATA_FORMAT\n"
		}
		_, err := ReadCGATS(t.Context(), []byte(text))
		assert.ErrorContains(t, err, c[1], from)
	}
}

func TestCGATSRoundTrip(t *testing.T) {
	all := sample()
	var b bytes.Buffer
	require.NoError(t, WriteCGATS(&b, all))
	l, err := ReadList(t.Context(), b.Bytes())
	require.NoError(t, err)
	for i, m := range materials(t, l) {
		assert.Less(t, colour.DeltaE2000(all[i].Colour, m.Colour), 1e-4)
		all[i].Colour, all[i].Remark, all[i].Discontinued = m.Colour, "", false // no field for these
	}
	assert.Equal(t, all, materials(t, l))
}

func TestReadTokens(t *testing.T) {
	l, err := ReadList(t.Context(), []byte(`{"cloth": {"$type": "color", "plum": {"$value": "#4b2346"},
		"deep": {"reed": {"$value": {"colorSpace": "oklch", "components": [0.6, 0.1, 120]}, "$description": "from the pond"}},
		"same": {"$value": "{cloth.deep.reed}"}, "ring": {"$value": "{cloth.round}"}, "round": {"$value": "{cloth.ring}"},
		"gone": {"$value": "{cloth.nowhere}"}, "odd": {"$value": {"colorSpace": "mine", "components": [1, 1, 1]}}},
		"gap": {"$type": "dimension", "$value": "4px"}, "untyped": {"$value": "#fff"},
		"grey": {"$type": "color", "$value": {"colorSpace": "lab", "components": [50, "none", 0]}}, "$description": "x"}`))
	require.NoError(t, err)
	got := map[string]string{}
	for _, g := range l.Good {
		got[g.Material.Name] = g.Material.Colour.Hex()
	}
	assert.Equal(t, "#4b2346", got["plum"])
	assert.Equal(t, got["reed"], got["same"])
	assert.Equal(t, "#777777", got["grey"])
	assert.Len(t, got, 4)
	why := map[string]string{}
	for _, b := range l.Bad {
		why[b.Text] = b.Reason
	}
	assert.Contains(t, why["gap"], `type "dimension"`)
	assert.Contains(t, why["untyped"], "does not say its type")
	assert.Contains(t, why["cloth ring"], "never reaches a colour")
	assert.Contains(t, why["cloth gone"], "not in the file")
	assert.Contains(t, why["cloth odd"], `"mine" is not read here`)
}

// TestTokenSpaces gives one colour in every space that is read.
func TestTokenSpaces(t *testing.T) {
	want, _ := colour.ParseHex("#336699")
	ok, x := want.OKLCh(), want.XYZ()
	d50, lab50 := colour.Adapt(x, colour.WhiteD65, colour.WhiteD50), want.Lab().D50()
	r, g, b := want.Linear()
	for space, c := range map[string][3]float64{
		"srgb": {0.2, 0.4, 0.6}, "srgb-linear": {r, g, b}, "hsl": {210, 50, 40}, "oklch": {ok.L, ok.C, ok.H},
		"oklab": {want.OKLab().L, want.OKLab().A, want.OKLab().B}, "lab": {lab50.L, lab50.A, lab50.B},
		"lch": {lab50.L, lab50.LCh().C, lab50.LCh().H}, "xyz-d65": {x.X, x.Y, x.Z}, "xyz-d50": {d50.X, d50.Y, d50.Z},
		"display-p3": {0.248, 0.395, 0.580},
	} {
		got, err := fromSpace(space, c)
		require.NoError(t, err, space)
		assert.Less(t, colour.DeltaE2000(want.Lab(), got), 0.3, space)
	}
}

func TestTokensRoundTrip(t *testing.T) {
	all := whole()
	all[0].Name, all[1].Kind = "$odd {name}.", all[0].Kind
	var b bytes.Buffer
	require.NoError(t, WriteTokens(&b, all))
	l, err := ReadList(t.Context(), b.Bytes())
	require.NoError(t, err)
	assert.ElementsMatch(t, all, materials(t, l))
	changed := strings.ReplaceAll(b.String(), `"components"`, `"were"`)
	l, err = ReadList(t.Context(), []byte(changed))
	require.NoError(t, err)
	assert.Contains(t, l.Bad[0].Reason, "three components")
	for text, want := range map[string]string{"{": "the JSON file is incomplete", `{"a": 1}`: "no design tokens",
		strings.Repeat(`{"a":`, 40) + "{}" + strings.Repeat("}", 40): "nested more than 32",
		`{"format": "lampfern-plan"}`:                                "import it under Plans"} {
		_, err := ReadList(t.Context(), []byte(text))
		assert.ErrorContains(t, err, want)
	}
}

func shelfZip(t testing.TB) []byte {
	var b bytes.Buffer
	require.NoError(t, WriteShelf(&b, whole(), nil, []ShelfPhoto{{"ab12", "a photo.jpg", "photos/ab12.jpeg"}},
		func(ShelfPhoto) ([]byte, error) { return []byte("picture"), nil }))
	return b.Bytes()
}

func TestShelfRoundTrip(t *testing.T) {
	data := shelfZip(t)
	s, err := ReadShelf(t.Context(), bytes.NewReader(data), int64(len(data)))
	require.NoError(t, err)
	l, err := ReadList(t.Context(), s.Record())
	require.NoError(t, err)
	assert.Equal(t, whole(), materials(t, l))
	assert.Equal(t, s.Photos, l.Photos)
	picture, err := s.Photo(t.Context(), s.Photos[0])
	require.NoError(t, err)
	assert.Equal(t, "picture", string(picture))
}

func TestShelvesRefused(t *testing.T) {
	packed := func(files map[string]string) []byte {
		var b bytes.Buffer
		z := zip.NewWriter(&b)
		for name, text := range files {
			w, err := z.Create(name)
			require.NoError(t, err)
			_, _ = w.Write([]byte(text))
		}
		require.NoError(t, z.Close())
		return b.Bytes()
	}
	const head = `{"format":"lampfern-shelf","version":1,"materials":[{"name":"Fox","L":50}]`
	for want, files := range map[string]map[string]string{
		"would leave its folder": {"shelf.json": head + "}", "../../photos/ab": "x"},
		"(/etc/x)":               {"shelf.json": head + "}", "/etc/x": "x"},
		`(a\b)`:                  {"shelf.json": head + "}", `a\b`: "x"},
		"no shelf.json":          {"other.json": "{}"},
		"incomplete":             {"shelf.json": head},
		"version 7":              {"shelf.json": `{"format":"lampfern-shelf","version":7}`},
		"is missing from":        {"shelf.json": head + `,"photos":[{"hash":"ab","name":"b.jpg","file":"photos/ab"}]}`},
		"is empty":               {"shelf.json": `{"format":"lampfern-shelf","version":1}`},
		"larger than 10 MB":      {"shelf.json": strings.Repeat(" ", 64<<20)},
	} {
		data := packed(files)
		_, err := ReadShelf(t.Context(), bytes.NewReader(data), int64(len(data)))
		assert.ErrorContains(t, err, want)
	}
	_, err := ReadShelf(t.Context(), strings.NewReader("PK"), 2)
	assert.ErrorContains(t, err, "the zip is incomplete")
	bomb := packed(map[string]string{"shelf.json": head + `,"photos":[{"hash":"ab","name":"b.jpg","file":"photos/ab"}]}`,
		"photos/ab": strings.Repeat("0", MaxPhotoBytes+1)})
	s, err := ReadShelf(t.Context(), bytes.NewReader(bomb), int64(len(bomb)))
	require.NoError(t, err)
	_, err = s.Photo(t.Context(), s.Photos[0])
	assert.ErrorContains(t, err, "cannot be read")
}

// sound checks what every reader promises: good lines are sound, bad ones say why.
func sound(t *testing.T, l List, err error) {
	if err != nil {
		return
	}
	for _, g := range l.Good {
		assert.Nil(t, g.Material.Tidy())
	}
	for _, b := range l.Bad {
		assert.NotEmpty(t, b.Reason)
	}
}

func FuzzReadCGATS(f *testing.F) {
	f.Add([]byte(measured))
	f.Fuzz(func(t *testing.T, data []byte) { l, err := ReadCGATS(t.Context(), data); sound(t, l, err) })
}

func FuzzReadTokens(f *testing.F) {
	var b bytes.Buffer
	_ = WriteTokens(&b, whole())
	f.Add(b.Bytes())
	f.Add([]byte(`{"a":{"$type":"color","$value":"{a}"}}`))
	f.Add([]byte(`{"$type":"color","$value":"#fff"}`))
	f.Fuzz(func(t *testing.T, data []byte) { l, err := ReadTokens(t.Context(), data); sound(t, l, err) })
}

func FuzzReadSpreadsheet(f *testing.F) {
	f.Add(workbook(f, []any{"name", "colour"}, []any{"Fox", "#b5651d"}))
	f.Fuzz(func(t *testing.T, data []byte) { l, err := ReadSpreadsheet(t.Context(), data); sound(t, l, err) })
}

func FuzzReadShelf(f *testing.F) {
	f.Add(shelfZip(f))
	f.Fuzz(func(t *testing.T, data []byte) {
		s, err := ReadShelf(t.Context(), bytes.NewReader(data), int64(len(data)))
		if err != nil {
			return
		}
		sound(t, s.list, nil)
		for _, p := range s.Photos {
			_, _ = s.Photo(t.Context(), p)
		}
	})
}

// BenchmarkImport5000 reads a list of 5,000 materials of each format.
func BenchmarkImport5000(b *testing.B) {
	var all []material.Material
	for i := range 5000 {
		m := material.Material{Name: fmt.Sprintf("Card %d", i), Colour: colour.Lab{L: float64(20 + i%75), A: float64(i % 60), B: float64(i % 50)}}
		require.Nil(b, m.Tidy())
		all = append(all, m)
	}
	rows := [][]any{{"name", "L", "a", "b"}}
	for _, m := range all {
		rows = append(rows, []any{m.Name, m.Colour.L, m.Colour.A, m.Colour.B})
	}
	formats := map[string][]byte{"xlsx": workbook(b, rows...)}
	for name, write := range map[string]func(*bytes.Buffer) error{"csv": func(w *bytes.Buffer) error { return WriteMaterials(w, all) },
		"cgats": func(w *bytes.Buffer) error { return WriteCGATS(w, all) }, "tokens": func(w *bytes.Buffer) error {
			return WriteTokens(w,
				all)
		}} {
		var out bytes.Buffer
		require.NoError(b, write(&out))
		formats[name] = out.Bytes()
	}
	for name, data := range formats {
		b.Run(name, func(b *testing.B) {
			for b.Loop() {
				l, err := ReadList(b.Context(), data)
				if err != nil || len(l.Good) != 5000 {
					b.Fatal(err, len(l.Good))
				}
			}
		})
	}
}
