package pricing

import (
	"context"
	"strings"

	core "dorvet/core/pricing"

	"dorvet/core/paymentmethod"
	"dorvet/internal/app"
	"dorvet/internal/store"
)

// KeptPaymentMethod is a way of paying that is kept until the answer.
type KeptPaymentMethod struct {
	ID    int64  `json:"id"`
	Words string `json:"words"`
}

// KeepPaymentMethod gives a card or an account to the payment service, and keeps its token
// and last four digits. It counts once the proposal is accepted.
func KeepPaymentMethod(ctx context.Context, a *app.App, secret string, given paymentmethod.GivenMethod) (KeptPaymentMethod, error) {
	g, err := openGuest(a, a.Store.Read(ctx, store.Everything), secret)
	if err != nil {
		return KeptPaymentMethod{}, err
	}
	if err := g.may(core.Accept); err != nil {
		return KeptPaymentMethod{}, err
	}
	if a.Gateway == nil {
		return KeptPaymentMethod{}, app.Refuse(app.Conflict, "No way of paying can be taken here at present. You can go on without one, "+
			"if that is offered.")
	}
	kept, err := a.KeepMethod(ctx, given)
	if err != nil {
		return KeptPaymentMethod{}, err
	}
	given.Holder = strings.TrimSpace(given.Holder)
	return asGuest(ctx, a, secret, "keep way of paying", core.Accept, func(tx *app.Tx, g *guest) (KeptPaymentMethod, error) {
		way := &store.PaymentMethod{ClientID: g.proposal.ClientID, Kind: given.Kind, Token: kept.Token, LastFour: kept.LastFour,
			Holder: given.Holder, Mail: g.link.Mail, At: tx.Now}
		tx.Describe(nil, nil, "Gave a way of paying: %s", words(way))
		tx.LinkTo("clients", g.proposal.ClientID)
		err := store.Insert(tx.DB, way)
		return KeptPaymentMethod{way.ID, words(way)}, err
	})
}

func words(w *store.PaymentMethod) string {
	return paymentmethod.Words(w.Kind, w.LastFour)
}

func paymentMethodWords(tx *store.DB, id *int64) (string, error) {
	if id == nil {
		return "", nil
	}
	way, err := store.Get[store.PaymentMethod](tx, *id)
	if err != nil {
		return "", err
	}
	return words(way), nil
}
