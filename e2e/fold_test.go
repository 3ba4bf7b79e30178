package e2e

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// mainPages are the pages that a maker works on.
var mainPages = []string{"/", "/start", "/shelf", "/plans/9/brief", "/plans/9/gather", "/plans/9/wheel", "/plans/9/values", "/plans/9/cards",
	"/plans/9/proportion", "/plans/7/mix", "/plans/9/signoff", "/plans/9/buy", "/plans/9/log", "/plans/9/together", "/plans/3/drawing"}

// mostAtOnce is how many things to press a page shows at 1280 × 800 before it is scrolled, beside cards, leaflets and parts.
const mostAtOnce = 45

func TestFewThingsToPressAtOnce(t *testing.T) {
	t.Parallel()
	b := serve(t, true).open("/")
	for _, path := range mainPages {
		b.visit(path)
		got := b.MustEval(`() => {
			const there = (e) => {
				const r = e.getBoundingClientRect();
				if (r.width < 1 || r.height < 1 || !e.checkVisibility({ opacityProperty: true, visibilityProperty: true })) return false;
				const x = r.x + r.width / 2, y = r.y + r.height / 2;
				if (x < 0 || y < 0 || x > innerWidth || y > innerHeight) return false;
				const top = document.elementFromPoint(x, y);
				return !!top && (e === top || e.contains(top) || top.contains(e) || top.closest('label')?.contains(e));
			};
			const own = '.tray-card, .deck-card, .shelf-card, .pull-card, .frond, .leaves, .run-card, .part, .thing';
			const all = [...document.querySelectorAll('a[href], button, input:not([type=hidden]), select, textarea, summary, [role=button][tabindex]')]
				.filter((e) => !e.disabled && there(e) && !e.closest(own));
			const words = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);
			let n = 0;
			while (words.nextNode()) {
				const text = words.currentNode, of = text.parentElement;
				if (of.closest('script, style, option, title') || !of.checkVisibility({ opacityProperty: true, visibilityProperty: true })) continue;
				const range = document.createRange();
				range.selectNodeContents(text);
				const r = range.getBoundingClientRect();
				const at = document.elementFromPoint(Math.min(innerWidth - 1, r.x + r.width / 2), r.y + Math.min(8, r.height / 2));
				if (r.width && r.height && at && (at === of || of.contains(at) || at.contains(of))) n += (text.data.match(/[\p{L}\d][\p{L}\d'’.,%-]*/gu) ?? []).length;
			}
			return [all.length, n, all.map((e) => (e.id || e.getAttribute('aria-label') || e.textContent || e.name || e.tagName).replace(/\s+/g, ' ').trim().slice(0, 24)).join(' | ')];
		}`).Arr()
		t.Logf("%s: %d to press, %d words", path, got[0].Int(), got[1].Int())
		assert.LessOrEqual(t, got[0].Int(), mostAtOnce, "%s: %s", path, got[2].Str())
	}
}
