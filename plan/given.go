package plan

import (
	"slices"
	"strings"
	"unicode/utf8"

	"lampfern/core/colour"
	"lampfern/core/material"
	"lampfern/core/words"
)

// AddGiven puts a colour that is there already into the tray, on no part: skin, hair, a wall, what is
// worn with it.
type AddGiven struct {
	Name   string `form:"name"`
	Colour string `form:"colour"`
}

func (e AddGiven) Do(d *Draft) (string, error) {
	rgb, err := colour.Parse(e.Colour)
	if err != nil {
		return "", words.Refuse("%s.", words.Capital(err.Error()))
	}
	return SetBeside{Name: e.Name, Colour: rgb.Lab()}.Do(d)
}

// SetBeside is AddGiven with a colour that was read, as from a photo.
type SetBeside struct {
	Name   string
	Colour colour.Lab
}

func (e SetBeside) Do(d *Draft) (string, error) {
	if len(d.Plan.Entries) >= MaxTray {
		return "", words.Refuse("The tray holds %d cards, the most it can. Set one aside first.", MaxTray)
	}
	name := strings.Join(strings.Fields(e.Name), " ")
	if name == "" || utf8.RuneCountInString(name) > material.MaxName {
		return "", words.Refuse("Name it, such as skin or wall, in at most %d characters.", material.MaxName)
	}
	entry := FreeEntry(words.Capital(name), e.Colour)
	entry.Key, entry.Given = d.Plan.newKey(), true
	d.Plan.Entries = append(d.Plan.Entries, entry)
	return "add " + entry.Name + " as a fixed colour", nil
}

// SetGiven says that a card is there already and is not bought, or no longer.
type SetGiven struct {
	Key int  `form:"key"`
	On  bool `form:"on"`
}

func (e SetGiven) Do(d *Draft) (string, error) {
	i, c, err := d.Entry(e.Key)
	if err != nil {
		return "", err
	}
	if d.Plan.Entries[i].Given = e.On; e.On {
		d.Plan.Entries[i].Apart = false
		return "make " + c.Name + " a fixed colour", nil
	}
	return c.Name + " is no longer a fixed colour", nil
}

// SetApart says that a card is outside the scheme, as painted skin, wood or leather are, or no longer.
// It is bought and mixed as any, and left out of scheme, count and ways.
type SetApart struct {
	Key int  `form:"key"`
	On  bool `form:"on"`
}

func (e SetApart) Do(d *Draft) (string, error) {
	i, c, err := d.Entry(e.Key)
	if err != nil {
		return "", err
	}
	if d.Plan.Entries[i].Apart = e.On; e.On {
		d.Plan.Entries[i].Given = false
		return "leave " + c.Name + " out of the scheme", nil
	}
	return "include " + c.Name + " in the scheme", nil
}

// Stays reports whether nothing but the maker's hand gives a part another card: it is pinned, or
// what it has is fixed.
func (d *Draft) Stays(part string) bool {
	return d.Pinned(part) || slices.ContainsFunc(d.Plan.Fills, func(f Fill) bool {
		return f.Part == part && slices.ContainsFunc(d.Plan.Entries, func(e Entry) bool { return e.Key == f.EntryKey && !e.Movable() })
	})
}
