package banking

import (
	"context"
	"fmt"
	"strings"

	"dorvet/core/day"
	"dorvet/core/funds"
	"dorvet/core/invoice"
	"dorvet/core/money"
	"dorvet/internal/app"
	"dorvet/internal/app/papers"
	"dorvet/internal/store"
)

// Keeping is a reconciliation that is kept.
type Keeping struct {
	AccountID int64   `json:"accountId"`
	On        day.Day `json:"on" format:"date"`
	Note      string  `json:"note" maxLength:"500"`
}

// KeptReconciliation is one that was kept, with its document.
type KeptReconciliation struct {
	ID          int64        `json:"id"`
	Account     string       `json:"account"`
	On          day.Day      `json:"on"`
	Bank        money.Amount `json:"bank"`
	Ledger      money.Amount `json:"ledger"`
	Differences money.Amount `json:"differences"`
	Open        int          `json:"open"`
	Person      string       `json:"person"`
	Note        string       `json:"note"`
}

// KeepReconciliation keeps how the clients' account stands on a day, as a document.
func KeepReconciliation(ctx context.Context, a *app.App, r app.Request, in Keeping) (*KeptReconciliation, error) {
	return app.Do(ctx, a, r, "reconcile", in, func(tx *app.Tx) (*KeptReconciliation, error) {
		found, err := reconciliation(tx.DB, tx.Today, in.AccountID, in.On)
		if err != nil {
			return nil, err
		}
		if found.Problem != "" {
			return nil, app.Refuse(app.Conflict, "%s", found.Problem)
		}
		person, err := store.Get[store.Person](tx.DB, tx.Actor.PersonID)
		if err != nil {
			return nil, err
		}
		row := &store.Reconciliation{AccountID: found.AccountID, EntityID: found.account.EntityID, Day: found.On, Bank: found.Bank.Minor,
			Ledger: found.Ledger.Minor, Differences: found.Sum.Minor, Open: found.Open, Currency: found.account.Currency,
			Note: strings.TrimSpace(in.Note), PersonID: &person.ID, ActID: tx.ActID}
		doc, err := found.document(tx.DB, row, person.Name)
		if err != nil {
			return nil, err
		}
		content, err := papers.Drawn(a, doc)
		if err != nil {
			return nil, err
		}
		if row.Digest, err = a.Store.Keep(tx.DB, content, "application/pdf", tx.Now); err != nil {
			return nil, err
		}
		tx.LinkTo("bank-accounts", row.AccountID)
		tx.Describe(nil, nil, "Reconciled %s on %s: bank %s, differences %s, held for clients %s", found.Account, found.On.Long(), found.Bank,
			found.Sum, found.Ledger)
		if err := store.Insert(tx.DB, row); err != nil {
			return nil, err
		}
		return keptView(&store.ReconciliationRow{Reconciliation: *row, Account: found.Account, Person: person.Name}), nil
	})
}

func keptView(r *store.ReconciliationRow) *KeptReconciliation {
	amount := func(minor int64) money.Amount { return money.Amount{Minor: minor, Currency: r.Currency} }
	return &KeptReconciliation{r.ID, r.Account, r.Day, amount(r.Bank), amount(r.Ledger), amount(r.Differences), r.Open, r.Person, r.Note}
}

// KeptReconciliations lists what was kept, the latest first.
func KeptReconciliations(ctx context.Context, a *app.App, actor app.Actor) ([]KeptReconciliation, error) {
	rows, err := store.Reconciliations(a.Read(ctx, actor))
	list := make([]KeptReconciliation, 0, len(rows))
	for i := range rows {
		list = append(list, *keptView(&rows[i]))
	}
	return list, err
}

// ReconciliationFile is the document of a reconciliation that was kept.
func ReconciliationFile(ctx context.Context, a *app.App, actor app.Actor, id int64) (name string, content []byte, err error) {
	row, err := store.Get[store.Reconciliation](a.Read(ctx, actor), id)
	if err != nil {
		return "", nil, app.Missing(err, "reconciliation")
	}
	content, err = a.Store.Content(row.Digest)
	return fmt.Sprintf("Reconciliation %s.pdf", row.Day), content, err
}

// document is a reconciliation on paper: bank, differences by name, clients.
func (r *Reconciliation) document(tx *store.DB, row *store.Reconciliation, by string) (*invoice.Document, error) {
	entity, err := store.Get[store.IssuingEntity](tx, row.EntityID)
	if err != nil {
		return nil, err
	}
	none := r.amount(0)
	issuer := invoice.Party{Name: entity.LegalName, Address: strings.Split(entity.Address, "\n"), TaxNumber: entity.TaxNumber}
	doc := &invoice.Document{Kind: "reconciliation", Issuer: issuer, Client: invoice.Party{Name: r.Account, Address: []string{r.account.IBAN}},
		Dated: r.On, Currency: r.account.Currency, Columns: []string{"date"}, Note: row.Note, Payable: []invoice.Instalment{},
		Totals: invoice.Totals{Lines: r.Ledger, Discount: none, Surcharge: none, Fees: none, Net: r.Ledger, Tax: none, Taxes: []invoice.TaxOfCode{},
			Total: r.Ledger, Withholding: none, Credit: none, Funds: none, Due: r.Ledger},
		Foot: []invoice.Fact{{Label: "The bank has", Text: r.Bank.String()}, {Label: "Differences, by name", Text: r.Sum.String()},
			{Label: "The ledger has", Text: r.Ledger.String()}, {Label: "Held for clients", Text: r.Clients.String()}, {Label: "Reconciled by", Text: by}}}
	bank := invoice.Section{Title: "Bank", Sum: r.Bank, Lines: []invoice.DocumentLine{{Day: r.On, Text: "Balance by the statement", Amount: r.Bank}}}
	less := invoice.Section{Title: "Differences", Sum: r.Sum.Neg()}
	for _, d := range r.Differences {
		less.Lines = append(less.Lines, invoice.DocumentLine{Day: d.Day, Text: whyWords[d.Why] + ": " + d.Text, Amount: d.Amount.Neg()})
	}
	held := invoice.Section{Title: "Clients", Sum: r.Clients}
	for _, h := range r.Held {
		text := h.Client
		if h.For != "" {
			text += ", for " + h.For
		}
		held.Lines = append(held.Lines, invoice.DocumentLine{Text: text, Amount: h.Held})
	}
	doc.Sections = []invoice.Section{bank, less, held}
	return doc, nil
}

// whyWords say why bank and ledger differ by something.
var whyWords = map[funds.Why]string{funds.Unsaid: "Not said yet what it is", funds.Aside: "Nothing of clients", funds.Later: "Recorded later",
	funds.NotYet: "Not at the bank by then", funds.Elsewhere: "Came on another account", funds.NotMade: "Transfer not made",
	funds.FromBefore: "Not explained"}

// TellUnreconciled tells administrators, once for each month, of clients' accounts whose last month nobody has reconciled.
func TellUnreconciled(ctx context.Context, a *app.App) error {
	tx, month := a.Store.Read(ctx, store.Everything), lastMonth(a.Clock.Today())
	due, err := unreconciled(tx, month)
	if err != nil || len(due) == 0 {
		return err
	}
	people, err := store.All[store.Person](tx, "id")
	if err != nil {
		return err
	}
	_, err = app.Do(ctx, a, app.Request{Actor: app.Actor{Outsider: "Dorvet"}}, "tell of reconciliation", nil, func(tx *app.Tx) (struct{}, error) {
		for i := range due {
			for _, p := range people {
				if p.Active && p.Role == string(app.Administrator) {
					tx.Notify(p.ID, nil, "%s is not reconciled for %s yet: under Receivables, Held, Reconcile.", due[i].Name, month.Time().Format("January 2006"))
				}
			}
			due[i].ToldDay = month
			tx.LinkTo("bank-accounts", due[i].ID)
			if err := store.Save(tx.DB, &due[i]); err != nil {
				return struct{}{}, err
			}
		}
		tx.Describe(nil, nil, "Told of %s to reconcile for %s", app.Counted(len(due), "account", "accounts"), month.Time().Format("January 2006"))
		return struct{}{}, nil
	})
	return err
}
