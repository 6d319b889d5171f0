package pricing

import (
	"fmt"
	"slices"
	"strings"

	core "dorvet/core/pricing"
	"dorvet/core/wording"

	"dorvet/core/money"
)

// payRows say what is to be paid and when, most once things first.
func payRows(o core.Offer, r core.Result) []PageRow {
	rows := []PageRow{}
	if !r.Acceptance.Net.IsZero() {
		rows = append(rows, PageRow{"On acceptance", r.Acceptance.Net.String()})
	}
	if !r.Deposits.IsZero() {
		rows = append(rows, PageRow{"On acceptance, as deposit", r.Deposits.String()})
	}
	for _, bill := range r.Once.Bills {
		left := bill.Left(func(c core.Charge) bool { return o.Lines[c.Line].Rule.When != core.OnAcceptance })
		if !left.IsZero() {
			rows = append(rows, PageRow{wording.Capital(told(bill)), left.String()})
		}
	}
	for _, each := range r.Recurring {
		label := wording.Capital(each.Frequency.String())
		if o.TermMonths > 0 && each.Times > 0 {
			label += ", " + times(each.Times)
			if each.InAll.Minor != int64(each.Times)*each.Net.Minor {
				label += ", in all " + each.InAll.String()
			}
		}
		if each.Expected() {
			label += ", expected: billed by the hours worked"
		}
		rows = append(rows, PageRow{label, each.Net.String()})
	}
	return rows
}

// told says when a bill comes, without by whose hand.
func told(b core.Bill) string {
	if b.Event == "by hand" {
		return "when it is done"
	}
	return b.When()
}

func times(n int) string {
	if n == 1 {
		return "once"
	}
	return fmt.Sprintf("%d times", n)
}

// taxRows add the taxes of a sum's bills by name and rate.
func taxRows(sum core.Sum) []PageRow {
	rows, amounts := []PageRow{}, map[string]money.Amount{}
	for _, bill := range sum.Bills {
		for _, code := range bill.Totals.Taxes {
			for _, part := range code.Parts {
				label := fmt.Sprintf("%s %s %%", part.Name, part.Percent)
				was, known := amounts[label]
				if !known {
					was = money.Zero(part.Tax.Currency)
					rows = append(rows, PageRow{Label: label})
				}
				was.Minor += part.Tax.Minor
				amounts[label] = was
			}
		}
	}
	for i := range rows {
		rows[i].Figure = amounts[rows[i].Label].String()
	}
	return rows
}

// billRows list every bill that will come, with its date, deposits first.
func billRows(o core.Offer, r core.Result) []PageBill {
	rows := []PageBill{}
	for _, bill := range r.Calendar {
		for _, c := range bill.Charges {
			if !c.Deposit.IsZero() {
				rows = append(rows, PageBill{r.Accepted.Long(), "Deposit, part of the bill " + told(bill), c.Deposit.String(),
					c.Deposit.String(),
					true})
			}
		}
	}
	for _, bill := range r.Calendar {
		names, deposit := []string{}, money.Zero(o.Currency)
		for _, c := range bill.Charges {
			deposit.Minor += c.Deposit.Minor
			name := o.Lines[c.Line].Description
			if c.Period != nil {
				name += fmt.Sprintf(" (%s to %s)", c.Period.From.Long(), c.Period.To.Long())
			}
			if c.Estimate {
				name += " (expected)"
			}
			names = append(names, name)
		}
		what := strings.Join(names, ", ")
		if off := bill.Off(); !off.IsZero() {
			what += fmt.Sprintf("; less %s of the discount", off)
		}
		if !deposit.IsZero() {
			what += fmt.Sprintf("; less the deposit of %s", deposit)
		}
		row := PageBill{wording.Capital(told(bill)), what, bill.Totals.Net.String(), bill.Totals.Total.String(), false}
		if !slices.ContainsFunc(bill.Charges, func(c core.Charge) bool { return !c.Open }) {
			row.Net, row.Gross = "–", "–"
		}
		rows = append(rows, row)
	}
	return rows
}
