// Package billing makes drafts of unbilled work, edits them, issues them, and
// keeps the register.
package billing

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"dorvet/core/invoice"
	"dorvet/core/money"
	"dorvet/core/profile"
	"dorvet/core/schedule"
	core "dorvet/core/wip"
	"dorvet/internal/app"
	"dorvet/internal/app/setup"
	"dorvet/internal/store"
)

// Made is a draft that was made.
type Made struct {
	ID     int64        `json:"id"`
	RunID  int64        `json:"runId"`
	Client string       `json:"client"`
	Net    money.Amount `json:"net"`
}

// MakeDrafts puts the unbilled work and charges of a selection on drafts, one for
// a client or for an engagement, as the client has it or as was chosen: a billing
// run. What is on them is reserved, so that nothing is billed twice.
func MakeDrafts(ctx context.Context, a *app.App, r app.Request, s Selection) ([]Made, error) {
	return app.Do(ctx, a, r, "make drafts", s, func(tx *app.Tx) ([]Made, error) {
		return makeDrafts(tx, s)
	})
}

func makeDrafts(tx *app.Tx, s Selection) ([]Made, error) {
	if err := s.complete(); err != nil {
		return nil, err
	}
	found, err := s.found(tx)
	if err != nil {
		return nil, err
	}
	maker, err := newMaker(tx, s)
	if err != nil {
		return nil, err
	}
	return maker.all(found)
}

// maker makes the drafts of one act.
type maker struct {
	tx     *app.Tx
	asked  Selection
	firm   *store.Firm
	run    *store.BillingRun // nil: outside of any run
	made   []Made
	capped []string // engagements of which a cap lets nothing be billed
}

func newMaker(tx *app.Tx, s Selection) (*maker, error) {
	firm, err := store.TheFirm(tx.DB)
	return &maker{tx: tx, asked: s, firm: firm}, err
}

func (m *maker) all(found *work) ([]Made, error) {
	engagements := slices.DeleteFunc(found.engagements, func(e store.EngagementRow) bool { return !found.has(&e) })
	if len(engagements) == 0 {
		return nil, app.Refuse(app.Conflict, "Nothing of this is unbilled up to %s. It may be on a draft already: look under Billing.", m.asked.UpTo.Long())
	}
	var err error
	if m.run, err = runFor(m.tx, &m.asked); err != nil {
		return nil, err
	}
	order, groups := m.asked.grouped(engagements)
	for _, key := range order {
		if err := m.one(key, groups[key], found); err != nil {
			return nil, err
		}
	}
	if len(m.made) == 0 {
		return nil, app.Refuse(app.Conflict, "The cap of %s is reached, so that nothing of this can be billed. Agree on a higher cap and set it first.", strings.Join(m.capped, ", "))
	}
	m.tx.Describe(nil, nil, "Made %s of work up to %s", counted(len(m.made), "draft", "drafts"), m.asked.UpTo.Long())
	return m.made, m.join(engagements)
}

// join makes engagements members of the run, with what is taken of each.
func (m *maker) join(engagements []store.EngagementRow) error {
	left := m.asked.left()
	for _, e := range engagements {
		leaves := left[e.ID]
		member := store.RunMember{RunID: m.run.ID, EngagementID: e.ID, Time: !leaves.Time, Expenses: !leaves.Expenses, Charges: !leaves.Charges}
		if err := store.SetMember(m.tx.DB, member); err != nil {
			return err
		}
	}
	return nil
}

func (m *maker) one(key draftOf, engagements []store.EngagementRow, found *work) error {
	inv, err := m.blank(key, engagements)
	if err != nil {
		return err
	}
	if err := store.Insert(m.tx.DB, inv); err != nil {
		return err
	}
	on := 0
	fit, err := underCaps(m.tx.DB, inv, engagementsIn(engagements), found.portionsOf(engagements), found.chargeLines(inv, engagements))
	if err != nil {
		return err
	}
	for _, e := range engagements {
		p, err := m.profile(e.ClientID, e.ID)
		if err != nil {
			return err
		}
		n, err := put(m.tx, inv, p, found.portions[e.ID], fit)
		if err != nil {
			return err
		}
		if err := putCharges(m.tx, inv, found.charges[e.ID]); err != nil {
			return err
		}
		on += n + len(found.charges[e.ID])
	}
	if on == 0 {
		m.capped = append(m.capped, engagements[0].Name)
		return store.Forget(m.tx.DB, inv)
	}
	m.tx.LinkTo(app.OfInvoice, inv.ID)
	if err := takeBackAdvances(m.tx, inv); err != nil {
		return err
	}
	if err := recompute(m.tx, m.firm, inv); err != nil {
		return err
	}
	m.made = append(m.made, Made{inv.ID, m.run.ID, engagements[0].Client, money.Amount{Minor: inv.Net, Currency: inv.Currency}})
	return nil
}

// profile is the billing profile of an engagement, or of a client as such; drafts that
// are made change none.
func (m *maker) profile(clientID, engagementID int64) (profile.Profile, error) {
	return app.Memo(m.tx, fmt.Sprintf("profile of %d, %d", clientID, engagementID), func(tx *store.DB) (profile.Profile, error) {
		return setup.Profile(tx, clientID, engagementID)
	})
}

// blank is a draft without lines, with what it takes over from the billing
// profile: what holds for several engagements is the client's.
func (m *maker) blank(key draftOf, engagements []store.EngagementRow) (*store.Invoice, error) {
	e := engagements[0]
	if key.SeriesID == 0 {
		return nil, app.Refuse(app.Conflict, "The issuing entity of %s has no series of invoice numbers: give it one under Set-up.", e.Name)
	}
	p, err := m.profile(e.ClientID, only(idsOf(engagements)))
	if err != nil {
		return nil, err
	}
	inv := &store.Invoice{
		Kind: invoice.Ordinary, EntityID: key.EntityID, SeriesID: key.SeriesID, ClientID: key.ClientID, Currency: key.Currency, State: invoice.Draft,
		UpToDay: m.asked.UpTo, Dated: m.asked.Dated, TaxDay: m.asked.Dated, Terms: p.Text("terms"), Choices: p.Choices(), Fresh: true,
	}
	if m.run != nil {
		inv.RunID = &m.run.ID
		follow(inv, m.run)
	}
	terms, err := schedule.ParseTerms(inv.Terms)
	if err != nil {
		return nil, app.InField("terms", err)
	}
	inv.DueDay = terms.Due(inv.Dated)
	return inv, nil
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
	p, err := setup.ProfileOf(tx.DB, e)
	if err != nil {
		return 0, err
	}
	if !isCapped(e) {
		return put(tx, inv, p, portions, nil)
	}
	others, err := store.LinesOf(tx.DB, inv.ID)
	if err != nil {
		return 0, err
	}
	fit, err := underCaps(tx.DB, inv, []*store.Engagement{e}, portions, others)
	if err != nil {
		return 0, err
	}
	return put(tx, inv, p, portions, fit)
}

// put is putOn, of an engagement whose profile and cap are known.
func put(tx *app.Tx, inv *store.Invoice, p profile.Profile, portions []store.PortionRow, fit fits) (n int, err error) {
	if portions, err = cutAtCaps(tx, portions, fit); err != nil || len(portions) == 0 {
		return 0, err
	}
	lines := make([]store.InvoiceLine, len(portions))
	taxed := map[setup.Taxed]int64{} // asked once for all lines of a kind
	for i := range portions {
		var of setup.Taxed
		lines[i], of = lineOf(&portions[i])
		if taxed[of] == 0 {
			if taxed[of], err = taxOf(tx, p, of); err != nil {
				return 0, err
			}
		}
		lines[i].InvoiceID, lines[i].TaxCodeID = inv.ID, taxed[of]
	}
	if err := insertLines(tx, inv, lines); err != nil {
		return 0, err
	}
	return len(portions), reserveAll(tx, portions, lines)
}

// taxOf is the tax code of what a profile's client is billed.
func taxOf(tx *app.Tx, p profile.Profile, of setup.Taxed) (int64, error) {
	return app.Memo(tx, "tax as "+string(of)+", "+p.Text(string(of))+", "+p.Text(string(setup.Work)), func(db *store.DB) (int64, error) {
		return setup.TaxCode(db, p, of)
	})
}

// reserveAll reserves portions, each on the line at its place.
func reserveAll(tx *app.Tx, portions []store.PortionRow, lines []store.InvoiceLine) error {
	on := make([][2]int64, len(portions))
	for i := range portions {
		on[i] = [2]int64{portions[i].ID, lines[i].ID}
		concerns(tx, &portions[i])
	}
	reserved, err := store.ReserveAll(tx.DB, on)
	if err == nil && reserved != len(portions) {
		err = app.Refuse(app.Conflict, "Some of these entries are not unbilled any more: load the page again.")
	}
	return err
}

// insertLines adds lines to a draft: at its end, if somebody has put its lines in
// an order.
func insertLines(tx *app.Tx, inv *store.Invoice, lines []store.InvoiceLine) error {
	last := 0
	if !inv.Fresh {
		var err error
		if last, err = store.LastPosition(tx.DB, inv.ID); err != nil {
			return err
		}
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
	named := map[int64]bool{}
	for _, l := range lines {
		if named[l.EngagementID] {
			continue
		}
		named[l.EngagementID] = true
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
		if p.Disbursement {
			return line, setup.Disbursements
		}
		return line, setup.Expenses
	}
	line.PerHour = shownRate(p)
	return line, setup.Work
}

// shownRate is the rate that the client reads on the line of a portion: the one
// that it was valued at, or written to. What no rate explains shows none, as a part
// that a cap cuts.
func shownRate(p *store.PortionRow) *money.Rate {
	if p.OwnRate != nil {
		amount, err := p.OwnRate.ForMinutes(int64(p.Minutes), 0, p.Currency)
		if err == nil && amount.Minor == p.Agreed {
			return p.OwnRate
		}
		return nil
	}
	if p.Part == 0 && p.Agreed == p.AgreedWhole {
		return p.ValuedAt
	}
	return nil
}

// concerns links an act to the entry or purchase of a portion.
func concerns(tx *app.Tx, p *store.PortionRow) {
	if p.IsExpense() {
		tx.LinkTo(app.OfPurchase, p.PurchaseID)
		return
	}
	tx.LinkTo(app.OfEntry, p.SourceID)
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
