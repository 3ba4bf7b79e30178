package plan

import (
	"fmt"

	"lampfern/core/words"
	"lampfern/shelf"
)

// layered is the card of an entry that lies in several layers: a free colour that follows
// the material it is of.
func layered(sh *shelf.Shelf, e Entry) (*shelf.Card, bool) {
	if e.Layers < 2 || len(e.Mix) != 1 {
		return nil, false
	}
	of, err := sh.Card(e.Mix[0].MaterialID)
	if err != nil {
		return nil, false
	}
	lab, _ := of.Layer(e.Layers)
	name, recipe := of.InLayers(e.Layers)
	c := shelf.FreeCard(name, lab)
	c.Recipe = recipe
	return c, true
}

// Layer is how many layers a card of the tray lies in, and the material it is of; 0 and nil
// for one that is not laid down in layers.
func (p *Plan) Layer(key int) (n int, of *shelf.Card) {
	for _, e := range p.Entries {
		switch {
		case e.Key != key:
		case e.MaterialID != nil:
			if c, err := p.Shelf.Card(*e.MaterialID); err == nil && c.Layers() {
				return 1, c
			}
		case e.Layers > 1 && len(e.Mix) == 1:
			if c, err := p.Shelf.Card(e.Mix[0].MaterialID); err == nil {
				return e.Layers, c
			}
		}
	}
	return 0, nil
}

// PullLayers puts a material into the tray in so many layers.
type PullLayers struct {
	Material uint `form:"material"`
	Layers   int  `form:"layers"`
}

func (e PullLayers) Do(d *Draft) (string, error) {
	key, said, err := d.inLayers(e.Material, e.Layers)
	if err != nil || key == 0 {
		return "", err
	}
	return said, nil
}

// inLayers is the key of the entry of a material in so many layers, put into the tray where
// it is not there, and what was done.
func (d *Draft) inLayers(material uint, n int) (key int, said string, err error) {
	c, err := d.Shelf.Card(material)
	switch {
	case err != nil || c.Removed:
		return 0, "", words.Refuse("That material is no longer on the shelf.")
	case n < 1 || n > shelf.MostLayers:
		return 0, "", words.Refuse("A colour can have 1 to %d layers.", shelf.MostLayers)
	case n > 1 && !c.Layers():
		return 0, "", words.Refuse("%s is not applied in layers.", c.Name)
	}
	find := func() int {
		for _, o := range d.Plan.Entries {
			if n == 1 && o.MaterialID != nil && *o.MaterialID == material || n > 1 && o.Layers == n && len(o.Mix) == 1 &&
				o.Mix[0].MaterialID == material {
				return o.Key
			}
		}
		return 0
	}
	if key := find(); key > 0 {
		return key, "", nil
	}
	if n == 1 {
		said, err = Pull{Material: material}.Do(d)
		return find(), said, err
	}
	lab, _ := c.Layer(n)
	name, recipe := c.InLayers(n)
	e := FreeEntry(name, lab)
	e.Layers, e.Recipe, e.Mix = n, recipe, []InMix{{MaterialID: material, Share: float64(n)}}
	err = d.Add(e)
	return find(), "pull " + name, err
}

// LayPart gives a part of the piece its card in so many layers; those of the card that no
// part has any more leave the tray.
type LayPart struct {
	Part   string `form:"part"`
	Layers int    `form:"layers"`
}

func (e LayPart) Do(d *Draft) (string, error) {
	p, at, err := d.partOf(e.Part)
	if err != nil {
		return "", err
	}
	was := 0
	for _, f := range d.Plan.Fills {
		if f.Part == e.Part {
			was = f.EntryKey
		}
	}
	view := &Plan{Palette: d.Plan.Palette, Shelf: d.Shelf}
	_, of := view.Layer(was)
	if of == nil {
		return "", words.Refuse("The %s has no colour that is applied in layers.", p.Parts[at].Name)
	}
	key, _, err := d.inLayers(of.ID, e.Layers)
	if err != nil {
		return "", err
	}
	if key == was {
		return "", nil
	}
	if _, err := (FillPart{Part: e.Part, Key: key}).Do(d); err != nil {
		return "", err
	}
	d.dropUnused(was)
	return fmt.Sprintf("%s on the %s in %s", of.Name, p.Parts[at].Name, words.Plural(e.Layers, "layer", "layers")), nil
}

// dropUnused takes a layered card that no part has any more out of the tray.
func (d *Draft) dropUnused(key int) {
	for _, f := range d.Plan.Fills {
		if f.EntryKey == key {
			return
		}
	}
	for i, o := range d.Plan.Entries {
		if o.Key == key && o.Layers > 1 {
			d.Plan.Entries = append(d.Plan.Entries[:i:i], d.Plan.Entries[i+1:]...)
			return
		}
	}
}
