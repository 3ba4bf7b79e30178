package draw

import (
	"image"
	"image/color"
	"math"

	lru "github.com/hashicorp/golang-lru/v2"

	"lampfern/core/colour"
	"lampfern/core/piece"
)

// Smoothing of the edges between flat cells.
const (
	smoothScale  = 2   // pixels of a cell's side
	smoothReach  = 1   // cells looked at on each side
	smoothSigma  = 0.7 // of the Gaussian by which they weigh, in cells: what is one cell wide stays
	smoothLevels = 6   // steps from one part to the next at an edge
	smoothParts  = 10  // as many as a palette has room for all their mixtures
)

// smoothKernel weighs the cells round each pixel of a cell.
var smoothKernel = func() (k [smoothScale * smoothScale][(2*smoothReach + 1) * (2*smoothReach + 1)]float64) {
	for s := range k {
		u, v := (float64(s%smoothScale)+0.5)/smoothScale-0.5, (float64(s/smoothScale)+0.5)/smoothScale-0.5
		sum := 0.0
		for i := range k[s] {
			x, y := float64(i%(2*smoothReach+1)-smoothReach)-u, float64(i/(2*smoothReach+1)-smoothReach)-v
			k[s][i] = math.Exp(-(x*x + y*y) / (2 * smoothSigma * smoothSigma))
			sum += k[s][i]
		}
		for i := range k[s] {
			k[s][i] /= sum
		}
	}
	return k
}()

// smoothKept keeps the last pictures of cells, which are shared and not changed: another colour
// needs no more than another palette.
var smoothKept, _ = lru.New[smoothKey, *image.Paletted](4)

type smoothKey struct {
	of    *piece.Cells
	parts int
	at    window
}

// mixture is where the palette has so many steps of the second part in the first, the one of
// fewer steps first; each part by itself comes before all mixtures.
func mixture(parts, first, second, steps int) uint8 {
	if steps == 0 {
		return uint8(1 + first)
	}
	if first > second {
		first, second, steps = second, first, smoothLevels-steps
	}
	pair := first*(2*parts-first-1)/2 + second - first - 1
	return uint8(1 + parts + pair*(smoothLevels-1) + steps - 1)
}

// smoothed draws flat cells with the edges between their parts smoothed: at each pixel the part
// that weighs most among the cells around has it, and the next one shares it close to the edge.
// What is no part, and a part without a colour, keeps its own edge.
func smoothed(c *piece.Cells, rgbs []*colour.RGB, of window) *image.Paletted {
	n := len(rgbs)
	palette := color.Palette{color.NRGBA{}}
	add := func(rgb *colour.RGB) {
		if rgb == nil {
			palette = append(palette, color.NRGBA{})
		} else {
			palette = append(palette, *rgb)
		}
	}
	for _, rgb := range rgbs {
		add(rgb)
	}
	for a := range n {
		for b := a + 1; b < n; b++ {
			for steps := 1; steps < smoothLevels; steps++ {
				switch {
				case rgbs[a] != nil && rgbs[b] != nil:
					both := mixed(*rgbs[a], *rgbs[b], float64(steps)/smoothLevels)
					add(&both)
				case steps <= smoothLevels/2:
					add(rgbs[a])
				default:
					add(rgbs[b])
				}
			}
		}
	}
	key := smoothKey{c, n, of}
	shape, known := smoothKept.Get(key)
	if !known {
		shape = smoothShape(c, n, of)
		smoothKept.Add(key, shape)
	}
	img := *shape
	img.Palette = palette
	return &img
}

// smoothShape is the picture without its palette.
func smoothShape(c *piece.Cells, n int, of window) *image.Paletted {
	img := image.NewPaletted(image.Rect(0, 0, (of.x1-of.x0)*smoothScale, (of.y1-of.y0)*smoothScale), nil)
	var weight [smoothParts]float64
	var near [(2*smoothReach + 1) * (2*smoothReach + 1)]int16
	for y := of.y0; y < of.y1; y++ {
		for x := of.x0; x < of.x1; x++ {
			part := c.Part[y*c.Across+x]
			if part < 0 {
				continue
			}
			alike, i := true, 0
			for v := y - smoothReach; v <= y+smoothReach; v++ {
				for u := x - smoothReach; u <= x+smoothReach; u++ {
					near[i] = part
					if u >= 0 && v >= 0 && u < c.Across && v < c.Down {
						if p := c.Part[v*c.Across+u]; p >= 0 && p != part {
							near[i], alike = p, false
						}
					}
					i++
				}
			}
			at := (y-of.y0)*smoothScale*img.Stride + (x-of.x0)*smoothScale
			for s := range smoothScale * smoothScale {
				code := uint8(1 + part)
				if !alike {
					clear(weight[:n])
					for i, p := range near {
						weight[p] += smoothKernel[s][i]
					}
					code = edgeOf(weight[:n])
				}
				img.Pix[at+s/smoothScale*img.Stride+s%smoothScale] = code
			}
		}
	}
	return img
}

// edgeOf is the part that weighs most, with what the next one has of it.
func edgeOf(weight []float64) uint8 {
	first, second := 0, -1
	for p := 1; p < len(weight); p++ {
		switch {
		case weight[p] > weight[first]:
			first, second = p, first
		case second < 0 || weight[p] > weight[second]:
			second = p
		}
	}
	const narrow = 1.2 // within a third of a cell of the edge
	share := 0.5 - narrow*(weight[first]-weight[second])
	return mixture(len(weight), first, second, int(math.Round(smoothLevels*math.Max(0, share))))
}

// mixed is one colour with so much of another in it, as light adds.
func mixed(a, b colour.RGB, k float64) colour.RGB {
	one := func(x, y float64) float64 {
		return math.Pow((1-k)*math.Pow(x, 2.2)+k*math.Pow(y, 2.2), 1/2.2)
	}
	return colour.RGB{R: one(a.R, b.R), G: one(a.G, b.G), B: one(a.B, b.B)}
}
