package bank

import (
	"os"
	"slices"
	"strings"
	"testing"

	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/core/refusal"
)

func read(t *testing.T, version string) []byte {
	t.Helper()
	content, err := os.ReadFile("testdata/statement." + version + ".xml")
	if err != nil {
		t.Fatal(err)
	}
	return content
}

// Source: ISO 20022 camt.053.001.02 and .08, message definition reports, from memory: names of elements, what moved between the versions,
// codes of balances (OPBD, PRCD, CLBD), of states (BOOK, PDNG) and of the reason of a return (AM04).
func TestAStatementIsReadInAllVersions(t *testing.T) {
	all, err := ReadCamt(read(t, "v2"))
	if err != nil || len(all) != 1 {
		t.Fatalf("%+v, %v", all, err)
	}
	s := all[0]
	if s.Account != "GB82WEST12345698765432" || s.Number != "11" || s.From != day.Of(2026, 11, 1) || s.To != day.Of(2026, 11, 30) ||
		s.Opening != 1000_00 || s.Closing != 1719_05 {
		t.Errorf("%+v", s)
	}
	want := []Entry{
		{Reference: "B1", Booked: day.Of(2026, 11, 3), Value: day.Of(2026, 11, 2), Minor: 539_00, Creditor: "RF18539007547034", Party: "Alder Ltd",
			PartyAccount: "DE89370400440532013000"},
		{Reference: "B2-1", Booked: day.Of(2026, 11, 4), Value: day.Of(2026, 11, 4), Minor: 100_00, Text: "Invoice N7 and thanks", Party: "Birch"},
		{Reference: "B2-2", Booked: day.Of(2026, 11, 4), Value: day.Of(2026, 11, 4), Minor: 200_00, Party: "Cedar"},
		{Booked: day.Of(2026, 11, 20), Value: day.Of(2026, 11, 20), Minor: -119_95, EndToEnd: "N3", Party: "Dogwood", PartyAccount: "4711",
			Returned: true, Reason: "AM04 not enough money"},
	}
	if !slices.Equal(s.Entries, want) {
		t.Errorf("%+v", s.Entries)
	}
	all, err = ReadCamt(read(t, "v8"))
	if err != nil || len(all) != 1 || all[0].Currency != "JPY" || all[0].Account != "KTO55" || all[0].Number != "S-1" ||
		all[0].Opening != -5000 || all[0].Entries[0].Minor != 3000 || all[0].Entries[0].Party != "Elm KK" {
		t.Errorf("%+v, %v", all, err)
	}
}

func TestWhatIsNoWholeStatementIsRefused(t *testing.T) {
	whole := string(read(t, "v2"))
	for name, c := range map[string]struct{ from, to, says string }{
		"does not add up":     {"1719.05", "1719.06", "0.01 apart"},
		"another message":     {"camt.053.001.02", "camt.054.001.02", "camt.053"},
		"no closing balance":  {"CLBD", "ITBD", "CLBD"},
		"no sign":             {"<CdtDbtInd>DBIT</CdtDbtInd>", "", "neither credit"},
		"an amount in words":  {"539.0", "much", "not a number"},
		"another currency":    {`<Amt Ccy="EUR">539.0`, `<Amt Ccy="USD">539.0`, "in EUR"},
		"a day of no year":    {"2026-11-03", "0001-11-03", "1970"},
		"not XML":             {"<Document", "Document", "camt.053"},
		"a page of code 1252": {`encoding="UTF-8"`, `encoding="windows-1252"`, "UTF-8"},
		"too much":            {"539.0<", "99999999999999.0<", "too large"},
	} {
		changed := strings.Replace(whole, c.from, c.to, 1)
		if _, err := ReadCamt([]byte(changed)); err == nil || !strings.Contains(err.Error(), c.says) {
			t.Errorf("%s: %v", name, err)
		}
	}
	s := Statement{Currency: "EUR", Opening: 100_00}
	if err := s.Follows(day.Of(2026, 10, 31), 90_00); !refusal.Is(err) || !strings.Contains(err.Error(), "10.00 apart") {
		t.Errorf("%v", err)
	}
}

func TestOneEntryIsKnownAgain(t *testing.T) {
	s := Statement{Entries: []Entry{{Reference: "B1", Minor: 5}, {Minor: 5, Text: "a"}, {Minor: 5, Text: "a"}, {Minor: 5, Text: "b"}}}
	keys := s.Keys()
	if slices.Sort(keys); len(slices.Compact(keys)) != 4 {
		t.Errorf("%v", s.Keys())
	}
	if again := (&Statement{Entries: s.Entries}).Keys(); !slices.Equal(again, s.Keys()) {
		t.Errorf("%v", again)
	}
}

// Source: invented files in the manner of banks' exports: newest first, two columns for what came and went, a comma as mark.
func TestATableIsReadByItsColumns(t *testing.T) {
	columns := Columns{Day: "Date", Amount: "Amount", Text: "Details", Balance: "Balance"}
	newest := Table{Header: []string{"Date", "Details", "Amount", "Balance"}, Mark: money.Point,
		Rows: [][]string{{"11/30/2026", "SC7", "+50.00", "1,130.00"}, {"11/03/2026", "fee", "-20", "1080"}}}
	s, err := ReadTable(newest, columns, "EUR", 0)
	if err != nil || s.Opening != 1100_00 || s.Closing != 1130_00 || s.From != day.Of(2026, 11, 3) || s.Entries[1].Text != "SC7" {
		t.Errorf("%+v, %v", s, err)
	}
	newest.Rows[0][3] = "1,140.00"
	if _, err := ReadTable(newest, columns, "EUR", 0); err == nil {
		t.Error("balances that do not agree are taken")
	}
	two := Table{Header: []string{"Tag", "Haben", "Soll", "Konto"}, Mark: money.Comma,
		Rows: [][]string{{"03.11.2026", "1.000,50", "", "DE89 3704"}, {"30.11.2026", "", "-20,00", ""}, {"30.11.2026", "", "20,00", ""}}}
	s, err = ReadTable(two, Columns{Day: "tag", Came: "Haben", Went: "Soll", PartyAccount: "Konto"}, "EUR", 10_00)
	if err != nil || s.Opening != 10_00 || s.Closing != 970_50 || s.Entries[0].PartyAccount != "DE893704" || s.Entries[1].Minor != -20_00 {
		t.Errorf("%+v, %v", s, err)
	}
	for says, c := range map[string]Columns{"no column is headed": {Day: "Tag", Amount: "Betrag"}, "the day": {Came: "Haben", Went: "Soll"},
		"the amount": {Day: "Tag", Came: "Haben"}} {
		if _, err := ReadTable(two, c, "EUR", 0); err == nil || !strings.Contains(err.Error(), says) {
			t.Errorf("%s: %v", says, err)
		}
	}
	ambiguous := Table{Header: []string{"Date", "Amount"}, Mark: money.Point, Rows: [][]string{{"03/11/2026", "5"}}}
	if _, err := ReadTable(ambiguous, Columns{Day: "Date", Amount: "Amount"}, "EUR", 0); err == nil || !strings.Contains(err.Error(), "row 2") {
		t.Errorf("a day that can be read in two ways is taken: %v", err)
	}
	known := Table{Header: []string{"Date", "Amount"}, Mark: money.Point, Rows: [][]string{{"3/11/2026", "5"}, {"13/11/2026", "5"}}}
	if s, err := ReadTable(known, Columns{Day: "Date", Amount: "Amount"}, "EUR", 0); err != nil || s.From != day.Of(2026, 11, 3) {
		t.Errorf("%+v, %v", s, err)
	}
	long := Table{Header: []string{"Date", "Amount", "Text"}, Mark: money.Point, Rows: [][]string{{"2026-11-03", "5", strings.Repeat("ä", 5000)}}}
	if s, err := ReadTable(long, Columns{Day: "Date", Amount: "Amount", Text: "Text"}, "EUR", 0); err != nil || len([]rune(s.Entries[0].Text)) > 2000 {
		t.Errorf("a text of any length is kept: %v", err)
	}
	oneDay := Table{Header: []string{"Date", "Amount", "Balance"}, Mark: money.Point,
		Rows: [][]string{{"2026-11-30", "5", "15"}, {"2026-11-30", "-20", "10"}}}
	if s, err := ReadTable(oneDay, Columns{Day: "Date", Amount: "Amount", Balance: "Balance"}, "EUR", 0); err != nil || s.Opening != 30_00 {
		t.Errorf("of one day, newest first: %+v, %v", s, err)
	}
}

func FuzzReadingAStatementNeverBreaks(f *testing.F) {
	for _, version := range []string{"v2", "v8"} {
		content, err := os.ReadFile("testdata/statement." + version + ".xml")
		if err != nil {
			f.Fatal(err)
		}
		f.Add(content)
	}
	f.Fuzz(func(t *testing.T, content []byte) {
		all, err := ReadCamt(content)
		for i := range all {
			if err := all[i].Check(); err != nil {
				t.Errorf("%v", err)
			}
		}
		if err != nil && !refusal.Is(err) {
			t.Errorf("a failure: %v", err)
		}
	})
}
