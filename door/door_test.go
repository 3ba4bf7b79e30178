package door

import (
	"context"
	"crypto/tls"
	"fmt"
	"net"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/store"
)

func TestAPassphraseFitsItsHashAlone(t *testing.T) {
	hash, err := Hash("moth lamp river bell")
	require.NoError(t, err)
	assert.True(t, strings.HasPrefix(hash, "$argon2id$v=19$m=32768,t=3,p=1$"))
	again, err := Hash("moth lamp river bell")
	require.NoError(t, err)
	assert.NotEqual(t, hash, again, "each has a salt of its own")
	assert.True(t, Fits(hash, "moth lamp river bell"))
	for _, wrong := range []string{"", "moth lamp river bel", "Moth lamp river bell", strings.Repeat("x", 201)} {
		assert.False(t, Fits(hash, wrong), wrong)
	}
	for _, broken := range []string{"", "x", "$argon2id$v=19$m=99999999,t=3,p=1$AAAA$AAAA", "$argon2id$v=19$m=32768,t=3,p=0$AAAA$AAAA",
		"$argon2id$v=19$m=32768,t=3,p=1$***$AAAA", "$argon2id$v=19$m=32768,t=3,p=1$AAAA$"} {
		assert.False(t, Fits(broken, "moth lamp river bell"), broken)
	}
	_, err = Hash("short")
	assert.ErrorContains(t, err, "at least 10 characters")
	_, err = Hash(strings.Repeat("é", 201))
	assert.ErrorContains(t, err, "at most 200")
}

func TestWhoKnowsThePassphraseComesIn(t *testing.T) {
	s, err := store.Open(t.TempDir())
	require.NoError(t, err)
	defer s.Close()
	ctx, d := context.Background(), New(s)
	has, err := d.Has(ctx)
	require.NoError(t, err)
	assert.False(t, has)
	require.NoError(t, d.Set(ctx, "moth lamp river bell"))
	has, err = d.Has(ctx)
	require.NoError(t, err)
	assert.True(t, has)

	one, err := d.Enter(ctx, "moth lamp river bell", "a", "phone")
	require.NoError(t, err)
	two, err := d.Enter(ctx, "moth lamp river bell", "b", "computer")
	require.NoError(t, err)
	knows := func(token string) bool {
		t.Helper()
		in, err := d.Knows(ctx, token, "a")
		require.NoError(t, err)
		return in
	}
	assert.True(t, knows(one))
	assert.True(t, knows(two))
	for _, never := range []string{"", one + "x", strings.Repeat("x", 101), IDOf(one)} {
		assert.False(t, knows(never))
	}
	require.NoError(t, d.Leave(ctx, IDOf(one), "a"))
	assert.False(t, knows(one))
	assert.True(t, knows(two))
	require.NoError(t, d.LeaveAll(ctx, "a"))
	assert.False(t, knows(two))
	three, err := d.Enter(ctx, "moth lamp river bell", "a", "phone")
	require.NoError(t, err)
	require.NoError(t, d.Set(ctx, "another one altogether"))
	assert.False(t, knows(three), "a new passphrase signs everybody out")
	_, err = s.Read(ctx).Session(IDOf(one), time.Now())
	assert.ErrorIs(t, err, store.ErrNotFound)

	require.NoError(t, s.Write(ctx, func(tx store.Tx) error {
		return tx.PutSession(store.Session{ID: "old", MadeAt: time.Now(), EndsAt: time.Now().Add(-time.Second)})
	}))
	_, err = s.Read(ctx).Session("old", time.Now())
	assert.ErrorIs(t, err, store.ErrNotFound, "it has ended")
	all, err := s.Read(ctx).Sessions(time.Now())
	require.NoError(t, err)
	assert.Empty(t, all)

	for range 3 {
		_, err = d.Enter(ctx, "a guess of somebody", "c", "computer")
		assert.EqualError(t, err, "That is not the passphrase.")
	}
	_, err = d.Enter(ctx, "another one altogether", "c", "computer")
	assert.ErrorAs(t, err, new(Waits), "even the right one waits")
	_, err = d.Enter(ctx, "another one altogether", "d", "computer")
	assert.NoError(t, err, "from elsewhere it does not")
	in, visits, err := d.Book(ctx)
	require.NoError(t, err)
	require.Len(t, in, 1)
	assert.Equal(t, []string{"d", "computer"}, []string{in[0].Place, in[0].Device})
	var said []string
	for _, v := range visits {
		said = append(said, fmt.Sprint(v.What, " ", v.Place, " ", v.Times))
	}
	assert.Equal(t, []string{"entered d 1", "failed c 3", "set  1", "entered a 1", "ended a 1", "ended a 1", "entered b 1", "entered a 1", "set  1"}, said,
		"wrong guesses of one place are one visit")
}

func TestGuessesAreSlowed(t *testing.T) {
	now := time.Unix(0, 0)
	s := NewSlow(func() time.Time { return now })
	var waits []time.Duration
	for range 8 {
		assert.Zero(t, s.Try("a"))
		waits = append(waits, s.Wait("a"))
		if s.Wait("a") > 0 {
			assert.Equal(t, s.Wait("a"), s.Try("a"), "which books nothing")
		}
		now = now.Add(s.Wait("a"))
	}
	assert.Equal(t, []time.Duration{0, 0, time.Second, 2 * time.Second, 4 * time.Second, 8 * time.Second, 16 * time.Second, 32 * time.Second},
		waits)
	assert.Zero(t, s.Wait("b"))
	for range 6 {
		assert.Zero(t, s.Try("a"))
		waits = append(waits, s.Wait("a"))
		now = now.Add(s.Wait("a"))
	}
	assert.Equal(t, 5*time.Minute, waits[len(waits)-1], "no longer than that")
	s.Worked("a")
	assert.Zero(t, s.Wait("a"))
	now = now.Add(time.Minute)
	// A thousand guesses from a thousand addresses are no faster than thirty a minute.
	tried := 0
	for i := range 1000 {
		if s.Try(string(rune('A'+i))) == 0 {
			tried++
		}
	}
	assert.Equal(t, 30, tried)
	assert.Positive(t, s.Wait("b"), "so many from anywhere slow everybody")
	now = now.Add(time.Minute)
	assert.Zero(t, s.Wait("b"))
	assert.Contains(t, Waits{90 * time.Second}.Error(), "Wait 90 seconds")
}

// Of three hundred guesses at once no more are looked at than are free, and the right one among the
// rest does not get in.
func TestGuessesAtOnceAreBookedFirst(t *testing.T) {
	now := time.Unix(0, 0)
	s := NewSlow(func() time.Time { return now })
	var looked atomic.Int32
	var all sync.WaitGroup
	for range 300 {
		all.Go(func() {
			if s.Try("a") == 0 {
				looked.Add(1)
			}
		})
	}
	all.Wait()
	assert.EqualValues(t, freeTries, looked.Load())
	s.Worked("a")
	assert.Zero(t, s.Wait("a"))
}

func TestHostsThatAreKnown(t *testing.T) {
	lan := &net.TCPAddr{IP: net.ParseIP("192.168.7.20"), Port: 8443}
	h := NewHosts(lan, "Moth.example:8443")
	for host, known := range map[string]bool{"127.0.0.1:8080": true, "localhost": true, "LOCALHOST:1": true, "[::1]:8080": true,
		"127.9.9.9": true, "192.168.7.20:8443": true, "moth.example.": true,
		"evil.example": false, "192.168.7.21": false, "localhost.evil.example": false, "127.0.0.1.evil.example": false, "": false} {
		assert.Equal(t, known, h.Knows(host), host)
	}
	assert.True(t, NewHosts(&net.TCPAddr{IP: net.IPv4zero, Port: 1}).Knows("127.0.0.1"))
	assert.False(t, Hosts{}.Knows("evil.example"))
	assert.True(t, Loopback(&net.TCPAddr{IP: net.IPv6loopback}))
	assert.False(t, Loopback(lan))
	assert.Equal(t, "moth.example:8443", Reached(lan, "Moth.example"))
	assert.Equal(t, "192.168.7.20:8443", Reached(lan))
	assert.Empty(t, Reached(&net.TCPAddr{IP: net.ParseIP("127.0.0.1"), Port: 80}))
	assert.True(t, strings.HasSuffix(Reached(&net.TCPAddr{IP: net.IPv4zero, Port: 99}), ":99"))
}

func TestACertificateIsMadeOnceAndForItsNames(t *testing.T) {
	dir := t.TempDir()
	names := []string{"localhost", "192.168.7.20"}
	first, err := Certificate(dir, "", "", names)
	require.NoError(t, err)
	again, err := Certificate(dir, "", "", names)
	require.NoError(t, err)
	assert.Equal(t, Fingerprint(first), Fingerprint(again))
	assert.Len(t, Fingerprint(first), 95)
	assert.NoError(t, first.Leaf.VerifyHostname("192.168.7.20"))
	info, err := os.Stat(filepath.Join(dir, keyFile))
	require.NoError(t, err)
	assert.EqualValues(t, 0o600, info.Mode().Perm())
	more, err := Certificate(dir, "", "", append(names, "moth.example"))
	require.NoError(t, err)
	assert.NotEqual(t, Fingerprint(first), Fingerprint(more), "a new name needs a new one")
	own, err := Certificate("", filepath.Join(dir, certFile), filepath.Join(dir, keyFile), nil)
	require.NoError(t, err)
	assert.Equal(t, Fingerprint(more), Fingerprint(own))
	_, err = Certificate(dir, "nowhere.pem", "nowhere.key", nil)
	assert.ErrorContains(t, err, "--tls-cert and --tls-key")
	require.NoError(t, os.WriteFile(filepath.Join(dir, certFile), []byte("x"), 0o600))
	_, err = Certificate(dir, "", "", names)
	assert.ErrorContains(t, err, "delete door.crt")
	assert.Empty(t, Fingerprint(tls.Certificate{}))
}
