package brief

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"lampfern/core/wheel"
)

// What is liked comes up more, what is disliked hardly, and what was never used sooner.
func TestHandsKnowWhatTheMakerLikes(t *testing.T) {
	cards := deck()
	dealt := func(taste Taste, fresh string) (green, yellow int) {
		all := append([]Card(nil), cards...)
		for i := range all {
			all[i].Fresh = string(all[i].Family) == fresh
		}
		for seed := range uint64(400) {
			for _, i := range Deal(seed, 3, all, nil, Habits{Taste: taste}, wheel.Pigment, Free()).Cards {
				switch all[i].Family {
				case "green":
					green++
				case "yellow":
					yellow++
				}
			}
		}
		return green, yellow
	}
	green, yellow := dealt(Taste{}, "")
	likes, _ := dealt(Taste{Like: "Greens, please"}, "")
	_, dislikes := dealt(Taste{Dislike: "yellow"}, "")
	never, _ := dealt(Taste{}, "green")
	assert.Greater(t, likes, green*5/4)
	assert.Less(t, dislikes, yellow/2)
	assert.Greater(t, never, green)

	read := Taste{Like: "soft greens and whimsy", Dislike: "Yellows, bright, gray"}.Read(cards)
	var words []string
	for _, r := range read {
		words = append(words, r.Word)
	}
	assert.Equal(t, []string{"soft", "green", "yellow", "bright", "grey"}, words)
	assert.Positive(t, read[1].Cards)
	assert.Empty(t, Taste{Like: "whimsy"}.Read(cards))
}
