package piece

import (
	"fmt"

	"lampfern/core/pour"
	"lampfern/core/weave"
)

// Own is what a maker puts into a template beside numbers: the order of
// threads and a draft for a cloth, the rows of a chart,
// a drawing, or the parts of a batter.
type Own struct {
	Warp    []weave.Stripe `json:"warp,omitempty"`
	Weft    []weave.Stripe `json:"weft,omitempty"`
	Rows    []weave.Stripe `json:"rows,omitempty"` // of row stripes
	Draft   *weave.Draft   `json:"draft,omitempty"`
	Chart   Chart          `json:"chart,omitempty"`
	Drawing *Drawing       `json:"drawing,omitempty"`
	Pours   []pour.Pour    `json:"pours,omitempty"`
	Solid   *Solid         `json:"solid,omitempty"`
}

// Any reports whether the maker put anything in.
func (o Own) Any() bool {
	return o.Rows != nil || o.Warp != nil || o.Weft != nil || o.Draft != nil || o.Chart != nil || o.Drawing != nil || o.Pours != nil || o.Solid != nil
}

// Check says in one sentence what keeps any of it from being used.
func (o Own) Check() error {
	for _, order := range [][]weave.Stripe{o.Warp, o.Weft, o.Rows} {
		if order != nil {
			if err := weave.CheckOrder(order); err != nil {
				return err
			}
		}
	}
	if o.Draft != nil {
		if err := o.Draft.Check(); err != nil {
			return err
		}
	}
	if o.Chart != nil {
		if err := o.Chart.Check(); err != nil {
			return err
		}
	}
	if o.Pours != nil {
		if err := pour.Check(o.Pours); err != nil {
			return err
		}
	}
	if o.Solid != nil {
		if err := o.Solid.Check(); err != nil {
			return err
		}
	}
	if o.Drawing != nil {
		return o.Drawing.Check()
	}
	return nil
}

// lettered are the parts of yarns that are used, by letter, and the part of
// each yarn.
func lettered(used [weave.MostYarns]bool) (parts []Part, of [weave.MostYarns]int16) {
	for y, on := range used {
		if on {
			of[y] = int16(len(parts))
			parts = append(parts, Part{yarnKey(y), "yarn " + weave.Letter(y)})
		}
	}
	return parts, of
}

func yarnKey(yarn int) string { return fmt.Sprintf("yarn%d", yarn+1) }
