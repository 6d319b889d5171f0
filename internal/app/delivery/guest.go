package delivery

import (
	"context"
	"fmt"
	"slices"

	"dorvet/core/day"
	"dorvet/core/invoice"
	"dorvet/core/profile"
	"dorvet/internal/app"
	"dorvet/internal/app/correspondence"
	"dorvet/internal/app/papers"
	"dorvet/internal/store"
)

// What clients do on the page of an invoice, through a link and without an account.

// guest is who holds a link, with the invoice that it opens.
type guest struct {
	link    *store.Link
	invoice *store.InvoiceRow
	profile profile.Profile
	sent    int // the revision with which the link went out, or 0
}

func openGuest(a *app.App, tx *store.DB, secret string) (*guest, error) {
	link, err := correspondence.OpenLink(a, tx, store.ForInvoice, secret)
	if err != nil {
		return nil, err
	}
	inv, err := papers.Visible(tx, link.SubjectID)
	if err != nil {
		return nil, err
	}
	engagements, err := store.EngagementsOf(tx, inv.ID)
	if err != nil {
		return nil, err
	}
	g := &guest{link: link, invoice: inv}
	if g.profile, err = profileOf(tx, inv.ClientID, engagements); err != nil || link.DeliveryID == nil {
		return g, err
	}
	within, err := store.InvoicesOfDelivery(tx, *link.DeliveryID)
	for _, d := range within {
		if d.InvoiceID == inv.ID {
			g.sent = d.Revision
		}
	}
	return g, err
}

func (g *guest) request() app.Request {
	name := g.link.Name
	if g.link.Mail != "" {
		name = fmt.Sprintf("%s (%s)", g.link.Name, g.link.Mail)
	}
	return app.Request{Actor: app.Actor{Outsider: name}}
}

// Opened is what a link to an invoice opens, for rooms that come after this one.
type Opened struct {
	Link    *store.Link
	Invoice *store.InvoiceRow
	Profile profile.Profile
}

// Open finds what a secret opens, or refuses.
func Open(a *app.App, tx *store.DB, secret string) (*Opened, app.Request, error) {
	g, err := openGuest(a, tx, secret)
	if err != nil {
		return nil, app.Request{}, err
	}
	return &Opened{g.link, g.invoice, g.profile}, g.request(), nil
}

// asGuest runs an act of whoever holds a link. What the link opens is read in the transaction: one that was withdrawn meanwhile
// opens nothing.
func asGuest(ctx context.Context, a *app.App, secret, kind string, input any, act func(*app.Tx, *guest) error) error {
	g, err := openGuest(a, a.Store.Read(ctx, store.Everything), secret)
	if err != nil {
		return err
	}
	_, err = app.Do(ctx, a, g.request(), kind, input, func(tx *app.Tx) (struct{}, error) {
		g, err := openGuest(a, tx.DB, secret)
		if err != nil {
			return struct{}{}, err
		}
		tx.LinkTo(app.OfInvoice, g.invoice.ID)
		tx.LinkTo("clients", g.invoice.ClientID)
		return struct{}{}, act(tx, g)
	})
	return err
}

// MarkOpened notes that the page was opened by its script, or a file of it fetched: a mail scanner, which only fetches the page, does
// neither.
func MarkOpened(ctx context.Context, a *app.App, secret string, fetched bool) error {
	g, err := openGuest(a, a.Store.Read(ctx, store.Everything), secret)
	if err != nil || g.link.DeliveryID == nil {
		return err
	}
	within, err := store.InvoicesOfDelivery(a.Store.Read(ctx, store.Everything), *g.link.DeliveryID)
	if err != nil || slices.ContainsFunc(within, func(d store.Delivered) bool {
		return d.InvoiceID == g.invoice.ID && (fetched && d.FetchedAt != nil || !fetched && d.OpenedAt != nil)
	}) {
		return err
	}
	return asGuest(ctx, a, secret, "open invoice", nil, func(tx *app.Tx, g *guest) error {
		did := "Opened"
		if fetched {
			did = "Fetched a file of"
		}
		tx.Describe(nil, nil, "%s %s", did, g.invoice.NumberText)
		if _, err := store.SetOpened(tx.DB, *g.link.DeliveryID, g.invoice.ID, fetched, tx.Now); err != nil {
			return err
		}
		return correspondence.Stand(tx.DB, []int64{g.invoice.ID})
	})
}

// Say keeps what a client asks, disputes or promises on the page.
func Say(ctx context.Context, a *app.App, secret string, c Claiming) error {
	return asGuest(ctx, a, secret, "say on invoice", c, func(tx *app.Tx, g *guest) error { return claim(tx, g, c) })
}

// mayClaim refuses what can't be said now, in a sentence.
func (g *guest) mayClaim(today day.Day, c Claiming) error {
	inv := g.invoice
	switch {
	case !g.profile.Yes("page_answers"):
		return app.Refuse(app.Conflict, "Nothing can be said here. Write to the address on the invoice instead.")
	case !inv.State.IsIssued():
		return app.Refuse(app.Conflict, "This invoice is being changed. A new one will come.")
	case c.Kind == store.Promise && (c.Day < today || c.Day > today.AddDays(365)):
		return app.RefuseField("day", "On which day will it be paid? Give today or a day within a year.")
	case c.Kind == store.Promise && inv.Open <= 0, c.Kind == store.Disputed && inv.Open <= 0:
		return app.Refuse(app.Conflict, "Nothing is owed on this invoice any more. Ask a question instead.")
	case c.Kind == store.Disputed && inv.Kind != invoice.Ordinary:
		return app.Refuse(app.Conflict, "Only an invoice can be disputed. Ask a question instead.")
	case c.Kind != store.Promise && c.Text == "":
		return app.RefuseField("text", "Type what you want to say first.")
	}
	return nil
}

// tell tells the leads of what is on an invoice, and who handed it over, what a client said of it.
func (g *guest) tell(tx *app.Tx, row *store.Claim) error {
	people, err := store.WhoCaresFor(tx.DB, g.invoice.ID)
	verb := map[store.ClaimKind]string{store.Question: "asks about", store.Disputed: "disputes", store.Promise: "promises to pay"}[row.Kind]
	words := ": " + about(row.LineText, row.Text)
	if row.Kind == store.Promise {
		words = " on " + row.Day.Long() + "."
	}
	for _, id := range people {
		tx.Notify(id, nil, "%s %s %s%s", row.Name, verb, g.invoice.NumberText, words)
	}
	return err
}
