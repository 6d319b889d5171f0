package timekeeping

import (
	"slices"
	"strings"

	"dorvet/core/day"
	"dorvet/core/expense"
	"dorvet/core/money"
	"dorvet/core/wip"
	"dorvet/internal/app"
	"dorvet/internal/store"
)

// reckoned is a purchase with what follows from it.
type calculatedPurchase struct {
	purchase     store.Purchase
	shares       []store.Expense
	left         money.Amount // not shared out
	before       []store.ExpenseRow
	sameCategory bool
}

// stays reports whether a share is where it was before: then it does not matter
// that its engagement is closed by now.
func (r *calculatedPurchase) stays(in TypedShare, on day.Day) bool {
	return slices.ContainsFunc(r.before, func(was store.ExpenseRow) bool {
		return was.ID == in.ID && numberOf(was.EngagementID) == in.EngagementID && numberOf(was.PhaseID) == in.PhaseID && was.Day == on
	})
}

// calculatePurchase computes a purchase as typed. before is what it was, with its shares, or
// nil.
func calculatePurchase(tx *store.DB, actor app.Actor, in TypedPurchase, before *store.Purchase, shares []store.ExpenseRow) (*calculatedPurchase,
	error) {
	firm, err := store.TheFirm(tx)
	if err != nil {
		return nil, err
	}
	category, err := store.Get[store.ExpenseCategory](tx, in.CategoryID)
	if err := app.Unless(err, app.RefuseField("categoryId", "This category is not in use: choose another."),
		func() bool { return !(!category.Active && (before == nil || before.CategoryID != category.ID)) }); err != nil {
		return nil, err
	}
	if err := worksHere(tx, in.PersonID); err != nil {
		return nil, err
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
	r := &calculatedPurchase{left: cost, before: shares, sameCategory: before != nil && before.CategoryID == category.ID,
		purchase: store.Purchase{PersonID: in.PersonID, CategoryID: category.ID, Day: in.Day, Supplier: strings.TrimSpace(in.Supplier),
			Text:      strings.TrimSpace(in.Text),
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
		return app.RefuseField(field, "%s is before the closing date, %s: use a later day, or ask for the period to be opened.", on.Long(),
			firm.ClosingDay.Long())
	}
	return nil
}

// paidAs is what was paid: units at a price each, or an amount; and the tax in it.
func paidAs(firm *store.Firm, c *store.ExpenseCategory, in TypedPurchase, currency money.Currency, before *store.Purchase) (expense.Paid,
	error) {
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
func (r *calculatedPurchase) share(tx *store.DB, actor app.Actor, firm *store.Firm, c *store.ExpenseCategory, in TypedShare, cost money.Amount,
	shared bool) (*store.Expense, error) {
	at := len(r.shares)
	e := &store.Expense{Row: store.Row{ID: in.ID}, Day: in.Day, Text: strings.TrimSpace(in.Text), Note: strings.TrimSpace(in.Note),
		Treatment: in.Treatment, Returns: in.Returns,
		Cost: cost.Minor, Currency: cost.Currency}
	if e.Day.IsZero() {
		e.Day = r.purchase.Day
	}
	if err := openDay(firm, shareField(at, "day"), e.Day); err != nil {
		return nil, err
	}
	v := expense.Valued{Paid: &r.purchase.Paid, Cost: cost, Shared: shared, Disbursement: c.Disbursement, Markup: c.Markup,
		Treatment: in.Treatment}
	if in.EngagementID == 0 {
		e.Treatment, e.Returns, v.Treatment, v.Markup, v.Disbursement = wip.NotBillable, false, wip.NotBillable, 0, false
	} else if err := r.onEngagement(tx, actor, firm, e, in); err != nil {
		return nil, err
	}
	if was := r.keeps(in); was != nil {
		v.Markup = was.Markup
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

// keeps is the share as it was before, if it stays on its engagement and in its
// category: then a mark-up that is not typed stays, too. Who may not see it sends
// none.
func (r *calculatedPurchase) keeps(in TypedShare) *store.ExpenseRow {
	if !r.sameCategory || in.EngagementID == 0 {
		return nil
	}
	at := slices.IndexFunc(r.before, func(was store.ExpenseRow) bool {
		return was.ID == in.ID && numberOf(was.EngagementID) == in.EngagementID
	})
	if at < 0 {
		return nil
	}
	return &r.before[at]
}

// markup is the category's, or what it was before, unless one is typed, which leads
// and administrators may.
func (r *calculatedPurchase) markup(tx *store.DB, actor app.Actor, firm *store.Firm, v *expense.Valued, in TypedShare, at int) error {
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
		return app.RefuseField(shareField(at, "markup"),
			"A mark-up is set by the lead of the engagement or an administrator: leave it empty.")
	}
	v.Markup = money.Percent(n)
	return nil
}

// onEngagement puts a share on its engagement, if that takes expenses.
func (r *calculatedPurchase) onEngagement(tx *store.DB, actor app.Actor, firm *store.Firm, e *store.Expense, in TypedShare) error {
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
		return app.RefuseField(shareField(at, "engagementId"),
			"%s is billed in %s and this purchase is in %s: record what belongs to it as a purchase of its own, in %s.", g.Name, g.Currency,
			e.Currency, g.Currency)
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
func (r *calculatedPurchase) whole() error {
	costs := make([]money.Amount, len(r.shares))
	for i, s := range r.shares {
		costs[i] = money.Amount{Minor: s.Cost, Currency: s.Currency}
	}
	return app.InField("shares", expense.AddUp(money.Amount{Minor: r.purchase.Cost, Currency: r.purchase.Currency}, costs))
}

// worksHere refuses what is recorded for somebody who is not active.
func worksHere(tx *store.DB, personID int64) error {
	person, err := store.Get[store.Person](tx, personID)
	return app.Unless(err, app.RefuseField("personId", "This person does not work here: choose another."),
		func() bool { return person.Active })
}
