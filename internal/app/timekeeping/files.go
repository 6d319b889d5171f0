package timekeeping

import (
	"context"
	"fmt"
	"strings"

	"dorvet/internal/app"
	"dorvet/internal/store"
)

// What files are attached to.
const (
	ofTime     = "time"
	ofPurchase = "purchase"
)

// AttachedFile is a receipt or another file, by the digest under which it was kept.
type AttachedFile struct {
	Digest    string `json:"digest" pattern:"^[0-9a-f]{64}$"`
	Name      string `json:"name" maxLength:"200"`
	MediaType string `json:"mediaType,omitempty"`
}

// KeepFile keeps an uploaded PDF or picture, to be named by an entry or a
// purchase. Pictures are drawn anew, so that nothing hidden comes along.
func KeepFile(ctx context.Context, a *app.App, r app.Request, name string, content []byte) (*AttachedFile, error) {
	clean, mediaType, err := app.Document("file", content)
	if err != nil {
		return nil, err
	}
	return app.Do(ctx, a, r, "keep file", []any{name, len(content)}, func(tx *app.Tx) (*AttachedFile, error) {
		digest, err := tx.KeepUpload(a, clean, mediaType)
		tx.Describe(nil, digest, "Kept the file %s", name)
		return &AttachedFile{Digest: digest, Name: name, MediaType: mediaType}, err
	})
}

// attach replaces the files of an entry or a purchase.
func attach(tx *app.Tx, source string, id int64, files []AttachedFile) error {
	rows := []store.SourceFile{}
	for _, f := range files {
		_, err := store.FileOf(tx.DB, f.Digest)
		if err := app.Found(err, app.RefuseField("files", "The file %s is not there any more: choose it again.", f.Name)); err != nil {
			return err
		}
		rows = append(rows, store.SourceFile{Digest: f.Digest, Name: strings.TrimSpace(f.Name)})
	}
	return store.SetFiles(tx.DB, source, id, rows)
}

// filesOf are what is attached, with what kind each is.
func filesOf(tx *store.DB, source string, id int64) ([]AttachedFile, error) {
	kept, err := store.FilesOf(tx, source, id)
	files := make([]AttachedFile, 0, len(kept))
	for _, k := range kept {
		file, err := store.FileOf(tx, k.Digest)
		if err != nil {
			return nil, fmt.Errorf("the file %s of %s %d: %w", k.Name, source, id, err)
		}
		files = append(files, AttachedFile{Digest: k.Digest, Name: k.Name, MediaType: file.MediaType})
	}
	return files, err
}

// EntryFiles are what is attached to an entry that the actor may see.
func EntryFiles(ctx context.Context, a *app.App, actor app.Actor, id int64) ([]AttachedFile, error) {
	if _, err := One(ctx, a, actor, id); err != nil {
		return nil, err
	}
	return filesOf(a.Read(ctx, actor), ofTime, id)
}

// File reads an attached file, for who may see something that has it.
func File(ctx context.Context, a *app.App, actor app.Actor, digest string) (mediaType string, content []byte, err error) {
	uses, err := store.FileUses(a.Read(ctx, actor), digest)
	if err != nil {
		return "", nil, err
	}
	for _, use := range uses {
		if use.Source == ofTime {
			_, err = One(ctx, a, actor, use.SourceID)
		} else {
			_, err = OnePurchase(ctx, a, actor, use.SourceID)
		}
		if err != nil {
			continue
		}
		file, err := store.FileOf(a.Read(ctx, actor), digest)
		if err != nil {
			return "", nil, err
		}
		content, err := a.Store.Content(digest)
		return file.MediaType, content, err
	}
	return "", nil, app.Missing(store.ErrNotFound, "file")
}
