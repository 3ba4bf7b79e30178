package web

import (
	"context"
	"net/http"
	"slices"
	"sync"

	"github.com/gin-gonic/gin"

	"lampfern/plan"
)

// Try is a demo workroom to look around in, kept apart from the maker's own. Open makes one, and
// Close throws it away; one that is not there is closed without an error.
type Try struct {
	Open  func(ctx context.Context) (*plan.Desk, error)
	Close func() error
}

// tryCookie says that a browser looks around in the demo workroom.
const tryCookie = "lampfern-try"

// trial is the demo workroom while it is there.
type trial struct {
	mu      sync.Mutex
	handler http.Handler // nil for none
}

func (t *trial) now() http.Handler {
	t.mu.Lock()
	defer t.mu.Unlock()
	return t.handler
}

// trying hands the requests of a browser that looks around in the demo workroom on to it. Every
// guard of the maker's own was passed before.
func (s *Server) trying(c *gin.Context) {
	if mark, err := c.Cookie(tryCookie); err != nil || mark == "" || slices.Contains([]string{"/try", "/try/leave", "/door", "/healthz", "/healthz/ready"}, c.Request.URL.Path) {
		return
	}
	demo := s.trial.now()
	if demo == nil { // the program was started again meanwhile
		s.markTrying(c, "")
		return
	}
	c.Request.Header.Del("Accept-Encoding") // what it answers is packed here
	demo.ServeHTTP(c.Writer, c.Request)
	c.Abort()
}

func (s *Server) markTrying(c *gin.Context, mark string) {
	age := 0
	if mark == "" {
		age = -1
	}
	http.SetCookie(c.Writer, &http.Cookie{Name: tryCookie, Value: mark, Path: "/", MaxAge: age, HttpOnly: true, Secure: s.secure(c.Request),
		SameSite: http.SameSiteStrictMode})
}

// try opens the demo workroom.
func (s *Server) try(c *gin.Context) {
	s.trial.mu.Lock()
	defer s.trial.mu.Unlock()
	if s.trial.handler == nil {
		desk, err := s.Try.Open(c.Request.Context())
		if s.Trouble(c, err, "") {
			return
		}
		way := Doorway{Hosts: s.Hosts, Secure: s.Secure, Proxies: s.Proxies} // who is here came through the door
		if s.trial.handler, err = New(desk, Options{Doorway: way, Dev: s.Dev, inTrial: true}, s.makers); s.Trouble(c, err, "") {
			return
		}
	}
	s.markTrying(c, "1")
	GoTo(c, "/", "")
}

// leaveTrial throws the demo workroom away.
func (s *Server) leaveTrial(c *gin.Context) {
	s.trial.mu.Lock()
	s.trial.handler = nil
	err := s.Try.Close()
	s.trial.mu.Unlock()
	s.markTrying(c, "")
	if s.Trouble(c, err, "") {
		return
	}
	GoTo(c, "/", "You are back in your own workroom.")
}
