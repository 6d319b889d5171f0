package drafts

import (
	"context"
	"slices"

	"dorvet/core/day"
	"dorvet/internal/app"
	"dorvet/internal/app/papers"
	"dorvet/internal/app/profiles"
	"dorvet/internal/app/registry"
	"dorvet/internal/store"
)

// Beginning says what a single invoice begins with: work of a client or of one
// engagement, an accepted proposal, an old invoice, or a template.
type Beginning struct {
	ClientID     int64   `json:"clientId" doc:"0 if an engagement, proposal or invoice says whose it is"`
	EngagementID int64   `json:"engagementId" doc:"0: all that can stand on one invoice"`
	ProposalID   int64   `json:"proposalId" doc:"an accepted one: what was agreed once"`
	LikeID       int64   `json:"likeId" doc:"an old invoice: its lines again, by hand"`
	TemplateID   int64   `json:"templateId"`
	Take         string  `json:"take" enum:"all,time,expenses,fees,nothing" doc:"of what is unbilled"`
	PersonID     int64   `json:"personId" doc:"time of this person only; 0: of all"`
	UpTo         day.Day `json:"upTo,omitempty" format:"date" doc:"nothing: today"`
	Dated        day.Day `json:"dated,omitempty" format:"date" doc:"nothing: today"`
}

// Begin makes a draft outside of any run. What the client has unbilled is put on it
// as far as is asked; it may have nothing on it yet.
func Begin(ctx context.Context, a *app.App, r app.Request, b Beginning) (*Changed, error) {
	return app.Do(ctx, a, r, "begin invoice", b, func(tx *app.Tx) (*Changed, error) {
		if b.UpTo.IsZero() {
			b.UpTo = tx.Today
		}
		if b.Dated.IsZero() {
			b.Dated = tx.Today
		}
		engagements, err := engagementsFor(tx, &b)
		if err != nil {
			return nil, err
		}
		inv, err := blankFor(tx, &engagements[0], b.UpTo, b.Dated)
		if err != nil {
			return nil, err
		}
		if err := store.Insert(tx.DB, inv); err != nil {
			return nil, err
		}
		tx.LinkTo(app.OfInvoice, inv.ID)
		if err := fill(tx, inv, b, engagements); err != nil {
			return nil, err
		}
		tx.Describe(nil, nil, "Began an invoice for %s", engagements[0].Client)
		return filled(tx, inv, engagements[0].ID)
	})
}

func idsOf(engagements []store.EngagementRow) []int64 {
	ids := make([]int64, len(engagements))
	for i, e := range engagements {
		ids[i] = e.ID
	}
	return ids
}

// settled brings a draft that was filled up to date, and shows it. A line by hand
// has somewhere to go: without anything on it, it is of the first engagement.
func filled(tx *app.Tx, inv *store.Invoice, first int64) (*Changed, error) {
	on, err := store.EngagementsOf(tx.DB, inv.ID)
	if err != nil {
		return nil, err
	}
	if len(on) == 0 {
		if err := store.NameEngagement(tx.DB, inv.ID, first); err != nil {
			return nil, err
		}
	}
	if len(on) > 1 || len(on) == 1 && on[0] != first {
		p, err := profiles.Profile(tx.DB, inv.ClientID, OnlyOne(on))
		if err != nil {
			return nil, err
		}
		inv.Choices, inv.Terms = p.Choices(), p.Text("terms")
	}
	firm, err := store.TheFirm(tx.DB)
	if err != nil {
		return nil, err
	}
	open, err := store.OpenAdvances(tx.DB, on, 0)
	if err != nil {
		return nil, err
	}
	if err := recomputeWith(tx, firm, inv, open); err != nil {
		return nil, err
	}
	return ChangedBy(tx, inv), nil
}

// engagementsFor are the engagements that an invoice can begin with: those of one
// issuing entity, series and currency. A client without any gets one.
func engagementsFor(tx *app.Tx, b *Beginning) ([]store.EngagementRow, error) {
	if b.LikeID != 0 {
		old, err := papers.Visible(tx.DB, b.LikeID)
		if err != nil {
			return nil, err
		}
		b.ClientID = old.ClientID
		if ids, err := store.EngagementsOf(tx.DB, old.ID); err != nil {
			return nil, err
		} else if b.EngagementID == 0 && len(ids) > 0 {
			b.EngagementID = slices.Min(ids)
		}
	}
	if b.ProposalID != 0 {
		return agreedFor(tx, b)
	}
	if b.EngagementID != 0 {
		rows, err := store.EngagementRows(tx.DB, []int64{b.EngagementID})
		if err == nil && len(rows) == 0 {
			err = app.Missing(store.ErrNotFound, "engagement")
		}
		return rows, err
	}
	rows, err := store.EngagementRowsOf(tx.DB, b.ClientID)
	if err != nil {
		return nil, err
	}
	rows = slices.DeleteFunc(rows, func(e store.EngagementRow) bool { return !e.Active || !e.Billable })
	if len(rows) == 0 {
		return madeFor(tx, b.ClientID)
	}
	return alike(tx, rows, b)
}

// agreedFor are the engagements that a proposal made.
func agreedFor(tx *app.Tx, b *Beginning) ([]store.EngagementRow, error) {
	p, err := store.Get[store.Proposal](tx.DB, b.ProposalID)
	if err != nil {
		return nil, app.Missing(err, "proposal")
	}
	if p.State != "accepted" {
		return nil, app.Refuse(app.Conflict, "%s is not accepted: record the acceptance first, then bill it.", p.NumberText)
	}
	rows, err := store.EngagementRowsOf(tx.DB, p.ClientID)
	if err != nil {
		return nil, err
	}
	rows = slices.DeleteFunc(rows, func(e store.EngagementRow) bool { return e.ProposalID == nil || *e.ProposalID != p.ID })
	if len(rows) == 0 {
		return nil, app.Missing(store.ErrNotFound, "engagement")
	}
	return alike(tx, rows, b)
}

// alike keeps the engagements that can stand on one invoice with the first that has
// something to bill.
func alike(tx *app.Tx, rows []store.EngagementRow, b *Beginning) ([]store.EngagementRow, error) {
	open, err := store.UnbilledPortions(tx.DB, store.UnbilledFilter{UpTo: b.UpTo, EngagementIDs: idsOf(rows)})
	if err != nil {
		return nil, err
	}
	first := rows[0]
	if len(open) > 0 {
		first = rows[slices.IndexFunc(rows, func(e store.EngagementRow) bool { return e.ID == open[0].EngagementID })]
	}
	return slices.DeleteFunc(rows, func(e store.EngagementRow) bool {
		apart := e.ID != first.ID && (e.OwnPrice || first.OwnPrice)
		return apart || e.EntityID != first.EntityID || e.Numbered != first.Numbered || e.Currency != first.Currency
	}), nil
}

// madeFor makes an engagement for a client that has none, so that what is billed
// has a lead and stands in every report.
func madeFor(tx *app.Tx, clientID int64) ([]store.EngagementRow, error) {
	client, err := store.Get[store.Client](tx.DB, clientID)
	if err != nil {
		return nil, app.Missing(err, "client")
	}
	id, err := registry.Make(tx, "engagements", map[string]string{"client": client.Code, "name": "One-off work"})
	if err != nil {
		return nil, err
	}
	return store.EngagementRows(tx.DB, []int64{id})
}
