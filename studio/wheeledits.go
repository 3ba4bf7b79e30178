package studio

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"lampfern/core/brief"
	"lampfern/core/colour"
	"lampfern/core/wheel"
	"lampfern/store"
)

// ChooseWheel turns the plan on another wheel. The lead colour stays as it is;
// its place is another.
func ChooseWheel(key string) Edit {
	return func(d *draft) (string, error) {
		w, err := wheel.Find(key)
		if err != nil {
			return "", refuse("%s.", capitalFirst(err.Error()))
		}
		d.plan.WheelKey = w.Key
		return "take the " + strings.ToLower(w.Title[:1]) + w.Title[1:], nil
	}
}

// DivideBy divides warm from cool by another school.
func DivideBy(school string) Edit {
	return func(d *draft) (string, error) {
		s, err := wheel.FindSchool(school)
		if err != nil {
			return "", refuse("%s.", capitalFirst(err.Error()))
		}
		d.plan.School = s.Key
		return "divide warm from cool: " + s.Words, nil
	}
}

// StartFrom lets the scheme, or its one complement, go by the boldest card of
// the tray instead of the lead colour.
func StartFrom(boldest bool) Edit {
	return func(d *draft) (string, error) {
		d.plan.FromBoldest, d.plan.Turn = boldest, 0
		if boldest {
			return "go by the boldest card", nil
		}
		return "go by the lead colour", nil
	}
}

// MatchBy chooses how cards are matched to places: by hue first, or by ΔE00.
func MatchBy(nearest bool) Edit {
	return func(d *draft) (string, error) {
		d.plan.Nearest = nearest
		if nearest {
			return "match the nearest cards", nil
		}
		return "match by hue first", nil
	}
}

// LightFrom lights a scheme turned by whole places from where it starts.
func LightFrom(scheme string, v wheel.Variant, turn int) Edit {
	return func(d *draft) (string, error) {
		label, err := Light(scheme, v)(d)
		if err == nil {
			_, err = TurnTo(turn)(d)
		}
		return label, err
	}
}

// mostNudge is how far a place can be moved, in degrees of the wheel: beyond,
// it would be the next place.
const mostNudge = 25.0

// AdjustPlace turns a place of the scheme off or on and moves it, in degrees of
// the wheel, clockwise.
func AdjustPlace(index int, off bool, nudge float64) Edit {
	return func(d *draft) (string, error) {
		places, err := wheel.Pigment.Scheme(d.plan.Scheme, 0, variant(*d.plan))
		if err != nil || index < 0 || index >= len(places) {
			return "", refuse("The scheme has no such place.")
		}
		if math.Abs(nudge) > mostNudge {
			return "", refuse("A place can be moved by %g° at most; turn the light to go further.", mostNudge)
		}
		d.plan.Adjusted = slices.DeleteFunc(d.plan.Adjusted, func(a store.Adjusted) bool { return a.Index == index })
		if off || nudge != 0 {
			d.plan.Adjusted = append(d.plan.Adjusted, store.Adjusted{Index: index, Off: off, Nudge: nudge})
			slices.SortFunc(d.plan.Adjusted, func(a, b store.Adjusted) int { return a.Index - b.Index })
		}
		switch {
		case off:
			return "turn a place off", nil
		case nudge != 0:
			return "move a place", nil
		}
		return "put a place back", nil
	}
}

// TakeFree puts the colour of a leaflet at a place of the plan's wheel into the
// tray, as a free colour that no material has yet.
func TakeFree(place float64, band int, clear bool) Edit {
	return func(d *draft) (string, error) {
		if !(place >= 0 && place < wheel.Places) || band < 0 || band >= Bands {
			return "", refuse("The wheel has no such leaflet.")
		}
		w := (&Plan{Plan: *d.plan}).OnWheel()
		lab, _ := ideal(w, place, band, clear)
		e := freeEntry(IdealName(w.Describe(place), band, clear), lab)
		if slices.ContainsFunc(d.plan.Entries, func(o store.Entry) bool { return o.MaterialID == nil && o.Name == e.Name && o.L == e.L && o.A == e.A }) {
			return "", nil
		}
		return "take " + e.Name, d.add(e)
	}
}

func freeEntry(name string, c colour.Lab) store.Entry {
	return store.Entry{Name: name, L: c.L, A: c.A, B: c.B}
}

// ChangeFree gives a free colour another value, 0 to 10, and clearness, 0 to
// 100 per cent. Its hue stays.
func ChangeFree(key int, value, clearness float64) Edit {
	return func(d *draft) (string, error) {
		i, c, err := d.entry(key)
		if err != nil {
			return "", err
		}
		e := &d.plan.Entries[i]
		switch {
		case e.MaterialID != nil:
			return "", refuse("%s is a material: its colour is changed on the shelf.", c.Name)
		case !(value >= 0 && value <= brief.MostValue):
			return "", refuse("The value must lie between 0 and 10.")
		case !(clearness >= 0 && clearness <= brief.MostClear):
			return "", refuse("The clearness must lie between 0 and 100 per cent.")
		}
		hue, level := c.Colour.OKLCh().H, colour.Lab{L: 10 * value}.OKLCh().L
		lab := colour.OKLCh{L: level, C: clearness / brief.MostClear * colour.MaxChroma(level, hue), H: hue}.Lab()
		lab.L = 10 * value // what chroma does to L* is taken back
		*e = store.Entry{Key: e.Key, Name: e.Name, L: lab.L, A: lab.A, B: lab.B}
		return "change " + c.Name, nil
	}
}

// Replace puts a material in the place of a card of the tray: it takes the
// card's parts and, where it led, the lead.
func Replace(key int, materialID uint) Edit {
	return func(d *draft) (string, error) {
		i, old, err := d.entry(key)
		if err != nil {
			return "", err
		}
		c, err := d.shelf.Card(materialID)
		if err != nil || c.Removed {
			return "", refuse("That material is no longer on the shelf.")
		}
		if d.holds(materialID) {
			return "", refuse("%s lies in the tray already: set %s aside instead.", c.Name, old.Name)
		}
		if d.plan.LeadKey == key || d.plan.LeadID != nil && *d.plan.LeadID == old.ID {
			d.plan.LeadID, d.plan.LeadKey = &materialID, 0
		}
		d.plan.Entries[i] = store.Entry{Key: key, MaterialID: &materialID}
		return fmt.Sprintf("put %s in the place of %s", c.Name, old.Name), nil
	}
}

// view is the wheel stage of the plan as it stands in the draft.
func (d *draft) view() (*Plan, WheelView, error) {
	p, err := d.studio.furnish(*d.plan, d.shelf)
	if err != nil {
		return nil, WheelView{}, err
	}
	v, err := p.Wheel([2]int{})
	return p, v, err
}

const maxWishes = 200

// Wish puts a colour that the lit places lack on the wish list.
func Wish(name string) Edit {
	return func(d *draft) (string, error) {
		_, v, err := d.view()
		if err != nil {
			return "", err
		}
		for _, pl := range v.Lit {
			for _, l := range pl.Lacks {
				if l.Name != name {
					continue
				}
				if l.Wished {
					return "", nil
				}
				if len(d.plan.Wishes) >= maxWishes {
					return "", refuse("The wish list holds %d colours and is full: take one off first.", maxWishes)
				}
				key := 1
				for _, w := range d.plan.Wishes {
					key = max(key, w.Key+1)
				}
				d.plan.Wishes = append(d.plan.Wishes, store.Wish{Key: key, Name: name, L: l.Colour.L, A: l.Colour.A, B: l.Colour.B})
				return "wish for " + name, nil
			}
		}
		return "", refuse("The lit places do not lack %q any more.", name)
	}
}

// DropWish takes a colour off the wish list.
func DropWish(key int) Edit {
	return func(d *draft) (string, error) {
		i := slices.IndexFunc(d.plan.Wishes, func(w store.Wish) bool { return w.Key == key })
		if i < 0 {
			return "", refuse("That wish is no longer on the list.")
		}
		name := d.plan.Wishes[i].Name
		d.plan.Wishes = slices.Delete(d.plan.Wishes, i, i+1)
		return "no longer wish for " + name, nil
	}
}
