package bank

import (
	"bytes"
	"cmp"
	"encoding/xml"
	"fmt"
	"io"
	"strings"

	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/core/refusal"
	"dorvet/core/safetext"
)

// ReadCamt reads the statements of a file in ISO 20022 camt.053, bank to customer statement. Its versions differ in their namespace and in
// where they put a few elements; all are read. Only what is booked counts.
func ReadCamt(content []byte) ([]Statement, error) {
	file := camtFile{}
	decoder := xml.NewDecoder(bytes.NewReader(content))
	decoder.CharsetReader = func(charset string, _ io.Reader) (io.Reader, error) {
		return nil, refusal.Errorf("it is written in %s: ask the bank for one in UTF-8", charset)
	}
	if err := decoder.Decode(&file); err != nil {
		if refusal.Is(err) {
			return nil, err
		}
		return nil, refusal.Errorf("it can't be read as a statement: %s", err)
	}
	if !strings.Contains(file.XMLName.Space, ":camt.053.") {
		return nil, refusal.Errorf("it is %q: a statement of an account is of the kind camt.053", file.XMLName.Space)
	}
	statements := []Statement{}
	for i := range file.Statements {
		s, err := file.Statements[i].statement()
		if err != nil {
			return nil, fmt.Errorf("statement %d: %w", i+1, err)
		}
		statements = append(statements, *s)
	}
	if len(statements) == 0 {
		return nil, refusal.Errorf("no statement is in it")
	}
	return statements, nil
}

// IsCamt reports whether a file may be a camt message: it is XML.
func IsCamt(content []byte) bool {
	return bytes.HasPrefix(bytes.TrimLeft(bytes.TrimPrefix(content, []byte("\ufeff")), " \t\r\n"), []byte("<"))
}

// What of a message is read, by the names of the standard.
type camtFile struct {
	XMLName    xml.Name
	Statements []camtStatement `xml:"BkToCstmrStmt>Stmt"`
}

type camtStatement struct {
	ID       string        `xml:"Id"`
	Sequence string        `xml:"ElctrncSeqNb"`
	From     string        `xml:"FrToDt>FrDtTm"`
	To       string        `xml:"FrToDt>ToDtTm"`
	Account  camtAccount   `xml:"Acct"`
	Balances []camtBalance `xml:"Bal"`
	Entries  []camtEntry   `xml:"Ntry"`
}

type camtAccount struct {
	IBAN     string `xml:"Id>IBAN"`
	Other    string `xml:"Id>Othr>Id"`
	Currency string `xml:"Ccy"`
}

func (a camtAccount) number() string {
	if a.IBAN != "" {
		return Compact(a.IBAN)
	}
	return Compact(a.Other)
}

type camtAmount struct {
	Text     string `xml:",chardata"`
	Currency string `xml:"Ccy,attr"`
}

type camtBalance struct {
	Code   string     `xml:"Tp>CdOrPrtry>Cd"`
	Amount camtAmount `xml:"Amt"`
	Sign   string     `xml:"CdtDbtInd"`
	On     camtDay    `xml:"Dt"`
}

type camtDay struct {
	Day     string `xml:"Dt"`
	Instant string `xml:"DtTm"`
}

func (d camtDay) day() (day.Day, error) { return camtDate(d.Day + d.Instant) }

// camtDate is the day of a date or an instant, as it is written there.
func camtDate(text string) (day.Day, error) {
	text = strings.TrimSpace(text)
	return day.Parse(text[:min(len(text), len("2026-11-30"))])
}

type camtEntry struct {
	Amount   camtAmount   `xml:"Amt"`
	Sign     string       `xml:"CdtDbtInd"`
	Reversal bool         `xml:"RvslInd"`
	State    camtState    `xml:"Sts"`
	Booked   camtDay      `xml:"BookgDt"`
	Value    camtDay      `xml:"ValDt"`
	BankRef  string       `xml:"AcctSvcrRef"`
	More     string       `xml:"AddtlNtryInf"`
	Details  []camtDetail `xml:"NtryDtls>TxDtls"`
}

type camtState struct {
	Text string `xml:",chardata"`
	Code string `xml:"Cd"` // from version 8 on
}

type camtDetail struct {
	EndToEnd   string      `xml:"Refs>EndToEndId"`
	BankRef    string      `xml:"Refs>AcctSvcrRef"`
	Amount     camtAmount  `xml:"Amt"`
	Amount2    camtAmount  `xml:"AmtDtls>TxAmt>Amt"` // in version 2
	Sign       string      `xml:"CdtDbtInd"`
	Debtor     string      `xml:"RltdPties>Dbtr>Nm"`
	Debtor8    string      `xml:"RltdPties>Dbtr>Pty>Nm"`
	DebtorAt   camtAccount `xml:"RltdPties>DbtrAcct"`
	Payee      string      `xml:"RltdPties>Cdtr>Nm"`
	Payee8     string      `xml:"RltdPties>Cdtr>Pty>Nm"`
	PayeeAt    camtAccount `xml:"RltdPties>CdtrAcct"`
	Texts      []string    `xml:"RmtInf>Ustrd"`
	Creditors  []string    `xml:"RmtInf>Strd>CdtrRefInf>Ref"`
	Reason     string      `xml:"RtrInf>Rsn>Cd"`
	ReasonMore []string    `xml:"RtrInf>AddtlInf"`
}

func (c *camtStatement) statement() (*Statement, error) {
	s := &Statement{Account: c.Account.number(), Currency: money.Currency(strings.TrimSpace(c.Account.Currency)),
		Number: cmp.Or(name(c.Sequence), name(c.ID))}
	if err := s.addBalances(c.Balances); err != nil {
		return nil, err
	}
	for i := range c.Entries {
		e := &c.Entries[i]
		if state := strings.TrimSpace(e.State.Text + e.State.Code); state != "BOOK" {
			continue
		}
		entries, err := e.entries(s.Currency)
		if err != nil {
			return nil, fmt.Errorf("entry %d: %w", i+1, err)
		}
		s.Entries = append(s.Entries, entries...)
	}
	for _, bound := range []struct {
		text string
		to   *day.Day
	}{{c.From, &s.From}, {c.To, &s.To}} {
		if bound.text == "" {
			continue
		}
		var err error
		if *bound.to, err = camtDate(bound.text); err != nil {
			return nil, err
		}
	}
	return s, s.Check()
}

// addBalances takes the opening and the closing balance; of several pages of one day the first and the last.
func (s *Statement) addBalances(balances []camtBalance) error {
	opened, closed := false, false
	for _, b := range balances {
		opens, closes := b.Code == "OPBD" || b.Code == "PRCD", b.Code == "CLBD"
		if !opens && !closes {
			continue
		}
		if s.Currency == "" {
			s.Currency = money.Currency(b.Amount.Currency)
		}
		minor, err := b.Amount.minor(s.Currency, b.Sign)
		if err != nil {
			return err
		}
		on, err := b.On.day()
		if err != nil {
			return err
		}
		switch {
		case opens && !opened:
			s.Opening, s.From, opened = minor, on, true
		case closes:
			s.Closing, s.To, closed = minor, on, true
		}
	}
	if !opened || !closed {
		return refusal.Errorf("it lacks its opening (OPBD) or closing (CLBD) balance: fetch the booked statement, not the report of the day")
	}
	return nil
}

// minor is an amount with its sign, in minor units of the account's currency.
func (a camtAmount) minor(in money.Currency, sign string) (int64, error) {
	if a.Currency != "" && money.Currency(a.Currency) != in {
		return 0, refusal.Errorf("%s %s is on an account in %s", strings.TrimSpace(a.Text), a.Currency, in)
	}
	decimals, err := in.Decimals()
	if err != nil {
		return 0, err
	}
	minor, err := money.ParseFixed(strings.TrimSpace(a.Text), money.Point, decimals)
	if err != nil {
		return 0, err
	}
	switch strings.TrimSpace(sign) {
	case "CRDT":
		return minor, nil
	case "DBIT":
		return -minor, nil
	}
	return 0, refusal.Errorf("%q is neither credit (CRDT) nor debit (DBIT)", sign)
}

// entries are what one entry of a statement is of: several, where the bank booked a batch and says what was in it.
func (e *camtEntry) entries(in money.Currency) ([]Entry, error) {
	minor, err := e.Amount.minor(in, e.Sign)
	if err != nil {
		return nil, err
	}
	whole := Entry{Reference: name(e.BankRef), Minor: minor, Text: said(e.More, safetext.MostOfLine), Returned: e.Reversal}
	if whole.Booked, err = e.Booked.day(); err != nil {
		return nil, err
	}
	if whole.Value, err = e.Value.day(); err != nil {
		whole.Value = whole.Booked // it may be left out
	}
	if len(e.Details) == 1 {
		return []Entry{e.Details[0].on(whole)}, nil
	}
	entries, sum := []Entry{}, int64(0)
	for i := range e.Details {
		d := &e.Details[i]
		part, own := d.on(whole), d.Amount
		if own.Text == "" {
			own = d.Amount2
		}
		sign := d.Sign
		if sign == "" {
			sign = e.Sign
		}
		if part.Minor, err = own.minor(in, sign); err != nil {
			return []Entry{whole}, nil // in another currency, or not said: the batch stays one
		}
		if d.BankRef == "" && part.Reference != "" {
			part.Reference = fmt.Sprintf("%s-%d", part.Reference, i+1)
		}
		entries, sum = append(entries, part), sum+part.Minor
	}
	if len(entries) == 0 || sum != minor {
		return []Entry{whole}, nil
	}
	return entries, nil
}

// on is an entry with what its details say.
func (d *camtDetail) on(e Entry) Entry {
	if d.BankRef != "" {
		e.Reference = name(d.BankRef)
	}
	e.Party, e.PartyAccount = d.Debtor+d.Debtor8, d.DebtorAt.number()
	if e.Minor < 0 {
		e.Party, e.PartyAccount = d.Payee+d.Payee8, d.PayeeAt.number()
	}
	e.Party, e.PartyAccount = name(e.Party), name(e.PartyAccount)
	if text := said(strings.Join(d.Texts, " "), safetext.MostOfLine); text != "" {
		e.Text = text
	}
	if len(d.Creditors) > 0 {
		e.Creditor = name(Compact(d.Creditors[0]))
	}
	if end := name(d.EndToEnd); end != "NOTPROVIDED" {
		e.EndToEnd = end
	}
	if d.Reason != "" {
		e.Returned, e.Reason = true, name(strings.Join(append([]string{d.Reason}, d.ReasonMore...), " "))
	}
	return e
}
