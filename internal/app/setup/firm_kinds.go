package setup

import (
	"errors"
	"regexp"
	"strings"
	"time"

	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/core/profile"
	"dorvet/core/refusal"
	"dorvet/core/tax"
	"dorvet/internal/app"
	"dorvet/internal/store"
)

func firmKind() kind {
	type F = store.Firm
	d := &definition[F]{
		Kind:   Kind{Name: "firm", One: "firm", Many: "the firm's settings", About: "Name, currency, working week, closing date, and how clients are billed unless they say otherwise."},
		single: true, profile: profile.Firm,
		fields: concat(
			group("The firm",
				line("name", "Name", func(f *F) *string { return &f.Name }).needed(),
				lines("address", "Addresses", func(f *F) *string { return &f.Address }),
				line("web", "Web", func(f *F) *string { return &f.Web }),
				lines("tax_registrations", "Tax registrations", func(f *F) *string { return &f.TaxRegistrations }),
				readOnly(currencyOf("currency", "Currency", func(f *F) *money.Currency { return &f.Currency })),
				choice("decimal_mark", "Decimal mark", func(f *F) *string { return &f.DecimalMark }, ".", "a point: 1,250.50", ",", "a comma: 1.250,50"),
				line("engagement_word", "Your word for engagement", func(f *F) *string { return &f.EngagementWord }).needed(),
				line("phase_word", "Your word for phase", func(f *F) *string { return &f.PhaseWord }).needed()),
			group("Calendar",
				line("time_zone", "Time zone", func(f *F) *string { return &f.TimeZone }).needed(),
				line("working_days", "Working week", func(f *F) *string { return &f.WorkingDays }).needed().hint("like mon tue wed thu fri"),
				monthDay("fiscal_year_start", "Fiscal year begins", func(f *F) *string { return &f.FiscalYearStart }).needed(),
				dayOf("closing_day", "Closed up to", func(f *F) *day.Day { return &f.ClosingDay }).hint("what lies before takes no change")),
			group("Proposals",
				daysOf("proposal_days", "Valid for, days", func(f *F) *int { return &f.ProposalDays }),
				yesNo("pass_within_domain", "Clients pass on within their house", func(f *F) *bool { return &f.PassWithinDomain }).hint("yes: to any address of their own domain; else contacts alone, and you are asked"),
				lines("proposal_text", "Opening text", func(f *F) *string { return &f.ProposalText }).hint("empty: the first of the texts for proposals"),
				moneyOf("fee_step", "Suggested fees go up to the next", func(f *F) **int64 { return &f.FeeStep }, func(_ *env, f *F) (money.Currency, error) { return f.Currency, nil }).hint("like 50: 1,020 becomes 1,050")),
			group("Accounts",
				whole("idle_minutes", "Signed out after, minutes without use", func(f *F) *int { return &f.IdleMinutes }).hint("5 to 1440").guarded(),
				moneyOf("refund_proof", "Refunds above ask for the password", func(f *F) **int64 { return &f.RefundProof }, func(_ *env, f *F) (money.Currency, error) { return f.Currency, nil }).hint("empty: none does").guarded(),
				yesNo("two_agree", "A second administrator agrees", func(f *F) *bool { return &f.TwoAgree }).hint("yes: to bank details, roles and limits, and to this").guarded())),
		check: checkFirm,
		after: enoughToAgree,
		blank: func(*env) (F, error) {
			return F{}, app.Refuse(app.Invalid, "There is one firm, and it is there already.")
		},
	}
	return d.ready()
}

// enoughToAgree refuses to ask for a second administrator where there is one.
func enoughToAgree(tx *app.Tx, _ *env, _, now *store.Firm) error {
	if !now.TwoAgree {
		return nil
	}
	n, err := store.UnlimitedAdministrators(tx.DB)
	if err == nil && n < 2 {
		err = app.RefuseField("two_agree", "There is one administrator of all issuing entities, so nobody could agree: make a second one first.")
	}
	return err
}

func readOnly[T any](f field[T]) field[T] { f.Set = true; return f }

func checkFirm(e *env, f *store.Firm) error {
	if _, err := time.LoadLocation(f.TimeZone); err != nil || f.TimeZone == "" {
		return app.RefuseField("time_zone", "%q is no time zone: write it like Europe/Dublin.", f.TimeZone)
	}
	if _, err := day.NewCalendar(f.WorkingDays, nil); err != nil {
		return app.InField("working_days", err)
	}
	if f.IdleMinutes < 5 || f.IdleMinutes > 1440 {
		return app.RefuseField("idle_minutes", "Sessions end after 5 to 1440 minutes without use: give a number between.")
	}
	if f.ClosingDay > e.today {
		return app.RefuseField("closing_day", "%s has not been yet: close up to today at most.", f.ClosingDay.Long())
	}
	return nil
}

func entityKind() kind {
	type E = store.IssuingEntity
	d := &definition[E]{
		Kind: Kind{Name: "entities", One: "issuing entity", Many: "issuing entities", First: []string{"name", "legal_name"},
			About: "The legal persons of the firm that issue invoices, with their bank and the numbers of their proposals."},
		fields: concat(
			group("On invoices",
				line("name", "Name for us", func(e *E) *string { return &e.Name }).needed(),
				line("legal_name", "Legal name", func(e *E) *string { return &e.LegalName }).needed().column(),
				lines("address", "Address", func(e *E) *string { return &e.Address }),
				line("country", "Country", func(e *E) *string { return &e.Country }).hint("two letters, like IE; an e-invoice needs it"),
				line("tax_number", "Tax number", func(e *E) *string { return &e.TaxNumber }).column(),
				line("mail", "Mail", func(e *E) *string { return &e.Mail })),
			group("Bank",
				line("bank_name", "Bank", func(e *E) *string { return &e.BankName }).guarded(),
				line("iban", "IBAN", func(e *E) *string { return &e.IBAN }).column().guarded(),
				line("bic", "BIC", func(e *E) *string { return &e.BIC }).guarded()),
			group("Numbers of proposals",
				line("proposal_prefix", "Prefix", func(e *E) *string { return &e.ProposalPrefix }),
				whole("proposal_first", "First number", func(e *E) *int64 { return &e.ProposalFirst }),
				whole("proposal_next", "Next number", func(e *E) *int64 { return &e.ProposalNext }))),
		blank: func(*env) (E, error) {
			return E{ProposalPrefix: "P", ProposalFirst: 1, ProposalNext: 1, Active: true}, nil
		},
		check: func(_ *env, e *E) error {
			if e.Country = strings.ToUpper(strings.TrimSpace(e.Country)); e.Country != "" && !twoLetters.MatchString(strings.ToLower(e.Country)) {
				return app.RefuseField("country", "%q is no country: write two letters, like IE.", e.Country)
			}
			return nil
		},
		active: func(e *E) *bool { return &e.Active },
	}
	d.fields[0].Fixed = false
	return d.ready()
}

func seriesKind() kind {
	type S = store.Series
	d := &definition[S]{
		Kind: Kind{Name: "series", One: "number series", Many: "number series", First: []string{"entity", "kind", "prefix", "first_number"},
			About: "Numbers are given at issue, without gaps, per issuing entity and series."},
		fields: group("Series",
			must("entity", "Issuing entity", "entities", func(s *S) *int64 { return &s.EntityID }).column().fixed(),
			choice("kind", "Numbers", func(s *S) *string { return &s.Kind }, "invoice", "invoices", "credit_note", "credit notes").column().fixed(),
			line("prefix", "Prefix", func(s *S) *string { return &s.Prefix }).column().fixed(),
			whole("first_number", "First number", func(s *S) *int64 { return &s.FirstNumber }).column().fixed(),
			readOnly(whole("next_number", "Next number", func(s *S) *int64 { return &s.NextNumber }).column())),
		blank: func(e *env) (S, error) {
			entity, err := firstEntity(e)
			return S{EntityID: entity, Kind: "invoice", FirstNumber: 1, NextNumber: 1}, err
		},
		check: func(e *env, s *S) error {
			used, err := store.UsedBy(e.tx, "series", s.ID)
			if err == nil && used == "" {
				s.NextNumber = s.FirstNumber
			}
			return err
		},
	}
	return d.ready()
}

// firstEntity is the entity of whoever asks, or the first.
func firstEntity(e *env) (int64, error) {
	person, err := store.Get[store.Person](e.tx, e.actor.PersonID)
	if err == nil {
		return person.EntityID, nil
	}
	if !errors.Is(err, store.ErrNotFound) {
		return 0, err
	}
	entities, err := store.All[store.IssuingEntity](e.tx, "id")
	if err == nil && len(entities) == 0 {
		err = app.Refuse(app.Invalid, "There is no issuing entity yet: make one first.")
	}
	if err != nil {
		return 0, err
	}
	return entities[0].ID, nil
}

func officeKind() kind {
	type O = store.Office
	d := &definition[O]{
		Kind: Kind{Name: "offices", One: "office", Many: "offices", About: "Where people work; clients can belong to one.", First: []string{"name"}},
		fields: group("Office", line("name", "Name", func(o *O) *string { return &o.Name }).needed(),
			lines("address", "Address", func(o *O) *string { return &o.Address }).column()),
		blank:  func(*env) (O, error) { return O{Active: true}, nil },
		active: func(o *O) *bool { return &o.Active },
	}
	return d.ready()
}

func holidayKind() kind {
	type H = store.Holiday
	d := &definition[H]{
		Kind: Kind{Name: "holidays", One: "holiday", Many: "holidays", About: "Days on which nobody works: forecasts leave them out.", First: []string{"day", "name"}, Files: true},
		// The same day can be a holiday of two offices.
		fields: group("Holiday", dayOf("day", "Day", func(h *H) *day.Day { return &h.Day }).needed().column(),
			line("name", "Name", func(h *H) *string { return &h.Name }).needed(),
			ref("office", "Office", "offices", func(h *H) **int64 { return &h.OfficeID }).hint("empty: all of them").column()),
		blank: func(*env) (H, error) { return H{}, nil },
	}
	return d.ready()
}

func exchangeKind() kind {
	type X = store.ExchangeRate
	d := &definition[X]{
		Kind: Kind{Name: "exchange-rates", One: "exchange rate", Many: "exchange rates", First: []string{"currency", "day", "rate"}, Files: true,
			About: "What a unit of another currency costs in the firm's, by day; the latest recorded holds."},
		fields: group("Rate", currencyOf("currency", "Currency", func(x *X) *money.Currency { return &x.Currency }).needed().column(),
			dayOf("day", "Day", func(x *X) *day.Day { return &x.Day }).needed().column(),
			exchangeField(), line("source", "Source", func(x *X) *string { return &x.Source }).column()),
		blank: func(e *env) (X, error) { return X{Day: e.today, Source: "typed"}, nil },
		check: func(e *env, x *X) error {
			if x.Currency == e.firm.Currency {
				return app.RefuseField("currency", "%s is the firm's own currency and needs no rate.", x.Currency)
			}
			return nil
		},
	}
	return d.ready()
}

func exchangeField() field[store.ExchangeRate] {
	return field[store.ExchangeRate]{
		Field: Field{Name: "rate", Label: "One unit costs", Form: FormRate, Needed: true, Column: true},
		get: func(e *env, x *store.ExchangeRate) (string, error) {
			if x.Rate == 0 {
				return "", nil
			}
			return money.TypeFixed(int64(x.Rate), e.firm.Mark(), 8, 4), nil
		},
		set: func(e *env, x *store.ExchangeRate, text string) error {
			n, err := money.ParseFixed(text, e.firm.Mark(), 8)
			if err == nil && n <= 0 {
				err = refusal.Errorf("%q can't be: a rate is more than zero", text)
			}
			x.Rate = money.ExchangeRate(n)
			return err
		},
	}
}

var countriesPattern = regexp.MustCompile(`^([A-Z]{2}( [A-Z]{2})*)?$`)

func taxCodeKind() kind {
	type C = store.TaxCode
	d := &definition[C]{
		Kind: Kind{Name: "tax-codes", One: "tax code", Many: "tax codes", About: "How an amount is taxed; its rates have dates of their own.", First: []string{"code", "name", "category"}},
		fields: group("Tax code",
			line("code", "Code", func(c *C) *string { return &c.Code }).needed().fixed().column(),
			line("name", "Name on invoices", func(c *C) *string { return &c.Name }).needed().column(),
			choice("category", "Category", func(c *C) *string { return (*string)(&c.Category) }, string(tax.StandardRated), "standard or reduced", string(tax.Exempt), "exempt", string(tax.ReverseCharge), "reverse charge").column(),
			lines("notice", "Notice on invoices", func(c *C) *string { return &c.Notice }),
			line("account", "Account of the bookkeeper", func(c *C) *string { return &c.Account }).hint("in the journal; empty: as all taxes").column(),
			line("places", "Proposed for countries", func(c *C) *string { return &c.Places }).hint("two letters each, like NO IS").column(),
			line("second_name", "Second tax, name on invoices", func(c *C) *string { return &c.SecondName }).hint("empty: there is none"),
			yesNo("second_compound", "Second tax counts on the first, too", func(c *C) *bool { return &c.SecondCompound })),
		blank: func(*env) (C, error) { return C{Category: tax.StandardRated, Active: true}, nil },
		check: func(_ *env, c *C) error {
			if c.Places = strings.ToUpper(c.Places); !countriesPattern.MatchString(c.Places) {
				return app.RefuseField("places", "%q are no countries: write two letters each, like NO IS.", c.Places)
			}
			return app.InField("code", checkCode(c.Code))
		},
		active: func(c *C) *bool { return &c.Active },
	}
	return d.ready()
}

func taxRateKind() kind {
	type R = store.TaxRate
	d := &definition[R]{
		Kind: Kind{Name: "tax-rates", One: "tax rate", Many: "tax rates", About: "What a tax code takes, from a day on. Invoices keep the rate of their tax date.", First: []string{"code", "from", "percent"}},
		fields: group("Tax rate",
			must("code", "Tax code", "tax-codes", func(r *R) *int64 { return &r.TaxCodeID }).column(),
			dayOf("from", "From", func(r *R) *day.Day { return &r.FromDay }).needed().column(),
			percentOf("percent", "Percent", func(r *R) *money.Percent { return &r.Percent }).needed().column(),
			percentOf("second_percent", "Percent of the second tax", func(r *R) *money.Percent { return &r.SecondPercent })),
		blank: func(e *env) (R, error) { return R{FromDay: e.today}, nil },
		check: func(e *env, r *R) error {
			if r.FromDay <= e.firm.ClosingDay {
				return app.RefuseField("from", "%s is before the closing date, %s: a rate begins later.", r.FromDay.Long(), e.firm.ClosingDay.Long())
			}
			return nil
		},
	}
	return d.ready()
}

func ownFieldKind() kind {
	type F = store.OwnField
	d := &definition[F]{
		Kind: Kind{Name: "own-fields", One: "own field", Many: "own fields", About: "Fields that you add to clients or engagements.", First: []string{"name", "subject"}},
		fields: group("Field", line("name", "Name", func(f *F) *string { return &f.Name }).needed(),
			choice("subject", "Of", func(f *F) *string { return &f.Subject }, "client", "clients", "engagement", "engagements").column().fixed(),
			choice("form", "What is typed", func(f *F) *string { return &f.Form }, "line", "text", "number", "a number", "day", "a date", "yes_no", "yes or no", "choice", "one of several").column(),
			lines("choices", "Choices, one a line", func(f *F) *string { return &f.Choices })),
		blank:  func(*env) (F, error) { return F{Subject: "client", Form: "line", Active: true}, nil },
		active: func(f *F) *bool { return &f.Active },
	}
	return d.ready()
}
