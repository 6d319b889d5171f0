package drafts

import (
	"context"
	"strings"

	"dorvet/core/money"
	"dorvet/internal/app"
	"dorvet/internal/store"
)

// LineChoice is what a line, or several, can begin with.
type LineChoice struct {
	Name  string      `json:"name"`
	From  string      `json:"from" enum:"lately,service,bundle"`
	Lines []LineTyped `json:"lines"`
}

// LineChoices are what lines of a draft can begin with: what its client was billed by hand
// lately, the services of the catalogue, and bundles of them.
func LineChoices(ctx context.Context, a *app.App, actor app.Actor, id int64) ([]LineChoice, error) {
	tx := a.Read(ctx, actor)
	inv, err := store.Get[store.Invoice](tx, id)
	if err != nil {
		return nil, app.Missing(err, "draft")
	}
	c := &catalogue{inv: inv, choices: []LineChoice{}, byCode: map[string]LineTyped{}}
	for _, step := range []func(*store.DB) error{c.begin, c.addLately, c.addServices, c.addBundles} {
		if err := step(tx); err != nil {
			return nil, err
		}
	}
	return c.choices, nil
}

// catalogue is what lines can begin with, while it is collected.
type catalogue struct {
	inv      *store.Invoice
	mark     money.Mark
	decimals int
	codes    map[int64]string
	kinds    map[int64]string
	pictures map[int64]string
	byCode   map[string]LineTyped // of services
	choices  []LineChoice
}

func (c *catalogue) begin(tx *store.DB) error {
	firm, err := store.TheFirm(tx)
	if err != nil {
		return err
	}
	if c.decimals, err = c.inv.Currency.Decimals(); err != nil {
		return err
	}
	codes, err := store.All[store.TaxCode](tx, "id")
	if err != nil {
		return err
	}
	pictures, err := store.All[store.Picture](tx, "id")
	if err != nil {
		return err
	}
	c.pictures = map[int64]string{}
	for _, p := range pictures {
		if p.Digest != "" {
			c.pictures[p.ID] = p.Name
		}
	}
	kinds, err := store.All[store.LineKind](tx, "id")
	c.mark, c.codes, c.kinds = firm.Mark(), map[int64]string{}, map[int64]string{}
	for _, code := range codes {
		c.codes[code.ID] = code.Code
	}
	for _, kind := range kinds {
		c.kinds[kind.ID] = kind.Name
	}
	return err
}

// addLately adds the last lines by hand of the client's invoices, each text once.
func (c *catalogue) addLately(tx *store.DB) error {
	rows, err := store.LatelyByHand(tx, c.inv.ClientID, c.inv.Currency)
	for i := range rows {
		l := &rows[i]
		typed := LineTyped{Text: l.Text, Unit: l.Unit, TaxCode: c.codes[l.TaxCodeID], Kind: c.kinds[store.OrZero(l.LineKindID)],
			Picture: c.pictures[store.OrZero(l.PictureID)]}
		if l.UnitPrice != nil {
			typed.Quantity = money.TypeFixed(*l.Quantity, c.mark, 4, 0)
			typed.Price = money.TypeFixed(int64(*l.UnitPrice), c.mark, 4, c.decimals)
		} else {
			typed.Amount = money.TypeFixed(l.Amount, c.mark, c.decimals, c.decimals)
		}
		c.choices = append(c.choices, LineChoice{l.Text, "lately", []LineTyped{typed}})
	}
	return err
}

// addServices adds the services of the catalogue; the price of one in another currency is
// left open.
func (c *catalogue) addServices(tx *store.DB) error {
	services, err := store.All[store.Service](tx, "name")
	for i := range services {
		s := &services[i]
		if !s.Active {
			continue
		}
		typed := LineTyped{Text: s.Name, Unit: s.Unit, TaxCode: c.codes[store.OrZero(s.TaxCodeID)],
			Kind:    c.kinds[store.OrZero(s.LineKindID)],
			Picture: c.pictures[store.OrZero(s.PictureID)]}
		if s.Kind == "time" && s.Unit == "" {
			typed.Unit = "h"
		}
		if s.Price != nil && s.Currency == c.inv.Currency {
			typed.Quantity, typed.Price = "1", money.TypeFixed(int64(*s.Price), c.mark, 4, c.decimals)
		}
		c.byCode[s.Code] = typed
		c.choices = append(c.choices, LineChoice{s.Name, "service", []LineTyped{typed}})
	}
	return err
}

// addBundles adds the bundles of which every service has its price.
func (c *catalogue) addBundles(tx *store.DB) error {
	bundles, err := store.All[store.Bundle](tx, "name")
	for _, b := range bundles {
		lines := []LineTyped{}
		for _, code := range strings.Split(b.Services, "\n") {
			if line, there := c.byCode[code]; there && line.Price != "" {
				lines = append(lines, line)
			}
		}
		if b.Active && len(lines) == len(strings.Split(b.Services, "\n")) {
			c.choices = append(c.choices, LineChoice{b.Name, "bundle", lines})
		}
	}
	return err
}
