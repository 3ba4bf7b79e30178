package draw

import (
	"bytes"
	"fmt"
	"image"
	"image/png"
	"math"

	"lampfern/core/colour"
	"lampfern/core/piece"
)

// Shine is how a surface catches the light on a relief: the strength of the
// highlights, 0 to 1, and their colour, white for nil.
type Shine struct {
	Strength float64
	Flash    *colour.Lab
}

// UnderPicture is where the relief of a photo under a drawing is found, and a
// picture of its lights.
type UnderPicture struct{ Relief, Lights string }

// Traced draws a piece over the photos it was drawn on: each part multiplied with
// their light and shade, and shining as its surface does. shines may be nil.
func Traced(light Light, p piece.Piece, parts []PiecePart, shines []Shine, unders []UnderPicture) Scene {
	const longest = 1000.0
	k := longest / math.Max(p.Width, p.Height)
	s := Scene{Width: p.Width * k, Height: p.Height * k, ID: "piece", Label: p.Name}
	at := func(i int, address string) Bitmap {
		u := p.Unders[i]
		return Bitmap{X: u.X * k, Y: u.Y * k, Width: u.Width * k, Height: u.Height * k, Address: address}
	}
	lights := Mask{ID: "lights"}
	for i, u := range unders {
		s.Add(at(i, u.Relief))
		lights.Nodes = append(lights.Nodes, at(i, u.Lights))
	}
	for _, sh := range shines {
		if sh.Strength > 0 {
			s.Add(lights)
			break
		}
	}
	outlines := partOutlines(p, k)
	for i, part := range parts {
		st := noCard
		card := "no card yet"
		var over []Node
		if part.Lab != nil {
			rgb, _ := light.Show(*part.Lab)
			st, card = Style{Fill: Solid(rgb), Class: "shaded"}, part.Card
			if i < len(shines) && shines[i].Strength > 0 {
				flash := colour.RGB{R: 1, G: 1, B: 1}
				if shines[i].Flash != nil {
					flash, _ = light.Show(*shines[i].Flash)
				}
				over = []Node{Group{Class: "texture", Attributes: [][2]string{{"mask", "url(#lights)"},
					{"opacity", fmt.Sprintf("%.2f", shines[i].Strength)}}, Nodes: []Node{Shape{Path: outlines[i], Style: Style{Fill: Solid(flash)}}}}}
			}
		}
		s.Add(partGroup(part, card, Shape{Path: outlines[i], Style: st}, over))
	}
	return s
}

// tracedLongest is the longer side of a traced piece as a picture for paper.
const tracedLongest = 900

// tracedPicture is a traced piece with its colours multiplied with the reliefs of
// its photos, as a PNG. Where there is neither it is clear.
func tracedPicture(p piece.Piece, labs []*colour.Lab, unders []*image.Gray) ([]byte, error) {
	grid, w, h := p.Grid(tracedLongest)
	cell := math.Max(p.Width, p.Height) / tracedLongest
	img := image.NewNRGBA(image.Rect(0, 0, w, h))
	paint := func(x, y int, shade float64) {
		c := colour.RGB{R: 1, G: 1, B: 1}
		if part := grid[y*w+x]; part >= 0 && int(part) < len(labs) && labs[part] != nil {
			c, _ = labs[part].RGB()
		}
		b := bytesOf(colour.RGB{R: shade * c.R, G: shade * c.G, B: shade * c.B})
		copy(img.Pix[(y*w+x)*4:], []uint8{b[0], b[1], b[2], 255})
	}
	for i, at := range grid {
		if at >= 0 {
			paint(i%w, i/w, 1)
		}
	}
	for i, u := range p.Unders[:min(len(unders), len(p.Unders))] {
		g := unders[i]
		kx, ky := float64(g.Rect.Dx())/u.Width, float64(g.Rect.Dy())/u.Height
		for y := int(u.Y / cell); y < min(h, int((u.Y+u.Height)/cell)); y++ {
			for x := int(u.X / cell); x < min(w, int((u.X+u.Width)/cell)); x++ {
				gx, gy := int(((float64(x)+.5)*cell-u.X)*kx), int(((float64(y)+.5)*cell-u.Y)*ky)
				paint(x, y, float64(g.GrayAt(min(max(gx, 0), g.Rect.Dx()-1), min(max(gy, 0), g.Rect.Dy()-1)).Y)/255)
			}
		}
	}
	var b bytes.Buffer
	if err := (&png.Encoder{CompressionLevel: png.BestSpeed}).Encode(&b, img); err != nil {
		return nil, fmt.Errorf("writing the picture of a piece: %w", err)
	}
	return b.Bytes(), nil
}
