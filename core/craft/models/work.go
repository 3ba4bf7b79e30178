package models

import "lampfern/core/piece"

// work is the order of work of painted models, by their parts and coats. The paint is
// taken for acrylic: enamel and oil dry for longer.
func work(m piece.Making) []piece.Task {
	times := float64(m.Times)
	coats := m.Asked["coats"]
	if coats == 0 {
		coats = 2
	}
	parts := 0.0
	for _, at := range m.Of {
		if at >= 0 {
			parts++
		}
	}
	return []piece.Task{
		piece.Do("clean", "Clean, assemble, fill").Takes(20, 10, 60).For(times, "models").Waits("filler and glue", 1*piece.Days, .2*piece.Days,
			1*piece.Days),
		piece.Do("prime", "Prime", "clean").Takes(10, 5, 20).InOneGo().Waits("dry", 1*piece.Days, .1*piece.Days,
			1*piece.Days).Caring("Aerosol: use ventilation and a mask, and keep away from flames."),
		piece.Do("try", "Test the scheme on one, dry and under its varnish", "prime", piece.There).Takes(90, 45, 180).Waits("dry", 1*piece.Hour,
			.5*piece.Hour, 6*piece.Hour).Maybe(false),
		piece.Do("base", "Base colours, from the inside out", "try", "prime", piece.There, piece.Agreed).Takes(6, 3, 15).For(parts*coats*times,
			"coats on a part").Waits("dry, acrylic", .5*piece.Hour, 10, 2*piece.Hour),
		piece.Do("shade", "Shade and highlight", "base").Takes(15, 8, 40).For(2*times, "stages").Waits("dry, acrylic", 1*piece.Hour,
			.5*piece.Hour, 2*piece.Hour),
		piece.Do("details", "Details and bases", "shade").Takes(30, 15, 90).For(times, "models").Waits("dry", 2*piece.Hour, 1*piece.Hour,
			12*piece.Hour),
		piece.Do("varnish", "Varnish, over dry paint only", "details").Takes(10, 5, 20).InOneGo().Waits("dry", 1*piece.Days, .5*piece.Days,
			2*piece.Days).Caring("Aerosol: use ventilation and a mask, and keep away from flames."),
	}
}
