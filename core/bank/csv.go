package bank

import (
	"fmt"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/core/refusal"
	"dorvet/core/safetext"
)

// Columns say under which heads a bank writes what, in its CSV files. Amounts stand in one column, or what came and what went in two.
type Columns struct {
	Day, Amount, Came, Went, Text, Party, PartyAccount, Reference, Balance string
}

// Table is a file of rows under heads, with how it writes numbers and days.
type Table struct {
	Header []string
	Rows   [][]string
	Mark   money.Mark
}

// ReadTable reads the entries of a CSV file, whichever end of them is the newest. Where it says balances they tell how it opens and closes,
// and must agree with the entries between; else it goes on from the balance before it.
func ReadTable(t Table, c Columns, in money.Currency, before int64) (*Statement, error) {
	r, err := newTableReader(t, c, in)
	if err != nil {
		return nil, err
	}
	s := &Statement{Currency: in}
	balances := []int64{}
	r.dayFirst, r.orderKnown = orderOfDays(t.Rows, r.at("day"))
	for i, row := range t.Rows {
		e, balance, err := r.entry(row)
		if err != nil {
			return nil, refusal.Errorf("row %d: %s", i+2, err)
		}
		s.Entries, balances = append(s.Entries, *e), append(balances, balance)
	}
	if len(s.Entries) == 0 {
		return nil, refusal.Errorf("no entry is in it")
	}
	if newestFirst(s.Entries, balances, r.at("balance") >= 0) {
		slices.Reverse(s.Entries)
		slices.Reverse(balances)
	}
	s.From, s.To = s.Entries[0].Booked, s.Entries[len(s.Entries)-1].Booked
	s.Opening = before
	if r.at("balance") >= 0 {
		s.Opening, s.Closing = balances[0]-s.Entries[0].Minor, balances[len(balances)-1]
		return s, s.Check()
	}
	s.Closing = before
	for i := range s.Entries {
		s.Closing += s.Entries[i].Minor
	}
	return s, s.Check()
}

// newestFirst reports whether a file begins with its last entry. Where all are of one day, only balances can tell.
func newestFirst(entries []Entry, balances []int64, told bool) bool {
	first, last := entries[0].Booked, entries[len(entries)-1].Booked
	if first != last || !told || len(entries) == 1 {
		return first > last
	}
	return balances[0] != balances[1]-entries[1].Minor
}

type tableReader struct {
	columns  map[string]int // -1: there is none
	mark     money.Mark
	currency money.Currency

	dayFirst, orderKnown bool // of days with a slash
}

func newTableReader(t Table, c Columns, in money.Currency) (*tableReader, error) {
	r := &tableReader{columns: map[string]int{}, mark: t.Mark, currency: in}
	for name, head := range map[string]string{"day": c.Day, "amount": c.Amount, "came": c.Came, "went": c.Went, "text": c.Text,
		"party": c.Party, "account": c.PartyAccount, "reference": c.Reference, "balance": c.Balance} {
		at := slices.IndexFunc(t.Header, func(h string) bool { return strings.EqualFold(strings.TrimSpace(h), strings.TrimSpace(head)) })
		if strings.TrimSpace(head) == "" {
			at = -1
		} else if at < 0 {
			return nil, refusal.Errorf("no column is headed %q: it has %s. Say under Set-up, Bank accounts, which column is which", head,
				strings.Join(t.Header, ", "))
		}
		r.columns[name] = at
	}
	switch {
	case r.at("day") < 0:
		return nil, refusal.Errorf("it is not said which column has the day: say it under Set-up, Bank accounts")
	case r.at("amount") < 0 && (r.at("came") < 0 || r.at("went") < 0):
		return nil, refusal.Errorf("it is not said which column has the amount, or which two what came and what went: say it " +
			"under Set-up, Bank accounts")
	}
	return r, nil
}

func (r *tableReader) at(name string) int { return r.columns[name] }

func (r *tableReader) cell(row []string, name string) string {
	if at := r.at(name); at >= 0 && at < len(row) {
		return said(row[at], safetext.MostOfLine)
	}
	return ""
}

func (r *tableReader) entry(row []string) (e *Entry, balance int64, err error) {
	e = &Entry{Text: r.cell(row, "text"), Party: name(r.cell(row, "party")), PartyAccount: name(Compact(r.cell(row, "account"))),
		Reference: name(r.cell(row, "reference"))}
	if e.Booked, err = r.day(r.cell(row, "day")); err != nil {
		return nil, 0, err
	}
	e.Value = e.Booked
	if r.at("amount") >= 0 {
		e.Minor, err = r.minor(row, "amount")
	} else {
		var came, went int64
		if came, err = r.minor(row, "came"); err == nil {
			went, err = r.minor(row, "went")
		}
		e.Minor = came - max(went, -went) // banks write what went with a minus or without
	}
	if err != nil {
		return nil, 0, err
	}
	if r.at("balance") >= 0 {
		balance, err = r.minor(row, "balance")
	}
	return e, balance, err
}

var slashed = regexp.MustCompile(`^(\d{1,2})/(\d{1,2})/(\d{4})$`)

// orderOfDays says whether days with a slash begin with the day, where one of them can only be read in one way: all of a file are alike.
func orderOfDays(rows [][]string, at int) (dayFirst, known bool) {
	for _, row := range rows {
		if at >= len(row) {
			continue
		}
		found := slashed.FindStringSubmatch(strings.TrimSpace(row[at]))
		switch {
		case found == nil:
		case len(found[1]) == 2 && found[1] > "12":
			return true, true
		case len(found[2]) == 2 && found[2] > "12":
			return false, true
		}
	}
	return false, false
}

// day reads a day; with a slash by the order of its file.
func (r *tableReader) day(text string) (day.Day, error) {
	found := slashed.FindStringSubmatch(text)
	if found == nil || !r.orderKnown {
		return day.ParseTyped(text, 0)
	}
	if r.dayFirst {
		found[1], found[2] = found[2], found[1]
	}
	month, _ := strconv.Atoi(found[1]) // digits, as they were found
	of, _ := strconv.Atoi(found[2])
	return day.Parse(fmt.Sprintf("%s-%02d-%02d", found[3], month, of))
}

// minor reads an amount; an empty cell is nothing.
func (r *tableReader) minor(row []string, name string) (int64, error) {
	text := strings.TrimPrefix(r.cell(row, name), "+")
	if text == "" {
		return 0, nil
	}
	decimals, err := r.currency.Decimals()
	if err != nil {
		return 0, err
	}
	return money.ParseFixed(text, r.mark, decimals)
}
