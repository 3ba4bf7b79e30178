package web

import (
	"fmt"
	"net/http"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"lampfern/core/card"
	"lampfern/core/colour"
	"lampfern/core/material"
	"lampfern/draw"
	"lampfern/studio"
)

// chartKinds are the kinds that are tried out on paper.
var chartKinds = []string{"marker or pencil", "paint", "pigment or dye", "soap colourant"}

// mostLayers is how many layers a chart has room for.
const mostLayers = 4

type chartBody struct {
	Kind    string
	Kinds   []choice
	Layers  int
	Counts  []choice
	Rows    []chartRow
	Problem string
}

type chartRow struct {
	*studio.Card
	Number int
	Fields []chartField
}

type chartField struct {
	Layer int
	Paint any
	Known bool
}

// chartAsked reads which chart the address asks for.
func (s *Server) chartAsked(c *gin.Context) (kind string, layers int, cards []*studio.Card, ok bool) {
	sh, err := s.studio.Shelf(c.Request.Context())
	if s.trouble(c, err, "") {
		return "", 0, nil, false
	}
	kind = c.DefaultQuery("kind", chartKinds[0])
	layers, err = strconv.Atoi(c.DefaultQuery("layers", "2"))
	if err != nil || layers < 1 || layers > mostLayers {
		s.fail(c, http.StatusUnprocessableEntity, fmt.Sprintf("A chart has 1 to %d layers.", mostLayers))
		return "", 0, nil, false
	}
	cards, _ = sh.Find(studio.Query{Kind: kind})
	return kind, layers, cards, true
}

// chart shows the fields of a colour chart to enter results in.
func (s *Server) chart(c *gin.Context) { s.renderChart(c, http.StatusOK, "") }

func (s *Server) renderChart(c *gin.Context, status int, problem string) {
	kind, layers, cards, ok := s.chartAsked(c)
	if !ok {
		return
	}
	p := s.page(c, "chart", "Colour chart")
	p.Path = fmt.Sprintf("/shelf/chart?kind=%s&layers=%d", strings.ReplaceAll(kind, " ", "+"), layers)
	p.Sub = "Print the numbered grid, fill it in by hand, and enter here what each field came to"
	b := chartBody{Kind: kind, Layers: layers, Problem: problem}
	for _, k := range chartKinds {
		b.Kinds = append(b.Kinds, choice{Key: k, Name: k, On: k == kind})
	}
	for n := 1; n <= mostLayers; n++ {
		b.Counts = append(b.Counts, choice{Key: strconv.Itoa(n), Name: plural(n, "layer", "layers"), On: n == layers})
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
	s.render(c, status, p)
}

// chartPDF sends the grid to fill in.
func (s *Server) chartPDF(c *gin.Context) {
	kind, layers, cards, ok := s.chartAsked(c)
	if !ok {
		return
	}
	paper, err := card.FindPaper(c.Query("paper"))
	if err != nil {
		s.fail(c, http.StatusUnprocessableEntity, capital(err.Error())+".")
		return
	}
	if len(cards) == 0 {
		s.fail(c, http.StatusUnprocessableEntity, fmt.Sprintf("There is no %s on the shelf, so there is nothing to chart.", kind))
		return
	}
	var all []draw.SheetCard
	for i, k := range cards {
		all = append(all, sheetCard(k, i+1))
	}
	s.sendPages(c, "Colour chart, "+kind, draw.ChartSheets(paper, "Colour chart: "+kind, all, layers), "pdf")
}

// keepChart enters what fields of a chart came to.
func (s *Server) keepChart(c *gin.Context) {
	id, _ := strconv.ParseUint(c.PostForm("material"), 10, 32)
	layer, _ := strconv.Atoi(c.PostForm("layer"))
	rgb, err := colour.ParseHex(strings.TrimSpace(c.PostForm("colour")))
	if err != nil || layer < 1 || layer > mostLayers {
		s.renderChart(c, http.StatusUnprocessableEntity, fmt.Sprintf("%q is not a colour: write # and six digits, such as #8a5a86.", c.PostForm("colour")))
		return
	}
	const byEye = 3
	words, err := s.studio.Repaint(c.Request.Context(), uint(id), rgb.Lab(), "typed", byEye, layer)
	if refused, is := err.(studio.Refusal); is {
		s.renderChart(c, http.StatusUnprocessableEntity, string(refused))
		return
	}
	if s.trouble(c, err, noSuchMaterial) {
		return
	}
	goTo(c, c.Request.URL.RequestURI(), words)
}
