package quilt

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"

	"lampfern/core/piece"
	"lampfern/core/quantity"
	"lampfern/core/words"
)

// asks are what a quilt cannot know. Lengths are in cm.
var asks = []piece.Setting{
	{Key: "wof", Name: "usable cloth width", Unit: "cm", Min: 20, Max: 320, Default: 106},
	{Key: "seam", Name: "seam allowance", Unit: "cm", Min: 0.3, Max: 2.5, Default: 0.75},
	{Key: "waste", Name: "extra", Unit: "%", Min: 0, Max: 100, Default: 10},
	piece.Choice("print", "prints", "non-directional", "directional"),
	{Key: "motif", Name: "motif height, for fussy cutting", Unit: "cm", Min: 0, Max: 150, Default: 0},
	{Key: "strip", Name: "binding, cut width", Unit: "cm", Min: 2, Max: 15, Default: 6.5, Row: bindingKey},
	{Key: "overhang", Name: "backing overhang; 0 for automatic", Unit: "cm", Min: 0, Max: 30, Default: 0, Row: "Backing"},
	piece.Choice("sold", "buy in", "0.1 m", "1/8 yd", "fat quarters"),
}

// bindingKey is the part that is cut as binding.
const bindingKey = "binding"

// cutShape is a shape that is cut of a card so often. mate is the card that a triangle
// is sewn to before it is cut.
type cutShape struct {
	shape string
	w, h  float64 // finished, in cm
	mate  int
}

// near tells lengths alike, in mm.
const near = 0.05

// needs are the cloth of each card by the shapes it is cut in, and the backing and
// wadding.
func needs(m piece.Making) []piece.Need {
	wide, high := m.Piece.Width/10, m.Piece.Height/10
	mates := hypotenuses(m)
	counts := make([]map[cutShape]int, len(m.Cards))
	joined := make([]bool, len(m.Cards))
	templates, boxed := make([]template, len(m.Cards)), make([]bool, len(m.Cards))
	bound := boundBy(m, wide, high)
	for i := range counts {
		counts[i] = map[cutShape]int{}
	}
	sheet := m.Asked["wof"]
	for _, r := range m.Piece.Wholes() {
		card := m.Of[r.Part]
		if card < 0 || isBinding(m.Piece.Parts[r.Part]) {
			continue
		}
		longest := sheet - 2*m.Asked["seam"]
		if soldAs(m, card, bound[card]) == piece.FatQuarter {
			longest = quarterWide - 2*m.Asked["seam"]
		}
		s, ruler := shapeOf(r.Region)
		switch own := m.Piece.Sliced || m.Piece.Cells != nil; {
		case own && (!ruler || r.Holed):
			templates[card].add(r, m)
			continue
		case !ruler:
			w, h := r.Boxed()
			s, boxed[card] = cutShape{shape: "rectangle", w: max(w, h) / 10, h: min(w, h) / 10}, true
		}
		s.mate = -1
		if s.shape == "hst" {
			s.mate = mates.other(r.Region, m)
		}
		n := 1
		if s.shape == "rectangle" && s.w > longest { // joined of several
			n = int(math.Ceil(s.w/longest - 1e-9))
			s.w /= float64(n)
			joined[card] = true
		}
		s.w, s.h = math.Round(100*s.w)/100, math.Round(100*s.h)/100
		counts[card][s] += n * m.Times
	}
	var out []piece.Need
	for card := range m.Cards {
		n := piece.Need{Card: card, Kind: "fabric", Step: soldAs(m, card, bound[card]), Wide: sheet}
		lines := ordered(counts[card])
		if len(lines) > 0 {
			lay(&n, m, lines, counts[card])
		}
		if joined[card] {
			n.Working = append(n.Working, fmt.Sprintf("longer than %s is joined from equal lengths",
				map[bool]string{true: "a fat quarter", false: "the cloth is wide"}[n.Step == piece.FatQuarter]))
		}
		if boxed[card] {
			n.Working = append(n.Working, "shapes other than squares and triangles are cut with a template, each from its box")
		}
		templates[card].lay(&n, m)
		if along := bound[card]; along > 0 {
			in := quantity.BindingIn{Unit: "cm", Seam: new(m.Asked["seam"]), WOF: new(m.Asked["wof"]), QuiltW: wide, QuiltH: high,
				Strip: new(m.Asked["strip"]), WastePct: new(m.Asked["waste"])}
			if along < 2*(wide+high)-1e-6 {
				in.Along = &along
			}
			if n.Step == piece.FatQuarter {
				in.WOF = new(quarterWide)
			}
			if res, ok := piece.Work(&n, quantity.Binding, in); ok {
				bought, bare := res.Exact.WithWaste/100*float64(m.Times), res.Exact.Length/100*float64(m.Times)
				if n.Step == piece.FatQuarter { // strips of it, joined
					bought = math.Ceil(100*bought/quarterHigh-1e-9) * piece.FatQuarter
					bare *= quarterWide / m.Asked["wof"]
				}
				n.Amount, n.Spare = n.Amount+bought, n.Spare+bought-bare
			}
		}
		if n.Amount > 0 && n.Amount < leastCut && n.Step != piece.FatQuarter {
			n.Working = append(n.Working, fmt.Sprintf("a shop cuts at least %g cm", 100*leastCut))
			n.Amount, n.Spare = leastCut, n.Spare+leastCut-n.Amount
		}
		out = append(out, n)
	}
	overhang := overhangOf(m)
	backing := piece.Need{Card: -1, Name: "Backing", Kind: "fabric", Step: m.ClothStep()}
	if res, ok := piece.Work(&backing, quantity.Backing, quantity.BackingIn{Unit: "cm", QuiltW: wide, QuiltH: high,
		Overhang: &overhang, WOF: new(m.Asked["wof"])}); ok {
		backing.Amount = res.Exact.WithWaste / 100 * float64(m.Times)
	}
	over := 2 * overhang
	wadding := piece.Need{Card: -1, Name: "Wadding", Kind: "fabric", Step: m.ClothStep(), Amount: (high + over) / 100 * float64(m.Times),
		Working: []string{fmt.Sprintf("one piece %.0f × %.0f cm, the quilt and %g cm beyond each edge: buy wadding that wide, or join two", wide+over, high+over, overhang)}}
	out = append(out, backing, wadding)
	if m.Piece.Cells == nil {
		out = append(out, thread(m))
	}
	return out
}

// leastCut is the shortest length in m that cloth is cut to.
const leastCut = 0.05

// Size of a fat quarter in cm.
const quarterWide, quarterHigh = 53.0, 50.0

// soldAs is the step in m by which the cloth of a card is sold: what is kept in fat quarters is cut of them; else what
// binds is cut across the whole width.
func soldAs(m piece.Making, card int, bound float64) float64 {
	if m.Cards[card].Quarters || m.Asked["sold"] == 2 && bound == 0 {
		return piece.FatQuarter
	}
	return m.ClothStep()
}

// overhangOf is how far the backing goes beyond each edge in cm: as asked, or by the size of the
// piece, a twelfth of its longer side from 2.5 to 10 cm.
func overhangOf(m piece.Making) float64 {
	if asked := m.Asked["overhang"]; asked > 0 {
		return asked
	}
	return math.Round(2*min(10, max(2.5, max(m.Piece.Width, m.Piece.Height)/120))) / 2
}

// isBinding reports whether a part is the binding, a side of it, or drawn and called so.
func isBinding(part piece.Part) bool {
	base, _ := piece.SplitOff(part.Key)
	return base == bindingKey || strings.EqualFold(strings.TrimSpace(part.Name), bindingKey)
}

// boundBy is the length in cm of the sides that each card binds.
func boundBy(m piece.Making, wide, high float64) []float64 {
	out := make([]float64, len(m.Cards))
	base := m.CardOf(bindingKey)
	if at := slices.IndexFunc(m.Piece.Parts, isBinding); at >= 0 && base < 0 {
		base = m.Of[at]
	}
	for _, side := range piece.Sides {
		card, long := base, high
		if side == piece.Top || side == piece.Bottom {
			long = wide
		}
		key := piece.Split{Part: bindingKey, Kind: side}.Key()
		for i, part := range m.Piece.Parts {
			if part.Key == key {
				card = m.Of[i]
			}
		}
		if card >= 0 {
			out[card] += long
		}
	}
	return out
}

// thread is for piecing: every seam lies between two shapes, so half of all outlines.
func thread(m piece.Making) piece.Need {
	n := piece.Need{Card: -1, Name: "Piecing thread", Kind: "thread"}
	seams := 0.0
	for _, c := range m.Piece.Cutouts() {
		seams += c.Round() / 2 / 1000 * float64(m.Times)
	}
	seams = math.Min(seams, 10000)
	n.Working = []string{fmt.Sprintf("a seam is between two shapes, so half of all outlines: %.4g m; add your own quilting lines", seams)}
	n.Sew(seams)
	return n
}

// shapeOf is the shape a region is cut in, and whether it is one that a ruler cuts.
func shapeOf(r piece.Region) (s cutShape, ruler bool) {
	o := r.Outline
	side := func(i int) (dx, dy, long float64) {
		a, b := o[i], o[(i+1)%len(o)]
		return b.X - a.X, b.Y - a.Y, math.Hypot(b.X-a.X, b.Y-a.Y)
	}
	if len(o) == 4 {
		x0, y0, w := side(0)
		x1, y1, h := side(1)
		x2, y2, w2 := side(2)
		square := math.Abs(x0*x1+y0*y1) < near*max(w, h) && math.Abs(x1*x2+y1*y2) < near*max(w, h) && math.Abs(w-w2) < near
		if square {
			w, h = max(w, h)/10, min(w, h)/10
			if math.Abs(w-h) < near/10 {
				return cutShape{shape: "square", w: w, h: w}, true
			}
			return cutShape{shape: "rectangle", w: w, h: h}, true
		}
	}
	if len(o) == 3 {
		for i := range 3 {
			x0, y0, a := side(i)
			x1, y1, b := side((i + 1) % 3)
			if math.Abs(x0*x1+y0*y1) > near*max(a, b) || math.Abs(a-b) > near {
				continue // no right angle with equal legs
			}
			if math.Abs(x0) < near || math.Abs(y0) < near { // legs along the grain
				return cutShape{shape: "hst", w: a / 10, h: a / 10}, true
			}
			return cutShape{shape: "qst", w: a * math.Sqrt2 / 10, h: a * math.Sqrt2 / 10}, true
		}
	}
	return cutShape{}, false
}

// template are shapes that no ruler cuts: their area in cm², the length of their outlines in cm, and
// the boxes that they are cut of, with a seam round each.
type template struct {
	area, round float64
	boxes       []piece.Bundle
	count       int
}

func (t *template) add(w piece.Cutout, m piece.Making) {
	t.count += m.Times
	t.area += w.Area / 100 * float64(m.Times)
	t.round += w.Round() / 10 * float64(m.Times)
	wide, high := w.Boxed()
	seam := 2 * m.Asked["seam"]
	t.boxes = append(t.boxes, piece.Bundle{W: wide/10 + seam, H: high/10 + seam, Count: m.Times, Turn: m.Asked["print"] == 0})
}

// templateUse is the part of the cloth that becomes shapes cut with a template, as with
// pattern parts of clothes.
const templateUse = 0.75

// lay adds the cloth of shapes cut with a template: their area with a seam all round, or what they take
// laid beside one another, whichever is more.
func (t template) lay(n *piece.Need, m piece.Making) {
	if t.count == 0 || n.Problem != "" {
		return
	}
	seamed := t.area + t.round*m.Asked["seam"]
	said := words.Plural(t.count, "shape", "shapes") + " cut with a template"
	if n.Step == piece.FatQuarter {
		quarters, ok := piece.Quarters(joinedTo(t.boxes, quarterWide, quarterHigh, m.Asked["seam"]), quarterWide, quarterHigh)
		if !ok {
			n.Problem = fmt.Sprintf("A shape is larger than a fat quarter (%g × %g cm): buy its cloth by length instead.", quarterWide, quarterHigh)
			return
		}
		quarters = math.Ceil(quarters*(1+m.Asked["waste"]/100) - 1e-9)
		n.Working = append(n.Working, fmt.Sprintf("%s, each from its box: %g fat quarters, with %g%% more", said, quarters, m.Asked["waste"]))
		n.Amount += quarters * piece.FatQuarter
		n.Spare += quarters*piece.FatQuarter - t.area/100/m.Asked["wof"]
		return
	}
	bare := seamed / (m.Asked["wof"] * templateUse) / 100
	n.Working = append(n.Working, fmt.Sprintf("%s: %v cm² and a seam round each, %v cm² / (%g cm × %g%%) = %v cm",
		said, words.Figure(t.area), words.Figure(seamed), m.Asked["wof"], 100*templateUse, words.Figure(100*bare)))
	cuts, long := piece.LayOut(joinedTo(t.boxes, m.Asked["wof"], math.Inf(1), m.Asked["seam"]), m.Asked["wof"])
	n.Working = append(n.Working, fmt.Sprintf("laid side by side, each in its box: %v cm", words.Figure(long)))
	bare = max(bare, long/100)
	more := bare * (1 + m.Asked["waste"]/100)
	n.Working = append(n.Working, fmt.Sprintf("the longer of the two with %g%% more %v cm", m.Asked["waste"], words.Figure(100*more)))
	top := 0.0
	for _, c := range n.Cuts {
		top = max(top, c.Y+c.H)
	}
	for _, c := range cuts {
		c.Y += top
		n.Cuts = append(n.Cuts, c)
	}
	n.Amount, n.Spare = n.Amount+more, n.Spare+more-t.area/100/m.Asked["wof"]
}

// joinedTo are boxes of which none is larger than a room: those that are, are joined of equal pieces,
// with a seam at each join.
func joinedTo(all []piece.Bundle, wide, high, seam float64) (out []piece.Bundle) {
	pieces := func(long, room float64) (int, float64) {
		if long <= room+1e-9 {
			return 1, long
		}
		n := math.Ceil((long-2*seam)/(room-2*seam) - 1e-9)
		return int(n), (long-2*seam)/n + 2*seam
	}
	for _, b := range all {
		if b.W > wide && b.Turn && b.H <= wide && b.W <= high {
			b.W, b.H = b.H, b.W
		}
		across, w := pieces(b.W, wide)
		down, h := pieces(b.H, high)
		out = append(out, piece.Bundle{W: w, H: h, Count: b.Count * across * down, Turn: b.Turn})
	}
	return out
}

// seams are hypotenuses by their ends, and the regions on either side.
type seams map[[4]int][]piece.Region

func hypotenuse(r piece.Region) (k [4]int) {
	best := 0.0
	for i, a := range r.Outline {
		b := r.Outline[(i+1)%len(r.Outline)]
		if l := math.Hypot(b.X-a.X, b.Y-a.Y); l > best {
			best = l
			x0, y0, x1, y1 := int(math.Round(10*a.X)), int(math.Round(10*a.Y)), int(math.Round(10*b.X)), int(math.Round(10*b.Y))
			if x0 > x1 || x0 == x1 && y0 > y1 {
				x0, y0, x1, y1 = x1, y1, x0, y0
			}
			k = [4]int{x0, y0, x1, y1}
		}
	}
	return k
}

func hypotenuses(m piece.Making) seams {
	out := seams{}
	for _, r := range m.Piece.Cutouts() {
		if s, _ := shapeOf(r.Region); s.shape == "hst" {
			k := hypotenuse(r.Region)
			out[k] = append(out[k], r.Region)
		}
	}
	return out
}

// other is the card on the other side of a triangle's long edge, −1 for none.
func (s seams) other(r piece.Region, m piece.Making) int {
	for _, o := range s[hypotenuse(r)] {
		if o.Part != r.Part || &o.Outline[0] != &r.Outline[0] {
			return m.Of[o.Part]
		}
	}
	return -1
}

// ordered are shapes, largest first.
func ordered(counts map[cutShape]int) []cutShape {
	var out []cutShape
	for s := range counts {
		out = append(out, s)
	}
	slices.SortFunc(out, func(a, b cutShape) int {
		return cmp.Or(cmp.Compare(b.h, a.h), cmp.Compare(b.w, a.w), cmp.Compare(a.shape, b.shape), cmp.Compare(a.mate, b.mate))
	})
	return out
}

// lay works out the cloth of shapes cut across its width, and how they lie on it.
func lay(n *piece.Need, m piece.Making, shapes []cutShape, counts map[cutShape]int) {
	if n.Step == piece.FatQuarter {
		quarters(n, m, shapes, counts)
		return
	}
	res, ok := piece.Work(n, quantity.Strips, quantity.StripsIn{Unit: "cm", Seam: new(m.Asked["seam"]), WOF: new(m.Asked["wof"]),
		WastePct:    new(m.Asked["waste"]),
		Directional: m.Asked["print"] == 1, RepeatLen: m.Asked["motif"], Lines: linesOf(shapes, counts)})
	if !ok {
		return
	}
	n.Amount = res.Exact.WithWaste / 100
	n.Spare = n.Amount - res.Exact.Length/100
	y := 0.0
	for _, l := range res.Rounded.Lines {
		for pieces, per := int(l.Pieces), int(l.PerStrip); pieces > 0 && len(n.Cuts) < mostCuts; pieces -= per {
			for k := range min(per, pieces) {
				n.Cuts = append(n.Cuts, piece.Cut{X: float64(k) * l.Along, Y: y, W: l.Along, H: l.High})
			}
			y += l.High
		}
	}
}

func linesOf(shapes []cutShape, counts map[cutShape]int) (lines []quantity.QuiltShape) {
	for _, s := range shapes {
		line := quantity.QuiltShape{Shape: s.shape, FinishedW: s.w, Count: float64(counts[s])}
		if s.shape == "rectangle" {
			line.FinishedH = &s.h
		}
		lines = append(lines, line)
	}
	return lines
}

// quarters works out the fat quarters of shapes, which share them by rows.
func quarters(n *piece.Need, m piece.Making, shapes []cutShape, counts map[cutShape]int) {
	if res, ok := piece.Work(n, quantity.FatQuarters, quantity.FatQuartersIn{Unit: "cm", Seam: new(m.Asked["seam"]), Method: "shelf",
		Directional: m.Asked["print"] == 1,
		SparePct:    math.Min(50, m.Asked["waste"]), Lines: linesOf(shapes, counts)}); ok {
		n.Amount = res.Rounded.FatQuarters * piece.FatQuarter
	}
}

// mostCuts bounds the cuts that are drawn.
const mostCuts = 600
