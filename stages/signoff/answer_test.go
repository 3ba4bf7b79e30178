package signoff

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/store"
)

// An answer text is read as it was made, whatever mail did to its lines, and for its own sheet alone.
func TestAnswerTexts(t *testing.T) {
	s := store.Sheet{Number: 2, Token: "a token"}
	made := Reply{Agreed: true, Name: "Wren", Remark: "the blue one"}
	text := AnswerText(s, made)
	got, err := ReadAnswer(s, text)
	require.NoError(t, err)
	assert.Equal(t, made, got)
	got, err = ReadAnswer(s, "Dear maker,\n> "+text[:20]+"\r\n"+text[20:])
	require.NoError(t, err)
	assert.Equal(t, made, got)

	parts := strings.Split(text, ".")
	other := s
	other.Token = "of another plan"
	later := s
	later.Number = 3
	for name, c := range map[string]struct {
		sheet store.Sheet
		text  string
		says  string
	}{
		"of another plan":  {other, text, "belongs to another plan"},
		"of another sheet": {later, text, "a reply to sheet 2, and this is sheet 3"},
		"its check changed": {s, strings.Join(append(parts[:3:3], "00000000"), "."),
			"That reply was changed"},
		"what was said changed": {s, strings.Join([]string{parts[0], parts[1], parts[2] + "A", parts[3]}, "."), "That reply was changed"},
		"a part missing":        {s, strings.Join(parts[:3], "."), "That is not a reply to a sheet"},
		"no number":             {s, strings.Join([]string{parts[0], "two", parts[2], parts[3]}, "."), "That is not a reply to a sheet"},
		"nothing":               {s, "", "That is not a reply to a sheet"},
	} {
		_, err := ReadAnswer(c.sheet, c.text)
		assert.ErrorContains(t, err, c.says, name)
	}
}
