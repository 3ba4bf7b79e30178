// Package door decides who comes in: the passphrase and those who know it, how guesses are
// slowed, the host names that the program answers to, and its certificate.
//
// What is shown at the door belongs to web.
package door

import (
	"cmp"
	"context"
	"crypto/rand"
	"crypto/sha256"
	"crypto/subtle"
	"encoding/base64"
	"encoding/hex"
	"errors"
	"fmt"
	"log/slog"
	"strings"
	"sync"
	"time"
	"unicode/utf8"

	"golang.org/x/crypto/argon2"

	"lampfern/core/words"
	"lampfern/store"
)

// Argon2id as RFC 9106 advises where memory is short: 32 MiB, three passes, one lane.
const (
	argonMemory = 32 << 10 // KiB
	argonPasses = 3
	argonLanes  = 1
	saltBytes   = 16
	hashBytes   = 32
)

// A passphrase, and how long somebody who knows it stays in.
const (
	Shortest  = 10
	longest   = 200
	stayFor   = 30 * 24 * time.Hour
	tokenSize = 32 // bytes
)

var text = base64.RawStdEncoding

// Hash is the Argon2id hash of a passphrase, as a line that holds its parameters and salt.
func Hash(passphrase string) (string, error) {
	switch n := utf8.RuneCountInString(passphrase); {
	case n < Shortest:
		return "", words.Refuse("A passphrase has at least %d characters: use a few words that only you would put together.", Shortest)
	case n > longest:
		return "", words.Refuse("A passphrase has at most %d characters.", longest)
	}
	salt := make([]byte, saltBytes)
	_, _ = rand.Read(salt) // never fails
	key := argon2.IDKey([]byte(passphrase), salt, argonPasses, argonMemory, argonLanes, hashBytes)
	return fmt.Sprintf("$argon2id$v=%d$m=%d,t=%d,p=%d$%s$%s", argon2.Version, argonMemory, argonPasses, argonLanes, text.EncodeToString(salt),
		text.EncodeToString(key)), nil
}

// Fits reports whether a passphrase is that of a hash.
func Fits(hash, passphrase string) bool {
	var version, memory, passes, lanes uint32
	at := strings.Split(hash, "$")
	if len(at) != 6 || at[1] != "argon2id" {
		return false
	}
	if n, err := fmt.Sscanf(at[2]+" "+at[3], "v=%d m=%d,t=%d,p=%d", &version, &memory, &passes, &lanes); n != 4 || err != nil ||
		version != argon2.Version || memory > 1<<20 || passes > 20 || lanes < 1 || lanes > 16 || passes < 1 {
		return false
	}
	salt, err := text.DecodeString(at[4])
	want, err2 := text.DecodeString(at[5])
	if err != nil || err2 != nil || len(want) == 0 || utf8.RuneCountInString(passphrase) > longest {
		return false
	}
	got := argon2.IDKey([]byte(passphrase), salt, passes, memory, uint8(lanes), uint32(len(want)))
	return subtle.ConstantTimeCompare(got, want) == 1
}

// Door is the door of a data folder.
type Door struct {
	Store   *store.Store
	guesses *Slow
	one     sync.Mutex // one passphrase is worked on at a time, for each takes much memory
}

// New is the door of a data folder.
func New(s *store.Store) *Door { return &Door{Store: s, guesses: NewSlow(time.Now)} }

// Session is somebody who is in, and Visit what happened at the door.
type (
	Session = store.Session
	Visit   = store.Visit
)

// What a visit to the door was.
const (
	Entered = store.VisitEntered
	Failed  = store.VisitFailed
	SetAnew = store.VisitSet
)

// Set sets the passphrase and ends all sessions.
func (d *Door) Set(ctx context.Context, passphrase string) error {
	hash, err := Hash(passphrase)
	if err != nil {
		return err
	}
	return d.Store.Write(ctx, func(tx store.Tx) error {
		return errors.Join(tx.SetPassphrase(hash), tx.PutVisit(time.Now(), "", store.VisitSet))
	})
}

// Has reports whether a passphrase is set.
func (d *Door) Has(ctx context.Context) (bool, error) {
	hash, err := d.Store.Read(ctx).Passphrase()
	return hash != "", err
}

// Waits is the refusal of somebody who has to wait before the next guess.
type Waits struct{ For time.Duration }

// Error is the sentence.
func (w Waits) Error() string {
	return fmt.Sprintf("Too many tries. Wait %s, then try again.", words.Plural(max(1, int((w.For+time.Second-1)/time.Second)), "second",
		"seconds"))
}

// Enter lets in who knows the passphrase, and gives what their browser is to show. from is
// the address they come from, device what they come with. The error is a Refusal or Waits.
func (d *Door) Enter(ctx context.Context, passphrase, from, device string) (token string, err error) {
	hash, err := d.Store.Read(ctx).Passphrase()
	if err != nil {
		return "", fmt.Errorf("reading the passphrase: %w", err)
	}
	if wait := d.guesses.Try(from); wait > 0 {
		return "", Waits{wait}
	}
	d.one.Lock()
	fits := Fits(hash, passphrase)
	d.one.Unlock()
	if !fits {
		refused := words.Refuse("That is not the passphrase.")
		return "", cmp.Or(d.Store.Write(ctx, func(tx store.Tx) error { return tx.PutVisit(time.Now(), from, store.VisitFailed) }), error(refused))
	}
	d.guesses.Worked(from)
	token = Token()
	now := time.Now()
	return token, d.Store.Write(ctx, func(tx store.Tx) error {
		return errors.Join(tx.PutSession(store.Session{ID: IDOf(token), MadeAt: now, EndsAt: now.Add(stayFor), SeenAt: now, Place: from,
			Device: device}), tx.PutVisit(now, from, store.VisitEntered))
	})
}

// seenEvery is how often it is kept that a session was seen.
const seenEvery = 5 * time.Minute

// Knows reports whether what a browser shows is that of somebody who came in. from is the address that
// it is shown from.
func (d *Door) Knows(ctx context.Context, token, from string) (bool, error) {
	if len(token) == 0 || len(token) > 100 {
		return false, nil
	}
	now := time.Now()
	s, err := d.Store.Read(ctx).Session(IDOf(token), now)
	if errors.Is(err, store.ErrNotFound) {
		return false, nil
	}
	if err == nil && (now.Sub(s.SeenAt) > seenEvery || s.Place != from) && !d.Store.Damaged() {
		if err := d.Store.Write(ctx, func(tx store.Tx) error { return tx.SeeSession(s.ID, now, from) }); err != nil {
			slog.Warn("when a session was last seen cannot be saved", "err", err) // a full disk shuts nobody out
		}
	}
	return err == nil, err
}

// Book is who is in, and what happened at the door in the last ninety days.
func (d *Door) Book(ctx context.Context) (in []Session, visits []Visit, err error) {
	err = d.Store.View(ctx, func(tx store.Tx) (err error) {
		if in, err = tx.Sessions(time.Now()); err != nil {
			return err
		}
		visits, err = tx.Visits()
		return err
	})
	return in, visits, err
}

// Failures is how many wrong passphrases there were among visits since a moment.
func Failures(visits []Visit, since time.Time) (n int) {
	for _, v := range visits {
		if v.What == store.VisitFailed && v.At.After(since) {
			n += v.Times
		}
	}
	return n
}

// Leave ends a session by its ID, LeaveAll those of all. from is the address that asks for it.
func (d *Door) Leave(ctx context.Context, id, from string) error {
	return d.Store.Write(ctx, func(tx store.Tx) error {
		return errors.Join(tx.EndSession(id), tx.PutVisit(time.Now(), from, store.VisitEnded))
	})
}

// LeaveAll ends all sessions.
func (d *Door) LeaveAll(ctx context.Context, from string) error {
	return d.Store.Write(ctx, func(tx store.Tx) error {
		return errors.Join(tx.EndSessions(), tx.PutVisit(time.Now(), from, store.VisitEnded))
	})
}

// Token is a long random text that nobody guesses.
func Token() string {
	b := make([]byte, tokenSize)
	_, _ = rand.Read(b) // never fails
	return base64.RawURLEncoding.EncodeToString(b)
}

// IDOf is the ID of the session of what a browser shows.
func IDOf(token string) string {
	sum := sha256.Sum256([]byte(token))
	return hex.EncodeToString(sum[:])
}
