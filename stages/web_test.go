package stages

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"io/fs"
	"mime/multipart"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"net/url"
	"os"
	"path/filepath"
	"regexp"
	"sort"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/colour"
	"lampfern/core/material"
	"lampfern/demo"
	"lampfern/plan"
	"lampfern/shelf"
	"lampfern/store"
	"lampfern/testroom"
	"lampfern/web"
	shelfpage "lampfern/workroom/shelf"
)

// maker is somebody at a browser, without the browser.
type maker struct {
	t      testing.TB
	client *http.Client
	url    string
	work   *plan.Desk
}

func visit(t testing.TB, full bool) *maker {
	t.Helper()
	if full {
		return visitAt(t, testroom.Filled(t, fillDemo, All()))
	}
	return visitAt(t, t.TempDir())
}

func fillDemo(k *plan.Desk) error { return demo.Load(context.Background(), k) }

// visitAt visits a workroom that lies in a folder.
func visitAt(t testing.TB, dir string) *maker {
	t.Helper()
	st, err := store.Open(dir)
	require.NoError(t, err)
	work := plan.NewDesk(shelf.New(st), All())
	h, err := web.New(work, web.Options{}, Rooms())
	require.NoError(t, err)
	srv := httptest.NewServer(h)
	t.Cleanup(func() { srv.Close(); st.Close() })
	jar, err := cookiejar.New(nil)
	require.NoError(t, err)
	return &maker{t, &http.Client{Jar: jar}, srv.URL, work}
}

func (m *maker) read(r *http.Response, err error) (int, string) {
	m.t.Helper()
	require.NoError(m.t, err)
	defer r.Body.Close()
	body, err := io.ReadAll(r.Body)
	require.NoError(m.t, err)
	return r.StatusCode, string(body)
}

func (m *maker) get(path string) (int, string) {
	m.t.Helper()
	return m.read(m.client.Get(m.url + path))
}

func (m *maker) post(path string, fields url.Values) (int, string) {
	m.t.Helper()
	return m.read(m.client.PostForm(m.url+path, fields))
}

func (m *maker) upload(path, name string, data []byte) (int, string) {
	m.t.Helper()
	var b bytes.Buffer
	w := multipart.NewWriter(&b)
	part, err := w.CreateFormFile("file", name)
	require.NoError(m.t, err)
	_, err = part.Write(data)
	require.NoError(m.t, err)
	require.NoError(m.t, w.Close())
	return m.read(m.client.Post(m.url+path, w.FormDataContentType(), &b))
}

// change posts a change to plan 9 on its newest revision.
func (m *maker) change(stage, act string) (int, string) {
	m.t.Helper()
	p, err := m.work.Open(context.Background(), 9)
	require.NoError(m.t, err)
	return m.post("/plans/9/change", url.Values{"revision": {fmt.Sprint(p.Revision)}, "stage": {stage}, "act": {act}})
}

// plain strips tags and folds space.
func plain(html string) string {
	html = regexp.MustCompile(`(?s)<script.*?</script>|<[^>]*>`).ReplaceAllString(html, " ")
	html = strings.NewReplacer("&#39;", "'", "&#34;", `"`, "&amp;", "&", "&#43;", "+").Replace(html)
	return strings.Join(strings.Fields(html), " ")
}

func TestEveryPageAnswers(t *testing.T) {
	t.Parallel()
	m := visit(t, true)
	for path, want := range map[string]string{
		"/": "Stage curtain", "/shelf": "164 materials", "/plans": "9 plans", "/shelf/new": "Put it on the shelf",
		"/shelf/import":     "Check the list",
		"/shelf/material/1": "Plum curtain", "/plans/9": "Split complementary from Marrow flesh", "/plans/9/gather": "Lead colour",
		"/plans/9/values": "Dusty fig is noticeably greyer than its neighbours",
		"/plans/9/cards":  "swatch cards", "/plans/9/proportion": "Where the eye goes", "/plans/9/brief": "spring tour",
		"/plans/9/mix":     "Best recipes",
		"/plans/9/signoff": "Agree the plan before you cut", "/plans/9/buy": "Wish list", "/plans/9/log": "Piece the blocks",
		"/plans/9/diary": "Write in the diary", "/plans/9/made": "Planned and finished", "/worked": "Past verdicts", "/search?q=moth": "result",
		"/healthz":     "ok",
		"/shelf?q=owl": "of 164 materials", "/shelf?family=olive": "of 164 materials", "/shelf?page=3": "page 3 of 3",
		"/shelf?page=99": "page 3 of 3", "/shelf?q=zzz": "No materials match",
		"/plans/8/proportion": "Visual weight and temperature", "/plans/8/pieces": "Waistcoat is in use", "/plans/6/draft": "96 ends and 768 picks",
		"/plans/6/second": "Up to 7 m away you see two yarns", "/plans/7/stitches": "16 × 22 stitches",
		"/plans/7/draft": "Choose a woven cloth on Proportion first", "/plans/6/drawing": "Choose your own drawing on Proportion first",
		"/plans/6/ways": "Every arrangement of these cards", "/plans/9/ways?beside=1": "times as strongly as Moth wing",
		"/plans/8/ways?beside=1": "Every arrangement of these cards", "/plans/7/proportion?flat=1": "has a 14-stitch float",
		"/plans/9/proportion?far=40": "40 m away", "/plans/9/plan.zip": "plan.json", "/shelf/list.csv": "name,kind,colour",
	} {
		code, body := m.get(path)
		assert.Equal(t, 200, code, path)
		assert.Contains(t, plain(body), want, path)
	}
}

func TestWhatIsNotThereIsSaidPlainly(t *testing.T) {
	t.Parallel()
	m := visit(t, true)
	for path, want := range map[string]string{
		"/plans/99/wheel": "There is no such plan", "/plans/abc/wheel": "There is no such plan", "/plans/9/attic": "no stage called",
		"/shelf/material/999": "no such material", "/nowhere": "no page at this address", "/shelf/import/77": "Choose the file again",
		"/plans/99/plan.json": "no such plan", "/plans/99/print.pdf": "no such plan", "/plans/9/print.svg?sheet=4": "1 sheet",
	} {
		code, body := m.get(path)
		assert.Equal(t, 404, code, path)
		assert.Contains(t, plain(body), want, path)
	}
	code, body := m.get("/plans/9/print.pdf?paper=napkin")
	assert.Equal(t, 422, code)
	assert.Contains(t, body, "choose a4 or letter")
	id, err := m.work.NewPlan(context.Background(), "Bare", "garment")
	require.NoError(t, err)
	code, body = m.get(fmt.Sprintf("/plans/%d/print.pdf", id))
	assert.Equal(t, 422, code)
	assert.Contains(t, body, "The tray is empty")
	for _, stage := range []string{"wheel", "values", "cards", "proportion", "gather"} {
		code, _ = m.get(fmt.Sprintf("/plans/%d/%s", id, stage))
		assert.Equal(t, 200, code, "an empty plan shows its %s", stage)
	}
}

func TestChangesWithoutAScript(t *testing.T) {
	t.Parallel()
	m := visit(t, true)
	code, body := m.change("wheel", "do=light&scheme=triadic")
	assert.Equal(t, 200, code)
	assert.Contains(t, plain(body), "Triadic from Marrow flesh")
	_, body = m.change("proportion", "do=fill&part=ground&key=4")
	assert.Contains(t, body, `<option value="4" selected>Marrow flesh`)
	_, body = m.change("proportion", "do=undo")
	assert.Contains(t, plain(body), "Undone: Marrow flesh to the ground.")
	for act, want := range map[string]string{
		"do=pull&material=9999": "no longer on the shelf", "do=light&scheme=rainbow": "scheme is not possible",
		"do=pull&material=x": "must be a whole number",
		"do=sing":            "not known here", "do=redo&x=1": "Done again", "do=piece&pattern=tent": "is not possible",
		"do=piece&pattern=strips&set-strips=many": "not a number",
	} {
		code, body := m.change("values", act)
		assert.Equal(t, 200, code, act)
		assert.Contains(t, plain(body), want, act)
	}
	_, body = m.post("/plans/9/change", url.Values{"revision": {"1"}, "stage": {"values"}, "act": {"do=aside&key=1"}})
	assert.Contains(t, plain(body), "changed in another tab")
	assert.NotContains(t, body, `class="sent"`, "the number of a card is nothing that was typed")
	code, body = m.post("/plans/9/change", url.Values{"revision": {"1"}, "stage": {"brief"}, "do": {"brief"},
		"purpose": {"A <b>typed</b> purpose"}})
	assert.Equal(t, 409, code)
	assert.Contains(t, body, `<p class="sent">A &lt;b&gt;typed&lt;/b&gt; purpose</p>`)
	assert.Contains(t, body, `<input type="hidden" name="purpose" value="A &lt;b&gt;typed&lt;/b&gt; purpose">`)
	assert.Contains(t, plain(body), "Make it now")
	code, _ = m.post("/plans/99/change", url.Values{"revision": {"1"}, "act": {"do=aside&key=1"}})
	assert.Equal(t, 404, code)
	code, body = m.post("/plans", url.Values{"name": {"  "}, "craft": {"quilt"}})
	assert.Equal(t, 422, code)
	assert.Contains(t, body, "Give the plan a name")
	_, body = m.post("/plans/9/change", url.Values{"revision": {currentRevision(m)}, "act": {"do=away&away=1"}})
	assert.Contains(t, plain(body), "8 plans")
	assert.Contains(t, body, "Restore Stage curtain")
}

func currentRevision(m *maker) string {
	p, err := m.work.Open(context.Background(), 9)
	require.NoError(m.t, err)
	return fmt.Sprint(p.Revision)
}

func TestTheWorkroomsWheelHasNoButtons(t *testing.T) {
	t.Parallel()
	m := visit(t, true)
	_, body := m.get("/")
	assert.Contains(t, body, `id="frond-3" role="img"`)
	assert.NotContains(t, body, "Turn the light here")
	_, body = m.get("/plans/9/wheel")
	assert.Contains(t, body, "Turn the light here")
}

func TestFrondsAreSentOnce(t *testing.T) {
	t.Parallel()
	m := visit(t, true)
	ask := func(part, have string) string {
		r, err := http.NewRequest("GET", m.url+"/plans/9/wheel?turn=3", nil)
		require.NoError(t, err)
		r.Header.Set(web.PartHeader, part)
		r.Header.Set(web.HaveHeader, have)
		_, body := m.read(m.client.Do(r))
		return body
	}
	whole := ask("1", "")
	assert.Contains(t, whole, `id="frond-3"`)
	key := regexp.MustCompile(`data-key="([^"]+)"`).FindStringSubmatch(whole)[1]
	again := ask("1", key)
	assert.NotContains(t, again, `id="frond-3"`)
	assert.Contains(t, again, `data-same="1"`)
	assert.Contains(t, again, `id="light"`)
	assert.Contains(t, ask("", key), `id="frond-3"`, "a whole page is always whole")
	m.post("/shelf/new", url.Values{"name": {"Another"}, "colour": {"#aa3366"}})
	assert.Contains(t, ask("1", key), `id="frond-3"`, "another shelf has other fronds")
	m.get("/view?lamp=warm&back=/")
	assert.Contains(t, ask("1", key), `id="frond-3"`, "so has another lamp")
}

func TestBadLists(t *testing.T) {
	t.Parallel()
	m := visit(t, true)
	for name, c := range map[string]struct {
		data []byte
		code int
		want string
	}{
		"header":  {[]byte("title,shade\nx,#fff\n"), 422, "must name the columns"},
		"lines":   {[]byte("name,colour\n" + strings.Repeat("x,#fff\n", 100000)), 422, "100001 lines"},
		"large":   {make([]byte, 50<<20), 422, "larger than 10 MB"},
		"empty":   {nil, 422, "is empty"},
		"picture": {[]byte("\x89PNG\r\n\x1a\n\x00\x00"), 422, "is not text"},
	} {
		code, body := m.upload("/shelf/import", name+".csv", c.data)
		assert.Equal(t, c.code, code, name)
		assert.Contains(t, plain(body), c.want, name)
	}
	code, body := m.upload("/shelf/import", "mixed.csv",
		[]byte("\xef\xbb\xbfname,colour\nNew one,#abc\nTwo;#fff\nThree,#12\nPLUM CURTAIN,#000\nNew one,#fff\n"))
	assert.Equal(t, 200, code)
	text := plain(body)
	for _, want := range []string{"3 lines will be skipped", "1 new material", "1 is already on the shelf and can be updated",
		"semicolons between the fields", "six digits", "already on the shelf", "already on line 2"} {
		assert.Contains(t, text, want)
	}
	_, body = m.get("/shelf")
	assert.Contains(t, body, "164 materials", "nothing came in")
	code, body = m.upload("/plans/import", "x.json", []byte("{}"))
	assert.Equal(t, 422, code)
	assert.Contains(t, plain(body), "not a Lamp Fern plan")
}

func TestMaterialForms(t *testing.T) {
	t.Parallel()
	m := visit(t, true)
	add := func(fields url.Values) (int, string) {
		code, body := m.post("/shelf/new", fields)
		return code, plain(body)
	}
	for want, f := range map[string]url.Values{
		"six digits":                {"name": {"A"}, "colour": {"#12"}},
		"between 0 and 100":         {"name": {"A"}, "L": {"101"}, "a": {"0"}, "b": {"0"}},
		"between −128 and 128":      {"name": {"A"}, "L": {"10"}, "a": {"0"}, "b": {"500"}},
		"Write a number":            {"name": {"A"}, "L": {"light"}, "a": {"0"}, "b": {"0"}},
		"Give a colour":             {"name": {"A"}},
		"Give the material a name.": {"colour": {"#fff"}},
		"is already on the shelf":   {"name": {"plum CURTAIN"}, "colour": {"#fff"}},
	} {
		code, body := add(f)
		assert.Equal(t, 422, code, want)
		assert.Contains(t, body, want)
	}
	_, body := m.get("/shelf/material/1")
	revision := regexp.MustCompile(`name="revision" value="(\d+)"`).FindStringSubmatch(body)[1]
	sh, err := m.work.Shelf(context.Background())
	require.NoError(t, err)
	before, err := sh.Card(1)
	require.NoError(t, err)
	fields := url.Values{"revision": {revision}}
	for k, v := range shelfpage.FormOf(before).Values {
		fields.Set(k, v)
	}
	fields.Set("remark", "seen again")
	code, body := m.post("/shelf/material/1", fields)
	assert.Equal(t, 200, code)
	assert.Contains(t, body, "seen again")
	sh, _ = m.work.Shelf(context.Background())
	after, _ := sh.Card(1)
	assert.Equal(t, before.Colour, after.Colour, "saving a remark leaves the colour as exact as it was")
	// A stale tab: what only one of them changed is kept of both, what both did is asked about.
	was, err := json.Marshal(shelfpage.FormOf(before).Values)
	require.NoError(t, err)
	fields.Set("was", string(was))
	fields.Set("remark", "mine, <i>typed</i>")
	code, body = m.post("/shelf/material/1", fields)
	assert.Equal(t, 409, code)
	assert.Contains(t, plain(body), "Not saved: this material was changed in another tab")
	assert.Contains(t, body, `value="mine, &lt;i&gt;typed&lt;/i&gt;"`)
	assert.Contains(t, plain(body), "saved in the other tab: seen again Use this")
	fields.Set("remark", before.Remark)
	fields.Set("supplier", "Fox Lane")
	code, body = m.post("/shelf/material/1", fields)
	assert.Equal(t, 200, code)
	assert.Contains(t, plain(body), "is saved, with the changes from the other tab.")
	sh, _ = m.work.Shelf(context.Background())
	after, _ = sh.Card(1)
	assert.Equal(t, []string{"seen again", "Fox Lane"}, []string{after.Remark, after.Supplier})
	_, body = m.post("/shelf/material/1/off", url.Values{"revision": {revision}})
	assert.Contains(t, plain(body), "Not removed")
	_, body = m.post("/shelf/step", url.Values{"do": {"undo"}, "version": {"1"}})
	assert.Contains(t, plain(body), "Not undone")
	for k, v := range shelfpage.FormOf(after).Values {
		fields.Set(k, v)
	}
	fields.Set("revision", fmt.Sprint(after.Revision))
	fields.Set("colour", "#336699")
	m.post("/shelf/material/1", fields)
	sh, _ = m.work.Shelf(context.Background())
	after, _ = sh.Card(1)
	rgb, _ := after.Colour.RGB()
	assert.Equal(t, "#336699", rgb.Hex(), "a new hex counts when L, a and b were left")
}

func TestStockForms(t *testing.T) {
	t.Parallel()
	m := visit(t, true)
	sh, err := m.work.Shelf(context.Background())
	require.NoError(t, err)
	found, _ := sh.Find(shelf.Query{Text: "owl night"})
	require.Len(t, found, 1)
	path := fmt.Sprintf("/shelf/material/%d", found[0].ID)
	revision := func() string {
		_, body := m.get(path)
		return regexp.MustCompile(`name="revision" value="(\d+)"`).FindStringSubmatch(body)[1]
	}
	fields := func() url.Values {
		return url.Values{"revision": {revision()}, "pack": {"50"}, "size": {"4-ply"}, "lot-name": {"7a", "7b", ""},
			"lot-on-hand": {"3", "25,5", ""}, "lot-unit": {"ball", "g", "g"},
			"lot-price": {"4.20", "", ""}, "lot-place": {"chest by the door", "", ""}, "lot-colour": {"#38302b", "#3f352d", ""},
			"lot-state": {"in use", "set aside as a mistake", "in use"},
			"more-role": {"flash", "flash"}, "more-colour": {"#d0c4b0", ""}, "more-coverage": {"", ""}}
	}
	old := fields()
	code, body := m.post(path+"/stock", old)
	assert.Equal(t, 200, code)
	text := plain(body)
	assert.Contains(t, text, "175.5 g, 3.51 × ball")
	assert.Contains(t, text, "Lot 7b beside lot 7a:")
	assert.Contains(t, body, "linear-gradient", "face and flash are shown as a pair")
	old.Set("lot-place", "under the stairs")
	code, body = m.post(path+"/stock", old)
	assert.Equal(t, 409, code)
	assert.Contains(t, plain(body), "The lots were changed in another tab, and yours are not saved yet.")
	assert.Contains(t, plain(body), "Lot 7a, 3 ball on hand, 4.2, chest by the door, #38302b, in use")
	assert.Contains(t, body, `value="under the stairs"`)
	for want, change := range map[string][2]string{"write a number": {"lot-on-hand", "some"}, "not a colour": {"lot-colour", "#12"},
		"say how many g one ball holds": {"pack", ""}, "two lots have this name": {"lot-name", "7B"}} {
		f := fields()
		f[change[0]][0] = change[1]
		code, body = m.post(path+"/stock", f)
		assert.Equal(t, 422, code, want)
		assert.Contains(t, strings.ToLower(plain(body)), strings.ToLower(want))
		if change[1] != "" {
			assert.Contains(t, body, `value="`+change[1]+`"`, "what was typed is kept")
		}
	}
	_, body = m.get("/shelf?stock=1")
	assert.Contains(t, body, "of 164 materials")
	_, body = m.get("/shelf?stock=1&q=owl+night")
	assert.Contains(t, body, "Owl night")
	_, body = m.get("/shelf?stock=1&q=bramble")
	assert.Contains(t, plain(body), "No materials match")
	_, body = m.get("/shelf?q=chest+door")
	assert.Contains(t, body, "Owl night", "a material is found by where it is kept")
	card, err := sh.Card(found[0].ID)
	require.NoError(t, err)
	edit := url.Values{"revision": {revision()}}
	for k, v := range shelfpage.FormOf(card).Values {
		edit.Set(k, v)
	}
	m.post(path, edit)
	_, body = m.get(path)
	assert.Contains(t, plain(body), "175.5 g", "saving the record leaves its lots")
	used := fields()
	used["lot-state"][0] = "used up"
	_, body = m.post(path+"/stock", used)
	assert.Contains(t, plain(body), "25.5 g")
	m.post("/shelf/step", url.Values{"do": {"undo"},
		"version": {regexp.MustCompile(`name="version" value="(\d+)"`).FindStringSubmatch(body)[1]}})
	_, body = m.get(path)
	assert.Contains(t, plain(body), "175.5 g", "undo brings a lot back")
}

func TestViewCookie(t *testing.T) {
	t.Parallel()
	m := visit(t, true)
	_, body := m.get("/view?lamp=warm&back=/plans/9/values")
	assert.Contains(t, plain(body), "Seen under the warm bulb, which turns white")
	_, body = m.get("/view?lamp=led40&back=/plans/9/values")
	assert.Contains(t, plain(body), "Seen under the cool LED")
	_, body = m.get("/view?eye=deutan&back=/plans/9/values")
	assert.Contains(t, plain(body), "As seen by a green-blind eye.")
	m.get("/view?eye=full&back=/")
	_, body = m.get("/view?values=1&back=/plans/9/values")
	assert.Contains(t, plain(body), "Values only")
	_, body = m.get("/view?lamp=lantern&surround=pink&back=//evil.example/")
	assert.Contains(t, body, "<h1>Workroom</h1>")
	assert.Contains(t, body, `data-surround="bench"`)
	r := httptest.NewRequest("GET", "/", nil)
	r.AddCookie(&http.Cookie{Name: web.ViewCookie, Value: "nonsense"})
	assert.Equal(t, "daylight.bench.0.full", web.ReadView(r).Cookie())
}

func TestForeignPagesCannotWrite(t *testing.T) {
	t.Parallel()
	m := visit(t, true)
	for _, origin := range []string{"https://elsewhere.example", "null"} {
		r, err := http.NewRequest("POST", m.url+"/plans", strings.NewReader("name=x&craft=quilt"))
		require.NoError(t, err)
		r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
		r.Header.Set("Origin", origin)
		code, _ := m.read(m.client.Do(r))
		assert.Equal(t, 403, code, origin)
	}
}

// chromatic finds colour values that are not pure greys.
func chromatic(text string) []string {
	var out []string
	for _, h := range regexp.MustCompile(`(?:#|%23)([0-9a-fA-F]{8}|[0-9a-fA-F]{6}|[0-9a-fA-F]{3,4})\b`).FindAllStringSubmatch(text, -1) {
		v := strings.ToLower(h[1])
		if len(v) < 6 {
			v = string([]byte{v[0], v[0], v[1], v[1], v[2], v[2]})
		}
		if v[0:2] != v[2:4] || v[2:4] != v[4:6] {
			out = append(out, h[0])
		}
	}
	for _, f := range regexp.MustCompile(`(?i)\brgba?\(\s*([\d.]+%?)[\s,]+([\d.]+%?)[\s,]+([\d.]+%?)`).FindAllStringSubmatch(text, -1) {
		if f[1] != f[2] || f[2] != f[3] {
			out = append(out, f[0])
		}
	}
	out = append(out, regexp.MustCompile(`(?i)\b(?:hwb|lab|lch|oklab|oklch|color)\(`).FindAllString(text, -1)...)
	for _, f := range regexp.MustCompile(`(?i)\bhsla?\(\s*[\d.]+\w*[\s,]+([\d.]+)%`).FindAllStringSubmatch(text, -1) {
		if f[1] != "0" {
			out = append(out, f[0])
		}
	}
	out = append(out,
		regexp.MustCompile(`(?i)[:\s"'](?:red|green|blue|yellow|orange|purple|violet|pink|brown|teal|navy|maroon|olive|cyan|magenta|gold|tomato|crimson|indigo)\s*[;"'!}]`).FindAllString(text, -1)...)
	return out
}

func TestOnlyMaterialsCarryColour(t *testing.T) {
	t.Parallel()
	assert.Len(t, chromatic(`a{color:#123456;b:#abc;c:rgb(1,2,3);d: red;e:hsl(1 2% 3%)}`), 5, "the check itself finds colours")
	assert.Empty(t, chromatic(`a{color:#ddd;b:rgba(0, 0, 0, .4);c:rgb(50.1%, 50.1%, 50.1%);d:%232b2b2b}`))
	looked := 0
	for _, room := range []string{"../web", "../stages", "../shelf", "../plan", "../workroom"} {
		require.NoError(t, fs.WalkDir(os.DirFS(room), ".", func(name string, d fs.DirEntry, err error) error {
			if err != nil || d.IsDir() || !regexp.MustCompile(`\.(css|scss|html|js)$`).MatchString(name) {
				return err
			}
			data, err := os.ReadFile(filepath.Join(room, name))
			text := regexp.MustCompile(`#4b2346|#a5825d|#8a5a86|&#\d+;`).ReplaceAllString(string(data), "") // examples in words
			assert.Empty(t, chromatic(text), name)
			looked++
			return err
		}))
	}
	assert.Greater(t, looked, 15)
	m := visit(t, true)
	for _, path := range []string{"/shelf/new", "/shelf/import", "/plans/9/brief", "/plans/9/log"} {
		_, body := m.get(path)
		body, _, _ = strings.Cut(body, `<footer class="tray"`)
		// The wheel and the piece show materials, and families are named to be ruled out.
		body = regexp.MustCompile(`(?s)<svg [^>]*id="fern".*?</svg>| value="[a-z-]+"|<section id="on-piece".*?</section>`).ReplaceAllString(body, "")
		assert.Empty(t, chromatic(regexp.MustCompile(`#4b2346|#a5825d|#8a5a86|&#\d+;`).ReplaceAllString(body, "")), path)
	}
}

func TestFirstVisitIsSmall(t *testing.T) {
	t.Parallel()
	m := visit(t, true)
	thousands(t, m.work, 5000-164)
	fetch := func(path string) (wire int, body string) {
		r, err := http.NewRequest("GET", m.url+path, nil)
		require.NoError(t, err)
		r.Header.Set("Accept-Encoding", "gzip")
		res, err := (&http.Transport{DisableCompression: true}).RoundTrip(r)
		require.NoError(t, err)
		defer res.Body.Close()
		data, err := io.ReadAll(res.Body)
		require.NoError(t, err)
		_, body = m.get(path)
		return len(data), body
	}
	for _, path := range []string{"/", "/shelf", "/plans/9/gather", "/plans/9/wheel", "/plans/9/proportion"} {
		page, body := fetch(path)
		first := page
		for _, a := range regexp.MustCompile(`(?:href|src)="(/static/[^"]+)"`).FindAllStringSubmatch(body, -1) {
			n, _ := fetch(a[1])
			first += n
		}
		assert.LessOrEqual(t, page, 40<<10, "%s after the first time", path)
		assert.LessOrEqual(t, first, 300<<10, "%s the first time", path)
	}
}

func thousands(tb testing.TB, work *plan.Desk, n int) {
	all := make([]material.Material, n)
	for i := range all {
		f := float64(i)
		all[i] = material.Material{Name: fmt.Sprintf("Cloth %04d", i), Kind: "fabric", Finish: "matte", Source: "typed", Uncertainty: 3,
			Colour: colour.LCh{L: 8 + float64(i*37%88), C: float64(i * 13 % 60), H: 0.7 * f}.Lab()}
	}
	require.NoError(tb, work.AddMaterials(context.Background(), "fill", all))
}

// BenchmarkPages times a GET of each page on the server with 5,000 materials.
func BenchmarkPages(b *testing.B) {
	m := visit(b, true)
	thousands(b, m.work, 5000-164)
	h, err := web.New(m.work, web.Options{}, Rooms())
	require.NoError(b, err)
	const budget = 16 * time.Millisecond
	for _, path := range []string{"/", "/shelf", "/shelf?q=cloth+1", "/plans", "/plans/9/gather", "/plans/9/wheel", "/plans/9/values",
		"/plans/9/cards", "/plans/9/brief", "/plans/9/ramp", "/plans/9/nudge?seed=7", "/plans/9/proportion", "/shelf/material/1"} {
		b.Run(strings.ReplaceAll(path, "/", "_"), func(b *testing.B) {
			var took []time.Duration
			for b.Loop() {
				r := httptest.NewRequest("GET", path, nil)
				r.Host = "127.0.0.1"
				r.Header.Set("Accept-Encoding", "gzip")
				start := time.Now()
				w := httptest.NewRecorder()
				h.ServeHTTP(w, r)
				took = append(took, time.Since(start))
				if w.Code != 200 {
					b.Fatal(path, w.Code)
				}
			}
			sort.Slice(took, func(i, j int) bool { return took[i] < took[j] })
			p95 := took[len(took)*95/100]
			b.ReportMetric(float64(p95.Microseconds())/1000, "p95-ms")
			ratio, _ := strconv.ParseFloat(fmt.Sprintf("%.3f", float64(p95)/float64(budget)), 64)
			b.ReportMetric(ratio, "of-budget")
		})
	}
}
