package e2e

import (
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
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
	{"care", "/care"}, {"portrait", "/portrait"}, {"found", "/search?q=plum"}, {"new material", "/shelf/new"}, {"chart to print", "/shelf/chart"},
	{"together", "/plans/9/together"}, {"fewer colours", "/plans/9/together?fewer=1"}, {"add a piece", "/plans/9/pieces?add=1"}, {"worked", "/worked"}, {"reader", "/reader?for=3"}, {"house", "/plans/2/proportion"}, {"boats", "/plans/8/proportion"}, {"soap run", "/plans/5/values"}, {"charts", "/plans/3/charts"},
}

// Every page, at three widths and on two surrounds, is free of what axe-core finds wrong. On the
// second surround only what depends on colours is asked again. A picture's parts are named by what
// they stand for: axe takes their tooltips for text that is seen. The tray that sticks to the foot of
// a narrow window hides nothing for good, for the page scrolls on under it.
func TestNoPageHindersHandsOrEyes(t *testing.T) {
	t.Parallel()
	source := axe(t) + `; axe.configure({ rules: [{ id: 'label-content-name-mismatch', selector: ':not(svg *)' }] });
		document.querySelector('.tray')?.style.setProperty('position', 'static');`
	s := serve(t, true)
	for _, size := range [][2]int{{1280, 800}, {768, 1024}, {390, 844}} {
		t.Run(fmt.Sprint(size[0]), func(t *testing.T) {
			t.Parallel()
			b := s.openAt("/", size[0], size[1])
			for _, v := range slices.Concat(views, others, more) {
				b.visit(v.path)
				b.MustEval(`(source) => { (0, eval)(source); }`, source)
				found, err := b.Eval(`async () => {
					const all = ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa', 'best-practice'], said = [];
					for (const [surround, runOnly] of [['bench', all], ['dark', { type: 'rule', values: ['color-contrast', 'link-in-text-block'] }]]) {
						document.getElementById('bench').dataset.surround = surround;
						for (const v of (await axe.run(document, { resultTypes: ['violations'], preload: false, iframes: false, runOnly })).violations) {
							said.push('on ' + surround + ', ' + v.id + ': ' + v.help + ' — ' + v.nodes.slice(0, 4).map((n) => n.target.join(' ') + ' ' + (n.any[0]?.message ?? n.all[0]?.message ?? n.none[0]?.message ?? '')).join(' | '));
						}
					}
					return said.join('; ');
				}`)
				require.NoError(t, err)
				assert.Empty(t, found.Value.Str(), "%s, %d px wide", v.name, size[0])
			}
		})
	}
}
