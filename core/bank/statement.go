// Package bank knows what a bank says of an account, and what each entry of it pays.
//
// A statement must add up and begin where the last one ended: else something is missing between them, and it is refused with the
// difference. An entry is known by the bank's own reference, or where it has none by a digest of what it says, so that the same file read
// twice adds nothing.
//
//	opening 100.00, entries 50.00 and −20.00, closing 130.00: adds up
//	the next one begins with 140.00: 10.00 are missing between the two
package bank

import (
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"strings"

	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/core/refusal"
	"dorvet/core/safetext"
)

// Entry is one movement on an account.
type Entry struct {
	Reference     string // the bank's own; nothing where it gives none
	Booked, Value day.Day
	Minor         int64  // minor units of the statement's currency; negative: it went out
	Creditor      string // the creditor reference (ISO 11649) that the payer gave
	EndToEnd      string // the payer's own reference
	Text          string // what the payer wrote
	Party         string // who paid, or was paid
	PartyAccount  string
	Returned      bool   // what was taken or sent before came back
	Reason        string // why, as the bank says it
}

// Statement is what a bank says of one account from one day to another.
type Statement struct {
	Account          string // IBAN, or the bank's own number, without spaces; nothing where a file does not say
	Currency         money.Currency
	Number           string
	From, To         day.Day
	Opening, Closing int64 // minor units
	Entries          []Entry
}

// Check refuses a statement that does not add up, or that is of nothing.
func (s *Statement) Check() error {
	if _, err := s.Currency.Decimals(); err != nil {
		return err
	}
	sum := s.amount(s.Opening)
	for i := range s.Entries {
		e := &s.Entries[i]
		if err := e.Booked.Within(); err != nil {
			return err
		}
		if err := s.amount(e.Minor).Within(); err != nil {
			return err
		}
		var err error
		if sum, err = sum.Add(s.amount(e.Minor)); err != nil {
			return err
		}
	}
	if sum.Minor != s.Closing {
		return refusal.Errorf("it does not add up: %s at first and %d entries make %s, but it ends with %s, %s apart. "+
			"Fetch it from the bank again", s.amount(s.Opening), len(s.Entries), sum, s.amount(s.Closing), s.amount(s.Closing-sum.Minor))
	}
	return nil
}

// Follows refuses a statement that does not begin where the last one ended, on a day and with a balance.
func (s *Statement) Follows(ended day.Day, closing int64) error {
	if s.Opening == closing {
		return nil
	}
	return refusal.Errorf("it begins with %s, but the one before ended on %s with %s, %s apart: a statement between the two is missing",
		s.amount(s.Opening), ended.Long(), s.amount(closing), s.amount(s.Opening-closing))
}

func (s *Statement) amount(minor int64) money.Amount {
	return money.Amount{Minor: minor, Currency: s.Currency}
}

// Keys are by what each entry is known on its account: the bank's reference, else a digest of what it says. Of several that say the same
// the first, the second … are told apart.
func (s *Statement) Keys() []string {
	keys, seen := make([]string, len(s.Entries)), map[string]int{}
	for i := range s.Entries {
		key := s.Entries[i].key()
		seen[key]++
		if n := seen[key]; n > 1 {
			key = fmt.Sprintf("%s/%d", key, n)
		}
		keys[i] = key
	}
	return keys
}

func (e *Entry) key() string {
	if e.Reference != "" {
		return fmt.Sprintf("%s %d", e.Reference, e.Minor)
	}
	said := strings.Join([]string{e.Booked.String(), fmt.Sprint(e.Minor), e.Creditor, e.EndToEnd, e.Text, e.Party, e.PartyAccount}, "\x00")
	sum := sha256.Sum256([]byte(said))
	return hex.EncodeToString(sum[:])
}

// said is a text of a bank's, of one line and no longer than its kind may be: what is longer is cut.
func said(text string, most int) string {
	letters := []rune(safetext.Line(text))
	return string(letters[:min(len(letters), most)])
}

func name(text string) string { return said(text, safetext.MostOfName) }

// Compact is an account without spaces, in capitals.
func Compact(account string) string {
	return strings.ToUpper(strings.Join(strings.Fields(account), ""))
}
