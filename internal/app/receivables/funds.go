package receivables

import (
	"context"
	"strings"

	"dorvet/core/day"
	"dorvet/core/funds"
	"dorvet/core/money"
	"dorvet/internal/app"
	"dorvet/internal/app/billing"
	"dorvet/internal/store"
)

// TypedFunds is money received to be held for a client, as typed.
type TypedFunds struct {
	ClientID     int64          `json:"clientId"`
	EngagementID int64          `json:"engagementId" doc:"0: for the client as such"`
	EntityID     int64          `json:"entityId" doc:"0: that of the engagement, or the only one"`
	RequestID    int64          `json:"requestId" doc:"the deposit request that it answers, or 0"`
	Currency     money.Currency `json:"currency" maxLength:"3"`
	Day          day.Day        `json:"day" format:"date"`
	Amount       string         `json:"amount" maxLength:"30"`
	Method       string         `json:"method" enum:"transfer,cheque,cash,card,debit,other"`
	Reference    string         `json:"reference" maxLength:"100"`
}

// ReceiveFunds records money that is held for a client. Drafts that may use it do.
func ReceiveFunds(ctx context.Context, a *app.App, r app.Request, in TypedFunds) (*Payment, error) {
	return app.Do(ctx, a, r, "receive funds", in, func(tx *app.Tx) (*Payment, error) {
		if err := answer(tx, &in); err != nil {
			return nil, err
		}
		if in.EngagementID != 0 {
			e, err := store.Get[store.Engagement](tx.DB, in.EngagementID)
			if err != nil || e.ClientID != in.ClientID {
				return nil, app.RefuseField("engagementId", "This engagement is not the client's: choose another.")
			}
			in.EntityID, in.Currency = e.EntityID, e.Currency
		}
		account, err := accountFor(tx, in.ClientID, in.EntityID, in.Currency, nil)
		if err != nil {
			return nil, err
		}
		row, err := paymentOf(tx, account, in.Day, in.Amount, in.Method)
		if err != nil {
			return nil, err
		}
		purse, err := purseFor(tx, account, in.EngagementID)
		if err != nil {
			return nil, err
		}
		purse.Held += row.Amount
		row.Purpose, row.Reference, row.PurseID = store.ForFunds, strings.TrimSpace(in.Reference), &purse.ID
		if err := store.Save(tx.DB, purse); err != nil {
			return nil, err
		}
		if err := store.Insert(tx.DB, row); err != nil {
			return nil, err
		}
		if err := post(tx, row, "funds_in", app.Funds, app.Bank, row.Amount); err != nil {
			return nil, err
		}
		if err := received(tx, in.RequestID, row.Amount); err != nil {
			return nil, err
		}
		tx.Concerns("clients", row.ClientID)
		tx.Concerns(app.OfPayment, row.ID)
		tx.Tell(nil, amount(row, row.Amount).String(), "Received %s %s to be held", amount(row, row.Amount), row.Currency)
		return finished(tx, row)
	})
}

// answer fills in what a deposit request says, where money answers one.
func answer(tx *app.Tx, in *TypedFunds) error {
	if in.RequestID == 0 {
		return nil
	}
	request, err := store.Get[store.DepositRequest](tx.DB, in.RequestID)
	if err != nil || request.State == "withdrawn" {
		return app.Refuse(app.Conflict, "This deposit is not asked for any more: record the money without it.")
	}
	in.ClientID, in.EntityID, in.Currency = request.ClientID, request.EntityID, request.Currency
	if in.EngagementID = 0; request.EngagementID != nil {
		in.EngagementID = *request.EngagementID
	}
	return nil
}

// received notes that money answered a request.
func received(tx *app.Tx, requestID, minor int64) error {
	if requestID == 0 {
		return nil
	}
	request, err := store.Get[store.DepositRequest](tx.DB, requestID)
	if err != nil {
		return err
	}
	if request.Received += minor; request.Received >= request.Amount {
		request.State = "received"
	}
	return store.Save(tx.DB, request)
}

// purseFor is the purse of an account and engagement; it is made with its first
// money.
func purseFor(tx *app.Tx, account store.Account, engagementID int64) (*store.Purse, error) {
	purse, err := store.PurseFor(tx.DB, account, engagementID)
	if err != nil || purse != nil {
		return purse, err
	}
	purse = &store.Purse{EntityID: account.EntityID, ClientID: account.ClientID, Currency: account.Currency}
	if engagementID != 0 {
		purse.EngagementID = &engagementID
	}
	return purse, store.Insert(tx.DB, purse)
}

func purseAmount(p *store.PurseRow, minor int64) money.Amount {
	return money.Amount{Minor: minor, Currency: p.Currency}
}

func purseSeen(tx *app.Tx, id int64) (*store.PurseRow, error) {
	purse, err := store.PurseByID(tx.DB, id)
	if err == nil && !tx.Actor.Sight().SeesEntity(purse.EntityID) {
		err = store.ErrNotFound
	}
	return purse, app.Missing(err, "money held")
}

// Apply applies money that is held to an issued invoice: all that is owed and free,
// unless less is asked. It leaves a bank transfer to make.
func Apply(ctx context.Context, a *app.App, r app.Request, purseID, invoiceID int64, typed string) (*billing.Invoice, error) {
	return app.Do(ctx, a, r, "apply funds", []any{purseID, invoiceID, typed}, func(tx *app.Tx) (*billing.Invoice, error) {
		purse, err := purseSeen(tx, purseID)
		if err != nil {
			return nil, err
		}
		inv, err := ownOf(tx, invoiceID, purse)
		if err != nil {
			return nil, err
		}
		minor := min(inv.Open, purse.Held-purse.Reserved)
		if typed != "" {
			if minor, err = minorUnits(tx.DB, typed, purse.Currency); err != nil {
				return nil, app.InField("amount", err)
			}
		}
		if err := apply(tx, purse, inv, minor); err != nil {
			return nil, err
		}
		tx.Concerns("clients", purse.ClientID)
		tx.Tell(nil, inv.Amount(minor).String(), "Applied %s of funds held to %s", inv.Amount(minor), inv.NumberText)
		return billing.Shown(tx, inv.ID)
	})
}

// ownOf is an invoice of the client whose money a purse is.
func ownOf(tx *app.Tx, invoiceID int64, purse *store.PurseRow) (*store.Invoice, error) {
	inv, err := store.Get[store.Invoice](tx.DB, invoiceID)
	if err != nil {
		return nil, app.Missing(err, "invoice")
	}
	if inv.ClientID != purse.ClientID || inv.EntityID != purse.EntityID || inv.Currency != purse.Currency {
		return nil, app.Refuse(app.Invalid, "Money of one client, issuing entity and currency can't pay another's invoice.")
	}
	if purse.EngagementID == nil {
		return inv, nil
	}
	ids, err := store.EngagementsOf(tx.DB, inv.ID)
	for _, id := range ids {
		if id == *purse.EngagementID {
			return inv, err
		}
	}
	return nil, app.Refuse(app.Invalid, "This money is held for %s, which is not on %s: apply other money, or refund it first.", purse.Engagement, inv.NumberText)
}

func apply(tx *app.Tx, purse *store.PurseRow, inv *store.Invoice, minor int64) (err error) {
	if purse.Held, err = funds.Pay(funds.Held{Held: purse.Held, Reserved: purse.Reserved}, purseAmount(purse, minor)); err != nil {
		return app.InField("amount", err)
	}
	if err := store.Save(tx.DB, &purse.Purse); err != nil {
		return err
	}
	if err := billing.Settle(tx, inv, minor, billing.Settlement{Kind: "funds_applied", Bucket: app.Funds, Day: tx.Today, PurseID: &purse.ID}); err != nil {
		return err
	}
	return store.Insert(tx.DB, &store.Transfer{PurseID: purse.ID, InvoiceID: inv.ID, Day: tx.Today, Amount: minor})
}

// ApplyAll applies what is held for a client to everything that they owe, the
// oldest invoice first.
func ApplyAll(ctx context.Context, a *app.App, r app.Request, clientID int64) ([]Applied, error) {
	return app.Do(ctx, a, r, "apply all funds", clientID, func(tx *app.Tx) ([]Applied, error) {
		purses, err := store.Purses(tx.DB, tx.Actor.Sight(), clientID)
		if err != nil {
			return nil, err
		}
		done := []Applied{}
		for i := range purses {
			if err := applyPurse(tx, &purses[i], &done); err != nil {
				return nil, err
			}
		}
		if len(done) == 0 {
			return nil, app.Refuse(app.Conflict, "Nothing that is held and free can be put on what this client owes.")
		}
		tx.Concerns("clients", clientID)
		tx.Tell(nil, done, "Applied funds held to %d invoices", len(done))
		return done, nil
	})
}

// Applied is money that was put on an invoice.
type Applied struct {
	Number string       `json:"number"`
	Amount money.Amount `json:"amount"`
}

func applyPurse(tx *app.Tx, purse *store.PurseRow, done *[]Applied) error {
	invoices, err := store.OpenInvoices(tx.DB, purse.ClientID)
	if err != nil {
		return err
	}
	for i := range invoices {
		free := purse.Held - purse.Reserved
		if _, err := ownOf(tx, invoices[i].ID, purse); err != nil || free <= 0 {
			continue // of another entity, currency or engagement
		}
		minor := min(free, invoices[i].Open)
		if err := apply(tx, purse, &invoices[i], minor); err != nil {
			return err
		}
		*done = append(*done, Applied{invoices[i].NumberText, invoices[i].Amount(minor)})
	}
	return nil
}

// Refund pays money that is held back to the client.
func Refund(ctx context.Context, a *app.App, r app.Request, purseID int64, typed string, on day.Day) (*Payment, error) {
	return app.Do(ctx, a, r, "refund funds", []any{purseID, typed, on}, func(tx *app.Tx) (*Payment, error) {
		purse, err := purseSeen(tx, purseID)
		if err != nil {
			return nil, err
		}
		account := store.Account{ClientID: purse.ClientID, EntityID: purse.EntityID, Currency: purse.Currency}
		row, err := paymentOf(tx, account, on, typed, "transfer")
		if err != nil {
			return nil, err
		}
		if purse.Held, err = funds.Pay(funds.Held{Held: purse.Held, Reserved: purse.Reserved}, purseAmount(purse, row.Amount)); err != nil {
			return nil, app.InField("amount", err)
		}
		if err := store.Save(tx.DB, &purse.Purse); err != nil {
			return nil, err
		}
		return goOut(tx, row, store.RefundsOfFunds, app.Funds, &purse.ID)
	})
}

// goOut records money that goes back to a client.
func goOut(tx *app.Tx, row *store.Payment, purpose, bucket string, purseID *int64) (*Payment, error) {
	minor := row.Amount
	row.Amount, row.Purpose, row.PurseID = -minor, purpose, purseID
	if err := store.Insert(tx.DB, row); err != nil {
		return nil, err
	}
	if err := post(tx, row, "refunded", app.Bank, bucket, minor); err != nil {
		return nil, err
	}
	tx.Concerns("clients", row.ClientID)
	tx.Concerns(app.OfPayment, row.ID)
	tx.Tell(nil, amount(row, minor).String(), "Refunded %s %s", amount(row, minor), row.Currency)
	return finished(tx, row)
}

// Purse is money held for a client.
type Purse struct {
	ID         int64        `json:"id"`
	ClientID   int64        `json:"clientId"`
	Client     string       `json:"client"`
	Engagement string       `json:"engagement" doc:"nothing: for the client as such"`
	Held       money.Amount `json:"held"`
	Reserved   money.Amount `json:"reserved" doc:"by drafts"`
	Owed       money.Amount `json:"owed" doc:"by the client in this currency: what it could be applied to"`
}

// Purses lists money that is held; clientID 0 asks for all clients.
func Purses(ctx context.Context, a *app.App, actor app.Actor, clientID int64) ([]Purse, error) {
	tx := a.Store.Read(ctx)
	rows, err := store.Purses(tx, actor.Sight(), clientID)
	list := make([]Purse, 0, len(rows))
	for i := range rows {
		p := &rows[i]
		owed, err := store.OwedBefore(tx, store.Account{ClientID: p.ClientID, EntityID: p.EntityID, Currency: p.Currency}, 0)
		if err != nil {
			return nil, err
		}
		list = append(list, Purse{ID: p.ID, ClientID: p.ClientID, Client: p.Client, Engagement: p.Engagement, Held: purseAmount(p, p.Held), Reserved: purseAmount(p, p.Reserved), Owed: purseAmount(p, owed)})
	}
	return list, err
}

// movementWords say what a movement of a purse was.
var movementWords = map[string]string{"funds_in": "Received", "funds_applied": "Applied to", "refunded": "Refunded", "reversed": "Reversed", "reopened": "Given back by"}

// StatementOf is the statement of one purse.
func StatementOf(ctx context.Context, a *app.App, actor app.Actor, purseID int64) (*funds.Statement, error) {
	tx := a.Store.Read(ctx)
	purse, err := store.PurseByID(tx, purseID)
	if err == nil && !actor.Sight().SeesEntity(purse.EntityID) {
		err = store.ErrNotFound
	}
	if err != nil {
		return nil, app.Missing(err, "money held")
	}
	rows, err := store.MovementsOfPurse(tx, purseID)
	if err != nil {
		return nil, err
	}
	movements := make([]funds.Movement, 0, len(rows))
	for _, m := range rows {
		one := funds.Movement{Day: m.EffectiveDay, Text: strings.TrimSpace(movementWords[m.Kind] + " " + m.NumberText), Amount: money.Amount{Minor: m.Amount, Currency: m.Currency}}
		if m.ToBucket == app.Funds {
			one.Amount = one.Amount.Neg()
		}
		movements = append(movements, one)
	}
	statement, err := funds.State(money.Zero(purse.Currency), movements)
	return &statement, err
}

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
	rows, err := store.Transfers(a.Store.Read(ctx), actor.Sight(), done)
	list := make([]Transfer, 0, len(rows))
	for _, t := range rows {
		list = append(list, Transfer{t.ID, t.Client, t.NumberText, t.Day, money.Amount{Minor: t.Amount, Currency: t.Currency}, t.DoneDay})
	}
	return list, err
}

// MarkTransfers notes that transfers were made, or, taken back, that they were not.
func MarkTransfers(ctx context.Context, a *app.App, r app.Request, ids []int64, made bool) error {
	_, err := app.Do(ctx, a, r, "mark transfers", []any{ids, made}, func(tx *app.Tx) (struct{}, error) {
		sum := map[money.Currency]int64{}
		for _, id := range ids {
			t, err := store.Get[store.Transfer](tx.DB, id)
			if err != nil {
				return struct{}{}, app.Missing(err, "transfer")
			}
			purse, err := purseSeen(tx, t.PurseID)
			if err != nil {
				return struct{}{}, err
			}
			if t.DoneDay = 0; made {
				t.DoneDay = tx.Today
			}
			sum[purse.Currency] += t.Amount
			tx.Concerns("clients", purse.ClientID)
			if err := store.Save(tx.DB, t); err != nil {
				return struct{}{}, err
			}
		}
		tx.Tell(!made, made, "Marked %d transfers as %s", len(ids), map[bool]string{true: "made", false: "still to be made"}[made])
		return struct{}{}, nil
	})
	return err
}
