package invoice

import (
	"math/big"
	"math/rand/v2"
	"slices"
	"testing"

	"dorvet/core/money"
)

// naive computes an invoice again in exact rationals, straight from the rules of
// EN 16931-1: allowances and charges on document level by tax category (BR-S-08),
// one tax per category (BR-CO-17). It shares nothing with the code but the input.
type naive struct {
	a       Asked
	bases   []*big.Rat
	taxable map[string]*big.Rat
}

// round is to whole minor units, half away from zero.
func round(r *big.Rat) *big.Rat {
	doubled := new(big.Int).Mul(r.Num(), big.NewInt(2))
	if r.Sign() < 0 {
		doubled.Sub(doubled, r.Denom())
	} else {
		doubled.Add(doubled, r.Denom())
	}
	return new(big.Rat).SetInt(doubled.Quo(doubled, new(big.Int).Mul(r.Denom(), big.NewInt(2))))
}

func rat(n int64) *big.Rat { return new(big.Rat).SetInt64(n) }

func plus(a, b *big.Rat) *big.Rat { return new(big.Rat).Add(a, b) }

func percentOf(p money.Percent, of *big.Rat) *big.Rat {
	return round(new(big.Rat).Mul(big.NewRat(int64(p), 100_0000), of))
}

// spread gives every positive base its share by size: floors first, then the
// largest remainders, one unit each.
func (n *naive) spread(amount *big.Rat, fees bool) {
	sum := rat(0)
	counts := func(i int) bool { return n.bases[i].Sign() > 0 && (!fees || n.a.Lines[i].Kind.IsFee()) }
	for i := range n.bases {
		if counts(i) {
			sum = plus(sum, n.bases[i])
		}
	}
	type part struct {
		at   int
		rest *big.Rat
	}
	parts, given, shares := []part{}, rat(0), map[int]*big.Rat{}
	for i := range n.bases {
		if !counts(i) {
			continue
		}
		exact := new(big.Rat).Quo(new(big.Rat).Mul(amount, n.bases[i]), sum)
		whole := new(big.Rat).SetInt(new(big.Int).Quo(exact.Num(), exact.Denom())) // towards zero
		shares[i] = whole
		given = plus(given, whole)
		rest := new(big.Rat).Sub(exact, whole)
		parts = append(parts, part{i, rest.Abs(rest)})
	}
	slices.SortStableFunc(parts, func(a, b part) int { return b.rest.Cmp(a.rest) })
	for k := 0; given.Cmp(amount) != 0; k++ {
		unit := rat(int64(amount.Cmp(given)))
		shares[parts[k].at] = plus(shares[parts[k].at], unit)
		given = plus(given, unit)
	}
	for i, share := range shares {
		n.bases[i] = plus(n.bases[i], share)
	}
}

// compute gives net, tax, total and amount due.
func (n *naive) compute() (net, tax, total, due *big.Rat) {
	sum, fees := rat(0), rat(0)
	for _, l := range n.a.Lines {
		n.bases = append(n.bases, rat(l.Amount.Minor))
		sum = plus(sum, rat(l.Amount.Minor))
		if l.Kind.IsFee() {
			fees = plus(fees, rat(l.Amount.Minor))
		}
	}
	base := sum
	if n.a.Discount.FeesOnly {
		base = fees
	}
	discount := rat(n.a.Discount.Amount)
	if n.a.Discount.Percent != 0 {
		discount = percentOf(n.a.Discount.Percent, base)
	}
	if discount.Sign() != 0 {
		n.spread(new(big.Rat).Neg(discount), n.a.Discount.FeesOnly)
	}
	fees = rat(0)
	for i, l := range n.a.Lines {
		if l.Kind.IsFee() {
			fees = plus(fees, n.bases[i])
		}
	}
	surcharge := percentOf(n.a.Surcharge, fees)
	if surcharge.Sign() != 0 {
		n.spread(surcharge, true)
	}
	n.taxable, net, tax = map[string]*big.Rat{}, rat(0), rat(0)
	for i, l := range n.a.Lines {
		if n.taxable[l.TaxCode] == nil {
			n.taxable[l.TaxCode] = rat(0)
		}
		n.taxable[l.TaxCode] = plus(n.taxable[l.TaxCode], n.bases[i])
		net = plus(net, n.bases[i])
	}
	for name, taxable := range n.taxable {
		tax = plus(tax, percentOf(n.a.Codes[name].Rates[0].Percent, taxable))
	}
	total = plus(net, tax)
	due = new(big.Rat).Sub(total, percentOf(n.a.Withholding, net))
	for _, held := range []int64{n.a.Credit, n.a.Funds} {
		if take := rat(held); due.Sign() > 0 {
			if take.Cmp(due) > 0 {
				take = due
			}
			due = new(big.Rat).Sub(due, take)
		}
	}
	return net, tax, total, due
}

// Source: EN 16931-1 in exact rationals (math/big), computed a second time.
func TestInvoicesAgreeWithANaiveComputation(t *testing.T) {
	random, compared := rand.New(rand.NewPCG(21, 22)), 0
	for range 40_000 {
		a := randomInvoice(random)
		a.Discount.FeesOnly = random.IntN(4) == 0
		if random.IntN(3) == 0 {
			a.Discount = Discount{Amount: random.Int64N(20_000), FeesOnly: a.Discount.FeesOnly}
		}
		totals, err := Compute(a)
		if err != nil {
			continue // a discount above its base, which the other would not notice
		}
		compared++
		net, tax, total, due := (&naive{a: a}).compute()
		for name, pair := range map[string][2]*big.Rat{"net": {net, rat(totals.Net.Minor)}, "tax": {tax, rat(totals.Tax.Minor)},
			"total": {total, rat(totals.Total.Minor)}, "due": {due, rat(totals.Due.Minor)}} {
			if pair[0].Cmp(pair[1]) != 0 {
				t.Fatalf("%s of %+v: %s in rationals, %s here", name, a, pair[0], pair[1])
			}
		}
		shares := int64(0)
		for i, share := range totals.Shares {
			shares += a.Lines[i].Amount.Minor - share.Discount + share.Surcharge
		}
		if shares != totals.Net.Minor {
			t.Fatalf("the shares of %+v add up to %d, not %s", a, shares, totals.Net)
		}
	}
	if compared < 30_000 {
		t.Errorf("only %d invoices were compared", compared)
	}
}
