package shelf

import (
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"net/url"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"lampfern/core/colour"
	"lampfern/core/material"
	"lampfern/core/wheel"
	"lampfern/core/words"
	"lampfern/plan"
	"lampfern/plan/work"
	"lampfern/shelf"
	"lampfern/web"
)

// materialForm is a material as typed, kept as it is when something is wrong.
type materialForm struct {
	ID       uint
	Plan     uint // the plan that the maker came from, 0 for none
	Revision int64
	Values   map[string]string
	Was      string             // the values as the maker was shown them, as JSON
	Theirs   map[string]*theirs // what was saved meanwhile, of fields that the maker changed as well
	Problems material.Problems
	Kinds    []web.Choice
	Finishes []web.Choice
	Sources  []web.Choice
}

// theirs is what another tab saved in a field.
type theirs struct{ Text string }

var materialFields = []string{"name", "kind", "reference", "supplier", "lot", "finish", "colour", "L", "a", "b", "source", "uncertainty",
	"discontinued", "remark"}

func newForm(values map[string]string) materialForm {
	f := materialForm{Values: values, Was: asJSON(values), Problems: material.Problems{}}
	pick := func(all []string, field string) []web.Choice {
		var out []web.Choice
		for i, k := range all {
			out = append(out, web.Choice{Key: k, Name: k, On: values[field] == k || values[field] == "" && i == 0})
		}
		return out
	}
	f.Kinds, f.Finishes = pick(material.Kinds(), "kind"), pick(material.Finishes(), "finish")
	for i, src := range material.Sources() {
		f.Sources = append(f.Sources, web.Choice{Key: src.Name, Name: src.Words, On: values["source"] == src.Name || values["source"] == "" &&
			i == 0})
	}
	return f
}

// FormOf is the form of a card as it is kept.
func FormOf(card *shelf.Card) materialForm {
	rgb, _ := card.Colour.RGB()
	gone := ""
	if card.Discontinued {
		gone = "yes"
	}
	f := newForm(map[string]string{"name": card.Name, "kind": card.Kind, "reference": card.Reference, "supplier": card.Supplier,
		"lot":    card.Lot,
		"finish": card.Finish, "colour": rgb.Hex(), "L": web.Figure(card.Colour.L), "a": web.Figure(card.Colour.A),
		"b":      web.Figure(card.Colour.B),
		"source": card.Source, "uncertainty": web.Figure(card.Uncertainty), "discontinued": gone, "remark": card.Remark})
	f.ID, f.Revision = card.ID, card.Revision
	return f
}

// readMaterial makes a material of a typed form. Of hex and L, a, b the one
// that was changed counts; before is the record as it was, nil for a new one.
func readMaterial(values map[string]string, before *material.Material) (material.Material, material.Problems) {
	var m material.Material
	var was *colour.Lab
	if before != nil {
		m, was = *before, &before.Colour
		m.Uncertainty = 0
	}
	m.Name, m.Kind, m.Reference, m.Supplier, m.Lot = values["name"], values["kind"], values["reference"], values["supplier"], values["lot"]
	m.Finish, m.Source, m.Discontinued, m.Remark = values["finish"], values["source"], values["discontinued"] != "", values["remark"]
	p := material.Problems{}
	number := func(field, name string) float64 {
		v, err := strconv.ParseFloat(strings.Replace(strings.TrimSpace(values[field]), ",", ".", 1), 64)
		if err != nil {
			p["colour"] = fmt.Sprintf("%s is %q. Write a number, or leave L, a and b empty and give a colour code.", name, values[field])
		}
		return v
	}
	typed := func(fields ...string) bool {
		for _, f := range fields {
			if strings.TrimSpace(values[f]) != "" {
				return true
			}
		}
		return false
	}
	labKept, hexChanged := false, typed("colour")
	if was != nil {
		rgb, _ := was.RGB()
		hexChanged = hexChanged && !strings.EqualFold(strings.TrimSpace(values["colour"]), rgb.Hex())
		labKept = web.Figure(was.L) == values["L"] && web.Figure(was.A) == values["a"] && web.Figure(was.B) == values["b"]
		hexChanged = hexChanged && labKept // when both were changed the figures are the finer of the two
	}
	switch {
	case labKept && !hexChanged:
		m.Colour = *was // a form shows less than is kept
	case hexChanged && (was != nil || !typed("L", "a", "b")):
		rgb, err := colour.ParseHex(values["colour"])
		if err != nil {
			p["colour"] = words.Capital(err.Error()) + "."
		}
		m.Colour = rgb.Lab()
	case typed("L", "a", "b"):
		m.Colour = colour.Lab{L: number("L", "L"), A: number("a", "a"), B: number("b", "b")}
	default:
		p["colour"] = "Give a colour: a code such as #4b2346, or L, a and b."
	}
	if typed("uncertainty") {
		v, err := strconv.ParseFloat(strings.Replace(strings.TrimSpace(values["uncertainty"]), ",", ".", 1), 64)
		if err != nil {
			p["uncertainty"] = fmt.Sprintf("The accuracy is %q. Write a number, or leave it empty.", values["uncertainty"])
		}
		m.Uncertainty = v
	}
	for field, words := range m.Tidy() {
		if p[field] == "" {
			p[field] = words
		}
	}
	return m, p
}

func (s pages) newMaterial(c *gin.Context) {
	p := s.Page(c, "new", "Add materials")
	p.Title = "Add a material by hand"
	p.Sub = "By a colour code, or L*a*b* from a reader"
	values := map[string]string{}
	if like, err := strconv.ParseUint(c.Query("like"), 10, 32); err == nil && like > 0 {
		sh, err := s.Desk.Shelf(c.Request.Context())
		if s.Trouble(c, err, "") {
			return
		}
		if card, err := sh.Card(uint(like)); err == nil { // another one of the same heap
			values = map[string]string{"kind": card.Kind, "finish": card.Finish, "supplier": card.Supplier, "source": card.Source}
		}
	}
	form := newForm(values)
	if form.Plan = web.NumberOf(c.Query("plan")); form.Plan != 0 {
		p.Sub = "Saving takes you back to your plan"
	}
	p.Body = form
	s.Render(c, http.StatusOK, p)
}

// materialBody is one material's page.
type materialBody struct {
	Card    *shelf.Card
	Figures [][2]string
	Near    []nearCard
	Form    materialForm
	Stock   stockForm
	Lots    []string // pairs of lots, compared in words
	Outside bool
	Worked  []work.Worked // judged plans that have it
	Left    []plan.Left   // plans that it was set aside in
}

type nearCard struct {
	*shelf.Card
	Words string
}

func (s pages) material(c *gin.Context) {
	sh, err := s.Desk.Shelf(c.Request.Context())
	if s.Trouble(c, err, "") {
		return
	}
	card, err := sh.Card(web.PathID(c))
	if s.Trouble(c, err, web.NoSuchMaterial) {
		return
	}
	s.renderMaterial(c, http.StatusOK, sh, card, FormOf(card), "")
}

func (s pages) renderMaterial(c *gin.Context, status int, sh *shelf.Shelf, card *shelf.Card, form materialForm, flash string,
	stock ...stockForm) {
	p := s.Page(c, "material", card.Name)
	p.Path = fmt.Sprintf("/shelf/material/%d", card.ID)
	p.Sub = words.Capital(card.Kind)
	if card.Removed {
		p.Sub += " · removed from the shelf"
	}
	if flash != "" {
		p.Flash = flash
	}
	var err error
	if p.Undo, p.Redo, p.Shelf, err = s.Desk.ShelfSteps(c.Request.Context()); s.Trouble(c, err, "") {
		return
	}
	_, inGamut := card.Colour.RGB()
	b := materialBody{Card: card, Figures: figures(card), Form: form, Outside: !inGamut}
	for _, n := range sh.Nearest(card.Colour, 4, card.ID) {
		b.Near = append(b.Near, nearCard{n.Card, words.Capital(colour.Beside(n.Colour, card.Colour).Words())})
	}
	b.Stock, b.Lots = stockOf(card), lotsBeside(card)
	if len(stock) > 0 {
		b.Stock = stock[0] // as typed, with what is to be mended
	}
	trays, err := s.Desk.Trays(c.Request.Context())
	if s.Trouble(c, err, "") {
		return
	}
	b.Left = trays.Left[card.ID]
	if b.Worked, err = work.WithCard(c.Request.Context(), s.Desk, card.ID); s.Trouble(c, err, "") {
		return
	}
	p.Body = b
	s.Render(c, status, p)
}

// figures lists what is known of a card's colour, words first.
func figures(c *shelf.Card) [][2]string {
	lab := c.Colour
	rgb, _ := lab.RGB()
	out := [][2]string{{"Family", string(c.Family)}, {"Value", fmt.Sprintf("%.1f of 10", lab.Value())}}
	switch {
	case c.Neutral:
		under := lab.Undertone()
		if under == "" {
			out = append(out, [2]string{"Undertone", "none"})
		} else {
			out = append(out, [2]string{"Undertone", string(under)})
		}
	default:
		out = append(out, [2]string{"Place on the wheel", wheel.Pigment.Describe(c.Place(wheel.Pigment))},
			[2]string{"Clearness", fmt.Sprintf("%s (%.0f%%)", colour.ClearnessWord(c.Clearness), 100*c.Clearness)},
			[2]string{"Temperature", fmt.Sprintf("%s (warm is %s)", wheel.Schools()[0].Temperature(lab), wheel.Schools()[0].Runs())})
		if lab.Chroma() < colour.NearNeutralBelow {
			out = append(out, [2]string{"Undertone", string(lab.Undertone())})
		}
	}
	out = append(out, [2]string{"Chroma", fmt.Sprintf("%.0f", lab.Chroma())},
		[2]string{"L, a, b (D65)", fmt.Sprintf("%.1f, %.1f, %.1f", lab.L, lab.A, lab.B)}, [2]string{"Hex", rgb.Hex()},
		[2]string{"Colour source", c.SourceWords()})
	if len(c.Lots) > 0 {
		out = append(out, [2]string{"On hand", c.OnHandWords()})
	}
	if c.Repeat > 0 {
		out = append(out, [2]string{"Repeat", fmt.Sprintf("%g mm", c.Repeat)})
	}
	for _, f := range [][2]string{{"Size", c.Size}, {"Finish", c.Finish}, {"Supplier", c.Supplier}, {"Reference", c.Reference},
		{"Dye lot", c.Lot}} {
		if f[1] != "" {
			out = append(out, f)
		}
	}
	if c.Discontinued {
		out = append(out, [2]string{"Line", "discontinued"})
	}
	return out
}

// asJSON writes what a form held, for telling afterwards what was changed in it.
func asJSON(values any) string {
	text, err := json.Marshal(values)
	if err != nil {
		return "" // as if nothing were known of it
	}
	return string(text)
}

// merge lays what a maker typed over what another tab saved: what the maker left as it was shown
// takes what was saved. both are the fields that each changed, and to something else.
func merge(typed, was, saved map[string]string) (out map[string]string, both map[string]*theirs) {
	out, both = map[string]string{}, map[string]*theirs{}
	for _, f := range materialFields {
		before, known := was[f]
		switch {
		case typed[f] == saved[f] || known && saved[f] == before:
			out[f] = typed[f]
		case known && typed[f] == before:
			out[f] = saved[f]
		default:
			out[f], both[f] = typed[f], &theirs{saved[f]}
		}
	}
	return out, both
}

// saveMaterial adds a material or writes over one.
func (s pages) saveMaterial(c *gin.Context) {
	values := map[string]string{}
	for _, f := range materialFields {
		values[f] = c.PostForm(f)
	}
	id := web.PathID(c)
	revision, _ := strconv.ParseInt(c.PostForm("revision"), 10, 64)
	sh, err := s.Desk.Shelf(c.Request.Context())
	if s.Trouble(c, err, "") {
		return
	}
	var card *shelf.Card
	var before *material.Material
	meanwhile := ""
	if id != 0 {
		if card, err = sh.Card(id); s.Trouble(c, err, web.NoSuchMaterial) {
			return
		}
		before = &card.Material
		if card.Revision != revision {
			var was map[string]string
			_ = json.Unmarshal([]byte(c.PostForm("was")), &was) // without it every field that differs is asked about
			kept := FormOf(card)
			merged, both := merge(values, was, kept.Values)
			if len(both) > 0 {
				form := newForm(merged)
				form.ID, form.Revision, form.Theirs, form.Was = id, card.Revision, both, kept.Was
				s.renderMaterial(c, http.StatusConflict, sh, card, form,
					"Not saved: this material was changed in another tab. Your entries are here with the other ones below them. Choose either, then save.")
				return
			}
			values, revision, meanwhile = merged, card.Revision, ", with the changes from the other tab"
		}
	}
	m, problems := readMaterial(values, before)
	saved := id
	if len(problems) == 0 {
		var again, done bool
		if saved, problems, again, done = s.save(c, id, revision, m); done {
			return
		}
		if again { // saved by another in between
			s.saveMaterial(c)
			return
		}
	}
	if len(problems) > 0 {
		form := newForm(values)
		form.ID, form.Revision, form.Problems, form.Was = id, revision, problems, c.PostForm("was")
		const flash = "Not saved. Please correct the marked fields."
		if card != nil {
			s.renderMaterial(c, http.StatusUnprocessableEntity, sh, card, form, flash)
			return
		}
		form.Plan = web.NumberOf(c.PostForm("plan"))
		p := s.Page(c, "new", "Add materials")
		p.Title = "Add a material by hand"
		p.Path, p.Body, p.Flash = "/shelf/new", form, flash
		s.Render(c, http.StatusUnprocessableEntity, p)
		return
	}
	if plan := web.NumberOf(c.PostForm("plan")); plan != 0 && id == 0 {
		web.GoTo(c, fmt.Sprintf("/plans/%d/gather?q=%s", plan, url.QueryEscape(m.Name)), m.Name+" is on the shelf. Add it to your plan here.")
		return
	}
	words := m.Name + " is on the shelf."
	if id != 0 {
		words = m.Name + " is saved" + meanwhile + "."
	}
	web.GoTo(c, fmt.Sprintf("/shelf/material/%d", saved), words)
}

func (s pages) takeOff(c *gin.Context) {
	id := web.PathID(c)
	revision, _ := strconv.ParseInt(c.PostForm("revision"), 10, 64)
	err := s.Desk.TakeOff(c.Request.Context(), id, revision)
	if errors.Is(err, shelf.ErrConflict) {
		web.GoTo(c, fmt.Sprintf("/shelf/material/%d", id),
			"Not removed: this material was changed in another tab. It is shown as it is now.")
		return
	}
	if s.Trouble(c, err, web.NoSuchMaterial) {
		return
	}
	web.GoTo(c, "/shelf", "Removed from the shelf. Plans that use it keep it. Undo restores it.")
}

func (s pages) stepShelf(c *gin.Context) {
	undo := c.PostForm("do") != "redo"
	version, _ := strconv.ParseInt(c.PostForm("version"), 10, 64)
	label, err := s.Desk.StepShelf(c.Request.Context(), version, undo)
	var refused words.Refusal
	switch {
	case errors.Is(err, shelf.ErrConflict):
		web.GoTo(c, "/shelf",
			"Not undone: the shelf was changed in another tab. The button now shows the latest change.")
		return
	case errors.As(err, &refused):
		web.GoTo(c, "/shelf", string(refused))
		return
	case s.Trouble(c, err, ""):
		return
	}
	word := "Undone: "
	if !undo {
		word = "Redone: "
	}
	web.GoTo(c, "/shelf", word+label+".")
}

// formField is one field of the material form with its problem, if any.
type formField struct {
	Name, Label, Class, Value, Problem string
	Theirs                             *theirs
	Choices                            []web.Choice
}

func fieldOf(f materialForm, name, label, class string) formField {
	return formField{Name: name, Label: label, Class: class, Value: f.Values[name], Problem: f.Problems[name], Theirs: f.Theirs[name]}
}

func chooseOf(f materialForm, name, label string, choices []web.Choice) formField {
	return formField{Name: name, Label: label, Problem: f.Problems[name], Theirs: f.Theirs[name], Choices: choices}
}

// save saves a material. problems are what keeps it from being saved; again tells that another
// saved it first; done, that the request was answered, for another reason.
func (s pages) save(c *gin.Context, id uint, revision int64, m material.Material) (saved uint, problems material.Problems, again,
	done bool) {
	saved, err := s.Desk.SaveMaterial(c.Request.Context(), id, revision, m)
	switch {
	case errors.As(err, &problems):
		return 0, problems, false, false
	case errors.Is(err, shelf.ErrConflict):
		return 0, nil, true, false
	}
	return saved, nil, false, s.Trouble(c, err, web.NoSuchMaterial)
}
