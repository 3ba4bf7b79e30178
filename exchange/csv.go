package exchange

import (
	"bytes"
	"context"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"lampfern/core/material"
)

// ReadMaterials reads a list of materials: CSV with a heading line, comma,
// semicolon or tab between fields, in any usual encoding; a title may stand above the headings, and
// without headings the columns are told by what they hold.
// The error is a sentence about the whole file; troubles of single lines are
// in List.Bad.
func ReadMaterials(ctx context.Context, r io.Reader) (List, error) {
	data, err := io.ReadAll(io.LimitReader(r, MaxListBytes+1))
	if err != nil {
		return List{}, fmt.Errorf("the list could not be read to its end: %w", err)
	}
	if len(data) > MaxListBytes {
		return List{}, fmt.Errorf("the list is larger than %d MB: split it into smaller files", MaxListBytes>>20)
	}
	data, err = decode(data)
	if err != nil {
		return List{}, err
	}
	if n := bytes.Count(data, []byte("\n")); n > MaxListLines {
		return List{}, fmt.Errorf("the list has %d lines and %d is the most at once: split it into smaller files", n,
			MaxListLines)
	}
	comma, skipped := delimiter(data), 0
	if told := separatorTold.FindSubmatch(data); told != nil { // as some spreadsheets begin
		comma, skipped, data = rune(told[1][0]), 1, data[len(told[0]):]
	}
	in := csv.NewReader(within(ctx, bytes.NewReader(data)))
	in.Comma, in.FieldsPerRecord, in.TrimLeadingSpace = comma, -1, comma != '\t'
	list := newCollector()
	var rows [][]string
	var lines []int
	for {
		row, err := in.Read()
		if err == io.EOF {
			break
		}
		var broken *csv.ParseError
		if errors.As(err, &broken) {
			list.refuse(broken.StartLine+skipped, "", "a quotation mark is missing or in the wrong place")
			continue
		}
		if err != nil {
			return List{}, err // nobody waits for it any more
		}
		if len(row) == 1 && strings.TrimSpace(row[0]) == "" {
			continue
		}
		line, _ := in.FieldPos(0)
		rows, lines = append(rows, row), append(lines, line+skipped)
	}
	if len(rows) == 0 {
		return List{}, errors.New("the list is empty: its first line must name the columns, such as name,colour,kind")
	}
	t, above, err := findTable(rows, comma != ',')
	if err != nil {
		return List{}, err
	}
	for i, row := range rows[above:] {
		if reason := wrongWidth(row, t.width, comma); t.width >= 0 && reason != "" {
			list.refuse(lines[above+i], t.name(row), reason)
			continue
		}
		for i := range row {
			row[i] = unsafeCell(row[i])
		}
		list.row(lines[above+i], t, row)
	}
	return list.done("the list has headings and no materials: put one material on each line below them", t.unused)
}

// separatorTold is a first line that tells what stands between fields.
var separatorTold = regexp.MustCompile(`^(?i:"?sep=)([,;\t|])"?[ \t]*\n`)

var delimiterNames = map[rune]string{',': "commas", ';': "semicolons", '\t': "tabs"}

// delimiter is the one found most often in the first lines, among which the headings are.
func delimiter(data []byte) rune {
	head := data
	for at, n := 0, 0; n < headingsWithin; n++ {
		i := bytes.IndexByte(data[at:], '\n')
		if i < 0 {
			break
		}
		at += i + 1
		head = data[:at]
	}
	if first, _, _ := bytes.Cut(data, []byte("\n")); bytes.ContainsAny(first, ",;\t") {
		head = first
	}
	best, most := ',', 0
	for _, c := range []rune{',', ';', '\t'} {
		if n := bytes.Count(head, []byte(string(c))); n > most {
			best, most = c, n
		}
	}
	return best
}

// wrongWidth says why a row does not fit the heading line, empty when it does.
func wrongWidth(row []string, want int, comma rune) string {
	if len(row) == want {
		return ""
	}
	for c, name := range delimiterNames {
		if c != comma && len(row) < want && strings.Count(strings.Join(row, ""), string(c)) >= want-1 {
			return fmt.Sprintf("it has %s between the fields where the heading line has %s", name, delimiterNames[comma])
		}
	}
	return fmt.Sprintf("it has %d fields where the heading line has %d", len(row), want)
}

// orBlank writes a number in full, and nothing for 0.
func orBlank(v float64) string {
	if v == 0 {
		return ""
	}
	return strconv.FormatFloat(v, 'g', -1, 64)
}

// Mark begins a text that is written as UTF-8, so that a spreadsheet opens it with its umlauts
// (Unicode, chapter 23.8).
const Mark = "\ufeff"

// WriteMaterials writes a list that ReadMaterials reads back the same, for
// materials with at most one lot and a flash: for further lots and colours the
// list has no room. Colours are written as L, a, b in full and as the nearest
// hex.
func WriteMaterials(w io.Writer, all []material.Material) error {
	out := csv.NewWriter(w)
	rows := [][]string{slices.Clone(columns)}
	full := func(v float64) string { return strconv.FormatFloat(v, 'g', -1, 64) }
	for _, m := range all {
		rgb, _ := m.Colour.RGB()
		gone := ""
		if m.Discontinued {
			gone = "yes"
		}
		flash, lot := "", [4]string{}
		for _, f := range m.Further {
			if f.Role == material.Flash && flash == "" {
				c, _ := f.Colour.RGB()
				flash = c.Hex()
			}
		}
		if len(m.Lots) > 0 {
			l := m.Lots[0]
			lot = [4]string{full(l.OnHand), l.Unit, orBlank(l.Price), l.Place}
		}
		rows = append(rows, SafeRow([]string{m.Name, m.Kind, rgb.Hex(), full(m.Colour.L), full(m.Colour.A), full(m.Colour.B), m.Source,
			full(m.Uncertainty), m.Finish, m.Reference, m.Supplier, m.Lot, gone, m.Remark, m.Size, orBlank(m.Pack), orBlank(m.Repeat), flash, lot[0],
			lot[1], lot[2], lot[3]}))
	}
	if _, err := io.WriteString(w, Mark); err != nil {
		return fmt.Errorf("writing the list of materials: %w", err)
	}
	if err := out.WriteAll(rows); err != nil {
		return fmt.Errorf("writing the list of materials: %w", err)
	}
	return nil
}
