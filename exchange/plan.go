package exchange

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"

	"lampfern/core/brief"
	"lampfern/core/colour"
	"lampfern/core/material"
	"lampfern/core/value"
)

// PlanFormat and PlanVersion stand at the head of every plan file.
const (
	PlanFormat  = "lampfern-plan"
	PlanVersion = 1
)

// MaxPlanBytes is the largest plan file read.
const MaxPlanBytes = 5 << 20

// Limits of a plan file.
const (
	maxPalette = 200
	maxFills   = 500
	maxTried   = 500 // combinations
)

// Plan is a plan with its materials, on its own and complete. Materials are
// referred to by their name, palette cards by their key.
type Plan struct {
	Name       string             `json:"name"`
	Craft      string             `json:"craft,omitempty"`
	Purpose    string             `json:"purpose,omitempty"`
	Scheme     string             `json:"scheme,omitempty"`
	Neighbours int                `json:"neighbours,omitempty"`
	OneSided   bool               `json:"one_sided,omitempty"`
	Centred    bool               `json:"centred,omitempty"`
	Wide       bool               `json:"wide,omitempty"`
	Lead       string             `json:"lead,omitempty"`
	Turn       int                `json:"turn,omitempty"`
	Palette    []PlanCard         `json:"palette"`
	Piece      string             `json:"piece,omitempty"`
	Settings   map[string]float64 `json:"settings,omitempty"`
	Own        json.RawMessage    `json:"own,omitempty"`
	Fills      map[string]int     `json:"fills,omitempty"`
	Pinned     []string           `json:"pinned,omitempty"`
	Last       []string           `json:"last,omitempty"`
	Groups     [][]string         `json:"groups,omitempty"`
	Dismissed  []string           `json:"dismissed,omitempty"`
	Remarks    map[string]string  `json:"remarks,omitempty"`
	Scraps     []PlanScrap        `json:"scraps,omitempty"`

	Wheel        string            `json:"wheel,omitempty"`
	School       string            `json:"school,omitempty"`
	ClearPairs   string            `json:"clear_pairs,omitempty"`
	FromBoldest  bool              `json:"from_boldest,omitempty"`
	Nearest      bool              `json:"nearest,omitempty"`
	LeadCard     int               `json:"lead_card,omitempty"` // key of a free colour that leads
	Adjusted     []PlanAdjusted    `json:"adjusted,omitempty"`
	Brief        *brief.Brief      `json:"brief,omitempty"`
	Wishes       []PlanColour      `json:"wishes,omitempty"`
	Combinations []PlanCombination `json:"combinations,omitempty"`
	Run          *PlanRun          `json:"run,omitempty"`
	Ramps        []PlanRamp        `json:"ramps,omitempty"`
	Targets      []PlanColour      `json:"to_mix,omitempty"`
	Colourways   []PlanColourway   `json:"colourways,omitempty"`

	Materials []material.Material `json:"-"`
}

// PlanScrap is a colour torn from a photo; the photo itself stays behind.
type PlanScrap struct {
	Name        string  `json:"name"`
	L           float64 `json:"L"`
	A           float64 `json:"a"`
	B           float64 `json:"b"`
	Uncertainty float64 `json:"uncertainty"`
}

// PlanColour is a colour that is no material.
type PlanColour struct {
	Name string  `json:"name"`
	L    float64 `json:"L"`
	A    float64 `json:"a"`
	B    float64 `json:"b"`
}

// sound says what is wrong with a colour's name or figures.
func (c PlanColour) sound() error {
	m := material.Material{Name: c.Name, Colour: colour.Lab{L: c.L, A: c.A, B: c.B}}
	if p := m.Tidy(); p != nil {
		return fmt.Errorf("the colour %q in the file is incomplete: %w", shorten(c.Name), p)
	}
	return nil
}

// PlanCard is one card of a palette, in tray order: a material by name, or a
// free colour.
type PlanCard struct {
	Key      int         `json:"key"`
	Material string      `json:"material,omitempty"`
	Free     *PlanColour `json:"free,omitempty"`
}

// PlanAdjusted is a place of the scheme, by its number there, that is turned
// off or moved by degrees of the wheel.
type PlanAdjusted struct {
	Index int     `json:"index"`
	Off   bool    `json:"off,omitempty"`
	Nudge float64 `json:"nudge,omitempty"`
}

// PlanCombination is a set of colours that was tried.
type PlanCombination struct {
	Scheme string       `json:"scheme,omitempty"`
	Remark string       `json:"remark,omitempty"`
	Cards  []PlanColour `json:"cards"`
}

// PlanRun says which colours a plan's run is made of.
type PlanRun struct {
	Source string      `json:"source,omitempty"`
	Family string      `json:"family,omitempty"`
	Kind   string      `json:"kind,omitempty"`
	Text   string      `json:"text,omitempty"`
	Steps  int         `json:"steps,omitempty"`
	Start  string      `json:"start,omitempty"`
	Seen   bool        `json:"as_seen,omitempty"`
	Aside  []PlanAside `json:"aside,omitempty"`
}

// PlanAside is a colour set aside from a run: a material by its name, or what
// the token names in the plan itself (k and a card's key, s and a scrap's
// number).
type PlanAside struct {
	PlanColour
	Token  string `json:"token,omitempty"`
	Reason string `json:"reason"`
}

// PlanColourway is a way of colouring the piece: part to the key of its card.
type PlanColourway struct {
	Name      string         `json:"name"`
	Remark    string         `json:"remark,omitempty"`
	Favourite bool           `json:"favourite,omitempty"`
	Fills     map[string]int `json:"fills"`
}

// PlanRamp is a numeric ramp.
type PlanRamp struct {
	Name    string        `json:"name"`
	Middle  PlanColour    `json:"middle"`
	Recipe  value.Recipe  `json:"recipe"`
	Band    float64       `json:"band,omitempty"`
	Shift   value.Shift   `json:"shift"`
	Balance value.Balance `json:"balance"`
}

type planFile struct {
	Format    string   `json:"format"`
	Version   int      `json:"version"`
	Plan      Plan     `json:"plan"`
	Materials []record `json:"materials"`
}

// IsPlan reports whether data are a plan file, whole or not.
func IsPlan(data []byte) bool {
	var head struct {
		Format string `json:"format"`
	}
	return json.Unmarshal(data, &head) == nil && head.Format == PlanFormat
}

// ReadPlan reads a plan file and checks that it is whole: every card and fill
// leads somewhere and every material is sound. The error is a sentence.
func ReadPlan(ctx context.Context, r io.Reader) (Plan, error) {
	data, err := io.ReadAll(io.LimitReader(r, MaxPlanBytes+1))
	if err != nil {
		return Plan{}, fmt.Errorf("the plan file could not be read to its end: %w", err)
	}
	if len(data) > MaxPlanBytes {
		return Plan{}, fmt.Errorf("the plan file is larger than %d MB: it is not a Lamp Fern plan", MaxPlanBytes>>20)
	}
	var f planFile
	if err := json.Unmarshal(data, &f); err != nil {
		return Plan{}, errors.New("the plan in the file is incomplete: save it again")
	}
	switch {
	case f.Format != PlanFormat:
		return Plan{}, fmt.Errorf("the file is not a Lamp Fern plan: it does not begin with the format %q", PlanFormat)
	case f.Version != PlanVersion:
		return Plan{}, fmt.Errorf("the plan file is version %d, and this program reads version %d", f.Version, PlanVersion)
	case f.Plan.Name == "":
		return Plan{}, errors.New("the plan in the file has no name: give it one and try again")
	case len(f.Plan.Palette) > maxPalette || len(f.Plan.Fills) > maxFills:
		return Plan{}, fmt.Errorf("the plan in the file has more than %d cards or %d parts", maxPalette, maxFills)
	}
	known := map[string]bool{}
	for _, pm := range f.Materials {
		m, err := pm.material()
		if err != nil {
			return Plan{}, fmt.Errorf("the material %q in the file is incomplete: %w", shorten(pm.Name), err)
		}
		m.Lots = nil
		if known[m.Name] {
			return Plan{}, fmt.Errorf("the material %q is in the file twice", m.Name)
		}
		known[m.Name] = true
		f.Plan.Materials = append(f.Plan.Materials, m)
	}
	keys := map[int]bool{}
	for _, c := range f.Plan.Palette {
		if (c.Free == nil) != known[c.Material] || c.Key < 1 || keys[c.Key] {
			return Plan{}, fmt.Errorf("a card of the palette points to nothing: material %q, key %d", shorten(c.Material), c.Key)
		}
		keys[c.Key] = true
	}
	if err := f.Plan.soundColours(); err != nil {
		return Plan{}, err
	}
	if f.Plan.Brief != nil {
		if err := f.Plan.Brief.Tidy(); err != nil {
			return Plan{}, fmt.Errorf("the brief in the file cannot be saved: %w", err)
		}
	}
	if len(f.Plan.Pinned) > maxFills || len(f.Plan.Last) > maxFills || len(f.Plan.Groups) > maxFills || len(f.Plan.Remarks) > maxFills {
		return Plan{}, fmt.Errorf("the plan in the file has more than %d parts pinned or grouped, or remarks", maxFills)
	}
	for part, key := range f.Plan.Fills {
		if !keys[key] {
			return Plan{}, fmt.Errorf("the part %q takes card %d, which the palette does not have", shorten(part), key)
		}
	}
	if len(f.Plan.Scraps) > maxPalette {
		return Plan{}, fmt.Errorf("the plan in the file has more than %d scraps", maxPalette)
	}
	for _, s := range f.Plan.Scraps {
		m := material.Material{Name: s.Name, Colour: colour.Lab{L: s.L, A: s.A, B: s.B}, Uncertainty: s.Uncertainty}
		if p := m.Tidy(); p != nil {
			return Plan{}, fmt.Errorf("the scrap %q in the file is incomplete: %w", shorten(s.Name), p)
		}
	}
	if f.Plan.Lead != "" && !known[f.Plan.Lead] {
		return Plan{}, fmt.Errorf("the lead colour %q is not among the file's materials", shorten(f.Plan.Lead))
	}
	return f.Plan, nil
}

// soundColours checks the colours of a plan that are no materials.
func (p Plan) soundColours() error {
	if len(p.Colourways) > maxPalette {
		return fmt.Errorf("the plan in the file has more than %d colourways", maxPalette)
	}
	for _, c := range p.Colourways {
		if len(c.Fills) > maxFills {
			return fmt.Errorf("the colourway %q in the file has more than %d parts", shorten(c.Name), maxFills)
		}
		if err := (PlanColour{Name: c.Name}).sound(); err != nil {
			return fmt.Errorf("a colourway in the file is incomplete: %w", err)
		}
	}
	if len(p.Wishes) > maxPalette || len(p.Targets) > maxPalette || len(p.Combinations) > maxTried || len(p.Ramps) > maxPalette {
		return fmt.Errorf("the plan in the file has more than %d wishes or ramps or %d combinations", maxPalette, maxTried)
	}
	all := append(append([]PlanColour(nil), p.Wishes...), p.Targets...)
	for _, r := range p.Ramps {
		if err := r.Recipe.Check(); err != nil {
			return fmt.Errorf("the ramp %q in the file cannot be made: %w", shorten(r.Name), err)
		}
		all = append(all, r.Middle)
	}
	if p.Run != nil {
		if len(p.Run.Aside) > maxPalette {
			return fmt.Errorf("the run in the file has more than %d colours set aside", maxPalette)
		}
		for _, a := range p.Run.Aside {
			all = append(all, a.PlanColour)
		}
	}
	for _, c := range p.Palette {
		if c.Free != nil {
			all = append(all, *c.Free)
		}
	}
	for _, t := range p.Combinations {
		if len(t.Cards) == 0 || len(t.Cards) > maxPalette {
			return fmt.Errorf("a combination in the file has %d cards: it needs 1 to %d", len(t.Cards), maxPalette)
		}
		all = append(all, t.Cards...)
	}
	for _, c := range all {
		if err := c.sound(); err != nil {
			return err
		}
	}
	return nil
}
