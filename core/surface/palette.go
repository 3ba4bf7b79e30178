package surface

import (
	"errors"
	"image"
	"math"
	"math/rand/v2"
	"slices"
	"sort"
	"sync"

	"lampfern/core/colour"
)

// Swatch is one colour of a picture with its share of it, 0 to 1.
type Swatch struct {
	Colour colour.Lab
	Share  float64
}

// Constants of the clustering.
const (
	paletteSeed   = 20 // fixed, so that a photo always gives the same palette
	paletteRounds = 24
	settledShare  = 500 // done when fewer than one point in so many changes
	mergeUnder    = 6.0 // ΔE00 under which two clusters are one colour
	shareLeast    = 0.004
)

// Shares are how much of a box each of some colours takes, 0 to 1: each pixel counts for
// the nearest of them, and for none where that is further than shareReach. A box outside
// the picture is an error.
func Shares(img image.Image, box image.Rectangle, c Correction, colours []colour.Lab) ([]float64, error) {
	box = box.Intersect(img.Bounds())
	if box.Empty() {
		return nil, errors.New("the box is outside the photo: draw it on the photo")
	}
	all, _ := pixels(img, box)
	out := make([]float64, len(colours))
	for _, p := range all {
		lab, best, at := c.Apply(p.xyz()), shareReach, -1
		for i, o := range colours {
			if d := colour.DeltaE2000(lab, o); d < best {
				best, at = d, i
			}
		}
		if at >= 0 {
			out[at] += 1 / float64(len(all))
		}
	}
	return out, nil
}

// SampleLabels takes a patch of each part that a drawing lays over a box: labels are w × h
// numbers of parts in rows from the top, below 0 for none, spread evenly over the box. A
// label beside another one is left out, for the photo may lie a little beside the drawing.
// A part without a pixel has a patch of none.
func SampleLabels(img image.Image, box image.Rectangle, labels []int16, w, h, parts int) ([]Patch, error) {
	if !box.In(img.Bounds()) || box.Empty() {
		return nil, errors.New("the box goes beyond the photo: draw it inside the photo")
	}
	all, burnt := make([][]pixel, parts), make([]int, parts)
	for y := 1; y+1 < h; y++ {
		for x := 1; x+1 < w; x++ {
			i := y*w + x
			part := labels[i]
			if part < 0 || int(part) >= parts || labels[i-1] != part || labels[i+1] != part || labels[i-w] != part || labels[i+w] != part {
				continue
			}
			one, end := pixelAt(img, box.Min.X+(2*x+1)*box.Dx()/(2*w), box.Min.Y+(2*y+1)*box.Dy()/(2*h))
			all[part], burnt[part] = append(all[part], one), burnt[part]+end
		}
	}
	out := make([]Patch, parts)
	for part := range all {
		if len(all[part]) > 0 {
			out[part] = patchOf(all[part], burnt[part])
		}
	}
	return out, nil
}

// shareReach is how far a pixel may lie from a colour to count for it, in ΔE00: light and
// shade on one cloth part its pixels by about so much.
const shareReach = 25.0

// Palette finds at most most colours of a picture and their shares, largest
// first: k-means++ in OKLab on at most 40,000 pixels with a fixed seed, then
// clusters under ΔE00 6 merged. A cluster's colour is that of the pixel nearest to its mean,
// so that none is shown that the picture does not have. Colours are corrected.
func Palette(img image.Image, c Correction, most int) []Swatch {
	all, _ := pixels(img, img.Bounds())
	points := make([]colour.OKLab, len(all))
	for i, p := range all {
		points[i] = p.xyz().OKLab()
	}
	labels, k := cluster(points, most)
	groups := make([][]int, k) // pixels by number
	for i, l := range labels {
		groups[l] = append(groups[l], i)
	}
	groups = slices.DeleteFunc(groups, func(g []int) bool { return len(g) == 0 })
	var out []Swatch
	var light []pixel // mean of each swatch in linear light, for merging
	for _, g := range groups {
		var m pixel
		for _, i := range g {
			m.r, m.g, m.b = m.r+all[i].r/float64(len(g)), m.g+all[i].g/float64(len(g)), m.b+all[i].b/float64(len(g))
		}
		out = append(out, Swatch{c.Apply(m.xyz()), float64(len(g)) / float64(len(all))})
		light = append(light, m)
	}
	for {
		best, bi, bj := mergeUnder, -1, -1
		for i := range out {
			for j := i + 1; j < len(out); j++ {
				if d := colour.DeltaE2000(out[i].Colour, out[j].Colour); d < best {
					best, bi, bj = d, i, j
				}
			}
		}
		if bi < 0 {
			break
		}
		a, b, s := out[bi].Share, out[bj].Share, out[bi].Share+out[bj].Share
		m := pixel{(light[bi].r*a + light[bj].r*b) / s, (light[bi].g*a + light[bj].g*b) / s, (light[bi].b*a + light[bj].b*b) / s}
		out[bi], light[bi] = Swatch{c.Apply(m.xyz()), s}, m
		groups[bi] = append(groups[bi], groups[bj]...)
		groups = append(groups[:bj], groups[bj+1:]...)
		out, light = append(out[:bj], out[bj+1:]...), append(light[:bj], light[bj+1:]...)
	}
	kept := out[:0]
	for i, s := range out {
		if s.Share >= shareLeast {
			s.Colour = c.Apply(all[nearestTo(points, groups[i], light[i])].xyz())
			kept = append(kept, s)
		}
	}
	sort.SliceStable(kept, func(i, j int) bool { return kept[i].Share > kept[j].Share })
	return kept
}

// nearestTo is which of some points is nearest to a pixel in OKLab.
func nearestTo(points []colour.OKLab, of []int, to pixel) int {
	want := to.xyz().OKLab()
	best, at := math.Inf(1), 0
	for _, i := range of {
		if d := distance2(points[i], want); d < best {
			best, at = d, i
		}
	}
	return at
}

func distance2(a, b colour.OKLab) float64 {
	l, x, y := a.L-b.L, a.A-b.A, a.B-b.B
	return l*l + x*x + y*y
}

// cluster is k-means with k-means++ starts (Arthur, Vassilvitskii 2007).
func cluster(points []colour.OKLab, k int) (labels []int, found int) {
	rnd := rand.New(rand.NewPCG(paletteSeed, paletteSeed))
	labels = make([]int, len(points))
	if len(points) == 0 {
		return labels, 0
	}
	centres := []colour.OKLab{points[rnd.IntN(len(points))]}
	near := make([]float64, len(points))
	for i := range near {
		near[i] = math.Inf(1)
	}
	for len(centres) < k {
		sum := 0.0
		for i, p := range points {
			near[i] = math.Min(near[i], distance2(p, centres[len(centres)-1]))
			sum += near[i]
		}
		if sum < 1e-9 {
			break // fewer colours than asked for
		}
		pick := rnd.Float64() * sum
		at := 0
		for ; at < len(points)-1 && pick > near[at]; at++ {
			pick -= near[at]
		}
		centres = append(centres, points[at])
	}
	for range paletteRounds {
		if assign(points, labels, centres) <= len(points)/settledShare {
			break
		}
	}
	return labels, len(centres)
}

// strips is how many parts of the points are worked on beside each other; it is
// fixed, so that sums come out the same on every machine.
const strips = 2

// assign gives every point to its nearest centre, moves the centres to the mean
// of their points, and says how many points changed centre.
func assign(points []colour.OKLab, labels []int, centres []colour.OKLab) (changed int) {
	type tally struct {
		sums    []colour.OKLab
		counts  []float64
		changed int
	}
	var parts [strips]tally
	var wait sync.WaitGroup
	for s := range parts {
		wait.Go(func() {
			t := tally{make([]colour.OKLab, len(centres)), make([]float64, len(centres)), 0}
			for i := len(points) * s / strips; i < len(points)*(s+1)/strips; i++ {
				p := points[i]
				best, to := math.Inf(1), 0
				for j := range centres {
					l, x, y := p.L-centres[j].L, p.A-centres[j].A, p.B-centres[j].B
					if d := l*l + x*x + y*y; d < best {
						best, to = d, j
					}
				}
				if labels[i] != to {
					labels[i] = to
					t.changed++
				}
				t.sums[to].L, t.sums[to].A, t.sums[to].B = t.sums[to].L+p.L, t.sums[to].A+p.A, t.sums[to].B+p.B
				t.counts[to]++
			}
			parts[s] = t
		})
	}
	wait.Wait()
	for j := range centres {
		var sum colour.OKLab
		count := 0.0
		for _, t := range parts {
			sum.L, sum.A, sum.B, count = sum.L+t.sums[j].L, sum.A+t.sums[j].A, sum.B+t.sums[j].B, count+t.counts[j]
		}
		if count > 0 {
			centres[j] = colour.OKLab{L: sum.L / count, A: sum.A / count, B: sum.B / count}
		}
	}
	for _, t := range parts {
		changed += t.changed
	}
	return changed
}

// Print is what a printed cloth reads as.
type Print struct {
	Near   []Swatch   // the colours seen in the hand, with their coverage
	Across colour.Lab // the one colour it blends to across the room
}

// printColours is the most colours a print is read as having.
const printColours = 8

// ReadPrint reads a print off its photo: its colours with their coverage, and
// the mean in linear light that it blends to at a distance.
func ReadPrint(img image.Image, c Correction) Print {
	all, _ := pixels(img, img.Bounds())
	return Print{Near: Palette(img, c, printColours), Across: c.Apply(mean(all).xyz())}
}

// Piece is one sample piece cut from a print.
type Piece struct {
	Box    image.Rectangle // where it lies on the photo
	Colour colour.Lab
	Apart  float64 // ΔE00 to the whole
}

// Cutting is how a print fares when it is cut small.
type Cutting struct {
	Whole  colour.Lab
	Pieces []Piece
	Holds  float64                       // share of pieces within HoldsUnder of the whole
	Away   map[colour.FamilyName]float64 // share of all pieces that go elsewhere, by the family they read as
}

// Constants of cutting.
const (
	cutPieces  = 200
	cutSeed    = 200
	cutTries   = 400  // places looked at for one piece
	HoldsUnder = 10.0 // ΔE00
	cutSamples = 900  // pixels read of each piece
)

// Cut samples 200 square pieces of a print at random places and reads each.
// Width is what the photo shows across, size the side of a piece, both in
// millimetres; a piece must fit the photo and cover at least three pixels.
func Cut(img image.Image, c Correction, width, size float64) (Cutting, error) {
	b := img.Bounds()
	if !(width > 0 && width <= 5000) {
		return Cutting{}, errors.New("say how many millimetres of cloth the photo shows across, from 1 to 5000")
	}
	side := int(math.Round(size / width * float64(b.Dx())))
	switch {
	case !(size > 0) || side < smallest:
		return Cutting{}, errors.New("the pieces are too small for this photo: use a closer photo or larger pieces")
	case side > b.Dx() || side > b.Dy():
		return Cutting{}, errors.New("the pieces are larger than the cloth in the photo: use smaller pieces or a photo of more cloth")
	}
	rnd := rand.New(rand.NewPCG(cutSeed, cutSeed))
	all, _ := pixels(img, b)
	whole := func(x, y int) bool { // no corner nor the middle lies beside the print
		return counted(img, x, y) && counted(img, x+side-1, y) && counted(img, x, y+side-1) && counted(img, x+side-1, y+side-1) &&
			counted(img, x+side/2, y+side/2)
	}
	out := Cutting{Whole: c.Apply(mean(all).xyz()), Away: map[colour.FamilyName]float64{}}
	step := max(1, int(float64(side)/math.Sqrt(cutSamples)))
	var piece []pixel
	for range cutPieces {
		var x, y int
		for tries := 0; ; tries++ {
			if x, y = b.Min.X+rnd.IntN(b.Dx()-side+1), b.Min.Y+rnd.IntN(b.Dy()-side+1); whole(x, y) {
				break
			}
			if tries == cutTries {
				return Cutting{},
					errors.New("the pieces are larger than the cloth beside the white paper: use smaller pieces or a photo of more cloth")
			}
		}
		piece = piece[:0]
		for py := y; py < y+side; py += step {
			for px := x; px < x+side; px += step {
				r, g, bl := at(img, px, py)
				piece = append(piece, pixel{linear[r], linear[g], linear[bl]})
			}
		}
		p := Piece{Box: image.Rect(x, y, x+side, y+side), Colour: c.Apply(mean(piece).xyz())}
		p.Apart = colour.DeltaE2000(out.Whole, p.Colour)
		if p.Apart < HoldsUnder {
			out.Holds += 1. / cutPieces
		} else {
			out.Away[colour.Family(p.Colour)] += 1. / cutPieces
		}
		out.Pieces = append(out.Pieces, p)
	}
	return out, nil
}
