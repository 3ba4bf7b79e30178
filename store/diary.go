package store

import (
	"errors"
	"strings"
	"time"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

// Entry is what a maker wrote down of a day at work on a plan.
type Entry struct {
	ID        uint       `json:"id"`
	PlanID    uint       `json:"plan_id"`
	At        time.Time  `json:"at"`
	Step      string     `json:"step"`  // the key of a step, empty for none
	Title     string     `json:"title"` // and its name then
	Words     string     `json:"words"`
	Changed   string     `json:"changed"` // from the plan
	Why       string     `json:"why"`
	Part      string     `json:"part"`    // of the piece that took another card, by its key; empty for none
	Card      string     `json:"card"`    // and which, by its name
	Minutes   int        `json:"minutes"` // at work; 0 for not said
	Photos    []string   `json:"photos" gorm:"serializer:json"`
	DroppedAt *time.Time `json:"dropped_at"` // it is thrown away, and can be brought back
}

// TableName implements GORM's Tabler.
func (Entry) TableName() string { return "diary" }

// Diary is what was written of a plan, the newest first, without what was thrown away.
func (t Tx) Diary(plan uint) ([]Entry, error) {
	all := []Entry{}
	return all, plain(t.db.Where("plan_id = ? AND dropped_at IS NULL", plan).Order("at DESC, id DESC").Find(&all).Error)
}

// ThrownAway are the entries of a plan that were thrown away last.
func (t Tx) ThrownAway(plan uint, most int) ([]Entry, error) {
	all := []Entry{}
	return all, plain(t.db.Where("plan_id = ? AND dropped_at IS NOT NULL", plan).Order("dropped_at DESC").Limit(most).Find(&all).Error)
}

// Entry is one entry, thrown away or not; ErrNotFound for none.
func (t Tx) Entry(id uint) (e Entry, err error) { return e, found(t.db.Take(&e, id).Error) }

// PutEntry writes an entry, and fills in the ID of a new one.
func (t Tx) PutEntry(e *Entry) error { return plain(t.db.Save(e).Error) }

// Found is an entry that a search found, with its plan and the place that answers: what was
// looked for stands between two marks.
type Found struct {
	Entry
	Plan  string
	Place string
}

// FoundOpen and FoundShut are put round what was looked for.
const (
	FoundOpen = "\x02"
	FoundShut = "\x03"
)

// SearchDiary finds entries that hold every one of some words, or their beginnings, by
// SQLite's full-text index, those that answer best first.
func (t Tx) SearchDiary(words []string, most int) ([]Found, error) {
	all := []Found{}
	var query []string
	for _, w := range words {
		query = append(query, `"`+strings.ReplaceAll(w, `"`, `""`)+`"*`)
	}
	if len(query) == 0 {
		return all, nil
	}
	return all, plain(t.db.Raw(`SELECT diary.*, plans.name AS plan, snippet(diary_words, -1, ?, ?, '…', 16) AS place
		FROM diary_words JOIN diary ON diary.id = diary_words.rowid JOIN plans ON plans.id = diary.plan_id
		WHERE diary_words MATCH ? AND dropped_at IS NULL ORDER BY rank LIMIT ?`, FoundOpen, FoundShut, strings.Join(query, " "), most).Scan(&all).Error)
}

type preference struct {
	Name string `gorm:"primaryKey"`
	Doc  []byte
}

// Preference is what the maker chose for the whole workroom, under a name; nil for nothing.
func (t Tx) Preference(name string) ([]byte, error) {
	var p preference
	err := t.db.Take(&p, "name = ?", name).Error
	if errors.Is(err, gorm.ErrRecordNotFound) {
		return nil, nil
	}
	return p.Doc, plain(err)
}

// PutPreference keeps what the maker chose.
func (t Tx) PutPreference(name string, doc []byte) error {
	return plain(t.db.Clauses(clause.OnConflict{UpdateAll: true}).Create(&preference{name, doc}).Error)
}
