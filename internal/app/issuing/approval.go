package issuing

import (
	"context"
	"slices"
	"strings"
	"time"

	"dorvet/core/invoice"
	"dorvet/internal/app"
	"dorvet/internal/app/drafts"
	"dorvet/internal/store"
)

// Asked is a draft that somebody was asked to approve, as it was last seen.
type Asked struct {
	Edits []drafts.Edit `json:"edits" minItems:"1" maxItems:"10000"`
}

// LeadSaid is what a lead was asked about a draft, and said.
type LeadSaid struct {
	LeadID int64     `json:"leadId"`
	Lead   string    `json:"lead"`
	State  string    `json:"state" enum:"asked,approved,sent_back"`
	Note   string    `json:"note"`
	By     string    `json:"by" doc:"who said it, if it was somebody else"`
	At     time.Time `json:"at"`
}

// AskApproval asks the leads of drafts to approve them, and tells them.
func AskApproval(ctx context.Context, a *app.App, r app.Request, edits []drafts.Edit) error {
	return forEach(ctx, a, r, "ask for approval", edits, invoice.AskApproval, func(tx *app.Tx, inv *store.Invoice) error {
		leads, err := store.LeadsOf(tx.DB, inv.ID)
		if err != nil {
			return err
		}
		if len(leads) == 0 {
			return app.Refuse(app.Conflict, "Nothing is on this draft: put something on it, then ask.")
		}
		client, err := store.Get[store.Client](tx.DB, inv.ClientID)
		if err != nil {
			return err
		}
		for _, lead := range leads {
			if err := store.KeepApproval(tx.DB, store.Approval{InvoiceID: inv.ID, LeadID: lead, State: "asked", At: tx.Now}); err != nil {
				return err
			}
			tx.Notify(lead, nil, "A draft for %s over %s waits for your approval.", client.Name, inv.Amount(inv.Net))
		}
		tx.Describe(nil, nil, "Asked for approval")
		return nil
	})
}

// Approve approves drafts: a lead those parts that are theirs, an administrator all
// of them. A draft is approved when every lead has.
func Approve(ctx context.Context, a *app.App, r app.Request, edits []drafts.Edit) error {
	return forEach(ctx, a, r, "approve draft", edits, invoice.Approve, func(tx *app.Tx, inv *store.Invoice) error {
		leads, err := store.LeadsOf(tx.DB, inv.ID)
		if err != nil {
			return err
		}
		mine, err := theirs(tx, leads)
		if err != nil {
			return err
		}
		said, err := store.ApprovalsOf(tx.DB, inv.ID)
		if err != nil {
			return err
		}
		approved := map[int64]bool{}
		for _, s := range said {
			approved[s.LeadID] = s.State == "approved"
		}
		for _, lead := range mine {
			if approved[lead] { // what they said themselves stands
				continue
			}
			approved[lead] = true
			if err := store.KeepApproval(tx.DB, store.Approval{InvoiceID: inv.ID, LeadID: lead, State: "approved", ByID: &tx.Actor.PersonID,
				At: tx.Now}); err != nil {
				return err
			}
		}
		tx.Describe(nil, nil, "Approved it")
		if slices.ContainsFunc(leads, func(lead int64) bool { return !approved[lead] }) {
			inv.State = invoice.InApproval // the others have still to say
			for _, lead := range leads {
				if !approved[lead] && !slices.ContainsFunc(said, func(s store.ApprovalRow) bool { return s.LeadID == lead }) {
					if err := store.KeepApproval(tx.DB,
						store.Approval{InvoiceID: inv.ID, LeadID: lead, State: "asked", At: tx.Now}); err != nil {
						return err
					}
				}
			}
		}
		return nil
	})
}

// theirs are the leads in whose place the actor can speak.
func theirs(tx *app.Tx, leads []int64) ([]int64, error) {
	if tx.Actor.Role == app.Administrator {
		return leads, nil
	}
	sight := tx.Actor.Scope()
	mine := slices.DeleteFunc(slices.Clone(leads), func(lead int64) bool { return !slices.Contains(sight.Leads, lead) })
	if len(mine) == 0 {
		return nil, app.Missing(store.ErrNotFound, "invoice")
	}
	return mine, nil
}

// SendBack sends a draft that waits for approval, or has it, back with a note; the
// administrators are told.
func SendBack(ctx context.Context, a *app.App, r app.Request, e drafts.Edit, note string) error {
	note = strings.TrimSpace(note)
	r.Reason = note
	if note == "" {
		return app.RefuseField("note", "Say what is to be changed, for whoever changes it.")
	}
	return forEach(ctx, a, r, "send draft back", []drafts.Edit{e}, invoice.SendBack, func(tx *app.Tx, inv *store.Invoice) error {
		leads, err := store.LeadsOf(tx.DB, inv.ID)
		if err != nil {
			return err
		}
		mine, err := theirs(tx, leads)
		if err != nil {
			return err
		}
		for _, lead := range mine {
			if err := store.KeepApproval(tx.DB, store.Approval{InvoiceID: inv.ID, LeadID: lead, State: "sent_back", Note: note,
				ByID: &tx.Actor.PersonID, At: tx.Now}); err != nil {
				return err
			}
		}
		client, err := store.Get[store.Client](tx.DB, inv.ClientID)
		if err != nil {
			return err
		}
		administrators, err := store.Administrators(tx.DB)
		for _, person := range administrators {
			if person != tx.Actor.PersonID {
				tx.Notify(person, nil, "The draft for %s was sent back: %s", client.Name, note)
			}
		}
		tx.Describe(nil, note, "Sent it back: %s", note)
		return err
	})
}

// forEach takes drafts to their next state, as one act: all of them, or none.
func forEach(ctx context.Context, a *app.App, r app.Request, kind string, edits []drafts.Edit, act invoice.Act,
	do func(*app.Tx, *store.Invoice) error) error {
	_, err := app.Do(ctx, a, r, kind, []any{edits, r.Reason}, func(tx *app.Tx) (struct{}, error) {
		for _, e := range edits {
			inv, err := drafts.Step(tx, e, act)
			if err != nil {
				return struct{}{}, err
			}
			if err := do(tx, inv); err != nil {
				return struct{}{}, err
			}
			if err := store.Save(tx.DB, inv); err != nil {
				return struct{}{}, err
			}
		}
		if act == invoice.Approve {
			if err := tellWhoBills(tx, len(edits)); err != nil {
				return struct{}{}, err
			}
		}
		if len(edits) > 1 {
			tx.Describe(nil, nil, "%s, %s", map[invoice.Act]string{invoice.AskApproval: "Asked for approval",
				invoice.Approve: "Approved"}[act],
				app.Counted(len(edits), "draft", "drafts"))
		}
		return struct{}{}, nil
	})
	return err
}

// tellWhoBills tells the administrators that somebody else has approved drafts.
func tellWhoBills(tx *app.Tx, approved int) error {
	if tx.Actor.Role == app.Administrator || tx.Actor.PersonID == 0 {
		return nil
	}
	lead, err := store.Get[store.Person](tx.DB, tx.Actor.PersonID)
	if err != nil {
		return err
	}
	administrators, err := store.Administrators(tx.DB)
	for _, person := range administrators {
		tx.Notify(person, nil, "%s approved %s.", lead.Name, app.Counted(approved, "draft", "drafts"))
	}
	return err
}
