package stages

import (
	"fmt"
	"html"
	"net/http"
	"net/url"
	"regexp"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/plan"
	"lampfern/testroom"
	"lampfern/web"
)

// The piece stands beside every stage in its colours, follows a change, and its outlines are sent once.
func TestThePieceStandsOnEveryStage(t *testing.T) {
	t.Parallel()
	m := visit(t, true)
	paints := regexp.MustCompile(`(?s)id="on-piece-open".*?style="([^"]*)"`)
	for _, page := range []string{"brief", "gather", "wheel", "values", "cards", "mix", "buy", "log"} {
		for _, id := range []int{1, 4, 7, 9} { // a scene, a solid, a chart and a quilt
			_, body := m.get(fmt.Sprintf("/plans/%d/%s", id, page))
			found := paints.FindStringSubmatch(body)
			require.Len(t, found, 2, "%d %s", id, page)
			assert.Contains(t, found[1], "--p0:#", "%d %s", id, page)
			assert.Contains(t, body, `<symbol id="on-piece-shape"`, "%d %s", id, page)
		}
	}
	_, body := m.get("/plans/9/values")
	assert.Regexp(t, `--p0:#(..)(\w\w)`, paints.FindStringSubmatch(body)[1])
	for _, c := range regexp.MustCompile(`#(\w\w)(\w\w)(\w\w)`).FindAllStringSubmatch(paints.FindStringSubmatch(body)[1], -1) {
		assert.True(t, c[1] == c[2] && c[2] == c[3], "beside the values it is grey")
	}
	_, body = m.get("/plans/9/wheel")
	before := paints.FindStringSubmatch(body)[1]
	key := regexp.MustCompile(`id="on-piece"[^>]*data-key="([^"]*)"`).FindStringSubmatch(body)[1]
	p := testroom.MustOpen(t, m.work, 9)
	testroom.Do(t, m.work, 9, plan.Swap{Key: p.Tray[0].Key, With: p.Tray[3].Key})
	req, err := http.NewRequest(http.MethodGet, m.url+"/plans/9/wheel", nil)
	require.NoError(t, err)
	req.Header.Set(web.PartHeader, "1")
	req.Header.Set(web.HaveHeader, key)
	_, body = m.read(m.client.Do(req))
	assert.NotEqual(t, before, paints.FindStringSubmatch(body)[1], "it follows the change")
	assert.NotContains(t, body, `<symbol id="on-piece-shape"`, "its outlines are there already")
	_, body = m.get("/plans/9/proportion")
	assert.NotContains(t, body, `id="on-piece"`, "where the piece is the page, it stands once")
}

// At most three notes are worth a look, each with an act; one paragraph says why the piece works.
func TestThreeNotesAreWorthALook(t *testing.T) {
	t.Parallel()
	m := visit(t, true)
	worth := regexp.MustCompile(`(?s)<ul class="notes" id="worth">(.*?)</ul>`)
	for id := 1; id <= 9; id++ {
		for _, page := range []string{"brief", "wheel", "cards", "proportion", "together"} {
			_, body := m.get(fmt.Sprintf("/plans/%d/%s", id, page))
			if found := worth.FindStringSubmatch(body); found != nil {
				all := noteSaid.FindAllStringSubmatch(found[1], -1)
				assert.LessOrEqual(t, len(all), 3)
				for _, n := range all {
					assert.Regexp(t, noteDoes, n[3], "a note without an act is no note: %s", untagged(n[2]))
					assert.NotEqual(t, "fine", n[1])
				}
			}
			if page == "proportion" {
				assert.Regexp(t, `(?s)<h2>Why it works</h2><p id="why">.{40}.*?</p>`, body)
			}
		}
	}
}

// The ribbon under the piece has other ways to colour it; looking changes nothing, and each is used by one press.
func TestTheRibbon(t *testing.T) {
	t.Parallel()
	m := visit(t, true)
	tabs := regexp.MustCompile(`id="tab-(\w+)"`)
	uses := regexp.MustCompile(`value="(do=[^"]*)" class="act" aria-label="Use this`)
	for _, id := range []uint{1, 4, 6, 7, 9} {
		_, body := m.get(fmt.Sprintf("/plans/%d/proportion", id))
		before := testroom.MustOpen(t, m.work, id).Revision
		for _, tab := range tabs.FindAllStringSubmatch(body, -1) {
			code, one := m.get(fmt.Sprintf("/plans/%d/proportion?ribbon=%s", id, tab[1]))
			require.Equal(t, 200, code)
			assert.Contains(t, one, fmt.Sprintf(`id="tab-%s" aria-current="true"`, tab[1]))
			assert.Regexp(t, `(?s)<ul class="ribbon-row".*?<li class="[^"]*">.*?</ul>`, one, "%d %s", id, tab[1])
			assert.Equal(t, before, testroom.MustOpen(t, m.work, id).Revision, "looking changes nothing")
			use := uses.FindStringSubmatch(one)
			if use == nil {
				continue
			}
			act, err := url.ParseQuery(html.UnescapeString(use[1]))
			require.NoError(t, err)
			act.Set("stage", "proportion")
			act.Set("revision", fmt.Sprint(before))
			code, after := m.post(fmt.Sprintf("/plans/%d/change?ribbon=%s", id, tab[1]), act)
			require.Equal(t, 200, code, "%d %s", id, tab[1])
			assert.Contains(t, after, fmt.Sprintf(`id="tab-%s" aria-current="true"`, tab[1]), "the tab stays")
			now := testroom.MustOpen(t, m.work, id)
			assert.Greater(t, now.Revision, before, "%d %s: %s", id, tab[1], use[1])
			m.post(fmt.Sprintf("/plans/%d/change", id), url.Values{"do": {"undo"}, "stage": {"proportion"}, "revision": {fmt.Sprint(now.Revision)}})
			before = testroom.MustOpen(t, m.work, id).Revision
		}
	}
	testroom.Do(t, m.work, 9, plan.ChooseLast{Part: testroom.MustOpen(t, m.work, 9).Piece.Parts[0].Key, On: true})
	code, open := m.get("/plans/9/proportion")
	require.Equal(t, 200, code, "with a part chosen last")
	for _, tab := range tabs.FindAllStringSubmatch(open, -1) {
		code, _ = m.get("/plans/9/proportion?ribbon=" + tab[1])
		assert.Equal(t, 200, code, "with a part chosen last: %s", tab[1])
	}
	ids := testroom.Add(t, m.work, "Single=#884422")
	id, err := m.work.NewPlan(testroom.Ctx, "Alone", "quilt")
	require.NoError(t, err)
	testroom.Do(t, m.work, id, plan.Pull{Material: ids["Single"]})
	for tab, nothing := range map[string]string{"arrangements": "Add at least two cards", "colourways": "None yet. Save an arrangement", "part": "Colour two parts first", "fewer": "Add at least three cards",
		"palettes": "None saved yet"} {
		_, body := m.get(fmt.Sprintf("/plans/%d/proportion?ribbon=%s", id, tab))
		assert.Contains(t, plain(body), nothing, tab)
	}
}
