package buy

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/brief"
	"lampfern/core/material"
	"lampfern/core/note"
	"lampfern/core/piece"
	"lampfern/core/words"
	"lampfern/plan"
	"lampfern/testroom"
)

// asking is a brief that asks for a budget.
type asking struct{}

var budget = 0.0

func (asking) Check() error       { return nil }
func (asking) Asked() brief.Brief { return brief.Brief{Budget: budget} }

// workroom is a nine-patch whose plain blocks take a blue cloth, of which there is some.
func workroom(t *testing.T, lots ...material.Lot) (*plan.Desk, uint, uint) {
	t.Helper()
	s := testroom.Studio(t, Stage(), plan.Stage{Key: "asking", New: func() plan.Section { return &asking{} }})
	blue, err := s.SaveMaterial(testroom.Ctx, 0, 0, material.Material{Name: "Blue", Kind: "fabric", Colour: testroom.Hex(t, "#3a5a8a").Lab(),
		Supplier: "Gorse", Lots: lots})
	require.NoError(t, err)
	id, err := s.NewPlan(testroom.Ctx, "Cot quilt", "quilt")
	require.NoError(t, err)
	testroom.Do(t, s, id, plan.ChoosePiece{Pattern: "ninepatch"})
	testroom.Do(t, s, id, plan.Pull{Material: blue})
	p := testroom.MustOpen(t, s, id)
	for _, f := range p.Fills { // only the plain blocks
		testroom.Do(t, s, id, plan.FillPart{Part: f.Part})
	}
	testroom.Do(t, s, id, plan.FillPart{Part: "plain", Key: p.Entries[0].Key})
	return s, id, blue
}

func buyOf(t *testing.T, s *plan.Desk, id uint) *BuyView {
	t.Helper()
	v, err := View(testroom.Ctx, s, testroom.MustOpen(t, s, id))
	require.NoError(t, err)
	return v
}

func act(t *testing.T, s *plan.Desk, id uint, a plan.Act) (string, error) {
	t.Helper()
	return a.Act(testroom.Ctx, s, testroom.MustOpen(t, s, id))
}

// 17 plain blocks of 18 cm: cut 19.5 cm, five to a strip of 106 cm, four strips of
// 19.5 cm: 78 cm, with 10% 85.8 cm.
func TestWhatIsNeededLessWhatIsThere(t *testing.T) {
	s, id, blue := workroom(t, material.Lot{Name: "7", OnHand: 0.5, Unit: "m", Price: 12})
	v := buyOf(t, s, id)
	require.NotEmpty(t, v.Rows)
	r := v.Rows[0]
	assert.InDelta(t, .858, r.Need, 1e-9)
	assert.Equal(t, "86 cm", r.NeedWords)
	assert.Equal(t, []string{"50 cm of lot 7"}, r.Lots)
	assert.Equal(t, "0.9 m", r.Buy, "in one lot")
	assert.InDelta(t, 10.8, r.Cost, 1e-9)
	assert.True(t, r.Unused)
	assert.InDelta(t, .5, r.OnHand, 1e-9)
	assert.Equal(t, "Gorse", v.Groups[0].Supplier)
	testroom.Do(t, s, id, Mixed{Row: r.Key})
	r = buyOf(t, s, id).Rows[0]
	assert.Equal(t, "0.4 m", r.Buy, "with the half metre")
	assert.InDelta(t, 4.8, r.Cost, 1e-9)
	assert.Contains(t, r.Warnings[1], "Two dye lots would meet")
	testroom.Do(t, s, id, Mixed{Row: r.Key})

	// What the piece cannot know.
	answer := &Answer{Times: 2, given: map[string]string{"wof": "112", "waste": "0", "sold": "1"}}
	testroom.Do(t, s, id, answer)
	v = buyOf(t, s, id)
	// 34 blocks, five to a strip of 112 cm: seven strips are 136.5 cm, 1.19 m of eighths 11.43 cm.
	assert.InDelta(t, 1.365, v.Rows[0].Need, 1e-9)
	assert.Equal(t, "1 1/2 yd", v.Rows[0].Buy)
	assert.Equal(t, 2, v.Times)
	testroom.Refused(t, s, id, &Answer{given: map[string]string{"wof": "wide"}},
		`Usable cloth width is "wide": write a number from 20 to 320 cm`)
	testroom.Refused(t, s, id, &Answer{Times: -1}, "You can make")
	// The next plan of the craft begins with what was said.
	next, err := s.NewPlan(testroom.Ctx, "Next", "quilt")
	require.NoError(t, err)
	for _, a := range buyOf(t, s, next).Asks {
		if a.Key == "wof" {
			assert.Equal(t, 112.0, a.Value)
			assert.Equal(t, "yours before:", a.Whence)
		}
	}
	testroom.Do(t, s, id, &Answer{})

	// What does not fit is said at what is asked.
	testroom.Do(t, s, id, &Answer{Times: 1, given: map[string]string{"wof": "20"}})
	testroom.Do(t, s, id, plan.ChoosePiece{Pattern: "ninepatch", Settings: piece.Values{"square": 90}})
	for _, a := range buyOf(t, s, id).Asks {
		if a.Key == "wof" {
			assert.Contains(t, a.Mend, "is wider than the cloth (20)")
		}
	}
	testroom.Do(t, s, id, plan.ChoosePiece{Pattern: "ninepatch"})
	testroom.Do(t, s, id, &Answer{})

	// The maker knows better.
	testroom.Do(t, s, id, Amount{Row: r.Key, Much: "0,3"})
	r = buyOf(t, s, id).Rows[0]
	assert.True(t, r.Own)
	assert.Empty(t, r.Buy, "the half metre is enough")
	assert.Equal(t, "20 cm left over", r.Left)
	testroom.Refused(t, s, id, Amount{Row: r.Key, Much: "much"}, "is not a number")
	testroom.Do(t, s, id, Amount{Row: r.Key})

	// Of a kind that does not fit.
	c, err := testroom.MustOpen(t, s, id).Shelf.Card(blue)
	require.NoError(t, err)
	m := c.Material
	m.Kind, m.Lots = "yarn", nil
	_, err = s.SaveMaterial(testroom.Ctx, blue, c.Revision, m)
	require.NoError(t, err)
	v = buyOf(t, s, id)
	assert.Contains(t, v.Rows[0].Problem, "it is yarn, and this part takes fabric, in m")
	assert.Equal(t, note.Fix, v.Notes[0].Grade)
}

// What is bought lies on the shelf as a lot, once, and can be taken back.
func TestBoughtThingsGoOntoTheShelf(t *testing.T) {
	s, id, blue := workroom(t)
	r := buyOf(t, s, id).Rows[0]
	said, err := act(t, s, id, Bought{Row: r.Key, Lot: "31", Price: "9,50"})
	require.NoError(t, err)
	assert.Equal(t, "90 cm of Blue is on your shelf, as lot 31.", said)
	c, err := testroom.MustOpen(t, s, id).Shelf.Card(blue)
	require.NoError(t, err)
	require.Len(t, c.Lots, 1)
	assert.InDelta(t, .9, c.Lots[0].OnHand, 1e-9)
	assert.InDelta(t, 9.5/.9, c.Lots[0].Price, 1e-9)
	v := buyOf(t, s, id)
	assert.Empty(t, v.Rows[0].Buy)
	assert.InDelta(t, 9.5, v.Spent, 1e-9)
	assert.Zero(t, v.Sum)
	require.NotNil(t, v.Rows[0].Got)
	assert.Len(t, v.Groups, 2, "it stands on the list as bought, beside backing and wadding")
	_, err = act(t, s, id, Bought{Row: r.Key, Lot: "31"})
	assert.ErrorContains(t, err, "The list asks for no Blue")
	_, err = act(t, s, id, Bought{Row: "card99"})
	assert.ErrorContains(t, err, "no longer on the list")
	_, err = act(t, s, id, Bought{Row: r.Key, Much: "two"})
	assert.ErrorContains(t, err, "is not a number")
	_, err = act(t, s, id, Unbought{ID: v.Rows[0].Got.ID})
	require.NoError(t, err)
	c, err = testroom.MustOpen(t, s, id).Shelf.Card(blue)
	require.NoError(t, err)
	assert.Empty(t, c.Lots)
	_, err = act(t, s, id, Unbought{ID: v.Rows[0].Got.ID})
	assert.ErrorContains(t, err, "already undone")

	testroom.Do(t, s, id, AddLine{Name: "Needles", Much: "a packet", Price: 3})
	testroom.Refused(t, s, id, AddLine{Name: " "}, "Write what to buy")
	own := buyOf(t, s, id).Own[0]
	_, err = act(t, s, id, Bought{Row: own.Row()})
	require.NoError(t, err)
	assert.InDelta(t, 3, buyOf(t, s, id).Spent, 1e-9)
	testroom.Do(t, s, id, DropLine{Key: own.Key})
	testroom.Refused(t, s, id, DropLine{Key: own.Key}, "no longer on the list")
}

// Stock that one plan keeps back another does not count on; work that is done takes it
// off the shelf.
func TestStockIsKeptBackAndUsed(t *testing.T) {
	s, id, blue := workroom(t, material.Lot{Name: "7", OnHand: 1.5, Unit: "m"}, material.Lot{Name: "8", OnHand: 1, Unit: "m"})
	assert.Empty(t, buyOf(t, s, id).Rows[0].Buy)
	testroom.Do(t, s, id, KeepBack{})
	other, err := s.NewPlan(testroom.Ctx, "Cushion", "quilt")
	require.NoError(t, err)
	testroom.Do(t, s, other, plan.ChoosePiece{Pattern: "ninepatch"})
	testroom.Do(t, s, other, plan.Pull{Material: blue})
	r := buyOf(t, s, other).Rows[0]
	assert.Equal(t, []string{"86 cm kept for Cot quilt"}, r.Others)
	assert.Empty(t, buyOf(t, s, id).Rows[0].Also, "it keeps its own back")
	p := testroom.MustOpen(t, s, other)
	testroom.Do(t, s, other, plan.FillPart{Part: p.Fills[0].Part})
	testroom.Refused(t, s, other, KeepBack{}, "nothing to reserve")
	testroom.Do(t, s, id, KeepBack{})
	assert.False(t, buyOf(t, s, id).Kept)
	told := false
	for _, n := range buyOf(t, s, id).Notes {
		told = told || strings.Contains(n.Words, "but Cushion may need it too")
	}
	assert.True(t, told, "two plans want the same cloth")

	said, err := act(t, s, id, Used{})
	require.NoError(t, err)
	assert.Contains(t, said, "86 cm of Blue")
	c, err := testroom.MustOpen(t, s, id).Shelf.Card(blue)
	require.NoError(t, err)
	assert.InDelta(t, 1.5, c.Lots[0].OnHand, 1e-9)
	assert.InDelta(t, 1-.858, c.Lots[1].OnHand, 1e-9, "of the smallest lot that was enough")
	_, err = act(t, s, other, Used{})
	assert.ErrorContains(t, err, "nothing to deduct")
}

// A mix counts by what it is mixed of, and the budget says what drives it.
func TestMixesAndTheBudget(t *testing.T) {
	s := testroom.Studio(t, Stage())
	ids := map[string]uint{}
	for name, hex := range map[string]string{"Loch": "#1f4fa3", "Chalk": "#fafaf8"} {
		id, err := s.SaveMaterial(testroom.Ctx, 0, 0, material.Material{Name: name, Kind: "paint", Pack: 17, Colour: testroom.Hex(t, hex).Lab(),
			Lots: []material.Lot{{Name: "1", OnHand: 0, Unit: "ml", Price: 0.2}}})
		require.NoError(t, err)
		ids[name] = id
	}
	id, err := s.NewPlan(testroom.Ctx, "Boat", "painted models")
	require.NoError(t, err)
	testroom.Do(t, s, id, plan.Doing(func(d *plan.Draft) (string, error) {
		e := plan.FreeEntry("Sky", testroom.Hex(t, "#8aa0c8").Lab())
		e.Mix = []plan.InMix{{MaterialID: ids["Loch"], Share: .25}, {MaterialID: ids["Chalk"], Share: .75}}
		return "mix", d.Add(e)
	}))
	v := buyOf(t, s, id)
	require.GreaterOrEqual(t, len(v.Rows), 2)
	assert.Equal(t, "Sky", v.Rows[0].MixOf)
	assert.InDelta(t, 3*v.Rows[0].Need, v.Rows[1].Need, 1e-9)
	assert.Equal(t, "1 pot of 17 ml", v.Rows[0].Buy)
	assert.InDelta(t, 3.4, v.Rows[0].Cost, 1e-9)
	empty, err := s.NewPlan(testroom.Ctx, "Nothing yet", "painted models")
	require.NoError(t, err)
	assert.Contains(t, buyOf(t, s, empty).Empty[0], "No part of the piece has a colour yet")
}

// Prices are asked, compared, short, no longer there, and of two currencies.
func TestPriceLists(t *testing.T) {
	s, id, blue := workroom(t)
	green, err := s.SaveMaterial(testroom.Ctx, 0, 0, material.Material{Name: "Sea", Kind: "fabric", Colour: testroom.Hex(t, "#3a6088").Lab(),
		Lots: []material.Lot{{OnHand: 4, Unit: "m"}}})
	require.NoError(t, err)
	bring := func(csv string) string {
		p := testroom.MustOpen(t, s, id)
		e := &BringPrices{}
		e.Take(plan.File{Name: "prices.csv", Data: []byte(csv)})
		said, err := s.Change(testroom.Ctx, id, p.Revision, e)
		require.NoError(t, err)
		assert.Equal(t, p.Revision, testroom.MustOpen(t, s, id).Revision, "the plan stays as it is")
		return said
	}
	const head = "seller,year,name,kind,unit,pack,price,stock,least,postage,currency\n"
	assert.Contains(t, bring(head+
		"Gorse,2026,Blue,fabric,m,1,10,20,,3,\nMill,2026,Blue,fabric,m,1,8,20,,9,\nMill,2026,Ghost,fur,m,1,8,20,,9,\n"),
		"1 line was left out, such as Ghost")
	v := buyOf(t, s, id)
	r := v.Rows[0]
	assert.Equal(t, "Gorse", r.Supplier, "its own supplier first")
	assert.InDelta(t, 9, r.Cost, 1e-9, "0.9 m at 10")
	assert.NotEmpty(t, r.Asked)
	assert.InDelta(t, 3, v.Postage, 1e-9)
	noted := func(about string) string {
		for _, n := range buyOf(t, s, id).Notes {
			if n.About == about {
				return n.Words
			}
		}
		return ""
	}
	assert.Equal(t, " is 12.00 from Gorse alone, with postage.", noted("The lowest total"), "9 and 3, not 7.20 and 9")
	bring(head + "Mill,2026,Blue,fabric,m,1,4,20,,3,\n")
	assert.Equal(t, " is 6.60 from Mill alone, with postage.", noted("The lowest total"), "3.60 and 3")

	// Half a metre is too little, and no less than two metres are sold.
	bring(head + "Gorse,2026,Blue,fabric,m,1,10,0.5,2,3,\n")
	v = buyOf(t, s, id)
	assert.Equal(t, "2.0 m", v.Rows[0].Buy)
	assert.Contains(t, noted("Blue"), "is 40 cm short at Gorse. Nearest on hand: Sea, ")
	short := slices.IndexFunc(v.Notes, func(n note.Note) bool { return n.About == "Blue" && n.Offers != nil })
	require.GreaterOrEqual(t, short, 0)
	key := testroom.MustOpen(t, s, id).Entries[0].Key
	offer := v.Notes[short].Offers[0]
	assert.Equal(t, fmt.Sprintf("do=replace&key=%d&material=%d", key, green), offer.Do)
	assert.Equal(t, "Take Sea instead", offer.Label)
	assert.Contains(t, offer.See, fmt.Sprintf("as=%d", key))
	testroom.Do(t, s, id, plan.Replace{Key: key, Material: green})
	assert.Equal(t, "Sea", buyOf(t, s, id).Rows[0].Name)
	testroom.Do(t, s, id, plan.Replace{Key: key, Material: blue})
	// Next year it is gone.
	assert.Contains(t, bring(head+"Gorse,2027,Red,fabric,m,1,10,5,,3,\n"), "1 thing is no longer in the newest list")
	_, err = act(t, s, id, DropPrices{Seller: "Mill"})
	require.NoError(t, err)
	assert.Contains(t, noted("Blue"), "no longer in the newest list of Gorse")
	_, err = act(t, s, id, AskPrices{})
	assert.ErrorContains(t, err, "No price list is set up")
	testroom.Refused(t, s, id, &BringPrices{File: plan.File{Data: []byte("x")}}, "Not imported")
}

// In a shop: which card a colour would be, where it comes, how it strays, and what it does
// on the piece.
func TestAtTheShop(t *testing.T) {
	s, id, _ := workroom(t)
	dark, err := s.SaveMaterial(testroom.Ctx, 0, 0, material.Material{Name: "Night", Kind: "fabric", Colour: testroom.Hex(t, "#1c2a4a").Lab()})
	require.NoError(t, err)
	light, err := s.SaveMaterial(testroom.Ctx, 0, 0, material.Material{Name: "Ice", Kind: "fabric", Colour: testroom.Hex(t, "#c8d8ee").Lab()})
	require.NoError(t, err)
	testroom.Do(t, s, id, plan.Pull{Material: dark})
	p := testroom.Do(t, s, id, plan.Pull{Material: light})
	c, err := ShopText("#48649a")
	require.NoError(t, err)
	v := AtTheShop(p, c, 0)
	assert.Equal(t, "Blue", v.As.Name)
	assert.Contains(t, v.Step, "between Night and Ice, as step 2 of 3", "in the place of Blue")
	assert.NotEmpty(t, v.Does)
	green, err := ShopText("45 -14 -8")
	require.NoError(t, err)
	assert.Empty(t, AtTheShop(p, green, 0).Strays, "two are no run")
	for name, hex := range map[string]string{"Dusk": "#2c4270", "Mist": "#8aa2cc"} {
		id2, err := s.SaveMaterial(testroom.Ctx, 0, 0, material.Material{Name: name, Kind: "fabric", Colour: testroom.Hex(t, hex).Lab()})
		require.NoError(t, err)
		p = testroom.Do(t, s, id, plan.Pull{Material: id2})
	}
	assert.Contains(t, AtTheShop(p, green, 0).Strays, "it is too")
	assert.Contains(t, AtTheShop(p, c, 0).Strays, "run of 4 cards of its hue, from Night to Ice")
	assert.Contains(t, AtTheShop(p, c, 0).Strays, "it does not stray")
	black, err := ShopText("#000000")
	require.NoError(t, err)
	assert.Contains(t, AtTheShop(p, black, 0).Step, "darker than all other cards")
	// In the place of the plain blocks night on night loses the edge to what it touches.
	night := AtTheShop(p, testroom.Hex(t, "#1c2a4c").Lab(), p.Tray[0].Key)
	assert.Equal(t, "Blue", night.As.Name)
	_, err = ShopText("bluish")
	assert.ErrorContains(t, err, "six digits")
	empty, err := s.NewPlan(testroom.Ctx, "Empty", "quilt")
	require.NoError(t, err)
	assert.Nil(t, AtTheShop(testroom.MustOpen(t, s, empty), c, 0).As)
}

// Two plans on one list: what both need of one cloth is added up before it is rounded, and
// what the other keeps back is there for both.
func TestSeveralPlansOnOneList(t *testing.T) {
	s, id, blue := workroom(t)
	other, err := s.NewPlan(testroom.Ctx, "Cushion", "quilt")
	require.NoError(t, err)
	testroom.Do(t, s, other, plan.ChoosePiece{Pattern: "ninepatch"})
	testroom.Do(t, s, other, plan.Pull{Material: blue})
	p := testroom.MustOpen(t, s, other)
	for _, f := range p.Fills {
		testroom.Do(t, s, other, plan.FillPart{Part: f.Part})
	}
	testroom.Do(t, s, other, plan.FillPart{Part: "plain", Key: p.Entries[0].Key})
	v, err := View(testroom.Ctx, s, testroom.MustOpen(t, s, id), other)
	require.NoError(t, err)
	assert.InDelta(t, 2*.858, v.Rows[0].Need, 1e-9)
	assert.Equal(t, "1.8 m", v.Rows[0].Buy, "not twice 0.9")
	assert.Equal(t, "Cushion", v.Rows[0].Plans)
	names := ""
	for _, r := range v.Rows {
		names += r.Key + "\n"
	}
	assert.Contains(t, names, "line Backing\n")
	assert.Contains(t, names, "plan"+fmt.Sprint(other)+" line Backing\n", "each has a back of its own")
	_, err = act(t, s, id, Bought{Row: v.Rows[0].Key, With: []uint{other}})
	require.NoError(t, err)
	assert.Empty(t, buyOf(t, s, other).Rows[0].Buy, "it lies on the shelf for both")
	_, err = View(testroom.Ctx, s, testroom.MustOpen(t, s, id), 99)
	assert.ErrorContains(t, err, "was deleted")
}

// The maker's own lists go before what is drawn; what cannot be read changes nothing.
func TestOwnListsAreTaken(t *testing.T) {
	s := testroom.Studio(t, Stage())
	red, err := s.SaveMaterial(testroom.Ctx, 0, 0, material.Material{Name: "Rust", Kind: "building part",
		Colour: testroom.Hex(t, "#9a3b22").Lab(), Lots: []material.Lot{{OnHand: 10, Unit: "pieces", Price: 0.1}}})
	require.NoError(t, err)
	id, err := s.NewPlan(testroom.Ctx, "Tower", "building parts")
	require.NoError(t, err)
	p := testroom.Do(t, s, id, plan.Pull{Material: red})
	for _, f := range p.Fills {
		testroom.Do(t, s, id, plan.FillPart{Part: f.Part, Key: p.Entries[0].Key})
	}
	drawn := buyOf(t, s, id).Rows[0].Need
	testroom.Do(t, s, id, WriteList{List: "pieces", Text: "flat 2 × 4, wall, 36\ntile, Rust, 4\ncap, glass, 2"})
	v := buyOf(t, s, id)
	r := v.Rows[0]
	assert.Equal(t, 36.0+2+4+1, r.Need)
	assert.NotEqual(t, drawn, r.Need)
	assert.Equal(t, "includes 3 spare", r.Spare)
	assert.Equal(t, "43 pieces", r.Buy, "one lot, for shades differ between years")
	assert.Equal(t, "Glass", words.Capital(v.Rows[1].Name))
	assert.Contains(t, v.Rows[1].Warnings[0], "No card and no part of the piece has this name")
	testroom.Refused(t, s, id, WriteList{List: "pieces", Text: "flat, wall, many"}, `line 1: "how many" is "many"`)
	testroom.Refused(t, s, id, WriteList{List: "parts", Text: "flat, wall, many"}, "no such list")
	testroom.Refused(t, s, id, &BringList{List: "pieces", file: plan.File{Data: []byte{0xff}}}, "holds no text")
	bring := &BringList{List: "pieces"}
	bring.Take(plan.File{Data: []byte("part;colour;how many\ntile;Rust;7\n")})
	testroom.Do(t, s, id, bring)
	assert.Equal(t, 8.0, buyOf(t, s, id).Rows[0].Need)
	testroom.Do(t, s, id, WriteList{List: "pieces"})
	assert.Equal(t, drawn, buyOf(t, s, id).Rows[0].Need)
	_, err = act(t, s, id, Count{Row: r.Key, Lot: 0, Much: "500"})
	require.NoError(t, err)
	assert.Empty(t, buyOf(t, s, id).Rows[0].Buy)
	_, err = act(t, s, id, Count{Row: r.Key, Lot: 0, Much: "-3"})
	assert.ErrorContains(t, err, "is not a number")
	_, err = act(t, s, id, Count{Row: r.Key, Lot: 7, Much: "3"})
	assert.ErrorContains(t, err, "no longer on the list")
}

// A piece of another craft is told by its areas, by the kind of each card.
func TestAPieceThatTheCraftDoesNotKnow(t *testing.T) {
	s := testroom.Studio(t, Stage())
	wool, err := s.SaveMaterial(testroom.Ctx, 0, 0, material.Material{Name: "Wool", Kind: "yarn", Colour: testroom.Hex(t, "#9a3b22").Lab()})
	require.NoError(t, err)
	id, err := s.NewPlan(testroom.Ctx, "Woven front", "weaving")
	require.NoError(t, err)
	testroom.Do(t, s, id, plan.ChoosePiece{Pattern: "waistcoat"})
	p := testroom.Do(t, s, id, plan.Pull{Material: wool})
	testroom.Do(t, s, id, plan.FillPart{Part: "fronts", Key: p.Entries[0].Key})
	r := buyOf(t, s, id).Rows[0]
	assert.Contains(t, r.Working[0], "m² × 300 g")
	assert.Positive(t, r.Need)
}

// Each part is of one lot where lots are spread over the parts, and the shop's lot is
// asked for where it is on hand too.
func TestLotsAreSpreadOverParts(t *testing.T) {
	s, id, _ := workroom(t, material.Lot{Name: "7", OnHand: 1.1, Unit: "m"}, material.Lot{Name: "8", OnHand: 0.6, Unit: "m"})
	p := testroom.MustOpen(t, s, id)
	testroom.Do(t, s, id, plan.FillPart{Part: "five", Key: p.Entries[0].Key})
	r := buyOf(t, s, id).Rows[0]
	require.Len(t, r.Parts, 2)
	require.Greater(t, r.Need, 1.1)
	assert.True(t, r.Unused)
	testroom.Do(t, s, id, Mixed{Row: r.Key})
	r = buyOf(t, s, id).Rows[0]
	// The plain blocks are 17 of 18 cm, the squares 13 × 5 of 6 cm: 5508 to 2340 cm².
	require.Len(t, r.SpreadWords(), 2)
	assert.Contains(t, r.SpreadWords(), "plain blocks of lot 7")
	assert.Contains(t, r.SpreadWords(), "squares in fives of lot 8")
	assert.Empty(t, r.Buy)
	assert.Contains(t, r.Working[len(r.Working)-1], "shared out by the areas of its parts")
	testroom.Do(t, s, id, Mixed{Row: r.Key})
	bring := &BringPrices{}
	bring.Take(plan.File{Data: []byte(`{"format":"lampfern-prices","sellers":[{"name":"Gorse","lines":[{"name":"Blue","kind":"fabric","unit":"m","pack":1,"price":10,"lots":["7"]}]}]}`)})
	pp := testroom.MustOpen(t, s, id)
	_, err := s.Change(testroom.Ctx, id, pp.Revision, bring)
	require.NoError(t, err)
	r = buyOf(t, s, id).Rows[0]
	assert.Contains(t, r.Warnings, "Gorse has lot 7, which you have too. Ask for it.")
	assert.InDelta(t, math.Ceil((r.Need-1.1)*10-1e-9), r.Packs, 1e-9, "what the lot lacks")
}

// Over the budget, each smaller change that would help is named with what it saves.
func TestWhatWouldMeetTheBudget(t *testing.T) {
	budget = 5
	defer func() { budget = 0 }()
	s, id, _ := workroom(t, material.Lot{OnHand: 0, Unit: "m", Price: 30})
	near, err := s.SaveMaterial(testroom.Ctx, 0, 0, material.Material{Name: "Slate", Kind: "fabric", Colour: testroom.Hex(t, "#3c5c88").Lab(),
		Lots: []material.Lot{{OnHand: 0, Unit: "m", Price: 10}}})
	require.NoError(t, err)
	p := testroom.Do(t, s, id, plan.Pull{Material: near})
	testroom.Do(t, s, id, plan.FillPart{Part: "five", Key: p.Entries[1].Key})
	_, err = s.SaveMaterial(testroom.Ctx, 0, 0, material.Material{Name: "Deep", Kind: "fabric", Colour: testroom.Hex(t, "#385688").Lab(),
		Lots: []material.Lot{{OnHand: 5, Unit: "m"}}})
	require.NoError(t, err)
	said := ""
	for _, n := range buyOf(t, s, id).Notes {
		if n.About == "The budget" {
			said = n.Words
		}
	}
	assert.Contains(t, said, "Blue is the largest cost (27.00)")
	assert.Contains(t, said, "sing Deep, which you have")
	assert.Contains(t, said, "saves 27.00")
	assert.Contains(t, said, "using Slate for Blue too")
	assert.Contains(t, said, "cloth")
}

// Ready-made parts are priced part by part; what is not made in a colour is told, with the
// colours that it is made in.
func TestPartsArePricedPartByPart(t *testing.T) {
	s := testroom.Studio(t, Stage())
	red, err := s.SaveMaterial(testroom.Ctx, 0, 0, material.Material{Name: "Rust", Kind: "building part",
		Colour: testroom.Hex(t, "#9a3b22").Lab()})
	require.NoError(t, err)
	id, err := s.NewPlan(testroom.Ctx, "Tower", "building parts")
	require.NoError(t, err)
	p := testroom.Do(t, s, id, plan.Pull{Material: red})
	testroom.Do(t, s, id, plan.FillPart{Part: p.Fills[0].Part, Key: p.Entries[0].Key})
	testroom.Do(t, s, id, WriteList{List: "pieces", Text: "flat, Rust, 36\ntile, Rust, 40"})
	bring := &BringPrices{}
	bring.Take(plan.File{Data: []byte("seller,name,kind,part,pack,price\nKiln,Rust,building part,Flat,10,2\nKiln,Rust,building part,,1,9\nMill,Rust,building part,flat,5,0.9\nKiln,Sand,building part,tile,25,1\n")})
	_, err = s.Change(testroom.Ctx, id, testroom.MustOpen(t, s, id).Revision, bring)
	require.NoError(t, err)
	v := buyOf(t, s, id)
	r := v.Rows[0]
	// 36 and 2 spare are eight packs of five at 0.90; the tiles have no price.
	assert.InDelta(t, 7.2*80/80, r.Cost, 1e-9)
	assert.Equal(t, "Mill", r.Supplier)
	assert.Contains(t, r.Working, "flat: 38 at Mill, 8 × 0.90 = 7.20")
	assert.Contains(t, v.Notes[0].Words, "tile is not made in this colour; it is in Sand.")
}
