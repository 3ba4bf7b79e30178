package drawing

import (
	"math"
	"slices"

	"lampfern/core/craft/other"
	"lampfern/core/form"
	"lampfern/core/piece"
	"lampfern/core/words"
	"lampfern/plan"
)

// drawing is a copy of a drawing, to be changed.
func drawing(in *other.Drawn) *other.Drawing {
	d := *in.Draws()
	d.Parts, d.Outlines = slices.Clone(d.Parts), slices.Clone(d.Outlines)
	return &d
}

func drawingEdit(label string, change func(d *other.Drawing) error) plan.Doing {
	return plan.InputEdit(label, func(_ *plan.Draft, in *other.Drawn) error {
		d := drawing(in)
		if err := change(d); err != nil {
			return err
		}
		in.Drawing = d
		return nil
	})
}

// SizeDrawing gives the drawing another size, its outlines with it, and sets it
// side by side.
type SizeDrawing struct {
	Width  float64 `form:"width"`
	Height float64 `form:"height"`
	Across int     `form:"across"`
	Down   int     `form:"down"`
}

func (e SizeDrawing) Do(d *plan.Draft) (string, error) {
	return drawingEdit("size the drawing", func(d *other.Drawing) error {
		if err := other.CheckSheet(e.Width, e.Height, e.Across, e.Down); err != nil {
			return words.Refuse("%s.", words.Capital(err.Error()))
		}
		kx, ky := e.Width/d.Width, e.Height/d.Height
		for i, o := range d.Outlines {
			corners := make([]piece.Point, len(o.Corners))
			for j, c := range o.Corners {
				corners[j] = piece.Point{X: min(e.Width, c.X*kx), Y: min(e.Height, c.Y*ky)}
			}
			d.Outlines[i].Corners = corners
		}
		d.Unders = slices.Clone(d.Unders)
		for i := range d.Unders {
			u := &d.Unders[i]
			u.X, u.Y, u.Width, u.Height = u.X*kx, u.Y*ky, u.Width*kx, u.Height*ky
		}
		d.Width, d.Height, d.Across, d.Down = e.Width, e.Height, e.Across, e.Down
		return nil
	})(d)
}

// mostWide is how wide a line can be, in mm.
const mostWide = 500.0

// AddOutline lays an outline over the drawing, in the part of that name, which is
// made where there is none. Corners beyond the drawing are brought to its edge.
type AddOutline struct {
	Part    string `form:"part"`
	Corners []piece.Point
	Follow  bool    `form:"follow"`        // its sides lie on the photo's own edges, where they are near
	Curved  bool    `form:"curved"`        // it bends through its corners
	Wide    float64 `form:"wide,optional"` // of a line through the corners, in mm; 0 for what they go round
}

// Read implements form.Reader: one corner with a radius is a disc.
func (e *AddOutline) Read(f *form.Form) error {
	e.Corners = cornersOf(f, "corners")
	if f.Has("radius") && len(e.Corners) == 1 {
		e.Corners = piece.Disc(e.Corners[0], f.Number("radius", 0))
	}
	return nil
}

func cornersOf(f *form.Form, field string) []piece.Point {
	var out []piece.Point
	for _, c := range f.Corners(field) {
		out = append(out, piece.Point{X: c[0], Y: c[1]})
	}
	return out
}

func (e AddOutline) Do(d *plan.Draft) (string, error) {
	if e.Follow {
		var err error
		if e.Corners, err = follow(d, e.Corners); err != nil {
			return "", err
		}
	}
	switch {
	case e.Wide < 0 || math.IsNaN(e.Wide) || e.Wide > mostWide:
		return "", words.Refuse("A line is at most %g mm wide.", mostWide)
	case e.Wide > 0:
		if e.Corners = piece.Stroke(e.Corners, e.Wide); e.Corners == nil {
			return "", words.Refuse("A line needs at least two points. Click once for each, then press Enter.")
		}
	case e.Curved:
		e.Corners = piece.Smooth(e.Corners)
	}
	return drawingEdit("draw an outline", func(d *other.Drawing) error {
		parts, at, err := plan.PartNamed(d.Parts, e.Part)
		if err != nil {
			return err
		}
		d.Parts = parts
		if len(e.Corners) < 3 {
			return words.Refuse("An outline needs at least three corners. Click once for each.")
		}
		d.Outlines = append(d.Outlines, piece.Outline{Part: at, Corners: d.Held(e.Corners)})
		if r := (piece.Region{Outline: d.Outlines[len(d.Outlines)-1].Corners}); r.Area() == 0 {
			return words.Refuse("That outline has no area: its corners are in one line, or all outside the drawing.")
		}
		return nil
	})(d)
}

// outlineEdit changes one outline, by its place from 0.
func outlineEdit(label string, at int, change func(d *other.Drawing) error) plan.Doing {
	return drawingEdit(label, func(d *other.Drawing) error {
		if at < 0 || at >= len(d.Outlines) {
			return words.Refuse("That shape was removed.")
		}
		return change(d)
	})
}

// DropOutline takes an outline away, and its part when nothing else is in it.
type DropOutline struct {
	At int `form:"at"`
}

func (e DropOutline) Do(d *plan.Draft) (string, error) {
	return outlineEdit("remove a shape", e.At, func(d *other.Drawing) error {
		if len(d.Outlines) == 1 && len(d.Unders) == 0 {
			return words.Refuse("This is the last shape. Draw another before you remove it.")
		}
		d.Outlines = slices.Delete(d.Outlines, e.At, e.At+1)
		dropEmptyParts(d)
		return nil
	})(d)
}

// MoveOutline moves an outline by so many mm, as far as the drawing reaches.
type MoveOutline struct {
	At int     `form:"at"`
	DX float64 `form:"dx,optional"`
	DY float64 `form:"dy,optional"`
}

func (e MoveOutline) Do(d *plan.Draft) (string, error) {
	return outlineEdit("move an outline", e.At, func(d *other.Drawing) error {
		left, top, right, foot := d.Width, d.Height, 0.0, 0.0
		for _, c := range d.Outlines[e.At].Corners {
			left, right, top, foot = min(left, c.X), max(right, c.X), min(top, c.Y), max(foot, c.Y)
		}
		e.DX, e.DY = max(-left, min(d.Width-right, e.DX)), max(-top, min(d.Height-foot, e.DY))
		moved := make([]piece.Point, len(d.Outlines[e.At].Corners))
		for i, c := range d.Outlines[e.At].Corners {
			moved[i] = piece.Point{X: c.X + e.DX, Y: c.Y + e.DY}
		}
		d.Outlines[e.At].Corners = d.Held(moved)
		return nil
	})(d)
}

// CopyOutline lays a copy of an outline on top, a little to the side.
type CopyOutline struct {
	At int `form:"at"`
}

func (e CopyOutline) Do(d *plan.Draft) (string, error) {
	return outlineEdit("copy an outline", e.At, func(d *other.Drawing) error {
		o := d.Outlines[e.At]
		aside := min(d.Width, d.Height) / 20
		var corners []piece.Point
		for _, c := range o.Corners {
			corners = append(corners, piece.Point{X: c.X + aside, Y: c.Y + aside})
		}
		d.Outlines = append(d.Outlines, piece.Outline{Part: o.Part, Corners: d.Held(corners)})
		return nil
	})(d)
}

// RaiseOutline brings an outline over the next one, or with down under the one
// before.
type RaiseOutline struct {
	At    int `form:"at"`
	Lower bool
}

func (e RaiseOutline) Do(d *plan.Draft) (string, error) {
	return outlineEdit("move a shape up or down", e.At, func(d *other.Drawing) error {
		to := e.At + 1
		if e.Lower {
			to = e.At - 1
		}
		if to < 0 || to >= len(d.Outlines) {
			return words.Refuse("That shape is at the %s already.", map[bool]string{true: "bottom", false: "top"}[e.Lower])
		}
		d.Outlines[e.At], d.Outlines[to] = d.Outlines[to], d.Outlines[e.At]
		return nil
	})(d)
}

// NameOutline puts an outline into the part of that name.
type NameOutline struct {
	At   int    `form:"at"`
	Part string `form:"part"`
}

func (e NameOutline) Do(d *plan.Draft) (string, error) {
	return outlineEdit("name an outline "+e.Part, e.At, func(d *other.Drawing) error {
		parts, to, err := plan.PartNamed(d.Parts, e.Part)
		if err != nil {
			return err
		}
		d.Parts = parts
		d.Outlines[e.At].Part = to
		dropEmptyParts(d)
		return nil
	})(d)
}

// dropEmptyParts takes away the parts in which no outline lies.
func dropEmptyParts(d *other.Drawing) {
	of := make([]int, len(d.Outlines))
	for i, o := range d.Outlines {
		of[i] = o.Part
	}
	d.Parts = plan.UsedParts(d.Parts, of)
	for i := range d.Outlines {
		d.Outlines[i].Part = of[i]
	}
}
