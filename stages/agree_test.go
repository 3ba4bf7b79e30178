package stages

import (
	"encoding/csv"
	"fmt"
	"math/rand/v2"
	"regexp"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/colour"
	"lampfern/core/craft"
	"lampfern/core/material"
	"lampfern/core/note"
	"lampfern/core/piece"
	"lampfern/core/words"
	"lampfern/plan"
	"lampfern/stages/buy"
	"lampfern/stages/mix"
	"lampfern/stages/proportion"
	"lampfern/stages/signoff"
	"lampfern/testroom"
)

// One dose of a colourant serves Buy and Mix, in whatever basis it was written, and a default is
// called one.
func TestOneDoseForOneBatch(t *testing.T) {
	k := testroom.Studio(t, All()...)
	ids := map[string]uint{}
	for _, m := range []material.Material{
		{Name: "Rose", Colour: testroom.Hex(t, "#c0607a").Lab(), Dose: material.Dose{Tried: 8, TriedBasis: "g per kg of oils"}},
		{Name: "Tide", Colour: testroom.Hex(t, "#5a80a8").Lab(), Dose: material.Dose{Tried: .5, TriedBasis: "% of batter"}},
		{Name: "Coal", Colour: testroom.Hex(t, "#55534f").Lab()},
	} {
		m.Kind = "soap colourant"
		id, err := k.SaveMaterial(testroom.Ctx, 0, 0, m)
		require.NoError(t, err)
		ids[m.Name] = id
	}
	id, err := k.NewPlan(testroom.Ctx, "Bars", "soap")
	require.NoError(t, err)
	p := testroom.Do(t, k, id, plan.ChoosePiece{Pattern: "soap"})
	require.GreaterOrEqual(t, len(p.Piece.Parts), 2)
	for _, name := range []string{"Rose", "Tide", "Coal"}[:min(3, len(p.Piece.Parts))] {
		testroom.Do(t, k, id, plan.Pull{Material: ids[name]})
	}
	grams := func() map[string]string {
		t.Helper()
		p := testroom.MustOpen(t, k, id)
		b, err := buy.View(testroom.Ctx, k, p)
		require.NoError(t, err)
		m, err := mix.View(testroom.Ctx, k, p, false)
		require.NoError(t, err)
		require.NotNil(t, m.Pour)
		poured, bought := map[string]float64{}, map[string]string{}
		for _, r := range m.Pour.Rows {
			assert.Empty(t, r.Problem)
			for _, a := range r.Amounts {
				poured[a.Name] += a.Of
			}
		}
		for _, r := range b.Rows {
			assert.Equal(t, r.NeedWords, material.AmountWords(poured[r.Name], "g"), r.Name)
			bought[r.Name] = r.NeedWords
		}
		return bought
	}
	grams()
	ask := func(key string, v float64) {
		p := testroom.MustOpen(t, k, id)
		s := buy.Of(p)
		asked := piece.Values{key: v}
		for key, v := range s.Asked["soap"] {
			if _, there := asked[key]; !there {
				asked[key] = v
			}
		}
		testroom.Do(t, k, id, plan.Doing(func(d *plan.Draft) (string, error) {
			buy.Of(d.Plan).Asked = map[string]piece.Values{"soap": asked}
			return "tell", nil
		}))
	}
	before := grams()
	ask("batch", 4000)
	after := grams()
	assert.NotEqual(t, before["Rose"], after["Rose"])
	ask("oils", 600)
	grams()
	ask("rate", 3)
	grams()
}

// Cautions are of the kinds and steps that are used, in any craft: no dye pot on undyed weaving, paint
// on whatever is painted, and Mix says only what is mixed there.
func TestCautionsFollowWhatIsUsed(t *testing.T) {
	k := testroom.Studio(t, All()...)
	ids := map[string]uint{}
	for name, kind := range map[string]string{"Wool": "yarn", "Gouache": "paint", "Madder": "pigment or dye"} {
		id, err := k.SaveMaterial(testroom.Ctx, 0, 0, material.Material{Name: name, Kind: kind, Colour: testroom.Hex(t, "#aa4433").Lab()})
		require.NoError(t, err)
		ids[name] = id
	}
	said := func(craft, pattern string, cards ...string) string {
		id, err := k.NewPlan(testroom.Ctx, craft, craft)
		require.NoError(t, err)
		testroom.Do(t, k, id, plan.ChoosePiece{Pattern: pattern})
		for _, c := range cards {
			testroom.Do(t, k, id, plan.Pull{Material: ids[c]})
		}
		words, more := testroom.MustOpen(t, k, id).Care()
		return words + strings.Join(more, " ")
	}
	assert.Empty(t, said("weaving", "cloth", "Wool"))
	assert.Contains(t, said("weaving", "cloth", "Madder"), "mordant")
	for _, of := range [][2]string{{"other", "drawn"}, {"cards", "scene"}, {"garment", "dress"}, {"printed parts", "pot"}} {
		assert.Contains(t, said(of[0], of[1], "Gouache"), "lick the brush", of[0])
	}
	assert.NotContains(t, said("garment", "dress", "Wool"), "mordant")
	assert.Contains(t, said("quilt", "ninepatch"), "Irons are hot")
	assert.Contains(t, said("garment", "dress"), "irons are hot")
	assert.Contains(t, said("soap", "soap"), "unmoulded")
	assert.Contains(t, said("printed parts", "pot"), "Sand prints wet")
	assert.Contains(t, said("cards", "scene"), "airbrush")
}

// ownPlan makes a plan of a random craft, piece and palette: cards of its own kinds, some parts empty,
// some names of several words, without codes.
func ownPlan(t *testing.T, k *plan.Desk, r *rand.Rand, n int) uint {
	t.Helper()
	of := craft.All()[n%len(craft.All())]
	pattern := of.Patterns[r.IntN(len(of.Patterns))]
	id, err := k.NewPlan(testroom.Ctx, fmt.Sprintf("Own %d, %s", n, pattern.Key), of.Name)
	require.NoError(t, err)
	p := testroom.Do(t, k, id, plan.ChoosePiece{Pattern: pattern.Key})
	for i := range 1 + r.IntN(6) {
		name := []string{"Barn owls", "moss", "Pale sea glass", "Rust", "Slate of the quarry", "Cherries"}[i] + fmt.Sprint(" ", n)
		m := material.Material{Name: name, Kind: of.Kinds[r.IntN(min(2, len(of.Kinds)))], Colour: colour.Lab{L: 10 + 85*r.Float64(),
			A: 80*r.Float64() - 40, B: 100*r.Float64() - 40}, Pack: float64(r.IntN(2) * 50)}
		if m.Kind == "fabric" || m.Kind == "thread" {
			m.Pack = 0
		}
		material, err := k.SaveMaterial(testroom.Ctx, 0, 0, m)
		require.NoError(t, err)
		p = testroom.Do(t, k, id, plan.Pull{Material: material})
	}
	for i, part := range p.Piece.Parts {
		key := p.Tray[r.IntN(len(p.Tray))].Key
		if r.IntN(4) == 0 && i > 0 {
			key = 0 // it stays empty
		}
		p = testroom.Do(t, k, id, plan.FillPart{Part: part.Key, Key: key})
	}
	return id
}

// A figure is the same on Buy, on its list and its table, in Mix, in the log and making sheet, to the
// last digit shown: over all demo plans and forty of our own.
func TestAFigureIsTheSameEverywhere(t *testing.T) {
	testroom.Slow(t)
	t.Parallel()
	sheets := 0
	agree := func(m *maker, id uint) {
		p := testroom.MustOpen(t, m.work, id)
		v, err := buy.View(testroom.Ctx, m.work, p)
		require.NoError(t, err)
		_, table := m.get(fmt.Sprintf("/plans/%d/list.csv", id))
		rows, err := csv.NewReader(strings.NewReader(strings.TrimPrefix(table, "\ufeff"))).ReadAll()
		require.NoError(t, err)
		_, page := m.get(fmt.Sprintf("/plans/%d/buy", id))
		_, list := m.get(fmt.Sprintf("/plans/%d/list", id))
		_, made := m.get(fmt.Sprintf("/plans/%d/made", id))
		page, list, made = plain(page), plain(list), plain(made)
		bare := map[string]float64{}
		for _, r := range v.Rows {
			if r.Problem != "" {
				continue
			}
			assert.Contains(t, page, r.NeedWords, "%s: %s", p.Plan.Name, r.Name)
			if r.Buy != "" { // the list is of what is bought
				assert.True(t, slices.ContainsFunc(rows, func(row []string) bool {
					return strings.TrimPrefix(row[1], "'") == r.Name && row[4] == r.NeedWords && row[5] == r.Buy
				}), "%s: %s in the table", p.Plan.Name, r.Name)
				assert.Contains(t, list, r.Buy, "%s: %s on the list", p.Plan.Name, r.Name)
			}
		}
		sup, err := m.work.Supply(testroom.Ctx, p)
		if err == nil {
			seen := map[string]bool{}
			for _, n := range sup.Needs {
				assert.False(t, seen[n.Name+n.Unit], "%s: %s stands twice", p.Plan.Name, n.Name)
				seen[n.Name+n.Unit] = true
				bare[n.Name] = n.Bare
				assert.Contains(t, made, fmt.Sprintf("%s, planned %s", n.Name, material.AmountWords(n.Bare, n.Unit)), p.Plan.Name)
			}
			mixed, err := mix.View(testroom.Ctx, m.work, p, false)
			require.NoError(t, err)
			if mixed.Pour != nil {
				poured := map[string]float64{}
				for _, row := range mixed.Pour.Rows {
					for _, a := range row.Amounts {
						poured[a.Name] += a.Of
					}
				}
				for _, r := range v.Rows {
					if r.Problem == "" && r.Card != nil && !r.Own {
						assert.Equal(t, r.NeedWords, material.AmountWords(poured[r.Card.Name], "g"), "%s: %s in Mix", p.Plan.Name, r.Name)
					}
				}
			}
		}
		_, bench := m.get(fmt.Sprintf("/plans/%d/worktable", id))
		_, seen := m.get(fmt.Sprintf("/plans/%d/proportion", id))
		bench, seen = plain(bench), plain(seen)
		sheet := ""
		if _, err := (&signoff.Make{}).Act(testroom.Ctx, m.work, p); err == nil { // a plan with nothing placed has none
			all, err := signoff.SheetsOf(testroom.Ctx, m.work, id)
			require.NoError(t, err)
			_, sheet = m.get("/agree/" + all[0].Token + "?own=1")
			sheet = plain(sheet)
			sheets++
		}
		for _, c := range p.Tray {
			if c.Share > 0 {
				assert.Contains(t, seen, words.PerCent(c.Share), "%s: %s in the tray", p.Plan.Name, c.Name)
				assert.Contains(t, bench, words.PerCent(c.Share), "%s: %s making sheet", p.Plan.Name, c.Name)
			}
		}
		over := testroom.MustOpen(t, m.work, id) // a sheet is of the whole set
		_, err = m.work.SharesOverSet(over)
		require.NoError(t, err)
		for _, c := range over.Tray {
			if c.Share > 0 && sheet != "" {
				assert.Contains(t, sheet, words.PerCent(c.Share), "%s: %s on the sheet", p.Plan.Name, c.Name)
			}
		}
	}
	m := visit(t, true)
	for id := range uint(9) {
		agree(m, id+1)
	}
	r := rand.New(rand.NewPCG(31, 3))
	own := visit(t, false)
	for n := range 40 {
		agree(own, ownPlan(t, own.work, r, n))
	}
	assert.Greater(t, sheets, 40, "nearly all have a sheet")
}

// wrong are marks of sentences that were put together without looking.
var wrong = regexp.MustCompile(`(?:^|[^.\d])1 (cards|parts|models|edges|colours|metres|pieces|steps|places)\b|\ba (orange|olive|ochre|edge)\b|\.\.|  |Lot ""|\b0 min\b|%!|NaN|\+Inf|\bthe the\b`)

// The sentences of a page agree with one another: number, articles, no two opposite claims about one
// card, and nothing is offered whose press changes nothing or leads to an empty list.
func TestSentencesAgree(t *testing.T) {
	testroom.Slow(t)
	t.Parallel()
	r := rand.New(rand.NewPCG(31, 4))
	own := visit(t, false)
	look := func(m *maker, id uint) {
		p := testroom.MustOpen(t, m.work, id)
		v := proportion.Proportion(p)
		kinds := map[string]note.Note{}
		for _, n := range v.Notes {
			said := n.About + n.Words
			assert.Empty(t, wrong.FindString(said), "%s: %s", p.Plan.Name, said)
			kinds[n.Kind()] = n
			if words.Many(n.About) && len(n.Cards) == 0 {
				assert.NotRegexp(t, `^ (lies|is|recedes|leads|has|disappears|stands|competes) `, n.Words, said)
			}
			mend := proportion.MendOf(p, n)
			switch {
			case mend == nil:
			case mend.Find != nil:
				keep := mend.Find.Keep()
				assert.True(t, slices.ContainsFunc(p.Offers().Cards(), keep), "%s: %q leads to an empty list", p.Plan.Name, mend.Label)
			case mend.Material != 0:
				at := slices.IndexFunc(p.Tray, func(c plan.TrayCard) bool { return c.Key == mend.Card })
				require.GreaterOrEqual(t, at, 0)
				c, err := p.Shelf.Card(mend.Material)
				require.NoError(t, err)
				assert.Greater(t, colour.DeltaE2000(c.Colour, p.Tray[at].Colour), 1.0, "%q changes nothing", mend.Label)
				assert.True(t, p.Tray[at].Movable())
			}
		}
		for _, pair := range [][2]string{{"nofocus", "focus"}, {"brief-focus-met", "brief-focus"}, {"brief-focus-met", "brief-quiet"},
			{"flat", "key"}} {
			a, one := kinds[pair[0]]
			b, two := kinds[pair[1]]
			if one && two && pair[0] != "flat" {
				assert.NotEqual(t, a.Cards, b.Cards, "%s: %q against %q", p.Plan.Name, a.About+a.Words, b.About+b.Words)
			}
		}
		if n, is := kinds["shared"]; is && v.Empty > 0 {
			assert.NotContains(t, n.Words, "them all", "%d parts are empty", v.Empty)
		}
		for _, page := range []string{"brief", "wheel", "values", "cards", "gather", "buy", "log", "together"} {
			code, body := m.get(fmt.Sprintf("/plans/%d/%s", id, page))
			require.Equal(t, 200, code, page)
			for _, line := range sentences(body) {
				assert.Empty(t, wrong.FindString(strings.Join(strings.Fields(line), " ")), "%s, %s: %s", p.Plan.Name, page, line)
			}
		}
	}
	for n := range 40 {
		look(own, ownPlan(t, own.work, r, n))
	}
	m := visit(t, true)
	for id := range uint(9) {
		look(m, id+1)
	}
}
