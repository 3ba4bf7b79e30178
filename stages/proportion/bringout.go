package proportion

import (
	"fmt"
	"math"
	"slices"

	"lampfern/core/balance"
	"lampfern/core/colour"
	"lampfern/core/words"
	"lampfern/plan"
	"lampfern/shelf"
)

// BringOutView is the cards that could take one part that is left open, ranked by how far
// they let the focus lead.
type BringOutView struct {
	Part, Name string // the key of the part, and what it and those grouped with it are called
	Words      string // what is to lead, and who says so
	Cards      []BroughtOut
	Left       int // cards of other kinds, which are left out
}

// BroughtOut is one card tried on the open part.
type BroughtOut struct {
	*shelf.Card
	Key     int           // in the tray, 0 where it lies on the shelf alone
	Labs    []*colour.Lab // of the parts of the piece; nil for one without a card
	Words   string
	Outside string // why it lies outside the brief
	Now     bool   // the part has it now
}

// How many cards are shown, and how far apart they are at least, in ΔE00.
const (
	broughtShown = 12
	broughtApart = 6.0
)

// BringOut tries the cards that are offered to the plan on one part of the piece; the first
// part for an empty key.
func BringOut(k *plan.Desk, p *plan.Plan, part string) (*BringOutView, error) {
	if p.Piece == nil {
		return nil, words.Refuse("Choose a piece on Proportion first.")
	}
	at := max(0, p.Piece.Part(part))
	names, of := slots(p, nil)
	if part == "" { // the first that is seen
		at = max(0, slices.IndexFunc(of, func(slot int) bool { return slot >= 0 }))
	}
	if of[at] < 0 {
		return nil, words.Refuse("The %s is hidden by another part. Choose another part.", p.Piece.Parts[at].Name)
	}
	v := &BringOutView{Part: p.Piece.Parts[at].Key, Name: names[of[at]]}
	fill := p.Fill()
	now := fill[at]
	var filled []int
	for i := range fill {
		if of[i] == of[at] {
			fill[i] = len(p.Tray)
		}
		if fill[i] >= 0 && !slices.Contains(filled, fill[i]) {
			filled = append(filled, fill[i])
		}
	}
	if len(filled) < 3 {
		return nil, words.Refuse("Colour two other parts first. Then you can try cards on the %s.", v.Name)
	}
	layout := p.Piece.Layout().Merge(fill, len(p.Tray)+1)
	labs := append(p.Labs(), colour.Lab{L: 50})
	open := len(p.Tray)
	focus := leading(p, v, layout, labs, at)

	offers := p.Offers()
	v.Left = offers.Left
	cards := offers.Cards()
	var candidates []colour.Lab
	var same, keys []int
	for _, c := range cards {
		i := slices.IndexFunc(p.Tray, func(t plan.TrayCard) bool { return t.ID == c.ID })
		key := 0
		if i >= 0 {
			key = p.Tray[i].Key
			if layout.Share[i] == 0 {
				i = -1
			}
		}
		candidates, same, keys = append(candidates, c.Colour), append(same, i), append(keys, key)
	}
	key := fmt.Sprintf("proportion bring out %d %d %s %s %d", p.ID, p.Revision, v.Part, p.Shelf.Key(), len(cards))
	ranked := plan.Remember(k, key, func() []balance.Candidate { return balance.BringOut(layout, labs, open, focus, candidates, same) })
	for _, inside := range []bool{true, false} { // what the brief wants before the rest
		for _, r := range ranked {
			c := cards[r.Index]
			if len(v.Cards) == broughtShown {
				break
			}
			why := p.Outside(c)
			if at := slices.IndexFunc(p.Tray, func(t plan.TrayCard) bool { return t.Key == keys[r.Index] }); at >= 0 && !p.Tray[at].Movable() {
				continue
			}
			if c.Discontinued || (why == "") != inside || slices.ContainsFunc(v.Cards,
				func(b BroughtOut) bool { return colour.DeltaE2000(b.Colour, c.Colour) < broughtApart }) {
				continue
			}
			one := BroughtOut{Card: c, Key: keys[r.Index], Outside: why, Now: now >= 0 && p.Tray[now].ID == c.ID}
			for _, f := range fill {
				switch {
				case f == open:
					one.Labs = append(one.Labs, &c.Colour)
				case f >= 0:
					one.Labs = append(one.Labs, &p.Tray[f].Colour)
				default:
					one.Labs = append(one.Labs, nil)
				}
			}
			one.Words = broughtWords(p, r, focus, open, v.Name)
			if at == p.AtFace() {
				var face []string
				for _, f := range p.AgainstFace(c.Colour) {
					face = append(face, f.Words)
				}
				if len(face) > 0 {
					one.Words += " It " + words.All(face) + "."
				}
			}
			v.Cards = append(v.Cards, one)
		}
	}
	return v, nil
}

// leading is the colour that is to lead: what the brief wants as the focus, else what leads
// among the other parts now. It says so in the view.
func leading(p *plan.Plan, v *BringOutView, layout balance.Layout, labs []colour.Lab, at int) int {
	open := len(labs) - 1
	var pulls []PullView
	for i, t := range p.Tray {
		if layout.Share[i] > 0 {
			t.Parts = nil
			for j, f := range p.Fill() {
				if f == i && !slices.Contains([]string{v.Part}, p.Piece.Parts[j].Key) {
					t.Parts = append(t.Parts, p.Piece.Parts[j].Name)
				}
			}
			pulls = append(pulls, PullView{TrayCard: t, Index: i})
		}
	}
	own := []PullView{{TrayCard: plan.TrayCard{Card: &shelf.Card{}, Parts: []string{p.Piece.Parts[at].Name}}, Index: open}}
	own[0].Name = p.Piece.Parts[at].Name
	if now := p.Fill()[at]; now >= 0 { // the card that is meant may be the one that makes room
		own[0].Parts = append(own[0].Parts, p.Tray[now].Name)
	}
	if named(own, p.Asked().Focus) >= 0 {
		v.Words = fmt.Sprintf("The focal point is the %s, as you asked. Best for it first; cards that hide no edge before others.", v.Name)
		return open
	}
	if i := named(pulls, p.Asked().Focus); i >= 0 {
		v.Words = fmt.Sprintf("The focal point is %s, as you asked. Best for it first; cards that hide no edge before others.", pulls[i].Name)
		return pulls[i].Index
	}
	rest := layout
	rest.Share = slices.Clone(layout.Share)
	rest.Share[open] = 0
	first := balance.FirstLook(rest, labs)[0].Part
	v.Words = fmt.Sprintf("The focal point is %s. Best for it first; cards that hide no edge before others. You can name another focal point in the Brief.",
		p.Tray[first].Name)
	return first
}

// broughtWords say what a card does on the open part.
func broughtWords(p *plan.Plan, r balance.Candidate, focus, open int, part string) string {
	who := "The " + part
	if focus != open {
		who = p.Tray[focus].Name
	}
	many := func(one, more string) string {
		if focus != open {
			return one
		}
		return words.Agree(part, one, more)
	}
	said := fmt.Sprintf("%s %s out", who, many("stands", "stand"))
	switch {
	case math.Abs(r.Times-1) < .005: // as far as the figures below tell
		said = fmt.Sprintf("%s %s with another part", who, many("competes", "compete"))
	case r.Times < 1:
		said = fmt.Sprintf("%s %s not stand out: another part is stronger", who, many("does", "do"))
	case r.Times < balance.FocusClear:
		said = fmt.Sprintf("%s barely %s out", who, many("stands", "stand"))
	}
	if focus != open && r.Strong < balance.RecedesBelow {
		said += fmt.Sprintf("; the %s %s", part, words.Agree(part, "recedes", "recede"))
	}
	said += "."
	switch {
	case r.Lost == 1:
		said += " One edge disappears."
	case r.Lost > 1:
		said += fmt.Sprintf(" %s edges disappear.", words.Capital(words.Count(r.Lost)))
	}
	return said
}

// TakeOut gives the open part a card: one of the shelf is pulled first.
type TakeOut struct {
	Part     string `form:"part"`
	Material uint   `form:"material"`
}

func (e TakeOut) Do(d *plan.Draft) (string, error) {
	p, err := d.ChosenPiece()
	if err != nil {
		return "", err
	}
	if p.Part(e.Part) < 0 {
		return "", words.Refuse("This piece has no such part.")
	}
	c, err := d.Shelf.Card(e.Material)
	if err != nil || c.Removed {
		return "", words.Refuse("That material is no longer on the shelf.")
	}
	find := func() int {
		for _, o := range d.Plan.Entries {
			if o.MaterialID != nil && *o.MaterialID == e.Material {
				return o.Key
			}
		}
		return 0
	}
	if find() == 0 {
		if _, err := (plan.Pull{Material: e.Material}).Do(d); err != nil {
			return "", err
		}
	}
	return plan.FillPart{Part: e.Part, Key: find()}.Do(d)
}
