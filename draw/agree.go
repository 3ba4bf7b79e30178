package draw

import (
	"bytes"
	"fmt"
	"image"
	imagedraw "image/draw"
	"image/jpeg"
	"image/png"
	"math"

	"lampfern/core/card"
	"lampfern/core/colour"
	"lampfern/core/piece"
)

// AgreeSheet is what a client is asked to agree to, as it is printed.
type AgreeSheet struct {
	Title, Sub string // the plan; sheet, date and maker
	Piece      piece.Piece
	Ways       []WaySheet
	Cards      []AgreeCard
	Lines      []string // size, price, terms, what is different
	Trust      string   // what paper and screen cannot show
	Sketch     []byte   // a JPEG; nil for none
}

// AgreeCard is a card of the sheet, with a place for a real swatch.
type AgreeCard struct {
	Name, Parts, Known string
	Colour             colour.Lab
	JPEG               []byte // its picture; nil for none
}

// Agree draws a sheet for a client to sign: the piece in each colourway, every card with a
// place for a real swatch to be glued on, the terms, and boxes to sign.
func Agree(p card.Paper, a AgreeSheet) ([]Scene, error) {
	const margin, rowHigh, glue = 16.0, 17.5, 30.0
	room := p.Width - 2*margin
	var out []Scene
	var s *Scene
	y := p.Height
	next := func(high float64) {
		if y+high <= p.Height-16 {
			return
		}
		out = append(out, Scene{Width: p.Width, Height: p.Height, Millimetres: true, Label: fmt.Sprintf("%s, page %d", a.Title, len(out)+1)})
		s = &out[len(out)-1]
		s.Add(Text{At: Point{margin, 20}, Words: fit(a.Title, 7, true, room), Size: 7, Bold: true, Paint: Ink},
			Text{At: Point{margin, 26.5}, Words: fit(fmt.Sprintf("%s · page %d", a.Sub, len(out)), 3.4, false, room), Size: 3.4, Paint: Ink})
		foot(s, margin, room, a.Trust)
		y = 33
	}
	pc := Shown(a.Piece)
	across := min(2, len(a.Ways))
	wide := (room - 6*float64(across-1)) / float64(max(1, across))
	high := math.Min(wide*pc.Height/pc.Width, 92)
	k := math.Min(wide/pc.Width, high/pc.Height)
	outlines := partOutlines(pc, k)
	for i, w := range a.Ways {
		if i%across == 0 {
			if i > 0 {
				y += high + 9
			}
			next(high + 9)
		}
		at := Point{margin + float64(i%across)*(wide+6), y}
		if len(a.Ways) == 1 {
			at.X += (wide - pc.Width*k) / 2
		}
		if err := onPaper(s, pc, nil, outlines, w, at, k); err != nil {
			return nil, err
		}
		s.Add(Shape{Path: Box(at.X, at.Y+high+2, 4, 4), Style: Style{Stroke: Ink, Width: .25}},
			Text{At: Point{at.X + 6, at.Y + high + 5.4}, Words: fit(w.Name, 3.6, true, wide-8), Size: 3.6, Bold: true, Paint: Ink})
	}
	y += high + 12
	if img, err := jpeg.Decode(bytes.NewReader(a.Sketch)); err == nil {
		var data bytes.Buffer
		if err := png.Encode(&data, img); err != nil {
			return nil, fmt.Errorf("drawing a sketch: %w", err)
		}
		b := img.Bounds()
		high := math.Min(70, room*float64(b.Dy())/float64(b.Dx()))
		next(high + 6)
		s.Add(Bitmap{X: margin, Y: y, Width: high * float64(b.Dx()) / float64(b.Dy()), Height: high, PNG: data.Bytes()})
		y += high + 6
	}
	for _, c := range a.Cards {
		next(rowHigh)
		rgb, _ := c.Colour.RGB()
		s.Add(Shape{Path: Box(margin, y, glue, rowHigh-3), Style: Style{Fill: Solid(rgb)}, Title: c.Name},
			Shape{Path: Box(margin+glue+3, y, glue, rowHigh-3), Style: Style{Stroke: Ink, Width: .2, Dash: []float64{1.5, 1.2}}},
			Text{At: Point{margin + glue + 3 + glue/2, y + 8.4}, Words: "real swatch here", Size: 2.8, Anchor: Middle, Paint: Ink})
		if c.JPEG != nil {
			if data, err := cropped(c.JPEG, glue/(rowHigh-3)); err == nil { // else its colour is shown
				s.Add(Bitmap{X: margin, Y: y, Width: glue, Height: rowHigh - 3, PNG: data})
			}
		}
		left, rest := margin+2*glue+8, room-2*glue-8
		s.Add(Text{At: Point{left, y + 4}, Words: fit(c.Name, 4, true, rest), Size: 4, Bold: true, Paint: Ink},
			Text{At: Point{left, y + 9}, Words: fit(c.Parts, 3.2, false, rest), Size: 3.2, Paint: Ink},
			Text{At: Point{left, y + 13.6}, Words: fit(c.Known, 3.2, false, rest), Size: 3.2, Paint: Ink})
		y += rowHigh
	}
	y += 3
	for _, line := range a.Lines {
		for _, part := range wrap(line, 3.6, false, room, 40) {
			next(5.4)
			s.Add(Text{At: Point{margin, y + 3.6}, Words: part, Size: 3.6, Paint: Ink})
			y += 5.2
		}
		y += 1.6
	}
	const sign = 26.0
	next(sign)
	for i, words := range []string{"I agree", "Please change", "Seen in warm light and in daylight"} {
		x := margin + float64(i)*44
		s.Add(Shape{Path: Box(x, y+2, 4, 4), Style: Style{Stroke: Ink, Width: .3}},
			Text{At: Point{x + 6, y + 5.4}, Words: words, Size: 3.6, Paint: Ink})
	}
	for i, words := range []string{"Name", "Date", "Signature"} {
		x := margin + float64(i)*room/3
		s.Add(Shape{Path: Line(Point{x, y + 20}, Point{x + room/3 - 6, y + 20}), Style: Style{Stroke: Ink, Width: .2}},
			Text{At: Point{x, y + 24}, Words: words, Size: 3, Paint: Ink})
	}
	return out, nil
}

// cropped is the middle of a JPEG as a PNG of so many times its height.
func cropped(data []byte, wide float64) ([]byte, error) {
	img, err := jpeg.Decode(bytes.NewReader(data))
	if err != nil {
		return nil, fmt.Errorf("reading a print: %w", err)
	}
	b := img.Bounds()
	w, h := b.Dx(), int(float64(b.Dx())/wide)
	if h > b.Dy() {
		w, h = int(float64(b.Dy())*wide), b.Dy()
	}
	out := image.NewRGBA(image.Rect(0, 0, max(1, w), max(1, h)))
	imagedraw.Draw(out, out.Bounds(), img, b.Min.Add(image.Pt((b.Dx()-w)/2, (b.Dy()-h)/2)), imagedraw.Src)
	var buf bytes.Buffer
	err = png.Encode(&buf, out)
	return buf.Bytes(), err
}
