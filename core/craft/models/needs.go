package models

import (
	"fmt"

	"lampfern/core/piece"
)

var ways = []string{"brush", "airbrush", "aerosol"}

// asks are what a picture of a model cannot know: its surface is no outline.
var asks = []piece.Setting{
	{Key: "round", Name: "surface all round, in times of what the picture shows", Min: 1, Max: 20, Default: 3.2},
	piece.Choice("way", "painted by", ways...),
	piece.Whole("coats", "coats", 1, 10, 2),
	{Key: "detail", Name: "relief", Unit: "times", Min: 1, Max: 3, Default: 1.2},
	{Key: "pot", Name: "one pot, where the shelf does not say", Unit: "ml", Min: 1, Max: 5000, Default: 17},
	{Key: "waste", Name: "cleaning and touch-ups", Unit: "%", Min: 0, Max: 100, Default: 10},
}

// needs are the paint of each card by the surface it covers, primer and varnish.
func needs(m piece.Making) []piece.Need {
	paint := func(n *piece.Need, area float64, more ...any) {
		n.Kind = "paint"
		if area == 0 {
			return
		}
		n.Working = append(n.Working, fmt.Sprintf("%.4g cm² seen × %g = %.4g cm² all round", area, m.Asked["round"], area*m.Asked["round"]))
		res, ok := n.Work("model.paint", piece.Given(append([]any{"area_cm2", area * m.Asked["round"], "count", m.Times, "detail", m.Asked["detail"], "method", ways[int(m.Asked["way"])],
			"waste_pct", m.Asked["waste"], "pot_ml", m.Pack(n.Card, m.Asked["pot"])}, more...)...))
		if ok {
			n.Amount = res.Unrounded["use_ml"].(float64)
		}
	}
	var out []piece.Need
	for card, area := range m.AreasOf() {
		n := piece.Need{Card: card}
		paint(&n, area/100, "coats", m.Asked["coats"])
		out = append(out, n)
	}
	for _, name := range []string{"Primer", "Varnish"} {
		n := piece.Need{Card: -1, Name: name}
		paint(&n, m.Piece.Area()/100, "coats", 1, "dft_um", 20)
		out = append(out, n)
	}
	return out
}
