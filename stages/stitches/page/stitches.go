package page

import (
	"encoding/base64"
	"html/template"
	"strings"

	"github.com/gin-gonic/gin"

	"lampfern/core/colour"
	"lampfern/draw"
	"lampfern/plan"
	stage "lampfern/stages/stitches"
	"lampfern/web"
)

type stitchesBody struct {
	*stage.ChartView
	Picture template.URL // one repeat, a pixel a stitch
	Text    string
	Problem string
}

// stitchesStage shows a chart to be edited stitch by stitch.
func stitchesStage(_ *gin.Context, p *web.Page) error {
	b := stitchesBody{}
	p.Sub = "Choose a yarn, then paint stitches by dragging, or move with the arrow keys and press space"
	v, err := stage.Stranded(p.Plan)
	if b.Problem, err = web.Problem(err); err != nil || b.Problem != "" {
		p.Body = b
		return err
	}
	b.ChartView = v
	labs := make([]*colour.Lab, len(v.Fill))
	for i, at := range v.Fill {
		labs[i] = &plan.LooseThread
		if at >= 0 {
			labs[i] = &p.Plan.Tray[at].Colour
		}
	}
	data, err := draw.ChartPicture(p.View.Light, v.Piece.Cells, labs)
	b.Picture = template.URL("data:image/png;base64," + base64.StdEncoding.EncodeToString(data))
	b.Text = strings.Join(v.Chart, "\n")
	p.Body = b
	return err
}
