// Package log is the stage that says what was made. It keeps nothing yet.
package log

import "lampfern/plan"

// Key names the stage.
const Key = "log"

// Stage is the stage as a plan knows it.
func Stage() plan.Stage {
	return plan.Stage{Key: Key, Name: "Log", Letter: "l"}
}
