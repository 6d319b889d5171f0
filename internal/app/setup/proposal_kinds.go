package setup

import (
	"strings"

	"dorvet/internal/app"
	"dorvet/internal/store"
)

func proposalTextKind() kind {
	type P = store.ProposalText
	d := &definition[P]{
		Kind: Kind{Name: "proposal-texts", One: "text for proposals", Many: "texts for proposals", First: []string{"name", "purpose", "text"},
			About: "Terms, openings, mails and what comes after signing. Names in braces, like {client}, are filled in; the first of a purpose is what a new proposal begins with."},
		fields: group("Text", line("name", "Name", func(p *P) *string { return &p.Name }).needed(),
			choice("purpose", "For", func(p *P) *string { return &p.Purpose }, "terms", "terms", "opening_new", "opening, for new clients", "opening_known", "opening, for known clients",
				"after_signing", "after signing", "mail", "the mail").column(),
			lines("text", "Text", func(p *P) *string { return &p.Text }).needed().hint("{client} {address} {firm} {lead} {title} {number} {start} {term} {valid_until} {payment_terms} {contact} {link}")),
		blank:  func(*env) (P, error) { return P{Purpose: "terms", Active: true}, nil },
		active: func(p *P) *bool { return &p.Active },
	}
	return d.ready()
}

func questionnaireKind() kind {
	type Q = store.Questionnaire
	d := &definition[Q]{
		Kind: Kind{Name: "questionnaires", One: "questionnaire", Many: "questionnaires", First: []string{"name", "questions"},
			About: "Questions that a client answers through a link, without an account. After > stands the field of the client to which an answer is offered."},
		fields: group("Questionnaire", line("name", "Name", func(q *Q) *string { return &q.Name }).needed(),
			lines("opening", "Opening text", func(q *Q) *string { return &q.Opening }),
			lines("questions", "Questions, one a line", func(q *Q) *string { return &q.Questions }).needed().hint("like: Registered address > address")),
		blank:  func(*env) (Q, error) { return Q{Active: true}, nil },
		check:  checkQuestions,
		active: func(q *Q) *bool { return &q.Active },
	}
	return d.ready()
}

// checkQuestions refuses a question whose answer belongs to no field of a client.
func checkQuestions(e *env, q *store.Questionnaire) error {
	fields, err := answerable(e)
	if err != nil {
		return err
	}
	for _, question := range readQuestions(q.Questions) {
		if question.Field != "" && fields[question.Field] == "" {
			return app.RefuseField("questions", "Clients have no field %q: take one of %s, or leave > away.", question.Field, strings.Join(sortedKeys(fields), ", "))
		}
	}
	return nil
}
