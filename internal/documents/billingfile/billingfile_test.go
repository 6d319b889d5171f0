package billingfile

import (
	"bytes"
	"errors"
	"math/big"
	"math/rand/v2"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"dorvet/core/day"
	"dorvet/core/invoice"
	"dorvet/core/money"
	"dorvet/core/safetext"
	"dorvet/core/tax"
)

// read reads a file by the rules of LEDES 1998B: its first line, its 24 fields by
// name, what is a date, a number, a type; units times cost plus adjustment is the
// total of a line, and the totals are that of the invoice.
func read(t testing.TB, file string) []map[string]string {
	t.Helper()
	if !strings.HasSuffix(file, "[]\r\n") {
		t.Fatalf("the file ends with %q", file[max(0, len(file)-20):])
	}
	lines := strings.Split(strings.TrimSuffix(file, "[]\r\n"), "[]\r\n")
	if lines[0] != "LEDES1998B" || len(strings.Split(lines[1], "|")) != 24 {
		t.Fatalf("the file begins with %q and %q", lines[0], lines[1])
	}
	names, rows, sums, totals := strings.Split(lines[1], "|"), []map[string]string{}, map[string]*big.Rat{}, map[string]string{}
	number := func(text string) *big.Rat {
		if text == "" {
			return new(big.Rat)
		}
		if !regexp.MustCompile(`^-?\d{1,14}(\.\d{1,4})?$`).MatchString(text) {
			t.Errorf("%q is no number", text)
		}
		r, _ := new(big.Rat).SetString(text)
		return r
	}
	for i, line := range lines[2:] {
		fields, row := strings.Split(line, "|"), map[string]string{}
		if len(fields) != 24 {
			t.Fatalf("line %d has %d fields: %q", i+1, len(fields), line)
		}
		for n, name := range names {
			row[name] = fields[n]
			for _, r := range fields[n] {
				if r < ' ' || r > '~' {
					t.Errorf("line %d has %q in %s", i+1, r, name)
				}
			}
		}
		for _, name := range []string{"INVOICE_DATE", "BILLING_START_DATE", "BILLING_END_DATE", "LINE_ITEM_DATE"} {
			if _, err := strconv.Atoi(row[name]); err != nil || len(row[name]) != 8 {
				t.Errorf("line %d: %s is %q, not YYYYMMDD", i+1, name, row[name])
			}
		}
		units, cost, adjustment, total := number(row["LINE_ITEM_NUMBER_OF_UNITS"]), number(row["LINE_ITEM_UNIT_COST"]),
			number(row["LINE_ITEM_ADJUSTMENT_AMOUNT"]), number(row["LINE_ITEM_TOTAL"])
		// The product has more decimals than a total; the adjustment is of whole cents.
		made := new(big.Rat).Add(new(big.Rat).Mul(units, cost), adjustment)
		if gap := new(big.Rat).Abs(new(big.Rat).Sub(made, total)); gap.Cmp(big.NewRat(1, 200)) > 0 {
			t.Errorf("line %d: %s × %s + %s is not %s", i+1, row["LINE_ITEM_NUMBER_OF_UNITS"], row["LINE_ITEM_UNIT_COST"],
				row["LINE_ITEM_ADJUSTMENT_AMOUNT"], row["LINE_ITEM_TOTAL"])
		}
		kind := row["EXP/FEE/INV_ADJ_TYPE"]
		switch {
		case kind == "F" && (row["TIMEKEEPER_ID"] == "" || row["TIMEKEEPER_NAME"] == "" ||
			!strings.Contains("PT AS PL LA OC OT", row["TIMEKEEPER_CLASSIFICATION"])):
			t.Errorf("line %d: a fee of nobody: %v", i+1, row)
		case kind == "E" && !regexp.MustCompile(`^E\d{3}$`).MatchString(row["LINE_ITEM_EXPENSE_CODE"]):
			t.Errorf("line %d: an expense without its code: %v", i+1, row)
		case !strings.Contains(" F E IF IE ", " "+kind+" "):
			t.Errorf("line %d is of the type %q", i+1, kind)
		}
		invoiced := row["INVOICE_NUMBER"]
		if sums[invoiced] == nil {
			sums[invoiced] = new(big.Rat)
		}
		sums[invoiced].Add(sums[invoiced], total)
		totals[invoiced] = row["INVOICE_TOTAL"]
		rows = append(rows, row)
	}
	for invoiced, sum := range sums {
		if sum.Cmp(number(totals[invoiced])) != 0 {
			t.Errorf("the lines of %s come to %s, not %s", invoiced, sum.FloatString(2), totals[invoiced])
		}
	}
	return rows
}

func written(t testing.TB, docs ...*invoice.Document) string {
	t.Helper()
	var out bytes.Buffer
	if err := Head(&out); err != nil {
		t.Fatal(err)
	}
	for _, doc := range docs {
		if err := Write(&out, doc); err != nil {
			t.Fatal(err)
		}
	}
	return out.String()
}

func usd(minor int64) money.Amount { return money.Amount{Minor: minor, Currency: "USD"} }

func hours(minutes int, perHour money.Rate, minor int64) invoice.Billed {
	return invoice.Billed{Kind: invoice.Time, Engagement: "Siting study", Code: "E010", Reference: "QBD-0031", Day: day.Of(2026, 11, 3),
		Text: "Plume model", Service: "Processing", Task: "L130", Activity: "A102",
		Worked: invoice.Timekeeper{Initials: "TB", Name: "Tomas Byrne", Class: "AS"},
		Lead:   invoice.Timekeeper{Initials: "IO", Name: "Ines Okafor", Class: "PT"}, Minutes: minutes, Price: &perHour, Amount: usd(minor),
		TaxCode: "AE"}
}

func document(t testing.TB, asked invoice.Asked, billed ...invoice.Billed) *invoice.Document {
	t.Helper()
	asked.Currency, asked.TaxDate = "USD", day.Of(2026, 12, 1)
	asked.Codes = map[string]tax.Code{"AE": {Code: "AE", Category: tax.ReverseCharge, Rates: []tax.Dated{{From: 1}}}}
	for _, b := range billed {
		asked.Lines = append(asked.Lines, invoice.Line{Kind: b.Kind, TaxCode: b.TaxCode, Amount: b.Amount})
	}
	totals, err := invoice.Compute(asked)
	if err != nil {
		t.Fatal(err)
	}
	return &invoice.Document{Kind: "invoice", Number: "SC1040", Dated: day.Of(2026, 12, 1), Currency: "USD", Totals: totals, Billed: billed,
		Client: invoice.Party{Name: "Quillan Bay", Code: "C008"}, Issuer: invoice.Party{TaxNumber: "IE0000000X"}}
}

// Source: the sample of LEDES 1998B, from memory: 2.00 × 350 − 70 = 630.
func TestALineThatMissesItsProductHasAnAdjustment(t *testing.T) {
	row := read(t, written(t, document(t, invoice.Asked{}, hours(120, 350_0000, 630_00))))[0]
	if row["LINE_ITEM_NUMBER_OF_UNITS"] != "2.00" || row["LINE_ITEM_UNIT_COST"] != "350.00" ||
		row["LINE_ITEM_ADJUSTMENT_AMOUNT"] != "-70.00" || row["LINE_ITEM_TOTAL"] != "630.00" {
		t.Errorf("%v", row)
	}
}

func TestEveryFieldIsWhatTheStandardAsksFor(t *testing.T) {
	expense := invoice.Billed{Kind: invoice.Expense, Code: "E010", Day: day.Of(2026, 11, 9), Text: "Ferry | café [] – 2 €",
		Category: "Travel", Expense: "E110", Amount: usd(4_230), TaxCode: "AE"}
	fixed := invoice.Billed{Kind: invoice.Fixed, Code: "E011", Text: "Report",
		Lead: invoice.Timekeeper{Initials: "IO", Name: "Ines Okafor", Class: "PT"}, Amount: usd(500_000), TaxCode: "AE"}
	rows := read(t, written(t, document(t, invoice.Asked{Discount: invoice.Discount{Percent: 10_0000}, Surcharge: 4_0000},
		hours(90, 142_5000, 213_75), expense, fixed)))
	want := []map[string]string{
		{"INVOICE_DATE": "20261201", "INVOICE_NUMBER": "SC1040", "CLIENT_ID": "C008", "LAW_FIRM_MATTER_ID": "E010",
			"BILLING_START_DATE": "20261103", "BILLING_END_DATE": "20261109", "LINE_ITEM_NUMBER": "1", "EXP/FEE/INV_ADJ_TYPE": "F",
			"LINE_ITEM_NUMBER_OF_UNITS": "1.50", "LINE_ITEM_UNIT_COST": "142.50", "LINE_ITEM_TASK_CODE": "L130",
			"LINE_ITEM_ACTIVITY_CODE": "A102",
			"LINE_ITEM_EXPENSE_CODE":  "", "TIMEKEEPER_ID": "TB", "TIMEKEEPER_NAME": "Tomas Byrne",
			"TIMEKEEPER_CLASSIFICATION": "AS", "CLIENT_MATTER_ID": "QBD-0031", "LAW_FIRM_ID": "IE0000000X", "LINE_ITEM_DATE": "20261103"},
		{"EXP/FEE/INV_ADJ_TYPE": "E", "LINE_ITEM_EXPENSE_CODE": "E110", "TIMEKEEPER_ID": "",
			"LINE_ITEM_DESCRIPTION": "Ferry / cafe () - 2 EUR",
			"LINE_ITEM_TOTAL":       "42.30"},
		{"EXP/FEE/INV_ADJ_TYPE": "F", "LAW_FIRM_MATTER_ID": "E011", "TIMEKEEPER_ID": "IO", "LINE_ITEM_DATE": "20261201",
			"LINE_ITEM_TOTAL": "5000.00"},
		{"EXP/FEE/INV_ADJ_TYPE": "IF", "LINE_ITEM_DESCRIPTION": "Discount", "LINE_ITEM_NUMBER_OF_UNITS": "", "LINE_ITEM_TOTAL": "-21.38"},
	}
	for n, fields := range want {
		for name, text := range fields {
			if rows[n][name] != text {
				t.Errorf("line %d: %s is %q, not %q", n+1, name, rows[n][name], text)
			}
		}
	}
}

func TestRandomInvoicesAddUpInTheBillingFile(t *testing.T) {
	random := rand.New(rand.NewPCG(1998, 2))
	for range 500 {
		billed := []invoice.Billed{}
		for range 1 + random.IntN(10) {
			billed = append(billed, hours(random.IntN(600), money.Rate(random.Int64N(500_0000)), random.Int64N(500_000)))
		}
		asked := invoice.Asked{Discount: invoice.Discount{Percent: money.Percent(random.Int64N(30_0000))},
			Surcharge: money.Percent(random.Int64N(9_0000))}
		other := document(t, asked, billed[0])
		other.Number = "SC1041"
		read(t, written(t, document(t, asked, billed...), other))
		if t.Failed() {
			t.FailNow()
		}
	}
}

func TestWhatTheBillingFileCannotSayIsRefusedInWords(t *testing.T) {
	for _, c := range []struct {
		name, says string
		change     func(*invoice.Document)
	}{
		{"a draft", "issue it first", func(d *invoice.Document) { d.Number = "" }},
		{"a credit note", "invoices only", func(d *invoice.Document) { d.Kind = "credit_note" }},
		{"tax", "no place for tax", func(d *invoice.Document) { d.Totals.Tax = usd(100) }},
		{"withholding", "withheld", func(d *invoice.Document) { d.Totals.Withholding = usd(100) }},
		{"three decimals", "3 decimals", func(d *invoice.Document) { d.Currency = "BHD" }},
		{"lines that were not kept", "not kept", func(d *invoice.Document) { d.Billed = nil }},
		{"time without codes", "task and activity code", func(d *invoice.Document) { d.Billed[0].Task = "" }},
		{"an expense without a code", "expense code", func(d *invoice.Document) { d.Billed[0].Kind = invoice.Expense }},
		{"Greek", "plain Latin letters only, and “Μέτρηση” has “Μ”", func(d *invoice.Document) { d.Billed[0].Text = "Μέτρηση" }},
	} {
		doc := document(t, invoice.Asked{}, hours(60, 100_0000, 10_000))
		c.change(doc)
		unsayable := new(safetext.Unsayable)
		if err := Supports(doc); !errors.As(err, &unsayable) || !strings.Contains(unsayable.Sentence, c.says) {
			t.Errorf("%s: %v", c.name, err)
		}
	}
}

// Whatever people write, a file keeps its 24 fields a line.
func FuzzTextNeverBreaksAField(f *testing.F) {
	f.Add("a|b[]\r\nc")
	f.Add("[|]")
	f.Fuzz(func(t *testing.T, text string) {
		doc := document(t, invoice.Asked{}, hours(60, 100_0000, 10_000))
		doc.Billed[0].Text, doc.Client.Name = text, text
		var out bytes.Buffer
		if Head(&out) != nil || Write(&out, doc) != nil {
			return // refused in words
		}
		read(t, out.String())
	})
}
