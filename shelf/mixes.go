package shelf

import (
	"encoding/json"
	"fmt"
	"strings"

	"lampfern/core/colour"
	"lampfern/core/words"
	"lampfern/exchange"
	"lampfern/store"
)

// mixScope is where changes of the records of mixes are kept for undo.
const mixScope = "mixes"

// mixState is one record before or after a change; nil when there was none.
type mixState struct {
	ID  uint
	Mix *store.Mix
}

// ChangeMixes writes records of mixes, or takes some away, as one undoable step. Those
// before and after are the same ones; either may be none.
func ChangeMixes(tx store.Tx, label string, before, after []store.Mix) error {
	var was, now []mixState
	for i := range after {
		if err := tx.PutMix(&after[i]); err != nil {
			return err
		}
		now = append(now, mixState{after[i].ID, &after[i]})
		if before == nil {
			was = append(was, mixState{ID: after[i].ID})
		}
	}
	for i := range before {
		was = append(was, mixState{before[i].ID, &before[i]})
		if after == nil {
			if err := tx.DropMix(before[i].ID); err != nil {
				return err
			}
			now = append(now, mixState{ID: before[i].ID})
		}
	}
	return Journal(tx, mixScope, label, was, now)
}

// UndoMixes takes back the last change of the records and says which it was.
func UndoMixes(tx store.Tx) (label string, err error) {
	return StepBack(tx, mixScope, true, func(state []byte) error {
		var of []mixState
		if err := json.Unmarshal(state, &of); err != nil {
			var one mixState // as an earlier program kept it
			if err := json.Unmarshal(state, &one); err != nil {
				return fmt.Errorf("reading a kept record: %w", err)
			}
			of = []mixState{one}
		}
		for _, r := range of {
			err := error(nil)
			if r.Mix == nil {
				err = tx.DropMix(r.ID)
			} else {
				err = tx.PutMix(r.Mix)
			}
			if err != nil {
				return err
			}
		}
		return nil
	})
}

// MixSteps says what undo would do to the records, empty when nothing.
func MixSteps(tx store.Tx) (undo string, err error) {
	undo, _, err = tx.Labels(mixScope)
	return undo, err
}

// mixesOut are the records as they travel. Those of materials that are unknown here are
// left out.
func mixesOut(sh *Shelf, all []store.Mix) []exchange.MixRecord {
	out := []exchange.MixRecord{}
	for _, m := range all {
		r := exchange.MixRecord{MadeAt: m.MadeAt, Name: m.Name, Way: m.Way, Basis: m.Basis, Ground: m.Ground, ReadAs: m.ReadAs, Light: m.Light,
			L: m.L, A: m.A, B: m.B, KeptOff: m.KeptOff, Amount: m.Amount, Unit: m.Unit, Additive: m.Additive, Remark: m.Remark}
		known := true
		for _, p := range m.Parts {
			name := ""
			if p.Material != 0 {
				c, err := sh.Card(p.Material)
				if known = known && err == nil; !known {
					break
				}
				name = c.Name
			}
			r.Parts = append(r.Parts, exchange.MixPart{Material: name, Parts: p.Parts})
		}
		if known {
			out = append(out, r)
		}
	}
	return out
}

// mixesIn are the records of a list that are not kept yet, of materials by name.
func mixesIn(list []exchange.MixRecord, kept []store.Mix, named func(name string) (uint, bool)) []store.Mix {
	key := func(m store.Mix) string {
		return fmt.Sprint(m.MadeAt.Unix(), m.Name, colour.Lab{L: m.L, A: m.A, B: m.B})
	}
	there := map[string]bool{}
	for _, m := range kept {
		there[key(m)] = true
	}
	var out []store.Mix
	for _, r := range list {
		m := store.Mix{MadeAt: r.MadeAt, Name: r.Name, Way: r.Way, Basis: r.Basis, Ground: r.Ground, ReadAs: r.ReadAs, Light: r.Light,
			L: r.L, A: r.A, B: r.B, KeptOff: r.KeptOff, Amount: r.Amount, Unit: r.Unit, Additive: r.Additive, Remark: r.Remark}
		known := !there[key(m)]
		for _, p := range r.Parts {
			id, ok := uint(0), true
			if p.Material != "" {
				id, ok = named(strings.ToLower(p.Material))
			}
			known = known && ok
			m.Parts = append(m.Parts, store.MixPart{Material: id, Parts: p.Parts})
		}
		if known {
			there[key(m)] = true
			out = append(out, m)
		}
	}
	return out
}

// takeMixes writes the records of a list beside the rows that came with it, and says
// how many.
func takeMixes(tx store.Tx, sh *Shelf, list []exchange.MixRecord, rows []store.Material, from string) (int, error) {
	kept, err := tx.Mixes()
	if err != nil {
		return 0, fmt.Errorf("reading the records of mixes: %w", err)
	}
	ids := map[string]uint{}
	for _, c := range sh.Cards {
		ids[strings.ToLower(c.Name)] = c.ID
	}
	for _, r := range rows {
		ids[strings.ToLower(r.Name)] = r.ID
	}
	fresh := mixesIn(list, kept, func(name string) (uint, bool) { id, ok := ids[name]; return id, ok })
	if len(fresh) == 0 {
		return 0, nil
	}
	return len(fresh), ChangeMixes(tx, fmt.Sprintf("import %s of mixes from %s", words.Plural(len(fresh), "record", "records"), from), nil,
		fresh)
}

// Words says what was brought in.
func (c Came) Words() string {
	var said []string
	if c.Added > 0 {
		said = append(said, words.Plural(c.Added, "material is", "materials are")+" now on the shelf")
	}
	if c.Updated > 0 {
		said = append(said, words.Plural(c.Updated, "is", "are")+" updated")
	}
	if c.Mixes > 0 {
		said = append(said, words.Plural(c.Mixes, "record of a mix is", "records of mixes are")+" kept")
	}
	return words.Capital(words.List(said)) + "."
}
