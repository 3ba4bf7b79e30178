package page

import (
	"bytes"
	"encoding/csv"
	"fmt"
	"html/template"
	"net/http"
	"net/url"
	"slices"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"lampfern/core/card"
	"lampfern/core/colour"
	"lampfern/core/material"
	"lampfern/core/note"
	"lampfern/core/piece"
	"lampfern/core/words"
	"lampfern/draw"
	"lampfern/exchange"
	"lampfern/plan"
	stage "lampfern/stages/buy"
	"lampfern/web"
)

type buyBody struct {
	*stage.BuyView
	Worth, More []note.Note // what is to be known before buying

	Care string // in the craft and its materials, where something can hurt

	Cautions []string
	Papers   []card.Paper
	Bought   float64
	Over     float64 // of the budget
	Under    float64
	Others   []web.Choice // plans that could be on the list
	With     []uint       // those that are
	Query    string       // the same for an address
}

// body is what both pages show.
func (s pages) body(c *gin.Context, p *web.Page, with ...uint) (buyBody, error) {
	v, err := stage.View(c.Request.Context(), s.Desk, p.Plan, with...)
	if err != nil {
		return buyBody{}, err
	}
	b := buyBody{BuyView: v, Papers: card.Papers()}
	b.Worth, b.More = web.WorthALook(v.Notes, func(n note.Note) bool { return n.Grade == note.Fix || len(n.Offers) > 0 })
	b.Care, b.Cautions = p.Plan.Care()
	if all := v.Sum + v.Spent + v.Postage; v.Budget > 0 {
		b.Over, b.Under = max(0, all-v.Budget), max(0, v.Budget-all)
	}
	return b, nil
}

// asksOf are the questions that change one row alone.
func asksOf(b buyBody, r stage.Row) (out []stage.Ask) {
	for _, a := range b.Asks {
		if at := b.RowOf(a); at >= 0 && b.Rows[at].Key == r.Key {
			out = append(out, a)
		}
	}
	return out
}

// asksOfAll are the questions that change every row, or what is no row yet.
func asksOfAll(b buyBody) (out []stage.Ask) {
	for _, a := range b.Asks {
		if b.RowOf(a) < 0 {
			out = append(out, a)
		}
	}
	return out
}

// askIn is a question with the page that asks it.
type askIn struct {
	Body buyBody
	Ask  stage.Ask
}

func askOf(b buyBody, a stage.Ask) askIn { return askIn{b, a} }

// noteOn is a note with the plan that it is of.
type noteOn struct {
	Plan *plan.Plan
	Note note.Note
}

func noteIn(p *web.Page, n note.Note) noteOn { return noteOn{p.Plan, n} }

func (s pages) buyStage(c *gin.Context, p *web.Page) error {
	b, err := s.body(c, p)
	if err != nil {
		return err
	}
	if p.Plan.Piece != nil {
		p.Sub = fmt.Sprintf("%s, to make %d", p.Plan.Piece.Name, b.Times)
		switch n := len(p.Plan.Pieces); {
		case n > 1 && b.Times > 1:
			p.Sub = fmt.Sprintf("The set of %d pieces, %d times", n, b.Times)
		case n > 1:
			p.Sub = fmt.Sprintf("The set of %d pieces", n)
		case b.Times == 1:
			p.Sub = p.Plan.Piece.Name
		}
	}
	p.Body = b
	return nil
}

func (s pages) listStage(c *gin.Context, p *web.Page) error {
	with := stage.WithOf(c.QueryArray("with"))
	b, err := s.body(c, p, with...)
	if err != nil {
		return err
	}
	all, err := s.Desk.Plans(c.Request.Context())
	if err != nil {
		return err
	}
	q := url.Values{}
	for _, one := range all {
		if one.ID == p.Plan.ID || one.PutAway {
			continue
		}
		on := slices.Contains(with, one.ID)
		b.Others = append(b.Others, web.Choice{Key: fmt.Sprint(one.ID), Name: one.Name, On: on})
		if on {
			b.With = append(b.With, one.ID)
			q.Add("with", fmt.Sprint(one.ID))
		}
	}
	if len(q) > 0 {
		b.Query = q.Encode()
		p.Path += "?" + b.Query
	}
	p.Sub = "Tick off what you buy; it goes straight onto your shelf"
	p.Body = b
	return nil
}

// levelOf is the part of what is needed that is on hand, as a bar in the card's colour.
func levelOf(look web.View, r stage.Row) template.CSS {
	return look.Paint(r.Card.Colour) + template.CSS(fmt.Sprintf(";width:%.0f%%", 100*r.Level))
}

// aLot is a lot on hand, by its place on the shelf.
type aLot struct {
	At   int
	Name string
}

// lotsOf are the lots of a row that can be counted again.
func lotsOf(r stage.Row) (out []aLot) {
	if r.Card == nil || r.Card.ID == 0 {
		return nil
	}
	for i, l := range r.Card.Lots {
		if l.State == material.InUse || l.State == "" {
			name := "What is there"
			if l.Name != "" {
				name = "Lot " + l.Name
			}
			out = append(out, aLot{i, name})
		}
	}
	return out
}

// each is what one purchase unit of a row holds.
func each(r stage.Row) string {
	if unit := stage.UnitOf(r.Kind); r.Each != 1 || unit != "pieces" {
		return fmt.Sprintf("%v %s", words.Figure(r.Each), unit)
	}
	return "one"
}

// bought is what is to be bought of a row, as it stands where nothing is written.
func bought(r stage.Row) string { return words.Figure(r.Packs * r.Each).String() }

func money(v float64) string {
	if v == 0 {
		return "–"
	}
	return fmt.Sprintf("%.2f", v)
}

// Size of the picture of a bolt, in px of its own for a cm, and how much of it is shown.
const (
	boltScale = 6.0
	boltMost  = 900.0 // units of the picture along the bolt
)

// bolt draws cuts on the width of the bolt, in the colour of the cloth.
func bolt(look web.View, r stage.Row) template.HTML {
	if len(r.Cuts) == 0 || r.Wide == 0 || r.Card == nil {
		return ""
	}
	high := 0.0
	for _, c := range r.Cuts {
		high = max(high, c.Y+c.H)
	}
	scale := min(boltScale, boltMost/high)
	var b strings.Builder
	rgb, _ := look.Show(r.Card.Colour)
	ink := "#141414"
	if r.Card.Colour.L < 50 {
		ink = "#f6f6f6"
	}
	fmt.Fprintf(&b,
		`<svg class="bolt" viewBox="0 0 %.0f %.0f" preserveAspectRatio="xMinYMin" role="img" aria-label="%s on %.0f cm of cloth"><rect width="%.0f" height="%.0f" fill="%s"/>`,
		r.Wide*scale, high*scale, words.Plural(len(r.Cuts), "cut", "cuts"), high, r.Wide*scale, high*scale, rgb.Hex())
	for _, c := range r.Cuts {
		fmt.Fprintf(&b, `<rect x="%.1f" y="%.1f" width="%.1f" height="%.1f" fill="none" stroke="%s" stroke-width="1.5"/>`, c.X*scale,
			c.Y*scale, c.W*scale, c.H*scale, ink)
	}
	b.WriteString("</svg>")
	return template.HTML(b.String())
}

// listFormats are what a list can be saved as.
var listFormats = []string{"csv", "txt", "pdf", "svg", "png"}

// sendList sends the list as a table, as text to copy, or on paper.
func (s pages) sendList(format string) gin.HandlerFunc {
	return func(c *gin.Context) {
		p, err := s.Desk.Open(c.Request.Context(), web.PathID(c))
		if s.Trouble(c, err, web.NoSuchPlan) {
			return
		}
		v, err := stage.View(c.Request.Context(), s.Desk, p, stage.WithOf(c.QueryArray("with"))...)
		if s.Trouble(c, err, "") {
			return
		}
		name := p.Name + " to buy"
		switch format {
		case "csv":
			b := bytes.NewBufferString(exchange.Mark)
			w := csv.NewWriter(b)
			rows := [][]string{{"supplier", "name", "kind", "reference", "needed", "buy", "price", "cost", "bought"}}
			for _, g := range v.Groups {
				for _, r := range g.Rows {
					reference, bought := "", ""
					if r.Card != nil {
						reference = r.Card.Reference
					}
					if r.Got != nil {
						bought = r.Got.Much
					}
					rows = append(rows, exchange.SafeRow([]string{g.Supplier, r.Name, r.Kind, reference, r.NeedWords, r.Buy, fmt.Sprintf("%.2f", r.Price),
						fmt.Sprintf("%.2f", r.Cost), bought}))
				}
			}
			for _, o := range v.Own {
				rows = append(rows, exchange.SafeRow([]string{"", o.Name, "", "", o.Much, o.Much, fmt.Sprintf("%.2f", o.Price),
					fmt.Sprintf("%.2f", o.Price), ""}))
			}
			if err := w.WriteAll(rows); s.Trouble(c, err, "") {
				return
			}
			web.Download(c, name+".csv", "text/csv; charset=utf-8", b.Bytes())
		case "txt":
			var b strings.Builder
			fmt.Fprintf(&b, "%s\n", p.Name)
			for _, g := range v.Groups {
				fmt.Fprintf(&b, "\n%s\n", supplierOr(g.Supplier))
				for _, r := range g.Rows {
					if r.Buy != "" {
						fmt.Fprintf(&b, "[ ] %s: %s\n", r.Name, r.Buy)
					}
				}
			}
			for _, o := range v.Own {
				fmt.Fprintf(&b, "[ ] %s %s\n", o.Name, o.Much)
			}
			for _, w := range p.Wishes {
				fmt.Fprintf(&b, "[ ] look for %s, %s\n", w.Name, w.Colour().Hex())
			}
			c.Data(http.StatusOK, "text/plain; charset=utf-8", []byte(b.String()))
		default:
			paper, err := card.FindPaper(c.Query("paper"))
			if err != nil {
				s.Fail(c, http.StatusUnprocessableEntity, words.Capital(err.Error())+".")
				return
			}
			var rows []draw.ShoppingRow
			for _, g := range v.Groups {
				rows = append(rows, draw.ShoppingRow{Heading: supplierOr(g.Supplier)})
				for _, r := range g.Rows {
					row := draw.ShoppingRow{Name: r.Name, Buy: r.Buy, Price: money(r.Cost), Done: r.Got != nil && r.Buy == ""}
					if r.Got != nil && r.Buy == "" {
						row.Buy = r.Got.Much
					}
					if r.Card != nil {
						row.Colour = &r.Card.Colour
					}
					rows = append(rows, row)
				}
			}
			for _, o := range v.Own {
				rows = append(rows, draw.ShoppingRow{Name: o.Name, Buy: o.Much, Price: money(o.Price)})
			}
			for _, w := range p.Wishes {
				lab := w.Colour()
				rows = append(rows, draw.ShoppingRow{Name: w.Name, Buy: "look for it", Colour: &lab})
			}
			if len(rows) == 0 {
				s.Fail(c, http.StatusUnprocessableEntity, "There is nothing to buy, so there is no list to print.")
				return
			}
			s.SendPages(c, name, draw.ShoppingList(paper, name, rows), format)
		}
	}
}

func supplierOr(name string) string {
	if name == "" {
		return "Anywhere"
	}
	return name
}

type shopBody struct {
	*stage.ShopView
	Text    string
	Problem string

	Shape      template.HTML // the piece as a symbol, empty for none
	Box        string
	Now, Would template.CSS // its colours, and those with the one in the shop
}

// picture draws the piece as it is and as it would be.
func (b *shopBody) picture(p *web.Page) error {
	pc := p.Plan.Piece
	if pc == nil || b.As == nil {
		return nil
	}
	shape, box, err := draw.PieceShape(pc.Piece, "piece-shape", web.UnderPictures(p, pc.Piece), p.HasFinishes())
	if err != nil {
		return err
	}
	b.Shape, b.Box = template.HTML(shape), box
	now, would := make([]*colour.Lab, len(pc.Parts)), make([]*colour.Lab, len(pc.Parts))
	for i, at := range p.Plan.Fill() {
		if at < 0 {
			continue
		}
		t := &p.Plan.Tray[at]
		now[i], would[i] = &t.Colour, &t.Colour
		if t.Key == b.As.Key {
			would[i] = &b.Colour
		}
	}
	b.Now, b.Would = p.Paints(now), p.Paints(would)
	return nil
}

// shopStage says what a colour seen in a shop would be in the plan.
func (s pages) shopStage(c *gin.Context, p *web.Page) error {
	p.Sub = "Which card of the plan it could be, and what it would change"
	b := shopBody{ShopView: &stage.ShopView{}, Text: strings.TrimSpace(c.Query("lab"))}
	if b.Text != "" {
		p.Path += "?" + c.Request.URL.RawQuery
		lab, err := stage.ShopText(b.Text)
		if err != nil {
			b.Problem = err.Error()
		} else {
			key, _ := strconv.Atoi(c.Query("as")) // none for the nearest
			b.ShopView = stage.AtTheShop(p.Plan, lab, key)
		}
	}
	if err := b.picture(p); err != nil {
		return err
	}
	p.Body = b
	return nil
}

// choice is one choice of a setting.
type choice struct {
	Value string
	Name  string
	On    bool
}

// Choices are the choices of what is asked.
func (b buyBody) Choices(a stage.Ask) []choice { return choicesOf(a.Setting, a.Value) }

func choicesOf(s piece.Setting, v float64) (out []choice) {
	for i, name := range s.Choices {
		out = append(out, choice{fmt.Sprint(i), name, float64(i) == v})
	}
	return out
}
