package material

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestCareFollowsTheKinds(t *testing.T) {
	words, more := CareOf([]string{"yarn", "paint", "paint", "filament"})
	assert.Len(t, words, 2, "each kind once")
	assert.Contains(t, words[0], "do not lick the brush")
	assert.Contains(t, strings.Join(more, " "), "Sand prints wet")
	words, more = CareOf([]string{"yarn", "thread", "fabric"})
	assert.Empty(t, words)
	assert.Empty(t, more)
	for kind := range cares {
		assert.Contains(t, Kinds(), kind)
	}
}
