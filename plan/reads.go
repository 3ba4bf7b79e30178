package plan

import (
	"fmt"

	"lampfern/core/balance"
	"lampfern/core/colour"
	"lampfern/core/value"
	"lampfern/core/wheel"
	"lampfern/core/words"
)

// pairRead names the pair that competes, or else the one that carries the whole; empty where there is neither.
func (p *Plan) pairRead(tray []TrayCard, l balance.Layout) string {
	said := ""
	for _, pair := range balance.Pairs(l, ColoursOf(tray), p.Eye()) {
		two := words.All([]string{tray[pair.Lesser].Name, tray[pair.Other].Name})
		switch {
		case pair.Relation == balance.Competes || pair.Relation == balance.Vibrates:
			return fmt.Sprintf(" %s compete: %s.", two, pair.Why)
		case said == "" && pair.Relation != balance.Bridged && pair.Weight > 0:
			said = fmt.Sprintf(" %s carry it: %s.", two, pair.Why)
		}
	}
	return said
}

// Reads says in a few words what cards do together in a layout of them: what leads, which pair carries it or
// competes, how warm it is,
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
		said = "There is only " + first + "."
	case pulls[0].Pull < balance.FocusClear*pulls[1].Pull:
		said = fmt.Sprintf("%s and %s compete, so nothing stands out.", first, tray[pulls[1].Part].Name)
	default:
		said = fmt.Sprintf("%s draws the eye first, %s.", first, balance.Lead(pulls[0], pulls[1], tray[pulls[1].Part].Name))
	}
	said += p.pairRead(tray, l)
	t := balance.Temperatures(l, ColoursOf(tray), p.School())
	read := value.CheckShares(labs, l.Share)
	return said + fmt.Sprintf(" %s warm, %s cool, %s neutral. %s overall, in %s.", words.PerCent(t[wheel.Warm]), words.PerCent(t[wheel.Cool]),
		words.PerCent(t[wheel.Neutral]),
		words.Capital(read.KeyWord()), read.GroupWords())
}
