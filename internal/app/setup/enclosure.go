package setup

import (
	"context"

	"dorvet/core/safetext"
	"dorvet/internal/app"
	"dorvet/internal/app/registry"
	"dorvet/internal/store"
)

// enclosureKind are files of the firm's own that go along with invoices. The file itself is chosen once it has a name.
func enclosureKind() registry.AnyKind {
	type E = store.Enclosure
	d := &registry.Definition[E]{
		Kind: registry.Kind{Name: "enclosures", One: "enclosure", Many: "enclosures", First: []string{"name"},
			About: "Files that go along with invoices: terms of business, a leaflet. Which one goes is said under " +
				"Delivery, for the firm, a client or an engagement."},
		Table: registry.Group("Enclosure",
			registry.Line("name", "Name", func(e *E) *string { return &e.Name }).Required(),
			readOnly(registry.Line("file", "File", func(e *E) *string { return &e.FileName })).Listed()),
		Blank:  func(*registry.Env) (E, error) { return E{Active: true}, nil },
		Active: func(e *E) *bool { return &e.Active },
	}
	return d.Ready()
}

// SetEnclosureFile keeps the file of an enclosure: a PDF or a picture, by its content.
func SetEnclosureFile(ctx context.Context, a *app.App, r app.Request, id int64, name string, content []byte) error {
	clean, mediaType, err := app.Document("file", content)
	if err != nil {
		return err
	}
	_, err = app.Do(ctx, a, r, "set the file of an enclosure", []any{id, name, len(content)}, func(tx *app.Tx) (struct{}, error) {
		enclosure, err := store.Get[store.Enclosure](tx.DB, id)
		if err != nil {
			return struct{}{}, app.Missing(err, "enclosure")
		}
		enclosure.FileName = safetext.FileName(name)
		if enclosure.File, err = a.Store.Keep(tx.DB, clean, mediaType, tx.Now); err != nil {
			return struct{}{}, err
		}
		tx.LinkTo("enclosures", id)
		tx.Describe(nil, nil, "Chose %s as “%s”", enclosure.FileName, enclosure.Name)
		return struct{}{}, store.Save(tx.DB, enclosure)
	})
	return err
}

// EnclosureFile reads the file of an enclosure.
func EnclosureFile(ctx context.Context, a *app.App, actor app.Actor, id int64) (name, mediaType string, content []byte, err error) {
	tx := a.Read(ctx, actor)
	enclosure, err := store.Get[store.Enclosure](tx, id)
	if err == nil && enclosure.File == "" {
		err = store.ErrNotFound
	}
	if err != nil {
		return "", "", nil, app.Missing(err, "file")
	}
	file, err := store.FileOf(tx, enclosure.File)
	if err != nil {
		return "", "", nil, err
	}
	content, err = a.Store.Content(enclosure.File)
	return enclosure.FileName, file.MediaType, content, err
}
