package receivable

import (
	"math/rand/v2"
	"slices"
	"testing"

	"dorvet/core/day"
)

// Weighted by amount: half of the money came at 20 days or sooner. From memory: the inverse of the empirical distribution, R's
// quantile type 1; of equal weights 1 to 4 its quartiles are 1, 2, 3, of 1 to 5 they are 2, 3, 4.
func TestAHabitIsTheMedianOfTheMoney(t *testing.T) {
	for _, c := range []struct {
		payments []Paid
		want     Habit
	}{
		{nil, Habit{}},
		{[]Paid{{3, 100}}, Habit{1, 3, 3, 3}},
		{[]Paid{{4, 1}, {2, 1}, {1, 1}, {3, 1}}, Habit{4, 1, 2, 3}},
		{[]Paid{{1, 1}, {2, 1}, {3, 1}, {4, 1}, {5, 1}}, Habit{5, 2, 3, 4}},
		{[]Paid{{-5, 100}, {20, 900}, {60, 1000}}, Habit{3, 20, 20, 60}},
	} {
		if got := HabitOf(c.payments); got != c.want {
			t.Errorf("%v: %+v, not %+v", c.payments, got, c.want)
		}
	}
	// A naive median: each unit of money by itself.
	random := rand.New(rand.NewPCG(25, 2))
	for range 500 {
		payments, units := []Paid{}, []int{}
		for range 1 + random.IntN(8) {
			p := Paid{random.IntN(90) - 20, 1 + random.Int64N(9)}
			payments = append(payments, p)
			units = append(units, slices.Repeat([]int{p.Late}, int(p.Amount))...)
		}
		slices.Sort(units)
		n := len(units)
		want := Habit{len(payments), units[(n+3)/4-1], units[(n+1)/2-1], units[(3*n+3)/4-1]}
		if got := HabitOf(payments); got != want {
			t.Fatalf("%v: %+v, not %+v", payments, got, want)
		}
	}
}

func TestWhatACallIsWorth(t *testing.T) {
	asEver, usual := Habit{Mid: 0}, Habit{Mid: 30}
	if w := Worth(1000, 10, asEver); w != 10_000 {
		t.Errorf("ten days of ten: %d", w)
	}
	if late, soon := Worth(900, 10, asEver), Worth(900, 10, usual); soon*3 != late {
		t.Errorf("who pays after 30 days as a rule is worth %d, not a third of %d", soon, late)
	}
	if Worth(900, 40, usual) != 36_000 || Worth(900, 0, usual) != 0 || Worth(-5, 9, usual) != 0 {
		t.Error("beyond the habit all of it counts, and nothing of what is not late")
	}
}

func TestWhenMoneyIsExpected(t *testing.T) {
	due, habit := day.Of(2026, 12, 1), Habit{Low: -2, Mid: 5, Top: 20}
	if e := Expect(due, due.AddDays(-10), habit); e != (Expected{due - 2, due + 5, due + 20}) {
		t.Errorf("%+v", e)
	}
	if e := Expect(due, due+6, habit); e != (Expected{due + 6, due + 6, due + 20}) {
		t.Errorf("%+v", e)
	}
	if Beyond(due, due+20, habit) || !Beyond(due, due+21, habit) {
		t.Error("beyond is after the day by which three of four have paid")
	}
	if early := (Habit{Low: -9, Mid: -5, Top: -3}); Beyond(due, due, early) || !Beyond(due, due+1, early) {
		t.Error("who pays early is not late before the due day")
	}
}
