package proportion

import (
	"fmt"
	"math"

	"lampfern/core/craft"
	"lampfern/core/piece"
	"lampfern/core/words"
	"lampfern/plan"
)

// BarsView is what the bars that are cut from a piece have of each part.
type BarsView struct {
	Bars  int
	Rows  []BarRow
	Pours []PourRow
}

// BarRow is one part over the bars.
type BarRow struct {
	Name        string // of its card, its own where it has none
	Whole       float64
	Least, Most float64
	In          [2]int // the bars with the least and the most, from 1
}

// PourRow is one way of pouring with what its bars have, least and most of each part.
type PourRow struct {
	piece.Trial
	Ranges []BarRow
	Uneven float64 // the widest range of a part, between whole per cents as they are shown, in shares of a bar
	Now    bool
}

// Bars reads the plan's piece over the bars that are cut from it; nil where none are.
func Bars(p *plan.Plan) *BarsView {
	t, err := craft.Pattern(p.Pattern)
	if err != nil || t.Bars == nil || p.Piece == nil {
		return nil
	}
	all := t.Bars(p.Piece.Piece, p.Values())
	if len(all) < 2 {
		return nil
	}
	v := &BarsView{Bars: len(all), Rows: ranges(all)}
	fill := p.Fill()
	for i := range v.Rows {
		v.Rows[i].Name, v.Rows[i].Whole = words.Capital(p.Piece.Parts[i].Name), p.Piece.Shares[i]
		if fill[i] >= 0 {
			v.Rows[i].Name = p.Tray[fill[i]].Name
		}
	}
	return v
}

// ranges are the least and the most of each part in any bar.
func ranges(all [][]float64) []BarRow {
	out := make([]BarRow, len(all[0]))
	for i := range out {
		out[i] = BarRow{Least: math.Inf(1), Most: -1}
		for bar, share := range all {
			if share[i] < out[i].Least {
				out[i].Least, out[i].In[0] = share[i], bar+1
			}
			if share[i] > out[i].Most {
				out[i].Most, out[i].In[1] = share[i], bar+1
			}
		}
	}
	return out
}

// Pours compares the bars of the ways to pour the plan's piece; it takes a moment.
func Pours(k *plan.Desk, p *plan.Plan) (*BarsView, error) {
	v := Bars(p)
	if v == nil {
		return nil, words.Refuse("Choose Poured soap with at least two bars first.")
	}
	t, err := craft.Pattern(p.Pattern)
	if err != nil {
		return nil, err
	}
	now := p.Values()
	for _, trial := range t.Pours(now) {
		key := fmt.Sprintf("proportion pour %s %v %+v", p.Pattern, trial.Set, p.Put())
		row, err := plan.Recall(k, key, func() (PourRow, error) {
			row := PourRow{Trial: trial}
			built, err := t.Build(trial.Set, p.Put())
			if err != nil {
				return row, fmt.Errorf("pouring it another way: %w", err)
			}
			row.Ranges = ranges(t.Bars(built, trial.Set))
			for _, r := range row.Ranges {
				row.Uneven = max(row.Uneven, (math.Round(100*r.Most)-math.Round(100*r.Least))/100)
			}
			return row, nil
		})
		if err != nil {
			return nil, err
		}
		row.Now = trial.Set["method"] == now["method"] && trial.Set["seed"] == now["seed"]
		v.Pours = append(v.Pours, row)
	}
	return v, nil
}
