// Package balance reads what colours do in a piece: shares and roles, where
// the eye goes first, and the notes a practised friend would make.
//
// It knows shares, borders and colours by index; the shapes come from piece,
// the names from the caller.
package balance

import (
	"cmp"
	"math"
	"slices"
	"sort"

	"lampfern/core/colour"
	"lampfern/core/wheel"
	"lampfern/core/words"
)

// Layout is what a piece's parts are to one another. Share is area over the
// piece's area, 0 to 1; Border[i][j] the length along which i and j touch: in mm where
// Area, in mm², is above 0, else in any one unit.
type Layout struct {
	Share   []float64
	Border  [][]float64
	Outside []float64 // the length in mm of each part's edge that touches nothing; nil where sizes are not known
	Area    float64   // of the piece; 0 where sizes are not known
}

// Merge joins the parts that take the same colour: fill[i] is the colour index
// of part i, or −1 when it has none. Borders inside one colour vanish.
func (l Layout) Merge(fill []int, colours int) Layout {
	m := Layout{Share: make([]float64, colours), Border: make([][]float64, colours), Outside: make([]float64, colours), Area: l.Area}
	for i := range m.Border {
		m.Border[i] = make([]float64, colours)
	}
	for i, a := range fill {
		if a < 0 {
			continue
		}
		m.Share[a] += l.Share[i]
		if l.Outside != nil {
			m.Outside[a] += l.Outside[i]
		}
		for j, b := range fill {
			if b >= 0 && b != a {
				m.Border[a][b] += l.Border[i][j]
			}
		}
	}
	return m
}

// leastFirst orders colours by the room they have, the least first.
func (l Layout) leastFirst(of []int) []int {
	slices.SortStableFunc(of, func(a, b int) int { return cmp.Compare(l.Share[a], l.Share[b]) })
	return of
}

// Pull is how strongly one part draws the eye; only ratios mean anything.
type Pull struct {
	Part     int
	Pull     float64 // the product of those below
	Contrast float64 // ΔE00 to what it touches and to the rest
	Strength float64 // what its own colour makes of that
	Rare     float64 // 0 to 1
	Size     float64 // 0 to 1: under 1 where it is very small or thin
}

// reasonFrom is how many times as much a factor must be to be told as a reason.
const reasonFrom = 1.15

// Why says in words why one draws the eye more than another: the two factors that tell most.
func (p Pull) Why(other Pull) string {
	type reason struct {
		times float64
		words string
	}
	all := []reason{
		{p.Contrast / max(other.Contrast, 1e-9), "it contrasts more with its surroundings"},
		{p.Strength / max(other.Strength, 1e-9), "it is the stronger colour"},
		{p.Rare / max(other.Rare, 1e-9), "it is rarer"},
		{p.Size / max(other.Size, 1e-9), "the other is small or thin"},
	}
	all = slices.DeleteFunc(all, func(r reason) bool { return r.times < reasonFrom })
	slices.SortStableFunc(all, func(a, b reason) int { return cmp.Compare(b.times, a.times) })
	var said []string
	for _, r := range all[:min(2, len(all))] {
		said = append(said, r.words)
	}
	return words.List(said)
}

// Constants of the first-look reading, tried on painted scenes.
const (
	edgePart     = 0.4   // of the contrast that counts, the rest is to all other parts
	greyPull     = 0.3   // pull of a grey part relative to its contrast
	rareFrom     = 1.5   // self-information from which a colour is rare
	rareReach    = 25.0  // ΔE00 over which colours count as like
	smallShare   = 0.003 // below this share a part loses pull with its size
	thinFrom     = 0.03  // of the side of a square piece: thinner than this a part loses pull
	FocusClear   = 1.25  // the first must lead the second by this ratio
	RecedesBelow = 0.35  // a part under this share of the top recedes
)

// FirstLook orders the parts by pull, strongest first. Contrast is two fifths the
// mean ΔE00 across a part's borders and three fifths its area-weighted mean ΔE00 to
// the rest (after the region-contrast idea of saliency research), raised by the mean of
// C*ab/100 and force (chroma alone undersells a turquoise, force alone oversells a dark), and
// lowered for a colour that is common in the piece (self-information: Bruce and Tsotsos
// 2009), for what is very small, and, where sizes are known, for what is very thin. c
// holds one colour a part; parts that take one card are merged first.
func FirstLook(l Layout, c []colour.Lab) []Pull {
	apart := make([]float64, len(c)*len(c))
	for i := range c {
		for j := range i {
			de := colour.DeltaE2000(c[i], c[j])
			apart[i*len(c)+j], apart[j*len(c)+i] = de, de
		}
	}
	return firstLook(l, c, apart)
}

// strength is what a colour makes of its contrast.
func strength(c colour.Lab) float64 { return greyPull + (c.Chroma()/100+c.Force())/2 }

// firstLook is FirstLook where it is known how far apart the colours are, by rows.
func firstLook(l Layout, c []colour.Lab, apart []float64) []Pull {
	out := make([]Pull, len(c))
	for i := range c {
		var edge, edgeLength, rest, restShare float64
		alike := l.Share[i]
		for j := range c {
			if i == j {
				continue
			}
			de := apart[i*len(c)+j]
			edge += l.Border[i][j] * de
			edgeLength += l.Border[i][j]
			rest += l.Share[j] * de
			restShare += l.Share[j]
			alike += l.Share[j] * math.Exp(-(de/rareReach)*(de/rareReach))
		}
		contrast := 0.0
		if edgeLength > 0 {
			contrast += edgePart * edge / edgeLength
		}
		if restShare > 0 {
			contrast += (1 - edgePart) * rest / restShare
		}
		s := l.Share[i]
		one := Pull{Part: i, Contrast: contrast, Strength: strength(c[i]), Rare: math.Min(1, -math.Log(math.Min(1, alike))/rareFrom),
			Size: math.Min(1, math.Sqrt(s/smallShare))}
		if l.Outside != nil {
			edgeLength += l.Outside[i]
		}
		if l.Area > 0 && edgeLength > 0 {
			one.Size *= math.Min(1, 2*s*l.Area/edgeLength/(thinFrom*math.Sqrt(l.Area)))
		}
		one.Pull = one.Contrast * one.Strength * one.Rare * one.Size
		out[i] = one
	}
	sort.SliceStable(out, func(i, j int) bool { return out[i].Pull > out[j].Pull })
	return out
}

// Role is what a colour does in a piece.
type Role string

// The roles.
const (
	Ground     Role = "ground"
	Support    Role = "support"
	Accent     Role = "accent"
	Definition Role = "definition"
	Neutral    Role = "neutral"
	Unused     Role = "not used"
)

// AccentShare is the largest share an accent may take.
const AccentShare = 0.12

// Roles gives each colour its role: the largest share is the ground, the
// boldest of those up to 12 % the accent, the darkest thin one the definition;
// the rest are neutral or support. thin tells which colours fill only narrow
// shapes. Colours without a share are not placed.
func Roles(l Layout, c []colour.Lab, thin []bool) []Role {
	roles := make([]Role, len(c))
	best := func(ok func(i int) bool, more func(i, j int) bool) int {
		at := -1
		for i := range c {
			if roles[i] == "" && l.Share[i] > 0 && ok(i) && (at < 0 || more(i, at)) {
				at = i
			}
		}
		return at
	}
	set := func(i int, r Role) {
		if i >= 0 {
			roles[i] = r
		}
	}
	all := func(int) bool { return true }
	set(best(all, func(i, j int) bool { return l.Share[i] > l.Share[j] }), Ground)
	set(best(func(i int) bool { return thin[i] }, func(i, j int) bool { return c[i].L < c[j].L }), Definition)
	bold := Boldness(c)
	set(best(func(i int) bool { return l.Share[i] <= AccentShare }, func(i, j int) bool { return bold[i] > bold[j] }), Accent)
	for i := range roles {
		switch {
		case roles[i] != "":
		case l.Share[i] == 0:
			roles[i] = Unused
		case c[i].Neutral():
			roles[i] = Neutral
		default:
			roles[i] = Support
		}
	}
	return roles
}

// Boldness is C*ab/100 + |L* − median L*|/100 of each colour in its set.
func Boldness(c []colour.Lab) []float64 {
	if len(c) == 0 {
		return nil
	}
	ls := make([]float64, len(c))
	for i := range c {
		ls[i] = c[i].L
	}
	sort.Float64s(ls)
	median := (ls[(len(ls)-1)/2] + ls[len(ls)/2]) / 2
	out := make([]float64, len(c))
	for i := range c {
		out[i] = c[i].Chroma()/100 + math.Abs(c[i].L-median)/100
	}
	return out
}

// Temperatures adds up the warm, cool and neutral shares of the placed area, a print's by its colours.
func Temperatures(l Layout, cs []Colour, s wheel.School) map[wheel.Temperature]float64 {
	l, c := Spread(l, cs)
	sum, total := map[wheel.Temperature]float64{}, 0.0
	for i := range c {
		sum[s.Temperature(c[i])] += l.Share[i]
		total += l.Share[i]
	}
	if total > 0 {
		for k := range sum {
			sum[k] /= total
		}
	}
	return sum
}
