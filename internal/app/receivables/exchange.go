package receivables

import (
	"dorvet/core/day"
	"dorvet/core/invoice"
	"dorvet/core/money"
	"dorvet/internal/app"
	"dorvet/internal/app/setup"
	"dorvet/internal/store"
)

// Open invoices come from files, too: each an old invoice that is taken over.
const openInvoicesFile = "open-invoices"

var openColumns = []setup.Field{
	{Name: "client", Label: "Client", Form: setup.FormRecord, Needed: true, Hint: "code or name"}, {Name: "number", Label: "Number", Form: setup.FormLine, Needed: true},
	{Name: "dated", Label: "Dated", Form: setup.FormDay, Needed: true}, {Name: "due", Label: "Due", Form: setup.FormDay, Hint: "by the client's terms unless given"},
	{Name: "balance", Label: "Still owed", Form: setup.FormAmount, Needed: true, Hint: "gross"}, {Name: "currency", Label: "Currency", Form: setup.FormLine, Hint: "the client's unless given"},
}

func init() {
	setup.ReadFromFiles(openInvoicesFile, setup.Reads{One: "open invoice", Many: "open invoices", About: "Invoices that were issued before, and are still owed.", Fields: openColumns,
		Take: takeOpen, TakeBack: forgetOpen})
}

func takeOpen(tx *app.Tx, f *setup.Finder, values map[string]string) (int64, error) {
	for _, c := range openColumns {
		if c.Needed && values[c.Name] == "" {
			return 0, app.RefuseField(c.Name, "%s is missing: give one.", c.Label)
		}
	}
	client, err := f.Find("clients", values["client"])
	if err != nil {
		return 0, app.InField("client", err)
	}
	in := TypedOpening{ClientID: client, Number: values["number"], Balance: values["balance"], Currency: money.Currency(values["currency"])}
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
	for _, m := range movements {
		m.ID, m.Kind, m.EffectiveDay = 0, "reopened", max(tx.Today, inv.Dated)
		m.FromBucket, m.ToBucket = m.ToBucket, m.FromBucket
		tx.Post(m)
	}
	if err := store.CloseInstalments(tx.DB, id); err != nil {
		return err
	}
	inv.State, inv.Open = invoice.Deleted, 0
	tx.Concerns(app.OfInvoice, id)
	return store.Save(tx.DB, inv)
}
