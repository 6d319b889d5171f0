package receivables

import (
	"context"
	"strings"

	"dorvet/core/day"
	"dorvet/core/invoice"
	"dorvet/core/money"
	"dorvet/core/profile"
	"dorvet/core/schedule"
	"dorvet/internal/app"
	"dorvet/internal/app/drafts"
	"dorvet/internal/app/profiles"
	"dorvet/internal/app/setup"
	"dorvet/internal/store"
)

// TypedOpening is an old invoice of a client who was taken over with money owed.
type TypedOpening struct {
	ClientID     int64          `json:"clientId"`
	EngagementID int64          `json:"engagementId,omitempty" doc:"what it was for; 0: not said"`
	EntityID     int64          `json:"entityId" doc:"0: that of the engagement, the client's usual, or the only one"`
	Number       string         `json:"number" maxLength:"40" doc:"its old number"`
	Dated        day.Day        `json:"dated" format:"date"`
	Due          day.Day        `json:"due,omitempty" format:"date" doc:"nothing: by the client's terms"`
	Balance      string         `json:"balance" maxLength:"30" doc:"what is still owed, gross"`
	Currency     money.Currency `json:"currency" maxLength:"3" doc:"nothing: the client's"`
}

// EnterOpening takes an old invoice over: it is paid and aged like any other.
func EnterOpening(ctx context.Context, a *app.App, r app.Request, in TypedOpening) (*drafts.Changed, error) {
	return app.Do(ctx, a, r, "enter opening balance", in, func(tx *app.Tx) (*drafts.Changed, error) {
		id, err := takeOver(tx, in)
		if err != nil {
			return nil, err
		}
		return &drafts.Changed{ID: id, ActID: tx.ActID}, nil
	})
}

// takeOver enters an old invoice, inside an act.
func takeOver(tx *app.Tx, in TypedOpening) (int64, error) {
	inv, err := readOpening(tx, in)
	if err != nil {
		return 0, err
	}
	if err := store.Insert(tx.DB, inv); err != nil {
		return 0, err
	}
	if in.EngagementID != 0 {
		tx.LinkTo("engagements", in.EngagementID)
		if err := store.NameEngagement(tx.DB, inv.ID, in.EngagementID); err != nil {
			return 0, err
		}
	}
	part := store.Instalment{InvoiceID: inv.ID, Revision: inv.Revision, Position: 1, DueDay: inv.DueDay, Amount: inv.Due, Open: inv.Due,
		Currency: inv.Currency}
	if err := store.Insert(tx.DB, &part); err != nil {
		return 0, err
	}
	m := store.MoneyMovement{Kind: "opening_balance", InvoiceID: &inv.ID, ClientID: inv.ClientID, EntityID: inv.EntityID,
		EffectiveDay: inv.Dated, FromBucket: app.OldBalance, ToBucket: app.Issued,
		Amount: inv.Due, Currency: inv.Currency, FirmAmount: inv.TotalFirm}
	tx.Post(m)
	m.Kind, m.FromBucket, m.ToBucket, m.InstalmentID = "instalment", app.Issued, app.Receivable, &part.ID
	tx.Post(m)
	tx.LinkTo("clients", inv.ClientID)
	tx.LinkTo(app.OfInvoice, inv.ID)
	tx.Describe(nil, inv.Amount(inv.Due).String(), "Took over %s of %s, on which %s is owed", inv.NumberText, inv.Dated.Long(),
		inv.Amount(inv.Due))
	return inv.ID, nil
}

func readOpening(tx *app.Tx, in TypedOpening) (*store.Invoice, error) {
	if in.EngagementID != 0 {
		e, err := store.Get[store.Engagement](tx.DB, in.EngagementID)
		if err := app.Unless(err, app.RefuseField("engagementId", "This engagement is not the client's: choose another."),
			func() bool { return e.ClientID == in.ClientID }); err != nil {
			return nil, err
		}
		if in.EntityID == 0 {
			in.EntityID = e.EntityID
		}
		if in.Currency == "" {
			in.Currency = e.Currency
		}
	}
	account, err := accountFor(tx.DB, in.ClientID, in.EntityID, in.Currency, nil)
	if err != nil {
		return nil, err
	}
	inv := &store.Invoice{Kind: invoice.Opening, EntityID: account.EntityID, ClientID: account.ClientID, Currency: account.Currency,
		NumberText: strings.TrimSpace(in.Number),
		State:      invoice.Issued, Revision: 1, Dated: in.Dated, UpToDay: in.Dated, TaxDay: in.Dated, DueDay: in.Due,
		Choices: profile.BillingTerms{}}
	known, err := store.HasNumber(tx.DB, inv.ClientID, inv.NumberText)
	switch {
	case err != nil:
		return nil, err
	case inv.NumberText == "":
		return nil, app.RefuseField("number", "Give the old invoice its number, so that the client knows which it is.")
	case known:
		return nil, app.RefuseField("number", "The client has an invoice %s already: it can't be taken over twice.", inv.NumberText)
	case in.Dated.IsZero() || in.Dated > tx.Today:
		return nil, app.RefuseField("dated", "Give the date of the old invoice, today or before.")
	}
	if inv.Due, err = setup.MinorUnits(tx.DB, in.Balance, inv.Currency); err != nil {
		return nil, app.InField("balance", err)
	}
	if inv.Due <= 0 {
		return nil, app.RefuseField("balance", "Give what is still owed, more than zero. What the client has to good is "+
			"recorded as a payment.")
	}
	inv.Net, inv.Total, inv.Open = inv.Due, inv.Due, inv.Due
	return inv, dueAndRate(tx, inv)
}

// dueAndRate gives an old invoice its due day, series and value in the firm's
// currency.
func dueAndRate(tx *app.Tx, inv *store.Invoice) error {
	p, err := profiles.Profile(tx.DB, inv.ClientID, 0)
	if err != nil {
		return err
	}
	inv.Terms = p.Text("terms")
	if inv.DueDay.IsZero() {
		terms, err := schedule.ParseTerms(inv.Terms)
		if err != nil {
			return err
		}
		inv.DueDay = terms.Due(inv.Dated)
	}
	if inv.DueDay < inv.Dated {
		return app.RefuseField("due", "%s is before the invoice: give a later due day.", inv.DueDay.Long())
	}
	inv.SeriesID, err = store.FirstSeries(tx.DB, inv.EntityID)
	if err := app.Found(err, app.Refuse(app.Conflict,
		"The issuing entity has no series of invoice numbers: give it one under Set-up.")); err != nil {
		return err
	}
	firm, err := store.TheFirm(tx.DB)
	if err != nil {
		return err
	}
	if inv.ExchangeRate, inv.ExchangeSource, err = setup.Exchange(tx.DB, firm, inv.Currency, inv.Dated); err != nil {
		return err
	}
	inFirm, err := inv.Amount(inv.Due).Convert(inv.ExchangeRate, firm.Currency)
	inv.NetFirm, inv.TotalFirm = inFirm.Minor, inFirm.Minor
	return err
}
