package building

import (
	"cmp"
	"fmt"
	"maps"
	"math"
	"slices"
	"strings"

	"lampfern/core/piece"
	"lampfern/core/quantity"
)

// asks are what a front of parts cannot know.
var asks = []piece.Setting{
	{Key: "spares", Name: "spare parts", Unit: "%", Min: 0, Max: 100, Default: 5},
}

// lists are the maker's own list of parts, which goes before the drawn front.
var lists = []piece.List{
	{Key: "pieces", Name: "Your parts list", Words: "For one model. For the colour, name a card or a part of the piece. This list is used instead of the drawing.",
		Columns: []piece.Column{{Name: "part"}, {Name: "colour"}, {Name: "how many", Number: true, Max: 1000000, Whole: true}},
		Example: "flat 2 × 4, walls, 36\ntile 1 × 1, roof, 110"},
}

// part is a ready-made part in the colour of a card, or of a name where no card has it.
type part struct {
	card   int
	colour string
	name   string
}

// needs are the parts of each card by the maker's own list, or by their size as the
// courses are laid.
func needs(m piece.Making) []piece.Need {
	counts := map[part]int{}
	for _, r := range m.Lists["pieces"] {
		p := part{m.CardFor(r.Text[1]), r.Text[1], strings.ToLower(r.Text[0])}
		if p.card >= 0 {
			p.colour = m.Cards[p.card].Name
		}
		counts[p] += int(r.Number[2])
	}
	listed := len(counts) > 0
	if !listed && m.Piece.Cells == nil {
		for _, r := range m.Piece.Cutouts() {
			if card := m.Of[r.Part]; card >= 0 {
				w, h := r.Boxed()
				counts[part{card, m.Cards[card].Name, fmt.Sprintf("%g × %g mm", math.Round(10*w)/10, math.Round(10*h)/10)}]++
			}
		}
	}
	var out []piece.Need
	of := func(p part) int {
		at := slices.IndexFunc(out, func(n piece.Need) bool { return n.Card == p.card && (p.card >= 0 || n.Name == p.colour) })
		if at < 0 {
			n := piece.Need{Card: p.card, Kind: "building part"}
			if p.card < 0 {
				n.Name = p.colour
				n.Warnings = []string{"No card and no part of the piece has this name, so it is bought as a separate colour."}
			}
			at, out = len(out), append(out, n)
		}
		return at
	}
	for card, c := range m.Cards {
		of(part{card, c.Name, ""})
	}
	byNeed := map[int][]part{}
	for _, p := range slices.SortedFunc(maps.Keys(counts), func(a, b part) int {
		return cmp.Or(cmp.Compare(counts[b], counts[a]), cmp.Compare(a.name, b.name), cmp.Compare(a.colour, b.colour))
	}) {
		at := of(p)
		byNeed[at] = append(byNeed[at], p)
	}
	for i := range out {
		n := &out[i]
		var parts []quantity.BrickPart
		for _, p := range byNeed[i] {
			parts = append(parts, quantity.BrickPart{Part: p.name, Colour: p.colour, Qty: float64(counts[p])})
		}
		if len(parts) == 0 {
			if !listed && m.Piece.Cells != nil {
				n.Problem = "The number of parts cannot be counted from this drawing. Import your parts list, or write how many you need."
			}
			continue
		}
		res, ok := piece.Work(n, quantity.Bricks, quantity.BricksIn{Parts: parts, Copies: new(float64(m.Times)),
			SparesPct: new(m.Asked["spares"])})
		if !ok {
			continue
		}
		for _, line := range res.Rounded.Lines {
			n.Amount += line.Buy
			n.Spare += line.Spares
			n.Sizes = append(n.Sizes, piece.Size{Part: line.Part, Count: line.Buy})
		}
	}
	return out
}
