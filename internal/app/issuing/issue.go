// Package issuing is how a draft becomes an invoice, and what can happen to it then: checks
// before issue, approval by the leads, the number and the frozen document, reopening, credit
// notes, disputes.
//
// A number is given in the act that freezes the document and posts what is owed, or not at
// all: numbers have no gaps, and dates follow them.
package issuing

import (
	"context"
	"encoding/json"
	"fmt"

	"dorvet/core/delivery"
	"dorvet/core/invoice"
	core "dorvet/core/wip"
	"dorvet/internal/app"
	"dorvet/internal/app/drafts"
	"dorvet/internal/app/ledger"
	"dorvet/internal/app/papers"
	"dorvet/internal/app/setup"
	"dorvet/internal/app/timekeeping"
	"dorvet/internal/store"
)

// Issue gives a draft its number, freezes it with its document, and makes it
// owed; its entries are billed from then on. All of it, or nothing.
func Issue(ctx context.Context, a *app.App, r app.Request, e drafts.Edit) (*drafts.Changed, error) {
	return issue(ctx, a, r, e, nil)
}

// issue issues a draft, which may have been looked at.
func issue(ctx context.Context, a *app.App, r app.Request, e drafts.Edit, seen *prefetched) (*drafts.Changed, error) {
	clientID := int64(0)
	done, err := app.Do(ctx, a, r, "issue invoice", e, func(tx *app.Tx) (*drafts.Changed, error) {
		inv, err := issueWithin(tx, a, e, seen)
		if err != nil {
			return nil, err
		}
		clientID = inv.ClientID
		return drafts.ChangedBy(tx, inv), nil
	})
	if err == nil {
		seen.noteIssued(done.ActID, clientID)
	}
	return done, err
}

// IssueWithin issues a draft within an act that does more.
func IssueWithin(tx *app.Tx, a *app.App, e drafts.Edit) (*store.Invoice, error) {
	return issueWithin(tx, a, e, nil)
}

func issueWithin(tx *app.Tx, a *app.App, e drafts.Edit, seen *prefetched) (*store.Invoice, error) {
	inv, err := drafts.Step(tx, e, invoice.Issue)
	if err != nil {
		return nil, err
	}
	return inv, postIssue(tx, a, inv, seen)
}

// postIssue issues an invoice, inside its act.
func postIssue(tx *app.Tx, a *app.App, inv *store.Invoice, seen *prefetched) error {
	firm, err := store.TheFirm(tx.DB)
	if err != nil {
		return err
	}
	on, err := seen.content(tx, a, inv) // asked while it is kept as the draft that it was
	if err != nil {
		return err
	}
	if err := bringUp(tx, firm, inv, on); err != nil {
		return err
	}
	if err := issuable(tx, firm, inv, on); err != nil {
		return err
	}
	if err := number(tx, inv); err != nil {
		return fmt.Errorf("number an invoice: %w", err)
	}
	totals, err := freeze(tx, a, inv, on, seen)
	if err != nil {
		return fmt.Errorf("freeze invoice %s: %w", inv.NumberText, err)
	}
	if err := bill(tx, inv, on.Portions); err != nil {
		return err
	}
	parts, err := papers.Instalments(tx.DB, inv, totals.Due)
	if err != nil {
		return app.AsConflict(err)
	}
	if err := ledger.PostIssue(tx, inv, totals, on.Advances(), parts); err != nil {
		return err
	}
	tx.Describe(nil, map[string]any{"number": inv.NumberText, "net": totals.Net.String(), "tax": totals.Tax.String(),
		"total": totals.Total.String()},
		"Issued %s over %s %s", inv.NumberText, totals.Total, inv.Currency)
	return alert(tx, inv)
}

// bringUp recomputes a draft whose figures are not those that were saved: a tax rate
// or an exchange rate may have been set since.
func bringUp(tx *app.Tx, firm *store.Firm, inv *store.Invoice, on *papers.Content) error {
	now, err := on.Totals(inv)
	if err == nil && inv.Currency == firm.Currency && now.Net.Minor == inv.Net && now.Tax.Minor == inv.Tax &&
		now.Total.Minor == inv.Total &&
		now.Due.Minor == inv.Due {
		return nil
	}
	on.Drawn = nil
	return drafts.Recompute(tx, firm, inv)
}

// alert tells of budgets of what is invoiced that have reached a share.
func alert(tx *app.Tx, inv *store.Invoice) error {
	if err := store.Save(tx.DB, inv); err != nil { // so that it counts as issued
		return err
	}
	engagements, err := store.EngagementsOf(tx.DB, inv.ID)
	for _, id := range engagements {
		if err := setup.AlertBudgets(tx, id, inv.Dated); err != nil {
			return err
		}
	}
	return err
}

// issuable refuses what would break a rule of the register.
func issuable(tx *app.Tx, firm *store.Firm, inv *store.Invoice, on *papers.Content) error {
	if len(on.Lines) == 0 {
		return app.Refuse(app.Conflict, "This draft has no lines: put something on, or delete it.")
	}
	for _, l := range on.Lines {
		if !l.Confirmed {
			return app.Refuse(app.Conflict, "The price of “%s” was left open until it is billed: give it first.", l.Text)
		}
	}
	if inv.Total < 0 {
		return app.Refuse(app.Conflict, "An invoice can't be negative: make a credit note instead.")
	}
	if _, err := papers.Instalments(tx.DB, inv, inv.Amount(inv.Due)); err != nil {
		return app.AsConflict(err)
	}
	if inv.Dated <= firm.ClosingDay {
		return app.Refuse(app.Conflict, "The period up to %s is closed: date the invoice later.", firm.ClosingDay.Long())
	}
	return inOrder(tx, inv)
}

// inOrder refuses a date that would not follow the numbers of the series.
func inOrder(tx *app.Tx, inv *store.Invoice) error {
	number := int64(0)
	if inv.Number != nil {
		number = *inv.Number
	}
	before, after, err := store.NeighbourDates(tx.DB, inv.SeriesID, number)
	switch {
	case err != nil:
		return err
	case inv.Dated < before:
		return app.Refuse(app.Conflict, "The invoice before it is dated %s, and dates follow numbers: date this one %s or later.",
			before.Long(),
			before.Long())
	case !after.IsZero() && inv.Dated > after:
		return app.Refuse(app.Conflict, "The invoice after it is dated %s, and dates follow numbers: date this one %s or before.",
			after.Long(),
			after.Long())
	}
	return nil
}

// number gives the next number of the series; a number once given stays.
func number(tx *app.Tx, inv *store.Invoice) error {
	if inv.Number != nil {
		return nil
	}
	series, err := store.Get[store.Series](tx.DB, inv.SeriesID)
	if err != nil {
		return err
	}
	next := series.NextNumber
	inv.Number, inv.NumberText = &next, NumberText(series)
	series.NextNumber++
	return store.Save(tx.DB, series)
}

// NumberText is the next number of a series as it is printed.
func NumberText(series *store.Series) string {
	return fmt.Sprintf("%s%d", series.Prefix, series.NextNumber)
}

// freeze keeps the revision: what is printed, how it came about, and the file.
func freeze(tx *app.Tx, a *app.App, inv *store.Invoice, on *papers.Content, seen *prefetched) (invoice.Totals, error) {
	d, err := on.Draw(tx.DB, inv)
	if err != nil {
		return invoice.Totals{}, err
	}
	// A draft from before shares were kept gets them now.
	if err := store.SetShares(tx.DB, on.Lines, d.Totals.Shares); err != nil {
		return d.Totals, err
	}
	d.Doc.Number = inv.NumberText
	return d.Totals, keepRevision(tx, a, inv, d.Doc, d.Why, seen)
}

func keepRevision(tx *app.Tx, a *app.App, inv *store.Invoice, doc *invoice.Document, why []byte, seen *prefetched) error {
	content, err := json.Marshal(doc)
	if err != nil {
		return err
	}
	file, drawn := seen.file(content)
	if !drawn {
		if file, err = papers.Drawn(a, doc); err != nil {
			return err
		}
	}
	digest, err := a.Store.Keep(tx.DB, file, "application/pdf", tx.Now)
	if err != nil {
		return err
	}
	inv.Revision++
	inv.Handed, inv.HandedBefore = delivery.Nowhere, false
	return store.Insert(tx.DB, &store.InvoiceRevision{InvoiceID: inv.ID, Revision: inv.Revision, ActID: tx.ActID,
		Content: string(content), Explanation: string(why), Digest: digest, Drawing: a.Drawing})
}

// bill moves the work on an invoice out of work in progress.
func bill(tx *app.Tx, inv *store.Invoice, portions []store.PortionRow) (err error) {
	for i := range portions {
		p := &portions[i]
		from := p.Bucket()
		if p.Billing, err = p.Billing.After(core.Bill); err != nil {
			return app.AsConflict(err)
		}
		tx.Move("billed", inv.Dated, p.Portion, from, p.Bucket(), &inv.ID)
		drafts.Concerns(tx, p)
	}
	if err := store.DropIdle(tx.DB, inv.ID); err != nil {
		return err
	}
	if err := store.Billed(tx.DB, inv.ID, core.Billed); err != nil {
		return err
	}
	return timekeeping.ComeBack(tx, portions, inv.UpToDay)
}
