// Package stitches is the chart of a stranded piece, stitch by stitch. Its page
// lies in the room page.
package stitches

import "lampfern/plan"

const Key = "stitches"

func Stage() plan.Stage {
	return plan.Stage{Key: Key, Name: "Chart", Pattern: "stranded", Press: "Edit the chart",
		Edits: map[string]func() plan.Edit{
			"chart-paint":  func() plan.Edit { return &PaintChart{} },
			"chart-size":   func() plan.Edit { return &SizeChart{} },
			"chart-text":   func() plan.Edit { return &WriteChart{} },
			"chart-mirror": func() plan.Edit { return &MirrorChart{} },
		},
	}
}
