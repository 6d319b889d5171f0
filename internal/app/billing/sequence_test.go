package billing_test

import (
	"context"
	"errors"
	"fmt"
	"math/rand/v2"
	"testing"

	"dorvet/core/wip"
	"dorvet/internal/app"
	"dorvet/internal/app/billing"
	"dorvet/internal/app/setup"
	"dorvet/internal/app/timekeeping"
	"dorvet/internal/apptest"
)

// user does random acts, as people would, in any order and at any wrong moment.
type user struct {
	*rand.Rand
	a         *app.App
	entries   []int64
	gone      []*timekeeping.Entry
	purchases []int64
	changed   []int64 // acts that changed entries together
	rerated   []*timekeeping.Rerated
	on        []int64 // which engagement each re-rating was of
}

func (u *user) typed() timekeeping.TypedEntry {
	in := apptest.Typed(int64(1+u.IntN(3)), fmt.Sprintf("2026-11-%02d", 1+u.IntN(30)), fmt.Sprintf("%dm", 1+u.IntN(600)))
	in.Treatment = treatments[u.IntN(len(treatments))]
	in.Hold = []string{"", "", "released", "2026-12-24"}[u.IntN(4)]
	if u.IntN(4) == 0 {
		in.NotBillable = "1m"
	}
	return in
}

var treatments = []wip.Treatment{wip.Billable, wip.Billable, wip.OutOfScope, wip.NoCharge, wip.NotBillable}

// bought is a purchase over one to three engagements and the firm itself.
func (u *user) bought() timekeeping.TypedPurchase {
	in := timekeeping.TypedPurchase{PersonID: 2, CategoryID: int64(1 + u.IntN(6)), Day: november.AddDays(-u.IntN(30)), PaidBy: "firm", Amount: fmt.Sprintf("%d.%02d", 10+u.IntN(90), u.IntN(100))}
	for range 1 + u.IntN(3) {
		in.Shares = append(in.Shares, timekeeping.TypedShare{EngagementID: int64(u.IntN(4)), Amount: fmt.Sprint(1 + u.IntN(9)), Treatment: treatments[u.IntN(len(treatments))], Returns: u.IntN(5) == 0})
	}
	in.Shares[0].Amount = ""
	return in
}

// purchase records a purchase, changes one, or removes it.
func (u *user) purchase(ctx context.Context) error {
	if len(u.purchases) == 0 || u.IntN(3) == 0 {
		p, err := timekeeping.RecordPurchase(ctx, u.a, apptest.Staff, u.bought())
		if err == nil {
			u.purchases = append(u.purchases, p.ID)
		}
		return err
	}
	p, err := timekeeping.OnePurchase(ctx, u.a, apptest.Admin.Actor, u.purchases[u.IntN(len(u.purchases))])
	switch {
	case err != nil:
		return err
	case u.IntN(5) == 0:
		return timekeeping.RemovePurchase(ctx, u.a, apptest.Staff, p.ID, p.Version)
	}
	in := u.bought()
	for i := range in.Shares {
		if i < len(p.Shares) && u.IntN(3) > 0 {
			in.Shares[i].ID = p.Shares[i].ID
		}
	}
	_, err = timekeeping.ChangePurchase(ctx, u.a, apptest.Staff, p.ID, p.Version, in)
	return err
}

// remove takes an entry away, or brings one back.
func (u *user) remove(ctx context.Context) error {
	if len(u.gone) > 0 && u.IntN(2) == 0 {
		e := u.gone[u.IntN(len(u.gone))]
		_, err := timekeeping.BringBack(ctx, u.a, apptest.Staff, e.ID, e.Version)
		return err
	}
	entry, err := u.entry(ctx)
	if err == nil && u.IntN(3) == 0 {
		if err = timekeeping.Remove(ctx, u.a, apptest.Staff, entry.ID, entry.Version); err == nil {
			u.gone = append(u.gone, entry)
		}
	}
	return err
}

// week hands in a week, takes it back, approves it or sends it back.
func (u *user) week(ctx context.Context) error {
	on := november.AddDays(-u.IntN(30))
	switch u.IntN(5) {
	case 0:
		return timekeeping.Submit(ctx, u.a, apptest.Staff, 2, on)
	case 1:
		return timekeeping.TakeBack(ctx, u.a, apptest.Staff, 2, on)
	case 2:
		return timekeeping.Approve(ctx, u.a, apptest.Lead, 2, on)
	case 3:
		return timekeeping.Approve(ctx, u.a, apptest.Admin, 2, on)
	}
	return timekeeping.SendBack(ctx, u.a, apptest.Admin, 2, on, "again")
}

// together changes many entries, or takes such a change back.
func (u *user) together(ctx context.Context) error {
	if len(u.changed) > 0 && u.IntN(3) == 0 {
		return timekeeping.UndoTogether(ctx, u.a, apptest.Admin, u.changed[u.IntN(len(u.changed))])
	}
	if len(u.entries) == 0 {
		return app.Refuse(app.NotFound, "none")
	}
	change := timekeeping.Together{EngagementID: int64(u.IntN(4)), Treatment: treatments[u.IntN(len(treatments))], Rerate: u.IntN(2) == 0, Hold: []string{"", "none", "released"}[u.IntN(3)]}
	for range 1 + u.IntN(5) {
		change.IDs = append(change.IDs, u.entries[u.IntN(len(u.entries))])
	}
	done, err := timekeeping.ChangeTogether(ctx, u.a, apptest.Admin, change)
	if err == nil {
		u.changed = append(u.changed, done.ActID)
	}
	return err
}

// timer starts a timer, lets one wait or run, or stops it.
func (u *user) timer(ctx context.Context) error {
	timers, err := timekeeping.Timers(ctx, u.a, apptest.Staff.Actor)
	if err != nil || len(timers) == 0 || u.IntN(4) == 0 {
		_, err := timekeeping.StartTimer(ctx, u.a, apptest.Staff, timekeeping.TypedTimer{EngagementID: int64(1 + u.IntN(3)), ServiceID: 1, Treatment: wip.Billable, Text: "work"})
		return err
	}
	one := timers[u.IntN(len(timers))].ID
	switch u.IntN(3) {
	case 0:
		_, err = timekeeping.PauseTimer(ctx, u.a, apptest.Staff, one)
	case 1:
		_, err = timekeeping.ResumeTimer(ctx, u.a, apptest.Staff, one)
	default:
		_, err = timekeeping.StopTimer(ctx, u.a, apptest.Staff, one)
	}
	return err
}

func (u *user) draft(ctx context.Context) (*billing.Invoice, error) {
	drafts, err := billing.Drafts(ctx, u.a, apptest.Admin.Actor)
	if err != nil || len(drafts) == 0 {
		return nil, errors.Join(err, app.Refuse(app.NotFound, "none"))
	}
	return billing.One(ctx, u.a, apptest.Admin.Actor, drafts[u.IntN(len(drafts))].ID)
}

func (u *user) entry(ctx context.Context) (*timekeeping.Entry, error) {
	if len(u.entries) == 0 {
		return nil, app.Refuse(app.NotFound, "none")
	}
	return timekeeping.One(ctx, u.a, apptest.Admin.Actor, u.entries[u.IntN(len(u.entries))])
}

func (u *user) act(ctx context.Context) error {
	switch u.IntN(14) {
	case 10:
		return u.purchase(ctx)
	case 11:
		return u.week(ctx)
	case 12:
		return u.together(ctx)
	case 13:
		return u.timer(ctx)
	case 0, 1:
		entry, err := timekeeping.Record(ctx, u.a, apptest.Staff, u.typed())
		if err == nil {
			u.entries = append(u.entries, entry.ID)
		}
		return err
	case 2:
		entry, err := u.entry(ctx)
		if err == nil {
			_, err = timekeeping.Change(ctx, u.a, apptest.Staff, entry.ID, entry.Version, u.typed())
		}
		return err
	case 3:
		return u.remove(ctx)
	case 4:
		_, err := billing.MakeDrafts(ctx, u.a, apptest.Admin, billing.Selection{UpTo: november.AddDays(-u.IntN(20)), Dated: apptest.Today, EngagementIDs: []int64{int64(1 + u.IntN(3)), int64(1 + u.IntN(3))}})
		return err
	case 5:
		return u.rerate(ctx)
	}
	return u.onDraft(ctx)
}

// rerate sets a rate and values an engagement anew, or takes that back.
func (u *user) rerate(ctx context.Context) error {
	if n := len(u.rerated); n > 0 && u.IntN(2) == 0 {
		return timekeeping.UndoRerating(ctx, u.a, apptest.Admin, u.rerated[n-1].ActID, u.on[n-1])
	}
	engagement := int64(1 + u.IntN(3))
	rate := map[string]string{"engagement": fmt.Sprint(engagement), "per_hour": fmt.Sprint(60 + u.IntN(90)), "from": fmt.Sprintf("2026-11-%02d", 1+u.IntN(30))}
	if _, err := setup.AddRecord(ctx, u.a, apptest.Admin, "rates", rate); err != nil {
		return err
	}
	done, err := timekeeping.Rerate(ctx, u.a, apptest.Admin, timekeeping.Rerating{EngagementID: engagement, From: november.AddDays(-29), To: apptest.Today})
	if err == nil {
		u.rerated, u.on = append(u.rerated, done), append(u.on, engagement)
	}
	return err
}

func (u *user) onDraft(ctx context.Context) error {
	inv, err := u.draft(ctx)
	if err != nil {
		return err
	}
	switch choice := u.IntN(6); {
	case choice < 2 && len(inv.Lines) > 0:
		_, err = billing.TakeOut(ctx, u.a, apptest.Admin, edit(inv), inv.Lines[u.IntN(len(inv.Lines))].PortionID)
	case choice < 4 && len(inv.LeftOut) > 0:
		_, err = billing.PutOn(ctx, u.a, apptest.Admin, edit(inv), inv.LeftOut[u.IntN(len(inv.LeftOut))].PortionID)
	case choice == 4:
		err = billing.Delete(ctx, u.a, apptest.Admin, edit(inv))
	default:
		_, err = billing.Issue(ctx, u.a, apptest.Admin, edit(inv))
	}
	return err
}

// Property: the conservation rules hold after every act of a long random
// sequence; what is refused is refused in words.
func TestEverythingAddsUpAfterRandomActs(t *testing.T) {
	acts := 1500
	if testing.Short() {
		acts = 250
	}
	u := &user{Rand: rand.New(rand.NewPCG(7, 8)), a: apptest.Firm(t)}
	done := 0
	for n := range acts {
		err := u.act(t.Context())
		var refusal *app.Refusal
		if err != nil && !errors.As(err, &refusal) {
			t.Fatalf("act %d: %v", n, err)
		}
		if err == nil {
			done++
		}
		if n%5 == 0 || err != nil {
			apptest.Whole(t, u.a)
		}
	}
	apptest.Whole(t, u.a)
	if register, err := billing.Register(t.Context(), u.a, apptest.Admin.Actor, 0); err != nil || len(register) < 5 || done < acts/3 {
		t.Errorf("only %d of %d acts were done, %d invoices issued: %v", done, acts, len(register), err)
	}
}
