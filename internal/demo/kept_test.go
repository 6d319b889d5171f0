package demo

import (
	"maps"
	"runtime/debug"
	"slices"
	"strings"
	"sync"
	"testing"

	"dorvet/internal/app"
	"dorvet/internal/apptest"
)

// What is kept of clients is made of nothing whose changes are not counted: else it would stand when it no longer
// holds. SQLite itself says what the computations read.
func TestWhatIsKeptIsMadeOfWhatIsCounted(t *testing.T) {
	a := &app.App{Store: seeded(t), Clock: app.PinnedClock{Date: Today}, Kept: new(app.Kept)}
	var lock sync.Mutex
	missing := map[string]bool{}
	// What follows a table that is counted, and what is beside an expense on paper and in no figure.
	// Acts and what issuing froze are only added to, together with movements.
	follows := []string{"time_months", "purchases", "json_each", "acts", "invoice_revisions"}
	if err := a.Store.Watch(t, func(table, column string, counted bool) {
		if counted || slices.Contains(follows, table) || !strings.Contains(string(debug.Stack()), "internal/app.keep[") {
			return
		}
		lock.Lock()
		defer lock.Unlock()
		missing[table+"."+column] = true
	}); err != nil {
		t.Fatal(err)
	}
	for _, actor := range []app.Actor{{PersonID: 1, Role: app.Administrator}, {PersonID: 2, Role: app.Lead},
		{PersonID: 1, Role: app.Administrator, Entities: []int64{2}}} {
		apptest.KeptFigures(t, a, actor, Today.AddDays(-1))
	}
	if len(missing) > 0 {
		t.Errorf("not counted, but read: %v", slices.Sorted(maps.Keys(missing)))
	}
}
