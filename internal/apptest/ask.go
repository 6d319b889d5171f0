package apptest

import (
	"context"
	"errors"
	"testing"

	"dorvet/internal/app"
	"dorvet/internal/app/correspondence"
	"dorvet/internal/app/delivery"
	"dorvet/internal/app/drafts"
	"dorvet/internal/app/invoices"
	"dorvet/internal/app/issuing"
	"dorvet/internal/app/registry"
	"dorvet/internal/app/runs"
	"dorvet/internal/app/unbilled"
)

// Sheet reads a record as the administrator; what fails ends the test.
func Sheet(t *testing.T, a *app.App, kind string, id int64) *registry.Sheet {
	t.Helper()
	s, err := registry.Read(t.Context(), a, Admin.Actor, kind, id)
	if err != nil {
		t.Fatal(err)
	}
	return s
}

// RefusalOf is the refusal that an error is, or nil; a failure ends the test.
func RefusalOf(t *testing.T, err error) *app.Refusal {
	t.Helper()
	var refusal *app.Refusal
	if err != nil && !errors.As(err, &refusal) {
		t.Fatal(err)
	}
	return refusal
}

// Invoice reads the invoice that an act has changed, as the administrator:
//
//	inv, err := apptest.Invoice(t.Context(), a)(issuing.Issue(…))
func Invoice(ctx context.Context, a *app.App) func(*drafts.Changed, error) (*invoices.Invoice, error) {
	return func(done *drafts.Changed, err error) (*invoices.Invoice, error) {
		if err != nil {
			return nil, err
		}
		inv, err := invoices.One(ctx, a, Admin.Actor, done.ID)
		if err == nil {
			inv.ActID = done.ActID
		}
		return inv, err
	}
}

// Issued is an invoice over two hours of an engagement: 246.00 at Alder, 196.80 at Birch.
func Issued(t *testing.T, a *app.App, engagementID int64) *invoices.Invoice {
	t.Helper()
	Record(t, a, engagementID, "2026-11-30", "2:00")
	made, err := runs.MakeDrafts(t.Context(), a, Admin,
		unbilled.Selection{UpTo: Today, Dated: Today, EngagementIDs: []int64{engagementID}})
	must(t, err)
	inv, err := invoices.One(t.Context(), a, Admin.Actor, made[0].ID)
	must(t, err)
	inv, err = Invoice(t.Context(), a)(issuing.Issue(t.Context(), a, Admin, drafts.Edit{ID: inv.ID, Version: inv.Version}))
	must(t, err)
	return inv
}

// Sent hands an invoice over, and gives the secret of the link that its client's contact at Alder, Ann, got by mail.
func Sent(t *testing.T, a *app.App, mails *Letters, id int64) string {
	t.Helper()
	_, err := delivery.Send(t.Context(), a, Admin, id, delivery.Handover{})
	must(t, err)
	must(t, correspondence.Deliver(t.Context(), a))
	return mails.Find(t, "ann@alder.example", `/invoice#(\S+)`)
}
