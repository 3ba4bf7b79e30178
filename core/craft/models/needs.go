package models

import (
	"fmt"

	"lampfern/core/piece"
	"lampfern/core/quantity"
	"lampfern/core/words"
)

var ways = []string{"brush", "airbrush", "aerosol"}

// shapes are what a model can be like, and the surface of one that is 1 cm high, in cm²:
// of a figure as those of 28 mm have 20 to 30 cm²; of a box twice as long as it is high
// and four fifths as wide; of a small sailing boat with both sides of its sails; of a cube
// without its foot.
var shapes = []struct {
	name    string
	surface float64
}{{"by the piece", 0}, {"a standing figure", 3.2}, {"a rider or a beast", 6.4}, {"a vehicle", 8.8}, {"a ship with its mast", 0.9},
	{"a building", 5}}

// Of the shapes by number.
const (
	figureShape  = 1
	vehicleShape = 3
	shipShape    = 4
)

func shapeNames() (out []string) {
	for _, s := range shapes {
		out = append(out, s.name)
	}
	return out
}

// asks are what a picture of a model cannot know: its surface is no outline.
var asks = []piece.Setting{
	piece.Choice("shape", "model type", shapeNames()...),
	{Key: "high", Name: "model height, if not the piece’s", Unit: "mm", Min: 0, Max: 5000, Default: 0},
	{Key: "surface", Name: "whole surface, if you know it", Unit: "cm²", Min: 0, Max: 1e6, Default: 0},
	piece.Choice("way", "painted with", ways...),
	piece.Whole("coats", "coats", 1, 10, 2),
	{Key: "detail", Name: "detail factor", Min: 1, Max: 3, Default: 1.2},
	{Key: "pot", Name: "usual pot", Unit: "ml", Min: 1, Max: 5000, Default: 17},
	{Key: "waste", Name: "cleaning and touch-ups", Unit: "%", Min: 0, Max: 100, Default: 10},
}

// surfaces is the surface of each card in cm² and of the whole, and how it was found: as
// the maker measured it, that of a mesh, or by height and kind; never the outline, which
// only tells how a measured or estimated whole is shared.
func surfaces(m piece.Making) (each []float64, whole, relief float64, said string, guessed bool) {
	each = make([]float64, len(m.Cards))
	relief = m.Asked["detail"]
	if in, is := m.Input.(piece.Bodied); is && m.Asked["surface"] == 0 {
		for _, b := range in.Bodies() {
			whole += b.Surface
			if card := m.Of[b.Part]; card >= 0 {
				each[card] += b.Surface
			}
		}
		return each, whole, 1, fmt.Sprintf("surface of the mesh %v cm², with its relief", words.Figure(whole)), false
	}
	whole = m.Asked["surface"]
	if said = fmt.Sprintf("surface %v cm², as you wrote", words.Figure(whole)); whole == 0 {
		high := m.Asked["high"]
		if high == 0 {
			high = m.Piece.Height
		}
		at := int(m.Asked["shape"])
		if at == 0 {
			at = map[string]int{boatPattern.Key: shipShape, vanPattern.Key: vehicleShape, figurePattern.Key: figureShape}[m.Piece.Pattern]
			guessed = at == 0
			at = max(at, figureShape)
		}
		whole = shapes[at].surface * high * high / 100
		said = fmt.Sprintf("surface by height: %s of %.4g mm, about %g × %.4g² cm = %v cm²", shapes[at].name, high, shapes[at].surface,
			high/10, words.Figure(whole))
	}
	all := m.Piece.Area()
	for i, a := range m.AreasOf() {
		each[i] = whole * a / all
	}
	return each, whole, relief, said + "; shared by what is visible", guessed
}

// needs are the paint of each card by the surface it covers, primer and varnish.
func needs(m piece.Making) []piece.Need {
	each, whole, relief, said, guessed := surfaces(m)
	paint := func(n *piece.Need, area, coats float64, film *float64) {
		n.Kind = "paint"
		if area == 0 {
			return
		}
		n.Working = append(n.Working, said, fmt.Sprintf("%v cm² of it, %.3g%%", words.Figure(area), 100*area/whole))
		res, ok := piece.Work(n, quantity.Paint, quantity.PaintIn{Area: area, Count: new(float64(m.Times)), Detail: &relief,
			Method:   ways[int(m.Asked["way"])],
			WastePct: new(m.Asked["waste"]), PotML: m.Pack(n.Card, m.Asked["pot"]), Coats: &coats, DryFilm: film})
		if guessed {
			n.Warnings = append(n.Warnings,
				"The surface is estimated for a standing figure. Choose the model type, or give its surface.")
		}
		if ok {
			n.Amount = res.Exact.UseML
			n.Allow(m.Asked["waste"])
		}
	}
	var out []piece.Need
	for card, area := range each {
		n := piece.Need{Card: card}
		paint(&n, area, m.Asked["coats"], nil)
		out = append(out, n)
	}
	for _, name := range []string{"Primer", "Varnish"} {
		n := piece.Need{Card: -1, Name: name}
		paint(&n, whole, 1, new(20.0))
		out = append(out, n)
	}
	return out
}
