// Package yarn is the craft of knitting and crochet: its pieces, and what a knitter
// puts into them.
package yarn

import (
	"fmt"
	"strings"

	"lampfern/core/note"
	"lampfern/core/piece"
	"lampfern/core/weave"
	"lampfern/core/words"
)

// Craft is knitting and crochet.
func Craft() piece.Craft {
	return piece.Craft{Name: "knitting or crochet", Kinds: []string{"yarn", "thread", "notion"}, From: 3, To: 5,
		Patterns: []piece.Pattern{rowsPattern, strandedPattern, grannyPattern, jumperPattern}, Together: together, Asks: asks, Needs: needs, Work: work,
		Sitting: piece.LintFirst, Fit: fit}
}

// together are ways of knitting two strands.
func together(piece.Input, piece.Values) []piece.Together {
	return []piece.Together{
		{Key: "together", Name: "two strands held together", Share: 0.5},
		{Key: "rows", Name: "a row of each in turn", Share: 0.5},
		{Key: "two-one", Name: "two rows of the first, one of the second", Share: 2.0 / 3},
		{Key: "one-two", Name: "one row of the first, two of the second", Share: 1.0 / 3},
		{Key: "specks", Name: "stranded, every fourth stitch the second", Share: 0.75},
	}
}

// Rows is what a knitter puts into row stripes: their order.
type Rows struct {
	Rows []weave.Stripe `json:"rows,omitempty"`
}

func (in *Rows) Check() error {
	if in.Rows == nil {
		return nil
	}
	return weave.CheckOrder(in.Rows)
}

// Copy implements piece.Written.
func (in *Rows) Copy() piece.Written { return &Rows{in.Rows} }

// Line implements piece.Written.
func (in *Rows) Line(v piece.Values) string {
	if in.Rows != nil {
		return weave.OrderText(in.Rows)
	}
	return weave.OrderText(RowOrder(v))
}

// Write implements piece.Written.
func (in *Rows) Write(text string, v piece.Values) (err error) {
	in.Rows = nil
	if strings.TrimSpace(text) == "" {
		return nil
	}
	if in.Rows, err = weave.ParseOrder(text, 10/v["row"]); err != nil {
		return words.Refuse("The order of the rows cannot be read: %s.", err)
	}
	return nil
}

// Asks implements piece.Written.
func (in *Rows) Asks() piece.Asking {
	out := piece.Asking{Field: "Rows in order", Take: "Set the rows", Done: "order the rows"}
	if in.Rows != nil {
		out.Clear = "use the settings"
	}
	return out
}

// Advice implements piece.Written.
func (in *Rows) Advice(piece.Values) (heading, text, example string) { return "", "", "" }

// restripe scales the stripes of some yarns.
func restripe(v piece.Values, in *Rows, of func(part string) bool, want float64) (piece.Resized, bool) {
	yarns, any := piece.YarnsOf(of, stripeKey)
	if !any {
		return piece.Resized{}, false
	}
	order := in.Rows
	if order == nil {
		order = RowOrder(v)
	}
	return piece.Restripe(func(scale float64) (piece.Piece, piece.Resized, error) {
		then := Rows{Rows: weave.Scaled(order, yarns, scale)}
		p, err := rows(v, &then)
		return p, piece.Resized{Input: &then, Words: "rows " + weave.OrderText(then.Rows)}, err
	}, of, want)
}

// Stranded is what a knitter puts into a stranded piece: its chart.
type Stranded struct {
	Chart Chart `json:"chart,omitempty"`
}

func (in *Stranded) Check() error {
	if in.Chart == nil {
		return nil
	}
	return in.Chart.Check()
}

// Stitches are the chart, the usual one where none was put in.
func (in *Stranded) Stitches() Chart {
	if in.Chart == nil {
		return UsualChart()
	}
	return in.Chart
}

// longestFloat is the float from which yarns catch, in stitches.
const longestFloat = 5

// carried warns of yarns carried too far behind the face.
func carried(_ piece.Piece, _ piece.Values, in *Stranded) []note.Note {
	n, row := in.Stitches().LongestFloat()
	if n <= longestFloat {
		return nil
	}
	return []note.Note{{ID: "float", Grade: note.Consider, About: fmt.Sprintf("Row %d of the chart", row),
		Words: fmt.Sprintf(" has a %d-stitch float. Catch it at the back, or add a stitch to break it.", n)}}
}

// Stitch of a usual yarn worked in the round, in mm.
const usualStitch, usualRow = 4.5, 3.6
