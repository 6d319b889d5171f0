package registry

import (
	"cmp"
	"slices"
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

// SortNamed puts things in the order of their names, as [CompareNames] has it; those of one
// name stay as they were. Each name is read once.
func SortNamed[T any](list []T, name func(*T) string) {
	type place struct {
		number   int
		numbered bool
		letters  string
		at       int
	}
	places := make([]place, len(list))
	for i := range list {
		text := name(&list[i])
		number, numbered := leadingNumber(text)
		places[i] = place{number, numbered, strings.ToLower(text), i}
	}
	slices.SortFunc(places, func(a, b place) int {
		switch {
		case a.numbered && !b.numbered:
			return -1
		case b.numbered && !a.numbered:
			return 1
		}
		return cmp.Or(cmp.Compare(a.number, b.number), strings.Compare(a.letters, b.letters), cmp.Compare(a.at, b.at))
	})
	sorted := make([]T, len(list))
	for i, p := range places {
		sorted[i] = list[p.at]
	}
	copy(list, sorted)
}
