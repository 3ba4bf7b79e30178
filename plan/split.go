package plan

import (
	"fmt"
	"math"
	"slices"

	"lampfern/core/craft"
	"lampfern/core/piece"
	"lampfern/core/words"
)

// usualSplit is the share of a part that a tone takes where none is said, in per cent.
const usualSplit = 20.0

// Divides are the ways in which parts of the plan's piece can be divided: in tones where it is laid
// on with a brush or a pencil, along its sides where a part goes round it.
func (p *Plan) Divides() []piece.SplitKind {
	if p.Piece == nil || p.Piece.Cells != nil || p.Piece.Box[0] > 0 {
		return nil
	}
	var out []piece.SplitKind
	for _, c := range craft.All() {
		if c.Owns(p.Pattern) && c.Tones {
			out = append(out, piece.Tones...)
		}
		if c.Owns(p.Pattern) && c.Stitched && p.Piece.Sliced {
			out = append(out, piece.Stitching)
		}
	}
	for i := range p.Piece.Parts {
		if !p.Piece.Sliced && p.Piece.goesRound(i) {
			return append(out, piece.Sides...)
		}
	}
	return out
}

// goesRound reports whether a part, with what is split off it, lies along all four sides of the piece.
func (p *Piece) goesRound(part int) bool {
	const near = 1e-6
	base, _ := piece.SplitOff(p.Parts[part].Key)
	var sides [4]bool
	for _, r := range p.Regions {
		if of, _ := piece.SplitOff(p.Parts[r.Part].Key); of != base {
			continue
		}
		for _, q := range r.Outline {
			sides[0], sides[1] = sides[0] || q.X < near, sides[1] || q.Y < near
			sides[2], sides[3] = sides[2] || q.X > p.Width-near, sides[3] || q.Y > p.Height-near
		}
	}
	return sides == [4]bool{true, true, true, true}
}

// SplitPart splits something off a part and gives it a card: a shade or a light by its share in per
// cent, the foot into which the part fades, or a side.
type SplitPart struct {
	Part  string  `form:"part"`
	Kind  string  `form:"kind"`
	Key   int     `form:"key"`
	Share float64 `form:"share,optional"`
}

func (e SplitPart) Do(d *Draft) (string, error) {
	p, at, err := d.partOf(e.Part)
	if err != nil {
		return "", err
	}
	_, c, err := d.Entry(e.Key)
	if err != nil {
		return "", err
	}
	kind, name := piece.SplitKind(e.Kind), p.Parts[at].Name
	view := &Plan{Making: d.Plan.Making, Piece: p}
	_, is := piece.SplitOff(e.Part)
	switch {
	case is != "":
		return "", words.Refuse("The %s is a split-off part. Divide the whole part instead.", name)
	case slices.Contains(piece.Sides, kind) && (p.Sliced || p.Cells != nil || !p.goesRound(at)):
		return "", words.Refuse("The %s does not go round the whole piece, so it has no four sides.", name)
	case !slices.Contains(view.Divides(), kind):
		return "", words.Refuse("This piece’s parts have one tone each. Draw the tones as parts of their own.")
	}
	s := piece.Split{Part: e.Part, Kind: kind}
	if kind == piece.Shade || kind == piece.Light {
		if s.Share = e.Share / 100; e.Share == 0 {
			s.Share = usualSplit / 100
		}
		if math.IsNaN(s.Share) || math.IsInf(s.Share, 0) {
			return "", words.Refuse("The share must be a number.")
		}
	}
	splits := slices.DeleteFunc(slices.Clone(d.Plan.Splits), func(o piece.Split) bool { return o.Key() == s.Key() })
	splits = append(splits, s)
	if err := piece.CheckSplits(splits); err != nil {
		return "", words.Refuse("The %s cannot be divided like that: %s.", name, err)
	}
	d.Plan.Splits = splits
	d.Plan.Fills = append(slices.DeleteFunc(d.Plan.Fills, func(f Fill) bool { return f.Part == s.Key() }),
		Fill{Part: s.Key(), EntryKey: e.Key})
	d.SortFills()
	if p, err = d.ChosenPiece(); err != nil {
		return "", err
	}
	d.settleParts(p)
	return fmt.Sprintf("%s to the %s", c.Name, p.Parts[p.Part(s.Key())].Name), nil
}

// JoinPart joins what was split off a part with it again.
type JoinPart struct {
	Part string `form:"part"` // what was split off
}

func (e JoinPart) Do(d *Draft) (string, error) {
	p, at, err := d.partOf(e.Part)
	if err != nil {
		return "", err
	}
	name := p.Parts[at].Name
	if _, is := piece.SplitOff(e.Part); is == "" {
		return "", words.Refuse("The %s is not part of another part.", name)
	}
	d.Plan.Splits = slices.DeleteFunc(slices.Clone(d.Plan.Splits), func(s piece.Split) bool { return s.Key() == e.Part })
	if p, err = d.ChosenPiece(); err != nil {
		return "", err
	}
	d.settleParts(p)
	return "remove the " + name, nil
}
