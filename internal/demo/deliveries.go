package demo

import (
	"context"
	"errors"
	"fmt"
	"strings"

	core "dorvet/core/delivery"

	"dorvet/core/day"
	"dorvet/core/letter"
	"dorvet/core/onlinepayment"
	"dorvet/core/paymentmethod"
	"dorvet/internal/app/correspondence"
	"dorvet/internal/app/delivery"
	"dorvet/internal/app/invoices"
	"dorvet/internal/app/paying"
	"dorvet/internal/store"
)

// A reading is what became of an invoice that was mailed: what the mail servers said, and what its client did on its page.
type reading struct {
	said         letter.Action // nothing: no report came
	opened, file bool
	says         []delivery.Claiming
	answers      []delivery.Answering // to what was said, in its order
	pays         []payment
}

// Test numbers of the stand-in of the payment service.
const (
	goodCard, emptyCard    = "9000000000000019", "9000000000000043"
	goodIBAN, returnedIBAN = "IE16TEST93115212345678", "IE03TEST93115200000043"
)

// A payment is what a client pays on the page, by a test number of the stand-in, and what the bank says of it weeks later.
type payment struct {
	amount, number string
	later          onlinepayment.State
	gift           string // of thanks
	keep           bool   // the way for later
}

// readings are of the first invoices of November, in the order of their numbers; the last of them are handed over otherwise, or not yet.
var readings = []reading{
	{said: letter.Delivered, opened: true, file: true, pays: []payment{{amount: "250", number: goodCard, gift: "10", keep: true}, {amount: "100", number: emptyCard}}},
	{said: letter.Delivered, opened: true,
		says: []delivery.Claiming{{Kind: store.Disputed, Text: "This was part of the first visit, and billed in October."}}},
	{said: letter.Failed},
	{said: letter.Delivered, opened: true, says: []delivery.Claiming{{Kind: store.Question, Text: "Which site is this?"}},
		pays: []payment{{amount: "180", number: goodCard, gift: "5"}, {amount: "60", number: emptyCard}}},
	{said: letter.Delivered,
		says: []delivery.Claiming{{Kind: store.Disputed, Text: "Two hours less, by our log."},
			{Kind: store.Disputed, Line: 1, Text: "That was a visit of your own."}},
		answers: []delivery.Answering{{Outcome: store.LineWrittenDown, Amount: "20", Answer: "Your log is right: we take it down."},
			{Outcome: store.Credited, Answer: "It was. We take it off."}}},
	{says: []delivery.Claiming{{Kind: store.Disputed, Text: "We agreed on less."}, {Kind: store.Disputed, Line: 1, Text: "Not in our order."}},
		answers: []delivery.Answering{{Outcome: store.LineWrittenDown, Amount: "30", Answer: "As we agreed, then."},
			{Outcome: store.Kept, Answer: "It is the third item of your order of 4 November."}}},
	{said: letter.Delivered, opened: true, file: true,
		says: []delivery.Claiming{{Kind: store.Promise, Section: -1, Line: -1, Day: day.Of(2026, 12, 11)}},
		pays: []payment{{amount: "300", number: returnedIBAN, later: onlinepayment.Returned}, {amount: "120", number: goodIBAN, keep: true}}},
	{said: letter.Failed},
	{said: letter.Delivered, opened: true,
		says: []delivery.Claiming{{Kind: store.Disputed, Section: -1, Line: -1, Text: "We never ordered this survey."}}},
	{said: letter.Delivered, opened: true, says: []delivery.Claiming{{Kind: store.Promise, Section: -1, Line: -1, Day: day.Of(2026, 12, 18)}},
		pays: []payment{{amount: "90", number: returnedIBAN, later: onlinepayment.Returned}, {amount: "75", number: goodIBAN}}},
	{said: letter.Delivered, opened: true,
		says: []delivery.Claiming{{Kind: store.Question, Section: -1, Line: -1, Text: "Can you split this over two of our orders?"}}},
}

// handOver hands over what was issued: all of before November went by post, November's by mail, of which some never arrived; two wait to
// be posted, two were called back, two were given by a link.
func (s *seeder) handOver(on day.Day) error {
	s.at(on, 10)
	if err := s.set("firm", 1, "page_ways", "card debit", "page_parts", "yes", "card_fee", "1.5", "card_fee_fixed", "0.25", "page_gift",
		"yes"); err != nil {
		return err
	}
	caught := map[string]letter.Letter{}
	before := s.app.Mail
	s.app.Mail = func(_ context.Context, l letter.Letter) error { caught[l.To.Address] = l; return nil }
	defer func() { s.app.Mail = before }()
	earlier, err := invoices.Register(s.ctx, s.app, s.admin.Actor, invoices.Filter{Handed: "not_yet", To: day.Of(2026, 11, 1)})
	if err != nil {
		return err
	}
	ids := []int64{}
	for _, inv := range earlier {
		ids = append(ids, inv.ID)
	}
	if _, err := delivery.Posted(s.ctx, s.app, s.admin, ids, on); err != nil {
		return err
	}
	now, err := invoices.Register(s.ctx, s.app, s.admin.Actor, invoices.Filter{State: "open", From: day.Of(2026, 11, 2), By: "number"})
	if err != nil {
		return err
	}
	if len(now) < len(readings)+6 {
		return errors.New("the demo has too few invoices in November to hand over")
	}
	for i, r := range readings {
		if err := s.mailed(&now[i], r, caught); err != nil {
			return fmt.Errorf("hand %s over: %w", now[i].Number, err)
		}
	}
	if err := s.otherwise(now[len(readings):]); err != nil {
		return err
	}
	return s.letters()
}

// mailed sends an invoice to its client's contact, who reads it.
func (s *seeder) mailed(inv *invoices.Summary, r reading, caught map[string]letter.Letter) error {
	to := fmt.Sprintf("accounts@%s.example", strings.ToLower(strings.Fields(inv.Client)[0]))
	if r.said == letter.Failed {
		to = "bounced." + to
	}
	if _, err := delivery.Send(s.ctx, s.app, s.admin, inv.ID, delivery.Handover{To: "Accounts <" + to + ">"}); err != nil {
		return err
	}
	if err := s.mailNow(inv.ID); err != nil {
		return err
	}
	if r.said != "" {
		err := correspondence.TakeReport(s.ctx, s.app, letter.Report{ReturnKey: caught[to].ReturnKey, Recipient: to, Action: r.said, Status: "5.1.1",
			Said: "there is nobody of this name."})
		if err != nil {
			return err
		}
	}
	_, secret, _ := strings.Cut(caught[to].Body, "/invoice#")
	secret, _, _ = strings.Cut(secret, "\n")
	if r.opened {
		if err := delivery.MarkOpened(s.ctx, s.app, secret, false); err != nil {
			return err
		}
	}
	if r.file {
		if err := delivery.MarkOpened(s.ctx, s.app, secret, true); err != nil {
			return err
		}
	}
	for _, pays := range r.pays {
		if err := s.pay(inv.ID, secret, pays); err != nil {
			return err
		}
	}
	for _, says := range r.says {
		if err := delivery.Say(s.ctx, s.app, secret, says); err != nil {
			return err
		}
	}
	return s.answer(inv.ID, r.answers)
}

// answer answers what a client said of an invoice, in its order.
func (s *seeder) answer(id int64, answers []delivery.Answering) error {
	claims, err := delivery.Claims(s.ctx, s.app, s.admin.Actor, id)
	for i := range answers {
		if err != nil {
			return err
		}
		answers[i].Version = claims[i].Version
		_, err = delivery.Answer(s.ctx, s.app, s.admin, id, claims[i].ID, answers[i])
	}
	return err
}

// pay pays on the page of an invoice.
func (s *seeder) pay(id int64, secret string, p payment) error {
	method := paymentmethod.GivenMethod{Kind: "card", Number: p.number, Expires: "12/30", Code: "123", Holder: "Accounts"}
	if strings.HasPrefix(p.number, "IE") {
		method = paymentmethod.GivenMethod{Kind: "debit", IBAN: p.number, Holder: "Accounts"}
	}
	typed := paying.Typing{Amount: p.amount, Gift: p.gift, Keep: p.keep, Method: method}
	offer, err := paying.Read(s.ctx, s.app, secret, typed)
	if err != nil {
		return err
	}
	typed.Shown = offer.WithFee
	_, err = paying.Pay(s.ctx, s.app, secret, typed)
	if err != nil || p.later == "" {
		return err
	}
	paid, err := store.OnlinePaymentsOf(s.app.Read(s.ctx, s.admin.Actor), id)
	if err != nil {
		return err
	}
	for _, said := range []onlinepayment.State{onlinepayment.Received, p.later} {
		err = errors.Join(err, paying.Settle(s.ctx, s.app, paid[len(paid)-1].Key,
			paymentmethod.Charged{Known: true, State: said, Problem: map[onlinepayment.State]string{p.later: "The account has not enough on it."}[said]}))
	}
	return err
}

// mailNow sends the letter of an invoice; what else waits goes out when the server begins.
func (s *seeder) mailNow(id int64) error {
	standing, err := delivery.Of(s.ctx, s.app, s.admin.Actor, id)
	if err != nil {
		return err
	}
	mails, err := store.MailsOfDelivery(s.app.Read(s.ctx, s.admin.Actor), []int64{standing.Handings[0].ID})
	for i := range mails {
		err = errors.Join(err, correspondence.DeliverOne(s.ctx, s.app, &mails[i]))
	}
	return err
}

// otherwise hands invoices over by other ways, two each, and leaves the rest.
func (s *seeder) otherwise(rest []invoices.Summary) error {
	for i, inv := range rest[:6] {
		var err error
		switch i / 2 {
		case 0:
			_, err = delivery.Send(s.ctx, s.app, s.admin, inv.ID, delivery.Handover{Way: core.Post})
		case 1:
			if _, err = delivery.Send(s.ctx, s.app, s.admin, inv.ID, delivery.Handover{To: "accounts@elsewhere.example"}); err == nil {
				err = s.callBack(inv.ID)
			}
		case 2:
			_, err = delivery.NewLink(s.ctx, s.app, s.admin, inv.ID, "Whoever opens the post")
		}
		if err != nil {
			return fmt.Errorf("hand %s over: %w", inv.Number, err)
		}
	}
	return nil
}

func (s *seeder) callBack(id int64) error {
	standing, err := delivery.Of(s.ctx, s.app, s.admin.Actor, id)
	if err != nil {
		return err
	}
	return delivery.CallBack(s.ctx, s.app, s.admin, standing.Handings[0].ID)
}
