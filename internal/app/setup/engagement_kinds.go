package setup

import (
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

// MayRecord reports whether a person may record on an engagement: everyone may,
// unless some are named.
func MayRecord(named []int64, personID int64) bool {
	return len(named) == 0 || slices.Contains(named, personID)
}
