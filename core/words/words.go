// Package words is how the program speaks to makers: plurals, counts, lists,
// shares, and refusals in one sentence.
package words

import (
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"
	"unicode/utf8"

	"lampfern/core/colour"
)

// AFamily is a family with its article, such as "an olive".
func AFamily(f colour.FamilyName) string {
	if strings.ContainsRune("aeiou", rune(f[0])) {
		return "an " + string(f)
	}
	return "a " + string(f)
}

// Colours names n colours of a family: "red", "reds".
func Colours(f colour.FamilyName, n int) string {
	if n == 1 {
		return string(f)
	}
	return string(f) + "s"
}

// PerCent writes a share, 0 to 1, as a whole number of per cent; a share that is
// there never reads as nothing.
func PerCent(share float64) string {
	if share > 0 && share < 0.01 {
		return "under 1%"
	}
	return fmt.Sprintf("%.0f%%", 100*share)
}

// PerCentFine writes a share, 0 to 1, in per cent, with a tenth when it is below
// ten: for shares that are compared with one another.
func PerCentFine(share float64) string {
	if share < 0.1 {
		return fmt.Sprintf("%.1f%%", 100*share)
	}
	return PerCent(share)
}

// Figure is an amount as it is read: to four digits, whole numbers in full, never
// with a power of ten.
type Figure float64

func (f Figure) String() string {
	if math.Abs(float64(f)) >= 1000 {
		return strconv.FormatFloat(float64(f), 'f', 0, 64)
	}
	short, _ := strconv.ParseFloat(strconv.FormatFloat(float64(f), 'g', 4, 64), 64)
	return strconv.FormatFloat(short, 'f', -1, 64)
}

// counts are small numbers in words.
var counts = []string{"no", "one", "two", "three", "four", "five", "six", "seven", "eight"}

// Count writes a number, 0 to 8 in words.
func Count(n int) string {
	if n >= 0 && n < len(counts) {
		return counts[n]
	}
	return fmt.Sprint(n)
}

// Counted is how many there are in words, such as "three parts".
func Counted(n int, one, many string) string {
	if n == 1 {
		return Count(n) + " " + one
	}
	return Count(n) + " " + many
}

// Every is all of so many, as a sentence begins: "Both", "All three".
func Every(n int) string {
	if n == 2 {
		return "Both"
	}
	return "All " + Count(n)
}

// Capital begins a sentence: its first letter becomes a capital.
func Capital(s string) string {
	r, n := utf8.DecodeRuneInString(s)
	if n == 0 {
		return s
	}
	return strings.ToUpper(string(r)) + s[n:]
}

// Plural is a number with what it counts: "1 card", "3 cards".
func Plural(n int, one, many string) string {
	if n == 1 {
		return "1 " + one
	}
	return fmt.Sprintf("%d %s", n, many)
}

// List lists words as a sentence does, of more than three the first two and how
// many more there are.
func List(all []string) string {
	if n := len(all); n > 3 {
		return fmt.Sprintf("%s, %s and %d more", all[0], all[1], n-2)
	}
	return All(all)
}

// Clean is a text without what no drawing and no file of text may hold: control characters but
// line breaks and tabs, characters that turn the order of others round, and broken ones.
func Clean(s string) string {
	return strings.Map(func(r rune) rune {
		switch {
		case r == '\n' || r == '\t' || r == '\r':
			return r
		case r < ' ' || r >= 0x7f && r < 0xa0, r == utf8.RuneError, r >= 0x202a && r <= 0x202e, r >= 0x2066 && r <= 0x2069, r == 0xfeff,
			r == 0xfffe, r == 0xffff:
			return -1
		}
		return r
	}, s)
}

// The is a name with its article, which one with a number or a letter of its own goes without:
// "the sparks", "stripe 2", "batter A".
func The(name string) string {
	if at := strings.LastIndexByte(name, ' '); at >= 0 && at < len(name)-1 {
		if c := name[at+1]; c >= '0' && c <= '9' || at == len(name)-2 && c >= 'A' && c <= 'Z' {
			return name
		}
	}
	return "the " + name
}

// Either lists every word with "or".
func Either(all []string) string {
	if len(all) < 2 {
		return strings.Join(all, "")
	}
	last := len(all) - 1
	return strings.Join(all[:last], ", ") + " or " + all[last]
}

// All lists every word as a sentence does.
func All(all []string) string {
	if len(all) < 2 {
		return strings.Join(all, "")
	}
	last := len(all) - 1
	return strings.Join(all[:last], ", ") + " and " + all[last]
}

// Grouped writes a number in groups of three figures, a very large one in words.
func Grouped(x float64) string {
	if x >= 1e9 {
		return "more than a thousand million"
	}
	s := fmt.Sprintf("%.0f", x)
	for at := len(s) - 3; at > 0; at -= 3 {
		s = s[:at] + "," + s[at:]
	}
	return s
}

// Minutes are a length of work in hours and minutes.
func Minutes(n float64) string {
	m := int(math.Round(n))
	switch h := m / 60; {
	case m == 0 && n > 0:
		return "under 1 min"
	case h == 0:
		return fmt.Sprintf("%d min", m)
	case m%60 == 0 || h >= 10:
		return fmt.Sprintf("%d h", int(math.Round(n/60)))
	default:
		return fmt.Sprintf("%d h %02d", h, m%60)
	}
}

// Wait is a length of time that passes by itself, from minutes: in weeks, days, hours or
// minutes.
func Wait(n float64) string {
	const day = 24 * 60
	switch {
	case n >= 14*day && math.Mod(math.Round(n), 7*day) == 0:
		return Plural(int(math.Round(n/day/7)), "week", "weeks")
	case n >= 36*60:
		return Plural(int(math.Round(n/day)), "day", "days")
	case n == day:
		return "1 day"
	}
	return Minutes(n)
}

// Ordinal is a place in a row, such as 3rd.
func Ordinal(n int) string {
	end := "th"
	if n%100 < 11 || n%100 > 13 {
		switch n % 10 {
		case 1:
			end = "st"
		case 2:
			end = "nd"
		case 3:
			end = "rd"
		}
	}
	return fmt.Sprintf("%d%s", n, end)
}

// singular are nouns that end as many do and are one.
var singular = []string{"canvas", "iris", "cosmos", "chaos", "gas", "lens", "atlas", "christmas", "cactus", "citrus"}

// Many reports whether the name of a part is of several things, such as buttons or points of the star.
func Many(name string) bool {
	name = strings.ToLower(strings.TrimSpace(name))
	for _, of := range []string{" in ", " of ", " on ", " at ", " with ", ", ", " ("} {
		name, _, _ = strings.Cut(name, of)
	}
	last := name[strings.LastIndex(name, " ")+1:]
	for _, end := range []string{"ss", "us", "is"} {
		if strings.HasSuffix(last, end) {
			return false
		}
	}
	return strings.HasSuffix(last, "s") && !slices.Contains(singular, last) || last == "teeth" || last == "feet" || last == "men"
}

// Times compares two things of which one is so many times the other, as "nearly twice as strongly as".
func Times(x float64, how string) string {
	switch {
	case x < 1.1:
		return "barely more " + how + " than"
	case x < 1.35:
		return "a little more " + how + " than"
	case x < 1.7:
		return "one and a half times as " + how + " as"
	case x < 1.95:
		return "nearly twice as " + how + " as"
	case x < 2.3:
		return "twice as " + how + " as"
	case x < 2.7:
		return "two and a half times as " + how + " as"
	case x < 8.5:
		return Count(int(math.Round(x))) + " times as " + how + " as"
	}
	return "far more " + how + " than"
}

// Agree is the verb that goes with the name of a part: one for one thing, many for several.
func Agree(name, one, many string) string {
	if Many(name) {
		return many
	}
	return one
}
