package registry

import (
	"cmp"
	"strings"
)

// CompareNames orders names as lists show them and people look them up: by letters, without regard to case, and with
// the numbers in them by size, so that 3 comes before 12.
func CompareNames(a, b string) int {
	a, b = strings.ToLower(a), strings.ToLower(b)
	at := 0
	for at < len(a) && at < len(b) && a[at] == b[at] {
		at++
	}
	for at > 0 && isDigit(a[at-1]) { // a number counts whole
		at--
	}
	numberA, numberB := digitsOf(a[at:]), digitsOf(b[at:])
	if numberA == "" || numberB == "" {
		return strings.Compare(a[at:], b[at:])
	}
	sizeA, sizeB := strings.TrimLeft(numberA, "0"), strings.TrimLeft(numberB, "0")
	if sizeA != sizeB {
		return cmp.Or(cmp.Compare(len(sizeA), len(sizeB)), strings.Compare(sizeA, sizeB))
	}
	return CompareNames(a[at+len(numberA):], b[at+len(numberB):])
}

func isDigit(b byte) bool { return '0' <= b && b <= '9' }

// digitsOf are the digits with which a text begins.
func digitsOf(text string) string {
	at := 0
	for at < len(text) && isDigit(text[at]) {
		at++
	}
	return text[:at]
}
