package issuing

import (
	"context"
	"slices"

	"dorvet/core/invoice"
	"dorvet/internal/app"
	"dorvet/internal/app/drafts"
	"dorvet/internal/app/profiles"
	"dorvet/internal/store"
)

// MissingField is what a record lacks: given there, the finding is gone.
type MissingField struct {
	Kind  string `json:"kind"`
	ID    int64  `json:"id"`
	Field string `json:"field"`
}

// missing are the fields of the issuing entity that checks ask for.
var missing = map[string]string{"no_issuer_address": "address", "no_issuer_tax_number": "tax_number", "no_way_to_pay": "iban"}

// Remedy is one way to mend a finding: an act that is asked for by its name, or a
// place to go to.
type Remedy struct {
	Act   string `json:"act" doc:"apply_funds, take_credit, put_surcharge, take_tax, divide, take_out, ask_approval, leave, or none"`
	Label string `json:"label"`
	To    string `json:"to" doc:"a place, or the name of a part of the draft: lines, payment, dates"`
}

// remedies are the ways to mend what a check finds.
var remedies = map[string][]Remedy{
	"funds": {{"apply_funds", "Apply them", ""}}, "credit": {{"take_credit", "Take it off", ""}},
	"surcharge":  {{"put_surcharge", "Put it on", ""}},
	"no_contact": {{"", "Open the client", "client"}}, "duplicate": {{"take_out", "Take it out", ""}},
	"late_entry":     {{"take_out", "Take it out", ""}},
	"no_addressee":   {{"", "Open the client", "client"}, {"", "Another way for it", "delivery"}},
	"no_mail_server": {{"", "Another way for it", "delivery"}},
	"not_approved":   {{"ask_approval", "Ask for approval", ""}}, "open_price": {{"", "Give the price", "lines"}},
	"no_text":     {{"", "Write a text", "lines"}},
	"instalments": {{"", "Change the schedule", "payment"}}, "closed_period": {{"", "Change the date", "dates"}},
	"date_order":   {{"", "Change the date", "dates"}},
	"credit_limit": {{"", "Open the client", "client"}}, "stays": {{"", "Show it", "lines"}},
	"client_rules":       {{"", "Show it", "lines"}},
	drafts.OtherTax:      {{"take_tax", "Tax it so", ""}},
	drafts.SeveralPayers: {{"divide", "Divide it", ""}},
	"unprintable":        {{"", "Change the text", "lines"}}, "no_einvoice": {{"", "Open the client", "client"}},
}

// leave is how a finding is left as it is, in the words that fit it.
var leave = map[string]Remedy{
	"funds": {"leave", "Leave the funds", ""}, "credit": {"leave", "Leave the credit", ""},
	"surcharge": {"leave", "Without it, this time", ""}, "no_contact": {"leave", "Issue it all the same", ""},
	"no_addressee": {"leave", "Issue it all the same", ""}, "no_mail_server": {"leave", "It stays here", ""},
	"zero": {"leave", "It is meant so", ""}, "no_text": {"leave", "Leave it", ""}, "duplicate": {"leave", "Leave both", ""},
	"late_entry": {"leave", "Leave it on", ""}, "cap": {"leave", "It is agreed", ""},
	"budget": {"leave", "It is agreed", ""}, "unbilled_limit": {"leave", "It is known", ""},
	"credit_limit": {"leave", "Issue it all the same", ""}, "old_rate": {"leave", "The rate is right", ""},
	"no_issuer_address": {"leave", "Issue it without", ""}, "no_issuer_tax_number": {"leave", "We have none", ""},
	"no_way_to_pay":      {"leave", "They know how to pay", ""},
	"client_rules":       {"leave", "It is agreed", ""},
	drafts.OtherTax:      {"leave", "Leave the tax", ""},
	drafts.SeveralPayers: {"leave", "They pay all of this", ""},
	"stays":              {"leave", "Leave it behind", ""}, "no_einvoice": {"leave", "The PDF is enough", ""},
	"not_approved": {"leave", "Issue it without", ""},
}

// ResolveFinding mends a finding of a draft by one of its remedies.
func ResolveFinding(ctx context.Context, a *app.App, r app.Request, e drafts.Edit, code string, subjectID int64,
	act string) (*drafts.Changed, error) {
	input := []any{code, subjectID, act}
	if act == "ask_approval" {
		if err := AskApproval(ctx, a, r, []drafts.Edit{e}); err != nil {
			return nil, err
		}
		return &drafts.Changed{ID: e.ID}, nil
	}
	if act == "leave" {
		return leaveFinding(ctx, a, r, e, code, subjectID)
	}
	return drafts.Change(ctx, a, r, "settle a finding", e, input, func(tx *app.Tx, inv *store.Invoice) error {
		switch act {
		case "apply_funds":
			tx.Describe(nil, nil, "Applied the funds held")
			return drafts.Choose(tx, inv, map[string]string{"use_funds": "all", "funds_at_most": ""})
		case "take_credit":
			tx.Describe(nil, nil, "Took the credit of the client off")
			return drafts.Choose(tx, inv, map[string]string{"use_credit": "yes"})
		case "take_tax":
			tx.Describe(nil, nil, "Taxed as the client has it now")
			return drafts.TaxAsAgreed(tx, inv, subjectID)
		case "divide":
			return drafts.DivideNow(tx, inv)
		case "put_surcharge":
			engagements, err := store.EngagementsOf(tx.DB, inv.ID)
			if err != nil {
				return err
			}
			agreed, err := profiles.Nearest(tx.DB, "surcharge", inv.ClientID)
			if err != nil {
				return err
			}
			tx.Describe(nil, nil, "Put the agreed surcharge on")
			return drafts.Choose(tx, inv, map[string]string{"surcharge": agreed(inv.ClientID, drafts.OnlyOne(engagements))})
		case "take_out":
			p, err := store.Get[store.Portion](tx.DB, subjectID)
			if err != nil {
				return app.Missing(err, "entry")
			}
			if p, err = drafts.TakeOff(tx, inv, p, ""); err != nil {
				return err
			}
			tx.Describe(nil, nil, "Took out an entry of %s", p.WorkedDay.Long())
			return drafts.Release(tx, p)
		}
		return app.RefuseField("act", "%q does not mend this.", act)
	})
}

// leaveFinding leaves a finding as it is; the draft stays as it was, approved or not.
func leaveFinding(ctx context.Context, a *app.App, r app.Request, e drafts.Edit, code string, subjectID int64) (*drafts.Changed, error) {
	return app.Do(ctx, a, r, "leave a finding", []any{e, code, subjectID}, func(tx *app.Tx) (*drafts.Changed, error) {
		inv, err := store.Get[store.Invoice](tx.DB, e.ID)
		if err := app.Unless(err, app.Missing(store.ErrNotFound, "draft"),
			func() bool { return inv.State.IsDraft() }); err != nil {
			return nil, err
		}
		check, known := invoice.CheckNamed(code)
		if !known || check.Always {
			return nil, app.Refuse(app.Conflict, "This can't be left: %s", check.Remedy)
		}
		tx.LinkTo(app.OfInvoice, inv.ID)
		tx.Describe(nil, nil, "Left as it is: %s", check.Title)
		if err := store.Waive(tx.DB, store.FindingWaiver{InvoiceID: inv.ID, Code: code, SubjectID: subjectID,
			PersonID: &tx.Actor.PersonID}); err != nil {
			return nil, err
		}
		return drafts.ChangedBy(tx, inv), nil
	})
}

// blocking refuses to issue a draft with a finding that blocks.
func blocking(tx *app.Tx, a *app.App, inv *store.Invoice) error {
	found, err := FindingsOf(a, tx.DB, []store.Invoice{*inv})
	if at := slices.IndexFunc(found[inv.ID], DraftFinding.blocks); at >= 0 {
		return found[inv.ID][at].refusal()
	}
	return err
}

func (f DraftFinding) refusal() error { return app.Refuse(app.Conflict, "%s %s", f.Title, f.Text) }
