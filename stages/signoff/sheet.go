package signoff

import (
	"bytes"
	"compress/gzip"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"slices"
	"strconv"
	"strings"
	"time"

	"lampfern/core/colour"
	"lampfern/core/form"
	"lampfern/core/piece"
	"lampfern/core/words"
	"lampfern/door"
	"lampfern/plan"
	"lampfern/plan/work"
	"lampfern/store"
)

// Frozen is what a sheet holds. Nothing of it changes when the plan or the shelf does.
type Frozen struct {
	Plan   string      `json:"plan"`
	Craft  string      `json:"craft"`
	Maker  string      `json:"maker,omitempty"`
	Piece  piece.Piece `json:"piece"`
	Times  int         `json:"times"` // how many are made
	Cards  []Card      `json:"cards"`
	Ways   []Way       `json:"ways"`
	Price  string      `json:"price,omitempty"`
	Terms  string      `json:"terms,omitempty"`
	Before string      `json:"before,omitempty"` // what is different from the sheet before, in sentences
}

// Card is a card of a sheet.
type Card struct {
	Name, Kind, Finish string
	Colour             colour.Lab
	Known              string // how its colour is known, and how far to trust it
}

// Way is a colourway of a sheet: the card of each part of the piece, −1 for none, and the
// share of the face that each card takes.
type Way struct {
	Name   string
	Fill   []int
	Shares []float64
}

// Labs are the colours of the piece's parts in a way.
func (f *Frozen) Labs(w Way) []*colour.Lab {
	out := make([]*colour.Lab, len(w.Fill))
	for i, at := range w.Fill {
		if at >= 0 {
			out[i] = &f.Cards[at].Colour
		}
	}
	return out
}

// Parts are the names of the parts that a card takes in a way.
func (f *Frozen) Parts(w Way, card int) (out []string) {
	for i, at := range w.Fill {
		if at == card {
			out = append(out, f.Piece.Parts[i].Name)
		}
	}
	return out
}

// Bounds of a sheet.
const (
	mostDays   = 365
	usualDays  = 30
	mostTerms  = 2000
	mostWord   = 120
	mostSheets = 200
	mostCells  = 250_000 // of the frozen picture; of a larger piece its head is shown
)

// AsItIs names the way of the plan as it is.
const AsItIs = "as planned"

// Freeze is a plan as a sheet holds it, with those of its colourways whose keys are given
// beside it as it is. doubt is what the maker's work taught of colours known in one way, in
// ΔE00: none is trusted further.
func Freeze(p *plan.Plan, ways []int, doubt map[string]float64) (*Frozen, error) {
	if p.Piece == nil {
		return nil, words.Refuse("Choose a piece on Proportion first: a sheet shows it.")
	}
	f := &Frozen{Plan: p.Name, Craft: p.Craft, Piece: p.Piece.Piece, Times: 1}
	f.Piece.Unders = nil
	if c := f.Piece.Shown; c != nil { // of a solid its two views
		f.Piece.Cells, f.Piece.Shown, f.Piece.Width, f.Piece.Height = c, nil, float64(c.Across)*c.Wide, float64(c.Down)*c.High
	}
	if c := f.Piece.Cells; c != nil && c.Across*c.Down > mostCells {
		f.Piece.Cells = f.Piece.SmallWindow()
		f.Piece.Width, f.Piece.Height = float64(f.Piece.Cells.Across)*f.Piece.Cells.Wide, float64(f.Piece.Cells.Down)*f.Piece.Cells.High
	}
	at := map[int]int{} // of the tray to the sheet
	add := func(name string, tray []plan.TrayCard, fill []int) {
		w := Way{Name: name}
		shares := make([]float64, len(f.Cards)+len(tray))
		for part, entry := range fill {
			if entry < 0 {
				w.Fill = append(w.Fill, -1)
				continue
			}
			t := tray[entry]
			if _, there := at[t.Key]; !there {
				at[t.Key] = len(f.Cards)
				known := fmt.Sprintf("%s, so the colour shown is %s", t.SourceWordsBare(), trusted(max(t.Uncertainty, doubt[t.Source])))
				if t.ID == 0 {
					known = "a colour that no material has yet"
				}
				f.Cards = append(f.Cards, Card{t.Name, t.Kind, t.Finish, t.Colour, known})
			}
			w.Fill = append(w.Fill, at[t.Key])
			shares[at[t.Key]] += p.Piece.Shares[part]
		}
		w.Shares = shares
		f.Ways = append(f.Ways, w)
	}
	add(AsItIs, p.Tray, p.Fill())
	for _, v := range p.ColourwayViews() {
		if slices.Contains(ways, v.Key) {
			add(v.Name, v.Tray, v.Fill)
		}
	}
	if len(f.Cards) == 0 {
		return nil, words.Refuse("No part of the piece has a card yet: put some there on Proportion, then make a sheet.")
	}
	for i := range f.Ways {
		f.Ways[i].Shares = append(f.Ways[i].Shares, make([]float64, len(f.Cards))...)[:len(f.Cards)]
	}
	return f, nil
}

// trusted says how far a colour can be trusted, to somebody who knows no figures: by the
// ΔE00 that it may be off.
func trusted(off float64) string {
	switch {
	case off <= 2:
		return "sure"
	case off <= 5:
		return "fairly sure"
	}
	return "only a guess"
}

// pack and unpack carry what a sheet holds to and from how it is kept.
func pack(f *Frozen) ([]byte, error) {
	var b bytes.Buffer
	z, err := gzip.NewWriterLevel(&b, gzip.BestSpeed)
	if err != nil {
		return nil, err
	}
	if err := json.NewEncoder(z).Encode(f); err != nil {
		return nil, err
	}
	err = z.Close()
	return b.Bytes(), err
}

// Unpack is what a kept sheet holds.
func Unpack(doc []byte) (*Frozen, error) {
	z, err := gzip.NewReader(bytes.NewReader(doc))
	if err != nil {
		return nil, fmt.Errorf("reading a sheet: %w", err)
	}
	const most = 64 << 20
	data, err := io.ReadAll(io.LimitReader(z, most))
	if err != nil {
		return nil, fmt.Errorf("reading a sheet: %w", err)
	}
	f := &Frozen{}
	if err := json.Unmarshal(data, f); err != nil {
		return nil, fmt.Errorf("reading a sheet: %w", err)
	}
	return f, f.check()
}

// check refuses a sheet whose parts and cards lead nowhere; a file from elsewhere may hold
// anything.
func (f *Frozen) check() error {
	broken := errors.New("reading a sheet: it is not whole")
	if len(f.Ways) == 0 || len(f.Cards) == 0 || !(f.Piece.Width > 0 && f.Piece.Height > 0) {
		return broken
	}
	for _, r := range f.Piece.Regions {
		if r.Part < 0 || r.Part >= len(f.Piece.Parts) || len(r.Outline) < 3 {
			return broken
		}
	}
	for _, fade := range f.Piece.Fades {
		if min(fade.From, fade.To) < 0 || max(fade.From, fade.To) >= len(f.Piece.Parts) {
			return broken
		}
	}
	if c := f.Piece.Cells; c != nil {
		if c.Across < 1 || c.Down < 1 || c.Across > piece.MostCells || c.Down > piece.MostCells || len(c.Part) != c.Across*c.Down || !(c.Wide > 0 && c.High > 0) || len(c.Up) != 0 && len(c.Up) != len(c.Part) {
			return broken
		}
		for _, p := range c.Part {
			if int(p) >= len(f.Piece.Parts) {
				return broken
			}
		}
	}
	for _, w := range f.Ways {
		if len(w.Fill) != len(f.Piece.Parts) || len(w.Shares) != len(f.Cards) {
			return broken
		}
		for _, at := range w.Fill {
			if at < -1 || at >= len(f.Cards) {
				return broken
			}
		}
	}
	return nil
}

// Make makes the next sheet of a plan.
type Make struct {
	Maker string `form:"maker,optional"`
	Price string `form:"price,optional"`
	Terms string `form:"terms,optional"`
	Days  int    `form:"days,optional"`
	Times int    `form:"times,optional"`

	ways []int
}

// Read implements form.Reader.
func (e *Make) Read(f *form.Form) error {
	for _, t := range f.Texts("way") {
		if n, err := strconv.Atoi(t); err == nil {
			e.ways = append(e.ways, n)
		}
	}
	return nil
}

// Act implements plan.Act.
func (e Make) Act(ctx context.Context, k *plan.Desk, p *plan.Plan) (string, error) {
	e.Maker, e.Price, e.Terms = oneLine(e.Maker), oneLine(e.Price), strings.TrimSpace(strings.ReplaceAll(e.Terms, "\r\n", "\n"))
	switch {
	case len([]rune(e.Maker)) > mostWord || len([]rune(e.Price)) > mostWord:
		return "", words.Refuse("Your name and the price have at most %d characters each.", mostWord)
	case len([]rune(e.Terms)) > mostTerms:
		return "", words.Refuse("The terms have more than %d characters: say it shorter, or put the rest on paper.", mostTerms)
	case e.Days < 0 || e.Days > mostDays:
		return "", words.Refuse("A link is open for 1 to %d days.", mostDays)
	case e.Times < 0 || e.Times > 10000:
		return "", words.Refuse("A piece is made 1 to 10000 times.")
	case e.Days == 0:
		e.Days = usualDays
	}
	prefs, err := work.PrefsOf(k.Store.Read(ctx))
	if err != nil {
		return "", err
	}
	f, err := Freeze(p, e.ways, prefs.Doubt)
	if err != nil {
		return "", err
	}
	f.Maker, f.Price, f.Terms, f.Times = e.Maker, e.Price, e.Terms, max(1, e.Times)
	s := store.Sheet{PlanID: p.ID, Number: 1, Token: door.Token(), MadeAt: time.Now().UTC(), EndsAt: time.Now().UTC().AddDate(0, 0, e.Days)}
	err = k.Store.Write(ctx, func(tx store.Tx) error {
		all, err := tx.Sheets(p.ID)
		if err != nil {
			return err
		}
		if len(all) >= mostSheets {
			return words.Refuse("%d sheets of this plan are kept, which is the most: copy the plan and go on there.", mostSheets)
		}
		if len(all) > 0 {
			s.Number = all[0].Number + 1
			before, err := tx.Sheet(p.ID, all[0].Number)
			if err != nil {
				return err
			}
			was, err := Unpack(before.Doc)
			if err != nil {
				return err
			}
			f.Before = strings.Join(Changes(was, f), " ")
		}
		if s.Doc, err = pack(f); err != nil {
			return fmt.Errorf("keeping a sheet: %w", err)
		}
		return tx.PutSheet(&s)
	})
	return fmt.Sprintf("Sheet %d is made: show it, send it or print it.", s.Number), err
}

func oneLine(text string) string { return strings.Join(strings.Fields(text), " ") }

// Changes says in sentences what is different in one sheet from another.
func Changes(was, now *Frozen) (out []string) {
	say := func(format string, args ...any) { out = append(out, fmt.Sprintf(format, args...)) }
	if was.Piece.Pattern != now.Piece.Pattern {
		say("The piece is another: %s in the place of %s.", now.Piece.Name, was.Piece.Name)
	} else if near := func(a, b float64) bool { return a-b < 0.5 && b-a < 0.5 }; !near(was.Piece.Width, now.Piece.Width) || !near(was.Piece.Height, now.Piece.Height) {
		say("It measures %.0f × %.0f mm, no longer %.0f × %.0f.", now.Piece.Width, now.Piece.Height, was.Piece.Width, was.Piece.Height)
	}
	if was.Times != now.Times {
		say("It is made %s, no longer %s.", often(now.Times), often(was.Times))
	}
	for _, c := range was.Cards {
		at := slices.IndexFunc(now.Cards, func(o Card) bool { return o.Name == c.Name })
		if at < 0 {
			say("%s is no longer among the cards.", c.Name)
			continue
		}
		if d := colour.DeltaE2000(c.Colour, now.Cards[at].Colour); d >= 1 {
			say("The colour of %s was read anew: %s", c.Name, colour.Beside(now.Cards[at].Colour, c.Colour).Words())
		}
		if c.Finish != now.Cards[at].Finish {
			say("%s is %s now.", c.Name, now.Cards[at].Finish)
		}
	}
	for _, c := range now.Cards {
		if !slices.ContainsFunc(was.Cards, func(o Card) bool { return o.Name == c.Name }) {
			say("%s is new among the cards.", c.Name)
		}
	}
	if len(was.Ways) > 0 && len(now.Ways) > 0 {
		a, b := was.Ways[0], now.Ways[0]
		for i, p := range now.Piece.Parts {
			j := slices.IndexFunc(was.Piece.Parts, func(o piece.Part) bool { return o.Key == p.Key })
			if j < 0 || i >= len(b.Fill) || j >= len(a.Fill) {
				continue
			}
			if before, after := was.nameOf(a.Fill[j]), now.nameOf(b.Fill[i]); before != after {
				say("%s takes %s, no longer %s.", words.Capital(p.Name), after, before)
			}
		}
	}
	if was.Price != now.Price {
		say("The price is %s, no longer %s.", orNone(now.Price), orNone(was.Price))
	}
	if was.Terms != now.Terms {
		say("The terms are written anew.")
	}
	return out
}

func (f *Frozen) nameOf(card int) string {
	if card < 0 {
		return "no card"
	}
	return f.Cards[card].Name
}

func often(n int) string {
	if n == 1 {
		return "once"
	}
	return fmt.Sprintf("%d times", n)
}

func orNone(text string) string {
	if text == "" {
		return "not said"
	}
	return text
}
