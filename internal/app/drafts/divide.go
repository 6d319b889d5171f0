package drafts

import (
	"fmt"
	"slices"

	"dorvet/core/money"
	"dorvet/internal/app"
	"dorvet/internal/app/profiles"
	"dorvet/internal/app/unbilled"
	"dorvet/internal/app/wip"
	"dorvet/internal/store"
)

// dividing is a draft while it is divided among those who pay it together. Each gets a part
// of every line, with their own terms and tax; the parts add up to the line.
type dividing struct {
	tx        *app.Tx
	inv       *store.Invoice
	payers    map[int64][]store.Payer // by engagement
	portions  map[int64]*store.PortionRow
	drafts    map[int64]*store.Invoice // by client
	order     []int64                  // of the clients
	discounts map[int64]int64          // by client, minor units
}

// Divide gives each of those who pay the engagements of a draft a draft with their share of
// every line. The draft itself becomes its client's part, or the first payer's. A cap and a
// discount count on the whole: the discount of each is their share of it. It gives the
// drafts that were made beside this one, up to date; this one has to be brought up to date.
func Divide(tx *app.Tx, firm *store.Firm, inv *store.Invoice) ([]*store.Invoice, error) {
	d, lines, err := readDividing(tx, inv)
	if err != nil {
		return nil, err
	}
	shares := make([][]unbilled.PayerShare, len(lines))
	for i := range lines {
		if shares[i], err = d.sharesOf(&lines[i]); err != nil {
			return nil, err
		}
	}
	if err := d.begin(shares); err != nil {
		return nil, err
	}
	for i := range lines {
		if err := d.divide(&lines[i], shares[i]); err != nil {
			return nil, err
		}
	}
	made := []*store.Invoice{}
	for _, id := range d.order {
		if err := d.discount(id); err != nil {
			return nil, err
		}
		if draft := d.drafts[id]; draft != inv {
			if err := Recompute(tx, firm, draft); err != nil {
				return nil, err
			}
			made = append(made, draft)
		}
	}
	return made, nil
}

func readDividing(tx *app.Tx, inv *store.Invoice) (*dividing, []store.InvoiceLine, error) {
	if inv.Number != nil {
		return nil, nil, app.Refuse(app.Conflict, "It was issued as %s to one client: credit it, then bill it again to all of them.",
			inv.NumberText)
	}
	engagements, err := store.EngagementsOf(tx.DB, inv.ID)
	if err != nil {
		return nil, nil, err
	}
	d := &dividing{tx: tx, inv: inv, portions: map[int64]*store.PortionRow{}, drafts: map[int64]*store.Invoice{},
		discounts: map[int64]int64{}}
	if d.payers, err = store.PayersOf(tx.DB, engagements); err != nil {
		return nil, nil, err
	}
	if len(d.payers) == 0 {
		return nil, nil, app.Refuse(app.Conflict, "Its client pays it alone: name the payers on the engagement first.")
	}
	lines, err := store.LinesOf(tx.DB, inv.ID)
	if err != nil {
		return nil, nil, err
	}
	if len(lines) == 0 {
		return nil, nil, app.Refuse(app.Conflict, "Nothing is on this draft that could be divided: put something on it first.")
	}
	if at := slices.IndexFunc(lines, func(l store.InvoiceLine) bool { return !l.Confirmed }); at >= 0 {
		return nil, nil, app.Refuse(app.Conflict, "The price of “%s” is still open: give it first, then divide.", lines[at].Text)
	}
	on, err := store.PortionsOn(tx.DB, inv.ID)
	for i := range on {
		if !on[i].Covered {
			d.portions[*on[i].LineID] = &on[i]
		}
	}
	return d, lines, err
}

// sharesOf are who pays a line: an advance comes back to who paid it.
func (d *dividing) sharesOf(l *store.InvoiceLine) ([]unbilled.PayerShare, error) {
	payers, own := d.payers[l.EngagementID], l.PayerID
	if len(payers) > 0 && l.AdvanceLineID != nil {
		advance, err := store.Get[store.InvoiceLine](d.tx.DB, *l.AdvanceLineID)
		if err != nil {
			return nil, err
		}
		paid, err := store.Get[store.Invoice](d.tx.DB, advance.InvoiceID)
		if err != nil {
			return nil, err
		}
		own = &paid.ClientID
	}
	return unbilled.SharesOf(payers, d.inv.ClientID, own), nil
}

// begin makes a draft for every payer that has none; this one is its client's, or the
// first's where its client pays nothing of it.
func (d *dividing) begin(shares [][]unbilled.PayerShare) error {
	for _, s := range slices.Concat(shares...) {
		if !slices.Contains(d.order, s.ClientID) {
			d.order = append(d.order, s.ClientID)
		}
	}
	home := d.order[0]
	if slices.Contains(d.order, d.inv.ClientID) {
		home = d.inv.ClientID
	}
	d.drafts[home], d.inv.Divided = d.inv, true
	for _, id := range d.order {
		if id == d.inv.ClientID {
			continue
		}
		draft, err := d.draftFor(id)
		if err != nil {
			return err
		}
		if id == home {
			d.inv.ClientID, d.inv.Choices, d.inv.Terms = id, draft.Choices, draft.Terms
			continue
		}
		if err := store.Insert(d.tx.DB, draft); err != nil {
			return err
		}
		draft.Fresh, d.drafts[id] = false, draft
		d.tx.LinkTo(app.OfInvoice, draft.ID)
	}
	return nil
}

// draftFor is a draft for a payer: on their own terms, with the days of the whole and what
// was chosen for it alone.
func (d *dividing) draftFor(clientID int64) (*store.Invoice, error) {
	p, err := profiles.Profile(d.tx.DB, clientID, 0)
	if err != nil {
		return nil, err
	}
	key := unbilled.Key{ClientID: clientID, EntityID: d.inv.EntityID, SeriesID: d.inv.SeriesID, Currency: d.inv.Currency}
	draft, err := Blank(key, p, d.inv.UpToDay, d.inv.Dated)
	if err != nil {
		return nil, err
	}
	draft.FromDay, draft.TaxDay, draft.RunID, draft.Divided = d.inv.FromDay, d.inv.TaxDay, d.inv.RunID, true
	draft.Choices = unbilled.ChoicesOfPayer(p, d.inv.Choices)
	return draft, nil
}

// divide gives each payer of a line their part of it. The line itself goes to the first.
func (d *dividing) divide(l *store.InvoiceLine, shares []unbilled.PayerShare) error {
	weights := unbilled.Weights(shares)
	amounts, err := money.Split(l.Amount, weights)
	if err != nil {
		return err
	}
	discounts, err := money.Split(l.Discount, weights)
	if err != nil {
		return err
	}
	parts, whole := make([]store.InvoiceLine, len(shares)), *l
	for i, s := range shares {
		part := whole
		part.InvoiceID, part.Amount = d.drafts[s.ClientID].ID, amounts[i]
		d.discounts[s.ClientID] += discounts[i]
		if len(d.payers[l.EngagementID]) > 0 {
			part.PayerID = &s.ClientID
		}
		if len(shares) > 1 {
			part.Quantity, part.UnitPrice, part.Unit, part.PerHour = nil, nil, "", nil
		}
		if part.TaxCodeID, err = d.taxFor(&part, s.ClientID); err != nil {
			return err
		}
		parts[i] = part
	}
	if err := d.divideCharge(parts, weights); err != nil {
		return err
	}
	if portion := d.portions[l.ID]; portion != nil {
		return d.dividePortion(&portion.Portion, parts, weights)
	}
	for i := range parts {
		if err := d.keep(&parts[i], i == 0); err != nil {
			return err
		}
	}
	return nil
}

// keep keeps a part of a line: the first is the line itself, on its payer's draft.
func (d *dividing) keep(l *store.InvoiceLine, first bool) error {
	if err := store.NameEngagement(d.tx.DB, l.InvoiceID, l.EngagementID); err != nil {
		return err
	}
	if first {
		return store.Save(d.tx.DB, l)
	}
	l.Row = store.Row{}
	return store.Insert(d.tx.DB, l)
}

// taxFor is how a payer is taxed for a line: the draft's own client as it stands.
func (d *dividing) taxFor(l *store.InvoiceLine, clientID int64) (int64, error) {
	e, err := store.Get[store.Engagement](d.tx.DB, l.EngagementID)
	if err != nil || e.ClientID == clientID || l.AdvanceLineID != nil {
		return l.TaxCodeID, err
	}
	p, err := profiles.Profile(d.tx.DB, clientID, l.EngagementID)
	if err != nil {
		return 0, err
	}
	as := profiles.Work
	if portion := d.portions[l.ID]; portion != nil {
		as = unbilled.TaxedAs(portion)
	} else if l.LineKindID != nil {
		kind, err := store.Get[store.LineKind](d.tx.DB, *l.LineKindID)
		if err != nil {
			return 0, err
		}
		as = taxedOf[kind.Taxed]
	}
	return profiles.TaxCode(d.tx.DB, p, as)
}

// divideCharge makes a charge for each part of a line, if it is one's.
func (d *dividing) divideCharge(parts []store.InvoiceLine, weights []int64) error {
	if parts[0].ChargeID == nil {
		return nil
	}
	whole, err := store.Get[store.Charge](d.tx.DB, *parts[0].ChargeID)
	if err != nil {
		return err
	}
	amounts, err := money.Split(whole.Amount, weights)
	if err != nil {
		return err
	}
	for i := range parts {
		charge := *whole
		charge.Amount, charge.PayerID = amounts[i], parts[i].PayerID
		if i == 0 {
			err = store.Save(d.tx.DB, &charge)
		} else {
			charge.Row = store.Row{}
			err = store.Insert(d.tx.DB, &charge)
		}
		if err != nil {
			return err
		}
		parts[i].ChargeID = &charge.ID
	}
	return nil
}

// dividePortion divides the work on a line as its amount is, each part on its payer's line.
func (d *dividing) dividePortion(p *store.Portion, parts []store.InvoiceLine, weights []int64) error {
	Concerns(d.tx, d.portions[parts[0].ID])
	pieces, err := p.Piece().Among(weights)
	if err != nil {
		return err
	}
	for i := range parts {
		if len(parts) > 1 {
			parts[i].Minutes = pieces[i].Minutes
		}
		if err := d.keep(&parts[i], i == 0); err != nil {
			return err
		}
		next := p
		if i < len(parts)-1 {
			rest := pieces[i+1]
			for _, later := range pieces[i+2:] {
				rest = rest.Plus(later)
			}
			if next, err = wip.Divide(d.tx, p, pieces[i], rest); err != nil {
				return err
			}
		}
		p.PayerID = parts[i].PayerID
		if err := store.Save(d.tx.DB, p); err != nil {
			return err
		}
		if i > 0 {
			reserved, err := store.Reserve(d.tx.DB, p.ID, parts[i].ID, false)
			if err != nil {
				return err
			}
			if !reserved {
				return fmt.Errorf("part %d of a divided portion, %d, is not unbilled", i+1, p.ID)
			}
		}
		p = next
	}
	return nil
}

// discount gives the draft of a payer their share of the discount of the whole, as an
// amount; another that they have agreed on is for their own work.
func (d *dividing) discount(clientID int64) error {
	draft := d.drafts[clientID]
	amount := money.Amount{Minor: d.discounts[clientID], Currency: draft.Currency}
	return Choose(d.tx, draft, map[string]string{"discount": "0", "discount_amount": amount.Typed()})
}

// SeveralPayers is the finding that a draft is not divided among those who pay it.
const SeveralPayers = "several_payers"

// DivideNow divides a draft as an act of its own, and says so in its history.
func DivideNow(tx *app.Tx, inv *store.Invoice) error {
	firm, err := store.TheFirm(tx.DB)
	if err != nil {
		return err
	}
	whole, err := store.Findings(tx.DB, SeveralPayers, []int64{inv.ID})
	if err != nil {
		return err
	}
	made, err := Divide(tx, firm, inv)
	if err != nil {
		return err
	}
	if len(whole) == 0 {
		return app.Refuse(app.Conflict, "Every line of this is the part of one payer already.")
	}
	tx.Describe(nil, nil, "Divided among those who pay it; %s beside it", app.Counted(len(made), "draft", "drafts"))
	return nil
}
