package proportion

import (
	"fmt"
	"math"
	"strings"

	"lampfern/core/colour"
	"lampfern/core/material"
	"lampfern/core/note"
	"lampfern/core/words"
	"lampfern/plan"
)

// finishSays is what each finish but matte does to the colour that is kept of a material.
var finishSays = map[string]string{
	"satin":       "has a soft sheen, a little lighter where it catches the light",
	"gloss":       "looks darker and clearer from most sides, and white where it reflects the lamp",
	"metallic":    "turns light or dark as you move past, so its value cannot be relied on",
	"shimmer":     "sparkles in the light and not in shade",
	"translucent": "takes on what is under it",
	"fuzzy":       "has soft edges and looks a little deeper",
}

// sameColour is up to how far apart, in ΔE00, two cards are one colour in two surfaces.
const sameColour = 2.5

// surfaceNotes say how the surfaces of the placed cards read, and which cards differ by little
// else.
func surfaceNotes(p *plan.Plan) (notes []note.Note) {
	names := map[string][]string{}
	told := map[int]bool{}
	for i, t := range p.Tray {
		if t.Share == 0 {
			continue
		}
		names[t.Finish] = append(names[t.Finish], t.Name)
		if told[t.Key] {
			continue
		}
		same, keys, surfaces := []string{t.Name}, []string{fmt.Sprint(t.Key)}, map[string]bool{t.Finish: true}
		for _, o := range p.Tray[i+1:] {
			if o.Share > 0 && !told[o.Key] && colour.DeltaE2000(o.Colour, t.Colour) < sameColour {
				same, keys = append(same, o.Name), append(keys, fmt.Sprint(o.Key))
				surfaces[o.Finish], told[o.Key] = true, true
			}
		}
		if len(surfaces) > 1 {
			notes = append(notes, note.Note{ID: note.ID("sheen", note.Pair(keys...)), Grade: note.Consider, Aside: -1, About: words.List(same),
				Words: fmt.Sprintf(" are one colour in %s finishes, so only the fall of the light separates them.",
					words.Count(len(surfaces)))})
		}
	}
	var said []string
	for _, f := range material.Finishes() {
		if says := finishSays[f]; says != "" && len(names[f]) > 0 {
			said = append(said, fmt.Sprintf("%s (%s) %s", f, words.List(names[f]), says))
		}
	}
	if len(said) > 0 {
		notes = append(notes, note.Note{ID: "surfaces", Grade: note.Fine, Aside: -1, About: "Finishes",
			Words: ": " + strings.Join(said, "; ") + "."})
	}
	return notes
}

// alikeEnough is how far apart, in ΔE00, two colours are whose edge hue alone would not keep.
const alikeEnough = 25

// Made is a finish that the whole piece could be made in, and what it gains and loses by it.
type Made struct{ Finish, Gain, Lose string }

// madeIn is for each finish what any piece gains and loses in it, and how many value steps apart two colours are
// to be for their edge to be relied on.
var madeIn = map[string]struct {
	gain, lose string
	apart      float64
}{
	"matte":       {"Each colour looks the same from every side.", "The darks look lighter than they would under a shine.", 0},
	"satin":       {"A soft light that shows the shape.", "A little of the darks, where they catch the light.", .5},
	"gloss":       {"Deeper darks and clearer colours.", "The colour wherever the lamp is reflected.", 1},
	"metallic":    {"It changes as you walk past.", "A value to rely on: each colour turns light or dark with the angle.", 2},
	"shimmer":     {"It sparkles in good light.", "The sparkle, in shade.", 1},
	"translucent": {"Depth, and new colours where layers cross.", "Its own colour: it takes on what is under it.", 1},
	"fuzzy":       {"A deeper, softer look.", "Crisp edges and fine detail.", 1.5},
}

// MadeIn is the plan's piece with all its cards in one finish; nil for none that has words, such as flat colour.
func MadeIn(p *plan.Plan, finish string) *Made {
	of, known := madeIn[finish]
	if !known {
		return nil
	}
	m := &Made{finish, of.gain, of.lose}
	layout := p.Layout()
	near, first, edges := of.apart, "", 0
	for i := range layout.Border {
		for j, long := range layout.Border[i][:i] {
			apart := math.Abs(p.Tray[i].Colour.Value() - p.Tray[j].Colour.Value())
			if long > 0 && apart < of.apart && colour.DeltaE2000(p.Tray[i].Colour, p.Tray[j].Colour) < alikeEnough {
				if edges++; apart < near {
					near, first = apart, fmt.Sprintf("%s on %s (%.1f value steps)", p.Tray[i].Name, p.Tray[j].Name, apart)
				}
			}
		}
	}
	switch edges {
	case 0:
	case 1:
		m.Lose += " The edge of " + first + " may go too."
	default:
		m.Lose += fmt.Sprintf(" %s may go too, first %s.", words.Capital(words.Counted(edges, "edge", "edges")), first)
	}
	return m
}
