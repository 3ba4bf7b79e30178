package surface

import (
	"fmt"
	"image"
	"image/color"
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"

	"lampfern/core/colour"
)

// heap is a photo of balls on a table: each lit from the upper left, with strands, noise and a shadow beside it, and a
// sheet of white paper. It returns where they lie.
func heap(seed uint64, n int, table colour.Lab) (*image.NRGBA, []image.Point, []colour.Lab, int) {
	const w, h, r = 720, 540, 62
	rnd := rand.New(rand.NewPCG(seed, 7))
	img := image.NewNRGBA(image.Rect(0, 0, w, h))
	var at []image.Point
	var of []colour.Lab
	for i := range n {
		at = append(at, image.Pt(100+i%4*170+rnd.IntN(20), 90+i/4*160+rnd.IntN(24)))
		for {
			c := colour.LCh{L: 25 + 65*rnd.Float64(), C: 12 + 50*rnd.Float64(), H: 360 * rnd.Float64()}.Lab()
			far := shaded(c, table) > 20
			for _, o := range of {
				far = far && shaded(c, o) > 10
			}
			if _, in := c.RGB(); in && far {
				of = append(of, c)
				break
			}
		}
	}
	set := func(x, y int, l colour.Lab) {
		l.L += 5 * (rnd.Float64() - .5)
		c, _ := l.RGB()
		img.SetNRGBA(x, y, color.NRGBA{uint8(255 * c.R), uint8(255 * c.G), uint8(255 * c.B), 255})
	}
	for y := range h {
		for x := range w {
			l := table
			l.L -= 8 * float64(x) / w // the light falls off
			if x > 560 && y > 400 {
				l = colour.Lab{L: 93}
			}
			for i, p := range at {
				dx, dy := float64(x-p.X)/r, float64(y-p.Y)/r
				if sx, sy := dx-.25, dy-.25; sx*sx+sy*sy < 1 && dx*dx+dy*dy >= 1 {
					l.L -= 16
				}
				if dx*dx+dy*dy < 1 {
					l = of[i]
					l.L += -14*(dx+dy) + 3*math.Sin(float64(x+2*y)/3)
					l.L = min(98, max(4, l.L))
				}
			}
			set(x, y, l)
		}
	}
	return img, at, of, r
}

// Of twelve heaps of balls at least nine in ten are found, each box within one ball, and next to nothing else.
func TestObjectsOnATable(t *testing.T) {
	balls, found, other := 0, 0, 0
	for seed := range uint64(12) {
		table := []colour.Lab{{L: 62, A: 8, B: 20}, {L: 40, A: 3, B: 4}, {L: 80}, {L: 55, A: -4, B: -8}}[seed%4]
		n := 4 + int(seed%5)
		img, at, _, r := heap(seed, n, table)
		boxes := Objects(img, Correction{}, 24)
		balls += n
		hit := map[int]bool{}
		for _, b := range boxes {
			in := -1
			for i, p := range at {
				far := 0.0
				for _, c := range []image.Point{b.Min, {X: b.Max.X, Y: b.Min.Y}, {X: b.Min.X, Y: b.Max.Y}, b.Max} {
					far = max(far, math.Hypot(float64(c.X-p.X), float64(c.Y-p.Y)))
				}
				if far <= float64(r) {
					in = i
				}
			}
			if in >= 0 && !hit[in] {
				hit[in] = true
				found++
			} else if b.Min.X < 560 || b.Min.Y < 400 { // the paper may be a thing
				other++
			}
		}
	}
	t.Logf("%d of %d balls found; %d boxes elsewhere", found, balls, other)
	assert.GreaterOrEqual(t, found, balls*9/10)
	assert.LessOrEqual(t, other, balls/10)
	assert.Nil(t, Objects(image.NewNRGBA(image.Rect(0, 0, 3, 3)), Correction{}, 24))
	assert.Empty(t, Objects(image.NewNRGBA(image.Rect(0, 0, 300, 200)), Correction{}, 24), "an empty table")
}

// Boxes come in reading order.
func TestObjectsInRows(t *testing.T) {
	img, at, _, _ := heap(3, 8, colour.Lab{L: 62, A: 8, B: 20})
	boxes := Objects(img, Correction{}, 24)
	last := -1
	for _, b := range boxes {
		for i, p := range at {
			if p.In(b) {
				assert.Greater(t, i, last, fmt.Sprint(b))
				last = i
			}
		}
	}
	assert.Len(t, Objects(img, Correction{}, 3), 3, "no more than asked for")
}
