package store

import (
	"archive/zip"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"github.com/go-gormigrate/gormigrate/v2"
	"gorm.io/gorm"
)

// Backups are zips of a data folder: the database as SQLite copies it while others write, every
// photo and mesh, and a list of them. They lie in a folder of their own beside what they copy.
const (
	backupFolder = "backups"
	backupList   = "contents.json"
	backupFormat = "lampfern-backup"
	backupStamp  = "2006-01-02-150405"
)

// How many backups are kept: the newest, one a day, and then one a week.
const (
	backupsNewest = 5
	backupsDaily  = 7
	backupsWeekly = 4
)

// contents is the list in a backup.
type contents struct {
	Format  string    `json:"format"`
	Version int       `json:"version"`
	MadeAt  time.Time `json:"made_at"`
	Photos  []string  `json:"photos"`
	Models  []string  `json:"models"`
	Damaged []string  `json:"damaged,omitempty"` // files that were damaged already, or gone
}

// Report says what was checked of a data folder or a backup, and what is wrong with it.
type Report struct {
	Materials, Plans, Photos, Models int
	Wrong                            []string // in sentences; nil for nothing
}

// Good reports whether nothing is wrong.
func (r Report) Good() bool { return len(r.Wrong) == 0 }

// Backup is a backup that is kept.
type Backup struct {
	Name   string // of its file
	MadeAt time.Time
	Bytes  int64
}

// damagedDatabase begins what is wrong with a database that SQLite finds damaged.
const damagedDatabase = "The database is damaged: "

// QuickCheck has SQLite look whether the database is whole, as Check does in less time and
// without its indexes. One that is not is looked at only from then on.
func (s *Store) QuickCheck(ctx context.Context) error {
	var said []string
	if err := s.reader.WithContext(ctx).Raw("PRAGMA quick_check(1)").Scan(&said).Error; err != nil {
		return plain(err)
	}
	if len(said) != 1 || said[0] != "ok" {
		s.damaged.Store(true)
	}
	return nil
}

// Check reads everything once: the database by SQLite's own checks, every file by its hash.
func (s *Store) Check(ctx context.Context) (Report, error) {
	r, err := checkDatabase(s.reader.WithContext(ctx))
	if err != nil {
		return r, err
	}
	if strings.HasPrefix(strings.Join(r.Wrong, " "), damagedDatabase) {
		s.damaged.Store(true)
	}
	photos, err := s.Read(ctx).Photos()
	if err != nil {
		return r, err
	}
	for _, p := range photos {
		if err := ctx.Err(); err != nil {
			return r, err
		}
		if why := s.wrongWith(photoFolder, p.Hash); why != "" {
			r.Wrong = append(r.Wrong, fmt.Sprintf("The photo %s %s.", p.Name, why))
		}
	}
	models, err := s.names(modelFolder)
	if err != nil {
		return r, err
	}
	r.Models = len(models)
	for _, hash := range models {
		if why := s.wrongWith(modelFolder, hash); why != "" {
			r.Wrong = append(r.Wrong, fmt.Sprintf("A mesh (%s) %s.", hash, why))
		}
	}
	return r, nil
}

// wrongWith says what is wrong with a file that is named by its content.
func (s *Store) wrongWith(folder, hash string) string {
	data, err := s.file(folder, hash)
	switch {
	case errors.Is(err, ErrNotFound):
		return "is missing from the data folder"
	case err != nil:
		return "cannot be read"
	case HashOf(data) != hash:
		return "is damaged: it differs from what was saved"
	}
	return ""
}

// names lists the files of a folder that are named by their content.
func (s *Store) names(folder string) ([]string, error) {
	entries, err := os.ReadDir(filepath.Join(s.dir, folder))
	if errors.Is(err, os.ErrNotExist) {
		return nil, nil
	}
	var out []string
	for _, e := range entries {
		if photoName.MatchString(e.Name()) {
			out = append(out, e.Name())
		}
	}
	return out, plain(err)
}

// checkDatabase runs SQLite's own checks and counts what there is.
func checkDatabase(db *gorm.DB) (r Report, err error) {
	var said []string
	if err := db.Raw("PRAGMA integrity_check(20)").Scan(&said).Error; err != nil {
		return r, plain(err)
	}
	if len(said) != 1 || said[0] != "ok" {
		r.Wrong = append(r.Wrong, damagedDatabase+strings.Join(said, "; ")+".")
	}
	var loose int64
	if err := db.Raw("SELECT count(*) FROM pragma_foreign_key_check").Scan(&loose).Error; err != nil {
		return r, plain(err)
	}
	if loose > 0 {
		r.Wrong = append(r.Wrong, fmt.Sprintf("%d rows of the database belong to others that are missing.", loose))
	}
	for table, n := range map[string]*int{"materials": &r.Materials, "plans": &r.Plans, "photos": &r.Photos} {
		if err := db.Raw("SELECT count(*) FROM " + table).Scan(n).Error; err != nil {
			return r, plain(err)
		}
	}
	return r, nil
}

// copyTo copies the database as it is at one moment, while others go on writing.
func (s *Store) copyTo(ctx context.Context, path string) error {
	return plain(s.writer.WithContext(ctx).Exec("VACUUM INTO ?", path).Error)
}

// MakeBackup makes a backup, checks it, and only then gives it its name among those kept.
// Report says what it holds; what was damaged before is among what is wrong, and the rest is
// in the backup all the same.
func (s *Store) MakeBackup(ctx context.Context, now time.Time) (b Backup, r Report, err error) {
	dir, err := s.backupDir()
	if err != nil {
		return b, r, err
	}
	work, err := os.MkdirTemp(dir, ".new-*")
	if err != nil {
		return b, r, plain(fmt.Errorf("making a backup: %w", err))
	}
	defer os.RemoveAll(work)
	db := filepath.Join(work, FileName)
	if err := s.copyTo(ctx, db); err != nil {
		return b, r, fmt.Errorf("copying the database: %w", err)
	}
	path := filepath.Join(work, "backup.zip")
	if err := s.writeBackup(ctx, path, db, now); err != nil {
		return b, r, plain(fmt.Errorf("writing the backup: %w", err))
	}
	if r, err = CheckBackup(ctx, path); err != nil {
		return b, r, err
	}
	b = Backup{Name: "lampfern-" + now.Format(backupStamp) + ".zip", MadeAt: now}
	to := filepath.Join(dir, b.Name)
	if err := errors.Join(os.Rename(path, to), syncFolder(dir)); err != nil {
		return b, r, plain(fmt.Errorf("keeping the backup: %w", err))
	}
	if info, err := os.Stat(to); err == nil {
		b.Bytes = info.Size()
	}
	s.copySecond(b)
	return b, r, thin(dir, s.Next())
}

// writeBackup writes the zip of a copy of the database with every photo and mesh.
func (s *Store) writeBackup(ctx context.Context, path, db string, now time.Time) (err error) {
	f, err := os.OpenFile(path, os.O_CREATE|os.O_WRONLY|os.O_EXCL, ownerFile)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, f.Sync(), f.Close()) }()
	z := zip.NewWriter(f)
	list := contents{Format: backupFormat, Version: 1, MadeAt: now.UTC()}
	put := func(name string, method uint16, from io.Reader) error {
		w, err := z.CreateHeader(&zip.FileHeader{Name: name, Method: method, Modified: now})
		if err != nil {
			return err
		}
		_, err = io.Copy(w, from)
		return err
	}
	in, err := os.Open(db)
	if err != nil {
		return err
	}
	defer in.Close()
	if err := put(FileName, zip.Deflate, in); err != nil {
		return err
	}
	for folder, names := range map[string]*[]string{photoFolder: &list.Photos, modelFolder: &list.Models} {
		all, err := s.names(folder)
		if err != nil {
			return err
		}
		for _, hash := range all {
			if err := ctx.Err(); err != nil {
				return err
			}
			if why := s.wrongWith(folder, hash); why != "" {
				list.Damaged = append(list.Damaged, folder+"/"+hash)
			}
			data, err := s.file(folder, hash)
			if err != nil {
				continue // named among the damaged
			}
			*names = append(*names, hash)
			if err := put(folder+"/"+hash, zip.Store, strings.NewReader(string(data))); err != nil {
				return err
			}
		}
	}
	doc, err := json.MarshalIndent(list, "", " ")
	if err != nil {
		return err
	}
	return errors.Join(put(backupList, zip.Deflate, strings.NewReader(string(doc))), z.Close())
}

// CheckBackup reads a backup whole: that nothing is cut off, that its database is sound, and
// that every file is what its name says.
func CheckBackup(ctx context.Context, path string) (r Report, err error) {
	dir, err := os.MkdirTemp(filepath.Dir(path), ".check-*")
	if err != nil {
		return r, plain(fmt.Errorf("checking the backup: %w", err))
	}
	defer os.RemoveAll(dir)
	missing, err := unpack(ctx, path, dir)
	if err != nil {
		return r, err
	}
	if err := dataOnly(filepath.Join(dir, FileName)); err != nil {
		return r, err
	}
	db, err := open(filepath.Join(dir, FileName), "_pragma=query_only(1)", 1)
	if err != nil {
		return r, err
	}
	defer func() {
		if pool, e := db.DB(); e == nil {
			err = errors.Join(err, pool.Close())
		}
	}()
	if r, err = checkDatabase(db.WithContext(ctx)); err != nil {
		return r, err
	}
	models, err := os.ReadDir(filepath.Join(dir, modelFolder))
	if err != nil && !errors.Is(err, fs.ErrNotExist) {
		return r, plain(err)
	}
	r.Models = len(models)
	r.Wrong = append(r.Wrong, missing...)
	return r, nil
}

// unpack lays the files of a backup into a folder and tells, in sentences, what is missing or
// damaged in it. An error means that there is no database to be had.
func unpack(ctx context.Context, path, dir string) (missing []string, err error) {
	z, err := zip.OpenReader(path)
	if err != nil {
		return nil, fmt.Errorf("%s is not a complete backup: it cannot be opened as a zip", filepath.Base(path))
	}
	defer z.Close()
	var list contents
	found := map[string]bool{}
	for _, f := range z.File {
		if err := ctx.Err(); err != nil {
			return nil, err
		}
		folder, hash, _ := strings.Cut(f.Name, "/")
		file := (folder == photoFolder || folder == modelFolder) && photoName.MatchString(hash)
		if f.Name != FileName && f.Name != backupList && !file {
			continue
		}
		if f.Name == backupList {
			if data, err := readList(f); err == nil {
				_ = json.Unmarshal(data, &list) // what it would tell is then not told
			}
			continue
		}
		is, err := unpackEntry(f, filepath.Join(dir, filepath.FromSlash(f.Name)))
		var trouble *Trouble
		switch {
		case errors.As(err, &trouble):
			return nil, err // of the disk, not of the backup
		case f.Name == FileName && err != nil:
			return nil, fmt.Errorf("the database in %s is damaged, and nothing can be read from it: try an older backup", filepath.Base(path))
		case err != nil:
			missing = append(missing, fmt.Sprintf("%s is damaged in the backup.", f.Name))
			continue
		}
		if file && is != hash {
			missing = append(missing, fmt.Sprintf("%s differs from what was saved.", f.Name))
		}
		found[f.Name] = true
	}
	if !found[FileName] {
		return nil, fmt.Errorf("%s holds no database: it is not a Lamp Fern backup", filepath.Base(path))
	}
	for folder, all := range map[string][]string{photoFolder: list.Photos, modelFolder: list.Models} {
		for _, hash := range all {
			if !found[folder+"/"+hash] && !slices.ContainsFunc(missing, func(m string) bool { return strings.HasPrefix(m, folder+"/"+hash) }) {
				missing = append(missing, fmt.Sprintf("%s/%s is not in the backup.", folder, hash))
			}
		}
	}
	return missing, nil
}

// Bounds of a backup's files, in bytes.
const (
	mostEntry = 4 << 30
	mostList  = 64 << 20
)

// readList reads the list of a backup.
func readList(f *zip.File) ([]byte, error) {
	r, err := f.Open()
	if err != nil {
		return nil, err
	}
	defer r.Close()
	return io.ReadAll(io.LimitReader(r, mostList))
}

// unpackEntry lays one file of a backup at a path, piece by piece, synced, and returns its hash. What is
// wrong with the disk is a Trouble; any other error is of the entry.
func unpackEntry(f *zip.File, to string) (hash string, err error) {
	if f.UncompressedSize64 > mostEntry {
		return "", errors.New("it is larger than anything saved here")
	}
	r, err := f.Open()
	if err != nil {
		return "", err
	}
	defer r.Close()
	if err := os.MkdirAll(filepath.Dir(to), ownerOnly); err != nil {
		return "", &Trouble{Say: "There is no room to unpack the backup. Free some space and try again.", Cause: err}
	}
	out, err := os.OpenFile(to, os.O_CREATE|os.O_EXCL|os.O_WRONLY, ownerFile)
	if err != nil {
		return "", &Trouble{Say: "There is no room to unpack the backup. Free some space and try again.", Cause: err}
	}
	sum := sha256.New()
	disk := &diskWriter{w: out}
	_, err = io.Copy(io.MultiWriter(disk, sum), io.LimitReader(r, mostEntry))
	if bad := errors.Join(disk.err, out.Sync(), out.Close()); bad != nil {
		return "", &Trouble{Say: "There is no room to unpack the backup. Free some space and try again.", Cause: bad}
	}
	if err != nil {
		_ = os.Remove(to)
	}
	return hex.EncodeToString(sum.Sum(nil)[:hashBytes]), err
}

// diskWriter remembers what the disk said, apart from what a reader did.
type diskWriter struct {
	w   io.Writer
	err error
}

func (d *diskWriter) Write(p []byte) (int, error) {
	n, err := d.w.Write(p)
	d.err = err
	return n, err
}

// schemaAt is the schema that this program gives a database of a version: each statement by its kind and name.
func schemaAt(version string) (map[string]string, error) {
	db, err := open(":memory:", "mode=memory", 1)
	if err != nil {
		return nil, err
	}
	defer func() {
		if pool, e := db.DB(); e == nil {
			_ = pool.Close()
		}
	}()
	if err := migrateTo(db, version); err != nil {
		return nil, err
	}
	return schemaOf(db)
}

// schemaOf are the statements that a database is made of, by kind and name.
func schemaOf(db *gorm.DB) (map[string]string, error) {
	var rows []struct{ Type, Name, SQL string }
	q := "SELECT type, name, coalesce(sql, '') AS sql FROM sqlite_master WHERE name NOT LIKE 'sqlite_%'"
	if err := db.Raw(q).Scan(&rows).Error; err != nil {
		return nil, plain(err)
	}
	out := map[string]string{}
	for _, r := range rows {
		out[r.Type+" "+r.Name] = strings.Join(strings.Fields(r.SQL), " ")
	}
	return out, nil
}

// dataOnly refuses a database that is made otherwise than this program makes one of its version: a backup
// from elsewhere is data, and what it would do by itself is not taken.
func dataOnly(path string) error {
	db, err := open(path, "_pragma=query_only(1)", 1)
	if err != nil {
		return err
	}
	defer func() {
		if pool, e := db.DB(); e == nil {
			_ = pool.Close()
		}
	}()
	var version string
	if err := db.Raw("SELECT coalesce(max(id), '') FROM migrations").Scan(&version).Error; err != nil {
		if isDamage(err) {
			return plain(err)
		}
		return errors.New("its database is not a Lamp Fern database")
	}
	if !slices.ContainsFunc(migrations, func(m *gormigrate.Migration) bool { return m.ID == version }) {
		return errors.New("it was written by a newer Lamp Fern: restore it with that one")
	}
	own, err := schemaAt(version)
	if err != nil {
		return err
	}
	theirs, err := schemaOf(db)
	if err != nil {
		return err
	}
	for name, sql := range theirs {
		if own[name] != sql {
			return fmt.Errorf("its database has a part (%.40q) that Lamp Fern never made, so nothing is read from it", name)
		}
	}
	for name := range own {
		if _, there := theirs[name]; !there {
			return fmt.Errorf("its database has no part %.40q, so nothing is read from it: save what can be read with lampfern salvage",
				name)
		}
	}
	return nil
}

// Restore lays a backup into a data folder in which nothing is, and tells what of it was missing
// or damaged. passphrase opens one that is sealed. A folder that holds a workroom is refused.
func Restore(ctx context.Context, path, passphrase, dir string) (r Report, err error) {
	if err := os.MkdirAll(dir, ownerOnly); err != nil {
		return r, plain(fmt.Errorf("making the data folder: %w", err))
	}
	if err := vacant(dir); err != nil {
		return r, err
	}
	work, err := os.MkdirTemp(dir, ".restore-*")
	if err != nil {
		return r, plain(fmt.Errorf("restoring: %w", err))
	}
	defer os.RemoveAll(work)
	if strings.HasSuffix(path, SealedTail) {
		if path, err = unsealInto(work, path, passphrase); err != nil {
			return r, err
		}
	}
	missing, err := unpack(ctx, path, work)
	if err != nil {
		return r, err
	}
	if err := dataOnly(filepath.Join(work, FileName)); err != nil && !isDamage(err) {
		return r, err
	}
	for _, folder := range []string{photoFolder, modelFolder} {
		from := filepath.Join(work, folder)
		if _, err := os.Stat(from); err != nil {
			continue
		}
		if err := errors.Join(syncFolder(from), os.Rename(from, filepath.Join(dir, folder))); err != nil {
			return r, plain(fmt.Errorf("restoring the %s: %w", folder, err))
		}
	}
	// The database comes last: until it is there the folder is no workroom.
	if err := errors.Join(os.Rename(filepath.Join(work, FileName), filepath.Join(dir, FileName)), syncFolder(dir)); err != nil {
		return r, plain(fmt.Errorf("restoring the database: %w", err))
	}
	s, err := Open(dir)
	if err != nil {
		return r, err
	}
	defer s.Close()
	if !s.Damaged() { // who was in when the backup was made is not in now
		if err := s.Write(ctx, Tx.EndSessions); err != nil {
			return r, err
		}
	}
	if r, err = s.Check(ctx); err != nil {
		return r, err
	}
	for _, m := range missing {
		if !slices.Contains(r.Wrong, m) {
			r.Wrong = append(r.Wrong, m)
		}
	}
	return r, nil
}

// unsealInto decrypts a sealed backup into a folder and returns where it lies then.
func unsealInto(dir, path, passphrase string) (plainPath string, err error) {
	f, err := os.Open(path)
	if err != nil {
		return "", fmt.Errorf("%s cannot be read (%w)", path, errors.Unwrap(err))
	}
	defer f.Close()
	from, err := Unsealed(f, passphrase)
	if err != nil {
		return "", err
	}
	plainPath = filepath.Join(dir, strings.TrimSuffix(filepath.Base(path), SealedTail))
	to, err := os.OpenFile(plainPath, os.O_CREATE|os.O_EXCL|os.O_WRONLY, ownerFile)
	if err != nil {
		return "", plain(err)
	}
	disk := &diskWriter{w: to}
	_, err = io.Copy(disk, from)
	if bad := errors.Join(disk.err, to.Close()); bad != nil {
		return "", plain(bad)
	}
	if err != nil {
		return "", fmt.Errorf("%s was cut short or changed since it was made: choose another", filepath.Base(path))
	}
	return plainPath, nil
}

// backupDir is the folder of backups, made where it is not there.
func (s *Store) backupDir() (string, error) {
	dir := filepath.Join(s.dir, backupFolder)
	if err := os.MkdirAll(dir, ownerOnly); err != nil {
		return "", plain(fmt.Errorf("making the folder of backups: %w", err))
	}
	return dir, nil
}

// Backups lists those kept, the newest first.
func (s *Store) Backups() ([]Backup, error) { return backupsIn(filepath.Join(s.dir, backupFolder)) }

// stampTime is the moment in the name of a backup.
func stampTime(stamp string) (time.Time, error) {
	return time.ParseInLocation(backupStamp, stamp, time.Local)
}

// BackupFile opens a backup that is kept, by its name.
func (s *Store) BackupFile(name string) (*os.File, error) {
	all, err := s.Backups()
	if err != nil {
		return nil, err
	}
	if !slices.ContainsFunc(all, func(b Backup) bool { return b.Name == name }) {
		return nil, ErrNotFound
	}
	f, err := os.Open(filepath.Join(s.dir, backupFolder, name))
	return f, plain(err)
}

// BackupDue reports whether something was written since the last backup, and that is a day
// old. A backup dated after now, made while the clock was ahead, does not put the next one off.
func (s *Store) BackupDue(now time.Time) (bool, error) {
	all, err := s.Backups()
	if err != nil {
		return false, err
	}
	var written time.Time
	for _, name := range []string{FileName, FileName + "-wal"} {
		if info, err := os.Stat(filepath.Join(s.dir, name)); err == nil && info.Size() > 0 && info.ModTime().After(written) {
			written = info.ModTime()
		}
	}
	all = slices.DeleteFunc(all, func(b Backup) bool { return b.MadeAt.After(now) })
	if len(all) == 0 {
		var n int64
		err := s.reader.Raw("SELECT (SELECT count(*) FROM materials) + (SELECT count(*) FROM plans)").Scan(&n).Error
		return n > 0, plain(err)
	}
	return written.After(all[0].MadeAt) && now.Sub(all[0].MadeAt) >= 24*time.Hour, nil
}

// copyBeforeMigration keeps a copy of a database that is about to be brought up to date.
func (s *Store) copyBeforeMigration() error {
	var tables int64
	if err := s.writer.Raw("SELECT count(*) FROM sqlite_master WHERE name = 'migrations'").Scan(&tables).Error; err != nil || tables == 0 {
		return err // a new one
	}
	var last string
	if err := s.writer.Raw("SELECT max(id) FROM migrations").Scan(&last).Error; err != nil {
		return err
	}
	if last >= migrations[len(migrations)-1].ID {
		return nil
	}
	dir, err := s.backupDir()
	if err != nil {
		return err
	}
	to := filepath.Join(dir, fmt.Sprintf("before-%s.db", migrations[len(migrations)-1].ID))
	if _, err := os.Stat(to); err == nil {
		return nil // it was made when the last try was cut short
	}
	if err := s.copyTo(context.Background(), to+".new"); err != nil {
		return err
	}
	return errors.Join(os.Chmod(to+".new", ownerFile), os.Rename(to+".new", to), syncFolder(dir))
}

// Sizes are the bytes of the database, and of its log.
func (s *Store) Sizes() (database, log int64) {
	for name, n := range map[string]*int64{FileName: &database, FileName + "-wal": &log} {
		if info, err := os.Stat(filepath.Join(s.dir, name)); err == nil {
			*n = info.Size()
		}
	}
	return database, log
}

// Size is how many bytes the data folder takes, and where it lies.
func (s *Store) Size() (bytes int64, dir string) {
	_ = filepath.WalkDir(s.dir, func(_ string, e fs.DirEntry, err error) error { // what cannot be looked at counts for nothing
		if err == nil && !e.IsDir() {
			if info, err := e.Info(); err == nil {
				bytes += info.Size()
			}
		}
		return nil
	})
	return bytes, s.dir
}
