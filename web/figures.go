package web

import (
	"context"
	"runtime/metrics"
	"slices"
	"sync"
	"sync/atomic"
	"time"

	"lampfern/door"
)

// lastAnswers is how many answers the times are of.
const lastAnswers = 1000

// Figures are what to watch of a program that serves: a page and JSON for a watching program.
type Figures struct {
	Since     time.Time `json:"since"`
	Answered  int       `json:"answered"`
	Refused   int       `json:"refused"` // by a sentence: status 4xx
	Failed    int       `json:"failed"`  // status 5xx
	Typical   float64   `json:"typical_ms"`
	Slowest   float64   `json:"slowest_ms"`    // but for one in a hundred
	Sending   int64     `json:"sending_bytes"` // held of what is being sent
	Memory    uint64    `json:"memory_bytes"`  // of the program, from the system
	Working   bool      `json:"can_write"`
	Database  int64     `json:"database_bytes"`
	Log       int64     `json:"log_bytes"` // of what was written since the database was tidied last
	Folder    int64     `json:"folder_bytes"`
	Backup    time.Time `json:"last_backup"`       // zero for none
	Elsewhere string    `json:"second_backup"`     // what is wrong with the second place of backups, empty for nothing
	Failures  int       `json:"wrong_passphrases"` // in the last day
}

// counted is what is counted of answers.
type counted struct {
	since time.Time

	lock                      sync.Mutex
	answered, refused, failed int
	took                      [lastAnswers]time.Duration // a ring
}

// sending is how much of heldTogether is held.
var sending atomic.Int64

// count books an answer.
func (c *counted) count(status int, took time.Duration) {
	c.lock.Lock()
	defer c.lock.Unlock()
	c.took[c.answered%lastAnswers] = took
	c.answered++
	switch {
	case status >= 500:
		c.failed++
	case status >= 400:
		c.refused++
	}
}

// Figures are the figures of the server; those of the workroom are left to whoever shows them.
func (s *Server) Figures(ctx context.Context) (Figures, error) {
	c := s.counted
	c.lock.Lock()
	f := Figures{Since: c.since, Answered: c.answered, Refused: c.refused, Failed: c.failed}
	took := slices.Clone(c.took[:min(c.answered, lastAnswers)])
	c.lock.Unlock()
	slices.Sort(took)
	if n := len(took); n > 0 {
		f.Typical, f.Slowest = took[n/2].Seconds()*1000, took[(n-1)*99/100].Seconds()*1000
	}
	f.Sending = sending.Load()
	of := []metrics.Sample{{Name: "/memory/classes/total:bytes"}, {Name: "/memory/classes/heap/released:bytes"}}
	metrics.Read(of)
	f.Memory = of[0].Value.Uint64() - of[1].Value.Uint64()
	if s.Door == nil || s.Desk.Store.Damaged() {
		return f, nil
	}
	_, visits, err := s.Door.Book(ctx)
	f.Failures = door.Failures(visits, time.Now().Add(-24*time.Hour))
	return f, err
}
