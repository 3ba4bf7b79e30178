package proportion

import (
	"lampfern/core/piece"
	"lampfern/core/words"
	"lampfern/plan"
)

// WriteInput takes a line of text into the plan's pattern, such as the order of its
// rows; an empty one takes it away, where it can be.
type WriteInput struct {
	Text string `form:"text,optional"`
}

func (e WriteInput) Do(d *plan.Draft) (string, error) {
	in, is := d.Plan.Put().(piece.Written)
	if !is {
		return "", words.Refuse("The piece was changed in the meantime. Load the page again.")
	}
	copied := in.Copy()
	if err := copied.Write(e.Text, d.Plan.Values()); err != nil {
		return "", err
	}
	return in.Asks().Done, d.Recast(copied)
}
