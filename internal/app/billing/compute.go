package billing

import (
	"fmt"
	"slices"

	"dorvet/core/day"
	"dorvet/core/funds"
	"dorvet/core/invoice"
	"dorvet/core/money"
	"dorvet/core/refusal"
	"dorvet/core/schedule"
	"dorvet/core/tax"
	"dorvet/internal/app"
	"dorvet/internal/app/setup"
	"dorvet/internal/store"
)

func askedOf(tx *app.Tx, inv *store.Invoice, lines []store.InvoiceLine) (invoice.Asked, error) {
	codes, err := app.Memo(tx, "tax codes", store.TaxCodes)
	if err != nil {
		return invoice.Asked{}, err
	}
	return asking(inv, lines, codes)
}

// asking is what the core is asked about lines with the choices of an invoice.
func asking(inv *store.Invoice, lines []store.InvoiceLine, byID map[int64]tax.Code) (invoice.Asked, error) {
	asked := invoice.Asked{Currency: inv.Currency, TaxDate: inv.TaxDay, Codes: map[string]tax.Code{}, Lines: coreLines(lines, byID)}
	for _, code := range byID {
		asked.Codes[code.Code] = code
	}
	c := inv.Choices
	asked.Surcharge, asked.Withholding = c.Percent("surcharge"), c.Percent("withholding")
	var err error
	asked.Discount, err = discountOf(inv)
	return asked, err
}

// discountOf is the discount that an invoice gives: an amount beats a percentage.
func discountOf(inv *store.Invoice) (invoice.Discount, error) {
	c := inv.Choices
	d := invoice.Discount{Percent: c.Percent("discount"), FeesOnly: c.Text("discount_on") == "fees"}
	amount, given, err := c.Amount("discount_amount", inv.Currency)
	if given && amount != 0 {
		d.Percent, d.Amount = 0, amount
	}
	return d, err
}

// keepDiscounts keeps on the lines of a draft what of its discount is on them, where
// that has changed.
func keepDiscounts(tx *app.Tx, lines []store.InvoiceLine, shares []invoice.LineShare) error {
	now := map[int64]int64{}
	for i, l := range lines {
		if l.Discount != shares[i].Discount {
			now[l.ID] = shares[i].Discount
		}
	}
	return store.SetDiscounts(tx.DB, now)
}

func coreLines(lines []store.InvoiceLine, codes map[int64]tax.Code) []invoice.Line {
	list := make([]invoice.Line, 0, len(lines))
	for _, l := range lines {
		list = append(list, invoice.Line{Kind: l.Kind, TaxCode: codes[l.TaxCodeID].Code, Amount: money.Amount{Minor: l.Amount, Currency: l.Currency}})
	}
	return list
}

// recompute brings a changed draft up to date: what it reserves of credit and
// funds, its totals, when it is due. It is saved.
func recompute(tx *app.Tx, firm *store.Firm, inv *store.Invoice) error {
	lines, err := store.AmountsOf(tx.DB, inv.ID)
	if err != nil {
		return err
	}
	if lines, err = lessBack(tx, inv, lines); err != nil {
		return err
	}
	asked, err := askedOf(tx, inv, lines)
	if err != nil {
		return app.InField("", err)
	}
	if err := take(tx, inv, &asked); err != nil {
		return err
	}
	totals, err := invoice.Compute(asked)
	if err != nil {
		return app.InField("", err)
	}
	if err := keepDiscounts(tx, lines, totals.Shares); err != nil {
		return err
	}
	inv.Lines, inv.Net, inv.Tax, inv.Total, inv.Due = totals.Lines.Minor, totals.Net.Minor, totals.Tax.Minor, totals.Total.Minor, totals.Due.Minor
	inv.Withholding, inv.Credit, inv.Funds = totals.Withholding.Minor, totals.Credit.Minor, totals.Funds.Minor
	terms, err := schedule.ParseTerms(inv.Terms)
	if err != nil {
		return err
	}
	inv.DueDay = terms.Due(inv.Dated)
	parts, err := instalments(tx.DB, inv, totals.Due)
	switch {
	case err == nil:
		inv.DueDay = lastDue(parts)
	case !refusal.Is(err): // a schedule that does not fit is told while it is a draft
		return fmt.Errorf("read the instalments of invoice %d: %w", inv.ID, err)
	}
	if err := convert(tx.DB, firm, inv, totals); err != nil {
		return err
	}
	return store.Save(tx.DB, inv)
}

// convert keeps the exchange rate of the invoice's date, and its amounts in the
// firm's currency.
func convert(tx *store.DB, firm *store.Firm, inv *store.Invoice, totals invoice.Totals) (err error) {
	if inv.ExchangeRate, inv.ExchangeSource, err = setup.Exchange(tx, firm, inv.Currency, inv.Dated); err != nil {
		return err
	}
	net, err := totals.Net.Convert(inv.ExchangeRate, firm.Currency)
	if err != nil {
		return err
	}
	total, err := totals.Total.Convert(inv.ExchangeRate, firm.Currency)
	inv.NetFirm, inv.TotalFirm = net.Minor, total.Minor
	return err
}

func accountOf(inv *store.Invoice) store.Account {
	return store.Account{ClientID: inv.ClientID, EntityID: inv.EntityID, Currency: inv.Currency}
}

// take reserves credit of the client and funds held for them, as the draft's
// choices say.
func take(tx *app.Tx, inv *store.Invoice, asked *invoice.Asked) error {
	if inv.Fresh { // of many that are made together, few have a client with money
		with, err := app.Memo(tx, "accounts with money", store.AccountsWithMoney)
		if err != nil || !with[accountOf(inv)] {
			return err
		}
	}
	engagements, err := store.EngagementsOf(tx.DB, inv.ID)
	if err != nil {
		return err
	}
	taken, err := taking(tx.DB, inv, engagements, asked, nothingSpoken())
	if err != nil {
		return err
	}
	return store.SetFunds(tx.DB, inv.ID, taken)
}

// spoken is what of purses and credit is spoken for beside what drafts reserve.
type spoken struct {
	purses  map[int64]int64
	credits map[store.Account]int64
}

func nothingSpoken() spoken {
	return spoken{map[int64]int64{}, map[store.Account]int64{}}
}

// taking says what of credit and funds an invoice with some engagements takes: first
// the credit, then the funds, never more than is due. What it takes is spoken for.
func taking(tx *store.DB, inv *store.Invoice, engagements []int64, asked *invoice.Asked, s spoken) ([]store.InvoiceFund, error) {
	before, err := invoice.Compute(*asked)
	if err != nil {
		return nil, app.InField("", err)
	}
	left, account := before.Due.Minor, accountOf(inv)
	if inv.Choices.Text("use_credit") != "no" {
		free, err := store.CreditOf(tx, account, inv.ID)
		if err != nil {
			return nil, err
		}
		asked.Credit = min(max(free-s.credits[account], 0), max(left, 0))
		s.credits[account] += asked.Credit
		left -= asked.Credit
	}
	if inv.Choices.Text("use_funds") == "none" {
		return nil, nil
	}
	taken, err := takeFunds(tx, inv, engagements, left, s)
	for _, part := range taken {
		asked.Funds += part.Amount
		s.purses[part.PurseID] += part.Amount
	}
	return taken, err
}

// takeFunds takes of the purses of an invoice's engagements, then of what is held
// for the client as such.
func takeFunds(tx *store.DB, inv *store.Invoice, engagements []int64, due int64, s spoken) ([]store.InvoiceFund, error) {
	rows, err := store.PursesOf(tx, accountOf(inv), inv.ID)
	if err != nil {
		return nil, err
	}
	purses := []funds.Held{}
	for _, p := range rows {
		if p.EngagementID == nil || slices.Contains(engagements, *p.EngagementID) {
			purses = append(purses, funds.Held{ID: p.ID, Held: p.Held, Reserved: p.Reserved + s.purses[p.ID]})
		}
	}
	var atMost *int64
	if most, given, err := inv.Choices.Amount("funds_at_most", inv.Currency); err != nil {
		return nil, app.InField("value", err)
	} else if given {
		atMost = &most
	}
	amounts, _ := funds.Take(due, purses, atMost)
	taken := []store.InvoiceFund{}
	for i, amount := range amounts {
		if amount > 0 {
			taken = append(taken, store.InvoiceFund{InvoiceID: inv.ID, PurseID: purses[i].ID, Amount: amount})
		}
	}
	return taken, nil
}

// instalments are how the amount due of a draft would be paid.
func instalments(tx *store.DB, inv *store.Invoice, due money.Amount) ([]schedule.Instalment, error) {
	plan, err := schedule.ParsePlan(inv.Choices.Text("schedule"), money.Point)
	if err != nil {
		return nil, err
	}
	terms, err := schedule.ParseTerms(inv.Terms)
	if err != nil {
		return nil, err
	}
	around := schedule.Around{Issued: inv.Dated, Terms: terms}
	if len(plan) == 0 { // as one amount, whenever the work begins and ends
		return plan.Divide(due, around)
	}
	ids, err := store.EngagementsOf(tx, inv.ID)
	if err != nil {
		return nil, err
	}
	for _, id := range ids {
		e, err := store.Get[store.Engagement](tx, id)
		if err != nil {
			return nil, err
		}
		if around.Start.IsZero() || e.OpenedDay < around.Start {
			around.Start = e.OpenedDay
		}
		around.End = max(around.End, e.DueDay)
	}
	return plan.Divide(due, around)
}

func lastDue(parts []schedule.Instalment) (last day.Day) {
	for _, part := range parts {
		last = max(last, part.Due)
	}
	return last
}

// Refresh brings the drafts of an account up to date, after money came in or went.
func Refresh(tx *app.Tx, account store.Account) error {
	if err := tx.FlushPostings(); err != nil {
		return err
	}
	firm, err := store.TheFirm(tx.DB)
	if err != nil {
		return err
	}
	drafts, err := store.DraftsOfAccount(tx.DB, account)
	for i := range drafts {
		if err := recompute(tx, firm, &drafts[i]); err != nil {
			return err
		}
	}
	return err
}
