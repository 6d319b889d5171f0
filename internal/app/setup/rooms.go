package setup

import "dorvet/internal/app/registry"

func init() {
	registry.Register([]registry.Room{
		{Name: "The firm", Kinds: []registry.AnyKind{firmKind(), entityKind(), seriesKind(), bankAccountKind(), officeKind(), holidayKind(), exchangeKind(), referenceKind()}},
		{Name: "People", Kinds: []registry.AnyKind{personKind(), gradeKind()}},
		{Name: "Prices", Kinds: []registry.AnyKind{serviceKind(), bundleKind(), lineKind(), abbreviationKind(), rateKind(), cardKind(),
			categoryKind(), proposalTextKind()}},
		{Name: "Taxes", Kinds: []registry.AnyKind{taxCodeKind(), taxRateKind()}},
		{Name: "Invoices", Kinds: []registry.AnyKind{scheduleKind(), invoiceTemplateKind(), pictureKind(), enclosureKind(), issueCheckKind(), wordingKind(),
			letterTextKind(),
			accountKind()}},
		{Name: "Clients", Kinds: []registry.AnyKind{clientKind(), contactKind(), statusKind(), stepTemplateKind(), questionnaireKind(),
			ownFieldKind()}},
		{Name: "Work", Kinds: []registry.AnyKind{engagementKind(), phaseKind(), budgetKind(), payerKind(), templateKind()}},
		{Name: "", Kinds: []registry.AnyKind{stepKind(), noteKind()}},
	})
}
