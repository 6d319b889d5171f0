package reports

import (
	"cmp"
	"context"
	"maps"
	"slices"
	"strings"

	"dorvet/core/day"
	"dorvet/core/explain"
	"dorvet/core/money"
	"dorvet/core/receivable"
	"dorvet/core/wip"
	"dorvet/internal/app"
	"dorvet/internal/app/drafts"
	"dorvet/internal/app/invoices"
	"dorvet/internal/app/registry"
	"dorvet/internal/app/setup"
	"dorvet/internal/app/unbilled"
	"dorvet/internal/store"
)

// ClientStanding is a client and how it stands: what is unbilled, owed and late,
// in each currency.
type ClientStanding struct {
	ID          int64          `json:"id"`
	Code        string         `json:"code"`
	Name        string         `json:"name"`
	Status      string         `json:"status"`
	Industry    string         `json:"industry"`
	Warns       bool           `json:"warns" doc:"whether the status warns on new work"`
	Active      bool           `json:"active"`
	Onboarding  bool           `json:"onboarding"`
	OpenSteps   int            `json:"openSteps"`
	AllSteps    int            `json:"allSteps"`
	Responsible string         `json:"responsible" doc:"initials"`
	CaredForBy  string         `json:"caredForBy" doc:"the name of who is responsible"`
	Engagements int            `json:"engagements" doc:"active ones"`
	Unbilled    explain.Totals `json:"unbilled" doc:"net: what drafts of everything would come to"`
	Expenses    explain.Totals `json:"expenses" doc:"of what is unbilled"`
	OldestDays  int            `json:"oldestDays" doc:"age of the oldest unbilled work"`
	Owed        explain.Totals `json:"owed" doc:"gross"`
	Late        explain.Totals `json:"late" doc:"of what is owed"`
	LastBilled  day.Day        `json:"lastBilled"`
}

// standing is how a client stands, and what drafts of everything would bring, by engagement.
type standing struct {
	ClientStanding
	ToBill []netOf
	lower  string // its name in small letters, for its order
}

type netOf struct {
	Engagement string
	Net        money.Amount
}

// allStandings are how the clients stand that an actor may see, in the order of their names.
func allStandings(a *app.App, tx *store.DB, actor app.Actor) ([]*standing, error) {
	today := a.Clock.Today()
	all, err := app.PerClient(a, tx, "standing", today.String(), func(clientIDs []int64) (map[int64]*standing, error) {
		return standings(tx, actor, clientIDs, today)
	})
	return slices.SortedFunc(maps.Values(all), func(a, b *standing) int {
		return cmp.Or(registry.CompareNames(a.lower, b.lower), cmp.Compare(a.ID, b.ID))
	}), err
}

// standings are how some clients stand, or all (nil), by their numbers.
func standings(tx *store.DB, actor app.Actor, clientIDs []int64, today day.Day) (map[int64]*standing, error) {
	heads, err := store.ClientHeads(tx, clientIDs)
	if err != nil {
		return nil, err
	}
	work, err := unbilled.All(tx, today, unbilled.Selection{UpTo: today}, clientIDs)
	if err != nil {
		return nil, err
	}
	oldest, err := store.OldestUnbilled(tx, clientIDs, today)
	if err != nil {
		return nil, err
	}
	owed := []store.OpenInstalment{}
	if actor.Role != app.Lead { // what is owed is not among what a lead sees
		if owed, err = store.OpenInstalments(tx, clientIDs); err != nil {
			return nil, err
		}
	}
	at := make(map[int64]*standing, len(heads))
	for _, h := range heads {
		at[h.ID] = &standing{lower: strings.ToLower(h.Name), ClientStanding: ClientStanding{
			ID: h.ID, Code: h.Code, Name: h.Name, Status: h.Status, Industry: h.Industry,
			Warns: h.Warns, Active: h.Active,
			Onboarding: h.OpenSteps > 0 && !h.Onboarded,
			OpenSteps:  h.OpenSteps, AllSteps: h.AllSteps, Responsible: h.Responsible, CaredForBy: h.ResponsibleName,
			Engagements: h.Engagements,
			LastBilled:  h.LastBilled,
			OldestDays:  daysSince(oldest[h.ID], today),
			Unbilled:    explain.Totals{}, Expenses: explain.Totals{}, Owed: explain.Totals{}, Late: explain.Totals{}}}
	}
	shares := work.Shares()
	for i := range work.Engagements {
		if c := at[work.Engagements[i].ClientID]; c != nil {
			if err := c.addWork(work, &work.Engagements[i], shares); err != nil {
				return nil, err
			}
		}
	}
	for i := range owed {
		if c := at[owed[i].ClientID]; c != nil {
			if err := c.addOwed(&owed[i], today); err != nil {
				return nil, err
			}
		}
	}
	for _, c := range at {
		c.Unbilled, c.Expenses, c.Owed, c.Late = c.Unbilled.Shortened(), c.Expenses.Shortened(), c.Owed.Shortened(), c.Late.Shortened()
	}
	return at, nil
}

// addWork adds what can be billed of an engagement.
func (c *standing) addWork(work *unbilled.Work, e *store.EngagementRow, shares map[int64]unbilled.Share) (err error) {
	expenses := int64(0)
	for _, part := range work.Parts[e.ID] {
		if part.Taxed != "time" {
			expenses += part.Agreed
		}
	}
	step := explain.Step{Label: e.Name}
	if net := (money.Amount{Minor: shares[e.ID].Net, Currency: e.Currency}); !net.IsZero() {
		c.ToBill = append(c.ToBill, netOf{e.Name, net})
		err = c.Unbilled.Add("To bill, net", step, net)
	}
	if err == nil && expenses != 0 {
		err = c.Expenses.Add("Expenses to bill", step, money.Amount{Minor: expenses, Currency: e.Currency})
	}
	return err
}

// addOwed adds what is open of an instalment.
func (c *ClientStanding) addOwed(row *store.OpenInstalment, today day.Day) error {
	step := explain.Step{Label: row.NumberText, Detail: "due " + row.DueDay.Long()}
	open := money.Amount{Minor: row.Open, Currency: row.Currency}
	if err := c.Owed.Add("Owed, gross", step, open); err != nil || receivable.DaysLate(row.DueDay, today) <= 0 {
		return err
	}
	return c.Late.Add("Late", step, open)
}

func daysSince(worked, today day.Day) int {
	if worked.IsZero() {
		return 0
	}
	return wip.Days(worked, today)
}

// ClientOverview is one client with all that hangs on it.
type ClientOverview struct {
	ClientStanding
	Work     []ClientEngagement `json:"work"`
	Invoices []invoices.Summary `json:"invoices" doc:"newest first"`
	Drafts   []invoices.Summary `json:"drafts"`
	Held     []money.Amount     `json:"held" doc:"funds, one for each currency"`
	Credit   []money.Amount     `json:"credit" doc:"unapplied money"`
	Coming   []ComingBill       `json:"coming" doc:"what comes again by itself, in the next three months"`
	OtherTax []int64            `json:"otherTax" doc:"drafts that are taxed otherwise than the client has it now"`
}

// ComingBill is a bill that comes again: of a recurring fee, or like an invoice.
type ComingBill struct {
	EngagementID int64        `json:"engagementId"`
	Engagement   string       `json:"engagement"`
	Bill         day.Day      `json:"bill"`
	Text         string       `json:"text"`
	From         day.Day      `json:"from"`
	To           day.Day      `json:"to"`
	Amount       money.Amount `json:"amount"`
}

// ClientEngagement is an engagement of a client and how far it is.
type ClientEngagement struct {
	ID          int64          `json:"id"`
	Version     int64          `json:"version"`
	Code        string         `json:"code"`
	Name        string         `json:"name"`
	Arrangement string         `json:"arrangement"`
	Stage       string         `json:"stage"`
	Lead        string         `json:"lead"`
	Active      bool           `json:"active"`
	Minutes     int64          `json:"minutes" doc:"worked"`
	Worth       money.Amount   `json:"worth" doc:"agreed value of all of it"`
	Billed      money.Amount   `json:"billed" doc:"net of issued invoices less credits"`
	LastBilled  day.Day        `json:"lastBilled"`
	Budget      *money.Percent `json:"budget,omitempty" doc:"the highest share used of its budgets"`
}

// Client reads the overview of a client.
func Client(ctx context.Context, a *app.App, actor app.Actor, id int64) (*ClientOverview, error) {
	tx := a.Read(ctx, actor)
	found, err := standings(tx, actor, []int64{id}, a.Clock.Today())
	if err == nil && len(found) == 0 {
		err = app.Missing(store.ErrNotFound, "client")
	}
	if err != nil {
		return nil, err
	}
	overview := &ClientOverview{ClientStanding: found[id].ClientStanding, Work: []ClientEngagement{}}
	if overview.Work, err = work(ctx, a, actor, id); err != nil {
		return nil, err
	}
	if overview.Invoices, err = invoices.Register(ctx, a, actor, invoices.Filter{ClientID: id}); err != nil {
		return nil, err
	}
	if overview.Drafts, err = invoices.Drafts(ctx, a, actor, invoices.Filter{ClientID: id}); err != nil {
		return nil, err
	}
	offer, err := drafts.SummaryOf(ctx, a, actor, id, 0)
	if err != nil {
		return nil, err
	}
	overview.Held, overview.Credit = offer.Funds, offer.Credit
	if overview.Coming, err = coming(tx, id, a.Clock.Today()); err != nil {
		return nil, err
	}
	overview.OtherTax, err = otherTax(tx, overview.Drafts)
	return overview, err
}

// coming are the bills of a client that come again within three months.
func coming(tx *store.DB, clientID int64, today day.Day) ([]ComingBill, error) {
	rows, err := store.EngagementRowsOf(tx, clientID)
	if err != nil {
		return nil, err
	}
	ids, names := []int64{}, map[int64]string{}
	for _, e := range rows {
		ids, names[e.ID] = append(ids, e.ID), e.Name
	}
	charges, err := unbilled.ChargesForeseen(tx, ids, today.AddMonths(3))
	bills := []ComingBill{}
	for _, c := range charges {
		if c.Kind == "recurring" || c.LikeID != nil {
			bills = append(bills, ComingBill{c.EngagementID, names[c.EngagementID], c.BillDay, c.Text, c.FromDay, c.ToDay,
				money.Amount{Minor: c.Amount, Currency: c.Currency}})
		}
	}
	slices.SortStableFunc(bills, func(a, b ComingBill) int { return int(a.Bill - b.Bill) })
	return bills, err
}

// otherTax are the drafts that are taxed otherwise than their client has it now.
func otherTax(tx *store.DB, open []invoices.Summary) ([]int64, error) {
	ids := make([]int64, len(open))
	for i, d := range open {
		ids[i] = d.ID
	}
	other, _, err := drafts.OtherwiseTaxed(tx, ids)
	found := []int64{}
	for _, g := range other {
		if !slices.Contains(found, g.InvoiceID) {
			found = append(found, g.InvoiceID)
		}
	}
	return found, err
}

func work(ctx context.Context, a *app.App, actor app.Actor, clientID int64) ([]ClientEngagement, error) {
	tx := a.Read(ctx, actor)
	rows, err := store.EngagementRowsOf(tx, clientID)
	if err != nil {
		return nil, err
	}
	sums, err := store.EngagementSums(tx, clientID)
	if err != nil {
		return nil, err
	}
	ids := make([]int64, len(rows))
	for i, e := range rows {
		ids[i] = e.ID
	}
	billed, err := store.BilledSums(tx, ids)
	if err != nil {
		return nil, err
	}
	done := map[int64]store.EngagementSum{}
	for _, sum := range sums {
		done[sum.EngagementID] = sum
	}
	list := []ClientEngagement{}
	for _, e := range rows {
		sum := done[e.ID]
		one := ClientEngagement{ID: e.ID, Version: e.Version, Code: e.Code, Name: e.Name, Arrangement: e.Arrangement, Stage: e.Stage,
			Lead: e.Lead, Active: e.Active, Minutes: sum.Minutes,
			Worth: money.Amount{Minor: sum.Agreed, Currency: e.Currency}, Billed: money.Amount{Minor: billed[e.ID].Net, Currency: e.Currency},
			LastBilled: e.LastBilled}
		budgets, err := setup.Budgets(ctx, a, actor, e.ID)
		if err != nil {
			return nil, err
		}
		for _, b := range budgets {
			if one.Budget == nil || b.Share > *one.Budget {
				one.Budget = &b.Share
			}
		}
		list = append(list, one)
	}
	return list, nil
}
