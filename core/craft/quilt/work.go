package quilt

import (
	"math"

	"lampfern/core/piece"
)

// work is the order of work of a quilt: as many pieces and seams as are drawn.
func work(m piece.Making) []piece.Task {
	times := float64(m.Times)
	pieces := 0.0
	for _, r := range m.Piece.Cutouts() {
		if m.Piece.Parts[r.Part].Key != bindingKey {
			pieces += times
		}
	}
	blocks := pieces
	if b := m.Values["columns"] * m.Values["rows"] * times; b > 0 && b < pieces {
		blocks = b
	}
	rows := max(1, m.Values["rows"]) * times
	wide, high := m.Piece.Width/1000, m.Piece.Height/1000
	square, round := wide*high*times, 2*(wide+high)*times
	cloth := 0.0
	for _, n := range needs(m) {
		if n.Kind == "fabric" && n.Name != "Wadding" {
			cloth += n.Amount
		}
	}
	out := []piece.Task{
		piece.Do("bleed", "Bleed test", piece.There).Takes(20, 20, 30).Waits("dry", 1*piece.Days, .5*piece.Days, 2*piece.Days).Maybe(false),
		piece.Do("wash", "Wash and press all of it", "bleed").Takes(10, 10, 15).For(math.Max(4.5, cloth), "metres of cloth").Waits("dry",
			1*piece.Days, .5*piece.Days, 2*piece.Days).Maybe(true),
		piece.Do("cut", "Cut", "wash", piece.Agreed).Takes(1, .5, 2).For(pieces, "cut pieces"),
	}
	if pieces > blocks {
		out = append(out, piece.Do("blocks", "Piece the blocks", "cut").Takes(1.5, 1, 3).For(pieces-blocks, "seams"))
	}
	return append(out,
		piece.Do("lay", "Lay out, stand back, take a black-and-white photo", "blocks", "cut").Takes(45, 20, 120).Waits("sleep on it", 10*piece.Hour, 0,
			3*piece.Days).Maybe(false),
		piece.Do("assemble", "Assemble and border", "lay", "blocks").Takes(2, 1, 4).For(math.Max(1, blocks-rows)+rows, "seams of rows"),
		piece.Do("backing", "Piece the backing", piece.There).Takes(20, 15, 40),
		piece.Do("baste", "Layer and baste", "assemble", "backing").Takes(90, 60, 150).For(square, "square metres"),
		piece.Do("quilting", "Quilt", "baste").Takes(240, 120, 600).For(square, "square metres"),
		piece.Do("bind", "Bind and label", "quilting").Takes(12, 10, 60).For(round, "metres of binding"),
	)
}
