package e2e

import (
	"testing"

	"github.com/stretchr/testify/require"
)

// views are the main views, as the README shows them.
var views = []struct{ name, path string }{
	{"workroom", "/"}, {"shelf", "/shelf"}, {"material", "/shelf/material/3"}, {"plans", "/plans"},
	{"gather", "/plans/9/gather"}, {"wheel", "/plans/9/wheel"}, {"values", "/plans/9/values"},
	{"cards", "/plans/9/cards"}, {"proportion", "/plans/9/proportion"}, {"import", "/shelf/import"},
}

func TestScreenshots(t *testing.T) {
	if *shots == "" {
		t.Skip("screenshots are only taken when asked for: go test ./e2e -run Screenshots -shots FOLDER")
	}
	s := serve(t, true)
	b := s.open("/")
	for _, v := range views {
		b.visit(v.path)
		b.shot(v.name)
	}
	b.visit("/shelf/import")
	b.MustElement("#file").MustSetFiles(writeFile(t, "stash.csv", "name,colour,kind\nGoose wing,#e8e2d4,fabric\nPlum curtain,#4b2346,fabric\nSedge,#12,yarn\nMallow,#b46a9a,yarn\nSedge two;#7d8a4a;yarn\n"))
	b.click("#preview")
	b.shot("preview")
	require.NotEmpty(t, b.text("h1"))
}
