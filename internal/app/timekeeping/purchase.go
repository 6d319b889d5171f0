package timekeeping

import (
	"context"
	"slices"
	"strings"

	"dorvet/core/day"
	"dorvet/core/expense"
	"dorvet/core/money"
	"dorvet/core/wip"
	"dorvet/internal/app"
	"dorvet/internal/app/setup"
	"dorvet/internal/store"

	"gorm.io/gorm"
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

// reckoned is a purchase with what follows from it.
type reckoned struct {
	purchase store.Purchase
	shares   []store.Expense
	left     money.Amount // not shared out
	before   []store.ExpenseRow
}

// stays reports whether a share is where it was before: then it does not matter
// that its engagement is closed by now.
func (r *reckoned) stays(in TypedShare, on day.Day) bool {
	return slices.ContainsFunc(r.before, func(was store.ExpenseRow) bool {
		return was.ID == in.ID && numberOf(was.EngagementID) == in.EngagementID && numberOf(was.PhaseID) == in.PhaseID && was.Day == on
	})
}

// RecordPurchase saves a purchase with its shares.
func RecordPurchase(ctx context.Context, a *app.App, r app.Request, in TypedPurchase) (*Purchase, error) {
	return app.Do(ctx, a, r, "record purchase", in, func(tx *app.Tx) (*Purchase, error) {
		recorded, err := recordPurchase(tx, in)
		if err != nil {
			return nil, err
		}
		tx.Tell(nil, purchaseTold(recorded), "Recorded %s of %s", recorded.Cost, recorded.Day.Long())
		return recorded.conceal(tx.Actor), nil
	})
}

func recordPurchase(tx *app.Tx, in TypedPurchase) (*Purchase, error) {
	if err := mayRecordFor(tx.Actor, in.PersonID); err != nil {
		return nil, err
	}
	fresh, err := reckon(tx.DB, tx.Actor, in, nil, nil)
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
	return app.Do(ctx, a, r, "change purchase", []any{id, version, in}, func(tx *app.Tx) (*Purchase, error) {
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
		now, err := reckon(tx.DB, tx.Actor, in, before, shares)
		if err != nil {
			return nil, err
		}
		if err := now.whole(); err != nil {
			return nil, err
		}
		now.purchase.Row = before.Row
		if err := store.Save(tx.DB, &now.purchase); err != nil {
			return nil, err
		}
		changed, err := keepShares(tx, now, in, shares)
		if err != nil {
			return nil, err
		}
		tx.Tell(purchaseTold(was), purchaseTold(changed), "Changed to %s of %s", changed.Cost, changed.Day.Long())
		return changed.conceal(tx.Actor), nil
	})
}

// RemovePurchase takes a purchase and its shares away; the history stays.
func RemovePurchase(ctx context.Context, a *app.App, r app.Request, id, version int64) error {
	_, err := app.Do(ctx, a, r, "remove purchase", []int64{id, version}, func(tx *app.Tx) (struct{}, error) {
		p, shares, err := purchaseAt(tx, id, version)
		if err != nil {
			return struct{}{}, err
		}
		was, err := purchaseShown(tx.DB, p, shares)
		if err != nil {
			return struct{}{}, err
		}
		tx.Tell(purchaseTold(was), nil, "Removed %s of %s", was.Cost, was.Day.Long())
		return struct{}{}, dropPurchase(tx, p, shares)
	})
	return err
}

// dropPurchase removes a purchase with its shares, inside an act.
func dropPurchase(tx *app.Tx, p *store.Purchase, shares []store.ExpenseRow) error {
	tx.Concerns(app.OfPurchase, p.ID)
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
	sight := actor.Sight()
	others := slices.ContainsFunc(shares, func(s store.ExpenseRow) bool {
		return !sight.Sees(&store.Engagement{LeadID: s.LeadID, EntityID: s.EntityID})
	})
	if actor.Role != app.Lead || others {
		return app.Refuse(app.Forbidden, "This is somebody else's purchase. You change your own, and those that are wholly on engagements you lead.")
	}
	return nil
}

// reckon computes a purchase as typed. before is what it was, with its shares, or
// nil.
func reckon(tx *gorm.DB, actor app.Actor, in TypedPurchase, before *store.Purchase, shares []store.ExpenseRow) (*reckoned, error) {
	firm, err := store.TheFirm(tx)
	if err != nil {
		return nil, err
	}
	category, err := store.Get[store.ExpenseCategory](tx, in.CategoryID)
	if err != nil || !category.Active && (before == nil || before.CategoryID != category.ID) {
		return nil, app.RefuseField("categoryId", "This category is not in use: choose another.")
	}
	if person, err := store.Get[store.Person](tx, in.PersonID); err != nil || !person.Active {
		return nil, app.RefuseField("personId", "This person does not work here: choose another.")
	}
	if err := openDay(firm, "day", in.Day); err != nil {
		return nil, err
	}
	currency := firm.Currency
	if in.Currency != "" {
		currency = in.Currency
	}
	paid, err := paidAs(firm, category, in, currency, before)
	if err != nil {
		return nil, err
	}
	cost, err := paid.Cost()
	if err != nil {
		return nil, app.InField("tax", err)
	}
	r := &reckoned{left: cost, before: shares, purchase: store.Purchase{PersonID: in.PersonID, CategoryID: category.ID, Day: in.Day, Supplier: strings.TrimSpace(in.Supplier), Text: strings.TrimSpace(in.Text),
		Reference: strings.TrimSpace(in.Reference), Paid: paid, Cost: cost.Minor, Currency: currency, PaidBy: in.PaidBy}}
	costs, err := shareCosts(firm, cost, in.Shares)
	if err != nil {
		return nil, err
	}
	for i, share := range in.Shares {
		e, err := r.share(tx, actor, firm, category, share, costs[i], len(in.Shares) > 1)
		if err != nil {
			return nil, err
		}
		e.Position = i + 1
		r.shares = append(r.shares, *e)
	}
	r.left, err = expense.Left(cost, costs)
	return r, err
}

func openDay(firm *store.Firm, field string, on day.Day) error {
	switch {
	case on.IsZero():
		return app.RefuseField(field, "Give the day, like 2026-11-30.")
	case on <= firm.ClosingDay:
		return app.RefuseField(field, "%s is before the closing date, %s: use a later day, or ask for the period to be opened.", on.Long(), firm.ClosingDay.Long())
	}
	return nil
}

// paidAs is what was paid: units at a price each, or an amount; and the tax in it.
func paidAs(firm *store.Firm, c *store.ExpenseCategory, in TypedPurchase, currency money.Currency, before *store.Purchase) (expense.Paid, error) {
	if _, err := currency.Decimals(); err != nil {
		return expense.Paid{}, app.InField("currency", err)
	}
	paid := expense.Paid{Amount: money.Zero(currency), Tax: money.Zero(currency)}
	if c.PerUnit != nil && strings.TrimSpace(in.Amount) == "" {
		perUnit := *c.PerUnit
		if before != nil && before.CategoryID == c.ID && before.Paid.PerUnit != nil { // the price of then
			perUnit = *before.Paid.PerUnit
		}
		if strings.TrimSpace(in.PerUnit) != "" {
			n, err := number(in.PerUnit, firm, 4)
			if err != nil {
				return paid, app.InField("perUnit", err)
			}
			perUnit = money.Rate(n)
		}
		units, err := number(in.Units, firm, 4)
		if err != nil || units <= 0 {
			return paid, app.RefuseField("units", "Give how many %s, like 120.", c.Unit)
		}
		paid, err = expense.Of(units, c.Unit, perUnit, currency)
		if err != nil {
			return paid, app.InField("units", err)
		}
	} else if err := amountTyped(firm, in.Amount, &paid.Amount); err != nil {
		return paid, app.InField("amount", err)
	}
	if paid.Amount.Minor <= 0 {
		return paid, app.RefuseField("amount", "Nothing was paid: give the amount of the receipt, with its tax.")
	}
	if strings.TrimSpace(in.Tax) == "" {
		return paid, nil
	}
	if c.Disbursement {
		return paid, app.RefuseField("tax", "A disbursement is paid in the client's name, tax and all: leave this empty.")
	}
	return paid, app.InField("tax", amountTyped(firm, in.Tax, &paid.Tax))
}

// amountTyped reads a typed amount into one of a currency.
func amountTyped(firm *store.Firm, typed string, into *money.Amount) (err error) {
	into.Minor, err = number(typed, firm, decimalsOf(into.Currency))
	return err
}

// shareCosts are the costs of the shares; one without an amount takes what is
// left over, and no other can.
func shareCosts(firm *store.Firm, cost money.Amount, shares []TypedShare) ([]money.Amount, error) {
	costs, open := make([]money.Amount, len(shares)), -1
	for i, share := range shares {
		costs[i] = money.Zero(cost.Currency)
		if strings.TrimSpace(share.Amount) != "" {
			if err := amountTyped(firm, share.Amount, &costs[i]); err != nil {
				return nil, app.InField(shareField(i, "amount"), err)
			}
			continue
		}
		if open >= 0 {
			return nil, app.RefuseField(shareField(i, "amount"), "Two shares have no amount: give one, the other takes what is left over.")
		}
		open = i
	}
	left, err := expense.Left(cost, costs)
	if err == nil && open >= 0 {
		costs[open] = left
	}
	return costs, err
}

func shareField(i int, field string) string { return "shares." + itoa(i) + "." + field }

// share computes one share.
func (r *reckoned) share(tx *gorm.DB, actor app.Actor, firm *store.Firm, c *store.ExpenseCategory, in TypedShare, cost money.Amount, shared bool) (*store.Expense, error) {
	at := len(r.shares)
	e := &store.Expense{Row: store.Row{ID: in.ID}, Day: in.Day, Text: strings.TrimSpace(in.Text), Note: strings.TrimSpace(in.Note), Treatment: in.Treatment, Returns: in.Returns,
		Cost: cost.Minor, Currency: cost.Currency}
	if e.Day.IsZero() {
		e.Day = r.purchase.Day
	}
	if err := openDay(firm, shareField(at, "day"), e.Day); err != nil {
		return nil, err
	}
	v := expense.Valued{Paid: &r.purchase.Paid, Cost: cost, Shared: shared, Disbursement: c.Disbursement, Markup: c.Markup, Treatment: in.Treatment}
	if in.EngagementID == 0 {
		e.Treatment, e.Returns, v.Treatment, v.Markup, v.Disbursement = wip.NotBillable, false, wip.NotBillable, 0, false
	} else if err := r.onEngagement(tx, actor, firm, e, in); err != nil {
		return nil, err
	}
	if err := r.markup(tx, actor, firm, &v, in, at); err != nil {
		return nil, err
	}
	if e.Returns && !in.Treatment.Charged() {
		return nil, app.RefuseField(shareField(at, "returns"), "Only what is billed comes back on every bill.")
	}
	valued, err := expense.Value(v)
	if err != nil {
		return nil, app.InField(shareField(at, "amount"), err)
	}
	e.Markup, e.Standard, e.Agreed, e.Valued = v.Markup, valued.Standard.Minor, valued.Agreed.Minor, valued
	return e, nil
}

// markup is the category's unless one is typed, which leads and administrators
// may.
func (r *reckoned) markup(tx *gorm.DB, actor app.Actor, firm *store.Firm, v *expense.Valued, in TypedShare, at int) error {
	if strings.TrimSpace(in.Markup) == "" || in.EngagementID == 0 {
		return nil
	}
	n, err := number(in.Markup, firm, 4)
	if err != nil {
		return app.InField(shareField(at, "markup"), err)
	}
	g, err := store.Get[store.Engagement](tx, in.EngagementID)
	if err != nil {
		return err
	}
	if money.Percent(n) != v.Markup && !mayPrice(actor, g) {
		return app.RefuseField(shareField(at, "markup"), "A mark-up is set by the lead of the engagement or an administrator: leave it empty.")
	}
	v.Markup = money.Percent(n)
	return nil
}

// onEngagement puts a share on its engagement, if that takes expenses.
func (r *reckoned) onEngagement(tx *gorm.DB, actor app.Actor, firm *store.Firm, e *store.Expense, in TypedShare) error {
	at := len(r.shares)
	in.Day = e.Day
	as := TypedEntry{PersonID: r.purchase.PersonID, EngagementID: in.EngagementID, PhaseID: in.PhaseID, Day: e.Day, Treatment: in.Treatment}
	g, err := store.Get[store.Engagement](tx, in.EngagementID)
	if err != nil {
		return app.Missing(err, "engagement")
	}
	if !r.stays(in, e.Day) {
		if err := openOn(firm, g, e.Day); err != nil {
			return inShare(at, err)
		}
		if err := openFor(tx, actor, g, as); err != nil {
			return inShare(at, err)
		}
	}
	switch {
	case g.Currency != e.Currency:
		return app.RefuseField(shareField(at, "engagementId"), "%s is billed in %s and this purchase is in %s: record what belongs to it as a purchase of its own, in %s.", g.Name, g.Currency, e.Currency, g.Currency)
	case !g.Billable && in.Treatment.Charged():
		return app.RefuseField(shareField(at, "treatment"), "%s is not billable: choose not billable or no charge.", g.Name)
	}
	e.EngagementID = &g.ID
	if in.PhaseID != 0 {
		e.PhaseID = &in.PhaseID
	}
	return nil
}

// inShare puts a refusal of a field into its share.
func inShare(at int, err error) error {
	if refusal, is := err.(*app.Refusal); is && refusal.Field != "" {
		moved := *refusal
		moved.Field = shareField(at, refusal.Field)
		return &moved
	}
	return err
}

// whole refuses shares that do not add up, and says by how much.
func (r *reckoned) whole() error {
	costs := make([]money.Amount, len(r.shares))
	for i, s := range r.shares {
		costs[i] = money.Amount{Minor: s.Cost, Currency: s.Currency}
	}
	return app.InField("shares", expense.AddUp(money.Amount{Minor: r.purchase.Cost, Currency: r.purchase.Currency}, costs))
}

// keepShares saves the shares of a purchase with their portions and movements,
// and removes those that are gone.
func keepShares(tx *app.Tx, r *reckoned, in TypedPurchase, before []store.ExpenseRow) (*Purchase, error) {
	p := &r.purchase
	tx.Concerns(app.OfPurchase, p.ID)
	gone := map[int64]*store.ExpenseRow{}
	for i := range before {
		gone[before[i].ID] = &before[i]
	}
	engagements := map[int64]bool{}
	for i := range r.shares {
		s := &r.shares[i]
		s.PurchaseID = p.ID
		was := gone[s.ID]
		delete(gone, s.ID)
		if was == nil {
			s.Row = store.Row{}
		}
		if err := keepShare(tx, s, was, in.Shares[i].Hold); err != nil {
			return nil, err
		}
		if s.EngagementID != nil {
			engagements[*s.EngagementID] = true
		}
	}
	for _, was := range gone {
		if err := dropShare(tx, was); err != nil {
			return nil, err
		}
	}
	if in.Files != nil {
		if err := attach(tx, ofPurchase, p.ID, in.Files); err != nil {
			return nil, err
		}
	}
	for id := range engagements {
		if err := setup.AlertBudgets(tx, id, p.Day); err != nil {
			return nil, err
		}
	}
	shares, err := store.SharesOf(tx.DB, p.ID)
	if err != nil {
		return nil, err
	}
	return purchaseShown(tx.DB, p, shares)
}

// keepShare saves one share; was is how it stood before, or nil.
func keepShare(tx *app.Tx, s *store.Expense, was *store.ExpenseRow, held string) error {
	if was == nil {
		if err := store.Insert(tx.DB, s); err != nil {
			return err
		}
		return newPortion(tx, s, held)
	}
	s.Row, s.ReturnedFrom = was.Row, was.ReturnedFrom
	if locked(was) {
		if !sameShare(s, &was.Expense) {
			return shareLocked(was)
		}
		s.Valued = was.Valued
		return store.Save(tx.DB, s)
	}
	if err := dropPortion(tx, was); err != nil {
		return err
	}
	if err := store.Save(tx.DB, s); err != nil {
		return err
	}
	return newPortion(tx, s, held)
}

func locked(was *store.ExpenseRow) bool {
	_, err := was.Billing.After(wip.Change)
	return was.EngagementID != nil && err != nil
}

func shareLocked(was *store.ExpenseRow) error {
	if was.NumberText != "" {
		return app.Refuse(app.Conflict, "The share on %s is billed on %s and can't be changed: reopen or credit that invoice first.", was.Engagement, was.NumberText)
	}
	return app.Refuse(app.Conflict, "The share on %s is on a draft: take it out of the draft first.", was.Engagement)
}

// sameShare reports whether nothing that is billed has changed.
func sameShare(a, b *store.Expense) bool {
	return numberOf(a.EngagementID) == numberOf(b.EngagementID) && a.Day == b.Day && a.Treatment == b.Treatment && a.Cost == b.Cost && a.Agreed == b.Agreed
}

// newPortion gives a share on an engagement its portion.
func newPortion(tx *app.Tx, s *store.Expense, held string) error {
	if s.EngagementID == nil {
		return nil
	}
	portion := store.Portion{Source: "expense", SourceID: s.ID, EngagementID: *s.EngagementID, WorkedDay: s.Day, Treatment: s.Treatment,
		Standard: s.Standard, Agreed: s.Agreed, Currency: s.Currency, Hold: wip.NoHold, Billing: wip.Unbilled}
	if s.Treatment == wip.NotBillable {
		portion.Billing = wip.Outside
	}
	if err := hold(&portion, held); err != nil {
		return err
	}
	if err := store.Insert(tx.DB, &portion); err != nil {
		return err
	}
	tx.Move("recorded", s.Day, portion, wip.InRecorded, portion.Billing.Bucket(portion.Treatment), nil)
	return nil
}

// dropPortion takes the portion of a share away, if it has one.
func dropPortion(tx *app.Tx, was *store.ExpenseRow) error {
	if was.EngagementID == nil {
		return nil
	}
	portion, err := store.PortionOfExpense(tx.DB, was.ID)
	if err != nil {
		return err
	}
	tx.Move("changed", was.Day, *portion, portion.Billing.Bucket(portion.Treatment), wip.InRecorded, nil)
	portion.Removed = true
	return store.Save(tx.DB, portion)
}

// dropShare removes a share that is not billed.
func dropShare(tx *app.Tx, was *store.ExpenseRow) error {
	if locked(was) {
		return shareLocked(was)
	}
	if err := dropPortion(tx, was); err != nil {
		return err
	}
	was.Removed = true
	return store.Save(tx.DB, &was.Expense)
}
