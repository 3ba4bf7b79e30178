package wheel

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
	"lampfern/core/craft"
	"lampfern/core/form"
	"lampfern/core/wheel"
	"lampfern/core/words"
	"lampfern/plan"
	"lampfern/shelf"
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
	*shelf.Card
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

	Likes, Dislikes []string // what the maker says to like and dislike, as far as it is understood
}

// Limits of a hand.
const (
	fewestDealt = 1
	mostDealt   = 12
	familiesSay = 3 // families named as used most and least
)

// ParseSeed reads a seed as a maker types it. Empty asks for a new hand.
func ParseSeed(said string) (int, error) {
	said = strings.TrimSpace(said)
	if said == "" {
		return 0, nil
	}
	n, err := strconv.Atoi(said)
	if err != nil || n < 1 || n > MostSeed {
		return 0, words.Refuse("There is no palette %q. Palettes are numbered from 1 to %d; leave it empty for a new one.", said, MostSeed)
	}
	return n, nil
}

// Hand deals a hand for a plan, weighted toward what the maker's other plans
// used least.
func Hand(ctx context.Context, s *plan.Desk, p *plan.Plan, n Nudge) (HandView, error) {
	if n.Seed == 0 {
		n.Seed = 1 + rand.IntN(MostSeed)
	}
	if n.Count == 0 {
		of, _ := craft.Named(p.Craft)
		n.Count = of.From
		n.Count = min(max(n.Count, p.Asked().Count, len(n.Held)), mostDealt)
	}
	if n.Count < fewestDealt || n.Count > mostDealt {
		return HandView{}, words.Refuse("A palette has %d to %d cards.", fewestDealt, mostDealt)
	}
	habits, err := habits(ctx, s, p)
	if err != nil {
		return HandView{}, err
	}
	w, v := p.OnWheel(), HandView{Nudge: n}
	var deck []*shelf.Card
	if n.Whole {
		deck = wholeWheel(w)
	} else {
		deck = slices.Clone(p.Offers().Cards())
	}
	// What the brief rules out is not dealt, as long as there is enough beside it.
	if inside := slices.DeleteFunc(slices.Clone(deck), func(c *shelf.Card) bool { return p.Outside(c) != "" }); len(inside) >= n.Count {
		deck = inside
	}
	var held []int
	for _, token := range n.Held {
		c, err := p.Dealt(token)
		if err != nil {
			return HandView{}, err
		}
		at := slices.IndexFunc(deck, func(o *shelf.Card) bool { return shelf.TokenOf(o) == token })
		if at < 0 {
			at, deck = len(deck), append(deck, c)
		}
		if !slices.Contains(held, at) {
			held = append(held, at)
		}
	}
	held = held[:min(len(held), n.Count)]
	trays, err := s.Trays(ctx)
	if err != nil {
		return HandView{}, err
	}
	if habits.Taste, err = s.Taste(ctx); err != nil {
		return HandView{}, err
	}
	cards := shelf.Dealt(deck, w, trays.Used(p.ID))
	for _, r := range habits.Taste.Read(nil) {
		if r.Liked {
			v.Likes = append(v.Likes, r.Word)
		} else {
			v.Dislikes = append(v.Dislikes, r.Word)
		}
	}
	hand := brief.Deal(uint64(n.Seed), n.Count, cards, held, habits, w, p.Limits())
	v.Scheme, v.Short = hand.Scheme, len(hand.Cards) < n.Count
	for i, at := range hand.Cards {
		v.Cards = append(v.Cards, HandCard{deck[at], shelf.TokenOf(deck[at]), i < len(held), p.Outside(deck[at])})
	}
	v.Used, v.Rare = mostAndLeast(habits.Families, deck)
	return v, nil
}

// habits counts the families and schemes of the maker's other plans.
func habits(ctx context.Context, k *plan.Desk, but *plan.Plan) (brief.Habits, error) {
	h := brief.Habits{Families: map[colour.FamilyName]int{}, Schemes: map[string]int{}}
	rows, err := k.Plans(ctx)
	if err != nil {
		return h, err
	}
	sections, err := plan.EverySection[Section](ctx, k, Key)
	if err != nil {
		return h, err
	}
	for _, r := range rows {
		if r.ID == but.ID {
			continue
		}
		if s := sections[r.ID]; s != nil && s.Scheme != "" {
			h.Schemes[s.Scheme]++
		}
		for _, c := range r.Cards {
			h.Families[c.Family]++
		}
	}
	return h, nil
}

// mostAndLeast names the families used most and least among those of a deck.
func mostAndLeast(used map[colour.FamilyName]int, deck []*shelf.Card) (most, least []colour.FamilyName) {
	var all []colour.FamilyName
	for _, f := range colour.Families() {
		if slices.ContainsFunc(deck, func(c *shelf.Card) bool { return c.Family == f }) {
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
func wholeWheel(w wheel.Wheel) []*shelf.Card {
	var all []*shelf.Card
	for place := range wheel.Places {
		for b := range shelf.ValueSteps {
			for _, clear := range []bool{false, true} {
				all = append(all, shelf.WheelCard(w, place, b, clear))
			}
		}
	}
	for v := range shelf.NeutralSteps {
		all = append(all, shelf.NeutralCard(v))
	}
	return all
}

// TakeHand puts a dealt hand into the tray and lights its scheme from its first
// card with a hue: beside what lies there, or in its place.
type TakeHand struct {
	Tokens  []string
	Scheme  string `form:"scheme"`
	Instead bool   `form:"instead"`
}

func (e *TakeHand) Read(f *form.Form) error {
	e.Tokens = strings.Split(f.Text("cards"), ",")
	return nil
}

func (e TakeHand) Do(d *plan.Draft) (string, error) {
	if len(e.Tokens) == 0 || len(e.Tokens) > mostDealt {
		return "", words.Refuse("A palette has %d to %d cards.", fewestDealt, mostDealt)
	}
	p, err := d.View()
	if err != nil {
		return "", err
	}
	var cards []*shelf.Card
	for _, token := range e.Tokens {
		c, err := p.Dealt(token)
		if err != nil {
			return "", err
		}
		cards = append(cards, c)
	}
	if e.Instead {
		d.Plan.Entries, d.Plan.Fills, d.Plan.LeadID, d.Plan.LeadKey = nil, nil, nil, 0
	}
	for _, c := range cards {
		if err := d.Take(c); err != nil {
			return "", err
		}
	}
	if err := leadAmong(d, cards); err != nil {
		return "", err
	}
	Of(d.Plan).Scheme, Of(d.Plan).Neighbours, Of(d.Plan).OneSided, Of(d.Plan).Centred, Of(d.Plan).Wide = e.Scheme, 0, false, false, false
	Of(d.Plan).Adjusted = nil
	return fmt.Sprintf("use a suggested palette of %d", len(cards)), nil
}

// leadAmong makes the first card with a hue, of those that lie in the tray, the
// lead colour.
func leadAmong(d *plan.Draft, cards []*shelf.Card) error {
	for _, c := range cards {
		if c.Neutral {
			continue
		}
		for _, e := range d.Plan.Entries {
			if e.MaterialID != nil && *e.MaterialID == c.ID || e.MaterialID == nil && e.Name == c.Name && e.L == c.Colour.L && e.A == c.Colour.A {
				_, err := plan.LeadWithCard{Key: e.Key}.Do(d)
				return err
			}
		}
	}
	return nil
}

// OtherRoles keeps the cards and gives each another part of the piece, by a
// seed.
type OtherRoles struct {
	Seed int `form:"seed"`
}

func (x OtherRoles) Do(d *plan.Draft) (string, error) {
	var keys []int // cards that fill a part, in tray order
	for _, e := range d.Plan.Entries {
		if slices.ContainsFunc(d.Plan.Fills, func(f plan.Fill) bool { return f.EntryKey == e.Key }) {
			keys = append(keys, e.Key)
		}
	}
	if len(keys) < 2 {
		return "",
			words.Refuse("Use at least two cards on a piece first. Choose one on Proportion.")
	}
	next := map[int]int{}
	for i, to := range brief.Shuffle(uint64(x.Seed), len(keys)) {
		next[keys[i]] = keys[to]
	}
	for i := range d.Plan.Fills {
		f := &d.Plan.Fills[i]
		f.EntryKey = next[f.EntryKey]
	}
	return "swap the roles", nil
}
