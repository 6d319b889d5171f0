package money

import (
	"errors"
	"math"
	"math/bits"

	"dorvet/core/refusal"
)

// ErrOverflow says that a result does not fit into 64 bits.
var ErrOverflow = refusal.Errorf("the amount is too large to compute")

// MulDiv is a × b ÷ c, rounded once, half away from zero. The product has 128
// bits, so only a result outside int64 is an error ([ErrOverflow]), as is c = 0.
func MulDiv(a, b, c int64) (int64, error) {
	if c == 0 {
		return 0, errors.New("division by zero")
	}
	negative := (a < 0) != (b < 0) != (c < 0)
	hi, lo := bits.Mul64(magnitude(a), magnitude(b))
	divisor := magnitude(c)
	if hi >= divisor {
		return 0, ErrOverflow
	}
	quotient, remainder := bits.Div64(hi, lo, divisor)
	if remainder >= divisor-remainder {
		quotient++
		if quotient == 0 {
			return 0, ErrOverflow
		}
	}
	return signed(quotient, negative)
}

// mulCut is a × b ÷ c cut towards zero, with the remainder's size.
func mulCut(a, b, c int64) (quotient int64, remainder uint64, err error) {
	hi, lo := bits.Mul64(magnitude(a), magnitude(b))
	divisor := magnitude(c)
	if hi >= divisor {
		return 0, 0, ErrOverflow
	}
	q, r := bits.Div64(hi, lo, divisor)
	quotient, err = signed(q, (a < 0) != (b < 0) != (c < 0))
	return quotient, r, err
}

// add is a + b, or [ErrOverflow].
func add(a, b int64) (int64, error) {
	sum := a + b
	if (a > 0 && b > 0 && sum < 0) || (a < 0 && b < 0 && sum >= 0) {
		return 0, ErrOverflow
	}
	return sum, nil
}

func magnitude(n int64) uint64 {
	if n < 0 {
		return -uint64(n)
	}
	return uint64(n)
}

func signed(size uint64, negative bool) (int64, error) {
	switch {
	case negative && size == 1<<63:
		return math.MinInt64, nil
	case size > math.MaxInt64:
		return 0, ErrOverflow
	case negative:
		return -int64(size), nil
	}
	return int64(size), nil
}
