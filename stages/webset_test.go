package stages

import (
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
)

// The curtain with a figure made three times and a jumper: every page and every print knows them all.
func TestASetOnEveryPageAndPaper(t *testing.T) {
	t.Parallel()
	m := visit(t, true)
	m.change("together", "do=add-piece&pattern=figure")
	m.change("together", "do=name-piece&key=2&name=Wanderer&times=3")
	m.change("proportion", "do=split-part&part=cloak&kind=shade&key=1&share=20")
	m.change("proportion", "do=split-part&part=tunic&kind=fade&key=2")
	m.change("proportion", "do=keep-colourway&name=On+the+road")
	m.change("together", "do=add-piece&pattern=stranded")
	m.change("together", "do=kinds&key=3&kind=yarn")
	code, body := m.change("together", "do=keep-set&name=At+the+fair")
	assert.Equal(t, 200, code)
	for _, want := range []string{"Wanderer × 3", "Fits", "of 3 pairs go", "of 1 outfit of three", "Compare two or three"} {
		assert.Contains(t, plain(body), want)
	}
	assert.Contains(t, body, `value="At the fair"`)
	code, body = m.get("/plans/9/together?beside=1")
	assert.Equal(t, 200, code)
	assert.Contains(t, plain(body), "At the fair · as it is now")
	m.change("together", "do=turn-to&key=2")
	m.change("proportion", "do=fill&part=tunic&key=1")
	_, body = m.get("/plans/9/together?beside=1")
	assert.Equal(t, 3, strings.Count(body, ` as it is now"`), "each piece")
	assert.Equal(t, 3, strings.Count(body, ` in At the fair"`), "and each as it was kept")
	code, body = m.get("/plans/9/together?with=1&with=2&with=3")
	assert.Equal(t, 200, code)
	assert.Contains(t, body, `id="outfit"`)
	code, body = m.get("/plans/9/media")
	assert.Equal(t, 200, code)
	assert.Contains(t, body, `id="media"`)

	code, body = m.get("/plans/9/worktable.pdf")
	assert.Equal(t, 200, code)
	assert.True(t, strings.Contains(body, "/Count 3"), "a page for each piece")
	code, body = m.get("/plans/9/colourways.pdf")
	assert.Equal(t, 200, code)
	assert.True(t, strings.Contains(body, "/Count 3"), "the curtain's, the figure's and the set's")
	code, body = m.get("/plans/9/set.svg")
	assert.Equal(t, 200, code)
	for _, want := range []string{`id="cloak of the Wanderer"`, `id="shade of the cloak of the Wanderer"`, " of the Stranded"} {
		assert.True(t, strings.Contains(body, want), want)
	}
	code, body = m.get("/plans/9/print.svg?what=pocket")
	assert.Equal(t, 200, code)
	assert.Contains(t, plain(body), "Wanderer × 3")
	assert.Contains(t, plain(body), "to buy")

	m.change("signoff", "do=make-sheet&maker=Wren")
	code, body = m.get("/plans/9/sheet.pdf?number=1")
	assert.Equal(t, 200, code)
	assert.True(t, strings.HasPrefix(body, "%PDF-"))
	code, body = m.get("/plans/9/signoff")
	assert.Equal(t, 200, code)
	assert.Contains(t, body, `At the fair`, "a colourway of the set can lie beside it")
	m.change("log", "do=order-work")
	_, body = m.get("/plans/9/log")
	assert.Contains(t, plain(body), "(Wanderer)")
	m.change("together", "do=out-piece&key=1&out=1")
	m.change("together", "do=out-piece&key=2&out=1")
	m.change("together", "do=out-piece&key=3&out=1")
	for path, want := range map[string]string{"worktable.pdf": "is hidden", "set.svg": "No piece of the set is shown",
		"colourways.pdf": "No colourways yet"} {
		code, body = m.get("/plans/9/" + path)
		assert.Equal(t, 422, code, path)
		assert.Contains(t, plain(body), want)
	}
}

// Cards of a set are printed in every kind that a piece is made of.
func TestCardsOfASetInEveryKind(t *testing.T) {
	t.Parallel()
	m := visit(t, true)
	m.change("together", "do=add-piece&pattern=stranded")
	m.change("together", "do=kinds&key=2&kind=yarn")
	_, body := m.get("/plans/9/media")
	at := regexp.MustCompile(`(?s)id="medium-1-yarn".*?<option value="([1-9]\d*)">([^,<]+),`).FindStringSubmatch(body)
	if !assert.Len(t, at, 3) {
		return
	}
	_, before := m.get("/plans/9/print.svg?what=cards")
	m.change("together", "do=medium&key=1&kind=yarn&material="+at[1])
	_, body = m.get("/plans/9/print.svg?what=cards")
	assert.Equal(t, strings.Count(before, `class="swatch-card"`)+1, strings.Count(body, `class="swatch-card"`))
	assert.True(t, strings.Contains(plain(body), at[2]) && strings.Contains(plain(body), "Plum curtain"), "the yarn and the cloth")
}
