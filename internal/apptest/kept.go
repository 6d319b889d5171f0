package apptest

import (
	"errors"
	"testing"

	"dorvet/core/day"
	"dorvet/internal/app"
	"dorvet/internal/app/invoices"
	"dorvet/internal/app/receivables"
	"dorvet/internal/app/reports"
	"dorvet/internal/app/timekeeping"
	"dorvet/internal/app/wip"
)

// KeptFigures are all answers of which something is kept per client ([app.PerClient]), for an actor.
func KeptFigures(t testing.TB, a *app.App, actor app.Actor, upTo day.Day) []any {
	t.Helper()
	rail, err1 := reports.Figures(t.Context(), a, actor)
	clients, err2 := reports.Clients(t.Context(), a, actor, reports.ClientFilter{Standing: "all"}, 0, 1000)
	board, err3 := wip.Board(t.Context(), a, actor)
	work, err4 := wip.Unbilled(t.Context(), a, actor, wip.Filter{From: upTo.AddDays(-20), UpTo: upTo})
	owed, err5 := receivables.Owed(t.Context(), a, actor, receivables.Filter{})
	register, err6 := invoices.RegisterPage(t.Context(), a, actor, invoices.Filter{}, 0, 10)
	time, err7 := timekeeping.Find(t.Context(), a, actor, timekeeping.Filter{States: []string{"to_bill", "on_hold", "approved"}}, 0, 10)
	groups, err8 := timekeeping.Groups(t.Context(), a, actor, timekeeping.Filter{}, true)
	journal, err9 := reports.JournalOf(t.Context(), a, actor, reports.JournalFilter{From: upTo.AddDays(-60), To: upTo.AddDays(60)}, 0, 1000)
	must(t, errors.Join(err1, err2, err3, err4, err5, err6, err7, err8, err9))
	return []any{rail, clients, board, work, owed, register, time, groups, journal}
}
