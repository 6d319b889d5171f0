package money

import (
	"strconv"
	"strings"

	"dorvet/core/refusal"
)

// String is the amount as it is read in English, with U+2212 as minus sign and
// without its currency: 1,234.50 or −6.67.
func (a Amount) String() string {
	d, err := a.Currency.Decimals()
	if err != nil {
		d = 2
	}
	return fixed(a.Minor, d, d)
}

// String is the rate with at least two decimals: 142.50 or 33.3333.
func (r Rate) String() string { return fixed(int64(r), 4, 2) }

// String is the percentage without needless decimals: 12.5 or 23.
func (p Percent) String() string { return fixed(int64(p), 4, 0) }

// fixed writes a number with implied decimals, grouped by thousands, and drops
// trailing zeros beyond the least decimals that are to stay.
func fixed(n int64, decimals, least int) string {
	digits := strconv.FormatUint(magnitude(n), 10)
	if missing := decimals + 1 - len(digits); missing > 0 {
		digits = strings.Repeat("0", missing) + digits
	}
	whole, fraction := digits[:len(digits)-decimals], digits[len(digits)-decimals:]
	for len(fraction) > least && strings.HasSuffix(fraction, "0") {
		fraction = fraction[:len(fraction)-1]
	}
	var b strings.Builder
	if n < 0 {
		b.WriteString("−")
	}
	for i, digit := range whole {
		if i > 0 && (len(whole)-i)%3 == 0 {
			b.WriteByte(',')
		}
		b.WriteRune(digit)
	}
	if fraction != "" {
		b.WriteByte('.')
		b.WriteString(fraction)
	}
	return b.String()
}

// Mark is the decimal mark of the firm, '.' or ','.
type Mark rune

// The two decimal marks; the other one of them groups thousands.
const (
	Point Mark = '.'
	Comma Mark = ','
)

func (m Mark) grouping() byte {
	if m == Comma {
		return '.'
	}
	return ','
}

// ParseFixed reads a typed number as a whole number of 10^−decimals units:
// with Point and 2 decimals "1,250.5" is 125050. Spaces and apostrophes may
// group thousands as well. What can be read in two ways, such as "1.250" where
// the mark is a comma, is refused with both readings.
func ParseFixed(typed string, mark Mark, decimals int) (int64, error) {
	text := strings.TrimSpace(strings.NewReplacer("−", "-", "\u00a0", " ", "\u202f", " ", "'", " ").Replace(typed))
	sign := int64(1)
	if rest, ok := strings.CutPrefix(text, "-"); ok {
		sign, text = -1, strings.TrimSpace(rest)
	}
	if err := ambiguous(text, mark); err != nil {
		return 0, err
	}
	whole, fraction, _ := strings.Cut(text, string(rune(mark)))
	digits, ok := ungroup(whole, mark.grouping())
	if !ok || (digits == "" && fraction == "") || !allDigits(fraction) {
		return 0, refusal.Errorf("%q is not a number: type it like %s", typed, example(mark))
	}
	if len(strings.TrimRight(fraction, "0")) > decimals {
		return 0, refusal.Errorf("%q has more than %d decimals", typed, decimals)
	}
	for len(fraction) < decimals {
		fraction += "0"
	}
	n, err := strconv.ParseInt("0"+digits+fraction[:decimals], 10, 64)
	if err != nil || n > Most {
		return 0, refusal.Errorf("%q is too large: give at most %s", typed, fixed(Most, decimals, 0))
	}
	return sign * n, nil
}

// TypeFixed writes whole 10^−decimals units as they are typed: without grouping,
// with the mark, and without needless zeros beyond the least decimals. It is
// read back by [ParseFixed].
func TypeFixed(n int64, mark Mark, decimals, least int) string {
	text := strings.ReplaceAll(fixed(n, decimals, least), ",", "")
	text = strings.Replace(text, "−", "-", 1)
	return strings.Replace(text, ".", string(rune(mark)), 1)
}

// ambiguous refuses one grouping mark before exactly three digits, with no
// decimal mark: the other half of the world would read it as a decimal.
func ambiguous(text string, mark Mark) error {
	whole, fraction, found := strings.Cut(text, string(mark.grouping()))
	if !found || len(fraction) != 3 || !allDigits(whole+fraction) || len(whole) > 3 || whole == "" || whole[0] == '0' {
		return nil
	}
	if mark == Point {
		return nil // 1,250 is a thousand wherever the point is the mark
	}
	return refusal.Errorf("%q can be read as %s%s or as %s,%s: type it without the point, or with a comma", text, whole, fraction, whole,
		fraction)
}

func ungroup(whole string, grouping byte) (string, bool) {
	groups := strings.FieldsFunc(whole, func(r rune) bool { return r == rune(grouping) || r == ' ' })
	for i, group := range groups {
		if !allDigits(group) || (i > 0 && len(group) != 3) || (i == 0 && len(groups) > 1 && len(group) > 3) {
			return "", false
		}
	}
	return strings.Join(groups, ""), true
}

func allDigits(s string) bool {
	return strings.Trim(s, "0123456789") == ""
}

func example(mark Mark) string {
	if mark == Comma {
		return "1250,50"
	}
	return "1,250.50"
}
