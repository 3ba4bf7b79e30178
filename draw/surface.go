package draw

import (
	"bytes"
	"encoding/base64"
	"fmt"
	"image"
	"image/color"
	stddraw "image/draw"
	"image/jpeg"
	"math"

	ximagedraw "golang.org/x/image/draw"
	"golang.org/x/image/vector"

	"lampfern/core/colour"
	"lampfern/core/piece"
)

// Surface is what a material shows beside one flat colour; the zero value is
// nothing.
type Surface struct {
	Picture string      // address of a picture of a print
	JPEG    []byte      // the picture itself, for paper
	Wide    float64     // what the picture measures across, mm
	High    float64     // and down
	Flash   *colour.Lab // where a metallic or shimmering surface catches the light
	Stitch  bool        // it is yarn, and the piece is worked in stitches
	Finish  string      // such as gloss; empty or matte for none that is seen
}

// seenFinish is the finish where nothing else shows the surface already.
func (f Surface) seenFinish() string {
	if f.Picture != "" || f.JPEG != nil || f.Flash != nil {
		return ""
	}
	return f.Finish
}

// stitched reports whether stitches of a size in units of the scene are seen on it.
func (f Surface) stitched(wide, high float64) bool {
	return f.Stitch && f.Picture == "" && f.JPEG == nil && f.Flash == nil && wide >= leastTile && high >= leastTile
}

// Sizes of the surfaces drawn on a piece, in units of the scene.
const (
	sheenWide = 0.35 // of the piece's longer side
	leastTile = 3.0  // a finer texture would only be grey
)

// Stop is a place of a sheen, 0 to 1 along it, and how much it lightens there, −1 to 1; less
// than 0 darkens.
type Stop struct{ At, Light float64 }

// How much the grains of a surface lighten and darken.
const bright, light, faintDark, dark = .5, .14, -.08, -.2

// finishes are how surfaces are told apart in a drawing: by sheens, which run over the whole piece
// as the light on it would, and by grains. Each lightens about as much as it darkens, so that the
// colour stays. Matte has none.
var finishes = map[string]Pattern{
	"satin": {Stops: []Stop{{0, -.1}, {.3, .05}, {.5, .15}, {.7, .05}, {1, -.12}}, Width: 640, Height: 420},
	"gloss": {Stops: []Stop{{0, -.12}, {.44, -.06}, {.47, .42}, {.53, .42}, {.56, 0}, {.62, .16}, {.66, 0}, {1, -.12}}, Width: 560,
		Height: 360},
	"metallic": {Stops: []Stop{{0, -.3}, {.22, .05}, {.38, .42}, {.5, .1}, {.72, -.28}, {.86, .2}, {1, -.3}}, Width: 300, Height: 190},
	"shimmer": grain(26, []float64{4, 5, 1.6, bright, 17, 9, 1.1, bright, 10, 19, 1.8, bright, 22, 22, 1, bright, 13, 3, 1.2, dark,
		3, 14, 1.4, dark, 20, 15, 1.2, dark}),
	"translucent": {Width: 16, Height: 16, Nodes: []Node{
		Shape{Path: Polygon(Point{13, 0}, Point{16, 0}, Point{3, 16}, Point{0, 16}), Style: Style{Fill: Lighten(light)}},
		Shape{Path: Polygon(Point{0, 0}, Point{3, 0}, Point{16, 13}, Point{16, 16}), Style: Style{Fill: Lighten(faintDark)}}}},
	"fuzzy": hairs(),
}

// grain is a pattern of specks: across, down, radius and how much each lightens.
func grain(side float64, specks []float64) Pattern {
	p := Pattern{Width: side, Height: side}
	for i := 0; i+3 < len(specks); i += 4 {
		p.Nodes = append(p.Nodes, Shape{Path: Circle(Point{specks[i], specks[i+1]}, specks[i+2]), Style: Style{Fill: Lighten(specks[i+3])}})
	}
	return p
}

// hairs are short fine lines this way and that.
func hairs() Pattern {
	p := Pattern{Width: 30, Height: 30}
	for i, at := range []Point{{3, 4}, {12, 2}, {21, 6}, {7, 13}, {17, 12}, {26, 14}, {3, 22}, {13, 23}, {22, 21}, {8, 28}, {27, 27}} {
		lean := Point{float64(i*7%11) - 5, 5 - float64(i*5%7)}
		by := dark
		if i%2 == 0 {
			by = bright
		}
		p.Nodes = append(p.Nodes, Shape{Path: Polygon(at, Point{at.X + lean.X, at.Y + lean.Y}, Point{at.X + lean.X + .9, at.Y + lean.Y + .9},
			Point{at.X + .9, at.Y + .9}), Style: Style{Fill: Lighten(by)}})
	}
	return p
}

// finishOf is the texture of a surface, named after it; false for one that has none.
func finishOf(name string) (Pattern, bool) {
	p, known := finishes[name]
	p.ID = "finish-" + name
	return p, known
}

// stitches is a texture of knitted stitches of the given size: the shadow under
// each leg and the light on its ridge.
func stitches(w, h float64) Pattern {
	leg := func(x0, x1, thick, by float64) Shape {
		return Shape{Path: Polygon(Point{x0, 0}, Point{x0 + thick, 0}, Point{x1 + thick, h}, Point{x1, h}), Style: Style{Fill: Lighten(by)}}
	}
	t := w / 6
	return Pattern{ID: "stitches", Width: w, Height: h, Nodes: []Node{leg(-t/2, w/2-t/2, t, dark), leg(w-t/2, w/2-t/2, t, dark),
		leg(t, w/2+t/4-w/4, t, light), leg(w-2*t, w/2+w/4-t/2, t, light)}}
}

// SmallFinish is the name and the texture of a finish on a small picture of a piece, as the definition of a
// page; empty for one that shows none.
func SmallFinish(finish string) (id, def string) {
	def, seen := smallFinishes[finish]
	if !seen {
		return "", ""
	}
	return "small-" + finish, def
}

// FinishLayer is a finish as a layer of a CSS background, to lie over a colour; empty for one that shows none.
func FinishLayer(finish string) string {
	p, seen := finishes[finish]
	if !seen {
		return ""
	}
	w := &svgWriter{decimals: 1}
	if p.Stops == nil {
		w.raw(fmt.Sprintf(`<svg xmlns="http://www.w3.org/2000/svg" width="%g" height="%g">`, p.Width, p.Height))
		for _, n := range p.Nodes {
			w.node(n)
		}
		w.raw("</svg>")
		return `url("data:image/svg+xml;base64,` + base64.StdEncoding.EncodeToString([]byte(w.String())) + `")`
	}
	w.raw("linear-gradient(123deg")
	for _, s := range p.Stops {
		c := lighter(s.Light)
		w.raw(fmt.Sprintf(",rgba(%d,%d,%d,%.2f) %.0f%%", c.R, c.G, c.B, math.Abs(s.Light), 100*s.At))
	}
	w.raw(")")
	return w.String()
}

var smallFinishes = func() map[string]string {
	out := map[string]string{}
	for name, p := range finishes {
		p.ID, p.Scale = "small-"+name, .4
		w := &svgWriter{decimals: 1}
		w.pattern(p)
		out[name] = w.String()
	}
	return out
}()

// linesOf are the lines of a piece, such as its seams, k units of the scene a mm: each a shadow with a light
// beside it.
func linesOf(p piece.Piece, k float64, at Point) []Node {
	long := math.Max(p.Width, p.Height) * k
	var out []Node
	for _, dashed := range []bool{false, true} {
		wide := long / 900
		var dash []float64
		if dashed {
			dash = []float64{long / 130, long / 260}
		}
		for _, by := range []float64{-.4, .4} {
			path, off := &Path{}, wide*by
			for _, l := range p.Lines {
				if l.Dashed != dashed {
					continue
				}
				for i, q := range l.Through {
					to := Point{at.X + q.X*k + off, at.Y + q.Y*k + off}
					if i == 0 {
						path.MoveTo(to)
					} else {
						path.LineTo(to)
					}
				}
			}
			if path.segments != nil {
				out = append(out, Shape{Path: path, Style: Style{Stroke: Lighten(by), Width: wide, Dash: dash, Class: "texture"}})
			}
		}
	}
	return out
}

// dotsPerMillimetre is how finely the surfaces of a piece are drawn on paper: 150 dots an inch.
const dotsPerMillimetre = 150 / 25.4

// surfacePicture is what the surfaces of a piece's parts lay over their colours on paper, k mm of paper for each
// of its own, as PNG; nil for nothing.
func surfacePicture(p piece.Piece, outlines []*Path, surfaces []Surface, k float64) ([]byte, error) {
	dots := dotsPerMillimetre
	w, h := int(math.Ceil(p.Width*k*dots)), int(math.Ceil(p.Height*k*dots))
	scale := 1000 / (math.Max(p.Width, p.Height) * k * dots) // units of the finishes a dot
	var out *image.NRGBA
	for i, f := range surfaces {
		var over image.Image
		var err error
		finish, seen := finishOf(f.seenFinish())
		switch {
		case f.JPEG != nil && f.Wide*k*dots >= leastTile && f.High > 0:
			over, err = printTile(f, k*dots)
		case p.Cells == nil && f.stitched(p.Stitch.X*k*dots, p.Stitch.Y*k*dots):
			over, err = tileOf(stitches(p.Stitch.X*k*dots, p.Stitch.Y*k*dots), 1)
		case seen && finish.Stops != nil:
			over = sheen{finish, scale}
		case seen:
			over, err = tileOf(finish, scale)
		}
		if err != nil {
			return nil, err
		}
		if over == nil {
			continue
		}
		if out == nil {
			out = image.NewNRGBA(image.Rect(0, 0, w, h))
		}
		stddraw.DrawMask(out, out.Bounds(), over, image.Point{}, coverOf(p, outlines, i, out.Bounds(), dots), image.Point{}, stddraw.Over)
	}
	if out == nil {
		return nil, nil
	}
	return encoded(out)
}

// coverOf is where a part of a piece lies within a box of dots.
func coverOf(p piece.Piece, outlines []*Path, part int, box image.Rectangle, dots float64) *image.Alpha {
	cover := image.NewAlpha(box)
	if c := p.Cells; c != nil {
		for i := range cover.Pix {
			if x, y := i%box.Dx()*c.Across/box.Dx(), i/box.Dx()*c.Down/box.Dy(); int(c.Part[y*c.Across+x]) == part {
				cover.Pix[i] = 255
			}
		}
		return cover
	}
	v := vector.NewRasterizer(box.Dx(), box.Dy())
	for _, l := range (&raster{k: dots}).flatten(outlines[part]) {
		for n, q := range l.p {
			if n == 0 {
				v.MoveTo(float32(q.X), float32(q.Y))
			} else {
				v.LineTo(float32(q.X), float32(q.Y))
			}
		}
		v.ClosePath()
	}
	v.Draw(cover, box, image.Opaque, image.Point{})
	return cover
}

// endless is a picture that has no bounds.
type endless struct{}

func (endless) ColorModel() color.Model { return color.NRGBAModel }
func (endless) Bounds() image.Rectangle { return image.Rect(-1e6, -1e6, 1e6, 1e6) }

// tile is a picture laid over and over.
type tile struct {
	endless
	of image.Image
}

func (t tile) At(x, y int) color.Color {
	b := t.of.Bounds()
	return t.of.At(b.Min.X+x%b.Dx(), b.Min.Y+y%b.Dy())
}

// printTile is a print at its size, so many dots a mm.
func printTile(f Surface, dots float64) (image.Image, error) {
	img, err := jpeg.Decode(bytes.NewReader(f.JPEG))
	if err != nil {
		return nil, nil //nolint:nilerr // a print that cannot be read shows its colour
	}
	out := image.NewRGBA(image.Rect(0, 0, max(1, round(f.Wide*dots)), max(1, round(f.High*dots))))
	ximagedraw.CatmullRom.Scale(out, out.Bounds(), img, img.Bounds(), stddraw.Src, nil)
	return tile{of: out}, nil
}

// tileOf is a texture, so many of its units a dot.
func tileOf(p Pattern, units float64) (image.Image, error) {
	r := &raster{img: image.NewRGBA(image.Rect(0, 0, max(1, round(p.Width/units)), max(1, round(p.Height/units)))), k: 1 / units}
	for _, n := range p.Nodes {
		if err := r.node(n); err != nil {
			return nil, err
		}
	}
	return tile{of: r.img}, nil
}

// sheen is a finish that passes from light to dark and back, so many of its units a dot.
type sheen struct {
	Pattern
	units float64
}

func (sheen) ColorModel() color.Model { return color.NRGBAModel }
func (sheen) Bounds() image.Rectangle { return endless{}.Bounds() }

func (s sheen) At(x, y int) color.Color {
	t := math.Mod((float64(x)*s.Width+float64(y)*s.Height)*s.units/(s.Width*s.Width+s.Height*s.Height), 2)
	if t > 1 {
		t = 2 - t // as it is reflected
	}
	by := s.Stops[len(s.Stops)-1].Light
	for i := 1; i < len(s.Stops); i++ {
		if a, b := s.Stops[i-1], s.Stops[i]; t <= b.At {
			by = a.Light + (b.Light-a.Light)*(t-a.At)/(b.At-a.At)
			break
		}
	}
	return lighter(by)
}

// lighter is a light, or a shadow, as a colour that is seen through.
func lighter(by float64) color.NRGBA {
	c := color.NRGBA{A: uint8(round(255 * math.Abs(by)))}
	if by > 0 {
		c.R, c.G, c.B = 255, 255, 255
	}
	return c
}
