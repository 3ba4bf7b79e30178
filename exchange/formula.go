package exchange

import (
	"strconv"
	"strings"
)

// Cells of a CSV that begin like a formula are run by spreadsheets: one gets an apostrophe
// before it, which spreadsheets take for “this is text” and ReadMaterials takes off again
// (OWASP, CSV injection).

// SafeCell is a cell that no spreadsheet runs. Numbers stay as they are.
func SafeCell(s string) string {
	if runs(strings.TrimLeft(s, "'")) {
		return "'" + s
	}
	return s
}

// SafeRow is a row of safe cells.
func SafeRow(row []string) []string {
	out := make([]string, len(row))
	for i, s := range row {
		out[i] = SafeCell(s)
	}
	return out
}

// unsafeCell takes off what SafeCell put before a cell.
func unsafeCell(s string) string {
	if rest, had := strings.CutPrefix(s, "'"); had && runs(strings.TrimLeft(rest, "'")) {
		return rest
	}
	return s
}

// runs reports whether a spreadsheet would take a cell for a formula.
func runs(s string) bool {
	if s == "" || !strings.ContainsRune("=+-@\t\r", rune(s[0])) {
		return false
	}
	_, err := strconv.ParseFloat(strings.Replace(s, ",", ".", 1), 64)
	return err != nil
}
