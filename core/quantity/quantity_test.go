package quantity

import (
	"encoding/csv"
	"encoding/json"
	"fmt"
	"math"
	"os"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// same compares a result with what is expected: keys that are shown must match, numbers
// to 0.00001 or a millionth.
func same(t *testing.T, at string, want, got any) {
	t.Helper()
	switch w := want.(type) {
	case map[string]any:
		g, is := got.(map[string]any)
		require.True(t, is, "%s is %v", at, got)
		for k, v := range w {
			same(t, at+"."+k, v, g[k])
		}
	case []any:
		g, is := got.([]any)
		require.True(t, is, "%s is %v", at, got)
		require.Len(t, g, len(w), at)
		for i, v := range w {
			same(t, fmt.Sprintf("%s[%d]", at, i), v, g[i])
		}
	case float64:
		g, is := got.(float64)
		require.True(t, is, "%s is %v", at, got)
		assert.InDelta(t, w, g, math.Max(1e-5, 1e-6*math.Abs(w)), at)
	default:
		assert.Equal(t, want, got, at)
	}
}

// The examples of the design, whole.
func TestExamples(t *testing.T) {
	f, err := os.Open("testdata/quantities.csv")
	require.NoError(t, err)
	defer f.Close()
	rows, err := csv.NewReader(f).ReadAll()
	require.NoError(t, err)
	require.Greater(t, len(rows), 60)
	used := map[string]bool{}
	for _, r := range rows[1:] {
		t.Run(r[0], func(t *testing.T) {
			used[r[2]] = true
			out, err := Compute(r[2], json.RawMessage(r[3]))
			require.NoError(t, err)
			var want, got map[string]any
			require.NoError(t, json.Unmarshal([]byte(r[4]), &want))
			require.NoError(t, json.Unmarshal(out, &got))
			same(t, r[0], want, got)
			if want["warnings"] != nil {
				assert.NotEmpty(t, got["working"], "every number can be followed")
			}
			if bad, is := got["error"].(map[string]any); is {
				assert.Regexp(t, `[.)]$`, bad["message"], "a whole sentence")
			}
		})
	}
	for _, name := range Formulas() {
		assert.True(t, used[name], "%s has an example", name)
	}
}

// Every kind of fault of the inputs, at its field, in one sentence.
func TestFaults(t *testing.T) {
	warp := `"finished_width_cm": 50, "finished_length_cm": 70, "sett_epc": 6, "reed_width_cm": 80, "grist_m_per_kg": 6772, "package_g": 250`
	for _, c := range []struct{ formula, inputs, kind, field, says string }{
		{"quilt.binding", `{"quilt_w": 60}`, "missing", "quilt_h", "Please give the finished quilt height."},
		{"quilt.binding", `{"quilt_w": 60, "quilt_h": null}`, "missing", "quilt_h", "Please give"},
		{"quilt.binding", `{"quilt_w": 60, "quilt_hight": 3, "quilt_h": 2}`, "unknown_field", "quilt_hight", "Check the spelling"},
		{"quilt.binding", `{"quilt_w": "60", "quilt_h": 2}`, "not_a_number", "quilt_w", "I read “60”"},
		{"quilt.binding", `{"quilt_w": true, "quilt_h": 2}`, "not_a_number", "quilt_w", "must be a number"},
		{"quilt.binding", `{"quilt_w": 0, "quilt_h": 2}`, "not_positive", "quilt_w", "more than zero"},
		{"quilt.binding", `{"quilt_w": 301, "quilt_h": 2}`, "out_of_range", "quilt_w", "between 0 and 300"},
		{"quilt.binding", `{"quilt_w": 60, "quilt_h": 2, "waste_pct": -1}`, "negative", "waste_pct", "less than nothing"},
		{"quilt.binding", `{"quilt_w": 60, "quilt_h": 2, "wof": -1}`, "out_of_range", "wof", "between 4 and 130"},
		{"quilt.binding", `{"unit": "cm", "quilt_w": 700, "quilt_h": 2, "join": 3}`, "wrong_type", "join", "should be a name"},
		{"quilt.binding", `{"unit": "ell", "quilt_w": 60, "quilt_h": 2}`, "unknown_choice", "unit", "ell is not one of: in, cm"},
		{"quilt.binding", `{"quilt_w": 60, "quilt_h": 60, "wof": 4, "strip": 5}`, "does_not_fit", "wof", "joins would use all of it"},
		{"quilt.cut", `{"shape": "rectangle", "finished_w": 3}`, "missing", "finished_h", "finished height"},
		{"quilt.cut", `{"shape": "square", "finished_w": 3, "finished_h": 4}`, "contradiction", "finished_h", "leave the height empty"},
		{"quilt.cut", `{"shape": "square", "finished_w": 3, "count": 1.5}`, "not_whole", "count", "1.5 is not"},
		{"quilt.strips", `{"lines": []}`, "empty", "lines", "nothing in it"},
		{"quilt.strips", `{"lines": {}}`, "wrong_type", "lines", "should be a list"},
		{"quilt.strips", `{"lines": [{"shape": "square", "finished_w": 2}]}`, "missing", "lines[0].count", "number of finished units"},
		{"quilt.strips", `{"lines": [{"shape": "square", "finished_w": 60, "count": 0}]}`, "does_not_fit", "lines[0].finished_w",
			"wider than the cloth (42)"},
		{"quilt.gradient", `{"quilt_w": 40, "quilt_h": 50, "rungs": 2, "mode": "geometric", "first_w": 2}`, "missing", "last_w", "Please give"},
		{"quilt.gradient", `{"quilt_w": 40, "quilt_h": 50, "rungs": 2, "colours": ["a"]}`, "contradiction", "colours", "2 rungs but 1 colours"},
		{"quilt.gradient", `{"quilt_w": 40, "quilt_h": 50, "rungs": 0}`, "not_positive", "rungs", "more than zero"},
		{"weave.warp", `{` + warp + `, "stripe_order": [{"colour": " ", "ends": 4}]}`, "wrong_type", "stripe_order[0].colour",
			"should be a name"},
		{"weave.warp", `{` + warp + `, "stripe_order": [{"colour": "a", "ends": 0}]}`, "empty", "stripe_order", "nothing in it"},
		{"knit.stranded",
			`{"chart": ["AB", "A"], "gauge_st_10cm": 20, "swatch_stitches": 10, "swatch_rows": 10, "swatch_g": 3, "m_per_100g": 200, "skein_g": 50}`,
			"contradiction", "chart[1]", "Row 2 has 1 stitches"},
		{"soap.split", `{"spelling": 1, "NaOH_g": 100}`, "not_computed_here", "NaOH_g", "does not work out lye"},
		{"soap.colourant", `{"kind": "mica", "part_oils_g": 100, "basis": "tsp_per_500g_oils"}`, "missing", "rate", "usage rate"},
		{"soap.colourant", `{"kind": "mica", "part_oils_g": 100, "rate": 9, "max_g_per_kg_oils": 8}`, "over_limit", "rate",
			"above the highest permitted rate 8"},
		{"model.mix_drops", `{"parts": {"a": 1.5}, "need_ml": 1}`, "not_whole", "parts.a", "whole number"},
		{"model.mix_drops", `{"parts": {"a": 0}, "need_ml": 1}`, "empty", "parts", "nothing in them"},
		{"print.multicolour", `{"part_g": {"a": 3}, "layers": [{"count": 1, "colours": ["a", "b"]}]}`, "unknown_choice", "layers[0].colours[1]",
			"b is not one of: a"},
		{"print.multicolour", `{"part_g": {"a": 3}, "layers": [{"count": 1, "colours": ["a", "a"]}]}`, "contradiction", "layers[0].colours[1]",
			"listed twice"},
		{"stock.convert", `{"value": 1, "from": "tsp", "to": "g"}`, "unit_mismatch", "to", "do not measure the same"},
		{"stock.convert", `{"value": 0, "from": "tex", "to": "m_per_kg"}`, "not_positive", "value", "more than zero"},
		{"stock.lots", `{"regions": [{"name": "a", "need": 1}, {"name": "a", "need": 1}], "lots": [{"lot": "x", "amount": 1}]}`, "contradiction",
			"regions[1].name", "listed twice"},
	} {
		out, err := Compute(c.formula, json.RawMessage(c.inputs))
		require.NoError(t, err)
		var got struct{ Error Fault }
		require.NoError(t, json.Unmarshal(out, &got))
		assert.Equal(t, [2]string{c.kind, c.field}, [2]string{got.Error.Kind, got.Error.Field}, "%s %s", c.formula, c.inputs)
		assert.Contains(t, got.Error.Message, c.says)
	}
	_, err := Compute("quilt.binding", json.RawMessage(`{"quilt_w"`))
	assert.ErrorContains(t, err, "not whole JSON")
	_, err = Compute("quilt.binding", json.RawMessage(`[]`))
	assert.ErrorContains(t, err, "JSON object")
	_, err = Compute("quilt.magic", json.RawMessage(`{}`))
	assert.ErrorContains(t, err, `no formula "quilt.magic"`)
}

// Many layers are counted without walking them all, and to the same number.
func TestLayersAreCountedAsIfWalked(t *testing.T) {
	grams := Amounts{{"a", 1}, {"b", 1}, {"c", 1}}
	abc, b := []string{"a", "b", "c"}, []string{"b"}
	for n := range 40 {
		once, err := PrintColours(PrintColoursIn{PartG: grams, Layers: []PrintLayer{{float64(n), abc}, {float64(n % 3), b}}})
		require.NoError(t, err)
		var each []PrintLayer
		for range n {
			each = append(each, PrintLayer{1, abc})
		}
		for range n % 3 {
			each = append(each, PrintLayer{1, b})
		}
		if each == nil {
			continue
		}
		walked, err := PrintColours(PrintColoursIn{PartG: grams, Layers: each})
		require.NoError(t, err)
		assert.Equal(t, walked.Rounded.Changes, once.Rounded.Changes, n)
		assert.Equal(t, walked.Exact.Flush, once.Exact.Flush, n)
	}
}

// What is left out is usual, and what is given is checked, also where a function is called.
func TestTypedInputsAreChecked(t *testing.T) {
	usual, err := Binding(BindingIn{QuiltW: 60, QuiltH: 72})
	require.NoError(t, err)
	spelt, err := Binding(BindingIn{Unit: "in", QuiltW: 60, QuiltH: 72, Seam: new(.25), WOF: new(42.0), Strip: new(2.5), Allowance: new(10.0),
		Join: "diagonal", WastePct: new(5.0)})
	require.NoError(t, err)
	assert.Equal(t, spelt, usual)
	none, err := Binding(BindingIn{QuiltW: 60, QuiltH: 72, WastePct: new(0.0)})
	require.NoError(t, err)
	assert.Equal(t, none.Exact.Length, none.Exact.WithWaste, "nothing to spare is not the usual")
	for field, in := range map[string]BindingIn{
		"unit": {Unit: "ell", QuiltW: 60, QuiltH: 72}, "quilt_w": {QuiltH: 72}, "quilt_h": {QuiltW: 60, QuiltH: 301},
		"waste_pct": {QuiltW: 60, QuiltH: 72, WastePct: new(-1.0)},
		"seam":      {QuiltW: 60, QuiltH: 72, Seam: new(math.NaN())}} {
		_, err := Binding(in)
		var fault *Fault
		require.ErrorAs(t, err, &fault, field)
		assert.Equal(t, field, fault.Field)
	}
	wide, err := Binding(BindingIn{Unit: "cm", QuiltW: 60, QuiltH: 72, WOF: new(11.0)})
	require.NoError(t, err)
	assert.Equal(t, []Warning{"unusual:wof"}, wide.Warnings, "bounds are as large in cm")
	_, err = Strips(StripsIn{Lines: []QuiltShape{{Shape: "square", FinishedW: 3, Count: 1.5}}})
	var fault *Fault
	require.ErrorAs(t, err, &fault)
	assert.Equal(t, "lines[0].count", fault.Field)
	_, err = Drops(DropsIn{Parts: Amounts{{"a", 1}, {"b", 1001}}, NeedML: 1})
	require.ErrorAs(t, err, &fault)
	assert.Equal(t, "parts.b", fault.Field)
	_, err = Sheets(SheetsIn{})
	assert.ErrorContains(t, err, "has nothing in it")
}

func TestLargestRemainder(t *testing.T) {
	assert.Equal(t, []float64{2, 1, 1}, largestRemainder([]float64{4.0 / 3, 4.0 / 3, 4.0 / 3}, 4), "ties go to the earlier")
	assert.Equal(t, []float64{0, 3}, largestRemainder([]float64{.4, 2.6}, 3))
	assert.Equal(t, 10.0, downInt(106/10.6), "exact fits fit")
	assert.Equal(t, 2.5, near(2.25, .5))
}

// Nap takes more only where the envelope's table does not count it already.
func TestNapOfAnEnvelope(t *testing.T) {
	for _, tt := range []struct {
		nap, counted bool
		want         float64
	}{{false, false, 200}, {false, true, 200}, {true, true, 200}, {true, false, 230}} {
		out, err := ClothByTable(ClothByTableIn{Table: []EnvelopeRow{{Width: 115, Lengths: Amounts{{"12", 2}}}, {Width: 90, Lengths: Amounts{{"12", 3}}}},
			Size: "12", FabricWidth: 115, Nap: tt.nap, TableHasNap: tt.counted, ShrinkPct: new(0.0)})
		require.NoError(t, err)
		assert.InDelta(t, tt.want, out.Exact.LengthToBuy, 1e-9, "%+v", tt)
		assert.Equal(t, 115.0, out.Rounded.RowWidth, "a row as wide as the cloth is its own")
	}
}
