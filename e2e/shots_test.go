package e2e

import (
	"bytes"
	"image"
	"image/jpeg"
	"image/png"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"
	"golang.org/x/image/draw"
)

// views are the main views, as the README shows them.
var views = []struct{ name, path string }{
	{"workroom", "/"}, {"shelf", "/shelf"}, {"together", "/plans/3/together"},
	{"gather", "/plans/9/gather"}, {"wheel", "/plans/9/wheel"}, {"values", "/plans/9/values"},
	{"cards", "/plans/9/cards"}, {"proportion", "/plans/9/proportion"}, {"brief", "/plans/9/brief"},
	{"start", "/start"}, {"tracing", "/plans/3/drawing"}, {"assembly", "/plans/4/proportion"},
	{"worktable", "/plans/3/worktable"}, {"mix", "/plans/3/mix"}, {"buy", "/plans/9/buy"}, {"signoff", "/plans/7/signoff"},
	{"log", "/plans/6/log"},
}

// others are pages that the README does not show.
var others = []struct{ name, path string }{
	{"cloth", "/plans/6/proportion"}, {"pieces", "/plans/7/pieces"}, {"chart", "/plans/7/stitches"}, {"material", "/shelf/material/3"},
	{"beside", "/shelf/beside?a=3&b=8"}, {"import", "/shelf/import"}, {"photos", "/photos"}, {"far", "/plans/7/proportion?far=36"},
	{"squint", "/plans/9/squint"}, {"scraps", "/plans/9/scraps"}, {"combinations", "/plans/9/combinations"},
	{"draft", "/plans/6/draft?float=1"}, {"second", "/plans/6/second"}, {"nudge", "/plans/9/nudge?seed=4711&n=5"},
	{"ramp", "/plans/9/ramp?ramp=1"}, {"poured", "/plans/5/proportion"}, {"bodies", "/plans/4/solid"}, {"buy", "/plans/9/buy"},
	{"mix of a quilt", "/plans/9/mix"}, {"run of the tray", "/plans/8/values"},
}

// pictured are the views that the guide shows, at five eighths of their size.
var pictured = []string{"start", "brief", "gather", "wheel", "values", "proportion", "cards", "mix", "buy", "signoff", "log", "shelf"}

// pictureOf writes a screenshot as a picture of the guide.
func pictureOf(t *testing.T, name string) {
	t.Helper()
	data, err := os.ReadFile(filepath.Join(*shots, name+".png"))
	require.NoError(t, err)
	whole, err := png.Decode(bytes.NewReader(data))
	require.NoError(t, err)
	small := image.NewRGBA(image.Rect(0, 0, 5*whole.Bounds().Dx()/8, 5*whole.Bounds().Dy()/8))
	draw.CatmullRom.Scale(small, small.Bounds(), whole, whole.Bounds(), draw.Src, nil)
	var out bytes.Buffer
	require.NoError(t, jpeg.Encode(&out, small, &jpeg.Options{Quality: 82}))
	require.NoError(t, os.WriteFile(filepath.Join("..", "workroom", "guide", "pictures", name+".jpg"), out.Bytes(), 0o644))
}

func TestScreenshots(t *testing.T) {
	if *shots == "" {
		t.Skip("screenshots are only taken when asked for: go test ./e2e -run Screenshots -shots FOLDER")
	}
	s := serve(t, true)
	b := s.open("/")
	for _, v := range views {
		b.visit(v.path)
		if v.name == "assembly" {
			b.until("the lantern", `() => document.getElementById('solid-view')?.dataset.shown === 'fine'`)
		}
		if v.name == "mix" {
			b.click("#mix-recipes li:first-child .act")
		}
		if v.name == "buy" {
			b.click("#how-card1 summary")
		}
		b.shot(v.name)
	}
	b.visit(s.photoNamed(heap) + "?plan=9&white=0.12,0.16,0.12,0.22&wl=95&box=0.40,0.18,0.14,0.16&box=0.38,0.64,0.12,0.12")
	b.shot("photo")
	b.visit("/reader?for=3")
	b.click("#calibrate")
	b.click("#measure")
	b.shot("reader")
	require.NotEmpty(t, b.text("h1"))
	for _, name := range pictured {
		pictureOf(t, name)
	}
}
