package draw

import (
	"bytes"
	"encoding/binary"
	"fmt"
	"hash/crc32"
	"image"
	"image/color"
	stddraw "image/draw"
	"image/png"
	"math"

	ximagedraw "golang.org/x/image/draw"
	"golang.org/x/image/font/sfnt"
	"golang.org/x/image/math/fixed"
	"golang.org/x/image/vector"
)

// PNGDots is how many dots an inch a picture in millimetres is made with.
const PNGDots = 300

// MostPixels bounds a picture.
const MostPixels = 60e6

// PNG rasterises a scene in millimetres at 300 dots an inch on white, with its
// true size in the file.
func PNG(s Scene) ([]byte, error) {
	const perMillimetre = PNGDots / 25.4
	w, h := int(math.Round(s.Width*perMillimetre)), int(math.Round(s.Height*perMillimetre))
	if w < 1 || h < 1 || float64(w)*float64(h) > MostPixels {
		return nil, fmt.Errorf("a picture of %d × %d dots cannot be made: choose fewer colours", w, h)
	}
	r := &raster{img: image.NewRGBA(image.Rect(0, 0, w, h)), k: perMillimetre}
	stddraw.Draw(r.img, r.img.Bounds(), image.White, image.Point{}, stddraw.Src)
	for _, n := range s.Nodes {
		if err := r.node(n); err != nil {
			return nil, err
		}
	}
	var b bytes.Buffer
	if err := png.Encode(&b, r.img); err != nil {
		return nil, fmt.Errorf("writing the picture: %w", err)
	}
	return trueSize(b.Bytes()), nil
}

// trueSize puts behind the header that the colours are sRGB's, and how many dots a metre has (PNG
// specification, sRGB and pHYs).
func trueSize(data []byte) []byte {
	const header = 8 + 25 // signature and IHDR
	out := append([]byte(nil), data[:header]...)
	put := func(name string, content []byte) {
		chunk := append([]byte(name), content...)
		out = binary.BigEndian.AppendUint32(out, uint32(len(content)))
		out = append(out, chunk...)
		out = binary.BigEndian.AppendUint32(out, crc32.ChecksumIEEE(chunk))
	}
	perMetre := uint32(math.Round(PNGDots / 0.0254))
	put("sRGB", []byte{0})                                                                                        // to be shown perceptually
	put("pHYs", append(binary.BigEndian.AppendUint32(binary.BigEndian.AppendUint32(nil, perMetre), perMetre), 1)) // the unit is the metre
	return append(out, data[header:]...)
}

// raster paints nodes; k is dots a unit of the scene.
type raster struct {
	img *image.RGBA
	k   float64
}

func (r *raster) node(n Node) error {
	switch n := n.(type) {
	case Group:
		for _, c := range n.Nodes {
			if err := r.node(c); err != nil {
				return err
			}
		}
	case Shape:
		lines := r.flatten(n.Path)
		if n.Style.Fill.onPaper() {
			r.fill(lines, n.Style.Fill)
		}
		if n.Style.Stroke.onPaper() {
			r.stroke(lines, n.Style)
		}
	case Bitmap:
		if len(n.PNG) == 0 {
			return nil
		}
		src, err := png.Decode(bytes.NewReader(n.PNG))
		if err != nil {
			return fmt.Errorf("reading a picture within the drawing: %w", err)
		}
		box := image.Rect(round(n.X*r.k), round(n.Y*r.k), round((n.X+n.Width)*r.k), round((n.Y+n.Height)*r.k))
		var scaler ximagedraw.Scaler = ximagedraw.CatmullRom
		if n.Sharp && src.Bounds().Dx() < box.Dx() {
			scaler = ximagedraw.NearestNeighbor
		}
		scaler.Scale(r.img, box, src, src.Bounds(), ximagedraw.Over, nil)
	case Text:
		return r.text(n)
	}
	return nil
}

func round(v float64) int { return int(math.Round(v)) }

// polyline is a flattened outline in dots.
type polyline struct {
	p      []Point
	closed bool
}

func (r *raster) flatten(path *Path) []polyline {
	var out []polyline
	at := func(p Point) Point { return Point{p.X * r.k, p.Y * r.k} }
	for _, s := range path.segments {
		switch s.op {
		case 'M':
			out = append(out, polyline{p: []Point{at(s.p[0])}})
		case 'L':
			last := &out[len(out)-1]
			last.p = append(last.p, at(s.p[0]))
		case 'C':
			last := &out[len(out)-1]
			a, b, c, d := last.p[len(last.p)-1], at(s.p[0]), at(s.p[1]), at(s.p[2])
			const pieces = 24
			for i := 1.0; i <= pieces; i++ {
				t := i / pieces
				u := 1 - t
				last.p = append(last.p, Point{u*u*u*a.X + 3*u*u*t*b.X + 3*u*t*t*c.X + t*t*t*d.X, u*u*u*a.Y + 3*u*u*t*b.Y + 3*u*t*t*c.Y + t*t*t*d.Y})
			}
		case 'Z':
			out[len(out)-1].closed = true
		}
	}
	return out
}

func (r *raster) fill(lines []polyline, p Paint) {
	a := newArea()
	for _, l := range lines {
		for _, q := range l.p {
			a.reach(q)
		}
	}
	box := a.within(r.img.Bounds())
	if box.Empty() {
		return
	}
	v := vector.NewRasterizer(box.Dx(), box.Dy())
	at := func(q Point) (float32, float32) {
		return float32(q.X - float64(box.Min.X)), float32(q.Y - float64(box.Min.Y))
	}
	for _, l := range lines {
		for i, q := range l.p {
			if x, y := at(q); i == 0 {
				v.MoveTo(x, y)
			} else {
				v.LineTo(x, y)
			}
		}
		v.ClosePath()
	}
	r.paint(v, box, p)
}

// area is the reach of an outline in dots.
type area struct{ left, top, right, bottom float64 }

func newArea() area {
	return area{math.Inf(1), math.Inf(1), math.Inf(-1), math.Inf(-1)}
}

func (a *area) reach(p Point) {
	a.left, a.right = math.Min(a.left, p.X), math.Max(a.right, p.X)
	a.top, a.bottom = math.Min(a.top, p.Y), math.Max(a.bottom, p.Y)
}

// within is the whole dots the area touches inside bounds.
func (a area) within(bounds image.Rectangle) image.Rectangle {
	if a.left > a.right {
		return image.Rectangle{}
	}
	return image.Rect(int(math.Floor(a.left)), int(math.Floor(a.top)), int(math.Ceil(a.right))+1, int(math.Ceil(a.bottom))+1).Intersect(bounds)
}

// paint covers what was outlined, within a box whose corner is the rasteriser's
// origin.
func (r *raster) paint(v *vector.Rasterizer, box image.Rectangle, p Paint) {
	var ink color.Color = lighter(p.light)
	if p.kind != paintLight {
		red, green, blue := channels(p)
		ink = color.RGBA{uint8(red), uint8(green), uint8(blue), 255}
	}
	v.Draw(r.img, box, image.NewUniform(ink), image.Point{})
}

// stroke paints each piece of a line as a bar of its own.
func (r *raster) stroke(lines []polyline, s Style) {
	half := math.Max(0.5, s.Width*r.k/2)
	var bars []polyline
	for _, l := range lines {
		pts := l.p
		if l.closed {
			pts = append(append([]Point(nil), pts...), pts[0])
		}
		for _, seg := range dashed(pts, s.Dash, r.k) {
			a, b := seg[0], seg[1]
			n := math.Hypot(b.X-a.X, b.Y-a.Y)
			if n == 0 {
				continue
			}
			dx, dy := (b.X-a.X)/n*half, (b.Y-a.Y)/n*half
			bars = append(bars, polyline{p: []Point{{a.X + dy, a.Y - dx}, {b.X + dy, b.Y - dx}, {b.X - dy, b.Y + dx}, {a.X - dy, a.Y + dx}}})
		}
	}
	r.fill(bars, s.Stroke)
}

// dashed cuts a line into the pieces that are drawn.
func dashed(p []Point, dash []float64, k float64) [][2]Point {
	var out [][2]Point
	on, part, left := true, 0, math.Inf(1)
	if len(dash) > 0 {
		left = dash[0] * k
	}
	for i := 1; i < len(p); i++ {
		a, b := p[i-1], p[i]
		for {
			n := math.Hypot(b.X-a.X, b.Y-a.Y)
			if n <= left {
				if on {
					out = append(out, [2]Point{a, b})
				}
				left -= n
				break
			}
			c := Point{a.X + (b.X-a.X)*left/n, a.Y + (b.Y-a.Y)*left/n}
			if on {
				out = append(out, [2]Point{a, c})
			}
			a, on, part = c, !on, part+1
			left = math.Max(0.01, dash[part%len(dash)]*k)
		}
	}
	return out
}

func (r *raster) text(t Text) error {
	fonts, err := parsed()
	if err != nil {
		return err
	}
	f := fonts[0]
	if t.Bold {
		f = fonts[1]
	}
	words := printable(t.Words)
	x, y := t.At.X*r.k, t.At.Y*r.k
	switch t.Anchor {
	case Middle:
		x -= measure(words, t.Size, t.Bold) * r.k / 2
	case End:
		x -= measure(words, t.Size, t.Bold) * r.k
	}
	size := t.Size * r.k
	a := newArea()
	a.reach(Point{x - size, y - 1.3*size})
	a.reach(Point{x + measure(words, t.Size, t.Bold)*r.k + size, y + 0.5*size})
	box := a.within(r.img.Bounds())
	if box.Empty() {
		return nil
	}
	v := vector.NewRasterizer(box.Dx(), box.Dy())
	x, y = x-float64(box.Min.X), y-float64(box.Min.Y)
	var buf sfnt.Buffer
	ppem := fixed.Int26_6(math.Round(size * 64))
	for _, ch := range words {
		g, err := f.GlyphIndex(&buf, ch)
		if err != nil {
			return fmt.Errorf("setting %q: %w", ch, err)
		}
		segs, err := f.LoadGlyph(&buf, g, ppem, nil)
		if err != nil {
			return fmt.Errorf("setting %q: %w", ch, err)
		}
		at := func(p fixed.Point26_6) (float32, float32) {
			return float32(x + float64(p.X)/64), float32(y + float64(p.Y)/64)
		}
		for _, s := range segs {
			ax, ay := at(s.Args[0])
			bx, by := at(s.Args[1])
			cx, cy := at(s.Args[2])
			switch s.Op {
			case sfnt.SegmentOpMoveTo:
				v.ClosePath()
				v.MoveTo(ax, ay)
			case sfnt.SegmentOpLineTo:
				v.LineTo(ax, ay)
			case sfnt.SegmentOpQuadTo:
				v.QuadTo(ax, ay, bx, by)
			case sfnt.SegmentOpCubeTo:
				v.CubeTo(ax, ay, bx, by, cx, cy)
			}
		}
		v.ClosePath()
		x += measure(string(ch), t.Size, t.Bold) * r.k
	}
	r.paint(v, box, t.Paint)
	return nil
}
