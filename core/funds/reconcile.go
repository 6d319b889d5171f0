package funds

import (
	"cmp"
	"slices"

	"dorvet/core/day"
)

// Booked is an entry of the bank on the clients' account, in minor units; negative: it went out.
type Booked struct {
	ID    int64
	Day   day.Day
	Minor int64
	Of    []int64 // the events that it is; none: nobody has said, or it is nothing of clients
	Text  string
	Aside bool // somebody has said that it is nothing of clients
}

// Event is something that changed what is held for clients, in minor units; negative: it left. Each is at most one entry's.
type Event struct {
	ID       int64
	Day      day.Day
	Minor    int64
	Text     string
	Transfer bool   // to the firm's account, because a bill took it; else it came in, or was refunded
	Made     bool   // somebody has said by the day that the transfer is made
	Before   bool   // it was settled before the first statement, whose opening balance has it
	On       string // the other account on which it came; or nothing
}

// Why is why the bank and the ledger differ by something.
type Why string

// The reasons.
const (
	Unsaid     Why = "unsaid"      // an entry of which nobody has said what it is
	Aside      Why = "aside"       // an entry that is nothing of clients
	Later      Why = "later"       // at the bank by that day, in the ledger on a later one
	NotYet     Why = "not_yet"     // in the ledger by that day, at the bank later, or not at all yet
	Elsewhere  Why = "elsewhere"   // it came on another account, and is to be moved
	NotMade    Why = "not_made"    // a transfer to the firm's account that is not made
	FromBefore Why = "from_before" // from before the first statement
)

// Difference is something by which the bank has more than the ledger; negative: less.
type Difference struct {
	Why   Why
	Day   day.Day
	Minor int64
	Text  string
	ID    int64 // of the entry or event; 0: of none
}

// Reconciled is what the bank, the ledger and the differences between them come to on a day: bank less differences is the ledger.
type Reconciled struct {
	Bank, Ledger int64
	Differences  []Difference // by day
}

// Reconcile explains how the bank's balance of the clients' account and the ledger differ at the end of a day, by what a statement opened with,
// its entries since, and what changed what is held.
//
//	1,000.00 came in, both know it; a bill took 300.00, the transfer is not made: bank 1,000.00, ledger 700.00, not made 300.00
//
// Source: rules of this product, the bank; three-way reconciliation of client money is common practice.
func Reconcile(opening int64, entries []Booked, events []Event, on day.Day) Reconciled {
	r := Reconciled{Bank: opening}
	of, booked := map[int64]*Event{}, map[int64]day.Day{}
	for i := range events {
		of[events[i].ID] = &events[i]
	}
	for _, e := range entries {
		for _, id := range e.Of {
			booked[id] = e.Day
		}
		if e.Day > on {
			continue
		}
		r.Bank += e.Minor
		r.entry(e, of, on)
	}
	before := opening
	for _, v := range events {
		if v.Day > on {
			continue
		}
		r.Ledger += v.Minor
		at, is := booked[v.ID]
		switch {
		case is && at <= on:
		case !is && v.Before:
			before -= v.Minor
		default:
			r.event(v, at, is)
		}
	}
	r.Differences = withoutPairs(r.Differences)
	if before != 0 {
		r.Differences = append(r.Differences, Difference{Why: FromBefore, Minor: before})
	}
	slices.SortStableFunc(r.Differences, func(a, b Difference) int { return cmp.Compare(a.Day, b.Day) })
	return r
}

// entry adds what of an entry up to the day is not in the ledger by then.
func (r *Reconciled) entry(e Booked, of map[int64]*Event, on day.Day) {
	left := e.Minor
	for _, id := range e.Of {
		v := of[id]
		if v == nil {
			continue
		}
		left -= v.Minor
		if v.Day > on {
			r.Differences = append(r.Differences, Difference{Later, e.Day, v.Minor, v.Text, v.ID})
		}
	}
	if left == 0 {
		return
	}
	why := Unsaid
	if e.Aside {
		why = Aside
	}
	r.Differences = append(r.Differences, Difference{why, e.Day, left, e.Text, e.ID})
}

// event adds what is in the ledger and not at the bank by the day.
func (r *Reconciled) event(v Event, at day.Day, booked bool) {
	why := NotYet
	switch {
	case v.On != "":
		why = Elsewhere
	case v.Transfer && !booked && !v.Made:
		why = NotMade
	}
	r.Differences = append(r.Differences, Difference{why, v.Day, -v.Minor, v.Text, v.ID})
}

// withoutPairs leaves out what came to nothing: recorded and taken back before the bank knew of it.
func withoutPairs(all []Difference) []Difference {
	left := []Difference{}
	for _, d := range all {
		twin := slices.IndexFunc(left, func(o Difference) bool {
			return o.Why == d.Why && d.Why != Unsaid && d.Why != Aside && o.Minor == -d.Minor && o.Text == d.Text
		})
		if twin >= 0 {
			left = slices.Delete(left, twin, twin+1)
		} else {
			left = append(left, d)
		}
	}
	return left
}
