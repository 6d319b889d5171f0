package billing

import (
	"context"
	"slices"

	"dorvet/core/day"
	"dorvet/core/explain"
	"dorvet/core/invoice"
	"dorvet/core/money"
	"dorvet/core/wip"
	"dorvet/internal/app"
	"dorvet/internal/store"

	"gorm.io/gorm"
)

// Summary is an invoice in a list.
type Summary struct {
	ID          int64         `json:"id"`
	State       invoice.State `json:"state" enum:"draft,in_approval,approved,issued,part_paid,paid"`
	Number      string        `json:"number" doc:"nothing until it is issued"`
	ClientID    int64         `json:"clientId"`
	Client      string        `json:"client"`
	Engagements string        `json:"engagements"`
	UpTo        day.Day       `json:"upTo"`
	Dated       day.Day       `json:"dated"`
	Due         day.Day       `json:"due"`
	DaysLate    int           `json:"daysLate" doc:"0 if not late, or not issued"`
	Entries     int           `json:"entries"`
	Net         money.Amount  `json:"net"`
	Tax         money.Amount  `json:"tax"`
	Total       money.Amount  `json:"total"`
}

// Invoice is one invoice, whole.
type Invoice struct {
	Summary
	Version     int64            `json:"version"`
	Lines       []Line           `json:"lines"`
	LeftOut     []Line           `json:"leftOut" doc:"unbilled entries that could be put on this draft"`
	Standard    money.Amount     `json:"standard"`
	Given       wip.Given        `json:"given" doc:"what lies between standard and net"`
	Realisation money.Percent    `json:"realisation" doc:"net over standard, in ten-thousandths of a percent"`
	Document    invoice.Document `json:"document"`
	Explanation explain.Step     `json:"explanation"`
	HasFile     bool             `json:"hasFile"`
	NextNumber  string           `json:"nextNumber" doc:"of a draft: the number that it would get now"`
}

// Line is an entry on a draft, or left out of it.
type Line struct {
	LineID      int64         `json:"lineId" doc:"0 if left out"`
	LineVersion int64         `json:"lineVersion"`
	PortionID   int64         `json:"portionId"`
	Source      string        `json:"source" enum:"time,expense"`
	EntryID     int64         `json:"entryId" doc:"of time, or 0"`
	PurchaseID  int64         `json:"purchaseId" doc:"of an expense, or 0"`
	PersonID    int64         `json:"personId"`
	Engagement  string        `json:"engagement"`
	Day         day.Day       `json:"day"`
	Initials    string        `json:"initials"`
	Text        string        `json:"text"`
	Minutes     int           `json:"minutes"`
	PerHour     money.Rate    `json:"perHour" doc:"in ten-thousandths"`
	Treatment   wip.Treatment `json:"treatment" enum:"billable,out_of_scope,no_charge,not_billable"`
	Standard    money.Amount  `json:"standard"`
	Amount      money.Amount  `json:"amount"`
	Explanation explain.Step  `json:"explanation"`
}

var (
	drafts = []invoice.State{invoice.Draft, invoice.InApproval, invoice.Approved}
	issued = []invoice.State{invoice.Issued, invoice.PartPaid, invoice.Paid}
)

// Drafts lists what is still to be issued, by client.
func Drafts(ctx context.Context, a *app.App, actor app.Actor) ([]Summary, error) {
	return list(ctx, a, store.InvoiceFilter{States: drafts, Sight: actor.Sight()}, "c.name, i.id")
}

// Register lists every invoice ever issued, newest number first; clientID 0
// asks for all clients.
func Register(ctx context.Context, a *app.App, actor app.Actor, clientID int64) ([]Summary, error) {
	return list(ctx, a, store.InvoiceFilter{States: issued, ClientID: clientID, Sight: actor.Sight()}, "i.series_id, i.number DESC")
}

func list(ctx context.Context, a *app.App, f store.InvoiceFilter, order string) ([]Summary, error) {
	rows, err := store.Invoices(a.Store.Read(ctx), f, order)
	summaries := make([]Summary, 0, len(rows))
	for i := range rows {
		summaries = append(summaries, summary(&rows[i], a.Clock.Today()))
	}
	return summaries, err
}

func summary(r *store.InvoiceRow, today day.Day) Summary {
	amount := func(minor int64) money.Amount { return money.Amount{Minor: minor, Currency: r.Currency} }
	s := Summary{ID: r.ID, State: r.State, Number: r.NumberText, ClientID: r.ClientID, Client: r.Client, Engagements: r.Engagements,
		UpTo: r.UpToDay, Dated: r.Dated, Due: r.DueDay, Entries: r.Entries, Net: amount(r.Net), Tax: amount(r.Tax), Total: amount(r.Total)}
	if r.State == invoice.Issued || r.State == invoice.PartPaid {
		s.DaysLate = max(0, int(today-r.DueDay))
	}
	return s
}

// One reads an invoice that the actor may see.
func One(ctx context.Context, a *app.App, actor app.Actor, id int64) (*Invoice, error) {
	return view(a.Store.Read(ctx), actor, id, a.Clock.Today())
}

func view(tx *gorm.DB, actor app.Actor, id int64, today day.Day) (*Invoice, error) {
	inv, err := visible(tx, actor, id)
	if err != nil {
		return nil, err
	}
	v := &Invoice{Summary: summary(inv, today), Version: inv.Version, HasFile: inv.State.IsIssued()}
	if err := v.addLines(tx, inv); err != nil {
		return nil, err
	}
	if inv.State.IsDraft() {
		series, err := store.Get[store.Series](tx, inv.SeriesID)
		if err != nil {
			return nil, err
		}
		v.NextNumber = numberText(series)
	}
	doc, err := documentOf(tx, &inv.Invoice)
	if err != nil {
		return nil, err
	}
	v.Document = *doc
	v.Explanation, err = explanationOf(tx, &inv.Invoice)
	return v, err
}

// visible reads an invoice, or refuses it to who may not see it.
func visible(tx *gorm.DB, actor app.Actor, id int64) (*store.InvoiceRow, error) {
	rows, err := store.Invoices(tx, store.InvoiceFilter{ID: id, States: slices.Concat(drafts, issued), Sight: actor.Sight()}, "i.id")
	if err == nil && len(rows) == 0 {
		err = store.ErrNotFound
	}
	if err != nil {
		return nil, app.Missing(err, "invoice")
	}
	return &rows[0], nil
}

func (v *Invoice) addLines(tx *gorm.DB, inv *store.InvoiceRow) error {
	names := map[int64]string{}
	ids, err := store.EngagementsOf(tx, inv.ID)
	if err != nil {
		return err
	}
	engagements, err := store.EngagementRows(tx, ids)
	if err != nil {
		return err
	}
	for _, e := range engagements {
		names[e.ID] = e.Name
	}
	on, err := store.PortionsOn(tx, inv.ID)
	if err != nil {
		return err
	}
	out := []store.PortionRow{}
	if inv.State.IsDraft() {
		if out, err = store.UnbilledPortions(tx, store.UnbilledFilter{UpTo: inv.UpToDay, EngagementIDs: ids}); err != nil {
			return err
		}
	}
	v.Lines, v.LeftOut = shown(on, names), shown(out, names)
	v.Standard = money.Zero(inv.Currency)
	atNoCharge := v.Standard
	for _, line := range v.Lines {
		if v.Standard, err = v.Standard.Add(line.Standard); err != nil {
			return err
		}
		if line.Treatment != wip.NoCharge {
			continue
		}
		if atNoCharge, err = atNoCharge.Add(line.Standard); err != nil {
			return err
		}
	}
	if v.Given, err = wip.Give(v.Standard, v.Net, atNoCharge); err != nil {
		return err
	}
	if !v.Standard.IsZero() {
		share, err := money.MulDiv(inv.Net, int64(money.Hundred), v.Standard.Minor)
		v.Realisation = money.Percent(share)
		return err
	}
	return nil
}

func shown(portions []store.PortionRow, engagements map[int64]string) []Line {
	lines := make([]Line, 0, len(portions))
	for _, p := range portions {
		line := Line{LineVersion: p.LineVersion, PortionID: p.ID, Source: p.Source, PurchaseID: p.PurchaseID, PersonID: p.PersonID, Engagement: engagements[p.EngagementID],
			Day: p.WorkedDay, Initials: p.Initials, Text: lineText(p), Minutes: p.Minutes, Treatment: p.Treatment,
			Standard: money.Amount{Minor: p.Standard, Currency: p.Currency}, Amount: money.Amount{Minor: p.Agreed, Currency: p.Currency},
			Explanation: p.Explain()}
		if !p.IsExpense() {
			line.EntryID = p.SourceID
		}
		if p.LineID != nil {
			line.LineID, line.Text = *p.LineID, p.LineText
		}
		line.PerHour, _ = p.Valued.Rate.PerHour()
		lines = append(lines, line)
	}
	return lines
}
