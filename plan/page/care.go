package page

import (
	"fmt"
	"net/http"
	"path/filepath"
	"time"

	"github.com/gin-gonic/gin"

	"lampfern/core/words"
	"lampfern/shelf"
	"lampfern/web"
)

// careBody is how the workroom is.
type careBody struct {
	Where   string
	Size    string
	Version string // of the program
	Backups []shelf.Backup
	Report  *shelf.Report // of a check, or of a backup that was just made
	Said    string        // what the report is of
}

// Sized is a number of bytes in words.
func (careBody) Sized(n int64) string { return sized(n) }

func sized(n int64) string {
	switch {
	case n >= 1<<30:
		return fmt.Sprintf("%.1f GB", float64(n)/(1<<30))
	case n >= 1<<20:
		return fmt.Sprintf("%.1f MB", float64(n)/(1<<20))
	}
	return fmt.Sprintf("%.0f kB", float64(n)/1024)
}

func (s pages) care(c *gin.Context) { s.showCare(c, nil, "") }

func (s pages) showCare(c *gin.Context, r *shelf.Report, said string) {
	size, where := s.Desk.Store.Size()
	if full, err := filepath.Abs(where); err == nil {
		where = full
	}
	all, err := s.Desk.Store.Backups()
	if s.Trouble(c, err, "") {
		return
	}
	p := s.Page(c, "care", "How is the workroom?")
	p.Sub = "Where it lies, what was backed up, and whether all of it can be read"
	p.Path = "/care"
	p.Body = careBody{Where: where, Size: sized(size), Version: s.Desk.Version, Backups: all, Report: r, Said: said}
	s.Render(c, http.StatusOK, p)
}

// checkNow reads everything once.
func (s pages) checkNow(c *gin.Context) {
	r, err := s.Desk.Store.Check(c.Request.Context())
	if s.Trouble(c, err, "") {
		return
	}
	s.showCare(c, &r, "Everything was read once.")
}

// backUp makes a backup and checks it.
func (s pages) backUp(c *gin.Context) {
	b, r, err := s.Desk.Store.MakeBackup(c.Request.Context(), time.Now())
	if s.Trouble(c, err, "") {
		return
	}
	s.showCare(c, &r, fmt.Sprintf("The backup %s, %s, is made and was read back whole.", b.Name, sized(b.Bytes)))
}

// backupFile sends a backup.
func (s pages) backupFile(c *gin.Context) {
	f, err := s.Desk.Store.BackupFile(c.Param("name"))
	if s.Trouble(c, err, "There is no such backup. The page of the workroom lists those that are kept.") {
		return
	}
	defer f.Close()
	info, err := f.Stat()
	if s.Trouble(c, err, "") {
		return
	}
	web.Attach(c, c.Param("name"))
	http.ServeContent(c.Writer, c.Request, "", info.ModTime(), f)
}

// lastBackup says when the last backup was made, by the days of the calendar.
func lastBackup(all []shelf.Backup, now time.Time) string {
	if len(all) == 0 {
		return "No backup yet."
	}
	on := func(t time.Time) time.Time { return time.Date(t.Year(), t.Month(), t.Day(), 0, 0, 0, 0, time.UTC) }
	switch days := int(on(now).Sub(on(all[0].MadeAt)).Hours() / 24); {
	case days < 0:
		return fmt.Sprintf("The last backup is dated %s, a day still to come: is the clock right?", all[0].MadeAt.Format("2 January 2006"))
	case days == 0:
		return "Backed up today."
	case days == 1:
		return "Backed up yesterday."
	default:
		return fmt.Sprintf("Backed up %s ago.", words.Plural(days, "day", "days"))
	}
}
