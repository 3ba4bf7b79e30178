package web

import (
	"bytes"
	"fmt"
	"io"
	"log/slog"
	"net/http"
	"net/url"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"lampfern/core/brief"
	"lampfern/core/colour"
	"lampfern/core/material"
	"lampfern/core/wheel"
	"lampfern/draw"
	"lampfern/exchange"
	"lampfern/studio"
)

const noSuchMaterial = "There is no such material on the shelf. It may have been taken off; the shelf shows what is there."

// home shows the workroom: the whole shelf on the wheel, and the plans.
func (s *Server) home(c *gin.Context) {
	sh, err := s.studio.Shelf(c.Request.Context())
	if s.trouble(c, err, "") {
		return
	}
	plans, err := s.studio.Plans(c.Request.Context())
	if s.trouble(c, err, "") {
		return
	}
	p := s.page(c, "home", "Workroom")
	p.Sub = "Everything on the shelf, hung on the painters' pigment wheel"
	picture := wheelPicture(p.View.Light, sh.Fronds(wheel.Pigment), nil, brief.Free())
	picture.Still = true
	p.Body = homeBody{Wheel: draw.Wheel(picture), Plans: kept(plans), Materials: len(sh.Cards)}
	s.render(c, http.StatusOK, p)
}

type homeBody struct {
	Wheel     draw.Scene
	Plans     []studio.PlanSummary
	Materials int
}

func kept(plans []studio.PlanSummary) []studio.PlanSummary {
	var out []studio.PlanSummary
	for _, p := range plans {
		if !p.PutAway {
			out = append(out, p)
		}
	}
	return out
}

// cardsPerPage bounds a page of the shelf.
const cardsPerPage = 60

// shelfBody is a list of cards with what narrows it.
type shelfBody struct {
	Query    studio.Query
	Address  string // of the list without its query
	Families []choice
	Filters  []filter
	Keep     [][2]string // what the finder hands on beside its own fields
	Narrowed bool        // by more than family and text
	Cards    []*studio.Card
	InTray   map[uint]bool
	Found    int
	All      int
	Page     int
	Pages    int
	Whole    string // address of the same list in every family
	Plain    string // address of the whole list
	Previous string
	Next     string
	Near     *studio.Card // the card the list is sorted by nearness to
	Beside   *studio.Card // the card another is to be laid beside
}

// filter is one list of the finder.
type filter struct {
	Name, Label string
	Choices     []choice
}

func (s *Server) shelfBody(c *gin.Context, sh *studio.Shelf, address string) shelfBody {
	now := url.Values{}
	for _, k := range []string{"q", "family", "kind", "value", "clearness", "finish", "lean", "sort", "near", "current", "stock", "beside"} {
		if v := c.Query(k); v != "" {
			now.Set(k, v)
		}
	}
	id := func(k string) uint { n, _ := strconv.ParseUint(now.Get(k), 10, 32); return uint(n) }
	q := studio.Query{Text: now.Get("q"), Family: now.Get("family"), Kind: now.Get("kind"), Value: now.Get("value"), Clearness: now.Get("clearness"),
		Finish: now.Get("finish"), Lean: now.Get("lean"), Current: now.Get("current") != "", InStock: now.Get("stock") != "", Sort: now.Get("sort"), Near: id("near")}
	found, families := sh.Find(q)
	b := shelfBody{Query: q, Address: address, Found: len(found), All: len(sh.Cards), Page: 1, Pages: max(1, (len(found)+cardsPerPage-1)/cardsPerPage)}
	if q.Sort == "near" {
		b.Near, _ = sh.Card(q.Near)
	}
	b.Beside, _ = sh.Card(id("beside"))
	with := func(key, value string) string {
		v := url.Values{}
		for k := range now {
			v.Set(k, now.Get(k))
		}
		v.Set(key, value)
		if value == "" {
			v.Del(key)
		}
		if len(v) == 0 {
			return address
		}
		return address + "?" + v.Encode()
	}
	b.Whole, b.Plain = with("family", ""), address
	for _, f := range colour.Families() {
		b.Families = append(b.Families, choice{Key: with("family", string(f)), Name: string(f), On: q.Family == string(f), Count: families[f]})
	}
	pick := func(name, label string, options []string) {
		f := filter{Name: name, Label: label}
		for _, o := range options {
			f.Choices = append(f.Choices, choice{Key: o, Name: o, On: now.Get(name) == o})
		}
		b.Filters = append(b.Filters, f)
		b.Narrowed = b.Narrowed || now.Get(name) != ""
	}
	pick("kind", "every kind", material.Kinds())
	pick("value", "any value", studio.BandNames[:])
	pick("clearness", "any clearness", []string{"clear", "soft", "greyed"})
	pick("lean", "leans anywhere", []string{"yellow", "orange", "red", "violet", "blue", "green"})
	pick("finish", "any finish", material.Finishes())
	sorts := filter{Name: "sort", Label: "as filed"}
	for _, o := range studio.Sorts() {
		if o == "near" && b.Near == nil {
			continue // offered from a card's own page
		}
		sorts.Choices = append(sorts.Choices, choice{Key: o, Name: map[string]string{"hue": "by hue", "value": "by value", "clearness": "clearest first", "near": "nearest first"}[o], On: q.Sort == o})
	}
	b.Filters = append(b.Filters, sorts)
	for _, k := range []string{"family", "near", "beside"} {
		if v := now.Get(k); v != "" {
			b.Keep = append(b.Keep, [2]string{k, v})
		}
	}
	if n, err := strconv.Atoi(c.Query("page")); err == nil {
		b.Page = max(1, min(n, b.Pages))
	}
	from := (b.Page - 1) * cardsPerPage
	b.Cards = found[from:min(len(found), from+cardsPerPage)]
	if b.Page > 1 {
		b.Previous = with("page", strconv.Itoa(b.Page-1))
	}
	if b.Page < b.Pages {
		b.Next = with("page", strconv.Itoa(b.Page+1))
	}
	return b
}

// queryOf is a query of the shelf as its finder asks it.
func queryOf(q studio.Query) url.Values {
	v := url.Values{}
	for name, x := range map[string]string{"q": q.Text, "family": q.Family, "kind": q.Kind, "value": q.Value, "clearness": q.Clearness, "finish": q.Finish, "lean": q.Lean, "sort": q.Sort} {
		if x != "" {
			v.Set(name, x)
		}
	}
	return v
}

// besideBody is two cards edge to edge.
type besideBody struct {
	A, B  *studio.Card
	Words string
	Back  string // the other way round, in words
}

// beside lays two cards edge to edge and reads one beside the other.
func (s *Server) beside(c *gin.Context) {
	sh, err := s.studio.Shelf(c.Request.Context())
	if s.trouble(c, err, "") {
		return
	}
	var b besideBody
	for key, to := range map[string]**studio.Card{"a": &b.A, "b": &b.B} {
		n, _ := strconv.ParseUint(c.Query(key), 10, 32)
		if *to, err = sh.Card(uint(n)); s.trouble(c, err, noSuchMaterial) {
			return
		}
	}
	b.Words = capital(colour.Beside(b.A.Colour, b.B.Colour).Words())
	b.Back = capital(colour.Beside(b.B.Colour, b.A.Colour).Words())
	p := s.page(c, "beside", b.A.Name+" beside "+b.B.Name)
	p.Sub = "Two cards edge to edge"
	p.Body = b
	s.render(c, http.StatusOK, p)
}

func (s *Server) shelf(c *gin.Context) {
	sh, err := s.studio.Shelf(c.Request.Context())
	if s.trouble(c, err, "") {
		return
	}
	p := s.page(c, "shelf", "Shelf")
	p.Undo, p.Redo, err = s.studio.ShelfSteps(c.Request.Context())
	if s.trouble(c, err, "") {
		return
	}
	b := s.shelfBody(c, sh, "/shelf")
	p.Sub = plural(b.All, "material", "materials") + ", filed from yellows round to neutrals"
	p.Body = b
	s.render(c, http.StatusOK, p)
}

func (s *Server) shelfList(c *gin.Context) {
	s.saveShelf(c, "shelf.csv", "text/csv; charset=utf-8", exchange.WriteMaterials)
}

func (s *Server) shelfMeasured(c *gin.Context) {
	s.saveShelf(c, "shelf measured.txt", "text/plain; charset=utf-8", exchange.WriteCGATS)
}

func (s *Server) shelfTokens(c *gin.Context) {
	s.saveShelf(c, "shelf.tokens.json", "application/json", exchange.WriteTokens)
}

// saveShelf sends every material in one format.
func (s *Server) saveShelf(c *gin.Context, name, kind string, write func(io.Writer, []material.Material) error) {
	sh, err := s.studio.Shelf(c.Request.Context())
	if s.trouble(c, err, "") {
		return
	}
	var b bytes.Buffer
	if s.trouble(c, write(&b, sh.Materials()), "") {
		return
	}
	download(c, name, kind, b.Bytes())
}

// shelfZip sends the whole shelf with its photos, as it is packed.
func (s *Server) shelfZip(c *gin.Context) {
	attach(c, "shelf.zip")
	c.Header("Content-Type", "application/zip")
	if err := s.studio.ExportShelf(c.Request.Context(), c.Writer); err != nil {
		slog.Error("the shelf could not be packed", "err", err)
		panic(http.ErrAbortHandler) // the browser must not take half a zip for a whole one
	}
}

// download sends a file to keep.
func download(c *gin.Context, name, kind string, data []byte) {
	attach(c, name)
	c.Data(http.StatusOK, kind, data)
}

func attach(c *gin.Context, name string) {
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

// pathID is the id in the address, 0 when there is none to be found.
func pathID(c *gin.Context) uint {
	n, err := strconv.ParseUint(c.Param("id"), 10, 32)
	if err != nil {
		return 0
	}
	return uint(n)
}
