// Package printed is the craft of printing and assembling parts: its pieces, and the
// mesh that a maker brings in.
package printed

import (
	"lampfern/core/mesh"
	"lampfern/core/note"
	"lampfern/core/piece"
	"lampfern/core/words"
)

// Craft is printing parts.
func Craft() piece.Craft {
	return piece.Craft{Name: "printed parts", Kinds: []string{"filament", "paint"}, From: 3, To: 5,
		Care: "Nozzles and beds are hot. Keep uncured resin off your skin. Sand prints wet and wear a mask.",
		Cautions: []string{"Do not leave a printer alone while it prints.",
			"Resin: gloves and goggles, no skin contact, and cure waste before you throw it away."},
		Patterns: []piece.Pattern{potPattern, solidPattern},
		Asks:     asks, Needs: needs, Work: work, Sitting: piece.LightFirst, OwnOnly: true}
}

// Assembly is what a maker puts into a solid: the mesh that was brought in.
type Assembly struct {
	Solid *Solid `json:"solid,omitempty"`
}

func (in *Assembly) Check() error {
	if in.Solid == nil {
		return nil
	}
	return in.Solid.Check()
}

// Model implements piece.Meshed.
func (in *Assembly) Model() piece.Model {
	if in.Solid == nil {
		return piece.Model{}
	}
	return piece.Model{File: in.Solid.File, Kind: in.Solid.Kind, Name: in.Solid.Name, Bodies: len(in.Solid.Of)}
}

// Give implements piece.Meshed.
func (in *Assembly) Give(m *mesh.Mesh) piece.Meshed {
	return &Assembly{in.Solid.given(m)}
}

// unseen tells of parts that no side shows.
func unseen(p piece.Piece, _ piece.Values, _ *Assembly) []note.Note {
	var out []note.Note
	for i, share := range p.Shares() {
		if share == 0 {
			out = append(out, note.Note{ID: "unseen:" + p.Parts[i].Key, About: words.Capital("the " + p.Parts[i].Name),
				Words: " cannot be seen; its colour will not show."})
		}
	}
	return out
}
