package store

import "time"

// Session is somebody who came in by the passphrase. ID is the SHA-256 of what the
// browser shows, in hex, so that nobody comes in by what is kept here.
type Session struct {
	ID     string `gorm:"primaryKey"`
	MadeAt time.Time
	EndsAt time.Time
}

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

// PutSession keeps a session, and lets go of those that have ended.
func (t Tx) PutSession(s Session) error {
	if err := t.db.Where("ends_at <= ?", s.MadeAt.UTC()).Delete(&Session{}).Error; err != nil {
		return plain(err)
	}
	s.MadeAt, s.EndsAt = s.MadeAt.UTC(), s.EndsAt.UTC()
	return plain(t.db.Create(&s).Error)
}

// EndSession ends a session.
func (t Tx) EndSession(id string) error {
	return plain(t.db.Where("id = ?", id).Delete(&Session{}).Error)
}

// EndSessions ends all sessions.
func (t Tx) EndSessions() error { return plain(t.db.Where("1 = 1").Delete(&Session{}).Error) }

// Sessions is how many sessions there are.
func (t Tx) Sessions() (n int64, err error) {
	return n, plain(t.db.Model(&Session{}).Count(&n).Error)
}
