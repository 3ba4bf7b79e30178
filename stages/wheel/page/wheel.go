package page

import (
	"fmt"
	"html"
	"html/template"
	"net/url"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"lampfern/core/wheel"
	"lampfern/core/words"
	"lampfern/draw"
	"lampfern/shelf"
	stage "lampfern/stages/wheel"
	"lampfern/web"
)

// freeLeaves offers the tints, tones and shades of a place as free colours,
// clear ones first.
func freeLeaves(p *web.Page, l stage.PlaceView) template.HTML {
	var out strings.Builder
	for _, clear := range []bool{true, false} {
		for _, leaf := range l.Ideals {
			if leaf.Clear != clear {
				continue
			}
			act := url.Values{"do": {"free"}, "place": {strconv.FormatFloat(l.Place, 'f', -1, 64)}, "step": {strconv.Itoa(leaf.Step)}}
			class := "free greyed"
			if clear {
				act.Set("clear", "1")
				class = "free"
			}
			words := fmt.Sprintf("%s, value %.1f, clearness %.0f%%", shelf.IdealName(l.Name, leaf.Step, clear), leaf.Ideal.Value(),
				100*leaf.Clearness)
			fmt.Fprintf(&out, `<button form="change" name="act" value="%s" class="%s" style="%s" title="Take %s"></button>`,
				html.EscapeString(act.Encode()), class, p.View.Paint(leaf.Ideal), words)
		}
	}
	return template.HTML(out.String())
}

// placed is a lit place with the page it stands on.
type placed struct {
	litPlace
	Page *web.Page
}

func placeOf(p *web.Page, l litPlace) placed { return placed{l, p} }

// nudgeStep is how far one press moves a place, in degrees of the wheel.
const nudgeStep = 5.0

// Back and On are where the place would be moved to.
func (l litPlace) Back() float64 { return l.Nudge - nudgeStep }

// On is where the place would be moved on to.
func (l litPlace) On() float64 { return l.Nudge + nudgeStep }

// schemeChoice is one scheme of the list, with the forms it has.
type schemeChoice struct {
	Name, Words string
	On          bool
}

type wheelBody struct {
	stage.WheelView
	Picture draw.Scene
	Schemes []schemeChoice
	Lit     []litPlace
	Counts  []int // 2 to 5, for an analogous scheme
	Wheels  []web.Choice
	Schools []web.Choice
	Clear   []web.Choice // what clear colours do together
	Places  []placeRow
	Neutral bool // the light starts from a colour without a hue
}

// litPlace is a lit place as the notes panel shows it: the best few at once.
type litPlace struct {
	stage.PlaceView
	First, More []*shelf.Card
	Rest        int // matches beyond those
}

// placeRow is a row of the table of places, which says what the wheel shows.
type placeRow struct {
	Name   string
	Owned  int
	Leaves int
	Lit    string
	Cards  string // a few by name
}

// matchesShown is how many matches a place shows at once, matchesMore how many
// it opens to.
const (
	matchesShown = 4
	matchesMore  = 10
)

func wheelStage(c *gin.Context, p *web.Page) error {
	// While the light is dragged the page asks what another turn would show.
	if turn, err := strconv.Atoi(c.Query("turn")); err == nil {
		stage.Of(p.Plan).Turn = int(wheel.Turn(float64(turn), 0))
	}
	v, err := stage.Wheel(p.Plan)
	if err != nil {
		return err
	}
	b := wheelBody{WheelView: v, Picture: draw.Wheel(lit(web.PlanWheel(c, p, v.Fronds), v)), Counts: []int{2, 3, 4, 5}}
	for _, sc := range wheel.Schemes() {
		b.Schemes = append(b.Schemes, schemeChoice{sc.Name, sc.Words, sc.Name == v.Scheme})
	}
	for _, w := range wheel.Wheels() {
		b.Wheels = append(b.Wheels, web.Choice{Key: w.Key, Name: w.Key, Words: w.Title, On: w.Key == v.Wheel.Key})
	}
	for _, sc := range wheel.Schools() {
		b.Schools = append(b.Schools, web.Choice{Key: sc.Key, Name: schoolNames[sc.Key], Words: sc.Words, On: sc.Key == v.School.Key})
	}
	for _, c := range [][3]string{{"", "usual", "Bright colours compete, except in a triad, a square or a playful mood"},
		{"lively", "lively", "Bright colours together are wanted and never compete"},
		{"compete", "compete", "Bright colours compete unless they are neighbours or opposites"}} {
		b.Clear = append(b.Clear, web.Choice{Key: c[0], Name: c[1], Words: c[2], On: c[0] == stage.Of(p.Plan).ClearPairs})
	}
	b.Neutral = v.Start != nil && v.Start.Neutral
	for _, l := range v.Lit {
		n := min(matchesShown, len(l.Matches))
		all := min(matchesMore, len(l.Matches))
		b.Lit = append(b.Lit, litPlace{l, l.Matches[:n], l.Matches[n:all], len(l.Matches) - all})
	}
	b.Places = placeRows(v)
	p.Notes, p.Body = v.Notes, b
	p.Sub = wheelSub(p, v)
	return nil
}

// lit lights a wheel.
func lit(w draw.WheelPicture, v stage.WheelView) draw.WheelPicture {
	for _, l := range v.Lit {
		w.Lit = append(w.Lit, draw.LitPlace{Place: l.Place, Lead: l.IsLead, Off: l.Off})
	}
	w.WarmFrom, w.WarmSpan = v.School.Arc(v.Wheel)
	return w
}

// schoolNames are the ways of dividing warm from cool, short.
var schoolNames = map[string]string{"to-green": "yellow-green", "to-violet": "red-violet", "relative": "don’t divide"}

func wheelSub(p *web.Page, v stage.WheelView) string {
	start := v.Start
	switch {
	case start == nil:
		return "No lead colour yet. Choose one on Gather, or choose a scheme"
	case v.Scheme == "":
		return "Lead colour: " + start.Name + ". Choose a scheme"
	case start.Neutral:
		return fmt.Sprintf("%s from %s", words.Capital(v.Scheme), v.Wheel.Describe(v.LeadPlace))
	case v.Turned:
		return fmt.Sprintf("%s from %s, turned away from %s", words.Capital(v.Scheme), v.Wheel.Describe(v.LeadPlace), start.Name)
	}
	return fmt.Sprintf("%s from %s, %s", words.Capital(v.Scheme), start.Name, v.Wheel.Describe(v.LeadPlace))
}

// placeRows are the twelve places of the wheel, and between them the lit ones.
func placeRows(v stage.WheelView) []placeRow {
	const most = 6
	var rows []placeRow
	for i, f := range v.Fronds {
		r := placeRow{Name: f.Name, Leaves: len(f.Leaflets), Lit: "no"}
		all := 0
		var names []string
		for _, l := range f.Leaflets {
			if len(l.Cards) > 0 {
				r.Owned++
				for _, cd := range l.Cards[:min(most, len(l.Cards))] {
					names = append(names, cd.Name)
				}
				all += len(l.Cards)
			}
		}
		for _, l := range v.Lit {
			if wheel.Apart(l.Place, float64(i)) > 0.5 {
				continue
			}
			switch {
			case l.Off:
				r.Lit = "skipped"
			case l.IsLead:
				r.Lit = "lead"
			case r.Lit != "lead":
				r.Lit = "yes"
			}
			if l.Name != f.Name {
				r.Lit += ", " + l.Name
			}
		}
		names = names[:min(most, len(names))]
		r.Cards = strings.Join(names, ", ")
		switch {
		case all == 0:
			r.Cards = "nothing"
		case all > len(names):
			r.Cards += fmt.Sprintf(" and %d more", all-len(names))
		}
		rows = append(rows, r)
	}
	return rows
}

// palettes are the combinations that were saved, for the ribbon.
func palettes(_ *gin.Context, p *web.Page) (out []web.RibbonPiece, err error) {
	for _, v := range stage.Tried(p.Plan) {
		one := web.RibbonPiece{Words: words.Capital(v.Scheme), Use: fmt.Sprintf("do=take-tried&key=%d", v.Key)}
		if v.Remark != "" {
			one.Words += ": " + v.Remark
		}
		for _, c := range v.Cards {
			one.Bands = append(one.Bands, c.Colour)
		}
		out = append(out, one)
	}
	return out, nil
}
