package store

import (
	"archive/zip"
	"context"
	"crypto/sha256"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"os"
	"path/filepath"
	"strings"
	"time"
)

// A backup is laid in place of a workroom only while no program works on it: its name waits in
// this file until the next start.
const nextFile = ".restore-next"

// RestoreNext has a backup that is kept laid in place of the workroom at the next start, where
// TakeNext is called. Nothing is changed now.
func (s *Store) RestoreNext(ctx context.Context, name string) error {
	f, err := s.BackupFile(name)
	if err != nil {
		return err
	}
	f.Close()
	if _, err := CheckBackup(ctx, filepath.Join(s.dir, backupFolder, name)); err != nil {
		return err
	}
	return plain(os.WriteFile(filepath.Join(s.dir, nextFile), []byte(name), ownerFile))
}

// Next is the name of the backup that waits for the next start, empty for none.
func (s *Store) Next() string { return nextOf(s.dir) }

func nextOf(dir string) string {
	name, err := os.ReadFile(filepath.Join(dir, nextFile))
	if err != nil {
		return ""
	}
	return string(name)
}

// NotNext leaves the workroom as it is at the next start.
func (s *Store) NotNext() error {
	err := os.Remove(filepath.Join(s.dir, nextFile))
	if errors.Is(err, os.ErrNotExist) {
		return nil
	}
	return plain(err)
}

// TakeNext lays the backup that waits in place of a data folder's workroom, which is itself kept
// as a backup first, or as it lies where it is damaged. No program may work on the folder. told
// says what was done, empty where nothing waits; after an error all is as it was.
func TakeNext(ctx context.Context, dir string, now time.Time) (told string, err error) {
	name := nextOf(dir)
	if name == "" || name != filepath.Base(name) {
		return "", nil
	}
	defer os.Remove(filepath.Join(dir, nextFile))
	work, err := os.MkdirTemp(dir, ".restore-*")
	if err != nil {
		return "", plain(fmt.Errorf("restoring: %w", err))
	}
	defer os.RemoveAll(work)
	missing, err := unpack(ctx, filepath.Join(dir, backupFolder, name), work)
	if err != nil {
		return "", err
	}
	if err := dataOnly(filepath.Join(work, FileName)); err != nil && !isDamage(err) {
		return "", err
	}
	if err := keepDoors(ctx, dir, work, now); err != nil {
		return "", err
	}
	kept, err := keepAside(ctx, dir, now)
	if err != nil {
		return "", err
	}
	for _, folder := range []string{photoFolder, modelFolder} {
		entries, err := os.ReadDir(filepath.Join(work, folder))
		if errors.Is(err, os.ErrNotExist) {
			continue
		}
		to := filepath.Join(dir, folder)
		if err := errors.Join(err, os.MkdirAll(to, ownerOnly)); err != nil {
			return "", plain(fmt.Errorf("restoring the %s: %w", folder, err))
		}
		for _, e := range entries {
			if err := os.Rename(filepath.Join(work, folder, e.Name()), filepath.Join(to, e.Name())); err != nil {
				return "", plain(fmt.Errorf("restoring the %s: %w", folder, err))
			}
		}
		if err := syncFolder(to); err != nil {
			return "", plain(fmt.Errorf("restoring the %s: %w", folder, err))
		}
	}
	for _, tail := range []string{"-wal", "-shm"} { // they would be of the other database
		if err := os.Remove(filepath.Join(dir, FileName+tail)); err != nil && !errors.Is(err, os.ErrNotExist) {
			return "", plain(fmt.Errorf("restoring the database: %w", err))
		}
	}
	if err := errors.Join(os.Rename(filepath.Join(work, FileName), filepath.Join(dir, FileName)), syncFolder(dir)); err != nil {
		return "", plain(fmt.Errorf("restoring the database: %w", err))
	}
	told = fmt.Sprintf("The workroom is restored from %s. The one before is saved as %s.", name, kept)
	return strings.Join(append([]string{told}, missing...), " "), nil
}

// keepDoors makes who may come in, in a workroom that was unpacked into work, as it is now in dir: the
// passphrase, the sessions and the visits are those of now, and a link that is not open now is withdrawn. Where the
// workroom of now cannot be read nobody is in any more.
func keepDoors(ctx context.Context, dir, work string, now time.Time) error {
	var hash string
	var sessions []Session
	var visits []Visit
	var links []string
	known := false
	if s, err := Open(dir); err == nil {
		if !s.Damaged() {
			err = s.View(ctx, func(tx Tx) (err error) {
				if hash, err = tx.Passphrase(); err != nil {
					return err
				}
				if err = errors.Join(tx.db.Find(&sessions).Error, tx.db.Order("id").Find(&visits).Error); err != nil {
					return err
				}
				return tx.db.Raw("SELECT token FROM sheets WHERE withdrawn_at IS NULL").Scan(&links).Error
			})
			known = err == nil
		}
		if err := s.Close(); err != nil {
			return plain(err)
		}
	}
	to, err := Open(work)
	if err != nil {
		return err
	}
	defer to.Close()
	if to.Damaged() {
		return nil
	}
	return to.Write(ctx, func(tx Tx) error {
		if err := tx.EndSessions(); err != nil || !known {
			return err
		}
		if err := tx.db.Exec("DELETE FROM passphrase").Error; err != nil {
			return plain(err)
		}
		if hash != "" {
			if err := tx.SetPassphrase(hash); err != nil {
				return err
			}
		}
		for _, one := range sessions {
			if err := tx.PutSession(one); err != nil {
				return err
			}
		}
		if err := tx.db.Exec("DELETE FROM visits").Error; err != nil {
			return plain(err)
		}
		if len(visits) > 0 {
			if err := tx.db.CreateInBatches(&visits, 500).Error; err != nil {
				return plain(err)
			}
		}
		open := tx.db.Table("sheets").Where("withdrawn_at IS NULL")
		if len(links) > 0 {
			open = open.Where("token NOT IN ?", links)
		}
		return plain(open.Update("withdrawn_at", now.UTC()).Error)
	})
}

// keepAside keeps a workroom that is about to be replaced and says under which name.
func keepAside(ctx context.Context, dir string, now time.Time) (name string, err error) {
	s, err := Open(dir)
	if err == nil {
		var b Backup
		if !s.Damaged() {
			b, _, err = s.MakeBackup(ctx, now)
		} else {
			err = errDamaged
		}
		if e := s.Close(); err == nil && e == nil {
			return b.Name, nil
		}
	}
	slog.Warn("the present workroom cannot be backed up, and is kept as it is", "err", err)
	name = "damaged-" + now.Format(backupStamp)
	to := filepath.Join(dir, backupFolder, name)
	if err := os.MkdirAll(to, ownerOnly); err != nil {
		return "", plain(fmt.Errorf("keeping the workroom as it was: %w", err))
	}
	for _, tail := range []string{"", "-wal", "-shm"} {
		if err := os.Rename(filepath.Join(dir, FileName+tail), filepath.Join(to, FileName+tail)); err != nil && !errors.Is(err, os.ErrNotExist) {
			return "", plain(fmt.Errorf("keeping the workroom as it was: %w", err))
		}
	}
	return name, nil
}

// AddBackup keeps a backup from elsewhere among those here, once it was read whole.
func (s *Store) AddBackup(ctx context.Context, from io.Reader) (b Backup, r Report, err error) {
	dir, err := s.backupDir()
	if err != nil {
		return b, r, err
	}
	f, err := os.CreateTemp(dir, ".new-*")
	if err != nil {
		return b, r, plain(fmt.Errorf("keeping the backup: %w", err))
	}
	defer os.Remove(f.Name())
	n, err := io.Copy(f, from)
	if err = errors.Join(err, f.Sync(), f.Close()); err != nil {
		return b, r, plain(fmt.Errorf("keeping the backup: %w", err))
	}
	if r, err = CheckBackup(ctx, f.Name()); err != nil {
		return b, r, errors.New(strings.ReplaceAll(err.Error(), filepath.Base(f.Name()), "it"))
	}
	at, err := madeAt(f.Name())
	if err != nil {
		return b, r, err
	}
	b = Backup{Name: "lampfern-" + at.Format(backupStamp) + ".zip", MadeAt: at, Bytes: n}
	for { // what is kept here is not overwritten; the very same is kept once
		there, err := sumOf(filepath.Join(dir, b.Name))
		if errors.Is(err, os.ErrNotExist) {
			break
		}
		if again, e := sumOf(f.Name()); err == nil && e == nil && there == again {
			return b, r, nil
		}
		at = at.Add(time.Second)
		b.Name = "lampfern-" + at.Format(backupStamp) + ".zip"
	}
	return b, r, plain(errors.Join(os.Rename(f.Name(), filepath.Join(dir, b.Name)), syncFolder(dir)))
}

// sumOf is the SHA-256 of a file, read piece by piece.
func sumOf(path string) (sum [sha256.Size]byte, err error) {
	f, err := os.Open(path)
	if err != nil {
		return sum, err
	}
	defer f.Close()
	h := sha256.New()
	_, err = io.Copy(h, f)
	return [sha256.Size]byte(h.Sum(nil)), err
}

// madeAt is when a backup was made, as its list says.
func madeAt(path string) (time.Time, error) {
	z, err := zip.OpenReader(path)
	if err != nil {
		return time.Time{}, err
	}
	defer z.Close()
	f, err := z.Open(backupList)
	if err != nil {
		return time.Now(), nil // one without a list is dated today
	}
	defer f.Close()
	var list contents
	if err := json.NewDecoder(f).Decode(&list); err != nil || list.MadeAt.IsZero() {
		return time.Now(), nil
	}
	return list.MadeAt.Local(), nil
}
