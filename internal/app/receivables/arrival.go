package receivables

import (
	"slices"

	"dorvet/core/day"
	"dorvet/internal/app"
	"dorvet/internal/app/setup"
	"dorvet/internal/store"
)

// Came is money that came in for an invoice, in minor units of it.
type Came struct {
	Minor             int64
	Gift              int64 // of thanks, on top: income of its own, on no invoice
	Method, Reference string
}

// ReceiveOn takes what came in for one invoice, whoever says so: as much as is owed on it, and what is more as credit. It is part of an act.
func ReceiveOn(tx *app.Tx, inv *store.Invoice, came Came) (*Payment, error) {
	row, err := arrived(tx, inv.Account(), tx.Today, came.Minor+came.Gift)
	if err != nil {
		return nil, err
	}
	row.Method, row.Reference = came.Method, came.Reference
	puts := []put{}
	if on := min(came.Minor, inv.Open); on > 0 && inv.State.IsIssued() {
		puts = append(puts, put{inv, on})
	}
	return receive(tx, row, puts, came.Gift)
}

// Arrival is money that a bank says came from a client, in minor units.
type Arrival struct {
	Account   store.Account
	Day       day.Day
	Minor     int64
	Reference string
	On        []ArrivedOn // what is not put on an invoice becomes credit
}

// ArrivedOn is what of it goes on an invoice, in minor units; 0: all that is owed, or that is left of it.
type ArrivedOn struct{ InvoiceID, Minor int64 }

// ReceiveArrival takes money as a bank says it came, as part of an act. Where its day is in a closed period, it counts from the first open
// day.
func ReceiveArrival(tx *app.Tx, in Arrival) (*Payment, error) {
	row, err := arrived(tx, in.Account, in.Day, in.Minor)
	if err != nil {
		return nil, err
	}
	row.Method, row.Reference, row.PersonID = "transfer", in.Reference, &tx.Actor.PersonID
	open, err := owedOrLost(tx.DB, in.Account.ClientID)
	if err != nil {
		return nil, err
	}
	puts, left := []put{}, in.Minor
	for _, on := range in.On {
		at := slices.IndexFunc(open, func(i store.Invoice) bool { return i.ID == on.InvoiceID && i.Account() == in.Account })
		if at < 0 || on.Minor > open[at].Payable() {
			return nil, app.Refuse(app.Conflict, "Less is owed by now on an invoice that was chosen, or it is of another account: load "+
				"the page again.")
		}
		if on.Minor == 0 {
			on.Minor = min(open[at].Payable(), left)
		}
		if left -= on.Minor; on.Minor <= 0 || left < 0 {
			return nil, app.RefuseField("on", "More is put on invoices than came: %s.", amount(row, row.Amount))
		}
		puts = append(puts, put{&open[at], on.Minor})
	}
	return receive(tx, row, puts, 0)
}

// arrived is money that came on a day, at the rate of that day; in a closed period, on the first open day.
func arrived(tx *app.Tx, account store.Account, on day.Day, minor int64) (*store.Payment, error) {
	firm, err := store.TheFirm(tx.DB)
	if err != nil {
		return nil, err
	}
	row := &store.Payment{EntityID: account.EntityID, ClientID: account.ClientID, Currency: account.Currency, Amount: minor,
		Day: max(on, firm.ClosingDay+1), Purpose: store.ForInvoices}
	row.ExchangeRate, row.ExchangeSource, err = setup.Exchange(tx.DB, firm, row.Currency, row.Day)
	return row, err
}
