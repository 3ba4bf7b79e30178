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

// field is a part of OKLCh that is filed under one family: hue from one angle on, below
// another (round past 360), lightness and chroma likewise.
type field struct {
	family             FamilyName
	hFrom, hTo         float64
	lFrom, lTo         float64
	chromaFrom, chroma float64
}

const (
	any_ = 360.0 // of hues
	top  = 2.0   // above any lightness or chroma
)

// fields are read from the top: the first that holds a colour names it. The borders are
// this project's own, set against a list of named examples; names near a border are a
// matter of opinion.
var fields = [...]field{
	{Black, 0, any_, 0, .30, 0, .015},
	{Black, 0, any_, 0, .24, 0, .020},
	{Black, 0, any_, 0, .19, 0, .050},
	{White, 0, any_, .930, top, 0, .010},
	{White, 0, any_, .955, top, 0, .0155},
	{Cream, 60, 110, .90, top, .010, .016},
	{Grey, 0, any_, 0, top, 0, .016},
	{Grey, 0, 60, .50, .75, 0, .020},
	{Grey, 100, 400, 0, .60, 0, .026},

	{Pink, 348, 374, .42, .57, .15, top},
	{Violet, 340, 365, 0, .56, 0, .10},
	{Pink, 340, 374, .57, top, 0, top},
	{Pink, 4, 14, .56, top, 0, top},
	{Violet, 340, 352, 0, top, 0, top},
	{Red, 352, 374, 0, top, 0, top},

	{Pink, 14, 34, .68, top, 0, .19},
	{Pink, 14, 34, .62, top, 0, .10},
	{Brown, 14, 34, 0, .55, 0, .08},
	{Pink, 14, 34, 0, top, 0, .06},
	{Red, 14, 34, 0, top, 0, top},

	{Cream, 34, 66, .86, top, 0, .045},
	{Pink, 34, 45, .70, top, 0, .13},
	{Tan, 34, 66, .69, top, 0, .105},
	{Brown, 34, 66, 0, .56, 0, .155},
	{Brown, 34, 66, 0, .66, 0, .120},
	{Brown, 34, 66, 0, .69, 0, .090},
	{Orange, 34, 66, 0, top, 0, top},

	{Cream, 66, 96, .86, top, 0, .050},
	{Tan, 66, 96, .70, top, 0, .115},
	{Tan, 66, 96, .60, .70, 0, .060},
	{Brown, 66, 88, 0, .70, 0, .135},
	{Brown, 88, 96, 0, .60, 0, .060},
	{Orange, 66, 78, 0, top, .115, top},
	{Olive, 66, 96, 0, .70, 0, top},
	{Yellow, 66, 96, 0, top, 0, top},

	{Cream, 96, 120, .86, top, 0, .070},
	{Olive, 96, 120, 0, .72, 0, top},
	{Olive, 96, 120, 0, .80, 0, .130},
	{Tan, 96, 120, 0, top, 0, .055},
	{Yellow, 96, 120, 0, top, 0, top},

	{Olive, 120, 126, 0, .75, 0, .100},
	{Green, 120, 174, 0, top, 0, top},
	{Grey, 174, 213, 0, .85, 0, .030},
	{BlueGreen, 174, 213, 0, top, 0, top},
	{Blue, 213, 279, 0, top, 0, top},
	{Violet, 279, 340, 0, top, 0, top},
}

// holds reports whether a colour lies in a field.
func (f field) holds(c OKLCh) bool {
	h := c.H
	if h < f.hFrom {
		h += 360
	}
	return h >= f.hFrom && h < f.hTo && c.L >= f.lFrom && c.L < f.lTo && c.C >= f.chromaFrom && c.C < f.chroma
}

// Family names the colour family one would file c under: the first of the fields that
// holds it.
func Family(c Lab) FamilyName {
	ok := c.OKLCh()
	for _, f := range fields {
		if f.holds(ok) {
			return f.family
		}
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
