package plan

import (
	"encoding/json"
	"slices"
	"strings"
	"unicode/utf8"

	"lampfern/core/craft"
	"lampfern/core/material"
	"lampfern/core/piece"
	"lampfern/core/words"
)

// Bounds of a set.
const (
	MostPieces = 24  // of a plan
	MostTimes  = 500 // that one piece is made
)

// Set are the pieces of a plan that share its palette. A plan of one piece has none listed. The
// piece that is worked on lies in the plan itself, in Making and the input; the others are held.
type Set struct {
	At     int      `json:"at,omitempty"` // the key of the piece that is worked on
	Pieces []Member `json:"pieces,omitempty"`
}

// Member is one piece of a set.
type Member struct {
	Key   int    `json:"key"`
	Name  string `json:"name"`
	Times int    `json:"times,omitempty"` // it is made; 0 for once
	Out   bool   `json:"out,omitempty"`   // left out of the set for now
	Held  *Held  `json:"held,omitempty"`  // nil for the one that is worked on
}

// Made is how often the piece is made.
func (m Member) Made() int { return max(1, m.Times) }

// Held is what is kept of a piece while another is worked on.
type Held struct {
	Making
	Input    json.RawMessage            `json:"input,omitempty"`
	Sections map[string]json.RawMessage `json:"sections,omitempty"` // what stages keep of one piece, by stage
}

// Pieced is a section part of which belongs to the piece that is worked on. HoldPiece is that part
// as a document, nil for nothing; TakePiece puts another in its place.
type Pieced interface {
	HoldPiece() (json.RawMessage, error)
	TakePiece(doc json.RawMessage) error
}

// Check implements Section.
func (s *Set) Check() error {
	if len(s.Pieces) > MostPieces {
		return words.Refuse("A plan has at most %d pieces. Remove one first, or start another plan.", MostPieces)
	}
	seen, here := map[int]bool{}, 0
	for _, m := range s.Pieces {
		switch {
		case m.Key < 1 || seen[m.Key]:
			return words.Refuse("Two pieces of the plan have the same number. Save the plan again.")
		case m.Name == "" || utf8.RuneCountInString(m.Name) > material.MaxName:
			return words.Refuse("A piece has a name of at most %d characters.", material.MaxName)
		case m.Times < 0 || m.Times > MostTimes:
			return words.Refuse("You can make a piece 1 to %d times.", MostTimes)
		}
		seen[m.Key] = true
		if m.Held == nil {
			here++
			continue
		}
		if err := m.Held.Check(); err != nil {
			return err
		}
		if _, err := craft.Pattern(m.Held.Pattern); err != nil && m.Held.Pattern != "" {
			return words.Refuse("%s is from a newer Lamp Fern. Update to open it.", m.Name)
		}
	}
	if len(s.Pieces) > 0 && (here != 1 || !seen[s.At] || s.Pieces[s.at(s.At)].Held != nil) {
		return words.Refuse("The plan does not say which piece is being edited. Save the plan again.")
	}
	return nil
}

// at is where a piece stands, −1 for nowhere.
func (s *Set) at(key int) int {
	return slices.IndexFunc(s.Pieces, func(m Member) bool { return m.Key == key })
}

// heldInputs calls f with what was put into each held piece, and keeps what f made of it where f
// says that it changed.
func (s *Set) heldInputs(f func(in *Plan) (changed bool, err error)) error {
	for i := range s.Pieces {
		h := s.Pieces[i].Held
		if h == nil || len(h.Input) == 0 {
			continue
		}
		of := &Plan{Making: h.Making, put: input{doc: h.Input}}
		changed, err := f(of)
		if err != nil {
			return err
		}
		if changed {
			h.Input = of.put.doc
		}
	}
	return nil
}

// hold is what is kept of the piece that is worked on.
func (p *Plan) hold() (*Held, error) {
	h := &Held{Making: p.Making.apart(), Input: slices.Clone(p.put.doc)}
	for name, s := range p.sections {
		if part, is := s.(Pieced); is {
			doc, err := part.HoldPiece()
			if err != nil {
				return nil, err
			}
			if doc != nil {
				if h.Sections == nil {
					h.Sections = map[string]json.RawMessage{}
				}
				h.Sections[name] = doc
			}
		}
	}
	return h, nil
}

// take makes a held piece the one that is worked on.
func (p *Plan) take(h *Held) error {
	p.Making, p.put = h.Making, input{doc: h.Input}
	for name, s := range p.sections {
		if part, is := s.(Pieced); is {
			if err := part.TakePiece(h.Sections[name]); err != nil {
				return err
			}
		}
	}
	return nil
}

// Members are the pieces of the plan in order; the one piece of a plan without a set is one too.
func (p *Plan) Members() []Member {
	if len(p.Pieces) > 0 {
		return p.Pieces
	}
	if p.Pattern == "" {
		return nil
	}
	return []Member{{Key: p.At, Name: nameOf(p.Pattern)}}
}

func nameOf(pattern string) string {
	t, err := craft.Pattern(pattern)
	if err != nil {
		return "piece"
	}
	return t.Name
}

// As is the plan as if a piece of its set were the one that is worked on, to be read and not
// changed.
func (k *Desk) As(p *Plan, m Member) (*Plan, error) {
	if m.Held == nil {
		return p, nil
	}
	of := *p
	of.sections = p.sections
	of.At, of.Making, of.put = m.Key, m.Held.Making, input{doc: m.Held.Input}
	return &of, k.furnish(&of)
}

// member is a piece of the plan by its key.
func (d *Draft) member(key int) (*Member, error) {
	d.list()
	if at := d.Plan.at(key); at >= 0 {
		return &d.Plan.Pieces[at], nil
	}
	return nil, words.Refuse("That piece is no longer in the plan.")
}

// list lists the one piece of a plan that had no list yet; what is kept of it is then of piece 1.
func (d *Draft) list() {
	if len(d.Plan.Pieces) > 0 || d.Plan.Pattern == "" {
		return
	}
	d.Plan.Set = Set{At: 1, Pieces: []Member{{Key: 1, Name: nameOf(d.Plan.Pattern)}}}
	for i, c := range d.Plan.Colourways {
		if c.Whole == nil {
			d.Plan.Colourways[i].Piece = 1
		}
	}
}

// turnTo makes a piece of the set the one that is worked on.
func (d *Draft) turnTo(key int) error {
	m, err := d.member(key)
	if err != nil || m.Held == nil {
		return err
	}
	old, err := d.member(d.Plan.At)
	if err != nil {
		return err
	}
	if old.Held, err = d.Plan.hold(); err != nil {
		return err
	}
	held := m.Held
	m.Held, d.Plan.At = nil, key
	if err := d.Plan.take(held); err != nil {
		return err
	}
	d.Plan.dropGone()
	return nil
}

// dropGone lets parts go of cards that are no longer in the tray.
func (p *Plan) dropGone() {
	p.Fills = slices.DeleteFunc(p.Fills, func(f Fill) bool {
		return !slices.ContainsFunc(p.Entries, func(e Entry) bool { return e.Key == f.EntryKey })
	})
}

// free is a name that no piece of the plan has yet.
func (d *Draft) free(name string) string {
	taken := func(n string) bool {
		return slices.ContainsFunc(d.Plan.Pieces, func(m Member) bool { return strings.EqualFold(m.Name, n) })
	}
	out := name
	for n := 2; taken(out); n++ {
		tail := " " + words.Count(n)
		r := []rune(name)
		out = string(r[:min(len(r), material.MaxName-len([]rune(tail)))]) + tail
	}
	return out
}

// add puts another piece into the set after the one that is worked on.
func (d *Draft) addMember(name string, held *Held) (int, error) {
	if len(d.Plan.Pieces) >= MostPieces {
		return 0, words.Refuse("A plan has at most %d pieces. Remove one first, or start another plan.", MostPieces)
	}
	key := 1
	for _, m := range d.Plan.Pieces {
		key = max(key, m.Key+1)
	}
	for _, c := range d.Plan.Colourways { // those of a piece that was taken away stay by themselves
		key = max(key, c.Piece+1)
	}
	at := d.Plan.at(d.Plan.At) + 1
	d.Plan.Pieces = slices.Insert(d.Plan.Pieces, at, Member{Key: key, Name: d.free(name), Held: held})
	return key, nil
}

// AddPiece adds a piece of a pattern to the plan, coloured by the tray, and turns to it.
type AddPiece struct {
	Pattern string `form:"pattern"`
}

func (e AddPiece) Do(d *Draft) (string, error) {
	t, err := craft.Pattern(e.Pattern)
	if err != nil {
		return "", words.Refuse("The piece is not possible: %s.", err)
	}
	if d.Plan.Pattern == "" { // it is the first
		return ChoosePiece{Pattern: e.Pattern}.Do(d)
	}
	d.list()
	key, err := d.addMember(t.Name, &Held{})
	if err != nil {
		return "", err
	}
	if err := d.turnTo(key); err != nil {
		return "", err
	}
	if _, err := (ChoosePiece{Pattern: e.Pattern}).Do(d); err != nil {
		return "", err
	}
	m, err := d.member(key)
	if err != nil {
		return "", err
	}
	return "add the " + m.Name, nil
}

// CopyPiece adds a piece that is like another in all, and turns to it.
type CopyPiece struct {
	Key int `form:"key"`
}

func (e CopyPiece) Do(d *Draft) (string, error) {
	m, err := d.member(e.Key)
	if err != nil {
		return "", err
	}
	name, held := m.Name, m.Held
	if held == nil {
		if held, err = d.Plan.hold(); err != nil {
			return "", err
		}
	}
	doc, err := json.Marshal(held)
	if err != nil {
		return "", err
	}
	copied := &Held{}
	if err := json.Unmarshal(doc, copied); err != nil {
		return "", err
	}
	key, err := d.addMember(name, copied)
	if err != nil {
		return "", err
	}
	return "copy the " + name, d.turnTo(key)
}

// WorkOn turns to a piece of the set.
type WorkOn struct {
	Key int `form:"key"`
}

func (e WorkOn) Do(d *Draft) (string, error) {
	m, err := d.member(e.Key)
	if err != nil || m.Held == nil {
		return "", err
	}
	return "edit the " + m.Name, d.turnTo(e.Key)
}

// NamePiece writes a piece's name, and how often it is made.
type NamePiece struct {
	Key   int    `form:"key"`
	Name  string `form:"name"`
	Times int    `form:"times"`
}

func (e NamePiece) Do(d *Draft) (string, error) {
	m, err := d.member(e.Key)
	if err != nil {
		return "", err
	}
	e.Name = strings.Join(strings.Fields(e.Name), " ")
	if e.Name == "" || utf8.RuneCountInString(e.Name) > material.MaxName {
		return "", words.Refuse("A piece has a name of at most %d characters.", material.MaxName)
	}
	if slices.ContainsFunc(d.Plan.Pieces, func(o Member) bool { return o.Key != e.Key && strings.EqualFold(o.Name, e.Name) }) {
		return "", words.Refuse("Another piece is called %s. Choose another name.", e.Name)
	}
	if e.Times < 1 || e.Times > MostTimes {
		return "", words.Refuse("You can make a piece 1 to %d times.", MostTimes)
	}
	m.Name, m.Times = e.Name, e.Times
	if e.Times == 1 {
		m.Times = 0
	}
	return "name the " + e.Name, nil
}

// MovePiece puts a piece at another place of the set, counted from 0.
type MovePiece struct {
	Key int `form:"key"`
	To  int `form:"to"`
}

func (e MovePiece) Do(d *Draft) (string, error) {
	m, err := d.member(e.Key)
	if err != nil {
		return "", err
	}
	moved, at := *m, d.Plan.at(e.Key)
	rest := slices.Delete(d.Plan.Pieces, at, at+1)
	d.Plan.Pieces = slices.Insert(rest, max(0, min(e.To, len(rest))), moved)
	return "move the " + moved.Name, nil
}

// LeaveOut leaves a piece out of the set for now, or takes it in again.
type LeaveOut struct {
	Key int  `form:"key"`
	Out bool `form:"out"`
}

func (e LeaveOut) Do(d *Draft) (string, error) {
	m, err := d.member(e.Key)
	if err != nil {
		return "", err
	}
	m.Out = e.Out
	if e.Out {
		return "hide the " + m.Name, nil
	}
	return "show the " + m.Name, nil
}

// DropPiece takes a piece out of the plan.
type DropPiece struct {
	Key int `form:"key"`
}

func (e DropPiece) Do(d *Draft) (string, error) {
	m, err := d.member(e.Key)
	if err != nil {
		return "", err
	}
	if len(d.Plan.Pieces) == 1 {
		return "", words.Refuse("It is the only piece. Change its pattern instead.")
	}
	name, at := m.Name, d.Plan.at(e.Key)
	if m.Held == nil {
		next := d.Plan.Pieces[(at+1)%len(d.Plan.Pieces)].Key
		if err := d.turnTo(next); err != nil {
			return "", err
		}
	}
	d.Plan.Pieces = slices.DeleteFunc(d.Plan.Pieces, func(o Member) bool { return o.Key == e.Key })
	d.Plan.Colourways = slices.DeleteFunc(d.Plan.Colourways, func(c Colourway) bool { return c.Piece == e.Key && c.Whole == nil })
	return "remove the " + name, nil
}

// apart is a copy that shares nothing that edits change.
func (m Making) apart() Making {
	m.Fills, m.Pinned, m.Groups, m.Splits = slices.Clone(m.Fills), slices.Clone(m.Pinned), slices.Clone(m.Groups), slices.Clone(m.Splits)
	m.Last = slices.Clone(m.Last)
	for i := range m.Groups {
		m.Groups[i] = slices.Clone(m.Groups[i])
	}
	return m
}

// toPattern changes the pattern of the piece that is worked on. What was given to the parts of the
// one before is kept, and what was kept of the new one comes back; its settings too where none are
// given.
func (d *Draft) toPattern(pattern string, settings piece.Values) {
	m := &d.Plan.Making
	if pattern == m.Pattern {
		m.Settings = settings
		return
	}
	before := slices.Clone(m.Before)
	was := -1
	for i, b := range before {
		if b.Pattern == pattern {
			was = i
		}
	}
	fresh := Making{Pattern: pattern, Settings: settings, Of: m.Of}
	if was >= 0 {
		kept := before[was]
		if len(settings) > 0 {
			kept.Settings = settings
		}
		kept.Of = m.Of
		fresh, before = kept, slices.Delete(before, was, was+1)
	} else {
		of := m.apart()
		fresh.Fills, fresh.Pinned, fresh.Last, fresh.Groups = of.Fills, of.Pinned, of.Last, of.Groups
	}
	if m.Pattern != "" {
		old := m.apart()
		old.Before = nil
		before = append(before, old)
	}
	fresh.Before = before
	d.Plan.Making = fresh
	d.Plan.dropGone()
}

// Recolour gives the parts of pieces, by their keys, other cards; pinned parts change too, for it is
// asked of the whole set.
func (d *Draft) Recolour(fills map[int]map[string]int) {
	fill := func(m *Making, of map[string]int) {
		m.Fills = nil
		for part, key := range of {
			m.Fills = append(m.Fills, Fill{Part: part, EntryKey: key})
		}
		for _, s := range m.Splits { // what was split off since goes with its part
			if key, given := of[s.Part]; given && of[s.Key()] == 0 {
				m.Fills = append(m.Fills, Fill{Part: s.Key(), EntryKey: key})
			}
		}
		slices.SortFunc(m.Fills, func(a, b Fill) int { return strings.Compare(a.Part, b.Part) })
	}
	for key, of := range fills {
		if at := d.Plan.at(key); at >= 0 && d.Plan.Pieces[at].Held != nil {
			fill(&d.Plan.Pieces[at].Held.Making, of)
		} else if key == d.Plan.At {
			fill(&d.Plan.Making, of)
		}
	}
}
