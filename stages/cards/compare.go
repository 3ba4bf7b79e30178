package cards

import (
	"lampfern/core/balance"
	"lampfern/core/colour"
	"lampfern/plan"
	"lampfern/shelf"
)

// Compared is two laid cards and how they are brought together.
type Compared struct {
	A, B  LaidCard
	Words string // A beside B
	Lamps string // what becomes of them in other light; empty for nothing
	Ways  []Bridge
}

// Bridge brings two cards together by darker or by lighter versions of both.
type Bridge struct {
	balance.Bridge
	NearA, NearB shelf.Near // the closest on the shelf to each version
	CardsApart   float64    // ΔE00
}

// Compare compares two laid cards by their tokens, where they are not given the first two; nil for
// fewer than two.
func (v LaidView) Compare(p *plan.Plan, a, b string) *Compared {
	var two []LaidCard
	for _, token := range []string{a, b, ""} {
		for _, c := range v.Cards {
			if len(two) < 2 && (token == c.Token || token == "") && (len(two) == 0 || two[0].Token != c.Token) {
				two = append(two, c)
			}
		}
	}
	if len(two) < 2 {
		return nil
	}
	out := &Compared{A: two[0], B: two[1], Words: colour.Beside(two[0].Colour, two[1].Colour).Words(),
		Lamps: shelf.UnderLamps(two[0].Card, two[1].Card)}
	if out.A.Neutral || out.B.Neutral || out.A.Family == out.B.Family {
		return out
	}
	for _, br := range balance.Bridges(out.A.Colour, out.B.Colour) {
		way := Bridge{Bridge: br}
		if near := p.Offers().Nearest(br.A, 1, 0); len(near) > 0 {
			way.NearA = near[0]
		}
		if near := p.Offers().Nearest(br.B, 2, 0); len(near) > 0 {
			way.NearB = near[0]
			if len(near) > 1 && near[0].Card == way.NearA.Card {
				way.NearB = near[1]
			}
		}
		if way.NearA.Card != nil && way.NearB.Card != nil {
			way.CardsApart = colour.DeltaE2000(way.NearA.Colour, way.NearB.Colour)
		}
		out.Ways = append(out.Ways, way)
	}
	return out
}
