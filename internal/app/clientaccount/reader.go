// Package clientaccount is everything that a client has with the firm, as one of its contacts sees it: it opens from the page of an
// invoice after a one-time code by mail, for a while, and shows a contact what they receive.
package clientaccount

import (
	"context"
	"errors"
	"fmt"
	"net/mail"
	"slices"
	"strings"
	"time"

	"dorvet/core/letter"
	"dorvet/core/refusal"
	"dorvet/core/wording"
	"dorvet/internal/app"
	"dorvet/internal/app/correspondence"
	"dorvet/internal/app/delivery"
	"dorvet/internal/store"
)

// openFor is how long an account stays open after a code.
const openFor = 2 * time.Hour

// reader is somebody at a client, with what they receive.
type reader struct {
	name, mail                      string
	invoices, statements, proposals bool
	engagements                     []int64 // that they are a contact of; nil: all of the client's
}

// readerOf is who has an address at a client, or nil: a contact that receives something, or the client itself.
func readerOf(tx *store.DB, client *store.Client, address string) (*reader, error) {
	address = strings.TrimSpace(address)
	if address == "" {
		return nil, nil
	}
	contacts, err := store.AllContactsOf(tx, []int64{client.ID})
	if err != nil {
		return nil, err
	}
	r, all := &reader{mail: address, engagements: []int64{}}, false
	if letter.SameAddress(client.Mail, address) {
		r.name, r.invoices, r.statements, r.proposals, all = client.InvoiceName, true, true, true, true
	}
	for _, c := range contacts {
		if !letter.SameAddress(c.Mail, address) {
			continue
		}
		r.name = c.Name
		r.invoices, r.proposals = r.invoices || c.GetsInvoices, r.proposals || c.GetsProposals
		if c.EngagementID != nil { // the account is of more than an engagement
			r.engagements = append(r.engagements, *c.EngagementID)
			continue
		}
		all, r.statements = true, r.statements || c.GetsStatements
	}
	if all {
		r.engagements = nil
	}
	if !r.invoices && !r.statements && !r.proposals {
		return nil, nil
	}
	return r, nil
}

// AskCode mails a code to whoever holds a link to an invoice, or to the address that was typed, if that is somebody's at the client who
// receives something. Whether it is, is not told: neither by the answer nor by how long it takes.
func AskCode(ctx context.Context, a *app.App, secret, typed string) error {
	code, err := correspondence.NewCode()
	if err != nil {
		return err
	}
	o, request, err := delivery.Open(a, a.Store.Read(ctx, store.Everything), secret)
	if err != nil {
		return err
	}
	var to *reader
	_, err = app.Do(ctx, a, request, "ask for a code", nil, func(tx *app.Tx) (struct{}, error) {
		client, err := store.Get[store.Client](tx.DB, o.Invoice.ClientID)
		if err != nil {
			return struct{}{}, err
		}
		address := typed
		if strings.TrimSpace(typed) == "" {
			address = o.Link.Mail
		}
		r, err := readerOf(tx.DB, client, address)
		if err != nil {
			return struct{}{}, err
		}
		tx.LinkTo("clients", client.ID)
		if r == nil {
			tx.Describe(nil, nil, "Asked for a code for %s, who receives nothing: none was mailed", letterLine(address))
			// One that nobody gets, so that trying it answers as it does where there is somebody.
			return struct{}{}, correspondence.GiveCode(tx, o.Link, code, letterLine(address))
		}
		to = r
		tx.Describe(nil, nil, "Asked for a code to open the account, for %s", r.mail)
		return struct{}{}, correspondence.GiveCode(tx, o.Link, code, r.mail)
	})
	if err != nil || to == nil {
		return err
	}
	a.Jobs.Aside("mail a code", func() error { return mailCode(context.WithoutCancel(ctx), a, &o.Invoice.Invoice, to, code) })
	return nil
}

// codeWords are subject and text of the mail that brings a code, in the language of the invoice from whose page it was asked for.
var codeWords = map[wording.Language][2]string{
	wording.English: {"Your code", "Your code is %s.\n\nType it on the page of the invoice, and all that you have with us opens. It works for " +
		"%d minutes. If you did not ask for it, do nothing.\n"},
	wording.German: {"Ihr Code", "Ihr Code lautet %s.\n\nGeben Sie ihn auf der Seite der Rechnung ein, und alles, was Sie bei uns haben, öffnet " +
		"sich. Er gilt %d Minuten. Wenn Sie ihn nicht angefordert haben, brauchen Sie nichts zu tun.\n"},
	wording.French: {"Votre code", "Votre code est %s.\n\nSaisissez-le sur la page de la facture : tout ce qui vous concerne chez nous s’ouvre. " +
		"Il est valable %d minutes. Si vous ne l’avez pas demandé, ne faites rien.\n"},
	wording.Spanish: {"Su código", "Su código es %s.\n\nEscríbalo en la página de la factura y se abrirá todo lo suyo con nosotros. Vale durante " +
		"%d minutos. Si no lo ha pedido, no haga nada.\n"},
	wording.Polish: {"Kod dla Państwa", "Kod: %s.\n\nProszę wpisać go na stronie faktury, a otworzy się wszystko, co Państwa u nas dotyczy. " +
		"Działa przez %d minut. Jeśli nikt z Państwa o niego nie prosił, nie trzeba nic robić.\n"},
	wording.Greek: {"Ο κωδικός σας", "Ο κωδικός σας είναι %s.\n\nΓράψτε τον στη σελίδα του τιμολογίου και ανοίγουν όλα όσα σας αφορούν. Ισχύει για " +
		"%d λεπτά. Αν δεν τον ζητήσατε εσείς, μην κάνετε τίποτα.\n"},
}

func mailCode(ctx context.Context, a *app.App, inv *store.Invoice, to *reader, code string) error {
	w, err := delivery.WordsOf(a.Store.Read(ctx, store.Everything), inv)
	if err != nil {
		return err
	}
	words := codeWords[w.Language.Known()]
	return correspondence.MailCode(ctx, a, &inv.EntityID, mail.Address{Name: to.name, Address: to.mail}, words[0],
		fmt.Sprintf(words[1], code, correspondence.CodeMinutes))
}

// letterLine is what was typed, short enough for a history.
func letterLine(text string) string {
	if runes := []rune(text); len(runes) > 80 {
		return string(runes[:80]) + "…"
	}
	return text
}

// OpenedLink is the secret of an account, or of something that was opened from it; it is shown once.
type OpenedLink struct {
	Secret string `json:"secret"`
}

// HasSecret implements app.Secretive.
func (o OpenedLink) HasSecret() bool { return o.Secret != "" }

// Open opens the account of a client with the code that was mailed, for a while. A code opens once.
func Open(ctx context.Context, a *app.App, secret, code string) (OpenedLink, error) {
	link, err := correspondence.UseCode(ctx, a, store.ForInvoice, secret, code)
	if err != nil {
		return OpenedLink{}, err
	}
	o, request, err := delivery.Open(a, a.Store.Read(ctx, store.Everything), secret)
	if err != nil {
		return OpenedLink{}, err
	}
	return app.Do(ctx, a, request, "open the account", nil, func(tx *app.Tx) (OpenedLink, error) {
		client, err := store.Get[store.Client](tx.DB, o.Invoice.ClientID)
		if err != nil {
			return OpenedLink{}, err
		}
		r, err := readerOf(tx.DB, client, link.CodeMail)
		if err := app.Unless(err, app.Refuse(app.Conflict, "This address receives nothing any more: ask whoever sent the invoice."),
			func() bool { return r != nil }); err != nil {
			return OpenedLink{}, err
		}
		link.CodeDigest, link.CodeMail = "", ""
		if err := store.SetCode(tx.DB, link); err != nil {
			return OpenedLink{}, err
		}
		tx.LinkTo("clients", client.ID)
		tx.Describe(nil, nil, "Opened the account, as %s", r.mail)
		return opened(a, tx, &store.Link{Purpose: store.ForAccount, SubjectID: client.ID, Name: r.name, Mail: r.mail,
			ExpiresAt: tx.Now.Add(openFor)})
	})
}

func opened(a *app.App, tx *app.Tx, l *store.Link) (OpenedLink, error) {
	address, err := correspondence.MakeLink(a, tx.DB, l)
	_, secret, _ := strings.Cut(address, "#")
	return OpenedLink{secret}, err
}

// session is an account that is open: whose, and who looks at it.
type session struct {
	link   *store.Link
	client *store.Client
	*reader
}

func openSession(a *app.App, tx *store.DB, secret string) (*session, error) {
	link, err := correspondence.OpenLink(a, tx, store.ForAccount, secret)
	if refusal.Is(err) || errors.As(err, new(*app.Refusal)) {
		return nil, app.Refuse(app.NotFound, "The account is closed again: open it with a new code, from the page of an invoice.")
	}
	if err != nil {
		return nil, err
	}
	client, err := store.Get[store.Client](tx, link.SubjectID)
	if err != nil {
		return nil, err
	}
	r, err := readerOf(tx, client, link.Mail)
	if err := app.Unless(err, app.Refuse(app.NotFound, "This address receives nothing any more: ask whoever sent the invoice."),
		func() bool { return r != nil }); err != nil {
		return nil, err
	}
	return &session{link, client, r}, nil
}

func (s *session) request() app.Request {
	return app.Request{Actor: app.Actor{Outsider: fmt.Sprintf("%s (%s)", s.name, s.mail)}}
}

// sees reports whether something of engagements is the reader's to see.
func (s *session) sees(engagements []int64) bool {
	return s.engagements == nil || slices.ContainsFunc(engagements, func(id int64) bool { return slices.Contains(s.engagements, id) })
}

// act runs an act of whoever looks at the account. Whether it is still open is looked at within it.
func act[T any](ctx context.Context, a *app.App, secret, kind string, input any, do func(*app.Tx, *session) (T, error)) (result T, err error) {
	s, err := openSession(a, a.Store.Read(ctx, store.Everything), secret)
	if err != nil {
		return result, err
	}
	return app.Do(ctx, a, s.request(), kind, input, func(tx *app.Tx) (T, error) {
		s, err := openSession(a, tx.DB, secret)
		if err != nil {
			return result, err
		}
		tx.LinkTo("clients", s.client.ID)
		return do(tx, s)
	})
}
