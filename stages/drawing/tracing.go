package drawing

import (
	"cmp"
	"errors"
	"fmt"
	"image"
	"slices"

	"lampfern/core/craft/other"
	"lampfern/core/form"
	"lampfern/core/piece"
	"lampfern/core/surface"
	"lampfern/core/words"
	"lampfern/exchange"
	"lampfern/plan"
	"lampfern/shelf"
)

// underGap is the room between two views of a thing, as a share of a view.
const underGap = 0.06

// LayPhoto lays a photo of the bare thing under the plan's drawing, so many mm
// wide, 100 when it does not say: the first makes the sheet, a further view lies
// to the right of it.
type LayPhoto struct {
	Wide  float64 `form:"wide,optional"`
	Parts bool    `form:"parts,optional"` // find its parts at once
	File  plan.File
}

// usualWide is how wide a photo shows the thing until it is said, in mm.
const usualWide = 100

func (e *LayPhoto) Take(f plan.File) { e.File = f }

func (e LayPhoto) Do(d *plan.Draft) (string, error) {
	if e.Wide == 0 {
		e.Wide = usualWide
	}
	if _, err := exchange.CheckPhoto(e.File.Data); err != nil {
		return "", words.Refuse("Not added: %s.", err)
	}
	hash, err := d.Desk.AddPhoto(d.Ctx, e.File.Name, e.File.Data)
	if err != nil {
		return "", err
	}
	photo, err := d.Desk.Photo(d.Ctx, hash)
	if err != nil {
		return "", err
	}
	u := piece.Under{Photo: hash, Width: e.Wide, Height: round(e.Wide * photo.Aspect()),
		Bare: surface.Bare{W: 1, H: 1, Even: 0.3, Sharpen: 0.3}}
	if _, err := d.Desk.Relief(d.Ctx, u); err != nil {
		return "", err
	}
	d.Say("Photo placed. Adjust it at the right, then mark each part.")
	label, err := layUnder(u).Do(d)
	if err == nil && e.Parts {
		_, err = FindParts{}.Do(d)
	}
	return label, err
}

// FindParts grows a part on each thing that stands out on the first photo under the drawing. The maker names them,
// and draws what was missed.
type FindParts struct{}

// wholeSheet is the share of the sheet from which an outline that grew is no part.
const wholeSheet = 0.7

func (FindParts) Do(d *plan.Draft) (string, error) {
	dr := plan.Input[other.Drawn](d.Plan).Drawing
	if d.Plan.Pattern != "drawn" || dr == nil || len(dr.Unders) == 0 {
		return "", words.Refuse("Place a photo of the unpainted model underneath first.")
	}
	u := dr.Unders[0]
	photo, err := d.Desk.Photo(d.Ctx, u.Photo)
	if err != nil {
		return "", err
	}
	boxes, err := photo.Propose(shelf.Look{})
	if err != nil {
		return "", err
	}
	var found [][]piece.Point
	for _, b := range boxes {
		at := piece.Point{X: u.X + u.Width*(b.X+b.W/2-u.Bare.X)/u.Bare.W, Y: u.Y + u.Height*(b.Y+b.H/2-u.Bare.Y)/u.Bare.H}
		corners, err := grown(d, at, usualTolerance)
		if err != nil {
			if problem := words.Refusal(""); errors.As(err, &problem) {
				continue // nothing grows there
			}
			return "", err
		}
		if (piece.Region{Outline: corners}).Area() < wholeSheet*u.Width*u.Height {
			found = append(found, corners)
		}
	}
	slices.SortStableFunc(found, func(a, b []piece.Point) int { // the largest lies lowest
		return cmp.Compare(piece.Region{Outline: b}.Area(), piece.Region{Outline: a}.Area())
	})
	for i, corners := range found {
		if _, err := (AddOutline{Part: fmt.Sprintf("part %d", len(dr.Parts)+i+1), Corners: corners}).Do(d); err != nil {
			return "", err
		}
	}
	if len(found) == 0 {
		return "", words.Refuse("No parts found. Draw one, or choose grow and click a place on it.")
	}
	d.Say(fmt.Sprintf("%s found. Name them, remove any that are wrong, and draw what is missing.", words.Capital(words.Plural(len(found), "part", "parts"))))
	return "find the parts of the photo", nil
}

func layUnder(u piece.Under) plan.Doing {
	return func(d *plan.Draft) (string, error) {
		if d.Plan.Pattern != "drawn" {
			if _, err := (plan.ChoosePiece{Pattern: "drawn", Settings: nil}).Do(d); err != nil {
				return "", err
			}
		}
		return drawingEdit("place a photo under the drawing", func(dr *other.Drawing) error {
			if !(u.Width >= 1 && u.Width <= 20_000) {
				return words.Refuse("The width shown in the photo is 1 mm to 20 m, not %g mm.", u.Width)
			}
			if len(dr.Unders) == 0 {
				if len(dr.Outlines) <= 1 { // nothing but the ground of a new drawing
					dr.Outlines, dr.Parts = nil, nil
					dr.Width, dr.Height = u.Width, u.Height
				}
				dr.Across, dr.Down = 1, 1
				dr.Width, dr.Height = max(dr.Width, u.Width), max(dr.Height, u.Height)
			} else {
				u.X = dr.Width + underGap*u.Width
				dr.Width, dr.Height = u.X+u.Width, max(dr.Height, u.Height)
			}
			dr.Unders = append(append([]piece.Under(nil), dr.Unders...), u)
			return nil
		})(d)
	}
}

func underEdit(label string, at int, change func(d *other.Drawing) error) plan.Doing {
	return drawingEdit(label, func(d *other.Drawing) error {
		if at < 0 || at >= len(d.Unders) {
			return words.Refuse("That photo was removed.")
		}
		d.Unders = append([]piece.Under(nil), d.Unders...)
		return change(d)
	})
}

// MakeBare says how a photo under the drawing is cropped, straightened, evened and
// sharpened. It keeps its place and width.
type MakeBare struct {
	At   int `form:"at"`
	Bare surface.Bare
}

func (e *MakeBare) Read(f *form.Form) error {
	e.Bare = BareOf(f.Number)
	return nil
}

// BareOf reads how a photo is made ready; sliders go from 0 to 100.
func BareOf(number func(field string, usual float64) float64) surface.Bare {
	return surface.Bare{X: number("x", 0) / 100, Y: number("y", 0) / 100, W: number("w", 100) / 100, H: number("h", 100) / 100,
		Turn: number("turn", 0), Even: number("even", 0) / 100, Sharpen: number("sharpen", 0) / 100}
}

func (e MakeBare) Do(d *plan.Draft) (string, error) {
	if dr := plan.Input[other.Drawn](d.Plan).Drawing; dr != nil && e.At >= 0 && e.At < len(dr.Unders) {
		u := dr.Unders[e.At]
		u.Bare = e.Bare
		if _, err := d.Desk.Relief(d.Ctx, u); err != nil { // too dark, or flat, there
			return "", err
		}
	}
	return underEdit("prepare the photo", e.At, func(d *other.Drawing) error {
		u := &d.Unders[e.At]
		was, b := u.Bare, e.Bare
		u.Bare = b
		if (was.W != b.W || was.H != b.H) && len(d.Outlines) == 0 && len(d.Unders) == 1 { // the sheet fits it
			u.Height *= b.H / was.H * was.W / b.W
			d.Width, d.Height = u.Width, u.Height
		}
		return nil
	}).Do(d)
}

// TakeUnder takes a photo from under the drawing; the outlines stay.
type TakeUnder struct {
	At int `form:"at"`
}

func (e TakeUnder) Do(d *plan.Draft) (string, error) {
	return underEdit("remove the photo from under the drawing", e.At, func(d *other.Drawing) error {
		d.Unders = append(d.Unders[:e.At:e.At], d.Unders[e.At+1:]...)
		if len(d.Outlines) == 0 && len(d.Unders) == 0 {
			*d = *other.NewDrawing(d.Width, d.Height)
		}
		return nil
	})(d)
}

// onUnder finds the photo under a place of the drawing, its relief, and where on
// that the place lies, with the relief's pixels a mm.
func onUnder(d *plan.Draft, at piece.Point) (u piece.Under, g *image.Gray, k float64, err error) {
	if dr := plan.Input[other.Drawn](d.Plan).Drawing; dr != nil {
		for _, u := range dr.Unders {
			if at.X >= u.X && at.X <= u.X+u.Width && at.Y >= u.Y && at.Y <= u.Y+u.Height {
				g, err := d.Desk.Relief(d.Ctx, u)
				if err != nil {
					return u, nil, 0, err
				}
				return u, g, float64(g.Rect.Dx()) / u.Width, nil
			}
		}
	}
	return u, nil, 0, words.Refuse("There is no photo there. Click on the photo.")
}

// Grow draws the outline of what a click on the photo belongs to, in the part of
// that name. Tolerance is in greys, 1 to 100.
type Grow struct {
	Part      string `form:"part"`
	At        piece.Point
	Tolerance float64
}

// usualTolerance is how far a part grows until it is said, in greys.
const usualTolerance = 20

func (e *Grow) Read(f *form.Form) error {
	e.At, e.Tolerance = piece.Point{X: f.Number("x", 0), Y: f.Number("y", 0)}, f.Number("tolerance", usualTolerance)
	if typed := cornersOf(f, "corners"); len(typed) > 0 { // a place that was typed
		e.At = typed[0]
	}
	return nil
}

func (e Grow) Do(d *plan.Draft) (string, error) {
	if !(e.Tolerance >= 1 && e.Tolerance <= 100) {
		return "", words.Refuse("The reach is 1 to 100, not %g.", e.Tolerance)
	}
	corners, err := grown(d, e.At, e.Tolerance)
	if err != nil {
		return "", err
	}
	return AddOutline{Part: e.Part, Corners: corners}.Do(d)
}

// grown is the outline of what a place on the photo belongs to.
func grown(d *plan.Draft, at piece.Point, tolerance float64) (corners []piece.Point, err error) {
	u, g, k, err := onUnder(d, at)
	if err != nil {
		return nil, err
	}
	spots := surface.Grow(g, int((at.X-u.X)*k), int((at.Y-u.Y)*k), tolerance)
	if len(spots) < 3 {
		return nil, words.Refuse("Nothing to select there: too small, or on an edge. Click beside it, or raise the reach.")
	}
	for _, q := range spots {
		corners = append(corners, piece.Point{X: u.X + q.X/k, Y: u.Y + q.Y/k})
	}
	return corners, nil
}

// followWithin is how far from a drawn side an edge of the picture is looked for,
// in pixels of the relief.
const followWithin = 9.0

// follow moves the sides of an outline onto the photo's own edges, where they are
// near.
func follow(d *plan.Draft, corners []piece.Point) ([]piece.Point, error) {
	if len(corners) < 3 {
		return nil, words.Refuse("An outline needs at least three corners. Click once for each.")
	}
	u, g, k, err := onUnder(d, corners[0])
	if err != nil {
		return nil, err
	}
	spots := make([]surface.Spot, len(corners))
	for i, c := range corners {
		spots[i] = surface.Spot{X: (c.X - u.X) * k, Y: (c.Y - u.Y) * k}
	}
	var out []piece.Point
	for _, q := range surface.Follow(g, spots, followWithin) {
		out = append(out, piece.Point{X: u.X + q.X/k, Y: u.Y + q.Y/k})
	}
	return out, nil
}

// SplitOutline cuts an outline along the line through two places; what lies to
// the right of the way from a to b goes into the part of that name.
type SplitOutline struct {
	At   int `form:"at"`
	A    piece.Point
	B    piece.Point
	Part string `form:"part"`
}

func (e *SplitOutline) Read(f *form.Form) error {
	line := cornersOf(f, "line")
	if len(line) != 2 {
		return words.Refuse("Drag from one side of the outline right across to the other to split it.")
	}
	e.A, e.B = line[0], line[1]
	return nil
}

func (e SplitOutline) Do(d *plan.Draft) (string, error) {
	return outlineEdit("split an outline", e.At, func(d *other.Drawing) error {
		left, right := d.Outlines[e.At].Split(e.A, e.B)
		if left == nil || right == nil {
			return words.Refuse("That line does not split the outline. Draw it from one side right across to the other.")
		}
		parts, to, err := plan.PartNamed(d.Parts, e.Part)
		if err != nil {
			return err
		}
		d.Parts = parts
		d.Outlines[e.At].Corners = left
		d.Outlines = append(d.Outlines[:e.At+1:e.At+1], append([]piece.Outline{{Part: to, Corners: right}}, d.Outlines[e.At+1:]...)...)
		return nil
	})(d)
}
