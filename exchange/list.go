// Package exchange reads and writes open formats, one file a format. Readers
// take anything a maker may hand in and say in plain words what is wrong;
// nothing here stores or judges.
package exchange

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"strings"

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
	Stock  []Line // lines without a colour, which can only tell of the stock of what is there
	Bad    []BadLine
	Unused []string // columns that mean nothing here
	Note   string   // what else is said of how the list was read
	Photos []ShelfPhoto
	Mixes  []MixRecord
}

// Line is a material, the line of the file it starts on, from 1, and what that line gives.
type Line struct {
	Line     int
	Material material.Material
	Gives    material.Given
}

// BadLine is a line that cannot be used.
type BadLine struct {
	Line   int
	Text   string // the name it gives, or its beginning
	Reason string
}

// ListExtensions are the endings of the files ReadList understands.
const ListExtensions = ".csv,.tsv,.txt,.xlsx,.cgats,.json,.tokens"

// ReadList reads materials from a file of any format understood here, told
// from its content: a spreadsheet, measured data as CGATS text, design tokens,
// a shelf of Lamp Fern, or else CSV. The error is a sentence about the whole
// file; troubles of single lines are in List.Bad.
func ReadList(ctx context.Context, data []byte) (List, error) {
	if len(data) > MaxListBytes {
		return List{}, fmt.Errorf("the list is larger than %d MB: split it into smaller files", MaxListBytes>>20)
	}
	start := bytes.TrimLeft(bytes.TrimPrefix(data, []byte(Mark)), " \t\r\n")
	switch {
	case bytes.HasPrefix(data, []byte("PK\x03\x04")):
		return ReadSpreadsheet(ctx, data)
	case bytes.HasPrefix(data, []byte("\xd0\xcf\x11\xe0")):
		return List{}, errors.New("the spreadsheet is in the old format, or locked with a password: save it without one as .xlsx or CSV")
	case len(start) > 0 && start[0] == '{':
		return readJSONList(ctx, start)
	case cgatsLike(start):
		return ReadCGATS(ctx, data)
	}
	return ReadMaterials(ctx, bytes.NewReader(data))
}

// collector gathers the lines of a list, whatever its format.
type collector struct {
	list List
	seen map[string]int // name in lower case → line
}

func newCollector() *collector { return &collector{seen: map[string]int{}} }

func (c *collector) refuse(line int, text, reason string) {
	c.list.Bad = append(c.list.Bad, BadLine{line, shorten(text), strings.TrimSuffix(reason, ".")})
}

// take keeps a material that is sound and whose name is not there yet, or says
// what is wrong.
func (c *collector) take(line int, m material.Material, gives material.Given) {
	if m.Name = strings.TrimSpace(m.Name); !gives.Colour && m.Name == "" {
		c.refuse(line, m.Name, "it has no name")
		return
	}
	if p := m.Tidy(); p != nil && gives.Colour { // the rest of another is checked with what it updates
		c.refuse(line, m.Name, p.Error())
		return
	}
	key := strings.ToLower(m.Name)
	if first, twice := c.seen[key]; twice {
		c.refuse(line, m.Name, fmt.Sprintf("the name is already on line %d: give each material its own", first))
		return
	}
	c.seen[key] = line
	if !gives.Colour {
		c.list.Stock = append(c.list.Stock, Line{line, m, gives})
		return
	}
	c.list.Good = append(c.list.Good, Line{line, m, gives})
}

// row takes one row of a table.
func (c *collector) row(line int, t table, row []string) {
	m, gives, reason := t.material(row)
	if reason != "" {
		c.refuse(line, t.name(row), reason)
		return
	}
	c.take(line, m, gives)
}

// done is the list, or the sentence empty when it holds nothing at all.
func (c *collector) done(empty string, unused []string) (List, error) {
	if len(c.list.Good)+len(c.list.Stock)+len(c.list.Bad) == 0 {
		return List{}, errors.New(empty)
	}
	c.list.Unused = unused
	return c.list, nil
}

func shorten(s string) string {
	const most = 60
	if r := []rune(s); len(r) > most {
		return string(r[:most-1]) + "…"
	}
	return s
}
