package piece

import (
	"encoding/csv"
	"fmt"
	"strconv"
	"strings"
)

// List is a table that the maker has of their own, such as the parts of a pattern: a
// truer source of quantities than a drawing.
type List struct {
	Key, Name string
	Words     string // when it is wanted, as a sentence
	Columns   []Column
	Example   string // two lines as they may be written
}

// Column is one of a list: text, or a number from Min to Max, above Min where Over is
// set. One that may be left out is Usual then, and stands after those that may not.
type Column struct {
	Name     string
	Number   bool
	Min, Max float64
	Whole    bool
	Over     bool
	Optional bool
	Usual    float64
}

// Row is a line of a list, a value a column: its text, and its number where it is one.
type Row struct {
	Text   []string
	Number []float64
}

// Bounds of a list.
const (
	MaxListBytes = 64 << 10
	mostListRows = 1000
	mostWord     = 60
)

// Read reads a list written as CSV, with commas, semicolons or tabs; a first line of
// headings is passed over. The error is a sentence about one line.
func (l List) Read(text string) ([]Row, error) {
	if len(text) > MaxListBytes {
		return nil, fmt.Errorf("the list is longer than %d kB: leave out what you do not need", MaxListBytes>>10)
	}
	text = strings.TrimSpace(strings.TrimPrefix(text, "\ufeff"))
	first, _, _ := strings.Cut(text, "\n")
	r := csv.NewReader(strings.NewReader(text))
	r.FieldsPerRecord, r.TrimLeadingSpace = -1, true
	for _, c := range ";\t" {
		if strings.ContainsRune(first, c) {
			r.Comma, r.TrimLeadingSpace = c, c != '\t'
		}
	}
	all, err := r.ReadAll()
	if err != nil {
		return nil, fmt.Errorf("the list cannot be read: check its quotation marks")
	}
	if len(all) > mostListRows {
		return nil, fmt.Errorf("the list has more than %d lines: combine similar ones", mostListRows)
	}
	var out []Row
	for n, fields := range all {
		row, err := l.row(fields)
		if err != nil {
			if n == 0 && l.heads(fields) {
				continue
			}
			return nil, fmt.Errorf("line %d: %w", n+1, err)
		}
		out = append(out, row)
	}
	if len(out) == 0 {
		return nil, fmt.Errorf("the list is empty")
	}
	return out, nil
}

// Names are the names of the columns as they are asked for.
func (l List) Names() string {
	var out []string
	for _, c := range l.Columns {
		out = append(out, c.Name)
	}
	return strings.Join(out, ", ")
}

func (l List) row(fields []string) (Row, error) {
	var row Row
	if len(fields) > len(l.Columns) {
		return row, fmt.Errorf("there are %d columns, and the list has %s", len(fields), l.Names())
	}
	for i, c := range l.Columns {
		text := ""
		if i < len(fields) {
			text = strings.Join(strings.Fields(fields[i]), " ")
		}
		v := c.Usual
		switch {
		case text == "" && !c.Optional:
			return row, fmt.Errorf("%q is empty: fill it in", c.Name)
		case !c.Number && len([]rune(text)) > mostWord:
			return row, fmt.Errorf("%q has more than %d characters", c.Name, mostWord)
		case c.Number && text != "":
			got, err := number(text)
			if err != nil || !(got >= c.Min && got <= c.Max) || c.Over && got == c.Min || c.Whole && got != float64(int(got)) {
				kind, from := "a number", "from"
				if c.Whole {
					kind = "a whole number"
				}
				if c.Over {
					from = "above"
				}
				return row, fmt.Errorf("%q is %q: write %s %s %g, up to %g", c.Name, text, kind, from, c.Min, c.Max)
			}
			v = got
		}
		row.Text, row.Number = append(row.Text, text), append(row.Number, v)
	}
	return row, nil
}

func number(text string) (float64, error) {
	return strconv.ParseFloat(strings.Replace(text, ",", ".", 1), 64)
}

// heads reports whether fields are the names of columns.
func (l List) heads(fields []string) bool {
	for i, f := range fields[:min(len(fields), len(l.Columns))] {
		name, _, _ := strings.Cut(l.Columns[i].Name, ",")
		if f = strings.TrimSpace(f); strings.EqualFold(f, name) || strings.EqualFold(f, l.Columns[i].Name) {
			return true
		}
	}
	return false
}

// same reports whether a maker's word is a name, small or capital, one or several.
func same(word, name string) bool {
	one := func(s string) string { return strings.TrimSuffix(strings.ToLower(strings.TrimSpace(s)), "s") }
	return one(word) == one(name)
}

// CardFor is the card that a maker means by a word: one of its name, or one that a part
// of that name takes; −1 for none.
func (m Making) CardFor(word string) int {
	for i, c := range m.Cards {
		if same(word, c.Name) {
			return i
		}
	}
	for i, p := range m.Piece.Parts {
		if same(word, p.Name) && m.Of[i] >= 0 {
			return m.Of[i]
		}
	}
	return -1
}
