package app

import (
	"context"
	"time"

	"dorvet/internal/store"
)

// HistoryRow is one act in the history of a thing: who, when, what, why.
type HistoryRow struct {
	At      time.Time `json:"at"`
	Who     string    `json:"who"`
	Summary string    `json:"summary"`
	Reason  string    `json:"reason,omitempty"`
	Before  string    `json:"before,omitempty" doc:"what it was, as JSON"`
	After   string    `json:"after,omitempty" doc:"what it became, as JSON"`
}

// The things that have a history.
const (
	OfEntry    = "time_entry"
	OfInvoice  = "invoice"
	OfRun      = "billing run"
	OfPayment  = "payment"
	OfFirm     = "firm"
	OfWeek     = "week"
	OfPurchase = "purchase"
)

// History is everything that was done to a thing, latest first.
func (a *App) History(ctx context.Context, actor Actor, subject string, id int64) ([]HistoryRow, error) {
	acts, err := store.ActsOn(a.Read(ctx, actor), subject, id)
	if err != nil {
		return nil, Missing(err, subject)
	}
	rows := make([]HistoryRow, 0, len(acts))
	for _, act := range acts {
		rows = append(rows, HistoryRow{act.At, act.Who, act.Summary, act.Reason, act.Before, act.After})
	}
	return rows, nil
}
