package balance

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"lampfern/core/colour"
	"lampfern/core/note"
	"lampfern/core/wheel"
	"lampfern/core/words"
)

// Relation is what two colours do to one another.
type Relation string

// The relations, in the order in which they are looked for.
const (
	Vibrates Relation = "vibrates" // their edge shimmers
	Holds    Relation = "holds"    // one contrast ties them, the other gives way
	Enlivens Relation = "enlivens" // both at full strength, and wanted so
	Competes Relation = "competes" // both at full strength, and neither gives way
	Echoes   Relation = "echoes"   // one is the other's tint, tone or shade
	Bridged  Relation = "bridged"  // they would compete, but another lies between them
)

// Eye is how a maker judges pairs. Its zero value goes by the painters' wheel, and calls clear
// colours that are neither neighbours nor opposites competing.
type Eye struct {
	Wheel  wheel.Wheel
	School wheel.School // of warm and cool
	Lively bool         // clear colours together are wanted: by the maker's school, or a mood of play
	Places []float64    // of the scheme that is asked for; nil for none
}

// When two colours hold, compete or echo. Starting values; distances are places of the wheel.
const (
	competeFrom      = 2.5  // from here on they are no neighbours: red and orange, blue and green are two apart and jar nobody
	oppositeFrom     = 4.9  // 5, opposites and split complements, less what rounding to hex moves a hue
	fullOpposite     = 5.5  // from here on they are called opposites, and near opposites before
	competeLightness = 25.0 // L*
	competeForce     = 0.6  // of the strongest of its hue: what is softer fights nothing
	competeChroma    = 34.0 // C*ab; the clearest turquoise has no more than 36
	competeAreas     = 3.0  // the larger at most so many times the smaller
	softForce        = 0.7  // under it a colour is softened
	quietForce       = 0.35 // under it a colour is quiet enough to be a ground
	hueChroma        = 12.0 // C*ab from which a colour has a hue that pairs are judged by
	greyedClearness  = 0.35
	freshClearness   = 0.5  // from here on a colour is no greyed one
	echoHue          = 12.0 // degrees of OKLCh
	echoApart        = 12.0 // ΔE00
	wantedWithin     = 0.5  // places from a place of the scheme that is asked for
	betweenLightness = 5.0  // L* that a colour between two may lie outside them

	vibratesLightness = 10.0 // L*
	vibratesChroma    = 45.0 // C*ab of both
)

// on is the wheel that distances are measured on.
func (e Eye) on() wheel.Wheel {
	if e.Wheel.Key == "" {
		return wheel.Pigment
	}
	return e.Wheel
}

func (e Eye) place(c colour.Lab) float64 { return e.on().Place(c.OKLCh()) }

// wants reports whether both colours lie in places of the scheme that is asked for.
func (e Eye) wants(a, b colour.Lab) bool {
	in := func(c colour.Lab) bool {
		return slices.ContainsFunc(e.Places, func(at float64) bool { return wheel.Apart(at, e.place(c)) <= wantedWithin })
	}
	return in(a) && in(b)
}

// Judge tells what two colours do to one another and why, in words; empty where they do
// nothing that is worth a word. Shares of 0 mean that areas are not known yet, and are taken as equal.
func (e Eye) Judge(a, b colour.Lab, shareA, shareB float64, touch bool) (Relation, string) {
	apart := wheel.Apart(e.place(a), e.place(b))
	darker := math.Abs(a.L - b.L)
	hues := a.Chroma() >= hueChroma && b.Chroma() >= hueChroma
	areas := 1.0
	if less, more := min(shareA, shareB), max(shareA, shareB); less > 0 {
		areas = more / less
	}
	if touch && apart >= oppositeFrom && darker < vibratesLightness && min(a.Chroma(), b.Chroma()) >= vibratesChroma {
		return Vibrates, "strong opposites of the same value"
	}
	if hues && apart >= oppositeFrom {
		said := "opposites"
		if apart < fullOpposite {
			said = "near opposites"
		}
		softA, softB := a.Force() < softForce, b.Force() < softForce
		switch {
		case softA && softB:
			return Holds, said + ", both softened"
		case softA || softB:
			return Holds, said + ", one of them softened"
		case areas >= competeAreas:
			return Holds, said + ", one with far less room"
		}
		return Enlivens, said + " at full strength"
	}
	if r, why := e.contrasts(a, b, shareA, shareB); r != "" {
		return r, why
	}
	full := func(c colour.Lab) bool { return c.Force() >= competeForce && c.Chroma() >= competeChroma }
	if full(a) && full(b) && apart >= competeFrom && apart < oppositeFrom && darker < competeLightness && areas < competeAreas {
		switch {
		case e.wants(a, b):
			return Enlivens, "both clear, and part of the scheme you chose"
		case e.Lively:
			return Enlivens, "both clear, and meant to play"
		}
		return Competes, "both clear, of similar value and area"
	}
	if hues && math.Abs(colour.HueBetween(a.OKLCh().H, b.OKLCh().H)) <= echoHue && colour.DeltaE2000(a, b) >= echoApart {
		if darker >= lostLightness {
			return Echoes, "one hue, lighter and darker"
		}
		return Echoes, "one hue, clearer and softer"
	}
	return "", ""
}

// contrasts tells what holds a pair by temperature or clearness, where one gives way.
func (e Eye) contrasts(a, b colour.Lab, shareA, shareB float64) (Relation, string) {
	greyed := func(c colour.Lab) bool { return c.Clearness() < greyedClearness || c.Chroma() < hueChroma }
	if shareA > shareB {
		a, b, shareA, shareB = b, a, shareB, shareA
	}
	quiet := greyed(b) || b.Force() < quietForce
	if clear := a.Clearness() >= colour.ClearFrom && a.Chroma() >= competeChroma; clear && quiet && shareA > 0 &&
		shareB >= competeAreas*shareA {
		return Holds, "a little of a clear colour on a quiet one"
	}
	if warm, other := e.School.Temperature(a), e.School.Temperature(b); warm != wheel.Neutral && other != wheel.Neutral && warm != other &&
		min(a.Chroma(), b.Chroma()) >= hueChroma && min(a.Clearness(), b.Clearness()) < greyedClearness &&
		max(a.Clearness(), b.Clearness()) >= freshClearness {
		return Holds, "warm beside cool, one of them muted"
	}
	return "", ""
}

// Pair is two colours and what they do to one another. Lesser has less room.
type Pair struct {
	Lesser, Other int
	Relation      Relation
	Why           string
	By            []int   // the colours between them, where they are bridged
	Weight        float64 // how much of the piece speaks: share and border
}

// Pairs judges every two of the placed colours, the weightiest first: a print by the colour that covers most
// of it, and not beside what it holds.
func Pairs(l Layout, cs []Colour, eye Eye) []Pair {
	var out []Pair
	c := make([]colour.Lab, len(cs))
	for i := range cs {
		c[i] = cs[i].known()
	}
	whole := 0.0
	for i := range c {
		for _, b := range l.Border[i] {
			whole += b / 2
		}
	}
	for i := range c {
		for j := range c {
			if l.Share[i] == 0 || l.Share[j] == 0 || l.Share[i] > l.Share[j] || l.Share[i] == l.Share[j] && i <= j || tied(cs, i, j) {
				continue
			}
			p := Pair{Lesser: i, Other: j}
			if p.Relation, p.Why = eye.Judge(c[i], c[j], l.Share[i], l.Share[j], l.Border[i][j] > 0); p.Relation == "" {
				continue
			}
			if whole > 0 {
				p.Weight = math.Sqrt(l.Share[i]*l.Share[j]) * l.Border[i][j] / whole
			}
			if p.Relation == Competes {
				if p.By = between(l, c, i, j, eye); len(p.By) > 0 {
					p.Relation = Bridged
				}
			}
			out = append(out, p)
		}
	}
	slices.SortStableFunc(out, func(a, b Pair) int { return cmp.Compare(b.Weight, a.Weight) })
	return out
}

// between are the colours that part two others: one whose hue and value lie between theirs and
// that touches both, or a companion of each, its darker or lighter version, that lie side by side
// where the two themselves do not touch.
func between(l Layout, c []colour.Lab, i, j int, eye Eye) []int {
	touch := func(a, b int) bool { return l.Border[a][b] > 0 }
	from, to := eye.place(c[i]), eye.place(c[j])
	for k := range c {
		at := eye.place(c[k])
		if k == i || k == j || l.Share[k] == 0 || !touch(k, i) || !touch(k, j) || c[k].Chroma() < hueChroma ||
			min(wheel.Apart(from, at), wheel.Apart(at, to)) < wantedWithin {
			continue
		}
		hue := wheel.Apart(from, at)+wheel.Apart(at, to) <= wheel.Apart(from, to)+1e-6
		if hue && c[k].L >= min(c[i].L, c[j].L)-betweenLightness && c[k].L <= max(c[i].L, c[j].L)+betweenLightness {
			return []int{k}
		}
	}
	if touch(i, j) {
		return nil
	}
	companion := func(k, of int) bool {
		r, _ := eye.Judge(c[k], c[of], 0, 0, false)
		return k != i && k != j && l.Share[k] > 0 && r == Echoes && touch(k, of)
	}
	for k := range c {
		for m := range c {
			if k != m && companion(k, i) && companion(m, j) && touch(k, m) && math.Abs(c[k].L-c[m].L) < competeLightness {
				return []int{k, m}
			}
		}
	}
	return nil
}

// PairNotes names the pair that carries the piece, those that compete or shimmer, and what keeps
// two from competing.
func PairNotes(l Layout, cs []Colour, eye Eye) (notes []note.Note) {
	carried := false
	for _, p := range Pairs(l, cs, eye) {
		n := note.Note{Grade: note.Consider, About: cs[p.Lesser].Name, Cards: []int{p.Lesser, p.Other}, Aside: -1}
		pair, other := note.Pair(cs[p.Lesser].Key, cs[p.Other].Key), cs[p.Other].Name
		switch p.Relation {
		case Vibrates:
			n.ID = note.ID("vibrates", pair)
			n.Words = fmt.Sprintf(" and %s are %s: their edge shimmers. Make one lighter or darker, or add a line between them.", other, p.Why)
		case Competes:
			n.ID = note.ID("compete", pair)
			n.Words = fmt.Sprintf(" and %s compete: %s, and neither neighbours nor opposites on the wheel.", other, p.Why)
		case Bridged:
			var by []string
			for _, k := range p.By {
				by = append(by, cs[k].Name)
			}
			n.ID, n.Grade = note.ID("bridge", pair), note.Fine
			n.Words = fmt.Sprintf(" and %s would compete, but %s between them %s them.", other, words.All(by), map[bool]string{true: "ties", false: "tie"}[len(by) == 1])
		default:
			if carried || p.Weight == 0 {
				continue
			}
			carried = true
			n.ID, n.Grade = note.ID("carries", pair), note.Fine
			n.Words = fmt.Sprintf(" and %s carry the piece: %s.", other, p.Why)
		}
		notes = append(notes, n)
	}
	return append(notes, tieNotes(l, cs)...)
}
