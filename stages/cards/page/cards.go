package page

import (
	"fmt"
	"html/template"
	"net/http"
	"net/url"
	"strings"

	"github.com/gin-gonic/gin"

	"lampfern/core/card"
	"lampfern/core/material"
	"lampfern/core/piece"
	"lampfern/core/words"
	"lampfern/draw"
	"lampfern/plan"
	"lampfern/plan/work"
	"lampfern/shelf"
	stage "lampfern/stages/cards"
	"lampfern/web"
)

type cardsBody struct {
	stage.LaidView
	Compared  *stage.Compared // two of the laid cards; nil for fewer
	Comparing bool            // they were asked for
	Drawers   []web.Choice
	ByHue     bool
	Family    string
	Deck      []deckCard // the first of the drawer; the page asks for the rest
	All       int
	DeckFrom  string // address of the whole drawer
	Flags     []uint // cards flagged to be printed
	Sizes     []card.Size
	Papers    []card.Paper
	Flagged   int
	Kinds     []string // that can be charted
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

func (s pages) cardsStage(c *gin.Context, p *web.Page) error {
	liked, err := work.Liked(c.Request.Context(), s.Desk)
	if err != nil {
		return err
	}
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
	b := cardsBody{LaidView: stage.Lay(p.Plan, try), Flags: stage.Of(p.Plan).Flagged, ByHue: byHue, Family: family, Sizes: card.Sizes(),
		Papers: card.Papers(), Flagged: len(stage.ToPrint(p.Plan)),
		DeckFrom: fmt.Sprintf("/plans/%d/deck.json?%s", p.Plan.ID, q.Encode()), Kinds: material.ChartKinds()}
	for _, d := range p.Plan.Offers().Shelf().Drawers() {
		to := url.Values{"family": {string(d.Family)}}
		if byHue {
			to.Set("sort", "hue")
		}
		b.Drawers = append(b.Drawers, web.Choice{Key: p.Path + "?" + to.Encode(), Name: string(d.Family), On: family == string(d.Family),
			Count: d.Count})
	}
	drawer := p.Plan.Offers().Shelf().Drawer(family, byHue)
	b.All = len(drawer)
	for _, k := range drawer[:min(len(drawer), deckAtFirst)] {
		b.Deck = append(b.Deck, deckOf(p, k, liked))
	}
	if b.Trying >= 0 {
		q.Set("try", try)
	}
	if b.Compared = b.Compare(p.Plan, c.Query("a"), c.Query("b")); b.Compared != nil && c.Query("a") != "" {
		b.Comparing = true
		q.Set("a", b.Compared.A.Token)
		q.Set("b", b.Compared.B.Token)
	}
	if len(q) > 0 {
		p.Path += "?" + q.Encode()
	}
	p.Notes, p.Body = b.Notes, b
	return nil
}

func deckOf(p *web.Page, k *shelf.Card, liked map[uint]string) deckCard {
	lines := deckLines(k)
	if name := liked[k.ID]; name != "" {
		lines[2] += " · worked in " + name
	}
	return deckCard{ID: k.ID, Name: k.Name, Lines: lines, Coat: p.View.Coat(k)}
}

// deckLines say of a card what stands on its tab.
func deckLines(k *shelf.Card) []string {
	lines := web.CardLines(k)
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
func (s pages) deckJSON(c *gin.Context) {
	plan, err := s.Desk.Open(c.Request.Context(), web.PathID(c))
	if s.Trouble(c, err, web.NoSuchPlan) {
		return
	}
	liked, err := work.Liked(c.Request.Context(), s.Desk)
	if s.Trouble(c, err, "") {
		return
	}
	p := s.PlanPage(c, plan, "cards")
	drawer := plan.Offers().Shelf().Drawer(c.Query("family"), c.Query("sort") == "hue")
	out := make([]deckCard, len(drawer))
	for i, k := range drawer {
		out[i] = deckOf(p, k, liked)
	}
	c.JSON(http.StatusOK, out)
}

// toPrint are the cards that a print is asked of: the tray's, those flagged, or
// a drawer's.
// Of the tray of a set, cards are printed in every kind that a piece of it has.
func toPrint(plan *plan.Plan, pieces []plan.Whole, of string) ([]draw.SheetCard, error) {
	var out []draw.SheetCard
	family, isDrawer := strings.CutPrefix(of, "family ")
	switch {
	case of == "" || of == "tray":
		for i, t := range plan.Tray {
			k := web.SheetCard(t.Card, i+1)
			k.Share, k.Role = t.Share, string(t.Role)
			out = append(out, k)
		}
		there := map[uint]bool{}
		for _, t := range plan.Tray {
			there[t.ID] = true
		}
		for _, w := range pieces {
			for _, t := range w.Plan.Tray {
				if !there[t.ID] && t.ID != 0 {
					there[t.ID] = true
					out = append(out, web.SheetCard(t.Card, len(out)+1))
				}
			}
		}
		if len(out) == 0 {
			return nil, words.Refusal("The tray is empty, so there are no cards to print. Add some on Gather first.")
		}
	case of == "flagged":
		for i, c := range stage.ToPrint(plan) {
			out = append(out, web.SheetCard(c, i+1))
		}
		if len(out) == 0 {
			return nil, words.Refusal("No cards are chosen for printing. Choose Print this on a card first.")
		}
	case isDrawer:
		for i, c := range plan.Offers().Shelf().Drawer(family, false) {
			out = append(out, web.SheetCard(c, i+1))
		}
		if len(out) == 0 {
			return nil, words.Refusal("That family is empty, so there are no cards to print.")
		}
	default:
		return nil, words.Refusal("Print the tray, the chosen cards or a family.")
	}
	return out, nil
}

// prints draws what the address asks for.
func (s pages) prints(c *gin.Context, plan *plan.Plan) (title string, pages []draw.Scene, err error) {
	pieces, err := s.Desk.SharesOverSet(plan)
	if err != nil {
		return "", nil, err
	}
	paper, err := card.FindPaper(c.Query("paper"))
	if err != nil {
		return "", nil, words.Refusal(words.Capital(err.Error()) + ".")
	}
	cards, err := toPrint(plan, pieces, c.Query("of"))
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
				return "", nil, words.Refusal("Write the card's width and height in millimetres, in figures.")
			}
			size, err = card.Custom(wide, high)
			if err != nil {
				return "", nil, words.Refusal(words.Capital(err.Error()) + ".")
			}
		}
		if err != nil {
			return "", nil, words.Refusal(words.Capital(err.Error()) + ".")
		}
		l, err := card.Lay(paper, size)
		if err != nil {
			return "", nil, words.Refusal(words.Capital(err.Error()) + ".")
		}
		form := map[string]draw.SheetForm{"cards": draw.Faces, "backs": draw.Backs, "blanks": draw.Blanks}[what]
		pages = draw.Sheets(l, plan.Name, cards, form, c.Query("hole") != "")
	case "fan":
		pages = draw.FanSheets(paper, plan.Name, cards)
	case "pocket":
		more, err := s.pocket(c, plan, pieces, cards)
		if err != nil {
			return "", nil, err
		}
		pages = []draw.Scene{draw.PocketSheet(paper, plan.Name, cards, more)}
	case "proportion":
		pages = []draw.Scene{draw.ProportionSheet(paper, plan.Name, cards)}
	default:
		return "", nil, words.Refusal(fmt.Sprintf("There is nothing called %q to print: choose cards, backs, blanks, fan, pocket or proportion.",
			what))
	}
	return plan.Name + " " + what, pages, nil
}

// pocket is what a pocket card carries beside the palette: the scheme, the pieces, what is still to be
// bought and the wishes. Cards of which something is lacking say so.
func (s pages) pocket(c *gin.Context, p *plan.Plan, pieces []plan.Whole, cards []draw.SheetCard) (draw.Pocket, error) {
	var out draw.Pocket
	if lit := p.Lit(); lit != "" {
		said := words.Capital(lit)
		if p.Lead != nil {
			said += ", lead colour " + p.Lead.Name
		}
		out.Facts = append(out.Facts, said+".")
	}
	var made []string
	for _, w := range pieces {
		name := w.Name
		if w.Made() > 1 {
			name += fmt.Sprintf(" × %d", w.Made())
		}
		made = append(made, fmt.Sprintf("%s, %s", name, piece.SizeWords(w.Plan.Piece.Piece)))
	}
	if len(made) > 0 {
		out.Facts = append(out.Facts, strings.Join(made, "; ")+".")
	}
	sup, err := s.Desk.Supply(c.Request.Context(), p)
	if said, bad := web.Problem(err); bad != nil {
		return out, bad
	} else if said == "" && len(sup.Pieces) > 0 {
		lacks := map[string]bool{}
		var all []string
		for _, o := range sup.Orders {
			for _, name := range o.Things {
				lacks[name] = true
				all = append(all, name)
			}
		}
		for i := range cards {
			cards[i].Lacks = lacks[cards[i].Name]
		}
		switch {
		case len(all) == 0:
			out.Facts = append(out.Facts, "You have everything it takes.")
		default:
			out.Facts = append(out.Facts, "Still to buy: "+words.All(all)+".")
		}
	}
	for _, w := range p.Wishes {
		out.Wishes = append(out.Wishes, draw.SheetCard{Name: w.Name, Colour: w.Colour()})
	}
	return out, nil
}

// printAs sends a print as PDF, or one of its sheets as SVG or PNG.
func (s pages) printAs(format string) gin.HandlerFunc {
	return func(c *gin.Context) {
		plan, err := s.Desk.Open(c.Request.Context(), web.PathID(c))
		if s.Trouble(c, err, web.NoSuchPlan) {
			return
		}
		title, pages, err := s.prints(c, plan)
		if s.Trouble(c, err, "") {
			return
		}
		s.SendPages(c, title, pages, format)
	}
}

// sharePalette sends the palette in a format that opens elsewhere.
func (s pages) sharePalette(format string) gin.HandlerFunc {
	return func(c *gin.Context) {
		plan, err := s.Desk.Open(c.Request.Context(), web.PathID(c))
		if s.Trouble(c, err, web.NoSuchPlan) {
			return
		}
		if len(plan.Tray) == 0 {
			s.Fail(c, http.StatusUnprocessableEntity, "The tray is empty, so there is no palette to share. Add some cards on Gather first.")
			return
		}
		if _, err := s.Desk.SharesOverSet(plan); s.Trouble(c, err, "") {
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
			data, err := s.Write("share", "share", shared(plan))
			if s.Trouble(c, err, "") {
				return
			}
			web.Download(c, title+".html", "text/html; charset=utf-8", data)
			return
		}
		s.SendStrip(c, title, strip, all, format)
	}
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
func shared(plan *plan.Plan) sharedPalette {
	out := sharedPalette{Name: plan.Name, Craft: plan.Craft, Purpose: plan.Purpose()}
	for _, t := range plan.Tray {
		rgb, in := t.Colour.RGB()
		lines := web.CardLines(t.Card)
		k := sharedCard{Name: t.Name, Hex: rgb.Hex(), Words: lines[1], Source: lines[2], Paint: template.CSS("background:" + rgb.Hex()), Grow: 1,
			Dull: !in}
		if t.Share > 0 {
			k.Share, k.Grow = string(t.Role)+", "+words.PerCent(t.Share), t.Share
		}
		out.Cards = append(out.Cards, k)
	}
	return out
}

// tryCard offers a material in the place of a laid card, with what it ties
// together.
func tryCard(p *web.Page, t stage.Try, old string) template.HTML {
	b := web.Offered(p, t.Card)
	b.In, b.Outside = false, ""
	b.Act = fmt.Sprintf("do=lay-instead&old=%s&token=m%d", old, t.ID)
	b.Does, b.Says = "try", fmt.Sprintf("try, %.0f apart", t.Apart)
	if len(t.Holds) > 0 {
		b.Does = fmt.Sprintf("holds %d", len(t.Holds))
		b.Says = fmt.Sprintf("holds %d, %s", len(t.Holds), strings.Join(t.Holds, " and "))
	}
	return b.HTML()
}
