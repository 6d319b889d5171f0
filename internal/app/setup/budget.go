package setup

import (
	"context"
	"fmt"

	"dorvet/core/budget"
	"dorvet/core/day"
	"dorvet/core/explain"
	"dorvet/core/money"
	"dorvet/core/worktime"
	"dorvet/internal/app"
	"dorvet/internal/app/registry"
	"dorvet/internal/store"
)

// BudgetView is a budget and how it stands; figures are written in its unit,
// hours or money.
type BudgetView struct {
	ID          int64          `json:"id"`
	Version     int64          `json:"version"`
	PhaseID     int64          `json:"phaseId" doc:"0: the whole engagement"`
	Phase       string         `json:"phase"`
	Measure     budget.Measure `json:"measure" enum:"hours,fees,expenses,total,invoiced"`
	Renewal     budget.Renewal `json:"renewal" enum:"once,week,month,quarter,year"`
	Limit       string         `json:"limit"`
	Whole       int64          `json:"whole" doc:"the limit in minutes, or in minor units"`
	Used        string         `json:"used"`
	Left        string         `json:"left"`
	Share       money.Percent  `json:"share" doc:"in ten-thousandths of a percent"`
	Start       day.Day        `json:"start" doc:"of the period"`
	End         day.Day        `json:"end" doc:"of the period, if it is renewed"`
	Exhausted   day.Day        `json:"exhausted" doc:"forecast: when it is used up"`
	Due         day.Day        `json:"due" doc:"of the phase or the engagement"`
	Late        bool           `json:"late" doc:"whether it is used up before the due date or the end of its period"`
	Forecast    explain.Step   `json:"forecast"`
	Explanation explain.Step   `json:"explanation"`
}

// Budgets reads the budgets of an engagement that an actor may see, the whole
// engagement's first.
func Budgets(ctx context.Context, a *app.App, actor app.Actor, engagementID int64) ([]BudgetView, error) {
	tx := a.Read(ctx, actor)
	g, err := EngagementSeen(tx, engagementID)
	if err != nil {
		return nil, err
	}
	records, err := store.BudgetsOf(tx, []int64{engagementID})
	if err != nil {
		return nil, err
	}
	calendar, err := Calendar(tx)
	if err != nil {
		return nil, err
	}
	views := []BudgetView{}
	for i := range records {
		view, err := budgetView(tx, g, &records[i], a.Clock.Today(), calendar)
		if err != nil {
			return nil, err
		}
		views = append(views, view)
	}
	return views, nil
}

// EngagementSeen reads an engagement if the actor may see it.
func EngagementSeen(tx *store.DB, id int64) (*store.Engagement, error) {
	g, err := store.Get[store.Engagement](tx, id)
	if err != nil {
		return nil, app.Missing(err, "engagement")
	}
	if !tx.Scope().Sees(g) {
		return nil, app.Missing(store.ErrNotFound, "engagement")
	}
	return g, nil
}

// Calendar says on which days the firm works.
func Calendar(tx *store.DB) (day.Calendar, error) {
	calendars, err := Calendars(tx)
	if err != nil {
		return day.Calendar{}, err
	}
	return calendars(nil)
}

// Calendars says on which days each office works: it has the firm's holidays, and
// its own.
func Calendars(tx *store.DB) (func(officeID *int64) (day.Calendar, error), error) {
	firm, err := store.TheFirm(tx)
	if err != nil {
		return nil, err
	}
	holidays, err := store.All[store.Holiday](tx, "day")
	return func(officeID *int64) (day.Calendar, error) {
		days := []day.Day{}
		for _, h := range holidays {
			if h.OfficeID == nil || officeID != nil && *h.OfficeID == *officeID {
				days = append(days, h.Day)
			}
		}
		return day.NewCalendar(firm.WorkingDays, days)
	}, err
}

func budgetView(tx *store.DB, g *store.Engagement, b *store.Budget, today day.Day, calendar day.Calendar) (BudgetView, error) {
	view := BudgetView{ID: b.ID, Version: b.Version, Measure: b.Measure, Renewal: b.Renewal, Due: g.DueDay}
	if b.PhaseID != nil {
		phase, err := store.Get[store.Phase](tx, *b.PhaseID)
		if err != nil {
			return view, err
		}
		view.PhaseID, view.Phase = phase.ID, phase.Name
		if !phase.DueDay.IsZero() {
			view.Due = phase.DueDay
		}
	}
	uses, err := store.BudgetUses(tx, b)
	if err != nil {
		return view, err
	}
	s, err := stand(b, today, uses)
	if err != nil {
		return view, err
	}
	figure := figureOf(b)
	view.Whole = s.Limit
	view.Limit, view.Used, view.Left, view.Share, view.Start, view.End = figure(s.Limit), figure(s.Used), figure(s.Left), s.Share, s.Start,
		s.End
	f := budget.Preview(today, s.Left, uses, calendar)
	view.Exhausted, view.Forecast = f.Exhausted, f.Explain(s.Left, figure)
	view.Late = f.Known && (!s.End.IsZero() && f.Exhausted < s.End || !view.Due.IsZero() && f.Exhausted < view.Due || s.Left < 0)
	view.Explanation = explainBudget(b, s, figure)
	return view, nil
}

func stand(b *store.Budget, on day.Day, uses []budget.Use) (budget.Standing, error) {
	limit, err := limitOf(b)
	return budget.Budget{Limit: limit, Renewal: b.Renewal, From: b.FromDay, Carries: b.Carries}.Stand(on, uses), err
}

// BudgetShare is how much of its budget an engagement has used.
type BudgetShare struct {
	Share money.Percent `json:"share" doc:"used, in ten-thousandths of a percent"`
	Used  string        `json:"used"`
	Limit string        `json:"limit"`
	Of    string        `json:"of" doc:"what it is a budget of"`
}

// BudgetShares reads how much of its first budget each of some engagements has
// used on a day; one that has no budget of its own is left out.
func BudgetShares(tx *store.DB, engagementIDs []int64, on day.Day) (map[int64]BudgetShare, error) {
	budgets, err := store.BudgetsOf(tx, engagementIDs)
	if err != nil {
		return nil, err
	}
	shares := map[int64]BudgetShare{}
	for i := range budgets {
		b := &budgets[i]
		if _, has := shares[b.EngagementID]; has || b.PhaseID != nil {
			continue
		}
		uses, err := store.BudgetUses(tx, b)
		if err != nil {
			return nil, err
		}
		s, err := stand(b, on, uses)
		if err != nil {
			return nil, err
		}
		figure := figureOf(b)
		shares[b.EngagementID] = BudgetShare{s.Share, figure(s.Used), figure(s.Limit), measureWords[b.Measure]}
	}
	return shares, nil
}

// figureOf writes amounts of a budget's unit.
func figureOf(b *store.Budget) func(int64) string {
	if b.Measure == budget.Hours {
		return func(n int64) string {
			if n < 0 {
				return "−" + worktime.Said(int(-n))
			}
			return worktime.Said(int(n))
		}
	}
	return func(n int64) string { return money.Amount{Minor: n, Currency: b.Currency}.String() }
}

func explainBudget(b *store.Budget, s budget.Standing, figure func(int64) string) explain.Step {
	limit := explain.Step{Label: "Budget", Figure: figure(s.Limit - s.Carried)}
	if b.PerHour != nil && b.Amount == 0 && b.Measure != budget.Hours {
		limit.Detail = fmt.Sprintf("%s expected × %s", worktime.Said(int(b.Minutes)), b.PerHour)
	}
	steps := []explain.Step{limit}
	if s.Carried != 0 {
		steps = append(steps, explain.Step{Label: "Left over from before", Figure: figure(s.Carried)})
	}
	since := "everything so far"
	if !s.End.IsZero() {
		since = s.Start.Long() + " to " + s.End.Long()
	}
	steps = append(steps, explain.Step{Label: "Used", Detail: usedWords[b.Measure] + ", " + since, Figure: figure(s.Used)})
	return explain.Step{Label: "Left", Detail: s.Share.String() + " % used", Figure: figure(s.Left), Steps: steps}
}

var usedWords = map[budget.Measure]string{budget.Hours: "hours worked, billable or not", budget.Fees: "agreed value of the time",
	budget.Expenses: "expenses at cost", budget.Total: "agreed value of the time, and expenses at cost", budget.Invoiced: "invoiced, net"}

// AlertBudgets tells, once per share and period, that a budget of an engagement
// has reached a share through what was done on a day: to the people it names, or
// else to the lead.
func AlertBudgets(tx *app.Tx, engagementID int64, on day.Day) error {
	records, err := store.BudgetsOf(tx.DB, []int64{engagementID})
	if err != nil || len(records) == 0 {
		return err
	}
	e, err := registry.Acting(tx)
	if err != nil {
		return err
	}
	for i := range records {
		if err := alertBudget(tx, e, &records[i], on, true); err != nil {
			return err
		}
	}
	return nil
}

// alertBudget notes the shares that a budget has reached; tell is false where
// they were reached before it was made.
func alertBudget(tx *app.Tx, e *registry.Env, b *store.Budget, on day.Day, tell bool) error {
	shares, err := thresholds(e, b.Thresholds)
	if err != nil || len(shares) == 0 {
		return err
	}
	uses, err := store.BudgetUses(tx.DB, b)
	if err != nil {
		return err
	}
	s, err := stand(b, on, uses)
	if err != nil {
		return err
	}
	told, err := store.AlertsTold(tx.DB, b.ID, s.Start)
	if err != nil {
		return err
	}
	reached := s.Reached(shares, told)
	for _, share := range reached {
		alert := store.BudgetAlert{BudgetID: b.ID, Threshold: share, PeriodStart: s.Start, ActID: tx.ActID}
		if err := store.Insert(tx.DB, &alert); err != nil {
			return err
		}
	}
	if len(reached) == 0 || !tell {
		return nil
	}
	return tellOf(tx, b, s, reached[len(reached)-1])
}

// tellOf tells of the highest share that was reached.
func tellOf(tx *app.Tx, b *store.Budget, s budget.Standing, share money.Percent) error {
	g, err := store.Get[store.Engagement](tx.DB, b.EngagementID)
	if err != nil {
		return err
	}
	people, err := store.ToldOf(tx.DB, b.ID)
	if err != nil {
		return err
	}
	if len(people) == 0 {
		people = []int64{g.LeadID}
	}
	figure := figureOf(b)
	for _, person := range people {
		tx.Notify(person, &g.ID, "%s has reached %s %% of its budget of %s: %s of %s.", g.Name, share, measureWords[b.Measure],
			figure(s.Used),
			figure(s.Limit))
	}
	return nil
}

var measureWords = map[budget.Measure]string{budget.Hours: "hours", budget.Fees: "fees", budget.Expenses: "expenses",
	budget.Total: "fees and expenses", budget.Invoiced: "invoices"}
