package shelf

import (
	"bytes"
	"io"
	"log/slog"
	"net/http"
	"strconv"

	"github.com/gin-gonic/gin"

	"lampfern/core/colour"
	"lampfern/core/material"
	"lampfern/core/words"
	"lampfern/exchange"
	"lampfern/shelf"
	"lampfern/web"
)

// besideBody is two cards edge to edge.
type besideBody struct {
	A, B  *shelf.Card
	Words string
	Lamps string // under which they part or come together; empty where that cannot be told
}

// beside lays two cards edge to edge and reads one beside the other.
func (s pages) beside(c *gin.Context) {
	sh, err := s.Desk.Shelf(c.Request.Context())
	if s.Trouble(c, err, "") {
		return
	}
	var b besideBody
	for key, to := range map[string]**shelf.Card{"a": &b.A, "b": &b.B} {
		n, _ := strconv.ParseUint(c.Query(key), 10, 32)
		if *to, err = sh.Card(uint(n)); s.Trouble(c, err, web.NoSuchMaterial) {
			return
		}
	}
	b.Words = words.Capital(colour.Beside(b.A.Colour, b.B.Colour).Words())
	b.Lamps = shelf.UnderLamps(b.A, b.B)
	p := s.Page(c, "beside", b.A.Name+" beside "+b.B.Name)
	p.Sub = "Two cards edge to edge"
	p.Body = b
	s.Render(c, http.StatusOK, p)
}

func (s pages) shelf(c *gin.Context) {
	sh, err := s.Desk.Shelf(c.Request.Context())
	if s.Trouble(c, err, "") {
		return
	}
	p := s.Page(c, "shelf", "Shelf")
	p.Undo, p.Redo, p.Shelf, err = s.Desk.ShelfSteps(c.Request.Context())
	if s.Trouble(c, err, "") {
		return
	}
	b := s.Finder(c, sh, "/shelf")
	p.Sub = words.Plural(b.All, "material", "materials") + ", in colour order, yellows to neutrals"
	p.Body = b
	s.Render(c, http.StatusOK, p)
}

func (s pages) shelfList(c *gin.Context) {
	s.saveShelf(c, "shelf.csv", "text/csv; charset=utf-8", exchange.WriteMaterials)
}

func (s pages) shelfMeasured(c *gin.Context) {
	s.saveShelf(c, "shelf measured.txt", "text/plain; charset=utf-8", exchange.WriteCGATS)
}

func (s pages) shelfTokens(c *gin.Context) {
	s.saveShelf(c, "shelf.tokens.json", "application/json", exchange.WriteTokens)
}

// saveShelf sends every material in one format.
func (s pages) saveShelf(c *gin.Context, name, kind string, write func(io.Writer, []material.Material) error) {
	sh, err := s.Desk.Shelf(c.Request.Context())
	if s.Trouble(c, err, "") {
		return
	}
	var b bytes.Buffer
	if s.Trouble(c, write(&b, sh.Materials()), "") {
		return
	}
	web.Download(c, name, kind, b.Bytes())
}

// shelfZip sends the whole shelf with its photos, as it is packed.
func (s pages) shelfZip(c *gin.Context) {
	web.Attach(c, "shelf.zip")
	web.Long(c)
	c.Header("Content-Type", "application/zip")
	if err := s.Desk.ExportShelf(c.Request.Context(), c.Writer); err != nil {
		slog.Error("the shelf could not be packed", "err", err)
		panic(http.ErrAbortHandler) // the browser must not take half a zip for a whole one
	}
}
