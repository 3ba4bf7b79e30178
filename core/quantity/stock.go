package quantity

import (
	"cmp"
	"fmt"
	"math"
	"slices"
)

// ToBuyIn is what is needed of a material, what is on hand of it by lot, and how it is sold.
type ToBuyIn struct {
	Need           float64  `json:"need" in:"amount needed; 0 to 1e9"`
	OnHand         []Lot    `json:"on_hand" in:"list of lots; none"`
	ShopLot        string   `json:"shop_lot" in:"lot of the shop; or"`
	Pack           *float64 `json:"pack" in:"amount in one purchase unit; over 0 to 1e9; or 1"`
	Price          float64  `json:"price" in:"price; 0 to 1e9; or 0"`
	AllowMixed     bool     `json:"allow_mixed" in:"mixing of lots"`
	Discontinued   bool     `json:"discontinued" in:"end of the line"`
	AvailablePacks *float64 `json:"available_packs" in:"number that can still be had; 0 to 1000000; whole"`
}

// Lot is so much of one lot.
type Lot struct {
	Lot    string  `json:"lot" in:"lot"`
	Amount float64 `json:"amount" in:"amount; 0 to 1e9"`
}

// ToBuyOut is what is used of what is on hand, and what is bought.
type ToBuyOut struct {
	Exact struct {
		Usable float64 `json:"usable"`
		ToBuy  float64 `json:"to_buy"`
	} `json:"unrounded"`
	Rounded struct {
		Packs      float64  `json:"packs"`
		Bought     float64  `json:"bought"`
		LeftOver   float64  `json:"left_over"`
		Cost       float64  `json:"cost"`
		ShortPacks float64  `json:"short_packs"`
		LotsUsed   []string `json:"lots_used"`
	} `json:"rounded"`
	Notes
}

// ToBuy works out what is bought of a material: the smallest lot that is enough, else mixed lots where
// these are accepted, else all of it in one lot.
func ToBuy(in ToBuyIn) (out ToBuyOut, err error) {
	if err = ready(&in, &out.Notes); err != nil {
		return out, err
	}
	need := in.Need
	lots := newNamed()
	total := 0.0
	for _, l := range in.OnHand {
		lots.add(l.Lot, l.Amount)
		total += l.Amount
	}
	best := ""
	for _, name := range lots.names {
		if v := lots.of[name]; v >= need-fit && (best == "" || v < lots.of[best]-fit) {
			best = name
		}
	}
	usable, buy := 0.0, 0.0
	used := []string{}
	shop := in.ShopLot
	switch {
	case need == 0:
	case best != "":
		usable, used = need, []string{best}
		out.say("lot %s is enough: %s of %s", best, need, lots.of[best])
	case in.AllowMixed:
		usable, buy = math.Min(need, total), math.Max(0, need-total)
		together := map[string]bool{}
		for _, name := range lots.names {
			if lots.of[name] > 0 {
				used = append(used, name)
				together[name] = true
			}
		}
		if buy > 0 {
			together[shop] = true
		}
		if len(together) > 1 {
			out.warn(MixedLots)
		}
		out.say("mixed lots accepted: %s on hand, %s still needed", total, buy)
	case shop != "" && lots.of[shop] > 0:
		usable, used = lots.of[shop], []string{shop}
		buy = need - usable
		if total > usable+fit {
			out.warn(StockNotUsed)
		}
		out.say("lot %s: %s on hand, %s still needed in the same lot", shop, usable, buy)
	default:
		buy = need
		if total > 0 {
			out.warn(StockNotUsed)
		}
		out.say("no lot on hand is enough: all %s in one new lot", need)
	}
	if buy > 0 && usable > 0 && shop == "" {
		out.warn(LotUnknown)
	}
	available := math.Inf(1)
	if in.Discontinued {
		out.warn(Discontinued)
		available = 0
	}
	use(&available, in.AvailablePacks)
	x, r := &out.Exact, &out.Rounded
	x.Usable, x.ToBuy, r.LotsUsed = usable, buy, used
	r.Packs = upInt(buy / *in.Pack)
	r.Bought = r.Packs * *in.Pack
	r.LeftOver = r.Bought - buy
	r.Cost = near(r.Packs*in.Price, .01)
	if r.ShortPacks = math.Max(0, r.Packs-available); r.ShortPacks > 0 {
		out.warn(NotEnoughAvailable)
	}
	out.say("%s / %s, up to %s; left over %s", buy, in.Pack, r.Packs, r.LeftOver)
	return out, nil
}

// LotsIn is regions that each take one lot, and the lots there are.
type LotsIn struct {
	Regions []LotRegion `json:"regions" in:"list of regions"`
	Lots    []Lot       `json:"lots" in:"list of lots"`
}

// LotRegion is a region and what it needs.
type LotRegion struct {
	Name string  `json:"name" in:"region"`
	Need float64 `json:"need" in:"amount needed; 0 to 1e9"`
}

// What a region is given where it is given no lot.
const (
	NoLot  = "none" // it needs nothing
	BuyLot = "buy"  // no lot holds it
)

// LotsOut is the lot of each region, what is left of each, and what is bought.
type LotsOut struct {
	Exact struct {
		ToBuy float64            `json:"to_buy"`
		Left  map[string]float64 `json:"left"`
	} `json:"unrounded"`
	Rounded struct {
		Assign map[string]string `json:"assign"`
	} `json:"rounded"`
	Notes
}

// Lots gives each region the smallest lot that is enough for it, the largest region first.
func Lots(in LotsIn) (out LotsOut, err error) {
	if err = ready(&in, &out.Notes); err != nil {
		return out, err
	}
	left := map[string]float64{}
	for i, l := range in.Lots {
		if _, twice := left[l.Lot]; twice {
			return out, fault("contradiction", fmt.Sprintf("lots[%d].lot", i), "%s is listed twice.", l.Lot)
		}
		left[l.Lot] = l.Amount
	}
	names := map[string]bool{}
	for i, r := range in.Regions {
		if names[r.Name] {
			return out, fault("contradiction", fmt.Sprintf("regions[%d].name", i), "%s is listed twice.", r.Name)
		}
		names[r.Name] = true
	}
	order := slices.Clone(in.Regions)
	slices.SortStableFunc(order, func(a, b LotRegion) int { return cmp.Compare(b.Need, a.Need) })
	assign, buy := map[string]string{}, 0.0
	for _, r := range order {
		if r.Need == 0 {
			assign[r.Name] = NoLot
			continue
		}
		best := ""
		rest := 0.0
		for _, l := range in.Lots {
			rest += left[l.Lot]
			if left[l.Lot] >= r.Need-fit && (best == "" || left[l.Lot] < left[best]-fit) {
				best = l.Lot
			}
		}
		if best != "" {
			assign[r.Name] = best
			left[best] -= r.Need
			out.sayOf(r.Name, "%s from lot %s, %s left", r.Need, best, left[best])
			continue
		}
		assign[r.Name] = BuyLot
		buy += r.Need
		if rest >= r.Need-fit {
			out.warn(Warning("would_mix_lots:" + r.Name))
		}
		out.sayOf(r.Name, "%s, which no lot holds: buy", r.Need)
	}
	out.Exact.ToBuy, out.Exact.Left, out.Rounded.Assign = buy, left, assign
	return out, nil
}

// CostIn is what is bought, and the tax on it in %.
type CostIn struct {
	Lines  []CostLine `json:"lines" in:"list of purchases"`
	TaxPct float64    `json:"tax_pct" in:"tax; 0 to 100; unit %; or 0"`
}

// CostLine is so many packs at a price.
type CostLine struct {
	Name  string  `json:"name" in:"name"`
	Packs float64 `json:"packs" in:"number of purchase units; 0 to 1000000; whole"`
	Price float64 `json:"price" in:"price; 0 to 1e9"`
}

// CostOut is a sum and its tax.
type CostOut struct {
	Exact struct {
		Sum float64 `json:"sum"`
		Tax float64 `json:"tax"`
	} `json:"unrounded"`
	Rounded struct {
		LineCost []float64 `json:"line_cost"`
		Tax      float64   `json:"tax"`
		Total    float64   `json:"total"`
	} `json:"rounded"`
	Notes
}

// Cost adds prices up.
func Cost(in CostIn) (out CostOut, err error) {
	if err = ready(&in, &out.Notes); err != nil {
		return out, err
	}
	sum := 0.0
	for _, l := range in.Lines {
		cost := near(l.Packs*l.Price, .01)
		sum += cost
		out.Rounded.LineCost = append(out.Rounded.LineCost, cost)
		out.sayOf(l.Name, "%s × %s = %s", l.Packs, l.Price, cost)
	}
	tax := sum * in.TaxPct / 100
	out.Exact.Sum, out.Exact.Tax, out.Rounded.Tax, out.Rounded.Total = sum, tax, near(tax, .01), sum+near(tax, .01)
	out.say("sum %s; tax %s; total %s", sum, near(tax, .01), sum+near(tax, .01))
	return out, nil
}

type unitFactor struct {
	name string
	by   float64
}

// unitGroups are units that measure the same thing, each with its size. tex is upside
// down.
var unitGroups = [][]unitFactor{
	{{"mm", .001}, {"cm", .01}, {"m", 1}, {"in", .0254}, {"ft", .3048}, {"yd", .9144}},
	{{"g", 1}, {"kg", 1000}, {"oz", 28.349523125}, {"lb", 453.59237}},
	{{"ml", 1}, {"cm3", 1}, {"l", 1000}, {"tsp", 5}, {"tbsp", 15}, {"tsp_us", 4.92892159375}, {"tbsp_us", 14.78676478125},
		{"fl_oz_us", 29.5735295625}, {"fl_oz_uk", 28.4130625}, {"in3", 16.387064}},
	{{"cm2", .0001}, {"m2", 1}, {"in2", .00064516}, {"yd2", .83612736}},
	{{"m_per_kg", 1}, {"m_per_100g", 10}, {"m_per_g", 1000}, {"m_per_50g", 20}, {"yd_per_lb", 2.0159069254185207},
		{"ne_cotton", 1693.3618173515572}, {"ne_linen", 604.7720776255561}, {"nw_worsted", 1128.9078782343713}, {"tex", 1e6}},
	{{"per_cm", 1}, {"per_in", .39370078740157477}, {"per_10cm", .1}},
	{{"g_per_m2", 1}, {"oz_per_yd2", 33.9057474748823}},
}

// ConvertIn is a value in one unit, wanted in another of the same group.
type ConvertIn struct {
	Value float64 `json:"value" in:"value; 0 to 1e12"`
	From  string  `json:"from" in:"unit given; unit-names"`
	To    string  `json:"to" in:"unit wanted; unit-names"`
}

// ConvertOut is the value.
type ConvertOut struct {
	Exact struct {
		Value float64 `json:"value"`
	} `json:"unrounded"`
	Rounded struct {
		Value float64 `json:"value"`
	} `json:"rounded"`
	Notes
}

// Convert turns a value from one unit into another.
func Convert(in ConvertIn) (out ConvertOut, err error) {
	if err = ready(&in, &out.Notes); err != nil {
		return out, err
	}
	named := func(name string) func(unitFactor) bool { return func(u unitFactor) bool { return u.name == name } }
	for _, g := range unitGroups {
		at := slices.IndexFunc(g, named(in.From))
		if at < 0 {
			continue
		}
		other := slices.IndexFunc(g, named(in.To))
		if other < 0 {
			return out, fault("unit_mismatch", "to", "%s and %s do not measure the same thing.", in.From, in.To)
		}
		if in.Value == 0 && in.From != in.To && (in.From == "tex" || in.To == "tex") {
			return out, fault("not_positive", "value", "The value must be more than zero.")
		}
		base := in.Value * g[at].by
		if in.From == "tex" && in.Value != 0 {
			base = g[at].by / in.Value
		}
		value := base / g[other].by
		if in.To == "tex" && base != 0 {
			value = g[other].by / base
		}
		out.Exact.Value, out.Rounded.Value = value, near(value, .001)
		out.say("%s %s = %s %s", in.Value, in.From, value, in.To)
	}
	return out, nil
}

// unitNames are the names of all units.
func unitNames() (out []string) {
	for _, g := range unitGroups {
		for _, u := range g {
			out = append(out, u.name)
		}
	}
	return out
}
