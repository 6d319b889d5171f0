package registry

import (
	"cmp"
	"strings"
	"unicode/utf8"
)

// CompareNames orders names as lists show them and people look them up: by letters, without regard to case, and with
// the numbers in them by size, so that 3 comes before 12.
func CompareNames(a, b string) int {
	a, b = strings.ToLower(a), strings.ToLower(b)
	for a != "" && b != "" {
		numberA, numberB := digitsOf(a), digitsOf(b)
		if numberA == "" || numberB == "" {
			letterA, sizeA := utf8.DecodeRuneInString(a)
			letterB, sizeB := utf8.DecodeRuneInString(b)
			if letterA != letterB {
				return cmp.Compare(letterA, letterB)
			}
			a, b = a[sizeA:], b[sizeB:]
			continue
		}
		a, b = a[len(numberA):], b[len(numberB):]
		numberA, numberB = strings.TrimLeft(numberA, "0"), strings.TrimLeft(numberB, "0")
		if numberA != numberB {
			return cmp.Or(cmp.Compare(len(numberA), len(numberB)), strings.Compare(numberA, numberB))
		}
	}
	return cmp.Compare(len(a), len(b))
}

// digitsOf are the digits with which a text begins.
func digitsOf(text string) string {
	return text[:len(text)-len(strings.TrimLeft(text, "0123456789"))]
}
