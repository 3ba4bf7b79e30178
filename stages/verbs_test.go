package stages

import (
	"encoding/json"
	"io/fs"
	"net/http"
	"net/url"
	"os"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/form"
	"lampfern/web"
)

// sentBy are the verbs that templates, modules and pages send.
func sentBy(t *testing.T) map[string]bool {
	t.Helper()
	sent := map[string]bool{}
	looks := []*regexp.Regexp{
		regexp.MustCompile(`\bdo=([a-z-]+)`),                      // of a button, or an address
		regexp.MustCompile(`name="do" value="([a-z-]+)"`),         // of a form
		regexp.MustCompile(`{{change [^}]* "([a-z-]+)"}}`),        // of its hidden fields
		regexp.MustCompile(`\bdo: ?(?:[^'\n,}]*\? )?'([a-z-]+)'`), // of a module
		regexp.MustCompile(`\bdo: [^'\n,}]*\? '[a-z-]+' : '([a-z-]+)'`),
		regexp.MustCompile(`"do": {"([a-z-]+)"}`),
	}
	for _, room := range []string{"../web", "../stages", "../plan", "../shelf", "../workroom"} {
		require.NoError(t, fs.WalkDir(os.DirFS(room), ".", func(name string, d fs.DirEntry, err error) error {
			if err != nil || d.IsDir() || strings.HasSuffix(name, "_test.go") || !regexp.MustCompile(`\.(html|js|go)$`).MatchString(name) {
				return err
			}
			data, err := os.ReadFile(room + "/" + name)
			for _, look := range looks {
				for _, m := range look.FindAllStringSubmatch(string(data), -1) {
					sent[m[1]] = true
				}
			}
			return err
		}))
	}
	for _, other := range []string{"calibrate", "measure", "simulate"} { // the reader's own page
		delete(sent, other)
	}
	return sent
}

func TestEveryVerbSentIsKnownAndEveryKnownOneIsSent(t *testing.T) {
	t.Parallel()
	edits, brings, acts, err := web.Verbs(All())
	require.NoError(t, err)
	sent := sentBy(t)
	for verb := range sent {
		_, isEdit := edits[verb]
		_, isAct := acts[verb]
		assert.True(t, isEdit || isAct || verb == "undo" || verb == "redo", "%q is sent and no table knows it", verb)
	}
	for verb := range edits {
		assert.True(t, sent[verb], "the edit %q is sent by nothing", verb)
	}
	for verb := range acts {
		assert.True(t, sent[verb], "the act %q is sent by nothing", verb)
	}
	kinds := map[string]bool{}
	for _, dir := range []string{"proportion", "draft", "drawing", "solid", "buy", "log"} {
		all, err := fs.Glob(os.DirFS(dir+"/page"), "*.html")
		require.NoError(t, err)
		for _, name := range all {
			data, err := os.ReadFile(dir + "/page/" + name)
			require.NoError(t, err)
			for _, m := range regexp.MustCompile(`name="kind" value="([a-z]+)"`).FindAllStringSubmatch(string(data), -1) {
				kinds[m[1]] = true
				assert.Contains(t, brings, m[1])
			}
		}
	}
	for kind := range brings {
		assert.True(t, kinds[kind], "nothing brings in a %s", kind)
	}
}

func TestEveryEditReadsItsForm(t *testing.T) {
	t.Parallel()
	edits, brings, acts, err := web.Verbs(All())
	require.NoError(t, err)
	for verb, make := range edits {
		assert.NotPanics(t, func() { _ = form.New(url.Values{}).Fill(make()) }, verb)
	}
	for verb, make := range acts {
		assert.NotPanics(t, func() { _ = form.New(url.Values{}).Fill(make()) }, verb)
	}
	for kind, make := range brings {
		assert.NotPanics(t, func() { _ = form.New(url.Values{}).Fill(make()) }, kind)
	}
}

// TestEveryStage holds what every stage must: that it shows on an empty plan, that
// its section's empty form says nothing, and that it reads what it writes.
func TestEveryStage(t *testing.T) {
	t.Parallel()
	m := visit(t, false)
	id, err := m.work.NewPlan(t.Context(), "Empty", "other")
	require.NoError(t, err)
	assert.EqualValues(t, 1, id)
	var letters []string
	for _, st := range All() {
		t.Run(st.Key, func(t *testing.T) {
			code, body := m.get("/plans/1/" + st.Key)
			assert.Equal(t, 200, code)
			assert.Contains(t, body, "Empty")
			if st.Letter != "" {
				assert.NotContains(t, letters, st.Letter)
				letters = append(letters, st.Letter)
			}
			if st.New == nil {
				return
			}
			s := st.New()
			require.NoError(t, s.Check())
			doc, err := json.Marshal(s)
			require.NoError(t, err)
			assert.JSONEq(t, "{}", string(doc), "an empty section is not kept")
			require.NoError(t, json.Unmarshal([]byte("{}"), s))
			if st.Filled != nil {
				assert.False(t, st.Filled(must(m.work.Open(t.Context(), 1))), "nothing is there yet")
			}
		})
	}
	assert.GreaterOrEqual(t, len(letters), 10)
}

func must[T any](v T, err error) T {
	if err != nil {
		panic(err)
	}
	return v
}

func TestSecurityHeaders(t *testing.T) {
	t.Parallel()
	m := visit(t, false)
	for _, path := range []string{"/", "/plans/99/wheel", "/shelf/list.csv", "/nowhere"} {
		r, err := m.client.Get(m.url + path)
		require.NoError(t, err)
		r.Body.Close()
		csp := r.Header.Get("Content-Security-Policy")
		for _, part := range []string{"default-src 'self'", "frame-ancestors 'none'", "form-action 'self'", "img-src 'self' data:",
			"script-src 'self';", "style-src 'self';", "base-uri 'none'", "object-src 'none'"} {
			assert.Contains(t, csp, part, path)
		}
		assert.NotContains(t, csp, "unsafe-eval", path)
		assert.Equal(t, "nosniff", r.Header.Get("X-Content-Type-Options"), path)
		assert.Equal(t, "same-origin", r.Header.Get("Referrer-Policy"), path)
		assert.Equal(t, "no-store", r.Header.Get("Cache-Control"), path)
	}
}

func TestTheViewLeadsBackToThisSiteOnly(t *testing.T) {
	t.Parallel()
	m := visit(t, false)
	m.client.CheckRedirect = func(r *http.Request, _ []*http.Request) error { return http.ErrUseLastResponse }
	for back, want := range map[string]string{"/shelf": "/shelf", "/plans/1/wheel?a=1&b=2": "/plans/1/wheel?a=1&b=2", `/\host/`: "/",
		`/\/host`: "/", "//host/": "/",
		"http://host/": "/", "host": "/", "": "/", "/\thost": "/"} {
		r, err := m.client.Get(m.url + "/view?lamp=warm&back=" + url.QueryEscape(back))
		require.NoError(t, err)
		r.Body.Close()
		assert.Equal(t, want, r.Header.Get("Location"), "%q", back)
	}
}
