package invoices

import (
	"slices"

	"dorvet/core/profile"
	"dorvet/internal/app/registry"
	"dorvet/internal/store"
)

// InvoiceChoice is what a draft took over from the billing profile, as it can be changed.
type InvoiceChoice struct {
	Name    string           `json:"name"`
	Label   string           `json:"label"`
	Group   string           `json:"group"`
	Form    string           `json:"form"`
	Hint    string           `json:"hint"`
	Value   string           `json:"value" doc:"as it is typed"`
	From    string           `json:"from" doc:"where it comes from"`
	Options []profile.Option `json:"options"`
}

// choicesOf are all choices of an invoice, in the order of the profile.
func choicesOf(tx *store.DB, inv *store.Invoice) ([]InvoiceChoice, error) {
	firm, err := store.TheFirm(tx)
	if err != nil {
		return nil, err
	}
	pictures, err := pictureNames(tx)
	if err != nil {
		return nil, err
	}
	own, err := registry.OwnGroups(tx)
	if err != nil {
		return nil, err
	}
	list := []InvoiceChoice{}
	for _, item := range profile.Items {
		if !item.OnInvoice {
			continue
		}
		source := inv.Choices.Of(item.Name)
		value := item.Typed(source.Value, firm.Mark())
		if item.Name == "terms" {
			value = inv.Terms
		}
		list = append(list, InvoiceChoice{Name: item.Name, Label: item.Label, Group: item.Group, Form: string(item.Form), Hint: item.Hint,
			Value: value,
			From:  source.In(), Options: slices.Concat([]profile.Option{}, item.Options)})
		if item.Groups {
			list[len(list)-1].Options = slices.Concat(item.Options, own)
		}
		if item.Form == profile.Picture {
			list[len(list)-1].Options = pictures
		}
	}
	return list, nil
}

// pictureNames are the pictures that can be chosen; none is one of the choices.
func pictureNames(tx *store.DB) ([]profile.Option, error) {
	pictures, err := store.All[store.Picture](tx, "name")
	options := []profile.Option{{Value: "", Label: "none"}}
	for _, p := range pictures {
		if p.Active && p.Digest != "" {
			options = append(options, profile.Option{Value: p.Name, Label: p.Name})
		}
	}
	return options, err
}
