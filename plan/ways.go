package plan

import (
	"context"
	"fmt"

	"lampfern/core/balance"
	"lampfern/core/colour"
)

// Ways searches every way round, or remembers a search that was made: taking one
// of the ways changes none of them. ctx ends a search early with the best found so
// far, which is not remembered.
func (k *Desk) Ways(ctx context.Context, l balance.Layout, labs []colour.Lab, asked balance.WaysAsked) balance.Found {
	key := fmt.Sprint(l, labs, asked.Focus, asked.Quiet, asked.Pinned, asked.Shares, asked.Kept)
	if found, known := k.ways.Get(key); known {
		return found
	}
	found := balance.Ways(l, labs, asked, func() bool { return ctx.Err() != nil })
	if ctx.Err() == nil {
		k.ways.Add(key, found)
	}
	return found
}
