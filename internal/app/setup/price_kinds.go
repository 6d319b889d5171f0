package setup

import (
	"regexp"
	"slices"
	"strings"

	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/core/rate"
	"dorvet/internal/app"
	"dorvet/internal/app/registry"
	"dorvet/internal/store"
)

func serviceKind() registry.AnyKind {
	type S = store.Service
	d := &registry.Definition[S]{
		Kind: registry.Kind{Name: "services", One: "service", Many: "services", First: []string{"name"}, Files: true,
			About: "The catalogue that proposals, time and invoices share."},
		Table: registry.Concat(
			registry.Group("Service",
				registry.Line("name", "Name", func(s *S) *string { return &s.Name }).Required(),
				registry.Line("code", "Code", func(s *S) *string { return &s.Code }).Permanent().Hinted("letters and digits; the next one unless given").Listed(),
				registry.Choice("kind", "Priced", func(s *S) *string { return &s.Kind }, "time", "by the hour", "fixed",
					"at a fixed price", "unit",
					"per unit").Listed(),
				registry.RateOf("price", "Default price",
					func(s *S) **money.Rate { return &s.Price }).Hinted("an hour's rate is under Rates").Listed(),
				registry.CurrencyOf("currency", "In", func(s *S) *money.Currency { return &s.Currency }),
				registry.Line("unit", "Unit", func(s *S) *string { return &s.Unit }).Hinted("like day, sample, km"),
				registry.Ref("line_kind", "Kind", "line-kinds", func(s *S) **int64 { return &s.LineKindID }).Hinted("on invoices; empty: a service"),
				registry.Ref("picture", "Picture", "pictures", func(s *S) **int64 { return &s.PictureID }).
					Hinted("beside its lines, where the layout shows one"),
				registry.Ref("tax_code", "Tax code", "tax-codes",
					func(s *S) **int64 { return &s.TaxCodeID }).Hinted("empty: as the engagement is taxed")),
			registry.Group("When recording",
				registry.Line("text", "Default text", func(s *S) *string { return &s.Text }),
				registry.HoursOf("minutes", "Default duration", func(s *S) *int { return &s.Minutes })),
			registry.Group("On proposals and in files",
				registry.Lines("about", "What the client gets", func(s *S) *string { return &s.About }),
				registry.Lines("terms_text", "Standing terms", func(s *S) *string { return &s.TermsText }),
				registry.Line("task_code", "Task code", func(s *S) *string { return &s.TaskCode }),
				registry.Line("activity_code", "Activity code", func(s *S) *string { return &s.ActivityCode }))),
		Blank: func(e *registry.Env) (S, error) {
			code, err := registry.FreshCode(e, "services", "S01")
			return S{Code: code, Kind: "time", Currency: e.Firm.Currency, Active: true}, err
		},
		Check:  func(_ *registry.Env, s *S) error { return app.InField("code", registry.CheckCode(s.Code)) },
		Active: func(s *S) *bool { return &s.Active },
	}
	return d.Ready()
}

func categoryKind() registry.AnyKind {
	type C = store.ExpenseCategory
	d := &registry.Definition[C]{
		Kind: registry.Kind{Name: "expense-categories", One: "expense category", Many: "expense categories", First: []string{"name"},
			Files: true,
			About: "What expenses are for. With a unit and its price, such as a kilometre, they are counted in units."},
		Table: registry.Concat(
			registry.Group("Category",
				registry.Line("name", "Name", func(c *C) *string { return &c.Name }).Required(),
				registry.Line("unit", "Unit", func(c *C) *string { return &c.Unit }).Hinted("like km; empty: by amount").Listed(),
				registry.RateOf("per_unit", "Price of a unit", func(c *C) **money.Rate { return &c.PerUnit }).Listed(),
				registry.PercentOf("markup", "Mark-up, %", func(c *C) *money.Percent { return &c.Markup }).Listed(),
				registry.YesNo("disbursement", "Paid in the client's name",
					func(c *C) *bool { return &c.Disbursement }).Hinted("a disbursement carries neither mark-up nor tax").Listed()),
			registry.Group("In files", registry.Line("expense_code", "Expense code",
				func(c *C) *string { return &c.ExpenseCode }).Hinted("like E110"))),
		Blank: func(*registry.Env) (C, error) { return C{Active: true}, nil },
		Check: func(_ *registry.Env, c *C) error {
			if c.Disbursement && c.Markup != 0 {
				return app.RefuseField("markup", "A disbursement is paid in the client's name and has no mark-up: give 0.")
			}
			return nil
		},
		Active: func(c *C) *bool { return &c.Active },
	}
	return d.Ready()
}

func lineKind() registry.AnyKind {
	type K = store.LineKind
	d := &registry.Definition[K]{
		Kind: registry.Kind{Name: "line-kinds", One: "kind of line", Many: "kinds of lines", First: []string{"name", "taxed"},
			About: "What lines by hand are for. Each is taxed as the client's work, goods or expenses are."},
		Table: registry.Group("Kind of line",
			registry.Line("name", "Name", func(k *K) *string { return &k.Name }).Required(),
			registry.Choice("taxed", "Taxed as", func(k *K) *string { return &k.Taxed }, "work", "work", "goods", "goods", "expenses",
				"expenses").Listed()),
		Blank:  func(*registry.Env) (K, error) { return K{Taxed: "work", Active: true}, nil },
		Active: func(k *K) *bool { return &k.Active },
	}
	return d.Ready()
}

func bundleKind() registry.AnyKind {
	type B = store.Bundle
	d := &registry.Definition[B]{
		Kind: registry.Kind{Name: "bundles", One: "bundle", Many: "bundles",
			About: "Services that are often sold together, taken in one go.",
			First: []string{"name", "services"}},
		Table: registry.Group("Bundle", registry.Line("name", "Name", func(b *B) *string { return &b.Name }).Required(),
			registry.Lines("services", "Services, one a line",
				func(b *B) *string { return &b.Services }).Listed().Hinted("their codes or names")),
		Blank: func(*registry.Env) (B, error) { return B{Active: true}, nil },
		Check: func(e *registry.Env, b *B) error {
			codes := []string{}
			for _, text := range strings.FieldsFunc(b.Services, func(r rune) bool { return r == '\n' || r == ',' }) {
				id, err := e.Find("services", text)
				if err != nil {
					return app.InField("services", err)
				}
				code, err := e.KeyOf("services", id)
				if err != nil {
					return err
				}
				codes = append(codes, code)
			}
			b.Services = strings.Join(codes, "\n")
			return nil
		},
		Active: func(b *B) *bool { return &b.Active },
	}
	return d.Ready()
}

func cardKind() registry.AnyKind {
	type C = store.RateCard
	d := &registry.Definition[C]{
		Kind: registry.Kind{Name: "rate-cards", One: "rate card", Many: "rate cards",
			About: "Named lists of rates by grade, person or service; a client or an engagement names one in its billing profile.",
			First: []string{"name"}},
		Table:  registry.Group("Rate card", registry.Line("name", "Name", func(c *C) *string { return &c.Name }).Required().Permanent()),
		Blank:  func(*registry.Env) (C, error) { return C{Active: true}, nil },
		Active: func(c *C) *bool { return &c.Active },
	}
	return d.Ready()
}

const (
	billing = "bill"
	costing = "cost"
)

func rateKind() registry.AnyKind {
	type R = store.Rate
	d := &registry.Definition[R]{
		Kind: registry.Kind{Name: "rates", One: "rate", Many: "rates",
			First: []string{"grade", "person", "client", "engagement", "service", "per_hour", "from"}, Files: true,
			About: "What an hour costs, on every level and from a day on. The most specific wins; ask for any hour to see which, and why."},
		Belongs: func(v *R) int64 {
			if v.EngagementID == nil {
				return 0
			}
			return *v.EngagementID
		},
		Table: registry.Group("Rate",
			heldFor(),
			registry.Choice("kind", "It is", func(r *R) *string { return &r.Kind }, billing, "what is billed", costing,
				"what it costs us").Listed(),
			registry.Ref("grade", "Grade", "grades", func(r *R) **int64 { return &r.GradeID }),
			registry.Ref("person", "Person", "people", func(r *R) **int64 { return &r.PersonID }),
			registry.Ref("client", "Client", "clients", func(r *R) **int64 { return &r.ClientID }),
			registry.Ref("engagement", "Engagement", "engagements", func(r *R) **int64 { return &r.EngagementID }),
			registry.Ref("service", "Service", "services", func(r *R) **int64 { return &r.ServiceID }),
			registry.Ref("phase", "Phase or task", "phases", func(r *R) **int64 { return &r.PhaseID }),
			registry.Ref("card", "On the rate card", "rate-cards", func(r *R) **int64 { return &r.CardID }),
			registry.CurrencyOf("currency", "Currency", func(r *R) *money.Currency { return &r.Currency }).Listed(),
			perHour(),
			registry.DayOf("from", "From", func(r *R) *day.Day { return &r.FromDay }).Listed().
				Hinted("empty: from ever, if it is the first of its kind; else from today")),
		Blank: func(e *registry.Env) (R, error) { return R{Kind: billing, Currency: e.Firm.Currency}, nil },
		Check: checkRate,
	}
	return d.Ready()
}

// perHour is a figure, or "none": from this day on no rate holds here. That must
// be said, so that an empty field ends no rate.
func perHour() registry.FieldOf[store.Rate] {
	f := registry.RateOf("per_hour", "An hour", func(r *store.Rate) **money.Rate { return &r.PerHour })
	typed, read := f.Write, f.Read
	f.Read = func(e *registry.Env, r *store.Rate) (string, error) {
		if r.PerHour == nil && (r.SaidNone || r.ID != 0) {
			return "none", nil
		}
		return read(e, r)
	}
	f.Write = func(e *registry.Env, r *store.Rate, text string) error {
		r.SaidNone = strings.EqualFold(strings.TrimSpace(text), "none")
		return typed(e, r, text)
	}
	f.Needed, f.Column, f.Hint = true, true, `a figure, or "none" from this day on`
	return f
}

// heldFor says in words whose rate it is.
func heldFor() registry.FieldOf[store.Rate] {
	return registry.FieldOf[store.Rate]{
		Field: registry.Field{Name: "for", Label: "For", Form: "line", Set: true, Column: true},
		Read: func(e *registry.Env, r *store.Rate) (string, error) {
			said := []string{}
			for _, of := range []struct {
				kind, word string
				id         *int64
			}{{"rate-cards", "card ", r.CardID}, {"clients", "", r.ClientID}, {"engagements", "", r.EngagementID},
				{"phases", "", r.PhaseID},
				{"grades", "grade ", r.GradeID}, {"people", "", r.PersonID}, {"services", "service ", r.ServiceID}} {
				if of.id == nil {
					continue
				}
				name, err := e.NameOf(of.kind, *of.id)
				if err != nil {
					return "", err
				}
				said = append(said, of.word+name.Title)
			}
			if len(said) == 0 {
				return "the firm", nil
			}
			return strings.Join(said, ", "), nil
		},
	}
}

// checkRate finds the level of a rate from what it names, and refuses what
// names nothing that a rate can hold for.
func checkRate(e *registry.Env, r *store.Rate) error {
	if err := place(e, r); err != nil {
		return err
	}
	if r.Kind == costing && r.Currency != e.Firm.Currency {
		return app.RefuseField("currency", "Costs are in the firm's currency, %s.", e.Firm.Currency)
	}
	if r.Kind == costing && !slices.Contains([]rate.Level{rate.Firm, rate.Grade, rate.Person, rate.Engagement, rate.EngagementPerson},
		r.Level) || r.Kind == costing && (r.Card != rate.NoCard || r.CardID != nil) {
		return app.Refuse(app.Invalid, "A cost rate holds for the firm, a grade, a person, an engagement, or a person on an engagement: "+
			"leave the rest out.")
	}
	if err := fromEver(e, r); err != nil {
		return err
	}
	same, err := store.SameRate(e.Tx, r)
	if err == nil && same {
		err = app.RefuseField("from", "There is such a rate from %s already: change that one, or give another day.", r.FromDay.Long())
	}
	return err
}

// ever is before everything that is recorded.
var ever = day.Of(2000, 1, 1)

// fromEver gives a rate without a day one: the first holds for what was recorded before it, too.
func fromEver(e *registry.Env, r *store.Rate) error {
	if !r.FromDay.IsZero() {
		return nil
	}
	if r.ID != 0 {
		return app.RefuseField("from", "From which day does it hold? Give one, like 2026-12-01.")
	}
	r.FromDay = ever
	if same, err := store.SameRate(e.Tx, r); err != nil || same {
		r.FromDay = e.Today
		return err
	}
	another, err := store.AnotherRate(e.Tx, r)
	if another {
		r.FromDay = e.Today
	}
	return err
}

// place sets the level. A phase names its engagement, and a task is one level
// closer; on a client or an engagement a grade, person or service makes it a row
// of its own card there.
func place(e *registry.Env, r *store.Rate) error {
	grade, person, service := r.GradeID != nil, r.PersonID != nil, r.ServiceID != nil
	by := 0
	for _, given := range []bool{grade, person, service} {
		if given {
			by++
		}
	}
	if by > 1 {
		return app.Refuse(app.Invalid, "Give one of grade, person and service, not several: the closest of those that hold wins anyway.")
	}
	r.Card = map[bool]rate.Card{true: rate.CardGrade}[grade] + map[bool]rate.Card{true: rate.CardPerson}[person] + map[bool]rate.Card{true: rate.CardService}[service]
	switch {
	case r.CardID != nil:
		if by == 0 || r.ClientID != nil || r.EngagementID != nil || r.PhaseID != nil {
			return app.RefuseField("card", "A rate on a card is by grade, person or service: give one of them and nothing else.")
		}
		r.Level = rate.Firm
	case r.PhaseID != nil:
		phase, err := store.Get[store.Phase](e.Tx, *r.PhaseID)
		if err != nil {
			return err
		}
		if by > 0 || r.ClientID != nil {
			return app.RefuseField("phase", "A rate of a phase or task is for everyone: leave the rest out.")
		}
		r.EngagementID, r.Level = &phase.EngagementID, rate.Phase
		if phase.ParentID != nil {
			r.Level = rate.Task
		}
	case r.EngagementID != nil && r.ClientID != nil:
		return app.RefuseField("client", "The engagement says which client it is: leave the client out.")
	case r.EngagementID != nil && person:
		r.Level, r.Card = rate.EngagementPerson, rate.NoCard
	case r.EngagementID != nil && service:
		r.Level, r.Card = rate.EngagementService, rate.NoCard
	case r.EngagementID != nil:
		r.Level = rate.Engagement
	case r.ClientID != nil:
		r.Level = rate.Client
	default:
		r.Level, r.Card = rate.Firm, rate.NoCard
		if by == 1 {
			r.Level = map[bool]rate.Level{grade: rate.Grade, person: rate.Person, service: rate.Service}[true]
		}
	}
	return nil
}

// word is what an abbreviation is: one word, so that it is found where it is typed.
var word = regexp.MustCompile(`^[\pL\pN]+$`)

// abbreviationKind are short words that become longer texts where they are typed on entries.
func abbreviationKind() registry.AnyKind {
	type A = store.Abbreviation
	d := &registry.Definition[A]{
		Kind: registry.Kind{Name: "abbreviations", One: "abbreviation", Many: "abbreviations", First: []string{"short", "text"},
			About: "Short words that become longer texts where they are typed on time entries."},
		Table: registry.Group("Abbreviation",
			registry.Line("short", "What is typed", func(a *A) *string { return &a.Short }).Required().Hinted("one word, written exactly so"),
			registry.Line("text", "What it becomes", func(a *A) *string { return &a.Text }).Required().Listed()),
		Blank: func(*registry.Env) (A, error) { return A{Active: true}, nil },
		Check: func(_ *registry.Env, a *A) error {
			if !word.MatchString(a.Short) {
				return app.RefuseField("short", "%q is not one word: leave out spaces and signs.", a.Short)
			}
			return nil
		},
		Active: func(a *A) *bool { return &a.Active },
	}
	return d.Ready()
}
