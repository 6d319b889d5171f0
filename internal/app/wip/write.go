package wip

import (
	"errors"

	"dorvet/core/money"
	core "dorvet/core/wip"
	"dorvet/internal/app"
	"dorvet/internal/store"
)

// write writes portions down or up together, or divides them: the parts that come
// off are written down, or stay unbilled.
func (t *taking) write(portions []*store.Portion) error {
	currency := portions[0].Currency
	pieces := make([]core.Piece, len(portions))
	for i, p := range portions {
		switch {
		case p.Currency != currency:
			return app.Refuse(app.Conflict, "These entries are in %s and %s: take them one currency at a time.", currency, p.Currency)
		case p.Covered:
			return app.Refuse(app.Conflict, "A fee covers this, so that it has no value of its own on the bill. Write it off, or bill "+
				"another part of the fee.")
		case p.WithoutRate && t.d.To == "hours":
			return app.Refuse(app.Conflict, "No rate holds for this yet: set one, or give an amount.")
		}
		pieces[i] = p.Piece()
	}
	target, err := t.d.target(t.tx.DB, currency)
	if err != nil {
		return err
	}
	if t.d.Kind == DivideIt {
		return t.divide(portions, target)
	}
	written, err := target.Written(pieces, currency)
	if errors.Is(err, core.ErrNoValue) {
		return app.RefuseField("to", "What is chosen has no hours or no value to share by: give an amount.")
	}
	if err != nil {
		return app.InField("value", err)
	}
	for i, p := range portions {
		rate := target.PerHour
		if target.Minutes != nil { // fewer hours at the rate that holds
			if rate, err = t.rateOf(p); err != nil {
				return err
			}
		}
		if err := t.writeTo(p, written[i], rate); err != nil {
			return err
		}
	}
	if !t.up && !t.down {
		return app.RefuseField("value", "It comes to that already: nothing would change.")
	}
	return nil
}

// rateOf is the rate at which a portion is billed: none for an expense.
func (t *taking) rateOf(p *store.Portion) (*money.Rate, error) {
	if p.Source != "time" || p.OwnRate != nil {
		return p.OwnRate, nil
	}
	entry, err := store.Get[store.TimeEntry](t.tx.DB, p.SourceID)
	if err != nil {
		return nil, err
	}
	perHour, ok := entry.Valued.Rate.PerHour()
	if !ok || entry.Valued.Flat != nil {
		return nil, nil
	}
	return &perHour, nil
}

// writeTo writes a portion down or up to what it is to come to.
func (t *taking) writeTo(p *store.Portion, to core.Piece, rate *money.Rate) error {
	was := valueOf(p)
	words := "from " + was.String() + " to " + money.Amount{Minor: to.Agreed, Currency: p.Currency}.String()
	switch {
	case to.Agreed < p.Agreed:
		return t.writeDown(p, to, rate, words)
	case to.Agreed > p.Agreed:
		if t.d.Stays {
			return app.RefuseField("value", "That is more than it is worth: nothing would stay unbilled.")
		}
		t.up = true
		before, up, upMinutes := *p, to.Agreed-p.Agreed, to.Minutes-p.Minutes
		t.adjust(p, up, upMinutes, "written_up")
		p.OwnRate, p.WithoutRate = rate, false
		t.thenSave(p, before, up, upMinutes, "written up "+words)
	}
	return nil
}

func (t *taking) writeDown(p *store.Portion, to core.Piece, rate *money.Rate, words string) error {
	t.down = true
	left, off, err := p.Piece().Less(to)
	if err != nil {
		return err
	}
	before := *p
	p.OwnRate, p.Minutes, p.Standard, p.Agreed = rate, left.Minutes, left.Standard, left.Agreed
	t.then(func() error { return t.takeOff(p, before, left, off, rate, words) })
	return nil
}

// takeOff divides a portion, as it was before, into what is left of it and what comes off:
// that is written off, or stays unbilled by itself.
func (t *taking) takeOff(p *store.Portion, before store.Portion, left, off core.Piece, rate *money.Rate, words string) error {
	*p = before
	p.OwnRate = rate
	rest, err := Divide(t.tx, p, left, off)
	if err != nil {
		return err
	}
	if t.d.Stays {
		return t.apart(before, rest, "only "+valueOf(p).String()+" of "+valueOf(&before).String()+", the rest stays")
	}
	from := rest.Bucket()
	if rest.Billing, err = rest.Billing.After(core.WriteOff); err != nil {
		return err
	}
	rest.WrittenDown = true
	t.tx.Move("written_down", t.tx.Today, *rest, from, rest.Bucket(), nil)
	if err := store.Save(t.tx.DB, rest); err != nil {
		return err
	}
	return t.decided(before, rest, 0, 0, "written down "+words)
}

// apart keeps a part that came off from being joined by itself.
func (t *taking) apart(before store.Portion, rest *store.Portion, words string) error {
	rest.Apart, rest.OwnRate = rest.Part, nil
	if err := store.Save(t.tx.DB, rest); err != nil {
		return err
	}
	return t.decided(before, rest, 0, 0, words)
}

// divide makes two parts of each portion, both unbilled.
func (t *taking) divide(portions []*store.Portion, at core.Target) error {
	for _, p := range portions {
		first, rest, err := core.Piece{}, core.Piece{}, error(nil)
		switch {
		case at.Minutes != nil && (*at.Minutes <= 0 || *at.Minutes >= p.Minutes):
			return app.RefuseField("value", "An entry of %s is divided at less than all of its hours: give hours between.",
				p.WorkedDay.Long())
		case at.Minutes != nil:
			first, rest, err = p.Piece().CutAt(*at.Minutes)
		case at.Amount.Minor <= 0 || at.Amount.Minor >= p.Agreed:
			return app.RefuseField("value", "An entry of %s is divided at less than its %s: give an amount between.", p.WorkedDay.Long(),
				valueOf(p))
		default:
			first, rest, err = p.Piece().Cut(at.Amount.Minor)
		}
		if err != nil {
			return err
		}
		before := *p
		p.Minutes, p.Standard, p.Agreed = first.Minutes, first.Standard, first.Agreed
		t.then(func() error {
			*p = before
			off, err := Divide(t.tx, p, first, rest)
			if err != nil {
				return err
			}
			return t.apart(before, off, "divided into "+valueOf(p).String()+" and "+valueOf(off).String())
		})
	}
	return nil
}
