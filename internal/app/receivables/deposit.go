package receivables

import (
	"context"
	"fmt"
	"strings"

	"dorvet/core/day"
	"dorvet/core/invoice"
	"dorvet/core/money"
	"dorvet/core/wording"
	"dorvet/internal/app"
	"dorvet/internal/app/papers"
	"dorvet/internal/app/profiles"
	"dorvet/internal/app/setup"
	"dorvet/internal/store"
)

// TypedRequest asks a client for a deposit, as typed. It is not taxed: what comes
// in is held for the client until a bill takes it.
type TypedRequest struct {
	ClientID     int64          `json:"clientId"`
	EngagementID int64          `json:"engagementId" doc:"0: for the client as such"`
	EntityID     int64          `json:"entityId" doc:"0: that of the engagement, or the only one"`
	ChargeID     int64          `json:"chargeId" doc:"the deposit that a proposal agreed, or 0"`
	Currency     money.Currency `json:"currency" maxLength:"3"`
	Amount       string         `json:"amount" maxLength:"30"`
	Text         string         `json:"text" maxLength:"500"`
	Due          day.Day        `json:"due,omitempty" format:"date" doc:"nothing: at once"`
}

// Request is a deposit that was asked for.
type Request struct {
	ID         int64        `json:"id"`
	Version    int64        `json:"version"`
	Number     string       `json:"number"`
	ClientID   int64        `json:"clientId"`
	Client     string       `json:"client"`
	Engagement string       `json:"engagement"`
	Text       string       `json:"text"`
	Amount     money.Amount `json:"amount"`
	Received   money.Amount `json:"received"`
	Dated      day.Day      `json:"dated"`
	Due        day.Day      `json:"due"`
	DaysLate   int          `json:"daysLate" doc:"0 if it is not"`
	State      string       `json:"state" enum:"open,received,withdrawn"`
}

// RequestDeposit asks for a deposit, with a document to send.
func RequestDeposit(ctx context.Context, a *app.App, r app.Request, in TypedRequest) (*Request, error) {
	return app.Do(ctx, a, r, "request deposit", in, func(tx *app.Tx) (*Request, error) {
		row, err := requested(tx, in)
		if err != nil {
			return nil, err
		}
		asked := money.Amount{Minor: row.Amount, Currency: row.Currency}
		tx.Describe(nil, asked.String(), "Asked for a deposit of %s %s: %s", asked, row.Currency, row.NumberText)
		return requestView(tx, row.ID)
	})
}

// requested asks for a deposit, as part of an act.
func requested(tx *app.Tx, in TypedRequest) (*store.DepositRequest, error) {
	row, err := readRequest(tx, in)
	if err != nil {
		return nil, err
	}
	if row.Number, err = store.NextRequest(tx.DB, row.EntityID); err != nil {
		return nil, err
	}
	row.NumberText = fmt.Sprintf("D%d", row.Number)
	tx.LinkTo("clients", row.ClientID)
	return row, store.Insert(tx.DB, row)
}

func readRequest(tx *app.Tx, in TypedRequest) (*store.DepositRequest, error) {
	row := &store.DepositRequest{Text: strings.TrimSpace(in.Text), Dated: tx.Today, DueDay: max(in.Due, tx.Today), State: "open"}
	if in.ChargeID != 0 {
		if err := ofCharge(tx, &in, row); err != nil {
			return nil, err
		}
	}
	if in.EngagementID != 0 {
		e, err := store.Get[store.Engagement](tx.DB, in.EngagementID)
		if err := app.Unless(err, app.RefuseField("engagementId", "This engagement is not the client's: choose another."),
			func() bool { return !(in.ClientID != 0 && e.ClientID != in.ClientID) }); err != nil {
			return nil, err
		}
		in.ClientID, in.EntityID, in.Currency, row.EngagementID = e.ClientID, e.EntityID, e.Currency, &e.ID
	}
	account, err := accountFor(tx.DB, in.ClientID, in.EntityID, in.Currency, nil)
	if err != nil {
		return nil, err
	}
	row.ClientID, row.EntityID, row.Currency = account.ClientID, account.EntityID, account.Currency
	if row.Amount == 0 {
		if row.Amount, err = setup.MinorUnits(tx.DB, in.Amount, row.Currency); err != nil {
			return nil, app.InField("amount", err)
		}
	}
	if row.Amount <= 0 {
		return nil, app.RefuseField("amount", "Give an amount more than zero.")
	}
	if row.Text == "" {
		row.Text = "Deposit on work to come"
	}
	return row, nil
}

// ofCharge takes the amount and words of a deposit that was agreed.
func ofCharge(tx *app.Tx, in *TypedRequest, row *store.DepositRequest) error {
	charge, err := store.Get[store.Charge](tx.DB, in.ChargeID)
	if err := app.Unless(err, app.Missing(store.ErrNotFound, "deposit"), func() bool { return charge.Kind == "deposit" }); err != nil {
		return err
	}
	reserved, err := store.RequestCharge(tx.DB, charge.ID)
	if err == nil && !reserved {
		err = app.Refuse(app.Conflict, "This deposit is asked for already, or invoiced as an advance.")
	}
	row.ChargeID, row.Amount, in.EngagementID, in.ClientID = &charge.ID, charge.Amount, charge.EngagementID, 0
	if row.Text == "" {
		row.Text = charge.Text
	}
	return err
}

// Withdraw asks for a deposit no more. What came in stays held.
func Withdraw(ctx context.Context, a *app.App, r app.Request, id, version int64) (*Request, error) {
	return app.Do(ctx, a, r, "withdraw request", []int64{id, version}, func(tx *app.Tx) (*Request, error) {
		row, err := store.Get[store.DepositRequest](tx.DB, id)
		if err != nil {
			return nil, app.Missing(err, "deposit request")
		}
		switch {
		case row.Version != version:
			return nil, store.ErrStale
		case row.State != "open":
			return nil, app.Refuse(app.Conflict, "%s is %s: there is nothing to withdraw.", row.NumberText, row.State)
		}
		row.State = "withdrawn"
		if err := store.Save(tx.DB, row); err != nil {
			return nil, err
		}
		if row.ChargeID != nil {
			if err := store.PlanCharge(tx.DB, *row.ChargeID); err != nil {
				return nil, err
			}
		}
		tx.LinkTo("clients", row.ClientID)
		tx.Describe("open", "withdrawn", "Withdrew the deposit request %s", row.NumberText)
		return requestView(tx, id)
	})
}

func requestView(tx *app.Tx, id int64) (*Request, error) {
	rows, err := store.Requests(tx.DB, 0)
	for i := range rows {
		if rows[i].ID == id {
			return requestShown(&rows[i], tx.Today), nil
		}
	}
	return nil, err
}

func requestShown(r *store.RequestRow, today day.Day) *Request {
	view := &Request{ID: r.ID, Version: r.Version, Number: r.NumberText, ClientID: r.ClientID, Client: r.Client, Engagement: r.Engagement,
		Text:   r.Text,
		Amount: money.Amount{Minor: r.Amount, Currency: r.Currency}, Received: money.Amount{Minor: r.Received, Currency: r.Currency},
		Dated: r.Dated, Due: r.DueDay, State: r.State}
	if r.State == "open" {
		view.DaysLate = max(0, int(today-r.DueDay))
	}
	return view
}

// Requests lists deposits that were asked for, newest first; clientID 0 asks for
// all clients.
func Requests(ctx context.Context, a *app.App, actor app.Actor, clientID int64) ([]Request, error) {
	rows, err := store.Requests(a.Read(ctx, actor), clientID)
	list := make([]Request, 0, len(rows))
	for i := range rows {
		list = append(list, *requestShown(&rows[i], a.Clock.Today()))
	}
	return list, err
}

// RequestFile is the document of a deposit request.
func RequestFile(ctx context.Context, a *app.App, actor app.Actor, id int64) (name string, content []byte, err error) {
	tx := a.Read(ctx, actor)
	row, err := store.Get[store.DepositRequest](tx, id)
	if err != nil {
		return "", nil, app.Missing(err, "deposit request")
	}
	doc, err := requestDocument(tx, row)
	if err != nil {
		return "", nil, err
	}
	content, err = papers.Drawn(a, doc)
	return requestName(row, doc), content, err
}

func requestName(row *store.DepositRequest, doc *invoice.Document) string {
	return fmt.Sprintf("%s %s %s.pdf", row.NumberText, doc.Client.Name, row.Dated)
}

func requestDocument(tx *store.DB, row *store.DepositRequest) (*invoice.Document, error) {
	asked := money.Amount{Minor: row.Amount, Currency: row.Currency}
	doc, err := plainDocument(tx, "deposit_request", store.Account{ClientID: row.ClientID, EntityID: row.EntityID, Currency: row.Currency}, asked,
		row.Dated, row.DueDay)
	if err != nil {
		return nil, err
	}
	doc.Number, doc.Note = row.NumberText, doc.Words().Say(wording.NoInvoice)
	doc.Sections = []invoice.Section{{Lines: []invoice.DocumentLine{{Text: row.Text, Amount: asked}}, Sum: asked}}
	doc.Payable = []invoice.Instalment{{Due: row.DueDay, Amount: asked}}
	return doc, nil
}

// plainDocument is a document over an amount that is no invoice: it has no tax, and no lines yet.
func plainDocument(tx *store.DB, kind string, of store.Account, amount money.Amount, dated, due day.Day) (*invoice.Document, error) {
	none := money.Zero(of.Currency)
	totals := invoice.Totals{Lines: amount, Discount: none, Surcharge: none, Fees: none, Net: amount, Tax: none, Taxes: []invoice.TaxOfCode{},
		Total: amount, Withholding: none, Credit: none, Funds: none, Due: amount}
	p, err := profiles.Profile(tx, of.ClientID, 0)
	if err != nil {
		return nil, err
	}
	doc, err := papers.Letterhead(tx, &store.Invoice{Choices: p.Choices(), EntityID: of.EntityID, ClientID: of.ClientID, Dated: dated, DueDay: due,
		UpToDay: dated, Currency: of.Currency}, totals)
	if err == nil {
		doc.Kind, doc.Terms = kind, ""
	}
	return doc, err
}

// PlannedDeposit is a deposit that a proposal agreed and nobody asked for yet.
type PlannedDeposit struct {
	ChargeID   int64        `json:"chargeId"`
	ClientID   int64        `json:"clientId"`
	Client     string       `json:"client"`
	Engagement string       `json:"engagement"`
	Text       string       `json:"text"`
	Amount     money.Amount `json:"amount"`
}

// PlannedDeposits lists the deposits that were agreed and not asked for.
func PlannedDeposits(ctx context.Context, a *app.App, actor app.Actor) ([]PlannedDeposit, error) {
	rows, err := store.PlannedDeposits(a.Read(ctx, actor))
	list := make([]PlannedDeposit, 0, len(rows))
	for _, d := range rows {
		list = append(list, PlannedDeposit{d.ID, d.ClientID, d.Client, d.Engagement, d.Text,
			money.Amount{Minor: d.Amount, Currency: d.Currency}})
	}
	return list, err
}
