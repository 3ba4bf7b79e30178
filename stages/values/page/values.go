package page

import (
	"fmt"
	"net/http"
	"net/url"
	"slices"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"lampfern/core/colour"
	"lampfern/core/material"
	"lampfern/core/note"
	"lampfern/core/value"
	"lampfern/core/words"
	"lampfern/draw"
	"lampfern/plan"
	stage "lampfern/stages/values"
	"lampfern/web"
)

type valuesBody struct {
	stage.RunView
	Picture  draw.Scene
	Source   string
	Sources  []web.Choice
	Starts   []web.Choice
	Families []web.Choice
	Kinds    []web.Choice
	Chits    int
	Worth    []stage.RunNote // at most three, gravest first
	More     []stage.RunNote
	Strip    bool // the run can be made a strip piece
}

// noteOn is a note with the page that it is on.
type noteOn struct {
	Page *web.Page
	Note stage.RunNote
}

func noteIn(p *web.Page, n stage.RunNote) noteOn { return noteOn{p, n} }

func valuesStage(c *gin.Context, p *web.Page) error {
	v := stage.Values(p.Plan, c.Query("without"))
	b := valuesBody{RunView: v, Source: stage.Of(p.Plan).Run.Source}
	if b.Source == "" {
		b.Source = stage.FromTray
	}
	for _, s := range [][2]string{{stage.FromTray, "tray"}, {stage.FromScraps, "scrap page"}, {stage.FromShelf, "shelf"}} {
		b.Sources = append(b.Sources, web.Choice{Key: s[0], Name: s[1], On: s[0] == b.Source})
	}
	for _, s := range value.Starts() {
		b.Starts = append(b.Starts, web.Choice{Key: s, Name: s, On: s == stage.Of(p.Plan).Run.Start || s == value.FromDark &&
			stage.Of(p.Plan).Run.Start == ""})
	}
	for _, f := range colour.Families() {
		b.Families = append(b.Families, web.Choice{Key: string(f), Name: string(f), On: string(f) == stage.Of(p.Plan).Run.Family})
	}
	for _, k := range material.Kinds() {
		b.Kinds = append(b.Kinds, web.Choice{Key: k, Name: k, On: k == stage.Of(p.Plan).Run.Kind})
	}
	for _, g := range v.Gaps {
		if len(g.Near) == 0 && !v.Mixed {
			b.Chits++
		}
	}
	b.Worth, b.More = web.WorthALook(v.Notes, func(n stage.RunNote) bool { return n.Grade != note.Fine })
	b.Strip = v.MakesStrips()
	run := runPicture(p.View.Light, v)
	run.Narrow = true
	b.Picture = draw.Run(run)
	p.Body = b
	from := map[string]string{stage.FromTray: "in the tray", stage.FromScraps: "on the scrap page", stage.FromShelf: "on the shelf"}[b.Source]
	p.Sub = fmt.Sprintf("%s %s, dark to light", words.Plural(len(v.Cards), "colour", "colours"), from)
	if v.Left > 0 {
		p.Sub += fmt.Sprintf(" · the first %d of %d", len(v.Cards), len(v.Cards)+v.Left)
	}
	return nil
}

// runPicture hands a run to draw.
func runPicture(light draw.Light, v stage.RunView) draw.RunPicture {
	r := draw.RunPicture{Light: light, Line: v.Fitted && !v.Mixed, Sides: [2]string{string(v.Sides[0]), string(v.Sides[1])}}
	at := map[string]int{}
	for i, c := range v.Cards {
		at[c.Token] = i
		off := 0.0
		if r.Line {
			off = c.Offset.Tangential
			if c.Lean == value.Grey || c.Lean == value.Strong {
				off = c.Offset.Radial
			}
		}
		r.Cards = append(r.Cards, draw.RunCard{Token: c.Token, Name: c.Name, Lab: c.Reads, Off: off, Words: c.Words})
	}
	for _, g := range v.Gaps {
		r.Gaps = append(r.Gaps, [2]float64{g.From.Reads.Value(), g.To.Reads.Value()})
		if r.Line {
			r.Wanted = append(r.Wanted, g.Colour)
		}
	}
	for _, k := range v.Crowds {
		r.Crowds = append(r.Crowds, [2]int{at[k[0].Token], at[k[1].Token]})
	}
	return r
}

type rampBody struct {
	All        []stage.RampView
	Now        *stage.RampView // nil when there is none
	Recipes    []recipeChoice
	UndoRecipe string
	Dark       []stage.RampStepView // rows of the editor, from the middle outward
	Light      []stage.RampStepView
	Purity     string // heads of the columns
	Lightness  string
}

type recipeChoice struct {
	stage.RecipeChoice
	On bool
}

func (s pages) rampStage(c *gin.Context, p *web.Page) error {
	p.Sub = "Ramps from one middle colour, by numbers and your own recipes"
	b := rampBody{All: stage.RampViews(p.Plan)}
	key, _ := strconv.Atoi(c.Query("ramp"))
	if do := c.PostForm("do"); do == "ramp-copy" || do == "ramp-start" || strings.HasPrefix(c.PostForm("act"), "do=ramp-copy") ||
		strings.HasPrefix(c.PostForm("act"), "do=ramp-start") {
		key = 0 // what was just made opens, the newest
	}
	for i := range b.All {
		if b.All[i].Key == key || b.Now == nil && i == len(b.All)-1 {
			b.Now = &b.All[i]
		}
	}
	recipes, err := stage.Recipes(c.Request.Context(), s.Desk)
	if err != nil {
		return err
	}
	for _, r := range recipes {
		b.Recipes = append(b.Recipes, recipeChoice{r, b.Now != nil && b.Now.Recipe.Same(r.Recipe)})
	}
	if b.UndoRecipe, _, err = stage.RecipeSteps(c.Request.Context(), s.Desk); err != nil {
		return err
	}
	if b.Now != nil {
		p.Path += fmt.Sprintf("?ramp=%d", b.Now.Key)
		b.Purity, b.Lightness = "saturation", "brightness"
		if b.Now.Recipe.Columns == value.LCh {
			b.Purity, b.Lightness = "chroma", "lightness"
		}
		b.Dark, b.Light = make([]stage.RampStepView, len(b.Now.Recipe.Dark)), make([]stage.RampStepView, len(b.Now.Recipe.Light))
		for _, st := range b.Now.Steps {
			switch {
			case st.Middle:
			case st.Dark:
				b.Dark[st.Row] = st
			default:
				b.Light[st.Row] = st
			}
		}
	}
	p.Body = b
	return nil
}

type squintBody struct {
	Piece   *draw.Scene
	Strips  []plan.TrayCard // dark to light
	Checked value.Checked
	Blur    int // pixels
	Blurs   []web.Choice
	Of      []web.Choice // the palette and the colourways
}

// squintStage shows the palette and the piece as values only, out of focus.
func squintStage(c *gin.Context, p *web.Page) error {
	p.Sub = "Greys only and out of focus, as seen across a room"
	b := squintBody{Blur: 6}
	if n, err := strconv.Atoi(c.Query("blur")); err == nil {
		b.Blur = min(max(0, n), 20)
	}
	address := func(blur int, of string) string {
		return fmt.Sprintf("/plans/%d/squint?blur=%d&colourway=%s", p.Plan.ID, blur, url.QueryEscape(of))
	}
	of, cards, fill := "", p.Plan.Tray, []int(nil)
	if p.Plan.Piece != nil {
		fill = p.Plan.Fill()
	}
	b.Of = []web.Choice{{Name: "palette as it is now"}}
	for _, k := range p.Plan.ColourwayViews() {
		b.Of = append(b.Of, web.Choice{Key: fmt.Sprint(k.Key), Name: k.Name})
		if fmt.Sprint(k.Key) == c.Query("colourway") {
			of, fill, cards = c.Query("colourway"), k.Fill, nil
			for i, t := range k.Tray {
				if slices.Contains(k.Fill, i) {
					cards = append(cards, t)
				}
			}
		}
	}
	for i, k := range b.Of {
		b.Of[i].On, b.Of[i].Key = k.Key == of, address(b.Blur, k.Key)
	}
	p.Path = address(b.Blur, of)
	for _, k := range []struct {
		px   int
		name string
	}{{0, "sharp"}, {3, "a little"}, {6, "half shut"}, {12, "nearly shut"}} {
		b.Blurs = append(b.Blurs, web.Choice{Key: address(k.px, of), Name: k.name, On: k.px == b.Blur})
	}
	var labs []colour.Lab
	for _, t := range cards {
		labs = append(labs, t.ReadsAs())
	}
	b.Checked = value.Check(labs)
	for _, i := range value.Read(labs).Order {
		b.Strips = append(b.Strips, cards[i])
	}
	grey := p.View
	grey.ValuesOnly = true
	p.View = grey
	if pc := p.Plan.Piece; pc != nil {
		scene, err := draw.Piece(grey.Light, pc.Piece, web.PieceParts(p.Plan, fill), draw.PieceLook{Still: true})
		if err != nil {
			return err
		}
		b.Piece = &scene
	}
	p.Body = b
	return nil
}

// stripOf is what a strip is made of: the plan's run without its strays, or,
// with ?ramp=, one of its ramps.
func (s pages) stripOf(c *gin.Context) (title string, strip []draw.Strip, all []material.Material, ok bool) {
	plan, err := s.Desk.Open(c.Request.Context(), web.PathID(c))
	if s.Trouble(c, err, web.NoSuchPlan) {
		return "", nil, nil, false
	}
	if key, err := strconv.Atoi(c.Query("ramp")); err == nil {
		r, err := stage.RampOf(plan, key)
		if s.Trouble(c, err, "This plan has no such ramp.") {
			return "", nil, nil, false
		}
		title, all = plan.Name+" · "+r.Name, r.Materials()
	} else {
		title = plan.Name + " · run"
		for _, k := range stage.Values(plan, "").Cards {
			if k.Lean != "" {
				continue
			}
			m := k.Material
			m.Colour = k.Reads
			if k.ID == 0 {
				m.Kind = material.Kinds()[len(material.Kinds())-1]
			}
			all = append(all, m)
		}
	}
	if len(all) == 0 {
		s.Fail(c, http.StatusUnprocessableEntity,
			"The gradient is empty. Add cards on Gather, or choose Gradient from: shelf.")
		return "", nil, nil, false
	}
	for _, m := range all {
		strip = append(strip, draw.Strip{Name: m.Name, Lab: m.Colour, Source: m.Source})
	}
	return title, strip, all, true
}

// saveStrip sends a strip in the format that the address ends in.
func (s pages) saveStrip(format string) gin.HandlerFunc {
	return func(c *gin.Context) {
		title, strip, all, ok := s.stripOf(c)
		if !ok {
			return
		}
		s.SendStrip(c, title, strip, all, format)
	}
}

// chitsPDF sends what to look for, for every gap that the shelf cannot fill.
func (s pages) chitsPDF(c *gin.Context) {
	plan, err := s.Desk.Open(c.Request.Context(), web.PathID(c))
	if s.Trouble(c, err, web.NoSuchPlan) {
		return
	}
	v := stage.Values(plan, "")
	var chits []draw.ChitCard
	for _, g := range v.Gaps {
		if len(g.Near) == 0 && !v.Mixed {
			chits = append(chits, chitCard(g))
		}
	}
	if len(chits) == 0 {
		s.Fail(c, http.StatusUnprocessableEntity, "You own everything this gradient needs, so there is nothing to look for.")
		return
	}
	data, err := draw.PDF(plan.Name+" shopping notes", draw.ChitPages(plan.Name+" shopping notes", chits))
	if s.Trouble(c, err, "") {
		return
	}
	web.Download(c, plan.Name+" shopping notes.pdf", "application/pdf", data)
}

func chitCard(g stage.GapView) draw.ChitCard {
	c := g.Chit
	lean := "No undertone: a true neutral."
	if c.Not[0] != "" {
		lean = fmt.Sprintf("No undertone of %s or %s.", c.Not[0], c.Not[1])
		if c.Not[0] == c.Not[1] {
			lean = fmt.Sprintf("No undertone of %s.", c.Not[0])
		}
	}
	return draw.ChitCard{Lab: c.Colour, Title: fmt.Sprintf("%s, value %.1f", words.Capital(string(c.Family)), c.Value), Lines: []string{
		fmt.Sprintf("Between %s and %s.", g.From.Name, g.To.Name),
		fmt.Sprintf("Any value from %.1f to %.1f will do.", c.Low, c.High),
		lean,
		fmt.Sprintf("Within ΔE %g of this square.", c.Within),
	}}
}

// rampTable is one side of a ramp's editor with the page it stands on.
type rampTable struct {
	Page *web.Page
	Side string
	Rows []stage.RampStepView
}

func rampSide(p *web.Page, side string) rampTable {
	b, _ := p.Body.(rampBody)
	if side == "dark" {
		return rampTable{p, side, b.Dark}
	}
	return rampTable{p, side, b.Light}
}

// tintField is one row of the colour balance.
type tintField struct {
	Name, Field string
	value.Tint
}

// tints are the rows of a ramp's colour balance.
func tints(b value.Balance) []tintField {
	return []tintField{{"Shadows", "shadows", b.Shadows}, {"Mid-tones", "mids", b.Mids}, {"Lights", "bright", b.Lights}}
}
