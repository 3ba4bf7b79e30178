package drawing

import (
	"bytes"
	"context"
	"fmt"
	"math"
	"strings"

	"lampfern/core/colour"
	"lampfern/core/craft/other"
	"lampfern/core/piece"
	"lampfern/core/words"
	"lampfern/exchange"
	"lampfern/plan"
)

// BringSVG makes a line drawing the plan's own drawing: by "group" a part of each
// layer or group, else of each colour. Wide in mm is for a drawing without a size,
// or to give it another; 0 keeps its own. It says what was left out.
type BringSVG struct {
	By   string  `form:"by"`
	Wide float64 `form:"wide,optional"`
	File plan.File
}

func (e *BringSVG) Take(f plan.File) { e.File = f }

func (e BringSVG) Do(dr *plan.Draft) (string, error) {
	in, err := plan.Read(dr, func(ctx context.Context) (exchange.SVGDrawing, error) {
		return exchange.ReadSVG(ctx, bytes.NewReader(e.File.Data))
	})
	if err != nil {
		return "", err
	}
	d, fills, err := drawingOf(in, e.By == "group", e.Wide)
	if err != nil {
		return "", err
	}
	drawn := &other.Drawn{Drawing: d}
	if err := drawn.Check(); err != nil {
		return "", words.Refuse("Not imported: %s.", err)
	}
	cards := map[string]int{}
	for i, part := range d.Parts {
		if fills[i] != nil {
			cards[part.Key] = dr.CardFor(fills[i].Lab(), words.Capital(part.Name))
		}
	}
	shapes := fmt.Sprintf("%d shapes", len(d.Outlines))
	if len(d.Outlines) == 1 {
		shapes = "one shape"
	}
	said := fmt.Sprintf("Drawing imported: %s in %s.", shapes, partsWord(len(d.Parts)))
	if len(in.LeftOut) > 0 {
		said += " Skipped or changed: " + strings.Join(in.LeftOut, "; ") + "."
	}
	dr.Say(said)
	return "import a drawing", dr.Refit("drawn", nil, drawn, cards)
}

func partsWord(n int) string {
	if n == 1 {
		return "one part"
	}
	return fmt.Sprintf("%d parts", n)
}

// round brings a size to a tenth of a mm, so that figures can be read and typed again.
func round(mm float64) float64 { return math.Round(10*mm) / 10 }

// drawingOf is a drawing in parts, and the colour of each part where all its
// shapes have one.
func drawingOf(in exchange.SVGDrawing, byGroup bool, wide float64) (*other.Drawing, []*colour.RGB, error) {
	w, h := in.Width, in.Height
	if w == 0 { // as large as what is drawn
		for _, s := range in.Shapes {
			for _, c := range s.Corners {
				w, h = math.Max(w, c.X), math.Max(h, c.Y)
			}
		}
		if wide == 0 {
			return nil, nil, words.Refuse("The drawing has no size. Give its width in mm, then import it again.")
		}
	}
	k := 1.0
	if wide > 0 && w > 0 {
		k = wide / w
	}
	d := &other.Drawing{Width: round(w * k), Height: round(h * k), Across: 1, Down: 1}
	if err := other.CheckSheet(d.Width, d.Height, 1, 1); err != nil {
		return nil, nil, words.Refuse("Not imported: %s.", err)
	}
	var fills []*colour.RGB
	at := map[string]int{}
	taken := map[string]int{}
	for i, s := range in.Shapes {
		key, name := "", ""
		switch {
		case byGroup && s.Group != "":
			key, name = "group "+s.Group, s.Group
		case !byGroup && s.Fill != nil:
			key, name = "fill "+s.Fill.Hex(), string(colour.Family(s.Fill.Lab()))
		default:
			key, name = fmt.Sprintf("shape %d", i), s.Name
			if name == "" {
				name = "shape"
			}
		}
		part, known := at[key]
		if !known {
			part = len(d.Parts)
			if part >= other.MostParts {
				return nil, nil,
					words.Refuse("The drawing has more than %d colours or groups: import it by the other, or merge similar ones first.",
						other.MostParts)
			}
			at[key] = part
			if r := []rune(name); len(r) > 34 {
				name = string(r[:34])
			}
			if taken[name]++; taken[name] > 1 {
				name = fmt.Sprintf("%s %d", name, taken[name])
			}
			d.Parts = append(d.Parts, piece.Part{Key: fmt.Sprintf("part%d", part+1), Name: name})
			fills = append(fills, s.Fill)
		} else if f := fills[part]; f != nil && (s.Fill == nil || *s.Fill != *f) {
			fills[part] = nil
		}
		corners := make([]piece.Point, len(s.Corners))
		for j, c := range s.Corners {
			corners[j] = piece.Point{X: c.X * k, Y: c.Y * k}
		}
		d.Outlines = append(d.Outlines, piece.Outline{Part: part, Corners: d.Held(corners)})
	}
	return d, fills, nil
}
