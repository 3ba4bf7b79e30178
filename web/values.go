package web

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
	"lampfern/core/value"
	"lampfern/draw"
	"lampfern/studio"
)

type valuesBody struct {
	studio.RunView
	Picture  draw.Scene
	Source   string
	Sources  []choice
	Starts   []choice
	Families []choice
	Kinds    []choice
	Chits    int
	Strip    bool // the run can be made a strip piece
}

func valuesStage(c *gin.Context, p *page) {
	v := p.Plan.Values(c.Query("without"))
	b := valuesBody{RunView: v, Source: p.Plan.Run.Source}
	if b.Source == "" {
		b.Source = studio.FromTray
	}
	for _, s := range [][2]string{{studio.FromTray, "tray"}, {studio.FromScraps, "scrap page"}, {studio.FromShelf, "shelf"}} {
		b.Sources = append(b.Sources, choice{Key: s[0], Name: s[1], On: s[0] == b.Source})
	}
	for _, s := range value.Starts() {
		b.Starts = append(b.Starts, choice{Key: s, Name: s, On: s == p.Plan.Run.Start || s == value.FromDark && p.Plan.Run.Start == ""})
	}
	for _, f := range colour.Families() {
		b.Families = append(b.Families, choice{Key: string(f), Name: string(f), On: string(f) == p.Plan.Run.Family})
	}
	for _, k := range material.Kinds() {
		b.Kinds = append(b.Kinds, choice{Key: k, Name: k, On: k == p.Plan.Run.Kind})
	}
	for _, g := range v.Gaps {
		if len(g.Near) == 0 && !v.Mixed {
			b.Chits++
		}
	}
	b.Strip = len(v.Cards)-len(v.Run.Strays) >= 3
	b.Picture = draw.Run(runPicture(p.View.Light, v))
	p.Body = b
	from := map[string]string{studio.FromTray: "of the tray", studio.FromScraps: "of the scrap page", studio.FromShelf: "of the shelf"}[b.Source]
	p.Sub = fmt.Sprintf("%s %s, dark to light", plural(len(v.Cards), "colour", "colours"), from)
	if v.Left > 0 {
		p.Sub += fmt.Sprintf(" · the first %d of %d: narrow it down", len(v.Cards), len(v.Cards)+v.Left)
	}
}

// runPicture hands a run to draw.
func runPicture(light draw.Light, v studio.RunView) draw.RunPicture {
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

// runEdit makes the edits of the run and of ramps; nil for any other.
func (f *form) runEdit(do string) studio.Edit {
	post := f.c.PostForm
	switch do {
	case "run-from":
		return studio.RunFrom(post("source"), post("family"), post("kind"), post("text"))
	case "run-steps":
		steps := 0
		if post("steps") != "" {
			steps = f.int("steps")
		}
		return studio.RunSteps(steps, post("start"), post("seen") != "")
	case "leave-out":
		return studio.LeaveOut(post("token"), post("reason"))
	case "put-back":
		return studio.PutBack(post("token"))
	case "strips":
		return studio.MakeStrips()
	case "ramp":
		return studio.SetRamp(f.int("key"), f.ramp())
	case "ramp-step":
		return studio.AddStep(f.int("key"), post("side") == "dark", post("add") != "")
	case "ramp-copy":
		return studio.CopyRamp(f.int("key"))
	case "ramp-drop":
		return studio.DropRamp(f.int("key"))
	case "mix-step":
		return studio.MixStep(f.int("key"), f.int("step"))
	case "drop-target":
		return studio.DropTarget(f.int("key"))
	}
	return nil
}

// ramp reads a ramp's form.
func (f *form) ramp() studio.RampChange {
	rows := func(side, count string) []value.Row {
		var out []value.Row
		for i := range min(max(0, f.int(count)), 10*value.MaxRows) {
			at := fmt.Sprintf("%s%d_", side, i)
			out = append(out, value.Row{Hue: f.number(at+"hue", 0), Purity: f.number(at+"purity", 0), Light: f.number(at+"light", 0)})
		}
		return out
	}
	tint := func(part string) value.Tint {
		return value.Tint{Red: f.number(part+"_red", 0), Yellow: f.number(part+"_yellow", 0)}
	}
	return studio.RampChange{Name: f.c.PostForm("name"), Middle: strings.TrimSpace(f.c.PostForm("middle")),
		Recipe:  value.Recipe{Columns: value.Columns(f.c.PostForm("columns")), Dark: rows("dark", "darks"), Light: rows("light", "lights")},
		Band:    f.number("band", 0),
		Shift:   value.Shift{Turn: f.number("turn", 0), Lighten: f.number("lighten", 0), Clear: f.number("clear", 0)},
		Balance: value.Balance{Shadows: tint("shadows"), Mids: tint("mids"), Lights: tint("bright")}}
}

// changeRamp makes the changes of ramps that need the maker's recipes; done is
// false when the page asks for something else.
func (s *Server) changeRamp(c *gin.Context, id uint, revision int64) (words string, done bool, err error) {
	ctx, f := c.Request.Context(), form{c: c}
	switch c.PostForm("do") {
	case "ramp-start", "ramp-recipe":
		recipe, err := s.studio.Recipe(ctx, c.PostForm("recipe"))
		if err != nil {
			return "", true, err
		}
		edit := studio.StartRamp(f.int("key"), recipe)
		if c.PostForm("do") == "ramp-recipe" {
			edit = studio.UseRecipe(f.int("key"), recipe)
		}
		if f.bad != nil {
			return "", true, f.bad
		}
		return "", true, s.studio.Change(ctx, id, revision, edit)
	case "save-recipe":
		plan, err := s.studio.Open(ctx, id)
		if err != nil {
			return "", true, err
		}
		r, err := plan.Ramp(f.int("key"))
		if err != nil {
			return "", true, studio.Refusal("That ramp is no longer here.")
		}
		return c.PostForm("recipe") + " is kept among your recipes.", true, s.studio.SaveRecipe(ctx, c.PostForm("recipe"), r.Recipe)
	case "forget-recipe":
		return c.PostForm("recipe") + " is forgotten. It can be brought back below the recipes.", true, s.studio.DropRecipe(ctx, c.PostForm("recipe"))
	case "undo-recipes":
		label, err := s.studio.StepRecipes(ctx, true)
		return "Undone: " + label + ".", true, err
	}
	return "", false, nil
}

type rampBody struct {
	All        []studio.RampView
	Now        *studio.RampView // nil when there is none
	Recipes    []recipeChoice
	UndoRecipe string
	Dark       []studio.RampStepView // rows of the editor, from the middle outward
	Light      []studio.RampStepView
	Purity     string // heads of the columns
	Lightness  string
}

type recipeChoice struct {
	studio.RecipeChoice
	On bool
}

func (s *Server) rampStage(c *gin.Context, p *page) error {
	p.Sub = "Numeric ramps from one middle colour, by recipes of your own"
	b := rampBody{All: p.Plan.RampViews()}
	key, _ := strconv.Atoi(c.Query("ramp"))
	for i := range b.All {
		if b.All[i].Key == key || b.Now == nil && i == len(b.All)-1 {
			b.Now = &b.All[i]
		}
	}
	recipes, err := s.studio.Recipes(c.Request.Context())
	if err != nil {
		return err
	}
	for _, r := range recipes {
		b.Recipes = append(b.Recipes, recipeChoice{r, b.Now != nil && strings.EqualFold(b.Now.Recipe.Name, r.Name)})
	}
	if b.UndoRecipe, _, err = s.studio.RecipeSteps(c.Request.Context()); err != nil {
		return err
	}
	if b.Now != nil {
		p.Path += fmt.Sprintf("?ramp=%d", b.Now.Key)
		b.Purity, b.Lightness = "saturation", "brightness"
		if b.Now.Recipe.Columns == value.LCh {
			b.Purity, b.Lightness = "chroma", "lightness"
		}
		b.Dark, b.Light = make([]studio.RampStepView, len(b.Now.Recipe.Dark)), make([]studio.RampStepView, len(b.Now.Recipe.Light))
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
	Strips  []studio.TrayCard // dark to light
	Checked value.Checked
	Blur    int // pixels
	Blurs   []choice
	Of      []choice // the palette and the colourways
}

// squintStage shows the palette and the piece as values only, out of focus.
func squintStage(c *gin.Context, p *page) error {
	p.Sub = "Values only and out of focus: what is left is what will be seen from afar"
	b := squintBody{Blur: 6}
	if n, err := strconv.Atoi(c.Query("blur")); err == nil {
		b.Blur = min(max(0, n), 20)
	}
	address := func(blur int, of string) string {
		return fmt.Sprintf("/plans/%d/squint?blur=%d&colourway=%s", p.Plan.ID, blur, url.QueryEscape(of))
	}
	of, cards, fill := "", p.Plan.Tray, []int(nil)
	if p.Plan.Piece != nil {
		fill = p.Plan.Proportion().Fill
	}
	b.Of = []choice{{Name: "palette as it is now"}}
	for _, k := range p.Plan.ColourwayViews() {
		b.Of = append(b.Of, choice{Key: fmt.Sprint(k.Key), Name: k.Name})
		if fmt.Sprint(k.Key) == c.Query("colourway") {
			of, fill, cards = c.Query("colourway"), k.Fill, nil
			for i, t := range p.Plan.Tray {
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
		b.Blurs = append(b.Blurs, choice{Key: address(k.px, of), Name: k.name, On: k.px == b.Blur})
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
		scene, err := draw.Piece(grey.Light, pc.Piece, pieceParts(p.Plan, fill), draw.PieceLook{})
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
func (s *Server) stripOf(c *gin.Context) (title string, strip []draw.Strip, all []material.Material, ok bool) {
	plan, err := s.studio.Open(c.Request.Context(), pathID(c))
	if s.trouble(c, err, noSuchPlan) {
		return "", nil, nil, false
	}
	if key, err := strconv.Atoi(c.Query("ramp")); err == nil {
		r, err := plan.Ramp(key)
		if s.trouble(c, err, "There is no such ramp in this plan. The page of ramps shows those that are kept.") {
			return "", nil, nil, false
		}
		title, all = plan.Name+" · "+r.Name, r.Materials()
	} else {
		title = plan.Name + " · run"
		for _, k := range plan.Values("").Cards {
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
		s.fail(c, http.StatusUnprocessableEntity, "The run is empty, so there is nothing to save. Pull cards on Gather, or make the run from the shelf.")
		return "", nil, nil, false
	}
	for _, m := range all {
		strip = append(strip, draw.Strip{Name: m.Name, Lab: m.Colour, Source: m.Source})
	}
	return title, strip, all, true
}

// stripFormats are what a run or a ramp can be saved as.
var stripFormats = []string{"csv", "tokens.json", "svg", "png", "pdf"}

// saveStrip sends a strip in the format that the address ends in.
func (s *Server) saveStrip(format string) gin.HandlerFunc {
	return func(c *gin.Context) {
		title, strip, all, ok := s.stripOf(c)
		if !ok {
			return
		}
		s.sendStrip(c, title, strip, all, format)
	}
}

// chitsPDF sends what to look for, for every gap that the shelf cannot fill.
func (s *Server) chitsPDF(c *gin.Context) {
	plan, err := s.studio.Open(c.Request.Context(), pathID(c))
	if s.trouble(c, err, noSuchPlan) {
		return
	}
	v := plan.Values("")
	var chits []draw.ChitCard
	for _, g := range v.Gaps {
		if len(g.Near) == 0 && !v.Mixed {
			chits = append(chits, chitCard(g))
		}
	}
	if len(chits) == 0 {
		s.fail(c, http.StatusUnprocessableEntity, "No gap of this run needs a chit: what it lacks is on the shelf.")
		return
	}
	data, err := draw.PDF(plan.Name+" · what to look for", draw.ChitPages(plan.Name+" · what to look for", chits))
	if s.trouble(c, err, "") {
		return
	}
	download(c, plan.Name+" what to look for.pdf", "application/pdf", data)
}

func chitCard(g studio.GapView) draw.ChitCard {
	c := g.Chit
	lean := "It must not lean: a true neutral."
	if c.Not[0] != "" {
		lean = fmt.Sprintf("It must not lean toward %s or toward %s.", c.Not[0], c.Not[1])
		if c.Not[0] == c.Not[1] {
			lean = fmt.Sprintf("It must not lean toward %s.", c.Not[0])
		}
	}
	return draw.ChitCard{Lab: c.Colour, Title: fmt.Sprintf("%s, value %.1f", capital(string(c.Family)), c.Value), Lines: []string{
		fmt.Sprintf("Between %s and %s.", g.From.Name, g.To.Name),
		fmt.Sprintf("Value from %.1f to %.1f serves.", c.Low, c.High),
		lean,
		fmt.Sprintf("Near enough: %g apart from this field, no more.", c.Within),
	}}
}

// rampTable is one side of a ramp's editor with the page it stands on.
type rampTable struct {
	Page *page
	Side string
	Rows []studio.RampStepView
}

func rampSide(p *page, side string) rampTable {
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

// Tints are the rows of a ramp's colour balance.
func (p *page) Tints(b value.Balance) []tintField {
	return []tintField{{"Shadows", "shadows", b.Shadows}, {"Mid-tones", "mids", b.Mids}, {"Lights", "bright", b.Lights}}
}
