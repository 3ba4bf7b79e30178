package guide

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Every chapter has a key of its own and something to read; what stands in the guide is found by its words.
func TestTheGuideIsReadAndSearched(t *testing.T) {
	b, err := read()
	require.NoError(t, err)
	require.Greater(t, len(b.Chapters), 12)
	keys := map[string]bool{}
	for _, c := range b.Chapters {
		assert.False(t, keys[c.Key], c.Key)
		keys[c.Key] = true
		assert.NotEmpty(t, c.blocks, c.Name)
		assert.True(t, c.HTML != "" || len(c.Terms) > 0, c.Name)
		assert.NotContains(t, string(c.HTML), "<!-- raw HTML", c.Name)
	}
	found := b.find("dye LOT")
	require.NotEmpty(t, found)
	assert.Equal(t, "words", found[len(found)-1].Key)
	for _, p := range b.find("mould weight batter") {
		assert.Contains(t, p.Words, "batter")
	}
	assert.Empty(t, b.find("zeppelin"))
	assert.Empty(t, b.find("  "))
}
