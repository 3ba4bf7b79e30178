package shelf

import (
	"cmp"
	"fmt"
	"hash/fnv"
	"slices"
	"strings"

	"lampfern/core/colour"
	"lampfern/core/wheel"
)

// Offer is what of the shelf is offered to a plan: the cards of the kinds it is made of,
// those inside its limits before others.
type Offer struct {
	sh     *Shelf
	inside func(*Card) bool
	within *Shelf // the cards inside; sh itself where nothing is asked
	Left   int    // cards that are left out, being of other kinds
}

// outsideCosts is by how much farther off a card may be because it lies inside, in ΔE00.
const outsideCosts = 12.0

// Offer is what is offered of the shelf's cards of some kinds, all where there are none, and
// none where nothing is of these. inside tells which are to come first, nil for no matter which.
func (sh *Shelf) Offer(kinds []string, inside func(*Card) bool) *Offer {
	o := &Offer{sh: sh, inside: inside}
	if len(kinds) > 0 {
		o.sh = sh.only(func(c *Card) bool { return slices.Contains(kinds, c.Kind) })
		o.sh.part = fmt.Sprintf("-%x", fnv.New32a().Sum([]byte(strings.Join(kinds, "|"))))
	}
	o.Left = len(sh.Cards) - len(o.sh.Cards)
	o.within = o.sh
	if inside != nil {
		o.within = o.sh.only(inside)
	}
	return o
}

// only is the shelf with some of its cards; all can still be found by their number.
func (sh *Shelf) only(keep func(*Card) bool) *Shelf {
	out := emptyShelf(sh.version)
	out.read, out.byID = sh.read, sh.byID
	for _, c := range sh.Cards {
		if keep(c) {
			out.Cards = append(out.Cards, c)
		}
	}
	return out
}

// Only is what is offered of the cards that are kept.
func (o *Offer) Only(keep func(*Card) bool) *Offer {
	out := &Offer{sh: o.sh.only(keep), inside: o.inside, Left: o.Left}
	out.within = out.sh
	if o.inside != nil {
		out.within = out.sh.only(o.inside)
	}
	return out
}

// Shelf is the part of the shelf that is offered; every card can still be found by its number.
func (o *Offer) Shelf() *Shelf { return o.sh }

// Cards are the cards that are offered, in filing order.
func (o *Offer) Cards() []*Card { return o.sh.Cards }

// Nearest is Shelf.Nearest among what is offered: one outside the limits comes first only
// where it is far nearer.
func (o *Offer) Nearest(to colour.Lab, n int, except uint) []Near {
	return o.NearestBut(to, n, map[uint]bool{except: true})
}

// NearestBut is Nearest without the cards of some ids.
func (o *Offer) NearestBut(to colour.Lab, n int, without map[uint]bool) []Near {
	all := o.sh.NearestBut(to, n, without)
	if o.within == o.sh {
		return all
	}
	for _, in := range o.within.NearestBut(to, n, without) {
		if !slices.ContainsFunc(all, func(a Near) bool { return a.Card == in.Card }) {
			all = append(all, in)
		}
	}
	slices.SortStableFunc(all, func(a, b Near) int { return cmp.Compare(o.off(a), o.off(b)) })
	return all[:min(n, len(all))]
}

// off is how far off a card counts: further where it lies outside the limits.
func (o *Offer) off(x Near) float64 {
	if o.inside == nil || o.inside(x.Card) {
		return x.Apart
	}
	return x.Apart + outsideCosts
}

// first puts the cards inside the limits before the others.
func (o *Offer) first(all []*Card) []*Card {
	if o.within == o.sh {
		return all
	}
	out := make([]*Card, 0, len(all))
	for _, want := range []bool{true, false} {
		for _, c := range all {
			if o.inside(c) == want {
				out = append(out, c)
			}
		}
	}
	return out
}

// Within is Shelf.Within among what is offered.
func (o *Offer) Within(w wheel.Wheel, place, reach float64) []*Card {
	return o.first(o.sh.Within(w, place, reach))
}

// Matches is Shelf.Matches among what is offered.
func (o *Offer) Matches(w wheel.Wheel, place float64) []*Card {
	return o.first(o.sh.Matches(w, place))
}

// NearestTo is Shelf.NearestTo among what is offered.
func (o *Offer) NearestTo(ideals [2 * ValueSteps]Leaflet) []*Card {
	return o.first(o.sh.NearestTo(ideals))
}

// NearestHue is Shelf.NearestHue among what is offered, inside the limits where some are.
func (o *Offer) NearestHue(w wheel.Wheel, place float64) *Card {
	if c := o.within.NearestHue(w, place); c != nil {
		return c
	}
	return o.sh.NearestHue(w, place)
}
