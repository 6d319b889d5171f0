package registry

import (
	"cmp"
	"strconv"
	"strings"
	"unicode"
)

// CompareNames orders names as lists show them: names with a leading number
// first, by that number, then the others by letters, without regard to case.
func CompareNames(a, b string) int {
	numberA, hasA := leadingNumber(a)
	numberB, hasB := leadingNumber(b)
	switch {
	case hasA && !hasB:
		return -1
	case hasB && !hasA:
		return 1
	}
	return cmp.Or(cmp.Compare(numberA, numberB), strings.Compare(strings.ToLower(a), strings.ToLower(b)))
}

func leadingNumber(name string) (int, bool) {
	digits := name[:len(name)-len(strings.TrimLeftFunc(name, func(r rune) bool { return r < unicode.MaxASCII && unicode.IsDigit(r) }))]
	n, err := strconv.Atoi(digits)
	return n, err == nil
}
