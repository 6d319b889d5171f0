package timekeeping

import (
	"regexp"
	"slices"
	"strings"

	"dorvet/core/money"
	"dorvet/core/rate"
	"dorvet/core/wip"
	"dorvet/internal/app"
	"dorvet/internal/store"
)

// pointNumber is how the pages give a number back that they were shown: digits
// after a point are no thousands, whatever the firm's mark.
var pointNumber = regexp.MustCompile(`^-?\d+\.\d{4}$`)

func number(typed string, firm *store.Firm, decimals int) (int64, error) {
	mark := firm.Mark()
	if pointNumber.MatchString(typed) {
		typed, mark = strings.TrimRight(typed, "0"), money.Point
		typed = strings.TrimSuffix(typed, ".")
	}
	return money.ParseFixed(strings.TrimSuffix(strings.TrimSpace(typed), "%"), mark, decimals)
}

// mayPrice reports whether somebody sets rates and amounts of single entries on
// an engagement.
func mayPrice(actor app.Actor, e *store.Engagement) bool {
	return actor.Role == app.Administrator || actor.Role == app.Lead && actor.Scope().Sees(e)
}

// priced puts what is typed on the entry itself above all rates: a rate of its
// own, a mark-up, a flat amount. Leads set them on engagements that they lead.
func priced(actor app.Actor, firm *store.Firm, work *wip.Work, e *store.Engagement, in TypedEntry, before *store.TimeEntry) error {
	if !actor.SeesValues() {
		for _, typed := range [][2]string{{"perHour", in.PerHour}, {"markup", in.Markup}, {"flat", in.Flat},
			{"rateFrom", newlyFrom(in, before)}} {
			if strings.TrimSpace(typed[1]) != "" {
				return app.InField(typed[0], errNotPriced("Rates, mark-ups and flat amounts"))
			}
		}
		if before != nil {
			asBefore(work, before)
		}
		return nil
	}
	if newlyFrom(in, before) != "" && !mayPrice(actor, e) {
		return app.InField("rateFrom", errNotPriced("From which level a rate is taken"))
	}
	for _, p := range []struct {
		field, typed, words string
		decimals            int
		take                func(int64)
	}{
		{"perHour", in.PerHour, "A rate of its own", 4, func(n int64) {
			own := rate.Row{Level: rate.Entry, Subject: "itself", From: in.Day, PerHour: money.Rate(n), Currency: e.Currency}
			work.Agreed = work.Agreed.Beat(own)
		}},
		{"markup", in.Markup, "A mark-up", 4, func(n int64) { work.Markup = money.Percent(n) }},
		{"flat", in.Flat, "A flat amount", decimalsOf(e.Currency),
			func(n int64) { work.Flat = &money.Amount{Minor: n, Currency: e.Currency} }},
	} {
		if strings.TrimSpace(p.typed) == "" {
			continue
		}
		if !mayPrice(actor, e) && !(before != nil && sameAsBefore(p.field, p.typed, firm, before)) {
			return app.InField(p.field, errNotPriced(p.words))
		}
		n, err := number(p.typed, firm, p.decimals)
		if err != nil {
			return app.InField(p.field, err)
		}
		if n < 0 && p.field == "perHour" {
			return app.RefuseField(p.field, "%q is negative: give a rate of 0 or more.", p.typed)
		}
		p.take(n)
	}
	return nil
}

// newlyFrom is a level that was chosen now.
func newlyFrom(in TypedEntry, before *store.TimeEntry) string {
	if before != nil && before.RateFrom == in.RateFrom {
		return ""
	}
	return in.RateFrom
}

// errNotPriced refuses what only those set who price an engagement.
func errNotPriced(what string) error {
	return app.Refuse(app.Invalid, "%s: only the lead of the engagement or an administrator sets this. Leave it as it is.", what)
}

func decimalsOf(c money.Currency) int {
	decimals, err := c.Decimals()
	if err != nil {
		return 2
	}
	return decimals
}

// asBefore leaves what was set on the entry itself.
func asBefore(work *wip.Work, before *store.TimeEntry) {
	if won := before.Valued.Rate.Won; won != nil && won.Level == rate.Entry && won.Currency == work.Currency {
		work.Agreed = work.Agreed.Beat(*won)
	}
	work.Markup = before.Markup
	if before.Flat != nil && before.Currency == work.Currency {
		work.Flat = &money.Amount{Minor: *before.Flat, Currency: before.Currency}
	}
}

// sameAsBefore reports whether a typed value is the one that the entry has.
func sameAsBefore(field, typed string, firm *store.Firm, before *store.TimeEntry) bool {
	is := func(value int64, decimals int) bool {
		n, err := number(typed, firm, decimals)
		return err == nil && n == value
	}
	switch field {
	case "markup":
		return is(int64(before.Markup), 4)
	case "flat":
		return before.Flat != nil && is(*before.Flat, decimalsOf(before.Currency))
	}
	won := before.Valued.Rate.Won
	return won != nil && won.Level == rate.Entry && is(int64(won.PerHour), 4)
}

// keptRates leaves an entry the rates with which it was saved, as long as whose
// work it is, on what and when stay the same; else those that hold are found.
func keptRates(tx *store.DB, work *wip.Work, e *store.Engagement, in TypedEntry, before *store.TimeEntry) error {
	if before != nil && sameSubject(before, in) && before.RateFrom == in.RateFrom &&
		before.Valued.Rate.Won != nil && before.Valued.Rate.Won.Level != rate.Entry {
		work.Agreed, work.Standard = before.Valued.Rate, before.Valued.StandardRate
		return nil
	}
	return atRates(tx, work, e, in)
}

// sameSubject reports whether an entry stays with whom, on what and when it was.
func sameSubject(before *store.TimeEntry, in TypedEntry) bool {
	return before.PersonID == in.PersonID && before.EngagementID == in.EngagementID && before.ServiceID == in.ServiceID &&
		before.Day == in.Day && numberOf(before.PhaseID) == in.PhaseID
}

func numberOf(id *int64) int64 {
	if id == nil {
		return 0
	}
	return *id
}

// atRates finds the rates that hold for work on its day.
func atRates(tx *store.DB, work *wip.Work, e *store.Engagement, in TypedEntry) error {
	rows, err := store.RatesFor(tx, store.RateSubject{Kind: "bill", Currency: e.Currency, ServiceID: in.ServiceID, PersonID: in.PersonID,
		EngagementID: e.ID, PhaseID: in.PhaseID})
	if err != nil {
		return err
	}
	work.Agreed, work.Standard = rate.Resolve(in.Day, e.Currency, rows), rate.Standard(in.Day, e.Currency, rows)
	if in.RateFrom == "" {
		return nil
	}
	level := rate.LevelNamed(in.RateFrom)
	if !slices.ContainsFunc(work.Agreed.All(), func(row rate.Row) bool { return row.Level == level }) {
		return app.RefuseField("rateFrom", "There is no rate of the %s for this: take one that there is.", in.RateFrom)
	}
	work.Agreed = work.Agreed.Prefer(level)
	return nil
}
