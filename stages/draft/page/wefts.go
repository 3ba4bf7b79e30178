package page

import (
	"encoding/base64"
	"html/template"

	"github.com/gin-gonic/gin"

	"lampfern/draw"
	stage "lampfern/stages/draft"
	"lampfern/web"
)

type weftsBody struct {
	*stage.WeftsView
	Pictures []template.URL // of each section
	Problem  string
}

// weftsStage shows one warp with a section of each weft.
func weftsStage(_ *gin.Context, p *web.Page) error {
	b := weftsBody{}
	p.Sub = "Your whole warp, crossed by one weft after another"
	v, err := stage.Wefts(p.Plan)
	if b.Problem, err = web.Problem(err); err != nil || b.Problem != "" {
		p.Body = b
		return err
	}
	b.WeftsView = v
	for _, s := range v.Sections {
		png, err := draw.ChartPicture(p.View.Light, s.Cells, s.Labs)
		if err != nil {
			return err
		}
		b.Pictures = append(b.Pictures, template.URL("data:image/png;base64,"+base64.StdEncoding.EncodeToString(png)))
	}
	p.Body = b
	return nil
}
