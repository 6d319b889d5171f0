package invoices_test

import (
	"context"
	"errors"
	"fmt"
	"math/rand/v2"
	"reflect"
	"sync"
	"testing"

	"dorvet/core/day"
	"dorvet/core/wip"
	"dorvet/internal/app"
	"dorvet/internal/app/drafts"
	"dorvet/internal/app/invoices"
	"dorvet/internal/app/issuing"
	"dorvet/internal/app/receivables"
	"dorvet/internal/app/registry"
	"dorvet/internal/app/setup"
	"dorvet/internal/app/timekeeping"
	"dorvet/internal/apptest"
	"dorvet/internal/store"
)

// user does random acts, as people would, in any order and at any wrong moment.
type user struct {
	*rand.Rand
	a         *app.App
	outside   *outside // nil: nothing is handed over
	entries   []int64
	gone      []*timekeeping.Entry
	purchases []int64
	changed   []int64 // acts that changed entries together
	decided   []int64 // acts that decided something on work
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
	in := timekeeping.TypedPurchase{PersonID: 2, CategoryID: int64(1 + u.IntN(6)), Day: november.AddDays(-u.IntN(30)), PaidBy: "firm",
		Amount: fmt.Sprintf("%d.%02d", 10+u.IntN(90), u.IntN(100))}
	for range 1 + u.IntN(3) {
		in.Shares = append(in.Shares, timekeeping.TypedShare{EngagementID: int64(u.IntN(4)), Amount: fmt.Sprint(1 + u.IntN(9)),
			Treatment: treatments[u.IntN(len(treatments))], Returns: u.IntN(5) == 0})
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
	change := timekeeping.BulkChange{EngagementID: int64(u.IntN(4)), Treatment: treatments[u.IntN(len(treatments))], Rerate: u.IntN(2) == 0,
		Hold: []string{"", "none", "released"}[u.IntN(3)]}
	for range 1 + u.IntN(5) {
		change.IDs = append(change.IDs, u.entries[u.IntN(len(u.entries))])
	}
	done, err := timekeeping.ChangeInBulk(ctx, u.a, apptest.Admin, change)
	if err == nil {
		u.changed = append(u.changed, done.ActID)
	}
	return err
}

// timer starts a timer, lets one wait or run, or stops it.
func (u *user) timer(ctx context.Context) error {
	timers, err := timekeeping.Timers(ctx, u.a, apptest.Staff.Actor)
	if err != nil || len(timers) == 0 || u.IntN(4) == 0 {
		_, err := timekeeping.StartTimer(ctx, u.a, apptest.Staff,
			timekeeping.TypedTimer{EngagementID: int64(1 + u.IntN(3)), ServiceID: 1, Treatment: wip.Billable, Text: "work"})
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

func (u *user) draft(ctx context.Context) (*invoices.Invoice, error) {
	drafts, err := invoices.Drafts(ctx, u.a, apptest.Admin.Actor, invoices.Filter{})
	if err != nil || len(drafts) == 0 {
		return nil, errors.Join(err, app.Refuse(app.NotFound, "none"))
	}
	inv, err := invoices.One(ctx, u.a, apptest.Admin.Actor, drafts[u.IntN(len(drafts))].ID)
	if err != nil {
		return nil, err
	}
	return inv, toNet(inv)
}

func (u *user) entry(ctx context.Context) (*timekeeping.Entry, error) {
	if len(u.entries) == 0 {
		return nil, app.Refuse(app.NotFound, "none")
	}
	return timekeeping.One(ctx, u.a, apptest.Admin.Actor, u.entries[u.IntN(len(u.entries))])
}

func (u *user) act(ctx context.Context) error {
	switch u.IntN(31) {
	case 28, 29, 30:
		return u.delivers(ctx)
	case 22, 23, 24:
		return u.decide(ctx)
	case 25, 26:
		return u.inRun(ctx)
	case 27:
		return u.approval(ctx)
	case 14, 15, 16:
		return u.money(ctx)
	case 17, 18:
		return u.afterwards(ctx)
	case 19:
		return u.begin(ctx)
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
		return u.run(ctx)
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
	rate := map[string]string{"engagement": fmt.Sprint(engagement), "per_hour": fmt.Sprint(60 + u.IntN(90)),
		"from": fmt.Sprintf("2026-11-%02d", 1+u.IntN(30))}
	if _, err := registry.AddRecord(ctx, u.a, apptest.Admin, "rates", rate); err != nil {
		return err
	}
	done, err := timekeeping.Rerate(ctx, u.a, apptest.Admin,
		timekeeping.Rerating{EngagementID: engagement, From: november.AddDays(-29), To: apptest.Today})
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
	switch choice := u.IntN(12); {
	case choice < 2 && len(inv.Lines) > 0:
		_, err = drafts.TakeOut(ctx, u.a, apptest.Admin, edit(inv), entries(inv.Lines[u.IntN(len(inv.Lines))].PortionID))
	case choice < 4 && len(inv.LeftOut) > 0:
		_, err = drafts.PutOn(ctx, u.a, apptest.Admin, edit(inv), unbilledOnes(inv.LeftOut[u.IntN(len(inv.LeftOut))].PortionID))
	case choice == 5 && u.IntN(4) == 0: // the client and another pay it from now on
		_, err = registry.AddRecord(ctx, u.a, apptest.Admin, "payers", map[string]string{"engagement": fmt.Sprint(1 + u.IntN(3)),
			"client": []string{"A", "B"}[u.IntN(2)], "share": fmt.Sprint(1 + u.IntN(3))})
	case choice == 5:
		_, err = issuing.ResolveFinding(ctx, u.a, apptest.Admin, edit(inv), drafts.SeveralPayers, 0, "divide")
	case choice == 4:
		err = drafts.Delete(ctx, u.a, apptest.Admin, edit(inv))
	case choice >= 8:
		err = u.invoicing(ctx, inv)
	default:
		_, err = issuing.Issue(ctx, u.a, apptest.Admin, edit(inv))
	}
	return err
}

// begin begins an invoice outside of any run.
func (u *user) begin(ctx context.Context) error {
	b := drafts.Beginning{ClientID: int64(1 + u.IntN(2)), Take: []string{"all", "time", "expenses", "fees", "nothing"}[u.IntN(5)]}
	if u.IntN(3) == 0 {
		b.EngagementID = int64(1 + u.IntN(3))
	}
	_, err := drafts.Begin(ctx, u.a, apptest.Admin, b)
	return err
}

// schedules are ways of paying; the second needs an end, which the work has not.
var schedules = []string{"", "50% issue; 50% end", "rest issue; rest monthly; rest monthly", "10.00 issue; rest 30d",
	"33.3333% issue; 66.6667% 60d"}

// invoicing changes what a draft says and takes.
func (u *user) invoicing(ctx context.Context, inv *invoices.Invoice) (err error) {
	choose := func(name, value string) {
		_, err = drafts.SetChoice(ctx, u.a, apptest.Admin, edit(inv),
			drafts.ChoiceChange{Name: name, Value: value, Keep: []string{"invoice", "invoice", "client", "engagement"}[u.IntN(4)]})
	}
	amount := fmt.Sprintf("%d.%02d", u.IntN(400), u.IntN(100))
	switch u.IntN(12) {
	case 11:
		_, err = drafts.SetDates(ctx, u.a, apptest.Admin, edit(inv),
			drafts.Dates{Dated: u.someDay(), UpTo: november.AddDays(u.IntN(3) - 1)})
	case 0, 1:
		_, err = drafts.AddLine(ctx, u.a, apptest.Admin, edit(inv),
			drafts.LineTyped{Text: "by hand", Amount: amount, Advance: u.IntN(3) == 0})
	case 2:
		_, err = drafts.AddLine(ctx, u.a, apptest.Admin, edit(inv), drafts.LineTyped{Text: "less", Amount: "-" + amount})
	case 3:
		choose("discount", fmt.Sprint(u.IntN(30)))
	case 4:
		choose("surcharge", fmt.Sprint(u.IntN(9)))
	case 5:
		choose("schedule", schedules[u.IntN(len(schedules))])
	case 6:
		choose("use_funds", []string{"all", "none"}[u.IntN(2)])
	case 7:
		choose("withholding", fmt.Sprint(u.IntN(20)))
	case 8:
		_, err = drafts.AddProgress(ctx, u.a, apptest.Admin, edit(inv), int64(1+u.IntN(3)), fmt.Sprintf("%d%%", u.IntN(101)))
	case 9:
		if len(inv.Lines) > 0 {
			_, err = drafts.TakeOut(ctx, u.a, apptest.Admin, edit(inv), linesOf(inv.Lines[u.IntN(len(inv.Lines))].LineID))
		}
	default:
		_, err = drafts.AddUnbilled(ctx, u.a, apptest.Admin, edit(inv), "all", 0)
	}
	return err
}

// someDay is a day up to today, near enough that days cross each other.
func (u *user) someDay() day.Day { return apptest.Today.AddDays(-u.IntN(8)) }

// money receives payments and funds, asks for some, and gives some of it back, on any
// day and by any way.
func (u *user) money(ctx context.Context) (err error) {
	client, amount := int64(1+u.IntN(2)), fmt.Sprintf("%d.%02d", u.IntN(900), u.IntN(100))
	switch u.IntN(11) {
	case 0, 1, 2:
		in := receivables.TypedPayment{ClientID: client, Day: u.someDay(), Amount: amount, Method: "transfer"}
		if register, err := invoices.Register(ctx, u.a, apptest.Admin.Actor, invoices.Filter{ClientID: client}); err == nil &&
			len(register) > 0 && u.IntN(2) == 0 {
			in.On = []receivables.PaidInvoice{{InvoiceID: register[u.IntN(len(register))].ID}}
		}
		_, err = receivables.Receive(ctx, u.a, apptest.Admin, in)
	case 3, 4:
		in := receivables.TypedFunds{ClientID: client, Day: u.someDay(), Amount: amount, Method: "cash"}
		if client == 2 && u.IntN(2) == 0 {
			in.EngagementID = apptest.Study
		}
		if u.IntN(3) == 0 {
			in.RequestID = int64(1 + u.IntN(3))
		}
		_, err = receivables.ReceiveFunds(ctx, u.a, apptest.Admin, in)
	case 5:
		_, err = receivables.Reverse(ctx, u.a, apptest.Admin, int64(1+u.IntN(40)), "bounced")
	case 6:
		_, err = receivables.Refund(ctx, u.a, apptest.Admin, int64(1+u.IntN(3)), amount, u.someDay())
	case 7:
		var plan []receivables.Putting
		if plan, err = receivables.FundsPlan(ctx, u.a, apptest.Admin.Actor, []int64{client}); err == nil {
			puts := []receivables.PutTyped{}
			for _, p := range plan {
				puts = append(puts, receivables.PutTyped{FundsID: p.FundsID, InvoiceID: p.InvoiceID, Amount: p.Amount.Typed()})
			}
			_, err = receivables.ApplyFunds(ctx, u.a, apptest.Admin, puts)
		}
	case 8:
		_, err = receivables.RequestDeposit(ctx, u.a, apptest.Admin, receivables.TypedRequest{ClientID: client, Amount: amount})
	case 9:
		in := receivables.TypedOpening{ClientID: client, Number: fmt.Sprint("OLD-", u.IntN(50)), Dated: u.someDay(), Balance: amount}
		_, err = receivables.EnterOpening(ctx, u.a, apptest.Admin, in)
	default:
		_, err = receivables.RefundCredit(ctx, u.a, apptest.Admin, store.Account{ClientID: client, EntityID: 1, Currency: "EUR"}, amount,
			u.someDay())
	}
	return err
}

// afterwards reopens or credits an issued invoice, or puts credit or a transfer
// right.
func (u *user) afterwards(ctx context.Context) error {
	register, err := invoices.Register(ctx, u.a, apptest.Admin.Actor, invoices.Filter{})
	if err != nil || len(register) == 0 {
		return errors.Join(err, app.Refuse(app.NotFound, "none"))
	}
	inv, err := invoices.One(ctx, u.a, apptest.Admin.Actor, register[u.IntN(len(register))].ID)
	if err != nil {
		return err
	}
	if err := toNet(inv); err != nil {
		return err
	}
	switch u.IntN(12) {
	case 9:
		_, err = receivables.WriteOff(ctx, u.a, apptest.Admin, inv.ID, receivables.GivingUp{Day: u.someDay(), Reason: store.LostTooSmall,
			Amount: []string{"", fmt.Sprint(1 + u.IntN(200))}[u.IntN(2)]})
	case 10:
		_, err = receivables.OweAgain(ctx, u.a, apptest.Admin, inv.ID)
	case 11: // it comes after all, in part, in full, or more
		_, err = receivables.Receive(ctx, u.a, apptest.Admin, receivables.TypedPayment{ClientID: inv.ClientID, Day: u.someDay(), Method: "transfer",
			Amount: fmt.Sprint(1 + u.IntN(300)), On: []receivables.PaidInvoice{{InvoiceID: inv.ID}}})
	case 5:
		_, err = receivables.TakeBack(ctx, u.a, apptest.Admin, inv.ID)
	case 6:
		_, err = receivables.Apply(ctx, u.a, apptest.Admin, int64(1+u.IntN(3)), inv.ID,
			[]string{"", fmt.Sprint(1 + u.IntN(200))}[u.IntN(2)])
	case 0, 7:
		_, err = issuing.Reopen(ctx, u.a, apptest.Admin, edit(inv))
	case 1, 8:
		_, err = receivables.UseCredit(ctx, u.a, apptest.Admin, inv.ID, []string{"", fmt.Sprint(1 + u.IntN(200))}[u.IntN(2)])
	case 2:
		err = receivables.MarkTransfers(ctx, u.a, apptest.Admin, []int64{int64(1 + u.IntN(5))}, u.IntN(4) > 0)
	default:
		asked := issuing.Crediting{Reason: "a mistake", Dated: []day.Day{0, apptest.Today, u.someDay()}[u.IntN(3)]}
		for _, l := range inv.Lines {
			if u.IntN(2) == 0 && !l.Covered {
				amount := ""
				if u.IntN(2) == 0 {
					amount = fmt.Sprintf("%d.%02d", u.IntN(60), u.IntN(100))
				}
				asked.Lines = append(asked.Lines, issuing.CreditedLine{LineID: l.LineID, Amount: amount, Again: u.IntN(2) == 0})
			}
		}
		_, err = issuing.Credit(ctx, u.a, apptest.Admin, edit(inv), asked)
	}
	return err
}

// Property: the conservation rules hold after every act of a long random
// sequence, in whatever order; what is refused is refused in words.
func TestEverythingAddsUpAfterRandomActs(t *testing.T) {
	acts, seeds := 5000, []uint64{7, 11, 13, 17}
	if testing.Short() {
		acts, seeds = 250, seeds[:1]
	}
	for _, seed := range seeds {
		t.Run(fmt.Sprint("seed ", seed), func(t *testing.T) { addsUp(t, seed, acts, func(u *user) error { return u.act(t.Context()) }) })
	}
}

// Property: the same of money alone, so that its acts meet each other in every order:
// hold, apply, take back, reverse, credit, use credit, refund, reopen, issue again,
// delete, move days.
func TestMoneyAddsUpInWhateverOrder(t *testing.T) {
	acts, seeds := 5000, []uint64{1, 2, 3, 4}
	if testing.Short() {
		acts, seeds = 500, seeds[:1]
	}
	for _, seed := range seeds {
		t.Run(fmt.Sprint("seed ", seed), func(t *testing.T) {
			addsUp(t, seed, acts, func(u *user) error { return u.onMoney(t.Context()) })
		})
	}
}

// Property: the same of two administrators at once, who click at random on the same
// data; in between the check reads it as it is.
func TestMoneyOfTwoAdministratorsAddsUp(t *testing.T) {
	acts, seeds := 2500, []uint64{21, 22}
	if testing.Short() {
		acts, seeds = 100, seeds[:1]
	}
	for _, seed := range seeds {
		a := apptest.Firm(t)
		if err := a.Store.Own(); err != nil { // served: what one writes is not left half done for the other
			t.Fatal(err)
		}
		arrangements(t, a)
		world := around(t, a, seed)
		var both sync.WaitGroup
		for who := range uint64(2) {
			u := &user{Rand: rand.New(rand.NewPCG(seed, who)), a: a, outside: world}
			both.Go(func() {
				for n := range acts {
					err := u.onMoney(t.Context())
					if refusal := new(app.Refusal); err != nil && !errors.As(err, &refusal) {
						t.Errorf("act %d: %v", n, err)
						return
					}
					if n%10 != 0 {
						continue
					}
					if breaches, err := a.Store.Check(a.Store.Read(t.Context(), store.Everything)); err != nil || len(breaches) > 0 {
						t.Errorf("after act %d: %v, %v", n, breaches, err)
						return
					}
				}
			})
		}
		both.Wait()
		apptest.Whole(t, a)
		keptHolds(t, a)
	}
}

// onMoney does an act of money, or what leads to one.
func (u *user) onMoney(ctx context.Context) error {
	switch u.IntN(16) {
	case 12, 13, 14, 15:
		return u.delivers(ctx)
	case 0, 1, 2, 3:
		return u.money(ctx)
	case 4, 5, 6, 7:
		return u.afterwards(ctx)
	case 8:
		return u.begin(ctx)
	case 9:
		entry, err := timekeeping.Record(ctx, u.a, apptest.Staff, u.typed())
		if err == nil {
			u.entries = append(u.entries, entry.ID)
		}
		return err
	}
	return u.onDraft(ctx)
}

// addsUp does random acts, with the check after each that was refused and every fifth.
func addsUp(t *testing.T, seed uint64, acts int, act func(*user) error) {
	t.Helper()
	u := &user{Rand: rand.New(rand.NewPCG(seed, seed+1)), a: apptest.Firm(t)}
	arrangements(t, u.a)
	u.outside = around(t, u.a, seed)
	done := 0
	for n := range acts {
		err := act(u)
		var refusal *app.Refusal
		if err != nil && !errors.As(err, &refusal) {
			t.Fatalf("act %d: %v", n, err)
		}
		if err == nil {
			done++
		}
		if n%5 == 0 || err != nil && !testing.Short() { // a refusal changes nothing
			apptest.Whole(t, u.a)
		}
		if n%10 == 0 {
			keptHolds(t, u.a)
		}
		if n%100 == 0 {
			agesHold(t, u.a)
		}
	}
	apptest.Whole(t, u.a)
	keptHolds(t, u.a)
	agesHold(t, u.a)
	alike(t, u.a)
	if register, err := invoices.Register(t.Context(), u.a, apptest.Admin.Actor, invoices.Filter{}); err != nil || len(register) < 5 ||
		done < acts/4 {
		t.Errorf("only %d of %d acts were done, %d invoices issued: %v", done, acts, len(register), err)
	}
}

// keptHolds fails where a figure that was kept is not what it would be computed anew.
func keptHolds(t *testing.T, a *app.App) {
	t.Helper()
	anew := *a
	anew.Kept = nil
	for _, actor := range []app.Actor{apptest.Admin.Actor, apptest.Lead.Actor} {
		kept, fresh := apptest.KeptFigures(t, a, actor, november), apptest.KeptFigures(t, &anew, actor, november)
		for i := range kept {
			if !reflect.DeepEqual(kept[i], fresh[i]) {
				t.Fatalf("%s: kept\n%+v\nanew\n%+v", actor.Role, kept[i], fresh[i])
			}
		}
	}
}

// arrangements give the three engagements a cap, a recurring and a fixed fee.
func arrangements(t *testing.T, a *app.App) {
	t.Helper()
	for _, set := range [][2]string{{"fee", "4000"}, {"arrangement", setup.Capped}} {
		apptest.Set(t, a, "engagements", apptest.Survey, set[0], set[1])
	}
	for _, set := range [][2]string{{"fee", "700"}, {"fee_period", "month"}, {"fee_from", "2026-09-15"}, {"fee_prorated", "yes"},
		{"arrangement", setup.Recurring}} {
		apptest.Set(t, a, "engagements", apptest.Advice, set[0], set[1])
	}
	for _, set := range [][2]string{{"fee", "9000"}, {"arrangement", setup.FixedFee}} {
		apptest.Set(t, a, "engagements", apptest.Study, set[0], set[1])
	}
}
