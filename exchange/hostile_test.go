package exchange

import (
	"archive/zip"
	"bytes"
	"fmt"
	"io"
	"os"
	"runtime"
	"runtime/debug"
	"strings"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// What no reader may take more of, whatever the file: 300 MB, and, where it is measured by
// ./bench with nothing beside it, five seconds.
const mostHostileMemory = 300 << 20

func mostHostileTime() time.Duration {
	if os.Getenv("LAMPFERN_BENCH") != "" {
		return 5 * time.Second
	}
	return time.Minute
}

// packed is a zip of entries.
func packed(t testing.TB, entries ...string) []byte {
	t.Helper()
	var b bytes.Buffer
	z := zip.NewWriter(&b)
	for i := 0; i < len(entries); i += 2 {
		w, err := z.Create(entries[i])
		require.NoError(t, err)
		_, err = io.Copy(w, strings.NewReader(entries[i+1]))
		require.NoError(t, err)
	}
	require.NoError(t, z.Close())
	return b.Bytes()
}

// rawModel is a 3MF package of a model.
func rawModel(t testing.TB, model string) []byte {
	return packed(t, "_rels/.rels", `<Relationships><Relationship Type="`+modelRelation+`" Target="/3D/m.model"/></Relationships>`,
		"3D/m.model", model)
}

// rawSheet is a spreadsheet of one sheet, with shared strings.
func rawSheet(t testing.TB, sheet, shared string) []byte {
	const head = `<?xml version="1.0" encoding="UTF-8"?>`
	return packed(t, "[Content_Types].xml", head+
		`<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Override PartName="/xl/workbook.xml" ContentType="application/vnd.openxmlformats-officedocument.spreadsheetml.sheet.main+xml"/><Override PartName="/xl/worksheets/sheet1.xml" ContentType="application/vnd.openxmlformats-officedocument.spreadsheetml.worksheet+xml"/></Types>`,
		"_rels/.rels", head+
			`<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="rId1" Type="http://schemas.openxmlformats.org/officeDocument/2006/relationships/officeDocument" Target="xl/workbook.xml"/></Relationships>`,
		"xl/workbook.xml", head+
			`<workbook xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main" xmlns:r="http://schemas.openxmlformats.org/officeDocument/2006/relationships"><sheets><sheet name="s" sheetId="1" r:id="rId1"/></sheets></workbook>`,
		"xl/_rels/workbook.xml.rels", head+
			`<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="rId1" Type="http://schemas.openxmlformats.org/officeDocument/2006/relationships/worksheet" Target="worksheets/sheet1.xml"/><Relationship Id="rId2" Type="http://schemas.openxmlformats.org/officeDocument/2006/relationships/sharedStrings" Target="sharedStrings.xml"/></Relationships>`,
		"xl/worksheets/sheet1.xml", head+`<worksheet xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main"><sheetData>`+sheet+
			`</sheetData></worksheet>`,
		"xl/sharedStrings.xml", head+`<sst xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main">`+shared+`</sst>`)
}

// square is the vertices and triangles of a 3MF mesh.
func square(n int) string {
	var b strings.Builder
	b.WriteString("<mesh><vertices>")
	for range n {
		b.WriteString(`<vertex x="0" y="0" z="0"/><vertex x="1" y="0" z="0"/><vertex x="0" y="1" z="0"/><vertex x="0" y="0" z="1"/>`)
	}
	b.WriteString(`</vertices><triangles><triangle v1="0" v2="1" v3="2"/><triangle v1="0" v2="2" v3="3"/><triangle v1="0" v2="3" v3="1"/><triangle v1="1" v2="3" v3="2"/></triangles></mesh>`)
	return b.String()
}

const model = `<model unit="millimeter" xmlns="http://schemas.microsoft.com/3dmanufacturing/core/2015/02"><resources>`

type hostile struct {
	name string
	read func([]byte) error
	data func() []byte
}

func wholeText(s string) func() []byte { return func() []byte { return []byte(s) } }

// hostiles are files of strangers: small ones that cost much, broken ones and lying ones.
func hostiles(t testing.TB) []hostile {
	list := func(data []byte) error { _, err := ReadList(t.Context(), data); return err }
	wif := func(data []byte) error { _, err := ReadWIF(t.Context(), bytes.NewReader(data)); return err }
	threemf := func(data []byte) error { _, err := Read3MF(t.Context(), data, false); return err }
	svg := func(data []byte) error { _, err := ReadSVG(t.Context(), bytes.NewReader(data)); return err }
	stl := func(data []byte) error { _, err := ReadSTL(t.Context(), "x", data); return err }
	photo := func(data []byte) error { _, err := ReadPhoto(t.Context(), data); return err }
	plan := func(data []byte) error { _, err := ReadPlanFile(t.Context(), data); return err }
	oldPlan := func(data []byte) error { _, err := ReadPlan(t.Context(), bytes.NewReader(data)); return err }
	shelf := func(data []byte) error {
		_, err := ReadShelf(t.Context(), bytes.NewReader(data), int64(len(data)))
		return err
	}
	prices := func(data []byte) error { _, err := ReadPrices(t.Context(), data); return err }
	busy := func(data []byte) error {
		_, err := ReadBusy(t.Context(), data, time.Now(), time.Now().AddDate(3, 0, 0), time.UTC)
		return err
	}
	const draft = "[WIF]\nVersion=1.1\n[WARP]\nThreads=2\n[WEFT]\nThreads=2\n[THREADING]\n1=1\n2=2\n[TIEUP]\n1=1\n2=2\n[TREADLING]\n1=1\n2=2\n"
	many := strings.Repeat
	return []hostile{
		{"a draft of 200,000,000 shafts with a sinking shed", wif, wholeText(draft +
			"[WEAVING]\nShafts=200000000\nTreadles=2\nRising Shed=false\n")},
		{"a draft of 20,000 picks that each press all treadles", wif, func() []byte {
			var b strings.Builder
			b.WriteString("[WIF]\n[WEAVING]\nShafts=32\nTreadles=60\n[WARP]\nThreads=2\n[WEFT]\nThreads=20000\n[THREADING]\n1=1\n2=2\n[TIEUP]\n")
			for i := 1; i <= 60; i++ {
				fmt.Fprintf(&b, "%d=%s1\n", i, many("1,2,3,4,5,6,7,8,9,10,", 20))
			}
			b.WriteString("[TREADLING]\n")
			for i := 1; i <= 20000; i++ {
				fmt.Fprintf(&b, "%d=%d,%d,%d\n", i, i%60+1, i%59+1, i%58+1)
			}
			return []byte(b.String())
		}},
		{"a draft of one line of 8 MB", wif, func() []byte { return []byte("[WIF]\n" + many("x", 8<<20-10)) }},
		{"a draft whose threads are on a million shafts", wif,
			wholeText("[WIF]\n[WEAVING]\nShafts=2\n[WARP]\nThreads=1\n[WEFT]\nThreads=1\n[THREADING]\n1=" + many("1,",
				1<<20) + "\n[TIEUP]\n1=1\n[TREADLING]\n1=1\n")},
		{"a draft in half of UTF-16", wif, wholeText("\xff\xfe[\x00W\x00I")},
		{"a mesh with unused vertices, used forty times", threemf, func() []byte {
			return rawModel(t, model+`<object id="1">`+square(120_000)+`</object></resources><build>`+many(`<item objectid="1"/>`,
				40)+`</build></model>`)
		}},
		{"a model of 190 MB of spaces", threemf, func() []byte { return rawModel(t, model+many(" ", 190<<20)+`</resources></model>`) }},
		{"a model larger than may be", threemf, func() []byte { return rawModel(t, model+many(" ", 300<<20)+`</resources></model>`) }},
		{"a model of one attribute of 100 MB", threemf, func() []byte {
			return rawModel(t, `<model unit="`+many("m", 100<<20)+`"><resources/></model>`)
		}},
		{"objects that use one another", threemf, func() []byte {
			var b strings.Builder
			b.WriteString(model + `<object id="0">` + square(1) + `</object>`)
			for i := 1; i < 40; i++ {
				fmt.Fprintf(&b, `<object id="%d"><components>%s</components></object>`, i, many(fmt.Sprintf(`<component objectid="%d"/>`, i-1), 20))
			}
			b.WriteString(`</resources><build><item objectid="39"/></build></model>`)
			return rawModel(t, b.String())
		}},
		{"a model that nests 100,000 deep", threemf, func() []byte {
			return rawModel(t, model+many("<a>", 100_000)+many("</a>", 100_000)+`</resources></model>`)
		}},
		{"a million triangles too many", threemf, func() []byte {
			return rawModel(t, model+
				`<object id="1"><mesh><vertices><vertex x="0" y="0" z="0"/><vertex x="1" y="0" z="0"/><vertex x="0" y="1" z="0"/></vertices><triangles>`+many(`<triangle v1="0" v2="1" v3="2"/>`, 2_000_000)+`</triangles></mesh></object></resources><build><item objectid="1"/></build></model>`)
		}},
		{"a package without a model", threemf, func() []byte { return packed(t, "_rels/.rels", "<Relationships/>") }},
		{"a package of 500 files", threemf, func() []byte {
			var all []string
			for i := range 500 {
				all = append(all, fmt.Sprint(i), "")
			}
			return packed(t, all...)
		}},
		{"a spreadsheet of nested tags", list, func() []byte { return rawSheet(t, many("<a>", 3_000_000)+many("</a>", 3_000_000), "") }},
		{"shared strings of nested tags", list, func() []byte {
			return rawSheet(t, `<row r="1"><c r="A1" t="s"><v>0</v></c></row>`, many("<a>", 3_000_000)+many("</a>", 3_000_000))
		}},
		{"a spreadsheet of a million empty rows", list, func() []byte { return rawSheet(t, many("<row/>", 1_000_000), "") }},
		{"a row of a million cells", list, func() []byte {
			return rawSheet(t, `<row r="1">`+many(`<c t="inlineStr"><is><t>x</t></is></c>`, 400_000)+`</row>`, "")
		}},
		{"a cell far to the right", list, func() []byte {
			return rawSheet(t, many(`<row><c r="XFD1" t="inlineStr"><is><t>x</t></is></c></row>`, 4000), "")
		}},
		{"a spreadsheet that unpacks to 300 MB", list, func() []byte { return rawSheet(t, many(" ", 300<<20), "") }},
		{"shared strings of 100 MB", list, func() []byte {
			return rawSheet(t, `<row r="1"><c r="A1" t="s"><v>0</v></c></row>`, `<si><t>`+many("x", 100<<20)+`</t></si>`)
		}},
		{"half a spreadsheet", list, func() []byte { return rawSheet(t, "", "")[:300] }},
		{"tokens that stand for others in a large group", list, func() []byte {
			var b strings.Builder
			b.WriteString(`{"big":{`)
			for i := range 6000 {
				fmt.Fprintf(&b, `"t%d":{"$value":"#102030","$type":"color"},`, i)
			}
			b.WriteString(`"z":{"$value":"#000000"}},"use":{`)
			for i := range 4000 {
				fmt.Fprintf(&b, `"u%d":{"$value":"{big.t%d}","$type":"color"},`, i, i)
			}
			b.WriteString(`"z":{"$value":"#000000"}}}`)
			return []byte(b.String())
		}},
		{"tokens in a ring", list, wholeText(`{"a":{"$value":"{b}","$type":"color"},"b":{"$value":"{a}","$type":"color"}}`)},
		{"tokens nested 100,000 deep", list, func() []byte { return []byte(many(`{"a":`, 100_000) + "1" + many("}", 100_000)) }},
		{"an alias of a million dots", list, func() []byte { return []byte(`{"a":{"$value":"{` + many(".", 1<<20) + `}","$type":"color"}}`) }},
		{"JSON of 9 MB of brackets", list, func() []byte { return []byte(many("[", 9<<20)) }},
		{"a list of one line of 9 MB", list, func() []byte { return []byte("name,colour\n" + many("x", 9<<20)) }},
		{"a list of two million lines", list, func() []byte { return []byte("name,colour\n" + many("a,b\n", 2_000_000)) }},
		{"a list with a heading of 500,000 columns", list, func() []byte { return []byte(many("name,", 500_000) + "\n") }},
		{"a list of quotes", list, func() []byte { return []byte("name,colour\n" + many(`"`, 5<<20)) }},
		{"measured data of two million keywords", list, func() []byte { return []byte("CGATS.17\n" + many("KEYWORD \"X\"\n", 700_000)) }},
		{"measured data that says a billion sets", list,
			wholeText("CGATS.17\nNUMBER_OF_FIELDS 1000000000\nBEGIN_DATA_FORMAT\nSAMPLE_ID LAB_L LAB_A LAB_B\nEND_DATA_FORMAT\nNUMBER_OF_SETS 1000000000\nBEGIN_DATA\nEND_DATA\n")},
		{"measured data of 100,000 fields", list, func() []byte {
			return []byte("CGATS.17\nBEGIN_DATA_FORMAT\n" + many("SPECTRAL_NM_500 ", 100_000) + "\nEND_DATA_FORMAT\nBEGIN_DATA\n" + many("1 ",
				100_000) + "\nEND_DATA\n")
		}},
		{"a drawing of 350 long paths", svg, func() []byte {
			return []byte(`<svg xmlns="http://www.w3.org/2000/svg" width="100mm" height="100mm" viewBox="0 0 100 100">` +
				many(`<path d="M0 0`+many("c1 2 3 4 5 6", 2200)+`z"/>`, 350) + `</svg>`)
		}},
		{"a path of a million arcs", svg, func() []byte {
			return []byte(`<svg xmlns="http://www.w3.org/2000/svg" width="100" height="100"><path d="M0 0` + many("a9 9 0 1 1 1 1",
				600_000) + `"/></svg>`)
		}},
		{"a drawing nested 100,000 deep", svg, func() []byte {
			return []byte(`<svg xmlns="http://www.w3.org/2000/svg">` + many("<g>", 100_000) + many("</g>", 100_000) + `</svg>`)
		}},
		{"a drawing with 300,000 classes", svg, func() []byte {
			return []byte(`<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"><style>` + many(".a{fill:red}",
				300_000) + `</style><rect width="1" height="1" class="a"/></svg>`)
		}},
		{"a style of opened brackets", svg, func() []byte {
			return []byte(`<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"><style>` + many(".a{", 2_000_000) + `</style></svg>`)
		}},
		{"a drawing that uses entities", svg,
			wholeText(`<!DOCTYPE svg [<!ENTITY a "aaaa">]><svg xmlns="http://www.w3.org/2000/svg">&a;</svg>`)},
		{"a drawing of 100,000 transforms", svg, func() []byte {
			return []byte(`<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"><g transform="` + many("rotate(1)",
				100_000) + `"><rect width="1" height="1"/></g></svg>`)
		}},
		{"a drawing of 200,000 discs", svg, func() []byte {
			return []byte(`<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9">` + many(`<circle r="1"/>`, 200_000) + `</svg>`)
		}},
		{"polygons of a million corners", svg, func() []byte {
			return []byte(`<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"><polygon points="` + many("1,2 ", 1_000_000) + `"/></svg>`)
		}},
		{"an STL that says four billion triangles", stl, func() []byte {
			return append(bytes.Repeat([]byte{0}, 80), 0xff, 0xff, 0xff, 0xff, 1,
				2)
		}},
		{"an STL of words", stl, func() []byte { return []byte("solid x\n" + many("facet normal 0 0 0\n", 1_000_000)) }},
		{"an STL of numbers that are none", stl,
			wholeText("solid x\nfacet normal 0 0 0\nouter loop\nvertex nan inf 1e999\nvertex 1 1 1\nvertex 2 2 2\nendloop\nendfacet\nendsolid")},
		{"half an STL", stl, func() []byte { return append(bytes.Repeat([]byte{0}, 80), 2, 0, 0, 0, 1, 2, 3) }},
		{"a PNG of 60,000 × 60,000", photo, func() []byte { return bomb(t.(*testing.T), 60_000, 60_000) }},
		{"a JPEG of its first bytes", photo, wholeText("\xff\xd8\xff\xe0")},
		{"a WebP that says it is huge", photo, wholeText("RIFF\xff\xff\xff\xffWEBPVP8X\x0a\x00\x00\x00\x00\x00\x00\x00\xff\xff\xff\xff\xff\xff")},
		{"a photo of spaces", photo, func() []byte { return bytes.Repeat([]byte(" "), 1<<20) }},
		{"a plan that unpacks to 2 GB", plan, func() []byte {
			return packed(t, "plan.json", `{"format":"lampfern-plan","version":2,"plan":{"name":"`+many("x", 200<<20)+`"}}`)
		}},
		{"a plan of brackets", plan, func() []byte { return packed(t, "plan.json", many("[", 20<<20)) }},
		{"a plan of 20,000 photos that are not there", plan, func() []byte {
			return packed(t, "plan.json", `{"format":"lampfern-plan","version":2,"plan":{"name":"x","craft":"quilt"},"photos":[`+
				many(`{"hash":"abcd","file":"../../x"},`, 20_000)+`{"hash":"abcd"}]}`)
		}},
		{"an old plan of brackets", oldPlan, func() []byte { return []byte(many("[", 4<<20)) }},
		{"a shelf that unpacks to 300 MB", shelf, func() []byte { return packed(t, "shelf.json", many(" ", 300<<20)) }},
		{"a shelf of names that lead away", shelf, func() []byte {
			return packed(t, "shelf.json", `{"format":"lampfern-shelf","version":1,"materials":[]}`, "../../etc/passwd", "x")
		}},
		{"a shelf of brackets", shelf, func() []byte { return packed(t, "shelf.json", many("[", 20<<20)) }},
		{"no zip at all", shelf, wholeText("PK\x03\x04 nothing")},
		{"prices of 5 million columns", prices, func() []byte { return []byte(many(",", 5_000_000)) }},
		{"prices of brackets", prices, func() []byte { return []byte(many("[", 5<<20)) }},
		{"a calendar that repeats every second for ever", busy,
			wholeText("BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:x\r\nBEGIN:VEVENT\r\nUID:1\r\nDTSTAMP:20200101T000000Z\r\nDTSTART:20200101T000000Z\r\nDTEND:20200101T000001Z\r\nRRULE:FREQ=SECONDLY\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n")},
		{"a calendar of a 30th of February, yearly", busy,
			wholeText("BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:x\r\nBEGIN:VEVENT\r\nUID:1\r\nDTSTAMP:20200101T000000Z\r\nDTSTART:20200101T000000Z\r\nDTEND:20200101T000001Z\r\nRRULE:FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=30\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n")},
		{"a calendar of every second of every day, yearly", busy, func() []byte {
			list := func(from, to int) string {
				var all []string
				for i := from; i <= to; i++ {
					all = append(all, fmt.Sprint(i))
				}
				return strings.Join(all, ",")
			}
			return []byte("BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:x\r\nBEGIN:VEVENT\r\nUID:1\r\nDTSTAMP:20200101T000000Z\r\nDTSTART:20200101T000000Z\r\nDTEND:20200101T000001Z\r\nRRULE:FREQ=YEARLY;BYMONTH=" +
				list(1, 12) + ";BYMONTHDAY=" + list(1, 31) + ";BYHOUR=" + list(0, 23) + ";BYMINUTE=" + list(0, 59) + ";BYSECOND=" + list(0, 59) +
				"\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n")
		}},
		{"a calendar of 15,000 events that repeat daily since 1900", busy, func() []byte {
			return []byte("BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:x\r\n" + many(
				"BEGIN:VEVENT\r\nUID:1\r\nDTSTAMP:20200101T000000Z\r\nDTSTART:19900101T000000Z\r\nDTEND:19900101T000001Z\r\nRRULE:FREQ=DAILY;BYHOUR=0,1,2,3,4,5,6,7\r\nEND:VEVENT\r\n",
				15_000) + "END:VCALENDAR\r\n")
		}},
		{"160 cells that share 10 MB of text", list, func() []byte {
			return rawSheet(t, `<row r="1">`+many(`<c t="s"><v>0</v></c>`, 160)+`</row>`, `<si><t>`+many("x", 10<<20)+`</t></si>`)
		}},
		{"3,000 rows that share 40 MB of text in runs", list, func() []byte {
			return rawSheet(t, many(`<row><c t="s"><v>0</v></c></row>`, 3000), `<si>`+many(`<r><t>`+many("x", 1<<20)+`</t></r>`, 40)+`</si>`)
		}},
		{"rows of 16,000 cells that share a long text", list, func() []byte {
			return rawSheet(t, many(`<row>`+many(`<c t="s"><v>0</v></c>`, 16_000)+`</row>`, 5), `<si><t>`+many("x", 32_000)+`</t></si>`)
		}},
		{"20,000 rows of ten long texts", list, func() []byte {
			return rawSheet(t, many(`<row>`+many(`<c t="s"><v>0</v></c>`, 10)+`</row>`, 20_000), `<si><t>`+many("x", 30_000)+`</t></si>`)
		}},
		{"a calendar of half a million events", busy, func() []byte {
			return []byte("BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:x\r\n" + many("BEGIN:VEVENT\r\nUID:1\r\nEND:VEVENT\r\n",
				100_000) + "END:VCALENDAR\r\n")
		}},
	}
}

// TestHostileFiles reads every one within bounds of time and memory: it is taken, or refused
// in a sentence.
func TestHostileFiles(t *testing.T) {
	if testing.Short() {
		t.Skip("takes a minute: ./test runs it")
	}
	all := hostiles(t)
	assert.GreaterOrEqual(t, len(all), 60)
	tryHostiles(t, all)
}

// tryHostiles reads files and measures what each takes.
func tryHostiles(t *testing.T, all []hostile) {
	t.Helper()
	worst, slowest := uint64(0), time.Duration(0)
	for _, h := range all {
		data := h.data()
		debug.FreeOSMemory()
		var before, now runtime.MemStats
		runtime.ReadMemStats(&before)
		var peak atomic.Uint64
		done, watched := make(chan struct{}), make(chan struct{})
		go func() {
			defer close(watched)
			for {
				select {
				case <-done:
					return
				case <-time.After(2 * time.Millisecond):
					var m runtime.MemStats
					runtime.ReadMemStats(&m)
					peak.Store(max(peak.Load(), m.HeapAlloc+m.StackInuse))
				}
			}
		}()
		start := time.Now()
		err := h.read(data)
		took := time.Since(start)
		close(done)
		<-watched
		runtime.ReadMemStats(&now)
		took0 := max(peak.Load(), now.HeapAlloc) - min(before.HeapAlloc+before.StackInuse, max(peak.Load(), now.HeapAlloc))
		if testing.Verbose() {
			fmt.Fprintf(os.Stderr, "%-58s %6d kB  %7.0f ms  %5d MB  %.90s\n", h.name, len(data)>>10, float64(took.Microseconds())/1000, took0>>20,
				fmt.Sprint(err))
		}
		assert.Less(t, took, mostHostileTime(), h.name)
		assert.LessOrEqual(t, took0, uint64(mostHostileMemory), h.name)
		if err != nil {
			assert.NotContains(t, err.Error(), "runtime error", h.name)
		}
		worst, slowest = max(worst, took0), max(slowest, took)
	}
	t.Logf("%d files, at worst %d MB and %.1f s", len(all), worst>>20, slowest.Seconds())
}
