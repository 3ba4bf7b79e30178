package draw

import (
	"cmp"
	"fmt"
	"image"
	"math"
	"slices"
	"strings"

	"lampfern/core/colour"
	"lampfern/core/piece"
)

// PiecePart is how one part of a piece is shown.
type PiecePart struct {
	Key, Name string
	Card      string // name of the card it takes, empty when none
	Lab       *colour.Lab
	Surface   Surface
}

// PieceLook is how a piece is drawn: the size of a stitch in mm, where it has
// stitches; Key names its outlines, and Have those that the page shows already, so
// that they need not be drawn again.
type PieceLook struct {
	Stitch piece.Point
	Key    string
	Have   []string
	Still  bool // it is looked at only: no part of it can be chosen
}

// Piece draws a piece with its parts, each a group that can be chosen.
func Piece(light Light, p piece.Piece, parts []PiecePart, look PieceLook) (Scene, error) {
	if p.Cells != nil {
		rgbs := make([]*colour.RGB, len(parts))
		for i, part := range parts {
			if part.Lab != nil {
				rgb, _ := light.Show(*part.Lab)
				rgbs[i] = &rgb
			}
		}
		s := Scene{ID: "piece", Label: p.Name}
		return s, cellScene(&s, p, rgbs, parts, look.Still)
	}
	const longest = 1000.0
	k := longest / math.Max(p.Width, p.Height)
	s := Scene{Width: p.Width * k, Height: p.Height * k, ID: "piece", Label: p.Name}
	stitch := look.Stitch
	stitched := func(f Surface) bool { return f.stitched(stitch.X*k, stitch.Y*k) }
	partLabs := make([]*colour.Lab, len(parts))
	for i, part := range parts {
		partLabs[i] = part.Lab
	}
	fades := fadesOf(light, p, k, partLabs)
	if look.Key != "" { // a part in stitches has a texture over it
		s.Key = look.Key
		for _, f := range p.Fades { // strips have colours of their own
			for _, at := range []int{f.From, f.To} {
				if lab := partLabs[at]; lab != nil {
					rgb, _ := light.Show(*lab)
					s.Key += rgb.Hex()
				}
			}
		}
		for _, part := range parts {
			seen := ""
			if part.Lab != nil {
				seen = map[bool]string{true: "s"}[stitched(part.Surface)] + part.Surface.seenFinish()
			}
			s.Key += cmp.Or(seen, "-")
		}
	}
	same := s.Key != "" && slices.Contains(look.Have, s.Key)
	var outlines []*Path
	if !same {
		outlines = partOutlines(p, k)
	}
	for i, part := range parts {
		st := noCard
		card := "no card yet"
		var over []Node
		outline := &Path{}
		if !same {
			outline = outlines[i]
		}
		if part.Lab != nil {
			rgb, _ := light.Show(*part.Lab)
			// Stroked in its own colour, so that no seam shows between parts.
			st = Style{Fill: Solid(rgb), Stroke: Solid(rgb), Width: 0.8}
			if rgb.Lab().L < darkUnder {
				st.Class = "dark" // its focus is white
			}
			card = part.Card
			over = append(over, fades[i]...)
			id := "surface-" + part.Key
			switch f := part.Surface; {
			case f.Picture != "" && f.Wide*k >= leastTile:
				s.Add(Pattern{ID: id, Width: f.Wide * k, Height: f.High * k, Nodes: []Node{Bitmap{Width: f.Wide * k, Height: f.High * k,
					Address: f.Picture}}})
				st.Fill = Patterned(id, rgb)
			case f.Flash != nil:
				flash, _ := light.Show(*f.Flash)
				s.Add(Pattern{ID: id, Width: sheenWide * longest, Height: sheenWide * longest, Sheen: []colour.RGB{rgb, flash}})
				st.Fill = Patterned(id, rgb)
			case stitched(f):
				over = append(over, Shape{Path: outline, Style: Style{Fill: Patterned("stitches", rgb), Class: "texture"}})
			}
			if p, seen := finishOf(part.Surface.seenFinish()); seen {
				if !hasPattern(s, p.ID) {
					s.Add(p)
				}
				over = append(over, Shape{Path: outline, Style: Style{Fill: Patterned(p.ID, rgb), Class: "texture"}})
			}
		}
		if part.Lab != nil && stitched(part.Surface) && !hasPattern(s, "stitches") {
			s.Add(stitches(stitch.X*k, stitch.Y*k))
		}
		g := partGroup(part, card, Shape{Path: outline, Style: Style{Inherit: true}}, over)
		if look.Still {
			g = stillPart(part, card, Shape{Path: outline, Style: Style{Inherit: true}}, over)
		}
		g.Class, g.Style, st.Class = strings.TrimSpace("part "+st.Class), &st, ""
		if same {
			g.Nodes, g.Attributes = nil, append(g.Attributes, [2]string{"data-same", ""})
		}
		s.Add(g)
	}
	lines := Group{Class: "lines", Attributes: [][2]string{{"id", "lines"}}}
	if same {
		lines.Attributes = append(lines.Attributes, [2]string{"data-same", ""})
	} else {
		lines.Nodes = linesOf(p, k, Point{})
	}
	if len(p.Lines) > 0 {
		s.Add(lines)
	}
	return s, nil
}

// darkUnder is the L* as shown under which a part is dark.
const darkUnder = 55.0

// noCard is how a part without a card is drawn.
var noCard = Style{Fill: Clear, Stroke: Ink, Width: 1, Dash: []float64{6, 5}, Class: "part-empty"}

// partGroup is a part that can be chosen, with what lies over its shape.
func partGroup(part PiecePart, card string, shape Shape, over []Node) Group {
	shape.Title = fmt.Sprintf("%s: %s. Press to give it the chosen card.", part.Name, card)
	return Group{Class: "part", Attributes: [][2]string{{"data-part", part.Key}, {"id", "part-" + part.Key}, {"tabindex", "0"},
		{"role", "button"},
		{"aria-label", shape.Title}}, Nodes: append([]Node{shape}, over...)}
}

// stillPart is a part that is looked at, with what lies over its shape.
func stillPart(part PiecePart, card string, shape Shape, over []Node) Group {
	shape.Title = fmt.Sprintf("%s: %s", part.Name, card)
	return Group{Class: "part", Attributes: [][2]string{{"role", "img"}, {"aria-label", shape.Title}}, Nodes: append([]Node{shape}, over...)}
}

func hasPattern(s Scene, id string) bool {
	for _, n := range s.Nodes {
		if p, is := n.(Pattern); is && p.ID == id {
			return true
		}
	}
	return false
}

// Batten is one card's share of the whole.
type Batten struct {
	Key   int // of the card in the tray
	Name  string
	Share float64
	Lab   colour.Lab
}

// Battens draws shares as one bar of butting lengths.
func Battens(light Light, all []Batten) Scene {
	const width, height = 1000.0, 54.0
	s := Scene{Width: width, Height: height, Stretch: true, ID: "battens", Label: "Shares of the piece"}
	total, x := 0.0, 0.0
	for _, b := range all {
		total += b.Share
	}
	for _, b := range all {
		w := width * b.Share / total
		rgb, _ := light.Show(b.Lab)
		s.Add(Group{Class: "batten", Attributes: [][2]string{{"data-key", fmt.Sprint(b.Key)}, {"data-share", fmt.Sprintf("%.2f", 100*b.Share)},
			{"data-name", b.Name}},
			Nodes: []Node{Shape{Path: Box(x, 0, w, height), Style: Style{Fill: Solid(rgb)}, Title: fmt.Sprintf("%s: %.1f%%", b.Name, 100*b.Share)}}})
		x += w
	}
	return s
}

// ShapeSide is the longer side of the view box of a PieceShape.
const ShapeSide = 240.0

// PieceShape is a piece as a symbol of a page, its parts filled with the custom
// properties --p0, --p1 and on, so that many small pictures of it share one shape, and over them with --f0, --f1
// and on where surfaces are seen. id names the symbol, box is its view box. Of a long piece made of cells only
// the head is shown; unders are the photos a piece was drawn on.
func PieceShape(p piece.Piece, id string, unders []UnderPicture, surfaces bool) (shape, box string, err error) {
	if p.Cells != nil {
		p.Cells = p.SmallWindow()
		p.Width, p.Height = float64(p.Cells.Across)*p.Cells.Wide, float64(p.Cells.Down)*p.Cells.High
	}
	layers := []string{"p"} // the properties that fill a part
	if surfaces {
		layers = append(layers, "f")
	}
	k := ShapeSide / math.Max(p.Width, p.Height)
	box = fmt.Sprintf("0 0 %g %g", math.Round(p.Width*k), math.Round(p.Height*k))
	w := &svgWriter{decimals: 1}
	if p.Cells != nil {
		masks, err := covers(p.Cells, len(p.Parts))
		if err != nil {
			return "", "", err
		}
		w.raw(`<svg width="0" height="0" class="shapes" aria-hidden="true"><defs>`)
		for i, m := range masks {
			w.raw(fmt.Sprintf(`<mask id="%s-%d" style="mask-type:alpha">`, id, i))
			w.node(Bitmap{Width: p.Width * k, Height: p.Height * k, PNG: m})
			w.raw("</mask>")
		}
		w.raw(fmt.Sprintf(`</defs><symbol id="%s" viewBox="%s">`, id, box))
		for i := range masks {
			for _, fill := range layers {
				w.raw(fmt.Sprintf(`<rect width="%g" height="%g" mask="url(#%s-%d)" style="fill:var(--%s%d,none)"/>`, math.Round(p.Width*k),
					math.Round(p.Height*k), id, i, fill, i))
			}
		}
		w.raw("</symbol></svg>")
		return w.String(), box, nil
	}
	outlines := partOutlines(p, k)
	w.raw(fmt.Sprintf(`<svg width="0" height="0" class="shapes" aria-hidden="true"><symbol id="%s" viewBox="%s">`, id, box))
	blend := ""
	for i, u := range unders {
		of := p.Unders[i]
		w.node(Bitmap{X: of.X * k, Y: of.Y * k, Width: of.Width * k, Height: of.Height * k, Address: u.Relief})
		blend = ";mix-blend-mode:multiply"
	}
	for i, o := range outlines {
		w.raw(fmt.Sprintf(`<g style="fill:var(--p%d);stroke:var(--p%d);stroke-width:.4%s"><path id="%s-part%d" d="`, i, i, blend, id, i))
		w.path(o)
		w.raw(`"/></g>`)
	}
	if len(unders) == 0 {
		w.fadeShapes(p, k)
	}
	for _, fill := range layers[1:] {
		for i := range outlines {
			w.raw(fmt.Sprintf(`<use href="#%s-part%d" style="fill:var(--%s%d,none)"/>`, id, i, fill, i))
		}
	}
	for _, n := range linesOf(p, k, Point{}) {
		w.node(n)
	}
	w.raw("</symbol></svg>")
	return w.String(), box, nil
}

// partOutlines are the outlines of a piece's parts, scaled.
func partOutlines(p piece.Piece, k float64) []*Path {
	outlines := make([]*Path, len(p.Parts))
	for i := range outlines {
		outlines[i] = &Path{}
	}
	for part, contours := range p.Contours() {
		for _, c := range contours {
			for i, q := range c {
				pt := Point{q.X * k, q.Y * k}
				if i == 0 {
					outlines[part].MoveTo(pt)
				} else {
					outlines[part].LineTo(pt)
				}
			}
			outlines[part].Close()
		}
	}
	return outlines
}

// WaySheet is one colourway as it is printed; Labs holds a colour a part, nil for
// none.
type WaySheet struct {
	Name, Remark string
	Favourite    bool
	Labs         []*colour.Lab
	Surfaces     []Surface // by part; nil for flat colours
}

// ColourwaySheet draws up to twelve colourways of one piece on upright A4, three
// by four, the favourite marked. unders are the reliefs of the photos the piece
// was drawn on.
func ColourwaySheet(title string, p piece.Piece, unders []*image.Gray, all []WaySheet) (Scene, error) {
	const wide, high, margin, head, columns, rows = 210.0, 297.0, 12.0, 24.0, 3, 4
	s := Scene{Width: wide, Height: high, Millimetres: true, Label: "Colourways of " + title}
	s.Add(Text{At: Point{margin, 15}, Words: fit(title, 5, true, wide-2*margin), Size: 5, Bold: true, Paint: Ink},
		Text{At: Point{margin, 20}, Words: sizeWords(p) + " · colourways", Size: 2.8, Paint: Ink})
	p = Shown(p)
	w, h := (wide-2*margin)/columns, (high-head-16)/rows
	room := Point{w - 6, h - 16}
	k := math.Min(room.X/p.Width, room.Y/p.Height)
	outlines := partOutlines(p, k)
	for n, c := range all[:min(len(all), columns*rows)] {
		at := Point{margin + float64(n%columns)*w, head + float64(n/columns)*h}
		if err := onPaper(&s, p, unders, outlines, c, at, k); err != nil {
			return s, err
		}
		y := at.Y + p.Height*k + 4.6
		name := c.Name
		if c.Favourite {
			name += " · favourite"
		}
		s.Add(Text{At: Point{at.X, y}, Words: fit(name, 3.4, true, w-6), Size: 3.4, Bold: true, Paint: Ink})
		for _, line := range wrap(c.Remark, 2.6, false, w-6, 2) {
			y += 3.8
			s.Add(Text{At: Point{at.X, y}, Words: fit(line, 2.6, false, w-6), Size: 2.6, Paint: Ink})
		}
	}
	foot(&s, margin, wide-2*margin, "Colours from your shelf, in daylight · "+paperGuide)
	return s, nil
}

// sizeWords are a piece's name and size; the views of a solid have no size of their own.
func sizeWords(p piece.Piece) string {
	if p.Shown != nil || p.Pattern == piece.AbreastKey {
		return p.Name
	}
	return fmt.Sprintf("%s, %g × %g cm", p.Name, math.Round(p.Width)/10, math.Round(p.Height)/10)
}

// Shown is a piece as it is printed, or looked at only: a solid by the two views that are shown of it.
func Shown(p piece.Piece) piece.Piece {
	if c := p.Shown; c != nil {
		p.Cells, p.Width, p.Height = c, float64(c.Across)*c.Wide, float64(c.Down)*c.High
	}
	return p
}

// onPaper draws a piece in the colours of a colourway at a place, k mm of paper
// for each of its own.
func onPaper(s *Scene, p piece.Piece, unders []*image.Gray, outlines []*Path, c WaySheet, at Point, k float64) error {
	var data []byte
	var err error
	switch {
	case p.Cells != nil:
		data, err = ChartPicture(Light{}, p.Cells, c.Labs)
	case len(unders) > 0:
		data, err = tracedPicture(p, c.Labs, unders)
	default:
		for i, o := range outlines {
			st := Style{Stroke: Ink, Width: 0.1}
			if i < len(c.Labs) && c.Labs[i] != nil {
				rgb, _ := c.Labs[i].RGB()
				st = Style{Fill: Solid(rgb)}
			}
			s.Add(Shape{Path: o.moved(at), Style: st, Title: c.Name})
		}
		for _, over := range fadesOf(Light{}, p, k, c.Labs) {
			for _, n := range over {
				sh := n.(Shape)
				sh.Path = sh.Path.moved(at)
				s.Add(sh)
			}
		}
	}
	if err != nil {
		return err
	}
	if data != nil {
		s.Add(Bitmap{X: at.X, Y: at.Y, Width: p.Width * k, Height: p.Height * k, PNG: data, Sharp: p.Cells != nil && p.Cells.Grain != piece.Flat})
	}
	if len(unders) == 0 { // a photo shows its own surfaces
		over, err := surfacePicture(p, outlines, c.Surfaces, k)
		if err != nil {
			return err
		}
		if over != nil {
			s.Add(Bitmap{X: at.X, Y: at.Y, Width: p.Width * k, Height: p.Height * k, PNG: over})
		}
		s.Add(linesOf(p, k, at)...)
	}
	return nil
}

// moved is a path carried to a place.
func (p *Path) moved(by Point) *Path {
	out := &Path{segments: make([]segment, len(p.segments))}
	for i, s := range p.segments {
		for j := range s.p {
			s.p[j].X += by.X
			s.p[j].Y += by.Y
		}
		out.segments[i] = s
	}
	return out
}
