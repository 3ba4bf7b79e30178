package web

import (
	"slices"
	"strings"

	"github.com/gin-gonic/gin"
)

// Having are the keys of what the asking page has already and need not be sent again; none for a
// page that is asked for whole.
func Having(c *gin.Context) []string {
	if c.GetHeader(PartHeader) == "" {
		return nil
	}
	return strings.Split(c.GetHeader(HaveHeader), "|")
}

// Has reports whether the asking page has what a key names.
func Has(c *gin.Context, key string) bool { return slices.Contains(Having(c), key) }
