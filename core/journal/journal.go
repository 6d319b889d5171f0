// Package journal turns movements of money into entries of double-entry
// bookkeeping: what moves into a bucket is debited to its account, what moves out
// of one is credited. In each entry, debits and credits are the same.
//
// Revenue and tax are posted in parts: revenue by what was charged for, discounts
// and surcharges by themselves, tax by its code. The parts add up to what moved.
package journal

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"dorvet/core/invoice"
	"dorvet/core/money"
)

// Buckets of the money ledger that are posted in parts, and the one that is not
// posted at all: what passes through it leaves nothing there.
const (
	Revenue = "revenue"
	Tax     = "tax_payable"
	passing = "issued"
)

// TaxOf is the posting of a tax code.
func TaxOf(code string) string { return "tax " + code }

// TaxCode is the tax code of a posting of tax; nothing of any other.
func TaxCode(posting string) (code string, isTax bool) {
	if code, isTax = strings.CutPrefix(posting, "tax "); !isTax {
		return "", false
	}
	return code, true
}

// Movement is money that moved between two buckets, in its currency and in the
// firm's, in minor units.
type Movement struct {
	From, To     string
	Amount, Firm int64
}

// Part is a share of revenue or tax.
type Part struct {
	Posting string
	Amount  int64 // minor units of the invoice's currency
}

// Parts are in what parts an invoice posts its revenue and its tax.
type Parts struct{ Revenue, Tax []Part }

// Line is one posting: a debit where Firm is positive, a credit where negative.
type Line struct {
	Posting      string
	Amount, Firm int64
}

// PartsOf are the parts of a document: by kind of line, before discount and
// surcharge, which are parts of their own; and by tax code. Advances are no revenue.
func PartsOf(doc *invoice.Document) Parts {
	p, sums := Parts{}, map[string]int64{}
	order := []string{}
	add := func(posting string, minor int64) {
		if _, known := sums[posting]; !known {
			order = append(order, posting)
		}
		sums[posting] += minor
	}
	for i, b := range doc.Billed {
		if b.Kind == invoice.Advance {
			continue
		}
		add(string(b.Kind), b.Amount.Minor)
		if i < len(doc.Totals.Shares) {
			add("discount", -doc.Totals.Shares[i].Discount)
			add("surcharge", doc.Totals.Shares[i].Surcharge)
		}
	}
	for _, posting := range order {
		if sums[posting] != 0 {
			p.Revenue = append(p.Revenue, Part{posting, sums[posting]})
		}
	}
	for _, code := range doc.Totals.Taxes {
		for _, part := range code.Parts {
			if part.Tax.Minor != 0 {
				p.Tax = append(p.Tax, Part{TaxOf(code.Code), part.Tax.Minor})
			}
		}
	}
	return p
}

// Enter makes the lines of one entry. It is an error if they do not balance, which
// movements always do.
func Enter(movements []Movement, parts Parts) ([]Line, error) {
	lines := map[string]*Line{}
	post := func(posting string, amount, firm int64) {
		if lines[posting] == nil {
			lines[posting] = &Line{Posting: posting}
		}
		lines[posting].Amount += amount
		lines[posting].Firm += firm
	}
	for _, m := range movements {
		for _, side := range []struct {
			bucket string
			sign   int64
		}{{m.To, 1}, {m.From, -1}} {
			split, err := shared(side.bucket, m, parts)
			if err != nil {
				return nil, err
			}
			for _, s := range split {
				post(s.Posting, side.sign*s.Amount, side.sign*s.Firm)
			}
		}
	}
	list, balance := []Line{}, int64(0)
	for _, l := range lines {
		balance += l.Firm
		if l.Amount != 0 || l.Firm != 0 {
			list = append(list, *l)
		}
	}
	if balance != 0 {
		return nil, fmt.Errorf("an entry is out of balance by %d", balance)
	}
	slices.SortFunc(list, func(a, b Line) int { // debits first
		return cmp.Or(cmp.Compare(sign(b.Firm), sign(a.Firm)), cmp.Compare(a.Posting, b.Posting))
	})
	// What only passes through is left out unless something of it stays.
	return slices.DeleteFunc(list, func(l Line) bool { return l.Posting == passing && l.Firm == 0 }), nil
}

func sign(n int64) int { return cmp.Compare(n, 0) }

// shared is a movement on one side, in parts where the bucket has some. In the firm's
// currency each part is converted by itself, and what rounding leaves goes to the
// largest.
func shared(bucket string, m Movement, parts Parts) ([]Line, error) {
	list := map[string][]Part{Revenue: parts.Revenue, Tax: parts.Tax}[bucket]
	whole, largest := int64(0), 0
	for i, p := range list {
		whole += p.Amount
		if abs(p.Amount) > abs(list[largest].Amount) {
			largest = i
		}
	}
	switch {
	case len(list) == 0 && bucket == Revenue:
		return []Line{{string(invoice.ByHand), m.Amount, m.Firm}}, nil // issued before its parts were kept
	case len(list) == 0 || whole != m.Amount || whole == 0:
		if len(list) > 0 && whole != m.Amount {
			return []Line{{list[largest].Posting, m.Amount, m.Firm}}, nil // a correction of the whole
		}
		return []Line{{bucket, m.Amount, m.Firm}}, nil
	}
	lines, left := make([]Line, len(list)), m.Firm
	for i, p := range list {
		firm, err := money.MulDiv(m.Firm, p.Amount, whole)
		if err != nil {
			return nil, err
		}
		lines[i] = Line{p.Posting, p.Amount, firm}
		left -= firm
	}
	lines[largest].Firm += left
	return lines, nil
}

func abs(n int64) int64 { return max(n, -n) }
