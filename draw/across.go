package draw

import (
	"bytes"
	"fmt"
	"image"
	"image/png"
	"math"

	"lampfern/core/balance"
	"lampfern/core/colour"
	"lampfern/core/piece"
	"lampfern/core/surface"
)

// acrossLongest is the longer side of the picture across the room, in pixels.
const acrossLongest = 640

// Across is a piece as an eye sees it from so many metres away, as a PNG: labs
// are the colours of its parts, ground is what shows where there is no part or
// no card.
func Across(light Light, p piece.Piece, labs []*colour.Lab, ground colour.RGB, metres float64) ([]byte, error) {
	shown := []colour.RGB{ground} // then the parts
	for _, c := range labs {
		rgb := ground
		if c != nil {
			rgb, _ = light.Show(*c)
		}
		shown = append(shown, rgb)
	}
	var img *image.NRGBA
	if p.Cells != nil {
		img = farCells(p.Cells, shown)
	} else {
		grid, w, h := p.Grid(acrossLongest)
		img = image.NewNRGBA(image.Rect(0, 0, w, h))
		for i, part := range grid {
			c := bytesOf(shown[part+1])
			copy(img.Pix[i*4:], []uint8{c[0], c[1], c[2], 255})
		}
	}
	var b bytes.Buffer
	sigma := balance.Blur(metres)
	if err := png.Encode(&b, surface.Far(img, sigma*float64(img.Rect.Dx())/p.Width, sigma*float64(img.Rect.Dy())/p.Height)); err != nil {
		return nil, fmt.Errorf("writing the picture from afar: %w", err)
	}
	return b.Bytes(), nil
}

func bytesOf(c colour.RGB) [3]uint8 {
	of := func(v float64) uint8 { return uint8(math.Round(255 * math.Max(0, math.Min(1, v)))) }
	return [3]uint8{of(c.R), of(c.G), of(c.B)}
}
