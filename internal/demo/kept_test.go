package demo

import (
	"errors"
	"maps"
	"runtime/debug"
	"slices"
	"strings"
	"sync"
	"testing"

	"dorvet/internal/app"
	"dorvet/internal/app/invoices"
	"dorvet/internal/app/receivables"
	"dorvet/internal/app/reports"
	"dorvet/internal/app/timekeeping"
	"dorvet/internal/app/wip"
)

// What is kept of clients is made of nothing whose changes are not counted: else it would stand when it no longer
// holds. SQLite itself says what the computations read.
func TestWhatIsKeptIsMadeOfWhatIsCounted(t *testing.T) {
	a := &app.App{Store: seeded(t), Clock: app.PinnedClock{Date: Today}, Kept: new(app.Kept)}
	var lock sync.Mutex
	missing := map[string]bool{}
	// What follows a table that is counted, and what is beside an expense on paper and in no figure.
	follows := []string{"time_months", "purchases", "json_each"}
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
		askAll(t, a, actor)
	}
	if len(missing) > 0 {
		t.Errorf("not counted, but read: %v", slices.Sorted(maps.Keys(missing)))
	}
}

// askAll asks for everything of which something is kept.
func askAll(t *testing.T, a *app.App, actor app.Actor) {
	t.Helper()
	november := Today.AddDays(-1)
	_, rail := reports.Figures(t.Context(), a, actor)
	_, clients := reports.Clients(t.Context(), a, actor, reports.ClientFilter{Standing: "all"}, 0, 1000)
	_, board := wip.Board(t.Context(), a, actor)
	_, work := wip.Unbilled(t.Context(), a, actor, wip.Filter{From: november.AddDays(-29), UpTo: november})
	_, owed := receivables.Owed(t.Context(), a, actor, receivables.Filter{})
	_, register := invoices.RegisterPage(t.Context(), a, actor, invoices.Filter{}, 0, 100)
	_, time := timekeeping.Find(t.Context(), a, actor, timekeeping.Filter{States: []string{"to_bill", "on_hold", "approved"}}, 0, 100)
	_, groups := timekeeping.Groups(t.Context(), a, actor, timekeeping.Filter{}, true)
	if err := errors.Join(register, time, groups, rail, clients, board, work, owed); err != nil {
		t.Fatal(err)
	}
}
