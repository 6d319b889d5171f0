package invoices_test

import (
	"context"
	"errors"
	"fmt"
	"reflect"
	"slices"
	"testing"

	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/internal/app"
	"dorvet/internal/app/drafts"
	"dorvet/internal/app/invoices"
	"dorvet/internal/app/issuing"
	"dorvet/internal/app/runs"
	"dorvet/internal/app/unbilled"
	appwip "dorvet/internal/app/wip"
	"dorvet/internal/apptest"
	"dorvet/internal/store"
)

// someone is one of two who review work.
func (u *user) someone() app.Request {
	if u.IntN(4) == 0 {
		return apptest.Lead
	}
	return apptest.Admin
}

var kinds = []string{appwip.Hold, appwip.Release, appwip.Write, appwip.Write, appwip.Write, appwip.WriteOff, appwip.NoCharge,
	appwip.DivideIt, appwip.Move}

func (u *user) decision() appwip.Decision {
	d := appwip.Decision{Kind: kinds[u.IntN(len(kinds))], Reason: "agreed with the client", Stays: u.IntN(3) == 0}
	switch u.IntN(3) {
	case 0:
		d.To, d.Value = "hours", fmt.Sprintf("%dm", u.IntN(300))
	case 1:
		d.To, d.Value = "rate", fmt.Sprint(40+u.IntN(120))
	default:
		d.To, d.Value = "amount", fmt.Sprintf("%d.%02d", u.IntN(500), u.IntN(100))
	}
	if u.IntN(2) == 0 {
		d.Until = apptest.Today.AddDays(u.IntN(20))
	}
	d.EngagementID = int64(1 + u.IntN(3))
	return d
}

// decide decides on unbilled work or on a draft's, or takes such a decision back.
func (u *user) decide(ctx context.Context) error {
	if n := len(u.decided); n > 0 && u.IntN(3) == 0 {
		return drafts.Undo(ctx, u.a, u.someone(), u.decided[u.IntN(n)])
	}
	if u.IntN(2) == 0 {
		return u.decideOnDraft(ctx)
	}
	work, err := appwip.Entries(ctx, u.a, apptest.Admin.Actor, int64(1+u.IntN(3)), appwip.Filter{UpTo: november})
	if err != nil || len(work.Entries) == 0 {
		return errors.Join(err, app.Refuse(app.NotFound, "none"))
	}
	ids := []int64{}
	for range 1 + u.IntN(3) {
		if id := work.Entries[u.IntN(len(work.Entries))].PortionID; !slices.Contains(ids, id) {
			ids = append(ids, id)
		}
	}
	d := u.decision()
	foreseen, problem := appwip.Preview(ctx, u.a, apptest.Admin.Actor, ids, d)
	taken, err := appwip.Decide(ctx, u.a, u.someone(), ids, d)
	if err != nil {
		return err
	}
	if problem != nil || fmt.Sprint(foreseen.Before, foreseen.After) != fmt.Sprint(taken.Before, taken.After) {
		return fmt.Errorf("foreseen %+v, %w, came %+v", foreseen, problem, taken)
	}
	u.decided = append(u.decided, taken.ActID)
	return nil
}

func (u *user) decideOnDraft(ctx context.Context) error {
	inv, err := u.draft(ctx)
	if err != nil || len(inv.Lines) == 0 {
		return errors.Join(err, app.Refuse(app.NotFound, "none"))
	}
	line := inv.Lines[u.IntN(len(inv.Lines))]
	changed, err := apptest.Invoice(ctx, u.a)(drafts.DecideOn(ctx, u.a, apptest.Admin, edit(inv), []int64{line.PortionID}, u.decision()))
	if err != nil {
		return err
	}
	if u.IntN(3) == 0 {
		_, err = drafts.UndoOn(ctx, u.a, apptest.Admin, edit(changed), changed.ActID)
		return err
	}
	u.decided = append(u.decided, changed.ActID)
	return nil
}

// run makes drafts of a selection, and sees that they come to what was foreseen.
func (u *user) run(ctx context.Context) error {
	s := unbilled.Selection{UpTo: november.AddDays(-u.IntN(20)), Dated: apptest.Today,
		EngagementIDs: []int64{int64(1 + u.IntN(3)), int64(1 + u.IntN(3))}}
	switch u.IntN(5) {
	case 0:
		s.Separate = []int64{1, 2}
	case 1:
		s.Combined = []int64{3}
	case 2:
		s.Leave = []unbilled.Leaving{{EngagementID: int64(1 + u.IntN(3)), Time: u.IntN(2) == 0, Expenses: u.IntN(2) == 0,
			Charges: u.IntN(2) == 0}}
	case 3:
		s.From = s.UpTo.AddDays(-u.IntN(20))
	}
	if err := u.listIsWhatWouldBeBilled(ctx, s.UpTo); err != nil {
		return err
	}
	foreseen, problem := runs.Preview(ctx, u.a, apptest.Admin.Actor, s)
	made, err := runs.MakeDrafts(ctx, u.a, apptest.Admin, s)
	if err != nil {
		return err
	}
	net, sums := []money.Amount{}, [3][]money.Amount{}
	for _, m := range made {
		if net, err = money.AddByCurrency(net, m.Net); err != nil {
			return err
		}
		inv, err := invoices.One(ctx, u.a, apptest.Admin.Actor, m.ID)
		if err != nil {
			return err
		}
		for i, amount := range []money.Amount{inv.Document.Totals.Total, inv.Document.Totals.Credit, inv.Document.Totals.Funds} {
			if sums[i], err = money.AddByCurrency(sums[i], amount); err != nil {
				return err
			}
		}
	}
	if problem != nil {
		return fmt.Errorf("made were %d drafts, foreseen was: %s", len(made), problem.Error())
	}
	if foreseen.Drafts != len(made) || fmt.Sprint(foreseen.Net) != fmt.Sprint(net) {
		return fmt.Errorf("foreseen were %d drafts over %v, made were %d over %v", foreseen.Drafts, foreseen.Net, len(made), net)
	}
	if got, want := fmt.Sprint(foreseen.Total, foreseen.Credit, foreseen.Funds), fmt.Sprint(sums[0], sums[1], sums[2]); got != want {
		return fmt.Errorf("foreseen were total, credit and funds of %s, made were %s", got, want)
	}
	return nil
}

// listIsWhatWouldBeBilled sees that the list of work in progress adds up to what a run of
// all of it would come to.
func (u *user) listIsWhatWouldBeBilled(ctx context.Context, upTo day.Day) error {
	list, err := appwip.Unbilled(ctx, u.a, apptest.Admin.Actor, appwip.Filter{UpTo: upTo})
	if err != nil {
		return err
	}
	foreseen, err := runs.Preview(ctx, u.a, apptest.Admin.Actor,
		unbilled.Selection{UpTo: upTo, Dated: apptest.Today, EngagementIDs: []int64{1, 2, 3}})
	if err != nil {
		return err
	}
	net := foreseen.Net.Amounts()
	for _, sum := range slices.Concat(net, list.Totals) {
		if (sum.Minor != 0) && (!slices.Contains(net, sum) || !slices.Contains(list.Totals, sum)) {
			return fmt.Errorf("the list says %v, a run would come to %v", list.Totals, net)
		}
	}
	return nil
}

// inRun changes a run or deletes it.
func (u *user) inRun(ctx context.Context) error {
	all, err := runs.Runs(ctx, u.a, apptest.Admin.Actor)
	if err != nil || len(all) == 0 {
		return errors.Join(err, app.Refuse(app.NotFound, "none"))
	}
	run := all[u.IntN(len(all))]
	if u.IntN(3) == 0 {
		return runs.DeleteRun(ctx, u.a, apptest.Admin, run.ID, run.Version)
	}
	typed := runs.RunTyped{Name: run.Name, UpTo: november.AddDays(-u.IntN(20)), Dated: apptest.Today, Terms: []string{"", "14d"}[u.IntN(2)],
		Text: []string{"", "Thank you."}[u.IntN(2)]}
	return runs.ChangeRun(ctx, u.a, apptest.Admin, run.ID, run.Version, typed)
}

// approval asks for it, gives it, or sends back.
func (u *user) approval(ctx context.Context) error {
	inv, err := u.draft(ctx)
	if err != nil {
		return err
	}
	switch u.IntN(4) {
	case 0:
		return issuing.AskApproval(ctx, u.a, apptest.Admin, []drafts.Edit{edit(inv)})
	case 1:
		return issuing.SendBack(ctx, u.a, u.someone(), edit(inv), "the last line is wrong")
	}
	return issuing.Approve(ctx, u.a, u.someone(), []drafts.Edit{edit(inv)})
}

// alike fails unless portions that are read column by column are what the general way
// reads.
func alike(t *testing.T, a *app.App) {
	t.Helper()
	tx := a.Store.Read(t.Context(), store.Everything)
	all, err := store.All[store.Portion](tx, "worked_day, id")
	if err != nil {
		t.Fatal(err)
	}
	ids := []int64{}
	for _, p := range all {
		ids = append(ids, p.ID)
	}
	rows, err := store.PortionsByID(tx, ids)
	if err != nil || len(rows) != len(all) || len(all) < 20 {
		t.Fatalf("%d of %d portions, %v", len(rows), len(all), err)
	}
	for i := range rows {
		if !reflect.DeepEqual(rows[i].Portion, all[i]) {
			t.Errorf("%+v is read as %+v", all[i], rows[i].Portion)
		}
	}
}
