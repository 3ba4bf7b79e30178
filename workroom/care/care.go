package care

import (
	"errors"
	"fmt"
	"io"
	"log/slog"
	"math"
	"net/http"
	"path/filepath"
	"strings"
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
	Next    string        // the backup that waits for the next start
	Unused  []shelf.Loose // photos and meshes that nothing uses
	LetGo   []shelf.Loose // and those that were let go
	Damaged bool
	Second  string        // folder that backups are copied to, empty for none
	Problem string        // what went wrong with it the last time
	Passing bool          // the folder is thrown away at closing, and nothing can be brought back into it
	Tour    bool          // hints of the stages are shown
	Report  *shelf.Report // of a check, or of a backup that was just made
	Said    string        // what the report is of, or what was done
}

// Sized is a number of bytes in words.
func (careBody) Sized(n int64) string { return sized(n) }

// Day is a day in words.
func (careBody) Day(t time.Time) string { return words.DayOfYear(t) }

// Called is a photo by its name, a mesh by what it is.
func (careBody) Called(l shelf.Loose) string {
	if l.Mesh {
		return "a model, " + l.Hash[:6]
	}
	return l.Name
}

// Bytes is how much files take together.
func (careBody) Bytes(all []shelf.Loose) (n int64) {
	for _, l := range all {
		n += l.Bytes
	}
	return n
}

func sized(n int64) string {
	switch {
	case n >= 1<<30:
		return fmt.Sprintf("%.1f GB", float64(n)/(1<<30))
	case n >= 1<<20:
		return fmt.Sprintf("%.1f MB", float64(n)/(1<<20))
	}
	return fmt.Sprintf("%.0f kB", math.Ceil(float64(n)/1024))
}

func (s pages) care(c *gin.Context) { s.showCare(c, nil, "") }

// showCare shows how the workroom is. It needs nothing of the database where that is damaged.
func (s pages) showCare(c *gin.Context, r *shelf.Report, said string) {
	size, where := s.Desk.Store.Size()
	if full, err := filepath.Abs(where); err == nil {
		where = full
	}
	all, err := s.Desk.Store.Backups()
	if s.Trouble(c, err, "") {
		return
	}
	second, problem := s.Desk.Store.SecondPlace()
	b := careBody{Second: second, Problem: problem, Where: where, Size: sized(size), Version: s.Desk.Version, Backups: all, Next: s.Desk.Store.Next(), Passing: s.Desk.Passing,
		Report: r, Said: said}
	if !s.Desk.Store.Damaged() {
		b.Unused, b.LetGo, err = s.Desk.Store.Unused(c.Request.Context())
		if !s.Desk.Store.Damaged() && s.Trouble(c, err, "") {
			return
		}
	}
	b.Damaged = s.Desk.Store.Damaged()
	if b.Tour, err = s.Desk.Tour(c.Request.Context()); err != nil {
		b.Tour = true // where it cannot be read it cannot be changed
	}
	p := s.Page(c, "care", "Backup and health")
	p.Sub = "Location, backups and a full check"
	p.Path = "/care"
	p.Body = b
	s.Render(c, http.StatusOK, p)
}

// checkNow reads everything once.
func (s pages) checkNow(c *gin.Context) {
	r, err := s.Desk.Store.Check(c.Request.Context())
	if s.Trouble(c, err, "") {
		return
	}
	s.showCare(c, &r, "Everything was checked.")
}

// backUp makes a backup and checks it.
func (s pages) backUp(c *gin.Context) {
	b, r, err := s.Desk.Store.MakeBackup(c.Request.Context(), time.Now())
	if s.Trouble(c, err, "") {
		return
	}
	s.showCare(c, &r, fmt.Sprintf("Backup %s (%s) made and checked.", b.Name, sized(b.Bytes)))
}

// sealed sends a backup encrypted with a passphrase.
func (s pages) sealed(c *gin.Context) {
	name, passphrase := c.PostForm("name"), c.PostForm("passphrase")
	f, err := s.Desk.Store.BackupFile(name)
	if s.Trouble(c, err, "There is no such backup. Backup and health lists those you have.") {
		return
	}
	defer f.Close()
	if passphrase != c.PostForm("again") {
		web.GoTo(c, "/care", "The two passphrases differ. Please type them again.")
		return
	}
	to, err := s.Desk.Seal(c.Request.Context(), c.Writer, passphrase, func() {
		web.Attach(c, name+shelf.SealedTail)
		web.Long(c)
	})
	if s.Trouble(c, err, "") {
		return
	}
	if _, err := io.Copy(to, f); err != nil {
		slog.Warn("an encrypted backup could not be sent", "err", err)
		panic(http.ErrAbortHandler) // so that nobody takes half of it for all
	}
	if err := to.Close(); err != nil {
		slog.Warn("an encrypted backup could not be sent to its end", "err", err)
		panic(http.ErrAbortHandler)
	}
}

// figures shows what to watch of the program, as a page or as JSON.
func (s pages) figures(c *gin.Context) {
	ctx := c.Request.Context()
	f, err := s.Figures(ctx)
	if s.Trouble(c, err, "") {
		return
	}
	f.Working = s.Desk.Store.Ready(ctx) == nil
	f.Folder, _ = s.Desk.Store.Size()
	f.Database, f.Log = s.Desk.Store.Sizes()
	_, f.Elsewhere = s.Desk.Store.SecondPlace()
	if all, err := s.Desk.Store.Backups(); err == nil && len(all) > 0 {
		f.Backup = all[0].MadeAt
	}
	if strings.HasSuffix(c.Request.URL.Path, ".json") {
		c.JSON(http.StatusOK, f)
		return
	}
	p := s.Page(c, "figures", "Figures to watch")
	p.Sub = "Since " + words.Moment(f.Since.Local())
	p.Path = "/care/figures"
	p.Body = figuresBody{f}
	s.Render(c, http.StatusOK, p)
}

// figuresBody are the figures, in words.
type figuresBody struct{ web.Figures }

// Sized is a number of bytes in words.
func (figuresBody) Sized(n int64) string { return sized(n) }

// Used is the memory of the program in words.
func (b figuresBody) Used() string { return sized(int64(b.Memory)) }

// Last is when the last backup was made.
func (b figuresBody) Last() string {
	if b.Backup.IsZero() {
		return "none yet"
	}
	return words.Moment(b.Backup.Local())
}

// bringBackup keeps a backup from elsewhere among those here. It is read as it comes in.
func (s pages) bringBackup(c *gin.Context) {
	parts, err := c.Request.MultipartReader()
	if err != nil {
		web.GoTo(c, "/care", "Choose a backup first.")
		return
	}
	passphrase := ""
	for {
		part, err := parts.NextPart()
		if err != nil {
			web.GoTo(c, "/care", "Choose a backup first.")
			return
		}
		if part.FormName() == "passphrase" {
			text, err := io.ReadAll(io.LimitReader(part, 1<<10))
			if s.Trouble(c, err, "") {
				return
			}
			passphrase = string(text)
		}
		if part.FormName() != "file" || part.FileName() == "" {
			continue
		}
		b, r, err := s.Desk.AddBackup(c.Request.Context(), part, passphrase)
		var big *http.MaxBytesError
		var refused words.Refusal
		switch {
		case errors.As(err, &refused):
			web.GoTo(c, "/care", string(refused)+" Nothing was changed.")
			return
		case errors.As(err, &big):
			s.Trouble(c, big, "")
			return
		case err != nil:
			web.GoTo(c, "/care", fmt.Sprintf("%s was not added: %s.", part.FileName(), err))
			return
		}
		s.showCare(c, &r, fmt.Sprintf("%s is added as %s (%s). You can restore it below.", part.FileName(), b.Name, sized(b.Bytes)))
		return
	}
}

// restoreNext has a backup brought back at the next start.
func (s pages) restoreNext(c *gin.Context) {
	name := c.PostForm("name")
	err := s.Desk.Store.RestoreNext(c.Request.Context(), name)
	if err != nil && !errors.Is(err, shelf.ErrNotFound) {
		web.GoTo(c, "/care", fmt.Sprintf("Not restored: %s. Try another backup.", err))
		return
	}
	if s.Trouble(c, err, "There is no such backup. Backup and health lists those you have.") {
		return
	}
	web.GoTo(c, "/care", "")
}

// notNext leaves the workroom as it is.
func (s pages) notNext(c *gin.Context) {
	if s.Trouble(c, s.Desk.Store.NotNext(), "") {
		return
	}
	web.GoTo(c, "/care", "Cancelled. The workroom stays as it is.")
}

// letGo lets photos and meshes go that nothing uses.
func (s pages) letGo(c *gin.Context) {
	n, err := s.Desk.Store.LetGo(c.Request.Context(), time.Now(), c.PostFormArray("hash")...)
	if s.Trouble(c, err, "") {
		return
	}
	said := fmt.Sprintf("%s deleted. You can restore them below for now.", words.Plural(n, "file is", "files are"))
	if n == 0 {
		said = "Not deleted: the file is in use now, or was deleted already."
	}
	web.GoTo(c, "/care", said)
}

// takeBack takes back what was let go.
func (s pages) takeBack(c *gin.Context) {
	n, err := s.Desk.Store.TakeBack(c.Request.Context(), c.PostFormArray("hash")...)
	if s.Trouble(c, err, "") {
		return
	}
	web.GoTo(c, "/care", fmt.Sprintf("%s restored.", words.Plural(n, "file is", "files are")))
}

// salvage saves what can be read of a damaged workroom into a folder beside it.
func (s pages) salvage(c *gin.Context) {
	_, dir := s.Desk.Store.Size()
	if full, err := filepath.Abs(dir); err == nil {
		dir = full
	}
	to := dir + "-saved-" + time.Now().Format("2006-01-02-150405")
	r, err := s.Desk.Salvage(c.Request.Context(), dir, to)
	if s.Trouble(c, err, "") {
		return
	}
	s.showCare(c, &r, fmt.Sprintf("What could be read is saved in %s: %s and %s. Close Lamp Fern and start it there: lampfern serve --data %q", to,
		words.Plural(r.Materials, "material", "materials"), words.Plural(r.Plans, "plan", "plans"), to))
}

// backupFile sends a backup.
func (s pages) backupFile(c *gin.Context) {
	f, err := s.Desk.Store.BackupFile(c.Param("name"))
	if s.Trouble(c, err, "There is no such backup. Backup and health lists those you have.") {
		return
	}
	defer f.Close()
	info, err := f.Stat()
	if s.Trouble(c, err, "") {
		return
	}
	web.Attach(c, c.Param("name"))
	web.Long(c)
	http.ServeContent(c.Writer, c.Request, "", info.ModTime(), f)
}
