package papers

import "dorvet/internal/store"

// Decisions are what was decided on the work of an invoice, by portion.
type Decisions struct {
	Last map[int64]store.StandingDecision
	Down map[int64]store.WrittenDown
}

func decisionsOn(tx *store.DB, invoiceID int64) (*Decisions, error) {
	rows, err := store.DecisionsOnInvoice(tx, invoiceID)
	d := &Decisions{Last: map[int64]store.StandingDecision{}}
	if err != nil {
		return nil, err
	}
	for _, row := range rows {
		d.Last[row.PortionID] = row
	}
	d.Down, err = store.WrittenDownOn(tx, invoiceID)
	return d, err
}
