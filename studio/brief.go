package studio

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strings"
	"unicode/utf8"

	"lampfern/core/balance"
	"lampfern/core/brief"
	"lampfern/core/colour"
	"lampfern/core/wheel"
	"lampfern/store"
)

// Bounds of the maker's own moods.
const (
	maxOwnMoods  = 100
	maxMoodName  = 40  // characters
	maxMoodWords = 200 // characters
)

// Limits are the limits of the plan's brief.
func (p *Plan) Limits() brief.Limits { return p.Brief.Limit() }

// Outside says why a card lies outside the brief, in a few words; empty when
// it does not.
func (p *Plan) Outside(c *Card) string {
	return outside(p.Limits(), c)
}

func outside(l brief.Limits, c *Card) string {
	if !l.Ask() {
		return ""
	}
	return l.OutsideAs(c.Colour, c.Clearness, c.Family)
}

// SetBrief writes what the maker says of the thing and its limits. Limits that
// ask for nothing are not kept.
func SetBrief(name, craft, purpose string, b brief.Brief, l brief.Limits) Edit {
	return func(d *draft) (string, error) {
		if _, err := Describe(name, craft, purpose)(d); err != nil {
			return "", err
		}
		b.Mood = d.plan.Brief.Mood
		l.Schemes = d.plan.Brief.Limit().Schemes
		d.plan.Brief = b
		d.keepLimits(l)
		return "change the brief", nil
	}
}

// SetMood takes a mood's limits for the brief; a mood without a name lets go of
// every limit.
func SetMood(m brief.Mood) Edit {
	return func(d *draft) (string, error) {
		d.plan.Brief.Mood = m.Name
		if m.Name == "" {
			d.plan.Brief.Limits = nil
			return "let go of the mood", nil
		}
		d.keepLimits(m.Limits)
		return "take the mood " + m.Name, nil
	}
}

func (d *draft) keepLimits(l brief.Limits) {
	d.plan.Brief.Limits = nil
	if fmt.Sprint(l) != fmt.Sprint(brief.Free()) {
		d.plan.Brief.Limits = &l
	}
}

// MoodChoice is a mood that can be taken. Own ones are the maker's.
type MoodChoice struct {
	brief.Mood
	Own bool
}

const moodScope = "moods"

// Moods lists the maker's own moods, then those shipped whose name the maker
// has not taken.
func (s *Studio) Moods(ctx context.Context) ([]MoodChoice, error) {
	rows, err := s.store.Read(ctx).Moods()
	if err != nil {
		return nil, fmt.Errorf("reading the moods: %w", err)
	}
	var out []MoodChoice
	for _, r := range rows {
		out = append(out, MoodChoice{brief.Mood{Name: r.Name, Words: r.Words, Limits: r.Limits}, true})
	}
	for _, m := range brief.Moods() {
		if !slices.ContainsFunc(rows, func(r store.Mood) bool { return strings.EqualFold(r.Name, m.Name) }) {
			out = append(out, MoodChoice{m, false})
		}
	}
	return out, nil
}

// Mood returns the mood of a name.
func (s *Studio) Mood(ctx context.Context, name string) (brief.Mood, error) {
	all, err := s.Moods(ctx)
	if err != nil || name == "" {
		return brief.Mood{}, err
	}
	for _, m := range all {
		if strings.EqualFold(m.Name, name) {
			return m.Mood, nil
		}
	}
	return brief.Mood{}, refuse("There is no mood called %q: choose one of the list.", name)
}

// SaveMood keeps limits as a mood of the maker's own, in place of an own one of
// the same name.
func (s *Studio) SaveMood(ctx context.Context, name, words string, l brief.Limits) error {
	name, words = strings.Join(strings.Fields(name), " "), strings.Join(strings.Fields(words), " ")
	switch {
	case name == "":
		return refuse("Give the mood a name.")
	case utf8.RuneCountInString(name) > maxMoodName || utf8.RuneCountInString(words) > maxMoodWords:
		return refuse("A mood's name has at most %d characters and its words %d.", maxMoodName, maxMoodWords)
	}
	if err := l.Check(); err != nil {
		return refuse("The mood cannot be kept: %s.", err)
	}
	return s.changeMoods(ctx, "keep the mood "+name, func(all []store.Mood) ([]store.Mood, error) {
		m := store.Mood{Name: name, Words: words, Limits: l}
		if at := moodNamed(all, name); at >= 0 {
			all[at] = m
			return all, nil
		}
		if len(all) >= maxOwnMoods {
			return nil, refuse("There are %d moods of your own already: forget one first.", maxOwnMoods)
		}
		return append(all, m), nil
	})
}

// DropMood forgets a mood of the maker's own. Plans keep the limits they took.
func (s *Studio) DropMood(ctx context.Context, name string) error {
	return s.changeMoods(ctx, "forget the mood "+name, func(all []store.Mood) ([]store.Mood, error) {
		at := moodNamed(all, name)
		if at < 0 {
			return nil, refuse("There is no mood of your own called %q.", name)
		}
		return slices.Delete(all, at, at+1), nil
	})
}

func moodNamed(all []store.Mood, name string) int {
	return slices.IndexFunc(all, func(m store.Mood) bool { return strings.EqualFold(m.Name, name) })
}

func (s *Studio) changeMoods(ctx context.Context, label string, change func([]store.Mood) ([]store.Mood, error)) error {
	return changeOwn(ctx, s, moodScope, label, store.Tx.Moods, store.Tx.PutMoods, change)
}

// StepMoods undoes or redoes the last change of the maker's own moods.
func (s *Studio) StepMoods(ctx context.Context, undo bool) (label string, err error) {
	return stepOwn(ctx, s, moodScope, undo, store.Tx.PutMoods)
}

// MoodSteps says what undo would take back of the own moods, empty when nothing.
func (s *Studio) MoodSteps(ctx context.Context) (undo, redo string, err error) {
	return s.store.Read(ctx).Labels(moodScope)
}

// BriefView is what the brief stage shows.
type BriefView struct {
	Limits   brief.Limits
	Fronds   [wheel.Places]Frond
	Inside   int // cards of the shelf within the limits
	All      int
	From, To int // a sensible number of colours for the craft
	Notes    []balance.Note
}

// BriefView works out the brief stage.
func (p *Plan) BriefView() BriefView {
	v := BriefView{Limits: p.Limits(), Fronds: p.Shelf.Fronds(p.OnWheel()), All: len(p.Shelf.Cards)}
	v.From, v.To = brief.SensibleCount(p.Craft)
	for _, c := range p.Shelf.Cards {
		if outside(v.Limits, c) == "" {
			v.Inside++
		}
	}
	var notes []balance.Note
	if v.Inside == 0 && v.All > 0 {
		notes = append(notes, balance.Note{ID: "brief-nothing", Severity: balance.Fix, Aside: -1, About: "Nothing on the shelf",
			Words: " lies within these limits. " + p.widen(v.Limits)})
	}
	if p.Brief.Count == 0 {
		notes = append(notes, balance.Note{ID: "brief-count", Severity: balance.Fine, Aside: -1, About: capitalFirst(counts[v.From]),
			Words: fmt.Sprintf(" to %s colours are a good number to begin with (%s).", counts[v.To], p.Craft)})
	}
	v.Notes = p.visible(append(notes, p.briefNotes()...))
	return v
}

// counts are small numbers in words.
var counts = []string{"no", "one", "two", "three", "four", "five", "six", "seven", "eight"}

// widen says which one limit, let go, brings back most of the shelf.
func (p *Plan) widen(l brief.Limits) string {
	free := brief.Free()
	best, words := 0, "Widen the value range and let families back in."
	for _, try := range []struct {
		name string
		let  func(*brief.Limits)
	}{
		{"the value range", func(l *brief.Limits) { l.ValueFrom, l.ValueTo = free.ValueFrom, free.ValueTo }},
		{"the clearness range", func(l *brief.Limits) { l.ClearFrom, l.ClearTo = free.ClearFrom, free.ClearTo }},
		{"the families ruled out", func(l *brief.Limits) { l.Out = nil }},
	} {
		wider, n := l, 0
		try.let(&wider)
		for _, c := range p.Shelf.Cards {
			if outside(wider, c) == "" {
				n++
			}
		}
		if n > best {
			best, words = n, fmt.Sprintf("Without %s there would be %d.", try.name, n)
		}
	}
	return words
}

// briefName is what notes call the brief: by its mood when it has one.
func (p *Plan) briefName() string {
	if p.Brief.Mood != "" {
		return p.Brief.Mood
	}
	return "the brief"
}

// briefNotes says where the tray does not answer the brief.
func (p *Plan) briefNotes() []balance.Note {
	var notes []balance.Note
	add := func(id string, s balance.Severity, about, words string, aside int) {
		notes = append(notes, balance.Note{ID: id, Severity: s, About: about, Words: words, Aside: aside})
	}
	l := p.Limits()
	for i, t := range p.Tray {
		if why := outside(l, t.Card); why != "" {
			add(fmt.Sprintf("brief:%d", t.Key), balance.Consider, t.Name, fmt.Sprintf(" is %s for %s.", why, p.briefName()), i)
		}
	}
	if n := p.Brief.Count; n > 0 && len(p.Tray) > n {
		add("brief-many", balance.Consider, fmt.Sprintf("%d cards", len(p.Tray)), fmt.Sprintf(" lie in the tray and the brief asks for %d.", n), -1)
	}
	if n, ok := p.contrastNote(l); ok {
		notes = append(notes, n)
	}
	if len(p.Tray) > 0 && l.Warm != l.Cool && p.school().Divides() {
		warm, cool, _, _ := p.temperatures()
		if l.Warm && warm < cool || l.Cool && cool < warm {
			want := map[bool]string{true: "warm", false: "cool"}[l.Warm]
			add("brief-warmth", balance.Consider, capitalFirst(p.briefName()), fmt.Sprintf(" wants it %s: %.0f%% is warm and %.0f%% cool.", want, 100*warm, 100*cool), -1)
		}
	}
	if p.Scheme != "" && len(l.Schemes) > 0 && !slices.Contains(l.Schemes, p.Scheme) {
		add("brief-scheme", balance.Fine, capitalFirst(p.briefName()), " goes well with "+strings.Join(l.Schemes, " or ")+"; "+p.Scheme+" is lit.", -1)
	}
	return append(notes, p.lampNotes()...)
}

// contrastNote says when the tray's spread of value is not what the brief asks.
func (p *Plan) contrastNote(l brief.Limits) (balance.Note, bool) {
	if len(p.Tray) < 2 {
		return balance.Note{}, false
	}
	low, high := math.Inf(1), math.Inf(-1)
	for _, c := range p.labs() {
		low, high = math.Min(low, c.Value()), math.Max(high, c.Value())
	}
	n := balance.Note{ID: "brief-contrast", Severity: balance.Consider, Aside: -1, About: "The tray"}
	switch spread := math.Round(10*(high-low)) / 10; {
	case spread < l.ContrastFrom:
		n.Words = fmt.Sprintf(" spans %.1f value steps and %s asks for %g at least: add something darker or lighter.", spread, p.briefName(), l.ContrastFrom)
	case spread > l.ContrastTo:
		n.Words = fmt.Sprintf(" spans %.1f value steps and %s asks for %g at most: bring the darkest and the lightest together.", spread, p.briefName(), l.ContrastTo)
	default:
		return n, false
	}
	return n, true
}

// togetherBelow is the ΔE00 under which two colours are hard to tell apart.
const togetherBelow = 5.0

// lampNotes says which cards come together under the lamp the thing will be
// seen by, though daylight keeps them apart.
func (p *Plan) lampNotes() []balance.Note {
	at := slices.IndexFunc(colour.Lamps(), func(l colour.Lamp) bool { return l.Key == p.Brief.Lamp })
	if at <= 0 { // none, or daylight
		return nil
	}
	lamp := colour.Lamps()[at]
	var notes []balance.Note
	for i, a := range p.Tray {
		for _, b := range p.Tray[i+1:] {
			if colour.DeltaE2000(a.Colour, b.Colour) < togetherBelow {
				continue // told already
			}
			d := colour.DeltaE2000(lamp.See(a.Colour, colour.LampAdaptation), lamp.See(b.Colour, colour.LampAdaptation))
			if d < togetherBelow {
				notes = append(notes, balance.Note{ID: fmt.Sprintf("brief-lamp:%d:%d", a.Key, b.Key), Severity: balance.Consider, Aside: -1, About: a.Name,
					Words: fmt.Sprintf(" and %s come together under the %s, %.1f apart, where the piece will be seen.", b.Name, lamp.Name, d)})
			}
		}
	}
	return notes
}

// focusNotes says whether the eye goes where the brief wants it, strongest pull
// first. The brief names parts or cards in the maker's words.
func (p *Plan) focusNotes(pulls []PullView) []balance.Note {
	if len(pulls) < 2 {
		return nil
	}
	var notes []balance.Note
	first := pulls[0]
	if at := named(pulls, p.Brief.Focus); at > 0 {
		notes = append(notes, balance.Note{ID: "brief-focus", Severity: balance.Fix, Aside: -1, Swap: []int{pulls[at].Index, first.Index}, About: pulls[at].Name,
			Words: fmt.Sprintf(" should be the focus (%s) and %s takes the first look. Swap the two, or make it bolder.", p.Brief.Focus, first.Name)})
	} else if at == 0 {
		notes = append(notes, balance.Note{ID: "brief-focus-met", Severity: balance.Fine, Aside: -1, About: first.Name,
			Words: fmt.Sprintf(" takes the first look, as the brief wants (%s).", p.Brief.Focus)})
	}
	if at := named(pulls, p.Brief.Quiet); at >= 0 && pulls[at].Strong >= balance.RecedesBelow {
		notes = append(notes, balance.Note{ID: "brief-quiet", Severity: balance.Consider, Aside: -1, About: pulls[at].Name,
			Words: fmt.Sprintf(" should stay quiet (%s) and pulls %.0f%% as strongly as %s.", p.Brief.Quiet, 100*pulls[at].Strong, first.Name)})
	}
	return notes
}

// named finds the pull whose card or part the words speak of; −1 for none.
func named(pulls []PullView, words string) int {
	words = strings.ToLower(words)
	if words == "" {
		return -1
	}
	return slices.IndexFunc(pulls, func(v PullView) bool {
		return strings.Contains(words, strings.ToLower(v.Name)) ||
			slices.ContainsFunc(v.Parts, func(part string) bool { return strings.Contains(words, strings.ToLower(part)) })
	})
}

func capitalFirst(s string) string {
	r, n := utf8.DecodeRuneInString(s)
	return strings.ToUpper(string(r)) + s[n:]
}
