package studio

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"

	"lampfern/core/balance"
	"lampfern/core/card"
	"lampfern/core/colour"
	"lampfern/core/material"
	"lampfern/core/wheel"
)

// Bounds of the deck.
const (
	FewestLaid = 2
	MostLaid   = 6
	MostFlags  = 1000
	triesShown = 8 // candidates for a place
)

// Drawer is a family's cards.
type Drawer struct {
	Family colour.FamilyName
	Count  int
}

// Drawers lists the families in filing order with how many cards each has.
func (sh *Shelf) Drawers() []Drawer {
	count := map[colour.FamilyName]int{}
	for _, c := range sh.Cards {
		count[c.Family]++
	}
	var out []Drawer
	for _, f := range colour.Families() {
		out = append(out, Drawer{f, count[f]})
	}
	return out
}

// Drawer is the cards of a family, or all when it is empty, by value or by hue
// on the painters' wheel.
func (sh *Shelf) Drawer(family string, byHue bool) []*Card {
	var out []*Card
	for _, c := range sh.Cards {
		if family == "" || string(c.Family) == family {
			out = append(out, c)
		}
	}
	if byHue {
		slices.SortStableFunc(out, func(a, b *Card) int {
			at := func(c *Card) float64 {
				if c.Neutral {
					return wheel.Places
				}
				return c.Place(wheel.Pigment)
			}
			return cmp.Compare(at(a), at(b))
		})
	}
	return out
}

// Flags reports whether a material's card is flagged to be printed.
func (p *Plan) Flags(id uint) bool { return slices.Contains(p.Flagged, id) }

// ToPrint are the materials flagged to be printed, in filing order.
func (p *Plan) ToPrint() []*Card {
	var out []*Card
	for _, c := range p.Shelf.Cards {
		if p.Flags(c.ID) {
			out = append(out, c)
		}
	}
	return out
}

// LaidCard is one card laid edge to edge.
type LaidCard struct {
	*Card
	Token string
	Share float64 // of the piece, 0 when it is not placed
	Wide  float64 // of the row, by share or all the same
}

// Try is a material that could take the place of a laid card.
type Try struct {
	*Card
	Holds []string // names of the other laid cards whose colours it holds
	Apart float64  // ΔE00 from the card it would take the place of
}

// LaidView is cards laid edge to edge and what they do to one another.
type LaidView struct {
	Cards            []LaidCard
	Pairs            []string // each card beside the one before it, in words
	Notes            []balance.Note
	Warm, Cool, Grey float64
	Trying           int // the place that others are tried in, −1 for none
	Tries            []Try
}

// Lay works out the cards that are laid, or, when none were chosen, the first of
// the tray. trying is the token of the place that others are tried in.
func (p *Plan) Lay(trying string) LaidView {
	v := LaidView{Trying: -1}
	tokens := p.Laid
	if len(tokens) == 0 {
		for _, t := range p.Tray[:min(len(p.Tray), MostLaid)] {
			tokens = append(tokens, TrayToken(t))
		}
	}
	share := map[string]float64{}
	for _, t := range p.Tray {
		share[TrayToken(t)] = t.Share
	}
	total := 0.0
	for _, token := range tokens {
		c, err := p.dealt(token)
		if err != nil {
			continue // taken off the shelf since
		}
		total += share[token]
		v.Cards = append(v.Cards, LaidCard{Card: c, Token: token, Share: share[token]})
	}
	var labs []colour.Lab
	var shares []float64
	for i := range v.Cards {
		k := &v.Cards[i]
		k.Wide = 1 / float64(len(v.Cards))
		if p.LaidByShare && total > 0 {
			const least = 0.03 // a card that is not placed is still seen
			k.Wide = max(least, k.Share/total)
			shares = append(shares, k.Wide)
		}
		if k.Token == trying {
			v.Trying = i
		}
		labs = append(labs, k.Colour)
	}
	v.read(p, labs, shares)
	if v.Trying >= 0 {
		v.Tries = p.tries(v)
	}
	return v
}

func (v *LaidView) read(p *Plan, labs []colour.Lab, shares []float64) {
	for i := 1; i < len(v.Cards); i++ {
		v.Pairs = append(v.Pairs, colour.Beside(labs[i], labs[i-1]).Words())
	}
	if len(labs) < FewestLaid {
		return
	}
	add := func(id string, s balance.Severity, about, words string, args ...any) {
		v.Notes = append(v.Notes, balance.Note{ID: id, Severity: s, About: about, Words: fmt.Sprintf(words, args...), Aside: -1})
	}
	set := card.ReadSet(labs, shares)
	if i := set.Overpowering; i >= 0 {
		how := "times the chroma of the next"
		if shares != nil {
			how = "times the next in chroma and room"
		}
		add("laid-strong:"+v.Cards[i].Token, balance.Consider, v.Cards[i].Name, " overpowers the rest: %.0f %s.", set.Times, how)
	}
	for _, k := range set.Alike {
		add("laid-alike:"+v.Cards[k[0]].Token+":"+v.Cards[k[1]].Token, balance.Consider, v.Cards[k[0]].Name, " and %s are too alike, %.1f apart.",
			v.Cards[k[1]].Name, colour.DeltaE2000(labs[k[0]], labs[k[1]]))
	}
	if i := set.Odd; i >= 0 {
		add("laid-odd:"+v.Cards[i].Token, balance.Consider, v.Cards[i].Name, " is the odd one out, %.0f from the others on average.", set.OddApart)
	}
	if len(set.Alike) == 0 {
		add("laid-apart", balance.Fine, capitalFirst(countWord(len(labs))+" cards"), ", all at least %.0f apart.", set.Closest)
	}
	layout := emptyLayout(len(labs))
	for i := range labs {
		layout.Share[i] = v.Cards[i].Wide
	}
	t := balance.Temperatures(layout, labs, p.school())
	v.Warm, v.Cool, v.Grey = t[wheel.Warm], t[wheel.Cool], t[wheel.Neutral]
	v.Notes = p.visible(v.Notes)
}

func countWord(n int) string {
	if n < len(counts) {
		return counts[n]
	}
	return fmt.Sprint(n)
}

// faces are the colours a material shows.
func faces(m material.Material) []colour.Lab {
	var out []colour.Lab
	for _, b := range m.Bands() {
		out = append(out, b.Colour)
	}
	return out
}

// tries are the materials that hold most of the other laid cards' colours, the
// nearest first, and after them those nearest to the card tried.
func (p *Plan) tries(v LaidView) []Try {
	var others []colour.Lab
	var names []string
	laid := map[uint]bool{}
	for i, k := range v.Cards {
		laid[k.ID] = true
		if i != v.Trying {
			others, names = append(others, k.Colour), append(names, k.Name)
		}
	}
	now := v.Cards[v.Trying].Colour
	type found struct {
		Try
		near float64
	}
	var all []found
	for _, c := range p.Shelf.Cards {
		if laid[c.ID] {
			continue
		}
		held, near := card.Held(faces(c.Material), others)
		if len(held) < 2 {
			continue // one colour ties nothing together
		}
		t := Try{Card: c, Apart: colour.DeltaE2000(c.Colour, now)}
		for _, i := range held {
			t.Holds = append(t.Holds, names[i])
		}
		all = append(all, found{t, near})
	}
	slices.SortStableFunc(all, func(a, b found) int {
		return cmp.Or(cmp.Compare(len(b.Holds), len(a.Holds)), cmp.Compare(a.near, b.near))
	})
	var out []Try
	for _, f := range all[:min(len(all), triesShown/2)] {
		out = append(out, f.Try)
		laid[f.ID] = true
	}
	for _, n := range p.Shelf.NearestBut(now, triesShown-len(out), laid) {
		out = append(out, Try{Card: n.Card, Apart: n.Apart})
	}
	return out
}

// laidNow are the tokens laid, chosen or by default.
func (d *draft) laidNow() ([]string, *Plan, error) {
	p, err := d.studio.furnish(*d.plan, d.shelf)
	if err != nil {
		return nil, nil, err
	}
	var tokens []string
	for _, c := range p.Lay("").Cards {
		tokens = append(tokens, c.Token)
	}
	return tokens, p, nil
}

// LayDown lays a card beside those that are laid.
func LayDown(token string) Edit {
	return func(d *draft) (string, error) {
		laid, p, err := d.laidNow()
		if err != nil {
			return "", err
		}
		c, err := p.dealt(token)
		if err != nil {
			return "", refuse("That card is no longer on the shelf.")
		}
		if slices.Contains(laid, token) {
			return "", nil
		}
		if len(laid) >= MostLaid {
			return "", refuse("%d cards are laid: pick one up first.", MostLaid)
		}
		d.plan.Laid = append(laid, token)
		return "lay down " + c.Name, nil
	}
}

// PickUp takes a card from those that are laid.
func PickUp(token string) Edit {
	return func(d *draft) (string, error) {
		laid, _, err := d.laidNow()
		if err != nil {
			return "", err
		}
		at := slices.Index(laid, token)
		if at < 0 {
			return "", refuse("That card is not laid.")
		}
		if len(laid) <= 1 {
			return "", refuse("One card must stay: lay another down first.")
		}
		d.plan.Laid = slices.Delete(laid, at, at+1)
		return "pick up a card", nil
	}
}

// LayInstead lays a card in the place of one that is laid; the others are kept.
func LayInstead(old, token string) Edit {
	return func(d *draft) (string, error) {
		laid, p, err := d.laidNow()
		if err != nil {
			return "", err
		}
		at := slices.Index(laid, old)
		c, err := p.dealt(token)
		if at < 0 || err != nil || slices.Contains(laid, token) {
			return "", refuse("That card cannot be tried there any more.")
		}
		laid[at] = token
		d.plan.Laid = laid
		return "try " + c.Name, nil
	}
}

// LayTray lays the first cards of the tray, by share or all the same.
func LayTray() Edit {
	return func(d *draft) (string, error) {
		d.plan.Laid = nil
		return "lay the tray's cards", nil
	}
}

// LayByShare makes laid cards as wide as their share of the piece, or all the
// same.
func LayByShare(on bool) Edit {
	return func(d *draft) (string, error) {
		d.plan.LaidByShare = on
		if on {
			return "lay cards by share", nil
		}
		return "lay cards alike", nil
	}
}

// Flag flags a card to be printed, or takes the flag away.
func Flag(id uint, on bool) Edit {
	return func(d *draft) (string, error) {
		c, err := d.shelf.Card(id)
		if err != nil || c.Removed {
			return "", refuse("That material is no longer on the shelf.")
		}
		return flag(d, []*Card{c}, on, c.Name)
	}
}

// FlagDrawer flags every card of a family, or of the whole shelf.
func FlagDrawer(family string, on bool) Edit {
	return func(d *draft) (string, error) {
		name := family
		if name == "" {
			name = "the whole shelf"
		}
		return flag(d, d.shelf.Drawer(family, false), on, name)
	}
}

func flag(d *draft, cards []*Card, on bool, what string) (string, error) {
	now := map[uint]bool{}
	for _, id := range d.plan.Flagged {
		now[id] = true
	}
	for _, c := range cards {
		if on {
			now[c.ID] = true
		} else {
			delete(now, c.ID)
		}
	}
	if len(now) > MostFlags {
		return "", refuse("%d cards would be flagged: print %d at a time.", len(now), MostFlags)
	}
	d.plan.Flagged = nil
	for id := range now {
		d.plan.Flagged = append(d.plan.Flagged, id)
	}
	slices.Sort(d.plan.Flagged)
	if on {
		return "flag " + what, nil
	}
	return "take the flag off " + what, nil
}

// Repaint gives a material the colour that a painted card, or a field of a
// chart, came to, and says how far it is from what was thought. layer is 1 for
// the colour itself, 2 and more for so many layers of it.
func (s *Studio) Repaint(ctx context.Context, id uint, c colour.Lab, source string, uncertainty float64, layer int) (words string, err error) {
	sh, err := s.Shelf(ctx)
	if err != nil {
		return "", err
	}
	k, err := sh.Card(id)
	if err != nil || k.Removed {
		return "", refuse("That material is no longer on the shelf.")
	}
	m := k.Material
	before := m.Colour
	if layer > 1 {
		m.Further = slices.Clone(m.Further)
		layers := 1
		for i := range m.Further {
			if m.Further[i].Role != material.Layer {
				continue
			}
			if layers++; layers == layer {
				before = m.Further[i].Colour
				m.Further[i].Colour = c
			}
		}
		switch {
		case layers == layer-1:
			m.Further = append(m.Further, material.Further{Role: material.Layer, Colour: c})
		case layers < layer-1:
			return "", refuse("Enter %s's layers one after another: layer %d comes first.", k.Name, layers+1)
		}
	} else {
		m.Colour, m.Source, m.Uncertainty = c, source, uncertainty
	}
	if _, err := s.SaveMaterial(ctx, id, k.Revision, m); err != nil {
		return "", err
	}
	r := colour.Beside(c, before)
	told := strings.TrimSuffix(r.Words(), ".")
	if layer > 1 {
		return fmt.Sprintf("%s in %d layers: %s, beside what it was before.", k.Name, layer, told), nil
	}
	return fmt.Sprintf("%s came out %s, beside what it was before.", k.Name, told), nil
}
