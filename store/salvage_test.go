package store

import (
	"bytes"
	"context"
	"encoding/binary"
	"fmt"
	"math/rand/v2"
	"os"
	"path/filepath"
	"reflect"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/store/pages"
)

// workroom is a data folder with rows of every length: some on one page, some over several, some gone
// again; the newest lie in the log, which is left as a kill would leave it.
func workroom(t *testing.T) (db, log []byte) {
	t.Helper()
	ctx := context.Background()
	dir := t.TempDir()
	s, err := Open(dir)
	require.NoError(t, err)
	defer s.Close()
	r := rand.New(rand.NewPCG(7, 7))
	long := func(n int) string { return strings.Repeat("a long remark ", n/14+1)[:n] }
	put := func(from, n int) {
		require.NoError(t, s.Write(ctx, func(tx Tx) error {
			var many []Material
			for i := range n {
				many = append(many, Material{Name: fmt.Sprintf("cloth %d", from+i), Kind: "fabric", Finish: "matte", Source: "typed",
					L: float64(i % 100), Uncertainty: 3, Remark: long(r.IntN(900)), Lots: []Lot{{Name: "a", OnHand: 2, Unit: "m"}}})
			}
			return tx.PutMaterials(many)
		}))
	}
	put(0, 600)
	for i := range 51 {
		p := Plan{Name: fmt.Sprintf("plan %d", i), Craft: "quilt"}
		var sections []Section
		for _, stage := range []string{"tray", "brief", "piece", "mix"} {
			sections = append(sections, Section{Name: stage, Version: 1, Doc: []byte(`{"said":"` + long(r.IntN(9000)) + `"}`)})
		}
		require.NoError(t, s.Write(ctx, func(tx Tx) error { return tx.AddPlan(&p, sections) }))
		require.NoError(t, s.Write(ctx, func(tx Tx) error {
			was := p
			p.Name += " again"
			return tx.SavePlan(&p, was, sections[:1], []Section{{Name: "tray", Version: 1, Doc: []byte(`{"said":"less"}`)}}, "change it")
		}))
	}
	require.NoError(t, s.Write(ctx, func(tx Tx) error { return tx.SetPassphrase("a hash") }))
	require.NoError(t, s.Write(ctx, func(tx Tx) error {
		return tx.PutSession(Session{ID: "whoever", MadeAt: time.Now(), EndsAt: time.Now().Add(time.Hour)})
	}))
	require.NoError(t, s.Write(ctx, func(tx Tx) error {
		return tx.PutSheet(&Sheet{PlanID: 1, Number: 1, Token: "a link", Doc: []byte(`{}`),
			MadeAt: time.Now(), EndsAt: time.Now().Add(time.Hour)})
	}))
	require.NoError(t, s.writer.Exec("DELETE FROM materials WHERE id BETWEEN 200 AND 330").Error)
	require.NoError(t, s.writer.Exec("PRAGMA wal_checkpoint(TRUNCATE)").Error)
	put(1000, 40) // these lie in the log
	db, err = os.ReadFile(filepath.Join(dir, FileName))
	require.NoError(t, err)
	log, err = os.ReadFile(filepath.Join(dir, FileName+"-wal"))
	require.NoError(t, err)
	return db, log
}

// key is a row by its table and number.
type key struct {
	table string
	id    int64
}

// rowsByKey reads every row that a salvage is to bring, with the pages it lies on.
func rowsByKey(t *testing.T, db, log []byte) map[key]pages.Row {
	t.Helper()
	f, err := pages.Open(bytes.NewReader(db), int64(len(db)), bytes.NewReader(log), int64(len(log)))
	require.NoError(t, err)
	s := opened(t)
	shapes, err := shapesOf(s.reader)
	require.NoError(t, err)
	roots, out := rootsOf(f), map[key]pages.Row{}
	for _, sh := range shapes {
		require.NotZero(t, roots[sh.table], sh.table)
		f.Walk(roots[sh.table], sh.fits, func(r pages.Row) {
			if sh.laid {
				out[key{sh.table, r.ID}] = r
			}
		}, func(l pages.Loss) { t.Errorf("%s %v", sh.table, l) })
	}
	return out
}

const page = 4096

// damage is one way in which a file comes to harm.
type damage struct {
	name string
	// do harms a database and its log, and returns the pages that are not whole any more.
	do func(r *rand.Rand, db, log []byte) (harmed, harmedLog []byte, bad map[uint32]bool)
}

// pageOf is where a page begins whose rows or pointers are of a table: of a type, holding a text.
func pagesOf(db []byte, kind byte, text string) (out []int) {
	for at := page; at < len(db); at += page {
		if db[at] == kind && bytes.Contains(db[at:at+page], []byte(text)) {
			out = append(out, at)
		}
	}
	return out
}

func damages() (out []damage) {
	// alone harms a database whose log was laid into it: else its first page is read from the log.
	alone := func(n int, name string, do func(r *rand.Rand, db []byte) map[uint32]bool) {
		for range n {
			out = append(out, damage{name, func(r *rand.Rand, db, _ []byte) ([]byte, []byte, map[uint32]bool) { return db, nil, do(r, db) }})
		}
	}
	add := func(n int, name string, do func(r *rand.Rand, db []byte) map[uint32]bool) {
		for range n {
			out = append(out, damage{name, func(r *rand.Rand, db, log []byte) ([]byte, []byte, map[uint32]bool) { return db, log, do(r, db) }})
		}
	}
	one := func(at int) map[uint32]bool { return map[uint32]bool{uint32(at/page) + 1: true} }
	anyPage := func(r *rand.Rand, db []byte) int { return page * (1 + r.IntN(len(db)/page-1)) }
	add(12, "a few bits of a page", func(r *rand.Rand, db []byte) map[uint32]bool {
		at := anyPage(r, db)
		for range 6 {
			db[at+r.IntN(page)] ^= 1 << r.IntN(8)
		}
		return one(at)
	})
	add(6, "bits of the head of a page", func(r *rand.Rand, db []byte) map[uint32]bool {
		at := anyPage(r, db)
		db[at+r.IntN(12)] ^= 1 << r.IntN(8)
		return one(at)
	})
	add(8, "64 bytes of a page", func(r *rand.Rand, db []byte) map[uint32]bool {
		at := anyPage(r, db)
		for i, from := 0, r.IntN(page-64); i < 64; i++ {
			db[at+from+i] = byte(r.Uint32())
		}
		return one(at)
	})
	add(8, "a page of noughts", func(r *rand.Rand, db []byte) map[uint32]bool {
		at := anyPage(r, db)
		clear(db[at : at+page])
		return one(at)
	})
	add(6, "three pages of nonsense", func(r *rand.Rand, db []byte) map[uint32]bool {
		bad := map[uint32]bool{}
		for range 3 {
			at := anyPage(r, db)
			for i := range page {
				db[at+i] = byte(r.Uint32())
			}
			bad[uint32(at/page)+1] = true
		}
		return bad
	})
	alone(4, "the header", func(r *rand.Rand, db []byte) map[uint32]bool {
		for i := range 100 {
			db[i] = byte(r.Uint32())
		}
		return nil
	})
	alone(2, "the first page", func(r *rand.Rand, db []byte) map[uint32]bool {
		clear(db[:page])
		return one(0)
	})
	alone(3, "the list of free pages", func(r *rand.Rand, db []byte) map[uint32]bool {
		binary.BigEndian.PutUint32(db[32:], r.Uint32N(uint32(len(db)/page)))
		return nil
	})
	alone(2, "a letter of a trigger", func(r *rand.Rand, db []byte) map[uint32]bool {
		at := bytes.Index(db, []byte("AFTER INSERT ON diary"))
		db[at+r.IntN(5)] ^= 2
		return nil // its page has only the schema, whose rows are all whole
	})
	alone(2, "the name of a table", func(r *rand.Rand, db []byte) map[uint32]bool {
		at := bytes.Index(db, []byte("sectionssections"))
		db[at] = 'z'
		return nil
	})
	alone(3, "an inner page", func(r *rand.Rand, db []byte) map[uint32]bool {
		all := pagesOf(db, 5, "")
		at := all[r.IntN(len(all))]
		clear(db[at : at+page])
		return one(at)
	})
	alone(3, "the root of a table", func(r *rand.Rand, db []byte) map[uint32]bool {
		f, _ := pages.Open(bytes.NewReader(db), int64(len(db)), nil, 0)
		at := int(rootsOf(f)[[]string{"sections", "materials", "journal"}[r.IntN(3)]]-1) * page
		for i := range page {
			db[at+i] = byte(r.Uint32())
		}
		return one(at)
	})
	add(2, "an impossible row", func(r *rand.Rand, db []byte) map[uint32]bool {
		at := bytes.Index(db, []byte("plan 30 again"))
		copy(db[at:], "plan 31 \x00\xffain")
		return one(at)
	})
	for range 4 {
		out = append(out, damage{"cut off", func(r *rand.Rand, db, log []byte) ([]byte, []byte, map[uint32]bool) {
			at := len(db)/3 + r.IntN(len(db)/3)
			bad := map[uint32]bool{}
			for n := at / page; n <= len(db)/page; n++ {
				bad[uint32(n)+1] = true
			}
			return db[:at], log, bad
		}}, damage{"a frame of the log", func(r *rand.Rand, db, log []byte) ([]byte, []byte, map[uint32]bool) {
			frames := (len(log) - 32) / (24 + page)
			at := 32 + r.IntN(frames)*(24+page)
			log[at+24+r.IntN(page)] ^= 1
			return db, log, map[uint32]bool{binary.BigEndian.Uint32(log[at:]): true}
		}})
	}
	for range 2 {
		out = append(out, damage{"the head of the log", func(r *rand.Rand, db, log []byte) ([]byte, []byte, map[uint32]bool) {
			for i := range 32 {
				log[i] = byte(r.Uint32())
			}
			return db, log, nil
		}})
	}
	return out
}

// A database that came to harm gives up every row whose pages are whole, or says why not; nobody comes in
// by what was saved.
func TestSalvageOfSixtyDamages(t *testing.T) {
	db, log := workroom(t)
	withLog, withoutLog := rowsByKey(t, db, log), rowsByKey(t, db, nil)
	all := damages()
	require.GreaterOrEqual(t, len(all), 60)
	if testing.Short() {
		all = slices.Collect(func(yield func(damage) bool) {
			for i := 0; i < len(all) && yield(all[i]); i += 9 {
			}
		})
	}
	for i, d := range all {
		t.Run(fmt.Sprintf("%02d %s", i, d.name), func(t *testing.T) {
			from, to := t.TempDir(), filepath.Join(t.TempDir(), "saved")
			db, log, bad := d.do(rand.New(rand.NewPCG(uint64(i), 1)), slices.Clone(db), slices.Clone(log))
			require.NoError(t, os.WriteFile(filepath.Join(from, FileName), db, 0o600))
			was := withoutLog
			if log != nil {
				was = withLog
				require.NoError(t, os.WriteFile(filepath.Join(from, FileName+"-wal"), log, 0o600))
			}
			file, closeFile, err := damagedFile(filepath.Join(from, FileName))
			require.NoError(t, err)
			defer closeFile()
			found, err := salvageRows(context.Background(), file, to)
			require.NoError(t, err)
			s, err := Open(to)
			require.NoError(t, err)
			r, err := s.Check(context.Background())
			require.NoError(t, err)
			assert.True(t, r.Good(), "%v", r.Wrong)
			hash, err := s.Read(context.Background()).Passphrase()
			require.NoError(t, err)
			in, err := s.Read(context.Background()).Sessions(time.Now())
			require.NoError(t, err)
			assert.Empty(t, in)
			assert.Empty(t, hash)
			var open int
			require.NoError(t, s.reader.Raw("SELECT count(*) FROM sheets WHERE withdrawn_at IS NULL").Scan(&open).Error)
			assert.Zero(t, open)
			require.NoError(t, s.Close())
			saved, err := os.ReadFile(filepath.Join(to, FileName))
			require.NoError(t, err)
			is := rowsByKey(t, saved, nil)
			whole, back, listed, missed := 0, 0, 0, []key{}
			for k, row := range was {
				if slices.ContainsFunc(row.Pages, func(n uint32) bool { return bad[n] }) {
					continue
				}
				whole++
				switch {
				case k.table == "sheets" && is[k].ID == k.id, reflect.DeepEqual(is[k].Values, row.Values):
					back++
				case listedIn(found, k):
					listed++
				default:
					missed = append(missed, k)
				}
			}
			assert.Empty(t, missed, "whole, and neither back nor listed")
			uncertain := 0
			for _, all := range found.uncertain {
				uncertain += len(all)
			}
			if extra := len(is) - len(was); extra > 0 {
				assert.LessOrEqual(t, extra, uncertain, "what was deleted comes back as uncertain alone")
			}
			t.Logf("%-27s %4d rows, %4d on whole pages: %4d came back, %3d are listed with why; %3d are uncertain; %s", d.name, len(was), whole,
				back, listed, uncertain, strings.Join(found.sentences(), " ")[:min(200, len(strings.Join(found.sentences(), " ")))])
		})
	}
}

// listedIn reports whether a row is told of as lost.
func listedIn(s salvaged, k key) bool {
	return slices.ContainsFunc(s.lost[k.table], func(l pages.Loss) bool { return l.Low <= k.id && k.id <= l.High }) ||
		slices.ContainsFunc(s.refused[k.table], func(r refusal) bool { return r.id == k.id })
}

// A workroom whose database SQLite takes for none, or for another's, is not touched; what can be done is
// said at the start.
func TestAStartThatFailsSaysWhatToDo(t *testing.T) {
	db, _ := workroom(t)
	dir := t.TempDir()
	path := filepath.Join(dir, FileName)
	lay := func(harm func(db []byte)) {
		harmed := slices.Clone(db)
		harm(harmed)
		require.NoError(t, os.WriteFile(path, harmed, 0o600))
	}
	lay(func(db []byte) { clear(db[:16]) })
	s, err := Open(dir)
	require.NoError(t, err)
	assert.True(t, s.Damaged(), "its pages say how to get it back")
	require.NoError(t, s.Close())
	r, err := Salvage(context.Background(), dir, filepath.Join(t.TempDir(), "saved"))
	require.NoError(t, err)
	assert.Equal(t, []int{469, 51}, []int{r.Materials, r.Plans})

	require.NoError(t, os.MkdirAll(filepath.Join(dir, backupFolder), 0o700))
	require.NoError(t, os.WriteFile(filepath.Join(dir, backupFolder, "lampfern-2026-01-02-030405.zip"), nil, 0o600))
	lay(func([]byte) {})
	other, err := open(path, "", 1)
	require.NoError(t, err)
	require.NoError(t, other.Exec("DROP TABLE migrations").Error)
	pool, err := other.DB()
	require.NoError(t, err)
	require.NoError(t, pool.Close())
	_, err = Open(dir)
	for _, said := range []string{"Nothing was changed", "lampfern-2026-01-02-030405.zip", "lampfern restore", "lampfern salvage --data " + dir} {
		assert.ErrorContains(t, err, said)
	}
	lay(func(db []byte) { clear(db) }) // nothing of it is left: the backup is named all the same
	_, err = Open(dir)
	assert.ErrorContains(t, err, "not a Lamp Fern database")
	assert.ErrorContains(t, err, "lampfern-2026-01-02-030405.zip")
}
