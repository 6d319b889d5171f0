package setup

import (
	"dorvet/internal/app"
	"dorvet/internal/app/registry"
	"dorvet/internal/store"
)

// beginOnboarding gives a new client its first steps, and takes them away again
// with a client that goes.
func beginOnboarding(tx *app.Tx, _ *registry.Env, before, c *store.Client) error {
	if before != nil || c.Onboarded {
		return nil
	}
	templates, err := store.All[store.StepTemplate](tx.DB, "days, id")
	steps := []store.ClientStep{}
	for _, t := range templates {
		if t.Active {
			steps = append(steps, store.ClientStep{ClientID: c.ID, Name: t.Name, OwnerID: c.ResponsibleID,
				DueDay:   c.OpenedDay.AddDays(t.Days),
				Document: t.Document})
		}
	}
	if err != nil {
		return err
	}
	return store.Insert(tx.DB, steps)
}

// Onboard makes a prospect a current client who is being onboarded, with the
// first steps.
func Onboard(tx *app.Tx, clientID int64) error {
	e, err := registry.NewEnv(tx.DB, tx.Today, app.Actor{Role: app.Administrator})
	if err != nil {
		return err
	}
	client, err := store.Get[store.Client](tx.DB, clientID)
	if err != nil {
		return err
	}
	current, err := e.Find("client-statuses", "current")
	if err != nil {
		return err
	}
	client.StatusID, client.Onboarded = &current, false
	if client.OpenedDay < tx.Today { // due days of the steps count from now
		client.OpenedDay = tx.Today
	}
	if err := store.Save(tx.DB, client); err != nil {
		return err
	}
	tx.LinkTo("clients", clientID)
	return beginOnboarding(tx, e, nil, client)
}
