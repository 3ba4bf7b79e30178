package draw

import (
	"fmt"
	"math"
	"strings"

	"lampfern/core/card"
	"lampfern/core/colour"
	"lampfern/core/material"
)

// SheetCard is what is written on one printed swatch card.
type SheetCard struct {
	Name     string
	Lines    []string // up to three short lines under the name
	Back     []string // the record, for the back
	Number   int      // on blanks and charts
	Colour   colour.Lab
	Portions []material.Portion // of what shows more than one colour
	Share    float64            // of the piece, for a proportion strip
	Role     string
	Amount   string // on hand, in words
	Lacks    bool   // some of it is still to be bought
}

// SheetForm is what a sheet of cards is for.
type SheetForm int

// The forms: colours, the records for their backs, and blanks to be painted.
const (
	Faces SheetForm = iota
	Backs
	Blanks
)

// Type on a printed card, in millimetres.
const (
	cardName  = 3.6
	cardLine  = 2.3
	cardInset = 3.0
	footSize  = 2.4
	holeRound = 2.5 // radius
	holeIn    = 7.0 // of the hole's middle from the card's edges
)

const paperGuide = "paper is a guide: trust the material"

// foot writes what must stand on every print, in two lines where one is too
// short.
func foot(s *Scene, left, wide float64, words string) {
	lines := wrap(words, footSize, false, wide, 2)
	y := s.Height - 3.2 - float64(len(lines)-1)*(footSize+0.6)
	for _, line := range lines {
		s.Add(Text{At: Point{left, y}, Words: fit(line, footSize, false, wide), Size: footSize, Paint: Ink})
		y += footSize + 0.6
	}
}

// Sheets draws swatch cards on as many sheets as they need, at true size with
// crop marks. Cards are always in daylight. title stands in the foot; hole marks
// where a card is punched. Backs lie so that a sheet turned over along its
// upright edge meets its faces.
func Sheets(l card.Layout, title string, cards []SheetCard, form SheetForm, hole bool) []Scene {
	n := l.Sheets(len(cards))
	var out []Scene
	for page := range n {
		s := Scene{Width: l.Paper.Width, Height: l.Paper.Height, Millimetres: true,
			Label: fmt.Sprintf("Swatch cards, sheet %d of %d", page+1, n)}
		for _, m := range l.Marks() {
			s.Add(Shape{Path: Line(Point(m.From), Point(m.To)), Style: Style{Stroke: Ink, Width: 0.15}})
		}
		for i := page * l.PerSheet(); i < min(len(cards), (page+1)*l.PerSheet()); i++ {
			switch form {
			case Faces:
				s.Add(sheetCard(l.Size, l.At(i), cards[i], hole))
			case Backs:
				s.Add(cardBack(l.Size, l.Back(i), cards[i]))
			case Blanks:
				s.Add(blankCard(l.Size, l.At(i), cards[i], hole))
			}
		}
		said := "daylight colours in sRGB"
		if form == Blanks {
			said = "paint the square or glue a swatch on it, then photograph it with the grey patch"
		}
		foot(&s, l.Origin.X, l.Paper.Width-2*l.Origin.X,
			fmt.Sprintf("%s · sheet %d of %d · print at 100 %%: a card measures %g × %g mm · %s · %s", title, page+1, n, l.Size.Width,
				l.Size.Height, said, paperGuide))
		out = append(out, s)
	}
	return out
}

// tabOf is a card's tab with words in it.
func tabOf(z card.Size, x, y float64, name string, lines []string) []Node {
	right := x + z.Width - z.Notch
	nodes := []Node{Shape{Path: Polygon(Point{x, y}, Point{right - z.Slant, y}, Point{right, y + z.Tab}, Point{x, y + z.Tab}),
		Style: Style{Stroke: Ink, Width: 0.1}}}
	room := func(below float64) float64 { // the tab narrows toward its top
		return right - z.Slant*(1-below/z.Tab) - x - 2*cardInset + 1
	}
	text := func(words string, size float64, bold bool, below float64) {
		nodes = append(nodes, Text{At: Point{x + cardInset, y + below}, Words: fit(words, size, bold, room(below-size)), Size: size, Bold: bold,
			Paint: Ink})
	}
	below := 5.4
	for _, part := range wrap(name, cardName, true, room(2), 2) {
		text(part, cardName, true, below)
		below += 4
	}
	for _, line := range lines {
		if below > z.Tab-0.6 {
			break
		}
		text(line, cardLine, false, below)
		below += 2.9
	}
	return nodes
}

func holeMark(z card.Size, x, y float64) Shape {
	return Shape{Path: Circle(Point{x + holeIn, y + z.Height - holeIn}, holeRound),
		Style: Style{Fill: Solid(colour.RGB{R: 1, G: 1, B: 1}), Stroke: Ink, Width: 0.15}, Title: "Punch here"}
}

func sheetCard(z card.Size, at card.Point, c SheetCard, hole bool) Group {
	x, y := at.X, at.Y
	portions := c.Portions
	if len(portions) == 0 {
		portions = []material.Portion{{Colour: c.Colour, Share: 1}}
	}
	inGamut := true
	for _, b := range portions {
		_, in := b.Colour.RGB()
		inGamut = inGamut && in
	}
	lines := c.Lines
	if !inGamut {
		lines = append(lines[:len(lines):len(lines)], "printed duller: outside sRGB")
	}
	g := Group{Class: "swatch-card", Nodes: tabOf(z, x, y, c.Name, lines)}
	from := x
	for _, b := range portions {
		rgb, _ := b.Colour.RGB()
		wide := b.Share * z.Width
		g.Nodes = append(g.Nodes, Shape{Path: Box(from, y+z.Tab, wide, z.Height-z.Tab), Style: Style{Fill: Solid(rgb)}, Title: c.Name})
		from += wide
	}
	if hole {
		g.Nodes = append(g.Nodes, holeMark(z, x, y))
	}
	return g
}

// cardBack is a card's record.
func cardBack(z card.Size, at card.Point, c SheetCard) Group {
	g := Group{Class: "card-back", Nodes: []Node{Shape{Path: Box(at.X, at.Y, z.Width, z.Height), Style: Style{Stroke: Ink, Width: 0.1}}}}
	y, room := at.Y+5.4, z.Width-2*cardInset
	for i, line := range append([]string{c.Name}, c.Back...) {
		size, bold := cardLine, false
		if i == 0 {
			size, bold = cardName, true
		}
		for _, part := range wrap(line, size, bold, room, 3) {
			if y > at.Y+z.Height-2 {
				return g
			}
			g.Nodes = append(g.Nodes, Text{At: Point{at.X + cardInset, y}, Words: fit(part, size, bold, room), Size: size, Bold: bold, Paint: Ink})
			y += size + 1
		}
	}
	return g
}

// blankCard is a card to be painted: its number and name, an empty field, and a
// grey patch to correct its photo by.
func blankCard(z card.Size, at card.Point, c SheetCard, hole bool) Group {
	x, y := at.X, at.Y
	g := Group{Class: "blank-card", Nodes: tabOf(z, x, y, fmt.Sprintf("%d %s", c.Number, c.Name), c.Lines)}
	g.Nodes = append(g.Nodes, Shape{Path: Box(x, y+z.Tab, z.Width, z.Height-z.Tab), Style: Style{Stroke: Ink, Width: 0.1}})
	grey, _ := colour.Lab{L: card.GreyPatch}.RGB()
	field := card.FieldOf(z)
	g.Nodes = append(g.Nodes,
		Shape{Path: Box(x+field.Grey.X, y+field.Grey.Y, field.Side, field.Side), Style: Style{Fill: Solid(grey)}, Title: "grey patch"},
		Text{At: Point{x + z.Width - cardInset, y + z.Height - 2.2}, Words: fmt.Sprintf("grey, value %.1f", card.GreyPatch/10), Size: cardLine,
			Anchor: End, Paint: Ink})
	if hole {
		g.Nodes = append(g.Nodes, holeMark(z, x, y))
	}
	return g
}

// Fan strips: narrow strips of several colours, to be riveted at one end.
const (
	fanWide, fanHigh = 42.0, 190.0
	fanFoot          = 18.0 // room for the rivet
	fanEach          = 8    // colours a strip
)

// FanSheets draws fan strips, eight colours a strip, a hole at the foot of each.
func FanSheets(p card.Paper, title string, cards []SheetCard) []Scene {
	const margin = 12.0
	perSheet := int((p.Width - 2*margin) / fanWide)
	strips := (len(cards) + fanEach - 1) / fanEach
	var out []Scene
	for page := 0; page*perSheet < strips; page++ {
		s := Scene{Width: p.Width, Height: p.Height, Millimetres: true, Label: fmt.Sprintf("Fan strips, sheet %d", page+1)}
		for k := range min(perSheet, strips-page*perSheet) {
			first := (page*perSheet + k) * fanEach
			s.Add(fan(Point{margin + float64(k)*fanWide, 22}, title, cards[first:min(len(cards), first+fanEach)]))
		}
		s.Add(Text{At: Point{margin, 14}, Words: fit(title, 4.4, true, p.Width-2*margin), Size: 4.4, Bold: true, Paint: Ink})
		foot(&s, margin, p.Width-2*margin,
			fmt.Sprintf("Print at 100 %%: a strip measures %g × %g mm · daylight colours in sRGB · %s", fanWide, fanHigh,
				paperGuide))
		out = append(out, s)
	}
	return out
}

func fan(at Point, title string, cards []SheetCard) Group {
	g := Group{Class: "fan", Nodes: []Node{Shape{Path: Box(at.X, at.Y, fanWide, fanHigh), Style: Style{Stroke: Ink, Width: 0.1}}}}
	each := (fanHigh - fanFoot) / fanEach
	for i, c := range cards {
		y := at.Y + float64(i)*each
		rgb, _ := c.Colour.RGB()
		g.Nodes = append(g.Nodes, Shape{Path: Box(at.X, y, fanWide, each-6.6), Style: Style{Fill: Solid(rgb)}, Title: c.Name},
			Text{At: Point{at.X + 2, y + each - 3.9}, Words: fit(c.Name, 2.5, true, fanWide-4), Size: 2.5, Bold: true, Paint: Ink})
		if len(c.Lines) > 2 {
			g.Nodes = append(g.Nodes, Text{At: Point{at.X + 2, y + each - 1.3},
				Words: fit(fmt.Sprintf("value %.1f · %s", c.Colour.Value(), c.Lines[2]), 1.9, false, fanWide-4), Size: 1.9, Paint: Ink})
		}
	}
	g.Nodes = append(g.Nodes, Shape{Path: Circle(Point{at.X + fanWide/2, at.Y + fanHigh - fanFoot/2}, holeRound),
		Style: Style{Stroke: Ink, Width: 0.15}, Title: "Punch here"},
		Text{At: Point{at.X + 2, at.Y + fanHigh - 2}, Words: fit(title, 2, false, fanWide-4), Size: 2, Paint: Ink})
	return g
}

// Pocket is what a pocket card carries beside the palette.
type Pocket struct {
	Facts  []string    // short sentences: the scheme, the pieces, what is lacking
	Wishes []SheetCard // colours that are looked for
}

// PocketSheet draws a plan's pocket card on one sheet: the palette with values, roles, shares and
// amounts, its proportions as a strip, and at the foot what is looked for.
func PocketSheet(p card.Paper, title string, cards []SheetCard, more Pocket) Scene {
	const wide, high, margin, most, wishes = 105.0, 148.0, 12.0, 18, 6
	const line, pad = 2.5, 4.0
	s := Scene{Width: p.Width, Height: p.Height, Millimetres: true, Label: "Pocket card of " + title}
	x, y := margin, 20.0
	s.Add(Shape{Path: Box(x, y, wide, high), Style: Style{Stroke: Ink, Width: 0.15}})
	s.Add(Text{At: Point{x + pad, y + 8}, Words: fit(title, 4.6, true, wide-2*pad), Size: 4.6, Bold: true, Paint: Ink})
	s.Add(proportion(Point{x + pad, y + 11}, wide-2*pad, 12, cards))
	top, foots := y+26, y+high-2
	for _, fact := range more.Facts {
		for _, words := range wrap(fact, line, false, wide-2*pad, 2) {
			s.Add(Text{At: Point{x + pad, top + line}, Words: words, Size: line, Paint: Ink})
			top += line + 1
		}
	}
	if len(more.Facts) > 0 {
		top += 1.5
	}
	if n := min(len(more.Wishes), wishes); n > 0 {
		const each = 14.0
		foots -= each
		s.Add(Text{At: Point{x + pad, foots + line}, Words: "Looked for", Size: line, Bold: true, Paint: Ink})
		room := (wide - 2*pad) / wishes
		for i, w := range more.Wishes[:n] {
			rgb, _ := w.Colour.RGB()
			at := x + pad + float64(i)*room
			s.Add(Shape{Path: Box(at, foots+line+1.2, room-1.5, 5.5), Style: Style{Fill: Solid(rgb)}, Title: w.Name},
				Text{At: Point{at, foots + line + 9.4}, Words: fit(w.Name, 2.1, false, room-1.5), Size: 2.1, Paint: Ink})
		}
		foots -= 2
	}
	shown := cards[:min(len(cards), most)]
	each := math.Min(13, (foots-top)/math.Max(1, float64(len(shown))))
	for i, c := range shown {
		top := top + float64(i)*each
		rgb, _ := c.Colour.RGB()
		s.Add(Shape{Path: Box(x+pad, top, 24, each-0.8), Style: Style{Fill: Solid(rgb)}, Title: c.Name})
		size := math.Min(3.2, each*0.29)
		s.Add(Text{At: Point{x + 31, top + size + 0.6}, Words: fit(c.Name, size, true, wide-35), Size: size, Bold: true, Paint: Ink})
		parts := []string{fmt.Sprintf("value %.1f", c.Colour.Value())}
		if c.Share > 0 {
			parts = append(parts, fmt.Sprintf("%s, %.0f %%", c.Role, 100*c.Share))
		}
		if c.Amount != "" {
			parts = append(parts, c.Amount+" on hand")
		}
		if c.Lacks {
			parts = append(parts, "to buy")
		}
		s.Add(Text{At: Point{x + 31, top + 2*size + 1.2}, Words: fit(strings.Join(parts, " · "), size*0.78, false, wide-35), Size: size * 0.78,
			Paint: Ink})
		if len(c.Lines) > 2 && each > 3.1*size {
			s.Add(Text{At: Point{x + 31, top + 2.9*size + 1.4}, Words: fit(c.Lines[2], size*0.78, false, wide-35), Size: size * 0.78, Paint: Ink})
		}
	}
	foot(&s, margin, p.Width-2*margin, fmt.Sprintf("Cut out: %g × %g mm · daylight colours in sRGB · %s", wide, high, paperGuide))
	return s
}

// proportion is a row of colours as wide as their shares; those that are not
// placed are left out, and where none is placed all are as wide.
func proportion(at Point, wide, high float64, cards []SheetCard) Group {
	total := 0.0
	for _, c := range cards {
		total += c.Share
	}
	g := Group{Class: "proportion"}
	x := at.X
	for _, c := range cards {
		share := c.Share
		if total > 0 {
			share /= total
		} else {
			share = 1 / float64(len(cards))
		}
		if share == 0 {
			continue
		}
		rgb, _ := c.Colour.RGB()
		g.Nodes = append(g.Nodes, Shape{Path: Box(x, at.Y, share*wide, high), Style: Style{Fill: Solid(rgb)},
			Title: fmt.Sprintf("%s, %.0f %%", c.Name, 100*share)})
		x += share * wide
	}
	return g
}

// ProportionSheet draws the palette as a strip card of 180 × 54 mm with widths
// in proportion to the shares.
func ProportionSheet(p card.Paper, title string, cards []SheetCard) Scene {
	const wide, high, margin = 180.0, 54.0, 14.0
	s := Scene{Width: p.Width, Height: p.Height, Millimetres: true, Label: "Proportions of " + title}
	s.Add(Text{At: Point{margin, 18}, Words: fit(title, 4.4, true, wide), Size: 4.4, Bold: true, Paint: Ink})
	s.Add(proportion(Point{margin, 24}, wide, high, cards))
	s.Add(Shape{Path: Box(margin, 24, wide, high), Style: Style{Stroke: Ink, Width: 0.15}})
	y := 24 + high + 6.0
	for _, c := range cards {
		if c.Share == 0 || y > p.Height-16 {
			continue
		}
		words := fmt.Sprintf("%.0f %%  %s", 100*c.Share, c.Name)
		if len(c.Lines) > 2 {
			words += " · " + c.Lines[2]
		}
		s.Add(Text{At: Point{margin, y}, Words: fit(words, 3, false, wide), Size: 3, Paint: Ink})
		y += 4.6
	}
	foot(&s, margin, p.Width-2*margin, fmt.Sprintf("Print at 100 %%: the strip measures %g × %g mm · daylight colours in sRGB · %s", wide,
		high, paperGuide))
	return s
}

// ChartSheets draws a numbered grid of owned colourants to fill in by hand, with
// a field for each number of layers.
func ChartSheets(p card.Paper, title string, cards []SheetCard, layers int) []Scene {
	const margin, head, wide, high = 14.0, 24.0, 44.0, 30.0
	columns, rows := int((p.Width-2*margin)/wide), int((p.Height-head-16)/high)
	per := columns * rows
	var out []Scene
	for page := 0; page*per < len(cards); page++ {
		s := Scene{Width: p.Width, Height: p.Height, Millimetres: true, Label: fmt.Sprintf("Colour chart, sheet %d", page+1)}
		s.Add(Text{At: Point{margin, 14}, Words: fit(title, 4.4, true, p.Width-2*margin), Size: 4.4, Bold: true, Paint: Ink})
		grey, _ := colour.Lab{L: card.GreyPatch}.RGB()
		s.Add(Shape{Path: Box(p.Width-margin-10, 8, 10, 10), Style: Style{Fill: Solid(grey)}, Title: "grey patch, value 5.0"})
		for i, c := range cards[page*per : min(len(cards), (page+1)*per)] {
			x, y := margin+float64(i%columns)*wide, head+float64(i/columns)*high
			for k := range layers {
				w := (wide - 4) / float64(layers)
				s.Add(Shape{Path: Box(x+float64(k)*w, y, w, 18), Style: Style{Stroke: Ink, Width: 0.15}})
				if layers > 1 {
					s.Add(Text{At: Point{x + float64(k)*w + 0.8, y + 2.6}, Words: fmt.Sprint(k + 1), Size: 2, Paint: Ink})
				}
			}
			if c.Name == "" { // a line to write it on
				s.Add(Shape{Path: Line(Point{x + 7, y + 22.2}, Point{x + wide - 4, y + 22.2}), Style: Style{Stroke: Ink, Width: 0.15}})
			}
			s.Add(Text{At: Point{x, y + 21.6}, Words: fit(strings.TrimSpace(fmt.Sprintf("%d %s", c.Number, c.Name)), 2.7, true, wide-4), Size: 2.7,
				Bold: true, Paint: Ink})
			if len(c.Lines) > 0 {
				s.Add(Text{At: Point{x, y + 25}, Words: fit(c.Lines[0], 2.1, false, wide-4), Size: 2.1, Paint: Ink})
			}
		}
		foot(&s, margin, p.Width-2*margin,
			"Paint each square by hand, photograph it with the grey patch or measure it, and enter the result · "+paperGuide)
		out = append(out, s)
	}
	return out
}

// wrap breaks words into at most most lines no wider than width; what is left
// over goes on the last.
func wrap(words string, size float64, bold bool, width float64, most int) []string {
	var lines []string
	current := ""
	for _, w := range strings.Fields(words) {
		next := w
		if current != "" {
			next = current + " " + w
		}
		if current != "" && measure(next, size, bold) > width && len(lines) < most-1 {
			lines = append(lines, current)
			current = w
			continue
		}
		current = next
	}
	return append(lines, current)
}
