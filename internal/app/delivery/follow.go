package delivery

import (
	"context"
	"time"

	core "dorvet/core/delivery"

	"dorvet/core/day"
	"dorvet/internal/app"
	"dorvet/internal/app/correspondence"
	"dorvet/internal/app/papers"
	"dorvet/internal/store"
)

// Handing is one attempt to hand something over, and what became of it.
type Handing struct {
	ID        int64      `json:"id"`
	InvoiceID int64      `json:"invoiceId"`
	Number    string     `json:"number"`
	Kind      core.Kind  `json:"kind"`
	Way       core.Way   `json:"way" enum:"mail,print,post,download"`
	State     core.State `json:"state" enum:"queued,taken,arrived,failed,called_back,posted,saved"`
	To        string     `json:"to"`
	Mail      string     `json:"mail"`
	Copies    string     `json:"copies"`
	Subject   string     `json:"subject"`
	MadeAt    time.Time  `json:"madeAt"`
	SentAt    *time.Time `json:"sentAt,omitempty"`
	Day       day.Day    `json:"day" doc:"on which it left the house"`
	OpenedAt  *time.Time `json:"openedAt,omitempty"`
	FetchedAt *time.Time `json:"fetchedAt,omitempty"`
	Problem   string     `json:"problem" doc:"why it failed and what to do, or why it waits"`
	NextAt    *time.Time `json:"nextAt,omitempty" doc:"when it is tried again"`
	Old       bool       `json:"old" doc:"it was of a version before this one"`
	Person    string     `json:"person" doc:"who handed it over"`
}

// Standing is how an invoice stands with its client: what would be done to hand it over, and what was.
type Standing struct {
	Handed   core.Standing `json:"handed" enum:",queued,taken,arrived,failed,posted,saved,opened,fetched,before"`
	Handings []Handing     `json:"handings" doc:"latest first"`
	Links    int           `json:"links" doc:"links to its page that work"`
	Letters  []Letter      `json:"letters" doc:"as they would go out now"`
}

// Of tells how an invoice or a draft stands with its client.
func Of(ctx context.Context, a *app.App, actor app.Actor, id int64) (*Standing, error) {
	tx := a.Read(ctx, actor)
	inv, err := papers.Visible(tx, id)
	if err != nil {
		return nil, err
	}
	s := &Standing{Handed: inv.Handed}
	rows, err := store.DeliveriesOf(tx, id)
	if err != nil {
		return nil, err
	}
	s.Handings = handings(rows)
	for i := range rows {
		s.Handings[i].Old = rows[i].Revision != inv.Revision
	}
	links, err := store.LinksTo(tx, store.ForInvoice, id)
	if err != nil {
		return nil, err
	}
	for _, l := range links {
		if l.WithdrawnAt == nil && l.ExpiresAt.After(a.Clock.Now()) {
			s.Links++
		}
	}
	s.Letters, err = Preview(ctx, a, actor, []int64{id}, Handover{})
	return s, err
}

func handings(rows []store.DeliveryRow) []Handing {
	list := []Handing{}
	for _, d := range rows {
		list = append(list, Handing{ID: d.ID, InvoiceID: d.InvoiceID, Number: d.Number, Kind: d.Kind, Way: d.Way, State: d.State, To: d.ToName,
			Mail: d.ToMail, Copies: d.Copies, Subject: d.Subject, MadeAt: d.MadeAt, SentAt: d.SentAt, Day: d.Day, OpenedAt: d.OpenedAt,
			FetchedAt: d.FetchedAt, Problem: d.Problem, NextAt: d.NextAt, Person: d.Person})
	}
	return list
}

// SentLetter is a letter to a client, whatever it brings.
type SentLetter struct {
	Handing
	MailID int64  `json:"mailId" doc:"0: it went by no mail"`
	Client string `json:"client"`
	Brings string `json:"brings" enum:"invoice,credit_note,deposit,receipt,statement,reminder,proposal,questionnaire,answer,code,word"`
}

// Letters is a part of the list of letters, and how many there are in each state.
type Letters struct {
	Letters []SentLetter   `json:"letters"`
	Counts  map[string]int `json:"counts" doc:"by state, whichever is asked for; with the first part alone"`
}

// LetterFilter says which letters are looked at; zero values ask for all.
type LetterFilter struct {
	ClientID int64
	Kind     string
	State    core.State
}

// List tells what went to a client, or to all, latest first.
func List(ctx context.Context, a *app.App, actor app.Actor, f LetterFilter, offset, limit int) (*Letters, error) {
	tx := a.Read(ctx, actor)
	list := &Letters{Letters: []SentLetter{}, Counts: map[string]int{}}
	rows, err := store.Letters(tx, f.ClientID, f.Kind, f.State, offset, limit)
	if err != nil {
		return nil, err
	}
	for i := range rows {
		r := &rows[i]
		list.Letters = append(list.Letters, SentLetter{handings([]store.DeliveryRow{r.DeliveryRow})[0], r.MailID, r.Client, r.Kind})
	}
	if offset == 0 {
		list.Counts, err = store.LetterCounts(tx, f.ClientID, f.Kind)
	}
	return list, err
}

// CallBack calls one delivery back that has not left the house.
func CallBack(ctx context.Context, a *app.App, r app.Request, id int64) error {
	_, err := app.Do(ctx, a, r, "call back", id, func(tx *app.Tx) (struct{}, error) {
		d, within, err := deliveryOf(tx, id)
		if err != nil {
			return struct{}{}, err
		}
		tx.Describe(nil, nil, "Called %s back, to %s", within, d.ToName)
		return struct{}{}, correspondence.CallBack(tx, d)
	})
	return err
}

// deliveryOf reads a delivery for an act, which stands in the history of what it hands over.
func deliveryOf(tx *app.Tx, id int64) (d *store.Delivery, numbers string, err error) {
	if d, err = store.DeliveryOf(tx.DB, id); err != nil {
		return nil, "", app.Missing(err, "delivery")
	}
	within, err := store.InvoicesOfDelivery(tx.DB, id)
	if err != nil {
		return nil, "", err
	}
	tx.LinkTo("clients", d.ClientID)
	for _, w := range within {
		inv, err := store.Get[store.Invoice](tx.DB, w.InvoiceID)
		if err != nil {
			return nil, "", err
		}
		if tx.LinkTo(app.OfInvoice, inv.ID); numbers != "" {
			numbers += ", "
		}
		numbers += inv.NumberText
	}
	return d, numbers, nil
}

// EndLinks makes all links to the page of an invoice stop working.
func EndLinks(ctx context.Context, a *app.App, r app.Request, id int64) error {
	_, err := app.Do(ctx, a, r, "end links", id, func(tx *app.Tx) (struct{}, error) {
		inv, err := papers.Visible(tx.DB, id)
		if err != nil {
			return struct{}{}, err
		}
		tx.LinkTo(app.OfInvoice, id)
		tx.Describe(nil, nil, "Ended all links to %s", inv.NumberText)
		return struct{}{}, store.WithdrawLinks(tx.DB, store.ForInvoice, id, tx.Now)
	})
	return err
}

// NewLink makes a link to the page of an invoice, to be given by hand.
func NewLink(ctx context.Context, a *app.App, r app.Request, id int64, name string) (Linked, error) {
	return app.Do(ctx, a, r, "make link", []any{id, name}, func(tx *app.Tx) (Linked, error) {
		p, err := packetOf(tx.DB, id, Handover{})
		if err != nil {
			return Linked{}, err
		}
		if p.isDraft() {
			return Linked{}, app.Refuse(app.Conflict, "It is a draft: issue it first.")
		}
		to := core.Addressee{Name: p.Client}
		if name != "" {
			to.Name = name
		}
		p.way = core.Download
		d, err := p.deliver(tx, to)
		if err != nil {
			return Linked{}, err
		}
		if err := correspondence.Follow(tx.DB, d.ID, core.Saved, tx.Today); err != nil {
			return Linked{}, err
		}
		tx.LinkTo(app.OfInvoice, id)
		tx.LinkTo("clients", p.ClientID)
		tx.Describe(nil, nil, "Made a link to %s for %s", p.numbers(), to.Name)
		link := p.links(tx.Now, "{link}")[0]
		address, err := correspondence.MakeLink(a, tx.DB, &store.Link{Purpose: store.ForInvoice, SubjectID: id, Name: to.Name, DeliveryID: &d.ID,
			ExpiresAt: link.ExpiresAt})
		return Linked{address}, err
	})
}

// Linked is a link, which is shown once.
type Linked struct {
	Link string `json:"link"`
}

// HasSecret implements app.Secretive.
func (l Linked) HasSecret() bool { return l.Link != "" }
