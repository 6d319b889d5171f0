package runs

import (
	"context"
	"slices"

	"dorvet/core/invoice"
	"dorvet/internal/app"
	"dorvet/internal/app/drafts"
	"dorvet/internal/store"
)

// Member is an engagement of a run, with the invoice of the run that it is on.
type Member struct {
	EngagementID int64         `json:"engagementId"`
	Engagement   string        `json:"engagement"`
	ClientID     int64         `json:"clientId"`
	Client       string        `json:"client"`
	InvoiceID    int64         `json:"invoiceId" doc:"0: nothing of it could be billed"`
	Number       string        `json:"number" doc:"nothing until it is issued"`
	State        invoice.State `json:"state"`
}

// TakeOutMember takes an engagement out of a run: what of it is on drafts is unbilled
// again, and a draft on which nothing is left goes.
func TakeOutMember(ctx context.Context, a *app.App, r app.Request, id, version, engagementID int64) error {
	_, err := app.Do(ctx, a, r, "take out of billing run", []int64{id, version, engagementID}, func(tx *app.Tx) (struct{}, error) {
		run, err := openRun(tx, id, version)
		if err != nil {
			return struct{}{}, err
		}
		e, err := store.Get[store.Engagement](tx.DB, engagementID)
		if err != nil {
			return struct{}{}, app.Missing(err, "engagement")
		}
		members, err := store.MemberRows(tx.DB, id)
		if err != nil {
			return struct{}{}, err
		}
		members = slices.DeleteFunc(members, func(m store.MemberRow) bool { return m.EngagementID != engagementID })
		for _, m := range members {
			if m.InvoiceID != 0 && !m.State.IsDraft() {
				return struct{}{}, app.Refuse(app.Conflict, "%s is issued as %s: reopen that first.", e.Name, m.NumberText)
			}
		}
		for _, m := range members {
			if m.InvoiceID == 0 {
				continue
			}
			if err := withoutEngagement(tx, m.InvoiceID, engagementID); err != nil {
				return struct{}{}, err
			}
		}
		tx.LinkTo("engagements", engagementID)
		tx.Describe(e.Name, nil, "Took %s out of the run “%s”", e.Name, run.Name)
		if err := store.DropMember(tx.DB, id, engagementID); err != nil {
			return struct{}{}, err
		}
		return struct{}{}, store.Save(tx.DB, run)
	})
	return err
}

// withoutEngagement takes an engagement off a draft, which goes if nothing is left on it.
func withoutEngagement(tx *app.Tx, draftID, engagementID int64) error {
	inv, err := store.Get[store.Invoice](tx.DB, draftID)
	if err != nil {
		return err
	}
	if err := drafts.TakeOutEngagement(tx, inv, engagementID); err != nil {
		return err
	}
	left, err := store.LinesOf(tx.DB, draftID)
	if err != nil {
		return err
	}
	if len(left) == 0 && inv.Number == nil {
		return throwAway(tx, inv)
	}
	if err := store.OffInvoice(tx.DB, draftID, engagementID); err != nil {
		return err
	}
	if err := drafts.ForgetApproval(tx, inv); err != nil {
		return err
	}
	tx.LinkTo(app.OfInvoice, inv.ID)
	firm, err := store.TheFirm(tx.DB)
	if err != nil {
		return err
	}
	return drafts.Recompute(tx, firm, inv)
}
