package balance

import "lampfern/core/colour"

// Weft is what one weft does over the stripes of a warp.
type Weft struct {
	Faces  []colour.Lab // what each stripe reads as where it is crossed
	Tied   [][2]int     // stripes, by index, that come so near that they read as one group
	Dulled []int        // stripes that lose their clearness to an opposite hue
	Own    int          // the stripe that it repeats, −1 for none
}

// Bounds of what a weft does, in ΔE00 but for the last two. Starting values.
const (
	stripesApart = 10.0 // from where two stripes of the warp are two
	stripesTied  = 6.0  // and under which they read as one group
	weftRepeats  = 2.5
	dulledTo     = 0.7  // of the chroma that the two would keep if their hues agreed
	dulledFrom   = 12.0 // C*ab under which nothing is lost
)

// OverWarp works out one weft over the stripes of a warp; share is what the warp shows of the face,
// 0 to 1. The face is the mean of the light of both, as Mix has it.
func OverWarp(warp []colour.Lab, weft colour.Lab, share float64) Weft {
	w := Weft{Own: -1}
	for i, c := range warp {
		face := Mix([]colour.Lab{c, weft}, []float64{share, 1 - share})
		w.Faces = append(w.Faces, face)
		if keep := share*c.Chroma() + (1-share)*weft.Chroma(); keep >= dulledFrom && face.Chroma() < dulledTo*keep {
			w.Dulled = append(w.Dulled, i)
		}
		if w.Own < 0 && colour.DeltaE2000(c, weft) < weftRepeats {
			w.Own = i
		}
		for j := range i {
			if colour.DeltaE2000(c, warp[j]) >= stripesApart && colour.DeltaE2000(face, w.Faces[j]) < stripesTied {
				w.Tied = append(w.Tied, [2]int{j, i})
			}
		}
	}
	return w
}
