package web

import (
	"encoding/base64"
	"fmt"
	"html/template"
	"maps"
	"slices"
	"strings"

	"github.com/gin-gonic/gin"

	"lampfern/core/colour"
	"lampfern/core/material"
	"lampfern/core/piece"
	"lampfern/draw"
	"lampfern/plan"
	"lampfern/shelf"
)

// UnderPictures are the addresses of the photos under a plan's piece; they change
// with how a photo is made ready.
func UnderPictures(p *Page, pc piece.Piece) []draw.UnderPicture {
	var out []draw.UnderPicture
	for i, u := range pc.Unders {
		how := strings.NewReplacer(" ", "_", "{", "", "}", "").Replace(fmt.Sprintf("%s_%v", u.Photo, u.Bare))
		out = append(out, draw.UnderPicture{Relief: fmt.Sprintf("/plans/%d/under/%d/relief.jpg?%s", p.Plan.ID, i, how),
			Lights: fmt.Sprintf("/plans/%d/under/%d/lights.png?%s", p.Plan.ID, i, how)})
	}
	return out
}

// Shines are how the cards of a piece's parts catch the light.
func Shines(p *Page, fill []int) []draw.Shine {
	out := make([]draw.Shine, len(fill))
	for i, at := range fill {
		if at >= 0 {
			f := surfaceOf(p.Plan.Tray[at], p.Made)
			out[i] = draw.Shine{Strength: material.Shine(f.Finish), Flash: f.Flash}
		}
	}
	return out
}

// PieceParts are the parts of a plan's piece with the cards they take.
func PieceParts(plan *plan.Plan, fill []int) []draw.PiecePart {
	var parts []draw.PiecePart
	for i, part := range plan.Piece.Parts {
		dp := draw.PiecePart{Key: part.Key, Name: part.Name}
		if at := fill[i]; at >= 0 {
			t := &plan.Tray[at]
			dp.Card, dp.Lab = t.Name, &t.Colour
		}
		parts = append(parts, dp)
	}
	return parts
}

// Surfaces puts onto the parts what their cards show beside a flat colour: a
// print's picture in plain daylight, a flash, stitches.
func (s *Server) Surfaces(c *gin.Context, p *Page, parts []draw.PiecePart, fill []int) {
	for i, at := range fill {
		if at < 0 {
			continue
		}
		t := p.Plan.Tray[at]
		f := surfaceOf(t, p.Made)
		if pic := t.Picture; pic != nil && pic.Wide > 0 && p.View.PlainDaylight() && p.Made != Flat {
			f.Picture = PictureAt(pic)
			f.Wide, f.High = pic.Wide, s.Desk.PictureHigh(c.Request.Context(), *pic)
		}
		parts[i].Surface = f
	}
}

// surfaceOf is what a card shows beside a flat colour, but for its print, made in a finish as Page.Made has it.
func surfaceOf(t plan.TrayCard, made string) draw.Surface {
	f := draw.Surface{Stitch: t.Kind == "yarn", Finish: t.Finish}
	if made == Flat {
		return draw.Surface{}
	} else if made != "" {
		f.Finish = made
		return f
	}
	for _, other := range t.Further {
		if other.Role == material.Flash {
			f.Flash = &other.Colour
		}
	}
	return f
}

// PaperSurfaces are what the cards of some parts show beside a flat colour, for paper.
func (s *Server) PaperSurfaces(c *gin.Context, tray []plan.TrayCard, fill []int) []draw.Surface {
	out := make([]draw.Surface, len(fill))
	for i, at := range fill {
		if at < 0 {
			continue
		}
		t := tray[at]
		out[i] = surfaceOf(t, "")
		if pic := t.Picture; pic != nil && pic.Wide > 0 {
			if data, err := s.printOf(c, *pic); err == nil { // else the card's colour is shown
				out[i].JPEG, out[i].Wide, out[i].High = data, pic.Wide, s.Desk.PictureHigh(c.Request.Context(), *pic)
			}
		}
	}
	return out
}

// printOf is the print's own piece of its photo, as a JPEG.
func (s *Server) printOf(c *gin.Context, pic material.Picture) ([]byte, error) {
	photo, err := s.Desk.Photo(c.Request.Context(), pic.Photo)
	if err != nil {
		return nil, fmt.Errorf("the photo of a print: %w", err)
	}
	return photo.Piece(shelf.Box{X: pic.X, Y: pic.Y, W: pic.W, H: pic.H})
}

// Paints are the colours of a piece's parts as custom properties; parts without a card stay empty.
func Paints(look View, labs []*colour.Lab) template.CSS { return paints(look, labs, smalls{}) }

// Paints are the colours of a piece's parts on a page of the plan with its prints and finishes, as SmallPrints and
// smallFinishes define them.
func (p *Page) Paints(labs []*colour.Lab) template.CSS { return p.paintsIn(p.View, labs) }

func (p *Page) paintsIn(look View, labs []*colour.Lab) template.CSS {
	return paints(look, labs, p.surfaces(look))
}

func paints(look View, labs []*colour.Lab, surfaces smalls) template.CSS {
	var out strings.Builder
	for i, c := range labs {
		if c == nil {
			fmt.Fprintf(&out, "--p%d:transparent;", i)
			continue
		}
		rgb, _ := look.Show(*c)
		on := surfaces.of(c)
		if on.print != "" {
			on.print = "url(#" + on.print + ") "
		}
		fmt.Fprintf(&out, "--p%d:%s%s;", i, on.print, rgb.Hex())
		if on.finish != "" {
			fmt.Fprintf(&out, "--f%d:url(#%s);", i, on.finish)
		}
	}
	return template.CSS(out.String())
}

// small names the patterns of a card on a small picture; empty for none.
type small struct{ print, finish string }

// smalls are the patterns of cards by where their colour is kept, and by the colour itself: two cards of one colour
// may differ in nothing but their finish.
type smalls struct {
	at map[*colour.Lab]small
	by map[colour.Lab]small
}

func (s smalls) of(c *colour.Lab) small {
	if one, known := s.at[c]; known {
		return one
	}
	return s.by[*c]
}

// surfaces are the patterns of the plan's cards: the prints of a known size, where colours are seen in plain daylight,
// and the finishes of others.
func (p *Page) surfaces(look View) smalls {
	out := smalls{map[*colour.Lab]small{}, map[colour.Lab]small{}}
	for _, t := range p.Plan.Tray {
		one := small{}
		if f := surfaceOf(t, p.Made); t.Picture == nil && f.Flash == nil {
			one.finish, _ = draw.SmallFinish(f.Finish)
		} else if t.Picture != nil && t.Picture.Wide > 0 && look.PlainDaylight() && p.Made != Flat {
			one.print = fmt.Sprintf("print-%d-%d", p.Plan.At, t.Key)
		}
		out.at[&t.Colour] = one
		if _, known := out.by[t.Colour]; !known {
			out.by[t.Colour] = one
		}
	}
	return out
}

// HasFinishes reports whether a finish of the plan's cards is seen on a small picture of its piece.
func (p *Page) HasFinishes() bool {
	for _, one := range p.surfaces(p.View).at {
		if one.finish != "" {
			return true
		}
	}
	return false
}

// smallFinishes are the definitions of the finishes that Paints names.
func (p *Page) smallFinishes() (defs string) {
	all := map[string]string{}
	for _, t := range p.Plan.Tray {
		if id, def := draw.SmallFinish(surfaceOf(t, p.Made).Finish); id != "" {
			all[id] = def
		}
	}
	for _, id := range slices.Sorted(maps.Keys(all)) {
		defs += all[id]
	}
	return defs
}

// SmallPrints are the definitions of the prints that Paints names, at the scale of the piece's shape; held within
// it where whole is true, for a picture that stands alone.
func (s *Server) SmallPrints(c *gin.Context, p *Page, whole bool) (defs string) {
	all := p.surfaces(p.View)
	k := draw.ShapeSide / max(1, p.Plan.Piece.Width, p.Plan.Piece.Height)
	for _, t := range p.Plan.Tray {
		id := all.of(&t.Colour).print
		if id == "" {
			continue
		}
		address := PictureAt(t.Picture)
		if whole {
			data, err := s.printOf(c, *t.Picture)
			if err != nil {
				continue // the photo is gone: the card's colour is shown
			}
			address = "data:image/jpeg;base64," + base64.StdEncoding.EncodeToString(data)
		}
		wide, high := t.Picture.Wide*k, s.Desk.PictureHigh(c.Request.Context(), *t.Picture)*k
		defs += fmt.Sprintf(`<pattern id="%s" patternUnits="userSpaceOnUse" width="%.2f" height="%.2f"><image width="%.2f" height="%.2f" preserveAspectRatio="none" href="%s"/></pattern>`,
			id, wide, high, wide, high, template.HTMLEscapeString(address))
	}
	return defs
}

// Defs are definitions of a page, or of a picture that stands alone.
func Defs(defs string) template.HTML {
	if defs == "" {
		return ""
	}
	return template.HTML(`<svg width="0" height="0" class="shapes" aria-hidden="true"><defs>` + defs + "</defs></svg>")
}

// PictureAt is the address of a material's picture.
func PictureAt(pic *material.Picture) string {
	return fmt.Sprintf("/photos/%s/piece.jpg?box=%.4f,%.4f,%.4f,%.4f", pic.Photo, pic.X, pic.Y, pic.W, pic.H)
}
