package page

import (
	"bytes"
	"fmt"
	"net/http"
	"time"

	"github.com/gin-gonic/gin"

	"lampfern/core/words"
	"lampfern/exchange"
	"lampfern/plan/work"
	stage "lampfern/stages/log"
	"lampfern/web"
)

type logBody struct {
	*stage.View
	Last     *stageEntry       // of the diary
	Names    map[string]string // of steps, by their keys
	Days     []dayHours
	Today    string
	Off      string
	Busy     int
	Place    int // in the order in which plans take the hours, from 1
	Of       int
	OwnOrder bool
	Closed   map[string]bool // lessons that were refused
}

// dayHours are the hours of a day of the week, as the form shows them.
type dayHours struct {
	Day     time.Weekday
	At, For string
}

// log shows the order of work with its days, and what is to be known of them.
func (s pages) log(c *gin.Context, p *web.Page) error {
	v, err := stage.Look(c.Request.Context(), s.Desk, p.Plan, time.Now())
	if err != nil {
		return err
	}
	p.Sub = v.Sum
	b := logBody{View: v, Names: map[string]string{}, Today: v.Agenda.Now.Format(time.DateOnly), Busy: len(v.Agenda.Prefs.Busy),
		Of: len(v.Agenda.Plans), OwnOrder: len(v.Agenda.Prefs.Order) > 0}
	if len(v.Steps) == 0 {
		p.Sub = "Schedule, diary and lessons"
	}
	for _, st := range v.Steps {
		b.Names[st.Key] = st.Name
	}
	for i := range 7 {
		day := time.Weekday((i + 1) % 7)
		h := v.Agenda.Prefs.Hours.Week[day]
		d := dayHours{Day: day, At: fmt.Sprintf("%02d:%02d", h.From/60, h.From%60)}
		if h.Minutes > 0 {
			d.For = words.Minutes(float64(h.Minutes))
		} else {
			d.At = "18:00"
		}
		b.Days = append(b.Days, d)
	}
	for i, day := range v.Agenda.Prefs.Hours.Off {
		if i > 0 {
			b.Off += ", "
		}
		b.Off += day
	}
	for i, o := range v.Agenda.Plans {
		if o.ID == p.Plan.ID {
			b.Place = i + 1
		}
	}
	if len(v.Diary) > 0 {
		b.Last = &stageEntry{v.Diary[0], v.Diary[0].At.In(v.Agenda.Now.Location())}
	}
	p.Body = b
	return nil
}

// calendar sends the steps of a plan, or of all plans, as a calendar file.
func (s pages) calendar(c *gin.Context) {
	now := time.Now()
	a, err := work.Schedule(c.Request.Context(), s.Desk, now)
	if s.Trouble(c, err, "") {
		return
	}
	id := web.PathID(c)
	name := "Lamp Fern"
	if c.Param("id") != "" {
		p, err := s.Desk.Open(c.Request.Context(), id)
		if s.Trouble(c, err, web.NoSuchPlan) {
			return
		}
		name = p.Plan.Name
		if a.Of(id) == nil {
			s.Fail(c, http.StatusUnprocessableEntity, "There is no schedule yet. Make one on the Log first.")
			return
		}
	}
	var b bytes.Buffer
	if s.Trouble(c, exchange.WriteCalendar(&b, name, eventsOf(a, id, c.Param("id") == ""), now), "") {
		return
	}
	web.Download(c, name+".ics", "text/calendar; charset=utf-8", b.Bytes())
}

// eventsOf are the events of a plan, or of all: the sittings of every step that is to be
// done, and the waits after them, in which the maker is free.
func eventsOf(a *work.Agenda, id uint, all bool) (out []exchange.CalendarEvent) {
	for _, p := range a.Plans {
		if !all && p.ID != id || p.Result.Err != nil {
			continue
		}
		add := func(e exchange.CalendarEvent, from, to int) {
			e.ID, e.From, e.To, e.Moved = e.ID+"@lampfern", a.Moment(from), a.Moment(to), int(p.Revision)
			out = append(out, e)
		}
		for i, at := range p.Result.Steps {
			st := p.Steps[i]
			key := fmt.Sprintf("plan%d-%s", p.ID, st.Key)
			if !p.Job.Steps[i].Ended {
				for k, part := range at.Parts {
					add(exchange.CalendarEvent{ID: fmt.Sprintf("%s-%d", key, k+1), Name: p.Name + ": " + st.Name, Words: st.Care}, part.From, part.To)
				}
				if p.Job.Steps[i].Run > 0 {
					name := fmt.Sprintf("%s: the %s runs, %s", p.Name, st.Tool, st.Name)
					add(exchange.CalendarEvent{ID: key + "-run", Name: name, Free: !p.Job.Steps[i].Present}, at.End-p.Job.Steps[i].Run, at.End)
				}
			}
			if at.Free > at.End && a.Moment(at.Free).After(a.Now) && !st.Left {
				why := st.Why
				if why == "" {
					why = "wait"
				}
				add(exchange.CalendarEvent{ID: key + "-wait", Name: fmt.Sprintf("%s: %s (%s)", p.Name, why, st.Name), Free: true}, at.End, at.Free)
			}
		}
		if p.Job.Due != 0 {
			add(exchange.CalendarEvent{ID: fmt.Sprintf("plan%d-due", p.ID), Name: p.Name + " is due", Free: true}, p.Job.Due-60, p.Job.Due)
		}
	}
	return out
}
