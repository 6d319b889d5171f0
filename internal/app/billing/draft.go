// Package billing makes drafts of unbilled work, edits them, issues them, and
// keeps the register.
package billing

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"dorvet/core/day"
	"dorvet/core/invoice"
	"dorvet/core/money"
	"dorvet/core/schedule"
	core "dorvet/core/wip"
	"dorvet/internal/app"
	"dorvet/internal/app/setup"
	"dorvet/internal/app/wip"
	"dorvet/internal/store"
)

// Selection says what to make drafts of.
type Selection struct {
	UpTo          day.Day `json:"upTo" format:"date" doc:"cut-off: the last day of work"`
	Dated         day.Day `json:"dated" format:"date" doc:"invoice date"`
	EngagementIDs []int64 `json:"engagementIds" minItems:"1" maxItems:"10000"`
}

// Made is a draft that was made.
type Made struct {
	ID     int64        `json:"id"`
	Client string       `json:"client"`
	Net    money.Amount `json:"net"`
}

// MakeDrafts puts the unbilled work of a selection on drafts, one for a client
// or for an engagement, as the client has it. Its entries are reserved.
func MakeDrafts(ctx context.Context, a *app.App, r app.Request, s Selection) ([]Made, error) {
	if s.UpTo.IsZero() || s.Dated.IsZero() {
		return nil, app.RefuseField("upTo", "Give the last day of work and the invoice date, like 2026-11-30.")
	}
	return app.Do(ctx, a, r, "make drafts", s, func(tx *app.Tx) ([]Made, error) {
		slices.Sort(s.EngagementIDs)
		rows, err := store.UnbilledPortions(tx.DB, store.UnbilledFilter{UpTo: s.UpTo, Sight: tx.Actor.Sight(), EngagementIDs: slices.Compact(s.EngagementIDs)})
		if err != nil {
			return nil, err
		}
		rows = slices.DeleteFunc(rows, func(p store.PortionRow) bool { return p.WithoutRate || p.Hold.Holds(p.HoldUntil, tx.Today) })
		if len(rows) == 0 {
			return nil, app.Refuse(app.Conflict, "Nothing of this is unbilled up to %s. It may be on a draft already: look under Billing.", s.UpTo.Long())
		}
		maker, err := newMaker(tx, s)
		if err != nil {
			return nil, err
		}
		return maker.all(rows)
	})
}

// maker makes the drafts of one act.
type maker struct {
	tx          *app.Tx
	asked       Selection
	firm        *store.Firm
	engagements []store.EngagementRow
	made        []Made
	capped      []string // engagements of which a cap lets nothing be billed
}

func newMaker(tx *app.Tx, s Selection) (*maker, error) {
	firm, err := store.TheFirm(tx.DB)
	if err != nil {
		return nil, err
	}
	engagements, err := store.EngagementRows(tx.DB, s.EngagementIDs)
	return &maker{tx: tx, asked: s, firm: firm, engagements: engagements}, err
}

func (m *maker) all(rows []store.PortionRow) ([]Made, error) {
	work := map[int64][]store.PortionRow{}
	for _, p := range rows {
		work[p.EngagementID] = append(work[p.EngagementID], p)
	}
	order, groups := []wip.DraftOf{}, map[wip.DraftOf][]store.EngagementRow{}
	for _, e := range m.engagements {
		if len(work[e.ID]) == 0 {
			continue
		}
		key := wip.Group(e)
		if groups[key] == nil {
			order = append(order, key)
		}
		groups[key] = append(groups[key], e)
	}
	for _, key := range order {
		if err := m.one(key, groups[key], work); err != nil {
			return nil, err
		}
	}
	if len(m.made) == 0 {
		return nil, app.Refuse(app.Conflict, "The cap of %s is reached, so that nothing of this can be billed. Agree on a higher cap and set it first.", strings.Join(m.capped, ", "))
	}
	m.tx.Tell(nil, m.made, "Made %s of work up to %s", counted(len(m.made), "draft", "drafts"), m.asked.UpTo.Long())
	return m.made, nil
}

func (m *maker) one(key wip.DraftOf, engagements []store.EngagementRow, work map[int64][]store.PortionRow) error {
	inv, err := m.blank(key, engagements[0])
	if err != nil {
		return err
	}
	if len(engagements) > 1 { // what holds for all of them is the client's
		p, err := setup.Profile(m.tx.DB, key.ClientID, 0)
		if err != nil {
			return err
		}
		inv.Choices = p.Choices()
	}
	if err := store.Insert(m.tx.DB, inv); err != nil {
		return err
	}
	put := 0
	for _, e := range engagements {
		n, err := putOn(m.tx, inv, work[e.ID])
		if err != nil {
			return err
		}
		put += n
	}
	if put == 0 {
		m.capped = append(m.capped, engagements[0].Name)
		return store.Forget(m.tx.DB, inv)
	}
	m.tx.Concerns(app.OfInvoice, inv.ID)
	if err := takeBackAdvances(m.tx, inv); err != nil {
		return err
	}
	if err := recompute(m.tx, m.firm, inv); err != nil {
		return err
	}
	m.made = append(m.made, Made{inv.ID, engagements[0].Client, money.Amount{Minor: inv.Net, Currency: inv.Currency}})
	return nil
}

// blank is a draft without lines, with what it takes over from the billing profile.
func (m *maker) blank(key wip.DraftOf, e store.EngagementRow) (*store.Invoice, error) {
	if key.SeriesID == 0 {
		return nil, app.Refuse(app.Conflict, "The issuing entity of %s has no series of invoice numbers: give it one under Set-up.", e.Name)
	}
	p, err := setup.Profile(m.tx.DB, e.ClientID, e.ID)
	if err != nil {
		return nil, err
	}
	spelled := p.Text("terms")
	terms, err := schedule.ParseTerms(spelled)
	if err != nil {
		return nil, app.InField("terms", err)
	}
	return &store.Invoice{
		Kind: invoice.Ordinary, EntityID: key.EntityID, SeriesID: key.SeriesID, ClientID: key.ClientID, Currency: key.Currency, State: invoice.Draft,
		UpToDay: m.asked.UpTo, Dated: m.asked.Dated, DueDay: terms.Due(m.asked.Dated), TaxDay: m.asked.Dated, Terms: spelled, Choices: p.Choices(),
	}, nil
}

// underFee reports whether work counts against a cap, or is covered by a fee: time
// within the scope of the arrangement is, expenses are not.
func underFee(p *store.PortionRow) bool { return !p.IsExpense() && p.Treatment != core.OutOfScope }

// putOn reserves portions of an engagement, each on a line of its own, as far as
// a cap goes. It says how many it put on.
func putOn(tx *app.Tx, inv *store.Invoice, portions []store.PortionRow) (int, error) {
	if len(portions) == 0 {
		return 0, nil
	}
	e, err := store.Get[store.Engagement](tx.DB, portions[0].EngagementID)
	if err != nil {
		return 0, err
	}
	if portions, err = cutAtCap(tx, e, portions); err != nil {
		return 0, err
	}
	p, err := setup.ProfileOf(tx.DB, e)
	if err != nil {
		return 0, err
	}
	lines := make([]store.InvoiceLine, len(portions))
	taxed := map[setup.Taxed]int64{} // asked once for all lines of a kind
	for i := range portions {
		var of setup.Taxed
		lines[i], of = lineOf(&portions[i])
		if taxed[of] == 0 {
			if taxed[of], err = setup.TaxCode(tx.DB, p, of); err != nil {
				return 0, err
			}
		}
		lines[i].InvoiceID, lines[i].TaxCodeID = inv.ID, taxed[of]
	}
	if err := insertLines(tx, inv, lines); err != nil {
		return 0, err
	}
	for i := range portions {
		if err := reserve(tx, &portions[i], lines[i].ID, false); err != nil {
			return 0, err
		}
	}
	return len(portions), nil
}

// insertLines adds lines to a draft: at its end, if somebody has put its lines in
// an order.
func insertLines(tx *app.Tx, inv *store.Invoice, lines []store.InvoiceLine) error {
	last, err := store.LastPosition(tx.DB, inv.ID)
	if err != nil {
		return err
	}
	for i := range lines {
		lines[i].InvoiceID, lines[i].Currency, lines[i].Confirmed = inv.ID, inv.Currency, lines[i].Confirmed || lines[i].ChargeID == nil
		if last > 0 {
			lines[i].Position = last + 1 + i
		}
	}
	if err := store.Insert(tx.DB, lines); err != nil {
		return err
	}
	for _, l := range lines {
		if err := store.NameEngagement(tx.DB, inv.ID, l.EngagementID); err != nil {
			return err
		}
	}
	return nil
}

func reserve(tx *app.Tx, p *store.PortionRow, lineID int64, covered bool) error {
	reserved, err := store.Reserve(tx.DB, p.ID, lineID, covered)
	if err != nil {
		return err
	}
	if !reserved {
		return app.Refuse(app.Conflict, "The entry of %s is not unbilled any more: load the page again.", p.WorkedDay.Long())
	}
	concerns(tx, p)
	return nil
}

// lineOf is the line of a portion, and as what it is taxed.
func lineOf(p *store.PortionRow) (store.InvoiceLine, setup.Taxed) {
	line := store.InvoiceLine{EngagementID: p.EngagementID, Kind: invoice.Time, Day: p.WorkedDay, PersonID: &p.PersonID, Text: lineText(*p), Minutes: p.Minutes,
		Amount: p.Agreed, Currency: p.Currency, Treatment: p.Treatment}
	if p.IsExpense() {
		line.Kind, line.PersonID = invoice.Expense, nil
		if p.ExpenseValued.Disbursement {
			return line, setup.Disbursements
		}
		return line, setup.Expenses
	}
	if perHour, ok := p.Valued.Rate.PerHour(); ok && p.Valued.Flat == nil && p.Agreed == p.Valued.Agreed.Minor {
		line.PerHour = &perHour // a part, as a cap cuts it, shows no rate
	}
	return line, setup.Work
}

// concerns links an act to the entry or purchase of a portion.
func concerns(tx *app.Tx, p *store.PortionRow) {
	if p.IsExpense() {
		tx.Concerns(app.OfPurchase, p.PurchaseID)
		return
	}
	tx.Concerns(app.OfEntry, p.SourceID)
}

func lineText(p store.PortionRow) string {
	if p.Text != "" {
		return p.Text
	}
	return p.Service
}

func counted(n int, one, many string) string {
	if n == 1 {
		return "1 " + one
	}
	return fmt.Sprintf("%d %s", n, many)
}
