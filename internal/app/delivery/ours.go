package delivery

import (
	"context"
	"encoding/json"
	"errors"

	"dorvet/core/day"
	"dorvet/core/invoice"
	"dorvet/internal/app"
	"dorvet/internal/store"
)

// Known says of a file whether it was issued here: nothing is told but what stands on a document that was.
type Known struct {
	Answer  string  `json:"answer" enum:"ours,replaced,not_ours"`
	Firm    string  `json:"firm"`
	Number  string  `json:"number,omitempty"`
	Dated   day.Day `json:"dated,omitempty"`
	Amount  string  `json:"amount,omitempty" doc:"with its currency"`
	Payee   string  `json:"payee,omitempty"`
	Account string  `json:"account,omitempty" doc:"to which it is paid"`
	Open    bool    `json:"open,omitempty" doc:"something is still to be paid on it"`
}

// IsOurs tells of a file, by its digest, whether it is a document that was issued here. One that was replaced since is not to be paid.
func IsOurs(ctx context.Context, a *app.App, digest string) (*Known, error) {
	tx := a.Store.Read(ctx, store.Everything)
	firm, err := store.TheFirm(tx)
	if err != nil {
		return nil, err
	}
	known := &Known{Answer: "not_ours", Firm: firm.Name}
	revision, err := store.RevisionByDigest(tx, digest)
	if errors.Is(err, store.ErrNotFound) {
		return known, nil
	}
	if err != nil {
		return nil, err
	}
	doc := new(invoice.Document)
	if err := json.Unmarshal([]byte(revision.Content), doc); err != nil {
		return nil, err
	}
	inv, err := store.Get[store.Invoice](tx, revision.InvoiceID)
	if err != nil {
		return nil, err
	}
	known.Answer, known.Number, known.Dated, known.Amount = "ours", doc.Number, doc.Dated, doc.Words().Money(doc.Totals.Total)
	known.Payee, known.Account, known.Open = doc.Issuer.Name, doc.Bank.IBAN, inv.Open > 0
	if revision.Revision < inv.Revision || inv.State.IsDraft() || inv.Credited != 0 && inv.Open == 0 {
		known.Answer, known.Account, known.Open = "replaced", "", false
	}
	return known, nil
}
