package web

import (
	"fmt"
	"html/template"
	"strings"

	"github.com/gin-gonic/gin"

	"lampfern/core/colour"
	"lampfern/core/material"
	"lampfern/core/piece"
	"lampfern/draw"
	"lampfern/plan"
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
			f.Picture = fmt.Sprintf("/photos/%s/piece.jpg?box=%.4f,%.4f,%.4f,%.4f", pic.Photo, pic.X, pic.Y, pic.W, pic.H)
			f.Wide, f.High = pic.Wide, s.Desk.PictureHigh(c.Request.Context(), *pic)
		}
		for _, other := range t.Further {
			if other.Role == material.Flash {
				f.Flash = &other.Colour
			}
		}
	}
}

// Paints are the colours of a piece's parts as custom properties; parts without
// a card stay empty.
func Paints(look View, labs []*colour.Lab) template.CSS {
	var out strings.Builder
	for i, c := range labs {
		if c == nil {
			fmt.Fprintf(&out, "--p%d:transparent;", i)
			continue
		}
		rgb, _ := look.Show(*c)
		fmt.Fprintf(&out, "--p%d:%s;", i, rgb.Hex())
	}
	return template.CSS(out.String())
}
