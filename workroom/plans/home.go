package plans

import (
	"errors"
	"fmt"
	"net/http"
	"net/url"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"lampfern/core/brief"
	"lampfern/core/material"
	"lampfern/core/wheel"
	"lampfern/core/words"
	"lampfern/draw"
	"lampfern/exchange"
	"lampfern/plan"
	"lampfern/plan/work"
	"lampfern/shelf"
	"lampfern/web"
)

// beginForm is a list of colours as it was typed, and of which kind they are.
type beginForm struct {
	For                 string // whom it is for
	Thing               string // the pattern of what is made; empty where it is not decided
	Text, Kind, Problem string
	Kinds               []string
	Unread              []string // lines of the text that hold no colour
}

// begin puts typed colours on the shelf and into a first plan.
func (s pages) begin(c *gin.Context) {
	files := map[string]*plan.File{}
	if strings.HasPrefix(c.ContentType(), "multipart/") {
		var err error
		if files, err = web.Uploads(c, "own", "photo"); err != nil {
			s.showStart(c, http.StatusRequestEntityTooLarge, beginForm{Problem: fmt.Sprintf("The files are too large: a model or drawing has at most %d MB, a photo %d.",
				exchange.MaxMeshBytes>>20, exchange.MaxPhotoBytes>>20)})
			return
		}
	}
	text := picked(c.PostForm("colours"), c.PostFormArray("line"), c.PostFormArray("pick"), c.PostFormArray("leave"))
	form := beginForm{Text: text, Kind: c.PostForm("kind"), Thing: c.PostForm("thing"), For: strings.TrimSpace(c.PostForm("for"))}
	b := plan.Beginning{Kind: form.Kind, Thing: form.Thing, For: form.For, Colours: text, Own: files["own"]}
	if b.Own != nil || b.Thing == ownThing {
		b.Thing = ""
	}
	if photo := files["photo"]; photo != nil {
		s.beginByPhoto(c, form, b, *photo)
		return
	}
	if form.Thing == ownThing && b.Own == nil {
		form.Problem = "Choose your file, or another picture."
		s.showStart(c, http.StatusUnprocessableEntity, form)
		return
	}
	id, err := s.Desk.Begin(c.Request.Context(), b)
	var unread plan.Unread
	if errors.As(err, &unread) {
		form.Unread, form.Problem = unread, words.Capital(unread.Error())+". Choose its colour below, or skip it."
		s.showStart(c, http.StatusUnprocessableEntity, form)
		return
	}
	var refused words.Refusal
	if errors.As(err, &refused) {
		form.Problem = string(refused)
		s.showStart(c, http.StatusUnprocessableEntity, form)
		return
	}
	if s.Trouble(c, err, "") {
		return
	}
	s.GoToBegun(c, id, form.Thing != "" || b.Own != nil)
}

// ownThing is what is chosen among the pictures where the thing is a file of the maker's.
const ownThing = "own"

// beginByPhoto keeps a photo of the materials and goes on to it, with what was said so far. A thing of the maker's own
// is begun at once, and the colours are taken for its plan.
func (s pages) beginByPhoto(c *gin.Context, form beginForm, b plan.Beginning, photo plan.File) {
	ctx := c.Request.Context()
	refuse := func(err error) bool {
		problem, err := web.Problem(err)
		if problem != "" {
			form.Problem = problem
			s.showStart(c, http.StatusUnprocessableEntity, form)
		}
		return problem != "" || s.Trouble(c, err, "")
	}
	if b.Colours != "" {
		refuse(words.Refuse("Type your colours or use a photo, not both. To use the photo, clear the list and choose the photo again; you can add more later."))
		return
	}
	hash, err := s.Desk.AddPhoto(ctx, photo.Name, photo.Data)
	if refuse(err) {
		return
	}
	q := url.Values{"start": {"1"}}
	for key, v := range map[string]string{"thing": b.Thing, "kind": form.Kind, "for": form.For} {
		if v != "" {
			q.Set(key, v)
		}
	}
	if b.Own != nil {
		id, err := s.Desk.Begin(ctx, b)
		if refuse(err) {
			return
		}
		q = url.Values{"plan": {fmt.Sprint(id)}}
	}
	web.GoTo(c, "/photos/"+hash+"/propose?"+q.Encode(), "")
}

// picked is a text with the colours that were chosen for lines that held none, each on a line of its
// own, and without those that are left out.
func picked(text string, lines, picks, leave []string) string {
	for i, line := range lines {
		if i >= len(picks) || !strings.Contains(text, line) {
			continue
		}
		text = strings.Replace(text, line, "", 1)
		if !slices.Contains(leave, strconv.Itoa(i)) {
			text += "\n" + line + " " + picks[i]
		}
	}
	return strings.TrimSpace(text)
}

// home shows the workroom: the whole shelf on the wheel, and the plans.
func (s pages) home(c *gin.Context) {
	sh, err := s.Desk.Shelf(c.Request.Context())
	if s.Trouble(c, err, "") {
		return
	}
	if len(sh.Cards) == 0 {
		s.showStart(c, http.StatusOK, beginForm{})
		return
	}
	plans, err := s.Desk.Plans(c.Request.Context())
	if s.Trouble(c, err, "") {
		return
	}
	news, err := s.Desk.News(c.Request.Context())
	if s.Trouble(c, err, "") {
		return
	}
	agenda, err := work.Schedule(c.Request.Context(), s.Desk, time.Now())
	if s.Trouble(c, err, "") {
		return
	}
	trays, err := s.Desk.Trays(c.Request.Context())
	if s.Trouble(c, err, "") {
		return
	}
	p := s.Page(c, "home", "Workroom")
	picture := web.WheelPicture(p.View.Light, sh.Fronds(wheel.Pigment), nil, brief.Free())
	picture.Still = true
	b := homeBody{Wheel: draw.Wheel(picture), Plans: kept(plans), Materials: len(sh.Cards),
		Portrait: plan.Remember(s.Desk, "portrait "+sh.Key()+" "+trays.Key, func() string { return inShort(sh.Portrait(trays.Used(0))) })}
	backups, err := s.Desk.Store.Backups()
	if s.Trouble(c, err, "") {
		return
	}
	b.Kept = shelf.LastBackup(backups, time.Now())
	for _, n := range news[:min(len(news), mostNews)] {
		at := slices.IndexFunc(plans, func(p plan.Summary) bool { return p.ID == n.PlanID })
		if at >= 0 {
			b.News = append(b.News, answered{n.PlanID, plans[at].Name, n.Name, n.Number, n.Agreed})
		}
	}
	b.Week = weekOf(agenda)
	p.Body = b
	s.Render(c, http.StatusOK, p)
}

// start asks what is to be made, from what and in which colours.
func (s pages) start(c *gin.Context) { s.showStart(c, http.StatusOK, beginForm{}) }

type startBody struct {
	Begin     beginForm
	Things    []things
	Materials int
	Try       bool
}

func (s pages) showStart(c *gin.Context, status int, form beginForm) {
	sh, err := s.Desk.Shelf(c.Request.Context())
	if s.Trouble(c, err, "") {
		return
	}
	p := s.Page(c, "start", "What are you making?")
	p.Sub = "Choose a picture. You can change the size and details later"
	form.Kinds = material.Kinds()
	p.Body = startBody{form, allThings(), len(sh.Cards), s.CanTry()}
	s.Render(c, status, p)
}

// week is what each plan needs next, over all plans.
type week struct {
	Days  []work.Day // that have something
	Waits []string
	Short []lateness
	Left  string // that nothing is to be done this week, and what is next
}

// lateness is a plan that will not be in time, in words.
type lateness struct {
	ID    uint
	Words string
}

const daysShown = 7

func weekOf(a *work.Agenda) *week {
	if len(a.Plans) == 0 {
		return nil
	}
	w := &week{}
	for _, d := range a.Days(daysShown) {
		if len(d.Items) > 0 {
			w.Days = append(w.Days, d)
		}
	}
	end := a.Now.AddDate(0, 0, daysShown)
	for _, p := range a.Plans {
		switch late := p.Late(); {
		case p.Result.Err != nil:
			w.Short = append(w.Short, lateness{p.ID, fmt.Sprintf("%s: %s", p.Name, p.Result.Err)})
			continue
		case late > 0:
			w.Short = append(w.Short, lateness{p.ID, fmt.Sprintf("%s will be %s late, by the best of %s of its steps", p.Name,
				words.Wait(float64((late+1439)/1440*1440)), words.Plural(p.Result.Tried, "order", "orders"))})
		}
		for i, st := range p.Result.Steps {
			if free := a.Moment(st.Free); p.Job.Steps[i].Ended && free.After(a.Now) && free.Before(end) && p.Job.Steps[i].Wait > 0 {
				said := fmt.Sprintf("%s, %s (to %s)", or(p.Steps[i].Why, "a wait"), p.Name, words.Day(free))
				if !slices.Contains(w.Waits, said) {
					w.Waits = append(w.Waits, said)
				}
			}
		}
	}
	if len(w.Days) == 0 {
		w.Left = "Nothing to do in the next seven days."
	}
	return w
}

func or(a, b string) string {
	if a != "" {
		return a
	}
	return b
}

type homeBody struct {
	Wheel     draw.Scene
	Plans     []plan.Summary
	Materials int
	News      []answered
	Week      *week  // nil where no plan has an order of work
	Kept      string // when it was last backed up
	Portrait  string // of the shelf, in a sentence; empty for an empty one
}

// mostNews bounds the answers that the workroom shows.
const mostNews = 5

// answered is what a client said to a sheet.
type answered struct {
	PlanID     uint
	Plan, Name string
	Number     int
	Agreed     bool
}

func kept(plans []plan.Summary) []plan.Summary {
	var out []plan.Summary
	for _, p := range plans {
		if !p.PutAway {
			out = append(out, p)
		}
	}
	return out
}
