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
	now := s.now()
	wait := time.Duration(0)
	if t := s.by[from]; t != nil && t.failed >= freeTries {
		wait = t.last.Add(min(longestWait, time.Second<<min(20, t.failed-freeTries))).Sub(now)
	}
	s.forget(now)
	if len(s.all) >= overall {
		wait = max(wait, s.all[len(s.all)-overall].Add(time.Minute).Sub(now))
	}
	return max(0, wait)
}

// Failed notes a guess that was wrong.
func (s *Slow) Failed(from string) {
	s.lock.Lock()
	defer s.lock.Unlock()
	now := s.now()
	t := s.by[from]
	if t == nil || now.Sub(t.last) > forgotten {
		t = &tries{}
		s.by[from] = t
	}
	t.failed++
	t.last = now
	s.all = append(s.all, now)
	s.forget(now)
	for len(s.by) > mostAsked { // any will do: over all they are counted still
		for key := range s.by {
			delete(s.by, key)
			break
		}
	}
}

// Worked forgets the wrong guesses of an address.
func (s *Slow) Worked(from string) {
	s.lock.Lock()
	defer s.lock.Unlock()
	delete(s.by, from)
}

// forget lets go of failures that are more than a minute old.
func (s *Slow) forget(now time.Time) {
	for len(s.all) > 0 && now.Sub(s.all[0]) >= time.Minute {
		s.all = s.all[1:]
	}
}
