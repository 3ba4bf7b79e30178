package page

import (
	"errors"
	"fmt"
	"math"
	"net/http"
	"net/url"
	"slices"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"lampfern/core/card"
	"lampfern/core/colour"
	"lampfern/core/craft"
	"lampfern/core/material"
	"lampfern/core/mix"
	"lampfern/core/words"
	stage "lampfern/stages/mix"
	"lampfern/web"
)

type mixBody struct {
	*stage.MixView
	Notches   []int // of a row of the slab
	Path      *pathPicture
	Bases     []web.Choice
	States    []string
	Parts     []partChoice // of the piece, which may take the mix
	Latest    []stage.RecordView
	List      []stage.PaintView // that is shown to choose from
	All       bool              // all are listed
	Reader    bool              // a colour reader is set up
	DoseBases []string
	Kept      *stage.Section
	Soap      bool   // doses go into batter, not onto fibre
	Layered   bool   // parts are layers
	OnePart   string // part, layer or step
	ManyParts string
	One       string // a part, as it is added
	Grounds   []string
	Additives string // what could be added, empty for nothing
	Care      string // of what is mixed
	Papers    []card.Paper
	Most      []web.Choice // colourants at most
	PartsMost int
	Unit      string
	Today     string
}

type partChoice struct{ Key, Name string }

// groundKinds are the kinds of material that things are dyed, painted or poured on, and
// mostGrounds bounds how many are offered by name.
var groundKinds = []string{"paper", "fabric", "yarn", "other"}

const mostGrounds = 40

// mostListed is how many can be chosen from on the page as it is; a longer list is asked
// for, so that presses on the slab stay quick.
const mostListed = 60

// latest is how many records stand on the page itself.
const latest = 5

// Size of the picture of the path, in px of its own.
const (
	pathWide, pathHigh = 640.0, 150.0
	pathEdge           = 40.0
	hueSpan            = 120.0 // degrees of hue across it, at least
)

// pathPicture is where the mix has gone: value up, hue along.
type pathPicture struct {
	Wide, High  float64
	Dots        []pathDot
	Wanted      pathDot
	Line        string
	Left, Right string // what lies at its ends
	Levels      []float64
}

type pathDot struct {
	X, Y float64
	Hex  string
}

func (s pages) mixStage(c *gin.Context, p *web.Page) error {
	v, err := stage.View(c.Request.Context(), s.Desk, p.Plan, c.Query("few") != "")
	if err != nil {
		return err
	}
	kept := stage.Of(p.Plan)
	b := mixBody{MixView: v, States: stage.States(), PartsMost: kept.Parts, Unit: stage.Unit(v.Basis), Kept: kept,
		Today:  time.Now().Format("2006-01-02"),
		Latest: v.Records[:min(len(v.Records), latest)], DoseBases: material.DoseBases(), Papers: card.Papers()}
	b.Reader = s.Desk.Reader() != ""
	b.All = len(v.Paints) <= mostListed || c.Query("paints") != ""
	for _, one := range v.Paints {
		if b.All || one.On {
			b.List = append(b.List, one)
		}
	}
	b.Soap, b.Layered = v.As.Key == "soap", v.As.Way == mix.Layers
	b.OnePart, b.ManyParts, b.One = "part", "parts", "a part"
	switch {
	case b.Layered:
		b.OnePart, b.ManyParts, b.One = "layer", "layers", "a layer"
	case v.Step > 0:
		b.OnePart, b.ManyParts, b.One = "step", "steps", "a step"
	}
	switch {
	case b.Soap:
		b.Additives = "scent or additive"
	case v.Step > 0:
		b.Additives = "mordant or additive"
	case v.As.Key == "paint" || v.As.Key == "wash":
		b.Additives = "medium or additive"
	}
	if v.Ground != nil {
		b.Grounds = []string{v.As.Ground.Name}
		for _, c := range p.Plan.Shelf.Cards {
			if c.Colour.L > 60 && len(b.Grounds) < mostGrounds && slices.Contains(groundKinds, c.Kind) {
				b.Grounds = append(b.Grounds, c.Name)
			}
		}
	}
	var kinds []string // what is mixed here, whatever the craft
	for _, one := range v.Paints {
		if one.On {
			kinds = append(kinds, one.Kind)
		}
	}
	care, _ := material.CareOf(kinds)
	if of, _ := craft.Named(p.Plan.Craft); of.Batch != nil && b.Soap {
		care = append([]string{of.Care}, care...)
	}
	b.Care = strings.Join(care, " ")
	if p.Plan.Piece != nil {
		for _, part := range p.Plan.Piece.Parts {
			b.Parts = append(b.Parts, partChoice{part.Key, part.Name})
		}
	}
	for _, k := range v.As.Bases {
		b.Bases = append(b.Bases, web.Choice{Key: k, Name: k, On: k == v.Basis})
	}
	for n := 1; n <= mix.MostColourants; n++ {
		on := n == kept.Colourants || kept.Colourants == 0 && n == mix.MostColourants
		b.Most = append(b.Most, web.Choice{Key: fmt.Sprint(n), Name: fmt.Sprint(n), On: on})
	}
	asked := url.Values{}
	if v.Few != nil {
		asked.Set("few", "1")
	}
	if c.Query("paints") != "" {
		asked.Set("paints", "1")
	}
	if len(asked) > 0 {
		p.Path += "?" + asked.Encode()
	}
	if v.Now != nil {
		p.Sub = fmt.Sprintf("%s, from %s", v.Now.Name, words.Plural(v.Chosen, stage.Singular(v.Noun), v.Noun))
		most := 12
		if b.Layered {
			most = v.Parts
		}
		for _, r := range v.Rows {
			most = max(most, r.Parts)
		}
		for i := range most {
			b.Notches = append(b.Notches, i)
		}
		b.Path = pathOf(p.View, v)
	}
	p.Body = b
	return nil
}

// pathOf draws the path of the mix about the wanted colour.
func pathOf(look web.View, v *stage.MixView) *pathPicture {
	if len(v.Path) == 0 {
		return nil
	}
	want := v.Now.Colour
	middle := want.OKLCh().H
	span := hueSpan / 2
	off := func(c colour.Lab) float64 {
		if c.Chroma() < 4 { // a grey lies at no hue
			return 0
		}
		return colour.HueBetween(middle, c.OKLCh().H)
	}
	for _, b := range v.Path {
		span = math.Max(span, math.Abs(off(b.Colour)))
	}
	at := func(c colour.Lab) pathDot {
		rgb, _ := look.Show(c)
		return pathDot{X: pathWide/2 + off(c)/span*(pathWide/2-pathEdge), Y: pathEdge/2 + (100-c.L)/100*(pathHigh-pathEdge), Hex: rgb.Hex()}
	}
	out := &pathPicture{Wide: pathWide, High: pathHigh, Wanted: at(want)}
	for i, b := range v.Path {
		d := at(b.Colour)
		out.Dots = append(out.Dots, d)
		out.Line += fmt.Sprintf("%s%.1f %.1f", map[bool]string{true: "M", false: "L"}[i == 0], d.X, d.Y)
	}
	for _, l := range []float64{100, 50, 0} {
		out.Levels = append(out.Levels, pathEdge/2+(100-l)/100*(pathHigh-pathEdge))
	}
	end := func(turn float64) string {
		if want.Chroma() < 4 {
			return ""
		}
		return string(colour.Family(colour.OKLCh{L: .6, C: .12, H: middle + turn}.Lab()))
	}
	out.Left, out.Right = end(-span), end(span)
	return out
}

// readOne takes a reading with the colour reader, for a result to be written down.
func (s pages) readOne(c *gin.Context) {
	m, err := s.Desk.Measure(c.Request.Context(), readings, nil)
	if refused := (words.Refusal("")); errors.As(err, &refused) {
		c.JSON(http.StatusUnprocessableEntity, gin.H{"trouble": string(refused)})
		return
	}
	if s.Trouble(c, err, "") {
		return
	}
	c.JSON(http.StatusOK, gin.H{"result": fmt.Sprintf("%.1f %.1f %.1f", m.Mean.L, m.Mean.A, m.Mean.B)})
}

// readings make one result.
const readings = 3
