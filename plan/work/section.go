// Package work is the making of a plan: its steps and when they are done, what was made of
// it, and what that taught. Stages and pages share it; it draws nothing and shows nothing.
package work

import (
	"encoding/json"
	"slices"
	"time"

	"lampfern/core/colour"
	"lampfern/core/piece"
	"lampfern/core/schedule"
	"lampfern/core/words"
	"lampfern/plan"
)

// Key names the stage whose section this is.
const Key = "log"

// Section is what is kept of the making of a plan.
type Section struct {
	Due     string             `json:"due,omitempty"`   // the day by which it must be finished, as 2006-01-02
	Begin   string             `json:"begin,omitempty"` // the day before which nothing begins
	Alone   bool               `json:"alone,omitempty"` // tools may run while nobody is there
	Steps   []Step             `json:"steps,omitempty"`
	Shots   []string           `json:"shots,omitempty"` // photos of the finished thing
	Made    []Made             `json:"made,omitempty"`
	Used    []Used             `json:"used,omitempty"`
	Shares  map[string]float64 `json:"shares,omitempty"` // of the finished thing, by the names of cards, as a photo shows it
	Proved  map[string]bool    `json:"proved,omitempty"` // notes, by what they are about: whether they came true
	Verdict Verdict            `json:"verdict,omitzero"`
}

// Step is a step of the order of work. Lengths are in minutes.
type Step struct {
	Key      string     `json:"key"`
	Name     string     `json:"name"`
	After    []string   `json:"after,omitempty"` // keys of steps
	Each     float64    `json:"each"`            // of the hands, for one
	Count    float64    `json:"count"`
	Per      string     `json:"per,omitempty"`
	Fixed    float64    `json:"fixed,omitempty"`
	Least    float64    `json:"least,omitempty"` // of one
	Most     float64    `json:"most,omitempty"`
	Wait     int        `json:"wait,omitempty"`
	WaitFrom int        `json:"wait_from,omitempty"` // least and most of the wait
	WaitTo   int        `json:"wait_to,omitempty"`
	Why      string     `json:"why,omitempty"`
	Window   bool       `json:"window,omitempty"`
	Run      int        `json:"run,omitempty"`
	OneGo    bool       `json:"one_go,omitempty"`
	Present  bool       `json:"present,omitempty"`
	Tool     string     `json:"tool,omitempty"`
	Until    string     `json:"until,omitempty"`
	Care     string     `json:"care,omitempty"`
	Optional bool       `json:"optional,omitempty"`
	Left     bool       `json:"left,omitempty"`   // left out
	Own      bool       `json:"own,omitempty"`    // the maker's own
	Edited   bool       `json:"edited,omitempty"` // the maker wrote its times
	Begun    *time.Time `json:"begun,omitempty"`  // at work since
	Done     *time.Time `json:"done,omitempty"`   // the hands are done with it
	Over     *time.Time `json:"over,omitempty"`   // and its wait was over
	Took     int        `json:"took,omitempty"`   // of the hands, so far or in all; 0 for not said
}

// Work is how long it takes the hands.
func (s Step) Work() float64 { return s.Fixed + s.Each*s.Count }

// Shared reports whether a step is one that every craft has, and is not learned of.
func (s Step) Shared() bool {
	return s.Ordered() || slices.Contains([]string{samplesKey, deckKey, resultKey, piece.Agreed}, s.Key)
}

// Ordered reports whether a step orders what the thing is made of.
func (s Step) Ordered() bool { return s.Why == "delivery" && s.Key != samplesKey }

// HoldPiece implements plan.Pieced: how much each card takes of the finished thing belongs to the
// piece.
func (s *Section) HoldPiece() (json.RawMessage, error) {
	if len(s.Shares) == 0 {
		return nil, nil
	}
	return json.Marshal(s.Shares)
}

// TakePiece implements plan.Pieced.
func (s *Section) TakePiece(doc json.RawMessage) error {
	s.Shares = nil
	if len(doc) == 0 {
		return nil
	}
	return json.Unmarshal(doc, &s.Shares)
}

// Made is a card as it came out, in CIELAB (D65).
type Made struct {
	Card   string     `json:"card"`           // its name in the tray
	Part   string     `json:"part,omitempty"` // of the piece, by its name; empty for the card anywhere
	Colour colour.Lab `json:"colour"`
	How    string     `json:"how"`              // one of Hows
	Washed bool       `json:"washed,omitempty"` // read after the wash
	Asked  colour.Lab `json:"asked"`            // as it was planned
	Source string     `json:"source,omitempty"` // how that was known
}

// Same reports whether another reading is of the same thing in the same way.
func (m Made) Same(o Made) bool {
	return m.Card == o.Card && m.Part == o.Part && m.How == o.How && m.Washed == o.Washed
}

// Used is how much of a material was really used, beside what was reckoned without any
// allowance, in one unit.
type Used struct {
	Name     string  `json:"name"`
	Unit     string  `json:"unit"`
	Reckoned float64 `json:"reckoned"`
	Really   float64 `json:"really"`
}

// Hows are the ways in which what was made is read.
func Hows() []string { return []string{"reader", "photo", "typed"} }

// Verdict is what the maker says of it in the end.
type Verdict struct {
	Words     string `json:"words,omitempty"`
	Again     string `json:"again,omitempty"`     // one of Agains, empty for not said
	Otherwise string `json:"otherwise,omitempty"` // what to do otherwise
	On        string `json:"on,omitempty"`        // the day
	Scheme    string `json:"scheme,omitempty"`    // the plan's, as it was then
	Mood      string `json:"mood,omitempty"`
	Lead      string `json:"lead,omitempty"` // the family of its leading colour, empty for none
}

// Agains are the answers to whether it would be made again.
func Agains() []string { return []string{"yes", "with changes", "no"} }

// Given reports whether there is a verdict.
func (v Verdict) Given() bool { return v.Words != "" || v.Again != "" || v.Otherwise != "" }

// Bounds of what is kept.
const (
	MostSteps   = 400
	mostWait    = 10 * 366 * 24 * 60 // minutes
	mostWork    = 10_000 * 60
	mostName    = 200
	mostVerdict = 4000
	mostMade    = 200
	MostShots   = 24
)

// Of is what is kept of the making of a plan.
func Of(p *plan.Plan) *Section { return plan.Of[Section](p, Key) }

func (s *Section) Check() error {
	for _, day := range []string{s.Due, s.Begin} {
		if at, err := time.Parse(time.DateOnly, day); day != "" && (err != nil || at.Year() < 2000 || at.Year() > 2200) {
			return words.Refuse("Write a day as 2027-03-09, between 2000 and 2200.")
		}
	}
	if len(s.Steps) > MostSteps {
		return words.Refuse("A plan has at most %d steps. Delete some first.", MostSteps)
	}
	keys := map[string]bool{}
	for _, st := range s.Steps {
		switch n := len([]rune(st.Name)); {
		case st.Key == "" || keys[st.Key]:
			return words.Refuse("Two steps have the same key (%.20s). Save the plan again.", st.Key)
		case n == 0 || n > mostName:
			return words.Refuse("A step has a name of at most %d characters.", mostName)
		case !(st.Each >= 0 && st.Count >= 0 && st.Fixed >= 0 && st.Work() <= mostWork):
			return words.Refuse("%s can take 0 to %d hours of work.", st.Name, mostWork/60)
		case st.Wait < 0 || st.Wait > mostWait || st.WaitTo > mostWait || st.Run < 0 || st.Run > mostWait:
			return words.Refuse("%s can wait up to ten years. Write the number of days.", st.Name)
		case st.Took < 0 || st.Took > mostWork:
			return words.Refuse("The time %s took is 0 to %d hours.", st.Name, mostWork/60)
		}
		keys[st.Key] = true
	}
	if ring := s.Ring(); len(ring) > 0 {
		return words.Refuse("%s.", words.Capital(schedule.Ring{Names: ring}.Error()))
	}
	if len(s.Made) > mostMade || len(s.Shots) > MostShots || len(s.Proved) > 500 {
		return words.Refuse("The log holds at most %d colours and %d photos of the finished piece. Delete one first.", mostMade, MostShots)
	}
	for _, m := range s.Made {
		if !slices.Contains(Hows(), m.How) || len([]rune(m.Card)) > mostName {
			return words.Refuse("The finished colour of %.60s cannot be saved. Measure it again.", m.Card)
		}
	}
	for card, v := range s.Shares {
		if !(v >= 0 && v <= 1) || len([]rune(card)) > mostName || len(s.Shares) > mostMade {
			return words.Refuse("A share is from 0 to 100 per cent.")
		}
	}
	for _, u := range s.Used {
		if !(u.Really > 0 && u.Really <= 1e9 && u.Reckoned > 0) || len(s.Used) > mostMade || len([]rune(u.Name)) > mostName {
			return words.Refuse("Enter how much of %.60s you used, above 0.", u.Name)
		}
	}
	v := s.Verdict
	if len([]rune(v.Words)) > mostVerdict || len([]rune(v.Otherwise)) > mostVerdict {
		return words.Refuse("A verdict has at most %d characters. Shorten it.", mostVerdict)
	}
	if v.Again != "" && !slices.Contains(Agains(), v.Again) {
		return words.Refuse("Choose yes, no, or with changes.")
	}
	return nil
}

// Show implements plan.Shower.
func (s *Section) Show(f func(hash string) bool) {
	s.Shots = slices.DeleteFunc(slices.Clone(s.Shots), func(h string) bool { return !f(h) })
}

// At is the place of a step by its key, −1 for none.
func (s *Section) At(key string) int {
	return slices.IndexFunc(s.Steps, func(st Step) bool { return st.Key == key })
}

// Ring names steps that need one another; nil for none.
func (s *Section) Ring() []string {
	bare := *s
	bare.Steps = slices.Clone(s.Steps)
	for i := range bare.Steps {
		bare.Steps[i].Done, bare.Steps[i].Begun = nil, nil
	}
	job := bare.job(time.Unix(0, 0), nil)
	for i := range job.Steps {
		job.Steps[i] = schedule.Step{Name: job.Steps[i].Name, Needs: job.Steps[i].Needs}
	}
	if ring, is := schedule.Plan([]schedule.Job{job}, nil, 0)[0].Err.(schedule.Ring); is {
		return ring.Names
	}
	return nil
}

// Finished reports whether nothing is left to do.
func (s *Section) Finished() bool {
	return len(s.Steps) > 0 && !slices.ContainsFunc(s.Steps, func(st Step) bool { return st.Done == nil && !st.Left })
}
