package web

import (
	"bytes"
	"fmt"
	"io"
	"net/http"
	"strconv"

	"github.com/gin-gonic/gin"

	"lampfern/core/colour"
	"lampfern/core/material"
	"lampfern/core/words"
	"lampfern/draw"
	"lampfern/exchange"
	"lampfern/shelf"
)

// CardLines are what stands under the name on a printed card.
func CardLines(c *shelf.Card) []string {
	first := c.Kind
	if c.Reference != "" {
		first += " · " + c.Reference
	}
	if c.Lot != "" {
		first += " · lot " + c.Lot
	}
	second := fmt.Sprintf("value %.1f · %s", c.Colour.Value(), c.Family)
	if !c.Neutral {
		second += " · " + colour.ClearnessWord(c.Clearness)
	} else if u := c.Colour.Undertone(); u != "" {
		second += " · undertone of " + string(u)
	}
	if c.Recipe != "" {
		return []string{first, second, "mix " + c.Recipe}
	}
	if c.ID == 0 {
		return []string{first, second, "a target colour, no material yet"}
	}
	if c.Source == "mixed" && c.Remark != "" {
		return []string{first, second, c.Remark} // its recipe
	}
	return []string{first, second, fmt.Sprintf("%s, accurate to about ΔE %g", c.Source, c.Uncertainty)}
}

// backLines are a card's record.
func backLines(c *shelf.Card) []string {
	lines := []string{c.Kind + ", " + c.Finish}
	for _, l := range [][2]string{{"from ", c.Supplier}, {"reference ", c.Reference}, {"lot ", c.Lot}, {"", c.Size}} {
		if l[1] != "" {
			lines = append(lines, l[0]+l[1])
		}
	}
	lines = append(lines, fmt.Sprintf("L %.1f  a %.1f  b %.1f (D65)", c.Colour.L, c.Colour.A, c.Colour.B),
		c.Colour.Hex()+fmt.Sprintf(" · value %.1f", c.Colour.Value()),
		fmt.Sprintf("%s, accurate to about ΔE %g", c.SourceWords(), c.Uncertainty))
	if c.Recipe != "" {
		lines = append(lines, "mix "+c.Recipe)
	}
	if c.Discontinued {
		lines = append(lines, "discontinued")
	}
	if c.Remark != "" {
		lines = append(lines, c.Remark)
	}
	return lines
}

// SheetCard is a card as it is printed.
func SheetCard(c *shelf.Card, number int) draw.SheetCard {
	return draw.SheetCard{Name: c.Name, Lines: CardLines(c), Back: backLines(c), Number: number, Colour: c.Colour, Portions: c.Face(),
		Amount: c.OnHandWords()}
}

// SendPages sends drawn sheets in one format; SVG and PNG hold the one that the
// address names.
func (s *Server) SendPages(c *gin.Context, title string, pages []draw.Scene, format string) {
	if format == "pdf" {
		data, err := draw.PDF(title, pages)
		if s.Trouble(c, err, "") {
			return
		}
		Download(c, title+".pdf", "application/pdf", data)
		return
	}
	n, err := strconv.Atoi(c.DefaultQuery("sheet", "1"))
	if err != nil || n < 1 || n > len(pages) {
		s.Fail(c, http.StatusNotFound, fmt.Sprintf("This print has only %s.", words.Plural(len(pages), "sheet", "sheets")))
		return
	}
	if format == "png" {
		data, err := draw.PNG(pages[n-1])
		if s.Trouble(c, err, "") {
			return
		}
		Download(c, fmt.Sprintf("%s %d.png", title, n), "image/png", data)
		return
	}
	svg := []byte(pages[n-1].SVG())
	if c.Query("show") != "" {
		c.Data(http.StatusOK, "image/svg+xml", svg)
		return
	}
	Download(c, fmt.Sprintf("%s %d.svg", title, n), "image/svg+xml", svg)
}

// SendStrip sends colours as a strip or as a list.
func (s *Server) SendStrip(c *gin.Context, title string, strip []draw.Strip, all []material.Material, format string) {
	var b bytes.Buffer
	var err error
	kind := ""
	write := func(w func(io.Writer, []material.Material) error) { err = w(&b, all) }
	put := func(data []byte, bad error) { b.Write(data); err = bad }
	switch format {
	case "csv":
		kind = "text/csv; charset=utf-8"
		write(exchange.WriteMaterials)
	case "tokens.json":
		kind = "application/json"
		write(exchange.WriteTokens)
	case "svg":
		kind = "image/svg+xml"
		put([]byte(draw.StripScene(title, strip).SVG()), nil)
	case "png":
		kind = "image/png"
		put(draw.PNG(draw.StripScene(title, strip)))
	case "pdf":
		kind = "application/pdf"
		put(draw.PDF(title, draw.StripPages(title, strip)))
	}
	if s.Trouble(c, err, "") {
		return
	}
	Download(c, title+"."+format, kind, b.Bytes())
}

// StripFormats are what a run or a ramp can be saved as.
var StripFormats = []string{"csv", "tokens.json", "svg", "png", "pdf"}

// SheetFormats are what drawn sheets can be saved as.
var SheetFormats = []string{"pdf", "svg", "png"}
