package plan

import (
	"context"
	"fmt"
	"net/url"
	"slices"
	"strconv"
	"strings"

	"lampfern/core/balance"
	"lampfern/core/colour"
	"lampfern/core/form"
	"lampfern/core/words"
	"lampfern/shelf"
)

// Mixture is a colour that can be mixed from what is owned.
type Mixture struct {
	Words  string // the recipe
	Colour colour.Lab
	Apart  float64 // ΔE00 from the colour that was asked for
}

// Substitute is one card that gives way to another, or to a mix.
type Substitute struct {
	For    TrayCard
	By     *shelf.Card // nil where it is mixed
	Mix    string      // the recipe
	Colour colour.Lab
	Words  string // how it differs
}

// Competing are two cards of the tray that compete, and what would settle them: nothing where it can
// neither be seen nor had.
type Competing struct {
	Lesser, Other TrayCard
	Swaps         []Substitute
}

// What can be seen and had, in ΔE00, and from where on one change is large.
const (
	seenFrom    = 4.0
	hadWithin   = 6.0
	largeChange = 25.0
	nearLooked  = 24
)

// Judged is the layout that pairs of the tray are judged in: that of the piece where two cards or more are
// placed, or else one in which all cards have the same room and touch.
func (p *Plan) Judged() balance.Layout {
	placed := 0
	for _, t := range p.Tray {
		if t.Share > 0 {
			placed++
		}
	}
	if p.Piece != nil && placed > 1 {
		return p.Layout()
	}
	l := EmptyLayout(len(p.Tray))
	for i := range p.Tray {
		l.Share[i] = 1 / float64(len(p.Tray))
		for j := range p.Tray {
			if i != j {
				l.Border[i][j] = 1
			}
		}
	}
	return l
}

// Competing lists the pairs of the tray that compete, with what would settle them.
func (p *Plan) Competing() (out []Competing) {
	eye, l, bold := p.Eye(), p.Judged(), balance.Boldness(p.Labs())
	for _, pair := range balance.Pairs(l, p.Colours(), eye) {
		if pair.Relation != balance.Competes {
			continue
		}
		c := Competing{Lesser: p.Tray[pair.Lesser], Other: p.Tray[pair.Other]}
		same := l.Share[pair.Lesser] == l.Share[pair.Other] && bold[pair.Lesser] > bold[pair.Other]
		if same || !c.Lesser.Movable() { // the less bold gives way, and never what stays
			c.Lesser, c.Other = c.Other, c.Lesser
		}
		c.Swaps = p.settled(eye, c.Lesser, c.Other)
		out = append(out, c)
	}
	return out
}

// settled is what would settle two cards that compete: another card or a mix for the one, or, where that is
// a large change, a little of both.
func (p *Plan) settled(eye balance.Eye, lesser, other TrayCard) []Substitute {
	var alone []Substitute
	for _, order := range [][2]TrayCard{{lesser, other}, {other, lesser}} {
		if len(alone) > 0 || !order[0].Movable() {
			continue
		}
		for _, r := range eye.Remedies(order[0].Colour, order[1].Colour) {
			if s, ok := p.had(r, order[0], eye, order[1].Colour); ok {
				alone = []Substitute{s}
				break
			}
		}
	}
	if len(alone) > 0 && colour.DeltaE2000(alone[0].For.Colour, alone[0].Colour) <= largeChange {
		return alone
	}
	if lesser.Movable() && other.Movable() {
		if a, b, ok := eye.Both(lesser.Colour, other.Colour); ok {
			one, ok := p.had(a, lesser, eye, b.Colour)
			two, also := p.had(b, other, eye, one.Colour)
			if ok && also && (one.By == nil || one.By != two.By) {
				return []Substitute{one, two}
			}
		}
	}
	return alone
}

// had is a remedy as it can be had: the nearest card of the plan's kinds, or a mix of what is owned, that
// comes within reach of it, is another colour to the eye, and competes no more.
func (p *Plan) had(r balance.Remedy, of TrayCard, eye balance.Eye, beside colour.Lab) (Substitute, bool) {
	good := func(c colour.Lab) bool {
		if colour.DeltaE2000(c, r.Colour) > hadWithin || colour.DeltaE2000(c, of.Colour) < seenFrom {
			return false
		}
		now, _ := eye.Judge(c, beside, 0, 0, true)
		return now != balance.Competes && now != balance.Vibrates
	}
	for _, n := range p.Offers().Nearest(r.Colour, nearLooked, of.ID) {
		if good(n.Card.Colour) && !p.Holds(n.ID) && !n.Discontinued {
			return Substitute{For: of, By: n.Card, Colour: n.Card.Colour, Words: r.Words}, true
		}
	}
	if m, ok := p.Mixes(r.Colour); ok && good(m.Colour) {
		return Substitute{For: of, Mix: m.Words, Colour: m.Colour, Words: r.Words}, true
	}
	return Substitute{}, false
}

// Mixes is the best mix of what is owned toward a colour; not ok where the plan's kinds are not mixed.
func (p *Plan) Mixes(c colour.Lab) (Mixture, bool) {
	if p.mixes == nil {
		return Mixture{}, false
	}
	m, err := p.mixes(c)
	return m, err == nil && m.Words != ""
}

// mixer lets a plan ask the stage that mixes.
func (k *Desk) mixer(ctx context.Context, p *Plan) func(colour.Lab) (Mixture, error) {
	for _, s := range k.stages {
		if s.Mixes != nil {
			return func(c colour.Lab) (Mixture, error) {
				m, err := s.Mixes(ctx, k, p, c)
				if err != nil {
					return m, fmt.Errorf("mixing for the plan %d: %w", p.ID, err)
				}
				return m, nil
			}
		}
	}
	return nil
}

// Holds reports whether a material lies in the tray.
func (p *Plan) Holds(material uint) bool {
	return slices.ContainsFunc(p.Tray, func(t TrayCard) bool { return t.ID == material && material != 0 })
}

// Settle lets cards that compete give way, all in one step: each to a material, or to a colour that is
// to be mixed and waits on Mix.
type Settle struct {
	Swaps []string // the card's key and the material's number, 3=12, or the key and a mix, 3=52.1 20 -8
}

func (e *Settle) Read(f *form.Form) error {
	e.Swaps = f.Texts("swap")
	return nil
}

func (e *Settle) Do(d *Draft) (string, error) {
	if len(e.Swaps) == 0 {
		return "", words.Refuse("Choose the card to change.")
	}
	var said []string
	for _, swap := range e.Swaps {
		key, by, _ := strings.Cut(swap, "=")
		at, err := strconv.Atoi(key)
		if err != nil {
			return "", words.Refuse("That card cannot be read. Choose it again.")
		}
		if id, err := strconv.ParseUint(by, 10, 32); err == nil {
			label, err := Replace{Key: at, Material: uint(id)}.Do(d)
			if err != nil {
				return "", err
			}
			said = append(said, label)
			continue
		}
		label, err := d.mixInPlace(at, by)
		if err != nil {
			return "", err
		}
		said = append(said, label)
	}
	return words.List(said), nil
}

// mixInPlace puts a colour that is to be mixed in the place of a card.
func (d *Draft) mixInPlace(key int, lab string) (string, error) {
	i, old, err := d.Entry(key)
	if err != nil {
		return "", err
	}
	name := "Mix for " + old.Name
	if _, err = (Want{Lab: lab, Name: name}).Do(d); err != nil {
		return "", err
	}
	var c colour.Lab
	if _, err = fmt.Sscan(lab, &c.L, &c.A, &c.B); err != nil { // Want refused it else
		return "", words.Refuse("That colour cannot be read. Choose it again.")
	}
	if d.Plan.LeadID != nil && *d.Plan.LeadID == old.ID {
		d.Plan.LeadID, d.Plan.LeadKey = nil, key
	}
	was := d.Plan.Entries[i]
	if was.MaterialID != nil {
		d.Plan.layAside(*was.MaterialID)
	}
	e := FreeEntry(name, c)
	e.Key, e.Given, e.Apart = key, was.Given, was.Apart
	d.Plan.Entries[i] = e
	return fmt.Sprintf("replace %[2]s by %[1]s", name, old.Name), nil
}

// Press is the edit that puts swaps into the plan, as a page writes it.
func Press(swaps []Substitute) string {
	out := "do=settle"
	for _, s := range swaps {
		by := ""
		if s.By != nil {
			by = fmt.Sprint(s.By.ID)
		} else {
			by = fmt.Sprintf("%.2f %.2f %.2f", s.Colour.L, s.Colour.A, s.Colour.B)
		}
		out += "&swap=" + url.QueryEscape(fmt.Sprintf("%d=%s", s.For.Key, by))
	}
	return out
}

// Told says what swaps would do: "Moss (softer) for Fern".
func Told(swaps []Substitute) string {
	var said []string
	for _, s := range swaps {
		by := "a mix of " + s.Mix
		if s.By != nil {
			by = s.By.Name
		}
		said = append(said, fmt.Sprintf("%s for %s (%s)", by, s.For.Name, s.Words))
	}
	return strings.Join(said, "; ")
}
