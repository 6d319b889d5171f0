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
	"dorvet/internal/store"
)

func statusKind() kind {
	type S = store.ClientStatus
	d := &definition[S]{
		Kind: Kind{Name: "client-statuses", One: "client status", Many: "client statuses", About: "How you stand to a client. One that warns is shown whenever new work is made.", First: []string{"name"}},
		fields: group("Status", line("name", "Name", func(s *S) *string { return &s.Name }).needed(),
			yesNo("warns", "Warns on new work", func(s *S) *bool { return &s.Warns }).column()),
		blank:  func(*env) (S, error) { return S{Active: true}, nil },
		active: func(s *S) *bool { return &s.Active },
	}
	return d.ready()
}

func clientKind() kind {
	type C = store.Client
	d := &definition[C]{
		Kind:    Kind{Name: "clients", One: "client", Many: "clients", About: "Who you work for.", First: []string{"name"}, Files: true},
		profile: profile.Client, own: "client",
		fields: concat(
			group("Client",
				line("name", "Name in lists", func(c *C) *string { return &c.Name }).needed(),
				line("code", "Code", func(c *C) *string { return &c.Code }).fixed().hint("letters and digits; the next one unless given").column(),
				line("invoice_name", "Name on invoices", func(c *C) *string { return &c.InvoiceName }).hint("the name in lists unless given"),
				choice("form", "A client is", func(c *C) *string { return &c.Form }, "organisation", "an organisation", "person", "a person", "both", "both"),
				ref("status", "Status", "client-statuses", func(c *C) **int64 { return &c.StatusID }).column(),
				currencyOf("currency", "Currency", func(c *C) *money.Currency { return &c.Currency }).column(),
				line("language", "Language", func(c *C) *string { return &c.Language }).hint("two letters; documents speak en, de, fr, es, pl and el"),
				line("tax_number", "Tax number", func(c *C) *string { return &c.TaxNumber }),
				lines("other_tax_numbers", "Other tax numbers", func(c *C) *string { return &c.OtherTaxNumbers }),
				dayOf("opened", "Since", func(c *C) *day.Day { return &c.OpenedDay }),
				dayOf("ended", "Ended", func(c *C) *day.Day { return &c.EndedDay }),
				monthDay("fiscal_year_end", "Fiscal year ends", func(c *C) *string { return &c.FiscalYearEnd })),
			group("Who cares for it",
				ref("responsible", "Responsible", "people", func(c *C) **int64 { return &c.ResponsibleID }).column(),
				ref("second", "Second", "people", func(c *C) **int64 { return &c.SecondID }),
				ref("originator", "Brought in by", "people", func(c *C) **int64 { return &c.OriginatorID }),
				yesNo("onboarded", "Onboarded", func(c *C) *bool { return &c.Onboarded }).hint("also when all steps are done")),
			group("Reaching it",
				line("mail", "Mail", func(c *C) *string { return &c.Mail }),
				lines("phones", "Phones", func(c *C) *string { return &c.Phones }),
				line("web", "Web", func(c *C) *string { return &c.Web }),
				lines("address", "Registered address", func(c *C) *string { return &c.Address }),
				lines("billing_address", "Billing address", func(c *C) *string { return &c.BillingAddress }).hint("empty: the registered one"),
				lines("mailing_address", "Mailing address", func(c *C) *string { return &c.MailingAddress }),
				lines("shipping_address", "Shipping address", func(c *C) *string { return &c.ShippingAddress }),
				line("country", "Country", func(c *C) *string { return &c.Country }).hint("two letters, like NO; proposes the tax")),
			group("For reports",
				line("industry", "Industry", func(c *C) *string { return &c.Industry }),
				line("class_code", "Class code", func(c *C) *string { return &c.ClassCode }),
				ref("office", "Office", "offices", func(c *C) **int64 { return &c.OfficeID }),
				line("department", "Department", func(c *C) *string { return &c.Department }),
				line("work_type", "Work type", func(c *C) *string { return &c.WorkType }))),
		blank:  freshClient,
		check:  checkClient,
		after:  beginOnboarding,
		active: func(c *C) *bool { return &c.Active },
	}
	return d.ready()
}

func freshClient(e *env) (store.Client, error) {
	code, err := freshCode(e, "clients", "C001")
	if err != nil {
		return store.Client{}, err
	}
	c := store.Client{Code: code, Form: "organisation", Currency: e.firm.Currency, Language: "en", OpenedDay: e.today, Active: true}
	if e.actor.PersonID != 0 {
		c.ResponsibleID = &e.actor.PersonID
	}
	id, err := e.find("client-statuses", "current")
	switch {
	case err == nil:
		c.StatusID = &id
	case !refusal.Is(err):
		return c, err
	}
	return c, nil
}

var twoLetters = regexp.MustCompile(`^[A-Za-z]{2}$`)

func checkClient(_ *env, c *store.Client) error {
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
	return app.InField("code", checkCode(c.Code))
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

// beginOnboarding gives a new client its first steps, and takes them away again
// with a client that goes.
func beginOnboarding(tx *app.Tx, _ *env, before, c *store.Client) error {
	if before != nil || c.Onboarded {
		return nil
	}
	templates, err := store.All[store.StepTemplate](tx.DB, "days, id")
	steps := []store.ClientStep{}
	for _, t := range templates {
		if t.Active {
			steps = append(steps, store.ClientStep{ClientID: c.ID, Name: t.Name, OwnerID: c.ResponsibleID, DueDay: c.OpenedDay.AddDays(t.Days), Document: t.Document})
		}
	}
	if err != nil {
		return err
	}
	return store.Insert(tx.DB, steps)
}

func contactKind() kind {
	type C = store.Contact
	d := &definition[C]{
		Kind:    Kind{Name: "contacts", One: "contact", Many: "contacts", About: "People at clients, and what they receive. The first of a client is the main one.", First: []string{"client", "name", "mail"}, Files: true},
		belongs: func(v *C) int64 { return v.ClientID },
		fields: concat(
			group("Contact",
				must("client", "Client", "clients", func(c *C) *int64 { return &c.ClientID }).fixed().column(),
				line("name", "Name", func(c *C) *string { return &c.Name }).needed(),
				line("title", "Title", func(c *C) *string { return &c.Title }).column(),
				line("mail", "Mail", func(c *C) *string { return &c.Mail }).column(),
				line("copies", "Copies to", func(c *C) *string { return &c.Copies }).hint("mail addresses, with commas"),
				lines("phones", "Phones", func(c *C) *string { return &c.Phones }),
				ref("engagement", "Only for the engagement", "engagements", func(c *C) **int64 { return &c.EngagementID }).hint("replaces the client's contacts there")),
			group("Receives",
				yesNo("gets_invoices", "Invoices", func(c *C) *bool { return &c.GetsInvoices }).column(),
				yesNo("gets_statements", "Statements", func(c *C) *bool { return &c.GetsStatements }),
				yesNo("gets_reminders", "Reminders", func(c *C) *bool { return &c.GetsReminders }),
				yesNo("gets_proposals", "Proposals", func(c *C) *bool { return &c.GetsProposals }))),
		blank: func(*env) (C, error) {
			return C{GetsInvoices: true, GetsStatements: true, GetsReminders: true, GetsProposals: true, Active: true}, nil
		},
		check: func(_ *env, c *C) error {
			if err := checkMail("mail", c.Mail); err != nil {
				return err
			}
			return checkMail("copies", c.Copies)
		},
		active: func(c *C) *bool { return &c.Active },
	}
	return d.ready()
}

func noteKind() kind {
	type N = store.ClientNote
	d := &definition[N]{
		Kind:    Kind{Name: "client-notes", One: "note", Many: "notes", First: []string{"client", "text"}},
		belongs: func(v *N) int64 { return v.ClientID },
		fields: group("Note", must("client", "Client", "clients", func(n *N) *int64 { return &n.ClientID }).fixed(),
			readOnly(dayOf("day", "Day", func(n *N) *day.Day { return &n.Day }).column()),
			readOnly(must("person", "Who", "people", func(n *N) *int64 { return &n.PersonID }).column()),
			lines("text", "Text", func(n *N) *string { return &n.Text }).needed().column()),
		blank: func(e *env) (N, error) { return N{PersonID: e.actor.PersonID, Day: e.today}, nil },
	}
	return d.ready()
}

func stepTemplateKind() kind {
	type S = store.StepTemplate
	d := &definition[S]{
		Kind: Kind{Name: "onboarding-steps", One: "onboarding step", Many: "onboarding steps", About: "With what every new client begins.", First: []string{"name"}},
		fields: group("Step", line("name", "Name", func(s *S) *string { return &s.Name }).needed(),
			daysOf("days", "Due after, days", func(s *S) *int { return &s.Days }).column(),
			line("document", "Document", func(s *S) *string { return &s.Document }).column()),
		blank:  func(*env) (S, error) { return S{Days: 7, Active: true}, nil },
		active: func(s *S) *bool { return &s.Active },
	}
	return d.ready()
}

func stepKind() kind {
	type S = store.ClientStep
	d := &definition[S]{
		Kind:    Kind{Name: "client-steps", One: "step", Many: "steps", First: []string{"client", "name"}},
		belongs: func(v *S) int64 { return v.ClientID },
		fields: group("Step", must("client", "Client", "clients", func(s *S) *int64 { return &s.ClientID }).fixed(),
			line("name", "Name", func(s *S) *string { return &s.Name }).needed(),
			ref("owner", "Owner", "people", func(s *S) **int64 { return &s.OwnerID }).column(),
			dayOf("due", "Due", func(s *S) *day.Day { return &s.DueDay }).column(),
			line("document", "Document", func(s *S) *string { return &s.Document }).column(),
			dayOf("done", "Done on", func(s *S) *day.Day { return &s.DoneDay }).column()),
		blank: func(e *env) (S, error) { return S{DueDay: e.today.AddDays(7)}, nil },
	}
	return d.ready()
}
