package drafts

import (
	"context"
	"slices"
	"strings"

	"dorvet/core/money"
	"dorvet/core/profile"
	"dorvet/internal/app"
	"dorvet/internal/store"
)

// KeepTemplate keeps the lines of an invoice, and what it has of its own of texts, look
// and payment, for others to begin with. Recorded work is left out: it is billed once.
func KeepTemplate(ctx context.Context, a *app.App, r app.Request, id int64, name string) (int64, error) {
	return app.Do(ctx, a, r, "keep an invoice as a template", []any{id, name}, func(tx *app.Tx) (int64, error) {
		inv, err := store.Get[store.Invoice](tx.DB, id)
		if err != nil {
			return 0, app.Missing(err, "invoice")
		}
		kept := &store.InvoiceTemplate{Name: strings.TrimSpace(name), Choices: ownChoices(inv), Active: true}
		if kept.Name == "" {
			return 0, app.RefuseField("name", "Give the template a name: it is chosen by it.")
		}
		all, err := store.All[store.InvoiceTemplate](tx.DB, "id")
		if err != nil {
			return 0, err
		}
		if slices.ContainsFunc(all, func(t store.InvoiceTemplate) bool { return strings.EqualFold(t.Name, kept.Name) }) {
			return 0, app.RefuseField("name", "There is a template called “%s” already: give this one another name.", kept.Name)
		}
		if kept.Lines, err = templateLines(tx.DB, inv); err != nil {
			return 0, err
		}
		if err := store.Insert(tx.DB, kept); err != nil {
			return 0, err
		}
		tx.LinkTo(app.OfInvoice, id)
		tx.Describe(nil, kept.Name, "Kept as the template “%s”", kept.Name)
		return kept.ID, nil
	})
}

// ownChoices are what an invoice has of its own of how it looks, reads and is paid.
func ownChoices(inv *store.Invoice) profile.BillingTerms {
	own := profile.BillingTerms{}
	for name, source := range inv.Choices {
		item, known := profile.Named(name)
		if known && source.Scope == profile.Invoice && (slices.Contains(looks, item.Group) || name == "schedule" || name == "terms") {
			own[name] = source
		}
	}
	return own
}

// templateLines spells the lines of an invoice that bill no recorded work, as templates
// have them: text; quantity; price; unit.
func templateLines(tx *store.DB, inv *store.Invoice) (string, error) {
	firm, err := store.TheFirm(tx)
	if err != nil {
		return "", err
	}
	lines, err := again(tx, inv)
	if err != nil {
		return "", err
	}
	decimals, err := inv.Currency.Decimals()
	spelled := []string{}
	for _, l := range lines {
		quantity, price := "1", money.TypeFixed(l.Amount, firm.Mark(), decimals, decimals)
		if l.UnitPrice != nil {
			quantity, price = money.TypeFixed(*l.Quantity, firm.Mark(), 4, 0), money.TypeFixed(int64(*l.UnitPrice), firm.Mark(), 4, 2)
		}
		text := strings.NewReplacer(";", ",", "\n", " ").Replace(l.Text)
		spelled = append(spelled, strings.TrimSuffix(strings.Join([]string{text, quantity, price, l.Unit}, "; "), "; "))
	}
	return strings.Join(spelled, "\n"), err
}
