package pricing

import (
	"fmt"
	"slices"

	core "dorvet/core/pricing"
	"dorvet/core/wording"

	"dorvet/core/money"
)

// total is a row of totals before it is written: its figure in each tier.
type total struct {
	name, label, tone string
	of                func(tier int, p priced) money.Amount
}

func totalRows(o core.Offer, p priced, costs bool) []TotalRow {
	rows := rowsOf(o, p, totalsOf(o, p))
	if costs {
		rows = append(rows, earningRow(p)...)
	}
	return append(rows, rowsOf(o, p, partsOf(o, p))...)
}

// rowsOf writes rows, without those that are nothing in every tier.
func rowsOf(o core.Offer, p priced, totals []total) []TotalRow {
	rows := []TotalRow{}
	for _, t := range totals {
		row, some := TotalRow{Name: t.name, Label: t.label, Tone: t.tone, Figures: []string{}}, t.tone == "strong"
		for tier := range o.Tiers {
			a := t.of(tier, p)
			text := a.String()
			if a.IsZero() {
				text = "–"
			} else {
				some = true
			}
			if p.none[tier].HasOpen && t.tone == "strong" {
				text += " +"
			}
			row.Figures = append(row.Figures, text)
		}
		if some {
			rows = append(rows, row)
		}
	}
	return rows
}

// totalsOf lists the rows: first what a tier is compared by, then the parts of it.
func totalsOf(o core.Offer, p priced) []total {
	first := func(pick func(core.Result) money.Amount) func(int, priced) money.Amount {
		return func(tier int, p priced) money.Amount { return pick(p.none[tier]) }
	}
	label := "First year, before tax"
	whole := !slices.ContainsFunc(p.none, func(r core.Result) bool { return !isWhole(r) })
	if whole {
		label = wholeLabel(o)
	}
	if slices.ContainsFunc(p.none, func(r core.Result) bool { return r.HasOpen }) {
		label += " (+ what is priced when billed)"
	}
	rows := []total{
		{"once", "Everything billed once", "plain", first(func(r core.Result) money.Amount { return r.Once.Net })},
		{"yearly", "Recurring, in the first year", "plain", first(func(r core.Result) money.Amount { return r.Yearly.Net })},
		{"firstYear", label, "strong", first(func(r core.Result) money.Amount { return r.FirstYear.Net })},
		{"firstYearGross", "with tax", "soft", first(func(r core.Result) money.Amount { return r.FirstYear.Gross })},
	}
	if optional(o) {
		rows = append(rows, total{"firstYearAll", "with every option, before tax", "soft",
			func(tier int, p priced) money.Amount { return p.all[tier].FirstYear.Net }})
	}
	if o.TermMonths > 0 && !whole {
		rows = append(rows, total{"wholeTerm", fmt.Sprintf("Whole term, %d months, before tax", o.TermMonths), "plain",
			first(func(r core.Result) money.Amount { return r.WholeTerm.Net })},
			total{"wholeTermGross", "with tax", "soft", first(func(r core.Result) money.Amount { return r.WholeTerm.Gross })})
		if optional(o) {
			rows = append(rows, total{"wholeTermAll", "with every option, before tax", "soft",
				func(tier int, p priced) money.Amount { return p.all[tier].WholeTerm.Net }})
		}
	}
	return rows
}

// isWhole reports whether the first year is all that there is: nothing recurs, or the term is
// over by then.
func isWhole(r core.Result) bool {
	if r.WholeTerm != nil {
		return r.WholeTerm.Net == r.FirstYear.Net
	}
	return len(r.Recurring) == 0
}

func wholeLabel(o core.Offer) string {
	if o.TermMonths > 0 {
		return fmt.Sprintf("All %d months, before tax", o.TermMonths)
	}
	return "In all, before tax"
}

func eachName(f core.Frequency) string { return "each " + f.String() }

// partsOf are the rows under the margin: what comes when, and the tax.
func partsOf(o core.Offer, p priced) []total {
	first := func(pick func(core.Result) money.Amount) func(int, priced) money.Amount {
		return func(tier int, p priced) money.Amount { return pick(p.none[tier]) }
	}
	rows := []total{{"acceptance", "On acceptance", "soft", first(func(r core.Result) money.Amount { return r.Acceptance.Net })},
		{"deposits", "Asked as deposit on acceptance", "soft", first(func(r core.Result) money.Amount { return r.Deposits })}}
	for _, f := range frequencies(p) {
		rows = append(rows, total{eachName(f), wording.Capital(f.String()), "soft", first(func(r core.Result) money.Amount { return eachOf(o, r, f) })})
	}
	label := "Tax of the first year"
	if !slices.ContainsFunc(p.none, func(r core.Result) bool { return !isWhole(r) }) {
		label = "Tax of all of it"
	}
	return append(rows, total{"firstYearTax", label, "soft",
		first(func(r core.Result) money.Amount { return r.FirstYear.Tax })})
}

// optional reports whether anything can be chosen.
func optional(o core.Offer) bool {
	return slices.ContainsFunc(o.Lines, func(l core.Line) bool {
		return slices.ContainsFunc(l.Cells, func(c core.Cell) bool { return c.State == core.Optional })
	})
}

func frequencies(p priced) []core.Frequency {
	all := []core.Frequency{}
	for _, r := range p.none {
		for _, each := range r.Recurring {
			if !slices.Contains(all, each.Frequency) {
				all = append(all, each.Frequency)
			}
		}
	}
	return all
}

func eachOf(o core.Offer, r core.Result, f core.Frequency) money.Amount {
	for _, each := range r.Recurring {
		if each.Frequency == f {
			return each.Net
		}
	}
	return money.Zero(o.Currency)
}

// earningRow is the margin, and the fee against standard rates.
func earningRow(p priced) []TotalRow {
	row := TotalRow{Name: "earns", Label: "Margin, and fee against standard rates", Tone: "soft", Figures: []string{}}
	known := false
	for _, r := range p.none {
		text := "–"
		e := r.Earns
		switch {
		case e.Margin != nil:
			known, text = true, rounded(*e.Margin)+" %"
		case e.WithoutCost > 0:
			known, text = true, "cost unknown"
		}
		if e.AgainstStandard != nil && text != "–" {
			text += ", " + ratio(*e.AgainstStandard)
		}
		row.Figures = append(row.Figures, text)
	}
	if !known {
		return nil
	}
	return []TotalRow{row}
}
