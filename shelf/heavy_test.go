package shelf

import (
	"bytes"
	"context"
	"image"
	"image/png"
	"runtime/debug"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/exchange"
)

// Heavy jobs come one after another, and one whose client has gone is never begun.
func TestHeavyJobsWaitTheirTurn(t *testing.T) {
	limit := debug.SetMemoryLimit(-1)
	var at, most, lowest atomic.Int64
	lowest.Store(limit)
	var wait sync.WaitGroup
	for range 16 {
		wait.Go(func() {
			assert.NoError(t, Heavy(context.Background(), func(context.Context) error {
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
	go func() {
		_ = Heavy(context.Background(), func(context.Context) error { close(held); <-hold; return nil })
	}()
	<-held
	ctx, leave := context.WithCancel(context.Background())
	done := make(chan error)
	go func() { done <- Heavy(ctx, func(context.Context) error { t.Error("it was begun"); return nil }) }()
	leave()
	assert.ErrorIs(t, <-done, context.Canceled)
	close(hold)
}

// A job is told when nobody waits for it any more, and readers of files of every kind end then.
func TestAHeavyJobEndsWithItsRequest(t *testing.T) {
	list := []byte("name,colour\n" + strings.Repeat("a,#102030\n", 3000))
	drawing := []byte(`<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9">` + strings.Repeat(`<rect width="1" height="1"/>`, 5000) + `</svg>`)
	var photo bytes.Buffer
	require.NoError(t, png.Encode(&photo, image.NewGray(image.Rect(0, 0, 400, 400))))
	for name, read := range map[string]func(context.Context) error{
		"a list": func(ctx context.Context) error { _, err := exchange.ReadList(ctx, list); return err },
		"tokens": func(ctx context.Context) error {
			_, err := exchange.ReadList(ctx, []byte(`{"a":{"$value":"#102030","$type":"color"}}`))
			return err
		},
		"a drawing": func(ctx context.Context) error { _, err := exchange.ReadSVG(ctx, bytes.NewReader(drawing)); return err },
		"a photo":   func(ctx context.Context) error { _, err := exchange.ReadPhoto(ctx, photo.Bytes()); return err },
		"prices": func(ctx context.Context) error {
			_, err := exchange.ReadPrices(ctx, []byte("seller,name,kind,price\na,b,fabric,2\n"))
			return err
		},
		"a calendar": func(ctx context.Context) error {
			_, err := exchange.ReadBusy(ctx, []byte("BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:x\r\nBEGIN:VEVENT\r\nUID:1\r\nDTSTAMP:20200101T000000Z\r\nDTSTART:20200101T000000Z\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n"),
				time.Now(), time.Now().AddDate(1, 0, 0), time.UTC)
			return err
		},
		"a draft": func(ctx context.Context) error {
			_, err := exchange.ReadWIF(ctx, strings.NewReader("[WIF]\nVersion=1.1\n[WEAVING]\nShafts=2\nTreadles=2\n[WARP]\nThreads=2\n[WEFT]\nThreads=2\n[THREADING]\n1=1\n2=2\n[TIEUP]\n1=1\n2=2\n[TREADLING]\n1=1\n2=2\n"))
			return err
		},
		"a mesh": func(ctx context.Context) error {
			_, err := exchange.ReadSTL(ctx, "x", []byte("solid x\nfacet normal 0 0 1\nouter loop\nvertex 0 0 0\nvertex 1 0 0\nvertex 0 1 0\nendloop\nendfacet\nendsolid"))
			return err
		},
	} {
		ctx, leave := context.WithCancel(t.Context())
		err := Heavy(ctx, func(inner context.Context) error {
			leave()
			assert.ErrorIs(t, inner.Err(), context.Canceled)
			return read(inner)
		})
		assert.ErrorIs(t, err, context.Canceled, name)
	}
}
