package apptest

import (
	"context"
	"errors"
	"testing"

	"dorvet/internal/app"
	"dorvet/internal/app/drafts"
	"dorvet/internal/app/invoices"
	"dorvet/internal/app/registry"
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
