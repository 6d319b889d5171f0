package banking

import (
	"context"
	"slices"
	"strings"

	"dorvet/core/bank"
	"dorvet/core/money"
	"dorvet/internal/app"
	"dorvet/internal/app/receivables"
	"dorvet/internal/app/setup"
	"dorvet/internal/store"
)

// Taking says what an entry is. What is not put on invoices becomes credit of the client.
type Taking struct {
	Version      int64                     `json:"version"`
	As           string                    `json:"as" enum:"invoices,funds,met,returned,transfer,paid_back"`
	ClientID     int64                     `json:"clientId"`
	EngagementID int64                     `json:"engagementId" doc:"for which funds are held; 0: for the client as such"`
	On           []receivables.PaidInvoice `json:"on" maxItems:"500" doc:"none: all of it becomes credit"`
	PaymentID    int64                     `json:"paymentId" doc:"that was recorded before, or that came back"`
	RequestID    int64                     `json:"requestId" doc:"the deposit request that it answers, or 0"`
	TransferIDs  []int64                   `json:"transferIds" maxItems:"500"`
	PaidBackID   int64                     `json:"paidBackId,omitempty" doc:"what a person was paid back"`

	puts []receivables.ArrivedOn // in place of what is typed, where nobody types
}

// Take takes an entry for what somebody says that it is.
func Take(ctx context.Context, a *app.App, r app.Request, id int64, in Taking) (*BankEntry, error) {
	return app.Do(ctx, a, r, "take a bank entry", []any{id, in}, func(tx *app.Tx) (*BankEntry, error) {
		row, err := openEntry(tx, id, in.Version)
		if err != nil {
			return nil, err
		}
		if err := take(tx, row, &in); err != nil {
			return nil, err
		}
		return shown(tx, id)
	})
}

// openEntry is an entry that waits to be told what it is.
func openEntry(tx *app.Tx, id, version int64) (*store.BankEntry, error) {
	row, err := store.Get[store.BankEntry](tx.DB, id)
	switch {
	case err != nil:
		return nil, app.Missing(err, "entry")
	case row.State != store.EntryOpen:
		return nil, app.Refuse(app.Conflict, "This entry was taken already. Undo it first, if it is something else.")
	case row.Version != version:
		return nil, store.ErrStale
	}
	return row, nil
}

func shown(tx *app.Tx, id int64) (*BankEntry, error) {
	rows, err := store.BankEntries(tx.DB, store.EntryFilter{ID: id})
	if err != nil || len(rows) == 0 {
		return nil, app.Missing(err, "entry")
	}
	return newDesk(tx.DB).entry(&rows[0])
}

// take does what an entry is, keeps that it did, and learns the account.
func take(tx *app.Tx, row *store.BankEntry, in *Taking) error {
	does, ok := acts[in.As]
	if !ok {
		return app.RefuseField("as", "Say what the entry is.")
	}
	matches, err := does(tx, row, in)
	if err != nil {
		return err
	}
	for i := range matches {
		matches[i].EntryID, matches[i].EntityID = row.ID, row.EntityID
	}
	if err := store.Insert(tx.DB, matches); err != nil {
		return err
	}
	row.State, row.Aside = store.EntryTaken, ""
	tx.LinkTo("bank-accounts", row.AccountID)
	return store.Save(tx.DB, row)
}

// acts are what is done of an entry by what it is taken for; each says what it did.
var acts = map[string]func(*app.Tx, *store.BankEntry, *Taking) ([]store.BankMatch, error){
	AsInvoices: payInvoices, AsFunds: hold, AsMet: meet, AsReturned: sendBack, AsTransfer: markTransfers, AsPaidBack: meetPaidBack}

func amountOf(row *store.BankEntry) money.Amount {
	return money.Amount{Minor: row.Amount, Currency: row.Currency}
}

func payInvoices(tx *app.Tx, row *store.BankEntry, in *Taking) ([]store.BankMatch, error) {
	if row.Amount <= 0 {
		return nil, app.RefuseField("as", "It went out: it pays nothing.")
	}
	arrival := receivables.Arrival{Account: store.Account{ClientID: in.ClientID, EntityID: row.EntityID, Currency: row.Currency},
		Day: row.BookedDay, Minor: row.Amount, Reference: referenceOf(row)}
	if _, err := store.Get[store.Client](tx.DB, in.ClientID); err != nil {
		return nil, app.Missing(err, "client")
	}
	account, err := store.Get[store.BankAccount](tx.DB, row.AccountID)
	if err != nil {
		return nil, err
	}
	if account.ClientsMoney {
		return nil, app.RefuseField("as", "It is on the clients' account: hold it for them, then apply it, so that the transfer to the "+
			"firm's account is made.")
	}
	if arrival.On, err = in.arrivedOn(tx, row); err != nil {
		return nil, err
	}
	payment, err := receivables.ReceiveArrival(tx, arrival)
	if err != nil {
		return nil, err
	}
	return []store.BankMatch{{PaymentID: &payment.ID}}, learn(tx, row, in.ClientID)
}

// arrivedOn is what goes on which invoices, as typed.
func (in *Taking) arrivedOn(tx *app.Tx, row *store.BankEntry) ([]receivables.ArrivedOn, error) {
	puts := in.puts
	for _, on := range in.On {
		put := receivables.ArrivedOn{InvoiceID: on.InvoiceID}
		if strings.TrimSpace(on.Amount) != "" {
			var err error
			if put.Minor, err = setup.MinorUnits(tx.DB, on.Amount, row.Currency); err != nil {
				return nil, app.InField("on", err)
			}
			if put.Minor <= 0 {
				return nil, app.RefuseField("on", "Give an amount more than zero, or leave the invoice out.")
			}
		}
		puts = append(puts, put)
	}
	return puts, nil
}

// referenceOf is by what the payment is found again: our reference, else what the payer wrote, shortened.
func referenceOf(row *store.BankEntry) string {
	text := row.Creditor
	if text == "" {
		text = strings.TrimSpace(row.Text + " " + row.EndToEnd)
	}
	letters := []rune(text)
	return string(letters[:min(len(letters), 100)])
}

func learn(tx *app.Tx, row *store.BankEntry, clientID int64) error {
	if row.PartyAccount == "" {
		return nil
	}
	return store.LearnAccount(tx.DB, clientID, row.PartyAccount)
}

func hold(tx *app.Tx, row *store.BankEntry, in *Taking) ([]store.BankMatch, error) {
	if row.Amount <= 0 {
		return nil, app.RefuseField("as", "It went out: nothing of it can be held.")
	}
	payment, err := receivables.HoldFunds(tx, receivables.TypedFunds{ClientID: in.ClientID, EngagementID: in.EngagementID,
		EntityID: row.EntityID, RequestID: in.RequestID, Currency: row.Currency, Day: row.BookedDay, Minor: row.Amount,
		Method: "transfer", Reference: referenceOf(row)})
	if err != nil {
		return nil, err
	}
	held, err := store.Get[store.Payment](tx.DB, payment.ID)
	if err != nil {
		return nil, err
	}
	if held.Currency != row.Currency || held.EntityID != row.EntityID {
		return nil, app.Refuse(app.Conflict, "That is held in %s by another issuing entity, or in another currency than the entry's: choose "+
			"another engagement or request.", held.Currency)
	}
	return []store.BankMatch{{PaymentID: &payment.ID}}, learn(tx, row, payment.ClientID)
}

// meet takes an entry for a payment, or for money paid back, that was recorded before.
func meet(tx *app.Tx, row *store.BankEntry, in *Taking) ([]store.BankMatch, error) {
	unmatched, err := store.UnmatchedPayments(tx.DB, row.EntityID, row.Currency, row.BookedDay.AddDays(-lookBack))
	if err != nil {
		return nil, err
	}
	at := slices.IndexFunc(unmatched, func(p store.PaymentRow) bool { return p.ID == in.PaymentID })
	if at < 0 || unmatched[at].Amount != row.Amount {
		return nil, app.Refuse(app.Conflict, "This payment is another entry's by now, was reversed, or is not of %s: load the page again.",
			amountOf(row))
	}
	p := &unmatched[at]
	tx.LinkTo(app.OfPayment, p.ID)
	tx.LinkTo("clients", p.ClientID)
	tx.Describe(nil, amountOf(row).String(), "Found the payment of %s on the bank's statement", p.Day.Long())
	return []store.BankMatch{{PaymentID: &p.ID, Met: true}}, learn(tx, row, p.ClientID)
}

// sendBack reverses a payment that the bank sent back.
func sendBack(tx *app.Tx, row *store.BankEntry, in *Taking) ([]store.BankMatch, error) {
	p, err := store.PaymentByID(tx.DB, in.PaymentID)
	if err != nil {
		return nil, app.Missing(err, "payment")
	}
	if p.Amount != -row.Amount || p.EntityID != row.EntityID || p.Currency != row.Currency {
		return nil, app.Refuse(app.Conflict, "This payment is not of %s: choose another.", amountOf(row).Neg())
	}
	why := "the bank sent it back"
	if row.Reason != "" {
		why += ": " + row.Reason
	}
	back, err := receivables.SendBack(tx, p.ID, why)
	if err != nil {
		return nil, err
	}
	return []store.BankMatch{{PaymentID: &back.ID}}, nil
}

// TakenCertain says what was taken by itself.
type TakenCertain struct {
	Entries int    `json:"entries"`
	Said    string `json:"said"`
}

// TakeCertain takes all entries of an account, or of all (0), of which it is certain what they are.
func TakeCertain(ctx context.Context, a *app.App, r app.Request, accountID int64) (TakenCertain, error) {
	return app.Do(ctx, a, r, "take certain bank entries", accountID, func(tx *app.Tx) (TakenCertain, error) {
		taken, sums := 0, []money.Amount{}
		for {
			now, err := takeCertain(tx, accountID)
			if err != nil {
				return TakenCertain{}, err
			}
			if len(now) == 0 {
				break
			}
			taken += len(now)
			for _, amount := range now {
				if sums, err = money.AddByCurrency(sums, amount); err != nil {
					return TakenCertain{}, err
				}
			}
		}
		said := "Nothing here is certain: look at each."
		if taken > 0 {
			words := []string{}
			for _, sum := range sums {
				words = append(words, string(sum.Currency)+" "+sum.String())
			}
			said = "Took " + app.Counted(taken, "entry that is certain", "entries that are certain") + ": " + strings.Join(words, ", ")
		}
		tx.Describe(nil, nil, "%s", said)
		return TakenCertain{taken, said}, nil
	})
}

// takeCertain takes those that are certain, and gives their amounts. Of two that pay one invoice the second is looked at anew, once the
// first is paid.
func takeCertain(tx *app.Tx, accountID int64) (taken []money.Amount, err error) {
	rows, err := store.BankEntries(tx.DB, store.EntryFilter{AccountID: accountID, State: store.EntryOpen})
	if err != nil {
		return nil, err
	}
	d, paid := newDesk(tx.DB), map[int64]bool{}
	for i := range rows {
		e, err := d.entry(&rows[i])
		if err != nil {
			return nil, err
		}
		if len(e.Proposals) == 0 || e.Proposals[0].Sureness != bank.Certain ||
			slices.ContainsFunc(e.Proposals[0].On, func(on EntryPut) bool { return paid[on.InvoiceID] }) {
			continue
		}
		if err := take(tx, &rows[i].BankEntry, e.Proposals[0].taking(e.Version)); err != nil {
			return nil, err
		}
		for _, on := range e.Proposals[0].On {
			paid[on.InvoiceID] = true
		}
		taken = append(taken, e.Amount)
	}
	return taken, tx.FlushPostings()
}

// taking is a proposal, taken as it is.
func (p *EntryProposal) taking(version int64) *Taking {
	t := &Taking{Version: version, As: p.As, ClientID: p.ClientID, PaymentID: p.PaymentID, RequestID: p.RequestID, TransferIDs: p.TransferIDs,
		PaidBackID: p.PaidBackID}
	for _, on := range p.On {
		t.puts = append(t.puts, receivables.ArrivedOn{InvoiceID: on.InvoiceID, Minor: on.Amount.Minor})
	}
	return t
}

// SetAside says that an entry is nothing of clients: fees of the bank, wages, a mistake of somebody's.
func SetAside(ctx context.Context, a *app.App, r app.Request, id, version int64, as string) (*BankEntry, error) {
	return app.Do(ctx, a, r, "set a bank entry aside", []any{id, version, as}, func(tx *app.Tx) (*BankEntry, error) {
		row, err := openEntry(tx, id, version)
		if err != nil {
			return nil, err
		}
		if row.Aside = strings.TrimSpace(as); row.Aside == "" {
			return nil, app.RefuseField("as", "Say what it is, like fees of the bank: nothing of a statement is left over.")
		}
		row.State = store.EntryAside
		tx.LinkTo("bank-accounts", row.AccountID)
		tx.Describe(nil, row.Aside, "Set %s of %s aside: %s", amountOf(row), row.BookedDay.Long(), row.Aside)
		if err := store.Save(tx.DB, row); err != nil {
			return nil, err
		}
		return shown(tx, id)
	})
}

// Undo makes an entry open again, with all that it did: the payment that it made is reversed, one that it met stands as before.
func Undo(ctx context.Context, a *app.App, r app.Request, id, version int64) (*BankEntry, error) {
	return app.Do(ctx, a, r, "undo a bank entry", []any{id, version}, func(tx *app.Tx) (*BankEntry, error) {
		row, err := store.Get[store.BankEntry](tx.DB, id)
		switch {
		case err != nil:
			return nil, app.Missing(err, "entry")
		case row.Version != version:
			return nil, store.ErrStale
		case row.State == store.EntryOpen:
			return nil, app.Refuse(app.Conflict, "It is open: there is nothing to undo.")
		}
		matches, err := store.MatchesOf(tx.DB, id)
		if err != nil {
			return nil, err
		}
		if err := store.OpenEntry(tx.DB, row); err != nil {
			return nil, err
		}
		tx.LinkTo("bank-accounts", row.AccountID)
		tx.Describe(nil, nil, "Opened %s of %s on the bank's statement again", amountOf(row), row.BookedDay.Long())
		if err := unmake(tx, matches); err != nil {
			return nil, err
		}
		return shown(tx, id)
	})
}

// unmake takes back what an entry made.
func unmake(tx *app.Tx, matches []store.BankMatch) error {
	transfers := []int64{}
	for _, m := range matches {
		switch {
		case m.TransferID != nil:
			left, came, err := store.EntriesOfTransfer(tx.DB, *m.TransferID)
			if err != nil {
				return err
			}
			if !m.Met && !left && !came {
				transfers = append(transfers, *m.TransferID)
			}
		case m.Met:
		default:
			p, err := store.PaymentByID(tx.DB, *m.PaymentID)
			if err != nil {
				return err
			}
			if p.ReversesID != nil {
				return app.Refuse(app.Conflict, "A payment that came back can't be taken as if it had not: record it again, by hand.")
			}
			if _, err := receivables.Bounce(tx, p.ID, "the bank's entry was something else"); err != nil {
				return err
			}
		}
	}
	if len(transfers) == 0 {
		return nil
	}
	return receivables.MarkedTransfers(tx, transfers, false)
}
