package stages

import (
	"bytes"
	"context"
	"fmt"
	"image"
	"image/color"
	"image/png"
	"mime/multipart"
	"net/http"
	"net/url"
	"regexp"
	"slices"
	"strings"
	"testing"
	"time"

	ical "github.com/emersion/go-ical"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	corebrief "lampfern/core/brief"
	"lampfern/core/colour"
	"lampfern/plan"
	"lampfern/plan/work"
	"lampfern/stages/brief"
	"lampfern/stages/log"
	"lampfern/stages/proportion"
	"lampfern/testroom"
)

// write posts a page of the diary with photos.
func (m *maker) write(id int, fields map[string]string, photos ...[]byte) (int, string) {
	m.t.Helper()
	var b bytes.Buffer
	w := multipart.NewWriter(&b)
	for name, v := range fields {
		require.NoError(m.t, w.WriteField(name, v))
	}
	for i, data := range photos {
		part, err := w.CreateFormFile("photo", fmt.Sprintf("%d.png", i))
		require.NoError(m.t, err)
		_, err = part.Write(data)
		require.NoError(m.t, err)
	}
	require.NoError(m.t, w.Close())
	return m.read(m.client.Post(fmt.Sprintf("%s/plans/%d/diary", m.url, id), w.FormDataContentType(), &b))
}

// events are what another parser finds in a calendar file, by their identities.
func events(t *testing.T, data string) map[string]ical.Event {
	t.Helper()
	c, err := ical.NewDecoder(strings.NewReader(data)).Decode()
	require.NoError(t, err)
	out := map[string]ical.Event{}
	for _, e := range c.Events() {
		id := e.Props.Get("UID").Value
		assert.NotContains(t, out, id, "an identity is used once")
		out[id] = e
	}
	return out
}

func TestTheDemoIsAtWork(t *testing.T) {
	t.Parallel()
	m := visit(t, true)
	_, body := m.get("/")
	home := plain(body)
	assert.Contains(t, home, "This week")
	assert.Regexp(t, `Owl's jumper will be \d+ days late`, home)
	assert.Contains(t, home, "Piece the blocks")
	_, body = m.get("/plans/6/log")
	finished := plain(body)
	assert.Contains(t, finished, "All steps are done")
	assert.Contains(t, finished, "Make it again? yes.")
	assert.Contains(t, finished, "(8 pairs with the reader)", "photos and reader taught something")
	assert.NotContains(t, finished, "plans in line for your time")
	_, body = m.get("/plans/7/log")
	assert.Contains(t, plain(body), "days late")
	_, body = m.get("/plans/9/log")
	assert.Contains(t, plain(body), "early.")
	_, body = m.get("/plans/9/brief")
	assert.NotContains(t, body, `id="telling"`, "no judged plan is like a quilt")
	id, err := m.work.NewPlan(t.Context(), "A second scarf", "weaving")
	require.NoError(t, err)
	_, body = m.get(fmt.Sprintf("/plans/%d/brief", id))
	assert.Contains(t, plain(body), "Prompter's scarf , the same craft. Again: yes.")
	_, body = m.get("/worked?craft=weaving")
	assert.Contains(t, plain(body), "1 finished plan of 1")
	_, body = m.get("/worked?craft=soap")
	assert.NotContains(t, plain(body), "Would be made again")
}

func TestTheLogIsWorkedThrough(t *testing.T) {
	t.Parallel()
	m := visit(t, true)
	status, body := m.change("log", "do=hours&for1=2+h&at1=18:30&for6=3:00&at6=10:00&off=2031-12-25")
	require.Equal(t, http.StatusOK, status)
	assert.Contains(t, plain(body), "Saved for all plans: 5 h a week.")
	assert.Contains(t, body, `value="2031-12-25"`)
	for act, want := range map[string]string{
		"do=hours&for1=9+weeks":         "past midnight",
		"do=hours&for1=2+h&at1=late":    "is not a time",
		"do=hours&for1=2+h&off=xmas":    "is not a date. Write days off",
		"do=hours&for2=a+while":         "is not a length of time",
		"do=wanted&due=never":           "Write a day as",
		"do=tick&step=tea":              "was deleted",
		"do=more-hours&day=x&minutes=5": "how many minutes more",
		"do=drop-entry&entry=99":        "was deleted",
	} {
		status, body := m.change("log", act)
		assert.Equal(t, http.StatusOK, status, "a plain form is led back")
		assert.Contains(t, plain(body), want, act)
	}
	_, body = m.get("/plans/9/log")
	assert.Contains(t, plain(body), "5 h a week", "nothing of these was kept")
	_, body = m.change("worktable", "do=tick&step=blocks&took=2+h+30")
	assert.NotContains(t, plain(body), "Piece the blocks started", "it is done making sheet")
	s := work.Of(must(m.work.Open(t.Context(), 9)))
	assert.Equal(t, 150, s.Steps[s.At("blocks")].Took)
	_, body = m.get("/plans/5/worktable")
	assert.Contains(t, plain(body), "Lightest first", "the order of colours in a batter")
	order := regexp.MustCompile(`(?s)id="colour-order".*?</ol>`).FindString(body)
	assert.Less(t, strings.Index(order, "Oat base"), strings.Index(order, "Interval green"))
	_, body = m.get("/plans/9/worktable")
	assert.NotContains(t, body, "colour-order", "a quilt has none")
	id, err := m.work.NewPlan(t.Context(), "Bare", "weaving")
	require.NoError(t, err)
	status, body = m.get(fmt.Sprintf("/plans/%d/calendar.ics", id))
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	assert.Contains(t, plain(body), "There is no schedule yet")
}

func TestTheDiaryByPage(t *testing.T) {
	t.Parallel()
	m := visit(t, true)
	photo := testroom.SwatchPhoto(t, 80)
	status, body := m.write(9, map[string]string{"step": "blocks", "took": "45", "words": "Nine <b>more</b> of them.", "part": "ground",
		"card": "Moth wing", "why": "It was nearer."}, photo)
	require.Equal(t, http.StatusOK, status)
	assert.Contains(t, plain(body), "Saved; time added to Piece the blocks.")
	assert.Contains(t, body, "Nine &lt;b&gt;more&lt;/b&gt; of them.", "what is typed is shown and not run")
	assert.Contains(t, plain(body), "Ground took Moth wing. Why: It was nearer.")
	act := regexp.MustCompile(`value="(do=fill[^"]+)"\s+class="act">Change the plan too`).FindStringSubmatch(body)
	require.NotNil(t, act, "one press changes the plan too")
	m.change("diary", strings.ReplaceAll(act[1], "&amp;", "&"))
	assert.Equal(t, "Moth wing", testroom.FillOf(must(m.work.Open(t.Context(), 9)), "ground"))
	_, body = m.get("/plans/9/diary")
	assert.NotContains(t, body, "Change the plan too", "the plan has it now")
	// What is refused is shown again with all that was typed, and its photo kept.
	status, body = m.write(9, map[string]string{"took": "for ever", "words": "A long evening.", "why": "Rain."}, photo)
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	assert.Contains(t, plain(body), "is not a length of time")
	assert.Contains(t, body, ">A long evening.</textarea>")
	assert.Contains(t, body, `value="for ever"`)
	kept := regexp.MustCompile(`name="kept" value="([0-9a-f]+)"`).FindStringSubmatch(body)
	require.NotNil(t, kept)
	_, body = m.write(9, map[string]string{"took": "3 h", "words": "A long evening.", "kept": kept[1]})
	assert.Contains(t, plain(body), "Saved.")
	all, _, err := log.Diary(t.Context(), m.work, 9)
	require.NoError(t, err)
	assert.Equal(t, []string{kept[1]}, all[0].Photos)
	status, body = m.write(9, map[string]string{"words": "x"}, []byte("no photo"))
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	assert.Contains(t, body, ">x</textarea>")
	_, body = m.get("/search?q=" + url.QueryEscape("long even"))
	assert.Contains(t, body, "<mark>long</mark> <mark>evening</mark>")
	_, body = m.get("/search?q=" + url.QueryEscape("border sombre"))
	assert.Contains(t, plain(body), "Prompter's scarf , verdict of", "verdicts are searched too")
	_, body = m.get("/search?q=zzz")
	assert.Contains(t, plain(body), "No diary entry or verdict contains all these words")
	status, _ = m.write(99, map[string]string{"words": "x"})
	assert.Equal(t, http.StatusNotFound, status)
}

// A second file moves what the first one holds.
func TestCalendarFilesKeepTheirIdentities(t *testing.T) {
	t.Parallel()
	m := visit(t, true)
	_, one := m.get("/plans/9/calendar.ics")
	first := events(t, one)
	require.NotEmpty(t, first)
	wait := false
	for id, e := range first {
		assert.True(t, strings.HasPrefix(id, "plan9-"), id)
		assert.NotEmpty(t, e.Props.Get("SUMMARY").Value)
		if strings.HasSuffix(id, "-wait@lampfern") {
			wait = true
			assert.Equal(t, "TRANSPARENT", e.Props.Get("TRANSP").Value, "a wait is free time")
		}
	}
	assert.True(t, wait)
	m.change("log", "do=wanted&due="+time.Now().AddDate(0, 4, 0).Format(time.DateOnly)+"&begin="+time.Now().AddDate(0, 0,
		20).Format(time.DateOnly))
	_, two := m.get("/plans/9/calendar.ics")
	second := events(t, two)
	moved := 0
	for id, e := range second {
		old, there := first[id]
		if !there {
			continue
		}
		a, err := old.DateTimeStart(time.UTC)
		require.NoError(t, err)
		b, err := e.DateTimeStart(time.UTC)
		require.NoError(t, err)
		if !a.Equal(b) {
			moved++
			assert.NotEqual(t, old.Props.Get("SEQUENCE").Value, e.Props.Get("SEQUENCE").Value)
		}
	}
	assert.Greater(t, moved, 3, "the same identities at other times")
	_, all := m.get("/calendar.ics")
	assert.Greater(t, len(events(t, all)), len(second), "all plans")
	// Its own file brought in as busy days holds no room for what it plans: waits do not count.
	status, body := m.upload("/plans/9/bring?kind=busy", "own.ics", []byte(all))
	assert.Less(t, status, 500)
	_ = body
}

// What came out is read from a photo with its white: colours, and shares.
func TestWhatWasMadeFromAPhoto(t *testing.T) {
	t.Parallel()
	m := visit(t, true)
	all, err := m.work.Photos(t.Context())
	require.NoError(t, err)
	hash := ""
	for _, p := range all {
		if strings.Contains(p.Name, "cloths") {
			hash = p.Hash
		}
	}
	require.NotEmpty(t, hash)
	_, body := m.get("/photos/" + hash + "?plan=9&white=0.12,0.16,0.12,0.22&wl=95&box=0.40,0.18,0.14,0.16")
	link := regexp.MustCompile(`href="(/plans/9/made\?lab=[^"]+)"`).FindStringSubmatch(body)
	require.NotNil(t, link)
	_, page := m.get(strings.ReplaceAll(link[1], "&amp;", "&"))
	assert.Regexp(t, `id="made-colour" value="\d+\.\d+ [\d.-]+ [\d.-]+"`, page)
	assert.Contains(t, page, "<option selected>photo</option>")
	shares := regexp.MustCompile(`href="(/plans/9/made\?[^"]*whole[^"]*)"`).FindStringSubmatch(body)
	require.NotNil(t, shares)
	_, page = m.get(strings.ReplaceAll(shares[1], "&amp;", "&"))
	assert.Contains(t, page, "Share of each card")
	sum := 0.0
	for _, v := range regexp.MustCompile(`name="share-\d+" value="([\d.]+)"`).FindAllStringSubmatch(page, -1) {
		var n float64
		fmt.Sscan(v[1], &n)
		sum += n
	}
	assert.InDelta(t, 100, sum, .5)
	m.change("made", "do=shares&share-1=60&share-2=40")
	assert.Equal(t, .6, work.Of(must(m.work.Open(t.Context(), 9))).Shares["Plum curtain"])
	_, body = m.change("made", "do=made&card=Plum+curtain&colour=%234b2346&how=photo")
	assert.Contains(t, plain(body), "60% of it, planned")
	for bad, want := range map[string]string{"photo=" + hash + "&whole=5,5,1,1": "", "photo=abcd&whole=0,0,1,1": "was deleted"} {
		status, body := m.get("/plans/9/made?" + bad)
		assert.Equal(t, http.StatusOK, status)
		assert.Contains(t, plain(body), want)
	}
}

// fifty plans with forty steps each, in the usual hours.
func fifty(b testing.TB) *maker {
	m := visit(b, false)
	for n := range 50 {
		id, err := m.work.NewPlan(testroom.Ctx, fmt.Sprint("Plan ", n), "quilt")
		require.NoError(b, err)
		p, err := m.work.Open(testroom.Ctx, id)
		require.NoError(b, err)
		_, err = m.work.Change(testroom.Ctx, id, p.Revision, plan.Doing(func(d *plan.Draft) (string, error) {
			s := work.Of(d.Plan)
			s.Due = time.Now().AddDate(0, 3, n).Format(time.DateOnly)
			for i := range 40 {
				st := work.Step{Key: fmt.Sprint("s", i), Name: fmt.Sprint("Step ", i), Each: float64(20 + (i*7+n)%40), Count: 1, Wait: i % 5 * 300,
					OneGo: i%9 == 0}
				if i > 0 {
					st.After = []string{fmt.Sprint("s", i-1-i%3%i)}
				}
				if i%13 == 5 {
					st.Tool, st.Until = "loom", fmt.Sprint("s", min(39, i+4))
				}
				s.Steps = append(s.Steps, st)
			}
			return "work", nil
		}))
		require.NoError(b, err)
	}
	return m
}

// BenchmarkWeek shows the workroom with this week over fifty plans of forty steps.
func BenchmarkWeek(b *testing.B) {
	m := fifty(b)
	var times []time.Duration
	for b.Loop() {
		began := time.Now()
		status, _ := m.get("/")
		times = append(times, time.Since(began))
		if status != http.StatusOK {
			b.Fatal(status)
		}
	}
	slices.Sort(times)
	b.ReportMetric(float64(times[len(times)*95/100].Microseconds())/1000, "p95-ms")
}

// BenchmarkSchedule finds the days of all of it without a page.
func BenchmarkSchedule(b *testing.B) {
	m := fifty(b)
	for b.Loop() {
		_, err := work.Schedule(context.Background(), m.work, time.Now())
		require.NoError(b, err)
	}
}

// What was judged stands where the next choice is made.
func TestJudgedPlansAreKnownElsewhere(t *testing.T) {
	t.Parallel()
	m := visit(t, true)
	scarf := must(m.work.Open(t.Context(), 6))
	card := scarf.Tray[0]
	_, body := m.get(fmt.Sprintf("/shelf/material/%d", card.ID))
	assert.Contains(t, plain(body), "Used in Prompter's scarf , again: yes.")
	_, body = m.get("/plans/9/combinations")
	assert.Contains(t, plain(body), "From past plans Prompter's scarf again: yes")
	_, body = m.get("/plans/6/deck.json")
	assert.Contains(t, body, "worked in Prompter's scarf", "the deck")
	_, body = m.get("/search?q=stalls")
	assert.Contains(t, plain(body), "1 result")
	_, err := m.work.Change(t.Context(), 6, scarf.Revision, log.Judge{Words: "Never.", Again: "no"})
	require.NoError(t, err)
	_, body = m.get("/plans/6/deck.json")
	assert.NotContains(t, body, "worked in")
}

// A photo of the whole thing, taken straight, is read part by part by the plan's own
// outlines, under a warm lamp that white paper tells of.
func TestPartsAreReadByThePlansOutlines(t *testing.T) {
	t.Parallel()
	m := visit(t, true)
	p := must(m.work.Open(t.Context(), 9))
	labels, w, h := p.Piece.Grid(400)
	img := image.NewNRGBA(image.Rect(0, 0, w+120, h+40))
	warm := func(c colour.RGB) color.NRGBA {
		n := color.NRGBAModel.Convert(c).(color.NRGBA)
		return color.NRGBA{n.R, uint8(float64(n.G) * .92), uint8(float64(n.B) * .78), 255}
	}
	paper, _ := colour.Lab{L: 95}.RGB()
	fill := p.Fill()
	for y := range img.Bounds().Dy() {
		for x := range img.Bounds().Dx() {
			img.SetNRGBA(x, y, color.NRGBA{70, 64, 50, 255})
			if x > 10 && x < 80 && y > 10 && y < 120 {
				img.SetNRGBA(x, y, warm(paper))
			}
			px, py := x-100, y-20
			if px >= 0 && py >= 0 && px < w && py < h && labels[py*w+px] >= 0 {
				c := p.Tray[fill[labels[py*w+px]]].Colour
				c.L += 4 // it came out lighter
				rgb, _ := c.RGB()
				img.SetNRGBA(x, y, warm(rgb))
			}
		}
	}
	var b bytes.Buffer
	require.NoError(t, png.Encode(&b, img))
	hash, err := m.work.AddPhoto(t.Context(), "finished.png", b.Bytes())
	require.NoError(t, err)
	share := func(x, y, wide, high float64) string {
		return fmt.Sprintf("%.4f,%.4f,%.4f,%.4f", x/float64(w+120), y/float64(h+40), wide/float64(w+120), high/float64(h+40))
	}
	q := url.Values{"photo": {hash}, "white": {share(20, 20, 50, 90)}, "wl": {"95"}, "whole": {share(100, 20, float64(w), float64(h))}}
	_, body := m.get("/plans/9/made?" + q.Encode())
	read := regexp.MustCompile(`name="part" value="([^"]+)"`).FindAllStringSubmatch(body, -1)
	require.GreaterOrEqual(t, len(read), 4, plain(body))
	fields := url.Values{"revision": {fmt.Sprint(p.Revision)}, "stage": {"made"}, "do": {"made-parts"}}
	for _, r := range read {
		fields.Add("part", r[1])
	}
	_, body = m.post("/plans/9/change", fields)
	made := work.Of(must(m.work.Open(t.Context(), 9))).Made
	require.Len(t, made, len(read))
	for _, one := range made {
		want := one.Asked
		want.L += 4
		assert.Less(t, colour.DeltaE2000(one.Colour, want), 3.5, "%s: %v, wanted %v", one.Part, one.Colour, want)
		assert.Equal(t, "photo", one.How)
	}
	assert.Contains(t, plain(body), "Plum curtain, ground")
	assert.Contains(t, plain(body), "0.4 steps lighter")
	m.post("/plans/9/change", url.Values{"revision": {fmt.Sprint(must(m.work.Open(t.Context(), 9)).Revision)}, "stage": {"made"},
		"do": {"made-parts"}, "part": {"ground=mauve"}})
	assert.Equal(t, made, work.Of(must(m.work.Open(t.Context(), 9))).Made, "what cannot be read changes nothing")
	q.Set("whole", "0.5,0.5,0.9,0.9")
	_, body = m.get("/plans/9/made?" + q.Encode())
	assert.NotContains(t, body, `id="read-parts"`, "a box beyond the photo reads no parts")
}

// Sentences that a maker met and could not believe.
func TestSentencesHoldBesideTheirCase(t *testing.T) {
	t.Parallel()
	k := testroom.Studio(t, All()...)
	id, _ := testroom.Quilt(t, k)
	p := testroom.MustOpen(t, k, id)
	for i, part := range p.Piece.Parts {
		testroom.Do(t, k, id, plan.FillPart{Part: part.Key, Key: p.Tray[i%2].Key})
	}
	said := func() string {
		var out []string
		for _, n := range proportion.Proportion(testroom.MustOpen(t, k, id)).Notes {
			out = append(out, n.About+n.Words)
		}
		return strings.Join(out, "\n")
	}
	assert.Contains(t, said(), "Three cards are not used yet (")

	first := proportion.Proportion(testroom.MustOpen(t, k, id)).Pulls[0].Name
	ask := func(focus, quiet string) {
		testroom.Do(t, k, id, brief.SetBrief{Name: "Stage curtain", Craft: "quilt", Limits: corebrief.Free(),
			Brief: corebrief.Brief{Focus: focus, Quiet: quiet}})
	}
	ask("", first)
	assert.Contains(t, said(), first+" should stay in the background, but draws the eye first.")
	assert.NotContains(t, said(), "but still draws the eye", "one of the two is said, not both")
	// A swap is only offered where it mends.
	for _, part := range p.Piece.Parts {
		ask(part.Name, "")
		now := testroom.MustOpen(t, k, id)
		for _, n := range proportion.Proportion(now).Notes {
			if n.ID != "brief-focus" || len(n.Swap) == 0 {
				continue
			}
			testroom.Do(t, k, id, plan.Swap{Key: now.Tray[n.Swap[0]].Key, With: now.Tray[n.Swap[1]].Key})
			assert.NotContains(t, said(), "should be the focal point", "%s: the offer mends what it names", part.Name)
			testroom.Do(t, k, id, plan.Swap{Key: now.Tray[n.Swap[0]].Key, With: now.Tray[n.Swap[1]].Key})
		}
	}
}

// A part beside a larger one of its own card is told, once, unless if you meant that.
func TestLostPartsAreTold(t *testing.T) {
	t.Parallel()
	k := testroom.Studio(t, All()...)
	id, _ := testroom.Quilt(t, k)
	p := testroom.MustOpen(t, k, id)
	for i, part := range p.Piece.Parts {
		testroom.Do(t, k, id, plan.FillPart{Part: part.Key, Key: p.Tray[i%len(p.Tray)].Key})
	}
	note := func() string {
		for _, n := range proportion.Proportion(testroom.MustOpen(t, k, id)).Notes {
			if strings.HasPrefix(n.ID, "lostparts:") {
				return n.About + n.Words
			}
		}
		return ""
	}
	assert.Empty(t, note(), "each part has a card of its own")
	testroom.Do(t, k, id, plan.FillPart{Part: "sashing", Key: p.Tray[0].Key})
	assert.Equal(t,
		"Sashing is the same colour as the part beside it, so it disappears. Change it, or group them if you meant that.",
		note())
	testroom.Do(t, k, id, plan.Group{Parts: []string{"ground", "sashing"}})
	assert.Empty(t, note(), "it was meant")
}
