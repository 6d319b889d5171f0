package invoice

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"testing"

	"dorvet/core/money"
)

// Source: common practice, by hand: 1,000.00 less 10 % is 900.00; 100 % less nothing.
func TestACapIsTheMostThatIsPaidAfterDiscount(t *testing.T) {
	for _, c := range []struct {
		name     string
		lines    []Line
		discount Discount
		caps     []Cap
		want     []int64
	}{
		{"without a discount", []Line{work(Time, 60_000), work(Time, 60_000)}, Discount{}, []Cap{{90_000, nil, []int{0, 1}}},
			[]int64{60_000, 30_000}},
		{"ten percent", []Line{work(Time, 60_000), work(Time, 60_000)}, Discount{Percent: 100_000}, []Cap{{90_000, nil, []int{0, 1}}},
			[]int64{60_000, 40_000}},
		{"an amount", []Line{work(Time, 60_000), work(Time, 60_000)}, Discount{Amount: 10_000}, []Cap{{90_000, nil, []int{0, 1}}},
			[]int64{60_000, 40_000}},
		{"an amount, shared with expenses", []Line{work(Time, 120_000), work(Expense, 100_000)}, Discount{Amount: 20_000},
			[]Cap{{90_000, nil, []int{0}}}, []int64{100_000, 100_000}},
		{"on fees only", []Line{work(Time, 120_000), work(Expense, 100_000)}, Discount{Percent: 100_000, FeesOnly: true},
			[]Cap{{90_000, nil, []int{0}}}, []int64{100_000, 100_000}},
		{"a fee that counts", []Line{work(Time, 120_000), work(Fixed, 50_000)}, Discount{}, []Cap{{90_000, []int{1}, []int{0}}},
			[]int64{40_000, 50_000}},
		{"nothing left", []Line{work(Time, 120_000), work(Time, 0)}, Discount{Percent: 100_000}, []Cap{{0, nil, []int{0, 1}}},
			[]int64{0, 0}},
		{"over already", []Line{work(Time, 120_000)}, Discount{}, []Cap{{-10, nil, []int{0}}}, []int64{0}},
		{"two caps", []Line{work(Time, 120_000), work(Time, 120_000)}, Discount{Percent: 500_000},
			[]Cap{{10_000, nil, []int{0}}, {20_000, nil, []int{1}}}, []int64{20_000, 40_000}},
		{"all is given away", []Line{work(Time, 120_000)}, Discount{Percent: money.Hundred}, []Cap{{10, nil, []int{0}}}, []int64{120_000}},
	} {
		got, err := UnderCaps(Asked{Currency: "EUR", Lines: c.lines, Discount: c.discount}, c.caps)
		if err != nil || !slices.Equal(got, c.want) {
			t.Errorf("%s: %v, %v; want %v", c.name, got, err, c.want)
		}
	}
}

// Property: after discount never more than is left, and just that where there is more
// work than that; the oldest is whole before anything younger is billed.
func TestTheCutLeavesJustTheCap(t *testing.T) {
	random := rand.New(rand.NewPCG(1, 2))
	for n := range 1_000 {
		asked := Asked{Currency: "EUR"}
		for range 1 + random.IntN(9) {
			asked.Lines = append(asked.Lines, work([]Kind{Time, Time, Expense, Fixed}[random.IntN(4)], random.Int64N(50_000)))
		}
		if asked.Discount.FeesOnly = random.IntN(2) == 0; random.IntN(3) > 0 {
			asked.Discount.Percent = money.Percent(random.Int64N(900_000))
		}
		one := Cap{Left: random.Int64N(80_000)}
		for i, l := range asked.Lines {
			if l.Kind == Time {
				one.Lines = append(one.Lines, i)
			}
		}
		fit, err := UnderCaps(asked, []Cap{one})
		if err != nil {
			t.Fatal(err)
		}
		cut := asked
		cut.Lines = slices.Clone(asked.Lines)
		whole, sum, gap := true, int64(0), false
		for i := range cut.Lines {
			cut.Lines[i].Amount.Minor = fit[i]
		}
		shares, err := Discounts(cut)
		if err != nil {
			t.Fatal(err)
		}
		for _, i := range one.Lines {
			sum += fit[i] - shares[i]
			if gap && fit[i] > 0 {
				t.Fatalf("case %d: %v of %v: something older was cut", n, fit, asked.Lines)
			}
			gap = gap || fit[i] < asked.Lines[i].Amount.Minor
			whole = whole && fit[i] == asked.Lines[i].Amount.Minor
		}
		if sum > one.Left || !whole && sum != one.Left {
			t.Fatalf("case %d: %v under %d comes to %d", n, fit, one.Left, sum)
		}
	}
}

func work(kind Kind, minor int64) Line {
	return Line{Kind: kind, TaxCode: "S", Amount: money.Amount{Minor: minor, Currency: "EUR"}}
}

func ExampleUnderCaps() {
	asked := Asked{Currency: "EUR", Lines: []Line{{Kind: Time, Amount: money.Amount{Minor: 120_000, Currency: "EUR"}}},
		Discount: Discount{Percent: 100_000}}
	fits, _ := UnderCaps(asked, []Cap{{Left: 90_000, Lines: []int{0}}})
	fmt.Println(fits)
	// Output: [100000]
}
