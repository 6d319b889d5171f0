package journal_test

import (
	"math/rand/v2"
	"testing"

	"dorvet/core/invoice"
	"dorvet/core/journal"
	"dorvet/core/money"
	"dorvet/core/tax"
)

func eur(minor int64) money.Amount { return money.Amount{Minor: minor, Currency: "EUR"} }

// sample is an invoice with fees of 1,000.00, expenses of 100.00, a discount of 10 %,
// a surcharge of 4 % and VAT at 23 %.
func sample(t testing.TB) *invoice.Document {
	t.Helper()
	lines := []invoice.Line{{Kind: invoice.Time, TaxCode: "S", Amount: eur(100_000)},
		{Kind: invoice.Expense, TaxCode: "S", Amount: eur(10_000)}}
	totals, err := invoice.Compute(invoice.Asked{Currency: "EUR", TaxDate: 1, Lines: lines, Discount: invoice.Discount{Percent: 10_0000},
		Surcharge: 4_0000,
		Codes:     map[string]tax.Code{"S": {Code: "S", Name: "VAT", Rates: []tax.Dated{{From: 1, Percent: 23_0000}}}}})
	if err != nil {
		t.Fatal(err)
	}
	return &invoice.Document{Totals: totals, Billed: []invoice.Billed{{Kind: invoice.Time, Amount: eur(100_000), TaxCode: "S"},
		{Kind: invoice.Expense, Amount: eur(10_000), TaxCode: "S"}}}
}

// Source: double-entry bookkeeping of a sale with tax, common practice: receivables
// are debited with the gross amount, revenue and tax payable are credited.
func TestAnIssuedInvoiceDebitsWhatIsOwedAndCreditsWhatWasEarned(t *testing.T) {
	doc := sample(t)
	net, vat := doc.Totals.Net.Minor, doc.Totals.Tax.Minor
	lines, err := journal.Enter([]journal.Movement{{From: "revenue", To: "issued", Amount: net, Firm: net},
		{From: "tax_payable", To: "issued", Amount: vat, Firm: vat},
		{From: "issued", To: "receivable", Amount: net + vat, Firm: net + vat}}, journal.PartsOf(doc))
	if err != nil {
		t.Fatal(err)
	}
	// 1,000.00 + 100.00 − 110.00 + 36.00 (4 % of 900.00) = 1,026.00; VAT 235.98.
	want := []journal.Line{{"discount", 11_000, 11_000}, {"receivable", 126_198, 126_198}, {"expense", -10_000, -10_000},
		{"surcharge", -3_600, -3_600}, {"tax S", -23_598, -23_598}, {"time", -100_000, -100_000}}
	if len(lines) != len(want) {
		t.Fatalf("%+v", lines)
	}
	for i := range want {
		if lines[i] != want[i] {
			t.Errorf("line %d: %+v, not %+v", i, lines[i], want[i])
		}
	}
}

// Source: common practice: money received debits the bank and credits receivables;
// what another rate makes of it is a difference of exchange.
func TestAPaymentDebitsTheBank(t *testing.T) {
	lines, err := journal.Enter([]journal.Movement{{From: "receivable", To: "bank", Amount: 10_000, Firm: 9_000},
		{From: "bank", To: "exchange", Firm: 300}}, journal.Parts{})
	if err != nil {
		t.Fatal(err)
	}
	got := map[string]int64{}
	for _, l := range lines {
		got[l.Posting] = l.Firm
	}
	if got["bank"] != 8_700 || got["receivable"] != -9_000 || got["exchange"] != 300 {
		t.Errorf("%+v", lines)
	}
}

func TestAnInvoiceOfBeforeItsPartsWereKeptIsPostedWhole(t *testing.T) {
	lines, err := journal.Enter([]journal.Movement{{From: "revenue", To: "issued", Amount: 500, Firm: 500},
		{From: "issued", To: "receivable", Amount: 500, Firm: 500}}, journal.Parts{})
	if err != nil || len(lines) != 2 || lines[1] != (journal.Line{Posting: "by_hand", Amount: -500, Firm: -500}) {
		t.Errorf("%+v, %v", lines, err)
	}
}

// Whatever moves, at whatever rate: debits are credits, and the parts of revenue are
// what moved.
func TestEveryEntryBalances(t *testing.T) {
	doc, random := sample(t), rand.New(rand.NewPCG(8, 8))
	buckets := []string{"revenue", "tax_payable", "issued", "receivable", "bank", "funds", "credit"}
	for range 5000 {
		movements := []journal.Movement{}
		for range 1 + random.IntN(5) {
			amount := random.Int64N(2_000_000) - 1_000_000
			if random.IntN(2) == 0 {
				amount = doc.Totals.Net.Minor
			}
			movements = append(movements, journal.Movement{From: buckets[random.IntN(len(buckets))], To: buckets[random.IntN(len(buckets))],
				Amount: amount, Firm: amount * (50 + random.Int64N(100)) / 97})
		}
		lines, err := journal.Enter(movements, journal.PartsOf(doc))
		if err != nil {
			t.Fatalf("%+v: %v", movements, err)
		}
		debit, credit, revenue, moved := int64(0), int64(0), int64(0), int64(0)
		for _, l := range lines {
			if l.Firm > 0 {
				debit += l.Firm
			} else {
				credit -= l.Firm
			}
			switch l.Posting {
			case "time", "expense", "discount", "surcharge":
				revenue += l.Firm
			}
		}
		for _, m := range movements {
			if m.To == "revenue" {
				moved += m.Firm
			}
			if m.From == "revenue" {
				moved -= m.Firm
			}
		}
		if debit != credit || revenue != moved {
			t.Fatalf("%+v gives %+v: debit %d, credit %d, revenue %d of %d", movements, lines, debit, credit, revenue, moved)
		}
	}
}
