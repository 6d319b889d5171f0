package setup

import (
	"strings"

	"dorvet/core/invoice"
	"dorvet/core/profile"
	"dorvet/core/schedule"
	"dorvet/internal/app"
	"dorvet/internal/store"
)

func scheduleKind() kind {
	type P = store.PaymentSchedule
	d := &definition[P]{
		Kind: Kind{Name: "payment-schedules", One: "payment schedule", Many: "payment schedules", First: []string{"name", "parts"},
			About: "How an invoice can be paid in instalments. Parts are parted by semicolons, each says how much and when: 30% issue; rest end."},
		fields: group("Schedule", line("name", "Name", func(p *P) *string { return &p.Name }).needed(),
			line("parts", "Parts", func(p *P) *string { return &p.Parts }).needed().hint("how much: 30%, 500.00 or rest; when: issue, terms, 30d, 2w, 1m, 2027-01-31, start, middle, end or monthly").column()),
		blank: func(*env) (P, error) { return P{Active: true}, nil },
		check: func(e *env, p *P) error {
			plan, err := schedule.ParsePlan(p.Parts, e.firm.Mark())
			p.Parts = plan.String()
			return app.InField("parts", err)
		},
		active: func(p *P) *bool { return &p.Active },
	}
	return d.ready()
}

func invoiceTemplateKind() kind {
	type T = store.InvoiceTemplate
	d := &definition[T]{
		Kind: Kind{Name: "invoice-templates", One: "invoice to begin with", Many: "invoices to begin with", First: []string{"name", "lines"},
			About: "Lines that are billed again and again. Each line of text is one line of the invoice: text; quantity; price; unit."},
		fields: group("Invoice", line("name", "Name", func(t *T) *string { return &t.Name }).needed(),
			lines("lines", "Lines", func(t *T) *string { return &t.Lines }).needed().hint("like Chart on paper; 2; 45.00; piece")),
		blank: func(*env) (T, error) { return T{Active: true}, nil },
		check: func(_ *env, t *T) error {
			for _, text := range strings.Split(t.Lines, "\n") {
				if strings.Count(text, ";") > 3 {
					return app.RefuseField("lines", "“%s” has too many parts: write text; quantity; price; unit.", text)
				}
			}
			return nil
		},
		active: func(t *T) *bool { return &t.Active },
	}
	return d.ready()
}

// issueCheckKind is how the firm takes what is looked at before issue: the checks are
// there from the beginning.
func issueCheckKind() kind {
	type C = store.IssueCheck
	d := &definition[C]{
		Kind: Kind{Name: "issue-checks", One: "check before issue", Many: "checks before issue",
			About: "What is looked at before a draft is issued. A finding that blocks must be settled first; one that warns can be left as it is."},
		fields: group("Check", readOnly(line("name", "What is found", func(c *C) *string { return &c.Name })),
			choice("level", "Taken as", func(c *C) *string { return &c.Level }, string(invoice.Block), "it blocks", string(invoice.Warn), "it warns", string(invoice.Off), "it is not looked at").column()),
		blank: func(*env) (C, error) { return C{Level: string(invoice.Warn)}, nil },
		check: func(_ *env, c *C) error {
			if c.Code == "" {
				return app.Refuse(app.Invalid, "The checks before issue are there already: choose how each is taken.")
			}
			return nil
		},
	}
	return d.ready()
}

// ReadChoice reads a typed value of an item that an invoice can have of its own,
// and gives it as it is kept.
func ReadChoice(tx *app.Tx, name, typed string) (profile.Item, string, error) {
	item, known := profile.Named(name)
	if !known || !item.OnInvoice {
		return item, "", app.Refuse(app.Invalid, "An invoice has no %q of its own.", name)
	}
	value, err := ParseProfile(tx.DB, name, typed)
	return item, value, app.InField("value", err)
}
