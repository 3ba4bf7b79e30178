package brief

import (
	"math"
	"math/rand/v2"
	"slices"

	"lampfern/core/colour"
	"lampfern/core/wheel"
)

// Card is a colour that can be dealt.
type Card struct {
	Lab       colour.Lab
	Family    colour.FamilyName
	Clearness float64
	Place     float64 // on the wheel in use; meaningless when Neutral
	Neutral   bool
	Fresh     bool // it lies in no plan's tray
}

// Habits is how often a maker's plans used each family and each scheme, and what the maker
// says to like.
type Habits struct {
	Taste    Taste
	Families map[colour.FamilyName]int
	Schemes  map[string]int
}

// Hand is what was dealt: the cards by index, the held ones first, and the
// scheme they follow, empty for none.
type Hand struct {
	Scheme string
	Lead   float64 // the place the scheme starts from
	Cards  []int
}

// Shape of a hand.
const (
	neutralFrom  = 4    // hands of so many cards and more take one neutral
	reach        = 0.5  // how far, in places, a card may lie from its place
	outsideOdds  = 0.02 // what a card outside the limits is worth beside one inside
	freshOdds    = 1.5  // what a card that was never used is worth beside one that was
	valueSpread  = 18   // L* that makes a card as unlike its neighbours as need be
	closestValue = 0.15
)

// Deal deals n cards, those held among them. The same seed and the same cards
// give the same hand. Families and schemes that the maker used least come up
// most; cards outside the limits seldom. There may be fewer than n cards to
// deal.
func Deal(seed uint64, n int, cards []Card, held []int, h Habits, w wheel.Wheel, l Limits) Hand {
	rnd := rand.New(rand.NewPCG(seed, seed))
	hand := Hand{Cards: slices.Clone(held)}
	taste := h.Taste.odds()
	odds := func(i int) float64 {
		o := taste(cards[i]) / float64(1+h.Families[cards[i].Family])
		if cards[i].Fresh {
			o *= freshOdds
		}
		if l.Ask() && l.OutsideAs(cards[i].Lab, cards[i].Clearness, cards[i].Family) != "" {
			o *= outsideOdds
		}
		return o
	}
	hues := n // but for the one neutral of a larger hand
	if n >= neutralFrom {
		hues--
	}
	hand.Scheme = dealScheme(rnd, h, l, hues)
	lead := slices.IndexFunc(held, func(i int) bool { return !cards[i].Neutral })
	switch {
	case lead >= 0:
		hand.Lead = cards[held[lead]].Place
	default:
		at := draw(rnd, len(cards), leadOdds(cards, odds, hand.Scheme))
		if at >= 0 {
			hand.Lead = cards[at].Place
			if len(hand.Cards) < n {
				hand.Cards = append(hand.Cards, at)
			}
		}
	}
	places, err := wheel.Scheme(hand.Scheme, hand.Lead, w)
	if err != nil || len(places) == 0 {
		places = []float64{hand.Lead}
	}
	for len(hand.Cards) < n {
		at := -1
		hasNeutral := slices.ContainsFunc(hand.Cards, func(i int) bool { return cards[i].Neutral })
		if n >= neutralFrom && len(hand.Cards) == n-1 && !hasNeutral {
			at = dealOne(rnd, cards, hand.Cards, odds, func(c Card) bool { return c.Neutral })
		}
		place := places[len(hand.Cards)%len(places)]
		if open := slices.IndexFunc(places, func(p float64) bool { return !hand.at(cards, p) }); open >= 0 {
			place = places[open] // one that has no card yet
		}
		if at < 0 {
			at = dealOne(rnd, cards, hand.Cards, odds, func(c Card) bool { return !c.Neutral && wheel.Apart(c.Place, place) <= reach })
		}
		if at < 0 { // nothing at that place: anything not dealt yet
			at = dealOne(rnd, cards, hand.Cards, odds, func(Card) bool { return true })
		}
		if at < 0 {
			break
		}
		hand.Cards = append(hand.Cards, at)
	}
	for _, place := range places { // a hand that lacks one of its places is of no scheme
		if !hand.at(cards, place) {
			hand.Scheme = ""
		}
	}
	return hand
}

// at reports whether some card of the hand lies at a place.
func (h Hand) at(cards []Card, place float64) bool {
	return slices.ContainsFunc(h.Cards, func(i int) bool { return !cards[i].Neutral && wheel.Apart(cards[i].Place, place) <= reach })
}

// leadOdds is how likely each card is to lead a scheme: by its own odds, and by
// those of what lies at the scheme's other places from there.
func leadOdds(cards []Card, odds func(int) float64, scheme string) func(int) float64 {
	var sum, n [wheel.Places]float64
	at := func(place float64) int { return int(math.Round(wheel.Turn(place, 0))) % wheel.Places }
	for i, c := range cards {
		if !c.Neutral {
			sum[at(c.Place)] += odds(i)
			n[at(c.Place)]++
		}
	}
	steps, err := wheel.Scheme(scheme, 0, wheel.Pigment)
	if err != nil {
		steps = nil
	}
	return func(i int) float64 {
		if cards[i].Neutral {
			return 0
		}
		o := odds(i)
		for _, step := range steps {
			p := wheel.Turn(cards[i].Place, step)
			if k := at(p); n[k] > 0 && wheel.Apart(p, cards[i].Place) > reach {
				o *= sum[k] / n[k]
			}
		}
		return o
	}
}

// dealScheme chooses among the schemes with hues for which n cards are enough; favoured ones
// count double.
func dealScheme(rnd *rand.Rand, h Habits, l Limits, n int) string {
	all := wheel.Schemes()
	at := draw(rnd, len(all), func(i int) float64 {
		places, err := wheel.Scheme(all[i].Name, 0, wheel.Pigment)
		if err != nil || len(places) == 0 || len(places) > n {
			return 0
		}
		o := 1 / float64(1+h.Schemes[all[i].Name])
		if slices.Contains(l.Schemes, all[i].Name) {
			o *= 2
		}
		return o
	})
	return all[at].Name
}

// dealOne deals a card that fits and is not dealt yet, sooner one whose value
// is unlike those dealt; −1 when there is none.
func dealOne(rnd *rand.Rand, cards []Card, dealt []int, odds func(int) float64, fits func(Card) bool) int {
	return draw(rnd, len(cards), func(i int) float64 {
		if !fits(cards[i]) || slices.Contains(dealt, i) {
			return 0
		}
		nearest := math.Inf(1)
		for _, d := range dealt {
			nearest = math.Min(nearest, math.Abs(cards[i].Lab.L-cards[d].Lab.L))
		}
		return odds(i) * math.Max(closestValue, math.Min(1, nearest/valueSpread))
	})
}

// draw draws one of n by its odds; −1 when all odds are 0.
func draw(rnd *rand.Rand, n int, odds func(int) float64) int {
	all, sum := make([]float64, n), 0.0
	for i := range all {
		all[i] = odds(i)
		sum += all[i]
	}
	if sum == 0 {
		return -1
	}
	pick := rnd.Float64() * sum
	last := -1
	for i, o := range all {
		if o == 0 {
			continue
		}
		if last = i; pick < o {
			return i
		}
		pick -= o
	}
	return last
}

// Shuffle returns the numbers 0 to n−1 in an order that follows from the seed
// and leaves as few as can be where they were: the same cards in other roles.
func Shuffle(seed uint64, n int) []int {
	rnd := rand.New(rand.NewPCG(seed, seed))
	order := rnd.Perm(n)
	// Rotating a permutation along its own values moves everything.
	out := make([]int, n)
	for i := range order {
		out[order[i]] = order[(i+1)%n]
	}
	return out
}
