package exchange

import (
	"archive/zip"
	"bufio"
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"regexp"
	"slices"
	"strings"

	"github.com/xuri/excelize/v2"
)

// Limits of a spreadsheet once it is unpacked.
const (
	maxSheetUnpacked = 48 << 20
	maxSheetInMemory = 16 << 20 // a larger sheet is unpacked to disk
)

// mostSheetDeep is how deep elements of a spreadsheet lie in one another.
const mostSheetDeep = 64

// Bounds of text: a cell of a real spreadsheet holds 32,767 characters, and every cell that refers to
// a shared text gets a copy of it.
const (
	mostCellBytes  = 4 * 32_767
	mostRowBytes   = 16 << 20 // of all copies in one row
	mostSheetBytes = 48 << 20 // of what is kept of a sheet
	mostFar        = 500      // cells far to the right
	mostTexts      = 400_000  // a list of most lines and twenty texts in each
)

// costs is what a part of a spreadsheet shows of what it would cost to read.
type costs struct {
	deep    bool // its elements lie in one another deeper than any real one's
	longest int  // text of one cell, in bytes
	cells   int  // of the row with most
	texts   int  // that cells may share
	far     int  // cells beyond the 702 columns that two letters name: each costs a row of thousands
}

// farCell begins a cell whose column has three letters.
var farCell = regexp.MustCompile(`^c r="[A-Z]{3}`)

// costOf looks a part of a spreadsheet through without keeping any of it.
func costOf(ctx context.Context, f *zip.File) (out costs) {
	if !strings.HasSuffix(f.Name, ".xml") && !strings.HasSuffix(f.Name, ".rels") {
		return out
	}
	in, err := f.Open()
	if err != nil {
		return out // said by what reads it
	}
	defer in.Close()
	r := bufio.NewReaderSize(io.LimitReader(within(ctx, in), maxSheetUnpacked), 64<<10)
	deep, last, tag := 0, byte(0), false
	text, cells := 0, 0
	begins := func(names ...string) bool {
		next, _ := r.Peek(4)
		return slices.ContainsFunc(names, func(name string) bool {
			rest, is := bytes.CutPrefix(next, []byte(name))
			return is && (len(rest) == 0 || strings.IndexByte(" >/\t\r\n", rest[0]) >= 0)
		})
	}
	for {
		c, err := r.ReadByte()
		if err != nil {
			return out
		}
		switch {
		case c == '<':
			tag = true
			switch {
			case begins("si"), begins("c"):
				if text = 0; begins("c") {
					cells++
					out.cells = max(out.cells, cells)
					if at, _ := r.Peek(9); farCell.Match(at) {
						out.far++
					}
				} else {
					out.texts++
				}
			case begins("row"):
				cells = 0
			}
		case c == '>':
			tag = false
		case !tag:
			text++
			out.longest = max(out.longest, text)
		}
		switch {
		case c == '<':
			next, _ := r.Peek(1)
			switch {
			case len(next) == 0, next[0] == '?', next[0] == '!':
			case next[0] == '/':
				deep--
			default:
				deep++
			}
		case c == '>' && last == '/':
			deep--
		}
		if last = c; deep > mostSheetDeep {
			out.deep = true
			return out
		}
	}
}

// ReadSpreadsheet reads a list of materials from the first sheet of an .xlsx
// file that holds one: a heading row as in CSV and one material a row. The error is a
// sentence about the whole file.
func ReadSpreadsheet(ctx context.Context, data []byte) (List, error) {
	if z, err := zip.NewReader(bytes.NewReader(data), int64(len(data))); err == nil {
		var most costs
		for _, f := range z.File {
			one := costOf(ctx, f)
			if one.deep {
				return List{}, errors.New("the spreadsheet is incomplete: save it again as .xlsx, or as CSV")
			}
			most.far = max(most.far, one.far)
			most.longest, most.cells, most.texts = max(most.longest, one.longest), max(most.cells, one.cells), max(most.texts, one.texts)
		}
		if most.longest > mostCellBytes {
			return List{}, errors.New("a cell of the spreadsheet holds more text than a cell can: shorten it and save it again")
		}
		if most.far > mostFar {
			return List{}, errors.New("many rows of the spreadsheet reach far to the right: delete the columns you do not need and save it again")
		}
		if most.texts > mostTexts {
			return List{}, fmt.Errorf("the spreadsheet holds more than %d texts: keep only the columns you need, or split it", mostTexts)
		}
		if most.longest*most.cells > mostRowBytes {
			return List{}, fmt.Errorf("a row of the spreadsheet has %d cells and may hold more text than can be read: keep only the columns you need", most.cells)
		}
	}
	dir, err := os.MkdirTemp("", "lampfern-sheet-")
	if err != nil {
		return List{}, errors.New("there is no room to unpack the spreadsheet: free some space, or save it as CSV")
	}
	defer os.RemoveAll(dir) // what the package leaves there when it fails as well
	f, err := excelize.OpenReader(within(ctx, bytes.NewReader(data)), excelize.Options{UnzipSizeLimit: maxSheetUnpacked,
		UnzipXMLSizeLimit: maxSheetInMemory, RawCellValue: true, TmpDir: dir})
	switch {
	case err != nil && strings.Contains(err.Error(), "unzip size exceeds"):
		return List{}, fmt.Errorf("the spreadsheet is far larger than it looks: keep at most %d rows and save it again", MaxListLines)
	case err != nil:
		return List{}, errors.New("the spreadsheet is incomplete: save it again as .xlsx, or as CSV")
	}
	defer f.Close()
	sheets := f.GetSheetList()
	if len(sheets) == 0 {
		return List{}, errors.New("the spreadsheet has no sheet: put the materials on its first one")
	}
	var first error
	for _, sheet := range sheets[:min(len(sheets), mostSheets)] {
		list, err := readSheet(ctx, f, sheet)
		if err == nil {
			return list, nil
		}
		if first == nil {
			first = err
		}
	}
	return List{}, first
}

// How many sheets are looked at for a list, and how many columns of each.
const (
	mostSheets  = 6
	mostColumns = 60
)

// readSheet reads a list from one sheet. The error is a sentence.
func readSheet(ctx context.Context, f *excelize.File, sheet string) (List, error) {
	in, err := f.Rows(sheet)
	if err != nil {
		return List{}, errors.New("the first sheet of the spreadsheet cannot be read: save it again as .xlsx, or as CSV")
	}
	defer in.Close()
	var rows [][]string
	var lines []int
	kept := 0
	for line := 1; in.Next(); line++ {
		if line > MaxListLines+1 {
			return List{}, fmt.Errorf("the sheet has more than %d rows: split it into smaller files", MaxListLines)
		}
		if err := ctx.Err(); err != nil {
			return List{}, err
		}
		row, err := in.Columns()
		if err != nil {
			return List{}, fmt.Errorf("the sheet cannot be read from row %d on: save it again as .xlsx, or as CSV", line)
		}
		for _, cell := range row[:min(len(row), mostColumns)] {
			kept += len(cell)
		}
		if kept > mostSheetBytes {
			return List{}, fmt.Errorf("the sheet holds more than %d MB of text: keep only the columns you need", mostSheetBytes>>20)
		}
		if strings.TrimSpace(strings.Join(row, "")) != "" {
			rows, lines = append(rows, slices.Clone(row[:min(len(row), mostColumns)])), append(lines, line)
		}
	}
	if len(rows) == 0 {
		return List{}, errors.New("the first sheet is empty: its first row must name the columns, such as name, colour, kind")
	}
	t, above, err := findTable(rows, false)
	if err != nil {
		return List{}, err
	}
	list := newCollector()
	for i, row := range rows[above:] {
		list.row(lines[above+i], t, row)
	}
	return list.done("the sheet has headings and no materials: put one material on each row below them", t.unused)
}
