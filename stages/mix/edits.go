package mix

import (
	"fmt"
	"slices"
	"strconv"
	"strings"

	"lampfern/core/colour"
	"lampfern/core/form"
	"lampfern/core/words"
	"lampfern/plan"
)

// WorkOn chooses the wanted colour that is worked on.
type WorkOn struct {
	Key int `form:"key"`
}

func (e WorkOn) Do(d *plan.Draft) (string, error) {
	w, err := wantedOf(d.Plan, e.Key)
	if err != nil {
		return "", err
	}
	Of(d.Plan).Now = e.Key
	return "mix " + w.Name, nil
}

func wantedOf(p *plan.Plan, key int) (plan.Wish, error) {
	at := slices.IndexFunc(p.Targets, func(w plan.Wish) bool { return w.Key == key })
	if at < 0 {
		return plan.Wish{}, words.Refuse("That target was removed.")
	}
	return p.Targets[at], nil
}

// DropTarget takes a colour off those to be mixed, and what lies on the slab for it.
type DropTarget struct {
	Key int `form:"key"`
}

func (e DropTarget) Do(d *plan.Draft) (string, error) {
	w, err := wantedOf(d.Plan, e.Key)
	if err != nil {
		return "", err
	}
	d.Plan.Targets = slices.DeleteFunc(slices.Clone(d.Plan.Targets), func(t plan.Wish) bool { return t.Key == e.Key })
	Of(d.Plan).tidy(d.Plan)
	return "take " + w.Name + " from the targets", nil
}

// SetPaints chooses the paints at hand by material, and what recipes may be.
type SetPaints struct {
	Paints     []uint
	Colourants int    `form:"colourants,optional"`
	Parts      int    `form:"parts,optional"`
	Basis      string `form:"basis,optional"`
	Together   string `form:"together,optional"`

	OnHand bool    `form:"on_hand"`
	Ground string  `form:"ground,optional"` // a name of the shelf or a typed colour; empty for the usual one
	Coats  int     `form:"coats,optional"`
	Oils   float64 `form:"oils,optional"`
	Step   float64 `form:"step,optional"`
}

func (e *SetPaints) Read(f *form.Form) error {
	for _, t := range f.Texts("paint") {
		id, err := strconv.ParseUint(t, 10, 32)
		if err != nil {
			return words.Refuse("That paint is no longer on the shelf.")
		}
		e.Paints = append(e.Paints, uint(id))
	}
	return nil
}

func (e SetPaints) Do(d *plan.Draft) (string, error) {
	s := Of(d.Plan)
	s.Paints = nil
	for _, id := range e.Paints {
		if c, err := d.Shelf.Card(id); err != nil || c.Removed {
			return "", words.Refuse("That paint is no longer on the shelf.")
		}
		s.Paints = append(s.Paints, id)
	}
	if len(e.Paints) == 0 && len(atHand(d.Plan)) > 0 {
		d.Say("None was ticked, so all you own are used.")
	}
	if usual := ids(atHand(d.Plan)); slices.Equal(slices.Sorted(slices.Values(usual)), slices.Sorted(slices.Values(s.Paints))) {
		s.Paints = nil
	}
	gone := func(id uint) bool { return len(s.Paints) > 0 && !slices.Contains(s.Paints, id) }
	s.Without, s.Must = slices.DeleteFunc(slices.Clone(s.Without), gone), slices.DeleteFunc(slices.Clone(s.Must), gone)
	before := s.together("", "")
	if cards := chosen(d.Plan); len(cards) > 0 {
		before = s.together(cards[0].Kind, d.Plan.Craft)
	}
	was := s.basis(before)
	s.Colourants, s.Parts, s.Basis, s.Together = e.Colourants, e.Parts, e.Basis, e.Together
	s.Coats, s.Oils, s.Step, s.OnHand = e.Coats, e.Oils, e.Step, e.OnHand
	now := s.together("", "")
	if cards := chosen(d.Plan); len(cards) > 0 {
		now = s.together(cards[0].Kind, d.Plan.Craft)
	}
	if now.Key != before.Key { // what was set for another way does not hold for this one
		s.Ground, s.Parts, s.Coats, s.Step = nil, 0, 0, 0
	} else if err := s.setGround(d, e.Ground, now); err != nil {
		return "", err
	}
	if s.basis(now) != was {
		s.Step = 0
	}
	if s.Basis == now.Bases[0] {
		s.Basis = ""
	}
	return "choose the paints", nil
}

// setGround takes a ground as it is written.
func (s *Section) setGround(d *plan.Draft, text string, t Together) error {
	text = strings.Join(strings.Fields(text), " ")
	switch {
	case t.Ground == nil || text == "" || text == t.Ground.Name:
		s.Ground = nil
		return nil
	case s.Ground != nil && text == s.Ground.Name:
		return nil
	}
	if c := d.Shelf.Named(text); c != nil {
		s.Ground = &Ground{c.Name, c.Colour.L, c.Colour.A, c.Colour.B}
		return nil
	}
	c, err := resultOf(text)
	if err != nil {
		return words.Refuse("Write the name of a material on the shelf, or a code such as #efe6d2.")
	}
	s.Ground = &Ground{"ground " + c.Hex(), c.L, c.A, c.B}
	return nil
}

// Rule says of a paint that recipes leave it out, or must hold it, or neither.
type Rule struct {
	Material uint   `form:"material"`
	As       string `form:"as,optional"` // without, must, or nothing
}

func (e Rule) Do(d *plan.Draft) (string, error) {
	c, err := d.Shelf.Card(e.Material)
	if err != nil {
		return "", words.Refuse("That paint is no longer on the shelf.")
	}
	s := Of(d.Plan)
	other := func(id uint) bool { return id == e.Material }
	s.Without, s.Must = slices.DeleteFunc(slices.Clone(s.Without), other), slices.DeleteFunc(slices.Clone(s.Must), other)
	switch e.As {
	case "without":
		s.Without = append(s.Without, e.Material)
		return "leave " + c.Name + " out", nil
	case "must":
		s.Must = append(s.Must, e.Material)
		return "change the use of " + c.Name, nil
	}
	return "allow " + c.Name, nil
}

// AddPart puts a part of a paint onto the slab.
type AddPart struct {
	Material uint `form:"material,optional"` // 0 for water
}

func (e AddPart) Do(d *plan.Draft) (string, error) {
	c, b, err := onSlab(d, e.Material)
	if err != nil {
		return "", err
	}
	b.Steps = append(slices.Clone(b.Steps), e.Material)
	return "add a part of " + c, nil
}

// TakePart takes the last part of a paint off the slab.
type TakePart struct {
	Material uint `form:"material,optional"` // 0 for water
}

func (e TakePart) Do(d *plan.Draft) (string, error) {
	c, b, err := onSlab(d, e.Material)
	if err != nil {
		return "", err
	}
	for i := len(b.Steps) - 1; i >= 0; i-- {
		if b.Steps[i] == e.Material {
			b.Steps = slices.Delete(slices.Clone(b.Steps), i, i+1)
			Of(d.Plan).tidy(d.Plan)
			return "remove a part of " + c, nil
		}
	}
	return "", words.Refuse("There is no part of %s on the slab.", c)
}

// onSlab is the name of a paint, and the slab of the colour that is worked on.
func onSlab(d *plan.Draft, id uint) (string, *Slab, error) {
	w, err := now(d.Plan)
	if err != nil {
		return "", nil, err
	}
	name := "water"
	if id != waterID {
		c, err := d.Shelf.Card(id)
		if err != nil || c.Removed {
			return "", nil, words.Refuse("That paint is no longer on the shelf.")
		}
		name = c.Name
	}
	return name, Of(d.Plan).slab(w.Key), nil
}

// now is the wanted colour that is worked on: the chosen one, or the first.
func now(p *plan.Plan) (plan.Wish, error) {
	if w, err := wantedOf(p, Of(p).Now); err == nil {
		return w, nil
	}
	if len(p.Targets) == 0 {
		return plan.Wish{}, words.Refuse("Add a target colour first.")
	}
	return p.Targets[0], nil
}

// LayOut lays a recipe on the slab, in place of what is there; an empty one clears it.
type LayOut struct {
	Recipe string `form:"recipe,optional"` // material.parts with spaces between
}

func (e LayOut) Do(d *plan.Draft) (string, error) {
	w, err := now(d.Plan)
	if err != nil {
		return "", err
	}
	var steps []uint
	for _, f := range strings.Fields(e.Recipe) {
		var id, n uint
		if _, err := fmt.Sscanf(f, "%d.%d", &id, &n); err != nil || n > mostSteps {
			return "", words.Refuse("That recipe cannot be read. Choose one from the list.")
		}
		if c, err := d.Shelf.Card(id); id != waterID && (err != nil || c.Removed) {
			return "", words.Refuse("A paint of that recipe is no longer on the shelf.")
		}
		steps = append(steps, slices.Repeat([]uint{id}, int(n))...)
	}
	Of(d.Plan).slab(w.Key).Steps = steps
	Of(d.Plan).tidy(d.Plan)
	if len(steps) == 0 {
		return "clear the slab", nil
	}
	return "try a recipe", nil
}

// WishPaint puts the paint that would close the gap on the wish list.
type WishPaint struct{}

func (WishPaint) Do(d *plan.Draft) (string, error) {
	p, err := d.View()
	if err != nil {
		return "", err
	}
	v, err := partOf(d.Ctx, d.Desk, p, func(v *MixView, b bench, s *Section) {
		v.recipes(b, b.search(d.Desk, s, v.Now.Colour, b.limits(s)))
	})
	if err != nil {
		return "", err
	}
	if v.Missing == nil {
		return "", words.Refuse("Nothing is missing: a recipe is close enough.")
	}
	return "wish for what is missing of " + v.Now.Name, wish(d, "To mix "+v.Now.Name, v.Missing.Paint)
}

// wish puts a colour on the wish list.
func wish(d *plan.Draft, name string, c colour.Lab) error {
	if len(d.Plan.Wishes) >= plan.MostWanted {
		return words.Refuse("The wish list holds %d colours, the most it can. Remove one first.", plan.MostWanted)
	}
	key := 1
	for _, w := range d.Plan.Wishes {
		key = max(key, w.Key+1)
	}
	d.Plan.Wishes = append(slices.Clone(d.Plan.Wishes), plan.Wish{Key: key, Name: name, L: c.L, A: c.A, B: c.B})
	d.Say(name + " is on the wish list.")
	return nil
}

// WishTube puts the one more paint that would save most mixing on the wish list.
type WishTube struct{}

func (WishTube) Do(d *plan.Draft) (string, error) {
	p, err := d.View()
	if err != nil {
		return "", err
	}
	v, err := partOf(d.Ctx, d.Desk, p, func(v *MixView, b bench, s *Section) {
		for _, w := range p.Targets {
			v.Wanted = append(v.Wanted, WantedView{Wish: w, Colour: w.Colour()})
		}
		v.few(d.Desk, p, b, s)
	})
	if err != nil {
		return "", err
	}
	if v.Few == nil || v.Few.Tube == nil {
		return "", words.Refuse("No other paint would help now.")
	}
	return "wish for " + v.Few.Tube.Name, wish(d, v.Few.Tube.Name, v.Few.Tube.Colour)
}

// ToTray puts the mix on the slab into the tray as a free colour with its recipe, and
// into a part of the piece where one is named.
type ToTray struct {
	Part string `form:"part,optional"`
}

func (e ToTray) Do(d *plan.Draft) (string, error) {
	p, err := d.View()
	if err != nil {
		return "", err
	}
	v, err := OnSlab(d.Ctx, d.Desk, p)
	if err != nil {
		return "", err
	}
	if v.Mixed == nil {
		return "", words.Refuse("Mix something first, then add it to the tray.")
	}
	entry := plan.FreeEntry(v.Now.Name, v.Mixed.Colour)
	entry.Recipe, entry.Mix = v.Recipe(), v.shares()
	at := slices.IndexFunc(d.Plan.Entries, func(t plan.Entry) bool { return t.MaterialID == nil && t.Name == entry.Name })
	if at >= 0 { // the wanted colour lies there already: now it is as it is mixed
		entry.Key, entry.Position = d.Plan.Entries[at].Key, d.Plan.Entries[at].Position
		d.Plan.Entries = slices.Clone(d.Plan.Entries)
		d.Plan.Entries[at] = entry
	} else {
		if err := d.Add(entry); err != nil {
			return "", err
		}
		entry.Key = d.Plan.Entries[len(d.Plan.Entries)-1].Key
	}
	d.Say(entry.Name + " is in the tray, with its recipe.")
	if e.Part == "" {
		return "add the mix of " + entry.Name + " to the tray", nil
	}
	if at < 0 { // it takes the part it is meant for, not the first empty one
		d.Plan.Fills = slices.DeleteFunc(d.Plan.Fills, func(f plan.Fill) bool { return f.EntryKey == entry.Key })
	}
	return plan.FillPart{Part: e.Part, Key: entry.Key}.Do(d)
}

// SetBatch says how much of the mix on the slab is made, and the least that can be
// weighed or measured. Nothing goes back to parts alone.
type SetBatch struct {
	Total float64 `form:"total,optional"`
	Least float64 `form:"least,optional"`

	Additive string `form:"additive,optional"`
}

func (e SetBatch) Do(d *plan.Draft) (string, error) {
	s := Of(d.Plan)
	s.Total, s.Least, s.Additive = e.Total, e.Least, strings.Join(strings.Fields(e.Additive), " ")
	return "set the batch", nil
}
