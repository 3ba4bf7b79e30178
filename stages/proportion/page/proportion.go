package page

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"github.com/gin-gonic/gin"

	"lampfern/core/craft"
	"lampfern/core/material"
	"lampfern/core/piece"
	"lampfern/core/words"
	"lampfern/draw"
	"lampfern/plan"
	"lampfern/shelf"
	stage "lampfern/stages/proportion"
	"lampfern/web"
)

type proportionBody struct {
	Ribbon *web.Ribbon // other ways to colour the piece
	stage.ProportionView
	Picture   *draw.Scene
	Battens   draw.Scene
	Parts     []partRow
	Pattern   *patternChoice // the one in use, nil for none
	Crafts    []pieceCraft   // the gallery, while no piece is chosen
	Size      string
	Look      string            // how the picture from afar is lit, so that it is fetched anew
	Far, Most float64           // metres away the piece is looked at from, and the most
	Across    *stage.AcrossView // what blends there; nil from close by
	Solid     *solidShown       // an assembly to be turned; nil for any other piece
	Threads   bool              // a second thread can be tried
	Bars      *stage.BarsView   // over what is cut from the piece; nil for nothing
	Finishes  []web.Choice      // that the piece can be looked at in
	Made      *stage.Made       // what the one it is looked at in gains and loses; nil for its own
	Adding    bool              // the gallery adds a piece
	Under     *plan.Stage       // where what is put into the pattern is edited; nil for none
	Written   *written          // what is put in as a line of text; nil for none
	Divides   []divide          // ways in which a part can be divided; nil for none
}

// written is a line of text that is put into the pattern.
type written struct {
	piece.Asking
	Line                   string
	Heading, Text, Example string // advice
}

func writtenOf(p *plan.Plan) *written {
	in, is := p.Put().(piece.Written)
	if !is {
		return nil
	}
	v := p.Values()
	out := &written{Asking: in.Asks(), Line: in.Line(v)}
	out.Heading, out.Text, out.Example = in.Advice(v)
	return out
}

// under is the stage that changes what is put into the plan's pattern; nil for none.
func under(k *plan.Desk, p *plan.Plan) *plan.Stage {
	for _, st := range k.Stages() {
		if st.Pattern != "" && st.Pattern == p.Pattern {
			return &st
		}
	}
	return nil
}

// divide is a way in which a part can be divided, in words.
type divide struct {
	Kind  piece.SplitKind
	Words string
}

// divideWords say where what is split off lies.
var divideWords = map[piece.SplitKind]string{piece.Shade: "in the shade", piece.Light: "where the light falls",
	piece.Fade: "to fade into", piece.Top: "along the top",
	piece.Right: "along the right side", piece.Bottom: "along the bottom", piece.Left: "along the left side",
	piece.Stitching: "stitched along its edge"}

// Toned reports whether parts can be laid in more than one tone.
func (b proportionBody) Toned() bool {
	return len(b.Divides) > 0 && b.Divides[0].Kind == piece.Shade
}

// DivideWords say what can be split off a part.
func (b proportionBody) DivideWords() string {
	var said []string
	if b.Toned() {
		said = append(said, "a second tone")
	}
	for _, d := range b.Divides {
		switch d.Kind {
		case piece.Stitching:
			said = append(said, "a line of stitches")
		case piece.Top:
			said = append(said, "a two-colour binding")
		}
	}
	return words.Capital(words.Either(said))
}

func dividesOf(p *plan.Plan) (out []divide) {
	for _, k := range p.Divides() {
		out = append(out, divide{k, divideWords[k]})
	}
	return out
}

// partRow is one part of the piece in the list of parts.
type partRow struct {
	piece.Part
	Share   float64
	Card    *plan.TrayCard
	Pinned  bool // it keeps its card
	Last    bool // its card is chosen last
	Grouped bool // it takes a card together with others
	Off     bool // it is split off another part
	Layers  int  // its card lies in; 0 for one that is not laid down in layers
	Lies    string
	Meets   string // the parts it touches most
}

// patternChoice is a pattern with the settings it would be built with.
type patternChoice struct {
	piece.Pattern
	On  bool
	Set piece.Values
}

// choiceOf is a pattern with its usual settings, the one in use with the plan's.
func choiceOf(p *plan.Plan, t piece.Pattern) patternChoice {
	ch := patternChoice{t, t.Key == p.Pattern, piece.Values{}}
	for _, set := range t.Settings {
		ch.Set[set.Key] = set.Default
		if v, given := p.Settings[set.Key]; given && ch.On {
			ch.Set[set.Key] = v
		}
	}
	return ch
}

// meetsMost is how many parts are named that one touches.
const meetsMost = 3

// meets names the parts that a part touches along the longest borders.
func meets(pc *plan.Piece, part int) string {
	var at []int
	for j, b := range pc.Borders[part] {
		if b > 0 {
			at = append(at, j)
		}
	}
	slices.SortStableFunc(at, func(a, b int) int { return cmp.Compare(pc.Borders[part][b], pc.Borders[part][a]) })
	var names []string
	for _, j := range at[:min(len(at), meetsMost)] {
		names = append(names, pc.Parts[j].Name)
	}
	return strings.Join(names, ", ")
}

// taught are the kinds of notes that say why a piece works, in the order in which they are told.
var taught = []string{"brief-focus-met", "focus", "carries", "bridge", "ties", "atface", "calm", "key"}

func (s pages) proportionStage(c *gin.Context, p *web.Page) (err error) {
	b := proportionBody{Most: stage.MostAway}
	if t, err := craft.Pattern(p.Plan.Pattern); err == nil {
		ch := choiceOf(p.Plan, t)
		b.Pattern = &ch
	}
	p.Sub = "Choose a piece to colour"
	if pc := p.Plan.Piece; pc == nil {
		b.Crafts, err = gallery(s.Desk, p)
	} else {
		b.ProportionView = stage.Proportion(p.Plan)
		p.Notes, p.Hidden, p.Mends = b.Notes, b.ProportionView.Hidden, mends(s.Desk, p)
		p.Explain(taught...)
		b.Size = piece.SizeWords(pc.Piece)
		if size := pc.Box; size[0] > 0 {
			b.Size = fmt.Sprintf("%.0f × %.0f × %.0f mm", size[0], size[1], size[2])
		}
		if far := away(c); far > 0 {
			across := stage.Across(p.Plan, far)
			b.Far, b.Across, b.Look = far, &across, p.View.Cookie()
			p.Path += fmt.Sprintf("?far=%g", far)
		}
		b.finishes(c, p)
		of, _ := craft.Named(p.Plan.Craft)
		b.Threads, b.Divides = of.Together != nil, dividesOf(p.Plan)
		b.Under, b.Written, b.Bars = under(s.Desk, p.Plan), writtenOf(p.Plan), stage.Bars(p.Plan)
		p.Sub = fmt.Sprintf("%s, %s", pc.Name, b.Size)
		for i, part := range pc.Parts {
			row := partRow{Part: part, Share: pc.Shares[i], Lies: pc.Lies[i], Meets: meets(pc, i), Pinned: slices.Contains(p.Plan.Pinned, part.Key),
				Last: slices.Contains(p.Plan.Last, part.Key)}
			_, kind := piece.SplitOff(part.Key)
			row.Off = kind != ""
			for _, g := range p.Plan.Groups {
				row.Grouped = row.Grouped || slices.Contains(g, part.Key)
			}
			if at := b.Fill[i]; at >= 0 {
				row.Card = &p.Plan.Tray[at]
				if row.Card.Kind != "soap colourant" { // it is stirred in, not laid on
					row.Layers, _ = p.Plan.Layer(row.Card.Key)
				}
			}
			b.Parts = append(b.Parts, row)
		}
		parts, look := web.PieceParts(p.Plan, b.Fill), draw.PieceLook{Key: pc.Key}
		look.Stitch = stage.Stitch(p.Plan)
		s.Surfaces(c, p, parts, b.Fill)
		look.Have = web.Having(c)
		shown := pc.Piece
		if pc.Shown != nil && b.Made != nil { // large, and not to be pressed
			shown, look.Still = draw.Shown(shown), true
		}
		scene, err := draw.Piece(p.View.Light, shown, parts, look)
		if err != nil {
			return err
		}
		if len(pc.Unders) > 0 {
			scene = draw.Traced(p.View.Light, pc.Piece, parts, web.Shines(p, b.Fill), web.UnderPictures(p, pc.Piece))
		}
		if b.Far > 0 {
			scene = draw.Afar(scene, pc.Piece, fmt.Sprintf("/plans/%d/across.png?far=%g&revision=%d&look=%s", p.Plan.ID, b.Far, p.Plan.Revision,
				b.Look))
			scene.Label = fmt.Sprintf("%s as it is seen from %g m", pc.Name, b.Far)
		}
		b.Picture = &scene
		if p.Made == "" { // the picture that is turned knows no finishes
			b.Solid = solidOf(p, b.Fill)
		}
		var bat []draw.Batten
		for _, t := range p.Plan.Tray {
			if t.Share > 0 {
				bat = append(bat, draw.Batten{Key: t.Key, Name: t.Name, Share: t.Share, Lab: t.Colour})
			}
		}
		b.Battens = draw.Battens(p.View.Light, bat)
		if b.Ribbon, err = s.Ribbon(c, p); err != nil {
			return err
		}
	}
	p.Body = b
	return err
}

// finishes are the finishes that the piece can be looked at in, without a change of its cards.
func (b *proportionBody) finishes(c *gin.Context, p *web.Page) {
	made := c.Query("made")
	if c.Query("flat") != "" {
		made = web.Flat
	}
	b.Finishes = []web.Choice{{Key: "", Name: "its own finishes"}, {Key: web.Flat, Name: "flat colour"}}
	for _, f := range material.Finishes() {
		b.Finishes = append(b.Finishes, web.Choice{Key: f, Name: f})
	}
	for i := range b.Finishes {
		if f := &b.Finishes[i]; f.Key == made && made != "" {
			f.On, p.Made = true, made
			p.Path += map[bool]string{true: "&", false: "?"}[b.Far > 0] + "made=" + made
			b.Made = stage.MadeIn(p.Plan, made)
		}
	}
}

// LayerCounts are the numbers of layers that a part can take a card in.
func (b proportionBody) LayerCounts() []int {
	var out []int
	for n := 1; n <= shelf.MostLayers; n++ {
		out = append(out, n)
	}
	return out
}
