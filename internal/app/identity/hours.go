package identity

import (
	"context"

	"dorvet/internal/app"
	"dorvet/internal/store"
)

// HoursAs is the form in which a person reads hours.
type HoursAs string

// The forms of hours.
const (
	Decimal HoursAs = "decimal" // 4.2, every minute as itself
	Clock   HoursAs = "clock"   // 4:12
	Tenth   HoursAs = "tenth"   // 4.2, to the tenth in lists and sums
	Quarter HoursAs = "quarter" // 4.25, to the quarter
)

func hoursAs(p *store.Person) HoursAs {
	switch {
	case p.ClockHours:
		return Clock
	case p.HoursRounded != "":
		return HoursAs(p.HoursRounded)
	}
	return Decimal
}

// ReadHoursAs keeps the form in which the actor reads hours, in whichever browser.
func ReadHoursAs(ctx context.Context, a *app.App, actor app.Actor, as HoursAs) error {
	return keepOwn(ctx, a, actor, func(_ *store.DB, person *store.Person) error {
		person.ClockHours, person.HoursRounded = as == Clock, ""
		if as == Tenth || as == Quarter {
			person.HoursRounded = string(as)
		}
		return nil
	})
}

// MailNoticesAs keeps whether what the actor is told goes to them by mail, too: at once, as one letter a day, or (nothing) not. What waits
// is mailed no more where they want none.
func MailNoticesAs(ctx context.Context, a *app.App, actor app.Actor, as string) error {
	return keepOwn(ctx, a, actor, func(tx *store.DB, person *store.Person) error {
		person.NoticeMails = as
		if as != "" {
			return nil
		}
		return store.KeepNoticesHere(tx, person.ID)
	})
}

// keepOwn keeps what the actor has chosen for themselves.
func keepOwn(ctx context.Context, a *app.App, actor app.Actor, choose func(*store.DB, *store.Person) error) error {
	return a.Store.Write(ctx, store.Everything, func(tx *store.DB) error {
		person, err := store.Get[store.Person](tx, actor.PersonID)
		if err != nil {
			return err
		}
		if err := choose(tx, person); err != nil {
			return err
		}
		return store.Save(tx, person)
	})
}
