package timekeeping

import (
	"context"

	"dorvet/core/day"
	"dorvet/core/explain"
	"dorvet/core/money"
	"dorvet/core/wip"
	"dorvet/internal/app"
	"dorvet/internal/store"
)

// Purchase is a purchase as it is shown.
type Purchase struct {
	ID         int64          `json:"id"`
	Version    int64          `json:"version"`
	PersonID   int64          `json:"personId"`
	Person     string         `json:"person"`
	CategoryID int64          `json:"categoryId"`
	Category   string         `json:"category"`
	Day        day.Day        `json:"day"`
	Supplier   string         `json:"supplier"`
	Text       string         `json:"text"`
	Reference  string         `json:"reference"`
	Units      string         `json:"units" doc:"as typed, or nothing"`
	PerUnit    *money.Rate    `json:"perUnit,omitempty" doc:"in ten-thousandths"`
	Amount     money.Amount   `json:"amount" doc:"with tax"`
	Tax        money.Amount   `json:"tax" doc:"that is got back"`
	Cost       money.Amount   `json:"cost"`
	PaidBy     string         `json:"paidBy" enum:"firm,person"`
	Files      []AttachedFile `json:"files"`
	Shares     []Share        `json:"shares"`
	MayChange  bool           `json:"mayChange"`
}

// Share is a share as it is shown.
type Share struct {
	ID           int64         `json:"id"`
	EngagementID int64         `json:"engagementId" doc:"0: the firm's own cost"`
	Engagement   string        `json:"engagement"`
	Client       string        `json:"client"`
	PhaseID      int64         `json:"phaseId"`
	Day          day.Day       `json:"day"`
	Text         string        `json:"text"`
	Note         string        `json:"note"`
	Treatment    wip.Treatment `json:"treatment" enum:"billable,out_of_scope,no_charge,not_billable"`
	Markup       money.Percent `json:"markup" doc:"in ten-thousandths of a percent"`
	Returns      bool          `json:"returns"`
	Hold         string        `json:"hold"`
	Cost         money.Amount  `json:"cost"`
	Value        *money.Amount `json:"value,omitempty" doc:"for those who may see it"`
	Explanation  *explain.Step `json:"explanation,omitempty"`
	Billing      wip.Billing   `json:"billing" enum:"unbilled,reserved,billed,written_off,not_billable"`
	InvoiceID    int64         `json:"invoiceId"`
	Invoice      string        `json:"invoice"`
	Locked       bool          `json:"locked" doc:"billed or on a draft"`
}

// ExpenseLine is an expense in a list.
type ExpenseLine struct {
	ID           int64         `json:"id"`
	PurchaseID   int64         `json:"purchaseId"`
	Day          day.Day       `json:"day"`
	PersonID     int64         `json:"personId"`
	Initials     string        `json:"initials"`
	Person       string        `json:"person"`
	Category     string        `json:"category"`
	Supplier     string        `json:"supplier"`
	EngagementID int64         `json:"engagementId"`
	Engagement   string        `json:"engagement"`
	ClientID     int64         `json:"clientId"`
	Client       string        `json:"client"`
	Text         string        `json:"text"`
	PaidBy       string        `json:"paidBy" enum:"firm,person"`
	Treatment    wip.Treatment `json:"treatment" enum:"billable,out_of_scope,no_charge,not_billable"`
	Cost         money.Amount  `json:"cost"`
	Value        *money.Amount `json:"value,omitempty"`
	Hold         string        `json:"hold"`
	Billing      wip.Billing   `json:"billing" enum:"unbilled,reserved,billed,written_off,not_billable"`
	InvoiceID    int64         `json:"invoiceId"`
	Invoice      string        `json:"invoice"`
	Files        int           `json:"files"`
}

func expenseLine(r *store.ExpenseRow, actor app.Actor) ExpenseLine {
	line := ExpenseLine{ID: r.ID, PurchaseID: r.PurchaseID, Day: r.Day, PersonID: r.PersonID, Initials: r.Initials, Person: r.Person,
		Category: r.Category, Supplier: r.Supplier,
		EngagementID: numberOf(r.EngagementID), Engagement: r.Engagement, ClientID: r.ClientID, Client: r.Client, Text: r.Text,
		PaidBy:    r.PaidBy,
		Treatment: r.Treatment,
		Cost:      money.Amount{Minor: r.Cost, Currency: r.Currency}, Hold: holdText(r.Hold, r.HoldUntil), Billing: r.Billing,
		InvoiceID: r.InvoiceID,
		Invoice:   r.NumberText, Files: r.Files}
	if line.Text == "" {
		line.Text = r.PurchaseText
	}
	if r.EngagementID == nil {
		line.Engagement = ownCost
	}
	if actor.SeesValues() {
		line.Value = &r.Valued.Agreed
	}
	return line
}

// OnePurchase reads a purchase that the actor may see: their own, or one with a
// share on an engagement that they lead.
func OnePurchase(ctx context.Context, a *app.App, actor app.Actor, id int64) (*Purchase, error) {
	tx := a.Read(ctx, actor)
	p, err := store.Get[store.Purchase](tx, id)
	if err == nil && p.Removed {
		err = store.ErrNotFound
	}
	if err != nil {
		return nil, app.Missing(err, "purchase")
	}
	tx = readerOf(ctx, a, actor, p.PersonID)
	shares, err := store.SharesOf(tx, id)
	if err != nil {
		return nil, err
	}
	if !actor.SeesPerson(p.PersonID) && !leadsOne(actor, shares) {
		return nil, app.Refuse(app.Forbidden, "This is somebody else's purchase. You see your own, and those on engagements you lead.")
	}
	shown, err := purchaseShown(tx, p, shares)
	if err != nil {
		return nil, err
	}
	shown.MayChange = mayChangePurchase(actor, p, shares) == nil && actor.Role != app.Owner || actor.PersonID == p.PersonID
	shown.Files, err = filesOf(tx, ofPurchase, id)
	return shown.conceal(actor), err
}

func leadsOne(actor app.Actor, shares []store.ExpenseRow) bool {
	for _, s := range shares {
		if actor.Role == app.Lead && s.EngagementID != nil &&
			actor.Scope().Sees(&store.Engagement{LeadID: s.LeadID, EntityID: s.EntityID}) {
			return true
		}
	}
	return false
}

func purchaseShown(tx *store.DB, p *store.Purchase, rows []store.ExpenseRow) (*Purchase, error) {
	person, err := store.Get[store.Person](tx, p.PersonID)
	if err != nil {
		return nil, err
	}
	category, err := store.Get[store.ExpenseCategory](tx, p.CategoryID)
	if err != nil {
		return nil, err
	}
	shown := &Purchase{ID: p.ID, Version: p.Version, PersonID: p.PersonID, Person: person.Name, CategoryID: p.CategoryID,
		Category: category.Name, Day: p.Day,
		Supplier: p.Supplier, Text: p.Text, Reference: p.Reference, PerUnit: p.Paid.PerUnit, Amount: p.Paid.Amount, Tax: p.Paid.Tax,
		Cost: money.Amount{Minor: p.Cost, Currency: p.Currency}, PaidBy: p.PaidBy, Files: []AttachedFile{}, Shares: []Share{}}
	if p.Paid.PerUnit != nil {
		shown.Units = money.TypeFixed(p.Paid.Units, money.Point, 4, 0)
	}
	for i := range rows {
		shown.Shares = append(shown.Shares, shareShown(&rows[i]))
	}
	return shown, nil
}

func shareShown(r *store.ExpenseRow) Share {
	steps := r.Valued.Explain()
	share := Share{ID: r.ID, EngagementID: numberOf(r.EngagementID), Engagement: r.Engagement, Client: r.Client,
		PhaseID: numberOf(r.PhaseID),
		Day:     r.Day, Text: r.Text, Note: r.Note,
		Treatment: r.Treatment, Markup: r.Markup, Returns: r.Returns, Hold: holdText(r.Hold, r.HoldUntil), Cost: r.Valued.Cost,
		Value: &r.Valued.Agreed, Explanation: &steps,
		Billing: r.Billing, InvoiceID: r.InvoiceID, Invoice: r.NumberText, Locked: locked(r)}
	if r.EngagementID == nil {
		share.Engagement = ownCost
	}
	return share
}

// conceal leaves out what the actor may not see: what a share is worth.
func (p *Purchase) conceal(actor app.Actor) *Purchase {
	if !actor.SeesValues() {
		for i := range p.Shares {
			p.Shares[i].Value, p.Shares[i].Explanation, p.Shares[i].Markup = nil, nil, 0
		}
	}
	return p
}

// purchaseTold is what the history keeps of a purchase.
func purchaseTold(p *Purchase) map[string]string {
	told := map[string]string{"day": p.Day.Long(), "category": p.Category, "supplier": p.Supplier, "text": p.Text,
		"paid": p.Amount.String(),
		"tax":  p.Tax.String(), "paid by": p.PaidBy}
	for i, s := range p.Shares {
		told["share "+itoa(i+1)] = s.Cost.String() + " on " + s.Engagement + ", " + treatmentWords[s.Treatment] + ", " + s.Day.Long()
	}
	for name, value := range told {
		if value == "" {
			delete(told, name)
		}
	}
	return told
}

// PurchaseHistory is what was done to a purchase.
func PurchaseHistory(ctx context.Context, a *app.App, actor app.Actor, id int64) ([]app.HistoryRow, error) {
	if _, err := OnePurchase(ctx, a, actor, id); err != nil {
		return nil, err
	}
	return a.History(ctx, actor, app.OfPurchase, id)
}

// Reckoning is what a purchase comes to while it is typed.
type Reckoning struct {
	Cost   money.Amount    `json:"cost" doc:"that is shared out"`
	Left   money.Amount    `json:"left" doc:"not shared out yet; negative: shared out too much"`
	Shares []ReckonedShare `json:"shares"`
}

// ReckonedShare is a share while it is typed.
type ReckonedShare struct {
	Cost        money.Amount  `json:"cost"`
	Value       *money.Amount `json:"value,omitempty"`
	Explanation *explain.Step `json:"explanation,omitempty"`
}

// PreviewPurchase reckons a purchase without keeping it: a new one, or what the
// purchase of a number would become. Shares that do not add up are no refusal here:
// what is left over says so.
func PreviewPurchase(ctx context.Context, a *app.App, actor app.Actor, in TypedPurchase, id int64) (*Reckoning, error) {
	tx := a.Read(ctx, actor)
	var before *store.Purchase
	var shares []store.ExpenseRow
	err := mayRecordFor(actor, in.PersonID)
	if id != 0 {
		if before, err = store.Get[store.Purchase](tx, id); err != nil {
			return nil, app.Missing(err, "purchase")
		}
		if shares, err = store.SharesOf(tx, id); err == nil {
			err = mayChangePurchase(actor, before, shares)
		}
	}
	if err != nil {
		return nil, err
	}
	r, err := calculatePurchase(tx, actor, in, before, shares)
	if err != nil {
		return nil, err
	}
	reckoning := &Reckoning{Cost: money.Amount{Minor: r.purchase.Cost, Currency: r.purchase.Currency}, Left: r.left,
		Shares: []ReckonedShare{}}
	for _, s := range r.shares {
		share := ReckonedShare{Cost: s.Valued.Cost}
		if actor.SeesValues() {
			steps := s.Valued.Explain()
			share.Value, share.Explanation = &s.Valued.Agreed, &steps
		}
		reckoning.Shares = append(reckoning.Shares, share)
	}
	return reckoning, nil
}
