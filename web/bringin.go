package web

import (
	"errors"
	"fmt"
	"io"
	"net/http"
	"path/filepath"
	"strings"

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
	Accept   string
}

func (s *Server) renderImport(c *gin.Context, status int, problem string) {
	p := s.page(c, "import", "Bring in a list")
	p.Path = "/shelf/import"
	p.Sub = "A spreadsheet, measured data, design tokens or a whole shelf; nothing is kept before you confirm"
	p.Body = importBody{problem, exchange.MaxListLines, exchange.MaxListBytes >> 20, exchange.ListExtensions + ",.zip"}
	s.render(c, status, p)
}

func (s *Server) importForm(c *gin.Context) { s.renderImport(c, http.StatusOK, "") }

// uploadInMemory is how much of an upload is held in memory before it is read.
const uploadInMemory = 1 << 20

// uploaded reads the file of a form.
func uploaded(c *gin.Context) (name string, data []byte, err error) {
	// What is large waits on the disk, so that it is in memory only once.
	if err := c.Request.ParseMultipartForm(uploadInMemory); err != nil {
		return "", nil, err
	}
	defer func() { _ = c.Request.MultipartForm.RemoveAll() }()
	f, head, err := c.Request.FormFile("file")
	if err != nil {
		return "", nil, err
	}
	defer f.Close()
	data = make([]byte, head.Size)
	_, err = io.ReadFull(f, data)
	return filepath.Base(head.Filename), data, err
}

func (s *Server) importUpload(c *gin.Context) {
	id, err := s.takeUpload(c)
	var big *http.MaxBytesError
	var refused studio.Refusal
	switch {
	case errors.As(err, &big):
		s.renderImport(c, http.StatusRequestEntityTooLarge, fmt.Sprintf("Nothing was brought in: the file is larger than %d MB. Split it and bring in the parts one after another.", exchange.MaxShelfBytes>>20))
	case errors.Is(err, http.ErrMissingFile) || errors.Is(err, http.ErrNotMultipart):
		s.renderImport(c, http.StatusUnprocessableEntity, "Choose a file first.")
	case errors.As(err, &refused):
		s.renderImport(c, http.StatusUnprocessableEntity, string(refused))
	case s.trouble(c, err, ""):
	default:
		goTo(c, fmt.Sprintf("/shelf/import/%d", id), "")
	}
}

// takeUpload hands the file of a form on; a whole shelf is not read into
// memory.
func (s *Server) takeUpload(c *gin.Context) (id uint, err error) {
	f, head, err := c.Request.FormFile("file")
	if err != nil {
		return 0, err
	}
	defer f.Close()
	name := filepath.Base(head.Filename)
	if strings.EqualFold(filepath.Ext(name), ".zip") {
		return s.studio.UploadShelf(c.Request.Context(), name, f, head.Size)
	}
	data, err := io.ReadAll(io.LimitReader(f, exchange.MaxListBytes+1))
	if err != nil {
		return 0, err
	}
	return s.studio.Upload(c.Request.Context(), name, data)
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

func (s *Server) importPreview(c *gin.Context) { s.renderPreview(c, http.StatusOK, "") }

func (s *Server) renderPreview(c *gin.Context, status int, flash string) {
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
	p.Body, p.Flash = b, flash
	s.render(c, status, p)
}

func (s *Server) importConfirm(c *gin.Context) {
	n, err := s.studio.Confirm(c.Request.Context(), pathID(c))
	var refused studio.Refusal
	if errors.As(err, &refused) {
		s.renderPreview(c, http.StatusUnprocessableEntity, string(refused))
		return
	}
	if s.trouble(c, err, "") {
		return
	}
	goTo(c, "/shelf", plural(n, "material is", "materials are")+" now on the shelf.")
}

// importProgress tells how far an import is: two numbers, done and of.
func (s *Server) importProgress(c *gin.Context) {
	done, of, running := s.studio.Progress(pathID(c))
	c.JSON(http.StatusOK, gin.H{"done": done, "of": of, "running": running})
}

func (s *Server) importStop(c *gin.Context) {
	s.studio.StopImport(pathID(c))
	c.Status(http.StatusNoContent)
}
