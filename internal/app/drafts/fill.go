package drafts

import (
	"context"
	"slices"
	"strings"

	"dorvet/core/invoice"
	"dorvet/internal/app"
	"dorvet/internal/app/unbilled"
	"dorvet/internal/store"
)

// fill puts on a new draft what it begins with.
func fill(tx *app.Tx, inv *store.Invoice, b Beginning, engagements []store.EngagementRow) error {
	if b.ProposalID != 0 {
		return fillAgreed(tx, inv, engagements)
	}
	if b.LikeID != 0 {
		if err := fillLike(tx, inv, b.LikeID); err != nil {
			return err
		}
	}
	if b.TemplateID != 0 {
		if err := fillFrom(tx, inv, b.TemplateID, engagements[0].ID); err != nil {
			return err
		}
	}
	return addUnbilled(tx, inv, b, idsOf(engagements))
}

// takeUp puts unbilled work on a draft: all of it, or only time, expenses or fees,
// only one person's.
func addUnbilled(tx *app.Tx, inv *store.Invoice, b Beginning, engagements []int64) error {
	if b.Take == "nothing" || b.Take == "" {
		return nil
	}
	rows, err := store.UnbilledPortions(tx.DB, store.UnbilledFilter{From: inv.FromDay, UpTo: inv.UpToDay, EngagementIDs: engagements})
	if err != nil {
		return err
	}
	byEngagement := map[int64][]store.PortionRow{}
	for _, p := range rows {
		wanted := b.Take == "all" || b.Take == "time" && !p.IsExpense() || b.Take == "expenses" && p.IsExpense()
		if wanted && unbilled.Billable(&p, tx.Today) && (b.PersonID == 0 || p.PersonID == b.PersonID && !p.IsExpense()) {
			byEngagement[p.EngagementID] = append(byEngagement[p.EngagementID], p)
		}
	}
	for _, id := range engagements {
		if _, err := AddPortions(tx, inv, byEngagement[id]); err != nil {
			return err
		}
	}
	if b.Take != "all" && b.Take != "fees" || b.PersonID != 0 {
		return nil
	}
	charges, err := unbilled.ChargesDue(tx, engagements, inv.Dated)
	if err != nil {
		return err
	}
	return putCharges(tx, inv, charges)
}

// AddUnbilled puts on a draft what is unbilled of its client, again or for the first
// time.
func AddUnbilled(ctx context.Context, a *app.App, r app.Request, e Edit, take string, personID int64) (*Changed, error) {
	return Change(ctx, a, r, "take up unbilled work", e, []any{take, personID}, func(tx *app.Tx, inv *store.Invoice) error {
		rows, err := store.EngagementRowsOf(tx.DB, inv.ClientID)
		if err != nil {
			return err
		}
		ids := []int64{}
		for _, e := range rows {
			if e.EntityID == inv.EntityID && e.Numbered == inv.SeriesID && e.Currency == inv.Currency {
				ids = append(ids, e.ID)
			}
		}
		before, err := store.LinesOf(tx.DB, inv.ID)
		if err != nil {
			return err
		}
		if err := addUnbilled(tx, inv, Beginning{Take: take, PersonID: personID}, ids); err != nil {
			return err
		}
		after, err := store.LinesOf(tx.DB, inv.ID)
		if err == nil && len(after) == len(before) {
			err = app.Refuse(app.Conflict, "Nothing of this is unbilled up to %s.", inv.UpToDay.Long())
		}
		tx.Describe(nil, nil, "Put on %s that was unbilled", app.Counted(len(after)-len(before), "line", "lines"))
		return err
	})
}

// fillAgreed puts on what a proposal agreed to bill once, whenever it would be due.
func fillAgreed(tx *app.Tx, inv *store.Invoice, engagements []store.EngagementRow) error {
	charges, err := store.PlannedCharges(tx.DB, idsOf(engagements))
	if err != nil {
		return err
	}
	charges = slices.DeleteFunc(charges, func(c store.Charge) bool { return c.Kind != "fixed" || c.ProposalID == nil })
	if len(charges) == 0 {
		return app.Refuse(app.Conflict, "Everything that was agreed to be billed once is billed, or on a draft.")
	}
	return putCharges(tx, inv, charges)
}

// fillLike puts the lines of an old invoice on again, by hand.
func fillLike(tx *app.Tx, inv *store.Invoice, likeID int64) error {
	old, err := store.LinesOf(tx.DB, likeID)
	if err != nil {
		return err
	}
	fresh := []store.InvoiceLine{}
	for _, l := range old {
		if l.Kind == invoice.Advance {
			continue
		}
		line := store.InvoiceLine{EngagementID: l.EngagementID, Kind: invoice.ByHand, TaxCodeID: l.TaxCodeID, Day: inv.Dated, Text: l.Text,
			Amount:    l.Amount,
			Treatment: "billable", Quantity: l.Quantity, Unit: l.Unit, UnitPrice: l.UnitPrice, Confirmed: true}
		fresh = append(fresh, line)
	}
	return insertLines(tx, inv, fresh)
}

// fillFrom puts the lines of a template on: text; quantity; price; unit.
func fillFrom(tx *app.Tx, inv *store.Invoice, templateID, engagementID int64) error {
	template, err := store.Get[store.InvoiceTemplate](tx.DB, templateID)
	if err != nil {
		return app.Missing(err, "invoice to begin with")
	}
	taken := map[string]string{}
	for name, of := range template.Choices {
		taken[name] = of.Value
	}
	if err := Choose(tx, inv, taken); err != nil {
		return err
	}
	for _, text := range strings.Split(template.Lines, "\n") {
		part := append(strings.Split(text, ";"), "", "", "")
		for i := range part {
			part[i] = strings.TrimSpace(part[i])
		}
		if part[0] == "" {
			continue
		}
		typed := LineTyped{EngagementID: engagementID, Text: part[0], Quantity: part[1], Price: part[2], Unit: part[3]}
		if typed.Price == "" {
			typed.Amount = "0"
		}
		line, err := byHand(tx, inv, typed)
		if err != nil {
			return err
		}
		if err := insertLines(tx, inv, []store.InvoiceLine{*line}); err != nil {
			return err
		}
	}
	return nil
}
