package proportion

import (
	"strings"

	"lampfern/core/piece"
	"lampfern/core/pour"
	"lampfern/core/weave"
	"lampfern/core/words"
	"lampfern/plan"
)

// SetRows writes the order of row stripes, as weave.ParseOrder reads it; none goes
// back to that of the settings.
type SetRows struct {
	Rows string `form:"rows"`
}

// Do makes the change.
func (e SetRows) Do(d *plan.Draft) (string, error) {
	return plan.OwnEdit("rows", "order the rows", func(d *plan.Draft, own *piece.Own) (err error) {
		own.Rows = nil
		if strings.TrimSpace(e.Rows) == "" {
			return nil
		}
		if own.Rows, err = weave.ParseOrder(e.Rows, 10/d.Setting("row")); err != nil {
			return words.Refuse("The order of the rows cannot be read: %s.", err)
		}
		return nil
	})(d)
}

// RowOrder is the order of the plan's row stripes as it is written.
func RowOrder(p *plan.Plan) string {
	if p.Own().Rows != nil {
		return weave.OrderText(p.Own().Rows)
	}
	t, err := piece.Find("rows")
	if err != nil {
		return ""
	}
	v, err := t.Values(p.Settings)
	if err != nil {
		return ""
	}
	return weave.OrderText(piece.RowOrder(v))
}

// SetPours writes the parts of a batter in the order they are poured, as pour.Parse
// reads them.
type SetPours struct {
	Pours string `form:"pours"`
}

// Do makes the change.
func (e SetPours) Do(d *plan.Draft) (string, error) {
	return plan.OwnEdit("poured", "write the pours", func(_ *plan.Draft, own *piece.Own) (err error) {
		if own.Pours, err = pour.Parse(e.Pours); err != nil {
			return words.Refuse("The pours cannot be read: %s.", err)
		}
		return nil
	})(d)
}

// Pours are the plan's pours as they are written.
func Pours(p *plan.Plan) string {
	if p.Own().Pours == nil {
		return pour.Text(piece.UsualPours())
	}
	return pour.Text(p.Own().Pours)
}
