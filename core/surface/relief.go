package surface

import (
	"errors"
	"fmt"
	"image"
	"math"
	"slices"

	"lampfern/core/colour"
)

// Bare says how a photo of a bare thing becomes a relief to be coloured: the
// part of it that is used, in shares of the photo, turned clockwise by degrees,
// how far its light is evened and its forms sharpened, both 0 to 1.
type Bare struct {
	X       float64 `json:"x"`
	Y       float64 `json:"y"`
	W       float64 `json:"w"`
	H       float64 `json:"h"`
	Turn    float64 `json:"turn,omitempty"`
	Even    float64 `json:"even,omitempty"`
	Sharpen float64 `json:"sharpen,omitempty"`
}

// Check says in one sentence what is out of range.
func (b Bare) Check() error {
	within := func(v, from, to float64) bool { return v >= from && v <= to }
	switch {
	case !within(b.X, 0, 1) || !within(b.Y, 0, 1) || !within(b.W, .02, 1) || !within(b.H, .02, 1) || b.X+b.W > 1+1e-9 || b.Y+b.H > 1+1e-9:
		return errors.New("that part is outside the photo, or too small: choose it within the photo")
	case !within(b.Turn, -MostTurn, MostTurn):
		return fmt.Errorf("a photo can be straightened by at most %g degrees either way", MostTurn)
	case !within(b.Even, 0, 1) || !within(b.Sharpen, 0, 1):
		return errors.New("evening and sharpening go from 0 to 1")
	}
	return nil
}

// Bounds of a relief.
const (
	MostTurn      = 45.0
	darkest       = 60.0 // the grey that the darkest hundredth becomes
	brightest     = 250.0
	tooDark       = 0.012 // linear light of the brightest twentieth
	tooFlat       = 1.15  // brightest over darkest, of grey levels
	evenWithin    = 0.12  // of the longer side: light is evened over so much
	sharpenWithin = 0.0022
)

// ErrTooDark and ErrTooFlat tell that a photo shows no form to be coloured.
var (
	ErrTooDark = errors.New("the photo is too dark to show its shapes: use more light, or brighten it first")
	ErrTooFlat = errors.New("the photo is one even grey, so it shows no shapes: choose the part that shows the thing, or light it from one side")
)

// Relief is a photo made grey, straight, even and sharp so that neither its
// darks nor its lights are lost: from the darkest hundredth to the brightest it
// spans the same greys whatever the photo's own. Colours are shown by multiplying
// with it.
func Relief(img *image.RGBA, b Bare) (*image.Gray, error) {
	full := img.Bounds()
	w, h := int(math.Round(b.W*float64(full.Dx()))), int(math.Round(b.H*float64(full.Dy())))
	if err := b.Check(); err != nil {
		return nil, err
	}
	if w < 8 || h < 8 {
		return nil, errors.New("the photo is too small to be coloured: use a larger part of it")
	}
	light := greys(img, b, w, h)
	if quantile(light, .95) < math.Cbrt(tooDark) {
		return nil, ErrTooDark
	}
	side := float64(max(w, h))
	if b.Even > 0 {
		evened(light, w, h, evenWithin*side, b.Even)
	}
	if b.Sharpen > 0 {
		soft := slices.Clone(light)
		blurred(soft, w, h, max(1, int(sharpenWithin*side)))
		for i, v := range soft {
			light[i] += 1.5 * b.Sharpen * (light[i] - v)
		}
	}
	low, high := quantile(light, .01), quantile(light, .99)
	if high < tooFlat*math.Max(low, 1e-3) && high-low < .02 {
		return nil, ErrTooFlat
	}
	out := image.NewGray(image.Rect(0, 0, w, h))
	for i, v := range light {
		out.Pix[i] = uint8(math.Round(math.Max(0, math.Min(255, darkest+(brightest-darkest)*(v-low)/(high-low)))))
	}
	return out, nil
}

// greys is the part of a photo that is used, straightened, as the cube root of its
// linear luminance: in that, steps are seen alike. Beyond its edges the photo is
// taken to go on as it ends.
func greys(img *image.RGBA, b Bare, w, h int) []float64 {
	full := img.Bounds()
	var lin [256]float64
	for i := range lin {
		lin[i], _, _ = colour.RGB{R: float64(i) / 255}.Linear()
	}
	const levels = 4096
	var root [levels + 1]float64
	for i := range root {
		root[i] = math.Cbrt(float64(i) / levels)
	}
	plane := make([]float64, full.Dx()*full.Dy())
	for y := range full.Dy() {
		row := img.Pix[y*img.Stride:]
		for x := range full.Dx() {
			p := row[x*4 : x*4+3 : x*4+3]
			v := 0.2126*lin[p[0]] + 0.7152*lin[p[1]] + 0.0722*lin[p[2]]
			at := v * levels
			k := min(int(at), levels-1)
			plane[y*full.Dx()+x] = root[k] + (at-float64(k))*(root[k+1]-root[k])
		}
	}
	out := make([]float64, w*h)
	sin, cos := math.Sincos(b.Turn * math.Pi / 180)
	cx, cy := (b.X+b.W/2)*float64(full.Dx())-.5, (b.Y+b.H/2)*float64(full.Dy())-.5
	for y := range h {
		dy := float64(y) + .5 - float64(h)/2
		for x := range w {
			dx := float64(x) + .5 - float64(w)/2
			sx := math.Max(0, math.Min(float64(full.Dx()-1), cx+cos*dx+sin*dy))
			sy := math.Max(0, math.Min(float64(full.Dy()-1), cy-sin*dx+cos*dy))
			i, j := min(int(sx), full.Dx()-2), min(int(sy), full.Dy()-2)
			u, v := sx-float64(i), sy-float64(j)
			p := plane[j*full.Dx()+i:]
			q := plane[(j+1)*full.Dx()+i:]
			out[y*w+x] = (1-v)*((1-u)*p[0]+u*p[1]) + v*((1-u)*q[0]+u*q[1])
		}
	}
	return out
}

// evened divides light by its own mean over a wide neighbourhood, as far as much
// says, 0 to 1. The mean is smooth, so it is worked out at an eighth of the size.
func evened(light []float64, w, h int, sigma, much float64) {
	const step = 8
	cw, ch := (w+step-1)/step, (h+step-1)/step
	sum, n := make([]float64, cw*ch), make([]float64, cw*ch)
	for y := range h {
		for x := range w {
			sum[y/step*cw+x/step] += light[y*w+x]
			n[y/step*cw+x/step]++
		}
	}
	mean := 0.0
	for i := range sum {
		sum[i] /= n[i]
		mean += sum[i] / float64(len(sum))
	}
	gaussian(sum, cw, ch, sigma/step, sigma/step)
	for i, v := range sum {
		sum[i] = math.Pow(mean/math.Max(v, .05), much)
	}
	for y := range h {
		fy := math.Max(0, math.Min(float64(ch-1), (float64(y)+.5)/step-.5))
		j := min(int(fy), max(0, ch-2))
		v := fy - float64(j)
		for x := range w {
			fx := math.Max(0, math.Min(float64(cw-1), (float64(x)+.5)/step-.5))
			i := min(int(fx), max(0, cw-2))
			u := fx - float64(i)
			at := func(a, b int) float64 { return sum[min(b, ch-1)*cw+min(a, cw-1)] }
			light[y*w+x] *= (1-v)*((1-u)*at(i, j)+u*at(i+1, j)) + v*((1-u)*at(i, j+1)+u*at(i+1, j+1))
		}
	}
}

// blurred is the mean over a square of 2r+1 pixels, in place, twice.
func blurred(p []float64, w, h, r int) {
	row, sums := make([]float64, w), make([]float64, w)
	clampX := func(x int) int { return min(max(x, 0), w-1) }
	clampY := func(y int) int { return min(max(y, 0), h-1) }
	k := 1 / float64(2*r+1)
	for range 2 {
		for y := range h {
			line, sum := p[y*w:y*w+w], 0.0
			for x := -r; x <= r; x++ {
				sum += line[clampX(x)]
			}
			for x := range w {
				row[x] = sum * k
				sum += line[clampX(x+r+1)] - line[clampX(x-r)]
			}
			copy(line, row)
		}
		old := slices.Clone(p)
		clear(sums)
		for y := -r; y <= r; y++ {
			for x, v := range old[clampY(y)*w : clampY(y)*w+w] {
				sums[x] += v
			}
		}
		for y := range h {
			in, out := old[clampY(y+r+1)*w:], old[clampY(y-r)*w:]
			for x := range w {
				p[y*w+x] = sums[x] * k
				sums[x] += in[x] - out[x]
			}
		}
	}
}

// quantile is the value below which a share of all lie, found by a sample.
func quantile(all []float64, share float64) float64 {
	step := max(1, len(all)/20_000)
	var some []float64
	for i := 0; i < len(all); i += step {
		some = append(some, all[i])
	}
	slices.Sort(some)
	return some[min(len(some)-1, int(share*float64(len(some))))]
}

// Highlights is where a relief catches the light: nothing up to its upper
// tenth, then rising to white.
func Highlights(g *image.Gray) *image.Alpha {
	const from = 230
	out := image.NewAlpha(g.Bounds())
	for i, v := range g.Pix {
		if v > from {
			k := float64(v-from) / (255 - from)
			out.Pix[i] = uint8(math.Round(255 * k * k))
		}
	}
	return out
}

// Spot is a place on a relief in pixels.
type Spot struct{ X, Y float64 }

// Grow is the outline of what belongs to the place x, y: all that can be reached
// from it over greys within tolerance of the place's own (0 to 255) without
// crossing an edge of the picture. Holes are filled. It is nil when that is less
// than a few pixels.
func Grow(g *image.Gray, x, y int, tolerance float64) []Spot {
	w, h := g.Rect.Dx(), g.Rect.Dy()
	if x < 0 || y < 0 || x >= w || y >= h {
		return nil
	}
	seed, n := 0.0, 0.0
	for j := max(0, y-2); j <= min(h-1, y+2); j++ {
		for i := max(0, x-2); i <= min(w-1, x+2); i++ {
			seed, n = seed+float64(g.Pix[j*g.Stride+i]), n+1
		}
	}
	seed /= n
	edge := 0.9*tolerance + 6 // of the slope over two pixels
	const unknown, inside, outside = 0, 1, 2
	state := make([]uint8, w*h)
	reach := func(i, j int) uint8 {
		at := j*g.Stride + i
		if math.Abs(float64(g.Pix[at])-seed) > 2.2*tolerance {
			return outside
		}
		l, r, u, d := at-1, at+1, at-g.Stride, at+g.Stride
		if i == 0 || i == w-1 || j == 0 || j == h-1 {
			l, r, u, d = j*g.Stride+max(i-1, 0), j*g.Stride+min(i+1, w-1), max(j-1, 0)*g.Stride+i, min(j+1, h-1)*g.Stride+i
		}
		if math.Abs(float64(g.Pix[r])-float64(g.Pix[l])) >= edge || math.Abs(float64(g.Pix[d])-float64(g.Pix[u])) >= edge {
			return outside
		}
		return inside
	}
	stack := []int32{int32(y*w + x)}
	state[y*w+x] = inside
	count := 0
	push := func(a, b int) {
		if at := b*w + a; state[at] == unknown {
			if state[at] = reach(a, b); state[at] == inside {
				stack = append(stack, int32(at))
			}
		}
	}
	for len(stack) > 0 {
		at := int(stack[len(stack)-1])
		stack = stack[:len(stack)-1]
		count++
		i, j := at%w, at/w
		if i > 0 {
			push(i-1, j)
		}
		if i < w-1 {
			push(i+1, j)
		}
		if j > 0 {
			push(i, j-1)
		}
		if j < h-1 {
			push(i, j+1)
		}
	}
	if count < 12 {
		return nil
	}
	// One pixel wider, on to the edge itself.
	wider := make([]bool, w*h)
	for j := range h {
		for i := range w {
			at := j*w + i
			wider[at] = state[at] == inside || i > 0 && state[at-1] == inside || i < w-1 && state[at+1] == inside || j > 0 &&
				state[at-w] == inside || j < h-1 && state[at+w] == inside
		}
	}
	return simplify(around(wider, w, h, y*w+x), 1.1)
}

// around walks the outer border of the cells that hold the start, along the
// corners of cells, clockwise.
func around(in []bool, w, h, start int) []Spot {
	has := func(i, j int) bool { return i >= 0 && j >= 0 && i < w && j < h && in[j*w+i] }
	// Up from the start to a cell whose upper side is a border of the outside: the
	// highest of all will do.
	top := start
	for at, on := range in {
		if on {
			top = at
			break
		}
	}
	x, y := top%w, top/w
	sx, sy := x, y
	dx, dy := 1, 0 // along the upper side, the cell to the right hand
	var out []Spot
	for range 4 * w * h {
		out = append(out, Spot{float64(x), float64(y)})
		x, y = x+dx, y+dy
		if x == sx && y == sy {
			break
		}
		// The cells ahead, to the left and to the right of the way.
		var left, right bool
		switch {
		case dx == 1:
			left, right = has(x, y-1), has(x, y)
		case dx == -1:
			left, right = has(x-1, y), has(x-1, y-1)
		case dy == 1:
			left, right = has(x, y), has(x-1, y)
		default:
			left, right = has(x-1, y-1), has(x, y-1)
		}
		switch {
		case left:
			dx, dy = dy, -dx
		case !right:
			dx, dy = -dy, dx
		}
	}
	return out
}

// simplify leaves out corners that lie within so many pixels of what remains
// (Douglas and Peucker, 1973).
func simplify(loop []Spot, within float64) []Spot {
	if len(loop) < 4 {
		return loop
	}
	far := 0
	for i, p := range loop {
		if math.Hypot(p.X-loop[0].X, p.Y-loop[0].Y) > math.Hypot(loop[far].X-loop[0].X, loop[far].Y-loop[0].Y) {
			far = i
		}
	}
	closed := append(slices.Clone(loop), loop[0])
	keep := make([]bool, len(closed))
	keep[0], keep[far], keep[len(closed)-1] = true, true, true
	type span struct{ a, b int }
	stack := []span{{0, far}, {far, len(closed) - 1}}
	for len(stack) > 0 {
		s := stack[len(stack)-1]
		stack = stack[:len(stack)-1]
		p, q := closed[s.a], closed[s.b]
		length := math.Hypot(q.X-p.X, q.Y-p.Y)
		most, at := within, -1
		for i := s.a + 1; i < s.b; i++ {
			d := math.Hypot(closed[i].X-p.X, closed[i].Y-p.Y)
			if length > 0 {
				d = math.Abs((q.X-p.X)*(p.Y-closed[i].Y)-(p.X-closed[i].X)*(q.Y-p.Y)) / length
			}
			if d > most {
				most, at = d, i
			}
		}
		if at >= 0 {
			keep[at] = true
			stack = append(stack, span{s.a, at}, span{at, s.b})
		}
	}
	var out []Spot
	for i, p := range closed[:len(loop)] {
		if keep[i] {
			out = append(out, p)
		}
	}
	return out
}

// Follow draws the sides of an outline onto the picture's own edges: places along
// each side are moved across it, by at most reach pixels, to where the greys
// change most, if they change enough. Corners are kept where they were unless an
// edge is near.
func Follow(g *image.Gray, outline []Spot, reach float64) []Spot {
	const every, enough = 7.0, 14.0
	w, h := g.Rect.Dx(), g.Rect.Dy()
	grey := func(x, y float64) float64 {
		i, j := min(max(int(x), 0), w-1), min(max(int(y), 0), h-1)
		return float64(g.Pix[j*g.Stride+i])
	}
	var out []Spot
	for k, p := range outline {
		q := outline[(k+1)%len(outline)]
		length := math.Hypot(q.X-p.X, q.Y-p.Y)
		if length == 0 {
			continue
		}
		nx, ny := -(q.Y-p.Y)/length, (q.X-p.X)/length
		steps := max(1, int(length/every))
		for s := range steps {
			t := (float64(s) + .5) / float64(steps)
			x, y := p.X+t*(q.X-p.X), p.Y+t*(q.Y-p.Y)
			best, by := enough, 0.0
			for d := -reach; d <= reach; d++ {
				slope := math.Abs(grey(x+(d+1.5)*nx, y+(d+1.5)*ny)-grey(x+(d-1.5)*nx, y+(d-1.5)*ny)) - .6*math.Abs(d)
				if slope > best {
					best, by = slope, d
				}
			}
			out = append(out, Spot{x + by*nx, y + by*ny})
		}
	}
	return simplify(out, 1)
}
