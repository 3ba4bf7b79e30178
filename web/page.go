package web

import (
	"fmt"
	"html/template"
	"net/http"
	"slices"
	"strings"

	"github.com/gin-gonic/gin"

	"lampfern/core/colour"
	"lampfern/core/note"
	"lampfern/plan"
)

// Page is what every template is given.
type Page struct {
	Template string // the page's template by name
	Title    string
	Heading  string
	Sub      string
	View     View
	Path     string // of the page itself, to come back to
	Rail     []Leaf
	Plan     *plan.Plan // nil outside plans
	Stage    string     // the page of the plan
	Door     bool       // only who knows the passphrase is here
	Flash    string     // one sentence on what just happened
	Sent     *Sent      // a change that was not made, to be sent again; nil for none
	Damaged  bool       // the database can only be looked at
	Hint     string     // what the stage is for, for who is new; empty where hints are put away
	InTrial  bool       // this is the demo workroom, which is thrown away
	Notes    []note.Note
	Hidden   []plan.HiddenNote     // that the maker hid
	Mends    func(note.Note) *Mend // what a note offers beside setting aside and swapping; nil for none
	OnPiece  *OnPiece              // the plan's piece beside the stage; nil for none
	Prints   template.HTML         // the patterns that Paints names
	Made     string                // the finish that all cards are shown in; Flat for none, empty for their own
	Why      string                // what carries the piece, in one paragraph; empty where nothing is to be taught
	Undo     string
	Redo     string
	Shelf    int64 // version of the shelf that undo and redo are of, outside plans
	Body     any
}

// Flat shows cards by their colours alone.
const Flat = "flat"

// Leaf is one leaflet of the rail.
type Leaf struct {
	Key, Name, Letter, Address string
	Here, Filled               bool
	Order                      int // among leaflets that several rooms bring
}

// Mend is what a note offers to do: a change, or a page to look at.
type Mend struct{ Label, Do, Page string }

// Page starts a page outside plans.
func (s *Server) Page(c *gin.Context, template, heading string) *Page {
	p := &Page{Template: template, Heading: heading, View: ReadView(c.Request), Path: c.Request.URL.RequestURI(), Flash: takeFlash(c)}
	if c.Request.Method != http.MethodGet {
		p.Path = "/"
	}
	if p.View.Lamp.White != colour.WhiteD65 {
		if sh, err := s.Desk.Shelf(c.Request.Context()); err == nil { // else the page is seen by colours alone
			p.View = ViewOn(c.Request, sh)
		}
	}
	p.Door, p.Damaged, p.InTrial = s.Closed, s.Desk.Store.Damaged(), s.inTrial
	for _, r := range s.rooms {
		for _, l := range r.Leaves {
			l.Here, l.Filled = l.Key == template || l.Key == r.Within[template], true
			p.Rail = append(p.Rail, l)
		}
	}
	slices.SortStableFunc(p.Rail, func(a, b Leaf) int { return a.Order - b.Order })
	return p
}

// CanTry reports whether there is a demo workroom to look around in.
func (s *Server) CanTry() bool { return s.Try != nil }

// PlanPage starts a page of a plan.
func (s *Server) PlanPage(c *gin.Context, p *plan.Plan, page string) *Page {
	out := &Page{Template: page, View: ViewOn(c.Request, p.Shelf), Path: fmt.Sprintf("/plans/%d/%s", p.ID, page), Plan: p, Stage: page,
		Undo: p.Undo, Redo: p.Redo, Flash: takeFlash(c), Door: s.Closed, Damaged: s.Desk.Store.Damaged(), InTrial: s.inTrial}
	if out.View.Others {
		p.OfferAll()
	}
	at := s.stages[page]
	if at.Name != "" {
		out.Heading, out.Title = at.Name, at.Name+" · "+p.Plan.Name
	}
	for _, st := range s.Desk.Stages() {
		if st.Letter == "" { // what makers put into a piece lies below its stage
			continue
		}
		l := Leaf{Key: st.Key, Name: st.Name, Letter: st.Letter, Address: fmt.Sprintf("/plans/%d/%s", p.ID, st.Key)}
		l.Here, l.Filled = st.Key == at.stage, st.Filled != nil && st.Filled(p)
		if st.Key == page {
			if shown, err := s.Desk.Tour(c.Request.Context()); err == nil && shown { // else the page is shown without
				out.Hint = st.Hint
			}
			out.Heading, out.Title = st.Name, st.Name+" · "+p.Plan.Name
		}
		out.Rail = append(out.Rail, l)
	}
	return out
}

// Mend is what a note offers beside setting aside and swapping; nil for nothing.
func (p *Page) Mend(n note.Note) *Mend {
	if p.Mends == nil {
		return nil
	}
	return p.Mends(n)
}

// NoteRow is a note with what it offers.
type NoteRow struct {
	note.Note
	Aside int    // the key of the card to set aside, 0 for none
	Swap  string // the keys of the cards to swap, empty for none
	Mend  *Mend
}

// noteOf is a note on its page.
type noteOf struct {
	Page *Page
	Row  NoteRow
}

// SortedNotes are the notes of a page: those worth a look, the gravest first, each with an act that helps, and the rest.
type SortedNotes struct {
	Worth, More []NoteRow
	Fine        bool // all the rest is fine
}

// worthShown is how many notes are worth a look at a time.
const worthShown = 3

// WorthALook splits notes, the gravest first, into the few that are worth a look and the rest.
func WorthALook[T any](all []T, worth func(T) bool) (first, more []T) {
	for _, n := range all {
		if len(first) < worthShown && worth(n) {
			first = append(first, n)
		} else {
			more = append(more, n)
		}
	}
	return first, more
}

// Sorted are the page's notes.
func (p *Page) Sorted() (s SortedNotes) {
	rows := make([]NoteRow, len(p.Notes))
	for i, n := range p.Notes {
		rows[i] = NoteRow{n, p.AsideKey(n), p.SwapKeys(n), p.Mend(n)}
	}
	s.Worth, s.More = WorthALook(rows, func(r NoteRow) bool {
		return r.Grade != note.Fine && (r.Aside != 0 || r.Swap != "" || r.Mend != nil)
	})
	s.Fine = !slices.ContainsFunc(s.More, func(r NoteRow) bool { return r.Grade != note.Fine })
	return s
}

// Explain takes the notes of some kinds, in their order, out of the list and makes them the page's paragraph.
func (p *Page) Explain(kinds ...string) {
	var said []string
	for _, kind := range kinds {
		p.Notes = slices.DeleteFunc(p.Notes, func(n note.Note) bool {
			is := n.Kind() == kind && n.Grade == note.Fine
			if is {
				said = append(said, n.About+n.Words)
			}
			return is
		})
	}
	p.Why = strings.Join(said, " ")
}

// Asked is what the page's address asks beside the page itself, with its question
// mark: changes made on the page carry it, so that it is still there afterwards.
func (p *Page) Asked() string {
	if _, q, asked := strings.Cut(p.Path, "?"); asked {
		return "?" + q
	}
	return ""
}

// SwapKeys are the tray keys of the two cards a note offers to swap, as the
// change takes them; empty for none.
func (p *Page) SwapKeys(n note.Note) string {
	if len(n.Swap) != 2 || p.Plan == nil || slices.Max(n.Swap) >= len(p.Plan.Tray) {
		return ""
	}
	return fmt.Sprintf("key=%d&with=%d", p.Plan.Tray[n.Swap[0]].Key, p.Plan.Tray[n.Swap[1]].Key)
}

// AsideKey is the tray key of the card a note offers to set aside, 0 for none.
func (p *Page) AsideKey(n note.Note) int {
	if n.Aside < 0 || p.Plan == nil || n.Aside >= len(p.Plan.Tray) {
		return 0
	}
	return p.Plan.Tray[n.Aside].Key
}
