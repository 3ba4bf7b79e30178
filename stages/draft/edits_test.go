package draft

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/plan"
	"lampfern/testroom"
)

// An order is never cut off; on request its stripes are made to fit the width.
func TestStripesFitTheWidth(t *testing.T) {
	s := testroom.Studio(t, Stage())
	id, err := s.NewPlan(testroom.Ctx, "Scarf", "weaving")
	require.NoError(t, err)
	testroom.Do(t, s, id, plan.ChoosePiece{Pattern: "cloth", Settings: map[string]float64{"width": 220, "length": 100, "ends": 5, "picks": 5}})
	p := testroom.Do(t, s, id, SetOrders{Warp: "40A 45B 40A", Weft: "50A"})
	v, err := Cloth(p)
	require.NoError(t, err)
	assert.Equal(t, 125, v.Ends)
	assert.InDelta(t, 25, v.Wide, 1e-9)
	assert.InDelta(t, 22, v.Asked, 1e-9)
	v, err = Cloth(testroom.Do(t, s, id, FitStripes{}))
	require.NoError(t, err)
	assert.Equal(t, "35A 40B 35A", v.Warp)
	assert.Equal(t, 110, v.Ends)
	assert.Zero(t, v.Asked)
}
