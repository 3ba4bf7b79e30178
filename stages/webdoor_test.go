package stages

import (
	"context"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"net/url"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/door"
	"lampfern/plan"
	"lampfern/shelf"
	"lampfern/store"
	"lampfern/web"
)

const passphrase = "moth lamp river bell"

// shut is a workroom that others reach, and a visitor who has not come in.
func shut(t *testing.T) *maker {
	t.Helper()
	st, err := store.Open(t.TempDir())
	require.NoError(t, err)
	work := plan.NewDesk(shelf.New(st), All())
	d := door.New(st)
	require.NoError(t, d.Set(context.Background(), passphrase))
	h, err := web.New(work, web.Options{Doorway: web.Doorway{Door: d, Closed: true, Fingerprint: "AB:CD"}}, Rooms())
	require.NoError(t, err)
	srv := httptest.NewServer(h)
	t.Cleanup(func() { srv.Close(); st.Close() })
	return &maker{t, visitor(t), srv.URL, work}
}

func visitor(t *testing.T) *http.Client {
	t.Helper()
	jar, err := cookiejar.New(nil)
	require.NoError(t, err)
	return &http.Client{Jar: jar}
}

func TestNobodyComesInWithoutThePassphrase(t *testing.T) {
	t.Parallel()
	m := shut(t)
	for _, path := range []string{"/", "/shelf", "/plans", "/plans/1/buy", "/photos/x/view.jpg", "/plans/1/list.csv", "/nowhere"} {
		status, body := m.get(path)
		assert.Equal(t, http.StatusOK, status, path)
		assert.Contains(t, plain(body), "Passphrase of this workroom", path)
		assert.Contains(t, body, "AB:CD")
	}
	status, body := m.post("/plans/new", url.Values{"name": {"Theirs"}})
	assert.Equal(t, http.StatusUnauthorized, status)
	assert.Contains(t, body, "You are signed out, and nothing was changed")
	status, _ = m.get("/healthz")
	assert.Equal(t, http.StatusOK, status)

	status, body = m.post("/door", url.Values{"door": {"enter"}, "passphrase": {"a wild guess"}})
	assert.Equal(t, http.StatusForbidden, status)
	assert.Contains(t, body, "That is not the passphrase.")
	m.client.CheckRedirect = func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }
	r, err := m.client.PostForm(m.url+"/door", url.Values{"door": {"enter"}, "passphrase": {passphrase}, "back": {"/shelf?kind=yarn"}})
	require.NoError(t, err)
	r.Body.Close()
	assert.Equal(t, "/shelf?kind=yarn", r.Header.Get("Location"))
	require.Len(t, r.Cookies(), 1)
	c := r.Cookies()[0]
	assert.True(t, c.HttpOnly)
	assert.Equal(t, http.SameSiteStrictMode, c.SameSite)
	m.client.CheckRedirect = nil
	_, body = m.get("/shelf")
	assert.Contains(t, body, `href="/door"`, "the way out stands in the rail")

	other := &maker{t, visitor(t), m.url, m.work}
	other.post("/door", url.Values{"door": {"enter"}, "passphrase": {passphrase}})
	_, body = other.get("/door")
	assert.Contains(t, plain(body), "You are signed in")
	assert.Contains(t, plain(body), "Signed in")
	assert.Contains(t, plain(body), "a wrong passphrase, 1 time")
	ended := regexp.MustCompile(`name="session" value="([0-9a-f]{64})"`).FindAllStringSubmatch(body, -1)
	require.Len(t, ended, 1, "one's own is ended above")
	other.post("/door", url.Values{"door": {"end"}, "session": {ended[0][1]}})
	_, body = m.get("/shelf")
	assert.Contains(t, body, "Passphrase of this workroom", "one session is ended by a press")
	_, body = other.get("/door")
	assert.Contains(t, plain(body), "this browser")
	m.post("/door", url.Values{"door": {"enter"}, "passphrase": {passphrase}})
	m.post("/door", url.Values{"door": {"leave"}})
	_, body = m.get("/shelf")
	assert.Contains(t, body, "Passphrase of this workroom")
	_, body = other.get("/shelf")
	assert.NotContains(t, body, "Passphrase of this workroom", "the other one is still in")
	m.post("/door", url.Values{"door": {"enter"}, "passphrase": {passphrase}})
	m.post("/door", url.Values{"door": {"leave-all"}})
	_, body = other.get("/shelf")
	assert.Contains(t, body, "Passphrase of this workroom")

	status, body = m.post("/door", url.Values{"door": {"enter"}, "passphrase": {strings.Repeat("x", 9<<10)}})
	assert.NotEqual(t, http.StatusOK, status, "the door takes a few kB")
	assert.NotContains(t, body, "Something went wrong")
	for range 3 {
		m.post("/door", url.Values{"door": {"enter"}, "passphrase": {"guess guess"}})
	}
	r, err = m.client.PostForm(m.url+"/door", url.Values{"door": {"enter"}, "passphrase": {passphrase}})
	require.NoError(t, err)
	status, body = m.read(r, err)
	assert.Equal(t, http.StatusTooManyRequests, status)
	assert.Contains(t, body, "Too many tries")
	assert.NotEmpty(t, r.Header.Get("Retry-After"))
}

func TestBackLeadsNowhereElse(t *testing.T) {
	t.Parallel()
	m := shut(t)
	m.client.CheckRedirect = func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }
	for _, back := range []string{"//evil.example/x", "https://evil.example", `/\evil.example`, "", "shelf", "/a\r\nX: y"} {
		r, err := m.client.PostForm(m.url+"/door", url.Values{"door": {"enter"}, "passphrase": {passphrase}, "back": {back}})
		require.NoError(t, err)
		r.Body.Close()
		assert.Equal(t, "/", r.Header.Get("Location"), back)
	}
}

// A foreign page that points a name of its own at this machine is not answered, whatever
// it asks; what pages may load is said with every one.
func TestForeignNamesAndPagesAreRefused(t *testing.T) {
	t.Parallel()
	m := visit(t, false)
	ask := func(method, host, origin string) *http.Response {
		t.Helper()
		r, err := http.NewRequest(method, m.url+"/plans", strings.NewReader("name=Theirs&craft=quilt"))
		require.NoError(t, err)
		r.Host = host
		r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
		if origin != "" {
			r.Header.Set("Origin", origin)
		}
		res, err := m.client.Do(r)
		require.NoError(t, err)
		res.Body.Close()
		return res
	}
	assert.Equal(t, http.StatusMisdirectedRequest, ask("GET", "evil.example", "").StatusCode)
	assert.Equal(t, http.StatusMisdirectedRequest, ask("POST", "evil.example:8080", "http://evil.example:8080").StatusCode,
		"its own origin, pointed here")
	assert.Equal(t, http.StatusForbidden, ask("POST", "localhost", "null").StatusCode)
	assert.Equal(t, http.StatusForbidden, ask("POST", "localhost", "http://evil.example").StatusCode)
	res := ask("GET", "localhost", "")
	assert.Equal(t, http.StatusOK, res.StatusCode)
	policy := res.Header.Get("Content-Security-Policy")
	assert.Contains(t, policy, "script-src 'self';")
	assert.Contains(t, policy, "base-uri 'none'")
	assert.NotContains(t, policy, "script-src 'self' 'unsafe-inline'")
	plans, err := m.work.Plans(context.Background())
	require.NoError(t, err)
	assert.Empty(t, plans)
}
