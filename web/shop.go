package web

import (
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"html/template"
	"io/fs"
	"maps"
	"mime"
	"net/http"
	"os"
	"path"
	"slices"
	"strings"

	"github.com/gin-gonic/gin"

	"lampfern/core/colour"
	"lampfern/core/material"
	"lampfern/core/words"
	"lampfern/draw"
	"lampfern/plan"
)

// kitDir is where the kit's own files lie in the source.
const kitDir = "web"

// shop holds what ships with the pages: templates, and what browsers fetch. With
// dev it reads them from the source anew for every request.
type shop struct {
	rooms []Room
	dev   bool

	pages   map[string]*template.Template
	static  map[string][]byte // by name
	address string            // under which the static files of this build live
	modules []string
}

func open(rooms []Room, dev bool) (*shop, error) {
	s := &shop{rooms: rooms, dev: dev}
	return s, s.read()
}

// kit is where the kit's files are read from.
func (s *shop) kit() fs.FS {
	if s.dev {
		return os.DirFS(kitDir)
	}
	return files
}

func (s *shop) files(r Room) fs.FS {
	if s.dev {
		return os.DirFS(r.Dir)
	}
	return r.Files
}

func (s *shop) read() error {
	if err := s.readStatic(); err != nil {
		return err
	}
	return s.readPages()
}

// sheet is the one style sheet: the kit's, those of the rooms, and the kit's for
// small windows.
const (
	sheet  = "css/lampfern.css"
	narrow = "css/narrow.css"
)

// readStatic gathers what browsers fetch and names it by its content, so that
// they may keep it for good.
func (s *shop) readStatic() error {
	s.static, s.modules = map[string][]byte{}, nil
	kit, err := fs.Sub(s.kit(), "static")
	if err != nil {
		return fmt.Errorf("reading the shipped files: %w", err)
	}
	err = fs.WalkDir(kit, ".", func(name string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() {
			return err
		}
		s.static[name], err = fs.ReadFile(kit, name)
		return err
	})
	if err != nil {
		return fmt.Errorf("reading the shipped files: %w", err)
	}
	for _, r := range s.rooms {
		names, err := glob(s.files(r), "*.js", "*.css")
		if err != nil {
			return fmt.Errorf("listing the files of %s: %w", r.Dir, err)
		}
		for _, n := range names {
			data, err := fs.ReadFile(s.files(r), n)
			if err != nil {
				return fmt.Errorf("reading %s of %s: %w", n, r.Dir, err)
			}
			if path.Ext(n) == ".css" {
				s.static[sheet] = append(append(s.static[sheet], '\n'), data...)
				continue
			}
			s.static["js/"+n] = data
			s.modules = append(s.modules, "js/"+n)
		}
	}
	s.static[sheet] = append(append(s.static[sheet], '\n'), s.static[narrow]...)
	delete(s.static, narrow)
	sum := sha256.New()
	for _, n := range slices.Sorted(maps.Keys(s.static)) {
		sum.Write([]byte(n))
		sum.Write(s.static[n])
	}
	s.address = "/static/" + hex.EncodeToString(sum.Sum(nil))[:12]
	return nil
}

func glob(files fs.FS, patterns ...string) (all []string, err error) {
	if files == nil {
		return nil, nil
	}
	for _, p := range patterns {
		names, err := fs.Glob(files, p)
		if err != nil {
			return nil, err
		}
		all = append(all, names...)
	}
	return all, nil
}

// readPages parses the templates: each page stands in the frame, beside what its
// room shares among its pages, in files that begin with an underscore.
func (s *shop) readPages() error {
	base, err := template.New("base").Funcs(s.funcs()).ParseFS(s.kit(), "templates/frame/*.html")
	if err != nil {
		return fmt.Errorf("reading the frame: %w", err)
	}
	s.pages = map[string]*template.Template{}
	take := func(base *template.Template, files fs.FS, name string) error {
		t, err := base.Clone()
		if err == nil {
			t, err = t.ParseFS(files, name)
		}
		if err != nil {
			return fmt.Errorf("reading the page %s: %w", name, err)
		}
		s.pages[strings.TrimSuffix(path.Base(name), ".html")] = t
		return nil
	}
	for _, own := range []string{"templates/sorry.html", "templates/door.html", "templates/components.html"} {
		if err := take(base, s.kit(), own); err != nil {
			return err
		}
	}
	for _, r := range s.rooms {
		names, err := glob(s.files(r), "*.html")
		if err != nil {
			return fmt.Errorf("listing the pages of %s: %w", r.Dir, err)
		}
		room, err := base.Clone()
		if err != nil {
			return fmt.Errorf("reading the pages of %s: %w", r.Dir, err)
		}
		room.Funcs(r.Funcs)
		for _, n := range names {
			if n[0] != '_' {
				continue
			}
			if room, err = room.ParseFS(s.files(r), n); err != nil {
				return fmt.Errorf("reading %s of %s: %w", n, r.Dir, err)
			}
		}
		for _, n := range names {
			if n[0] == '_' {
				continue
			}
			if err := take(room, s.files(r), n); err != nil {
				return err
			}
		}
	}
	return nil
}

func (s *shop) templates() (map[string]*template.Template, error) {
	if s.dev {
		if err := s.read(); err != nil {
			return nil, err
		}
	}
	return s.pages, nil
}

// funcs are what every template can use.
func (s *shop) funcs() template.FuncMap {
	return template.FuncMap{
		"static":    func(name string) string { return s.address + "/" + name },
		"modules":   func() []string { return s.modules },
		"percent":   words.PerCent,
		"plural":    words.Plural,
		"counted":   words.Counted,
		"date":      words.Date,
		"shortDate": words.ShortDate,
		"day":       words.Day,
		"dayOfYear": words.DayOfYear,
		"cap":       words.Capital,
		"terms":     Terms,
		"noteOf":    func(p *Page, r NoteRow) noteOf { return noteOf{p, r} },
		"minutes":   func(n int) string { return words.Minutes(float64(n)) },
		"svg":       func(d draw.Scene) template.HTML { return template.HTML(d.SVG()) },
		"add":       func(a, b int) int { return a + b },
		"cm2":       func(mm2 float64) float64 { return mm2 / 100 },
		"div":       func(a, b float64) float64 { return a / b },
		"mul100":    func(v float64) float64 { return 100 * v },
		"lab":       func(l, a, b float64) colour.Lab { return colour.Lab{L: l, A: a, B: b} },
		"amount":    material.AmountWords,
		"figure":    func(v float64) words.Figure { return words.Figure(v) },
		"figures":   func(c colour.Lab) string { return fmt.Sprintf("%.3f %.3f %.3f", c.L, c.A, c.B) },
		"familyOf":  colour.Family,
		"pull":      PullCard,
		"change":    change,
	}
}

// change are the hidden fields of a form that changes a plan: what it was when the form was made, the
// stage that is changed, and the verb where the form has but one.
func change(p *plan.Plan, stage, verb string) template.HTML {
	fields := fmt.Sprintf(`<input type="hidden" name="revision" value="%d"><input type="hidden" name="stage" value="%s">`, p.Revision, stage)
	if verb != "" {
		fields += `<input type="hidden" name="do" value="` + verb + `">`
	}
	return template.HTML(fields)
}

// Static is the address of a shipped file by its name.
func (s *Server) Static(name string) string { return s.shop.address + "/" + name }

func (s *Server) staticFile(c *gin.Context) {
	name := strings.TrimPrefix(path.Clean("/"+c.Param("file")), "/")
	data, known := s.shop.static[name]
	if !known || "/static/"+c.Param("hash") != s.shop.address {
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
