package shelf

import (
	"context"
	"runtime/debug"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
)

// Heavy jobs come one after another, and one whose client has gone is never begun.
func TestHeavyJobsWaitTheirTurn(t *testing.T) {
	limit := debug.SetMemoryLimit(-1)
	var at, most, lowest atomic.Int64
	lowest.Store(limit)
	var wait sync.WaitGroup
	for range 16 {
		wait.Go(func() {
			assert.NoError(t, Heavy(context.Background(), func() error {
				most.Store(max(most.Load(), at.Add(1)))
				lowest.Store(min(lowest.Load(), debug.SetMemoryLimit(-1)))
				time.Sleep(2 * time.Millisecond)
				at.Add(-1)
				return nil
			}))
		})
	}
	wait.Wait()
	assert.EqualValues(t, 1, most.Load())
	assert.EqualValues(t, heavyMemory, lowest.Load(), "a job is held to less")
	assert.Equal(t, limit, debug.SetMemoryLimit(-1), "after the last the limit is what it was")

	hold, held := make(chan struct{}), make(chan struct{})
	go func() { _ = Heavy(context.Background(), func() error { close(held); <-hold; return nil }) }()
	<-held
	ctx, leave := context.WithCancel(context.Background())
	done := make(chan error)
	go func() { done <- Heavy(ctx, func() error { t.Error("it was begun"); return nil }) }()
	leave()
	assert.ErrorIs(t, <-done, context.Canceled)
	close(hold)
}
