package studio

import (
	"fmt"
	"slices"
	"strings"
	"unicode/utf8"

	"lampfern/core/piece"
	"lampfern/core/pour"
	"lampfern/core/weave"
)

// ownEdit is an edit of what the maker puts into a piece of the given template:
// change is given a copy of it with the usual filled in, and the piece is made
// anew.
func ownEdit(template, label string, change func(d *draft, own *piece.Own) error) Edit {
	return func(d *draft) (string, error) {
		if d.plan.Template != template {
			return "", refuse("The piece was changed in the meantime. Load the page again.")
		}
		own := d.plan.Own
		if err := change(d, &own); err != nil {
			return "", err
		}
		if err := own.Check(); err != nil {
			return "", refuse("The piece cannot be made: %s.", err)
		}
		p, err := d.studio.piece(template, d.plan.Settings, own)
		if err != nil {
			return "", err
		}
		d.plan.Own = own
		d.settleParts(p)
		return label, nil
	}
}

// clothOrders are the orders of a plan's cloth, its own or the usual ones.
func clothOrders(own piece.Own) (warp, weft []weave.Stripe) {
	warp, weft = piece.UsualCloth()
	if own.Warp != nil {
		warp = own.Warp
	}
	if own.Weft != nil {
		weft = own.Weft
	}
	return warp, weft
}

func (d *draft) setting(key string) float64 {
	if v, given := d.plan.Settings[key]; given {
		return v
	}
	t, err := piece.Find(d.plan.Template)
	if err != nil {
		return 0
	}
	return t.Settings[slices.IndexFunc(t.Settings, func(s piece.Setting) bool { return s.Key == key })].Default
}

func (d *draft) set(key string, v float64) {
	settings := map[string]float64{key: v}
	for k, old := range d.plan.Settings {
		if k != key {
			settings[k] = old
		}
	}
	d.plan.Settings = settings
}

// SetOrders writes the order of the warp's and the weft's stripes, as
// weave.ParseOrder reads them.
func SetOrders(warp, weft string) Edit {
	return ownEdit("cloth", "order the threads", func(d *draft, own *piece.Own) (err error) {
		for _, o := range []struct {
			name, text, sett string
			to               *[]weave.Stripe
		}{{"warp", warp, "ends", &own.Warp}, {"weft", weft, "picks", &own.Weft}} {
			if *o.to, err = weave.ParseOrder(o.text, d.setting(o.sett)); err != nil {
				return refuse("The order of the %s cannot be read: %s.", o.name, err)
			}
		}
		return nil
	})
}

// SetRows writes the order of row stripes, as weave.ParseOrder reads it; none goes
// back to that of the settings.
func SetRows(text string) Edit {
	return ownEdit("rows", "order the rows", func(d *draft, own *piece.Own) (err error) {
		own.Rows = nil
		if strings.TrimSpace(text) == "" {
			return nil
		}
		if own.Rows, err = weave.ParseOrder(text, 10/d.setting("row")); err != nil {
			return refuse("The order of the rows cannot be read: %s.", err)
		}
		return nil
	})
}

// RowOrder is the order of the plan's row stripes as it is written.
func (p *Plan) RowOrder() string {
	if p.Own.Rows != nil {
		return weave.OrderText(p.Own.Rows)
	}
	t, err := piece.Find("rows")
	if err != nil {
		return ""
	}
	v, err := t.Values(p.Settings)
	if err != nil {
		return ""
	}
	return weave.OrderText(piece.RowOrder(v))
}

// TurnOrder turns the order of the warp round, or of the weft.
func TurnOrder(weft bool) Edit {
	return ownEdit("cloth", "turn the order of the threads round", func(_ *draft, own *piece.Own) error {
		own.Warp, own.Weft = clothOrders(*own)
		to := &own.Warp
		if weft {
			to = &own.Weft
		}
		*to = slices.Clone(*to)
		slices.Reverse(*to)
		return nil
	})
}

// WeaveAsWarped gives the weft the order of the warp.
func WeaveAsWarped() Edit {
	return ownEdit("cloth", "weave as warped", func(_ *draft, own *piece.Own) error {
		own.Warp, own.Weft = clothOrders(*own)
		own.Weft = own.Warp
		return nil
	})
}

// ownDraft is the number of the setting that means the maker's own draft.
func ownDraft() float64 { return float64(len(weave.Structures())) }

// clothDraft is the draft in use, for changing.
func (d *draft) clothDraft(own piece.Own) weave.Draft {
	at := int(d.setting("structure"))
	all := weave.Structures()
	from := all[0].Draft
	switch {
	case at < len(all):
		from = all[at].Draft
	case own.Draft != nil:
		from = *own.Draft
	}
	out := weave.Draft{Threading: slices.Clone(from.Threading), Treadling: slices.Clone(from.Treadling)}
	for _, t := range from.TieUp {
		out.TieUp = append(out.TieUp, slices.Clone(t))
	}
	return out
}

// SetDraft writes a draft: shafts of the ends, shafts of each treadle with
// commas between treadles, treadles of the picks.
func SetDraft(threading, tieUp, treadling string) Edit {
	return ownEdit("cloth", "write the draft", func(d *draft, own *piece.Own) (err error) {
		var w weave.Draft
		if w.Threading, err = weave.Numbers(threading); err != nil {
			return refuse("The threading cannot be read: %s.", err)
		}
		if w.Treadling, err = weave.Numbers(treadling); err != nil {
			return refuse("The treadling cannot be read: %s.", err)
		}
		for _, t := range strings.FieldsFunc(tieUp, func(r rune) bool { return r == ',' || r == ';' || r == '/' }) {
			shafts, err := weave.Numbers(t)
			if err != nil {
				return refuse("The tie-up cannot be read: %s.", err)
			}
			w.TieUp = append(w.TieUp, slices.DeleteFunc(shafts, func(s int) bool { return s == 0 }))
		}
		own.Draft = &w
		d.set("structure", ownDraft())
		return nil
	})
}

// DraftGrid is one of the grids of a draft.
type DraftGrid string

// The grids: ends by shafts, treadles by shafts, treadles by picks.
const (
	ThreadingGrid DraftGrid = "threading"
	TieUpGrid     DraftGrid = "tie-up"
	TreadlingGrid DraftGrid = "treadling"
)

// MarkDraft marks a square of a grid, or clears one of the tie-up that is
// marked. An end has one shaft and a pick one treadle. Counted from 1.
func MarkDraft(grid DraftGrid, across, down int) Edit {
	return ownEdit("cloth", "mark the "+string(grid), func(d *draft, own *piece.Own) error {
		w := d.clothDraft(*own)
		outside := refuse("That square is not in the draft.")
		switch grid {
		case ThreadingGrid: // across is the end, down the shaft
			if across < 1 || across > len(w.Threading) || down < 1 || down > weave.MostShafts {
				return outside
			}
			w.Threading[across-1] = down
		case TreadlingGrid:
			if down < 1 || down > len(w.Treadling) || across < 1 || across > len(w.TieUp) {
				return outside
			}
			w.Treadling[down-1] = across
		case TieUpGrid:
			if across < 1 || across > len(w.TieUp) || down < 1 || down > weave.MostShafts {
				return outside
			}
			t := w.TieUp[across-1]
			if slices.Contains(t, down) {
				t = slices.DeleteFunc(t, func(s int) bool { return s == down })
			} else {
				t = append(t, down)
				slices.Sort(t)
			}
			w.TieUp[across-1] = t
		default:
			return outside
		}
		own.Draft = &w
		d.set("structure", ownDraft())
		return nil
	})
}

// chart is the plan's chart, its own or the usual one.
func chart(own piece.Own) piece.Chart {
	if own.Chart == nil {
		return piece.UsualChart()
	}
	return own.Chart
}

// PaintChart gives stitches of the chart, counted from 0, a yarn, from 0.
func PaintChart(stitches [][2]int, yarn int) Edit {
	return ownEdit("stranded", fmt.Sprintf("paint %d stitches", len(stitches)), func(_ *draft, own *piece.Own) error {
		if yarn < 0 || yarn >= weave.MostYarns {
			return refuse("A chart has at most %d yarns: choose one of them.", weave.MostYarns)
		}
		own.Chart = chart(*own).Painted(stitches, yarn)
		return nil
	})
}

// SizeChart cuts the chart, or fills it up with yarn A.
func SizeChart(across, down int) Edit {
	return ownEdit("stranded", "size the chart", func(_ *draft, own *piece.Own) error {
		c, err := chart(*own).Resized(across, down)
		if err != nil {
			return refuse("%s.", capitalFirst(err.Error()))
		}
		own.Chart = c
		return nil
	})
}

// WriteChart takes a chart as rows of letters.
func WriteChart(text string) Edit {
	return ownEdit("stranded", "write the chart", func(_ *draft, own *piece.Own) error {
		own.Chart = piece.Chart(strings.Fields(strings.ToUpper(text)))
		if len(own.Chart) == 0 {
			return refuse("The chart is empty: write its rows as letters, one row to a line, such as AABBAA.")
		}
		return nil
	})
}

// MirrorChart turns the chart left to right, or head to foot.
func MirrorChart(upright bool) Edit {
	return ownEdit("stranded", "turn the chart over", func(_ *draft, own *piece.Own) error {
		own.Chart = chart(*own).Mirrored(upright)
		return nil
	})
}

// SetPours writes the parts of a batter in the order they are poured, as pour.Parse
// reads them.
func SetPours(text string) Edit {
	return ownEdit("poured", "write the pours", func(_ *draft, own *piece.Own) (err error) {
		if own.Pours, err = pour.Parse(text); err != nil {
			return refuse("The pours cannot be read: %s.", err)
		}
		return nil
	})
}

// Pours are the plan's pours as they are written.
func (p *Plan) Pours() string {
	if p.Own.Pours == nil {
		return pour.Text(piece.UsualPours())
	}
	return pour.Text(p.Own.Pours)
}

// drawing is a copy of the plan's drawing, or a new one.
func drawing(own piece.Own) *piece.Drawing {
	if own.Drawing == nil {
		return piece.NewDrawing(300, 300)
	}
	d := *own.Drawing
	d.Parts, d.Outlines = slices.Clone(d.Parts), slices.Clone(d.Outlines)
	return &d
}

func drawingEdit(label string, change func(d *piece.Drawing) error) Edit {
	return ownEdit("drawn", label, func(_ *draft, own *piece.Own) error {
		d := drawing(*own)
		if err := change(d); err != nil {
			return err
		}
		own.Drawing = d
		return nil
	})
}

// SizeDrawing gives the drawing another size, its outlines with it, and sets it
// side by side.
func SizeDrawing(width, height float64, across, down int) Edit {
	return drawingEdit("size the drawing", func(d *piece.Drawing) error {
		if err := piece.CheckSheet(width, height, across, down); err != nil {
			return refuse("%s.", capitalFirst(err.Error()))
		}
		kx, ky := width/d.Width, height/d.Height
		for i, o := range d.Outlines {
			corners := make([]piece.Point, len(o.Corners))
			for j, c := range o.Corners {
				corners[j] = piece.Point{X: min(width, c.X*kx), Y: min(height, c.Y*ky)}
			}
			d.Outlines[i].Corners = corners
		}
		d.Unders = slices.Clone(d.Unders)
		for i := range d.Unders {
			u := &d.Unders[i]
			u.X, u.Y, u.Width, u.Height = u.X*kx, u.Y*ky, u.Width*kx, u.Height*ky
		}
		d.Width, d.Height, d.Across, d.Down = width, height, across, down
		return nil
	})
}

// AddOutline lays an outline over the drawing, in the part of that name, which is
// made where there is none. Corners beyond the drawing are brought to its edge.
func AddOutline(part string, corners []piece.Point) Edit {
	return drawingEdit("draw an outline", func(d *piece.Drawing) error {
		at, err := partNamed(d, part)
		if err != nil {
			return err
		}
		if len(corners) < 3 {
			return refuse("An outline needs three corners or more: click once for each.")
		}
		d.Outlines = append(d.Outlines, piece.Outline{Part: at, Corners: d.Held(corners)})
		if r := (piece.Region{Outline: d.Outlines[len(d.Outlines)-1].Corners}); r.Area() == 0 {
			return refuse("That outline holds no area: its corners lie on one line, or all beyond the drawing.")
		}
		return nil
	})
}

func partNamed(d *piece.Drawing, name string) (int, error) {
	name = strings.Join(strings.Fields(name), " ")
	if name == "" || utf8.RuneCountInString(name) > 40 {
		return 0, refuse("Name the part the outline belongs to, in at most 40 characters, such as leaf.")
	}
	if at := slices.IndexFunc(d.Parts, func(p piece.Part) bool { return strings.EqualFold(p.Name, name) }); at >= 0 {
		return at, nil
	}
	n := 1
	for slices.ContainsFunc(d.Parts, func(p piece.Part) bool { return p.Key == fmt.Sprintf("part%d", n) }) {
		n++
	}
	d.Parts = append(d.Parts, piece.Part{Key: fmt.Sprintf("part%d", n), Name: name})
	return len(d.Parts) - 1, nil
}

// outlineEdit changes one outline, by its place from 0.
func outlineEdit(label string, at int, change func(d *piece.Drawing) error) Edit {
	return drawingEdit(label, func(d *piece.Drawing) error {
		if at < 0 || at >= len(d.Outlines) {
			return refuse("That outline is no longer in the drawing.")
		}
		return change(d)
	})
}

// DropOutline takes an outline away, and its part when nothing else is in it.
func DropOutline(at int) Edit {
	return outlineEdit("take an outline away", at, func(d *piece.Drawing) error {
		if len(d.Outlines) == 1 && len(d.Unders) == 0 {
			return refuse("This is the drawing's last outline: draw another before you take it away.")
		}
		d.Outlines = slices.Delete(d.Outlines, at, at+1)
		dropEmptyParts(d)
		return nil
	})
}

func dropEmptyParts(d *piece.Drawing) {
	for at := len(d.Parts) - 1; at >= 0; at-- {
		if slices.ContainsFunc(d.Outlines, func(o piece.Outline) bool { return o.Part == at }) {
			continue
		}
		d.Parts = slices.Delete(d.Parts, at, at+1)
		for i := range d.Outlines {
			if d.Outlines[i].Part > at {
				d.Outlines[i].Part--
			}
		}
	}
}

// MoveOutline moves an outline by so many mm, as far as the drawing reaches.
func MoveOutline(at int, dx, dy float64) Edit {
	return outlineEdit("move an outline", at, func(d *piece.Drawing) error {
		left, top, right, foot := d.Width, d.Height, 0.0, 0.0
		for _, c := range d.Outlines[at].Corners {
			left, right, top, foot = min(left, c.X), max(right, c.X), min(top, c.Y), max(foot, c.Y)
		}
		dx, dy = max(-left, min(d.Width-right, dx)), max(-top, min(d.Height-foot, dy))
		moved := make([]piece.Point, len(d.Outlines[at].Corners))
		for i, c := range d.Outlines[at].Corners {
			moved[i] = piece.Point{X: c.X + dx, Y: c.Y + dy}
		}
		d.Outlines[at].Corners = d.Held(moved)
		return nil
	})
}

// CopyOutline lays a copy of an outline on top, a little to the side.
func CopyOutline(at int) Edit {
	return outlineEdit("copy an outline", at, func(d *piece.Drawing) error {
		o := d.Outlines[at]
		aside := min(d.Width, d.Height) / 20
		var corners []piece.Point
		for _, c := range o.Corners {
			corners = append(corners, piece.Point{X: c.X + aside, Y: c.Y + aside})
		}
		d.Outlines = append(d.Outlines, piece.Outline{Part: o.Part, Corners: d.Held(corners)})
		return nil
	})
}

// RaiseOutline brings an outline over the next one, or with down under the one
// before.
func RaiseOutline(at int, down bool) Edit {
	return outlineEdit("raise or lower an outline", at, func(d *piece.Drawing) error {
		to := at + 1
		if down {
			to = at - 1
		}
		if to < 0 || to >= len(d.Outlines) {
			return refuse("That outline lies at the %s already.", map[bool]string{true: "bottom", false: "top"}[down])
		}
		d.Outlines[at], d.Outlines[to] = d.Outlines[to], d.Outlines[at]
		return nil
	})
}

// NameOutline puts an outline into the part of that name.
func NameOutline(at int, part string) Edit {
	return outlineEdit("name an outline "+part, at, func(d *piece.Drawing) error {
		to, err := partNamed(d, part)
		if err != nil {
			return err
		}
		d.Outlines[at].Part = to
		dropEmptyParts(d)
		return nil
	})
}
