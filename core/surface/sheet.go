package surface

import (
	"errors"
	"image"
	"math"
)

// Corners are the corners of a flat sheet as a photo shows it, in pixels: top left, top
// right, bottom right, bottom left.
type Corners [4]Spot

// Check refuses corners between which no flat sheet can lie.
func (c Corners) Check() error {
	sign := 0.0
	for i := range c {
		a, b, d := c[i], c[(i+1)%4], c[(i+2)%4]
		turn := (b.X-a.X)*(d.Y-b.Y) - (b.Y-a.Y)*(d.X-b.X)
		if turn == 0 || sign*turn < 0 {
			return errors.New("the four corners are in the wrong order: place them clockwise from the top left")
		}
		sign = turn
	}
	if sign < 0 {
		return errors.New("the corners go round the wrong way: place top left first, then top right")
	}
	return nil
}

// At is where a place of the sheet lies in the photo; u runs from 0 at the left to 1 at
// the right, v from 0 at the top to 1 at the foot (the projection of a unit square onto
// four points, Heckbert 1989).
func (c Corners) At(u, v float64) Spot {
	dx1, dx2, sx := c[1].X-c[2].X, c[3].X-c[2].X, c[0].X-c[1].X+c[2].X-c[3].X
	dy1, dy2, sy := c[1].Y-c[2].Y, c[3].Y-c[2].Y, c[0].Y-c[1].Y+c[2].Y-c[3].Y
	of := dx1*dy2 - dx2*dy1
	g, h := (sx*dy2-dx2*sy)/of, (dx1*sy-sx*dy1)/of
	w := g*u + h*v + 1
	return Spot{
		X: ((c[1].X-c[0].X+g*c[1].X)*u + (c[3].X-c[0].X+h*c[3].X)*v + c[0].X) / w,
		Y: ((c[1].Y-c[0].Y+g*c[1].Y)*u + (c[3].Y-c[0].Y+h*c[3].Y)*v + c[0].Y) / w,
	}
}

// onSheet is how many places a part of a sheet is read at, each way.
const onSheet = 60

// SampleSheet is Sample of a part of a sheet, x, y, w and h in shares of it. Places that
// lie outside the photo are left out; all of them is an error.
func SampleSheet(img image.Image, c Corners, x, y, w, h float64) (Patch, error) {
	var all []pixel
	burnt := 0
	for j := range onSheet {
		for i := range onSheet {
			at := c.At(x+w*(float64(i)+.5)/onSheet, y+h*(float64(j)+.5)/onSheet)
			p := image.Pt(int(math.Floor(at.X)), int(math.Floor(at.Y)))
			if !p.In(img.Bounds()) {
				continue
			}
			one, end := pixelAt(img, p.X, p.Y)
			all, burnt = append(all, one), burnt+end
		}
	}
	if len(all) == 0 {
		return Patch{}, errors.New("the square is outside the photo: place the corners on the sheet")
	}
	return patchOf(all, burnt), nil
}
