package studio

import (
	"context"
	"encoding/json"
	"fmt"
	"math"
	"slices"
	"strings"
	"unicode/utf8"

	"lampfern/core/colour"
	"lampfern/core/material"
	"lampfern/core/value"
	"lampfern/store"
)

// Bounds of ramps.
const (
	MaxRamps      = 24
	maxOwnRecipes = 100
	mostBand      = 40.0 // L*
	mostShift     = 100.0
)

// RampStepView is one step of a ramp with what the shelf has for it.
type RampStepView struct {
	value.RampStep
	Name    string
	Middle  bool
	Shown   colour.Lab // after the shift and the balance
	Near    Near
	Target  bool // it is among the colours to be mixed
	Dark    bool // it lies on the dark side of the middle
	Row     int  // its row of the recipe, from the middle outward; -1 for the middle
	Change  value.Row
	Lighter colour.Lab // in the bands, when the ramp has them
	Darker  colour.Lab
}

// RampView is a ramp worked out.
type RampView struct {
	store.Ramp
	Steps    []RampStepView // dark to light
	Troubles []string       // which steps leave their bounds, and by how much
	Checked  value.Checked
}

// RampViews works out the plan's ramps, the first made first.
func (p *Plan) RampViews() []RampView {
	var out []RampView
	for _, r := range p.Ramps {
		out = append(out, p.rampView(r))
	}
	return out
}

// Ramp is one ramp by its key.
func (p *Plan) Ramp(key int) (RampView, error) {
	for _, r := range p.Ramps {
		if r.Key == key {
			return p.rampView(r), nil
		}
	}
	return RampView{}, ErrNotFound
}

func (p *Plan) rampView(r store.Ramp) RampView {
	v := RampView{Ramp: r}
	steps, middle := r.Recipe.Ramp(colour.Lab{L: r.Middle.L, A: r.Middle.A, B: r.Middle.B})
	var shown []colour.Lab
	for i, s := range steps {
		c := value.Apply(s.Colour, r.Shift, r.Balance)
		sv := RampStepView{RampStep: s, Name: fmt.Sprintf("%s %d", r.Name, i+1), Middle: i == middle, Shown: c, Row: -1}
		switch {
		case i < middle:
			sv.Dark, sv.Row = true, middle-1-i
			sv.Change = r.Recipe.Dark[sv.Row]
		case i > middle:
			sv.Row = i - middle - 1
			sv.Change = r.Recipe.Light[sv.Row]
		}
		if near := p.Shelf.Nearest(c, 1, 0); len(near) > 0 {
			sv.Near = near[0]
		}
		sv.Target = slices.ContainsFunc(p.Targets, func(w store.Wish) bool { return w.L == c.L && w.A == c.A && w.B == c.B })
		if s.Trouble != "" {
			v.Troubles = append(v.Troubles, fmt.Sprintf("Step %d: %s.", i+1, s.Trouble))
		}
		v.Steps, shown = append(v.Steps, sv), append(shown, c)
	}
	if r.Band > 0 {
		lighter, _, darker := value.Bands(shown, r.Band)
		for i := range v.Steps {
			v.Steps[i].Lighter, v.Steps[i].Darker = lighter[i], darker[i]
		}
	}
	v.Checked = value.Check(shown)
	return v
}

// Materials are the ramp's steps as records, to be saved in the open formats.
func (v RampView) Materials() []material.Material {
	var all []material.Material
	for _, s := range v.Steps {
		all = append(all, material.Material{Name: s.Name, Kind: "other", Finish: "matte", Source: "estimated", Uncertainty: 8, Colour: s.Shown})
	}
	return all
}

func (d *draft) ramp(key int) (*store.Ramp, error) {
	for i := range d.plan.Ramps {
		if d.plan.Ramps[i].Key == key {
			return &d.plan.Ramps[i], nil
		}
	}
	return nil, refuse("That ramp is no longer here.")
}

func (d *draft) addRamp(r store.Ramp) error {
	if len(d.plan.Ramps) >= MaxRamps {
		return refuse("The plan holds %d ramps and is full: take one away first.", MaxRamps)
	}
	r.Key = 1
	for _, o := range d.plan.Ramps {
		r.Key = max(r.Key, o.Key+1)
	}
	d.plan.Ramps = append(d.plan.Ramps, r)
	return nil
}

// StartRamp makes a ramp around a card of the tray by a recipe.
func StartRamp(key int, r value.Recipe) Edit {
	return func(d *draft) (string, error) {
		_, c, err := d.entry(key)
		if err != nil {
			return "", err
		}
		return "start a ramp around " + c.Name, d.addRamp(store.Ramp{Name: c.Name, Middle: store.Wish{Name: c.Name, L: c.Colour.L, A: c.Colour.A, B: c.Colour.B}, Recipe: r})
	}
}

// RampChange is everything of a ramp that its form holds. Middle is written as
// a hex; empty keeps the colour there is.
type RampChange struct {
	Name    string
	Middle  string
	Recipe  value.Recipe
	Band    float64
	Shift   value.Shift
	Balance value.Balance
}

// SetRamp writes a ramp's form.
func SetRamp(key int, c RampChange) Edit {
	return func(d *draft) (string, error) {
		r, err := d.ramp(key)
		if err != nil {
			return "", err
		}
		if c.Middle != "" {
			rgb, err := colour.ParseHex(c.Middle)
			if err != nil {
				return "", refuse("The middle colour %q is not a colour: write # and six digits, such as #8a5a86.", c.Middle)
			}
			if lab := rgb.Lab(); (colour.Lab{L: r.Middle.L, A: r.Middle.A, B: r.Middle.B}).Hex() != lab.Hex() {
				r.Middle = store.Wish{Name: lab.Hex(), L: lab.L, A: lab.A, B: lab.B}
			}
		}
		c.Recipe.Name = r.Recipe.Name
		r.Name, r.Recipe, r.Band, r.Shift, r.Balance = c.Name, c.Recipe, c.Band, c.Shift, c.Balance
		return "change the ramp " + r.Name, nil
	}
}

// UseRecipe gives a ramp another recipe.
func UseRecipe(key int, recipe value.Recipe) Edit {
	return func(d *draft) (string, error) {
		r, err := d.ramp(key)
		if err != nil {
			return "", err
		}
		r.Recipe = recipe
		return "take the recipe " + recipe.Name, nil
	}
}

// AddStep adds a step at the end of a side of a ramp, like the one before it,
// or takes the last away.
func AddStep(key int, dark, add bool) Edit {
	return func(d *draft) (string, error) {
		r, err := d.ramp(key)
		if err != nil {
			return "", err
		}
		rows := &r.Recipe.Light
		row := value.Row{Light: 10}
		if dark {
			rows, row.Light = &r.Recipe.Dark, -10
		}
		n := len(*rows)
		switch {
		case !add && n == 0:
			return "", refuse("There is no step to take away on that side.")
		case !add:
			*rows = slices.Clone((*rows)[:n-1])
			return "take a step away", nil
		case n > 0:
			row = (*rows)[n-1]
		}
		*rows = append(slices.Clone(*rows), row)
		return "add a step", nil
	}
}

// CopyRamp puts a variation of a ramp beside it, to be changed.
func CopyRamp(key int) Edit {
	return func(d *draft) (string, error) {
		r, err := d.ramp(key)
		if err != nil {
			return "", err
		}
		c := *r
		c.Recipe.Dark, c.Recipe.Light = slices.Clone(r.Recipe.Dark), slices.Clone(r.Recipe.Light)
		c.Name = freeName(r.Name, "variation", func(n string) bool {
			return slices.ContainsFunc(d.plan.Ramps, func(o store.Ramp) bool { return strings.EqualFold(o.Name, n) })
		})
		return "keep a variation of " + r.Name, d.addRamp(c)
	}
}

// DropRamp takes a ramp away.
func DropRamp(key int) Edit {
	return func(d *draft) (string, error) {
		r, err := d.ramp(key)
		if err != nil {
			return "", err
		}
		name := r.Name
		d.plan.Ramps = slices.DeleteFunc(d.plan.Ramps, func(o store.Ramp) bool { return o.Key == key })
		return "take the ramp " + name + " away", nil
	}
}

// MixStep puts a step of a ramp among the colours to be mixed, or takes it off.
func MixStep(key, step int) Edit {
	return func(d *draft) (string, error) {
		p, err := d.studio.furnish(*d.plan, d.shelf)
		if err != nil {
			return "", err
		}
		v, err := p.Ramp(key)
		if err != nil || step < 0 || step >= len(v.Steps) {
			return "", refuse("That step is no longer in the ramp.")
		}
		s := v.Steps[step]
		if s.Target {
			d.plan.Targets = slices.DeleteFunc(d.plan.Targets, func(w store.Wish) bool {
				return w.L == s.Shown.L && w.A == s.Shown.A && w.B == s.Shown.B
			})
			return "no longer mix " + s.Name, nil
		}
		if len(d.plan.Targets) >= maxWishes {
			return "", refuse("%d colours wait to be mixed: take one off first.", maxWishes)
		}
		next := 1
		for _, w := range d.plan.Targets {
			next = max(next, w.Key+1)
		}
		d.plan.Targets = append(d.plan.Targets, store.Wish{Key: next, Name: s.Name, L: s.Shown.L, A: s.Shown.A, B: s.Shown.B})
		return "mix " + s.Name, nil
	}
}

// DropTarget takes a colour off those to be mixed.
func DropTarget(key int) Edit {
	return func(d *draft) (string, error) {
		n := len(d.plan.Targets)
		d.plan.Targets = slices.DeleteFunc(d.plan.Targets, func(w store.Wish) bool { return w.Key == key })
		if len(d.plan.Targets) == n {
			return "", refuse("That colour is no longer on the list.")
		}
		return "take a colour off the list to mix", nil
	}
}

// soundRamps tidies ramps and refuses what cannot be.
func soundRamps(all []store.Ramp) error {
	for i := range all {
		r := &all[i]
		r.Name = strings.Join(strings.Fields(r.Name), " ")
		if r.Name == "" || utf8.RuneCountInString(r.Name) > material.MaxName {
			return refuse("Give the ramp a name of at most %d characters.", material.MaxName)
		}
		if err := r.Recipe.Check(); err != nil {
			return refuse("The ramp cannot be made: %s.", err)
		}
		if !(r.Band >= 0 && r.Band <= mostBand) {
			return refuse("The bands lie 0 to %g apart in lightness.", mostBand)
		}
		b := r.Balance
		for _, v := range []float64{r.Shift.Lighten, r.Shift.Clear, b.Shadows.Red, b.Shadows.Yellow, b.Mids.Red, b.Mids.Yellow, b.Lights.Red, b.Lights.Yellow} {
			if !(math.Abs(v) <= mostShift) {
				return refuse("Shifts and balances lie between −%g and %g.", mostShift, mostShift)
			}
		}
		if !(math.Abs(r.Shift.Turn) <= 360) {
			return refuse("A ramp can be turned by 360° at most.")
		}
	}
	return nil
}

// RecipeChoice is a ramp recipe that can be taken. Own ones are the maker's.
type RecipeChoice struct {
	value.Recipe
	Own bool
}

const recipeScope = "recipes"

// Recipes lists the maker's own ramp recipes, then those shipped whose name the
// maker has not taken.
func (s *Studio) Recipes(ctx context.Context) ([]RecipeChoice, error) {
	rows, err := s.store.Read(ctx).Recipes()
	if err != nil {
		return nil, fmt.Errorf("reading the recipes: %w", err)
	}
	var out []RecipeChoice
	for _, r := range rows {
		out = append(out, RecipeChoice{r.Recipe, true})
	}
	for _, r := range value.Recipes() {
		if recipeNamed(rows, r.Name) < 0 {
			out = append(out, RecipeChoice{r, false})
		}
	}
	return out, nil
}

// Recipe returns the recipe of a name, the first of all when the name is empty.
func (s *Studio) Recipe(ctx context.Context, name string) (value.Recipe, error) {
	all, err := s.Recipes(ctx)
	if err != nil {
		return value.Recipe{}, err
	}
	for _, r := range all {
		if strings.EqualFold(r.Name, name) || name == "" && !r.Own {
			return r.Recipe, nil
		}
	}
	return value.Recipe{}, refuse("There is no recipe called %q: choose one of the list.", name)
}

func recipeNamed(all []store.Recipe, name string) int {
	return slices.IndexFunc(all, func(r store.Recipe) bool { return strings.EqualFold(r.Recipe.Name, name) })
}

// SaveRecipe keeps a recipe as one of the maker's own, in place of an own one
// of the same name.
func (s *Studio) SaveRecipe(ctx context.Context, name string, r value.Recipe) error {
	r.Name = strings.Join(strings.Fields(name), " ")
	if r.Name == "" || utf8.RuneCountInString(r.Name) > maxMoodName {
		return refuse("Give the recipe a name of at most %d characters.", maxMoodName)
	}
	if err := r.Check(); err != nil {
		return refuse("The recipe cannot be kept: %s.", err)
	}
	return s.changeRecipes(ctx, "keep the recipe "+r.Name, func(all []store.Recipe) ([]store.Recipe, error) {
		if at := recipeNamed(all, r.Name); at >= 0 {
			all[at].Recipe = r
			return all, nil
		}
		if len(all) >= maxOwnRecipes {
			return nil, refuse("There are %d recipes of your own already: forget one first.", maxOwnRecipes)
		}
		return append(all, store.Recipe{Recipe: r}), nil
	})
}

// DropRecipe forgets a recipe of the maker's own. Ramps keep what they took.
func (s *Studio) DropRecipe(ctx context.Context, name string) error {
	return s.changeRecipes(ctx, "forget the recipe "+name, func(all []store.Recipe) ([]store.Recipe, error) {
		at := recipeNamed(all, name)
		if at < 0 {
			return nil, refuse("There is no recipe of your own called %q.", name)
		}
		return slices.Delete(all, at, at+1), nil
	})
}

func (s *Studio) changeRecipes(ctx context.Context, label string, change func([]store.Recipe) ([]store.Recipe, error)) error {
	return changeOwn(ctx, s, recipeScope, label, store.Tx.Recipes, store.Tx.PutRecipes, change)
}

// StepRecipes undoes or redoes the last change of the maker's own recipes.
func (s *Studio) StepRecipes(ctx context.Context, undo bool) (label string, err error) {
	return stepOwn(ctx, s, recipeScope, undo, store.Tx.PutRecipes)
}

// RecipeSteps says what undo would take back of the own recipes, empty when
// nothing.
func (s *Studio) RecipeSteps(ctx context.Context) (undo, redo string, err error) {
	return s.store.Read(ctx).Labels(recipeScope)
}

// changeOwn changes a list of the maker's own as one undoable step.
func changeOwn[T any](ctx context.Context, s *Studio, scope, label string, read func(store.Tx) ([]T, error), put func(store.Tx, []T) error, change func([]T) ([]T, error)) error {
	return s.store.Write(ctx, func(tx store.Tx) error {
		before, err := read(tx)
		if err != nil {
			return err
		}
		after, err := change(slices.Clone(before))
		if err != nil {
			return err
		}
		if err := put(tx, after); err != nil {
			return err
		}
		return journal(tx, scope, label, before, after)
	})
}

// stepOwn undoes or redoes the last change of a list of the maker's own.
func stepOwn[T any](ctx context.Context, s *Studio, scope string, undo bool, put func(store.Tx, []T) error) (label string, err error) {
	return s.stepBack(ctx, scope, undo, func(tx store.Tx, state []byte) error {
		var all []T
		if err := json.Unmarshal(state, &all); err != nil {
			return fmt.Errorf("reading kept %s: %w", scope, err)
		}
		return put(tx, all)
	})
}
