package wheel

import (
	"math"
	"slices"
	"strings"

	"lampfern/core/brief"
	"lampfern/core/colour"
	"lampfern/core/form"
	"lampfern/core/wheel"
	"lampfern/core/words"
	"lampfern/plan"
	"lampfern/shelf"
)

// TurnTo turns the scheme's light, in whole places clockwise from the lead
// colour's own place.
type TurnTo struct {
	Places int `form:"places"`
}

func (e TurnTo) Do(d *plan.Draft) (string, error) {
	Of(d.Plan).Turn = int(wheel.Turn(float64(e.Places), 0))
	return "turn the scheme", nil
}

// Light chooses the scheme and its form.
type Light struct {
	Scheme  string
	Variant wheel.Variant
}

func (e Light) Do(d *plan.Draft) (string, error) {
	p := d.Plan
	if Of(p).Scheme != e.Scheme {
		Of(p).Adjusted = nil
	}
	Of(p).Scheme, Of(p).Neighbours, Of(p).OneSided, Of(p).Centred, Of(p).Wide = e.Scheme, e.Variant.Neighbours, e.Variant.OneSided,
		e.Variant.Centred, e.Variant.Wide
	return "light " + e.Scheme, nil
}

// LightForm lights a scheme as the wheel's page asks for it: turned, or as it
// stands.
type LightForm struct {
	Scheme string `form:"scheme"`
	Turn   *int
	wheel.Variant
}

func (e *LightForm) Read(f *form.Form) error {
	e.Variant = wheel.Variant{OneSided: f.Yes("one_sided"), Centred: f.Yes("centred"), Wide: f.Yes("wide")}
	if f.Has("neighbours") {
		e.Neighbours = f.Int("neighbours")
	}
	if f.Has("turn") {
		turn := f.Int("turn")
		e.Turn = &turn
	}
	return nil
}

func (e LightForm) Do(d *plan.Draft) (string, error) {
	if e.Turn != nil {
		return LightFrom{Scheme: e.Scheme, Variant: e.Variant, Turn: *e.Turn}.Do(d)
	}
	return Light{Scheme: e.Scheme, Variant: e.Variant}.Do(d)
}

// ChooseWheel turns the plan on another wheel. The lead colour stays as it is;
// its place is another.
type ChooseWheel struct {
	Wheel string `form:"wheel"`
}

func (e ChooseWheel) Do(d *plan.Draft) (string, error) {
	w, err := wheel.Find(e.Wheel)
	if err != nil {
		return "", words.Refuse("%s.", words.Capital(err.Error()))
	}
	Of(d.Plan).WheelKey = w.Key
	return "use the " + strings.ToLower(w.Title[:1]) + w.Title[1:], nil
}

// DivideBy divides warm from cool by another school.
type DivideBy struct {
	School string `form:"school"`
}

func (e DivideBy) Do(d *plan.Draft) (string, error) {
	s, err := wheel.FindSchool(e.School)
	if err != nil {
		return "", words.Refuse("%s.", words.Capital(err.Error()))
	}
	Of(d.Plan).School = s.Key
	return "divide warm from cool: " + s.Words, nil
}

// JudgeClear says what clear colours that are neither neighbours nor opposites do together.
type JudgeClear struct {
	Clear string `form:"clear,optional"`
}

func (e JudgeClear) Do(d *plan.Draft) (string, error) {
	Of(d.Plan).ClearPairs = e.Clear
	switch e.Clear {
	case "":
		return "judge bright colours by the scheme", nil
	case "lively":
		return "call bright colours lively", nil
	}
	return "let bright colours compete", nil
}

// StartFrom lets the scheme, or its one complement, go by the boldest card of
// the tray instead of the lead colour.
type StartFrom struct {
	Boldest bool `form:"boldest"`
}

func (e StartFrom) Do(d *plan.Draft) (string, error) {
	Of(d.Plan).FromBoldest, Of(d.Plan).Turn = e.Boldest, 0
	if e.Boldest {
		return "build from the boldest colour", nil
	}
	return "build from the lead colour", nil
}

// MatchBy chooses how cards are matched to places: by hue first, or by ΔE00.
type MatchBy struct {
	Nearest bool `form:"nearest"`
}

func (e MatchBy) Do(d *plan.Draft) (string, error) {
	Of(d.Plan).Nearest = e.Nearest
	if e.Nearest {
		return "match exact colour", nil
	}
	return "match hue", nil
}

// LightFrom lights a scheme turned by whole places from where it starts.
type LightFrom struct {
	Scheme  string
	Variant wheel.Variant
	Turn    int
}

func (e LightFrom) Do(d *plan.Draft) (string, error) {
	label, err := Light{Scheme: e.Scheme, Variant: e.Variant}.Do(d)
	if err == nil {
		_, err = TurnTo{Places: e.Turn}.Do(d)
	}
	return label, err
}

// mostNudge is how far a place can be moved, in degrees of the wheel: beyond,
// it would be the next place.
const mostNudge = 25.0

// AdjustPlace turns a place of the scheme off or on and moves it, in degrees of
// the wheel, clockwise.
type AdjustPlace struct {
	Index int     `form:"index"`
	Off   bool    `form:"off"`
	Nudge float64 `form:"nudge,optional"`
}

func (e AdjustPlace) Do(d *plan.Draft) (string, error) {
	places, err := wheel.Pigment.Scheme(Of(d.Plan).Scheme, 0, Of(d.Plan).variant())
	if err != nil || e.Index < 0 || e.Index >= len(places) {
		return "", words.Refuse("The scheme has no such place.")
	}
	if math.Abs(e.Nudge) > mostNudge {
		return "", words.Refuse("A place can be moved by at most %g°. Turn the scheme to go further.", mostNudge)
	}
	Of(d.Plan).Adjusted = slices.DeleteFunc(Of(d.Plan).Adjusted, func(a Adjusted) bool { return a.Index == e.Index })
	if e.Off || e.Nudge != 0 {
		Of(d.Plan).Adjusted = append(Of(d.Plan).Adjusted, Adjusted(e))
		slices.SortFunc(Of(d.Plan).Adjusted, func(a, b Adjusted) int { return a.Index - b.Index })
	}
	switch {
	case e.Off:
		return "skip a place", nil
	case e.Nudge != 0:
		return "move a place", nil
	}
	return "use a place again", nil
}

// TakeFree puts the colour of a leaflet at a place of the plan's wheel into the
// tray, as a free colour that no material has yet.
type TakeFree struct {
	Place float64 `form:"place"`
	Step  int     `form:"step"`
	Clear bool    `form:"clear"`
}

func (x TakeFree) Do(d *plan.Draft) (string, error) {
	if !(x.Place >= 0 && x.Place < wheel.Places) || x.Step < 0 || x.Step >= shelf.ValueSteps {
		return "", words.Refuse("The wheel has no such leaflet.")
	}
	w := d.Plan.OnWheel()
	lab, _ := shelf.Ideal(w, x.Place, x.Step, x.Clear)
	e := plan.FreeEntry(shelf.IdealName(w.Describe(x.Place), x.Step, x.Clear), lab)
	if slices.ContainsFunc(d.Plan.Entries, func(o plan.Entry) bool {
		return o.MaterialID == nil && o.Name == e.Name && o.L == e.L &&
			o.A == e.A
	}) {
		return "", nil
	}
	return "take " + e.Name, d.Add(e)
}

// ChangeFree gives a free colour another value, 0 to 10, and clearness, 0 to
// 100 per cent. Its hue stays.
type ChangeFree struct {
	Key       int     `form:"key"`
	Value     float64 `form:"value"`
	Clearness float64 `form:"clearness"`
}

func (x ChangeFree) Do(d *plan.Draft) (string, error) {
	i, c, err := d.Entry(x.Key)
	if err != nil {
		return "", err
	}
	e := &d.Plan.Entries[i]
	switch {
	case e.MaterialID != nil:
		return "", words.Refuse("%s is a material. Change its colour on the shelf.", c.Name)
	case !(x.Value >= 0 && x.Value <= brief.MostValue):
		return "", words.Refuse("The value is from 0 to 10.")
	case !(x.Clearness >= 0 && x.Clearness <= brief.MostClear):
		return "", words.Refuse("The clearness is from 0 to 100 per cent.")
	}
	hue, level := c.Colour.OKLCh().H, colour.Lab{L: 10 * x.Value}.OKLCh().L
	lab := colour.OKLCh{L: level, C: x.Clearness / brief.MostClear * colour.MaxChroma(level, hue), H: hue}.Lab()
	lab.L = 10 * x.Value // what chroma does to L* is taken back
	*e = plan.Entry{Key: e.Key, Name: shelf.Renamed(e.Name, lab, d.Plan.OnWheel()), L: lab.L, A: lab.A, B: lab.B}
	return "change " + c.Name, nil
}

// view is the wheel stage of the plan as it stands in the draft.
func view(d *plan.Draft) (*plan.Plan, WheelView, error) {
	p, err := d.View()
	if err != nil {
		return nil, WheelView{}, err
	}
	v, err := Wheel(p)
	return p, v, err
}

// Wish puts a colour that the lit places lack on the wish list.
type Wish struct {
	Name string `form:"name"`
}

func (e Wish) Do(d *plan.Draft) (string, error) {
	_, v, err := view(d)
	if err != nil {
		return "", err
	}
	for _, pl := range v.Lit {
		for _, l := range pl.Lacks {
			if l.Name != e.Name {
				continue
			}
			if l.Wished {
				return "", nil
			}
			if len(d.Plan.Wishes) >= plan.MostWanted {
				return "", words.Refuse("The wish list holds %d colours, the most it can. Remove one first.", plan.MostWanted)
			}
			key := 1
			for _, w := range d.Plan.Wishes {
				key = max(key, w.Key+1)
			}
			d.Plan.Wishes = append(d.Plan.Wishes, plan.Wish{Key: key, Name: e.Name, L: l.Colour.L, A: l.Colour.A, B: l.Colour.B})
			return "wish for " + e.Name, nil
		}
	}
	return "", words.Refuse("This scheme no longer lacks %q.", e.Name)
}
