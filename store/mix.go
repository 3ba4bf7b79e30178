package store

import "time"

// Mix is the record of a mix that was really made.
type Mix struct {
	ID       uint      `json:"id"`
	MadeAt   time.Time `json:"made_at"`
	PlanID   *uint     `json:"plan_id,omitempty"` // the plan it was made for, while that is kept
	Name     string    `json:"name"`
	Parts    []MixPart `json:"parts" gorm:"serializer:json"`
	Way      string    `json:"way"`                                     // how they came together; empty in records of earlier programs
	Basis    string    `json:"basis"`                                   // what the parts are counted in
	Ground   []float64 `json:"ground,omitempty" gorm:"serializer:json"` // CIELAB of what was added to; none where nothing was
	Amount   float64   `json:"amount"`                                  // made in all, 0 when not known
	Unit     string    `json:"unit"`                                    // of the amount
	Additive string    `json:"additive"`                                // scent or other additive, in the maker's words
	ReadAs   string    `json:"read_as"`                                 // dry, wet or varnished
	Light    string    `json:"light"`                                   // by which it was read, in the maker's words
	L        float64   `json:"l"`                                       // CIELAB of the result, D65
	A        float64   `json:"a"`                                       //
	B        float64   `json:"b"`                                       //
	KeptOff  bool      `json:"kept_off"`                                // nothing is learned from it
	Remark   string    `json:"remark"`
}

// MixPart is what went into a mix of one material.
type MixPart struct {
	Material uint    `json:"material"`
	Parts    float64 `json:"parts"`
}

// Mixes are all records, the newest first.
func (t Tx) Mixes() ([]Mix, error) {
	all := []Mix{}
	return all, plain(t.db.Order("made_at DESC, id DESC").Find(&all).Error)
}

// PutMix writes a record, and fills in the ID of a new one.
func (t Tx) PutMix(m *Mix) error { return plain(t.db.Save(m).Error) }

// DropMix takes a record away.
func (t Tx) DropMix(id uint) error { return plain(t.db.Delete(&Mix{}, id).Error) }
