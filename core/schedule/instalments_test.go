package schedule

import (
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"

	"dorvet/core/day"
	"dorvet/core/money"
)

var around = Around{Issued: day.Of(2026, 12, 1), Start: day.Of(2026, 9, 1), End: day.Of(2027, 3, 31)}

func divided(t *testing.T, typed string, minor int64, currency money.Currency) []Instalment {
	t.Helper()
	plan, err := ParsePlan(typed, money.Point)
	if err != nil {
		t.Fatal(err)
	}
	if again, err := ParsePlan(plan.String(), money.Point); err != nil || again.String() != plan.String() {
		t.Errorf("%q is kept as %q, which reads as %q: %v", typed, plan, again, err)
	}
	list, err := plan.Divide(money.Amount{Minor: minor, Currency: currency}, around)
	if err != nil {
		t.Fatal(err)
	}
	return list
}

// Source of the amounts: the method of largest remainders, as published worked
// examples of Hamilton's apportionment have it (100 over three equal parts gives
// 34, 33, 33). Days: common practice of instalments, clamped to the month's end.
func TestInstalmentsAddUpAndFallDue(t *testing.T) {
	for _, c := range []struct{ plan, want string }{
		{"", "100.00 2026-12-01"},
		{"rest issue; rest monthly; rest monthly", "33.34 2026-12-01, 33.33 2027-01-01, 33.33 2027-02-01"},
		{"equal 30d; equal 60d", "50.00 2026-12-31, 50.00 2027-01-30"},
		{"30% issue; 40% middle; 30% end", "30.00 2026-12-01, 40.00 2027-01-30, 30.00 2027-03-31"},
		{"33.3333% issue; 33.3333% 1m; 33.3334% 2m", "33.33 2026-12-01, 33.33 2027-01-01, 33.34 2027-02-01"},
		{"25.50 issue; rest 2w", "25.50 2026-12-01, 74.50 2026-12-15"},
		{"10% issue; rest 2027-06-30; rest end", "10.00 2026-12-01, 45.00 2027-06-30, 45.00 2027-03-31"},
		{"rest start; rest end", "50.00 2026-12-01, 50.00 2027-03-31"},
		{"rest 2027-01-31; rest monthly; rest monthly; rest monthly",
			"25.00 2027-01-31, 25.00 2027-02-28, 25.00 2027-03-31, 25.00 2027-04-30"},
	} {
		got := []string{}
		for _, one := range divided(t, c.plan, 10_000, "EUR") {
			got = append(got, one.Amount.String()+" "+one.Due.String())
		}
		if strings.Join(got, ", ") != c.want {
			t.Errorf("%q gives %s, want %s", c.plan, strings.Join(got, ", "), c.want)
		}
	}
}

// The middle is half of the days to the end, rounded down: 120 days from 1 Dec
// to 31 Mar, so 60 days later. What would be before the invoice is moved, and said.
func TestInstalmentsAreNeverDueBeforeTheInvoice(t *testing.T) {
	list := divided(t, "50% start; 50% middle", 9_999, "EUR")
	if !list[0].Moved || list[0].Due != around.Issued || list[1].Moved || list[1].Due != around.Issued.AddDays(60) {
		t.Errorf("%+v", list)
	}
	if list[0].Amount.Minor != 5_000 || list[1].Amount.Minor != 4_999 {
		t.Errorf("99.99 in two halves: %s and %s", list[0].Amount, list[1].Amount)
	}
	if words := list[1].Words; words != "50 % midway to the end of the work" {
		t.Errorf("said as %q", words)
	}
}

func TestInstalmentsFollowTheDecimalsOfTheCurrency(t *testing.T) {
	yen := divided(t, "rest issue; rest monthly; rest monthly", 100, "JPY")
	if yen[0].Amount.Minor != 34 || yen[2].Amount.Minor != 33 {
		t.Errorf("100 yen: %+v", yen)
	}
	dinar := divided(t, "0.125 issue; rest 30d", 1_000, "BHD")
	if dinar[0].Amount.Minor != 125 || dinar[1].Amount.Minor != 875 {
		t.Errorf("1.000 dinar: %+v", dinar)
	}
	plan, err := ParsePlan("0.5 issue; rest 30d", money.Point)
	if err != nil {
		t.Fatal(err)
	}
	if _, err := plan.Divide(money.Amount{Minor: 100, Currency: "JPY"}, around); err == nil ||
		!strings.Contains(err.Error(), "JPY has 0 decimals") {
		t.Errorf("half a yen: %v", err)
	}
}

// Source: the table of what fields take.
func TestSchedulesAreReadAsPeopleSayThem(t *testing.T) {
	for typed, want := range map[string]string{"3 equal, monthly": "rest issue; rest monthly; rest monthly", "2 equal": "rest issue; rest monthly",
		"50% now, rest in 30 days": "50% issue; rest 30d", "30% issue; rest end": "30% issue; rest end",
		"500.00 at once, rest in 2 weeks": "500 issue; rest 2w", "rest on the payment terms": "rest terms",
		"40% start, 60% after 3 months": "40% start; 60% 3m"} {
		if plan, err := ParsePlan(typed, money.Point); err != nil || plan.String() != want {
			t.Errorf("%q is %q, %v; want %q", typed, plan, err, want)
		}
	}
	if plan, err := ParsePlan("12,5% now, rest in 1 month", money.Comma); err != nil || plan.String() != "12.5% issue; rest 1m" {
		t.Errorf("with a comma as the mark: %q, %v", plan, err)
	}
	for _, typed := range []string{"61 equal", "0 equal", "999 equal, monthly"} {
		if plan, err := ParsePlan(typed, money.Point); err == nil {
			t.Errorf("%q is read as %q", typed, plan)
		}
	}
}

func TestASchedulesMistakeIsNamed(t *testing.T) {
	for typed, want := range map[string]string{
		"60% issue; 30% end": "10 % is missing", "60% issue; 50% end": "take 10 % away", "some issue": "write how much and when",
		"50% whenever; 50% end": "is no day", "0% issue; rest end": "more than 0", "-5 issue; rest end": "write how much and when",
		"50% 2026-02-30; 50% end": "2026-02-30",
	} {
		if plan, err := ParsePlan(typed, money.Point); err == nil || !strings.Contains(err.Error(), want) {
			t.Errorf("%q: %v, %v; want %q", typed, plan, err, want)
		}
	}
	for typed, want := range map[string]string{"120.00 issue; rest end": "20.00 more than", "60.00 issue; 30.00 end": "by 10.00"} {
		plan, err := ParsePlan(typed, money.Point)
		if err != nil {
			t.Fatal(err)
		}
		if _, err = plan.Divide(money.Amount{Minor: 10_000, Currency: "EUR"}, around); err == nil || !strings.Contains(err.Error(), want) {
			t.Errorf("%q: %v, want %q", typed, err, want)
		}
	}
	plan, err := ParsePlan("50% start; 50% end", money.Point)
	if err != nil {
		t.Fatal(err)
	}
	if _, err = plan.Divide(money.Amount{Minor: 1, Currency: "EUR"}, Around{Issued: around.Issued}); err == nil ||
		!strings.Contains(err.Error(), "no start day") {
		t.Errorf("work without days: %v", err)
	}
}

// Property: whatever the plan, the parts add up to what is due, and none is
// before the invoice.
func TestRandomSchedulesAddUp(t *testing.T) {
	random := rand.New(rand.NewPCG(1, 2))
	words := []string{"issue", "terms", "30d", "2w", "1m", "start", "middle", "end", "monthly", "2026-11-01"}
	for range 20_000 {
		plan := Plan{{When: "issue"}}
		for range random.IntN(8) {
			part := Part{When: When(words[random.IntN(len(words))])}
			if random.IntN(3) == 0 {
				part.Percent = money.Percent(1 + random.Int64N(100_000))
			}
			plan = append(plan, part)
		}
		due := money.Amount{Minor: random.Int64N(10_000_000), Currency: "EUR"}
		list, err := plan.Divide(due, around)
		if err != nil {
			t.Fatalf("%s of %s: %v", plan, due, err)
		}
		sum := int64(0)
		for _, one := range list {
			sum += one.Amount.Minor
			if one.Due < around.Issued || one.Amount.Minor < 0 {
				t.Fatalf("%s of %s gives %+v", plan, due, one)
			}
		}
		if sum != due.Minor {
			t.Fatalf("%s of %s adds up to %d", plan, due, sum)
		}
	}
}

func ExamplePlan_Divide() {
	plan, _ := ParsePlan("rest issue; rest monthly; rest monthly", money.Point)
	list, _ := plan.Divide(money.Amount{Minor: 10_000, Currency: "EUR"}, Around{Issued: day.Of(2026, 12, 31)})
	for _, one := range list {
		fmt.Println(one.Due, one.Amount)
	}
	// Output:
	// 2026-12-31 33.34
	// 2027-01-31 33.33
	// 2027-02-28 33.33
}
