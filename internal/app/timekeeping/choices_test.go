package timekeeping_test

import (
	"fmt"
	"slices"
	"testing"

	"dorvet/internal/app/timekeeping"
	"dorvet/internal/apptest"
	"dorvet/internal/store"
)

func TestEngagementsAreFoundByWhatIsTyped(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Record(t, a, apptest.Study, "2026-11-02", "1h")
	apptest.Record(t, a, apptest.Advice, "2026-11-03", "1h")
	apptest.Set(t, a, "engagements", apptest.Survey, "closed", "2026-11-01")
	for _, c := range []struct {
		why  string
		s    timekeeping.Seeking
		want []int64
	}{
		{"the last ones first", timekeeping.Seeking{}, []int64{apptest.Advice, apptest.Study, apptest.Survey}},
		{"open ones alone", timekeeping.Seeking{Open: true}, []int64{apptest.Advice, apptest.Study}},
		{"words of client and engagement", timekeeping.Seeking{Text: "adv ALD"}, []int64{apptest.Advice}},
		{"every word", timekeeping.Seeking{Text: "advice birch"}, nil},
		{"the code", timekeeping.Seeking{Text: "3"}, []int64{apptest.Study}},
		{"a sign that SQL knows", timekeeping.Seeking{Text: "%"}, nil},
		{"of a client", timekeeping.Seeking{ClientIDs: []int64{1}}, []int64{apptest.Advice, apptest.Survey}},
		{"by number, closed or not", timekeeping.Seeking{IDs: []int64{apptest.Survey}, Open: true}, []int64{apptest.Survey}},
	} {
		found, err := timekeeping.EngagementChoices(t.Context(), a, apptest.Staff.Actor, c.s)
		var ids []int64
		for _, e := range found {
			ids = append(ids, e.EngagementID)
		}
		if err != nil || !slices.Equal(ids, c.want) {
			t.Errorf("%s: %v in place of %v, %v", c.why, ids, c.want, err)
		}
	}
	clients, err := timekeeping.ClientChoices(t.Context(), a, apptest.Staff.Actor, timekeeping.Seeking{Text: "bir"})
	if err != nil || len(clients) != 1 || clients[0].Name != "Birch" {
		t.Errorf("%v, %v", clients, err)
	}
}

// Of very many no more are sent than one reads through; each is found by its name.
func TestNoMoreIsSentThanIsReadThrough(t *testing.T) {
	a := apptest.Firm(t)
	for n := range store.MostChoices + 20 {
		apptest.Add(t, a, "engagements", "client", "A", "name", fmt.Sprintf("Berth %03d", n), "lead", "AA", "code", fmt.Sprintf("B%03d", n),
			"opened", "2026-01-01")
	}
	all, err := timekeeping.EngagementChoices(t.Context(), a, apptest.Staff.Actor, timekeeping.Seeking{})
	if err != nil || len(all) != store.MostChoices {
		t.Errorf("%d engagements, %v", len(all), err)
	}
	last, err := timekeeping.EngagementChoices(t.Context(), a, apptest.Staff.Actor, timekeeping.Seeking{Text: "berth 219"})
	if err != nil || len(last) != 1 {
		t.Errorf("%v, %v", last, err)
	}
}
