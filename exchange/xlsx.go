package exchange

import (
	"archive/zip"
	"bufio"
	"bytes"
	"errors"
	"fmt"
	"io"
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
// file: a heading row as in CSV and one material a row. The error is a
// sentence about the whole file.
func ReadSpreadsheet(data []byte) (List, error) {
	if z, err := zip.NewReader(bytes.NewReader(data), int64(len(data))); err == nil {
		for _, f := range z.File {
			if tooDeep(f) {
				return List{}, errors.New("the file is not a whole spreadsheet: save it again as .xlsx, or as CSV")
			}
		}
	}
	f, err := excelize.OpenReader(bytes.NewReader(data), excelize.Options{UnzipSizeLimit: maxSheetUnpacked, UnzipXMLSizeLimit: maxSheetInMemory, RawCellValue: true})
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
	rows, err := f.Rows(sheets[0])
	if err != nil {
		return List{}, errors.New("the first sheet of the spreadsheet cannot be read: save it again as .xlsx, or as CSV")
	}
	defer rows.Close()
	list := newCollector()
	var t *table
	for line := 1; rows.Next(); line++ {
		if line > MaxListLines+1 {
			return List{}, fmt.Errorf("the sheet has more than %d rows: split it and bring in the parts one after another", MaxListLines)
		}
		row, err := rows.Columns()
		if err != nil {
			return List{}, fmt.Errorf("the sheet cannot be read from row %d on: save it again as .xlsx, or as CSV", line)
		}
		switch {
		case strings.TrimSpace(strings.Join(row, "")) == "":
		case t == nil:
			head, err := newTable(row, false)
			if err != nil {
				return List{}, err
			}
			t = &head
		default:
			list.row(line, *t, row)
		}
	}
	if t == nil {
		return List{}, errors.New("the first sheet is empty: its first row must name the columns, such as name, colour, kind")
	}
	return list.done("the sheet has headings and no materials: put one material on each row below them", t.unused)
}
