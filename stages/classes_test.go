package stages

import (
	"os"
	"path/filepath"
	"regexp"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// All rooms' styles reach every page in one sheet, so a class laid out by itself in two rooms is
// laid out by both of them in each.
func TestNoClassIsLaidOutInTwoRooms(t *testing.T) {
	t.Parallel()
	sheets, err := filepath.Glob("*/page/*.css")
	require.NoError(t, err)
	require.Greater(t, len(sheets), 8)
	alone, first := regexp.MustCompile(`(?m)^(\.[a-z][\w-]*) \{`), map[string]string{}
	for _, sheet := range sheets {
		css, err := os.ReadFile(sheet)
		require.NoError(t, err)
		for _, m := range alone.FindAllStringSubmatch(string(css), -1) {
			if of, is := first[m[1]]; is {
				assert.Equal(t, of, sheet, m[1])
			}
			first[m[1]] = sheet
		}
	}
}
