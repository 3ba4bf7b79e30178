package exchange

import (
	"errors"
	"math"
	"strconv"
	"strings"

	"lampfern/core/piece"
)

// pathReader reads the data of an SVG path (SVG 1.1, 8.3) as closed loops of
// straight lines.
type pathReader struct {
	rest    string
	flat    int // lines a curve
	at      piece.Point
	start   piece.Point
	ctrl    piece.Point // the last control point, for smooth curves
	last    byte
	loops   [][]piece.Point
	loop    []piece.Point
	corners int
}

var errPath = errors.New("a path of the drawing is damaged: export it again as plain SVG")

// pathLoops are the loops of a path of at most most corners; more are errCorners.
func pathLoops(d string, flat, most int) ([][]piece.Point, error) {
	p := &pathReader{rest: d, flat: flat}
	var op byte
	for {
		p.space()
		if p.rest == "" {
			break
		}
		if c := p.rest[0]; c >= 'A' && c <= 'Z' || c >= 'a' && c <= 'z' {
			op, p.rest = c, p.rest[1:]
		} else if op == 0 || op == 'z' || op == 'Z' {
			return nil, errPath
		}
		if err := p.step(op); err != nil {
			return nil, err
		}
		p.last = op
		switch op {
		case 'M':
			op = 'L' // further pairs are lines
		case 'm':
			op = 'l'
		}
		if p.corners > most {
			return nil, errCorners
		}
	}
	p.end()
	return p.loops, nil
}

func (p *pathReader) space() { p.rest = strings.TrimLeft(p.rest, " \t\r\n,") }

func (p *pathReader) end() {
	if len(p.loop) > 2 {
		p.loops = append(p.loops, p.loop)
	}
	p.loop = nil
}

// numbers reads n numbers; flags of an arc may stand without a gap.
func (p *pathReader) numbers(n int, flags ...int) ([]float64, error) {
	out := make([]float64, n)
	for i := range out {
		p.space()
		isFlag := false
		for _, f := range flags {
			isFlag = isFlag || f == i
		}
		if isFlag {
			if p.rest == "" || p.rest[0] != '0' && p.rest[0] != '1' {
				return nil, errPath
			}
			out[i], p.rest = float64(p.rest[0]-'0'), p.rest[1:]
			continue
		}
		at := number.FindStringIndex(p.rest)
		if at == nil || at[0] != 0 {
			return nil, errPath
		}
		v, err := strconv.ParseFloat(p.rest[:at[1]], 64)
		if err != nil {
			return nil, errPath
		}
		out[i], p.rest = v, p.rest[at[1]:]
	}
	return out, nil
}

func (p *pathReader) to(q piece.Point) {
	p.at = q
	p.loop = append(p.loop, q)
	p.corners++
}

// counts is how many numbers each command takes.
var counts = map[byte]int{'M': 2, 'L': 2, 'H': 1, 'V': 1, 'C': 6, 'S': 4, 'Q': 4, 'T': 2, 'A': 7, 'Z': 0}

func (p *pathReader) step(op byte) error {
	big := op &^ 0x20
	n, known := counts[big]
	if !known {
		return errPath
	}
	var flags []int
	if big == 'A' {
		flags = []int{3, 4}
	}
	v, err := p.numbers(n, flags...)
	if err != nil {
		return err
	}
	from := piece.Point{}
	if op >= 'a' {
		from = p.at
	}
	point := func(i int) piece.Point { return piece.Point{X: from.X + v[i], Y: from.Y + v[i+1]} }
	smooth := func(of string) piece.Point {
		if strings.IndexByte(of, p.last&^0x20) >= 0 && p.last != 0 {
			return piece.Point{X: 2*p.at.X - p.ctrl.X, Y: 2*p.at.Y - p.ctrl.Y}
		}
		return p.at
	}
	switch big {
	case 'M':
		p.end()
		p.start = point(0)
		p.to(p.start)
	case 'L':
		p.to(point(0))
	case 'H':
		p.to(piece.Point{X: from.X + v[0], Y: p.at.Y})
	case 'V':
		p.to(piece.Point{X: p.at.X, Y: from.Y + v[0]})
	case 'C':
		p.ctrl = point(2)
		p.cubic(point(0), p.ctrl, point(4))
	case 'S':
		c := smooth("CS")
		p.ctrl = point(0)
		p.cubic(c, p.ctrl, point(2))
	case 'Q':
		p.quadratic(point(0), point(2))
	case 'T':
		p.quadratic(smooth("QT"), point(0))
	case 'A':
		p.arc(v, point(5))
	case 'Z':
		p.end()
		p.at = p.start
	}
	return nil
}

func (p *pathReader) cubic(a, b, to piece.Point) {
	from := p.at
	for i := 1; i <= p.flat; i++ {
		t := float64(i) / float64(p.flat)
		u := 1 - t
		p.to(piece.Point{X: u*u*u*from.X + 3*u*u*t*a.X + 3*u*t*t*b.X + t*t*t*to.X, Y: u*u*u*from.Y + 3*u*u*t*a.Y + 3*u*t*t*b.Y + t*t*t*to.Y})
	}
}

func (p *pathReader) quadratic(c, to piece.Point) {
	from := p.at
	p.ctrl = c
	third := func(a, b float64) float64 { return a + 2*(b-a)/3 }
	p.cubic(piece.Point{X: third(from.X, c.X), Y: third(from.Y, c.Y)}, piece.Point{X: third(to.X, c.X), Y: third(to.Y, c.Y)}, to)
}

// arc follows an elliptical arc (SVG 1.1, F.6.5).
func (p *pathReader) arc(v []float64, to piece.Point) {
	rx, ry := math.Abs(v[0]), math.Abs(v[1])
	from := p.at
	if rx == 0 || ry == 0 || from == to {
		p.to(to)
		return
	}
	sin, cos := math.Sincos(v[2] * math.Pi / 180)
	dx, dy := (from.X-to.X)/2, (from.Y-to.Y)/2
	x, y := cos*dx+sin*dy, -sin*dx+cos*dy
	if k := x*x/(rx*rx) + y*y/(ry*ry); k > 1 {
		rx, ry = rx*math.Sqrt(k), ry*math.Sqrt(k)
	}
	under := (rx*rx*ry*ry - rx*rx*y*y - ry*ry*x*x) / (rx*rx*y*y + ry*ry*x*x)
	k := math.Sqrt(math.Max(0, under))
	if v[3] == v[4] {
		k = -k
	}
	cx, cy := k*rx*y/ry, -k*ry*x/rx
	mx, my := cos*cx-sin*cy+(from.X+to.X)/2, sin*cx+cos*cy+(from.Y+to.Y)/2
	a := math.Atan2((y-cy)/ry, (x-cx)/rx)
	sweep := math.Atan2((-y-cy)/ry, (-x-cx)/rx) - a
	switch {
	case v[4] == 0 && sweep > 0:
		sweep -= 2 * math.Pi
	case v[4] == 1 && sweep < 0:
		sweep += 2 * math.Pi
	}
	n := max(2, int(math.Ceil(math.Abs(sweep)/(math.Pi/2)*float64(p.flat))))
	for i := 1; i < n; i++ {
		s, c := math.Sincos(a + sweep*float64(i)/float64(n))
		p.to(piece.Point{X: mx + cos*rx*c - sin*ry*s, Y: my + sin*rx*c + cos*ry*s})
	}
	p.to(to)
}
