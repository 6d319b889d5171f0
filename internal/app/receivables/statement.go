package receivables

import (
	"cmp"
	"fmt"
	"slices"
	"strconv"

	"dorvet/core/day"
	"dorvet/core/invoice"
	"dorvet/core/money"
	"dorvet/core/receivable"
	"dorvet/core/wording"
	"dorvet/internal/app"
	"dorvet/internal/app/papers"
	"dorvet/internal/store"
)

// Statement is the account of a client with an issuing entity in a currency, as open items on a day.
type Statement struct {
	Account store.Account
	On      day.Day
	Open    []store.OpenInstalment // by due day
	Credit  money.Amount           // of the client, that is on no invoice
	Owing   receivable.Owing
}

// statementOf reads an account as it is now; what is late is so on a day.
func statementOf(tx *store.DB, of store.Account, on day.Day) (*Statement, error) {
	found, err := readClaims(tx, []int64{of.ClientID})
	if err != nil {
		return nil, err
	}
	return found[of.ClientID].account(of, on)
}

// accounts are those on which something is owed, or is to good.
func (c *claims) accounts() []store.Account {
	accounts := []store.Account{}
	add := func(entityID int64, currency money.Currency) {
		if of := (store.Account{ClientID: c.ClientID, EntityID: entityID, Currency: currency}); !slices.Contains(accounts, of) {
			accounts = append(accounts, of)
		}
	}
	for i := range c.Open {
		add(c.Open[i].EntityID, c.Open[i].Currency)
	}
	for _, credit := range c.Credits {
		add(credit.EntityID, credit.Currency)
	}
	return accounts
}

// account is what of some claims stands on an account.
func (c *claims) account(of store.Account, on day.Day) (*Statement, error) {
	s := &Statement{Account: of, On: on, Owing: receivable.NewOwing(of.Currency), Credit: money.Zero(of.Currency)}
	if c == nil {
		return s, nil
	}
	for i := range c.Open {
		row := &c.Open[i]
		if row.EntityID != of.EntityID || row.Currency != of.Currency {
			continue
		}
		s.Open = append(s.Open, *row)
		if err := s.Owing.Add(row.DueDay, on, s.amount(row.Open), s.amount(row.Aside)); err != nil {
			return nil, err
		}
	}
	slices.SortStableFunc(s.Open, func(a, b store.OpenInstalment) int { return cmp.Compare(a.DueDay, b.DueDay) })
	for _, credit := range c.Credits {
		if credit.EntityID == of.EntityID && credit.Currency == of.Currency {
			s.Credit.Minor += credit.Credit
		}
	}
	return s, nil
}

func (s *Statement) amount(minor int64) money.Amount {
	return money.Amount{Minor: minor, Currency: s.Account.Currency}
}

// Balance is what is owed, less the client's credit.
func (s *Statement) Balance() (money.Amount, error) {
	owed, err := s.Owing.Total()
	if err != nil {
		return owed, err
	}
	return owed.Sub(s.Credit)
}

// document is the statement on paper, with its ages at the foot: those of the desk.
func (s *Statement) document(tx *store.DB) (*invoice.Document, error) {
	balance, err := s.Balance()
	if err != nil {
		return nil, err
	}
	doc, err := plainDocument(tx, "statement", s.Account, balance, s.On, s.On)
	if err != nil {
		return nil, err
	}
	w, lines := doc.Words(), []invoice.DocumentLine{}
	for i := range s.Open {
		lines = append(lines, invoice.DocumentLine{Day: s.Open[i].Dated, Text: s.said(w, &s.Open[i]), Amount: s.amount(s.Open[i].Open)})
	}
	if !s.Credit.IsZero() {
		lines = append(lines, invoice.DocumentLine{Text: w.Say(wording.YourCredit), Amount: s.Credit.Neg()})
	}
	doc.Columns = []string{"date"}
	doc.Sections = []invoice.Section{{Lines: lines, Sum: balance}}
	doc.Foot = s.foot(w)
	return doc, nil
}

// said names an open instalment in the client's words.
func (s *Statement) said(w wording.Words, row *store.OpenInstalment) string {
	number := row.NumberText
	if row.Parts > 1 {
		number += " (" + w.Say(wording.PartOf, "n", strconv.Itoa(row.Position), "all", strconv.Itoa(row.Parts)) + ")"
	}
	return w.Say(wording.OpenItem, "number", number, "day", w.Day(row.DueDay))
}

// foot are the ages of a statement in words, those with nothing in them left out.
func (s *Statement) foot(w wording.Words) []invoice.Fact {
	late := func(from, to int) string {
		return w.Say(wording.DaysLate, "from", strconv.Itoa(from), "to", strconv.Itoa(to))
	}
	facts := []invoice.Fact{}
	for i, label := range []string{w.Say(wording.NotDue), late(1, 30), late(31, 60), late(61, 90), w.Say(wording.Over90)} {
		if !s.Owing.Ages[i].IsZero() {
			facts = append(facts, invoice.Fact{Label: label, Text: w.Figure(s.Owing.Ages[i])})
		}
	}
	if !s.Owing.Disputed.IsZero() {
		facts = append(facts, invoice.Fact{Label: w.Say(wording.InDispute), Text: w.Figure(s.Owing.Disputed)})
	}
	return facts
}

func (s *Statement) fileName(doc *invoice.Document) string {
	return fmt.Sprintf("%s %s %s.pdf", doc.Title(), doc.Client.Name, s.On)
}

// AccountStands is how a client stands with an issuing entity in a currency.
type AccountStands struct {
	Account       store.Account
	Entity        string
	Balance, Late money.Amount
}

// AccountsOf are the accounts of a client on which something stands, on a day.
func AccountsOf(tx *store.DB, clientID int64, on day.Day) ([]AccountStands, error) {
	found, err := readClaims(tx, []int64{clientID})
	if err != nil || found[clientID] == nil {
		return nil, err
	}
	list := []AccountStands{}
	for _, of := range found[clientID].accounts() {
		s, err := found[clientID].account(of, on)
		if err != nil {
			return nil, err
		}
		entity, err := store.Get[store.IssuingEntity](tx, of.EntityID)
		if err != nil {
			return nil, err
		}
		one := AccountStands{Account: of, Entity: entity.LegalName}
		if one.Balance, err = s.Balance(); err != nil {
			return nil, err
		}
		if one.Late, err = s.Owing.Ages.Late(); err != nil {
			return nil, err
		}
		list = append(list, one)
	}
	return list, nil
}

// StatementIn is the statement of an account as it is now.
func StatementIn(a *app.App, tx *store.DB, of store.Account) (name string, content []byte, err error) {
	s, err := statementOf(tx, of, a.Clock.Today())
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
