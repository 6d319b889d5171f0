package clientaccount

import (
	"context"
	"slices"

	"dorvet/core/money"
	"dorvet/core/paymentmethod"
	"dorvet/internal/app"
	"dorvet/internal/app/receivables"
	"dorvet/internal/store"
)

// What is opened from an account has a link of its own, which ends with the account.

// OpenInvoice opens the page of an invoice that the reader may see.
func OpenInvoice(ctx context.Context, a *app.App, secret string, id int64) (OpenedLink, error) {
	return act(ctx, a, secret, "open from the account", []any{"invoice", id}, func(tx *app.Tx, s *session) (OpenedLink, error) {
		rows, err := s.issued(tx.DB)
		if err != nil {
			return OpenedLink{}, err
		}
		at := slices.IndexFunc(rows, func(r store.InvoiceRow) bool { return r.ID == id })
		if at < 0 || !s.invoices {
			return OpenedLink{}, app.Missing(store.ErrNotFound, "invoice")
		}
		tx.LinkTo(app.OfInvoice, id)
		tx.Describe(nil, nil, "Opened %s from the account", rows[at].NumberText)
		return opened(a, tx, s.linkTo(store.ForInvoice, id))
	})
}

// OpenProposal opens the page of a proposal that waits for an answer.
func OpenProposal(ctx context.Context, a *app.App, secret string, id int64) (OpenedLink, error) {
	return act(ctx, a, secret, "open from the account", []any{"proposal", id}, func(tx *app.Tx, s *session) (OpenedLink, error) {
		rows, err := s.toAnswer(a, tx.DB)
		if err != nil {
			return OpenedLink{}, err
		}
		at := slices.IndexFunc(rows, func(p store.Proposal) bool { return p.ID == id })
		if at < 0 {
			return OpenedLink{}, app.Missing(store.ErrNotFound, "proposal")
		}
		tx.Describe(nil, nil, "Opened %s from the account", rows[at].NumberText)
		return opened(a, tx, s.linkTo(store.ForProposal, id))
	})
}

// OpenQuestions opens a questionnaire that waits for answers.
func OpenQuestions(ctx context.Context, a *app.App, secret string, id int64) (OpenedLink, error) {
	return act(ctx, a, secret, "open from the account", []any{"questionnaire", id}, func(tx *app.Tx, s *session) (OpenedLink, error) {
		rows, err := store.QuestionnairesOf(tx.DB, s.client.ID)
		if err != nil {
			return OpenedLink{}, err
		}
		at := slices.IndexFunc(rows, func(q store.ClientQuestionnaire) bool { return q.ID == id && q.AnsweredAt == nil })
		if at < 0 || s.engagements != nil {
			return OpenedLink{}, app.Missing(store.ErrNotFound, "questionnaire")
		}
		tx.Describe(nil, nil, "Opened the questionnaire %s from the account", rows[at].Name)
		return opened(a, tx, s.linkTo(store.ForQuestionnaire, id))
	})
}

func (s *session) linkTo(purpose string, id int64) *store.Link {
	return &store.Link{Purpose: purpose, SubjectID: id, Name: s.name, Mail: s.mail, FromID: &s.link.ID, ExpiresAt: s.link.ExpiresAt}
}

// Statement is the statement of one of the client's accounts.
func Statement(ctx context.Context, a *app.App, secret string, entityID int64, currency money.Currency) (name string, content []byte, err error) {
	tx := a.Store.Read(ctx, store.Everything)
	s, err := openSession(a, tx, secret)
	if err != nil {
		return "", nil, err
	}
	if !s.statements || s.engagements != nil {
		return "", nil, app.Missing(store.ErrNotFound, "statement")
	}
	return receivables.StatementIn(a, tx, store.Account{ClientID: s.client.ID, EntityID: entityID, Currency: currency})
}

// EndMethod ends a way of paying that the reader has kept: it is never used again.
func EndMethod(ctx context.Context, a *app.App, secret string, id int64) error {
	_, err := act(ctx, a, secret, "end a way of paying", id, func(tx *app.Tx, s *session) (struct{}, error) {
		methods, err := store.KeptMethods(tx.DB, s.client.ID, s.mail)
		if err != nil {
			return struct{}{}, err
		}
		at := slices.IndexFunc(methods, func(m store.PaymentMethod) bool { return m.ID == id })
		if at < 0 {
			return struct{}{}, app.Missing(store.ErrNotFound, "way of paying")
		}
		m := &methods[at]
		m.Active, m.EndedAt = false, &tx.Now
		tx.Describe(nil, nil, "Ended a way of paying: %s", paymentmethod.Words(m.Kind, m.LastFour))
		return struct{}{}, store.Save(tx.DB, m)
	})
	return err
}

// Leave closes an account, with all that was opened from it.
func Leave(ctx context.Context, a *app.App, secret string) error {
	_, err := act(ctx, a, secret, "close the account", nil, func(tx *app.Tx, s *session) (struct{}, error) {
		tx.Describe(nil, nil, "Closed the account")
		return struct{}{}, store.WithdrawWith(tx.DB, s.link, tx.Now)
	})
	return err
}
