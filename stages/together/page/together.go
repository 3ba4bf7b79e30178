package page

import (
	"context"
	"fmt"
	"html/template"
	"math"
	"net/url"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"lampfern/core/colour"
	"lampfern/core/words"
	"lampfern/draw"
	"lampfern/plan"
	stage "lampfern/stages/together"
	"lampfern/web"
)

// fewerWithin bounds a search for fewer colours; the best found by then are shown.
const fewerWithin = 2 * time.Second

type togetherBody struct {
	Prints template.HTML // of the pieces beside the one that is worked on
	stage.View
	Members []member
	Figures []figure
	Scale   string // what one of the bars below the pieces measures
	Bar     float64
	Pairs   []stage.Pair
	Hold    int
	Threes  [2]int // outfits of three that hold, of all
	Outfit  *stage.Outfit
	Chosen  map[int]bool // pieces that are read together, by key
	Kept    []kept
	Beside  bool // the colourways lie side by side
	Serve   string
	Least   string // the card that would be missed least
	Given   []stage.Beside
	Fewer   []fewer
	Asked   bool // fewer colours were asked for
	Early   bool // and the search was ended before it had looked at everything
	InUse   int  // cards
}

// Holding names the pairs that hold, where they are many.
func (b togetherBody) Holding() string {
	var out []string
	for _, pair := range b.Pairs {
		if pair.Holds {
			out = append(out, pair.A+" with "+pair.B)
		}
	}
	return strings.Join(out, "; ")
}

// tileFull is how much of a tile the pieces of the set take side by side, in per cent; they grow by
// half at most.
const tileFull = 90

// Tile is how wide a piece is in a tile of the set, in per cent of it: larger than on the bench
// where all have room for it, all at one scale.
func (b togetherBody) Tile(f figure) float64 {
	whole := 0.0
	for _, f := range b.Figures {
		whole += f.Wide
	}
	return f.Wide * min(max(tileFull/whole, 1), 1.5)
}

// KeptNow reports whether the set is coloured as one of its colourways.
func (b togetherBody) KeptNow() bool {
	return slices.ContainsFunc(b.Kept, func(k kept) bool { return k.Now })
}

// ToFix are the cards that are neither there already nor outside the scheme, so far.
func (b togetherBody) ToFix() []stage.Row {
	return slices.DeleteFunc(slices.Clone(b.Rows), func(r stage.Row) bool { return !r.Movable() })
}

// Outside are the cards outside the scheme.
func (b togetherBody) Outside() []stage.Row {
	return slices.DeleteFunc(slices.Clone(b.Rows), func(r stage.Row) bool { return !r.Apart })
}

// member is a piece in the list of pieces.
type member struct {
	plan.Member
	At   int
	Here bool
}

// figure is a piece as it is drawn beside the others.
type figure struct {
	Key    int
	Name   string
	Made   int
	Here   bool
	ID     string
	Shape  template.HTML // empty where the page has it already
	Drawn  string        // the key of its outlines
	Box    string
	Paints template.CSS
	Wide   float64 // per cent of the bench
}

// kept is a colourway of the set, each piece in its colours.
type kept struct {
	plan.SetColourway
	Paints []template.CSS
	Words  string // what leads, and the moods it meets
	Form   web.ColourwayForm
}

// fewer is the set in fewer colours, each piece in its colours.
type fewer struct {
	stage.Fewer
	Paints []template.CSS
}

// Room on the bench, in units of it, and the largest share of it that the pieces take.
const (
	benchWide, benchHigh = 1000.0, 560.0
	benchTaken           = 0.5
)

// benchScale is how many units of the bench a mm takes, so that all pieces fit side by side.
func benchScale(pieces []plan.Whole) float64 {
	k, area := math.Inf(1), 0.0
	for _, w := range pieces {
		pc := w.Plan.Piece
		k = min(k, 0.48*benchWide/pc.Width, 0.72*benchHigh/pc.Height)
		area += pc.Width * pc.Height
	}
	return min(k, math.Sqrt(benchTaken*benchWide*benchHigh/area))
}

// rule is a round length that is about a tenth of the bench, in words and in per cent of it.
func rule(k float64) (said string, wide float64) {
	mm := benchWide / 8 / k
	step := math.Pow(10, math.Floor(math.Log10(mm)))
	for _, m := range []float64{5, 2, 1} {
		if m*step <= mm {
			mm = m * step
			break
		}
	}
	said = fmt.Sprintf("%g mm", mm)
	if mm >= 10 {
		said = fmt.Sprintf("%g cm", mm/10)
	}
	return said, 100 * mm * k / benchWide
}

// shape is a piece as a symbol of the page, and its view box.
type shape struct {
	svg, box string
}

// draw makes the symbol of a piece, unless the page has it.
func (f *figure) draw(c *gin.Context, k *plan.Desk, p *web.Page, w plan.Whole) error {
	finishes := p.HasFinishes()
	f.Drawn = fmt.Sprintf("%d-%s-%s-%t", p.Plan.ID, f.ID, w.Plan.Piece.Key, finishes)
	made, err := plan.Recall(k, "together shape "+f.Drawn, func() (out shape, err error) {
		out.svg, out.box, err = draw.PieceShape(w.Plan.Piece.Piece, f.ID, web.UnderPictures(p, w.Plan.Piece.Piece), finishes)
		return out, err
	})
	f.Box = made.box
	if !web.Has(c, f.Drawn) {
		f.Shape = template.HTML(made.svg)
	}
	return err
}

func (s pages) together(c *gin.Context, p *web.Page) error {
	p.Sub = "All pieces to scale. Select one to edit"
	v, err := stage.Look(s.Desk, p.Plan)
	if err != nil {
		return err
	}
	p.Notes = v.Notes
	p.Plan.ShareOver(v.Pieces) // as the tray shows them here
	b := togetherBody{View: v, Asked: c.Query("fewer") != ""}
	for i, m := range p.Plan.Members() {
		b.Members = append(b.Members, member{m, i, m.Held == nil})
	}
	if len(v.Pieces) > 0 {
		k := benchScale(v.Pieces)
		b.Scale, b.Bar = rule(k)
		for _, w := range v.Pieces {
			f := figure{Key: w.Key, Name: w.Name, Made: w.Made(), Here: w.Held == nil, ID: fmt.Sprintf("piece-shape-%d", w.Key),
				Wide: 100 * w.Plan.Piece.Width * k / benchWide}
			of := pageOf(p, w)
			if w.Held != nil { // those of the piece that is worked on are on the page
				b.Prints += web.Defs(s.SmallPrints(c, of, false))
			}
			if err := f.draw(c, s.Desk, of, w); err != nil {
				return err
			}
			f.Paints = paints(p, w, w.Plan.Fill())
			b.Figures = append(b.Figures, f)
		}
	}
	if len(v.Pieces) > 1 {
		b.Pairs, b.Hold = stage.Pairs(p.Plan, v.Pieces)
		b.Threes[0], b.Threes[1] = stage.Threes(b.Pairs, len(v.Pieces))
		b.outfit(c, p, v.Pieces)
		b.Serve = stage.Serve(v.Rows, len(v.Pieces))
	}
	if len(v.Pieces) > 0 {
		b.Given = stage.Given(p.Plan, v.Pieces)
		ctx, cancel := context.WithTimeout(c.Request.Context(), fewerWithin)
		defer cancel()
		if few, ok := stage.OneLess(ctx, p.Plan, v.Pieces); ok {
			b.Least = stage.LeastMissed(few)
		}
	}
	if err := b.keeps(c, s.Desk, p, v.Pieces); err != nil {
		return err
	}
	if b.Beside = c.Query("beside") != "" && len(b.Kept) > 0; b.Beside {
		p.Path += "?beside=1"
		p.Sub = "The colourways of the set, side by side"
	}
	b.InUse = stage.InUse(v.Pieces)
	if b.Asked {
		p.Path += "?fewer=1"
		p.Sub = "The set with fewer cards, and what changes"
		ctx, cancel := context.WithTimeout(c.Request.Context(), fewerWithin)
		defer cancel()
		for _, f := range stage.InFewer(ctx, p.Plan, v.Pieces) {
			one := fewer{Fewer: f}
			for i, w := range v.Pieces {
				one.Paints = append(one.Paints, paints(p, w, f.Fill[i]))
			}
			b.Fewer = append(b.Fewer, one)
		}
		b.Early = ctx.Err() != nil
	}
	p.Body = b
	return nil
}

// mostWorn is how many pieces are read together at once.
const mostWorn = 3

// outfit reads the pieces that are asked for together.
func (b *togetherBody) outfit(c *gin.Context, p *web.Page, pieces []plan.Whole) {
	b.Chosen = map[int]bool{}
	var worn []plan.Whole
	q := url.Values{}
	for _, text := range c.QueryArray("with") {
		key, err := strconv.Atoi(text)
		at := slices.IndexFunc(pieces, func(w plan.Whole) bool { return w.Key == key })
		if err != nil || at < 0 || b.Chosen[key] || len(worn) == mostWorn {
			continue
		}
		b.Chosen[key], worn = true, append(worn, pieces[at])
		q.Add("with", text)
	}
	if len(worn) > 1 {
		o := stage.OutfitOf(p.Plan, worn)
		b.Outfit = &o
		p.Path += "?" + q.Encode()
	}
}

// keeps shows the colourways of the set.
func (b *togetherBody) keeps(c *gin.Context, k *plan.Desk, p *web.Page, pieces []plan.Whole) (err error) {
	moods, err := plan.Moods(c.Request.Context(), k)
	if err != nil {
		return err
	}
	for _, v := range p.Plan.SetColourways(pieces) {
		one := kept{SetColourway: v, Words: p.Plan.Reads(v.Tray, v.Layout), Form: web.FormOf(p, v.Colourway, moods)}
		if said := p.Plan.MoodWords(v.Tray, v.Layout, v.Mood, moods); said != "" {
			one.Words += " " + said
		}
		for i, w := range pieces {
			of := *w.Plan
			of.Tray = v.TrayOn(w)
			w.Plan = &of
			one.Paints = append(one.Paints, paints(p, w, v.Fill[i]))
		}
		b.Kept = append(b.Kept, one)
	}
	return nil
}

// bare is how a part without a card is seen.
const bare = "color-mix(in srgb,currentColor 16%,transparent)"

// paints are the colours of a piece's parts by the tray's cards that fill them.
func paints(p *web.Page, w plan.Whole, fill []int) template.CSS {
	labs := make([]*colour.Lab, len(fill))
	for i, at := range fill {
		if at >= 0 {
			labs[i] = &w.Plan.Tray[at].Colour
		}
	}
	return template.CSS(strings.ReplaceAll(string(pageOf(p, w).Paints(labs)), "transparent", bare))
}

// pageOf is the page as one of the pieces of a set has it.
func pageOf(p *web.Page, w plan.Whole) *web.Page {
	of := *p
	of.Plan = w.Plan
	return &of
}

// inFewer is the piece in fewer of its cards, for the ribbon; of a set the piece that is worked on.
func (s pages) inFewer(c *gin.Context, p *web.Page) (out []web.RibbonPiece, err error) {
	pieces, err := s.Desk.SharesOverSet(p.Plan)
	if err != nil {
		return nil, err
	}
	at := slices.IndexFunc(pieces, func(w plan.Whole) bool { return w.Held == nil })
	key := fmt.Sprintf("together fewer %d %d %s", p.Plan.ID, p.Plan.Revision, p.Plan.Shelf.Key())
	all, err := plan.Recall(s.Desk, key, func() ([]stage.Fewer, error) {
		ctx, cancel := context.WithTimeout(c.Request.Context(), ribbonWithin)
		defer cancel()
		return stage.InFewer(ctx, p.Plan, pieces), nil
	})
	if err != nil || at < 0 {
		return nil, err
	}
	for _, f := range all {
		labs := make([]*colour.Lab, len(f.Fill[at]))
		for i, card := range f.Fill[at] {
			if card >= 0 {
				labs[i] = &p.Plan.Tray[card].Colour
			}
		}
		out = append(out, web.RibbonPiece{Labs: labs, Words: fmt.Sprintf("Without %s", words.All(f.Gone)), Use: fmt.Sprintf("do=take-fewer&n=%d", f.N)})
	}
	return out, nil
}

// ribbonWithin bounds the search for the ribbon.
const ribbonWithin = 200 * time.Millisecond
