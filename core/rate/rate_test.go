package rate

import (
	"fmt"
	"math/rand/v2"
	"testing"

	"dorvet/core/day"
	"dorvet/core/money"
)

var (
	january = day.Of(2026, 1, 1)
	july    = day.Of(2026, 7, 1)
	today   = day.Of(2026, 11, 26)
)

func row(level Level, from day.Day, perHour money.Rate) Row {
	return Row{Level: level, From: from, PerHour: perHour, Currency: "EUR"}
}

// Source: common practice of rate tables (the more specific wins, the latest
// begun holds); the order of levels is the firm's rule.
func TestTheMoreSpecificRateWins(t *testing.T) {
	all := []Row{}
	for level := Firm; level <= Entry; level++ {
		all = append(all, row(level, january, money.Rate(level)*10000))
		rand.Shuffle(len(all), func(i, j int) { all[i], all[j] = all[j], all[i] })
		answer := Resolve(today, "EUR", all)
		if answer.Won.Level != level || len(answer.Beaten) != int(level)-1 {
			t.Errorf("with levels up to %s, %s wins and beats %d", level, answer.Won.Level, len(answer.Beaten))
		}
		for i, beaten := range answer.Beaten {
			if beaten.Level != level-Level(i)-1 {
				t.Errorf("%s beats %s in place %d", level, beaten.Level, i)
			}
		}
	}
}

func TestTheLatestBegunHolds(t *testing.T) {
	rows := []Row{row(Person, january, 120_0000), row(Person, july, 130_0000), row(Person, day.Of(2027, 1, 1), 140_0000),
		row(Firm, january, 110_0000)}
	for _, c := range []struct {
		on   day.Day
		want money.Rate
	}{{july - 1, 120_0000}, {july, 130_0000}, {today, 130_0000}, {day.Of(2027, 1, 1), 140_0000}} {
		if got, _ := Resolve(c.on, "EUR", rows).PerHour(); got != c.want {
			t.Errorf("on %s an hour is %s, want %s", c.on, got, c.want)
		}
	}
	if answer := Resolve(january-1, "EUR", rows); answer.Won != nil {
		t.Errorf("before any has begun %v wins", answer.Won)
	}
}

func TestOtherCurrenciesDoNotCount(t *testing.T) {
	dollars := row(Client, january, 200_0000)
	dollars.Currency = "USD"
	if got, _ := Resolve(today, "EUR", []Row{dollars, row(Firm, january, 110_0000)}).PerHour(); got != 110_0000 {
		t.Errorf("an hour in EUR is %s", got)
	}
}

func TestZeroIsARateAndNoneIsNot(t *testing.T) {
	firm, free := row(Firm, january, 110_0000), row(Client, january, 0)
	if got, ok := Resolve(today, "EUR", []Row{firm, free}).PerHour(); !ok || got != 0 {
		t.Errorf("an hour at zero is %s, %v", got, ok)
	}
	none := Row{Level: Client, From: july, None: true, Currency: "EUR"}
	if got, _ := Resolve(today, "EUR", []Row{firm, free, none}).PerHour(); got != 110_0000 {
		t.Errorf("where the client has none from July, an hour is %s", got)
	}
}

func TestInsideACardServiceBeatsPersonBeatsGrade(t *testing.T) {
	card := func(c Card, perHour money.Rate) Row {
		r := row(Client, january, perHour)
		r.Card = c
		return r
	}
	rows := []Row{row(Person, january, 1), card(CardGrade, 2), card(CardPerson, 3), card(CardService, 4)}
	for n := 1; n <= len(rows); n++ {
		if got, _ := Resolve(today, "EUR", rows[:n]).PerHour(); got != money.Rate(n) {
			t.Errorf("with %d rows %d wins", n, got)
		}
	}
}

func TestStandardIsWhatAnybodyPays(t *testing.T) {
	rows := []Row{row(Firm, january, 110_0000), row(Service, january, 115_0000), row(Grade, january, 120_0000),
		row(Client, january, 100_0000)}
	if got, _ := Standard(today, "EUR", rows).PerHour(); got != 120_0000 {
		t.Errorf("standard is %s", got)
	}
	if got, _ := Resolve(today, "EUR", rows).PerHour(); got != 100_0000 {
		t.Errorf("agreed is %s", got)
	}
}

func TestTheAnswerSaysWhatItBeat(t *testing.T) {
	person := row(Person, january, 130_0000)
	person.Subject = "T. Brandt"
	step := Resolve(today, "EUR", []Row{person, row(Firm, january, 110_0000)}).Explain()
	if step.Label != "Rate of the person T. Brandt" || step.Figure != "130.00" || len(step.Steps) != 1 ||
		step.Steps[0].Label != "beats the rate of the firm" {
		t.Errorf("%+v", step)
	}
	if step := (Resolution{}).Explain(); step.Label != "No rate holds" {
		t.Errorf("%+v", step)
	}
}

func ExampleResolve() {
	rows := []Row{
		{Level: Firm, From: january, PerHour: 110_0000, Currency: "EUR"},
		{Level: Grade, Subject: "Hydrographer", From: january, PerHour: 120_0000, Currency: "EUR"},
		{Level: Person, Subject: "T. Brandt", From: january, PerHour: 130_0000, Currency: "EUR"},
	}
	answer := Resolve(today, "EUR", rows)
	fmt.Println(answer.Won.PerHour, "of", answer.Source())
	for _, beaten := range answer.Beaten {
		fmt.Println("beats", beaten.PerHour)
	}
	// Output:
	// 130.00 of the person T. Brandt
	// beats 120.00
	// beats 110.00
}

func BenchmarkResolve(b *testing.B) {
	rows := []Row{}
	for level := Firm; level <= EngagementPerson; level++ {
		rows = append(rows, row(level, january, 1), row(level, july, 2))
	}
	for b.Loop() {
		Resolve(today, "EUR", rows)
	}
}

// Rule, from memory: whoever may set rates can charge an hour by a level that others would
// beat, and sees what was passed over; a level without a rate changes nothing.
func TestALevelCanBePreferred(t *testing.T) {
	r := Resolve(today, "EUR", []Row{row(Firm, january, 11000), row(Person, january, 13000), row(Task, january, 15000)})
	chosen := r.Prefer(Person)
	if chosen.Won.PerHour != 13000 || !chosen.Won.Chosen || len(chosen.Beaten) != 2 ||
		chosen.Beaten[0].Level != Task || chosen.Beaten[1].Level != Firm {
		t.Errorf("preferred: %+v", chosen)
	}
	if r.Won.Chosen || r.Won.Level != Task || len(r.Beaten) != 2 || r.Beaten[0].Chosen {
		t.Errorf("the answer itself is now %+v", r)
	}
	for _, level := range []Level{Client, Task, 0} {
		if same := r.Prefer(level); same.Won.Level != Task || same.Won.Chosen {
			t.Errorf("%v preferred gives %+v", level, same.Won)
		}
	}
	if all := chosen.All(); len(all) != 3 || all[0].Level != Person {
		t.Errorf("all of them: %+v", all)
	}
	if none := Resolve(today, "JPY", nil); none.All() != nil || none.Prefer(Person).Won != nil {
		t.Error("a rate out of nothing")
	}
}

func TestLevelsGoByTheirNames(t *testing.T) {
	for level := Firm; level <= Entry; level++ {
		if LevelNamed(level.String()) != level {
			t.Errorf("%s is read as %d", level, LevelNamed(level.String()))
		}
	}
	if LevelNamed("nobody") != 0 {
		t.Error("a name that no level has")
	}
}
