package signoff

import (
	"bytes"
	"compress/gzip"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"log/slog"
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
	"lampfern/shelf"
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

	// Pieces are those of a set, which Piece shows abreast, each with its size and how often it is
	// made, in words; nil for a plan of one piece.
	Pieces []string `json:"pieces,omitempty"`

	Sketch []byte `json:"sketch,omitempty"` // the maker's own photo beside the colours, a JPEG

	Palette bool `json:"palette,omitempty"` // of a plan without a piece: Piece is its cards side by side
}

// Card is a card of a sheet.
type Card struct {
	Name, Kind, Finish string
	Colour             colour.Lab
	Known              string // how its colour is known, and how far to trust it
	Print              *Print `json:",omitempty"`
}

// Print is the picture of a card, a JPEG, and what it shows in mm.
type Print struct {
	JPEG       []byte
	Wide, High float64
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
// beside it as it is: of a set all its pieces, and colourways of the set. doubt is what the maker's
// work taught of colours known in one way, in ΔE00: none is trusted further. alone leaves the piece out: the cards side
// by side.
func Freeze(ctx context.Context, k *plan.Desk, p *plan.Plan, ways []int, doubt map[string]float64, alone bool) (*Frozen, error) {
	f := &Frozen{Plan: p.Name, Craft: p.Craft, Times: 1}
	z := freezer{Frozen: f, at: map[string]int{}, doubt: doubt, print: func(t plan.TrayCard) *Print { return printOf(ctx, k, t) }}
	if alone || p.Piece == nil {
		if len(p.Tray) == 0 {
			return nil, words.Refuse("Add cards on Gather first. The sheet shows them.")
		}
		z.palette(p.Tray)
		return f, nil
	}
	pieces, err := k.Set(p)
	if err != nil {
		return nil, err
	}
	switch {
	case len(p.Pieces) > 1 && len(pieces) == 0:
		return nil, words.Refuse("Every piece of the set is hidden. Show one under Set first.")
	case len(p.Pieces) > 1:
		z.set(p, pieces, ways)
	default:
		f.Piece = shown(p.Piece.Piece)
		z.way(AsItIs, []wayOf{{p.Piece, p.Tray, p.Fill(), 1}})
		for _, v := range p.ColourwayViews() {
			if slices.Contains(ways, v.Key) {
				z.way(v.Name, []wayOf{{p.Piece, v.Tray, v.Fill, 1}})
			}
		}
	}
	if len(f.Cards) == 0 {
		return nil, words.Refuse("No part of the piece has a colour yet. Add some on Proportion first.")
	}
	for i := range f.Ways {
		f.Ways[i].Shares = append(f.Ways[i].Shares, make([]float64, len(f.Cards))...)[:len(f.Cards)]
	}
	return f, nil
}

// shown is a piece as it is kept on a sheet.
func shown(p piece.Piece) piece.Piece {
	p.Unders = nil
	if c := p.Shown; c != nil { // of a solid its two views
		p.Cells, p.Shown, p.Width, p.Height = c, nil, float64(c.Across)*c.Wide, float64(c.Down)*c.High
	}
	if c := p.Cells; c != nil && c.Across*c.Down > mostCells {
		p.Cells = p.SmallWindow()
		p.Width, p.Height = float64(p.Cells.Across)*p.Cells.Wide, float64(p.Cells.Down)*p.Cells.High
	}
	return p
}

// freezer puts ways and their cards on a sheet.
type freezer struct {
	*Frozen
	at    map[string]int // of a card of the tray, by its key and material, on the sheet
	doubt map[string]float64
	print func(plan.TrayCard) *Print
}

// Undrawn reports whether a plan has cards, and no piece yet that would show them.
func Undrawn(p *plan.Plan) bool {
	return p.Piece == nil || p.Pattern == "drawn" && len(p.Piece.Parts) < 2 && len(p.Tray) > 1 && len(p.Piece.Unders) == 0
}

// Cards of a palette in mm, and how many of them lie in a row.
const (
	tileWide, tileHigh, tileGap = 54.0, 86.0, 6.0
	tileRow                     = 5
)

// palette puts the cards of a tray onto the sheet side by side.
func (z freezer) palette(tray []plan.TrayCard) {
	p := piece.Piece{Name: "Palette"}
	w := Way{Name: AsItIs}
	for i, t := range tray {
		p.Parts = append(p.Parts, piece.Named(fmt.Sprintf("card%d", t.Key), t.Name))
		x, y := float64(i%tileRow)*(tileWide+tileGap), float64(i/tileRow)*(tileHigh+tileGap)
		p.Rect(i, x, y, tileWide, tileHigh)
		p.Width, p.Height = max(p.Width, x+tileWide), max(p.Height, y+tileHigh)
		w.Fill = append(w.Fill, z.card(t))
		w.Shares = append(w.Shares, 1/float64(len(tray)))
	}
	z.Piece, z.Palette, z.Ways = p, true, []Way{w}
}

// printOf is the picture of a card as a sheet keeps it; nil where it has none, or the photo is gone.
func printOf(ctx context.Context, k *plan.Desk, t plan.TrayCard) *Print {
	pic := t.Picture
	if pic == nil {
		return nil
	}
	box := shelf.Box{X: pic.X, Y: pic.Y, W: pic.W, H: pic.H}
	p, err := plan.Recall(k, fmt.Sprintf("signoff print %s %s %g", pic.Photo, box, pic.Wide), func() (*Print, error) {
		photo, err := k.Photo(ctx, pic.Photo)
		if err != nil {
			return nil, err
		}
		data, err := photo.Piece(box)
		if err != nil {
			return nil, err
		}
		return &Print{data, pic.Wide, k.PictureHigh(ctx, *pic)}, nil
	})
	if err != nil {
		slog.Warn("a print is not on the sheet", "material", t.Name, "err", err)
		return nil
	}
	return p
}

// wayOf is one piece in a way: the cards of a tray on its parts, and how often it is made.
type wayOf struct {
	*plan.Piece
	tray  []plan.TrayCard
	fill  []int
	times int
}

func (z freezer) set(p *plan.Plan, pieces []plan.Whole, ways []int) {
	var all []piece.Piece
	var keys []int
	var names []string
	now := make([]wayOf, len(pieces))
	for i, w := range pieces {
		all, keys, names = append(all, w.Plan.Piece.Piece), append(keys, w.Key), append(names, w.Name)
		said := fmt.Sprintf("%s, %s", w.Name, piece.SizeWords(w.Plan.Piece.Piece))
		if w.Made() > 1 {
			said += fmt.Sprintf(", made %d times", w.Made())
		}
		z.Pieces = append(z.Pieces, said)
		now[i] = wayOf{w.Plan.Piece, w.Plan.Tray, w.Plan.Fill(), w.Made()}
	}
	z.Piece = piece.Abreast(all, keys, names)
	z.way(AsItIs, now)
	for _, v := range p.SetColourways(pieces) {
		if !slices.Contains(ways, v.Key) {
			continue
		}
		then := slices.Clone(now)
		for i := range then {
			then[i].tray, then[i].fill = v.TrayOn(pieces[i]), v.Fill[i]
		}
		z.way(v.Name, then)
	}
}

// way adds a way of colouring the pieces, one after another.
func (z freezer) way(name string, of []wayOf) {
	w := Way{Name: name}
	shares, whole := make([]float64, 0, len(z.Cards)), 0.0
	for _, one := range of {
		area := one.Piece.Area() * float64(one.times)
		whole += area
		for part, entry := range one.fill {
			if entry < 0 {
				w.Fill = append(w.Fill, -1)
				continue
			}
			at := z.card(one.tray[entry])
			w.Fill = append(w.Fill, at)
			for len(shares) <= at {
				shares = append(shares, 0)
			}
			shares[at] += area * one.Piece.Shares[part]
		}
	}
	for i := range shares {
		if whole > 0 {
			shares[i] /= whole
		}
	}
	w.Shares = shares
	z.Ways = append(z.Ways, w)
}

// card is where a card of the tray stands on the sheet.
func (z freezer) card(t plan.TrayCard) int {
	key := fmt.Sprintf("%d/%d", t.Key, t.ID)
	if at, there := z.at[key]; there {
		return at
	}
	z.at[key] = len(z.Cards)
	known := fmt.Sprintf("%s; colour accuracy: %s", t.SourceWordsBare(), trusted(max(t.Uncertainty, z.doubt[t.Source])))
	if t.ID == 0 {
		known = "no material has this colour yet"
	}
	z.Cards = append(z.Cards, Card{t.Name, t.Kind, t.Finish, t.Colour, known, z.print(t)})
	return z.at[key]
}

// trusted says how far a colour can be trusted, to somebody who knows no figures: by the
// ΔE00 that it may be off.
func trusted(off float64) string {
	switch {
	case off <= 2:
		return "high"
	case off <= 5:
		return "fair"
	}
	return "rough guide"
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
	broken := errors.New("reading a sheet: it is incomplete")
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
		if c.Across < 1 || c.Down < 1 || c.Across > piece.MostCells || c.Down > piece.MostCells || len(c.Part) != c.Across*c.Down ||
			!(c.Wide > 0 && c.High > 0) || len(c.Up) != 0 && len(c.Up) != len(c.Part) {
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
	Alone bool   `form:"alone,optional"` // the cards without the piece
	Photo string `form:"photo,optional"` // of a sketch, by its hash; empty for none

	ways []int
}

func (e *Make) Read(f *form.Form) error {
	for _, t := range f.Texts("way") {
		if n, err := strconv.Atoi(t); err == nil {
			e.ways = append(e.ways, n)
		}
	}
	return nil
}

func (e Make) Act(ctx context.Context, k *plan.Desk, p *plan.Plan) (string, error) {
	e.Maker, e.Price, e.Terms = oneLine(e.Maker), oneLine(e.Price), strings.TrimSpace(strings.ReplaceAll(e.Terms, "\r\n", "\n"))
	switch {
	case len([]rune(e.Maker)) > mostWord || len([]rune(e.Price)) > mostWord:
		return "", words.Refuse("Your name and the price have at most %d characters each.", mostWord)
	case len([]rune(e.Terms)) > mostTerms:
		return "", words.Refuse("Your terms have more than %d characters. Please shorten them.", mostTerms)
	case e.Days < 0 || e.Days > mostDays:
		return "", words.Refuse("A link can be valid for 1 to %d days.", mostDays)
	case e.Times < 0 || e.Times > 10000:
		return "", words.Refuse("You can make 1 to 10000.")
	case e.Days == 0:
		e.Days = usualDays
	}
	prefs, err := work.PrefsOf(k.Store.Read(ctx))
	if err != nil {
		return "", err
	}
	f, err := Freeze(ctx, k, p, e.ways, prefs.Doubt, e.Alone)
	if err != nil {
		return "", err
	}
	if e.Photo != "" {
		photo, err := k.Photo(ctx, e.Photo)
		if errors.Is(err, store.ErrNotFound) {
			return "", words.Refuse("That photo was deleted. Choose another one, or none.")
		} else if err != nil {
			return "", err
		}
		if f.Sketch, err = photo.Small(shelf.Box{W: 1, H: 1}, sketchSide); err != nil {
			return "", fmt.Errorf("making a photo small: %w", err)
		}
	}
	f.Maker, f.Price, f.Terms, f.Times = e.Maker, e.Price, e.Terms, max(1, e.Times)
	s := store.Sheet{PlanID: p.ID, Number: 1, Token: door.Token(), MadeAt: time.Now().UTC(), EndsAt: time.Now().UTC().AddDate(0, 0, e.Days)}
	err = k.Store.Write(ctx, func(tx store.Tx) error {
		all, err := tx.Sheets(p.ID)
		if err != nil {
			return err
		}
		if len(all) >= mostSheets {
			return words.Refuse("This plan has %d sheets, the most it can hold. Copy the plan to go on.", mostSheets)
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
	return fmt.Sprintf("Sheet %d is ready to show, send or print.", s.Number), err
}

// sketchSide is the longest side of a sketch on a sheet, in pixels.
const sketchSide = 900

func oneLine(text string) string { return strings.Join(strings.Fields(text), " ") }

// Changes says in sentences what is different in one sheet from another.
func Changes(was, now *Frozen) (out []string) {
	say := func(format string, args ...any) { out = append(out, fmt.Sprintf(format, args...)) }
	if was.Pieces != nil || now.Pieces != nil {
		for _, one := range now.Pieces {
			if !slices.Contains(was.Pieces, one) {
				say("New: %s.", one)
			}
		}
		for _, one := range was.Pieces {
			if !slices.Contains(now.Pieces, one) {
				say("No longer: %s.", one)
			}
		}
	} else if was.Palette && now.Palette {
		// its cards are told below
	} else if was.Piece.Pattern != now.Piece.Pattern || was.Palette != now.Palette {
		say("The piece is now %s instead of %s.", now.Piece.Name, was.Piece.Name)
	} else if near := func(a, b float64) bool { return a-b < 0.5 && b-a < 0.5 }; !near(was.Piece.Width, now.Piece.Width) ||
		!near(was.Piece.Height, now.Piece.Height) {
		say("It is now %.0f × %.0f mm instead of %.0f × %.0f.", now.Piece.Width, now.Piece.Height, was.Piece.Width, was.Piece.Height)
	}
	if was.Times != now.Times {
		say("It is now made %s instead of %s.", often(now.Times), often(was.Times))
	}
	for _, c := range was.Cards {
		at := slices.IndexFunc(now.Cards, func(o Card) bool { return o.Name == c.Name })
		if at < 0 {
			say("%s is no longer used.", c.Name)
			continue
		}
		if d := colour.DeltaE2000(c.Colour, now.Cards[at].Colour); d >= 1 {
			say("The colour of %s was measured again: %s", c.Name, colour.Beside(now.Cards[at].Colour, c.Colour).Words())
		}
		if c.Finish != now.Cards[at].Finish {
			say("%s is %s now.", c.Name, now.Cards[at].Finish)
		}
	}
	for _, c := range now.Cards {
		if !slices.ContainsFunc(was.Cards, func(o Card) bool { return o.Name == c.Name }) {
			say("%s is a new card.", c.Name)
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
				say("%s is now %s instead of %s.", words.Capital(p.Name), after, before)
			}
		}
	}
	if was.Price != now.Price {
		say("The price is now %s instead of %s.", orNone(now.Price), orNone(was.Price))
	}
	if was.Terms != now.Terms {
		say("The terms have changed.")
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
