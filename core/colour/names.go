package colour

import "math"

// FamilyName is a colour family, in the singular.
type FamilyName string

// The families.
const (
	Yellow    FamilyName = "yellow"
	Orange    FamilyName = "orange"
	Tan       FamilyName = "tan"
	Brown     FamilyName = "brown"
	Red       FamilyName = "red"
	Pink      FamilyName = "pink"
	Violet    FamilyName = "violet"
	Blue      FamilyName = "blue"
	BlueGreen FamilyName = "blue-green"
	Green     FamilyName = "green"
	Olive     FamilyName = "olive"
	Cream     FamilyName = "cream"
	White     FamilyName = "white"
	Grey      FamilyName = "grey"
	Black     FamilyName = "black"
)

// Families lists the families in filing order: yellows round to neutrals.
func Families() []FamilyName {
	return []FamilyName{Yellow, Orange, Tan, Brown, Red, Pink, Violet, Blue, BlueGreen, Green, Olive, Cream, White, Grey, Black}
}

// Family names the colour family one would file c under. The borders are this
// project's own, set in OKLCh against a list of named examples; names near a
// border are a matter of opinion.
func Family(c Lab) FamilyName {
	ok := c.OKLCh()
	l, ch, h := ok.L, ok.C, ok.H
	switch {
	case l < 0.24 && ch < 0.02, l < 0.19 && ch < 0.05:
		return Black
	case l > 0.955 && ch < 0.014:
		return White
	case ch < 0.016, ch < 0.026 && l < 0.90 && (l < 0.6 && (h > 100 || h < 40)):
		return Grey
	}
	light := l > 0.86
	switch {
	case h < 14 || h >= 340: // the reds that turn to pink when light
		if l > 0.57 || h < 14 && h >= 4 && l > 0.56 {
			return Pink
		}
		if h >= 340 && h < 352 {
			return Violet
		}
		return Red
	case h < 34:
		switch {
		case l > 0.68 && ch < 0.19:
			return Pink
		case ch < 0.075 && l < 0.55:
			return Brown
		case ch < 0.06:
			return Pink
		}
		return Red
	case h < 66:
		switch {
		case light && ch < 0.045:
			return Cream
		case l > 0.70 && h < 45 && ch < 0.13:
			return Pink
		case l > 0.69 && ch < 0.105:
			return Tan
		case l < 0.56 && ch < 0.155, l < 0.66 && ch < 0.12, l < 0.69 && ch < 0.09:
			return Brown
		}
		return Orange
	case h < 96:
		switch {
		case light && ch < 0.05:
			return Cream
		case l > 0.73 && ch < 0.115:
			return Tan
		case l < 0.70 && (h < 88 || ch < 0.06) && ch < 0.135:
			if ch < 0.06 && l > 0.60 {
				return Tan
			}
			return Brown
		case h < 78 && ch >= 0.115:
			return Orange
		case l < 0.70:
			return Olive
		}
		return Yellow
	case h < 121:
		switch {
		case l > 0.90 && ch < 0.055:
			return Cream
		case l < 0.80 && (l < 0.72 || ch < 0.13):
			return Olive
		case ch < 0.055:
			return Tan
		}
		return Yellow
	case h < 168:
		if h < 126 && ch < 0.10 && l < 0.75 {
			return Olive
		}
		return Green
	case h < 213:
		if h < 174 {
			return Green
		}
		if ch < 0.04 && l < 0.85 {
			return Grey
		}
		return BlueGreen
	case h < 279:
		return Blue
	case h < 340:
		return Violet
	}
	return Violet
}

// FileBefore orders two colours as cards are filed: by family, then from dark
// to light, then by hue.
func FileBefore(a, b Lab) bool {
	if fa, fb := filing(Family(a)), filing(Family(b)); fa != fb {
		return fa < fb
	}
	if math.Abs(a.L-b.L) > 1e-9 {
		return a.L < b.L
	}
	return a.OKLCh().H < b.OKLCh().H
}

func filing(f FamilyName) int {
	for i, g := range Families() {
		if g == f {
			return i
		}
	}
	return len(Families())
}
