package schedule

import (
	"slices"
	"time"
)

// Day is when the maker works on a day of the week: from so many minutes after midnight by
// the clock on the wall, for so many minutes.
type Day struct {
	From    int `json:"from"`
	Minutes int `json:"minutes"`
}

// Hours are the maker's hours: Week by time.Weekday, Off the days without any, and More the
// minutes that single days have beyond theirs; days as 2006-01-02.
type Hours struct {
	Week [7]Day         `json:"week"`
	Off  []string       `json:"off,omitempty"`
	More map[string]int `json:"more,omitempty"`
}

// MostDays bounds how far a calendar reaches.
const MostDays = 3 * 366

// Sittings are the sittings of so many days from a day on, in a place's own time, less what
// is busy, which may lie in any order and overlap. A day on which the clocks change has its
// sitting by the clock, as long as it says.
func (h Hours) Sittings(from time.Time, days int, busy []Span) []Span {
	busy = slices.Clone(busy)
	slices.SortFunc(busy, func(a, b Span) int { return a.From - b.From })
	y, m, d := from.Date()
	var out []Span
	next := 0
	for i := range min(days, MostDays) {
		day := time.Date(y, m, d+i, 0, 0, 0, 0, from.Location())
		of := h.Week[day.Weekday()]
		of.Minutes += h.More[day.Format(time.DateOnly)]
		if of.Minutes <= 0 || slices.Contains(h.Off, day.Format(time.DateOnly)) {
			continue
		}
		begin := At(time.Date(y, m, d+i, 0, of.From, 0, 0, from.Location()))
		left := Span{begin, begin + of.Minutes}
		if last := len(out) - 1; last >= 0 { // what goes on past midnight is counted once
			left.From = max(left.From, out[last].To)
		}
		for next < len(busy) && busy[next].To <= left.From-24*60 {
			next++
		}
		for _, b := range busy[next:] {
			if b.From >= left.To {
				break
			}
			if b.To <= left.From {
				continue
			}
			if b.From > left.From && left.From < left.To {
				out = append(out, Span{left.From, b.From})
			}
			left.From = b.To
			if left.From >= left.To {
				break
			}
		}
		if left.From < left.To {
			out = append(out, left)
		}
	}
	return out
}

// Minutes is how many minutes a usual week holds.
func (h Hours) Minutes() (sum int) {
	for _, d := range h.Week {
		sum += max(0, d.Minutes)
	}
	return sum
}

// At is a time as a moment of this package, its seconds cut off.
func At(t time.Time) int { return int(t.Unix() / 60) }

// Time is a moment as a time in a place.
func Time(at int, in *time.Location) time.Time { return time.Unix(int64(at)*60, 0).In(in) }
