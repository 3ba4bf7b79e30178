package testroom

import (
	"bytes"
	"context"
	"errors"
	"image"
	"image/color"
	"image/jpeg"
	"io/fs"
	"math"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/colour"
	"lampfern/core/material"
	"lampfern/core/mesh"
	"lampfern/core/piece"
	"lampfern/core/words"
	"lampfern/exchange"
	"lampfern/plan"
	"lampfern/shelf"
	"lampfern/store"
)

// FillOf is the name of the card a part takes.
func FillOf(p *plan.Plan, part string) string {
	for i, at := range p.Fill() {
		if p.Piece.Parts[i].Key == part && at >= 0 {
			return p.Tray[at].Name
		}
	}
	return ""
}

// ShelfVersion is at which version the shelf is.
func ShelfVersion(t *testing.T, k *plan.Desk) int64 {
	t.Helper()
	_, _, version, err := k.ShelfSteps(Ctx)
	require.NoError(t, err)
	return version
}

// SwatchPhoto is a photo of white paper on the left and plum cloth on the
// right, in a warm light.
func SwatchPhoto(t *testing.T, width int) []byte {
	t.Helper()
	warm := func(hex string) color.Color {
		c, err := colour.ParseHex(hex)
		require.NoError(t, err)
		r, g, b := c.Linear()
		w := colour.LinearRGB(r*0.8, g*0.62, b*0.42)
		return w
	}
	img := image.NewNRGBA(image.Rect(0, 0, width, 100))
	paper, cloth := warm("#f1f1f1"), warm("#8a5a86")
	for y := range 100 {
		for x := range width {
			c := paper
			if x > width/2 {
				c = cloth
			}
			img.Set(x, y, c)
		}
	}
	var b bytes.Buffer
	require.NoError(t, jpeg.Encode(&b, img, &jpeg.Options{Quality: 95}))
	return b.Bytes()
}

// Heap starts a plan with the given cards, name=hex, in its tray.
func Heap(t *testing.T, s *plan.Desk, cards ...string) (uint, map[string]uint) {
	t.Helper()
	ids := Add(t, s, cards...)
	id, err := s.NewPlan(Ctx, "Scarf", "weaving")
	require.NoError(t, err)
	Do(t, s, id, plan.Doing(func(d *plan.Draft) (string, error) {
		d.Plan.Kinds = []string{"fabric", "yarn"}
		return "weave with cloth", nil
	}))
	for _, c := range cards {
		Do(t, s, id, plan.Pull{Material: ids[c[:len(c)-8]]})
	}
	return id, ids
}

// PotFile is a 3MF of a foot and a lid, of 10 × 10 × 2 mm and 4 × 4 × 6 mm.
func PotFile(t *testing.T) []byte {
	t.Helper()
	m := mesh.Mesh{Bodies: []mesh.Body{mesh.Box("foot", mesh.Vec{}, mesh.Vec{X: 10, Y: 10, Z: 2}),
		mesh.Box("lid", mesh.Vec{X: 3, Y: 3, Z: 2}, mesh.Vec{X: 4, Y: 4, Z: 6}), mesh.Box("lid", mesh.Vec{X: 30}, mesh.Vec{X: 4, Y: 4, Z: 6})}}
	var b bytes.Buffer
	require.NoError(t, exchange.Write3MF(&b, "pot", m, nil, nil))
	return b.Bytes()
}

// Ctx is the context of tests.
var Ctx = context.Background()

// Add puts name=hex pairs on the shelf and returns their ids.
func Add(t testing.TB, s *plan.Desk, pairs ...string) map[string]uint {
	t.Helper()
	ids := map[string]uint{}
	for _, p := range pairs {
		name, hex, _ := strings.Cut(p, "=")
		rgb, err := colour.ParseHex(hex)
		require.NoError(t, err)
		id, err := s.SaveMaterial(Ctx, 0, 0, material.Material{Name: name, Colour: rgb.Lab()})
		require.NoError(t, err)
		ids[name] = id
	}
	return ids
}

var Five = []string{"Plum curtain=#4b2346", "Moth wing=#d9cbb0", "Heather rail=#8a5a86", "Marrow flesh=#e0a52e", "Lamp soot=#232226"}

// Quilt starts a plan with the five cards in its tray.
func Quilt(t *testing.T, s *plan.Desk) (uint, map[string]uint) {
	t.Helper()
	ids := Add(t, s, Five...)
	id, err := s.NewPlan(Ctx, "Stage curtain", "quilt")
	require.NoError(t, err)
	for _, f := range Five {
		name, _, _ := strings.Cut(f, "=")
		Do(t, s, id, plan.Pull{Material: ids[name]})
	}
	return id, ids
}

// Do makes an edit and returns the plan as it then is.
func Do(t *testing.T, s *plan.Desk, id uint, e plan.Edit) *plan.Plan {
	t.Helper()
	p, err := s.Open(Ctx, id)
	require.NoError(t, err)
	_, err = s.Change(Ctx, id, p.Revision, e)
	require.NoError(t, err)
	p, err = s.Open(Ctx, id)
	require.NoError(t, err)
	return p
}

// Tray is the tray in one line: cards and the parts they fill.
func Tray(p *plan.Plan) string {
	var names []string
	for _, c := range p.Tray {
		names = append(names, c.Name+":"+words.List(c.Parts))
	}
	return strings.Join(names, " ")
}

// Hex is a colour as it is typed.
func Hex(t testing.TB, hex string) colour.RGB {
	t.Helper()
	c, err := colour.ParseHex(hex)
	require.NoError(t, err)
	return c
}

// Found0 is the first card of a shelf.
func Found0(sh *shelf.Shelf) *shelf.Card { return sh.Cards[0] }

// BareDisc is a photo of a bright disc of a quarter of its width on dark ground.
func BareDisc(t *testing.T, dark uint8) []byte {
	t.Helper()
	img := image.NewRGBA(image.Rect(0, 0, 400, 300))
	for y := range 300 {
		for x := range 400 {
			v := dark
			if math.Hypot(float64(x)-200, float64(y)-150) < 100 {
				v = 3*dark + uint8((200-y)/8)
			}
			img.SetRGBA(x, y, color.RGBA{v, v, v, 255})
		}
	}
	var b bytes.Buffer
	require.NoError(t, jpeg.Encode(&b, img, &jpeg.Options{Quality: 95}))
	return b.Bytes()
}

// Refused checks that an edit is refused with a sentence and changes nothing.
func Refused(t *testing.T, s *plan.Desk, id uint, e plan.Edit, want string) {
	t.Helper()
	before, err := s.Open(Ctx, id)
	require.NoError(t, err)
	_, err = s.Change(Ctx, id, before.Revision, e)
	var r words.Refusal
	require.ErrorAs(t, err, &r)
	assert.Contains(t, string(r), want)
	after, err := s.Open(Ctx, id)
	require.NoError(t, err)
	assert.Equal(t, before.Plan, after.Plan)
}

// Names are the names of cards.
func Names(cards []*shelf.Card) (out []string) {
	for _, c := range cards {
		out = append(out, c.Name)
	}
	return out
}

// MustOpen opens a plan.
func MustOpen(t *testing.T, s *plan.Desk, id uint) *plan.Plan {
	t.Helper()
	p, err := s.Open(Ctx, id)
	require.NoError(t, err)
	return p
}

// Studio is a desk on a data folder of its own, with the given stages.
func Studio(t testing.TB, all ...plan.Stage) *plan.Desk {
	t.Helper()
	st, err := store.Open(t.TempDir())
	require.NoError(t, err)
	t.Cleanup(func() { st.Close() })
	return plan.NewDesk(shelf.New(st), all)
}

// Change makes an edit and leaves out what it said.
func Change(k *plan.Desk, id uint, revision int64, e plan.Edit) error {
	_, err := k.Change(Ctx, id, revision, e)
	return err
}

// Import brings in a plan file and leaves out what it lacks.
func Import(k *plan.Desk, file []byte) (uint, error) {
	p, _, err := k.Import(Ctx, file)
	if err != nil {
		return 0, err
	}
	return p.ID, nil
}

// Line is what is written into a plan's pattern as a line of text.
func Line(p *plan.Plan) string {
	in, is := p.Put().(piece.Written)
	if !is {
		return ""
	}
	return in.Line(p.Values())
}

// filled is a workroom's folder as it was filled once for all tests of a package, by file.
var filled struct {
	once  sync.Once
	files map[string][]byte
	err   error
}

// Filled is a folder of its own with a workroom that fill fills once for all tests of a package.
func Filled(t testing.TB, fill func(*plan.Desk) error, all []plan.Stage) string {
	t.Helper()
	filled.once.Do(func() { filled.files, filled.err = filledFiles(fill, all) })
	require.NoError(t, filled.err)
	dir := t.TempDir()
	for name, data := range filled.files {
		require.NoError(t, os.MkdirAll(filepath.Join(dir, filepath.Dir(name)), 0o700))
		require.NoError(t, os.WriteFile(filepath.Join(dir, name), data, 0o600))
	}
	return dir
}

func filledFiles(fill func(*plan.Desk) error, all []plan.Stage) (map[string][]byte, error) {
	dir, err := os.MkdirTemp("", "testroom")
	if err != nil {
		return nil, err
	}
	defer os.RemoveAll(dir)
	st, err := store.Open(dir)
	if err != nil {
		return nil, err
	}
	if err = errors.Join(fill(plan.NewDesk(shelf.New(st), all)), st.Close()); err != nil {
		return nil, err
	}
	files := map[string][]byte{}
	return files, filepath.WalkDir(dir, func(path string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() {
			return err
		}
		name, err := filepath.Rel(dir, path)
		if err == nil {
			files[name], err = os.ReadFile(path)
		}
		return err
	})
}

// Slow leaves a test of seconds out of ./test quick.
func Slow(t testing.TB) {
	t.Helper()
	if testing.Short() {
		t.Skip("takes seconds: ./test runs it")
	}
}
