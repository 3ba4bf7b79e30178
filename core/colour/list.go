package colour

import (
	"fmt"
	"math"
	"regexp"
	"strconv"
	"strings"
)

// Listed is a colour of a list, with the name that stands beside it, often none.
type Listed struct {
	Name string
	RGB  RGB
}

// written are the ways in which a colour is written in a list: # and six or three digits,
// six digits of which one is a figure, rgb() and hsb() with commas or spaces.
var written = regexp.MustCompile(`(?i)#[0-9a-f]{6}\b|#[0-9a-f]{3}\b|\brgba?\(\s*([\d.]+%?)[\s,]+([\d.]+%?)[\s,]+([\d.]+%?)[^)]*\)|\bhs[bv]\(\s*([\d.]+)°?[\s,]+([\d.]+)%?[\s,]+([\d.]+)%?\s*\)|\b[0-9a-f]{6}\b`)

// halfWritten is what looks like the beginning of a colour.
var halfWritten = regexp.MustCompile(`(?i)#\w+|\b(?:rgba?|hs[bv])\([^)]*\)?`)

// ParseList reads colours with or without names, one a line or several in a row. Lines
// without a colour are left out. The error names the first thing that looks like a colour
// and is none.
func ParseList(text string) (out []Listed, err error) {
	for _, line := range strings.FieldsFunc(text, func(r rune) bool { return r == '\n' || r == '\r' || r == ';' }) {
		at := 0
		rest := ""
		for _, m := range written.FindAllStringSubmatchIndex(line, -1) {
			word := line[m[0]:m[1]]
			if len(word) == 6 && !strings.ContainsAny(word, "0123456789") {
				continue // a word, such as facade
			}
			group := func(n int) string {
				if m[2*n] < 0 {
					return ""
				}
				return line[m[2*n]:m[2*n+1]]
			}
			rgb, err := oneWritten(word, group)
			if err != nil {
				return nil, err
			}
			name := tidyName(line[at:m[0]])
			rest += line[at:m[0]] + " "
			at = m[1]
			out = append(out, Listed{name, rgb})
		}
		if bad := halfWritten.FindString(rest + line[at:]); bad != "" {
			return nil, fmt.Errorf("%q is no colour: write # and six digits, rgb(…) or hsb(…)", bad)
		}
		// A name may stand behind the only colour of its line.
		if n := len(out); n > 0 && at > 0 && out[n-1].Name == "" {
			if behind := tidyName(line[at:]); behind != "" {
				out[n-1].Name = behind
			}
		}
	}
	return out, nil
}

// amount is how much of a colour a list asks for, which is no part of its name.
var amount = regexp.MustCompile(`(?i)\(?\b\d+(?:[.,]\d+)?\s*%\)?`)

// tidyName is what stands beside a colour without what parts them.
func tidyName(text string) string {
	return strings.Join(strings.Fields(strings.Trim(amount.ReplaceAllString(text, " "), " \t,:=|/–—-\"'()[]{}*•")), " ")
}

func oneWritten(word string, group func(int) string) (RGB, error) {
	bad := fmt.Errorf("%q is no colour: a figure in it is too large", word)
	number := func(s string, most float64) float64 {
		share := strings.HasSuffix(s, "%")
		v, err := strconv.ParseFloat(strings.TrimSuffix(s, "%"), 64)
		if share {
			v *= most / 100
		}
		if err != nil || v > most {
			return math.NaN()
		}
		return v / most
	}
	var c RGB
	switch lower := strings.ToLower(word); {
	case strings.HasPrefix(lower, "rgb"):
		c = RGB{number(group(1), 255), number(group(2), 255), number(group(3), 255)}
	case strings.HasPrefix(lower, "hs"):
		h, s, b := number(group(4), 360), number(group(5), 100), number(group(6), 100)
		at := func(n float64) float64 { // Smith 1978, in one expression
			k := math.Mod(n+6*h, 6)
			return b - b*s*math.Max(0, math.Min(math.Min(k, 4-k), 1))
		}
		c = RGB{at(5), at(3), at(1)}
	default:
		return ParseHex(word)
	}
	if math.IsNaN(c.R + c.G + c.B) {
		return c, bad
	}
	return c, nil
}
