package store

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"time"

	"gorm.io/gorm"

	"lampfern/core/brief"
	"lampfern/core/value"
)

// Plan is the header of a plan: what lists show. All else of it lies in
// sections.
type Plan struct {
	ID        uint
	Name      string
	Craft     string
	Kinds     []string `gorm:"serializer:json"` // kinds of material it is made of; empty for those of its craft
	PutAway   bool
	Revision  int64
	CreatedAt time.Time
	UpdatedAt time.Time
	Worked    int64 // rises with each save of any plan, whatever the clock says
}

// Section is one document of a plan. Its content is known to whoever keeps it;
// here it is bytes under a name and the number of its form.
type Section struct {
	PlanID  uint   `gorm:"primaryKey;autoIncrement:false"`
	Name    string `gorm:"primaryKey"`
	Version int
	Doc     []byte
}

// someKinds writes no kinds as an empty list, never as null.
func (p *Plan) someKinds() {
	if p.Kinds == nil {
		p.Kinds = []string{}
	}
}

// headerSection names the header in the journal, where it stands beside the
// sections.
const headerSection = "header"

// header is what of a header can be changed, as the journal keeps it.
type header struct {
	Name    string   `json:"name"`
	Craft   string   `json:"craft"`
	Kinds   []string `json:"kinds,omitempty"`
	PutAway bool     `json:"put_away,omitempty"`
}

func (p Plan) doc() ([]byte, error) {
	doc, err := json.Marshal(header{p.Name, p.Craft, p.Kinds, p.PutAway})
	if err != nil {
		return nil, fmt.Errorf("writing the header of plan %d: %w", p.ID, err)
	}
	return doc, nil
}

// Plan returns a plan's header and its sections.
func (t Tx) Plan(id uint) (Plan, []Section, error) {
	var p Plan
	if err := t.db.First(&p, id).Error; err != nil {
		return p, nil, found(err)
	}
	var all []Section
	return p, all, plain(t.db.Where("plan_id = ?", id).Order("name").Find(&all).Error)
}

// Revision returns the revision a plan is at.
func (t Tx) Revision(id uint) (int64, error) {
	var p Plan
	err := t.db.Select("revision").Take(&p, id).Error
	return p.Revision, found(err)
}

// Plans returns the header of every plan, the one worked on last first.
func (t Tx) Plans() ([]Plan, error) {
	return findAll[Plan](t, "plans", "worked DESC, id DESC")
}

// SectionOfAll returns one section of every plan that has it, by plan.
func (t Tx) SectionOfAll(name string) (map[uint]Section, error) {
	var all []Section
	if err := t.db.Where("name = ?", name).Find(&all).Error; err != nil {
		return nil, plain(err)
	}
	out := make(map[uint]Section, len(all))
	for _, s := range all {
		out[s.PlanID] = s
	}
	return out, nil
}

// AddPlan writes a new plan with its sections and fills in its ID.
func (t Tx) AddPlan(p *Plan, sections []Section) error {
	p.ID, p.Revision = 0, 1
	p.someKinds()
	if err := t.workedOn(p); err != nil {
		return err
	}
	if err := t.db.Create(p).Error; err != nil {
		return plain(err)
	}
	for i := range sections {
		sections[i].PlanID = p.ID
	}
	return t.putSections(sections)
}

func (t Tx) putSections(all []Section) error {
	for _, s := range all {
		if err := t.db.Save(&s).Error; err != nil {
			return plain(err)
		}
	}
	return nil
}

// SavePlan writes a plan that was read at p.Revision, and those of its sections
// that changed, raises the revision and records the step. before is the header
// and the sections as they were; a section that was not there has no document.
// ErrConflict tells that the plan was saved by someone else since; nothing is
// written then.
func (t Tx) SavePlan(p *Plan, before Plan, was, now []Section, label string) error {
	if err := t.savePlan(p); err != nil {
		return err
	}
	step := &Step{Scope: PlanScope(p.ID), Label: label, Before: []byte{}, After: []byte{}}
	old, err := before.doc()
	if err != nil {
		return err
	}
	fresh, err := p.doc()
	if err != nil {
		return err
	}
	if !bytes.Equal(old, fresh) {
		step.Changes = append(step.Changes, changeOf(Section{Name: headerSection, Doc: old}, Section{Name: headerSection, Doc: fresh}))
	}
	for i := range now {
		now[i].PlanID = p.ID
		step.Changes = append(step.Changes, changeOf(was[i], now[i]))
	}
	if err := t.putSections(now); err != nil {
		return err
	}
	return t.Record(step)
}

// workedOn makes a plan the one worked on last.
func (t Tx) workedOn(p *Plan) error {
	return plain(t.db.Raw("SELECT coalesce(max(worked), 0) + 1 FROM plans").Scan(&p.Worked).Error)
}

func (t Tx) savePlan(p *Plan) error {
	read := p.Revision
	p.Revision++
	p.someKinds()
	p.UpdatedAt = time.Now()
	if err := t.workedOn(p); err != nil {
		return err
	}
	res := t.db.Model(p).Where("revision = ?", read).Select("*").Omit("created_at").Updates(p)
	if res.Error != nil {
		return plain(res.Error)
	}
	if res.RowsAffected == 0 {
		p.Revision = read
		return ErrConflict
	}
	return nil
}

// StepPlan undoes or redoes the next step of a plan that was read at a revision
// and says what it was. It puts documents back as they were written, in
// whatever version. ErrNotFound tells that there is nothing to do.
func (t Tx) StepPlan(id uint, revision int64, undo bool) (label string, err error) {
	p, sections, err := t.Plan(id)
	if err != nil {
		return "", err
	}
	if p.Revision != revision {
		return "", ErrConflict
	}
	next := t.lastDone
	if !undo {
		next = t.firstUndone
	}
	var step Step
	if err := next(PlanScope(id)).Take(&step).Error; err != nil {
		return "", found(err)
	}
	if err := t.db.Where("step_id = ?", step.ID).Find(&step.Changes).Error; err != nil {
		return "", plain(err)
	}
	head, err := p.doc()
	if err != nil {
		return "", err
	}
	sections = append(sections, Section{Name: headerSection, Doc: head})
	for _, c := range step.Changes {
		now := Section{PlanID: id, Name: c.Section}
		for _, s := range sections {
			if s.Name == c.Section {
				now = s
			}
		}
		if now.Doc, err = c.turn(now.Doc, undo); err != nil {
			return "", fmt.Errorf("plan %d, %q: %w", id, step.Label, err)
		}
		now.Version = c.AfterVersion
		if undo {
			now.Version = c.BeforeVersion
		}
		switch {
		case c.Section == headerSection:
			var h header
			if err := json.Unmarshal(now.Doc, &h); err != nil {
				return "", fmt.Errorf("reading the header of plan %d: %w", id, err)
			}
			p.Name, p.Craft, p.Kinds, p.PutAway = h.Name, h.Craft, h.Kinds, h.PutAway
		case len(now.Doc) == 0:
			err = plain(t.db.Where("plan_id = ? AND name = ?", id, c.Section).Delete(&Section{}).Error)
		default:
			err = t.putSections([]Section{now})
		}
		if err != nil {
			return "", err
		}
	}
	if err := t.savePlan(&p); err != nil {
		return "", err
	}
	return step.Label, t.MarkUndone(step.ID, undo)
}

// Step is one change that can be undone. Scope says of what: a plan, the shelf,
// or a list of the maker's own. A plan's step has changes of sections; any
// other holds the whole state before and after as JSON.
type Step struct {
	ID        uint
	Scope     string
	Label     string
	Before    []byte
	After     []byte
	Undone    bool
	CreatedAt time.Time
	Changes   []Change `gorm:"-"`
}

// TableName names the undo journal.
func (Step) TableName() string { return "journal" }

// Change is what a step did to one section. The Head first and Tail last bytes
// of the document were the same before and after; Before and After are what
// stood between.
type Change struct {
	StepID        uint   `gorm:"primaryKey;autoIncrement:false"`
	Section       string `gorm:"primaryKey"`
	BeforeVersion int    `gorm:"column:before_version"`
	AfterVersion  int    `gorm:"column:after_version"`
	Head          int
	Tail          int
	Before        []byte
	After         []byte
}

// errJournal tells that a document is not as the journal left it.
var errJournal = errors.New("the section is not as its last change left it")

// changeOf keeps of two documents what differs.
func changeOf(was, now Section) Change {
	c := Change{Section: now.Name, BeforeVersion: was.Version, AfterVersion: now.Version}
	a, b := was.Doc, now.Doc
	for c.Head < len(a) && c.Head < len(b) && a[c.Head] == b[c.Head] {
		c.Head++
	}
	for c.Tail < len(a)-c.Head && c.Tail < len(b)-c.Head && a[len(a)-1-c.Tail] == b[len(b)-1-c.Tail] {
		c.Tail++
	}
	c.Before = append([]byte{}, a[c.Head:len(a)-c.Tail]...)
	c.After = append([]byte{}, b[c.Head:len(b)-c.Tail]...)
	return c
}

// turn makes of a document as it is after the change the one before it, or with
// undo false the other way round.
func (c Change) turn(doc []byte, undo bool) ([]byte, error) {
	from, to := c.After, c.Before
	if !undo {
		from, to = to, from
	}
	if len(doc) != c.Head+len(from)+c.Tail || !bytes.Equal(doc[c.Head:c.Head+len(from)], from) {
		return nil, errJournal
	}
	out := append([]byte{}, doc[:c.Head]...)
	out = append(out, to...)
	return append(out, doc[len(doc)-c.Tail:]...), nil
}

// PlanScope is the scope of a plan's steps.
func PlanScope(id uint) string { return fmt.Sprintf("plan/%d", id) }

// How many steps of one scope can be undone, and how many bytes they take together at most;
// the newest step is kept whatever it takes.
const (
	StepsKept     = 200
	stepsBytesMax = 16 << 20
)

// Record adds a step to the journal; steps of its scope that were undone and
// not redone fall away, and so do those beyond StepsKept or stepsBytesMax, the oldest first.
func (t Tx) Record(s *Step) error {
	if err := t.db.Where("scope = ? AND undone", s.Scope).Delete(&Step{}).Error; err != nil {
		return plain(err)
	}
	if err := t.db.Create(s).Error; err != nil {
		return plain(err)
	}
	for i := range s.Changes {
		s.Changes[i].StepID = s.ID
	}
	if len(s.Changes) > 0 {
		if err := t.db.Create(&s.Changes).Error; err != nil {
			return plain(err)
		}
	}
	if err := t.db.Exec("DELETE FROM journal WHERE scope = ? AND id <= (SELECT id FROM journal WHERE scope = ? ORDER BY id DESC LIMIT 1 OFFSET ?)",
		s.Scope, s.Scope, StepsKept).Error; err != nil {
		return plain(err)
	}
	if s.bytes() < stepsBytesMax/StepsKept && s.ID%StepsKept != 0 { // small ones are weighed now and then
		return nil
	}
	return plain(t.db.Exec(`DELETE FROM journal WHERE id IN (SELECT id FROM (
		SELECT id, row_number() OVER newest AS n, sum(bytes) OVER newest AS upto FROM (
			SELECT id, length(before) + length(after) + (SELECT coalesce(sum(length(before) + length(after)), 0) FROM changes WHERE step_id = journal.id) AS bytes
			FROM journal WHERE scope = ?)
		WINDOW newest AS (ORDER BY id DESC))
		WHERE n > 1 AND upto > ?)`, s.Scope, stepsBytesMax).Error)
}

// bytes is how much a step takes.
func (s *Step) bytes() int {
	n := len(s.Before) + len(s.After)
	for _, c := range s.Changes {
		n += len(c.Before) + len(c.After)
	}
	return n
}

func (t Tx) lastDone(scope string) *gorm.DB {
	return t.db.Where("scope = ? AND NOT undone", scope).Order("id DESC")
}

func (t Tx) firstUndone(scope string) *gorm.DB {
	return t.db.Where("scope = ? AND undone", scope).Order("id")
}

// Undoable returns the step that undo would take back, or ErrNotFound.
func (t Tx) Undoable(scope string) (Step, error) {
	var s Step
	return s, found(t.lastDone(scope).Take(&s).Error)
}

// Redoable returns the step that redo would bring back, or ErrNotFound.
func (t Tx) Redoable(scope string) (Step, error) {
	var s Step
	return s, found(t.firstUndone(scope).Take(&s).Error)
}

// Labels returns what undo and redo would do next, empty when nothing.
func (t Tx) Labels(scope string) (undo, redo string, err error) {
	var u, r []string
	err = t.lastDone(scope).Model(&Step{}).Limit(1).Pluck("label", &u).Error
	if err == nil {
		err = t.firstUndone(scope).Model(&Step{}).Limit(1).Pluck("label", &r).Error
	}
	if isDamage(err) {
		return "", "", nil // nothing can be undone there
	}
	return first(u), first(r), plain(err)
}

func first(s []string) string {
	if len(s) == 0 {
		return ""
	}
	return s[0]
}

// MarkUndone records that a step was undone, or redone.
func (t Tx) MarkUndone(id uint, undone bool) error {
	return plain(t.db.Model(&Step{}).Where("id = ?", id).Update("undone", undone).Error)
}

// Recipe is a ramp recipe of the maker's own.
type Recipe struct {
	Position int          `json:"-" gorm:"primaryKey;autoIncrement:false"`
	Recipe   value.Recipe `json:"recipe" gorm:"serializer:json"`
}

// Recipes returns the maker's own ramp recipes.
func (t Tx) Recipes() ([]Recipe, error) {
	all := []Recipe{}
	return all, plain(t.db.Order("position").Find(&all).Error)
}

// PutRecipes writes the maker's own ramp recipes in place of those there were.
func (t Tx) PutRecipes(all []Recipe) error {
	for i := range all {
		all[i].Position = i
	}
	return putAll(t, all)
}

// Mood is a mood of the maker's own.
type Mood struct {
	Position int          `json:"-" gorm:"primaryKey;autoIncrement:false"`
	Name     string       `json:"name"`
	Words    string       `json:"words"`
	Limits   brief.Limits `json:"limits" gorm:"serializer:json"`
}

// Moods returns the maker's own moods.
func (t Tx) Moods() ([]Mood, error) {
	all := []Mood{}
	return all, plain(t.db.Order("position").Find(&all).Error)
}

// PutMoods writes the maker's own moods in place of those there were.
func (t Tx) PutMoods(all []Mood) error {
	for i := range all {
		all[i].Position = i
	}
	return putAll(t, all)
}

// putAll empties a table and writes rows into it.
func putAll[T any](t Tx, all []T) error {
	if err := t.db.Where("1 = 1").Delete(new(T)).Error; err != nil {
		return plain(err)
	}
	if len(all) == 0 {
		return nil
	}
	return plain(t.db.Create(&all).Error)
}

// JournalBytes is how much the newest step of a plan keeps in the journal, in
// bytes; 0 for none.
func JournalBytes(s *Store, id uint) int64 {
	var n int64
	s.reader.Raw(`SELECT coalesce(sum(length(before) + length(after)), 0) FROM changes
		WHERE step_id = (SELECT max(id) FROM journal WHERE scope = ?)`, PlanScope(id)).Scan(&n)
	return n
}
