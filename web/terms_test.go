package web

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"lampfern/core/words"
)

func TestTermsAreMarkedOnce(t *testing.T) {
	got := string(Terms("Its key is low: value 3.5 <on> the whole, in 4 value groups. Keys and valued things; two hues."))
	assert.Equal(t, 3, strings.Count(got, "<dfn"), got)
	assert.Contains(t, got, `>key</dfn> is low: <dfn title="How light or dark`)
	assert.Contains(t, got, "value</dfn> 3.5 &lt;on&gt; the whole, in 4 value groups", "once, and nothing else is a mark")
	assert.Contains(t, got, ">hues</dfn>.")
	assert.NotContains(t, got, "valued</dfn>")
	for i, term := range words.Terms {
		assert.NotEmpty(t, term.Means)
		assert.Contains(t, string(Terms("a "+term.Name+".")), "<dfn", term.Name)
		if i > 0 {
			assert.Less(t, strings.ToLower(words.Terms[i-1].Name), strings.ToLower(term.Name), "in the order of the alphabet")
		}
	}
}
