package standin

import (
	"bytes"
	"context"
	"encoding/base64"
	"fmt"
	"html"
	"io"
	"mime"
	"mime/multipart"
	"mime/quotedprintable"
	"net"
	"net/http"
	"net/mail"
	"strconv"
	"strings"
	"sync"
	"time"

	"github.com/emersion/go-smtp"
)

// Mailbox is a simulated mail server that delivers nothing: what is sent to it can be
// looked at. It is safe for use by many at once.
type Mailbox struct {
	lock sync.Mutex
	all  []Letter
}

// Letter is a message as it came in.
type Letter struct {
	To, Subject, Text string
	Files             []LetterFile
}

// LetterFile is a file of a letter.
type LetterFile struct {
	Name string
	Data []byte
}

const (
	mostLetters     = 200
	mostLetterBytes = 4 << 20
)

// Letters are the letters that came in, in their order.
func (m *Mailbox) Letters() []Letter {
	m.lock.Lock()
	defer m.lock.Unlock()
	return append([]Letter(nil), m.all...)
}

// Serve takes letters until the context ends.
func (m *Mailbox) Serve(ctx context.Context, l net.Listener) error {
	s := smtp.NewServer(smtp.BackendFunc(func(*smtp.Conn) (smtp.Session, error) { return &delivery{box: m}, nil }))
	s.Domain, s.MaxMessageBytes, s.MaxRecipients = "localhost", mostLetterBytes, 10
	s.ReadTimeout, s.WriteTimeout = 10*time.Second, 10*time.Second
	stop := context.AfterFunc(ctx, func() { _ = s.Close() })
	defer stop()
	if err := s.Serve(l); err != nil && ctx.Err() == nil {
		return err
	}
	return nil
}

// delivery is one letter on its way in.
type delivery struct {
	box *Mailbox
	to  []string
}

func (d *delivery) Reset()                               { d.to = nil }
func (d *delivery) Logout() error                        { return nil }
func (d *delivery) Mail(string, *smtp.MailOptions) error { return nil }
func (d *delivery) Rcpt(to string, _ *smtp.RcptOptions) error {
	if strings.HasPrefix(to, "nobody@") { // so that a refusal can be tried
		return &smtp.SMTPError{Code: 550, EnhancedCode: smtp.EnhancedCode{5, 1, 1}, Message: "nobody of that name"}
	}
	d.to = append(d.to, to)
	return nil
}

// Data implements smtp.Session.
func (d *delivery) Data(r io.Reader) error {
	raw, err := io.ReadAll(r)
	if err != nil {
		return err
	}
	letter, err := readLetter(raw)
	if err != nil {
		return &smtp.SMTPError{Code: 554, Message: "that is not a letter"}
	}
	letter.To = strings.Join(d.to, ", ")
	d.box.lock.Lock()
	defer d.box.lock.Unlock()
	d.box.all = append(d.box.all, letter)
	d.box.all = d.box.all[max(0, len(d.box.all)-mostLetters):]
	return nil
}

func readLetter(raw []byte) (l Letter, err error) {
	m, err := mail.ReadMessage(bytes.NewReader(raw))
	if err != nil {
		return l, err
	}
	if l.Subject, err = new(mime.WordDecoder).DecodeHeader(m.Header.Get("Subject")); err != nil {
		return l, err
	}
	kind, params, err := mime.ParseMediaType(m.Header.Get("Content-Type"))
	if err != nil || !strings.HasPrefix(kind, "multipart/") {
		text, err := io.ReadAll(decoded(m.Header.Get("Content-Transfer-Encoding"), m.Body))
		l.Text = string(text)
		return l, err
	}
	parts := multipart.NewReader(m.Body, params["boundary"])
	for {
		p, err := parts.NextPart()
		if err == io.EOF {
			return l, nil
		}
		if err != nil {
			return l, err
		}
		data, err := io.ReadAll(decoded(p.Header.Get("Content-Transfer-Encoding"), p))
		if err != nil {
			return l, err
		}
		if name := p.FileName(); name != "" {
			l.Files = append(l.Files, LetterFile{name, data})
			continue
		}
		l.Text += string(data)
	}
}

// Page shows the mailbox.
func (m *Mailbox) Page() http.Handler {
	mux := http.NewServeMux()
	mux.HandleFunc("GET /{$}", func(w http.ResponseWriter, _ *http.Request) {
		w.Header().Set("Content-Type", "text/html; charset=utf-8")
		_, _ = io.WriteString(w, m.page())
	})
	mux.HandleFunc("GET /{letter}/{file}", func(w http.ResponseWriter, r *http.Request) {
		all := m.Letters()
		i, err := strconv.Atoi(r.PathValue("letter"))
		k, err2 := strconv.Atoi(r.PathValue("file"))
		if err != nil || err2 != nil || i < 0 || i >= len(all) || k < 0 || k >= len(all[i].Files) {
			http.NotFound(w, r)
			return
		}
		f := all[i].Files[k]
		w.Header().Set("Content-Disposition", fmt.Sprintf("attachment; filename=%q", f.Name))
		w.Header().Set("Content-Type", "application/octet-stream")
		_, _ = w.Write(f.Data)
	})
	return mux
}

// page writes the mailbox out.
func (m *Mailbox) page() string {
	var b strings.Builder
	b.WriteString(`<!doctype html><html lang="en-GB"><meta charset="utf-8"><title>Simulated mailbox</title><meta name="viewport" content="width=device-width, initial-scale=1">
<body style="font:16px/1.5 sans-serif;max-width:720px;margin:24px auto;padding:0 16px"><h1>Simulated mailbox</h1><p>Nothing that is sent here leaves this machine.</p>`)
	all := m.Letters()
	if len(all) == 0 {
		b.WriteString("<p>No mail yet.</p>")
	}
	for i, l := range all {
		fmt.Fprintf(&b, `<h2>%s</h2><p>To %s</p><pre style="white-space:pre-wrap">%s</pre>`, html.EscapeString(l.Subject),
			html.EscapeString(l.To), html.EscapeString(l.Text))
		for k, f := range l.Files {
			fmt.Fprintf(&b, `<p><a href="/%d/%d">%s</a></p>`, i, k, html.EscapeString(f.Name))
		}
	}
	return b.String()
}

// decoded undoes the transfer encoding of a part.
func decoded(encoding string, r io.Reader) io.Reader {
	switch strings.ToLower(encoding) {
	case "base64":
		return base64.NewDecoder(base64.StdEncoding, r)
	case "quoted-printable":
		return quotedprintable.NewReader(r)
	}
	return r
}
