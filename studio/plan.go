package studio

import (
	"context"
	"encoding/json"
	"fmt"
	"math"
	"slices"
	"strings"
	"unicode/utf8"

	"lampfern/core/balance"
	"lampfern/core/colour"
	"lampfern/core/material"
	"lampfern/core/piece"
	"lampfern/core/wheel"
	"lampfern/store"
)

// Crafts lists what can be planned; the first is the default.
func Crafts() []string {
	return []string{"quilt", "garment", "knitting or crochet", "weaving", "soap", "cards", "printed parts", "painted models", "building parts", "other"}
}

// MaxTray is the most cards a palette holds.
const MaxTray = 40

// Plan is a plan with everything its stages need.
type Plan struct {
	store.Plan
	Shelf *Shelf
	Tray  []TrayCard
	Lead  *Card  // nil when none is chosen
	Piece *Piece // nil when none is chosen
	Undo  string // what undo would take back, empty when nothing
	Redo  string
}

// TrayCard is one card of the palette. Share and Role are those it has in the
// piece.
type TrayCard struct {
	*Card
	Key   int
	Parts []string // names of the parts it fills
	Share float64
	Role  balance.Role
}

// NewPlan starts a plan with the first piece of its craft, where there is one.
func (s *Studio) NewPlan(ctx context.Context, name, craft string) (uint, error) {
	p := store.Plan{Name: name, Craft: craft}
	all := piece.Templates()
	if at := slices.IndexFunc(all, func(t piece.Template) bool { return string(t.Craft) == craft }); at >= 0 {
		p.Template = all[at].Key
	}
	if err := s.sound(&p); err != nil {
		return 0, err
	}
	err := s.store.Write(ctx, func(tx store.Tx) error { return tx.AddPlan(&p) })
	return p.ID, err
}

// sound tidies a plan's own fields and refuses what cannot be.
func (s *Studio) sound(p *store.Plan) error {
	p.Name = strings.Join(strings.Fields(p.Name), " ")
	if p.Craft == "" {
		p.Craft = Crafts()[0]
	}
	if p.Name == "" {
		return refuse("Give the plan a name.")
	}
	if utf8.RuneCountInString(p.Name) > material.MaxName {
		return refuse("The plan's name is longer than %d characters: shorten it.", material.MaxName)
	}
	if !slices.Contains(Crafts(), p.Craft) {
		return refuse("The craft %q is not known: choose one of %s.", p.Craft, strings.Join(Crafts(), ", "))
	}
	if p.Scheme != "" {
		places, err := wheel.Pigment.Scheme(p.Scheme, 0, variant(*p))
		if err != nil {
			return refuse("The scheme cannot be lit: %s.", err)
		}
		// Another form of a scheme may have fewer places.
		p.Adjusted = slices.DeleteFunc(p.Adjusted, func(a store.Adjusted) bool {
			return a.Index < 0 || a.Index >= len(places) || !(math.Abs(a.Nudge) <= mostNudge)
		})
	}
	if _, err := wheel.Find(p.WheelKey); err != nil {
		return refuse("The wheel cannot be turned: %s.", err)
	}
	if _, err := wheel.FindSchool(p.School); err != nil {
		return refuse("Warm and cool cannot be divided: %s.", err)
	}
	if err := p.Brief.Tidy(); err != nil {
		return refuse("The brief cannot be kept: %s.", err)
	}
	if err := soundRun(&p.Run); err != nil {
		return err
	}
	if err := soundRamps(p.Ramps); err != nil {
		return err
	}
	if p.Template != "" {
		if _, err := s.piece(p.Template, p.Settings, p.Own); err != nil {
			return err
		}
	}
	return nil
}

func variant(p store.Plan) wheel.Variant {
	return wheel.Variant{Neighbours: p.Neighbours, OneSided: p.OneSided, Centred: p.Centred, Wide: p.Wide}
}

// PlanSummary is a plan as the list of plans shows it.
type PlanSummary struct {
	store.Plan
	Cards []*Card
}

// Plans lists the plans, the one worked on last first.
func (s *Studio) Plans(ctx context.Context) ([]PlanSummary, error) {
	sh, err := s.Shelf(ctx)
	if err != nil {
		return nil, err
	}
	rows, err := s.store.Read(ctx).Plans()
	if err != nil {
		return nil, fmt.Errorf("reading the plans: %w", err)
	}
	out := make([]PlanSummary, len(rows))
	for i, r := range rows {
		out[i].Plan = r
		for _, e := range r.Entries {
			if c, err := sh.of(e); err == nil {
				out[i].Cards = append(out[i].Cards, c)
			}
		}
	}
	return out, nil
}

func planScope(id uint) string { return fmt.Sprintf("plan/%d", id) }

// Open returns a plan ready to show.
func (s *Studio) Open(ctx context.Context, id uint) (*Plan, error) {
	tx := s.store.Read(ctx)
	row, err := tx.Plan(id)
	if err != nil {
		return nil, err
	}
	sh, err := s.Shelf(ctx)
	if err != nil {
		return nil, err
	}
	p, err := s.furnish(row, sh)
	if err != nil {
		return nil, err
	}
	p.Undo, p.Redo, err = tx.Labels(planScope(id))
	return p, err
}

// furnish joins a plan's row with its cards, piece, shares and roles.
func (s *Studio) furnish(row store.Plan, sh *Shelf) (*Plan, error) {
	p := &Plan{Plan: row, Shelf: sh}
	for _, e := range row.Entries {
		c, err := sh.of(e)
		if err != nil {
			return nil, fmt.Errorf("the card %d of plan %d: %w", e.Key, row.ID, err)
		}
		p.Tray = append(p.Tray, TrayCard{Card: c, Key: e.Key, Role: balance.Unused})
	}
	if row.LeadID != nil {
		c, err := sh.Card(*row.LeadID)
		if err != nil {
			return nil, fmt.Errorf("the lead colour of plan %d: %w", row.ID, err)
		}
		p.Lead = c
	}
	for _, t := range p.Tray {
		if row.LeadID == nil && row.LeadKey == t.Key {
			p.Lead = t.Card
		}
	}
	if row.Template == "" {
		return p, nil
	}
	var err error
	if p.Piece, err = s.piece(row.Template, row.Settings, row.Own); err != nil {
		return nil, err
	}
	thin := make([]bool, len(p.Tray))
	for i := range thin {
		thin[i] = true
	}
	for part, at := range p.fill() {
		if at < 0 {
			continue
		}
		p.Tray[at].Parts = append(p.Tray[at].Parts, p.Piece.Parts[part].Name)
		thin[at] = thin[at] && p.Piece.Thin[part]
	}
	layout := p.layout()
	for i, r := range balance.Roles(layout, p.labs(), thin) {
		p.Tray[i].Role, p.Tray[i].Share = r, layout.Share[i]
	}
	return p, nil
}

// FreeKind is the kind of a free colour, which is no material yet.
const FreeKind = "free colour"

// of is the card of an entry: a material, or a free colour, whose ID is 0.
func (sh *Shelf) of(e store.Entry) (*Card, error) {
	if e.MaterialID != nil {
		return sh.Card(*e.MaterialID)
	}
	return freeCard(e.Name, colour.Lab{L: e.L, A: e.A, B: e.B}), nil
}

// OnWheel is the wheel the plan is turned on, and school how it divides warm from
// cool. Both are checked before a plan is saved.
func (p *Plan) OnWheel() wheel.Wheel {
	w, err := wheel.Find(p.WheelKey)
	if err != nil {
		return wheel.Pigment
	}
	return w
}

func (p *Plan) school() wheel.School {
	s, err := wheel.FindSchool(p.School)
	if err != nil {
		return wheel.Schools()[0]
	}
	return s
}

// fill gives, for each part of the piece, the index of its card in the tray,
// or −1.
func (p *Plan) fill() []int {
	at := map[int]int{}
	for i, t := range p.Tray {
		at[t.Key] = i
	}
	fill := make([]int, len(p.Piece.Parts))
	for i, part := range p.Piece.Parts {
		fill[i] = -1
		for _, f := range p.Fills {
			if f.Part == part.Key {
				fill[i] = at[f.EntryKey]
			}
		}
	}
	return fill
}

func (p *Plan) layout() balance.Layout {
	return balance.Layout{Share: p.Piece.Shares, Border: p.Piece.Borders}.Merge(p.fill(), len(p.Tray))
}

func (p *Plan) labs() []colour.Lab {
	labs := make([]colour.Lab, len(p.Tray))
	for i, t := range p.Tray {
		labs[i] = t.Colour
	}
	return labs
}

// Change applies an edit to the plan as read at revision, as one undoable
// step. ErrConflict tells that the plan was saved since; nothing is written
// then. An edit that changes nothing writes nothing.
func (s *Studio) Change(ctx context.Context, id uint, revision int64, edit Edit) error {
	return s.store.Write(ctx, func(tx store.Tx) error {
		row, err := tx.Plan(id)
		if err != nil {
			return err
		}
		if row.Revision != revision {
			return ErrConflict
		}
		all, err := s.shelfWithin(tx)
		if err != nil {
			return err
		}
		before, err := json.Marshal(row)
		if err != nil {
			return fmt.Errorf("keeping the plan as it was: %w", err)
		}
		d := &draft{plan: &row, shelf: all, studio: s}
		label, err := edit(d)
		if err != nil {
			return err
		}
		if err := s.sound(&row); err != nil {
			return err
		}
		after, err := json.Marshal(row)
		if err != nil {
			return fmt.Errorf("keeping the plan as it is: %w", err)
		}
		if string(before) == string(after) {
			return nil
		}
		if err := tx.SavePlan(&row); err != nil {
			return err
		}
		return tx.Record(&store.Step{Scope: planScope(id), Label: label, Before: before, After: after})
	})
}

// shelfWithin is the shelf as a transaction sees it; the remembered one is
// used when it is of the same version.
func (s *Studio) shelfWithin(tx store.Tx) (*Shelf, error) {
	version, err := tx.ShelfVersion()
	if err != nil {
		return nil, err
	}
	s.mu.Lock()
	kept := s.shelf
	s.mu.Unlock()
	if kept != nil && kept.version == version {
		return kept, nil
	}
	rows, err := tx.Materials()
	if err != nil {
		return nil, err
	}
	return newShelf(version, rows), nil
}

// StepPlan undoes or redoes the last change of a plan and says which.
func (s *Studio) StepPlan(ctx context.Context, id uint, revision int64, undo bool) (label string, err error) {
	return s.stepBack(ctx, planScope(id), undo, func(tx store.Tx, state []byte) error {
		now, err := tx.Plan(id)
		if err != nil {
			return err
		}
		if now.Revision != revision {
			return ErrConflict
		}
		var row store.Plan
		if err := json.Unmarshal(state, &row); err != nil {
			return fmt.Errorf("reading a kept state of plan %d: %w", id, err)
		}
		row.ID, row.Revision, row.CreatedAt = id, now.Revision, now.CreatedAt
		return tx.SavePlan(&row)
	})
}
