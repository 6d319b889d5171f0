package funds

import (
	"math/rand/v2"
	"testing"

	"dorvet/core/day"
)

// The example of [Reconcile], and a deposit in transit, a fee of the bank, an entry that nobody has said anything of. Source: common practice
// for three-way reconciliations of client money: outstanding items by name.
func TestDifferencesByName(t *testing.T) {
	d := day.Of(2026, 11, 1)
	entries := []Booked{{ID: 1, Day: d, Minor: 1000_00, Of: []int64{1}}, {ID: 2, Day: d + 5, Minor: -5_00, Text: "fee", Aside: true},
		{ID: 3, Day: d + 6, Minor: 20_00, Text: "from somebody"}, {ID: 4, Day: d + 9, Minor: 50_00, Of: []int64{3}}}
	events := []Event{{ID: 1, Day: d, Minor: 1000_00}, {ID: 2, Day: d + 3, Minor: -300_00, Text: "bill", Transfer: true},
		{ID: 3, Day: d + 7, Minor: 50_00, Text: "deposit"}, {ID: 4, Day: d + 7, Minor: 70_00, Text: "cheque", On: "Current"}}
	r := Reconcile(0, entries, events, d+8)
	if r.Bank != 1015_00 || r.Ledger != 820_00 {
		t.Errorf("%+v", r)
	}
	want := map[Why]int64{NotMade: 300_00, Aside: -5_00, Unsaid: 20_00, NotYet: -50_00, Elsewhere: -70_00}
	for _, one := range r.Differences {
		if want[one.Why] != one.Minor {
			t.Errorf("%+v", one)
		}
		delete(want, one.Why)
	}
	if len(want) > 0 {
		t.Errorf("missing: %v", want)
	}
	if after := Reconcile(0, entries, events, d+9); len(after.Differences) != 4 {
		t.Errorf("the deposit arrived: %+v", after)
	}
}

// What was recorded and reversed before the bank knew of it is no difference; the opening balance has what was settled before.
func TestWhatIsNoDifference(t *testing.T) {
	d := day.Of(2026, 11, 1)
	r := Reconcile(500_00, nil, []Event{{ID: 1, Day: d - 40, Minor: 500_00, Before: true}, {ID: 2, Day: d, Minor: 80_00, Text: "x"},
		{ID: 3, Day: d + 1, Minor: -80_00, Text: "x"}}, d+2)
	if len(r.Differences) != 0 || r.Bank != r.Ledger {
		t.Errorf("%+v", r)
	}
	r = Reconcile(510_00, nil, []Event{{ID: 1, Day: d - 40, Minor: 500_00, Before: true}}, d)
	if len(r.Differences) != 1 || r.Differences[0].Why != FromBefore || r.Differences[0].Minor != 10_00 {
		t.Errorf("%+v", r)
	}
}

// Property: whatever happened, in whatever order, bank less differences is the ledger, on every day.
func TestBankLessDifferencesIsTheLedger(t *testing.T) {
	random := rand.New(rand.NewPCG(3, 1))
	start := day.Of(2026, 1, 1)
	for range 2_000 {
		events, entries := []Event{}, []Booked{}
		for id := range int64(random.IntN(30)) {
			events = append(events, Event{ID: id + 1, Day: start.AddDays(random.IntN(60)), Minor: random.Int64N(2001) - 1000,
				Transfer: random.IntN(2) == 0, Before: random.IntN(5) == 0, Text: []string{"a", "b"}[random.IntN(2)]})
		}
		left := random.Perm(len(events))
		for id := range int64(random.IntN(25)) {
			e := Booked{ID: id + 1, Day: start.AddDays(random.IntN(60)), Aside: random.IntN(2) == 0}
			for range min(random.IntN(3), len(left)) {
				v := events[left[0]]
				e.Of, e.Minor, left = append(e.Of, v.ID), e.Minor+v.Minor, left[1:]
			}
			if len(e.Of) == 0 || random.IntN(20) == 0 {
				e.Minor += random.Int64N(2001) - 1000
			}
			entries = append(entries, e)
		}
		opening, on := random.Int64N(5000), start.AddDays(random.IntN(70))
		r := Reconcile(opening, entries, events, on)
		bank, ledger, differences := opening, int64(0), int64(0)
		for _, e := range entries {
			if e.Day <= on {
				bank += e.Minor
			}
		}
		for _, v := range events {
			if v.Day <= on {
				ledger += v.Minor
			}
		}
		for _, d := range r.Differences {
			differences += d.Minor
		}
		if r.Bank != bank || r.Ledger != ledger || r.Bank-differences != r.Ledger {
			t.Fatalf("%d and %d, %+v", bank, ledger, r)
		}
	}
}
