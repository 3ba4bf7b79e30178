package draw

import (
	"fmt"
	"slices"

	"lampfern/core/colour"
	"lampfern/core/piece"
	"lampfern/core/weave"
)

// MostDraft is how many ends and picks a draft shows at most.
const MostDraft = 48

// Draft draws a draft: the threading at the head, the tie-up at its end, the
// treadling down the side, and between them the face of the cloth in its
// colours, thread by thread. warp and weft are the colours of the ends and picks,
// at most MostDraft of each; spare is how many more shafts and treadles are shown
// to be marked. Floats over more than longer threads are marked, 0 for none; back
// shows the other side of the cloth, as it is seen through the face.
func Draft(light Light, d weave.Draft, warp, weft []colour.Lab, spare, longer int, back bool) (Scene, error) {
	const c = 15.0 // of a square
	ends, picks := len(warp), len(weft)
	shafts, treadles := min(d.Shafts()+spare, weave.MostShafts), len(d.TieUp)
	top := c * float64(shafts)
	left := 2*c + c*float64(ends) // where the tie-up begins
	s := Scene{Width: left + c*float64(treadles) + 2*c, Height: top + 3*c + c*float64(picks), ID: "draft",
		Label: "The draft: threading, tie-up, treadling and the cloth"}
	square := func(grid string, across, down int, x, y float64, on bool) {
		st := Style{Fill: Clear, Stroke: Ink, Width: .6, Class: "square"}
		if on {
			st.Fill = Ink
		}
		s.Add(Group{Class: "mark", Attributes: [][2]string{{"data-mark", fmt.Sprintf("%s.%d.%d", grid, across, down)}},
			Nodes: []Node{Shape{Path: Box(x, y, c, c), Style: st}}})
	}
	thread := func(lab colour.Lab, x, y float64) {
		rgb, _ := light.Show(lab)
		s.Add(Shape{Path: Box(x, y, c, c), Style: Style{Fill: Solid(rgb)}})
	}
	// Shaft 1 is the lowest row, nearest the cloth.
	row := func(shaft int) float64 { return top - c*float64(shaft) }
	for e := range ends {
		x := c * float64(e)
		for shaft := 1; shaft <= shafts; shaft++ {
			square("threading", e%len(d.Threading)+1, shaft, x, row(shaft), d.Threading[e%len(d.Threading)] == shaft)
		}
		thread(warp[e], x, top+.5*c)
	}
	for t := 1; t <= treadles; t++ {
		x := left + c*float64(t-1)
		for shaft := 1; shaft <= shafts; shaft++ {
			square("tie-up", t, shaft, x, row(shaft), slices.Contains(d.TieUp[t-1], shaft))
		}
		for p := range picks {
			square("treadling", t, p%len(d.Treadling)+1, x, top+2*c+c*float64(p), d.Treadling[p%len(d.Treadling)] == t)
		}
	}
	cells := &piece.Cells{Grain: piece.Woven, Across: ends, Down: picks, Wide: 1, High: 1, Part: make([]int16, ends*picks),
		Up: d.Ups(ends, picks)}
	if back {
		for i, on := range cells.Up {
			cells.Up[i] = !on
		}
	}
	var rgbs []*colour.RGB
	known := map[colour.Lab]int16{}
	number := func(lab colour.Lab) int16 {
		n, is := known[lab]
		if !is {
			n = int16(len(rgbs))
			known[lab] = n
			rgb, _ := light.Show(lab)
			rgbs = append(rgbs, &rgb)
		}
		return n
	}
	for p := range picks {
		thread(weft[p], left-1.5*c, top+2*c+c*float64(p))
		for e := range ends {
			lab := weft[p]
			if cells.Up[p*ends+e] {
				lab = warp[e]
			}
			cells.Part[p*ends+e] = number(lab)
		}
	}
	data, err := cellPicture(cells, rgbs, whole(cells), 12)
	if err != nil {
		return s, err
	}
	s.Add(Bitmap{X: 0, Y: top + 2*c, Width: c * float64(ends), Height: c * float64(picks), PNG: data, Sharp: true})
	if longer > 0 {
		side := d
		if back { // what lies under on the face floats on the back
			side = d.TurnedOver()
		}
		marks := &Path{}
		for i, long := range side.LongFloats(ends, picks, longer) {
			if long {
				x, y := c*float64(i%ends), top+2*c+c*float64(i/ends)
				marks.MoveTo(Point{x + .3*c, y + .3*c}).LineTo(Point{x + .7*c, y + .7*c}).MoveTo(Point{x + .7*c, y + .3*c}).LineTo(Point{x + .3*c,
					y + .7*c})
			}
		}
		s.Add(Shape{Path: marks, Style: Style{Fill: None, Stroke: Solid(colour.RGB{}), Width: 2.6, Class: "float-under"}},
			Shape{Path: marks, Style: Style{Fill: None, Stroke: Solid(colour.RGB{R: 1, G: 1, B: 1}), Width: 1.2},
				Title: "a longer float"})
	}
	return s, nil
}

// ChartPicture is a piece made of cells as a PNG of a pixel a cell. Cells whose
// part has no colour are left clear.
func ChartPicture(light Light, c *piece.Cells, labs []*colour.Lab) ([]byte, error) {
	rgbs := make([]*colour.RGB, len(labs))
	for i, lab := range labs {
		if lab != nil {
			rgb, _ := light.Show(*lab)
			rgbs[i] = &rgb
		}
	}
	return cellPicture(c, rgbs, whole(c), 1)
}
