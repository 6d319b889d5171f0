package setup

import (
	"slices"
	"strings"

	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/core/rate"
	"dorvet/internal/app"
	"dorvet/internal/store"
)

func serviceKind() kind {
	type S = store.Service
	d := &definition[S]{
		Kind: Kind{Name: "services", One: "service", Many: "services", First: []string{"name"}, Files: true,
			About: "The catalogue that proposals, time and invoices share."},
		fields: concat(
			group("Service",
				line("name", "Name", func(s *S) *string { return &s.Name }).needed(),
				line("code", "Code", func(s *S) *string { return &s.Code }).fixed().hint("letters and digits; the next one unless given").column(),
				choice("kind", "Priced", func(s *S) *string { return &s.Kind }, "time", "by the hour", "fixed", "at a fixed price", "unit", "per unit").column(),
				rateOf("price", "Default price", func(s *S) **money.Rate { return &s.Price }).hint("an hour's rate is under Rates").column(),
				currencyOf("currency", "In", func(s *S) *money.Currency { return &s.Currency }),
				line("unit", "Unit", func(s *S) *string { return &s.Unit }).hint("like day, sample, km"),
				ref("tax_code", "Tax code", "tax-codes", func(s *S) **int64 { return &s.TaxCodeID }).hint("empty: as the engagement is taxed")),
			group("When recording",
				line("text", "Default text", func(s *S) *string { return &s.Text }),
				hoursOf("minutes", "Default duration", func(s *S) *int { return &s.Minutes })),
			group("On proposals and in files",
				lines("terms_text", "Standing terms", func(s *S) *string { return &s.TermsText }),
				line("task_code", "Task code", func(s *S) *string { return &s.TaskCode }),
				line("activity_code", "Activity code", func(s *S) *string { return &s.ActivityCode }))),
		blank: func(e *env) (S, error) {
			code, err := freshCode(e, "services", "S01")
			return S{Code: code, Kind: "time", Currency: e.firm.Currency, Active: true}, err
		},
		check:  func(_ *env, s *S) error { return app.InField("code", checkCode(s.Code)) },
		active: func(s *S) *bool { return &s.Active },
	}
	return d.ready()
}

func categoryKind() kind {
	type C = store.ExpenseCategory
	d := &definition[C]{
		Kind: Kind{Name: "expense-categories", One: "expense category", Many: "expense categories", First: []string{"name"}, Files: true,
			About: "What expenses are for. With a unit and its price, such as a kilometre, they are counted in units."},
		fields: concat(
			group("Category",
				line("name", "Name", func(c *C) *string { return &c.Name }).needed(),
				line("unit", "Unit", func(c *C) *string { return &c.Unit }).hint("like km; empty: by amount").column(),
				rateOf("per_unit", "Price of a unit", func(c *C) **money.Rate { return &c.PerUnit }).column(),
				percentOf("markup", "Mark-up, %", func(c *C) *money.Percent { return &c.Markup }).column(),
				yesNo("disbursement", "Paid in the client's name", func(c *C) *bool { return &c.Disbursement }).hint("a disbursement carries neither mark-up nor tax").column()),
			group("In files", line("expense_code", "Expense code", func(c *C) *string { return &c.ExpenseCode }).hint("like E110"))),
		blank: func(*env) (C, error) { return C{Active: true}, nil },
		check: func(_ *env, c *C) error {
			if c.Disbursement && c.Markup != 0 {
				return app.RefuseField("markup", "A disbursement is paid in the client's name and has no mark-up: give 0.")
			}
			return nil
		},
		active: func(c *C) *bool { return &c.Active },
	}
	return d.ready()
}

func bundleKind() kind {
	type B = store.Bundle
	d := &definition[B]{
		Kind: Kind{Name: "bundles", One: "bundle", Many: "bundles", About: "Services that are often sold together, taken in one go.", First: []string{"name", "services"}},
		fields: group("Bundle", line("name", "Name", func(b *B) *string { return &b.Name }).needed(),
			lines("services", "Services, one a line", func(b *B) *string { return &b.Services }).column().hint("their codes or names")),
		blank: func(*env) (B, error) { return B{Active: true}, nil },
		check: func(e *env, b *B) error {
			codes := []string{}
			for _, text := range strings.FieldsFunc(b.Services, func(r rune) bool { return r == '\n' || r == ',' }) {
				id, err := e.find("services", text)
				if err != nil {
					return app.InField("services", err)
				}
				code, err := e.keyOf("services", id)
				if err != nil {
					return err
				}
				codes = append(codes, code)
			}
			b.Services = strings.Join(codes, "\n")
			return nil
		},
		active: func(b *B) *bool { return &b.Active },
	}
	return d.ready()
}

func cardKind() kind {
	type C = store.RateCard
	d := &definition[C]{
		Kind:   Kind{Name: "rate-cards", One: "rate card", Many: "rate cards", About: "Named lists of rates by grade, person or service; a client or an engagement names one in its billing profile.", First: []string{"name"}},
		fields: group("Rate card", line("name", "Name", func(c *C) *string { return &c.Name }).needed().fixed()),
		blank:  func(*env) (C, error) { return C{Active: true}, nil },
		active: func(c *C) *bool { return &c.Active },
	}
	return d.ready()
}

const (
	billing = "bill"
	costing = "cost"
)

func rateKind() kind {
	type R = store.Rate
	d := &definition[R]{
		Kind: Kind{Name: "rates", One: "rate", Many: "rates", First: []string{"grade", "person", "client", "engagement", "service", "per_hour", "from"}, Files: true,
			About: "What an hour costs, on every level and from a day on. The most specific wins; ask for any hour to see which, and why."},
		belongs: func(v *R) int64 {
			if v.EngagementID == nil {
				return 0
			}
			return *v.EngagementID
		},
		fields: group("Rate",
			heldFor(),
			choice("kind", "It is", func(r *R) *string { return &r.Kind }, billing, "what is billed", costing, "what it costs us").column(),
			ref("grade", "Grade", "grades", func(r *R) **int64 { return &r.GradeID }),
			ref("person", "Person", "people", func(r *R) **int64 { return &r.PersonID }),
			ref("client", "Client", "clients", func(r *R) **int64 { return &r.ClientID }),
			ref("engagement", "Engagement", "engagements", func(r *R) **int64 { return &r.EngagementID }),
			ref("service", "Service", "services", func(r *R) **int64 { return &r.ServiceID }),
			ref("phase", "Phase or task", "phases", func(r *R) **int64 { return &r.PhaseID }),
			ref("card", "On the rate card", "rate-cards", func(r *R) **int64 { return &r.CardID }),
			currencyOf("currency", "Currency", func(r *R) *money.Currency { return &r.Currency }).column(),
			perHour(),
			dayOf("from", "From", func(r *R) *day.Day { return &r.FromDay }).needed().column()),
		blank: func(e *env) (R, error) { return R{Kind: billing, Currency: e.firm.Currency, FromDay: e.today}, nil },
		check: checkRate,
	}
	return d.ready()
}

// perHour is a figure, or "none": from this day on no rate holds here. That must
// be said, so that an empty field ends no rate.
func perHour() field[store.Rate] {
	f := rateOf("per_hour", "An hour", func(r *store.Rate) **money.Rate { return &r.PerHour })
	typed, read := f.set, f.get
	f.get = func(e *env, r *store.Rate) (string, error) {
		if r.PerHour == nil && (r.SaidNone || r.ID != 0) {
			return "none", nil
		}
		return read(e, r)
	}
	f.set = func(e *env, r *store.Rate, text string) error {
		r.SaidNone = strings.EqualFold(strings.TrimSpace(text), "none")
		return typed(e, r, text)
	}
	f.Needed, f.Column, f.Hint = true, true, `a figure, or "none" from this day on`
	return f
}

// heldFor says in words whose rate it is.
func heldFor() field[store.Rate] {
	return field[store.Rate]{
		Field: Field{Name: "for", Label: "For", Form: "line", Set: true, Column: true},
		get: func(e *env, r *store.Rate) (string, error) {
			said := []string{}
			for _, of := range []struct {
				kind, word string
				id         *int64
			}{{"rate-cards", "card ", r.CardID}, {"clients", "", r.ClientID}, {"engagements", "", r.EngagementID}, {"phases", "", r.PhaseID},
				{"grades", "grade ", r.GradeID}, {"people", "", r.PersonID}, {"services", "service ", r.ServiceID}} {
				if of.id == nil {
					continue
				}
				k, err := e.namesOf(of.kind)
				if err != nil {
					return "", err
				}
				said = append(said, of.word+k.keys[*of.id].Title)
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
func checkRate(e *env, r *store.Rate) error {
	if err := place(e, r); err != nil {
		return err
	}
	if r.Kind == costing && r.Currency != e.firm.Currency {
		return app.RefuseField("currency", "Costs are in the firm's currency, %s.", e.firm.Currency)
	}
	if r.Kind == costing && !slices.Contains([]rate.Level{rate.Firm, rate.Grade, rate.Person, rate.Engagement, rate.EngagementPerson}, r.Level) || r.Kind == costing && (r.Card != rate.NoCard || r.CardID != nil) {
		return app.Refuse(app.Invalid, "A cost rate holds for the firm, a grade, a person, an engagement, or a person on an engagement: leave the rest out.")
	}
	same, err := store.SameRate(e.tx, r)
	if err == nil && same {
		err = app.RefuseField("from", "There is such a rate from %s already: change that one, or give another day.", r.FromDay.Long())
	}
	return err
}

// place sets the level. A phase names its engagement, and a task is one level
// closer; on a client or an engagement a grade, person or service makes it a row
// of its own card there.
func place(e *env, r *store.Rate) error {
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
		phase, err := store.Get[store.Phase](e.tx, *r.PhaseID)
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
