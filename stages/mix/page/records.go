package page

import (
	"fmt"
	"net/url"

	"github.com/gin-gonic/gin"

	"lampfern/core/words"
	stage "lampfern/stages/mix"
	"lampfern/web"
)

// recordsStage shows every record of the maker, to be searched and corrected.
func (s pages) recordsStage(c *gin.Context, p *web.Page) error {
	v, err := stage.Records(c.Request.Context(), s.Desk, p.Plan, c.Query("q"))
	if err != nil {
		return err
	}
	p.Sub = "What you mixed, and the results"
	if v.Text != "" {
		p.Sub = fmt.Sprintf("%s of %d", words.Plural(len(v.Records), "record", "records"), v.All)
		p.Path += "?" + url.Values{"q": {v.Text}}.Encode()
	}
	p.Body = v
	return nil
}
