package web

import (
	"cmp"
	"fmt"
	"html"
	"html/template"
	"slices"
	"strconv"
	"strings"

	"lampfern/plan"
	"lampfern/shelf"
)

// CardButton is a small card that does something when it is chosen. A page has
// some sixty of them, so they are written here and not by a template.
type CardButton struct {
	card    *shelf.Card
	paint   template.CSS
	id      string // of the element, empty for none
	Act     string // the change it makes, encoded
	Does    string // one word shown on it, such as "pull"
	Says    string // the same in more words, for a screen reader; Does when empty
	name    string // on its tab, the card's own when empty
	In      bool   // in the tray already
	Outside string // why it lies outside the brief
}

// HTML is the button as an item of a list.
func (b CardButton) HTML() template.HTML {
	var out strings.Builder
	write := func(parts ...string) {
		for _, p := range parts {
			out.WriteString(p)
		}
	}
	title := fmt.Sprintf("%s, value %.1f", b.card.Name, b.card.Colour.Value())
	class, said, does := "pull-card", b.Does, cmp.Or(b.Says, b.Does)
	if b.Outside != "" {
		class += " outside"
		title += ", outside the brief: " + b.Outside
		said, does = b.Outside, b.Outside+" for your brief, "+does
	}
	if b.In {
		said, does = "in the tray", "in the tray"
	}
	name := b.name
	if name == "" {
		name = b.card.Name
	}
	write(`<li><button form="change" name="act" value="`, html.EscapeString(b.Act), `" class="`, class, `" title="`, html.EscapeString(title),
		`" aria-label="`, html.EscapeString(name+", "+does), `"`)
	if b.id != "" {
		write(` id="`, b.id, `"`)
	}
	if b.In {
		write(` disabled`)
	}
	write(`><span class="tab"><b>`, html.EscapeString(name), `</b></span> <span class="colour" style="`, string(b.paint), `"><em>`,
		html.EscapeString(said), `</em></span></button></li>`)
	return template.HTML(out.String())
}

// Offered is a card of the shelf as a button.
func Offered(p *Page, c *shelf.Card) CardButton {
	b := CardButton{card: c, paint: p.View.Paint(c.Colour), Act: "do=pull&material=" + strconv.Itoa(int(c.ID)), Does: "pull",
		Outside: p.Plan.Outside(c)}
	for _, t := range p.Plan.Tray {
		b.In = b.In || t.ID == c.ID
	}
	return b
}

// PullCard offers a card of the shelf to be pulled.
func PullCard(p *Page, c *shelf.Card) template.HTML {
	b := Offered(p, c)
	b.id = "pull-" + strconv.Itoa(int(c.ID))
	return b.HTML()
}

// PullNear offers a card beside a scrap, with how far it is from it.
func PullNear(p *Page, n shelf.Near) template.HTML {
	b := Offered(p, n.Card)
	b.name = fmt.Sprintf("%s · %.0f", n.Card.Name, n.Apart)
	return b.HTML()
}

// PullLayered offers a card beside a scrap, in as many layers as come nearest to it.
func PullLayered(p *Page, n shelf.NearLayer) template.HTML {
	if n.Layers < 2 {
		return PullNear(p, n.Near)
	}
	b := Offered(p, n.Card)
	name, _ := n.Card.InLayers(n.Layers)
	b.name, b.paint = fmt.Sprintf("%s · %.0f", name, n.Apart), p.View.Paint(n.Lab)
	b.Act = fmt.Sprintf("do=pull-layers&material=%d&layers=%d", n.Card.ID, n.Layers)
	b.In = slices.ContainsFunc(p.Plan.Tray, func(t plan.TrayCard) bool { return t.ID == 0 && t.Name == name })
	return b.HTML()
}

// ReplaceBy offers a card in the place of one of the tray.
func ReplaceBy(p *Page, c *shelf.Card, key int) template.HTML {
	b := Offered(p, c)
	b.Act = fmt.Sprintf("do=replace&key=%d&material=%d", key, c.ID)
	b.Does, b.Says = "take", "take in its place"
	return b.HTML()
}
