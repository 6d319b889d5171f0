package profile

import (
	"math"
	"slices"
	"strconv"
	"strings"

	"dorvet/core/money"
	"dorvet/core/refusal"
	"dorvet/core/reminder"
	"dorvet/core/schedule"
	"dorvet/core/worktime"
)

// Form is how a value is typed.
type Form string

// The forms. A tax code, a rate card, a picture and an enclosure are named; that they exist is for the
// caller to see.
const (
	Line      Form = "line"
	Lines     Form = "lines"
	Choice    Form = "choice"
	YesNo     Form = "yes_no"
	Percent   Form = "percent"
	Amount    Form = "amount" // in the currency of who it is for, up to 4 decimals
	Number    Form = "number"
	Minutes   Form = "minutes"
	Terms     Form = "terms"
	TaxCode   Form = "tax_code"
	RateCard  Form = "rate_card"
	Picture   Form = "picture"
	Enclosure Form = "enclosure"
	Several   Form = "several" // of the options, separated by spaces
	Schedule  Form = "schedule"
	Reminders Form = "reminders"
	Colour    Form = "colour" // #0F5F68, dark enough to be read on paper
)

// Option is one of several values that can be chosen.
type Option struct {
	Value string `json:"value"`
	Label string `json:"label"`
}

// Item is one thing that a profile says. An empty value of an optional item
// means none.
type Item struct {
	Name, Label, Group string
	Hint               string
	Form               Form
	Default            string
	Optional           bool
	Options            []Option
	Nearest            Scope // the nearest layer on which it can be set
	Groups             bool  // what lines are grouped by: the firm's own fields of entries, too, as own.Name
	OnInvoice          bool  // a draft takes it over, and can have a value of its own
}

// Items are all things that a profile says, in the order in which they are read.
var Items = []Item{
	{Name: "terms", Label: "Payment terms", Group: "Billing", Form: Terms, Default: "30d",
		Hint: "receipt, 30d, 2m, eom, eom+15d, 30d+eom or day15", OnInvoice: true},
	{Name: "schedule", Label: "Paid in instalments", Group: "Billing", Form: Schedule, Optional: true,
		Hint: "like rest issue; rest monthly; rest monthly, or 30% issue; rest end; empty: at once, on the terms", OnInvoice: true},
	{Name: "cycle", Label: "Billed", Group: "Billing", Form: Choice, Default: "month",
		Options: options("month", "every month", "quarter", "every quarter", "half", "every half-year", "year", "every year", "end",
			"at the end", "asked", "when asked")},
	{Name: "combined", Label: "Invoices", Group: "Billing", Form: Choice, Default: "yes",
		Options: options("yes", "one for all engagements", "no", "one for each engagement")},
	{Name: "layout", Label: "Lines of the invoice", Group: "Lines of the invoice", Form: Choice, Default: "entries",
		Options: append(options("sum", "one sum", "entries", "a line for each entry"), groups...), Groups: true, OnInvoice: true},
	{Name: "layout_then", Label: "Within each group", Group: "Lines of the invoice", Form: Choice, Default: "sums",
		Options: append(options("sums", "one sum each", "entries", "a line for each entry"), groups...), Groups: true, OnInvoice: true},
	{Name: "layout_expenses", Label: "Lines of expenses", Group: "Lines of the invoice", Form: Choice, Default: "together",
		Options: options("together", "with the other lines", "sum", "apart, one sum", "entries", "apart, a line for each", "category",
			"apart, by category", "engagement", "apart, by engagement", "person", "apart, by person", "date", "apart, by day", "month",
			"apart, by month"), OnInvoice: true},
	{Name: "columns", Label: "Columns", Group: "Lines of the invoice", Form: Several, Default: "date who hours rate", Optional: true,
		Options: options("date", "date", "who", "who", "hours", "hours", "rate", "rate", "picture", "picture"),
		Hint:    "date, who, hours, rate, picture", OnInvoice: true},
	{Name: "hours_shown", Label: "Hours shown", Group: "Lines of the invoice", Form: Choice, Default: "as_billed",
		Options: options("as_billed", "as billed", "tenth", "to the tenth", "quarter", "to the quarter", "half", "to the half", "whole",
			"whole"), OnInvoice: true},
	{Name: "line_text", Label: "Text of an entry's line", Group: "Lines of the invoice", Form: Line, Default: "{text}",
		Hint: "{text} {who} {initials} {service} {phase} {date} {reference} {hours} {own.Your field}, joined by ·", OnInvoice: true},
	{Name: "sum_text", Label: "Text of one sum", Group: "Lines of the invoice", Form: Line, Default: "", Optional: true,
		Hint: "empty: “For professional services up to …” in the client's language; {up_to} is the last day of work", OnInvoice: true},
	{Name: "covered_shown", Label: "Time behind a fee", Group: "Lines of the invoice", Form: Choice, Default: "no",
		Options: options("no", "not printed", "yes", "printed without values"), OnInvoice: true},
	{Name: "rate_card", Label: "Rate card", Group: "Billing", Form: RateCard, Optional: true},
	{Name: "increment", Label: "Billing increment, minutes", Group: "Time", Form: Minutes, Default: "6"},
	{Name: "rounding", Label: "Rounded", Group: "Time", Form: Choice, Default: "up",
		Options: options("up", "up", "nearest", "to the nearest", "none", "not at all")},
	{Name: "minimum", Label: "At least, minutes an entry", Group: "Time", Form: Minutes, Default: "0"},
	{Name: "tax_code", Label: "Tax on work", Group: "Tax", Form: TaxCode, Default: ""},
	{Name: "tax_code_expenses", Label: "Tax on expenses", Group: "Tax", Form: TaxCode, Optional: true, Hint: "empty: as on work"},
	{Name: "tax_code_disbursements", Label: "Tax on disbursements", Group: "Tax", Form: TaxCode, Optional: true,
		Hint: "empty: the firm's code that is exempt"},
	{Name: "tax_code_goods", Label: "Tax on goods", Group: "Tax", Form: TaxCode, Optional: true, Hint: "empty: as on work"},
	{Name: "tax_code_late", Label: "Tax on late charges", Group: "Tax", Form: TaxCode, Optional: true,
		Hint: "empty: the firm's code that is exempt"},
	{Name: "second_tax", Label: "Second tax", Group: "Tax", Form: Choice, Default: "code", OnInvoice: true,
		Options: options("code", "as its code says", "beside", "beside the first, on the net", "compound", "on the net and the first tax")},
	{Name: "discount", Label: "Discount, %", Group: "Price", Form: Percent, Default: "0", OnInvoice: true},
	{Name: "discount_amount", Label: "Discount, amount", Group: "Price", Form: Amount, Default: "0", Hint: "in place of a percentage",
		OnInvoice: true},
	{Name: "discount_on", Label: "Discount on", Group: "Price", Form: Choice, Default: "all",
		Options: options("all", "everything", "fees", "fees only"), OnInvoice: true},
	{Name: "surcharge", Label: "Surcharge on fees, %", Group: "Price", Form: Percent, Default: "0", OnInvoice: true},
	{Name: "withholding", Label: "Withheld by the client, % of net", Group: "Tax", Form: Percent, Default: "0", OnInvoice: true},
	{Name: "use_funds", Label: "Funds held", Group: "Money held", Form: Choice, Default: "all",
		Options: options("all", "applied while an amount is due", "none", "not applied"), OnInvoice: true},
	{Name: "funds_at_most", Label: "Of funds, at most", Group: "Money held", Form: Amount, Optional: true, Hint: "empty: all that is due",
		OnInvoice: true},
	{Name: "use_credit", Label: "Credit of the client", Group: "Money held", Form: Choice, Default: "yes",
		Options: options("yes", "taken off", "no", "left alone"), OnInvoice: true},
	{Name: "funds_least", Label: "Of funds, hold at least", Group: "Money held", Form: Amount, Optional: true,
		Hint: "below it, less what drafts take, a refill is offered under Receivables, Held"},
	{Name: "funds_statement", Label: "Statement of funds on the invoice", Group: "Money held", Form: YesNo, Default: "yes",
		OnInvoice: true},
	{Name: "earlier_balance", Label: "Earlier balance on the invoice", Group: "Money held", Form: YesNo, Default: "no", OnInvoice: true},
	{Name: "deposits", Label: "Deposits are", Group: "Money held", Form: Choice, Default: "request",
		Options: options("request", "requested, and held", "advance", "invoiced with tax, and taken back")},
	{Name: "credit_limit", Label: "Credit limit", Group: "Limits", Form: Amount, Optional: true, Nearest: Client},
	{Name: "unbilled_limit", Label: "Limit on unbilled work", Group: "Limits", Form: Amount, Optional: true},
	{Name: "shortest_text", Label: "Texts have at least, characters", Group: "Billing rules", Form: Number, Default: "0",
		Hint: "what they ask of entries; 0: nothing"},
	{Name: "most_hours", Label: "Paid a day and person, at most, minutes", Group: "Billing rules", Form: Minutes, Default: "0",
		Hint: "0: whatever was worked"},
	{Name: "excluded", Label: "Not paid", Group: "Billing rules", Form: Line, Optional: true,
		Hint: "services and categories of expenses, by name, with semicolons"},
	{Name: "highest_rate", Label: "Paid an hour, at most", Group: "Billing rules", Form: Amount, Optional: true},
	{Name: "delivery", Label: "Delivered", Group: "Delivery", Form: Choice, Default: "mail",
		Options: options("mail", "by mail", "print", "printed", "post", "by post", "download", "downloaded")},
	{Name: "attach", Label: "PDF attached", Group: "Delivery", Form: YesNo, Default: "yes"},
	{Name: "attach_einvoice", Label: "E-invoice attached, too", Group: "Delivery", Form: YesNo, Default: "no",
		Hint: "as a file of its own, beside the one inside the PDF"},
	{Name: "attach_expenses", Label: "Statement of expenses attached", Group: "Delivery", Form: YesNo, Default: "no",
		Hint: "as a file of its own; inside the invoice: see Look of documents"},
	{Name: "attach_receipts", Label: "Receipts attached", Group: "Delivery", Form: YesNo, Default: "no", Hint: "all of them as one PDF"},
	{Name: "enclosure", Label: "File of ours attached", Group: "Delivery", Form: Enclosure, Optional: true,
		Hint: "with invoices: terms of business, a leaflet; files are kept under Set-up, Enclosures"},
	{Name: "letters", Label: "Letters", Group: "Delivery", Form: Choice, Default: "each",
		Options: options("each", "one for each invoice", "together", "one for several that go together")},
	{Name: "account_summary", Label: "Account in the letter", Group: "Delivery", Form: YesNo, Default: "no",
		Hint: "what is owed besides, and what is held"},
	{Name: "tone", Label: "Tone of letters", Group: "Delivery", Form: Choice, Default: "plain",
		Options: options("plain", "as ever", "warm", "warm", "firm", "firm"), Hint: "where Set-up, Letters, has a text in that tone"},
	{Name: "copy_to", Label: "Copy of letters to us", Group: "Delivery", Form: Line, Optional: true,
		Hint: "an address of yours; the client does not see it"},
	{Name: "mail_subject", Label: "Subject of the mail", Group: "Delivery", Form: Line, Optional: true,
		Hint: "empty: as Set-up, Letters, has it"},
	{Name: "mail_text", Label: "Text of the mail", Group: "Delivery", Form: Lines, Optional: true,
		Hint: "empty: as Set-up, Letters, has it"},
	{Name: "page_lines", Label: "Shown of lines", Group: "The client's page", Form: Choice, Default: "entries",
		Options: options("sums", "the totals alone", "lines", "the lines as they are printed", "entries", "and what each line is made of")},
	{Name: "page_answers", Label: "Clients ask and dispute there", Group: "The client's page", Form: YesNo, Default: "yes"},
	{Name: "page_ways", Label: "Paid there by", Group: "The client's page", Form: Several, Default: "", Optional: true,
		Options: options("card", "card", "debit", "bank debit"), Hint: "card, debit; empty: by transfer alone"},
	{Name: "page_parts", Label: "In parts, too", Group: "The client's page", Form: YesNo, Default: "no"},
	{Name: "page_gift", Label: "A gift of thanks, too", Group: "The client's page", Form: YesNo, Default: "no",
		Hint: "on top of what is paid; income of its own, on no invoice"},
	{Name: "card_fee", Label: "Fee of a card, borne by the client, %", Group: "The client's page", Form: Percent, Default: "0"},
	{Name: "card_fee_fixed", Label: "And, a payment", Group: "The client's page", Form: Amount, Default: "0"},
	{Name: "pay_link", Label: "Another page to pay on", Group: "The client's page", Form: Line, Optional: true,
		Hint: "an address of yours, https://…"},
	{Name: "page_days", OnInvoice: true, Label: "A link works, days", Group: "The client's page", Form: Number, Default: "365",
		Hint: "after the invoice was sent"},
	{Name: "reminders", OnInvoice: true, Label: "Reminders", Group: "Collecting", Form: YesNo, Default: "yes"},
	{Name: "reminder_plan", Label: "Plan of reminders", Group: "Collecting", Form: Reminders,
		Default: "3 warm; 14; 30 firm statement; 45 firm by hand", Optional: true, Nearest: Client,
		Hint: "days after the due day, or before it, and how: 3 before warm; 14; 30 firm statement charge; 45 firm invoices by hand; " +
			"empty: none by plan"},
	{Name: "reminder_least", Label: "No reminder below", Group: "Collecting", Form: Amount, Default: "0", Nearest: Client,
		Hint: "late in all, in the currency that is owed"},
	{Name: "late_percent", OnInvoice: true, Label: "Late charge, % a month", Group: "Collecting", Form: Percent, Default: "0"},
	{Name: "late_yearly", OnInvoice: true, Label: "Late charge, % a year", Group: "Collecting", Form: Percent, Default: "0"},
	{Name: "late_reference", OnInvoice: true, Label: "On top of the reference rate", Group: "Collecting", Form: YesNo, Default: "no",
		Hint: "of its currency, under Set-up, Reference rates: 8 points above it and 40.00 once is what EU law gives between firms"},
	{Name: "late_year", OnInvoice: true, Label: "A year has, days", Group: "Collecting", Form: Choice, Default: "365",
		Options: options("365", "365", "calendar", "365, or 366")},
	{Name: "late_flat", OnInvoice: true, Label: "Late charge, once", Group: "Collecting", Form: Amount, Default: "0"},
	{Name: "late_grace", OnInvoice: true, Label: "Days of grace", Group: "Collecting", Form: Number, Default: "0"},
	{Name: "design", OnInvoice: true, Label: "Design", Group: "Look of documents", Form: Choice, Default: "letter",
		Options: options("letter", "letter: facts beside the address", "column", "column: facts down the side", "band",
			"band: a band of colour")},
	{Name: "colour", OnInvoice: true, Label: "Colour", Group: "Look of documents", Form: Colour, Default: "#0F5F68",
		Hint: "six digits, like #0F5F68"},
	{Name: "typeface", OnInvoice: true, Label: "Typeface", Group: "Look of documents", Form: Choice, Default: "sans",
		Options: options("sans", "without serifs", "serif", "with serifs", "mixed", "headings with, text without")},
	{Name: "paper", OnInvoice: true, Label: "Paper", Group: "Look of documents", Form: Choice, Default: "a4",
		Options: options("a4", "A4", "letter", "US Letter")},
	{Name: "logo", OnInvoice: true, Label: "Logo", Group: "Look of documents", Form: YesNo, Default: "yes"},
	{Name: "head_picture", OnInvoice: true, Label: "Picture above the lines", Group: "Look of documents", Form: Picture, Optional: true},
	{Name: "head_lines", OnInvoice: true, Label: "Two lines above them", Group: "Look of documents", Form: Lines, Optional: true,
		Hint: "more than two are left out"},
	{Name: "title", OnInvoice: true, Label: "Title", Group: "Look of documents", Form: Line, Optional: true,
		Hint: "empty: Invoice, in the client's language"},
	{Name: "language", OnInvoice: true, Label: "Language", Group: "Look of documents", Form: Choice, Default: "client",
		Options: options("client", "the client's", "en", "English", "de", "German", "fr", "French", "es", "Spanish", "pl", "Polish", "el",
			"Greek")},
	{Name: "payment_code", OnInvoice: true, Label: "Code to pay by", Group: "Look of documents", Form: YesNo, Default: "yes",
		Hint: "for transfers in euros"},
	{Name: "expense_statement", OnInvoice: true, Label: "Statement of expenses", Group: "Look of documents", Form: YesNo, Default: "no"},
	{Name: "opening_text", OnInvoice: true, Label: "Opening text", Group: "Texts on the invoice", Form: Lines, Optional: true},
	{Name: "closing_text", OnInvoice: true, Label: "Closing text", Group: "Texts on the invoice", Form: Lines, Optional: true},
	{Name: "note_text", OnInvoice: true, Label: "Note", Group: "Texts on the invoice", Form: Lines, Optional: true},
}

// groups are what lines can be grouped by.
var groups = options("engagement", "by engagement", "phase", "by phase", "service", "by service", "person", "by person", "date", "by day",
	"month", "by month",
	"reference", "by reference", "category", "by category of expense")

var items = map[string]Item{}

func init() {
	for _, item := range Items {
		if item.Nearest == "" {
			item.Nearest = Engagement
		}
		items[item.Name] = item
	}
}

// Named finds an item.
func Named(name string) (Item, bool) {
	item, known := items[name]
	return item, known
}

// On reports whether an item can be set on a layer.
func (i Item) On(scope Scope) bool {
	return scope == Firm || scope == Client || items[i.Name].Nearest == Engagement
}

func options(pairs ...string) []Option {
	list := []Option{}
	for pair := range slices.Chunk(pairs, 2) {
		list = append(list, Option{pair[0], pair[1]})
	}
	return list
}

// OwnPrefix begins the names of fields that the firm defines itself.
const OwnPrefix = "own."

// Parse reads a typed value of an item and gives it in the form in which it is
// kept. The error says what is required.
func (i Item) Parse(typed string, mark money.Mark) (string, error) {
	text := strings.TrimSpace(typed)
	if text == "" {
		if i.Optional || i.Form == Line || i.Form == Lines {
			return "", nil
		}
		return "", refusal.Errorf("%s can't be empty: give a value, or give it back", strings.ToLower(i.Label))
	}
	if i.Groups && strings.HasPrefix(text, OwnPrefix) {
		return text, nil
	}
	switch i.Form {
	case Choice:
		return chosen(text, i.Options)
	case YesNo:
		return chosen(text, options("yes", "yes", "no", "no"))
	case Several:
		return severalOf(text, i.Options)
	case Schedule:
		plan, err := schedule.ParsePlan(text, mark)
		return plan.String(), err
	case Reminders:
		plan, err := reminder.Read(text)
		return plan.String(), err
	case Terms:
		return schedule.ReadTerms(text)
	case Percent:
		return decimal(strings.TrimSuffix(text, "%"), mark, 100_0000, "100 %")
	case Amount:
		return decimal(text, mark, 1<<53, "that much")
	case Number, Minutes:
		return whole(text)
	case Colour:
		return colour(text)
	}
	return text, nil
}

func chosen(text string, list []Option) (string, error) {
	labels := []string{}
	for _, o := range list {
		if strings.EqualFold(text, o.Value) || strings.EqualFold(text, o.Label) {
			return o.Value, nil
		}
		labels = append(labels, o.Label)
	}
	return "", refusal.Errorf("%q is not among what can be chosen: %s", text, strings.Join(labels, "; "))
}

// severalOf reads options in any order, and gives them in theirs.
func severalOf(text string, list []Option) (string, error) {
	typed := strings.FieldsFunc(strings.ToLower(text), func(r rune) bool { return r == ' ' || r == ',' })
	for _, word := range typed {
		if _, err := chosen(word, list); err != nil {
			return "", err
		}
	}
	kept := []string{}
	for _, o := range list {
		if slices.Contains(typed, o.Value) {
			kept = append(kept, o.Value)
		}
	}
	return strings.Join(kept, " "), nil
}

func decimal(text string, mark money.Mark, most int64, words string) (string, error) {
	n, err := money.ParseFixed(strings.TrimSpace(text), mark, 4)
	switch {
	case err != nil:
		return "", err
	case n < 0 || n > most:
		return "", refusal.Errorf("%q is out of range: give 0 to %s", text, words)
	}
	return money.TypeFixed(n, money.Point, 4, 0), nil
}

// Typed is a kept value as it is typed with the firm's decimal mark.
func (i Item) Typed(value string, mark money.Mark) string {
	if i.Form == Percent || i.Form == Amount {
		return strings.Replace(value, ".", string(rune(mark)), 1)
	}
	return value
}

// leastContrast is the contrast with paper that text needs to be read: that of
// WCAG 2.2, success criterion 1.4.3.
const leastContrast = 4.5

// colour reads a colour, and refuses one that is too light to be read on white.
func colour(text string) (string, error) {
	digits := strings.TrimPrefix(strings.ToUpper(text), "#")
	n, err := strconv.ParseUint(digits, 16, 24)
	if err != nil || len(digits) != 6 {
		return "", refusal.Errorf("%q is no colour: write six digits, like #0F5F68", text)
	}
	if contrast := 1.05 / (luminance(n) + 0.05); contrast < leastContrast {
		return "", refusal.Errorf("#%s is too light to be read on white paper (contrast %.1f of at least %.1f): choose a darker one",
			digits,
			contrast, leastContrast)
	}
	return "#" + digits, nil
}

// luminance is the relative luminance of a colour, by WCAG 2.2.
func luminance(rgb uint64) float64 {
	sum := 0.0
	for i, weight := range []float64{0.2126, 0.7152, 0.0722} {
		c := float64(rgb>>(16-8*i)&0xFF) / 255
		if c <= 0.04045 {
			sum += weight * c / 12.92
			continue
		}
		sum += weight * math.Pow((c+0.055)/1.055, 2.4)
	}
	return sum
}

func whole(text string) (string, error) {
	n, err := strconv.Atoi(text)
	if err != nil || n < 0 || n > worktime.MinutesPerDay {
		return "", refusal.Errorf("%q is not a whole number from 0 to %d", text, worktime.MinutesPerDay)
	}
	return strconv.Itoa(n), nil
}

// Rule is how minutes are billed under the profile.
func (p Profile) Rule() worktime.Rule {
	return worktime.Rule{Increment: p.Number("increment"), Rounding: worktime.Rounding(p.Text("rounding")), Minimum: p.Number("minimum")}
}

// Yes reports whether an item that is yes or no is yes.
func (p Profile) Yes(name string) bool { return p.Text(name) == "yes" }

// Number reads a value that [Item.Parse] has let in.
func (p Profile) Number(name string) int {
	n, _ := strconv.Atoi(p.Text(name))
	return n
}
