package form

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestMinutes(t *testing.T) {
	for text, want := range map[string]int{"": 0, "90": 90, " 1:30 ": 90, "1 h 30": 90, "1h30": 90, "1.5 h": 90, "1,5 hours": 90, "45 min": 45,
		"2 days": 2880, "3 weeks": 30240, "1d": 1440, "2 h 05 min": 125} {
		got, err := Minutes(text)
		assert.NoError(t, err, text)
		assert.Equal(t, want, got, text)
	}
	for _, text := range []string{"soon", "-5", "1 day 3", "1000 years", "600 weeks", "1e9", "99999:00", "h", "1.2.3 h"} {
		_, err := Minutes(text)
		assert.ErrorContains(t, err, "is not a length of time", text)
	}
}
