package store

import "time"

// Purchase is something that was bought for a plan. Amount is in the base unit of the
// material's kind, and Price what was paid for all of it.
type Purchase struct {
	ID         uint      `json:"id"`
	PlanID     uint      `json:"plan_id"`
	Row        string    `json:"row"` // of the plan's list
	Name       string    `json:"name"`
	MaterialID *uint     `json:"material_id"`
	Much       string    `json:"much"` // in words
	Amount     float64   `json:"amount"`
	Price      float64   `json:"price"`
	Lot        string    `json:"lot"` // on the shelf
	BoughtAt   time.Time `json:"bought_at"`
}

// Purchases are what was bought for a plan, the oldest first.
func (t Tx) Purchases(plan uint) ([]Purchase, error) {
	all := []Purchase{}
	return all, plain(t.db.Where("plan_id = ?", plan).Order("id").Find(&all).Error)
}

// PutPurchase writes a purchase, and fills in the ID of a new one.
func (t Tx) PutPurchase(p *Purchase) error { return plain(t.db.Save(p).Error) }

// DropPurchase takes a purchase away.
func (t Tx) DropPurchase(id uint) error { return plain(t.db.Delete(&Purchase{}, id).Error) }
