package mix

import (
	"context"
	"fmt"
	"slices"
	"strconv"
	"strings"
	"time"

	"lampfern/core/colour"
	"lampfern/core/form"
	"lampfern/core/material"
	"lampfern/core/mix"
	"lampfern/core/words"
	"lampfern/plan"
	"lampfern/shelf"
	"lampfern/store"
)

// What a record says.
const (
	dayForm    = "2006-01-02"
	anotherOne = 25.0 // ΔE00 from which a result is asked about
	sameResult = 0.1  // ΔE00 under which a field was entered already
)

// States are how a mix can be read; the first is the usual one. Nothing is learned
// from wet ones.
func States() []string { return []string{"dry", "wet", "varnished"} }

// Reading is how results were read.
type Reading struct {
	Day    string `form:"day,optional"`
	ReadAs string `form:"read_as,optional"`
	Light  string `form:"light,optional"`
	Remark string `form:"remark,optional"`
	Sure   bool   `form:"sure"`
}

// onto writes the reading into a record.
func (e Reading) onto(m *store.Mix) error {
	if e.Day != "" {
		made, err := time.Parse(dayForm, e.Day)
		if err != nil {
			return words.Refuse("Write the day as 2026-03-14.")
		}
		if m.MadeAt.Format(dayForm) != e.Day { // of the same day the hour is kept
			m.MadeAt = made
		}
	}
	if e.ReadAs == "" {
		e.ReadAs = States()[0]
	}
	if !slices.Contains(States(), e.ReadAs) {
		return words.Refuse("Choose dry, wet or varnished.")
	}
	m.ReadAs, m.Light, m.Remark = e.ReadAs, strings.TrimSpace(e.Light), strings.TrimSpace(e.Remark)
	if len([]rune(m.Remark)) > material.MaxRemark || len([]rune(m.Light)) > material.MaxField {
		return words.Refuse("The note has at most %d characters, and the light %d. Shorten them.", material.MaxRemark, material.MaxField)
	}
	return nil
}

// another says that a result is another colour altogether than was predicted.
func another(off float64) error {
	return words.Refuse("That is very different from the prediction (ΔE %.0f). Check the result and the parts. If it is right, tick “This result is correct”: it is saved, but not used for predictions.", off)
}

// newRecord is a record of the plan's wanted colour as it is mixed now.
func (v *MixView) newRecord(p *plan.Plan, name string) store.Mix {
	m := store.Mix{MadeAt: time.Now(), PlanID: &p.ID, Name: name, Way: v.As.Key, Basis: v.Basis, Additive: Of(p).Additive}
	if v.Ground != nil {
		m.Ground = []float64{v.Ground.L, v.Ground.A, v.Ground.B}
	}
	return m
}

// KeepRecord writes down what lies on the slab as really mixed, and what came out.
type KeepRecord struct {
	Result string `form:"result"` // # and six digits, or L*, a* and b*
	Reading
}

func (e KeepRecord) Act(ctx context.Context, k *plan.Desk, p *plan.Plan) (string, error) {
	v, err := OnSlab(ctx, k, p)
	if err != nil {
		return "", err
	}
	w := v.Now
	if v.Mixed == nil {
		return "", words.Refuse("Build what you mixed first, then record the result.")
	}
	if v.LeftOff > 0 {
		return "",
			words.Refuse("%s of paints no longer chosen. Choose those paints again, or clear the slab.",
				words.Capital(words.Count(v.LeftOff))+map[bool]string{true: " part is", false: " parts are"}[v.LeftOff == 1])
	}
	result, err := resultOf(e.Result)
	if err != nil {
		return "", err
	}
	m := v.newRecord(p, w.Name)
	if err := e.onto(&m); err != nil {
		return "", err
	}
	off := colour.DeltaE2000(v.Mixed.Colour, result)
	if off > anotherOne && !e.Sure {
		return "", another(off)
	}
	m.L, m.A, m.B, m.KeptOff = result.L, result.A, result.B, off > anotherOne
	if v.Batch != nil {
		m.Amount, m.Unit = v.Batch.Total, v.Batch.Unit
	}
	for _, r := range v.Rows {
		if r.Parts > 0 {
			of := float64(r.Parts)
			if v.Step > 0 {
				of *= v.Step
			}
			m.Parts = append(m.Parts, store.MixPart{Material: r.ID, Parts: of})
		}
	}
	err = changeRecords(ctx, k, "record "+w.Name, nil, []store.Mix{m})
	said := fmt.Sprintf("Recorded: ΔE %.1f from the prediction, ΔE %.1f from the target.", off,
		colour.DeltaE2000(w.Colour, result))
	if m.ReadAs == "wet" {
		said += " It was read wet, so it is not used. Record it again when dry."
	}
	return said, err
}

// KeepChart writes down what fields of a chart came out as. Fields without a result are
// left out.
type KeepChart struct {
	Name    string   `form:"chart,optional"` // of the chart
	Recipes []string // of the fields, as LayOut takes them
	Results []string
	Reading
}

func (e *KeepChart) Read(f *form.Form) error {
	e.Recipes, e.Results = f.Texts("recipe"), f.Texts("result")
	if len(e.Recipes) != len(e.Results) {
		return words.Refuse("Part of the chart is missing. Load the page again.")
	}
	return nil
}

func (e KeepChart) Act(ctx context.Context, k *plan.Desk, p *plan.Plan) (string, error) {
	records, err := recordsOf(ctx, k)
	if err != nil {
		return "", err
	}
	b, err := benchOf(ctx, k, p, chosen(p), records)
	if err != nil {
		return "", err
	}
	v := &MixView{As: b.as, Basis: b.basis, Ground: b.ground}
	var fresh []store.Mix
	var logs []mix.Log
	before, twice := 0.0, 0
	for i, text := range e.Results {
		if strings.TrimSpace(text) == "" {
			continue
		}
		result, err := resultOf(text)
		if err != nil {
			return "", words.Refuse("Square %d: %s", i+1, err)
		}
		m := v.newRecord(p, words.Capital(strings.TrimSpace(fmt.Sprintf("%s square %d", e.Name, i+1))))
		if err := e.onto(&m); err != nil {
			return "", err
		}
		parts := make([]float64, len(b.cards))
		for _, f := range strings.Fields(e.Recipes[i]) {
			var id, n uint
			if _, err := fmt.Sscanf(f, "%d.%d", &id, &n); err != nil {
				return "", words.Refuse("Part of the chart is missing. Load the page again.")
			}
			at := slices.IndexFunc(b.cards, func(c *shelf.Card) bool { return c.ID == id })
			if at < 0 {
				return "", words.Refuse("Square %d has a paint that is no longer chosen. Choose it again on Mix.", i+1)
			}
			parts[at] += float64(n)
			m.Parts = append(m.Parts, store.MixPart{Material: id, Parts: float64(n) * b.unit()})
		}
		if slices.ContainsFunc(records, func(r store.Mix) bool {
			return r.Name == m.Name && r.MadeAt.Format(dayForm) == m.MadeAt.Format(dayForm) && slices.Equal(r.Parts, m.Parts) &&
				colour.DeltaE2000(colourOf(r), result) < sameResult
		}) {
			twice++
			continue
		}
		off := colour.DeltaE2000(b.blend(parts), result)
		if off > anotherOne && !e.Sure {
			return "",
				words.Refuse("Square %d is very different from the prediction (ΔE %.0f). Check it. If it is right, tick “These results are correct”: it is saved, but not used for predictions.", i+1, off)
		}
		m.L, m.A, m.B, m.KeptOff = result.L, result.A, result.B, off > anotherOne
		fresh = append(fresh, m)
		if !m.KeptOff && m.ReadAs == States()[0] && m.Additive == "" {
			logs = append(logs, mix.Log{Parts: parts, Measured: result})
			before += off
		}
	}
	if len(fresh) == 0 && twice > 0 {
		return "These results are recorded already.", nil
	}
	if len(fresh) == 0 {
		return "", words.Refuse("No results yet. Write one beside at least one square.")
	}
	if err := changeRecords(ctx, k, "record "+words.Plural(len(fresh), "result", "results"), nil, fresh); err != nil {
		return "", err
	}
	said := words.Capital(words.Plural(len(fresh), "result", "results")) + " recorded."
	if len(logs) == 0 {
		return said + " They are not used for predictions.", nil
	}
	after := 0.0
	if records, err = k.Store.Read(ctx).Mixes(); err != nil {
		return said, err
	}
	then, err := benchOf(ctx, k, p, chosen(p), records)
	if err != nil {
		return said, err
	}
	for _, l := range logs {
		after += colour.DeltaE2000(l.Measured, then.blend(l.Parts))
	}
	n := float64(len(logs))
	return fmt.Sprintf("%s They were ΔE %.1f from the predictions on average, and ΔE %.1f with what these results add. Predictions are now accurate to about ΔE %g.", said, before/n, after/n, then.trust()), nil
}

// unit is what one part counts as in a record.
func (b bench) unit() float64 {
	if b.as.Way == mix.Doses {
		return b.step
	}
	return 1
}

// resultOf reads a colour as # and six digits, or as L*, a* and b*.
func resultOf(text string) (colour.Lab, error) {
	fields := strings.FieldsFunc(text, func(r rune) bool { return r == ' ' || r == ';' || r == '/' })
	if len(fields) == 3 {
		var v [3]float64
		for i, f := range fields {
			x, err := strconv.ParseFloat(strings.Replace(strings.TrimSuffix(f, ","), ",", ".", 1), 64)
			if err != nil {
				return colour.Lab{}, words.Refuse("%q is not a number. Write L*, a* and b*, such as 48 -26 -4.", f)
			}
			v[i] = x
		}
		if !(v[0] >= 0 && v[0] <= 100 && max(v[1], v[2], -v[1], -v[2]) <= 160) {
			return colour.Lab{}, words.Refuse("L* is from 0 to 100, a* and b* from -160 to 160. Check the three numbers.")
		}
		return colour.Lab{L: v[0], A: v[1], B: v[2]}, nil
	}
	c, err := colour.ParseHex(text)
	if err != nil {
		return colour.Lab{}, words.Refuse("Write the result as a code, or as L*, a* and b*, such as 48 -26 -4.")
	}
	return c.Lab(), nil
}

// record finds a record by its ID.
func record(ctx context.Context, k *plan.Desk, id uint) (store.Mix, error) {
	all, err := recordsOf(ctx, k)
	if err != nil {
		return store.Mix{}, err
	}
	at := slices.IndexFunc(all, func(m store.Mix) bool { return m.ID == id })
	if at < 0 {
		return store.Mix{}, words.Refuse("That record was deleted.")
	}
	return all[at], nil
}

// EditRecord corrects a record: what went in, what came out, and how it was read.
type EditRecord struct {
	ID       uint      `form:"id"`
	Name     string    `form:"name"`
	Result   string    `form:"result"`
	Additive string    `form:"additive,optional"`
	Parts    []float64 // in the order the record has them
	Reading
}

func (e *EditRecord) Read(f *form.Form) error {
	for _, t := range f.Texts("part") {
		v, err := strconv.ParseFloat(strings.Replace(strings.TrimSpace(t), ",", ".", 1), 64)
		if err != nil || !(v >= 0 && v <= mostTotal) {
			return words.Refuse("%q is not a number of parts. Write it in figures.", t)
		}
		e.Parts = append(e.Parts, v)
	}
	return nil
}

func (e EditRecord) Act(ctx context.Context, k *plan.Desk, p *plan.Plan) (string, error) {
	before, err := record(ctx, k, e.ID)
	if err != nil {
		return "", err
	}
	m := before
	if m.Name = strings.Join(strings.Fields(e.Name), " "); m.Name == "" || len([]rune(m.Name)) > material.MaxName {
		return "", words.Refuse("Give the record a name of at most %d characters.", material.MaxName)
	}
	if m.Additive = strings.Join(strings.Fields(e.Additive), " "); len([]rune(m.Additive)) > material.MaxField {
		return "", words.Refuse("The scent or additive has at most %d characters: shorten it.", material.MaxField)
	}
	result, err := resultOf(e.Result)
	if err != nil {
		return "", err
	}
	if result.Hex() != colourOf(m).Hex() || len(strings.Fields(e.Result)) == 3 { // a hex shows less than is kept
		m.L, m.A, m.B = result.L, result.A, result.B
	}
	if err := e.onto(&m); err != nil {
		return "", err
	}
	if len(e.Parts) != len(m.Parts) {
		return "", words.Refuse("Write a number for every part of the mix; 0 removes it.")
	}
	m.Parts = nil
	for i, n := range e.Parts {
		if n > 0 {
			m.Parts = append(m.Parts, store.MixPart{Material: before.Parts[i].Material, Parts: n})
		}
	}
	if len(m.Parts) == 0 {
		return "", words.Refuse("A mix has at least one part. Write how much of each.")
	}
	records, err := recordsOf(ctx, k)
	if err != nil {
		return "", err
	}
	b, err := benchOf(ctx, k, p, chosen(p), slices.DeleteFunc(records, func(r store.Mix) bool { return r.ID == m.ID }))
	if err != nil {
		return "", err
	}
	if log, ok := b.logOf(m); ok {
		off := colour.DeltaE2000(b.blend(log.Parts), colourOf(m))
		if off > anotherOne && !e.Sure {
			return "", another(off)
		}
		m.KeptOff = off > anotherOne
	}
	return "The record of " + m.Name + " is corrected.", changeRecords(ctx, k, "correct "+m.Name, []store.Mix{before}, []store.Mix{m})
}

// DropRecord takes a record away.
type DropRecord struct {
	ID uint `form:"id"`
}

func (e DropRecord) Act(ctx context.Context, k *plan.Desk, _ *plan.Plan) (string, error) {
	m, err := record(ctx, k, e.ID)
	if err != nil {
		return "", err
	}
	return "The record is deleted. You can undo it below the records.",
		changeRecords(ctx, k, "delete a record of "+m.Name, []store.Mix{m}, nil)
}

// UndoRecords takes back the last change of the records.
type UndoRecords struct{}

func (UndoRecords) Act(ctx context.Context, k *plan.Desk, _ *plan.Plan) (string, error) {
	var label string
	err := k.Store.Write(ctx, func(tx store.Tx) (err error) {
		label, err = shelf.UndoMixes(tx)
		return err
	})
	return "Undone: " + label + ".", err
}

// AsMaterial puts what came out of a record on the shelf, as a material that was mixed:
// its recipe stands in the remark, and the batch is its first lot.
type AsMaterial struct {
	ID   uint   `form:"id"`
	Name string `form:"name,optional"`
}

func (e AsMaterial) Act(ctx context.Context, k *plan.Desk, p *plan.Plan) (string, error) {
	r, err := record(ctx, k, e.ID)
	if err != nil {
		return "", err
	}
	name, kind := strings.Join(strings.Fields(e.Name), " "), mixable()[0]
	if name == "" {
		name = r.Name
	}
	name = shelf.FreeName(name, "mixed", func(n string) bool {
		return slices.ContainsFunc(p.Shelf.Cards, func(c *shelf.Card) bool { return strings.EqualFold(c.Name, n) })
	})
	of := recordWords(r, func(id uint) string {
		if id == waterID {
			return "water"
		}
		c, err := p.Shelf.Card(id)
		if err != nil {
			return "a deleted paint"
		}
		kind = c.Kind
		return c.Name
	})
	kind = becomes(r, kind, p)
	by := " by " + r.Basis
	if Unit(r.Basis) == "" || slices.Contains(material.DoseBases(), r.Basis) {
		by = ""
	}
	remark := fmt.Sprintf("Mixed on %s%s: %s. Read %s.", words.Date(r.MadeAt), by, of, r.ReadAs)
	if r.Additive != "" {
		remark += " With " + r.Additive + "."
	}
	if len([]rune(remark)) > material.MaxRemark {
		remark = string([]rune(remark)[:material.MaxRemark-1]) + "…"
	}
	lot := material.Lot{Name: "mixed " + words.ShortDate(r.MadeAt)}
	if slices.ContainsFunc(material.StockOf(kind).Units, func(u material.Unit) bool { return u.Name == r.Unit }) {
		lot.OnHand, lot.Unit = r.Amount, r.Unit
	}
	m := material.Material{Name: name, Kind: kind, Colour: colourOf(r), Source: "mixed", Remark: remark, Lots: []material.Lot{lot}}
	if r.Way == "soap" { // the colourants together, at the dose of all; what was weighed is the batter
		m.Lots, m.Dose = nil, material.Dose{TriedBasis: r.Basis}
		for _, part := range r.Parts {
			m.Dose.Tried += part.Parts
		}
	}
	_, err = k.SaveMaterial(ctx, 0, 0, m)
	return name + " is on the shelf, with its recipe.", err
}

// becomes is the kind of material that a mix became: what was dyed, poured or painted
// on, or still what was mixed.
func becomes(r store.Mix, kind string, p *plan.Plan) string {
	switch r.Way {
	case "soap":
		return "soap colourant"
	case "bath":
		if made := p.MadeOf(); slices.Contains([]string{"fabric", "yarn"}, made[0]) {
			return made[0]
		}
		return "fabric"
	case "glaze", "markers":
		return "paper"
	}
	return kind
}

// changeRecords writes records, or takes some away, as one undoable step.
func changeRecords(ctx context.Context, k *plan.Desk, label string, before, after []store.Mix) error {
	return k.Store.Write(ctx, func(tx store.Tx) error { return shelf.ChangeMixes(tx, label, before, after) })
}

// colourOf is what a record came out as.
func colourOf(m store.Mix) colour.Lab { return colour.Lab{L: m.L, A: m.A, B: m.B} }
