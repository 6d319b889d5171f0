package setup

import (
	"context"
	"errors"
	"slices"

	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/core/profile"
	"dorvet/internal/app"
	"dorvet/internal/app/registry"
	"dorvet/internal/store"
)

// The arrangements.
const (
	Hourly      = "hourly"
	Capped      = "capped"
	FixedFee    = "fixed"
	Recurring   = "recurring"
	NonBillable = "non_billable"
)

// The stages of an engagement.
const (
	NotStarted = "not_started"
	Running    = "running"
	Finished   = "finished" // nothing more is worked on it: the last bill is to be sent
	Closed     = "closed"
)

func engagementKind() registry.AnyKind {
	type E = store.Engagement
	d := &registry.Definition[E]{
		Kind: registry.Kind{Name: "engagements", One: "engagement", Many: "engagements",
			About: "The work for a client: arrangement, phases, budgets, and who may record on it.",
			First: []string{"client", "name", "arrangement"}, Files: true},
		Profile: profile.Engagement, Own: "engagement",
		Belongs: func(v *E) int64 { return v.ClientID },
		Table: registry.Concat(
			registry.Group("Engagement",
				registry.Must("client", "Client", "clients", func(e *E) *int64 { return &e.ClientID }).Permanent().Listed(),
				registry.Line("name", "Name", func(e *E) *string { return &e.Name }).Required(),
				registry.Line("code", "Code", func(e *E) *string { return &e.Code }).Permanent().Hinted("letters and digits; the next one unless given").Listed(),
				registry.Line("reference", "Their reference or order", func(e *E) *string { return &e.Reference }).Listed(),
				registry.Choice("colour", "Colour", func(e *E) *string { return &e.Colour }, "", "none", "sea", "sea", "kelp", "kelp",
					"sand",
					"sand",
					"clay", "clay", "slate", "slate"),
				registry.Must("lead", "Lead", "people", func(e *E) *int64 { return &e.LeadID }).Listed(),
				registry.Choice("stage", "Stage", func(e *E) *string { return &e.Stage }, NotStarted, "not started", Running, "running",
					Finished, "finished", Closed, "closed").Listed(),
				percentDone(),
				registry.DayOf("opened", "Opened", func(e *E) *day.Day { return &e.OpenedDay }),
				registry.DayOf("due", "Due", func(e *E) *day.Day { return &e.DueDay }),
				registry.DayOf("closed", "Closed to time after", func(e *E) *day.Day { return &e.ClosedDay }),
				registry.Lines("notes", "Notes for us", func(e *E) *string { return &e.Notes })),
			registry.Group("How it is billed",
				registry.Choice("arrangement", "Arrangement", func(e *E) *string { return &e.Arrangement }, Hourly, "hourly", Capped,
					"hourly up to a cap", FixedFee, "fixed fee", Recurring, "recurring fee", NonBillable, "non-billable").Listed(),
				readOnlyInUse(engagementCurrency()),
				registry.MoneyOf("fee", "Fee or cap, net", func(e *E) **int64 { return &e.Fee }, currencyOfWork),
				registry.Choice("fee_period", "The fee is for", func(e *E) *string { return &e.FeePeriod }, "", "all of it", "month",
					"a month",
					"quarter", "a quarter", "year", "a year"),
				registry.DayOf("fee_from", "Recurring fee from",
					func(e *E) *day.Day { return &e.FeeFrom }).Hinted("the first day of its first period; empty: as opened"),
				registry.YesNo("fee_arrears", "Recurring fee at the end of its period", func(e *E) *bool { return &e.FeeArrears }),
				registry.YesNo("fee_prorated", "First period prorated to the calendar", func(e *E) *bool { return &e.FeeProrated }),
				registry.YesNo("billable", "Billable", func(e *E) *bool { return &e.Billable }),
				registry.Must("entity", "Issued by", "entities", func(e *E) *int64 { return &e.EntityID }),
				registry.Ref("series", "Numbered in", "series",
					func(e *E) **int64 { return &e.SeriesID }).Hinted("empty: the first series of the entity"),
				registry.Choice("renews", "Made again", func(e *E) *string { return &e.Renews }, "", "no", "month", "each month", "quarter",
					"each quarter", "year", "each year")),
			registry.Group("Recording",
				registry.Ref("service", "Service to begin with", "services", func(e *E) **int64 { return &e.ServiceID }),
				registry.LinkedPeople[E]("people", "Who may record", store.EngagementPeople).Hinted("initials; nobody: everyone"))),
		Blank:  freshEngagement,
		Check:  checkEngagement,
		After:  warnOfClient,
		Active: func(e *E) *bool { return &e.Active },
	}
	return d.Ready()
}

// percentDone is how much of the work behind a fixed fee is done; nothing where nobody says.
func percentDone() registry.FieldOf[store.Engagement] {
	f := registry.PercentOf("done", "Percent done", func(g *store.Engagement) *money.Percent { return &g.Done })
	read, write := f.Read, f.Write
	f.Read = func(e *registry.Env, g *store.Engagement) (string, error) {
		if g.Done == 0 {
			return "", nil
		}
		return read(e, g)
	}
	f.Write = func(e *registry.Env, g *store.Engagement, text string) error {
		if text == "" {
			g.Done = 0
			return nil
		}
		return write(e, g, text)
	}
	return f.Hinted("of the work behind a fixed fee; empty: as phases or hours say")
}

// currencyOfWork is the currency that will hold for an engagement: its own, else its
// client's.
func currencyOfWork(e *registry.Env, g *store.Engagement) (money.Currency, error) {
	if g.Currency != "" {
		return g.Currency, nil
	}
	client, err := store.Get[store.Client](e.Tx, g.ClientID)
	if errors.Is(err, store.ErrNotFound) {
		return "", app.RefuseField("client", "Choose the client that this is for: its currency says how amounts are read.")
	}
	if err != nil {
		return "", err
	}
	return client.Currency, nil
}

// engagementCurrency is the currency of an engagement; a fee that it has already is the
// same number in the new one, if that can be said in it.
func engagementCurrency() registry.FieldOf[store.Engagement] {
	f := registry.CurrencyOf("currency", "Currency", func(g *store.Engagement) *money.Currency { return &g.Currency })
	set := f.Write
	f.Write = func(e *registry.Env, g *store.Engagement, text string) error {
		was := g.Currency
		if err := set(e, g, text); err != nil || g.Fee == nil || was == "" {
			return err
		}
		had, err := was.Decimals()
		if err != nil {
			return err
		}
		has, err := g.Currency.Decimals()
		if err != nil {
			return err
		}
		typed := money.TypeFixed(*g.Fee, e.Firm.Mark(), had, 0)
		fee, err := money.ParseFixed(typed, e.Firm.Mark(), has)
		if err != nil {
			return app.RefuseField("currency", "The fee of %s can't be said in %s: change the fee first.", typed, g.Currency)
		}
		g.Fee = &fee
		return nil
	}
	return f
}

func readOnlyInUse[T any](f registry.FieldOf[T]) registry.FieldOf[T] { f.Fixed = true; return f }

func freshEngagement(e *registry.Env) (store.Engagement, error) {
	entity, err := firstEntity(e)
	if err != nil {
		return store.Engagement{}, err
	}
	code, err := registry.FreshCode(e, "engagements", "E001")
	return store.Engagement{Code: code, EntityID: entity, LeadID: e.Actor.PersonID, Arrangement: Hourly, Billable: true, Stage: Running,
		OpenedDay: e.Today, Active: true}, err
}

func checkEngagement(e *registry.Env, g *store.Engagement) error {
	client, err := store.Get[store.Client](e.Tx, g.ClientID)
	if err := app.Found(err, app.RefuseField("client", "Choose the client that this is for.")); err != nil {
		return err
	}
	if g.Currency == "" {
		g.Currency = client.Currency
	}
	if g.Arrangement == NonBillable {
		g.Billable = false
	}
	if g.Renews == "year" && g.DueDay.IsZero() {
		g.DueDay = g.OpenedDay.NextYearly(client.FiscalYearEnd)
	}
	if g.Stage == Closed && g.ClosedDay.IsZero() {
		g.ClosedDay = e.Today
	}
	switch {
	case g.Arrangement == Capped && g.Fee == nil && g.ID != 0 && g.Version > 0:
		return app.RefuseField("fee", "An arrangement with a cap needs one: give the cap first.")
	case !g.ClosedDay.IsZero() && g.ClosedDay < g.OpenedDay:
		return app.RefuseField("closed", "%s is before %s, when it was opened: give a later day.", g.ClosedDay.Long(), g.OpenedDay.Long())
	case !client.Active && g.ID == 0:
		return app.RefuseField("client", "%s is inactive: take the client back first.", client.Name)
	}
	if g.SeriesID != nil {
		series, err := store.Get[store.Series](e.Tx, *g.SeriesID)
		if err := app.Unless(err, app.RefuseField("series", "This series is not one of invoices of the issuing entity: choose another."),
			func() bool { return series.EntityID == g.EntityID && series.Kind == "invoice" }); err != nil {
			return err
		}
	}
	return app.InField("code", registry.CheckCode(g.Code))
}

// warnOfClient tells whoever makes new work for a client with whom the firm
// does not want to work again.
func warnOfClient(tx *app.Tx, _ *registry.Env, before, g *store.Engagement) error {
	if before != nil {
		return nil
	}
	status, err := store.StatusOf(tx.DB, g.ClientID)
	if err != nil || status == nil || !status.Warns {
		return err
	}
	client, err := store.Get[store.Client](tx.DB, g.ClientID)
	if err == nil && tx.Actor.PersonID != 0 {
		tx.Notify(tx.Actor.PersonID, &g.ID, "%s is marked “%s”, and you have opened %s for it. Ask before work begins.", client.Name,
			status.Name, g.Name)
	}
	return err
}

func phaseKind() registry.AnyKind {
	type P = store.Phase
	d := &registry.Definition[P]{
		Kind: registry.Kind{Name: "phases", One: "phase or task", Many: "phases and tasks", First: []string{"engagement", "name"},
			About: "What an engagement is made of. A task belongs to a phase."},
		Belongs: func(v *P) int64 { return v.EngagementID },
		Table: registry.Group("Phase or task",
			registry.Must("engagement", "Engagement", "engagements", func(p *P) *int64 { return &p.EngagementID }).Permanent(),
			registry.Line("name", "Name", func(p *P) *string { return &p.Name }).Required(),
			registry.Ref("parent", "Task of the phase", "phases",
				func(p *P) **int64 { return &p.ParentID }).Hinted("empty: it is a phase").Listed(),
			registry.Choice("status", "Status", func(p *P) *string { return &p.Status }, "open", "open", "begun", "begun", "done",
				"done").Listed(),
			registry.DayOf("due", "Due", func(p *P) *day.Day { return &p.DueDay }).Listed(),
			registry.LinkedPeople[P]("people", "Assigned to", store.PhasePeople).Listed(),
			registry.YesNo("billable", "Billable", func(p *P) *bool { return &p.Billable }).Listed(),
			registry.Lines("notes", "Notes", func(p *P) *string { return &p.Notes })),
		Blank:  func(*registry.Env) (P, error) { return P{Status: "open", Billable: true, Active: true}, nil },
		Check:  checkPhase,
		Active: func(p *P) *bool { return &p.Active },
	}
	return d.Ready()
}

func checkPhase(e *registry.Env, p *store.Phase) error {
	if p.ID == 0 && p.DueDay.IsZero() {
		g, err := store.Get[store.Engagement](e.Tx, p.EngagementID)
		if err != nil {
			return app.Found(err, app.RefuseField("engagement", "Choose the engagement that this is a part of."))
		}
		if g.Renews == "year" {
			p.DueDay = g.DueDay
		}
	}
	if p.ParentID == nil {
		return nil
	}
	parent, err := store.Get[store.Phase](e.Tx, *p.ParentID)
	switch {
	case err != nil:
		return err
	case parent.EngagementID != p.EngagementID:
		return app.RefuseField("parent", "%s is a phase of another engagement: choose one of this.", parent.Name)
	case parent.ParentID != nil || parent.ID == p.ID:
		return app.RefuseField("parent", "%s is a task itself: choose a phase.", parent.Name)
	}
	return nil
}

func templateKind() registry.AnyKind {
	type T = store.EngagementTemplate
	d := &registry.Definition[T]{
		Kind: registry.Kind{Name: "engagement-templates", One: "engagement template", Many: "engagement templates",
			About: "Engagements that others are made from, with their phases, tasks, budgets and billing.",
			First: []string{"name", "engagement"}},
		Table: registry.Group("Template", registry.Line("name", "Name", func(t *T) *string { return &t.Name }).Required(),
			registry.Must("engagement", "Made like", "engagements", func(t *T) *int64 { return &t.EngagementID }).Listed()),
		Blank:  func(*registry.Env) (T, error) { return T{Active: true}, nil },
		Active: func(t *T) *bool { return &t.Active },
	}
	return d.Ready()
}

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
	return copyBudgets(tx, was, made, numbers, shift)
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

// MayRecord reports whether a person may record on an engagement: everyone may,
// unless some are named.
func MayRecord(named []int64, personID int64) bool {
	return len(named) == 0 || slices.Contains(named, personID)
}
