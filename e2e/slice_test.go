package e2e

import (
	"encoding/csv"
	"io"
	"net/http"
	"os"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func writeFile(t *testing.T, name, text string) string {
	t.Helper()
	path := filepath.Join(t.TempDir(), name)
	require.NoError(t, os.WriteFile(path, []byte(text), 0o644))
	return path
}

// trayNames are the cards of the tray in order.
func (b *tab) trayNames() []string { return b.texts("#tray .tab b") }

// checkSheet follows the form that prints cards, as a browser would, and sees
// that the answer is a PDF.
func (b *tab) checkSheet(paper string) {
	b.t.Helper()
	b.unfold("print")
	b.MustElement("#print-paper").MustSelect(paper)
	address := b.MustEval(`() => { const f = document.getElementById('print-cards'); return new URL(f.action).pathname + '?' + new URLSearchParams(new FormData(f)); }`).Str()
	r := b.s.get(address)
	data, err := io.ReadAll(r.Body)
	require.NoError(b.t, err)
	assert.Equal(b.t, http.StatusOK, r.StatusCode)
	assert.True(b.t, strings.HasPrefix(string(data), "%PDF-"))
	assert.Contains(b.t, r.Header.Get("Content-Disposition"), "cards.pdf")
}

func TestWholeSliceByMouse(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	b := s.open("/")
	assert.Len(t, b.MustElements("#fern .frond"), 12)
	b.clickText(".links a", "164 materials")
	assert.Len(t, b.MustElements("#deck .deck-card"), 60)
	b.clickText(".rail a", "Plans")
	b.click("#by-name summary")
	b.MustElement("#plan-name").MustInput("Fore curtain")
	b.click("#start-plan")
	assert.Equal(t, "Gather", b.text("h1"))

	b.MustElement("#find").MustInput("bramble")
	b.click("#find-now")
	b.MustElement(".deck-card").MustHover()
	b.clickText(".deck-card .tools button", "lead")
	assert.Equal(t, "Bramble", b.text("#notes .big-card b"))
	b.clickText("#notes a", "See what goes with it")
	assert.Equal(t, "Wheel", b.text("h1"))
	assert.Len(t, b.MustElements("#light .lit"), 2, "the first scheme is lit at once")

	b.clickText(".schemes button", "^Split complementary$")
	assert.Len(t, b.MustElements("#light .lit"), 3)
	assert.Len(t, b.MustElements("#light .lead"), 1)
	headings := b.texts(".place h3")
	assert.Contains(t, headings[0], "lead")
	for range 5 {
		b.click(".place > .pulls .pull-card:not([disabled])")
	}
	names := b.trayNames()
	require.Len(t, names, 5)

	// A frond turns the light, not the hues; undo turns it back.
	before := b.text("#stage .heading p")
	b.click("#frond-0 text")
	assert.Contains(t, b.text("#stage .heading p"), "turned away from Bramble")
	b.click("#undo")
	assert.Equal(t, before, b.text("#stage .heading p"))
	assert.Equal(t, names, b.trayNames())

	b.clickText(".rail a", "Values")
	assert.Len(t, b.MustElements("#values .run-card"), 5)
	b.click("#values-only")
	for _, fill := range fills(b, "#values .run-card path") {
		assert.Equal(t, fill[1:3], fill[3:5], "values only shows greys")
		assert.Equal(t, fill[3:5], fill[5:7])
	}
	b.click("#values-only")

	b.clickText(".rail a", "Proportion")
	assert.Len(t, b.MustElements("#piece .part"), 5)
	b.unfold("parts")
	sum := 0.0
	for _, cell := range b.texts(".parts td:nth-child(2)") {
		v, err := strconv.ParseFloat(strings.TrimSuffix(cell, "%"), 64)
		require.NoError(t, err)
		sum += v
	}
	assert.InDelta(t, 100, sum, 2.5)
	b.click("#tray-5 .pick")
	b.clickAt(onGround(b))
	assert.Equal(t, names[4], selected(b, "#fill-ground"))
	b.MustElement("#tray-1").MustHover()
	b.MustElement("#tray-1 [data-swap]").MustClick() // it waits for the other
	b.click("#tray-2 .pick")
	assert.Equal(t, []string{names[1], names[0]}, b.trayNames()[:2])
	assert.NotEmpty(t, b.texts("#notes .notes li"))
	b.click("#to-pieces")
	b.click("#piece-strips")
	assert.Len(t, b.MustElements("#piece .part"), 6)

	b.clickText(".rail a", "Cards")
	b.checkSheet("A4")
	b.checkSheet("US Letter")
	r := s.get(strings.Replace(b.MustEval(`() => new URL(document.getElementById('print-svg').formAction).pathname`).Str(), "?", "", 1))
	svg, err := io.ReadAll(r.Body)
	require.NoError(t, err)
	assert.Contains(t, string(svg), `width="297mm" height="210mm"`)
}

// fills lists the fill colours of paths that are filled with one.
func fills(b *tab, selector string) []string {
	var out []string
	for _, e := range b.MustElements(selector) {
		if f := e.MustAttribute("fill"); f != nil && strings.HasPrefix(*f, "#") {
			out = append(out, *f)
		}
	}
	return out
}

func selected(b *tab, selector string) string {
	return b.MustElement(selector).MustEval(`() => this.selectedOptions[0].textContent`).Str()
}

// focus tabs forward until the focused element matches the selector.
func (b *tab) tabTo(selector string) {
	b.t.Helper()
	for range 400 {
		b.press(input.Tab)
		if b.MustEval(`s => document.activeElement.matches(s)`, selector).Bool() {
			return
		}
	}
	b.t.Fatalf("the keyboard does not reach %s", selector)
}

func (b *tab) typeText(words string) {
	b.t.Helper()
	require.NoError(b.t, b.InsertText(words))
}

// follow presses a key that leads to another page and waits for it.
func (b *tab) follow(heading string, keys ...input.Key) {
	b.t.Helper()
	for _, k := range keys {
		require.NoError(b.t, b.Keyboard.Type(k))
	}
	b.until(heading, `h => document.querySelector('h1')?.textContent === h`, heading)
	b.settle()
}

func TestWholeSliceByKeyboard(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	b := s.open("/")
	b.press('?')
	assert.True(t, b.MustEval(`() => document.getElementById('keys').open`).Bool())
	b.press(input.Escape)
	b.until("the list of keys to close", `() => !document.getElementById('keys').open && !document.activeElement.closest('dialog')`)
	b.follow("Plans", 'g', 't')
	b.tabTo("#by-name summary")
	b.press(input.Enter)
	b.tabTo("#plan-name")
	b.typeText("Fore curtain")
	b.follow("Gather", input.Enter)

	b.press('/')
	b.typeText("bramble")
	require.NoError(t, b.Keyboard.Type(input.Enter))
	b.until("the one card", `() => document.querySelectorAll('.deck-card').length === 1`)
	b.settle()
	b.tabTo(`[aria-label="Make Bramble the lead colour"]`)
	b.press(input.Enter)
	assert.Equal(t, "Bramble", b.text("#notes .big-card b"))

	b.follow("Wheel", 'g', 'w')
	b.tabTo(`[id="scheme-split complementary"]`)
	b.press(input.Enter)
	assert.Len(t, b.MustElements("#light .lit"), 3)
	assert.True(t, b.MustEval(`() => document.activeElement.id === 'scheme-split complementary'`).Bool(), "focus stays where it was")
	for range 5 {
		b.tabTo(".pull-card:not([disabled])")
		b.press(input.Enter)
	}
	names := b.trayNames()
	require.Len(t, names, 5)
	before := b.text("#stage .heading p")
	b.press(']')
	assert.Contains(t, b.text("#stage .heading p"), "turned away")
	b.press('[')
	assert.Equal(t, before, b.text("#stage .heading p"))
	b.tabTo("#frond-2")
	b.press(input.Enter)
	assert.Contains(t, b.text("#stage .heading p"), "turned away")
	b.press('z')
	assert.Equal(t, before, b.text("#stage .heading p"))
	b.press('y', 'z')

	b.follow("Values", 'g', 'v')
	b.press('v')
	assert.Equal(t, "true", *b.MustElement("#values-only").MustAttribute("aria-pressed"))
	b.press('v', 'l')
	assert.Contains(t, b.text(".flash.quiet"), "warm bulb")
	b.press('l', 'l')

	b.follow("Proportion", 'g', 'p')
	b.press('5')
	b.tabTo("#part-ground")
	b.press(input.Enter)
	assert.Equal(t, names[4], selected(b, "#fill-ground"))
	b.press('1', 's', 's') // twice: with its neighbour
	assert.Equal(t, []string{names[1], names[0]}, b.trayNames()[:2])
	b.press('.', 'x')
	assert.Len(t, b.trayNames(), 4)
	b.press('z')
	assert.Len(t, b.trayNames(), 5)

	b.follow("Cards", 'g', 'c')
	b.unfold("print")
	b.tabTo("#print-pdf")
	b.checkSheet("US Letter")
}

func TestOwnListThroughThePage(t *testing.T) {
	t.Parallel()
	s := serve(t, false)
	b := s.open("/shelf/import")
	b.click("#preview")
	assert.Contains(t, b.text("[role=alert]"), "Choose a file first")
	b.MustElement("#file").MustSetFiles(writeFile(t, "letter.csv", "dear,aunt\nhow,are\n"))
	b.click("#preview")
	assert.Contains(t, b.text("[role=alert]"), "must name the columns")
	b.MustElement("#file").MustSetFiles(writeFile(t, "mine.csv",
		"name;colour;kind\nPlum;#4b2346;fabric\nSedge;#12;yarn\nGorse;#f1de4a;yarn\n"))
	b.click("#preview")
	assert.Contains(t, b.text(".bad-lines"), "six digits")
	assert.Contains(t, b.text("#stage"), "2 new materials")
	r := s.get("/shelf/list.csv")
	rows, err := csv.NewReader(r.Body).ReadAll()
	require.NoError(t, err)
	assert.Len(t, rows, 1, "nothing is on the shelf before it is confirmed")
	b.click("#confirm")
	assert.Contains(t, b.text(".flash"), "2 materials are now on the shelf")
	assert.Equal(t, []string{"Gorse", "Plum"}, b.texts("#deck .tab b"))
	b.click("#undo")
	assert.Contains(t, b.text("#stage"), "The shelf is empty")
	b.click("#redo")
	assert.Len(t, b.texts("#deck .tab b"), 2)
}

func TestAddAndEditAMaterial(t *testing.T) {
	t.Parallel()
	s := serve(t, false)
	b := s.open("/shelf/new")
	b.MustElement("#field-name").MustInput("Reed")
	b.MustElement("#field-colour").MustInput("#12")
	b.click("#save")
	assert.Contains(t, b.text("#problem-colour"), "six digits")
	assert.Equal(t, "Reed", b.MustElement("#field-name").MustText(), "what was typed is kept")
	b.MustElement("#field-colour").MustSelectAllText().MustInput("#8d9a56")
	b.click("#save")
	assert.Equal(t, "Reed", b.text("h1"))
	assert.Contains(t, b.text("#notes .figures"), "olive")
	b.MustElement("#field-L").MustSelectAllText().MustInput("140")
	b.click("#save")
	assert.Contains(t, b.text(".mend em"), "between 0 and 100")
	b.MustElement("#field-L").MustSelectAllText().MustInput("40")
	b.click("#save")
	assert.Contains(t, b.text("#notes .figures"), "4.0 of 10")
	b.click("#take-off")
	assert.Contains(t, b.text("#stage"), "The shelf is empty")
	b.click("#undo")
	assert.Equal(t, []string{"Reed"}, b.texts("#deck .tab b"))
}

// Two tabs on one plan see each other's change, and what is typed in one survives the other's.
func TestTwoTabsOnOnePlan(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	one, two := s.open("/plans/9/values"), s.open("/plans/9/values")
	one.MustActivate()
	one.press('1', 'x')
	assert.Len(t, one.trayNames(), 4)
	two.MustActivate()
	two.until("the other's change", `() => document.querySelectorAll('.tray-card').length === 4`)
	assert.Contains(t, two.text(".flash"), "changed in another tab. The page now shows it")
	assert.Equal(t, one.trayNames(), two.trayNames())
	two.press('1', 'x')
	assert.Len(t, two.trayNames(), 3)

	one, two = s.open("/plans/9/brief"), s.open("/plans/9/brief")
	one.MustActivate()
	typeIn := func(b *tab, field, words string) {
		b.MustEval(`(id, words) => { const f = document.getElementById(id); f.focus(); f.value = words; f.blur = () => {}; }`, field, words)
	}
	typeIn(one, "brief-purpose", "Half a sentence of one")
	typeIn(one, "brief-for", "a guild")
	two.MustActivate()
	two.MustEval(`() => { const f = document.getElementById('brief-purpose'); f.value = 'All that two says'; f.dispatchEvent(new Event('change', { bubbles: true })); }`)
	two.settle()
	one.MustActivate()
	one.until("both versions", `() => !!document.querySelector('.theirs')`)
	value := func(id string) string { return one.MustElement("#" + id).MustProperty("value").Str() }
	assert.Equal(t, []string{"Half a sentence of one", "a guild"}, []string{value("brief-purpose"), value("brief-for")}, "what is typed stays")
	assert.Equal(t, []string{"saved in the other tab: All that two says Use this"}, one.texts(".theirs"),
		"both stand there, where both were changed")
	one.click(".theirs .act")
	assert.Equal(t, "All that two says", value("brief-purpose"))
	assert.Equal(t, "a guild", value("brief-for"))
}

func TestLampChangesMaterialsAndNothingElse(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	b := s.open("/plans/9/proportion")
	look := func() (coloured []string, chrome string) {
		for _, e := range b.MustElements(".tray-card .colour, .eye i") {
			coloured = append(coloured, e.MustEval(`() => getComputedStyle(this).backgroundColor`).Str())
		}
		coloured = append(coloured, fills(b, "#piece .part, #battens path")...)
		return coloured,
			b.MustEval(`() => ['.lampbar', '.rail', '#notes', '.tab', '#stage', '.tray'].map(s => getComputedStyle(document.querySelector(s)).backgroundColor).join()`).Str()
	}
	day, chrome := look()
	require.Greater(t, len(day), 15)
	for _, lamp := range []string{"warm", "tube"} {
		b.click("#lamp-" + lamp)
		now, same := look()
		require.Len(t, now, len(day))
		for i := range now {
			assert.NotEqual(t, day[i], now[i], "every coloured thing is seen under the lamp")
		}
		assert.Equal(t, chrome, same)
	}
	b.click("#lamp-daylight")
	back, _ := look()
	assert.Equal(t, day, back)
	b.unfold("more-lamps")
	b.click("#surround-dark")
	assert.Equal(t, "rgb(43, 43, 43)", b.MustEval(`() => getComputedStyle(document.getElementById('stage')).backgroundColor`).Str())
	dark, _ := look()
	assert.Equal(t, day, dark, "the surround changes no colour")
}

func TestDraggingTheLightAndTheCards(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	b := s.open("/plans/9/wheel")
	before := b.texts(".place h3")
	dragLight(b, 62)
	assert.NotEqual(t, before, b.texts(".place h3"))
	assert.Equal(t, "2", *b.MustElement("#wheel").MustAttribute("data-turn-now"))
	b.click("#undo")
	assert.Equal(t, before, b.texts(".place h3"), "the whole drag is one step")

	names := b.trayNames()
	dragTo(b, "#tray-1 .colour", "#tray-3 .colour")
	assert.Equal(t, []string{names[1], names[2], names[0]}, b.trayNames()[:3])
	b = s.open("/plans/9/gather")
	dragTo(b, ".deck-card:first-child .colour", "#pull-here")
	assert.Len(t, b.trayNames(), 6)
	b = s.open("/plans/9/proportion")
	dragTo(b, "#tray-4 .colour", "#part-ground path")
	assert.Equal(t, "Marrow flesh", selected(b, "#fill-ground"))
}

func TestEveryPageStandsWithoutTrouble(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	b := s.openAt("/", 1024, 700)
	small := regexp.MustCompile(`^(\d+(?:\.\d+)?)`)
	for _, v := range append(views, others...) {
		b.visit(v.path)
		assert.False(t,
			b.MustEval(`() => document.documentElement.scrollWidth > innerWidth || document.documentElement.scrollHeight > innerHeight`).Bool(),
			"%s fits 1024 × 700", v.name)
		assert.Equal(t, float64(0),
			b.MustEval(`() => [...document.querySelectorAll('button, a, input, select, [role=button]')].filter(e => !(e.textContent.trim() || e.getAttribute('aria-label') || e.title || e.labels?.length || e.type === 'hidden')).length`).Num(), "%s: everything that acts has a name", v.name)
		for _, size := range b.MustEval(`() => [...new Set([...document.querySelectorAll('body *:not(svg *)')].filter(e => [...e.childNodes].some(n => n.nodeType === 3 && n.textContent.trim())).map(e => getComputedStyle(e).fontSize))]`).Arr() {
			px, err := strconv.ParseFloat(small.FindString(size.Str()), 64)
			require.NoError(t, err)
			assert.GreaterOrEqual(t, px, 12.0, v.name)
		}
	}
}
