package stages

import (
	"context"
	"fmt"
	"net"
	"net/http"
	"net/url"
	"regexp"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/exchange"
	"lampfern/plan"
	"lampfern/shelf"
	"lampfern/stages/signoff"
	"lampfern/standin"
	"lampfern/store"
	"lampfern/testroom"
)

// agreeing makes the first sheet of plan 9 and gives its address.
func (m *maker) agreeing(fields url.Values) string {
	m.t.Helper()
	p, err := m.work.Open(context.Background(), 9)
	require.NoError(m.t, err)
	fields.Set("revision", fmt.Sprint(p.Revision))
	fields.Set("stage", "signoff")
	fields.Set("do", "make-sheet")
	status, body := m.post("/plans/9/change", fields)
	require.Equal(m.t, http.StatusOK, status)
	at := regexp.MustCompile(`href="(/agree/[\w-]+)\?own=1"`).FindStringSubmatch(body)
	require.NotNil(m.t, at, plain(body))
	return at[1]
}

func (m *maker) newest() signoff.SheetView {
	m.t.Helper()
	all, err := signoff.SheetsOf(context.Background(), m.work, 9)
	require.NoError(m.t, err)
	require.NotEmpty(m.t, all)
	return all[0]
}

var once = regexp.MustCompile(`name="once" value="([^"]+)"`)

func TestAClientAgreesByThePrivateLink(t *testing.T) {
	t.Parallel()
	m := visit(t, true)
	_, body := m.get("/plans/9/signoff")
	assert.Contains(t, plain(body), "Agree the plan before you cut")
	at := m.agreeing(url.Values{"maker": {"Moth & Marrow"}, "price": {"340"}, "terms": {"Half before the first cut.\nThe rest when it hangs."},
		"way": {"1"}})
	assert.Equal(t, signoff.StateMade, m.newest().State)
	_, _ = m.get(at + "?own=1")
	assert.Equal(t, signoff.StateMade, m.newest().State, "the maker looked, not the client")
	assert.Empty(t, m.newest().SeenAt)

	client := &maker{t, visitor(t), m.url, m.work}
	r, err := client.client.Get(m.url + at)
	require.NoError(t, err)
	assert.Empty(t, r.Cookies(), "no cookies")
	policy := r.Header.Get("Content-Security-Policy")
	assert.Contains(t, policy, "default-src 'none'")
	assert.NotContains(t, policy, "unsafe")
	_, body = client.read(r, nil)
	assert.NotContains(t, body, "<script")
	assert.NotContains(t, body, "style=\"", "no inline style")
	assert.NotContains(t, body, "http://", "nothing from elsewhere")
	said := plain(body)
	for _, want := range []string{"Stage curtain", "Sheet 1", "from Moth & Marrow", "Price: 340", "The rest when it hangs.", "Plum curtain",
		"fabric", "Screens and paper cannot show a colour exactly as the material does"} {
		assert.Contains(t, said, want)
	}
	assert.Less(t, len(body), 60_000)
	assert.Equal(t, signoff.StateSeen, m.newest().State)
	status, svg := client.get(at + "/piece.svg?way=0&lamp=warm&eye=deutan")
	assert.Equal(t, http.StatusOK, status)
	_, daylight := client.get(at + "/piece.svg?way=0")
	assert.NotEqual(t, svg, daylight, "under another lamp it looks another way")
	status, _ = client.get(at + "/piece.svg?way=99")
	assert.Equal(t, http.StatusNotFound, status)
	_, css := client.get(at + "/style.css")
	assert.Contains(t, css, "max-width")

	form := once.FindStringSubmatch(body)[1]
	answer := url.Values{"once": {form}, "verdict": {"agree"}, "way": {signoff.AsItIs}}
	status, body = client.post(at, answer)
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	assert.Contains(t, body, "Please write your name")
	answer.Set("name", "A Client")
	answer.Set("card0", "<b>love it</b>")
	status, body = client.post(at, answer)
	assert.Equal(t, http.StatusOK, status)
	assert.Contains(t, plain(body), "Thank you. Your reply is saved")
	client.post(at, answer) // the same form, sent twice
	v := m.newest()
	require.Len(t, v.Answers, 1, "a form counts once")
	assert.Equal(t, signoff.StateAgreed, v.State)
	assert.Equal(t, "<b>love it</b>", v.Answers[0].Remarks["Plum curtain"])
	_, body = m.get("/plans/9/signoff")
	assert.Contains(t, body, "“&lt;b&gt;love it&lt;/b&gt;”", "markup is only words")
	assert.Contains(t, plain(body), "A Client agreed")

	_, body = client.get(at)
	change := url.Values{"once": {once.FindStringSubmatch(body)[1]}, "verdict": {"change"}, "way": {signoff.AsItIs}, "name": {"A Client"}}
	_, body = client.post(at, change)
	assert.Contains(t, body, "Please say what to change")
	assert.Contains(t, body, `value="A Client"`, "what was written is still there")
	change.Set("remark", "warmer, please")
	client.post(at, change)
	assert.Equal(t, signoff.StateChange, m.newest().State, "the last reply counts")
	assert.Len(t, m.newest().Answers, 2)
}

// Whatever is sent to a link, and whatever link is tried, is answered with one sentence.
func TestLinksThatDoNotOpenAndAnswersThatAreNone(t *testing.T) {
	t.Parallel()
	m := visit(t, true)
	at := m.agreeing(url.Values{})
	client := &maker{t, visitor(t), m.url, m.work}
	for fields, want := range map[string]string{
		"name=A&verdict=maybe&way=as+planned":                                             "Choose I agree or Request changes",
		"name=A&verdict=agree&way=another":                                                "Choose one of the colourways",
		"name=Bot&verdict=agree&way=as+planned&website=x":                                 "Part of this form is missing",
		"name=" + strings.Repeat("n", 121) + "&verdict=agree&way=as+planned":              "at most 120",
		"name=A&verdict=change&way=as+planned&card0=" + strings.Repeat("r", 1001):         "more than 1000 characters",
		"name=A&verdict=change&way=as+planned&remark=" + strings.Repeat("r", 1001):        "more than 1000 characters",
		"name=A&verdict=agree&way=as+planned&remark=" + strings.Repeat("r", 1<<20):        "That is too long",
		"name=A&verdict=agree&way=as+planned&once=" + strings.Repeat("o", 101) + "&card0": "Part of this form is missing",
	} {
		values, err := url.ParseQuery(fields)
		require.NoError(t, err)
		status, body := client.post(at, values)
		assert.GreaterOrEqual(t, status, 400)
		assert.Contains(t, body, want)
	}
	assert.Empty(t, m.newest().Answers)

	both := sync.WaitGroup{}
	for i := range 8 { // at the same moment
		both.Go(func() {
			c := &maker{t, visitor(t), m.url, m.work}
			_, _ = c.post(at, url.Values{"once": {fmt.Sprint(i % 4)}, "verdict": {"agree"}, "name": {fmt.Sprint("Client ", i%4)},
				"way": {signoff.AsItIs}})
		})
	}
	both.Wait()
	assert.Len(t, m.newest().Answers, 4, "each form once")
	for i := range 40 { // one link does not fill the disk
		status, body := client.post(at, url.Values{"once": {fmt.Sprint("more ", i)}, "verdict": {"agree"}, "name": {"Client"}, "way": {signoff.AsItIs}})
		if i < 36 {
			assert.Equal(t, http.StatusOK, status, i)
		} else {
			assert.Contains(t, plain(body), "This sheet already has 40 answers")
		}
	}
	assert.Len(t, m.newest().Answers, 40)

	m.change("signoff", "do=withdraw-sheet&sheet=1")
	status, body := client.get(at)
	assert.Equal(t, http.StatusGone, status)
	assert.Contains(t, plain(body), "This sheet was withdrawn")
	assert.NotContains(t, body, "Stage curtain", "nothing is told of what it held")
	status, _ = client.post(at, url.Values{"name": {"A"}, "verdict": {"agree"}, "way": {signoff.AsItIs}})
	assert.Equal(t, http.StatusGone, status)
	status, _ = client.get(at + "/piece.svg")
	assert.Equal(t, http.StatusGone, status)
	m.change("signoff", "do=withdraw-sheet&sheet=1&open=1")
	status, _ = client.get(at)
	assert.Equal(t, http.StatusOK, status)
	s := m.newest().Sheet
	full, err := m.work.Store.Read(context.Background()).Sheet(9, s.Number)
	require.NoError(t, err)
	full.EndsAt = time.Now().Add(-time.Minute)
	require.NoError(t, m.work.Store.Write(context.Background(), func(tx store.Tx) error { return tx.PutSheet(&full) }))
	status, body = client.get(at)
	assert.Equal(t, http.StatusGone, status)
	assert.Contains(t, plain(body), "This link expired on")

	slowed := 0
	for i := range 1000 {
		status, body := client.get(fmt.Sprintf("/agree/guess%d", i))
		assert.NotContains(t, body, "Stage curtain")
		if status == http.StatusTooManyRequests {
			slowed++
		} else {
			assert.Equal(t, http.StatusNotFound, status)
		}
	}
	assert.Greater(t, slowed, 900, "a thousand guesses are slowed")
	status, _ = client.get(at)
	assert.Equal(t, http.StatusGone, status, "a link that is known is answered all the same")
}

// What is on a sheet stays as it was; what has changed since is told, and the next sheet
// says what is different.
func TestASheetIsFrozen(t *testing.T) {
	t.Parallel()
	m := visit(t, true)
	at := m.agreeing(url.Values{"terms": {"As agreed."}})
	_, before := m.get(at)
	_, picture := m.get(at + "/piece.svg")
	_, body := m.get("/plans/9/signoff")
	assert.Contains(t, plain(body), "No changes since sheet 1")
	p, err := m.work.Open(context.Background(), 9)
	require.NoError(t, err)
	k := p.Tray[0]
	_, err = m.work.Change(context.Background(), 9, p.Revision, plan.FillPart{Part: p.Piece.Parts[0].Key, Key: p.Tray[1].Key})
	require.NoError(t, err)
	mat := k.Card.Material
	mat.Name = "Another name"
	_, err = m.work.SaveMaterial(context.Background(), k.ID, k.Card.Revision, mat)
	require.NoError(t, err)
	_, body = m.get("/plans/9/signoff")
	said := plain(body)
	assert.Contains(t, said, "Changed since sheet 1")
	assert.Contains(t, said, fmt.Sprintf("is now %s instead of %s", p.Tray[1].Name, k.Name))
	assert.Contains(t, said, k.Name+" is no longer used")
	assert.Contains(t, said, "as it is now", "in two pictures")
	_, after := m.get(at)
	strip := regexp.MustCompile(`name="once" value="[^"]+"`)
	assert.Equal(t, strip.ReplaceAllString(before, ""), strip.ReplaceAllString(after, ""), "the sheet is as it was")
	_, again := m.get(at + "/piece.svg")
	assert.Equal(t, picture, again)
	next := m.agreeing(url.Values{"terms": {"As agreed."}})
	_, body = m.get(next)
	assert.Contains(t, plain(body), "Changed since the last sheet")
	assert.NotContains(t, plain(body), "The terms have changed")
	assert.Equal(t, 2, m.newest().Number)
	for _, file := range []string{"sheet.pdf?number=1", "sheet.pdf?number=2&paper=letter", "sheet.svg?number=1", "sheet.png?number=1"} {
		status, data := m.get("/plans/9/" + file)
		assert.Equal(t, http.StatusOK, status, file)
		assert.NotEmpty(t, data)
	}
	_, svg := m.get("/plans/9/sheet.svg?number=1&show=1")
	for _, want := range []string{"I agree", "Signature", "real swatch here", "As agreed.", k.Name} {
		assert.True(t, strings.Contains(svg, want), want)
	}
	status, body := m.get("/plans/9/sheet.pdf?number=9")
	assert.Equal(t, http.StatusNotFound, status)
	assert.Contains(t, body, "There is no such sheet")
	_, body = m.change("signoff", "do=told&sheet=2&name=The+theatre&agreed=1&remark=yes")
	assert.Contains(t, plain(body), "What The theatre said is saved.")
	assert.Equal(t, signoff.StateAgreed, m.newest().State)
	_, body = m.change("signoff", "do=told&sheet=7&name=X&agreed=1")
	assert.Contains(t, plain(body), "This plan has no sheet 7")
}

func TestAnAnswerTextIsBoundToItsSheet(t *testing.T) {
	t.Parallel()
	m := visit(t, true)
	assert.False(t, signoff.Stage().Filled(must(m.work.Open(t.Context(), 9))))
	m.agreeing(url.Values{})
	m.agreeing(url.Values{})
	assert.True(t, signoff.Stage().Filled(must(m.work.Open(t.Context(), 9))), "its leaf fills")
	one, two := m.newest().Sheet, store.Sheet{}
	all, err := signoff.SheetsOf(context.Background(), m.work, 9)
	require.NoError(t, err)
	two = all[1].Sheet
	r := signoff.Reply{Agreed: true, Name: "A Client", Way: signoff.AsItIs, Once: "x",
		Remarks: map[string]string{"Plum curtain": "lovely, “really”"}}
	text := signoff.AnswerText(one, r)
	got, err := signoff.ReadAnswer(one, "Here it is:\n> "+text[:40]+"\n "+text[40:]+"\n")
	require.NoError(t, err)
	assert.Equal(t, r, got)
	for bad, want := range map[string]string{
		"":                                     "not a reply to a sheet",
		"hi":                                   "not a reply to a sheet",
		strings.Replace(text, ".2.", ".1.", 1): "a reply to sheet 1, and this is sheet 2",
		text[:len(text)-1] + "z":               "That reply was changed",
		text[:30] + "A" + text[31:]:            "That reply was changed",
		signoff.AnswerText(store.Sheet{Number: 2}, r): "belongs to another plan",
		strings.TrimSuffix(text, text[len(text)-9:]):  "not a reply to a sheet",
		strings.ToLower(text[:9]) + text[9:]:          "not a reply to a sheet",
		signoff.AnswerText(two, r) + "." + "deadbeef": "not a reply to a sheet",
	} {
		_, err := signoff.ReadAnswer(one, bad)
		assert.ErrorContains(t, err, want, bad)
	}
	status, body := m.get("/plans/9/sheet.html?number=2")
	assert.Equal(t, http.StatusOK, status)
	assert.NotContains(t, body, one.Token, "the file tells nothing of the link")
	assert.NotContains(t, body, `src="`, "it loads nothing")
	assert.Contains(t, body, signoff.FileKey(one))
	assert.Less(t, len(body), 150_000)
	assert.Contains(t, body, `aria-label="ground: Plum curtain"`)
	assert.NotContains(t, body, "Press to give it the chosen card", "it is looked at only")
	assert.NotContains(t, body, `tabindex="0"`)
	assert.NotContains(t, body, `id="part-`, "which several ways would share")
	_, body = m.change("signoff", "do=paste-answer&text="+url.QueryEscape(text))
	assert.Contains(t, plain(body), "The reply of A Client to sheet 2 is saved.")
	m.change("signoff", "do=paste-answer&text="+url.QueryEscape(text))
	assert.Len(t, m.newest().Answers, 1, "pasted twice, kept once")
	assert.Equal(t, signoff.ByFile, m.newest().Answers[0].By)
	// One that comes late goes to the sheet it was made for.
	r.Agreed, r.Once, r.Remark = false, "y", "Paler, please."
	_, body = m.change("signoff", "do=paste-answer&text="+url.QueryEscape(signoff.AnswerText(two, r)))
	assert.Contains(t, plain(body), "The reply of A Client to sheet 1 is saved.")
	_, body = m.get("/plans/9/signoff?sheet=1")
	assert.Contains(t, plain(body), "Sheet 1 of")
	assert.Contains(t, plain(body), "A Client asked for changes")
	_, body = m.change("signoff", "do=paste-answer&text="+url.QueryEscape(strings.Replace(text, ".2.", ".7.", 1)))
	assert.Contains(t, plain(body), "this plan has no such sheet")
}

// A sheet goes by mail when it is pressed, and never otherwise; the answer shows in the
// workroom, and Buy tells of a sheet that is not agreed.
func TestASheetGoesByMailAndItsAnswerComesBack(t *testing.T) {
	t.Parallel()
	m := visit(t, true)
	box := &standin.Mailbox{}
	post, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	go func() { _ = box.Serve(t.Context(), post) }()
	m.agreeing(url.Values{})
	_, body := m.get("/plans/9/signoff")
	assert.Contains(t, body, "--mail-from", "how to set a mail server up")
	_, body = m.post("/plans/9/mail", url.Values{"sheet": {"1"}, "to": {"client@town.example"}})
	assert.Contains(t, plain(body), "No mail server is set up")
	m.work.Mail = exchange.MailServer{Address: post.Addr().String(), From: "maker@moth.example", Mailbox: "http://127.0.0.1:1/"}
	_, body = m.get("/plans/9/signoff")
	assert.Contains(t, body, "open its mailbox")
	assert.Empty(t, box.Letters(), "nothing is sent but by a press")
	_, body = m.post("/plans/9/mail", url.Values{"sheet": {"1"}, "to": {"nobody"}})
	assert.Contains(t, plain(body), `"nobody" is not a mail address`)
	_, body = m.post("/plans/9/mail", url.Values{"sheet": {"1"}, "to": {"client@town.example"}, "words": {strings.Repeat("w", 4001)}})
	assert.Contains(t, plain(body), "at most 4000 characters")
	_, body = m.post("/plans/9/mail", url.Values{"sheet": {"1"}, "to": {"client@town.example"}, "words": {"Have a look, please."}})
	assert.Contains(t, plain(body), "Sheet 1 is sent to client@town.example.")
	assert.Equal(t, signoff.StateSent, m.newest().State)
	letters := box.Letters()
	require.Len(t, letters, 1)
	assert.Contains(t, letters[0].Text, "Have a look, please.")
	assert.NotContains(t, letters[0].Text, "/agree/", "nobody else reaches this machine")
	require.Len(t, letters[0].Files, 1)
	assert.Contains(t, string(letters[0].Files[0].Data), signoff.FileKey(m.newest().Sheet))

	_, body = m.get("/plans/9/buy")
	assert.Contains(t, plain(body), "sheet 1 is not agreed yet")
	m.change("signoff", "do=told&sheet=1&name=The+theatre&agreed=1")
	_, body = m.get("/plans/9/buy")
	assert.NotContains(t, plain(body), "is not agreed yet")
	_, body = m.get("/")
	assert.Contains(t, plain(body), "The theatre has agreed to Stage curtain (sheet 1)")
	assert.Contains(t, plain(body), "has asked for changes to", "of the demo's jumper")
	_, body = m.post("/plans/9/mail", url.Values{"sheet": {"1"}, "to": {"no address"}, "words": {"As we said."}})
	assert.Contains(t, body, `value="no address"`)
	assert.Contains(t, body, ">As we said.</textarea>", "what was typed stays")
	m.change("signoff", "do=withdraw-sheet&sheet=1")
	_, body = m.post("/plans/9/mail", url.Values{"sheet": {"1"}, "to": {"client@town.example"}})
	assert.Contains(t, plain(body), "Not sent. This sheet was withdrawn.")
	status, _ := m.post("/plans/9/mail", url.Values{"sheet": {"5"}, "to": {"client@town.example"}})
	assert.Equal(t, http.StatusNotFound, status)
}

// What cannot be on a sheet is refused, and nothing is made.
func TestSheetsThatCannotBe(t *testing.T) {
	t.Parallel()
	m := visit(t, false)
	ctx := context.Background()
	id, err := m.work.NewPlan(ctx, "Bare", "quilt")
	require.NoError(t, err)
	p, err := m.work.Open(ctx, id)
	require.NoError(t, err)
	_, body := m.get(fmt.Sprintf("/plans/%d/signoff", id))
	assert.Contains(t, plain(body), "No part of the piece has a colour yet")
	for _, e := range []signoff.Make{{}, {Days: 999}, {Days: -1}, {Times: -1}, {Maker: strings.Repeat("m", 121)},
		{Terms: strings.Repeat("t", 2001)}} {
		_, err := e.Act(ctx, m.work, p)
		assert.Error(t, err)
	}
	all, err := signoff.SheetsOf(ctx, m.work, id)
	require.NoError(t, err)
	assert.Empty(t, all)
}

// BenchmarkSheet makes sheets of a plan with a few colourways.
func BenchmarkSheet(b *testing.B) {
	m := visit(b, true)
	ctx := context.Background()
	p, err := m.work.Open(ctx, 9)
	require.NoError(b, err)
	for b.Loop() {
		if _, err := (signoff.Make{}).Act(ctx, m.work, p); err != nil {
			b.Fatal(err)
		}
	}
}

// Sheets and answers go into the plan file where the maker wishes, and their links do not.
func TestSheetsGoIntoThePlanFile(t *testing.T) {
	t.Parallel()
	m := visit(t, true)
	at := m.agreeing(url.Values{"price": {"340"}})
	m.change("signoff", "do=told&sheet=1&name=The+theatre&agreed=1&remark=yes")
	_, bare := m.get("/plans/9/plan.zip")
	_, file := m.get("/plans/9/plan.zip?sheets=1")
	assert.NotContains(t, file, strings.TrimPrefix(at, "/agree/"))
	ctx := context.Background()
	for _, one := range []struct {
		file   string
		sheets int
	}{{bare, 0}, {file, 1}} {
		p, missing, err := m.work.Import(ctx, []byte(one.file))
		require.NoError(t, err)
		assert.Empty(t, missing)
		all, err := signoff.SheetsOf(ctx, m.work, p.ID)
		require.NoError(t, err)
		require.Len(t, all, one.sheets)
		if one.sheets == 0 {
			continue
		}
		assert.Equal(t, signoff.StateAgreed, all[0].State)
		assert.Equal(t, "yes", all[0].Last().Remark)
		assert.NotNil(t, all[0].WithdrawnAt, "its link is shut")
		assert.NotEqual(t, strings.TrimPrefix(at, "/agree/"), all[0].Token)
		_, body := m.get(fmt.Sprintf("/plans/%d/signoff", p.ID))
		assert.Contains(t, plain(body), "Price: 340")
		assert.Contains(t, plain(body), "No changes since sheet 1")
	}
	// A sheet from elsewhere that is not whole breaks nothing.
	s, _, err := signoff.ByNumber(ctx, m.work, 9, 1)
	require.NoError(t, err)
	for _, doc := range []string{"", "nothing", "\x1f\x8b"} {
		s.Doc = []byte(doc)
		require.NoError(t, m.work.Store.Write(ctx, func(tx store.Tx) error { return tx.PutSheet(&s) }))
		status, body := m.get("/plans/9/signoff")
		assert.Equal(t, http.StatusOK, status)
		assert.Contains(t, plain(body), "Sheet 1 cannot be read any more")
	}
}

// A client sees a print as a print, on the page, in the file and on paper; and a palette without a drawing as its cards.
func TestAClientSeesPrintsAndPalettes(t *testing.T) {
	t.Parallel()
	m := visit(t, true)
	sh, err := m.work.Shelf(t.Context())
	require.NoError(t, err)
	at := slices.IndexFunc(sh.Cards, func(c *shelf.Card) bool { return c.Picture != nil && c.Picture.Wide > 0 })
	require.GreaterOrEqual(t, at, 0)
	id, err := m.work.NewPlan(t.Context(), "Sprigs", "quilt")
	require.NoError(t, err)
	p := testroom.MustOpen(t, m.work, id)
	for _, card := range sh.Cards[at:min(at+2, len(sh.Cards))] {
		p = testroom.Do(t, m.work, id, plan.Pull{Material: card.ID})
	}
	path := fmt.Sprintf("/plans/%d/", id)
	_, body := m.get(path + "signoff")
	assert.Contains(t, plain(body), "This is the sheet as it would be today", "seen before it is made")
	assert.Contains(t, body, `pattern id="surface-`, "a print on the piece")
	make := url.Values{"do": {"make-sheet"}, "stage": {"signoff"}, "revision": {fmt.Sprint(p.Revision)}, "alone": {"1"}, "photo": {"gone"}}
	code, body := m.post(path+"change", make)
	require.Equal(t, 200, code)
	assert.Contains(t, plain(body), "That photo was deleted")
	sketch, err := m.work.AddPhoto(t.Context(), "sketch.jpg", testroom.SwatchPhoto(t, 200))
	require.NoError(t, err)
	assert.Contains(t, body, `name="photo"`)
	make.Set("photo", sketch)
	code, body = m.post(path+"change", make)
	require.Equal(t, 200, code, plain(body))
	assert.Contains(t, body, "data:image/jpeg;base64,")
	assert.Contains(t, plain(body), "No changes since sheet 1.")
	_, file := m.get(path + "sheet.html?number=1")
	assert.Contains(t, plain(file), "A palette of 2 cards")
	assert.GreaterOrEqual(t, strings.Count(file, "data:image/jpeg;base64,"), 3, "on the piece, beside its name, and the sketch")
	assert.Contains(t, file, `alt="Sketch"`)
	assert.NotRegexp(t, `</b> <span>\d`, file, "no share of what is not drawn")
	code, pdf := m.get(path + "sheet.pdf?number=1")
	assert.Equal(t, 200, code)
	assert.GreaterOrEqual(t, strings.Count(pdf, "/Subtype /Image"), 2, "a print and the sketch")
	testroom.Do(t, m.work, id, plan.SetAside{Key: p.Tray[1].Key})
	_, body = m.get(path + "signoff")
	assert.Contains(t, plain(body), "is no longer used.")
}
