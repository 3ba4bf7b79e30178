package words

import "time"

// Date is a date as it stands in a sentence: 2 January 2026.
func Date(t time.Time) string { return t.Format("2 January 2006") }

// ShortDate is a date where there is little room: 2 Jan 2026.
func ShortDate(t time.Time) string { return t.Format("2 Jan 2006") }

// Day is a day of this year by its weekday: Fri 2 Jan.
func Day(t time.Time) string { return t.Format("Mon 2 Jan") }

// DayAndYear is a day of another year by its weekday: Fri 2 Jan 2026.
func DayAndYear(t time.Time) string { return t.Format("Mon 2 Jan 2006") }

// DayOfYear is a date whose year is known: 2 January.
func DayOfYear(t time.Time) string { return t.Format("2 January") }

// Moment is a time on such a date: 2 January, 15:04.
func Moment(t time.Time) string { return t.Format("2 January, 15:04") }
