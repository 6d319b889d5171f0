package drafts

import (
	"context"
	"slices"
	"strings"

	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/core/profile"
	"dorvet/internal/app"
	"dorvet/internal/app/papers"
	"dorvet/internal/app/profiles"
	"dorvet/internal/app/setup"
	"dorvet/internal/store"
)

// ChoiceChange is another value of what a draft took over from the billing
// profile: for it alone, or from now on.
type ChoiceChange struct {
	Name  string `json:"name" maxLength:"40"`
	Value string `json:"value" maxLength:"4000" doc:"as typed"`
	Keep  string `json:"keep" enum:"invoice,engagement,client,firm" doc:"this invoice only, or from now on for whom"`
}

// looks are the groups of choices that say how a bill looks and reads.
var looks = []string{"Lines of the invoice", "Look of documents", "Texts on the invoice"}

// SetChoice changes a choice of a draft. Kept, it holds from now on, for the
// engagements on it, for its client (and those of the engagements that have a value
// of their own), or for the firm.
func SetChoice(ctx context.Context, a *app.App, r app.Request, e Edit, c ChoiceChange) (*Changed, error) {
	change := Change
	if item, known := profile.Named(c.Name); known && slices.Contains(looks, item.Group) {
		change = Reword
	}
	return change(ctx, a, r, "change a choice", e, c, func(tx *app.Tx, inv *store.Invoice) error {
		item, value, err := setup.ReadChoice(tx, c.Name, c.Value)
		if err != nil {
			return err
		}
		before := inv.Choices.Text(c.Name)
		if inv.Choices == nil {
			inv.Choices = profile.BillingTerms{}
		}
		inv.Choices[c.Name] = profile.Source{Scope: profile.Invoice, Value: value}
		if err := possible(tx, inv, item, value); err != nil {
			return err
		}
		tx.Describe(before, value, "%s: “%s”%s", item.Label, value,
			map[string]string{"engagement": ", from now on for the engagement", "client": ", from now on for the client",
				"firm": ", from now on for everybody"}[c.Keep])
		if err := keep(tx, inv, c, item, value); err != nil || !strings.HasPrefix(c.Name, "discount") {
			return err
		}
		return fitAgain(tx, inv)
	})
}

// Choose gives a draft values of its own.
func Choose(tx *app.Tx, inv *store.Invoice, values map[string]string) error {
	for name, value := range values {
		if inv.Choices == nil {
			inv.Choices = profile.BillingTerms{}
		}
		inv.Choices[name] = profile.Source{Scope: profile.Invoice, Value: value}
		item, _ := profile.Named(name)
		if err := possible(tx, inv, item, value); err != nil {
			return err
		}
	}
	return nil
}

// possible refuses a value that the invoice can't have, though others could.
func possible(tx *app.Tx, inv *store.Invoice, item profile.Item, value string) error {
	switch item.Name {
	case "terms":
		inv.Terms = value
	case "schedule":
		if _, err := papers.Instalments(tx.DB, inv, money.Amount{Minor: max(inv.Due, 0), Currency: inv.Currency}); err != nil {
			return app.InField("value", err)
		}
	}
	if item.Form == profile.Amount {
		_, _, err := inv.Choices.Amount(item.Name, inv.Currency)
		return app.InField("value", err)
	}
	return nil
}

// keep makes a value hold from now on.
func keep(tx *app.Tx, inv *store.Invoice, c ChoiceChange, item profile.Item, value string) error {
	engagements, err := store.EngagementsOf(tx.DB, inv.ID)
	if err != nil || c.Keep == "invoice" {
		return err
	}
	if c.Keep == "engagement" && !item.On(profile.Engagement) {
		return app.RefuseField("keep", "%s can't differ by engagement: keep it for the client.", item.Label)
	}
	source := profile.Source{Scope: profile.Scope(c.Keep), Value: value}
	switch source.Scope {
	case profile.Firm:
		tx.LinkTo("firm", 1)
		err = store.SetProfileValue(tx.DB, profile.Firm, 1, c.Name, value, false)
	case profile.Client:
		var client *store.Client
		if client, err = store.Get[store.Client](tx.DB, inv.ClientID); err != nil {
			return err
		}
		source.Subject = client.Name
		tx.LinkTo("clients", inv.ClientID)
		err = profiles.KeepProfile(tx, inv.ClientID, engagements, c.Name, value)
	case profile.Engagement:
		source.Subject, err = keepForWork(tx, engagements, c.Name, value)
	}
	inv.Choices[c.Name] = source
	return err
}

// keepForWork makes a value hold for engagements from now on, and names them.
func keepForWork(tx *app.Tx, engagements []int64, name, value string) (string, error) {
	names := []string{}
	for _, id := range engagements {
		e, err := store.Get[store.Engagement](tx.DB, id)
		if err != nil {
			return "", err
		}
		names = append(names, e.Name)
		tx.LinkTo("engagements", id)
		if err := store.SetProfileValue(tx.DB, profile.Engagement, id, name, value, false); err != nil {
			return "", err
		}
	}
	return strings.Join(names, ", "), nil
}

// OnlyOne is the engagement of an invoice that has just one, else 0: what holds then
// is the client's.
func OnlyOne(engagements []int64) int64 {
	if len(engagements) == 1 {
		return engagements[0]
	}
	return 0
}

// Dates are the days of a draft.
type Dates struct {
	Dated   day.Day `json:"dated" format:"date"`
	UpTo    day.Day `json:"upTo" format:"date" doc:"the last day of work"`
	From    day.Day `json:"from,omitempty" format:"date" doc:"the first day of work; nothing: since the last bill"`
	TaxDate day.Day `json:"taxDate,omitempty" format:"date" doc:"nothing: the invoice date"`
}

// SetDates changes the days of a draft; what is due follows.
func SetDates(ctx context.Context, a *app.App, r app.Request, e Edit, d Dates) (*Changed, error) {
	return Change(ctx, a, r, "change dates", e, d, func(tx *app.Tx, inv *store.Invoice) error {
		if d.Dated.IsZero() || d.UpTo.IsZero() {
			return app.RefuseField("dated", "Give the invoice date and the last day of work, like 2026-11-30.")
		}
		if d.From > d.UpTo {
			return app.RefuseField("from", "Work from %s on would end before that, on %s: give an earlier day.", d.From.Long(), d.UpTo.Long())
		}
		words := "work up to " + d.UpTo.Long()
		if !d.From.IsZero() {
			words = "work from " + d.From.Long() + " to " + d.UpTo.Long()
		}
		tx.Describe(inv.Dated.Long(), d.Dated.Long(), "Dated it %s, with %s", d.Dated.Long(), words)
		inv.Dated, inv.FromDay, inv.UpToDay, inv.TaxDay = d.Dated, d.From, d.UpTo, d.TaxDate
		if inv.TaxDay.IsZero() {
			inv.TaxDay = d.Dated
		}
		return nil
	})
}
