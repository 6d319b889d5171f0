package bank

import (
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"

	"dorvet/core/paymentmethod"
)

// finder knows four invoices of Alder (one in three instalments) and two of Birch.
func finder() *Finder {
	open := func(id, client int64, number string, parts ...int64) Open {
		return Open{InvoiceID: id, ClientID: client, Number: number, Reference: paymentmethod.Reference(number), Parts: parts}
	}
	return NewFinder("EUR", []Open{open(1, 1, "SC1041", 100_00), open(2, 1, "SC1042", 50_00, 50_00, 25_00), open(3, 1, "SC1043", 70_00),
		open(4, 1, "SC1044", 70_00), open(5, 2, "SC1045", 100_00), open(6, 2, "SC1046", 31_00), open(7, 3, "7", 40_00)},
		[]Payer{{1, []string{"Alder Ltd"}, []string{"DE1"}}, {2, []string{"Birch & Sons"}, []string{"DE2", "DE9"}},
			{3, []string{"Cedarwood"}, []string{"DE9"}}})
}

// Source: rules of the trade as this program has them (what is certain, likely, perhaps); ISO 11649 for the references.
func TestWhatAnEntryPays(t *testing.T) {
	for _, c := range []struct {
		name  string
		entry Entry
		want  string // sureness, client, invoices and amounts of the first
	}{
		{"the reference and all of it", Entry{Minor: 100_00, Creditor: paymentmethod.Reference("SC1041")}, "certain 1 1:10000"},
		{"the reference, typed in fours", Entry{Minor: 100_00, Text: "pay " + spacedIn4(paymentmethod.Reference("SC1041"))}, "certain 1 1:10000"},
		{"the number within a text", Entry{Minor: 31_00, Text: "inv. sc-1046, thanks"}, "certain 2 6:3100"},
		{"the payer's own reference", Entry{Minor: 31_00, EndToEnd: "SC1046"}, "certain 2 6:3100"},
		{"the first instalment", Entry{Minor: 50_00, Text: "SC1042"}, "certain 1 2:5000"},
		{"two instalments", Entry{Minor: 100_00, Text: "SC1042"}, "certain 1 2:10000"},
		{"half an instalment", Entry{Minor: 60_00, Text: "SC1042"}, "likely 1 2:6000"},
		{"more than is open", Entry{Minor: 120_00, Text: "SC1041"}, "likely 1 1:10000"},
		{"two invoices together", Entry{Minor: 170_00, Text: "SC1041+SC1043"}, "certain 1 1:10000 3:7000"},
		{"two, but not all", Entry{Minor: 150_00, Text: "SC1041, SC1043"}, "likely 1 1:10000 3:5000"},
		{"invoices of two clients", Entry{Minor: 200_00, Text: "SC1041 SC1045"}, "perhaps 1 1:10000"},
		{"from another client's account", Entry{Minor: 100_00, Text: "SC1041", PartyAccount: "DE2"}, "likely 1 1:10000"},
		{"a longer number", Entry{Minor: 100_00, Text: "SC10419"}, "perhaps 1 1:10000"},
		{"a number that tells nothing", Entry{Minor: 40_00, Text: "7 days"}, "perhaps 3 7:4000"},
		{"a known account and its amount", Entry{Minor: 125_00, PartyAccount: "DE1"}, "likely 1 2:12500"},
		{"a known account, oldest together", Entry{Minor: 225_00, PartyAccount: "DE1"}, "likely 1 1:10000 2:12500"},
		{"a known account, two that are alike", Entry{Minor: 70_00, PartyAccount: "DE1"}, "perhaps 1 3:7000"},
		{"a known account, another amount", Entry{Minor: 11_00, PartyAccount: "DE1"}, "perhaps 1 1:1100"},
		{"an account of two clients", Entry{Minor: 31_00, PartyAccount: "DE9"}, "perhaps 2 6:3100"},
		{"a name and its amount", Entry{Minor: 31_00, Party: "BIRCH & SONS GMBH"}, "perhaps 2 6:3100"},
		{"a name alone", Entry{Minor: 3_00, Party: "Alder Ltd."}, "perhaps 1 1:300"},
		{"an amount alone", Entry{Minor: 31_00}, "perhaps 2 6:3100"},
		{"nothing", Entry{Minor: 9_99, Text: "hello"}, ""},
		{"what went out", Entry{Minor: -100_00, Text: "SC1041"}, ""},
	} {
		got := ""
		if proposals := finder().Propose(&c.entry); len(proposals) > 0 {
			p := proposals[0]
			got = fmt.Sprintf("%s %d", p.Sureness, p.ClientID)
			for _, on := range p.On {
				got += fmt.Sprintf(" %d:%d", on.InvoiceID, on.Minor)
			}
		}
		if got != c.want {
			t.Errorf("%s: %q, not %q", c.name, got, c.want)
		}
	}
}

func spacedIn4(text string) string {
	parts := []string{}
	for ; len(text) > 4; text = text[4:] {
		parts = append(parts, text[:4])
	}
	return strings.Join(append(parts, text), " ")
}

// Two invoices of two series may have one number: neither is certain.
func TestTwoEqualCandidatesAreNeverCertain(t *testing.T) {
	f := NewFinder("EUR", []Open{{1, 1, "SC1041", "", []int64{100_00}}, {2, 1, "SC1041", "", []int64{100_00}}}, nil)
	if got := f.Propose(&Entry{Minor: 100_00, Text: "SC1041"}); len(got) != 2 || got[0].Sureness != Perhaps {
		t.Errorf("%+v", got)
	}
}

// Property, over 10,000 random entries: nothing that is certain is wrong; nothing is put on an invoice that is not open; the parts never
// come to more than the entry. How many of the right ones are certain or likely is logged, and must not fall.
func TestNothingCertainIsEverWrong(t *testing.T) {
	r := rand.New(rand.NewPCG(16, 25))
	certain, likely, all := 0, 0, 0
	for range 200 {
		invoices, payers := randomFirm(r)
		f := NewFinder("EUR", invoices, payers)
		for range 50 {
			e, on := randomEntry(r, invoices, payers)
			proposals := f.Propose(&e)
			for _, p := range proposals {
				sum := int64(0)
				for _, put := range p.On {
					sum += put.Minor
					if o := invoices[put.InvoiceID-1]; put.Minor > o.open() || put.Minor <= 0 {
						t.Fatalf("%d is put on %+v", put.Minor, o)
					}
				}
				if sum > e.Minor {
					t.Fatalf("%+v puts more than %d", p, e.Minor)
				}
			}
			if on == 0 { // paid by a stranger
				if len(proposals) > 0 && proposals[0].Sureness == Certain {
					t.Fatalf("%+v of a stranger: %+v", e, proposals[0])
				}
				continue
			}
			all++
			if len(proposals) == 0 {
				continue
			}
			right := len(proposals[0].On) == 1 && proposals[0].On[0].InvoiceID == on
			switch {
			case proposals[0].Sureness == Certain && !right:
				t.Fatalf("%+v pays %d: %+v", e, on, proposals[0])
			case proposals[0].Sureness == Certain:
				certain++
			case proposals[0].Sureness == Likely && right:
				likely++
			}
		}
	}
	t.Logf("of %d entries that pay an invoice %d were found for certain, %d more as likely", all, certain, likely)
	if certain*100 < all*40 || (certain+likely)*100 < all*70 {
		t.Errorf("of %d, %d certain and %d likely: too few are found", all, certain, likely)
	}
}

func randomFirm(r *rand.Rand) (invoices []Open, payers []Payer) {
	for c := range int64(1 + r.IntN(8)) {
		payers = append(payers, Payer{ClientID: c + 1, Names: []string{fmt.Sprintf("Client Number%d", c)}, Accounts: []string{fmt.Sprintf("DE%d", c)}})
	}
	for i := range int64(1 + r.IntN(30)) {
		number := fmt.Sprintf("%s%d", []string{"SC", "N", "26-"}[r.IntN(3)], 1000+i)
		parts := []int64{}
		for range 1 + r.IntN(3) {
			parts = append(parts, 1+r.Int64N(40)*25)
		}
		invoices = append(invoices, Open{i + 1, 1 + r.Int64N(int64(len(payers))), number, paymentmethod.Reference(number), parts})
	}
	return invoices, payers
}

// randomEntry pays an invoice, as people do: by reference, number, with or without a known account, whole or in part; or is a stranger's.
func randomEntry(r *rand.Rand, invoices []Open, payers []Payer) (e Entry, on int64) {
	o := invoices[r.IntN(len(invoices))]
	e.Minor = o.open()
	switch r.IntN(6) {
	case 0:
		e.Minor = o.Parts[0]
	case 1:
		e.Minor = max(1, e.Minor-1-r.Int64N(20))
	}
	switch r.IntN(8) {
	case 0, 1, 2:
		e.Creditor = o.Reference
	case 3, 4:
		e.Text = "Invoice " + o.Number + " of last month"
	case 5:
		e.Text = spacedIn4(o.Reference)
	case 6: // a stranger's own numbers
		return Entry{Minor: e.Minor, Text: fmt.Sprintf("order %d, box %d", 1000+r.IntN(9000), r.IntN(99)), PartyAccount: "XX"}, 0
	}
	if r.IntN(2) == 0 {
		e.PartyAccount = payers[o.ClientID-1].Accounts[0]
	}
	return e, o.InvoiceID
}

func ExampleFinder_Propose() {
	f := NewFinder("EUR", []Open{{1, 1, "SC1046", "RF49SC1046", []int64{3_149_78}}}, nil)
	for _, p := range f.Propose(&Entry{Minor: 3_149_78, Text: "sc 1046"}) {
		fmt.Println(p.Sureness, p.Reason)
	}
	// Output: certain SC1046, and 3,149.78 is all that is open
}

// A month of a busy firm: 300 entries against 600 open invoices of 200 clients.
func BenchmarkAStatementOf300(b *testing.B) {
	r := rand.New(rand.NewPCG(1, 2))
	invoices, payers := []Open{}, []Payer{}
	for c := range int64(200) {
		payers = append(payers, Payer{ClientID: c + 1, Names: []string{fmt.Sprintf("Client Number%d", c)}, Accounts: []string{fmt.Sprintf("DE%d", c)}})
	}
	for i := range int64(600) {
		number := fmt.Sprintf("SC%d", 1000+i)
		invoices = append(invoices, Open{i + 1, 1 + i%200, number, paymentmethod.Reference(number), []int64{1 + r.Int64N(900_00)}})
	}
	for b.Loop() {
		f := NewFinder("EUR", invoices, payers)
		for range 300 {
			e, _ := randomEntry(r, invoices, payers)
			f.Propose(&e)
		}
	}
}
