package exchange

import (
	"fmt"
	"strconv"
	"strings"

	"lampfern/core/colour"
	"lampfern/core/material"
)

// columns are the headings understood, in the order they are written.
var columns = []string{"name", "kind", "colour", "L", "a", "b", "source", "uncertainty", "finish",
	"reference", "supplier", "lot", "discontinued", "remark", "size", "pack", "repeat", "flash", "on hand", "unit", "price", "place"}

// otherSpellings of headings that are understood too.
var otherSpellings = map[string]string{"color": "colour", "hex": "colour", "note": "remark", "dye lot": "lot", "on_hand": "on hand"}

// table is rows of materials below headings, from whatever kind of file.
type table struct {
	at           map[string]int // column → field of a row
	unused       []string
	decimalComma bool
}

// newTable understands a heading line. decimalComma tells that numbers may have
// one.
func newTable(head []string, decimalComma bool) (table, error) {
	t := table{at: map[string]int{}, decimalComma: decimalComma}
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
		if _, twice := t.at[known]; known == "" || twice {
			t.unused = append(t.unused, h)
			continue
		}
		t.at[known] = i
	}
	_, name := t.at["name"]
	_, hex := t.at["colour"]
	lab := true
	for _, c := range []string{"L", "a", "b"} {
		_, has := t.at[c]
		lab = lab && has
	}
	if !name || !hex && !lab {
		return table{}, fmt.Errorf("the first line must name the columns and have at least name and colour (or L, a and b); it reads %q", shorten(strings.Join(head, " ")))
	}
	return t, nil
}

// name is what a row gives as its name, as far as it can be told.
func (t table) name(row []string) string {
	if len(row) == 0 {
		return ""
	}
	return row[t.at["name"]%len(row)]
}

// material makes a material of one row, or says why it cannot; it may not be
// tidy yet.
func (t table) material(row []string) (m material.Material, reason string) {
	field := func(c string) string {
		if i, ok := t.at[c]; ok && i < len(row) {
			return strings.TrimSpace(row[i])
		}
		return ""
	}
	number := func(c string) float64 {
		s := field(c)
		if t.decimalComma {
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
	return m, ""
}
