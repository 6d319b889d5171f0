package pricing

import (
	"strings"
	"testing"

	"dorvet/core/money"
)

func TestWhatStandsUnderALineIsReadAsTyped(t *testing.T) {
	for _, test := range []struct {
		was         Line
		typed, want string
		kind        Kind
	}{
		{Line{Kind: Fixed}, "each quarter in arrears", "each quarter, in arrears", Fixed},
		{Line{Kind: Fixed}, "open, priced when billed", "open, priced when billed", Open},
		{Line{Kind: Open}, "on acceptance", "on acceptance", Fixed},
		{Line{Kind: Fixed}, "per call: first 2 at 1,450, then 1,200", "per call: first 2 at 1450.00, then 1200.00; by hand", Bands},
		{Line{Kind: Fixed}, "per call: first 2 at 1,450, rest at 1,200; on acceptance",
			"per call: first 2 at 1450.00, then 1200.00; on acceptance", Bands},
		{Line{Kind: Fixed}, "640 per day; on acceptance", "640.00 per day; on acceptance", PerUnit},
		{Line{Kind: Fixed}, "per sample at 85.50; each month", "85.50 per sample; each month, in advance", PerUnit},
		{Line{Kind: Fixed}, "120 an hour; as worked", "120.00 an hour; as worked", Hourly},
		{Line{Kind: Fixed}, "hourly at 120; as worked", "120.00 an hour; as worked", Hourly},
		{Line{Kind: Fixed, Rule: Rule{When: OnAcceptance}}, "12 per unit", "12.00 per unit; on acceptance", PerUnit},
		{Line{Kind: PerUnit, Unit: "day", Price: price("640")}, "each month", "640.00 per day; each month, in advance", PerUnit},
		{Line{Kind: Hourly, Price: price("95")}, "on acceptance", "95.00 an hour; on acceptance", Hourly},
	} {
		l := test.was
		if err := l.Hear(test.typed, money.Point, today); err != nil || l.Kind != test.kind || l.Say(money.Point, 2) != test.want {
			t.Errorf("%q is a %s line and reads %q, not %q: %v", test.typed, l.Kind, l.Say(money.Point, 2), test.want, err)
			continue
		}
		again := test.was
		if err := again.Hear(test.want, money.Point, today); err != nil || again.Say(money.Point, 2) != test.want || again.Kind != l.Kind {
			t.Errorf("%q is read back as %q, %v", test.want, again.Say(money.Point, 2), err)
		}
	}
	for typed, want := range map[string]string{"whatever; on acceptance": "before the semicolon", "640 per day; someday": "someday",
		"per call: many": "price band"} {
		l := Line{Kind: Fixed}
		if err := l.Hear(typed, money.Point, today); err == nil || !strings.Contains(err.Error(), want) {
			t.Errorf("%q: %v", typed, err)
		}
	}
}

func TestTheClientReadsNothingThatIsOnlyForTheFirm(t *testing.T) {
	for _, test := range []struct{ typed, want string }{
		{"each month, in advance, by hand, paused", "each month, in advance"}, {"by hand", "billed when it is done"},
		{"open", "priced when billed"},
		{"half deposit, the rest by hand", "50 % as deposit on acceptance, the rest when it is done"},
		{"85 per sample; by hand", "85.00 per sample; billed when it is done"},
		{"per call: first 2 at 1450, then 1200", "first 2 at 1,450.00, then 1,200.00 each; billed when it is done"},
	} {
		l := Line{Kind: Fixed}
		if err := l.Hear(test.typed, money.Point, today); err != nil || l.ForClient(2) != test.want {
			t.Errorf("%q reads %q, %v", test.typed, l.ForClient(2), err)
		}
	}
}
