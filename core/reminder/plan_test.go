package reminder

import (
	"math/rand/v2"
	"testing"

	"dorvet/core/day"
)

func TestAPlanIsReadAsItIsTyped(t *testing.T) {
	for typed, kept := range map[string]string{
		"":                                      "",
		"14":                                    "14",
		" 30 days late ,firm":                   "!",
		"30 FIRM + statement; 3 before warm; 7": "3 before warm; 7; 30 firm statement",
		"45 days late firm invoices by hand":    "45 firm invoices by hand",
		"14 charge; 30 charge firm":             "14 charge; 30 firm charge",
		"7; 7 firm":                             "!",
		"soon":                                  "!",
		"7 loudly":                              "!",
		"0 plain":                               "0",
	} {
		plan, err := Read(typed)
		if (err != nil) != (kept == "!") || err == nil && plan.String() != kept {
			t.Errorf("%q is read as %q, %v", typed, plan, err)
		}
		words := map[string]string{"45 firm invoices by hand": "45 days late, firm, with the invoices, by hand", "0": "on the due day"}[kept]
		if words != "" && plan[0].Words() != words {
			t.Errorf("%q is said as %q", kept, plan[0].Words())
		}
		if again, err := Read(plan.String()); err != nil || again.String() != plan.String() {
			t.Errorf("%q is read again as %q, %v", plan, again, err)
		}
	}
}

// From common practice: friendly before and soon after the due day, firm later; each step once, and when several have come, only the last.
func TestAnInvoiceMovesToTheHighestStepThatIsDue(t *testing.T) {
	plan, err := Read("3 before warm; 7; 30 firm")
	if err != nil {
		t.Fatal(err)
	}
	due := day.Of(2026, 12, 1)
	for _, c := range []struct {
		today   day.Day
		reached Reached
		step    string // nothing: it does not move
	}{
		{due.AddDays(-4), Reached{}, ""},
		{due.AddDays(-3), Reached{}, "3 before warm"},
		{due.AddDays(6), Reached{Days: -3, Any: true, Last: due.AddDays(-3)}, ""},
		{due.AddDays(7), Reached{Days: -3, Any: true, Last: due.AddDays(-3)}, "7"},
		{due.AddDays(40), Reached{}, "30 firm"},
		{due.AddDays(40), Reached{Days: 10, Any: true, Last: due.AddDays(10)}, "30 firm"}, // reminded by hand between the steps
		{due.AddDays(40), Reached{Days: 7, Any: true, Last: due.AddDays(40)}, ""},
		{due.AddDays(400), Reached{Days: 30, Any: true, Last: due.AddDays(40)}, ""},
	} {
		if step, moves := plan.Due(due, c.today, c.reached); moves != (c.step != "") || moves && step.String() != c.step {
			t.Errorf("%s, %+v: %v %v", c.today, c.reached, step, moves)
		}
	}
	if next, goesOn := plan.Next(due, due.AddDays(8), Reached{Days: 7, Any: true}); !goesOn || next != due.AddDays(30) {
		t.Errorf("it goes on on %s, %v", next, goesOn)
	}
	if _, goesOn := plan.Next(due, due.AddDays(30), Reached{Days: 30, Any: true}); goesOn {
		t.Error("after the last step it goes on")
	}
}

// Whatever the plan, and on whichever days it is looked at: never back, never twice in a day, never before its day, and what is next comes.
func TestStepsOnlyGoUp(t *testing.T) {
	random := rand.New(rand.NewPCG(25, 1))
	for range 3_000 {
		plan, used := Plan{}, map[int]bool{}
		for range random.IntN(6) {
			if days := random.IntN(60) - 10; !used[days] {
				plan, used[days] = append(plan, Step{Days: days}), true
			}
		}
		plan, err := Read(plan.String())
		if err != nil {
			t.Fatal(err)
		}
		due, reached, sent := day.Of(2026, 12, 1), Reached{}, 0
		for today := due.AddDays(-15); today < due.AddDays(70); today += day.Day(random.IntN(9)) {
			step, moves := plan.Due(due, today, reached)
			if !moves {
				continue
			}
			if int(today-due) < step.Days || reached.Any && (step.Days <= reached.Days || today <= reached.Last) {
				t.Fatalf("%s: from %+v to %+v on %s", plan, reached, step, today)
			}
			for _, s := range plan {
				if s.Days > step.Days && s.Days <= int(today-due) {
					t.Fatalf("%s: %+v though %+v is due on %s", plan, step, s, today)
				}
			}
			reached, sent = Reached{step.Days, true, today}, sent+1
		}
		if sent > len(plan) || len(plan) > 0 && sent == 0 {
			t.Fatalf("%s: %d letters", plan, sent)
		}
	}
}
