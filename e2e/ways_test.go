package e2e

import (
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestWaysByMouseAndKeyboard(t *testing.T) {
	s := serve(t, true)
	b := s.open("/plans/9/proportion")
	b.click("#to-ways")
	kept := len(b.MustElements("#colourways li"))
	b.MustElement("#ways-focus").MustSelect("peaks")
	b.settle()
	b.click("#quiet-ground")
	require.Greater(t, len(b.MustElements("#ways li")), 3)
	assert.Contains(t, b.text("#ways li p"), "leads on the peaks")
	b.clickText("#ways li:nth-child(1) button", "Take it")
	assert.Contains(t, b.text("#ways li"), "As it is now")
	b.tabTo("#keep-colourway")
	b.press(input.Enter)
	assert.Len(t, b.MustElements("#colourways li"), kept+1)
	b.press('z', 'z')
	assert.Len(t, b.MustElements("#colourways li"), kept)
	b.click("#pin-ground")
	r := s.get("/plans/9/colourways.pdf")
	assert.Equal(t, 200, r.StatusCode)
}
