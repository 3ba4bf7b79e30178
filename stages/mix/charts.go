package mix

import (
	"cmp"
	"context"
	"fmt"
	"maps"
	"math"
	"slices"
	"strings"

	"lampfern/core/colour"
	"lampfern/core/mix"
	"lampfern/core/wheel"
	"lampfern/core/words"
	"lampfern/plan"
	"lampfern/shelf"
)

// ChartKind is a chart of mixes.
type ChartKind struct {
	Key, Name string
	Two       bool // it is of two paints
	One       bool // it is of one paint
	Words     string
}

// ChartKinds are the charts that can be made.
func ChartKinds() []ChartKind {
	return []ChartKind{
		{Key: "ladders", Name: "Tints, tones and shades", One: true, Words: "One paint with white, with grey and with black, step by step."},
		{Key: "between", Name: "Steps between two", One: true, Two: true,
			Words: "From one paint to another, with the same steps in white below."},
		{Key: "opposites", Name: "Muted with complements", One: true,
			Words: "One paint muted by the two beside its opposite, one row going warm and one cool, with tints, tones and shades below."},
		{Key: "twelve", Name: "Twelve hues from three primaries",
			Words: "The twelve hues of the wheel from your three primaries, and how far each is off."},
		{Key: "pairs", Name: "All pairs", Words: "All pairs, 1:1."},
		{Key: "tints", Name: "Tints to paint",
			Words: "One part of each new paint to ten of white. These tell most about its strength: paint them, measure them dry and record the results."},
	}
}

// Field is one mix of a chart.
type Field struct {
	Number int
	Words  string   // 3 Loch blue, 2 Reed yellow
	Of     []string // the same, a paint each
	Short  string   // 3 : 2
	Colour colour.Lab
	Lay    string // how it is laid out on the slab
	Below  string // what is to be known of it, empty for nothing
}

// ChartRow is a row of a chart.
type ChartRow struct {
	Name   string
	Fields []Field
}

// ChartView is a chart, or what keeps it from being made.
type ChartView struct {
	Kind    ChartKind
	Kinds   []ChartKind
	Paints  []*shelf.Card
	A, B    *shelf.Card
	Rows    []ChartRow
	Problem string
	Remarks []string // what is to be known of the chart
	Trust   float64
	Basis   string
	States  []string
	Layers  bool // parts are layers
}

// Steps of the charts, in parts of the first and of the other.
var (
	ladderSteps  = [][2]int{{1, 0}, {3, 1}, {1, 1}, {1, 2}, {1, 4}, {1, 8}, {1, 16}}
	betweenSteps = [][2]int{{1, 0}, {7, 1}, {3, 1}, {5, 3}, {1, 1}, {3, 5}, {1, 3}, {1, 7}, {0, 1}}
)

const (
	blackUnder  = 35.0 // L* of a black at most
	blackGrey   = 12.0 // and C*ab
	mostInPairs = 12   // paints in a chart of all pairs
	whiteInRow  = 2    // parts of white to one of the rest, in the row below
	tintWhite   = 10   // parts of white of a tint to paint
)

// Charted makes a chart of the plan's paints.
func Charted(ctx context.Context, k *plan.Desk, p *plan.Plan, kind string, a, b uint) (*ChartView, error) {
	records, err := k.Store.Read(ctx).Mixes()
	if err != nil {
		return nil, fmt.Errorf("reading the records of mixes: %w", err)
	}
	v := &ChartView{Kinds: ChartKinds(), Paints: chosen(p)}
	v.Kind = v.Kinds[0]
	for _, one := range v.Kinds {
		if one.Key == kind {
			v.Kind = one
		}
	}
	paints, err := benchOf(ctx, k, p, v.Paints, records)
	if err != nil {
		return nil, err
	}
	c := &charting{v: v, b: paints, of: -1, wheel: p.OnWheel(), school: p.School()}
	v.Trust, v.Basis, v.States, v.Layers = c.b.trust(), c.b.basis, States(), c.b.as.Way == mix.Layers
	if c.b.as.Way == mix.Doses || c.b.as.Way == mix.Wash {
		v.Kinds = nil
		v.Problem = fmt.Sprintf("There are no charts for %s. Choose another way of mixing on Mix.", c.b.as.Words)
		return v, nil
	}
	white, black := c.lightest(), c.darkest()
	at := func(id uint, otherwise int) int {
		if i := slices.IndexFunc(v.Paints, func(c *shelf.Card) bool { return c.ID == id }); i >= 0 {
			return i
		}
		return otherwise
	}
	hued := slices.IndexFunc(v.Paints, func(c *shelf.Card) bool { return c.Colour.Chroma() > blackGrey })
	one := at(a, max(0, hued))
	second := at(b, -1)
	for i := 0; second < 0 && i < len(v.Paints); i++ {
		if i != one && i != white && i != black {
			second = i
		}
	}
	switch {
	case len(v.Paints) == 0:
		v.Problem = "Choose paints on Mix first."
		return v, nil
	case v.Kind.Two && second < 0:
		v.Problem = "Choose a second paint on Mix."
		return v, nil
	}
	v.A = v.Paints[one]
	if second >= 0 {
		v.B = v.Paints[second]
	}
	switch v.Kind.Key {
	case "between":
		c.of = one
		c.between(one, second, white)
	case "opposites":
		c.of = one
		c.opposites(one, white, black)
	case "twelve":
		c.twelve()
	case "pairs":
		c.pairs()
	case "tints":
		c.tints(white)
	default:
		c.of = one
		c.ladders(one, white, black)
	}
	if len(v.Rows) == 0 && v.Problem == "" {
		v.Problem = "Choose more paints on Mix."
	}
	return v, nil
}

type charting struct {
	v  *ChartView
	b  bench
	n  int
	of int // the paint that the chart is of, −1 for none

	wheel  wheel.Wheel
	school wheel.School
}

// lightest is the white among the paints, −1 for none.
func (c *charting) lightest() int {
	best := -1
	for i, p := range c.b.cards {
		if isWhite(p.Colour) && (best < 0 || p.Colour.L > c.b.cards[best].Colour.L) {
			best = i
		}
	}
	return best
}

// darkest is the black among the paints, −1 for none.
func (c *charting) darkest() int {
	best := -1
	for i, p := range c.b.cards {
		if p.Colour.L <= blackUnder && p.Colour.Chroma() <= blackGrey && (best < 0 || p.Colour.L < c.b.cards[best].Colour.L) {
			best = i
		}
	}
	return best
}

// field is the mix of paints by parts.
func (c *charting) field(parts map[int]int) Field {
	all, common := make([]int, len(c.b.cards)), 0
	for _, n := range parts {
		common = mix.Common(common, n)
	}
	// The paint that the chart is of comes first.
	order := slices.Sorted(maps.Keys(parts))
	slices.SortStableFunc(order, func(i, j int) int { return first(j == c.of) - first(i == c.of) })
	var names, short, lay []string
	for _, i := range order {
		if all[i] = parts[i] / common; all[i] == 0 {
			continue
		}
		names = append(names, c.b.part(i, all[i]))
		short = append(short, fmt.Sprint(all[i]))
		lay = append(lay, fmt.Sprintf("%d.%d", c.b.cards[i].ID, all[i]))
	}
	c.n++
	f := Field{Number: c.n, Words: strings.Join(names, ", "), Of: names, Short: strings.Join(short, " : "), Colour: c.b.mixed(all),
		Lay: strings.Join(lay, " ")}
	if len(names) == 1 {
		f.Short, f.Words = "alone", c.b.cards[slices.IndexFunc(all, func(n int) bool { return n > 0 })].Name+" alone"
	}
	return f
}

func (c *charting) row(name string, of ...Field) {
	if len(of) > 0 {
		c.v.Rows = append(c.v.Rows, ChartRow{name, of})
	}
}

func (c *charting) ladders(a, white, black int) {
	name := c.b.cards[a].Name
	ladder := func(with ...int) []Field {
		var out []Field
		for _, s := range ladderSteps {
			parts := map[int]int{a: s[0] * len(with)}
			for _, w := range with {
				parts[w] += s[1]
			}
			out = append(out, c.field(parts))
		}
		return out
	}
	if white >= 0 && white != a {
		c.row("tints, with "+c.b.cards[white].Name, ladder(white)...)
	}
	if white >= 0 && black >= 0 && white != a && black != a {
		c.row("tones (white and black)", ladder(white, black)...)
	}
	if black >= 0 && black != a {
		c.row("shades, with "+c.b.cards[black].Name, ladder(black)...)
	}
	if len(c.v.Rows) == 0 {
		c.v.Problem = fmt.Sprintf("Tints of %s need a white and shades a black. Choose one on Mix.", name)
	}
}

func (c *charting) between(a, b, white int) {
	steps := func(whites int) []Field {
		var out []Field
		for _, s := range betweenSteps {
			parts := map[int]int{a: s[0], b: s[1]}
			if whites > 0 {
				parts[white] += whites * (s[0] + s[1])
			}
			out = append(out, c.field(parts))
		}
		return out
	}
	c.row(fmt.Sprintf("%s to %s", c.b.cards[a].Name, c.b.cards[b].Name), steps(0)...)
	if white >= 0 && white != a && white != b {
		c.row(fmt.Sprintf("the same with %d parts of %s to one", whiteInRow, c.b.cards[white].Name), steps(whiteInRow)...)
	}
}

// Steps toward an opposite, in parts of the paint and of the other.
// All are of as many parts, so that the rows below add the same to each.
var opposeSteps = [][2]int{{12, 0}, {11, 1}, {10, 2}, {9, 3}, {8, 4}, {6, 6}}

// Parts of white and of black to the twelve of a step, in the rows below.
var belowRows = []struct {
	name         string
	white, black int
}{{"tints", 12, 0}, {"tones", 12, 2}, {"shades", 0, 2}}

const (
	besideBy     = 1.0 // places by which a split opposite lies beside the opposite
	oppositeFrom = 2.0 // places from which a paint is no split opposite any more
)

// hued are the paints that have a hue.
func (c *charting) hued() (out []int) {
	for i, p := range c.b.cards {
		if p.Colour.Chroma() > blackGrey {
			out = append(out, i)
		}
	}
	return out
}

// nearest is the paint with a hue that lies nearest to a place, but for some; −1 for none.
func (c *charting) nearest(place float64, but ...int) (best int, off float64) {
	best, off = -1, math.Inf(1)
	for _, i := range c.hued() {
		if d := wheel.Apart(c.b.cards[i].Place(c.wheel), place); !slices.Contains(but, i) && d < off {
			best, off = i, d
		}
	}
	return best, off
}

// opposites are the rows from a paint toward the two beside its opposite.
func (c *charting) opposites(a, white, black int) {
	card := c.b.cards[a]
	if card.Colour.Chroma() <= blackGrey {
		c.v.Problem = card.Name + " is too neutral to have a complement. Choose another."
		return
	}
	place := card.Place(c.wheel)
	var ends []int
	for _, by := range []float64{wheel.Places/2 - besideBy, wheel.Places/2 + besideBy} {
		to := wheel.Turn(place, by)
		other, off := c.nearest(to, append(slices.Clone(ends), a)...)
		if other < 0 || off > oppositeFrom {
			c.v.Remarks = append(c.v.Remarks,
				fmt.Sprintf("You have no paint near %s, one of the two complements of %s, so that row is left out.", c.wheel.Describe(to),
					card.Name))
			continue
		}
		if off > besideBy/2 {
			c.v.Remarks = append(c.v.Remarks, fmt.Sprintf("%s is used for %s (%.1f places off).", c.b.cards[other].Name,
				c.wheel.Describe(to), off))
		}
		ends = append(ends, other)
	}
	// The warmer of the two comes first.
	slices.SortStableFunc(ends, func(x, y int) int {
		return cmp.Compare(wheel.Warmth(c.b.cards[y].Colour), wheel.Warmth(c.b.cards[x].Colour))
	})
	for n, end := range ends {
		going := []string{"going warm", "going cool"}[n]
		if len(ends) == 1 {
			going = "going that way"
		}
		name := fmt.Sprintf("toward %s, %s", c.b.cards[end].Name, going)
		row := func(w, b int) []Field {
			var out []Field
			for _, s := range opposeSteps {
				parts := map[int]int{a: s[0], end: s[1]}
				if w > 0 {
					parts[white] += w
				}
				if b > 0 {
					parts[black] += b
				}
				out = append(out, c.field(parts))
			}
			return out
		}
		c.row(name, row(0, 0)...)
		for _, r := range belowRows {
			lacks := r.white > 0 && (white < 0 || white == a || white == end) || r.black > 0 && (black < 0 || black == a || black == end)
			if !lacks {
				c.row(r.name+" of these", row(r.white, r.black)...)
			}
		}
	}
	if len(ends) == 0 {
		c.v.Problem = fmt.Sprintf("You have no paint opposite %s on the wheel. Choose one on Mix.", card.Name)
	}
}

// Places of the three primaries of the wheel.
var primaries = []float64{0, 4, 8}

// twelve are the places of the wheel, each mixed of the two primaries it lies between.
func (c *charting) twelve() {
	var three []int
	for _, place := range primaries {
		// The clearest of those that lie near counts for more than the nearest.
		best, most := -1, 0.0
		for _, i := range c.hued() {
			p := c.b.cards[i]
			off := wheel.Apart(p.Place(c.wheel), place)
			if good := p.Colour.Chroma() * (1 - off/oppositeFrom); off < oppositeFrom && good > most && !slices.Contains(three, i) {
				best, most = i, good
			}
		}
		if best < 0 {
			c.v.Problem = fmt.Sprintf("This needs three primaries, and you have no paint near %s on the %s. Choose one on Mix.", c.wheel.Name(place),
				strings.ToLower(c.wheel.Title))
			return
		}
		three = append(three, best)
	}
	c.v.Remarks = append(c.v.Remarks, fmt.Sprintf("From %s, %s and %s, on the %s.", c.b.cards[three[0]].Name, c.b.cards[three[1]].Name,
		c.b.cards[three[2]].Name, strings.ToLower(c.wheel.Title)))
	var fields []Field
	for place := range wheel.Places {
		from, to := three[place/4], three[(place/4+1)%3]
		best, least := map[int]int{from: 1}, math.Inf(1) // a primary's own place is the paint alone
		for n := 1; n < usualParts && place%4 > 0; n++ {
			for m := 1; n+m <= usualParts; m++ {
				parts := make([]int, len(c.b.cards))
				parts[from], parts[to] = n, m
				off := wheel.Apart(c.wheel.Place(c.b.mixed(parts).OKLCh()), float64(place))
				if cost := off + partOff*float64(n+m); cost < least {
					least, best = cost, map[int]int{from: n, to: m}
				}
			}
		}
		f := c.field(best)
		name := c.wheel.Name(float64(place))
		off := wheel.Apart(float64(place), c.wheel.Place(f.Colour.OKLCh()))
		ideal := c.idealChroma(f, best)
		short := 1 - f.Colour.Chroma()/ideal
		f.Below = words.Capital(name)
		var lacks []string
		if off >= shortPlaces {
			lacks = append(lacks, fmt.Sprintf("%.1f places off", off))
		}
		if short >= shortChroma {
			lacks = append(lacks, fmt.Sprintf("%.0f%% softer than its paints", 100*short))
		}
		if len(lacks) > 0 {
			f.Below += ": " + strings.Join(lacks, ", ")
		}
		fields = append(fields, f)
	}
	for i := 0; i < len(fields); i += 4 {
		c.row(fmt.Sprintf("from %s to %s", c.b.cards[three[i/4]].Name, c.b.cards[three[(i/4+1)%3]].Name), fields[i:i+4]...)
	}
}

// From how far off, in places and in a share of chroma, a place is said to fall short,
// and what a part more must gain in places.
const (
	shortPlaces = 0.3
	shortChroma = 0.1
	partOff     = 0.004
)

// idealChroma is C*ab of a mix that would lose nothing: that of its paints by their parts.
func (c *charting) idealChroma(f Field, parts map[int]int) float64 {
	sum, n := 0.0, 0
	for i, m := range parts {
		sum += float64(m) * c.b.cards[i].Colour.Chroma()
		n += m
	}
	return max(1, sum/float64(n))
}

func (c *charting) pairs() {
	n := min(len(c.b.cards), mostInPairs)
	if n < len(c.b.cards) {
		c.v.Problem = fmt.Sprintf("Only the first %s paints are shown. Choose fewer on Mix to see others.", words.Count(n))
	}
	for i := range n {
		var row []Field
		for j := range n {
			if j > i {
				row = append(row, c.field(map[int]int{i: 1, j: 1}))
			}
		}
		c.row(c.b.cards[i].Name+" with", row...)
	}
}

// tints are those that were not painted yet, dark and transparent paints first: they
// look black in the jar.
func (c *charting) tints(white int) {
	if white < 0 {
		c.v.Problem = "Tints need a white. Choose one on Mix."
		return
	}
	var of []int
	for i := range c.b.cards {
		if !c.b.tried[i] && !isWhite(c.b.cards[i].Colour) {
			of = append(of, i)
		}
	}
	if len(of) == 0 {
		c.v.Problem = "Every paint has been tested in white."
		return
	}
	slices.SortStableFunc(of, func(i, j int) int { return cmp.Compare(c.b.cards[i].Colour.L, c.b.cards[j].Colour.L) })
	var row []Field
	for _, i := range of {
		c.of = i
		row = append(row, c.field(map[int]int{i: 1, white: tintWhite}))
	}
	c.row("one part to ten of "+c.b.cards[white].Name, row...)
}
