package proportion

import (
	"fmt"
	"slices"

	"lampfern/core/words"
	"lampfern/plan"
	"lampfern/shelf"
)

// MaxReferences is how many reference pictures a plan keeps.
const MaxReferences = 12

// KeepReference keeps a picture beside the plan, to colour by.
type KeepReference struct{ File plan.File }

func (e *KeepReference) Take(f plan.File) { e.File = f }

func (e KeepReference) Do(d *plan.Draft) (string, error) {
	s := Of(d.Plan)
	if len(s.References) >= MaxReferences {
		return "", words.Refuse("A plan holds at most %d reference pictures. Remove one first.", MaxReferences)
	}
	hash, err := d.Desk.AddPhoto(d.Ctx, e.File.Name, e.File.Data)
	if err != nil {
		return "", err
	}
	if slices.Contains(s.References, hash) {
		return "", words.Refuse("That picture is already in this plan.")
	}
	s.References = append(s.References, hash)
	d.Say("Reference picture added.")
	return "add a reference picture", nil
}

// DropReference takes a reference picture from the plan; the photo stays under
// Photos.
type DropReference struct {
	Photo string `form:"photo"`
}

func (e DropReference) Do(d *plan.Draft) (string, error) {
	Of(d.Plan).References = slices.DeleteFunc(Of(d.Plan).References, func(h string) bool { return h == e.Photo })
	return "remove a reference picture", nil
}

// pickedSize is the side of the box a click on a reference picture takes, as a
// share of the picture's width.
const pickedSize = 0.012

// PickReference takes the colour at a place of a reference picture, in shares of
// its width and height, to the scrap page. It says what was taken.
type PickReference struct {
	Photo string  `form:"photo"`
	X     float64 `form:"x"`
	Y     float64 `form:"y"`
}

func (e PickReference) Do(d *plan.Draft) (string, error) {
	if !(e.X >= 0 && e.X <= 1 && e.Y >= 0 && e.Y <= 1) {
		return "", words.Refuse("That place is not on the picture.")
	}
	photo, err := d.Desk.Photo(d.Ctx, e.Photo)
	if err != nil {
		return "", err
	}
	high := pickedSize / photo.Aspect()
	box := shelf.Box{X: min(1-pickedSize, max(0, e.X-pickedSize/2)), Y: min(1-high, max(0, e.Y-high/2)), W: pickedSize, H: high}
	read, err := photo.Read(d.Shelf, shelf.Look{Boxes: []shelf.Box{box}})
	if err != nil {
		return "", err
	}
	if len(read.Taken) == 0 {
		return "", words.Refuse("No colour can be picked there. Choose another place.")
	}
	t := read.Taken[0]
	name := fmt.Sprintf("from %s", photo.Name)
	if len([]rune(name)) > 50 {
		name = string([]rune(name)[:50])
	}
	d.Say(fmt.Sprintf("A colour of value %.1f is on the scrap page.", t.Colour.Value()))
	return plan.TearScrap{Photo: photo, Taken: t, Name: name}.Do(d)
}
