package setup

func init() {
	register([]room{
		{Name: "The firm", Kinds: []kind{firmKind(), entityKind(), seriesKind(), officeKind(), holidayKind(), exchangeKind()}},
		{Name: "People", Kinds: []kind{personKind(), gradeKind()}},
		{Name: "Prices", Kinds: []kind{serviceKind(), bundleKind(), rateKind(), cardKind(), categoryKind(), proposalTextKind()}},
		{Name: "Taxes", Kinds: []kind{taxCodeKind(), taxRateKind()}},
		{Name: "Invoices", Kinds: []kind{scheduleKind(), invoiceTemplateKind(), issueCheckKind(), wordingKind(), accountKind()}},
		{Name: "Clients", Kinds: []kind{clientKind(), contactKind(), statusKind(), stepTemplateKind(), questionnaireKind(), ownFieldKind()}},
		{Name: "Work", Kinds: []kind{engagementKind(), phaseKind(), budgetKind(), templateKind()}},
		{Name: "", Kinds: []kind{stepKind(), noteKind()}},
	})
}
