package registry_test

import (
	"slices"
	"testing"

	"dorvet/internal/app/registry"
)

// Common practice: what is called by number stands first, by size; then letters, small and capital alike.
func TestNamesAreInTheOrderInWhichTheyAreLookedUp(t *testing.T) {
	want := []string{"", "0 Point", "3 Quays", "12 Fathom", "12 fathom deep", "99999999999999999999 of them", "Berth 2", "berth 007",
		"Berth 10", "Berth 10 b", "Berth x", "cedar", "Dogwood", "Éire"}
	got := slices.Clone(want)
	slices.Reverse(got)
	slices.SortFunc(got, registry.CompareNames)
	if !slices.Equal(got, want) {
		t.Errorf("%q", got)
	}
	for _, a := range want {
		for _, b := range want {
			if registry.CompareNames(a, b) != -registry.CompareNames(b, a) {
				t.Errorf("%q and %q have no order", a, b)
			}
		}
	}
}
