package invoices

import (
	"dorvet/core/explain"
	"dorvet/core/invoice"
	"dorvet/core/money"
	core "dorvet/core/wip"
	"dorvet/internal/store"
)

// FromStandard says how the standard value of what is on an invoice became its net, line by line.
type FromStandard struct {
	NoCharge    explain.Total `json:"noCharge" doc:"work at no charge, at standard; negative"`
	Rates       explain.Total `json:"rates" doc:"agreed rates other than standard; negative where something is given away"`
	WrittenDown explain.Total `json:"writtenDown" doc:"at standard, negative"`
	WrittenUp   explain.Total `json:"writtenUp"`
	Variance    explain.Total `json:"variance" doc:"fees against the standard value of the time that they cover"`
	Discount    explain.Total `json:"discount" doc:"negative"`
	Other       explain.Total `json:"other" doc:"lines by hand, advances and surcharge"`
}

func nothingGiven(in money.Currency) FromStandard {
	return FromStandard{explain.NoTotal("No charge", in), explain.NoTotal("Agreed rates", in), explain.NoTotal("Written down", in),
		explain.NoTotal("Written up", in), explain.NoTotal("Variance of fees", in), explain.NoTotal("Discount", in),
		explain.NoTotal("By hand", in)}
}

// all are the parts, in the order in which they are told.
func (g *FromStandard) all() []*explain.Total {
	return []*explain.Total{&g.NoCharge, &g.WrittenDown, &g.WrittenUp, &g.Rates, &g.Variance, &g.Discount, &g.Other}
}

// addGiven says what lies between the standard value and the net amount.
func (v *Invoice) addGiven(inv *store.InvoiceRow) error {
	v.Standard, v.Given = explain.NoTotal("Standard value", inv.Currency), nothingGiven(inv.Currency)
	time := int64(0)
	for i := range v.Lines {
		l := &v.Lines[i]
		down := v.writtenDown[l.PortionID]
		if err := v.Given.addLine(l, down); err != nil {
			return err
		}
		// A line shows what it was worth before it was written down, as the sum does.
		l.Standard.Minor += down.Standard
		if err := v.Standard.Add(stepOf(l), l.Standard); err != nil {
			return err
		}
		if l.Source == "time" {
			time += l.Standard.Minor
		}
	}
	t := v.Document.Totals
	if err := v.Given.Discount.Add(explain.Step{Label: "Discount on the whole"}, t.Discount.Neg()); err != nil {
		return err
	}
	if err := v.Given.Other.Add(explain.Step{Label: "Surcharge"}, t.Surcharge); err != nil {
		return err
	}
	if inv.Kind == invoice.Opening { // it has no lines here
		if err := v.Given.Other.Add(explain.Step{Label: "Taken over"}, v.Net); err != nil {
			return err
		}
	}
	if err := v.addNet(); err != nil || time == 0 {
		return err
	}
	share, err := money.MulDiv(t.Fees.Minor, int64(money.Hundred), time)
	v.Realisation = money.Percent(share)
	return err
}

// addNet tells how net came from standard: its last step is the net of the document.
func (v *Invoice) addNet() error {
	net := explain.NoTotal("Net", v.Standard.Currency)
	for _, part := range append([]*explain.Total{&v.Standard}, v.Given.all()...) {
		step := explain.Step{Label: part.Explanation.Label, Steps: part.Shortened().Explanation.Steps}
		if err := net.Add(step, part.Amount); err != nil {
			return err
		}
	}
	v.FromStandard = net.Explanation
	return nil
}

func stepOf(l *Line) explain.Step { return explain.Step{Label: l.Text, Detail: l.Day.Long()} }

// addLine adds what a line gives away or brings beyond its standard value, which is what is left after
// it was written down.
func (g *FromStandard) addLine(l *Line, down store.WrittenDown) error {
	step, in := stepOf(l), l.Standard.Currency
	amount := func(minor int64) money.Amount { return money.Amount{Minor: minor, Currency: in} }
	if err := g.WrittenDown.Add(step, amount(-down.Standard)); err != nil {
		return err
	}
	switch {
	case l.Covered:
		return g.Variance.Add(step, l.Standard.Neg())
	case l.Source == "none" && l.Kind.Covers():
		return g.Variance.Add(step, l.Amount)
	case l.Source == "none":
		return g.Other.Add(step, l.Amount)
	}
	up, atNoCharge := int64(0), int64(0)
	if l.Treatment == core.NoCharge {
		atNoCharge = l.Standard.Minor
	} else {
		up = max(0, l.Amount.Minor+down.Agreed-l.WasAmount.Minor)
	}
	if err := g.WrittenUp.Add(step, amount(up)); err != nil {
		return err
	}
	given, err := core.Give(l.Standard, amount(l.Amount.Minor-up), amount(atNoCharge))
	if err != nil {
		return err
	}
	if err := g.NoCharge.Add(step, given.NoCharge); err != nil {
		return err
	}
	return g.Rates.Add(step, given.Rates)
}
