// Package demo holds the demo workroom, a travelling puppet theatre's, as
// files of the open formats, and brings them in as a maker would.
package demo

import (
	"bytes"
	"context"
	"embed"
	"fmt"
	"io/fs"
	"path"
	"slices"

	"lampfern/core/colour"
	"lampfern/core/material"
	"lampfern/core/surface"
	"lampfern/core/words"
	"lampfern/exchange"
	"lampfern/plan"
	"lampfern/shelf"
	"lampfern/stages/proportion"
	"lampfern/stages/signoff"
	"lampfern/stages/together"
)

//go:embed materials.csv plans photos meshes
var files embed.FS

// Load fills an empty workroom.
func Load(ctx context.Context, s *plan.Desk) error {
	data, err := files.ReadFile("materials.csv")
	if err != nil {
		return fmt.Errorf("reading the demo materials: %w", err)
	}
	list, err := exchange.ReadMaterials(ctx, bytes.NewReader(data))
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
	if err := s.AddMaterials(ctx, fmt.Sprintf("import %d materials from materials.csv", len(all)), all); err != nil {
		return fmt.Errorf("filling the shelf: %w", err)
	}
	if err := s.KeepTour(ctx, false); err != nil { // it shows a workroom in use
		return err
	}
	if _, err := keepPhoto(ctx, s, "photos/"+barePhoto); err != nil {
		return err
	}
	lantern, err := files.ReadFile(lanternMesh)
	if err != nil {
		return fmt.Errorf("reading %s: %w", lanternMesh, err)
	}
	if _, err := s.KeepMesh(lantern, nil); err != nil {
		return fmt.Errorf("keeping %s: %w", lanternMesh, err)
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
		_, missing, err := s.Import(ctx, data)
		if err == nil && len(missing) > 0 {
			err = fmt.Errorf("without %s", words.All(missing))
		}
		if err != nil {
			return fmt.Errorf("bringing in %s: %w", name, err)
		}
	}
	if err := loadSet(ctx, s); err != nil {
		return fmt.Errorf("setting the demo set together: %w", err)
	}
	if err := loadSheets(ctx, s); err != nil {
		return fmt.Errorf("making the demo sheets: %w", err)
	}
	if err := loadWork(ctx, s); err != nil {
		return fmt.Errorf("putting the demo plans to work: %w", err)
	}
	return loadPhotos(ctx, s)
}

// loadSet puts two ferrymen and a cart beside the boats of one plan, in the same cards, with the river's
// cloth that is there already, and keeps the set as a colourway.
func loadSet(ctx context.Context, s *plan.Desk) error {
	plans, err := s.Plans(ctx)
	if err != nil {
		return err
	}
	at := slices.IndexFunc(plans, func(p plan.Summary) bool { return p.Craft == "painted models" })
	if at < 0 {
		return nil
	}
	const red, buff, blue, black, white = 1, 2, 3, 4, 5
	edits := []plan.Edit{plan.AddPiece{Pattern: "figure"}, plan.NamePiece{Key: 1, Name: "River boat", Times: 9},
		plan.NamePiece{Key: 2, Name: "Ferryman", Times: 2}}
	for _, f := range []plan.Fill{{Part: "hat", EntryKey: black}, {Part: "skin", EntryKey: buff}, {Part: "cloak", EntryKey: blue},
		{Part: "tunic", EntryKey: white}, {Part: "belt", EntryKey: black},
		{Part: "trousers", EntryKey: red}, {Part: "boots", EntryKey: black}, {Part: "staff", EntryKey: buff}, {Part: "base", EntryKey: blue}} {
		edits = append(edits, plan.FillPart{Part: f.Part, Key: f.EntryKey})
	}
	edits = append(edits, plan.SplitPart{Part: "cloak", Kind: "shade", Key: black, Share: 22}, plan.AddPiece{Pattern: "van"},
		plan.NamePiece{Key: 3, Name: "Fish cart", Times: 1},
		plan.AddGiven{Name: "The river cloth", Colour: "#5b7a80"}, together.KeepSet{Name: "First night"}, plan.WorkOn{Key: 1})
	const hull, cabin = "part1", "part4"
	edits = append(edits, plan.FillPart{Part: hull, Key: blue}, plan.FillPart{Part: cabin, Key: red}, together.KeepSet{Name: "Regatta day"},
		proportion.NameColourway{Key: 2, Name: "Regatta day", For: "the rowing club", Season: "summer"}, plan.FillPart{Part: hull, Key: red},
		plan.FillPart{Part: cabin, Key: blue})
	for _, e := range edits {
		p, err := s.Open(ctx, plans[at].ID)
		if err != nil {
			return err
		}
		if _, err := s.Change(ctx, p.ID, p.Revision, e); err != nil {
			return err
		}
	}
	return nil
}

// loadSheets makes three sheets: one is agreed, to one a change is asked, one waits.
func loadSheets(ctx context.Context, s *plan.Desk) error {
	plans, err := s.Plans(ctx)
	if err != nil {
		return err
	}
	for _, one := range []struct {
		craft, price, terms string
		answer              *signoff.Told
	}{
		{"garment", "85", "Buttons as drawn. Half before the first cut, the rest when it fits.",
			&signoff.Told{Sheet: 1, Agreed: true, Name: "Badger, by his player", Remark: "The green back is just what I hoped for."}},
		{"knitting or crochet", "", "", &signoff.Told{Sheet: 1, Name: "The wardrobe mistress",
			Remark: "The breast a little warmer, please; it goes grey under our lamps."}},
		{"soap", "4 a bar", "Cured six weeks before the first night.", nil},
	} {
		at := slices.IndexFunc(plans, func(p plan.Summary) bool { return p.Craft == one.craft })
		if at < 0 {
			continue
		}
		p, err := s.Open(ctx, plans[at].ID)
		if err != nil {
			return err
		}
		for _, act := range []plan.Act{signoff.Make{Maker: "Moth & Marrow", Price: one.price, Terms: one.terms}, signoff.Sent{Sheet: 1},
			one.answer} {
			if told, is := act.(*signoff.Told); is && told == nil {
				continue
			}
			if _, err := act.Act(ctx, s, p); err != nil {
				return err
			}
		}
	}
	return nil
}

// clothsPhoto is a heap of cloth with white paper; its colours are torn for the
// scrap page of the plan worked on last.
const clothsPhoto = "cloths under the kitchen lamp.jpg"

// The white paper on that photo, and cloths to tear, in shares of its size.
var (
	clothsWhite = shelf.Box{X: 0.12, Y: 0.16, W: 0.12, H: 0.22}
	clothsTorn  = []struct {
		name string
		box  shelf.Box
	}{
		{"the rehearsal curtain", shelf.Box{X: 0.40, Y: 0.18, W: 0.14, H: 0.16}},
		{"fading heather", shelf.Box{X: 0.70, Y: 0.26, W: 0.12, H: 0.14}},
		{"gold of the old fringe", shelf.Box{X: 0.38, Y: 0.64, W: 0.12, H: 0.12}},
	}
)

// printPhoto shows one of the shelf's prints, printWide mm of it across.
const (
	printPhoto = "sprig print.jpg"
	printName  = "Sprig print"
	printWide  = 200
)

func keepPrint(ctx context.Context, s *plan.Desk, hash string) error {
	photo, err := s.Photo(ctx, hash)
	if err != nil {
		return err
	}
	_, _, err = s.KeepPrint(ctx, photo, shelf.Look{}, printName, "fabric", printWide)
	return err
}

// lanternMesh holds the bodies of the lantern, which is brought in after it.
const lanternMesh = "meshes/ticket lantern.3mf"

// barePhoto lies under the drawing of the boats, which is brought in after it.
const barePhoto = "bare boat.jpg"

func keepPhoto(ctx context.Context, s *plan.Desk, name string) (hash string, err error) {
	data, err := files.ReadFile(name)
	if err != nil {
		return "", fmt.Errorf("reading %s: %w", name, err)
	}
	if hash, err = s.AddPhoto(ctx, path.Base(name), data); err != nil {
		return "", fmt.Errorf("keeping %s: %w", name, err)
	}
	return hash, nil
}

func loadPhotos(ctx context.Context, s *plan.Desk) error {
	names, err := fs.Glob(files, "photos/*.jpg")
	if err != nil {
		return fmt.Errorf("listing the demo photos: %w", err)
	}
	for _, name := range names {
		if path.Base(name) == barePhoto {
			continue // kept before the plans
		}
		hash, err := keepPhoto(ctx, s, name)
		if err != nil {
			return err
		}
		switch path.Base(name) {
		case clothsPhoto:
			err = tear(ctx, s, hash)
		case printPhoto:
			err = keepPrint(ctx, s, hash)
		}
		if err != nil {
			return fmt.Errorf("taking colours from %s: %w", name, err)
		}
	}
	return nil
}

func tear(ctx context.Context, s *plan.Desk, hash string) error {
	photo, err := s.Photo(ctx, hash)
	if err != nil {
		return err
	}
	sh, err := s.Shelf(ctx)
	if err != nil {
		return err
	}
	plans, err := s.Plans(ctx)
	if err != nil || len(plans) == 0 {
		return err
	}
	look := shelf.Look{White: &clothsWhite, Known: colour.Lab{L: surface.WhitePaper}}
	for _, t := range clothsTorn {
		look.Boxes = append(look.Boxes, t.box)
	}
	read, err := photo.Read(sh, look)
	if err != nil {
		return err
	}
	for i, t := range read.Taken {
		p, err := s.Open(ctx, plans[0].ID)
		if err != nil {
			return err
		}
		if _, err := s.Change(ctx, p.ID, p.Revision, plan.TearScrap{Photo: photo, Taken: t, Name: clothsTorn[i].name}); err != nil {
			return err
		}
	}
	return nil
}
