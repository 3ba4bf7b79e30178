package shelf

import (
	"context"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/store"
)

// Heavy jobs come one after another, and one whose client has gone is never begun.
func TestHeavyJobsWaitTheirTurn(t *testing.T) {
	st, err := store.Open(t.TempDir())
	require.NoError(t, err)
	defer st.Close()
	k := New(st)
	var at, most atomic.Int64
	var wait sync.WaitGroup
	for range 16 {
		wait.Go(func() {
			assert.NoError(t, k.Heavy(context.Background(), func() error {
				most.Store(max(most.Load(), at.Add(1)))
				time.Sleep(2 * time.Millisecond)
				at.Add(-1)
				return nil
			}))
		})
	}
	wait.Wait()
	assert.EqualValues(t, heavyAtOnce, most.Load())

	hold, held := make(chan struct{}), make(chan struct{})
	go func() { _ = k.Heavy(context.Background(), func() error { close(held); <-hold; return nil }) }()
	<-held
	ctx, leave := context.WithCancel(context.Background())
	done := make(chan error)
	go func() { done <- k.Heavy(ctx, func() error { t.Error("it was begun"); return nil }) }()
	leave()
	assert.ErrorIs(t, <-done, context.Canceled)
	close(hold)
}
