package web

import (
	"errors"
	"fmt"
	"net/http"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"lampfern/core/material"
	"lampfern/core/piece"
	"lampfern/core/surface"
	"lampfern/draw"
	"lampfern/exchange"
	"lampfern/studio"
)

// bring takes a maker's own thing into a plan: a photo of it bare, a line drawing,
// or a weaving draft.
func (s *Server) bring(c *gin.Context) {
	id, ctx := pathID(c), c.Request.Context()
	name, data, err := uploaded(c)
	stage, words, status := c.PostForm("stage"), "", http.StatusOK
	if stage == "" {
		stage = "drawing"
	}
	revision, bad := strconv.ParseInt(c.PostForm("revision"), 10, 64)
	if bad != nil {
		revision = -1
	}
	f := form{c: c}
	wide := f.number("wide", 0)
	var big *http.MaxBytesError
	switch kind := c.PostForm("kind"); {
	case errors.As(err, &big):
		err = studio.Refusal(fmt.Sprintf("Nothing was brought in: the file is larger than %d MB. Save it smaller.", exchange.MaxMeshBytes>>20))
	case err != nil:
		err = studio.Refusal("Choose a file first.")
	case f.bad != nil:
		err = f.bad
	case kind == "photo":
		if wide == 0 {
			wide = 100
		}
		words = "The photo lies under the drawing. Make it ready beside, then draw or grow the parts over it."
		err = s.studio.LayPhoto(ctx, id, revision, name, data, wide)
	case kind == "reference":
		words = "The picture is kept as a reference."
		err = s.studio.KeepReference(ctx, id, revision, name, data)
	case kind == "svg":
		words, err = s.studio.BringSVG(ctx, id, revision, data, c.PostForm("by") == "group", wide)
	case kind == "mesh":
		words, err = s.studio.BringMesh(ctx, id, revision, name, data)
	case kind == "wif":
		words, err = s.studio.BringWIF(ctx, id, revision, data)
	default:
		err = studio.Refusal("This cannot be brought in here. Load the page again.")
	}
	var refused studio.Refusal
	switch {
	case errors.Is(err, studio.ErrConflict):
		status, words = http.StatusConflict, "This plan was changed in another tab, and nothing was brought in. The page now shows the newer plan: bring it in again."
	case errors.As(err, &refused):
		status, words = http.StatusUnprocessableEntity, string(refused)
	case s.trouble(c, err, noSuchPlan):
		return
	}
	if status == http.StatusOK {
		goTo(c, fmt.Sprintf("/plans/%d/%s", id, stage), words)
		return
	}
	s.renderStage(c, status, id, stage, words)
}

// underPicture sends the template of a photo under a plan's drawing, or its lights.
func (s *Server) underPicture(c *gin.Context) {
	plan, err := s.studio.Open(c.Request.Context(), pathID(c))
	if s.trouble(c, err, noSuchPlan) {
		return
	}
	at, bad := strconv.Atoi(c.Param("at"))
	if bad != nil || plan.Piece == nil || at < 0 || at >= len(plan.Piece.Unders) {
		s.fail(c, http.StatusNotFound, noSuchPhoto)
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
	data, err := s.studio.TemplatePicture(c.Request.Context(), u, lights)
	words, err := problem(err)
	if words != "" {
		s.fail(c, http.StatusUnprocessableEntity, words)
		return
	}
	if s.trouble(c, err, noSuchPhoto) {
		return
	}
	if c.Param("kind") != "preview.jpg" {
		c.Header("Cache-Control", "private, max-age=31536000, immutable") // its address tells how it is made
	}
	c.Data(http.StatusOK, map[bool]string{true: "image/png", false: "image/jpeg"}[lights], data)
}

// underPictures are the addresses of the photos under a plan's piece; they change
// with how a photo is made ready.
func underPictures(p *page, pc piece.Piece) []draw.UnderPicture {
	var out []draw.UnderPicture
	for i, u := range pc.Unders {
		how := strings.NewReplacer(" ", "_", "{", "", "}", "").Replace(fmt.Sprintf("%s_%v", u.Photo, u.Bare))
		out = append(out, draw.UnderPicture{Template: fmt.Sprintf("/plans/%d/under/%d/template.jpg?%s", p.Plan.ID, i, how), Lights: fmt.Sprintf("/plans/%d/under/%d/lights.png?%s", p.Plan.ID, i, how)})
	}
	return out
}

// shine is how much of the lights a finish shows.
var shine = map[string]float64{"satin": .2, "gloss": .6, "metallic": .95, "shimmer": .6}

// shines are how the cards of a piece's parts catch the light; none when surfaces
// are left out.
func shines(p *page, fill []int, flat bool) []draw.Shine {
	out := make([]draw.Shine, len(fill))
	for i, at := range fill {
		if at < 0 || flat {
			continue
		}
		t := p.Plan.Tray[at]
		out[i].Strength = shine[t.Finish]
		for _, f := range t.Further {
			if f.Role == material.Flash {
				out[i].Flash = &f.Colour
			}
		}
	}
	return out
}

// bareOf reads how a photo is made ready; sliders go from 0 to 100.
func bareOf(number func(field string, usual float64) float64) surface.Bare {
	return surface.Bare{X: number("x", 0) / 100, Y: number("y", 0) / 100, W: number("w", 100) / 100, H: number("h", 100) / 100,
		Turn: number("turn", 0), Even: number("even", 0) / 100, Sharpen: number("sharpen", 0) / 100}
}

// saveWIF sends the plan's cloth as a weaving draft.
func (s *Server) saveWIF(c *gin.Context) {
	plan, err := s.studio.Open(c.Request.Context(), pathID(c))
	if s.trouble(c, err, noSuchPlan) {
		return
	}
	data, err := plan.WIF()
	if words, bad := problem(err); words != "" {
		s.fail(c, http.StatusUnprocessableEntity, words)
		return
	} else if s.trouble(c, bad, "") {
		return
	}
	download(c, plan.Name+".wif", "text/plain; charset=utf-8", data)
}

// changeOnPhoto makes the changes for which a photo must be read; done is false
// for any other.
func (s *Server) changeOnPhoto(c *gin.Context, id uint, revision int64) (words string, done bool, err error) {
	ctx, f := c.Request.Context(), form{c: c}
	switch do := c.PostForm("do"); {
	case do == "grow":
		at := piece.Point{X: f.number("x", 0), Y: f.number("y", 0)}
		if typed := f.corners("corners"); len(typed) > 0 { // a place that was typed
			at = typed[0]
		}
		tolerance := f.number("tolerance", 20)
		if f.bad == nil {
			err = s.studio.GrowOutline(ctx, id, revision, c.PostForm("part"), at, tolerance)
		}
	case do == "outline" && c.PostForm("follow") != "":
		corners := f.corners("corners")
		if f.bad == nil {
			err = s.studio.FollowOutline(ctx, id, revision, c.PostForm("part"), corners)
		}
	case do == "bare":
		at, b := f.int("at"), bareOf(f.number)
		if f.bad == nil {
			err = s.studio.MakeBare(ctx, id, revision, at, b)
		}
	case do == "pick":
		x, y := f.number("x", -1), f.number("y", -1)
		if f.bad == nil {
			words, err = s.studio.PickReference(ctx, id, revision, c.PostForm("photo"), x, y)
		}
	default:
		return "", false, nil
	}
	if f.bad != nil {
		err = f.bad
	}
	return words, true, err
}
