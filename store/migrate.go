package store

import (
	"github.com/go-gormigrate/gormigrate/v2"
	"gorm.io/gorm"
)

// migrations are numbered, never edited once released, and run inside one
// transaction; a database with a number unknown here is refused.
var migrations = []*gormigrate.Migration{
	{ID: "0001", Migrate: run(
		`CREATE TABLE materials (
			id INTEGER PRIMARY KEY,
			name TEXT NOT NULL,
			kind TEXT NOT NULL,
			reference TEXT NOT NULL DEFAULT '',
			supplier TEXT NOT NULL DEFAULT '',
			lot TEXT NOT NULL DEFAULT '',
			finish TEXT NOT NULL DEFAULT '',
			l REAL NOT NULL, a REAL NOT NULL, b REAL NOT NULL,
			source TEXT NOT NULL,
			uncertainty REAL NOT NULL,
			discontinued INTEGER NOT NULL DEFAULT 0,
			remark TEXT NOT NULL DEFAULT '',
			removed INTEGER NOT NULL DEFAULT 0,
			revision INTEGER NOT NULL DEFAULT 1,
			created_at DATETIME, updated_at DATETIME)`,
		`CREATE UNIQUE INDEX materials_name ON materials(name COLLATE NOCASE) WHERE removed = 0`,
		`CREATE TABLE plans (
			id INTEGER PRIMARY KEY,
			name TEXT NOT NULL,
			craft TEXT NOT NULL DEFAULT '',
			purpose TEXT NOT NULL DEFAULT '',
			scheme TEXT NOT NULL DEFAULT '',
			neighbours INTEGER NOT NULL DEFAULT 0,
			one_sided INTEGER NOT NULL DEFAULT 0,
			centred INTEGER NOT NULL DEFAULT 0,
			wide INTEGER NOT NULL DEFAULT 0,
			lead_id INTEGER REFERENCES materials(id),
			turn INTEGER NOT NULL DEFAULT 0,
			template TEXT NOT NULL DEFAULT '',
			settings TEXT NOT NULL DEFAULT '{}',
			dismissed TEXT NOT NULL DEFAULT '[]',
			put_away INTEGER NOT NULL DEFAULT 0,
			revision INTEGER NOT NULL DEFAULT 1,
			created_at DATETIME, updated_at DATETIME)`,
		`CREATE TABLE entries (
			plan_id INTEGER NOT NULL REFERENCES plans(id) ON DELETE CASCADE,
			key INTEGER NOT NULL,
			material_id INTEGER NOT NULL REFERENCES materials(id),
			position INTEGER NOT NULL,
			PRIMARY KEY (plan_id, key))`,
		`CREATE TABLE fills (
			plan_id INTEGER NOT NULL,
			part TEXT NOT NULL,
			entry_key INTEGER NOT NULL,
			PRIMARY KEY (plan_id, part),
			FOREIGN KEY (plan_id, entry_key) REFERENCES entries(plan_id, key) ON DELETE CASCADE)`,
		`CREATE TABLE journal (
			id INTEGER PRIMARY KEY,
			scope TEXT NOT NULL,
			label TEXT NOT NULL,
			before BLOB NOT NULL,
			after BLOB NOT NULL,
			undone INTEGER NOT NULL DEFAULT 0,
			created_at DATETIME)`,
		`CREATE INDEX journal_scope ON journal(scope, id)`,
		`CREATE TABLE uploads (
			id INTEGER PRIMARY KEY,
			name TEXT NOT NULL,
			content BLOB NOT NULL,
			created_at DATETIME)`,
		`CREATE TABLE counters (name TEXT PRIMARY KEY, n INTEGER NOT NULL)`,
		`INSERT INTO counters VALUES ('shelf', 1)`,
	)},
	{ID: "0002", Migrate: run(
		`CREATE TABLE photos (
			hash TEXT PRIMARY KEY,
			name TEXT NOT NULL,
			kind TEXT NOT NULL,
			width INTEGER NOT NULL,
			height INTEGER NOT NULL,
			created_at DATETIME)`,
		`CREATE TABLE scraps (
			plan_id INTEGER NOT NULL REFERENCES plans(id) ON DELETE CASCADE,
			key INTEGER NOT NULL,
			name TEXT NOT NULL,
			l REAL NOT NULL, a REAL NOT NULL, b REAL NOT NULL,
			uncertainty REAL NOT NULL,
			photo TEXT REFERENCES photos(hash),
			x REAL NOT NULL, y REAL NOT NULL, w REAL NOT NULL, h REAL NOT NULL,
			position INTEGER NOT NULL,
			PRIMARY KEY (plan_id, key))`,
	)},
	{ID: "0003", Migrate: run(
		`ALTER TABLE materials ADD COLUMN pack REAL NOT NULL DEFAULT 0`,
		`ALTER TABLE materials ADD COLUMN size TEXT NOT NULL DEFAULT ''`,
		`ALTER TABLE materials ADD COLUMN repeat REAL NOT NULL DEFAULT 0`,
		`CREATE TABLE lots (
			material_id INTEGER NOT NULL REFERENCES materials(id) ON DELETE CASCADE,
			position INTEGER NOT NULL,
			name TEXT NOT NULL,
			on_hand REAL NOT NULL,
			unit TEXT NOT NULL,
			price REAL NOT NULL,
			place TEXT NOT NULL,
			state TEXT NOT NULL,
			l REAL, a REAL, b REAL,
			PRIMARY KEY (material_id, position))`,
		`CREATE TABLE colours (
			material_id INTEGER NOT NULL REFERENCES materials(id) ON DELETE CASCADE,
			position INTEGER NOT NULL,
			role TEXT NOT NULL,
			l REAL NOT NULL, a REAL NOT NULL, b REAL NOT NULL,
			coverage REAL NOT NULL,
			PRIMARY KEY (material_id, position))`,
	)},
	{ID: "0004", Migrate: run(
		`ALTER TABLE materials ADD COLUMN photo TEXT REFERENCES photos(hash)`,
		`ALTER TABLE materials ADD COLUMN photo_x REAL NOT NULL DEFAULT 0`,
		`ALTER TABLE materials ADD COLUMN photo_y REAL NOT NULL DEFAULT 0`,
		`ALTER TABLE materials ADD COLUMN photo_w REAL NOT NULL DEFAULT 0`,
		`ALTER TABLE materials ADD COLUMN photo_h REAL NOT NULL DEFAULT 0`,
		`ALTER TABLE materials ADD COLUMN photo_wide REAL NOT NULL DEFAULT 0`,
	)},
	// A card of a palette may be a free colour, so that entries must be made
	// anew; fills go along, or dropping entries would empty them.
	{ID: "0005", Migrate: run(
		`CREATE TABLE entries_new (
			plan_id INTEGER NOT NULL REFERENCES plans(id) ON DELETE CASCADE,
			key INTEGER NOT NULL,
			material_id INTEGER REFERENCES materials(id),
			name TEXT NOT NULL DEFAULT '',
			l REAL NOT NULL DEFAULT 0, a REAL NOT NULL DEFAULT 0, b REAL NOT NULL DEFAULT 0,
			position INTEGER NOT NULL,
			PRIMARY KEY (plan_id, key))`,
		`INSERT INTO entries_new (plan_id, key, material_id, position) SELECT plan_id, key, material_id, position FROM entries`,
		`CREATE TABLE fills_new (
			plan_id INTEGER NOT NULL,
			part TEXT NOT NULL,
			entry_key INTEGER NOT NULL,
			PRIMARY KEY (plan_id, part),
			FOREIGN KEY (plan_id, entry_key) REFERENCES entries_new(plan_id, key) ON DELETE CASCADE)`,
		`INSERT INTO fills_new SELECT plan_id, part, entry_key FROM fills`,
		`DROP TABLE fills`,
		`DROP TABLE entries`,
		`ALTER TABLE entries_new RENAME TO entries`,
		`ALTER TABLE fills_new RENAME TO fills`,
		`ALTER TABLE plans ADD COLUMN lead_key INTEGER NOT NULL DEFAULT 0`,
		`ALTER TABLE plans ADD COLUMN wheel TEXT NOT NULL DEFAULT ''`,
		`ALTER TABLE plans ADD COLUMN school TEXT NOT NULL DEFAULT ''`,
		`ALTER TABLE plans ADD COLUMN from_boldest INTEGER NOT NULL DEFAULT 0`,
		`ALTER TABLE plans ADD COLUMN nearest INTEGER NOT NULL DEFAULT 0`,
		`ALTER TABLE plans ADD COLUMN adjusted TEXT NOT NULL DEFAULT '[]'`,
		`ALTER TABLE plans ADD COLUMN wishes TEXT NOT NULL DEFAULT '[]'`,
		`ALTER TABLE plans ADD COLUMN combinations TEXT NOT NULL DEFAULT '[]'`,
		`ALTER TABLE plans ADD COLUMN brief TEXT NOT NULL DEFAULT '{}'`,
		`CREATE TABLE moods (
			position INTEGER PRIMARY KEY,
			name TEXT NOT NULL,
			words TEXT NOT NULL,
			limits TEXT NOT NULL)`,
	)},
	{ID: "0006", Migrate: run(
		`ALTER TABLE plans ADD COLUMN run TEXT NOT NULL DEFAULT '{}'`,
		`ALTER TABLE plans ADD COLUMN ramps TEXT NOT NULL DEFAULT '[]'`,
		`ALTER TABLE plans ADD COLUMN targets TEXT NOT NULL DEFAULT '[]'`,
		`CREATE TABLE recipes (
			position INTEGER PRIMARY KEY,
			recipe TEXT NOT NULL)`,
	)},
	{ID: "0007", Migrate: run(
		`ALTER TABLE plans ADD COLUMN flagged TEXT NOT NULL DEFAULT '[]'`,
		`ALTER TABLE plans ADD COLUMN laid TEXT NOT NULL DEFAULT '[]'`,
		`ALTER TABLE plans ADD COLUMN laid_by_share INTEGER NOT NULL DEFAULT 0`,
	)},
	{ID: "0008", Migrate: run(`ALTER TABLE plans ADD COLUMN colourways TEXT NOT NULL DEFAULT '[]'`)},
	{ID: "0009", Migrate: run(
		`ALTER TABLE plans ADD COLUMN own TEXT NOT NULL DEFAULT '{}'`,
		`ALTER TABLE plans ADD COLUMN pinned TEXT NOT NULL DEFAULT '[]'`,
		`ALTER TABLE plans ADD COLUMN groups TEXT NOT NULL DEFAULT '[]'`,
		`ALTER TABLE plans ADD COLUMN remarks TEXT NOT NULL DEFAULT '{}'`,
	)},
	{ID: "0010", Migrate: run("ALTER TABLE plans ADD COLUMN `references` TEXT NOT NULL DEFAULT '[]'")},
	{ID: "0011", Migrate: toDocuments},
	{ID: "0012", Migrate: run(
		`CREATE TABLE mixes (
			id INTEGER PRIMARY KEY,
			made_at DATETIME NOT NULL,
			plan_id INTEGER REFERENCES plans(id) ON DELETE SET NULL,
			name TEXT NOT NULL,
			parts TEXT NOT NULL,
			basis TEXT NOT NULL,
			read_as TEXT NOT NULL,
			light TEXT NOT NULL,
			l REAL NOT NULL, a REAL NOT NULL, b REAL NOT NULL,
			kept_off INTEGER NOT NULL DEFAULT 0,
			remark TEXT NOT NULL)`,
	)},
	{ID: "0013", Migrate: run(
		`ALTER TABLE materials ADD COLUMN spectrum TEXT`,
		`ALTER TABLE materials ADD COLUMN dose TEXT NOT NULL DEFAULT '{}'`,
		`ALTER TABLE mixes ADD COLUMN way TEXT NOT NULL DEFAULT ''`,
		`ALTER TABLE mixes ADD COLUMN ground TEXT`,
		`ALTER TABLE mixes ADD COLUMN amount REAL NOT NULL DEFAULT 0`,
		`ALTER TABLE mixes ADD COLUMN unit TEXT NOT NULL DEFAULT ''`,
		`ALTER TABLE mixes ADD COLUMN additive TEXT NOT NULL DEFAULT ''`,
	)},
	{ID: "0014", Migrate: run(
		`CREATE TABLE purchases (
			id INTEGER PRIMARY KEY,
			plan_id INTEGER NOT NULL REFERENCES plans(id) ON DELETE CASCADE,
			row TEXT NOT NULL,
			name TEXT NOT NULL,
			material_id INTEGER REFERENCES materials(id),
			much TEXT NOT NULL,
			amount REAL NOT NULL,
			price REAL NOT NULL,
			lot TEXT NOT NULL,
			bought_at DATETIME NOT NULL)`,
		`CREATE INDEX purchases_plan ON purchases(plan_id)`,
		`CREATE TABLE prices (
			id INTEGER PRIMARY KEY,
			seller TEXT NOT NULL, reference TEXT NOT NULL, name TEXT NOT NULL, kind TEXT NOT NULL,
			unit TEXT NOT NULL, pack REAL NOT NULL, price REAL NOT NULL, currency TEXT NOT NULL,
			least REAL NOT NULL, stock REAL, lots TEXT NOT NULL,
			discontinued INTEGER NOT NULL, vanished INTEGER NOT NULL,
			postage REAL NOT NULL, least_order REAL NOT NULL, lead_days INTEGER NOT NULL,
			year INTEGER NOT NULL, read_at DATETIME NOT NULL)`,
		`CREATE INDEX prices_reference ON prices(reference)`,
		`CREATE INDEX prices_name ON prices(lower(name))`,
		`CREATE INDEX prices_seller ON prices(seller)`,
	)},
	{ID: "0015", Migrate: run(
		`ALTER TABLE prices ADD COLUMN part TEXT NOT NULL DEFAULT ''`,
		`CREATE INDEX prices_part ON prices(part)`,
	)},
	{ID: "0016", Migrate: run(
		`CREATE TABLE passphrase (id INTEGER PRIMARY KEY CHECK (id = 1), hash TEXT NOT NULL)`,
		`CREATE TABLE sheets (
			id INTEGER PRIMARY KEY,
			plan_id INTEGER NOT NULL REFERENCES plans(id) ON DELETE CASCADE,
			number INTEGER NOT NULL,
			token TEXT NOT NULL UNIQUE,
			made_at DATETIME NOT NULL, ends_at DATETIME NOT NULL,
			sent_at DATETIME, seen_at DATETIME, withdrawn_at DATETIME,
			doc BLOB NOT NULL,
			UNIQUE (plan_id, number))`,
		`CREATE TABLE answers (
			id INTEGER PRIMARY KEY,
			sheet_id INTEGER NOT NULL REFERENCES sheets(id) ON DELETE CASCADE,
			answered_at DATETIME NOT NULL,
			once TEXT NOT NULL,
			agreed INTEGER NOT NULL,
			name TEXT NOT NULL, way TEXT NOT NULL, remark TEXT NOT NULL, remarks TEXT NOT NULL,
			"by" TEXT NOT NULL,
			UNIQUE (sheet_id, once))`,
		`CREATE TABLE sessions (id TEXT PRIMARY KEY, made_at DATETIME NOT NULL, ends_at DATETIME NOT NULL)`,
	)},
	{ID: "0017", Migrate: run(
		`CREATE TABLE preferences (name TEXT PRIMARY KEY, doc BLOB NOT NULL)`,
		`CREATE TABLE diary (
			id INTEGER PRIMARY KEY,
			plan_id INTEGER NOT NULL REFERENCES plans(id) ON DELETE CASCADE,
			at DATETIME NOT NULL,
			step TEXT NOT NULL, title TEXT NOT NULL,
			words TEXT NOT NULL, changed TEXT NOT NULL, why TEXT NOT NULL,
			part TEXT NOT NULL, card TEXT NOT NULL,
			minutes INTEGER NOT NULL,
			photos TEXT,
			dropped_at DATETIME)`,
		`CREATE INDEX diary_plan ON diary(plan_id)`,
		`CREATE VIRTUAL TABLE diary_words USING fts5(title, words, changed, why, content='diary', content_rowid='id', tokenize="unicode61 remove_diacritics 2")`,
		`CREATE TRIGGER diary_added AFTER INSERT ON diary BEGIN
			INSERT INTO diary_words(rowid, title, words, changed, why) VALUES (new.id, new.title, new.words, new.changed, new.why); END`,
		`CREATE TRIGGER diary_gone AFTER DELETE ON diary BEGIN
			INSERT INTO diary_words(diary_words, rowid, title, words, changed, why) VALUES ('delete', old.id, old.title, old.words, old.changed, old.why); END`,
		`CREATE TRIGGER diary_changed AFTER UPDATE ON diary BEGIN
			INSERT INTO diary_words(diary_words, rowid, title, words, changed, why) VALUES ('delete', old.id, old.title, old.words, old.changed, old.why);
			INSERT INTO diary_words(rowid, title, words, changed, why) VALUES (new.id, new.title, new.words, new.changed, new.why); END`,
	)},
	{ID: "0018", Migrate: run(
		`CREATE TABLE let_go (hash TEXT PRIMARY KEY, at DATETIME NOT NULL)`,
		`ALTER TABLE plans ADD COLUMN worked INTEGER NOT NULL DEFAULT 0`,
		`UPDATE plans SET worked = (SELECT count(*) FROM plans AS q WHERE q.updated_at < plans.updated_at OR q.updated_at = plans.updated_at AND q.id <= plans.id)`,
	)},
	{ID: "0019", Migrate: run(
		`ALTER TABLE sessions ADD COLUMN seen_at DATETIME`,
		`ALTER TABLE sessions ADD COLUMN place TEXT NOT NULL DEFAULT ''`,
		`ALTER TABLE sessions ADD COLUMN device TEXT NOT NULL DEFAULT ''`,
		`UPDATE sessions SET seen_at = made_at`,
		`CREATE TABLE visits (id INTEGER PRIMARY KEY, at DATETIME NOT NULL, place TEXT NOT NULL, what TEXT NOT NULL, times INTEGER NOT NULL)`,
		`CREATE INDEX visits_place ON visits(place, what)`,
	)},
}

func run(statements ...string) gormigrate.MigrateFunc {
	return func(db *gorm.DB) error {
		for _, s := range statements {
			if err := db.Exec(s).Error; err != nil {
				return err
			}
		}
		return nil
	}
}

func migrate(db *gorm.DB) error { return migrateTo(db, migrations[len(migrations)-1].ID) }

// migrateTo brings a database up to the migration of a number.
func migrateTo(db *gorm.DB, id string) error {
	options := *gormigrate.DefaultOptions
	options.UseTransaction = true
	options.ValidateUnknownMigrations = true
	return gormigrate.New(db, &options, migrations).MigrateTo(id)
}
