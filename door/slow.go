package door

import (
	"sync"
	"time"
)

// How guesses are slowed: after a few from one address each doubles the wait, and after
// many from anywhere everybody waits.
const (
	freeTries   = 3
	longestWait = 5 * time.Minute
	forgotten   = time.Hour
	overall     = 30 // in a minute
	mostAsked   = 10_000
)

// Slow slows guesses by address and over all. It is safe for use by many at once.
type Slow struct {
	now  func() time.Time
	lock sync.Mutex
	by   map[string]*tries
	all  []time.Time // the failures of the last minute
}

type tries struct {
	failed int
	last   time.Time
}

// NewSlow slows guesses by a clock.
func NewSlow(now func() time.Time) *Slow { return &Slow{now: now, by: map[string]*tries{}} }

// Wait is how long an address has to wait before its next guess; 0 for not at all.
func (s *Slow) Wait(from string) time.Duration {
	s.lock.Lock()
	defer s.lock.Unlock()
	return s.wait(from, s.now())
}

func (s *Slow) wait(from string, now time.Time) (wait time.Duration) {
	if t := s.by[from]; t != nil && t.failed >= freeTries {
		wait = t.last.Add(min(longestWait, time.Second<<min(20, t.failed-freeTries))).Sub(now)
	}
	s.forget(now)
	if len(s.all) >= overall {
		wait = max(wait, s.all[len(s.all)-overall].Add(time.Minute).Sub(now))
	}
	return max(0, wait)
}

// Try books a guess as a wrong one before it is looked at, so that of many at once no more are looked
// at than of as many one after another; or it says how long to wait, and books nothing. Worked takes
// the booking back.
func (s *Slow) Try(from string) (wait time.Duration) {
	s.lock.Lock()
	defer s.lock.Unlock()
	now := s.now()
	if wait = s.wait(from, now); wait > 0 {
		return wait
	}
	t := s.by[from]
	if t == nil || now.Sub(t.last) > forgotten {
		t = &tries{}
		s.by[from] = t
	}
	t.failed++
	t.last = now
	s.all = append(s.all, now)
	for len(s.by) > mostAsked { // any will do: over all they are counted still
		for key := range s.by {
			delete(s.by, key)
			break
		}
	}
	return 0
}

// Worked forgets the wrong guesses of an address, and the one that was booked for the right one.
func (s *Slow) Worked(from string) {
	s.lock.Lock()
	defer s.lock.Unlock()
	delete(s.by, from)
	if n := len(s.all); n > 0 {
		s.all = s.all[:n-1]
	}
}

// forget lets go of failures that are more than a minute old.
func (s *Slow) forget(now time.Time) {
	for len(s.all) > 0 && now.Sub(s.all[0]) >= time.Minute {
		s.all = s.all[1:]
	}
}
