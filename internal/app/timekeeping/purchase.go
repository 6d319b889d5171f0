package timekeeping

import (
	"context"
	"slices"

	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/core/wip"
	"dorvet/internal/app"
	"dorvet/internal/store"
)

// TypedPurchase is a purchase as it is typed: what was paid, and its shares. An
// ordinary expense is a purchase with one share.
type TypedPurchase struct {
	PersonID   int64          `json:"personId" minimum:"1" doc:"who paid it, or spent it"`
	CategoryID int64          `json:"categoryId" minimum:"1"`
	Day        day.Day        `json:"day" format:"date"`
	Supplier   string         `json:"supplier" maxLength:"200"`
	Text       string         `json:"text" maxLength:"500" doc:"what the client reads"`
	Reference  string         `json:"reference,omitempty" maxLength:"100"`
	Units      string         `json:"units,omitempty" maxLength:"20" doc:"typed; of a category with a price for each"`
	PerUnit    string         `json:"perUnit,omitempty" maxLength:"20" doc:"typed; the category's unless given"`
	Amount     string         `json:"amount,omitempty" maxLength:"20" doc:"typed, with tax; of other categories"`
	Tax        string         `json:"tax,omitempty" maxLength:"20" doc:"typed: the part of the amount that the firm gets back"`
	Currency   money.Currency `json:"currency,omitempty" doc:"the firm's unless given"`
	PaidBy     string         `json:"paidBy" enum:"firm,person" doc:"a person gets it back"`
	Files      []AttachedFile `json:"files,omitempty" maxItems:"20"`
	Shares     []TypedShare   `json:"shares" minItems:"1" maxItems:"100"`
}

// TypedShare is a share as it is typed. Of one share the amount can be left out:
// it takes what is left over.
type TypedShare struct {
	ID           int64         `json:"id,omitempty" doc:"of a share that was there before"`
	EngagementID int64         `json:"engagementId,omitempty" doc:"0: the firm's own cost"`
	PhaseID      int64         `json:"phaseId,omitempty"`
	Amount       string        `json:"amount" maxLength:"20" doc:"of the cost, typed; nothing takes what is left over"`
	Day          day.Day       `json:"day,omitempty" format:"date" doc:"of use; of the purchase unless given"`
	Text         string        `json:"text,omitempty" maxLength:"500" doc:"in place of the purchase's"`
	Note         string        `json:"note,omitempty" maxLength:"500"`
	Treatment    wip.Treatment `json:"treatment" enum:"billable,out_of_scope,no_charge,not_billable"`
	Markup       string        `json:"markup,omitempty" maxLength:"20" doc:"percent, typed; the category's unless given"`
	Returns      bool          `json:"returns,omitempty" doc:"comes back on every bill"`
	Hold         string        `json:"hold,omitempty" maxLength:"10" doc:"nothing, released, or the day of release"`
}

// RecordPurchase saves a purchase with its shares.
func RecordPurchase(ctx context.Context, a *app.App, r app.Request, in TypedPurchase) (*Purchase, error) {
	return app.DoTogether(ctx, a, r, "record purchase", in, func(tx *app.Tx) (*Purchase, error) {
		recorded, err := recordPurchase(tx, in)
		if err != nil {
			return nil, err
		}
		tx.Describe(nil, purchaseTold(recorded), "Recorded %s of %s", recorded.Cost, recorded.Day.Long())
		return recorded.conceal(tx.Actor), nil
	})
}

func recordPurchase(tx *app.Tx, in TypedPurchase) (*Purchase, error) {
	if err := mayRecordFor(tx.Actor, in.PersonID); err != nil {
		return nil, err
	}
	fresh, err := calculatePurchase(tx.DB, tx.Actor, in, nil, nil)
	if err != nil {
		return nil, err
	}
	if err := fresh.whole(); err != nil {
		return nil, err
	}
	if err := store.Insert(tx.DB, &fresh.purchase); err != nil {
		return nil, err
	}
	return keepShares(tx, fresh, in, nil)
}

// ChangePurchase saves a purchase that was changed. Shares that are billed or on
// a draft have to be as they were.
func ChangePurchase(ctx context.Context, a *app.App, r app.Request, id, version int64, in TypedPurchase) (*Purchase, error) {
	return app.DoTogether(ctx, a, r, "change purchase", []any{id, version, in}, func(tx *app.Tx) (*Purchase, error) {
		before, shares, err := purchaseAt(tx, id, version)
		if err != nil {
			return nil, err
		}
		was, err := purchaseShown(tx.DB, before, shares)
		if err != nil {
			return nil, err
		}
		if err := mayRecordFor(tx.Actor, in.PersonID); err != nil {
			return nil, err
		}
		now, err := calculatePurchase(tx.DB, tx.Actor, in, before, shares)
		if err != nil {
			return nil, err
		}
		if err := now.whole(); err != nil {
			return nil, err
		}
		now.purchase.Row = before.Row
		if now.purchase.Paid.Amount != before.Paid.Amount || now.purchase.PaidBy != before.PaidBy || now.purchase.PersonID != before.PersonID {
			if err := notPaidBack(tx, before); err != nil {
				return nil, err
			}
		}
		if err := store.Save(tx.DB, &now.purchase); err != nil {
			return nil, err
		}
		changed, err := keepShares(tx, now, in, shares)
		if err != nil {
			return nil, err
		}
		tx.Describe(purchaseTold(was), purchaseTold(changed), "Changed to %s of %s", changed.Cost, changed.Day.Long())
		return changed.conceal(tx.Actor), nil
	})
}

// RemovePurchase takes a purchase and its shares away; the history stays.
func RemovePurchase(ctx context.Context, a *app.App, r app.Request, id, version int64) error {
	_, err := app.DoTogether(ctx, a, r, "remove purchase", []int64{id, version}, func(tx *app.Tx) (struct{}, error) {
		p, shares, err := purchaseAt(tx, id, version)
		if err != nil {
			return struct{}{}, err
		}
		was, err := purchaseShown(tx.DB, p, shares)
		if err != nil {
			return struct{}{}, err
		}
		tx.Describe(purchaseTold(was), nil, "Removed %s of %s", was.Cost, was.Day.Long())
		return struct{}{}, dropPurchase(tx, p, shares)
	})
	return err
}

// notPaidBack refuses to change what a person is owed for a purchase when they got it back.
func notPaidBack(tx *app.Tx, p *store.Purchase) error {
	on, err := store.PaidBackOn(tx.DB, p.ID)
	return app.Unless(err, app.Refuse(app.Conflict, "This was paid back to who paid it on %s: take that back first, under Receivables, Transfers.",
		on.Long()), on.IsZero)
}

// dropPurchase removes a purchase with its shares, inside an act.
func dropPurchase(tx *app.Tx, p *store.Purchase, shares []store.ExpenseRow) error {
	tx.LinkTo(app.OfPurchase, p.ID)
	if err := notPaidBack(tx, p); err != nil {
		return err
	}
	for i := range shares {
		if err := dropShare(tx, &shares[i]); err != nil {
			return err
		}
	}
	p.Removed = true
	return store.Save(tx.DB, p)
}

// purchaseAt reads a purchase that the actor may change, as they last saw it.
func purchaseAt(tx *app.Tx, id, version int64) (*store.Purchase, []store.ExpenseRow, error) {
	p, err := store.Get[store.Purchase](tx.DB, id)
	if err == nil && p.Removed {
		err = store.ErrNotFound
	}
	if err != nil {
		return nil, nil, app.Missing(err, "purchase")
	}
	shares, err := store.SharesOf(tx.DB, id)
	if err != nil {
		return nil, nil, err
	}
	if err := mayChangePurchase(tx.Actor, p, shares); err != nil {
		return nil, nil, err
	}
	if p.Version != version {
		return nil, nil, store.ErrStale
	}
	firm, err := store.TheFirm(tx.DB)
	if err == nil && p.Day <= firm.ClosingDay {
		err = app.Refuse(app.Conflict, "%s is before the closing date, %s, and takes no change.", p.Day.Long(), firm.ClosingDay.Long())
	}
	return p, shares, err
}

// mayChangePurchase lets people change their own, and leads what is wholly on
// engagements that they lead.
func mayChangePurchase(actor app.Actor, p *store.Purchase, shares []store.ExpenseRow) error {
	if actor.Role == app.Administrator || actor.PersonID == p.PersonID {
		return nil
	}
	sight := actor.Scope()
	others := slices.ContainsFunc(shares, func(s store.ExpenseRow) bool {
		return !sight.Sees(&store.Engagement{LeadID: s.LeadID, EntityID: s.EntityID})
	})
	if actor.Role != app.Lead || others {
		return app.Refuse(app.Forbidden, "This is somebody else's purchase. You change your own, and those that are wholly on "+
			"engagements you lead.")
	}
	return nil
}
