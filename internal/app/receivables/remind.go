package receivables

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strconv"
	"time"

	core "dorvet/core/delivery"

	"dorvet/core/day"
	"dorvet/core/wording"
	"dorvet/internal/app"
	"dorvet/internal/app/delivery"
	"dorvet/internal/app/papers"
	"dorvet/internal/store"
)

// BeginReminders sends the letters of plans to some accounts in the background, each as an act of its own: what was paid or said meanwhile
// counts, and one that can't go is left, and told.
func BeginReminders(ctx context.Context, a *app.App, r app.Request, accounts []LetterTo) (*app.Job, error) {
	before, try, err := a.Jobs.Try(ctx, a, r, "remind", accounts)
	if before != nil || err != nil {
		return before, err
	}
	work := func(ctx context.Context, _ int64, tell app.Progress) (string, error) {
		return remindAll(ctx, a, r, accounts, tell)
	}
	return a.Jobs.Begin(a, r, try, "remind", 0, len(accounts), "", work)
}

// remindAll reminds accounts, one after the other, and says what became of it.
func remindAll(ctx context.Context, a *app.App, r app.Request, accounts []LetterTo, tell app.Progress) (string, error) {
	letters, not, err := toEach(ctx, accounts, tell, func(ctx context.Context, of LetterTo) (int, error) {
		return remindOne(ctx, a, r, store.Account(of))
	})
	return app.Counted(letters, "reminder is", "reminders are") + " on the way." + not, err
}

// remindOne sends the letter of the plan to one account, if one is due.
func remindOne(ctx context.Context, a *app.App, r app.Request, of store.Account) (letters int, err error) {
	sent, err := app.Do(ctx, a, app.Request{Actor: r.Actor}, "remind", nil, func(tx *app.Tx) (delivery.Sent, error) {
		list, err := remindersIn(a, tx.DB, of.ClientID)
		if err != nil {
			return delivery.Sent{}, err
		}
		for i := range list {
			if list[i].account.Account != of {
				continue
			}
			if !list[i].Goes {
				return delivery.Sent{}, app.Refuse(app.Conflict, "%s was not reminded: %s.", list[i].Client, list[i].Why)
			}
			return list[i].send(a, tx)
		}
		return delivery.Sent{}, app.Refuse(app.Conflict, "Nothing of this client is late any more.")
	})
	return sent.Letters, err
}

// parcel is the letter of the plan.
func (r *ToRemind) parcel(a *app.App, tx *store.DB, over passing) (*delivery.Parcel, error) {
	doc, err := r.account.document(tx)
	if err != nil {
		return nil, err
	}
	p := &delivery.Parcel{EntityID: r.EntityID, ClientID: r.ClientID, Client: r.Client, Words: doc.Words(), Kind: core.Reminder, Tone: r.step.Tone}
	if err := r.account.remind(tx, p, a.Clock.Today(), over, r.soon); err != nil {
		return nil, err
	}
	late, err := r.lateCharges(tx, a.Clock.Today())
	if err != nil {
		return nil, err
	}
	for i := range late {
		p.Values["list"] += "\n" + p.Words.Say(wording.LateToCome, "number", late[i].row.NumberText, "day", p.Words.Day(a.Clock.Today()), "amount",
			p.Words.Money(late[i].view.Charge))
	}
	if r.step.Statement {
		p.Files = append(p.Files, delivery.Made{Name: r.account.fileName(doc), Content: func() ([]byte, error) { return papers.Drawn(a, doc) }})
	}
	if r.step.Invoices {
		for i := range p.Invoices {
			p.Files = append(p.Files, delivery.Made{Name: papers.FileName(&p.Invoices[i]), Content: func() ([]byte, error) {
				revision, err := store.RevisionOf(tx, p.Invoices[i].ID)
				if err != nil {
					return nil, err
				}
				return a.Store.Content(revision.Digest)
			}})
		}
	}
	return p, nil
}

// lateCharges are those that the letter of the plan begins, or adds to.
func (r *ToRemind) lateCharges(tx *store.DB, today day.Day) ([]lateInvoice, error) {
	from, ever := r.plan.ChargesFrom()
	if !ever {
		return nil, nil
	}
	all, err := lateInvoices(tx, []int64{r.ClientID}, today)
	return slices.DeleteFunc(all, func(l lateInvoice) bool {
		return l.view.Charge.Minor == 0 || l.row.Account() != r.account.Account || !slices.ContainsFunc(r.Invoices, func(i InvoiceToRemind) bool {
			return i.InvoiceID == l.row.ID && i.Why == "" && i.DaysLate >= from
		})
	}), err
}

func (r *ToRemind) send(a *app.App, tx *app.Tx) (delivery.Sent, error) {
	over, err := passingOver(tx.DB, []int64{r.ClientID}, tx.Today)
	if err != nil {
		return delivery.Sent{}, err
	}
	p, err := r.parcel(a, tx.DB, over)
	if err != nil {
		return delivery.Sent{}, err
	}
	if err := note(tx, p, r.moved); err != nil {
		return delivery.Sent{}, err
	}
	late, err := r.lateCharges(tx.DB, tx.Today)
	if err != nil {
		return delivery.Sent{}, err
	}
	for i := range late {
		if _, err := late[i].charge(tx); err != nil {
			return delivery.Sent{}, err
		}
	}
	return delivery.SendWithin(a, tx, p, delivery.Handover{})
}

// note keeps of which invoices a letter reminds, and to which step the oldest instalment of each has come: that of the plan, else the days
// by which it is late.
func note(tx *app.Tx, p *delivery.Parcel, moved map[int64]int) error {
	for i := range p.Invoices {
		id := p.Invoices[i].ID
		days, moves := moved[id]
		if !moves {
			days = p.Late[id]
		}
		err := store.Insert(tx.DB, &store.Reminder{InvoiceID: id, ClientID: p.ClientID, EntityID: p.EntityID,
			DueDay: tx.Today.AddDays(-p.Late[id]), Days: days, Day: tx.Today, ActID: tx.ActID})
		if err != nil {
			return err
		}
	}
	return nil
}

// PreviewReminder shows the letter of the plan to an account as it would go out.
func PreviewReminder(ctx context.Context, a *app.App, actor app.Actor, of LetterTo) ([]delivery.Letter, error) {
	return delivery.PreviewParcel(ctx, a, actor, delivery.Handover{}, func(tx *store.DB) (*delivery.Parcel, error) {
		list, err := remindersIn(a, tx, of.ClientID)
		if err != nil {
			return nil, err
		}
		over, err := passingOver(tx, []int64{of.ClientID}, a.Clock.Today())
		if err != nil {
			return nil, err
		}
		for i := range list {
			if list[i].account.Account == store.Account(of) {
				p, err := list[i].parcel(a, tx, over)
				if err == nil && !list[i].Goes {
					p.Problem = fmt.Sprintf("No letter goes today: %s.", list[i].Why)
				}
				return p, err
			}
		}
		return nil, app.Refuse(app.NotFound, "Nothing of this client is late any more.")
	})
}

// RemindAtHour sends what plans have for today, once a day, when the hour of the firm has come: but for what a person sends.
func RemindAtHour(ctx context.Context, a *app.App) error {
	tx := a.Store.Read(ctx, store.Everything)
	firm, err := store.TheFirm(tx)
	if errors.Is(err, store.ErrNotFound) {
		return nil
	}
	if err != nil {
		return err
	}
	today := a.Clock.Today()
	if firm.RemindedDay >= today || !hourHasCome(a.Clock.Now(), firm) {
		return nil
	}
	list, err := remindersIn(a, tx, 0)
	if err != nil {
		return fmt.Errorf("read what plans of reminders do today: %w", err)
	}
	accounts := []LetterTo{}
	for i := range list {
		if list[i].Goes && !list[i].ByHand {
			accounts = append(accounts, LetterTo(list[i].account.Account))
		}
	}
	who := app.Request{Actor: app.Actor{Outsider: "Dorvet"}}
	said, err := remindAll(ctx, a, who, accounts, func(int) {})
	if err != nil {
		return err
	}
	_, err = app.Do(ctx, a, who, "remind by plan", nil, func(tx *app.Tx) (struct{}, error) {
		firm, err := store.TheFirm(tx.DB)
		if err != nil {
			return struct{}{}, err
		}
		firm.RemindedDay = tx.Today
		tx.LinkTo("firm", firm.ID)
		tx.Describe(nil, nil, "%s", said)
		return struct{}{}, store.Save(tx.DB, firm)
	})
	return err
}

// hourHasCome reports whether it is the firm's hour of reminders, or later; without one it never is.
func hourHasCome(now time.Time, firm *store.Firm) bool {
	hour, err := strconv.Atoi(firm.ReminderHour)
	if err != nil {
		return false
	}
	place, err := time.LoadLocation(firm.TimeZone)
	if err != nil {
		place = time.UTC
	}
	return now.In(place).Hour() >= hour
}
