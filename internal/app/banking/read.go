// Package banking is what banks say: statements are read, and each of their entries becomes what it is: a payment of invoices, money that
// is held, something recorded before, a payment that came back, or nothing of clients. Nothing of a statement is left over.
package banking

import (
	"cmp"
	"context"
	"fmt"
	"slices"

	"dorvet/core/bank"
	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/core/refusal"
	"dorvet/core/safetext"
	"dorvet/internal/app"
	"dorvet/internal/store"
)

// BankFile is a file from a bank.
type BankFile struct {
	Name      string `json:"name" maxLength:"200"`
	AccountID int64  `json:"accountId" doc:"whose it is, where the file does not say; 0: it does"`
	Content   []byte `json:"content" doc:"camt.053 or CSV"`
}

// Tables reads a CSV file: its heads and rows, and whether its numbers have a point whatever the firm types.
type Tables func(content []byte) (header []string, rows [][]string, point bool, err error)

// FoundStatement is a statement in a file, and what reading it does.
type FoundStatement struct {
	File      string       `json:"file"`
	AccountID int64        `json:"accountId"`
	Account   string       `json:"account"`
	Number    string       `json:"number"`
	From      day.Day      `json:"from"`
	To        day.Day      `json:"to"`
	Opening   money.Amount `json:"opening"`
	Closing   money.Amount `json:"closing"`
	Entries   int          `json:"entries"`
	New       int          `json:"new" doc:"entries that are not there yet; none: it was read before"`
	Problem   string       `json:"problem" doc:"why it can't be read, and what to do; or nothing"`
}

// statement is one of a file, on the way in.
type statement struct {
	said     bank.Statement
	found    FoundStatement
	account  *store.BankAccount
	relative bool // it says no balances, and goes on from the one before it
	keys     []string
	news     []int // places of the entries that are not there yet
}

// Try says what reading files would do. It changes nothing.
func Try(ctx context.Context, a *app.App, actor app.Actor, files []BankFile, tables Tables) ([]FoundStatement, error) {
	all, err := readFiles(a.Read(ctx, actor), a.Clock.Today(), files, tables)
	return found(all), err
}

// Read takes the statements of files, all or none.
func Read(ctx context.Context, a *app.App, r app.Request, files []BankFile, tables Tables) ([]FoundStatement, error) {
	return app.Do(ctx, a, r, "read bank statements", files, func(tx *app.Tx) ([]FoundStatement, error) {
		all, err := readFiles(tx.DB, tx.Today, files, tables)
		if err != nil {
			return nil, err
		}
		entries, statements := 0, 0
		for i := range all {
			s := &all[i]
			if s.found.Problem != "" {
				return nil, app.Refuse(app.Conflict, "%s: %s Nothing was taken of any file.", s.found.File, s.found.Problem)
			}
			if len(s.news) == 0 {
				continue
			}
			if err := s.keep(tx); err != nil {
				return nil, err
			}
			entries, statements = entries+len(s.news), statements+1
		}
		tx.Describe(nil, nil, "Read %s of the bank with %s", app.Counted(statements, "statement", "statements"),
			app.Counted(entries, "entry", "entries"))
		return found(all), nil
	})
}

func found(all []statement) []FoundStatement {
	list := []FoundStatement{}
	for _, s := range all {
		list = append(list, s.found)
	}
	return list
}

// readFiles reads the statements of files in the order of their days, each after what is there and what comes before it.
func readFiles(tx *store.DB, today day.Day, files []BankFile, tables Tables) ([]statement, error) {
	all := []statement{}
	for _, f := range files {
		own, err := readFile(tx, f, tables)
		if refusal.Is(err) {
			own, err = []statement{{found: FoundStatement{File: safetext.FileName(f.Name), Problem: app.AsConflict(err).Error()}}}, nil
		}
		if err != nil {
			return nil, err
		}
		all = append(all, own...)
	}
	slices.SortStableFunc(all, func(a, b statement) int {
		return cmp.Or(cmp.Compare(a.found.AccountID, b.found.AccountID), cmp.Compare(a.said.From, b.said.From))
	})
	last := map[int64]*store.BankStatement{}
	for i := range all {
		if err := all[i].follow(tx, today, last); err != nil {
			return nil, err
		}
	}
	return all, nil
}

func readFile(tx *store.DB, f BankFile, tables Tables) ([]statement, error) {
	if bank.IsCamt(f.Content) {
		read, err := bank.ReadCamt(f.Content)
		all := []statement{}
		for _, s := range read {
			account, err := accountOf(tx, &s, f.AccountID)
			if err != nil {
				return nil, err
			}
			all = append(all, statementOf(s, account, f.Name))
		}
		return all, err
	}
	account, err := store.Get[store.BankAccount](tx, f.AccountID)
	if err := app.Found(err, app.Refuse(app.Invalid,
		"A CSV file does not say of which account it is: choose the account first.")); err != nil {
		return nil, err
	}
	table, err := tableOf(tx, f.Content, tables)
	if err != nil {
		return nil, err
	}
	s, err := bank.ReadTable(table, bank.Columns{Day: account.DayColumn, Amount: account.AmountColumn, Came: account.CameColumn,
		Went: account.WentColumn, Text: account.TextColumn, Party: account.PartyColumn, PartyAccount: account.PartyAccountColumn,
		Reference: account.ReferenceColumn,
		Balance:   account.BalanceColumn}, account.Currency, 0)
	if err != nil {
		return nil, err
	}
	s.Number = fmt.Sprintf("%s to %s", s.From, s.To)
	one := statementOf(*s, account, f.Name)
	one.relative = account.BalanceColumn == ""
	return []statement{one}, nil
}

// tableOf is a CSV file, whose numbers are written as the firm writes them.
func tableOf(tx *store.DB, content []byte, tables Tables) (t bank.Table, err error) {
	firm, err := store.TheFirm(tx)
	if err != nil {
		return t, err
	}
	point := false
	if t.Header, t.Rows, point, err = tables(content); err != nil {
		return t, err
	}
	if t.Mark = firm.Mark(); point {
		t.Mark = money.Point
	}
	return t, nil
}

// accountOf is the account that a statement names.
func accountOf(tx *store.DB, s *bank.Statement, chosen int64) (*store.BankAccount, error) {
	account, err := store.AccountOfNumber(tx, s.Account)
	if err == nil && account == nil && chosen != 0 {
		account, err = store.Get[store.BankAccount](tx, chosen)
		if err == nil && account.IBAN != "" {
			err = app.Refuse(app.Invalid, "It is of the account %s, not of %s: choose the other account.", s.Account, account.Name)
		}
	}
	if err == nil && account == nil {
		err = app.Refuse(app.Invalid, "It is of the account %s, which is none of the firm's: add it under Set-up, Bank accounts.", s.Account)
	}
	if err == nil && account.Currency != s.Currency {
		err = app.Refuse(app.Invalid, "It is in %s, but the account %s is in %s: correct the account under Set-up.", s.Currency, account.Name,
			account.Currency)
	}
	return account, err
}

func statementOf(s bank.Statement, account *store.BankAccount, file string) statement {
	return statement{said: s, account: account, keys: s.Keys(), found: FoundStatement{File: safetext.FileName(file), AccountID: account.ID,
		Account: account.Name, Number: s.Number, From: s.From, To: s.To, Entries: len(s.Entries)}}
}

// follow sees which entries are new, and that they go on where the last statement ended.
func (s *statement) follow(tx *store.DB, today day.Day, last map[int64]*store.BankStatement) error {
	if s.found.Problem != "" {
		return nil
	}
	before, read := last[s.account.ID]
	if !read {
		var err error
		if before, err = store.LastStatement(tx, s.account.ID); err != nil {
			return err
		}
	}
	if err := s.findNew(tx, before); err != nil {
		return err
	}
	switch {
	case s.lastDay() > today:
		s.found.Problem = fmt.Sprintf("It goes to %s, which is still to come: fetch it again then.", s.lastDay().Long())
	case s.found.New > 0 && before != nil:
		if err := s.said.Follows(before.ToDay, before.Closing); err != nil {
			s.found.Problem = app.AsConflict(err).Error()
		}
	}
	if s.found.Problem == "" && s.found.New > 0 {
		last[s.account.ID] = &store.BankStatement{ToDay: s.said.To, Closing: s.said.Closing}
	}
	return nil
}

// lastDay is the last day that a statement speaks of.
func (s *statement) lastDay() day.Day {
	last := s.said.To
	for i := range s.said.Entries {
		last = max(last, s.said.Entries[i].Booked)
	}
	return last
}

// findNew finds the entries that are not there yet: the statement is of these, and opens after those that are.
func (s *statement) findNew(tx *store.DB, before *store.BankStatement) error {
	known, err := store.KnownEntries(tx, s.account.ID, s.keys)
	if err != nil {
		return err
	}
	sum := int64(0)
	for i, key := range s.keys {
		if known[key] {
			s.said.Opening += s.said.Entries[i].Minor
			continue
		}
		s.news, sum = append(s.news, i), sum+s.said.Entries[i].Minor
	}
	if s.relative {
		if s.said.Opening = 0; before != nil {
			s.said.Opening = before.Closing
		}
		s.said.Closing = s.said.Opening + sum
	}
	amount := func(minor int64) money.Amount { return money.Amount{Minor: minor, Currency: s.said.Currency} }
	s.found.New, s.found.Opening, s.found.Closing = len(s.news), amount(s.said.Opening), amount(s.said.Closing)
	return nil
}

// keep stores a statement with the entries that are not there yet.
func (s *statement) keep(tx *app.Tx) error {
	row := &store.BankStatement{AccountID: s.account.ID, EntityID: s.account.EntityID, Number: s.said.Number, FromDay: s.said.From,
		ToDay: s.said.To, Opening: s.said.Opening, Closing: s.said.Closing, Currency: s.said.Currency,
		FileName: s.found.File, ActID: tx.ActID, ReadAt: tx.Now}
	if err := store.Insert(tx.DB, row); err != nil {
		return err
	}
	entries := []store.BankEntry{}
	for _, at := range s.news {
		e := &s.said.Entries[at]
		entries = append(entries, store.BankEntry{StatementID: row.ID, AccountID: row.AccountID, EntityID: row.EntityID, Key: s.keys[at],
			BookedDay: e.Booked, ValueDay: e.Value, Amount: e.Minor, Currency: row.Currency, Creditor: e.Creditor, EndToEnd: e.EndToEnd,
			Text: e.Text, Party: e.Party, PartyAccount: e.PartyAccount, Returned: e.Returned, Reason: e.Reason, State: store.EntryOpen})
	}
	tx.LinkTo("bank-accounts", row.AccountID)
	return store.Insert(tx.DB, entries)
}
