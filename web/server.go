// Package web is the kit that pages are built with: the server, the frame around
// every page, how a change is asked for and answered, and how colours are looked
// at. It holds no stage and no rule of the job; stages and other rooms bring
// their pages to it.
package web

import (
	"bytes"
	"embed"
	"errors"
	"fmt"
	"html/template"
	"io/fs"
	"log/slog"
	"net/http"
	"runtime"
	"strings"
	"time"

	"github.com/gin-contrib/gzip"
	"github.com/gin-gonic/gin"
	"golang.org/x/sync/semaphore"

	"lampfern/core/words"
	"lampfern/plan"
	"lampfern/shelf"
)

//go:embed static templates
var files embed.FS

// Server answers requests for one data folder.
type Server struct {
	Options // as it was started

	Desk *plan.Desk

	rooms  []Room
	shop   *shop
	stages map[string]StagePage // by the last part of their address
	edits  map[string]func() plan.Edit
	brings map[string]func() plan.Bring
	acts   map[string]func() plan.Act
	most   map[string]int64 // bytes that a request may send, by route
	trial  trial
	makers []func(*Server) Room
	*counted
	pages *semaphore.Weighted // that are made at once, in the order they were asked for
}

// pagesAtOnce is how many pages are made at once for each processor: with many clients more
// would only make all of them, and who writes, wait for one another.
const pagesAtOnce = 1

// Room is a folder of pages: those of a stage, or of another part of the
// workroom.
type Room struct {
	Stage  string            // key of the stage, empty for pages outside plans
	Pages  []StagePage       // the stage's own page first, then those below it
	Leaves []Leaf            // of the workroom's rail
	Ribbon []RibbonTab       // under a plan's piece
	Within map[string]string // pages without a leaflet of their own: template → key of the leaflet they lie under
	Routes func(r gin.IRoutes)
	// MaxBody is how many bytes a request may send, by its route, where that is more than a list
	// or a form takes.
	MaxBody map[string]int64
	Files   fs.FS  // templates, an ES module and a style sheet
	Dir     string // where they lie in the source
	Funcs   template.FuncMap
}

// StagePage is one page of a plan.
type StagePage struct {
	Key   string // its template, and the last part of its address
	Name  string // its heading, where it is not the stage's own page
	Piece bool   // the plan's piece stands beside it
	Grey  bool   // in greys
	Show  func(c *gin.Context, p *Page) error

	stage string
}

// Options of a server.
type Options struct {
	Doorway

	Dev bool // read templates, modules and sheets from the source at every request
	Try *Try // a demo workroom to look around in; nil for none

	inTrial bool // this is the demo workroom
}

// maxBody bounds what a request may send; a list or plan file fits well.
const maxBody = 12 << 20

// maxDoor bounds what the door takes, where nobody is known yet: a passphrase.
const maxDoor = 8 << 10

// FormBytes are what a form takes around the file that it sends.
const FormBytes = 1 << 20

// HaveHeader names, with a | between, the fronds and the outlines of pieces that the asking page
// shows already.
const HaveHeader = "X-Lampfern-Have"

// gzipLevel spends little time: pages go to the machine they come from, or to
// one in the same house.
const gzipLevel = 1

// PartHeader asks for the changed part of a page alone.
const PartHeader = "X-Lampfern-Part"

// New returns the handler of the whole application: the rooms' pages and what
// the desk's stages can do.
func New(desk *plan.Desk, o Options, rooms []func(*Server) Room) (http.Handler, error) {
	s := &Server{Options: o, Desk: desk, makers: rooms, counted: &counted{since: time.Now()}, pages: semaphore.NewWeighted(int64(pagesAtOnce * runtime.GOMAXPROCS(0)))}
	for _, room := range rooms {
		s.rooms = append(s.rooms, room(s))
	}
	var err error
	if s.stages, s.most, err = register(s.rooms, desk.Stages()); err != nil {
		return nil, err
	}
	if s.edits, s.brings, s.acts, err = Verbs(desk.Stages()); err != nil {
		return nil, err
	}
	if s.shop, err = open(s.rooms, o.Dev); err != nil {
		return nil, err
	}
	gin.SetMode(gin.ReleaseMode)
	r := gin.New()
	r.Use(s.guard, s.enter, gzip.Gzip(gzipLevel, gzip.WithCustomShouldCompressFn(whole)))
	if o.Try != nil {
		r.Use(s.trying)
		r.POST("/try", s.try)
		r.POST("/try/leave", s.leaveTrial)
	}
	s.routes(r)
	return o.Doorway.known(o.Doorway.sameOrigin(http.NewCrossOriginProtection().Handler(headed(r)))), nil
}

// register reads the pages of plans and the limits of requests off the rooms. Two pages, leaves
// or letters of one name are an error.
func register(rooms []Room, stages []plan.Stage) (pages map[string]StagePage, most map[string]int64, err error) {
	pages, most = map[string]StagePage{}, map[string]int64{}
	leaves, letters := map[string]bool{}, map[string]bool{}
	for _, st := range stages {
		letters[st.Letter] = st.Letter != ""
	}
	for _, r := range rooms {
		for _, p := range r.Pages {
			if _, taken := pages[p.Key]; taken {
				return nil, nil, fmt.Errorf("two rooms have a page %q of plans", p.Key)
			}
			p.stage = r.Stage
			pages[p.Key] = p
		}
		for _, l := range r.Leaves {
			if leaves[l.Key] || letters[l.Letter] {
				return nil, nil, fmt.Errorf("the leaf %q of the rail, or its letter %q, is taken", l.Key, l.Letter)
			}
			leaves[l.Key], letters[l.Letter] = true, true
		}
		for route, bytes := range r.MaxBody {
			most[route] = max(most[route], bytes)
		}
	}
	return pages, most, nil
}

// headed answers HEAD as GET does, without the body.
func headed(h http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if r.Method == http.MethodHead {
			get := r.Clone(r.Context())
			get.Method = http.MethodGet
			h.ServeHTTP(bodiless{w}, get)
			return
		}
		h.ServeHTTP(w, r)
	})
}

// bodiless sends the head of an answer alone.
type bodiless struct{ http.ResponseWriter }

// Write implements io.Writer.
func (bodiless) Write(p []byte) (int, error) { return len(p), nil }

// Verbs are all verbs that a plan knows, and the kinds of file it takes. Two of one name, and two
// stages of one letter, are an error.
func Verbs(stages []plan.Stage) (edits map[string]func() plan.Edit, brings map[string]func() plan.Bring, acts map[string]func() plan.Act,
	err error) {
	edits, brings, acts = plan.Edits(), map[string]func() plan.Bring{}, map[string]func() plan.Act{}
	taken := map[string]bool{"undo": true, "redo": true}
	for verb := range edits {
		taken[verb] = true
	}
	take := func(st plan.Stage, verb string) {
		if taken[verb] && err == nil {
			err = fmt.Errorf("the stage %s has a verb %q that is taken", st.Key, verb)
		}
		taken[verb] = true
	}
	letters := map[string]string{}
	for _, st := range stages {
		if other := letters[st.Letter]; other != "" && st.Letter != "" && err == nil {
			err = fmt.Errorf("the stages %s and %s have one letter, %q", other, st.Key, st.Letter)
		}
		letters[st.Letter] = st.Key
		for verb, e := range st.Edits {
			take(st, verb)
			edits[verb] = e
		}
		for verb, a := range st.Acts {
			take(st, verb)
			acts[verb] = a
		}
		for kind, b := range st.Brings {
			if brings[kind] != nil && err == nil {
				err = fmt.Errorf("the stage %s takes files of the kind %q, as another does", st.Key, kind)
			}
			brings[kind] = b
		}
	}
	return edits, brings, acts, err
}

// whole reports whether a whole page is asked for; a changed part is wanted
// at once, and packing it takes longer than sending it.
func whole(c *gin.Context) bool {
	return c.GetHeader(PartHeader) == "" && strings.Contains(c.GetHeader("Accept-Encoding"), "gzip") &&
		!strings.HasSuffix(c.Request.URL.Path, ".woff2")
}

func (s *Server) routes(r *gin.Engine) {
	r.GET("/healthz", s.healthz)
	r.GET("/healthz/ready", s.ready)
	r.GET("/static/:hash/*file", s.staticFile)
	r.GET("/favicon.ico", func(c *gin.Context) { c.Status(http.StatusNoContent) })
	r.GET("/view", s.setView)
	s.doors(r)
	if s.Dev {
		r.GET("/components", s.components)
	}
	for _, room := range s.rooms {
		if room.Routes != nil {
			room.Routes(r)
		}
	}
	r.GET("/plans/:id/:stage", s.stage)
	r.GET("/plans/:id/revision", s.revision)
	r.GET("/plans/:id/small.svg", s.smallPiece)
	r.POST("/tour", s.tour)
	r.POST("/plans/:id/change", s.change)
	r.POST("/plans/:id/bring", s.bring)
	r.NoRoute(func(c *gin.Context) {
		s.Fail(c, http.StatusNotFound, "There is no page at this address. The shelf and the plans are at the left.")
	})
}

// components shows every component that pages are made of, for who changes one.
func (s *Server) components(c *gin.Context) {
	p := s.Page(c, "components", "Components")
	p.Sub = "What pages are made of"
	s.Render(c, http.StatusOK, p)
}

// contentPolicy is what pages may do: nothing from elsewhere, no script and no sheet within
// a page. A colour of a card stands as a style of its element, which no sheet can hold.
const contentPolicy = "default-src 'self'; script-src 'self'; style-src 'self'; style-src-attr 'unsafe-inline'; img-src 'self' data:; object-src 'none'; base-uri 'none'; frame-ancestors 'none'; form-action 'self'"

// guard bounds requests and sets what every answer carries.
func (s *Server) guard(c *gin.Context) {
	most := int64(max(maxBody, s.most[c.FullPath()]))
	if c.Request.URL.Path == "/door" { // to which anybody may send
		most = maxDoor
	}
	if s.inTrial { // the maker's own workroom bounds what is sent
		c.Next()
		return
	}
	release, room := bound(c, most)
	defer release()
	h := c.Writer.Header()
	if s.secure(c.Request) {
		h.Set("Strict-Transport-Security", "max-age=2592000") // thirty days, as long as somebody stays in
	}
	h.Set("Content-Security-Policy", contentPolicy)
	h.Set("X-Content-Type-Options", "nosniff")
	h.Set("Referrer-Policy", "same-origin")
	h.Set("Cache-Control", "no-store")
	defer func() {
		if broken := recover(); broken != nil {
			if broken == http.ErrAbortHandler {
				panic(broken)
			}
			slog.Error("a request broke off", "path", c.Request.URL.Path, "cause", broken)
			s.Fail(c, http.StatusInternalServerError, "Something went wrong. Everything you saved is safe. Go back and try again.")
			c.Abort()
		}
	}()
	if !room {
		h.Set("Retry-After", "10")
		s.Fail(c, http.StatusServiceUnavailable, "Too much is being sent at once. Nothing was changed. Wait a moment, then try again.")
		c.Abort()
		return
	}
	if inTurn(c.Request) {
		if err := s.pages.Acquire(c.Request.Context(), 1); err != nil {
			c.Abort() // nobody waits for the page any more
			return
		}
		defer s.pages.Release(1)
	}
	if strings.Contains(c.Request.URL.RawQuery, "%00") || strings.ContainsRune(c.Request.URL.Path, 0) {
		s.Fail(c, http.StatusBadRequest, "The address contains a character that is not allowed. Go back and type it again.")
		c.Abort()
		return
	}
	began := time.Now()
	c.Next()
	s.count(c.Writer.Status(), time.Since(began))
	slog.Debug("answered", "method", c.Request.Method, "path", c.Request.URL.Path, "status", c.Writer.Status(), "took", time.Since(began))
}

// inTurn reports whether a request is a page that is made here: what is sent as it lies, or is
// long in going out, takes no other's turn.
func inTurn(r *http.Request) bool {
	at := r.URL.Path
	return r.Method == http.MethodGet && !strings.HasPrefix(at, "/static/") && !strings.HasSuffix(at, ".zip") &&
		!strings.HasSuffix(at, "/revision") && !strings.HasPrefix(at, "/healthz")
}

func (s *Server) healthz(c *gin.Context) {
	if err := s.Desk.Check(c.Request.Context()); err != nil {
		slog.Error("the data cannot be read", "err", err)
		c.String(http.StatusServiceUnavailable, "the data cannot be read\n")
		return
	}
	c.String(http.StatusOK, "ok\n")
}

// ready answers whether the workroom can be written.
func (s *Server) ready(c *gin.Context) {
	if err := s.Desk.Store.Ready(c.Request.Context()); err != nil {
		slog.Error("the workroom cannot be written", "err", err)
		c.String(http.StatusServiceUnavailable, "the workroom cannot be written\n")
		return
	}
	c.String(http.StatusOK, "ok\n")
}

// Render writes a page, or only its bench when that was asked for.
func (s *Server) Render(c *gin.Context, status int, p *Page) {
	name := "page"
	if c.GetHeader(PartHeader) != "" {
		name = "bench"
	}
	if p.Title == "" {
		p.Title = p.Heading
	}
	data, err := s.Write(p.Template, name, p)
	if err != nil {
		slog.Error("a page could not be rendered", "page", p.Template, "err", err)
		c.String(http.StatusInternalServerError, "This page could not be shown. Everything you saved is safe. Go back and try another.\n")
		return
	}
	c.Header("Vary", "Cookie, "+PartHeader)
	c.Data(status, "text/html; charset=utf-8", data)
}

// Write executes one of the templates that a page's file defines.
func (s *Server) Write(page, name string, data any) ([]byte, error) {
	pages, err := s.shop.templates()
	if err != nil {
		return nil, err
	}
	t := pages[page]
	if t == nil {
		return nil, fmt.Errorf("there is no page %q", page)
	}
	var b bytes.Buffer
	err = t.ExecuteTemplate(&b, name, data)
	return b.Bytes(), err
}

// Fail shows one sentence as a page of its own.
func (s *Server) Fail(c *gin.Context, status int, sentence string) {
	p := s.Page(c, "sorry", "Not here")
	if status >= http.StatusInternalServerError {
		p.Heading = "Something broke"
	}
	p.Body = sentence
	s.Render(c, status, p)
}

// Trouble answers an error: a refusal with its sentence, the rest as what it is.
// It reports whether there was one.
func (s *Server) Trouble(c *gin.Context, err error, missing string) bool {
	var refused words.Refusal
	var big *http.MaxBytesError
	switch {
	case err == nil:
		return false
	case errors.Is(err, shelf.ErrNotFound) && s.Desk.Store.Damaged():
		s.Fail(c, http.StatusNotFound,
			"This cannot be read, or was never here, because the database is damaged. “Backup and health” says how to get it back.")
	case errors.Is(err, shelf.ErrNotFound):
		s.Fail(c, http.StatusNotFound, missing)
	case errors.As(err, &refused):
		s.Fail(c, http.StatusUnprocessableEntity, string(refused))
	case errors.As(err, &big):
		s.Fail(c, http.StatusRequestEntityTooLarge,
			fmt.Sprintf("The file is larger than %d MB, so it was not read. Split it into smaller files.", big.Limit>>20))
	default:
		slog.Error("a request failed", "path", c.Request.URL.Path, "err", err)
		sentence := "Something went wrong. Everything you saved is safe. Go back and try again."
		var disk *shelf.Trouble
		if errors.As(err, &disk) {
			sentence = disk.Error() + "."
		}
		s.Fail(c, http.StatusInternalServerError, sentence)
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
	return &http.Server{Handler: h, ReadHeaderTimeout: readHeaderTimeout, ReadTimeout: readTimeout, WriteTimeout: writeTimeout,
		IdleTimeout: idleTimeout}
}
