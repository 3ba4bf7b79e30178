package shelf

import (
	"context"
	"encoding/json"
	"fmt"

	"lampfern/core/colour"
	"lampfern/store"
)

// Camera is how the maker's camera errs in photos that are corrected by white, as it was
// learned from things that a reader measured too. The zero value is not known.
type Camera struct {
	Shift colour.Lab `json:"shift"` // what is added to a colour read from a photo
	Doubt float64    `json:"doubt"` // ΔE00 that is left after it
	Pairs int        `json:"pairs"`
}

const cameraName = "camera"

// CameraOf is what was learned, within a transaction.
func CameraOf(tx store.Tx) (c Camera, err error) {
	doc, err := tx.Preference(cameraName)
	if err == nil && doc != nil {
		err = json.Unmarshal(doc, &c)
	}
	if err != nil {
		return c, fmt.Errorf("reading what was learned of the camera: %w", err)
	}
	return c, nil
}

// PutCamera keeps what was learned; the zero value forgets it.
func PutCamera(tx store.Tx, c Camera) error {
	doc, err := json.Marshal(c)
	if err != nil {
		return fmt.Errorf("keeping what was learned of the camera: %w", err)
	}
	return tx.PutPreference(cameraName, doc)
}

// Camera is what was learned of the maker's camera.
func (s *Keeper) Camera(ctx context.Context) (Camera, error) { return CameraOf(s.Store.Read(ctx)) }

// Right is a colour as the camera should have shown it.
func (c Camera) Right(lab colour.Lab) colour.Lab {
	return colour.Lab{L: min(100, max(0, lab.L+c.Shift.L)), A: lab.A + c.Shift.A, B: lab.B + c.Shift.B}
}
