package e2e

import (
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestOnePartLeftOpenByMouseAndKeyboard(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	b := s.open("/plans/9/proportion")
	b.click("#tab-part")
	b.click("#open-wide")
	b.MustElement("#bringout-part").MustSelect("sashing")
	b.settle()
	assert.Contains(t, b.text(".counted"), "as you asked")
	all := b.MustElements("#brought li")
	require.Greater(t, len(all), 4)
	first := b.text("#brought li b")
	tray := len(b.MustElements("#tray .tray-card"))
	b.tabTo("#brought li:first-child .act")
	b.press(input.Enter)
	b.until("the card is taken", `() => !!document.querySelector('#brought li.now')`)
	assert.Equal(t, first, b.text("#brought li.now b"))
	assert.Len(t, b.MustElements("#tray .tray-card"), tray+1)
	b.press('z')
	b.settle()
	assert.Len(t, b.MustElements("#tray .tray-card"), tray)
	// Other kinds are shown by one key, and left out by it.
	left := b.text(".left-out")
	assert.Contains(t, left, "other materials are hidden")
	b.press('o')
	b.settle()
	assert.Contains(t, b.text(".left-out"), "All material types are shown")
	b.press('o')
	b.settle()
	assert.Equal(t, left, b.text(".left-out"))
}

func TestWhatIsSetAsideSaysWhy(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	b := s.open("/plans/9/gather")
	b.press('3', 'x')
	b.settle()
	name := b.text("#set-aside b")
	b.MustElement("#set-aside input[name=reason]").MustInput("too cold").MustType(input.Enter)
	b.settle()
	b.visit("/shelf?q=left+over+cold")
	assert.Contains(t, b.text("#deck"), name, "it is found by its reason")
	b.click("#deck li a")
	assert.Contains(t, b.text("#left-over"), "Left over from Stage curtain, too cold")
	b.visit("/plans/9/gather")
	b.click("#set-aside .act")
	b.settle()
	assert.Empty(t, b.MustElements("#set-aside"))
}

func TestThePortraitTeachesHands(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	b := s.open("/")
	assert.Contains(t, b.text("#portrait-short"), "Mostly ")
	b.click("#to-portrait")
	b.MustElement("#like").MustInput("greens")
	b.MustElement("#dislike").MustInput("violet").MustType(input.Enter)
	b.until("what is liked", `() => document.body.textContent.includes('You like green')`)
	b.visit("/plans/9/nudge?seed=12&n=4")
	assert.Contains(t, b.text("aside, .notes, body"), "You like green and dislike violet")
}

func TestAPrintIsCroppedOnItsPhoto(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	b := s.open(s.photoNamed(heap))
	b.click("#mode-crop")
	b.MustElement("#photo").MustFocus()
	for range 4 {
		b.press(input.ArrowRight)
	}
	b.press(input.Enter)
	b.until("the crop", `() => !!document.querySelector('#photo .crop')`)
	b.click("#as-print")
	assert.Contains(t, b.text(".reads"), "the print, as cropped")
	b.visit(s.photoNamed(heap) + "?crop=0.4,0.2,0,0")
	b.click("#as-print")
	assert.Contains(t, b.text(".mend"), "The crop is too small")
}
