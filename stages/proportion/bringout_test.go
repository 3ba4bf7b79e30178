package proportion

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"lampfern/core/balance"
	"lampfern/plan"
)

// What is said of a card on the open part never sets a figure against its word.
func TestWhatACardDoesOnTheOpenPart(t *testing.T) {
	p := &plan.Plan{}
	for times, want := range map[float64]string{
		1.8:   "The binding leads, 1.8 times the next.",
		1.04:  "The binding hardly leads, 1.04 times the next.",
		1.004: "The binding does not lead alone: another part pulls as strongly.",
		.997:  "The binding does not lead alone: another part pulls as strongly.",
		.96:   "The binding does not lead: it pulls 96% as strongly as what does.",
	} {
		assert.Equal(t, want, broughtWords(p, balance.Candidate{Times: times}, 2, 2, "binding"))
	}
}
