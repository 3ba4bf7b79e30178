package shelf

import (
	"context"
	"errors"
	"fmt"
	"runtime/debug"
	"runtime/metrics"

	"golang.org/x/sync/semaphore"
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

// Heavy runs a job that needs much memory or time, such as reading a file of a maker's, when
// it is its turn, or returns the context's error when nobody waits for it any more. A heavy
// job must not start another.
func Heavy(ctx context.Context, job func() error) error {
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
	return job()
}
