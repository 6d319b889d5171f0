package reports

import (
	"context"
	"slices"

	"dorvet/core/day"
	"dorvet/core/explain"
	"dorvet/core/money"
	"dorvet/core/worktime"
	"dorvet/internal/app"
	"dorvet/internal/app/setup"
	"dorvet/internal/app/unbilled"
	"dorvet/internal/store"
)

// PhaseProgress is what was done on a phase, with its tasks, or on a task.
type PhaseProgress struct {
	PhaseID int64        `json:"phaseId" doc:"0: on none"`
	Minutes int64        `json:"minutes" doc:"worked"`
	Worth   money.Amount `json:"worth" doc:"agreed value"`
	Billed  money.Amount `json:"billed" doc:"of the agreed value: of time that is on issued invoices"`
}

// EngagementOverview is an engagement with what was done on it.
type EngagementOverview struct {
	ID         int64              `json:"id"`
	Name       string             `json:"name"`
	Code       string             `json:"code"`
	ClientID   int64              `json:"clientId"`
	Client     string             `json:"client"`
	Active     bool               `json:"active"`
	Minutes    int64              `json:"minutes" doc:"worked"`
	Worth      explain.Total      `json:"worth" doc:"agreed value of all time"`
	Billed     explain.Total      `json:"billed" doc:"net of issued invoices less credits"`
	Unbilled   money.Amount       `json:"unbilled" doc:"net: what a draft of everything would come to"`
	LastBilled day.Day            `json:"lastBilled"`
	Again      day.Day            `json:"again" doc:"when recurring work is made again, if it is"`
	ProposalID int64              `json:"proposalId" doc:"that it was agreed by, or 0"`
	Phases     []PhaseProgress    `json:"phases"`
	Budgets    []setup.BudgetView `json:"budgets"`
}

// addPhase adds work to a phase or task; a phase has what was done on its tasks, too.
func (v *EngagementOverview) addPhase(id int64, sum *store.EngagementSum, in money.Currency) {
	at := slices.IndexFunc(v.Phases, func(p PhaseProgress) bool { return p.PhaseID == id })
	if at < 0 {
		at = len(v.Phases)
		v.Phases = append(v.Phases, PhaseProgress{PhaseID: id, Worth: money.Zero(in), Billed: money.Zero(in)})
	}
	p := &v.Phases[at]
	p.Minutes, p.Worth.Minor, p.Billed.Minor = p.Minutes+sum.Minutes, p.Worth.Minor+sum.Agreed, p.Billed.Minor+sum.Billed
}

// Engagement reads the overview of an engagement.
func Engagement(ctx context.Context, a *app.App, actor app.Actor, id int64) (*EngagementOverview, error) {
	tx := a.Read(ctx, actor)
	g, err := setup.EngagementSeen(tx, id)
	if err != nil {
		return nil, err
	}
	rows, err := store.EngagementRows(tx, []int64{id})
	if err != nil {
		return nil, err
	}
	view := &EngagementOverview{ID: id, Name: g.Name, Code: g.Code, ClientID: g.ClientID, Client: rows[0].Client, Active: g.Active,
		LastBilled: rows[0].LastBilled, Again: setup.NextPeriod(g, a.Clock.Today()), Phases: []PhaseProgress{}}
	if g.ProposalID != nil {
		view.ProposalID = *g.ProposalID
	}
	sums, err := store.PhaseSums(tx, id)
	if err != nil {
		return nil, err
	}
	for _, sum := range sums {
		view.Minutes += sum.Minutes
		view.addPhase(sum.PhaseID, &sum, g.Currency)
		if sum.ParentID != 0 {
			view.addPhase(sum.ParentID, &sum, g.Currency)
		}
	}
	if err := view.addSums(tx, g); err != nil {
		return nil, err
	}
	today := a.Clock.Today()
	work, err := unbilled.All(tx, today, unbilled.Selection{UpTo: today}, []int64{g.ClientID})
	if err != nil {
		return nil, err
	}
	view.Unbilled = money.Amount{Minor: work.Shares()[id].Net, Currency: g.Currency}
	view.Budgets, err = setup.Budgets(ctx, a, actor, id)
	return view, err
}

// addSums adds what the time of the engagement is worth, person by person, and what is billed of it,
// invoice by invoice.
func (v *EngagementOverview) addSums(tx *store.DB, g *store.Engagement) error {
	v.Worth, v.Billed = explain.NoTotal("Worth, net", g.Currency), explain.NoTotal("Billed, net", g.Currency)
	worth, err := store.WorthByPerson(tx, g.ID)
	if err != nil {
		return err
	}
	for _, own := range worth {
		if err := v.Worth.Add(explain.Step{Label: own.Name, Detail: worktime.Said(int(own.Minutes))},
			money.Amount{Minor: own.Agreed, Currency: g.Currency}); err != nil {
			return err
		}
	}
	billed, err := store.BilledByInvoice(tx, g.ID)
	if err != nil {
		return err
	}
	for _, own := range billed {
		if err := v.Billed.Add(explain.Step{Label: own.Number, Detail: own.Dated.Long()},
			money.Amount{Minor: own.Net, Currency: g.Currency}); err != nil {
			return err
		}
	}
	return nil
}
