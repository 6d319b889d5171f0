package drafts

import (
	"context"
	"slices"
	"strings"

	"dorvet/core/invoice"
	"dorvet/core/money"
	"dorvet/internal/app"
	"dorvet/internal/app/profiles"
	"dorvet/internal/store"
)

// LineTyped is a line by hand, as typed: an amount, or a quantity and a price. A
// negative one takes something off.
type LineTyped struct {
	EngagementID int64  `json:"engagementId" doc:"0: the first on the draft"`
	Text         string `json:"text" maxLength:"2000"`
	Quantity     string `json:"quantity" maxLength:"20"`
	Unit         string `json:"unit" maxLength:"20"`
	Price        string `json:"price" maxLength:"30" doc:"of one"`
	Amount       string `json:"amount" maxLength:"30" doc:"in place of a quantity and a price"`
	TaxCode      string `json:"taxCode" maxLength:"20" doc:"nothing: as lines of its kind are taxed"`
	Kind         string `json:"kind" maxLength:"100" doc:"what it is for; nothing: a service"`
	Picture      string `json:"picture,omitempty" maxLength:"200" doc:"by its name; nothing: none"`
	Advance      bool   `json:"advance" doc:"invoiced ahead: taxed now, and taken back on the final bill"`
}

// AddLine puts a line by hand on a draft.
func AddLine(ctx context.Context, a *app.App, r app.Request, e Edit, in LineTyped) (*Changed, error) {
	return Change(ctx, a, r, "add a line", e, in, func(tx *app.Tx, inv *store.Invoice) error {
		line, err := byHand(tx, inv, in)
		if err != nil {
			return err
		}
		tx.Describe(nil, inv.Amount(line.Amount).String(), "Added “%s”, %s", line.Text, inv.Amount(line.Amount))
		return insertLines(tx, inv, []store.InvoiceLine{*line})
	})
}

// byHand reads a typed line.
func byHand(tx *app.Tx, inv *store.Invoice, in LineTyped) (*store.InvoiceLine, error) {
	line := &store.InvoiceLine{InvoiceID: inv.ID, Kind: invoice.ByHand, Day: inv.Dated, Treatment: "billable", Confirmed: true,
		Currency: inv.Currency}
	if in.Advance {
		line.Kind = invoice.Advance
	}
	if inv.Divided { // what is added then is this payer's alone
		line.PayerID = &inv.ClientID
	}
	if line.Text = strings.TrimSpace(in.Text); line.Text == "" {
		return nil, app.RefuseField("text", "The client would read nothing: give the line a text.")
	}
	var err error
	if line.EngagementID, err = engagementFor(tx, inv, in.EngagementID); err != nil {
		return nil, err
	}
	if err := price(tx.DB, inv, line, in); err != nil {
		return nil, err
	}
	if in.Advance && line.Amount <= 0 {
		return nil, app.RefuseField("amount", "An advance is more than zero: give its amount.")
	}
	if err := withPicture(tx, line, in.Picture); err != nil {
		return nil, err
	}
	as, err := ofKind(tx, line, in.Kind)
	if err != nil {
		return nil, err
	}
	line.TaxCodeID, err = taxCode(tx, inv, line.EngagementID, in.TaxCode, as)
	return line, err
}

// ofKind gives a line its kind, and says as what it is taxed.
func ofKind(tx *app.Tx, line *store.InvoiceLine, name string) (profiles.Taxed, error) {
	line.LineKindID = nil
	if name == "" {
		return profiles.Work, nil
	}
	kinds, err := store.All[store.LineKind](tx.DB, "id")
	if err != nil {
		return "", err
	}
	i := slices.IndexFunc(kinds, func(k store.LineKind) bool { return k.Name == name })
	if i < 0 {
		return "", app.RefuseField("kind", "There is no kind of line called %q: choose one, or add it under Set-up.", name)
	}
	line.LineKindID = &kinds[i].ID
	return taxedOf[kinds[i].Taxed], nil
}

// withPicture puts a picture beside a line, or takes it away.
func withPicture(tx *app.Tx, line *store.InvoiceLine, name string) error {
	line.PictureID = nil
	if name == "" {
		return nil
	}
	pictures, err := store.All[store.Picture](tx.DB, "id")
	if err != nil {
		return err
	}
	i := slices.IndexFunc(pictures, func(p store.Picture) bool { return p.Name == name && p.Digest != "" })
	if i < 0 {
		return app.RefuseField("picture", "There is no picture called %q: choose one, or add it under Set-up.", name)
	}
	line.PictureID = &pictures[i].ID
	return nil
}

// taxedOf is as what lines of a kind are taxed.
var taxedOf = map[string]profiles.Taxed{"work": profiles.Work, "goods": profiles.Goods, "expenses": profiles.Expenses}

// price reads an amount, or a quantity and a price.
func price(tx *store.DB, inv *store.Invoice, line *store.InvoiceLine, in LineTyped) error {
	firm, err := store.TheFirm(tx)
	if err != nil {
		return err
	}
	decimals, err := inv.Currency.Decimals()
	if err != nil {
		return err
	}
	line.Quantity, line.UnitPrice, line.Unit = nil, nil, strings.TrimSpace(in.Unit)
	if in.Price == "" {
		if in.Amount == "" {
			return app.RefuseField("amount", "Give an amount, or a quantity and a price.")
		}
		line.Amount, err = money.ParseFixed(in.Amount, firm.Mark(), decimals)
		return app.InField("amount", err)
	}
	quantity := int64(10_000)
	if in.Quantity != "" {
		if quantity, err = money.ParseFixed(in.Quantity, firm.Mark(), 4); err != nil {
			return app.InField("quantity", err)
		}
	}
	perUnit, err := money.ParseFixed(in.Price, firm.Mark(), 4)
	if err != nil {
		return app.InField("price", err)
	}
	rate := money.Rate(perUnit)
	amount, err := rate.ForQuantity(quantity, 0, inv.Currency)
	line.Quantity, line.UnitPrice, line.Amount = &quantity, &rate, amount.Minor
	return app.InField("price", err)
}

// engagementFor is the engagement that a line belongs to: the one that is named,
// which must be able to stand on the invoice, or the first that is on it.
func engagementFor(tx *app.Tx, inv *store.Invoice, id int64) (int64, error) {
	if id == 0 {
		ids, err := store.EngagementsOf(tx.DB, inv.ID)
		if err != nil {
			return 0, err
		}
		if len(ids) > 0 {
			return slices.Min(ids), nil
		}
		return 0, app.RefuseField("engagementId", "Choose the engagement that this line belongs to.")
	}
	e, err := store.Get[store.Engagement](tx.DB, id)
	if err != nil {
		return 0, app.Missing(err, "engagement")
	}
	on, err := store.EngagementsOf(tx.DB, inv.ID)
	if err != nil {
		return 0, err
	}
	ours := e.ClientID == inv.ClientID || slices.Contains(on, e.ID) // who pays a share bills what is on it
	if !ours || e.EntityID != inv.EntityID || e.Currency != inv.Currency {
		return 0, app.RefuseField("engagementId", "%s is of another client, issuing entity or currency, and can't stand on this invoice.",
			e.Name)
	}
	return e.ID, nil
}

// taxCode is a tax code that was chosen by its key, or that of what the engagement's
// client pays for.
func taxCode(tx *app.Tx, inv *store.Invoice, engagementID int64, code string, of profiles.Taxed) (int64, error) {
	if code != "" {
		id, err := store.TaxCodeByKey(tx.DB, code)
		if err := app.Found(err, app.RefuseField("taxCode", "There is no tax code %q: choose one of the firm's.", code)); err != nil {
			return 0, err
		}
		return id, nil
	}
	p, err := profiles.Profile(tx.DB, inv.ClientID, engagementID)
	if err != nil {
		return 0, err
	}
	return profiles.TaxCode(tx.DB, p, of)
}

// ChangeLine changes a line by hand or an advance as a whole; of what comes from
// time, expenses and fees only its text and tax code. A fee whose price was left
// open gets its amount, which confirms it.
func ChangeLine(ctx context.Context, a *app.App, r app.Request, e Edit, lineID int64, in LineTyped) (*Changed, error) {
	input := struct {
		LineID int64
		LineTyped
	}{lineID, in}
	return Change(ctx, a, r, "change a line", e, input, func(tx *app.Tx, inv *store.Invoice) error {
		line, err := lineOn(tx, inv, lineID)
		if err != nil {
			return err
		}
		before := inv.Amount(line.Amount).String() + ", " + line.Text
		if err := rewrite(tx, inv, line, in); err != nil {
			return err
		}
		tx.Describe(before, inv.Amount(line.Amount).String()+", "+line.Text, "Changed “%s”, now %s", line.Text, inv.Amount(line.Amount))
		return store.Save(tx.DB, line)
	})
}

func lineOn(tx *app.Tx, inv *store.Invoice, lineID int64) (*store.InvoiceLine, error) {
	line, err := store.Get[store.InvoiceLine](tx.DB, lineID)
	if err := app.Unless(err, app.Refuse(app.Conflict, "This line is not on the draft any more: load the page again."),
		func() bool { return line.InvoiceID == inv.ID }); err != nil {
		return nil, err
	}
	return line, nil
}

func rewrite(tx *app.Tx, inv *store.Invoice, line *store.InvoiceLine, in LineTyped) error {
	if line.Text = strings.TrimSpace(in.Text); line.Text == "" {
		return app.RefuseField("text", "The client would read nothing: give the line a text.")
	}
	if in.TaxCode != "" {
		var err error
		if line.TaxCodeID, err = taxCode(tx, inv, line.EngagementID, in.TaxCode, profiles.Work); err != nil {
			return err
		}
	}
	if line.Kind == invoice.ByHand {
		if _, err := ofKind(tx, line, in.Kind); err != nil {
			return err
		}
		if err := withPicture(tx, line, in.Picture); err != nil {
			return err
		}
	}
	if in.Amount == "" && in.Price == "" {
		return nil
	}
	switch {
	case line.Kind == invoice.ByHand || line.Kind == invoice.Advance && line.AdvanceLineID == nil:
		return price(tx.DB, inv, line, in)
	case line.Kind == invoice.Advance:
		return lessAdvance(tx, inv, line, in)
	case line.Kind == invoice.LateFee:
		return app.RefuseField("amount", "This is what paying late came to. Take the line off, and waive it under Receivables, Late charges.")
	case line.ChargeID != nil:
		return confirm(tx, inv, line, in)
	}
	return app.RefuseField("amount", "This amount follows from what was recorded or agreed. Add a line by hand for a difference.")
}

// Order puts the lines of a draft into an order.
func Order(ctx context.Context, a *app.App, r app.Request, e Edit, lineIDs []int64) (*Changed, error) {
	return Reword(ctx, a, r, "order the lines", e, lineIDs, func(tx *app.Tx, inv *store.Invoice) error {
		lines, err := store.LinesOf(tx.DB, inv.ID)
		if err != nil {
			return err
		}
		place := map[int64]int{}
		for i, id := range lineIDs {
			place[id] = i + 1
		}
		for i := range lines {
			if place[lines[i].ID] == 0 {
				return app.Refuse(app.Conflict, "The lines of this draft have changed: load the page again.")
			}
			lines[i].Position = place[lines[i].ID]
			if err := store.Save(tx.DB, &lines[i]); err != nil {
				return err
			}
		}
		tx.Describe(nil, nil, "Put its lines into another order")
		return nil
	})
}
