package gather

import (
	"strconv"
	"strings"

	"lampfern/core/material"
	"lampfern/core/words"
	"lampfern/plan"
)

// RenameScrap gives a scrap another name.
type RenameScrap struct {
	Key  int    `form:"key"`
	Name string `form:"name"`
	Much string `form:"much,optional"` // per cent of the whole; empty for none
}

func (e RenameScrap) Do(d *plan.Draft) (string, error) {
	for i := range d.Plan.Scraps {
		if d.Plan.Scraps[i].Key == e.Key {
			m := material.Material{Name: e.Name}
			if p := m.Tidy(); p != nil {
				return "", words.Refusal(p.Error())
			}
			much, err := amount(e.Much)
			if err != nil {
				return "", err
			}
			d.Plan.Scraps[i].Name, d.Plan.Scraps[i].Amount = m.Name, much
			return "name a scrap " + m.Name, nil
		}
	}
	return "", words.Refuse("That scrap was deleted.")
}

// DropScrap takes a scrap off the page.
type DropScrap struct {
	Key int `form:"key"`
}

func (e DropScrap) Do(d *plan.Draft) (string, error) {
	for i, sc := range d.Plan.Scraps {
		if sc.Key == e.Key {
			d.Plan.Scraps = append(d.Plan.Scraps[:i:i], d.Plan.Scraps[i+1:]...)
			return "delete the scrap " + sc.Name, nil
		}
	}
	return "", words.Refuse("That scrap was deleted.")
}

// amount reads a share in per cent.
func amount(text string) (float64, error) {
	text = strings.TrimSpace(strings.TrimSuffix(strings.TrimSpace(text), "%"))
	if text == "" {
		return 0, nil
	}
	v, err := strconv.ParseFloat(strings.Replace(text, ",", ".", 1), 64)
	if err != nil || !(v >= 0 && v <= 100) {
		return 0, words.Refuse("%q is not a share. Write a number from 0 to 100 per cent, or leave it empty.", text)
	}
	return v / 100, nil
}
