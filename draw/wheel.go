package draw

import (
	"fmt"
	"math"
	"strings"

	"lampfern/core/colour"
)

// WheelPicture is what the fern wheel shows.
type WheelPicture struct {
	Light  Light
	Fronds []WheelFrond
	Lit    []LitPlace
	Lead   *colour.Lab // nil when no lead colour is chosen
	// LeadName and LeadLeaf mark the lead colour: its name, and its frond and
	// leaflet, −1 when it has none.
	LeadName            string
	LeadFrond, LeadLeaf int
	// Key names the fronds as they are; with Same the page has them already and
	// only their group is written, empty.
	Key  string
	Same bool
	// Still is a wheel to look at only: its fronds are no buttons.
	Still bool
	// WarmFrom and WarmSpan are the warm half, in places clockwise; no span, no
	// halves.
	WarmFrom, WarmSpan float64
}

// WheelFrond is one place of the wheel; leaflets come in pairs from dark to
// light, greyed before clear.
type WheelFrond struct {
	Name     string
	Leaflets []WheelLeaflet
}

// WheelLeaflet is filled with the colour owned, or outlined with the ideal. A
// shaded one lies outside the brief.
type WheelLeaflet struct {
	Ideal  colour.Lab
	Owned  *colour.Lab
	Title  string
	Shaded bool
}

// LitPlace is a place that the scheme lights, in twelfths from the top. One that
// is off only shows where it would be.
type LitPlace struct {
	Place float64
	Lead  bool
	Off   bool
}

// Sizes of the fern wheel, in pixels of its own picture.
const (
	wheelWidth, wheelHeight = 664.0, 606.0
	frondInner, frondOuter  = 50.0, 256.0
	wedgeInner, wedgeOuter  = 44.0, 268.0
	labelAt                 = 276.0
	hubRadius               = 31.0
	halvesRadius            = 39.0
	leafBend                = 8.0 // degrees a frond turns from its foot to its tip
)

var wheelCentre = Point{wheelWidth / 2, wheelHeight/2 + 2}

// polar is the point at an angle in degrees clockwise from the top.
func polar(angle, r float64) Point {
	s, c := math.Sincos(angle * math.Pi / 180)
	return Point{wheelCentre.X + r*s, wheelCentre.Y - r*c}
}

// onStem is a point of a frond's bent stem and the stem's direction there.
func onStem(angle, r float64) (Point, float64) {
	bend := func(r float64) float64 {
		t := (r - frondInner) / (frondOuter - frondInner)
		return angle + leafBend*(t*t-0.5)
	}
	p, q := polar(bend(r), r), polar(bend(r+1), r+1)
	return p, math.Atan2(q.X-p.X, p.Y-q.Y) * 180 / math.Pi
}

// leaf is a pointed leaf from base in a direction, clockwise from up.
func leaf(base Point, direction, length, width float64) *Path {
	s, c := math.Sincos(direction * math.Pi / 180)
	at := func(along, across float64) Point {
		return Point{base.X + along*s + across*c, base.Y - along*c + across*s}
	}
	p := &Path{}
	p.MoveTo(base)
	p.CurveTo(at(0.22*length, -0.62*width), at(0.66*length, -0.58*width), at(length, 0))
	p.CurveTo(at(0.66*length, 0.42*width), at(0.22*length, 0.50*width), base)
	return p.Close()
}

// Wheel draws the fern wheel: twelve fronds of the shelf's own colours with
// the scheme's light behind them and the lead colour at the hub.
func Wheel(w WheelPicture) Scene {
	s := Scene{Width: wheelWidth, Height: wheelHeight, ID: "fern", Label: "Fern wheel: your shelf on the twelve places of the colour wheel"}
	light := Group{Class: "light", Attributes: [][2]string{{"id", "light"}, {"data-cx", fmt.Sprint(wheelCentre.X)},
		{"data-cy", fmt.Sprint(wheelCentre.Y)}}}
	for _, l := range w.Lit {
		switch {
		case l.Off:
			light.Nodes = append(light.Nodes, Shape{Path: wedge(30 * l.Place), Style: Style{Fill: None, Stroke: Ink, Width: 1, Dash: []float64{3, 4},
				Class: "lit-off"}})
		case !l.Lead:
			light.Nodes = append(light.Nodes, Shape{Path: wedge(30 * l.Place), Style: Style{Fill: Ink, Class: "lit"}})
		}
	}
	for _, l := range w.Lit { // last, so that its outline lies on top
		if l.Lead && !l.Off {
			light.Nodes = append(light.Nodes, Shape{Path: wedge(30 * l.Place), Style: Style{Fill: Ink, Stroke: Ink, Width: 1.5, Class: "lit lead"}})
		}
	}
	s.Add(light)
	fronds := Group{Class: "fronds", Attributes: [][2]string{{"data-key", w.Key}, {"data-lit", litPlaces(w.Lit)}}}
	if w.Same {
		fronds.Attributes = append(fronds.Attributes, [2]string{"data-same", "1"})
	} else {
		for i, f := range w.Fronds {
			fronds.Nodes = append(fronds.Nodes, frond(w, i, f))
		}
	}
	s.Add(fronds)
	if w.WarmSpan > 0 {
		const thick, thin = 3.0, 0.8
		halves := Group{Class: "halves"}
		halves.Nodes = append(halves.Nodes,
			Shape{Path: arc(30*w.WarmFrom, 30*w.WarmSpan, halvesRadius), Style: Style{Stroke: Ink, Width: thick, Class: "warm-half"},
				Title: "The warm half"},
			Shape{Path: arc(30*(w.WarmFrom+w.WarmSpan), 30*(12-w.WarmSpan), halvesRadius),
				Style: Style{Stroke: Ink, Width: thin, Class: "cool-half"}, Title: "The cool half"})
		s.Add(halves)
	}
	hub := Style{Fill: None, Stroke: Ink, Width: 1.2, Class: "hub"}
	title := "No lead colour is chosen"
	if w.Lead != nil {
		rgb, _ := w.Light.Show(*w.Lead)
		hub.Fill, title = Solid(rgb), "Lead colour: "+w.LeadName
	}
	s.Add(Shape{Path: Circle(wheelCentre, hubRadius), Style: hub, Title: title})
	return s
}

// litPlaces names the fronds that lie in a light, as words of an attribute the
// style sheet goes by.
func litPlaces(lit []LitPlace) string {
	var words []string
	for i := range 12 {
		for _, l := range lit {
			if l.Off {
				continue
			}
			if d := math.Abs(math.Mod(l.Place-float64(i)+18, 12) - 6); d <= 0.5 {
				words = append(words, fmt.Sprint(i))
				break
			}
		}
	}
	return strings.Join(words, " ")
}

// arc is an open arc, clockwise, of angles in degrees.
func arc(from, span, r float64) *Path {
	const step = 5.0
	p := (&Path{}).MoveTo(polar(from, r))
	for a := step; a < span; a += step {
		p.LineTo(polar(from+a, r))
	}
	return p.LineTo(polar(from+span, r))
}

func wedge(angle float64) *Path {
	p := &Path{}
	const half, step = 15.0, 5.0
	p.MoveTo(polar(angle-half, wedgeInner))
	for a := -half; a <= half; a += step {
		p.LineTo(polar(angle+a, wedgeOuter))
	}
	for a := half; a >= -half; a -= step {
		p.LineTo(polar(angle+a, wedgeInner))
	}
	return p.Close()
}

func frond(w WheelPicture, i int, f WheelFrond) Group {
	angle := 30 * float64(i)
	owned := 0
	for _, l := range f.Leaflets {
		if l.Owned != nil {
			owned++
		}
	}
	g := Group{Class: "frond", Attributes: [][2]string{{"data-place", fmt.Sprint(i)}, {"id", fmt.Sprintf("frond-%d", i)}, {"role", "img"},
		{"aria-label", fmt.Sprintf("%s: %d of %d leaflets filled.", f.Name, owned, len(f.Leaflets))}}}
	if !w.Still {
		g.Attributes = [][2]string{g.Attributes[0], g.Attributes[1], {"tabindex", "0"}, {"role", "button"},
			{"aria-label", g.Attributes[3][1] + " Turn the light here."}}
	}
	g.Nodes = append(g.Nodes, Shape{Path: wedge(angle), Style: Style{Fill: Clear, Class: "reach"}})
	stem := &Path{}
	const pieces = 12
	for k := range pieces + 1 {
		p, _ := onStem(angle, frondInner+(frondOuter-14-frondInner)*float64(k)/pieces)
		if k == 0 {
			stem.MoveTo(p)
		} else {
			stem.LineTo(p)
		}
	}
	g.Nodes = append(g.Nodes, Shape{Path: stem, Style: Style{Stroke: Ink, Width: 0.7, Class: "stem"}})
	for j, l := range f.Leaflets {
		step, side := float64(j/2), float64(2*(j%2)-1)
		base, dir := onStem(angle, 58+41.5*step)
		path := leaf(base, dir+side*(44-3*step), 21+7.2*step, 9.5+3.4*step)
		st := Style{Stroke: Ink, Width: 0.8, Class: "leaf owned"}
		show := l.Ideal
		if l.Owned != nil {
			show = *l.Owned
		}
		rgb, _ := w.Light.Show(show)
		if l.Owned != nil {
			st.Fill = Solid(rgb)
			if i == w.LeadFrond && j == w.LeadLeaf {
				st.Width, st.Class = 2.6, "leaf owned is-lead"
			}
		} else {
			st = Style{Fill: Clear, Stroke: Solid(rgb), Width: 1, Class: "leaf wanted"}
		}
		if l.Shaded {
			st.Class += " shaded"
		}
		g.Nodes = append(g.Nodes, Shape{Path: path, Style: st, Title: l.Title})
	}
	at := polar(angle+2, labelAt)
	t := Text{At: Point{at.X, at.Y + 4}, Words: strings.ToUpper(f.Name[:1]) + f.Name[1:], Size: 13, Paint: Ink, Anchor: Middle}
	switch x := math.Sin((angle + 2) * math.Pi / 180); {
	case x > 0.2:
		t.Anchor = Start
	case x < -0.2:
		t.Anchor = End
	case i == 0:
		t.At.Y -= 8
	default:
		t.At.Y += 9
	}
	// At the sides there is room for two short lines and not for one long.
	if first, second, two := strings.Cut(t.Words, "-"); two && i%6 == 3 {
		g.Nodes = append(g.Nodes, Text{At: Point{t.At.X, t.At.Y - 8}, Words: first + "-", Size: t.Size, Paint: Ink, Anchor: t.Anchor,
			Class: "first-line"})
		t.At.Y, t.Words = t.At.Y+8, second
	}
	g.Nodes = append(g.Nodes, t)
	return g
}
