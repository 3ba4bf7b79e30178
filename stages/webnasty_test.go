package stages

import (
	"encoding/csv"
	"encoding/xml"
	"fmt"
	"html"
	"io"
	"net/http"
	"net/url"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/form"
	"lampfern/core/material"
	"lampfern/plan"
	"lampfern/stages/brief"
	"lampfern/stages/gather"
	"lampfern/stages/proportion"
	"lampfern/stages/values"
	"lampfern/stages/wheel"
	"lampfern/testroom"
)

// nasty are names that a maker, or a stranger, may give to anything.
var nasty = []string{
	`Moss & rust`, `50 %`, `a+b=c`, `"quoted" 'both'`, `<script>alert(1)</script>`, `=HYPERLINK("http://x.example","y")`, `-2+3`, `@SUM(A1)`,
	`'=1`,
	"tab\there", "bell\x07 and \x1b[31m", "\u202egnp.exe", `../../etc/passwd`, `C:\x|y*?`, "ünïcødé 糸 🧵", `{{.Plan}} ${x} %s %d`,
	"Zoë; DROP TABLE materials", "a#b?c=d&e",
}

// parsed reports whether a text is whole XML.
func parsed(text string) error {
	d := xml.NewDecoder(strings.NewReader(text))
	for {
		if _, err := d.Token(); err == io.EOF {
			return nil
		} else if err != nil {
			return err
		}
	}
}

// TestNastyNames gives every one to whatever a maker can name, and looks at every page and
// export of it.
func TestNastyNames(t *testing.T) {
	testroom.Slow(t)
	t.Parallel()
	m := visit(t, false)
	ctx := t.Context()
	id, err := m.work.NewPlan(ctx, nasty[0], "quilt")
	require.NoError(t, err)
	for i, name := range nasty {
		mat := material.Material{Name: name, Supplier: name, Reference: name, Lot: name, Remark: name, Size: name,
			Colour: testroom.Hex(t, fmt.Sprintf("#%02x%02x60", 20+12*i, 230-12*i)).Lab(),
			Lots:   []material.Lot{{Name: name, OnHand: 2, Place: name, State: material.InUse}}}
		n, err := m.work.SaveMaterial(ctx, 0, 0, mat)
		require.NoError(t, err, name)
		testroom.Do(t, m.work, id, plan.Pull{Material: n})
		testroom.Do(t, m.work, id, &gather.Paste{Text: "#8a5a86"})
		p := testroom.MustOpen(t, m.work, id)
		testroom.Do(t, m.work, id, gather.RenameScrap{Key: p.Scraps[len(p.Scraps)-1].Key, Name: name})
		if i < plan.MaxColourways {
			testroom.Do(t, m.work, id, proportion.TakeWay{Fills: map[string]int{"ground": i + 1, "peak": max(1, i)}})
			testroom.Do(t, m.work, id, proportion.KeepColourway{Name: form.New(url.Values{"name": {name}}).Text("name")})
		}
		testroom.Do(t, m.work, id, wheel.KeepTray{})
	}
	// Moods and recipes are kept, and taken by their names.
	change := func(stage string, fields url.Values) int {
		fields.Set("revision", fmt.Sprint(testroom.MustOpen(t, m.work, id).Revision))
		fields.Set("stage", stage)
		code, _ := m.post(fmt.Sprintf("/plans/%d/change", id), fields)
		return code
	}
	require.Less(t, change("ramp", url.Values{"do": {"ramp-start"}, "key": {"1"}}), 400)
	_, body := m.get(fmt.Sprintf("/plans/%d/ramp", id))
	key := regexp.MustCompile(`name="key" value="(\d+)"`).FindStringSubmatch(body)[1]
	for _, name := range nasty {
		assert.Less(t, change("brief", url.Values{"do": {"save-mood"}, "mood": {name}}), 400, "%q", name)
		assert.Less(t, change("ramp", url.Values{"do": {"save-recipe"}, "key": {key}, "recipe": {name}}), 400, "%q", name)
	}
	for _, c := range []struct {
		stage, verb, field string
		now                func() string
	}{
		{"brief", "mood", "mood", func() string { return brief.Of(testroom.MustOpen(t, m.work, id)).Brief.Mood }},
		{"ramp", "ramp-recipe", "recipe", func() string {
			ramps := values.Of(testroom.MustOpen(t, m.work, id)).Ramps
			return ramps[len(ramps)-1].Recipe.Name
		}},
	} {
		_, body := m.get(fmt.Sprintf("/plans/%d/%s", id, c.stage))
		taken := 0
		for _, act := range regexp.MustCompile(`value="(do=`+c.verb+`&amp;[^"]+)"`).FindAllStringSubmatch(body, -1) {
			press := html.UnescapeString(act[1])
			q, err := url.ParseQuery(press)
			require.NoError(t, err)
			if q.Get(c.field) == "" {
				continue
			}
			require.Less(t, change(c.stage, url.Values{"act": {press}}), 400, press)
			assert.Equal(t, q.Get(c.field), c.now(), c.verb)
			if slices.ContainsFunc(nasty, func(n string) bool { return form.New(url.Values{"n": {n}}).Text("n") == q.Get(c.field) }) {
				taken++
			}
		}
		assert.GreaterOrEqual(t, taken, len(nasty)-2, "each %s is taken by its own name (white space is made one)", c.field)
	}
	pages := []string{"/", "/shelf", "/plans", "/portrait", "/care", "/worked", "/photos",
		fmt.Sprintf("/shelf?q=%s", url.QueryEscape(nasty[0]))}
	for _, p := range []string{"brief", "gather", "scraps", "wheel", "combinations", "nudge?seed=3&n=4", "values", "ramp", "squint", "cards",
		"proportion", "ways", "bringout", "worktable", "mix", "buy", "list", "signoff", "log", "diary", "made"} {
		pages = append(pages, fmt.Sprintf("/plans/%d/%s", id, p))
	}
	sh, err := m.work.Shelf(ctx)
	require.NoError(t, err)
	for _, c := range sh.Cards {
		pages = append(pages, fmt.Sprintf("/shelf/material/%d", c.ID))
	}
	for _, at := range pages {
		code, body := m.get(at)
		assert.Equal(t, http.StatusOK, code, at)
		assert.NotContains(t, body, "<script>alert", at)
		assert.NotContains(t, body, "\x07", at)
		assert.NotContains(t, body, "\x1b", at)
		assert.NotContains(t, body, "\u202e", at)
		assert.NotContains(t, body, "ZgotmplZ", at)
		assert.NotContains(t, body, "<no value>", at)
	}
	for _, at := range []string{"colourways.svg", "worktable.svg", "run.svg", "print.svg", "piece.svg", "combinations.svg"} {
		code, body := m.get(fmt.Sprintf("/plans/%d/%s", id, at))
		if code == http.StatusNotFound {
			continue
		}
		assert.Less(t, code, 500, at)
		if code == http.StatusOK {
			assert.NoError(t, parsed(body), at)
		}
	}
	for _, at := range []string{"colourways.pdf", "worktable.pdf", "plan.zip", "print.pdf", "list.csv", "list.txt"} {
		code, _ := m.get(fmt.Sprintf("/plans/%d/%s", id, at))
		assert.Less(t, code, 500, at)
	}
	// A list goes out and comes in as it was, and no cell of it is a formula.
	_, list := m.get("/shelf/list.csv")
	rows, err := csv.NewReader(strings.NewReader(list)).ReadAll()
	require.NoError(t, err)
	for _, row := range rows[1:] {
		for _, cell := range row {
			assert.False(t, cell != "" && strings.ContainsAny(cell[:1], "=@"), cell)
		}
	}
	other := visit(t, false)
	up, err := other.work.Upload(ctx, "list.csv", []byte(list))
	require.NoError(t, err)
	came, err := other.work.Confirm(ctx, up, nil)
	require.NoError(t, err)
	assert.Equal(t, len(nasty), came.Added)
	there, err := other.work.Shelf(ctx)
	require.NoError(t, err)
	for _, c := range sh.Cards {
		o := there.Named(c.Name)
		if assert.NotNil(t, o, c.Name) {
			assert.Equal(t, []string{c.Supplier, c.Reference, c.Remark, c.Size}, []string{o.Supplier, o.Reference, o.Remark, o.Size})
		}
	}
	name, file, err := m.work.Export(ctx, id)
	require.NoError(t, err)
	assert.Equal(t, nasty[0], name)
	_, err = testroom.Import(other.work, file)
	require.NoError(t, err)
}

// A link of another site changes nothing of how colours are seen; HEAD answers as GET.
func TestLinksOfOtherSites(t *testing.T) {
	t.Parallel()
	m := visit(t, true)
	ask := func(method, path string, head map[string]string) *http.Response {
		r, err := http.NewRequest(method, m.url+path, nil)
		require.NoError(t, err)
		for k, v := range head {
			r.Header.Set(k, v)
		}
		c := &http.Client{CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }}
		res, err := c.Do(r)
		require.NoError(t, err)
		res.Body.Close()
		return res
	}
	assert.NotEmpty(t, ask("GET", "/view?lamp=warm&back=/shelf", map[string]string{"Sec-Fetch-Site": "same-origin"}).Cookies())
	assert.Empty(t, ask("GET", "/view?lamp=warm&back=/shelf", map[string]string{"Sec-Fetch-Site": "cross-site"}).Cookies())
	for _, at := range []string{"/", "/shelf", "/plans/9/wheel", "/nowhere"} {
		get, head := ask("GET", at, nil), ask("HEAD", at, nil)
		assert.Equal(t, get.StatusCode, head.StatusCode, at)
		assert.Equal(t, get.Header.Get("Content-Type"), head.Header.Get("Content-Type"), at)
	}
}

// A character that is none is refused on every page that takes words.
func TestNoPageTakesANought(t *testing.T) {
	t.Parallel()
	m := visit(t, false)
	for _, path := range []string{"/search?q=%00", "/search?q=a%00b", "/shelf?q=%00&kind=yarn"} {
		code, body := m.get(path)
		assert.Equal(t, 400, code, path)
		assert.Contains(t, plain(body), "type it again", path)
	}
}

// The portrait is of one kind where that is asked, for what is missing in paint is not missing in cloth.
func TestThePortraitOfOneKind(t *testing.T) {
	t.Parallel()
	m := visit(t, true)
	_, whole := m.get("/portrait")
	_, yarns := m.get("/portrait?kind=yarn")
	count := regexp.MustCompile(`(?s)</th><td>(\d+)</td><td>\d+</td>`)
	sum := func(body string) (n int) {
		for _, row := range count.FindAllStringSubmatch(body, -1) {
			one, err := strconv.Atoi(row[1])
			require.NoError(t, err)
			n += one
		}
		return n
	}
	assert.Equal(t, 164, sum(whole))
	assert.Positive(t, sum(yarns))
	assert.Less(t, sum(yarns), 100)
	assert.Contains(t, yarns, `<option value="yarn" selected>`)
}
