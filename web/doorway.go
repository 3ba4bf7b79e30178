package web

import (
	"errors"
	"fmt"
	"log/slog"
	"net"
	"net/http"
	"net/url"
	"strings"

	"github.com/gin-gonic/gin"

	"lampfern/core/words"
	"lampfern/door"
)

// Doorway is how the program is reached. The zero value is a program that only this
// machine reaches.
type Doorway struct {
	Door        *door.Door
	Hosts       door.Hosts
	Closed      bool   // only who knows the passphrase comes in
	Secure      bool   // over TLS
	Reached     string // address that others use, such as https://192.168.1.20:8443; empty where only this machine does
	Fingerprint string // of the certificate, empty for none
}

// doorCookie is what a browser shows of somebody who came in.
const doorCookie = "lampfern-door"

// needsNone are the paths that nobody needs a passphrase for.
func needsNone(path string) bool {
	return path == "/door" || path == "/healthz" || path == "/favicon.ico" || strings.HasPrefix(path, "/static/") ||
		strings.HasPrefix(path, "/agree/")
}

// known answers only requests for a name of the program.
func (d Doorway) known(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if !d.Hosts.Knows(r.Host) {
			http.Error(w,
				"Lamp Fern does not answer to this name. Open it by the address that it printed when it started, or start it with --host and the name.",
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
	s.Fail(c, http.StatusUnauthorized, "You are signed out, and nothing was changed. Come in again, then do this once more.")
}

func (s *Server) isIn(c *gin.Context) bool {
	token, err := c.Cookie(doorCookie)
	if err != nil {
		return false
	}
	in, err := s.Door.Knows(c.Request.Context(), token)
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
}

func (s *Server) doorPage(c *gin.Context, status int, problem string) {
	p := s.Page(c, "door", "The door")
	p.Rail = nil
	p.Body = doorBody{s.isIn(c), backOf(c.Query("back")), s.Fingerprint, problem}
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
		case "leave", "leave-all":
			token, _ := c.Cookie(doorCookie)
			if !s.isIn(c) {
				break
			}
			err := s.Door.Leave(ctx, token)
			if c.PostForm("door") == "leave-all" {
				err = s.Door.LeaveAll(ctx)
			}
			if s.Trouble(c, err, "") {
				return
			}
			s.cookie(c, "", -1)
			c.Redirect(http.StatusSeeOther, "/door")
			return
		}
		token, err := s.Door.Enter(ctx, c.PostForm("passphrase"), From(c))
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

// From is the address that a request comes from, without its port.
func From(c *gin.Context) string {
	from, _, err := net.SplitHostPort(c.Request.RemoteAddr)
	if err != nil {
		return c.Request.RemoteAddr
	}
	return from
}

func (s *Server) cookie(c *gin.Context, value string, age int) {
	http.SetCookie(c.Writer, &http.Cookie{Name: doorCookie, Value: value, Path: "/", MaxAge: age, HttpOnly: true, Secure: s.Secure,
		SameSite: http.SameSiteStrictMode})
}
