package setup

import (
	"strings"

	"dorvet/core/bank"
	"dorvet/core/money"
	"dorvet/internal/app/registry"
	"dorvet/internal/store"
)

// bankAccountKind are the accounts whose statements are read.
func bankAccountKind() registry.AnyKind {
	type A = store.BankAccount
	head := func(name, label string, at func(*A) *string) registry.FieldOf[A] {
		return registry.Line(name, label, at)
	}
	d := &registry.Definition[A]{
		Kind: registry.Kind{Name: "bank-accounts", One: "bank account", Many: "bank accounts", First: []string{"name", "entity", "iban"},
			About: "Accounts whose statements are read under Receivables, Bank: a camt.053 file says by itself of which it is, " +
				"a CSV file as its columns are headed."},
		Table: registry.Concat(
			registry.Group("Account",
				registry.Line("name", "Name", func(a *A) *string { return &a.Name }).Required(),
				registry.Must("entity", "Issuing entity", "entities", func(a *A) *int64 { return &a.EntityID }).Permanent(),
				ibanField(), registry.CurrencyOf("currency", "Currency", func(a *A) *money.Currency { return &a.Currency }),
				registry.YesNo("clients_money", "Held for clients", func(a *A) *bool { return &a.ClientsMoney }).Listed()),
			registry.Group("Columns of its CSV files",
				head("day_column", "Day", func(a *A) *string { return &a.DayColumn }).Hinted("as the column is headed in the file"),
				head("amount_column", "Amount", func(a *A) *string { return &a.AmountColumn }).
					Hinted("with its sign; or what came and what went in two"),
				head("came_column", "What came", func(a *A) *string { return &a.CameColumn }),
				head("went_column", "What went", func(a *A) *string { return &a.WentColumn }),
				head("text_column", "What the payer wrote", func(a *A) *string { return &a.TextColumn }),
				head("party_column", "Who paid", func(a *A) *string { return &a.PartyColumn }),
				head("party_account_column", "Their account", func(a *A) *string { return &a.PartyAccountColumn }),
				head("reference_column", "The bank's reference", func(a *A) *string { return &a.ReferenceColumn }),
				head("balance_column", "Balance after it", func(a *A) *string { return &a.BalanceColumn }))),
		Blank:  func(e *registry.Env) (A, error) { return A{Currency: e.Firm.Currency, Active: true}, nil },
		Active: func(a *A) *bool { return &a.Active },
	}
	return d.Ready()
}

// ibanField is the number of an account as statements say it: without spaces.
func ibanField() registry.FieldOf[store.BankAccount] {
	f := registry.Line("iban", "IBAN or number", func(a *store.BankAccount) *string { return &a.IBAN }).Listed()
	write := f.Write
	f.Write = func(e *registry.Env, a *store.BankAccount, text string) error {
		err := write(e, a, text)
		a.IBAN = bank.Compact(strings.TrimSpace(a.IBAN))
		return err
	}
	return f
}
