package plan

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"lampfern/core/balance"
	"lampfern/core/brief"
	"lampfern/core/wheel"
	"lampfern/core/words"
	"lampfern/store"
)

// MoodChoice is a mood that can be taken. Own ones are the maker's.
type MoodChoice struct {
	brief.Mood
	Own bool
}

// Moods lists the maker's own moods, then those shipped whose name the maker
// has not taken.
func Moods(ctx context.Context, k *Desk) ([]MoodChoice, error) {
	rows, err := k.Store.Read(ctx).Moods()
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
func Mood(ctx context.Context, k *Desk, name string) (brief.Mood, error) {
	all, err := Moods(ctx, k)
	if err != nil || name == "" {
		return brief.Mood{}, err
	}
	for _, m := range all {
		if strings.EqualFold(m.Name, name) {
			return m.Mood, nil
		}
	}
	return brief.Mood{}, words.Refuse("There is no mood called %q. Choose one from the list.", name)
}

// namedMisses is how many moods that are missed by one thing are named.
const namedMisses = 2

// MoodWords say which of some moods a colouring meets and what keeps it from others: from the mood
// that it is for, and from those that miss by one thing. It is empty where no card has any room.
func (p *Plan) MoodWords(tray []TrayCard, l balance.Layout, own string, moods []MoodChoice) string {
	w := brief.Worn{Divided: p.School().Divides()}
	for i, t := range tray {
		if l.Share[i] > 0 {
			w.Names, w.Colours = append(w.Names, t.Name), append(w.Colours, t.Colour)
		}
	}
	if len(w.Names) == 0 {
		return ""
	}
	t := balance.Temperatures(l, ColoursOf(tray), p.School())
	w.Warm, w.Cool = t[wheel.Warm], t[wheel.Cool]
	var meets, near []string
	mine := ""
	for _, m := range moods {
		misses := m.Limits.Misses(w, m.Name)
		switch {
		case strings.EqualFold(m.Name, own) && len(misses) > 0:
			mine = fmt.Sprintf(" It misses %s, which you asked for: %s.", m.Name, strings.Join(misses, "; "))
		case len(misses) == 0:
			meets = append(meets, m.Name)
		case len(misses) == 1 && len(near) < namedMisses:
			near = append(near, fmt.Sprintf("%s (%s)", m.Name, misses[0]))
		}
	}
	said := "Fits none of the moods."
	if len(meets) > 0 {
		said = "Fits " + words.List(meets) + "."
	}
	said += mine
	if len(near) > 0 {
		said += " Nearly fits " + words.List(near) + "."
	}
	return said
}
