package page

import (
	"fmt"
	"net/http"

	"github.com/gin-gonic/gin"

	"lampfern/core/card"
	"lampfern/core/words"
	"lampfern/draw"
	stage "lampfern/stages/mix"
	"lampfern/web"
)

// carrySheets sends the list to carry: the fewest paints for all, the recipes of each
// wanted colour from them, and what is to be looked for.
func (s pages) carrySheets(format string) gin.HandlerFunc {
	return func(c *gin.Context) {
		p, err := s.Desk.Open(c.Request.Context(), web.PathID(c))
		if s.Trouble(c, err, web.NoSuchPlan) {
			return
		}
		paper, err := card.FindPaper(c.Query("paper"))
		if err != nil {
			s.Fail(c, http.StatusUnprocessableEntity, words.Capital(err.Error())+".")
			return
		}
		v, err := stage.View(c.Request.Context(), s.Desk, p, true)
		if s.Trouble(c, err, "") {
			return
		}
		if v.Few == nil {
			s.Fail(c, http.StatusUnprocessableEntity, "Add at least two target colours on Mix first.")
			return
		}
		var rows []draw.MixRow
		for _, w := range v.Wanted {
			row := draw.MixRow{Name: w.Name, Wanted: w.Colour, Lines: []string{fmt.Sprintf("No recipe within ΔE %g.", v.Few.Within)}}
			for _, r := range v.Few.Rows {
				if r.Key == w.Key {
					mixed := r.Recipe.Colour
					row.Mixed, row.Lines = &mixed, []string{r.Recipe.Words, fmt.Sprintf("%s, accurate to about ΔE %g", stage.ApartWords(r.Recipe.Apart),
						v.Trust)}
				}
			}
			rows = append(rows, row)
		}
		var lines []string
		if len(v.Few.Names) > 0 {
			lines = append(lines, "Take with you: "+words.All(v.Few.Names)+".")
		}
		if v.Few.Tube != nil {
			lines = append(lines, "Look for: "+v.Few.Tube.Words)
		}
		s.SendPages(c, p.Name+" to mix", draw.MixList(paper, p.Name+": to mix", rows, lines), format)
	}
}
