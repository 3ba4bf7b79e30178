package plan

import (
	"fmt"

	"lampfern/core/wheel"
	"lampfern/core/words"
	"lampfern/shelf"
)

// TrayToken names a card of the tray, to be held in a hand.
func TrayToken(t TrayCard) string {
	if t.ID == 0 {
		return fmt.Sprintf("k%d", t.Key)
	}
	return shelf.TokenOf(t.Card)
}

// Dealt is the card a token names.
func (p *Plan) Dealt(token string) (*shelf.Card, error) {
	var a, b int
	if n, err := fmt.Sscanf(token, "w%d.%d", &a, &b); n == 2 && err == nil && a >= 0 && a < shelf.Wheels && b >= 0 &&
		b < wheel.Places*2*shelf.ValueSteps {
		return shelf.WheelCard(wheel.Wheels()[a], b/(2*shelf.ValueSteps), b%(2*shelf.ValueSteps)/2, b%2 == 1), nil
	}
	if n, err := fmt.Sscanf(token, "n%d", &a); n == 1 && err == nil && a >= 0 && a < shelf.NeutralSteps {
		return shelf.NeutralCard(a), nil
	}
	if n, err := fmt.Sscanf(token, "k%d", &a); n == 1 && err == nil {
		for _, t := range p.Tray {
			if t.Key == a {
				held := *t.Card
				if held.ID == 0 {
					held.Token = token
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
	return nil, words.Refuse("A card of this palette is no longer there. Ask for another.")
}
