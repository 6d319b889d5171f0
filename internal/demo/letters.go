package demo

import (
	"errors"
	"fmt"
	"slices"

	core "dorvet/core/delivery"

	"dorvet/internal/app"
	"dorvet/internal/app/correspondence"
	"dorvet/internal/app/delivery"
	"dorvet/internal/app/receivables"
	"dorvet/internal/store"
)

// letters sends what brings no invoice: deposit requests, statements and reminders, two each; one of those who were reminded wants no more.
// Two clients are written to in a tone of their own, two people get their notices by mail. Mails have the stand-in to go to here.
func (s *seeder) letters() error {
	checks, err := store.All[store.IssueCheck](s.app.Read(s.ctx, s.admin.Actor), "id")
	if err != nil {
		return err
	}
	at := slices.IndexFunc(checks, func(c store.IssueCheck) bool { return c.Code == "no_mail_server" })
	if err := s.set("issue-checks", checks[at].ID, "level", "off"); err != nil {
		return err
	}
	owed, err := receivables.Owed(s.ctx, s.app, s.admin.Actor, receivables.Filter{Late: 1})
	if err != nil {
		return err
	}
	if len(owed.Clients) < 4 {
		return errors.New("too few clients of the demo are late")
	}
	for i, tone := range []string{"warm", "firm"} {
		if err := s.set("clients", owed.Clients[i].ClientID, "tone", tone); err != nil {
			return err
		}
	}
	for i, client := range owed.Clients[:4] {
		kind := []core.Kind{core.Reminder, core.Statement}[i%2]
		err := s.write(receivables.Lettering{Kind: kind, ID: client.ClientID, Currency: client.Total.Currency})
		if err != nil {
			return fmt.Errorf("a %s to %s: %w", kind, client.Client, err)
		}
	}
	if _, err := receivables.RequestDeposit(s.ctx, s.app, s.admin, receivables.TypedRequest{ClientID: 6, Amount: "950",
		Text: "Deposit on the spring dive"}); err != nil {
		return err
	}
	requests, err := receivables.Requests(s.ctx, s.app, s.admin.Actor, 0)
	if err != nil {
		return err
	}
	for _, r := range requests {
		if r.State != "open" {
			continue
		}
		if err := s.write(receivables.Lettering{Kind: core.Deposit, ID: r.ID}); err != nil {
			return fmt.Errorf("the request %s: %w", r.Number, err)
		}
	}
	for id, as := range map[int64]string{2: "once", 3: "daily"} {
		if err := s.noticesAs(id, as); err != nil {
			return err
		}
	}
	return nil
}

// write sends a letter, which leaves at once; to an address of the client's where no contact gets it.
func (s *seeder) write(l receivables.Lettering) error {
	shown, err := receivables.PreviewLetter(s.ctx, s.app, s.admin.Actor, l)
	if err != nil {
		return err
	}
	if len(shown[0].To) == 0 {
		l.Sending = delivery.Handover{To: "accounts@client.example"}
	}
	if _, err := receivables.SendLetter(s.ctx, s.app, s.admin, l); err != nil {
		return err
	}
	list, err := delivery.List(s.ctx, s.app, s.admin.Actor, delivery.LetterFilter{Kind: string(l.Kind)}, 0, 1)
	if err != nil || list.Letters[0].MailID == 0 {
		return err
	}
	mails, err := store.MailsOfDelivery(s.app.Read(s.ctx, s.admin.Actor), []int64{list.Letters[0].ID})
	for i := range mails {
		err = errors.Join(err, correspondence.DeliverOne(s.ctx, s.app, &mails[i]))
	}
	return err
}

func (s *seeder) noticesAs(personID int64, as string) error {
	return s.app.Store.Write(s.ctx, store.Everything, func(tx *store.DB) error {
		person, err := store.Get[store.Person](tx, personID)
		if err != nil {
			return app.Missing(err, "person")
		}
		person.NoticeMails = as
		return store.Save(tx, person)
	})
}
