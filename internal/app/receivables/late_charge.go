package receivables

import (
	"context"
	"slices"
	"strings"

	"dorvet/core/money"
	"dorvet/core/wording"
	"dorvet/internal/app"
	"dorvet/internal/app/drafts"
	"dorvet/internal/app/papers"
	"dorvet/internal/app/profiles"
	"dorvet/internal/store"
)

// ChargingLate says for which invoices paying late is charged, up to today.
type ChargingLate struct {
	InvoiceIDs []int64 `json:"invoiceIds" minItems:"1" maxItems:"2000"`
	Apart      bool    `json:"apart" doc:"drafts of their own are begun; else they come with the next invoice"`
}

// ChargedLate is what was charged.
type ChargedLate struct {
	Charges int     `json:"charges"`
	Drafts  []int64 `json:"drafts" doc:"that were begun"`
}

// ChargeLate makes charges of what paying late has come to: of the engagement of each invoice, not taxed as work.
func ChargeLate(ctx context.Context, a *app.App, r app.Request, in ChargingLate) (*ChargedLate, error) {
	return app.Do(ctx, a, r, "charge for paying late", in, func(tx *app.Tx) (*ChargedLate, error) {
		late, err := chosenLate(tx, in.InvoiceIDs)
		if err != nil {
			return nil, err
		}
		done := &ChargedLate{Charges: len(late), Drafts: []int64{}}
		charges := []store.Charge{}
		for i := range late {
			c, err := late[i].charge(tx)
			if err != nil {
				return nil, err
			}
			charges = append(charges, *c)
		}
		if in.Apart {
			if done.Drafts, err = billApart(tx, charges); err != nil {
				return nil, err
			}
		}
		tx.Describe(nil, nil, "Charged %s for being paid late: %s", app.Counted(len(late), "invoice", "invoices"), numbersOf(late))
		return done, nil
	})
}

// chosenLate are invoices of which something can be charged.
func chosenLate(tx *app.Tx, ids []int64) ([]lateInvoice, error) {
	clients := []int64{}
	for _, id := range ids {
		inv, err := store.Get[store.Invoice](tx.DB, id)
		if err != nil {
			return nil, app.Missing(err, "invoice")
		}
		clients = append(clients, inv.ClientID)
	}
	all, err := lateInvoices(tx.DB, clients, tx.Today)
	if err != nil {
		return nil, err
	}
	chosen := slices.DeleteFunc(all, func(l lateInvoice) bool { return !slices.Contains(ids, l.row.ID) })
	for i := range chosen {
		if chosen[i].view.Why != "" {
			return nil, app.Refuse(app.Conflict, "%s: %s", chosen[i].row.NumberText, chosen[i].view.Why)
		}
	}
	chosen = slices.DeleteFunc(chosen, func(l lateInvoice) bool { return l.view.Charge.Minor == 0 })
	if len(chosen) == 0 {
		return nil, app.Refuse(app.Conflict, "Nothing is to be charged for that any more: load the page again.")
	}
	return chosen, nil
}

func numbersOf(late []lateInvoice) string {
	said := []string{}
	for i := range late[:min(len(late), 20)] {
		said = append(said, late[i].row.NumberText+" "+late[i].view.Charge.String())
	}
	if len(late) > 20 {
		said = append(said, "…")
	}
	return strings.Join(said, ", ")
}

// charge makes the charge of an invoice, and keeps how it came about.
func (l *lateInvoice) charge(tx *app.Tx) (*store.Charge, error) {
	inv := &l.row.Invoice
	engagement, err := l.engagement(tx)
	if err != nil {
		return nil, err
	}
	p, err := profiles.ProfileOf(tx.DB, engagement)
	if err != nil {
		return nil, err
	}
	w, err := papers.WordsOf(tx.DB, inv)
	if err != nil {
		return nil, err
	}
	c := &store.Charge{EngagementID: engagement.ID, Kind: "fixed", Text: w.Say(wording.LatePaid, "number", inv.NumberText, "day", w.Day(tx.Today)),
		Amount: l.view.Charge.Minor, Currency: inv.Currency, BillDay: tx.Today, State: "planned", LateID: &inv.ID}
	if engagement.ClientID != inv.ClientID {
		c.PayerID = &inv.ClientID
	}
	if c.TaxCodeID, err = profiles.TaxCode(tx.DB, p, profiles.LateCharges); err != nil {
		return nil, err
	}
	if err := store.Insert(tx.DB, c); err != nil {
		return nil, err
	}
	tx.LinkTo("engagements", engagement.ID)
	return c, l.keep(tx, &c.ID, "")
}

// engagement is that of an invoice on which its late charges stand: the first.
func (l *lateInvoice) engagement(tx *app.Tx) (*store.Engagement, error) {
	ids, err := store.EngagementsOf(tx.DB, l.row.ID)
	if err := app.Unless(err, app.Refuse(app.Conflict, "%s is of no engagement on which a late charge could stand.", l.row.NumberText),
		func() bool { return len(ids) > 0 }); err != nil {
		return nil, err
	}
	return store.Get[store.Engagement](tx.DB, slices.Min(ids))
}

func (l *lateInvoice) keep(tx *app.Tx, chargeID *int64, waived string) error {
	steps, err := asJSON(l.view.Explanation)
	if err != nil {
		return err
	}
	inv := &l.row.Invoice
	tx.LinkTo("clients", inv.ClientID)
	tx.LinkTo(app.OfInvoice, inv.ID)
	return store.Insert(tx.DB, &store.LateCharge{InvoiceID: inv.ID, ClientID: inv.ClientID, EntityID: inv.EntityID, Day: tx.Today,
		Amount: l.view.Charge.Minor, Currency: inv.Currency, Steps: steps, ChargeID: chargeID, Waived: waived, ActID: tx.ActID})
}

// billApart begins a draft for the charges of each engagement.
func billApart(tx *app.Tx, charges []store.Charge) ([]int64, error) {
	made := []int64{}
	slices.SortStableFunc(charges, func(a, b store.Charge) int { return int(a.EngagementID - b.EngagementID) })
	for len(charges) > 0 {
		n := slices.IndexFunc(charges, func(c store.Charge) bool { return c.EngagementID != charges[0].EngagementID })
		if n < 0 {
			n = len(charges)
		}
		inv, err := drafts.BillApart(tx, charges[0].EngagementID, charges[:n])
		if err != nil {
			return nil, err
		}
		made, charges = append(made, inv.ID), charges[n:]
	}
	return made, nil
}

// WaivingLate gives up what paying late has come to, of invoices up to today, or what was charged for it and is not billed yet.
type WaivingLate struct {
	InvoiceIDs []int64 `json:"invoiceIds" maxItems:"2000"`
	ChargedID  int64   `json:"chargedId" doc:"a charge that was made; 0: none"`
	Reason     string  `json:"reason" maxLength:"500"`
}

// WaiveLate gives charges for paying late up, with a reason: they are not charged again.
func WaiveLate(ctx context.Context, a *app.App, r app.Request, in WaivingLate) error {
	_, err := app.Do(ctx, a, r, "waive late charges", in, func(tx *app.Tx) (struct{}, error) {
		reason := strings.TrimSpace(in.Reason)
		if reason == "" {
			return struct{}{}, app.RefuseField("reason", "Say why: it stands in the history.")
		}
		if in.ChargedID != 0 {
			return struct{}{}, waiveCharged(tx, in.ChargedID, reason)
		}
		late, err := chosenLate(tx, in.InvoiceIDs)
		if err != nil {
			return struct{}{}, err
		}
		for i := range late {
			if err := late[i].keep(tx, nil, reason); err != nil {
				return struct{}{}, err
			}
		}
		tx.Describe(nil, nil, "Waived late charges of %s, %s: %s", app.Counted(len(late), "invoice", "invoices"), numbersOf(late), reason)
		return struct{}{}, nil
	})
	return err
}

// waiveCharged takes a charge that is planned away.
func waiveCharged(tx *app.Tx, id int64, reason string) error {
	row, err := store.Get[store.LateCharge](tx.DB, id)
	if err != nil {
		return app.Missing(err, "late charge")
	}
	if row.Waived != "" || row.ChargeID == nil {
		return app.Refuse(app.Conflict, "It was waived already.")
	}
	waived, err := store.WaiveCharge(tx.DB, *row.ChargeID)
	if err := app.Unless(err, app.Refuse(app.Conflict, "It is on a bill already: take it off the draft first, or credit its line."),
		func() bool { return waived }); err != nil {
		return err
	}
	row.Waived = reason
	tx.LinkTo("clients", row.ClientID)
	tx.LinkTo(app.OfInvoice, row.InvoiceID)
	tx.Describe(money.Amount{Minor: row.Amount, Currency: row.Currency}.String(), nil, "Waived the charge of %s for paying late: %s",
		money.Amount{Minor: row.Amount, Currency: row.Currency}, reason)
	return store.Save(tx.DB, row)
}
