package buying

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/quantity"
)

func lots(amounts ...float64) (out []quantity.Lot) {
	for i, a := range amounts {
		out = append(out, quantity.Lot{Lot: string(rune('A' + i)), Amount: a})
	}
	return out
}

// Reserves come off the first lots first.
func TestFree(t *testing.T) {
	free, sum := Free(lots(2, 3), 2.5)
	assert.Equal(t, lots(0, 2.5), free)
	assert.Equal(t, 2.5, sum)
	free, sum = Free(lots(2, 3), 9)
	assert.Equal(t, lots(0, 0), free)
	assert.Zero(t, sum)
	_, sum = Free(nil, 1)
	assert.Zero(t, sum)
}

func TestPacksAndCost(t *testing.T) {
	for _, tt := range []struct{ amount, each, want float64 }{{1.2, .1, 12}, {1.2001, .1, 13}, {0, .1, 0}, {-1, .1, 0}, {100, 50, 2},
		{101, 50, 3}} {
		assert.Equal(t, tt.want, Packs(tt.amount, tt.each), "%v of %v", tt.amount, tt.each)
	}
	assert.Equal(t, 3.33, Cost(3, 1.11))
	assert.Equal(t, .13, Cost(1, .125), "half a hundredth goes up")
}

// Cases reckoned by hand. Cloth by 0.1 m at 1.20 a step.
func TestWork(t *testing.T) {
	cloth := Ask{Need: 2.05, Each: .1, Fixed: true, Price: 1.2, InLots: true}
	with := func(change func(*Ask)) Ask { a := cloth; change(&a); return a }
	stock := func(n float64) *float64 { return &n }
	for name, tt := range map[string]struct {
		ask  Ask
		want Order
	}{
		"nothing on hand": {cloth, Order{Packs: 21, Cost: 25.2, Steps: []string{"2.05 / 0.1, up to 21; left over 0.05"}}},
		"enough in the second lot": {with(func(a *Ask) { a.Lots = lots(1, 2.05) }),
			Order{OnHand: 3.05, Level: 1}},
		"two lots, neither enough": {with(func(a *Ask) { a.Lots = lots(1, 2) }),
			Order{OnHand: 3, Level: 1, Packs: 21, Cost: 25.2, Unused: true, Steps: []string{"no lot on hand is enough: all 2.05 in one new lot",
				"2.05 / 0.1, up to 21; left over 0.05"}}},
		"mixed, which is enough": {with(func(a *Ask) { a.Lots, a.Mixed = lots(1, 2), true }),
			Order{OnHand: 3, Level: 1, Codes: []quantity.Warning{quantity.MixedLots}}},
		"paint has no lots": {with(func(a *Ask) { a.Lots, a.InLots = lots(1, .5), false }),
			Order{OnHand: 1.5, Level: 1.5 / 2.05, Packs: 6, Cost: 7.2, Steps: []string{"mixed lots accepted: 1.5 on hand, 0.55 still needed",
				"0.55 / 0.1, up to 6; left over 0.05"}}},
		"the shop has the lot": {with(func(a *Ask) { a.Lots, a.ShopLot = lots(1), "A" }),
			Order{OnHand: 1, Level: 1 / 2.05, Packs: 11, Cost: 13.2, Steps: []string{"lot A: 1 on hand, 1.05 still needed in the same lot",
				"1.05 / 0.1, up to 11; left over 0.05"}}},
		"each part of a lot, 1.025 and 1.025": {with(func(a *Ask) {
			a.Lots, a.Mixed, a.Parts = lots(1.1, 1), true,
				[]Part{{"front", 3}, {"back", 3}}
		}),
			Order{OnHand: 2.1, Level: 1, Packs: 11, Cost: 13.2, PartLots: []PartLot{{"front", "A"}, {"back", ""}}}},
		"a part with no area takes none": {with(func(a *Ask) { a.Lots, a.Mixed, a.Parts = lots(2.05), true, []Part{{"front", 3}, {"back", 0}} }),
			Order{OnHand: 2.05, Level: 1, PartLots: []PartLot{{"front", "A"}}}},
		"a part and its lots in few packs": {with(func(a *Ask) {
			a.Lots, a.Mixed, a.Parts, a.Offer = lots(1.1, 1), true, []Part{{"front", 3}, {"back", 3}}, &Offer{Price: 2, Unit: .1, Stock: stock(4)}
		}), Order{Price: 2, OnHand: 2.1, Level: 1, Packs: 11, Cost: 22, Short: 7, PartLots: []PartLot{{"front", "A"}, {"back", ""}}}},
		"an offer by the metre": {with(func(a *Ask) { a.Offer = &Offer{Price: 14, Unit: 1, Stock: stock(2)} }),
			Order{Price: 1.4, Packs: 21, Cost: 29.4, Short: 1, Steps: []string{"2.05 / 0.1, up to 21; left over 0.05"}}},
		"no less than three metres": {with(func(a *Ask) { a.Offer = &Offer{Price: 14, Unit: 1, Least: 3} }),
			Order{Price: 1.4, Packs: 30, Cost: 42, Raised: true, Steps: []string{"2.05 / 0.1, up to 21; left over 0.05"}}},
		"just the least": {with(func(a *Ask) { a.Offer = &Offer{Price: 14, Unit: 1, Least: 2.1} }),
			Order{Price: 1.4, Packs: 21, Cost: 29.4, Steps: []string{"2.05 / 0.1, up to 21; left over 0.05"}}},
		"no longer made": {with(func(a *Ask) { a.Gone = true }),
			Order{Packs: 21, Cost: 25.2, Short: 21, Codes: []quantity.Warning{quantity.Discontinued},
				Steps: []string{"2.05 / 0.1, up to 21; left over 0.05"}}},
		"no longer made, and one part without a lot": {with(func(a *Ask) {
			a.Lots, a.Mixed, a.Parts, a.Gone = lots(1.1, 1), true, []Part{{"front", 3}, {"back", 3}}, true
		}), Order{OnHand: 2.1, Level: 1, Packs: 11, Cost: 13.2, Short: 11, PartLots: []PartLot{{"front", "A"}, {"back", ""}},
			Codes: []quantity.Warning{quantity.Discontinued}}},
		"no longer made, and enough": {with(func(a *Ask) { a.Gone, a.Lots = true, lots(3) }), Order{OnHand: 3, Level: 1}},
		"nothing needed":             {with(func(a *Ask) { a.Need = 0 }), Order{}},
		"skeins of 50 g, sold as 100": {Ask{Need: 130, Each: 50, Price: 3, InLots: true, Offer: &Offer{Price: 5, Unit: 100}},
			Order{Each: 100, Price: 5, Packs: 2, Cost: 10, Steps: []string{"130 / 100, up to 2; left over 70"}}},
		"sheets by one": {Ask{Need: 2.4, Each: 1}, Order{Each: 1, Packs: 3}},
	} {
		if tt.want.Each == 0 {
			tt.want.Each = .1
		}
		if tt.want.Price == 0 && tt.want.Each == .1 {
			tt.want.Price = 1.2
		}
		got, err := Work(tt.ask)
		require.NoError(t, err, name)
		for want, got := range map[*float64]*float64{&tt.want.Price: &got.Price, &tt.want.OnHand: &got.OnHand, &tt.want.Level: &got.Level} {
			assert.InDelta(t, *want, *got, 1e-12, name)
			*got = *want
		}
		if len(got.Codes) == 0 {
			got.Codes = tt.want.Codes
			assert.Empty(t, tt.want.Codes, name)
		}
		assert.Equal(t, tt.want, got, name)
	}
	_, err := Work(Ask{Need: 1, Each: 0})
	var fault *quantity.Fault
	assert.ErrorAs(t, err, &fault, "a unit that holds nothing")
	_, err = Work(Ask{Need: math.NaN(), Each: 1})
	assert.ErrorAs(t, err, &fault)
}

func TestByParts(t *testing.T) {
	// 10 in packs of 4 at 2 are 6; 5 singly at .5 are 2.50.
	cost, ok := ByParts(15, []Size{{10, 2, 4}, {5, .5, 1}})
	assert.True(t, ok)
	assert.Equal(t, 8.5, cost)
	cost, _ = ByParts(6, []Size{{10, 2, 4}, {5, .5, 1}})
	assert.Equal(t, 3.4, cost, "6 of 15 are bought")
	cost, ok = ByParts(15, []Size{{10, 2, 4}, {5, 0, 0}})
	assert.True(t, ok, "one has a price")
	assert.Equal(t, 6.0, cost)
	_, ok = ByParts(5, []Size{{5, 0, 0}})
	assert.False(t, ok)
}

func TestSums(t *testing.T) {
	postage := map[string]float64{"Loom": 4, "Vat": 3}
	rows := []Row{
		{10, "Loom", []Quote{{"Loom", 10}, {"Vat", 8}}},
		{20, "Loom", []Quote{{"Loom", 20}, {"Vat", 25}}},
	}
	// As it stands 30 + 4; the cheaper of each 8 + 20 + 7 = 35; all at Vat 33 + 3 = 36.
	least, fewest := Sums(rows, postage)
	assert.Equal(t, Sum{34, []string{"Loom"}}, least)
	assert.Equal(t, least, fewest)
	rows[0].Others[1].Cost = 5 // 5 + 20 + 7 = 32 from two; 33 from one
	least, fewest = Sums(rows, postage)
	assert.Equal(t, Sum{32, []string{"Loom", "Vat"}}, least)
	assert.Equal(t, Sum{33, []string{"Vat"}}, fewest)
	rows[1].Others = rows[1].Others[:1] // Vat has not all of it
	_, fewest = Sums(rows, postage)
	assert.Equal(t, Sum{34, []string{"Loom"}}, fewest)
	least, fewest = Sums(nil, postage)
	assert.Zero(t, least.Cost+fewest.Cost)
}
