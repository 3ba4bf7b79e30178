package log

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"lampfern/core/colour"
	"lampfern/core/form"
	"lampfern/core/words"
	"lampfern/plan"
	"lampfern/plan/work"
)

// KeepMade keeps what a card came out as.
type KeepMade struct {
	Card   string `form:"card"`
	Colour string `form:"colour"`
	How    string `form:"how,optional"`
	Washed bool   `form:"washed,optional"`
}

// ReadColour reads a colour as # and six digits, or as L*, a* and b*.
func ReadColour(text string) (c colour.Lab, err error) {
	if n, err := fmt.Sscan(strings.ReplaceAll(text, ",", " "), &c.L, &c.A, &c.B); n == 3 && err == nil && c.Check() == nil {
		return c, nil
	}
	rgb, err := colour.ParseHex(strings.TrimSpace(text))
	if err != nil {
		return c, words.Refuse("Write the colour as a code, or as L*, a* and b*, such as 48 -26 -4.")
	}
	return rgb.Lab(), nil
}

func (e KeepMade) Do(d *plan.Draft) (string, error) {
	c, err := ReadColour(e.Colour)
	if err != nil {
		return "", err
	}
	at := slices.IndexFunc(d.Plan.Tray, func(t plan.TrayCard) bool { return t.Name == e.Card })
	if at < 0 {
		return "", words.Refuse("The plan no longer has a card %q. Choose another.", e.Card)
	}
	if e.How == "" {
		e.How = work.Hows()[2]
	}
	t := d.Plan.Tray[at]
	one := work.Made{Card: t.Name, Colour: c, How: e.How, Washed: e.Washed, Asked: t.Colour, Source: t.Source}
	if t.ID == 0 {
		one.Source = ""
	}
	s := work.Of(d.Plan)
	s.Made = append(slices.DeleteFunc(slices.Clone(s.Made), one.Same), one)
	return "the finished colour of " + t.Name, nil
}

// KeepShares keeps how much of the finished thing each card takes, in per cent by the keys
// of the tray; none forgets them.
type KeepShares struct{ shares map[string]float64 }

func (e *KeepShares) Read(f *form.Form) error {
	e.shares = f.Numbers("share-")
	return nil
}

func (e KeepShares) Do(d *plan.Draft) (string, error) {
	kept := map[string]float64{}
	for _, t := range d.Plan.Tray {
		if v, there := e.shares[fmt.Sprint(t.Key)]; there {
			kept[t.Name] = v / 100
		}
	}
	work.Of(d.Plan).Shares = kept
	return "the share of each card", nil
}

// KeepParts keeps what parts came out as, in a photo of the whole thing: by the key of a
// part, L*, a* and b*.
type KeepParts struct {
	Washed bool `form:"washed,optional"`
	read   map[string]string
}

func (e *KeepParts) Read(f *form.Form) error {
	e.read = map[string]string{}
	for _, one := range f.Texts("part") {
		key, figures, _ := strings.Cut(one, "=")
		e.read[key] = figures
	}
	return nil
}

func (e KeepParts) Do(d *plan.Draft) (string, error) {
	p, err := d.View()
	if err != nil {
		return "", err
	}
	if p.Piece == nil || len(e.read) == 0 {
		return "", words.Refuse("No part was measured. Draw a box round the whole piece in its photo first.")
	}
	s := work.Of(d.Plan)
	kept := slices.Clone(s.Made)
	for i, at := range p.Fill() {
		part := p.Piece.Parts[i]
		figures, read := e.read[part.Key]
		if at < 0 || !read {
			continue
		}
		c, err := ReadColour(figures)
		if err != nil {
			return "", err
		}
		t := p.Tray[at]
		one := work.Made{Card: t.Name, Part: part.Name + ofPiece(p), Colour: c, How: work.Hows()[1], Washed: e.Washed, Asked: t.Colour,
			Source: t.Source}
		if t.ID == 0 {
			one.Source = ""
		}
		kept = append(slices.DeleteFunc(kept, one.Same), one)
	}
	s.Made = kept
	return "the finished colours of the parts", nil
}

// ofPiece says in a set of several which piece a part is of.
func ofPiece(p *plan.Plan) string {
	if len(p.Pieces) > 1 {
		for _, m := range p.Pieces {
			if m.Key == p.At {
				return " of the " + m.Name
			}
		}
	}
	return ""
}

// DropMade takes back what a card came out as, by its place in the list.
type DropMade struct {
	At int `form:"at"`
}

func (e DropMade) Do(d *plan.Draft) (string, error) {
	s := work.Of(d.Plan)
	if e.At < 0 || e.At >= len(s.Made) {
		return "", words.Refuse("That reading was deleted. Load the page again.")
	}
	name := s.Made[e.At].Card
	s.Made = slices.Delete(slices.Clone(s.Made), e.At, e.At+1)
	return "delete the finished colour of " + name, nil
}

// BringShot keeps a photo of the finished thing.
type BringShot struct{ File plan.File }

func (e *BringShot) Take(f plan.File) { e.File = f }

func (e BringShot) Do(d *plan.Draft) (string, error) {
	s := work.Of(d.Plan)
	if len(s.Shots) >= work.MostShots {
		return "", words.Refuse("There are %d photos of the finished piece, the most a plan can hold. Remove one first.", work.MostShots)
	}
	hash, err := d.Desk.AddPhoto(d.Ctx, e.File.Name, e.File.Data)
	if err != nil {
		return "", err
	}
	if slices.Contains(s.Shots, hash) {
		return "", words.Refuse("That photo is already in this plan.")
	}
	s.Shots = append(slices.Clone(s.Shots), hash)
	d.Say("Photo added. Open it to mark the white and draw a box on each part.")
	return "add a photo of the finished piece", nil
}

// DropShot takes a photo of the finished thing away; it stays under Photos.
type DropShot struct {
	Photo string `form:"photo"`
}

func (e DropShot) Do(d *plan.Draft) (string, error) {
	s := work.Of(d.Plan)
	s.Shots = slices.DeleteFunc(slices.Clone(s.Shots), func(h string) bool { return h == e.Photo })
	return "remove a photo of the finished piece", nil
}

// Half is a card as it was planned and as it came out.
type Half struct {
	work.Made
	At      int
	Planned colour.Lab
	Wanted  float64 // of the thing, as planned
	Apart   float64 // ΔE00
	Words   string
	Short   string // how far they are apart, alone
	Shares  string // planned beside there, where both are known
	Other   string // it is far from what was planned: perhaps another thing was read
}

// another is how far from its card a reading is rather of another thing, in ΔE00.
const another = 30.0

// Halves are the readings of a plan beside what was planned.
func Halves(p *plan.Plan) (out []Half) {
	s := work.Of(p)
	for i, m := range s.Made {
		h := Half{Made: m, At: i, Planned: m.Asked, Apart: colour.DeltaE2000(m.Colour, m.Asked)}
		for _, t := range p.Tray {
			if t.Name == m.Card {
				h.Wanted = t.Share
			}
		}
		h.Words = "identical to the eye."
		if h.Apart >= 1 {
			h.Words = colour.Beside(m.Colour, m.Asked).Words()
		}
		h.Short = h.Words
		if _, apart, long := strings.Cut(h.Words, " Apart "); long {
			h.Short = "apart " + apart
		}
		if there, told := s.Shares[m.Card]; told && h.Wanted > 0 {
			h.Shares = fmt.Sprintf("%s of it, planned %s", words.PerCent(there), words.PerCent(h.Wanted))
			if math.Abs(there-h.Wanted) < .01 {
				h.Shares = words.PerCent(h.Wanted) + " of it, as planned"
			}
		}
		if h.Apart > another {
			h.Other = "Very different from the card. Check the box."
		}
		out = append(out, h)
	}
	return out
}

// UsedUp keeps how much of a material was really used.
type UsedUp struct {
	Name   string  `form:"name"`
	Really float64 `form:"really,optional"` // 0 takes it back
}

func (e UsedUp) Do(d *plan.Draft) (string, error) {
	sup, err := d.Desk.Supply(d.Ctx, d.Plan)
	if err != nil {
		return "", err
	}
	s := work.Of(d.Plan)
	s.Used = slices.DeleteFunc(slices.Clone(s.Used), func(u work.Used) bool { return u.Name == e.Name })
	if e.Really == 0 {
		return "delete how much of " + e.Name + " was used", nil
	}
	at := slices.IndexFunc(sup.Needs, func(n plan.Need) bool { return n.Name == e.Name })
	if at < 0 || sup.Needs[at].Bare <= 0 {
		return "", words.Refuse("The piece uses no %s. Choose another.", e.Name)
	}
	n := sup.Needs[at]
	s.Used = append(s.Used, work.Used{Name: n.Name, Unit: n.Unit, Reckoned: n.Bare, Really: e.Really})
	return "how much of " + e.Name + " was used", nil
}
