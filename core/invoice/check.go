package invoice

// Level is how the firm takes a finding: it blocks the issue, or only warns.
type Level string

// The levels. A check that is off is not made.
const (
	Block Level = "block"
	Warn  Level = "warn"
	Off   Level = "off"
)

// Check is something that is looked at before a draft is issued. One that always
// blocks guards a rule of the register and can't be taken otherwise.
type Check struct {
	Code, Title, Remedy string
	Level               Level // unless the firm says otherwise
	Always              bool
}

// Checks are all checks before issue, in the order in which their findings stand.
var Checks = []Check{
	{"no_lines", "Nothing on it.", "Put something on, or delete the draft.", Block, true},
	{"negative", "Less than nothing to pay.", "Take out what makes it negative, or make a credit note instead.", Block, true},
	{"open_price", "Price still open.", "It was left open until it is billed: give it.", Block, true},
	{"instalments", "The instalments do not fit.", "Change the schedule under Payment.", Block, true},
	{"closed_period", "The period is closed.", "Date the invoice after the closing date.", Block, true},
	{"date_order", "Dates would not follow numbers.", "Date it as the invoice before it, or later.", Block, true},
	{"unprintable", "A character that can't be printed.", "The typeface of the document lacks it: change that text.", Block, true},
	{"not_approved", "Not approved.", "Ask its leads for their approval.", Off, false},
	{"funds", "Funds held, and not applied.", "They could pay some of this: apply them.", Warn, false},
	{"credit", "Credit of the client, not taken off.", "It could pay some of this: take it off.", Warn, false},
	{"surcharge", "Agreed surcharge missing.", "Their bills were agreed to have one.", Block, false},
	{"no_contact", "No billing contact.", "Nobody can get the invoice: give the client a contact or an address.", Warn, false},
	{"zero", "Nothing to pay.", "Put something on it, or delete the draft if nobody waits for it.", Warn, false},
	{"no_text", "Entry without a text.", "The client reads only the name of the service: write what was done.", Warn, false},
	{"duplicate", "Likely duplicate.", "The same work of the same person stands twice: take one out, or leave both.", Warn, false},
	{"late_entry", "Work of other days.", "It is after the last day of work, or before the first: take it out, or move the day.", Warn, false},
	{"cap", "Above the cap.", "What is above it was not agreed: take it out, or agree on a higher cap.", Block, false},
	{"budget", "Above the budget.", "Tell the client before the bill does.", Warn, false},
	{"unbilled_limit", "Above the limit on unbilled work.", "More was let pile up than was agreed: tell the client.", Warn, false},
	{"credit_limit", "Above the credit limit.", "They would owe more than was agreed: ask for money first.", Warn, false},
	{"old_rate", "Rate older than a year.", "Look whether it is still the right one, then re-rate what is unbilled.", Warn, false},
	{"stays", "Work stays behind.", "No rate holds for it, so that it is not on the bill: set one, then put it on.", Warn, false},
	{"no_einvoice", "No e-invoice inside the PDF.", "Give it on the record, or send the PDF alone.", Off, false},
	{"no_issuer_address", "No address of ours on it.", "An invoice says who issues it, and where they are.", Block, false},
	{"no_issuer_tax_number", "No tax number of ours on it.", "It charges tax: the client needs the number to take it off.", Block, false},
	{"no_way_to_pay", "No way to pay it.", "It names no account: give the one that they should pay to.", Block, false},
	{"other_tax", "Taxed otherwise than agreed.", "The client, or the engagement, has another tax now: take it, or leave this.", Warn, false},
	{"client_rules", "Not as the client asks.", "Change it, take it out, or agree on it: they may not pay it.", Warn, false},
	{"several_payers", "Not divided among its payers.", "Each of them gets an invoice of their own: divide it.", Block, false},
	{"no_addressee", "Nobody gets it by mail.", "It is to be mailed: give a contact who receives invoices an address, or hand it over " +
		"otherwise.", Warn, false},
	{"no_mail_server", "Its mail would stay here.", "No mail server is set (DORVET_SMTP): hand it over otherwise, or " +
		"have one set.", Warn, false},
}

// CheckNamed finds a check.
func CheckNamed(code string) (Check, bool) {
	for _, c := range Checks {
		if c.Code == code {
			return c, true
		}
	}
	return Check{}, false
}

// Taken is how a check is taken under what the firm says; nothing: as it comes.
func (c Check) Taken(firm Level) Level {
	if c.Always || firm == "" {
		return c.Level
	}
	return firm
}
