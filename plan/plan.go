// Package plan is a plan while it is worked on: its header, the sections that it
// and its stages keep, the tray, the piece and what fills it, edits, undo, and
// the plan file. It knows no single stage; stages bring their sections and edits
// to it.
package plan

import (
	"slices"
	"strings"
	"unicode/utf8"

	"lampfern/core/balance"
	"lampfern/core/brief"
	"lampfern/core/colour"
	"lampfern/core/craft"
	"lampfern/core/material"
	"lampfern/core/piece"
	"lampfern/core/wheel"
	"lampfern/core/words"
	"lampfern/shelf"
	"lampfern/store"
)

// Plan is a plan with everything its stages need. It is made anew for every
// request; its shelf and its piece are shared and must not be changed.
type Plan struct {
	store.Plan // the header
	Palette
	Making
	Set
	Kept
	Hiding
	Wanted
	Torn

	Shelf *shelf.Shelf
	Tray  []TrayCard
	Lead  *shelf.Card // nil when none is chosen
	Piece *Piece      // nil when none is chosen
	Undo  string      // what undo would take back, empty when nothing
	Redo  string
	Shown bool // a client was shown a sheet of it, or will be

	offer  func() *shelf.Offer
	mixes  func(c colour.Lab) (Mixture, error)
	others bool // what is of other kinds is offered too

	sections map[string]Section       // of the stages, by the stage's key
	read     map[string]store.Section // as they were read
	put      input                    // what the maker put into patterns
}

// Section is what one stage keeps of a plan: a document that is written as JSON.
type Section interface {
	// Check refuses what cannot be kept, in a sentence for the maker.
	Check() error
}

// The following are looked for in sections by what reads across stages.
type (
	// Asker is the section that says what the thing asks of its colours.
	Asker interface{ Asked() brief.Brief }
	// Purposer is the section that says what the thing is for.
	Purposer interface{ For() string }
	// Turner is the section that chooses the wheel and the school of warm and cool.
	Turner interface {
		OnWheel() wheel.Wheel
		Divided() wheel.School
		Lit() string              // the scheme that is lit, empty for none
		Places(p *Plan) []float64 // of that scheme
		Lively(mood bool) bool    // whether clear colours are wanted together; mood where the brief's mood is one of play
	}
	// Mixer is the section in which one wanted colour at a time is mixed.
	Mixer interface{ WorkOn(key int) }
	// Baser is the section that says what colourants of a batch go into; ok where the maker chose it.
	Baser interface {
		Base() (c colour.Lab, ok bool)
	}
	// Follower is a section that changes when another colour leads.
	Follower interface{ Led() }
	// Referrer is a section that refers to materials. Refer calls f for each of them and
	// keeps the number f returns; without ok it lets go of that material.
	Referrer interface {
		Refer(f func(id uint) (now uint, ok bool))
	}
	// Shower is a section that uses photos. Show calls f for each, by its hash, and
	// lets go of those for which f returns false.
	Shower interface {
		Show(f func(hash string) bool)
	}
)

// Palette is the tray: its cards in order, and which colour leads. LeadKey is
// that of a free colour, when LeadID is nil.
type Palette struct {
	Entries []Entry `json:"entries,omitempty"`
	LeadID  *uint   `json:"lead_id,omitempty"`
	LeadKey int     `json:"lead_key,omitempty"`
	Aside   []Aside `json:"aside,omitempty"` // what was set aside, the newest first
}

// Check refuses more cards than a tray holds.
func (t *Palette) Check() error {
	if len(t.Entries) > MaxTray {
		return words.Refuse("The tray holds %d cards, not %d. Set some aside first.", MaxTray, len(t.Entries))
	}
	return nil
}

func (t *Palette) Refer(f func(uint) (uint, bool)) {
	for i := range t.Entries {
		if e := &t.Entries[i]; e.MaterialID != nil {
			id, _ := f(*e.MaterialID)
			e.MaterialID = &id
		}
		t.Entries[i].Also = slices.DeleteFunc(slices.Clone(t.Entries[i].Also), func(m Medium) bool {
			_, ok := f(m.MaterialID)
			return !ok
		})
		for k, m := range t.Entries[i].Also {
			t.Entries[i].Also[k].MaterialID, _ = f(m.MaterialID)
		}
		for k := range t.Entries[i].Mix {
			if id, ok := f(t.Entries[i].Mix[k].MaterialID); ok {
				t.Entries[i].Mix[k].MaterialID = id
			}
		}
	}
	t.Aside = slices.DeleteFunc(slices.Clone(t.Aside), func(a Aside) bool {
		_, ok := f(a.MaterialID)
		return !ok
	})
	for i := range t.Aside {
		t.Aside[i].MaterialID, _ = f(t.Aside[i].MaterialID)
	}
	if t.LeadID != nil {
		if id, ok := f(*t.LeadID); ok {
			t.LeadID = &id
		} else {
			t.LeadID = nil
		}
	}
}

// Making is the piece and which card each of its parts takes.
type Making struct {
	Pattern  string        `json:"template,omitempty"` // the key of one of core/craft
	Settings piece.Values  `json:"settings,omitempty"`
	Fills    []Fill        `json:"fills,omitempty"`
	Pinned   []string      `json:"pinned,omitempty"` // parts that keep their card
	Last     []string      `json:"last,omitempty"`   // parts whose card is chosen last, and that stay open till then
	Groups   [][]string    `json:"groups,omitempty"` // parts that take one card together
	Splits   []piece.Split `json:"splits,omitempty"` // what is split off parts, with cards of its own
	Of       []string      `json:"of,omitempty"`     // kinds of material that it is made of; none for the plan's
	Before   []Making      `json:"before,omitempty"` // what was given to the parts of other patterns that it had
}

// mostParts bounds what is kept of the parts of a piece.
const mostParts = 500

// Check refuses what no piece has.
func (m *Making) Check() error {
	for i := range m.Before {
		if m.Before[i].Before != nil || len(m.Before) > mostParts {
			return words.Refuse("The piece’s earlier patterns cannot be read. Save the plan again.")
		}
		if err := m.Before[i].Check(); err != nil {
			return err
		}
	}
	if err := piece.CheckSplits(m.Splits); err != nil {
		return words.Refuse("The piece cannot be divided like that: %s.", err)
	}
	for _, k := range m.Of {
		if !slices.Contains(material.Kinds(), k) {
			return words.Refuse("%q is not a material type. Choose one from the list.", k)
		}
	}
	if max(len(m.Fills), len(m.Pinned), len(m.Last), len(m.Groups)) > mostParts {
		return words.Refuse("A piece has at most %d parts that take cards.", mostParts)
	}
	return nil
}

// Kept are the colourways.
type Kept struct {
	Colourways []Colourway `json:"colourways,omitempty"`
}

// Check refuses more colourways than a sheet shows.
func (k *Kept) Check() error {
	of := map[int]int{}
	for _, c := range k.Colourways {
		at := c.Piece
		if c.Whole != nil { // those of the set are counted by themselves
			at = -1
		}
		if of[at]++; of[at] > MaxColourways {
			return words.Refuse("You have %d colourways, the most a plan can hold. Remove one first.", MaxColourways)
		}
	}
	return nil
}

// Hiding are the notes that the maker hid, by their ID, and why.
type Hiding struct {
	Dismissed []string          `json:"dismissed,omitempty"`
	Remarks   map[string]string `json:"remarks,omitempty"`
}

// mostHidden bounds the notes that can be hidden.
const mostHidden = 500

// Check refuses more hidden notes than a plan has.
func (h *Hiding) Check() error {
	if len(h.Dismissed) > mostHidden+1 || len(h.Remarks) > mostHidden+1 {
		return words.Refuse("Too many notes are hidden. Show them again first.")
	}
	return nil
}

// Wanted are colours that the shelf lacks: to be bought, and to be mixed.
type Wanted struct {
	Wishes  []Wish `json:"wishes,omitempty"`
	Targets []Wish `json:"targets,omitempty"`
}

// MostWanted bounds the wishes, and the colours to be mixed.
const MostWanted = 200

// Check refuses lists that are too long.
func (w *Wanted) Check() error {
	if len(w.Wishes) > MostWanted {
		return words.Refuse("The wish list holds %d colours, the most it can. Remove one first.", MostWanted)
	}
	if len(w.Targets) > MostWanted {
		return words.Refuse("There are %d target colours on Mix already. Remove one first.", MostWanted)
	}
	return nil
}

// Torn are the colours torn from photos.
type Torn struct {
	Scraps []Scrap  `json:"scraps,omitempty"`
	Unread []string `json:"unread,omitempty"` // lines that were pasted and hold no colour yet
}

// Check refuses more scraps than the page holds.
func (t *Torn) Check() error {
	if len(t.Scraps) > MaxScraps {
		return words.Refuse("The scrap page holds %d scraps, the most it can. Delete one first.", MaxScraps)
	}
	if len(t.Unread) > MaxScraps {
		return words.Refuse("%d lines have no colour. Choose colours for some of them, or delete some.", len(t.Unread))
	}
	return nil
}

func (t *Torn) Show(f func(hash string) bool) {
	for i := range t.Scraps {
		if h := t.Scraps[i].Photo; h != nil && !f(*h) {
			t.Scraps[i].Photo = nil
		}
	}
}

// shared are the sections that the plan itself keeps, by name.
func (p *Plan) shared() map[string]Section {
	return map[string]Section{"tray": &p.Palette, "piece": &p.Making, "set": &p.Set, "colourways": &p.Kept, "notes": &p.Hiding,
		"wanted": &p.Wanted, "scraps": &p.Torn}
}

// all are all sections but the input, by name.
func (p *Plan) all() map[string]Section {
	out := p.shared()
	for name, s := range p.sections {
		out[name] = s
	}
	return out
}

// Of is the section of a stage, by its key. A stage calls it with its own type.
func Of[S any](p *Plan, key string) *S {
	if s, is := any(p.sections[key]).(*S); is {
		return s
	}
	fresh := new(S)
	if s, is := any(fresh).(Section); is {
		if p.sections == nil {
			p.sections = map[string]Section{}
		}
		p.sections[key] = s
	}
	return fresh
}

// reading finds the first section that answers to I.
func reading[I any](p *Plan) (I, bool) {
	for _, s := range p.sections {
		if i, is := s.(I); is {
			return i, true
		}
	}
	var none I
	return none, false
}

// Asked is the plan's brief.
func (p *Plan) Asked() brief.Brief {
	if a, is := reading[Asker](p); is {
		return a.Asked()
	}
	return brief.Brief{}
}

// Purpose is what the thing is for, as the maker wrote it.
func (p *Plan) Purpose() string {
	if s, is := reading[Purposer](p); is {
		return s.For()
	}
	return ""
}

// Limits are the limits of the plan's brief.
func (p *Plan) Limits() brief.Limits { return p.Asked().Limit() }

// OnWheel is the wheel the plan is turned on.
func (p *Plan) OnWheel() wheel.Wheel {
	if t, is := reading[Turner](p); is {
		return t.OnWheel()
	}
	return wheel.Pigment
}

// Lit is the scheme that is lit, empty for none.
func (p *Plan) Lit() string {
	if t, is := reading[Turner](p); is {
		return t.Lit()
	}
	return ""
}

// School is how the plan divides warm from cool.
func (p *Plan) School() wheel.School {
	if t, is := reading[Turner](p); is {
		return t.Divided()
	}
	return wheel.Schools()[0]
}

// Eye is how pairs of colours are judged.
func (p *Plan) Eye() balance.Eye {
	e := balance.Eye{Wheel: p.OnWheel(), School: p.School()}
	if t, is := reading[Turner](p); is {
		e.Places, e.Lively = t.Places(p), t.Lively(p.Asked().Limit().Play())
	}
	return e
}

// OneTemperature reports whether warm or cool alone is wanted: by the scheme that is lit, or by the brief.
func (p *Plan) OneTemperature() bool {
	limits := p.Asked().Limit()
	return limits.Warm != limits.Cool || p.Lit() == "analogous" || p.Lit() == "monochromatic"
}

// MadeOf are the kinds of material the piece that is worked on is made of: its own, or
// those of the plan.
func (p *Plan) MadeOf() []string {
	if len(p.Of) > 0 {
		return p.Of
	}
	return p.UsualKinds()
}

// UsualKinds are the kinds of material the plan is made of: those of its craft, until
// the maker says otherwise.
func (p *Plan) UsualKinds() []string {
	if len(p.Kinds) > 0 {
		return p.Kinds
	}
	of, _ := craft.Named(p.Craft)
	return of.Kinds
}

// Offers is what of the shelf is offered to the plan: cards of the kinds it is made of,
// those inside the brief's limits first.
func (p *Plan) Offers() *shelf.Offer {
	if p.offer == nil { // a plan that was not opened at a desk
		return p.Shelf.Offer(nil, nil)
	}
	return p.offer()
}

// OfTypes are the material types that are searched, in brackets after a space; empty for all of them.
func (p *Plan) OfTypes() string {
	kinds := p.MadeOf()
	if p.others || len(kinds) == 0 || len(kinds) == len(material.Kinds()) {
		return ""
	}
	return " (" + strings.Join(kinds, ", ") + ")"
}

// OfferAll offers what is of other kinds too, for as long as the plan is open.
func (p *Plan) OfferAll() { p.others = true }

// check tidies the plan's header and refuses what cannot be.
func (p *Plan) check() error {
	p.Plan.Name = strings.Join(strings.Fields(p.Plan.Name), " ")
	if p.Craft == "" {
		p.Craft = craft.Names()[0]
	}
	if p.Plan.Name == "" {
		return words.Refuse("Give the plan a name.")
	}
	if utf8.RuneCountInString(p.Plan.Name) > material.MaxName {
		return words.Refuse("The plan's name is longer than %d characters: shorten it.", material.MaxName)
	}
	if _, known := craft.Named(p.Craft); !known {
		return words.Refuse("%q is not a craft. Choose one of %s.", p.Craft, strings.Join(craft.Names(), ", "))
	}
	for _, k := range p.Kinds {
		if !slices.Contains(material.Kinds(), k) {
			return words.Refuse("%q is not a material type. Choose one from the list.", k)
		}
	}
	for _, s := range p.all() {
		if err := s.Check(); err != nil {
			return err
		}
	}
	return nil
}
