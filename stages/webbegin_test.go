package stages

import (
	"context"
	"fmt"
	"net"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"net/url"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/balance"
	"lampfern/core/note"
	"lampfern/demo"
	"lampfern/door"
	"lampfern/plan"
	"lampfern/shelf"
	"lampfern/store"
	"lampfern/testroom"
	"lampfern/web"
)

// Five pasted yarns are on the shelf, on a wheel and on stripes after one press.
func TestAFirstPlanFromPastedColours(t *testing.T) {
	t.Parallel()
	m := visit(t, false)
	_, body := m.get("/")
	assert.Contains(t, plain(body), "What are you making?")
	assert.NotContains(t, body, "try-demo", "there is none here")
	five := "Plum #5a2a4e\nMoth wing #d9cbb0\n#8a5a86\nReed rgb(124, 138, 58)\nTeal #1f6f74\nplum #5a2a4e"
	code, body := m.post("/begin", url.Values{"colours": {five}, "kind": {"yarn"}})
	require.Equal(t, http.StatusOK, code)
	assert.Contains(t, plain(body), "Your colours are on the shelf and in the tray.")
	p := testroom.MustOpen(t, m.work, 1)
	assert.Equal(t, []string{"Yarn in 5 colours", "knitting or crochet"}, []string{p.Plan.Name, p.Craft})
	assert.Regexp(t, `^Plum:stripe \d Moth wing:stripe \d Amethyst:stripe \d Reed:stripe \d Teal:stripe \d$`, testroom.Tray(p))
	typed, opened := 0, 0
	for at, kinds := range map[*int][]note.Note{&typed: balance.Notes(p.Piece.Layout(), p.Colours()), &opened: balance.Notes(p.Layout(), p.Colours())} {
		for _, n := range kinds {
			if n.Grade != note.Fine {
				*at++
			}
		}
	}
	assert.LessOrEqual(t, opened, typed, "it opens on the best arrangement, and not on the order that was typed")
	best := p.Piece.Layout().Merge(p.Fill(), len(p.Tray))
	pulls := balance.FirstLook(best, p.Labs())
	assert.Greater(t, pulls[0].Pull, balance.FocusClear*pulls[1].Pull, "one part leads")
	assert.Equal(t, "Plum", p.Lead.Name)
	for _, c := range p.Tray {
		assert.Equal(t, []string{"yarn", "typed"}, []string{c.Kind, c.Source})
	}

	// Pasted again they are the same cards; another colour of a name has a name of its own.
	id, err := m.work.Begin(t.Context(), plan.Beginning{Colours: "Plum #5a2a4e\nTeal #336699", Kind: "yarn"})
	require.NoError(t, err)
	assert.Equal(t, "Plum:stripe 1, stripe 3 and stripe 5 Teal (another):stripe 2 and stripe 4",
		testroom.Tray(testroom.MustOpen(t, m.work, id)))
	sh, err := m.work.Shelf(t.Context())
	require.NoError(t, err)
	assert.Len(t, sh.Cards, 6)
	for text, want := range map[string]string{
		" , ":                                  "Choose what you are making, or type a colour",
		"nothing here":                         "1 line has no colour. Choose its colour below, or skip it.",
		"Plum #5a2":                            "",
		"Plum #5a2x4e":                         "is not a colour",
		strings.Repeat("#102030 #112233 ", 30): "The text has 60 colours and a palette holds 40",
		strings.Repeat("x", plan.MostBegun+1):  "longer than 64 kB",
	} {
		code, body := m.post("/begin", url.Values{"colours": {text}, "kind": {"fabric"}})
		if want == "" {
			assert.Equal(t, http.StatusOK, code, text)
			continue
		}
		assert.Equal(t, http.StatusUnprocessableEntity, code, "%.20s", text)
		assert.Contains(t, plain(body), want)
		assert.Contains(t, body, `<option selected>fabric</option>`, "what was typed is kept")
	}
	code, body = m.post("/begin", url.Values{"colours": {"Barn #884422\nnavy\nOld door\nTitle line\n3 balls Moss #4f5a34"}, "kind": {"yarn"},
		"line": {"Old door", "Title line"}, "pick": {"#336699", "#808080"}, "leave": {"1"}})
	assert.Equal(t, http.StatusOK, code)
	assert.Contains(t, plain(body), "Your colours are on the shelf")
	sh, err = m.work.Shelf(t.Context())
	require.NoError(t, err)
	for name, hex := range map[string]string{"Barn": "#884422", "Navy": "#1e2a4e", "Old door": "#336699", "Moss": "#4f5a34"} {
		require.NotNil(t, sh.Named(name), name)
		assert.Equal(t, hex, sh.Named(name).Colour.Hex(), name)
	}
	assert.Equal(t, 12.0, sh.Named("Navy").Uncertainty, "by its name alone")
	assert.Equal(t, "A ball is taken as 50 g. Change it if yours differs.", sh.Named("Moss").Remark, "what a ball holds is said, and can be changed")
	assert.Nil(t, sh.Named("Title line"))
	code, body = m.post("/begin", url.Values{"colours": {"#123456"}, "kind": {"feathers"}})
	assert.Equal(t, http.StatusUnprocessableEntity, code)
	assert.Contains(t, plain(body), `"feathers" is not a material type`)
	for kind, want := range map[string]string{"fabric": "quilt", "thread": "quilt", "paint": "painted models", "filament": "printed parts",
		"paper": "cards", "building part": "building parts", "soap colourant": "soap"} {
		id, err := m.work.Begin(t.Context(), plan.Beginning{Colours: "#456789 #987654", Kind: kind})
		require.NoError(t, err, kind)
		assert.Equal(t, want, testroom.MustOpen(t, m.work, id).Craft, kind)
	}
}

// The demo workroom is apart from one's own, and is thrown away on leaving.
func TestTryingTheDemoWorkroom(t *testing.T) {
	t.Parallel()
	st, err := store.Open(t.TempDir())
	require.NoError(t, err)
	defer st.Close()
	opened, closed := 0, 0
	try := &web.Try{Open: func(ctx context.Context) (*plan.Desk, error) {
		opened++
		other, err := store.Open(t.TempDir())
		require.NoError(t, err)
		t.Cleanup(func() { other.Close() })
		k := plan.NewDesk(shelf.New(other), All())
		return k, demo.Load(ctx, k)
	}, Close: func() error { closed++; return nil }}
	work := plan.NewDesk(shelf.New(st), All())
	way := web.Doorway{Hosts: door.NewHosts(&net.TCPAddr{IP: net.IPv4(192, 0, 2, 1)}, "lamp.example")}
	h, err := web.New(work, web.Options{Try: try, Doorway: way}, Rooms())
	require.NoError(t, err)
	srv := httptest.NewServer(h)
	defer srv.Close()
	jar, err := cookiejar.New(nil)
	require.NoError(t, err)
	m, other := &maker{t, &http.Client{Jar: jar}, srv.URL, work}, &maker{t, &http.Client{}, srv.URL, work}

	_, body := m.get("/")
	assert.Contains(t, body, "try-demo")
	_, body = m.post("/try", nil)
	assert.Contains(t, plain(body), "This is the demo workroom. Nothing you do here is kept.")
	assert.Contains(t, plain(body), "164 materials")
	code, body := m.get("/plans/9/proportion")
	assert.Equal(t, http.StatusOK, code)
	assert.Contains(t, plain(body), "This is the demo workroom")
	r, err := http.NewRequestWithContext(t.Context(), http.MethodGet, m.url+"/plans/9/wheel", nil)
	require.NoError(t, err)
	r.Host = "lamp.example" // by which it is open on the network
	r.AddCookie(&http.Cookie{Name: "lampfern-try", Value: "1"})
	code, body = m.read(m.client.Do(r))
	assert.Equal(t, http.StatusOK, code)
	assert.Contains(t, plain(body), "This is the demo workroom")
	m.post("/shelf/new", url.Values{"name": {"Tried red"}, "colour": {"#aa2233"}})
	_, body = m.get("/shelf?q=tried")
	assert.Contains(t, plain(body), "Tried red")
	_, body = other.get("/shelf")
	assert.Contains(t, plain(body), "The shelf is empty", "one's own holds nothing of it")
	m.post("/try", nil)
	assert.Equal(t, 1, opened, "one that is there is gone on with")
	_, body = m.post("/try/leave", nil)
	assert.Contains(t, plain(body), "You are back in your own workroom")
	assert.Equal(t, 1, closed)
	_, body = m.get("/shelf")
	assert.Contains(t, plain(body), "The shelf is empty")
	code, _ = other.get("/plans/9/wheel")
	assert.Equal(t, http.StatusNotFound, code)
}

// Each stage says in a sentence what it is for, until the maker puts that away for good.
func TestHintsOfTheStages(t *testing.T) {
	t.Parallel()
	m := visit(t, false)
	id, err := m.work.Begin(t.Context(), plan.Beginning{Colours: "#456789 #987654 #224466", Kind: "fabric"})
	require.NoError(t, err)
	at := fmt.Sprintf("/plans/%d/", id)
	for _, st := range m.work.Stages() {
		_, body := m.get(at + st.Key)
		assert.Equal(t, st.Letter != "", st.Hint != "", "stages have hints, what lies below them none: %s", st.Key)
		if st.Hint != "" {
			assert.Contains(t, plain(body), st.Hint)
		}
	}
	_, body := m.post("/tour", url.Values{"back": {at + "wheel"}})
	assert.Contains(t, plain(body), "Hints are hidden.")
	assert.NotContains(t, body, "tour-away")
	again := plan.NewDesk(shelf.New(m.work.Store), All()) // as after a restart
	shown, err := again.Tour(t.Context())
	require.NoError(t, err)
	assert.False(t, shown)
	_, body = m.get("/care")
	assert.Contains(t, body, "tour-again")
	_, body = m.post("/tour", url.Values{"back": {"//evil.example"}, "shown": {"1"}})
	assert.Contains(t, plain(body), "Hints are shown again")
	_, body = m.get(at + "wheel")
	assert.Contains(t, body, "tour-away")
}

// A material added on the way from a plan leads back to it; another of a heap keeps what they share.
func TestAddingAMaterialFromAPlan(t *testing.T) {
	t.Parallel()
	m := visit(t, true)
	_, body := m.get("/plans/9/gather")
	assert.Contains(t, body, `href="/shelf/new?plan=9"`)
	_, body = m.get("/shelf/new?plan=9&like=3")
	assert.Contains(t, body, `name="plan" value="9"`)
	assert.Contains(t, body, `value="Gorse Drapery"`)
	assert.Contains(t, body, `<option value="fabric" selected>`)
	fields := url.Values{"plan": {"9"}, "name": {""}, "kind": {"fabric"}, "colour": {"#806040"}}
	code, body := m.post("/shelf/new", fields)
	assert.Equal(t, http.StatusUnprocessableEntity, code)
	assert.Contains(t, body, `name="plan" value="9"`, "the way back is kept")
	fields.Set("name", "Tent & awning")
	code, body = m.post("/shelf/new", fields)
	assert.Equal(t, http.StatusOK, code)
	assert.Contains(t, plain(body), "Tent & awning is on the shelf. Add it to your plan here.")
	assert.Contains(t, body, "Tent &amp; awning</b>")
}

// What is made is chosen by its picture: with colours it is seen at once in its best arrangement, with how much there is of
// each on the shelf; without, its colours are chosen later.
func TestWhatAreYouMaking(t *testing.T) {
	t.Parallel()
	m := visit(t, false)
	_, body := m.get("/")
	things := regexp.MustCompile(`id="thing-(\w+)"`).FindAllStringSubmatch(body, -1)
	assert.Greater(t, len(things), 15)
	for _, thing := range things {
		if thing[1] == "none" || thing[1] == "own" {
			continue
		}
		code, picture := m.get("/things/" + thing[1] + ".svg")
		require.Equal(t, 200, code, thing[1])
		assert.Contains(t, picture, "<svg", thing[1])
		assert.Empty(t, chromatic(regexp.MustCompile(`href="[^"]*"|data:[^"]*`).ReplaceAllString(picture, "")), "%s without colours is grey", thing[1])
	}
	code, _ := m.get("/things/castle.svg")
	assert.Equal(t, 404, code)
	colours := "Oat #d8c8a8, 3 balls\nHeather #8a6a96, 2 balls\nMoss #5c6a3a"
	code, body = m.post("/begin", url.Values{"colours": {colours}, "thing": {"stranded"}, "for": {"Ada"}})
	require.Equal(t, 200, code)
	assert.Contains(t, plain(body), "in their best arrangement")
	p := testroom.MustOpen(t, m.work, 1)
	assert.Equal(t, []string{"Stranded chart", "knitting or crochet", "stranded", "Ada"}, []string{p.Plan.Name, p.Craft, p.Pattern, p.Asked().For})
	assert.Equal(t, "yarn", p.Tray[0].Kind, "the usual")
	assert.Len(t, p.Tray[0].Lots, 1)
	assert.InDelta(t, 3*50, p.Tray[0].OnHand(), 1e-9, "three balls are on hand")
	assert.NotContains(t, p.Fill(), -1)
	code, body = m.post("/begin", url.Values{"thing": {"dress"}})
	require.Equal(t, 200, code)
	assert.Contains(t, plain(body), "Add cards to the tray to see them on the piece")
	dress := testroom.MustOpen(t, m.work, 2)
	assert.Equal(t, []string{"dress", "garment"}, []string{dress.Pattern, dress.Craft})
	for _, bad := range []url.Values{{"colours": {"Oat #d8c8a8"}, "thing": {"castle"}}, {"thing": {"castle"}}} {
		code, body = m.post("/begin", bad)
		assert.Equal(t, 422, code)
		assert.Contains(t, plain(body), "is not a piece Lamp Fern knows")
	}
	code, body = m.post("/begin", url.Values{"colours": {"Oat, whatever"}, "thing": {"stranded"}})
	assert.Equal(t, 422, code)
	assert.Contains(t, body, `value="stranded" id="thing-stranded" checked`, "what was chosen is kept")
	for _, id := range []uint{1, 2} {
		code, picture := m.get(fmt.Sprintf("/plans/%d/small.svg", id))
		assert.Equal(t, 200, code)
		assert.Contains(t, picture, "<svg")
	}
}
