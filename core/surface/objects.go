package surface

import (
	"cmp"
	"image"
	"math"
	"slices"

	"lampfern/core/colour"
)

// How things on a photo are told from what they lie on.
const (
	objectCells  = 120   // on the longest side, that are looked at
	objectMerge  = 250.0 // k of the segmentation: larger makes fewer, larger patches
	objectLeast  = 0.006 // share of the picture that a thing takes at least
	objectShade  = 0.5   // what a difference in lightness counts beside one in hue: a ball has a lit side
	objectsAlike = 7.0   // neighbours under this, in the same measure, are one thing
	objectRim    = 0.2   // share of the picture's border from which a patch is what the things lie on
	objectGround = 9.0   // and patches so near to the ground are more of it
	objectBox    = 0.62  // of the largest square within a thing: its middle
)

// Objects proposes boxes on a photo, one within each thing that lies there, from the top left in rows, at most
// most: the largest. A thing is a patch of about one colour that is not the ground; patches are found by the graph
// segmentation of Felzenszwalb and Huttenlocher (2004) with lightness counted half, for a ball of yarn is lit from
// one side. It proposes, and may miss or join things: a maker moves the boxes.
func Objects(img image.Image, c Correction, most int) []image.Rectangle {
	b := img.Bounds()
	step := max(1, (max(b.Dx(), b.Dy())+objectCells-1)/objectCells)
	w, h := b.Dx()/step, b.Dy()/step
	if w < 5 || h < 5 {
		return nil
	}
	labs := cellColours(img, c, step, w, h)
	of := segments(labs, w, h)
	size, rim, mean := map[int]int{}, map[int]int{}, map[int]colour.Lab{}
	for i, s := range of {
		size[s]++
		m := mean[s]
		mean[s] = colour.Lab{L: m.L + labs[i].L, A: m.A + labs[i].A, B: m.B + labs[i].B}
		if x, y := i%w, i/w; x == 0 || y == 0 || x == w-1 || y == h-1 {
			rim[s]++
		}
	}
	var grounds []colour.Lab
	for s, n := range size {
		m := mean[s]
		mean[s] = colour.Lab{L: m.L / float64(n), A: m.A / float64(n), B: m.B / float64(n)}
		if float64(rim[s]) >= objectRim*float64(2*(w+h)) {
			grounds = append(grounds, mean[s])
		}
	}
	deep := depths(of, w, h)
	middle := map[int]int{} // of each thing the cell farthest from its edge
	for i, s := range of {
		if at, known := middle[s]; !known || deep[i] > deep[at] {
			middle[s] = i
		}
	}
	var found []int
	for s, n := range size {
		ground := slices.ContainsFunc(grounds, func(g colour.Lab) bool { return shaded(g, mean[s]) < objectGround })
		if !ground && float64(n) >= objectLeast*float64(w*h) && deep[middle[s]] >= 2 {
			found = append(found, s)
		}
	}
	slices.SortFunc(found, func(a, b int) int { return cmp.Or(size[b]-size[a], a-b) })
	found = found[:min(len(found), most)]
	var out []image.Rectangle
	for _, s := range found {
		at := middle[s]
		half := max(1, int(objectBox*float64(deep[at]*step)))
		x, y := b.Min.X+at%w*step+step/2, b.Min.Y+at/w*step+step/2
		out = append(out, image.Rect(x-half, y-half, x+half, y+half).Intersect(b))
	}
	return inRows(out)
}

// inRows orders boxes from the top left, those that lie beside one another as a row.
func inRows(all []image.Rectangle) []image.Rectangle {
	slices.SortFunc(all, func(a, b image.Rectangle) int { return cmp.Or(a.Min.Y+a.Max.Y-b.Min.Y-b.Max.Y, a.Min.X-b.Min.X) })
	for from := 0; from < len(all); {
		to := from + 1
		for to < len(all) && all[to].Min.Y+all[to].Max.Y < 2*all[from].Max.Y { // its middle lies above the foot of the first
			to++
		}
		slices.SortFunc(all[from:to], func(a, b image.Rectangle) int { return a.Min.X - b.Min.X })
		from = to
	}
	return all
}

// cellColours are the mean colours of the cells of a photo.
func cellColours(img image.Image, c Correction, step, w, h int) []colour.Lab {
	b, labs := img.Bounds(), make([]colour.Lab, w*h)
	every := max(1, step/4)
	for i := range labs {
		x0, y0 := b.Min.X+i%w*step, b.Min.Y+i/w*step
		var cell []pixel
		for y := 0; y < step; y += every {
			for x := 0; x < step; x += every {
				p, _ := pixelAt(img, x0+x, y0+y)
				cell = append(cell, p)
			}
		}
		labs[i] = c.Apply(mean(cell).xyz())
	}
	return labs
}

// shaded is how far two colours are apart where a difference in light counts less.
func shaded(a, b colour.Lab) float64 {
	return math.Sqrt(objectShade*objectShade*(a.L-b.L)*(a.L-b.L) + (a.A-b.A)*(a.A-b.A) + (a.B-b.B)*(a.B-b.B))
}

// segments gives each cell the number of its patch.
func segments(labs []colour.Lab, w, h int) []int {
	type edge struct {
		a, b  int
		apart float64
	}
	var edges []edge
	join := func(a, b int) { edges = append(edges, edge{a, b, shaded(labs[a], labs[b])}) }
	for i := range labs {
		x, y := i%w, i/w
		if x+1 < w {
			join(i, i+1)
		}
		if y+1 < h {
			join(i, i+w)
		}
		if x+1 < w && y+1 < h {
			join(i, i+w+1)
			join(i+1, i+w)
		}
	}
	slices.SortStableFunc(edges, func(a, b edge) int { return cmp.Compare(a.apart, b.apart) })
	of, size, within := make([]int, len(labs)), make([]int, len(labs)), make([]float64, len(labs))
	sum := make([]colour.Lab, len(labs))
	for i := range of {
		of[i], size[i], sum[i] = i, 1, labs[i]
	}
	root := func(i int) int {
		for of[i] != i {
			of[i] = of[of[i]]
			i = of[i]
		}
		return i
	}
	merge := func(a, b int, apart float64) {
		of[b] = a
		size[a] += size[b]
		within[a] = max(within[a], within[b], apart)
		sum[a] = colour.Lab{L: sum[a].L + sum[b].L, A: sum[a].A + sum[b].A, B: sum[a].B + sum[b].B}
	}
	for _, e := range edges {
		a, b := root(e.a), root(e.b)
		if a != b && e.apart <= min(within[a]+objectMerge/float64(size[a]), within[b]+objectMerge/float64(size[b])) {
			merge(a, b, e.apart)
		}
	}
	mean := func(i int) colour.Lab {
		n := float64(size[i])
		return colour.Lab{L: sum[i].L / n, A: sum[i].A / n, B: sum[i].B / n}
	}
	least := max(1, int(objectLeast*float64(len(labs))/2))
	for _, e := range edges { // crumbs go to their neighbour, and what is alike is one
		a, b := root(e.a), root(e.b)
		if a != b && (size[a] < least || size[b] < least || shaded(mean(a), mean(b)) < objectsAlike) {
			merge(a, b, 0)
		}
	}
	for i := range of {
		of[i] = root(i)
	}
	return of
}

// depths are how many cells each cell lies from the nearest cell of another patch, or from the picture's border.
func depths(of []int, w, h int) []int {
	deep := make([]int, len(of))
	for i, s := range of {
		x, y := i%w, i/w
		if x == 0 || y == 0 || x == w-1 || y == h-1 {
			deep[i] = 1
			continue
		}
		deep[i] = 1
		if of[i-1] == s && of[i-w] == s && of[i-w-1] == s && of[i-w+1] == s {
			deep[i] = 1 + min(deep[i-1], deep[i-w], deep[i-w-1], deep[i-w+1])
		}
	}
	for i := len(of) - 1; i >= 0; i-- {
		x, y := i%w, i/w
		if s := of[i]; x > 0 && y > 0 && x < w-1 && y < h-1 && of[i+1] == s && of[i+w] == s && of[i+w+1] == s && of[i+w-1] == s {
			deep[i] = min(deep[i], 1+min(deep[i+1], deep[i+w], deep[i+w+1], deep[i+w-1]))
		} else {
			deep[i] = 1
		}
	}
	return deep
}
