package delivery_test

import (
	"testing"

	"dorvet/internal/app/delivery"
	"dorvet/internal/app/invoices"
	"dorvet/internal/app/wip"
	"dorvet/internal/apptest"
	"dorvet/internal/store"
)

// What is disputed of a line of 100.00 (123.00 with tax) is settled by the answer: it stays, it is written down or credited by a credit
// note, or its work goes to another engagement. Common practice: a credit note takes its line's tax along.
func TestAnAnswerSettlesTheLine(t *testing.T) {
	for name, c := range map[string]struct {
		said     delivery.Answering
		open     string // of 369.00
		unbilled int    // entries at Advice
		refused  bool
	}{
		"it stays":                   {delivery.Answering{Outcome: store.Kept}, "369.00", 0, false},
		"written down to 40.00":      {delivery.Answering{Outcome: store.LineWrittenDown, Amount: "40"}, "295.20", 0, false},
		"written down to nothing":    {delivery.Answering{Outcome: store.LineWrittenDown, Amount: "0"}, "246.00", 0, false},
		"credited":                   {delivery.Answering{Outcome: store.Credited}, "246.00", 0, false},
		"moved":                      {delivery.Answering{Outcome: store.LineMoved, EngagementID: apptest.Advice}, "246.00", 1, false},
		"written down to all of it":  {delivery.Answering{Outcome: store.LineWrittenDown, Amount: "100"}, "369.00", 0, true},
		"written down to no figure":  {delivery.Answering{Outcome: store.LineWrittenDown, Amount: "much"}, "369.00", 0, true},
		"moved nowhere":              {delivery.Answering{Outcome: store.LineMoved}, "369.00", 0, true},
		"answered, neither this nor": {delivery.Answering{Outcome: store.Answered}, "369.00", 0, true},
	} {
		a := apptest.Firm(t)
		mails := apptest.Mail(a)
		contact(t, a, "A", "Ann", "ann@alder.example")
		apptest.Record(t, a, apptest.Survey, "2026-11-29", "1:00")
		inv := apptest.Issued(t, a, apptest.Survey)
		secret := apptest.Sent(t, a, mails, inv.ID)
		must(t, delivery.Say(t.Context(), a, secret, delivery.Claiming{Kind: store.Disputed, Section: 0, Line: 0, Text: "Not ours"}))
		claims, err := delivery.Claims(t.Context(), a, apptest.Admin.Actor, inv.ID)
		must(t, err)
		c.said.Version, c.said.Answer = claims[0].Version, "As we agreed"
		claims, err = delivery.Answer(t.Context(), a, apptest.Admin, inv.ID, claims[0].ID, c.said)
		if (apptest.RefusalOf(t, err) != nil) != c.refused {
			t.Errorf("%s: %v", name, err)
		}
		if err == nil && (claims[0].Outcome != c.said.Outcome || (claims[0].NoteID != 0) != (c.open != "369.00")) {
			t.Errorf("%s: %+v", name, claims[0])
		}
		now, err := invoices.One(t.Context(), a, apptest.Admin.Actor, inv.ID)
		must(t, err)
		moved, err := wip.Entries(t.Context(), a, apptest.Admin.Actor, apptest.Advice, wip.Filter{UpTo: apptest.Today})
		must(t, err)
		if now.Open.String() != c.open || len(moved.Entries) != c.unbilled || (now.Disputed != "") != c.refused {
			t.Errorf("%s: %s open, %d moved, disputed %q", name, now.Open, len(moved.Entries), now.Disputed)
		}
		apptest.Whole(t, a)
	}
}
