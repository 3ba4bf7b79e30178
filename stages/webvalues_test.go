package stages

import (
	"context"
	"fmt"
	"net/url"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/colour"
	"lampfern/core/material"
)

func TestRunsAreKeptInEveryFormat(t *testing.T) {
	t.Parallel()
	m := visit(t, true)
	for path, want := range map[string]string{
		"run.csv": "Dusty fig", "run.tokens.json": "$value", "run.svg": `width="125mm"`, "run.pdf": "%PDF-", "run.png": "\x89PNG",
		"run.csv?ramp=1": "Heather dusk 1", "run.svg?ramp=1": `width="175mm"`, "combinations.pdf": "%PDF-",
	} {
		code, body := m.get("/plans/9/" + path)
		assert.Equal(t, 200, code, path)
		if path == "run.csv" {
			assert.NotContains(t, body, want, "strays are left out")
			assert.Equal(t, 6, strings.Count(body, "\n"))
			continue
		}
		assert.Contains(t, body, want, path)
	}
	for path, want := range map[string]string{"/plans/9/run.pdf?ramp=99": "no such ramp", "/plans/99/run.csv": "no such plan",
		"/plans/99/chits.pdf": "no such plan"} {
		code, body := m.get(path)
		assert.Equal(t, 404, code, path)
		assert.Contains(t, plain(body), want)
	}
	code, body := m.get("/plans/9/chits.pdf")
	assert.Equal(t, 422, code)
	assert.Contains(t, plain(body), "You own everything this gradient needs")
	m.change("values", "do=run-from&source=shelf&family=pink&kind=building+part")
	code, body = m.get("/plans/9/run.png")
	assert.Equal(t, 422, code)
	assert.Contains(t, plain(body), "The gradient is empty")
	code, body = m.get("/plans/8/combinations.pdf")
	assert.Equal(t, 422, code)
	assert.Contains(t, plain(body), "No palettes saved yet")
}

func TestWaysAndColourwaysThroughThePage(t *testing.T) {
	t.Parallel()
	m := visit(t, true)
	_, body := m.get("/plans/9/ways?focus=spark&quiet=ground")
	assert.Contains(t, plain(body), "on the sparks stands out most")
	_, body = m.get("/plans/9/ways?focus=attic")
	assert.Contains(t, plain(body), "no part called")
	_, body = m.get("/plans/9/squint?blur=3&colourway=1")
	assert.Contains(t, plain(body), "Values of the Evening house")
	assert.Contains(t, body, "/plans/9/squint?blur=12&amp;colourway=1", "the colourway stays while the eyes close")
	_, body = m.get("/plans/9/squint?colourway=77")
	assert.Contains(t, plain(body), "Values of the palette as it is now")
	code, body := m.get("/plans/8/colourways.pdf")
	assert.Equal(t, 422, code)
	assert.Contains(t, plain(body), "No colourways yet")
	_, body = m.change("ways", "do=way&fills=ground.x")
	assert.Contains(t, plain(body), "not known")
	_, body = m.change("ways", "do=keep-colourway&name=Tour&fills=ground.1+spark.4")
	assert.Contains(t, body, `value="Tour"`)
	for _, format := range []string{"pdf", "svg", "png"} {
		code, _ := m.get("/plans/9/colourways." + format)
		assert.Equal(t, 200, code, format)
	}
}

func TestAChitForWhatTheShelfLacks(t *testing.T) {
	t.Parallel()
	m := visit(t, false)
	_, err := m.work.SaveMaterial(context.Background(), 0, 0, material.Material{Name: "Cloth E", Colour: colour.Lab{L: 94, A: 8, B: -7}})
	require.NoError(t, err)
	for i, hex := range []string{"#1f1b2c", "#4b2346", "#6d3b68", "#c9a3c9"} {
		c, err := colour.ParseHex(hex)
		require.NoError(t, err)
		_, err = m.work.SaveMaterial(context.Background(), 0, 0, material.Material{Name: "Cloth " + string(rune('A'+i)), Colour: c.Lab()})
		require.NoError(t, err)
	}
	_, body := m.post("/plans", url.Values{"name": {"Scarf"}, "craft": {"weaving"}})
	assert.Contains(t, body, "Gather")
	p, err := m.work.Open(context.Background(), 1)
	require.NoError(t, err)
	for _, c := range p.Shelf.Cards {
		q, err := m.work.Open(context.Background(), 1)
		require.NoError(t, err)
		m.post("/plans/1/change", url.Values{"revision": {fmt.Sprint(q.Revision)}, "stage": {"values"}, "do": {"pull"},
			"material": {fmt.Sprint(c.ID)}})
	}
	_, body = m.get("/plans/1/values")
	assert.Contains(t, plain(body), "Look for a violet at about")
	assert.Contains(t, plain(body), "Print shopping notes (1)")
	code, body := m.get("/plans/1/chits.pdf")
	assert.Equal(t, 200, code)
	assert.True(t, strings.HasPrefix(body, "%PDF-"))
}

func TestFormsOfRampsAndBriefs(t *testing.T) {
	t.Parallel()
	m := visit(t, true)
	send := func(stage string, fields url.Values) string {
		fields.Set("revision", currentRevision(m))
		fields.Set("stage", stage)
		_, body := m.post("/plans/9/change", fields)
		return plain(body)
	}
	ramp := func() url.Values {
		return url.Values{"do": {"ramp"}, "key": {"1"}, "name": {"Heather dusk"}, "columns": {"hsb"}, "darks": {"1"}, "lights": {"0"},
			"dark0_light": {"-20"}}
	}
	assert.Contains(t, send("ramp", ramp()), "Heather dusk")
	f := ramp()
	f.Set("dark0_hue", "much")
	assert.Contains(t, send("ramp", f), "“much” is not a number")
	f = ramp()
	f.Set("darks", "200")
	assert.Contains(t, send("ramp", f), "has 200 steps toward the dark")
	f = ramp()
	f.Set("middle", "mauve")
	assert.Contains(t, send("ramp", f), "is not a colour")
	assert.Contains(t, send("ramp", url.Values{"do": {"ramp-start"}, "key": {"1"}, "recipe": {"No such"}}), "no recipe called")
	assert.Contains(t, send("ramp", url.Values{"do": {"save-recipe"}, "key": {"1"}, "recipe": {"Own"}}), "Own is saved in your recipes")
	assert.Contains(t, send("ramp", url.Values{"do": {"forget-recipe"}, "recipe": {"Own"}}), "Own is deleted")
	assert.Contains(t, send("ramp", url.Values{"do": {"undo-recipes"}}), "Undone: delete the recipe Own")

	brief := func() url.Values { return url.Values{"do": {"brief"}, "name": {"Stage curtain"}, "craft": {"quilt"}} }
	f = brief()
	f.Set("value_from", "dark")
	assert.Contains(t, send("brief", f), "“dark” is not a number: write the value from in figures.")
	f = brief()
	for _, family := range []string{"yellow", "orange", "tan", "brown", "red", "pink", "violet", "blue", "blue-green", "green", "olive",
		"cream", "white", "grey", "black"} {
		f.Add("out", family)
	}
	assert.Contains(t, send("brief", f), "every family is avoided")
	f = brief()
	f.Set("count", "900")
	assert.Contains(t, send("brief", f), "between 1 and 40")
	assert.Contains(t, send("brief", url.Values{"do": {"mood"}, "mood": {"Gloom"}}), "no mood called")
	assert.Contains(t, send("brief", url.Values{"do": {"mood"}, "mood": {"Velvet"}}), "Mood: Velvet")
	assert.Contains(t, send("brief", url.Values{"do": {"save-mood"}, "mood": {"Own"}, "words": {"mine"}}), "Own is saved in your moods")

	_, body := m.get("/plans/9/nudge?seed=zero")
	assert.Contains(t, plain(body), "Palettes are numbered from 1 to 999999")
	_, body = m.get("/plans/9/nudge?seed=5&hold=m9999")
	assert.Contains(t, plain(body), "no longer there. Ask for another")
	_, first := m.get("/plans/9/nudge?seed=5")
	_, again := m.get("/plans/9/nudge?seed=5")
	assert.Equal(t, plain(first), plain(again))
	_, body = m.get("/plans/9/cards")
	assert.Contains(t, plain(body), "Plum curtain compared with Moth wing")
}
