package demo

import (
	"fmt"
	"math/rand/v2"

	"dorvet/core/day"
	"dorvet/internal/app/drafts"
	"dorvet/internal/app/invoices"
	"dorvet/internal/app/issuing"
	"dorvet/internal/app/receivables"
	"dorvet/internal/store"
)

// The year before time was recorded here: what was invoiced and paid, so that the
// reports have shape and something is owed of every age.

// billingDays of the year before; 25 invoices each, so that the first invoice of
// recorded time is SC1001.
var billingDays = []day.Day{day.Of(2026, 2, 2), day.Of(2026, 3, 2), day.Of(2026, 4, 1), day.Of(2026, 5, 4), day.Of(2026, 6, 2),
	day.Of(2026, 7, 1), day.Of(2026, 8, 3), day.Of(2026, 9, 1)}

const eachTime = 25

// invoicedTexts are what was invoiced by hand, each with a price of one or nothing.
var invoicedTexts = []struct {
	text, unit string
	price      int
}{{"Survey days at sea", "day", 1480}, {"Processing and charts", "", 0}, {"Site visit with report", "", 0}, {"Advice by retainer", "", 0},
	{"Samples analysed", "sample", 86}, {"Chart on paper", "sheet", 45}}

// treasurer makes the invoices and payments of the year, day by day.
type treasurer struct {
	*seeder
	*rand.Rand
	events map[day.Day][]func() error
	turn   int // whose turn it is to be invoiced
}

func newTreasurer(s *seeder) *treasurer {
	return &treasurer{seeder: s, Rand: rand.New(rand.NewPCG(seed, seed+3)), events: map[day.Day][]func() error{}}
}

// on plans something for a day of the demo; what would be after today is left out.
func (t *treasurer) on(d day.Day, do func() error) {
	if d < Today {
		t.events[d] = append(t.events[d], do)
	}
}

// plan puts the year's events on their days.
func (t *treasurer) plan() error {
	recurring := [][]string{{"fee_from", "2026-01-01"}, {"fee_from", "2026-02-10", "fee_prorated", "yes", "fee_arrears", "yes"}}
	for i, name := range []string{"Yearly soundings", "Benthic monitoring"} {
		if err := t.set("engagements", t.named(name), recurring[i]...); err != nil {
			return err
		}
	}
	if err := t.set("clients", 7, "use_funds", "none"); err != nil { // they asked; so their deposit is forgotten
		return err
	}
	t.on(day.Of(2026, 1, 12), t.openings)
	for _, d := range billingDays {
		t.on(d, func() error { return t.invoices(d) })
	}
	t.on(day.Of(2026, 3, 10), func() error { return t.hold(3, "12000") })
	t.on(day.Of(2026, 6, 16), func() error { return t.hold(5, "3500") })
	t.on(day.Of(2026, 11, 18), func() error { return t.hold(7, "1500") })
	t.on(day.Of(2026, 11, 23), t.deposits)
	t.on(day.Of(2026, 11, 26), t.transfers)
	for i, name := range progressed {
		t.on(billingDays[len(billingDays)-1], func() error { return t.progress(t.named(name), []string{"50%", "80%", "100%"}[i]) })
	}
	return nil
}

// progressed are fixed fees of which a part is billed, each on an invoice of its own
// among those of the last day.
var progressed = []string{"Pilot chart update", "Licence renewal", "Slipway levels"}

// progress bills a part of a fixed fee, and covers the time behind it: of the last
// one the time is worth more than the fee.
func (t *treasurer) progress(engagement int64, done string) error {
	inv, err := t.read(drafts.Begin(t.ctx, t.app, t.admin,
		drafts.Beginning{EngagementID: engagement, Take: "nothing", UpTo: day.Of(2026, 8, 31)}))
	if err != nil {
		return err
	}
	if inv, err = t.read(drafts.AddProgress(t.ctx, t.app, t.admin, drafts.Edit{ID: inv.ID, Version: inv.Version}, engagement,
		done)); err != nil {
		return err
	}
	_, err = issuing.Issue(t.ctx, t.app, t.admin, drafts.Edit{ID: inv.ID, Version: inv.Version})
	return err
}

// named is the number of a later engagement by its name.
func (t *treasurer) named(name string) int64 {
	n := 0
	for _, c := range later {
		for _, w := range c.work {
			if w.name == name {
				return t.laterWork[n]
			}
			n++
		}
	}
	panic("there is no engagement " + name)
}

// until does what was planned for each day before one.
func (t *treasurer) until(end day.Day) error {
	for d := yearStart; d < end; d++ {
		if err := t.today(d); err != nil {
			return err
		}
	}
	return nil
}

// today does what was planned for a day; doing it may plan more.
func (t *treasurer) today(d day.Day) error {
	for n := 0; n < len(t.events[d]); n++ {
		t.at(d, 10)
		if err := t.events[d][n](); err != nil {
			return fmt.Errorf("%s: %w", d, err)
		}
	}
	return nil
}

// openings are old invoices taken over from before.
func (t *treasurer) openings() error {
	for i, balance := range []string{"1840.50", "4210.00"} {
		old, err := t.read(receivables.EnterOpening(t.ctx, t.app, t.admin,
			receivables.TypedOpening{ClientID: int64(2 + 2*i), Number: fmt.Sprintf("25-%d", 311+i), Dated: day.Of(2025, 11, 17+i),
				Balance: balance}))
		if err != nil {
			return err
		}
		if i == 0 {
			t.pay(old, day.Of(2026, 2, 20), 1)
		}
	}
	return nil
}

// invoices issues a month's invoices, and plans what becomes of each.
func (t *treasurer) invoices(d day.Day) error {
	work := append(append([]int64{}, t.engagements[:11]...), t.laterWork...)
	n := eachTime
	if d == billingDays[len(billingDays)-1] {
		n -= len(progressed)
	}
	for range n {
		engagement := work[t.turn%len(work)]
		t.turn++
		inv, err := t.invoice(engagement, d)
		if err != nil {
			return fmt.Errorf("invoice of engagement %d: %w", engagement, err)
		}
		t.follow(inv, d)
	}
	return nil
}

// read reads the invoice that an act has changed.
func (t *treasurer) read(done *drafts.Changed, err error) (*invoices.Invoice, error) {
	if err != nil {
		return nil, err
	}
	return invoices.One(t.ctx, t.app, t.admin.Actor, done.ID)
}

func (t *treasurer) invoice(engagement int64, d day.Day) (*invoices.Invoice, error) {
	inv, err := t.read(drafts.Begin(t.ctx, t.app, t.admin, drafts.Beginning{EngagementID: engagement, Take: "fees", UpTo: d - 1, Dated: d}))
	if err != nil {
		return nil, err
	}
	add := func(in drafts.LineTyped) {
		if err == nil {
			inv, err = t.read(drafts.AddLine(t.ctx, t.app, t.admin, drafts.Edit{ID: inv.ID, Version: inv.Version}, in))
		}
	}
	unit := map[string]int{"JPY": 150, "NOK": 11}[string(inv.Total.Currency)]
	for n := 0; len(inv.Lines) == 0 || n == 0 && t.IntN(3) == 0; n++ {
		what := invoicedTexts[t.IntN(len(invoicedTexts))]
		in := drafts.LineTyped{Text: fmt.Sprintf("%s, %s", what.text, (d - 5).Time().Format("January 2006")),
			Amount: fmt.Sprint((4 + t.IntN(60)) * 80 * max(unit, 1))}
		if what.price > 0 {
			in.Amount, in.Quantity, in.Unit, in.Price = "", fmt.Sprint(1+t.IntN(5)), what.unit, fmt.Sprint(what.price*max(unit, 1))
		}
		if add(in); err != nil {
			return nil, err
		}
	}
	if inv, err = t.choose(inv); err != nil {
		return nil, err
	}
	return t.read(issuing.Issue(t.ctx, t.app, t.admin, drafts.Edit{ID: inv.ID, Version: inv.Version}))
}

// choose gives some invoices a discount, a surcharge or instalments.
func (t *treasurer) choose(inv *invoices.Invoice) (*invoices.Invoice, error) {
	name, value := "", ""
	switch t.IntN(16) {
	case 0:
		name, value = "discount", "5"
	case 1:
		name, value = "schedule", "rest issue; rest monthly; rest monthly"
	case 2:
		name, value = "schedule", "30% issue; rest 60d"
	case 3:
		name, value = "layout", "sum"
	default:
		return inv, nil
	}
	return t.read(drafts.SetChoice(t.ctx, t.app, t.admin, drafts.Edit{ID: inv.ID, Version: inv.Version},
		drafts.ChoiceChange{Name: name, Value: value, Keep: "invoice"}))
}

// follow plans what becomes of an invoice: most are paid around their due day, some
// in part, twice, too much, or not at all; a few are credited or disputed.
func (t *treasurer) follow(inv *invoices.Invoice, d day.Day) {
	due := max(inv.Due, d+20)
	paid := due.AddDays(t.IntN(30) - 12)
	switch n := t.IntN(40); {
	case n < 30:
		t.pay(inv, paid, 1)
	case n < 33:
		t.pay(inv, paid, 2)
		t.pay(inv, paid.AddDays(35), 1)
	case n == 33:
		t.pay(inv, paid, 2)
	case n == 34:
		t.pay(inv, paid, -1)
	case n == 35:
		t.on(due.AddDays(-5), func() error { return t.credit(inv.ID) })
		t.pay(inv, paid.AddDays(9), 1)
	case n == 36:
		t.on(due.AddDays(12), func() error { return t.dispute(inv.ID) })
	}
}

// pay plans a payment of what is open then: all of it, half of it, or, below zero,
// more than it.
func (t *treasurer) pay(inv *invoices.Invoice, on day.Day, share int64) {
	client, id := inv.ClientID, inv.ID
	t.on(on, func() error {
		now, err := store.Get[store.Invoice](t.app.Store.Read(t.ctx, store.Everything), id)
		if err != nil || now.Open == 0 {
			return err
		}
		minor := now.Open / max(share, 1)
		if share < 0 {
			minor += 5000
		}
		_, err = receivables.Receive(t.ctx, t.app, t.admin,
			receivables.TypedPayment{ClientID: client, EntityID: now.EntityID, Currency: now.Currency, Day: on,
				Amount: now.Amount(minor).Typed(),
				Method: []string{"transfer", "transfer", "transfer", "cheque", "debit"}[t.IntN(5)], Reference: now.NumberText,
				On: []receivables.PaidInvoice{{InvoiceID: id}}})
		return err
	})
}

// credit issues a credit note over a part of an invoice's first line.
func (t *treasurer) credit(id int64) error {
	inv, err := invoices.One(t.ctx, t.app, t.admin.Actor, id)
	if err != nil {
		return err
	}
	left := inv.Lines[0].Amount
	left.Minor -= left.Minor * 3 / 4
	_, err = issuing.Credit(t.ctx, t.app, t.admin, drafts.Edit{ID: inv.ID, Version: inv.Version},
		issuing.Crediting{Reason: "Charged for more than was agreed",
			Lines: []issuing.CreditedLine{{LineID: inv.Lines[0].LineID, Amount: left.Typed()}}})
	return err
}

func (t *treasurer) dispute(id int64) error {
	inv, err := store.Get[store.Invoice](t.app.Store.Read(t.ctx, store.Everything), id)
	if err != nil {
		return err
	}
	_, err = issuing.Dispute(t.ctx, t.app, t.admin, drafts.Edit{ID: id, Version: inv.Version},
		"They say that one day was lost to weather and should not be charged")
	return err
}

// hold receives money to be held for a client.
func (t *treasurer) hold(client int64, amount string) error {
	_, err := receivables.ReceiveFunds(t.ctx, t.app, t.admin,
		receivables.TypedFunds{ClientID: client, Day: t.app.Clock.Today(), Amount: amount, Method: "transfer", Reference: "deposit"})
	return err
}

// deposits asks for two, of which one comes.
func (t *treasurer) deposits() error {
	first, err := receivables.RequestDeposit(t.ctx, t.app, t.admin,
		receivables.TypedRequest{EngagementID: t.engagements[7], Amount: "2400", Text: "Deposit on the winter surveys",
			Due: day.Of(2026, 12, 10)})
	if err != nil {
		return err
	}
	if _, err := receivables.RequestDeposit(t.ctx, t.app, t.admin,
		receivables.TypedRequest{ClientID: 4, Amount: "1800", Due: t.app.Clock.Today() + 2}); err != nil {
		return err
	}
	_, err = receivables.ReceiveFunds(t.ctx, t.app, t.admin,
		receivables.TypedFunds{RequestID: first.ID, Day: t.app.Clock.Today(), Amount: "2400", Method: "transfer"})
	return err
}

// transfers marks all but the newest two as made.
func (t *treasurer) transfers() error {
	open, err := receivables.Transfers(t.ctx, t.app, t.admin.Actor, false)
	if err != nil || len(open) < 3 {
		return err
	}
	ids := []int64{}
	for _, transfer := range open[2:] {
		ids = append(ids, transfer.ID)
	}
	return receivables.MarkTransfers(t.ctx, t.app, t.admin, ids, true)
}
