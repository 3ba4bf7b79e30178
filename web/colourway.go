package web

import "lampfern/plan"

// ColourwayForm is where a colourway's name, customer, season, mood and remark are written.
type ColourwayForm struct {
	plan.Colourway
	Plan  *plan.Plan
	Stage string // of the page that it lies on
	Moods []plan.MoodChoice
}

// FormOf is that form on a page.
func FormOf(p *Page, c plan.Colourway, moods []plan.MoodChoice) ColourwayForm {
	return ColourwayForm{c, p.Plan, p.Stage, moods}
}

// Said reports whether anything but the name is written.
func (f ColourwayForm) Said() bool { return f.For+f.Season+f.Mood+f.Remark != "" }

// Forgotten reports whether its mood is no longer among the maker's.
func (f ColourwayForm) Forgotten() bool {
	for _, m := range f.Moods {
		if m.Name == f.Mood {
			return false
		}
	}
	return f.Mood != ""
}
