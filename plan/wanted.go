package plan

import (
	"fmt"
	"slices"
	"strings"

	"lampfern/core/colour"
	"lampfern/core/material"
	"lampfern/core/words"
)

// Wish is a colour that the shelf lacks.
type Wish struct {
	Key  int     `json:"key"`
	Name string  `json:"name"`
	L    float64 `json:"l"`
	A    float64 `json:"a"`
	B    float64 `json:"b"`
}

// Colour is the colour wished for.
func (w Wish) Colour() colour.Lab { return colour.Lab{L: w.L, A: w.A, B: w.B} }

// Wantable is a colour of a plan that could be mixed.
type Wantable struct {
	Key    string // names it, as Want takes it
	Name   string
	From   string // where it lies, in words
	Colour colour.Lab
}

// Wantables are the colours of a plan that could be mixed: its cards, what lies between those that
// fade into one another, scraps and wishes, but for those that wait to be mixed already.
func (p *Plan) Wantables() []Wantable {
	return slices.DeleteFunc(p.coloured(), func(o Wantable) bool {
		return slices.ContainsFunc(p.Targets, func(t Wish) bool { return t.Colour() == o.Colour })
	})
}

// coloured are the colours of a plan, wanted or not.
func (p *Plan) coloured() []Wantable {
	var out []Wantable
	for _, t := range p.Tray {
		if t.Given {
			continue // it is there already, and is not mixed
		}
		out = append(out, Wantable{fmt.Sprintf("card%d", t.Key), t.Name, "tray", t.Colour})
	}
	out = append(out, p.fadeSteps()...)
	for _, s := range p.Scraps {
		out = append(out, Wantable{fmt.Sprintf("scrap%d", s.Key), s.Name, "scrap page", colour.Lab{L: s.L, A: s.A, B: s.B}})
	}
	for _, w := range p.Wishes {
		out = append(out, Wantable{fmt.Sprintf("wish%d", w.Key), w.Name, "wish list", w.Colour()})
	}
	return out
}

// fadeSteps are the colours between the two cards of each fade of the piece.
func (p *Plan) fadeSteps() (out []Wantable) {
	if p.Piece == nil || len(p.Piece.Fades) == 0 {
		return nil
	}
	fill := p.Fill()
	for _, f := range p.Piece.Fades {
		a, b := fill[f.From], fill[f.To]
		if a < 0 || b < 0 || a == b {
			continue
		}
		one, two := p.Tray[a], p.Tray[b]
		for i, said := range []string{"a quarter", "half", "three quarters"} {
			u := float64(i+1) / 4
			out = append(out, Wantable{fmt.Sprintf("fade-%s-%d", p.Piece.Parts[f.From].Key, i+1),
				fmt.Sprintf("%s, %s into %s", one.Name, said, two.Name),
				"fade of the " + p.Piece.Parts[f.From].Name, one.Colour.Toward(two.Colour, u)})
		}
	}
	return out
}

// Want puts a colour on the list of those to be mixed and begins to work on it: one of
// the plan's, by the key of a Wantable, or one that is typed.
type Want struct {
	From string `form:"from,optional"`
	Hex  string `form:"hex,optional"`
	Lab  string `form:"lab,optional"` // L*, a* and b* with spaces between, of a colour that a page shows
	Name string `form:"name,optional"`
}

func (e Want) Do(d *Draft) (string, error) {
	name, lab := strings.Join(strings.Fields(e.Name), " "), colour.Lab{}
	switch hex := strings.TrimSpace(e.Hex); {
	case e.Lab != "":
		if n, err := fmt.Sscan(e.Lab, &lab.L, &lab.A, &lab.B); n != 3 || err != nil || lab.Check() != nil {
			return "", words.Refuse("That colour cannot be read. Choose it again.")
		}
		if name == "" {
			name = words.AFamily(colour.Family(lab))
		}
	case hex != "":
		c, err := colour.ParseHex(hex)
		if err != nil {
			return "", words.Refuse("%s.", words.Capital(err.Error()))
		}
		if lab = c.Lab(); name == "" {
			name = words.Capital(words.AFamily(colour.Family(lab)))
		}
	default:
		p, err := d.View()
		if err != nil {
			return "", err
		}
		all := p.coloured()
		at := slices.IndexFunc(all, func(o Wantable) bool { return o.Key == e.From })
		if at < 0 {
			return "", words.Refuse("Choose a colour of the plan, or type one, such as #4b2346.")
		}
		if lab = all[at].Colour; name == "" {
			name = all[at].Name
		}
	}
	if len([]rune(name)) > material.MaxName {
		return "", words.Refuse("The name is longer than %d characters: shorten it.", material.MaxName)
	}
	w := Wish{Name: words.Capital(name), L: lab.L, A: lab.A, B: lab.B}
	for _, t := range d.Plan.Targets {
		if t.Colour() == lab && t.Name == w.Name {
			d.workOn(t.Key)
			return "mix " + w.Name, nil
		}
		w.Key = max(w.Key, t.Key)
	}
	if len(d.Plan.Targets) >= MostWanted {
		return "", words.Refuse("There are %d target colours on Mix already. Remove one first.", MostWanted)
	}
	w.Key++
	d.Plan.Targets = append(slices.Clone(d.Plan.Targets), w)
	d.workOn(w.Key)
	d.Say(w.Name + " is a target colour on Mix.")
	return "want " + w.Name, nil
}

// workOn tells the section that mixes which wanted colour is worked on.
func (d *Draft) workOn(key int) {
	for _, s := range d.Plan.sections {
		if m, is := s.(Mixer); is {
			m.WorkOn(key)
		}
	}
}

// Base is the colour that the colourants of a batch go into: usual, until the maker chose another.
func (p *Plan) Base(usual colour.Lab) colour.Lab {
	for _, s := range p.sections {
		if b, is := s.(Baser); is {
			if c, chosen := b.Base(); chosen {
				return c
			}
		}
	}
	return usual
}
