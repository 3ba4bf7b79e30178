// Package pages reads a SQLite database as its pages lie, without SQLite, so that damage in one place
// loses what lies there and nothing more. It knows the file format
// (https://www.sqlite.org/fileformat2.html) and no table of the program: what is done with a row
// belongs to store.
package pages

import (
	"encoding/binary"
	"errors"
	"fmt"
	"io"
)

// Sizes and types of the format.
const (
	fileHeader = 100 // bytes before the tree of the first page

	innerTable = 5  // a page of a table that points to others
	leafTable  = 13 // a page of a table that holds rows

	smallest, largest = 512, 65536 // sizes of a page in bytes
	looked            = 4000       // pages that are looked at to find their size
	oftenRead         = 40         // how often all pages may be read in all; to save a whole file takes four
	deepest           = 20         // levels of a tree; a whole one of 2³² pages has fewer
)

// File is a database whose pages are read as they are now: those of its log that were committed
// first, then those of the file.
type File struct {
	db, log io.ReaderAt
	size    int              // of a page, in bytes
	count   uint32           // pages
	newest  map[uint32]int64 // page → where its newest committed copy lies in the log
	free    map[uint32]bool  // pages that hold nothing any more
	used    map[uint32]bool  // pages that a tree was found to hold
	left    int              // pages that may still be read, so that reading ends whatever the pages say
	LogLost int              // pages of the log that are damaged, so that what lay there is as it was before
}

// Open reads a database of some bytes and its log, which may be nil. An error means that no page of a
// table is in it.
func Open(db io.ReaderAt, bytes int64, log io.ReaderAt, logBytes int64) (*File, error) {
	f := &File{db: db, log: log, newest: map[uint32]int64{}, free: map[uint32]bool{}, used: map[uint32]bool{}}
	if f.size = f.findSize(bytes); f.size == 0 && log != nil { // all of it may still be in its log
		var head [logHeader]byte
		if _, err := log.ReadAt(head[:], 0); err == nil {
			f.size = int(binary.BigEndian.Uint32(head[8:]))
		}
	}
	if f.size < smallest || f.size > largest || f.size&(f.size-1) != 0 {
		return nil, errors.New("no page of a table is in it")
	}
	f.count = uint32((bytes + int64(f.size) - 1) / int64(f.size))
	if log != nil {
		f.readLog(logBytes)
	}
	f.left = oftenRead * (int(f.count) + 1)
	f.readFree()
	return f, nil
}

// findSize is the size of the pages: that by which most of them read as pages of tables, for the
// header that tells it may be what is damaged.
func (f *File) findSize(bytes int64) (best int) {
	var head [fileHeader]byte
	_, _ = f.db.ReadAt(head[:], 0) // a short file has a short header
	told := int(binary.BigEndian.Uint16(head[16:]))
	if told == 1 {
		told = largest
	}
	most := 0
	for size := largest; size >= smallest; size /= 2 {
		f.size = size
		n := 0
		for at := int64(0); at < bytes && at < int64(looked*size); at += int64(size) {
			page := make([]byte, size)
			if _, err := f.db.ReadAt(page, at); err != nil && !errors.Is(err, io.EOF) {
				continue
			}
			if at > 0 && page[0] == leafTable && wholeLeaf(page) {
				n++
			}
		}
		if n > most || n == most && n > 0 && size == told {
			best, most = size, n
		}
	}
	return best
}

// wholeLeaf reports whether every row of a page with rows can be read, apart from what lies elsewhere.
func wholeLeaf(page []byte) bool {
	cells, ok := pointers(page, 0)
	if !ok || len(cells) == 0 {
		return false
	}
	for _, at := range cells {
		if _, err := cellAt(page, at); err != nil {
			return false
		}
	}
	return true
}

// page is a page by its number, from 1.
func (f *File) page(n uint32) ([]byte, error) {
	if n < 1 || n > f.count || f.left <= 0 {
		return nil, fmt.Errorf("there is no page %d", n)
	}
	f.left--
	from, at := f.db, int64(n-1)*int64(f.size)
	if in, there := f.newest[n]; there {
		from, at = f.log, in
	}
	page := make([]byte, f.size)
	if _, err := from.ReadAt(page, at); err != nil {
		return nil, fmt.Errorf("page %d is incomplete", n)
	}
	return page, nil
}

// Log format.
const (
	logHeader   = 32
	frameHeader = 24
	logMagic    = 0x377f0682 // the last bit tells the order of bytes in its sums
)

// readLog finds the newest committed copy of every page in the log. SQLite stops at the first frame
// whose sum is wrong; here the frames after it are read too, for each sum goes on from the one that
// stands in the frame before.
func (f *File) readLog(bytes int64) {
	var head [logHeader]byte
	if _, err := f.log.ReadAt(head[:], 0); err != nil {
		return
	}
	var order binary.ByteOrder = binary.LittleEndian
	if binary.BigEndian.Uint32(head[:])|1 == logMagic|1 && head[3]&1 == 1 {
		order = binary.BigEndian
	}
	// The header may be damaged: the salt then is that of the first frame.
	salt := [8]byte(head[16:24])
	sum := [2]uint32{binary.BigEndian.Uint32(head[24:]), binary.BigEndian.Uint32(head[28:])}
	unsure := sumOf([2]uint32{}, head[:24], order) != sum // so that the sum of the first frame tells nothing
	if unsure {
		var first [frameHeader]byte
		if _, err := f.log.ReadAt(first[:], logHeader); err != nil {
			return
		}
		salt = [8]byte(first[8:16])
	}
	frame := make([]byte, frameHeader+f.size)
	most := f.count + uint32(bytes/int64(len(frame))) // pages that there can be
	waiting := map[uint32]int64{}                     // of a transaction whose end is not read yet
	damaged := 0
	for at := int64(logHeader); at+int64(len(frame)) <= bytes; at += int64(len(frame)) {
		if _, err := f.log.ReadAt(frame, at); err != nil || [8]byte(frame[8:16]) != salt {
			break // from here on it is of an older time
		}
		is := sumOf(sumOf(sum, frame[:8], order), frame[frameHeader:], order)
		sum = [2]uint32{binary.BigEndian.Uint32(frame[16:]), binary.BigEndian.Uint32(frame[20:])}
		n, commit := binary.BigEndian.Uint32(frame), binary.BigEndian.Uint32(frame[4:])
		whole := is == sum || unsure && at == logHeader
		if whole {
			waiting[n] = at + frameHeader
		} else {
			damaged++
		}
		if whole && commit > 0 {
			for n, at := range waiting {
				f.newest[n] = at
			}
			waiting, f.count = map[uint32]int64{}, max(f.count, min(commit, most))
			f.LogLost, damaged = f.LogLost+damaged, 0
		}
	}
}

// sumOf goes on with the sum of a log over bytes whose number is a multiple of eight.
func sumOf(s [2]uint32, of []byte, order binary.ByteOrder) [2]uint32 {
	for ; len(of) >= 8; of = of[8:] {
		s[0] += order.Uint32(of) + s[1]
		s[1] += order.Uint32(of[4:]) + s[0]
	}
	return s
}

// readFree finds the pages that hold nothing any more, from the header as far as their list is whole.
func (f *File) readFree() {
	first, err := f.page(1)
	if err != nil {
		return
	}
	for at := binary.BigEndian.Uint32(first[32:]); at > 1 && at <= f.count && !f.free[at]; {
		trunk, err := f.page(at)
		if err != nil {
			return
		}
		n := binary.BigEndian.Uint32(trunk[4:])
		if int64(n) > int64(f.size/4-2) {
			return // no page of that list: its number is damaged
		}
		f.free[at] = true
		for i := range n {
			f.free[binary.BigEndian.Uint32(trunk[8+4*i:])] = true
		}
		at = binary.BigEndian.Uint32(trunk)
	}
}

// pointers are where the cells of a tree's page lie, whose tree begins at offset from; ok is false
// where its head makes no sense.
func pointers(page []byte, from int) (cells []int, ok bool) {
	head := 8
	if page[from] == innerTable {
		head = 12
	}
	n := int(binary.BigEndian.Uint16(page[from+3:]))
	if from+head+2*n > len(page) {
		return nil, false
	}
	for i := range n {
		cells = append(cells, int(binary.BigEndian.Uint16(page[from+head+2*i:])))
	}
	return cells, true
}

// varint reads a number of one to nine bytes; n is 0 where it does not end.
func varint(b []byte) (v int64, n int) {
	var u uint64
	for i := range min(9, len(b)) {
		if i == 8 {
			return int64(u<<8 | uint64(b[8])), 9
		}
		u = u<<7 | uint64(b[i]&0x7f)
		if b[i] < 0x80 {
			return int64(u), i + 1
		}
	}
	return 0, 0
}

// cell is a row as it lies on its page.
type cell struct {
	id    int64
	bytes int64  // of the whole row
	here  []byte // what of it lies on the page
	next  uint32 // the page where it goes on, 0 for none
}

var errCell = errors.New("a row is damaged")

// cellAt reads a cell of a page with rows.
func cellAt(page []byte, at int) (c cell, err error) {
	if at < 8 || at >= len(page) {
		return c, errCell
	}
	bytes, n := varint(page[at:])
	if n == 0 || bytes < 0 {
		return c, errCell
	}
	id, m := varint(page[at+n:])
	if m == 0 {
		return c, errCell
	}
	c.id, c.bytes = id, bytes
	from, local := at+n+m, bytes
	if usable := int64(len(page)); bytes > usable-35 {
		least := (usable-12)*32/255 - 23
		local = least + (bytes-least)%(usable-4)
		if local > usable-35 {
			local = least
		}
	}
	if from+int(local) > len(page) {
		return c, errCell
	}
	c.here = page[from : from+int(local)]
	if local < bytes {
		if from+int(local)+4 > len(page) {
			return c, errCell
		}
		c.next = binary.BigEndian.Uint32(page[from+int(local):])
	}
	return c, nil
}

// mostRow bounds one row, in bytes.
const mostRow = 1 << 30

// content is the whole of a row, and the pages on which it goes on.
func (f *File) content(c cell) (row []byte, on []uint32, err error) {
	if c.bytes > mostRow || c.bytes > int64(f.count)*int64(f.size) {
		return nil, nil, errCell
	}
	row = append(row, c.here...)
	for next := c.next; int64(len(row)) < c.bytes; {
		if next < 2 || next > f.count {
			return nil, on, errors.New("the rest of a long row is lost")
		}
		on = append(on, next)
		page, err := f.page(next)
		if err != nil {
			return nil, on, err
		}
		next = binary.BigEndian.Uint32(page)
		row = append(row, page[4:min(int64(len(page)), 4+c.bytes-int64(len(row)))]...)
		if done := int64(len(row)) == c.bytes; done && next != 0 {
			return nil, on, errors.New("the rest of a long row is lost")
		}
	}
	return row, on, nil
}
