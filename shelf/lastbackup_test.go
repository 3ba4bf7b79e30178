package shelf

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
)

func TestTheLastBackupIsToldByTheCalendar(t *testing.T) {
	now := time.Date(2026, 11, 25, 8, 0, 0, 0, time.Local)
	assert.Equal(t, "No backups yet.", LastBackup(nil, now))
	for made, want := range map[time.Time]string{
		now.Add(-time.Hour):       "Backed up today.",
		now.Add(-10 * time.Hour):  "Backed up yesterday.",
		now.AddDate(0, 0, -12):    "Backed up 12 days ago.",
		now.AddDate(0, 0, 30):     "The last backup is dated 25 December 2026, which is in the future: check the clock.",
		now.Add(20 * time.Minute): "Backed up today.",
	} {
		assert.Equal(t, want, LastBackup([]Backup{{MadeAt: made}}, now))
	}
}
