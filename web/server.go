// Package web serves the pages: it decodes and checks a request, lets studio
// do the work, and renders a template or a drawing. It holds view models and
// no rule of the job.
package web

import (
	"bytes"
	"crypto/sha256"
	"embed"
	"encoding/hex"
	"errors"
	"fmt"
	"html/template"
	"io/fs"
	"log/slog"
	"mime"
	"net/http"
	"path"
	"strings"
	"time"

	"github.com/gin-contrib/gzip"
	"github.com/gin-gonic/gin"

	"lampfern/exchange"
	"lampfern/studio"
)

//go:embed static templates
var files embed.FS

// Server answers requests for one studio.
type Server struct {
	studio *studio.Studio
	pages  map[string]*template.Template
	static string // address under which the static files of this build live
}

// maxBody bounds what a request may send; a list or plan file fits well.
const maxBody = 12 << 20

// haveHeader names the fronds, or the outlines of the piece, that the asking page
// shows already.
const haveHeader = "X-Lampfern-Have"

// gzipLevel spends little time: pages go to the machine they come from, or to
// one in the same house.
const gzipLevel = 1

// partHeader asks for the changed part of a page alone.
const partHeader = "X-Lampfern-Part"

// New returns the handler of the whole application.
func New(st *studio.Studio) (http.Handler, error) {
	s := &Server{studio: st}
	hash, err := staticHash()
	if err != nil {
		return nil, err
	}
	s.static = "/static/" + hash
	if s.pages, err = parsePages(s.static); err != nil {
		return nil, err
	}
	gin.SetMode(gin.ReleaseMode)
	r := gin.New()
	r.Use(s.guard, gzip.Gzip(gzipLevel, gzip.WithCustomShouldCompressFn(whole)))
	s.routes(r)
	return http.NewCrossOriginProtection().Handler(r), nil
}

// whole reports whether a whole page is asked for; a changed part is wanted
// at once, and packing it takes longer than sending it.
func whole(c *gin.Context) bool {
	return c.GetHeader(partHeader) == "" && strings.Contains(c.GetHeader("Accept-Encoding"), "gzip") && !strings.HasSuffix(c.Request.URL.Path, ".woff2")
}

func (s *Server) routes(r *gin.Engine) {
	r.GET("/healthz", s.healthz)
	r.GET("/static/:hash/*file", s.staticFile)
	r.GET("/favicon.ico", func(c *gin.Context) { c.Status(http.StatusNoContent) })

	r.GET("/", s.home)
	r.GET("/view", s.setView)

	r.GET("/shelf", s.shelf)
	r.GET("/shelf/new", s.newMaterial)
	r.GET("/shelf/beside", s.beside)
	r.POST("/shelf/new", s.saveMaterial)
	r.GET("/shelf/list.csv", s.shelfList)
	r.GET("/shelf/measured.txt", s.shelfMeasured)
	r.GET("/shelf/tokens.json", s.shelfTokens)
	r.GET("/shelf/shelf.zip", s.shelfZip)
	r.GET("/shelf/chart", s.chart)
	r.POST("/shelf/chart", s.keepChart)
	r.GET("/shelf/chart.pdf", s.chartPDF)
	r.POST("/shelf/step", s.stepShelf)
	r.GET("/shelf/import", s.importForm)
	r.POST("/shelf/import", s.importUpload)
	r.GET("/shelf/import/:id", s.importPreview)
	r.POST("/shelf/import/:id", s.importConfirm)
	r.GET("/shelf/import/:id/progress", s.importProgress)
	r.POST("/shelf/import/:id/stop", s.importStop)
	r.GET("/shelf/material/:id", s.material)
	r.POST("/shelf/material/:id", s.saveMaterial)
	r.POST("/shelf/material/:id/off", s.takeOff)
	r.POST("/shelf/material/:id/stock", s.saveStock)

	r.GET("/plans/:id/under/:at/:kind", s.underPicture)
	r.POST("/plans/:id/bring", s.bring)
	r.GET("/plans/:id/draft.wif", s.saveWIF)
	r.GET("/plans/:id/piece.svg", s.pieceSVG)
	r.GET("/plans/:id/solid.bin", s.solidFile(false))
	r.GET("/plans/:id/solid.3mf", s.solidFile(true))
	r.GET("/photos", s.photos)
	r.POST("/photos", s.addPhoto)
	r.GET("/photos/:hash", s.photo)
	r.GET("/photos/:hash/view.jpg", s.photoView)
	r.GET("/photos/:hash/piece.jpg", s.photoPiece)
	r.GET("/photos/:hash/print", s.print)
	r.POST("/photos/:hash/print", s.keepPrint)
	r.POST("/photos/:hash/keep", s.keepTaken)

	r.GET("/reader", s.reader)
	r.POST("/reader", s.readerAct)
	r.POST("/reader/keep", s.keepMeasured)

	r.GET("/plans", s.plans)
	r.POST("/plans", s.newPlan)
	r.POST("/plans/import", s.importPlan)
	r.GET("/plans/:id", func(c *gin.Context) { c.Redirect(http.StatusSeeOther, c.Request.URL.Path+"/wheel") })
	r.GET("/plans/:id/plan.json", s.planFile)
	r.GET("/plans/:id/across.png", s.across)
	r.GET("/plans/:id/deck.json", s.deckJSON)
	for _, format := range []string{"pdf", "svg", "png"} {
		r.GET("/plans/:id/print."+format, s.printAs(format))
		r.GET("/plans/:id/colourways."+format, s.colourways(format))
		r.GET("/plans/:id/worktable."+format, s.worktable(format))
	}
	for _, format := range append([]string{"html"}, stripFormats...) {
		r.GET("/plans/:id/palette."+format, s.sharePalette(format))
	}
	r.GET("/plans/:id/combinations.pdf", s.triedPDF)
	r.GET("/plans/:id/chits.pdf", s.chitsPDF)
	for _, format := range stripFormats {
		r.GET("/plans/:id/run."+format, s.saveStrip(format))
	}
	r.GET("/plans/:id/:stage", s.stage)
	r.POST("/plans/:id/change", s.change)
	r.NoRoute(func(c *gin.Context) {
		s.fail(c, http.StatusNotFound, "There is no page at this address. The shelf and the plans are at the left.")
	})
}

// guard bounds requests and sets what every answer carries.
func (s *Server) guard(c *gin.Context) {
	most := int64(maxBody)
	const form = 1 << 20 // around the file
	switch c.Request.URL.Path {
	case "/photos":
		most = exchange.MaxPhotoBytes + form
	case "/shelf/import":
		most = exchange.MaxShelfBytes + form
	}
	if strings.HasSuffix(c.Request.URL.Path, "/bring") {
		most = exchange.MaxMeshBytes + form
	}
	c.Request.Body = http.MaxBytesReader(c.Writer, c.Request.Body, most)
	h := c.Writer.Header()
	h.Set("Content-Security-Policy", "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; frame-ancestors 'none'; form-action 'self'")
	h.Set("X-Content-Type-Options", "nosniff")
	h.Set("Referrer-Policy", "same-origin")
	h.Set("Cache-Control", "no-store")
	defer func() {
		if broken := recover(); broken != nil {
			if broken == http.ErrAbortHandler {
				panic(broken)
			}
			slog.Error("a request broke off", "path", c.Request.URL.Path, "cause", broken)
			s.fail(c, http.StatusInternalServerError, "Something in the program broke. What was saved before is safe; go back and try again.")
			c.Abort()
		}
	}()
	c.Next()
}

func (s *Server) healthz(c *gin.Context) {
	if err := s.studio.Check(c.Request.Context()); err != nil {
		slog.Error("the data cannot be read", "err", err)
		c.String(http.StatusServiceUnavailable, "the data cannot be read\n")
		return
	}
	c.String(http.StatusOK, "ok\n")
}

// staticHash names the static files by their content, so that browsers may
// keep them for good.
func staticHash() (string, error) {
	sum := sha256.New()
	err := fs.WalkDir(files, "static", func(name string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() {
			return err
		}
		data, err := files.ReadFile(name)
		sum.Write([]byte(name))
		sum.Write(data)
		return err
	})
	if err != nil {
		return "", fmt.Errorf("reading the shipped files: %w", err)
	}
	return hex.EncodeToString(sum.Sum(nil))[:12], nil
}

func (s *Server) staticFile(c *gin.Context) {
	name := path.Join("static", path.Clean("/"+c.Param("file")))
	data, err := files.ReadFile(name)
	if err != nil || "/static/"+c.Param("hash") != s.static {
		c.String(http.StatusNotFound, "no such file\n")
		return
	}
	kind := mime.TypeByExtension(path.Ext(name))
	if strings.HasSuffix(name, ".woff2") {
		kind = "font/woff2"
	}
	c.Header("Cache-Control", "public, max-age=31536000, immutable")
	c.Data(http.StatusOK, kind, data)
}

func parsePages(static string) (map[string]*template.Template, error) {
	base, err := template.New("base").Funcs(funcs(static)).ParseFS(files, "templates/frame/*.html")
	if err != nil {
		return nil, fmt.Errorf("reading the frame: %w", err)
	}
	names, err := fs.Glob(files, "templates/*.html")
	if err != nil {
		return nil, fmt.Errorf("listing the pages: %w", err)
	}
	pages := map[string]*template.Template{}
	for _, n := range names {
		t, err := base.Clone()
		if err == nil {
			t, err = t.ParseFS(files, n)
		}
		if err != nil {
			return nil, fmt.Errorf("reading the page %s: %w", n, err)
		}
		pages[strings.TrimSuffix(path.Base(n), ".html")] = t
	}
	return pages, nil
}

// render writes a page, or only its bench when that was asked for.
func (s *Server) render(c *gin.Context, status int, p *page) {
	name := "page"
	if c.GetHeader(partHeader) != "" {
		name = "bench"
	}
	if p.Title == "" {
		p.Title = p.Heading
	}
	var b bytes.Buffer
	if err := s.pages[p.Template].ExecuteTemplate(&b, name, p); err != nil {
		slog.Error("a page could not be rendered", "page", p.Template, "err", err)
		c.String(http.StatusInternalServerError, "This page could not be made. What was saved is safe; go back and try another.\n")
		return
	}
	c.Header("Vary", "Cookie, "+partHeader)
	c.Data(status, "text/html; charset=utf-8", b.Bytes())
}

// fail shows one sentence as a page of its own.
func (s *Server) fail(c *gin.Context, status int, words string) {
	p := s.page(c, "sorry", "Not here")
	if status >= http.StatusInternalServerError {
		p.Heading = "Something broke"
	}
	p.Body = words
	s.render(c, status, p)
}

// trouble answers an error of studio: a refusal with its sentence, the rest as
// what it is. It reports whether there was one.
func (s *Server) trouble(c *gin.Context, err error, missing string) bool {
	var refused studio.Refusal
	var big *http.MaxBytesError
	switch {
	case err == nil:
		return false
	case errors.Is(err, studio.ErrNotFound):
		s.fail(c, http.StatusNotFound, missing)
	case errors.As(err, &refused):
		s.fail(c, http.StatusUnprocessableEntity, string(refused))
	case errors.As(err, &big):
		s.fail(c, http.StatusRequestEntityTooLarge, fmt.Sprintf("The file is larger than %d MB and was not read. Split it and bring in the parts one after another.", maxBody>>20))
	default:
		slog.Error("a request failed", "path", c.Request.URL.Path, "err", err)
		words := "Something in the program broke. What was saved before is safe; go back and try again."
		if strings.HasPrefix(err.Error(), "The ") { // the disk, said in plain words by store
			words = err.Error() + "."
		}
		s.fail(c, http.StatusInternalServerError, words)
	}
	return true
}

// Serve timeouts: generous for a slow hand, short for a stuck one.
const (
	readHeaderTimeout = 5 * time.Second
	readTimeout       = 60 * time.Second
	writeTimeout      = 60 * time.Second
	idleTimeout       = 2 * time.Minute
)

// HTTPServer wraps the handler with timeouts.
func HTTPServer(h http.Handler) *http.Server {
	return &http.Server{Handler: h, ReadHeaderTimeout: readHeaderTimeout, ReadTimeout: readTimeout, WriteTimeout: writeTimeout, IdleTimeout: idleTimeout}
}
