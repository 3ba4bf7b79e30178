package shelf

import (
	"fmt"
	"time"

	"lampfern/core/words"
)

// LastBackup says when the last backup was made, by the days of the calendar.
func LastBackup(all []Backup, now time.Time) string {
	if len(all) == 0 {
		return "No backups yet."
	}
	on := func(t time.Time) time.Time { return time.Date(t.Year(), t.Month(), t.Day(), 0, 0, 0, 0, time.UTC) }
	switch days := int(on(now).Sub(on(all[0].MadeAt)).Hours() / 24); {
	case days < 0:
		return fmt.Sprintf("The last backup is dated %s, which is in the future: check the clock.", words.Date(all[0].MadeAt))
	case days == 0:
		return "Backed up today."
	case days == 1:
		return "Backed up yesterday."
	default:
		return fmt.Sprintf("Backed up %s ago.", words.Plural(days, "day", "days"))
	}
}
