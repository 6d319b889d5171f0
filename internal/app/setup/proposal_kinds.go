package setup

import (
	"strings"

	"dorvet/internal/app"
	"dorvet/internal/app/registry"
	"dorvet/internal/store"
)

func proposalTextKind() registry.AnyKind {
	type P = store.ProposalText
	d := &registry.Definition[P]{
		Kind: registry.Kind{Name: "proposal-texts", One: "kept text", Many: "kept texts",
			First: []string{"name", "purpose", "text"},
			About: "Terms, openings, mails and what comes after signing, for proposals; openings, closings and notes, for " +
				"invoices. On proposals, names in braces, like {client}, are filled in, and the first of a purpose is what a new one " +
				"begins with."},
		Table: registry.Group("Text", registry.Line("name", "Name", func(p *P) *string { return &p.Name }).Required(),
			registry.Choice("purpose", "For", func(p *P) *string { return &p.Purpose }, "terms", "terms", "opening_new",
				"opening, for new clients",
				"opening_known", "opening, for known clients",
				"after_signing", "after signing", "mail", "the mail", "invoice_opening", "opening of an invoice", "invoice_closing",
				"closing of an invoice", "invoice_note", "note on an invoice").Listed(),
			registry.Lines("text", "Text", func(p *P) *string { return &p.Text }).Required().Hinted("{client} {address} {firm} {lead} {title} "+
				"{number} {start} {term} {valid_until} {payment_terms} {contact} {link}"),
			registry.Lines("note", "Note to whoever writes", func(p *P) *string { return &p.Note }).Hinted("no client reads it")),
		Blank:  func(*registry.Env) (P, error) { return P{Purpose: "terms", Active: true}, nil },
		Active: func(p *P) *bool { return &p.Active },
	}
	return d.Ready()
}

func questionnaireKind() registry.AnyKind {
	type Q = store.Questionnaire
	d := &registry.Definition[Q]{
		Kind: registry.Kind{Name: "questionnaires", One: "questionnaire", Many: "questionnaires", First: []string{"name", "questions"},
			About: "Questions that a client answers through a link, without an account. After > stands the field of the client to which " +
				"an answer is offered."},
		Table: registry.Group("Questionnaire", registry.Line("name", "Name", func(q *Q) *string { return &q.Name }).Required(),
			registry.Lines("opening", "Opening text", func(q *Q) *string { return &q.Opening }),
			registry.Lines("questions", "Questions, one a line",
				func(q *Q) *string { return &q.Questions }).Required().Hinted("like: Registered address > address")),
		Blank:  func(*registry.Env) (Q, error) { return Q{Active: true}, nil },
		Check:  checkQuestions,
		Active: func(q *Q) *bool { return &q.Active },
	}
	return d.Ready()
}

// checkQuestions refuses a question whose answer belongs to no field of a client.
func checkQuestions(e *registry.Env, q *store.Questionnaire) error {
	fields, err := answerable(e)
	if err != nil {
		return err
	}
	for _, question := range readQuestions(q.Questions) {
		if question.Field != "" && fields[question.Field] == "" {
			return app.RefuseField("questions", "Clients have no field %q: take one of %s, or leave > away.", question.Field,
				strings.Join(sortedKeys(fields), ", "))
		}
	}
	return nil
}
