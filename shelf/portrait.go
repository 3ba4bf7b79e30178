package shelf

import (
	"fmt"
	"slices"

	"lampfern/core/brief"
	"lampfern/core/colour"
	"lampfern/core/wheel"
	"lampfern/core/words"
)

// Portrait is what a shelf is like as a whole.
type Portrait struct {
	Cards               int
	Warm, Cool, Neutral int
	Dark, Middle, Light int // under L* 40, between, over 70
	Clear, Soft, Greyed int // of those with a hue
	Families            []FamilyPortrait
	Used                int      // cards that lie in some plan's tray
	Missing             []string // in words
}

// FamilyPortrait is one family on the shelf.
type FamilyPortrait struct {
	Name  colour.FamilyName
	Cards []*Card
	Used  int
}

// Never is how many of the family lie in no tray.
func (f FamilyPortrait) Never() int { return len(f.Cards) - f.Used }

// Where dark ends and light begins, in L*.
const (
	portraitDark  = 40.0
	portraitLight = 70.0
)

// hues are the families of which a shelf has darks, lights and clear ones; where they are
// others by name, such as a dark yellow that is an olive, nothing is missed.
var hues = []struct {
	name        colour.FamilyName
	dark, light bool
}{
	{colour.Yellow, false, true}, {colour.Orange, false, true}, {colour.Red, true, false}, {colour.Pink, false, true},
	{colour.Violet, true, true},
	{colour.Blue, true, true}, {colour.BlueGreen, true, true}, {colour.Green, true, true},
}

// Portrait is what the shelf is like; used tells the cards that lie in some tray.
func (sh *Shelf) Portrait(used map[uint]bool) Portrait {
	p := Portrait{Cards: len(sh.Cards)}
	school := wheel.Schools()[0]
	of := map[colour.FamilyName]*FamilyPortrait{}
	for _, f := range colour.Families() {
		of[f] = &FamilyPortrait{Name: f}
	}
	for _, c := range sh.Cards {
		f := of[c.Family]
		f.Cards = append(f.Cards, c)
		if used[c.ID] {
			f.Used++
			p.Used++
		}
		switch school.Temperature(c.Colour) {
		case wheel.Warm:
			p.Warm++
		case wheel.Cool:
			p.Cool++
		default:
			p.Neutral++
		}
		switch {
		case c.Colour.L < portraitDark:
			p.Dark++
		case c.Colour.L > portraitLight:
			p.Light++
		default:
			p.Middle++
		}
		if !c.Neutral {
			switch colour.ClearnessWord(c.Clearness) {
			case "clear":
				p.Clear++
			case "soft":
				p.Soft++
			default:
				p.Greyed++
			}
		}
	}
	var none []string
	for _, f := range colour.Families() {
		p.Families = append(p.Families, *of[f])
		if len(of[f].Cards) == 0 {
			none = append(none, string(f))
		}
	}
	if len(sh.Cards) == 0 {
		return p
	}
	if len(none) > 0 {
		p.Missing = append(p.Missing, "nothing "+words.All(none))
	}
	for _, h := range hues {
		cards := of[h.name].Cards
		if len(cards) == 0 {
			continue
		}
		has := func(ok func(c *Card) bool) bool { return slices.ContainsFunc(cards, ok) }
		var lacks []string
		if h.dark && !has(func(c *Card) bool { return c.Colour.L < portraitDark }) {
			lacks = append(lacks, "dark")
		}
		if h.light && !has(func(c *Card) bool { return c.Colour.L > portraitLight }) {
			lacks = append(lacks, "light")
		}
		if !has(func(c *Card) bool { return c.Clearness >= colour.ClearFrom }) {
			lacks = append(lacks, "clear")
		}
		if len(lacks) > 0 {
			p.Missing = append(p.Missing, fmt.Sprintf("no %s %s", words.Either(lacks), h.name))
		}
	}
	return p
}

// Dealt are cards as a hand is dealt of them; used tells those that lie in some tray.
func Dealt(cards []*Card, w wheel.Wheel, used map[uint]bool) []brief.Card {
	out := make([]brief.Card, len(cards))
	for i, c := range cards {
		out[i] = brief.Card{Lab: c.Colour, Family: c.Family, Clearness: c.Clearness, Place: c.Place(w), Neutral: c.Neutral, Fresh: c.ID != 0 &&
			!used[c.ID]}
	}
	return out
}
