package mix

import (
	"fmt"
	"slices"
	"strconv"
	"strings"

	"lampfern/core/form"
	"lampfern/core/words"
	"lampfern/plan"
)

// WorkOn chooses the wanted colour that is worked on.
type WorkOn struct {
	Key int `form:"key"`
}

// Do makes the change.
func (e WorkOn) Do(d *plan.Draft) (string, error) {
	w, err := wantedOf(d.Plan, e.Key)
	if err != nil {
		return "", err
	}
	Of(d.Plan).Now = e.Key
	return "work on " + w.Name, nil
}

func wantedOf(p *plan.Plan, key int) (plan.Wish, error) {
	at := slices.IndexFunc(p.Targets, func(w plan.Wish) bool { return w.Key == key })
	if at < 0 {
		return plan.Wish{}, words.Refuse("That colour is no longer on the list.")
	}
	return p.Targets[at], nil
}

// DropTarget takes a colour off those to be mixed, and what lies on the slab for it.
type DropTarget struct {
	Key int `form:"key"`
}

// Do makes the change.
func (e DropTarget) Do(d *plan.Draft) (string, error) {
	w, err := wantedOf(d.Plan, e.Key)
	if err != nil {
		return "", err
	}
	d.Plan.Targets = slices.DeleteFunc(slices.Clone(d.Plan.Targets), func(t plan.Wish) bool { return t.Key == e.Key })
	Of(d.Plan).tidy(d.Plan)
	return "take " + w.Name + " off the list to mix", nil
}

// SetPaints chooses the paints at hand by material, and what recipes may be.
type SetPaints struct {
	Paints     []uint
	Colourants int    `form:"colourants,optional"`
	Parts      int    `form:"parts,optional"`
	Basis      string `form:"basis,optional"`
	Together   string `form:"together,optional"`
}

// Read implements form.Reader.
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

// Do makes the change.
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
		d.Say("None was ticked, so all that are at hand are taken.")
	}
	if usual := ids(atHand(d.Plan)); slices.Equal(slices.Sorted(slices.Values(usual)), slices.Sorted(slices.Values(s.Paints))) {
		s.Paints = nil
	}
	gone := func(id uint) bool { return len(s.Paints) > 0 && !slices.Contains(s.Paints, id) }
	s.Without, s.Must = slices.DeleteFunc(slices.Clone(s.Without), gone), slices.DeleteFunc(slices.Clone(s.Must), gone)
	s.Colourants, s.Parts, s.Basis, s.Together = e.Colourants, e.Parts, e.Basis, e.Together
	if s.Basis == Bases()[0] {
		s.Basis = ""
	}
	return "choose the paints", nil
}

// Rule says of a paint that recipes leave it out, or must hold it, or neither.
type Rule struct {
	Material uint   `form:"material"`
	As       string `form:"as,optional"` // without, must, or nothing
}

// Do makes the change.
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
		return "hold " + c.Name + " in every recipe", nil
	}
	return "let recipes take " + c.Name, nil
}

// AddPart puts a part of a paint onto the slab.
type AddPart struct {
	Material uint `form:"material"`
}

// Do makes the change.
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
	Material uint `form:"material"`
}

// Do makes the change.
func (e TakePart) Do(d *plan.Draft) (string, error) {
	c, b, err := onSlab(d, e.Material)
	if err != nil {
		return "", err
	}
	for i := len(b.Steps) - 1; i >= 0; i-- {
		if b.Steps[i] == e.Material {
			b.Steps = slices.Delete(slices.Clone(b.Steps), i, i+1)
			Of(d.Plan).tidy(d.Plan)
			return "take a part of " + c + " away", nil
		}
	}
	return "", words.Refuse("There is no part of %s on the slab.", c)
}

// onSlab is the name of a paint, and the slab of the colour that is worked on.
func onSlab(d *plan.Draft, id uint) (string, *Slab, error) {
	c, err := d.Shelf.Card(id)
	if err != nil || c.Removed {
		return "", nil, words.Refuse("That paint is no longer on the shelf.")
	}
	w, err := now(d.Plan)
	if err != nil {
		return "", nil, err
	}
	return c.Name, Of(d.Plan).slab(w.Key), nil
}

// now is the wanted colour that is worked on: the chosen one, or the first.
func now(p *plan.Plan) (plan.Wish, error) {
	if w, err := wantedOf(p, Of(p).Now); err == nil {
		return w, nil
	}
	if len(p.Targets) == 0 {
		return plan.Wish{}, words.Refuse("Nothing is wanted yet: choose a colour of the plan, or type one.")
	}
	return p.Targets[0], nil
}

// LayOut lays a recipe on the slab, in place of what is there; an empty one clears it.
type LayOut struct {
	Recipe string `form:"recipe,optional"` // material.parts with spaces between
}

// Do makes the change.
func (e LayOut) Do(d *plan.Draft) (string, error) {
	w, err := now(d.Plan)
	if err != nil {
		return "", err
	}
	var steps []uint
	for _, f := range strings.Fields(e.Recipe) {
		var id, n uint
		if _, err := fmt.Sscanf(f, "%d.%d", &id, &n); err != nil || n > mostSteps {
			return "", words.Refuse("That recipe cannot be read: choose one of the list.")
		}
		if c, err := d.Shelf.Card(id); err != nil || c.Removed {
			return "", words.Refuse("A paint of that recipe is no longer on the shelf.")
		}
		steps = append(steps, slices.Repeat([]uint{id}, int(n))...)
	}
	Of(d.Plan).slab(w.Key).Steps = steps
	Of(d.Plan).tidy(d.Plan)
	if len(steps) == 0 {
		return "clear the slab", nil
	}
	return "lay out a recipe", nil
}

// WishPaint puts the paint that would close the gap on the wish list.
type WishPaint struct{}

// Do makes the change.
func (WishPaint) Do(d *plan.Draft) (string, error) {
	p, err := d.View()
	if err != nil {
		return "", err
	}
	v, err := View(d.Ctx, d.Desk, p, false)
	if err != nil {
		return "", err
	}
	if v.Missing == nil {
		return "", words.Refuse("Nothing is missing: a recipe comes near enough.")
	}
	if len(d.Plan.Wishes) >= plan.MostWanted {
		return "", words.Refuse("The wish list holds %d colours and is full: take one off first.", plan.MostWanted)
	}
	key := 1
	for _, w := range d.Plan.Wishes {
		key = max(key, w.Key+1)
	}
	c := v.Missing.Paint
	name := "To mix " + v.Now.Name
	d.Plan.Wishes = append(d.Plan.Wishes, plan.Wish{Key: key, Name: name, L: c.L, A: c.A, B: c.B})
	return "wish for what is missing of " + v.Now.Name, nil
}

// SetBatch says how much of the mix on the slab is made, and the least that can be
// weighed or measured. Nothing goes back to parts alone.
type SetBatch struct {
	Total float64 `form:"total,optional"`
	Least float64 `form:"least,optional"`
}

// Do makes the change.
func (e SetBatch) Do(d *plan.Draft) (string, error) {
	s := Of(d.Plan)
	s.Total, s.Least = e.Total, e.Least
	return "set the batch", nil
}
