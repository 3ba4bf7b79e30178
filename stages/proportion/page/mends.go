package page

import (
	"fmt"

	"lampfern/core/note"
	"lampfern/plan"
	stage "lampfern/stages/proportion"
	"lampfern/web"
)

// mends are what notes on the piece offer beside setting aside and swapping.
func mends(k *plan.Desk, p *web.Page) func(note.Note) *web.Mend {
	return func(n note.Note) *web.Mend {
		m := stage.MendOf(p.Plan, n)
		if m == nil {
			return nil
		}
		out := &web.Mend{Label: m.Label}
		page := func(format string, args ...any) string {
			return fmt.Sprintf("/plans/%d/", p.Plan.ID) + fmt.Sprintf(format, args...)
		}
		switch {
		case m.Find != nil:
			out.Page = page("gather?%s", web.QueryOf(*m.Find).Encode())
		case m.Material != 0:
			out.Do = fmt.Sprintf("do=replace&key=%d&material=%d", m.Card, m.Material)
		case len(m.Swaps) > 0:
			out.Do = plan.Press(m.Swaps)
		case m.Size != nil:
			out.Page = fmt.Sprintf("/shelf/material/%d#stock", m.Size.ID)
		case m.Far > 0:
			out.Page = page("proportion?far=%g", m.Far)
		case m.Open != "":
			out.Page = page("bringout?part=%s", m.Open)
		case m.Own:
			out.Page = page("%s", under(k, p.Plan).Key)
		default:
			out.Page = page("ways")
		}
		return out
	}
}
