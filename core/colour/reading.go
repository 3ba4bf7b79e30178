package colour

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"
	"sync"
)

// Value is the maker's lightness scale: L*/10, 0 (black) to 10 (white).
func (c Lab) Value() float64 { return math.Round(c.L) / 10 }

// Check says in plain words what is wrong with a CIELAB colour that no
// material can have: lightness outside 0–100 or a, b outside ±128.
func (c Lab) Check() error {
	switch {
	case !(c.L >= 0 && c.L <= 100): // written so that NaN fails too
		return fmt.Errorf("lightness L is %g: it must be between 0 and 100", c.L)
	case !(math.Abs(c.A) <= 128):
		return fmt.Errorf("a is %g: it must be between −128 and 128", c.A)
	case !(math.Abs(c.B) <= 128):
		return fmt.Errorf("b is %g: it must be between −128 and 128", c.B)
	}
	return nil
}

// Chroma limits, in C*ab, below which a colour counts as neutral or nearly so.
const (
	NeutralBelow     = 6.0
	NearNeutralBelow = 12.0
)

// Chroma is C*ab.
func (c Lab) Chroma() float64 { return math.Hypot(c.A, c.B) }

// Neutral reports whether the colour has too little chroma to have a place on
// a wheel.
func (c Lab) Neutral() bool { return c.Chroma() < NeutralBelow }

// Clearness limits: at or above ClearFrom a colour is clear, below GreyedBelow
// it is greyed, between them soft.
const (
	ClearFrom   = 0.70
	GreyedBelow = 0.35
)

// Clearness is the OKLCh chroma as a share of the most that sRGB holds at the
// same lightness and hue: 0 (grey) to 1, and above 1 outside sRGB. Near white and near
// black that says nothing: a near-neutral is never clear.
func (c Lab) Clearness() float64 {
	ok := c.OKLCh()
	limit := MaxChroma(ok.L, ok.H)
	if limit <= 1e-3 {
		return 0
	}
	share := ok.C / limit
	if ch := c.Chroma(); ch < NearNeutralBelow {
		return math.Min(share, (ClearFrom-0.01)*ch/NearNeutralBelow)
	}
	return share
}

// Force is how strong a colour is beside others of its hue: the OKLCh chroma as a share of
// the most that sRGB holds of that hue at any lightness, so that a pale yellow does not
// weigh like a pure one. 0 (grey) to 1, and above 1 outside sRGB.
func (c Lab) Force() float64 {
	ok := c.OKLCh()
	if ok.C < 1e-9 {
		return 0
	}
	all := cusps()
	h := math.Mod(ok.H+360, 360)
	at, _ := slices.BinarySearchFunc(all, h, func(p cusp, h float64) int { return cmp.Compare(p.h, h) })
	after, before := all[at%len(all)], all[(at+len(all)-1)%len(all)]
	span, way := math.Mod(after.h-before.h+360, 360), math.Mod(h-before.h+360, 360)
	most := after.c
	if span > 0 {
		most = before.c + (after.c-before.c)*way/span
	}
	return ok.C / most
}

// cusp is the strongest colour that sRGB holds of a hue.
type cusp struct{ h, c float64 }

// cusps are the strongest colours of all hues, by hue: they lie on the edges of the RGB
// cube from red by yellow, green, blue-green, blue and magenta back.
var cusps = sync.OnceValue(func() (out []cusp) {
	corners := [7]RGB{{1, 0, 0}, {1, 1, 0}, {0, 1, 0}, {0, 1, 1}, {0, 0, 1}, {1, 0, 1}, {1, 0, 0}}
	const steps = 128
	for i, from := range corners[:6] {
		to := corners[i+1]
		for n := range steps {
			f := float64(n) / steps
			ok := RGB{from.R + f*(to.R-from.R), from.G + f*(to.G-from.G), from.B + f*(to.B-from.B)}.Lab().OKLCh()
			out = append(out, cusp{math.Mod(ok.H+360, 360), ok.C})
		}
	}
	slices.SortFunc(out, func(a, b cusp) int { return cmp.Compare(a.h, b.h) })
	return out
})

// ClearnessWord names a clearness: clear, soft or muted.
func ClearnessWord(clearness float64) string {
	switch {
	case clearness >= ClearFrom:
		return "clear"
	case clearness >= GreyedBelow:
		return "soft"
	}
	return "muted"
}

// hueNames are the six plain hues by OKLCh angle, used to say which way a
// colour leans and for undertones. Source: the pigment wheel's anchors.
var hueNames = [...]struct {
	name FamilyName
	h    float64
}{{Yellow, 97}, {Orange, 52}, {Red, 23}, {Violet, 305}, {Blue, 260}, {Green, 154}}

// Bounds of navy and olive.
const (
	navyFrom, navyTo = 235.0, 290.0 // degrees of OKLCh
	navyLightness    = 30.0         // L*
	basicChroma      = 40.0         // C*ab
)

// Basic reports whether a colour serves a wardrobe as a neutral does: a neutral or near-neutral, a
// navy, or an olive.
func (c Lab) Basic() bool {
	ok := c.OKLCh()
	switch {
	case c.Chroma() < NearNeutralBelow:
		return true
	case c.Chroma() >= basicChroma:
		return false
	}
	return c.L < navyLightness && ok.H >= navyFrom && ok.H <= navyTo || Family(c) == Olive
}

// Undertone is the hue family a neutral or near-neutral turns toward; empty
// when the colour has no hue to speak of (C*ab under 1).
func (c Lab) Undertone() FamilyName {
	if c.Chroma() < 1 {
		return ""
	}
	return nearestHue(c.OKLCh().H)
}

func nearestHue(h float64) FamilyName {
	best, name := 360.0, FamilyName("")
	for _, n := range hueNames {
		if d := math.Abs(HueBetween(n.h, h)); d < best {
			best, name = d, n.name
		}
	}
	return name
}

// centreHues are the OKLCh hues in the middle of the families that have one.
var centreHues = map[FamilyName]float64{Yellow: 97, Orange: 52, Tan: 77, Brown: 54, Red: 25, Pink: 3, Violet: 308, Blue: 253,
	BlueGreen: 193, Green: 148, Olive: 110}

// leanFrom is how far, in degrees, a hue must lie from its family's middle
// before it leans.
const leanFrom = 9.0

// Lean is the plain hue that a colour turns toward within its own family:
// "a green that leans blue". Empty when it leans nowhere or has no hue.
func (c Lab) Lean() FamilyName {
	middle, ok := centreHues[Family(c)]
	if !ok || c.Neutral() {
		return ""
	}
	turn := HueBetween(middle, c.OKLCh().H)
	if math.Abs(turn) < leanFrom {
		return ""
	}
	return toward(middle, turn)
}

// TurnsToward is the plain hue that b turns toward seen from a: the first met
// when going from a's hue to b's and on. Neither may be neutral.
func TurnsToward(a, b Lab) FamilyName {
	from := a.OKLCh().H
	return toward(from, HueBetween(from, b.OKLCh().H))
}

// passed is how far beyond a plain hue a colour no longer turns toward it, in degrees.
const passed = 15.0

// LeavesFor is the plain hue that b turns toward seen from a, that is not a's own family,
// and that b has not left behind: a blue-green leaves green for blue, a raisin blue-violet
// for red.
func LeavesFor(a, b Lab) FamilyName {
	from := a.OKLCh().H
	turn := HueBetween(from, b.OKLCh().H)
	name := toward(from, turn)
	for _, n := range hueNames {
		if n.name == name && (name == Family(a) || math.Abs(turn)-math.Abs(HueBetween(from, n.h)) > passed) {
			return toward(n.h, turn)
		}
	}
	return name
}

// ownHue is how near a plain hue lies to a colour to be the colour's own, in degrees.
const ownHue = 35.0

// PlainBeside is the plain hue of b, or, where that is a's own too, the next one beyond it:
// a raisin among blue-violets is red, and not violet. Empty where b has no hue.
func PlainBeside(a, b Lab) FamilyName {
	name, from := b.Undertone(), a.OKLCh().H
	for _, n := range hueNames {
		if n.name == name && (name == Family(a) || math.Abs(HueBetween(from, n.h)) < ownHue) && !a.Neutral() {
			return toward(n.h, HueBetween(from, b.OKLCh().H))
		}
	}
	return name
}

// toward names the first plain hue met when turning from hue a by signed turn.
func toward(a, turn float64) FamilyName {
	best, name := 360.0, FamilyName("")
	for _, n := range hueNames {
		d := HueBetween(a, n.h)
		if turn < 0 {
			d = -d
		}
		if d < 8 { // already there, or behind
			d += 360
		}
		if d < best {
			best, name = d, n.name
		}
	}
	return name
}

// WarmPole is the OKLCh hue, in degrees, that counts as warmest.
const WarmPole = 55.0

// Reading tells how colour A looks beside colour B.
type Reading struct {
	Lighter float64    // value steps by which A is lighter; negative when darker
	Warmer  float64    // degrees by which A lies nearer the warm pole; 0 when either is neutral
	Clearer float64    // C*ab by which A is clearer; negative when greyer
	Turn    float64    // signed degrees of OKLCh hue from B to A
	Leans   FamilyName // the family A turns toward, seen from B; empty when neither way
	Apart   float64    // ΔE00
}

// Thresholds below which Beside says nothing of a direction.
const (
	valueStepSeen = 0.2
	hueTurnSeen   = 4.0
	hueTurnFar    = 60.0 // beyond this a colour is another hue, not a lean
	chromaSeen    = 3.0
)

// Beside reads A beside B.
func Beside(a, b Lab) Reading {
	r := Reading{Lighter: (a.L - b.L) / 10, Clearer: a.Chroma() - b.Chroma(), Apart: DeltaE2000(a, b)}
	if !a.Neutral() && !b.Neutral() {
		ha, hb := a.OKLCh().H, b.OKLCh().H
		r.Turn = HueBetween(hb, ha)
		r.Warmer = math.Abs(HueBetween(WarmPole, hb)) - math.Abs(HueBetween(WarmPole, ha))
		if math.Abs(r.Turn) >= hueTurnSeen {
			r.Leans = LeavesFor(b, a)
		}
	}
	return r
}

// Temperature is warmer or cooler; empty where neither can be told.
func (r Reading) Temperature() string {
	switch {
	case r.Warmer >= hueTurnSeen:
		return "warmer"
	case r.Warmer <= -hueTurnSeen:
		return "cooler"
	}
	return ""
}

// Short names the one difference that is seen most: in value, in hue or in clearness.
func (r Reading) Short() string {
	word := func(v float64, more, less string) string {
		if v < 0 {
			return less
		}
		return more
	}
	switch value, hue, clear := math.Abs(r.Lighter)*10, math.Abs(r.Turn)/2, math.Abs(r.Clearer); {
	case value >= hue && value >= clear:
		return fmt.Sprintf("%.1f steps %s", math.Abs(r.Lighter), word(r.Lighter, "lighter", "darker"))
	case hue >= clear:
		return "another hue"
	}
	return word(r.Clearer, "clearer", "softer")
}

// much is from where a difference in chroma is called much.
const much = 20.0

// Words says the reading plainly: "0.6 steps lighter, slightly cooler, softer. Different side by side (ΔE 6.9)."
// What is the same is not said, unless all of it is.
func (r Reading) Words() string {
	var parts []string
	if v := math.Abs(r.Lighter); v >= valueStepSeen {
		parts = append(parts, fmt.Sprintf("%.1f steps %s", v, map[bool]string{true: "lighter", false: "darker"}[r.Lighter > 0]))
	}
	switch word := r.Temperature(); {
	case math.Abs(r.Turn) > hueTurnFar && r.Leans != "":
		parts = append(parts, strings.TrimSuffix("another hue, "+word, ", "))
	case word != "" && math.Abs(r.Warmer) < 10:
		parts = append(parts, "slightly "+word)
	case word != "":
		parts = append(parts, word)
	case math.Abs(r.Turn) >= hueTurnSeen && r.Leans != "":
		parts = append(parts, "leaning "+string(r.Leans))
	}
	if c := math.Abs(r.Clearer); c >= chromaSeen {
		word := map[bool]string{true: "clearer", false: "softer"}[r.Clearer > 0]
		if c >= much {
			word = "much " + word
		}
		parts = append(parts, word)
	}
	if parts == nil {
		parts = []string{"the same value and clearness"}
	}
	return fmt.Sprintf("%s. %s.", strings.Join(parts, ", "), Apart(r.Apart))
}
