package correspondence

import (
	"context"
	"fmt"
	"strings"
	"time"

	"dorvet/core/day"
	"dorvet/core/refusal"
	"dorvet/internal/app"
	"dorvet/internal/store"
)

// noticeKind is the kind of mails that bring notices.
const noticeKind = "notice"

// dailyHour is from when on, by the machine's clock, who wants one letter of notices a day gets it.
const dailyHour = 6

// MailNotices queues the notices that people want by mail: at once, or as one letter a day. Each goes into one mail.
func MailNotices(ctx context.Context, a *app.App) error {
	waiting, err := store.NoticesToMail(a.Store.Read(ctx, store.Everything))
	if err != nil {
		return err
	}
	for len(waiting) > 0 {
		n := 1
		for n < len(waiting) && waiting[n].PersonID == waiting[0].PersonID {
			n++
		}
		if err := mailTo(ctx, a, waiting[:n]); err != nil && !refusal.Is(err) {
			return err
		}
		waiting = waiting[n:]
	}
	return nil
}

// mailTo mails the notices of one person, if their time has come.
func mailTo(ctx context.Context, a *app.App, notices []store.NoticeToMail) error {
	to, now := &notices[0], a.Clock.Now()
	if to.Daily {
		year, month, date := now.Local().Date()
		today := time.Date(year, month, date, 0, 0, 0, 0, time.Local)
		had, err := store.MailedSince(a.Store.Read(ctx, store.Everything), noticeKind, to.Address, today)
		if err != nil || had || now.Local().Hour() < dailyHour {
			return err
		}
	}
	ids := []int64{}
	for i := range notices {
		ids = append(ids, notices[i].ID)
	}
	_, err := app.Do(ctx, a, app.Request{Actor: app.Actor{Outsider: "Dorvet"}}, "mail notices", nil, func(tx *app.Tx) (struct{}, error) {
		mailed, err := store.NoticesMailed(tx.DB, ids)
		if err != nil || mailed == 0 {
			return struct{}{}, err
		}
		tx.Describe(nil, nil, "Mailed %s to %s", app.Counted(len(notices), "notice", "notices"), to.Name)
		subject, body := noticesLetter(notices, a.Address)
		return struct{}{}, Queue(tx, store.Mail{Kind: noticeKind, ToName: to.Name, ToMail: to.Address, Subject: subject, Body: body})
	})
	return err
}

// longSubject is how long a subject becomes at most.
const longSubject = 120

func noticesLetter(notices []store.NoticeToMail, address string) (subject, body string) {
	subject = fmt.Sprintf("%d notices", len(notices))
	if len(notices) == 1 {
		if subject = notices[0].Sentence; len([]rune(subject)) > longSubject {
			subject = string([]rune(subject)[:longSubject]) + "…"
		}
	}
	lines := []string{}
	for i := range notices {
		lines = append(lines, notices[i].Sentence+" ("+notices[i].BusinessDay.Long()+")")
	}
	body = "Dear " + notices[0].Name + ",\n\n" + strings.Join(lines, "\n\n") + "\n\nOpen Dorvet: " + address +
		"/account\nThere you can also say whether notices come by mail.\n"
	return subject, body
}

// tellFailed tells whoever wrote a mail that it failed now, and why.
func tellFailed(tx *store.DB, m *store.Mail, today day.Day) error {
	if m.Kind == noticeKind {
		return nil
	}
	act, err := store.Get[store.Act](tx, m.ActID)
	if err != nil || act.PersonID == nil {
		return err
	}
	return store.InsertNotices(tx, []store.Notice{{PersonID: *act.PersonID, ActID: m.ActID, BusinessDay: today,
		Sentence: fmt.Sprintf("The mail “%s” to %s failed: %s", m.Subject, m.ToMail, m.Problem)}})
}
