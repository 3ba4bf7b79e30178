package store

import "time"

// Session is somebody who came in by the passphrase. ID is the SHA-256 of what the
// browser shows, in hex, so that nobody comes in by what is kept here.
type Session struct {
	ID     string `gorm:"primaryKey"`
	MadeAt time.Time
	EndsAt time.Time
	SeenAt time.Time // to some minutes
	Place  string    // the address that was seen last
	Device string    // phone or computer
}

// What a visit to the door was.
const (
	VisitEntered = "entered"
	VisitFailed  = "failed" // a wrong passphrase
	VisitEnded   = "ended"
	VisitSet     = "set" // the passphrase was set, and all sessions ended
)

// Visit is what happened at the door. Wrong passphrases of one place within an hour are one visit.
type Visit struct {
	ID    uint
	At    time.Time // the last of its times
	Place string
	What  string
	Times int
}

// How long visits are kept, how many at most, and how long wrong guesses count as one visit.
const (
	visitsKept  = 90 * 24 * time.Hour
	mostVisits  = 5000
	sameAttempt = time.Hour
)

// Passphrase is the hash of the passphrase, empty where none is set.
func (t Tx) Passphrase() (hash string, err error) {
	return hash, plain(t.db.Raw("SELECT coalesce(max(hash), '') FROM passphrase").Scan(&hash).Error)
}

// SetPassphrase puts a hash in the place of the one before, and ends all sessions.
func (t Tx) SetPassphrase(hash string) error {
	if err := t.db.Exec("INSERT INTO passphrase (id, hash) VALUES (1, ?) ON CONFLICT (id) DO UPDATE SET hash = excluded.hash",
		hash).Error; err != nil {
		return plain(err)
	}
	return t.EndSessions()
}

// Session is a session by its ID that has not ended; ErrNotFound for none.
func (t Tx) Session(id string, now time.Time) (s Session, err error) {
	return s, found(t.db.Where("id = ? AND ends_at > ?", id, now.UTC()).First(&s).Error)
}

// Sessions are those that have not ended, the one seen last first.
func (t Tx) Sessions(now time.Time) (all []Session, err error) {
	return all, plain(t.db.Where("ends_at > ?", now.UTC()).Order("seen_at DESC, id").Find(&all).Error)
}

// PutSession keeps a session, and lets go of those that have ended.
func (t Tx) PutSession(s Session) error {
	if err := t.db.Where("ends_at <= ?", s.MadeAt.UTC()).Delete(&Session{}).Error; err != nil {
		return plain(err)
	}
	s.MadeAt, s.EndsAt, s.SeenAt = s.MadeAt.UTC(), s.EndsAt.UTC(), s.SeenAt.UTC()
	return plain(t.db.Create(&s).Error)
}

// SeeSession keeps when and where a session was seen last.
func (t Tx) SeeSession(id string, now time.Time, place string) error {
	return plain(t.db.Model(&Session{}).Where("id = ?", id).Updates(map[string]any{"seen_at": now.UTC(), "place": place}).Error)
}

// EndSession ends a session.
func (t Tx) EndSession(id string) error {
	return plain(t.db.Where("id = ?", id).Delete(&Session{}).Error)
}

// EndSessions ends all sessions.
func (t Tx) EndSessions() error { return plain(t.db.Where("1 = 1").Delete(&Session{}).Error) }

// Visits are what happened at the door, the newest first.
func (t Tx) Visits() (all []Visit, err error) {
	return all, plain(t.db.Order("at DESC, id DESC").Find(&all).Error)
}

// PutVisit keeps what happened at the door, and lets go of what is older than ninety days.
func (t Tx) PutVisit(now time.Time, place, what string) error {
	now = now.UTC()
	if what == VisitFailed {
		r := t.db.Exec(`UPDATE visits SET times = times + 1, at = ?
			WHERE id = (SELECT id FROM visits WHERE what = ? AND place = ? AND at > ? ORDER BY id DESC LIMIT 1)`,
			now, what, place, now.Add(-sameAttempt))
		if r.Error != nil || r.RowsAffected > 0 {
			return plain(r.Error)
		}
	}
	if err := t.db.Exec("DELETE FROM visits WHERE at < ? OR id <= (SELECT max(id) FROM visits) - ?", now.Add(-visitsKept),
		mostVisits).Error; err != nil {
		return plain(err)
	}
	return plain(t.db.Create(&Visit{At: now, Place: place, What: what, Times: 1}).Error)
}
