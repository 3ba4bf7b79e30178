package brief

import (
	"fmt"
	"slices"
	"strings"

	"lampfern/core/brief"
	"lampfern/core/colour"
	"lampfern/core/craft"
	"lampfern/core/form"
	"lampfern/core/material"
	"lampfern/core/words"
	"lampfern/plan"
)

// SetBrief writes what the maker says of the thing and its limits. Limits that
// ask for nothing are not kept.
type SetBrief struct {
	Name    string   `form:"name"`
	Craft   string   `form:"craft"`
	Purpose string   `form:"purpose"`
	Kinds   []string // of material; nil leaves them as they are
	Brief   brief.Brief
	Limits  brief.Limits
}

func (e *SetBrief) Read(f *form.Form) error {
	e.Purpose = strings.TrimSpace(e.Purpose)
	free := brief.Free()
	e.Limits = brief.Limits{
		ValueFrom: f.Number("value_from", free.ValueFrom), ValueTo: f.Number("value_to", free.ValueTo),
		ClearFrom: f.Number("clearness_from", free.ClearFrom), ClearTo: f.Number("clearness_to", free.ClearTo),
		ContrastFrom: f.Number("contrast_from", free.ContrastFrom), ContrastTo: f.Number("contrast_to", free.ContrastTo),
		Warm: f.Text("bias") == "warm", Cool: f.Text("bias") == "cool",
	}
	for _, o := range f.Texts("out") {
		e.Limits.Out = append(e.Limits.Out, colour.FamilyName(o))
	}
	e.Brief = brief.Brief{For: f.Text("for"), Season: f.Text("season"), Place: f.Text("place"), Lamp: f.Text("lamp"),
		Distance: f.Number("distance", 0), Focus: f.Text("focus"), Quiet: f.Text("quiet"), Budget: f.Number("budget", 0)}
	if f.Has("kinds") { // so many were shown, and any may be unticked
		e.Kinds = append([]string{}, f.Texts("kind")...)
	}
	if f.Has("count") {
		e.Brief.Count = f.Int("count")
	}
	return nil
}

func (e SetBrief) Do(d *plan.Draft) (string, error) {
	keepKinds(d, e.Craft, e.Kinds)
	if _, err := (Describe{Name: e.Name, Craft: e.Craft, Purpose: e.Purpose}).Do(d); err != nil {
		return "", err
	}
	e.Brief.Mood = Of(d.Plan).Brief.Mood
	e.Limits.Schemes = Of(d.Plan).Brief.Limit().Schemes
	Of(d.Plan).Brief = e.Brief
	keepLimits(d, e.Limits)
	return "change the brief", nil
}

// SetMood takes a mood's limits for the brief; a mood without a name lets go of
// every limit.
type SetMood struct {
	Mood brief.Mood
}

func (e SetMood) Do(d *plan.Draft) (string, error) {
	Of(d.Plan).Brief.Mood = e.Mood.Name
	if e.Mood.Name == "" {
		Of(d.Plan).Brief.Limits = nil
		return "clear the mood", nil
	}
	keepLimits(d, e.Mood.Limits)
	return "use the mood " + e.Mood.Name, nil
}

// TakeMood takes the mood of a name, shipped or the maker's own.
type TakeMood struct {
	Mood string `form:"mood"`
}

func (e TakeMood) Do(d *plan.Draft) (string, error) {
	m, err := plan.Mood(d.Ctx, d.Desk, e.Mood)
	if err != nil {
		return "", err
	}
	return SetMood{Mood: m}.Do(d)
}

// keepKinds writes the kinds of material that were ticked. Those of the craft, and
// none, are not kept: they follow the craft.
func keepKinds(d *plan.Draft, making string, kinds []string) {
	if kinds == nil {
		return
	}
	of, _ := craft.Named(making)
	followed := making != d.Plan.Craft && len(d.Plan.Kinds) == 0 && slices.Equal(kinds, inOrder(d.Plan.UsualKinds()))
	if d.Plan.Kinds = inOrder(kinds); followed || slices.Equal(d.Plan.Kinds, inOrder(of.Kinds)) {
		d.Plan.Kinds = nil
	}
}

// inOrder are kinds in the order of all of them, those that are none last.
func inOrder(kinds []string) []string {
	var out []string
	for _, k := range material.Kinds() {
		if slices.Contains(kinds, k) {
			out = append(out, k)
		}
	}
	for _, k := range kinds {
		if !slices.Contains(out, k) {
			out = append(out, k) // refused when the plan is checked
		}
	}
	return out
}

func keepLimits(d *plan.Draft, l brief.Limits) {
	Of(d.Plan).Brief.Limits = nil
	if fmt.Sprint(l) != fmt.Sprint(brief.Free()) {
		Of(d.Plan).Brief.Limits = &l
	}
}

// Describe names the plan and says what it is for.
type Describe struct {
	Name    string
	Craft   string
	Purpose string
}

func (e Describe) Do(d *plan.Draft) (string, error) {
	if len([]rune(e.Purpose)) > material.MaxRemark {
		return "", words.Refuse("The purpose is longer than %d characters: shorten it.", material.MaxRemark)
	}
	d.Plan.Name, d.Plan.Craft, Of(d.Plan).Purpose = e.Name, e.Craft, e.Purpose
	return "describe the plan", nil
}
