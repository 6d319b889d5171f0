package delivery

import (
	"context"
	"slices"
	"strings"

	"dorvet/core/invoice"
	"dorvet/core/money"
	"dorvet/internal/app"
	"dorvet/internal/app/correspondence"
	"dorvet/internal/app/drafts"
	"dorvet/internal/app/issuing"
	"dorvet/internal/app/papers"
	"dorvet/internal/app/setup"
	"dorvet/internal/app/wip"
	"dorvet/internal/store"
)

// Answering is what the firm says to a claim, and what becomes of it.
type Answering struct {
	Version      int64         `json:"version"`
	Answer       string        `json:"answer" maxLength:"2000" doc:"the client reads it on the page and in a mail"`
	Outcome      store.Outcome `json:"outcome" enum:"answered,kept,written_down,credited,moved" doc:"of disputes: what becomes of the line"`
	Amount       string        `json:"amount,omitempty" maxLength:"30" doc:"net: to what it is written down"`
	EngagementID int64         `json:"engagementId,omitempty" doc:"to which its work is moved"`
}

// Answer answers what a client said, and does with the line what the answer says: it stays, a credit note takes it off or down, or its
// work is moved to another engagement. The client reads it on the page, and in a mail.
func Answer(ctx context.Context, a *app.App, r app.Request, id, claimID int64, said Answering) ([]Claim, error) {
	return app.Do(ctx, a, r, "answer client", []any{id, claimID, said}, func(tx *app.Tx) ([]Claim, error) {
		inv, row, err := openClaim(tx, id, claimID, said.Version)
		if err != nil {
			return nil, err
		}
		if (row.Kind == store.Disputed) != (said.Outcome != store.Answered) {
			return nil, app.RefuseField("outcome", "Say of a dispute whether the line stays or was credited; anything else is answered.")
		}
		if said.Answer = strings.TrimSpace(said.Answer); said.Answer == "" {
			return nil, app.RefuseField("answer", "Type what the client is to read.")
		}
		note, err := settleClaim(tx, a, inv, row, said)
		if err != nil {
			return nil, err
		}
		row.Answer, row.Outcome, row.PersonID, row.AnsweredAt = said.Answer, said.Outcome, &tx.Actor.PersonID, &tx.Now
		words := ""
		if note != nil {
			row.NoteID, words = &note.ID, ", "+became[said.Outcome]+" by "+note.NumberText
		}
		tx.Describe(nil, nil, "Answered %s on %s%s: %s", row.Name, inv.NumberText, words, said.Answer)
		if err := store.Save(tx.DB, row); err != nil {
			return nil, err
		}
		if err := dispute(tx, inv); err != nil {
			return nil, err
		}
		if err := mailAnswer(tx, inv, row); err != nil {
			return nil, err
		}
		return claimsOf(tx.DB, inv)
	})
}

var became = map[store.Outcome]string{store.Credited: "credited", store.LineWrittenDown: "written down", store.LineMoved: "moved"}

func openClaim(tx *app.Tx, id, claimID, version int64) (*store.Invoice, *store.Claim, error) {
	if _, err := papers.Visible(tx.DB, id); err != nil {
		return nil, nil, err
	}
	inv, err := store.Get[store.Invoice](tx.DB, id)
	if err != nil {
		return nil, nil, err
	}
	row, err := store.Get[store.Claim](tx.DB, claimID)
	if err := app.Unless(err, app.Missing(store.ErrNotFound, "question"), func() bool { return row.InvoiceID == id }); err != nil {
		return nil, nil, err
	}
	switch {
	case row.Version != version:
		return nil, nil, store.ErrStale
	case row.Outcome != "":
		return nil, nil, app.Refuse(app.Conflict, "This was answered already: load the page again.")
	}
	tx.LinkTo(app.OfInvoice, id)
	tx.LinkTo("clients", inv.ClientID)
	return inv, row, nil
}

// settleClaim does with what is disputed what the answer says, and gives the credit note that came of it, if one did.
func settleClaim(tx *app.Tx, a *app.App, inv *store.Invoice, row *store.Claim, said Answering) (*store.Invoice, error) {
	if became[said.Outcome] == "" {
		return nil, nil
	}
	if row.Revision != inv.Revision {
		return nil, app.Refuse(app.Conflict, "It was said of an earlier version of %s: credit what is right by hand, then answer.", inv.NumberText)
	}
	lines, err := disputedLines(tx.DB, inv, row)
	if err != nil {
		return nil, err
	}
	in := issuing.Crediting{Reason: said.Answer}
	switch said.Outcome {
	case store.LineWrittenDown:
		in.Lines, err = writtenDown(tx.DB, inv, lines, said.Amount)
	case store.LineMoved:
		in.Lines, err = again(lines)
	default:
		for _, l := range lines {
			in.Lines = append(in.Lines, issuing.CreditedLine{LineID: l.LineID})
		}
	}
	if err != nil || len(in.Lines) == 0 {
		return nil, err
	}
	work, err := workOn(tx.DB, in.Lines)
	if err != nil {
		return nil, err
	}
	stepped, err := drafts.Step(tx, drafts.Edit{ID: inv.ID, Version: inv.Version}, invoice.Credit)
	if err != nil {
		return nil, err
	}
	*inv = *stepped
	note, err := issuing.CreditWithin(tx, a, inv, in)
	if err != nil || said.Outcome != store.LineMoved {
		return note, err
	}
	return note, moveWork(tx, work, said)
}

// disputedLines are the lines that a claim is about, with what of them can be credited: one line of the page can be several, and all of
// the invoice is all of them. What nothing is left of is left out.
func disputedLines(tx *store.DB, inv *store.Invoice, row *store.Claim) ([]issuing.Creditable, error) {
	all, err := issuing.CreditableOf(tx, inv)
	if err != nil {
		return nil, err
	}
	places := []int{}
	if row.Section >= 0 && row.Line >= 0 {
		doc, err := papers.DocumentOf(tx, inv)
		if err != nil {
			return nil, err
		}
		places = doc.Sections[row.Section].Lines[row.Line].Of
	}
	lines := []issuing.Creditable{}
	for i, l := range all {
		if (len(places) == 0 || slices.Contains(places, i)) && l.Left.Minor > 0 {
			lines = append(lines, l)
		}
	}
	return lines, nil
}

// writtenDown credits of lines what is above an amount, net, shared by what is left of each (largest remainder).
func writtenDown(tx *store.DB, inv *store.Invoice, lines []issuing.Creditable, typed string) ([]issuing.CreditedLine, error) {
	to, err := setup.MinorUnits(tx, typed, inv.Currency)
	if err != nil {
		return nil, app.InField("amount", err)
	}
	left, weights := money.Zero(inv.Currency), []int64{}
	for _, l := range lines {
		left.Minor += l.Left.Minor
		weights = append(weights, l.Left.Minor)
	}
	if to < 0 || to >= left.Minor {
		return nil, app.RefuseField("amount", "Give an amount from 0 to below %s, net: that is what is left of it.", left)
	}
	shares, err := money.Split(left.Minor-to, weights)
	if err != nil {
		return nil, err
	}
	credited := []issuing.CreditedLine{}
	for i, share := range shares {
		if share == 0 {
			continue
		}
		typed, err := setup.TypedAmount(tx, inv.Amount(share))
		if err != nil {
			return nil, err
		}
		credited = append(credited, issuing.CreditedLine{LineID: lines[i].LineID, Amount: typed})
	}
	return credited, nil
}

// again credits lines whose work becomes unbilled.
func again(lines []issuing.Creditable) ([]issuing.CreditedLine, error) {
	credited := []issuing.CreditedLine{}
	for _, l := range lines {
		if !l.MayAgain || l.Credited.Minor != 0 {
			return nil, app.Refuse(app.Conflict, "“%s” can't be moved: only work of which nothing was credited can. Credit it instead.", l.Text)
		}
		credited = append(credited, issuing.CreditedLine{LineID: l.LineID, Again: true})
	}
	return credited, nil
}

// workOn is the work behind lines.
func workOn(tx *store.DB, lines []issuing.CreditedLine) ([]store.Portion, error) {
	work := []store.Portion{}
	for _, l := range lines {
		portions, err := store.PortionsOnLine(tx, l.LineID)
		if err != nil {
			return nil, err
		}
		work = append(work, portions...)
	}
	return work, nil
}

// moveWork moves what has become unbilled to another engagement.
func moveWork(tx *app.Tx, work []store.Portion, said Answering) error {
	portions, seen := []*store.Portion{}, map[int64]bool{}
	for i := range work {
		parts, err := store.Siblings(tx.DB, &work[i])
		if err != nil {
			return err
		}
		for n := range parts {
			if !seen[parts[n].ID] {
				seen[parts[n].ID], portions = true, append(portions, &parts[n])
			}
		}
	}
	if len(portions) == 0 {
		return app.Refuse(app.Conflict, "There is no work behind this line that could be moved: credit it instead.")
	}
	_, err := wip.Take(tx, portions, wip.Decision{Kind: wip.Move, EngagementID: said.EngagementID, Reason: said.Answer})
	return err
}

// mailAnswer tells a client that there is an answer, with a link of their own to the page.
func mailAnswer(tx *app.Tx, inv *store.Invoice, row *store.Claim) error {
	if row.Mail == "" {
		return nil // the link was given by hand: they read it on the page
	}
	return correspondence.Queue(tx, store.Mail{Kind: "answer", ClientID: &inv.ClientID, EntityID: &inv.EntityID, ToName: row.Name, ToMail: row.Mail,
		Subject: "Your words on " + inv.NumberText,
		Body:    "Dear " + row.Name + ",\n\nyou wrote: " + about(row.LineText, row.Text) + "\n\n" + row.Answer + "\n\n{link}\n",
		Links:   correspondence.OneLink(store.ForInvoice, inv.ID, tx.Now.AddDate(1, 0, 0))})
}
