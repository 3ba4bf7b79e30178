package page

import (
	"fmt"

	"github.com/gin-gonic/gin"

	"lampfern/core/balance"
	"lampfern/core/colour"
	"lampfern/core/note"
	"lampfern/core/words"
	"lampfern/plan"
	"lampfern/plan/work"
	"lampfern/shelf"
	stage "lampfern/stages/log"
	"lampfern/web"
)

type madeBody struct {
	*work.Section
	Halves []stage.Half
	Colour string // that a photo or the reader told
	How    string
	Photo  string // from which shares can be told
	Shares []share
	Bad    string
	Notes  []proved
	Needs  []used
	Sure   string // that it is of the plan's thing, or not
	Parts  []partRead
}

// partRead is a part as a photo of the whole thing shows it.
type partRead struct {
	Name, Key, Card, Words string
	Planned, Colour        colour.Lab
}

// share is how much of the thing a card takes in a photo.
type share struct {
	Name         string
	Key          int
	Wanted, Here float64
}

// proved is a note of the plan, and what the maker says of it.
type proved struct {
	note.Note
	Said, True bool
}

// used is a material that the piece takes, and what was really used of it.
type used struct {
	plan.Need
	Really string
}

// made shows what came out beside what was planned.
func (s pages) made(c *gin.Context, p *web.Page) error {
	sec := work.Of(p.Plan)
	b := madeBody{Section: sec, Halves: stage.Halves(p.Plan), Colour: c.Query("lab"), How: c.Query("how")}
	if b.How == "" {
		b.How = work.Hows()[2]
	}
	if p.Plan.Piece != nil {
		for _, n := range balance.Notes(p.Plan.Layout(), p.Plan.Colours()) {
			truth, said := sec.Proved[n.ID]
			if n.Grade != note.Fine || said {
				b.Notes = append(b.Notes, proved{n, said, truth})
			}
		}
	}
	if sup, err := s.Desk.Supply(c.Request.Context(), p.Plan); err == nil {
		for _, n := range sup.Needs {
			one := used{Need: n}
			for _, u := range sec.Used {
				if u.Name == n.Name {
					one.Really = words.Figure(u.Really).String()
				}
			}
			b.Needs = append(b.Needs, one)
		}
	} else if said, err := web.Problem(err); said == "" && err != nil {
		return err
	}
	if err := s.shares(c, p, &b); err != nil {
		return err
	}
	p.Sub = "Each card as planned and as it turned out"
	p.Body = b
	return nil
}

// shares reads how much of a box of a photo each card takes, by what came out where that
// was read.
func (s pages) shares(c *gin.Context, p *web.Page, b *madeBody) error {
	hash := c.Query("photo")
	whole, ok := shelf.BoxOf(c.Query("whole"))
	if hash == "" || !ok {
		return nil
	}
	photo, err := s.Desk.Photo(c.Request.Context(), hash)
	if err != nil {
		b.Bad = "That photo was deleted. Choose another."
		return nil
	}
	var colours []colour.Lab
	for _, t := range p.Plan.Tray {
		if t.Share == 0 {
			continue
		}
		at := t.Colour
		for _, m := range b.Made {
			if m.Card == t.Name {
				at = m.Colour
			}
		}
		colours = append(colours, at)
		b.Shares = append(b.Shares, share{Name: t.Name, Key: t.Key, Wanted: t.Share})
	}
	found, err := photo.Shares(shelf.LookOf(c.Request.URL.Query()), whole, colours)
	if b.Bad, err = web.Problem(err); err != nil || b.Bad != "" {
		b.Shares = nil
		return err
	}
	sum := 0.0
	for i, v := range found {
		b.Shares[i].Here = v
		sum += v
	}
	b.Photo = hash
	if sum < another {
		b.Sure = fmt.Sprintf("Only %s of the box matches the plan. It may show something else, or too much around it.",
			words.PerCent(sum))
	}
	for i := range b.Shares {
		if sum > 0 {
			b.Shares[i].Here /= sum
		}
	}
	return b.parts(c, p, photo, whole)
}

// gridSize is how many labels a drawing is laid over a photo in, along its longer side.
const gridSize = 260

// parts reads every part of the piece, whose drawing fills the box.
func (b *madeBody) parts(c *gin.Context, p *web.Page, photo *shelf.Photo, whole shelf.Box) error {
	pc := p.Plan.Piece
	if pc == nil {
		return nil
	}
	labels, w, h := pc.Grid(gridSize)
	read, err := photo.ReadParts(shelf.LookOf(c.Request.URL.Query()), whole, labels, w, h, len(pc.Parts))
	if said, bad := web.Problem(err); said != "" || bad != nil {
		return bad // the shares are told all the same
	}
	fill := p.Plan.Fill()
	for _, r := range read {
		if fill[r.Part] < 0 {
			continue
		}
		t := p.Plan.Tray[fill[r.Part]]
		b.Parts = append(b.Parts, partRead{pc.Parts[r.Part].Name, pc.Parts[r.Part].Key, t.Name, colour.Beside(r.Colour, t.Colour).Words(),
			t.Colour, r.Colour})
	}
	return nil
}

// another is the share of a box under which it hardly shows the plan's thing.
const another = 0.5
