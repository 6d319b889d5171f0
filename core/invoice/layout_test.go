package invoice

import (
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"

	"dorvet/core/day"
	"dorvet/core/money"
)

func item(engagement, service, who string, on day.Day, minutes int, minor int64) Item {
	return Item{Kind: Time, Engagement: engagement, Service: service, Who: who, Initials: who[:2], Day: on, Text: "work", Minutes: minutes,
		Rate: "100.00", Amount: money.Amount{Minor: minor, Currency: "EUR"}}
}

var november = day.Of(2026, 11, 2)

var items = []Item{
	item("Survey", "Field work", "Tomas", november, 90, 15_000), item("Survey", "Report", "Ines", november+1, 61, 12_000),
	item("Advice", "Report", "Tomas", november+1, 30, 5_000),
	{Kind: Expense, Engagement: "Survey", Category: "Travel", Day: november, Text: "Boat",
		Amount: money.Amount{Minor: 4_000, Currency: "EUR"}},
	{Kind: ByHand, Engagement: "Advice", Day: november, Text: "Chart", Quantity: "2", Rate: "10.00",
		Amount: money.Amount{Minor: 2_000, Currency: "EUR"}},
}

// read writes sections and lines in one line of text.
func read(sections []Section) string {
	all := []string{}
	for _, s := range sections {
		lines := []string{}
		for _, l := range s.Lines {
			lines = append(lines, strings.Join(strings.Fields(l.Text+" "+l.Hours+" "+l.Amount.String()), " "))
		}
		all = append(all, s.Title+"["+strings.Join(lines, ", ")+"]"+s.Sum.String())
	}
	return strings.Join(all, " ")
}

// The figures are plain sums of the items above.
func TestLinesAreGroupedOnTwoLevels(t *testing.T) {
	for _, c := range []struct {
		first, then By
		want        string
	}{
		{Everything, "", "[For services 3.02 380.00]380.00"},
		{Entries, "", "Survey[work 1.5 150.00, work 1.02 120.00, Boat 40.00]310.00 Advice[work 0.5 50.00, Chart 2 20.00]70.00"},
		{ByEngagement, "", "[Survey 2.52 310.00, Advice 0.5 70.00]380.00"},
		{ByService, "", "[Field work 1.5 150.00, Report 1.52 170.00, Expenses 40.00, Chart 20.00]380.00"},
		{ByEngagement, ByPerson, "Survey[Tomas 1.5 150.00, Ines 1.02 120.00, Expenses 40.00]310.00 Advice[Tomas 0.5 " +
			"50.00, Chart 20.00]70.00"},
		{ByPerson, ByDate, "Tomas[2 Nov 2026 1.5 150.00, 3 Nov 2026 0.5 50.00]200.00 Ines[3 Nov 2026 1.02 120.00]120.00 " +
			"Expenses[2 Nov 2026 " +
			"40.00]40.00 Chart[2 Nov 2026 20.00]20.00"},
		{ByMonth, ByCategory, "November 2026[Services 3.02 320.00, Travel 40.00, Chart 20.00]380.00"},
		{ByService, Entries, "Field work[work 1.5 150.00]150.00 Report[work 1.02 120.00, work 0.5 50.00]170.00 Expenses[Boat 40.00]40.00 " +
			"Chart[Chart 2 20.00]20.00"},
	} {
		sections, err := Layout{First: c.first, Then: c.then, Sum: "For services"}.Arrange("EUR", items)
		if got := read(sections); err != nil || got != c.want {
			t.Errorf("by %s, then %s:\n%s\n%s, %v", c.first, c.then, got, c.want, err)
		}
	}
}

// Expenses follow a rule of their own, in a section after the others.
func TestExpensesAreGroupedApart(t *testing.T) {
	some := append(items[:3:3], Item{Kind: Expense, Engagement: "Survey", Category: "Mileage", Day: november, Text: "To the harbour",
		Quantity: "40 km", Rate: "0.30", Amount: money.Amount{Minor: 1_200, Currency: "EUR"}}, items[3])
	for _, c := range []struct {
		first, expenses By
		want            string
	}{
		{Everything, Together, "[For services 3.02 372.00]372.00"},
		{Everything, Everything, "[For services 3.02 320.00]320.00 Expenses[Expenses 52.00]52.00"},
		{ByService, ByCategory, "[Field work 1.5 150.00, Report 1.52 170.00]320.00 Expenses[Mileage 12.00, Travel 40.00]52.00"},
		{ByPerson, Entries, "[Tomas 2.0 200.00, Ines 1.02 120.00]320.00 Expenses[To the harbour 40 km 12.00, Boat 40.00]52.00"},
	} {
		sections, err := Layout{First: c.first, Expenses: c.expenses, Sum: "For services"}.Arrange("EUR", some)
		if got := read(sections); err != nil || got != c.want {
			t.Errorf("by %s, expenses by %s:\n%s\n%s, %v", c.first, c.expenses, got, c.want, err)
		}
	}
	sections, _ := Layout{First: Entries}.Arrange("EUR", some)
	if line := sections[0].Lines[2]; line.Hours != "40 km" || line.Rate != "0.30" || line.Note != "Mileage" {
		t.Errorf("a line that was counted: %+v", line)
	}
}

func TestHoursAreRoundedForDisplayAlone(t *testing.T) {
	for rounding, want := range map[string]string{"": "1.02", "tenth": "1.0", "quarter": "1.00", "half": "1.0", "whole": "1"} {
		if got := (Layout{Hours: rounding}).hours(61); got != want {
			t.Errorf("61 min to the %s: %s, want %s", rounding, got, want)
		}
	}
	if got := (Layout{Hours: "quarter"}).hours(68); got != "1.25" { // 67.5 min is half-way
		t.Errorf("68 min to the quarter: %s", got)
	}
}

func TestATextIsPutTogetherAndMissingPartsLeaveNoJoint(t *testing.T) {
	l := Layout{First: Entries, Text: "{date} · {initials} · {phase} · {text} ({service})"}
	sections, err := l.Arrange("EUR", items[:1])
	if got := sections[0].Lines[0].Text; err != nil || got != "2 Nov 2026 · To · work (Field work)" {
		t.Errorf("%q, %v", got, err)
	}
	l.Text = "{phase}"
	if sections, _ = l.Arrange("EUR", items[:1]); sections[0].Lines[0].Text != "work" {
		t.Errorf("%q", sections[0].Lines[0].Text)
	}
}

// Property: no layout changes an amount.
func TestNoLayoutChangesTheSum(t *testing.T) {
	random := rand.New(rand.NewPCG(1, 9))
	by := []By{Everything, Entries, ByEngagement, ByPhase, ByService, ByPerson, ByDate, ByMonth, ByReference, ByCategory, ""}
	for range 5_000 {
		some, want := []Item{}, int64(0)
		for range random.IntN(20) {
			one := items[random.IntN(len(items))]
			one.Amount.Minor = random.Int64N(10_000) - 1_000
			some, want = append(some, one), want+one.Amount.Minor
		}
		l := Layout{First: by[random.IntN(len(by)-1)], Then: by[random.IntN(len(by))], Expenses: by[random.IntN(len(by))]}
		sections, err := l.Arrange("EUR", some)
		if err != nil {
			t.Fatal(err)
		}
		sums, lines := int64(0), int64(0)
		for _, s := range sections {
			sums += s.Sum.Minor
			for _, l := range s.Lines {
				lines += l.Amount.Minor
			}
		}
		if sums != want || lines != want {
			t.Fatalf("items of %d are printed as %d in lines, %d in sections", want, lines, sums)
		}
	}
}

// Source: common practice of progress billing: percent complete × fee, less what
// was billed before. 60 % of 10,000.00 after 2,500.00 is 3,500.00.
func TestProgressIsBilledLessWhatWasBilledBefore(t *testing.T) {
	euro := func(minor int64) money.Amount { return money.Amount{Minor: minor, Currency: "EUR"} }
	p, err := ByPercent(euro(1_000_000), euro(250_000), 60_0000)
	if err != nil || p.Bill.String() != "3,500.00" {
		t.Errorf("%+v, %v", p, err)
	}
	if p, err = ByAmount(euro(1_000_000), euro(250_000), euro(350_000)); err != nil || p.Done != 60_0000 {
		t.Errorf("%+v, %v", p, err)
	}
	if p, err = ByAmount(euro(1_000_000), euro(250_000), euro(750_000)); err != nil || p.Done != money.Hundred {
		t.Errorf("all that is left of the fee: %+v, %v", p, err)
	}
	if p, err = ByPercent(euro(1_000_000), euro(1_000_000), money.Hundred); err != nil || !p.Bill.IsZero() {
		t.Errorf("nothing is left of the fee: %+v, %v", p, err)
	}
	for _, refused := range []func() (Progressed, error){
		func() (Progressed, error) { return ByPercent(euro(1_000_000), euro(250_000), 20_0000) },
		func() (Progressed, error) { return ByPercent(euro(1_000_000), euro(0), 101_0000) },
		func() (Progressed, error) { return ByAmount(euro(1_000_000), euro(250_000), euro(750_001)) },
		func() (Progressed, error) { return ByAmount(euro(1_000_000), euro(250_000), euro(-1)) },
	} {
		if p, err := refused(); err == nil {
			t.Errorf("%+v was not refused", p)
		}
	}
	if v, err := Variance(euro(900_00), euro(800_00)); err != nil || v.String() != "100.00" {
		t.Errorf("%v, %v", v, err)
	}
}

func ExampleByPercent() {
	p, _ := ByPercent(money.Amount{Minor: 1_000_000, Currency: "EUR"}, money.Amount{Minor: 250_000, Currency: "EUR"}, 60_0000)
	fmt.Println(p.Bill)
	// Output: 3,500.00
}

func TestAnInvoiceStandsWhereItsMoneyDoes(t *testing.T) {
	for _, c := range []struct {
		owed, received int64
		want           State
	}{{100, 0, Issued}, {60, 40, PartPaid}, {0, 100, Paid}, {0, 0, Paid}} {
		if got := Standing(c.owed, c.received); got != c.want {
			t.Errorf("%d owed, %d received: %s, want %s", c.owed, c.received, got, c.want)
		}
	}
}
