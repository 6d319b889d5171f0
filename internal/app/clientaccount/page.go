package clientaccount

import (
	"cmp"
	"context"
	"slices"
	"time"

	core "dorvet/core/pricing"

	"dorvet/core/day"
	"dorvet/core/invoice"
	"dorvet/core/money"
	"dorvet/core/paymentmethod"
	"dorvet/core/wording"
	"dorvet/internal/app"
	"dorvet/internal/app/delivery"
	"dorvet/internal/app/papers"
	"dorvet/internal/app/receivables"
	"dorvet/internal/store"
)

// ClientAccount is all that a client has with the firm, in their language, as far as whoever looks at it receives it. Figures are text.
type ClientAccount struct {
	Firm           string                 `json:"firm"`
	Colour         string                 `json:"colour"`
	Logo           string                 `json:"logo" doc:"as a data URL, or nothing"`
	Mail           string                 `json:"mail"`
	Language       string                 `json:"language"`
	Client         string                 `json:"client"`
	Name           string                 `json:"name" doc:"of whoever looks at it"`
	Accounts       []AccountBalance       `json:"accounts" doc:"by issuing entity and currency"`
	Open           []AccountInvoice       `json:"open" doc:"the first due first"`
	Settled        []AccountInvoice       `json:"settled" doc:"the last first"`
	Deposits       []AccountDeposit       `json:"deposits" doc:"asked for and not all received"`
	Held           []AccountFunds         `json:"held" doc:"money held"`
	Proposals      []AccountProposal      `json:"proposals" doc:"to be answered"`
	Agreements     []AccountAgreement     `json:"agreements"`
	Ways           []AccountWay           `json:"ways" doc:"of paying, that whoever looks at it has kept"`
	Questionnaires []AccountQuestionnaire `json:"questionnaires" doc:"to be answered"`
}

// AccountBalance is how a client stands with an issuing entity in a currency.
type AccountBalance struct {
	EntityID int64          `json:"entityId"`
	Currency money.Currency `json:"currency"`
	Entity   string         `json:"entity"`
	Balance  string         `json:"balance" doc:"owed, less credit"`
	Late     string         `json:"late" doc:"nothing: none of it"`
}

// AccountInvoice is one in a list; its page opens from there.
type AccountInvoice struct {
	ID     int64  `json:"id"`
	Number string `json:"number"`
	What   string `json:"what" doc:"the engagements on it"`
	Dated  string `json:"dated"`
	Due    string `json:"due" doc:"of what is open: the first"`
	Total  string `json:"total"`
	Open   string `json:"open" doc:"nothing: settled"`
	Late   bool   `json:"late"`
	Credit bool   `json:"credit" doc:"it is a credit note"`
}

// AccountDeposit is money that is asked for ahead.
type AccountDeposit struct {
	Number string `json:"number"`
	Text   string `json:"text"`
	Amount string `json:"amount"`
	Due    string `json:"due"`
}

// AccountFunds is money with what it is for.
type AccountFunds struct {
	What   string `json:"what"`
	Amount string `json:"amount"`
}

// AccountProposal is one that waits for an answer; its page opens from there.
type AccountProposal struct {
	ID    int64  `json:"id"`
	Title string `json:"title"`
	Until string `json:"until"`
}

// AccountAgreement is an engagement that was agreed, with the bills that will come of it.
type AccountAgreement struct {
	Title string        `json:"title"`
	Bills []AccountBill `json:"bills"`
}

// AccountBill is one that is planned, before tax.
type AccountBill struct {
	Day    string `json:"day" doc:"nothing: when what it waits for is reached"`
	Text   string `json:"text"`
	Amount string `json:"amount"`
}

// AccountWay is a way of paying that was kept.
type AccountWay struct {
	ID    int64  `json:"id"`
	Words string `json:"words"`
	Since string `json:"since"`
}

// AccountQuestionnaire is one that waits for answers; its page opens from there.
type AccountQuestionnaire struct {
	ID   int64  `json:"id"`
	Name string `json:"name"`
}

// mostSettled is how many settled invoices are shown.
const mostSettled = 200

// Read shows an account that is open. It changes nothing.
func Read(ctx context.Context, a *app.App, secret string) (*ClientAccount, error) {
	tx := a.Store.Read(ctx, store.Everything)
	s, err := openSession(a, tx, secret)
	if err != nil {
		return nil, err
	}
	firm, err := store.TheFirm(tx)
	if err != nil {
		return nil, err
	}
	w, colour, err := papers.WordsFor(tx, s.client.ID)
	if err != nil {
		return nil, err
	}
	p := &ClientAccount{Firm: firm.Name, Colour: colour, Language: string(w.Language.Known()), Client: s.client.InvoiceName, Name: s.name,
		Accounts: []AccountBalance{}, Open: []AccountInvoice{}, Settled: []AccountInvoice{}, Deposits: []AccountDeposit{},
		Held: []AccountFunds{}, Proposals: []AccountProposal{}, Agreements: []AccountAgreement{}, Ways: []AccountWay{}, Questionnaires: []AccountQuestionnaire{}}
	if p.Logo, err = delivery.LogoOf(a, firm); err != nil {
		return nil, err
	}
	for _, add := range []func(*app.App, *store.DB, *ClientAccount, wording.Words) error{s.addInvoices, s.addAccounts, s.addMoney, s.addProposals,
		s.addAgreements, s.addQuestionnaires} {
		if err := add(a, tx, p, w); err != nil {
			return nil, err
		}
	}
	return p, nil
}

func (s *session) addInvoices(a *app.App, tx *store.DB, p *ClientAccount, w wording.Words) error {
	if !s.invoices {
		return nil
	}
	rows, err := s.issued(tx)
	if err != nil {
		return err
	}
	today := a.Clock.Today()
	for i := range rows {
		r := &rows[i]
		shown := AccountInvoice{ID: r.ID, Number: r.NumberText, What: r.Engagements, Dated: w.Day(r.Dated), Total: w.Money(r.Amount(r.Total)),
			Credit: r.Kind == invoice.CreditNote}
		if r.Open > 0 {
			shown.Open, shown.Due, shown.Late = w.Money(r.Amount(r.Open)), w.Day(r.NextDue), r.NextDue < today
			p.Open = append(p.Open, shown)
		} else if len(p.Settled) < mostSettled {
			p.Settled = append(p.Settled, shown)
		}
	}
	return nil
}

// issued are the invoices that the reader may see: open ones by due day, then the others, the last first.
func (s *session) issued(tx *store.DB) ([]store.InvoiceRow, error) {
	rows, err := store.Invoices(tx, store.InvoiceFilter{ClientID: s.client.ID, States: invoice.IssuedStates}, "i.dated DESC, i.id DESC")
	if err != nil {
		return nil, err
	}
	seen := []store.InvoiceRow{}
	for i := range rows {
		engagements, err := store.EngagementsOf(tx, rows[i].ID)
		if err != nil {
			return nil, err
		}
		if rows[i].Kind != invoice.Opening && s.sees(engagements) {
			seen = append(seen, rows[i])
		}
	}
	slices.SortStableFunc(seen, func(a, b store.InvoiceRow) int { return cmp.Compare(openSince(&a), openSince(&b)) })
	return seen, nil
}

// openSince is the day from which something is to be paid; what is settled comes after all that is not.
func openSince(inv *store.InvoiceRow) day.Day {
	if inv.Open > 0 {
		return inv.NextDue
	}
	return day.Last
}

func (s *session) addAccounts(a *app.App, tx *store.DB, p *ClientAccount, w wording.Words) error {
	if !s.statements || s.engagements != nil {
		return nil
	}
	standing, err := receivables.AccountsOf(tx, s.client.ID, a.Clock.Today())
	for _, one := range standing {
		shown := AccountBalance{EntityID: one.Account.EntityID, Currency: one.Account.Currency, Entity: one.Entity, Balance: w.Money(one.Balance)}
		if one.Late.Minor > 0 {
			shown.Late = w.Money(one.Late)
		}
		p.Accounts = append(p.Accounts, shown)
	}
	return err
}

// addMoney adds what is asked for ahead, what is held, and how the reader pays.
func (s *session) addMoney(_ *app.App, tx *store.DB, p *ClientAccount, w wording.Words) error {
	if !s.invoices {
		return nil
	}
	requests, err := store.Requests(tx, s.client.ID)
	if err != nil {
		return err
	}
	for i := range requests {
		if r := &requests[i]; r.State == "open" && s.sees(some(r.EngagementID)) {
			p.Deposits = append(p.Deposits, AccountDeposit{r.NumberText, r.Text, w.Money(money.Amount{Minor: r.Amount - r.Received, Currency: r.Currency}),
				w.Day(r.DueDay)})
		}
	}
	held, err := store.FundsHeld(tx, []int64{s.client.ID})
	if err != nil {
		return err
	}
	for i := range held {
		if f := &held[i]; f.Held > 0 && s.sees(some(f.EngagementID)) {
			p.Held = append(p.Held, AccountFunds{cmp.Or(f.Engagement, s.client.InvoiceName), w.Money(money.Amount{Minor: f.Held, Currency: f.Currency})})
		}
	}
	methods, err := store.KeptMethods(tx, s.client.ID, s.mail)
	for _, m := range methods {
		p.Ways = append(p.Ways, AccountWay{m.ID, paymentmethod.Words(m.Kind, m.LastFour), w.Day(day.In(m.At, time.UTC))})
	}
	return err
}

func some(id *int64) []int64 {
	if id == nil {
		return nil
	}
	return []int64{*id}
}

func (s *session) addProposals(a *app.App, tx *store.DB, p *ClientAccount, w wording.Words) error {
	rows, err := s.toAnswer(a, tx)
	for _, r := range rows {
		p.Proposals = append(p.Proposals, AccountProposal{r.ID, r.Title, w.Day(r.ValidUntil)})
	}
	return err
}

// toAnswer are the proposals that wait for an answer of the client's.
func (s *session) toAnswer(a *app.App, tx *store.DB) ([]store.Proposal, error) {
	if !s.proposals || s.engagements != nil {
		return nil, nil
	}
	rows, err := store.Proposals(tx, s.client.ID)
	out := []store.Proposal{}
	for i := range rows {
		if p := rows[i].Proposal; p.State.On(a.Clock.Today(), p.ValidUntil).IsOut() {
			out = append(out, p)
		}
	}
	return out, err
}

// addAgreements adds what was agreed, with the bills that are still to come.
func (s *session) addAgreements(_ *app.App, tx *store.DB, p *ClientAccount, w wording.Words) error {
	if !s.proposals {
		return nil
	}
	rows, err := store.Proposals(tx, s.client.ID)
	if err != nil {
		return err
	}
	for i := range rows {
		if rows[i].State != core.Accepted {
			continue
		}
		engagements, err := store.EngagementsFrom(tx, rows[i].ID)
		if err != nil {
			return err
		}
		for _, e := range engagements {
			if !e.Active || !s.sees([]int64{e.ID}) {
				continue
			}
			agreed := AccountAgreement{Title: e.Name, Bills: []AccountBill{}}
			charges, err := store.PlannedCharges(tx, []int64{e.ID})
			if err != nil {
				return err
			}
			for _, c := range charges {
				agreed.Bills = append(agreed.Bills, AccountBill{dayOrNothing(w, c.BillDay), c.Text, w.Money(money.Amount{Minor: c.Amount, Currency: c.Currency})})
			}
			p.Agreements = append(p.Agreements, agreed)
		}
	}
	return nil
}

func dayOrNothing(w wording.Words, d day.Day) string {
	if d.IsZero() {
		return ""
	}
	return w.Day(d)
}

func (s *session) addQuestionnaires(_ *app.App, tx *store.DB, p *ClientAccount, _ wording.Words) error {
	if s.engagements != nil {
		return nil
	}
	rows, err := store.QuestionnairesOf(tx, s.client.ID)
	for _, q := range rows {
		if q.AnsweredAt == nil {
			p.Questionnaires = append(p.Questionnaires, AccountQuestionnaire{q.ID, q.Name})
		}
	}
	return err
}
