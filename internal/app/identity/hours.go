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
	Decimal HoursAs = "decimal" // 4.2
	Clock   HoursAs = "clock"   // 4:12
)

func hoursAs(p *store.Person) HoursAs {
	if p.ClockHours {
		return Clock
	}
	return Decimal
}

// ReadHoursAs keeps the form in which the actor reads hours, in whichever browser.
func ReadHoursAs(ctx context.Context, a *app.App, actor app.Actor, as HoursAs) error {
	return a.Store.Write(ctx, store.Everything, func(tx *store.DB) error {
		person, err := store.Get[store.Person](tx, actor.PersonID)
		if err != nil {
			return err
		}
		person.ClockHours = as == Clock
		return store.Save(tx, person)
	})
}
