package balance

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestExchange(t *testing.T) {
	share := []float64{.5, .2, .15, .1, .05}
	for _, c := range []struct {
		name string
		fill []int
		card int
		want float64
		to   []int
	}{
		{"two colours trade", []int{0, 1, 2, 3, 3}, 1, .5, []int{1, 0, 2, 3, 3}},
		{"one part more", []int{0, 0, 1, 2, 2}, 1, .25, []int{0, 0, 1, 1, 2}},
		{"one part less", []int{0, 1, 1, 1, 2}, 1, .3, nil},
		{"as it is", []int{0, 1, 2, 3, 4}, 0, .5, nil},
		{"never the last part", []int{0, 1, 1, 1, 1}, 1, 1, nil},
		{"an empty part stays empty", []int{0, 1, -1, 2, 2}, 1, .1, []int{0, 2, -1, 1, 2}},
	} {
		t.Run(c.name, func(t *testing.T) {
			got := Exchange(share, c.fill, nil, c.card, c.want)
			if c.to != nil {
				assert.Equal(t, c.to, got)
			} else if got != nil {
				sum := func(f []int) (s float64) {
					for i, k := range f {
						if k == c.card {
							s += share[i]
						}
					}
					return s
				}
				was, now := sum(c.fill)-c.want, sum(got)-c.want
				assert.Less(t, now*now, was*was, "nearer than before")
				for _, k := range c.fill {
					assert.Contains(t, got, k)
				}
			}
		})
	}
}
