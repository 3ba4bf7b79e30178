package e2e

import (
	"testing"

	"github.com/stretchr/testify/require"
)

// views are the main views, as the README shows them.
var views = []struct{ name, path string }{
	{"workroom", "/"}, {"shelf", "/shelf"}, {"material", "/shelf/material/3"}, {"plans", "/plans"},
	{"gather", "/plans/9/gather"}, {"wheel", "/plans/9/wheel"}, {"values", "/plans/9/values"},
	{"cards", "/plans/9/cards"}, {"proportion", "/plans/9/proportion"}, {"brief", "/plans/9/brief"}, {"nudge", "/plans/9/nudge?seed=4711&n=5"}, {"combinations", "/plans/9/combinations"}, {"ramp", "/plans/9/ramp?ramp=1"}, {"ways", "/plans/9/ways?focus=spark&quiet=ground"}, {"pieces", "/plans/7/pieces"}, {"scraps", "/plans/9/scraps"},
}

// others are pages that the README does not show.
var others = []struct{ name, path string }{
	{"beside", "/shelf/beside?a=3&b=8"}, {"import", "/shelf/import"}, {"photos", "/photos"}, {"far", "/plans/7/proportion?far=36"}, {"squint", "/plans/9/squint"}, {"buy", "/plans/9/buy"}, {"mix", "/plans/9/mix"}, {"run of the tray", "/plans/8/values"},
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
	b.visit(s.photoNamed(heap) + "?plan=9&white=0.12,0.16,0.12,0.22&wl=95&box=0.40,0.18,0.14,0.16&box=0.38,0.64,0.12,0.12")
	b.shot("photo")
	b.visit(s.photoNamed("sprig print.jpg") + "/print?mm=200&cut=0.5+in")
	b.shot("print")
	b.visit("/reader?for=3")
	b.click("#calibrate")
	b.click("#measure")
	b.shot("reader")
	require.NotEmpty(t, b.text("h1"))
}
