package piece

import (
	"fmt"
	"strings"

	"lampfern/core/words"
)

// Task is a step of a craft's order of work, as it usually is. All times are in minutes.
type Task struct {
	Key, Name string
	After     []string // keys of tasks that come before; There and Agreed stand for what every craft waits for
	Each      Spread   // of the maker's hands, for one
	Count     float64  // of these
	Per       string   // what is counted, in the plural; empty where there is one
	Fixed     float64  // of the hands, beside it
	Wait      Spread   // before what comes after may begin
	Why       string   // of the wait: what it is for
	Window    bool     // what comes after must begin between the least and the most of the wait
	Run       float64  // that a tool goes on by itself
	OneGo     bool     // never split over two sittings
	Present   bool     // somebody is there while the tool runs
	Tool      string   // that serves one thing at a time
	Until     string   // the key of the task at whose end the tool is free; empty for this one
	Optional  bool     // may be left out
	Off       bool     // is left out until the maker wants it
	Care      string   // a sentence on what can hurt
}

// Spread is a length that is usually so, and lies between two others.
type Spread struct{ Usual, Least, Most float64 }

// What every craft waits for, as keys of tasks.
const (
	There  = "delivery" // what it is made of has come
	Agreed = "signoff"  // the client said yes
)

// Lengths of time in minutes.
const (
	Hour = 60.0
	Days = 24 * Hour
)

// Do begins a task.
func Do(key, name string, after ...string) Task {
	return Task{Key: key, Name: name, After: after, Count: 1}
}

// Takes says how long one takes, usually, at least and at most.
func (t Task) Takes(usual, least, most float64) Task {
	t.Each = Spread{usual, least, most}
	return t
}

// For says how many there are of what.
func (t Task) For(count float64, per string) Task {
	t.Count, t.Per = count, per
	return t
}

// And adds minutes that do not depend on how many there are.
func (t Task) And(fixed float64) Task {
	t.Fixed = fixed
	return t
}

// Waits says how long what comes after waits, and what for.
func (t Task) Waits(why string, usual, least, most float64) Task {
	t.Wait, t.Why = Spread{usual, least, most}, why
	return t
}

// Within says that what comes after begins between two lengths of time, and why.
func (t Task) Within(why string, least, most float64) Task {
	t.Wait, t.Why, t.Window = Spread{least, least, most}, why, true
	return t
}

// InOneGo says that it is never split.
func (t Task) InOneGo() Task {
	t.OneGo = true
	return t
}

// With says which tool it needs, and the key of the task at whose end that is free.
func (t Task) With(tool, until string) Task {
	t.Tool, t.Until = tool, until
	return t
}

// Maybe says that it may be left out, and whether it is until the maker wants it.
func (t Task) Maybe(off bool) Task {
	t.Optional, t.Off = true, off
	return t
}

// Caring adds a sentence on what can hurt.
func (t Task) Caring(sentence string) Task {
	t.Care = sentence
	return t
}

// Work is how long it usually takes the hands.
func (t Task) Work() float64 { return t.Fixed + t.Each.Usual*t.Count }

// Reckoned says how Work comes about.
func (t Task) Reckoned() string {
	if t.Per == "" || t.Count == 0 {
		return ""
	}
	of := t.Per
	if t.Count == 1 { // 1 model, 1 metre of end
		first, rest, _ := strings.Cut(of, " ")
		of = strings.TrimSpace(strings.TrimSuffix(first, "s") + " " + rest)
	}
	said := fmt.Sprintf("%s %s × %s", Count(t.Count), of, perWords(t.Each.Usual))
	if t.Fixed > 0 {
		said += " + " + words.Minutes(t.Fixed)
	}
	return said
}

// perWords are minutes, or seconds where they are few.
func perWords(minutes float64) string {
	if minutes < 1 {
		return fmt.Sprintf("%.3g s", minutes*60)
	}
	return strings.TrimSuffix(fmt.Sprintf("%.1f", minutes), ".0") + " min"
}

// Count is how many in words: whole where it is many.
func Count(n float64) string {
	if n >= 10 {
		return fmt.Sprintf("%.0f", n)
	}
	return fmt.Sprintf("%.3g", n)
}

// Sitting is the order in which colours are taken up within a sitting, so that nothing is
// dirtied.
type Sitting int

// The orders of colours within a sitting.
const (
	AnyOrder     Sitting = iota
	LightFirst           // a tool or a bath is shared
	InsideOut            // what lies below and within comes first
	LintFirst            // the lightest yarn, for lint shows on it
	CoveredFirst         // lightest first, and nothing is laid over what is wet
)

// Words say why.
func (s Sitting) Words() string {
	return map[Sitting]string{LightFirst: "Lightest first: tools and baths are shared.",
		InsideOut:    "From the inside out: what is underneath comes first, such as skin before clothing before gear.",
		LintFirst:    "The lightest yarn first: lint shows on it.",
		CoveredFirst: "Lightest first; let one dry before the next touches it."}[s]
}
