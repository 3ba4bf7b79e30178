package web

import (
	"context"
	"io"
	"net"
	"net/http"
	"time"

	"github.com/gin-gonic/gin"
	"golang.org/x/net/netutil"
	"golang.org/x/sync/semaphore"
)

// What all that is being sent may hold in memory together, in bytes, and how long a sender may pause.
// A body that is read piece by piece holds none.
const (
	heldTogether = 128 << 20
	heldByOne    = heldTogether / 2
	smallBody    = 64 << 10 // a form, which is not counted: connections bound how many there are
	streamed     = 1 << 30  // a route that takes as much reads it piece by piece
	waitToSend   = 5 * time.Second
	longestPause = 15 * time.Second
	longestSend  = time.Hour // of what is read piece by piece, or of a large file that is sent from here
)

// mostConnections is how many connections are open at once; a further one waits.
const mostConnections = 1000

// Limited is a listener that holds so many connections open as the program can serve.
func Limited(l net.Listener) net.Listener { return netutil.LimitListener(l, mostConnections) }

// bodies counts what is being sent. It is the process's, as its memory is.
var bodies = semaphore.NewWeighted(heldTogether)

// bound bounds the body of a request: to so many bytes, to its part of what all may hold, and by its
// pauses. false means that there is no room for it now; release gives its part back.
func bound(c *gin.Context, most int64) (release func(), ok bool) {
	on := http.NewResponseController(c.Writer)
	c.Request = c.Request.WithContext(context.WithValue(c.Request.Context(), connKey{}, on))
	body := http.MaxBytesReader(c.Writer, c.Request.Body, most)
	c.Request.Body = body
	n := c.Request.ContentLength
	if n < 0 || n > most {
		n = most
	}
	if n == 0 {
		return func() {}, true
	}
	longest := readTimeout
	held := int64(0)
	switch {
	case most >= streamed:
		longest = longestSend
	case n > smallBody:
		held = min(n, heldByOne)
	}
	c.Request.Body = &pausing{body, on, time.Now().Add(longest)}
	if held == 0 {
		return func() {}, true
	}
	ctx, cancel := context.WithTimeout(c.Request.Context(), waitToSend)
	defer cancel()
	if bodies.Acquire(ctx, held) != nil {
		return func() {}, false
	}
	sending.Add(held)
	return func() {
		sending.Add(-held)
		bodies.Release(held)
	}, true
}

// pausing is a body whose sender may pause only so long.
type pausing struct {
	io.ReadCloser
	on  *http.ResponseController
	end time.Time // of all of it
}

// Read implements io.Reader.
func (p *pausing) Read(b []byte) (int, error) {
	now := time.Now()
	until := now.Add(longestPause)
	if until.After(p.end) {
		until = p.end
	}
	// A connection without deadlines, as tests have, reads without.
	_ = p.on.SetReadDeadline(until)
	_ = p.on.SetWriteDeadline(now.Add(writeTimeout)) // of the answer, which comes after
	return p.ReadCloser.Read(b)
}

// connKey keeps the connection of a request beside it.
type connKey struct{}

// Long gives a large file that is sent the time it takes.
func Long(c *gin.Context) {
	if on, is := c.Request.Context().Value(connKey{}).(*http.ResponseController); is {
		_ = on.SetWriteDeadline(time.Now().Add(longestSend)) // a connection without deadlines sends without
	}
}
