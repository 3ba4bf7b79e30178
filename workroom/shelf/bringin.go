package shelf

import (
	"errors"
	"fmt"
	"io"
	"net/http"
	"path/filepath"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"lampfern/core/material"
	"lampfern/core/words"
	"lampfern/exchange"
	"lampfern/shelf"
	"lampfern/web"
)

// importBody is the page that brings in a list; Problem is why a file could
// not be read.
type importBody struct {
	Problem  string
	MaxLines int
	MaxMB    int
	Accept   string
}

func (s pages) renderImport(c *gin.Context, status int, problem string) {
	p := s.Page(c, "import", "Add materials")
	p.Title = "Add materials from a list"
	p.Path = "/shelf/import"
	p.Sub = "From a spreadsheet, measured data, design tokens or a whole shelf. You check it before anything is saved"
	p.Body = importBody{problem, exchange.MaxListLines, exchange.MaxListBytes >> 20, exchange.ListExtensions + ",.zip"}
	s.Render(c, status, p)
}

func (s pages) importForm(c *gin.Context) { s.renderImport(c, http.StatusOK, "") }

func (s pages) importUpload(c *gin.Context) {
	id, err := s.takeUpload(c)
	var big *http.MaxBytesError
	var refused words.Refusal
	switch {
	case errors.As(err, &big):
		s.renderImport(c, http.StatusRequestEntityTooLarge,
			fmt.Sprintf("Not imported: the file is larger than %d MB. Split it into smaller files.",
				exchange.MaxShelfBytes>>20))
	case errors.Is(err, http.ErrMissingFile) || errors.Is(err, http.ErrNotMultipart):
		s.renderImport(c, http.StatusUnprocessableEntity, "Choose a file first.")
	case errors.As(err, &refused):
		s.renderImport(c, http.StatusUnprocessableEntity, string(refused))
	case s.Trouble(c, err, ""):
	default:
		web.GoTo(c, fmt.Sprintf("/shelf/import/%d", id), "")
	}
}

// takeUpload hands the file of a form on; a whole shelf is not read into
// memory.
func (s pages) takeUpload(c *gin.Context) (id uint, err error) {
	f, head, err := c.Request.FormFile("file")
	if err != nil {
		return 0, err
	}
	defer f.Close()
	name := filepath.Base(head.Filename)
	if strings.EqualFold(filepath.Ext(name), ".zip") {
		return s.Desk.UploadShelf(c.Request.Context(), name, f, head.Size)
	}
	data, err := io.ReadAll(io.LimitReader(f, exchange.MaxListBytes+1))
	if err != nil {
		return 0, err
	}
	return s.Desk.Upload(c.Request.Context(), name, data)
}

// badLinesShown and goodShown bound a preview.
const (
	badLinesShown = 200
	goodShown     = 60
)

type previewBody struct {
	shelf.Preview
	Cards    []material.Material // the first of the good ones
	BadShown []exchange.BadLine
	Ups      []shelf.Update // the first of those that are on the shelf
}

// ticked tells of which lines a form asks that they update what is on the shelf: those that are
// ticked, and where it says so all that were not shown.
func ticked(c *gin.Context) func(line int) bool {
	asked, last := map[string]bool{}, 0
	for _, line := range c.PostFormArray("update") {
		asked[line] = true
	}
	if n, err := strconv.Atoi(c.PostForm("rest")); err == nil && n > 0 {
		last = n
	}
	return func(line int) bool { return asked[strconv.Itoa(line)] || last > 0 && line > last }
}

func (s pages) importPreview(c *gin.Context) { s.renderPreview(c, http.StatusOK, "") }

func (s pages) renderPreview(c *gin.Context, status int, flash string) {
	pre, err := s.Desk.Preview(c.Request.Context(), web.PathID(c))
	if s.Trouble(c, err, "This list was imported already, or has expired. Choose the file again.") {
		return
	}
	p := s.Page(c, "preview", "Add materials")
	p.Title = "Check the list"
	p.Sub = pre.Name
	b := previewBody{Preview: pre, BadShown: pre.Bad[:min(len(pre.Bad), badLinesShown)],
		Ups: pre.Updates[:min(len(pre.Updates), badLinesShown)]}
	for _, g := range pre.Good[:min(len(pre.Good), goodShown)] {
		b.Cards = append(b.Cards, g.Material)
	}
	p.Body, p.Flash = b, flash
	s.Render(c, status, p)
}

func (s pages) importConfirm(c *gin.Context) {
	came, err := s.Desk.Confirm(c.Request.Context(), web.PathID(c), ticked(c))
	var refused words.Refusal
	if errors.As(err, &refused) {
		s.renderPreview(c, http.StatusUnprocessableEntity, string(refused))
		return
	}
	if s.Trouble(c, err, "") {
		return
	}
	web.GoTo(c, "/shelf", came.Words())
}

// importProgress tells how far an import is: two numbers, done and of.
func (s pages) importProgress(c *gin.Context) {
	done, of, running := s.Desk.Progress(web.PathID(c))
	c.JSON(http.StatusOK, gin.H{"done": done, "of": of, "running": running})
}

func (s pages) importStop(c *gin.Context) {
	s.Desk.StopImport(web.PathID(c))
	c.Status(http.StatusNoContent)
}
