package stages

import (
	"flag"
	"fmt"
	"html"
	"os"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/brief"
	"lampfern/core/material"
	"lampfern/plan"
	briefing "lampfern/stages/brief"
	"lampfern/testroom"
)

var rewrite = flag.Bool("update", false, "write the golden sentences anew")

// noteSaid finds the notes of a page, each with what it offers.
var (
	noteList = regexp.MustCompile(`(?s)<ul class="notes"[^>]*>(.*?)</ul>`)
	whySaid  = regexp.MustCompile(`(?s)<p id="why">(.*?)</p>`)
	noteSaid = regexp.MustCompile(`(?s)<li><svg class="disc".*?aria-label="([^"]*)".*?<div><p>(.*?)</p>(.*?)</div>`)
	noteDoes = regexp.MustCompile(`(?s)<(?:button|a)[^>]*class="act(?: mends)?"[^>]*>(.*?)<`)
)

var tag = regexp.MustCompile(`<[^>]*>`)

func untagged(s string) string {
	return html.UnescapeString(strings.Join(strings.Fields(tag.ReplaceAllString(s, "")), " "))
}

// sentences are what a page says in notes, one a line.
func sentences(body string) (out []string) {
	for _, list := range noteList.FindAllStringSubmatch(body, -1) {
		for _, n := range noteSaid.FindAllStringSubmatch(list[1], -1) {
			line := fmt.Sprintf("%-11s %s", n[1], untagged(n[2]))
			for _, does := range noteDoes.FindAllStringSubmatch(n[3], -1) {
				line += " [" + untagged(does[1]) + "]"
			}
			out = append(out, line)
		}
	}
	if why := whySaid.FindStringSubmatch(body); why != nil {
		out = append(out, "why         "+untagged(why[1]))
	}
	return out
}

// told is one plan of our own making: a craft, cards as name=hex, of a kind, and a brief.
type told struct {
	name, craft, kind string
	cards             string
	brief             brief.Brief
	more              string // that lie on the shelf
}

var ownPlans = []told{
	{name: "Nothing yet", craft: "quilt", kind: "fabric"},
	{name: "One card", craft: "knitting or crochet", kind: "yarn", cards: "Peat=#3a2f28"},
	{name: "Seven reds that are one", craft: "quilt", kind: "fabric",
		cards: "Rust=#b03030 Brick=#b23232 Madder=#b43434 Ruby=#ae2e30 Garnet=#b0302c Rose hip=#b23430 Sumach=#ac3030"},
	{name: "Warning", craft: "quilt", kind: "fabric", cards: "Gorse=#f2c81e Pitch=#151515", more: "Straw=#e6d9a0 Ink=#2a3040"},
	{name: "Winter", craft: "cards", kind: "paper", cards: "Holly=#1f9e4c Berry=#b81f2a"},
	{name: "Newborn", craft: "knitting or crochet", kind: "yarn", cards: "Blush=#f6c7d4 Mist=#bcd8f2 Milk=#f4f1e8"},
	{name: "Mud", craft: "garment", kind: "fabric", cards: "Moss=#7a7a5a Stone=#8a8578 Clay=#8a7468 Fog=#90908a",
		more: "Poppy=#d8302a Coal=#151515 Snow=#fafafa"},
	{name: "Two that shimmer", craft: "painted models", kind: "paint", cards: "Orange=#d06a00 Blue=#3c7be0 Grey=#808080"},
	{name: "Fighting", craft: "soap", kind: "soap colourant", cards: "Tangerine=#e4681c Fern=#1f9e4c Cream=#f4f2ee"},
	{name: "A focus that sinks", craft: "quilt", kind: "fabric", cards: "Night=#1c2030 Dusk=#2c3048 Ember=#34303a Lime=#c8e020 Bone=#e8e0d0",
		brief: brief.Brief{Focus: "Ember", Quiet: "Lime", Count: 3, Distance: 30, Lamp: "warm"}},
	{name: "Eyes", craft: "building parts", kind: "building part", cards: "Moss=#80852a Rust=#c06a2a Sand=#d9cbb0"},
	{name: "All cool", craft: "weaving", kind: "yarn", cards: "Loch=#1f5f8f Sky=#8fb8d8 Fir=#1f4a40"},
}

// TestEverySentenceOfTheNotes keeps what the notes say of the demo's plans and of some of our
// own, to be read whole whenever it changes.
func TestEverySentenceOfTheNotes(t *testing.T) {
	t.Parallel()
	m := visit(t, true)
	var out strings.Builder
	tell := func(id uint, name string) {
		fmt.Fprintf(&out, "# %s\n", name)
		for _, page := range []string{"brief", "wheel", "values", "cards", "proportion"} {
			code, body := m.get(fmt.Sprintf("/plans/%d/%s", id, page))
			require.Equal(t, 200, code, "%s %s", name, page)
			for _, line := range sentences(body) {
				fmt.Fprintf(&out, "%-10s %s\n", page, line)
			}
		}
		out.WriteString("\n")
	}
	for id := range uint(9) {
		p := testroom.MustOpen(t, m.work, id+1)
		tell(id+1, p.Plan.Name+", "+p.Craft)
	}
	for _, own := range ownPlans {
		o := visit(t, false)
		add := func(list string) (ids []uint) {
			for _, card := range regexp.MustCompile(`([A-Z][a-z ]*)=(#\w+)`).FindAllStringSubmatch(list, -1) {
				id, err := o.work.SaveMaterial(testroom.Ctx, 0, 0, material.Material{Name: card[1], Kind: own.kind,
					Colour: testroom.Hex(t, card[2]).Lab()})
				require.NoError(t, err)
				ids = append(ids, id)
			}
			return ids
		}
		id, err := o.work.NewPlan(testroom.Ctx, own.name, own.craft)
		require.NoError(t, err, own.name)
		for _, card := range add(own.cards) {
			testroom.Do(t, o.work, id, plan.Pull{Material: card})
		}
		add(own.more)
		if own.cards != "" {
			testroom.Do(t, o.work, id, plan.FillRest{})
		}
		if own.brief.Focus != "" {
			testroom.Do(t, o.work, id, briefing.SetBrief{Name: own.name, Craft: own.craft, Brief: own.brief, Limits: brief.Free()})
		}
		m = o
		tell(id, own.name+", "+own.craft)
	}
	const golden = "testdata/sentences.txt"
	if *rewrite {
		require.NoError(t, os.WriteFile(golden, []byte(out.String()), 0o644))
	}
	want, err := os.ReadFile(golden)
	require.NoError(t, err, "run go test ./stages -run EverySentence -update once")
	assert.Equal(t, string(want), out.String(), "what notes say changed; read it whole, then run go test ./stages -run EverySentence -update")
}
