package value

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"lampfern/core/colour"
)

// Columns says what the three numbers of a recipe's rows change.
type Columns string

// The columns: hue in degrees, saturation and brightness in per cent of sRGB
// (HSB); or hue in degrees, chroma and lightness of CIELAB.
const (
	HSB Columns = "hsb"
	LCh Columns = "lch"
)

// Row is one step away from the middle colour: what is added to hue, to
// saturation or chroma, and to brightness or lightness, counted from the step
// before it.
type Row struct {
	Hue    float64 `json:"hue"`
	Purity float64 `json:"purity"` // saturation, or chroma
	Light  float64 `json:"light"`  // brightness, or lightness
}

// Recipe makes a ramp from one middle colour: rows toward the dark and rows
// toward the light, each outward from the middle.
type Recipe struct {
	Name    string  `json:"name"`
	Columns Columns `json:"columns"`
	Dark    []Row   `json:"dark"`
	Light   []Row   `json:"light"`
}

// Bounds of a recipe.
const (
	MaxRows  = 24 // on each side
	mostTurn = 360.0
	mostStep = 100.0
	seenOff  = 0.5 // ΔE00 from which being outside sRGB is told
)

// Check says in a sentence what cannot be.
func (r Recipe) Check() error {
	if r.Columns != HSB && r.Columns != LCh {
		return fmt.Errorf("the columns %q are not known: choose hsb or lch", r.Columns)
	}
	for side, rows := range map[string][]Row{"dark": r.Dark, "light": r.Light} {
		if len(rows) > MaxRows {
			return fmt.Errorf("the recipe has %d steps toward the %s: at most %d make steps that can be told apart", len(rows), side, MaxRows)
		}
		for i, row := range rows {
			if !(math.Abs(row.Hue) <= mostTurn && math.Abs(row.Purity) <= mostStep && math.Abs(row.Light) <= mostStep) {
				return fmt.Errorf("step %d toward the %s changes too much: hue by 360 at most, the others by 100", i+1, side)
			}
		}
	}
	return nil
}

// Recipes lists the recipes shipped.
func Recipes() []Recipe {
	rows := func(n int, r Row) []Row { return slices.Repeat([]Row{r}, n) }
	return []Recipe{
		{"Even ladder", LCh, rows(3, Row{0, 0, -14}), rows(3, Row{0, 0, 14})},
		{"Dusk and dawn", HSB, []Row{{8, 6, -14}, {10, 4, -15}, {12, 0, -16}}, []Row{{-6, -10, 9}, {-8, -9, 9}, {-8, -8, 9}}},
		{"Candle edge", HSB, []Row{{-4, 8, -12}, {-6, 6, -14}, {-8, 4, -16}}, []Row{{5, -6, 9}, {7, -9, 10}, {8, -9, 10}}},
		{"Quiet cloth", LCh, rows(3, Row{0, -4, -11}), rows(3, Row{0, -6, 11})},
		{"Deep well", LCh, []Row{{4, 2, -9}, {6, 0, -10}, {8, -4, -11}, {8, -8, -10}}, rows(2, Row{-3, -5, 12})},
		{"Long pale tail", HSB, rows(1, Row{0, 4, -18}), []Row{{0, -7, 7}, {0, -7, 7}, {0, -6, 7}, {0, -5, 6}, {0, -4, 6}}},
	}
}

// RampStep is one step of a ramp. Sum is the step's own hue, saturation or
// chroma, and brightness or lightness.
type RampStep struct {
	Colour  colour.Lab
	Sum     Row
	Trouble string // what was clamped and by how much, empty when nothing
}

// Ramp works a recipe out, dark to light, the middle colour among the steps.
// Hue wraps at 360; the rest stops at its bounds and the step says so. A colour
// outside sRGB is kept and told.
func (r Recipe) Ramp(middle colour.Lab) (steps []RampStep, at int) {
	start := r.Measure(middle)
	for _, s := range walk(r, start, r.Dark) {
		steps = append([]RampStep{s}, steps...)
	}
	at = len(steps)
	steps = append(steps, RampStep{Colour: middle, Sum: start})
	return append(steps, walk(r, start, r.Light)...), at
}

func walk(r Recipe, from Row, rows []Row) []RampStep {
	var out []RampStep
	for _, row := range rows {
		from = Row{from.Hue + row.Hue, from.Purity + row.Purity, from.Light + row.Light}
		out = append(out, r.step(from))
	}
	return out
}

// step clamps a sum and makes its colour. What was clamped is told; the sum
// goes on from where it would have been, so that a later step may come back.
func (r Recipe) step(sum Row) RampStep {
	s := RampStep{Sum: Row{math.Mod(math.Mod(sum.Hue, 360)+360, 360), sum.Purity, sum.Light}}
	purity, light := "saturation", "brightness"
	mostPurity := 100.0
	if r.Columns == LCh {
		purity, light, mostPurity = "chroma", "lightness", 128
	}
	var told []string
	clamp := func(name string, v *float64, most float64) {
		if held := math.Min(math.Max(*v, 0), most); held != *v {
			told = append(told, fmt.Sprintf("%s would be %.0f, limited to %.0f", name, *v, held))
			*v = held
		}
	}
	clamp(purity, &s.Sum.Purity, mostPurity)
	clamp(light, &s.Sum.Light, 100)
	s.Colour = r.Colour(s.Sum)
	if r.Columns == LCh {
		shown, _ := s.Colour.RGB()
		if off := colour.DeltaE2000(s.Colour, shown.Lab()); off >= seenOff {
			told = append(told, "outside what a screen can show")
		}
	}
	s.Trouble = strings.Join(told, "; ")
	return s
}

// Measure is a colour in the recipe's columns.
func (r Recipe) Measure(c colour.Lab) Row {
	if r.Columns == LCh {
		return Row{hue(c), c.Chroma(), c.L}
	}
	rgb, _ := c.RGB()
	most, least := max(rgb.R, rgb.G, rgb.B), min(rgb.R, rgb.G, rgb.B)
	d := most - least
	out := Row{Light: 100 * most}
	if most > 0 {
		out.Purity = 100 * d / most
	}
	if d > 0 {
		switch most {
		case rgb.R:
			out.Hue = 60 * (rgb.G - rgb.B) / d
		case rgb.G:
			out.Hue = 60 * (2 + (rgb.B-rgb.R)/d)
		default:
			out.Hue = 60 * (4 + (rgb.R-rgb.G)/d)
		}
		out.Hue = math.Mod(out.Hue+360, 360)
	}
	return out
}

// Colour is the colour of numbers in the recipe's columns.
func (r Recipe) Colour(s Row) colour.Lab {
	if r.Columns == LCh {
		sin, cos := math.Sincos(s.Hue * math.Pi / 180)
		return colour.Lab{L: s.Light, A: s.Purity * cos, B: s.Purity * sin}
	}
	v, k := s.Light/100, s.Purity/100
	channel := func(n float64) float64 { // the hexcone model, Smith 1978
		at := math.Mod(n+s.Hue/60, 6)
		return v - v*k*max(0, min(at, 4-at, 1))
	}
	return colour.RGB{R: channel(5), G: channel(3), B: channel(1)}.Lab()
}

// Shift moves a whole set of colours: Turn in degrees of OKLCh hue, Lighten in
// L*, Clear in per cent of chroma.
type Shift struct {
	Turn    float64 `json:"turn,omitempty"`
	Lighten float64 `json:"lighten,omitempty"`
	Clear   float64 `json:"clear,omitempty"`
}

// Tint is a shift of a* (red or green) and b* (yellow or blue), Lab units.
type Tint struct {
	Red    float64 `json:"red,omitempty"`
	Yellow float64 `json:"yellow,omitempty"`
}

// Balance shifts the colours of shadows, mid-tones and lights.
type Balance struct {
	Shadows Tint `json:"shadows"`
	Mids    Tint `json:"mids"`
	Lights  Tint `json:"lights"`
}

// weights are how much a lightness belongs to shadows, mid-tones and lights;
// they add up to 1 and change smoothly.
func weights(l float64) (shadow, mid, light float64) {
	smooth := func(from, to float64) float64 {
		t := math.Min(1, math.Max(0, (l-from)/(to-from)))
		return t * t * (3 - 2*t)
	}
	shadow, light = 1-smooth(15, 50), smooth(50, 85)
	return shadow, 1 - shadow - light, light
}

// Apply gives a colour shifted and balanced; L* stays within 0 to 100.
func Apply(c colour.Lab, s Shift, b Balance) colour.Lab {
	ok := c.OKLCh()
	if s.Turn != 0 || s.Clear != 0 {
		turned := colour.OKLCh{L: ok.L, C: ok.C * (1 + s.Clear/100), H: ok.H + s.Turn}.Lab()
		c = colour.Lab{L: c.L, A: turned.A, B: turned.B}
	}
	shadow, mid, light := weights(c.L)
	c.A += shadow*b.Shadows.Red + mid*b.Mids.Red + light*b.Lights.Red
	c.B += shadow*b.Shadows.Yellow + mid*b.Mids.Yellow + light*b.Lights.Yellow
	c.L = math.Min(100, math.Max(0, c.L+s.Lighten))
	return c
}

// Shifted gives a colour shifted and balanced, and what was clamped on the way and by how much; empty
// when nothing was.
func Shifted(c colour.Lab, s Shift, b Balance) (out colour.Lab, trouble string) {
	out = Apply(c, s, b)
	var told []string
	if want := c.L + s.Lighten; want < 0 || want > 100 {
		told = append(told, fmt.Sprintf("lightness would be %.0f, limited to %.0f", want, out.L))
	}
	if shown, _ := out.RGB(); s != (Shift{}) || b != (Balance{}) {
		if off := colour.DeltaE2000(out, shown.Lab()); off >= seenOff {
			told = append(told, "outside what a screen can show")
		}
	}
	return out, strings.Join(told, "; ")
}

// Same reports whether two recipes have the same numbers.
func (r Recipe) Same(o Recipe) bool {
	return r.Columns == o.Columns && slices.Equal(r.Dark, o.Dark) && slices.Equal(r.Light, o.Light)
}
