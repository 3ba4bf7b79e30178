// Package exchange reads and writes open formats, one file a format. Readers
// take anything a maker may hand in and say in plain words what is wrong;
// nothing here stores or judges.
package exchange

import (
	"bytes"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"slices"
	"strconv"
	"strings"
	"unicode/utf8"

	"lampfern/core/colour"
	"lampfern/core/material"
)

// Limits of a list of materials.
const (
	MaxListBytes = 10 << 20
	MaxListLines = 20000
)

// List is what a list of materials holds: the lines that can be used and those
// that cannot, each with its reason.
type List struct {
	Good   []Line
	Bad    []BadLine
	Unused []string // columns that mean nothing here
}

// Line is a material and the line of the file it starts on, from 1.
type Line struct {
	Line     int
	Material material.Material
}

// BadLine is a line that cannot be used.
type BadLine struct {
	Line   int
	Text   string // the name it gives, or its beginning
	Reason string
}

// columns are the headings understood, in the order they are written.
var columns = []string{"name", "kind", "colour", "L", "a", "b", "source", "uncertainty", "finish",
	"reference", "supplier", "lot", "discontinued", "remark", "size", "pack", "repeat", "flash", "on hand", "unit", "price", "place"}

// otherSpellings of headings that are understood too.
var otherSpellings = map[string]string{"color": "colour", "hex": "colour", "note": "remark", "dye lot": "lot", "on_hand": "on hand"}

// ReadMaterials reads a list of materials: CSV with a heading line, comma,
// semicolon or tab between fields, UTF-8 with or without a byte order mark.
// The error is a sentence about the whole file; troubles of single lines are
// in List.Bad.
func ReadMaterials(r io.Reader) (List, error) {
	data, err := io.ReadAll(io.LimitReader(r, MaxListBytes+1))
	if err != nil {
		return List{}, fmt.Errorf("the list could not be read to its end: %w", err)
	}
	if len(data) > MaxListBytes {
		return List{}, fmt.Errorf("the list is larger than %d MB: split it and bring in the parts one after another", MaxListBytes>>20)
	}
	data = bytes.TrimPrefix(data, []byte("\xef\xbb\xbf"))
	if !utf8.Valid(data) || bytes.IndexByte(data, 0) >= 0 {
		return List{}, errors.New("the list is not UTF-8 text: save it from the spreadsheet as CSV, UTF-8")
	}
	if n := bytes.Count(data, []byte("\n")); n > MaxListLines {
		return List{}, fmt.Errorf("the list has %d lines and %d is the most at once: split it and bring in the parts one after another", n, MaxListLines)
	}
	comma := delimiter(data)
	in := csv.NewReader(bytes.NewReader(data))
	in.Comma, in.FieldsPerRecord, in.TrimLeadingSpace = comma, -1, comma != '\t'
	head, err := in.Read()
	if err != nil {
		return List{}, errors.New("the list is empty: its first line must name the columns, such as name,colour,kind")
	}
	at, unused, err := headings(head)
	if err != nil {
		return List{}, err
	}
	list := List{Unused: unused}
	seen := map[string]int{}
	for {
		row, err := in.Read()
		if err == io.EOF {
			break
		}
		var broken *csv.ParseError
		if errors.As(err, &broken) {
			list.Bad = append(list.Bad, BadLine{broken.StartLine, "", "a quotation mark is missing or stands in the wrong place"})
			continue
		}
		line, _ := in.FieldPos(0)
		if len(row) == 1 && strings.TrimSpace(row[0]) == "" {
			continue
		}
		m, reason := readLine(row, at, len(head), comma)
		if reason == "" {
			key := strings.ToLower(m.Name)
			if first, twice := seen[key]; twice {
				reason = fmt.Sprintf("the name stands on line %d already: give each material its own", first)
			}
			seen[key] = line
		}
		if reason != "" {
			list.Bad = append(list.Bad, BadLine{line, shorten(row[at["name"]%len(row)]), reason})
			continue
		}
		list.Good = append(list.Good, Line{line, m})
	}
	if len(list.Good)+len(list.Bad) == 0 {
		return List{}, errors.New("the list has headings and no materials: put one material on each line below them")
	}
	return list, nil
}

var delimiterNames = map[rune]string{',': "commas", ';': "semicolons", '\t': "tabs"}

// delimiter is the one found most often in the heading line.
func delimiter(data []byte) rune {
	head, _, _ := bytes.Cut(data, []byte("\n"))
	best, most := ',', 0
	for _, c := range []rune{',', ';', '\t'} {
		if n := bytes.Count(head, []byte(string(c))); n > most {
			best, most = c, n
		}
	}
	return best
}

func headings(head []string) (at map[string]int, unused []string, err error) {
	at = map[string]int{}
	for i, h := range head {
		h = strings.TrimSpace(h)
		known := ""
		for _, c := range columns {
			if strings.EqualFold(c, h) {
				known = c
			}
		}
		if s, ok := otherSpellings[strings.ToLower(h)]; ok {
			known = s
		}
		if _, twice := at[known]; known == "" || twice {
			unused = append(unused, h)
			continue
		}
		at[known] = i
	}
	_, name := at["name"]
	_, hex := at["colour"]
	lab := true
	for _, c := range []string{"L", "a", "b"} {
		_, has := at[c]
		lab = lab && has
	}
	if !name || !hex && !lab {
		return nil, nil, fmt.Errorf("the first line must name the columns and have at least name and colour (or L, a and b); it reads %q", shorten(strings.Join(head, " ")))
	}
	return at, unused, nil
}

// readLine makes a material of one row, or says why it cannot.
func readLine(row []string, at map[string]int, want int, comma rune) (m material.Material, reason string) {
	if len(row) != want {
		for c, name := range delimiterNames {
			if c != comma && len(row) < want && strings.Count(strings.Join(row, ""), string(c)) >= want-1 {
				return m, fmt.Sprintf("it has %s between the fields where the heading line has %s", name, delimiterNames[comma])
			}
		}
		return m, fmt.Sprintf("it has %d fields where the heading line has %d", len(row), want)
	}
	field := func(c string) string {
		if i, ok := at[c]; ok {
			return strings.TrimSpace(row[i])
		}
		return ""
	}
	number := func(c string) float64 {
		s := field(c)
		if comma != ',' {
			s = strings.Replace(s, ",", ".", 1)
		}
		v, err := strconv.ParseFloat(strings.Replace(s, "−", "-", 1), 64)
		if err != nil && reason == "" {
			reason = fmt.Sprintf("%s is %q, which is not a number", c, field(c))
		}
		return v
	}
	m = material.Material{Name: field("name"), Kind: field("kind"), Reference: field("reference"), Supplier: field("supplier"),
		Lot: field("lot"), Finish: field("finish"), Source: field("source"), Remark: field("remark")}
	switch {
	case field("L") != "" || field("a") != "" || field("b") != "":
		m.Colour = colour.Lab{L: number("L"), A: number("a"), B: number("b")}
	case field("colour") == "":
		return m, "it has no colour"
	default:
		rgb, err := colour.ParseHex(field("colour"))
		if err != nil {
			return m, err.Error()
		}
		m.Colour = rgb.Lab()
	}
	optional := func(c string) float64 {
		if field(c) == "" {
			return 0
		}
		return number(c)
	}
	m.Uncertainty, m.Pack, m.Repeat, m.Size = optional("uncertainty"), optional("pack"), optional("repeat"), field("size")
	if field("flash") != "" {
		rgb, err := colour.ParseHex(field("flash"))
		if err != nil {
			return m, "the flash: " + err.Error()
		}
		m.Further = []material.Further{{Role: material.Flash, Colour: rgb.Lab()}}
	}
	if field("on hand")+field("price")+field("place") != "" {
		m.Lots = []material.Lot{{Name: m.Lot, OnHand: optional("on hand"), Unit: field("unit"), Price: optional("price"), Place: field("place")}}
	}
	if reason != "" {
		return m, reason
	}
	switch strings.ToLower(field("discontinued")) {
	case "", "no", "0", "false", "n":
	case "yes", "1", "true", "y", "x":
		m.Discontinued = true
	default:
		return m, fmt.Sprintf("discontinued is %q: write yes or no", field("discontinued"))
	}
	if p := m.Tidy(); p != nil {
		return m, p.Error()
	}
	return m, ""
}

// orBlank writes a number in full, and nothing for 0.
func orBlank(v float64) string {
	if v == 0 {
		return ""
	}
	return strconv.FormatFloat(v, 'g', -1, 64)
}

func shorten(s string) string {
	const most = 60
	if r := []rune(s); len(r) > most {
		return string(r[:most-1]) + "…"
	}
	return s
}

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
		rows = append(rows, []string{m.Name, m.Kind, rgb.Hex(), full(m.Colour.L), full(m.Colour.A), full(m.Colour.B), m.Source,
			full(m.Uncertainty), m.Finish, m.Reference, m.Supplier, m.Lot, gone, m.Remark, m.Size, orBlank(m.Pack), orBlank(m.Repeat), flash, lot[0], lot[1], lot[2], lot[3]})
	}
	if err := out.WriteAll(rows); err != nil {
		return fmt.Errorf("writing the list of materials: %w", err)
	}
	return nil
}
