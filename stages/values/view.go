package values

import (
	"fmt"
	"math"
	"slices"

	"lampfern/core/colour"
	"lampfern/core/note"
	"lampfern/core/value"
	"lampfern/plan"
	"lampfern/shelf"
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
	strayShare   = 3   // one stray in so many colours,
	mixedFrom    = 100 // and hues so many degrees apart: a palette and no run
)

// RunCard is one colour of a run. Its token names it.
type RunCard struct {
	*shelf.Card
	Token  string
	Reads  colour.Lab // what it takes part with: a print's mean, else its colour
	Offset value.Offset
	Lean   string // of a stray, empty when it belongs
	Words  string // what is said of a stray on the drawing, such as "too grey"
}

// RunNote is a note on a run. Token names the card it would set aside, Near are
// cards of the shelf that would mend it.
type RunNote struct {
	note.Note
	Token string
	Near  []shelf.Near
}

// StepView is one wanted step of a run.
type StepView struct {
	Colour colour.Lab
	Pick   *shelf.Near  // the nearest card not used by a step built before; nil for an empty shelf
	Near   []shelf.Near // alternatives, nearest first
	Serves bool         // the pick is near enough
}

// GapView is a jump in the run that something should fill.
type GapView struct {
	From, To *RunCard
	By       float64 // value steps
	Colour   colour.Lab
	Near     []shelf.Near // cards of the shelf that would fill it, empty when none is near enough
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

// strayFrom is of how many cards on one can be a stray: of three nobody can tell which.
const strayFrom = 4

// Values works out the values stage. without names a colour left out for
// now, empty for none.
func Values(p *plan.Plan, without string) RunView {
	v := RunView{}
	cards, left := runCards(p)
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
	if len(cards) < strayFrom {
		run.Strays = nil
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
	v.Notes = runNotes(p, &v, cards)
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
func runCards(p *plan.Plan) (cards []RunCard, left int) {
	add := func(c *shelf.Card, token string) {
		if !slices.ContainsFunc(Of(p).Run.Aside, func(a RunAside) bool { return a.Token == token }) {
			cards = append(cards, RunCard{Card: c, Token: token, Reads: c.ReadsAs()})
		}
	}
	switch Of(p).Run.Source {
	case FromScraps:
		for _, s := range p.Scraps {
			add(shelf.FreeCard(s.Name, colour.Lab{L: s.L, A: s.A, B: s.B}), scrapToken(s.Key))
		}
	case FromShelf:
		keep := runQuery(p).Keep()
		for _, c := range offers(p).Cards() {
			if keep(c) {
				add(c, shelf.TokenOf(c))
			}
		}
	default:
		for _, t := range p.Tray {
			add(t.Card, plan.TrayToken(t))
		}
	}
	if len(cards) > MostRun {
		left = len(cards) - MostRun
		cards = cards[:MostRun]
	}
	return cards, left
}

// runQuery is what the shelf is asked for where the run is of the shelf.
func runQuery(p *plan.Plan) shelf.Query {
	r := Of(p).Run
	return shelf.Query{Family: r.Family, Kind: r.Kind, Text: r.Text}
}

// offers is what may serve for a step: of a run of the shelf only what the run is of, of
// another what is offered to the plan.
func offers(p *plan.Plan) *shelf.Offer {
	q := runQuery(p)
	if Of(p).Run.Source != FromShelf {
		return p.Offers()
	}
	keep := q.Keep()
	if q.Kind != "" { // which says more than what the plan is made of
		return p.Shelf.Offer([]string{q.Kind}, nil).Only(keep)
	}
	return p.Offers().Only(keep)
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
func (v *RunView) steps(p *plan.Plan, cards []RunCard) {
	k := Of(p).Run.Steps
	if k == 0 {
		k = min(max(3, len(cards)-len(v.Run.Strays)), stepsAtFirst)
	}
	v.Build = value.BuildOrder(k, Of(p).Run.Start)
	from := offers(p)
	for _, c := range v.Run.Steps(k, Of(p).Run.Seen) {
		v.Steps = append(v.Steps, StepView{Colour: c, Near: from.Nearest(c, stepNear, 0)})
	}
	used := map[uint]bool{}
	for _, at := range v.Build {
		s := &v.Steps[at]
		if near := from.NearestBut(s.Colour, 1, used); len(near) > 0 {
			s.Pick, s.Serves = &near[0], near[0].Apart <= fills
			used[near[0].ID] = true
		}
	}
}

// gaps are the run's jumps with what the shelf has for them.
func (v *RunView) gaps(p *plan.Plan, cards []RunCard) {
	labs := make([]colour.Lab, len(cards))
	used := map[uint]bool{}
	from := offers(p)
	for i, c := range cards {
		labs[i] = c.Reads
		used[c.ID] = true
	}
	for _, g := range v.Run.Gaps(labs) {
		want := v.Run.At((labs[g.Dark].L + labs[g.Light].L) / 2)
		gv := GapView{From: &cards[g.Dark], To: &cards[g.Light], By: g.By / 10, Colour: want, Chit: v.chit(want, g.By)}
		for _, n := range from.NearestBut(want, gapNear, used) {
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
	c := Chit{Colour: want, Value: want.Value(), Family: colour.Family(want),
		Within: math.Round(math.Min(chitMost, math.Max(chitLeast, room))),
		Low:    math.Max(0, (want.L-room)/10), High: math.Min(10, (want.L+room)/10)}
	if !want.Neutral() {
		for side, turn := range []float64{-30, 30} {
			c.Not[side] = colour.TurnsToward(want, turnedBy(want, turn))
		}
	}
	return c
}
