package piece

import "lampfern/core/nest"

// Bundle is a box in cm that is cut so often of a cloth, W across it and H along it. Turn says that
// it may lie the other way.
type Bundle struct {
	W, H  float64
	Count int
	Turn  bool
}

// MostBoxes bounds the boxes that are laid one by one; of more, alike ones are stacked first.
const MostBoxes = 600

// boxesOf are bundles as boxes, in stacks of alike where there are many, and how many a stack holds.
func boxesOf(all []Bundle) (boxes []nest.Box, stacked []int) {
	n := 0
	for _, b := range all {
		n += b.Count
	}
	stack := max(1, (n+MostBoxes-1)/MostBoxes)
	for _, b := range all {
		for left := b.Count; left > 0; left -= stack {
			k := min(stack, left)
			boxes = append(boxes, nest.Box{W: b.W, H: b.H * float64(k), Turn: b.Turn && k == 1})
			stacked = append(stacked, k)
		}
	}
	return boxes, stacked
}

// LayOut lays bundles on a cloth of a usable width in cm, and returns every cut and the length they
// take. What is wider than the cloth is left out: callers refuse it before.
func LayOut(all []Bundle, width float64) (cuts []Cut, long float64) {
	boxes, stacked := boxesOf(all)
	places, long, ok := nest.Cloth(boxes, width)
	if !ok {
		return nil, 0
	}
	for _, p := range places {
		for k := range stacked[p.Box] {
			h := p.H / float64(stacked[p.Box])
			cuts = append(cuts, Cut{X: p.X, Y: p.Y + float64(k)*h, W: p.W, H: h})
		}
	}
	return cuts, long
}

// Quarters are the sheets of one size in cm that bundles take; not ok where one is larger than a
// sheet. Of very many a part is laid, and taken as often as it goes into all.
func Quarters(all []Bundle, width, high float64) (sheets float64, ok bool) {
	count := 0
	for _, b := range all {
		count += b.Count
	}
	times := max(1, (count+MostBoxes-1)/MostBoxes)
	var boxes []nest.Box
	for _, b := range all {
		for range (b.Count + times - 1) / times {
			boxes = append(boxes, nest.Box{W: b.W, H: b.H, Turn: b.Turn})
		}
	}
	_, n, ok := nest.Sheets(boxes, width, high)
	return float64(n * times), ok
}
