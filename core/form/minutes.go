package form

import (
	"regexp"
	"strconv"
	"strings"

	"lampfern/core/words"
)

var (
	clock  = regexp.MustCompile(`^(\d{1,5}):([0-5]\d)$`)
	length = regexp.MustCompile(`^(?:([\d.,]+)\s*(w|weeks?|d|days?|h|hours?|m|min|minutes?)?\s*)(?:(\d{1,2})\s*(?:m|min|minutes?)?)?$`)
)

// mostMinutes bounds a length: ten years.
const mostMinutes = 10 * 366 * 24 * 60

// Minutes reads a length of time as makers write it: 90, 1:30, 1 h 30, 1.5 h, 2 days, 3
// weeks; a bare number is minutes. Empty is 0. The error is a sentence.
func Minutes(text string) (int, error) {
	t := strings.ToLower(strings.Join(strings.Fields(text), " "))
	if t == "" {
		return 0, nil
	}
	bad := words.Refuse("“%.30s” is not a length of time: write it as 45 min, 1 h 30, 2 days or 3 weeks, up to ten years.", text)
	if m := clock.FindStringSubmatch(t); m != nil {
		h, _ := strconv.Atoi(m[1])
		min, _ := strconv.Atoi(m[2])
		if h*60+min > mostMinutes {
			return 0, bad
		}
		return h*60 + min, nil
	}
	m := length.FindStringSubmatch(t)
	if m == nil {
		return 0, bad
	}
	n, err := strconv.ParseFloat(strings.ReplaceAll(m[1], ",", "."), 64)
	unit := 1.0
	switch {
	case strings.HasPrefix(m[2], "w"):
		unit = 7 * 24 * 60
	case strings.HasPrefix(m[2], "d"):
		unit = 24 * 60
	case strings.HasPrefix(m[2], "h"):
		unit = 60
	}
	more := 0
	if m[3] != "" {
		if unit != 60 {
			return 0, bad
		}
		more, _ = strconv.Atoi(m[3])
	}
	if v := n*unit + float64(more); err == nil && v <= mostMinutes {
		return int(v + .5), nil
	}
	return 0, bad
}
