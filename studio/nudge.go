package studio

import (
	"context"
	"fmt"
	"math/rand/v2"
	"slices"
	"sort"
	"strconv"
	"strings"

	"lampfern/core/brief"
	"lampfern/core/colour"
	"lampfern/core/wheel"
	"lampfern/store"
)

// MostSeed is the largest seed a hand can be dealt from.
const MostSeed = 999_999

// Nudge is what a maker asks of a hand.
type Nudge struct {
	Seed  int  // 0 for a new one
	Count int  // 0 for a sensible number
	Whole bool // from the whole wheel, not from the shelf
	Held  []string
}

// HandCard is one dealt card. Its token names it until it is taken.
type HandCard struct {
	*Card
	Token   string
	Held    bool
	Outside string // why it lies outside the brief, empty when it does not
}

// HandView is a dealt hand.
type HandView struct {
	Nudge
	Scheme string
	Cards  []HandCard
	Used   []colour.FamilyName // families this maker's other plans use most
	Rare   []colour.FamilyName // and least, of those that could be dealt
	Short  bool                // there were fewer cards than asked for
}

// Limits of a hand.
const (
	fewestDealt = 1
	mostDealt   = 12
	familiesSay = 3 // families named as used most and least
)

// ParseSeed reads a seed as a maker types it. Empty asks for a new hand.
func ParseSeed(words string) (int, error) {
	words = strings.TrimSpace(words)
	if words == "" {
		return 0, nil
	}
	n, err := strconv.Atoi(words)
	if err != nil || n < 1 || n > MostSeed {
		return 0, refuse("There is no hand %q: hands are numbered from 1 to %d. Leave the number empty for a new one.", words, MostSeed)
	}
	return n, nil
}

// Hand deals a hand for a plan, weighted toward what the maker's other plans
// used least.
func (s *Studio) Hand(ctx context.Context, p *Plan, n Nudge) (HandView, error) {
	if n.Seed == 0 {
		n.Seed = 1 + rand.IntN(MostSeed)
	}
	if n.Count == 0 {
		n.Count, _ = brief.SensibleCount(p.Craft)
		n.Count = min(max(n.Count, p.Brief.Count, len(n.Held)), mostDealt)
	}
	if n.Count < fewestDealt || n.Count > mostDealt {
		return HandView{}, refuse("A hand has %d to %d cards.", fewestDealt, mostDealt)
	}
	habits, err := s.habits(ctx, p)
	if err != nil {
		return HandView{}, err
	}
	w, v := p.OnWheel(), HandView{Nudge: n}
	var deck []*Card
	if n.Whole {
		deck = wholeWheel(w)
	} else {
		deck = slices.Clone(p.Shelf.Cards)
	}
	var held []int
	for _, token := range n.Held {
		c, err := p.dealt(token)
		if err != nil {
			return HandView{}, err
		}
		at := slices.IndexFunc(deck, func(o *Card) bool { return tokenOf(o) == token })
		if at < 0 {
			at, deck = len(deck), append(deck, c)
		}
		if !slices.Contains(held, at) {
			held = append(held, at)
		}
	}
	held = held[:min(len(held), n.Count)]
	cards := make([]brief.Card, len(deck))
	for i, c := range deck {
		cards[i] = brief.Card{Lab: c.Colour, Family: c.Family, Clearness: c.Clearness, Place: c.Place(w), Neutral: c.Neutral}
	}
	hand := brief.Deal(uint64(n.Seed), n.Count, cards, held, habits, w, p.Limits())
	v.Scheme, v.Short = hand.Scheme, len(hand.Cards) < n.Count
	for i, at := range hand.Cards {
		v.Cards = append(v.Cards, HandCard{deck[at], tokenOf(deck[at]), i < len(held), p.Outside(deck[at])})
	}
	v.Used, v.Rare = mostAndLeast(habits.Families, deck)
	return v, nil
}

// habits counts the families and schemes of the maker's other plans.
func (s *Studio) habits(ctx context.Context, but *Plan) (brief.Habits, error) {
	h := brief.Habits{Families: map[colour.FamilyName]int{}, Schemes: map[string]int{}}
	rows, err := s.store.Read(ctx).Plans()
	if err != nil {
		return h, fmt.Errorf("reading the plans: %w", err)
	}
	for _, r := range rows {
		if r.ID == but.ID {
			continue
		}
		if r.Scheme != "" {
			h.Schemes[r.Scheme]++
		}
		for _, e := range r.Entries {
			if c, err := but.Shelf.of(e); err == nil {
				h.Families[c.Family]++
			}
		}
	}
	return h, nil
}

// mostAndLeast names the families used most and least among those of a deck.
func mostAndLeast(used map[colour.FamilyName]int, deck []*Card) (most, least []colour.FamilyName) {
	var all []colour.FamilyName
	for _, f := range colour.Families() {
		if slices.ContainsFunc(deck, func(c *Card) bool { return c.Family == f }) {
			all = append(all, f)
		}
	}
	sort.SliceStable(all, func(i, j int) bool { return used[all[i]] > used[all[j]] })
	if len(used) == 0 || len(all) < 2*familiesSay {
		return nil, nil
	}
	return all[:familiesSay], all[len(all)-familiesSay:]
}

// wholeWheel is every leaflet of a wheel, and a row of neutrals, as free
// colours.
func wholeWheel(w wheel.Wheel) []*Card {
	var all []*Card
	for place := range wheel.Places {
		for b := range Bands {
			for _, clear := range []bool{false, true} {
				all = append(all, wheelCard(w, place, b, clear))
			}
		}
	}
	for v := range neutralSteps {
		all = append(all, neutralCard(v))
	}
	return all
}

// neutralSteps is how many neutrals the whole wheel has, white to black.
const neutralSteps = 5

func neutralCard(step int) *Card {
	l := 12 + 20.5*float64(step)
	c := freeCard(fmt.Sprintf("Neutral of value %.1f", l/10), colour.Lab{L: l})
	c.token = fmt.Sprintf("n%d", step)
	return c
}

func wheelCard(w wheel.Wheel, place, band int, clear bool) *Card {
	lab, _ := ideal(w, float64(place), band, clear)
	c := freeCard(IdealName(w.Name(float64(place)), band, clear), lab)
	side := 0
	if clear {
		side = 1
	}
	c.token = fmt.Sprintf("w%d.%d", w.Number(), place*2*Bands+2*band+side)
	return c
}

// freeCard is the card of a colour that no material has.
func freeCard(name string, c colour.Lab) *Card {
	return newCard(store.Material{Name: name, Kind: FreeKind, L: c.L, A: c.A, B: c.B, Source: "typed"})
}

// tokenOf names a card of a hand: m and a material's number, w and a wheel's and
// a leaflet's, n and a neutral's, k and the key of a free colour of the tray.
func tokenOf(c *Card) string {
	if c.token != "" {
		return c.token
	}
	return fmt.Sprintf("m%d", c.ID)
}

// TrayToken names a card of the tray, to be held in a hand.
func TrayToken(t TrayCard) string {
	if t.ID == 0 {
		return fmt.Sprintf("k%d", t.Key)
	}
	return tokenOf(t.Card)
}

// dealt is the card a token names.
func (p *Plan) dealt(token string) (*Card, error) {
	var a, b int
	if n, err := fmt.Sscanf(token, "w%d.%d", &a, &b); n == 2 && err == nil && a >= 0 && a < wheels && b >= 0 && b < wheel.Places*2*Bands {
		return wheelCard(wheel.Wheels()[a], b/(2*Bands), b%(2*Bands)/2, b%2 == 1), nil
	}
	if n, err := fmt.Sscanf(token, "n%d", &a); n == 1 && err == nil && a >= 0 && a < neutralSteps {
		return neutralCard(a), nil
	}
	if n, err := fmt.Sscanf(token, "k%d", &a); n == 1 && err == nil {
		for _, t := range p.Tray {
			if t.Key == a {
				held := *t.Card
				if held.ID == 0 {
					held.token = token
				}
				return &held, nil
			}
		}
	}
	if n, err := fmt.Sscanf(token, "m%d", &a); n == 1 && err == nil && a > 0 {
		if c, err := p.Shelf.Card(uint(a)); err == nil && !c.Removed {
			return c, nil
		}
	}
	return nil, refuse("A card of this hand is no longer there: deal it again.")
}

// TakeHand puts a dealt hand into the tray and lights its scheme from its first
// card with a hue: beside what lies there, or in its place.
func TakeHand(tokens []string, scheme string, instead bool) Edit {
	return func(d *draft) (string, error) {
		if len(tokens) == 0 || len(tokens) > mostDealt {
			return "", refuse("A hand has %d to %d cards.", fewestDealt, mostDealt)
		}
		p, err := d.studio.furnish(*d.plan, d.shelf)
		if err != nil {
			return "", err
		}
		var cards []*Card
		for _, token := range tokens {
			c, err := p.dealt(token)
			if err != nil {
				return "", err
			}
			cards = append(cards, c)
		}
		if instead {
			d.plan.Entries, d.plan.Fills, d.plan.LeadID, d.plan.LeadKey = nil, nil, nil, 0
		}
		for _, c := range cards {
			if err := d.take(c); err != nil {
				return "", err
			}
		}
		if err := d.leadAmong(cards); err != nil {
			return "", err
		}
		d.plan.Scheme, d.plan.Neighbours, d.plan.OneSided, d.plan.Centred, d.plan.Wide = scheme, 0, false, false, false
		d.plan.Adjusted = nil
		return fmt.Sprintf("take a hand of %d", len(cards)), nil
	}
}

// leadAmong makes the first card with a hue, of those that lie in the tray, the
// lead colour.
func (d *draft) leadAmong(cards []*Card) error {
	for _, c := range cards {
		if c.Neutral {
			continue
		}
		for _, e := range d.plan.Entries {
			if e.MaterialID != nil && *e.MaterialID == c.ID || e.MaterialID == nil && e.Name == c.Name && e.L == c.Colour.L && e.A == c.Colour.A {
				_, err := LeadWithCard(e.Key)(d)
				return err
			}
		}
	}
	return nil
}

// OtherRoles keeps the cards and gives each another part of the piece, by a
// seed.
func OtherRoles(seed int) Edit {
	return func(d *draft) (string, error) {
		var keys []int // cards that fill a part, in tray order
		for _, e := range d.plan.Entries {
			if slices.ContainsFunc(d.plan.Fills, func(f store.Fill) bool { return f.EntryKey == e.Key }) {
				keys = append(keys, e.Key)
			}
		}
		if len(keys) < 2 {
			return "", refuse("Two cards of the tray must fill parts of a piece before they can trade roles: choose a piece on Proportion first.")
		}
		next := map[int]int{}
		for i, to := range brief.Shuffle(uint64(seed), len(keys)) {
			next[keys[i]] = keys[to]
		}
		for i := range d.plan.Fills {
			f := &d.plan.Fills[i]
			f.EntryKey = next[f.EntryKey]
		}
		return "other roles for the same cards", nil
	}
}
