package pricing

import (
	"context"
	"strings"

	"dorvet/internal/app"
	"dorvet/internal/app/correspondence"
	"dorvet/internal/store"
)

// KeptFile is a document that was uploaded: the firm's terms, or the evidence of
// an acceptance.
type KeptFile struct {
	Digest string `json:"digest" maxLength:"64"`
	Name   string `json:"name" maxLength:"200"`
}

// KeepFile keeps a document for a proposal; what is done with it, says the act
// that names it.
func KeepFile(ctx context.Context, a *app.App, r app.Request, id int64, name string, content []byte) (KeptFile, error) {
	clean, mediaType, err := app.Document("file", content)
	if err != nil {
		return KeptFile{}, err
	}
	return app.Do(ctx, a, r, "keep file", []any{id, name, correspondence.Digest(string(content))}, func(tx *app.Tx) (KeptFile, error) {
		p, err := visibleProposal(tx.DB, tx.Actor, id)
		if err != nil {
			return KeptFile{}, err
		}
		tx.Describe(nil, nil, "Uploaded %s", name)
		tx.LinkTo(ofProposal, p.ID)
		digest, err := tx.KeepUpload(a, clean, mediaType)
		return KeptFile{digest, strings.TrimSpace(name)}, err
	})
}

// checkFile refuses the name of a file that was never kept.
func checkFile(tx *store.DB, field string, f KeptFile) error {
	if f.Digest == "" {
		return nil
	}
	_, err := store.FileOf(tx, f.Digest)
	return app.Found(err, app.RefuseField(field, "This file is not here: upload it again."))
}

// File is a file with what it is.
type File struct {
	Name, MediaType string
	Content         []byte
}

func (a *files) open(f KeptFile) (*File, error) {
	row, err := store.FileOf(a.tx, f.Digest)
	if err := app.Unless(err, app.Refuse(app.NotFound, "There is no such file."), func() bool { return f.Digest != "" }); err != nil {
		return nil, err
	}
	content, err := a.app.Store.Content(f.Digest)
	return &File{f.Name, row.MediaType, content}, err
}

// files reads kept files.
type files struct {
	app *app.App
	tx  *store.DB
}

// TermsFile is the document of terms, for who holds a link.
func TermsFile(ctx context.Context, a *app.App, secret string) (*File, error) {
	tx := a.Store.Read(ctx, store.Everything)
	g, err := openGuest(a, tx, secret)
	if err != nil {
		return nil, err
	}
	c, _, err := contentOf(tx, g.proposal)
	if err != nil {
		return nil, err
	}
	return (&files{a, tx}).open(c.TermsFile)
}

// FileFor is a file of a proposal, for people of the firm: its terms, or the
// evidence of its acceptance.
func FileFor(ctx context.Context, a *app.App, actor app.Actor, id int64, which string) (*File, error) {
	tx := a.Read(ctx, actor)
	p, err := visibleProposal(tx, actor, id)
	if err != nil {
		return nil, err
	}
	if which == "terms" {
		c, _, err := contentOf(tx, p)
		if err != nil {
			return nil, err
		}
		return (&files{a, tx}).open(c.TermsFile)
	}
	answer, err := store.AnswerOf(tx, id)
	if err != nil {
		return nil, err
	}
	if answer == nil {
		answer = &store.ProposalAnswer{}
	}
	return (&files{a, tx}).open(KeptFile{answer.EvidenceFile, answer.EvidenceName})
}
