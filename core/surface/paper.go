package surface

import (
	"image"
	"image/color"

	"lampfern/core/colour"
)

// When something round a print is the paper it lies on.
const (
	paperCells   = 300  // on the longest side, that are looked at
	paperLight   = 82.0 // L* at least
	paperGreyest = 12.0 // C*ab at most
	paperStep    = 4.0  // ΔE76 from one cell to the next at most: an edge stops it
	paperLeast   = 0.02 // share of the picture
	printLeast   = 0.05 // that is left
	printFills   = 0.8  // of the box round what is left: a print is a whole, flowers on white are not
)

// WithoutPaper is a picture in which the white paper beside a print is not counted, and the
// paper's share of it: what is white, even and reaches in from the border, where what is
// left is one whole. Elsewhere it is the picture itself and 0, for then the white may be the
// print's own. Uncounted pixels have an alpha of 0.
func WithoutPaper(img *image.RGBA, c Correction) (*image.RGBA, float64) {
	b := img.Bounds()
	step := max(1, (max(b.Dx(), b.Dy())+paperCells-1)/paperCells)
	w, h := b.Dx()/step, b.Dy()/step
	if w < 3 || h < 3 {
		return img, 0
	}
	labs := make([]colour.Lab, w*h)
	for i := range labs {
		p, _ := pixelAt(img, b.Min.X+i%w*step+step/2, b.Min.Y+i/w*step+step/2)
		labs[i] = c.Apply(p.xyz())
	}
	paper := make([]bool, w*h)
	var open []int
	reach := func(i, from int) {
		l := labs[i]
		if paper[i] || l.L < paperLight || l.Chroma() > paperGreyest {
			return
		}
		if d := labs[from]; (l.L-d.L)*(l.L-d.L)+(l.A-d.A)*(l.A-d.A)+(l.B-d.B)*(l.B-d.B) > paperStep*paperStep {
			return
		}
		paper[i] = true
		open = append(open, i)
	}
	for x := range w {
		reach(x, x)
		reach((h-1)*w+x, (h-1)*w+x)
	}
	for y := range h {
		reach(y*w, y*w)
		reach(y*w+w-1, y*w+w-1)
	}
	for len(open) > 0 {
		i := open[len(open)-1]
		open = open[:len(open)-1]
		for _, n := range [][2]int{{-1, 0}, {1, 0}, {0, -1}, {0, 1}} {
			if x, y := i%w+n[0], i/w+n[1]; x >= 0 && x < w && y >= 0 && y < h {
				reach(y*w+x, i)
			}
		}
	}
	left, box := 0, image.Rectangle{}
	for i, is := range paper {
		if !is {
			left++
			box = box.Union(image.Rect(i%w, i/w, i%w+1, i/w+1))
		}
	}
	share := 1 - float64(left)/float64(w*h)
	if share < paperLeast || 1-share < printLeast || float64(left) < printFills*float64(box.Dx()*box.Dy()) {
		return img, 0
	}
	out := image.NewRGBA(b)
	copy(out.Pix, img.Pix)
	for y := b.Min.Y; y < b.Max.Y; y++ {
		for x := b.Min.X; x < b.Max.X; x++ {
			// A cell beside the paper is half of it, and goes with it.
			cx, cy := min(w-1, (x-b.Min.X)/step), min(h-1, (y-b.Min.Y)/step)
			at := cy*w + cx
			if paper[at] || cx > 0 && paper[at-1] || cx+1 < w && paper[at+1] || cy > 0 && paper[at-w] || cy+1 < h && paper[at+w] {
				out.SetRGBA(x, y, color.RGBA{})
			}
		}
	}
	return out, share
}

// counted reports whether a pixel is one of the thing that is read.
func counted(img image.Image, x, y int) bool {
	m, is := img.(*image.RGBA)
	return !is || m.Pix[m.PixOffset(x, y)+3] != 0
}
