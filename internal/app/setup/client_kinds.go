package setup

import (
	"net/mail"
	"regexp"
	"strings"

	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/core/profile"
	"dorvet/core/refusal"
	"dorvet/internal/app"
	"dorvet/internal/app/registry"
	"dorvet/internal/store"
)

func statusKind() registry.AnyKind {
	type S = store.ClientStatus
	d := &registry.Definition[S]{
		Kind: registry.Kind{Name: "client-statuses", One: "client status", Many: "client statuses",
			About: "How you stand to a client. One that warns is shown whenever new work is made.", First: []string{"name"}},
		Table: registry.Group("Status", registry.Line("name", "Name", func(s *S) *string { return &s.Name }).Required(),
			registry.YesNo("warns", "Warns on new work", func(s *S) *bool { return &s.Warns }).Listed()),
		Blank:  func(*registry.Env) (S, error) { return S{Active: true}, nil },
		Active: func(s *S) *bool { return &s.Active },
	}
	return d.Ready()
}

func clientKind() registry.AnyKind {
	type C = store.Client
	d := &registry.Definition[C]{
		Kind: registry.Kind{Name: "clients", One: "client", Many: "clients", About: "Who you work for.", First: []string{"name"},
			Files: true},
		Profile: profile.Client, Own: "client",
		Table: registry.Concat(
			registry.Group("Client",
				registry.Line("name", "Name in lists", func(c *C) *string { return &c.Name }).Required(),
				registry.Line("code", "Code", func(c *C) *string { return &c.Code }).Permanent().Hinted("letters and digits; the next one unless given").Listed(),
				registry.Line("invoice_name", "Name on invoices",
					func(c *C) *string { return &c.InvoiceName }).Hinted("the name in lists unless given"),
				registry.Choice("form", "A client is", func(c *C) *string { return &c.Form }, "organisation", "an organisation", "person",
					"a person",
					"both", "both"),
				registry.Ref("status", "Status", "client-statuses", func(c *C) **int64 { return &c.StatusID }).Listed(),
				registry.CurrencyOf("currency", "Currency", func(c *C) *money.Currency { return &c.Currency }).Listed(),
				registry.Line("language", "Language",
					func(c *C) *string { return &c.Language }).Hinted("two letters; documents speak en, de, fr, es, pl and el"),
				registry.Line("tax_number", "Tax number", func(c *C) *string { return &c.TaxNumber }),
				registry.Lines("other_tax_numbers", "Other tax numbers", func(c *C) *string { return &c.OtherTaxNumbers }),
				registry.DayOf("opened", "Since", func(c *C) *day.Day { return &c.OpenedDay }),
				registry.DayOf("ended", "Ended", func(c *C) *day.Day { return &c.EndedDay }),
				registry.MonthDay("fiscal_year_end", "Fiscal year ends", func(c *C) *string { return &c.FiscalYearEnd })),
			registry.Group("Who cares for it",
				registry.Ref("responsible", "Responsible", "people", func(c *C) **int64 { return &c.ResponsibleID }).Listed(),
				registry.Ref("second", "Second", "people", func(c *C) **int64 { return &c.SecondID }),
				registry.Ref("originator", "Brought in by", "people", func(c *C) **int64 { return &c.OriginatorID }),
				registry.YesNo("onboarded", "Onboarded", func(c *C) *bool { return &c.Onboarded }).Hinted("also when all steps are done")),
			registry.Group("Reaching it",
				registry.Line("mail", "Mail", func(c *C) *string { return &c.Mail }),
				registry.Lines("phones", "Phones", func(c *C) *string { return &c.Phones }),
				registry.Line("web", "Web", func(c *C) *string { return &c.Web }),
				registry.Lines("address", "Registered address", func(c *C) *string { return &c.Address }),
				registry.Lines("billing_address", "Billing address",
					func(c *C) *string { return &c.BillingAddress }).Hinted("empty: the registered one"),
				registry.Lines("mailing_address", "Mailing address", func(c *C) *string { return &c.MailingAddress }),
				registry.Lines("shipping_address", "Shipping address", func(c *C) *string { return &c.ShippingAddress }),
				registry.Line("country", "Country",
					func(c *C) *string { return &c.Country }).Hinted("two letters, like NO; proposes the tax")),
			registry.Group("For reports",
				registry.Line("industry", "Industry", func(c *C) *string { return &c.Industry }),
				registry.Line("class_code", "Class code", func(c *C) *string { return &c.ClassCode }),
				registry.Ref("office", "Office", "offices", func(c *C) **int64 { return &c.OfficeID }),
				registry.Line("department", "Department", func(c *C) *string { return &c.Department }),
				registry.Line("work_type", "Work type", func(c *C) *string { return &c.WorkType }))),
		Blank:  freshClient,
		Check:  checkClient,
		After:  afterClient,
		Active: func(c *C) *bool { return &c.Active },
	}
	return d.Ready()
}

func freshClient(e *registry.Env) (store.Client, error) {
	code, err := registry.FreshCode(e, "clients", "C001")
	if err != nil {
		return store.Client{}, err
	}
	c := store.Client{Code: code, Form: "organisation", Currency: e.Firm.Currency, Language: "en", OpenedDay: e.Today, Active: true}
	if e.Actor.PersonID != 0 {
		c.ResponsibleID = &e.Actor.PersonID
	}
	id, err := e.Find("client-statuses", "current")
	switch {
	case err == nil:
		c.StatusID = &id
	case !refusal.Is(err):
		return c, err
	}
	return c, nil
}

var twoLetters = regexp.MustCompile(`^[A-Za-z]{2}$`)

func checkClient(e *registry.Env, c *store.Client) error {
	if err := onlyOfItsName(e, c); err != nil {
		return err
	}
	if c.InvoiceName == "" {
		c.InvoiceName = c.Name
	}
	c.Country = strings.ToUpper(c.Country)
	switch {
	case c.Country != "" && !twoLetters.MatchString(c.Country):
		return app.RefuseField("country", "%q is no country: write two letters, like NO.", c.Country)
	case !twoLetters.MatchString(c.Language):
		return app.RefuseField("language", "%q is no language: write two letters, like en.", c.Language)
	case !c.EndedDay.IsZero() && c.EndedDay < c.OpenedDay:
		return app.RefuseField("ended", "%s is before %s, when the client came: give a later day.", c.EndedDay.Long(), c.OpenedDay.Long())
	}
	if err := checkMail("mail", c.Mail); err != nil {
		return err
	}
	return app.InField("code", registry.CheckCode(c.Code))
}

// onlyOfItsName asks about a client of the same name, in whatever case, that is there already.
func onlyOfItsName(e *registry.Env, c *store.Client) error {
	if c.ID != 0 {
		if was, err := store.Get[store.Client](e.Tx, c.ID); err != nil || was.Name == c.Name {
			return err
		}
	}
	other, err := store.ClientOfName(e.Tx, c.Name, c.ID)
	if err != nil || other == nil {
		return err
	}
	return app.RefuseField("name", "%s is there already, as %s: choose it, or give this one a name that tells them apart, "+
		"like “%s, Leeds”.", other.Name, other.Code, c.Name)
}

// afterClient begins the onboarding of a new client; where a fiscal year ends on another day, what
// was due then follows.
func afterClient(tx *app.Tx, e *registry.Env, before, c *store.Client) error {
	if before == nil || before.FiscalYearEnd == c.FiscalYearEnd {
		return beginOnboarding(tx, e, before, c)
	}
	engagements, err := store.YearlyOf(tx.DB, c.ID)
	for i := range engagements {
		if err := moveDue(tx, &engagements[i], before.FiscalYearEnd, c.FiscalYearEnd); err != nil {
			return err
		}
	}
	return err
}

// moveDue moves the due day of yearly work, and of its phases, where it was the end of the fiscal
// year; a day that somebody gave stays.
func moveDue(tx *app.Tx, g *store.Engagement, from, to string) error {
	was, due := g.OpenedDay.NextYearly(from), g.OpenedDay.NextYearly(to)
	if g.DueDay == was {
		g.DueDay = due
		tx.LinkTo("engagements", g.ID)
		if err := store.Save(tx.DB, g); err != nil {
			return err
		}
	}
	phases, err := store.PhasesOf(tx.DB, g.ID)
	for i := range phases {
		if phases[i].DueDay != was {
			continue
		}
		phases[i].DueDay = due
		if err := store.Save(tx.DB, &phases[i]); err != nil {
			return err
		}
	}
	return err
}

// checkMail takes one address or several, or none.
func checkMail(field, text string) error {
	if text == "" {
		return nil
	}
	if _, err := mail.ParseAddressList(text); err != nil {
		return app.RefuseField(field, "%q is no mail address: write it like name@firm.example.", text)
	}
	return nil
}

func contactKind() registry.AnyKind {
	type C = store.Contact
	d := &registry.Definition[C]{
		Kind: registry.Kind{Name: "contacts", One: "contact", Many: "contacts",
			About: "People at clients, and what they receive. The first of a client is the main one.",
			First: []string{"client", "name", "mail"},
			Files: true},
		Belongs: func(v *C) int64 { return v.ClientID },
		Table: registry.Concat(
			registry.Group("Contact",
				registry.Must("client", "Client", "clients", func(c *C) *int64 { return &c.ClientID }).Permanent().Listed(),
				registry.Line("name", "Name", func(c *C) *string { return &c.Name }).Required(),
				registry.Line("title", "Title", func(c *C) *string { return &c.Title }).Listed(),
				registry.Line("mail", "Mail", func(c *C) *string { return &c.Mail }).Listed(),
				registry.Line("copies", "Copies to", func(c *C) *string { return &c.Copies }).Hinted("mail addresses, with commas"),
				registry.Lines("phones", "Phones", func(c *C) *string { return &c.Phones }),
				registry.Lines("notes", "About them, for us", func(c *C) *string { return &c.Notes }).Listed(),
				registry.Ref("engagement", "Only for the engagement", "engagements",
					func(c *C) **int64 { return &c.EngagementID }).Hinted("replaces the client's contacts there")),
			registry.Group("Receives",
				registry.YesNo("gets_invoices", "Invoices", func(c *C) *bool { return &c.GetsInvoices }).Listed(),
				registry.YesNo("gets_statements", "Statements", func(c *C) *bool { return &c.GetsStatements }),
				registry.YesNo("gets_reminders", "Reminders", func(c *C) *bool { return &c.GetsReminders }),
				registry.YesNo("gets_proposals", "Proposals", func(c *C) *bool { return &c.GetsProposals }))),
		Blank: func(*registry.Env) (C, error) {
			return C{GetsInvoices: true, GetsStatements: true, GetsReminders: true, GetsProposals: true, Active: true}, nil
		},
		Check: func(_ *registry.Env, c *C) error {
			if err := checkMail("mail", c.Mail); err != nil {
				return err
			}
			return checkMail("copies", c.Copies)
		},
		Active: func(c *C) *bool { return &c.Active },
	}
	return d.Ready()
}

func noteKind() registry.AnyKind {
	type N = store.ClientNote
	d := &registry.Definition[N]{
		Kind:    registry.Kind{Name: "client-notes", One: "note", Many: "notes", First: []string{"client", "text"}},
		Belongs: func(v *N) int64 { return v.ClientID },
		Table: registry.Group("Note", registry.Must("client", "Client", "clients", func(n *N) *int64 { return &n.ClientID }).Permanent(),
			readOnly(registry.DayOf("day", "Day", func(n *N) *day.Day { return &n.Day }).Listed()),
			readOnly(registry.Must("person", "Who", "people", func(n *N) *int64 { return &n.PersonID }).Listed()),
			registry.Lines("text", "Text", func(n *N) *string { return &n.Text }).Required().Listed()),
		Blank: func(e *registry.Env) (N, error) { return N{PersonID: e.Actor.PersonID, Day: e.Today}, nil },
	}
	return d.Ready()
}
