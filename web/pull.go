package web

import (
	"fmt"
	"html"
	"html/template"
	"net/url"
	"strconv"
	"strings"

	"lampfern/studio"
)

// cardButton is a small card that does something when it is chosen. A page has
// some sixty of them, so they are written here and not by a template.
type cardButton struct {
	card    *studio.Card
	paint   template.CSS
	id      string // of the element, empty for none
	act     string // the change it makes, encoded
	does    string // one word shown on it, such as "pull"
	name    string // on its tab, the card's own when empty
	label   string // for a screen reader
	in      bool   // in the tray already
	outside string // why it lies outside the brief
}

func (b cardButton) html() template.HTML {
	var out strings.Builder
	write := func(parts ...string) {
		for _, p := range parts {
			out.WriteString(p)
		}
	}
	title := fmt.Sprintf("%s, value %.1f", b.card.Name, b.card.Colour.Value())
	class, said, label := "pull-card", b.does, b.label
	if b.outside != "" {
		class += " outside"
		title += ", outside the brief: " + b.outside
		said, label = b.outside, label+", "+b.outside+" for the brief"
	}
	if b.in {
		said = "in the tray"
	}
	name := b.name
	if name == "" {
		name = b.card.Name
	}
	write(`<li><button form="change" name="act" value="`, html.EscapeString(b.act), `" class="`, class, `" title="`, html.EscapeString(title), `" aria-label="`, html.EscapeString(label), `"`)
	if b.id != "" {
		write(` id="`, b.id, `"`)
	}
	if b.in {
		write(` disabled`)
	}
	write(`><span class="tab"><b>`, html.EscapeString(name), `</b></span><span class="colour" style="`, string(b.paint), `"><em>`, html.EscapeString(said), `</em></span></button></li>`)
	return template.HTML(out.String())
}

// offered is a card of the shelf as a button.
func offered(p *page, c *studio.Card) cardButton {
	b := cardButton{card: c, paint: p.View.Paint(c.Colour), act: "do=pull&material=" + strconv.Itoa(int(c.ID)), does: "pull", label: "Pull " + c.Name, outside: p.Plan.Outside(c)}
	for _, t := range p.Plan.Tray {
		b.in = b.in || t.ID == c.ID
	}
	return b
}

// pullCard offers a card of the shelf to be pulled.
func pullCard(p *page, c *studio.Card) template.HTML {
	b := offered(p, c)
	b.id = "pull-" + strconv.Itoa(int(c.ID))
	return b.html()
}

// pullNear offers a card beside a scrap, with how far it is from it.
func pullNear(p *page, n studio.Near) template.HTML {
	b := offered(p, n.Card)
	b.name = fmt.Sprintf("%s · %.0f", n.Card.Name, n.Apart)
	return b.html()
}

// replaceBy offers a card in the place of one of the tray.
func replaceBy(p *page, c *studio.Card, key int) template.HTML {
	b := offered(p, c)
	b.act = fmt.Sprintf("do=replace&key=%d&material=%d", key, c.ID)
	b.does, b.label = "take", "Take "+c.Name+" in its place"
	return b.html()
}

// tryCard offers a material in the place of a laid card, with what it ties
// together.
func tryCard(p *page, t studio.Try, old string) template.HTML {
	b := offered(p, t.Card)
	b.in, b.outside = false, ""
	b.act = fmt.Sprintf("do=lay-instead&old=%s&token=m%d", old, t.ID)
	b.does, b.label = "try", fmt.Sprintf("Try %s, %.0f apart", t.Name, t.Apart)
	if len(t.Holds) > 0 {
		b.does = fmt.Sprintf("holds %d", len(t.Holds))
		b.label = "Try " + t.Name + ", which holds " + strings.Join(t.Holds, " and ")
	}
	return b.html()
}

// freeLeaves offers the tints, tones and shades of a place as free colours,
// clear ones first.
func freeLeaves(p *page, l studio.PlaceView) template.HTML {
	var out strings.Builder
	for _, clear := range []bool{true, false} {
		for _, leaf := range l.Ideals {
			if leaf.Clear != clear {
				continue
			}
			act := url.Values{"do": {"free"}, "place": {strconv.FormatFloat(l.Place, 'f', -1, 64)}, "band": {strconv.Itoa(leaf.Band)}}
			class := "free greyed"
			if clear {
				act.Set("clear", "1")
				class = "free"
			}
			words := fmt.Sprintf("%s, value %.1f, clearness %.0f%%", studio.IdealName(l.Name, leaf.Band, clear), leaf.Ideal.Value(), 100*leaf.Clearness)
			fmt.Fprintf(&out, `<button form="change" name="act" value="%s" class="%s" style="%s" title="Take %s"></button>`,
				html.EscapeString(act.Encode()), class, p.View.Paint(leaf.Ideal), words)
		}
	}
	return template.HTML(out.String())
}
