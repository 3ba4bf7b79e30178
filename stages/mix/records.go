package mix

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"strconv"
	"strings"
	"time"

	"lampfern/core/colour"
	"lampfern/core/material"
	"lampfern/core/words"
	"lampfern/plan"
	"lampfern/shelf"
	"lampfern/store"
)

// recordScope is where changes of records are kept for undo.
const recordScope = "mixes"

// What a record says.
const (
	dayForm    = "2006-01-02"
	anotherOne = 25.0 // ΔE00 from which a result is asked about
)

// States are how a mix can be read; the first is the usual one. Nothing is learned
// from wet ones.
func States() []string { return []string{"dry", "wet", "varnished"} }

// KeepRecord writes down what lies on the slab as really mixed, and what came out.
type KeepRecord struct {
	Result string `form:"result"` // # and six digits, or L*, a* and b*
	Day    string `form:"day,optional"`
	ReadAs string `form:"read_as,optional"`
	Light  string `form:"light,optional"`
	Remark string `form:"remark,optional"`
	Sure   bool   `form:"sure"`
}

// Act implements plan.Act.
func (e KeepRecord) Act(ctx context.Context, k *plan.Desk, p *plan.Plan) (string, error) {
	w, err := now(p)
	if err != nil {
		return "", err
	}
	v, err := View(ctx, k, p, false)
	if err != nil {
		return "", err
	}
	if v.Mixed == nil {
		return "", words.Refuse("Lay what was mixed on the slab first, then write down what came out.")
	}
	if v.LeftOff > 0 {
		return "", words.Refuse("%s on the slab of paints that are no longer chosen, so it is not what was mixed: choose those again, or clear the slab.", words.Capital(words.Count(v.LeftOff))+map[bool]string{true: " part lies", false: " parts lie"}[v.LeftOff == 1])
	}
	result, err := resultOf(e.Result)
	if err != nil {
		return "", err
	}
	made := time.Now()
	if e.Day != "" {
		if made, err = time.Parse(dayForm, e.Day); err != nil {
			return "", words.Refuse("Write the day as year, month and day, such as 2026-03-14.")
		}
	}
	if e.ReadAs == "" {
		e.ReadAs = States()[0]
	}
	if !slices.Contains(States(), e.ReadAs) {
		return "", words.Refuse("A mix is read dry, wet or varnished: choose one of these.")
	}
	if len([]rune(e.Remark)) > material.MaxRemark || len([]rune(e.Light)) > material.MaxField {
		return "", words.Refuse("The remark has at most %d characters, and the light %d: shorten them.", material.MaxRemark, material.MaxField)
	}
	off := colour.DeltaE2000(v.Mixed.Colour, result)
	if off > anotherOne && !e.Sure {
		return "", words.Refuse("That is %.0f from what was predicted, another colour altogether. Check the result and the parts; if it really came out so, tick “really so”: it is then kept apart, and nothing is learned from it.", off)
	}
	m := store.Mix{MadeAt: made, PlanID: &p.ID, Name: w.Name, Basis: v.Basis, ReadAs: e.ReadAs, Light: strings.TrimSpace(e.Light),
		L: result.L, A: result.A, B: result.B, KeptOff: off > anotherOne, Remark: strings.TrimSpace(e.Remark)}
	for _, r := range v.Rows {
		if r.Parts > 0 {
			m.Parts = append(m.Parts, store.MixPart{Material: r.ID, Parts: float64(r.Parts)})
		}
	}
	err = changeRecord(ctx, k, "write down "+w.Name, nil, &m)
	said := fmt.Sprintf("Written down: it came out %.1f from what was predicted, %.1f from what is wanted.", off, colour.DeltaE2000(w.Colour(), result))
	if e.ReadAs == "wet" {
		said += " It was read wet, so nothing is learned from it: write it down again when it is dry."
	}
	return said, err
}

// resultOf reads a colour as # and six digits, or as L*, a* and b*.
func resultOf(text string) (colour.Lab, error) {
	fields := strings.FieldsFunc(text, func(r rune) bool { return r == ' ' || r == ';' || r == '/' })
	if len(fields) == 3 {
		var v [3]float64
		for i, f := range fields {
			x, err := strconv.ParseFloat(strings.Replace(strings.TrimSuffix(f, ","), ",", ".", 1), 64)
			if err != nil {
				return colour.Lab{}, words.Refuse("%q is no number: write L*, a* and b* with spaces between, such as 48 -26 -4.", f)
			}
			v[i] = x
		}
		if !(v[0] >= 0 && v[0] <= 100 && max(v[1], v[2], -v[1], -v[2]) <= 160) {
			return colour.Lab{}, words.Refuse("L* runs from 0 to 100, a* and b* from -160 to 160: check the three numbers.")
		}
		return colour.Lab{L: v[0], A: v[1], B: v[2]}, nil
	}
	c, err := colour.ParseHex(text)
	if err != nil {
		return colour.Lab{}, words.Refuse("Write what came out as # and six digits, or as L*, a* and b*, such as 48 -26 -4.")
	}
	return c.Lab(), nil
}

// DropRecord takes a record away.
type DropRecord struct {
	ID uint `form:"id"`
}

// Act implements plan.Act.
func (e DropRecord) Act(ctx context.Context, k *plan.Desk, _ *plan.Plan) (string, error) {
	all, err := k.Store.Read(ctx).Mixes()
	if err != nil {
		return "", fmt.Errorf("reading the records of mixes: %w", err)
	}
	at := slices.IndexFunc(all, func(m store.Mix) bool { return m.ID == e.ID })
	if at < 0 {
		return "", words.Refuse("That record is no longer kept.")
	}
	return "The record is taken away. It can be brought back below the records.", changeRecord(ctx, k, "take a record of "+all[at].Name+" away", &all[at], nil)
}

// UndoRecords takes back the last change of the records.
type UndoRecords struct{}

// Act implements plan.Act.
func (UndoRecords) Act(ctx context.Context, k *plan.Desk, _ *plan.Plan) (string, error) {
	var label string
	err := k.Store.Write(ctx, func(tx store.Tx) (err error) {
		label, err = shelf.StepBack(tx, recordScope, true, func(state []byte) error {
			var of recordState
			if err := json.Unmarshal(state, &of); err != nil {
				return fmt.Errorf("reading a kept record: %w", err)
			}
			if of.Mix == nil {
				return tx.DropMix(of.ID)
			}
			return tx.PutMix(of.Mix)
		})
		return err
	})
	return "Undone: " + label + ".", err
}

// AsMaterial puts what came out of a record on the shelf, as a material that was mixed:
// its recipe stands in the remark.
type AsMaterial struct {
	ID   uint   `form:"id"`
	Name string `form:"name,optional"`
}

// Act implements plan.Act.
func (e AsMaterial) Act(ctx context.Context, k *plan.Desk, p *plan.Plan) (string, error) {
	all, err := k.Store.Read(ctx).Mixes()
	if err != nil {
		return "", fmt.Errorf("reading the records of mixes: %w", err)
	}
	at := slices.IndexFunc(all, func(m store.Mix) bool { return m.ID == e.ID })
	if at < 0 {
		return "", words.Refuse("That record is no longer kept.")
	}
	r := all[at]
	name, kind := strings.Join(strings.Fields(e.Name), " "), mixable()[0]
	if name == "" {
		name = r.Name
	}
	name = shelf.FreeName(name, "mixed", func(n string) bool {
		return slices.ContainsFunc(p.Shelf.Cards, func(c *shelf.Card) bool { return strings.EqualFold(c.Name, n) })
	})
	var of []string
	for _, part := range r.Parts {
		said := "a paint no longer kept"
		if c, err := p.Shelf.Card(part.Material); err == nil {
			said, kind = c.Name, c.Kind
		}
		of = append(of, fmt.Sprintf("%g %s", part.Parts, said))
	}
	remark := fmt.Sprintf("Mixed on %s by %s: %s. Read %s.", r.MadeAt.Format("2 January 2006"), r.Basis, strings.Join(of, ", "), r.ReadAs)
	_, err = k.SaveMaterial(ctx, 0, 0, material.Material{Name: name, Kind: kind, Colour: colour.Lab{L: r.L, A: r.A, B: r.B}, Source: "mixed", Remark: remark})
	return name + " lies on the shelf, with its recipe.", err
}

// recordState is one record before or after a change; nil when there was none.
type recordState struct {
	ID  uint
	Mix *store.Mix
}

// changeRecord writes a record, or takes one away, as one undoable step.
func changeRecord(ctx context.Context, k *plan.Desk, label string, before, after *store.Mix) error {
	return k.Store.Write(ctx, func(tx store.Tx) error {
		id := uint(0)
		if after != nil {
			if err := tx.PutMix(after); err != nil {
				return err
			}
			id = after.ID
		} else {
			id = before.ID
			if err := tx.DropMix(id); err != nil {
				return err
			}
		}
		return shelf.Journal(tx, recordScope, label, recordState{id, before}, recordState{id, after})
	})
}
