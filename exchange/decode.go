package exchange

import (
	"bytes"
	"errors"
	"strings"
	"unicode/utf8"

	"golang.org/x/text/encoding"
	"golang.org/x/text/encoding/charmap"
	"golang.org/x/text/encoding/unicode"
)

// decode is a text in UTF-8, with one line feed at the end of each line. It may have been written
// as UTF-8 or UTF-16, with or without a byte order mark, or else as windows-1252.
func decode(data []byte) ([]byte, error) {
	var from encoding.Encoding
	switch {
	case bytes.HasPrefix(data, []byte("\xff\xfe")), bytes.HasPrefix(data, []byte("\xfe\xff")):
		from = unicode.UTF16(unicode.LittleEndian, unicode.UseBOM)
	case bytes.IndexByte(data, 0) >= 0:
		little, big := 0, 0 // zeros at odd and even places, as Latin letters have them
		head := data[:min(len(data), 4096)]
		for i, b := range head {
			if b == 0 && i%2 == 1 {
				little++
			} else if b == 0 {
				big++
			}
		}
		switch {
		case len(data)%2 != 0 || little > 0 && big > 0 || (little+big)*4 < len(head):
			return nil, errors.New("the list is not text: save it from the spreadsheet as CSV, UTF-8")
		case little > 0:
			from = unicode.UTF16(unicode.LittleEndian, unicode.IgnoreBOM)
		default:
			from = unicode.UTF16(unicode.BigEndian, unicode.IgnoreBOM)
		}
	case !utf8.Valid(data):
		from = charmap.Windows1252
	}
	if from != nil {
		var err error
		if data, err = from.NewDecoder().Bytes(data); err != nil || bytes.IndexByte(data, 0) >= 0 {
			return nil, errors.New("the list is not text: save it from the spreadsheet as CSV, UTF-8")
		}
	}
	data = bytes.TrimPrefix(data, []byte(Mark))
	return []byte(strings.NewReplacer("\r\n", "\n", "\r", "\n").Replace(string(data))), nil
}
