package exchange

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"net"
	"net/mail"
	"strconv"
	"strings"
	"time"

	gomail "github.com/wneessen/go-mail"
)

// MailServer is the maker's own mail server. Without a user nobody signs in there.
type MailServer struct {
	Address  string // host and port; empty for none
	From     string // the maker's address
	User     string
	Password string
	Mailbox  string // page of a stand-in's mailbox, empty for a real server
}

// Letter is a message with one file.
type Letter struct {
	To, Subject, Text string
	FileName          string
	File              []byte
}

// mailPatience is how long a mail server may take in all.
const mailPatience = 15 * time.Second

// Send sends a letter, once and only when it is called. The error is a sentence that says
// what to do.
func (s MailServer) Send(ctx context.Context, l Letter) error {
	if s.Address == "" {
		return errors.New("no mail server is set up: start the program with --mail and --mail-from, or send the single file yourself")
	}
	to, err := mail.ParseAddress(strings.TrimSpace(l.To))
	if err != nil || strings.ContainsAny(l.To, "\r\n") || !strings.Contains(to.Address[strings.LastIndex(to.Address, "@")+1:], ".") &&
		!strings.HasSuffix(to.Address, "@localhost") {
		return fmt.Errorf("%q is not a mail address: write it as name@place.example", shorten(l.To))
	}
	m := gomail.NewMsg()
	if err := m.From(s.From); err != nil {
		return fmt.Errorf("the sender's address %q is not a mail address: set it again with --mail-from", shorten(s.From))
	}
	if err := m.To(to.String()); err != nil {
		return fmt.Errorf("%q is not a mail address: write it as name@place.example", shorten(l.To))
	}
	m.Subject(strings.Join(strings.Fields(l.Subject), " "))
	m.SetDate()
	m.SetMessageID()
	m.SetBodyString(gomail.TypeTextPlain, l.Text)
	if l.FileName != "" {
		if err := m.AttachReader(l.FileName, bytes.NewReader(l.File), gomail.WithFileContentType("text/html")); err != nil {
			return fmt.Errorf("the file could not be attached (%w)", err)
		}
	}
	host, port, err := net.SplitHostPort(s.Address)
	number, err2 := strconv.Atoi(port)
	if err != nil || err2 != nil {
		return fmt.Errorf("the mail server %q is not an address: set it again with --mail, such as mail.example:587", shorten(s.Address))
	}
	ctx, stop := context.WithTimeout(ctx, mailPatience)
	defer stop()
	ends, _ := ctx.Deadline()
	options := []gomail.Option{gomail.WithPort(number), gomail.WithTimeout(time.Until(ends)), gomail.WithTLSPolicy(gomail.TLSOpportunistic)}
	if s.User != "" {
		options = append(options, gomail.WithTLSPolicy(gomail.TLSMandatory), gomail.WithSMTPAuth(gomail.SMTPAuthAutoDiscover),
			gomail.WithUsername(s.User), gomail.WithPassword(s.Password))
	}
	client, err := gomail.NewClient(host, options...)
	if err != nil {
		return fmt.Errorf("the mail server %q cannot be used: set it again with --mail", shorten(s.Address))
	}
	err = client.DialAndSendWithContext(ctx, m)
	var refused *gomail.SendError
	var away net.Error
	switch {
	case err == nil:
		return nil
	case errors.Is(ctx.Err(), context.DeadlineExceeded), errors.As(err, &away) && away.Timeout():
		return errors.New("the mail server took too long: try again later; nothing was sent")
	case errors.As(err, &refused):
		return errors.New("the mail server would not accept the message: check the address and try again; nothing was sent")
	}
	return errors.New("the mail server did not answer: check that it is on and try again; nothing was sent")
}
