package other

import (
	"fmt"
	"math"

	"lampfern/core/piece"
)

// Drawing is a piece that the maker draws: outlines laid one over another, the
// later on top, each in a part. Repeat sets it side by side, as blocks of a
// quilt.
type Drawing struct {
	Width    float64         `json:"width"` // mm
	Height   float64         `json:"height"`
	Across   int             `json:"across"` // repeats
	Down     int             `json:"down"`
	Parts    []piece.Part    `json:"parts"`
	Outlines []piece.Outline `json:"outlines"`
	Unders   []piece.Under   `json:"unders,omitempty"`
}

// Limits of a drawing.
const (
	leastSide   = 1.0 // mm
	mostSide    = 20_000.0
	mostCorners = 40_000 // of all outlines together
	MostParts   = 60
	MostUnders  = 4
	mostRepeats = 24
	usualSide   = 300 // mm
)

// NewDrawing is an empty drawing: a ground that fills it.
func NewDrawing(width, height float64) *Drawing {
	return &Drawing{Width: width, Height: height, Across: 1, Down: 1, Parts: piece.Parts("part1", "ground"),
		Outlines: []piece.Outline{piece.Lay(0, piece.At(0, 0), piece.At(width, 0), piece.At(width, height), piece.At(0, height))}}
}

// CheckSheet says in one sentence what keeps a drawing from being of a size, in mm,
// and set so many times side by side.
func CheckSheet(width, height float64, across, down int) error {
	for _, side := range []float64{width, height} {
		if !(side >= leastSide && side <= mostSide) {
			return fmt.Errorf("a drawing is %g mm to %g m wide and high, not %g mm", leastSide, mostSide/1000, side)
		}
	}
	if across < 1 || down < 1 || across > mostRepeats || down > mostRepeats {
		return fmt.Errorf("a drawing is repeated 1 to %d times each way, not %d × %d", mostRepeats, across, down)
	}
	return nil
}

// Check says in one sentence what keeps the drawing from being made.
func (d Drawing) Check() error {
	if err := CheckSheet(d.Width, d.Height, d.Across, d.Down); err != nil {
		return err
	}
	switch {
	case len(d.Parts) == 0 && len(d.Unders) == 0 || len(d.Parts) > MostParts:
		return fmt.Errorf("a drawing has from 1 to %d parts: this one has %d", MostParts, len(d.Parts))
	case len(d.Outlines) > piece.MostOutlines:
		return fmt.Errorf("a drawing has at most %d outlines: this one has %d", piece.MostOutlines, len(d.Outlines))
	}
	if len(d.Unders) > MostUnders || len(d.Unders) > 0 && (d.Across > 1 || d.Down > 1) {
		return fmt.Errorf("a drawing has at most %d photos under it, and is then not repeated", MostUnders)
	}
	for _, u := range d.Unders {
		if !(u.X >= 0 && u.Y >= 0 && u.Width >= leastSide && u.Height >= leastSide && u.X+u.Width <= d.Width*(1+1e-9) &&
			u.Y+u.Height <= d.Height*(1+1e-9)) {
			return fmt.Errorf("a photo of %.4g × %.4g mm does not fit the drawing: make the drawing larger", u.Width, u.Height)
		}
		if err := u.Bare.Check(); err != nil {
			return err
		}
	}
	keys := map[string]bool{}
	for _, p := range d.Parts {
		if p.Key == "" || keys[p.Key] || p.Name == "" || len([]rune(p.Name)) > piece.MaxPartName {
			return fmt.Errorf("each part of a drawing has its own name of at most %d characters", piece.MaxPartName)
		}
		keys[p.Key] = true
	}
	corners := 0
	for i, o := range d.Outlines {
		if o.Part < 0 || o.Part >= len(d.Parts) {
			return fmt.Errorf("outline %d belongs to no part", i+1)
		}
		if len(o.Corners) < 3 {
			return fmt.Errorf("an outline needs at least three corners: this one has %d", len(o.Corners))
		}
		for _, c := range o.Corners {
			if !(c.X >= 0 && c.X <= d.Width && c.Y >= 0 && c.Y <= d.Height) {
				return fmt.Errorf("a corner at %.4g, %.4g mm is outside the drawing of %g × %g mm", c.X, c.Y, d.Width, d.Height)
			}
		}
		if corners += len(o.Corners); corners > mostCorners {
			return fmt.Errorf("a drawing has at most %d corners: simplify it", mostCorners)
		}
	}
	return nil
}

var drawnPattern = piece.Pattern{Key: "drawn", Name: "Your own drawing",
	Words: "outlines you draw at true size, one over another, repeated if you like",
	Input: func() piece.Input { return &Drawn{} }, Make: piece.MakeWith(drawn), Cautions: piece.CautionsWith(covered)}

func drawn(_ piece.Values, in *Drawn) (piece.Piece, error) { return in.Draws().Made() }

// Made lays the outlines over one another and keeps what is seen of each. A part of
// which nothing is seen stays, with no area.
func (d Drawing) Made() (piece.Piece, error) {
	one := piece.Overlay(d.Outlines)
	if len(one) == 0 && len(d.Unders) == 0 {
		return piece.Piece{}, fmt.Errorf("the drawing has nothing visible: draw an outline of at least three corners")
	}
	p := piece.Piece{Width: d.Width * float64(d.Across), Height: d.Height * float64(d.Down), Parts: d.Parts, Sliced: true, Unders: d.Unders}
	for down := range d.Down {
		for across := range d.Across {
			dx, dy := d.Width*float64(across), d.Height*float64(down)
			moved := func(corners []piece.Point) []piece.Point {
				out := make([]piece.Point, len(corners))
				for i, q := range corners {
					out[i] = piece.At(q.X+dx, q.Y+dy)
				}
				return out
			}
			for _, r := range one {
				p.Regions = append(p.Regions, piece.Region{Part: r.Part, Outline: moved(r.Outline)})
			}
			for _, o := range d.Outlines {
				p.Laid = append(p.Laid, piece.Lay(o.Part, moved(o.Corners)...))
			}
		}
	}
	return p, nil
}

// Held are corners moved to the nearest places within the drawing.
func (d Drawing) Held(corners []piece.Point) []piece.Point {
	out := make([]piece.Point, len(corners))
	for i, c := range corners {
		out[i] = piece.At(math.Max(0, math.Min(d.Width, c.X)), math.Max(0, math.Min(d.Height, c.Y)))
	}
	return out
}
