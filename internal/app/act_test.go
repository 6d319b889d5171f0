package app_test

import (
	"errors"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"dorvet/core/refusal"
	"dorvet/internal/app"
	"dorvet/internal/apptest"
	"dorvet/internal/store"
)

// rename is an act that gives the firm a name.
func rename(t *testing.T, a *app.App, r app.Request, name string, fail func() error) error {
	t.Helper()
	_, err := app.Do(t.Context(), a, r, "rename", name, func(tx *app.Tx) (string, error) {
		firm, err := store.TheFirm(tx.DB)
		if err != nil {
			return "", err
		}
		before := firm.Name
		firm.Name = name
		tx.Describe(before, name, "Renamed to %s", name)
		tx.LinkTo("renaming", 1)
		if err := store.Save(tx.DB, firm); err != nil {
			return "", err
		}
		return name, fail()
	})
	return err
}

func fine() error { return nil }

func name(t *testing.T, a *app.App) string {
	t.Helper()
	firm, err := store.TheFirm(a.Store.Read(t.Context(), store.Everything))
	if err != nil {
		t.Fatal(err)
	}
	return firm.Name
}

func TestAnActIsOneTransactionWithItsHistory(t *testing.T) {
	a, r := apptest.Firm(t), apptest.Admin
	r.Reason = "merged"
	if err := rename(t, a, r, "Other", fine); err != nil {
		t.Fatal(err)
	}
	history, err := a.History(t.Context(), app.Actor{}, "renaming", 1)
	if err != nil || len(history) != 1 || name(t, a) != "Other" {
		t.Fatalf("%+v, %v", history, err)
	}
	if row := history[0]; row.Who != "Ada Admin" || row.Summary != "Renamed to Other" || row.Reason != "merged" || row.Before != `"Firm"` ||
		row.After != `"Other"` {
		t.Errorf("%+v", row)
	}
}

func TestAFailedActLeavesNothingNotEvenItsHistory(t *testing.T) {
	a := apptest.Firm(t)
	if err := rename(t, a, apptest.Admin, "Other", func() error { return errors.New("stop") }); err == nil {
		t.Fatal("the act passed")
	}
	func() {
		defer func() {
			if recover() == nil {
				t.Error("the act did not panic")
			}
		}()
		rename(t, a, apptest.Admin, "Other", func() error { panic("power cut") })
	}()
	if history, err := a.History(t.Context(), app.Actor{}, "renaming", 1); err != nil || len(history) != 0 || name(t, a) != "Firm" {
		t.Errorf("%+v, %v, %s", history, err, name(t, a))
	}
	if err := rename(t, a, apptest.Admin, "Third", fine); err != nil || name(t, a) != "Third" {
		t.Errorf("after a panic nothing goes on: %v", err)
	}
}

func TestAKeyIsOnePersonsAndOneActs(t *testing.T) {
	a, r := apptest.Firm(t), apptest.Admin
	r.Key = "one key of mine"
	for range 3 {
		if err := rename(t, a, r, "Other", fine); err != nil {
			t.Fatal(err)
		}
	}
	var refusal *app.Refusal
	if err := rename(t, a, r, "Third", fine); !errors.As(err, &refusal) || refusal.Kind != app.Conflict {
		t.Errorf("%v", err)
	}
	other := apptest.Lead
	other.Key = r.Key
	if err := rename(t, a, other, "Fourth", fine); err != nil || name(t, a) != "Fourth" {
		t.Errorf("another person's key: %v, %s", err, name(t, a))
	}
	if history, err := a.History(t.Context(), app.Actor{}, "renaming", 1); err != nil || len(history) != 2 {
		t.Errorf("%d acts, %v", len(history), err)
	}
}

func TestAFailedActDoesNotUseUpItsKey(t *testing.T) {
	a, r := apptest.Firm(t), apptest.Admin
	r.Key = "tried again"
	if err := rename(t, a, r, "Other", func() error { return errors.New("stop") }); err == nil {
		t.Fatal("the act passed")
	}
	if err := rename(t, a, r, "Other", fine); err != nil || name(t, a) != "Other" {
		t.Errorf("%v, %s", err, name(t, a))
	}
}

func TestManyAtOnceWaitForEachOther(t *testing.T) {
	a := apptest.Firm(t)
	var wait sync.WaitGroup
	var done atomic.Int32
	for range 20 {
		wait.Go(func() {
			if err := rename(t, a, apptest.Admin, "Other", fine); err == nil {
				done.Add(1)
			}
		})
	}
	wait.Wait()
	firm, err := store.TheFirm(a.Store.Read(t.Context(), store.Everything))
	if err != nil || done.Load() != 20 || firm.Version != 20 {
		t.Errorf("%d done, version %d, %v", done.Load(), firm.Version, err)
	}
}

func TestRefusalsAreSentences(t *testing.T) {
	for got, want := range map[string]string{
		app.InField("worked", refusal.Errorf("no time is given")).Error(): "No time is given.",
		app.AsConflict(refusal.Errorf("it is billed")).Error():            "It is billed.",
		app.Missing(store.ErrNotFound, "invoice").Error(): "There is no such invoice: it may have been removed. Go back " +
			"and choose another.",
		app.Refuse(app.Invalid, "Give at most %d.", 3).Error(): "Give at most 3.",
	} {
		if got != want {
			t.Errorf("%q, want %q", got, want)
		}
	}
	if app.InField("x", nil) != nil || app.AsConflict(nil) != nil || app.Missing(nil, "x") != nil {
		t.Error("no error is no refusal")
	}
}

// What was answered under a key is kept for a day, and not for ever.
func TestTriesAreForgottenAfterADay(t *testing.T) {
	a := apptest.Firm(t)
	r := apptest.Admin
	r.Key = "a key of today"
	var n atomic.Int64
	act := func() {
		t.Helper()
		if _, err := app.Do(t.Context(), a, r, "count", nil, func(*app.Tx) (int64, error) { return n.Add(1), nil }); err != nil {
			t.Fatal(err)
		}
	}
	act()
	act()
	if err := a.Store.ForgetTries(t.Context(), a.Clock.Now().Add(-time.Hour)); err != nil {
		t.Fatal(err)
	}
	if act(); n.Load() != 1 {
		t.Errorf("it was done %d times under one key", n.Load())
	}
	if err := a.Store.ForgetTries(t.Context(), a.Clock.Now().Add(time.Second)); err != nil {
		t.Fatal(err)
	}
	if act(); n.Load() != 2 {
		t.Errorf("the answer of yesterday is kept: %d", n.Load())
	}
}
