package explain

import (
	"fmt"
	"testing"

	"dorvet/core/money"
)

func euros(minor int64) money.Amount { return money.Amount{Minor: minor, Currency: "EUR"} }

// Whatever comes in whatever order, the steps of a total add up to it, also when they are shortened.
func TestStepsAddUpToTheTotal(t *testing.T) {
	var sums Totals
	for i := range 500 {
		step := Step{Label: fmt.Sprintf("Client %d", i%170)}
		if err := sums.Add("Owed", step, euros(int64(i*i%977-300))); err != nil {
			t.Fatal(err)
		}
		if err := sums.Add("Owed", step, money.Amount{Minor: int64(i), Currency: "JPY"}); err != nil {
			t.Fatal(err)
		}
	}
	if len(sums) != 2 || len(sums[0].Explanation.Steps) < 165 {
		t.Fatalf("%d totals, %d steps", len(sums), len(sums[0].Explanation.Steps))
	}
	for _, totals := range []Totals{sums, sums.Shortened()} {
		for _, total := range totals {
			added := int64(0)
			for _, step := range total.Explanation.Steps {
				decimals := 2
				if total.Currency == "JPY" {
					decimals = 0
				}
				minor, err := money.ParseFixed(step.Figure, money.Point, decimals)
				if err != nil {
					t.Fatal(err)
				}
				added += minor
			}
			if added != total.Minor || total.Explanation.Figure != total.String() {
				t.Errorf("the steps come to %d, the total is %d and says %s", added, total.Minor, total.Explanation.Figure)
			}
		}
	}
	if steps := sums.Shortened()[0].Explanation.Steps; len(steps) != told+1 || steps[told].Label != fmt.Sprintf("%d others", len(sums[0].of)-told) {
		t.Errorf("shortened to %d steps, the last is %+v", len(steps), steps[len(steps)-1])
	}
}

func TestATotalOfNothingSaysNought(t *testing.T) {
	total := NoTotal("Owed", "EUR")
	if err := total.Add(Step{Label: "Nobody"}, euros(0)); err != nil || total.Explanation.Figure != "0.00" || len(total.Explanation.Steps) != 0 {
		t.Errorf("%+v, %v", total, err)
	}
	if err := total.Add(Step{Label: "Other money"}, money.Amount{Minor: 1, Currency: "USD"}); err == nil {
		t.Error("amounts of two currencies were added")
	}
}
