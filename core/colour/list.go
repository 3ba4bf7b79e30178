package colour

import (
	"fmt"
	"math"
	"regexp"
	"strconv"
	"strings"
)

// Listed is a colour of a list, with the name that stands beside it, often none, and how
// much of it is asked for, 0 to 1, 0 where that is not said. Count and Unit are how much of it there
// is, such as 3 balls. Plain says that it is known by a plain name only, which is good to PlainDoubt.
type Listed struct {
	Name   string
	RGB    RGB
	Amount float64
	Count  float64
	Unit   string
	Plain  bool
}

// written are the ways in which a colour is written in a list: # and six or three digits,
// six digits of which one is a figure, rgb() and hsb() with commas or spaces.
var written = regexp.MustCompile(`(?i)#[0-9a-f]{6}\b|#[0-9a-f]{3}\b|\brgba?\(\s*([\d.]+%?)[\s,]+([\d.]+%?)[\s,]+([\d.]+%?)[^)]*\)|\bhs[bv]\(\s*([\d.]+)°?[\s,]+([\d.]+)%?[\s,]+([\d.]+)%?\s*\)|\b[0-9a-f]{6}\b`)

// hsl is a colour by hue, saturation and lightness, as sheets of the web write it.
var hsl = regexp.MustCompile(`(?i)^hsla?\(\s*([\d.]+)(?:deg|°)?[\s,]+([\d.]+)%[\s,]+([\d.]+)%[^)]*\)$`)

// Parse reads one colour, written in any way a list may have it, or as hsl() (CSS Color 4, 7.1).
// The error is a sentence.
func Parse(text string) (RGB, error) {
	text = strings.TrimSpace(text)
	if m := hsl.FindStringSubmatch(text); m != nil {
		var v [3]float64
		for i, most := range []float64{360, 100, 100} {
			n, err := strconv.ParseFloat(m[i+1], 64)
			if err != nil || n > most {
				return RGB{}, fmt.Errorf("%q is not a colour: a number in it is too large", text)
			}
			v[i] = n / most
		}
		at := func(n float64) float64 {
			k := math.Mod(n+12*v[0], 12)
			return v[2] - v[1]*math.Min(v[2], 1-v[2])*math.Max(-1, math.Min(math.Min(k-3, 9-k), 1))
		}
		return RGB{at(0), at(8), at(4)}, nil
	}
	if m := written.FindStringSubmatchIndex(text); m != nil && m[0] == 0 && m[1] == len(text) {
		return oneWritten(text, func(n int) string {
			if m[2*n] < 0 {
				return ""
			}
			return text[m[2*n]:m[2*n+1]]
		})
	}
	return ParseHex(text)
}

// halfWritten is what looks like the beginning of a colour.
var halfWritten = regexp.MustCompile(`(?i)#\w+|\b(?:rgba?|hs[bv])\([^)]*\)?`)

// ParseList reads colours with or without names and amounts, one a line or several in a row.
// Names and amounts stand before the colours of a line, or behind where nothing stands before
// the first. In a line without a colour plain names are read, such as navy; what is left is returned
// as unread. The error names the first thing that looks like a colour and is none.
func ParseList(text string) (out []Listed, unread []string, err error) {
	for _, line := range strings.FieldsFunc(text, func(r rune) bool { return r == '\n' || r == '\r' || r == ';' }) {
		var found []Listed
		var beside []string // before the first, between, behind the last
		at := 0
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
				return nil, nil, err
			}
			found, beside = append(found, Listed{RGB: rgb}), append(beside, line[at:m[0]])
			at = m[1]
		}
		beside = append(beside, line[at:])
		if bad := halfWritten.FindString(strings.Join(beside, " ")); bad != "" {
			return nil, nil, fmt.Errorf("%q is not a colour: write # and six digits, rgb(…) or hsb(…)", bad)
		}
		if len(found) == 0 {
			plain, rest := named(line)
			out, unread = append(out, plain...), append(unread, rest...)
			continue
		}
		if name, much := tidied(beside[0]); name == "" && much == 0 {
			beside = beside[1:]
		}
		for i := range found {
			found[i].Name, found[i].Amount = tidied(beside[i])
			if i+1 == len(beside) {
				continue
			}
			// Before a comma an amount is still that of the colour before.
			own, next, parted := strings.Cut(beside[i+1], ",")
			if _, much := tidied(own); much > 0 && found[i].Amount == 0 && (parted || i+1 == len(found)) {
				found[i].Amount, beside[i+1] = much, next
			}
		}
		for i := range found {
			found[i].count(beside[min(i+1, len(beside)-1)])
		}
		out = append(out, found...)
	}
	return out, unread, nil
}

// named are the plain names of a line without a colour, parted by commas, and what is none. How much there is
// belongs to what stands before it.
func named(line string) (out []Listed, unread []string) {
	known := false // what stands before
	for _, part := range strings.Split(line, ",") {
		l := Listed{Plain: true}
		if n, unit, ok := Count(part); ok && len(out)+len(unread) > 0 {
			if known {
				out[len(out)-1].Count, out[len(out)-1].Unit = n, unit
			} else {
				unread[len(unread)-1] += "," + part
			}
			continue
		}
		if l.Name, l.Amount = tidied(part); l.Name == "" {
			continue
		}
		l.count()
		rgb, is := Plain(l.Name)
		if known = is; !known {
			unread = append(unread, strings.TrimSpace(part))
			continue
		}
		l.RGB, l.Name = rgb, strings.ToUpper(l.Name[:1])+l.Name[1:]
		out = append(out, l)
	}
	return out, unread
}

// counts are how much there is of a thing, as makers write it.
var counts = regexp.MustCompile(`(?i)^(\d+(?:[.,]\d+)?)\s*(?:×|x\s)?\s*(balls?|skeins?|hanks?|cones?|spools?|reels?|jars?|pots?|tubes?|sheets?|packs?|fat quarters?|kg|g|grams?|ml|yds?|yards?|m|metres?|cm)\b\.?(?:\s+of\b)?|\(?\b(\d+(?:[.,]\d+)?)\s*(balls?|skeins?|hanks?|cones?|spools?|reels?|jars?|pots?|tubes?|sheets?|packs?|fat quarters?|kg|g|grams?|ml|yds?|yards?|m|metres?|cm)\)?$`)

// Count reads how much there is of a thing, such as 3 balls, and nothing else; ok is false for any other text.
func Count(text string) (n float64, unit string, ok bool) {
	n, unit, rest, ok := counted(strings.TrimSpace(text))
	return n, unit, ok && rest == ""
}

// counted parts how much there is of a thing, such as 3 balls, from the rest of a text.
func counted(text string) (n float64, unit, rest string, ok bool) {
	m := counts.FindStringSubmatch(text)
	if m == nil {
		return 0, "", text, false
	}
	v, err := strconv.ParseFloat(strings.Replace(m[1]+m[3], ",", ".", 1), 64)
	rest, _ = tidied(strings.Replace(text, m[0], " ", 1))
	return v, strings.ToLower(m[2] + m[4]), rest, err == nil
}

// count takes how much there is out of the name, or out of what stands behind.
func (l *Listed) count(behind ...string) {
	if n, unit, rest, ok := counted(l.Name); ok {
		l.Count, l.Unit, l.Name = n, unit, rest
		return
	}
	for _, text := range behind {
		text, _ = tidied(text)
		if n, unit, rest, ok := counted(text); ok && rest == "" {
			l.Count, l.Unit = n, unit
			return
		}
	}
}

// amounts are words for how much, as shares of the whole.
var amounts = []struct {
	words *regexp.Regexp
	share float64
}{
	{regexp.MustCompile(`(?i)\b(?:mostly|most)\b(?: of\b)?`), .6},
	{regexp.MustCompile(`(?i)\b(?:an? lot|lots|plenty)\b(?: of\b)?`), .4},
	{regexp.MustCompile(`(?i)\bsome\b(?: of\b)?`), .2},
	{regexp.MustCompile(`(?i)\ba (?:little|bit)\b(?: of\b)?`), .1},
	{regexp.MustCompile(`(?i)\ba (?:touch|hint|spark)\b(?: of\b)?`), .03},
}

// perCent is an amount in figures.
var perCent = regexp.MustCompile(`\(?\b(\d+(?:[.,]\d+)?)\s*%\)?`)

// tidied is the name in what stands beside a colour, without what parts them, and how much
// of the colour it asks for, 0 to 1; 0 where it says nothing.
func tidied(text string) (name string, much float64) {
	if m := perCent.FindStringSubmatch(text); m != nil {
		if v, err := strconv.ParseFloat(strings.Replace(m[1], ",", ".", 1), 64); err == nil && v <= 100 {
			much = v / 100
		}
		text = perCent.ReplaceAllString(text, " ")
	}
	for _, a := range amounts {
		if a.words.MatchString(text) {
			if much == 0 {
				much = a.share
			}
			text = a.words.ReplaceAllString(text, " ")
		}
	}
	return strings.Join(strings.Fields(strings.Trim(text, " \t,:=|/–—-\"'()[]{}*•")), " "), much
}

func oneWritten(word string, group func(int) string) (RGB, error) {
	bad := fmt.Errorf("%q is not a colour: a number in it is too large", word)
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
