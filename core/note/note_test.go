package note

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestIDs(t *testing.T) {
	assert.Equal(t, ID("lost", Pair("3", "12")), ID("lost", Pair("12", "3")))
	assert.Equal(t, "lost:12:3", ID("lost", Pair("3", "12")))
	assert.Equal(t, "soft:1:2,3:4", ID("soft", Pair("4", "3"), Pair("2", "1")))
	keys := []string{"c", "a", "b"}
	assert.Equal(t, "alike:a,b,c", ID("alike", keys...))
	assert.Equal(t, []string{"c", "a", "b"}, keys, "the keys given stay as they are")
	long := ID("lost", strings.Repeat("x", longest+1))
	assert.Less(t, len(long), 30)
	assert.NotEqual(t, long, ID("lost", strings.Repeat("y", longest+1)))
	assert.Len(t, ID("lost", strings.Repeat("x", longest)), longest+5)
	assert.Equal(t, "lost", Note{ID: "lost:12:3"}.Kind())
	assert.Equal(t, "muted", Note{ID: "muted"}.Kind())
}

// IDs that earlier programs kept are those of the same notes now.
func TestSorted(t *testing.T) {
	for was, want := range map[string]string{
		"muted": "muted", "lost:3:12": "lost:12:3", "lost:12:3": "lost:12:3", "soft:4:3,2:1": "soft:1:2,3:4",
		"alike:b,a": "alike:a,b", "run-stray:m7": "run-stray:m7", "sheen:4:2:3": "sheen:2:3:4", "alike:81b2c3": "alike:81b2c3",
	} {
		assert.Equal(t, want, Sorted(was), was)
		assert.Equal(t, want, Sorted(want), "it stays so")
	}
}

func TestGrades(t *testing.T) {
	all := []Note{{ID: "a"}, {ID: "b", Grade: Fix}, {ID: "c", Grade: Consider}, {ID: "d", Grade: Fix}}
	ByGrade(all)
	assert.Equal(t, []string{"b", "d", "c", "a"}, []string{all[0].ID, all[1].ID, all[2].ID, all[3].ID})
	assert.Equal(t, []string{"fine", "half", "fix", "open"}, []string{Fine.String(), Consider.Shape(), Fix.String(), Fine.Shape()})
	assert.Less(t, Fine, Consider)
	assert.Less(t, Consider, Fix)
}
