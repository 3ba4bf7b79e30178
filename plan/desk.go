package plan

import (
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"sync/atomic"
	"time"

	lru "github.com/hashicorp/golang-lru/v2"
	"golang.org/x/sync/singleflight"

	"lampfern/core/balance"
	"lampfern/core/craft"
	"lampfern/core/material"
	"lampfern/core/mesh"
	"lampfern/core/note"
	"lampfern/core/words"
	"lampfern/shelf"
	"lampfern/store"
)

// How much is held in memory at once.
const (
	piecesKept = 64
	meshesKept = 2
	waysKept   = 16 // searches
	sumsKept   = 256
	recalled   = 1024 // results of any kind
)

// Desk is where plans are opened and changed. It works on one data folder and
// may be used from many goroutines.
type Desk struct {
	*shelf.Keeper

	stages []Stage
	pieces *lru.Cache[pieceKey, *Piece]
	meshes *lru.Cache[string, *mesh.Mesh] // by file
	ways   *lru.Cache[string, balance.Found]
	sums   *lru.Cache[planAt, docSum] // of what was put into the piece
	known  *lru.Cache[string, any]    // results of stages, by all they depend on
	making singleflight.Group         // of these
	tour   atomic.Pointer[bool]       // whether hints are shown; nil until it was read
}

// NewDesk returns a desk for the plans of a data folder, whose sections are
// those of the stages.
func NewDesk(k *shelf.Keeper, stages []Stage) *Desk {
	return &Desk{Keeper: k, stages: stages, pieces: shelf.Cache[pieceKey, *Piece](piecesKept),
		meshes: shelf.Cache[string, *mesh.Mesh](meshesKept), ways: shelf.Cache[string, balance.Found](waysKept),
		sums: shelf.Cache[planAt, docSum](sumsKept), known: shelf.Cache[string, any](recalled)}
}

// planAt is a plan as it was saved once.
type planAt struct {
	id       uint
	revision int64
}

// Recall is the result of work that takes long, made or remembered. key tells everything it depends
// on, and begins with the name of the stage. Who asks for it while it is made waits for the same; an
// error is handed on and not remembered. The result is shared and must not be changed.
func Recall[T any](k *Desk, key string, work func() (T, error)) (T, error) {
	key = fmt.Sprintf("%T %s", *new(T), key)
	if v, known := k.known.Get(key); known {
		return v.(T), nil
	}
	mine := false
	v, err, _ := k.making.Do(key, func() (any, error) {
		mine = true
		if v, known := k.known.Get(key); known { // made while this one waited for its turn
			return v, nil
		}
		v, err := work()
		if err == nil {
			k.known.Add(key, v)
		}
		return v, err
	})
	if !mine && (errors.Is(err, context.Canceled) || errors.Is(err, context.DeadlineExceeded)) {
		return work() // who made it left, and this one waits still
	}
	t, _ := v.(T)
	return t, err
}

// Remember is Recall of work that cannot fail.
func Remember[T any](k *Desk, key string, work func() T) T {
	t, _ := Recall(k, key, func() (T, error) { return work(), nil })
	return t
}

// Stages are the stages of a plan, in the order makers work.
func (k *Desk) Stages() []Stage { return k.stages }

// NewPlan starts a plan with the first piece of its craft, where there is one.
func (k *Desk) NewPlan(ctx context.Context, name, making string) (uint, error) {
	p := &Plan{Plan: store.Plan{Name: name, Craft: making}}
	if of, known := craft.Named(making); known && len(of.Patterns) > 0 {
		p.Pattern = of.Patterns[0].Key
	}
	return p.ID, k.add(ctx, p)
}

// News are what clients answered to sheets of plans lately, the newest first.
func (k *Desk) News(ctx context.Context) ([]store.News, error) {
	const lately = 14 * 24 * time.Hour
	return k.Store.Read(ctx).AnswersSince(time.Now().Add(-lately))
}

// add checks a new plan, writes it and fills in its ID.
func (k *Desk) add(ctx context.Context, p *Plan) error {
	if err := k.checked(p); err != nil {
		return err
	}
	sections, err := p.documents()
	if err != nil {
		return err
	}
	return k.Store.Write(ctx, func(tx store.Tx) error { return tx.AddPlan(&p.Plan, sections) })
}

// checked refuses a plan that cannot be kept.
func (k *Desk) checked(p *Plan) error {
	if err := p.check(); err != nil {
		return err
	}
	if p.Pattern == "" {
		return nil
	}
	_, err := k.pieceOf(p)
	return err
}

// Summary is a plan as the list of plans shows it.
type Summary struct {
	store.Plan
	Cards []*shelf.Card
}

// Plans lists the plans, the one worked on last first. It reads their headers
// and trays and no other section.
func (k *Desk) Plans(ctx context.Context) (out []Summary, err error) {
	err = k.Store.View(ctx, func(tx store.Tx) error {
		sh, err := k.Within(tx)
		if err != nil {
			return err
		}
		rows, err := tx.Plans()
		if err != nil {
			return fmt.Errorf("reading the plans: %w", err)
		}
		trays, err := tx.SectionOfAll("tray")
		if err != nil {
			return fmt.Errorf("reading the trays: %w", err)
		}
		out = make([]Summary, len(rows))
		for i, r := range rows {
			out[i].Plan = r
			var t Palette
			if err := k.decode(trays[r.ID], &t); err != nil {
				return err
			}
			for _, e := range t.Entries {
				if c, err := CardOf(sh, e); err == nil {
					out[i].Cards = append(out[i].Cards, c)
				}
			}
		}
		return nil
	})
	return out, err
}

// EverySection reads one stage's section of every plan, by plan. The sections are shared
// and must not be changed.
func EverySection[S any](ctx context.Context, k *Desk, key string) (map[uint]*S, error) {
	rows, err := k.Store.Read(ctx).SectionOfAll(key)
	if err != nil {
		return nil, fmt.Errorf("reading the section %s of all plans: %w", key, err)
	}
	out := map[uint]*S{}
	for id, r := range rows {
		// A document that was read before is not read again.
		key := fmt.Sprintf("section %s %T %d %x", key, *new(S), r.Version, sha256.Sum256(r.Doc))
		s, err := Recall(k, key, func() (*S, error) {
			s := new(S)
			return s, k.decode(r, s)
		})
		if err != nil {
			return nil, err
		}
		out[id] = s
	}
	return out, nil
}

// Open returns a plan ready to show, all of it as it was at one moment.
func (k *Desk) Open(ctx context.Context, id uint) (p *Plan, err error) {
	err = k.Store.View(ctx, func(tx store.Tx) error {
		row, sections, err := tx.Plan(id)
		if err != nil {
			return err
		}
		sh, err := k.Within(tx)
		if err != nil {
			return err
		}
		if p, err = k.compose(row, sections); err != nil {
			return err
		}
		p.Shelf = sh
		if p.Undo, p.Redo, err = tx.Labels(store.PlanScope(id)); err != nil {
			return err
		}
		p.Shown, err = tx.HasSheet(id)
		return err
	})
	if err != nil {
		return nil, err
	}
	at := planAt{id, p.Revision}
	if sum, known := k.sums.Get(at); known {
		p.put.sum = &sum
	}
	k.sums.Add(at, p.docSum())
	p.mixes = k.mixer(ctx, p)
	return p, k.furnish(p)
}

// compose makes a plan of its header and sections.
func (k *Desk) compose(row store.Plan, sections []store.Section) (*Plan, error) {
	p := &Plan{Plan: row, sections: map[string]Section{}, read: map[string]store.Section{}}
	for _, st := range k.stages {
		if st.New != nil {
			p.sections[st.Key] = st.New()
		}
	}
	all := p.all()
	for _, s := range sections {
		p.read[s.Name] = s
		if s.Name == inputName {
			p.put.doc = s.Doc
			continue
		}
		to, known := all[s.Name]
		if !known {
			continue // of a stage that this program does not have: it stays as it is
		}
		if err := k.decode(s, to); err != nil {
			return nil, fmt.Errorf("plan %d: %w", row.ID, err)
		}
	}
	return p, nil
}

// decode reads a section's document into to, brought up to its newest form.
func (k *Desk) decode(s store.Section, to any) error {
	if len(s.Doc) == 0 {
		return nil
	}
	doc, err := k.upcast(s.Name, s.Version, s.Doc)
	if err == nil {
		err = json.Unmarshal(doc, to)
	}
	if err != nil {
		return fmt.Errorf("reading the section %s: %w", s.Name, err)
	}
	return nil
}

// upcast brings a document of an earlier form to the newest.
func (k *Desk) upcast(name string, version int, doc json.RawMessage) (json.RawMessage, error) {
	steps := upcasts[name]
	for _, st := range k.stages {
		if st.Key == name {
			steps = st.Upcast
		}
	}
	if version > len(steps)+1 {
		return nil, fmt.Errorf("it was written by a newer Lamp Fern (form %d): use that version", version)
	}
	for _, up := range steps[version-1:] {
		var err error
		if doc, err = up(doc); err != nil {
			return nil, err
		}
	}
	return doc, nil
}

// upcasts are the earlier forms of the plan's own sections, by name: the first
// makes form 2 of form 1.
var upcasts = map[string][]func(json.RawMessage) (json.RawMessage, error){"notes": {sortHidden}}

// sortHidden makes the IDs of hidden notes those of sorted keys.
func sortHidden(doc json.RawMessage) (json.RawMessage, error) {
	var h Hiding
	if err := json.Unmarshal(doc, &h); err != nil {
		return nil, err
	}
	for i, id := range h.Dismissed {
		h.Dismissed[i] = note.Sorted(id)
	}
	remarks := map[string]string{}
	for id, remark := range h.Remarks {
		remarks[note.Sorted(id)] = remark
	}
	h.Remarks = remarks
	return json.Marshal(h)
}

// version is the newest form of a section.
func (k *Desk) version(name string) int {
	for _, st := range k.stages {
		if st.Key == name {
			return len(st.Upcast) + 1
		}
	}
	return len(upcasts[name]) + 1
}

// documents are the sections of a plan as they are kept; empty ones are left
// out. Their versions are not filled in.
func (p *Plan) documents() ([]store.Section, error) {
	var out []store.Section
	for name, s := range p.all() {
		doc, err := json.Marshal(s)
		if err != nil {
			return nil, fmt.Errorf("writing the section %s: %w", name, err)
		}
		if string(doc) != "{}" {
			out = append(out, store.Section{Name: name, Version: 1, Doc: doc})
		}
	}
	if len(p.put.doc) > 0 {
		out = append(out, store.Section{Name: inputName, Version: 1, Doc: p.put.doc})
	}
	slices.SortFunc(out, func(a, b store.Section) int { return bytes.Compare([]byte(a.Name), []byte(b.Name)) })
	return out, nil
}

// furnish joins a plan with its cards, piece, shares and roles.
func (k *Desk) furnish(p *Plan) error {
	p.Tray, p.Lead, p.Piece = nil, nil, nil
	kinds, limits := p.MadeOf(), p.Limits()
	p.offer = func() *shelf.Offer {
		kinds := kinds
		if p.others || len(kinds) == len(material.Kinds()) {
			kinds = nil
		}
		return Remember(k, fmt.Sprintf("offer %s %q %v", p.Shelf.Key(), kinds, limits), func() *shelf.Offer {
			var inside func(*shelf.Card) bool
			if limits.Ask() {
				inside = func(c *shelf.Card) bool { return limits.OutsideAs(c.Colour, c.Clearness, c.Family) == "" }
			}
			return p.Shelf.Offer(kinds, inside)
		})
	}
	for _, e := range p.Entries {
		c, err := p.cardHere(e)
		if err != nil {
			return fmt.Errorf("the card %d of plan %d: %w", e.Key, p.ID, err)
		}
		p.Tray = append(p.Tray, TrayCard{Card: c, Key: e.Key, Given: e.Given, Apart: e.Apart, Role: balance.Unused, Stand: c.ID != 0 &&
			(e.MaterialID == nil || *e.MaterialID != c.ID)})
	}
	if p.LeadID != nil {
		c, err := p.Shelf.Card(*p.LeadID)
		if err != nil {
			return fmt.Errorf("the lead colour of plan %d: %w", p.ID, err)
		}
		p.Lead = c
	}
	for _, t := range p.Tray {
		if p.LeadID == nil && p.LeadKey == t.Key {
			p.Lead = t.Card
		}
	}
	if p.Pattern == "" {
		return nil
	}
	var err error
	if p.Piece, err = k.pieceOf(p); err != nil {
		return err
	}
	thin := make([]bool, len(p.Tray))
	for i := range thin {
		thin[i] = true
	}
	for part, at := range p.Fill() {
		if at < 0 {
			continue
		}
		p.Tray[at].Parts = append(p.Tray[at].Parts, p.Piece.Parts[part].Name)
		thin[at] = thin[at] && p.Piece.Thin[part]
	}
	layout := p.Layout()
	for i, r := range balance.Roles(layout, p.Labs(), thin) {
		p.Tray[i].Role, p.Tray[i].Share = r, layout.Share[i]
	}
	return nil
}

// Change makes an edit of the plan as read at revision, as one undoable step, and returns what the
// edit said of it, often nothing. ErrConflict tells that the plan was saved since; nothing is written
// then. An edit that changes nothing writes nothing but what stands beside the plan. The edit is
// worked out before the write begins.
func (k *Desk) Change(ctx context.Context, id uint, revision int64, e Edit) (said string, err error) {
	p, err := k.Open(ctx, id)
	if err != nil {
		return "", err
	}
	if p.Revision != revision {
		return "", shelf.ErrConflict
	}
	before := p.Plan
	d := &Draft{Plan: p, Shelf: p.Shelf, Desk: k, Ctx: ctx, Now: time.Now()}
	defer func() {
		if err != nil {
			d.drop()
		}
	}()
	label, err := e.Do(d)
	if err != nil {
		return "", err
	}
	if err := k.checked(p); err != nil {
		return "", err
	}
	was, now, err := k.changed(p)
	if err != nil {
		return "", err
	}
	same := len(now) == 0 && sameHeader(before, p.Plan)
	if same && d.beside == nil {
		return d.said, nil
	}
	err = k.Store.Write(ctx, func(tx store.Tx) error {
		for _, write := range d.beside {
			if err := write(tx); err != nil {
				return err
			}
		}
		if same {
			return nil
		}
		return tx.SavePlan(&p.Plan, before, was, now, label)
	})
	if err == nil {
		k.sums.Add(planAt{id, p.Revision}, p.docSum())
	}
	return d.said, err
}

func sameHeader(a, b store.Plan) bool {
	return a.Name == b.Name && a.Craft == b.Craft && a.PutAway == b.PutAway && slices.Equal(a.Kinds, b.Kinds)
}

// changed are the sections that are not as they were read, before and after.
func (k *Desk) changed(p *Plan) (was, now []store.Section, err error) {
	all, err := p.documents()
	if err != nil {
		return nil, nil, err
	}
	there := map[string]bool{}
	for _, s := range all {
		there[s.Name] = true
		old := p.read[s.Name]
		old.Name, s.Version = s.Name, k.version(s.Name)
		if bytes.Equal(old.Doc, s.Doc) {
			continue
		}
		// One that was only written in another way did not change.
		if same, err := k.sameSection(p, old, s); err != nil {
			return nil, nil, err
		} else if !same {
			was, now = append(was, old), append(now, s)
		}
	}
	for name, old := range p.read { // what is empty now
		if _, known := p.all()[name]; !there[name] && (known || name == inputName) && string(old.Doc) != "{}" {
			was, now = append(was, old), append(now, store.Section{Name: name, Version: k.version(name), Doc: []byte("{}")})
		}
	}
	return was, now, nil
}

// sameSection reports whether a document as it was read says what one written
// now says.
func (k *Desk) sameSection(p *Plan, old, now store.Section) (bool, error) {
	if len(old.Doc) == 0 || now.Name == inputName {
		return false, nil
	}
	fresh, err := k.compose(store.Plan{}, []store.Section{old})
	if err != nil {
		return false, err
	}
	doc, err := json.Marshal(fresh.all()[now.Name])
	return bytes.Equal(doc, now.Doc), err
}

// StepPlan undoes or redoes the last change of a plan and says which.
func (k *Desk) StepPlan(ctx context.Context, id uint, revision int64, undo bool) (label string, err error) {
	err = k.Store.Write(ctx, func(tx store.Tx) error {
		if _, _, err := tx.Plan(id); err != nil {
			return err
		}
		label, err = tx.StepPlan(id, revision, undo)
		if errors.Is(err, store.ErrNotFound) {
			return words.Refuse("There is nothing to %s.", map[bool]string{true: "undo", false: "redo"}[undo])
		}
		return err
	})
	return label, err
}
