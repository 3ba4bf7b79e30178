package store

import (
	"bytes"
	"database/sql"
	"encoding/json"
	"fmt"
	"slices"
	"strings"

	"gorm.io/gorm"
)

// Up to migration 0010 a plan was one row of many columns, three tables of
// lists, and a journal of whole plans. Here these become documents. Nothing in
// this file knows what the fields mean; it only sorts them.

// documents are the fields of the one row by the section that keeps them now.
var documents = map[string][]string{
	headerSection: {"name", "craft", "put_away"},
	"tray":        {"entries", "lead_id", "lead_key"},
	"piece":       {"template", "settings", "fills", "pinned", "groups"},
	"colourways":  {"colourways"},
	"notes":       {"dismissed", "remarks"},
	"wanted":      {"wishes", "targets"},
	"scraps":      {"scraps"},
	"brief":       {"purpose", "brief"},
	"wheel": {"scheme", "neighbours", "one_sided", "centred", "wide", "turn", "wheel", "school", "from_boldest", "nearest", "adjusted",
		"combinations"},
	"values":     {"run", "ramps"},
	"cards":      {"flagged", "laid", "laid_by_share"},
	"proportion": {"references"},
}

// inputSection is the one whose document is a field by itself.
const (
	inputSection = "input"
	inputField   = "own"
)

type fields map[string]json.RawMessage

// empty reports whether a field says nothing.
func empty(v json.RawMessage) bool {
	return slices.Contains([]string{"", "null", "[]", "{}", "0", "false", `""`}, string(v))
}

// sections sorts a plan's fields into documents; empty fields, and documents
// without any other, are left out.
func (f fields) sections() (map[string][]byte, error) {
	out := map[string][]byte{}
	for name, keys := range documents {
		doc := fields{}
		for _, k := range keys {
			if v := f[k]; !empty(v) {
				doc[k] = v
			}
		}
		if len(doc) == 0 && name != headerSection {
			continue
		}
		var err error
		if out[name], err = json.Marshal(doc); err != nil {
			return nil, fmt.Errorf("writing the section %s: %w", name, err)
		}
	}
	if own := f[inputField]; !empty(own) {
		var b bytes.Buffer
		if err := json.Compact(&b, own); err != nil {
			return nil, fmt.Errorf("writing what was put into the piece: %w", err)
		}
		out[inputSection] = b.Bytes()
	}
	return out, nil
}

// toDocuments is migration 0011.
func toDocuments(db *gorm.DB) error {
	if err := run(
		`CREATE TABLE sections (
			plan_id INTEGER NOT NULL REFERENCES plans_new(id) ON DELETE CASCADE,
			name TEXT NOT NULL,
			version INTEGER NOT NULL,
			doc BLOB NOT NULL,
			PRIMARY KEY (plan_id, name))`,
		`CREATE INDEX sections_name ON sections(name)`,
		`CREATE TABLE changes (
			step_id INTEGER NOT NULL REFERENCES journal(id) ON DELETE CASCADE,
			section TEXT NOT NULL,
			before_version INTEGER NOT NULL,
			after_version INTEGER NOT NULL,
			head INTEGER NOT NULL,
			tail INTEGER NOT NULL,
			before BLOB NOT NULL,
			after BLOB NOT NULL,
			PRIMARY KEY (step_id, section))`,
		`CREATE TABLE plans_new (
			id INTEGER PRIMARY KEY,
			name TEXT NOT NULL,
			craft TEXT NOT NULL,
			kinds TEXT NOT NULL DEFAULT '[]',
			put_away INTEGER NOT NULL DEFAULT 0,
			revision INTEGER NOT NULL DEFAULT 1,
			created_at DATETIME, updated_at DATETIME)`,
		`INSERT INTO plans_new (id, name, craft, put_away, revision, created_at, updated_at)
			SELECT id, name, craft, put_away, revision, created_at, updated_at FROM plans`,
	)(db); err != nil {
		return err
	}
	plans, err := rowsOf(db, "SELECT * FROM plans")
	if err != nil {
		return err
	}
	for _, p := range plans {
		if err := documentsOf(db, p); err != nil {
			return fmt.Errorf("plan %s: %w", p["id"], err)
		}
	}
	return run(
		`DROP TABLE fills`, `DROP TABLE entries`, `DROP TABLE scraps`, `DROP TABLE plans`,
		`ALTER TABLE plans_new RENAME TO plans`,
		`DELETE FROM journal WHERE scope LIKE 'plan/%' AND id NOT IN (SELECT step_id FROM changes)`,
	)(db)
}

func documentsOf(db *gorm.DB, p fields) error {
	for list, table := range map[string]string{"entries": "entries", "fills": "fills", "scraps": "scraps"} {
		order := map[string]string{"fills": "part"}[list]
		if order == "" {
			order = "position"
		}
		rows, err := rowsOf(db, "SELECT * FROM "+table+" WHERE plan_id = "+string(p["id"])+" ORDER BY "+order)
		if err != nil {
			return err
		}
		for _, r := range rows {
			delete(r, "plan_id")
		}
		if p[list], err = json.Marshal(rows); err != nil {
			return fmt.Errorf("reading the %s: %w", list, err)
		}
	}
	now, err := p.sections()
	if err != nil {
		return err
	}
	var steps []struct {
		ID            uint
		Before, After []byte
		Undone        bool
	}
	if err := db.Table("journal").Where("scope = ?", "plan/"+string(p["id"])).Order("id").Find(&steps).Error; err != nil {
		return err
	}
	// The state now is that after the last step done, or before the first undone.
	for i, s := range steps {
		state := s.After
		if s.Undone && i == 0 {
			state = s.Before
		} else if s.Undone {
			break
		}
		if now, err = stateOf(state); err != nil {
			return err
		}
		if s.Undone {
			break
		}
	}
	was := map[string][]byte{}
	for i, s := range steps {
		before, after := was, map[string][]byte(nil)
		if i == 0 {
			if before, err = stateOf(s.Before); err != nil {
				return err
			}
		}
		if after, err = stateOf(s.After); err != nil {
			return err
		}
		was = after
		names := map[string]bool{}
		for n := range before {
			names[n] = true
		}
		for n := range after {
			names[n] = true
		}
		for n := range names {
			if bytes.Equal(before[n], after[n]) {
				continue
			}
			c := changeOf(Section{Name: n, Version: 1, Doc: before[n]}, Section{Name: n, Version: 1, Doc: after[n]})
			c.StepID = s.ID
			if err := db.Create(&c).Error; err != nil {
				return err
			}
		}
		if err := db.Exec("UPDATE journal SET before = x'', after = x'' WHERE id = ?", s.ID).Error; err != nil {
			return err
		}
	}
	for name, doc := range now {
		if name == headerSection {
			continue
		}
		id := json.Number(p["id"])
		if err := db.Exec("INSERT INTO sections VALUES (?, ?, 1, ?)", id.String(), name, doc).Error; err != nil {
			return err
		}
	}
	return nil
}

// stateOf reads a plan as the journal kept it.
func stateOf(kept []byte) (map[string][]byte, error) {
	var f fields
	if err := json.Unmarshal(kept, &f); err != nil {
		return nil, fmt.Errorf("reading a kept state: %w", err)
	}
	return f.sections()
}

// flags are the columns that hold 0 or 1 and mean no or yes.
var flags = []string{"one_sided", "centred", "wide", "from_boldest", "nearest", "laid_by_share", "put_away"}

// texts are the columns whose text is no JSON.
var texts = []string{"name", "craft", "purpose", "scheme", "wheel", "school", "template", "part", "photo"}

// rowsOf reads rows of any table as JSON fields by column.
func rowsOf(db *gorm.DB, query string) ([]fields, error) {
	rows, err := db.Raw(query).Rows()
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	columns, err := rows.Columns()
	if err != nil {
		return nil, err
	}
	out := []fields{}
	for rows.Next() {
		cells := make([]any, len(columns))
		for i := range cells {
			cells[i] = new(any)
		}
		if err := rows.Scan(cells...); err != nil {
			return nil, err
		}
		f := fields{}
		for i, c := range columns {
			if f[c], err = fieldOf(c, *cells[i].(*any)); err != nil {
				return nil, fmt.Errorf("the column %s: %w", c, err)
			}
		}
		out = append(out, f)
	}
	return out, rows.Err()
}

func fieldOf(column string, v any) (json.RawMessage, error) {
	switch x := v.(type) {
	case []byte:
		v = string(x)
	case sql.RawBytes:
		v = string(x)
	case int64:
		if slices.Contains(flags, column) {
			v = x != 0
		}
	}
	if s, is := v.(string); is && !slices.Contains(texts, column) && json.Valid([]byte(s)) {
		return json.RawMessage(strings.TrimSpace(s)), nil
	}
	return json.Marshal(v)
}
