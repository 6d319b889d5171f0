package drafts

import (
	"context"

	"dorvet/core/invoice"
	"dorvet/internal/app"
	"dorvet/internal/app/wip"
	"dorvet/internal/store"
)

// Edit names the draft that is changed, as it was last seen.
type Edit struct {
	ID      int64 `json:"id"`
	Version int64 `json:"version"`
}

// SetText changes what the client reads on a line; the entry keeps its own text.
func SetText(ctx context.Context, a *app.App, r app.Request, e Edit, lineID int64, text string) (*Changed, error) {
	input := struct {
		LineID int64
		Text   string
	}{lineID, text}
	return Reword(ctx, a, r, "change text of line", e, input, func(tx *app.Tx, inv *store.Invoice) error {
		line, err := store.Get[store.InvoiceLine](tx.DB, lineID)
		if err := app.Unless(err, app.Refuse(app.Conflict, "This line is not on the draft any more: load the page again."),
			func() bool { return line.InvoiceID == inv.ID }); err != nil {
			return err
		}
		if text == "" {
			return app.RefuseField("text", "The client would read nothing: give the line a text.")
		}
		tx.Describe(line.Text, text, "Changed a text to “%s”", text)
		line.Text = text
		return store.Save(tx.DB, line)
	})
}

// Changed is what an act did: to which invoice, and which act it was, so that it can be
// taken back. Who wants the invoice itself reads it.
type Changed struct {
	ID      int64
	Version int64
	ActID   int64
}

// ChangedBy says that an act has changed an invoice.
func ChangedBy(tx *app.Tx, inv *store.Invoice) *Changed {
	return &Changed{inv.ID, inv.Version, tx.ActID}
}

// Change runs an act on a draft, and brings it up to date.
func Change(ctx context.Context, a *app.App, r app.Request, kind string, e Edit, input any,
	act func(*app.Tx, *store.Invoice) error) (*Changed, error) {
	return app.Do(ctx, a, r, kind, []any{e, input}, func(tx *app.Tx) (*Changed, error) {
		inv, err := Step(tx, e, invoice.Change)
		if err != nil {
			return nil, err
		}
		if err := act(tx, inv); err != nil {
			return nil, err
		}
		firm, err := store.TheFirm(tx.DB)
		if err != nil {
			return nil, err
		}
		err = Recompute(tx, firm, inv)
		return ChangedBy(tx, inv), err
	})
}

// Step reads an invoice as it was last seen and takes it to its next state.
func Step(tx *app.Tx, e Edit, act invoice.Act) (*store.Invoice, error) {
	inv, err := store.Get[store.Invoice](tx.DB, e.ID)
	if err != nil {
		return nil, app.Missing(err, "invoice")
	}
	if act == invoice.Change {
		err = ForgetApproval(tx, inv)
	} else {
		inv.State, err = inv.State.After(act)
	}
	if err != nil {
		return nil, app.AsConflict(err)
	}
	if inv.Version != e.Version {
		return nil, store.ErrStale
	}
	tx.LinkTo(app.OfInvoice, inv.ID)
	return inv, nil
}

// Delete throws a draft away: everything on it is unbilled again.
func Delete(ctx context.Context, a *app.App, r app.Request, e Edit) error {
	_, err := app.Do(ctx, a, r, "delete draft", e, func(tx *app.Tx) (struct{}, error) {
		inv, err := Step(tx, e, invoice.Delete)
		if err != nil {
			return struct{}{}, err
		}
		if inv.Number != nil {
			return struct{}{}, app.Refuse(app.Conflict, "It was issued as %s, and numbers have no gaps: issue it again, and credit it if "+
				"nothing of it is owed.", inv.NumberText)
		}
		portions, err := store.PortionsOn(tx.DB, inv.ID)
		if err != nil {
			return struct{}{}, err
		}
		tx.Describe(map[string]any{"net": inv.Net, "entries": len(portions)}, nil, "Deleted the draft; %s unbilled again",
			app.Counted(len(portions), "entry is", "entries are"))
		return struct{}{}, ClearOut(tx, inv, portions)
	})
	return err
}

// empty takes everything off a draft.
func empty(tx *app.Tx, inv *store.Invoice, portions []store.PortionRow) error {
	lines, err := store.LinesOf(tx.DB, inv.ID)
	if err != nil {
		return err
	}
	for i := range lines {
		if err := store.RemoveLine(tx.DB, &lines[i]); err != nil {
			return err
		}
	}
	for i := range portions {
		Concerns(tx, &portions[i])
		if err := wip.Join(tx, &portions[i].Portion); err != nil {
			return err
		}
	}
	return nil
}

// ForgetApproval takes the approval of a draft away that is changed: what its leads said
// was about another bill. Those who said it themselves are asked again.
func ForgetApproval(tx *app.Tx, inv *store.Invoice) (err error) {
	was := inv.State
	if _, err = was.After(invoice.Change); err != nil {
		return app.AsConflict(err)
	}
	if inv.State = invoice.Draft; was == invoice.Draft {
		return nil
	}
	said, err := store.ApprovalsOf(tx.DB, inv.ID)
	if err != nil {
		return err
	}
	if err := store.ForgetApprovals(tx.DB, inv.ID); err != nil {
		return err
	}
	if was == invoice.Approved {
		tx.AddAside("which takes its approval away")
	}
	for _, s := range said {
		byThemselves := s.State == "approved" && s.ByID != nil && *s.ByID == s.LeadID
		if !byThemselves && s.State != "asked" {
			continue
		}
		inv.State = invoice.InApproval
		if err := store.KeepApproval(tx.DB, store.Approval{InvoiceID: inv.ID, LeadID: s.LeadID, State: "asked", At: tx.Now}); err != nil {
			return err
		}
		if byThemselves && s.LeadID != tx.Actor.PersonID {
			client, err := store.Get[store.Client](tx.DB, inv.ClientID)
			if err != nil {
				return err
			}
			tx.Notify(s.LeadID, nil, "The draft for %s that you approved was changed, and waits for you again.", client.Name)
		}
	}
	return nil
}

// Reword runs an act on how a draft looks and reads, not on what it bills: what its leads
// said of it stands.
func Reword(ctx context.Context, a *app.App, r app.Request, kind string, e Edit, input any,
	act func(*app.Tx, *store.Invoice) error) (*Changed, error) {
	return app.Do(ctx, a, r, kind, []any{e, input}, func(tx *app.Tx) (*Changed, error) {
		inv, err := store.Get[store.Invoice](tx.DB, e.ID)
		if err != nil {
			return nil, app.Missing(err, "invoice")
		}
		if _, err := inv.State.After(invoice.Change); err != nil {
			return nil, app.AsConflict(err)
		}
		if inv.Version != e.Version {
			return nil, store.ErrStale
		}
		tx.LinkTo(app.OfInvoice, inv.ID)
		if err := act(tx, inv); err != nil {
			return nil, err
		}
		err = store.Save(tx.DB, inv)
		return ChangedBy(tx, inv), err
	})
}

// Release takes a portion off the draft that it is on; a line of its own goes.
func Release(tx *app.Tx, p *store.Portion) error {
	line, err := store.Get[store.InvoiceLine](tx.DB, *p.LineID)
	if err != nil {
		return err
	}
	if p.Covered { // the fee stays
		err = store.ReleasePortion(tx.DB, p.ID)
	} else {
		err = store.RemoveLine(tx.DB, line)
	}
	if err != nil {
		return err
	}
	return wip.Join(tx, p)
}

// ClearOut takes everything off a draft that is deleted, and the draft out of its run.
func ClearOut(tx *app.Tx, inv *store.Invoice, portions []store.PortionRow) error {
	if err := empty(tx, inv, portions); err != nil {
		return err
	}
	if inv.RunID != nil {
		if err := store.LeaveRun(tx.DB, *inv.RunID, inv.ID); err != nil {
			return err
		}
	}
	inv.Credit, inv.Funds = 0, 0
	if err := store.SetFunds(tx.DB, inv.ID, nil); err != nil {
		return err
	}
	return store.Save(tx.DB, inv)
}
