package plan

import (
	"slices"

	"lampfern/core/material"
	"lampfern/core/words"
	"lampfern/shelf"
)

// Medium is the material of another kind that takes the same place of the palette: the yarn beside
// the cloth, the paint beside the print.
type Medium struct {
	Kind       string `json:"kind"`
	MaterialID uint   `json:"material_id"`
}

// In is the material of an entry in a kind, 0 for none. main is the kind of the entry's own card.
func (e Entry) In(kind, main string) uint {
	if kind == main && e.MaterialID != nil {
		return *e.MaterialID
	}
	for _, m := range e.Also {
		if m.Kind == kind {
			return m.MaterialID
		}
	}
	return 0
}

// cardHere is the card of an entry on the piece that is worked on: where that has kinds of its own,
// the one that the entry has in these.
func (p *Plan) cardHere(e Entry) (*shelf.Card, error) {
	c, err := CardOf(p.Shelf, e)
	if err != nil || len(p.Of) == 0 || c.ID != 0 && slices.Contains(p.Of, c.Kind) {
		return c, err
	}
	for _, kind := range p.Of {
		if id := e.In(kind, c.Kind); id > 0 {
			if other, err := p.Shelf.Card(id); err == nil && !other.Removed {
				return other, nil
			}
		}
	}
	return c, nil
}

// PieceKinds says what kinds of material a piece of the set is made of; none for those of the plan.
type PieceKinds struct {
	Key   int      `form:"key"`
	Kinds []string `form:"kind"`
}

func (e PieceKinds) Do(d *Draft) (string, error) {
	m, err := d.member(e.Key)
	if err != nil {
		return "", err
	}
	var kinds []string
	for _, k := range material.Kinds() {
		if slices.Contains(e.Kinds, k) {
			kinds = append(kinds, k)
		}
	}
	for _, k := range e.Kinds {
		if !slices.Contains(kinds, k) {
			return "", words.Refuse("%q is not a material type. Choose one from the list.", k)
		}
	}
	if m.Held != nil {
		m.Held.Of = kinds
	} else {
		d.Plan.Of = kinds
	}
	if len(kinds) == 0 {
		return "make the " + m.Name + " of the plan’s materials", nil
	}
	return "make the " + m.Name + " of " + words.List(kinds), nil
}

// FillMedium fills a place of the palette once more in another kind, or with material 0 no longer.
type FillMedium struct {
	Key      int    `form:"key"`
	Kind     string `form:"kind"`
	Material uint   `form:"material,optional"`
}

func (e FillMedium) Do(d *Draft) (string, error) {
	i, c, err := d.Entry(e.Key)
	if err != nil {
		return "", err
	}
	if e.Kind == c.Kind && c.ID != 0 {
		return "", words.Refuse("%s is of that type itself. Replace it on Gather instead.", c.Name)
	}
	if !slices.Contains(material.Kinds(), e.Kind) {
		return "", words.Refuse("%q is not a material type. Choose one from the list.", e.Kind)
	}
	also := slices.DeleteFunc(slices.Clone(d.Plan.Entries[i].Also), func(m Medium) bool { return m.Kind == e.Kind })
	if e.Material == 0 {
		d.Plan.Entries[i].Also = also
		return c.Name + " has no " + e.Kind, nil
	}
	other, err := d.Shelf.Card(e.Material)
	if err != nil || other.Removed {
		return "", words.Refuse("That material is no longer on the shelf.")
	}
	if other.Kind != e.Kind {
		return "", words.Refuse("%s is %s, not %s. Choose one of that type.", other.Name, other.Kind, e.Kind)
	}
	d.Plan.Entries[i].Also = append(also, Medium{Kind: e.Kind, MaterialID: e.Material})
	return other.Name + " for " + c.Name + " in " + e.Kind, nil
}
