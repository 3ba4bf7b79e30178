package plan

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"lampfern/core/colour"
	"lampfern/core/craft"
	"lampfern/core/material"
	"lampfern/core/piece"
	"lampfern/core/words"
	"lampfern/shelf"
	"lampfern/store"
)

// MostBegun bounds the text of colours that a plan is begun with, in bytes.
const MostBegun = 64 << 10

// Beginning is what a maker says of a plan to begin with; all of it may be empty.
type Beginning struct {
	Kind  string // of material
	Thing string // the pattern of what is made
	For   string // whom it is for
}

// BeginThing starts a plan of a thing whose colours are chosen later.
func (k *Desk) BeginThing(ctx context.Context, b Beginning) (uint, error) {
	if _, err := craft.Pattern(b.Thing); err != nil {
		return 0, words.Refuse("Choose what you are making: %q is no thing that can be made here.", b.Thing)
	}
	p := &Plan{Plan: store.Plan{Name: patternName(b.Thing), Craft: craftWith(b.Thing).Name}}
	p.Pattern = b.Thing
	if b.Kind != "" {
		p.Kinds = []string{b.Kind}
	}
	k.forWhom(p, b.For)
	err := k.add(ctx, p)
	return p.ID, err
}

// Begin puts the colours of a text on the shelf, as materials of one kind, and starts a plan of the
// thing that is made, by its pattern; of none for an empty pattern, then of the craft that is mostly made of the kind, with all of them in the tray, the first as lead colour, and on its first
// piece in their best arrangement. A material that is there by name and colour is used as it is. It is one act; undoing it on the
// shelf takes the materials off again, and the plan keeps them.
func (k *Desk) Begin(ctx context.Context, text string, b Beginning) (id uint, err error) {
	kind, pattern := b.Kind, b.Thing
	var of piece.Craft
	if pattern != "" {
		if _, err := craft.Pattern(pattern); err != nil {
			return 0, words.Refuse("Choose what you are making: %q is no thing that can be made here.", pattern)
		}
		of = craftWith(pattern)
	}
	if kind == "" && len(of.Kinds) > 0 {
		kind = of.Kinds[0]
	}
	if !slices.Contains(material.Kinds(), kind) {
		return 0, words.Refuse("Choose what they are: %q is no kind of material.", kind)
	}
	if len(text) > MostBegun {
		return 0, words.Refuse("The text is longer than %d kB: paste the colours alone.", MostBegun>>10)
	}
	all, unread, err := colour.ParseList(text)
	switch {
	case err != nil:
		return 0, words.Refuse("%s. Nothing was taken.", words.Capital(err.Error()))
	case len(unread) > 0:
		return 0, Unread(unread)
	case len(all) == 0:
		return 0,
			words.Refuse("No colour is in the text: write # and six digits, rgb(…) or hsb(…), one a line, with a name beside it if you like.")
	case len(all) > MaxTray:
		return 0, words.Refuse("The text holds %d colours and a palette %d: paste fewer, or bring them in as a list.", len(all), MaxTray)
	}
	sh, err := k.Shelf(ctx)
	if err != nil {
		return 0, err
	}
	fresh, at, err := begun(sh, all, kind)
	if err != nil {
		return 0, err
	}
	p := &Plan{Plan: store.Plan{Name: fmt.Sprintf("%s in %s", words.Capital(kind), words.Plural(len(at), "colour", "colours")),
		Craft: craftOf(kind)}}
	if pattern != "" {
		p.Name, p.Craft, p.Pattern = patternName(pattern), of.Name, pattern
	} else if of, known := craft.Named(p.Craft); known && len(of.Patterns) > 0 {
		p.Pattern = of.Patterns[0].Key
	}
	k.forWhom(p, b.For)
	if err := k.checked(p); err != nil {
		return 0, err
	}
	if p.Pattern != "" { // a first picture at once
		built, err := k.pieceOf(p)
		if err != nil {
			return 0, err
		}
		labs := make([]colour.Lab, len(at))
		for i, a := range at {
			if a.known == 0 {
				labs[i] = fresh[a.fresh].Colour
			} else if c, err := sh.Card(a.known); err == nil {
				labs[i] = c.Colour
			}
		}
		best := k.Best(ctx, built, labs)
		for i, part := range built.Parts {
			card := i % len(at)
			if best != nil {
				card = best[i]
			}
			p.Fills = append(p.Fills, Fill{Part: part.Key, EntryKey: card + 1})
		}
	}
	err = k.AddMaterials(ctx, fmt.Sprintf("add %s", words.Plural(len(fresh), "colour", "colours")), fresh,
		func(tx store.Tx, ids []uint) error {
			for i, a := range at {
				material := a.known
				if material == 0 {
					material = ids[a.fresh]
				}
				p.Entries = append(p.Entries, Entry{Key: i + 1, MaterialID: &material, Position: i})
			}
			p.LeadID = p.Entries[0].MaterialID
			sections, err := p.documents()
			if err != nil {
				return err
			}
			for i := range sections {
				sections[i].Version = k.version(sections[i].Name)
			}
			return tx.AddPlan(&p.Plan, sections)
		})
	return p.ID, err
}

// Unread are the lines of a pasted text that hold no colour: nothing is taken until each has one, or
// is left out.
type Unread []string

func (u Unread) Error() string {
	return words.Plural(len(u), "line holds", "lines hold") + " no colour"
}

// Pasted is a colour of a list as a material of a kind, with how much there is of it: on hand where
// the kind is counted so, else as a remark.
func Pasted(l colour.Listed, name, kind string) material.Material {
	m := material.Material{Name: name, Kind: kind, Colour: l.RGB.Lab()}
	if l.Plain {
		m.Source, m.Uncertainty = "estimated", colour.PlainDoubt
	}
	if l.Count > 0 {
		lot, remark := material.Said(kind, l.Count, l.Unit, 0)
		if usual := material.UsualPack(kind); remark != "" && usual > 0 {
			if lot, without := material.Said(kind, l.Count, l.Unit, usual); without == "" {
				stock := material.StockOf(kind)
				m.Pack, m.Lots = usual, []material.Lot{lot}
				m.Remark = fmt.Sprintf("A %s is taken as %g %s: change it where yours differs.", stock.Pack, usual, stock.Units[0].Name)
				return m
			}
		}
		if m.Remark = remark; remark == "" {
			m.Lots = []material.Lot{lot}
		}
	}
	return m
}

// forWhom writes whom a new plan is for into the section that keeps it.
func (k *Desk) forWhom(p *Plan, whom string) {
	if whom == "" {
		return
	}
	for _, st := range k.stages {
		if st.New == nil {
			continue
		}
		if s, is := st.New().(interface{ MeantFor(whom string) Section }); is {
			p.sections = map[string]Section{st.Key: s.MeantFor(whom)}
		}
	}
}

// begin is one colour that a plan begins with: a material of the shelf, or the nth new one.
type begin struct {
	known uint
	fresh int
}

// begun are the materials that a list of colours adds to a shelf, and where each colour of the list
// is found then. A colour that stands in the list twice is one.
func begun(sh *shelf.Shelf, all []colour.Listed, kind string) (fresh []material.Material, at []begin, err error) {
	taken := func(name string) bool {
		return sh.Named(name) != nil || slices.ContainsFunc(fresh, func(m material.Material) bool { return strings.EqualFold(m.Name, name) })
	}
	for _, l := range all {
		c := l.RGB.Lab()
		name := l.Name
		if name == "" {
			name = words.Capital(string(colour.Family(c)))
		}
		if known := sh.Named(name); known != nil && known.Colour == c {
			if !slices.Contains(at, begin{known: known.ID}) {
				at = append(at, begin{known: known.ID})
			}
			continue
		}
		if slices.ContainsFunc(fresh, func(m material.Material) bool { return strings.EqualFold(m.Name, name) && m.Colour == c }) {
			continue
		}
		m := Pasted(l, shelf.FreeName(name, "another", taken), kind)
		if p := m.Tidy(); p != nil {
			return nil, nil, words.Refuse("%s Nothing was taken.", p.Error())
		}
		at = append(at, begin{fresh: len(fresh)})
		fresh = append(fresh, m)
	}
	return fresh, at, nil
}

// craftWith is the craft that a pattern is of.
func craftWith(pattern string) piece.Craft {
	for _, c := range craft.All() {
		if slices.ContainsFunc(c.Patterns, func(t piece.Pattern) bool { return t.Key == pattern }) {
			return c
		}
	}
	return piece.Craft{}
}

func patternName(pattern string) string {
	t, err := craft.Pattern(pattern)
	if err != nil {
		return pattern
	}
	return t.Name
}

// craftOf is the craft whose things are mostly made of a kind.
func craftOf(kind string) string {
	best, place := craft.Names()[0], len(material.Kinds())
	for _, c := range craft.All() {
		if i := slices.Index(c.Kinds, kind); i >= 0 && i < place {
			best, place = c.Name, i
		}
	}
	return best
}
