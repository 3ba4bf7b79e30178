package together

import (
	"fmt"
	"slices"
	"strings"

	"lampfern/core/balance"
	"lampfern/core/colour"
	"lampfern/core/note"
	"lampfern/core/wheel"
	"lampfern/core/words"
	"lampfern/plan"
)

// View is what is read over the pieces of a plan.
type View struct {
	Pieces []plan.Whole // that are not left out
	Rows   []Row        // a card each, the largest first
	Ties   string       // which cards hold the set together, in sentences
	Leads  string       // what leads over all, how warm it is, and its values
	Notes  []note.Note

	Missing []string // names of pieces whose mesh is not kept here, so that boxes stand in
}

// Row is a card of the tray over all pieces.
type Row struct {
	plan.TrayCard
	Area  float64  // mm², over all pieces as often as they are made
	Share float64  // of the area of all pieces, as often as they are made
	In    []string // names of the pieces it is in
}

// Look reads the pieces of the plan together.
func Look(k *plan.Desk, p *plan.Plan) (View, error) {
	pieces, err := k.Set(p)
	if err != nil {
		return View{}, err
	}
	v := View{Pieces: pieces}
	for _, w := range pieces {
		if w.Plan.Piece.Missing {
			v.Missing = append(v.Missing, w.Name)
		}
	}
	filled, whole := 0.0, 0.0
	for _, w := range pieces {
		whole += w.Plan.Piece.Area() * float64(w.Made())
	}
	for i, t := range p.Tray {
		row := Row{TrayCard: t}
		for _, w := range pieces {
			if share := w.Layout.Share[i]; share > 0 {
				row.Area += share * w.Plan.Piece.Area() * float64(w.Made())
				row.In = append(row.In, w.Name)
			}
		}
		if filled += row.Area; t.Given && row.Area == 0 {
			continue // it stands beside the pieces
		}
		v.Rows = append(v.Rows, row)
	}
	if filled == 0 {
		return v, nil
	}
	for i := range v.Rows {
		v.Rows[i].Share = v.Rows[i].Area / whole
	}
	v.Ties = ties(v.Rows, len(pieces))
	over := merged(p, pieces)
	v.Leads = p.Reads(p.Tray, over)
	if len(pieces) > 1 {
		notes := slices.Concat(balance.Notes(over, p.Colours()), balance.PairNotes(over, p.Colours(), p.Eye()), balance.Whole(over, p.Colours(), balance.Asked{Focus: -1, One: p.OneTemperature(), School: p.School()}))
		v.Notes = p.Visible(balance.Grouped(notes, over, p.Colours()))
	}
	slices.SortStableFunc(v.Rows, func(a, b Row) int {
		switch {
		case a.Share > b.Share:
			return -1
		case a.Share < b.Share:
			return 1
		}
		return 0
	})
	return v, nil
}

// merged is the layout of the tray's cards over all pieces.
func merged(p *plan.Plan, pieces []plan.Whole) balance.Layout {
	var fill [][]int
	for _, w := range pieces {
		fill = append(fill, w.Plan.Fill())
	}
	return plan.Over(pieces, fill, len(p.Tray))
}

// ties says which cards are in several pieces, and which are used once.
func ties(rows []Row, pieces int) string {
	var all, once []string
	some := ""
	for _, r := range rows {
		switch n := len(r.In); {
		case n == 0:
		case n == pieces && pieces > 1:
			all = append(all, r.Name)
		case n == 1 && pieces > 1:
			once = append(once, fmt.Sprintf("%s (%s)", r.Name, r.In[0]))
		case n > 1 && some == "":
			some = fmt.Sprintf("%s is in %d of %d. ", r.Name, n, pieces)
		}
	}
	said := ""
	if len(all) > 0 {
		said = fmt.Sprintf("In every piece: %s. ", words.All(all))
	} else if pieces > 1 {
		said = "No card is in every piece. " + some
	}
	if len(once) > 0 {
		said += "In one piece only: " + words.All(once) + "."
	}
	return said
}

// Pair is two pieces worn or stood side by side.
type Pair struct {
	A, B  string // names
	Holds bool
	Words string
}

// Bounds of what two pieces do side by side, by their largest cards: under near they are meant to
// be one and are not, under apart in value they run into one another.
const (
	sameCard   = 2.3 // ΔE00 up to which two cards are one
	nearlySame = 9.0
	valueApart = 8.0 // L*
)

// Pairs reads every two pieces side by side: whether they hold together, and why.
func Pairs(p *plan.Plan, pieces []plan.Whole) (out []Pair, hold int) {
	for i, a := range pieces {
		for _, b := range pieces[i+1:] {
			pair := pairOf(p, a, b)
			if pair.Holds {
				hold++
			}
			out = append(out, pair)
		}
	}
	return out, hold
}

// Outfit is what two or three pieces do, worn or stood together.
type Outfit struct {
	Names []string
	Holds bool
	Words []string
}

// OutfitOf reads some pieces together: what leads across them and their values, what ties them, which
// neutrals lie between, and which two of them do not hold.
func OutfitOf(p *plan.Plan, pieces []plan.Whole) Outfit {
	o := Outfit{Holds: true}
	var tie, neutral []string
	for _, w := range pieces {
		o.Names = append(o.Names, w.Name)
	}
	for i, t := range p.Tray {
		in := 0
		for _, w := range pieces {
			if w.Layout.Share[i] > 0 {
				in++
			}
		}
		if in == len(pieces) {
			tie = append(tie, t.Name)
		}
		if in > 0 && t.Colour.Basic() {
			neutral = append(neutral, t.Name)
		}
	}
	if reads := p.Reads(p.Tray, merged(p, pieces)); reads != "" {
		o.Words = append(o.Words, reads)
	}
	said := "No card is in all of them"
	switch len(tie) {
	case 0:
	case 1:
		said = tie[0] + " is in all of them"
	default:
		said = words.All(tie) + " are in all of them"
	}
	switch len(neutral) {
	case 0:
		said += ", and no neutral links them."
	case 1:
		said += ", and " + neutral[0] + ", a neutral, links them."
	default:
		said += fmt.Sprintf(", and %s, neutrals, link them.", words.All(neutral))
	}
	o.Words = append(o.Words, said)
	for i, a := range pieces {
		for _, b := range pieces[i+1:] {
			if pair := pairOf(p, a, b); !pair.Holds {
				o.Holds = false
				o.Words = append(o.Words, fmt.Sprintf("%s with %s: %s", pair.A, pair.B, pair.Words))
			}
		}
	}
	return o
}

// Threes counts the outfits of three pieces, and of those the ones in which every two hold.
func Threes(pairs []Pair, pieces int) (hold, all int) {
	holds := map[[2]int]bool{}
	at := 0
	for i := range pieces {
		for j := i + 1; j < pieces; j++ {
			holds[[2]int{i, j}] = pairs[at].Holds
			at++
		}
	}
	for i := range pieces {
		for j := i + 1; j < pieces; j++ {
			for k := j + 1; k < pieces; k++ {
				all++
				if holds[[2]int{i, j}] && holds[[2]int{i, k}] && holds[[2]int{j, k}] {
					hold++
				}
			}
		}
	}
	return hold, all
}

func pairOf(p *plan.Plan, a, b plan.Whole) Pair {
	pair := Pair{A: a.Name, B: b.Name}
	la, lb := a.Layout, b.Layout
	largest := func(l balance.Layout) int {
		best := -1
		for i, s := range l.Share {
			if s > 0 && (best < 0 || s > l.Share[best]) {
				best = i
			}
		}
		return best
	}
	x, y := largest(la), largest(lb)
	switch {
	case x < 0 && y < 0:
		pair.Words = "neither has colours yet."
		return pair
	case x < 0:
		pair.Words = a.Name + " has no card yet."
		return pair
	case y < 0:
		pair.Words = b.Name + " has no card yet."
		return pair
	}
	var shared []string
	for i, t := range p.Tray {
		if la.Share[i] > 0 && lb.Share[i] > 0 {
			shared = append(shared, t.Name)
		}
	}
	one, two := a.Plan.Tray[x], b.Plan.Tray[y] // each in the kinds of its piece
	apart, steps := colour.DeltaE2000(one.Colour, two.Colour), (one.Colour.L-two.Colour.L)/10
	if steps < 0 {
		steps = -steps
	}
	tie := "They share no card."
	switch len(shared) {
	case 0:
	case 1:
		tie = "They share " + shared[0] + "."
	case 2, 3:
		tie = "They share " + words.All(shared) + "."
	default:
		tie = fmt.Sprintf("They share %s cards.", words.Count(len(shared)))
	}
	relation, _ := p.Eye().Judge(one.Colour, two.Colour, la.Share[x], lb.Share[y], false)
	switch {
	case x == y && one.ID != two.ID && apart > sameCard:
		pair.Words = fmt.Sprintf("%s in %s and %s in %s are meant to match but differ (ΔE %.0f). %s", one.Name, one.Kind, two.Name, two.Kind, apart,
			tie)
		pair.Holds = apart < nearlySame
	case apart > sameCard && apart < nearlySame:
		pair.Words = fmt.Sprintf("%s and %s almost match, but not quite (ΔE %.0f). %s", one.Name, two.Name, apart, tie)
	case relation == balance.Competes:
		pair.Words = fmt.Sprintf("%s and %s compete for the eye. %s", one.Name, two.Name, tie)
	case x != y && 10*steps < valueApart && len(shared) == 0:
		pair.Words = fmt.Sprintf("%s and %s have the same value, so they merge. %s", one.Name, two.Name, tie)
	default:
		pair.Holds = true
		pair.Words = fmt.Sprintf("%.1f value steps apart. %s", steps, tie)
		if x == y {
			pair.Words = fmt.Sprintf("%s is the ground of both. %s", p.Tray[x].Name, tie)
		}
	}
	return pair
}

// Serve says which neutrals, or near-neutrals, and which accents serve most pieces.
func Serve(rows []Row, pieces int) string {
	var neutrals, accents []Row
	for _, r := range rows {
		switch {
		case len(r.In) < 2:
		case r.Colour.Basic():
			neutrals = append(neutrals, r)
		case r.Share < .15:
			accents = append(accents, r)
		}
	}
	first := func(all []Row) []Row {
		slices.SortStableFunc(all, func(a, b Row) int { return len(b.In) - len(a.In) })
		return all[:min(3, len(all))]
	}
	neutrals, accents = first(neutrals), first(accents)
	name := func(all []Row) string {
		var out []string
		for _, r := range all {
			out = append(out, fmt.Sprintf("%s (in %d of %d)", r.Name, len(r.In), pieces))
		}
		return words.List(out)
	}
	said := ""
	if len(neutrals) > 0 {
		said = "Useful neutrals: "
		if slices.ContainsFunc(neutrals, func(r Row) bool { return !r.Colour.Neutral() }) {
			said = "Useful neutrals and near-neutrals: "
		}
		said += name(neutrals) + ". "
	}
	if len(accents) > 0 {
		said += "Useful accents: " + name(accents) + "."
	}
	if said == "" && pieces > 1 {
		said = "No neutral or accent is in two pieces. One of each in all of them would link them."
	}
	return said
}

// Beside is what is there already beside the pieces.
type Beside struct {
	plan.TrayCard
	Words []string // a sentence a piece
}

// Given reads each card that is there already beside the largest card of each piece: how far apart
// they lie in value, and which is the warmer; pieces of which the same is true are named together.
// Skin, hair and eyes are read beside the part that touches them, where it is known which does.
func Given(p *plan.Plan, pieces []plan.Whole) (out []Beside) {
	said := map[wheel.Temperature]string{wheel.Warm: "warm", wheel.Cool: "cool", wheel.Neutral: "neutral"}
	for i, t := range p.Tray {
		if !t.Given {
			continue
		}
		b := Beside{TrayCard: t}
		type reading struct{ card, said string }
		var told []reading
		of := map[reading][]string{}
		feature := balance.FeatureOf(t.Name)
		for _, w := range pieces {
			if at := w.Plan.AtFace(); feature != "" && at >= 0 && w.Plan.Fill()[at] >= 0 {
				c := w.Plan.Tray[w.Plan.Fill()[at]]
				effect, why := p.Eye().Beside(feature, t.Colour, c.Colour)
				b.Words = append(b.Words, fmt.Sprintf("%s on %s of the %s %s it (%s).", c.Name, words.The(w.Plan.Piece.Parts[at].Name), w.Name, effect, why))
				continue
			}
			l, best := w.Layout, -1
			for j, s := range l.Share {
				if j != i && s > 0 && (best < 0 || s > l.Share[best]) {
					best = j
				}
			}
			if best < 0 {
				continue
			}
			o := w.Plan.Tray[best]
			steps := (o.Colour.L - t.Colour.L) / 10
			how := "as light as it"
			if steps > .25 {
				how = fmt.Sprintf("%.1f value steps lighter", steps)
			} else if steps < -.25 {
				how = fmt.Sprintf("%.1f value steps darker", -steps)
			}
			mine, theirs := said[p.School().Temperature(t.Colour)], said[p.School().Temperature(o.Colour)]
			heat := fmt.Sprintf("%s beside %s", theirs, mine)
			if mine == theirs {
				heat = "both " + mine
			}
			r := reading{o.Name, fmt.Sprintf("is %s; %s, %.0f apart", how, heat, colour.DeltaE2000(o.Colour, t.Colour))}
			if of[r] == nil {
				told = append(told, r)
			}
			of[r] = append(of[r], "the "+w.Name)
		}
		for _, r := range told {
			names := words.All(of[r])
			if len(of[r]) == len(pieces) && len(pieces) > 2 {
				names = "all pieces"
			}
			b.Words = append(b.Words, fmt.Sprintf("%s of %s %s.", r.card, names, r.said))
		}
		out = append(out, b)
	}
	return out
}

// LeastMissed says which card the set would miss least.
func LeastMissed(few Fewer) string {
	if len(few.Gone) != 1 || len(few.Words) < 2 {
		return ""
	}
	said := []rune(few.Words[1])
	return fmt.Sprintf("%s matters least: without it, %s%s", few.Gone[0], strings.ToLower(string(said[:1])), string(said[1:]))
}
