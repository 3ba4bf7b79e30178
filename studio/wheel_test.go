package studio

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/brief"
	"lampfern/core/colour"
	"lampfern/core/wheel"
)

func wheelOf(t *testing.T, p *Plan) WheelView {
	t.Helper()
	v, err := p.Wheel([2]int{})
	require.NoError(t, err)
	return v
}

// refused checks that an edit is refused with a sentence and changes nothing.
func refused(t *testing.T, s *Studio, id uint, e Edit, want string) {
	t.Helper()
	before, err := s.Open(ctx, id)
	require.NoError(t, err)
	err = s.Change(ctx, id, before.Revision, e)
	var r Refusal
	require.ErrorAs(t, err, &r)
	assert.Contains(t, string(r), want)
	after, err := s.Open(ctx, id)
	require.NoError(t, err)
	assert.Equal(t, before.Plan, after.Plan)
}

func TestTheLeadKeepsItsColourOnEveryWheel(t *testing.T) {
	s := studio(t)
	id, ids := quilt(t, s)
	do(t, s, id, LeadWith(ids["Marrow flesh"]))
	do(t, s, id, Light("complementary", wheel.Variant{}))
	opposite := map[string]string{}
	for _, w := range wheel.Wheels() {
		p := do(t, s, id, ChooseWheel(w.Key))
		v := wheelOf(t, p)
		assert.Equal(t, "Marrow flesh", p.Lead.Name)
		assert.InDelta(t, w.Place(p.Lead.Colour.OKLCh()), v.LeadPlace, 1e-9, w.Key)
		assert.InDelta(t, 6, wheel.Apart(v.Lit[0].Place, v.Lit[1].Place), 1e-9)
		opposite[w.Key] = v.Lit[1].Name
	}
	assert.Contains(t, opposite["pigment"], "violet")
	assert.NotEqual(t, opposite["pigment"], opposite["process"])
	refused(t, s, id, ChooseWheel("rainbow"), "no wheel called")
	refused(t, s, id, DivideBy("north"), "no way of dividing")
	p := do(t, s, id, DivideBy("relative"))
	assert.Zero(t, wheelOf(t, p).Warm)
	p = do(t, s, id, DivideBy("to-violet"))
	assert.Positive(t, wheelOf(t, p).Warm)
}

func TestPlacesAreTurnedOffAndMoved(t *testing.T) {
	s := studio(t)
	id, ids := quilt(t, s)
	do(t, s, id, LeadWith(ids["Marrow flesh"]))
	do(t, s, id, Light("triadic", wheel.Variant{}))
	before := wheelOf(t, do(t, s, id, TurnTo(0))).Lit[2].Place
	do(t, s, id, AdjustPlace(1, true, 0))
	v := wheelOf(t, do(t, s, id, AdjustPlace(2, false, 15)))
	assert.True(t, v.Lit[1].Off)
	assert.Empty(t, v.Lit[1].Matches)
	assert.InDelta(t, 0.5, wheel.Turn(v.Lit[2].Place, -before), 1e-9)
	refused(t, s, id, AdjustPlace(3, true, 0), "no such place")
	refused(t, s, id, AdjustPlace(0, false, 40), "25°")
	v = wheelOf(t, do(t, s, id, AdjustPlace(1, false, 0)))
	assert.False(t, v.Lit[1].Off)
	p := do(t, s, id, Light("complementary", wheel.Variant{}))
	assert.Empty(t, p.Adjusted, "another scheme starts afresh")
}

func TestTheSchemeGoesByTheBoldest(t *testing.T) {
	s := studio(t)
	id, ids := quilt(t, s)
	do(t, s, id, LeadWith(ids["Heather rail"]))
	do(t, s, id, Light("complementary", wheel.Variant{}))
	p := do(t, s, id, StartFrom(true))
	v := wheelOf(t, p)
	assert.Equal(t, "Marrow flesh", v.Start.Name)
	assert.InDelta(t, v.Start.Place(wheel.Pigment), v.LeadPlace, 1e-9)
	do(t, s, id, Light(sparkScheme, wheel.Variant{}))
	p = do(t, s, id, StartFrom(true))
	v = wheelOf(t, p)
	assert.Equal(t, "Heather rail", v.Start.Name, "the neighbours stay with the lead")
	assert.InDelta(t, 6, wheel.Apart(v.Lit[3].Place, p.boldest().Place(wheel.Pigment)), 1e-9, "the spark is the boldest card's opposite")
}

func TestFreeColours(t *testing.T) {
	s := studio(t)
	id, ids := quilt(t, s)
	other := add(t, s, "Vetch=#6a3d92")
	do(t, s, id, LeadWith(ids["Marrow flesh"]))
	p := do(t, s, id, TakeFree(6, 3, true))
	free := p.Tray[5]
	assert.Equal(t, "Tint of violet", free.Name)
	assert.Zero(t, free.ID)
	assert.InDelta(t, 6, free.Place(wheel.Pigment), 0.05)
	assert.Len(t, do(t, s, id, TakeFree(6, 3, true)).Tray, 6, "the same leaflet is taken once")

	v := wheelOf(t, p)
	require.Len(t, v.Free, 1)
	require.NotNil(t, v.Free[0].OfHue)
	p = do(t, s, id, ChangeFree(free.Key, 3, 50))
	assert.InDelta(t, 3, p.Tray[5].Colour.Value(), 1e-9)
	assert.InDelta(t, 0.5, p.Tray[5].Clearness, 0.03)
	assert.InDelta(t, 6, p.Tray[5].Place(wheel.Pigment), 0.05, "its hue stays")

	p = do(t, s, id, LeadWithCard(free.Key))
	require.NotNil(t, p.Lead)
	assert.Equal(t, "Tint of violet", p.Lead.Name)
	refused(t, s, id, ChangeFree(p.Tray[0].Key, 3, 50), "is a material")
	refused(t, s, id, ChangeFree(free.Key, 11, 50), "between 0 and 10")
	refused(t, s, id, ChangeFree(free.Key, 5, -1), "between 0 and 100")
	refused(t, s, id, TakeFree(13, 0, true), "no such leaflet")
	refused(t, s, id, Replace(free.Key, ids["Heather rail"]), "lies in the tray already")

	do(t, s, id, Fill("ground", free.Key))
	p = do(t, s, id, Replace(free.Key, other["Vetch"]))
	assert.Equal(t, "Vetch", p.Tray[5].Name)
	assert.Equal(t, "Vetch", p.Lead.Name, "it takes the lead with it")
	assert.Contains(t, p.Tray[5].Parts, "ground")

	p = do(t, s, id, TakeFree(2, 1, false))
	do(t, s, id, LeadWithCard(p.Tray[6].Key))
	assert.Nil(t, do(t, s, id, SetAside(p.Tray[6].Key)).Lead, "a free lead goes with its card")
	for i := range MaxTray {
		if p, _ = s.Open(ctx, id); len(p.Tray) < MaxTray {
			do(t, s, id, TakeFree(float64(i%12), i/12, i%2 == 0))
		}
	}
	refused(t, s, id, TakeFree(5.5, 2, true), "is full")
}

func TestMatchesByNearness(t *testing.T) {
	s := studio(t)
	id, ids := quilt(t, s)
	add(t, s, "Brick=#a4412e", "Sky=#9cc3e6", "Fir=#1f3b2d", "Vetch=#6a3d92")
	do(t, s, id, LeadWith(ids["Marrow flesh"]))
	do(t, s, id, Light("complementary", wheel.Variant{}))
	for _, pl := range wheelOf(t, do(t, s, id, MatchBy(true))).Lit {
		for _, l := range pl.Ideals {
			p, _ := s.Open(ctx, id)
			assert.Contains(t, names(pl.Matches), p.Shelf.Nearest(l.Ideal, 1, 0)[0].Name)
		}
	}
}

func names(cards []*Card) (out []string) {
	for _, c := range cards {
		out = append(out, c.Name)
	}
	return out
}

func TestWishes(t *testing.T) {
	s := studio(t)
	id, ids := quilt(t, s)
	do(t, s, id, LeadWith(ids["Marrow flesh"]))
	v := wheelOf(t, do(t, s, id, Light("complementary", wheel.Variant{})))
	require.NotEmpty(t, v.Lit[1].Lacks)
	l := v.Lit[1].Lacks[0]
	p := do(t, s, id, Wish(l.Name))
	require.Len(t, p.Wishes, 1)
	assert.InDelta(t, l.Colour.L, p.Wishes[0].L, 1e-12)
	assert.True(t, wheelOf(t, p).Lit[1].Lacks[0].Wished)
	assert.Len(t, do(t, s, id, Wish(l.Name)).Wishes, 1)
	refused(t, s, id, Wish("square yellow"), "do not lack")
	assert.Empty(t, do(t, s, id, DropWish(p.Wishes[0].Key)).Wishes)
	refused(t, s, id, DropWish(9), "no longer on the list")
}

func TestWhatTheTrayMakes(t *testing.T) {
	s := studio(t)
	ids := add(t, s, "Red=#c8202b", "Green=#1f9e4c", "Grey=#808080", "Plum=#4b2346", "Sky=#3f7fd0", "Brick=#a03c28")
	id, err := s.NewPlan(ctx, "Scarf", "weaving")
	require.NoError(t, err)
	p, err := s.Open(ctx, id)
	require.NoError(t, err)
	assert.Nil(t, wheelOf(t, p).Made, "an empty tray makes nothing")
	p = do(t, s, id, Pull(ids["Grey"]))
	assert.Contains(t, wheelOf(t, p).Made.Words, "One neutral")
	p = do(t, s, id, Pull(ids["Red"]))
	assert.Contains(t, wheelOf(t, p).Made.Words, "One hue, red")
	p = do(t, s, id, Pull(ids["Green"]))
	m := wheelOf(t, p).Made
	assert.Equal(t, "complementary", m.Scheme)
	p = do(t, s, id, LightFrom(m.Scheme, m.Variant, m.Turn))
	v := wheelOf(t, p)
	assert.LessOrEqual(t, wheel.Apart(v.Lit[0].Place, p.Tray[1].Place(wheel.Pigment)), 1.0, "the light lies on the cards")

	v, err = p.Wheel([2]int{p.Tray[1].Key, p.Tray[2].Key})
	require.NoError(t, err)
	require.NotNil(t, v.Bridge)
	require.Len(t, v.Bridge.Ways, 2)
	assert.LessOrEqual(t, v.Bridge.Ways[0].Apart, v.Bridge.Ways[1].Apart)
	assert.Equal(t, "Red", v.Bridge.A.Name)
	assert.Equal(t, "Red", v.Warmest[0].Name)
}

func TestCompetingCardsAreSoftened(t *testing.T) {
	s := studio(t)
	ids := add(t, s, "Orange=#e4681c", "Emerald=#1f9e4c", "Sage=#5f8f6c", "Soot=#232226")
	id, err := s.NewPlan(ctx, "Boats", "painted models")
	require.NoError(t, err)
	do(t, s, id, Pull(ids["Orange"]))
	v := wheelOf(t, do(t, s, id, Pull(ids["Emerald"])))
	require.Len(t, v.Competing, 1)
	c := v.Competing[0]
	assert.Equal(t, "Emerald", c.Lesser.Name, "the less bold gives way")
	assert.Contains(t, names([]*Card{c.Near[0].Card}), "Sage")
	v = wheelOf(t, do(t, s, id, Replace(c.Lesser.Key, c.Near[0].ID)))
	assert.Empty(t, v.Competing)
}

func TestCombinations(t *testing.T) {
	s := studio(t)
	id, ids := quilt(t, s)
	refused(t, s, id, KeepScheme(), "light a scheme first")
	do(t, s, id, LeadWith(ids["Marrow flesh"]))
	do(t, s, id, Light("complementary", wheel.Variant{}))
	p := do(t, s, id, KeepScheme())
	require.Len(t, p.Tried(), 1)
	c := p.Tried()[0]
	assert.Equal(t, "duo", c.Size)
	assert.Equal(t, "complementary", c.Scheme)
	assert.Equal(t, "Marrow flesh", c.Cards[0].Name, "the lead stands for its place")
	refused(t, s, id, KeepScheme(), "already")
	p = do(t, s, id, KeepTray())
	assert.Equal(t, "quintet", p.Tried()[1].Size)
	p = do(t, s, id, RemarkCombination(1, "  too   loud "))
	assert.Equal(t, "too loud", p.Tried()[0].Remark)
	refused(t, s, id, RemarkCombination(1, strings.Repeat("x", 161)), "160 characters")
	refused(t, s, id, RemarkCombination(7, ""), "no longer on the page")

	// A card is shown as it was when its material changes or goes.
	gold, err := p.Shelf.Card(ids["Marrow flesh"])
	require.NoError(t, err)
	m := gold.Material
	m.Colour.L -= 20
	_, err = s.SaveMaterial(ctx, gold.ID, gold.Revision, m)
	require.NoError(t, err)
	p, err = s.Open(ctx, id)
	require.NoError(t, err)
	assert.Equal(t, gold.Colour, p.Tried()[0].Cards[0].Colour)
	n := len(p.Tray)
	p = do(t, s, id, TakeCombination(1))
	assert.Len(t, p.Tray, n+2, "both come as free colours")
	assert.Len(t, do(t, s, id, TakeCombination(1)).Tray, n+2, "and only once")
	assert.Len(t, do(t, s, id, DropCombination(1)).Combinations, 1)
	_, err = s.StepPlan(ctx, id, mustOpen(t, s, id).Revision, true)
	require.NoError(t, err)
	assert.Len(t, mustOpen(t, s, id).Combinations, 2, "what was taken away comes back")
}

func mustOpen(t *testing.T, s *Studio, id uint) *Plan {
	t.Helper()
	p, err := s.Open(ctx, id)
	require.NoError(t, err)
	return p
}

func TestHands(t *testing.T) {
	s := studio(t)
	id, ids := quilt(t, s)
	p := mustOpen(t, s, id)
	h, err := s.Hand(ctx, p, Nudge{Seed: 41, Count: 3})
	require.NoError(t, err)
	again, err := s.Hand(ctx, p, Nudge{Seed: 41, Count: 3})
	require.NoError(t, err)
	assert.Equal(t, h, again, "a seed is dealt again")
	require.Len(t, h.Cards, 3)
	held := TrayToken(p.Tray[2])
	h, err = s.Hand(ctx, p, Nudge{Seed: 42, Count: 4, Whole: true, Held: []string{held}})
	require.NoError(t, err)
	assert.Equal(t, "Heather rail", h.Cards[0].Name)
	assert.True(t, h.Cards[0].Held)
	var tokens []string
	for _, c := range h.Cards {
		tokens = append(tokens, c.Token)
		assert.Equal(t, c.Token == held, c.ID != 0, "the rest is of the whole wheel")
	}
	n := len(p.Tray)
	p = do(t, s, id, TakeHand(tokens, h.Scheme, false))
	assert.Len(t, p.Tray, n+3)
	assert.Equal(t, h.Scheme, p.Scheme)
	assert.Equal(t, "Heather rail", p.Lead.Name)
	p = do(t, s, id, TakeHand(tokens, h.Scheme, true))
	assert.Len(t, p.Tray, 4)
	// A free colour of the tray can be held in its turn.
	free := TrayToken(p.Tray[1])
	h, err = s.Hand(ctx, p, Nudge{Seed: 5, Count: 2, Held: []string{free}})
	require.NoError(t, err)
	assert.Equal(t, p.Tray[1].Name, h.Cards[0].Name)

	for _, bad := range []string{"x", "0", "-4", "1000000", "4.5"} {
		_, err := ParseSeed(bad)
		assert.ErrorContains(t, err, "numbered from 1 to 999999", bad)
	}
	seed, err := ParseSeed("  ")
	require.NoError(t, err)
	h, err = s.Hand(ctx, p, Nudge{Seed: seed})
	require.NoError(t, err)
	assert.Positive(t, h.Seed, "an empty number deals a new hand, and says which")
	_, err = s.Hand(ctx, p, Nudge{Count: 13})
	assert.ErrorContains(t, err, "1 to 12")
	for _, bad := range []string{"m9999", "w9.1", "k77", "nonsense", "n9", ""} {
		_, err := s.Hand(ctx, p, Nudge{Seed: 1, Count: 2, Held: []string{bad}})
		assert.ErrorContains(t, err, "no longer there", bad)
	}
	refused(t, s, id, TakeHand([]string{"m9999"}, "triadic", true), "no longer there")
	refused(t, s, id, TakeHand([]string{TrayToken(p.Tray[0])}, "rainbow", false), "no scheme called")
	_ = ids
}

func TestOtherRoles(t *testing.T) {
	s := studio(t)
	id, _ := quilt(t, s)
	before := mustOpen(t, s, id)
	p := do(t, s, id, OtherRoles(3))
	for i := range before.Tray {
		assert.Equal(t, before.Tray[i].Name, p.Tray[i].Name, "the same cards")
		assert.NotEqual(t, before.Tray[i].Parts, p.Tray[i].Parts, "in other roles")
	}
	scarf, err := s.NewPlan(ctx, "Scarf", "weaving")
	require.NoError(t, err)
	refused(t, s, scarf, OtherRoles(3), "choose a piece")
}

func TestBriefsAndMoods(t *testing.T) {
	s := studio(t)
	id, ids := quilt(t, s)
	hushed, err := s.Mood(ctx, "hushed")
	require.NoError(t, err)
	p := do(t, s, id, SetMood(hushed))
	assert.Equal(t, hushed.Limits, p.Limits())
	assert.Equal(t, "too clear", p.Outside(p.Tray[3].Card))
	said := ""
	for _, n := range p.BriefView().Notes {
		said += n.About + n.Words + "\n"
	}
	assert.Contains(t, said, "Marrow flesh is too clear for Hushed.")
	l := p.Limits()
	l.Out = []colour.FamilyName{colour.Violet}
	b := brief.Brief{Count: 3, Lamp: "warm", Focus: "the sparks", Quiet: "ground"}
	p = do(t, s, id, SetBrief("Stage curtain", "quilt", "", b, l))
	assert.Equal(t, "Hushed", p.Brief.Mood, "the mood stays when its limits are changed")
	notes := wheelOf(t, p).Notes
	said = ""
	for _, n := range append(notes, p.Proportion().Notes...) {
		said += n.About + n.Words + "\n"
	}
	assert.Contains(t, said, "violet is ruled out")
	assert.Contains(t, said, "5 cards lie in the tray and the brief asks for 3.")
	assert.Contains(t, said, "spark", "the focus is answered on Proportion")

	require.NoError(t, s.SaveMood(ctx, "Stage dusk", "plum and soot", p.Limits()))
	mine, err := s.Mood(ctx, "stage dusk")
	require.NoError(t, err)
	assert.Equal(t, p.Limits(), mine.Limits)
	all, err := s.Moods(ctx)
	require.NoError(t, err)
	assert.True(t, all[0].Own)
	require.NoError(t, s.DropMood(ctx, "Stage dusk"))
	_, err = s.Mood(ctx, "Stage dusk")
	assert.ErrorContains(t, err, "no mood called")
	label, err := s.StepMoods(ctx, true)
	require.NoError(t, err)
	assert.Equal(t, "forget the mood Stage dusk", label)
	_, err = s.Mood(ctx, "Stage dusk")
	assert.NoError(t, err, "a forgotten mood comes back")
	assert.ErrorContains(t, s.SaveMood(ctx, " ", "", l), "Give the mood a name")
	assert.ErrorContains(t, s.SaveMood(ctx, strings.Repeat("x", 41), "", l), "at most 40")
	assert.ErrorContains(t, s.DropMood(ctx, "Hushed"), "of your own")

	l.ValueFrom, l.ValueTo = 8, 2
	refused(t, s, id, SetBrief("Stage curtain", "quilt", "", b, l), "put the smaller number first")
	l = brief.Free()
	l.ValueTo = 0.5
	p = do(t, s, id, SetBrief("Stage curtain", "quilt", "", b, l))
	v := p.BriefView()
	assert.Zero(t, v.Inside)
	assert.Contains(t, v.Notes[0].Words, "Without the value range there would be 5.")
	b.Count = 9
	do(t, s, id, SetMood(brief.Mood{}))
	p = do(t, s, id, SetBrief("Stage curtain", "quilt", "", b, brief.Free()))
	assert.Nil(t, p.Brief.Limits)
	do(t, s, id, LeadWith(ids["Marrow flesh"]))
	p = do(t, s, id, Light("complementary", wheel.Variant{}))
	said = ""
	for _, n := range wheelOf(t, p).Notes {
		said += n.About + n.Words
	}
	assert.Contains(t, said, "asks for 9 colours and this scheme lights 2")
}

func TestAPlanGoesElsewhereWithItsBriefAndWheel(t *testing.T) {
	s, other := studio(t), studio(t)
	id, ids := quilt(t, s)
	do(t, s, id, LeadWith(ids["Marrow flesh"]))
	do(t, s, id, ChooseWheel("process"))
	do(t, s, id, Light("triadic", wheel.Variant{}))
	do(t, s, id, AdjustPlace(1, true, 0))
	p := do(t, s, id, TakeFree(3.5, 2, true))
	do(t, s, id, LeadWithCard(p.Tray[5].Key))
	do(t, s, id, KeepTray())
	hearth, err := s.Mood(ctx, "Hearth")
	require.NoError(t, err)
	p = do(t, s, id, SetMood(hearth))
	out, err := s.ExportPlan(ctx, id)
	require.NoError(t, err)
	there, err := other.ImportPlan(ctx, out)
	require.NoError(t, err)
	got := mustOpen(t, other, there)
	assert.Equal(t, p.Lead.Name, got.Lead.Name)
	assert.Equal(t, p.Brief, got.Brief)
	assert.Equal(t, p.WheelKey, got.WheelKey)
	assert.Equal(t, p.Adjusted, got.Adjusted)
	assert.Equal(t, names(p.Tried()[0].Cards), names(got.Tried()[0].Cards))
	assert.NotZero(t, got.Tried()[0].Cards[0].ID, "a combination finds its materials again")
	back, err := other.ExportPlan(ctx, there)
	require.NoError(t, err)
	assert.Equal(t, out, back)
}
