package web

import (
	"bytes"
	"fmt"
	"html/template"
	"io"
	"net/http"
	"net/url"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"lampfern/core/card"
	"lampfern/core/colour"
	"lampfern/core/material"
	"lampfern/draw"
	"lampfern/exchange"
	"lampfern/studio"
)

type cardsBody struct {
	studio.LaidView
	Drawers  []choice
	ByHue    bool
	Family   string
	Deck     []deckCard // the first of the drawer; the page asks for the rest
	All      int
	DeckFrom string // address of the whole drawer
	Flags    []uint // cards flagged to be printed
	Sizes    []card.Size
	Papers   []card.Paper
	Flagged  int
	Kinds    []string // that can be charted
}

// deckCard is one card of the drawer, as the page riffles through it.
type deckCard struct {
	ID    uint         `json:"id"`
	Name  string       `json:"n"`
	Lines []string     `json:"l"`
	Coat  template.CSS `json:"c"`
}

// deckAtFirst is how many cards of a drawer the page comes with.
const deckAtFirst = 9

func cardsStage(c *gin.Context, p *page) {
	family, byHue := c.Query("family"), c.Query("sort") == "hue"
	q := url.Values{}
	if family != "" {
		q.Set("family", family)
	}
	if byHue {
		q.Set("sort", "hue")
	}
	try := c.Query("try")
	if c.PostForm("do") == "lay-instead" { // the place stays, whatever lies there
		try = c.PostForm("token")
	}
	b := cardsBody{LaidView: p.Plan.Lay(try), Flags: p.Plan.Flagged, ByHue: byHue, Family: family, Sizes: card.Sizes(), Papers: card.Papers(), Flagged: len(p.Plan.ToPrint()),
		DeckFrom: fmt.Sprintf("/plans/%d/deck.json?%s", p.Plan.ID, q.Encode()), Kinds: chartKinds}
	for _, d := range p.Plan.Shelf.Drawers() {
		to := url.Values{"family": {string(d.Family)}}
		if byHue {
			to.Set("sort", "hue")
		}
		b.Drawers = append(b.Drawers, choice{Key: p.Path + "?" + to.Encode(), Name: string(d.Family), On: family == string(d.Family), Count: d.Count})
	}
	drawer := p.Plan.Shelf.Drawer(family, byHue)
	b.All = len(drawer)
	for _, k := range drawer[:min(len(drawer), deckAtFirst)] {
		b.Deck = append(b.Deck, deckOf(p, k))
	}
	if b.Trying >= 0 {
		q.Set("try", try)
	}
	if len(q) > 0 {
		p.Path += "?" + q.Encode()
	}
	p.Sub = "Your deck by family in filing order; lay two to six cards edge to edge"
	p.Notes, p.Body = b.Notes, b
}

func deckOf(p *page, k *studio.Card) deckCard {
	return deckCard{ID: k.ID, Name: k.Name, Lines: deckLines(k), Coat: p.View.Coat(k)}
}

// deckLines say of a card what stands on its tab.
func deckLines(k *studio.Card) []string {
	lines := cardLines(k)
	if lean := k.Colour.Lean(); lean != "" {
		lines[1] += " · leans " + string(lean)
	}
	lines[2] = k.SourceWords()
	if k.Finish != material.Finishes()[0] {
		lines[2] += " · " + k.Finish
	}
	if _, in := k.Colour.RGB(); !in {
		lines[2] += " · duller on a screen"
	}
	return lines
}

// deckJSON sends a whole drawer, to be riffled through.
func (s *Server) deckJSON(c *gin.Context) {
	plan, err := s.studio.Open(c.Request.Context(), pathID(c))
	if s.trouble(c, err, noSuchPlan) {
		return
	}
	p := s.planPage(c, plan, "cards")
	drawer := plan.Shelf.Drawer(c.Query("family"), c.Query("sort") == "hue")
	out := make([]deckCard, len(drawer))
	for i, k := range drawer {
		out[i] = deckOf(p, k)
	}
	c.JSON(http.StatusOK, out)
}

// deckEdit makes the edits of the deck; nil for any other.
func (f *form) deckEdit(do string) studio.Edit {
	post := f.c.PostForm
	switch do {
	case "lay":
		return studio.LayDown(post("token"))
	case "pick-up":
		return studio.PickUp(post("token"))
	case "lay-instead":
		return studio.LayInstead(post("old"), post("token"))
	case "lay-tray":
		return studio.LayTray()
	case "lay-share":
		return studio.LayByShare(post("on") != "")
	case "flag":
		return studio.Flag(f.id("material"), post("on") != "")
	case "flag-drawer":
		return studio.FlagDrawer(post("family"), post("on") != "")
	}
	return nil
}

// cardLines are what stands under the name on a printed card.
func cardLines(c *studio.Card) []string {
	first := c.Kind
	if c.Reference != "" {
		first += " · " + c.Reference
	}
	if c.Lot != "" {
		first += " · lot " + c.Lot
	}
	second := fmt.Sprintf("value %.1f · %s", c.Colour.Value(), c.Family)
	if !c.Neutral {
		second += " · " + colour.ClearnessWord(c.Clearness)
	} else if u := c.Colour.Undertone(); u != "" {
		second += " · undertone of " + string(u)
	}
	if c.ID == 0 {
		return []string{first, second, "a colour wanted, no material yet"}
	}
	return []string{first, second, fmt.Sprintf("%s, good to about %g", c.Source, c.Uncertainty)}
}

// backLines are a card's record.
func backLines(c *studio.Card) []string {
	lines := []string{c.Kind + ", " + c.Finish}
	for _, l := range [][2]string{{"from ", c.Supplier}, {"reference ", c.Reference}, {"lot ", c.Lot}, {"", c.Size}} {
		if l[1] != "" {
			lines = append(lines, l[0]+l[1])
		}
	}
	lines = append(lines, fmt.Sprintf("L %.1f  a %.1f  b %.1f (D65)", c.Colour.L, c.Colour.A, c.Colour.B), c.Colour.Hex()+fmt.Sprintf(" · value %.1f", c.Colour.Value()),
		fmt.Sprintf("%s, good to about %g", c.SourceWords(), c.Uncertainty))
	if c.Discontinued {
		lines = append(lines, "discontinued")
	}
	if c.Remark != "" {
		lines = append(lines, c.Remark)
	}
	return lines
}

// sheetCard is a card as it is printed.
func sheetCard(c *studio.Card, number int) draw.SheetCard {
	return draw.SheetCard{Name: c.Name, Lines: cardLines(c), Back: backLines(c), Number: number, Colour: c.Colour, Bands: c.Face(), Amount: c.OnHandWords()}
}

// toPrint are the cards that a print is asked of: the tray's, those flagged, or
// a drawer's.
func toPrint(plan *studio.Plan, of string) ([]draw.SheetCard, error) {
	var out []draw.SheetCard
	family, isDrawer := strings.CutPrefix(of, "family ")
	switch {
	case of == "" || of == "tray":
		for i, t := range plan.Tray {
			k := sheetCard(t.Card, i+1)
			k.Share, k.Role = t.Share, string(t.Role)
			out = append(out, k)
		}
		if len(out) == 0 {
			return nil, studio.Refusal("The tray is empty, so there are no cards to print. Pull some on Gather first.")
		}
	case of == "flagged":
		for i, c := range plan.ToPrint() {
			out = append(out, sheetCard(c, i+1))
		}
		if len(out) == 0 {
			return nil, studio.Refusal("No card is flagged to be printed. Flag some in the deck first.")
		}
	case isDrawer:
		for i, c := range plan.Shelf.Drawer(family, false) {
			out = append(out, sheetCard(c, i+1))
		}
		if len(out) == 0 {
			return nil, studio.Refusal("That drawer is empty, so there are no cards to print.")
		}
	default:
		return nil, studio.Refusal("Cards are printed of the tray, of those flagged, or of a drawer.")
	}
	return out, nil
}

// prints draws what the address asks for.
func prints(c *gin.Context, plan *studio.Plan) (title string, pages []draw.Scene, err error) {
	paper, err := card.FindPaper(c.Query("paper"))
	if err != nil {
		return "", nil, studio.Refusal(capital(err.Error()) + ".")
	}
	cards, err := toPrint(plan, c.Query("of"))
	if err != nil {
		return "", nil, err
	}
	what := c.DefaultQuery("what", "cards")
	switch what {
	case "cards", "backs", "blanks":
		size, err := card.FindSize(c.Query("size"))
		if w := c.Query("w"); w != "" || c.Query("h") != "" {
			var wide, high float64
			if _, err := fmt.Sscanf(strings.ReplaceAll(w+" "+c.Query("h"), ",", "."), "%g %g", &wide, &high); err != nil {
				return "", nil, studio.Refusal("Write the card's width and height in millimetres, in figures.")
			}
			size, err = card.Custom(wide, high)
			if err != nil {
				return "", nil, studio.Refusal(capital(err.Error()) + ".")
			}
		}
		if err != nil {
			return "", nil, studio.Refusal(capital(err.Error()) + ".")
		}
		l, err := card.Lay(paper, size)
		if err != nil {
			return "", nil, studio.Refusal(capital(err.Error()) + ".")
		}
		form := map[string]draw.SheetForm{"cards": draw.Faces, "backs": draw.Backs, "blanks": draw.Blanks}[what]
		pages = draw.Sheets(l, plan.Name, cards, form, c.Query("hole") != "")
	case "fan":
		pages = draw.FanSheets(paper, plan.Name, cards)
	case "pocket":
		pages = []draw.Scene{draw.PocketSheet(paper, plan.Name, cards)}
	case "proportion":
		pages = []draw.Scene{draw.ProportionSheet(paper, plan.Name, cards)}
	default:
		return "", nil, studio.Refusal(fmt.Sprintf("There is nothing called %q to print: choose cards, backs, blanks, fan, pocket or proportion.", what))
	}
	return plan.Name + " " + what, pages, nil
}

// printAs sends a print as PDF, or one of its sheets as SVG or PNG.
func (s *Server) printAs(format string) gin.HandlerFunc {
	return func(c *gin.Context) {
		plan, err := s.studio.Open(c.Request.Context(), pathID(c))
		if s.trouble(c, err, noSuchPlan) {
			return
		}
		title, pages, err := prints(c, plan)
		if s.trouble(c, err, "") {
			return
		}
		s.sendPages(c, title, pages, format)
	}
}

// sendPages sends drawn sheets in one format; SVG and PNG hold the one that the
// address names.
func (s *Server) sendPages(c *gin.Context, title string, pages []draw.Scene, format string) {
	if format == "pdf" {
		data, err := draw.PDF(title, pages)
		if s.trouble(c, err, "") {
			return
		}
		download(c, title+".pdf", "application/pdf", data)
		return
	}
	n, err := strconv.Atoi(c.DefaultQuery("sheet", "1"))
	if err != nil || n < 1 || n > len(pages) {
		s.fail(c, http.StatusNotFound, fmt.Sprintf("This print has %s: there is no other.", plural(len(pages), "sheet", "sheets")))
		return
	}
	if format == "png" {
		data, err := draw.PNG(pages[n-1])
		if s.trouble(c, err, "") {
			return
		}
		download(c, fmt.Sprintf("%s %d.png", title, n), "image/png", data)
		return
	}
	svg := []byte(pages[n-1].SVG())
	if c.Query("show") != "" {
		c.Data(http.StatusOK, "image/svg+xml", svg)
		return
	}
	download(c, fmt.Sprintf("%s %d.svg", title, n), "image/svg+xml", svg)
}

// sharePalette sends the palette in a format that opens elsewhere.
func (s *Server) sharePalette(format string) gin.HandlerFunc {
	return func(c *gin.Context) {
		plan, err := s.studio.Open(c.Request.Context(), pathID(c))
		if s.trouble(c, err, noSuchPlan) {
			return
		}
		if len(plan.Tray) == 0 {
			s.fail(c, http.StatusUnprocessableEntity, "The tray is empty, so there is no palette to share. Pull some cards on Gather first.")
			return
		}
		var strip []draw.Strip
		var all []material.Material
		for _, t := range plan.Tray {
			m := t.Material
			if t.ID == 0 {
				m.Kind = material.Kinds()[len(material.Kinds())-1]
			}
			strip, all = append(strip, draw.Strip{Name: t.Name, Lab: t.Colour, Source: t.Source}), append(all, m)
		}
		title := plan.Name + " palette"
		if format == "html" {
			var b bytes.Buffer
			if s.trouble(c, s.pages["share"].ExecuteTemplate(&b, "share", shared(plan)), "") {
				return
			}
			download(c, title+".html", "text/html; charset=utf-8", b.Bytes())
			return
		}
		s.sendStrip(c, title, strip, all, format)
	}
}

// sendStrip sends colours as a strip or as a list.
func (s *Server) sendStrip(c *gin.Context, title string, strip []draw.Strip, all []material.Material, format string) {
	var b bytes.Buffer
	var err error
	kind := ""
	write := func(w func(io.Writer, []material.Material) error) { err = w(&b, all) }
	put := func(data []byte, bad error) { b.Write(data); err = bad }
	switch format {
	case "csv":
		kind = "text/csv; charset=utf-8"
		write(exchange.WriteMaterials)
	case "tokens.json":
		kind = "application/json"
		write(exchange.WriteTokens)
	case "svg":
		kind = "image/svg+xml"
		put([]byte(draw.StripScene(title, strip).SVG()), nil)
	case "png":
		kind = "image/png"
		put(draw.PNG(draw.StripScene(title, strip)))
	case "pdf":
		kind = "application/pdf"
		put(draw.PDF(title, draw.StripPages(title, strip)))
	}
	if s.trouble(c, err, "") {
		return
	}
	download(c, title+"."+format, kind, b.Bytes())
}

// sharedCard is a card of the page that is shared.
type sharedCard struct {
	Name, Hex, Words, Source, Share string
	Paint                           template.CSS
	Grow                            float64
	Dull                            bool // outside what a screen shows
}

type sharedPalette struct {
	Name, Craft, Purpose string
	Cards                []sharedCard
}

// shared is a palette as a page that stands by itself: daylight, no link, no
// script.
func shared(plan *studio.Plan) sharedPalette {
	out := sharedPalette{Name: plan.Name, Craft: plan.Craft, Purpose: plan.Purpose}
	for _, t := range plan.Tray {
		rgb, in := t.Colour.RGB()
		lines := cardLines(t.Card)
		k := sharedCard{Name: t.Name, Hex: rgb.Hex(), Words: lines[1], Source: lines[2], Paint: template.CSS("background:" + rgb.Hex()), Grow: 1, Dull: !in}
		if t.Share > 0 {
			k.Share, k.Grow = string(t.Role)+", "+percent(t.Share), t.Share
		}
		out.Cards = append(out.Cards, k)
	}
	return out
}
