package log_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/plan"
	"lampfern/plan/work"
	"lampfern/stages/log"
	"lampfern/testroom"
)

// A quilt with two cushions is worked one piece after another, each with its own steps; what is
// learned of a step is learned of it on any piece.
func TestTheOrderOfWorkOfASet(t *testing.T) {
	k, id := sewn(t)
	one := testroom.Do(t, k, id, log.OrderWork{})
	alone := len(work.Of(one).Steps)
	cut := step(t, k, id, "cut")
	testroom.Do(t, k, id, plan.CopyPiece{Key: 1})
	testroom.Do(t, k, id, plan.NamePiece{Key: 2, Name: "Cushion", Times: 2})
	testroom.Do(t, k, id, log.Tick{Step: "cut", Took: "3 h"})
	p := testroom.Do(t, k, id, log.OrderWork{})
	assert.Greater(t, len(work.Of(p).Steps), alone+3)
	first, second := step(t, k, id, "cut"), step(t, k, id, "cut.2")
	assert.NotNil(t, first.Done, "what was done of the first piece stays done")
	assert.Nil(t, second.Done)
	assert.Equal(t, "Cushion", p.Members()[1].Name)
	assert.Contains(t, second.Name, " (Cushion)")
	assert.InDelta(t, 2*cut.Count, second.Count, 1e-9, "two of it")
	for _, after := range second.After {
		assert.NotContains(t, after, "cut", "it waits for what is ordered, not for the other piece")
	}
	v := look(t, k, id, time.Now())
	assert.Empty(t, v.Cannot)
	assert.Empty(t, v.Anew, "it is as the plan stands")

	l := lesson(t, k, id, "speed:quilt/cut")
	assert.Equal(t, 1, l.N)
	testroom.Do(t, k, id, log.Tick{Step: "cut.2", Took: "4 h"})
	l = lesson(t, k, id, "speed:quilt/cut")
	assert.Equal(t, 2, l.N)
	assert.NotContains(t, l.About, "Cushion")

	// A piece left out is not worked on.
	testroom.Do(t, k, id, plan.LeaveOut{Key: 1, Out: true})
	p = testroom.Do(t, k, id, log.OrderWork{})
	require.GreaterOrEqual(t, work.Of(p).At("cut.2"), 0)
	assert.GreaterOrEqual(t, work.Of(p).At("cut"), 0, "but what was done of it is kept")
}

// How much of the finished thing each card takes is kept of each piece.
func TestResultsOfASet(t *testing.T) {
	k, id := sewn(t)
	p := testroom.Do(t, k, id, plan.CopyPiece{Key: 1})
	testroom.Do(t, k, id, plan.Doing(func(d *plan.Draft) (string, error) {
		work.Of(d.Plan).Shares = map[string]float64{"Moth wing": .3}
		return "shares", nil
	}))
	assert.Equal(t, 2, p.At)
	p = testroom.Do(t, k, id, plan.WorkOn{Key: 1})
	assert.Empty(t, work.Of(p).Shares)
	p = testroom.Do(t, k, id, plan.WorkOn{Key: 2})
	assert.Equal(t, .3, work.Of(p).Shares["Moth wing"])
}
