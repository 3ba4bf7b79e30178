package studio

import (
	"bytes"
	"context"
	"fmt"
	"math"
	"slices"
	"strings"

	"lampfern/core/colour"
	"lampfern/core/piece"
	"lampfern/core/weave"
	"lampfern/exchange"
	"lampfern/store"
)

// asCard is how near, in ΔE00, a card of the tray must be to a colour of a file to
// stand for it.
const asCard = 2.0

// cardFor is the key of the tray's card of a colour: one that is there already, or
// a new free colour; 0 when the tray is full.
func (d *draft) cardFor(lab colour.Lab, name string) int {
	best, key := asCard, 0
	for _, e := range d.plan.Entries {
		c, err := d.shelf.of(e)
		if err != nil {
			continue
		}
		if apart := colour.DeltaE2000(c.Colour, lab); apart < best {
			best, key = apart, e.Key
		}
	}
	if key != 0 || len(d.plan.Entries) >= MaxTray {
		return key
	}
	for _, e := range d.plan.Entries {
		key = max(key, e.Key)
	}
	key++
	d.plan.Entries = append(d.plan.Entries, store.Entry{Key: key, Name: name, L: lab.L, A: lab.A, B: lab.B})
	return key
}

// refit takes a piece and the cards of its parts in place of the plan's own.
func (d *draft) refit(template string, settings map[string]float64, own piece.Own, cards map[string]int) error {
	p, err := d.studio.piece(template, settings, own)
	if err != nil {
		return err
	}
	d.plan.Template, d.plan.Settings, d.plan.Own = template, settings, own
	d.plan.Fills, d.plan.Pinned, d.plan.Groups = nil, nil, nil
	for _, part := range p.Parts {
		if key := cards[part.Key]; key > 0 {
			d.plan.Fills = append(d.plan.Fills, store.Fill{Part: part.Key, EntryKey: key})
		}
	}
	d.settleParts(p)
	d.sortFills()
	return nil
}

// usualSett is the threads in 10 mm of a draft that does not say.
const usualSett = 5.0

// BringWIF makes a weaving draft the plan's cloth, with its colours in the tray.
// It says what was mended.
func (s *Studio) BringWIF(ctx context.Context, id uint, revision int64, data []byte) (words string, err error) {
	w, err := exchange.ReadWIF(bytes.NewReader(data))
	if err != nil {
		return "", refuse("Nothing was brought in: %s.", err)
	}
	if w.SinkingMended {
		words = " Its shed sinks, so the tie-up was turned over."
	}
	err = s.Change(ctx, id, revision, func(d *draft) (string, error) {
		own := d.plan.Own
		own.Draft = &weave.Draft{Threading: period(w.Draft.Threading), TieUp: w.Draft.TieUp, Treadling: period(w.Draft.Treadling)}
		own.Warp, own.Weft = exchange.Stripes(period(w.Warp)), exchange.Stripes(period(w.Weft))
		if err := own.Check(); err != nil {
			return "", refuse("Nothing was brought in: %s.", err)
		}
		settings := map[string]float64{"structure": ownDraft()}
		settings["width"], settings["ends"] = sized(len(w.Warp), w.EndsPer10mm, 3000)
		settings["length"], settings["picks"] = sized(len(w.Weft), w.PicksPer10mm, 10_000)
		cards := map[string]int{}
		for y, c := range w.Yarns {
			cards[fmt.Sprintf("yarn%d", y+1)] = d.cardFor(c.Lab(), fmt.Sprintf("Draft yarn %s", weave.Letter(y)))
		}
		name := w.Title
		if name == "" {
			name = "a draft"
		}
		return "bring in " + name, d.refit("cloth", settings, own, cards)
	})
	return fmt.Sprintf("The draft is brought in: %d ends, %d picks, %d shafts.%s", len(w.Warp), len(w.Weft), w.Draft.Shafts(), words), err
}

// sized is how long so many threads are in mm, and their sett, within what a cloth
// may be.
func sized(threads int, sett, most float64) (mm, per10 float64) {
	if !(sett >= 0.2 && sett <= 40) {
		sett = usualSett
	}
	n := float64(threads)
	for _, limit := range []float64{10, most} { // closer, or wider apart, to fit
		if out := n * 10 / sett; limit == 10 && out < limit || limit == most && out > limit {
			sett = n * 10 / limit
		}
	}
	return n * 10 / sett, sett
}

// period is the shortest beginning of a list that repeats all through it.
func period(all []int) []int {
	for n := 1; n <= len(all)/2; n++ {
		if !slices.ContainsFunc(indices(len(all)-n), func(i int) bool { return all[i] != all[i+n] }) {
			return all[:n]
		}
	}
	return all
}

func indices(n int) []int {
	out := make([]int, n)
	for i := range out {
		out[i] = i
	}
	return out
}

// WIF is the plan's cloth as a weaving draft.
func (p *Plan) WIF() ([]byte, error) {
	v, err := p.Cloth()
	if err != nil {
		return nil, err
	}
	set, _, warp, weft, err := p.threads()
	if err != nil {
		return nil, err
	}
	w := exchange.Weaving{Title: p.Name, Draft: v.Draft, EndsPer10mm: set["ends"], PicksPer10mm: set["picks"]}
	at := map[int16]int{}
	for _, y := range v.Yarns {
		lab := LooseThread
		if y.Card != nil {
			lab = y.Card.Colour
		}
		rgb, _ := lab.RGB()
		at[int16(y.Yarn)] = len(w.Yarns)
		w.Yarns = append(w.Yarns, rgb)
	}
	for _, y := range warp {
		w.Warp = append(w.Warp, at[y])
	}
	for _, y := range weft {
		w.Weft = append(w.Weft, at[y])
	}
	var b bytes.Buffer
	err = exchange.WriteWIF(&b, w)
	return b.Bytes(), err
}

// BringSVG makes a line drawing the plan's own drawing: byGroup makes a part of
// each layer or group, else of each colour. wide in mm is for a drawing without a
// size, or to give it another; 0 keeps its own. It says what was left out.
func (s *Studio) BringSVG(ctx context.Context, id uint, revision int64, data []byte, byGroup bool, wide float64) (words string, err error) {
	in, err := exchange.ReadSVG(bytes.NewReader(data))
	if err != nil {
		return "", refuse("Nothing was brought in: %s.", err)
	}
	d, fills, err := drawingOf(in, byGroup, wide)
	if err != nil {
		return "", err
	}
	err = s.Change(ctx, id, revision, func(dr *draft) (string, error) {
		own := dr.plan.Own
		own.Drawing = d
		if err := own.Check(); err != nil {
			return "", refuse("Nothing was brought in: %s.", err)
		}
		cards := map[string]int{}
		for i, part := range d.Parts {
			if fills[i] != nil {
				cards[part.Key] = dr.cardFor(fills[i].Lab(), capitalFirst(part.Name))
			}
		}
		return "bring in a drawing", dr.refit("drawn", nil, own, cards)
	})
	shapes := fmt.Sprintf("%d shapes", len(d.Outlines))
	if len(d.Outlines) == 1 {
		shapes = "one shape"
	}
	words = fmt.Sprintf("The drawing is brought in: %s in %s.", shapes, partsWord(len(d.Parts)))
	if len(in.LeftOut) > 0 {
		words += " Left out, or changed: " + strings.Join(in.LeftOut, "; ") + "."
	}
	return words, err
}

func partsWord(n int) string {
	if n == 1 {
		return "one part"
	}
	return fmt.Sprintf("%d parts", n)
}

// drawingOf is a drawing in parts, and the colour of each part where all its
// shapes have one.
func drawingOf(in exchange.SVGDrawing, byGroup bool, wide float64) (*piece.Drawing, []*colour.RGB, error) {
	w, h := in.Width, in.Height
	if w == 0 { // as large as what is drawn
		for _, s := range in.Shapes {
			for _, c := range s.Corners {
				w, h = math.Max(w, c.X), math.Max(h, c.Y)
			}
		}
		if wide == 0 {
			return nil, nil, refuse("The drawing has no size of its own: type how wide it is in mm, then bring it in again.")
		}
	}
	k := 1.0
	if wide > 0 && w > 0 {
		k = wide / w
	}
	d := &piece.Drawing{Width: w * k, Height: h * k, Across: 1, Down: 1}
	if err := piece.CheckSheet(d.Width, d.Height, 1, 1); err != nil {
		return nil, nil, refuse("Nothing was brought in: %s.", err)
	}
	var fills []*colour.RGB
	at := map[string]int{}
	taken := map[string]int{}
	for i, s := range in.Shapes {
		key, name := "", ""
		switch {
		case byGroup && s.Group != "":
			key, name = "group "+s.Group, s.Group
		case !byGroup && s.Fill != nil:
			key, name = "fill "+s.Fill.Hex(), string(colour.Family(s.Fill.Lab()))
		default:
			key, name = fmt.Sprintf("shape %d", i), s.Name
			if name == "" {
				name = "shape"
			}
		}
		part, known := at[key]
		if !known {
			part = len(d.Parts)
			if part >= piece.MostParts {
				return nil, nil, refuse("The drawing has more than %d colours or groups: bring it in by the other, or bring alike ones together first.", piece.MostParts)
			}
			at[key] = part
			if r := []rune(name); len(r) > 34 {
				name = string(r[:34])
			}
			if taken[name]++; taken[name] > 1 {
				name = fmt.Sprintf("%s %d", name, taken[name])
			}
			d.Parts = append(d.Parts, piece.Part{Key: fmt.Sprintf("part%d", part+1), Name: name})
			fills = append(fills, s.Fill)
		} else if f := fills[part]; f != nil && (s.Fill == nil || *s.Fill != *f) {
			fills[part] = nil
		}
		corners := make([]piece.Point, len(s.Corners))
		for j, c := range s.Corners {
			corners[j] = piece.Point{X: c.X * k, Y: c.Y * k}
		}
		d.Outlines = append(d.Outlines, piece.Outline{Part: part, Corners: d.Held(corners)})
	}
	return d, fills, nil
}
