package money

import (
	"fmt"

	"dorvet/core/refusal"
)

// Amount is a whole number of minor units of a currency: {1250, "EUR"} is 12.50.
type Amount struct {
	Minor    int64    `json:"minor"`
	Currency Currency `json:"currency"`
}

// Most is the most that one record may come to, in minor units: sums over all of them
// then fit, and pages count them exactly.
const Most int64 = 10_000_000_000_000

// Within refuses an amount that is more than one record may come to.
func (a Amount) Within() error {
	if a.Minor >= -Most && a.Minor <= Most {
		return nil
	}
	return refusal.Errorf("%s is more than one record may come to: give at most %s", a, Amount{Most, a.Currency})
}

// Zero is nothing, in a currency.
func Zero(c Currency) Amount { return Amount{0, c} }

// Add is a + b. Two currencies are an error, never a conversion.
func (a Amount) Add(b Amount) (Amount, error) {
	if a.Currency != b.Currency {
		return Amount{}, fmt.Errorf("%s and %s do not add: amounts of two currencies stay apart", a.Currency, b.Currency)
	}
	sum, err := add(a.Minor, b.Minor)
	return Amount{sum, a.Currency}, err
}

// Sub is a − b, as [Amount.Add].
func (a Amount) Sub(b Amount) (Amount, error) { return a.Add(b.Neg()) }

// Neg is −a.
func (a Amount) Neg() Amount { return Amount{-a.Minor, a.Currency} }

// AtLeast reports whether a is a number of units or more, given in
// ten-thousandths whatever the currency.
func (a Amount) AtLeast(tenThousandths int64) (bool, error) {
	least, err := a.Currency.Least(tenThousandths)
	return a.Minor >= least, err
}

// Least is the fewest minor units that come to a number of units or more, given in
// ten-thousandths.
func (c Currency) Least(tenThousandths int64) (int64, error) {
	scale, err := c.scale()
	if err != nil {
		return 0, err
	}
	of := 10_000 / scale // no currency has more than four decimals
	least := tenThousandths / of
	if least*of < tenThousandths {
		least++
	}
	return least, nil
}

// Typed is the amount as it is typed with a decimal point, without grouping.
func (a Amount) Typed() string {
	decimals, err := a.Currency.Decimals()
	if err != nil {
		decimals = 2
	}
	return TypeFixed(a.Minor, Point, decimals, decimals)
}

// IsZero reports whether nothing is left of the amount.
func (a Amount) IsZero() bool { return a.Minor == 0 }

// Sum adds amounts of currency c; none give zero.
func Sum(c Currency, amounts ...Amount) (Amount, error) {
	total, err := Zero(c), error(nil)
	for _, a := range amounts {
		if total, err = total.Add(a); err != nil {
			return Amount{}, err
		}
	}
	return total, nil
}

// Split divides an amount over weights by largest remainder: each exact share is
// cut towards zero, and the units left over go one each to the largest
// remainders, ties to the earlier. The parts add up to the amount. All weights
// zero count as equal; no weights, or a negative one, are an error.
func (a Amount) Split(weights []int64) ([]Amount, error) {
	shares, err := Split(a.Minor, weights)
	if err != nil {
		return nil, err
	}
	parts := make([]Amount, len(shares))
	for i, share := range shares {
		parts[i] = Amount{share, a.Currency}
	}
	return parts, nil
}

// Percent is a percentage with four decimals: 12.5 % is 125000.
type Percent int64

// Hundred is 100 %.
const Hundred Percent = 1_000_000

// Of is p of a, rounded once.
func (p Percent) Of(a Amount) (Amount, error) {
	minor, err := MulDiv(a.Minor, int64(p), int64(Hundred))
	return Amount{minor, a.Currency}, err
}

// Rate is a price per hour, or per unit, in ten-thousandths: 142.50 is 1425000.
type Rate int64

// ForMinutes is minutes ÷ 60 × rate × (1 + markup), rounded once.
func (r Rate) ForMinutes(minutes int64, markup Percent, c Currency) (Amount, error) {
	return r.times(minutes, 60, markup, c)
}

// ForQuantity is quantity × rate × (1 + markup), rounded once. The quantity has
// four decimals: 2.5 is 25000.
func (r Rate) ForQuantity(quantity int64, markup Percent, c Currency) (Amount, error) {
	return r.times(quantity, 10_000, markup, c)
}

func (r Rate) times(quantity, per int64, markup Percent, c Currency) (Amount, error) {
	scale, err := c.scale()
	if err != nil {
		return Amount{}, err
	}
	factor := int64(1)
	if markup != 0 {
		factor, per = int64(Hundred+markup), per*int64(Hundred)
	}
	const most = 1 << 62
	if factor != 0 && magnitude(quantity) > uint64(most)/(magnitude(factor)*uint64(scale)) {
		return Amount{}, ErrOverflow
	}
	minor, err := MulDiv(quantity*factor*scale, int64(r), per*10_000)
	if err != nil {
		return Amount{}, err
	}
	product := Amount{minor, c}
	return product, product.Within()
}

// ExchangeRate is how many units of the firm's currency one unit of another
// costs, in hundred-millionths: 0.92 is 92000000.
type ExchangeRate int64

// Par is the exchange rate of a currency with itself.
const Par ExchangeRate = 100_000_000

// Inverse is how many units of the other currency one unit of the firm's costs,
// rounded to eight decimals: good for estimates.
func (x ExchangeRate) Inverse() (ExchangeRate, error) {
	n, err := MulDiv(int64(Par), int64(Par), int64(x))
	return ExchangeRate(n), err
}

// Convert is a in the currency to, at the rate x, rounded once.
func (a Amount) Convert(x ExchangeRate, to Currency) (Amount, error) {
	from, err := a.Currency.Decimals()
	if err != nil {
		return Amount{}, err
	}
	dec, err := to.Decimals()
	if err != nil {
		return Amount{}, err
	}
	multiplier, divisor := int64(1), int64(Par)
	if dec > from {
		multiplier = pow10(dec - from)
	} else {
		divisor *= pow10(from - dec)
	}
	if magnitude(a.Minor) > uint64(1<<62)/uint64(multiplier) {
		return Amount{}, ErrOverflow
	}
	minor, err := MulDiv(a.Minor*multiplier, int64(x), divisor)
	return Amount{minor, to}, err
}

// AddByCurrency adds an amount to the sum of its currency among sums, or begins
// one: what can't be one figure is a figure for each currency.
func AddByCurrency(sums []Amount, a Amount) ([]Amount, error) {
	for i, sum := range sums {
		if sum.Currency == a.Currency {
			var err error
			sums[i], err = sum.Add(a)
			return sums, err
		}
	}
	return append(sums, a), nil
}
