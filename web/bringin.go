package web

import (
	"errors"
	"fmt"
	"io"
	"net/http"
	"path/filepath"

	"github.com/gin-gonic/gin"

	"lampfern/core/material"
	"lampfern/exchange"
	"lampfern/studio"
)

// importBody is the page that brings in a list; Problem is why a file could
// not be read.
type importBody struct {
	Problem  string
	MaxLines int
	MaxMB    int
}

func (s *Server) renderImport(c *gin.Context, status int, problem string) {
	p := s.page(c, "import", "Bring in a list")
	p.Path = "/shelf/import"
	p.Sub = "From a spreadsheet saved as CSV; nothing is kept before you confirm"
	p.Body = importBody{problem, exchange.MaxListLines, exchange.MaxListBytes >> 20}
	s.render(c, status, p)
}

func (s *Server) importForm(c *gin.Context) { s.renderImport(c, http.StatusOK, "") }

// uploaded reads the file of a form.
func uploaded(c *gin.Context) (name string, data []byte, err error) {
	f, head, err := c.Request.FormFile("file")
	if err != nil {
		return "", nil, err
	}
	defer f.Close()
	data, err = io.ReadAll(f)
	return filepath.Base(head.Filename), data, err
}

func (s *Server) importUpload(c *gin.Context) {
	name, data, err := uploaded(c)
	var big *http.MaxBytesError
	switch {
	case errors.As(err, &big):
		s.renderImport(c, http.StatusRequestEntityTooLarge, fmt.Sprintf("Nothing was brought in: the file is larger than %d MB. Split it and bring in the parts one after another.", exchange.MaxListBytes>>20))
		return
	case err != nil:
		s.renderImport(c, http.StatusUnprocessableEntity, "Choose a file first.")
		return
	}
	id, err := s.studio.Upload(c.Request.Context(), name, data)
	var refused studio.Refusal
	if errors.As(err, &refused) {
		s.renderImport(c, http.StatusUnprocessableEntity, string(refused))
		return
	}
	if s.trouble(c, err, "") {
		return
	}
	goTo(c, fmt.Sprintf("/shelf/import/%d", id), "")
}

// badLinesShown and goodShown bound a preview.
const (
	badLinesShown = 200
	goodShown     = 60
)

type previewBody struct {
	studio.Preview
	Cards    []material.Material // the first of the good ones
	BadShown []exchange.BadLine
}

func (s *Server) importPreview(c *gin.Context) {
	pre, err := s.studio.Preview(c.Request.Context(), pathID(c))
	if s.trouble(c, err, "This list was brought in already, or waited too long. Choose the file again under “Bring in a list”.") {
		return
	}
	p := s.page(c, "preview", "Bring in a list")
	p.Sub = pre.Name
	b := previewBody{Preview: pre, BadShown: pre.Bad[:min(len(pre.Bad), badLinesShown)]}
	for _, g := range pre.Good[:min(len(pre.Good), goodShown)] {
		b.Cards = append(b.Cards, g.Material)
	}
	p.Body = b
	s.render(c, http.StatusOK, p)
}

func (s *Server) importConfirm(c *gin.Context) {
	n, err := s.studio.Confirm(c.Request.Context(), pathID(c))
	if s.trouble(c, err, "") {
		return
	}
	goTo(c, "/shelf", plural(n, "material is", "materials are")+" now on the shelf.")
}
