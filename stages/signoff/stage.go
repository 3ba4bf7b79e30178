// Package signoff is the stage on which a client agrees. It keeps nothing yet.
package signoff

import "lampfern/plan"

// Key names the stage.
const Key = "signoff"

// Stage is the stage as a plan knows it.
func Stage() plan.Stage {
	return plan.Stage{Key: Key, Name: "Sign-off", Letter: "s"}
}
