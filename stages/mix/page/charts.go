package page

import (
	"fmt"
	"net/http"
	"net/url"
	"strconv"

	"github.com/gin-gonic/gin"

	"lampfern/core/card"
	"lampfern/core/words"
	"lampfern/draw"
	"lampfern/plan"
	stage "lampfern/stages/mix"
	"lampfern/web"
)

type chartsBody struct {
	*stage.ChartView
	Query  string // of the chart that is shown, for its sheets
	Papers []card.Paper
	Asked  int // fields
}

// asked is the chart that an address asks for.
func (s pages) asked(c *gin.Context, p *plan.Plan) (*stage.ChartView, error) {
	number := func(field string) uint {
		n, err := strconv.ParseUint(c.Query(field), 10, 32)
		if err != nil {
			return 0
		}
		return uint(n)
	}
	return stage.Charted(c.Request.Context(), s.Desk, p, c.Query("kind"), number("a"), number("b"))
}

func (s pages) chartsStage(c *gin.Context, p *web.Page) error {
	v, err := s.asked(c, p.Plan)
	if err != nil {
		return err
	}
	p.Sub = v.Kind.Words
	q := url.Values{"kind": {v.Kind.Key}}
	if v.Kind.One && v.A != nil {
		q.Set("a", fmt.Sprint(v.A.ID))
	}
	if v.Kind.Two && v.B != nil {
		q.Set("b", fmt.Sprint(v.B.ID))
	}
	b := chartsBody{ChartView: v, Query: q.Encode(), Papers: card.Papers()}
	for _, r := range v.Rows {
		b.Asked += len(r.Fields)
	}
	if asked := c.Request.URL.Query(); len(asked) > 0 {
		p.Path += "?" + asked.Encode()
	}
	p.Body = b
	return nil
}

// Size of a field to be painted, in mm.
const fieldWide, fieldHigh = 44.0, 54.0

// chartSheets sends a chart as blanks to be painted, each with its number, its recipe
// and a grey patch to photograph it by.
func (s pages) chartSheets(format string) gin.HandlerFunc {
	return func(c *gin.Context) {
		p, err := s.Desk.Open(c.Request.Context(), web.PathID(c))
		if s.Trouble(c, err, web.NoSuchPlan) {
			return
		}
		v, err := s.asked(c, p)
		if s.Trouble(c, err, "") {
			return
		}
		paper, err := card.FindPaper(c.Query("paper"))
		if err != nil {
			s.Fail(c, http.StatusUnprocessableEntity, words.Capital(err.Error())+".")
			return
		}
		var fields []draw.SheetCard
		for _, r := range v.Rows {
			for _, f := range r.Fields {
				fields = append(fields, draw.SheetCard{Lines: f.Of, Number: f.Number, Colour: f.Colour})
			}
		}
		if len(fields) == 0 {
			s.Fail(c, http.StatusUnprocessableEntity, v.Problem)
			return
		}
		size, err := card.Custom(fieldWide, fieldHigh)
		if s.Trouble(c, err, "") {
			return
		}
		l, err := card.Lay(paper, size)
		if s.Trouble(c, err, "") {
			return
		}
		s.SendPages(c, p.Name+" "+v.Kind.Name, draw.Sheets(l, p.Name+": "+v.Kind.Name, fields, draw.Blanks, false), format)
	}
}
