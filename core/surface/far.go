package surface

import (
	"image"
	"math"

	"lampfern/core/colour"
)

// chromaBlur is how much coarser the eye sees hue and clearness than light.
const chromaBlur = 2.5

// Far is a picture as it is seen from far away: blurred in linear light, its
// luminance with a Gaussian of standard deviation across and down pixels, its opponent
// chroma (linear RGB less luminance) with 2.5 times that. Chroma is carried as
// a ratio to luminance blurred alike, so that a dark stripe takes the hue of
// what is beside it and stays dark. Beyond its edges the picture is taken to go
// on as it ends.
func Far(img *image.NRGBA, across, down float64) *image.NRGBA {
	w, h := img.Rect.Dx(), img.Rect.Dy()
	light := make([]float64, w*h)
	var rgb [3][]float64
	for k := range rgb {
		rgb[k] = make([]float64, w*h)
	}
	var linear [256]float64
	for i := range linear {
		linear[i], _, _ = colour.RGB{R: float64(i) / 255}.Linear()
	}
	luminance := func(r, g, b float64) float64 { return colour.LinearXYZ(r, g, b).Y }
	for i := range w * h {
		at := img.Pix[i/w*img.Stride+i%w*4:]
		r, g, b := linear[at[0]], linear[at[1]], linear[at[2]]
		light[i], rgb[0][i], rgb[1][i], rgb[2][i] = luminance(r, g, b), r, g, b
	}
	gaussian(light, w, h, across, down)
	for _, p := range rgb {
		gaussian(p, w, h, chromaBlur*across, chromaBlur*down)
	}
	out := image.NewNRGBA(image.Rect(0, 0, w, h))
	for i := range w * h {
		r, g, b := rgb[0][i], rgb[1][i], rgb[2][i]
		k := 0.0
		if coarse := luminance(r, g, b); coarse > 0 {
			k = light[i] / coarse
		}
		c := colour.LinearRGB(k*r, k*g, k*b)
		at := out.Pix[i*4:]
		at[0], at[1], at[2], at[3] = byteOf(c.R), byteOf(c.G), byteOf(c.B), 255
	}
	return out
}

func byteOf(v float64) uint8 { return uint8(math.Round(255 * math.Max(0, math.Min(1, v)))) }

// boxes is how many means in a row stand for a Gaussian.
const boxes = 3

// gaussian blurs a plane in place: three running means along rows and columns
// whose variances add up to those of across and down (extended box filtering:
// Gwosdek, Grewenig, Bruhn and Weickert, 2011).
func gaussian(p []float64, w, h int, across, down float64) {
	line, work := make([]float64, max(w, h)), make([]float64, max(w, h))
	if across > 0 {
		whole, f := box(across)
		for range boxes {
			for y := range h {
				runningMean(p[y*w:y*w+w], work[:w], whole, f)
				copy(p[y*w:y*w+w], work[:w])
			}
		}
	}
	if down <= 0 {
		return
	}
	whole, f := box(down)
	for range boxes {
		for x := range w {
			for y := range h {
				line[y] = p[y*w+x]
			}
			runningMean(line[:h], work[:h], whole, f)
			for y := range h {
				p[y*w+x] = work[y]
			}
		}
	}
}

// box is the running mean that, taken so often, stands for a Gaussian.
func box(sigma float64) (reach int, f float64) {
	// A box of 2R+1 places has variance R(R+1)/3; two more places, counted by
	// the fraction f, bring it to what is wanted.
	v := sigma * sigma / boxes
	whole := math.Floor((math.Sqrt(12*v+1) - 1) / 2)
	f = (2*whole + 1) * (v - whole*(whole+1)/3) / (2 * ((whole+1)*(whole+1) - v))
	return int(whole), f
}

// runningMean writes the mean of in within whole places of each, the next ones
// counted by the fraction f; beyond its ends in goes on as it ends.
func runningMean(in, out []float64, whole int, f float64) {
	n := len(in)
	at := func(i int) float64 { return in[min(max(i, 0), n-1)] }
	sum := 0.0
	for i := -whole; i <= whole; i++ {
		sum += at(i)
	}
	for i := range n {
		out[i] = (sum + f*(at(i-whole-1)+at(i+whole+1))) / (float64(2*whole+1) + 2*f)
		sum += at(i+whole+1) - at(i-whole)
	}
}
