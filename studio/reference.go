package studio

import (
	"context"
	"fmt"
	"slices"
)

// MaxReferences is how many reference pictures a plan keeps.
const MaxReferences = 12

// KeepReference keeps a picture beside the plan, to colour by.
func (s *Studio) KeepReference(ctx context.Context, id uint, revision int64, name string, data []byte) error {
	hash, err := s.AddPhoto(ctx, name, data)
	if err != nil {
		return err
	}
	return s.Change(ctx, id, revision, func(d *draft) (string, error) {
		if slices.Contains(d.plan.References, hash) {
			return "", refuse("That picture is kept with this plan already.")
		}
		if len(d.plan.References) >= MaxReferences {
			return "", refuse("A plan keeps at most %d reference pictures: take one away first.", MaxReferences)
		}
		d.plan.References = append(d.plan.References, hash)
		return "keep a reference picture", nil
	})
}

// DropReference takes a reference picture from the plan; the photo stays under
// Photos.
func DropReference(hash string) Edit {
	return func(d *draft) (string, error) {
		d.plan.References = slices.DeleteFunc(d.plan.References, func(h string) bool { return h == hash })
		return "take a reference picture away", nil
	}
}

// pickedSize is the side of the box a click on a reference picture takes, as a
// share of the picture's width.
const pickedSize = 0.012

// PickReference takes the colour at a place of a reference picture, in shares of
// its width and height, to the scrap page. It says what was taken.
func (s *Studio) PickReference(ctx context.Context, id uint, revision int64, hash string, x, y float64) (words string, err error) {
	if !(x >= 0 && x <= 1 && y >= 0 && y <= 1) {
		return "", refuse("That place is not on the picture.")
	}
	photo, err := s.Photo(ctx, hash)
	if err != nil {
		return "", err
	}
	sh, err := s.Shelf(ctx)
	if err != nil {
		return "", err
	}
	high := pickedSize / photo.Aspect()
	read, err := photo.Read(sh, Look{Boxes: []Box{{X: min(1-pickedSize, max(0, x-pickedSize/2)), Y: min(1-high, max(0, y-high/2)), W: pickedSize, H: high}}})
	if err != nil {
		return "", err
	}
	if len(read.Taken) == 0 {
		return "", refuse("No colour can be taken there: choose another place.")
	}
	t := read.Taken[0]
	name := fmt.Sprintf("from %s", photo.Name)
	if len([]rune(name)) > 50 {
		name = string([]rune(name)[:50])
	}
	err = s.Change(ctx, id, revision, TearScrap(photo, t, name))
	return fmt.Sprintf("A colour of value %.1f lies on the scrap page.", t.Colour.Value()), err
}
