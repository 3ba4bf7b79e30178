package store

import (
	"bufio"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"unicode/utf8"

	"filippo.io/age"

	"lampfern/core/words"
)

// A sealed backup is one that was encrypted with a passphrase, in the age format
// (https://age-encryption.org/v1). Its work factor is the logarithm of what trying a passphrase costs: 15
// takes 32 MB; one from elsewhere may ask for 17, which takes 128.
const (
	SealedTail       = ".age"
	sealedStart      = "age-encryption.org/v1\n"
	sealedFactor     = 15
	mostSealedFactor = 17
	shortestSeal     = 10 // characters of a passphrase
)

// Seal returns a writer that encrypts what is written to it with a passphrase; it must be closed.
func Seal(to io.Writer, passphrase string) (io.WriteCloser, error) {
	if utf8.RuneCountInString(passphrase) < shortestSeal {
		return nil, words.Refuse("A passphrase has at least %d characters: use a few words only you would put together, and write them down.",
			shortestSeal)
	}
	r, err := age.NewScryptRecipient(passphrase)
	if err != nil {
		return nil, fmt.Errorf("sealing a backup: %w", err)
	}
	r.SetWorkFactor(sealedFactor)
	return age.Encrypt(to, r)
}

// Unsealed reads a backup, decrypted with a passphrase where it is sealed. The error is a Refusal where the
// passphrase does not open it.
func Unsealed(from io.Reader, passphrase string) (io.Reader, error) {
	b := bufio.NewReader(from)
	if head, err := b.Peek(len(sealedStart)); err != nil || string(head) != sealedStart {
		return b, nil // what else is wrong with it is found where it is read
	}
	if passphrase == "" {
		return nil, words.Refuse("This backup is encrypted: give its passphrase.")
	}
	id, err := age.NewScryptIdentity(passphrase)
	if err != nil {
		return nil, fmt.Errorf("opening a sealed backup: %w", err)
	}
	id.SetMaxWorkFactor(mostSealedFactor)
	r, err := age.Decrypt(b, id)
	if err != nil {
		return nil, words.Refuse("That passphrase does not open this backup. Check how you typed it.")
	}
	return r, nil
}

// Second is a second place for backups, such as another disk: where each is copied to once it is made, and
// the passphrase it is sealed with, empty for none.
type Second struct{ Dir, Passphrase string }

// KeepAlso has each backup copied to a second place from now on.
func (s *Store) KeepAlso(to Second) error {
	if to.Passphrase != "" {
		if _, err := Seal(io.Discard, to.Passphrase); err != nil {
			return err
		}
	}
	s.second = to
	return nil
}

// SecondPlace is where backups are copied to, empty for nowhere, and what went wrong the last time, empty for
// nothing.
func (s *Store) SecondPlace() (dir, problem string) {
	if said := s.secondProblem.Load(); said != nil {
		problem = *said
	}
	return s.second.Dir, problem
}

// copySecond copies a backup to the second place. What goes wrong is kept as a sentence.
func (s *Store) copySecond(b Backup) {
	if s.second.Dir == "" {
		return
	}
	said := ""
	if err := s.tryCopySecond(b); err != nil {
		said = fmt.Sprintf("The last backup could not be copied to %s: %v. Check that its disk is connected, then make a backup.",
			s.second.Dir, err)
	}
	s.secondProblem.Store(&said)
}

func (s *Store) tryCopySecond(b Backup) (err error) {
	if info, err := os.Stat(s.second.Dir); err != nil || !info.IsDir() { // made here, it might lie where a disk is not mounted
		return errors.New("there is no such folder")
	}
	from, err := os.Open(filepath.Join(s.dir, backupFolder, b.Name))
	if err != nil {
		return plain(err)
	}
	defer from.Close()
	f, err := os.CreateTemp(s.second.Dir, ".new-*")
	if err != nil {
		return plain(err)
	}
	defer os.Remove(f.Name())
	name, to := b.Name, io.WriteCloser(struct {
		io.Writer
		io.Closer
	}{f, io.NopCloser(nil)})
	if s.second.Passphrase != "" {
		name += SealedTail
		if to, err = Seal(f, s.second.Passphrase); err != nil {
			return err
		}
	}
	_, err = io.Copy(to, from)
	if err = errors.Join(err, to.Close(), f.Sync(), f.Close()); err != nil {
		return plain(err)
	}
	if err := errors.Join(os.Rename(f.Name(), filepath.Join(s.second.Dir, name)), syncFolder(s.second.Dir)); err != nil {
		return plain(err)
	}
	return thin(s.second.Dir, "")
}

// backupsIn lists the backups in a folder, sealed ones too, the newest first.
func backupsIn(dir string) (out []Backup, err error) {
	entries, err := os.ReadDir(dir)
	if errors.Is(err, os.ErrNotExist) {
		return nil, nil
	}
	for _, e := range entries {
		stamp, is := strings.CutPrefix(strings.TrimSuffix(strings.TrimSuffix(e.Name(), SealedTail), ".zip"), "lampfern-")
		at, bad := stampTime(stamp)
		info, gone := e.Info()
		if is && bad == nil && gone == nil {
			out = append(out, Backup{e.Name(), at, info.Size()})
		}
	}
	slices.SortFunc(out, func(a, b Backup) int { return b.MadeAt.Compare(a.MadeAt) })
	return out, plain(err)
}

// thin keeps of the backups in a folder the newest few, the newest of each of seven days, and of what is
// older the newest of each of four weeks; and one by its name.
func thin(dir, kept string) error {
	all, err := backupsIn(dir)
	if err != nil {
		return err
	}
	days, weeks := map[string]bool{}, map[string]bool{}
	for i, b := range all {
		year, week := b.MadeAt.ISOWeek()
		day, w := b.MadeAt.Format("2006-01-02"), fmt.Sprint(year, week)
		switch {
		case !days[day] && len(days) < backupsDaily:
			days[day] = true
			continue
		case i < backupsNewest || b.Name == kept:
			continue
		case !days[day] && !weeks[w] && len(weeks) < backupsWeekly:
			weeks[w] = true
			continue
		}
		if err := os.Remove(filepath.Join(dir, b.Name)); err != nil {
			return plain(err)
		}
	}
	return nil
}
