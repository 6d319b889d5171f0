package receivables

import (
	"context"
	"strings"

	"dorvet/core/day"
	"dorvet/core/invoice"
	"dorvet/core/money"
	"dorvet/internal/app"
	"dorvet/internal/app/drafts"
	"dorvet/internal/app/ledger"
	"dorvet/internal/app/papers"
	"dorvet/internal/app/setup"
	"dorvet/internal/store"
)

// GivingUp writes what is owed on an invoice off as bad debt.
type GivingUp struct {
	Day    day.Day `json:"day" format:"date"`
	Amount string  `json:"amount" maxLength:"30" doc:"nothing: all that is owed"`
	Reason string  `json:"reason" enum:"insolvent,unwilling,untraceable,too_small,goodwill,other"`
	Note   string  `json:"note" maxLength:"500"`
}

// reasonWords say why something is lost.
var reasonWords = map[string]string{store.LostInsolvent: "the client is insolvent", store.LostUnwilling: "the client will not pay",
	store.LostUntraceable: "the client can't be found", store.LostTooSmall: "too small to pursue", store.LostGoodwill: "goodwill",
	store.LostOther: "another reason"}

// WriteOff gives up what is owed on an invoice, with the tax in it. What comes after all is recovered: see [Receive].
func WriteOff(ctx context.Context, a *app.App, r app.Request, invoiceID int64, in GivingUp) (*drafts.Changed, error) {
	return app.Do(ctx, a, r, "write off", []any{invoiceID, in}, func(tx *app.Tx) (*drafts.Changed, error) {
		inv, err := store.Get[store.Invoice](tx.DB, invoiceID)
		if err != nil {
			return nil, app.Missing(err, "invoice")
		}
		minor, err := in.read(tx, inv)
		if err != nil {
			return nil, err
		}
		taxes, err := taxesOf(tx.DB, inv)
		if err != nil {
			return nil, err
		}
		tax, err := ledger.GiveUp(tx, inv, minor, taxes, in.Day)
		if err != nil {
			return nil, err
		}
		row := &store.WriteOff{InvoiceID: inv.ID, ClientID: inv.ClientID, EntityID: inv.EntityID, Day: in.Day, Net: minor - tax, Tax: tax,
			Currency: inv.Currency, Reason: in.Reason, Note: strings.TrimSpace(in.Note), PersonID: &tx.Actor.PersonID, ActID: tx.ActID}
		tx.LinkTo("clients", inv.ClientID)
		tx.Describe(inv.Amount(inv.Open+minor).String(), inv.Amount(inv.Open).String(), "Wrote off %s of %s, of which %s is tax: %s",
			inv.Amount(minor), inv.NumberText, inv.Amount(tax), said(row))
		if err := store.Insert(tx.DB, row); err != nil {
			return nil, err
		}
		return drafts.ChangedBy(tx, inv), nil
	})
}

func said(w *store.WriteOff) string {
	if w.Note == "" {
		return reasonWords[w.Reason]
	}
	return reasonWords[w.Reason] + ", " + w.Note
}

// read reads how much is written off, and refuses a day on which it can't be.
func (in *GivingUp) read(tx *app.Tx, inv *store.Invoice) (minor int64, err error) {
	firm, err := store.TheFirm(tx.DB)
	if err != nil {
		return 0, err
	}
	if in.Day.IsZero() {
		in.Day = tx.Today
	}
	minor = inv.Open
	if in.Amount != "" {
		if minor, err = setup.MinorUnits(tx.DB, in.Amount, inv.Currency); err != nil {
			return 0, app.InField("amount", err)
		}
	}
	switch {
	case !inv.State.IsIssued() || inv.Kind == invoice.CreditNote || inv.Open == 0:
		return 0, app.Refuse(app.Conflict, "Nothing is owed on this invoice: there is nothing to write off.")
	case in.Day > tx.Today:
		return 0, app.RefuseField("day", "%s is still to come: give today or a day before.", in.Day.Long())
	case in.Day < inv.Dated:
		return 0, app.RefuseField("day", "%s is dated %s: give that day or a later one.", inv.NumberText, inv.Dated.Long())
	case in.Day <= firm.ClosingDay:
		return 0, app.RefuseField("day", "The period up to %s is closed: give a later day.", firm.ClosingDay.Long())
	case minor <= 0 || minor > inv.Open:
		return 0, app.RefuseField("amount", "%s is owed on %s: give that or less.", inv.Amount(inv.Open), inv.NumberText)
	case reasonWords[in.Reason] == "":
		return 0, app.RefuseField("reason", "Say why: reports tell bad debt by its reason.")
	case in.Reason == store.LostOther && strings.TrimSpace(in.Note) == "":
		return 0, app.RefuseField("note", "Say in words what the other reason is.")
	}
	return minor, nil
}

// taxesOf is the tax of each code on an invoice; of one that was taken over, none is known.
func taxesOf(tx *store.DB, inv *store.Invoice) ([]int64, error) {
	taxes := []int64{}
	if inv.Kind != invoice.Ordinary {
		return taxes, nil
	}
	doc, err := papers.DocumentOf(tx, inv)
	if err != nil {
		return nil, err
	}
	for _, code := range doc.Totals.Taxes {
		for _, part := range code.Parts {
			taxes = append(taxes, part.Tax.Minor)
		}
	}
	return taxes, nil
}

// OweAgain takes what was written off of an invoice back, because it was given up too soon: it is owed again.
func OweAgain(ctx context.Context, a *app.App, r app.Request, invoiceID int64) (*drafts.Changed, error) {
	return app.Do(ctx, a, r, "owe again", invoiceID, func(tx *app.Tx) (*drafts.Changed, error) {
		inv, err := store.Get[store.Invoice](tx.DB, invoiceID)
		if err != nil {
			return nil, app.Missing(err, "invoice")
		}
		minor := inv.WrittenOff
		if minor == 0 {
			return nil, app.Refuse(app.Conflict, "Nothing of this invoice is written off any more.")
		}
		if err := reinstate(tx, inv, minor, ledger.OwedAgain, tx.Today, nil); err != nil {
			return nil, err
		}
		tx.LinkTo("clients", inv.ClientID)
		tx.Describe(nil, inv.Amount(inv.Open).String(), "Took the write-off of %s of %s back: it is owed again", inv.Amount(minor), inv.NumberText)
		return drafts.ChangedBy(tx, inv), nil
	})
}

func reinstate(tx *app.Tx, inv *store.Invoice, minor int64, kind string, on day.Day, paymentID *int64) error {
	taxes, err := taxesOf(tx.DB, inv)
	if err != nil {
		return err
	}
	return ledger.Reinstate(tx, inv, minor, taxes, kind, on, paymentID)
}

// comeAfterAll makes what was written off and came with a payment owed again, so that the payment settles it: what is owed otherwise comes first.
func comeAfterAll(tx *app.Tx, row *store.Payment, p put) error {
	late := p.minor - p.inv.Open
	if late <= 0 {
		return nil
	}
	tx.AddAside("Of it " + amount(row, late).String() + " had been written off of " + p.inv.NumberText)
	return reinstate(tx, p.inv, late, ledger.Recovered, row.Day, &row.ID)
}

// Lost is bad debt of an invoice, or what came of it after all.
type Lost struct {
	InvoiceID int64        `json:"invoiceId"`
	Number    string       `json:"number"`
	ClientID  int64        `json:"clientId"`
	Client    string       `json:"client"`
	Day       day.Day      `json:"day"`
	What      string       `json:"what" enum:"written_off,recovered,owed_again"`
	Reason    string       `json:"reason" enum:"insolvent,unwilling,untraceable,too_small,goodwill,other"`
	Said      string       `json:"said"`
	Net       money.Amount `json:"net" doc:"negative: it came after all, or is owed again"`
	Tax       money.Amount `json:"tax"`
	Gross     money.Amount `json:"gross"`
}

// BadDebt lists what was lost in a period, both days counted, and what came of it: as the ledger has it, the latest first.
func BadDebt(ctx context.Context, a *app.App, actor app.Actor, from, to day.Day) ([]Lost, error) {
	rows, err := store.LostBetween(a.Read(ctx, actor), from, to)
	list := make([]Lost, 0, len(rows))
	for i := range rows {
		row := &rows[i]
		amount := func(minor int64) money.Amount { return money.Amount{Minor: minor, Currency: row.Currency} }
		list = append(list, Lost{InvoiceID: row.InvoiceID, Number: row.NumberText, ClientID: row.ClientID, Client: row.Client, Day: row.Day,
			What: row.What, Reason: row.Reason, Said: said(&row.WriteOff), Net: amount(row.Net), Tax: amount(row.Tax),
			Gross: amount(row.Net + row.Tax)})
	}
	return list, err
}

// BadDebtTable is what [BadDebt] reads as a table.
func BadDebtTable(ctx context.Context, a *app.App, actor app.Actor, from, to day.Day) (header []string, rows [][]string, err error) {
	list, err := BadDebt(ctx, a, actor, from, to)
	for _, l := range list {
		rows = append(rows, []string{l.Day.String(), l.Client, l.Number, lostWords[l.What], l.Said, string(l.Net.Currency), l.Net.Typed(),
			l.Tax.Typed(), l.Gross.Typed()})
	}
	return []string{"Day", "Client", "Invoice", "What", "Reason", "Currency", "Net", "Tax", "Gross"}, rows, err
}

var lostWords = map[string]string{ledger.WrittenOff: "written off", ledger.Recovered: "recovered", ledger.OwedAgain: "owed again"}
