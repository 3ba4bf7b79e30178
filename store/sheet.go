package store

import (
	"errors"
	"time"

	"gorm.io/gorm"

	"lampfern/core/words"
)

// Sheet is what a client is asked to agree to, frozen as it was on its day.
type Sheet struct {
	ID          uint       `json:"id"`
	PlanID      uint       `json:"plan_id"`
	Number      int        `json:"number"` // within the plan, from 1
	Token       string     `json:"token"`  // of its private link
	MadeAt      time.Time  `json:"made_at"`
	EndsAt      time.Time  `json:"ends_at"` // of the link
	SentAt      *time.Time `json:"sent_at"`
	SeenAt      *time.Time `json:"seen_at"`
	WithdrawnAt *time.Time `json:"withdrawn_at"`
	Doc         []byte     `json:"doc"` // what it holds; the stage knows its form
}

// Answer is what a client said to a sheet. Once is of the form that it was given on: a
// form counts once, however often it is sent.
type Answer struct {
	ID         uint              `json:"id"`
	SheetID    uint              `json:"sheet_id"`
	AnsweredAt time.Time         `json:"answered_at"`
	Once       string            `json:"once"`
	Agreed     bool              `json:"agreed"`
	Name       string            `json:"name"`
	Way        string            `json:"way"` // the colourway that was chosen, by its name
	Remark     string            `json:"remark"`
	Remarks    map[string]string `json:"remarks" gorm:"serializer:json"` // by the name of a card
	By         string            `json:"by"`                             // link, file or word
}

// Sheets are the sheets of a plan, the newest first, without what they hold.
func (t Tx) Sheets(plan uint) ([]Sheet, error) {
	all := []Sheet{}
	return all, plain(t.db.Omit("doc").Where("plan_id = ?", plan).Order("number DESC").Find(&all).Error)
}

// Asked is how it stands with the newest sheet of a plan.
type Asked struct {
	PlanID uint
	SentAt *time.Time // nil where it was not sent
	Agreed *time.Time // nil unless the last answer says so
}

// AskedOfAll is how it stands with the newest sheet of every plan that has one.
func (t Tx) AskedOfAll() ([]Asked, error) {
	var rows []struct {
		PlanID     uint
		SentAt     *time.Time
		AnsweredAt *time.Time
		Agreed     *bool
	}
	err := t.db.Raw(`SELECT s.plan_id, s.sent_at, a.answered_at, a.agreed FROM sheets s LEFT JOIN answers a ON a.id = (SELECT max(id) FROM answers WHERE sheet_id = s.id)
		WHERE s.number = (SELECT max(number) FROM sheets WHERE plan_id = s.plan_id)`).Scan(&rows).Error
	out := []Asked{}
	for _, r := range rows {
		one := Asked{PlanID: r.PlanID, SentAt: r.SentAt}
		if r.Agreed != nil && *r.Agreed {
			one.Agreed = r.AnsweredAt
		}
		out = append(out, one)
	}
	return out, plain(err)
}

// HasSheet is whether a plan has a sheet.
func (t Tx) HasSheet(plan uint) (has bool, err error) {
	return has, plain(t.db.Raw("SELECT EXISTS (SELECT 1 FROM sheets WHERE plan_id = ?)", plan).Scan(&has).Error)
}

// Sheet is a sheet with what it holds, by its number within a plan; ErrNotFound for none.
func (t Tx) Sheet(plan uint, number int) (s Sheet, err error) {
	return s, found(t.db.Where("plan_id = ? AND number = ?", plan, number).First(&s).Error)
}

// SheetBy is the sheet of a private link; ErrNotFound for none.
func (t Tx) SheetBy(token string) (s Sheet, err error) {
	return s, found(t.db.Where("token = ?", token).First(&s).Error)
}

// PutSheet writes a sheet, and fills in the ID of a new one.
func (t Tx) PutSheet(s *Sheet) error { return plain(t.db.Save(s).Error) }

// MarkSheet notes when a sheet was sent or seen first, or withdrawn; nil takes it back.
func (t Tx) MarkSheet(id uint, column string, at *time.Time) error {
	return plain(t.db.Model(&Sheet{}).Where("id = ?", id).Update(column, at).Error)
}

// Answers are the answers to all sheets of a plan, in the order they came.
func (t Tx) Answers(plan uint) ([]Answer, error) {
	all := []Answer{}
	return all, plain(t.db.Where("sheet_id IN (SELECT id FROM sheets WHERE plan_id = ?)", plan).Order("id").Find(&all).Error)
}

// News is an answer with the plan and the sheet that it is of.
type News struct {
	Answer
	PlanID uint
	Number int
}

// AnswersSince are the answers to sheets of plans that are not put away, since a time, the
// newest first.
func (t Tx) AnswersSince(since time.Time) ([]News, error) {
	all := []News{}
	return all,
		plain(t.db.Table("answers").Select("answers.*, sheets.plan_id, sheets.number").Joins("JOIN sheets ON sheets.id = answers.sheet_id").
			Joins("JOIN plans ON plans.id = sheets.plan_id AND NOT plans.put_away").Where("answers.answered_at >= ?",
			since.UTC()).Order("answers.id DESC").Find(&all).Error)
}

// Unanswered is the number of the newest sheet of a plan where a client has not agreed to
// it, 0 where none is made or it is agreed.
func (t Tx) Unanswered(plan uint) (number int, err error) {
	return number, plain(t.db.Raw(`SELECT coalesce(max(s.number), 0) FROM sheets s WHERE s.plan_id = ? AND s.withdrawn_at IS NULL
		AND s.number = (SELECT max(number) FROM sheets WHERE plan_id = s.plan_id)
		AND NOT coalesce((SELECT agreed FROM answers a WHERE a.sheet_id = s.id ORDER BY a.id DESC LIMIT 1), 0)`, plan).Scan(&number).Error)
}

// mostAnswers bounds the answers to one sheet.
const mostAnswers = 40

// PutAnswer keeps an answer; known tells that its form was sent before.
func (t Tx) PutAnswer(a *Answer) (known bool, err error) {
	if a.Remarks == nil {
		a.Remarks = map[string]string{}
	}
	var n int64
	if err := t.db.Model(&Answer{}).Where("sheet_id = ? AND once <> ?", a.SheetID, a.Once).Count(&n).Error; err != nil {
		return false, plain(err)
	}
	if n >= mostAnswers {
		return false, words.Refuse("This sheet already has %d answers, the most it can have. Ask the maker for a new one.", mostAnswers)
	}
	err = plain(t.db.Create(a).Error)
	if errors.Is(err, gorm.ErrDuplicatedKey) {
		return true, nil
	}
	return false, err
}
