package exchange

import (
	"bytes"
	"errors"
	"fmt"
	"strings"

	"github.com/xuri/excelize/v2"
)

// Limits of a spreadsheet once it is unpacked.
const (
	maxSheetUnpacked = 256 << 20
	maxSheetInMemory = 16 << 20 // a larger sheet is unpacked to disk
)

// ReadSpreadsheet reads a list of materials from the first sheet of an .xlsx
// file: a heading row as in CSV and one material a row. The error is a
// sentence about the whole file.
func ReadSpreadsheet(data []byte) (List, error) {
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
