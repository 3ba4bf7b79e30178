package plan

import (
	"context"
	"encoding/json"
	"time"

	"lampfern/core/colour"
	"lampfern/core/mesh"
	"lampfern/core/piece"
	"lampfern/core/words"
	"lampfern/shelf"
	"lampfern/store"
)

// Stage is one stage of a plan, or what stands for one: what it keeps and what
// can be done to it.
type Stage struct {
	Key, Name, Letter string
	Hint              string // what it is for, in a sentence, for who is new; empty below a stage
	Pattern, Press    string // of a page for what is put into one pattern: the pattern's key, and the words of the press that leads to it

	New    func() Section                                   // its empty section; nil when it keeps nothing
	Edits  map[string]func() Edit                           // verb → empty edit, filled from a form
	Brings map[string]func() Bring                          // kind of file → empty edit
	Begins map[string]func() Bring                          // ending of a file that can be a new plan's thing → empty edit
	Acts   map[string]func() Act                            // verb → empty act
	Upcast []func(json.RawMessage) (json.RawMessage, error) // the first makes form 2 of the section of form 1
	Filled func(*Plan) bool                                 // whether the plan has something there; nil for never

	Told   func(ctx context.Context, k *Desk, p *Plan) (piece.Values, error) // of the stage that asks what the piece cannot know
	Supply func(ctx context.Context, k *Desk, p *Plan) (Supply, error)       // of the stage that knows how much is needed; nil of any other

	Mixes func(ctx context.Context, k *Desk, p *Plan, c colour.Lab) (Mixture, error) // of the stage that mixes; no words where the plan's kinds are not mixed
}

// Edit is one undoable act on a plan. Do changes the draft and says in a few
// words what it did, for undo. What it refuses changes nothing.
type Edit interface {
	Do(*Draft) (label string, err error)
}

// Doing is an edit made of a function.
type Doing func(*Draft) (label string, err error)

func (f Doing) Do(d *Draft) (string, error) { return f(d) }

// Bring is an edit that takes a file.
type Bring interface {
	Edit
	Take(File)
}

// File is a file that a maker handed in.
type File struct {
	Name string
	Data []byte
}

// Act is what a page of a plan asks of the maker's own things, such as their
// moods. It says what happened.
type Act interface {
	Act(ctx context.Context, k *Desk, p *Plan) (said string, err error)
}

// Draft is a plan while it is edited. Edits change its fields and sections.
type Draft struct {
	Plan  *Plan
	Shelf *shelf.Shelf
	Desk  *Desk
	Ctx   context.Context
	Now   time.Time // when the edit is made

	said   string
	beside []func(store.Tx) error
	fresh  []string // meshes that were kept for this change, by hash
}

// KeepMesh keeps the file of a mesh for as long as the change is made: with a change that is
// refused, one that was not there before goes again.
func (d *Draft) KeepMesh(data []byte, read *mesh.Mesh) (hash string, err error) {
	known := d.Desk.Store.HasModelFile(shelf.PhotoHash(data))
	if hash, err = d.Desk.KeepMesh(data, read); err == nil && !known {
		d.fresh = append(d.fresh, hash)
	}
	return hash, err
}

// Read reads a file of the maker's when it is its turn; what cannot be read is refused with the
// reason.
func Read[T any](d *Draft, read func(context.Context) (T, error)) (out T, err error) {
	err = shelf.Heavy(d.Ctx, func(ctx context.Context) error {
		if out, err = read(ctx); err != nil {
			return words.Refuse("Not imported: %s.", err)
		}
		return nil
	})
	return out, err
}

// drop lets go of what was kept for a change that is not made.
func (d *Draft) drop() {
	for _, hash := range d.fresh {
		_ = d.Desk.Store.DropModelFile(hash) // else the sweep of the next start takes it
	}
}

// Beside has something written in the transaction of the change, beside the plan: what is asked of
// the maker's own things. It is written also where the plan stays as it is.
func (d *Draft) Beside(write func(store.Tx) error) { d.beside = append(d.beside, write) }

// Say tells the maker a sentence about the change, beside the page that shows
// it.
func (d *Draft) Say(sentence string) { d.said = sentence }

// View is the plan as the draft stands, ready to show.
func (d *Draft) View() (*Plan, error) {
	p := *d.Plan
	return &p, d.Desk.furnish(&p)
}

// Led tells the sections that another colour leads.
func (d *Draft) Led() {
	for _, s := range d.Plan.sections {
		if f, is := s.(Follower); is {
			f.Led()
		}
	}
}

// Edits are the edits that every page of a plan offers: those of the tray, the
// piece and the notes.
func Edits() map[string]func() Edit {
	return map[string]func() Edit{
		"pull":         func() Edit { return &Pull{} },
		"pull-layers":  func() Edit { return &PullLayers{} },
		"layers":       func() Edit { return &LayPart{} },
		"why-aside":    func() Edit { return &WhyAside{} },
		"forget-aside": func() Edit { return &ForgetAside{} },
		"aside":        func() Edit { return &SetAside{} },
		"move":         func() Edit { return &Move{} },
		"swap":         func() Edit { return &Swap{} },
		"lead":         func() Edit { return &Lead{} },
		"choose-last":  func() Edit { return &ChooseLast{} },
		"settle":       func() Edit { return &Settle{} },
		"replace":      func() Edit { return &Replace{} },
		"fill":         func() Edit { return &FillPart{} },
		"dismiss":      func() Edit { return &Dismiss{} },
		"show-note":    func() Edit { return &ShowNote{} },
		"show-notes":   func() Edit { return &ShowNotes{} },
		"away":         func() Edit { return &PutAway{} },
		"piece":        func() Edit { return &ChoosePiece{} },
		"pin":          func() Edit { return &Pin{} },
		"want":         func() Edit { return &Want{} },
		"turn-to":      func() Edit { return &WorkOn{} },
		"add-piece":    func() Edit { return &AddPiece{} },
	}
}

// Lead makes a card of the tray, by its key, or a material the lead colour.
type Lead struct {
	Key      int  `form:"key,optional"`
	Material uint `form:"material,optional"`
}

func (e Lead) Do(d *Draft) (string, error) {
	switch {
	case e.Key != 0:
		return LeadWithCard{Key: e.Key}.Do(d)
	case e.Material != 0:
		return LeadWith{Material: e.Material}.Do(d)
	}
	return "", words.Refuse("Choose the lead colour.")
}
