package wip

import (
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"

	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/core/rate"
	"dorvet/core/worktime"

	"github.com/cockroachdb/apd/v3"
)

var on = day.Of(2026, 11, 26)

func at(level rate.Level, perHour money.Rate) rate.Resolution {
	return rate.Resolution{On: on, Won: &rate.Row{Level: level, From: day.Of(2026, 1, 1), PerHour: perHour, Currency: "EUR"}}
}

func work(minutes int, agreed, standard rate.Resolution) Work {
	return Work{Worked: minutes, Treatment: Billable, Rule: worktime.Rule{Increment: 6, Rounding: worktime.Up},
		Currency: "EUR", Agreed: agreed, Standard: standard}
}

func TestAgreedAndStandardValue(t *testing.T) {
	client, person := at(rate.Client, 100_0000), at(rate.Person, 142_5000)
	for _, c := range []struct {
		name             string
		work             Work
		agreed, standard string
	}{
		{"85 minutes are 1.5 hours", work(85, person, person), "213.75", "213.75"},
		{"a negotiated rate shows as what it costs", work(85, client, person), "150.00", "213.75"},
		{"no rate but the client's", work(85, client, rate.Resolution{}), "150.00", "150.00"},
		{"nothing worked", work(0, client, person), "0.00", "0.00"},
	} {
		got, err := Value(c.work)
		if err != nil || got.Agreed.String() != c.agreed || got.Standard.String() != c.standard {
			t.Errorf("%s: %s and %s, %v; want %s and %s", c.name, got.Agreed, got.Standard, err, c.agreed, c.standard)
		}
	}
}

func TestTreatments(t *testing.T) {
	person := at(rate.Person, 142_5000)
	for treatment, agreed := range map[Treatment]string{Billable: "213.75", OutOfScope: "213.75", NoCharge: "0.00", NotBillable: "0.00"} {
		w := work(85, person, person)
		w.Treatment = treatment
		got, err := Value(w)
		if err != nil || got.Agreed.String() != agreed || got.Standard.String() != "213.75" {
			t.Errorf("%s: %s and %s, %v", treatment, got.Agreed, got.Standard, err)
		}
		w.Agreed, w.Standard = rate.Resolution{}, rate.Resolution{}
		if got, err := Value(w); err != nil || got.WithoutRate != treatment.Charged() {
			t.Errorf("%s without any rate is marked %v, %v", treatment, got.WithoutRate, err)
		}
	}
	if _, err := ParseTreatment("gratis"); err == nil {
		t.Error("gratis is no treatment")
	}
}

// Oracle: exact decimals by apd, over minutes, rates and mark-ups.
func TestValuesAgreeWithExactDecimals(t *testing.T) {
	random, context := rand.New(rand.NewPCG(3, 4)), apd.BaseContext.WithPrecision(50)
	context.Rounding = apd.RoundHalfUp
	for range 20_000 {
		w := work(random.IntN(1440), at(rate.Person, money.Rate(random.IntN(5_000_000))), at(rate.Person, 1))
		w.Markup = money.Percent(random.IntN(1_000_000) - 500_000)
		got, err := Value(w)
		if err != nil {
			t.Fatal(err)
		}
		var exact apd.Decimal
		context.Mul(&exact, apd.New(int64(got.Billed.Minutes), 0), apd.New(int64(w.Agreed.Won.PerHour), -4))
		context.Mul(&exact, &exact, apd.New(int64(money.Hundred+w.Markup), -6))
		context.Quo(&exact, &exact, apd.New(60, 0))
		context.Quantize(&exact, &exact, -2)
		if want, _ := exact.Text('f'), 0; strings.ReplaceAll(want, ".", "") != fmt.Sprintf("%03d", got.Agreed.Minor) {
			t.Fatalf("%d minutes at %s and %s %%: %s, decimals say %s", got.Billed.Minutes, w.Agreed.Won.PerHour, w.Markup, got.Agreed,
				want)
		}
	}
}

func TestWhatCanHappenToAnEntry(t *testing.T) {
	for _, c := range []struct {
		from Billing
		act  Act
		to   Billing
	}{
		{Unbilled, Reserve, Reserved}, {Reserved, Release, Unbilled}, {Reserved, Bill, Billed}, {Billed, Reopen, Reserved},
		{Unbilled, WriteOff, WrittenOff}, {WrittenOff, TakeBack, Unbilled}, {Unbilled, MakeOutside, Outside},
		{Outside, MakeBillable, Unbilled},
		{Unbilled, Change, Unbilled}, {Outside, Change, Outside},
		{Billed, BillAgain, Unbilled},
	} {
		if got, err := c.from.After(c.act); err != nil || got != c.to {
			t.Errorf("%s, %s: %s, %v; want %s", c.from, c.act, got, err, c.to)
		}
	}
}

func TestWhatCantHappenSaysWhyAndWhatToDo(t *testing.T) {
	legal := 0
	for from, remedy := range remedies {
		for act := range past {
			next, err := from.After(act)
			if err == nil {
				legal++
				continue
			}
			if next != from || !strings.Contains(err.Error(), remedy) || !strings.Contains(err.Error(), past[act]) {
				t.Errorf("%s, %s: %s, %v", from, act, next, err)
			}
		}
	}
	if legal != 11 {
		t.Errorf("%d steps are legal, not the eleven of the table above", legal)
	}
}

// Source: 30-day bands, common practice.
func TestAges(t *testing.T) {
	for days, band := range map[int]int{-5: 0, 0: 0, 30: 0, 31: 1, 60: 1, 61: 2, 90: 2, 91: 3, 400: 3} {
		ages := NewAges("EUR")
		if err := ages.Add(on.AddDays(-days), on, money.Amount{Minor: 100, Currency: "EUR"}); err != nil || ages[band].Minor != 100 {
			t.Errorf("%d days old: %v, %v", days, ages, err)
		}
	}
}

func TestTheExplanationAddsUp(t *testing.T) {
	v, _ := Value(work(252, at(rate.Person, 130_0000), at(rate.Person, 130_0000)))
	step := v.Explain()
	if step.Figure != "546.00" || step.Detail != "4:12\u202fh × 130.00, rounded once" ||
		step.Steps[0].Label != "4:12\u202fh worked" || step.Steps[0].Detail != "up to the next 6 min" || step.Steps[1].Figure != "130.00" {
		t.Errorf("%+v", step)
	}
}

func ExampleValue() {
	rates := rate.Resolution{Won: &rate.Row{PerHour: 142_5000, Currency: "EUR"}}
	v, _ := Value(Work{Worked: 85, Treatment: Billable, Rule: worktime.Rule{Increment: 6}, Currency: "EUR", Agreed: rates, Standard: rates})
	fmt.Println(v.Billed.Minutes, v.Agreed)
	// Output: 90 213.75
}

// The rule: a flat amount stands in place of hours × rate and needs none.
func TestFlatEntries(t *testing.T) {
	flat := money.Amount{Minor: 180_00, Currency: "EUR"}
	for treatment, agreed := range map[Treatment]string{Billable: "180.00", OutOfScope: "180.00", NoCharge: "0.00", NotBillable: "0.00"} {
		for minutes, resolution := range map[int]rate.Resolution{0: {}, 85: at(rate.Person, 142_5000)} {
			w := work(minutes, resolution, resolution)
			w.Treatment, w.Flat = treatment, &flat
			got, err := Value(w)
			if err != nil || got.Agreed.String() != agreed || got.Standard.String() != "180.00" || got.WithoutRate {
				t.Errorf("%s, %d minutes: %+v, %v", treatment, minutes, got, err)
			}
		}
	}
	negative := money.Amount{Minor: -1, Currency: "EUR"}
	for name, w := range map[string]Work{
		"a mark-up on a flat amount":   {Treatment: Billable, Flat: &flat, Markup: 1, Currency: "EUR"},
		"a negative flat amount":       {Treatment: Billable, Flat: &negative, Currency: "EUR"},
		"a mark-down of more than all": {Treatment: Billable, Markup: -money.Hundred - 1, Currency: "EUR"},
	} {
		if got, err := Value(w); err == nil {
			t.Errorf("%s is taken: %s", name, got.Agreed)
		}
	}
}

// 1.5 h × 142.50 = 213.75; 10 % more is 235.125, rounded once 235.13; 10 % less
// 192.375, 192.38. The standard value has no mark-up.
func TestMarkUpAndMarkDown(t *testing.T) {
	person := at(rate.Person, 142_5000)
	for markup, agreed := range map[money.Percent]string{10_0000: "235.13", -10_0000: "192.38", -100_0000: "0.00", 0: "213.75"} {
		w := work(85, person, person)
		w.Markup = markup
		if got, err := Value(w); err != nil || got.Agreed.String() != agreed || got.Standard.String() != "213.75" {
			t.Errorf("%s %%: %s and %s, %v", markup, got.Agreed, got.Standard, err)
		}
	}
}

func TestAHoldIsOverOnItsDay(t *testing.T) {
	release := day.Of(2026, 12, 15)
	for _, c := range []struct {
		hold  Hold
		on    day.Day
		holds bool
	}{
		{NoHold, release, false}, {UntilReleased, release + 1000, true}, {UntilDay, release - 1, true}, {UntilDay, release, false},
		{UntilDay, release + 1, false},
	} {
		if got := c.hold.Holds(release, c.on); got != c.holds {
			t.Errorf("%s on %s: %v", c.hold, c.on, got)
		}
	}
}
