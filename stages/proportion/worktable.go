package proportion

import (
	"cmp"
	"slices"
	"strings"

	"lampfern/core/colour"
	"lampfern/core/craft"
	"lampfern/core/piece"
	"lampfern/plan"
)

// WorkedCard is a card as it lies making sheet.
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
		w := WorkedCard{TrayCard: t, Source: "to mix or find"}
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

// InOrder puts cards into the order in which they are taken up within a sitting.
func InOrder(p *plan.Plan, cards []WorkedCard) []WorkedCard {
	of, _ := craft.Named(p.Craft)
	out := slices.Clone(cards)
	switch of.Sitting {
	case piece.AnyOrder:
		return nil
	case piece.InsideOut:
		first := func(w WorkedCard) int {
			best := len(of.Inside) + len(p.Piece.Parts)
			for i, part := range p.Piece.Parts {
				if !slices.Contains(w.Parts, part.Name) {
					continue
				}
				base, _ := piece.SplitOff(part.Key)
				rank := slices.Index(of.Inside, base)
				if rank < 0 {
					rank = len(of.Inside) + i
				}
				best = min(best, rank)
			}
			return best
		}
		slices.SortStableFunc(out, func(a, b WorkedCard) int { return cmp.Compare(first(a), first(b)) })
	default:
		slices.SortStableFunc(out, func(a, b WorkedCard) int { return cmp.Compare(b.Colour.L, a.Colour.L) })
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
