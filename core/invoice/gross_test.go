package invoice

import (
	"math/rand/v2"
	"testing"

	"dorvet/core/money"

	"github.com/cockroachdb/apd/v3"
)

// billedAs is the document of what was asked, line by line.
func billedAs(t *testing.T, a Asked) *Document {
	t.Helper()
	d := &Document{Currency: a.Currency, Totals: mustCompute(t, a)}
	for _, l := range a.Lines {
		d.Billed = append(d.Billed, Billed{Kind: l.Kind, TaxCode: l.TaxCode, Amount: l.Amount})
	}
	return d
}

func gross(t *testing.T, d *Document, places ...int) int64 {
	t.Helper()
	sum, err := d.GrossOf(places)
	if err != nil {
		t.Fatal(err)
	}
	return sum.Minor
}

// Three lines of 33.33 at 23 %: the tax of 23.00 (99.99 × 0.23 = 22.9977) is shared 7.67, 7.67, 7.66. Source: largest remainder, by hand.
func TestALineCountsWithItsTax(t *testing.T) {
	d := billedAs(t, asked(line(Time, "23", 3333), line(Time, "23", 3333), line(Time, "23", 3333)))
	if a, b, c := gross(t, d, 0), gross(t, d, 1), gross(t, d, 2); a != 4100 || b != 4100 || c != 4099 {
		t.Errorf("%d, %d, %d", a, b, c)
	}
	if _, err := d.GrossOf([]int{3}); err == nil {
		t.Error("a line that is not there has a sum")
	}
	d.Totals.Shares = nil
	if _, err := d.GrossOf([]int{0}); err == nil {
		t.Error("shares that were not kept are known")
	}
}

// All lines come to the total, whatever was taken off and whatever is negative among them; each positive one to within a cent of what
// general decimal arithmetic (apd) makes of it.
func TestLinesWithTheirTaxComeToTheTotal(t *testing.T) {
	random := rand.New(rand.NewPCG(5, 7))
	for range 3000 {
		a := randomInvoice(random)
		d := billedAs(t, a)
		all, sum := []int{}, int64(0)
		for i := range d.Billed {
			all = append(all, i)
			sum += gross(t, d, i)
		}
		if whole := gross(t, d, all...); whole != d.Totals.Total.Minor || sum != whole {
			t.Fatalf("lines come to %d and %d, the total is %s: %+v", sum, whole, d.Totals.Total, a)
		}
	}
	context := apd.BaseContext.WithPrecision(40)
	for range 1000 {
		a := asked()
		for range 1 + random.IntN(8) {
			a.Lines = append(a.Lines, line(Time, "13.5", 1+random.Int64N(1_000_000)))
		}
		d := billedAs(t, a)
		for i, l := range a.Lines {
			exact := new(apd.Decimal)
			if _, err := context.Mul(exact, apd.New(l.Amount.Minor, 0), apd.New(1135, -3)); err != nil {
				t.Fatal(err)
			}
			off := new(apd.Decimal)
			if _, err := context.Sub(off, exact, apd.New(gross(t, d, i), 0)); err != nil {
				t.Fatal(err)
			}
			if off.Abs(off).Cmp(apd.New(15, -1)) > 0 { // a cent of sharing and half of rounding
				t.Fatalf("line of %s comes to %d, exactly %s", money.Amount(l.Amount), gross(t, d, i), exact)
			}
		}
	}
}
