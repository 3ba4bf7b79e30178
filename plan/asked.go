package plan

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"lampfern/core/balance"
	"lampfern/core/colour"
	"lampfern/core/note"
	"lampfern/core/wheel"
	"lampfern/core/words"
)

// BriefNotes says where the tray does not answer the brief.
func (p *Plan) BriefNotes() []note.Note {
	var notes []note.Note
	add := func(id string, g note.Grade, about, words string, aside int) {
		notes = append(notes, note.Note{ID: id, Grade: g, About: about, Words: words, Aside: aside})
	}
	l := p.Limits()
	for i, t := range p.Tray {
		if why := Outside(l, t.Card); why != "" {
			add(fmt.Sprintf("brief:%d", t.Key), note.Consider, t.Name, fmt.Sprintf(" is %s for %s.", why, p.briefName()), i)
		}
	}
	if n, of := p.Asked().Count, len(p.InScheme()); n > 0 && of > n {
		add("brief-many", note.Consider, words.Capital(words.Counted(of, "card", "cards")),
			fmt.Sprintf(" are in the tray and your brief asks for %s.", words.Count(n)), -1)
	}
	if n, ok := p.ContrastNote(); ok {
		notes = append(notes, n)
	}
	if len(p.Tray) > 0 && l.Warm != l.Cool && p.School().Divides() {
		warm, cool, _, _ := p.Temperatures()
		if l.Warm && warm < cool || l.Cool && cool < warm {
			want := map[bool]string{true: "warm", false: "cool"}[l.Warm]
			add("brief-warmth", note.Consider, words.Capital(p.briefName()), fmt.Sprintf(" should be %s; it is %s warm and %s cool.", want,
				words.PerCent(warm), words.PerCent(cool)), -1)
		}
	}
	if p.Lit() != "" && len(l.Schemes) > 0 && !slices.Contains(l.Schemes, p.Lit()) {
		add("brief-scheme", note.Fine, words.Capital(p.briefName()), " suits "+strings.Join(l.Schemes, " or ")+" best; you chose "+p.Lit()+".",
			-1)
	}
	return append(notes, p.lampNotes()...)
}

// ContrastNote says when the tray's spread of value is not what the brief asks.
func (p *Plan) ContrastNote() (note.Note, bool) {
	if len(p.Tray) < 2 {
		return note.Note{}, false
	}
	l, low, high := p.Limits(), math.Inf(1), math.Inf(-1)
	for _, c := range p.Labs() {
		low, high = math.Min(low, c.Value()), math.Max(high, c.Value())
	}
	n := note.Note{ID: "brief-contrast", Grade: note.Consider, Aside: -1, About: "The tray"}
	switch spread := math.Round(10*(high-low)) / 10; {
	case spread < l.ContrastFrom:
		n.Words = fmt.Sprintf(" spans %.1f value steps and %s asks for at least %g. Add something darker or lighter.", spread, p.briefName(),
			l.ContrastFrom)
	case spread > l.ContrastTo:
		n.Words = fmt.Sprintf(" spans %.1f value steps and %s asks for at most %g. Choose a lighter dark or a darker light.", spread,
			p.briefName(), l.ContrastTo)
	default:
		return n, false
	}
	return n, true
}

// togetherBelow is the ΔE00 under which two colours are hard to tell apart.
const togetherBelow = 5.0

// lampNotes says which cards come together under the lamp the thing will be
// seen by, though daylight keeps them apart.
func (p *Plan) lampNotes() []note.Note {
	at := slices.IndexFunc(colour.Lamps(), func(l colour.Lamp) bool { return l.Key == p.Asked().Lamp })
	if at <= 0 { // none, or daylight
		return nil
	}
	lamp := colour.Lamps()[at]
	var notes []note.Note
	for i, a := range p.Tray {
		for _, b := range p.Tray[i+1:] {
			if colour.DeltaE2000(a.Colour, b.Colour) < togetherBelow {
				continue // told already
			}
			d := colour.DeltaE2000(lamp.See(a.Colour, colour.LampAdaptation), lamp.See(b.Colour, colour.LampAdaptation))
			if d < togetherBelow {
				notes = append(notes, note.Note{ID: note.ID("brief-lamp", note.Pair(fmt.Sprint(a.Key), fmt.Sprint(b.Key))), Grade: note.Consider,
					Aside: -1, About: a.Name,
					Words: fmt.Sprintf(" and %s will be hard to tell apart under the %s (ΔE %.0f), where the piece will be seen.", b.Name, lamp.Name, d)})
			}
		}
	}
	return notes
}

// briefName is what notes call the brief: by its mood when it has one.
func (p *Plan) briefName() string {
	if p.Asked().Mood != "" {
		return p.Asked().Mood
	}
	return "your brief"
}

// Temperatures are the warm, cool and neutral shares: of the piece where cards
// fill it, else of the tray's cards by number.
func (p *Plan) Temperatures() (warm, cool, grey float64, byArea bool) {
	layout := EmptyLayout(len(p.Tray))
	if p.Piece != nil {
		layout = p.Layout()
	}
	for _, s := range layout.Share {
		byArea = byArea || s > 0
	}
	if !byArea {
		for i := range layout.Share {
			layout.Share[i] = 1
		}
	}
	t := balance.Temperatures(layout, p.Colours(), p.School())
	return t[wheel.Warm], t[wheel.Cool], t[wheel.Neutral], byArea
}
