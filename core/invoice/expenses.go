package invoice

import (
	"slices"

	"dorvet/core/money"
	"dorvet/core/wording"
)

// expenses are those on the invoice by their days, whatever its lines are grouped by.
func (d *Document) expenses() []Billed {
	expenses := slices.DeleteFunc(slices.Clone(d.Billed), func(b Billed) bool { return b.Kind != Expense })
	slices.SortStableFunc(expenses, func(a, b Billed) int { return int(a.Day - b.Day) })
	return expenses
}

// said is an expense with its category, where that says more.
func (b *Billed) said() string {
	if b.Category != "" && b.Category != b.Text {
		return b.Category + " · " + b.Text
	}
	return b.Text
}

// statement lists every expense on the invoice by itself, on a page of its own.
func (d *Document) statement(w wording.Words) *PrintedSection {
	if !d.Look.Statement {
		return nil
	}
	s, sum := &PrintedSection{Title: w.Say(wording.ExpensesStatement), Lines: []PrintedLine{}}, money.Zero(d.Currency)
	for _, b := range d.expenses() {
		sum.Minor += b.Amount.Minor
		s.Lines = append(s.Lines, PrintedLine{Runs: []TextRun{{Text: b.said()}}, Day: w.Day(b.Day), Who: initialled(b.Worked.Name),
			Text: b.said(), Amount: w.Figure(b.Amount), Running: w.Figure(sum)})
	}
	if len(s.Lines) == 0 {
		return nil
	}
	s.Sum = &Fact{w.Say(wording.Total) + " " + string(d.Currency), w.Figure(sum), true}
	return s
}

// ExpensesStatement is the statement of expenses of an invoice as a document of its own, net; without expenses there is none.
func (d *Document) ExpensesStatement() (Document, bool) {
	none, sum, lines := money.Zero(d.Currency), money.Zero(d.Currency), []DocumentLine{}
	for _, b := range d.expenses() {
		sum.Minor += b.Amount.Minor
		lines = append(lines, DocumentLine{Day: b.Day, Who: b.Worked.Name, Text: b.said(), Amount: b.Amount})
	}
	s := Document{Kind: "expenses", Number: d.Number, Dated: d.Dated, Due: d.Due, UpTo: d.UpTo, Currency: d.Currency, Issuer: d.Issuer,
		Client: d.Client, Reference: d.Reference, Language: d.Language, Wording: d.Wording, Look: d.Look, Columns: []string{"date", "who"},
		Sections: []Section{{Lines: lines, Sum: sum}}, Payable: []Instalment{},
		Totals: Totals{Lines: sum, Discount: none, Surcharge: none, Fees: none, Net: sum, Tax: none, Taxes: []TaxOfCode{}, Total: sum,
			Withholding: none, Credit: none, Funds: none, Due: sum}}
	s.Look.Statement, s.Look.Code = false, false
	return s, len(lines) > 0
}
