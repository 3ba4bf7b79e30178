package garment

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"lampfern/core/piece"
	"lampfern/core/quantity"
	"lampfern/core/words"
)

// asks are what a drawing of a garment cannot know: it shows the outside once.
var asks = []piece.Setting{
	{Key: "sides", Name: "multiply the drawing by (front, back, seams, hems)", Min: 1, Max: 6, Default: 2.4},
	{Key: "width", Name: "cloth width", Unit: "cm", Min: 20, Max: 400, Default: 140},
	{Key: "used", Name: "cloth used by the pattern parts", Unit: "%", Min: 30, Max: 100, Default: 75},
	piece.Choice("nap", "nap or one-way print", "no", "yes"),
	{Key: "repeat", Name: "print repeat, if it must match", Unit: "cm", Min: 0, Max: 200, Default: 0},
	piece.Whole("match", "parts that must match", 0, 100, 2),
	{Key: "shrink", Name: "shrinkage in the wash", Unit: "%", Min: 0, Max: 30, Default: 5},
	{Key: "thread", Name: "seams to sew", Unit: "m", Min: 0, Max: 1000, Default: 14, Row: "Sewing thread"},
	{Key: "lining", Name: "lining, of the outside", Unit: "%", Min: 0, Max: 200, Default: 0, Row: "Lining"},
	{Key: "facing", Name: "interfacing (collar, cuffs, facings)", Unit: "cm²", Min: 0, Max: 50000, Default: 0, Row: "Interfacing"},
	{Key: "bias", Name: "bias binding, cut 4 cm wide", Unit: "cm", Min: 0, Max: 10000, Default: 0, Row: "Bias binding"},
	piece.Whole("buttons", "buttons", 0, 500, 0),
	piece.Whole("zips", "zips", 0, 50, 0),
	piece.SoldBy(),
}

// lists are what comes with a pattern, and is truer than a drawing.
var lists = []piece.List{
	{Key: "parts", Name: "Your pattern parts",
		Words: "Measure each with its seams. For the cloth, name a card, a part of the piece, or lining. Leave the area out to use length × width.",
		Columns: []piece.Column{{Name: "part"}, {Name: "cloth"}, {Name: "length, cm", Number: true, Max: 1000, Over: true},
			{Name: "width, cm", Number: true, Max: 400, Over: true},
			{Name: "how many", Number: true, Max: 1000, Whole: true, Optional: true, Usual: 1},
			{Name: "area, cm²", Number: true, Max: 100000, Optional: true}},
		Example: "front, top, 72, 48, 2, 2600\nfront, lining, 70, 46, 2"},
	{Key: "envelope", Name: "The envelope's table",
		Words: "For your size, by cloth width. Your pattern parts are used instead where you list them.",
		Columns: []piece.Column{{Name: "cloth"}, {Name: "width, cm", Number: true, Min: 20, Max: 400},
			{Name: "length, m", Number: true, Max: 50, Over: true}},
		Example: "top, 115, 2.5\ntop, 150, 1.8"},
}

// notion is the kind of buttons, ribbons and the like.
const notion = "notion"

// ownCloths are those that never have a card.
var ownCloths = []string{"lining", "interfacing", "interlining", "wadding"}

// selvedge is what each edge of a cloth is not used of, in cm.
const selvedge = 1.5

// cut is a pattern part as it is cut so often, in cm and cm².
type cut struct {
	name             string
	long, wide, area float64
	count            float64
}

// cloth is a cloth that a garment is made of: a card, or −1 and its name.
type cloth struct {
	card  int
	name  string
	parts []cut
	own   bool // by the maker's own pattern parts
	table []piece.Row
}

// needs are the cloth of each card by the maker's pattern parts, by the envelope's table,
// or by what is drawn; lining and the like; thread and notions.
func needs(m piece.Making) []piece.Need {
	var cloths []*cloth
	of := func(word string) *cloth {
		card := m.CardFor(word)
		at := slices.IndexFunc(cloths, func(c *cloth) bool {
			return c.card == card && (card >= 0 || strings.EqualFold(c.name, word))
		})
		if at < 0 {
			at, cloths = len(cloths), append(cloths, &cloth{card: card, name: strings.ToUpper(word[:1]) + word[1:]})
		}
		return cloths[at]
	}
	stitched := stitches(m)
	for card, c := range m.Cards {
		if c.Kind != notion && !stitched.alone[card] {
			cloths = append(cloths, &cloth{card: card})
		}
	}
	for _, r := range m.Lists["parts"] {
		c := of(r.Text[1])
		area := r.Number[5]
		if area == 0 {
			area = r.Number[2] * r.Number[3]
		}
		c.own, c.parts = true, append(c.parts, cut{r.Text[0], r.Number[2], r.Number[3], area, r.Number[4]})
	}
	for _, r := range m.Lists["envelope"] {
		if c := of(r.Text[0]); !c.own {
			c.table = append(c.table, r)
		}
	}
	drawn(m, cloths)
	var out []piece.Need
	whole := 0.0
	for _, c := range cloths {
		n := piece.Need{Card: c.card, Name: c.name, Kind: "fabric", Step: m.ClothStep()}
		if c.card >= 0 {
			n.Name = ""
		} else if !slices.ContainsFunc(ownCloths, func(s string) bool { return strings.EqualFold(s, c.name) }) {
			n.Warnings = append(n.Warnings, "No card and no part of the piece has this name, so it is bought as a separate cloth.")
		}
		for _, p := range c.parts {
			whole += p.area * p.count
		}
		switch {
		case len(c.table) > 0:
			c.byTable(&n, m)
		case len(c.parts) > 0:
			if !c.own {
				n.Working = append(n.Working,
					fmt.Sprintf("the drawing shows the outside once and is counted %g times; your pattern parts or the envelope's table are more accurate",
						m.Asked["sides"]))
			}
			c.byParts(&n, m)
		}
		out = append(out, n)
	}
	for card, c := range m.Cards {
		if c.Kind == notion { // buttons and the like are counted
			n := piece.Need{Card: card, Kind: notion}
			for _, w := range m.Piece.Cutouts() {
				if m.Of[w.Part] == card {
					n.Amount += float64(m.Times)
				}
			}
			n.Working = []string{fmt.Sprintf("%g as drawn", n.Amount)}
			out = append(out, n)
		}
	}
	return append(append(out, stitched.needs(m)...), lines(m, out, whole)...)
}

// topstitching is what is sewn in lines that are seen: the length in m by card, and the cards that are
// of nothing else.
type topstitching struct {
	long  map[int]float64
	alone map[int]bool
}

func stitches(m piece.Making) topstitching {
	t := topstitching{map[int]float64{}, map[int]bool{}}
	cloth := map[int]bool{}
	for i, p := range m.Piece.Parts {
		if _, kind := piece.SplitOff(p.Key); kind != piece.Stitching {
			cloth[m.Of[i]] = true
			continue
		}
		if m.Of[i] < 0 {
			continue
		}
		for _, r := range m.Piece.Cutouts() {
			if r.Part == i {
				t.long[m.Of[i]] += r.Round() / 1000
			}
		}
	}
	for card := range t.long {
		t.alone[card] = !cloth[card]
	}
	return t
}

// needs are the thread of what is sewn in lines that are seen.
func (t topstitching) needs(m piece.Making) (out []piece.Need) {
	for card := range m.Cards {
		long := t.long[card] * float64(m.Times)
		if long == 0 {
			continue
		}
		n := piece.Need{Card: card, Kind: "thread"}
		if !t.alone[card] { // the card is cloth too
			n.Card, n.Name = -1, "Thread in "+m.Cards[card].Name
		}
		n.Working = append(n.Working, fmt.Sprintf("lines of stitches along the drawn edges, %.3g m", long))
		n.Sew(long)
		out = append(out, n)
	}
	return out
}

// drawn gives the cloths that nothing is written of their parts by the drawing.
func drawn(m piece.Making, cloths []*cloth) {
	usable := m.Asked["width"] - 2*selvedge
	areas := m.Piece.Areas()
	for i, p := range m.Piece.Parts {
		at := slices.IndexFunc(cloths, func(c *cloth) bool { return c.card == m.Of[i] })
		if _, kind := piece.SplitOff(p.Key); kind == piece.Stitching {
			continue
		}
		for j, o := range m.Piece.Parts { // the cloth goes on below its stitches
			if base, kind := piece.SplitOff(o.Key); base == p.Key && kind == piece.Stitching {
				areas[i] += areas[j]
			}
		}
		if m.Of[i] < 0 || areas[i] == 0 || at < 0 || cloths[at].own || cloths[at].table != nil {
			continue
		}
		left, right, top, foot := math.Inf(1), math.Inf(-1), math.Inf(1), math.Inf(-1)
		for _, r := range m.Piece.Cutouts() {
			if r.Part == i {
				for _, q := range r.Outline {
					left, right, top, foot = math.Min(left, q.X), math.Max(right, q.X), math.Min(top, q.Y), math.Max(foot, q.Y)
				}
			}
		}
		// Taken 2.4 times it is three parts of its size, not all of it whole.
		n := math.Ceil(m.Asked["sides"])
		wide, long := math.Min(usable, (right-left)/10), math.Min(1000, (foot-top)/10)
		area := math.Min(wide*long, areas[i]/100*m.Asked["sides"]/n)
		cloths[at].parts = append(cloths[at].parts, cut{p.Name, long, wide, area, n})
	}
}

// byParts works the length out by the areas of parts. Those of the maker's own are laid on the cloth
// too, and the longer of the two is bought.
func (c *cloth) byParts(n *piece.Need, m piece.Making) {
	var parts []quantity.PatternPart
	for _, p := range c.parts {
		parts = append(parts, quantity.PatternPart{Name: p.name, Area: p.area, Length: p.long, Width: p.wide,
			Count: new(p.count * float64(m.Times))})
	}
	res, ok := piece.Work(n, quantity.ClothByParts, quantity.ClothByPartsIn{Parts: parts, FabricWidth: m.Asked["width"],
		Selvedge:      new(selvedge),
		EfficiencyPct: new(m.Asked["used"]), Nap: m.Asked["nap"] == 1, Repeat: m.Asked["repeat"], MatchPieces: m.Asked["match"],
		ShrinkPct: new(m.Asked["shrink"])})
	if !ok {
		return
	}
	n.Amount = res.Exact.LengthToBuy / 100
	if c.own {
		long := c.lay(n, m)
		match := m.Asked["match"] * m.Asked["repeat"]
		whole := (long + match) / (1 - m.Asked["shrink"]/100)
		said := fmt.Sprintf("laid side by side along the grain, each in its box: %.4g cm", long)
		if match > 0 {
			said += fmt.Sprintf(", and %.4g cm for matching", match)
		}
		if n.Working = append(n.Working, fmt.Sprintf("%s / (1 − %g/100) = %.4g cm", said, m.Asked["shrink"], whole)); whole > res.Exact.LengthToBuy {
			n.Amount = whole / 100
			n.Working = append(n.Working, "this is longer than the areas need, so it is what is bought")
		}
	}
	n.Spare = n.Amount - res.Exact.Area/(m.Asked["width"]-2*selvedge)/100
}

// lay lays the parts on the cloth, none of them turned, and returns the length that they take in cm.
func (c *cloth) lay(n *piece.Need, m piece.Making) float64 {
	var boxes []piece.Bundle
	for _, p := range c.parts {
		boxes = append(boxes, piece.Bundle{W: p.wide, H: p.long, Count: int(p.count) * m.Times})
	}
	cuts, long := piece.LayOut(boxes, m.Asked["width"]-2*selvedge)
	for _, cut := range cuts {
		cut.X += selvedge
		n.Cuts = append(n.Cuts, cut)
	}
	n.Wide = m.Asked["width"]
	return long
}

// byTable takes the length of the envelope's table.
func (c *cloth) byTable(n *piece.Need, m piece.Making) {
	const size = "yours"
	var table []quantity.EnvelopeRow
	for _, r := range c.table {
		table = append(table, quantity.EnvelopeRow{Width: r.Number[1], Lengths: quantity.Amounts{{Name: size, N: r.Number[2]}}})
	}
	if res, ok := piece.Work(n, quantity.ClothByTable, quantity.ClothByTableIn{Table: table, Size: size, FabricWidth: m.Asked["width"],
		Nap:       m.Asked["nap"] == 1,
		ShrinkPct: new(m.Asked["shrink"])}); ok {
		n.Amount = res.Exact.LengthToBuy / 100 * float64(m.Times)
		if m.Times > 1 {
			n.Working = append(n.Working, fmt.Sprintf("× %d = %.4g m", m.Times, n.Amount))
		}
	}
}

// biasWaste is what bias binding of a length in cm takes more for its joins and for trimming, in %,
// and how many joins there are: a square gives as many strips as its diagonal holds, and each join,
// sewn at 45°, takes the two seam allowances from the length.
func biasWaste(long float64) (percent, joins float64) {
	const strip, seam, usual = 4.0, .75, 10.0
	percent = usual
	for range 4 { // more cloth gives more strips, so until it settles
		side := math.Sqrt(long * strip * (1 + percent/100))
		joins = math.Floor(side*math.Sqrt2/strip) - 1
		percent = math.Min(50, math.Max(usual, 100*max(0, joins)*2*seam*math.Sqrt2/long))
	}
	return percent, max(0, joins)
}

// lines are what has no card: lining and interfacing where nothing is written of them,
// bias binding, thread, buttons and zips. whole is the area of all parts in cm².
func lines(m piece.Making, cloths []piece.Need, whole float64) []piece.Need {
	var out []piece.Need
	cloth := func(name string) (*piece.Need, bool) {
		if slices.ContainsFunc(cloths, func(n piece.Need) bool { return strings.EqualFold(n.Name, name) }) {
			return nil, false
		}
		out = append(out, piece.Need{Card: -1, Name: name, Kind: "fabric", Step: m.ClothStep()})
		return &out[len(out)-1], true
	}
	usable := m.Asked["width"] - 2*selvedge
	if share := m.Asked["lining"] / 100; share > 0 && whole > 0 {
		if n, ok := cloth("Lining"); ok {
			n.Amount = whole * float64(m.Times) * share / (usable * m.Asked["used"] / 100) / 100
			n.Working = []string{fmt.Sprintf("%v cm² of the outside × %g%% / (%g cm × %g%%) = %v cm", words.Figure(whole*float64(m.Times)),
				m.Asked["lining"], usable, m.Asked["used"], words.Figure(100*n.Amount))}
		}
	}
	if area := m.Asked["facing"]; area > 0 {
		if n, ok := cloth("Interfacing"); ok {
			const wide, used = 90.0, 75.0
			n.Amount = area * float64(m.Times) / (wide * used / 100) / 100
			n.Working = []string{fmt.Sprintf("%g cm² × %d / (%g cm wide × %g%%) = %v cm, without nap and shrinkage", area, m.Times, wide, used,
				words.Figure(100*n.Amount))}
		}
	}
	if long := m.Asked["bias"]; long > 0 {
		if n, ok := cloth("Cloth for bias binding"); ok {
			long *= float64(m.Times)
			waste, joins := biasWaste(long)
			if res, ok := piece.Work(n, quantity.Bias, quantity.BiasIn{Length: long, WastePct: &waste, FabricWidth: m.Asked["width"],
				Selvedge: new(selvedge)}); ok {
				n.Working = append(n.Working, fmt.Sprintf("%.3g%% more is for %.0f joins of the strips and for trimming", waste, joins))
				n.Amount = res.Rounded.Length / 100
			}
		}
	}
	thread := piece.Need{Card: -1, Name: "Sewing thread", Kind: "thread"}
	thread.Sew(m.Asked["thread"] * float64(m.Times))
	out = append(out, thread)
	for _, key := range []string{"buttons", "zips"} {
		if count := m.Asked[key]; count > 0 {
			out = append(out, piece.Need{Card: -1, Name: strings.ToUpper(key[:1]) + key[1:], Kind: notion, Amount: count * float64(m.Times),
				Working: []string{fmt.Sprintf("%g × %d = %g", count, m.Times, count*float64(m.Times))}})
		}
	}
	return out
}
