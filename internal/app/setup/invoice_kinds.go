package setup

import (
	"strings"

	"dorvet/core/invoice"
	"dorvet/core/profile"
	"dorvet/core/schedule"
	"dorvet/internal/app"
	"dorvet/internal/app/profiles"
	"dorvet/internal/app/registry"
	"dorvet/internal/store"
)

func scheduleKind() registry.AnyKind {
	type P = store.PaymentSchedule
	d := &registry.Definition[P]{
		Kind: registry.Kind{Name: "payment-schedules", One: "payment schedule", Many: "payment schedules", First: []string{"name", "parts"},
			About: "How an invoice can be paid in instalments. Parts are parted by semicolons, each says how much and when: " +
				"30% issue; rest end."},
		Table: registry.Group("Schedule", registry.Line("name", "Name", func(p *P) *string { return &p.Name }).Required(),
			registry.Line("parts", "Parts", func(p *P) *string { return &p.Parts }).Required().Hinted("how much: 30%, 500.00 or rest; when: "+
				"issue, terms, 30d, 2w, 1m, 2027-01-31, start, middle, end or monthly").Listed()),
		Blank: func(*registry.Env) (P, error) { return P{Active: true}, nil },
		Check: func(e *registry.Env, p *P) error {
			plan, err := schedule.ParsePlan(p.Parts, e.Firm.Mark())
			p.Parts = plan.String()
			return app.InField("parts", err)
		},
		Active: func(p *P) *bool { return &p.Active },
	}
	return d.Ready()
}

func invoiceTemplateKind() registry.AnyKind {
	type T = store.InvoiceTemplate
	d := &registry.Definition[T]{
		Kind: registry.Kind{Name: "invoice-templates", One: "invoice to begin with", Many: "invoices to begin with",
			First: []string{"name", "lines"},
			About: "Lines that are billed again and again. Each line of text is one line of the invoice: text; quantity; price; unit."},
		Table: registry.Group("Invoice", registry.Line("name", "Name", func(t *T) *string { return &t.Name }).Required(),
			registry.Lines("lines", "Lines", func(t *T) *string { return &t.Lines }).Required().Hinted("like Chart on paper; 2; 45.00; piece")),
		Blank: func(*registry.Env) (T, error) { return T{Choices: profile.BillingTerms{}, Active: true}, nil },
		Check: func(_ *registry.Env, t *T) error {
			for _, text := range strings.Split(t.Lines, "\n") {
				if strings.Count(text, ";") > 3 {
					return app.RefuseField("lines", "“%s” has too many parts: write text; quantity; price; unit.", text)
				}
			}
			return nil
		},
		Active: func(t *T) *bool { return &t.Active },
	}
	return d.Ready()
}

// issueCheckKind is how the firm takes what is looked at before issue: the checks are
// there from the beginning.
func issueCheckKind() registry.AnyKind {
	type C = store.IssueCheck
	d := &registry.Definition[C]{
		Kind: registry.Kind{Name: "issue-checks", One: "check before issue", Many: "checks before issue",
			About: "What is looked at before a draft is issued. A finding that blocks must be settled first; one that warns " +
				"can be left as it is."},
		Table: registry.Group("Check", readOnly(registry.Line("name", "What is found", func(c *C) *string { return &c.Name })),
			registry.Choice("level", "Taken as", func(c *C) *string { return &c.Level }, string(invoice.Block), "it blocks",
				string(invoice.Warn),
				"it warns", string(invoice.Off), "it is not looked at").Listed()),
		Blank: func(*registry.Env) (C, error) { return C{Level: string(invoice.Warn)}, nil },
		Check: func(_ *registry.Env, c *C) error {
			if c.Code == "" {
				return app.Refuse(app.Invalid, "The checks before issue are there already: choose how each is taken.")
			}
			return nil
		},
	}
	return d.Ready()
}

// ReadChoice reads a typed value of an item that an invoice can have of its own,
// and gives it as it is kept.
func ReadChoice(tx *app.Tx, name, typed string) (profile.Item, string, error) {
	item, known := profile.Named(name)
	if !known || !item.OnInvoice {
		return item, "", app.Refuse(app.Invalid, "An invoice has no %q of its own.", name)
	}
	value, err := profiles.ParseProfile(tx.DB, name, typed)
	return item, value, app.InField("value", err)
}
