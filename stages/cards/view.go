package cards

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"lampfern/core/balance"
	"lampfern/core/card"
	"lampfern/core/colour"
	"lampfern/core/material"
	"lampfern/core/note"
	"lampfern/core/wheel"
	"lampfern/core/words"
	"lampfern/plan"
	"lampfern/shelf"
)

// Bounds of the deck.
const (
	FewestLaid = 2
	MostLaid   = 6
	MostFlags  = 1000
	triesShown = 8 // candidates for a place
)

// Flags reports whether a material's card is flagged to be printed.
func Flags(p *plan.Plan, id uint) bool { return slices.Contains(Of(p).Flagged, id) }

// ToPrint are the materials flagged to be printed, in filing order.
func ToPrint(p *plan.Plan) []*shelf.Card {
	var out []*shelf.Card
	for _, c := range p.Shelf.Cards {
		if Flags(p, c.ID) {
			out = append(out, c)
		}
	}
	return out
}

// LaidCard is one card laid edge to edge.
type LaidCard struct {
	*shelf.Card
	Token string
	Share float64 // of the piece, 0 when it is not placed
	Wide  float64 // of the row, by share or all the same
}

// Try is a material that could take the place of a laid card.
type Try struct {
	*shelf.Card
	Holds []string // names of the other laid cards whose colours it holds
	Apart float64  // ΔE00 from the card it would take the place of
}

// LaidView is cards laid edge to edge and what they do to one another.
type LaidView struct {
	Cards            []LaidCard
	Notes            []note.Note
	Warm, Cool, Grey float64
	Trying           int // the place that others are tried in, −1 for none
	Tries            []Try
}

// Lay works out the cards that are laid, or, when none were chosen, the first of
// the tray. trying is the token of the place that others are tried in.
func Lay(p *plan.Plan, trying string) LaidView {
	v := LaidView{Trying: -1}
	tokens := Of(p).Laid
	if len(tokens) == 0 {
		for _, t := range p.Tray[:min(len(p.Tray), MostLaid)] {
			tokens = append(tokens, plan.TrayToken(t))
		}
	}
	share := map[string]float64{}
	for _, t := range p.Tray {
		share[plan.TrayToken(t)] = t.Share
	}
	total := 0.0
	for _, token := range tokens {
		c, err := p.Dealt(token)
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
		if Of(p).LaidByShare && total > 0 {
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
		v.Tries = tries(p, v)
	}
	return v
}

func (v *LaidView) read(p *plan.Plan, labs []colour.Lab, shares []float64) {
	if len(labs) < FewestLaid {
		return
	}
	add := func(id string, g note.Grade, about, words string, args ...any) {
		v.Notes = append(v.Notes, note.Note{ID: id, Grade: g, About: about, Words: fmt.Sprintf(words, args...), Aside: -1})
	}
	set := card.ReadSet(labs, shares)
	if i := set.Overpowering; i >= 0 {
		how := ""
		if shares != nil {
			how = " and as much of it is seen"
		}
		add("laid-strong:"+v.Cards[i].Token, note.Consider, v.Cards[i].Name, " overpowers the rest; it is %s times as strong as the next%s.", words.Count(int(math.Round(set.Times))), how)
	}
	if n := len(set.Alike); n > 1 {
		var names, keys []string
		for i, c := range v.Cards {
			if slices.ContainsFunc(set.Alike, func(k [2]int) bool { return k[0] == i || k[1] == i }) {
				names, keys = append(names, c.Name), append(keys, c.Token)
			}
		}
		add(note.ID("laid-alike", keys...), note.Consider, words.All(names), " are hard to tell apart: %s differ by less than ΔE %g.",
			words.Plural(n, "pair", "pairs"), card.AlikeApart)
	} else if n == 1 {
		k := set.Alike[0]
		add(note.ID("laid-alike", note.Pair(v.Cards[k[0]].Token, v.Cards[k[1]].Token)), note.Consider, v.Cards[k[0]].Name,
			" and %s are hard to tell apart (ΔE %.0f).",
			v.Cards[k[1]].Name, colour.DeltaE2000(labs[k[0]], labs[k[1]]))
	}
	if i := set.Odd; i >= 0 {
		add("laid-odd:"+v.Cards[i].Token, note.Consider, v.Cards[i].Name, " is the odd one out.")
	}
	for i, a := range v.Cards {
		for _, b := range v.Cards[i+1:] {
			if said := shelf.UnderLamps(a.Card, b.Card); said != "" {
				add(note.ID("laid-lamps", note.Pair(a.Token, b.Token)), note.Consider, a.Name, " and %s %s", b.Name, said)
			}
		}
	}
	if len(set.Alike) == 0 {
		add("laid-apart", note.Fine, words.Every(len(labs)), " are clearly different (ΔE %.0f or more).", math.Floor(set.Closest))
	}
	layout := plan.EmptyLayout(len(labs))
	var cs []balance.Colour
	for i, c := range v.Cards {
		layout.Share[i] = c.Wide
		cs = append(cs, plan.ColourOf(c.Card))
	}
	t := balance.Temperatures(layout, cs, p.School())
	v.Warm, v.Cool, v.Grey = t[wheel.Warm], t[wheel.Cool], t[wheel.Neutral]
	v.Notes = p.Visible(v.Notes)
}

// faces are the colours a material shows.
func faces(m material.Material) []colour.Lab {
	var out []colour.Lab
	for _, b := range m.Portions() {
		out = append(out, b.Colour)
	}
	return out
}

// tries are the materials that hold most of the other laid cards' colours, the
// nearest first, and after them those nearest to the card tried.
func tries(p *plan.Plan, v LaidView) []Try {
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
	for _, c := range p.Offers().Cards() {
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
	for _, n := range p.Offers().NearestBut(now, triesShown-len(out), laid) {
		out = append(out, Try{Card: n.Card, Apart: n.Apart})
	}
	return out
}

// laidNow are the tokens laid, chosen or by default.
func laidNow(d *plan.Draft) ([]string, *plan.Plan, error) {
	p, err := d.View()
	if err != nil {
		return nil, nil, err
	}
	var tokens []string
	for _, c := range Lay(p, "").Cards {
		tokens = append(tokens, c.Token)
	}
	return tokens, p, nil
}

// LayDown lays a card beside those that are laid.
type LayDown struct {
	Token string `form:"token"`
}

func (e LayDown) Do(d *plan.Draft) (string, error) {
	laid, p, err := laidNow(d)
	if err != nil {
		return "", err
	}
	c, err := p.Dealt(e.Token)
	if err != nil {
		return "", words.Refuse("That card is no longer on the shelf.")
	}
	if slices.Contains(laid, e.Token) {
		return "", nil
	}
	if len(laid) >= MostLaid {
		return "", words.Refuse("%d cards are compared, the most there is room for. Remove one first.", MostLaid)
	}
	Of(d.Plan).Laid = append(laid, e.Token)
	return "lay down " + c.Name, nil
}

// PickUp takes a card from those that are laid.
type PickUp struct {
	Token string `form:"token"`
}

func (e PickUp) Do(d *plan.Draft) (string, error) {
	laid, _, err := laidNow(d)
	if err != nil {
		return "", err
	}
	at := slices.Index(laid, e.Token)
	if at < 0 {
		return "", words.Refuse("That card is not being compared.")
	}
	if len(laid) <= 1 {
		return "", words.Refuse("One card must stay. Add another first.")
	}
	Of(d.Plan).Laid = slices.Delete(laid, at, at+1)
	return "remove a card from the comparison", nil
}

// LayInstead lays a card in the place of one that is laid; the others are kept.
type LayInstead struct {
	Old   string `form:"old"`
	Token string `form:"token"`
}

func (e LayInstead) Do(d *plan.Draft) (string, error) {
	laid, p, err := laidNow(d)
	if err != nil {
		return "", err
	}
	at := slices.Index(laid, e.Old)
	c, err := p.Dealt(e.Token)
	if at < 0 || err != nil || slices.Contains(laid, e.Token) {
		return "", words.Refuse("That card cannot be tried there any more.")
	}
	laid[at] = e.Token
	Of(d.Plan).Laid = laid
	return "try " + c.Name, nil
}

// LayTray lays the first cards of the tray, by share or all the same.
type LayTray struct{}

func (LayTray) Do(d *plan.Draft) (string, error) {
	Of(d.Plan).Laid = nil
	return "compare the tray", nil
}

// LayByShare makes laid cards as wide as their share of the piece, or all the
// same.
type LayByShare struct {
	On bool `form:"on"`
}

func (e LayByShare) Do(d *plan.Draft) (string, error) {
	Of(d.Plan).LaidByShare = e.On
	if e.On {
		return "size cards by share", nil
	}
	return "show cards at equal size", nil
}

// Flag flags a card to be printed, or takes the flag away.
type Flag struct {
	Material uint `form:"material"`
	On       bool `form:"on"`
}

func (e Flag) Do(d *plan.Draft) (string, error) {
	c, err := d.Shelf.Card(e.Material)
	if err != nil || c.Removed {
		return "", words.Refuse("That material is no longer on the shelf.")
	}
	return flag(d, []*shelf.Card{c}, e.On, c.Name)
}

// FlagDrawer flags every card of a family, or of the whole shelf.
type FlagDrawer struct {
	Family string `form:"family"`
	On     bool   `form:"on"`
}

func (e FlagDrawer) Do(d *plan.Draft) (string, error) {
	name := e.Family
	if name == "" {
		name = "the whole shelf"
	}
	return flag(d, d.Plan.Offers().Shelf().Drawer(e.Family, false), e.On, name)
}

func flag(d *plan.Draft, cards []*shelf.Card, on bool, what string) (string, error) {
	now := map[uint]bool{}
	for _, id := range Of(d.Plan).Flagged {
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
		return "", words.Refuse("You chose %d cards. Print at most %d at a time.", len(now), MostFlags)
	}
	Of(d.Plan).Flagged = nil
	for id := range now {
		Of(d.Plan).Flagged = append(Of(d.Plan).Flagged, id)
	}
	slices.Sort(Of(d.Plan).Flagged)
	if on {
		return "flag " + what, nil
	}
	return "do not print " + what, nil
}
