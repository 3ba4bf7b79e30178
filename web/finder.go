package web

import (
	"fmt"
	"net/url"
	"strconv"

	"github.com/gin-gonic/gin"

	"lampfern/core/colour"
	"lampfern/core/material"
	"lampfern/shelf"
)

// cardsPerPage bounds a page of the shelf.
const cardsPerPage = 60

// Finder is a list of cards with what narrows it.
type Finder struct {
	Query    shelf.Query
	Address  string // of the list without its query
	Families []Choice
	Filters  []filter
	Keep     [][2]string // what the finder hands on beside its own fields
	Narrowed bool        // by more than family and text
	Cards    []*shelf.Card
	InTray   map[uint]bool
	Found    int
	All      int
	Page     int
	Pages    int
	Whole    string // address of the same list in every family
	Plain    string // address of the whole list
	Previous string
	Next     string
	Near     *shelf.Card // the card the list is sorted by nearness to
	Wanted   *colour.Lab // the colour it is, where one was typed
	Beside   *shelf.Card // the card another is to be laid beside
}

// filter is one list of the finder.
type filter struct {
	Name, Label string
	Choices     []Choice
}

// Finder finds on a shelf what a request asks for; address is that of the list.
func (s *Server) Finder(c *gin.Context, sh *shelf.Shelf, address string) Finder {
	now := url.Values{}
	for _, k := range []string{"q", "family", "kind", "value", "clearness", "finish", "lean", "sort", "near", "current", "stock", "beside"} {
		if v := c.Query(k); v != "" {
			now.Set(k, v)
		}
	}
	id := func(k string) uint { n, _ := strconv.ParseUint(now.Get(k), 10, 32); return uint(n) }
	q := shelf.Query{Text: now.Get("q"), Family: now.Get("family"), Kind: now.Get("kind"), Value: now.Get("value"),
		Clearness: now.Get("clearness"),
		Finish:    now.Get("finish"), Lean: now.Get("lean"), Current: now.Get("current") != "", InStock: now.Get("stock") != "",
		Sort: now.Get("sort"), Near: id("near")}
	if q.Text != "" {
		if trays, err := s.Desk.Trays(c.Request.Context()); err == nil { // else what was left over is not found by
			q.Said = trays.Said()
		}
	}
	found, families := sh.Find(q)
	b := Finder{Query: q, Address: address, Found: len(found), All: len(sh.Cards), Page: 1,
		Pages: max(1, (len(found)+cardsPerPage-1)/cardsPerPage)}
	if q.Sort == "near" {
		b.Near, _ = sh.Card(q.Near)
	}
	if to, is := q.Wanted(); is && q.Sort == "" {
		b.Wanted = &to
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
		b.Families = append(b.Families, Choice{Key: with("family", string(f)), Name: string(f), On: q.Family == string(f), Count: families[f]})
	}
	pick := func(name, label string, options []string) {
		f := filter{Name: name, Label: label}
		for _, o := range options {
			f.Choices = append(f.Choices, Choice{Key: o, Name: o, On: now.Get(name) == o})
		}
		b.Filters = append(b.Filters, f)
		b.Narrowed = b.Narrowed || now.Get(name) != ""
	}
	b.Narrowed = q.Current || q.InStock
	pick("kind", "every kind", material.Kinds())
	pick("value", "any value", shelf.StepNames[:])
	pick("clearness", "any clearness", []string{"clear", "soft", "muted"})
	pick("lean", "any undertone", []string{"yellow", "orange", "red", "violet", "blue", "green"})
	pick("finish", "any finish", material.Finishes())
	sorts := filter{Name: "sort", Label: "default order"}
	for _, o := range shelf.Sorts() {
		if o == "near" && b.Near == nil {
			continue // offered from a card's own page
		}
		sorts.Choices = append(sorts.Choices, Choice{Key: o, Name: map[string]string{"hue": "by hue", "value": "by value",
			"clearness": "clearest first", "near": "nearest first"}[o], On: q.Sort == o})
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

// Off says how far a card is from the colour that was typed, empty where none was.
func (f Finder) Off(c *shelf.Card) string {
	if f.Wanted == nil {
		return ""
	}
	return fmt.Sprintf("%.1f apart", colour.DeltaE2000(*f.Wanted, c.Colour))
}

// QueryOf is a query of the shelf as its finder asks it.
func QueryOf(q shelf.Query) url.Values {
	v := url.Values{}
	for name, x := range map[string]string{"q": q.Text, "family": q.Family, "kind": q.Kind, "value": q.Value, "clearness": q.Clearness,
		"finish": q.Finish, "lean": q.Lean, "sort": q.Sort} {
		if x != "" {
			v.Set(name, x)
		}
	}
	return v
}
