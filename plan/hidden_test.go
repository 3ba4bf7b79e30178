package plan

import (
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/store"
)

// What an earlier program hid stays hidden, though IDs are of sorted keys now.
func TestHiddenNotesStayHidden(t *testing.T) {
	k := &Desk{}
	var h Hiding
	doc := []byte(`{"dismissed":["lost:3:12","muted","alike:b,a"],"remarks":{"lost:3:12":"on purpose","muted":"it is winter"}}`)
	require.NoError(t, k.decode(store.Section{Name: "notes", Version: 1, Doc: doc}, &h))
	assert.Equal(t, []string{"lost:12:3", "muted", "alike:a,b"}, h.Dismissed)
	assert.Equal(t, map[string]string{"lost:12:3": "on purpose", "muted": "it is winter"}, h.Remarks)
	again, err := json.Marshal(&h)
	require.NoError(t, err)
	var same Hiding
	require.NoError(t, k.decode(store.Section{Name: "notes", Version: k.version("notes"), Doc: again}, &same))
	assert.Equal(t, h, same)
	assert.Error(t, k.decode(store.Section{Name: "notes", Version: k.version("notes") + 1, Doc: again}, &same), "a newer program's")
}
