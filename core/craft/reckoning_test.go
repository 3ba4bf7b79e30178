package craft

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestReckoning(t *testing.T) {
	for _, tt := range []struct {
		craft, pattern string
		own            bool
		want           string
	}{
		{"quilt", "ninepatch", false, "quilt"},
		{"quilt", "ninepatch", true, "quilt"},
		{"soap", "ninepatch", true, "quilt"},
		{"building parts", "drawn", true, "other"},
		{"a craft that is none", "ninepatch", false, "other"},
	} {
		assert.Equal(t, tt.want, Reckoning(tt.craft, tt.pattern, tt.own).Name, "%+v", tt)
	}
	for _, c := range All() {
		for _, p := range c.Patterns {
			assert.NotNil(t, Reckoning(c.Name, p.Key, false).Needs, "%s %s", c.Name, p.Key)
		}
	}
}
