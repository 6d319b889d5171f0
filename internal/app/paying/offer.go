// Package paying is what clients pay on the page of an invoice, through a payment service: what is offered, asking the service, and what
// it says of it, which comes late, twice and in any order.
package paying

import (
	"context"
	"strings"

	"dorvet/core/money"
	core "dorvet/core/onlinepayment"
	"dorvet/core/receivable"
	"dorvet/internal/app"
	"dorvet/internal/app/delivery"
	"dorvet/internal/app/setup"
	"dorvet/internal/store"
)

// Offer is what can be paid on a page now, and how.
type Offer struct {
	Ways     []string `json:"ways" doc:"card, debit; none: nothing can be paid here"`
	First    string   `json:"first" doc:"what is due, or all"`
	All      string   `json:"all"`
	Typed    string   `json:"typed" doc:"first, as it can be typed"`
	Parts    bool     `json:"parts" doc:"another amount can be typed"`
	Fee      string   `json:"fee" doc:"of a card, on the first, borne by who pays; nothing: none"`
	WithFee  string   `json:"withFee"`
	Link     string   `json:"link" doc:"another page to pay on"`
	Payments []Paid   `json:"payments" doc:"what was paid here"`
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
	Amount string `json:"amount" maxLength:"30" doc:"nothing: what is offered first"`
	Shown  string `json:"shown" maxLength:"60" doc:"what was shown to be taken, with its fee, so that nothing else is"`
	Method Method `json:"method"`
}

// Method is a card, or an account to be debited. It lives as long as the request.
type Method struct {
	Kind    string `json:"kind" enum:"card,debit"`
	Number  string `json:"number" maxLength:"40"`
	Expires string `json:"expires" maxLength:"10"`
	Code    string `json:"code" maxLength:"6"`
	IBAN    string `json:"iban" maxLength:"50"`
	Holder  string `json:"holder" maxLength:"200"`
}

// Read tells what can be paid on the page that a link opens; with an amount typed, what that would cost.
func Read(ctx context.Context, a *app.App, secret, typed, kind string) (*Offer, error) {
	tx := a.Store.Read(ctx, store.Everything)
	o, _, err := delivery.Open(a, tx, secret)
	if err != nil {
		return nil, err
	}
	return offerOf(a, tx, o, typed, kind)
}

func offerOf(a *app.App, tx *store.DB, o *delivery.Opened, typed, kind string) (*Offer, error) {
	inv := &o.Invoice.Invoice
	shown := &Offer{Ways: []string{}, Payments: []Paid{}}
	paid, err := store.OnlinePaymentsOf(tx, inv.ID)
	if err != nil {
		return nil, err
	}
	w, err := delivery.WordsOf(tx, inv)
	if err != nil {
		return nil, err
	}
	for _, p := range paid {
		shown.Payments = append(shown.Payments, Paid{methodWords(p.Kind, p.LastFour), w.Money(inv.Amount(p.Amount)), p.State, p.Problem})
	}
	can, err := payable(a, tx, inv)
	if err != nil || can.All == 0 {
		return shown, err
	}
	shown.Link, shown.Parts = o.Profile.Text("pay_link"), o.Profile.Yes("page_parts")
	if a.Gateway != nil {
		shown.Ways = strings.Fields(o.Profile.Text("page_ways"))
	}
	amount, err := taken(tx, inv, can, o, typed)
	if err != nil {
		return nil, err
	}
	fee, err := feeOf(o, kind).Of(amount)
	if err != nil {
		return nil, err
	}
	shown.First, shown.All, shown.Typed = w.Money(inv.Amount(can.First)), w.Money(inv.Amount(can.All)), inv.Amount(can.First).Typed()
	if !fee.IsZero() {
		shown.Fee = w.Money(fee)
	}
	whole, err := amount.Add(fee)
	shown.WithFee = w.Money(whole)
	return shown, err
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

func methodWords(kind, lastFour string) string {
	return map[string]string{"card": "card", "debit": "bank debit"}[kind] + " ending in " + lastFour
}
