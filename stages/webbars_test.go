package stages

import (
	"net/http"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The widest range of every way to pour follows by hand from the figures beside it.
func TestBarsAreComparedByFiguresThatFollow(t *testing.T) {
	t.Parallel()
	m := visit(t, true)
	code, body := m.get("/plans/5/bars")
	require.Equal(t, http.StatusOK, code)
	rows := regexp.MustCompile(`(?s)<tr[^>]*><th scope="row">.*?</tr>`).FindAllString(body, -1)
	require.Len(t, rows, 12, "four ways of pouring, three seeds")
	now := 0
	for _, row := range rows {
		widest := 0
		for _, r := range regexp.MustCompile(`(\d+)% to (\d+)%`).FindAllStringSubmatch(row, -1) {
			least, _ := strconv.Atoi(r[1])
			most, _ := strconv.Atoi(r[2])
			assert.LessOrEqual(t, least, most)
			widest = max(widest, most-least)
		}
		assert.Positive(t, widest)
		assert.Contains(t, row, "<td>"+strconv.Itoa(widest)+"%</td>")
		now += strings.Count(row, "as it is now")
	}
	assert.Equal(t, 1, now)
}
