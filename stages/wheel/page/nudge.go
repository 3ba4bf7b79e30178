package page

import (
	"net/http"
	"slices"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"lampfern/core/colour"
	"lampfern/core/words"
	"lampfern/draw"
	"lampfern/plan"
	"lampfern/plan/work"
	stage "lampfern/stages/wheel"
	"lampfern/web"
)

// nudgeBody is a dealt hand.
type nudgeBody struct {
	stage.HandView
	Again    string // address of a new hand with the same cards held
	Tokens   string // of the hand, to take it
	Counts   []web.Choice
	Tray     []holdChoice
	SeedSaid string
	Problem  string
	Roles    int          // seed of the next other roles
	Piece    *web.OnPiece // in the hand's best arrangement; nil where the plan has none
}

type holdChoice struct {
	plan.TrayCard
	Token string
	Held  bool
}

// nudgeStage deals a hand as the address asks.
func (s pages) nudgeStage(c *gin.Context, p *web.Page) error {
	p.Sub = "A palette outside your habits. Keep what you like and ask for another"
	q := c.Request.URL.Query()
	n := stage.Nudge{Whole: q.Get("from") == "wheel", Held: q["hold"]}
	n.Count, _ = strconv.Atoi(q.Get("n"))
	b := nudgeBody{SeedSaid: q.Get("seed")}
	seed, err := stage.ParseSeed(b.SeedSaid)
	if err == nil {
		n.Seed = seed
		b.HandView, err = stage.Hand(c.Request.Context(), s.Desk, p.Plan, n)
	}
	if refused, is := err.(words.Refusal); is {
		b.Nudge, b.Problem, err = n, string(refused), nil
	}
	if err != nil {
		return err
	}
	if b.Problem == "" {
		b.SeedSaid = strconv.Itoa(b.Seed)
	}
	var tokens []string
	for _, k := range b.Cards {
		tokens = append(tokens, k.Token)
	}
	if len(b.Cards) > 0 && p.Plan.Piece != nil {
		if b.Piece, err = s.dealt(c, p, b.Cards); err != nil {
			return err
		}
	}
	b.Tokens, b.Roles = strings.Join(tokens, ","), 1+b.Seed%stage.MostSeed
	for i := 2; i <= 8; i++ {
		b.Counts = append(b.Counts, web.Choice{Key: strconv.Itoa(i), On: i == b.Count})
	}
	for _, t := range p.Plan.Tray {
		token := plan.TrayToken(t)
		b.Tray = append(b.Tray, holdChoice{t, token, slices.Contains(n.Held, token)})
	}
	if b.Problem == "" { // the same hand stays while cards are taken from it
		q.Set("seed", b.SeedSaid)
		q.Set("n", strconv.Itoa(b.Count))
	}
	p.Path += "?" + q.Encode()
	p.Body = b
	return nil
}

// dealt is the piece in the colours of a hand.
func (s pages) dealt(c *gin.Context, p *web.Page, cards []stage.HandCard) (*web.OnPiece, error) {
	labs := make([]colour.Lab, len(cards))
	for i, card := range cards {
		labs[i] = card.Colour
	}
	best := s.Desk.Best(c.Request.Context(), p.Plan.Piece, labs)
	on := make([]*colour.Lab, len(p.Plan.Piece.Parts))
	for i := range on {
		at := i % len(labs)
		if best != nil {
			at = best[i]
		}
		on[i] = &labs[at]
	}
	return s.PieceIn(c, p, on)
}

type triedBody struct {
	All    []stage.CombinationView
	Worked []work.Worked // plans that were judged
}

func (s pages) triedStage(c *gin.Context, p *web.Page) error {
	p.Sub = "To compare and to print"
	b := triedBody{All: stage.Tried(p.Plan)}
	var err error
	b.Worked, err = work.AllWorked(c.Request.Context(), s.Desk)
	p.Body = b
	return err
}

// triedPDF sends the page of combinations on A4.
func (s pages) triedPDF(c *gin.Context) {
	plan, err := s.Desk.Open(c.Request.Context(), web.PathID(c))
	if s.Trouble(c, err, web.NoSuchPlan) {
		return
	}
	all := stage.Tried(plan)
	if len(all) == 0 {
		s.Fail(c, http.StatusUnprocessableEntity, "No palettes saved yet, so there is nothing to print. Save one on the wheel first.")
		return
	}
	var tried []draw.Tried
	for _, t := range all {
		d := draw.Tried{Title: words.Capital(t.Size), Remark: t.Remark}
		if t.Scheme != "" {
			d.Title += " · " + t.Scheme
		}
		for _, k := range t.Cards {
			d.Names, d.Cards = append(d.Names, k.Name), append(d.Cards, k.Colour)
		}
		tried = append(tried, d)
	}
	data, err := draw.PDF(plan.Name+" · saved palettes", draw.TriedPages(plan.Name, tried))
	if s.Trouble(c, err, "") {
		return
	}
	web.Download(c, plan.Name+" combinations.pdf", "application/pdf", data)
}
