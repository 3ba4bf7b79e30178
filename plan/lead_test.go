package plan_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/plan"
	"lampfern/stages"
	"lampfern/stages/wheel"
	"lampfern/testroom"
)

func TestTheLeadIsKeptRight(t *testing.T) {
	t.Parallel()
	s := testroom.Studio(t, stages.All()...)
	id, ids := testroom.Quilt(t, s)
	more := testroom.Add(t, s, "Sixth=#00804a")

	p := testroom.Do(t, s, id, plan.LeadWith{Material: ids["Heather rail"]})
	assert.Equal(t, "complementary", p.Lit(), "a first lead lights a scheme")
	testroom.Do(t, s, id, wheel.TurnTo{Places: 3})
	p = testroom.Do(t, s, id, plan.LeadWith{Material: ids["Plum curtain"]})
	assert.Zero(t, wheel.Of(p).Turn, "the light turns to another lead")

	key := p.Tray[0].Key
	require.Equal(t, "Plum curtain", p.Tray[0].Name)
	p = testroom.Do(t, s, id, plan.Replace{Key: key, Material: more["Sixth"]})
	require.NotNil(t, p.Lead)
	assert.Equal(t, "Sixth", p.Lead.Name, "what takes the lead's place leads")
	p = testroom.Do(t, s, id, plan.SetAside{Key: key})
	require.NotNil(t, p.Lead)
	assert.Equal(t, "Sixth", p.Lead.Name, "a material leads without lying in the tray")

	p = testroom.Do(t, s, id, wheel.TakeFree{Place: 3, Step: 2, Clear: true})
	free := p.Tray[len(p.Tray)-1]
	p = testroom.Do(t, s, id, plan.Lead{Key: free.Key})
	require.NotNil(t, p.Lead)
	assert.Equal(t, free.Name, p.Lead.Name)
	assert.Nil(t, p.LeadID)
	p = testroom.Do(t, s, id, plan.SetAside{Key: free.Key})
	assert.Nil(t, p.Lead, "a free colour set aside leads no longer")
	assert.Zero(t, p.LeadKey)

	p = testroom.Do(t, s, id, wheel.TakeHand{Tokens: []string{plan.TrayToken(p.Tray[1]), plan.TrayToken(p.Tray[2])}, Scheme: "triadic",
		Instead: true})
	assert.Len(t, p.Tray, 2)
	require.NotNil(t, p.Lead)
	assert.Equal(t, p.Tray[0].Name, p.Lead.Name, "the first card with a hue of a hand leads")
	testroom.Refused(t, s, id, plan.Lead{}, "Choose the lead colour")
}

func TestBoundsOfAPlan(t *testing.T) {
	testroom.Slow(t)
	t.Parallel()
	s := testroom.Studio(t, stages.All()...)
	id, _ := testroom.Quilt(t, s)
	many := func(n int) plan.Doing {
		return func(d *plan.Draft) (string, error) {
			d.Plan.Scraps = nil
			for i := range n {
				d.Plan.Scraps = append(d.Plan.Scraps, plan.Scrap{Key: i + 1, Name: "Sky"})
			}
			return "tear", nil
		}
	}
	p := testroom.Do(t, s, id, many(plan.MaxScraps))
	assert.Len(t, p.Scraps, 60)
	testroom.Refused(t, s, id, many(plan.MaxScraps+1), "The scrap page holds 60 scraps")
	testroom.Refused(t, s, id, plan.Doing(func(d *plan.Draft) (string, error) {
		d.Plan.Kinds = []string{"moonlight"}
		return "say of what", nil
	}), "is not a material type")
	p = testroom.Do(t, s, id, plan.Doing(func(d *plan.Draft) (string, error) {
		d.Plan.Kinds = []string{"fabric"}
		return "say of what", nil
	}))
	assert.Equal(t, []string{"fabric"}, p.Kinds)
	_, err := s.StepPlan(testroom.Ctx, id, p.Revision, true)
	require.NoError(t, err)
	assert.Empty(t, testroom.MustOpen(t, s, id).Kinds, "the header is undone, too")
}
