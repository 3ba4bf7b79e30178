// Package demo holds the demo workroom, a travelling puppet theatre's, as
// files of the open formats, and brings them in as a maker would.
package demo

import (
	"bytes"
	"context"
	"embed"
	"fmt"
	"io/fs"

	"lampfern/core/material"
	"lampfern/exchange"
	"lampfern/studio"
)

//go:embed materials.csv plans
var files embed.FS

// Load fills an empty workroom.
func Load(ctx context.Context, s *studio.Studio) error {
	data, err := files.ReadFile("materials.csv")
	if err != nil {
		return fmt.Errorf("reading the demo materials: %w", err)
	}
	list, err := exchange.ReadMaterials(bytes.NewReader(data))
	if err != nil {
		return fmt.Errorf("reading the demo materials: %w", err)
	}
	if len(list.Bad) > 0 {
		return fmt.Errorf("line %d of the demo materials: %s", list.Bad[0].Line, list.Bad[0].Reason)
	}
	var all []material.Material
	for _, g := range list.Good {
		all = append(all, g.Material)
	}
	if err := s.AddMaterials(ctx, fmt.Sprintf("bring in %d materials from materials.csv", len(all)), all); err != nil {
		return fmt.Errorf("filling the shelf: %w", err)
	}
	plans, err := fs.Glob(files, "plans/*.json")
	if err != nil {
		return fmt.Errorf("listing the demo plans: %w", err)
	}
	for _, name := range plans {
		data, err := files.ReadFile(name)
		if err != nil {
			return fmt.Errorf("reading %s: %w", name, err)
		}
		p, err := exchange.ReadPlan(bytes.NewReader(data))
		if err != nil {
			return fmt.Errorf("reading %s: %w", name, err)
		}
		if _, err := s.ImportPlan(ctx, p); err != nil {
			return fmt.Errorf("bringing in %s: %w", name, err)
		}
	}
	return nil
}
