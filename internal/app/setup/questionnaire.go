package setup

import (
	"context"
	"encoding/json"
	"fmt"
	"maps"
	"slices"
	"strings"
	"time"

	"dorvet/core/profile"
	"dorvet/internal/app"
	"dorvet/internal/app/correspondence"
	"dorvet/internal/app/registry"
	"dorvet/internal/store"
)

// Question is a question of a questionnaire; an answer is offered to a field of
// the client, if it names one.
type Question struct {
	Text  string `json:"text"`
	Field string `json:"field,omitempty"`
}

func readQuestions(text string) []Question {
	questions := []Question{}
	for _, row := range strings.Split(text, "\n") {
		question, field, _ := strings.Cut(row, ">")
		if question = strings.TrimSpace(question); question != "" {
			questions = append(questions, Question{question, strings.TrimSpace(field)})
		}
	}
	return questions
}

// answerable are the fields of a client that a client's own words can fill, with
// their labels.
func answerable(e *registry.Env) (map[string]string, error) {
	fields, err := registry.AllFields(e, registry.KindOf("clients"))
	found := map[string]string{}
	for _, f := range fields {
		_, layered := profile.Named(f.Name)
		if !layered && !f.Set && !f.Fixed && (f.Form == string(profile.Line) || f.Form == string(profile.Lines)) && f.Name != "currency" {
			found[f.Name] = f.Label
		}
	}
	return found, err
}

func sortedKeys(m map[string]string) []string { return slices.Sorted(maps.Keys(m)) }

// questionnaireLife is how long a client can answer.
const questionnaireLife = 60 * 24 * time.Hour

// Asking says who is asked which questions.
type Asking struct {
	ClientID        int64  `json:"clientId" minimum:"1"`
	QuestionnaireID int64  `json:"questionnaireId" minimum:"1"`
	Name            string `json:"name" maxLength:"200" doc:"of whoever answers"`
	Mail            string `json:"mail" maxLength:"200" doc:"empty: only a link is made"`
}

// AskedClient is the link, where it is to be given by hand.
type AskedClient struct {
	Link string `json:"link,omitempty"`
}

// HasSecret implements app.Secretive.
func (a AskedClient) HasSecret() bool { return a.Link != "" }

// AskClient sends a questionnaire to a client: by mail, or by a link to be given
// by hand.
func AskClient(ctx context.Context, a *app.App, r app.Request, asking Asking) (AskedClient, error) {
	return app.Do(ctx, a, r, "ask client", asking, func(tx *app.Tx) (AskedClient, error) {
		client, err := store.Get[store.Client](tx.DB, asking.ClientID)
		if err != nil {
			return AskedClient{}, app.Missing(err, "client")
		}
		template, err := store.Get[store.Questionnaire](tx.DB, asking.QuestionnaireID)
		if err != nil {
			return AskedClient{}, app.Missing(err, "questionnaire")
		}
		sent := &store.ClientQuestionnaire{ClientID: client.ID, Name: template.Name, Opening: template.Opening,
			Questions: template.Questions,
			SentAt:    tx.Now}
		if err := store.Insert(tx.DB, sent); err != nil {
			return AskedClient{}, err
		}
		tx.LinkTo("clients", client.ID)
		end := tx.Now.Add(questionnaireLife)
		if strings.TrimSpace(asking.Mail) == "" {
			tx.Describe(nil, nil, "Made a link to the questionnaire %s for %s", template.Name, client.Name)
			link, err := correspondence.MakeLink(a, tx.DB, &store.Link{Purpose: store.ForQuestionnaire, SubjectID: sent.ID, Name: asking.Name,
				ExpiresAt: end})
			return AskedClient{link}, err
		}
		firm, err := store.TheFirm(tx.DB)
		if err != nil {
			return AskedClient{}, err
		}
		tx.Describe(nil, nil, "Sent the questionnaire %s to %s", template.Name, asking.Mail)
		return AskedClient{}, correspondence.Queue(tx, store.Mail{Kind: "questionnaire", ClientID: &client.ID, ToName: asking.Name, ToMail: asking.Mail,
			Subject: "A few questions from " + firm.Name,
			Body: fmt.Sprintf("Dear %s,\n\n%s\n\nPlease answer here: {link}\n\nKind regards\n%s\n", nameOr(asking.Name, client.Name),
				template.Opening, firm.Name),
			Links: correspondence.OneLink(store.ForQuestionnaire, sent.ID, end)})
	})
}

func nameOr(name, other string) string {
	if name != "" {
		return name
	}
	return other
}

// QuestionPage is a questionnaire as the client sees it. It never has what was
// answered: its link can write, not read.
type QuestionPage struct {
	Firm      string   `json:"firm"`
	For       string   `json:"for"`
	Name      string   `json:"name"`
	Opening   string   `json:"opening"`
	Questions []string `json:"questions"`
	Answered  bool     `json:"answered"`
}

// ReadQuestions shows a questionnaire to whoever holds its link.
func ReadQuestions(ctx context.Context, a *app.App, secret string) (*QuestionPage, error) {
	tx := a.Store.Read(ctx, store.Everything)
	link, err := correspondence.OpenLink(a, tx, store.ForQuestionnaire, secret)
	if err != nil {
		return nil, err
	}
	sent, err := store.Get[store.ClientQuestionnaire](tx, link.SubjectID)
	if err != nil {
		return nil, err
	}
	client, err := store.Get[store.Client](tx, sent.ClientID)
	if err != nil {
		return nil, err
	}
	firm, err := store.TheFirm(tx)
	page := &QuestionPage{Firm: firm.Name, For: client.Name, Name: sent.Name, Opening: sent.Opening, Questions: []string{},
		Answered: sent.AnsweredAt != nil}
	for _, q := range readQuestions(sent.Questions) {
		page.Questions = append(page.Questions, q.Text)
	}
	return page, err
}

// AnswerQuestions keeps a client's answers, once, and tells who cares for the client. They
// go into the fields that they are for where nothing stands yet; elsewhere they are offered.
func AnswerQuestions(ctx context.Context, a *app.App, secret string, answers []string) error {
	link, err := correspondence.OpenLink(a, a.Store.Read(ctx, store.Everything), store.ForQuestionnaire, secret)
	if err != nil {
		return err
	}
	r := app.Request{Actor: app.Actor{Outsider: nameOr(link.Name, "the client")}}
	_, err = app.Do(ctx, a, r, "answer questionnaire", nil, func(tx *app.Tx) (struct{}, error) {
		link, err := correspondence.OpenLink(a, tx.DB, store.ForQuestionnaire, secret)
		if err != nil {
			return struct{}{}, err
		}
		sent, err := store.Get[store.ClientQuestionnaire](tx.DB, link.SubjectID)
		if err != nil {
			return struct{}{}, err
		}
		if sent.AnsweredAt != nil {
			return struct{}{}, app.Refuse(app.Conflict, "These questions were answered already. If something has changed, "+
				"tell whoever sent them.")
		}
		questions := readQuestions(sent.Questions)
		if len(answers) != len(questions) {
			return struct{}{}, app.Refuse(app.Invalid, "There are %d questions and %d answers: load the page again.", len(questions),
				len(answers))
		}
		client, err := store.Get[store.Client](tx.DB, sent.ClientID)
		if err != nil {
			return struct{}{}, err
		}
		text, err := json.Marshal(answers)
		if err != nil {
			return struct{}{}, err
		}
		sent.Answers, sent.AnsweredAt = string(text), &tx.Now
		said := map[string]string{}
		for i, q := range questions {
			if q.Field != "" {
				said[q.Field] = answers[i]
			}
		}
		filled, err := registry.Fill(tx, "clients", client.ID, said)
		if err != nil {
			return struct{}{}, err
		}
		tx.Describe(nil, filled, "Answered the questionnaire %s", sent.Name)
		if len(filled) > 0 {
			tx.AddAside("which filled " + strings.ToLower(strings.Join(filled, ", ")))
		}
		tx.LinkTo("clients", client.ID)
		if client.ResponsibleID != nil {
			tx.Notify(*client.ResponsibleID, nil, "%s has answered the questionnaire %s.", client.Name, sent.Name)
		}
		return struct{}{}, store.Save(tx.DB, sent)
	})
	return err
}

// AskedQuestions is a questionnaire that was sent, with its answers.
type AskedQuestions struct {
	ID         int64         `json:"id"`
	Version    int64         `json:"version"`
	Name       string        `json:"name"`
	SentAt     time.Time     `json:"sentAt"`
	AnsweredAt *time.Time    `json:"answeredAt,omitempty"`
	Answers    []AnswerOffer `json:"answers"`
}

// AnswerOffer is an answer, and the field of the client to which it is offered.
type AnswerOffer struct {
	Question string `json:"question"`
	Answer   string `json:"answer"`
	Field    string `json:"field"`
	Label    string `json:"label" doc:"of the field"`
	Now      string `json:"now" doc:"what the field says"`
}

// Questionnaires lists what a client was asked, with answers beside the fields to
// which they belong.
func Questionnaires(ctx context.Context, a *app.App, actor app.Actor, clientID int64) ([]AskedQuestions, error) {
	_, e, err := registry.Reading(ctx, a, actor, "clients")
	if err != nil {
		return nil, err
	}
	r, err := registry.KindOf("clients").Open(e, clientID)
	if err != nil {
		return nil, err
	}
	labels, err := answerable(e)
	if err != nil {
		return nil, err
	}
	all, err := store.QuestionnairesOf(e.Tx, clientID)
	asked := []AskedQuestions{}
	for _, q := range all {
		offers, err := offersOf(e, r, q, labels)
		if err != nil {
			return nil, err
		}
		asked = append(asked, AskedQuestions{q.ID, q.Version, q.Name, q.SentAt, q.AnsweredAt, offers})
	}
	return asked, err
}

func offersOf(e *registry.Env, r registry.Record, q store.ClientQuestionnaire, labels map[string]string) ([]AnswerOffer, error) {
	answers := []string{}
	if q.Answers != "" {
		if err := json.Unmarshal([]byte(q.Answers), &answers); err != nil {
			return nil, err
		}
	}
	offers := []AnswerOffer{}
	for i, question := range readQuestions(q.Questions) {
		offer := AnswerOffer{Question: question.Text, Field: question.Field, Label: labels[question.Field]}
		if i < len(answers) {
			offer.Answer = answers[i]
		}
		if offer.Label != "" {
			now, err := registry.ValueOf(e, r, question.Field)
			if err != nil {
				return nil, err
			}
			offer.Now = now
		}
		offers = append(offers, offer)
	}
	return offers, nil
}
