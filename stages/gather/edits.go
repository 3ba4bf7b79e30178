package gather

import (
	"lampfern/core/material"
	"lampfern/core/words"
	"lampfern/plan"
)

// RenameScrap gives a scrap another name.
type RenameScrap struct {
	Key  int    `form:"key"`
	Name string `form:"name"`
}

// Do makes the change.
func (e RenameScrap) Do(d *plan.Draft) (string, error) {
	for i := range d.Plan.Scraps {
		if d.Plan.Scraps[i].Key == e.Key {
			m := material.Material{Name: e.Name}
			if p := m.Tidy(); p != nil {
				return "", words.Refusal(p.Error())
			}
			d.Plan.Scraps[i].Name = m.Name
			return "name a scrap " + m.Name, nil
		}
	}
	return "", words.Refuse("That scrap is no longer on the page.")
}

// DropScrap takes a scrap off the page.
type DropScrap struct {
	Key int `form:"key"`
}

// Do makes the change.
func (e DropScrap) Do(d *plan.Draft) (string, error) {
	for i, sc := range d.Plan.Scraps {
		if sc.Key == e.Key {
			d.Plan.Scraps = append(d.Plan.Scraps[:i:i], d.Plan.Scraps[i+1:]...)
			return "throw out " + sc.Name, nil
		}
	}
	return "", words.Refuse("That scrap is no longer on the page.")
}
