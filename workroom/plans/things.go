package plans

import (
	"fmt"
	"net/http"
	"strings"

	"github.com/gin-gonic/gin"

	"lampfern/core/colour"
	"lampfern/core/craft"
	"lampfern/core/piece"
	"lampfern/draw"
	"lampfern/plan"
	"lampfern/web"
)

// things are the things of one craft that a plan can be of.
type things struct {
	Craft  string
	Pieces []piece.Pattern
}

// allThings are what can be made, by craft.
func allThings() (out []things) {
	for _, c := range craft.All() {
		if len(c.Patterns) > 0 {
			out = append(out, things{c.Name, c.Patterns})
		}
	}
	return out
}

// thing sends the picture of a thing without its colours: its parts in greys, the largest the lightest.
func (s pages) thing(c *gin.Context) {
	t, err := craft.Pattern(strings.TrimSuffix(c.Param("file"), ".svg"))
	if err != nil {
		s.Fail(c, http.StatusNotFound, "There is no such piece. Choose one under Start a plan.")
		return
	}
	picture, err := plan.Recall(s.Desk, "plans thing "+t.Key, func() (string, error) { return greyed(t) })
	if s.Trouble(c, err, "") {
		return
	}
	c.Header("Cache-Control", "private, max-age=86400")
	c.Data(http.StatusOK, "image/svg+xml", []byte(picture))
}

// Greys of a thing without its colours, in L*.
const (
	palest  = 92.0
	darkest = 42.0
)

func greyed(t piece.Pattern) (string, error) {
	made, err := t.Build(nil, nil)
	if err != nil {
		return "", fmt.Errorf("making the thing %s: %w", t.Key, err)
	}
	shape, box, err := draw.PieceShape(made, "thing", nil, false)
	if err != nil {
		return "", fmt.Errorf("drawing the thing %s: %w", t.Key, err)
	}
	labs := make([]*colour.Lab, len(made.Parts))
	shares := made.Shares()
	for i := range labs {
		larger := 0
		for j, s := range shares {
			if s > shares[i] || s == shares[i] && j < i { // those of one size in a run
				larger++
			}
		}
		labs[i] = &colour.Lab{L: palest - (palest-darkest)*float64(larger)/float64(max(1, len(labs)-1))}
	}
	return fmt.Sprintf(`<svg xmlns="http://www.w3.org/2000/svg" viewBox="%s" style="%s">%s<use href="#thing"/></svg>`, box, web.Paints(web.View{Light: draw.Light{Lamp: colour.Lamps()[0]}}, labs), shape), nil
}
