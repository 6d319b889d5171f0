package drafts

import (
	"fmt"

	"dorvet/core/day"
	"dorvet/core/draft"
	"dorvet/core/invoice"
	"dorvet/core/refusal"
	"dorvet/core/schedule"
	"dorvet/core/tax"
	core "dorvet/core/wip"
	"dorvet/internal/app"
	"dorvet/internal/app/papers"
	"dorvet/internal/app/setup"
	"dorvet/internal/app/unbilled"
	"dorvet/internal/store"
)

// taxCodes are the firm's tax codes; an act changes none.
func taxCodes(tx *app.Tx) (map[int64]tax.Code, error) {
	return app.Memo(tx, "tax codes", store.TaxCodes)
}

// asked is what the core is asked about a draft with some lines.
func asked(tx *app.Tx, inv *store.Invoice, lines []store.InvoiceLine) (draft.Asked, error) {
	codes, err := taxCodes(tx)
	if err != nil {
		return draft.Asked{}, err
	}
	terms, err := draft.TermsOf(inv.Choices, inv.Currency)
	a := draft.Asked{Currency: inv.Currency, TaxDate: inv.TaxDay, Codes: unbilled.CodesByName(codes), Terms: terms,
		Items: make([]draft.Item, len(lines))}
	for i := range lines {
		a.Items[i] = askedItem(&lines[i])
		a.Items[i].TaxCode = codes[lines[i].TaxCodeID].Code
	}
	return a, app.InField("value", err)
}

// askedItem is a line that is there, as the core asks for it.
func askedItem(l *store.InvoiceLine) draft.Item {
	return draft.Item{Engagement: l.EngagementID, Kind: l.Kind, Amount: l.Amount, Day: l.Day, Position: l.Position,
		OutOfScope: l.Treatment == core.OutOfScope, TakesBack: l.AdvanceLineID != nil}
}

// Recompute brings a changed draft up to date: what it takes of credit and funds, its
// totals, when it is due. It is saved.
func Recompute(tx *app.Tx, firm *store.Firm, inv *store.Invoice) error {
	return recomputeWith(tx, firm, inv, nil)
}

// recomputeWith also lets advances come back on the draft.
func recomputeWith(tx *app.Tx, firm *store.Firm, inv *store.Invoice, open []store.OpenAdvance) error {
	lines, err := store.AmountsOf(tx.DB, inv.ID)
	if err != nil {
		return err
	}
	question, err := asked(tx, inv, lines)
	if err != nil {
		return err
	}
	codes, err := taxCodes(tx)
	if err != nil {
		return err
	}
	question.Advances = unbilled.AskedAdvances(open, codes)
	held, err := moneyFor(tx, inv)
	if err != nil {
		return err
	}
	question.Credit, question.FundsHeld = held.Credit, held.InOrder()
	d, err := draft.Compute(question)
	if err != nil {
		return app.InField("", err)
	}
	if err := keepLines(tx, inv, lines, open, &d); err != nil {
		return err
	}
	return KeepSums(tx, firm, inv, &d, held.FundsHeld)
}

// moneyFor reads what a draft may take of its client's money.
func moneyFor(tx *app.Tx, inv *store.Invoice) (unbilled.Money, error) {
	engagements, err := store.EngagementsOf(tx.DB, inv.ID)
	if err != nil {
		return unbilled.Money{}, err
	}
	return unbilled.MoneyFor(tx.DB, inv.Account(), engagements, inv.ID)
}

// keepLines keeps what computing a draft did to its lines: advances that come back, or
// less of them, and what of a discount and a surcharge is on each.
func keepLines(tx *app.Tx, inv *store.Invoice, lines []store.InvoiceLine, open []store.OpenAdvance, d *draft.Draft) error {
	back, there, shares := []store.InvoiceLine{}, []store.InvoiceLine{}, []invoice.LineShare{}
	for _, line := range d.Lines {
		if line.Back {
			back = append(back, backOf(open[line.Of], inv, -line.Amount))
			continue
		}
		was := &lines[line.Of]
		there, shares = append(there, *was), append(shares, line.Share)
		var err error
		switch {
		case line.Amount == was.Amount:
		case line.Amount == 0:
			err = store.DropLine(tx.DB, was.ID)
		default:
			err = store.SetAmount(tx.DB, was.ID, line.Amount)
		}
		if err != nil {
			return err
		}
	}
	if err := store.SetShares(tx.DB, there, shares); err != nil {
		return err
	}
	return insertLines(tx, inv, back)
}

// KeepSums keeps what a draft comes to, what it reserves of funds, and when it is due.
func KeepSums(tx *app.Tx, firm *store.Firm, inv *store.Invoice, d *draft.Draft, held []store.ClientFundsRow) error {
	if !inv.Fresh || len(held) > 0 || inv.Funds != 0 {
		taken := []store.InvoiceFund{}
		for i, amount := range d.Funds {
			if amount > 0 {
				taken = append(taken, store.InvoiceFund{InvoiceID: inv.ID, FundsID: held[i].ID, Amount: amount})
			}
		}
		if err := store.SetFunds(tx.DB, inv.ID, taken); err != nil {
			return err
		}
	}
	sums := d.Totals
	inv.Lines, inv.Net, inv.Tax, inv.Total, inv.Due = sums.Lines.Minor, sums.Net.Minor, sums.Tax.Minor, sums.Total.Minor, sums.Due.Minor
	inv.Withholding, inv.Credit, inv.Funds = sums.Withholding.Minor, sums.Credit.Minor, sums.Funds.Minor
	terms, err := schedule.ParseTerms(inv.Terms)
	if err != nil {
		return err
	}
	inv.DueDay = terms.Due(inv.Dated)
	parts, err := papers.Instalments(tx.DB, inv, sums.Due)
	switch {
	case err == nil:
		inv.DueDay = lastDue(parts)
	case !refusal.Is(err): // a schedule that does not fit is told while it is a draft
		return fmt.Errorf("read the instalments of invoice %d: %w", inv.ID, err)
	}
	if err := convert(tx.DB, firm, inv, sums); err != nil {
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
		if err := Recompute(tx, firm, &drafts[i]); err != nil {
			return err
		}
	}
	return err
}
