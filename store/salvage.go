package store

import (
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"slices"
	"strings"

	"gorm.io/gorm"
)

// Salvage copies what can be read of a damaged data folder into another in which nothing is:
// of each table every row that SQLite still gives, and every file that is what its name says.
// The damaged folder is only read. Report tells what came along, and what did not.
func Salvage(ctx context.Context, from, to string) (r Report, err error) {
	if err := vacant(to); err != nil {
		return r, err
	}
	path := filepath.Join(from, FileName)
	if info, err := os.Stat(path); err != nil || info.Size() == 0 {
		return r, fmt.Errorf("%s holds no database, or an empty one: there is nothing to save but its photos", from)
	}
	s, err := Open(to)
	if err != nil {
		return r, err
	}
	defer s.Close()
	// A copy of the damaged file is read, so that nothing can happen to it.
	copied := filepath.Join(to, ".salvage.db")
	for _, tail := range []string{"", "-wal", "-shm"} {
		defer os.Remove(copied + tail)
	}
	for _, tail := range []string{"", "-wal"} {
		if err := copyFile(path+tail, copied+tail); err != nil && !errors.Is(err, os.ErrNotExist) {
			return r, plain(fmt.Errorf("reading the damaged database: %w", err))
		}
	}
	damaged, err := open(copied, "_pragma=query_only(1)", 1)
	if err != nil {
		return r, err
	}
	defer func() {
		if pool, e := damaged.DB(); e == nil {
			_ = pool.Close() // of a file that goes
		}
	}()
	tables, err := tablesOf(s.writer)
	if err != nil {
		return r, plain(err)
	}
	var wrong []string
	err = s.writer.WithContext(ctx).Connection(func(db *gorm.DB) error {
		if err := db.Exec("PRAGMA foreign_keys = OFF").Error; err != nil {
			return err
		}
		defer db.Exec("PRAGMA foreign_keys = ON")
		err := db.Transaction(func(tx *gorm.DB) error {
			for _, table := range tables {
				rows, lost, err := readable(damaged.WithContext(ctx), table)
				if err != nil {
					wrong = append(wrong, fmt.Sprintf("Of the table %s nothing can be read.", table))
					continue
				}
				if lost == countless {
					wrong = append(wrong, fmt.Sprintf("Of the table %s %s could be read; the rest cannot.", table, rowsWord(len(rows))))
				}
				if lost > 0 {
					wrong = append(wrong, fmt.Sprintf("Of the table %s about %s cannot be read.", table, rowsWord(lost)))
				}
				if err := lay(tx, table, rows); err != nil {
					return fmt.Errorf("laying down the table %s: %w", table, err)
				}
			}
			return nil
		})
		if err != nil {
			return err
		}
		return dropOrphans(db, tables)
	})
	if err != nil {
		return r, plain(err)
	}
	for _, folder := range []string{photoFolder, modelFolder} {
		entries, err := os.ReadDir(filepath.Join(from, folder))
		if err != nil && !errors.Is(err, os.ErrNotExist) {
			wrong = append(wrong, fmt.Sprintf("The folder %s cannot be read.", folder))
		}
		for _, e := range entries {
			if !photoName.MatchString(e.Name()) {
				continue
			}
			data, err := os.ReadFile(filepath.Join(from, folder, e.Name()))
			if err != nil || HashOf(data) != e.Name() {
				wrong = append(wrong, fmt.Sprintf("%s/%s is damaged.", folder, e.Name()))
				continue
			}
			if err := s.putFile(folder, e.Name(), data); err != nil {
				return r, err
			}
		}
	}
	if r, err = s.Check(ctx); err != nil {
		return r, err
	}
	r.Wrong = append(wrong, r.Wrong...)
	return r, nil
}

// vacant refuses a folder in which a workroom, or part of one, is.
func vacant(dir string) error {
	for _, name := range []string{FileName, photoFolder, modelFolder} {
		if _, err := os.Stat(filepath.Join(dir, name)); err == nil {
			return fmt.Errorf("%s holds a workroom already, or part of one, and nothing is ever laid over one: give another folder with --data, or move that one away first", dir)
		}
	}
	return nil
}

func copyFile(from, to string) error {
	in, err := os.Open(from)
	if err != nil {
		return err
	}
	defer in.Close()
	out, err := os.OpenFile(to, os.O_CREATE|os.O_WRONLY|os.O_EXCL, ownerFile)
	if err != nil {
		return err
	}
	_, err = io.Copy(out, in)
	return errors.Join(err, out.Close())
}

// tablesOf are the tables that data lie in, without those that SQLite keeps for itself or
// makes from others.
func tablesOf(db *gorm.DB) (out []string, err error) {
	var all []string
	if err := db.Raw("SELECT name FROM sqlite_master WHERE type = 'table' ORDER BY rowid").Scan(&all).Error; err != nil {
		return nil, err
	}
	for _, t := range all {
		if t != "migrations" && !strings.HasPrefix(t, "sqlite_") && !strings.HasPrefix(t, "diary_words") {
			out = append(out, t)
		}
	}
	return out, nil
}

func rowsWord(n int) string {
	if n == 1 {
		return "one row"
	}
	return fmt.Sprintf("%d rows", n)
}

// mostSalvaged bounds the numbers of the rows of one table that are looked for.
const mostSalvaged = int64(1) << 40

// mostTries bounds the reads of one table of which much is damaged; how many of its rows are lost
// is not known then.
const (
	mostTries = 40_000
	countless = -1
)

// readable are the rows of a table that can be read: all at once, or else by halves of their
// numbers, so that only what is damaged is lost.
func readable(db *gorm.DB, table string) (out []map[string]any, lost int, err error) {
	read := func(low, high int64) (all []map[string]any, err error) {
		rows, err := db.Raw(fmt.Sprintf("SELECT * FROM %q WHERE rowid BETWEEN ? AND ?", table), low, high).Rows()
		if err != nil {
			return nil, err
		}
		defer rows.Close()
		names, err := rows.Columns()
		if err != nil {
			return nil, err
		}
		for rows.Next() {
			values, into := make([]any, len(names)), make([]any, len(names))
			for i := range values {
				into[i] = &values[i]
			}
			if err := rows.Scan(into...); err != nil {
				return nil, err
			}
			row := map[string]any{}
			for i, name := range names {
				row[name] = values[i]
			}
			all = append(all, row)
		}
		if err := rows.Err(); err != nil {
			return nil, err
		}
		return all, nil
	}
	var columns []string
	if err := db.Raw(fmt.Sprintf("SELECT name FROM pragma_table_info(%q)", table)).Scan(&columns).Error; err != nil || len(columns) == 0 {
		return nil, 0, errors.Join(errors.New("the table is not there"), err)
	}
	lost = byHalves(db, table, func(low, high int64) error {
		rows, err := read(low, high)
		out = append(out, rows...)
		return err
	})
	return out, lost, nil
}

// byHalves has all rows of a table read, or else by halves of their numbers: read appends the rows
// of a range only where all of them can be read. It returns how many cannot be, or countless.
func byHalves(db *gorm.DB, table string, read func(low, high int64) error) (lost int) {
	high := int64(1) // beyond which there is no row
	for ; high < mostSalvaged; high *= 2 {
		var beyond []int64
		if err := db.Raw(fmt.Sprintf("SELECT rowid FROM %q WHERE rowid > ? LIMIT 1", table), high).Scan(&beyond).Error; err == nil &&
			len(beyond) == 0 {
			break
		}
	}
	// The widest first, so that where nothing can be read the tries end soon.
	type span struct{ low, high int64 }
	todo := []span{{0, high}}
	for tries := 0; len(todo) > 0 && tries < mostTries; tries++ {
		at := todo[0]
		todo = todo[1:]
		err := read(at.low, at.high)
		switch {
		case err == nil:
		case at.low == at.high:
			lost++
		default:
			middle := at.low + (at.high-at.low)/2
			todo = append(todo, span{at.low, middle}, span{middle + 1, at.high})
		}
	}
	if len(todo) > 0 {
		return countless
	}
	return lost
}

// findAll reads a table in an order; of a damaged one what can be read, to be looked at.
func findAll[T any](t Tx, table, order string) (all []T, err error) {
	if err = t.db.Order(order).Find(&all).Error; !isDamage(err) {
		return all, plain(err)
	}
	all = nil
	byHalves(t.db, table, func(low, high int64) error {
		var part []T
		err := t.db.Where("rowid BETWEEN ? AND ?", low, high).Order(order).Find(&part).Error
		if err == nil {
			all = append(all, part...)
		}
		return err
	})
	return all, nil
}

// lay puts rows into a table, of each the columns that are known here.
func lay(db *gorm.DB, table string, rows []map[string]any) error {
	var known []struct {
		Name    string
		Notnull bool
	}
	if err := db.Raw(fmt.Sprintf(`SELECT name, "notnull" FROM pragma_table_info(%q)`, table)).Scan(&known).Error; err != nil {
		return err
	}
	for _, row := range rows {
		var names, marks []string
		var values []any
		for _, c := range known {
			v, there := row[c.Name]
			if !there {
				continue
			}
			if b, is := v.([]byte); c.Notnull && (v == nil || is && len(b) == 0) {
				v = []byte{} // an empty document is read as none
			}
			names, marks, values = append(names, fmt.Sprintf("%q", c.Name)), append(marks, "?"), append(values, v)
		}
		q := fmt.Sprintf("INSERT OR REPLACE INTO %q (%s) VALUES (%s)", table, strings.Join(names, ", "), strings.Join(marks, ", "))
		if err := db.Exec(q, values...).Error; err != nil {
			return err
		}
	}
	return nil
}

// dropOrphans takes away rows whose owners could not be read.
func dropOrphans(db *gorm.DB, tables []string) error {
	for range len(tables) { // one's going may leave another's
		var rows []struct {
			Table string
			Rowid *int64
		}
		if err := db.Raw(`SELECT "table", rowid FROM pragma_foreign_key_check`).Scan(&rows).Error; err != nil {
			return err
		}
		if len(rows) == 0 {
			return nil
		}
		for _, r := range rows {
			if r.Rowid == nil || !slices.Contains(tables, r.Table) {
				continue
			}
			if err := db.Exec(fmt.Sprintf("DELETE FROM %q WHERE rowid = ?", r.Table), *r.Rowid).Error; err != nil {
				return err
			}
		}
	}
	return nil
}
