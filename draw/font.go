package draw

import (
	_ "embed"
	"fmt"
	"sync"

	"golang.org/x/image/font"
	"golang.org/x/image/font/sfnt"
	"golang.org/x/image/math/fixed"
)

// The fonts drawings are set in (Commissioner, SIL Open Font Licence).
var (
	//go:embed font/Commissioner_400Regular.ttf
	regularTTF []byte
	//go:embed font/Commissioner_700Bold.ttf
	boldTTF []byte
)

var parsed = sync.OnceValues(func() ([2]*sfnt.Font, error) {
	var fs [2]*sfnt.Font
	for i, data := range [][]byte{regularTTF, boldTTF} {
		f, err := sfnt.Parse(data)
		if err != nil {
			return fs, fmt.Errorf("reading the shipped font: %w", err)
		}
		fs[i] = f
	}
	return fs, nil
})

// measure is the width of words at a font size, in the same unit as the size.
func measure(words string, size float64, bold bool) float64 {
	fonts, err := parsed()
	if err != nil {
		return 0.55 * size * float64(len([]rune(words))) // the typical width of a letter
	}
	f := fonts[0]
	if bold {
		f = fonts[1]
	}
	const em = 1000
	var buf sfnt.Buffer
	sum := fixed.Int26_6(0)
	for _, r := range words {
		g, err := f.GlyphIndex(&buf, r)
		if err != nil {
			continue
		}
		if a, err := f.GlyphAdvance(&buf, g, fixed.I(em), font.HintingNone); err == nil {
			sum += a
		}
	}
	return float64(sum) / 64 / em * size
}

// fit cuts words, with an ellipsis, so that they are no wider than width.
func fit(words string, size float64, bold bool, width float64) string {
	if measure(words, size, bold) <= width {
		return words
	}
	r := []rune(words)
	for len(r) > 0 {
		r = r[:len(r)-1]
		if s := string(r) + "…"; measure(s, size, bold) <= width {
			return s
		}
	}
	return ""
}

// printable replaces characters the shipped font lacks, which would print as
// empty boxes.
func printable(words string) string {
	fonts, err := parsed()
	if err != nil {
		return words
	}
	var buf sfnt.Buffer
	out := []rune(words)
	for i, r := range out {
		if g, err := fonts[0].GlyphIndex(&buf, r); err != nil || g == 0 {
			out[i] = '?'
		}
	}
	return string(out)
}
