package web

import (
	"errors"
	"fmt"
	"log/slog"
	"net"
	"net/http"
	"net/netip"
	"net/url"
	"slices"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"lampfern/core/words"
	"lampfern/door"
)

// Doorway is how the program is reached. The zero value is a program that only this
// machine reaches.
type Doorway struct {
	Door   *door.Door
	Hosts  door.Hosts
	Closed bool // only who knows the passphrase comes in
	Secure bool // over TLS
	// Proxies are addresses of programs that stand before this one: of a request that comes from one of
	// them the header fields X-Forwarded-For and X-Forwarded-Proto are believed.
	Proxies     []netip.Addr
	Reached     string // address that others use, such as https://192.168.1.20:8443; empty where only this machine does
	Fingerprint string // of the certificate, empty for none
}

// doorCookie is what a browser shows of somebody who came in; over TLS its name has hostPrefix, so that
// no other page of the machine and no page without TLS can set it.
const (
	doorCookie = "lampfern-door"
	hostPrefix = "__Host-"
)

// secure reports whether a request came over TLS, to this program or to one that stands before it.
func (d Doorway) secure(r *http.Request) bool {
	return d.Secure || d.believes(r) && r.Header.Get("X-Forwarded-Proto") == "https"
}

// believes reports whether a request comes from a program that stands before this one.
func (d Doorway) believes(r *http.Request) bool {
	at, err := netip.ParseAddrPort(r.RemoteAddr)
	return err == nil && slices.Contains(d.Proxies, at.Addr().Unmap())
}

// sameOrigin refuses what a page of the same host without TLS sends to the one with it: they are two
// origins, which browsers that tell no Sec-Fetch-Site leave to be told apart by the scheme.
func (d Doorway) sameOrigin(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if strings.HasPrefix(r.Header.Get("Origin"), "http://") && d.secure(r) && r.Method != http.MethodGet && r.Method != http.MethodHead {
			http.Error(w, "This was sent from a page at another address. Open Lamp Fern by https and try again there.", http.StatusForbidden)
			return
		}
		next.ServeHTTP(w, r)
	})
}

// needsNone are the paths that nobody needs a passphrase for.
func needsNone(path string) bool {
	return path == "/door" || path == "/healthz" || path == "/healthz/ready" || path == "/favicon.ico" ||
		strings.HasPrefix(path, "/static/") ||
		strings.HasPrefix(path, "/agree/")
}

// known answers only requests for a name of the program.
func (d Doorway) known(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if !d.Hosts.Knows(r.Host) {
			http.Error(w,
				"Lamp Fern does not answer at this name. Open it at the address it printed when it started, or start it with --host and the name.",
				http.StatusMisdirectedRequest)
			return
		}
		next.ServeHTTP(w, r)
	})
}

// enter lets requests in that show the passphrase was known.
func (s *Server) enter(c *gin.Context) {
	if !s.Closed || needsNone(c.Request.URL.Path) || s.isIn(c) {
		return
	}
	c.Abort()
	if c.Request.Method == http.MethodGet && c.GetHeader(PartHeader) == "" {
		c.Redirect(http.StatusSeeOther, "/door?back="+url.QueryEscape(c.Request.URL.RequestURI()))
		return
	}
	s.Fail(c, http.StatusUnauthorized, "You are signed out, and nothing was changed. Sign in, then try again.")
}

func (s *Server) isIn(c *gin.Context) bool {
	token := s.shown(c)
	if token == "" {
		return false
	}
	in, err := s.Door.Knows(c.Request.Context(), token, s.From(c.Request))
	if err != nil {
		slog.Error("a session cannot be read", "err", err)
	}
	return in
}

// doorBody is what the page of the door shows.
type doorBody struct {
	In          bool
	Back        string
	Fingerprint string
	Problem     string
	Here        string // the session of this browser
	Sessions    []door.Session
	Visits      []door.Visit
}

// What is a visit in words.
func (doorBody) What(v door.Visit) string {
	switch v.What {
	case door.Entered:
		return "came in"
	case door.Failed:
		return "a wrong passphrase, " + words.Plural(v.Times, "time", "times")
	case door.SetAnew:
		return "the passphrase was set, and everybody was signed out"
	}
	return "signed out"
}

// When is a moment in words.
func (doorBody) When(t time.Time) string { return words.Moment(t.Local()) }

func (s *Server) doorPage(c *gin.Context, status int, problem string) {
	p := s.Page(c, "door", "Access")
	b := doorBody{In: s.isIn(c), Back: backOf(c.Query("back")), Fingerprint: s.Fingerprint, Problem: problem}
	if b.In {
		var err error
		b.Here = door.IDOf(s.shown(c))
		if b.Sessions, b.Visits, err = s.Door.Book(c.Request.Context()); s.Trouble(c, err, "") {
			return
		}
	} else {
		p.Rail = nil
	}
	p.Body = b
	s.Render(c, status, p)
}

// backOf is a page of this program to go back to; the workroom for anything else.
func backOf(text string) string {
	if !here(text) {
		return "/"
	}
	return text
}

// doors are the routes of the door; there is none where everybody is in.
func (s *Server) doors(r gin.IRoutes) {
	if !s.Closed {
		return
	}
	r.GET("/door", func(c *gin.Context) { s.doorPage(c, http.StatusOK, "") })
	r.POST("/door", func(c *gin.Context) {
		ctx := c.Request.Context()
		switch c.PostForm("door") {
		case "leave", "leave-all", "end":
			if !s.isIn(c) {
				break
			}
			here := door.IDOf(s.shown(c))
			ended := here
			if c.PostForm("door") == "end" {
				ended = c.PostForm("session")
			}
			err := s.Door.Leave(ctx, ended, s.From(c.Request))
			if c.PostForm("door") == "leave-all" {
				err = s.Door.LeaveAll(ctx, s.From(c.Request))
			}
			if s.Trouble(c, err, "") {
				return
			}
			if c.PostForm("door") == "leave-all" || ended == here {
				s.cookie(c, "", -1)
			}
			c.Redirect(http.StatusSeeOther, "/door")
			return
		}
		token, err := s.Door.Enter(ctx, c.PostForm("passphrase"), s.From(c.Request), device(c.Request))
		var wait door.Waits
		var refused words.Refusal
		switch {
		case errors.As(err, &wait):
			c.Header("Retry-After", fmt.Sprint(int(wait.For.Seconds())+1))
			s.doorPage(c, http.StatusTooManyRequests, wait.Error())
		case errors.As(err, &refused):
			s.doorPage(c, http.StatusForbidden, string(refused))
		case s.Trouble(c, err, ""):
		default:
			const month = 30 * 24 * 3600
			s.cookie(c, token, month)
			c.Redirect(http.StatusSeeOther, backOf(c.PostForm("back")))
		}
	})
}

// From is the address that a request comes from, without its port: behind a program that is believed, the
// last one that this names and that is none of them.
func (d Doorway) From(r *http.Request) string {
	if d.believes(r) {
		hops := strings.Split(strings.Join(r.Header.Values("X-Forwarded-For"), ","), ",")
		for _, hop := range slices.Backward(hops) {
			at, err := netip.ParseAddr(strings.TrimSpace(hop))
			if err != nil {
				break
			}
			if !slices.Contains(d.Proxies, at.Unmap()) {
				return at.Unmap().String()
			}
		}
	}
	from, _, err := net.SplitHostPort(r.RemoteAddr)
	if err != nil {
		return r.RemoteAddr
	}
	return from
}

// device is what a request comes from, as its browser tells.
func device(r *http.Request) string {
	if strings.Contains(r.UserAgent(), "Mobi") {
		return "phone"
	}
	return "computer"
}

// shown is what a browser shows of somebody who came in, empty for nothing.
func (s *Server) shown(c *gin.Context) string {
	token, err := c.Cookie(s.cookieName(c))
	if err != nil {
		return ""
	}
	return token
}

func (s *Server) cookieName(c *gin.Context) string {
	if s.secure(c.Request) {
		return hostPrefix + doorCookie
	}
	return doorCookie
}

func (s *Server) cookie(c *gin.Context, value string, age int) {
	http.SetCookie(c.Writer, &http.Cookie{Name: s.cookieName(c), Value: value, Path: "/", MaxAge: age, HttpOnly: true,
		Secure: s.secure(c.Request), SameSite: http.SameSiteStrictMode})
}
