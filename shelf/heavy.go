package shelf

import (
	"context"
	"errors"
	"fmt"
	"runtime/debug"
	"runtime/metrics"
	"time"

	"golang.org/x/sync/semaphore"

	"lampfern/core/words"
)

// What the program keeps its memory under by collecting more often: many clients at once; and a
// heavy job, so that a photo of 40 megapixels is read within 200 MB. A job has heavyRoom at least
// beside what is held already, for else nothing but collecting would go on.
const (
	MostMemory  = 400 << 20
	heavyMemory = 140 << 20
	heavyRoom   = 80 << 20
)

// heavy lets one heavy job at a time run in the process: the memory limit is the process's, and a
// demo workroom that is looked at beside the maker's own shares it.
var heavy = semaphore.NewWeighted(1)

// longestJob bounds a heavy job: what takes so long is no file of a maker's.
const longestJob = time.Minute

// Heavy runs a job that needs much memory or time, such as reading a file of a maker's, when
// it is its turn, or returns the context's error when nobody waits for it any more. The job's own
// context ends with the request, and after a minute. A heavy job must not start another.
func Heavy(ctx context.Context, job func(context.Context) error) error {
	if err := heavy.Acquire(ctx, 1); err != nil {
		return fmt.Errorf("waiting for another file: %w", errors.Join(err, ctx.Err()))
	}
	defer heavy.Release(1)
	if err := ctx.Err(); err != nil {
		return err
	}
	held := []metrics.Sample{{Name: "/gc/heap/live:bytes"}}
	metrics.Read(held)
	defer debug.SetMemoryLimit(debug.SetMemoryLimit(max(heavyMemory, int64(held[0].Value.Uint64())+heavyRoom)))
	bounded, cancel := context.WithTimeout(ctx, longestJob)
	defer cancel()
	err := job(bounded)
	switch {
	case err == nil:
		return nil
	case ctx.Err() != nil: // whatever the job makes of it, it was cut off
		return fmt.Errorf("a job was cut off: %w", ctx.Err())
	case bounded.Err() != nil:
		return words.Refuse("It took longer than a minute to read, so it was not imported. Use a smaller file, or save it again.")
	}
	return err
}
