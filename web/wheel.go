package web

import (
	"fmt"
	"net/http"
	"net/url"
	"slices"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"lampfern/core/brief"
	"lampfern/core/colour"
	"lampfern/core/wheel"
	"lampfern/draw"
	"lampfern/studio"
)

// schemeChoice is one scheme of the list, with the forms it has.
type schemeChoice struct {
	Name, Words string
	On          bool
}

type wheelBody struct {
	studio.WheelView
	Picture  draw.Scene
	Schemes  []schemeChoice
	Lit      []litPlace
	Counts   []int // 2 to 5, for an analogous scheme
	Wheels   []choice
	Schools  []choice
	Places   []placeRow
	Pair     string // how the two cards of the bridge read beside one another
	Neutral  bool   // the light starts from a colour without a hue
	Combined int    // combinations kept
	Asked    [2]int // cards asked to be brought together, by key
}

// litPlace is a lit place as the notes panel shows it: the best few at once.
type litPlace struct {
	studio.PlaceView
	First, More []*studio.Card
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

// pairAsked are the two cards of the tray that the address names, by key.
func pairAsked(c *gin.Context) (pair [2]int) {
	for i, k := range []string{"a", "b"} {
		pair[i], _ = strconv.Atoi(c.Query(k))
	}
	return pair
}

func wheelStage(c *gin.Context, p *page) error {
	// While the light is dragged the page asks what another turn would show.
	if turn, err := strconv.Atoi(c.Query("turn")); err == nil {
		p.Plan.Turn = int(wheel.Turn(float64(turn), 0))
	}
	asked := pairAsked(c)
	if asked != [2]int{} {
		p.Path += "?" + url.Values{"a": {strconv.Itoa(asked[0])}, "b": {strconv.Itoa(asked[1])}}.Encode()
	}
	v, err := p.Plan.Wheel(asked)
	if err != nil {
		return err
	}
	b := wheelBody{WheelView: v, Picture: draw.Wheel(planWheel(c, p, v.Fronds, &v)), Counts: []int{2, 3, 4, 5}, Asked: asked, Combined: len(p.Plan.Combinations)}
	for _, sc := range wheel.Schemes() {
		b.Schemes = append(b.Schemes, schemeChoice{sc.Name, sc.Words, sc.Name == v.Scheme})
	}
	for _, w := range wheel.Wheels() {
		b.Wheels = append(b.Wheels, choice{Key: w.Key, Name: w.Key, Words: w.Title, On: w.Key == v.Wheel.Key})
	}
	for _, sc := range wheel.Schools() {
		b.Schools = append(b.Schools, choice{Key: sc.Key, Name: schoolNames[sc.Key], Words: sc.Words, On: sc.Key == v.School.Key})
	}
	b.Neutral = v.Start != nil && v.Start.Neutral
	if br := v.Bridge; br != nil {
		b.Pair = fmt.Sprintf("%s beside %s: %s", br.A.Name, br.B.Name, colour.Beside(br.A.Colour, br.B.Colour).Words())
	}
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

// schoolNames are the ways of dividing warm from cool, short.
var schoolNames = map[string]string{"to-green": "green", "to-violet": "violet", "relative": "neither"}

func wheelSub(p *page, v studio.WheelView) string {
	start := v.Start
	switch {
	case start == nil:
		return "No lead colour yet: choose one on Gather, or light a scheme from a place"
	case v.Scheme == "":
		return "Lead colour " + start.Name + ": light a scheme"
	case start.Neutral:
		return fmt.Sprintf("%s from %s", capital(v.Scheme), v.Wheel.Describe(v.LeadPlace))
	case v.Turned:
		return fmt.Sprintf("%s from %s, turned away from %s", capital(v.Scheme), v.Wheel.Describe(v.LeadPlace), start.Name)
	}
	return fmt.Sprintf("%s from %s, %s", capital(v.Scheme), start.Name, v.Wheel.Describe(v.LeadPlace))
}

// placeRows are the twelve places of the wheel, and between them the lit ones.
func placeRows(v studio.WheelView) []placeRow {
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
				r.Lit = "turned off"
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
			r.Cards += fmt.Sprintf(" and %d others", all-len(names))
		}
		rows = append(rows, r)
	}
	return rows
}

// wheelKey names the fronds as a page shows them.
func wheelKey(p *page, l brief.Limits) string {
	lead := uint(0)
	if p.Plan.Lead != nil {
		lead = p.Plan.Lead.ID
	}
	return fmt.Sprintf("%s.%s.%s.%d.%v", p.Plan.Shelf.Key(), p.View.cookie(), p.Plan.OnWheel().Key, lead, l)
}

// planWheel hands a plan's wheel to draw; fronds that the asking page shows
// already are left out. v is nil where no scheme is shown.
func planWheel(c *gin.Context, p *page, fronds [wheel.Places]studio.Frond, v *studio.WheelView) draw.WheelPicture {
	limits := p.Plan.Limits()
	key := wheelKey(p, limits)
	var w draw.WheelPicture
	if c.GetHeader(partHeader) != "" && c.GetHeader(haveHeader) == key {
		w = draw.WheelPicture{Light: p.View.Light, Same: true}
	} else {
		w = wheelPicture(p.View.Light, fronds, p.Plan.Lead, limits)
	}
	w.Key = key
	if v != nil {
		for _, l := range v.Lit {
			w.Lit = append(w.Lit, draw.LitPlace{Place: l.Place, Lead: l.IsLead, Off: l.Off})
		}
		w.WarmFrom, w.WarmSpan = v.School.Arc(v.Wheel)
	}
	if lead := p.Plan.Lead; lead != nil {
		w.Lead, w.LeadName = &lead.Colour, lead.Name
	}
	return w
}

// wheelPicture hangs fronds for draw; lead is nil where no colour leads.
func wheelPicture(light draw.Light, fronds [wheel.Places]studio.Frond, lead *studio.Card, limits brief.Limits) draw.WheelPicture {
	w := draw.WheelPicture{Light: light, LeadFrond: -1, LeadLeaf: -1}
	for i, f := range fronds {
		wf := draw.WheelFrond{Name: f.Name}
		for j, l := range f.Leaflets {
			leaf := leaflet(f.Name, l, limits)
			for _, cd := range l.Cards {
				if lead != nil && lead.ID != 0 && cd.ID == lead.ID {
					leaf.Owned, leaf.Title = &cd.Colour, leafTitle(cd, len(l.Cards))
					w.LeadFrond, w.LeadLeaf = i, j
				}
			}
			wf.Leaflets = append(wf.Leaflets, leaf)
		}
		w.Fronds = append(w.Fronds, wf)
	}
	return w
}

// leaflet shows a material within the brief where there is one, any other else,
// and the colour wanted where there is none.
func leaflet(frond string, l studio.Leaflet, limits brief.Limits) draw.WheelLeaflet {
	side := "greyed"
	if l.Clear {
		side = "clear"
	}
	leaf := draw.WheelLeaflet{Ideal: l.Ideal, Title: fmt.Sprintf("%s, %s, %s: nothing on the shelf", capital(frond), studio.BandNames[l.Band], side)}
	asks := limits.Ask()
	why := ""
	if asks {
		why = limits.OutsideAs(l.Ideal, l.Clearness, l.Family)
	}
	if len(l.Cards) > 0 {
		shown := l.Cards[0]
		if asks {
			within := slices.IndexFunc(l.Cards, func(cd *studio.Card) bool { return limits.OutsideAs(cd.Colour, cd.Clearness, cd.Family) == "" })
			if within >= 0 {
				shown = l.Cards[within]
			}
			why = limits.OutsideAs(shown.Colour, shown.Clearness, shown.Family)
		}
		leaf.Owned, leaf.Title = &shown.Colour, leafTitle(shown, len(l.Cards))
	}
	if why != "" {
		leaf.Shaded = true
		leaf.Title += " (outside the brief: " + why + ")"
	}
	return leaf
}

func leafTitle(c *studio.Card, all int) string {
	if all > 1 {
		return fmt.Sprintf("%s and %d more", c.Name, all-1)
	}
	return c.Name
}

// wheelEdit makes the edits of the wheel and its pages; nil for any other.
func (f *form) wheelEdit(do string) studio.Edit {
	yes := func(field string) bool { return f.c.PostForm(field) != "" }
	switch do {
	case "wheel":
		return studio.ChooseWheel(f.c.PostForm("wheel"))
	case "school":
		return studio.DivideBy(f.c.PostForm("school"))
	case "start":
		return studio.StartFrom(yes("boldest"))
	case "match":
		return studio.MatchBy(yes("nearest"))
	case "light":
		v := wheel.Variant{OneSided: yes("one_sided"), Centred: yes("centred"), Wide: yes("wide")}
		if yes("neighbours") {
			v.Neighbours = f.int("neighbours")
		}
		if yes("turn") {
			return studio.LightFrom(f.c.PostForm("scheme"), v, f.int("turn"))
		}
		return studio.Light(f.c.PostForm("scheme"), v)
	case "place":
		return studio.AdjustPlace(f.int("index"), yes("off"), f.number("nudge", 0))
	case "free":
		return studio.TakeFree(f.number("place", -1), f.int("band"), yes("clear"))
	case "set-free":
		return studio.ChangeFree(f.int("key"), f.number("value", -1), f.number("clearness", -1))
	case "replace":
		return studio.Replace(f.int("key"), f.id("material"))
	case "wish":
		return studio.Wish(f.c.PostForm("name"))
	case "drop-wish":
		return studio.DropWish(f.int("key"))
	case "keep-scheme":
		return studio.KeepScheme()
	case "keep-tray":
		return studio.KeepTray()
	case "remark":
		return studio.RemarkCombination(f.int("key"), f.c.PostForm("remark"))
	case "drop-tried":
		return studio.DropCombination(f.int("key"))
	case "take-tried":
		return studio.TakeCombination(f.int("key"))
	case "hand":
		return studio.TakeHand(strings.Split(f.c.PostForm("cards"), ","), f.c.PostForm("scheme"), yes("instead"))
	case "roles":
		return studio.OtherRoles(f.int("seed"))
	}
	return nil
}

// nudgeBody is a dealt hand.
type nudgeBody struct {
	studio.HandView
	Again    string // address of a new hand with the same cards held
	Tokens   string // of the hand, to take it
	Counts   []choice
	Tray     []holdChoice
	SeedSaid string
	Problem  string
	Roles    int // seed of the next other roles
}

type holdChoice struct {
	studio.TrayCard
	Token string
	Held  bool
}

// nudgeStage deals a hand as the address asks.
func (s *Server) nudgeStage(c *gin.Context, p *page) error {
	p.Sub = "A hand outside your habits: hold what you like and deal the rest again"
	q := c.Request.URL.Query()
	n := studio.Nudge{Whole: q.Get("from") == "wheel", Held: q["hold"]}
	n.Count, _ = strconv.Atoi(q.Get("n"))
	b := nudgeBody{SeedSaid: q.Get("seed")}
	seed, err := studio.ParseSeed(b.SeedSaid)
	if err == nil {
		n.Seed = seed
		b.HandView, err = s.studio.Hand(c.Request.Context(), p.Plan, n)
	}
	if refused, is := err.(studio.Refusal); is {
		b.Nudge, b.Problem, err = n, string(refused), nil
	}
	if err != nil {
		return err
	}
	if b.Problem == "" {
		b.SeedSaid = strconv.Itoa(b.Seed)
	}
	var tokens []string
	for _, k := range b.Cards {
		tokens = append(tokens, k.Token)
	}
	b.Tokens, b.Roles = strings.Join(tokens, ","), 1+b.Seed%studio.MostSeed
	for i := 2; i <= 8; i++ {
		b.Counts = append(b.Counts, choice{Key: strconv.Itoa(i), On: i == b.Count})
	}
	for _, t := range p.Plan.Tray {
		token := studio.TrayToken(t)
		b.Tray = append(b.Tray, holdChoice{t, token, slices.Contains(n.Held, token)})
	}
	if b.Problem == "" { // the same hand stays while cards are taken from it
		q.Set("seed", b.SeedSaid)
		q.Set("n", strconv.Itoa(b.Count))
	}
	p.Path += "?" + q.Encode()
	p.Body = b
	return nil
}

type triedBody struct {
	All []studio.CombinationView
}

func triedStage(p *page) {
	p.Sub = "Every combination tried, to compare and to print"
	p.Body = triedBody{p.Plan.Tried()}
}

// triedPDF sends the page of combinations on A4.
func (s *Server) triedPDF(c *gin.Context) {
	plan, err := s.studio.Open(c.Request.Context(), pathID(c))
	if s.trouble(c, err, noSuchPlan) {
		return
	}
	all := plan.Tried()
	if len(all) == 0 {
		s.fail(c, http.StatusUnprocessableEntity, "No combination is kept yet, so there is nothing to print. Keep one on the wheel first.")
		return
	}
	var tried []draw.Tried
	for _, t := range all {
		d := draw.Tried{Title: capital(t.Size), Remark: t.Remark}
		if t.Scheme != "" {
			d.Title += " · " + t.Scheme
		}
		for _, k := range t.Cards {
			d.Names, d.Cards = append(d.Names, k.Name), append(d.Cards, k.Colour)
		}
		tried = append(tried, d)
	}
	data, err := draw.PDF(plan.Name+" · combinations tried", draw.TriedPages(plan.Name, tried))
	if s.trouble(c, err, "") {
		return
	}
	download(c, plan.Name+" combinations.pdf", "application/pdf", data)
}
