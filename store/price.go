package store

import "time"

// Price is a line of a seller's price list, as it was read last. Price is of one pack,
// which holds Pack of Unit.
type Price struct {
	ID           uint      `json:"id"`
	Seller       string    `json:"seller"`
	Reference    string    `json:"reference"`
	Name         string    `json:"name"`
	Kind         string    `json:"kind"`
	Part         string    `json:"part"` // of a ready-made part, in small letters; empty for any
	Unit         string    `json:"unit"`
	Pack         float64   `json:"pack"`
	Price        float64   `json:"price"`
	Currency     string    `json:"currency"` // empty for the maker's own
	Least        float64   `json:"least"`    // that is cut or sold, in Unit; 0 for any
	Stock        *float64  `json:"stock"`    // packs that can be had; nil when not said
	Lots         string    `json:"lots"`
	Discontinued bool      `json:"discontinued"`
	Vanished     bool      `json:"vanished"` // an older list had it, and the newest has not
	Postage      float64   `json:"postage"`
	LeastOrder   float64   `json:"least_order"`
	LeadDays     int       `json:"lead_days"`
	Year         int       `json:"year"` // of the list, 0 when it does not say
	ReadAt       time.Time `json:"read_at"`
}

// PricesFor are the lines that have one of some references or names, names in small
// letters.
func (t Tx) PricesFor(references, names []string) ([]Price, error) {
	all := []Price{}
	return all, plain(t.db.Where("(reference <> '' AND reference IN ?) OR lower(name) IN ?", references, names).Order("id").Find(&all).Error)
}

// PricesOf are the lines of ready-made parts by their names, in small letters.
func (t Tx) PricesOf(parts []string) ([]Price, error) {
	all := []Price{}
	return all, plain(t.db.Where("part IN ?", parts).Order("id").Find(&all).Error)
}

// Sellers are the sellers whose lists are kept, each with a line of its own.
func (t Tx) Sellers() ([]Price, error) {
	all := []Price{}
	return all, plain(t.db.Where("id IN (SELECT min(id) FROM prices GROUP BY seller)").Order("seller").Find(&all).Error)
}

// PutPrices puts a seller's list in place of the one before. What it no longer holds
// stays, as vanished. It returns how many vanished.
func (t Tx) PutPrices(seller string, lines []Price) (vanished int, err error) {
	var old []Price
	if err := t.db.Where("seller = ?", seller).Find(&old).Error; err != nil {
		return 0, plain(err)
	}
	there := map[[3]string]bool{}
	for _, l := range lines {
		there[[3]string{l.Reference, l.Name, l.Part}] = true
	}
	for _, o := range old {
		if !there[[3]string{o.Reference, o.Name, o.Part}] {
			o.ID, o.Vanished = 0, true
			lines = append(lines, o)
			vanished++
		}
	}
	if err := t.db.Where("seller = ?", seller).Delete(&Price{}).Error; err != nil {
		return 0, plain(err)
	}
	const batch = 100 // keeps a statement under SQLite's limit of variables
	if len(lines) == 0 {
		return vanished, nil
	}
	return vanished, plain(t.db.CreateInBatches(&lines, batch).Error)
}

// DropPrices lets go of a seller's list.
func (t Tx) DropPrices(seller string) error {
	return plain(t.db.Where("seller = ?", seller).Delete(&Price{}).Error)
}
