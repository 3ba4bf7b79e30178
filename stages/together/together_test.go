package together

import (
	"context"
	"encoding/json"
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/piece"
	"lampfern/plan"
	"lampfern/stages/brief"
	"lampfern/stages/drawing"
	"lampfern/stages/proportion"
	"lampfern/testroom"
)

// set is a plan with a quilt, a cushion of the same and a waistcoat.
func set(t *testing.T) (*plan.Desk, uint) {
	t.Helper()
	s := testroom.Studio(t, brief.Stage(), proportion.Stage(), drawing.Stage(), Stage())
	id, _ := testroom.Quilt(t, s)
	testroom.Do(t, s, id, plan.ChoosePiece{Pattern: "curtain", Settings: piece.Values{"columns": 2, "rows": 2, "block": 100, "sash": 10}})
	testroom.Do(t, s, id, plan.CopyPiece{Key: 1})
	testroom.Do(t, s, id, plan.NamePiece{Key: 2, Name: "Cushion", Times: 4})
	testroom.Do(t, s, id, plan.ChoosePiece{Pattern: "curtain", Settings: piece.Values{"columns": 2, "rows": 2, "block": 60, "sash": 10}})
	p := testroom.Do(t, s, id, plan.AddPiece{Pattern: "waistcoat"})
	for i, part := range p.Piece.Parts { // in their order, and not in the best arrangement
		testroom.Do(t, s, id, plan.FillPart{Part: part.Key, Key: p.Tray[i].Key})
	}
	return s, id
}

func names(p *plan.Plan) (out []string) {
	for _, m := range p.Members() {
		out = append(out, m.Name)
	}
	return out
}

func TestEachPieceKeepsWhatIsItsOwn(t *testing.T) {
	s, id := set(t)
	p := testroom.MustOpen(t, s, id)
	assert.Equal(t, []string{"Gradient curtain", "Cushion", "Waistcoat"},
		func() []string { n := names(p); n[0] = "Gradient curtain"; return n }())
	assert.Equal(t, "waistcoat", p.Pattern)
	p = testroom.Do(t, s, id, plan.FillPart{Part: "buttons", Key: 1})
	vest := testroom.Tray(p)
	p = testroom.Do(t, s, id, plan.WorkOn{Key: 1})
	assert.Equal(t, 100.0, p.Settings["block"])
	p = testroom.Do(t, s, id, plan.Pin{Part: "spark", On: true})
	p = testroom.Do(t, s, id, proportion.KeepColourway{Name: "Big"})
	p = testroom.Do(t, s, id, plan.WorkOn{Key: 2})
	assert.Equal(t, 60.0, p.Settings["block"], "a copy goes its own way")
	assert.Empty(t, p.Pinned)
	assert.Empty(t, p.ColourwayViews(), "a colourway belongs to its piece")
	p = testroom.Do(t, s, id, plan.WorkOn{Key: 3})
	assert.Equal(t, vest, testroom.Tray(p))
	p = testroom.Do(t, s, id, plan.WorkOn{Key: 1})
	assert.Equal(t, []string{"spark"}, p.Pinned)
	assert.Len(t, p.ColourwayViews(), 1)

	// A step back turns to the piece before.
	label, err := s.StepPlan(testroom.Ctx, id, p.Revision, true)
	require.NoError(t, err)
	assert.Contains(t, label, "edit the")
	p = testroom.MustOpen(t, s, id)
	assert.Equal(t, 3, p.At)
	assert.Equal(t, vest, testroom.Tray(p))

	p = testroom.Do(t, s, id, plan.MovePiece{Key: 3, To: 0})
	assert.Equal(t, "Waistcoat", names(p)[0])
	p = testroom.Do(t, s, id, plan.DropPiece{Key: 3})
	assert.Len(t, p.Members(), 2)
	assert.Equal(t, "curtain", p.Pattern, "another is worked on then")
	for _, c := range []struct {
		e    plan.Edit
		want string
	}{
		{plan.WorkOn{Key: 99}, "no longer in the plan"}, {plan.NamePiece{Key: 1, Name: "cushion", Times: 1}, "is called cushion"},
		{plan.NamePiece{Key: 1, Name: " ", Times: 1}, "has a name"},
		{plan.NamePiece{Key: 1, Name: "x", Times: 1000}, "1 to 500 times"},
		{plan.NamePiece{Key: 1, Name: strings.Repeat("x", 200), Times: 1}, "has a name"}, {plan.AddPiece{Pattern: "nothing"}, "is not possible"},
	} {
		testroom.Refused(t, s, id, c.e, c.want)
	}
	testroom.Do(t, s, id, plan.DropPiece{Key: 2})
	testroom.Refused(t, s, id, plan.DropPiece{Key: 1}, "the only piece")
}

func TestFiftyPiecesAreTooMany(t *testing.T) {
	s, id := set(t)
	for range plan.MostPieces - 3 {
		testroom.Do(t, s, id, plan.CopyPiece{Key: 3})
	}
	testroom.Refused(t, s, id, plan.CopyPiece{Key: 3}, "at most 24 pieces")
	p := testroom.MustOpen(t, s, id)
	seen := map[string]bool{}
	for _, n := range names(p) {
		assert.False(t, seen[n], "%s twice", n)
		seen[n] = true
	}
	v, err := Look(s, p)
	require.NoError(t, err)
	assert.Len(t, v.Pieces, plan.MostPieces)
}

func TestAPatternThatComesBackLosesNothing(t *testing.T) {
	s, id := set(t)
	testroom.Do(t, s, id, plan.FillPart{Part: "pockets", Key: 4})
	testroom.Do(t, s, id, plan.Group{Parts: []string{"fronts", "back"}})
	was := testroom.Do(t, s, id, plan.Pin{Part: "pockets", On: true})
	testroom.Do(t, s, id, plan.ChoosePiece{Pattern: "jacket"})
	p := testroom.Do(t, s, id, plan.ChoosePiece{Pattern: "waistcoat"})
	assert.Equal(t, was.Fills, p.Fills)
	assert.Equal(t, was.Groups, p.Groups)
	assert.Equal(t, was.Pinned, p.Pinned)
	assert.Len(t, p.Before, 1)
	// A card set aside meanwhile does not come back with it.
	testroom.Do(t, s, id, plan.ChoosePiece{Pattern: "jacket"})
	testroom.Do(t, s, id, plan.SetAside{Key: 4})
	p = testroom.Do(t, s, id, plan.ChoosePiece{Pattern: "waistcoat"})
	for _, f := range p.Fills {
		assert.NotEqual(t, 4, f.EntryKey)
	}
}

func TestAColourwayKeepsItsCards(t *testing.T) {
	s, id := set(t)
	testroom.Do(t, s, id, plan.WorkOn{Key: 1})
	p := testroom.Do(t, s, id, proportion.KeepColourway{Name: "As first"})
	before := p.ColourwayViews()[0].Labs
	gone := p.Tray[1]
	p = testroom.Do(t, s, id, plan.SetAside{Key: gone.Key})
	v := p.ColourwayViews()[0]
	assert.Equal(t, before, v.Labs, "no hole")
	assert.Equal(t, []string{gone.Name}, v.Gone)
	next := testroom.Do(t, s, id, plan.Pull{Material: p.Tray[0].ID})
	assert.Len(t, next.Tray, 4, "it is there already")
	p = testroom.Do(t, s, id, proportion.TakeColourway{Key: v.Key})
	assert.Len(t, p.Tray, 5, "its card comes back into the tray")
	assert.True(t, p.ColourwayViews()[0].Now)
	assert.Equal(t, gone.ID, p.Tray[4].ID)
}

func TestASetSurvivesItsFile(t *testing.T) {
	s, id := set(t)
	testroom.Do(t, s, id, plan.ChoosePiece{Pattern: "drawn"})
	testroom.Do(t, s, id, drawing.AddOutline{Part: "Sun", Corners: piece.Disc(piece.Point{X: 95, Y: 95}, 40)})
	hash, err := s.AddPhoto(testroom.Ctx, "like.jpg", testroom.SwatchPhoto(t, 90))
	require.NoError(t, err)
	testroom.Do(t, s, id, plan.Doing(func(d *plan.Draft) (string, error) {
		proportion.Of(d.Plan).References = []string{hash}
		return "refer", nil
	}))
	p := testroom.Do(t, s, id, plan.WorkOn{Key: 1})
	assert.Empty(t, proportion.Of(p).References, "the reference went with its piece")
	_, file, err := s.Export(testroom.Ctx, id)
	require.NoError(t, err)

	other := testroom.Studio(t, brief.Stage(), proportion.Stage(), drawing.Stage(), Stage())
	there, missing, err := other.Import(testroom.Ctx, file)
	require.NoError(t, err)
	assert.Empty(t, missing)
	photos, err := other.Photos(testroom.Ctx)
	require.NoError(t, err)
	require.Len(t, photos, 1, "the photo of a piece that is not worked on came along")
	q := testroom.Do(t, other, there.ID, plan.WorkOn{Key: 3})
	assert.Equal(t, []string{hash}, proportion.Of(q).References)
	require.NotNil(t, q.Piece)
	assert.Contains(t, fmt.Sprint(q.Piece.Parts), "Sun", "what was drawn is there")
	a, _ := json.Marshal(names(p))
	b, _ := json.Marshal(names(q))
	assert.Equal(t, string(a), string(b))
}

func TestSharesOverTheSet(t *testing.T) {
	s, id := set(t)
	p := testroom.Do(t, s, id, plan.LeaveOut{Key: 3, Out: true})
	v, err := Look(s, p)
	require.NoError(t, err)
	require.Len(t, v.Pieces, 2)
	// 230 × 230 mm once and 150 × 150 mm four times, each share by hand from its own piece.
	want, whole := map[string]float64{}, 0.0
	for _, w := range v.Pieces {
		area := w.Plan.Piece.Area()
		assert.InDelta(t, map[int]float64{1: 230 * 230, 2: 150 * 150}[w.Key], area, 1e-6)
		for _, c := range w.Plan.Tray {
			want[c.Name] += area * float64(w.Made()) * c.Share
		}
		whole += area * float64(w.Made())
	}
	assert.InDelta(t, 230*230+4*150*150, whole, 1e-6)
	sum := 0.0
	for _, r := range v.Rows {
		assert.InDelta(t, want[r.Name], r.Area, 1e-6, r.Name)
		assert.InDelta(t, want[r.Name]/whole, r.Share, 1e-12, r.Name)
		sum += r.Share
	}
	assert.InDelta(t, 1, sum, 1e-12)
	assert.Contains(t, v.Leads, "draws the eye first")
	pairs, _ := Pairs(p, v.Pieces)
	require.Len(t, pairs, 1)
	assert.True(t, pairs[0].Holds, pairs[0].Words)
	assert.Contains(t, pairs[0].Words, "cards.")
	// A card set aside leaves its parts bare, and they count as what has no card, as in the tray.
	p = testroom.Do(t, s, id, plan.SetAside{Key: p.Tray[0].Key})
	bare, err := Look(s, p)
	require.NoError(t, err)
	p.ShareOver(bare.Pieces)
	sum = 0
	for _, r := range bare.Rows {
		at := slices.IndexFunc(p.Tray, func(c plan.TrayCard) bool { return c.Key == r.Key })
		assert.InDelta(t, p.Tray[at].Share, r.Share, 1e-12, r.Name)
		sum += r.Share
	}
	assert.Less(t, sum, .95)
	only, err := Look(s, testroom.Do(t, s, id, plan.LeaveOut{Key: 2, Out: true}))
	require.NoError(t, err)
	assert.Empty(t, only.Notes)
	none, err := Look(s, testroom.Do(t, s, id, plan.LeaveOut{Key: 1, Out: true}))
	require.NoError(t, err)
	assert.Empty(t, none.Pieces)
	assert.Empty(t, none.Leads)
}

func TestTheSetInFewerColours(t *testing.T) {
	s, id := set(t)
	p := testroom.MustOpen(t, s, id)
	v, err := Look(s, p)
	require.NoError(t, err)
	all := InFewer(context.Background(), p, v.Pieces)
	require.Len(t, all, 3, "in four, three and two of five")
	last := -math.MaxFloat64
	for _, f := range all {
		assert.Len(t, f.Cards, f.N)
		assert.GreaterOrEqual(t, f.Loss, last, "fewer cards lose more")
		last = f.Loss
		assert.Contains(t, f.Words[0], "Keeps ")
	}
	p = testroom.Do(t, s, id, KeepFewer{N: 3})
	require.Len(t, p.Colourways, 1, "a colourway of the set")
	assert.Len(t, p.Colourways[0].Whole, 3)
	testroom.Refused(t, s, id, KeepFewer{N: 3}, "saved already, as In 3 cards")
	p = testroom.Do(t, s, id, TakeFewer{N: 3})
	for _, m := range p.Members() {
		of, err := s.As(p, m)
		require.NoError(t, err)
		used := map[int]bool{}
		for _, at := range of.Fill() {
			used[at] = true
		}
		assert.LessOrEqual(t, len(used), 3, m.Name)
	}
	testroom.Refused(t, s, id, TakeFewer{N: 3}, "cannot have fewer")
	ctx, stop := context.WithCancel(context.Background())
	stop()
	assert.Empty(t, InFewer(ctx, p, v.Pieces))
}

func TestAColourwayOfTheSet(t *testing.T) {
	s, id := set(t)
	p := testroom.Do(t, s, id, KeepSet{})
	require.Len(t, p.Colourways, 1)
	key := p.Colourways[0].Key
	assert.Empty(t, p.ColourwayViews(), "it is of no single piece")
	pieces, err := s.Set(p)
	require.NoError(t, err)
	v := p.SetColourways(pieces)[0]
	assert.True(t, v.Now)
	assert.Equal(t, "Colourway 1 of the set", v.Name)
	testroom.Refused(t, s, id, KeepSet{}, "saved already")

	// A card set aside makes no hole in it, and comes back with it to every piece.
	gone := p.Tray[0]
	p = testroom.Do(t, s, id, plan.SetAside{Key: gone.Key})
	pieces, err = s.Set(p)
	require.NoError(t, err)
	after := p.SetColourways(pieces)[0]
	assert.Equal(t, []string{gone.Name}, after.Gone)
	assert.False(t, after.Now)
	assert.InDeltaSlice(t, sorted(v.Layout.Share), sorted(after.Layout.Share), 1e-12, "as much of each as when it was kept")
	p = testroom.Do(t, s, id, proportion.TakeColourway{Key: key})
	pieces, err = s.Set(p)
	require.NoError(t, err)
	assert.True(t, p.SetColourways(pieces)[0].Now)
	p = testroom.Do(t, s, id, plan.WorkOn{Key: 1})
	assert.Contains(t, testroom.Tray(p), gone.Name+":")
	p = testroom.Do(t, s, id, plan.DropPiece{Key: 2})
	assert.Len(t, p.Colourways, 1, "a piece that goes takes only its own with it")

	// Customer, season and mood, and what the moods say of it.
	p = testroom.Do(t, s, id, proportion.NameColourway{Key: key, Name: "For the gallery", For: "Wren & daughters", Season: "late autumn",
		Mood: "Nursery"})
	pieces, err = s.Set(p)
	require.NoError(t, err)
	v = p.SetColourways(pieces)[0]
	assert.Equal(t, []string{"Wren & daughters", "late autumn", "Nursery"}, []string{v.For, v.Season, v.Mood})
	moods, err := plan.Moods(testroom.Ctx, s)
	require.NoError(t, err)
	said := p.MoodWords(v.Tray, v.Layout, v.Mood, moods)
	assert.Contains(t, said, "It misses Nursery, which you asked for: ")
	assert.Contains(t, said, "Plum curtain is too dark")
	testroom.Refused(t, s, id, proportion.NameColourway{Key: key, Name: "x", Mood: "Gloom"}, `no mood called "Gloom"`)
	testroom.Refused(t, s, id, proportion.NameColourway{Key: key, Name: "x", For: strings.Repeat("y", 300)}, "at most")
	testroom.Do(t, s, id, plan.LeaveOut{Key: 1, Out: true})
	testroom.Do(t, s, id, proportion.TakeColourway{Key: key})
}

func sorted(all []float64) []float64 {
	out := slices.Clone(all)
	slices.Sort(out)
	return slices.DeleteFunc(out, func(v float64) bool { return v == 0 })
}

func TestThreePiecesTogether(t *testing.T) {
	s, id := set(t)
	p := testroom.MustOpen(t, s, id)
	v, err := Look(s, p)
	require.NoError(t, err)
	o := OutfitOf(p, v.Pieces)
	assert.Equal(t, names(p), o.Names)
	pairs, hold := Pairs(p, v.Pieces)
	assert.Equal(t, hold == len(pairs), o.Holds, "three hold where every two do")
	assert.Contains(t, o.Words[0], "-key overall, in ")
	assert.Contains(t, o.Words[1], "all of them")
	three, all := Threes(pairs, 3)
	assert.Equal(t, 1, all)
	assert.Equal(t, o.Holds, three == 1)
	// Four pieces of which one pair does not hold: two of the four outfits have that pair.
	some := []Pair{{Holds: true}, {Holds: true}, {Holds: false}, {Holds: true}, {Holds: true}, {Holds: true}}
	three, all = Threes(some, 4)
	assert.Equal(t, [2]int{2, 4}, [2]int{three, all})
}

func BenchmarkASetOfTwelve(b *testing.B) {
	s := testroom.Studio(b, brief.Stage(), proportion.Stage(), Stage())
	id, err := s.NewPlan(testroom.Ctx, "Set", "quilt")
	require.NoError(b, err)
	do := func(e plan.Edit) {
		p, err := s.Open(testroom.Ctx, id)
		require.NoError(b, err)
		_, err = s.Change(testroom.Ctx, id, p.Revision, e)
		require.NoError(b, err)
	}
	var pairs []string
	for i := range 12 {
		pairs = append(pairs, fmt.Sprintf("Card %d=#%02x%02x%02x", i, 20*i, (70*i)%256, (150*i+40)%256))
	}
	for _, cardID := range testroom.Add(b, s, pairs...) {
		do(plan.Pull{Material: cardID})
	}
	do(plan.ChoosePiece{Pattern: "curtain"})
	for i := range 11 {
		do(plan.AddPiece{Pattern: []string{"waistcoat", "figure", "van", "boat", "star", "geese"}[i%6]})
	}
	b.ResetTimer()
	for b.Loop() {
		p, err := s.Open(testroom.Ctx, id)
		require.NoError(b, err)
		_, err = Look(s, p)
		require.NoError(b, err)
	}
}

func TestWhatIsThereAlready(t *testing.T) {
	s, id := set(t)
	p := testroom.Do(t, s, id, plan.AddGiven{Name: "skin", Colour: "#c58c6e"})
	skin := p.Tray[len(p.Tray)-1]
	assert.True(t, skin.Given)
	assert.Empty(t, skin.Parts, "it is on no part by itself")
	for _, n := range proportion.Proportion(p).Notes {
		assert.NotContains(t, n.Words, "Skin): ", "nothing asks for a part for it")
	}
	v, err := Look(s, p)
	require.NoError(t, err)
	given := Given(p, v.Pieces)
	require.Len(t, given, 1)
	require.Len(t, given[0].Words, 2, "beside each piece, two of one ground together")
	assert.Contains(t, given[0].Words[0], "of the Triangle curtain and the Waistcoat is")
	plum := p.Tray[0].Colour
	assert.Contains(t, given[0].Words[0], fmt.Sprintf("%.1f value steps darker", (skin.Colour.L-plum.L)/10), given[0].Words[0])
	// It is neither placed, nor moved, nor mixed by anything but the hand.
	p = testroom.MustOpen(t, s, id)
	found, err := proportion.Ways(context.Background(), s, p, proportion.WaysAsked{})
	require.NoError(t, err)
	for _, w := range found.Ways {
		for part, key := range w.Fills {
			assert.NotEqual(t, skin.Key, key, part)
		}
	}
	testroom.Refused(t, s, id, plan.Swap{Key: skin.Key, With: 1}, "is a fixed colour and keeps its place")
	for _, w := range p.Wantables() {
		assert.NotEqual(t, "Skin", w.Name)
	}
	p = testroom.Do(t, s, id, plan.SetGiven{Key: 1, On: true})
	now := p.Fill()
	found, err = proportion.Ways(context.Background(), s, p, proportion.WaysAsked{})
	require.NoError(t, err)
	require.NotEmpty(t, found.Ways)
	for _, w := range found.Ways {
		for i, part := range p.Piece.Parts {
			assert.Equal(t, now[i] >= 0 && p.Tray[now[i]].Key == 1, w.Fills[part.Key] == 1,
				"what is there already stays where it is, and nowhere else")
		}
	}
	for _, f := range InFewer(context.Background(), p, v.Pieces) {
		assert.Contains(t, f.Cards, 0, "what is given is not left out")
	}
	few, ok := OneLess(context.Background(), p, v.Pieces)
	require.True(t, ok)
	assert.Contains(t, LeastMissed(few), few.Gone[0]+" matters least: without it, ")
	testroom.Refused(t, s, id, plan.AddGiven{Name: "wall", Colour: "brownish"}, "is not a colour")
	testroom.Refused(t, s, id, plan.AddGiven{Name: " ", Colour: "#fff"}, "Name it, such as")
}
