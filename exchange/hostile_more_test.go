package exchange

import (
	"archive/zip"
	"bytes"
	"context"
	"encoding/binary"
	"fmt"
	"io"
	"math"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"
)

// calendarOf is a calendar of one event with lines of its own.
func calendarOf(lines string) string {
	return "BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:x\r\nBEGIN:VEVENT\r\nUID:1\r\nDTSTAMP:20200101T000000Z\r\nDTSTART:19700101T000000Z\r\nDTEND:19700101T000001Z\r\n" +
		lines + "\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n"
}

// upTo is a list of numbers.
func upTo(from, to int) string {
	var all []string
	for i := from; i <= to; i++ {
		all = append(all, fmt.Sprint(i))
	}
	return strings.Join(all, ",")
}

// recurrences are calendars of a few hundred bytes that ask for much.
func recurrences() (out []hostile) {
	busy := func(data []byte) error {
		_, err := ReadBusy(context.Background(), data, time.Now(), time.Now().AddDate(3, 0, 0), time.UTC)
		return err
	}
	add := func(name, lines string) {
		out = append(out, hostile{"a calendar " + name, busy, wholeText(calendarOf(lines))})
	}
	for _, freq := range []string{"SECONDLY", "MINUTELY", "HOURLY", "DAILY", "WEEKLY", "MONTHLY", "YEARLY"} {
		add(strings.ToLower(freq)+" in every hour and on every day", "RRULE:FREQ="+freq+";BYHOUR="+upTo(0, 23)+";BYMONTHDAY="+upTo(1, 31)+";BYMONTH="+upTo(1, 12))
	}
	add("of every second of a day", "RRULE:FREQ=DAILY;BYHOUR="+upTo(0, 23)+";BYMINUTE="+upTo(0, 59)+";BYSECOND="+upTo(0, 59))
	add("of a thousand million repeats", "RRULE:FREQ=DAILY;COUNT=1000000000")
	add("that repeats until the year 9999", "RRULE:FREQ=HOURLY;UNTIL=99991231T235959Z")
	add("of an interval of two thousand million", "RRULE:FREQ=SECONDLY;INTERVAL=2000000000")
	add("of an interval of nought", "RRULE:FREQ=DAILY;INTERVAL=0")
	add("of the last of all days of all weeks", "RRULE:FREQ=YEARLY;BYDAY=MO,TU,WE,TH,FR,SA,SU;BYSETPOS="+upTo(1, 366))
	add("of every week number", "RRULE:FREQ=YEARLY;BYWEEKNO="+upTo(1, 53)+";BYDAY=MO,TU,WE,TH,FR,SA,SU")
	add("of a day that never comes", "RRULE:FREQ=MONTHLY;BYMONTH=2;BYMONTHDAY=31")
	add("of a weekday that never comes", "RRULE:FREQ=MONTHLY;BYDAY=+6MO")
	add("of 200,000 days left out", "RRULE:FREQ=DAILY\r\nEXDATE:"+strings.Repeat("20260101T000000Z,", 200_000)+"20260102T000000Z")
	add("of a long duration, each second", "RRULE:FREQ=SECONDLY\r\nDURATION:P1000000D")
	add("of a rule of a million letters", "RRULE:FREQ=DAILY;"+strings.Repeat("BYHOUR=1;", 120_000))
	return out
}

// trianglesSTL is an STL of triangles by their nine numbers.
func trianglesSTL(n int, at func(i int) [9]float32) []byte {
	out := make([]byte, stlHead, stlHead+stlTriangle*n)
	binary.LittleEndian.PutUint32(out[80:], uint32(n))
	for i := range n {
		out = append(out, make([]byte, 12)...)
		for _, v := range at(i) {
			out = binary.LittleEndian.AppendUint32(out, math.Float32bits(v))
		}
		out = append(out, 0, 0)
	}
	return out
}

// meshes are solids that cannot be.
func meshes(t testing.TB) (out []hostile) {
	stl := func(data []byte) error { _, err := ReadSTL(context.Background(), "x", data); return err }
	model3 := func(data []byte) error { _, err := Read3MF(context.Background(), data, false); return err }
	const n = 200_000
	add := func(name string, n int, at func(i int) [9]float32) {
		out = append(out, hostile{"an STL " + name, stl, func() []byte { return trianglesSTL(n, at) }})
	}
	add("of one triangle over and over", n, func(int) [9]float32 { return [9]float32{0, 0, 0, 1, 0, 0, 0, 1, 0} })
	add("of one triangle 450,000 times", 450_000, func(int) [9]float32 { return [9]float32{0, 0, 0, 1, 0, 0, 0, 1, 0} })
	add("of triangles that share one edge", n, func(i int) [9]float32 { return [9]float32{0, 0, 0, 1, 0, 0, 0, 1, float32(i)} })
	add("of triangles that share one corner", n, func(i int) [9]float32 { return [9]float32{0, 0, 0, 1, float32(i), 0, 0, 1, float32(i)} })
	add("of triangles without area", n, func(i int) [9]float32 { x := float32(i); return [9]float32{x, 0, 0, x, 0, 0, x, 0, 0} })
	add("of slivers", n, func(i int) [9]float32 { x := float32(i) * 1e-6; return [9]float32{x, 0, 0, x + 1e-7, 0, 0, x, 1e6, 0} })
	add("of corners that lie all but together", n, func(i int) [9]float32 { x := float32(i%7) * 1e-7; return [9]float32{x, 0, 0, 1, x, 0, 0, 1, x} })
	add("of 200,000 bodies", n, func(i int) [9]float32 { x := float32(i * 3); return [9]float32{x, 0, 0, x + 1, 0, 0, x, 1, 0} })
	add("of what is no number", n, func(int) [9]float32 { return [9]float32{float32(math.NaN()), 0, 0, 1, 0, 0, 0, 1, 0} })
	add("without end", n, func(int) [9]float32 { return [9]float32{float32(math.Inf(1)), 0, 0, 1, 0, 0, 0, 1, 0} })
	add("as wide as the sky", n, func(i int) [9]float32 { return [9]float32{-1e38, 0, 0, 1e38, float32(i), 0, 0, 1e38, 0} })
	add("of a strip that is all one surface", n, func(i int) [9]float32 { x := float32(i); return [9]float32{x, 0, 0, x + 1, 0, 0, x, 1, 0} })
	add("of both sides of one wall", n, func(i int) [9]float32 {
		if x := float32(i / 2); i%2 == 0 {
			return [9]float32{x, 0, 0, x + 1, 0, 0, x, 1, 0}
		}
		x := float32(i / 2)
		return [9]float32{x, 1, 0, x + 1, 0, 0, x, 0, 0}
	})
	out = append(out,
		hostile{"a model moved beyond all numbers", model3, func() []byte {
			return rawModel(t, model+`<object id="1">`+square(1)+`</object></resources><build><item objectid="1" transform="1e308 0 0 0 1e308 0 0 0 1e308 1e308 0 0"/></build></model>`)
		}},
		hostile{"a model of one vertex and 200,000 triangles", model3, func() []byte {
			return rawModel(t, model+`<object id="1"><mesh><vertices><vertex x="0" y="0" z="0"/></vertices><triangles>`+
				strings.Repeat(`<triangle v1="0" v2="0" v3="0"/>`, n)+`</triangles></mesh></object></resources><build><item objectid="1"/></build></model>`)
		}},
		hostile{"a model of an object built 5,000 times", model3, func() []byte {
			return rawModel(t, model+`<object id="1">`+square(200)+`</object></resources><build>`+strings.Repeat(`<item objectid="1"/>`, 5000)+`</build></model>`)
		}},
		hostile{"a model whose object is made of itself", model3, func() []byte {
			return rawModel(t, model+`<object id="1"><components><component objectid="1"/></components></object></resources><build><item objectid="1"/></build></model>`)
		}})
	return out
}

// zips are packages that lie about what they hold.
func zips(t testing.TB) (out []hostile) {
	shelf := func(data []byte) error {
		_, err := ReadShelf(context.Background(), bytes.NewReader(data), int64(len(data)))
		return err
	}
	plan := func(data []byte) error { _, err := ReadPlanFile(context.Background(), data); return err }
	list := func(data []byte) error { _, err := ReadList(context.Background(), data); return err }
	model3 := func(data []byte) error { _, err := Read3MF(context.Background(), data, false); return err }
	made := func(put func(z *zip.Writer)) func() []byte {
		return func() []byte {
			var b bytes.Buffer
			z := zip.NewWriter(&b)
			put(z)
			require.NoError(t, z.Close())
			return b.Bytes()
		}
	}
	file := func(z *zip.Writer, name string, n int) {
		w, err := z.Create(name)
		require.NoError(t, err)
		_, err = io.Copy(w, io.LimitReader(spaces{}, int64(n)))
		require.NoError(t, err)
	}
	all := map[string]func([]byte) error{"shelf": shelf, "plan": plan, "list": list, "3MF": model3}
	for name, read := range all {
		out = append(out,
			hostile{"a " + name + " of 60,000 empty files", read, made(func(z *zip.Writer) {
				for i := range 60_000 {
					file(z, fmt.Sprint(i), 0)
				}
			})},
			hostile{"a " + name + " of one file of 1 GB of spaces", read, made(func(z *zip.Writer) {
				file(z, "shelf.json", 1<<30)
				file(z, "plan.json", 1)
			})},
			hostile{"a " + name + " whose names are 60 kB long", read, made(func(z *zip.Writer) {
				for range 300 {
					file(z, strings.Repeat("n", 60_000), 1)
				}
			})},
			hostile{"a " + name + " that says its file is small", read, func() []byte {
				data := made(func(z *zip.Writer) { file(z, "shelf.json", 100<<20); file(z, "plan.json", 100<<20) })()
				for at := bytes.Index(data, []byte("PK\x01\x02")); at >= 0 && at+28 < len(data); {
					binary.LittleEndian.PutUint32(data[at+24:], 10)
					next := bytes.Index(data[at+4:], []byte("PK\x01\x02"))
					if next < 0 {
						break
					}
					at += 4 + next
				}
				return data
			}},
			hostile{"a " + name + " of one name 2,000 times", read, made(func(z *zip.Writer) {
				for range 2000 {
					file(z, "plan.json", 1000)
					file(z, "shelf.json", 1000)
				}
			})})
	}
	return out
}

// spaces are spaces without end.
type spaces struct{}

func (spaces) Read(p []byte) (int, error) {
	for i := range p {
		p[i] = ' '
	}
	return len(p), nil
}

// sheets are spreadsheets of shared strings that are no such thing.
func sheets(t testing.TB) (out []hostile) {
	list := func(data []byte) error { _, err := ReadList(context.Background(), data); return err }
	add := func(name, sheet, shared string) {
		out = append(out, hostile{"a spreadsheet " + name, list, func() []byte { return rawSheet(t, sheet, shared) }})
	}
	many := strings.Repeat
	one := `<row r="1"><c r="A1" t="s"><v>0</v></c></row>`
	add("whose strings are counted from beyond", `<row r="1">`+many(`<c t="s"><v>2000000000</v></c>`, 1000)+`</row>`, `<si><t>x</t></si>`)
	add("whose strings are counted from below nought", `<row r="1">`+many(`<c t="s"><v>-1</v></c>`, 1000)+`</row>`, `<si><t>x</t></si>`)
	add("of a million shared strings", one, many(`<si><t>x</t></si>`, 1_000_000))
	add("of a million empty shared strings", one, many(`<si/>`, 1_000_000))
	add("of a string of 400,000 runs", one, `<si>`+many(`<r><t>x</t></r>`, 400_000)+`</si>`)
	add("of 50,000 cells that share 1 MB", many(`<row>`+many(`<c t="s"><v>0</v></c>`, 50)+`</row>`, 1000), `<si><t>`+many("x", 1<<20)+`</t></si>`)
	add("of 2,000 cells that share 30 kB", many(`<row>`+many(`<c t="s"><v>0</v></c>`, 50)+`</row>`, 40), `<si><t>`+many("x", 30_000)+`</t></si>`)
	add("of rows that are counted from the end", `<row r="1048576"><c r="XFD1048576" t="s"><v>0</v></c></row>`, `<si><t>x</t></si>`)
	add("of rows that go back", `<row r="9"><c r="A9" t="s"><v>0</v></c></row>`+many(`<row r="1"><c r="A1" t="s"><v>0</v></c></row>`, 20_000), `<si><t>x</t></si>`)
	add("of a formula of 1 MB", `<row r="1"><c r="A1"><f>`+many("A1+", 300_000)+`A1</f></c></row>`, `<si><t>x</t></si>`)
	return out
}

// TestFurtherHostileFiles are sixty more, over shared strings, recurrences, solids that cannot be, and packages
// that lie.
func TestFurtherHostileFiles(t *testing.T) {
	if testing.Short() {
		t.Skip("takes a minute: ./test runs it")
	}
	all := append(append(append(recurrences(), meshes(t)...), zips(t)...), sheets(t)...)
	require.GreaterOrEqual(t, len(all), 60)
	tryHostiles(t, all)
}
