package garment

import "lampfern/core/piece"

// work is the order of work of a garment, by its pattern parts.
func work(m piece.Making) []piece.Task {
	parts := 0.0
	for _, r := range m.Lists["parts"] {
		parts += r.Number[4]
	}
	buttons, cloths := 0.0, 0.0
	for card, c := range m.Cards {
		for _, w := range m.Piece.Cutouts() {
			switch {
			case m.Of[w.Part] != card:
			case c.Kind == notion:
				buttons++
			default:
				cloths++
			}
		}
	}
	if parts == 0 {
		parts = cloths * 2 // the drawing shows the front alone
	}
	parts *= float64(m.Times)
	return []piece.Task{
		piece.Do("toile", "Toile, fit, alter").Takes(240, 0, 600).Maybe(false),
		piece.Do("wash", "Wash as the finished piece will be washed", piece.There).Takes(30, 20, 60).Waits("dry", 1*piece.Days, .5*piece.Days,
			2*piece.Days).Maybe(false),
		piece.Do("cut", "Cut and mark", "toile", "wash", piece.There, piece.Agreed).Takes(10, 6, 20).For(parts, "pattern parts"),
		piece.Do("sew", "Sew", "cut").Takes(25, 15, 60).For(parts, "pattern parts").Waits("hang before the hem", 0, 0, 2*piece.Days),
		piece.Do("fit", "Fit, hem, buttons", "sew").Takes(8, 5, 15).For(2*buttons*float64(m.Times), "buttonholes and buttons").And(120),
	}
}
