package exchange

import (
	"fmt"
	"strconv"
	"strings"
	"unicode"

	"lampfern/core/colour"
	"lampfern/core/material"
)

// columns are the headings understood, in the order they are written.
var columns = []string{"name", "kind", "colour", "L", "a", "b", "source", "uncertainty", "finish",
	"reference", "supplier", "lot", "discontinued", "remark", "size", "pack", "repeat", "flash", "on hand", "unit", "price", "place"}

// otherSpellings of headings that are understood too, in lower case; a column under its own name
// comes before one under another.
var otherSpellings = map[string]string{
	"title": "name", "material": "name", "shade": "name", "shade name": "name", "colour name": "name", "color name": "name", "item": "name",
	"product": "name", "article": "name", "description": "name",
	"color": "colour", "hex": "colour", "hex code": "colour", "hex colour": "colour", "hex color": "colour", "hex value": "colour",
	"rgb": "colour", "colour code": "colour", "color code": "colour",
	"l*": "L", "a*": "a", "b*": "b", "type": "kind", "category": "kind", "material type": "kind", "craft": "kind",
	"note": "remark", "notes": "remark", "comment": "remark", "comments": "remark", "remarks": "remark",
	"dye lot": "lot", "dyelot": "lot", "batch": "lot", "dye batch": "lot", "on_hand": "on hand", "quantity": "on hand", "qty": "on hand",
	"stock": "on hand", "in stock": "on hand", "amount": "on hand",
	"cost": "price", "price each": "price", "unit price": "price", "location": "place", "where": "place", "kept in": "place",
	"storage": "place",
	"shop":    "supplier", "seller": "supplier", "vendor": "supplier", "maker": "supplier", "manufacturer": "supplier", "brand": "supplier",
	"ref": "reference", "code": "reference", "sku": "reference", "number": "reference", "no": "reference", "no.": "reference",
	"article number": "reference", "item number": "reference",
	"sheen": "finish", "surface": "finish", "width": "size", "units": "unit",
}

// table is rows of materials below headings, from whatever kind of file.
type table struct {
	at           map[string]int // column → field of a row
	unused       []string
	decimalComma bool
	width        int // of a row, in fields; -1 for any
}

// newTable understands a heading line. decimalComma tells that numbers may have
// one.
func newTable(head []string, decimalComma bool) (table, error) {
	t := table{at: map[string]int{}, decimalComma: decimalComma, width: len(head)}
	taken := map[int]bool{}
	for _, spelt := range []func(h string) string{
		func(h string) string {
			if strings.EqualFold(h, "l*") { // before an L that is something else
				return ""
			}
			for _, c := range columns {
				if strings.EqualFold(c, h) {
					return c
				}
			}
			return ""
		},
		func(h string) string { return otherSpellings[strings.ToLower(h)] },
	} {
		for i, h := range head {
			known := spelt(strings.TrimSpace(h))
			if _, twice := t.at[known]; known == "" || twice || taken[i] {
				continue
			}
			t.at[known], taken[i] = i, true
		}
	}
	for i, h := range head {
		if !taken[i] && strings.TrimSpace(h) != "" {
			t.unused = append(t.unused, strings.TrimSpace(h))
		}
	}
	t.hexBesideNames(head)
	_, name := t.at["name"]
	_, hex := t.at["colour"]
	lab := true
	for _, c := range []string{"L", "a", "b"} {
		_, has := t.at[c]
		lab = lab && has
	}
	stock := false
	for _, c := range []string{"on hand", "price", "lot", "place"} {
		_, has := t.at[c]
		stock = stock || has
	}
	if !name || !hex && !lab && !stock {
		return table{}, fmt.Errorf("the first line must name the columns and have at least name and colour (or L, a and b); it is %q",
			shorten(strings.Join(head, " ")))
	}
	return t, nil
}

// hexBesideNames tells what is meant where one column is headed colour and another hex: the names of
// the colours, and the colours.
func (t *table) hexBesideNames(head []string) {
	if _, named := t.at["name"]; named {
		return
	}
	for i, h := range head {
		h = strings.ToLower(strings.TrimSpace(h))
		if at, has := t.at["colour"]; has && i != at && otherSpellings[h] == "colour" && h != "color" {
			t.at["name"], t.at["colour"] = at, i
			for k, u := range t.unused {
				if strings.EqualFold(u, h) {
					t.unused = append(t.unused[:k:k], t.unused[k+1:]...)
					break
				}
			}
			return
		}
	}
}

// Titles and empty rows may stand above the headings; so many rows are looked at.
const headingsWithin = 12

// findTable finds the headings among the first rows, and how many rows come before what is below
// them. Where there are none, what each column holds is told from its cells, if it can be. The
// error is a sentence.
func findTable(rows [][]string, decimalComma bool) (t table, above int, err error) {
	for i, row := range rows[:min(len(rows), headingsWithin)] {
		if strings.TrimSpace(strings.Join(row, "")) == "" {
			continue
		}
		found, bad := newTable(row, decimalComma)
		if bad == nil {
			return found, i + 1, nil
		}
		if err == nil {
			err = bad
		}
	}
	if t, known := tableWithout(rows, decimalComma); known {
		return t, 0, nil
	}
	return table{}, 0, err
}

// tableWithout tells the columns of rows without headings: that of the colours, the first other
// one as that of the names, and one of kinds.
func tableWithout(rows [][]string, decimalComma bool) (table, bool) {
	const looked, most = 50, 0.8
	wide := 0
	for _, row := range rows {
		wide = max(wide, len(row))
	}
	share := func(column int, is func(cell string) bool) float64 {
		n, of := 0, 0
		for _, row := range rows[:min(len(rows), looked)] {
			if strings.TrimSpace(strings.Join(row, "")) == "" {
				continue
			}
			of++
			if column < len(row) && is(strings.TrimSpace(row[column])) {
				n++
			}
		}
		if of == 0 {
			return 0
		}
		return float64(n) / float64(of)
	}
	t := table{at: map[string]int{}, decimalComma: decimalComma, width: -1}
	for i := range min(wide, 40) {
		isColour := share(i, func(c string) bool { _, err := colour.Parse(c); return err == nil && len(c) > 3 })
		isKind := share(i, func(c string) bool { _, is := material.KindOf(c); return is })
		_, hasColour := t.at["colour"]
		_, hasName := t.at["name"]
		_, hasKind := t.at["kind"]
		switch {
		case isColour >= most && !hasColour:
			t.at["colour"] = i
		case isKind >= most && !hasKind:
			t.at["kind"] = i
		case !hasName && share(i, func(c string) bool { return c != "" }) >= most:
			t.at["name"] = i
		}
	}
	_, named := t.at["name"]
	_, coloured := t.at["colour"]
	return t, named && coloured
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
func (t table) material(row []string) (m material.Material, gives material.Given, reason string) {
	field := func(c string) string {
		if i, ok := t.at[c]; ok && i < len(row) {
			return strings.TrimSpace(row[i])
		}
		return ""
	}
	number := func(c string) float64 {
		v, err := strconv.ParseFloat(t.plainNumber(field(c)), 64)
		if err != nil && reason == "" {
			reason = fmt.Sprintf("%s is %q, which is not a number", c, field(c))
		}
		return v
	}
	m = material.Material{Name: field("name"), Kind: field("kind"), Reference: field("reference"), Supplier: field("supplier"),
		Lot: field("lot"), Finish: material.FinishOf(field("finish")), Source: field("source"), Remark: field("remark")}
	if kind, known := material.KindOf(m.Kind); known {
		m.Kind = kind
	}
	gives = material.Given{Colour: true, Lot: field("lot") != "", OnHand: field("on hand") != "", Unit: field("unit") != "",
		Price: field("price") != "", Place: field("place") != ""}
	switch {
	case field("L") != "" || field("a") != "" || field("b") != "":
		m.Colour = colour.Lab{L: number("L"), A: number("a"), B: number("b")}
	case field("colour") == "" && gives.Stock():
		gives.Colour = false
	case field("colour") == "":
		return m, gives, "it has no colour"
	default:
		rgb, err := colour.Parse(field("colour"))
		if plain, known := colour.Plain(field("colour")); err != nil && known {
			rgb, err = plain, nil
			m.Source, m.Uncertainty = "estimated", colour.PlainDoubt
		}
		if err != nil {
			return m, gives, err.Error()
		}
		m.Colour = rgb.Lab()
	}
	optional := func(c string) float64 {
		if field(c) == "" {
			return 0
		}
		return number(c)
	}
	if v := optional("uncertainty"); v > 0 {
		m.Uncertainty = v
	}
	m.Pack, m.Repeat, m.Size = optional("pack"), optional("repeat"), field("size")
	if field("flash") != "" {
		rgb, err := colour.ParseHex(field("flash"))
		if err != nil {
			return m, gives, "the flash: " + err.Error()
		}
		m.Further = []material.Further{{Role: material.Flash, Colour: rgb.Lab()}}
	}
	if field("on hand")+field("price")+field("place") != "" {
		lot, remark := material.Lot{Unit: field("unit")}, ""
		if n, unit, counted := t.counted(field("on hand")); counted {
			lot, remark = material.Said(m.Kind, n, unit, m.Pack)
		} else {
			lot.OnHand = optional("on hand")
		}
		if remark != "" {
			m.Remark = strings.TrimPrefix(m.Remark+"; "+remark, "; ")
		}
		lot.Name, lot.Price, lot.Place = m.Lot, optional("price"), field("place")
		m.Lots = []material.Lot{lot}
	}
	if reason != "" {
		return m, gives, reason
	}
	switch strings.ToLower(field("discontinued")) {
	case "", "no", "0", "false", "n":
	case "yes", "1", "true", "y", "x":
		m.Discontinued = true
	default:
		return m, gives, fmt.Sprintf("discontinued is %q: write yes or no", field("discontinued"))
	}
	return m, gives, ""
}

// counted parts a stock such as 1 spool or 250 g into its number and its unit; not ok for a number alone.
func (t table) counted(text string) (n float64, unit string, ok bool) {
	at := strings.IndexFunc(text, unicode.IsLetter)
	if at <= 0 {
		return 0, "", false
	}
	n, err := strconv.ParseFloat(t.plainNumber(text[:at]), 64)
	return n, strings.TrimSpace(text[at:]), err == nil
}

// plainNumber is a number without what stands about it in lists: a sign of money, and marks
// between thousands.
func (t table) plainNumber(text string) string {
	text = strings.TrimSpace(strings.Map(func(r rune) rune {
		if unicode.Is(unicode.Sc, r) || r == '\u00a0' || r == '\u202f' || r == '\'' {
			return -1
		}
		return r
	}, text))
	point, comma := strings.LastIndex(text, "."), strings.LastIndex(text, ",")
	switch {
	case point >= 0 && comma > point: // 1.234,56
		text = strings.Replace(strings.ReplaceAll(text, ".", ""), ",", ".", 1)
	case comma >= 0 && point > comma: // 1,234.56
		text = strings.ReplaceAll(text, ",", "")
	case t.decimalComma:
		text = strings.Replace(text, ",", ".", 1)
	}
	return strings.Replace(text, "−", "-", 1)
}
