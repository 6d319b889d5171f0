// Package setup is the firm and what it works with: which kinds of record there are (people,
// clients, engagements, services, rates, ...), how the first start makes them, budgets,
// onboarding, questions to clients, and what an hour costs.
package setup

import (
	"context"
	"crypto/subtle"
	"errors"
	"strings"

	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/core/profile"
	"dorvet/core/tax"
	"dorvet/internal/app"
	"dorvet/internal/app/identity"
	"dorvet/internal/app/registry"
	"dorvet/internal/store"
)

// Start is what the first start asks.
type Start struct {
	Firm       string `json:"firm" maxLength:"200"`
	Currency   string `json:"currency" maxLength:"20"`
	TimeZone   string `json:"timeZone" maxLength:"60"`
	Mark       string `json:"mark" enum:"point,comma" doc:"decimal mark"`
	TaxName    string `json:"taxName" maxLength:"30" doc:"as it is printed: VAT"`
	TaxPercent string `json:"taxPercent" maxLength:"10" doc:"as typed; empty for none"`
	Name       string `json:"name" maxLength:"200" doc:"of the first administrator"`
	Mail       string `json:"mail" maxLength:"200"`
	Password   string `json:"password" maxLength:"200"`
	Token      string `json:"token,omitempty" maxLength:"100" doc:"that the server prints at its first start"`
}

// Begin makes the firm and its first administrator, whose number it gives, in an empty database. Once
// there is a firm it is refused.
func Begin(ctx context.Context, a *app.App, s Start) (personID int64, err error) {
	if strings.TrimSpace(s.Firm) == "" {
		return 0, app.RefuseField("firm", "The firm needs a name: give one.")
	}
	if subtle.ConstantTimeCompare([]byte(strings.TrimSpace(s.Token)), []byte(a.SetupToken)) != 1 {
		return 0, app.RefuseField("token", "This is not the set-up token: it stands where the server was started, in what it printed.")
	}
	hash, err := identity.NewPassword(s.Password, s.Name, s.Mail)
	if err != nil {
		return 0, err
	}
	return app.Do(ctx, a, app.Request{}, "begin", nil, func(tx *app.Tx) (int64, error) {
		switch _, err := store.TheFirm(tx.DB); {
		case err == nil:
			return 0, app.Refuse(app.Conflict, "The firm is there already: sign in, or ask an administrator to invite you.")
		case !errors.Is(err, store.ErrNotFound):
			return 0, err
		}
		known, err := store.AnyPerson(tx.DB)
		if err != nil {
			return 0, err
		}
		if known {
			return 0, app.Refuse(app.Conflict, "There are accounts here already: sign in, or restore a backup.")
		}
		if err := begin(tx, s); err != nil {
			return 0, err
		}
		e, err := registry.NewEnv(tx.DB, tx.Today, app.Actor{})
		if err != nil {
			return 0, err
		}
		if err := checkFirm(e, e.Firm); err != nil {
			return 0, err
		}
		made, err := registry.AddTo(tx, e, registry.KindOf("people"),
			map[string]string{"name": s.Name, "mail": s.Mail, "role": string(app.Administrator)})
		if err != nil {
			return 0, err
		}
		person := made.(*registry.Typed[store.Person]).Value
		person.PasswordHash = hash
		tx.Describe(nil, s.Firm, "Began %s", s.Firm)
		tx.LinkTo(app.OfFirm, 1)
		return person.ID, store.Save(tx.DB, person)
	})
}

// begin writes the rows that nothing works without.
func begin(tx *app.Tx, s Start) error {
	currency := money.Currency(strings.ToUpper(s.Currency))
	if _, err := currency.Decimals(); err != nil {
		return app.InField("currency", err)
	}
	mark := map[string]string{"point": ".", "comma": ","}[s.Mark]
	if mark == "" {
		return app.RefuseField("mark", "Choose the decimal mark: point or comma.")
	}
	firm := store.Firm{Row: store.Row{ID: 1}, StaffTreats: true, ReminderHour: "hand", Name: strings.TrimSpace(s.Firm), Currency: currency,
		TimeZone: s.TimeZone, DecimalMark: mark,
		FiscalYearStart: "01-01", WorkingDays: "mon tue wed thu fri", EngagementWord: "engagement", PhaseWord: "phase", ProposalDays: 30,
		IdleMinutes: 240, RefundProof: new(int64(100_000))}
	percent, code := int64(0), store.TaxCode{Code: "E", Name: "Tax", Category: tax.Exempt, Active: true}
	if text := strings.TrimSuffix(strings.TrimSpace(s.TaxPercent), "%"); text != "" {
		n, err := money.ParseFixed(text, firm.Mark(), 4)
		if err != nil || n < 0 || n > int64(money.Hundred) {
			return app.RefuseField("taxPercent", "%q is no percentage: give it like 23 or 13%s5, or leave it empty.", s.TaxPercent, mark)
		}
		percent, code = n, store.TaxCode{Code: "S", Name: s.TaxName, Category: tax.StandardRated, Active: true}
	}
	entity := store.IssuingEntity{Name: firm.Name, LegalName: firm.Name, ProposalPrefix: "P", ProposalFirst: 1, ProposalNext: 1,
		Active: true}
	for _, row := range []any{&firm, &entity, &code} {
		if err := store.Insert(tx.DB, row); err != nil {
			return err
		}
	}
	rows := []any{&store.TaxRate{TaxCodeID: code.ID, FromDay: day.Of(tx.Today.Time().Year()-1, 1, 1), Percent: money.Percent(percent)},
		[]store.Series{{EntityID: entity.ID, Kind: "invoice", Prefix: "I", FirstNumber: 1, NextNumber: 1},
			{EntityID: entity.ID, Kind: "credit_note", Prefix: "C", FirstNumber: 1, NextNumber: 1}}}
	for _, row := range rows {
		if err := store.Insert(tx.DB, row); err != nil {
			return err
		}
	}
	return store.SetProfileValue(tx.DB, profile.Firm, 1, "tax_code", code.Code, false)
}
