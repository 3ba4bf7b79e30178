package mix

import (
	"cmp"
	"context"
	"fmt"
	"maps"
	"slices"
	"strings"

	"lampfern/core/colour"
	"lampfern/core/mix"
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
		{Key: "between", Name: "Steps between two", One: true, Two: true, Words: "From one paint to another, with the same steps in white below."},
		{Key: "pairs", Name: "All pairs", Words: "Every paint with every other, one part each."},
		{Key: "tints", Name: "Tints to paint", Words: "One part of each new paint to ten of white: of all mixes these tell most about how strong a paint is. Paint them, read them dry, and write down what came out."},
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
	Trust   float64
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
	c := &charting{v: v, b: benchOf(k, Of(p), v.Paints, records), of: -1}
	v.Trust = c.b.trust()
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
		v.Problem = "Choose paints on Mix first: charts are made of them."
		return v, nil
	case v.Kind.Two && second < 0:
		v.Problem = "Steps lie between two paints: choose another one on Mix."
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
	case "pairs":
		c.pairs()
	case "tints":
		c.tints(white)
	default:
		c.of = one
		c.ladders(one, white, black)
	}
	if len(v.Rows) == 0 && v.Problem == "" {
		v.Problem = "There is nothing to mix: choose more paints on Mix."
	}
	return v, nil
}

type charting struct {
	v  *ChartView
	b  bench
	n  int
	of int // the paint that the chart is of, −1 for none
}

func first(is bool) int {
	if is {
		return 1
	}
	return 0
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
		names = append(names, fmt.Sprintf("%d %s", all[i], c.b.cards[i].Name))
		short = append(short, fmt.Sprint(all[i]))
		lay = append(lay, fmt.Sprintf("%d.%d", c.b.cards[i].ID, all[i]))
	}
	c.n++
	f := Field{Number: c.n, Words: strings.Join(names, ", "), Of: names, Short: strings.Join(short, " : "), Colour: c.b.mixed(all), Lay: strings.Join(lay, " ")}
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
		c.row("tones, with both", ladder(white, black)...)
	}
	if black >= 0 && black != a {
		c.row("shades, with "+c.b.cards[black].Name, ladder(black)...)
	}
	if len(c.v.Rows) == 0 {
		c.v.Problem = fmt.Sprintf("Tints of %s need a white, and shades a black: choose one on Mix.", name)
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

func (c *charting) pairs() {
	n := min(len(c.b.cards), mostInPairs)
	if n < len(c.b.cards) {
		c.v.Problem = fmt.Sprintf("The first %s paints are shown: choose fewer on Mix to see others.", words.Count(n))
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
		c.v.Problem = "Tints need a white: choose one on Mix."
		return
	}
	var of []int
	for i := range c.b.cards {
		if !c.b.tried[i] && !isWhite(c.b.cards[i].Colour) {
			of = append(of, i)
		}
	}
	if len(of) == 0 {
		c.v.Problem = "Every paint has been tried in white already."
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
