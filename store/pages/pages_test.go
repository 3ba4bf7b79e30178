package pages

import (
	"bytes"
	"encoding/binary"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestVarint(t *testing.T) {
	for _, c := range []struct {
		bytes []byte
		v     int64
		n     int
	}{
		{[]byte{0x00}, 0, 1}, {[]byte{0x7f}, 127, 1}, {[]byte{0x81, 0x00}, 128, 2}, {[]byte{0x82, 0x2c, 9}, 300, 2},
		{bytes.Repeat([]byte{0xff}, 9), -1, 9}, {[]byte{0x80}, 0, 0}, {nil, 0, 0},
	} {
		v, n := varint(c.bytes)
		assert.Equal(t, []any{c.v, c.n}, []any{v, n}, "% x", c.bytes)
	}
}

// A row by the table of types in the description of the format, section 2.1; every end that is cut off,
// and every letter that is not text, is refused.
func TestValues(t *testing.T) {
	row := []byte{9, 0, 1, 2, 9, 7, 13 + 2*2, 12 + 2, 8,
		0xfe, 0x01, 0x00, 0x40, 0x09, 0x21, 0xfb, 0x54, 0x44, 0x2d, 0x18, 'h', 'i', 0xaa}
	v, ok := values(row)
	require.True(t, ok)
	assert.Equal(t, []any{nil, int64(-2), int64(256), int64(1), 3.141592653589793, "hi", []byte{0xaa}, int64(0)}, v)
	for i := range row {
		_, ok := values(row[:i])
		assert.False(t, ok, "cut off after %d", i)
	}
	_, ok = values(append(row, 0))
	assert.False(t, ok, "one byte too many")
	_, ok = values([]byte{2, 13 + 2, 0xff})
	assert.False(t, ok, "no text")
	_, ok = values([]byte{2, 10})
	assert.False(t, ok, "a type that the format keeps for itself")
}

// Whatever lies in a file, reading it ends, and never with more rows than it has room for.
func FuzzPages(f *testing.F) {
	leaf := make([]byte, 1024)
	leaf[512], leaf[516] = leafTable, 1
	binary.BigEndian.PutUint16(leaf[520:], 500)
	copy(leaf[1012:], []byte{4, 1, 2, 15, 'h'})
	inner := bytes.Clone(leaf)
	inner[512] = innerTable
	f.Add(leaf, []byte{})
	f.Add(inner, bytes.Repeat([]byte{0x37, 0x7f, 6, 0x82}, 200))
	f.Fuzz(func(t *testing.T, db, log []byte) {
		if len(db) > 1<<16 || len(log) > 1<<16 {
			return
		}
		file, err := Open(bytes.NewReader(db), int64(len(db)), bytes.NewReader(log), int64(len(log)))
		if err != nil {
			return
		}
		rows, began := 0, time.Now()
		file.Walk(1, func([]any) bool { return true }, func(Row) { rows++ }, func(Loss) {})
		file.Scan(func(all []Row) { rows += len(all) })
		for _, root := range file.Loose() {
			rows += len(file.Rows(root))
		}
		if took := time.Since(began); took > 2*time.Second {
			t.Fatalf("%d rows of %d pages took %v", rows, file.count, took)
		}
	})
}
