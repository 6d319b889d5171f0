// Package money computes amounts exactly and rounds them once.
//
// An [Amount] is a whole number of minor units of one ISO 4217 currency: cents
// for EUR, yen for JPY, fils for BHD. Amounts of two currencies never add.
// A [Rate] is a price per hour or per unit with four decimals, a [Percent] a
// percentage with four decimals.
//
// Rounding is half away from zero (0.005 becomes 0.01, −0.005 becomes −0.01)
// and happens only where a rule names it. Products are taken with 128 bits, so
// that nothing is lost in between; what does not fit is [ErrOverflow].
//
// An amount is split over weights by largest remainder ([Split]), so that the
// parts always add up to the whole:
//
//	100.00 over 1:1:1 gives 33.34, 33.33, 33.33
package money
