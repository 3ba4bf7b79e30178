package exchange

import (
	"bytes"
	"fmt"
	"strings"
	"testing"
	"time"

	other "github.com/emersion/go-ical"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A calendar is read by another parser than the one that wrote it.
func TestACalendarIsReadElsewhere(t *testing.T) {
	paris, err := time.LoadLocation("Europe/Paris")
	require.NoError(t, err)
	from := time.Date(2026, 12, 1, 18, 0, 0, 0, paris)
	long := "Cut 122 pieces; press, “twice” — " + strings.Repeat("and fold, ", 20)
	events := []CalendarEvent{{ID: "plan9-cut-0@lampfern", Name: "Stage curtain: cut, then look; \\ done", Words: long + "\nsecond line",
		From: from, To: from.Add(90 * time.Minute), Moved: 3},
		{ID: "plan9-wash-wait@lampfern", Name: "dry", From: from, To: from.AddDate(0, 0, 2), Free: true}}
	var b bytes.Buffer
	require.NoError(t, WriteCalendar(&b, "Lamp Fern", events, from))
	for _, line := range strings.Split(b.String(), "\r\n") {
		assert.LessOrEqual(t, len(line), 75, "folded as the standard says")
	}
	c, err := other.NewDecoder(&b).Decode()
	require.NoError(t, err)
	got := c.Events()
	require.Len(t, got, 2)
	name, err := got[0].Props.Text("SUMMARY")
	require.NoError(t, err)
	assert.Equal(t, events[0].Name, name)
	text, err := got[0].Props.Text("DESCRIPTION")
	require.NoError(t, err)
	assert.Equal(t, long+"\nsecond line", text)
	begin, err := got[0].DateTimeStart(time.UTC)
	require.NoError(t, err)
	assert.True(t, begin.Equal(from))
	assert.Equal(t, "plan9-cut-0@lampfern", got[0].Props.Get("UID").Value)
	assert.Equal(t, "3", got[0].Props.Get("SEQUENCE").Value)
	assert.Equal(t, "OPAQUE", got[0].Props.Get("TRANSP").Value)
	assert.Equal(t, "TRANSPARENT", got[1].Props.Get("TRANSP").Value)
}

func calendar(lines ...string) []byte {
	return []byte("BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:x\r\n" + strings.Join(lines, "\r\n") + "\r\nEND:VCALENDAR\r\n")
}

func event(lines ...string) string {
	return "BEGIN:VEVENT\r\nUID:a\r\nDTSTAMP:20261101T000000Z\r\n" + strings.Join(lines, "\r\n") + "\r\nEND:VEVENT"
}

func TestBusyTimesComeIn(t *testing.T) {
	paris, err := time.LoadLocation("Europe/Paris")
	require.NoError(t, err)
	from, to := time.Date(2026, 11, 25, 0, 0, 0, 0, paris), time.Date(2029, 11, 25, 0, 0, 0, 0, paris)
	for name, c := range map[string]struct {
		lines []string
		want  []string // from and length
		count int
	}{
		"one": {[]string{event("SUMMARY:Dentist", "DTSTART:20261201T090000Z", "DTEND:20261201T093000Z")},
			[]string{"2026-12-01 10:00 30m0s"}, 1},
		"its own place": {[]string{event("DTSTART;TZID=America/New_York:20261201T090000", "DURATION:PT2H")}, []string{"2026-12-01 15:00 2h0m0s"},
			1},
		"no place":  {[]string{event("DTSTART:20261201T090000", "DTEND:20261201T100000")}, []string{"2026-12-01 09:00 1h0m0s"}, 1},
		"a day":     {[]string{event("DTSTART;VALUE=DATE:20261224")}, []string{"2026-12-24 00:00 24h0m0s"}, 1},
		"leap day":  {[]string{event("DTSTART;VALUE=DATE:20280229")}, []string{"2028-02-29 00:00 24h0m0s"}, 1},
		"free":      {[]string{event("TRANSP:TRANSPARENT", "DTSTART;VALUE=DATE:20261224")}, nil, 0},
		"cancelled": {[]string{event("STATUS:CANCELLED", "DTSTART;VALUE=DATE:20261224")}, nil, 0},
		"gone by":   {[]string{event("DTSTART;VALUE=DATE:20201224")}, nil, 0},
		"for ever": {[]string{event("DTSTART;TZID=Europe/Paris:20200106T180000", "DTEND;TZID=Europe/Paris:20200106T200000",
			"RRULE:FREQ=WEEKLY;BYDAY=MO", "EXDATE;TZID=Europe/Paris:20261130T180000")}, []string{"2026-12-07 18:00 2h0m0s"}, 155},
		"through summer": {[]string{event("DTSTART;TZID=Europe/Paris:20270327T180000", "DURATION:PT1H", "RRULE:FREQ=DAILY;COUNT=3")},
			[]string{"2027-03-27 18:00 1h0m0s", "2027-03-28 18:00 1h0m0s", "2027-03-29 18:00 1h0m0s"}, 3},
		"one elsewhere": {[]string{event("DTSTART:20261201T090000Z", "DURATION:PT1H", "RRULE:FREQ=DAILY;COUNT=2"),
			event("RECURRENCE-ID:20261202T090000Z", "DTSTART:20261203T120000Z", "DURATION:PT1H")},
			[]string{"2026-12-01 10:00 1h0m0s", "2026-12-03 13:00 1h0m0s"}, 2},
		"every second": {[]string{event("DTSTART:20261201T090000Z", "DURATION:PT1H", "RRULE:FREQ=SECONDLY")},
			[]string{"2026-12-01 10:00 1h0m0s"}, 1},
		"never": {[]string{event("DTSTART:20261201T090000Z", "DURATION:PT1H", "RRULE:FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=31")}, nil, 0},
		"no rule": {[]string{event("DTSTART:20261201T090000Z", "DURATION:PT1H", "RRULE:FREQ=SOON")}, []string{"2026-12-01 10:00 1h0m0s"},
			1},
	} {
		got, err := ReadBusy(t.Context(), calendar(c.lines...), from, to, paris)
		require.NoError(t, err, name)
		assert.Len(t, got, c.count, name)
		for i, want := range c.want {
			if assert.Greater(t, len(got), i, name) {
				assert.Equal(t, want, got[i].From.In(paris).Format("2006-01-02 15:04 ")+got[i].To.Sub(got[i].From).String(), name)
			}
		}
	}
	began := time.Now()
	var many []string
	for n := range 21_000 {
		many = append(many, event(fmt.Sprintf("SUMMARY:%d", n), "DTSTART:20261201T090000Z"))
	}
	for want, data := range map[string][]byte{
		"at most 8 MB":        append(calendar(), make([]byte, 50<<20)...),
		"not a calendar file": []byte("hello"),
		"cannot be read":      []byte("BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\nnonsense\r\n"),
		"more than 20000 e":   calendar(many...),
	} {
		_, err := ReadBusy(t.Context(), data, from, to, paris)
		assert.ErrorContains(t, err, want)
	}
	assert.Less(t, time.Since(began), 20*time.Second)
}

func FuzzReadBusy(f *testing.F) {
	f.Add(calendar(event("DTSTART:20261201T090000Z", "DURATION:PT1H", "RRULE:FREQ=DAILY;COUNT=2")))
	f.Add(calendar(event("DTSTART;VALUE=DATE:20261224", "EXDATE:20261224")))
	f.Fuzz(func(t *testing.T, data []byte) {
		from := time.Date(2026, 11, 25, 0, 0, 0, 0, time.UTC)
		all, err := ReadBusy(t.Context(), data, from, from.AddDate(3, 0, 0), time.UTC)
		if err == nil {
			for _, b := range all {
				assert.True(t, b.To.After(b.From))
			}
		}
	})
}
