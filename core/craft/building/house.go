package building

import "lampfern/core/piece"

var housePattern = piece.Pattern{Key: "house", Name: "House front",
	Words: "a house front in courses of building parts: walls, corners, door, windows, frames, roof and base",
	Settings: []piece.Setting{piece.Whole("width", "parts across", 8, 48, 16), piece.Whole("courses", "courses", 6, 40, 12),
		piece.MM("part", "part width", 4, 60, 16), piece.MM("course", "course height", 4, 60, 18)},
	Make: piece.Plain(house)}

// house lays every course part by part, each two units wide and offset by one
// from the course below, so that regions are the parts to buy.
func house(v piece.Values) piece.Piece {
	const walls, corner, door, panes, frames, roof, base = 0, 1, 2, 3, 4, 5, 6
	w, n, u, h := int(v["width"]), int(v["courses"]), v["part"], v["course"]
	steps := (w + 3) / 2 // each course of the gable is one unit shorter at both ends
	p := piece.Piece{Width: float64(w+2) * u, Height: float64(steps+n+1) * h,
		Parts: piece.Parts("walls", "walls", "corner", "corners", "door", "door", "panes", "window panes", "frames", "frames", "roof", "roof",
			"base", "base")}
	top := float64(steps) * h
	for s := range steps {
		long := w + 2 - 2*(steps-1-s)
		for c := 0; c < long; {
			part := min(2-(c+s)%2, long-c)
			p.Rect(roof, float64(steps-1-s+c)*u, float64(s)*h, float64(part)*u, h)
			c += part
		}
		ends := []int{0, long - 1} // which the course above leaves free
		if long < 2 {
			ends = ends[:1]
		}
		for _, c := range ends {
			p.Lines = append(p.Lines, stud(float64(steps-1-s+c)*u, float64(s)*h, u, h))
		}
	}
	doorAt, doorHigh := w/2-1, max(3, n/3)
	kind := func(r, c int) int { // r from the top course, c from the left
		switch {
		case c == 0 || c == w-1:
			return corner
		case r >= n-doorHigh && c >= doorAt && c < doorAt+2:
			return door
		case r == n-doorHigh-1 && c >= doorAt && c < doorAt+2:
			return frames
		}
		for _, at := range []int{1 + w/8, w - 3 - w/8} {
			for _, row := range []int{1 + n/6, 6 + n/6}[:1+n/10%2] { // a lower window where it has room
				switch {
				case c < at || c >= at+2:
				case r == row || r == row+1:
					return panes
				case r == row-1 || r == row+2:
					return frames
				}
			}
		}
		return walls
	}
	for r := range n {
		for c := 0; c < w; {
			k, long := kind(r, c), 1
			if c%2 != r%2 && c+1 < w && kind(r, c+1) == k {
				long = 2
			}
			p.Rect(k, float64(c+1)*u, top+float64(r)*h, float64(long)*u, h)
			c += long
		}
	}
	p.Rect(base, 0, top+float64(n)*h, p.Width, h)
	p.Lines = append(p.Lines, p.Seams()...)
	return p
}

// stud is what stands up from the top of a unit whose left corner is there.
func stud(x, y, unit, high float64) piece.Line {
	l, r, t := x+.22*unit, x+.78*unit, y-.24*high
	return piece.Line{Through: []piece.Point{piece.At(l, y), piece.At(l, t), piece.At(r, t), piece.At(r, y)}}
}
