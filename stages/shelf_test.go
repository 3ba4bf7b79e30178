package stages

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"net"
	"net/url"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/colour"
	"lampfern/core/material"
	"lampfern/core/words"
	"lampfern/plan"
	"lampfern/shelf"
	"lampfern/standin"
	"lampfern/store"
	"lampfern/testroom"
)

// longList is a list of n materials as CSV.
func longList(n int) []byte {
	var b strings.Builder
	b.WriteString("name,L,a,b,kind,lot,on hand\n")
	for i := range n {
		fmt.Fprintf(&b, "Card %d,%d,%d,%d,yarn,%d,2\n", i, 20+i%75, i%60-30, i%50-25, i%9)
	}
	return []byte(b.String())
}

func TestALongImportTellsHowFarItIsAndCanBeStopped(t *testing.T) {
	t.Parallel()
	s := testroom.Studio(t, All()...)
	id, err := s.Upload(testroom.Ctx, "long.csv", longList(5000))
	require.NoError(t, err)
	_, _, running := s.Progress(id)
	assert.False(t, running)
	ended := make(chan error)
	go func() { _, err := s.Confirm(testroom.Ctx, id, nil); ended <- err }()
	seen := 0
	require.Eventually(t, func() bool {
		done, of, running := s.Progress(id)
		seen = max(seen, done)
		return running && of == 5000 && done > 0
	}, 20*time.Second, time.Millisecond)
	s.StopImport(id)
	err = <-ended
	var refused words.Refusal
	require.True(t, errors.As(err, &refused), "%v", err)
	assert.Contains(t, string(refused), "Cancelled.")
	assert.Less(t, seen, 5000)
	sh, err := s.Shelf(testroom.Ctx)
	require.NoError(t, err)
	assert.Empty(t, sh.Cards, "all of it stayed out")
	undo, _, _, err := s.ShelfSteps(testroom.Ctx)
	require.NoError(t, err)
	assert.Empty(t, undo)

	came, err := s.Confirm(testroom.Ctx, id, nil)
	require.NoError(t, err, "the list waits for another try")
	assert.Equal(t, 5000, came.Added)
	_, _, running = s.Progress(id)
	assert.False(t, running)
}

func TestAWholeShelfGoesElsewhereWithItsPhotos(t *testing.T) {
	t.Parallel()
	a, b := testroom.Studio(t, All()...), testroom.Studio(t, All()...)
	lab := colour.Lab{L: 30, A: 10, B: -10}
	photo := testroom.SwatchPhoto(t, 200)
	hash, err := a.AddPhoto(testroom.Ctx, "heap.jpg", photo)
	require.NoError(t, err)
	_, err = a.SaveMaterial(testroom.Ctx, 0, 0, material.Material{Name: "Sprig", Colour: lab,
		Picture: &material.Picture{Photo: hash, W: 0.5, H: 0.5, Wide: 90},
		Lots:    []material.Lot{{Name: "7", OnHand: 2}, {Name: "8", OnHand: 1, Colour: &lab}},
		Further: []material.Further{{Role: material.Print, Colour: colour.Lab{L: 80}, Coverage: 0.3}}})
	require.NoError(t, err)
	var zip bytes.Buffer
	require.NoError(t, a.ExportShelf(testroom.Ctx, &zip))

	id, err := b.UploadShelf(testroom.Ctx, "shelf.zip", bytes.NewReader(zip.Bytes()), int64(zip.Len()))
	require.NoError(t, err)
	photos, err := b.Photos(testroom.Ctx)
	require.NoError(t, err)
	assert.Empty(t, photos, "nothing is kept before it is confirmed")
	_, err = b.Confirm(testroom.Ctx, id, nil)
	require.NoError(t, err)
	from, _ := a.Shelf(testroom.Ctx)
	to, _ := b.Shelf(testroom.Ctx)
	assert.Equal(t, from.Materials(), to.Materials())
	p, err := b.Photo(testroom.Ctx, hash)
	require.NoError(t, err)
	assert.Equal(t, "heap.jpg", p.Name)
	piece, err := p.Piece(shelf.Box{W: 0.5, H: 0.5})
	require.NoError(t, err)
	assert.True(t, bytes.HasPrefix(piece, []byte("\xff\xd8")))
	_, err = p.Piece(shelf.Box{X: 1.5, Y: 1.5, W: 0.1, H: 0.1})
	assert.ErrorIs(t, err, shelf.ErrNotFound)

	broken := bytes.Replace(zip.Bytes(), photo[:40], bytes.Repeat([]byte{1}, 40), 1)
	half := testroom.Studio(t, All()...)
	id, err = half.UploadShelf(testroom.Ctx, "shelf.zip", bytes.NewReader(broken), int64(len(broken)))
	require.NoError(t, err)
	preview, err := half.Preview(testroom.Ctx, id)
	require.NoError(t, err)
	assert.Equal(t, []string{"heap.jpg"}, preview.Lost, "the rest can come in without it")
	_, err = b.UploadShelf(testroom.Ctx, "shelf.zip", strings.NewReader("x"), 1)
	assert.ErrorContains(t, err, "the zip is incomplete")
	// A shelf.json by itself brings the materials without their photos.
	c := testroom.Studio(t, All()...)
	id, err = c.Upload(testroom.Ctx, "shelf.json",
		[]byte(`{"format":"lampfern-shelf","version":1,"materials":[{"name":"Sprig","L":30,"picture":{"photo":"`+hash+
			`","box":[0,0,1,1]}}],"photos":[{"hash":"`+hash+`","name":"heap.jpg","file":"x"}]}`))
	require.NoError(t, err)
	_, err = c.Confirm(testroom.Ctx, id, nil)
	require.NoError(t, err)
	sh, _ := c.Shelf(testroom.Ctx)
	assert.Nil(t, sh.Cards[0].Picture)
}

func TestAPrintIsKeptWithItsColoursAndPicture(t *testing.T) {
	t.Parallel()
	s := testroom.Studio(t, All()...)
	ids := testroom.Add(t, s, "Sprig print=#888888")
	hash, err := s.AddPhoto(testroom.Ctx, "heap.jpg", testroom.SwatchPhoto(t, 200))
	require.NoError(t, err)
	photo, err := s.Photo(testroom.Ctx, hash)
	require.NoError(t, err)
	id, updated, err := s.KeepPrint(testroom.Ctx, photo, shelf.Look{}, " sprig  PRINT ", "fabric", 120)
	require.NoError(t, err)
	assert.True(t, updated)
	assert.Equal(t, ids["Sprig print"], id)
	sh, _ := s.Shelf(testroom.Ctx)
	c, err := sh.Card(id)
	require.NoError(t, err)
	assert.Equal(t, "photo", c.Source)
	assert.Equal(t, &material.Picture{Photo: hash, W: 1, H: 1, Wide: 120}, c.Picture)
	covered := 0.0
	for _, f := range c.Further {
		covered += f.Coverage
	}
	assert.InDelta(t, 1, covered, 0.01)
	_, updated, err = s.KeepPrint(testroom.Ctx, photo, shelf.Look{}, "Another", "fabric", 0)
	require.NoError(t, err)
	assert.False(t, updated)
}

func TestMeasuringWithAReader(t *testing.T) {
	t.Parallel()
	s := testroom.Studio(t, All()...)
	var refused words.Refusal
	_, err := s.Measure(testroom.Ctx, 3, nil)
	require.True(t, errors.As(err, &refused))
	assert.Contains(t, string(refused), "--reader")
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	done, stop := context.WithCancel(testroom.Ctx)
	defer stop()
	go func() { _ = standin.NewReader(5).Serve(done, l) }()
	assert.ErrorContains(t, s.Simulate(), "no simulated reader")
	started := 0
	s.StartReader = func() (string, error) { started++; return l.Addr().String(), nil }
	require.NoError(t, s.Simulate())
	require.NoError(t, s.Simulate())
	assert.Equal(t, 1, started, "it is started once")
	name, simulated, err := s.ReaderState(testroom.Ctx)
	require.NoError(t, err)
	assert.Equal(t, "FERN-SIM 1 true", fmt.Sprint(name, " ", simulated))

	plum := colour.Lab{L: 21, A: 22, B: -13}
	_, err = s.Measure(testroom.Ctx, 3, &plum)
	assert.ErrorContains(t, err, "needs its white tile")
	require.NoError(t, s.Calibrate(testroom.Ctx))
	m, err := s.Measure(testroom.Ctx, 12, &plum)
	require.NoError(t, err)
	assert.Len(t, m.Readings, 12)
	assert.Equal(t, 1, m.Refused, "a refused reading is asked for again")
	assert.Less(t, colour.DeltaE2000(m.Mean, plum), 0.3)
	assert.InDelta(t, 1, m.Uncertainty(), 0.1)
	_, err = s.Measure(testroom.Ctx, 0, nil)
	assert.ErrorContains(t, err, "between 1 and 20")

	id, err := s.KeepMeasured(testroom.Ctx, m, 0, "", "Plum", "yarn")
	require.NoError(t, err)
	sh, _ := s.Shelf(testroom.Ctx)
	c, _ := sh.Card(id)
	assert.Equal(t, "measured yarn", c.Source+" "+c.Kind)
	with := c.Material
	with.Lots = []material.Lot{{Name: "7"}}
	_, err = s.SaveMaterial(testroom.Ctx, id, c.Revision, with)
	require.NoError(t, err)
	_, err = s.KeepMeasured(testroom.Ctx, m, id, "7", "", "")
	require.NoError(t, err)
	_, err = s.KeepMeasured(testroom.Ctx, m, id, "9", "", "")
	assert.ErrorContains(t, err, `no lot "9" any more`)
	sh, _ = s.Shelf(testroom.Ctx)
	c, _ = sh.Card(id)
	assert.Equal(t, &m.Mean, c.Lots[0].Colour)
	_, err = s.KeepMeasured(testroom.Ctx, m, id, "", "", "")
	require.NoError(t, err)
}

// BenchmarkBringIn5000 is a list of 5,000 lines from upload to shelf.
func BenchmarkBringIn5000(b *testing.B) {
	list := longList(5000)
	for b.Loop() {
		b.StopTimer()
		st, err := store.Open(b.TempDir())
		require.NoError(b, err)
		s := plan.NewDesk(shelf.New(st), All())
		b.StartTimer()
		id, err := s.Upload(testroom.Ctx, "long.csv", list)
		require.NoError(b, err)
		_, err = s.Preview(testroom.Ctx, id)
		require.NoError(b, err)
		_, err = s.Confirm(testroom.Ctx, id, nil)
		require.NoError(b, err)
		b.StopTimer()
		st.Close()
		b.StartTimer()
	}
}

func TestAListUpdatesWhatIsOnTheShelf(t *testing.T) {
	t.Parallel()
	m := visit(t, false)
	s := m.work
	require.NoError(t, s.AddMaterials(testroom.Ctx, "set up", []material.Material{
		{Name: "Plum", Kind: "yarn", Colour: colour.Lab{L: 21, A: 22, B: -13}, Lots: []material.Lot{{Name: "7a", OnHand: 100, Unit: "g"}}},
		{Name: "Reed", Kind: "yarn", Colour: colour.Lab{L: 55, A: -10, B: 40}},
	}))
	for _, list := range []string{"name,on hand,unit,price,colour\nPlum,40,g,0.06,\nReed,3,,,\nTeal,1,,,\nNew,2,,,#aabbcc\n"} {
		id, err := s.Upload(testroom.Ctx, "stock.csv", []byte(list))
		require.NoError(t, err)
		p, err := s.Preview(testroom.Ctx, id)
		require.NoError(t, err)
		require.Len(t, p.Updates, 2)
		assert.Equal(t, "40 g on hand, was 100 g; price 0.06, was 0", p.Updates[0].Words)
		assert.Len(t, p.Good, 1)
		require.Len(t, p.Bad, 1)
		assert.Contains(t, p.Bad[0].Reason, "no material on the shelf has this name")
		_, body := m.get(fmt.Sprintf("/shelf/import/%d", id))
		assert.Contains(t, plain(body), "2 are already on the shelf and can be updated")
		_, body = m.post(fmt.Sprintf("/shelf/import/%d", id), url.Values{"update": {"2"}})
		assert.Contains(t, plain(body), "1 material is now on the shelf and 1 is updated")
	}
	sh, err := s.Shelf(testroom.Ctx)
	require.NoError(t, err)
	amounts := map[string]float64{}
	for _, c := range sh.Cards {
		for _, l := range c.Lots {
			amounts[c.Name] += l.OnHand
		}
	}
	assert.Equal(t, map[string]float64{"Plum": 40, "New": 2}, amounts, "Reed was not ticked")
	_, err = s.StepShelf(testroom.Ctx, testroom.ShelfVersion(t, s), true)
	require.NoError(t, err)
	sh, _ = s.Shelf(testroom.Ctx)
	assert.Len(t, sh.Cards, 2)
	assert.Equal(t, 100.0, sh.Cards[0].Lots[0].OnHand, "one undo takes it all back")
}
