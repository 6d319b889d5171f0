package banking

import (
	"context"
	"fmt"
	"strings"

	"dorvet/core/bank"
	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/core/paymentmethod"
	"dorvet/internal/app"
	"dorvet/internal/store"
)

// ToPay is something that is to be paid out, and in no order yet.
type ToPay struct {
	Key     string       `json:"key" doc:"kind and number: what is chosen by it"`
	Kind    string       `json:"kind" enum:"transfer,refund,expenses"`
	ID      int64        `json:"id" doc:"of expenses the person"`
	Day     day.Day      `json:"day" doc:"since which"`
	To      string       `json:"to"`
	IBAN    string       `json:"iban"`
	From    string       `json:"from" doc:"the account"`
	What    string       `json:"what"`
	Amount  money.Amount `json:"amount"`
	Problem string       `json:"problem" doc:"why it can't be ordered from a bank, and what to do; or nothing"`
	row     store.Outgoing
	account *store.BankAccount
}

// refundedLately is for how many days a refund that no statement has met waits to be ordered.
const refundedLately = 60

// Outgoing lists what is to be paid out: transfers to the firm's account, refunds, what people laid out.
func Outgoing(ctx context.Context, a *app.App, actor app.Actor) ([]ToPay, error) {
	return outgoing(a.Read(ctx, actor), a.Clock.Today())
}

func outgoing(tx *store.DB, today day.Day) ([]ToPay, error) {
	rows, err := store.ToPayOut(tx, today.AddDays(-refundedLately))
	if err != nil {
		return nil, err
	}
	accounts, err := store.All[store.BankAccount](tx, "id")
	if err != nil {
		return nil, err
	}
	entities, err := store.All[store.IssuingEntity](tx, "id")
	if err != nil {
		return nil, err
	}
	list := make([]ToPay, 0, len(rows))
	for _, row := range rows {
		p := ToPay{Key: fmt.Sprintf("%s %d %s", row.Kind, row.ID, row.Currency), Kind: row.Kind, ID: row.ID, Day: row.Day, To: row.ToName, IBAN: row.IBAN,
			What: row.Text, Amount: money.Amount{Minor: row.Minor, Currency: row.Currency}, row: row}
		own := accountFor(accounts, &row, false)
		if p.account = accountFor(accounts, &row, row.FromClients); row.Kind == "transfer" && own != nil {
			p.To, p.IBAN = entityName(entities, row.EntityID)+", "+own.Name, own.IBAN
		}
		if row.Kind == "expenses" {
			p.What = app.Counted(row.Number, "purchase", "purchases")
		}
		p.check()
		list = append(list, p)
	}
	return list, nil
}

// accountFor is the account of an issuing entity in the currency of what goes out: the clients' or the firm's own, or nil.
func accountFor(accounts []store.BankAccount, row *store.Outgoing, clients bool) *store.BankAccount {
	for i := range accounts {
		if a := &accounts[i]; a.Active && a.EntityID == row.EntityID && a.Currency == row.Currency && a.ClientsMoney == clients {
			return a
		}
	}
	return nil
}

func entityName(entities []store.IssuingEntity, id int64) string {
	for _, e := range entities {
		if e.ID == id {
			return e.LegalName
		}
	}
	return ""
}

// check says why something can't be ordered from a bank.
func (p *ToPay) check() {
	right := func(iban string) bool { return paymentmethod.Account{IBAN: iban, Holder: "x"}.Check() == nil }
	switch {
	case p.account == nil:
		whose := "of the firm's own"
		if p.row.FromClients {
			whose = "of clients' money"
		}
		p.Problem = fmt.Sprintf("There is no account %s in %s: add it under Set-up, Bank accounts.", whose, p.row.Currency)
		return
	case !right(p.account.IBAN):
		p.Problem = p.account.Name + " has no IBAN that is right: give it under Set-up, Bank accounts."
	case p.row.Minor < 0:
		p.Problem = "It goes back to the clients' account: make it by hand, then mark it as made."
	case p.IBAN == "" && p.Kind == "expenses":
		p.Problem = "Their IBAN is not known: give it under Set-up, People."
	case p.IBAN == "" && p.Kind == "refund":
		p.Problem = "No account is known from which they paid: pay it at the bank by hand."
	case !right(p.IBAN):
		p.Problem = "The IBAN to which it goes is not right: look at it again."
	}
	p.From = p.account.Name
}

// Ordering is what is ordered from banks.
type Ordering struct {
	Keys []string `json:"keys" minItems:"1" maxItems:"2000" doc:"of what is to be paid out"`
	Day  day.Day  `json:"day,omitempty" format:"date" doc:"on which it is to leave; nothing: today"`
}

// BankOrder is what a bank was asked to pay, as a file.
type BankOrder struct {
	ID        int64        `json:"id"`
	Version   int64        `json:"version"`
	Name      string       `json:"name"`
	Account   string       `json:"account"`
	Day       day.Day      `json:"day"`
	Payments  int          `json:"payments"`
	Met       int          `json:"met" doc:"that the bank's statement has"`
	Total     money.Amount `json:"total"`
	Person    string       `json:"person"`
	Withdrawn bool         `json:"withdrawn"`
}

// OrderPayments makes a file for each account from which something is to be paid; what people laid out is paid back by it.
func OrderPayments(ctx context.Context, a *app.App, r app.Request, in Ordering) ([]BankOrder, error) {
	return app.Do(ctx, a, r, "order payments", in, func(tx *app.Tx) ([]BankOrder, error) {
		if in.Day.IsZero() {
			in.Day = tx.Today
		}
		if in.Day < tx.Today {
			return nil, app.RefuseField("day", "%s is over: give today or a later day.", in.Day.Long())
		}
		chosen, err := chosenToPay(tx, in.Keys)
		if err != nil {
			return nil, err
		}
		made, said := []BankOrder{}, []string{}
		for len(chosen) > 0 {
			own, rest := []ToPay{}, []ToPay{}
			for _, p := range chosen {
				if p.account.ID == chosen[0].account.ID {
					own = append(own, p)
				} else {
					rest = append(rest, p)
				}
			}
			order, err := orderFrom(a, tx, own, in.Day)
			if err != nil {
				return nil, err
			}
			made, said, chosen = append(made, *order), append(said, order.Name+" over "+order.Total.String()), rest
		}
		tx.Describe(nil, nil, "Ordered from the bank: %s", strings.Join(said, ", "))
		return made, nil
	})
}

// chosenToPay is what is still to be paid of what was chosen.
func chosenToPay(tx *app.Tx, keys []string) ([]ToPay, error) {
	all, err := outgoing(tx.DB, tx.Today)
	if err != nil {
		return nil, err
	}
	byKey, chosen := map[string]ToPay{}, []ToPay{}
	for _, p := range all {
		byKey[p.Key] = p
	}
	for _, key := range keys {
		p, there := byKey[key]
		if !there {
			return nil, app.Refuse(app.Conflict, "Something of this is ordered or paid by now: load the page again.")
		}
		if p.Problem != "" {
			return nil, app.Refuse(app.Conflict, "%s, %s: %s", p.To, p.What, p.Problem)
		}
		delete(byKey, key)
		chosen = append(chosen, p)
	}
	return chosen, nil
}

// orderFrom makes the order of what goes out of one account.
func orderFrom(a *app.App, tx *app.Tx, chosen []ToPay, on day.Day) (*BankOrder, error) {
	account := chosen[0].account
	entity, err := store.Get[store.IssuingEntity](tx.DB, account.EntityID)
	if err != nil {
		return nil, err
	}
	number, err := store.NextOrder(tx.DB)
	if err != nil {
		return nil, err
	}
	row := &store.BankOrder{AccountID: account.ID, EntityID: account.EntityID, Name: fmt.Sprintf("DORVET-%s-%d", strings.ReplaceAll(tx.Today.String(), "-", ""),
		number), Day: on, Currency: account.Currency, MadeAt: tx.Now, PersonID: &tx.Actor.PersonID, ActID: tx.ActID}
	file := bank.Order{ID: row.Name, Made: tx.Now, On: on, Currency: account.Currency, Payer: bank.Holder{Name: entity.LegalName, IBAN: account.IBAN}}
	if account.IBAN == strings.ReplaceAll(entity.IBAN, " ", "") {
		file.Payer.BIC = strings.ReplaceAll(entity.BIC, " ", "")
	}
	ordered := []store.Ordered{}
	for i := range chosen {
		one, err := chosen[i].order(tx, on)
		if err != nil {
			return nil, err
		}
		row.Total += one.Amount
		ordered = append(ordered, *one)
		file.Payments = append(file.Payments, bank.Ordered{To: bank.Holder{Name: one.Name, IBAN: one.IBAN}, Minor: one.Amount, EndToEnd: endToEnd(one),
			Text: one.Text})
	}
	content, err := file.File()
	if err != nil {
		return nil, fmt.Errorf("write an order: %w", err)
	}
	if row.Digest, err = a.Store.Keep(tx.DB, content, "application/xml", tx.Now); err != nil {
		return nil, err
	}
	if err := store.Insert(tx.DB, row); err != nil {
		return nil, err
	}
	for i := range ordered {
		ordered[i].OrderID = row.ID
	}
	tx.LinkTo("bank-accounts", account.ID)
	return orderView(&store.OrderRow{BankOrder: *row, Account: account.Name, Payments: len(ordered)}), store.Insert(tx.DB, ordered)
}

// order is a payment of an order; what a person laid out becomes paid back by it.
func (p *ToPay) order(tx *app.Tx, on day.Day) (*store.Ordered, error) {
	one := &store.Ordered{EntityID: p.row.EntityID, Name: p.To, IBAN: p.IBAN, Amount: p.row.Minor, Text: p.What}
	switch p.Kind {
	case "transfer":
		one.TransferID, one.Text = &p.ID, "Fees "+p.What
	case "refund":
		one.PaymentID, one.Text = &p.ID, "Refund"
	default:
		paid, err := payBack(tx, p.ID, p.row.Currency, on, "by bank")
		if err != nil {
			return nil, err
		}
		one.ReimbursementID, one.Text = &paid.ID, "Expenses, "+p.What
	}
	return one, nil
}

// endToEnd is the reference of a payment of an order, which comes back in the statement.
func endToEnd(o *store.Ordered) string {
	switch {
	case o.TransferID != nil:
		return fmt.Sprintf("T%d", *o.TransferID)
	case o.PaymentID != nil:
		return fmt.Sprintf("P%d", *o.PaymentID)
	}
	return fmt.Sprintf("E%d", *o.ReimbursementID)
}

func orderView(o *store.OrderRow) *BankOrder {
	return &BankOrder{o.ID, o.Version, o.Name, o.Account, o.Day, o.Payments, o.Met, money.Amount{Minor: o.Total, Currency: o.Currency}, o.Person,
		o.Withdrawn}
}

// Orders lists what banks were asked to pay, the latest first.
func Orders(ctx context.Context, a *app.App, actor app.Actor) ([]BankOrder, error) {
	rows, err := store.BankOrders(a.Read(ctx, actor))
	list := make([]BankOrder, 0, len(rows))
	for i := range rows {
		list = append(list, *orderView(&rows[i]))
	}
	return list, err
}

// OrderFile is the file of an order.
func OrderFile(ctx context.Context, a *app.App, actor app.Actor, id int64) (name string, content []byte, err error) {
	row, err := store.Get[store.BankOrder](a.Read(ctx, actor), id)
	if err != nil {
		return "", nil, app.Missing(err, "order")
	}
	content, err = a.Store.Content(row.Digest)
	return row.Name + ".xml", content, err
}

// Withdraw takes an order back that the bank was not given, or refused: what was in it is to be paid again.
func Withdraw(ctx context.Context, a *app.App, r app.Request, id, version int64) error {
	_, err := app.Do(ctx, a, r, "withdraw an order", []int64{id, version}, func(tx *app.Tx) (struct{}, error) {
		row, err := store.Get[store.BankOrder](tx.DB, id)
		switch {
		case err != nil:
			return struct{}{}, app.Missing(err, "order")
		case row.Version != version:
			return struct{}{}, store.ErrStale
		case row.Withdrawn:
			return struct{}{}, app.Refuse(app.Conflict, "%s is withdrawn already.", row.Name)
		}
		met, err := store.MetOfOrder(tx.DB, id)
		if err := app.Unless(err, app.Refuse(app.Conflict, "The bank's statement has %s of it: it was carried out.",
			app.Counted(int(met), "payment", "payments")), func() bool { return met == 0 }); err != nil {
			return struct{}{}, err
		}
		payments, err := store.OrderedIn(tx.DB, id)
		if err != nil {
			return struct{}{}, err
		}
		for i := range payments {
			if payments[i].ReimbursementID == nil {
				continue
			}
			if err := takeBackPaid(tx, *payments[i].ReimbursementID); err != nil {
				return struct{}{}, err
			}
		}
		row.Withdrawn = true
		tx.LinkTo("bank-accounts", row.AccountID)
		tx.Describe(nil, nil, "Withdrew the order %s over %s", row.Name, money.Amount{Minor: row.Total, Currency: row.Currency})
		return struct{}{}, store.Save(tx.DB, row)
	})
	return err
}
