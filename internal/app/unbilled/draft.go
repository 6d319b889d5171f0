package unbilled

import (
	"dorvet/core/day"
	"dorvet/core/draft"
	"dorvet/core/invoice"
	"dorvet/core/profile"
	"dorvet/core/refusal"
	"dorvet/core/tax"
	core "dorvet/core/wip"
	"dorvet/internal/app"
	"dorvet/internal/app/profiles"
	"dorvet/internal/store"
)

// Draft is an invoice that would be made.
type Draft struct {
	Key
	Engagements []store.EngagementRow
	Profile     profile.Profile // of its engagement; of several, of their client
	Choices     profile.BillingTerms
	Items       []Item // what each item that was asked about is of
	Advances    []store.OpenAdvance
	FundsHeld   []store.ClientFundsRow
	Asked       draft.Asked
	draft.Draft

	// Refused is why it can't be made as it is, in a sentence with the remedy.
	Refused error

	whole bool
	parts []Bill // one for each payer, where several pay
}

// Item is what an item of a draft is of: one of the three is there.
type Item struct {
	TaxCodeID int64
	Part      *store.PartSum
	Portion   *store.PortionRow
	Charge    *store.Charge
}

// begin is a draft with its terms, before anything is on it.
func (r *reader) begin(key Key, engagements []store.EngagementRow) (Draft, error) {
	d := Draft{Key: key, Engagements: engagements, Profile: r.profiles(key.ClientID, onlyOne(engagements))}
	d.Choices = d.Profile.Choices()
	d.Asked = draft.Asked{Currency: key.Currency, TaxDate: r.asked.Dated, Codes: r.byName, Caps: map[int64]int64{}}
	for _, e := range engagements {
		if left, capped := r.work.CapsLeft[e.ID]; capped {
			d.Asked.Caps[e.ID] = left
		}
		d.Advances = append(d.Advances, r.advances[e.ID]...)
	}
	d.Asked.Advances = AskedAdvances(d.Advances, r.codes)
	var err error
	d.Asked.Terms, err = draft.TermsOf(d.Choices, key.Currency)
	if key.SeriesID == 0 {
		err = WithoutSeries(&engagements[0])
	}
	return d, d.refuse(app.InField("value", err))
}

// WithoutSeries refuses to bill an engagement whose invoices have no numbers.
func WithoutSeries(e *store.EngagementRow) error {
	return app.Refuse(app.Conflict, "The issuing entity of %s has no series of invoice numbers: give it one under Set-up.", e.Name)
}

// AskedAdvances are open advances as the core asks for them.
func AskedAdvances(open []store.OpenAdvance, codes map[int64]tax.Code) []draft.Advance {
	list := make([]draft.Advance, len(open))
	for i, a := range open {
		list[i] = draft.Advance{Engagement: a.EngagementID, TaxCode: codes[a.TaxCodeID].Code, Left: a.Left}
	}
	return list
}

// refuse keeps why a draft can't be made, and passes on what failed.
func (d *Draft) refuse(err error) error {
	if err == nil || !refusal.Is(err) {
		return err
	}
	if d.Refused == nil {
		d.Refused = err
	}
	return nil
}

// compute says what a draft comes to. What it takes of credit and funds is spoken for: the
// next draft of the client finds what is left.
func (r *reader) compute(d *Draft) error {
	for i := range d.Engagements {
		if err := r.addItems(d, &d.Engagements[i]); err != nil {
			return err
		}
	}
	if d.Refused != nil {
		return nil
	}
	free, err := r.held.of(d.account(), idsOf(d.Engagements))
	if err != nil {
		return err
	}
	d.FundsHeld, d.Asked.Credit, d.Asked.FundsHeld = free.FundsHeld, free.Credit, free.InOrder()
	d.Draft, err = draft.Compute(d.Asked)
	if err := d.refuse(app.InField("", err)); err != nil {
		return err
	}
	if err := r.divide(d); err != nil {
		return err
	}
	for _, bill := range d.Bills() {
		account := d.account()
		account.ClientID = bill.ClientID
		r.held.take(account, &bill)
	}
	return nil
}

// addItems adds what of an engagement can stand on a draft: its work, then its charges.
func (r *reader) addItems(d *Draft, e *store.EngagementRow) error {
	leaves, own := r.work.Left[e.ID], r.profiles(e.ClientID, e.ID)
	add := func(item Item, of profiles.Taxed, asked draft.Item) (err error) {
		if item.TaxCodeID == 0 {
			item.TaxCodeID, err = r.taxCode(own, of)
		}
		asked.TaxCode = r.codes[item.TaxCodeID].Code
		d.Items, d.Asked.Items = append(d.Items, item), append(d.Asked.Items, asked)
		return d.refuse(err)
	}
	for i := range r.portions[e.ID] {
		p := &r.portions[e.ID][i]
		if err := add(Item{Portion: p}, TaxedAs(p), OfPortion(p)); err != nil {
			return err
		}
	}
	for i := range r.work.Parts[e.ID] {
		p := &r.work.Parts[e.ID][i]
		if d.whole || p.Entries == 0 || leaves.part(p) {
			continue
		}
		if err := add(Item{Part: p}, taxedAs[p.Taxed], ofPart(p)); err != nil {
			return err
		}
	}
	if leaves.Charges {
		return nil
	}
	for i := range r.work.Charges[e.ID] {
		c := &r.work.Charges[e.ID][i]
		if err := add(Item{Charge: c, TaxCodeID: c.TaxCodeID}, "", OfCharge(c, r.asked.Dated)); err != nil {
			return err
		}
	}
	return nil
}

// taxCode is the tax code of what a profile's client is billed, found once for all that
// have the same.
func (r *reader) taxCode(p profile.Profile, of profiles.Taxed) (int64, error) {
	key := string(of) + ", " + p.Text(string(of)) + ", " + p.Text(string(profiles.Work))
	if id, known := r.taxed[key]; known {
		return id, nil
	}
	id, err := profiles.TaxCode(r.tx, p, of)
	if err == nil {
		r.taxed[key] = id
	}
	return id, err
}

// OfPortion is a portion as the core asks for it.
func OfPortion(p *store.PortionRow) draft.Item {
	item := draft.Item{Engagement: p.EngagementID, Kind: invoice.Time, Amount: p.Agreed, Day: p.WorkedDay, Cuts: true,
		OutOfScope: p.Treatment == core.OutOfScope}
	if p.IsExpense() {
		item.Kind = invoice.Expense
	}
	return item
}

func ofPart(p *store.PartSum) draft.Item {
	item := draft.Item{Engagement: p.EngagementID, Kind: invoice.Time, Amount: p.Agreed}
	if p.Taxed != "time" {
		item.Kind = invoice.Expense
	}
	return item
}

// OfCharge is a charge as the core asks for it, on an invoice of a day.
func OfCharge(c *store.Charge, dated day.Day) draft.Item {
	item := draft.Item{Engagement: c.EngagementID, Kind: invoice.Fixed, Amount: c.Amount, Day: c.BillDay}
	if c.Kind == "recurring" {
		item.Kind = invoice.Recurring
	}
	if c.LateID != nil {
		item.Kind = invoice.LateFee
	}
	if item.Day.IsZero() {
		item.Day = dated
	}
	return item
}

var taxedAs = map[string]profiles.Taxed{"time": profiles.Work, "expense": profiles.Expenses, "disbursement": profiles.Disbursements}

// Taxed is as what something recorded is taxed: time, an expense or a disbursement.
func Taxed(source string) profiles.Taxed { return taxedAs[source] }

// TaxedAs is as what a portion is taxed.
func TaxedAs(p *store.PortionRow) profiles.Taxed {
	switch {
	case !p.IsExpense():
		return profiles.Work
	case p.Disbursement:
		return profiles.Disbursements
	}
	return profiles.Expenses
}

// onlyOne is the number of a draft's engagement, or 0 where it has several: what holds for
// several is their client's.
func onlyOne(engagements []store.EngagementRow) int64 {
	if len(engagements) == 1 {
		return engagements[0].ID
	}
	return 0
}

// Share is what drafts bring of one engagement, in minor units.
type Share struct {
	Net   int64 // of what is billed
	Over  int64 // stays unbilled over a cap
	Terms int64 // of the net: what a discount, a surcharge and advances make of it

	// Refused is why its draft can't be made; the net is then of what there is.
	Refused error
}

// Shares are the shares of engagements in the drafts that would be made.
func (w *Work) Shares() map[int64]Share {
	shares := map[int64]Share{}
	for _, d := range w.Drafts {
		if d.Refused != nil {
			for _, item := range d.Asked.Items {
				share := shares[item.Engagement]
				share.Net, share.Refused = share.Net+item.Amount, d.Refused
				shares[item.Engagement] = share
			}
			continue
		}
		for at, over := range d.Over {
			share := shares[d.Asked.Items[at].Engagement]
			share.Over += over
			shares[d.Asked.Items[at].Engagement] = share
		}
		for _, bill := range d.Bills() {
			for _, line := range bill.Lines {
				share := shares[line.Engagement]
				share.Net += line.Net()
				if share.Terms += line.Net() - line.Amount; bill.takesBack(&line) {
					share.Terms += line.Amount
				}
				shares[line.Engagement] = share
			}
		}
	}
	return shares
}
