package unbilled

import (
	"slices"

	"dorvet/core/draft"
	"dorvet/core/invoice"
	"dorvet/core/money"
	"dorvet/core/profile"
	"dorvet/internal/app"
	"dorvet/internal/app/profiles"
	"dorvet/internal/store"
)

// What several pay together is divided among them: each gets a part of every line, on an invoice of their own terms and tax. Caps and
// discounts count on the whole, everything else on each invoice.

// PayerShare is what one client pays of a line, against the weights of the others.
type PayerShare struct{ ClientID, Weight int64 }

// SharesOf are who pays something of an engagement: all of its payers, but for what is one's part already. The client of the whole pays what
// nobody else does.
func SharesOf(payers []store.Payer, clientID int64, ownPayer *int64) []PayerShare {
	if len(payers) == 0 {
		return []PayerShare{{clientID, 1}}
	}
	pays := func(id int64) bool {
		return slices.ContainsFunc(payers, func(p store.Payer) bool { return p.ClientID == id })
	}
	if ownPayer != nil && (pays(*ownPayer) || *ownPayer == clientID) {
		return []PayerShare{{*ownPayer, 1}}
	}
	shares := make([]PayerShare, len(payers))
	for i, p := range payers {
		shares[i] = PayerShare{p.ClientID, int64(p.Share)}
	}
	return shares
}

// Weights are the weights of shares, to split an amount by.
func Weights(shares []PayerShare) []int64 {
	weights := make([]int64, len(shares))
	for i, s := range shares {
		weights[i] = s.Weight
	}
	return weights
}

// agreedOnWhole are what is agreed about the price of an engagement, whoever pays it.
var agreedOnWhole = []string{"surcharge", "discount_on"}

// ChoicesOfPayer are the terms of a payer other than the client of the whole: their own, with what is agreed about the price, and what was
// chosen for the whole alone.
func ChoicesOfPayer(own profile.Profile, whole profile.BillingTerms) profile.BillingTerms {
	choices := own.Choices()
	for name, of := range whole {
		if of.Scope == profile.Invoice || slices.Contains(agreedOnWhole, name) {
			choices[name] = of
		}
	}
	return choices
}

// Bill is one invoice that comes of a draft: the draft itself, or the part of one payer.
type Bill struct {
	ClientID int64
	Asked    draft.Asked
	draft.Draft

	fundsHeld []store.ClientFundsRow
}

// Back is what comes back on the bill of what was invoiced ahead, in minor units, negative.
func (b *Bill) Back() (minor int64) {
	for _, line := range b.Lines {
		if b.takesBack(&line) {
			minor += line.Amount
		}
	}
	return minor
}

func (b *Bill) takesBack(l *draft.Line) bool { return l.Back || b.Asked.Items[l.Of].TakesBack }

// Bills are the invoices that come of a draft.
func (d *Draft) Bills() []Bill {
	if d.parts == nil {
		return []Bill{{d.ClientID, d.Asked, d.Draft, d.FundsHeld}}
	}
	return d.parts
}

// divide divides a computed draft among those who pay it. Where a price is still to be given it stays whole.
func (r *reader) divide(d *Draft) error {
	payers := r.payers[d.Engagements[0].ID]
	open := slices.ContainsFunc(d.Items, func(i Item) bool { return i.Charge != nil && i.Charge.Open })
	if len(payers) == 0 || len(d.Lines) == 0 || open {
		return nil
	}
	parts, discounts := []Bill{}, map[int64]int64{}
	for _, line := range d.Lines {
		item, ownPayer := r.divisible(d, &line)
		shares := SharesOf(payers, d.ClientID, ownPayer)
		amounts, err := money.Split(line.Amount, Weights(shares))
		if err != nil {
			return err
		}
		reduced, err := money.Split(line.Share.Discount, Weights(shares))
		if err != nil {
			return err
		}
		for n, share := range shares {
			at := slices.IndexFunc(parts, func(b Bill) bool { return b.ClientID == share.ClientID })
			if at < 0 {
				at, parts = len(parts), append(parts, Bill{ClientID: share.ClientID})
			}
			part := item
			if part.TaxCode, err = r.taxOfPayer(d, &line, part.TaxCode, share.ClientID); err != nil {
				return d.refuse(err)
			}
			part.Amount = amounts[n]
			parts[at].Asked.Items = append(parts[at].Asked.Items, part)
			discounts[share.ClientID] += reduced[n]
		}
	}
	for i := range parts {
		if err := r.computePart(d, &parts[i], discounts[parts[i].ClientID]); err != nil {
			return err
		}
	}
	d.parts = parts
	return nil
}

// divisible is a line of a draft as the core asks for it again, and whose part it is already.
func (r *reader) divisible(d *Draft, line *draft.Line) (item draft.Item, ownPayer *int64) {
	if line.Back {
		advance := &d.Advances[line.Of]
		return draft.Item{Engagement: line.Engagement, Kind: invoice.Advance, TaxCode: r.codes[advance.TaxCodeID].Code, Day: r.asked.Dated,
			TakesBack: true}, &advance.ClientID
	}
	item = d.Asked.Items[line.Of]
	item.Cuts = false
	if of := d.Items[line.Of]; of.Charge != nil {
		ownPayer = of.Charge.PayerID
	} else {
		ownPayer = of.Portion.PayerID
	}
	return item, ownPayer
}

// taxOfPayer is how a payer is taxed for a line: the client of its engagement as the line stands.
func (r *reader) taxOfPayer(d *Draft, line *draft.Line, code string, clientID int64) (string, error) {
	if d.Engagements[0].ClientID == clientID || line.Back {
		return code, nil
	}
	as := profiles.Work
	if portion := d.Items[line.Of].Portion; portion != nil {
		as = TaxedAs(portion)
	}
	id, err := r.taxCode(r.profiles(clientID, line.Engagement), as)
	return r.codes[id].Code, err
}

// computePart says what the part of one payer comes to, with their share of the discount of the whole.
func (r *reader) computePart(d *Draft, part *Bill, discount int64) error {
	choices := d.Choices
	if part.ClientID != d.ClientID {
		choices = ChoicesOfPayer(r.profiles(part.ClientID, 0), d.Choices)
	}
	terms, err := draft.TermsOf(choices, d.Currency)
	if err != nil {
		return d.refuse(app.InField("value", err))
	}
	terms.Discount = invoice.Discount{Amount: discount, FeesOnly: terms.Discount.FeesOnly}
	account := d.account()
	account.ClientID = part.ClientID
	free, err := r.held.of(account, idsOf(d.Engagements))
	if err != nil {
		return err
	}
	part.fundsHeld = free.FundsHeld
	part.Asked = draft.Asked{Currency: d.Currency, TaxDate: d.Asked.TaxDate, Codes: d.Asked.Codes, Items: part.Asked.Items, Terms: terms,
		Credit: free.Credit, FundsHeld: free.InOrder()}
	if part.Draft, err = draft.Compute(part.Asked); err != nil {
		return d.refuse(app.InField("", err))
	}
	return nil
}
