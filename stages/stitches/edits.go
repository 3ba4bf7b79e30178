package stitches

import (
	"strings"

	"lampfern/core/craft/yarn"
	"lampfern/core/form"
	"lampfern/core/weave"
	"lampfern/core/words"
	"lampfern/plan"
)

// PaintChart gives stitches of the chart, counted from 0, a yarn, from 0.
type PaintChart struct {
	Stitches [][2]int
	Yarn     int `form:"yarn"`
}

func (e *PaintChart) Read(f *form.Form) error {
	e.Stitches = f.Cells("cells")
	return nil
}

func (e PaintChart) Do(d *plan.Draft) (string, error) {
	return plan.InputEdit("paint "+words.Plural(len(e.Stitches), "stitch", "stitches"), func(_ *plan.Draft, in *yarn.Stranded) error {
		if e.Yarn < 0 || e.Yarn >= weave.MostYarns {
			return words.Refuse("A chart has at most %d yarns. Choose one of them.", weave.MostYarns)
		}
		in.Chart = in.Stitches().Painted(e.Stitches, e.Yarn)
		return nil
	})(d)
}

// SizeChart cuts the chart, or fills it up with yarn A.
type SizeChart struct {
	Across int `form:"across"`
	Down   int `form:"down"`
}

func (e SizeChart) Do(d *plan.Draft) (string, error) {
	return plan.InputEdit("size the chart", func(_ *plan.Draft, in *yarn.Stranded) error {
		c, err := in.Stitches().Resized(e.Across, e.Down)
		if err != nil {
			return words.Refuse("%s.", words.Capital(err.Error()))
		}
		in.Chart = c
		return nil
	})(d)
}

// WriteChart takes a chart as rows of letters.
type WriteChart struct {
	Text string `form:"text"`
}

func (e WriteChart) Do(d *plan.Draft) (string, error) {
	return plan.InputEdit("write the chart", func(_ *plan.Draft, in *yarn.Stranded) error {
		in.Chart = yarn.Chart(strings.Fields(strings.ToUpper(e.Text)))
		if len(in.Chart) == 0 {
			return words.Refuse("The chart is empty. Write its rows as letters, one row per line, such as AABBAA.")
		}
		return nil
	})(d)
}

// MirrorChart turns the chart left to right, or head to foot.
type MirrorChart struct {
	Upright bool `form:"upright"`
}

func (e MirrorChart) Do(d *plan.Draft) (string, error) {
	return plan.InputEdit("flip the chart", func(_ *plan.Draft, in *yarn.Stranded) error {
		in.Chart = in.Stitches().Mirrored(e.Upright)
		return nil
	})(d)
}
