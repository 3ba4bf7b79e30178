package piece

import (
	"fmt"
	"math"
	"slices"
	"strings"
)

// Split is a piece of a part that takes a card of its own: where it is shaded, where the light
// falls, the end of a fade, or what lies along one side of the piece. The rest of the part keeps
// its key.
type Split struct {
	Part  string    `json:"part"`
	Kind  SplitKind `json:"kind"`
	Share float64   `json:"share,omitempty"` // of each of the part's shapes, 0 to 1; of a shade and a light alone
}

// SplitKind is what is split off a part.
type SplitKind string

// The kinds. Light comes from above: a light takes the upper end of each shape, a shade the lower
// one, each by its exact share of the area. A fade is the lower half of the part, into which the
// upper passes evenly. A side is what lies nearer to that side of the piece than to the others.
const (
	Shade  SplitKind = "shade"
	Light  SplitKind = "light"
	Fade   SplitKind = "fade"
	Top    SplitKind = "top"
	Right  SplitKind = "right"
	Bottom SplitKind = "bottom"
	Left   SplitKind = "left"

	Stitching SplitKind = "stitching" // a line along the edge of the part, a little within it
)

// Tones are the kinds that lay a second tone on a part, and Sides those along a side.
var (
	Tones = []SplitKind{Shade, Light, Fade}
	Sides = []SplitKind{Top, Right, Bottom, Left}
)

// Bounds of what is split off.
const (
	MostSplits             = 60
	leastSplit, mostSplits = 0.02, 0.9 // of a part, one and all of them
)

// splitMark parts the key of a part from the kind of what is split off it.
const splitMark = "--"

// Key is the key of the part that a split makes.
func (s Split) Key() string { return s.Part + splitMark + string(s.Kind) }

// SplitOff is the key of the part that one was split off, and what it is; itself and nothing for any
// other part.
func SplitOff(key string) (base string, kind SplitKind) {
	at := strings.LastIndex(key, splitMark)
	if at < 0 {
		return key, ""
	}
	kind = SplitKind(key[at+len(splitMark):])
	if !slices.Contains(Tones, kind) && !slices.Contains(Sides, kind) && kind != Stitching {
		return key, ""
	}
	return key[:at], kind
}

// IsTone reports whether a part was split off another as a tone of it.
func IsTone(key string) bool {
	_, kind := SplitOff(key)
	return slices.Contains(Tones, kind)
}

// called is the name of what is split off a part.
func (k SplitKind) called(part string) string {
	switch k {
	case Left, Right:
		return fmt.Sprintf("%s side of the %s", k, part)
	case Fade:
		return "foot of the " + part
	}
	return fmt.Sprintf("%s of the %s", k, part)
}

// CheckSplits says in one sentence what keeps splits from being made.
func CheckSplits(all []Split) error {
	if len(all) > MostSplits {
		return fmt.Errorf("at most %d parts can be divided", MostSplits)
	}
	sum, fades := map[string]float64{}, map[string]bool{}
	for i, s := range all {
		if slices.ContainsFunc(all[:i], func(o Split) bool { return o.Key() == s.Key() }) {
			return fmt.Errorf("a part can have only one %s", s.Kind)
		}
		switch {
		case slices.Contains(Sides, s.Kind), s.Kind == Stitching:
		case s.Kind == Fade:
			fades[s.Part] = true
		case s.Kind != Shade && s.Kind != Light:
			return fmt.Errorf("a part cannot be divided by %q", string(s.Kind))
		case !(s.Share >= leastSplit):
			return fmt.Errorf("a tone takes at least %g%% of its part", 100*leastSplit)
		default:
			if sum[s.Part] += s.Share; sum[s.Part] > mostSplits+1e-9 {
				return fmt.Errorf("shade and light together take at most %g%% of a part", 100*mostSplits)
			}
		}
	}
	for _, s := range all {
		if fades[s.Part] && s.Kind != Fade && s.Kind != Stitching {
			return fmt.Errorf("a part that fades has no other tone: remove the fade first")
		}
	}
	return nil
}

// Divided is the piece with splits made of its parts, each a part after the others. Splits of parts
// that it does not have, and any of a piece that is made of cells, are left out.
func (p Piece) Divided(all []Split) Piece {
	if p.Cells != nil || len(all) == 0 {
		return p
	}
	p.Parts, p.Regions, p.Laid = slices.Clone(p.Parts), slices.Clone(p.Regions), nil
	// A light is cut off first, so that a shade has its share of the whole still.
	for _, kind := range slices.Concat([]SplitKind{Stitching, Light, Shade, Fade}, Sides) {
		for _, s := range all {
			base := slices.IndexFunc(p.Parts, func(q Part) bool { return q.Key == s.Part })
			if s.Kind != kind || base < 0 || p.Sliced && slices.Contains(Sides, kind) || !p.Sliced && kind == Stitching {
				continue
			}
			to := len(p.Parts)
			p.Parts = append(p.Parts, Part{s.Key(), kind.called(p.Parts[base].Name)})
			switch kind {
			case Shade, Light:
				share := s.Share
				if kind == Shade {
					for _, o := range all {
						if o.Part == s.Part && o.Kind == Light {
							share /= 1 - o.Share
						}
					}
				}
				for _, shape := range p.shapesOf(base) {
					p.cutOff(shape, to, share, kind == Light)
				}
			case Stitching:
				p.stitch(base, to)
			case Fade:
				p.cutOff(p.regionsOf(base), to, .5, false)
				p.Fades = append(p.Fades, p.fade(base, to))
			default:
				p.sideOff(base, to, kind)
			}
		}
	}
	p.Regions = slices.DeleteFunc(p.Regions, func(r Region) bool { return len(r.Outline) == 0 })
	return p
}

// regionsOf are the regions of a part, by index.
func (p *Piece) regionsOf(part int) (out []int) {
	for i, r := range p.Regions {
		if r.Part == part && len(r.Outline) > 0 {
			out = append(out, i)
		}
	}
	return out
}

// shapesOf are the regions of a part, by index, shape by shape: slices of one shape together.
func (p *Piece) shapesOf(part int) (out [][]int) {
	of := p.regionsOf(part)
	if !p.Sliced {
		for _, i := range of {
			out = append(out, []int{i})
		}
		return out
	}
	var slicesOf [][]Point
	for _, i := range of {
		slicesOf = append(slicesOf, p.Regions[i].Outline)
	}
	var around []Region
	for _, c := range trace(slicesOf) {
		if r := (Region{part, c}); r.clockwise() {
			around = append(around, r)
		}
	}
	slices.SortStableFunc(around, func(a, b Region) int { return int(math.Copysign(1, a.Area()-b.Area())) }) // the innermost first
	shapes := make([][]int, len(around))
	for _, i := range of {
		q := p.Regions[i].Outline
		x, y := (q[0].X+q[1].X+q[2].X+q[3].X)/4, (q[0].Y+q[2].Y)/2
		at := slices.IndexFunc(around, func(r Region) bool {
			left := 0
			for _, cut := range crossings(nil, r.Outline, y) {
				if cut < x {
					left++
				}
			}
			return left%2 == 1
		})
		if at < 0 {
			out = append(out, []int{i})
			continue
		}
		shapes[at] = append(shapes[at], i)
	}
	for _, s := range shapes {
		if len(s) > 0 {
			out = append(out, s)
		}
	}
	return out
}

// cutOff gives the upper or the lower share of some regions to another part.
func (p *Piece) cutOff(regions []int, to int, share float64, upper bool) {
	whole, top, foot := 0.0, math.Inf(1), math.Inf(-1)
	for _, i := range regions {
		e := p.Regions[i].ends()
		whole, top, foot = whole+p.Regions[i].Area(), math.Min(top, e[1]), math.Max(foot, e[3])
	}
	if !upper {
		share = 1 - share
	}
	from, till := top, foot
	for range 60 {
		y, above := (from+till)/2, 0.0
		for _, i := range regions {
			up, _ := p.Regions[i].level(y)
			above += Region{Outline: up}.Area()
		}
		if above < share*whole {
			from = y
		} else {
			till = y
		}
	}
	for _, i := range regions {
		r := p.Regions[i]
		up, down := r.level((from + till) / 2)
		if !upper {
			up, down = down, up
		}
		p.Regions[i].Outline = down
		if len(up) > 0 {
			p.Regions = append(p.Regions, Region{to, up})
		}
	}
}

// level cuts a region along a level line into what lies above it and below; slices stay slices.
func (r Region) level(y float64) (up, down []Point) {
	e := r.ends()
	switch {
	case len(r.Outline) == 0:
		return nil, nil
	case y <= e[1]+thinnest:
		return nil, r.Outline
	case y >= e[3]-thinnest:
		return r.Outline, nil
	}
	if q := r.Outline; len(q) == 4 && q[0].Y == q[1].Y && q[2].Y == q[3].Y { // a slice
		u := (y - q[0].Y) / (q[3].Y - q[0].Y)
		left, right := Point{q[0].X + u*(q[3].X-q[0].X), y}, Point{q[1].X + u*(q[2].X-q[1].X), y}
		return []Point{q[0], q[1], right, left}, []Point{left, right, q[2], q[3]}
	}
	return Outline{Corners: r.Outline}.Split(Point{0, y}, Point{1, y})
}

// sideOff gives what of a part lies nearest to one side of the piece to another part.
func (p *Piece) sideOff(base, to int, side SplitKind) {
	w, h := p.Width, p.Height
	middle := math.Min(w, h) / 2
	// What is nearest to a side lies between the slant lines from its corners.
	cuts := map[SplitKind][2][2]Point{
		Top:    {{{0, 0}, {middle, middle}}, {{w - middle, middle}, {w, 0}}},
		Right:  {{{w, 0}, {w - middle, middle}}, {{w - middle, h - middle}, {w, h}}},
		Bottom: {{{w, h}, {w - middle, h - middle}}, {{middle, h - middle}, {0, h}}},
		Left:   {{{0, h}, {middle, h - middle}}, {{middle, middle}, {0, 0}}},
	}[side]
	for _, i := range p.regionsOf(base) {
		own, rest := p.Regions[i].Outline, [][]Point{}
		for _, line := range cuts {
			in, out := Outline{Corners: own}.Split(line[0], line[1])
			own = in
			if out != nil {
				rest = append(rest, out)
			}
			if own == nil {
				break
			}
		}
		if own == nil {
			continue
		}
		p.Regions[i].Outline = nil
		p.Regions = append(p.Regions, Region{to, own})
		for _, q := range rest {
			p.Regions = append(p.Regions, Region{base, q})
		}
	}
}

// How far within the edge a line of stitches lies and how wide it is seen, in mm; less on what is
// narrow.
const (
	stitchIn   = 6.0
	stitchWide = 2.0
)

// stitch gives a line along the edges of a part to another.
func (p *Piece) stitch(base, to int) {
	var loops [][]Point
	var rest []Region
	var own [][]Point
	for _, r := range p.Regions {
		if r.Part == base && len(r.Outline) > 0 {
			own = append(own, r.Outline)
		} else {
			rest = append(rest, r)
		}
	}
	loops = trace(own)
	area, round := 0.0, 0.0
	for _, r := range own {
		area += Region{Outline: r}.Area()
	}
	for _, l := range loops {
		round += Region{Outline: l}.Round()
	}
	if round == 0 {
		return
	}
	in := math.Min(stitchIn, 2*area/round/5) // of the mean width
	wide := math.Min(stitchWide, in/2)
	slices.SortStableFunc(loops, func(a, b []Point) int {
		return int(math.Copysign(1, Region{Outline: b}.Area()-Region{Outline: a}.Area()))
	})
	const nothing = -1
	var all []Outline
	for _, l := range loops {
		if (Region{Outline: l}).clockwise() { // a button or a pocket that lies on it is not sewn round
			all = append(all, Outline{base, l}, Outline{to, inset(l, in)}, Outline{base, inset(l, in+wide)})
		}
	}
	// What would lie beyond the part is cut off: all around it nothing is laid on top, as one outline
	// that goes from its corner round each loop and back.
	far := 10 * (in + wide)
	corner := Point{-far, -far}
	around := []Point{corner, {p.Width + far, -far}, {p.Width + far, p.Height + far}, {-far, p.Height + far}, corner}
	for _, l := range loops {
		around = append(append(append(around, l...), l[0]), corner)
	}
	all = append(all, Outline{nothing, around})
	p.Regions = rest
	for _, r := range Overlay(all) {
		if r.Part != nothing {
			p.Regions = append(p.Regions, r)
		}
	}
}

// inset is a clockwise outline moved so many mm inward.
func inset(loop []Point, by float64) []Point {
	n := len(loop)
	out := make([]Point, 0, n)
	normal := func(a, b Point) (Point, bool) {
		l := math.Hypot(b.X-a.X, b.Y-a.Y)
		if l < 1e-9 {
			return Point{}, false
		}
		return Point{-(b.Y - a.Y) / l, (b.X - a.X) / l}, true
	}
	for i, q := range loop {
		a, okA := normal(loop[(i+n-1)%n], q)
		b, okB := normal(q, loop[(i+1)%n])
		switch {
		case !okA && !okB:
			continue
		case !okA:
			a = b
		case !okB:
			b = a
		}
		sum := Point{a.X + b.X, a.Y + b.Y}
		k := by / math.Max((sum.X*sum.X+sum.Y*sum.Y)/2, .5)
		out = append(out, Point{q.X + k*sum.X, q.Y + k*sum.Y})
	}
	return out
}

// Fading is a part that passes evenly into another, from its top to the foot of that; Middle is the
// height at which it is half of each, with half of the area above.
type Fading struct {
	From, To          int // parts
	Top, Middle, Foot float64
}

func (p *Piece) fade(base, to int) Fading {
	f := Fading{From: base, To: to, Top: math.Inf(1), Foot: math.Inf(-1)}
	for _, r := range p.Regions {
		if len(r.Outline) == 0 {
			continue
		}
		e := r.ends()
		switch r.Part {
		case base:
			f.Top, f.Middle = math.Min(f.Top, e[1]), math.Max(f.Middle, e[3])
		case to:
			f.Foot = math.Max(f.Foot, e[3])
		}
	}
	return f
}

// Band is a level strip of a fade: its outlines, and how far it has passed into the second colour,
// 0 to 1.
type Band struct {
	Part     int
	Passed   float64
	Outlines [][]Point
}

// Bands are a fade in so many level strips, half of them on each part.
func (p Piece) Bands(f Fading, n int) []Band {
	var out []Band
	for half, part := range []int{f.From, f.To} {
		top, foot := f.Top, f.Middle
		if half == 1 {
			top, foot = f.Middle, f.Foot
		}
		for i := range n / 2 {
			from, to := top+(foot-top)*float64(i)/float64(n/2), top+(foot-top)*float64(i+1)/float64(n/2)
			b := Band{Part: part, Passed: (float64(half) + (float64(i)+.5)/float64(n/2)) / 2}
			for _, r := range p.Regions {
				if r.Part != part {
					continue
				}
				_, below := r.level(from)
				if len(below) == 0 {
					continue
				}
				if up, _ := (Region{part, below}).level(to); len(up) > 0 {
					b.Outlines = append(b.Outlines, up)
				}
			}
			out = append(out, b)
		}
	}
	return out
}
