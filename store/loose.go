package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"gorm.io/gorm"

	"lampfern/core/words"
)

// LetGoKept is how long a photo or mesh that was let go can be taken back.
const LetGoKept = 7 * 24 * time.Hour

// Loose is a photo or mesh that nothing speaks of: no material, plan, sheet or page of a diary,
// and no step that could be undone.
type Loose struct {
	Hash   string
	Name   string // of a photo; empty for a mesh
	Mesh   bool
	Bytes  int64
	GoneAt time.Time // when one that was let go goes for good; zero for one that was not
}

// letGo is a photo or mesh that a maker let go.
type letGo struct {
	Hash string `gorm:"primaryKey"`
	At   time.Time
}

// TableName names the table of what was let go.
func (letGo) TableName() string { return "let_go" }

func (l Loose) folder() string {
	if l.Mesh {
		return modelFolder
	}
	return photoFolder
}

// Unused lists the photos and meshes that nothing uses: first those kept, the largest first,
// and apart those that were let go and can be taken back.
func (s *Store) Unused(ctx context.Context) (kept, gone []Loose, err error) {
	err = s.View(ctx, func(tx Tx) error {
		kept, gone, err = s.unused(tx)
		return err
	})
	return kept, gone, err
}

func (s *Store) unused(tx Tx) (kept, gone []Loose, err error) {
	var photos []Photo
	if err := tx.db.Find(&photos).Error; err != nil {
		return nil, nil, plain(err)
	}
	var marks []letGo
	if err := tx.db.Find(&marks).Error; err != nil {
		return nil, nil, plain(err)
	}
	meshes, err := s.names(modelFolder)
	if err != nil {
		return nil, nil, err
	}
	loose := map[string]Loose{}
	for _, p := range photos {
		loose[p.Hash] = Loose{Hash: p.Hash, Name: p.Name}
	}
	for _, hash := range meshes {
		loose[hash] = Loose{Hash: hash, Mesh: true}
	}
	if err := dropSpokenOf(tx.db, loose); err != nil {
		return nil, nil, plain(fmt.Errorf("looking for what uses photos and meshes: %w", err))
	}
	for _, l := range loose {
		if info, err := os.Stat(filepath.Join(s.dir, l.folder(), l.Hash)); err == nil {
			l.Bytes = info.Size()
		}
		if i := slices.IndexFunc(marks, func(m letGo) bool { return m.Hash == l.Hash }); i >= 0 {
			l.GoneAt = marks[i].At.Add(LetGoKept)
			gone = append(gone, l)
			continue
		}
		kept = append(kept, l)
	}
	for _, all := range [][]Loose{kept, gone} {
		slices.SortFunc(all, func(a, b Loose) int {
			if a.Bytes != b.Bytes {
				return int(b.Bytes - a.Bytes)
			}
			return strings.Compare(a.Hash, b.Hash)
		})
	}
	return kept, gone, nil
}

// shortestRun is from how many hexadecimal digits on a run may be a hash or a part of one.
const shortestRun = 8

// dropSpokenOf takes away from all what any row of the database names. The journal keeps only
// what differs of a document, so that there a little of a hash may be cut off at its ends.
func dropSpokenOf(db *gorm.DB, all map[string]Loose) error {
	tables, err := tablesOf(db)
	if err != nil {
		return err
	}
	for _, table := range tables {
		if table == "photos" || table == "let_go" || len(all) == 0 {
			continue
		}
		cut := table == "changes"
		var columns []string
		if err := db.Raw(fmt.Sprintf("SELECT name FROM pragma_table_info(%q) WHERE type IN ('TEXT', 'BLOB')",
			table)).Scan(&columns).Error; err != nil {
			return err
		}
		if len(columns) == 0 {
			continue
		}
		for i := range columns {
			columns[i] = fmt.Sprintf("%q", columns[i])
		}
		rows, err := db.Raw(fmt.Sprintf("SELECT %s FROM %q", strings.Join(columns, ", "), table)).Rows()
		if err != nil {
			return err
		}
		err = eachCell(rows, len(columns), func(cell []byte) {
			for run := range hexRuns(cell) {
				delete(all, string(run))
				if !cut {
					continue
				}
				for hash := range all {
					if strings.Contains(string(run), hash[min(6, len(hash)/4):len(hash)-min(6, len(hash)/4)]) {
						delete(all, hash)
					}
				}
			}
		})
		if err = errors.Join(err, rows.Close()); err != nil {
			return err
		}
	}
	return nil
}

func eachCell(rows *sql.Rows, columns int, f func([]byte)) error {
	cells, into := make([]sql.RawBytes, columns), make([]any, columns)
	for i := range cells {
		into[i] = &cells[i]
	}
	for rows.Next() {
		if err := rows.Scan(into...); err != nil {
			return err
		}
		for _, c := range cells {
			f(c)
		}
	}
	return rows.Err()
}

// hexRuns are the runs of at least shortestRun lower-case hexadecimal digits in a text.
func hexRuns(text []byte) func(yield func([]byte) bool) {
	return func(yield func([]byte) bool) {
		from := 0
		for i := 0; i <= len(text); i++ {
			if i < len(text) && (text[i] >= '0' && text[i] <= '9' || text[i] >= 'a' && text[i] <= 'f') {
				continue
			}
			if i-from >= shortestRun && !yield(text[from:i]) {
				return
			}
			from = i + 1
		}
	}
}

// noFile refuses to let go or take back when no file is named.
func noFile(hashes []string) error {
	if len(hashes) == 0 {
		return words.Refuse("Choose a photo or mesh from the list, or choose all.")
	}
	return nil
}

// LetGo marks photos and meshes that nothing uses to go for good after LetGoKept. What something
// uses by now stays. It says how many are marked, and refuses an empty list.
func (s *Store) LetGo(ctx context.Context, now time.Time, hashes ...string) (n int, err error) {
	if err := noFile(hashes); err != nil {
		return 0, err
	}
	err = s.Write(ctx, func(tx Tx) error {
		kept, _, err := s.unused(tx)
		if err != nil {
			return err
		}
		for _, l := range kept {
			if !slices.Contains(hashes, l.Hash) {
				continue
			}
			if err := tx.db.Create(&letGo{l.Hash, now}).Error; err != nil {
				return plain(err)
			}
			n++
		}
		return nil
	})
	return n, err
}

// TakeBack takes back photos and meshes that were let go, and refuses an empty list.
func (s *Store) TakeBack(ctx context.Context, hashes ...string) (n int, err error) {
	if err := noFile(hashes); err != nil {
		return 0, err
	}
	err = s.Write(ctx, func(tx Tx) error {
		q := tx.db.Where("hash IN ?", hashes).Delete(&letGo{})
		n = int(q.RowsAffected)
		return plain(q.Error)
	})
	return n, err
}

// Sweep takes away what a program that was killed left behind: files that were being written,
// photos that waited, photos without a record, and meshes that no plan and no undo speaks of.
// It says how many.
func (s *Store) Sweep(ctx context.Context) (gone int, err error) {
	remove := func(path string) {
		if os.RemoveAll(path) == nil {
			gone++
		}
	}
	for _, folder := range []string{".", photoFolder, modelFolder, backupFolder} {
		entries, err := os.ReadDir(filepath.Join(s.dir, folder))
		if err != nil && !errors.Is(err, os.ErrNotExist) {
			return gone, plain(err)
		}
		for _, e := range entries {
			for _, left := range []string{".probe-", ".new-", ".check-", ".restore-"} {
				if strings.HasPrefix(e.Name(), left) {
					remove(filepath.Join(s.dir, folder, e.Name()))
				}
			}
		}
	}
	staged, err := s.names(stagedFolder)
	if err != nil {
		return gone, err
	}
	for _, hash := range staged {
		remove(filepath.Join(s.dir, stagedFolder, hash))
	}
	// A photo is kept by its record, a mesh by what speaks of it.
	known := map[string]bool{}
	var rows []string
	if err := s.reader.WithContext(ctx).Model(&Photo{}).Pluck("hash", &rows).Error; err != nil {
		return gone, plain(err)
	}
	for _, hash := range rows {
		known[hash] = true
	}
	photos, err := s.names(photoFolder)
	if err != nil {
		return gone, err
	}
	for _, hash := range photos {
		if !known[hash] {
			remove(filepath.Join(s.dir, photoFolder, hash))
		}
	}
	loose, _, err := s.Unused(ctx)
	if err != nil {
		return gone, err
	}
	for _, l := range loose {
		if l.Mesh {
			remove(filepath.Join(s.dir, modelFolder, l.Hash))
		}
	}
	return gone, nil
}

// Upkeep takes away what waited long enough: deleted files, lists that were never
// confirmed; and gives the disk back what the database no longer needs. It may take a second,
// in which others can read and not write.
func (s *Store) Upkeep(ctx context.Context, now time.Time) error {
	var away []Loose
	err := s.Write(ctx, func(tx Tx) error {
		if err := tx.db.Where("created_at < ?", now.Add(-uploadsKept)).Delete(&Upload{}).Error; err != nil {
			return err
		}
		_, gone, err := s.unused(tx)
		if err != nil {
			return err
		}
		for _, l := range gone {
			if now.Before(l.GoneAt) {
				continue
			}
			away = append(away, l)
			if err := tx.db.Where("hash = ?", l.Hash).Delete(&Photo{}).Error; err != nil {
				return err
			}
		}
		// What is used again is not let go any more.
		return tx.db.Where("at <= ?", now.Add(-LetGoKept)).Delete(&letGo{}).Error
	})
	for _, l := range away {
		if err == nil {
			err = os.Remove(filepath.Join(s.dir, l.folder(), l.Hash))
		}
	}
	if err != nil {
		return plain(fmt.Errorf("tidying the data folder: %w", err))
	}
	return s.giveBack(ctx)
}

// The database is written anew when so many bytes of it, and such a share, are of no use.
const (
	worthGivingBack = 4 << 20
	shareGivenBack  = 4
)

// giveBack writes the database anew where much of it is free.
func (s *Store) giveBack(ctx context.Context) error {
	var free, pages, size int64
	for pragma, n := range map[string]*int64{"freelist_count": &free, "page_count": &pages, "page_size": &size} {
		if err := s.reader.WithContext(ctx).Raw("PRAGMA " + pragma).Scan(n).Error; err != nil {
			return plain(err)
		}
	}
	if free*size < worthGivingBack || free*shareGivenBack < pages {
		return nil
	}
	if err := s.turn.Acquire(ctx, 1); err != nil {
		return fmt.Errorf("waiting to give space back: %w", err)
	}
	defer s.turn.Release(1)
	if err := s.writer.WithContext(ctx).Exec("VACUUM").Error; err != nil {
		return plain(fmt.Errorf("giving space back: %w", err))
	}
	return plain(s.writer.WithContext(ctx).Exec("PRAGMA wal_checkpoint(TRUNCATE)").Error)
}
