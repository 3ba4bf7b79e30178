package store

import (
	"time"

	"gorm.io/gorm"

	"lampfern/core/brief"
	"lampfern/core/piece"
	"lampfern/core/value"
)

// Plan is one thing being planned. The lists hang on it and are written with
// it. Turn is how many whole places the scheme's light is turned away from the
// lead colour.
type Plan struct {
	ID         uint   `json:"id"`
	Name       string `json:"name"`
	Craft      string `json:"craft"`
	Purpose    string `json:"purpose"`
	Scheme     string `json:"scheme"`
	Neighbours int    `json:"neighbours"`
	OneSided   bool   `json:"one_sided"`
	Centred    bool   `json:"centred"`
	Wide       bool   `json:"wide"`
	LeadID     *uint  `json:"lead_id"`
	LeadKey    int    `json:"lead_key"` // of a free colour of the tray that leads, when LeadID is nil
	Turn       int    `json:"turn"`
	// The wheel and the school of warm and cool by key, empty for the usual.
	WheelKey     string             `json:"wheel" gorm:"column:wheel"`
	School       string             `json:"school"`
	FromBoldest  bool               `json:"from_boldest"` // the scheme goes by the boldest card, not the lead
	Nearest      bool               `json:"nearest"`      // places are matched by ΔE00, not by hue first
	Adjusted     []Adjusted         `json:"adjusted" gorm:"serializer:json"`
	Wishes       []Wish             `json:"wishes" gorm:"serializer:json"`
	Combinations []Combination      `json:"combinations" gorm:"serializer:json"`
	Brief        brief.Brief        `json:"brief" gorm:"serializer:json"`
	Run          Run                `json:"run" gorm:"serializer:json"`
	Ramps        []Ramp             `json:"ramps" gorm:"serializer:json"`
	Targets      []Wish             `json:"targets" gorm:"serializer:json"` // colours to be mixed
	Flagged      []uint             `json:"flagged" gorm:"serializer:json"` // materials whose cards are to be printed
	Laid         []string           `json:"laid" gorm:"serializer:json"`    // cards laid edge to edge, by token
	LaidByShare  bool               `json:"laid_by_share"`
	Colourways   []Colourway        `json:"colourways" gorm:"serializer:json"`
	Template     string             `json:"template"`
	Settings     map[string]float64 `json:"settings" gorm:"serializer:json"`
	Own          piece.Own          `json:"own" gorm:"serializer:json"`
	Pinned       []string           `json:"pinned" gorm:"serializer:json"`     // parts that keep their card
	References   []string           `json:"references" gorm:"serializer:json"` // photos to colour by
	Groups       [][]string         `json:"groups" gorm:"serializer:json"`     // parts that take one card together
	Dismissed    []string           `json:"dismissed" gorm:"serializer:json"`
	Remarks      map[string]string  `json:"remarks" gorm:"serializer:json"` // why a note is hidden, by its ID
	PutAway      bool               `json:"put_away"`
	Revision     int64              `json:"-"`
	CreatedAt    time.Time          `json:"-"`
	UpdatedAt    time.Time          `json:"-"`
	Entries      []Entry            `json:"entries" gorm:"-"`
	Fills        []Fill             `json:"fills" gorm:"-"`
	Scraps       []Scrap            `json:"scraps" gorm:"-"`
}

// fillEmpty writes empty settings and lists as such, never as null.
func (p *Plan) fillEmpty() {
	if p.Settings == nil {
		p.Settings = map[string]float64{}
	}
	if p.Dismissed == nil {
		p.Dismissed = []string{}
	}
	if p.Pinned == nil {
		p.Pinned = []string{}
	}
	if p.References == nil {
		p.References = []string{}
	}
	if p.Groups == nil {
		p.Groups = [][]string{}
	}
	if p.Remarks == nil {
		p.Remarks = map[string]string{}
	}
	if p.Adjusted == nil {
		p.Adjusted = []Adjusted{}
	}
	if p.Wishes == nil {
		p.Wishes = []Wish{}
	}
	if p.Combinations == nil {
		p.Combinations = []Combination{}
	}
	if p.Ramps == nil {
		p.Ramps = []Ramp{}
	}
	if p.Targets == nil {
		p.Targets = []Wish{}
	}
	if p.Flagged == nil {
		p.Flagged = []uint{}
	}
	if p.Laid == nil {
		p.Laid = []string{}
	}
	if p.Colourways == nil {
		p.Colourways = []Colourway{}
	}
}

// Adjusted is a place of the scheme that the maker turned off or moved, by its
// number in the scheme.
type Adjusted struct {
	Index int     `json:"index"`
	Off   bool    `json:"off,omitempty"`
	Nudge float64 `json:"nudge,omitempty"` // degrees of the wheel, clockwise
}

// Wish is a colour that the shelf lacks.
type Wish struct {
	Key  int     `json:"key"`
	Name string  `json:"name"`
	L    float64 `json:"l"`
	A    float64 `json:"a"`
	B    float64 `json:"b"`
}

// Combination is a set of cards that was tried, as they were then.
type Combination struct {
	Key    int               `json:"key"`
	Scheme string            `json:"scheme"`
	Remark string            `json:"remark"`
	Cards  []CombinationCard `json:"cards"`
}

// CombinationCard is one card of a combination. MaterialID is nil for a free
// colour.
type CombinationCard struct {
	MaterialID *uint   `json:"material_id"`
	Name       string  `json:"name"`
	L          float64 `json:"l"`
	A          float64 `json:"a"`
	B          float64 `json:"b"`
}

// Run says which colours a plan's run is made of and how it is built.
type Run struct {
	Source string     `json:"source,omitempty"` // tray when empty, scraps or shelf
	Family string     `json:"family,omitempty"` // of the shelf
	Kind   string     `json:"kind,omitempty"`
	Text   string     `json:"text,omitempty"`
	Steps  int        `json:"steps,omitempty"` // wanted, 0 for as many as there are cards
	Start  string     `json:"start,omitempty"` // dark when empty, light or middle
	Seen   bool       `json:"seen,omitempty"`  // steps are even in ΔE00, not in L*
	Aside  []RunAside `json:"aside,omitempty"`
}

// RunAside is a colour set aside from the run, with the reason in words.
type RunAside struct {
	Token  string  `json:"token"` // names the card: material, tray or scrap
	Name   string  `json:"name"`
	Reason string  `json:"reason"`
	L      float64 `json:"l"`
	A      float64 `json:"a"`
	B      float64 `json:"b"`
}

// Ramp is a numeric ramp from one middle colour. Band is the offset of its
// lighter and darker rows in L*, 0 for none.
type Ramp struct {
	Key     int           `json:"key"`
	Name    string        `json:"name"`
	Middle  Wish          `json:"middle"` // name and colour; its key means nothing
	Recipe  value.Recipe  `json:"recipe"`
	Band    float64       `json:"band,omitempty"`
	Shift   value.Shift   `json:"shift"`
	Balance value.Balance `json:"balance"`
}

// Colourway is one way of colouring the plan's piece, kept beside others.
type Colourway struct {
	Key       int            `json:"key"`
	Name      string         `json:"name"` // customer, age or season
	Remark    string         `json:"remark"`
	Favourite bool           `json:"favourite"`
	Fills     map[string]int `json:"fills"` // part to the key of its card
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

// Entry is one card of a plan's palette. Key is its number within the plan and
// stays the same through every move. Without a MaterialID it is a free colour,
// with a name and colour of its own.
type Entry struct {
	PlanID     uint    `json:"-" gorm:"primaryKey;autoIncrement:false"`
	Key        int     `json:"key" gorm:"primaryKey;autoIncrement:false"`
	MaterialID *uint   `json:"material_id"`
	Name       string  `json:"name,omitempty"`
	L          float64 `json:"l,omitempty"`
	A          float64 `json:"a,omitempty"`
	B          float64 `json:"b,omitempty"`
	Position   int     `json:"position"`
}

// Fill says which entry a part of the piece takes.
type Fill struct {
	PlanID   uint   `json:"-" gorm:"primaryKey;autoIncrement:false"`
	Part     string `json:"part" gorm:"primaryKey"`
	EntryKey int    `json:"entry_key"`
}

// Scrap is a colour torn from a photo, with the maker's name on it. X, Y, W and
// H are the box on the upright photo, in shares of its width and height.
type Scrap struct {
	PlanID      uint    `json:"-" gorm:"primaryKey;autoIncrement:false"`
	Key         int     `json:"key" gorm:"primaryKey;autoIncrement:false"`
	Name        string  `json:"name"`
	L           float64 `json:"l"`
	A           float64 `json:"a"`
	B           float64 `json:"b"`
	Uncertainty float64 `json:"uncertainty"`
	Photo       *string `json:"photo"` // nil when the plan came without it
	X           float64 `json:"x"`
	Y           float64 `json:"y"`
	W           float64 `json:"w"`
	H           float64 `json:"h"`
	Position    int     `json:"position"`
}

// Step is one change that can be undone. Scope says of what: a plan or the
// shelf; Before and After hold its whole state as JSON.
type Step struct {
	ID        uint
	Scope     string
	Label     string
	Before    []byte
	After     []byte
	Undone    bool
	CreatedAt time.Time
}

// TableName names the undo journal.
func (Step) TableName() string { return "journal" }

// Plan returns a plan with its entries in tray order and its fills.
func (t Tx) Plan(id uint) (Plan, error) {
	var p Plan
	if err := t.db.First(&p, id).Error; err != nil {
		return p, found(err)
	}
	if err := t.db.Where("plan_id = ?", id).Order("position").Find(&p.Entries).Error; err != nil {
		return p, plain(err)
	}
	if err := t.db.Where("plan_id = ?", id).Order("position").Find(&p.Scraps).Error; err != nil {
		return p, plain(err)
	}
	return p, plain(t.db.Where("plan_id = ?", id).Order("part").Find(&p.Fills).Error)
}

// Plans returns every plan with its entries, the one worked on last first.
func (t Tx) Plans() ([]Plan, error) {
	var all []Plan
	if err := t.db.Order("updated_at DESC, id DESC").Find(&all).Error; err != nil {
		return nil, plain(err)
	}
	var entries []Entry
	if err := t.db.Order("plan_id, position").Find(&entries).Error; err != nil {
		return nil, plain(err)
	}
	at := map[uint]int{}
	for i, p := range all {
		at[p.ID] = i
	}
	for _, e := range entries {
		p := &all[at[e.PlanID]]
		p.Entries = append(p.Entries, e)
	}
	return all, nil
}

// AddPlan writes a new plan with its lists and fills in its ID.
func (t Tx) AddPlan(p *Plan) error {
	p.ID, p.Revision = 0, 1
	p.fillEmpty()
	if err := t.db.Create(p).Error; err != nil {
		return plain(err)
	}
	return t.putLists(p)
}

// SavePlan writes a plan that was read at p.Revision and raises the revision.
// ErrConflict tells that it was saved by someone else since; nothing is
// written then.
func (t Tx) SavePlan(p *Plan) error {
	p.fillEmpty()
	read := p.Revision
	p.Revision++
	p.UpdatedAt = time.Now()
	res := t.db.Model(p).Where("revision = ?", read).Select("*").Omit("created_at").Updates(p)
	if res.Error != nil {
		return plain(res.Error)
	}
	if res.RowsAffected == 0 {
		p.Revision = read
		return ErrConflict
	}
	for _, list := range []any{&Fill{}, &Entry{}, &Scrap{}} {
		if err := t.db.Where("plan_id = ?", p.ID).Delete(list).Error; err != nil {
			return plain(err)
		}
	}
	return t.putLists(p)
}

func (t Tx) putLists(p *Plan) error {
	for i := range p.Entries {
		p.Entries[i].PlanID, p.Entries[i].Position = p.ID, i
	}
	for i := range p.Fills {
		p.Fills[i].PlanID = p.ID
	}
	if len(p.Entries) > 0 {
		if err := t.db.Create(&p.Entries).Error; err != nil {
			return plain(err)
		}
	}
	if len(p.Fills) > 0 {
		if err := t.db.Create(&p.Fills).Error; err != nil {
			return plain(err)
		}
	}
	for i := range p.Scraps {
		p.Scraps[i].PlanID, p.Scraps[i].Position = p.ID, i
	}
	if len(p.Scraps) > 0 {
		return plain(t.db.Create(&p.Scraps).Error)
	}
	return nil
}

// Record adds a step to the journal; steps of its scope that were undone and
// not redone fall away.
func (t Tx) Record(s *Step) error {
	if err := t.db.Where("scope = ? AND undone", s.Scope).Delete(&Step{}).Error; err != nil {
		return plain(err)
	}
	return plain(t.db.Create(s).Error)
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
	if err := t.lastDone(scope).Model(&Step{}).Limit(1).Pluck("label", &u).Error; err != nil {
		return "", "", plain(err)
	}
	if err := t.firstUndone(scope).Model(&Step{}).Limit(1).Pluck("label", &r).Error; err != nil {
		return "", "", plain(err)
	}
	return first(u), first(r), nil
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
