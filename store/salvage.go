package store

import (
	"cmp"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"maps"
	"math"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"github.com/go-gormigrate/gormigrate/v2"
	"gorm.io/gorm"

	"lampfern/core/words"
	"lampfern/store/pages"
)

// Salvage copies what can be read of a damaged data folder into another in which nothing is: the rows of
// its database, read page by page, and every file that is what its name says. Who may come in is left
// behind, and every link is withdrawn. The damaged folder is only read. Report tells what came along, and
// what did not.
func Salvage(ctx context.Context, from, to string) (r Report, err error) {
	if err := vacant(to); err != nil {
		return r, err
	}
	file, closeFile, err := damagedFile(filepath.Join(from, FileName))
	if err != nil {
		return r, err
	}
	defer closeFile()
	found, err := salvageRows(ctx, file, to)
	if err != nil {
		return r, err
	}
	wrong := found.sentences()
	s, err := Open(to)
	if err != nil {
		return r, err
	}
	defer s.Close()
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

// damagedFile opens a database and its log to be read page by page.
func damagedFile(path string) (f *pages.File, closeFile func(), err error) {
	db, err := os.Open(path)
	if err != nil {
		return nil, nil, fmt.Errorf("%s holds no database, or an empty one: there is nothing to save but its photos", filepath.Dir(path))
	}
	log, err := os.Open(path + "-wal")
	closeFile = func() {
		_ = db.Close() // both were only read
		if log != nil {
			_ = log.Close()
		}
	}
	size := func(f *os.File) int64 {
		if info, err := f.Stat(); err == nil {
			return info.Size()
		}
		return 0
	}
	if err != nil {
		f, err = pages.Open(db, size(db), nil, 0)
	} else {
		f, err = pages.Open(db, size(db), log, size(log))
	}
	if err != nil {
		closeFile()
		return nil, nil, fmt.Errorf("%s holds no database, or an empty one: there is nothing to save but its photos", filepath.Dir(path))
	}
	return f, closeFile, nil
}

// salvaged is what became of the rows of a damaged database, by table.
type salvaged struct {
	lost      map[string][]pages.Loss
	uncertain map[string][]string  // rows found where nothing points any more, by name where they have one
	refused   map[string][]refusal // rows that were read and cannot be laid down
	unknown   int                  // rows whose table cannot be told
	renamed   []string             // plans whose name and craft are lost
	log       int                  // damaged pages of the log
}

// refusal is a row that cannot be laid down, and why.
type refusal struct {
	id  int64
	why string
}

// salvageRows makes a database in a folder and lays into it what can be read of a damaged one. It is of
// the version that the damaged one was of; to open it is to bring it up to date.
func salvageRows(ctx context.Context, file *pages.File, to string) (out salvaged, err error) {
	out = salvaged{lost: map[string][]pages.Loss{}, uncertain: map[string][]string{}, refused: map[string][]refusal{}, log: file.LogLost}
	if err := writable(to); err != nil {
		return out, err
	}
	roots := rootsOf(file)
	db, err := open(filepath.Join(to, FileName), "_pragma=journal_mode(WAL)&_pragma=synchronous(FULL)", 1)
	if err != nil {
		return out, err
	}
	defer func() {
		if pool, e := db.DB(); e == nil {
			err = errors.Join(err, pool.Close())
		}
	}()
	if err := migrateTo(db, versionOf(file, roots["migrations"])); err != nil {
		return out, plain(err)
	}
	shapes, err := shapesOf(db)
	if err != nil {
		return out, plain(err)
	}
	err = db.WithContext(ctx).Connection(func(db *gorm.DB) error {
		if err := db.Exec("PRAGMA foreign_keys = OFF").Error; err != nil {
			return err
		}
		defer db.Exec("PRAGMA foreign_keys = ON")
		return db.Transaction(func(tx *gorm.DB) error {
			l := layer{ctx, tx, &out, map[string]map[int64]bool{}}
			if err := l.trees(file, roots, shapes); err != nil {
				return err
			}
			if err := l.headers(); err != nil {
				return err
			}
			return l.orphans(shapes)
		})
	})
	return out, plain(err)
}

// rootsOf are the first pages of the tables, as the schema tells them; where a part of it cannot be
// reached, as its rows lie.
func rootsOf(file *pages.File) map[string]uint32 {
	out := map[string]uint32{}
	take := func(r pages.Row) {
		root, _ := r.Values[3].(int64)
		name, _ := r.Values[1].(string)
		if r.Values[0] == "table" && root > 1 && root <= math.MaxUint32 && out[name] == 0 {
			out[name] = uint32(root)
		}
	}
	whole := true
	file.Walk(1, isSchema, take, func(pages.Loss) { whole = false })
	if !whole {
		file.Scan(func(rows []pages.Row) {
			for _, r := range rows {
				if isSchema(r.Values) {
					take(r)
				}
			}
		})
	}
	return out
}

// isSchema reports whether values are those of a row of the schema.
func isSchema(v []any) bool {
	if len(v) != 5 || v[0] != "table" && v[0] != "index" && v[0] != "trigger" && v[0] != "view" {
		return false
	}
	_, named := v[1].(string)
	_, of := v[2].(string)
	_, at := v[3].(int64)
	return named && of && at
}

// versionOf is the number of the newest migration that a damaged database had, the newest of all where
// that cannot be told.
func versionOf(file *pages.File, root uint32) (last string) {
	newest := migrations[len(migrations)-1].ID
	if root == 0 {
		return newest
	}
	known := func(v []any) bool {
		return len(v) == 1 && slices.ContainsFunc(migrations, func(m *gormigrate.Migration) bool { return m.ID == v[0] })
	}
	whole := true
	file.Walk(root, known, func(r pages.Row) { last = max(last, r.Values[0].(string)) }, func(pages.Loss) { whole = false })
	if !whole || last == "" {
		return newest
	}
	return last
}

// shape is what the rows of a table look like.
type shape struct {
	table   string
	columns []column
	laid    bool // its rows are laid down, for it is none of who may come in and none made from others
	lost    bool // of a damaged database: some of its tree is lost
}

type column struct {
	Name, Type string
	Notnull    bool
	Pk         int
}

// shapesOf are the tables of a database, with those that SQLite makes from others.
func shapesOf(db *gorm.DB) (out []*shape, err error) {
	laid, err := tablesOf(db)
	if err != nil {
		return nil, err
	}
	var all []string
	q := "SELECT name FROM sqlite_master WHERE type = 'table' AND rootpage > 0 AND sql NOT LIKE '%WITHOUT ROWID' ORDER BY rowid"
	if err := db.Raw(q).Scan(&all).Error; err != nil {
		return nil, err
	}
	for _, name := range all {
		s := &shape{table: name, laid: slices.Contains(laid, name) && name != "sessions" && name != "passphrase"}
		if err := db.Raw(fmt.Sprintf(`SELECT name, type, "notnull", pk FROM pragma_table_info(%q)`, name)).Scan(&s.columns).Error; err != nil {
			return nil, err
		}
		out = append(out, s)
	}
	return out, nil
}

// alias reports whether a column is the number of its row, which is kept beside it.
func (s *shape) alias(c column) bool {
	return c.Pk == 1 && c.Type == "INTEGER" && !slices.ContainsFunc(s.columns, func(o column) bool { return o.Pk > 1 })
}

// fits reports whether values can be a row of the table: as many as it has columns, or fewer where it got
// some since, each of what its column holds.
func (s *shape) fits(v []any) bool {
	if len(v) > len(s.columns) || len(v) == 0 {
		return false
	}
	for i, c := range s.columns[:len(v)] {
		switch of := v[i].(type) {
		case nil:
			if c.Notnull {
				return false
			}
		case int64:
			if s.alias(c) || c.Type != "INTEGER" && c.Type != "REAL" && c.Type != "" {
				return false
			}
		case float64:
			if c.Type != "REAL" && c.Type != "" {
				return false
			}
		case []byte:
			if c.Type != "BLOB" && c.Type != "" {
				return false
			}
		case string:
			if c.Type != "TEXT" && c.Type != "text" && c.Type != "" && (c.Type != "DATETIME" || len(of) < 19 || of[4] != '-') ||
				strings.ContainsRune(of, 0) {
				return false
			}
		}
	}
	return true
}

// layer lays rows into a database.
type layer struct {
	ctx context.Context
	db  *gorm.DB
	out *salvaged
	has map[string]map[int64]bool // numbers of the rows that were laid, by table
}

// trees lays down the rows that lie in a tree of their table, and then, of tables whose tree is damaged,
// those of trees that nothing points to any more.
func (l layer) trees(file *pages.File, roots map[string]uint32, shapes []*shape) (err error) {
	for _, s := range shapes {
		l.has[s.table] = map[int64]bool{}
		if roots[s.table] == 0 {
			s.lost = true
			continue
		}
		file.Walk(roots[s.table], s.fits, func(r pages.Row) {
			if err == nil {
				err = l.lay(s, r, false)
			}
		}, func(lost pages.Loss) {
			s.lost = true
			if s.laid {
				l.out.lost[s.table] = append(l.out.lost[s.table], lost)
			}
		})
		if err := errors.Join(err, l.ctx.Err()); err != nil {
			return err
		}
	}
	shapes = slices.DeleteFunc(slices.Clone(shapes), func(s *shape) bool { return !s.lost })
	if len(shapes) == 0 {
		return nil
	}
	for _, root := range file.Loose() {
		rows := file.Rows(root)
		s := ofShape(rows, shapes)
		for _, r := range rows {
			switch {
			case isSchema(r.Values):
			case s == nil:
				l.out.unknown++
			case s.fits(r.Values):
				if err := l.lay(s, r, true); err != nil {
					return err
				}
			}
		}
		if err := l.ctx.Err(); err != nil {
			return err
		}
	}
	return nil
}

// ofShape is the table that rows found by themselves are of: the one that most of them fit, and of those
// the one with as many columns. It is nil where that is none, or several.
func ofShape(rows []pages.Row, shapes []*shape) (best *shape) {
	most := 0
	for _, s := range shapes {
		n := 0
		for _, r := range rows {
			if s.fits(r.Values) {
				n += 2
				if len(r.Values) == len(s.columns) {
					n++
				}
			}
		}
		switch {
		case n > most:
			best, most = s, n
		case n == most:
			best = nil
		}
	}
	return best
}

// lay puts a row into its table. One that the database refuses is named with why.
func (l layer) lay(s *shape, r pages.Row, loose bool) error {
	if !s.laid || loose && l.has[s.table][r.ID] {
		return nil
	}
	names, marks, values := []string{"rowid"}, []string{"?"}, []any{r.ID}
	called := ""
	for i, v := range r.Values {
		c := s.columns[i]
		if c.Name == "doc" && s.table == "sections" {
			if doc, is := v.([]byte); is && len(doc) > 0 && !json.Valid(doc) {
				l.refuse(s, r, "what they hold is damaged")
				return nil
			}
		}
		if c.Name == "name" && (s.table == "materials" || s.table == "plans" || s.table == "photos") {
			called, _ = v.(string)
		}
		if s.alias(c) {
			continue
		}
		names, marks, values = append(names, fmt.Sprintf("%q", c.Name)), append(marks, "?"), append(values, v)
	}
	if s.table == "sheets" { // no link comes back
		for i, c := range s.columns[:len(r.Values)] {
			if c.Name == "withdrawn_at" && r.Values[i] == nil {
				values[slices.Index(names, `"withdrawn_at"`)] = time.Now().UTC()
			}
		}
	}
	verb := "INSERT"
	if s.table == "counters" { // one is there from the start
		verb = "INSERT OR REPLACE"
	}
	q := fmt.Sprintf("%s INTO %q (%s) VALUES (%s)", verb, s.table, strings.Join(names, ", "), strings.Join(marks, ", "))
	err := l.db.Exec(q, values...).Error
	var trouble *Trouble
	switch {
	case err == nil:
	case errors.As(plain(err), &trouble):
		return err
	case loose: // a tree holds its key
		return nil
	case errors.Is(err, gorm.ErrDuplicatedKey):
		l.refuse(s, r, "others have their name or number")
		return nil
	default:
		l.refuse(s, r, "the database accepts no such rows")
		return nil
	}
	l.has[s.table][r.ID] = true
	if loose {
		l.out.uncertain[s.table] = append(l.out.uncertain[s.table], cmp.Or(called, fmt.Sprint(r.ID)))
	}
	return nil
}

func (l layer) refuse(s *shape, r pages.Row, why string) {
	l.out.refused[s.table] = append(l.out.refused[s.table], refusal{r.ID, why})
}

// headers gives plans whose header is lost, and of which stages came along, a new one.
func (l layer) headers() error {
	if l.has["sections"] == nil { // a database of before plans had stages
		return nil
	}
	var lost []int64
	if err := l.db.Raw("SELECT DISTINCT plan_id FROM sections WHERE plan_id NOT IN (SELECT id FROM plans)").Scan(&lost).Error; err != nil {
		return err
	}
	for _, id := range lost {
		name := fmt.Sprintf("Saved plan %d", id)
		now := time.Now().UTC()
		if err := l.db.Exec("INSERT INTO plans (id, name, craft, created_at, updated_at) VALUES (?, ?, '', ?, ?)", id, name, now,
			now).Error; err != nil {
			return err
		}
		l.out.renamed = append(l.out.renamed, name)
	}
	return nil
}

// orphans takes away rows that belong to one which could not be read, and names them.
func (l layer) orphans(shapes []*shape) error {
	for range shapes { // one's going may leave another's
		var rows []struct {
			Table, Parent string
			Rowid         *int64
		}
		if err := l.db.Raw(`SELECT "table", parent, rowid FROM pragma_foreign_key_check`).Scan(&rows).Error; err != nil {
			return err
		}
		if len(rows) == 0 {
			return nil
		}
		for _, r := range rows {
			if r.Rowid == nil || !l.has[r.Table][*r.Rowid] {
				continue
			}
			delete(l.has[r.Table], *r.Rowid)
			if err := l.db.Exec(fmt.Sprintf("DELETE FROM %q WHERE rowid = ?", r.Table), *r.Rowid).Error; err != nil {
				return err
			}
			l.out.refused[r.Table] = append(l.out.refused[r.Table],
				refusal{*r.Rowid, "what they belong to, of the " + called(r.Parent) + ", is lost"})
		}
	}
	return nil
}

// mostNamed is how many rows a sentence names.
const mostNamed = 20

// sentences tell what of a damaged database did not come along, or is uncertain.
func (s salvaged) sentences() (out []string) {
	list := func(all []string) string {
		if n := len(all) - mostNamed; n > 0 {
			return strings.Join(all[:mostNamed], ", ") + fmt.Sprintf(" and %d more", n)
		}
		return strings.Join(all, ", ")
	}
	for _, table := range slices.Sorted(maps.Keys(s.lost)) {
		but := ""
		if len(s.uncertain[table]) > 0 {
			but = ", except those listed as uncertain"
		}
		out = append(out, fmt.Sprintf("Of the %s, pages are damaged; these rows cannot be read%s: %s.", called(table), but,
			list(spans(s.lost[table]))))
	}
	for _, table := range slices.Sorted(maps.Keys(s.refused)) {
		by := map[string][]pages.Loss{}
		for _, r := range s.refused[table] {
			by[r.why] = append(by[r.why], pages.Loss{Low: r.id, High: r.id})
		}
		for _, why := range slices.Sorted(maps.Keys(by)) {
			out = append(out, fmt.Sprintf("Of the %s, these rows cannot be saved, because %s: %s.", called(table), why, list(spans(by[why]))))
		}
	}
	for _, table := range slices.Sorted(maps.Keys(s.uncertain)) {
		out = append(out,
			fmt.Sprintf("Of the %s, these rows are uncertain: nothing points to them any more, and they may be older than the rest: %s.",
				called(table), list(s.uncertain[table])))
	}
	if len(s.renamed) > 0 {
		out = append(out, fmt.Sprintf("The name and craft of some plans are lost; they are called %s.", list(s.renamed)))
	}
	if s.unknown > 0 {
		out = append(out, fmt.Sprintf("%s found whose table is unknown; left out.", words.Plural(s.unknown, "row was", "rows were")))
	}
	if s.log > 0 {
		out = append(out, fmt.Sprintf("%s of the newest changes cannot be read: what they changed is as it was before.",
			words.Plural(s.log, "page", "pages")))
	}
	return out
}

// spans are the numbers of lost rows in words, those that follow one another together.
func spans(all []pages.Loss) (out []string) {
	all = slices.SortedFunc(slices.Values(all), func(a, b pages.Loss) int {
		return cmp.Or(cmp.Compare(a.Low, b.Low), cmp.Compare(a.High, b.High))
	})
	for i := 0; i < len(all); {
		l := all[i]
		for i++; i < len(all) && all[i].Low <= max(l.High, l.High+1); i++ {
			l.High = max(l.High, all[i].High)
		}
		switch {
		case l.Low == 0 && l.High == 0:
			out = append(out, "some whose number is damaged")
		case l.Low == l.High:
			out = append(out, fmt.Sprint(l.Low))
		case l.Low <= 1 && l.High == math.MaxInt64:
			out = append(out, "all of them")
		case l.Low <= 1:
			out = append(out, fmt.Sprintf("up to %d", l.High))
		case l.High == math.MaxInt64:
			out = append(out, fmt.Sprintf("from %d on", l.Low))
		default:
			out = append(out, fmt.Sprintf("%d to %d", l.Low, l.High))
		}
	}
	return out
}

// called is a table in a maker's words.
func called(table string) string {
	switch table {
	case "journal", "changes":
		return "steps of undo"
	case "sections":
		return "stages of plans"
	case "colours":
		return "colours of materials"
	case "uploads":
		return "lists being imported"
	case "recipes":
		return "recipes of ramps"
	case "mixes":
		return "records of mixes"
	case "sheets":
		return "sheets for clients"
	case "diary":
		return "pages of the diary"
	case "let_go":
		return "deleted files"
	}
	return table
}

// vacant refuses a folder in which a workroom, or part of one, is.
func vacant(dir string) error {
	for _, name := range []string{FileName, photoFolder, modelFolder} {
		if _, err := os.Stat(filepath.Join(dir, name)); err == nil {
			return fmt.Errorf("%s holds a workroom already, or part of one, and none is ever overwritten: choose another folder with --data, or move that one first", dir)
		}
	}
	return nil
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

// mostSalvaged bounds the numbers of the rows of one table that are looked for.
const mostSalvaged = int64(1) << 40

// mostTries bounds the reads of one table of which much is damaged; how many of its rows are lost
// is not known then.
const (
	mostTries = 40_000
	countless = -1
)

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
