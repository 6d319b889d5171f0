package banking

import (
	"context"
	"strings"

	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/internal/app"
	"dorvet/internal/store"
)

// OwedExpense is a purchase that a person paid and was not paid back.
type OwedExpense struct {
	PurchaseID int64        `json:"purchaseId"`
	Day        day.Day      `json:"day"`
	Text       string       `json:"text"`
	Amount     money.Amount `json:"amount"`
}

// OwedTo lists what a person paid in a currency and was not paid back, the oldest first.
func OwedTo(ctx context.Context, a *app.App, actor app.Actor, personID int64, currency money.Currency) ([]OwedExpense, error) {
	rows, err := store.OwedPurchases(a.Read(ctx, actor), personID, currency)
	list := make([]OwedExpense, 0, len(rows))
	for _, p := range rows {
		text := strings.Trim(p.Supplier+", "+p.Text, ", ")
		list = append(list, OwedExpense{p.ID, p.Day, text, money.Amount{Minor: p.Minor, Currency: p.Currency}})
	}
	return list, err
}

// PayingBack is what a person laid out and got back some other way than by an order: with their wages, in cash.
type PayingBack struct {
	PersonID int64          `json:"personId"`
	Currency money.Currency `json:"currency" maxLength:"3"`
	Day      day.Day        `json:"day" format:"date"`
	Note     string         `json:"note" maxLength:"200"`
}

// PaidBack is what a person was paid back.
type PaidBack struct {
	ID        int64        `json:"id"`
	Version   int64        `json:"version"`
	Person    string       `json:"person"`
	Day       day.Day      `json:"day"`
	Amount    money.Amount `json:"amount"`
	Note      string       `json:"note"`
	TakenBack bool         `json:"takenBack"`
}

// PayBack notes that a person was paid back all that they laid out in a currency.
func PayBack(ctx context.Context, a *app.App, r app.Request, in PayingBack) error {
	_, err := app.Do(ctx, a, r, "pay back", in, func(tx *app.Tx) (struct{}, error) {
		if in.Day.IsZero() || in.Day > tx.Today {
			return struct{}{}, app.RefuseField("day", "Give the day on which they got it, today or before.")
		}
		paid, err := payBack(tx, in.PersonID, in.Currency, in.Day, strings.TrimSpace(in.Note))
		if err != nil {
			return struct{}{}, err
		}
		tx.Describe(nil, nil, "Paid back %s", money.Amount{Minor: paid.Amount, Currency: paid.Currency})
		return struct{}{}, nil
	})
	return err
}

// payBack notes what a person is paid back, as part of an act.
func payBack(tx *app.Tx, personID int64, currency money.Currency, on day.Day, note string) (*store.Reimbursement, error) {
	person, err := store.Get[store.Person](tx.DB, personID)
	if err != nil {
		return nil, app.Missing(err, "person")
	}
	owed, err := store.OwedPurchases(tx.DB, personID, currency)
	if err := app.Unless(err, app.Refuse(app.Conflict, "%s has nothing to get back in %s any more: load the page again.", person.Name, currency),
		func() bool { return len(owed) > 0 }); err != nil {
		return nil, err
	}
	row := &store.Reimbursement{PersonID: person.ID, EntityID: person.EntityID, Day: on, Currency: currency, Note: note, ByID: &tx.Actor.PersonID,
		ActID: tx.ActID}
	for _, p := range owed {
		row.Amount += p.Minor
	}
	if err := store.Insert(tx.DB, row); err != nil {
		return nil, err
	}
	of := []store.Reimbursed{}
	for _, p := range owed {
		of = append(of, store.Reimbursed{ReimbursementID: row.ID, PurchaseID: p.ID, Amount: p.Minor})
		tx.LinkTo(app.OfPurchase, p.ID)
	}
	tx.LinkTo("people", person.ID)
	return row, store.Insert(tx.DB, of)
}

// PaidBackLately lists what people were paid back, the latest first.
func PaidBackLately(ctx context.Context, a *app.App, actor app.Actor) ([]PaidBack, error) {
	rows, err := store.Reimbursements(a.Read(ctx, actor))
	list := make([]PaidBack, 0, len(rows))
	for _, r := range rows {
		list = append(list, PaidBack{r.ID, r.Version, r.Person, r.Day, money.Amount{Minor: r.Amount, Currency: r.Currency}, r.Note, r.TakenBack})
	}
	return list, err
}

// TakeBackPaid says that a person was not paid back after all.
func TakeBackPaid(ctx context.Context, a *app.App, r app.Request, id, version int64) error {
	_, err := app.Do(ctx, a, r, "take paid back back", []int64{id, version}, func(tx *app.Tx) (struct{}, error) {
		row, err := store.Get[store.Reimbursement](tx.DB, id)
		if err != nil {
			return struct{}{}, app.Missing(err, "payment")
		}
		if row.Version != version {
			return struct{}{}, store.ErrStale
		}
		ordered, _, err := store.PaidBackBy(tx.DB, id)
		if err := app.Unless(err, app.Refuse(app.Conflict, "It is in an order to the bank: withdraw that first."),
			func() bool { return !ordered }); err != nil {
			return struct{}{}, err
		}
		tx.Describe(nil, nil, "%s was not paid back after all", money.Amount{Minor: row.Amount, Currency: row.Currency})
		return struct{}{}, takeBackPaid(tx, id)
	})
	return err
}

// takeBackPaid takes back that a person was paid back, unless a statement says so.
func takeBackPaid(tx *app.Tx, id int64) error {
	row, err := store.Get[store.Reimbursement](tx.DB, id)
	if err != nil {
		return app.Missing(err, "payment")
	}
	_, met, err := store.PaidBackBy(tx.DB, id)
	if err := app.Unless(err, app.Refuse(app.Conflict, "The bank's statement says that it was paid: open its entry there again first."),
		func() bool { return !met }); err != nil {
		return err
	}
	if row.TakenBack {
		return app.Refuse(app.Conflict, "It was taken back already.")
	}
	row.TakenBack = true
	tx.LinkTo("people", row.PersonID)
	return store.Save(tx.DB, row)
}
