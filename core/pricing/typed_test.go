package pricing

import (
	"fmt"
	"strings"
	"testing"

	"dorvet/core/money"
)

func TestCellsAreReadAsTyped(t *testing.T) {
	unit := Line{Kind: PerUnit, Unit: "day"}
	for _, test := range []struct {
		line  Line
		typed string
		want  string // typed again
	}{
		{Line{Kind: Fixed}, "8,400", "8400.00"}, {Line{Kind: Fixed}, "x", "x"}, {Line{Kind: Fixed}, "-", ""},
		{Line{Kind: Fixed}, "not in it", ""},
		{Line{Kind: Fixed}, "Optional", "optional"}, {Line{Kind: Fixed}, "optional 780", "optional 780.00"},
		{Line{Kind: Fixed}, "2 at 390.5", "2 at 390.50"},
		{unit, "3", "3"}, {unit, "3 days", "3"}, {unit, "2.5 at 640", "2.5 at 640.00"}, {unit, "optional 2 ?", "optional 2 ?"},
		{unit, "at 600", "at 600.00"},
		{Line{Kind: Bands}, "3 included", "3"}, {Line{Kind: Hourly}, "26 h", "26"}, {Line{Kind: Open}, "when billed", "x"},
		{Line{Kind: Open}, "optional", "optional"},
	} {
		c, err := ParseCell(test.typed, test.line, money.Point)
		if got := c.Typed(test.line, money.Point, 2); err != nil || got != test.want {
			t.Errorf("%q on a %s line is typed again as %q, not %q, %v", test.typed, test.line.Kind, got, test.want, err)
		}
		if again, err := ParseCell(test.want, test.line, money.Point); err != nil ||
			fmt.Sprint(again.State, again.Quantity, again.Asks) != fmt.Sprint(c.State, c.Quantity, c.Asks) {
			t.Errorf("%q is read back as %+v, not %+v, %v", test.want, again, c, err)
		}
	}
	for _, test := range []struct {
		line  Line
		typed string
	}{{Line{Kind: Fixed}, "lots"}, {Line{Kind: Fixed}, "-5"}, {Line{Kind: Open}, "300"}, {Line{Kind: Bands}, "3 at 40"}, {unit, "0"}} {
		if c, err := ParseCell(test.typed, test.line, money.Point); err == nil {
			t.Errorf("%q on a %s line is %+v", test.typed, test.line.Kind, c)
		}
	}
}

func TestExpectedTimeIsReadAsTyped(t *testing.T) {
	find := func(who string) (Worker, bool) {
		w, known := map[string]Worker{"io": {PersonID: 2}, "hydrographer": {GradeID: 3}}[strings.ToLower(who)]
		return w, known
	}
	name := func(w Worker) string { return map[Worker]string{{PersonID: 2}: "IO", {GradeID: 3}: "Hydrographer"}[w] }
	for typed, want := range map[string]string{"64 h": "64", "8 IO, 40 Hydrographer": "8 IO, 40 Hydrographer",
		"IO 1:30; 2.5h hydrographer": "1.5 IO, 2.5 Hydrographer", "0:20 IO": "0:20 IO", "": ""} {
		all, err := ParseExpected(typed, money.Point, find)
		if got := TypeExpected(all, money.Point, name); err != nil || got != want {
			t.Errorf("%q is typed again as %q, not %q, %v", typed, got, want, err)
		}
	}
	for _, typed := range []string{"8 XX", "many", "-3 IO"} {
		if all, err := ParseExpected(typed, money.Point, find); err == nil {
			t.Errorf("%q is %v", typed, all)
		}
	}
}

func TestStatesOfAProposal(t *testing.T) {
	for _, test := range []struct {
		from ProposalState
		act  Act
		want ProposalState
	}{
		{Draft, Send, Sent}, {Sent, See, Seen}, {Seen, Accept, Accepted}, {Seen, Decline, Declined}, {Draft, Accept, Accepted},
		{Sent, Supersede, Superseded},
		{Accepted, Accept, ""}, {Declined, Accept, ""}, {Withdrawn, Accept, ""}, {Superseded, Accept, ""}, {Expired, Accept, ""},
		{Accepted, Withdraw, ""}, {Sent, Change, ""}, {Draft, Decline, ""},
	} {
		got, err := test.from.After(test.act)
		if (err != nil) != (test.want == "") || (err == nil && got != test.want) {
			t.Errorf("%s, %s: %s, %v", test.from, test.act, got, err)
		}
	}
	lastDay := on("2026-12-31")
	if Sent.On(lastDay, lastDay) != Sent || Sent.On(lastDay+1, lastDay) != Expired || Accepted.On(lastDay+1, lastDay) != Accepted ||
		Draft.On(lastDay+1, lastDay) != Draft {
		t.Error("a proposal is good on its last day and expires on the next, if it is out")
	}
}
