package values

import (
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"lampfern/core/colour"
	"lampfern/core/form"
	"lampfern/core/material"
	"lampfern/core/value"
	"lampfern/core/words"
	"lampfern/plan"
	"lampfern/shelf"
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
	Near    shelf.Near
	Target  bool // it is among the colours to be mixed
	Dark    bool // it lies on the dark side of the middle
	Row     int  // its row of the recipe, from the middle outward; -1 for the middle
	Change  value.Row
	Lighter colour.Lab // in the bands, when the ramp has them
	Darker  colour.Lab
}

// RampView is a ramp worked out.
type RampView struct {
	Ramp
	Steps    []RampStepView // dark to light
	Troubles []string       // which steps leave their bounds, and by how much
	Checked  value.Checked
}

// RampViews works out the plan's ramps, the first made first.
func RampViews(p *plan.Plan) []RampView {
	var out []RampView
	for _, r := range Of(p).Ramps {
		out = append(out, rampView(p, r))
	}
	return out
}

// RampOf is one ramp by its key.
func RampOf(p *plan.Plan, key int) (RampView, error) {
	for _, r := range Of(p).Ramps {
		if r.Key == key {
			return rampView(p, r), nil
		}
	}
	return RampView{}, shelf.ErrNotFound
}

func rampView(p *plan.Plan, r Ramp) RampView {
	v := RampView{Ramp: r}
	steps, middle := r.Recipe.Ramp(colour.Lab{L: r.Middle.L, A: r.Middle.A, B: r.Middle.B})
	var shown []colour.Lab
	for i, s := range steps {
		c, held := value.Shifted(s.Colour, r.Shift, r.Balance)
		if s.Trouble != "" {
			v.Troubles = append(v.Troubles, fmt.Sprintf("Step %d: %s.", i+1, s.Trouble))
		}
		if held != "" {
			v.Troubles = append(v.Troubles, fmt.Sprintf("Step %d of the whole set: %s.", i+1, held))
		}
		if r.Shift != (value.Shift{}) || r.Balance != (value.Balance{}) {
			s.Sum = r.Recipe.Measure(c) // what the step comes to after all
		}
		sv := RampStepView{RampStep: s, Name: fmt.Sprintf("%s %d", r.Name, i+1), Middle: i == middle, Shown: c, Row: -1}
		switch {
		case i < middle:
			sv.Dark, sv.Row = true, middle-1-i
			sv.Change = r.Recipe.Dark[sv.Row]
		case i > middle:
			sv.Row = i - middle - 1
			sv.Change = r.Recipe.Light[sv.Row]
		}
		if near := p.Offers().Nearest(c, 1, 0); len(near) > 0 {
			sv.Near = near[0]
		}
		sv.Target = slices.ContainsFunc(p.Targets, func(w plan.Wish) bool { return w.L == c.L && w.A == c.A && w.B == c.B })
		v.Steps, shown = append(v.Steps, sv), append(shown, c)
	}
	if r.Band > 0 {
		up, down := r.Up, r.Down
		up.Lighten, down.Lighten = r.Band, -r.Band
		for i, c := range shown {
			var over, under string
			v.Steps[i].Lighter, over = value.Shifted(c, up, value.Balance{})
			v.Steps[i].Darker, under = value.Shifted(c, down, value.Balance{})
			if over != "" {
				v.Troubles = append(v.Troubles, fmt.Sprintf("Step %d of the lighter band: %s.", i+1, over))
			}
			if under != "" {
				v.Troubles = append(v.Troubles, fmt.Sprintf("Step %d of the darker band: %s.", i+1, under))
			}
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

func ramp(d *plan.Draft, key int) (*Ramp, error) {
	for i := range Of(d.Plan).Ramps {
		if Of(d.Plan).Ramps[i].Key == key {
			return &Of(d.Plan).Ramps[i], nil
		}
	}
	return nil, words.Refuse("That ramp was deleted.")
}

func addRamp(d *plan.Draft, r Ramp) error {
	if len(Of(d.Plan).Ramps) >= MaxRamps {
		return words.Refuse("The plan holds %d ramps, the most it can. Delete one first.", MaxRamps)
	}
	r.Key = 1
	for _, o := range Of(d.Plan).Ramps {
		r.Key = max(r.Key, o.Key+1)
	}
	Of(d.Plan).Ramps = append(Of(d.Plan).Ramps, r)
	return nil
}

// StartRamp makes a ramp around a card of the tray by a recipe.
type StartRamp struct {
	Key    int
	Recipe value.Recipe
}

func (e StartRamp) Do(d *plan.Draft) (string, error) {
	_, c, err := d.Entry(e.Key)
	if err != nil {
		return "", err
	}
	return "start a ramp around " + c.Name, addRamp(d, Ramp{Name: c.Name,
		Middle: plan.Wish{Name: c.Name, L: c.Colour.L, A: c.Colour.A, B: c.Colour.B}, Recipe: e.Recipe})
}

// RampChange is everything of a ramp that its form holds. Middle is written as
// a hex; empty keeps the colour there is.
type RampChange struct {
	Name    string
	Middle  string
	Recipe  value.Recipe
	Measure [3]string // the middle colour in the recipe's columns, as it was written; empty where it was not
	Band    float64
	Up      value.Shift
	Down    value.Shift
	Shift   value.Shift
	Balance value.Balance
}

// SetRamp writes a ramp's form.
type SetRamp struct {
	Key    int `form:"key"`
	Change RampChange
}

func (e *SetRamp) Read(f *form.Form) error {
	rows := func(side, count string) []value.Row {
		var out []value.Row
		for i := range min(max(0, f.Int(count)), 10*value.MaxRows) {
			at := fmt.Sprintf("%s%d_", side, i)
			out = append(out, value.Row{Hue: f.Number(at+"hue", 0), Purity: f.Number(at+"purity", 0), Light: f.Number(at+"light", 0)})
		}
		return out
	}
	tint := func(part string) value.Tint {
		return value.Tint{Red: f.Number(part+"_red", 0), Yellow: f.Number(part+"_yellow", 0)}
	}
	e.Change = RampChange{Name: f.Text("name"), Middle: strings.TrimSpace(f.Text("middle")),
		Recipe:  value.Recipe{Columns: value.Columns(f.Text("columns")), Dark: rows("dark", "darks"), Light: rows("light", "lights")},
		Measure: [3]string{f.Text("mid_hue"), f.Text("mid_purity"), f.Text("mid_light")},
		Band:    f.Number("band", 0), Up: value.Shift{Turn: f.Number("up_turn", 0), Clear: f.Number("up_clear", 0)},
		Down:    value.Shift{Turn: f.Number("down_turn", 0), Clear: f.Number("down_clear", 0)},
		Shift:   value.Shift{Turn: f.Number("turn", 0), Lighten: f.Number("lighten", 0), Clear: f.Number("clear", 0)},
		Balance: value.Balance{Shadows: tint("shadows"), Mids: tint("mids"), Lights: tint("bright")}}
	return nil
}

func (e SetRamp) Do(d *plan.Draft) (string, error) {
	r, err := ramp(d, e.Key)
	if err != nil {
		return "", err
	}
	if e.Change.Middle != "" {
		rgb, err := colour.ParseHex(e.Change.Middle)
		if err != nil {
			return "", words.Refuse("The middle colour %q is not a colour: write # and six digits, such as #8a5a86.", e.Change.Middle)
		}
		if lab := rgb.Lab(); (colour.Lab{L: r.Middle.L, A: r.Middle.A, B: r.Middle.B}).Hex() != lab.Hex() {
			r.Middle = plan.Wish{Name: lab.Hex(), L: lab.L, A: lab.A, B: lab.B}
		}
	}
	if err := r.measured(e.Change.Measure, e.Change.Recipe.Columns); err != nil {
		return "", err
	}
	r.Name, r.Recipe, r.Band, r.Shift, r.Balance = e.Change.Name, e.Change.Recipe, e.Change.Band, e.Change.Shift, e.Change.Balance
	r.Up, r.Down = e.Change.Up, e.Change.Down
	return "change the ramp " + r.Name, r.nameRecipe(d)
}

// MiddleIn is the middle colour in the recipe's columns, as it is written: in whole numbers.
func (r Ramp) MiddleIn() [3]string {
	m := r.Recipe.Measure(colour.Lab{L: r.Middle.L, A: r.Middle.A, B: r.Middle.B})
	return [3]string{fmt.Sprintf("%.0f", m.Hue), fmt.Sprintf("%.0f", m.Purity), fmt.Sprintf("%.0f", m.Light)}
}

// measured takes a middle colour that was written in the columns, where any of it is other than it
// was.
func (r *Ramp) measured(written [3]string, columns value.Columns) error {
	if columns != r.Recipe.Columns || written == [3]string{} || written == r.MiddleIn() {
		return nil
	}
	var v [3]float64
	for i, text := range written {
		n, err := strconv.ParseFloat(strings.ReplaceAll(strings.TrimSpace(text), ",", "."), 64)
		if err != nil || math.IsNaN(n) || math.IsInf(n, 0) {
			return words.Refuse("Write the middle colour in three numbers, such as 300 45 60, not %q.", text)
		}
		v[i] = n
	}
	most := 100.0
	if columns == value.LCh {
		most = 128
	}
	if v[0] < 0 || v[0] > 360 || v[1] < 0 || v[1] > most || v[2] < 0 || v[2] > 100 {
		return words.Refuse("A hue is from 0 to 360, the second number from 0 to %g, the third from 0 to 100.", most)
	}
	c := r.Recipe.Colour(value.Row{Hue: math.Mod(v[0], 360), Purity: v[1], Light: v[2]})
	r.Middle = plan.Wish{Name: c.Hex(), L: c.L, A: c.A, B: c.B}
	return nil
}

// nameRecipe calls the ramp's recipe after the one that has its numbers; nothing for none.
func (r *Ramp) nameRecipe(d *plan.Draft) error {
	all, err := Recipes(d.Ctx, d.Desk)
	if err != nil {
		return err
	}
	r.Recipe.Name = ""
	for _, o := range all {
		if o.Same(r.Recipe) {
			r.Recipe.Name = o.Name
			break
		}
	}
	return nil
}

// UseRecipe gives a ramp another recipe.
type UseRecipe struct {
	Key    int
	Recipe value.Recipe
}

func (e UseRecipe) Do(d *plan.Draft) (string, error) {
	r, err := ramp(d, e.Key)
	if err != nil {
		return "", err
	}
	r.Recipe = e.Recipe
	return "use the recipe " + e.Recipe.Name, nil
}

// AddStep adds a step at the end of a side of a ramp, like the one before it,
// or takes the last away.
type AddStep struct {
	Key  int `form:"key"`
	Dark bool
	Add  bool `form:"add"`
}

func (e *AddStep) Read(f *form.Form) error {
	e.Dark = f.Text("side") == "dark"
	return nil
}

func (e AddStep) Do(d *plan.Draft) (string, error) {
	r, err := ramp(d, e.Key)
	if err != nil {
		return "", err
	}
	rows := &r.Recipe.Light
	row := value.Row{Light: 10}
	if e.Dark {
		rows, row.Light = &r.Recipe.Dark, -10
	}
	n := len(*rows)
	switch {
	case !e.Add && n == 0:
		return "", words.Refuse("There is no step to remove on that side.")
	case !e.Add:
		*rows = slices.Clone((*rows)[:n-1])
		return "remove a step", r.nameRecipe(d)
	case n > 0:
		row = (*rows)[n-1]
	}
	*rows = append(slices.Clone(*rows), row)
	return "add a step", r.nameRecipe(d)
}

// CopyRamp puts a variation of a ramp beside it, to be changed.
type CopyRamp struct {
	Key int `form:"key"`
}

func (e CopyRamp) Do(d *plan.Draft) (string, error) {
	r, err := ramp(d, e.Key)
	if err != nil {
		return "", err
	}
	c := *r
	c.Recipe.Dark, c.Recipe.Light = slices.Clone(r.Recipe.Dark), slices.Clone(r.Recipe.Light)
	c.Name = shelf.FreeName(r.Name, "variation", func(n string) bool {
		return slices.ContainsFunc(Of(d.Plan).Ramps, func(o Ramp) bool { return strings.EqualFold(o.Name, n) })
	})
	return "copy the ramp " + r.Name, addRamp(d, c)
}

// DropRamp takes a ramp away.
type DropRamp struct {
	Key int `form:"key"`
}

func (e DropRamp) Do(d *plan.Draft) (string, error) {
	r, err := ramp(d, e.Key)
	if err != nil {
		return "", err
	}
	name := r.Name
	Of(d.Plan).Ramps = slices.DeleteFunc(Of(d.Plan).Ramps, func(o Ramp) bool { return o.Key == e.Key })
	return "delete the ramp " + name, nil
}

// MixStep puts a step of a ramp among the colours to be mixed, or takes it off.
type MixStep struct {
	Key  int `form:"key"`
	Step int `form:"step"`
}

func (e MixStep) Do(d *plan.Draft) (string, error) {
	p, err := d.View()
	if err != nil {
		return "", err
	}
	v, err := RampOf(p, e.Key)
	if err != nil || e.Step < 0 || e.Step >= len(v.Steps) {
		return "", words.Refuse("That step is no longer in the ramp.")
	}
	s := v.Steps[e.Step]
	if s.Target {
		d.Plan.Targets = slices.DeleteFunc(d.Plan.Targets, func(w plan.Wish) bool {
			return w.L == s.Shown.L && w.A == s.Shown.A && w.B == s.Shown.B
		})
		return "stop mixing " + s.Name, nil
	}
	if len(d.Plan.Targets) >= plan.MostWanted {
		return "", words.Refuse("There are %d target colours on Mix already. Remove one first.", plan.MostWanted)
	}
	next := 1
	for _, w := range d.Plan.Targets {
		next = max(next, w.Key+1)
	}
	d.Plan.Targets = append(d.Plan.Targets, plan.Wish{Key: next, Name: s.Name, L: s.Shown.L, A: s.Shown.A, B: s.Shown.B})
	return "mix " + s.Name, nil
}
