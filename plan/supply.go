package plan

import (
	"context"

	"lampfern/core/piece"
)

// Supply are a plan's pieces as they are to be made, and what has still to come for them.
type Supply struct {
	Pieces []Made
	Orders []Order // by seller
	Cards  int     // how many different materials it takes
	Needs  []Need
}

// Made is a piece as it is to be made.
type Made struct {
	Key    int // in the set, 0 and 1 for the first
	Name   string
	Craft  piece.Craft // whose rules tell of it
	Making piece.Making
	Keys   []int // of the entries whose cards it takes
}

// Order is what is still to be had from a seller.
type Order struct {
	Seller string // empty where none is known
	Things []string
	Days   int // it takes to come, 0 when not known
}

// Need is how much of a material is reckoned without any allowance, in a unit.
type Need struct {
	Name, Unit string
	Bare       float64
}

// Told is what the maker told of the plan's craft that its piece cannot know, or the usual.
func (k *Desk) Told(ctx context.Context, p *Plan) (piece.Values, error) {
	for _, st := range k.stages {
		if st.Told != nil {
			return st.Told(ctx, k, p)
		}
	}
	return nil, nil
}

// Supply asks the stage that knows what is needed. A piece that cannot be made yet is
// refused in a sentence.
func (k *Desk) Supply(ctx context.Context, p *Plan) (Supply, error) {
	for _, st := range k.stages {
		if st.Supply != nil {
			return st.Supply(ctx, k, p)
		}
	}
	return Supply{}, nil
}
