package draw

import (
	"fmt"

	"lampfern/core/colour"
	"lampfern/core/piece"
)

// fadeBands is in how many level strips a fade is drawn.
const fadeBands = 40

// fadesOf are what lies over the parts of a piece that pass into others, by part: strips from the
// colour of the one to that of the other. labs holds a colour a part, nil for none.
func fadesOf(light Light, p piece.Piece, k float64, labs []*colour.Lab) map[int][]Node {
	out := map[int][]Node{}
	for _, f := range p.Fades {
		if f.To >= len(labs) || labs[f.From] == nil || labs[f.To] == nil {
			continue
		}
		for _, b := range p.Bands(f, fadeBands) {
			rgb, _ := light.Show(labs[f.From].Toward(*labs[f.To], b.Passed))
			if path := bandPath(b, k); len(path.segments) > 0 {
				out[b.Part] = append(out[b.Part], Shape{Path: path, Style: Style{Fill: Solid(rgb), Stroke: Solid(rgb), Width: min(.4*k, .8)}})
			}
		}
	}
	return out
}

func bandPath(b piece.Band, k float64) *Path {
	path := &Path{}
	for _, o := range b.Outlines {
		for i, q := range o {
			pt := Point{q.X * k, q.Y * k}
			if i == 0 {
				path.MoveTo(pt)
			} else {
				path.LineTo(pt)
			}
		}
		path.Close()
	}
	return path
}

// fadeShapes draws the fades of a symbol with the colours of the parts that it is used with.
func (w *svgWriter) fadeShapes(p piece.Piece, k float64) {
	const few = 12
	for _, f := range p.Fades {
		for _, b := range p.Bands(f, few) {
			w.raw(`<path d="`)
			w.path(bandPath(b, k))
			mix := fmt.Sprintf("color-mix(in lab,var(--p%d) %.0f%%,var(--p%d))", f.To, 100*b.Passed, f.From)
			w.raw(fmt.Sprintf(`" style="fill:%s;stroke:%s;stroke-width:.4"/>`, mix, mix))
		}
	}
}
