package receivables

import (
	"cmp"
	"context"
	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/internal/app"
	"dorvet/internal/store"
)

// Transfer is a bank transfer to make: the step that is forgotten.
type Transfer struct {
	ID     int64        `json:"id"`
	Client string       `json:"client"`
	Number string       `json:"number" doc:"of the invoice"`
	Day    day.Day      `json:"day"`
	Amount money.Amount `json:"amount" doc:"from the clients' account to the firm's; negative: back"`
	Done   day.Day      `json:"done" doc:"nothing: still to be made"`
}

// Transfers lists the transfers that are still to be made, or all.
func Transfers(ctx context.Context, a *app.App, actor app.Actor, done bool) ([]Transfer, error) {
	rows, err := store.Transfers(a.Read(ctx, actor), done)
	list := make([]Transfer, 0, len(rows))
	for _, t := range rows {
		list = append(list, Transfer{t.ID, t.Client, t.NumberText, t.Day, money.Amount{Minor: t.Amount, Currency: t.Currency}, t.DoneDay})
	}
	return list, err
}

// MarkTransfers notes that transfers were made, or, taken back, that they were not.
func MarkTransfers(ctx context.Context, a *app.App, r app.Request, ids []int64, made bool) error {
	_, err := app.Do(ctx, a, r, "mark transfers", []any{ids, made}, func(tx *app.Tx) (struct{}, error) {
		return struct{}{}, MarkedTransfers(tx, ids, made)
	})
	return err
}

// MarkedTransfers is [MarkTransfers] as part of an act.
func MarkedTransfers(tx *app.Tx, ids []int64, made bool) error {
	for _, id := range ids {
		t, err := store.Get[store.Transfer](tx.DB, id)
		if err != nil {
			return app.Missing(err, "transfer")
		}
		fund, err := fundsSeen(tx, t.FundsID)
		if err != nil {
			return err
		}
		if on, err := store.TransferOnStatement(tx.DB, id); err != nil || on && !made {
			return cmp.Or(err, app.Refuse(app.Conflict, "The bank's statement says that this transfer was made: open its entry there again first."))
		}
		if t.DoneDay = 0; made {
			t.DoneDay = tx.Today
		}
		tx.LinkTo("clients", fund.ClientID)
		if err := store.Save(tx.DB, t); err != nil {
			return err
		}
	}
	tx.Describe(!made, made, "Marked %d transfers as %s", len(ids), map[bool]string{true: "made", false: "still to be made"}[made])
	return nil
}
