package receivables

import (
	"context"
	"strconv"
	"strings"

	core "dorvet/core/delivery"

	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/core/receivable"
	"dorvet/core/wording"
	"dorvet/internal/app"
	"dorvet/internal/app/delivery"
	"dorvet/internal/app/papers"
	"dorvet/internal/store"
)

// Lettering is a letter to a client that brings no invoice: a deposit request, a statement of account, or a reminder of what is late.
type Lettering struct {
	Kind     core.Kind         `json:"kind" enum:"deposit,statement,reminder"`
	ID       int64             `json:"id" doc:"of the deposit request, or of the client"`
	EntityID int64             `json:"entityId" doc:"0: that of the client's last invoice, or the only one"`
	Currency money.Currency    `json:"currency" maxLength:"3" doc:"nothing: the client's"`
	Tone     string            `json:"tone" enum:",plain,warm,firm" doc:"nothing: as the profile says"`
	Sending  delivery.Handover `json:"sending"`
}

// PreviewLetter shows a letter as it would go out.
func PreviewLetter(ctx context.Context, a *app.App, actor app.Actor, l Lettering) ([]delivery.Letter, error) {
	return delivery.PreviewParcel(ctx, a, actor, l.Sending, func(tx *store.DB) (*delivery.Parcel, error) { return l.parcel(a, tx) })
}

// SendLetter sends a letter, or notes that it is to be printed or posted. A reminder counts for the plan as well: nobody is asked twice
// for the same.
func SendLetter(ctx context.Context, a *app.App, r app.Request, l Lettering) (delivery.Sent, error) {
	return delivery.SendParcel(ctx, a, r, l, l.Sending, func(tx *app.Tx) (*delivery.Parcel, error) {
		p, err := l.parcel(a, tx.DB)
		if err == nil && l.Kind == core.Reminder {
			err = note(tx, p, nil)
		}
		return p, err
	})
}

// StatementFile is the statement of a client's account as it is now.
func StatementFile(ctx context.Context, a *app.App, actor app.Actor, clientID, entityID int64, currency money.Currency) (name string, content []byte,
	err error) {
	tx := a.Read(ctx, actor)
	account, err := accountFor(tx, clientID, entityID, currency, nil)
	if err != nil {
		return "", nil, err
	}
	return StatementIn(a, tx, account)
}

func (l Lettering) parcel(a *app.App, tx *store.DB) (p *delivery.Parcel, err error) {
	switch l.Kind {
	case core.Deposit:
		p, err = depositParcel(a, tx, l.ID)
	case core.Statement, core.Reminder:
		p, err = l.accountParcel(a, tx)
	default:
		err = app.RefuseField("kind", "%q is no letter that can be sent here: choose a deposit request, a statement or a reminder.", l.Kind)
	}
	if err == nil {
		p.Kind, p.Tone = l.Kind, l.Tone
	}
	return p, err
}

func depositParcel(a *app.App, tx *store.DB, id int64) (*delivery.Parcel, error) {
	row, err := store.Get[store.DepositRequest](tx, id)
	if err != nil {
		return nil, app.Missing(err, "deposit request")
	}
	client, err := store.Get[store.Client](tx, row.ClientID)
	if err != nil {
		return nil, err
	}
	doc, err := requestDocument(tx, row)
	if err != nil {
		return nil, err
	}
	w := doc.Words()
	p := &delivery.Parcel{EntityID: row.EntityID, ClientID: row.ClientID, Client: client.Name, Name: row.NumberText, Words: w, DepositID: &row.ID,
		Values: map[string]string{"number": row.NumberText, "dated": w.Day(row.Dated), "due": w.Day(row.DueDay), "what": row.Text,
			"amount": w.Money(money.Amount{Minor: row.Amount, Currency: row.Currency})},
		Files: []delivery.Made{{Name: requestName(row, doc), Content: func() ([]byte, error) { return papers.Drawn(a, doc) }}}}
	if row.EngagementID != nil {
		p.Engagements = []int64{*row.EngagementID}
	}
	if row.State != "open" {
		p.Problem = row.NumberText + " is " + row.State + ": there is nothing to ask for any more."
	}
	return p, nil
}

// accountParcel is a letter about the account of a client.
func (l Lettering) accountParcel(a *app.App, tx *store.DB) (*delivery.Parcel, error) {
	account, err := accountFor(tx, l.ID, l.EntityID, l.Currency, nil)
	if err != nil {
		return nil, err
	}
	today := a.Clock.Today()
	s, err := statementOf(tx, account, today)
	if err != nil {
		return nil, err
	}
	client, err := store.Get[store.Client](tx, account.ClientID)
	if err != nil {
		return nil, err
	}
	doc, err := s.document(tx)
	if err != nil {
		return nil, err
	}
	p := &delivery.Parcel{EntityID: account.EntityID, ClientID: account.ClientID, Client: client.Name, Words: doc.Words()}
	if l.Kind == core.Reminder {
		over, err := passingOver(tx, []int64{account.ClientID}, today)
		if err != nil {
			return nil, err
		}
		if err := s.remind(tx, p, today, over, nil); err != nil {
			return nil, err
		}
		off, err := remindersOff(tx, []int64{account.ClientID})
		if err == nil && off(account.ClientID) {
			p.Problem = "Reminders to " + client.Name + " are off, by their profile or their own wish: write to them yourself."
		}
		return p, err
	}
	w := doc.Words()
	late, err := s.Owing.Ages.Late()
	if err != nil {
		return nil, err
	}
	p.Name = "Statement of " + today.Long()
	p.Values = map[string]string{"dated": w.Day(today), "amount": w.Money(doc.Totals.Due), "late": w.Money(late)}
	p.Files = []delivery.Made{{Name: s.fileName(doc), Content: func() ([]byte, error) { return papers.Drawn(a, doc) }}}
	if len(s.Open) == 0 && s.Credit.IsZero() {
		p.Problem = "Nothing is open between us: there is nothing to state."
	}
	return p, nil
}

// remind says in a parcel what is asked for: all that is late but for what is passed over, and of the rest the
// instalments that a plan moves on before they are due.
func (s *Statement) remind(tx *store.DB, p *delivery.Parcel, today day.Day, over passing, soon map[int64]bool) error {
	asked, sum, passed := []store.OpenInstalment{}, s.amount(0), ""
	for i := range s.Open {
		row := &s.Open[i]
		why := over.why(row, today)
		switch {
		case row.DueDay >= today && !soon[row.ID] || row.Open <= row.Aside:
		case why != "":
			passed += " " + row.NumberText + ": " + why + "."
		default:
			asked, sum.Minor = append(asked, *row), sum.Minor+row.Open-row.Aside
		}
	}
	p.Late = map[int64]int{}
	for i := range asked { // by due day: the oldest of each invoice comes first
		if _, known := p.Late[asked[i].InvoiceID]; !known {
			p.Late[asked[i].InvoiceID] = receivable.DaysLate(asked[i].DueDay, today)
		}
	}
	if err := s.invoices(tx, p, asked); err != nil {
		return err
	}
	list := []string{}
	for i := range asked {
		place := 0
		for place < len(p.Invoices) && p.Invoices[place].ID != asked[i].InvoiceID {
			place++
		}
		list = append(list, s.said(p.Words, &asked[i])+": "+p.Words.Money(s.amount(asked[i].Open-asked[i].Aside))+
			"\n{"+delivery.Mark(len(p.Invoices), place)+"}")
	}
	p.Name = "Reminder of " + today.Long()
	p.Values = map[string]string{"dated": p.Words.Day(today), "amount": p.Words.Money(sum), "list": strings.Join(list, "\n"),
		"count": strconv.Itoa(len(asked)), "late": p.Words.Money(sum)}
	switch held := over.clients[s.Account.ClientID]; {
	case held != "":
		p.Problem = wording.Capital(held) + ": lift that first."
	case len(asked) == 0:
		p.Problem = "Nothing is late that could be asked for: what is disputed or promised is left alone." + passed
	}
	return nil
}

// invoices are those that a letter is about, each once.
func (s *Statement) invoices(tx *store.DB, p *delivery.Parcel, of []store.OpenInstalment) error {
	seen := map[int64]bool{}
	for _, row := range of {
		if seen[row.InvoiceID] {
			continue
		}
		seen[row.InvoiceID] = true
		inv, err := papers.Visible(tx, row.InvoiceID)
		if err != nil {
			return err
		}
		p.Invoices = append(p.Invoices, *inv)
	}
	return nil
}
