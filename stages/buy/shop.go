package buy

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"

	"lampfern/core/balance"
	"lampfern/core/colour"
	"lampfern/core/value"
	"lampfern/core/words"
	"lampfern/plan"
)

// ShopView is what a bolt or a skein in a shop would be in a plan.
type ShopView struct {
	Colour colour.Lab
	Known  bool // a colour was given
	Cards  []ShopCard
	As     *ShopCard // the card that it would stand for
	Step   string    // where it would come among the cards from dark to light
	Strays string    // from the run of its hue, as a sentence; empty where there is none
	Does   []string  // on the piece
}

// ShopCard is a card of the plan beside what is in the shop.
type ShopCard struct {
	Key    int
	Name   string
	Colour colour.Lab
	Apart  float64
	Words  string // how it differs from the card
}

// ShopText reads a colour as # and six digits, or as L*, a* and b*.
func ShopText(text string) (colour.Lab, error) {
	var c colour.Lab
	if n, err := fmt.Sscan(text, &c.L, &c.A, &c.B); n == 3 && err == nil && c.Check() == nil {
		return c, nil
	}
	rgb, err := colour.ParseHex(text)
	if err != nil {
		return c, words.Refuse("Write the colour as # and six digits, or as L*, a* and b* with spaces between, such as 48 -26 -4.")
	}
	return rgb.Lab(), nil
}

// hasHue is the C*ab from which a colour has a hue that can be told.
const hasHue = 8.0

// AtTheShop says which card of the plan a colour would be, how it strays among them, and
// what it would do on the piece in the place of one, which is the nearest where key is 0.
func AtTheShop(p *plan.Plan, c colour.Lab, key int) *ShopView {
	v := &ShopView{Colour: c, Known: true}
	for _, t := range p.Tray {
		if t.Given {
			continue // nothing is bought in its place
		}
		v.Cards = append(v.Cards, ShopCard{t.Key, t.Name, t.Colour, colour.DeltaE2000(t.Colour, c), colour.Beside(c, t.Colour).Words()})
	}
	if len(v.Cards) == 0 {
		return v
	}
	slices.SortStableFunc(v.Cards, func(a, b ShopCard) int { return cmp.Compare(a.Apart, b.Apart) })
	at := max(0, slices.IndexFunc(v.Cards, func(s ShopCard) bool { return s.Key == key }))
	v.As = &v.Cards[at]
	if v.Cards[0].Apart > noneOf {
		v.As.Words = fmt.Sprintf("unlike any card of the plan. Compared with %s it is %s", v.As.Name, v.As.Words)
	}
	others := slices.DeleteFunc(slices.Clone(v.Cards), func(s ShopCard) bool { return s.Key == v.As.Key })
	v.Step, v.Strays = stepOf(others, c), straysAs(others, c)
	if p.Piece != nil {
		v.does(p, v.As.Key)
	}
	return v
}

// stepOf says where a colour comes among cards from dark to light.
func stepOf(cards []ShopCard, c colour.Lab) string {
	run := slices.Clone(cards)
	slices.SortStableFunc(run, func(a, b ShopCard) int { return cmp.Compare(a.Colour.L, b.Colour.L) })
	at := 0
	for at < len(run) && run[at].Colour.L < c.L {
		at++
	}
	switch {
	case len(run) == 0:
		return ""
	case at == 0:
		return fmt.Sprintf("It is darker than all other cards of the plan; the next is %s, by %.1f.", run[0].Name, (run[0].Colour.L-c.L)/10)
	case at == len(run):
		return fmt.Sprintf("It is lighter than all other cards of the plan; the next is %s, by %.1f.", run[at-1].Name,
			(c.L-run[at-1].Colour.L)/10)
	}
	a, b := run[at-1], run[at]
	return fmt.Sprintf("From dark to light it comes between %s and %s, as step %d of %d.", a.Name, b.Name, at+1, len(run)+1)
}

// straysAs says how a colour strays from the run of those cards that are of its hue, by
// the rule that finds strays in any run; empty where it does not, or they are no run.
func straysAs(cards []ShopCard, c colour.Lab) string {
	var run []colour.Lab
	var dark, light ShopCard
	for _, s := range cards {
		if !alike(s.Colour, c) {
			continue
		}
		if len(run) == 0 || s.Colour.L < dark.Colour.L {
			dark = s
		}
		if len(run) == 0 || s.Colour.L > light.Colour.L {
			light = s
		}
		run = append(run, s.Colour)
	}
	fit, err := value.Fit(append(run, c))
	if err != nil || len(run) < leastRun {
		return ""
	}
	in := fmt.Sprintf("In the run of %d cards of its hue, from %s to %s, it is ", len(run), dark.Name, light.Name)
	for _, s := range fit.Strays {
		if s.Index != len(run) {
			continue
		}
		switch s.Lean {
		case value.Grey:
			return in + "too grey."
		case value.Strong:
			return in + "too strong."
		}
		return in + "too " + s.Lean + "."
	}
	return in + "one of them: it does not stray."
}

// noneOf is how far from a card a colour is no longer taken for it, in ΔE00.
const noneOf = 15.0

// leastRun is how many cards make a run to stray from.
const leastRun = 3

// oneRun is how far two hues of one run may lie apart, in degrees.
const oneRun = 60.0

// alike reports whether two colours can stand in one run.
func alike(a, b colour.Lab) bool {
	return a.Chroma() >= hasHue && b.Chroma() >= hasHue && math.Abs(colour.HueBetween(a.OKLCh().H, b.OKLCh().H)) <= oneRun
}

// does says what the piece does with the colour in the place of a card.
func (v *ShopView) does(p *plan.Plan, key int) {
	at := slices.IndexFunc(p.Tray, func(t plan.TrayCard) bool { return t.Key == key })
	if at < 0 || p.Tray[at].Share == 0 {
		v.Does = append(v.Does, "That card is not on the piece.")
		return
	}
	layout, before := p.Layout(), p.Colours()
	after := slices.Clone(before)
	labs := p.Labs()
	labs[at] = v.Colour
	after[at].Lab = v.Colour
	lead := func(c []colour.Lab) (string, float64) {
		pulls := balance.FirstLook(layout, c)
		if len(pulls) < 2 || pulls[1].Pull == 0 {
			return p.Tray[pulls[0].Part].Name, 0
		}
		return p.Tray[pulls[0].Part].Name, pulls[0].Pull / pulls[1].Pull
	}
	was, _ := lead(p.Labs())
	now, by := lead(labs)
	switch {
	case now == was && by > 0:
		v.Does = append(v.Does, fmt.Sprintf("%s is still the focal point (%.1f times the next).", now, by))
	case now != was:
		v.Does = append(v.Does, fmt.Sprintf("The focal point would be %s instead of %s.", now, was))
	}
	lost := func(c []balance.Colour) (out []string) {
		for _, n := range balance.Notes(layout, c) {
			if strings.HasPrefix(n.ID, "lost:") {
				out = append(out, n.ID)
			}
		}
		return out
	}
	old := lost(before)
	for _, n := range balance.Notes(layout, after) {
		if strings.HasPrefix(n.ID, "lost:") && !slices.Contains(old, n.ID) {
			v.Does = append(v.Does, n.About+n.Words)
		}
	}
	if len(lost(after)) < len(old) {
		v.Does = append(v.Does, "Fewer edges would disappear than now.")
	}
	if len(lost(after)) == len(old) {
		v.Does = append(v.Does, "No more edges would disappear than now.")
	}
}
