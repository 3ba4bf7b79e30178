package craft

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"

	"lampfern/core/piece"
	"lampfern/core/schedule"
)

func taskOf(t *testing.T, all []piece.Task, key string) piece.Task {
	t.Helper()
	for _, k := range all {
		if k.Key == key {
			return k
		}
	}
	assert.Fail(t, "no task "+key)
	return piece.Task{}
}

// Every pattern of every craft has an order of work that can be done: keys are unlike, what
// comes before is there, times are in order, and nothing needs itself.
func TestEveryPatternHasItsOrderOfWork(t *testing.T) {
	for _, of := range All() {
		if of.Work == nil { // its order is the maker's own
			continue
		}
		for _, p := range of.Patterns {
			_, m := making(t, of.Name, p.Key, nil, of.Kinds[0])
			all := of.Work(m)
			assert.NotEmpty(t, all, p.Key)
			at := map[string]int{piece.There: -1, piece.Agreed: -1}
			job := schedule.Job{}
			waits := false
			for i, k := range all {
				assert.NotContains(t, at, k.Key, p.Key)
				s := schedule.Step{Name: k.Name, Work: int(math.Round(k.Work())), Wait: int(k.Wait.Usual), OneGo: k.OneGo, Tool: k.Tool}
				for _, before := range k.After {
					where, there := at[before]
					if !there { // one that this piece does not have
						continue
					}
					waits = waits || where < 0
					if where >= 0 {
						s.Needs = append(s.Needs, where)
					}
				}
				at[k.Key] = i
				job.Steps = append(job.Steps, s)
				assert.False(t, math.IsNaN(k.Work()) || math.IsInf(k.Work(), 0), "%s %s", p.Key, k.Key)
				assert.Positive(t, k.Work(), "%s %s", p.Key, k.Key)
				assert.LessOrEqual(t, k.Each.Least, k.Each.Usual, "%s %s", p.Key, k.Key)
				assert.GreaterOrEqual(t, k.Each.Most, k.Each.Usual, "%s %s", p.Key, k.Key)
				assert.LessOrEqual(t, k.Wait.Least, k.Wait.Usual, "%s %s", p.Key, k.Key)
				assert.LessOrEqual(t, k.Wait.Usual, k.Wait.Most, "%s %s", p.Key, k.Key)
			}
			for _, k := range all {
				if k.Until != "" {
					assert.Contains(t, at, k.Until, p.Key)
				}
			}
			assert.True(t, waits, "%s: something waits for what it is made of", p.Key)
			var day []schedule.Span
			for d := range 2000 {
				day = append(day, schedule.Span{From: d*1440 + 600, To: d*1440 + 1080})
			}
			assert.NoError(t, schedule.Plan([]schedule.Job{job}, day, 0)[0].Err, p.Key)
		}
	}
}

// One thing of each craft by hand.
func TestOrderOfWorkByHand(t *testing.T) {
	work := func(name, pattern string, v piece.Values, kind string) ([]piece.Task, *piece.Making) {
		of, m := making(t, name, pattern, v, kind)
		return of.Work(m), &m
	}
	// Nine-patch of 2 × 2 blocks: two of nine squares and two plain ones, and sashing or not
	// as it is drawn: pieces less blocks are the seams in blocks.
	all, m := work("quilt", "ninepatch", piece.Values{"columns": 2, "rows": 2, "square": 60}, "fabric")
	pieces := 0.0
	for _, r := range m.Piece.Cutouts() {
		if m.Piece.Parts[r.Part].Key != "binding" {
			pieces++
		}
	}
	assert.Equal(t, pieces, taskOf(t, all, "cut").Work(), "a minute a piece")
	assert.InDelta(t, 1.5*(pieces-4), taskOf(t, all, "blocks").Work(), 1e-9)
	wide, high := m.Piece.Width/1000, m.Piece.Height/1000
	assert.InDelta(t, 240*wide*high, taskOf(t, all, "quilting").Work(), 1e-9, "four hours a square metre")
	assert.InDelta(t, 24*(wide+high), taskOf(t, all, "bind").Work(), 1e-9)

	// A scarf of the ends and picks that are drawn, its warp as long as Buy winds it; 6 s a pick.
	all, _ = work("weaving", "cloth", piece.Values{"width": 300, "length": 1800, "ends": 8, "picks": 7}, "yarn")
	assert.EqualValues(t, 29*44, taskOf(t, all, "weave").Count)
	ends := 8 * 30.0
	assert.InDelta(t, ends+45, taskOf(t, all, "dress").Work(), 1e-6, "a minute an end")
	// 29 orders of 44 picks at 7 are 182.3 cm; × .95 / .87 + 90 = 289.05 cm
	assert.InDelta(t, ends*2.9, taskOf(t, all, "warp").Count, 1e-6, "metres of end")
	assert.Equal(t, "off", taskOf(t, all, "dress").Until, "one loom holds one warp")

	// Stranded: every stitch of the chart as often as it repeats, 2.4 s × 1.4.
	all, m = work("knitting or crochet", "stranded", nil, "yarn")
	stitches := float64(m.Piece.Cells.Across * m.Piece.Cells.Down)
	assert.InDelta(t, stitches*.056, taskOf(t, all, "work").Work(), 1e-6)

	all, m = work("soap", "soap", nil, "soap colourant")
	bars := m.Asked["bars"]
	if v, there := m.Values["bars"]; there {
		bars = v
	}
	assert.InDelta(t, 30+2*bars, taskOf(t, all, "cut").Work(), 1e-9)
	assert.True(t, taskOf(t, all, "pour").OneGo, "a lye batch is never split")
	assert.Equal(t, piece.Spread{Usual: 1440, Least: 1440, Most: 3 * 1440}, taskOf(t, all, "pour").Wait)
	assert.Equal(t, 28*piece.Days, taskOf(t, all, "cut").Wait.Least, "the cure")

	// A figure in two coats: six minutes a part and coat.
	all, m = work("painted models", "figure", nil, "paint")
	assert.InDelta(t, 6*m.Asked["coats"]*float64(len(m.Piece.Parts)), taskOf(t, all, "base").Work(), 1e-9)

	// Filament at 6 mm³/s: g / 1.24 g/cm³ / 0.36 cm³/min.
	of, made := making(t, "printed parts", "pot", nil, "filament")
	grams := of.Needs(made)[0].Amount
	print := taskOf(t, of.Work(made), "print1")
	assert.InDelta(t, grams/1.24/.36, print.Run, 1e-9)
	assert.True(t, print.Present, "never unattended unless the maker says so")
}
