package wheel

import (
	"fmt"
	"net/url"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/balance"
	"lampfern/core/brief"
	"lampfern/core/colour"
	"lampfern/core/material"
	"lampfern/core/wheel"
	"lampfern/plan"
	briefstage "lampfern/stages/brief"
	"lampfern/stages/buy"
	mixing "lampfern/stages/mix"
	"lampfern/stages/proportion"
	"lampfern/testroom"
)

func wheelOf(t *testing.T, p *plan.Plan) WheelView {
	t.Helper()
	v, err := Wheel(p)
	require.NoError(t, err)
	return v
}

func TestTheLeadKeepsItsColourOnEveryWheel(t *testing.T) {
	s := testroom.Studio(t, Stage(), briefstage.Stage(), buy.Stage(), proportion.Stage())
	id, ids := testroom.Quilt(t, s)
	testroom.Do(t, s, id, plan.LeadWith{Material: ids["Marrow flesh"]})
	testroom.Do(t, s, id, Light{Scheme: "complementary", Variant: wheel.Variant{}})
	opposite := map[string]string{}
	for _, w := range wheel.Wheels() {
		p := testroom.Do(t, s, id, ChooseWheel{Wheel: w.Key})
		v := wheelOf(t, p)
		assert.Equal(t, "Marrow flesh", p.Lead.Name)
		assert.InDelta(t, w.Place(p.Lead.Colour.OKLCh()), v.LeadPlace, 1e-9, w.Key)
		assert.InDelta(t, 6, wheel.Apart(v.Lit[0].Place, v.Lit[1].Place), 1e-9)
		opposite[w.Key] = v.Lit[1].Name
	}
	assert.Contains(t, opposite["pigment"], "violet")
	assert.NotEqual(t, opposite["pigment"], opposite["process"])
	testroom.Refused(t, s, id, ChooseWheel{Wheel: "rainbow"}, "no wheel called")
	testroom.Refused(t, s, id, DivideBy{School: "north"}, "no way to divide")
	p := testroom.Do(t, s, id, DivideBy{School: "relative"})
	assert.Zero(t, wheelOf(t, p).Warm)
	p = testroom.Do(t, s, id, DivideBy{School: "to-violet"})
	assert.Positive(t, wheelOf(t, p).Warm)
}

func TestPlacesAreTurnedOffAndMoved(t *testing.T) {
	s := testroom.Studio(t, Stage(), briefstage.Stage(), buy.Stage(), proportion.Stage())
	id, ids := testroom.Quilt(t, s)
	testroom.Do(t, s, id, plan.LeadWith{Material: ids["Marrow flesh"]})
	testroom.Do(t, s, id, Light{Scheme: "triadic", Variant: wheel.Variant{}})
	before := wheelOf(t, testroom.Do(t, s, id, TurnTo{Places: 0})).Lit[2].Place
	testroom.Do(t, s, id, AdjustPlace{Index: 1, Off: true, Nudge: 0})
	v := wheelOf(t, testroom.Do(t, s, id, AdjustPlace{Index: 2, Off: false, Nudge: 15}))
	assert.True(t, v.Lit[1].Off)
	assert.Empty(t, v.Lit[1].Matches)
	assert.InDelta(t, 0.5, wheel.Turn(v.Lit[2].Place, -before), 1e-9)
	testroom.Refused(t, s, id, AdjustPlace{Index: 3, Off: true, Nudge: 0}, "no such place")
	testroom.Refused(t, s, id, AdjustPlace{Index: 0, Off: false, Nudge: 40}, "25°")
	v = wheelOf(t, testroom.Do(t, s, id, AdjustPlace{Index: 1, Off: false, Nudge: 0}))
	assert.False(t, v.Lit[1].Off)
	p := testroom.Do(t, s, id, Light{Scheme: "complementary", Variant: wheel.Variant{}})
	assert.Empty(t, Of(p).Adjusted, "another scheme starts afresh")
}

func TestTheSchemeGoesByTheBoldest(t *testing.T) {
	s := testroom.Studio(t, Stage(), briefstage.Stage(), buy.Stage(), proportion.Stage())
	id, ids := testroom.Quilt(t, s)
	testroom.Do(t, s, id, plan.LeadWith{Material: ids["Heather rail"]})
	testroom.Do(t, s, id, Light{Scheme: "complementary", Variant: wheel.Variant{}})
	p := testroom.Do(t, s, id, StartFrom{Boldest: true})
	v := wheelOf(t, p)
	assert.Equal(t, "Marrow flesh", v.Start.Name)
	assert.InDelta(t, v.Start.Place(wheel.Pigment), v.LeadPlace, 1e-9)
	testroom.Do(t, s, id, Light{Scheme: sparkScheme, Variant: wheel.Variant{}})
	p = testroom.Do(t, s, id, StartFrom{Boldest: true})
	v = wheelOf(t, p)
	assert.Equal(t, "Heather rail", v.Start.Name, "the neighbours stay with the lead")
	assert.InDelta(t, 6, wheel.Apart(v.Lit[3].Place, boldest(p).Place(wheel.Pigment)), 1e-9, "the spark is the boldest card's opposite")
}

func TestFreeColours(t *testing.T) {
	s := testroom.Studio(t, Stage(), briefstage.Stage(), buy.Stage(), proportion.Stage())
	id, ids := testroom.Quilt(t, s)
	other := testroom.Add(t, s, "Vetch=#6a3d92")
	testroom.Do(t, s, id, plan.LeadWith{Material: ids["Marrow flesh"]})
	p := testroom.Do(t, s, id, TakeFree{Place: 6, Step: 3, Clear: true})
	free := p.Tray[5]
	assert.Equal(t, "Tint of violet", free.Name)
	assert.Zero(t, free.ID)
	assert.InDelta(t, 6, free.Place(wheel.Pigment), 0.05)
	assert.Len(t, testroom.Do(t, s, id, TakeFree{Place: 6, Step: 3, Clear: true}).Tray, 6, "the same leaflet is taken once")

	v := wheelOf(t, p)
	require.Len(t, v.Free, 1)
	require.NotNil(t, v.Free[0].OfHue)
	p = testroom.Do(t, s, id, ChangeFree{Key: free.Key, Value: 3, Clearness: 50})
	assert.InDelta(t, 3, p.Tray[5].Colour.Value(), 1e-9)
	assert.InDelta(t, 0.5, p.Tray[5].Clearness, 0.03)
	assert.InDelta(t, 6, p.Tray[5].Place(wheel.Pigment), 0.05, "its hue stays")

	p = testroom.Do(t, s, id, plan.LeadWithCard{Key: free.Key})
	require.NotNil(t, p.Lead)
	assert.Equal(t, "Dark tone of violet", p.Lead.Name)
	testroom.Refused(t, s, id, ChangeFree{Key: p.Tray[0].Key, Value: 3, Clearness: 50}, "is a material")
	testroom.Refused(t, s, id, ChangeFree{Key: free.Key, Value: 11, Clearness: 50}, "from 0 to 10")
	testroom.Refused(t, s, id, ChangeFree{Key: free.Key, Value: 5, Clearness: -1}, "from 0 to 100")
	testroom.Refused(t, s, id, TakeFree{Place: 13, Step: 0, Clear: true}, "no such leaflet")
	testroom.Refused(t, s, id, plan.Replace{Key: free.Key, Material: ids["Heather rail"]}, "is in the tray already")

	testroom.Do(t, s, id, plan.FillPart{Part: "ground", Key: free.Key})
	p = testroom.Do(t, s, id, plan.Replace{Key: free.Key, Material: other["Vetch"]})
	assert.Equal(t, "Vetch", p.Tray[5].Name)
	assert.Equal(t, "Vetch", p.Lead.Name, "it takes the lead with it")
	assert.Contains(t, p.Tray[5].Parts, "ground")

	p = testroom.Do(t, s, id, TakeFree{Place: 2, Step: 1, Clear: false})
	testroom.Do(t, s, id, plan.LeadWithCard{Key: p.Tray[6].Key})
	assert.Nil(t, testroom.Do(t, s, id, plan.SetAside{Key: p.Tray[6].Key}).Lead, "a free lead goes with its card")
	for i := range plan.MaxTray {
		if p, _ = s.Open(testroom.Ctx, id); len(p.Tray) < plan.MaxTray {
			testroom.Do(t, s, id, TakeFree{Place: float64(i % 12), Step: i / 12, Clear: i%2 == 0})
		}
	}
	testroom.Refused(t, s, id, TakeFree{Place: 5.5, Step: 2, Clear: true}, "the most it can")
}

func TestMatchesByNearness(t *testing.T) {
	s := testroom.Studio(t, Stage(), briefstage.Stage(), buy.Stage(), proportion.Stage())
	id, ids := testroom.Quilt(t, s)
	testroom.Add(t, s, "Brick=#a4412e", "Sky=#9cc3e6", "Fir=#1f3b2d", "Vetch=#6a3d92")
	testroom.Do(t, s, id, plan.LeadWith{Material: ids["Marrow flesh"]})
	testroom.Do(t, s, id, Light{Scheme: "complementary", Variant: wheel.Variant{}})
	for _, pl := range wheelOf(t, testroom.Do(t, s, id, MatchBy{Nearest: true})).Lit {
		for _, l := range pl.Ideals {
			p, _ := s.Open(testroom.Ctx, id)
			assert.Contains(t, testroom.Names(pl.Matches), p.Shelf.Nearest(l.Ideal, 1, 0)[0].Name)
		}
	}
}

func TestWishes(t *testing.T) {
	s := testroom.Studio(t, Stage(), briefstage.Stage(), buy.Stage(), proportion.Stage())
	id, ids := testroom.Quilt(t, s)
	testroom.Do(t, s, id, plan.LeadWith{Material: ids["Marrow flesh"]})
	v := wheelOf(t, testroom.Do(t, s, id, Light{Scheme: "complementary", Variant: wheel.Variant{}}))
	require.NotEmpty(t, v.Lit[1].Lacks)
	l := v.Lit[1].Lacks[0]
	p := testroom.Do(t, s, id, Wish{Name: l.Name})
	require.Len(t, p.Wishes, 1)
	assert.InDelta(t, l.Colour.L, p.Wishes[0].L, 1e-12)
	assert.True(t, wheelOf(t, p).Lit[1].Lacks[0].Wished)
	assert.Len(t, testroom.Do(t, s, id, Wish{Name: l.Name}).Wishes, 1)
	testroom.Refused(t, s, id, Wish{Name: "square yellow"}, "no longer lacks")
	assert.Empty(t, testroom.Do(t, s, id, buy.DropWish{Key: p.Wishes[0].Key}).Wishes)
	testroom.Refused(t, s, id, buy.DropWish{Key: 9}, "already removed")
}

func TestWhatTheTrayMakes(t *testing.T) {
	s := testroom.Studio(t, Stage(), briefstage.Stage(), buy.Stage(), proportion.Stage())
	ids := testroom.Add(t, s, "Red=#c8202b", "Green=#1f9e4c", "Grey=#808080", "Plum=#4b2346", "Sky=#3f7fd0", "Brick=#a03c28")
	id, err := s.NewPlan(testroom.Ctx, "Scarf", "weaving")
	require.NoError(t, err)
	p, err := s.Open(testroom.Ctx, id)
	require.NoError(t, err)
	assert.Nil(t, wheelOf(t, p).Made, "an empty tray makes nothing")
	p = testroom.Do(t, s, id, plan.Pull{Material: ids["Grey"]})
	assert.Contains(t, wheelOf(t, p).Made.Words, "A single neutral")
	p = testroom.Do(t, s, id, plan.Pull{Material: ids["Red"]})
	assert.Contains(t, wheelOf(t, p).Made.Words, "A single hue, red")
	p = testroom.Do(t, s, id, plan.Pull{Material: ids["Green"]})
	m := wheelOf(t, p).Made
	assert.Equal(t, "complementary", m.Scheme)
	p = testroom.Do(t, s, id, LightFrom{Scheme: m.Scheme, Variant: m.Variant, Turn: m.Turn})
	v := wheelOf(t, p)
	assert.LessOrEqual(t, wheel.Apart(v.Lit[0].Place, p.Tray[1].Place(wheel.Pigment)), 1.0, "the light lies on the cards")

	assert.Equal(t, "Red", v.Warmest[0].Name)
}

func TestCompetingCardsAreSoftened(t *testing.T) {
	s := testroom.Studio(t, Stage(), briefstage.Stage(), buy.Stage(), proportion.Stage())
	ids := testroom.Add(t, s, "Orange=#e4681c", "Emerald=#1f9e4c", "Sage=#5f8f6c", "Soot=#232226")
	id, err := s.NewPlan(testroom.Ctx, "Boats", "painted models")
	require.NoError(t, err)
	testroom.Do(t, s, id, plan.Doing(func(d *plan.Draft) (string, error) {
		d.Plan.Kinds = []string{"fabric"}
		return "sew the boats", nil
	}))
	testroom.Do(t, s, id, plan.Pull{Material: ids["Orange"]})
	v := wheelOf(t, testroom.Do(t, s, id, plan.Pull{Material: ids["Emerald"]}))
	require.Len(t, v.Competing, 1)
	c := v.Competing[0]
	assert.Equal(t, "Emerald", c.Lesser.Name, "the less bold gives way")
	require.Len(t, c.Swaps, 1)
	assert.Equal(t, "Sage", c.Swaps[0].By.Name)
	assert.Equal(t, "Sage for Emerald (softer)", plan.Told(c.Swaps))
	f, err := url.ParseQuery(plan.Press(c.Swaps))
	require.NoError(t, err)
	v = wheelOf(t, testroom.Do(t, s, id, &plan.Settle{Swaps: f["swap"]}))
	assert.Empty(t, v.Competing)
	assert.Empty(t, v.Unsettled)
	p := testroom.Do(t, s, id, plan.Replace{Key: c.Lesser.Key, Material: ids["Emerald"]})
	testroom.Refused(t, s, id, &plan.Settle{}, "Choose the card to change")
	testroom.Refused(t, s, id, &plan.Settle{Swaps: []string{"x=1"}}, "cannot be read")
	testroom.Refused(t, s, id, &plan.Settle{Swaps: []string{fmt.Sprintf("%d=nothing", p.Tray[0].Key)}}, "cannot be read")
	// By another school clear colours are wanted together.
	v = wheelOf(t, testroom.Do(t, s, id, JudgeClear{Clear: "lively"}))
	assert.Empty(t, v.Competing)
	assert.Contains(t, v.Pairs, "Emerald and Orange are lively together: both clear, and meant to play.")
	testroom.Refused(t, s, id, JudgeClear{Clear: "loud"}, "lively or compete")
	testroom.Do(t, s, id, JudgeClear{})
	v = wheelOf(t, testroom.Do(t, s, id, Light{Scheme: "triadic"}))
	assert.Empty(t, v.Competing, "a triad wants them")
}

// Where one change would be too large, both give way a little; where nothing can be had, a line says so.
func TestCompetingCardsAreBothTurned(t *testing.T) {
	s := testroom.Studio(t, Stage(), briefstage.Stage(), buy.Stage(), proportion.Stage(), mixing.Stage())
	ids := testroom.Add(t, s, "Poppy=#e03040", "Cornflower=#2050c8")
	id, err := s.NewPlan(testroom.Ctx, "Tunic", "painted models")
	require.NoError(t, err)
	testroom.Do(t, s, id, plan.Doing(func(d *plan.Draft) (string, error) {
		d.Plan.Kinds = []string{"fabric"}
		return "sew the tunic", nil
	}))
	testroom.Do(t, s, id, plan.Pull{Material: ids["Poppy"]})
	v := wheelOf(t, testroom.Do(t, s, id, plan.Pull{Material: ids["Cornflower"]}))
	assert.Empty(t, v.Competing)
	assert.Contains(t, v.Unsettled, "you own nothing to settle it")
	poppy, blue, ok := balance.Eye{}.Both(testroom.Hex(t, "#e03040").Lab(), testroom.Hex(t, "#2050c8").Lab())
	require.True(t, ok)
	hex := func(c colour.Lab) string { rgb, _ := c.RGB(); return rgb.Hex() }
	testroom.Add(t, s, "Burnt orange="+hex(poppy.Colour), "Deep sea="+hex(blue.Colour))
	v = wheelOf(t, testroom.MustOpen(t, s, id))
	require.Len(t, v.Competing, 1)
	assert.Empty(t, v.Unsettled)
	told := plan.Told(v.Competing[0].Swaps)
	assert.Contains(t, told, "Burnt orange for Poppy (turned toward red-orange)")
	assert.Contains(t, told, "Deep sea for Cornflower (turned toward blue-green)")
}

// A plan of paints is offered a mix of what is owned, which waits on Mix.
func TestCompetingPaintsAreMixed(t *testing.T) {
	s := testroom.Studio(t, Stage(), briefstage.Stage(), buy.Stage(), proportion.Stage(), mixing.Stage())
	var ids []uint
	for _, c := range [][2]string{{"Signal red", "#d02030"}, {"Flag blue", "#2050c8"}, {"Chalk white", "#f6f5f0"}, {"Lamp black", "#1e1c1c"}, {"Sun yellow", "#f2c81e"}} {
		id, err := s.SaveMaterial(testroom.Ctx, 0, 0, material.Material{Name: c[0], Kind: "paint", Colour: testroom.Hex(t, c[1]).Lab()})
		require.NoError(t, err)
		ids = append(ids, id)
	}
	id, err := s.NewPlan(testroom.Ctx, "Boat", "painted models")
	require.NoError(t, err)
	testroom.Do(t, s, id, plan.Pull{Material: ids[0]})
	v := wheelOf(t, testroom.Do(t, s, id, plan.Pull{Material: ids[1]}))
	require.Len(t, v.Competing, 1)
	swap := v.Competing[0].Swaps[0]
	require.Nil(t, swap.By)
	assert.Contains(t, plan.Told(v.Competing[0].Swaps), "a mix of ")
	f, err := url.ParseQuery(plan.Press(v.Competing[0].Swaps))
	require.NoError(t, err)
	p := testroom.Do(t, s, id, &plan.Settle{Swaps: f["swap"]})
	assert.Empty(t, wheelOf(t, p).Competing)
	require.NotEmpty(t, p.Targets, "it waits on Mix")
	assert.InDelta(t, swap.Colour.L, p.Targets[0].L, .01)
	assert.Equal(t, p.Targets[0].Name, "Mix for "+swap.For.Name)
}

func TestCombinations(t *testing.T) {
	s := testroom.Studio(t, Stage(), briefstage.Stage(), buy.Stage(), proportion.Stage())
	id, ids := testroom.Quilt(t, s)
	testroom.Refused(t, s, id, KeepScheme{}, "Choose a scheme first")
	testroom.Do(t, s, id, plan.LeadWith{Material: ids["Marrow flesh"]})
	testroom.Do(t, s, id, Light{Scheme: "complementary", Variant: wheel.Variant{}})
	p := testroom.Do(t, s, id, KeepScheme{})
	require.Len(t, Tried(p), 1)
	c := Tried(p)[0]
	assert.Equal(t, "duo", c.Size)
	assert.Equal(t, "complementary", c.Scheme)
	assert.Equal(t, "Marrow flesh", c.Cards[0].Name, "the lead stands for its place")
	testroom.Refused(t, s, id, KeepScheme{}, "already")
	p = testroom.Do(t, s, id, KeepTray{})
	assert.Equal(t, "quintet", Tried(p)[1].Size)
	p = testroom.Do(t, s, id, RemarkCombination{Key: 1, Remark: "  too   loud "})
	assert.Equal(t, "too loud", Tried(p)[0].Remark)
	testroom.Refused(t, s, id, RemarkCombination{Key: 1, Remark: strings.Repeat("x", 161)}, "160 characters")
	testroom.Refused(t, s, id, RemarkCombination{Key: 7, Remark: ""}, "was deleted")

	// A card is shown as it was when its material changes or goes.
	gold, err := p.Shelf.Card(ids["Marrow flesh"])
	require.NoError(t, err)
	m := gold.Material
	m.Colour.L -= 20
	_, err = s.SaveMaterial(testroom.Ctx, gold.ID, gold.Revision, m)
	require.NoError(t, err)
	p, err = s.Open(testroom.Ctx, id)
	require.NoError(t, err)
	assert.Equal(t, gold.Colour, Tried(p)[0].Cards[0].Colour)
	n := len(p.Tray)
	p = testroom.Do(t, s, id, TakeCombination{Key: 1})
	assert.Len(t, p.Tray, n+2, "both come as free colours")
	assert.Len(t, testroom.Do(t, s, id, TakeCombination{Key: 1}).Tray, n+2, "and only once")
	assert.Len(t, Of(testroom.Do(t, s, id, DropCombination{Key: 1})).Combinations, 1)
	_, err = s.StepPlan(testroom.Ctx, id, testroom.MustOpen(t, s, id).Revision, true)
	require.NoError(t, err)
	assert.Len(t, Of(testroom.MustOpen(t, s, id)).Combinations, 2, "what was taken away comes back")
}

func TestHands(t *testing.T) {
	s := testroom.Studio(t, Stage(), briefstage.Stage(), buy.Stage(), proportion.Stage())
	id, ids := testroom.Quilt(t, s)
	p := testroom.MustOpen(t, s, id)
	h, err := Hand(testroom.Ctx, s, p, Nudge{Seed: 41, Count: 3})
	require.NoError(t, err)
	again, err := Hand(testroom.Ctx, s, p, Nudge{Seed: 41, Count: 3})
	require.NoError(t, err)
	assert.Equal(t, h, again, "a seed is dealt again")
	require.Len(t, h.Cards, 3)
	held := plan.TrayToken(p.Tray[2])
	h, err = Hand(testroom.Ctx, s, p, Nudge{Seed: 42, Count: 4, Whole: true, Held: []string{held}})
	require.NoError(t, err)
	assert.Equal(t, "Heather rail", h.Cards[0].Name)
	assert.True(t, h.Cards[0].Held)
	var tokens []string
	for _, c := range h.Cards {
		tokens = append(tokens, c.Token)
		assert.Equal(t, c.Token == held, c.ID != 0, "the rest is of the whole wheel")
	}
	n := len(p.Tray)
	p = testroom.Do(t, s, id, TakeHand{Tokens: tokens, Scheme: h.Scheme, Instead: false})
	assert.Len(t, p.Tray, n+3)
	assert.Equal(t, h.Scheme, Of(p).Scheme)
	assert.Equal(t, "Heather rail", p.Lead.Name)
	p = testroom.Do(t, s, id, TakeHand{Tokens: tokens, Scheme: h.Scheme, Instead: true})
	assert.Len(t, p.Tray, 4)
	// A free colour of the tray can be held in its turn.
	free := plan.TrayToken(p.Tray[1])
	h, err = Hand(testroom.Ctx, s, p, Nudge{Seed: 5, Count: 2, Held: []string{free}})
	require.NoError(t, err)
	assert.Equal(t, p.Tray[1].Name, h.Cards[0].Name)

	for _, bad := range []string{"x", "0", "-4", "1000000", "4.5"} {
		_, err := ParseSeed(bad)
		assert.ErrorContains(t, err, "numbered from 1 to 999999", bad)
	}
	seed, err := ParseSeed("  ")
	require.NoError(t, err)
	h, err = Hand(testroom.Ctx, s, p, Nudge{Seed: seed})
	require.NoError(t, err)
	assert.Positive(t, h.Seed, "an empty number deals a new hand, and says which")
	_, err = Hand(testroom.Ctx, s, p, Nudge{Count: 13})
	assert.ErrorContains(t, err, "1 to 12")
	for _, bad := range []string{"m9999", "w9.1", "k77", "nonsense", "n9", ""} {
		_, err := Hand(testroom.Ctx, s, p, Nudge{Seed: 1, Count: 2, Held: []string{bad}})
		assert.ErrorContains(t, err, "no longer there", bad)
	}
	testroom.Refused(t, s, id, TakeHand{Tokens: []string{"m9999"}, Scheme: "triadic", Instead: true}, "no longer there")
	testroom.Refused(t, s, id, TakeHand{Tokens: []string{plan.TrayToken(p.Tray[0])}, Scheme: "rainbow", Instead: false}, "no scheme called")
	_ = ids
}

func TestOtherRoles(t *testing.T) {
	s := testroom.Studio(t, Stage(), briefstage.Stage(), buy.Stage(), proportion.Stage())
	id, _ := testroom.Quilt(t, s)
	before := testroom.MustOpen(t, s, id)
	p := testroom.Do(t, s, id, OtherRoles{Seed: 3})
	for i := range before.Tray {
		assert.Equal(t, before.Tray[i].Name, p.Tray[i].Name, "the same cards")
		assert.NotEqual(t, before.Tray[i].Parts, p.Tray[i].Parts, "in other roles")
	}
	scarf, err := s.NewPlan(testroom.Ctx, "Scarf", "weaving")
	require.NoError(t, err)
	testroom.Refused(t, s, scarf, OtherRoles{Seed: 3}, "Choose one on Proportion")
}

func TestBriefsAndMoods(t *testing.T) {
	s := testroom.Studio(t, Stage(), briefstage.Stage(), buy.Stage(), proportion.Stage())
	id, ids := testroom.Quilt(t, s)
	hushed, err := plan.Mood(testroom.Ctx, s, "hushed")
	require.NoError(t, err)
	p := testroom.Do(t, s, id, briefstage.SetMood{Mood: hushed})
	assert.Equal(t, hushed.Limits, p.Limits())
	assert.Equal(t, "too clear", p.Outside(p.Tray[3].Card))
	said := ""
	for _, n := range briefstage.View(p).Notes {
		said += n.About + n.Words + "\n"
	}
	assert.Contains(t, said, "Marrow flesh is too clear for Hushed.")
	l := p.Limits()
	l.Out = []colour.FamilyName{colour.Violet}
	b := brief.Brief{Count: 3, Lamp: "warm", Focus: "the sparks", Quiet: "ground"}
	p = testroom.Do(t, s, id, briefstage.SetBrief{Name: "Stage curtain", Craft: "quilt", Purpose: "", Brief: b, Limits: l})
	assert.Equal(t, "Hushed", p.Asked().Mood, "the mood stays when its limits are changed")
	notes := wheelOf(t, p).Notes
	said = ""
	for _, n := range append(notes, proportion.Proportion(p).Notes...) {
		said += n.About + n.Words + "\n"
	}
	assert.Contains(t, said, "violet, a colour to avoid")
	assert.Contains(t, said, "Five cards are in the tray and your brief asks for three.")
	assert.Contains(t, said, "spark", "the focus is answered on Proportion")

	require.NoError(t, briefstage.SaveMood(testroom.Ctx, s, "Stage dusk", "plum and soot", p.Limits()))
	mine, err := plan.Mood(testroom.Ctx, s, "stage dusk")
	require.NoError(t, err)
	assert.Equal(t, p.Limits(), mine.Limits)
	all, err := plan.Moods(testroom.Ctx, s)
	require.NoError(t, err)
	assert.True(t, all[0].Own)
	require.NoError(t, briefstage.DropMood(testroom.Ctx, s, "Stage dusk"))
	_, err = plan.Mood(testroom.Ctx, s, "Stage dusk")
	assert.ErrorContains(t, err, "no mood called")
	label, err := briefstage.StepMoods(testroom.Ctx, s, true)
	require.NoError(t, err)
	assert.Equal(t, "delete the mood Stage dusk", label)
	_, err = plan.Mood(testroom.Ctx, s, "Stage dusk")
	assert.NoError(t, err, "a forgotten mood comes back")
	assert.ErrorContains(t, briefstage.SaveMood(testroom.Ctx, s, " ", "", l), "Give the mood a name")
	assert.ErrorContains(t, briefstage.SaveMood(testroom.Ctx, s, strings.Repeat("x", 41), "", l), "at most 40")
	assert.ErrorContains(t, briefstage.DropMood(testroom.Ctx, s, "Hushed"), "You have no mood called")

	l.ValueFrom, l.ValueTo = 8, 2
	testroom.Refused(t, s, id, briefstage.SetBrief{Name: "Stage curtain", Craft: "quilt", Purpose: "", Brief: b, Limits: l},
		"put the smaller number first")
	l = brief.Free()
	l.ValueTo = 0.5
	p = testroom.Do(t, s, id, briefstage.SetBrief{Name: "Stage curtain", Craft: "quilt", Purpose: "", Brief: b, Limits: l})
	v := briefstage.View(p)
	assert.Zero(t, v.Inside)
	assert.Contains(t, v.Notes[0].Words, "Without the value range there would be 5.")
	b.Count = 9
	testroom.Do(t, s, id, briefstage.SetMood{Mood: brief.Mood{}})
	p = testroom.Do(t, s, id, briefstage.SetBrief{Name: "Stage curtain", Craft: "quilt", Purpose: "", Brief: b, Limits: brief.Free()})
	assert.Nil(t, p.Asked().Limits)
	testroom.Do(t, s, id, plan.LeadWith{Material: ids["Marrow flesh"]})
	p = testroom.Do(t, s, id, Light{Scheme: "complementary", Variant: wheel.Variant{}})
	said = ""
	for _, n := range wheelOf(t, p).Notes {
		said += n.About + n.Words
	}
	assert.Contains(t, said, "asks for 9 colours and this scheme has two hues")
}

func TestAPlanGoesElsewhereWithItsBriefAndWheel(t *testing.T) {
	s, other := testroom.Studio(t, Stage(), briefstage.Stage(), buy.Stage(), proportion.Stage()),
		testroom.Studio(t, Stage(), briefstage.Stage(), buy.Stage(), proportion.Stage())
	id, ids := testroom.Quilt(t, s)
	testroom.Do(t, s, id, plan.LeadWith{Material: ids["Marrow flesh"]})
	testroom.Do(t, s, id, ChooseWheel{Wheel: "process"})
	testroom.Do(t, s, id, Light{Scheme: "triadic", Variant: wheel.Variant{}})
	testroom.Do(t, s, id, AdjustPlace{Index: 1, Off: true, Nudge: 0})
	p := testroom.Do(t, s, id, TakeFree{Place: 3.5, Step: 2, Clear: true})
	testroom.Do(t, s, id, plan.LeadWithCard{Key: p.Tray[5].Key})
	testroom.Do(t, s, id, KeepTray{})
	hearth, err := plan.Mood(testroom.Ctx, s, "Hearth")
	require.NoError(t, err)
	p = testroom.Do(t, s, id, briefstage.SetMood{Mood: hearth})
	_, out, err := s.Export(testroom.Ctx, id)
	require.NoError(t, err)
	there, err := testroom.Import(other, out)
	require.NoError(t, err)
	got := testroom.MustOpen(t, other, there)
	assert.Equal(t, p.Lead.Name, got.Lead.Name)
	assert.Equal(t, p.Asked(), got.Asked())
	assert.Equal(t, Of(p).WheelKey, Of(got).WheelKey)
	assert.Equal(t, Of(p).Adjusted, Of(got).Adjusted)
	assert.Equal(t, testroom.Names(Tried(p)[0].Cards), testroom.Names(Tried(got)[0].Cards))
	assert.NotZero(t, Tried(got)[0].Cards[0].ID, "a combination finds its materials again")
	_, back, err := other.Export(testroom.Ctx, there)
	require.NoError(t, err)
	assert.Equal(t, out, back)
}
