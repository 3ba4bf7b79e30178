package exchange

import "io"

// WritePlan writes a plan file that ReadPlan reads back the same.
func WritePlan(w io.Writer, p Plan) error {
	f := planFile{Format: PlanFormat, Version: PlanVersion, Plan: p, Materials: []record{}}
	for _, m := range p.Materials {
		m.Lots = nil // what is on hand here means nothing elsewhere
		f.Materials = append(f.Materials, recordOf(m))
	}
	return writeJSON(w, f, "plan file")
}
