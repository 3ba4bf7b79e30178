package web

import (
	"encoding/base64"
	"fmt"
	"html/template"
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

// Shines are how the cards of a piece's parts catch the light; none when surfaces
// are left out.
func Shines(p *Page, fill []int, flat bool) []draw.Shine {
	out := make([]draw.Shine, len(fill))
	for i, at := range fill {
		if at < 0 || flat {
			continue
		}
		t := p.Plan.Tray[at]
		out[i].Strength = material.Shine(t.Finish)
		for _, f := range t.Further {
			if f.Role == material.Flash {
				out[i].Flash = &f.Colour
			}
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
		t, f := p.Plan.Tray[at], &parts[i].Surface
		f.Stitch, f.Finish = t.Kind == "yarn", t.Finish
		if pic := t.Picture; pic != nil && pic.Wide > 0 && p.View.PlainDaylight() {
			f.Picture = PictureAt(pic)
			f.Wide, f.High = pic.Wide, s.Desk.PictureHigh(c.Request.Context(), *pic)
		}
		for _, other := range t.Further {
			if other.Role == material.Flash {
				f.Flash = &other.Colour
			}
		}
	}
}

// Paints are the colours of a piece's parts as custom properties; parts without a card stay empty.
func Paints(look View, labs []*colour.Lab) template.CSS { return paints(look, labs, nil) }

// Paints are the colours of a piece's parts on a page of the plan, and its prints as prints, as PrintDefs has them.
func (p *Page) Paints(labs []*colour.Lab) template.CSS { return p.paintsIn(p.View, labs) }

func (p *Page) paintsIn(look View, labs []*colour.Lab) template.CSS {
	return paints(look, labs, p.prints(look))
}

func paints(look View, labs []*colour.Lab, prints map[colour.Lab]string) template.CSS {
	var out strings.Builder
	for i, c := range labs {
		if c == nil {
			fmt.Fprintf(&out, "--p%d:transparent;", i)
			continue
		}
		rgb, _ := look.Show(*c)
		print := ""
		if id := prints[*c]; id != "" {
			print = "url(#" + id + ") "
		}
		fmt.Fprintf(&out, "--p%d:%s%s;", i, print, rgb.Hex())
	}
	return template.CSS(out.String())
}

// prints are the patterns of the plan's cards that have a picture of a known size, by their colours; none where the
// colours are not seen in plain daylight.
func (p *Page) prints(look View) map[colour.Lab]string {
	if !look.PlainDaylight() {
		return nil
	}
	out := map[colour.Lab]string{}
	for _, t := range p.Plan.Tray {
		if t.Picture != nil && t.Picture.Wide > 0 {
			out[t.Colour] = fmt.Sprintf("print-%d", t.Key)
		}
	}
	return out
}

// printDefs are the patterns that Paints names, at the scale of the piece's shape; held within it where whole is
// true, for a picture that stands alone.
func (s *Server) printDefs(c *gin.Context, p *Page, whole bool) (string, error) {
	prints, defs := p.prints(p.View), ""
	k := draw.ShapeSide / max(1, p.Plan.Piece.Width, p.Plan.Piece.Height)
	for _, t := range p.Plan.Tray {
		id := prints[t.Colour]
		if id != fmt.Sprintf("print-%d", t.Key) {
			continue
		}
		address := PictureAt(t.Picture)
		if whole {
			photo, err := s.Desk.Photo(c.Request.Context(), t.Picture.Photo)
			if err != nil {
				continue // the photo is gone: the card's colour is shown
			}
			data, err := photo.Piece(shelf.Box{X: t.Picture.X, Y: t.Picture.Y, W: t.Picture.W, H: t.Picture.H})
			if err != nil {
				return "", fmt.Errorf("reading the print of %s: %w", t.Name, err)
			}
			address = "data:image/jpeg;base64," + base64.StdEncoding.EncodeToString(data)
		}
		wide, high := t.Picture.Wide*k, s.Desk.PictureHigh(c.Request.Context(), *t.Picture)*k
		defs += fmt.Sprintf(`<pattern id="%s" patternUnits="userSpaceOnUse" width="%.2f" height="%.2f"><image width="%.2f" height="%.2f" preserveAspectRatio="none" href="%s"/></pattern>`,
			id, wide, high, wide, high, template.HTMLEscapeString(address))
	}
	if defs == "" {
		return "", nil
	}
	return `<svg width="0" height="0" class="shapes" aria-hidden="true"><defs>` + defs + "</defs></svg>", nil
}

// PictureAt is the address of a material's picture.
func PictureAt(pic *material.Picture) string {
	return fmt.Sprintf("/photos/%s/piece.jpg?box=%.4f,%.4f,%.4f,%.4f", pic.Photo, pic.X, pic.Y, pic.W, pic.H)
}
