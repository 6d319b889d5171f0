package tax

import (
	"testing"

	"dorvet/core/day"
	"dorvet/core/money"
)

var since = day.Of(2026, 1, 1)

func two(compound bool) Code {
	return Code{Code: "two", Name: "first", Rates: []Dated{{since, 5_0000}},
		Second: &Second{Name: "second", Rates: []Dated{{since, 8_0000}}, Compound: compound}}
}

// Source: arithmetic of a second tax side by side and compound, common practice.
func TestTwoTaxes(t *testing.T) {
	for _, c := range []struct {
		compound bool
		second   int64
	}{{false, 8000}, {true, 8400}} {
		parts, err := two(c.compound).On(since, money.Amount{Minor: 100000, Currency: "EUR"})
		if err != nil || parts[0].Tax.Minor != 5000 || parts[1].Tax.Minor != c.second {
			t.Errorf("compound %v: %+v, %v", c.compound, parts, err)
		}
	}
}

func TestCompoundTaxCountsOnTheFirstAsRounded(t *testing.T) {
	parts, _ := two(true).On(since, money.Amount{Minor: 10, Currency: "EUR"}) // first 0.005 → 0.01
	if parts[0].Tax.Minor != 1 || parts[1].Base.Minor != 11 {
		t.Errorf("%+v", parts)
	}
}

// Source: the published history of the standard rate of value added tax in
// Ireland (23 %, 21 % from 1 September 2020 to 28 February 2021), from memory.
func TestTheRateOfTheTaxDateHolds(t *testing.T) {
	code := Code{Code: "S", Name: "VAT", Rates: []Dated{
		{day.Of(2021, 3, 1), 23_0000}, {day.Of(2012, 1, 1), 23_0000}, {day.Of(2020, 9, 1), 21_0000}}}
	for _, c := range []struct {
		on   day.Day
		want int64
	}{{day.Of(2020, 8, 31), 2300}, {day.Of(2020, 9, 1), 2100}, {day.Of(2021, 2, 28), 2100}, {day.Of(2021, 3, 1), 2300}} {
		parts, err := code.On(c.on, money.Amount{Minor: 10000, Currency: "EUR"})
		if err != nil || parts[0].Tax.Minor != c.want {
			t.Errorf("%s: %+v, %v", c.on, parts, err)
		}
	}
	if _, err := code.On(day.Of(2011, 1, 1), money.Zero("EUR")); err == nil {
		t.Error("there is no rate before the first")
	}
}
