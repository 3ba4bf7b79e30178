package proportion

import (
	"strings"

	"lampfern/core/colour"
	"lampfern/plan"
)

// WorkedCard is a card as it lies at the worktable.
type WorkedCard struct {
	plan.TrayCard
	Source string // where it is to be found, or that it is to be mixed
}

// Worked are the cards that some part of the piece takes, in the order of the tray.
func Worked(p *plan.Plan) []WorkedCard {
	var out []WorkedCard
	for _, t := range p.Tray {
		if len(t.Parts) == 0 {
			continue
		}
		w := WorkedCard{TrayCard: t, Source: "to be mixed or found"}
		if t.Recipe != "" {
			w.Source = "mix " + t.Recipe
		}
		if t.ID != 0 && t.Source == "mixed" && t.Remark != "" {
			w.Source = t.Remark // its recipe
		} else if t.ID != 0 {
			known := []string{t.Kind, t.Supplier, t.Reference}
			if t.Lot != "" {
				known = append(known, "lot "+t.Lot)
			}
			w.Source = ""
			for _, k := range known {
				if k != "" {
					w.Source += " · " + k
				}
			}
			w.Source = strings.TrimPrefix(w.Source, " · ")
		}
		out = append(out, w)
	}
	return out
}

// PartColours are the colours of the piece's parts; nil for one without a card.
func PartColours(p *plan.Plan) []*colour.Lab {
	labs := make([]*colour.Lab, len(p.Piece.Parts))
	for i, at := range p.Fill() {
		if at >= 0 {
			labs[i] = &p.Tray[at].Colour
		}
	}
	return labs
}
