package registry

import (
	"math/rand/v2"
	"slices"
	"testing"
)

// Property: sorting many is comparing two at a time, and those of one name keep their order.
func TestManyAreSortedAsTwoAreCompared(t *testing.T) {
	names := []string{"12 Fathom", "3 Quays", "arden", "Arden", "Åland", "Zephyr", "", "3 quays", "007", "x 3"}
	random := rand.New(rand.NewPCG(3, 7))
	for range 200 {
		type named struct {
			name string
			at   int
		}
		list := make([]named, 12)
		for i := range list {
			list[i] = named{names[random.IntN(len(names))], i}
		}
		want := slices.Clone(list)
		slices.SortStableFunc(want, func(a, b named) int { return CompareNames(a.name, b.name) })
		SortNamed(list, func(n *named) string { return n.name })
		if !slices.Equal(list, want) {
			t.Fatalf("%v, want %v", list, want)
		}
	}
}
