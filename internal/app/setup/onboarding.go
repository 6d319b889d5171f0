package setup

import (
	"context"
	"net/url"
	"strings"

	"dorvet/core/day"
	"dorvet/core/refusal"
	"dorvet/core/safetext"
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
				Document: t.Document, Link: t.Link})
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

func stepTemplateKind() registry.AnyKind {
	type S = store.StepTemplate
	d := &registry.Definition[S]{
		Kind: registry.Kind{Name: "onboarding-steps", One: "onboarding step", Many: "onboarding steps",
			About: "With what every new client begins.", First: []string{"name"}},
		Table: registry.Group("Step", registry.Line("name", "Name", func(s *S) *string { return &s.Name }).Required(),
			registry.DaysOf("days", "Due after, days", func(s *S) *int { return &s.Days }).Listed(),
			registry.Line("document", "Document", func(s *S) *string { return &s.Document }).Listed(),
			linkField(func(s *S) *string { return &s.Link })),
		Blank:  func(*registry.Env) (S, error) { return S{Days: 7, Active: true}, nil },
		Active: func(s *S) *bool { return &s.Active },
	}
	return d.Ready()
}

func stepKind() registry.AnyKind {
	type S = store.ClientStep
	d := &registry.Definition[S]{
		Kind:    registry.Kind{Name: "client-steps", One: "step", Many: "steps", First: []string{"client", "name"}},
		Belongs: func(v *S) int64 { return v.ClientID },
		Table: registry.Group("Step", registry.Must("client", "Client", "clients", func(s *S) *int64 { return &s.ClientID }).Permanent(),
			registry.Line("name", "Name", func(s *S) *string { return &s.Name }).Required(),
			registry.Ref("owner", "Owner", "people", func(s *S) **int64 { return &s.OwnerID }).Listed(),
			registry.DayOf("due", "Due", func(s *S) *day.Day { return &s.DueDay }).Listed(),
			registry.Line("document", "Document", func(s *S) *string { return &s.Document }).Listed(),
			linkField(func(s *S) *string { return &s.Link }).Listed(),
			readOnly(registry.Line("file", "File", func(s *S) *string { return &s.FileName })).Listed(),
			registry.DayOf("done", "Done on", func(s *S) *day.Day { return &s.DoneDay }).Listed()),
		Blank: func(e *registry.Env) (S, error) { return S{DueDay: e.Today.AddDays(7)}, nil },
	}
	return d.Ready()
}

// linkField is where more about a step is found: an address that a browser opens.
func linkField[T any](at func(*T) *string) registry.FieldOf[T] {
	f := registry.Line("link", "Link", at).Hinted("like https://forms.example/engagement-letter")
	write := f.Write
	f.Write = func(e *registry.Env, t *T, text string) error {
		text = strings.TrimSpace(text)
		address, err := url.Parse(text)
		if text != "" && (err != nil || address.Host == "" || address.Scheme != "https" && address.Scheme != "http") {
			return refusal.Errorf("%q is no address of a page: give one that begins with https://", text)
		}
		return write(e, t, text)
	}
	return f
}

// SetStepFile keeps what was got of a step of an onboarding: a PDF or a picture. No bytes
// take it away.
func SetStepFile(ctx context.Context, a *app.App, r app.Request, id int64, name string, content []byte) error {
	clean, mediaType, err := content, "", error(nil)
	if len(content) > 0 {
		if clean, mediaType, err = app.Document("file", content); err != nil {
			return err
		}
	}
	_, err = app.Do(ctx, a, r, "set the file of a step", []any{id, name, len(content)}, func(tx *app.Tx) (struct{}, error) {
		step, err := visibleStep(tx.DB, tx.Actor, tx.Today, id)
		if err != nil {
			return struct{}{}, err
		}
		was := step.FileName
		step.File, step.FileName = "", ""
		tx.Describe(was, nil, "Took the file of “%s” away", step.Name)
		if len(clean) > 0 {
			step.FileName = safetext.FileName(name)
			if step.File, err = tx.KeepUpload(a, clean, mediaType); err != nil {
				return struct{}{}, err
			}
			tx.Describe(was, step.FileName, "Kept %s with “%s”", step.FileName, step.Name)
		}
		tx.LinkTo("clients", step.ClientID)
		return struct{}{}, store.Save(tx.DB, step)
	})
	return err
}

// StepFile reads the file of a step.
func StepFile(ctx context.Context, a *app.App, actor app.Actor, id int64) (name, mediaType string, content []byte, err error) {
	tx := a.Read(ctx, actor)
	step, err := visibleStep(tx, actor, a.Clock.Today(), id)
	if err == nil && step.File == "" {
		err = app.Missing(store.ErrNotFound, "file")
	}
	if err != nil {
		return "", "", nil, err
	}
	file, err := store.FileOf(tx, step.File)
	if err != nil {
		return "", "", nil, err
	}
	content, err = a.Store.Content(step.File)
	return step.FileName, file.MediaType, content, err
}

// visibleStep reads a step that an actor may see.
func visibleStep(tx *store.DB, actor app.Actor, today day.Day, id int64) (*store.ClientStep, error) {
	e, err := registry.NewEnv(tx, today, actor)
	if err != nil {
		return nil, err
	}
	if _, err := registry.KindOf("client-steps").Open(e, id); err != nil {
		return nil, app.Missing(err, "step")
	}
	return store.Get[store.ClientStep](tx, id)
}
