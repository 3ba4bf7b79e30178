package web

import (
	"context"
	"io"
	"net/http"
	"net/http/httptest"
	"net/netip"
	"strings"
	"testing"
	"time"

	"github.com/gin-gonic/gin"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/plan"
	"lampfern/shelf"
	"lampfern/store"
)

// deskOf is a desk on a data folder of its own.
func deskOf(t *testing.T, stages ...plan.Stage) *plan.Desk {
	t.Helper()
	st, err := store.Open(t.TempDir())
	require.NoError(t, err)
	t.Cleanup(func() { st.Close() })
	return plan.NewDesk(shelf.New(st), stages)
}

// TestRoomsDoNotCollide holds that two rooms, or two stages, with one name are told at the start.
func TestRoomsDoNotCollide(t *testing.T) {
	edit := map[string]func() plan.Edit{"dye": func() plan.Edit { return plan.Doing(nil) }}
	act := map[string]func() plan.Act{"dye": func() plan.Act { return nil }}
	bring := map[string]func() plan.Bring{"chart": func() plan.Bring { return nil }}
	room := func(r Room) func(*Server) Room { return func(*Server) Room { return r } }
	page := room(Room{Pages: []StagePage{{Key: "vat"}}})
	leaf := func(key, letter string) func(*Server) Room {
		return room(Room{Leaves: []Leaf{{Key: key, Letter: letter}}})
	}
	for name, tt := range map[string]struct {
		stages []plan.Stage
		rooms  []func(*Server) Room
		want   string
	}{
		"verbs":              {[]plan.Stage{{Key: "a", Edits: edit}, {Key: "b", Edits: edit}}, nil, `the stage b has a verb "dye" that is taken`},
		"an act":             {[]plan.Stage{{Key: "a", Edits: edit}, {Key: "b", Acts: act}}, nil, `the stage b has a verb "dye" that is taken`},
		"the kit's own":      {[]plan.Stage{{Key: "a", Edits: map[string]func() plan.Edit{"undo": edit["dye"]}}}, nil, `a verb "undo" that is taken`},
		"a plan's own":       {[]plan.Stage{{Key: "a", Edits: map[string]func() plan.Edit{"pull": edit["dye"]}}}, nil, `a verb "pull" that is taken`},
		"files":              {[]plan.Stage{{Key: "a", Brings: bring}, {Key: "b", Brings: bring}}, nil, `files of the kind "chart"`},
		"letters":            {[]plan.Stage{{Key: "a", Letter: "w"}, {Key: "b", Letter: "w"}}, nil, `the stages a and b have one letter, "w"`},
		"pages":              {nil, []func(*Server) Room{page, page}, `a page "vat"`},
		"leaves":             {nil, []func(*Server) Room{leaf("vats", "v"), leaf("vats", "w")}, `the leaf "vats"`},
		"leaves' letter":     {nil, []func(*Server) Room{leaf("vats", "v"), leaf("tubs", "v")}, `the leaf "tubs"`},
		"a leaf and a stage": {[]plan.Stage{{Key: "a", Letter: "v"}}, []func(*Server) Room{leaf("vats", "v")}, `the leaf "vats"`},
		"none": {[]plan.Stage{{Key: "a", Edits: edit, Letter: "w"}, {Key: "b", Brings: bring}, {Key: "c"}},
			[]func(*Server) Room{page, leaf("vats", "v"), leaf("tubs", "u")}, ""},
	} {
		_, err := New(deskOf(t, tt.stages...), Options{}, tt.rooms)
		if tt.want == "" {
			assert.NoError(t, err, name)
			continue
		}
		assert.ErrorContains(t, err, tt.want, name)
	}
}

// TestARoomSaysHowMuchItTakes holds that a request is read up to the bound of its room, to the byte.
func TestARoomSaysHowMuchItTakes(t *testing.T) {
	const more = maxBody + 1000
	read := func(c *gin.Context) {
		n, err := io.Copy(io.Discard, c.Request.Body)
		if err != nil {
			c.Status(http.StatusRequestEntityTooLarge)
			return
		}
		c.String(http.StatusOK, "%d", n)
	}
	h, err := New(deskOf(t), Options{}, []func(*Server) Room{func(*Server) Room {
		return Room{MaxBody: map[string]int64{"/vats/:id": more, "/small": 10}, Routes: func(r gin.IRoutes) {
			for _, at := range []string{"/vats/:id", "/small", "/other"} {
				r.POST(at, read)
			}
		}}
	}})
	require.NoError(t, err)
	for _, tt := range []struct {
		at   string
		n    int
		want int
	}{
		{"/vats/7", more, http.StatusOK},
		{"/vats/7", more + 1, http.StatusRequestEntityTooLarge},
		{"/small", maxBody, http.StatusOK},
		{"/other", maxBody, http.StatusOK},
		{"/other", maxBody + 1, http.StatusRequestEntityTooLarge},
	} {
		w := httptest.NewRecorder()
		h.ServeHTTP(w, httptest.NewRequestWithContext(context.Background(), http.MethodPost, "http://127.0.0.1"+tt.at,
			strings.NewReader(strings.Repeat("x", tt.n))))
		assert.Equal(t, tt.want, w.Code, "%s %d", tt.at, tt.n)
	}
}

// Where too much is being sent at once, a large body is refused with a sentence before it is read; a form
// and a page are not.
func TestBodiesHaveACeiling(t *testing.T) {
	h, err := New(deskOf(t), Options{}, []func(*Server) Room{func(*Server) Room {
		return Room{MaxBody: map[string]int64{"/streams": 4 << 30}, Routes: func(r gin.IRoutes) {
			for _, at := range []string{"/takes", "/streams"} {
				r.POST(at, func(c *gin.Context) { c.String(http.StatusOK, "taken") })
			}
		}}
	}})
	require.NoError(t, err)
	send := func(at string, n int64) *httptest.ResponseRecorder {
		ctx, cancel := context.WithTimeout(t.Context(), 50*time.Millisecond)
		defer cancel()
		r := httptest.NewRequestWithContext(ctx, http.MethodPost, "http://127.0.0.1"+at, strings.NewReader("x"))
		r.ContentLength = n
		w := httptest.NewRecorder()
		h.ServeHTTP(w, r)
		return w
	}
	assert.Equal(t, http.StatusOK, send("/takes", 10<<20).Code)
	require.True(t, bodies.TryAcquire(heldTogether), "what was held is given back")
	defer bodies.Release(heldTogether)
	for _, n := range []int64{10 << 20, -1} { // -1: how much comes is not told
		w := send("/takes", n)
		assert.Equal(t, http.StatusServiceUnavailable, w.Code, n)
		assert.NotEmpty(t, w.Header().Get("Retry-After"))
	}
	assert.Equal(t, http.StatusOK, send("/takes", 1000).Code, "a form")
	assert.Equal(t, http.StatusOK, send("/streams", 2<<30).Code, "what is read piece by piece")
}

// Behind a program that is believed, the address and the scheme of who asks are those it tells; from
// anywhere else the same fields tell nothing.
func TestWhoAsksBehindAProxy(t *testing.T) {
	d := Doorway{Proxies: []netip.Addr{netip.MustParseAddr("10.0.0.2"), netip.MustParseAddr("10.0.0.3")}}
	for _, tt := range []struct {
		from, told, want string
		secure           bool
	}{
		{"10.0.0.2:1", "192.0.2.7", "192.0.2.7", true},
		{"10.0.0.2:1", "6.6.6.6, 192.0.2.7", "192.0.2.7", true}, // the first is what the asker wrote
		{"10.0.0.2:1", "192.0.2.7, 10.0.0.3", "192.0.2.7", true},
		{"[::ffff:10.0.0.2]:1", "192.0.2.7", "192.0.2.7", true},
		{"10.0.0.2:1", "nonsense", "10.0.0.2", true},
		{"10.0.0.2:1", "", "10.0.0.2", true},
		{"192.0.2.9:1", "192.0.2.7", "192.0.2.9", false},
	} {
		r := httptest.NewRequest(http.MethodPost, "/", nil)
		r.RemoteAddr = tt.from
		r.Header.Set("X-Forwarded-Proto", "https")
		if tt.told != "" {
			r.Header.Set("X-Forwarded-For", tt.told)
		}
		assert.Equal(t, tt.want, d.From(r), "%+v", tt)
		assert.Equal(t, tt.secure, d.secure(r), "%+v", tt)
	}
}

// Over TLS what a page without TLS of the same host sends is refused, and browsers are told to come by TLS
// alone.
func TestTLSIsAnOriginOfItsOwn(t *testing.T) {
	for secure, want := range map[bool]int{true: http.StatusForbidden, false: http.StatusOK} {
		h, err := New(deskOf(t), Options{Doorway: Doorway{Secure: secure}}, []func(*Server) Room{func(*Server) Room {
			return Room{Routes: func(r gin.IRoutes) { r.POST("/takes", func(c *gin.Context) { c.String(http.StatusOK, "taken") }) }}
		}})
		require.NoError(t, err)
		send := func(origin string) *httptest.ResponseRecorder {
			r := httptest.NewRequest(http.MethodPost, "http://127.0.0.1/takes", nil)
			r.Header.Set("Origin", origin)
			w := httptest.NewRecorder()
			h.ServeHTTP(w, r)
			return w
		}
		assert.Equal(t, want, send("http://127.0.0.1").Code)
		w := send("https://127.0.0.1")
		assert.Equal(t, http.StatusOK, w.Code)
		assert.Equal(t, secure, w.Header().Get("Strict-Transport-Security") != "")
	}
}

// TestComponentsAreForDevelopersAlone holds that the sheet of components is served with --dev and not without.
func TestComponentsAreForDevelopersAlone(t *testing.T) {
	t.Chdir("..")
	for dev, want := range map[bool]int{true: http.StatusOK, false: http.StatusNotFound} {
		h, err := New(deskOf(t), Options{Dev: dev}, nil)
		require.NoError(t, err)
		w := httptest.NewRecorder()
		h.ServeHTTP(w, httptest.NewRequestWithContext(t.Context(), http.MethodGet, "http://127.0.0.1/components", nil))
		assert.Equal(t, want, w.Code)
		assert.Equal(t, dev, strings.Contains(w.Body.String(), "The main act"))
	}
}
