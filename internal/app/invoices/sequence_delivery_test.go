package invoices_test

import (
	"context"
	"errors"
	"fmt"
	"math/rand/v2"
	"strings"
	"sync"
	"testing"

	core "dorvet/core/delivery"

	"dorvet/core/letter"
	"dorvet/core/onlinepayment"
	"dorvet/core/paymentmethod"
	"dorvet/internal/app"
	"dorvet/internal/app/correspondence"
	"dorvet/internal/app/delivery"
	"dorvet/internal/app/drafts"
	"dorvet/internal/app/invoices"
	"dorvet/internal/app/paying"
	"dorvet/internal/app/receivables"
	"dorvet/internal/apptest"
	"dorvet/internal/store"
)

// outside is the world of the random acts: a mail server that sometimes takes nothing, clients who have what it took, and a payment
// service that says whatever it likes.
type outside struct {
	sync.Mutex
	random  *rand.Rand
	letters []letter.Letter
}

// around joins an app to such a world.
func around(t *testing.T, a *app.App, seed uint64) *outside {
	t.Helper()
	o := &outside{random: rand.New(rand.NewPCG(seed, 99))}
	a.Gateway = o
	a.Mail = func(_ context.Context, l letter.Letter) error {
		o.Lock()
		defer o.Unlock()
		if o.random.IntN(5) == 0 {
			return errors.New("451 later")
		}
		o.letters = append(o.letters, l)
		return nil
	}
	for _, client := range []string{"A", "B"} {
		apptest.Add(t, a, "contacts", "client", client, "name", "Pat "+client, "mail", strings.ToLower(client)+"@client.example", "gets_invoices", "yes")
	}
	apptest.Set(t, a, "firm", 1, "page_ways", "card debit")
	apptest.Set(t, a, "firm", 1, "page_parts", "yes")
	apptest.Set(t, a, "firm", 1, "card_fee", "1.5")
	apptest.Set(t, a, "firm", 1, "page_gift", "yes")
	return o
}

// letter is one that was taken, with the secret of a link in it.
func (o *outside) letter() (l letter.Letter, secret string) {
	o.Lock()
	defer o.Unlock()
	if len(o.letters) == 0 {
		return l, ""
	}
	l = o.letters[o.random.IntN(len(o.letters))]
	_, secret, _ = strings.Cut(l.Body, "/invoice#")
	secret, _, _ = strings.Cut(secret, "\n")
	return l, secret
}

var saidOfPayments = []onlinepayment.State{onlinepayment.Pending, onlinepayment.Received, onlinepayment.Failed, onlinepayment.Returned}

func (o *outside) said() paymentmethod.Charged {
	o.Lock()
	defer o.Unlock()
	return paymentmethod.Charged{Known: true, Reference: "r", State: saidOfPayments[o.random.IntN(4)], Problem: "it says so"}
}

// KeepCard implements app.PaymentGateway, as what follows.
func (*outside) KeepCard(context.Context, paymentmethod.Card) (paymentmethod.Kept, error) {
	return paymentmethod.Kept{Token: "t", LastFour: "0019"}, nil
}

func (*outside) KeepAccount(context.Context, paymentmethod.Account) (paymentmethod.Kept, error) {
	return paymentmethod.Kept{Token: "t", LastFour: "5678"}, nil
}

func (o *outside) Charge(context.Context, paymentmethod.Charge) (paymentmethod.Charged, error) {
	if said := o.said(); said.State != onlinepayment.Pending {
		return said, nil
	}
	return paymentmethod.Charged{}, errors.New("the answer was lost")
}

func (o *outside) Find(context.Context, string) (paymentmethod.Charged, error) { return o.said(), nil }

// delivers hands an invoice over, or does what follows from that: at the mail server, on the client's page, at the payment service.
func (u *user) delivers(ctx context.Context) error {
	register, err := invoices.Register(ctx, u.a, apptest.Admin.Actor, invoices.Filter{})
	if err != nil || len(register) == 0 || u.outside == nil {
		return err
	}
	inv := register[u.IntN(len(register))]
	l, secret := u.outside.letter()
	switch u.IntN(13) {
	case 12:
		err = u.writes(ctx, inv)
	case 0, 1:
		way := []core.Way{core.Mail, core.Mail, core.Mail, core.Post, core.Print, ""}[u.IntN(6)]
		_, err = delivery.Send(ctx, u.a, apptest.Admin, inv.ID, delivery.Handover{Way: way})
	case 2, 3:
		err = correspondence.Deliver(ctx, u.a)
	case 4:
		err = correspondence.TakeReport(ctx, u.a, letter.Report{ReturnKey: l.ReturnKey, Recipient: l.To.Address, Status: "5.1.1",
			Action: []letter.Action{letter.Delivered, letter.Failed, letter.Delayed}[u.IntN(3)]})
	case 5:
		err = delivery.MarkOpened(ctx, u.a, secret, u.IntN(3) == 0)
	case 6:
		err = delivery.Say(ctx, u.a, secret, delivery.Claiming{Kind: []store.ClaimKind{store.Question, store.Disputed, store.Promise}[u.IntN(3)],
			Section: u.IntN(3) - 1, Line: u.IntN(4) - 1, Text: "we say so", Day: apptest.Today.AddDays(u.IntN(9))})
	case 7:
		err = u.answers(ctx, inv.ID)
	case 8, 9:
		err = u.pays(ctx, secret)
	case 10:
		err = u.hearsOfPayments(ctx, inv.ID)
	default:
		err = u.recalls(ctx, inv.ID)
	}
	return err
}

func (u *user) answers(ctx context.Context, id int64) error {
	claims, err := delivery.Claims(ctx, u.a, apptest.Admin.Actor, id)
	if err != nil || len(claims) == 0 {
		return err
	}
	c := claims[u.IntN(len(claims))]
	_, err = delivery.Answer(ctx, u.a, apptest.Admin, id, c.ID, delivery.Answering{Version: c.Version, Answer: "so it is",
		Outcome: []store.Outcome{store.Answered, store.Kept, store.Credited, store.LineWrittenDown, store.LineMoved}[u.IntN(5)],
		Amount:  fmt.Sprint(u.IntN(60)), EngagementID: int64(1 + u.IntN(3))})
	return err
}

func (u *user) pays(ctx context.Context, secret string) error {
	amount, kind := []string{"", fmt.Sprint(1 + u.IntN(90))}[u.IntN(2)], []string{"card", "debit"}[u.IntN(2)]
	typed := paying.Typing{Amount: amount, Gift: []string{"", "", "0.50"}[u.IntN(3)], Keep: u.IntN(3) == 0,
		Method: paymentmethod.GivenMethod{Kind: kind}}
	offer, err := paying.Read(ctx, u.a, secret, typed)
	if err != nil {
		return err
	}
	if len(offer.Kept) > 0 && u.IntN(2) == 0 {
		typed.KeptID, typed.Method.Kind = offer.Kept[0].ID, offer.Kept[0].Kind
		if offer, err = paying.Read(ctx, u.a, secret, typed); err != nil {
			return err
		}
	}
	typed.Shown = offer.WithFee
	_, err = paying.Pay(ctx, u.a, secret, typed)
	return err
}

// writes sends what brings no invoice, or issues a draft and sends it in one act.
func (u *user) writes(ctx context.Context, inv invoices.Summary) error {
	if u.IntN(3) > 0 {
		kind := []core.Kind{core.Statement, core.Reminder}[u.IntN(2)]
		_, err := receivables.SendLetter(ctx, u.a, apptest.Admin, receivables.Lettering{Kind: kind, ID: inv.ClientID})
		return err
	}
	waiting, err := invoices.Drafts(ctx, u.a, apptest.Admin.Actor, invoices.Filter{})
	if err != nil || len(waiting) == 0 {
		return err
	}
	draft := waiting[u.IntN(len(waiting))]
	_, err = delivery.IssueAndSend(ctx, u.a, apptest.Admin, drafts.Edit{ID: draft.ID, Version: draft.Version})
	return err
}

func (u *user) hearsOfPayments(ctx context.Context, id int64) error {
	if u.IntN(2) == 0 {
		return paying.FollowUp(ctx, u.a)
	}
	paid, err := store.OnlinePaymentsOf(u.a.Read(ctx, apptest.Admin.Actor), id)
	if err != nil || len(paid) == 0 {
		return err
	}
	return paying.Settle(ctx, u.a, paid[u.IntN(len(paid))].Key, u.outside.said())
}

func (u *user) recalls(ctx context.Context, id int64) error {
	if u.IntN(3) == 0 {
		_, err := delivery.Posted(ctx, u.a, apptest.Admin, []int64{id}, apptest.Today)
		return err
	}
	list, err := delivery.List(ctx, u.a, apptest.Admin.Actor, delivery.LetterFilter{}, 0, 50)
	if err != nil || len(list.Letters) == 0 {
		return err
	}
	return delivery.CallBack(ctx, u.a, apptest.Admin, list.Letters[u.IntN(len(list.Letters))].ID)
}
