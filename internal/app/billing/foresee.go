package billing

import (
	"cmp"
	"context"
	"slices"

	"dorvet/core/invoice"
	"dorvet/core/money"
	"dorvet/core/tax"
	"dorvet/core/wording"
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

// Foresee says what making drafts of a selection would come to. It changes nothing.
func Foresee(ctx context.Context, a *app.App, actor app.Actor, s Selection) (*Tally, error) {
	if err := s.complete(); err != nil {
		return nil, err
	}
	tx := app.Trial(a.Store.Read(ctx), a, actor)
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
}

func newForesight(tx *app.Tx, s Selection) (*foresight, error) {
	none := func() []money.Amount { return []money.Amount{} }
	f := &foresight{left: s.left(), parts: map[int64][]store.PartSum{}, charges: map[int64][]store.Charge{}, spoken: nothingSpoken(),
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
	sight := tx.Actor.Sight()
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
	lines, on := []store.InvoiceLine{}, []store.EngagementRow{}
	for i := range engagements {
		if len(f.parts[engagements[i].ID]) == 0 && len(f.charges[engagements[i].ID]) == 0 {
			continue
		}
		own, has, err := f.lines(&engagements[i])
		if err != nil {
			return err
		}
		f.tally.Engagements++
		if has {
			on = append(on, engagements[i])
		}
		lines = append(lines, own...)
	}
	if len(lines) == 0 {
		return nil
	}
	inv, err := f.maker.blank(key, on)
	if err != nil {
		return err
	}
	amount, _, err := inv.Choices.Amount("discount_amount", inv.Currency)
	if err != nil {
		return app.InField("value", err)
	}
	if amount != 0 || inv.Choices.Percent("discount") != 0 {
		if lines, err = f.each(inv, on); err != nil {
			return err
		}
	}
	back, err := advancesBack(f.maker.tx.DB, inv, lines)
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
	billed := []int64{}
	for _, l := range lines {
		billed = append(billed, l.EngagementID)
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

// each are the lines of a draft one by one, in place of their sums: what a discount
// leaves for surcharge and tax depends on how it is shared over them.
func (f *foresight) each(inv *store.Invoice, engagements []store.EngagementRow) ([]store.InvoiceLine, error) {
	tx, lines := f.maker.tx, []store.InvoiceLine{}
	portions, err := f.maker.asked.portions(tx, idsOf(engagements))
	if err != nil {
		return nil, err
	}
	for i := range engagements {
		e := &engagements[i].Engagement
		p, err := setup.ProfileOf(tx.DB, e)
		if err != nil {
			return nil, err
		}
		fits, err := underCap(tx.DB, e, portions[e.ID])
		if err != nil {
			return nil, err
		}
		for n := range portions[e.ID] {
			line, of := lineOf(&portions[e.ID][n])
			line.Amount = fits[n]
			if line.TaxCodeID, err = setup.TaxCode(tx.DB, p, of); err != nil {
				return nil, err
			}
			lines = append(lines, line)
		}
		for n := range f.charges[e.ID] {
			if !f.left[e.ID].Charges {
				lines = append(lines, chargeLine(inv, &f.charges[e.ID][n], wording.Words{}))
			}
		}
	}
	slices.SortStableFunc(lines, func(a, b store.InvoiceLine) int { // as they stand on a draft
		return cmp.Or(cmp.Compare(a.EngagementID, b.EngagementID), cmp.Compare(a.Day, b.Day))
	})
	return lines, nil
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

// lines are the work and charges of an engagement as a line for each tax, and
// whether it has something to bill: a cap can leave nothing of that.
func (f *foresight) lines(e *store.EngagementRow) (lines []store.InvoiceLine, has bool, err error) {
	tx, leaves := f.maker.tx.DB, f.left[e.ID]
	p, err := setup.ProfileOf(tx, &e.Engagement)
	if err != nil {
		return nil, false, err
	}
	for _, part := range f.parts[e.ID] {
		agreed := money.Amount{Minor: part.Agreed, Currency: e.Currency}
		if part.Taxed == "time" && leaves.Time || part.Taxed != "time" && leaves.Expenses {
			if err := add(&f.tally.Left, agreed.Neg()); err != nil {
				return nil, false, err
			}
			continue
		}
		has = has || part.Entries > 0
		n, err := f.part(e, &part)
		if err != nil {
			return nil, false, err
		}
		if n == 0 {
			continue
		}
		line := store.InvoiceLine{EngagementID: e.ID, Kind: invoice.Time, Amount: part.Agreed, Currency: e.Currency}
		if part.Taxed != "time" {
			line.Kind = invoice.Expense
		}
		if line.TaxCodeID, err = setup.TaxCode(tx, p, taxedAs[part.Taxed]); err != nil {
			return nil, false, err
		}
		lines = append(lines, line)
	}
	lines, err = f.chargeLines(e, leaves, lines)
	return lines, has || len(lines) > 0, err
}

// part adds a part of the work to the tally, less what a cap leaves; it says how
// many entries are billed of it.
func (f *foresight) part(e *store.EngagementRow, part *store.PartSum) (int, error) {
	t := f.tally
	t.WithoutRate += part.WithoutRates
	over, entries := int64(0), part.Entries
	if part.Taxed == "time" && e.Arrangement == setup.Capped && e.Fee != nil {
		before, err := store.FeesOn(f.maker.tx.DB, e.ID)
		if err != nil {
			return 0, err
		}
		left := max(0, *e.Fee-before)
		if over = max(0, part.Capped-left); left == 0 && part.Agreed == part.Capped && over > 0 {
			entries = part.Worthless // what is at no charge is billed all the same
		}
	}
	part.Agreed -= over
	if entries > 0 {
		t.Entries += entries
	}
	into := &t.Time
	if part.Taxed != "time" {
		into = &t.Expenses
	} else {
		t.Minutes += part.Minutes
	}
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
