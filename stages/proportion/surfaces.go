package proportion

import (
	"fmt"
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
