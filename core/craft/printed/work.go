package printed

import (
	"fmt"

	"lampfern/core/piece"
)

// flow is the filament a printer lays down in a minute, in cm³: 6 mm³ a second.
const flow = 6 * 60.0 / 1000

// mostPlates bounds the plates that are steps of their own.
const mostPlates = 12

// work is the order of work of printed parts: a plate a body where each is printed apart,
// by its filament and the flow.
func work(m piece.Making) []piece.Task {
	grams := make([]float64, 0, len(m.Cards))
	names := []string{}
	all, changes := counted(m)
	for _, n := range all {
		if n.Card >= 0 && n.Amount > 0 {
			grams, names = append(grams, n.Amount), append(names, m.Cards[n.Card].Name)
		}
	}
	const density = 1.24 // g a cm³ of the usual filament
	var out []piece.Task
	out = append(out, piece.Do("chips", "Test chip of each filament", piece.There).Takes(20, 10, 30).For(float64(len(names)),
		"filaments").Maybe(true))
	print := func(key, name string, g, changes float64) piece.Task {
		t := piece.Do(key, name, "chips", piece.There, piece.Agreed).Takes(10, 5, 20).With("printer", "")
		t.Run, t.Present = g/density/flow+1.5*changes, true
		return t
	}
	var last []string
	if m.Asked["apart"] == 1 || len(grams) > mostPlates {
		sum := 0.0
		for _, g := range grams {
			sum += g
		}
		out, last = append(out, print("print", "Print", sum, changes*float64(m.Times))), []string{"print"}
	} else {
		for i, g := range grams {
			key := fmt.Sprintf("print%d", i+1)
			out, last = append(out, print(key, "Print what is "+names[i], g, 0)), append(last, key)
		}
	}
	parts := float64(len(m.Piece.Parts) * m.Times)
	return append(out, piece.Do("clean", "Clean, sand, fit", last...).Takes(8, 2, 30).For(parts, "parts"),
		piece.Do("assemble", "Assemble", "clean").Takes(5, 2, 15).For(parts, "parts").Waits("glue", 1*piece.Days, .2*piece.Days, 1*piece.Days))
}
