package stages

import (
	"fmt"
	"maps"
	"math/rand/v2"
	"net/http"
	"net/url"
	"os"
	"reflect"
	"slices"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/net/html"

	"lampfern/testroom"
	"lampfern/web"
)

// press is a change that a page offers: what is sent as the page stands, and what else its fields may hold.
type press struct {
	action string
	url.Values
	choices map[string][]string
}

// typed is what a maker may type into a field.
var typed = []string{"1", "2", "3", "12", "0.5", "40", "Moss", "a remark", "#4a6741", "2026-12-10", ""}

// pressable are the changes that the pages of a plan offer.
func pressable(m *maker, plan int) (out []press) {
	m.t.Helper()
	pages := []string{}
	for _, room := range Rooms() {
		for _, p := range room(&web.Server{Desk: m.work}).Pages {
			pages = append(pages, fmt.Sprintf("/plans/%d/%s", plan, p.Key))
		}
	}
	for _, p := range formsOf(m, pages) {
		if do := p.Get("do"); strings.HasSuffix(p.action, "/change") && do != "" && do != "undo" && do != "redo" && do != "away" {
			out = append(out, p)
		}
	}
	return out
}

// formsOf are the forms of pages as a browser without a script would send them, one for each button.
func formsOf(m *maker, pages []string) (out []press) {
	m.t.Helper()
	seen := map[string]bool{}
	for _, page := range pages {
		code, body := m.get(page)
		if code != http.StatusOK {
			continue
		}
		doc, err := html.Parse(strings.NewReader(body))
		require.NoError(m.t, err)
		forms, fields, buttons := map[*html.Node]string{}, map[*html.Node]url.Values{}, map[*html.Node][][2]string{}
		byID, choices := map[string]*html.Node{}, map[*html.Node]map[string][]string{}
		attr := func(n *html.Node, name string) string {
			for _, a := range n.Attr {
				if a.Key == name {
					return a.Val
				}
			}
			return ""
		}
		has := func(n *html.Node, name string) bool {
			return slices.ContainsFunc(n.Attr, func(a html.Attribute) bool { return a.Key == name })
		}
		for n := range doc.Descendants() {
			if n.Type == html.ElementNode && n.Data == "form" && attr(n, "method") == "post" {
				forms[n], fields[n], byID[attr(n, "id")], choices[n] = attr(n, "action"), url.Values{}, n, map[string][]string{}
			}
		}
		for n := range doc.Descendants() {
			if n.Type != html.ElementNode || has(n, "disabled") {
				continue
			}
			var form *html.Node
			if id := attr(n, "form"); id != "" {
				form = byID[id]
			} else {
				for at := range n.Ancestors() {
					if forms[at] != "" {
						form = at
					}
				}
			}
			name := attr(n, "name")
			if form == nil {
				continue
			}
			switch kind := attr(n, "type"); {
			case n.Data == "button" && kind != "button":
				buttons[form] = append(buttons[form], [2]string{name, attr(n, "value")})
			case name == "":
			case n.Data == "input" && (kind == "checkbox" || kind == "radio"):
				choices[form][name] = append(choices[form][name], attr(n, "value"))
				if has(n, "checked") {
					fields[form].Add(name, attr(n, "value"))
				}
			case n.Data == "input" && kind != "file" && kind != "submit":
				fields[form].Add(name, attr(n, "value"))
				if kind != "hidden" {
					choices[form][name] = append([]string{attr(n, "value")}, typed...)
				}
			case n.Data == "textarea" && n.FirstChild != nil:
				fields[form].Add(name, n.FirstChild.Data)
			case n.Data == "select":
				chosen, first := "", true
				for o := range n.Descendants() {
					if o.Type == html.ElementNode && o.Data == "option" && (first || has(o, "selected")) {
						chosen, first = attr(o, "value"), false
					}
					if o.Type == html.ElementNode && o.Data == "option" {
						choices[form][name] = append(choices[form][name], attr(o, "value"))
					}
				}
				fields[form].Add(name, chosen)
			}
		}
		for form := range forms {
			if len(buttons[form]) == 0 {
				buttons[form] = [][2]string{{}}
			}
			for _, b := range buttons[form] {
				all := url.Values{}
				maps.Copy(all, fields[form])
				if b[0] != "" {
					all[b[0]] = []string{b[1]}
				}
				if act, err := url.ParseQuery(all.Get("act")); err == nil && len(act) > 0 { // a button carries its whole change
					maps.Copy(all, act)
					all.Del("act")
				}
				if strings.HasSuffix(forms[form], "/change") {
					all.Del("revision")
				}
				if key := forms[form] + all.Encode(); !seen[key] {
					seen[key] = true
					out = append(out, press{forms[form], all, choices[form]})
				}
			}
		}
	}
	slices.SortFunc(out, func(a, b press) int { return strings.Compare(a.action+a.Encode(), b.action+b.Encode()) })
	return out
}

// fieldsOf are the names of the fields of a verb's form.
func fieldsOf(edit any) (out []string) {
	of := reflect.TypeOf(edit)
	if of.Kind() == reflect.Pointer {
		of = of.Elem()
	}
	if of.Kind() != reflect.Struct {
		return nil
	}
	for i := range of.NumField() {
		if name, _, _ := strings.Cut(of.Field(i).Tag.Get("form"), ","); name != "" {
			out = append(out, name)
		}
	}
	return out
}

// documentsOf is a plan as it is kept, without when and how often it was changed.
func documentsOf(m *maker, plan uint) map[string]string {
	m.t.Helper()
	p, sections, err := m.work.Store.Read(m.t.Context()).Plan(plan)
	require.NoError(m.t, err)
	out := map[string]string{"": fmt.Sprint(p.Name, p.Craft, p.Kinds, p.PutAway)}
	for _, s := range sections {
		out[s.Name] = fmt.Sprint(s.Version, string(s.Doc))
	}
	return out
}

// sendTo sends a change to a plan on its newest revision.
func (m *maker) sendTo(plan int, change url.Values) int {
	p, _, err := m.work.Store.Read(m.t.Context()).Plan(uint(plan))
	require.NoError(m.t, err)
	all := url.Values{}
	maps.Copy(all, change)
	all.Set("revision", fmt.Sprint(p.Revision))
	if all.Get("stage") == "" {
		all.Set("stage", "brief")
	}
	r, err := http.NewRequestWithContext(m.t.Context(), http.MethodPost, fmt.Sprintf("%s/plans/%d/change", m.url, plan), strings.NewReader(all.Encode()))
	require.NoError(m.t, err)
	r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
	r.Header.Set(web.PartHeader, "1")
	code, _ := m.read(m.client.Do(r))
	return code
}

// Whatever a maker presses, in whatever order, undo leads back to where the plan was, byte for byte, and redo
// to where it came. ./trials runs three hundred sequences.
func TestUndoAndRedoOverRandomPresses(t *testing.T) {
	testroom.Slow(t)
	t.Parallel()
	sequences := 12
	if n, err := strconv.Atoi(os.Getenv("LAMPFERN_SEQUENCES")); err == nil {
		sequences = n
	}
	const steps = 12
	m := visit(t, true)
	verbs, changed := map[string]bool{}, 0
	edits, _, _, err := web.Verbs(All())
	require.NoError(t, err)
	const plans = 9
	for plan := 1; plan <= plans; plan++ {
		offered := pressable(m, plan)
		require.NotEmpty(t, offered)
		byVerb := map[string][]press{}
		for _, o := range offered {
			byVerb[o.Get("do")] = append(byVerb[o.Get("do")], o)
		}
		// What modules send stands in no form: its fields hold what the same ones hold in forms, or small numbers.
		held := map[string][]string{}
		for _, o := range offered {
			for name, values := range o.Values {
				held[name] = append(held[name], values...)
			}
			for name, values := range o.choices {
				held[name] = append(held[name], values...)
			}
		}
		for verb, edit := range edits {
			if byVerb[verb] == nil && verb != "away" {
				made := press{"", url.Values{"do": {verb}}, map[string][]string{}}
				for _, name := range fieldsOf(edit()) {
					made.choices[name] = append(slices.Clone(held[name]), "1", "2", "3", "4", "0.5", "1,2", "Moss")
				}
				byVerb[verb] = []press{made}
			}
		}
		all := slices.Sorted(maps.Keys(byVerb))
		for seed := range max(1, sequences/plans) {
			r := rand.New(rand.NewPCG(uint64(plan), uint64(seed)))
			states, said := []map[string]string{documentsOf(m, uint(plan))}, []string{}
			for range steps { // each verb is as likely as another
				of := byVerb[all[r.IntN(len(all))]]
				from := of[r.IntN(len(of))]
				change := url.Values{}
				maps.Copy(change, from.Values)
				for _, name := range slices.Sorted(maps.Keys(from.choices)) {
					if all := from.choices[name]; from.Values[name] == nil || r.IntN(2) == 0 {
						change[name] = []string{all[r.IntN(len(all))]}
					}
				}
				code := m.sendTo(plan, change)
				require.Less(t, code, 500, "plan %d, %s", plan, change.Encode())
				if now := documentsOf(m, uint(plan)); !maps.Equal(now, states[len(states)-1]) {
					states, said = append(states, now), append(said, change.Encode())
					verbs[change.Get("do")] = true
					changed++
				}
			}
			for i := len(states) - 2; i >= 0; i-- {
				m.sendTo(plan, url.Values{"do": {"undo"}})
				require.Equal(t, states[i], documentsOf(m, uint(plan)), "plan %d, seed %d, undo of %s", plan, seed, said[i])
			}
			for i := 1; i < len(states); i++ {
				m.sendTo(plan, url.Values{"do": {"redo"}})
				require.Equal(t, states[i], documentsOf(m, uint(plan)), "plan %d, seed %d, redo of %s", plan, seed, said[i-1])
			}
			for range len(states) - 1 {
				m.sendTo(plan, url.Values{"do": {"undo"}})
			}
		}
	}
	t.Logf("%d sequences, %d changes of %d verbs of %d, each undone and redone", plans*max(1, sequences/plans), changed, len(verbs), len(edits))
	if sequences > 100 {
		var never []string
		for verb := range edits {
			if !verbs[verb] {
				never = append(never, verb)
			}
		}
		slices.Sort(never)
		t.Log("never changed a plan here: ", never)
	}
	assert.Greater(t, len(verbs), 20)
}

// What no maker types into a field is answered with a sentence, never with a fault, whichever verb and field it
// is sent to. ./trials sends all of them; else each field gets every third.
func TestOddValuesInEveryField(t *testing.T) {
	testroom.Slow(t)
	t.Parallel()
	m := visit(t, true)
	edits, _, _, err := web.Verbs(All())
	require.NoError(t, err)
	known := map[string]url.Values{}
	for _, plan := range []int{9, 8, 6} {
		for _, o := range pressable(m, plan) {
			known[o.Get("do")] = o.Values
		}
	}
	odd := []string{"", " ", "-1", "0", "1e308", "NaN", "99999999999999999999", "ü\u202e\x00", strings.Repeat("x", 5000), `{"a":[1]}`, "../../x", "'; --"}
	sent, few := 0, os.Getenv("LAMPFERN_SEQUENCES") == ""
	for turn, verb := range slices.Sorted(maps.Keys(edits)) {
		base := url.Values{}
		maps.Copy(base, known[verb])
		base.Set("do", verb)
		names := map[string]bool{"stage": true}
		for name := range base {
			names[name] = true
		}
		for _, name := range fieldsOf(edits[verb]()) {
			names[name] = true
		}
		delete(names, "do")
		for name := range names {
			for i, v := range odd {
				if few && (i+turn)%3 > 0 {
					continue
				}
				change := url.Values{}
				maps.Copy(change, base)
				change[name] = []string{v}
				if i%4 == 3 { // twice, as no form sends it
					change.Add(name, v)
				}
				code := m.sendTo([]int{9, 8, 6}[i%3], change)
				sent++
				assert.Less(t, code, 500, "%s, %s = %.40q", verb, name, v)
			}
		}
	}
	// The pages that are of no plan; what would leave the workroom, or bring another, is not pressed.
	for _, p := range formsOf(m, []string{"/", "/shelf", "/shelf/new", "/shelf/material/1", "/shelf/import", "/shelf/beside", "/photos", "/plans", "/care", "/reader",
		"/portrait", "/worked"}) {
		if slices.Contains([]string{"/care/next", "/try"}, p.action) || strings.HasPrefix(p.action, "/plans/") && p.action != "/plans/import" {
			continue
		}
		for name := range p.Values {
			for i, v := range odd {
				if few && i%3 > 0 {
					continue
				}
				change := url.Values{}
				maps.Copy(change, p.Values)
				change[name] = []string{v}
				code, _ := m.post(p.action, change)
				sent++
				assert.Less(t, code, 500, "%s, %s = %.40q", p.action, name, v)
			}
		}
	}
	t.Logf("%d odd values sent", sent)
	for _, plan := range []int{9, 8, 6} { // and every page still opens
		for _, st := range All() {
			code, _ := m.get(fmt.Sprintf("/plans/%d/%s", plan, st.Key))
			assert.Equal(t, http.StatusOK, code, "plan %d, %s", plan, st.Key)
		}
	}
}
