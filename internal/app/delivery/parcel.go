package delivery

import (
	"cmp"
	"context"
	"maps"
	"strings"

	core "dorvet/core/delivery"

	"dorvet/core/invoice"
	"dorvet/core/profile"
	"dorvet/core/wording"
	"dorvet/internal/app"
	"dorvet/internal/app/correspondence"
	"dorvet/internal/app/profiles"
	"dorvet/internal/store"
)

// Parcel is what a letter brings: invoices, or what another room makes of its own, such as a deposit request or a statement.
type Parcel struct {
	Kind               core.Kind
	EntityID, ClientID int64
	Client             string
	Engagements        []int64 // whose contacts get it before the client's
	Name               string  // D12, Statement of 1 Dec 2026; nothing: the numbers of its invoices
	Words              wording.Words
	Tone               string             // warm, firm; nothing: as the profile says
	Values             map[string]string  // that stand in the places of its text; empty ones may have nothing to say
	Invoices           []store.InvoiceRow // that it brings, or that it is about
	Late               map[int64]int      // days after the oldest due day of each of them, where it reminds of them
	DepositID          *int64
	Files              []Made
	To                 []core.Addressee // in place of contacts
	Problem            string           // why it can't go, and what to do
}

// Made is a file that is made when it goes out.
type Made struct {
	Name    string
	Content func() ([]byte, error) // PDF
}

// packet is a parcel on its way: to whom, how, and by which profile.
type packet struct {
	Parcel
	docs    []*invoice.Document // of its invoices, where it brings them
	profile profile.Profile
	to      []core.Addressee
	way     core.Way
}

// wrapped makes a parcel ready to go, with the documents of its invoices where it brings them.
func wrapped(tx *store.DB, parcel *Parcel, docs []*invoice.Document, s Handover) (*packet, error) {
	p := &packet{Parcel: *parcel, docs: docs, way: s.Way, to: parcel.To}
	var err error
	if p.profile, err = profileOf(tx, p.ClientID, p.Engagements); err != nil {
		return nil, err
	}
	p.way = cmp.Or(p.way, core.Way(p.profile.Text("delivery")))
	p.Tone = cmp.Or(p.Tone, p.profile.Text("tone"))
	switch {
	case strings.TrimSpace(s.To) != "":
		if p.to, err = core.Typed(s.To); err != nil {
			return nil, app.InField("to", err)
		}
	case p.to == nil:
		if p.to, err = correspondence.Addressees(tx, p.Kind, p.ClientID, p.Engagements); err != nil {
			return nil, err
		}
	}
	p.Problem, err = p.hindered(tx)
	return p, err
}

// PreviewParcel shows the letter in which a parcel would go out.
func PreviewParcel(ctx context.Context, a *app.App, actor app.Actor, s Handover, of func(*store.DB) (*Parcel, error)) ([]Letter, error) {
	tx := a.Read(ctx, actor)
	parcel, err := of(tx)
	if err != nil {
		return nil, err
	}
	p, err := wrapped(tx, parcel, nil, s)
	if err != nil {
		return nil, err
	}
	texts, err := store.LetterTexts(tx)
	if err != nil {
		return nil, err
	}
	l, err := p.letter(a, tx, texts, s)
	if err != nil {
		return nil, err
	}
	return []Letter{*l}, nil
}

// SendParcel hands a parcel over, as an act of its own.
func SendParcel(ctx context.Context, a *app.App, r app.Request, input any, s Handover, of func(*app.Tx) (*Parcel, error)) (Sent, error) {
	return app.Do(ctx, a, r, "hand over", []any{input, s}, func(tx *app.Tx) (Sent, error) {
		parcel, err := of(tx)
		if err != nil {
			return Sent{}, err
		}
		return SendWithin(a, tx, parcel, s)
	})
}

// SendWithin hands a parcel over as part of an act, and says so.
func SendWithin(a *app.App, tx *app.Tx, parcel *Parcel, s Handover) (Sent, error) {
	sent, err := hand(a, tx, parcel, s)
	tx.Describe(nil, nil, "%s", wording.Capital(sent.said))
	return sent, err
}

func hand(a *app.App, tx *app.Tx, parcel *Parcel, s Handover) (Sent, error) {
	p, err := wrapped(tx.DB, parcel, nil, s)
	if err != nil {
		return Sent{}, err
	}
	return p.send(a, tx, s)
}

// values are what stands in the places of a letter's text to one person.
func (p *packet) values(tx *store.DB, to core.Addressee, word string) (map[string]string, error) {
	entity, err := store.Get[store.IssuingEntity](tx, p.EntityID)
	if err != nil {
		return nil, err
	}
	values := map[string]string{"name": to.Name, "client": p.Client, "firm": entity.LegalName, "word": strings.TrimSpace(word),
		"signature": cmp.Or(entity.Signature, entity.LegalName), "account": ""}
	maps.Copy(values, p.Values)
	if len(p.docs) > 0 {
		maps.Copy(values, p.ofInvoices())
		if p.profile.Yes("account_summary") {
			if values["account"], err = accountOf(tx, &p.Invoices[0].Invoice, p.Words); err != nil {
				return nil, err
			}
		}
	}
	values["name"] = cmp.Or(to.Name, values["client"])
	return values, nil
}

// profileOf is the billing profile by which something is handed over: of its engagement, where it is of one alone.
func profileOf(tx *store.DB, clientID int64, engagements []int64) (profile.Profile, error) {
	engagement := int64(0)
	if len(engagements) == 1 {
		engagement = engagements[0]
	}
	return profiles.Profile(tx, clientID, engagement)
}
