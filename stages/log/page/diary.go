package page

import (
	"errors"
	"fmt"
	"html/template"
	"io"
	"net/http"
	"slices"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"lampfern/core/words"
	"lampfern/exchange"
	"lampfern/plan/work"
	stage "lampfern/stages/log"
	"lampfern/web"
)

// stageEntry is an entry with its day at the maker's place.
type stageEntry struct {
	stage.Entry
	Day time.Time
}

type diaryBody struct {
	Entries []stageEntry
	Thrown  []stageEntry
	Steps   []work.Step
	Form    stage.Page // as it was sent, where it was refused
	Today   string
	Held    map[string]bool // entries whose change the plan has too, by their number
}

// diary shows what was written of a plan, and a form for the next entry.
func (s pages) diary(c *gin.Context, p *web.Page) error {
	all, thrown, err := stage.Diary(c.Request.Context(), s.Desk, p.Plan.ID)
	if err != nil {
		return err
	}
	b := diaryBody{Steps: work.Of(p.Plan).Steps, Today: time.Now().Format(time.DateOnly), Held: map[string]bool{}}
	minutes := 0
	for _, e := range all {
		b.Entries = append(b.Entries, stageEntry{e, e.At.Local()})
		minutes += e.Minutes
		b.Held[fmt.Sprint(e.ID)] = s.holds(p, e)
	}
	for _, e := range thrown {
		b.Thrown = append(b.Thrown, stageEntry{e, e.At.Local()})
	}
	if c.Request.Method == http.MethodPost {
		b.Form = pageOf(c)
	} else {
		b.Form.Step = c.Query("step")
	}
	p.Sub = "Nothing written yet"
	if len(all) > 0 {
		p.Sub = words.Plural(len(all), "entry", "entries")
		if minutes > 0 {
			p.Sub += ", " + words.Minutes(float64(minutes)) + " of work"
		}
	}
	p.Body = b
	return nil
}

// holds reports whether the plan has what an entry says was changed from it.
func (s pages) holds(p *web.Page, e stage.Entry) bool {
	if e.Part == "" || p.Plan.Piece == nil {
		return true
	}
	fill := p.Plan.Fill()
	for i, part := range p.Plan.Piece.Parts {
		if part.Key == e.Part {
			return fill[i] >= 0 && p.Plan.Tray[fill[i]].Name == e.Card
		}
	}
	return true // the part is no longer there
}

// KeyOf is the key of a card of the tray by its name, 0 for none.
func (b diaryBody) KeyOf(p *web.Page, name string) int {
	for _, t := range p.Plan.Tray {
		if t.Name == name {
			return t.Key
		}
	}
	return 0
}

func pageOf(c *gin.Context) stage.Page {
	f := c.Request.PostForm
	return stage.Page{Day: f.Get("day"), Step: f.Get("step"), Words: f.Get("words"), Took: f.Get("took"), Part: f.Get("part"),
		Card: f.Get("card"), Change: f.Get("change"), Why: f.Get("why"),
		Done: f.Get("done") != "", Photos: f["kept"]}
}

// mostPhotoBytes bounds the photos that one entry brings.
const mostPhotoBytes = 8 * exchange.MaxPhotoBytes

// write keeps a page of the diary. What is refused is shown again with all that was typed,
// its photos kept.
func (s pages) write(c *gin.Context) {
	id := web.PathID(c)
	err := c.Request.ParseMultipartForm(32 << 20)
	if errors.Is(err, http.ErrNotMultipart) {
		err = c.Request.ParseForm()
	}
	if err != nil {
		s.RenderStage(c, http.StatusUnprocessableEntity, id, "diary",
			fmt.Sprintf("Not saved: the photos are larger than %d MB together. Add fewer, or save them smaller.", mostPhotoBytes>>20))
		return
	}
	p, err := s.Desk.Open(c.Request.Context(), id)
	if s.Trouble(c, err, web.NoSuchPlan) {
		return
	}
	refuse := func(err error) bool {
		var refused words.Refusal
		if errors.As(err, &refused) {
			s.RenderStage(c, http.StatusUnprocessableEntity, id, "diary", string(refused))
			return true
		}
		return s.Trouble(c, err, web.NoSuchPlan)
	}
	if c.Request.MultipartForm != nil {
		for _, h := range c.Request.MultipartForm.File["photo"] {
			if h.Size == 0 {
				continue
			}
			f, err := h.Open()
			if s.Trouble(c, err, "") {
				return
			}
			data, err := io.ReadAll(f)
			f.Close()
			if s.Trouble(c, err, "") {
				return
			}
			hash, err := s.Desk.AddPhoto(c.Request.Context(), h.Filename, data)
			if refuse(err) {
				return
			}
			c.Request.PostForm.Add("kept", hash)
		}
	}
	said, err := stage.Write(c.Request.Context(), s.Desk, p, p.Revision, pageOf(c), time.Now())
	if refuse(err) {
		return
	}
	back := "diary"
	if c.PostForm("back") == stage.Key {
		back = stage.Key
	}
	web.GoTo(c, fmt.Sprintf("/plans/%d/%s", id, back), said)
}

type searchBody struct {
	Words  string
	Found  []foundEntry
	Worked []work.Worked
}

type foundEntry struct {
	stage.Found
	Day   time.Time
	Place template.HTML
}

// mostFound bounds the entries that a search shows.
const mostFound = 60

// search looks through all diaries and verdicts.
func (s pages) search(c *gin.Context) {
	p := s.Page(c, "search", "Search the diaries")
	p.Sub = "Entries with all these words"
	b := searchBody{Words: strings.TrimSpace(c.Query("q"))}
	if b.Words != "" {
		found, err := stage.Search(c.Request.Context(), s.Desk, b.Words, mostFound)
		if s.Trouble(c, err, "") {
			return
		}
		for _, f := range found {
			place := template.HTMLEscapeString(f.Place)
			place = strings.NewReplacer(stage.FoundOpen, "<mark>", stage.FoundShut, "</mark>").Replace(place)
			b.Found = append(b.Found, foundEntry{f, f.At.Local(), template.HTML(place)})
		}
		all, err := work.AllWorked(c.Request.Context(), s.Desk)
		if s.Trouble(c, err, "") {
			return
		}
		b.Worked = work.Find(all, work.Sought{Words: b.Words})
		p.Sub = words.Plural(len(b.Found)+len(b.Worked), "result", "results")
		if len(b.Found) == mostFound {
			p.Sub = fmt.Sprintf("The best %d results. Add a word to narrow them", mostFound)
		}
	}
	p.Body = b
	s.Render(c, http.StatusOK, p)
}

type workedBody struct {
	All                                     []work.Worked
	Sought                                  work.Sought
	Crafts, Schemes, Moods, Leads, Verdicts []string
	Any                                     bool
}

// worked shows the plans that were judged, by what they have in common.
func (s pages) worked(c *gin.Context) {
	all, err := work.AllWorked(c.Request.Context(), s.Desk)
	if s.Trouble(c, err, "") {
		return
	}
	by := work.Sought{Craft: c.Query("craft"), Scheme: c.Query("scheme"), Mood: c.Query("mood"), Lead: c.Query("lead"),
		Again: c.Query("again"), Words: c.Query("q")}
	b := workedBody{All: work.Find(all, by), Sought: by, Any: len(all) > 0, Verdicts: work.Agains()}
	add := func(to *[]string, v string) {
		if v != "" && !slices.Contains(*to, v) {
			*to = append(*to, v)
		}
	}
	for _, w := range all {
		add(&b.Crafts, w.Craft)
		add(&b.Schemes, w.Scheme)
		add(&b.Moods, w.Mood)
		add(&b.Leads, w.Lead)
	}
	p := s.Page(c, "worked", "Past verdicts")
	p.Sub = "By craft, scheme, mood and dominant colour"
	if b.Any {
		p.Sub = fmt.Sprintf("%s of %d", words.Plural(len(b.All), "finished plan", "finished plans"), len(all))
	}
	p.Body = b
	s.Render(c, http.StatusOK, p)
}
