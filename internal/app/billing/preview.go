package billing

import (
	"cmp"
	"context"
	"slices"

	"dorvet/core/invoice"
	"dorvet/core/money"
	"dorvet/core/tax"
	"dorvet/internal/app"
	"dorvet/internal/app/setup"
	"dorvet/internal/app/wip"
	"dorvet/internal/store"
)

// Tally is what making drafts of a selection would come to, to the cent: what is
// billed, and what stays or is given away.
type Tally struct {
	Engagements int            `json:"engagements"`
	Drafts      int            `json:"drafts"`
	Entries     int            `json:"entries"`
	Minutes     int            `json:"minutes" doc:"of time that is billed by itself"`
	Time        []money.Amount `json:"time" doc:"one for each currency"`
	Expenses    []money.Amount `json:"expenses"`
	Charges     []money.Amount `json:"charges"`
	NoCharge    []money.Amount `json:"noCharge" doc:"given away at no charge, at standard, negative"`
	OverCap     []money.Amount `json:"overCap" doc:"stays unbilled, because it is over a cap; negative"`
	Held        []money.Amount `json:"held" doc:"stays, on hold; negative"`
	Left        []money.Amount `json:"left" doc:"stays, because it was left; negative"`
	Advances    []money.Amount `json:"advances" doc:"invoiced ahead, come back; negative"`
	Discount    []money.Amount `json:"discount" doc:"negative"`
	Surcharge   []money.Amount `json:"surcharge"`
	Net         []money.Amount `json:"net"`
	Total       []money.Amount `json:"total" doc:"gross"`
	Credit      []money.Amount `json:"credit" doc:"of clients, will be taken"`
	Funds       []money.Amount `json:"funds" doc:"held, will be applied"`
	WithoutRate int            `json:"withoutRate" doc:"entries that stay, because no rate holds for them"`
	OpenPrices  int            `json:"openPrices" doc:"charges whose price is still to be given"`
}

// Preview says what making drafts of a selection would come to. It changes nothing.
func Preview(ctx context.Context, a *app.App, actor app.Actor, s Selection) (*Tally, error) {
	if err := s.complete(); err != nil {
		return nil, err
	}
	tx := app.DryRun(a.Read(ctx, actor), a, actor)
	f, err := newForesight(tx, s)
	if err != nil {
		return nil, err
	}
	order, groups := s.grouped(f.engagements)
	for _, key := range order {
		if err := f.draft(key, groups[key]); err != nil {
			return nil, err
		}
	}
	return f.tally, nil
}

// foresight is a tally while it is added up.
type foresight struct {
	maker       *maker
	tally       *Tally
	engagements []store.EngagementRow
	parts       map[int64][]store.PartSum
	charges     map[int64][]store.Charge
	left        map[int64]Leaving
	codes       map[int64]tax.Code
	spoken      spoken
	cut         map[int64]cutBy
}

func newForesight(tx *app.Tx, s Selection) (*foresight, error) {
	none := func() []money.Amount { return []money.Amount{} }
	f := &foresight{left: s.left(), parts: map[int64][]store.PartSum{}, charges: map[int64][]store.Charge{}, spoken: nothingSpoken(), cut: map[int64]cutBy{},
		tally: &Tally{Time: none(), Expenses: none(), Charges: none(), NoCharge: none(), OverCap: none(), Held: none(), Left: none(), Advances: none(), Discount: none(),
			Surcharge: none(), Net: none(), Total: none(), Credit: none(), Funds: none()}}
	if len(s.EngagementIDs) == 0 {
		return f, nil
	}
	var err error
	if f.maker, err = newMaker(tx, s); err != nil {
		return nil, err
	}
	if f.codes, err = store.TaxCodes(tx.DB); err != nil {
		return nil, err
	}
	if f.engagements, err = store.EngagementRows(tx.DB, s.EngagementIDs); err != nil {
		return nil, err
	}
	sight := tx.Actor.Scope()
	f.engagements = slices.DeleteFunc(f.engagements, func(e store.EngagementRow) bool { return !sight.Sees(&e.Engagement) })
	ids := idsOf(f.engagements)
	parts, err := store.PartSums(tx.DB, store.UnbilledFilter{From: s.From, UpTo: s.UpTo, Today: tx.Today, EngagementIDs: ids})
	if err != nil {
		return nil, err
	}
	for _, p := range parts {
		f.parts[p.EngagementID] = append(f.parts[p.EngagementID], p)
	}
	charges, err := wip.ChargesForeseen(tx.DB, ids, s.ChargesUpTo)
	for _, c := range charges {
		f.charges[c.EngagementID] = append(f.charges[c.EngagementID], c)
	}
	return f, err
}

// draft adds what one draft would come to.
func (f *foresight) draft(key draftOf, engagements []store.EngagementRow) error {
	on := []store.EngagementRow{}
	for i := range engagements {
		if f.has(&engagements[i]) {
			on = append(on, engagements[i])
		}
	}
	var inv *store.Invoice
	var each []store.InvoiceLine // one by one, where their sums would not do
	var err error
	if len(on) > 0 {
		if inv, err = f.maker.blank(key, on); err != nil {
			return err
		}
		if each, err = f.each(inv, on); err != nil {
			return err
		}
	}
	lines := []store.InvoiceLine{}
	for i := range engagements {
		if len(f.parts[engagements[i].ID]) == 0 && len(f.charges[engagements[i].ID]) == 0 {
			continue
		}
		f.tally.Engagements++
		own, err := f.lines(&engagements[i])
		if err != nil {
			return err
		}
		lines = append(lines, own...)
	}
	if len(lines) == 0 {
		return nil
	}
	if each != nil {
		lines = each
	}
	return f.total(inv, lines)
}

// total adds what a draft with some lines comes to.
func (f *foresight) total(inv *store.Invoice, lines []store.InvoiceLine) error {
	billed := []int64{}
	for _, l := range lines {
		billed = append(billed, l.EngagementID)
	}
	open, err := store.OpenAdvances(f.maker.tx.DB, billed, 0)
	if err != nil {
		return err
	}
	back, err := advancesBack(inv, open, lines, f.codes)
	if err != nil {
		return err
	}
	for _, l := range back {
		if err := add(&f.tally.Advances, inv.Amount(l.Amount)); err != nil {
			return err
		}
	}
	asked, err := asking(inv, append(lines, back...), f.codes)
	if err != nil {
		return err
	}
	if _, err := taking(f.maker.tx.DB, inv, billed, &asked, f.spoken); err != nil {
		return err
	}
	totals, err := invoice.Compute(asked)
	if err != nil {
		return app.InField("", err)
	}
	f.tally.Drafts++
	return f.sum(totals)
}

// has reports whether an engagement has something to bill, whatever its cap leaves.
func (f *foresight) has(e *store.EngagementRow) bool {
	leaves := f.left[e.ID]
	if len(f.charges[e.ID]) > 0 && !leaves.Charges {
		return true
	}
	return slices.ContainsFunc(f.parts[e.ID], func(p store.PartSum) bool {
		return p.Entries > 0 && !(p.Taxed == "time" && leaves.Time || p.Taxed != "time" && leaves.Expenses)
	})
}

// each are the lines of a draft one by one, where it has a cap, a discount or a
// surcharge: what these leave depends on how they are shared over the lines. It is nil
// where sums do.
func (f *foresight) each(inv *store.Invoice, engagements []store.EngagementRow) ([]store.InvoiceLine, error) {
	discount, err := discountOf(inv)
	if err != nil {
		return nil, app.InField("value", err)
	}
	shared := discount.Amount != 0 || discount.Percent != 0 || inv.Choices.Percent("surcharge") != 0
	if !shared && !slices.ContainsFunc(engagementsIn(engagements), isCapped) {
		return nil, nil
	}
	tx := f.maker.tx
	w := work{charges: map[int64][]store.Charge{}}
	if w.portions, err = f.maker.asked.portions(tx, idsOf(engagements)); err != nil {
		return nil, err
	}
	for _, e := range engagements {
		if !f.left[e.ID].Charges {
			w.charges[e.ID] = f.charges[e.ID]
		}
	}
	lines := w.chargeLines(inv, engagements)
	fit, err := underCaps(tx.DB, inv, engagementsIn(engagements), w.portionsOf(engagements), lines)
	if err != nil {
		return nil, err
	}
	for i := range engagements {
		e := &engagements[i].Engagement
		p, err := setup.ProfileOf(tx.DB, e)
		if err != nil {
			return nil, err
		}
		f.cut[e.ID] = cutBy{}
		for n := range w.portions[e.ID] {
			portion := &w.portions[e.ID][n]
			line, of := lineOf(portion)
			if line.Amount = fit.of(portion); line.Amount == 0 && portion.Agreed > 0 {
				f.cut[e.ID] = f.cut[e.ID].plus(portion.Agreed, 1)
				continue
			}
			f.cut[e.ID] = f.cut[e.ID].plus(portion.Agreed-line.Amount, 0)
			if line.TaxCodeID, err = setup.TaxCode(tx.DB, p, of); err != nil {
				return nil, err
			}
			lines = append(lines, line)
		}
	}
	slices.SortStableFunc(lines, func(a, b store.InvoiceLine) int { // as they stand on a draft
		return cmp.Or(cmp.Compare(a.EngagementID, b.EngagementID), cmp.Compare(a.Day, b.Day))
	})
	return lines, nil
}

// cutBy is what a cap takes off an engagement's work: its value, and entries that are
// not billed at all.
type cutBy struct {
	minor   int64
	entries int
}

func (c cutBy) plus(minor int64, entries int) cutBy {
	return cutBy{c.minor + minor, c.entries + entries}
}

func (f *foresight) sum(t invoice.Totals) error {
	for _, sum := range []struct {
		of  *[]money.Amount
		add money.Amount
	}{{&f.tally.Discount, t.Discount.Neg()}, {&f.tally.Surcharge, t.Surcharge}, {&f.tally.Net, t.Net}, {&f.tally.Total, t.Total}, {&f.tally.Credit, t.Credit}, {&f.tally.Funds, t.Funds}} {
		if err := add(sum.of, sum.add); err != nil {
			return err
		}
	}
	return nil
}

func add(to *[]money.Amount, amount money.Amount) (err error) {
	*to, err = money.AddByCurrency(*to, amount)
	return err
}

var taxedAs = map[string]setup.Taxed{"time": setup.Work, "expense": setup.Expenses, "disbursement": setup.Disbursements}

// lines are the work and charges of an engagement as a line for each tax.
func (f *foresight) lines(e *store.EngagementRow) (lines []store.InvoiceLine, err error) {
	tx, leaves := f.maker.tx.DB, f.left[e.ID]
	p, err := setup.ProfileOf(tx, &e.Engagement)
	if err != nil {
		return nil, err
	}
	for _, part := range f.parts[e.ID] {
		agreed := money.Amount{Minor: part.Agreed, Currency: e.Currency}
		if part.Taxed == "time" && leaves.Time || part.Taxed != "time" && leaves.Expenses {
			if err := add(&f.tally.Left, agreed.Neg()); err != nil {
				return nil, err
			}
			continue
		}
		n, err := f.part(e, &part)
		if err != nil {
			return nil, err
		}
		if n == 0 {
			continue
		}
		line := store.InvoiceLine{EngagementID: e.ID, Kind: invoice.Time, Amount: part.Agreed, Currency: e.Currency}
		if part.Taxed != "time" {
			line.Kind = invoice.Expense
		}
		if line.TaxCodeID, err = setup.TaxCode(tx, p, taxedAs[part.Taxed]); err != nil {
			return nil, err
		}
		lines = append(lines, line)
	}
	return f.chargeLines(e, leaves, lines)
}

// part adds a part of the work to the tally, less what a cap leaves; it says how
// many entries are billed of it.
func (f *foresight) part(e *store.EngagementRow, part *store.PartSum) (int, error) {
	t, over, entries := f.tally, int64(0), part.Entries
	t.WithoutRate += part.WithoutRates
	into := &t.Expenses
	if part.Taxed == "time" {
		into, over = &t.Time, f.cut[e.ID].minor
		entries -= f.cut[e.ID].entries
		t.Minutes += part.Minutes
	}
	part.Agreed -= over
	t.Entries += entries
	for _, sum := range []struct {
		of    *[]money.Amount
		minor int64
	}{{into, part.Agreed + over}, {&t.OverCap, -over}, {&t.NoCharge, -part.AtNoCharge}, {&t.Held, -part.Held}} {
		if err := add(sum.of, money.Amount{Minor: sum.minor, Currency: e.Currency}); err != nil {
			return 0, err
		}
	}
	return entries, nil
}

func (f *foresight) chargeLines(e *store.EngagementRow, leaves Leaving, lines []store.InvoiceLine) ([]store.InvoiceLine, error) {
	for _, c := range f.charges[e.ID] {
		amount := money.Amount{Minor: c.Amount, Currency: e.Currency}
		if leaves.Charges {
			if err := add(&f.tally.Left, amount.Neg()); err != nil {
				return nil, err
			}
			continue
		}
		if c.Open {
			f.tally.OpenPrices++
		}
		if err := add(&f.tally.Charges, amount); err != nil {
			return nil, err
		}
		kind := invoice.Fixed
		if c.Kind == "recurring" {
			kind = invoice.Recurring
		}
		lines = append(lines, store.InvoiceLine{EngagementID: e.ID, Kind: kind, TaxCodeID: c.TaxCodeID, Amount: c.Amount, Currency: e.Currency})
	}
	return lines, nil
}
