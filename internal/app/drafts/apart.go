package drafts

import (
	"dorvet/internal/app"
	"dorvet/internal/store"
)

// BillApart begins an invoice with nothing on it but charges of an engagement that are planned, as part of an act.
func BillApart(tx *app.Tx, engagementID int64, charges []store.Charge) (*store.Invoice, error) {
	rows, err := store.EngagementRows(tx.DB, []int64{engagementID})
	if err := app.Unless(err, app.Missing(store.ErrNotFound, "engagement"), func() bool { return len(rows) > 0 }); err != nil {
		return nil, err
	}
	inv, err := blankFor(tx, &rows[0], tx.Today, tx.Today)
	if err != nil {
		return nil, err
	}
	if err := store.Insert(tx.DB, inv); err != nil {
		return nil, err
	}
	tx.LinkTo(app.OfInvoice, inv.ID)
	if err := putCharges(tx, inv, charges); err != nil {
		return nil, err
	}
	_, err = filled(tx, inv, engagementID)
	return inv, err
}
