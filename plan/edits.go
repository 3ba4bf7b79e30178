package plan

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"unicode/utf8"

	"lampfern/core/form"
	"lampfern/core/piece"
	"lampfern/core/words"
	"lampfern/shelf"
)

// Entry is the place in the tray of a card by its key, and the card; one that is
// not there is refused.
func (d *Draft) Entry(key int) (int, *shelf.Card, error) {
	for i, e := range d.Plan.Entries {
		if e.Key == key {
			c, err := CardOf(d.Shelf, e)
			return i, c, err
		}
	}
	return 0, nil, words.Refuse("That card is no longer in the tray.")
}

// ChosenPiece is the plan's piece; a plan without one is refused.
func (d *Draft) ChosenPiece() (*Piece, error) {
	if d.Plan.Pattern == "" {
		return nil, words.Refuse("Choose a piece first.")
	}
	return d.Desk.pieceOf(d.Plan)
}

// Pull puts a material into the tray; it takes the first part of the piece
// that is still empty. Pulling one that is there already changes nothing.
type Pull struct {
	Material uint `form:"material"`
}

func (e Pull) Do(d *Draft) (string, error) {
	c, err := d.Shelf.Card(e.Material)
	if err != nil || c.Removed {
		return "", words.Refuse("That material is no longer on the shelf.")
	}
	if d.holds(e.Material) {
		return "", nil
	}
	d.Plan.backFromAside(e.Material)
	return "pull " + c.Name, d.Add(Entry{MaterialID: &e.Material})
}

func (d *Draft) holds(materialID uint) bool {
	return slices.ContainsFunc(d.Plan.Entries, func(e Entry) bool { return e.MaterialID != nil && *e.MaterialID == materialID })
}

// Add puts an entry into the tray under a key of its own; it takes the first
// part of the piece that is still empty.
func (d *Draft) Add(e Entry) error {
	if len(d.Plan.Entries) >= MaxTray {
		return words.Refuse("The tray holds %d cards, the most it can. Set one aside first.", MaxTray)
	}
	e.Key = d.Plan.newKey()
	d.Plan.Entries = append(d.Plan.Entries, e)
	if parts := d.emptyParts(); len(parts) > 0 {
		d.Plan.Fills = append(d.Plan.Fills, Fill{Part: parts[0], EntryKey: e.Key})
	}
	return nil
}

// newKey is a key of the tray that nothing in the plan speaks of yet.
func (p *Plan) newKey() int {
	key := 1
	past := func(k int) { key = max(key, k+1) }
	for _, e := range p.Entries {
		past(e.Key)
	}
	for _, c := range p.Colourways {
		for k := range c.keys() {
			past(k)
		}
	}
	of := func(m Making) {
		for _, f := range m.Fills {
			past(f.EntryKey)
		}
	}
	all := []Making{p.Making}
	for _, m := range p.Pieces {
		if m.Held != nil {
			all = append(all, m.Held.Making)
		}
	}
	for _, m := range all {
		of(m)
		for _, b := range m.Before {
			of(b)
		}
	}
	return key
}

// emptyParts lists the parts of the piece that no card fills.
func (d *Draft) emptyParts() []string {
	if d.Plan.Pattern == "" {
		return nil
	}
	p, err := d.ChosenPiece()
	if err != nil {
		return nil
	}
	var empty []string
	for i, part := range p.Parts {
		if !p.Covered(i) && !slices.Contains(d.Plan.Last, part.Key) && !slices.ContainsFunc(d.Plan.Fills, func(f Fill) bool { return f.Part == part.Key }) {
			empty = append(empty, part.Key)
		}
	}
	return empty
}

// SetAside takes a card out of the tray and out of the parts it filled.
type SetAside struct {
	Key int `form:"key"`
}

func (e SetAside) Do(d *Draft) (string, error) {
	i, c, err := d.Entry(e.Key)
	if err != nil {
		return "", err
	}
	if id := d.Plan.Entries[i].MaterialID; id != nil {
		d.Plan.layAside(*id)
	}
	for j := range d.Plan.Colourways { // those of before cards were kept with them
		d.freeze(&d.Plan.Colourways[j], e.Key)
	}
	d.Plan.Entries = slices.Delete(d.Plan.Entries, i, i+1)
	d.Plan.Fills = slices.DeleteFunc(d.Plan.Fills, func(f Fill) bool { return f.EntryKey == e.Key })
	if d.Plan.LeadKey == e.Key {
		d.Plan.LeadKey = 0
	}
	return "set aside " + c.Name, nil
}

// Move puts a card at another place of the tray, counted from 0; places past
// the end mean the end.
type Move struct {
	Key int `form:"key"`
	To  int `form:"to"`
}

func (x Move) Do(d *Draft) (string, error) {
	i, c, err := d.Entry(x.Key)
	if err != nil {
		return "", err
	}
	e := d.Plan.Entries[i]
	rest := slices.Delete(d.Plan.Entries, i, i+1)
	d.Plan.Entries = slices.Insert(rest, max(0, min(x.To, len(rest))), e)
	return "move " + c.Name, nil
}

// Swap lets two cards trade places, in the tray and in the piece; parts that are
// pinned keep theirs.
type Swap struct {
	Key  int `form:"key"`
	With int `form:"with"`
}

func (e Swap) Do(d *Draft) (string, error) {
	i, ca, err := d.Entry(e.Key)
	if err != nil {
		return "", err
	}
	j, cb, err := d.Entry(e.With)
	if err != nil {
		return "", err
	}
	for at, name := range map[int]string{i: ca.Name, j: cb.Name} {
		if e := d.Plan.Entries[at]; !e.Movable() {
			return "", words.Refuse("%s %s and keeps its place. Choose another card.", name,
				map[bool]string{true: "is a fixed colour", false: "is outside the scheme"}[e.Given])
		}
	}
	d.Plan.Entries[i], d.Plan.Entries[j] = d.Plan.Entries[j], d.Plan.Entries[i]
	for k := range d.Plan.Fills {
		switch f := &d.Plan.Fills[k]; {
		case d.Pinned(f.Part):
		case f.EntryKey == e.Key:
			f.EntryKey = e.With
		case f.EntryKey == e.With:
			f.EntryKey = e.Key
		}
	}
	return fmt.Sprintf("swap %s and %s", ca.Name, cb.Name), nil
}

// LeadWith makes a material the lead colour and turns the light to it.
type LeadWith struct {
	Material uint
}

func (e LeadWith) Do(d *Draft) (string, error) {
	c, err := d.Shelf.Card(e.Material)
	if err != nil || c.Removed {
		return "", words.Refuse("That material is no longer on the shelf.")
	}
	lead := c.ID
	d.Plan.LeadID, d.Plan.LeadKey = &lead, 0
	d.Led()
	return "make the lead colour " + c.Name, nil
}

// LeadWithCard makes a card of the tray the lead colour: a material, or a free
// colour.
type LeadWithCard struct {
	Key int
}

func (e LeadWithCard) Do(d *Draft) (string, error) {
	i, c, err := d.Entry(e.Key)
	if err != nil {
		return "", err
	}
	if id := d.Plan.Entries[i].MaterialID; id != nil {
		return LeadWith{Material: *id}.Do(d)
	}
	d.Plan.LeadID, d.Plan.LeadKey = nil, e.Key
	d.Led()
	return "make the lead colour " + c.Name, nil
}

// ChoosePiece chooses the piece and its settings. Parts that the new piece
// also has keep their card; the rest are filled in tray order.
type ChoosePiece struct {
	Pattern  string `form:"pattern"`
	Settings piece.Values
}

func (e *ChoosePiece) Read(f *form.Form) error {
	e.Settings = f.Numbers("set-")
	return nil
}

func (e ChoosePiece) Do(d *Draft) (string, error) {
	for k, v := range e.Settings {
		if math.IsNaN(v) || math.IsInf(v, 0) {
			return "", words.Refuse("%s must be a number.", k)
		}
	}
	if _, err := d.Desk.Piece(d.Plan, e.Pattern, e.Settings); err != nil {
		return "", err
	}
	was := d.Plan.Pattern
	if e.Pattern != was {
		d.toPattern(e.Pattern, e.Settings)
	} else {
		d.Plan.Settings = e.Settings
	}
	p, err := d.ChosenPiece()
	if err != nil {
		return "", err
	}
	if e.Pattern != was {
		d.arrange(p)
	}
	d.settleParts(p)
	return "choose " + p.Name, nil
}

// FillRest gives the parts without a card the cards without a part, in order,
// and when those run out starts again from the first card.
type FillRest struct{}

func (FillRest) Do(d *Draft) (string, error) {
	if len(d.Plan.Entries) == 0 {
		return "", words.Refuse("The tray is empty. Add a card first.")
	}
	d.fillRest()
	return "fill the empty parts", nil
}

func (d *Draft) fillRest() {
	if len(d.Plan.Entries) == 0 {
		return
	}
	var free []int
	var all []int // what is fixed is placed by hand
	for _, e := range d.Plan.Entries {
		if !e.Movable() {
			continue
		}
		all = append(all, e.Key)
		if !slices.ContainsFunc(d.Plan.Fills, func(f Fill) bool { return f.EntryKey == e.Key }) {
			free = append(free, e.Key)
		}
	}
	if len(all) == 0 {
		return
	}
	for i, part := range d.emptyParts() {
		key := all[i%len(all)]
		if i < len(free) {
			key = free[i]
		}
		d.Plan.Fills = append(d.Plan.Fills, Fill{Part: part, EntryKey: key})
	}
}

// FillPart gives a part of the piece, and those grouped with it, a card, or with key
// 0 none. A part that is pinned keeps its own.
type FillPart struct {
	Part string `form:"part"`
	Key  int    `form:"key"`
}

func (e FillPart) Do(d *Draft) (string, error) {
	p, at, err := d.partOf(e.Part)
	if err != nil {
		return "", err
	}
	if d.Pinned(e.Part) {
		return "", words.Refuse("The %s is pinned. Unpin it in the list of parts first.", p.Parts[at].Name)
	}
	takes := slices.DeleteFunc(d.Grouped(e.Part), d.Pinned)
	d.Plan.Fills = slices.DeleteFunc(d.Plan.Fills, func(f Fill) bool { return slices.Contains(takes, f.Part) })
	if e.Key == 0 {
		return "clear the " + p.Parts[at].Name, nil
	}
	_, c, err := d.Entry(e.Key)
	if err != nil {
		return "", err
	}
	d.Plan.Last = slices.DeleteFunc(d.Plan.Last, func(part string) bool { return slices.Contains(takes, part) })
	for _, q := range takes {
		d.Plan.Fills = append(d.Plan.Fills, Fill{Part: q, EntryKey: e.Key})
	}
	d.SortFills()
	return c.Name + " to the " + p.Parts[at].Name, nil
}

// SortFills keeps fills in order of part, so that putting a card where it was
// changes nothing.
func (d *Draft) SortFills() {
	slices.SortFunc(d.Plan.Fills, func(a, b Fill) int { return strings.Compare(a.Part, b.Part) })
}

// ReverseFills turns the order of the cards round: the first part that has a
// card takes the last one's, and so on. Pinned parts keep theirs.
type ReverseFills struct{}

func (ReverseFills) Do(d *Draft) (string, error) {
	p, err := d.ChosenPiece()
	if err != nil {
		return "", err
	}
	var at []int // the fills in order of parts
	for _, part := range p.Parts {
		if i := slices.IndexFunc(d.Plan.Fills, func(f Fill) bool { return f.Part == part.Key }); i >= 0 && !d.Stays(part.Key) &&
			!piece.IsTone(part.Key) {
			at = append(at, i)
		}
	}
	if len(at) < 2 {
		return "", words.Refuse("At least two parts need a card that is not pinned.")
	}
	for i, j := 0, len(at)-1; i < j; i, j = i+1, j-1 {
		a, b := &d.Plan.Fills[at[i]], &d.Plan.Fills[at[j]]
		a.EntryKey, b.EntryKey = b.EntryKey, a.EntryKey
	}
	return "reverse the order", nil
}

// MaxRemark is how long a remark of the maker's may be, in characters.
const MaxRemark = 160

// Dismiss hides a note for this plan, with the maker's reason if there is one.
type Dismiss struct {
	Note   string `form:"note"`
	Remark string `form:"remark"`
}

func (e Dismiss) Do(d *Draft) (string, error) {
	if e.Remark = strings.Join(strings.Fields(e.Remark), " "); utf8.RuneCountInString(e.Remark) > MaxRemark {
		return "", words.Refuse("A note has at most %d characters. Shorten it.", MaxRemark)
	}
	if len(e.Note) > 200 || len(d.Plan.Dismissed) >= mostHidden {
		return "", words.Refuse("Too many notes are hidden. Show them again first.")
	}
	if !slices.Contains(d.Plan.Dismissed, e.Note) {
		d.Plan.Dismissed = append(d.Plan.Dismissed, e.Note)
	}
	delete(d.Plan.Remarks, e.Note)
	if e.Remark != "" {
		if d.Plan.Remarks == nil {
			d.Plan.Remarks = map[string]string{}
		}
		d.Plan.Remarks[e.Note] = e.Remark
	}
	return "hide a note", nil
}

// ShowNote brings one hidden note back.
type ShowNote struct {
	Note string `form:"note"`
}

func (e ShowNote) Do(d *Draft) (string, error) {
	d.Plan.Dismissed = slices.DeleteFunc(d.Plan.Dismissed, func(n string) bool { return n == e.Note })
	delete(d.Plan.Remarks, e.Note)
	return "show a hidden note", nil
}

// ShowNotes brings every hidden note back.
type ShowNotes struct{}

func (ShowNotes) Do(d *Draft) (string, error) {
	d.Plan.Dismissed, d.Plan.Remarks = []string{}, map[string]string{}
	return "show hidden notes", nil
}

// PutAway puts a plan away or brings it back.
type PutAway struct {
	Away bool `form:"away"`
}

func (e PutAway) Do(d *Draft) (string, error) {
	d.Plan.PutAway = e.Away
	if e.Away {
		return "archive the plan", nil
	}
	return "restore the plan", nil
}

// Replace puts a material in the place of a card of the tray: it takes the
// card's parts and, where it led, the lead.
type Replace struct {
	Key      int  `form:"key"`
	Material uint `form:"material"`
}

func (e Replace) Do(d *Draft) (string, error) {
	i, old, err := d.Entry(e.Key)
	if err != nil {
		return "", err
	}
	c, err := d.Shelf.Card(e.Material)
	if err != nil || c.Removed {
		return "", words.Refuse("That material is no longer on the shelf.")
	}
	if d.holds(e.Material) {
		return "", words.Refuse("%s is in the tray already. Set %s aside instead.", c.Name, old.Name)
	}
	if d.Plan.LeadKey == e.Key || d.Plan.LeadID != nil && *d.Plan.LeadID == old.ID {
		d.Plan.LeadID, d.Plan.LeadKey = &e.Material, 0
	}
	if id := d.Plan.Entries[i].MaterialID; id != nil {
		d.Plan.layAside(*id)
	}
	d.Plan.backFromAside(e.Material)
	d.Plan.Entries[i] = Entry{Key: e.Key, MaterialID: &e.Material, Given: d.Plan.Entries[i].Given, Apart: d.Plan.Entries[i].Apart, Also: d.Plan.Entries[i].Also}
	return fmt.Sprintf("replace %[2]s by %[1]s", c.Name, old.Name), nil
}
