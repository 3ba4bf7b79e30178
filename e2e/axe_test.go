package e2e

import (
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// axe gives the source of axe-core, as ./test installs it.
func axe(t *testing.T) string {
	t.Helper()
	kept, err := exec.Command("../lint/fetch").Output()
	if err != nil {
		t.Skipf("axe-core cannot be had: %s", strings.TrimSpace(string(kept)))
	}
	source, err := os.ReadFile(filepath.Join(strings.TrimSpace(string(kept)), "node_modules/axe-core/axe.min.js"))
	require.NoError(t, err)
	return string(source)
}

// more are pages that neither the README nor the test of every page's troubles needs.
var more = []struct{ name, path string }{
	{"care", "/care"}, {"figures", "/care/figures"}, {"portrait", "/portrait"}, {"found", "/search?q=plum"}, {"new material", "/shelf/new"},
	{"chart to print", "/shelf/chart"},
	{"together", "/plans/9/together"}, {"fewer colours", "/plans/9/together?fewer=1"}, {"add a piece", "/plans/9/pieces?add=1"},
	{"worked", "/worked"}, {"reader", "/reader?for=3"}, {"house", "/plans/2/proportion"}, {"boats", "/plans/8/proportion"},
	{"soap run", "/plans/5/values"}, {"charts", "/plans/3/charts"},
}

// shares is into how many tests the pages are shared, which run side by side.
const shares = 6

// Every page is free of what axe-core finds wrong, at three widths and on two surrounds, and at
// these, enlarged to 200 % and to 400 %, nothing but tables, cloths and decks runs off its side. Each
// has a title of its own.
func TestEveryPageAtEveryWidth(t *testing.T) {
	t.Parallel()
	source := axe(t)
	var titles sync.Map
	for share := range shares {
		t.Run(fmt.Sprint(share), func(t *testing.T) {
			t.Parallel()
			b := serve(t, true).open("/")
			for i, v := range slices.Concat(views, others, more) {
				if i%shares != share {
					continue
				}
				b.size(1280, 800)
				b.visit(v.path)
				page, _, _ := strings.Cut(v.path, "?")
				title := b.MustEval(`() => document.title`).Str()
				if was, twice := titles.LoadOrStore(title, page); twice && was != page {
					t.Errorf("%s and %s are both called %q", was, page, title)
				}
				b.hinders(v.name, 1280, source)
				for _, size := range [][2]int{{768, 1024}, {640, 400}, {390, 844}, {320, 256}} {
					b.size(size[0], size[1])
					b.runsOff(v.name, size[0])
					if size[0] == 768 || size[0] == 390 {
						b.hinders(v.name, size[0], source)
					}
				}
			}
		})
	}
}

// runsOff finds what runs off the side of a page.
func (b *tab) runsOff(name string, wide int) {
	b.t.Helper()
	off := b.MustEval(`() => [document.documentElement.scrollWidth > innerWidth && 'the page', ...[...document.querySelectorAll('#bench *')].filter((e) => {
		const r = e.getBoundingClientRect();
		return r.width && r.right > innerWidth + 1 && !e.closest('[data-scroll], table, .riffle, .laid-out, .deck, svg, .wanted-list, .rail, .worktable, #photo, .draft-bench, .ramp-sides, .tray, .visually-hidden');
	}).slice(0, 3).map((e) => e.tagName + '.' + e.className + '#' + e.id)].filter(Boolean).join(', ')`).Str()
	assert.Empty(b.t, off, "%s, %d px wide", name, wide)
}

// hinders finds what axe-core finds wrong with a page. On the second surround only what depends on
// colours is asked again. A picture's parts are named by what they stand for: axe takes their tooltips
// for text that is seen. The tray that sticks to the foot of a narrow window hides nothing for good,
// for the page scrolls on under it.
func (b *tab) hinders(name string, wide int, source string) {
	b.t.Helper()
	if !b.MustEval(`() => 'axe' in window`).Bool() {
		b.MustEval(`(source) => { (0, eval)(source); axe.configure({ rules: [{ id: 'label-content-name-mismatch', selector: ':not(svg *)' }] }); }`, source)
	}
	found, err := b.Eval(`async () => {
		const all = ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa', 'best-practice'], said = [];
		const bench = document.getElementById('bench'), tray = document.querySelector('.tray'), before = bench.dataset.surround;
		tray?.style.setProperty('position', 'static');
		for (const [surround, runOnly] of [['bench', all], ['dark', { type: 'rule', values: ['color-contrast', 'link-in-text-block'] }]]) {
			bench.dataset.surround = surround;
			for (const v of (await axe.run(document, { resultTypes: ['violations'], preload: false, iframes: false, runOnly })).violations) {
				said.push('on ' + surround + ', ' + v.id + ': ' + v.help + ' — ' + v.nodes.slice(0, 4).map((n) => n.target.join(' ') + ' ' + (n.any[0]?.message ?? n.all[0]?.message ?? n.none[0]?.message ?? '')).join(' | '));
			}
		}
		bench.dataset.surround = before;
		tray?.style.removeProperty('position');
		return said.join('; ');
	}`)
	require.NoError(b.t, err)
	assert.Empty(b.t, found.Value.Str(), "%s, %d px wide", name, wide)
}
