package stages

import (
	"bytes"
	"context"
	"fmt"
	"image"
	"image/color"
	"image/png"
	"net"
	"net/http"
	"net/url"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/plan"
	"lampfern/standin"
	"lampfern/testroom"
)

func TestTheShelfGoesOutAndInInEveryFormat(t *testing.T) {
	t.Parallel()
	m := visit(t, true)
	for path, want := range map[string]string{"list.csv": "164 new materials", "measured.txt": "164 new materials",
		"tokens.json": "164 new materials", "shelf.zip": "3 photos are included"} {
		empty := visit(t, false)
		code, body := m.get("/shelf/" + path)
		require.Equal(t, 200, code, path)
		code, page := empty.upload("/shelf/import", path, []byte(body))
		assert.Equal(t, 200, code, path)
		assert.Contains(t, plain(page), want, path)
		if path != "shelf.zip" {
			continue
		}
		at := regexp.MustCompile(`/shelf/import/\d+`).FindString(page)
		code, body = empty.get(at + "/progress")
		assert.Equal(t, 200, code)
		assert.JSONEq(t, `{"done":0,"of":0,"running":false}`, body)
		code, _ = empty.post(at+"/stop", nil)
		assert.Equal(t, 204, code, "stopping what does not run does no harm")
		_, body = empty.post(at, nil)
		assert.Contains(t, plain(body), "164 materials are now on the shelf")
		code, body = empty.post(at, nil)
		assert.Equal(t, 404, code)
		assert.Contains(t, plain(body), "was imported already")
		_, body = empty.get("/shelf?q=sprig")
		piece := regexp.MustCompile(`/photos/\w+/piece\.jpg\?box=[\d.,]+`).FindString(body)
		require.NotEmpty(t, piece, "the print shows its picture")
		code, body = empty.get(piece)
		assert.Equal(t, 200, code)
		assert.True(t, len(body) < 40_000, len(body))
		empty.get("/view?lamp=warm&back=/")
		_, body = empty.get("/shelf?q=sprig")
		assert.NotContains(t, body, "piece.jpg", "a photo cannot be put under another lamp; its colours can")
	}
	code, _ := m.get("/photos/abcd/piece.jpg?box=0,0,1,1")
	assert.Equal(t, 404, code)
	for name, want := range map[string]string{"x.zip": "the zip is incomplete", "x.xlsx": "must name the columns",
		"x.json": "must name the columns"} {
		code, body := m.upload("/shelf/import", name, []byte("PK? no"))
		assert.Equal(t, 422, code)
		assert.Contains(t, plain(body), want, name)
	}
}

func TestAPrintIsKeptFromItsPage(t *testing.T) {
	t.Parallel()
	m := visit(t, true)
	all, err := m.work.Photos(context.Background())
	require.NoError(t, err)
	at := "/photos/" + all[0].Hash + "/print"
	for crop, want := range map[string]string{"": "The whole photo is counted", "?crop=0.2,0.2,0.5,0.5": "the print, as cropped",
		"?crop=0.2,0.2,0,0": "The crop is too small", "?crop=2,2,0.1,0.1": "The crop is too small",
		"?crop=nonsense": "The crop is too small"} {
		code, body := m.get(at + crop)
		assert.Equal(t, http.StatusOK, code, crop)
		assert.Contains(t, plain(body), want, crop)
	}
	_, body := m.post(at, url.Values{"name": {"Market print"}, "kind": {"fabric"}, "query": {"mm=20+cm"}})
	assert.Contains(t, plain(body), "Market print is on the shelf with its print colours")
	_, body = m.post(at, url.Values{"name": {"market PRINT"}, "kind": {"fabric"}})
	assert.Contains(t, plain(body), "now has the print colours of this photo")
	_, body = m.post(at, url.Values{"name": {""}})
	assert.Contains(t, plain(body), "Give the material a name")
	_, body = m.post(at, url.Values{"name": {"X"}, "query": {"mm=wide"}})
	assert.Contains(t, plain(body), "is not a length")
}

// White round a print is paper, or the print's own, as the maker marks it; and the size of a placed print is asked
// for until it is known.
func TestAPrintAsTheMakerMarksIt(t *testing.T) {
	t.Parallel()
	m := visit(t, false)
	img := image.NewNRGBA(image.Rect(0, 0, 240, 180))
	for y := range 180 {
		for x := range 240 {
			c := color.NRGBA{247, 247, 247, 255}
			if x > 60 && x < 180 && y > 45 && y < 135 {
				if c = (color.NRGBA{192, 32, 48, 255}); x/20%2 == 0 {
					c = color.NRGBA{40, 60, 140, 255}
				}
			}
			img.SetNRGBA(x, y, c)
		}
	}
	var photo bytes.Buffer
	require.NoError(t, png.Encode(&photo, img))
	_, body := m.upload("/photos", "stripes.png", photo.Bytes())
	all, err := m.work.Photos(context.Background())
	require.NoError(t, err)
	require.Len(t, all, 1, plain(body))
	at := "/photos/" + all[0].Hash + "/print"
	_, body = m.get(at)
	assert.Contains(t, plain(body), "The white paper (")
	assert.Contains(t, plain(body), "The white is part of the print")
	_, body = m.get(at + "?own=1")
	assert.Contains(t, plain(body), "White is counted as part of the print")
	assert.Contains(t, body, `id="white-paper"`)
	m.post(at, url.Values{"name": {"Dot"}, "kind": {"fabric"}, "query": {"own=1"}})
	sh, err := m.work.Shelf(testroom.Ctx)
	require.NoError(t, err)
	dot := sh.Named("Dot")
	require.NotNil(t, dot)
	assert.Greater(t, len(dot.Printed()), 1, "its white is one of its colours")
	ids := testroom.Add(t, m.work, "Ink=#20242c")
	id, err := m.work.NewPlan(testroom.Ctx, "Bag", "quilt")
	require.NoError(t, err)
	testroom.Do(t, m.work, id, plan.Pull{Material: dot.ID})
	testroom.Do(t, m.work, id, plan.Pull{Material: ids["Ink"]})
	testroom.Do(t, m.work, id, plan.FillRest{})
	page := fmt.Sprintf("/plans/%d/proportion", id)
	_, body = m.get(page)
	assert.Contains(t, plain(body), "Dot is a print of unknown size")
	assert.Contains(t, body, fmt.Sprintf("/shelf/material/%d#stock", dot.ID))
	_, body = m.get(fmt.Sprintf("/shelf/material/%d", dot.ID))
	assert.Contains(t, body, `id="picture-wide"`)
	form := url.Values{"revision": {fmt.Sprint(dot.Revision)}, "wide": {"180"}}
	for _, f := range dot.Further {
		rgb, _ := f.Colour.RGB()
		form["more-role"] = append(form["more-role"], f.Role)
		form["more-colour"] = append(form["more-colour"], rgb.Hex())
		form["more-coverage"] = append(form["more-coverage"], fmt.Sprint(100*f.Coverage))
	}
	m.post(fmt.Sprintf("/shelf/material/%d/stock", dot.ID), form)
	_, body = m.get(page)
	assert.NotContains(t, plain(body), "unknown size", "it is asked once")
}

func TestReaderPage(t *testing.T) {
	t.Parallel()
	m := visit(t, true)
	code, body := m.get("/reader")
	assert.Equal(t, 200, code)
	assert.Contains(t, plain(body), "No colour reader is set up")
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	ctx, stop := context.WithCancel(context.Background())
	defer stop()
	go func() { _ = standin.NewReader(2).Serve(ctx, l) }()
	m.work.ReaderAddress = l.Addr().String()
	_, body = m.get("/reader?for=3")
	assert.Contains(t, plain(body), "Measure Heather rail")
	code, body = m.post("/reader", url.Values{"do": {"measure"}, "readings": {"4"}, "under": {"Plum curtain"}})
	assert.Equal(t, 422, code)
	assert.Contains(t, plain(body), "needs its white tile")
	_, body = m.post("/reader", url.Values{"do": {"calibrate"}})
	assert.Contains(t, plain(body), "Calibrated.")
	for field, c := range map[string][2]string{"readings": {"many", "between 1 and 20"},
		"under": {"no such cloth", "No material is called"}} {
		form := url.Values{"do": {"measure"}, "readings": {"4"}}
		form.Set(field, c[0])
		code, body = m.post("/reader", form)
		assert.Equal(t, 422, code)
		assert.Contains(t, plain(body), c[1])
	}
	code, body = m.post("/reader", url.Values{"do": {"measure"}, "readings": {"4"}, "under": {"plum curtain"}, "for": {"3"}})
	assert.Equal(t, 200, code)
	assert.Contains(t, plain(body), "4 readings")
	labs := regexp.MustCompile(`name="lab" value="([^"]+)"`).FindAllStringSubmatch(body, -1)
	require.Len(t, labs, 4)
	form := url.Values{"for": {"3"}}
	for _, f := range labs {
		form.Add("lab", f[1])
	}
	code, body = m.post("/reader/keep", form)
	assert.Equal(t, 200, code)
	assert.Contains(t, plain(body), "the mean of 4 readings")
	assert.Contains(t, plain(body), "measured with a reader")
	// What was made of a plan is measured for its Log.
	_, body = m.get("/reader?plan=9")
	assert.Contains(t, plain(body), "Measure the finished Stage curtain")
	_, body = m.post("/reader", url.Values{"do": {"measure"}, "readings": {"4"}, "under": {"plum curtain"}, "plan": {"9"}})
	made := regexp.MustCompile(`href="(/plans/9/made\?lab=[^"]+how=reader)"`).FindStringSubmatch(body)
	require.NotNil(t, made)
	_, body = m.get(strings.ReplaceAll(made[1], "&amp;", "&"))
	assert.Contains(t, body, "<option selected>reader</option>")
	code, _ = m.get("/reader?plan=99")
	assert.Equal(t, 404, code)
	for name, bad := range map[string]url.Values{"Measure first": {}, "Measure again": {"lab": {"1,x,3"}},
		"Give the material a name": {"lab": form["lab"]}} {
		code, body = m.post("/reader/keep", bad)
		assert.Equal(t, 422, code)
		assert.Contains(t, plain(body), name)
	}
	form.Set("to", "lot nowhere")
	_, body = m.post("/reader/keep", form)
	assert.Contains(t, plain(body), `no lot "nowhere" any more`)
	code, _ = m.get("/reader?for=9999")
	assert.Equal(t, 404, code)
}

func TestAListTooLargeIsSaid(t *testing.T) {
	t.Parallel()
	m := visit(t, false)
	code, body := m.upload("/shelf/import", "x.csv", bytes.Repeat([]byte("x,#fff\n"), 2<<20))
	assert.Equal(t, 422, code)
	assert.Contains(t, plain(body), fmt.Sprintf("larger than %d MB", 10))
}

// A plan is offered what it is made of, and is told what is left out.
func TestOffersSayWhatIsLeftOut(t *testing.T) {
	t.Parallel()
	m := visit(t, true)
	_, body := m.get("/plans/9/wheel")
	left := regexp.MustCompile(`(\d+) other materials are hidden`).FindStringSubmatch(body)
	require.NotNil(t, left, "a quilt is offered cloth, thread and notions")
	sh, err := m.work.Shelf(t.Context())
	require.NoError(t, err)
	others := 0
	kinds := must(m.work.Open(t.Context(), 9)).MadeOf()
	for _, c := range sh.Cards {
		if !slices.Contains(kinds, c.Kind) {
			others++
		}
	}
	assert.Equal(t, strconv.Itoa(others), left[1])
	for _, path := range []string{"/plans/9/values", "/plans/9/scraps"} {
		_, body := m.get(path)
		assert.Contains(t, body, left[0], path)
	}
	// One key shows them, and leaves them out again.
	_, body = m.get("/view?others=1&back=/plans/9/wheel")
	assert.NotContains(t, body, "other materials are hidden")
	assert.Contains(t, plain(body), "All material types are shown.")
	_, body = m.get("/view?others=0&back=/plans/9/wheel")
	assert.Contains(t, body, left[0])
	_, body = m.get("/plans/9/nudge?seed=4711&n=5")
	for _, id := range regexp.MustCompile(`href="/shelf/material/(\d+)"`).FindAllStringSubmatch(body, -1) {
		n, _ := strconv.Atoi(id[1])
		c, err := sh.Card(uint(n))
		require.NoError(t, err)
		assert.Contains(t, kinds, c.Kind, "a hand of %s", c.Name)
	}
}
