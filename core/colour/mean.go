package colour

import "math"

// Toward is the colour a share u, 0 to 1, of the straight way from c to another.
func (c Lab) Toward(o Lab, u float64) Lab {
	return Lab{L: c.L + u*(o.L-c.L), A: c.A + u*(o.A-c.A), B: c.B + u*(o.B-c.B)}
}

// Mean is the mean of several readings of one thing, and their spread: the mean
// ΔE00 of each to that mean. The mean of none is the zero Lab.
func Mean(readings []Lab) (mean Lab, spread float64) {
	n := float64(len(readings))
	if n == 0 {
		return Lab{}, 0
	}
	for _, r := range readings {
		mean.L += r.L / n
		mean.A += r.A / n
		mean.B += r.B / n
	}
	for _, r := range readings {
		spread += DeltaE2000(r, mean) / n
	}
	return mean, math.Max(0, spread)
}
