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

// Then is what is done with many invoices once they are issued, in the same job; it says what it did.
type Then func(ctx context.Context, issued []int64) (said string, err error)

// BeginIssue issues drafts in the background, in the order of their dates and
// clients, each as a whole: a number is given only with everything that belongs to
// it. One that can't be issued is left, and told.
func BeginIssue(ctx context.Context, a *app.App, r app.Request, edits []drafts.Edit) (*app.Job, error) {
	return BeginIssueThen(ctx, a, r, edits, nil)
}

// BeginIssueThen issues drafts as [BeginIssue] does, and then does something with those that were issued.
func BeginIssueThen(ctx context.Context, a *app.App, r app.Request, edits []drafts.Edit, then Then) (*app.Job, error) {
	seen := new(prefetched)
	return beginMany(ctx, a, r, many{"issue", "Issued", then}, edits, func(ctx context.Context, rest []store.InvoiceRow, e drafts.Edit) error {
		if err := seen.prefetch(ctx, a, r.Actor, rest); err != nil {
			return err
		}
		_, err := issue(ctx, a, app.Request{Actor: r.Actor}, e, seen)
		return err
	})
}

// BeginReopen reopens issued invoices in the background, the last first.
func BeginReopen(ctx context.Context, a *app.App, r app.Request, edits []drafts.Edit) (*app.Job, error) {
	return beginMany(ctx, a, r, many{"reopen", "Reopened", nil}, edits, func(ctx context.Context, _ []store.InvoiceRow, e drafts.Edit) error {
		_, err := Reopen(ctx, a, app.Request{Actor: r.Actor}, e)
		return err
	})
}

// many is what is done to many invoices: its name, the word for it when it is done, and what follows.
type many struct {
	kind, done string
	then       Then
}

func beginMany(ctx context.Context, a *app.App, r app.Request, what many, edits []drafts.Edit,
	one func(ctx context.Context, rest []store.InvoiceRow, e drafts.Edit) error) (*app.Job, error) {
	before, try, err := a.Jobs.Try(ctx, a, r, what.kind, []any{edits, what.then != nil})
	if before != nil || err != nil {
		return before, err
	}
	versions := map[int64]int64{}
	for _, e := range edits {
		versions[e.ID] = e.Version
	}
	rows, err := papers.InOrderOf(ctx, a, r.Actor, slices.Collect(maps.Keys(versions)), what.kind == "reopen")
	if err != nil {
		return nil, err
	}
	return a.Jobs.Begin(a, r, try, what.kind, 0, len(rows), "", func(ctx context.Context, _ int64, tell app.Progress) (string, error) {
		not, did := []NotIssued{}, []int64{}
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
				did = append(did, row.ID)
			}
			tell(i + 1)
		}
		said := saidMany(what.done, len(did), len(rows), not)
		if what.then == nil || len(did) == 0 || ctx.Err() != nil {
			return said, nil
		}
		also, err := what.then(ctx, did)
		return said + " " + also, err
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
