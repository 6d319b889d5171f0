package drafts

import (
	"context"
	"errors"
	"strings"

	"dorvet/internal/app"
	"dorvet/internal/app/profiles"
	"dorvet/internal/app/unbilled"
	"dorvet/internal/store"
)

// TaxTyped is another tax of some lines of a draft, and why.
type TaxTyped struct {
	LineIDs []int64 `json:"lineIds" minItems:"1" maxItems:"5000"`
	TaxCode string  `json:"taxCode" maxLength:"20"`
	Reason  string  `json:"reason" maxLength:"500"`
}

// SetTax gives lines of a draft another tax, whatever they bill, and says why. That it is
// not the one that was agreed is settled by it.
func SetTax(ctx context.Context, a *app.App, r app.Request, e Edit, in TaxTyped) (*Changed, error) {
	r.Reason = strings.TrimSpace(in.Reason)
	return Change(ctx, a, r, "change the tax", e, in, func(tx *app.Tx, inv *store.Invoice) error {
		if r.Reason == "" {
			return app.RefuseField("reason", "Say why: another tax than agreed is asked about later.")
		}
		code, err := store.TaxCodeByKey(tx.DB, in.TaxCode)
		if err := app.Found(err, app.RefuseField("taxCode", "There is no tax code %q: choose one of the firm's.", in.TaxCode)); err != nil {
			return err
		}
		for _, id := range in.LineIDs {
			line, err := lineOn(tx, inv, id)
			if err != nil {
				return err
			}
			line.TaxCodeID = code
			if err := store.Save(tx.DB, line); err != nil {
				return err
			}
			if err := store.Waive(tx.DB, store.FindingWaiver{InvoiceID: inv.ID, Code: OtherTax, SubjectID: line.EngagementID,
				PersonID: &tx.Actor.PersonID}); err != nil {
				return err
			}
		}
		tx.Describe(nil, in.TaxCode, "Taxed %s as %s", app.Counted(len(in.LineIDs), "line", "lines"), in.TaxCode)
		return nil
	})
}

// OtherTax is the finding that work is taxed otherwise than its client has it now.
const OtherTax = "other_tax"

// OtherwiseTaxed are the lines of recorded work on drafts that are not taxed as their
// clients have it now, by draft and engagement, each with the tax that it would have.
func OtherwiseTaxed(tx *store.DB, invoiceIDs []int64) ([]store.TaxedLines, map[int64]string, error) {
	groups, err := store.TaxedOnDrafts(tx, invoiceIDs)
	if err != nil || len(groups) == 0 {
		return nil, nil, err
	}
	clients, engagements := []int64{}, []int64{}
	for _, g := range groups {
		clients, engagements = append(clients, g.ClientID), append(engagements, g.EngagementID)
	}
	of, err := profiles.Profiles(tx, clients, engagements)
	if err != nil {
		return nil, nil, err
	}
	codes, err := store.TaxCodes(tx)
	if err != nil {
		return nil, nil, err
	}
	other, names, known := []store.TaxedLines{}, map[int64]string{}, map[[3]string]int64{}
	for id, code := range codes {
		names[id] = code.Code
	}
	for _, g := range groups {
		p, as := of(g.ClientID, g.EngagementID), unbilled.Taxed(g.Taxed)
		asked := [3]string{string(as), p.Text(string(as)), p.Text(string(profiles.Work))} // most have the same
		now, asks := known[asked]
		if !asks {
			now, err = profiles.TaxCode(tx, p, as)
			if refusal := new(app.Refusal); errors.As(err, &refusal) {
				now = 0 // no tax holds now: nothing to compare with
			} else if err != nil {
				return nil, nil, err
			}
			known[asked] = now
		}
		if now != 0 && now != g.TaxCodeID {
			g.Now = now
			other = append(other, g)
		}
	}
	return other, names, nil
}

// TaxAsAgreed gives the recorded work of an engagement on a draft the tax that its client
// has now.
func TaxAsAgreed(tx *app.Tx, inv *store.Invoice, engagementID int64) error {
	other, _, err := OtherwiseTaxed(tx.DB, []int64{inv.ID})
	if err != nil {
		return err
	}
	for _, g := range other {
		if g.EngagementID == engagementID {
			if err := store.TaxLines(tx.DB, &g); err != nil {
				return err
			}
		}
	}
	return nil
}
