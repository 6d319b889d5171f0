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
	"dorvet/internal/app/registry"
	"dorvet/internal/store"
)

func firmKind() registry.AnyKind {
	type F = store.Firm
	d := &registry.Definition[F]{
		Kind: registry.Kind{Name: "firm", One: "firm", Many: "the firm's settings",
			About: "Name, currency, working week, closing date, and how clients are billed unless they say otherwise."},
		Single: true, Profile: profile.Firm,
		Table: registry.Concat(
			registry.Group("The firm",
				registry.Line("name", "Name", func(f *F) *string { return &f.Name }).Required(),
				registry.Lines("address", "Addresses", func(f *F) *string { return &f.Address }),
				registry.Line("web", "Web", func(f *F) *string { return &f.Web }),
				registry.Lines("tax_registrations", "Tax registrations", func(f *F) *string { return &f.TaxRegistrations }),
				readOnly(registry.CurrencyOf("currency", "Currency", func(f *F) *money.Currency { return &f.Currency })),
				registry.Choice("decimal_mark", "Decimal mark", func(f *F) *string { return &f.DecimalMark }, ".", "a point: 1,250.50", ",",
					"a comma: 1.250,50"),
				registry.Line("engagement_word", "Your word for engagement", func(f *F) *string { return &f.EngagementWord }).Required(),
				registry.Line("phase_word", "Your word for phase", func(f *F) *string { return &f.PhaseWord }).Required()),
			registry.Group("Calendar",
				registry.Line("time_zone", "Time zone", func(f *F) *string { return &f.TimeZone }).Required(),
				registry.Line("working_days", "Working week",
					func(f *F) *string { return &f.WorkingDays }).Required().Hinted("like mon tue wed thu fri"),
				registry.MonthDay("fiscal_year_start", "Fiscal year begins", func(f *F) *string { return &f.FiscalYearStart }).Required(),
				registry.DayOf("closing_day", "Closed up to",
					func(f *F) *day.Day { return &f.ClosingDay }).Hinted("what lies before takes no change")),
			registry.Group("Recording",
				registry.YesNo("staff_treats", "Staff say how their time is billed",
					func(f *F) *bool { return &f.StaffTreats }).Hinted("no: it is billed as the engagement and its phase are")),
			registry.Group("Collecting",
				registry.Choice("reminder_hour", "Reminders by plan go", func(f *F) *string { return &f.ReminderHour }, "hand", "when somebody sends them",
					"6", "by themselves at 6:00", "7", "by themselves at 7:00", "8", "by themselves at 8:00", "9", "by themselves at 9:00", "10",
					"by themselves at 10:00", "12", "by themselves at 12:00", "14", "by themselves at 14:00", "16", "by themselves at 16:00").Hinted(
					"steps that a person sends wait in any case")),
			registry.Group("Proposals",
				registry.DaysOf("proposal_days", "Valid for, days", func(f *F) *int { return &f.ProposalDays }),
				registry.YesNo("pass_within_domain", "Clients pass on within their house",
					func(f *F) *bool { return &f.PassWithinDomain }).Hinted("yes: to any address of their own domain; else contacts "+
					"alone, and you are asked"),
				registry.Lines("proposal_text", "Opening text",
					func(f *F) *string { return &f.ProposalText }).Hinted("empty: the first of the kept texts"),
				registry.MoneyOf("fee_step", "Suggested fees go up to the next", func(f *F) **int64 { return &f.FeeStep },
					func(_ *registry.Env, f *F) (money.Currency, error) { return f.Currency, nil }).Hinted("like 50: 1,020 becomes 1,050")),
			registry.Group("Accounts",
				registry.Whole("idle_minutes", "Signed out after, minutes without use",
					func(f *F) *int { return &f.IdleMinutes }).Hinted("5 to 1440").Protected(),
				registry.MoneyOf("refund_proof", "Refunds above ask for the password", func(f *F) **int64 { return &f.RefundProof },
					func(_ *registry.Env, f *F) (money.Currency, error) { return f.Currency, nil }).Hinted("empty: none does").Protected(),
				registry.YesNo("two_agree", "A second administrator agrees",
					func(f *F) *bool { return &f.TwoAgree }).Hinted("yes: to bank details, roles and limits, and to this").Protected())),
		Check: checkFirm,
		After: enoughToAgree,
		Blank: func(*registry.Env) (F, error) {
			return F{}, app.Refuse(app.Invalid, "There is one firm, and it is there already.")
		},
	}
	return d.Ready()
}

// enoughToAgree refuses to ask for a second administrator where there is one.
func enoughToAgree(tx *app.Tx, _ *registry.Env, _, now *store.Firm) error {
	if !now.TwoAgree {
		return nil
	}
	n, err := store.UnlimitedAdministrators(tx.DB)
	if err == nil && n < 2 {
		err = app.RefuseField("two_agree", "There is one administrator of all issuing entities, so nobody could agree: make "+
			"a second one first.")
	}
	return err
}

func readOnly[T any](f registry.FieldOf[T]) registry.FieldOf[T] { f.Set = true; return f }

func checkFirm(e *registry.Env, f *store.Firm) error {
	if _, err := time.LoadLocation(f.TimeZone); err != nil || f.TimeZone == "" {
		return app.RefuseField("time_zone", "%q is no time zone: write it like Europe/Dublin.", f.TimeZone)
	}
	if _, err := day.NewCalendar(f.WorkingDays, nil); err != nil {
		return app.InField("working_days", err)
	}
	if f.IdleMinutes < 5 || f.IdleMinutes > 1440 {
		return app.RefuseField("idle_minutes", "Sessions end after 5 to 1440 minutes without use: give a number between.")
	}
	if f.ClosingDay > e.Today {
		return app.RefuseField("closing_day", "%s has not been yet: close up to today at most.", f.ClosingDay.Long())
	}
	return nil
}

func entityKind() registry.AnyKind {
	type E = store.IssuingEntity
	d := &registry.Definition[E]{
		Kind: registry.Kind{Name: "entities", One: "issuing entity", Many: "issuing entities", First: []string{"name", "legal_name"},
			About: "The legal persons of the firm that issue invoices, with their bank and the numbers of their proposals."},
		Table: registry.Concat(
			registry.Group("On invoices",
				registry.Line("name", "Name for us", func(e *E) *string { return &e.Name }).Required(),
				registry.Line("legal_name", "Legal name", func(e *E) *string { return &e.LegalName }).Required().Listed(),
				registry.Lines("address", "Address", func(e *E) *string { return &e.Address }),
				registry.Line("country", "Country",
					func(e *E) *string { return &e.Country }).Hinted("two letters, like IE; an e-invoice needs it"),
				registry.Line("tax_number", "Tax number", func(e *E) *string { return &e.TaxNumber }).Listed(),
				registry.Line("mail", "Mail", func(e *E) *string { return &e.Mail }),
				registry.Lines("signature", "Under letters",
					func(e *E) *string { return &e.Signature }).Hinted("who writes, and how to reach them; empty: the legal name")),
			registry.Group("Bank",
				registry.Line("bank_name", "Bank", func(e *E) *string { return &e.BankName }).Protected(),
				registry.Line("iban", "IBAN", func(e *E) *string { return &e.IBAN }).Listed().Protected(),
				registry.Line("bic", "BIC", func(e *E) *string { return &e.BIC }).Protected()),
			registry.Group("Numbers of proposals",
				registry.Line("proposal_prefix", "Prefix", func(e *E) *string { return &e.ProposalPrefix }),
				registry.Whole("proposal_first", "First number", func(e *E) *int64 { return &e.ProposalFirst }),
				registry.Whole("proposal_next", "Next number", func(e *E) *int64 { return &e.ProposalNext }))),
		Blank: func(*registry.Env) (E, error) {
			return E{ProposalPrefix: "P", ProposalFirst: 1, ProposalNext: 1, Active: true}, nil
		},
		Check: func(_ *registry.Env, e *E) error {
			if e.Country = strings.ToUpper(strings.TrimSpace(e.Country)); e.Country != "" &&
				!twoLetters.MatchString(strings.ToLower(e.Country)) {
				return app.RefuseField("country", "%q is no country: write two letters, like IE.", e.Country)
			}
			return nil
		},
		Active: func(e *E) *bool { return &e.Active },
	}
	d.Table[0].Fixed = false
	return d.Ready()
}

func seriesKind() registry.AnyKind {
	type S = store.Series
	d := &registry.Definition[S]{
		Kind: registry.Kind{Name: "series", One: "number series", Many: "number series",
			First: []string{"entity", "kind", "prefix", "first_number"},
			About: "Numbers are given at issue, without gaps, per issuing entity and series."},
		Table: registry.Group("Series",
			registry.Must("entity", "Issuing entity", "entities", func(s *S) *int64 { return &s.EntityID }).Listed().Permanent(),
			registry.Choice("kind", "Numbers", func(s *S) *string { return &s.Kind }, "invoice", "invoices", "credit_note",
				"credit notes").Listed().Permanent(),
			registry.Line("prefix", "Prefix", func(s *S) *string { return &s.Prefix }).Listed().Permanent(),
			registry.Whole("first_number", "First number", func(s *S) *int64 { return &s.FirstNumber }).Listed().Permanent(),
			readOnly(registry.Whole("next_number", "Next number", func(s *S) *int64 { return &s.NextNumber }).Listed())),
		Blank: func(e *registry.Env) (S, error) {
			entity, err := firstEntity(e)
			return S{EntityID: entity, Kind: "invoice", FirstNumber: 1, NextNumber: 1}, err
		},
		Check: func(e *registry.Env, s *S) error {
			used, err := store.UsedBy(e.Tx, "series", s.ID)
			if err == nil && used == "" {
				s.NextNumber = s.FirstNumber
			}
			return err
		},
	}
	return d.Ready()
}

// firstEntity is the entity of whoever asks, or the first.
func firstEntity(e *registry.Env) (int64, error) {
	person, err := store.Get[store.Person](e.Tx, e.Actor.PersonID)
	if err == nil {
		return person.EntityID, nil
	}
	if !errors.Is(err, store.ErrNotFound) {
		return 0, err
	}
	entities, err := store.All[store.IssuingEntity](e.Tx, "id")
	if err == nil && len(entities) == 0 {
		err = app.Refuse(app.Invalid, "There is no issuing entity yet: make one first.")
	}
	if err != nil {
		return 0, err
	}
	return entities[0].ID, nil
}

func officeKind() registry.AnyKind {
	type O = store.Office
	d := &registry.Definition[O]{
		Kind: registry.Kind{Name: "offices", One: "office", Many: "offices", About: "Where people work; clients can belong to one.",
			First: []string{"name"}},
		Table: registry.Group("Office", registry.Line("name", "Name", func(o *O) *string { return &o.Name }).Required(),
			registry.Lines("address", "Address", func(o *O) *string { return &o.Address }).Listed()),
		Blank:  func(*registry.Env) (O, error) { return O{Active: true}, nil },
		Active: func(o *O) *bool { return &o.Active },
	}
	return d.Ready()
}

func holidayKind() registry.AnyKind {
	type H = store.Holiday
	d := &registry.Definition[H]{
		Kind: registry.Kind{Name: "holidays", One: "holiday", Many: "holidays",
			About: "Days on which nobody works: forecasts leave them out.",
			First: []string{"day", "name"}, Files: true},
		// The same day can be a holiday of two offices.
		Table: registry.Group("Holiday", registry.DayOf("day", "Day", func(h *H) *day.Day { return &h.Day }).Required().Listed(),
			registry.Line("name", "Name", func(h *H) *string { return &h.Name }).Required(),
			registry.Ref("office", "Office", "offices", func(h *H) **int64 { return &h.OfficeID }).Hinted("empty: all of them").Listed()),
		Blank: func(*registry.Env) (H, error) { return H{}, nil },
	}
	return d.Ready()
}

func exchangeKind() registry.AnyKind {
	type X = store.ExchangeRate
	d := &registry.Definition[X]{
		Kind: registry.Kind{Name: "exchange-rates", One: "exchange rate", Many: "exchange rates",
			First: []string{"currency", "day", "rate"},
			Files: true,
			About: "What a unit of another currency costs in the firm's, by day; the latest recorded holds."},
		Table: registry.Group("Rate", registry.CurrencyOf("currency", "Currency",
			func(x *X) *money.Currency { return &x.Currency }).Required().Listed(),
			registry.DayOf("day", "Day", func(x *X) *day.Day { return &x.Day }).Required().Listed(),
			exchangeField(), registry.Line("source", "Source", func(x *X) *string { return &x.Source }).Listed()),
		Blank: func(e *registry.Env) (X, error) { return X{Day: e.Today, Source: "typed"}, nil },
		Check: func(e *registry.Env, x *X) error {
			if x.Currency == e.Firm.Currency {
				return app.RefuseField("currency", "%s is the firm's own currency and needs no rate.", x.Currency)
			}
			return nil
		},
	}
	return d.Ready()
}

func referenceKind() registry.AnyKind {
	type R = store.ReferenceRate
	d := &registry.Definition[R]{
		Kind: registry.Kind{Name: "reference-rates", One: "reference rate", Many: "reference rates",
			First: []string{"currency", "day", "percent"},
			Files: true,
			About: "The yearly rate of a central bank on top of which paying late is charged, from a day on: in the EU as of 1 January and " +
				"1 July, for half a year."},
		Table: registry.Group("Rate", registry.CurrencyOf("currency", "Currency",
			func(r *R) *money.Currency { return &r.Currency }).Required().Listed(),
			registry.DayOf("day", "From", func(r *R) *day.Day { return &r.Day }).Required().Listed(),
			registry.PercentOf("percent", "% a year", func(r *R) *money.Percent { return &r.Percent }).Required().Listed(),
			registry.Line("source", "Source", func(r *R) *string { return &r.Source }).Listed()),
		Blank: func(e *registry.Env) (R, error) {
			return R{Currency: e.Firm.Currency, Day: e.Today, Source: "typed"}, nil
		},
	}
	return d.Ready()
}

func exchangeField() registry.FieldOf[store.ExchangeRate] {
	return registry.FieldOf[store.ExchangeRate]{
		Field: registry.Field{Name: "rate", Label: "One unit costs", Form: registry.FormRate, Needed: true, Column: true},
		Read: func(e *registry.Env, x *store.ExchangeRate) (string, error) {
			if x.Rate == 0 {
				return "", nil
			}
			return money.TypeFixed(int64(x.Rate), e.Firm.Mark(), 8, 4), nil
		},
		Write: func(e *registry.Env, x *store.ExchangeRate, text string) error {
			n, err := money.ParseFixed(text, e.Firm.Mark(), 8)
			if err == nil && n <= 0 {
				err = refusal.Errorf("%q can't be: a rate is more than zero", text)
			}
			x.Rate = money.ExchangeRate(n)
			return err
		},
	}
}

var countriesPattern = regexp.MustCompile(`^([A-Z]{2}( [A-Z]{2})*)?$`)

func taxCodeKind() registry.AnyKind {
	type C = store.TaxCode
	d := &registry.Definition[C]{
		Kind: registry.Kind{Name: "tax-codes", One: "tax code", Many: "tax codes",
			About: "How an amount is taxed; its rates have dates of their own.", First: []string{"code", "name", "category"}},
		Table: registry.Group("Tax code",
			registry.Line("code", "Code", func(c *C) *string { return &c.Code }).Required().Permanent().Listed(),
			registry.Line("name", "Name on invoices", func(c *C) *string { return &c.Name }).Required().Listed(),
			registry.Choice("category", "Category", func(c *C) *string { return (*string)(&c.Category) }, string(tax.StandardRated),
				"standard or reduced", string(tax.Exempt), "exempt", string(tax.ReverseCharge), "reverse charge").Listed(),
			registry.Lines("notice", "Notice on invoices", func(c *C) *string { return &c.Notice }),
			registry.Line("account", "Account of the bookkeeper",
				func(c *C) *string { return &c.Account }).Hinted("in the journal; empty: as all taxes").Listed(),
			registry.Line("places", "Proposed for countries",
				func(c *C) *string { return &c.Places }).Hinted("two letters each, like NO IS").Listed(),
			registry.Line("second_name", "Second tax, name on invoices",
				func(c *C) *string { return &c.SecondName }).Hinted("empty: there is none"),
			registry.YesNo("second_compound", "Second tax counts on the first, too", func(c *C) *bool { return &c.SecondCompound })),
		Blank: func(*registry.Env) (C, error) { return C{Category: tax.StandardRated, Active: true}, nil },
		Check: func(_ *registry.Env, c *C) error {
			if c.Places = strings.ToUpper(c.Places); !countriesPattern.MatchString(c.Places) {
				return app.RefuseField("places", "%q are no countries: write two letters each, like NO IS.", c.Places)
			}
			return app.InField("code", registry.CheckCode(c.Code))
		},
		Active: func(c *C) *bool { return &c.Active },
	}
	return d.Ready()
}

func taxRateKind() registry.AnyKind {
	type R = store.TaxRate
	d := &registry.Definition[R]{
		Kind: registry.Kind{Name: "tax-rates", One: "tax rate", Many: "tax rates",
			About: "What a tax code takes, from a day on. Invoices keep the rate of their tax date.",
			First: []string{"code", "from", "percent"}},
		Table: registry.Group("Tax rate",
			registry.Must("code", "Tax code", "tax-codes", func(r *R) *int64 { return &r.TaxCodeID }).Listed(),
			registry.DayOf("from", "From", func(r *R) *day.Day { return &r.FromDay }).Required().Listed(),
			registry.PercentOf("percent", "Percent", func(r *R) *money.Percent { return &r.Percent }).Required().Listed(),
			registry.PercentOf("second_percent", "Percent of the second tax", func(r *R) *money.Percent { return &r.SecondPercent })),
		Blank: func(e *registry.Env) (R, error) { return R{FromDay: e.Today}, nil },
		Check: func(e *registry.Env, r *R) error {
			if r.FromDay <= e.Firm.ClosingDay {
				return app.RefuseField("from", "%s is before the closing date, %s: a rate begins later.", r.FromDay.Long(),
					e.Firm.ClosingDay.Long())
			}
			return nil
		},
	}
	return d.Ready()
}

func ownFieldKind() registry.AnyKind {
	type F = store.OwnField
	d := &registry.Definition[F]{
		Kind: registry.Kind{Name: "own-fields", One: "own field", Many: "own fields",
			About: "Fields that you add to clients, engagements or time entries.",
			First: []string{"name", "subject"}},
		Table: registry.Group("Field", registry.Line("name", "Name", func(f *F) *string { return &f.Name }).Required(),
			registry.Choice("subject", "Of", func(f *F) *string { return &f.Subject }, "client", "clients", "engagement",
				"engagements", "entry", "time entries").Listed().Permanent(),
			registry.Choice("form", "What is typed", func(f *F) *string { return &f.Form }, "line", "text", "number", "a number", "day",
				"a date",
				"yes_no", "yes or no", "choice", "one of several").Listed(),
			registry.Lines("choices", "Choices, one a line", func(f *F) *string { return &f.Choices })),
		Blank:  func(*registry.Env) (F, error) { return F{Subject: "client", Form: "line", Active: true}, nil },
		Active: func(f *F) *bool { return &f.Active },
	}
	return d.Ready()
}
