package receivables

import (
	"context"
	"fmt"

	"dorvet/core/day"
	"dorvet/core/invoice"
	"dorvet/core/money"
	"dorvet/core/wording"
	"dorvet/internal/app"
	"dorvet/internal/app/papers"
	"dorvet/internal/store"
)

// AccountPeriod asks for the movements of a client's account, both days counted.
type AccountPeriod struct {
	ClientID, EntityID int64
	Currency           money.Currency
	From, To           day.Day
}

// periodStatement is an account as movements of a period: what it opened with and all that changed it come to what it closed with.
type periodStatement struct {
	*Statement // as it stood at the end: its ages
	from       day.Day
	opening    int64
	movements  []store.AccountMovement
}

// readPeriod reads the movements of an account. They add up to the balance that the desk has on that day, or the statement is not made.
func readPeriod(tx *store.DB, today day.Day, p AccountPeriod) (*periodStatement, error) {
	account, err := accountFor(tx, p.ClientID, p.EntityID, p.Currency, nil)
	if err != nil {
		return nil, err
	}
	switch {
	case p.To > today:
		return nil, app.RefuseField("to", "%s is still to come: give today or a day before.", p.To.Long())
	case p.From.IsZero() || p.From > p.To:
		return nil, app.RefuseField("from", "Give a day on which it begins, not after %s.", p.To.Long())
	}
	s := &periodStatement{from: p.From}
	all, err := claimsOn(tx, account.ClientID, p.To)
	if err != nil {
		return nil, err
	}
	found := new(claims)
	if len(all) > 0 {
		found = all[0]
	}
	if s.Statement, err = found.account(account, p.To); err != nil {
		return nil, err
	}
	if s.opening, err = store.BalanceBefore(tx, account, p.From); err != nil {
		return nil, err
	}
	if s.movements, err = store.AccountMovements(tx, account, p.From, p.To); err != nil {
		return nil, err
	}
	closing := s.opening
	for _, m := range s.movements {
		closing += m.Change
	}
	balance, err := s.Balance()
	if err == nil && balance.Minor != closing {
		err = fmt.Errorf("state the account of client %d: movements come to %d, the balance is %d", account.ClientID, closing, balance.Minor)
	}
	return s, err
}

// movementLabels say what a movement was, in the client's words.
var movementLabels = map[string]wording.Label{"invoice": wording.Invoice, "opening": wording.Invoice, "credit_note": wording.CreditNote,
	"withheld": wording.Withheld, "funds": wording.FromFunds, "payment": wording.Paid, "refund": wording.PaidBack, "reversed": wording.Reversed,
	"written_off": wording.GivenUp, "recovered": wording.OwedAgain, "owed_again": wording.OwedAgain}

func movementText(w wording.Words, m *store.AccountMovement) string {
	text := w.Say(movementLabels[m.What])
	switch {
	case m.NumberText != "":
		text += " " + m.NumberText
	case m.Reference != "":
		text += ", " + m.Reference
	}
	return text
}

// document is the statement on paper, in the language and look of the client.
func (s *periodStatement) document(tx *store.DB) (*invoice.Document, error) {
	balance, err := s.Balance()
	if err != nil {
		return nil, err
	}
	doc, err := plainDocument(tx, "statement", s.Account, balance, s.On, s.On)
	if err != nil {
		return nil, err
	}
	w := doc.Words()
	lines := []invoice.DocumentLine{{Day: s.from - 1, Text: w.Say(wording.BalanceOn, "day", w.Day(s.from-1)), Amount: s.amount(s.opening)}}
	for i := range s.movements {
		lines = append(lines, invoice.DocumentLine{Day: s.movements[i].Day, Text: movementText(w, &s.movements[i]), Amount: s.amount(s.movements[i].Change)})
	}
	doc.Columns = []string{"date"}
	doc.Sections = []invoice.Section{{Lines: lines, Sum: balance}}
	doc.Foot = s.foot(w)
	return doc, nil
}

// PeriodStatement is the account of a client as movements of a period, as PDF.
func PeriodStatement(ctx context.Context, a *app.App, actor app.Actor, p AccountPeriod) (name string, content []byte, err error) {
	tx := a.Read(ctx, actor)
	s, err := readPeriod(tx, a.Clock.Today(), p)
	if err != nil {
		return "", nil, err
	}
	doc, err := s.document(tx)
	if err != nil {
		return "", nil, err
	}
	content, err = papers.Drawn(a, doc)
	return s.fileName(doc), content, err
}

// PeriodTable is [PeriodStatement] as a table, with the balance after each movement.
func PeriodTable(ctx context.Context, a *app.App, actor app.Actor, p AccountPeriod) (header []string, rows [][]string, err error) {
	s, err := readPeriod(a.Read(ctx, actor), a.Clock.Today(), p)
	if err != nil {
		return nil, nil, err
	}
	w, after := wording.Words{Language: wording.English}, s.opening
	rows = [][]string{{(s.from - 1).String(), "Balance", "", string(s.Account.Currency), "", s.amount(after).Typed()}}
	for i := range s.movements {
		m := &s.movements[i]
		after += m.Change
		rows = append(rows, []string{m.Day.String(), movementText(w, m), m.NumberText, string(s.Account.Currency), s.amount(m.Change).Typed(),
			s.amount(after).Typed()})
	}
	return []string{"Day", "What", "Invoice", "Currency", "Change", "Balance"}, rows, nil
}
