package plan

import (
	"slices"

	"lampfern/core/piece"
	"lampfern/core/words"
)

// OwnEdit is an edit of what the maker puts into a piece of the given template:
// change is given a copy of it with the usual filled in, and the piece is made
// anew.
func OwnEdit(template, label string, change func(d *Draft, own *piece.Own) error) Doing {
	return func(d *Draft) (string, error) {
		if d.Plan.Template != template {
			return "", words.Refuse("The piece was changed in the meantime. Load the page again.")
		}
		own := d.Plan.Own()
		if err := change(d, &own); err != nil {
			return "", err
		}
		if err := own.Check(); err != nil {
			return "", words.Refuse("The piece cannot be made: %s.", err)
		}
		if err := d.Recast(template, own); err != nil {
			return "", err
		}
		return label, nil
	}
}

// Setting is a setting of the piece, the usual one where none is set.
func (d *Draft) Setting(key string) float64 {
	if v, given := d.Plan.Settings[key]; given {
		return v
	}
	t, err := piece.Find(d.Plan.Template)
	if err != nil {
		return 0
	}
	return t.Settings[slices.IndexFunc(t.Settings, func(s piece.Setting) bool { return s.Key == key })].Default
}

// Set sets a setting of the piece.
func (d *Draft) Set(key string, v float64) {
	settings := map[string]float64{key: v}
	for k, old := range d.Plan.Settings {
		if k != key {
			settings[k] = old
		}
	}
	d.Plan.Settings = settings
}
