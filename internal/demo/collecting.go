package demo

import (
	"slices"

	"dorvet/internal/app/receivables"
	"dorvet/internal/store"
)

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
