package store

import (
	"errors"
	"time"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

// Material is one thing a maker owns or could buy, with its colour as CIELAB
// (D65, 2°). Uncertainty is a ΔE00. A removed material is off the shelf but
// stays known to the plans that use it.
type Material struct {
	ID           uint      `json:"id"`
	Name         string    `json:"name"`
	Kind         string    `json:"kind"`
	Reference    string    `json:"reference"`
	Supplier     string    `json:"supplier"`
	Lot          string    `json:"lot"`
	Finish       string    `json:"finish"`
	L            float64   `json:"l"`
	A            float64   `json:"a"`
	B            float64   `json:"b"`
	Source       string    `json:"source"`
	Uncertainty  float64   `json:"uncertainty"`
	Discontinued bool      `json:"discontinued"`
	Remark       string    `json:"remark"`
	Pack         float64   `json:"pack"`
	Size         string    `json:"size"`
	Repeat       float64   `json:"repeat"`
	Photo        *string   `json:"photo"` // a part of it shows the material
	PhotoX       float64   `json:"photo_x"`
	PhotoY       float64   `json:"photo_y"`
	PhotoW       float64   `json:"photo_w"`
	PhotoH       float64   `json:"photo_h"`
	PhotoWide    float64   `json:"photo_wide"`                                // mm across, 0 when not known
	Spectrum     []float64 `json:"spectrum,omitempty" gorm:"serializer:json"` // reflectances from 380 to 730 nm; none when not measured
	Dose         Dose      `json:"dose" gorm:"serializer:json"`
	Removed      bool      `json:"removed"`
	Revision     int64     `json:"revision"`
	CreatedAt    time.Time `json:"created_at"`
	UpdatedAt    time.Time `json:"updated_at"`
	Lots         []Lot     `json:"lots" gorm:"-"`
	Further      []Further `json:"further" gorm:"-"`
}

// Dose is how much of a colourant was tried and how much is allowed.
type Dose struct {
	Tried      float64 `json:"tried,omitempty"`
	TriedBasis string  `json:"tried_basis,omitempty"`
	Limit      float64 `json:"limit,omitempty"`
	LimitBasis string  `json:"limit_basis,omitempty"`
}

// Lot is what is on hand of one dye lot. L, A and B are nil when the lot was
// not measured by itself.
type Lot struct {
	MaterialID uint     `json:"-" gorm:"primaryKey;autoIncrement:false"`
	Position   int      `json:"-" gorm:"primaryKey;autoIncrement:false"`
	Name       string   `json:"name"`
	OnHand     float64  `json:"on_hand"`
	Unit       string   `json:"unit"`
	Price      float64  `json:"price"`
	Place      string   `json:"place"`
	State      string   `json:"state"`
	L          *float64 `json:"l"`
	A          *float64 `json:"a"`
	B          *float64 `json:"b"`
}

// Further is one more colour of a material beside its face.
type Further struct {
	MaterialID uint    `json:"-" gorm:"primaryKey;autoIncrement:false"`
	Position   int     `json:"-" gorm:"primaryKey;autoIncrement:false"`
	Role       string  `json:"role"`
	L          float64 `json:"l"`
	A          float64 `json:"a"`
	B          float64 `json:"b"`
	Coverage   float64 `json:"coverage"`
}

// TableName names the table of further colours.
func (Further) TableName() string { return "colours" }

// Upload is a file a maker handed in, kept until it is confirmed.
type Upload struct {
	ID        uint
	Name      string
	Content   []byte
	CreatedAt time.Time
}

// ShelfVersion counts the changes of the shelf, by whatever program.
func (t Tx) ShelfVersion() (int64, error) {
	var n int64
	err := t.db.Raw("SELECT n FROM counters WHERE name = 'shelf'").Scan(&n).Error
	return n, plain(err)
}

// Materials returns every material, removed ones too.
func (t Tx) Materials() ([]Material, error) {
	all, err := findAll[Material](t, "materials", "id")
	if err != nil {
		return nil, err
	}
	lots, err := findAll[Lot](t, "lots", "material_id, position")
	if err != nil {
		return nil, err
	}
	further, err := findAll[Further](t, "colours", "material_id, position")
	if err != nil {
		return nil, err
	}
	at := make(map[uint]*Material, len(all))
	for i := range all {
		at[all[i].ID] = &all[i]
	}
	for _, l := range lots {
		if m := at[l.MaterialID]; m != nil { // else it could not be read
			m.Lots = append(m.Lots, l)
		}
	}
	for _, f := range further {
		if m := at[f.MaterialID]; m != nil {
			m.Further = append(m.Further, f)
		}
	}
	return all, nil
}

// PutMaterials writes materials as given, new ones (ID 0, whose ID is filled
// in) and known ones, and raises their revision. ErrTaken tells that a name is
// already on the shelf.
func (t Tx) PutMaterials(all []Material) error {
	if len(all) == 0 {
		return nil
	}
	const batch = 100 // keeps a statement under SQLite's limit of variables
	for i := range all {
		all[i].Revision++
	}
	// Two passes: a name must be let go before another material can take it.
	for _, removed := range []bool{true, false} {
		var pass []*Material
		for i := range all {
			if all[i].Removed == removed {
				pass = append(pass, &all[i])
			}
		}
		if len(pass) == 0 {
			continue
		}
		err := t.db.Clauses(clause.OnConflict{UpdateAll: true}).CreateInBatches(pass, batch).Error
		if errors.Is(err, gorm.ErrDuplicatedKey) {
			return ErrTaken
		}
		if err != nil {
			return plain(err)
		}
	}
	if err := t.putMaterialLists(all, batch); err != nil {
		return err
	}
	return plain(t.db.Exec("UPDATE counters SET n = n + 1 WHERE name = 'shelf'").Error)
}

// putMaterialLists writes the lots and further colours of materials in place
// of those they had.
func (t Tx) putMaterialLists(all []Material, batch int) error {
	var lots []Lot
	var further []Further
	for _, m := range all {
		for i, l := range m.Lots {
			l.MaterialID, l.Position = m.ID, i
			lots = append(lots, l)
		}
		for i, f := range m.Further {
			f.MaterialID, f.Position = m.ID, i
			further = append(further, f)
		}
	}
	for from := 0; from < len(all); from += batch {
		var ids []uint
		for _, m := range all[from:min(from+batch, len(all))] {
			ids = append(ids, m.ID)
		}
		for _, list := range []any{&Lot{}, &Further{}} {
			if err := t.db.Where("material_id IN ?", ids).Delete(list).Error; err != nil {
				return plain(err)
			}
		}
	}
	if len(lots) > 0 {
		if err := t.db.CreateInBatches(&lots, batch).Error; err != nil {
			return plain(err)
		}
	}
	if len(further) > 0 {
		return plain(t.db.CreateInBatches(&further, batch).Error)
	}
	return nil
}

// How long an upload waits for its confirmation, and how many wait at most.
const (
	uploadsKept = 48 * time.Hour
	uploadsMost = 12
)

// PutUpload keeps a file and lets go of those that waited too long, or are too many.
func (t Tx) PutUpload(u *Upload) error {
	if err := t.db.Create(u).Error; err != nil {
		return plain(err)
	}
	return plain(t.db.Where("created_at < ? OR id <= (SELECT id FROM uploads ORDER BY id DESC LIMIT 1 OFFSET ?)", time.Now().Add(-uploadsKept),
		uploadsMost).Delete(&Upload{}).Error)
}

// Upload returns a kept file.
func (t Tx) Upload(id uint) (Upload, error) {
	var u Upload
	return u, found(t.db.First(&u, id).Error)
}

// DropUpload lets go of a kept file.
func (t Tx) DropUpload(id uint) error { return plain(t.db.Delete(&Upload{}, id).Error) }
