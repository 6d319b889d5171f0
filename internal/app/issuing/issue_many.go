package issuing

import (
	"context"
	"errors"
	"fmt"
	"maps"
	"slices"

	"dorvet/internal/app"
	"dorvet/internal/app/drafts"
	"dorvet/internal/app/papers"
	"dorvet/internal/store"
)

// NotIssued is a draft that was not issued, or an invoice that was not reopened, and
// why.
type NotIssued struct {
	ID     int64  `json:"id"`
	Client string `json:"client"`
	Why    string `json:"why"`
}

// BeginIssue issues drafts in the background, in the order of their dates and
// clients, each as a whole: a number is given only with everything that belongs to
// it. One that can't be issued is left, and told.
func BeginIssue(ctx context.Context, a *app.App, r app.Request, edits []drafts.Edit) (*app.Job, error) {
	seen := new(prefetched)
	return beginMany(ctx, a, r, "issue", "Issued", edits, func(ctx context.Context, rest []store.InvoiceRow, e drafts.Edit) error {
		if err := seen.prefetch(ctx, a, r.Actor, rest); err != nil {
			return err
		}
		_, err := issue(ctx, a, app.Request{Actor: r.Actor}, e, seen)
		return err
	})
}

// BeginReopen reopens issued invoices in the background, the last first.
func BeginReopen(ctx context.Context, a *app.App, r app.Request, edits []drafts.Edit) (*app.Job, error) {
	return beginMany(ctx, a, r, "reopen", "Reopened", edits, func(ctx context.Context, _ []store.InvoiceRow, e drafts.Edit) error {
		_, err := Reopen(ctx, a, app.Request{Actor: r.Actor}, e)
		return err
	})
}

func beginMany(ctx context.Context, a *app.App, r app.Request, kind, done string, edits []drafts.Edit,
	one func(ctx context.Context, rest []store.InvoiceRow, e drafts.Edit) error) (*app.Job, error) {
	before, try, err := a.Jobs.Try(ctx, a, r, kind, edits)
	if before != nil || err != nil {
		return before, err
	}
	versions := map[int64]int64{}
	for _, e := range edits {
		versions[e.ID] = e.Version
	}
	rows, err := papers.InOrderOf(ctx, a, r.Actor, slices.Collect(maps.Keys(versions)), kind == "reopen")
	if err != nil {
		return nil, err
	}
	return a.Jobs.Begin(a, r, try, kind, 0, len(rows), "", func(ctx context.Context, _ int64, tell app.Progress) (string, error) {
		not, n := []NotIssued{}, 0
		for i, row := range rows {
			if ctx.Err() != nil {
				break
			}
			var refusal *app.Refusal
			err := one(context.WithoutCancel(ctx), rows[i:], drafts.Edit{ID: row.ID, Version: versions[row.ID]})
			switch {
			case errors.As(err, &refusal):
				not = append(not, NotIssued{row.ID, row.Client, refusal.Sentence})
			case err != nil:
				return "", err
			default:
				n++
			}
			tell(i + 1)
		}
		return saidMany(done, n, len(rows), not), nil
	})
}

// saidMany says what became of many invoices.
func saidMany(done string, n, of int, not []NotIssued) string {
	said := fmt.Sprintf("%s %d of %d.", done, n, of)
	if n == of {
		said = fmt.Sprintf("%s %s.", done, app.Counted(n, "invoice", "invoices"))
	}
	for i, left := range not {
		if i == 5 {
			return said + fmt.Sprintf(" And %d more.", len(not)-i)
		}
		said += " " + left.Client + ": " + left.Why
	}
	return said
}
