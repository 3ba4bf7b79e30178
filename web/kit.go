package web

import (
	"errors"
	"fmt"
	"html/template"
	"io"
	"math"
	"net/http"
	"net/url"
	"path/filepath"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"lampfern/core/words"
	"lampfern/plan"
	"lampfern/shelf"
)

// uploadInMemory is how much of an upload is held in memory before it is read.
const uploadInMemory = 1 << 20

// Uploaded reads the file of a form.
func Uploaded(c *gin.Context) (name string, data []byte, err error) {
	all, err := Uploads(c, "file")
	if err == nil && all["file"] == nil {
		err = http.ErrMissingFile
	}
	if err != nil {
		return "", nil, err
	}
	return all["file"].Name, all["file"].Data, nil
}

// Uploads reads the files of a form by the names of their fields; one that was not chosen is left out.
func Uploads(c *gin.Context, fields ...string) (map[string]*plan.File, error) {
	// What is large waits on the disk, so that it is in memory only once.
	if err := c.Request.ParseMultipartForm(uploadInMemory); err != nil {
		return nil, err
	}
	defer func() { _ = c.Request.MultipartForm.RemoveAll() }()
	out := map[string]*plan.File{}
	for _, field := range fields {
		f, head, err := c.Request.FormFile(field)
		switch {
		case errors.Is(err, http.ErrMissingFile) || err == nil && head.Size == 0 && head.Filename == "":
			continue
		case err != nil:
			return nil, err
		}
		data := make([]byte, head.Size)
		_, err = io.ReadFull(f, data)
		if err := errors.Join(err, f.Close()); err != nil {
			return nil, err
		}
		out[field] = &plan.File{Name: filepath.Base(head.Filename), Data: data}
	}
	return out, nil
}

// GoToBegun answers with the page on which a plan that was just begun is seen first: the wheel where its thing is not decided.
func (s *Server) GoToBegun(c *gin.Context, id uint, decided bool) {
	p, err := s.Desk.Open(c.Request.Context(), id)
	if s.Trouble(c, err, NoSuchPlan) {
		return
	}
	page, said := "proportion", "Your colours are on the shelf, and here in their best arrangement. The row below shows others."
	switch {
	case p.Piece != nil && len(p.Piece.Parts) == 0:
		page, said = "drawing", "Your photo is under the drawing. Click a place on it to grow a part, or draw one. Your colours are in the tray."
	case !decided:
		page, said = "wheel", "Your colours are on the shelf and in the tray. Choose a scheme here, or open Proportion to see them on a piece."
	case len(p.Tray) == 0:
		page, said = "gather", "Add cards to the tray to see them on the piece."
	}
	GoTo(c, fmt.Sprintf("/plans/%d/%s", id, page), said)
}

// Problem is a refusal in words, for showing in place of a page's body.
func Problem(err error) (string, error) {
	if refused, is := err.(words.Refusal); is {
		return string(refused), nil
	}
	return "", err
}

// Figure is a number as a field shows it, with three decimals at most.
func Figure(v float64) string { return strconv.FormatFloat(math.Round(v*1000)/1000+0, 'f', -1, 64) }

const NoSuchMaterial = "There is no such material on the shelf. It may have been removed."

const NoSuchPhoto = "There is no such photo. Your photos are under Add materials, From a photo."

// Crop shows a box of a photo as the background of an element of any size.
func Crop(hash string, b shelf.Box) template.CSS {
	at := func(start, size float64) float64 {
		if size >= 1 {
			return 0
		}
		return 100 * start / (1 - size)
	}
	w, h := max(b.W, 0.01), max(b.H, 0.01)
	return template.CSS(fmt.Sprintf("background-image:url(/photos/%s/view.jpg);background-size:%.2f%% %.2f%%;background-position:%.3f%% %.3f%%", hash, 100/w, 100/h, at(b.X, w), at(b.Y, h)))
}

const NoSuchPlan = "There is no such plan. Your plans are listed under Plans."

// Download sends a file to keep.
func Download(c *gin.Context, name, kind string, data []byte) {
	Attach(c, name)
	c.Data(http.StatusOK, kind, data)
}

// Attach makes an answer a file of a name to be saved.
func Attach(c *gin.Context, name string) {
	c.Header("Content-Disposition", fmt.Sprintf("attachment; filename=%q; filename*=UTF-8''%s", asciiOnly(name), url.PathEscape(name)))
}

func asciiOnly(name string) string {
	return strings.Map(func(r rune) rune {
		if r < ' ' || r > '~' || r == '"' || r == '\\' || r == '/' {
			return '-'
		}
		return r
	}, name)
}

// PathID is the id in the address, 0 when there is none to be found.
func PathID(c *gin.Context) uint { return NumberOf(c.Param("id")) }

// NumberOf is the number that a text writes, 0 when it is none.
func NumberOf(text string) uint {
	n, err := strconv.ParseUint(text, 10, 32)
	if err != nil {
		return 0
	}
	return uint(n)
}
