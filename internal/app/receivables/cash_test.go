package receivables_test

import (
	"testing"

	"dorvet/core/money"
	"dorvet/internal/app/receivables"
	"dorvet/internal/apptest"
	"dorvet/internal/store"
)

// What is owed stands once: in a week, beyond, or disputed; together it is what the desk says. What is promised comes on its day.
func TestCashToComeIsWhatIsOwed(t *testing.T) {
	c := collect(t)
	apptest.Issued(t, c.App, apptest.Study)
	read := func() *receivables.CashToCome {
		t.Helper()
		cash, err := receivables.ToCome(t.Context(), c.App, apptest.Admin.Actor)
		if err != nil {
			t.Fatal(err)
		}
		sum, weeks := int64(0), append([]receivables.CashPart{}, append(cash.Beyond, cash.Disputed...)...)
		for i := range cash.Weeks {
			expected, err := money.Sum("EUR", cash.Weeks[i].Expected...)
			if err != nil {
				t.Fatal(err)
			}
			for _, p := range cash.Weeks[i].Parts {
				expected.Minor -= p.Amount.Minor
			}
			if expected.Minor != 0 {
				t.Errorf("week %d is %s off from its parts", i, expected)
			}
			weeks = append(weeks, cash.Weeks[i].Parts...)
		}
		for _, p := range weeks {
			sum += p.Amount.Minor
		}
		owed, err := receivables.Owed(t.Context(), c.App, apptest.Admin.Actor, receivables.Filter{})
		if err != nil || len(cash.Owed) != 1 || sum != cash.Owed[0].Minor || sum != owed.Total.Amount.Minor {
			t.Errorf("%d is not %+v, %v", sum, cash.Owed, err)
		}
		return cash
	}
	c.late(-10)
	last := func(cash *receivables.CashToCome) receivables.CashBy { return cash.Weeks[len(cash.Weeks)-1].By }
	if cash := read(); len(cash.Beyond) != 0 || last(cash).Mid.Minor != 24_600+19_680 || last(cash).Early != last(cash).Mid {
		t.Errorf("%+v", cash)
	}
	c.late(3) // nobody has a habit yet: what is late is later than ever
	if cash := read(); len(cash.Beyond) != 2 || last(cash).Mid.Minor != 0 {
		t.Errorf("%+v", cash)
	}
	if err := receivables.RecordCall(t.Context(), c.App, apptest.Admin, receivables.Calling{ClientID: 1, Outcome: store.Promised,
		Promised: c.Clock.Today().AddDays(8)}); err != nil {
		t.Fatal(err)
	}
	cash := read()
	if len(cash.Beyond) != 1 || len(cash.Weeks[2].Parts) != 1 || !cash.Weeks[2].Parts[0].Promised || cash.Weeks[1].By.Mid.Minor != 0 ||
		cash.Weeks[2].By.Mid.Minor != 24_600 {
		t.Errorf("%+v", cash)
	}
}
