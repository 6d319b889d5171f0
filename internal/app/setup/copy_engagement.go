package setup

import (
	"context"

	"dorvet/core/day"
	"dorvet/internal/app"
	"dorvet/internal/app/registry"
	"dorvet/internal/store"
)

// Copied says what an engagement is made from, and for whom.
type Copied struct {
	FromID     int64   `json:"fromId,omitempty" doc:"the engagement, or 0 for a template's"`
	TemplateID int64   `json:"templateId,omitempty"`
	ClientID   int64   `json:"clientId" doc:"0: the same client"`
	Name       string  `json:"name" minLength:"1" maxLength:"200"`
	Opened     day.Day `json:"opened" format:"date"`
}

// CopyEngagement makes an engagement like another: its arrangement, billing
// profile, phases, tasks and budgets. Due dates move with the day on which it is
// opened; what was done is open again.
func CopyEngagement(ctx context.Context, a *app.App, r app.Request, c Copied) (registry.Added, error) {
	return app.Do(ctx, a, r, "copy engagement", c, func(tx *app.Tx) (registry.Added, error) {
		e, err := registry.Acting(tx)
		if err != nil {
			return registry.Added{}, err
		}
		if c.TemplateID != 0 {
			template, err := store.Get[store.EngagementTemplate](tx.DB, c.TemplateID)
			if err != nil {
				return registry.Added{}, app.Missing(err, "template")
			}
			c.FromID = template.EngagementID
		}
		from, err := registry.KindOf("engagements").Open(e, c.FromID)
		if err != nil {
			return registry.Added{}, err
		}
		was := from.(*registry.Typed[store.Engagement]).Value
		made, err := copyEngagement(tx, e, was, c)
		if err != nil {
			return registry.Added{}, err
		}
		tx.Describe(nil, nil, "Made the engagement %s like %s", made.Value.Name, was.Name)
		tx.LinkTo("engagements", made.Value.ID, was.ID)
		return registry.AddedOf(e, registry.KindOf("engagements"), made)
	})
}

func copyEngagement(tx *app.Tx, e *registry.Env, was *store.Engagement, c Copied) (*registry.Typed[store.Engagement], error) {
	fresh, err := registry.KindOf("engagements").Fresh(e)
	if err != nil {
		return nil, err
	}
	made := fresh.(*registry.Typed[store.Engagement])
	code, shift := made.Value.Code, c.Opened-was.OpenedDay
	*made.Value = *was
	made.Value.Done, made.Value.Row, made.Value.Code, made.Value.Name, made.Value.MadeFromID = 0, store.Row{}, code, c.Name, &was.ID
	made.Value.Active, made.Value.Stage, made.Value.OpenedDay, made.Value.ClosedDay = true, Running, c.Opened, 0
	if c.ClientID != 0 && c.ClientID != was.ClientID {
		client, err := store.Get[store.Client](tx.DB, c.ClientID)
		if err != nil {
			return nil, app.Missing(err, "client")
		}
		made.Value.ClientID, made.Value.Reference = client.ID, ""
		if client.Currency != was.Currency {
			made.Value.Currency, made.Value.Fee = client.Currency, nil
		}
	}
	due, err := dueLike(tx, was, made.Value)
	if err != nil {
		return nil, err
	}
	made.Value.DueDay = due(was.DueDay)
	if err := made.Insert(e); err != nil {
		return nil, err
	}
	if err := made.After(tx, e, nil); err != nil {
		return nil, err
	}
	return made, copyParts(tx, was, made.Value, shift)
}

// dueLike moves due days of an engagement to one that is made like it: by as much as that is opened
// later, but of yearly work the end of the client's fiscal year to the next one.
func dueLike(tx *app.Tx, was, made *store.Engagement) (func(day.Day) day.Day, error) {
	ends := map[*store.Engagement]day.Day{}
	for _, g := range []*store.Engagement{was, made} {
		client, err := store.Get[store.Client](tx.DB, g.ClientID)
		if err != nil {
			return nil, app.Missing(err, "client")
		}
		ends[g] = g.OpenedDay.NextYearly(client.FiscalYearEnd)
	}
	return func(due day.Day) day.Day {
		switch {
		case due.IsZero():
			return 0
		case was.Renews == "year" && due == ends[was] && !ends[made].IsZero():
			return ends[made]
		}
		return due + made.OpenedDay - was.OpenedDay
	}, nil
}

// NextPeriod is the day on which recurring work is opened again: its own day in
// the first later period that has not begun before today. Zero for work that is
// not made again.
func NextPeriod(g *store.Engagement, today day.Day) day.Day {
	months := map[string]int{"month": 1, "quarter": 3, "year": 12}[g.Renews]
	if months == 0 || g.OpenedDay.IsZero() {
		return 0
	}
	for k := 1; ; k++ {
		if next := g.OpenedDay.AddMonths(k * months); next >= today {
			return next
		}
	}
}

// copyParts copies what hangs on an engagement.
func copyParts(tx *app.Tx, was, made *store.Engagement, shift day.Day) error {
	if err := store.CopyLayers(tx.DB, was.ID, made.ID); err != nil {
		return err
	}
	phases, err := store.PhasesOf(tx.DB, was.ID)
	if err != nil {
		return err
	}
	due, err := dueLike(tx, was, made)
	if err != nil {
		return err
	}
	numbers := map[int64]int64{}
	for _, p := range phases { // phases come before their tasks
		if !p.Active {
			continue
		}
		old := p.ID
		p.Row, p.EngagementID, p.Status, p.DueDay = store.Row{}, made.ID, "open", due(p.DueDay)
		if p.ParentID != nil {
			parent := numbers[*p.ParentID]
			p.ParentID = &parent
		}
		if err := store.Insert(tx.DB, &p); err != nil {
			return err
		}
		numbers[old] = p.ID
	}
	if err := copyPayers(tx, was, made); err != nil {
		return err
	}
	return copyBudgets(tx, was, made, numbers, shift)
}

// copyPayers lets the same pay what is made again for the same client.
func copyPayers(tx *app.Tx, was, made *store.Engagement) error {
	payers, err := store.PayersOf(tx.DB, []int64{was.ID})
	if err != nil || was.ClientID != made.ClientID {
		return err
	}
	for _, p := range payers[was.ID] {
		p.Row, p.EngagementID = store.Row{}, made.ID
		if err := store.Insert(tx.DB, &p); err != nil {
			return err
		}
	}
	return nil
}

func copyBudgets(tx *app.Tx, was, made *store.Engagement, phases map[int64]int64, shift day.Day) error {
	budgets, err := store.BudgetsOf(tx.DB, []int64{was.ID})
	if err != nil || was.Currency != made.Currency {
		return err
	}
	for _, b := range budgets {
		if b.PhaseID != nil {
			phase := phases[*b.PhaseID]
			b.PhaseID = &phase
		}
		b.Row, b.EngagementID, b.FromDay = store.Row{}, made.ID, b.FromDay+shift
		if err := store.Insert(tx.DB, &b); err != nil {
			return err
		}
	}
	return nil
}
