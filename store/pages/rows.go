package pages

import (
	"encoding/binary"
	"maps"
	"math"
	"slices"
	"unicode/utf8"
)

// Row is one row of a table: its number and the values of its columns, each nil, int64, float64,
// string or []byte.
type Row struct {
	ID     int64
	Values []any
	Pages  []uint32 // on which it lies
}

// Loss is what of a table cannot be read: the rows numbered from Low to High, as far as there are any.
type Loss struct {
	Low, High int64
	Page      uint32
}

// values reads a row's columns. ok is false where it is not a row as SQLite writes one.
func values(row []byte) (out []any, ok bool) {
	head, n := varint(row)
	if n == 0 || head < int64(n) || head > int64(len(row)) {
		return nil, false
	}
	at := int(head)
	for i := n; i < int(head); {
		kind, m := varint(row[i:head])
		if m == 0 || kind < 0 || kind == 10 || kind == 11 {
			return nil, false
		}
		i += m
		width := int64(0)
		switch {
		case kind >= 12:
			width = (kind - 12) / 2
		case kind <= 4:
			width = kind
		case kind == 5:
			width = 6
		case kind == 6 || kind == 7:
			width = 8
		}
		if width > int64(len(row)-at) {
			return nil, false
		}
		b := row[at : at+int(width)]
		at += int(width)
		var v any
		switch {
		case kind == 0:
		case kind <= 6:
			v = integer(b)
		case kind == 7:
			v = math.Float64frombits(binary.BigEndian.Uint64(b))
		case kind == 8 || kind == 9:
			v = kind - 8
		case kind%2 == 0:
			v = slices.Clone(b)
		case !utf8.Valid(b):
			return nil, false
		default:
			v = string(b)
		}
		out = append(out, v)
	}
	return out, at == len(row)
}

// integer is a signed number of one to eight bytes.
func integer(b []byte) int64 {
	v := int64(int8(b[0]))
	for _, c := range b[1:] {
		v = v<<8 | int64(c)
	}
	return v
}

// Walk reads the rows of the table whose tree begins at a page. A row that does not fit, or that lies
// where no row of its number can lie, is damaged: its pointer leads into another table, or its own
// letters are wrong. each gets the good rows, lost what cannot be read.
func (f *File) Walk(root uint32, fits func([]any) bool, each func(Row), lost func(Loss)) {
	f.walk(root, math.MinInt64, math.MaxInt64, map[uint32]bool{}, 0, fits, each, lost)
}

// walk reads a page of a tree whose rows have numbers above low, and at most high; inner are its inner
// pages that were read already.
func (f *File) walk(n uint32, low, high int64, inner map[uint32]bool, level int, fits func([]any) bool, each func(Row), lost func(Loss)) {
	from := 0
	if n == 1 {
		from = fileHeader
	}
	page, err := f.page(n)
	if err != nil || inner[n] || level > deepest {
		lost(Loss{low + 1, high, n})
		return
	}
	cells, ok := pointers(page, from)
	switch {
	case ok && page[from] == innerTable:
		f.used[n] = true
		inner[n] = true
		last := low
		for i, at := range cells {
			key, m := int64(0), 0
			if at+4 < len(page) {
				key, m = varint(page[at+4:])
			}
			if m == 0 || key > high || key < last || key == last && i > 0 {
				lost(Loss{last + 1, high, n})
				continue
			}
			f.walk(binary.BigEndian.Uint32(page[at:]), last, key, inner, level+1, fits, each, lost)
			last = key
		}
		f.walk(binary.BigEndian.Uint32(page[from+8:]), last, high, inner, level+1, fits, each, lost)
	case ok && page[from] == leafTable:
		rows, gone := f.leaf(n, page, cells, fits)
		inside := slices.DeleteFunc(slices.Clone(rows), func(r Row) bool { return r.ID <= low && low != math.MinInt64 || r.ID > high })
		if len(inside) == 0 && len(cells) > 0 { // it is a page of another table, or nothing of it can be read
			lost(Loss{low + 1, high, n})
			return
		}
		f.used[n] = true
		for _, r := range inside {
			for _, p := range r.Pages {
				f.used[p] = true
			}
			each(r)
		}
		for _, id := range gone {
			lost(Loss{id, id, n})
		}
		if len(inside) < len(rows) {
			lost(Loss{low + 1, high, n})
		}
	default:
		lost(Loss{low + 1, high, n})
	}
}

// leaf reads the rows of a page, and the numbers of those that are damaged.
func (f *File) leaf(n uint32, page []byte, cells []int, fits func([]any) bool) (rows []Row, lost []int64) {
	for _, at := range cells {
		c, err := cellAt(page, at)
		if err != nil {
			lost = append(lost, c.id)
			continue
		}
		content, on, err := f.content(c)
		if err != nil {
			lost = append(lost, c.id)
			continue
		}
		v, ok := values(content)
		if !ok || !fits(v) {
			lost = append(lost, c.id)
			continue
		}
		rows = append(rows, Row{c.id, v, append([]uint32{n}, on...)})
	}
	return rows, lost
}

// Loose are the trees of tables that no walk reached, as what pointed to them is damaged: each by its
// first page, those of most pages first. What is on a page that holds nothing any more is left out.
func (f *File) Loose() (roots []uint32) {
	under := map[uint32][]uint32{} // page → the pages it points to
	child := map[uint32]bool{}
	var all []uint32
	for n := uint32(1); n <= f.count; n++ {
		page, err := f.page(n)
		if err != nil || f.used[n] || f.free[n] {
			continue
		}
		from := 0
		if n == 1 {
			from = fileHeader
		}
		cells, ok := pointers(page, from)
		switch {
		case !ok || len(cells) == 0:
		case page[from] == leafTable:
			all = append(all, n)
		case page[from] == innerTable:
			all = append(all, n)
			for _, at := range cells {
				if at+4 <= len(page) {
					under[n] = append(under[n], binary.BigEndian.Uint32(page[at:]))
				}
			}
			under[n] = append(under[n], binary.BigEndian.Uint32(page[from+8:]))
			for _, c := range under[n] {
				child[c] = c != n
			}
		}
	}
	for _, n := range all {
		if !child[n] {
			roots = append(roots, n)
		}
	}
	slices.SortStableFunc(roots, func(a, b uint32) int { return len(under[b]) - len(under[a]) })
	return roots
}

// Scan reads the rows of each page with rows, whatever table they are of, but for those that hold nothing
// any more.
func (f *File) Scan(each func([]Row)) {
	for n := uint32(2); n <= f.count; n++ {
		page, err := f.page(n)
		if err != nil || f.free[n] || page[0] != leafTable {
			continue
		}
		if cells, ok := pointers(page, 0); ok {
			rows, _ := f.leaf(n, page, cells, func([]any) bool { return true })
			each(rows)
		}
	}
}

// Rows reads the rows of a loose tree, whatever table they are of. A row of which a part lies where
// another's does by now, or where nothing lies any more, is left out: it is of an older time.
func (f *File) Rows(root uint32) (out []Row) {
	held := maps.Clone(f.used)
	f.Walk(root, func([]any) bool { return true }, func(r Row) {
		if !slices.ContainsFunc(r.Pages, func(n uint32) bool { return held[n] || f.free[n] }) {
			out = append(out, r)
		}
	}, func(Loss) {})
	return out
}
