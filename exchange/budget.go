package exchange

import (
	"context"
	"io"
)

// Readers of files take the context of who waits for them: reading ends when nobody does, or when its time
// is over (shelf.Heavy). Memory and counts are bounded by each format beside what it reads.

// within reads r as long as somebody waits for it.
func within(ctx context.Context, r io.Reader) io.Reader { return waited{ctx, r} }

type waited struct {
	ctx context.Context
	r   io.Reader
}

// pieceRead is how much is read before it is looked whether somebody still waits, in bytes.
const pieceRead = 64 << 10

// Read implements io.Reader.
func (w waited) Read(p []byte) (int, error) {
	if err := w.ctx.Err(); err != nil {
		return 0, err
	}
	return w.r.Read(p[:min(len(p), pieceRead)])
}
