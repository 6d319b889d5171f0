// Package paying is what clients pay on the page of an invoice, through a payment service: what is offered, asking the service, and what
// it says of it, which comes late, twice and in any order.
package paying

import (
	"context"
	"slices"
	"strings"

	"dorvet/core/money"
	core "dorvet/core/onlinepayment"
	"dorvet/core/paymentmethod"
	"dorvet/core/receivable"
	"dorvet/core/wording"
	"dorvet/internal/app"
	"dorvet/internal/app/delivery"
	"dorvet/internal/app/setup"
	"dorvet/internal/store"
)

// Offer is what can be paid on a page now, and how.
type Offer struct {
	Ways     []string  `json:"ways" doc:"card, debit; none: nothing can be paid here"`
	Kept     []KeptWay `json:"kept" doc:"ways that whoever holds the link has kept"`
	Consent  string    `json:"consent" doc:"what one agrees to by keeping a way; nothing: none can be kept"`
	First    string    `json:"first" doc:"what is due, or all"`
	All      string    `json:"all"`
	Typed    string    `json:"typed" doc:"first, as it can be typed"`
	Parts    bool      `json:"parts" doc:"another amount can be typed"`
	Gift     bool      `json:"gift" doc:"a gift of thanks can be added"`
	Fee      string    `json:"fee" doc:"of a card, on the first, borne by who pays; nothing: none"`
	WithFee  string    `json:"withFee" doc:"with the gift, too"`
	Link     string    `json:"link" doc:"another page to pay on"`
	Payments []Paid    `json:"payments" doc:"what was paid here"`
}

// KeptWay is a way of paying that was kept.
type KeptWay struct {
	ID    int64  `json:"id"`
	Kind  string `json:"kind" enum:"card,debit"`
	Words string `json:"words" doc:"how: a card or account, by its end"`
}

// Paid is a payment on the page, and how far it is.
type Paid struct {
	Words   string     `json:"words" doc:"how: a card or account, by its end"`
	Amount  string     `json:"amount"`
	State   core.State `json:"state" enum:"asked,pending,received,failed,returned"`
	Problem string     `json:"problem"`
}

// Typing is a payment as it is typed on the page.
type Typing struct {
	Amount string                    `json:"amount" maxLength:"30" doc:"nothing: what is offered first"`
	Gift   string                    `json:"gift,omitempty" maxLength:"30" doc:"of thanks, on top"`
	Shown  string                    `json:"shown" maxLength:"60" doc:"what was shown to be taken, with fee and gift, so that nothing else is"`
	Method paymentmethod.GivenMethod `json:"method"`
	KeptID int64                     `json:"keptId,omitempty" doc:"a way that was kept, in place of the method"`
	Keep   bool                      `json:"keep,omitempty" doc:"keep this way for later, as was agreed to"`
}

// Read tells what can be paid on the page that a link opens; with an amount, a kind or a gift typed, what that would cost.
func Read(ctx context.Context, a *app.App, secret string, t Typing) (*Offer, error) {
	tx := a.Store.Read(ctx, store.Everything)
	o, _, err := delivery.Open(a, tx, secret)
	if err != nil {
		return nil, err
	}
	return offerOf(a, tx, o, t)
}

func offerOf(a *app.App, tx *store.DB, o *delivery.Opened, t Typing) (*Offer, error) {
	inv := &o.Invoice.Invoice
	shown := &Offer{Ways: []string{}, Kept: []KeptWay{}, Payments: []Paid{}}
	paid, err := store.OnlinePaymentsOf(tx, inv.ID)
	if err != nil {
		return nil, err
	}
	w, err := delivery.WordsOf(tx, inv)
	if err != nil {
		return nil, err
	}
	for _, p := range paid {
		shown.Payments = append(shown.Payments, Paid{paymentmethod.Words(p.Kind, p.LastFour), w.Money(inv.Amount(p.Amount)), p.State, p.Problem})
	}
	can, err := payable(a, tx, inv)
	if err != nil || can.All == 0 {
		return shown, err
	}
	shown.Link, shown.Parts, shown.Gift = o.Profile.Text("pay_link"), o.Profile.Yes("page_parts"), o.Profile.Yes("page_gift")
	if a.Gateway != nil {
		shown.Ways = strings.Fields(o.Profile.Text("page_ways"))
		if err := shown.addKept(tx, o, w); err != nil {
			return nil, err
		}
	}
	c, err := costOf(tx, o, can, t)
	if err != nil {
		return nil, err
	}
	shown.First, shown.All, shown.Typed = w.Money(inv.Amount(can.First)), w.Money(inv.Amount(can.All)), inv.Amount(can.First).Typed()
	if !c.fee.IsZero() {
		shown.Fee = w.Money(c.fee)
	}
	shown.WithFee = w.Money(inv.Amount(c.whole()))
	return shown, nil
}

// addKept adds the ways that whoever holds the link has kept, and what one agrees to by keeping another.
func (o *Offer) addKept(tx *store.DB, opened *delivery.Opened, w wording.Words) error {
	if opened.Link.Mail == "" || len(o.Ways) == 0 { // a link that was given by hand says of nobody who they are
		return nil
	}
	methods, err := store.KeptMethods(tx, opened.Invoice.ClientID, opened.Link.Mail)
	for _, m := range methods {
		if slices.Contains(o.Ways, m.Kind) {
			o.Kept = append(o.Kept, KeptWay{m.ID, m.Kind, paymentmethod.Words(m.Kind, m.LastFour)})
		}
	}
	o.Consent = w.Say(wording.KeepMethod)
	return err
}

// cost is what is taken for a payment.
type cost struct{ amount, fee, gift money.Amount }

func (c cost) whole() int64 { return c.amount.Minor + c.fee.Minor + c.gift.Minor }

func costOf(tx *store.DB, o *delivery.Opened, can core.Offer, t Typing) (c cost, err error) {
	inv := &o.Invoice.Invoice
	if c.amount, err = taken(tx, inv, can, o, t.Amount); err != nil {
		return c, err
	}
	if c.fee, err = feeOf(o, t.Method.Kind).Of(c.amount); err != nil {
		return c, err
	}
	c.gift = money.Zero(inv.Currency)
	if strings.TrimSpace(t.Gift) == "" || !o.Profile.Yes("page_gift") {
		return c, nil
	}
	c.gift.Minor, err = setup.MinorUnits(tx, t.Gift, inv.Currency)
	switch {
	case err != nil:
		return c, app.InField("gift", err)
	case c.gift.Minor < 0 || c.gift.Minor > c.amount.Minor:
		return c, app.RefuseField("gift", "Give from nothing to %s: as much as you pay.", c.amount)
	}
	return c, nil
}

// payable is what of an invoice can be paid now: what is open, but for what is disputed and what is on its way already.
func payable(a *app.App, tx *store.DB, inv *store.Invoice) (core.Offer, error) {
	if !inv.State.IsIssued() || inv.Open <= 0 || inv.Disputed != "" && inv.DisputedAmount == 0 {
		return core.Offer{}, nil
	}
	rows, err := store.InstalmentsOf(tx, inv.ID)
	if err != nil {
		return core.Offer{}, err
	}
	parts := []receivable.Open{}
	for _, row := range rows {
		parts = append(parts, receivable.Open{Due: row.DueDay, Owed: row.Open})
	}
	aside := inv.DisputedAmount
	paid, err := store.OnlinePaymentsOf(tx, inv.ID)
	for _, p := range paid {
		if p.State == core.Asked || p.State == core.Pending {
			aside += p.Amount
		}
	}
	return core.Offered(parts, aside, a.Clock.Today()), err
}

// taken is what is paid: what was typed, where parts can be paid, else what is offered first.
func taken(tx *store.DB, inv *store.Invoice, can core.Offer, o *delivery.Opened, typed string) (money.Amount, error) {
	first := inv.Amount(can.First)
	if strings.TrimSpace(typed) == "" || !o.Profile.Yes("page_parts") {
		return first, nil
	}
	minor, err := setup.MinorUnits(tx, typed, inv.Currency)
	switch {
	case err != nil:
		return first, app.InField("amount", err)
	case minor <= 0 || minor > can.All:
		return first, app.RefuseField("amount", "Give an amount from more than zero to %s.", inv.Amount(can.All))
	}
	return inv.Amount(minor), nil
}

// feeOf is what a card costs the payer; a bank debit is without one.
func feeOf(o *delivery.Opened, kind string) core.Fee {
	if kind != "card" {
		return core.Fee{}
	}
	percent, _ := money.ParseFixed(o.Profile.Text("card_fee"), money.Point, 4)
	fixed, _ := money.ParseFixed(o.Profile.Text("card_fee_fixed"), money.Point, 4)
	return core.Fee{Percent: money.Percent(percent), Fixed: fixed}
}
