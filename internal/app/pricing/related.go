package pricing

import (
	"encoding/json"
	"time"

	core "dorvet/core/pricing"

	"dorvet/core/day"
	"dorvet/core/explain"
	"dorvet/core/money"
	"dorvet/internal/app/profiles"
	"dorvet/internal/store"
)

// AnswerView is the answer to a proposal, with what it made.
type AnswerView struct {
	Accepted    bool           `json:"accepted"`
	Name        string         `json:"name"`
	Mail        string         `json:"mail"`
	At          time.Time      `json:"at"`
	Day         day.Day        `json:"day"`
	Address     string         `json:"address" doc:"from which it was signed"`
	Reason      string         `json:"reason"`
	Evidence    string         `json:"evidence"`
	Proof       string         `json:"proof" doc:"the name of the file of evidence, if there is one"`
	RecordedBy  string         `json:"recordedBy"`
	Tier        string         `json:"tier"`
	Options     []string       `json:"options"`
	Way         string         `json:"way"`
	Document    bool           `json:"document"`
	Engagements []MadeWork     `json:"engagements"`
	FirstYear   *explain.Total `json:"firstYear,omitempty" doc:"what was agreed, net"`
	Once        money.Amount   `json:"once" doc:"agreed to be billed once, and not billed yet; net"`
}

// agreed is the first year, net, of what was chosen of an offer on a day.
func (b *proposalContext) agreed(o core.Offer, choice core.Choice, on day.Day) (*explain.Total, error) {
	s, err := b.setting(o, on)
	if err != nil {
		return nil, err
	}
	r, err := core.Compute(o, choice, s)
	if err != nil {
		return nil, err
	}
	return &explain.Total{Amount: r.FirstYear.Net, Explanation: o.Explain("First year", r.FirstYear)}, nil
}

// MadeWork is an engagement that an acceptance made.
type MadeWork struct {
	ID   int64  `json:"id"`
	Name string `json:"name"`
}

// QuestionView is a question of the client's.
type QuestionView struct {
	ID      int64     `json:"id"`
	Version int64     `json:"version"`
	Name    string    `json:"name"`
	Text    string    `json:"text"`
	At      time.Time `json:"at"`
	Answer  string    `json:"answer"`
}

// LinkView is a link that was made.
type LinkView struct {
	Name    string     `json:"name"`
	Mail    string     `json:"mail"`
	MadeAt  time.Time  `json:"madeAt"`
	SeenAt  *time.Time `json:"seenAt,omitempty"`
	Ended   bool       `json:"ended"`
	Expires time.Time  `json:"expires"`
}

// MailView is a mail about a proposal.
type MailView struct {
	ID      int64      `json:"id"`
	To      string     `json:"to"`
	Subject string     `json:"subject"`
	State   string     `json:"state" enum:"queued,sent,failed"`
	Problem string     `json:"problem"`
	SentAt  *time.Time `json:"sentAt,omitempty"`
}

// around reads what stands around a proposal: answer, questions, links, mails.
func (b *proposalContext) related(p *store.Proposal, client *store.Client, v *Proposal) error {
	v.Questions, v.Passings, v.Links, v.Mails, v.Contacts = []QuestionView{}, []Passing{}, []LinkView{}, []MailView{}, []ContactView{}
	var err error
	if v.TaxCodes, err = profiles.TaxChoices(b.tx, b.today); err != nil {
		return err
	}
	if v.ReplacedBy, err = store.ReplacedBy(b.tx, p.ID); err != nil {
		return err
	}
	if v.Answer, err = b.answerView(p); err != nil {
		return err
	}
	questions, err := store.QuestionsOn(b.tx, p.ID)
	if err != nil {
		return err
	}
	for _, q := range questions {
		v.Questions = append(v.Questions, QuestionView{q.ID, q.Version, q.Name, q.Text, q.At, q.Answer})
	}
	passings, err := store.PassingsOf(b.tx, p.ID)
	if err != nil {
		return err
	}
	for _, w := range passings {
		v.Passings = append(v.Passings, Passing{w.ID, w.Version, w.ByName, w.Name, w.Mail, w.Word, w.At})
	}
	links, err := store.LinksTo(b.tx, store.ForProposal, p.ID)
	if err != nil {
		return err
	}
	for _, l := range links {
		v.Links = append(v.Links, LinkView{l.Name, l.Mail, l.MadeAt, l.SeenAt, l.WithdrawnAt != nil, l.ExpiresAt})
	}
	mails, err := store.MailList(b.tx, p.ID, 0, 50)
	if err != nil {
		return err
	}
	for _, m := range mails {
		v.Mails = append(v.Mails, MailView{m.ID, m.ToMail, m.Subject, m.State, m.Problem, m.SentAt})
	}
	v.Contacts, err = b.contacts(client)
	return err
}

func (b *proposalContext) contacts(client *store.Client) ([]ContactView, error) {
	all := []ContactView{}
	contacts, err := store.ContactsOf(b.tx, client.ID)
	for _, c := range contacts {
		if c.GetsProposals && c.Mail != "" {
			all = append(all, ContactView{c.Name, c.Mail})
		}
	}
	if client.Mail != "" {
		all = append(all, ContactView{client.Name, client.Mail})
	}
	return all, err
}

func (b *proposalContext) answerView(p *store.Proposal) (*AnswerView, error) {
	a, err := store.AnswerOf(b.tx, p.ID)
	if err != nil || a == nil {
		return nil, err
	}
	c, err := readContent(a.Content)
	if err != nil {
		return nil, err
	}
	v := &AnswerView{Accepted: a.Accepted, Name: a.Name, Mail: a.Mail, At: a.At, Day: a.Day, Address: a.Address, Reason: a.Reason,
		Evidence: a.Evidence, Proof: a.EvidenceName,
		Document: a.Document != "", Options: []string{}, Engagements: []MadeWork{}, Once: money.Zero(p.Currency)}
	if a.PersonID != nil {
		person, err := store.Get[store.Person](b.tx, *a.PersonID)
		if err != nil {
			return nil, err
		}
		v.RecordedBy = person.Name
	}
	if !a.Accepted {
		return v, nil
	}
	choice := core.Choice{}
	if err := json.Unmarshal([]byte(a.Choice), &choice); err != nil {
		return nil, err
	}
	if v.FirstYear, err = b.agreed(c.Offer, choice, a.Day); err != nil {
		return nil, err
	}
	v.Tier = c.Offer.Tiers[choice.Tier].Name
	for _, i := range choice.Options {
		v.Options = append(v.Options, c.Offer.Lines[i].Description)
	}
	if v.Way, err = paymentMethodWords(b.tx, a.PaymentMethodID); err != nil {
		return nil, err
	}
	made, err := store.EngagementsFrom(b.tx, p.ID)
	if err != nil {
		return nil, err
	}
	ids := []int64{}
	for _, g := range made {
		v.Engagements, ids = append(v.Engagements, MadeWork{g.ID, g.Name}), append(ids, g.ID)
	}
	planned, err := store.PlannedCharges(b.tx, ids)
	for _, charge := range planned {
		if charge.Kind != "recurring" && charge.Kind != "deposit" && !charge.Paused {
			v.Once.Minor += charge.Amount
		}
	}
	return v, err
}
