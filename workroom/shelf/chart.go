package shelf

import (
	"fmt"
	"net/http"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"lampfern/core/card"
	"lampfern/core/colour"
	"lampfern/core/material"
	"lampfern/core/words"
	"lampfern/draw"
	"lampfern/shelf"
	"lampfern/web"
)

type chartBody struct {
	Kind    string
	Kinds   []web.Choice
	Layers  int
	Counts  []web.Choice
	Rows    []chartRow
	Problem string
}

type chartRow struct {
	*shelf.Card
	Number int
	Fields []chartField
}

type chartField struct {
	Layer int
	Paint any
	Known bool
}

// chartAsked reads which chart the address asks for.
func (s pages) chartAsked(c *gin.Context) (kind string, layers int, cards []*shelf.Card, ok bool) {
	sh, err := s.Desk.Shelf(c.Request.Context())
	if s.Trouble(c, err, "") {
		return "", 0, nil, false
	}
	kind = c.DefaultQuery("kind", material.ChartKinds()[0])
	layers, err = strconv.Atoi(c.DefaultQuery("layers", "2"))
	if err != nil || layers < 1 || layers > shelf.MostLayers {
		s.Fail(c, http.StatusUnprocessableEntity, fmt.Sprintf("A chart has 1 to %d layers.", shelf.MostLayers))
		return "", 0, nil, false
	}
	cards, _ = sh.Find(shelf.Query{Kind: kind})
	return kind, layers, cards, true
}

// chart shows the fields of a colour chart to enter results in.
func (s pages) chart(c *gin.Context) { s.renderChart(c, http.StatusOK, "") }

func (s pages) renderChart(c *gin.Context, status int, problem string) {
	kind, layers, cards, ok := s.chartAsked(c)
	if !ok {
		return
	}
	p := s.Page(c, "chart", "Colour chart")
	p.Path = fmt.Sprintf("/shelf/chart?kind=%s&layers=%d", strings.ReplaceAll(kind, " ", "+"), layers)
	p.Sub = "Print the grid, paint it, and enter the result of each square"
	b := chartBody{Kind: kind, Layers: layers, Problem: problem}
	for _, k := range material.ChartKinds() {
		b.Kinds = append(b.Kinds, web.Choice{Key: k, Name: k, On: k == kind})
	}
	for n := 1; n <= shelf.MostLayers; n++ {
		b.Counts = append(b.Counts, web.Choice{Key: strconv.Itoa(n), Name: words.Plural(n, "layer", "layers"), On: n == layers})
	}
	for i, k := range cards {
		row := chartRow{Card: k, Number: i + 1}
		known := []colour.Lab{k.Colour}
		for _, f := range k.Further {
			if f.Role == material.Layer {
				known = append(known, f.Colour)
			}
		}
		for n := range layers {
			f := chartField{Layer: n + 1}
			if n < len(known) {
				f.Known, f.Paint = true, p.View.Paint(known[n])
			}
			row.Fields = append(row.Fields, f)
		}
		b.Rows = append(b.Rows, row)
	}
	p.Body = b
	s.Render(c, status, p)
}

// blankFields is how many fields a blank chart has: a page of A4.
const blankFields = 32

// chartPDF sends the grid to fill in.
func (s pages) chartPDF(c *gin.Context) {
	kind, layers, cards, ok := s.chartAsked(c)
	if !ok {
		return
	}
	paper, err := card.FindPaper(c.Query("paper"))
	if err != nil {
		s.Fail(c, http.StatusUnprocessableEntity, words.Capital(err.Error())+".")
		return
	}
	if c.Query("blank") != "" { // numbered fields for what is not on the shelf yet
		cards = make([]*shelf.Card, blankFields)
	}
	if len(cards) == 0 {
		s.Fail(c, http.StatusUnprocessableEntity, fmt.Sprintf("You have no %s, so there is nothing to chart.", kind))
		return
	}
	var all []draw.SheetCard
	title := "Colour chart: " + kind
	for i, k := range cards {
		if k == nil {
			title = "Colour chart"
			all = append(all, draw.SheetCard{Number: i + 1})
			continue
		}
		all = append(all, web.SheetCard(k, i+1))
	}
	s.SendPages(c, "Colour chart, "+kind, draw.ChartSheets(paper, title, all, layers), "pdf")
}

// keepChart enters what fields of a chart came to.
func (s pages) keepChart(c *gin.Context) {
	id, _ := strconv.ParseUint(c.PostForm("material"), 10, 32)
	layer, _ := strconv.Atoi(c.PostForm("layer"))
	rgb, err := colour.ParseHex(strings.TrimSpace(c.PostForm("colour")))
	if err != nil || layer < 1 || layer > shelf.MostLayers {
		s.renderChart(c, http.StatusUnprocessableEntity, fmt.Sprintf("%q is not a colour: write # and six digits, such as #8a5a86.",
			c.PostForm("colour")))
		return
	}
	const byEye = 3
	said, err := s.Desk.Repaint(c.Request.Context(), uint(id), rgb.Lab(), "typed", byEye, layer)
	if refused, is := err.(words.Refusal); is {
		s.renderChart(c, http.StatusUnprocessableEntity, string(refused))
		return
	}
	if s.Trouble(c, err, web.NoSuchMaterial) {
		return
	}
	web.GoTo(c, c.Request.URL.RequestURI(), said)
}
