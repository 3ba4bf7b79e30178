package proportion

import (
	"fmt"

	"lampfern/core/balance"
	"lampfern/core/colour"
	"lampfern/core/value"
	"lampfern/core/wheel"
	"lampfern/core/words"
	"lampfern/plan"
)

// Reads says in a few words what a colouring of the piece does: what leads, how warm it is, and its
// values. fill is the card of each part by its number in tray, −1 for none.
func Reads(p *plan.Plan, tray []plan.TrayCard, fill []int) string {
	empty := 0
	for _, at := range fill {
		if at < 0 {
			empty++
		}
	}
	said := ""
	if empty > 0 {
		said = words.Capital(words.Count(empty)) + " " + map[bool]string{true: "part has", false: "parts have"}[empty == 1] + " no card. "
	}
	if empty == len(fill) {
		return said
	}
	layout, labs := balance.Layout{Share: p.Piece.Shares, Border: p.Piece.Borders, Area: p.Piece.Area()}.Merge(fill, len(tray)), make([]colour.Lab, len(tray))
	for i, t := range tray {
		labs[i] = t.Colour
	}
	var pulls []balance.Pull
	for _, pull := range balance.FirstLook(layout, labs) {
		if layout.Share[pull.Part] > 0 {
			pulls = append(pulls, pull)
		}
	}
	first := tray[pulls[0].Part].Name
	switch {
	case len(pulls) == 1:
		said += first + " is all there is."
	case pulls[0].Pull < balance.FocusClear*pulls[1].Pull:
		said += fmt.Sprintf("Nothing leads: %s and %s pull alike.", first, tray[pulls[1].Part].Name)
	default:
		said += fmt.Sprintf("%s leads, %.1f times the pull of %s.", first, pulls[0].Pull/pulls[1].Pull, tray[pulls[1].Part].Name)
	}
	t := balance.Temperatures(layout, labs, p.School())
	said += fmt.Sprintf(" Warm %.0f%%, cool %.0f%%.", 100*t[wheel.Warm], 100*t[wheel.Cool])
	read := value.CheckShares(labs, layout.Share)
	return said + fmt.Sprintf(" The key is %s, in %s.", read.Key, words.Plural(read.Groups, "value group", "value groups"))
}
