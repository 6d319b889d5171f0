package app_test

import (
	"bytes"
	"context"
	"errors"
	"log/slog"
	"strings"
	"testing"

	"dorvet/internal/app"
	"dorvet/internal/apptest"
)

// Who began a job reads why it stopped; what went wrong stands in the log under the
// number of the job.
func TestAJobThatFailsOrPanicsLeavesATraceAndASentence(t *testing.T) {
	a := apptest.Firm(t)
	var log bytes.Buffer
	before := slog.Default()
	slog.SetDefault(slog.New(slog.NewTextHandler(&log, nil)))
	defer slog.SetDefault(before)
	for _, c := range []struct {
		name   string
		work   func() (string, error)
		says   string
		logged string
	}{
		{"refused", func() (string, error) { return "", app.Refuse(app.Conflict, "The period is closed.") }, "The period is closed.", ""},
		{"failed", func() (string, error) { return "", errors.New("no such column") }, "It was job", "no such column"},
		{"broke off", func() (string, error) { panic("index out of range") }, "it was job", "index out of range"},
	} {
		log.Reset()
		job, err := a.Jobs.Begin(a, apptest.Admin, app.Try{}, "issue", 0, 3, "",
			func(_ context.Context, _ int64, tell app.Progress) (string, error) {
				tell(1)
				return c.work()
			})
		if err != nil {
			t.Fatal(err)
		}
		a.Jobs.Wait()
		ended, err := a.Jobs.Read(t.Context(), a, apptest.Admin.Actor, job.ID)
		if err != nil || ended.State != "failed" || ended.Done != 1 ||
			!strings.Contains(strings.ToLower(ended.Said), strings.ToLower(c.says)) ||
			strings.Contains(ended.Said, "column") {
			t.Errorf("%s: %+v, %v", c.name, ended, err)
		}
		if c.logged != "" && !strings.Contains(log.String(), c.logged) || (c.logged == "") != (log.Len() == 0) {
			t.Errorf("%s: the log says %q", c.name, log.String())
		}
	}
}

// A job that is asked for again under the key of its try is the one that was begun.
func TestAJobIsBegunOnceATry(t *testing.T) {
	a := apptest.Firm(t)
	begin := func(key string, input int) *app.Job {
		t.Helper()
		ctx := app.WithKey(t.Context(), key)
		before, try, err := a.Jobs.Try(ctx, a, apptest.Admin, "issue", input)
		if before != nil || err != nil {
			if err != nil {
				t.Fatal(err)
			}
			return before
		}
		job, err := a.Jobs.Begin(a, apptest.Admin, try, "issue", 0, 1, "",
			func(context.Context, int64, app.Progress) (string, error) { return "Done.", nil })
		if err != nil {
			t.Fatal(err)
		}
		return job
	}
	first := begin("the first try", 1)
	a.Jobs.Wait()
	if again := begin("the first try", 1); again.ID != first.ID || again.State != "done" {
		t.Errorf("asked again it is %+v", again)
	}
	if other := begin("another try", 1); other.ID == first.ID {
		t.Error("another try is the first job")
	}
	if _, _, err := a.Jobs.Try(app.WithKey(t.Context(), "the first try"), a, apptest.Admin, "issue", 2); err == nil {
		t.Error("the key with other input is taken")
	}
	a.Jobs.Wait()
}
