package billing

import (
	"context"
	"slices"
	"strings"

	"dorvet/core/day"
	"dorvet/core/invoice"
	"dorvet/core/money"
	"dorvet/internal/app"
	"dorvet/internal/app/setup"
	"dorvet/internal/app/wip"
	"dorvet/internal/store"

	"gorm.io/gorm"
)

// Beginning says what a single invoice begins with: work of a client or of one
// engagement, an accepted proposal, an old invoice, or a template.
type Beginning struct {
	ClientID     int64   `json:"clientId" doc:"0 if an engagement, proposal or invoice says whose it is"`
	EngagementID int64   `json:"engagementId" doc:"0: all that can stand on one invoice"`
	ProposalID   int64   `json:"proposalId" doc:"an accepted one: what was agreed once"`
	LikeID       int64   `json:"likeId" doc:"an old invoice: its lines again, by hand"`
	TemplateID   int64   `json:"templateId"`
	Take         string  `json:"take" enum:"all,time,expenses,fees,nothing" doc:"of what is unbilled"`
	PersonID     int64   `json:"personId" doc:"time of this person only; 0: of all"`
	UpTo         day.Day `json:"upTo,omitempty" format:"date" doc:"nothing: today"`
	Dated        day.Day `json:"dated,omitempty" format:"date" doc:"nothing: today"`
}

// Begin makes a draft outside of any run. What the client has unbilled is put on it
// as far as is asked; it may have nothing on it yet.
func Begin(ctx context.Context, a *app.App, r app.Request, b Beginning) (*Invoice, error) {
	return app.Do(ctx, a, r, "begin invoice", b, func(tx *app.Tx) (*Invoice, error) {
		if b.UpTo.IsZero() {
			b.UpTo = tx.Today
		}
		if b.Dated.IsZero() {
			b.Dated = tx.Today
		}
		engagements, err := engagementsFor(tx, &b)
		if err != nil {
			return nil, err
		}
		maker, err := newMaker(tx, Selection{UpTo: b.UpTo, Dated: b.Dated, EngagementIDs: idsOf(engagements)})
		if err != nil {
			return nil, err
		}
		key := wip.Group(engagements[0])
		inv, err := maker.blank(key, engagements[0])
		if err != nil {
			return nil, err
		}
		if err := store.Insert(tx.DB, inv); err != nil {
			return nil, err
		}
		tx.Concerns(app.OfInvoice, inv.ID)
		if err := fill(tx, inv, b, engagements); err != nil {
			return nil, err
		}
		tx.Tell(nil, nil, "Began an invoice for %s", engagements[0].Client)
		return settled(tx, maker.firm, inv, engagements[0].ID)
	})
}

func idsOf(engagements []store.EngagementRow) []int64 {
	ids := make([]int64, len(engagements))
	for i, e := range engagements {
		ids[i] = e.ID
	}
	return ids
}

// settled brings a draft that was filled up to date, and shows it. A line by hand
// has somewhere to go: without anything on it, it is of the first engagement.
func settled(tx *app.Tx, firm *store.Firm, inv *store.Invoice, first int64) (*Invoice, error) {
	on, err := store.EngagementsOf(tx.DB, inv.ID)
	if err != nil {
		return nil, err
	}
	if len(on) == 0 {
		if err := store.NameEngagement(tx.DB, inv.ID, first); err != nil {
			return nil, err
		}
	}
	if len(on) > 1 || len(on) == 1 && on[0] != first {
		p, err := setup.Profile(tx.DB, inv.ClientID, only(on))
		if err != nil {
			return nil, err
		}
		inv.Choices, inv.Terms = p.Choices(), p.Text("terms")
	}
	if err := takeBackAdvances(tx, inv); err != nil {
		return nil, err
	}
	if err := recompute(tx, firm, inv); err != nil {
		return nil, err
	}
	return Shown(tx, inv.ID)
}

// engagementsFor are the engagements that an invoice can begin with: those of one
// issuing entity, series and currency. A client without any gets one.
func engagementsFor(tx *app.Tx, b *Beginning) ([]store.EngagementRow, error) {
	if b.LikeID != 0 {
		old, err := visible(tx.DB, tx.Actor, b.LikeID)
		if err != nil {
			return nil, err
		}
		b.ClientID = old.ClientID
		if ids, err := store.EngagementsOf(tx.DB, old.ID); err != nil {
			return nil, err
		} else if b.EngagementID == 0 && len(ids) > 0 {
			b.EngagementID = slices.Min(ids)
		}
	}
	if b.ProposalID != 0 {
		return agreedFor(tx, b)
	}
	if b.EngagementID != 0 {
		rows, err := store.EngagementRows(tx.DB, []int64{b.EngagementID})
		if err == nil && (len(rows) == 0 || !tx.Actor.Sight().SeesEntity(rows[0].EntityID)) {
			err = app.Missing(store.ErrNotFound, "engagement")
		}
		return rows, err
	}
	rows, err := store.EngagementRowsOf(tx.DB, b.ClientID, tx.Actor.Sight())
	if err != nil {
		return nil, err
	}
	rows = slices.DeleteFunc(rows, func(e store.EngagementRow) bool { return !e.Active || !e.Billable })
	if len(rows) == 0 {
		return madeFor(tx, b.ClientID)
	}
	return alike(tx, rows, b)
}

// agreedFor are the engagements that a proposal made.
func agreedFor(tx *app.Tx, b *Beginning) ([]store.EngagementRow, error) {
	p, err := store.Get[store.Proposal](tx.DB, b.ProposalID)
	if err != nil {
		return nil, app.Missing(err, "proposal")
	}
	if p.State != "accepted" {
		return nil, app.Refuse(app.Conflict, "%s is not accepted: record the acceptance first, then bill it.", p.NumberText)
	}
	rows, err := store.EngagementRowsOf(tx.DB, p.ClientID, tx.Actor.Sight())
	if err != nil {
		return nil, err
	}
	rows = slices.DeleteFunc(rows, func(e store.EngagementRow) bool { return e.ProposalID == nil || *e.ProposalID != p.ID })
	if len(rows) == 0 {
		return nil, app.Missing(store.ErrNotFound, "engagement")
	}
	return alike(tx, rows, b)
}

// alike keeps the engagements that can stand on one invoice with the first that has
// something to bill.
func alike(tx *app.Tx, rows []store.EngagementRow, b *Beginning) ([]store.EngagementRow, error) {
	open, err := store.UnbilledPortions(tx.DB, store.UnbilledFilter{UpTo: b.UpTo, EngagementIDs: idsOf(rows)})
	if err != nil {
		return nil, err
	}
	first := rows[0]
	if len(open) > 0 {
		first = rows[slices.IndexFunc(rows, func(e store.EngagementRow) bool { return e.ID == open[0].EngagementID })]
	}
	return slices.DeleteFunc(rows, func(e store.EngagementRow) bool {
		return e.EntityID != first.EntityID || e.Numbered != first.Numbered || e.Currency != first.Currency
	}), nil
}

// madeFor makes an engagement for a client that has none, so that what is billed
// has a lead and stands in every report.
func madeFor(tx *app.Tx, clientID int64) ([]store.EngagementRow, error) {
	client, err := store.Get[store.Client](tx.DB, clientID)
	if err != nil {
		return nil, app.Missing(err, "client")
	}
	id, err := setup.Make(tx, "engagements", map[string]string{"client": client.Code, "name": "One-off work"})
	if err != nil {
		return nil, err
	}
	return store.EngagementRows(tx.DB, []int64{id})
}

// fill puts on a new draft what it begins with.
func fill(tx *app.Tx, inv *store.Invoice, b Beginning, engagements []store.EngagementRow) error {
	if b.ProposalID != 0 {
		return fillAgreed(tx, inv, engagements)
	}
	if b.LikeID != 0 {
		if err := fillLike(tx, inv, b.LikeID); err != nil {
			return err
		}
	}
	if b.TemplateID != 0 {
		if err := fillFrom(tx, inv, b.TemplateID, engagements[0].ID); err != nil {
			return err
		}
	}
	return takeUp(tx, inv, b, idsOf(engagements))
}

// takeUp puts unbilled work on a draft: all of it, or only time, expenses or fees,
// only one person's.
func takeUp(tx *app.Tx, inv *store.Invoice, b Beginning, engagements []int64) error {
	if b.Take == "nothing" || b.Take == "" {
		return nil
	}
	rows, err := store.UnbilledPortions(tx.DB, store.UnbilledFilter{UpTo: inv.UpToDay, EngagementIDs: engagements})
	if err != nil {
		return err
	}
	byEngagement := map[int64][]store.PortionRow{}
	for _, p := range rows {
		wanted := b.Take == "all" || b.Take == "time" && !p.IsExpense() || b.Take == "expenses" && p.IsExpense()
		if wanted && !p.WithoutRate && !p.Hold.Holds(p.HoldUntil, tx.Today) && (b.PersonID == 0 || p.PersonID == b.PersonID && !p.IsExpense()) {
			byEngagement[p.EngagementID] = append(byEngagement[p.EngagementID], p)
		}
	}
	for _, id := range engagements {
		if _, err := putOn(tx, inv, byEngagement[id]); err != nil {
			return err
		}
	}
	if b.Take != "all" && b.Take != "fees" || b.PersonID != 0 {
		return nil
	}
	charges, err := chargesDue(tx, engagements, inv.Dated)
	if err != nil {
		return err
	}
	return putCharges(tx, inv, charges)
}

// TakeUp puts on a draft what is unbilled of its client, again or for the first
// time.
func TakeUp(ctx context.Context, a *app.App, r app.Request, e Edit, take string, personID int64) (*Invoice, error) {
	return change(ctx, a, r, "take up unbilled work", e, []any{take, personID}, func(tx *app.Tx, inv *store.Invoice) error {
		rows, err := store.EngagementRowsOf(tx.DB, inv.ClientID, tx.Actor.Sight())
		if err != nil {
			return err
		}
		ids := []int64{}
		for _, e := range rows {
			if e.EntityID == inv.EntityID && e.Numbered == inv.SeriesID && e.Currency == inv.Currency {
				ids = append(ids, e.ID)
			}
		}
		before, err := store.LinesOf(tx.DB, inv.ID)
		if err != nil {
			return err
		}
		if err := takeUp(tx, inv, Beginning{Take: take, PersonID: personID}, ids); err != nil {
			return err
		}
		after, err := store.LinesOf(tx.DB, inv.ID)
		if err == nil && len(after) == len(before) {
			err = app.Refuse(app.Conflict, "Nothing of this is unbilled up to %s.", inv.UpToDay.Long())
		}
		tx.Tell(nil, nil, "Put on %s that was unbilled", counted(len(after)-len(before), "line", "lines"))
		return err
	})
}

// fillAgreed puts on what a proposal agreed to bill once, whenever it would be due.
func fillAgreed(tx *app.Tx, inv *store.Invoice, engagements []store.EngagementRow) error {
	charges, err := store.PlannedCharges(tx.DB, idsOf(engagements))
	if err != nil {
		return err
	}
	charges = slices.DeleteFunc(charges, func(c store.Charge) bool { return c.Kind != "fixed" })
	if len(charges) == 0 {
		return app.Refuse(app.Conflict, "Everything that was agreed to be billed once is billed, or on a draft.")
	}
	return putCharges(tx, inv, charges)
}

// fillLike puts the lines of an old invoice on again, by hand.
func fillLike(tx *app.Tx, inv *store.Invoice, likeID int64) error {
	old, err := store.LinesOf(tx.DB, likeID)
	if err != nil {
		return err
	}
	fresh := []store.InvoiceLine{}
	for _, l := range old {
		if l.Kind == invoice.Advance {
			continue
		}
		line := store.InvoiceLine{EngagementID: l.EngagementID, Kind: invoice.ByHand, TaxCodeID: l.TaxCodeID, Day: inv.Dated, Text: l.Text, Amount: l.Amount,
			Treatment: "billable", Quantity: l.Quantity, Unit: l.Unit, UnitPrice: l.UnitPrice, Confirmed: true}
		fresh = append(fresh, line)
	}
	return insertLines(tx, inv, fresh)
}

// fillFrom puts the lines of a template on: text; quantity; price; unit.
func fillFrom(tx *app.Tx, inv *store.Invoice, templateID, engagementID int64) error {
	template, err := store.Get[store.InvoiceTemplate](tx.DB, templateID)
	if err != nil {
		return app.Missing(err, "invoice to begin with")
	}
	for _, text := range strings.Split(template.Lines, "\n") {
		part := append(strings.Split(text, ";"), "", "", "")
		for i := range part {
			part[i] = strings.TrimSpace(part[i])
		}
		if part[0] == "" {
			continue
		}
		typed := LineTyped{EngagementID: engagementID, Text: part[0], Quantity: part[1], Price: part[2], Unit: part[3]}
		if typed.Price == "" {
			typed.Amount = "0"
		}
		line, err := byHand(tx, inv, typed)
		if err != nil {
			return err
		}
		if err := insertLines(tx, inv, []store.InvoiceLine{*line}); err != nil {
			return err
		}
	}
	return nil
}

// Offer is what a client has to be billed, before an invoice begins: shown beside,
// to be taken or left.
type Offer struct {
	ClientID    int64          `json:"clientId"`
	Client      string         `json:"client"`
	Engagements []OfferedWork  `json:"engagements"`
	People      []OfferedWho   `json:"people"`
	Funds       []money.Amount `json:"funds" doc:"held, one for each currency"`
	Credit      []money.Amount `json:"credit"`
}

// OfferedWork is what an engagement has unbilled.
type OfferedWork struct {
	EngagementID int64        `json:"engagementId"`
	Name         string       `json:"name"`
	Time         money.Amount `json:"time"`
	Expenses     money.Amount `json:"expenses"`
	Fees         money.Amount `json:"fees" doc:"charges that are due"`
	Minutes      int          `json:"minutes"`
}

// OfferedWho is somebody with unbilled time.
type OfferedWho struct {
	PersonID int64  `json:"personId"`
	Name     string `json:"name"`
}

// OfferOf reads what a client has to be billed up to a day.
func OfferOf(ctx context.Context, a *app.App, actor app.Actor, clientID int64, upTo day.Day) (*Offer, error) {
	tx := a.Store.Read(ctx)
	client, err := store.Get[store.Client](tx, clientID)
	if err != nil {
		return nil, app.Missing(err, "client")
	}
	if upTo.IsZero() {
		upTo = a.Clock.Today()
	}
	offer := &Offer{ClientID: clientID, Client: client.Name, Engagements: []OfferedWork{}, People: []OfferedWho{}, Funds: []money.Amount{}, Credit: []money.Amount{}}
	rows, err := store.EngagementRowsOf(tx, clientID, actor.Sight())
	if err != nil {
		return nil, err
	}
	for _, e := range rows {
		if e.Active && e.Billable {
			none := money.Zero(e.Currency)
			offer.Engagements = append(offer.Engagements, OfferedWork{EngagementID: e.ID, Name: e.Name, Time: none, Expenses: none, Fees: none})
		}
	}
	if err := offer.addWork(tx, upTo, a.Clock.Today()); err != nil {
		return nil, err
	}
	return offer, offer.addHeld(tx, actor.Sight())
}

func (o *Offer) addWork(tx *gorm.DB, upTo, today day.Day) error {
	at, ids := map[int64]int{}, []int64{}
	for i, e := range o.Engagements {
		at[e.EngagementID], ids = i, append(ids, e.EngagementID)
	}
	open, err := store.UnbilledPortions(tx, store.UnbilledFilter{UpTo: upTo, EngagementIDs: ids})
	if err != nil {
		return err
	}
	for _, p := range open {
		if p.WithoutRate || p.Hold.Holds(p.HoldUntil, today) {
			continue
		}
		work := &o.Engagements[at[p.EngagementID]]
		if p.IsExpense() {
			work.Expenses.Minor += p.Agreed
			continue
		}
		work.Time.Minor += p.Agreed
		work.Minutes += p.Minutes
		if !slices.ContainsFunc(o.People, func(w OfferedWho) bool { return w.PersonID == p.PersonID }) {
			o.People = append(o.People, OfferedWho{p.PersonID, p.Person})
		}
	}
	charges, err := store.DueCharges(tx, ids, upTo)
	for _, c := range charges {
		o.Engagements[at[c.EngagementID]].Fees.Minor += c.Amount
	}
	return err
}

func (o *Offer) addHeld(tx *gorm.DB, sight store.Sight) error {
	purses, err := store.Purses(tx, sight, o.ClientID)
	if err != nil {
		return err
	}
	for _, p := range purses {
		if p.Held > 0 {
			if o.Funds, err = money.AddByCurrency(o.Funds, money.Amount{Minor: p.Held, Currency: p.Currency}); err != nil {
				return err
			}
		}
	}
	credits, err := store.AllCredits(tx, sight, o.ClientID)
	for _, c := range credits {
		if o.Credit, err = money.AddByCurrency(o.Credit, money.Amount{Minor: c.Credit, Currency: c.Currency}); err != nil {
			return err
		}
	}
	return err
}
