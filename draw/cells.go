package draw

import (
	"bytes"
	"fmt"
	"image"
	"image/color"
	"image/png"
	"math"

	"lampfern/core/colour"
	"lampfern/core/piece"
)

// shades are how light the parts of a thread or stitch are, from its ridge to
// where it sinks under the next; their mean over a thread is near 1, so that the
// colour stays.
var shades = []float64{1.1, 1.05, 0.98, 0.86, 0.7}

const flatShade = -1

// shade is the shade of a place within a cell, u across and v down, 0 to 1.
func shade(g piece.Grain, up bool, u, v float64) int {
	off := 0.0 // from the ridge of the thread, 0 to 1
	switch g {
	case piece.Knitted: // two legs that meet at the foot
		x := math.Min(u, 1-u)
		t := math.Mod(x-0.5*v+1, 0.5) / 0.5
		off = math.Abs(t-0.5) * 2
	case piece.Woven:
		off = math.Abs(v-0.5) * 2
		if up {
			off = math.Abs(u-0.5) * 2
		}
	default:
		return flatShade
	}
	return min(len(shades)-1, int(off*off*float64(len(shades))))
}

// window is a range of cells.
type window struct{ x0, y0, x1, y1 int }

// cellPicture draws a window of cells, each of scale × scale pixels, with their
// grain from three pixels on. rgbs are the colours of the parts, nil for a part
// that has none, which stays transparent.
func cellPicture(c *piece.Cells, rgbs []*colour.RGB, of window, scale int) ([]byte, error) {
	if c.Grain == piece.Flat && scale == 1 && len(rgbs) > 1 && len(rgbs) <= smoothParts {
		return encoded(smoothed(c, rgbs, of))
	}
	grain := c.Grain
	if scale < 3 || len(rgbs)*len(shades) > 255 {
		grain = piece.Flat
	}
	levels := 1
	if grain != piece.Flat {
		levels = len(shades)
	}
	palette := color.Palette{color.NRGBA{}}
	for _, rgb := range rgbs {
		for l := range levels {
			if rgb == nil {
				palette = append(palette, color.NRGBA{})
				continue
			}
			k := 1.0
			if levels > 1 {
				k = shades[l]
			}
			palette = append(palette, colour.RGB{R: k * rgb.R, G: k * rgb.G, B: k * rgb.B})
		}
	}
	if len(palette) > 256 {
		return nil, fmt.Errorf("a piece of %d parts has more colours than its picture can hold", len(rgbs))
	}
	img := image.NewPaletted(image.Rect(0, 0, (of.x1-of.x0)*scale, (of.y1-of.y0)*scale), palette)
	at := make([]int, scale*scale*2) // shade by place in the cell, weft and warp on top
	for i := range at {
		n := scale * scale
		at[i] = max(0, shade(grain, i >= n, (float64(i%n%scale)+0.5)/float64(scale), (float64(i%n/scale)+0.5)/float64(scale)))
	}
	for y := of.y0; y < of.y1; y++ {
		for x := of.x0; x < of.x1; x++ {
			i := y*c.Across + x
			part := int(c.Part[i])
			if part < 0 {
				continue
			}
			shadeOf := at[:scale*scale]
			if grain == piece.Woven && c.Up[i] {
				shadeOf = at[scale*scale:]
			}
			for k, s := range shadeOf {
				img.Pix[((y-of.y0)*scale+k/scale)*img.Stride+(x-of.x0)*scale+k%scale] = uint8(1 + part*levels + s)
			}
		}
	}
	return encoded(img)
}

// encoded is a picture as PNG.
func encoded(img image.Image) ([]byte, error) {
	var b bytes.Buffer
	// Speed before size: the picture goes no further than this machine.
	if err := (&png.Encoder{CompressionLevel: png.BestSpeed}).Encode(&b, img); err != nil {
		return nil, fmt.Errorf("writing the picture of a piece: %w", err)
	}
	return b.Bytes(), nil
}

// whole is all cells.
func whole(c *piece.Cells) window { return window{0, 0, c.Across, c.Down} }

// Sizes of the drawing of a piece made of cells, in units of the scene.
const (
	cellsWide, cellsHigh = 1000.0, 640.0
	cellSeen             = 5.0 // cells smaller than that are also shown close by
	cellClose            = 11  // size of a cell close by
	closeGap             = 24.0
)

// cellSize is how many units of the scene a mm of a piece made of cells takes, and whether
// its cells are too small to be seen so.
func cellSize(p piece.Piece) (k float64, small bool) {
	c := p.Cells
	k = math.Min(cellsWide/p.Width, cellsHigh/p.Height)
	if small = c.Grain != piece.Flat && math.Min(c.Wide, c.High)*k < cellSeen; small { // the whole leaves at least half the width
		k = math.Min(0.5*cellsWide/p.Width, cellsHigh/p.Height)
	}
	return k, small
}

// Afar is the scene of a piece with another picture of the whole in its place, so that it keeps
// its size: that at an address, seen from afar.
func Afar(scene Scene, p piece.Piece, address string) Scene {
	w, h := scene.Width, scene.Height
	if p.Cells != nil {
		k, _ := cellSize(p)
		w, h = p.Width*k, p.Height*k
	}
	scene.Key, scene.Nodes = "", []Node{Bitmap{Width: w, Height: h, Address: address}}
	return scene
}

// cellScene draws a piece made of cells: whole, and where its cells are too
// small to be seen, some of them close by, with the finishes of its parts over them.
func cellScene(s *Scene, p piece.Piece, rgbs []*colour.RGB, parts []PiecePart, still bool) error {
	c := p.Cells
	k, small := cellSize(p)
	s.Width, s.Height = p.Width*k, p.Height*k
	add := func(of window, x, y, w, h float64, scale int, label string) error {
		data, err := cellPicture(c, rgbs, of, scale)
		if err != nil {
			return err
		}
		from := fmt.Sprintf("%.6f %.6f %.6f %.6f", float64(of.x0)/float64(c.Across), float64(of.y0)/float64(c.Down),
			float64(of.x1)/float64(c.Across), float64(of.y1)/float64(c.Down))
		g := Group{Class: "cells", Attributes: [][2]string{{"data-from", from}, {"role", "img"}, {"aria-label", label}},
			Nodes: []Node{Bitmap{X: x, Y: y, Width: w, Height: h, PNG: data, Sharp: c.Grain != piece.Flat && (scale > 1 || w > float64(c.Across))}}}
		if still {
			g.Class, g.Attributes = "", g.Attributes[1:]
		}
		s.Add(g)
		return cellFinishes(s, c, parts, of, Bitmap{X: x, Y: y, Width: w, Height: h, Sharp: true})
	}
	if c.Grain == piece.Flat {
		return add(whole(c), 0, 0, p.Width*k, p.Height*k, 1, "the whole")
	}
	scale := min(12, max(1, int(math.Round(math.Min(c.Wide, c.High)*k))))
	for scale > 1 && c.Across*c.Down*scale*scale > piece.MostCells {
		scale--
	}
	if err := add(whole(c), 0, 0, p.Width*k, p.Height*k, scale, "the whole"); err != nil || !small {
		return err
	}
	x := p.Width*k + closeGap
	// Cells keep their shape close by, and whole ones are shown.
	wide, high := float64(cellClose), float64(cellClose)*c.High/c.Wide
	of := window{0, 0, min(c.Across, int((cellsWide-x)/wide)), min(c.Down, int(cellsHigh/high))}
	s.Width, s.Height = x+float64(of.x1)*wide, math.Max(s.Height, float64(of.y1)*high)
	return add(of, x, 0, float64(of.x1)*wide, float64(of.y1)*high, cellClose, "a corner of it, thread by thread")
}

// cellFinishes lays the finishes of the parts over a window of cells that is drawn where a bitmap says.
func cellFinishes(s *Scene, c *piece.Cells, parts []PiecePart, of window, at Bitmap) error {
	seen := map[string]bool{}
	for _, part := range parts {
		p, is := finishOf(part.Surface.seenFinish())
		if !is || part.Lab == nil || seen[p.ID] {
			continue
		}
		seen[p.ID] = true
		if !hasPattern(*s, p.ID) {
			s.Add(p)
		}
		cover := image.NewPaletted(image.Rect(0, 0, of.x1-of.x0, of.y1-of.y0), color.Palette{color.NRGBA{}, color.White})
		for y := of.y0; y < of.y1; y++ {
			for x := of.x0; x < of.x1; x++ {
				if i := c.Part[y*c.Across+x]; i >= 0 && parts[i].Lab != nil && parts[i].Surface.seenFinish() == part.Surface.Finish {
					cover.Pix[(y-of.y0)*cover.Stride+x-of.x0] = 1
				}
			}
		}
		var err error
		if at.PNG, err = encoded(cover); err != nil {
			return err
		}
		id := fmt.Sprintf("cover-%s-%g", p.ID, at.X)
		s.Add(Mask{ID: id, Nodes: []Node{at}}, Group{Class: "texture", Attributes: [][2]string{{"mask", "url(#" + id + ")"}},
			Nodes: []Node{Shape{Path: Box(at.X, at.Y, at.Width, at.Height), Style: Style{Fill: Patterned(p.ID, colour.RGB{})}}}})
	}
	return nil
}

// coverLongest is the longer side of the masks of a small picture, in pixels.
const coverLongest = 160

// covers are, for each part of a piece made of cells, how much of each pixel it
// covers of what it and the parts before it cover: laid one over another they
// add up to the piece.
func covers(c *piece.Cells, parts int) ([][]byte, error) {
	k := math.Min(1, coverLongest/math.Max(float64(c.Across)*c.Wide, float64(c.Down)*c.High)*math.Max(c.Wide, c.High))
	w, h := max(1, int(float64(c.Across)*k)), max(1, int(float64(c.Down)*k))
	counts := make([][]float64, parts)
	for i := range counts {
		counts[i] = make([]float64, w*h)
	}
	for y := range c.Down {
		for x := range c.Across {
			if p := c.Part[y*c.Across+x]; p >= 0 {
				counts[p][y*h/c.Down*w+x*w/c.Across]++
			}
		}
	}
	sum := make([]float64, w*h)
	var out [][]byte
	for _, count := range counts {
		img := image.NewNRGBA(image.Rect(0, 0, w, h))
		for i, n := range count {
			if sum[i] += n; n > 0 {
				copy(img.Pix[i*4:], []uint8{255, 255, 255, uint8(math.Round(255 * n / sum[i]))})
			}
		}
		var b bytes.Buffer
		if err := png.Encode(&b, img); err != nil {
			return nil, fmt.Errorf("writing the mask of a part: %w", err)
		}
		out = append(out, b.Bytes())
	}
	return out, nil
}

// farCells is a piece made of cells as a picture for looking at from afar, a
// pixel a cell, or fewer pixels that are means of cells.
func farCells(c *piece.Cells, shown []colour.RGB) *image.NRGBA {
	step := 1
	for c.Across/step*(c.Down/step) > acrossLongest*acrossLongest {
		step++
	}
	w, h := (c.Across+step-1)/step, (c.Down+step-1)/step
	img := image.NewNRGBA(image.Rect(0, 0, w, h))
	for y := range h {
		for x := range w {
			var r, g, b, n float64
			for j := y * step; j < min(c.Down, (y+1)*step); j++ {
				for i := x * step; i < min(c.Across, (x+1)*step); i++ {
					lr, lg, lb := shown[c.Part[j*c.Across+i]+1].Linear()
					r, g, b, n = r+lr, g+lg, b+lb, n+1
				}
			}
			of := bytesOf(colour.LinearRGB(r/n, g/n, b/n))
			copy(img.Pix[(y*w+x)*4:], []uint8{of[0], of[1], of[2], 255})
		}
	}
	return img
}
