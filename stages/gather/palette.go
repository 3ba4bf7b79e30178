package gather

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"lampfern/core/colour"
	"lampfern/core/material"
	"lampfern/core/words"
	"lampfern/plan"
	"lampfern/shelf"
)

// typedDoubt is how far a colour that is pasted may be off, in ΔE00.
const typedDoubt = 3.0

// Paste puts the colours of a text onto the scrap page: all of them, or none.
type Paste struct {
	Text string `form:"text"`
}

// mostPasted bounds the text, in bytes.
const mostPasted = 64 << 10

func (e Paste) Do(d *plan.Draft) (string, error) {
	if len(e.Text) > mostPasted {
		return "", words.Refuse("The text is longer than %d kB. Paste only the colours.", mostPasted>>10)
	}
	all, unread, err := colour.ParseList(e.Text)
	if err != nil {
		return "", words.Refuse("%s. Not added.", words.Capital(err.Error()))
	}
	if len(all)+len(unread) == 0 {
		return "", words.Refuse("We found no colours. Add a code such as #4b2346 after each name, or use plain names such as navy.")
	}
	if room := plan.MaxScraps - len(d.Plan.Scraps); len(all) > room {
		return "", words.Refuse("The text has %d colours and the scrap page has room for %d. Paste fewer, or delete some.", len(all), room)
	}
	for _, l := range all {
		if err := lay(d, l); err != nil {
			return "", err
		}
	}
	d.Plan.Unread = append(slices.Clone(d.Plan.Unread), unread...)
	var said []string
	if len(all) > 0 {
		said = append(said, fmt.Sprintf("%s to the scrap page, with the nearest cards you own.",
			words.Capital(words.Plural(len(all), "colour added", "colours added"))))
	}
	if plain := len(slices.DeleteFunc(all, func(l colour.Listed) bool { return !l.Plain })); plain > 0 {
		said = append(said, fmt.Sprintf("%s known by name only (accurate to about ΔE %g).", words.Capital(words.Plural(plain, "is", "are")), colour.PlainDoubt))
	}
	if len(unread) > 0 {
		said = append(said, words.Capital(words.Plural(len(unread), "line has", "lines have"))+" no colour. Choose one.")
	}
	d.Say(strings.Join(said, " "))
	return "paste " + words.Plural(len(all)+len(unread), "line", "lines"), nil
}

// lay puts a colour of a list onto the scrap page.
func lay(d *plan.Draft, l colour.Listed) error {
	key := 1
	for _, sc := range d.Plan.Scraps {
		key = max(key, sc.Key+1)
	}
	c := l.RGB.Lab()
	name := l.Name
	if name == "" {
		name = shelf.FreeName(colour.PlainName(c), "again", func(n string) bool {
			return slices.ContainsFunc(d.Plan.Scraps, func(s plan.Scrap) bool { return strings.EqualFold(s.Name, n) })
		})
	}
	m := plan.Pasted(l, name, d.Plan.MadeOf()[0])
	if p := m.Tidy(); p != nil {
		return words.Refuse("%s Not added.", p.Error())
	}
	d.Plan.Scraps = append(slices.Clone(d.Plan.Scraps), plan.Scrap{Key: key, Name: m.Name, L: c.L, A: c.A, B: c.B,
		Uncertainty: max(typedDoubt, m.Uncertainty), Amount: l.Amount, Count: l.Count, Unit: l.Unit})
	return nil
}

// ReadLine gives a line that was pasted its colour; without one the line is thrown out.
type ReadLine struct {
	Line   string `form:"line"`
	Colour string `form:"colour,optional"`
}

func (e ReadLine) Do(d *plan.Draft) (string, error) {
	at := slices.Index(d.Plan.Unread, e.Line)
	if at < 0 {
		return "", words.Refuse("That line has a colour now.")
	}
	d.Plan.Unread = slices.Delete(slices.Clone(d.Plan.Unread), at, at+1)
	if e.Colour == "" {
		return "delete " + e.Line, nil
	}
	all, _, err := colour.ParseList(e.Line + " " + e.Colour)
	if err != nil || len(all) != 1 {
		return "", words.Refuse("%q is not a colour. Write a code such as #4b2346.", e.Colour)
	}
	return "give " + e.Line + " a colour", lay(d, all[0])
}

// PullBest pulls the card nearest to each scrap, each card once.
type PullBest struct{}

func (PullBest) Do(d *plan.Draft) (string, error) {
	p, err := d.View()
	if err != nil {
		return "", err
	}
	taken := map[uint]bool{}
	var far []string
	n := 0
	for _, s := range ScrapPage(p) {
		if near := p.Offers().Nearest(s.Colour, 1, 0); len(near) > 0 && taken[near[0].ID] && near[0].Apart < sameScrap {
			continue // another scrap of the same colour has it
		}
		near := p.Offers().NearestBut(s.Colour, 1, taken)
		if len(near) == 0 {
			continue
		}
		if near[0].Apart >= strangers { // which stays free for another
			far = append(far, s.Name)
			continue
		}
		taken[near[0].ID] = true
		if p.Holds(near[0].ID) {
			continue
		}
		if _, err := (plan.Pull{Material: near[0].ID}).Do(d); err != nil {
			return "", err
		}
		n++
	}
	said := words.Capital(words.Plural(n, "card", "cards")) + " pulled."
	if len(far) > 0 {
		said += fmt.Sprintf(" You own nothing close enough for %s.", words.List(far))
	}
	d.Say(said)
	if n == 0 {
		return "", nil
	}
	return "add the nearest cards of all scraps", nil
}

// strangers are cards so far from a scrap that they do not stand for it, in ΔE00.
const strangers = 12.0

// sameScrap is how near a card must be to a scrap to be the very thing, in ΔE00.
const sameScrap = 3.0

// KeepFree puts every scrap into the tray as a free colour.
type KeepFree struct{}

func (KeepFree) Do(d *plan.Draft) (string, error) {
	n := 0
	for _, s := range d.Plan.Scraps {
		if slices.ContainsFunc(d.Plan.Entries, func(e plan.Entry) bool {
			return e.MaterialID == nil && e.L == s.L && e.A == s.A && e.B == s.B
		}) {
			continue
		}
		if err := d.Add(plan.Entry{Name: s.Name, L: s.L, A: s.A, B: s.B}); err != nil {
			return "", err
		}
		n++
	}
	if n == 0 {
		return "", words.Refuse("Every scrap is in the tray as a free colour already.")
	}
	return "add " + words.Plural(n, "scrap", "scraps") + " as free colours", nil
}

// Shelve puts every scrap onto the shelf as a material of the maker's own, of the plan's
// first kind; the shelf's undo takes them off.
type Shelve struct{}

func (Shelve) Act(ctx context.Context, k *plan.Desk, p *plan.Plan) (string, error) {
	if len(p.Scraps) == 0 {
		return "", words.Refuse("There are no scraps yet.")
	}
	var all []material.Material
	there := func(n string) bool {
		return p.Shelf.Named(n) != nil || slices.ContainsFunc(all, func(m material.Material) bool { return strings.EqualFold(m.Name, n) })
	}
	for _, s := range p.Scraps {
		m := material.Material{Name: shelf.FreeName(s.Name, "again", there), Kind: p.MadeOf()[0], Colour: colour.Lab{L: s.L, A: s.A, B: s.B},
			Source: "typed", Uncertainty: max(1, s.Uncertainty)}
		if s.Count > 0 {
			as := plan.Pasted(colour.Listed{Count: s.Count, Unit: s.Unit}, s.Name, m.Kind)
			m.Lots, m.Remark = as.Lots, as.Remark
		}
		if s.Photo != nil {
			m.Source = "photo"
		}
		all = append(all, m)
	}
	if err := k.AddMaterials(ctx, "put "+words.Plural(len(all), "scrap", "scraps")+" on the shelf", all); err != nil {
		return "", err
	}
	return words.Capital(words.Plural(len(all), "material is", "materials are")) +
		fmt.Sprintf(" on the shelf, as %s. Undo it on the shelf.", p.MadeOf()[0]), nil
}
