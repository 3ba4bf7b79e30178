package craft

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/craft/other"
	"lampfern/core/piece"
)

// drawnQuilt is a drawing of 40 × 30 cm made as a quilt: a ground, a strip of 12.7 × 4 cm most of which
// a leaf covers, a binding that is drawn, and a long border.
func drawnQuilt(t *testing.T) (piece.Craft, piece.Making) {
	t.Helper()
	d := other.NewDrawing(400, 300)
	d.Parts = piece.Parts("part1", "ground", "part2", "strip", "part3", "leaf", "part4", "Binding", "part5", "border")
	box := func(part int, x, y, w, h float64) {
		d.Outlines = append(d.Outlines, piece.Lay(part, piece.At(x, y), piece.At(x+w, y), piece.At(x+w, y+h), piece.At(x, y+h)))
	}
	box(1, 50, 50, 127, 40)
	d.Outlines = append(d.Outlines, piece.Lay(2, piece.At(55, 48), piece.At(170, 44), piece.At(176, 92), piece.At(60, 94)))
	box(3, 0, 0, 400, 10)
	box(4, 0, 250, 400, 40)
	require.NoError(t, d.Check())
	built, err := d.Made()
	require.NoError(t, err)
	of, _ := Named("quilt")
	m := piece.Making{Piece: built, Values: piece.Values{}, Asked: piece.Usual(of.Asks, nil), Times: 1}
	for i, p := range built.Parts {
		m.Of, m.Cards = append(m.Of, i), append(m.Cards, piece.Taken{Name: p.Name, Kind: "fabric"})
	}
	return of, m
}

func TestDrawnShapesAreCutWhole(t *testing.T) {
	of, m := drawnQuilt(t)
	all := of.Needs(m)
	// The strip is cut 14.2 × 5.5 cm, whole under the leaf: a strip of cloth of 5.5 cm, with 10% 6.05.
	strip := needOf(t, all, m, "strip")
	assert.InDelta(t, .0605, strip.Amount, 1e-9)
	assert.Contains(t, strip.Working[0], "1 rectangle: cut 14.2 × 5.5 cm")
	// What is drawn and called a binding is one: 2 × (40 + 30) + 25 = 165 cm in two strips of 6.5 cm, with 10%.
	assert.InDelta(t, .143, needOf(t, all, m, "Binding").Amount, 1e-9)
	// A backing for 40 × 30 cm goes 3.5 cm beyond each edge (a twelfth of 40), not 10.
	backing := needOf(t, all, m, "Backing")
	assert.Contains(t, backing.Working[0], "47 × 37 with the overhang")
	m.Asked["overhang"] = 10
	assert.Contains(t, needOf(t, of.Needs(m), m, "Backing").Working[0], "60 × 50 with the overhang")

	// Of fat quarters the ground of 40 × 30 fits one; a border of 60 cm would be joined of two.
	m.Asked["sold"] = 2
	for i := range m.Piece.Laid {
		for j := range m.Piece.Laid[i].Corners {
			m.Piece.Laid[i].Corners[j].X *= 1.5
		}
	}
	border := needOf(t, of.Needs(m), m, "border")
	require.Empty(t, border.Problem)
	assert.Equal(t, .25, border.Amount, "a fat quarter")
	assert.Contains(t, border.Working[len(border.Working)-1], "longer than a fat quarter is joined")
	assert.Equal(t, piece.FatQuarter, border.Step)
}

// Cloth that is kept in fat quarters is cut of them, its binding too: 165 cm in four strips of 53 cm, 4 × 6.5 cm and a tenth
// of 50 cm. What is bought by length stays so.
func TestClothKeptInFatQuarters(t *testing.T) {
	of, m := drawnQuilt(t)
	at := slices.IndexFunc(m.Cards, func(c piece.Taken) bool { return c.Name == "Binding" })
	m.Cards[at].Quarters = true
	binding := needOf(t, of.Needs(m), m, "Binding")
	assert.Equal(t, []float64{.25, piece.FatQuarter}, []float64{binding.Amount, binding.Step}, "28.6 cm of 50")
	assert.InDelta(t, .0605, needOf(t, of.Needs(m), m, "strip").Amount, 1e-9)
	m.Times = 2
	assert.Equal(t, .25*2, needOf(t, of.Needs(m), m, "Binding").Amount)
}

// Bias binding: the joins of its strips are allowed for where they take more than the usual tenth.
func TestBiasStripsAllowForTheirJoins(t *testing.T) {
	of, m := making(t, "garment", "waistcoat", nil, "fabric")
	m.Asked["bias"] = 90
	n := needOf(t, of.Needs(m), m, "Cloth for bias binding")
	// A square of about 20 cm has a diagonal of 28 cm: 7 strips of 4 cm, 6 joins of 2.12 cm are 12.7 of 90.
	assert.Contains(t, n.Working[len(n.Working)-1], "more is for 6 joins")
	assert.InDelta(t, .21, n.Amount, .011)
}
