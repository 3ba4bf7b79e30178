// Package store keeps everything in one SQLite file through GORM: models,
// numbered migrations and the settings that make an acknowledged write safe.
// Nothing else touches the database, and nothing here decides about colour.
package store

import (
	"cmp"
	"context"
	"database/sql"
	"errors"
	"fmt"
	"log/slog"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"sync/atomic"
	"syscall"
	"time"

	"github.com/glebarez/sqlite"
	"golang.org/x/sync/semaphore"
	"gorm.io/gorm"
	"gorm.io/gorm/logger"

	"lampfern/core/words"
)

// FileName is the database inside a data folder.
const FileName = "lampfern.db"

// Store is an open data folder. It reads through as many connections as are
// wanted and writes through one, so that writers wait for their turn in the
// process and not at the file.
type Store struct {
	writer *gorm.DB
	turn   *semaphore.Weighted // of writers, in the order they came
	reader *gorm.DB
	dir    string

	damaged atomic.Bool // nothing more is written
	failed  atomic.Bool // the disk took the last write not
	ready   readiness
	second  Second

	secondProblem atomic.Pointer[string]
}

// Tx is a view of the data, either one transaction of Write or plain reads.
type Tx struct{ db *gorm.DB }

// Errors that callers tell apart.
var (
	ErrNotFound = errors.New("not found")
	ErrConflict = errors.New("changed meanwhile") // the row's revision is not the one that was read
	ErrTaken    = errors.New("name already taken")
)

// Open opens the data folder, making it when it is not there, and brings the
// database up to date. The error is a sentence for the maker.
func Open(dir string) (*Store, error) {
	path := filepath.Join(dir, FileName)
	room := filepath.Join(dir, roomFile)
	err := writable(dir)
	full := errors.Is(err, syscall.ENOSPC) && holds(path)
	if full {
		_ = os.Remove(room)
		slog.Warn("the disk is full: you can look, and saving works again once there is room", "folder", dir)
	} else if err != nil {
		return nil, err
	}
	if err := gone(dir, path); err != nil {
		return nil, err
	}
	if err := private(dir, path); err != nil {
		return nil, err
	}
	// Immediate transactions: one that reads and then writes must hold the
	// write lock from its start, or half of two at once fail.
	writer, err := open(path, "_txlock=immediate&_pragma=journal_mode(WAL)&_pragma=synchronous(FULL)", 1)
	if isDamage(err) || isOurs(path, err) {
		return nothing(dir, err)
	}
	if err != nil {
		return nil, rescue(dir, err)
	}
	s := &Store{writer: writer, turn: semaphore.NewWeighted(1), dir: dir}
	err = s.copyBeforeMigration()
	if err == nil {
		err = migrate(writer)
	}
	if isDamage(err) { // what can be read of it can be looked at
		s.damaged.Store(true)
		slog.Error("the database is damaged: you can look, but nothing is saved", "err", err)
	} else if err != nil {
		s.Close()
		return nil, rescue(dir, plain(fmt.Errorf("bringing %s up to date: %w", path, err)))
	}
	if s.reader, err = open(path, "_pragma=query_only(1)", readers); err != nil {
		s.Close()
		return nil, err
	}
	for _, db := range []*gorm.DB{s.writer, s.reader} {
		if err := s.watch(db); err != nil {
			s.Close()
			return nil, err
		}
	}
	if !full {
		_ = os.WriteFile(room, make([]byte, roomSize), ownerFile) // without it, a full disk is only told
	}
	return s, nil
}

// errDamaged refuses a write to a damaged database.
var errDamaged = words.Refuse("The database is damaged: you can look, but nothing is saved. Open “Backup and health” to get it back.")

// isDamage reports whether an error tells that the database itself is damaged.
func isDamage(err error) bool {
	return err != nil && (errors.Is(err, errDamaged) || strings.Contains(err.Error(), "malformed"))
}

// isOurs reports whether a file that SQLite does not take for a database is one of this program whose
// header came to harm.
func isOurs(path string, err error) bool {
	if err == nil || !strings.Contains(err.Error(), "not a database") {
		return false
	}
	f, closeFile, err := damagedFile(path)
	if err != nil {
		return false
	}
	defer closeFile()
	return rootsOf(f)["materials"] > 0
}

// rescue adds to an error that keeps a workroom from being opened how it is got back, where that is not a
// matter of the disk.
func rescue(dir string, err error) error {
	var disk *Trouble
	all, _ := (&Store{dir: dir}).Backups() // where the folder cannot be read there are none
	if none := strings.Contains(err.Error(), "not a database"); errors.As(err, &disk) && !(none && len(all) > 0) {
		return err
	}
	said := ""
	if len(all) > 0 {
		said = fmt.Sprintf(" The newest of %s is %s: restore it into a new folder with “lampfern restore --data NEW %s”.",
			words.Plural(len(all), "backup", "backups"), all[0].Name, filepath.Join(dir, backupFolder, all[0].Name))
	}
	return fmt.Errorf("%w. Nothing was changed.%s Save what can be read into a new folder with “lampfern salvage --data %s --to NEW”",
		err, said, dir)
}

// nothing stands for a database of which nothing at all can be read: its pages are empty, and say
// how to get it back.
func nothing(dir string, why error) (*Store, error) {
	slog.Error("the database is damaged, and no part of it can be read", "err", why)
	db, err := open("", "mode=memory", 1)
	if err != nil {
		return nil, err
	}
	s := &Store{writer: db, reader: db, turn: semaphore.NewWeighted(1), dir: dir}
	s.damaged.Store(true)
	if err := migrate(db); err != nil {
		s.Close()
		return nil, plain(fmt.Errorf("opening %s: %w", dir, err))
	}
	return s, nil
}

// Damaged reports whether the database was found damaged. Nothing is written to it then.
func (s *Store) Damaged() bool { return s.damaged.Load() }

// watch marks the store as damaged when anything that is read or written through db says so.
func (s *Store) watch(db *gorm.DB) error {
	look := func(tx *gorm.DB) {
		if isDamage(tx.Error) {
			s.damaged.Store(true)
		}
	}
	on := db.Callback()
	return errors.Join(on.Query().After("*").Register("damage", look), on.Raw().After("*").Register("damage", look),
		on.Row().After("*").Register("damage", look),
		on.Create().After("*").Register("damage", look), on.Update().After("*").Register("damage", look),
		on.Delete().After("*").Register("damage", look))
}

// marked is an error in plain words; one that tells of damage marks the store as damaged.
func (s *Store) marked(err error) error {
	if isDamage(err) {
		s.damaged.Store(true)
	}
	return plain(err)
}

// inURI writes a path as a part of SQLite's URI (https://www.sqlite.org/uri.html).
var inURI = strings.NewReplacer("%", "%25", "?", "%3f", "#", "%23")

// Rights of the data folder and its files: only the owner reads them.
const (
	ownerOnly = 0o700
	ownerFile = 0o600
)

// A file of nothing is given up where the disk is full at the start, so that the database's index
// of its log (32 kB, https://www.sqlite.org/walformat.html) has room, without which nothing can be
// read.
const (
	roomFile = ".room"
	roomSize = 128 << 10
)

// readers is how many may read at once; a further one waits.
const readers = 16

func open(path, how string, connections int) (*gorm.DB, error) {
	dsn := "file:" + inURI.Replace(filepath.ToSlash(path)) + "?_pragma=busy_timeout(5000)&_pragma=foreign_keys(1)&" + how
	db, err := gorm.Open(sqlite.Open(dsn), &gorm.Config{
		TranslateError: true,
		Logger:         logger.Discard, // every error is returned and told where it matters
	})
	if err != nil {
		return nil, plain(fmt.Errorf("opening %s: %w", path, err))
	}
	pool, err := db.DB()
	if err != nil {
		return nil, plain(fmt.Errorf("opening %s: %w", path, err))
	}
	pool.SetMaxOpenConns(connections)
	pool.SetMaxIdleConns(connections)
	return db, nil
}

// probeSize is how much a few saves need, in bytes.
const probeSize = 256 << 10

// writable makes sure that the folder takes a file of the size a few saves
// need, so that a full or read-only disk is told at the start.
func writable(dir string) error {
	if err := os.MkdirAll(dir, ownerOnly); err != nil {
		return fmt.Errorf("the data folder %s cannot be made (%w). Choose another with --data", dir, errors.Unwrap(err))
	}
	f, err := os.CreateTemp(dir, ".probe-*")
	if err == nil {
		defer os.Remove(f.Name())
		_, err = f.Write(make([]byte, probeSize))
		if e := f.Sync(); err == nil {
			err = e
		}
		f.Close()
	}
	if err != nil {
		return plain(fmt.Errorf("writing in the data folder %s: %w", dir, err))
	}
	return nil
}

// holds says whether something is in a file.
func holds(path string) bool {
	info, err := os.Stat(path)
	return err == nil && info.Size() > 0
}

// gone refuses a folder whose photos are there and whose database is not, or is empty: beginning
// anew there would look like a shelf that is lost.
func gone(dir, path string) error {
	if holds(path) {
		return nil
	}
	entries, err := os.ReadDir(filepath.Join(dir, photoFolder))
	if err != nil || len(entries) == 0 {
		return nil // a new one
	}
	return fmt.Errorf("%s holds photos, and its database is missing or empty. Restore a backup into another folder (lampfern restore); to start afresh here, move the photos away", dir)
}

// private takes the rights of others to what lies in a data folder away, and makes its database,
// which is then made with no more; the files beside it follow. The folder itself is its owner's
// alone where it is made here; one that was there may hold other things, and stays as it is.
func private(dir, path string) error {
	f, err := os.OpenFile(path, os.O_CREATE|os.O_RDWR, ownerFile)
	if err != nil {
		return plain(fmt.Errorf("opening %s: %w", path, err))
	}
	f.Close()
	for p, rights := range map[string]os.FileMode{path: ownerFile, path + "-wal": ownerFile, path + "-shm": ownerFile,
		filepath.Join(dir, photoFolder): ownerOnly, filepath.Join(dir, modelFolder): ownerOnly} {
		if err := os.Chmod(p, rights); err != nil && !errors.Is(err, os.ErrNotExist) && !errors.Is(err, os.ErrPermission) {
			return plain(fmt.Errorf("keeping %s to its owner: %w", p, err))
		}
	}
	return nil
}

// Trouble is an error of the disk, with what a maker can do about it as a sentence without its stop.
type Trouble struct {
	Say   string
	Cause error
}

func (t *Trouble) Error() string { return fmt.Sprintf("%s (%v)", t.Say, t.Cause) }

// Unwrap is what the disk said.
func (t *Trouble) Unwrap() error { return t.Cause }

// troubles are the signs of what can be wrong with a disk, in small letters, and what is said of it.
var troubles = []struct{ sign, say string }{
	{"no space left", "The disk is full. Nothing was changed; free some space and start again"},
	{"file too large", "The disk is full, or files may not grow further. Nothing was changed; free some space and try again"},
	{"disk i/o error (778)", "The disk is full, or nothing can be written to it. Nothing was changed; free some space and try again"},
	{"disk i/o error (1034)", "The disk is full, or nothing can be written to it. Nothing was changed; free some space and try again"},
	{"disk i/o error (1290)", "The disk is full, or nothing can be written to it. Nothing was changed; free some space and try again"},
	{"disk i/o error (1546)", "The disk is full, or nothing can be written to it. Nothing was changed; free some space and try again"},
	{"disk i/o error (4874)", "The disk is full, or nothing can be written to it. Nothing was changed; free some space and start again"},
	{"disk is full", "The disk is full. Nothing was changed; free some space and try again"},
	{"read-only file system", "The data folder is read-only. Choose another with --data, or make it writable"},
	{"readonly database", "The data folder is read-only. Choose another with --data, or make it writable"},
	{"permission denied", "The data folder may not be written. Choose another with --data, or make it writable"},
	{"not a database", "The file is not a Lamp Fern database. Move it away, or choose another folder with --data"},
	{"migration in db that does not exist in code", "This data folder was written by a newer Lamp Fern. Use that version; nothing was changed"},
	{"malformed", "The database is damaged, and nothing more is saved. Open “Backup and health” to get it back"},
	{"database is locked", "Another program is using the data folder. Close it and try again"},
}

// plain makes a Trouble of an error of the disk; any other stays as it is.
func plain(err error) error {
	var said *Trouble
	if err == nil || errors.As(err, &said) {
		return err
	}
	text := strings.ToLower(err.Error())
	for _, m := range troubles {
		if strings.Contains(text, m.sign) {
			return &Trouble{m.say, err}
		}
	}
	return err
}

// Close lets go of the file.
func (s *Store) Close() error {
	var all []error
	for _, db := range []*gorm.DB{s.reader, s.writer} { // the writer last: it takes the log away
		if db == nil {
			continue
		}
		pool, err := db.DB()
		if err == nil {
			err = pool.Close()
		}
		all = append(all, err)
	}
	return errors.Join(all...)
}

// Read runs single reads against the latest data; several of them may see
// several moments.
func (s *Store) Read(ctx context.Context) Tx { return Tx{s.reader.WithContext(ctx)} }

// View runs reads that all see the data of one moment.
func (s *Store) View(ctx context.Context, f func(Tx) error) error {
	read := false
	err := s.marked(s.reader.WithContext(ctx).Transaction(func(db *gorm.DB) error {
		err := f(Tx{db})
		read = err == nil
		return err
	}, &sql.TxOptions{ReadOnly: true}))
	if read && isDamage(err) {
		return nil // what could be read of it was enough; only the end of the transaction complains
	}
	return err
}

// Write runs f as one transaction: all of it is kept, safely on disk when
// Write returns, or none of it. Writers come one after another, so f must not
// be slow and must not call Write.
func (s *Store) Write(ctx context.Context, f func(Tx) error) error {
	// The pool of the one connection gives it to any that waits; here the first come.
	if err := s.turn.Acquire(ctx, 1); err != nil {
		return fmt.Errorf("waiting to write: %w", err)
	}
	defer s.turn.Release(1)
	if s.Damaged() {
		return errDamaged
	}
	err := s.marked(s.writer.WithContext(ctx).Transaction(func(db *gorm.DB) error { return f(Tx{db}) }))
	var disk *Trouble
	if full := errors.As(err, &disk); full || err == nil {
		s.failed.Store(full)
	}
	return err
}

// readyFor is how long an answer of Ready is remembered, so that asking often costs nothing.
const readyFor = 2 * time.Second

// readiness is the last answer of Ready.
type readiness struct {
	lock sync.Mutex
	at   time.Time
	err  error
}

// Ready reports whether the workroom can be written: nil where the database takes a write and the folder a
// file.
func (s *Store) Ready(ctx context.Context) error {
	s.ready.lock.Lock()
	defer s.ready.lock.Unlock()
	if time.Since(s.ready.at) < readyFor {
		return s.ready.err
	}
	var err error
	if s.failed.Load() { // as much as a save may take is written once, and taken away again
		u := Upload{Name: "ready", Content: make([]byte, probeSize)}
		if err = s.Write(ctx, func(tx Tx) error { return tx.PutUpload(&u) }); err == nil {
			err = s.Write(ctx, func(tx Tx) error { return tx.DropUpload(u.ID) })
		}
	} else { // nothing is kept by it, so that nothing has to be backed up
		undone := errors.New("undone")
		err = s.Write(ctx, func(tx Tx) error { return cmp.Or(tx.db.Exec("UPDATE counters SET n = n").Error, undone) })
		if errors.Is(err, undone) {
			err = writable(s.dir)
		}
	}
	if ctx.Err() == nil { // else whoever asked has gone, and nothing is known
		s.ready.at, s.ready.err = time.Now(), err
	}
	return err
}

func found(err error) error {
	if errors.Is(err, gorm.ErrRecordNotFound) {
		return ErrNotFound
	}
	return plain(err)
}
