package balance

import (
	"math"

	"lampfern/core/colour"
	"lampfern/core/wheel"
)

// Weft is what one weft does over the stripes of a warp.
type Weft struct {
	Faces  []colour.Lab // what each stripe reads as where it is crossed
	Kin    []Kin        // what the weft is to each stripe
	Tied   [][2]int     // stripes, by index, that come so near that they read as one group
	Dulled []int        // stripes that lose their clearness to an opposite hue
	Tinted []int        // stripes that white makes a tint of, or that make one of the weft
	Shaded []int        // the same with black, and a shade
	Own    int          // the stripe that it repeats, −1 for none
	Mood   Mood         // of the cloth
}

// Kin is what one thread is to another.
type Kin string

// The kinds of kin, by the schools of colour in cloth: the same, its lights and darks, what lies near it on
// the wheel, and what lies across.
const (
	Repeats  Kin = "repeats"
	Lighter  Kin = "lighter"
	Darker   Kin = "darker"
	Adjacent Kin = "neighbour"
	Opposite Kin = "opposite"
	Apart    Kin = "" // none of these
)

// Mood is how a cloth reads as a whole.
type Mood string

// The moods.
const (
	Lively Mood = "lively" // clear, or of strong contrast
	Soft   Mood = "soft"
	Solemn Mood = "solemn" // dark
)

// Bounds of what a weft does, in ΔE00 where nothing else is said. Starting values.
const (
	stripesApart = 10.0 // from where two stripes of the warp are two
	stripesTied  = 6.0  // and under which they read as one group
	weftRepeats  = 2.5
	dulledTo     = 0.7  // of the chroma that the two would keep if their hues agreed
	dulledFrom   = 15.0 // C*ab of each, under which nothing is dulled
	opposedFrom  = 4.0  // places of the wheel apart
	kinWithin    = 1.0  // places: one hue, lighter or darker
	nearWithin   = 2.0  // places: neighbours
	kinStep      = 8.0  // L*
	nearNeutral  = 12.0 // C*ab
	nearWhite    = 80.0 // L*
	nearBlack    = 30.0 // L*
	solemnBelow  = 35.0 // L*, mean of the faces
	livelyChroma = 35.0 // C*ab, mean of the faces
	livelyRange  = 40.0 // L*, from the darkest face to the lightest
)

// OverWarp works out one weft over the stripes of a warp; share is what the warp shows of the face,
// 0 to 1, and hues are told apart on the maker's wheel. The face is the mean of the light of both, as Mix
// has it.
func OverWarp(warp []colour.Lab, weft colour.Lab, share float64, on wheel.Wheel) Weft {
	w := Weft{Own: -1}
	for i, c := range warp {
		face := Mix([]colour.Lab{c, weft}, []float64{share, 1 - share})
		w.Faces = append(w.Faces, face)
		w.Kin = append(w.Kin, kin(weft, c, on))
		keep := share*c.Chroma() + (1-share)*weft.Chroma()
		switch pale, clear := leastChroma(c, weft); {
		case pale.Chroma() >= dulledFrom:
			if apart := wheel.Apart(on.Place(c.OKLCh()), on.Place(weft.OKLCh())); apart >= opposedFrom && face.Chroma() < dulledTo*keep {
				w.Dulled = append(w.Dulled, i)
			}
		case pale.Chroma() >= nearNeutral || clear.Chroma() < dulledFrom:
		case pale.L >= nearWhite:
			w.Tinted = append(w.Tinted, i)
		case pale.L <= nearBlack:
			w.Shaded = append(w.Shaded, i)
		}
		if w.Own < 0 && w.Kin[i] == Repeats {
			w.Own = i
		}
		for j := range i {
			if colour.DeltaE2000(c, warp[j]) >= stripesApart && colour.DeltaE2000(face, w.Faces[j]) < stripesTied {
				w.Tied = append(w.Tied, [2]int{j, i})
			}
		}
	}
	w.Mood = mood(w.Faces)
	return w
}

// leastChroma orders two colours by their chroma.
func leastChroma(a, b colour.Lab) (pale, clear colour.Lab) {
	if a.Chroma() <= b.Chroma() {
		return a, b
	}
	return b, a
}

// kin is what thread a is to thread b.
func kin(a, b colour.Lab, on wheel.Wheel) Kin {
	if colour.DeltaE2000(a, b) < weftRepeats {
		return Repeats
	}
	neutral := a.Chroma() < nearNeutral && b.Chroma() < nearNeutral
	if !neutral && (a.Chroma() < nearNeutral || b.Chroma() < nearNeutral) {
		return Apart
	}
	apart := 0.0
	if !neutral {
		apart = wheel.Apart(on.Place(a.OKLCh()), on.Place(b.OKLCh()))
	}
	switch {
	case apart <= kinWithin && a.L >= b.L+kinStep:
		return Lighter
	case apart <= kinWithin && a.L <= b.L-kinStep:
		return Darker
	case apart <= nearWithin:
		return Adjacent
	case apart >= opposedFrom:
		return Opposite
	}
	return Apart
}

// mood is how faces read together.
func mood(faces []colour.Lab) Mood {
	low, high, l, c := math.Inf(1), math.Inf(-1), 0.0, 0.0
	for _, f := range faces {
		low, high = min(low, f.L), max(high, f.L)
		l, c = l+f.L/float64(len(faces)), c+f.Chroma()/float64(len(faces))
	}
	switch {
	case l < solemnBelow:
		return Solemn
	case c >= livelyChroma || high-low >= livelyRange:
		return Lively
	}
	return Soft
}
