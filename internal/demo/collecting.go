package demo

import (
	"errors"
	"slices"

	"dorvet/core/day"
	"dorvet/internal/app/banking"
	"dorvet/internal/app/receivables"
	"dorvet/internal/store"
)

// lateTerms are what some clients owe for paying late: two by law, one by the month, one a fixed sum.
func (s *seeder) lateTerms() error {
	if _, err := s.add("reference-rates", "currency", "EUR", "day", "2026-01-01", "percent", "2.15", "source", "invented for the demo"); err != nil {
		return err
	}
	if _, err := s.add("reference-rates", "currency", "EUR", "day", "2026-07-01", "percent", "2", "source", "invented for the demo"); err != nil {
		return err
	}
	return errors.Join(
		s.set("clients", 15, "late_yearly", "8", "late_reference", "yes", "late_flat", "40"),
		s.set("clients", 28, "late_yearly", "8", "late_reference", "yes", "late_flat", "40"),
		s.set("clients", 24, "late_percent", "1", "late_grace", "10"), s.set("clients", 10, "late_percent", "0.5"), s.set("clients", 32, "late_flat", "15"),
		s.set("clients", 28, "reminder_plan", "3 warm; 14; 30 firm statement charge; 60 firm by hand"))
}

// chargedLate are charges for paying late: one with the next bill, one waived before and one after it was charged.
func (s *seeder) chargedLate() error {
	late, err := receivables.LateNow(s.ctx, s.app, s.admin.Actor)
	if err != nil {
		return err
	}
	of := func(client int64) (ids []int64) {
		for _, l := range late.Due {
			if l.ClientID == client && l.Why == "" {
				ids = append(ids, l.InvoiceID)
			}
		}
		return ids
	}
	if _, err := receivables.ChargeLate(s.ctx, s.app, s.admin, receivables.ChargingLate{InvoiceIDs: of(24)[:2]}); err != nil {
		return err
	}
	if late, err = receivables.LateNow(s.ctx, s.app, s.admin.Actor); err != nil {
		return err
	}
	return errors.Join(
		receivables.WaiveLate(s.ctx, s.app, s.admin, receivables.WaivingLate{ChargedID: late.Charged[0].ID, Reason: "a good client"}),
		receivables.WaiveLate(s.ctx, s.app, s.admin, receivables.WaivingLate{InvoiceIDs: of(32)[:1], Reason: "our reminder went astray"}))
}

// givenUp are invoices that nobody will pay: two too small to pursue, one whose client is insolvent, of which a part comes after all.
func (s *seeder) givenUp() error {
	today := s.app.Clock.Today()
	all, err := store.All[store.Invoice](s.app.Store.Read(s.ctx, store.Everything), "id")
	if err != nil {
		return err
	}
	for _, g := range []struct {
		number, reason, note, came string
	}{{"SC827", store.LostTooSmall, "", ""}, {"SC828", store.LostTooSmall, "", "138.38"},
		{"SC838", store.LostInsolvent, "proceedings since August", "1000"}} {
		inv := &all[slices.IndexFunc(all, func(i store.Invoice) bool { return i.NumberText == g.number })]
		in := receivables.GivingUp{Day: today.AddDays(-35), Reason: g.reason, Note: g.note}
		if _, err := receivables.WriteOff(s.ctx, s.app, s.admin, inv.ID, in); err != nil {
			return err
		}
		if g.came == "" {
			continue
		}
		if _, err := receivables.Receive(s.ctx, s.app, s.admin, receivables.TypedPayment{ClientID: inv.ClientID, Day: today.AddDays(-12),
			Amount: g.came, Method: "transfer", Note: "From the administrator", On: []receivables.PaidInvoice{{InvoiceID: inv.ID}}}); err != nil {
			return err
		}
	}
	return nil
}

// collecting is what somebody has done about what is late: whom to ask for and where, plans of some clients' own, two who are left alone,
// four calls.
func (s *seeder) collecting() error {
	for _, c := range []struct{ client, name, phone string }{
		{"C028", "Maeve Rourke", "+44 1632 960 014"}, {"C003", "Tor Lindqvist", "+44 1632 960 022"}, {"C015", "Agnes Coyle", "+44 1632 960 031"},
		{"C017", "Parish clerk", "+44 1632 960 038"}, {"C020", "Luc Perrin", "+44 1632 960 045"}, {"C024", "Ada Winther", "+44 1632 960 052"},
		{"C027", "Bram Hollin", "+44 1632 960 067"}, {"C029", "Signe Jarl", "+44 1632 960 073"}, {"C034", "Curator’s office", "+44 1632 960 088"},
		{"C018", "Dara Finn", "+44 1632 960 091"},
	} {
		if _, err := s.add("contacts", "client", c.client, "name", c.name, "title", "Accounts", "mail", "accounts@client.example", "phones", c.phone,
			"gets_invoices", "no", "gets_statements", "no", "gets_reminders", "yes", "gets_proposals", "no"); err != nil {
			return err
		}
	}
	for client, plan := range map[int64]string{1: "5 before warm; 10 warm; 30; 60 statement by hand", 10: "30 firm statement; 60 firm invoices statement"} {
		if err := s.set("clients", client, "reminder_plan", plan); err != nil {
			return err
		}
	}
	today := s.app.Clock.Today()
	for _, h := range []receivables.Holding{
		{ClientID: 26, Reason: "Their grant comes in January", Until: today.AddDays(45)},
		{ClientID: 19, Reason: "The owner speaks with them himself"},
	} {
		if err := receivables.Hold(s.ctx, s.app, s.admin, h); err != nil {
			return err
		}
	}
	for _, c := range []receivables.Calling{
		{ClientID: 34, Outcome: store.Promised, With: "Curator’s office", Promised: today.AddDays(9), Text: "With the run of the month."},
		{ClientID: 17, Outcome: store.Promised, With: "Parish clerk", Promised: today.AddDays(4)},
		{ClientID: 20, Outcome: store.Unreached, With: "Luc Perrin"},
		{ClientID: 27, Outcome: store.Asked, With: "Bram Hollin", Again: today.AddDays(3), Text: "Looks for the order number."},
	} {
		if err := receivables.RecordCall(s.ctx, s.app, s.admin, c); err != nil {
			return err
		}
	}
	return nil
}

// reconciled is the clients' account in the middle of November, as it was kept; the end of the month waits. Two clients hold at least so much.
func (s *seeder) reconciled() error {
	accounts, err := store.All[store.BankAccount](s.app.Store.Read(s.ctx, store.Everything), "id")
	if err != nil {
		return err
	}
	for _, account := range accounts {
		if !account.ClientsMoney {
			continue
		}
		for _, on := range []day.Day{day.Of(2026, 11, 15), day.Of(2026, 11, 20)} {
			if _, err := banking.KeepReconciliation(s.ctx, s.app, s.admin, banking.Keeping{AccountID: account.ID, On: on, Note: "within the month"}); err != nil {
				return err
			}
		}
	}
	return errors.Join(s.set("clients", 5, "funds_least", "4000"), s.set("clients", 7, "funds_least", "2500"))
}

// paidOut is what people laid out: two can be paid back by the bank, one was with the wages, one is in an order.
func (s *seeder) paidOut() error {
	list, err := banking.Outgoing(s.ctx, s.app, s.admin.Actor)
	if err != nil {
		return err
	}
	ibans := []string{"IE08DEMO00000000000101", "IE78DEMO00000000000102", "IE51DEMO00000000000103"}
	people := []banking.ToPay{}
	for _, p := range list {
		if p.Kind == "expenses" && len(people) < len(ibans) {
			if err := s.set("people", p.ID, "iban", ibans[len(people)]); err != nil {
				return err
			}
			people = append(people, p)
		}
	}
	if len(people) < 2 {
		return errors.New("nobody has laid anything out")
	}
	if _, err := banking.OrderPayments(s.ctx, s.app, s.admin, banking.Ordering{Keys: []string{people[0].Key}}); err != nil {
		return err
	}
	return banking.PayBack(s.ctx, s.app, s.admin, banking.PayingBack{PersonID: people[1].ID, Currency: people[1].Amount.Currency,
		Day: s.app.Clock.Today().AddDays(-1), Note: "with the wages"})
}
