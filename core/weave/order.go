package weave

import (
	"fmt"
	"math"
	"strconv"
	"strings"
	"unicode"
)

// MostYarns is how many yarns an order can name, by the letters from A.
const MostYarns = 20

// mostStripes bounds an order.
const mostStripes = 4000

// Stripe is so many threads of one yarn side by side. Yarns count from 0.
type Stripe struct {
	Yarn    int `json:"yarn"`
	Threads int `json:"threads"`
}

// Letter names a yarn: A for 0.
func Letter(yarn int) string { return string(rune('A' + yarn)) }

// ParseOrder reads an order of stripes such as "24A 8B 24A", or with widths,
// "40mm A 12mm B"; perCentimetre is the threads a centimetre by which widths are
// counted. The error is a sentence without its full stop.
func ParseOrder(text string, perCentimetre float64) ([]Stripe, error) {
	var out []Stripe
	rest := []rune(strings.ToUpper(text))
	for {
		for len(rest) > 0 && (unicode.IsSpace(rest[0]) || rest[0] == ',') {
			rest = rest[1:]
		}
		if len(rest) == 0 {
			break
		}
		n := 0
		for n < len(rest) && (unicode.IsDigit(rest[n]) || rest[n] == '.') {
			n++
		}
		x, err := strconv.ParseFloat(string(rest[:n]), 64)
		if err != nil {
			return nil, fmt.Errorf("%q is not a stripe: write a number of threads and the letter of a yarn, such as 24A 8B", shown(rest))
		}
		rest = trimSpace(rest[n:])
		width := len(rest) > 2 && rest[0] == 'M' && rest[1] == 'M'
		if width {
			rest = trimSpace(rest[2:])
		}
		if len(rest) == 0 || rest[0] < 'A' || rest[0] >= 'A'+MostYarns || len(rest) > 1 && unicode.IsLetter(rest[1]) {
			return nil, fmt.Errorf("after %g there is no yarn: name it with a letter from A to %s, such as %gA", x, Letter(MostYarns-1), x)
		}
		s := Stripe{Yarn: int(rest[0] - 'A')}
		rest = rest[1:]
		switch {
		case width && x*perCentimetre/10 < 1:
			return nil, fmt.Errorf("a stripe of %g mm is thinner than one thread: make it at least %.2g mm", x, 10/perCentimetre)
		case width:
			s.Threads = int(math.Round(x * perCentimetre / 10))
		case x != math.Trunc(x) || x < 1:
			return nil, fmt.Errorf("a stripe of %g threads is not possible: choose a whole number from 1, or a width such as 12mm", x)
		default:
			s.Threads = int(math.Min(x, MostThreads+1))
		}
		if s.Threads > MostThreads {
			return nil, fmt.Errorf("a stripe has at most %d threads", MostThreads)
		}
		if out = append(out, s); len(out) > mostStripes {
			return nil, fmt.Errorf("an order has at most %d stripes: write only one repeat", mostStripes)
		}
	}
	if len(out) == 0 {
		return nil, fmt.Errorf("the order is empty: write stripes such as 24A 8B")
	}
	return out, nil
}

func trimSpace(r []rune) []rune {
	for len(r) > 0 && unicode.IsSpace(r[0]) {
		r = r[1:]
	}
	return r
}

func shown(r []rune) string {
	word, _, _ := strings.Cut(string(r), " ")
	if len(word) > 20 {
		word = word[:20]
	}
	return word
}

// OrderText writes an order as ParseOrder reads it.
func OrderText(order []Stripe) string {
	words := make([]string, len(order))
	for i, s := range order {
		words[i] = fmt.Sprintf("%d%s", s.Threads, Letter(s.Yarn))
	}
	return strings.Join(words, " ")
}

// CheckOrder refuses an order that ParseOrder could not have made.
func CheckOrder(order []Stripe) error {
	if len(order) == 0 || len(order) > mostStripes {
		return fmt.Errorf("an order has from 1 to %d stripes: this one has %d", mostStripes, len(order))
	}
	for _, s := range order {
		if s.Yarn < 0 || s.Yarn >= MostYarns || s.Threads < 1 || s.Threads > MostThreads {
			return fmt.Errorf("a stripe of %d threads of yarn %d is not possible: choose 1 to %d threads and one of %d yarns", s.Threads, s.Yarn+1,
				MostThreads, MostYarns)
		}
	}
	return nil
}

// Expand lays an order of stripes out over n threads, repeated and cut where
// the threads are full.
func Expand(order []Stripe, n int) []int16 {
	out := make([]int16, 0, n)
	for len(out) < n {
		for _, s := range order {
			for range min(s.Threads, n-len(out)) {
				out = append(out, int16(s.Yarn))
			}
		}
	}
	return out
}

// Numbers reads shafts or treadles written as "1 2 3 4" or "1-4".
func Numbers(text string) ([]int, error) {
	var out []int
	for _, w := range strings.FieldsFunc(text, func(r rune) bool { return unicode.IsSpace(r) || r == ',' || r == '+' }) {
		from, to, isRange := strings.Cut(w, "-")
		a, err := strconv.Atoi(from)
		b := a
		if err == nil && isRange {
			b, err = strconv.Atoi(to)
		}
		if err != nil || a < 0 || b < 0 || a > MostThreads || b > MostThreads {
			return nil, fmt.Errorf("%q is not a shaft or treadle: write whole numbers with spaces between, such as 1 2 3 4 or 1-4", w)
		}
		step := 1
		if b < a {
			step = -1
		}
		for x := a; ; x += step {
			if out = append(out, x); x == b {
				break
			}
		}
		if len(out) > MostThreads {
			return nil, fmt.Errorf("a repeat has at most %d threads", MostThreads)
		}
	}
	return out, nil
}

// Letters are the names of all yarns, in order.
func Letters() string {
	out := ""
	for y := range MostYarns {
		out += Letter(y)
	}
	return out
}

// Count is how many threads an order has.
func Count(order []Stripe) (n int) {
	for _, s := range order {
		n += s.Threads
	}
	return n
}

// Stripes is the order of threads by yarn, as Expand lays it out.
func Stripes(threads []int16) (out []Stripe) {
	for _, y := range threads {
		if last := len(out) - 1; last >= 0 && out[last].Yarn == int(y) {
			out[last].Threads++
			continue
		}
		out = append(out, Stripe{Yarn: int(y), Threads: 1})
	}
	return out
}

// Scaled are stripes with those of some yarns made wider or narrower, never
// thinner than a thread.
func Scaled(order []Stripe, yarns [MostYarns]bool, scale float64) []Stripe {
	out := make([]Stripe, len(order))
	for i, s := range order {
		if yarns[s.Yarn] {
			s.Threads = min(MostThreads, max(1, int(math.Round(float64(s.Threads)*scale))))
		}
		out[i] = s
	}
	return out
}
