package exchange

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"regexp"
	"strconv"
	"strings"
	"time"

	ics "github.com/arran4/golang-ical"
	"github.com/teambition/rrule-go"
)

// CalendarEvent is a stretch of time of a calendar file.
type CalendarEvent struct {
	ID       string // stays the same when the event moves
	Name     string
	Words    string
	From, To time.Time
	Free     bool // the maker may be elsewhere: a wait
	Moved    int  // grows whenever the plan changes
}

// WriteCalendar writes events as iCalendar (RFC 5545), in UTC.
func WriteCalendar(w io.Writer, name string, events []CalendarEvent, now time.Time) error {
	c := ics.NewCalendarFor("Lamp Fern")
	c.SetMethod(ics.MethodPublish)
	c.SetXWRCalName(name)
	for _, e := range events {
		v := c.AddEvent(e.ID)
		v.SetDtStampTime(now)
		v.SetSummary(e.Name)
		if e.Words != "" {
			v.SetDescription(e.Words)
		}
		v.SetStartAt(e.From)
		v.SetEndAt(e.To)
		v.SetSequence(e.Moved)
		v.SetTimeTransparency(ics.TransparencyOpaque)
		if e.Free {
			v.SetTimeTransparency(ics.TransparencyTransparent)
		}
	}
	return c.SerializeTo(w, ics.WithNewLineWindows) // as the standard says, on every machine
}

// BusyTime is when a calendar file says that somebody is busy.
type BusyTime struct {
	From, To time.Time
	Name     string
}

// Bounds of a calendar file.
const (
	MaxCalendarBytes  = 8 << 20
	maxCalendarEvents = 20_000
	maxRepeats        = 2_000 // of one event
	maxBusyTimes      = 20_000
	maxTries          = 1_000_000 // repeats looked at in a whole file
	maxInADay         = 24        // times of one day that a rule names
)

// ReadBusy reads the busy times between two moments off an iCalendar file: events that are
// not marked as free or cancelled, with their repeats. Times without a place are those of
// here; days without a time are busy from midnight to midnight.
func ReadBusy(ctx context.Context, data []byte, from, to time.Time, here *time.Location) ([]BusyTime, error) {
	if len(data) > MaxCalendarBytes {
		return nil, fmt.Errorf("a calendar file is at most %d MB: save a shorter period", MaxCalendarBytes>>20)
	}
	if !bytes.Contains(data[:min(len(data), 1000)], []byte("BEGIN:VCALENDAR")) {
		return nil, errors.New("that is not a calendar file: save your calendar as .ics")
	}
	c, err := ics.ParseCalendar(within(ctx, bytes.NewReader(data)))
	if err != nil {
		return nil, fmt.Errorf("the calendar file cannot be read (%.80s): save it again", err)
	}
	events := c.Events()
	if len(events) > maxCalendarEvents {
		return nil, fmt.Errorf("the calendar file holds more than %d events: save a shorter period", maxCalendarEvents)
	}
	left := maxTries
	moved := map[string][]time.Time{} // single ones of a row that are elsewhere
	for _, e := range events {
		if p := e.GetProperty(ics.ComponentPropertyRecurrenceId); p != nil {
			if at, _, err := momentOf(p, here); err == nil {
				moved[e.Id()] = append(moved[e.Id()], at)
			}
		}
	}
	var out []BusyTime
	for _, e := range events {
		if err := ctx.Err(); err != nil {
			return nil, err
		}
		value := func(p ics.ComponentProperty) string {
			if v := e.GetProperty(p); v != nil {
				return v.Value
			}
			return ""
		}
		start := e.GetProperty(ics.ComponentPropertyDtStart)
		if start == nil || strings.EqualFold(value(ics.ComponentPropertyTransp), "TRANSPARENT") ||
			strings.EqualFold(value(ics.ComponentPropertyStatus), "CANCELLED") {
			continue
		}
		begin, whole, err := momentOf(start, here)
		if err != nil {
			continue
		}
		end := begin
		if whole {
			end = begin.AddDate(0, 0, 1)
		}
		if p := e.GetProperty(ics.ComponentPropertyDtEnd); p != nil {
			if at, _, err := momentOf(p, here); err == nil && at.After(begin) {
				end = at
			}
		} else if v := value(ics.ComponentPropertyDuration); v != "" {
			if d := durationOf(v); d > 0 {
				end = begin.Add(d)
			}
		}
		put := func(at time.Time) {
			if till := at.Add(end.Sub(begin)); till.After(from) && at.Before(to) && till.After(at) {
				out = append(out, BusyTime{From: at, To: till, Name: value(ics.ComponentPropertySummary)})
			}
		}
		rule := value(ics.ComponentPropertyRrule)
		if rule == "" || e.GetProperty(ics.ComponentPropertyRecurrenceId) != nil {
			put(begin)
		} else {
			gone := map[int64]bool{}
			for _, at := range moved[e.Id()] {
				gone[at.Unix()] = true
			}
			for _, p := range e.GetProperties(ics.ComponentPropertyExdate) {
				for _, one := range strings.Split(p.Value, ",") {
					q := *p
					q.Value = one
					if at, _, err := momentOf(&q, here); err == nil {
						gone[at.Unix()] = true
					}
				}
			}
			for _, at := range repeats(rule, begin, from.Add(begin.Sub(end)), to, &left) {
				if !gone[at.Unix()] {
					put(at)
				}
			}
		}
		if left <= 0 {
			return nil, errors.New("the calendar file repeats its events far too often: save a shorter period")
		}
		if len(out) > maxBusyTimes {
			return nil, fmt.Errorf("the calendar file holds more than %d busy times: save a shorter period", maxBusyTimes)
		}
	}
	return out, nil
}

var isoDuration = regexp.MustCompile(`^\+?P(?:(\d{1,4})W)?(?:(\d{1,4})D)?(?:T(?:(\d{1,5})H)?(?:(\d{1,6})M)?(?:(\d{1,7})S)?)?$`)

// durationOf reads a duration of RFC 5545, 0 for none.
func durationOf(text string) (d time.Duration) {
	m := isoDuration.FindStringSubmatch(strings.TrimSpace(text))
	for i, unit := range []time.Duration{7 * 24 * time.Hour, 24 * time.Hour, time.Hour, time.Minute, time.Second} {
		if m != nil && m[i+1] != "" {
			n, _ := strconv.Atoi(m[i+1]) // digits alone
			d += time.Duration(n) * unit
		}
	}
	return d
}

// repeats are the moments of a rule between two others, of one that repeats for ever as of any other;
// one that cannot be read repeats not at all, and one finer than a day, or of very many times a day, is
// taken for its first time. left is how many may still be looked at.
func repeats(rule string, begin, from, to time.Time, left *int) (out []time.Time) {
	o, err := rrule.StrToROptionInLocation(rule, begin.Location())
	if err != nil || o.Freq > rrule.DAILY || len(o.Byminute) > 1 || len(o.Bysecond) > 1 || len(o.Byhour) > maxInADay ||
		max(len(o.Bymonth), len(o.Byweekno), len(o.Byyearday), len(o.Bymonthday), len(o.Byweekday), len(o.Bysetpos)) > 366 {
		return []time.Time{begin}
	}
	o.Dtstart = begin
	if o.Until.IsZero() || o.Until.After(to) {
		o.Until = to
	}
	r, err := rrule.NewRRule(*o)
	if err != nil {
		return []time.Time{begin}
	}
	next := r.Iterator()
	for tried := 0; tried < 40*366 && len(out) < maxRepeats && *left > 0; tried++ {
		*left--
		at, more := next()
		if !more || at.After(to) {
			break
		}
		if !at.Before(from) {
			out = append(out, at)
		}
	}
	return out
}

// momentOf reads a moment, and whether it is a whole day.
func momentOf(p *ics.IANAProperty, here *time.Location) (at time.Time, whole bool, err error) {
	place := here
	if id := p.ICalParameters["TZID"]; len(id) > 0 {
		if known, err := time.LoadLocation(id[0]); err == nil {
			place = known
		}
	}
	switch v := strings.TrimSpace(p.Value); {
	case strings.HasSuffix(v, "Z"):
		at, err = time.Parse("20060102T150405Z", v)
	case len(v) == len("20060102"):
		at, err = time.ParseInLocation("20060102", v, place)
		whole = true
	default:
		at, err = time.ParseInLocation("20060102T150405", v, place)
	}
	if err == nil && (at.Year() < 1900 || at.Year() > 2300) {
		err = errors.New("out of all time")
	}
	return at, whole, err
}
