package studio

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"unicode/utf8"

	"lampfern/core/material"
	"lampfern/core/wheel"
	"lampfern/store"
)

// Edit changes a plan and says in a few words what it did, for undo. Edits are
// made by the functions below and applied by Studio.Change.
type Edit func(*draft) (label string, err error)

// draft is a plan while it is edited.
type draft struct {
	plan   *store.Plan
	shelf  *Shelf
	studio *Studio
}

func (d *draft) entry(key int) (int, *Card, error) {
	for i, e := range d.plan.Entries {
		if e.Key == key {
			c, err := d.shelf.of(e)
			return i, c, err
		}
	}
	return 0, nil, refuse("That card is no longer in the tray.")
}

// chosenPiece is the plan's piece; a plan without one is refused.
func (d *draft) chosenPiece() (*Piece, error) {
	if d.plan.Template == "" {
		return nil, refuse("Choose a piece first.")
	}
	return d.studio.piece(d.plan.Template, d.plan.Settings, d.plan.Own)
}

// Pull puts a material into the tray; it takes the first part of the piece
// that is still empty. Pulling one that is there already changes nothing.
func Pull(materialID uint) Edit {
	return func(d *draft) (string, error) {
		c, err := d.shelf.Card(materialID)
		if err != nil || c.Removed {
			return "", refuse("That material is no longer on the shelf.")
		}
		if d.holds(materialID) {
			return "", nil
		}
		return "pull " + c.Name, d.add(store.Entry{MaterialID: &materialID})
	}
}

func (d *draft) holds(materialID uint) bool {
	return slices.ContainsFunc(d.plan.Entries, func(e store.Entry) bool { return e.MaterialID != nil && *e.MaterialID == materialID })
}

// add puts an entry into the tray under a key of its own; it takes the first
// part of the piece that is still empty.
func (d *draft) add(e store.Entry) error {
	if len(d.plan.Entries) >= MaxTray {
		return refuse("The tray holds %d cards and is full: set one aside first.", MaxTray)
	}
	e.Key = 1
	for _, other := range d.plan.Entries {
		e.Key = max(e.Key, other.Key+1)
	}
	d.plan.Entries = append(d.plan.Entries, e)
	if parts := d.emptyParts(); len(parts) > 0 {
		d.plan.Fills = append(d.plan.Fills, store.Fill{Part: parts[0], EntryKey: e.Key})
	}
	return nil
}

// emptyParts lists the parts of the piece that no card fills.
func (d *draft) emptyParts() []string {
	if d.plan.Template == "" {
		return nil
	}
	p, err := d.chosenPiece()
	if err != nil {
		return nil
	}
	var empty []string
	for _, part := range p.Parts {
		if !slices.ContainsFunc(d.plan.Fills, func(f store.Fill) bool { return f.Part == part.Key }) {
			empty = append(empty, part.Key)
		}
	}
	return empty
}

// SetAside takes a card out of the tray and out of the parts it filled.
func SetAside(key int) Edit {
	return func(d *draft) (string, error) {
		i, c, err := d.entry(key)
		if err != nil {
			return "", err
		}
		d.plan.Entries = slices.Delete(d.plan.Entries, i, i+1)
		d.plan.Fills = slices.DeleteFunc(d.plan.Fills, func(f store.Fill) bool { return f.EntryKey == key })
		if d.plan.LeadKey == key {
			d.plan.LeadKey = 0
		}
		return "set aside " + c.Name, nil
	}
}

// Move puts a card at another place of the tray, counted from 0; places past
// the end mean the end.
func Move(key, to int) Edit {
	return func(d *draft) (string, error) {
		i, c, err := d.entry(key)
		if err != nil {
			return "", err
		}
		e := d.plan.Entries[i]
		rest := slices.Delete(d.plan.Entries, i, i+1)
		d.plan.Entries = slices.Insert(rest, max(0, min(to, len(rest))), e)
		return "move " + c.Name, nil
	}
}

// Swap lets two cards trade places, in the tray and in the piece; parts that are
// pinned keep theirs.
func Swap(a, b int) Edit {
	return func(d *draft) (string, error) {
		i, ca, err := d.entry(a)
		if err != nil {
			return "", err
		}
		j, cb, err := d.entry(b)
		if err != nil {
			return "", err
		}
		d.plan.Entries[i], d.plan.Entries[j] = d.plan.Entries[j], d.plan.Entries[i]
		for k := range d.plan.Fills {
			switch f := &d.plan.Fills[k]; {
			case d.pinned(f.Part):
			case f.EntryKey == a:
				f.EntryKey = b
			case f.EntryKey == b:
				f.EntryKey = a
			}
		}
		return fmt.Sprintf("swap %s and %s", ca.Name, cb.Name), nil
	}
}

// LeadWith makes a material the lead colour and turns the light to it.
func LeadWith(materialID uint) Edit {
	return func(d *draft) (string, error) {
		c, err := d.shelf.Card(materialID)
		if err != nil || c.Removed {
			return "", refuse("That material is no longer on the shelf.")
		}
		lead := c.ID
		d.plan.LeadID, d.plan.LeadKey = &lead, 0
		d.led()
		return "lead with " + c.Name, nil
	}
}

// LeadWithCard makes a card of the tray the lead colour: a material, or a free
// colour.
func LeadWithCard(key int) Edit {
	return func(d *draft) (string, error) {
		i, c, err := d.entry(key)
		if err != nil {
			return "", err
		}
		if id := d.plan.Entries[i].MaterialID; id != nil {
			return LeadWith(*id)(d)
		}
		d.plan.LeadID, d.plan.LeadKey = nil, key
		d.led()
		return "lead with " + c.Name, nil
	}
}

// led turns the light to a new lead colour.
func (d *draft) led() {
	d.plan.Turn, d.plan.FromBoldest = 0, false
	if d.plan.Scheme == "" {
		d.plan.Scheme = "complementary"
	}
}

// TurnTo turns the scheme's light, in whole places clockwise from the lead
// colour's own place.
func TurnTo(places int) Edit {
	return func(d *draft) (string, error) {
		d.plan.Turn = int(wheel.Turn(float64(places), 0))
		return "turn the light", nil
	}
}

// Light chooses the scheme and its form.
func Light(scheme string, v wheel.Variant) Edit {
	return func(d *draft) (string, error) {
		p := d.plan
		if p.Scheme != scheme {
			p.Adjusted = nil
		}
		p.Scheme, p.Neighbours, p.OneSided, p.Centred, p.Wide = scheme, v.Neighbours, v.OneSided, v.Centred, v.Wide
		return "light " + scheme, nil
	}
}

// ChoosePiece chooses the piece and its settings. Parts that the new piece
// also has keep their card; the rest are filled in tray order.
func ChoosePiece(template string, settings map[string]float64) Edit {
	return func(d *draft) (string, error) {
		for k, v := range settings {
			if math.IsNaN(v) || math.IsInf(v, 0) {
				return "", refuse("%s must be a number.", k)
			}
		}
		p, err := d.studio.piece(template, settings, d.plan.Own)
		if err != nil {
			return "", err
		}
		d.plan.Template, d.plan.Settings = template, settings
		d.settleParts(p)
		return "choose " + p.Name, nil
	}
}

// FillRest gives the parts without a card the cards without a part, in order,
// and when those run out starts again from the first card.
func FillRest() Edit {
	return func(d *draft) (string, error) {
		if len(d.plan.Entries) == 0 {
			return "", refuse("The tray is empty: pull a card first.")
		}
		d.fillRest()
		return "fill the empty parts", nil
	}
}

func (d *draft) fillRest() {
	if len(d.plan.Entries) == 0 {
		return
	}
	var free []int
	for _, e := range d.plan.Entries {
		if !slices.ContainsFunc(d.plan.Fills, func(f store.Fill) bool { return f.EntryKey == e.Key }) {
			free = append(free, e.Key)
		}
	}
	for i, part := range d.emptyParts() {
		key := d.plan.Entries[i%len(d.plan.Entries)].Key
		if i < len(free) {
			key = free[i]
		}
		d.plan.Fills = append(d.plan.Fills, store.Fill{Part: part, EntryKey: key})
	}
}

// Fill gives a part of the piece, and those grouped with it, a card, or with key
// 0 none. A part that is pinned keeps its own.
func Fill(part string, key int) Edit {
	return func(d *draft) (string, error) {
		p, at, err := d.partOf(part)
		if err != nil {
			return "", err
		}
		if d.pinned(part) {
			return "", refuse("The %s is pinned and keeps its card: unpin it in the list of parts first.", p.Parts[at].Name)
		}
		takes := slices.DeleteFunc(d.grouped(part), d.pinned)
		d.plan.Fills = slices.DeleteFunc(d.plan.Fills, func(f store.Fill) bool { return slices.Contains(takes, f.Part) })
		if key == 0 {
			return "empty the " + p.Parts[at].Name, nil
		}
		_, c, err := d.entry(key)
		if err != nil {
			return "", err
		}
		for _, q := range takes {
			d.plan.Fills = append(d.plan.Fills, store.Fill{Part: q, EntryKey: key})
		}
		d.sortFills()
		return c.Name + " to the " + p.Parts[at].Name, nil
	}
}

// sortFills keeps fills in order of part, so that putting a card where it was
// changes nothing.
func (d *draft) sortFills() {
	slices.SortFunc(d.plan.Fills, func(a, b store.Fill) int { return strings.Compare(a.Part, b.Part) })
}

// ReverseFills turns the order of the cards round: the first part that has a
// card takes the last one's, and so on. Pinned parts keep theirs.
func ReverseFills() Edit {
	return func(d *draft) (string, error) {
		p, err := d.chosenPiece()
		if err != nil {
			return "", err
		}
		var at []int // the fills in order of parts
		for _, part := range p.Parts {
			if i := slices.IndexFunc(d.plan.Fills, func(f store.Fill) bool { return f.Part == part.Key }); i >= 0 && !d.pinned(part.Key) {
				at = append(at, i)
			}
		}
		if len(at) < 2 {
			return "", refuse("Fewer than two parts have a card that is not pinned, so there is no order to turn round.")
		}
		for i, j := 0, len(at)-1; i < j; i, j = i+1, j-1 {
			a, b := &d.plan.Fills[at[i]], &d.plan.Fills[at[j]]
			a.EntryKey, b.EntryKey = b.EntryKey, a.EntryKey
		}
		return "turn the order of the cards round", nil
	}
}

// Dismiss hides a note for this plan, with the maker's reason if there is one.
func Dismiss(note, remark string) Edit {
	return func(d *draft) (string, error) {
		if remark = strings.Join(strings.Fields(remark), " "); utf8.RuneCountInString(remark) > maxRemark {
			return "", refuse("A remark has at most %d characters: shorten it.", maxRemark)
		}
		if len(note) > 200 || len(d.plan.Dismissed) > 500 {
			return "", refuse("Too many notes are hidden: show them again first.")
		}
		if !slices.Contains(d.plan.Dismissed, note) {
			d.plan.Dismissed = append(d.plan.Dismissed, note)
		}
		delete(d.plan.Remarks, note)
		if remark != "" {
			if d.plan.Remarks == nil {
				d.plan.Remarks = map[string]string{}
			}
			d.plan.Remarks[note] = remark
		}
		return "hide a note", nil
	}
}

// ShowNote brings one hidden note back.
func ShowNote(note string) Edit {
	return func(d *draft) (string, error) {
		d.plan.Dismissed = slices.DeleteFunc(d.plan.Dismissed, func(n string) bool { return n == note })
		delete(d.plan.Remarks, note)
		return "show a hidden note", nil
	}
}

// ShowNotes brings every hidden note back.
func ShowNotes() Edit {
	return func(d *draft) (string, error) {
		d.plan.Dismissed, d.plan.Remarks = []string{}, map[string]string{}
		return "show hidden notes", nil
	}
}

// Describe names the plan and says what it is for.
func Describe(name, craft, purpose string) Edit {
	return func(d *draft) (string, error) {
		if len([]rune(purpose)) > material.MaxRemark {
			return "", refuse("The purpose is longer than %d characters: shorten it.", material.MaxRemark)
		}
		d.plan.Name, d.plan.Craft, d.plan.Purpose = name, craft, purpose
		return "describe the plan", nil
	}
}

// PutAway puts a plan away or brings it back.
func PutAway(away bool) Edit {
	return func(d *draft) (string, error) {
		d.plan.PutAway = away
		if away {
			return "put the plan away", nil
		}
		return "bring the plan back", nil
	}
}
