package studio

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"

	"lampfern/core/balance"
	"lampfern/core/colour"
	"lampfern/core/value"
	"lampfern/store"
)

// Where a run's colours come from.
const (
	FromTray   = "tray"
	FromScraps = "scraps"
	FromShelf  = "shelf"
)

// Bounds of a run.
const (
	MostRun      = 60 // colours fitted and drawn
	MostSteps    = 24
	stepsAtFirst = 6   // wanted when there are many colours
	fills        = 8.0 // ΔE00 within which a card of the shelf serves a step
	stepNear     = 4   // alternatives shown for a step
	gapNear      = 2   // cards offered for a gap
	crowdsTold   = 4   // one by one
	strayShare   = 3   // one stray in so many colours,
	mixedFrom    = 100 // and hues so many degrees apart: a palette and no run
)

// RunCard is one colour of a run. Its token names it.
type RunCard struct {
	*Card
	Token  string
	Reads  colour.Lab // what it takes part with: a print's mean, else its colour
	Offset value.Offset
	Lean   string // of a stray, empty when it belongs
	Words  string // what is said of a stray on the drawing, such as "too grey"
}

// RunNote is a note on a run. Token names the card it would set aside, Near are
// cards of the shelf that would mend it.
type RunNote struct {
	balance.Note
	Token string
	Near  []Near
}

// StepView is one wanted step of a run.
type StepView struct {
	Colour colour.Lab
	Pick   *Near  // the nearest card not used by a step built before; nil for an empty shelf
	Near   []Near // alternatives, nearest first
	Serves bool   // the pick is near enough
}

// GapView is a jump in the run that something should fill.
type GapView struct {
	From, To *RunCard
	By       float64 // value steps
	Colour   colour.Lab
	Near     []Near // cards of the shelf that would fill it, empty when none is near enough
	Chit     Chit
}

// Chit says what to look for in a shop.
type Chit struct {
	Colour colour.Lab
	Value  float64
	Family colour.FamilyName
	Not    [2]colour.FamilyName // which ways it must not lean; empty for a neutral
	Within float64              // how near is near enough, ΔE00
	Low    float64              // value range that still serves
	High   float64
}

// RunView is what the values stage shows.
type RunView struct {
	Run     value.Run
	Fitted  bool
	Mixed   bool      // of several hues: read by value alone
	Cards   []RunCard // dark to light
	Left    int       // colours found beyond MostRun
	Steps   []StepView
	Build   []int // steps in the order they are built
	Gaps    []GapView
	Crowds  [][2]*RunCard
	Notes   []RunNote
	Checked value.Checked
	Hidden  int
	Sides   [2]colour.FamilyName // what lies left and right of the run, empty for neutrals
}

// Values works out the values stage. without names a colour left out for
// now, empty for none.
func (p *Plan) Values(without string) RunView {
	v := RunView{}
	cards, left := p.runCards()
	cards = slices.DeleteFunc(cards, func(c RunCard) bool { return c.Token == without && without != "" })
	v.Left = left
	labs := make([]colour.Lab, len(cards))
	for i, c := range cards {
		labs[i] = c.Reads
	}
	run, err := value.Fit(labs)
	if n := len(run.Strays); run.Second == nil && strayShare*n >= len(cards) && n > 0 && hueSpread(cards) >= mixedFrom {
		v.Mixed, run.Strays = true, nil
	}
	v.Run, v.Fitted, v.Checked = run, err == nil, value.Check(labs)
	for i := range cards {
		cards[i].Offset = run.Offsets[i]
	}
	for _, s := range run.Strays {
		cards[s.Index].Lean, cards[s.Index].Words = s.Lean, leanWords(s.Lean)
	}
	if v.Fitted {
		if !v.Mixed {
			v.sides()
			v.steps(p, cards)
		}
		v.gaps(p, cards)
	}
	v.Notes = p.runNotes(&v, cards)
	for _, i := range run.Order {
		v.Cards = append(v.Cards, cards[i])
	}
	return v
}

// hueSpread is the most that the hues of two cards lie apart, in degrees of
// OKLCh; near-neutrals do not count.
func hueSpread(cards []RunCard) float64 {
	var hues []float64
	for _, c := range cards {
		if c.Reads.Chroma() >= colour.NearNeutralBelow {
			hues = append(hues, c.Reads.OKLCh().H)
		}
	}
	most := 0.0
	for i, a := range hues {
		for _, b := range hues[i+1:] {
			most = math.Max(most, math.Abs(colour.HueBetween(a, b)))
		}
	}
	return most
}

func leanWords(lean string) string {
	switch lean {
	case value.Grey:
		return "too grey"
	case value.Strong:
		return "too strong"
	}
	return "too " + lean
}

// scrapToken names a scrap.
func scrapToken(key int) string { return fmt.Sprintf("s%d", key) }

// runCards are the colours of the plan's run that are not set aside, and how
// many more its source has.
func (p *Plan) runCards() (cards []RunCard, left int) {
	add := func(c *Card, token string) {
		if !slices.ContainsFunc(p.Run.Aside, func(a store.RunAside) bool { return a.Token == token }) {
			cards = append(cards, RunCard{Card: c, Token: token, Reads: c.ReadsAs()})
		}
	}
	switch p.Run.Source {
	case FromScraps:
		for _, s := range p.Scraps {
			add(freeCard(s.Name, colour.Lab{L: s.L, A: s.A, B: s.B}), scrapToken(s.Key))
		}
	case FromShelf:
		q := Query{Kind: p.Run.Kind, Text: p.Run.Text}
		words := strings.Fields(strings.ToLower(q.Text))
		for _, c := range p.Shelf.Cards {
			if (p.Run.Family == "" || string(c.Family) == p.Run.Family) && q.takes(c, words) {
				add(c, tokenOf(c))
			}
		}
	default:
		for _, t := range p.Tray {
			add(t.Card, TrayToken(t))
		}
	}
	if len(cards) > MostRun {
		left = len(cards) - MostRun
		cards = cards[:MostRun]
	}
	return cards, left
}

// sides names what lies to the left and to the right of the run: the hues it
// turns toward, clockwise and counter-clockwise, at its middle.
func (v *RunView) sides() {
	at := v.Run.At((v.Run.Low + v.Run.High) / 2)
	if at.Neutral() {
		return
	}
	for side, turn := range []float64{-30, 30} {
		v.Sides[side] = colour.TurnsToward(at, turnedBy(at, turn))
	}
}

// turnedBy turns a colour's OKLCh hue by degrees.
func turnedBy(c colour.Lab, turn float64) colour.Lab {
	ok := c.OKLCh()
	ok.H += turn
	return ok.Lab()
}

// steps are the wanted steps with what the shelf has for each, chosen in build
// order so that the step built first has the first choice.
func (v *RunView) steps(p *Plan, cards []RunCard) {
	k := p.Run.Steps
	if k == 0 {
		k = min(max(3, len(cards)-len(v.Run.Strays)), stepsAtFirst)
	}
	v.Build = value.BuildOrder(k, p.Run.Start)
	for _, c := range v.Run.Steps(k, p.Run.Seen) {
		v.Steps = append(v.Steps, StepView{Colour: c, Near: p.Shelf.Nearest(c, stepNear, 0)})
	}
	used := map[uint]bool{}
	for _, at := range v.Build {
		s := &v.Steps[at]
		if near := p.Shelf.NearestBut(s.Colour, 1, used); len(near) > 0 {
			s.Pick, s.Serves = &near[0], near[0].Apart <= fills
			used[near[0].ID] = true
		}
	}
}

// gaps are the run's jumps with what the shelf has for them.
func (v *RunView) gaps(p *Plan, cards []RunCard) {
	labs := make([]colour.Lab, len(cards))
	used := map[uint]bool{}
	for i, c := range cards {
		labs[i] = c.Reads
		used[c.ID] = true
	}
	for _, g := range v.Run.Gaps(labs) {
		want := v.Run.At((labs[g.Dark].L + labs[g.Light].L) / 2)
		gv := GapView{From: &cards[g.Dark], To: &cards[g.Light], By: g.By / 10, Colour: want, Chit: v.chit(want, g.By)}
		for _, n := range p.Shelf.NearestBut(want, gapNear, used) {
			if n.Apart <= fills {
				gv.Near = append(gv.Near, n)
			}
		}
		v.Gaps = append(v.Gaps, gv)
	}
	for _, c := range v.Run.Crowds(labs) {
		v.Crowds = append(v.Crowds, [2]*RunCard{&cards[c.Dark], &cards[c.Light]})
	}
}

// How near is near enough on a chit.
const (
	chitLeast = 3.0 // ΔE00
	chitMost  = 8.0
	chitShare = 0.25 // of the jump in L*
)

// chit says what to look for to fill a jump.
func (v *RunView) chit(want colour.Lab, jump float64) Chit {
	room := jump * chitShare
	c := Chit{Colour: want, Value: want.Value(), Family: colour.Family(want), Within: math.Round(math.Min(chitMost, math.Max(chitLeast, room))),
		Low: math.Max(0, (want.L-room)/10), High: math.Min(10, (want.L+room)/10)}
	if !want.Neutral() {
		for side, turn := range []float64{-30, 30} {
			c.Not[side] = colour.TurnsToward(want, turnedBy(want, turn))
		}
	}
	return c
}

// Near-white, in L* and C*ab.
const (
	nearWhiteL = 88.0
	nearWhiteC = 12.0
)

func (p *Plan) runNotes(v *RunView, cards []RunCard) []RunNote {
	var notes []RunNote
	add := func(id string, s balance.Severity, about, words string, args ...any) *RunNote {
		notes = append(notes, RunNote{Note: balance.Note{ID: id, Severity: s, About: about, Words: fmt.Sprintf(words, args...), Aside: -1}})
		return &notes[len(notes)-1]
	}
	switch {
	case len(cards) == 0:
		return nil
	case len(cards) == 1:
		add("run-one", balance.Consider, cards[0].Name, " is one card, and a run needs three: pull a darker and a lighter one.")
	case len(cards) == 2:
		r := colour.Beside(cards[0].Reads, cards[1].Reads)
		add("run-two", balance.Consider, cards[0].Name, " beside %s is %s", cards[1].Name, r.Words())
	case v.Run.High-v.Run.Low < 1 && v.allAlike(cards):
		add("run-alike", balance.Consider, "All of these", " are the same colour: there is no run in them.")
		return p.visibleRun(v, notes)
	}
	if v.Mixed {
		add("run-mixed", balance.Fine, "Several hues", " lie here, so they are read by value alone. A run of one family shows its strays.")
	} else if v.Fitted {
		p.strayNotes(v, cards, &notes)
	}
	if n := len(v.Run.Order); n > 1 {
		dark, light := cards[v.Run.Order[0]], cards[v.Run.Order[n-1]]
		add("run-range", balance.Fine, dark.Name, " is the darkest at %.1f and %s the lightest at %.1f.", dark.Reads.Value(), light.Name, light.Reads.Value())
	}
	for i := range v.Gaps {
		g := &v.Gaps[i]
		id := fmt.Sprintf("run-gap:%s:%s", g.From.Token, g.To.Token)
		about := fmt.Sprintf("A gap from %.1f to %.1f", g.From.Reads.Value(), g.To.Reads.Value())
		if v.Mixed {
			add(id, balance.Consider, g.From.Name, " to %s is a long jump, %.1f value steps: a card near %.1f would fill it.", g.To.Name, g.By, g.Chit.Value)
			continue
		}
		switch len(g.Near) {
		case 0:
			add(id, balance.Consider, about, " and nothing on the shelf for it: look for %s of value %.1f.", aFamily(g.Chit.Family), g.Chit.Value)
		case 1:
			add(id, balance.Consider, about, ": %s would fill it.", g.Near[0].Name).Near = g.Near
		default:
			add(id, balance.Consider, about, ": %s or %s would fill it.", g.Near[0].Name, g.Near[1].Name).Near = g.Near
		}
	}
	for i, c := range v.Crowds {
		if more := len(v.Crowds) - i; i == crowdsTold && more > 1 {
			add("run-crowds", balance.Consider, fmt.Sprintf("%d more pairs", more), " crowd: they are joined in the picture.")
			break
		}
		add(fmt.Sprintf("run-crowd:%s:%s", c[0].Token, c[1].Token), balance.Consider, c[0].Name, " and %s crowd: %.1f apart, and one step of the run would do.",
			c[1].Name, colour.DeltaE2000(c[0].Reads, c[1].Reads)).Token = c[1].Token
	}
	p.whiteNotes(v, cards, &notes)
	if k := p.Run.Steps; k > len(cards) && v.Fitted {
		add("run-steps", balance.Fine, fmt.Sprintf("%d steps", k), " are wanted of %d cards: the shelf fills the rest, nearest first.", len(cards))
	}
	if len(cards) > 1 && v.Checked.Contrast*10 < value.FlatBelow {
		add("run-flat", balance.Consider, "The whole run", " is only %.1f value steps: from a distance it will look flat.", v.Checked.Contrast)
	}
	if len(v.Run.Strays)+len(v.Gaps)+len(v.Crowds) == 0 && v.Fitted && !v.Mixed {
		add("run-clean", balance.Fine, "The run", " flows: no stray, no gap, no crowd.")
	}
	return p.visibleRun(v, notes)
}

func (v *RunView) allAlike(cards []RunCard) bool {
	for _, c := range cards[1:] {
		if colour.DeltaE2000(cards[0].Reads, c.Reads) >= 1 {
			return false
		}
	}
	return true
}

// strayNotes says what does not belong, and whether there are two runs.
func (p *Plan) strayNotes(v *RunView, cards []RunCard, notes *[]RunNote) {
	add := func(n balance.Note, token string) {
		n.Aside = -1
		*notes = append(*notes, RunNote{Note: n, Token: token})
	}
	if v.Run.Neutral {
		words := " are neutrals without a lean."
		if u := v.Run.Undertone; u != "" {
			words = fmt.Sprintf(" are neutrals with an undertone of %s.", u)
		}
		add(balance.Note{ID: "run-neutral", Severity: balance.Fine, About: "These", Words: words}, "")
		for _, i := range v.Run.Order {
			if u := cards[i].Reads.Undertone(); u != "" && v.Run.Undertone != "" && u != v.Run.Undertone && cards[i].Reads.Chroma() >= 2 {
				add(balance.Note{ID: "run-undertone:" + cards[i].Token, Severity: balance.Consider, About: cards[i].Name,
					Words: fmt.Sprintf(" has an undertone of %s among others of %s.", u, v.Run.Undertone)}, cards[i].Token)
			}
		}
		return
	}
	second := map[int]bool{}
	if v.Run.Second != nil {
		var names []string
		for _, i := range v.Run.Second {
			second[i] = true
			names = append(names, cards[i].Name)
		}
		at := cards[v.Run.Second[len(v.Run.Second)/2]]
		add(balance.Note{ID: "run-second", Severity: balance.Consider, About: "There are two runs here",
			Words: fmt.Sprintf(": %s make one of their own, toward %s. Set them aside, or plan them as a run by themselves.", joinWords(names), colour.Family(at.Reads))}, "")
	}
	for _, s := range v.Run.Strays {
		if second[s.Index] {
			continue
		}
		c := cards[s.Index]
		n := balance.Note{ID: "run-stray:" + c.Token, Severity: balance.Fix, About: c.Name}
		switch s.Lean {
		case value.Grey:
			n.Words = fmt.Sprintf(" is greyer than its neighbours by %.0f.", -s.Radial)
		case value.Strong:
			n.Words = fmt.Sprintf(" is stronger than its neighbours by %.0f.", s.Radial)
		default:
			n.Words = fmt.Sprintf(" leans %s by %.0f°.", s.Lean, math.Abs(c.Offset.Turn))
		}
		add(n, c.Token)
	}
}

// whiteNotes tells how near-whites read beside their darker neighbour.
func (p *Plan) whiteNotes(v *RunView, cards []RunCard, notes *[]RunNote) {
	for at, i := range v.Run.Order {
		c := cards[i]
		if at == 0 || c.Reads.L < nearWhiteL || c.Reads.Chroma() >= nearWhiteC || c.Lean != "" {
			continue
		}
		under := c.Reads.Undertone()
		below := cards[v.Run.Order[at-1]]
		n := balance.Note{ID: "run-white:" + c.Token, Severity: balance.Fine, Aside: -1, About: c.Name}
		switch {
		case under == "":
			n.Words = fmt.Sprintf(" is near-white without a lean: beside %s it reads white.", below.Name)
		case !below.Reads.Neutral() && math.Abs(colour.HueBetween(c.Reads.OKLCh().H, below.Reads.OKLCh().H)) < 40:
			n.Words = fmt.Sprintf(" is barely %s, but beside %s it reads %s.", under, below.Name, colour.Family(below.Reads))
		default:
			n.Words = fmt.Sprintf(" is near-white and leans %s: beside %s it will show.", under, below.Name)
		}
		*notes = append(*notes, RunNote{Note: n})
	}
}

func aFamily(f colour.FamilyName) string {
	if strings.ContainsRune("aeiou", rune(f[0])) {
		return "an " + string(f)
	}
	return "a " + string(f)
}

// visibleRun leaves out the notes that the maker hid.
func (p *Plan) visibleRun(v *RunView, notes []RunNote) []RunNote {
	if n, ok := p.contrastNote(p.Limits()); ok && (p.Run.Source == "" || p.Run.Source == FromTray) {
		notes = append(notes, RunNote{Note: n})
	}
	shown := slices.DeleteFunc(slices.Clone(notes), func(n RunNote) bool { return slices.Contains(p.Dismissed, n.ID) })
	v.Hidden = len(notes) - len(shown)
	slices.SortStableFunc(shown, func(a, b RunNote) int { return cmp.Compare(severity(a.Severity), severity(b.Severity)) })
	return shown
}

func severity(s balance.Severity) int {
	return map[balance.Severity]int{balance.Fix: 0, balance.Consider: 1, balance.Fine: 2}[s]
}

// soundRun refuses a run that cannot be.
func soundRun(r *store.Run) error {
	switch {
	case !slices.Contains([]string{"", FromTray, FromScraps, FromShelf}, r.Source):
		return refuse("A run is made from the tray, the scrap page or the shelf.")
	case r.Start != "" && !slices.Contains(value.Starts(), r.Start):
		return refuse("A run starts from the dark end, the light end or the middle.")
	case r.Steps < 0 || r.Steps > MostSteps:
		return refuse("Ask for 1 to %d steps, or leave it empty.", MostSteps)
	case len(r.Aside) > MostRun:
		return refuse("%d cards are set aside: put some back first.", len(r.Aside))
	}
	return nil
}

// RunFrom chooses where the run's colours come from; of the shelf, which.
func RunFrom(source, family, kind, text string) Edit {
	return func(d *draft) (string, error) {
		r := &d.plan.Run
		r.Source, r.Family, r.Kind, r.Text = source, "", "", ""
		if source == FromShelf {
			r.Family, r.Kind, r.Text = family, kind, strings.TrimSpace(text)
		}
		return "make the run from the " + source, nil
	}
}

// RunSteps asks for so many steps, 0 for as many as suit, even in value or as
// seen, built from an end or the middle.
func RunSteps(steps int, start string, seen bool) Edit {
	return func(d *draft) (string, error) {
		d.plan.Run.Steps, d.plan.Run.Start, d.plan.Run.Seen = steps, start, seen
		return "change the steps of the run", nil
	}
}

// LeaveOut sets a colour of the run aside, for a reason: the maker's, or what
// the run says of it.
func LeaveOut(token, reason string) Edit {
	return func(d *draft) (string, error) {
		p, err := d.studio.furnish(*d.plan, d.shelf)
		if err != nil {
			return "", err
		}
		v := p.Values("")
		at := slices.IndexFunc(v.Cards, func(c RunCard) bool { return c.Token == token })
		if at < 0 {
			return "", refuse("That card is no longer in the run.")
		}
		c := v.Cards[at]
		if reason = strings.Join(strings.Fields(reason), " "); reason == "" {
			reason = c.Words
		}
		if reason == "" {
			reason = "set aside by hand"
		}
		if len([]rune(reason)) > maxRemark {
			return "", refuse("The reason is longer than %d characters: shorten it.", maxRemark)
		}
		d.plan.Run.Aside = append(d.plan.Run.Aside, store.RunAside{Token: token, Name: c.Name, Reason: reason, L: c.Reads.L, A: c.Reads.A, B: c.Reads.B})
		return "set " + c.Name + " aside from the run", nil
	}
}

// PutBack takes a colour back into the run.
func PutBack(token string) Edit {
	return func(d *draft) (string, error) {
		at := slices.IndexFunc(d.plan.Run.Aside, func(a store.RunAside) bool { return a.Token == token })
		if at < 0 {
			return "", refuse("That card is not set aside.")
		}
		name := d.plan.Run.Aside[at].Name
		d.plan.Run.Aside = slices.Delete(d.plan.Run.Aside, at, at+1)
		return "put " + name + " back into the run", nil
	}
}

// MakeStrips makes the run a strip piece: its cards, dark to light, in a strip
// each, strays left out. Cards that are not in the tray come into it.
func MakeStrips() Edit {
	return func(d *draft) (string, error) {
		p, err := d.studio.furnish(*d.plan, d.shelf)
		if err != nil {
			return "", err
		}
		var run []RunCard
		for _, c := range p.Values("").Cards {
			if c.Lean == "" {
				run = append(run, c)
			}
		}
		const fewest, most = 3, 12
		if len(run) < fewest || len(run) > most {
			return "", refuse("A strip piece takes %d to %d cards and the run has %d: set some aside, or pull more.", fewest, most, len(run))
		}
		var keys []int
		for _, c := range run {
			if err := d.take(c.Card); err != nil {
				return "", err
			}
			at := slices.IndexFunc(d.plan.Entries, func(e store.Entry) bool {
				return e.MaterialID != nil && *e.MaterialID == c.ID || e.MaterialID == nil && c.ID == 0 && e.Name == c.Name && e.L == c.Colour.L
			})
			keys = append(keys, d.plan.Entries[at].Key)
		}
		if _, err := ChoosePiece("strips", map[string]float64{"strips": float64(len(run))})(d); err != nil {
			return "", err
		}
		for i, key := range keys {
			if _, err := Fill(fmt.Sprintf("strip%d", i+1), key)(d); err != nil {
				return "", err
			}
		}
		return "make the run a strip piece", nil
	}
}
