package balance

import (
	"math"
	"slices"

	"lampfern/core/colour"
	"lampfern/core/wheel"
)

// SecondSchool is a way of choosing a second thread to go with a first.
type SecondSchool string

// The schools: repeat a colour that is there already, take a lighter or darker
// version of one, take a neighbour of one on the wheel.
const (
	Repeated  SecondSchool = "repeat"
	OtherLuma SecondSchool = "lighter or darker"
	Neighbour SecondSchool = "neighbour"
)

// Bounds of the schools. Starting values.
const (
	versionLightness = 10.0 // L* by which a version differs at least
	versionHue       = 18.0 // degrees of hue within which it is still one
	neighbourFrom    = 0.4  // places of the painters' wheel
	neighbourTo      = 1.6
	neighbourLight   = 18.0 // L* within which a neighbour stays
	secondsShown     = 6
)

// Second is a colour that could go with a first, and what an eye makes of the
// two when the threads blend.
type Second struct {
	Colour int // by index
	Face   colour.Lab
	Toward string // the place of the wheel that a neighbour lies toward; empty of the other schools
}

// Seconds finds second threads among colours by one school. there tells which
// are in the palette already; first is the index of the first thread, and share
// what it shows of the face, 0 to 1. The nearest to the school's idea come first, those of both
// neighbours in turn, at most six; places are of the maker's wheel.
func Seconds(school SecondSchool, all []colour.Lab, there []bool, first int, share float64, on wheel.Wheel) []Second {
	f := all[first]
	at := on.Place(f.OKLCh())
	var out []Second
	far := map[int]float64{} // from the school's idea, by index
	for i, c := range all {
		if i == first {
			continue
		}
		dL := math.Abs(c.L - f.L)
		switch school {
		case Repeated:
			if !there[i] {
				continue
			}
			far[i] = colour.DeltaE2000(f, c)
		case OtherLuma:
			if dL < versionLightness || f.Neutral() != c.Neutral() {
				continue
			}
			turn := 0.0
			if !f.Neutral() {
				if turn = math.Abs(colour.HueBetween(f.OKLCh().H, c.OKLCh().H)); turn > versionHue {
					continue
				}
			}
			far[i] = turn + math.Abs(dL-2*versionLightness) // two value steps are seen and still belong
		case Neighbour:
			if f.Neutral() || c.Neutral() {
				continue
			}
			apart := wheel.Apart(at, on.Place(c.OKLCh()))
			if apart < neighbourFrom || apart > neighbourTo || dL > neighbourLight {
				continue
			}
			far[i] = 10*math.Abs(apart-1) + dL + 20*math.Abs(f.Clearness()-c.Clearness())
		}
		s := Second{Colour: i, Face: Mix([]colour.Lab{f, c}, []float64{share, 1 - share})}
		if school == Neighbour {
			side := 1.0
			if wheel.Turn(on.Place(c.OKLCh()), -at) > wheel.Places/2 {
				side = -1
			}
			s.Toward = on.Name(math.Round(at) + side)
		}
		out = append(out, s)
	}
	slices.SortStableFunc(out, func(a, b Second) int {
		switch d := far[a.Colour] - far[b.Colour]; {
		case d < 0:
			return -1
		case d > 0:
			return 1
		}
		return 0
	})
	if school == Neighbour {
		out = inTurn(out)
	}
	return out[:min(len(out), secondsShown)]
}

// inTurn takes the neighbours of one side and of the other in turn, for as long as both have some.
func inTurn(all []Second) (out []Second) {
	if len(all) == 0 {
		return nil
	}
	one := all[0].Toward
	other := slices.DeleteFunc(slices.Clone(all), func(s Second) bool { return s.Toward == one })
	all = slices.DeleteFunc(slices.Clone(all), func(s Second) bool { return s.Toward != one })
	for i := range max(len(all), len(other)) {
		if i < len(all) {
			out = append(out, all[i])
		}
		if i < len(other) {
			out = append(out, other[i])
		}
	}
	return out
}

// BlendsFrom is the distance in metres from which threads so many mm apart are
// no longer told from one another.
func BlendsFrom(threadMM float64) float64 { return threadMM / fineBelow / Blur(1) }
