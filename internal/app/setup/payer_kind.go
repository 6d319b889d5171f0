package setup

import (
	"dorvet/core/money"
	"dorvet/internal/app"
	"dorvet/internal/app/registry"
	"dorvet/internal/store"
)

// payerKind are those who pay an engagement together, each a share.
func payerKind() registry.AnyKind {
	type P = store.Payer
	d := &registry.Definition[P]{
		Kind: registry.Kind{Name: "payers", One: "payer", Many: "payers", First: []string{"engagement", "client", "share"},
			About: "Who pays an engagement together. Each gets an invoice of their own, with their share of every line."},
		Belongs: func(v *P) int64 { return v.EngagementID },
		Table: registry.Group("Payer",
			registry.Must("engagement", "Engagement", "engagements", func(p *P) *int64 { return &p.EngagementID }).Permanent(),
			registry.Must("client", "Who pays", "clients", func(p *P) *int64 { return &p.ClientID }).Listed(),
			registry.PercentOf("share", "Share", func(p *P) *money.Percent { return &p.Share }).
				Hinted("against the shares of the others: three times 1 are thirds").Listed(),
			registry.Line("reference", "Their reference or order", func(p *P) *string { return &p.Reference }).Listed()),
		Blank: func(*registry.Env) (P, error) { return P{Share: money.Hundred}, nil },
		Check: checkPayer,
	}
	return d.Ready()
}

func checkPayer(e *registry.Env, p *store.Payer) error {
	if p.Share <= 0 {
		return app.RefuseField("share", "Who pays nothing is no payer: give a share of more than 0, or take the payer off.")
	}
	others, err := store.PayersOf(e.Tx, []int64{p.EngagementID})
	if err != nil {
		return err
	}
	for _, o := range others[p.EngagementID] {
		if o.ID != p.ID && o.ClientID == p.ClientID {
			return app.RefuseField("client", "They pay a share of this already: change that share.")
		}
	}
	g, err := store.Get[store.Engagement](e.Tx, p.EngagementID)
	if err != nil {
		return app.Found(err, app.RefuseField("engagement", "Choose the engagement that is paid."))
	}
	client, err := store.Get[store.Client](e.Tx, p.ClientID)
	if err != nil {
		return app.Found(err, app.RefuseField("client", "Choose the client that pays."))
	}
	if client.ID != g.ClientID && !client.Active {
		return app.RefuseField("client", "%s is inactive: take the client back first.", client.Name)
	}
	return nil
}
