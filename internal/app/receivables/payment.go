// Package receivables is what is owed and what comes in: payments by hand, credit
// of clients, money held for them, transfers to make, deposits asked for, and
// balances taken over from before.
package receivables

import (
	"context"
	"slices"
	"strings"

	"dorvet/core/day"
	"dorvet/core/money"
	core "dorvet/core/receivable"
	"dorvet/internal/app"
	"dorvet/internal/app/drafts"
	"dorvet/internal/app/ledger"
	"dorvet/internal/app/setup"
	"dorvet/internal/store"
)

// TypedPayment is a payment as typed. Without invoices it pays the oldest
// instalments of the client first; what is more than they owe is credit.
type TypedPayment struct {
	ClientID  int64          `json:"clientId"`
	EntityID  int64          `json:"entityId" doc:"to which it was paid; 0: that of the invoices, or the only one"`
	Currency  money.Currency `json:"currency" maxLength:"3" doc:"nothing: that of the invoices, or the client's"`
	Day       day.Day        `json:"day" format:"date"`
	Amount    string         `json:"amount" maxLength:"30"`
	Method    string         `json:"method" enum:"transfer,cheque,cash,card,debit,other"`
	Reference string         `json:"reference" maxLength:"100"`
	Note      string         `json:"note" maxLength:"500"`
	On        []PaidInvoice  `json:"on" maxItems:"500" doc:"which invoices it pays; none: the oldest first"`
}

// PaidInvoice is an invoice that a payment is put on.
type PaidInvoice struct {
	InvoiceID int64  `json:"invoiceId"`
	Amount    string `json:"amount" maxLength:"30" doc:"nothing: all that is owed, or that is left of the payment"`
}

// Payment is a payment and how it was used.
type Payment struct {
	ID        int64        `json:"id"`
	ClientID  int64        `json:"clientId"`
	Client    string       `json:"client"`
	Day       day.Day      `json:"day"`
	Purpose   string       `json:"purpose" enum:"invoices,funds,refund_funds,refund_credit"`
	Method    string       `json:"method"`
	Reference string       `json:"reference"`
	Note      string       `json:"note"`
	Amount    money.Amount `json:"amount" doc:"negative: it went out, or was reversed"`
	On        string       `json:"on" doc:"the numbers of the invoices"`
	Unapplied money.Amount `json:"unapplied" doc:"what became credit of the client"`
	Reversed  bool         `json:"reversed"`
	Reverses  int64        `json:"reverses" doc:"the payment that this one takes back, or 0"`
	Person    string       `json:"person" doc:"who recorded it"`
}

// put is an invoice and how much of a payment it gets.
type put struct {
	inv   *store.Invoice
	minor int64
}

// Receive records a payment: what it settles, and what is left as credit.
func Receive(ctx context.Context, a *app.App, r app.Request, in TypedPayment) (*Payment, error) {
	return app.Do(ctx, a, r, "receive payment", in, func(tx *app.Tx) (*Payment, error) {
		row, puts, err := readPayment(tx, in)
		if err != nil {
			return nil, err
		}
		return receive(tx, row, puts, 0)
	})
}

// receive books a payment: what it settles, what of it is a gift, and what is left as credit.
func receive(tx *app.Tx, row *store.Payment, puts []put, gift int64) (*Payment, error) {
	if err := store.Insert(tx.DB, row); err != nil {
		return nil, err
	}
	left := row.Amount - gift
	for _, p := range puts {
		left -= p.minor
		if err := comeAfterAll(tx, row, p); err != nil {
			return nil, err
		}
		err := ledger.Settle(tx, p.inv, p.minor, ledger.Settlement{Kind: "payment", Bucket: app.Bank, Day: row.Day, PaymentID: &row.ID,
			Rate: row.ExchangeRate})
		if err != nil {
			return nil, err
		}
	}
	if err := post(tx, row, "gift", app.Gifts, app.Bank, gift); err != nil {
		return nil, err
	}
	if err := post(tx, row, "overpaid", app.Credit, app.Bank, left); err != nil {
		return nil, err
	}
	tx.LinkTo("clients", row.ClientID)
	tx.LinkTo(app.OfPayment, row.ID)
	tx.Describe(nil, amount(row, row.Amount).String(), "Received %s %s%s", amount(row, row.Amount), row.Currency, unapplied(row, left))
	return finished(tx, row)
}

func unapplied(row *store.Payment, left int64) string {
	if left == 0 {
		return ""
	}
	return ", of which " + amount(row, left).String() + " is credit"
}

func amount(row *store.Payment, minor int64) money.Amount {
	return money.Amount{Minor: minor, Currency: row.Currency}
}

// finished brings drafts of the account up to date and shows the payment.
func finished(tx *app.Tx, row *store.Payment) (*Payment, error) {
	if err := drafts.Refresh(tx, store.Account{ClientID: row.ClientID, EntityID: row.EntityID, Currency: row.Currency}); err != nil {
		return nil, err
	}
	shown, err := store.PaymentByID(tx.DB, row.ID)
	if err != nil {
		return nil, err
	}
	return paymentView(shown), nil
}

// readPayment reads a typed payment and shares it over invoices.
func readPayment(tx *app.Tx, in TypedPayment) (*store.Payment, []put, error) {
	invoices, err := owedBy(tx, in)
	if err != nil {
		return nil, nil, err
	}
	account, err := accountFor(tx.DB, in.ClientID, in.EntityID, in.Currency, invoices)
	if err != nil {
		return nil, nil, err
	}
	row, err := paymentOf(tx, account, in.Day, in.Amount, in.Method)
	if err != nil {
		return nil, nil, err
	}
	row.Purpose, row.Reference, row.Note = store.ForInvoices, strings.TrimSpace(in.Reference), strings.TrimSpace(in.Note)
	puts, err := share(tx, row, in, invoices)
	return row, puts, err
}

// owedBy are the invoices that a payment can be put on: those named, or all that
// the client owes on.
func owedBy(tx *app.Tx, in TypedPayment) ([]store.Invoice, error) {
	if len(in.On) == 0 {
		return store.OpenInvoices(tx.DB, in.ClientID)
	}
	all, err := owedOrLost(tx.DB, in.ClientID)
	if err != nil {
		return nil, err
	}
	named := []store.Invoice{}
	for _, on := range in.On {
		at := slices.IndexFunc(all, func(i store.Invoice) bool { return i.ID == on.InvoiceID })
		if at < 0 {
			return nil, app.Refuse(app.Conflict, "Nothing is owed any more on an invoice that was chosen, or it is another client's: "+
				"load the page again.")
		}
		named = append(named, all[at])
	}
	return named, nil
}

// owedOrLost are the invoices of a client that somebody can say a payment is for: those on which something is owed, and those of which something
// was written off.
func owedOrLost(tx *store.DB, clientID int64) ([]store.Invoice, error) {
	all, err := store.OpenInvoices(tx, clientID)
	if err != nil {
		return nil, err
	}
	lost, err := store.LostInvoices(tx, clientID)
	return append(all, slices.DeleteFunc(lost, func(i store.Invoice) bool { return i.Open != 0 })...), err
}

// accountFor is where money of a client goes: nothing is combined across issuing
// entities and currencies.
func accountFor(tx *store.DB, clientID, entityID int64, currency money.Currency, invoices []store.Invoice) (store.Account, error) {
	client, err := store.Get[store.Client](tx, clientID)
	if err != nil {
		return store.Account{}, app.Missing(err, "client")
	}
	account := store.Account{ClientID: clientID, EntityID: entityID, Currency: currency}
	if account.EntityID == 0 && len(invoices) > 0 {
		account.EntityID = invoices[0].EntityID
	}
	if account.Currency == "" && len(invoices) > 0 {
		account.Currency = invoices[0].Currency
	}
	if account.Currency == "" {
		account.Currency = client.Currency
	}
	if account.EntityID == 0 {
		if account.EntityID, err = store.EntityOf(tx, clientID); err != nil {
			return account, err
		}
	}
	if _, err := store.Get[store.IssuingEntity](tx, account.EntityID); err != nil {
		return account, app.Missing(err, "issuing entity")
	}
	_, err = account.Currency.Decimals()
	return account, app.InField("currency", err)
}

// paymentOf reads the amount and day of money that came or goes.
func paymentOf(tx *app.Tx, account store.Account, on day.Day, typed, method string) (*store.Payment, error) {
	firm, err := store.TheFirm(tx.DB)
	if err != nil {
		return nil, err
	}
	switch {
	case on.IsZero():
		return nil, app.RefuseField("day", "Say on which day the money moved, like 2026-11-30.")
	case on > tx.Today:
		return nil, app.RefuseField("day", "%s is still to come: give the day on which the money moved.", on.Long())
	case on <= firm.ClosingDay:
		return nil, app.RefuseField("day", "The period up to %s is closed: give a later day.", firm.ClosingDay.Long())
	}
	row := &store.Payment{EntityID: account.EntityID, ClientID: account.ClientID, Currency: account.Currency, Day: on, Method: method,
		PersonID: &tx.Actor.PersonID}
	if row.Amount, err = setup.MinorUnits(tx.DB, typed, account.Currency); err != nil {
		return nil, app.InField("amount", err)
	}
	if row.Amount <= 0 {
		return nil, app.RefuseField("amount", "Give an amount more than zero.")
	}
	row.ExchangeRate, row.ExchangeSource, err = setup.Exchange(tx.DB, firm, account.Currency, on)
	return row, err
}

// share divides a payment over invoices, as typed, or over the oldest instalments.
func share(tx *app.Tx, row *store.Payment, in TypedPayment, invoices []store.Invoice) ([]put, error) {
	invoices = slices.DeleteFunc(invoices, func(i store.Invoice) bool { return i.EntityID != row.EntityID || i.Currency != row.Currency })
	if len(in.On) > 0 && len(invoices) < len(in.On) {
		return nil, app.Refuse(app.Invalid, "One payment can't be put on invoices of two issuing entities or currencies: record it as two.")
	}
	if len(in.On) == 0 {
		return oldestFirst(tx, row.Amount, invoices)
	}
	puts, parts, left := []put{}, []money.Amount{}, row.Amount
	for i, on := range in.On {
		minor := min(invoices[i].Payable(), max(left, 0))
		if on.Amount != "" {
			var err error
			if minor, err = setup.MinorUnits(tx.DB, on.Amount, row.Currency); err != nil {
				return nil, app.InField("on", err)
			}
		}
		if minor > invoices[i].Payable() {
			return nil, app.RefuseField("on", "%s is owed on %s: put at most that on it.", amount(row, invoices[i].Payable()),
				invoices[i].NumberText)
		}
		left -= minor
		parts = append(parts, amount(row, minor))
		if minor != 0 {
			puts = append(puts, put{&invoices[i], minor})
		}
	}
	_, err := core.Rest(amount(row, row.Amount), parts)
	return puts, app.InField("on", err)
}

// oldestFirst shares an amount over the instalments of invoices, the oldest due first,
// and gives what each invoice gets of it.
func oldestFirst(tx *app.Tx, minor int64, invoices []store.Invoice) ([]put, error) {
	open := opened{}
	if err := open.read(tx.DB, invoices); err != nil {
		return nil, err
	}
	return open.share(minor, invoices), nil
}

// opened is what is open of the instalments of invoices, by invoice: what is put on them
// is taken off.
type opened map[int64][]core.Open

// read adds invoices that are not there yet.
func (o opened) read(tx *store.DB, invoices []store.Invoice) error {
	for i := range invoices {
		inv := &invoices[i]
		if _, there := o[inv.ID]; there {
			continue
		}
		parts, err := store.InstalmentsOf(tx, inv.ID)
		if err != nil {
			return err
		}
		o[inv.ID] = []core.Open{}
		for _, part := range parts {
			one := core.Open{Due: part.DueDay, Owed: part.Open, Dated: inv.Dated}
			if inv.Number != nil {
				one.Number = *inv.Number
			}
			o[inv.ID] = append(o[inv.ID], one)
		}
	}
	return nil
}

// share puts an amount on invoices, the oldest instalment first.
func (o opened) share(minor int64, invoices []store.Invoice) []put {
	open, of := []core.Open{}, []int{}
	for i := range invoices {
		for _, part := range o[invoices[i].ID] {
			open, of = append(open, part), append(of, i)
		}
	}
	shares, _ := core.Allocate(minor, open)
	sums, at := make([]int64, len(invoices)), map[int]int{}
	for n, share := range shares {
		i := of[n]
		sums[i] += share
		o[invoices[i].ID][at[i]].Owed -= share
		at[i]++
	}
	puts := []put{}
	for i, sum := range sums {
		if sum > 0 {
			puts = append(puts, put{&invoices[i], sum})
		}
	}
	return puts
}

// post writes what of a payment goes to or from a bucket other than receivable, at
// the rate of its day.
func post(tx *app.Tx, row *store.Payment, kind, from, to string, minor int64) error {
	firm, err := store.TheFirm(tx.DB)
	if err != nil {
		return err
	}
	inFirm, err := amount(row, minor).Convert(row.ExchangeRate, firm.Currency)
	if err != nil {
		return err
	}
	tx.Post(store.MoneyMovement{Kind: kind, ClientID: row.ClientID, EntityID: row.EntityID, EffectiveDay: row.Day, FromBucket: from,
		ToBucket: to,
		Amount:   minor, Currency: row.Currency, FirmAmount: inFirm.Minor, PaymentID: &row.ID, FundsID: row.FundsID})
	return nil
}
