package page

import (
	"encoding/base64"
	"errors"
	"fmt"
	"html/template"
	"net/http"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"lampfern/core/card"
	"lampfern/core/piece"
	"lampfern/core/words"
	"lampfern/draw"
	"lampfern/shelf"
	stage "lampfern/stages/signoff"
	"lampfern/web"
)

type signoffBody struct {
	*stage.View
	Ways    []web.Choice
	Papers  []card.Paper
	Was     template.HTML // the piece as it was frozen
	Is      template.HTML // and as it is; empty where nothing has changed
	Alone   bool          // the next sheet is of the cards alone, until it is said
	Draft   template.HTML // as the first sheet would show it; empty where there is one
	Link    string        // private, to be sent; empty where only this machine is served
	Own     string        // where this machine opens it
	Mail    bool          // a mail server is set up
	Mailbox string        // the page of a simulated one
	To      string        // whom a letter that was not sent was for
	Words   string        // and what it said

	Photos []shelf.PhotoRecord // of a sketch to show beside the colours
}

// Sketch is the photo of the sheet that is looked at; empty for none.
func (b signoffBody) Sketch() template.URL {
	if b.Frozen == nil || b.Frozen.Sketch == nil {
		return ""
	}
	return template.URL(jpegURL(b.Frozen.Sketch))
}

// Shown is the sheet that is looked at, else the plan as a sheet would hold it.
func (b signoffBody) Shown() *stage.Frozen {
	if b.Chosen != nil {
		return b.Frozen
	}
	return b.Now
}

// Coat is how a card of a sheet looks.
func (signoffBody) Coat(look web.View, c stage.Card) template.CSS {
	if c.Print != nil && look.PlainDaylight() {
		return template.CSS("background:url(" + inline(c.Print) + ") center/cover")
	}
	return look.Paint(c.Colour)
}

// signoff shows the sheets of a plan, one of them as it will be seen.
func (s pages) signoff(c *gin.Context, p *web.Page) error {
	number, _ := strconv.Atoi(c.Query("sheet")) // 0, the newest, where there is none
	v, err := stage.Look(c.Request.Context(), s.Desk, p.Plan, number)
	if err != nil {
		return err
	}
	b := signoffBody{View: v, Papers: card.Papers(), Mail: s.Desk.Mail.Address != "", Mailbox: s.Desk.Mail.Mailbox, To: c.Query("to"),
		Words: c.Query("words")}
	set := len(p.Plan.Pieces) > 1
	for _, w := range p.Plan.Colourways { // of the set, or of its one piece
		if (w.Whole != nil) == set {
			b.Ways = append(b.Ways, web.Choice{Key: fmt.Sprint(w.Key), Name: w.Name, On: w.Favourite})
		}
	}
	if n := v.Chosen; n != nil {
		p.Sub = fmt.Sprintf("Sheet %d of %s: %s", n.Number, words.Date(n.MadeAt.Local()), n.State)
		b.Own = "/agree/" + n.Token
		if s.Reached != "" {
			b.Link = s.Reached + b.Own
		}
		if b.Was, err = pieceOf(p.View, v.Frozen, 0, "was"); err != nil {
			return err
		}
		if len(v.Changed) > 0 && v.Now != nil {
			if b.Is, err = pieceOf(p.View, v.Now, 0, "is"); err != nil {
				return err
			}
		}
	}
	b.Alone = stage.Undrawn(p.Plan)
	if b.Photos, err = s.Desk.Photos(c.Request.Context()); err != nil {
		return err
	}
	if v.Chosen == nil && v.Now != nil {
		p.Sub = "Agree the plan before you cut. This is the sheet as it would be today"
		if b.Draft, err = pieceOf(p.View, v.Now, 0, "draft"); err != nil {
			return err
		}
	}
	p.Body = b
	return nil
}

// pieceOf draws the piece of a sheet in one of its ways.
func pieceOf(look web.View, f *stage.Frozen, way int, id string) (template.HTML, error) {
	w := f.Ways[way]
	labs, surfaces := f.Labs(w), surfacesOf(f, w)
	var parts []draw.PiecePart
	for i, part := range f.Piece.Parts {
		one := draw.PiecePart{Key: part.Key, Name: part.Name, Lab: labs[i]}
		if at := w.Fill[i]; at >= 0 {
			one.Card, one.Surface = f.Cards[at].Name, surfaces[i]
			if data := one.Surface.JPEG; data != nil && look.PlainDaylight() {
				one.Surface.Picture = jpegURL(data)
			}
			one.Surface.JPEG = nil
		}
		parts = append(parts, one)
	}
	scene, err := draw.Piece(look.Light, f.Piece, parts, draw.PieceLook{Still: true, Stitch: f.Piece.Stitch})
	scene.ID = id
	return template.HTML(scene.SVG()), err
}

// surfacesOf are what the cards of a way's parts show beside a flat colour.
func surfacesOf(f *stage.Frozen, w stage.Way) []draw.Surface {
	out := make([]draw.Surface, len(w.Fill))
	for i, at := range w.Fill {
		if at < 0 {
			continue
		}
		card := f.Cards[at]
		out[i] = draw.Surface{Finish: card.Finish, Stitch: card.Kind == "yarn"}
		if p := card.Print; p != nil && p.Wide > 0 {
			out[i].JPEG, out[i].Wide, out[i].High = p.JPEG, p.Wide, p.High
		}
	}
	return out
}

// inline is a print as an address that holds it.
func inline(p *stage.Print) string { return jpegURL(p.JPEG) }

func jpegURL(data []byte) string {
	return "data:image/jpeg;base64," + base64.StdEncoding.EncodeToString(data)
}

// trust is what stands on every sheet, whatever it is read on.
const trust = "Screens and paper cannot show a colour exactly as the material does. Sheen, pattern, nap and light all change it. Look at real swatches in warm light and in daylight"

// aPaper is a sheet as it is printed.
func aPaper(s stage.Sheet, f *stage.Frozen) draw.AgreeSheet {
	a := draw.AgreeSheet{Title: f.Plan, Sub: subOf(s, f), Piece: f.Piece, Trust: trust, Sketch: f.Sketch}
	for _, w := range f.Ways {
		a.Ways = append(a.Ways, draw.WaySheet{Name: w.Name, Labs: f.Labs(w), Surfaces: surfacesOf(f, w)})
	}
	for i, c := range f.Cards {
		said := cardWords(f, f.Ways[0], i)
		if !f.Palette {
			said += fmt.Sprintf(", %s of the visible area", words.PerCent(f.Ways[0].Shares[i]))
		}
		one := draw.AgreeCard{Name: c.Name, Parts: said, Known: words.Capital(c.Known), Colour: c.Colour}
		if c.Print != nil {
			one.JPEG = c.Print.JPEG
		}
		a.Cards = append(a.Cards, one)
	}
	a.Lines = []string{sizeOf(f)}
	if f.Price != "" {
		a.Lines = append(a.Lines, "Price: "+f.Price)
	}
	if f.Terms != "" {
		a.Lines = append(a.Lines, strings.Split(f.Terms, "\n")...)
	}
	if f.Before != "" {
		a.Lines = append(a.Lines, "Changed since the last sheet: "+f.Before)
	}
	return a
}

func subOf(s stage.Sheet, f *stage.Frozen) string {
	said := fmt.Sprintf("Sheet %d, %s", s.Number, words.Date(s.MadeAt.Local()))
	if f.Maker != "" {
		said += ", from " + f.Maker
	}
	return said
}

// cardWords say what a card is and where it goes.
func cardWords(f *stage.Frozen, w stage.Way, card int) string {
	c := f.Cards[card]
	said := c.Kind
	if c.Finish != "" {
		said += ", " + c.Finish
	}
	if f.Palette {
		return said
	}
	if parts := f.Parts(w, card); len(parts) > 0 {
		said += ": " + strings.Join(parts, ", ")
	} else {
		said += ": in another colourway"
	}
	return strings.TrimPrefix(said, ", ")
}

func sizeOf(f *stage.Frozen) string {
	if f.Palette {
		return fmt.Sprintf("A palette of %s", words.Plural(len(f.Cards), "card", "cards"))
	}
	if f.Pieces != nil {
		said := strings.Join(f.Pieces, "; ")
		if f.Times > 1 {
			said += fmt.Sprintf("; the set made %d times", f.Times)
		}
		return said
	}
	said := fmt.Sprintf("%s, %s", f.Piece.Name, piece.SizeWords(f.Piece))
	if f.Times > 1 {
		said += fmt.Sprintf(", made %d times", f.Times)
	}
	return said
}

// sheet is the sheet that an address asks for, with what it holds. It answers the request
// itself when there is none.
func (s pages) sheet(c *gin.Context) (stage.Sheet, *stage.Frozen, bool) {
	number, err := strconv.Atoi(c.DefaultQuery("number", "1"))
	if err != nil {
		number = 0
	}
	sheet, f, err := stage.ByNumber(c.Request.Context(), s.Desk, web.PathID(c), number)
	if errors.Is(err, stage.ErrNoSheet) {
		s.Fail(c, http.StatusNotFound, "There is no such sheet. Create one on Sign-off.")
		return sheet, nil, false
	}
	return sheet, f, !s.Trouble(c, err, "")
}

// paper sends a sheet to be printed and signed.
func (s pages) paper(format string) gin.HandlerFunc {
	return func(c *gin.Context) {
		sheet, f, found := s.sheet(c)
		if !found {
			return
		}
		p, err := card.FindPaper(c.Query("paper"))
		if err != nil {
			s.Fail(c, http.StatusUnprocessableEntity, words.Capital(err.Error())+".")
			return
		}
		pages, err := draw.Agree(p, aPaper(sheet, f))
		if s.Trouble(c, err, "") {
			return
		}
		s.SendPages(c, fmt.Sprintf("%s sheet %d", f.Plan, sheet.Number), pages, format)
	}
}
