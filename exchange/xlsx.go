package exchange

import (
	"archive/zip"
	"bufio"
	"bytes"
	"errors"
	"fmt"
	"io"
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

// tooDeep reports whether the elements of a part of a spreadsheet lie in one another deeper
// than any real one's, which would cost far more to read than the file is large.
func tooDeep(f *zip.File) bool {
	if !strings.HasSuffix(f.Name, ".xml") && !strings.HasSuffix(f.Name, ".rels") {
		return false
	}
	in, err := f.Open()
	if err != nil {
		return false // said by what reads it
	}
	defer in.Close()
	r := bufio.NewReaderSize(io.LimitReader(in, maxSheetUnpacked), 64<<10)
	deep, last := 0, byte(0)
	for {
		c, err := r.ReadByte()
		if err != nil {
			return false
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
			return true
		}
	}
}

// ReadSpreadsheet reads a list of materials from the first sheet of an .xlsx
// file that holds one: a heading row as in CSV and one material a row. The error is a
// sentence about the whole file.
func ReadSpreadsheet(data []byte) (List, error) {
	if z, err := zip.NewReader(bytes.NewReader(data), int64(len(data))); err == nil {
		for _, f := range z.File {
			if tooDeep(f) {
				return List{}, errors.New("the file is not a whole spreadsheet: save it again as .xlsx, or as CSV")
			}
		}
	}
	f, err := excelize.OpenReader(bytes.NewReader(data), excelize.Options{UnzipSizeLimit: maxSheetUnpacked,
		UnzipXMLSizeLimit: maxSheetInMemory, RawCellValue: true})
	switch {
	case err != nil && strings.Contains(err.Error(), "unzip size exceeds"):
		return List{}, fmt.Errorf("the spreadsheet is far larger than it looks: keep %d rows at most and save it anew", MaxListLines)
	case err != nil:
		return List{}, errors.New("the file is not a whole spreadsheet: save it again as .xlsx, or as CSV")
	}
	defer f.Close()
	sheets := f.GetSheetList()
	if len(sheets) == 0 {
		return List{}, errors.New("the spreadsheet has no sheet: put the materials on its first one")
	}
	var first error
	for _, sheet := range sheets[:min(len(sheets), mostSheets)] {
		list, err := readSheet(f, sheet)
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
func readSheet(f *excelize.File, sheet string) (List, error) {
	in, err := f.Rows(sheet)
	if err != nil {
		return List{}, errors.New("the first sheet of the spreadsheet cannot be read: save it again as .xlsx, or as CSV")
	}
	defer in.Close()
	var rows [][]string
	var lines []int
	for line := 1; in.Next(); line++ {
		if line > MaxListLines+1 {
			return List{}, fmt.Errorf("the sheet has more than %d rows: split it and bring in the parts one after another", MaxListLines)
		}
		row, err := in.Columns()
		if err != nil {
			return List{}, fmt.Errorf("the sheet cannot be read from row %d on: save it again as .xlsx, or as CSV", line)
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
