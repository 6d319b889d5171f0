package receivable

import "testing"

// Relief of VAT on a bad debt is the tax share of what is not paid: of 1,230.00 with 23 %, half unpaid, 115.00. Source: Council Directive
// 2006/112/EC, article 90 (the taxable amount is reduced accordingly where a price is not paid, in whole or in part).
func TestTaxOfWhatIsLost(t *testing.T) {
	for _, c := range []struct {
		lost, net int64
		taxes     []int64
		tax       int64
	}{{61500, 100000, []int64{23000}, 11500}, {123000, 100000, []int64{23000}, 23000}, {500, 500, nil, 0}, {100, 0, []int64{100}, 100},
		{0, 100, []int64{23}, 0}, {10, 0, nil, 0}} {
		if tax, err := LostTax(c.lost, c.net, c.taxes); err != nil || tax != c.tax {
			t.Errorf("of %d lost of %d and %v, %d is tax, not %d (%v)", c.lost, c.net, c.taxes, tax, c.tax, err)
		}
	}
}

// One loss after the other comes to the same as both at once.
func TestLossesAddUp(t *testing.T) {
	taxes, total := []int64{2301, 135, 7}, int64(12345)
	for first := int64(0); first <= total; first += 37 {
		before, err := LostTax(first, total-2443, taxes)
		after, problem := LostTax(total, total-2443, taxes)
		if err != nil || problem != nil || before < 0 || after != 2443 || before > after {
			t.Fatalf("%d of %d: %d then %d (%v, %v)", first, total, before, after, err, problem)
		}
	}
}
