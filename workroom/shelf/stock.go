package shelf

import (
	"cmp"
	"fmt"
	"net/http"
	"slices"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"lampfern/core/colour"
	"lampfern/core/material"
	"lampfern/core/words"
	"lampfern/shelf"
	"lampfern/web"
)

// stockForm is a material's lots and further colours as typed.
type stockForm struct {
	Revision           int64
	Was                string   // what the maker was shown, as JSON
	Theirs             []string // what was saved meanwhile, in words
	Pack, Size, Repeat string
	Wide               string // what its picture shows across, in mm
	Pictured           bool   // it has a picture
	PackWord, Base     string
	Units              []string
	States, Roles      []string
	Rows               []lotRow
	Further            []furtherRow
	Problem            string
}

type lotRow struct{ Name, OnHand, Unit, Price, Place, Colour, State string }

type furtherRow struct{ Role, Colour, Coverage string }

// blankRows are offered below those that are filled.
const (
	blankLots    = 2
	blankFurther = 2
)

// orEmpty writes a figure, and nothing for 0.
func orEmpty(v float64) string {
	if v == 0 {
		return ""
	}
	return web.Figure(v)
}

func hexOf(c colour.Lab) string {
	rgb, _ := c.RGB()
	return rgb.Hex()
}

func emptyStock(m material.Material) stockForm {
	stock := material.StockOf(m.Kind)
	return stockForm{Pictured: m.Picture != nil, PackWord: stock.Pack, Base: stock.Units[0].Name, Units: stock.Names(), States: material.States(), Roles: material.Roles()}
}

func (f stockForm) withBlanks() stockForm {
	for range blankLots {
		f.Rows = append(f.Rows, lotRow{})
	}
	for range blankFurther {
		f.Further = append(f.Further, furtherRow{})
	}
	return f
}

func stockOf(c *shelf.Card) stockForm {
	f := emptyStock(c.Material)
	f.Revision, f.Pack, f.Size, f.Repeat = c.Revision, orEmpty(c.Pack), c.Size, orEmpty(c.Repeat)
	if c.Picture != nil {
		f.Wide = orEmpty(c.Picture.Wide)
	}
	for _, l := range c.Lots {
		r := lotRow{Name: l.Name, OnHand: web.Figure(l.OnHand), Unit: l.Unit, Price: orEmpty(l.Price), Place: l.Place, State: l.State}
		if l.Colour != nil {
			r.Colour = hexOf(*l.Colour)
		}
		f.Rows = append(f.Rows, r)
	}
	for _, x := range c.Further {
		f.Further = append(f.Further, furtherRow{x.Role, hexOf(x.Colour), orEmpty(100 * x.Coverage)})
	}
	f.Was = asJSON([]any{f.Pack, f.Size, f.Repeat, f.Wide, f.Rows, f.Further})
	return f.withBlanks()
}

// inWords is what a form holds, a line for each lot and colour.
func (f stockForm) inWords() (out []string) {
	line := func(all ...string) {
		all = slices.DeleteFunc(all, func(s string) bool { return s == "" })
		if len(all) > 0 {
			out = append(out, strings.Join(all, ", "))
		}
	}
	if f.Pack != "" {
		line("One " + f.PackWord + " holds " + f.Pack + " " + f.Base)
	}
	line(f.Size)
	if f.Repeat != "" {
		line("a repeat of " + f.Repeat + " mm")
	}
	if f.Wide != "" {
		line("a picture " + f.Wide + " mm across")
	}
	for _, r := range f.Rows {
		if r.Name+r.OnHand != "" {
			line("Lot "+cmp.Or(r.Name, "without a name"), r.OnHand+" "+r.Unit+" on hand", r.Price, r.Place, r.Colour, r.State)
		}
	}
	for _, r := range f.Further {
		line(r.Role+" "+r.Colour, r.Coverage)
	}
	if len(out) == 0 {
		return []string{"no lots"}
	}
	return out
}

// lotsBeside compares the measured lots of a material in words.
func lotsBeside(c *shelf.Card) []string {
	var out []string
	for i, a := range c.Lots {
		for _, b := range c.Lots[:i] {
			if a.Colour != nil && b.Colour != nil {
				out = append(out, fmt.Sprintf("Lot %s beside lot %s: %s", a.Name, b.Name, colour.Beside(*a.Colour, *b.Colour).Words()))
			}
		}
	}
	return out
}

// readStock takes a typed form over a record. A colour whose hex was left as it
// stood keeps its exact figures.
func readStock(c *gin.Context, before material.Material) (material.Material, stockForm, error) {
	m, f := before, emptyStock(before)
	f.Pack, f.Size, f.Repeat, f.Wide = c.PostForm("pack"), c.PostForm("size"), c.PostForm("repeat"), c.PostForm("wide")
	var bad error
	number := func(text, what string) float64 {
		text = strings.Replace(strings.TrimSpace(text), ",", ".", 1)
		if text == "" {
			return 0
		}
		v, err := strconv.ParseFloat(text, 64)
		if err != nil && bad == nil {
			bad = fmt.Errorf("%s is %q: write a number", what, text)
		}
		return v
	}
	exact := map[string]colour.Lab{}
	for _, l := range before.Lots {
		if l.Colour != nil {
			exact[hexOf(*l.Colour)] = *l.Colour
		}
	}
	for _, x := range before.Further {
		exact[hexOf(x.Colour)] = x.Colour
	}
	lab := func(text string) colour.Lab {
		rgb, err := colour.ParseHex(text)
		if err != nil && bad == nil {
			bad = err
		}
		if kept, known := exact[rgb.Hex()]; known {
			return kept
		}
		return rgb.Lab()
	}
	column := func(name string) func(i int) string {
		all := c.PostFormArray(name)
		return func(i int) string {
			if i < len(all) {
				return strings.TrimSpace(all[i])
			}
			return ""
		}
	}
	m.Pack, m.Size, m.Repeat = number(f.Pack, "what one "+f.PackWord+" holds"), f.Size, number(f.Repeat, "the repeat")
	if m.Picture != nil {
		at := *m.Picture
		at.Wide = number(f.Wide, "what the picture shows across")
		m.Picture = &at
	}
	m.Lots, m.Further = nil, nil
	name, onHand, unit, price := column("lot-name"), column("lot-on-hand"), column("lot-unit"), column("lot-price")
	place, hex, state := column("lot-place"), column("lot-colour"), column("lot-state")
	for i := range c.PostFormArray("lot-name") {
		r := lotRow{name(i), onHand(i), unit(i), price(i), place(i), hex(i), state(i)}
		if r.Name+r.OnHand+r.Price+r.Place+r.Colour == "" {
			continue
		}
		f.Rows = append(f.Rows, r)
		l := material.Lot{Name: r.Name, OnHand: number(r.OnHand, "on hand of lot "+r.Name), Unit: r.Unit,
			Price: number(r.Price, "the price of lot "+r.Name), Place: r.Place, State: r.State}
		if r.Colour != "" {
			c := lab(r.Colour)
			l.Colour = &c
		}
		m.Lots = append(m.Lots, l)
	}
	role, moreHex, coverage := column("more-role"), column("more-colour"), column("more-coverage")
	for i := range c.PostFormArray("more-colour") {
		r := furtherRow{role(i), moreHex(i), coverage(i)}
		if r.Colour+r.Coverage == "" {
			continue
		}
		f.Further = append(f.Further, r)
		m.Further = append(m.Further, material.Further{Role: r.Role, Colour: lab(r.Colour), Coverage: number(r.Coverage, "the coverage") / 100})
	}
	return m, f.withBlanks(), bad
}

// saveStock writes a material's lots and further colours.
func (s pages) saveStock(c *gin.Context) {
	sh, err := s.Desk.Shelf(c.Request.Context())
	if s.Trouble(c, err, "") {
		return
	}
	card, err := sh.Card(web.PathID(c))
	if s.Trouble(c, err, web.NoSuchMaterial) {
		return
	}
	revision, _ := strconv.ParseInt(c.PostForm("revision"), 10, 64)
	m, form, bad := readStock(c, card.Material)
	form.Was = c.PostForm("was")
	if kept := stockOf(card); card.Revision != revision {
		if kept.Was != form.Was { // else only what is not of this form was changed
			form.Revision, form.Was, form.Theirs = card.Revision, kept.Was, kept.inWords()
			s.renderMaterial(c, http.StatusConflict, sh, card, FormOf(card),
				"The lots were changed in another tab, and yours are not saved yet. What you typed is here, with what was saved there below it: mend what is to be otherwise, then save.", form)
			return
		}
		revision = card.Revision
	}
	if bad == nil {
		_, problems, again, done := s.save(c, card.ID, revision, m)
		if done {
			return
		}
		if again {
			s.saveStock(c)
			return
		}
		if problems != nil {
			bad = problems
		}
	}
	if bad != nil {
		form.Revision, form.Problem = revision, strings.TrimSuffix(words.Capital(bad.Error()), ".")+"."
		s.renderMaterial(c, http.StatusUnprocessableEntity, sh, card, FormOf(card), "The lots were not saved yet. Mend what is marked below.",
			form)
		return
	}
	web.GoTo(c, fmt.Sprintf("/shelf/material/%d", card.ID), "Lots and stock of "+m.Name+" are saved.")
}
