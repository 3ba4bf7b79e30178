package plan

import (
	"fmt"

	"lampfern/core/balance"
	"lampfern/core/colour"
	"lampfern/core/value"
	"lampfern/core/wheel"
	"lampfern/core/words"
)

// Reads says in a few words what cards do together in a layout of them: what leads, how warm it is,
// and its values. It is empty where no card has any room.
func (p *Plan) Reads(tray []TrayCard, l balance.Layout) string {
	labs := make([]colour.Lab, len(tray))
	for i, t := range tray {
		labs[i] = t.Colour
	}
	var pulls []balance.Pull
	for _, pull := range balance.FirstLook(l, labs) {
		if l.Share[pull.Part] > 0 {
			pulls = append(pulls, pull)
		}
	}
	if len(pulls) == 0 {
		return ""
	}
	first, said := tray[pulls[0].Part].Name, ""
	switch {
	case len(pulls) == 1:
		said = first + " is all there is."
	case pulls[0].Pull < balance.FocusClear*pulls[1].Pull:
		said = fmt.Sprintf("Nothing leads: %s and %s draw the eye alike.", first, tray[pulls[1].Part].Name)
	default:
		said = fmt.Sprintf("%s draws the eye first, %s.", first, balance.Lead(pulls[0], pulls[1], tray[pulls[1].Part].Name))
	}
	t := balance.Temperatures(l, labs, p.School())
	read := value.CheckShares(labs, l.Share)
	return said + fmt.Sprintf(" Warm %s, cool %s, neutral %s. The key is %s, in %s.", words.PerCent(t[wheel.Warm]), words.PerCent(t[wheel.Cool]),
		words.PerCent(t[wheel.Neutral]),
		read.Key, words.Plural(read.Groups, "value group", "value groups"))
}
