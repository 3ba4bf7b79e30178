package plan

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"unicode/utf8"

	"lampfern/core/words"
	"lampfern/shelf"
)

// Aside is a material that was set aside, and why, in the maker's words.
type Aside struct {
	MaterialID uint   `json:"material_id"`
	Reason     string `json:"reason,omitempty"`
}

// mostAside is how many of the materials last set aside are remembered.
const mostAside = 40

// layAside remembers a material that was set aside, the newest first.
func (t *Palette) layAside(material uint) {
	reason := t.backFromAside(material)
	t.Aside = append([]Aside{{material, reason}}, t.Aside[:min(len(t.Aside), mostAside-1)]...)
}

// backFromAside forgets a material that is in the tray again, and returns why it was aside.
func (t *Palette) backFromAside(material uint) (reason string) {
	t.Aside = slices.DeleteFunc(slices.Clone(t.Aside), func(a Aside) bool {
		if a.MaterialID == material {
			reason = a.Reason
		}
		return a.MaterialID == material
	})
	return reason
}

// WhyAside says why a material was set aside; it carries that to the shelf.
type WhyAside struct {
	Material uint   `form:"material"`
	Reason   string `form:"reason"`
}

func (e WhyAside) Do(d *Draft) (string, error) {
	e.Reason = strings.Join(strings.Fields(e.Reason), " ")
	if utf8.RuneCountInString(e.Reason) > MaxRemark {
		return "", words.Refuse("A reason has at most %d characters. Shorten it.", MaxRemark)
	}
	at := slices.IndexFunc(d.Plan.Aside, func(a Aside) bool { return a.MaterialID == e.Material })
	if at < 0 {
		return "", words.Refuse("That card is no longer set aside.")
	}
	d.Plan.Aside = slices.Clone(d.Plan.Aside)
	d.Plan.Aside[at].Reason = e.Reason
	return "say why a card is set aside", nil
}

// ForgetAside takes a material off the list of those set aside.
type ForgetAside struct {
	Material uint `form:"material"`
}

func (e ForgetAside) Do(d *Draft) (string, error) {
	d.Plan.backFromAside(e.Material)
	return "delete a card set aside", nil
}

// Left is what a material was left over from.
type Left struct {
	Plan   uint
	Name   string // of the plan
	Reason string
}

// Words says it, as "left over from Stage curtain, too green".
func (l Left) Words() string {
	if l.Reason == "" {
		return "left over from " + l.Name
	}
	return fmt.Sprintf("left over from %s, %s", l.Name, l.Reason)
}

// Trays is what the trays of all plans say of the shelf's materials: what they were left over
// from, and which are, or were, in some tray.
type Trays struct {
	Key  string // the same while no plan was changed
	Left map[uint][]Left
	in   map[uint][]uint // the plans in whose trays a material lies
}

// Used tells the materials that lie in the tray of some plan but one; 0 for any plan.
func (t Trays) Used(but uint) map[uint]bool {
	out := map[uint]bool{}
	for id, plans := range t.in {
		out[id] = slices.ContainsFunc(plans, func(p uint) bool { return p != but })
	}
	return out
}

// Trays reads every plan's tray; plans that are put away count too.
func (k *Desk) Trays(ctx context.Context) (Trays, error) {
	out := Trays{Left: map[uint][]Left{}, in: map[uint][]uint{}}
	rows, err := k.Store.Read(ctx).Plans()
	if err != nil {
		return out, fmt.Errorf("reading the plans: %w", err)
	}
	trays, err := EverySection[Palette](ctx, k, "tray")
	if err != nil {
		return out, err
	}
	for _, r := range rows {
		out.Key += fmt.Sprintf("%d.%d ", r.ID, r.Revision)
		t := trays[r.ID]
		if t == nil {
			continue
		}
		for _, e := range t.Entries {
			if e.MaterialID != nil {
				out.in[*e.MaterialID] = append(out.in[*e.MaterialID], r.ID)
			}
			for _, m := range e.Mix {
				out.in[m.MaterialID] = append(out.in[m.MaterialID], r.ID)
			}
		}
		for _, a := range t.Aside {
			out.Left[a.MaterialID] = append(out.Left[a.MaterialID], Left{r.ID, r.Name, a.Reason})
		}
	}
	return out, nil
}

// Said is what is said of each material that was left over, to be found by.
func (t Trays) Said() map[uint]string {
	out := map[uint]string{}
	for id, all := range t.Left {
		var said []string
		for _, l := range all {
			said = append(said, l.Words())
		}
		out[id] = strings.ToLower(strings.Join(said, "\n"))
	}
	return out
}

// LeftCard is a card that was left over, with what from.
type LeftCard struct {
	*shelf.Card
	Left
}

// Leftovers are the cards that other plans left over, of the kinds this one is made of, at
// most most of them.
func (p *Plan) Leftovers(t Trays, most int) (out []LeftCard) {
	for _, c := range p.Offers().Cards() {
		for _, l := range t.Left[c.ID] {
			if l.Plan != p.ID && !p.Holds(c.ID) && len(out) < most {
				out = append(out, LeftCard{c, l})
				break
			}
		}
	}
	return out
}
