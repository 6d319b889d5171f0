package banking

import (
	"slices"

	"dorvet/core/money"
	"dorvet/internal/app"
	"dorvet/internal/app/receivables"
	"dorvet/internal/store"
)

func markTransfers(tx *app.Tx, row *store.BankEntry, in *Taking) ([]store.BankMatch, error) {
	account, err := store.Get[store.BankAccount](tx.DB, row.AccountID)
	if err != nil {
		return nil, err
	}
	matches, made, sum := []store.BankMatch{}, []int64{}, int64(0)
	for _, id := range slices.Compact(slices.Sorted(slices.Values(in.TransferIDs))) {
		t, err := unmetTransfer(tx, row, account, id)
		if err != nil {
			return nil, err
		}
		sum += t.Amount
		matches = append(matches, store.BankMatch{TransferID: &id, Met: !t.DoneDay.IsZero()})
		if t.DoneDay.IsZero() {
			made = append(made, id)
		}
	}
	if len(matches) == 0 || !moves(row, account.ClientsMoney, sum) {
		return nil, app.RefuseField("transferIds", "The transfers come to %s, the entry to %s: choose those that it made.",
			money.Amount{Minor: sum, Currency: row.Currency}, money.Amount{Minor: max(row.Amount, -row.Amount), Currency: row.Currency})
	}
	return matches, receivables.MarkedTransfers(tx, made, true)
}

// meetPaidBack meets what a person was paid back.
func meetPaidBack(tx *app.Tx, row *store.BankEntry, in *Taking) ([]store.BankMatch, error) {
	paid, err := store.Get[store.Reimbursement](tx.DB, in.PaidBackID)
	if err != nil {
		return nil, app.Missing(err, "payment")
	}
	_, met, err := store.PaidBackBy(tx.DB, paid.ID)
	fits := !met && !paid.TakenBack && paid.EntityID == row.EntityID && paid.Currency == row.Currency && paid.Amount == -row.Amount
	if err := app.Unless(err, app.Refuse(app.Conflict, "What was paid back is not of this amount, or met already: load the page again."),
		func() bool { return fits }); err != nil {
		return nil, err
	}
	tx.LinkTo("people", paid.PersonID)
	tx.Describe(nil, nil, "%s of the bank is what was paid back for expenses", amountOf(row).Neg())
	return []store.BankMatch{{ReimbursementID: &paid.ID, Met: true}}, nil
}

// unmetTransfer is a transfer of which no entry is known yet on the account of an entry.
func unmetTransfer(tx *app.Tx, row *store.BankEntry, account *store.BankAccount, id int64) (*store.Transfer, error) {
	t, err := store.Get[store.Transfer](tx.DB, id)
	if err != nil {
		return nil, app.Missing(err, "transfer")
	}
	fund, err := store.FundsByID(tx.DB, t.FundsID)
	if err != nil {
		return nil, app.Missing(err, "transfer")
	}
	left, came, err := store.EntriesOfTransfer(tx.DB, id)
	known := account.ClientsMoney && left || !account.ClientsMoney && came
	return t, app.Unless(err, app.Refuse(app.Conflict, "An entry of these transfers is known already, or they are between other accounts: load the "+
		"page again."), func() bool { return !known && fund.EntityID == row.EntityID && fund.Currency == row.Currency })
}
