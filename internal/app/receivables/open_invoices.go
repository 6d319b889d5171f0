package receivables

import (
	"strings"

	"dorvet/core/day"
	"dorvet/core/invoice"
	"dorvet/core/money"
	"dorvet/internal/app"
	"dorvet/internal/app/registry"
	"dorvet/internal/store"
)

// OpenInvoices is what files bring: each an old invoice that is taken over.
const OpenInvoices = "open-invoices"

var openColumns = []registry.Field{
	{Name: "client", Label: "Client", Form: registry.FormRecord, Needed: true, Hint: "code or name"},
	{Name: "number", Label: "Number", Form: registry.FormLine, Needed: true},
	{Name: "dated", Label: "Dated", Form: registry.FormDay, Needed: true},
	{Name: "due", Label: "Due", Form: registry.FormDay, Hint: "by the client's terms unless given"},
	{Name: "balance", Label: "Still owed", Form: registry.FormAmount, Needed: true, Hint: "gross"},
	{Name: "currency", Label: "Currency", Form: registry.FormLine, Hint: "the client's unless given"},
	{Name: "engagement", Label: "Engagement", Form: registry.FormRecord, Hint: "what it was for, by its code"},
	{Name: "client_number", Label: "Client's tax number", Form: registry.FormLine, Hint: "finds the client before the name does"},
	{Name: "document", Label: "Document", Form: registry.FormLine, Hint: "invoice unless given"},
	{Name: "issued_by", Label: "Issued by", Form: registry.FormLine,
		Hint: "tax number or name of the issuing entity; the client's usual unless given"},
}

func init() {
	registry.ReadFromFiles(OpenInvoices, registry.Reads{One: "open invoice", Many: "open invoices",
		About: "Invoices that were issued before, and are still owed.", Fields: openColumns,
		Take: takeOpen, TakeBack: forgetOpen})
}

func takeOpen(tx *app.Tx, f *registry.Finder, values map[string]string) (int64, error) {
	for _, c := range openColumns {
		if c.Needed && values[c.Name] == "" {
			return 0, app.RefuseField(c.Name, "%s is missing: give one.", c.Label)
		}
	}
	if kind := strings.ToLower(values["document"]); kind != "" && kind != "invoice" {
		return 0, app.RefuseField("document", "%s is a %s: what a client has to good is recorded as a payment.", values["number"], kind)
	}
	client, err := clientOf(tx, f, values)
	if err != nil {
		return 0, err
	}
	entity, err := issuedBy(tx, values["issued_by"])
	if err != nil {
		return 0, err
	}
	in := TypedOpening{ClientID: client, EntityID: entity, Number: values["number"], Balance: values["balance"],
		Currency: money.Currency(values["currency"])}
	if values["engagement"] != "" {
		if in.EngagementID, err = f.Find("engagements", values["engagement"]); err != nil {
			return 0, app.InField("engagement", err)
		}
	}
	for name, at := range map[string]*day.Day{"dated": &in.Dated, "due": &in.Due} {
		if values[name] == "" {
			continue
		}
		if *at, err = day.Parse(values[name]); err != nil {
			return 0, app.InField(name, err)
		}
	}
	return takeOver(tx, in)
}

// clientOf finds a client by tax number, else by code or name, else by the name on
// invoices.
func clientOf(tx *app.Tx, f *registry.Finder, values map[string]string) (int64, error) {
	if ids, err := store.ClientsNamed(tx.DB, compact(values["client_number"]), ""); err != nil || len(ids) == 1 {
		return first(ids), err
	}
	client, missing := f.Find("clients", values["client"])
	if missing == nil {
		return client, nil
	}
	ids, err := store.ClientsNamed(tx.DB, "", values["client"])
	if err == nil && len(ids) != 1 {
		err = app.InField("client", missing)
	}
	return first(ids), err
}

func first(ids []int64) int64 {
	if len(ids) == 0 {
		return 0
	}
	return ids[0]
}

// issuedBy finds the issuing entity of an old invoice: one that is none of the firm's
// is nobody's to collect.
func issuedBy(tx *app.Tx, said string) (int64, error) {
	if said == "" {
		return 0, nil
	}
	entities, err := store.All[store.IssuingEntity](tx.DB, "id")
	if err != nil {
		return 0, err
	}
	for _, e := range entities {
		number := compact(e.TaxNumber)
		if len(compact(said)) >= 6 && strings.HasSuffix(number, compact(said)) || strings.EqualFold(e.LegalName, said) ||
			strings.EqualFold(e.Name, said) {
			return e.ID, nil
		}
	}
	return 0, app.RefuseField("issued_by", "%q is none of the firm's issuing entities: only invoices of your own are taken over.", said)
}

// compact is a tax number without what it is written with.
func compact(number string) string {
	return strings.ToUpper(strings.NewReplacer(" ", "", ".", "", "-", "").Replace(number))
}

// forgetOpen takes an old invoice back that nothing was paid on: its movements are
// posted the other way.
func forgetOpen(tx *app.Tx, id int64) error {
	inv, err := store.Get[store.Invoice](tx.DB, id)
	if err != nil {
		return app.Missing(err, "invoice")
	}
	if inv.Kind != invoice.Opening || inv.Open != inv.Due || inv.State != invoice.Issued {
		return app.Refuse(app.Conflict, "Something was paid on %s since: reverse it first.", inv.NumberText)
	}
	movements, err := store.MoneyOf(tx.DB, id)
	if err != nil {
		return err
	}
	if _, err := tx.Undo(movements, "reopened", max(tx.Today, inv.Dated), nil); err != nil {
		return err
	}
	if err := store.CloseInstalments(tx.DB, id); err != nil {
		return err
	}
	inv.State, inv.Open = invoice.Deleted, 0
	tx.LinkTo(app.OfInvoice, id)
	return store.Save(tx.DB, inv)
}
