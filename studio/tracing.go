package studio

import (
	"bytes"
	"context"
	"fmt"
	"image"
	"image/jpeg"
	"image/png"

	"lampfern/core/piece"
	"lampfern/core/surface"
	"lampfern/exchange"
)

// templatesKept bounds the templates held in memory at once.
const templatesKept = 6

// bareKey names a template by its photo and how it is made.
type bareKey struct {
	photo string
	bare  surface.Bare
}

// Template is the photo that lies under a drawing, ready to be coloured.
func (s *Studio) Template(ctx context.Context, u piece.Under) (*image.Gray, error) {
	key := bareKey{u.Photo, u.Bare}
	s.mu.Lock()
	g := s.templates[key]
	s.mu.Unlock()
	if g != nil {
		return g, nil
	}
	photo, err := s.Photo(ctx, u.Photo)
	if err != nil {
		return nil, err
	}
	if g, err = surface.Template(photo.image, u.Bare); err != nil {
		return nil, refuse("The photo cannot be coloured: %s.", err)
	}
	s.mu.Lock()
	defer s.mu.Unlock()
	if len(s.templates) >= templatesKept {
		clear(s.templates)
	}
	s.templates[key] = g
	return g, nil
}

// TemplatePicture is a template as a JPEG, and where it catches the light as a
// PNG that is clear elsewhere.
func (s *Studio) TemplatePicture(ctx context.Context, u piece.Under, lights bool) ([]byte, error) {
	g, err := s.Template(ctx, u)
	if err != nil {
		return nil, err
	}
	var b bytes.Buffer
	if !lights {
		err = jpeg.Encode(&b, g, &jpeg.Options{Quality: viewQuality})
		return b.Bytes(), err
	}
	a := surface.Highlights(g)
	out := image.NewNRGBA(a.Rect)
	for i, v := range a.Pix {
		copy(out.Pix[i*4:], []uint8{255, 255, 255, v})
	}
	err = (&png.Encoder{CompressionLevel: png.BestSpeed}).Encode(&b, out)
	return b.Bytes(), err
}

// underGap is the room between two views of a thing, as a share of a view.
const underGap = 0.06

// LayPhoto lays a photo of the bare thing under the plan's drawing, so many mm
// wide: the first makes the sheet, a further view lies to the right of it.
func (s *Studio) LayPhoto(ctx context.Context, id uint, revision int64, name string, data []byte, wide float64) error {
	if _, err := exchange.CheckPhoto(data); err != nil {
		return refuse("Nothing was laid under the drawing: %s.", err)
	}
	hash, err := s.AddPhoto(ctx, name, data)
	if err != nil {
		return err
	}
	photo, err := s.Photo(ctx, hash)
	if err != nil {
		return err
	}
	u := piece.Under{Photo: hash, Width: wide, Height: wide * photo.Aspect(), Bare: surface.Bare{W: 1, H: 1, Even: 0.3, Sharpen: 0.3}}
	if _, err := s.Template(ctx, u); err != nil {
		return err
	}
	return s.Change(ctx, id, revision, layUnder(u))
}

func layUnder(u piece.Under) Edit {
	return func(d *draft) (string, error) {
		if d.plan.Template != "drawn" {
			if _, err := ChoosePiece("drawn", nil)(d); err != nil {
				return "", err
			}
		}
		return drawingEdit("lay a photo under the drawing", func(dr *piece.Drawing) error {
			if !(u.Width >= 1 && u.Width <= 20_000) {
				return refuse("Type how wide the photo shows the thing, from 1 mm to 20 m, not %g mm.", u.Width)
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

func underEdit(label string, at int, change func(d *piece.Drawing) error) Edit {
	return drawingEdit(label, func(d *piece.Drawing) error {
		if at < 0 || at >= len(d.Unders) {
			return refuse("That photo no longer lies under the drawing.")
		}
		d.Unders = append([]piece.Under(nil), d.Unders...)
		return change(d)
	})
}

// MakeBare says how a photo under the drawing is cropped, straightened, evened and
// sharpened. It keeps its place and width.
func (s *Studio) MakeBare(ctx context.Context, id uint, revision int64, at int, b surface.Bare) error {
	p, err := s.Open(ctx, id)
	if err != nil {
		return err
	}
	if p.Own.Drawing != nil && at >= 0 && at < len(p.Own.Drawing.Unders) {
		u := p.Own.Drawing.Unders[at]
		u.Bare = b
		if _, err := s.Template(ctx, u); err != nil { // too dark, or flat, there
			return err
		}
	}
	return s.Change(ctx, id, revision, underEdit("make the photo ready", at, func(d *piece.Drawing) error {
		u := &d.Unders[at]
		was := u.Bare
		u.Bare = b
		if (was.W != b.W || was.H != b.H) && len(d.Outlines) == 0 && len(d.Unders) == 1 { // the sheet fits it
			u.Height *= b.H / was.H * was.W / b.W
			d.Width, d.Height = u.Width, u.Height
		}
		return nil
	}))
}

// TakeUnder takes a photo from under the drawing; the outlines stay.
func TakeUnder(at int) Edit {
	return underEdit("take a photo from under the drawing", at, func(d *piece.Drawing) error {
		d.Unders = append(d.Unders[:at:at], d.Unders[at+1:]...)
		if len(d.Outlines) == 0 && len(d.Unders) == 0 {
			*d = *piece.NewDrawing(d.Width, d.Height)
		}
		return nil
	})
}

// onUnder finds the photo under a place of the drawing, its template, and where on
// that the place lies, with the template's pixels a mm.
func (s *Studio) onUnder(ctx context.Context, p *Plan, at piece.Point) (u piece.Under, g *image.Gray, k float64, err error) {
	if p.Own.Drawing != nil {
		for _, u := range p.Own.Drawing.Unders {
			if at.X >= u.X && at.X <= u.X+u.Width && at.Y >= u.Y && at.Y <= u.Y+u.Height {
				g, err := s.Template(ctx, u)
				if err != nil {
					return u, nil, 0, err
				}
				return u, g, float64(g.Rect.Dx()) / u.Width, nil
			}
		}
	}
	return u, nil, 0, refuse("There is no photo at that place: click on the photo.")
}

// GrowOutline draws the outline of what a click on the photo belongs to, in the
// part of that name. Tolerance is in greys, 1 to 100.
func (s *Studio) GrowOutline(ctx context.Context, id uint, revision int64, part string, at piece.Point, tolerance float64) error {
	p, err := s.Open(ctx, id)
	if err != nil {
		return err
	}
	if !(tolerance >= 1 && tolerance <= 100) {
		return refuse("Choose how far to grow from 1 to 100, not %g.", tolerance)
	}
	u, g, k, err := s.onUnder(ctx, p, at)
	if err != nil {
		return err
	}
	grown := surface.Grow(g, int((at.X-u.X)*k), int((at.Y-u.Y)*k), tolerance)
	if len(grown) < 3 {
		return refuse("Nothing grows there: the place is too small or lies on an edge. Click beside it, or let it grow further.")
	}
	var corners []piece.Point
	for _, q := range grown {
		corners = append(corners, piece.Point{X: u.X + q.X/k, Y: u.Y + q.Y/k})
	}
	return s.Change(ctx, id, revision, AddOutline(part, corners))
}

// followWithin is how far from a drawn side an edge of the picture is looked for,
// in pixels of the template.
const followWithin = 9.0

// FollowOutline draws an outline whose sides lie on the photo's own edges, where
// they are near.
func (s *Studio) FollowOutline(ctx context.Context, id uint, revision int64, part string, corners []piece.Point) error {
	p, err := s.Open(ctx, id)
	if err != nil {
		return err
	}
	if len(corners) < 3 {
		return refuse("An outline needs three corners or more: click once for each.")
	}
	u, g, k, err := s.onUnder(ctx, p, corners[0])
	if err != nil {
		return err
	}
	spots := make([]surface.Spot, len(corners))
	for i, c := range corners {
		spots[i] = surface.Spot{X: (c.X - u.X) * k, Y: (c.Y - u.Y) * k}
	}
	var out []piece.Point
	for _, q := range surface.Follow(g, spots, followWithin) {
		out = append(out, piece.Point{X: u.X + q.X/k, Y: u.Y + q.Y/k})
	}
	return s.Change(ctx, id, revision, AddOutline(part, out))
}

// SplitOutline cuts an outline along the line through two places; what lies to
// the right of the way from a to b goes into the part of that name.
func SplitOutline(at int, a, b piece.Point, part string) Edit {
	return outlineEdit("split an outline", at, func(d *piece.Drawing) error {
		left, right := d.Outlines[at].Split(a, b)
		if left == nil || right == nil {
			return refuse("That line does not cut the outline in two: draw it from one side right across to the other.")
		}
		to, err := partNamed(d, part)
		if err != nil {
			return err
		}
		d.Outlines[at].Corners = left
		d.Outlines = append(d.Outlines[:at+1:at+1], append([]piece.Outline{{Part: to, Corners: right}}, d.Outlines[at+1:]...)...)
		return nil
	})
}

// Unders are the photos under the plan's piece with their templates.
func (s *Studio) Unders(ctx context.Context, p *Plan) ([]*image.Gray, error) {
	if p.Piece == nil {
		return nil, nil
	}
	var out []*image.Gray
	for i, u := range p.Piece.Unders {
		g, err := s.Template(ctx, u)
		if err != nil {
			return nil, fmt.Errorf("photo %d under the drawing: %w", i+1, err)
		}
		out = append(out, g)
	}
	return out, nil
}

// keptUnders leaves out photos under a drawing that are not kept here: a plan file
// does not carry them.
func (s *Studio) keptUnders(ctx context.Context, own *piece.Own) {
	if own.Solid != nil { // nor does it carry meshes
		if _, err := s.store.ModelFile(own.Solid.File); err != nil {
			own.Solid = nil
		}
	}
	if own.Drawing == nil || len(own.Drawing.Unders) == 0 {
		return
	}
	d := *own.Drawing
	d.Unders = nil
	for _, u := range own.Drawing.Unders {
		if _, err := s.store.Read(ctx).Photo(u.Photo); err == nil {
			d.Unders = append(d.Unders, u)
		}
	}
	if len(d.Unders) == 0 && len(d.Outlines) == 0 {
		d = *piece.NewDrawing(d.Width, d.Height)
	}
	own.Drawing = &d
}
