package wording

import "slices"

// The labels, by where they stand.
const (
	Invoice           Label = "invoice"
	CreditNote        Label = "credit_note"
	DepositRequest    Label = "deposit_request"
	ExpensesStatement Label = "expenses_statement"
	Statement         Label = "statement"
	Draft             Label = "draft"

	Number        Label = "number"
	Dated         Label = "dated"
	Due           Label = "due"
	TermsHead     Label = "terms"
	UpTo          Label = "up_to"
	Credits       Label = "credits"
	YourReference Label = "your_reference"
	TaxNumber     Label = "tax_number"

	DateHead    Label = "date_head"
	WhoHead     Label = "who_head"
	Description Label = "description"
	HoursHead   Label = "hours_head"
	RateHead    Label = "rate_head"
	AmountHead  Label = "amount_head"
	SumOf       Label = "sum_of"
	Carried     Label = "carried"
	Brought     Label = "brought"
	NoCharge    Label = "no_charge"
	InTheFee    Label = "in_the_fee"
	Services    Label = "services"
	Expenses    Label = "expenses"
	OneSum      Label = "one_sum"
	Span        Label = "span"
	PercentDone Label = "percent_done"

	Subtotal      Label = "subtotal"
	Discount      Label = "discount"
	Surcharge     Label = "surcharge"
	TaxOn         Label = "tax_on"
	Total         Label = "total"
	Withheld      Label = "withheld"
	YourCredit    Label = "your_credit"
	FromFunds     Label = "from_funds"
	AmountDue     Label = "amount_due"
	Credited      Label = "credited"
	ReverseCharge Label = "reverse_charge"

	PayBy     Label = "pay_by"
	PayIn     Label = "pay_in"
	PartOf    Label = "part_of"
	ByDay     Label = "by_day"
	Bank      Label = "bank"
	Reference Label = "reference"
	Creditor  Label = "creditor_reference"
	Scan      Label = "scan"
	NoInvoice Label = "no_tax_invoice"

	Held       Label = "held"
	Applied    Label = "applied"
	StillHeld  Label = "still_held"
	Received   Label = "received"
	AppliedTo  Label = "applied_to"
	Refunded   Label = "refunded"
	PutBack    Label = "put_back"
	Earlier    Label = "earlier"
	OpenItem   Label = "open_item"
	LatePaid   Label = "late_paid"
	BalanceOn  Label = "balance_on"
	Paid       Label = "paid"
	PaidBack   Label = "paid_back"
	Reversed   Label = "reversed"
	GivenUp    Label = "given_up"
	OwedAgain  Label = "owed_again"
	Refill     Label = "refill"
	LateToCome Label = "late_to_come"
	NotDue     Label = "not_due"
	DaysLate   Label = "days_late"
	Over90     Label = "over_90"
	InDispute  Label = "in_dispute"
	KeepMethod Label = "keep_method"
	Page       Label = "page"

	OnReceipt      Label = "on_receipt"
	Days           Label = "days"
	OneDay         Label = "one_day"
	OneMonth       Label = "one_month"
	Months         Label = "months"
	EndOfMonth     Label = "end_of_month"
	EndOfMonthDays Label = "end_of_month_days"
	DaysEndOfMonth Label = "days_end_of_month"
	DayOfMonth     Label = "day_of_month"
	Instalments    Label = "instalments"
)

// labels are written in the order of [Languages].
var labels = map[Label][6]string{
	Invoice:    {"Invoice", "Rechnung", "Facture", "Factura", "Faktura", "Τιμολόγιο"},
	CreditNote: {"Credit note", "Rechnungskorrektur", "Avoir", "Factura rectificativa", "Faktura korygująca", "Πιστωτικό τιμολόγιο"},
	DepositRequest: {"Deposit request", "Vorschussanforderung", "Demande de provision", "Solicitud de provisión de fondos",
		"Wezwanie do wpłaty zaliczki", "Αίτημα προκαταβολής"},
	ExpensesStatement: {"Statement of expenses", "Aufstellung der Auslagen", "Relevé des frais", "Relación de gastos",
		"Zestawienie wydatków",
		"Κατάσταση εξόδων"},
	Statement: {"Statement of account", "Kontoauszug", "Relevé de compte", "Estado de cuenta", "Wyciąg z konta", "Κατάσταση λογαριασμού"},
	Draft:     {"draft", "Entwurf", "projet", "borrador", "projekt", "προσχέδιο"},

	Number:        {"Number", "Nummer", "Numéro", "Número", "Numer", "Αριθμός"},
	Dated:         {"Date", "Datum", "Date", "Fecha", "Data", "Ημερομηνία"},
	Due:           {"Due", "Fällig", "Échéance", "Vencimiento", "Termin płatności", "Πληρωτέο έως"},
	TermsHead:     {"Terms", "Zahlungsziel", "Conditions", "Condiciones", "Warunki", "Όροι"},
	UpTo:          {"Work up to", "Leistungen bis", "Prestations au", "Trabajos hasta", "Prace do", "Εργασίες έως"},
	Credits:       {"Credits", "Zu Rechnung", "Sur la facture", "Sobre la factura", "Do faktury", "Για το τιμολόγιο"},
	YourReference: {"Your reference", "Ihr Zeichen", "Votre référence", "Su referencia", "Państwa znak", "Σχετικό σας"},
	TaxNumber:     {"Tax number", "Steuernummer", "N° de TVA", "N.º fiscal", "Numer podatkowy", "ΑΦΜ"},

	DateHead:    {"Date", "Datum", "Date", "Fecha", "Data", "Ημ/νία"},
	WhoHead:     {"Who", "Wer", "Par", "Por", "Kto", "Από"},
	Description: {"Description", "Beschreibung", "Désignation", "Descripción", "Opis", "Περιγραφή"},
	HoursHead:   {"Hours", "Stunden", "Heures", "Horas", "Godziny", "Ώρες"},
	RateHead:    {"Rate", "Satz", "Tarif", "Tarifa", "Stawka", "Τιμή"},
	AmountHead:  {"Amount", "Betrag", "Montant", "Importe", "Kwota", "Ποσό"},
	SumOf:       {"Sum of {what}", "Summe {what}", "Total {what}", "Suma {what}", "Razem {what}", "Σύνολο {what}"},
	Carried:     {"Carried forward", "Übertrag", "À reporter", "Suma y sigue", "Do przeniesienia", "Σε μεταφορά"},
	Brought:     {"Brought forward", "Übertrag", "Report", "Suma anterior", "Z przeniesienia", "Από μεταφορά"},
	NoCharge:    {"no charge", "ohne Berechnung", "offert", "sin cargo", "bez opłaty", "χωρίς χρέωση"},
	InTheFee:    {"in the fee", "im Honorar", "inclus", "incluido", "w honorarium", "στην αμοιβή"},
	Services:    {"Services", "Leistungen", "Prestations", "Servicios", "Usługi", "Υπηρεσίες"},
	Expenses:    {"Expenses", "Auslagen", "Frais", "Gastos", "Wydatki", "Έξοδα"},
	OneSum: {"For professional services up to {up_to}", "Für Leistungen bis {up_to}", "Prestations au {up_to}",
		"Por servicios profesionales hasta {up_to}",
		"Za usługi do {up_to}", "Για επαγγελματικές υπηρεσίες έως {up_to}"},

	Span: {"{what}, {from} to {to}", "{what}, {from} bis {to}", "{what}, du {from} au {to}", "{what}, del {from} al {to}",
		"{what}, od {from} do {to}", "{what}, {from} έως {to}"},
	PercentDone: {"{what}, {percent} done", "{what}, {percent} erbracht", "{what}, {percent} réalisé", "{what}, {percent} realizado",
		"{what}, wykonano {percent}", "{what}, ολοκληρωμένο {percent}"},

	Subtotal: {"Subtotal", "Zwischensumme", "Sous-total", "Subtotal", "Suma częściowa", "Μερικό σύνολο"},
	Discount: {"Discount", "Rabatt", "Remise", "Descuento", "Rabat", "Έκπτωση"},
	Surcharge: {"Surcharge, {percent} of fees", "Zuschlag, {percent} der Honorare", "Supplément, {percent} des honoraires",
		"Recargo, {percent} de los honorarios",
		"Dopłata, {percent} honorariów", "Προσαύξηση, {percent} των αμοιβών"},
	TaxOn: {"{tax} {percent} on {base}", "{tax} {percent} auf {base}", "{tax} {percent} sur {base}", "{tax} {percent} sobre {base}",
		"{tax} {percent} od {base}", "{tax} {percent} επί {base}"},
	Total:      {"Total", "Gesamtbetrag", "Total", "Total", "Razem", "Σύνολο"},
	Withheld:   {"Withheld", "Einbehalten", "Retenue", "Retención", "Potrącenie", "Παρακράτηση"},
	YourCredit: {"Your credit", "Ihr Guthaben", "Votre crédit", "Su saldo a favor", "Państwa nadpłata", "Το πιστωτικό σας υπόλοιπο"},
	FromFunds: {"From funds held for you", "Aus Ihrem Guthaben bei uns", "Sur les fonds détenus pour vous",
		"De los fondos que le guardamos", "Ze środków Państwa u nas", "Από ποσά που κρατούμε για εσάς"},
	AmountDue: {"Amount due", "Zu zahlen", "Net à payer", "Importe a pagar", "Do zapłaty", "Πληρωτέο ποσό"},
	Credited:  {"Credited", "Gutgeschrieben", "Montant de l’avoir", "Importe abonado", "Kwota korekty", "Πιστωθέν ποσό"},
	ReverseCharge: {"Reverse charge", "Steuerschuldnerschaft des Leistungsempfängers", "Autoliquidation", "Inversión del sujeto pasivo",
		"Odwrotne obciążenie", "Αντίστροφη επιβάρυνση"},

	PayBy: {"Please pay {amount} by {day}.", "Bitte zahlen Sie {amount} bis zum {day}.", "Merci de régler {amount} au plus tard le {day}.",
		"Le rogamos que pague {amount} a más tardar el {day}.",
		"Prosimy o zapłatę {amount} do {day}.", "Παρακαλούμε πληρώστε {amount} έως {day}."},
	PayIn: {"Please pay in {n} instalments:", "Bitte zahlen Sie in {n} Raten:", "Merci de régler en {n} échéances :",
		"Le rogamos que pague en {n} plazos:",
		"Prosimy o zapłatę w {n} ratach:", "Παρακαλούμε πληρώστε σε {n} δόσεις:"},
	PartOf:    {"{n} of {all}", "{n} von {all}", "{n} sur {all}", "{n} de {all}", "{n} z {all}", "{n} από {all}"},
	ByDay:     {"by {day}", "bis {day}", "le {day}", "el {day}", "do {day}", "έως {day}"},
	Bank:      {"Bank", "Bank", "Banque", "Banco", "Bank", "Τράπεζα"},
	Reference: {"Reference", "Verwendungszweck", "Référence", "Concepto", "Tytuł przelewu", "Αιτιολογία"},
	Creditor: {"Creditor reference", "Creditor-Referenz", "Référence du créancier", "Referencia del acreedor", "Referencja wierzyciela",
		"Αναφορά πιστωτή"},
	Scan: {"Scan to pay", "Zum Zahlen scannen", "Scanner pour payer", "Escanee para pagar", "Zeskanuj, by zapłacić",
		"Σαρώστε για πληρωμή"},
	NoInvoice: {"This is no tax invoice. What you pay is held for you, and taken off the bills to come.",
		"Dies ist keine Rechnung im Sinne des Steuerrechts. Was Sie zahlen, wird für Sie verwahrt und von kommenden Rechnungen abgezogen.",
		"Ceci n’est pas une facture. Votre versement est conservé pour vous et déduit des factures à venir.",
		"Esto no es una factura. Lo que pague se guarda a su nombre y se descuenta de las próximas facturas.",
		"To nie jest faktura. Wpłata jest przechowywana dla Państwa i odliczana od przyszłych faktur.",
		"Αυτό δεν είναι τιμολόγιο. Ό,τι πληρώσετε φυλάσσεται για εσάς και αφαιρείται από τους επόμενους λογαριασμούς."},

	Held: {"Held for you", "Ihr Guthaben bei uns", "Fonds détenus pour vous", "Fondos a su nombre", "Środki Państwa u nas",
		"Ποσά που κρατούμε για εσάς"},
	Applied: {"Applied to this invoice", "Auf diese Rechnung verrechnet", "Imputé sur cette facture", "Aplicado a esta factura",
		"Zaliczono na tę fakturę", "Για το παρόν τιμολόγιο"},
	Received: {"Received", "Eingegangen", "Reçu", "Recibido", "Otrzymano", "Ελήφθη"},
	AppliedTo: {"Applied to {number}", "Verrechnet mit {number}", "Imputé sur {number}", "Aplicado a {number}", "Zaliczono na {number}",
		"Για το {number}"},
	Refunded:  {"Refunded", "Erstattet", "Remboursé", "Reembolsado", "Zwrócono", "Επιστράφηκε"},
	PutBack:   {"Put back", "Rückgebucht", "Contre-passé", "Devuelto al saldo", "Przywrócono", "Αντιλογίστηκε"},
	StillHeld: {"Still held", "Verbleibt", "Solde détenu", "Saldo restante", "Pozostaje", "Υπόλοιπο"},
	Earlier: {"Owed on earlier invoices", "Offen aus früheren Rechnungen", "Dû sur factures antérieures",
		"Pendiente de facturas anteriores", "Zaległe z wcześniejszych faktur", "Οφειλή από προηγούμενα τιμολόγια"},
	OpenItem: {"{number}, due {day}", "{number}, fällig {day}", "{number}, échéance {day}", "{number}, vence el {day}", "{number}, termin {day}",
		"{number}, πληρωτέο έως {day}"},
	LatePaid: {"Late payment of {number}, up to {day}", "Verspätete Zahlung von {number}, bis {day}", "Retard de paiement de {number}, jusqu’au {day}",
		"Pago atrasado de {number}, hasta el {day}", "Opóźnienie w zapłacie {number}, do {day}", "Καθυστέρηση πληρωμής {number}, έως {day}"},
	LateToCome: {"Late payment of {number}, up to {day}: {amount}, on our next invoice",
		"Verspätete Zahlung von {number}, bis {day}: {amount}, auf unserer nächsten Rechnung",
		"Retard de paiement de {number}, jusqu’au {day} : {amount}, sur notre prochaine facture",
		"Pago atrasado de {number}, hasta el {day}: {amount}, en nuestra próxima factura",
		"Opóźnienie w zapłacie {number}, do {day}: {amount}, na następnej fakturze",
		"Καθυστέρηση πληρωμής {number}, έως {day}: {amount}, στο επόμενο τιμολόγιο"},
	Refill: {"To bring what we hold for you to {amount} again", "Damit wir für Sie wieder {amount} halten", "Pour reconstituer votre provision de {amount}",
		"Para reponer los {amount} que guardamos para usted", "Aby znów przechowywać dla Państwa {amount}",
		"Για να κρατάμε ξανά για εσάς {amount}"},
	BalanceOn: {"Balance at the end of {day}", "Saldo am Ende des {day}", "Solde au {day} au soir", "Saldo al final del {day}",
		"Saldo na koniec dnia {day}", "Υπόλοιπο στο τέλος της {day}"},
	Paid:      {"Payment", "Zahlung", "Paiement", "Pago", "Wpłata", "Πληρωμή"},
	PaidBack:  {"Paid back to you", "An Sie zurückgezahlt", "Remboursé", "Devuelto a usted", "Zwrócono Państwu", "Επιστράφηκε σε εσάς"},
	Reversed:  {"Taken back", "Zurückgenommen", "Annulé", "Anulado", "Cofnięto", "Ακυρώθηκε"},
	GivenUp:   {"No longer asked for", "Nicht mehr gefordert", "N’est plus réclamé", "Ya no se reclama", "Już nie dochodzimy", "Δεν απαιτείται πλέον"},
	OwedAgain: {"Asked for again", "Wieder gefordert", "De nouveau réclamé", "Se reclama de nuevo", "Znów dochodzimy", "Απαιτείται ξανά"},
	NotDue:    {"Not due yet", "Noch nicht fällig", "Pas encore échu", "Aún no vencido", "Przed terminem", "Δεν έληξε ακόμη"},
	DaysLate: {"{from} to {to} days late", "{from} bis {to} Tage überfällig", "{from} à {to} jours de retard", "{from} a {to} días vencido",
		"{from} do {to} dni po terminie", "{from} έως {to} ημέρες καθυστέρηση"},
	Over90: {"Over 90 days late", "Über 90 Tage überfällig", "Plus de 90 jours de retard", "Más de 90 días vencido",
		"Ponad 90 dni po terminie", "Πάνω από 90 ημέρες καθυστέρηση"},
	InDispute: {"Disputed", "Bestritten", "Contesté", "En disputa", "Sporne", "Αμφισβητούμενο"},
	KeepMethod: {"Keep this way of paying, so that I can choose it again. Nothing is taken without me; I can end it on my page.",
		"Diese Zahlungsart aufbewahren, damit ich sie wieder wählen kann. Ohne mich wird nichts eingezogen; auf meiner Seite kann ich sie beenden.",
		"Conserver ce moyen de paiement pour pouvoir le choisir à nouveau. Rien n’est prélevé sans moi ; je peux y mettre fin sur ma page.",
		"Guardar esta forma de pago para poder elegirla de nuevo. No se cobra nada sin mí; puedo darla de baja en mi página.",
		"Zachowaj ten sposób płatności, abym mógł wybrać go ponownie. Nic nie zostanie pobrane beze mnie; mogę to zakończyć na swojej stronie.",
		"Διατήρηση αυτού του τρόπου πληρωμής για να τον επιλέξω ξανά. Τίποτα δεν χρεώνεται χωρίς εμένα· μπορώ να τον καταργήσω στη σελίδα μου."},
	Page: {"Page {n} of {all}", "Seite {n} von {all}", "Page {n} sur {all}", "Página {n} de {all}", "Strona {n} z {all}",
		"Σελίδα {n} από {all}"},

	OnReceipt:  {"on receipt", "sofort", "à réception", "al contado", "natychmiast", "με την παραλαβή"},
	Days:       {"{n} days", "{n} Tage", "{n} jours", "{n} días", "{n} dni", "{n} ημέρες"},
	OneDay:     {"1 day", "1 Tag", "1 jour", "1 día", "1 dzień", "1 ημέρα"},
	OneMonth:   {"1 month", "1 Monat", "1 mois", "1 mes", "1 miesiąc", "1 μήνας"},
	Months:     {"{n} months", "{n} Monate", "{n} mois", "{n} meses", "{n} mies.", "{n} μήνες"},
	EndOfMonth: {"end of month", "Monatsende", "fin de mois", "fin de mes", "koniec miesiąca", "τέλος του μήνα"},
	EndOfMonthDays: {"end of month, then {n} days", "Monatsende plus {n} Tage", "fin de mois plus {n} jours", "fin de mes más {n} días",
		"koniec miesiąca plus {n} dni", "τέλος του μήνα και {n} ημέρες"},
	DaysEndOfMonth: {"{n} days, then end of month", "{n} Tage, dann Monatsende", "{n} jours fin de mois", "{n} días fin de mes",
		"{n} dni, potem koniec miesiąca", "{n} ημέρες, έως το τέλος του μήνα"},
	DayOfMonth: {"the next day {n} of a month", "am nächsten {n}. eines Monats", "le {n} du mois suivant", "el próximo día {n}",
		"najbliższy {n}. dzień miesiąca", "την επόμενη {n}η του μήνα"},
	Instalments: {"{n} instalments", "{n} Raten", "{n} échéances", "{n} plazos", "w {n} ratach", "{n} δόσεις"},
}

// Labels are all labels, in the order of their names.
func Labels() []Label {
	list := make([]Label, 0, len(labels))
	for label := range labels {
		list = append(list, label)
	}
	slices.Sort(list)
	return list
}
