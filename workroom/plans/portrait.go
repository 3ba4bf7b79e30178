package plans

import (
	"fmt"
	"net/http"
	"slices"
	"strings"

	"github.com/gin-gonic/gin"

	"lampfern/core/brief"
	"lampfern/core/material"
	"lampfern/core/wheel"
	"lampfern/core/words"
	"lampfern/shelf"
	"lampfern/web"
)

type portraitBody struct {
	shelf.Portrait
	Taste   brief.Taste
	Read    []string // what of it is understood, in sentences
	Problem string
	Kinds   []web.Choice // of material that are there; one of them may be looked at alone
}

// cellsShown is the most cards that a family's row shows; of more they are spread evenly.
const cellsShown = 60

// Cells are the cards that a family's row shows.
func (b portraitBody) Cells(f shelf.FamilyPortrait) []*shelf.Card {
	if len(f.Cards) <= cellsShown {
		return f.Cards
	}
	var out []*shelf.Card
	for i := range cellsShown {
		out = append(out, f.Cards[i*len(f.Cards)/cellsShown])
	}
	return out
}

// portrait shows what the shelf is like, beside what the maker likes.
func (s pages) portrait(c *gin.Context) { s.showPortrait(c, http.StatusOK, nil, "") }

func (s pages) showPortrait(c *gin.Context, status int, typed *brief.Taste, problem string) {
	ctx := c.Request.Context()
	sh, err := s.Desk.Shelf(ctx)
	if s.Trouble(c, err, "") {
		return
	}
	trays, err := s.Desk.Trays(ctx)
	if s.Trouble(c, err, "") {
		return
	}
	kind, of := c.Query("kind"), sh
	if slices.Contains(material.Kinds(), kind) { // what is missing in paint is not missing in cloth
		of = sh.Offer([]string{kind}, nil).Shelf()
	}
	b := portraitBody{Portrait: of.Portrait(trays.Used(0)), Problem: problem}
	for _, k := range material.Kinds() {
		if slices.ContainsFunc(sh.Cards, func(c *shelf.Card) bool { return c.Kind == k }) {
			b.Kinds = append(b.Kinds, web.Choice{Key: k, Name: k, On: k == kind})
		}
	}
	if b.Taste, err = s.Desk.Taste(ctx); s.Trouble(c, err, "") {
		return
	}
	for _, r := range b.Taste.Read(shelf.Dealt(sh.Cards, wheel.Pigment, trays.Used(0))) {
		say := map[bool]string{true: "You like", false: "You do not like"}[r.Liked]
		b.Read = append(b.Read, fmt.Sprintf("%s %s: %s of the shelf.", say, r.Word, words.Plural(r.Cards, "card", "cards")))
	}
	if typed != nil {
		b.Taste = *typed
	}
	p := s.Page(c, "portrait", "Shelf overview")
	p.Sub = "What you own, what you use and what is missing"
	p.Body = b
	s.Render(c, status, p)
}

// keepTaste keeps what the maker says to like.
func (s pages) keepTaste(c *gin.Context) {
	t := brief.Taste{Like: c.PostForm("like"), Dislike: c.PostForm("dislike")}
	err := s.Desk.KeepTaste(c.Request.Context(), t)
	problem, err := web.Problem(err)
	if s.Trouble(c, err, "") {
		return
	}
	if problem != "" {
		s.showPortrait(c, http.StatusUnprocessableEntity, &t, problem)
		return
	}
	web.GoTo(c, "/portrait", "Saved. Suggested palettes follow it from now on.")
}

// inShort is the shelf's portrait in one sentence.
func inShort(p shelf.Portrait) string {
	if p.Cards == 0 {
		return ""
	}
	most := func(names []string, counts ...int) string {
		best := 0
		for i, n := range counts {
			if n > counts[best] {
				best = i
			}
		}
		return names[best]
	}
	said := fmt.Sprintf("Mostly %s, %s and %s", most([]string{"warm", "cool", "neutral"}, p.Warm, p.Cool, p.Neutral),
		most([]string{"dark", "mid-value", "light"}, p.Dark, p.Middle, p.Light),
		most([]string{"clear", "soft", "muted"}, p.Clear, p.Soft, p.Greyed))
	if never := p.Cards - p.Used; never > 0 {
		said += fmt.Sprintf(". %d not used in any plan", never)
	}
	if len(p.Missing) > 0 {
		said += "; " + strings.Join(p.Missing[:min(2, len(p.Missing))], ", ")
	}
	return said + "."
}
