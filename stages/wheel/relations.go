package wheel

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"lampfern/core/balance"
	"lampfern/core/material"
	"lampfern/core/wheel"
	"lampfern/core/words"
	"lampfern/plan"
	"lampfern/shelf"
)

// FreeView is a free colour of the tray with the materials that could take its
// place: of its hue, and nearest of all.
type FreeView struct {
	plan.TrayCard
	OfHue   *shelf.Card
	Nearest *shelf.Card
	Apart   float64 // of Nearest, ΔE00
}

// relations works out what the cards of the tray do to one another.
func relations(p *plan.Plan, v *WheelView) {
	if len(p.Tray) == 0 {
		return
	}
	v.Made = made(p, *v)
	v.Warm, v.Cool, v.Grey, v.ByArea = p.Temperatures()
	v.Warmest = p.InScheme()
	slices.SortStableFunc(v.Warmest, func(a, b plan.TrayCard) int {
		return int(math.Copysign(1, wheel.Warmth(b.Colour)-wheel.Warmth(a.Colour)))
	})
	pairs(p, v)
	for _, t := range p.InScheme() {
		if t.ID == 0 && t.Movable() {
			v.Free = append(v.Free, free(p, t))
		}
	}
}

// pairsShown is how many pairs that do not compete are told.
const pairsShown = 3

// pairs tells what the cards do two by two.
func pairs(p *plan.Plan, v *WheelView) {
	var unsettled []string
	for _, c := range p.Competing() {
		if len(c.Swaps) > 0 {
			v.Competing = append(v.Competing, c)
		} else {
			unsettled = append(unsettled, words.All([]string{c.Lesser.Name, c.Other.Name}))
		}
	}
	switch n := len(unsettled); {
	case n == 1:
		v.Unsettled = unsettled[0] + " compete, and you own nothing to settle it. Give one far more room."
	case n > 1:
		v.Unsettled = strings.Join(unsettled, "; ") + ": these pairs compete, and you own nothing to settle them. Give one of each far more room."
	}
	for _, pair := range balance.Pairs(p.Judged(), p.Colours(), p.Eye()) {
		if len(v.Pairs) == pairsShown {
			break
		}
		said := words.All([]string{p.Tray[pair.Lesser].Name, p.Tray[pair.Other].Name})
		switch pair.Relation {
		case balance.Vibrates:
			v.Pairs = append(v.Pairs, fmt.Sprintf("%s shimmer where they meet: %s.", said, pair.Why))
		case balance.Holds:
			v.Pairs = append(v.Pairs, fmt.Sprintf("%s hold together: %s.", said, pair.Why))
		case balance.Enlivens:
			v.Pairs = append(v.Pairs, fmt.Sprintf("%s are lively together: %s.", said, pair.Why))
		case balance.Echoes:
			v.Pairs = append(v.Pairs, fmt.Sprintf("%s echo one another: %s.", said, pair.Why))
		case balance.Bridged:
			var by []string
			for _, k := range pair.By {
				by = append(by, p.Tray[k].Name)
			}
			v.Pairs = append(v.Pairs, fmt.Sprintf("%s would compete without %s between them.", said, words.All(by)))
		}
	}
}

// completingShown is how many cards are offered for a place that would complete
// a scheme.
const completingShown = 4

// made recognises the scheme the tray's cards come nearest to.
func made(p *plan.Plan, v WheelView) *Made {
	w := v.Wheel
	var hues []wheel.Hue
	var names []string
	placed := slices.ContainsFunc(p.InScheme(), func(t plan.TrayCard) bool { return t.Share > 0 && !t.Neutral })
	worn := p.Craft == "garment" // navy and olive are neutrals of a wardrobe
	for _, t := range p.InScheme() {
		if t.Neutral && t.Printed() == nil || placed && t.Share == 0 || worn && t.Colour.Basic() { // what is placed makes the scheme
			continue
		}
		room := 1.0
		if placed {
			room = t.Share
		}
		printed := t.Printed()
		if printed == nil {
			printed = []material.Portion{{Colour: t.Colour, Share: 1}}
		}
		for _, f := range printed {
			if !f.Colour.Neutral() {
				hues = append(hues, wheel.Hue{Place: w.Place(f.Colour.OKLCh()), Weight: room * f.Share * f.Colour.Chroma()})
				names = append(names, t.Name)
			}
		}
	}
	l, ok := wheel.Recognise(hues)
	switch {
	case !ok && len(p.InScheme()) == 1:
		return &Made{Words: "A single neutral is not a scheme."}
	case !ok:
		return &Made{Likeness: wheel.Likeness{Scheme: "achromatic"}, Words: "Your cards are all neutral, separated by value alone."}
	case len(hues) == 1:
		return &Made{Likeness: l, Words: fmt.Sprintf("A single hue, %s, is not a scheme. Its tints and shades would make a monochromatic one.",
			w.Describe(hues[0].Place)), Turn: turnTo(p, v, l.Lead)}
	}
	m := &Made{Likeness: l, Turn: turnTo(p, v, l.Lead)}
	cards := "Your cards"
	if placed {
		cards = "The cards on the piece"
	}
	m.Words = fmt.Sprintf("%s are not a scheme; the closest is %s from %s", cards, l.Scheme, w.Describe(l.Lead))
	if l.Named {
		m.Words = fmt.Sprintf("%s are a scheme: %s from %s", cards, l.Scheme, w.Describe(l.Lead))
	}
	if l.Off*degreesPerPlace >= 1 {
		m.Words += fmt.Sprintf(" (%.0f° off)", l.Off*degreesPerPlace)
	}
	m.Words += "."
	if n := len(l.Outside); n > 0 {
		var outside []string
		for _, i := range l.Outside {
			if !slices.Contains(outside, names[i]) {
				outside = append(outside, names[i])
			}
		}
		verb := " is the exception."
		if n > 1 {
			verb = " are the exceptions."
		}
		m.Words += " " + words.List(outside) + verb
	}
	for _, at := range l.Missing {
		pl := PlaceView{Place: at, Name: w.Describe(at), Matches: p.Offers().Matches(w, at), Nearest: p.Offers().NearestHue(w, at)}
		pl.Matches = pl.Matches[:min(completingShown, len(pl.Matches))]
		m.Missing = append(m.Missing, pl)
	}
	return m
}

// turnTo is how many whole places the light must be turned so that a scheme
// starts nearest to a place.
func turnTo(p *plan.Plan, v WheelView, place float64) int {
	from := 0.0
	if v.LeadKnown {
		from = v.Start.Place(v.Wheel)
	}
	return int(math.Round(wheel.Turn(place, -from))) % wheel.Places
}

// free finds what could take a free colour's place.
func free(p *plan.Plan, t plan.TrayCard) FreeView {
	f := FreeView{TrayCard: t}
	if near := p.Offers().Nearest(t.Colour, 1, 0); len(near) > 0 {
		f.Nearest, f.Apart = near[0].Card, near[0].Apart
	}
	if t.Neutral {
		return f
	}
	w, best := p.OnWheel(), math.Inf(1)
	for _, c := range p.Offers().Within(w, t.Place(w), shelf.MatchWithin/2) {
		// Of the hue, whatever its value: only clearness still counts.
		if d := wheel.Apart(c.Place(w), t.Place(w)) + math.Abs(c.Clearness-t.Clearness); d < best {
			f.OfHue, best = c, d
		}
	}
	return f
}
