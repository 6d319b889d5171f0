package setup

import (
	"context"
	"strconv"

	"dorvet/internal/app"
	"dorvet/internal/app/registry"
	"dorvet/internal/store"
)

// Limits on a logo.
const (
	maxLogoBytes  = 2 << 20
	maxLogoPixels = 4000 * 4000
	// Printed at most 80 by 26 mm, a logo is sharp with this many points; every document
	// has it inside.
	logoWidth, logoHeight = 900, 300
)

// SetLogo keeps the firm's logo: a PNG or JPEG by its content, drawn anew as PNG,
// so that nothing hidden in the file comes along. No bytes take it away.
func SetLogo(ctx context.Context, a *app.App, r app.Request, content []byte) error {
	drawn, err := redrawn(content)
	if err != nil {
		return err
	}
	_, err = app.Do(ctx, a, r, "set the logo", nil, func(tx *app.Tx) (struct{}, error) {
		firm, err := store.TheFirm(tx.DB)
		if err != nil {
			return struct{}{}, err
		}
		firm.Logo = ""
		tx.Describe(nil, nil, "Took the logo away")
		if len(drawn) > 0 {
			tx.Describe(nil, nil, "Changed the logo")
			if firm.Logo, err = a.Store.Keep(tx.DB, drawn, "image/png", tx.Now); err != nil {
				return struct{}{}, err
			}
		}
		tx.LinkTo(app.OfFirm, 1)
		return struct{}{}, store.Save(tx.DB, firm)
	})
	return err
}

func redrawn(content []byte) ([]byte, error) {
	if len(content) == 0 {
		return nil, nil
	}
	return app.Reencode("logo", content, maxLogoBytes, maxLogoPixels, logoWidth, logoHeight)
}

// Logo reads the firm's logo as PNG; nothing if there is none.
func Logo(ctx context.Context, a *app.App) ([]byte, error) {
	firm, err := store.TheFirm(a.Store.Read(ctx, store.Everything))
	if err != nil || firm.Logo == "" {
		return nil, err
	}
	return a.Store.Content(firm.Logo)
}

// pictureKind are pictures of the firm's own. The picture itself is chosen once it has a
// name.
func pictureKind() registry.AnyKind {
	type P = store.Picture
	d := &registry.Definition[P]{
		Kind: registry.Kind{Name: "pictures", One: "picture", Many: "pictures", First: []string{"name"},
			About: "Pictures for documents: above the lines of one, or beside a line."},
		Table:  registry.Group("Picture", registry.Line("name", "Name", func(p *P) *string { return &p.Name }).Required()),
		Blank:  func(*registry.Env) (P, error) { return P{Active: true}, nil },
		Active: func(p *P) *bool { return &p.Active },
	}
	return d.Ready()
}

// A picture is printed as wide as the text at most, so that it is sharp with this many
// points.
const pictureWidth, pictureHeight = 1600, 600

// SetPicture keeps the picture of a record: a PNG or JPEG by its content, drawn anew.
func SetPicture(ctx context.Context, a *app.App, r app.Request, id int64, content []byte) error {
	drawn, err := app.Reencode("picture", content, maxLogoBytes*4, maxLogoPixels, pictureWidth, pictureHeight)
	if err != nil {
		return err
	}
	_, err = app.Do(ctx, a, r, "set a picture", id, func(tx *app.Tx) (struct{}, error) {
		picture, err := store.Get[store.Picture](tx.DB, id)
		if err != nil {
			return struct{}{}, app.Missing(err, "picture")
		}
		if picture.Digest, err = a.Store.Keep(tx.DB, drawn, "image/png", tx.Now); err != nil {
			return struct{}{}, err
		}
		tx.LinkTo("pictures", id)
		tx.Describe(nil, nil, "Chose the picture “%s”", picture.Name)
		return struct{}{}, store.Save(tx.DB, picture)
	})
	return err
}

// Picture reads a picture of the firm's own, as PNG, by its digest or the number of its
// record.
func Picture(ctx context.Context, a *app.App, actor app.Actor, named string) ([]byte, error) {
	pictures, err := store.All[store.Picture](a.Read(ctx, actor), "id")
	if err != nil {
		return nil, err
	}
	for _, p := range pictures {
		if p.Digest != "" && (p.Digest == named || strconv.FormatInt(p.ID, 10) == named) {
			return a.Store.Content(p.Digest)
		}
	}
	return nil, app.Missing(store.ErrNotFound, "picture")
}
