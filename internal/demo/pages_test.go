package demo

import (
	"slices"
	"testing"

	"dorvet/core/day"
	"dorvet/core/explain"
	"dorvet/core/money"
	"dorvet/internal/app"
	"dorvet/internal/app/invoices"
	"dorvet/internal/app/timekeeping"
)

// The pages of the register, put together, are the register, whatever is asked for and in
// whichever order; what the first page says that all of it comes to is the sum of its rows.
func TestPagesOfTheRegisterAreTheRegister(t *testing.T) {
	a := outside()
	a.Store, a.Clock = seeded(t), app.PinnedClock{Date: Today}
	filters := []invoices.Filter{{}, {State: "late"}, {State: "open", Order: "due"}, {Order: "client", Text: "wh"}, {AtLeast: "2,500"},
		{From: day.Of(2026, 10, 1), To: day.Of(2026, 10, 31), Order: "number"}, {LeadID: 2, Order: "open"}, {Text: "no such word"}}
	for _, by := range []string{"number", "client", "dated", "due", "late", "net", "tax", "total", "open"} {
		filters = append(filters, invoices.Filter{By: by}, invoices.Filter{By: by, Down: true})
	}
	for _, f := range filters {
		all, err := invoices.Register(t.Context(), &a, app.Actor{PersonID: 1, Role: app.Administrator}, f)
		if err != nil {
			t.Fatalf("%+v: %v", f, err)
		}
		var first *invoices.RegisterPart
		read := []invoices.Summary{}
		for offset := 0; ; offset += 40 {
			page, err := invoices.RegisterPage(t.Context(), &a, app.Actor{PersonID: 1, Role: app.Administrator}, f, offset, 40)
			if err != nil {
				t.Fatalf("%+v: %v", f, err)
			}
			if first == nil {
				first = page
			}
			if read = append(read, page.Invoices...); len(page.Invoices) < 40 {
				break
			}
		}
		if !slices.Equal(read, all) {
			t.Errorf("%+v: the pages have %d rows, the register %d, or others", f, len(read), len(all))
		}
		late := 0
		for _, one := range all {
			if one.DaysLate > 0 {
				late++
			}
		}
		if first.Total != len(all) || first.Late != late {
			t.Errorf("%+v: the first page says %d, late %d; there are %d, late %d", f, first.Total, first.Late, len(all), late)
		}
		for _, sum := range []struct {
			said explain.Totals
			of   func(invoices.Summary) money.Amount
		}{{first.Net, func(s invoices.Summary) money.Amount { return s.Net }}, {first.Tax, func(s invoices.Summary) money.Amount { return s.Tax }},
			{first.Gross, func(s invoices.Summary) money.Amount { return s.Total }},
			{first.Open, func(s invoices.Summary) money.Amount { return s.Open }}} {
			rest := map[money.Currency]int64{}
			for _, total := range sum.said {
				rest[total.Currency] += total.Minor
			}
			for _, one := range all {
				rest[sum.of(one).Currency] -= sum.of(one).Minor
			}
			for currency, minor := range rest {
				if minor != 0 {
					t.Errorf("%+v: a sum is off by %d %s", f, minor, currency)
				}
			}
		}
	}
	big := 0
	all, err := invoices.Register(t.Context(), &a, app.Actor{PersonID: 1, Role: app.Administrator}, invoices.Filter{})
	for _, one := range all { // in yen as in euros: each in its own units
		if is, err := one.Total.AtLeast(2500_0000); is && err == nil {
			big++
		}
	}
	if some, told := invoices.Register(t.Context(), &a, app.Actor{PersonID: 1, Role: app.Administrator}, filters[4]); err != nil ||
		told != nil || len(some) != big || big == len(all) {
		t.Errorf("%d of %d come to 2,500 or more, %d are found, %v, %v", big, len(all), len(some), err, told)
	}
	if some, err := invoices.Register(t.Context(), &a, app.Actor{PersonID: 1, Role: app.Administrator}, filters[3]); err != nil ||
		len(some) == 0 || len(some) > 200 {
		t.Errorf("words find %d, %v", len(some), err)
	}
}

// What time comes to over whole months is kept by month, other days are added up entry by entry: both are the same,
// of all engagements and of one client's.
func TestTimeByMonthIsTimeByDay(t *testing.T) {
	a := outside()
	a.Store, a.Clock = seeded(t), app.PinnedClock{Date: Today}
	found := func(f timekeeping.Filter) *timekeeping.WorkPage {
		page, err := timekeeping.Find(t.Context(), &a, app.Actor{PersonID: 1, Role: app.Administrator}, f, 0, 1)
		if err != nil {
			t.Fatal(err)
		}
		return page
	}
	for _, clients := range [][]int64{nil, {3}} {
		for from := day.Of(2026, 8, 1); from < Today; from = from.AddMonths(1) {
			f := timekeeping.Filter{From: from, To: from.EndOfMonth(), Clients: clients}
			whole, half := found(f), f
			half.To = from.AddDays(14)
			first := found(half)
			half.From, half.To = from.AddDays(15), from.EndOfMonth()
			second := found(half)
			if whole.Total != first.Total+second.Total || whole.Minutes != first.Minutes+second.Minutes ||
				whole.Expected != first.Expected+second.Expected {
				t.Errorf("%s of %v: %d entries, %d minutes; by days %d, %d", from, clients, whole.Total, whole.Minutes,
					first.Total+second.Total, first.Minutes+second.Minutes)
			}
			rest := map[money.Currency]int64{}
			for _, v := range whole.Values {
				rest[v.Currency] += v.Minor
			}
			for _, v := range slices.Concat(first.Values, second.Values) {
				rest[v.Currency] -= v.Minor
			}
			for currency, minor := range rest {
				if minor != 0 {
					t.Errorf("%s of %v: off by %d %s", from, clients, minor, currency)
				}
			}
		}
	}
	if all := found(timekeeping.Filter{}); all.Total < 2000 {
		t.Errorf("the firm has %d entries", all.Total)
	}
}
