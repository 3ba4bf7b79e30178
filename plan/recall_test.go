package plan

import (
	"context"
	"errors"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/shelf"
	"lampfern/store"
)

func TestRecall(t *testing.T) {
	st, err := store.Open(t.TempDir())
	require.NoError(t, err)
	defer st.Close()
	k := NewDesk(shelf.New(st), nil)
	var made atomic.Int64
	work := func() (int, error) {
		time.Sleep(20 * time.Millisecond)
		return int(made.Add(1)), nil
	}
	var wait sync.WaitGroup
	for range 16 {
		wait.Go(func() {
			got, err := Recall(k, "sum", work)
			assert.NoError(t, err)
			assert.Equal(t, 1, got)
		})
	}
	wait.Wait()
	assert.EqualValues(t, 1, made.Load(), "who asks at once waits for one making")
	got, err := Recall(k, "other", work)
	require.NoError(t, err)
	assert.Equal(t, 2, got)
	text, err := Recall(k, "sum", func() (string, error) { return "of another type", nil })
	require.NoError(t, err)
	assert.Equal(t, "of another type", text)

	fails := errors.New("no room")
	_, err = Recall(k, "fails", func() (int, error) { return 7, fails })
	assert.ErrorIs(t, err, fails)
	got, err = Recall(k, "fails", func() (int, error) { return 8, nil })
	require.NoError(t, err)
	assert.Equal(t, 8, got, "an error is not remembered")

	// Who leaves while it is made does not take it from who waits.
	begun := make(chan struct{})
	go func() {
		_, _ = Recall(k, "left", func() (int, error) {
			close(begun)
			time.Sleep(30 * time.Millisecond)
			return 0, context.Canceled
		})
	}()
	<-begun
	got, err = Recall(k, "left", func() (int, error) { return 9, nil })
	require.NoError(t, err)
	assert.Equal(t, 9, got)
}
