// Package runs is billing in batches: what a selection of unbilled work would come to, and
// the drafts that are made of it together, with the days and words that they share.
//
// Looking at a run and making it read the same values and ask the same core function:
// what the tally says is what is made.
package runs

import (
	"context"
	"strings"
	"time"

	"dorvet/core/day"
	"dorvet/core/invoice"
	"dorvet/core/money"
	"dorvet/core/profile"
	"dorvet/core/schedule"
	"dorvet/internal/app"
	"dorvet/internal/app/drafts"
	"dorvet/internal/app/profiles"
	"dorvet/internal/app/unbilled"
	"dorvet/internal/store"
)

// Run is a billing run: drafts that were made together, and what for.
type Run struct {
	ID          int64        `json:"id"`
	Version     int64        `json:"version"`
	Kept        bool         `json:"kept" doc:"whether it has work of another issuing entity, so that who is limited changes nothing of it"`
	Name        string       `json:"name"`
	From        day.Day      `json:"from" doc:"no day: since the last bill"`
	UpTo        day.Day      `json:"upTo"`
	ChargesUpTo day.Day      `json:"chargesUpTo"`
	Dated       day.Day      `json:"dated"`
	Terms       string       `json:"terms" doc:"nothing: each client's own"`
	Text        string       `json:"text" doc:"opening text; nothing: each client's own"`
	Person      string       `json:"person"`
	MadeAt      time.Time    `json:"madeAt"`
	Drafts      int          `json:"drafts" doc:"that wait for nobody"`
	Asked       int          `json:"asked" doc:"in approval"`
	Approved    int          `json:"approved"`
	Issued      int          `json:"issued"`
	Net         money.Amount `json:"net" doc:"in the firm's currency"`
	Engagements int          `json:"engagements" doc:"how many are members"`
	Numbered    int          `json:"numbered" doc:"of those that are not issued: reopened, so that they stay if the run is deleted"`
	Members     []Member     `json:"members" doc:"where one run is read"`
}

// runFor is the run that drafts are made for: the one that is named, or a new one.
func runFor(tx *app.Tx, s *unbilled.Selection) (*store.BillingRun, error) {
	if s.RunID != 0 {
		run, err := store.Get[store.BillingRun](tx.DB, s.RunID)
		if err := app.Unless(err, app.Missing(store.ErrNotFound, "billing run"), func() bool { return !run.Deleted }); err != nil {
			return nil, err
		}
		s.From, s.UpTo, s.ChargesUpTo, s.Dated = run.FromDay, run.UpToDay, run.ChargesUpTo, run.Dated
		return run, nil
	}
	run := &store.BillingRun{Name: strings.TrimSpace(s.Name), FromDay: s.From, UpToDay: s.UpTo, ChargesUpTo: s.ChargesUpTo, Dated: s.Dated,
		Text: strings.TrimSpace(s.Text), MadeAt: tx.Now}
	if run.Name == "" {
		run.Name = "Work up to " + s.UpTo.Long()
	}
	if tx.Actor.PersonID != 0 {
		run.PersonID = &tx.Actor.PersonID
	}
	var err error
	if run.Terms, err = typedTerms(s.Terms); err != nil {
		return nil, err
	}
	if err := store.Insert(tx.DB, run); err != nil {
		return nil, err
	}
	tx.LinkTo(app.OfRun, run.ID)
	return run, nil
}

func typedTerms(typed string) (string, error) {
	if strings.TrimSpace(typed) == "" {
		return "", nil
	}
	terms, err := schedule.ReadTerms(typed)
	return terms, app.InField("terms", err)
}

// follow gives a draft what its run says.
func follow(inv *store.Invoice, run *store.BillingRun) {
	inv.FromDay, inv.UpToDay, inv.Dated, inv.TaxDay = run.FromDay, run.UpToDay, run.Dated, run.Dated
	if run.Terms != "" {
		inv.Terms = run.Terms
	}
	if run.Text != "" {
		if inv.Choices == nil {
			inv.Choices = profile.BillingTerms{}
		}
		inv.Choices["opening_text"] = profile.Source{Scope: profile.Invoice, Value: run.Text}
	}
}

// Runs lists the billing runs, the latest first.
func Runs(ctx context.Context, a *app.App, actor app.Actor) ([]Run, error) {
	tx := a.Read(ctx, actor)
	rows, err := store.Runs(tx)
	if err != nil {
		return nil, err
	}
	firm, err := store.TheFirm(tx)
	runs := make([]Run, len(rows))
	if err != nil {
		return nil, err
	}
	for i := range rows {
		runs[i] = runView(&rows[i], firm.Currency)
		mayChange, err := store.MayChangeRun(tx, rows[i].ID)
		if err != nil {
			return nil, err
		}
		runs[i].Kept = !mayChange
	}
	return runs, nil
}

func runView(r *store.RunRow, currency money.Currency) Run {
	return Run{ID: r.ID, Version: r.Version, Name: r.Name, From: r.FromDay, UpTo: r.UpToDay, ChargesUpTo: r.ChargesUpTo, Dated: r.Dated,
		Terms: r.Terms, Text: r.Text, Person: r.Person,
		MadeAt: r.MadeAt, Drafts: r.Drafts, Asked: r.Asked, Approved: r.Approved, Issued: r.Issued,
		Net: money.Amount{Minor: r.NetFirm, Currency: currency}, Engagements: r.Engagements, Numbered: r.Numbered,
		Members: []Member{}}
}

// OneRun reads a billing run with its members.
func OneRun(ctx context.Context, a *app.App, actor app.Actor, id int64) (*Run, error) {
	tx := a.Read(ctx, actor)
	row, err := store.RunByID(tx, id)
	if err != nil {
		return nil, app.Missing(err, "billing run")
	}
	firm, err := store.TheFirm(tx)
	if err != nil {
		return nil, err
	}
	members, err := store.MemberRows(tx, id)
	run := runView(row, firm.Currency)
	for _, m := range members {
		run.Members = append(run.Members, Member{m.EngagementID, m.Engagement, m.ClientID, m.Client, m.InvoiceID, m.NumberText, m.State})
	}
	return &run, err
}

// RunTyped is what of a run can be changed; its drafts follow.
type RunTyped struct {
	Name  string  `json:"name" maxLength:"100"`
	UpTo  day.Day `json:"upTo" format:"date"`
	Dated day.Day `json:"dated" format:"date"`
	Terms string  `json:"terms" maxLength:"40" doc:"nothing: each client's own"`
	Text  string  `json:"text" maxLength:"2000"`
}

// ChangeRun changes the name, days or text of a run. Its drafts follow: another
// cut-off takes work off them that is later, and puts on what is earlier. What was
// approved is a draft again.
func ChangeRun(ctx context.Context, a *app.App, r app.Request, id, version int64, in RunTyped) error {
	input := struct {
		ID, Version int64
		RunTyped
	}{id, version, in}
	_, err := app.Do(ctx, a, r, "change billing run", input, func(tx *app.Tx) (struct{}, error) {
		run, err := openRun(tx, id, version)
		if err != nil {
			return struct{}{}, err
		}
		before := *run
		if in.UpTo.IsZero() || in.Dated.IsZero() || in.Name == "" {
			return struct{}{}, app.RefuseField("upTo", "A run has a name, a last day of work and an invoice date.")
		}
		run.Name, run.UpToDay, run.Dated, run.Text = strings.TrimSpace(in.Name), in.UpTo, in.Dated, strings.TrimSpace(in.Text)
		if run.ChargesUpTo == before.Dated {
			run.ChargesUpTo = run.Dated
		}
		if run.Terms, err = typedTerms(in.Terms); err != nil {
			return struct{}{}, err
		}
		tx.Describe(before.Name+", up to "+before.UpToDay.Long()+", dated "+before.Dated.Long(), run.Name+", up to "+
			run.UpToDay.Long()+", dated "+run.Dated.Long(), "Changed the run “%s”", run.Name)
		if err := store.Save(tx.DB, run); err != nil {
			return struct{}{}, err
		}
		return struct{}{}, draftsFollow(tx, &before, run)
	})
	return err
}

func openRun(tx *app.Tx, id, version int64) (*store.BillingRun, error) {
	run, err := store.Get[store.BillingRun](tx.DB, id)
	if err := app.Unless(err, app.Missing(store.ErrNotFound, "billing run"), func() bool { return !run.Deleted }); err != nil {
		return nil, err
	}
	if run.Version != version {
		return nil, store.ErrStale
	}
	tx.LinkTo(app.OfRun, run.ID)
	return run, nil
}

func draftsFollow(tx *app.Tx, before, run *store.BillingRun) error {
	firm, err := store.TheFirm(tx.DB)
	if err != nil {
		return err
	}
	unissued, err := store.DraftsOfRun(tx.DB, run.ID)
	if err != nil {
		return err
	}
	members, err := store.MembersOf(tx.DB, run.ID)
	if err != nil {
		return err
	}
	if before.UpToDay == run.UpToDay && before.Dated == run.Dated && before.Terms == run.Terms && before.Text == run.Text {
		return nil
	}
	for i := range unissued {
		inv := &unissued[i]
		if err := drafts.ForgetApproval(tx, inv); err != nil {
			return err
		}
		tx.LinkTo(app.OfInvoice, inv.ID)
		if before.Terms != run.Terms && run.Terms == "" {
			if inv.Terms, err = termsOf(tx, inv); err != nil {
				return err
			}
		}
		if before.Text != run.Text && run.Text == "" {
			delete(inv.Choices, "opening_text")
		}
		follow(inv, run)
		if run.UpToDay != before.UpToDay {
			if err := anotherCutOff(tx, inv, run, members); err != nil {
				return err
			}
		}
		if err := drafts.Recompute(tx, firm, inv); err != nil {
			return err
		}
	}
	return nil
}

// termsOf are the payment terms that hold for a draft's client or engagement.
func termsOf(tx *app.Tx, inv *store.Invoice) (string, error) {
	ids, err := store.EngagementsOf(tx.DB, inv.ID)
	if err != nil {
		return "", err
	}
	p, err := profiles.Profile(tx.DB, inv.ClientID, drafts.OnlyOne(ids))
	return p.Text("terms"), err
}

// anotherCutOff takes off a draft what is later than the run's cut-off, and puts on
// what is earlier.
func anotherCutOff(tx *app.Tx, inv *store.Invoice, run *store.BillingRun, members []store.RunMember) error {
	on, err := store.PortionsOn(tx.DB, inv.ID)
	if err != nil {
		return err
	}
	for i := range on {
		if on[i].WorkedDay > run.UpToDay {
			if err := drafts.Release(tx, &on[i].Portion); err != nil {
				return err
			}
		}
	}
	ids, err := store.EngagementsOf(tx.DB, inv.ID)
	if err != nil {
		return err
	}
	s := unbilled.Selection{From: run.FromDay, UpTo: run.UpToDay, ChargesUpTo: run.ChargesUpTo, Dated: run.Dated, EngagementIDs: ids}
	for _, m := range members {
		s.Leave = append(s.Leave, unbilled.Leaving{EngagementID: m.EngagementID, Time: !m.Time, Expenses: !m.Expenses, Charges: true})
	}
	portions, err := s.Portions(tx.DB, tx.Today)
	if err != nil {
		return err
	}
	for _, id := range ids {
		if _, err := drafts.AddPortions(tx, inv, portions[id]); err != nil {
			return err
		}
		if err := drafts.CoverBy(tx, inv, id); err != nil {
			return err
		}
	}
	return nil
}

// DeleteRun throws the drafts of a run away: everything on them is unbilled again.
// What was issued of it stays, and the run with it.
func DeleteRun(ctx context.Context, a *app.App, r app.Request, id, version int64) error {
	_, err := app.Do(ctx, a, r, "delete billing run", []int64{id, version}, func(tx *app.Tx) (struct{}, error) {
		run, err := openRun(tx, id, version)
		if err != nil {
			return struct{}{}, err
		}
		drafts, err := store.DraftsOfRun(tx.DB, id)
		if err != nil {
			return struct{}{}, err
		}
		gone, kept := 0, 0
		for i := range drafts {
			if drafts[i].Number != nil { // reopened: it stays a draft with its number
				kept++
				continue
			}
			if err := throwAway(tx, &drafts[i]); err != nil {
				return struct{}{}, err
			}
			gone++
		}
		if gone == 0 && kept > 0 {
			return struct{}{}, app.Refuse(app.Conflict,
				"What is left of this run was issued before, and numbers have no gaps: issue it again.")
		}
		now, err := store.RunByID(tx.DB, id)
		if err != nil {
			return struct{}{}, err
		}
		run.Deleted = kept == 0 && now.Issued == 0 // what was issued is found under its name
		tx.Describe(nil, nil, "Deleted the run “%s”; %s thrown away", run.Name, app.Counted(gone, "draft was", "drafts were"))
		return struct{}{}, store.Save(tx.DB, run)
	})
	return err
}

// throwAway deletes a draft inside an act: everything on it is unbilled again.
func throwAway(tx *app.Tx, inv *store.Invoice) (err error) {
	if inv.State, err = inv.State.After(invoice.Delete); err != nil {
		return app.AsConflict(err)
	}
	tx.LinkTo(app.OfInvoice, inv.ID)
	portions, err := store.PortionsOn(tx.DB, inv.ID)
	if err != nil {
		return err
	}
	return drafts.ClearOut(tx, inv, portions)
}
