package plan

import (
	"context"
	"fmt"
	"path/filepath"
	"slices"
	"strings"
	"time"

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

// Beginning is what a maker says of a plan to begin with; all of it may be empty, but not all at once.
type Beginning struct {
	Kind    string              // of material; empty for what the thing is usually made of
	Thing   string              // the pattern of what is made; empty where that is not decided
	Own     *File               // a model, a drawing or a photo of the bare thing, in place of a pattern
	For     string              // whom it is for
	Colours string              // one a line, with a name and how much there is
	Taken   []material.Material // colours taken from a photo
}

// Begin puts the colours on the shelf, as materials of one kind, and starts a plan of the thing: of none where that
// is not decided, then of the craft that is mostly made of the kind. All of them are in the tray, the first as lead
// colour, and on the piece in their best arrangement. A material that is there by name and colour is used as it is.
// It is one act; undoing it on the shelf takes the materials off again, and the plan keeps them.
func (k *Desk) Begin(ctx context.Context, b Beginning) (id uint, err error) {
	sh, err := k.Shelf(ctx)
	if err != nil {
		return 0, err
	}
	p, err := k.compose(store.Plan{}, nil)
	if err != nil {
		return 0, err
	}
	p.Shelf = sh
	d := &Draft{Plan: p, Shelf: sh, Desk: k, Ctx: ctx, Now: time.Now()}
	defer func() {
		if err != nil {
			d.drop()
		}
	}()
	if err := d.ofThing(b); err != nil {
		return 0, err
	}
	kind := b.Kind
	if of, known := craft.Named(p.Craft); kind == "" && known {
		kind = of.Kinds[0]
	}
	all, err := coloursOf(b, kind)
	if err != nil {
		return 0, err
	}
	if len(all) == 0 && p.Pattern == "" {
		return 0, words.Refuse("Choose what you are making, or type a colour such as Plum #4b2346.")
	}
	fresh, at, err := begun(sh, all)
	if err != nil {
		return 0, err
	}
	switch {
	case p.Name != "":
	case p.Pattern != "":
		p.Name = patternName(p.Pattern)
	default:
		p.Name, p.Craft = fmt.Sprintf("%s in %s", words.Capital(kind), words.Plural(len(at), "colour", "colours")), craftOf(kind)
		if of, known := craft.Named(p.Craft); known && len(of.Patterns) > 0 {
			p.Pattern = of.Patterns[0].Key
		}
	}
	if b.Kind != "" && len(all) == 0 {
		p.Kinds = []string{b.Kind}
	}
	if len(at) > 0 {
		p.Entries, p.Fills = nil, nil // colours that a drawing brought yield to the maker's own
	}
	k.forWhom(p, b.For)
	if err := k.checked(p); err != nil {
		return 0, err
	}
	if err := d.fillFirst(fresh, at); err != nil {
		return 0, err
	}
	write := func(tx store.Tx, ids []uint) error {
		for i, a := range at {
			material := a.known
			if material == 0 {
				material = ids[a.fresh]
			}
			p.Entries = append(p.Entries, Entry{Key: i + 1, MaterialID: &material, Position: i})
		}
		if len(at) > 0 {
			p.LeadID = p.Entries[0].MaterialID
		}
		sections, err := p.documents()
		if err != nil {
			return err
		}
		for i := range sections {
			sections[i].Version = k.version(sections[i].Name)
		}
		return tx.AddPlan(&p.Plan, sections)
	}
	if len(fresh) == 0 {
		err = k.Store.Write(ctx, func(tx store.Tx) error { return write(tx, nil) })
	} else {
		err = k.AddMaterials(ctx, "add "+words.Plural(len(fresh), "colour", "colours"), fresh, write)
	}
	return p.ID, err
}

// ofThing makes the draft a plan of what is made: of a pattern, or of the maker's own model, drawing or photo.
func (d *Draft) ofThing(b Beginning) error {
	p := d.Plan
	if b.Kind != "" && !slices.Contains(material.Kinds(), b.Kind) {
		return words.Refuse("%q is not a material type. Choose one from the list.", b.Kind)
	}
	if b.Own == nil {
		if b.Thing == "" {
			return nil
		}
		if _, err := craft.Pattern(b.Thing); err != nil {
			return words.Refuse("%q is not a piece Lamp Fern knows. Choose another picture.", b.Thing)
		}
		p.Craft, p.Pattern = craftWith(b.Thing).Name, b.Thing
		return nil
	}
	ending := strings.ToLower(filepath.Ext(b.Own.Name))
	for _, st := range d.Desk.stages {
		bring := st.Begins[ending]
		if bring == nil {
			continue
		}
		of := craftWith(st.Pattern)
		if b.Kind != "" && (len(of.Kinds) == len(material.Kinds()) || !slices.Contains(of.Kinds, b.Kind)) {
			of, _ = craft.Named(craftOf(b.Kind))
		}
		p.Craft = of.Name
		e := bring()
		e.Take(*b.Own)
		if _, err := e.Do(d); err != nil {
			return err
		}
		p.Before = nil
		name := []rune(words.Capital(strings.TrimSpace(strings.TrimSuffix(filepath.Base(b.Own.Name), filepath.Ext(b.Own.Name)))))
		p.Name = string(name[:min(len(name), material.MaxName)])
		return nil
	}
	return words.Refuse("%s cannot be used. Choose a model (STL or 3MF), a drawing (SVG) or a photo (JPEG, PNG or WebP).", b.Own.Name)
}

// coloursOf are the colours that a plan is begun with, as materials.
func coloursOf(b Beginning, kind string) ([]material.Material, error) {
	if len(b.Colours) > MostBegun {
		return nil, words.Refuse("The text is longer than %d kB. Paste only the colours.", MostBegun>>10)
	}
	listed, unread, err := colour.ParseList(b.Colours)
	switch {
	case err != nil:
		return nil, words.Refuse("%s. Not added.", words.Capital(err.Error()))
	case len(unread) > 0:
		return nil, Unread(unread)
	case len(listed)+len(b.Taken) > MaxTray:
		return nil, words.Refuse("The text has %d colours and a palette holds %d. Paste fewer, or import them as a list.", len(listed)+len(b.Taken), MaxTray)
	case len(listed) > 0 && kind == "":
		return nil, words.Refuse("Choose a material type: yarn, fabric, paint or another.")
	}
	all := slices.Clone(b.Taken)
	for _, l := range listed {
		all = append(all, Pasted(l, l.Name, kind))
	}
	return all, nil
}

// fillFirst gives the parts their first cards: the best arrangement, else one after another.
func (d *Draft) fillFirst(fresh []material.Material, at []begin) error {
	p := d.Plan
	if p.Pattern == "" || len(at) == 0 {
		return nil
	}
	built, err := d.Desk.pieceOf(p)
	if err != nil {
		return err
	}
	labs := make([]colour.Lab, len(at))
	for i, a := range at {
		if a.known == 0 {
			labs[i] = fresh[a.fresh].Colour
		} else if c, err := p.Shelf.Card(a.known); err == nil {
			labs[i] = c.Colour
		}
	}
	best := d.Desk.Best(d.Ctx, built, labs)
	for i, part := range built.Parts {
		card := i % len(at)
		if best != nil {
			card = best[i]
		}
		p.Fills = append(p.Fills, Fill{Part: part.Key, EntryKey: card + 1})
	}
	d.SortFills()
	return nil
}

// Unread are the lines of a pasted text that hold no colour: nothing is taken until each has one, or
// is left out.
type Unread []string

func (u Unread) Error() string {
	return words.Plural(len(u), "line has", "lines have") + " no colour"
}

// Pasted is a colour of a list as a material of a kind, with how much there is of it: on hand where
// the kind is counted so, else as a remark.
func Pasted(l colour.Listed, name, kind string) material.Material {
	m := material.Material{Name: name, Kind: kind, Colour: l.RGB.Lab()}
	if l.Plain {
		m.Source, m.Uncertainty = "estimated", colour.PlainDoubt
	}
	if l.Count > 0 {
		OnHand(&m, l.Count, l.Unit)
	}
	return m
}

// OnHand writes how much there is of a material: as a lot where its kind is counted so, else as a remark.
func OnHand(m *material.Material, n float64, unit string) {
	lot, remark := material.Said(m.Kind, n, unit, 0)
	if usual := material.UsualPack(m.Kind); remark != "" && usual > 0 {
		if packed, without := material.Said(m.Kind, n, unit, usual); without == "" {
			stock := material.StockOf(m.Kind)
			m.Pack, lot = usual, packed
			remark = fmt.Sprintf("A %s is taken as %g %s. Change it if yours differs.", stock.Pack, usual, stock.Units[0].Name)
		}
	}
	m.Remark = strings.TrimSpace(m.Remark + " " + remark)
	if lot != (material.Lot{}) {
		m.Lots = []material.Lot{lot}
	}
}

// AddTaken puts colours taken from a photo onto the shelf, those that are there by name and colour left out.
func (k *Desk) AddTaken(ctx context.Context, all []material.Material) (added int, err error) {
	sh, err := k.Shelf(ctx)
	if err != nil {
		return 0, err
	}
	fresh, _, err := begun(sh, all)
	if err != nil || len(fresh) == 0 {
		return 0, err
	}
	return len(fresh), k.AddMaterials(ctx, "add "+words.Plural(len(fresh), "colour", "colours"), fresh)
}

// TakeInto puts colours taken from a photo onto the shelf and into the tray of a plan, and onto its piece where that
// has no colours yet. The shelf and the plan each have a step to undo.
func (k *Desk) TakeInto(ctx context.Context, id uint, all []material.Material) error {
	if _, err := k.AddTaken(ctx, all); err != nil {
		return err
	}
	p, err := k.Open(ctx, id)
	if err != nil {
		return err
	}
	_, at, err := begun(p.Shelf, all)
	if err != nil {
		return err
	}
	_, err = k.Change(ctx, id, p.Revision, pullAll(at))
	return err
}

// pullAll adds materials that are on the shelf to the tray, and colours a piece that has no colours.
type pullAll []begin

func (e pullAll) Do(d *Draft) (string, error) {
	added := 0
	for _, a := range e {
		if a.known == 0 || d.holds(a.known) {
			continue
		}
		added++
		if err := d.Add(Entry{MaterialID: &a.known}); err != nil {
			return "", err
		}
	}
	if d.Plan.Piece != nil {
		d.arrange(d.Plan.Piece)
	}
	return "add " + words.Plural(added, "colour", "colours"), nil
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
			p.sections[st.Key] = s.MeantFor(whom)
		}
	}
}

// begin is one colour that a plan begins with: a material of the shelf, or the nth new one.
type begin struct {
	known uint
	fresh int
}

// begun are the materials that a plan's first colours add to a shelf, and where each of them is found then. A colour
// that stands among them twice under one name is one; one without a name is called by its colour.
func begun(sh *shelf.Shelf, all []material.Material) (fresh []material.Material, at []begin, err error) {
	taken := func(name string) bool {
		return sh.Named(name) != nil || slices.ContainsFunc(fresh, func(m material.Material) bool { return strings.EqualFold(m.Name, name) })
	}
	for _, m := range all {
		if m.Name == "" {
			m.Name = colour.PlainName(m.Colour)
		}
		if known := sh.Named(m.Name); known != nil && known.Colour == m.Colour {
			if !slices.Contains(at, begin{known: known.ID}) {
				at = append(at, begin{known: known.ID})
			}
			continue
		}
		if slices.ContainsFunc(fresh, func(o material.Material) bool { return strings.EqualFold(o.Name, m.Name) && o.Colour == m.Colour }) {
			continue
		}
		m.Name = shelf.FreeName(m.Name, "another", taken)
		if p := m.Tidy(); p != nil {
			return nil, nil, words.Refuse("%s Not added.", p.Error())
		}
		at = append(at, begin{fresh: len(fresh)})
		fresh = append(fresh, m)
	}
	return fresh, at, nil
}

// KindOf is the kind of material that is meant: that which was chosen, else what the thing is usually made of; empty
// where neither says.
func KindOf(kind, thing string) string {
	if of := craftWith(thing); kind == "" && len(of.Kinds) > 0 {
		return of.Kinds[0]
	}
	return kind
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
