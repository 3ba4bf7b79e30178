package draw

import (
	"encoding/base64"
	"html"
	"math"
	"strconv"
	"strings"

	"lampfern/core/words"
)

// SVG writes the scene. On a page it scales with its box; on paper it carries
// its size in millimetres.
func (s Scene) SVG() string {
	w := &svgWriter{decimals: 1}
	if s.Millimetres {
		w.decimals, w.fixed = 3, true
	}
	w.raw(`<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 `)
	w.nums(s.Width, s.Height)
	w.raw(`"`)
	if s.Millimetres {
		w.attr("width", w.num(s.Width)+"mm")
		w.attr("height", w.num(s.Height)+"mm")
		w.attr("font-family", "Commissioner, sans-serif")
	}
	if s.Stretch {
		w.attr("preserveAspectRatio", "none")
	}
	if s.ID != "" {
		w.attr("id", s.ID)
	}
	if s.Key != "" {
		w.attr("data-key", s.Key)
	}
	w.attr("role", "group")
	w.attr("aria-label", s.Label)
	w.raw(">")
	for _, n := range s.Nodes {
		w.node(n)
	}
	w.raw("</svg>")
	return w.String()
}

type svgWriter struct {
	strings.Builder
	decimals int
	fixed    bool // each line of text says its width, which holds where the font is missing
}

func (w *svgWriter) raw(s string) { w.WriteString(s) }

func (w *svgWriter) num(v float64) string {
	p := math.Pow10(w.decimals)
	return strconv.FormatFloat(math.Round(v*p)/p+0, 'f', -1, 64)
}

func (w *svgWriter) nums(vs ...float64) {
	for i, v := range vs {
		if i > 0 {
			w.WriteByte(' ')
		}
		w.raw(w.num(v))
	}
}

func (w *svgWriter) attr(name, value string) {
	w.raw(" " + name + `="` + escaped(value) + `"`)
}

func (w *svgWriter) node(n Node) {
	switch n := n.(type) {
	case Group:
		w.raw("<g")
		if n.Class != "" {
			w.attr("class", n.Class)
		}
		for _, a := range n.Attributes {
			w.attr(a[0], a[1])
		}
		if n.Style != nil {
			w.style(*n.Style)
		}
		w.raw(">")
		for _, c := range n.Nodes {
			w.node(c)
		}
		w.raw("</g>")
	case Shape:
		w.raw(`<path d="`)
		w.path(n.Path)
		w.raw(`"`)
		w.style(n.Style)
		if n.Title == "" {
			w.raw("/>")
			return
		}
		w.raw("><title>" + escaped(n.Title) + "</title></path>")
	case Bitmap:
		w.raw("<image")
		w.attr("x", w.num(n.X))
		w.attr("y", w.num(n.Y))
		w.attr("width", w.num(n.Width))
		w.attr("height", w.num(n.Height))
		w.attr("preserveAspectRatio", "none")
		if n.Sharp {
			w.attr("style", "image-rendering:pixelated")
		}
		if n.Address != "" {
			w.attr("href", n.Address)
		} else {
			w.attr("href", "data:image/png;base64,"+base64.StdEncoding.EncodeToString(n.PNG))
		}
		w.raw("/>")
	case Pattern:
		w.pattern(n)
	case Mask:
		w.raw("<mask")
		w.attr("id", n.ID)
		w.raw(` style="mask-type:alpha" maskUnits="userSpaceOnUse" x="0" y="0" width="100%" height="100%">`)
		for _, c := range n.Nodes {
			w.node(c)
		}
		w.raw("</mask>")
	case Text:
		w.raw("<text")
		w.attr("x", w.num(n.At.X))
		w.attr("y", w.num(n.At.Y))
		w.attr("font-size", w.num(n.Size))
		if n.Bold {
			w.attr("font-weight", "700")
		}
		if n.Anchor != Start {
			w.attr("text-anchor", [...]string{"start", "middle", "end"}[n.Anchor])
		}
		if w.fixed && len(n.Words) > 1 {
			w.attr("textLength", w.num(measure(n.Words, n.Size, n.Bold)))
			w.attr("lengthAdjust", "spacingAndGlyphs")
		}
		if n.Class != "" {
			w.attr("class", n.Class)
		}
		w.attr("fill", paintText(n.Paint, "currentColor"))
		w.raw(">" + escaped(n.Words) + "</text>")
	}
}

func (w *svgWriter) pattern(p Pattern) {
	if len(p.Sheen) == 2 {
		w.raw("<linearGradient")
		w.attr("id", p.ID)
		w.raw(` gradientUnits="userSpaceOnUse" spreadMethod="reflect" x1="0" y1="0"`)
		w.attr("x2", w.num(p.Width/2))
		w.attr("y2", w.num(p.Height/2))
		w.raw(">")
		for i, at := range []string{"0.2", "0.9"} {
			w.raw(`<stop offset="` + at + `" stop-color="` + p.Sheen[i].Hex() + `"/>`)
		}
		w.raw("</linearGradient>")
		return
	}
	if len(p.Stops) > 0 {
		w.raw("<linearGradient")
		w.attr("id", p.ID)
		if p.Scale > 0 {
			w.attr("gradientTransform", "scale("+strconv.FormatFloat(p.Scale, 'g', 3, 64)+")")
		}
		w.raw(` gradientUnits="userSpaceOnUse" spreadMethod="reflect" x1="0" y1="0"`)
		w.attr("x2", w.num(p.Width))
		w.attr("y2", w.num(p.Height))
		w.raw(">")
		for _, s := range p.Stops {
			w.raw("<stop")
			w.attr("offset", strconv.FormatFloat(s.At, 'g', 3, 64))
			w.attr("stop-color", overPaint(s.Light))
			w.attr("stop-opacity", strconv.FormatFloat(math.Abs(s.Light), 'g', 3, 64))
			w.raw("/>")
		}
		w.raw("</linearGradient>")
		return
	}
	w.raw("<pattern")
	w.attr("id", p.ID)
	if p.Scale > 0 {
		w.attr("patternTransform", "scale("+strconv.FormatFloat(p.Scale, 'g', 3, 64)+")")
	}
	w.raw(` patternUnits="userSpaceOnUse"`)
	w.attr("width", w.num(p.Width))
	w.attr("height", w.num(p.Height))
	w.raw(">")
	for _, n := range p.Nodes {
		w.node(n)
	}
	w.raw("</pattern>")
}

func (w *svgWriter) path(p *Path) {
	for _, s := range p.segments {
		w.WriteByte(s.op)
		switch s.op {
		case 'M', 'L':
			w.nums(s.p[0].X, s.p[0].Y)
		case 'C':
			w.nums(s.p[0].X, s.p[0].Y, s.p[1].X, s.p[1].Y, s.p[2].X, s.p[2].Y)
		}
	}
}

func paintText(p Paint, ifNone string) string {
	switch p.kind {
	case paintInk:
		return "currentColor"
	case paintSolid:
		return p.rgb.Hex()
	case paintClear:
		return "transparent"
	case paintPattern:
		return "url(#" + p.id + ")"
	}
	return ifNone
}

// paint writes how something is filled or stroked.
func (w *svgWriter) paint(name string, p Paint) {
	if p.kind != paintLight {
		w.attr(name, paintText(p, "none"))
		return
	}
	w.attr(name, overPaint(p.light))
	w.attr(name+"-opacity", strconv.FormatFloat(math.Abs(p.light), 'g', 3, 64))
}

// overPaint is what lightens, or darkens.
func overPaint(light float64) string {
	if light < 0 {
		return "#000"
	}
	return "#fff"
}

func (w *svgWriter) style(s Style) {
	if s.Inherit {
		return
	}
	w.paint("fill", s.Fill)
	if s.Stroke.kind != paintNone {
		w.paint("stroke", s.Stroke)
		w.attr("stroke-width", w.num(s.Width))
	}
	if len(s.Dash) > 0 {
		var d []string
		for _, v := range s.Dash {
			d = append(d, w.num(v))
		}
		w.attr("stroke-dasharray", strings.Join(d, " "))
	}
	if s.Class != "" {
		w.attr("class", s.Class)
	}
}

// escaped is text as XML takes it.
func escaped(s string) string { return html.EscapeString(words.Clean(s)) }
