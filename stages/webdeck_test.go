package stages

import (
	"fmt"
	"net/http"
	"net/url"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/colour"
	"lampfern/core/material"
)

func TestEveryPrint(t *testing.T) {
	t.Parallel()
	m := visit(t, true)
	for _, what := range []string{"cards", "backs", "blanks", "fan", "pocket", "proportion"} {
		for _, q := range []string{"&of=tray", "&of=family+violet&paper=letter"} {
			code, body := m.get("/plans/9/print.pdf?what=" + what + q)
			assert.Equal(t, 200, code, what+q)
			assert.True(t, strings.HasPrefix(body, "%PDF-"))
			code, body = m.get("/plans/9/print.svg?what=" + what + q)
			assert.Equal(t, 200, code)
			assert.Contains(t, body, `mm" height="`)
			assert.Contains(t, plain(body), "paper is a guide: trust the material")
		}
	}
	code, body := m.get("/plans/9/print.png?what=cards&size=small&hole=1")
	assert.Equal(t, 200, code)
	assert.True(t, strings.HasPrefix(body, "\x89PNG"))
	for query, want := range map[string]string{
		"w=300&h=350":      "larger than A4 with its crop marks: choose a smaller card",
		"w=5&h=5":          "each side is 30 to 400 mm",
		"w=wide&h=60":      "in figures",
		"size=giant":       "choose one from the list",
		"paper=napkin":     "choose a4 or letter",
		"of=flagged":       "Choose Print this on a card first",
		"of=attic":         "the chosen cards or a family",
		"of=family+purple": "That family is empty",
		"what=poster":      "nothing called",
	} {
		code, body := m.get("/plans/9/print.pdf?" + query)
		assert.Equal(t, 422, code, query)
		assert.Contains(t, plain(body), want, query)
	}
	m.change("cards", "do=flag-drawer&family=blue&on=1")
	code, body = m.get("/plans/9/print.pdf?of=flagged")
	assert.Equal(t, 200, code)
	assert.True(t, strings.HasPrefix(body, "%PDF-"))
}

func TestAPaletteIsShared(t *testing.T) {
	t.Parallel()
	m := visit(t, true)
	for format, want := range map[string]string{"html": "Marrow flesh", "csv": "Marrow flesh", "tokens.json": "$value", "svg": `width="125mm"`,
		"png": "\x89PNG", "pdf": "%PDF-"} {
		code, body := m.get("/plans/9/palette." + format)
		assert.Equal(t, 200, code, format)
		assert.Contains(t, body, want, format)
		if format == "html" {
			for _, never := range []string{"href=", "src=", "<script", "url(", "http"} {
				assert.NotContains(t, body, never, "it stands by itself")
			}
			assert.Contains(t, body, "trust the real card")
			assert.Contains(t, body, "accent, 5%")
		}
	}
	empty := visit(t, false)
	empty.post("/plans", url.Values{"name": {"Scarf"}, "craft": {"weaving"}})
	code, body := empty.get("/plans/1/palette.html")
	assert.Equal(t, 422, code)
	assert.Contains(t, plain(body), "no palette to share")
	code, body = empty.get("/plans/1/cards")
	assert.Equal(t, 200, code)
	assert.Contains(t, plain(body), "The shelf is empty.")
}

func TestStrangeNamesOnCards(t *testing.T) {
	t.Parallel()
	m := visit(t, true)
	for _, name := range []string{"Łąka çınar naïve", "وردة شرقية", "Thread 🧵 and 🪡", strings.Repeat("long ", 12)} {
		id, err := m.work.SaveMaterial(t.Context(), 0, 0, material.Material{Name: name, Colour: colour.Lab{L: 55, A: 100, B: -20}})
		require.NoError(t, err)
		code, _ := m.change("cards", "do=pull&material="+fmt.Sprint(id))
		assert.Equal(t, 200, code)
	}
	_, err := m.work.SaveMaterial(t.Context(), 0, 0, material.Material{Name: strings.Repeat("x", 200), Colour: colour.Lab{L: 50}})
	assert.ErrorContains(t, err, "60 characters")
	code, body := m.get("/plans/9/print.svg")
	assert.Equal(t, 200, code)
	assert.Contains(t, body, "printed duller: outside sRGB", "a colour that cannot be printed says so")
	code, _ = m.get("/plans/9/print.pdf")
	assert.Equal(t, 200, code)
	_, body = m.get("/plans/9/deck.json")
	assert.Contains(t, body, "duller on a screen")
	assert.Contains(t, body, "وردة شرقية")
}

func TestTheChartOfColourants(t *testing.T) {
	t.Parallel()
	m := visit(t, true)
	code, body := m.get("/shelf/chart?kind=paint&layers=3")
	assert.Equal(t, http.StatusOK, code)
	assert.Contains(t, plain(body), "3 layers")
	code, body = m.get("/shelf/chart.pdf?kind=paint&layers=3")
	assert.Equal(t, 200, code)
	assert.True(t, strings.HasPrefix(body, "%PDF-"))
	for query, want := range map[string]string{"kind=paint&layers=9": "1 to 4 layers", "kind=ghost&layers=1": "nothing to chart",
		"kind=paint&paper=bark": "choose a4 or letter"} {
		code, body := m.get("/shelf/chart.pdf?" + query)
		assert.Equal(t, 422, code, query)
		assert.Contains(t, plain(body), want)
	}
	sh, err := m.work.Shelf(t.Context())
	require.NoError(t, err)
	paint := sh.Cards[0]
	for _, c := range sh.Cards {
		if c.Kind == "paint" {
			paint = c
		}
	}
	enter := func(layer, hex string) string {
		_, body := m.post("/shelf/chart?kind=paint&layers=3", url.Values{"material": {fmt.Sprint(paint.ID)}, "layer": {layer}, "colour": {hex}})
		return plain(body)
	}
	assert.Contains(t, enter("3", "#304050"), "layer 2 is next")
	assert.Contains(t, enter("2", "#304050"), "in 2 layers")
	assert.Contains(t, enter("1", "#506070"), paint.Name+" compared with before")
	assert.Contains(t, enter("1", "blue"), "is not a colour")
}
