package app_test

import (
	"errors"
	"slices"
	"testing"

	"dorvet/internal/app"
	"dorvet/internal/apptest"
	"dorvet/internal/store"
)

// What was computed of a client holds until something of it is written: then it is computed again, and of no other.
func TestWhatIsComputedOfAClientHoldsUntilItIsWritten(t *testing.T) {
	a := apptest.Firm(t)
	asked := [][]int64{}
	broken := errors.New("broken")
	var fails error
	read := func(scope store.AccessScope) map[int64]*int64 {
		t.Helper()
		tx := a.Store.Read(t.Context(), scope)
		kept, err := app.PerClient(a, tx, "test", "", func(clientIDs []int64) (map[int64]*int64, error) {
			asked = append(asked, clientIDs)
			sums, err := store.UnbilledFees(tx, []int64{apptest.Survey, apptest.Study})
			survey, study := sums[apptest.Survey], sums[apptest.Study]
			found := map[int64]*int64{1: &survey, 2: &study}
			for id := range found {
				if clientIDs != nil && !slices.Contains(clientIDs, id) {
					delete(found, id)
				}
			}
			return found, errors.Join(err, fails)
		})
		if !errors.Is(err, fails) {
			t.Fatal(err)
		}
		return kept
	}
	expect := func(why string, calls [][]int64, survey, study int64) {
		t.Helper()
		kept := read(store.Everything)
		if len(asked) != len(calls) || *kept[1] != survey || *kept[2] != study {
			t.Fatalf("%s: asked %v, %d and %d", why, asked, *kept[1], *kept[2])
		}
		for i := range calls {
			if !slices.Equal(asked[i], calls[i]) || (asked[i] == nil) != (calls[i] == nil) {
				t.Errorf("%s: asked %v", why, asked)
			}
		}
		asked = nil
	}
	expect("at first", [][]int64{nil}, 0, 0)
	expect("again", nil, 0, 0)
	apptest.Record(t, a, apptest.Study, "2026-11-02", "1h")
	expect("after time of one", [][]int64{{2}}, 0, 8000)
	apptest.Set(t, a, "people", 2, "phone", "12")
	expect("after what no figure is made of", nil, 0, 8000)
	apptest.Set(t, a, "services", 1, "name", "Labour")
	expect("after what concerns all", [][]int64{nil}, 0, 8000)

	apptest.Record(t, a, apptest.Survey, "2026-11-02", "1h")
	fails = broken
	read(store.Everything)
	fails, asked = nil, nil
	expect("after a computation that failed", [][]int64{{1}}, 10000, 8000)

	read(store.AccessScope{Leads: []int64{}})
	if len(asked) != 1 {
		t.Error("who sees nobody's is given everybody's")
	}
}
