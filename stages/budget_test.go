package stages

import (
	"fmt"
	"math"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"lampfern/core/colour"
	"lampfern/core/craft/other"
	"lampfern/core/material"
	"lampfern/core/piece"
	"lampfern/plan"
	"lampfern/shelf"
	"lampfern/stages/buy"
	"lampfern/stages/drawing"
	"lampfern/store"
	"lampfern/testroom"
)

// BenchmarkSaveAndSee saves one material and finds the shelf as it then is.
func BenchmarkSaveAndSee(b *testing.B) {
	for _, n := range []int{5_000, 50_000} {
		b.Run(fmt.Sprint(n), func(b *testing.B) {
			k := testroom.Studio(b, All()...)
			thousands(b, k, n)
			sh, err := k.Shelf(testroom.Ctx)
			require.NoError(b, err)
			id := sh.Cards[n/2].ID
			l := 10.0
			for b.Loop() {
				sh, err := k.Shelf(testroom.Ctx)
				require.NoError(b, err)
				c, err := sh.Card(id)
				require.NoError(b, err)
				m := c.Material
				l = math.Mod(l+7, 80)
				m.Colour = colour.Lab{L: l, A: 10, B: 5}
				_, err = k.SaveMaterial(testroom.Ctx, id, c.Revision, m)
				require.NoError(b, err)
				sh, err = k.Shelf(testroom.Ctx)
				require.NoError(b, err)
				sh.Find(shelf.Query{Text: "cloth 1"})
				sh.Nearest(m.Colour, 3, id)
			}
		})
	}
}

// largeDrawing is a plan whose drawing has 9,600 corners in 400 outlines.
func largeDrawing(tb testing.TB) (*plan.Desk, uint) {
	k := testroom.Studio(tb, All()...)
	ids := []uint{}
	for i, hex := range []string{"#4b2346", "#d9cbb0", "#8a5a86", "#e0a52e"} {
		rgb, err := colour.ParseHex(hex)
		require.NoError(tb, err)
		id, err := k.SaveMaterial(testroom.Ctx, 0, 0, material.Material{Name: fmt.Sprint("Cloth ", i), Colour: rgb.Lab()})
		require.NoError(tb, err)
		ids = append(ids, id)
	}
	id, err := k.NewPlan(testroom.Ctx, "Large", "other")
	require.NoError(tb, err)
	do := func(e plan.Edit) {
		p, err := k.Open(testroom.Ctx, id)
		require.NoError(tb, err)
		require.NoError(tb, testroom.Change(k, id, p.Revision, e))
	}
	for _, m := range ids {
		do(plan.Pull{Material: m})
	}
	do(plan.ChoosePiece{Pattern: "drawn"})
	do(plan.Doing(func(d *plan.Draft) (string, error) {
		dr := &other.Drawing{Width: 1000, Height: 1000, Across: 1, Down: 1}
		for i := range 4 {
			dr.Parts = append(dr.Parts, piece.Part{Key: fmt.Sprintf("part%d", i+1), Name: fmt.Sprint("part ", i+1)})
		}
		for i := range 400 {
			dr.Outlines = append(dr.Outlines, piece.Outline{Part: i % 4, Corners: piece.Disc(piece.Point{X: 25 + 48*float64(i%20),
				Y: 25 + 48*float64(i/20)}, 22)})
		}
		return "draw much", d.Recast(&other.Drawn{Drawing: dr})
	}))
	return k, id
}

// BenchmarkEditLargeDrawing swaps two cards of a plan that holds a large drawing,
// and moves one of its outlines.
func BenchmarkEditLargeDrawing(b *testing.B) {
	for name, edit := range map[string]plan.Edit{"swap": plan.Swap{Key: 1, With: 2}, "move": drawing.MoveOutline{At: 7, DX: 0.5}} {
		b.Run(name, func(b *testing.B) {
			k, id := largeDrawing(b)
			p, err := k.Open(testroom.Ctx, id)
			require.NoError(b, err)
			revision := p.Revision
			for b.Loop() {
				require.NoError(b, testroom.Change(k, id, revision, edit))
				revision++
			}
			b.ReportMetric(float64(store.JournalBytes(k.Store, id)), "journal-bytes")
		})
	}
}

func TestAnEditOfALargeDrawingKeepsALittleJournal(t *testing.T) {
	t.Parallel()
	k, id := largeDrawing(t)
	for _, e := range []plan.Edit{plan.Swap{Key: 1, With: 2}, drawing.MoveOutline{At: 7, DX: 0.5}} {
		p := testroom.MustOpen(t, k, id)
		require.NoError(t, testroom.Change(k, id, p.Revision, e))
		require.Less(t, store.JournalBytes(k.Store, id), int64(10_000))
	}
}

// BenchmarkPlans500 lists 500 plans.
func BenchmarkPlans500(b *testing.B) {
	k := testroom.Studio(b, All()...)
	for i := range 500 {
		_, err := k.NewPlan(testroom.Ctx, fmt.Sprint("Plan ", i), "quilt")
		require.NoError(b, err)
	}
	for b.Loop() {
		_, err := k.Plans(testroom.Ctx)
		require.NoError(b, err)
	}
}

// BenchmarkBuy40 opens a plan of 40 cards, each with its price asked and some on hand, and
// works out what to buy.
func BenchmarkBuy40(b *testing.B) {
	k := testroom.Studio(b, All()...)
	id, err := k.NewPlan(testroom.Ctx, "Forty", "quilt")
	require.NoError(b, err)
	do := func(e plan.Edit) {
		p, err := k.Open(testroom.Ctx, id)
		require.NoError(b, err)
		require.NoError(b, testroom.Change(k, id, p.Revision, e))
	}
	list := "seller,name,kind,price,stock\n"
	for i := range 40 {
		name := fmt.Sprint("Cloth ", i)
		m, err := k.SaveMaterial(testroom.Ctx, 0, 0, material.Material{Name: name, Kind: "fabric", Supplier: "Gorse",
			Colour: colour.Lab{L: 20 + float64(i), A: float64(i)}, Lots: []material.Lot{{Name: "1", OnHand: .2, Unit: "m"}}})
		require.NoError(b, err)
		do(plan.Pull{Material: m})
		list += fmt.Sprintf("Gorse,%s,fabric,%d,3\nMill,%s,fabric,%d,\n", name, 8+i%5, name, 7+i%7)
	}
	prices := buy.BringPrices{}
	prices.Take(plan.File{Name: "list.csv", Data: []byte(list)})
	do(prices)
	do(plan.ChoosePiece{Pattern: "drawn"})
	do(plan.Doing(func(d *plan.Draft) (string, error) {
		dr := &other.Drawing{Width: 1000, Height: 1000, Across: 1, Down: 1}
		for i := range 40 {
			dr.Parts = append(dr.Parts, piece.Part{Key: fmt.Sprintf("part%d", i+1), Name: fmt.Sprint("part ", i+1)})
		}
		for i := range 400 {
			x, y := 10+48*float64(i%20), 10+48*float64(i/20)
			dr.Outlines = append(dr.Outlines, piece.Outline{Part: i % 40, Corners: []piece.Point{{X: x, Y: y}, {X: x + 40, Y: y},
				{X: x + 40, Y: y + 40}, {X: x, Y: y + 40}}})
		}
		return "draw much", d.Recast(&other.Drawn{Drawing: dr})
	}))
	do(plan.Doing(func(d *plan.Draft) (string, error) {
		d.Plan.Fills = nil
		for i, e := range d.Plan.Entries {
			d.Plan.Fills = append(d.Plan.Fills, plan.Fill{Part: fmt.Sprintf("part%d", i+1), EntryKey: e.Key})
		}
		return "fill", nil
	}))
	var took []float64
	for b.Loop() {
		from := time.Now()
		p, err := k.Open(testroom.Ctx, id)
		require.NoError(b, err)
		v, err := buy.View(testroom.Ctx, k, p)
		require.NoError(b, err)
		require.GreaterOrEqual(b, len(v.Rows), 40)
		took = append(took, float64(time.Since(from).Microseconds())/1000)
	}
	slices.Sort(took)
	b.ReportMetric(took[len(took)*95/100], "p95-ms")
}
