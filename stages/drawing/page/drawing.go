package page

import (
	"fmt"
	"html/template"
	"math"
	"net/http"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"lampfern/core/piece"
	"lampfern/core/surface"
	stage "lampfern/stages/drawing"
	"lampfern/web"
)

// underPicture sends the relief of a photo under a plan's drawing, or its lights.
func (s pages) underPicture(c *gin.Context) {
	plan, err := s.Desk.Open(c.Request.Context(), web.PathID(c))
	if s.Trouble(c, err, web.NoSuchPlan) {
		return
	}
	at, bad := strconv.Atoi(c.Param("at"))
	if bad != nil || plan.Piece == nil || at < 0 || at >= len(plan.Piece.Unders) {
		s.Fail(c, http.StatusNotFound, web.NoSuchPhoto)
		return
	}
	lights, u := c.Param("kind") == "lights.png", plan.Piece.Unders[at]
	if c.Param("kind") == "preview.jpg" { // as a slider stands, not kept yet
		u.Bare = bareOf(func(field string, usual float64) float64 {
			v, err := strconv.ParseFloat(c.Query(field), 64)
			if err != nil {
				return usual
			}
			return v
		})
	}
	data, err := s.Desk.ReliefPicture(c.Request.Context(), u, lights)
	words, err := web.Problem(err)
	if words != "" {
		s.Fail(c, http.StatusUnprocessableEntity, words)
		return
	}
	if s.Trouble(c, err, web.NoSuchPhoto) {
		return
	}
	if c.Param("kind") != "preview.jpg" {
		c.Header("Cache-Control", "private, max-age=31536000, immutable") // its address tells how it is made
	}
	c.Data(http.StatusOK, map[bool]string{true: "image/png", false: "image/jpeg"}[lights], data)
}

// bareOf reads how a photo is made ready; sliders go from 0 to 100.
func bareOf(number func(field string, usual float64) float64) surface.Bare {
	return surface.Bare{X: number("x", 0) / 100, Y: number("y", 0) / 100, W: number("w", 100) / 100, H: number("h", 100) / 100,
		Turn: number("turn", 0), Even: number("even", 0) / 100, Sharpen: number("sharpen", 0) / 100}
}

type drawingBody struct {
	*stage.DrawingView
	Unders   []underRow
	Seen     []seenPart // what is seen of each part
	Outlines []outlineRow
	Problem  string
}

// underRow is a photo under the drawing as the page shows it.
type underRow struct {
	piece.Under
	At      int
	Address string
}

// Percent is a share as a slider shows it.
func (underRow) Percent(v float64) float64 { return math.Round(1000*v) / 10 }

// seenPart is what is seen of a part of a drawing, as an SVG path in mm.
type seenPart struct {
	Path  string
	Paint template.CSS
}

// outlineRow is one outline of a drawing as the page shows it.
type outlineRow struct {
	piece.Outline
	At     int
	Name   string
	Points string // as SVG has them, in mm
	Seen   bool
	Top    bool
	Bottom bool
}

// drawingStage shows the maker's drawing, to be drawn in.
func drawingStage(_ *gin.Context, p *web.Page) error {
	b := drawingBody{}
	p.Sub = "Click each corner; click the first again to close, or the last to finish a line. New shapes sit on top"
	v, err := stage.Drawn(p.Plan)
	if b.Problem, err = web.Problem(err); err != nil || b.Problem != "" {
		p.Body = b
		return err
	}
	b.DrawingView = v
	for i, u := range web.UnderPictures(p, p.Plan.Piece.Piece) {
		b.Unders = append(b.Unders, underRow{At: i, Under: v.Drawing.Unders[i], Address: u.Relief})
	}
	if len(b.Unders) > 0 {
		p.Sub = "Adjust the photo, then mark each part: click its corners, or select an area"
	}
	for i, o := range v.Drawing.Outlines {
		row := outlineRow{Outline: o, At: i, Name: v.Parts[o.Part].Name, Seen: v.Seen[o.Part], Bottom: i == 0,
			Top: i == len(v.Drawing.Outlines)-1}
		var pts []string
		for _, q := range o.Corners {
			pts = append(pts, fmt.Sprintf("%.6g,%.6g", q.X, q.Y))
		}
		row.Points = strings.Join(pts, " ")
		b.Outlines = append(b.Outlines, row)
	}
	one := v.Drawing
	one.Across, one.Down = 1, 1
	made, err := one.Made()
	if err != nil {
		return err
	}
	for i, contours := range made.Contours() {
		seen := seenPart{Paint: "fill:none"}
		if lab := v.Labs[i]; lab != nil {
			rgb, _ := p.View.Show(*lab)
			seen.Paint = template.CSS("fill:" + rgb.Hex())
		}
		var d strings.Builder
		for _, c := range contours {
			for k, q := range c {
				fmt.Fprintf(&d, "%s%.6g %.6g", map[bool]string{true: "M", false: "L"}[k == 0], q.X, q.Y)
			}
			d.WriteString("z")
		}
		seen.Path = d.String()
		b.Seen = append(b.Seen, seen)
	}
	p.Body = b
	return nil
}
